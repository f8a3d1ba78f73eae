#include "digital/registers.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <mutex>

#include "digital/decoder.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {

std::optional<FieldBits> field_bits(const RegisterField& field) {
  FieldBits bits;
  const char* end = field.bits.data() + field.bits.size();
  const auto high = std::from_chars(field.bits.data(), end, bits.high);
  if (high.ec != std::errc{}) return std::nullopt;
  bits.low = bits.high;
  if (high.ptr != end && (*high.ptr != ':' || std::from_chars(high.ptr + 1, end, bits.low).ec != std::errc{}))
    return std::nullopt;
  return bits.low >= 0 && bits.low <= bits.high && bits.high < 16 ? std::optional(bits) : std::nullopt;
}

unsigned field_value(const RegisterField& field, unsigned value) {
  const auto bits = field_bits(field);
  return bits ? value >> bits->low & ((1u << (bits->high - bits->low + 1)) - 1) : 0;
}

unsigned with_field(const RegisterField& field, unsigned value, unsigned number) {
  const auto bits = field_bits(field);
  if (!bits) return value;
  const unsigned mask = ((1u << (bits->high - bits->low + 1)) - 1) << bits->low;
  return (value & ~mask) | (number << bits->low & mask);
}

std::string field_meaning(const RegisterField& field, unsigned number) {
  const auto choice = std::ranges::find(field.choices, static_cast<double>(number), &SettingChoice::value);
  if (field.choices.empty()) return fmt::format("{}", number);
  return choice == field.choices.end() ? translated("reserved") : choice->means;
}

unsigned reserved_bits(const PartRegister& reg) {
  unsigned free = (1u << reg.bits) - 1;
  for (const RegisterField& field : reg.fields) free = with_field(field, free, 0);
  return free;
}

RegisterMasks masks_between(const PartRegister& reg, unsigned from, unsigned to) {
  unsigned changed = (from ^ to) & reserved_bits(reg);
  RegisterMasks masks;
  for (const RegisterField& field : reg.fields) {
    if (field_value(field, from) == field_value(field, to)) continue;
    masks.fields.push_back(field.name);
    changed |= with_field(field, 0, ~0u);
  }
  masks.keep = ~changed & ((1u << reg.bits) - 1);
  masks.set = to & changed;
  return masks;
}

Result<StoredLimit> store_limit(const LimitLayout& layout, double value, LimitSide side) {
  const auto whole = [&](double steps) {
    return side == LimitSide::upper ? std::floor(steps + 1e-9) : std::ceil(steps - 1e-9);
  };
  double steps = whole((value - layout.zero) / layout.step);
  const bool is_signed = layout.form == LimitForm::twos;
  const double top = std::exp2(layout.number_bits - (is_signed ? 1 : 0)), bottom = is_signed ? -top : 0;
  const double most_exponent = layout.form == LimitForm::floating ? layout.most_exponent : 0;
  double exponent = 0;
  // The least exponent that the mantissa has room for.
  while (steps >= top && exponent < most_exponent)
    steps = whole((value - layout.zero) / layout.step / std::exp2(++exponent));
  if (!(steps >= bottom && steps < top))
    return Problem{translated("{:g} cannot be stored as a limit", value),
                   translated("{:g} to {:g} in steps of {:g}", layout.zero + bottom * layout.step,
                              layout.zero + (top - 1) * std::exp2(most_exponent) * layout.step, layout.step)};
  const auto number =
      (static_cast<std::uint64_t>(static_cast<std::int64_t>(steps)) & ((std::uint64_t{1} << layout.number_bits) - 1)) |
      static_cast<std::uint64_t>(exponent) << layout.number_bits;
  StoredLimit stored{.value = layout.zero + steps * std::exp2(exponent) * layout.step};
  for (int shift = layout.bits - 8; shift >= 0; shift -= 8)
    stored.bytes.push_back(static_cast<std::uint8_t>((number << layout.low_bit) >> shift));
  return stored;
}

std::vector<unsigned> power_on_values(const ByteLayout& layout) {
  std::vector<unsigned> values;
  for (const PartRegister& reg : layout.registers) values.push_back(static_cast<unsigned>(reg.power_on));
  return values;
}

std::optional<double> Composition::of_role(std::string_view role) const {
  const auto found = std::ranges::find(figures, role, &RegisterFigure::role);
  return found == figures.end() ? std::nullopt : std::optional(found->value);
}

namespace {

// Names of fields and figures as an expression writes them: "conversion, longest" → conversion_longest.
std::string symbol_of(const std::string& name) {
  std::string symbol;
  for (const char c : name) {
    if (std::isalnum(static_cast<unsigned char>(c)))
      symbol += c;
    else if (!symbol.empty() && symbol.back() != '_')
      symbol += '_';
  }
  return symbol;
}

}  // namespace

namespace {

// The figures of a part are asked for with every edit, and an expression takes far longer to read than to work out.
Result<Expression> read_before(const std::vector<std::string>& names, const std::string& text) {
  constexpr std::size_t most = 2000;
  static std::mutex guard;
  static std::map<std::pair<std::vector<std::string>, std::string>, Expression> known;
  const std::lock_guard lock(guard);
  const auto found = known.find({names, text});
  if (found != known.end()) return found->second;
  auto expression = Expression::read_of(names, text);
  if (!expression) return expression;
  if (known.size() >= most) known.clear();
  return known.emplace(std::pair(names, text), *expression).first->second;
}

// Settings, register fields and figures under the names that expressions use.
class Numbers {
 public:
  Numbers(const ByteLayout& layout, std::span<const unsigned> values, const std::map<std::string, double>& settings) {
    for (const PartSetting& setting : layout.settings) numbers_[setting.key] = setting.default_value;
    for (const auto& [key, value] : settings) numbers_[key] = value;
    for (std::size_t i = 0; i < layout.registers.size() && i < values.size(); ++i)
      for (const RegisterField& field : layout.registers[i].fields)
        numbers_[symbol_of(field.name)] = field_value(field, values[i]);
  }
  Result<double> value_of(const std::string& text) {
    std::vector<std::string> names;
    std::vector<double> values;
    for (const auto& [name, number] : numbers_) names.push_back(name), values.push_back(number);
    const auto expression = read_before(names, text);
    if (!expression) return expression.problem();
    return expression->at(values);
  }
  /// The value of a figure, which later ones may name then.
  Result<double> take(const SettingFigure& figure) {
    auto value = value_of(figure.expression);
    if (value) numbers_[symbol_of(figure.name)] = *value;
    return value;
  }

 private:
  std::map<std::string, double> numbers_;
};

}  // namespace

Result<Composition> compose(const ByteLayout& layout, std::span<const unsigned> values,
                            const std::map<std::string, double>& settings) {
  Numbers numbers(layout, values, settings);
  Composition composition;
  for (const SettingFigure& figure : layout.figures) {
    const auto value = numbers.take(figure);
    if (!value) return value.problem();
    composition.figures.push_back({translated(figure.name), figure.unit, figure.role, figure.quantity, *value});
  }
  for (const ForbiddenSetting& forbidden : layout.forbidden) {
    const auto value = numbers.value_of(forbidden.when);
    if (!value) return value.problem();
    if (*value != 0) composition.warnings.push_back(forbidden.says);
  }
  return composition;
}

Result<double> value_by_registers(const ByteLayout& layout, std::span<const unsigned> values,
                                  const std::string& expression, const std::map<std::string, double>& settings) {
  return Numbers(layout, values, settings).value_of(expression);
}

Result<unsigned> read_register(const PartRegister& reg, std::string_view text) {
  const auto bytes = read_hex(text);
  if (!bytes) return bytes.problem();
  if (static_cast<int>(bytes->size()) * 8 != reg.bits)
    return Problem{translated("{} has {} bits, not {}", reg.name, reg.bits, bytes->size() * 8),
                   translated("{} hexadecimal digits", reg.bits / 4)};
  unsigned value = 0;
  for (const std::uint8_t byte : *bytes) value = value << 8 | byte;
  return value;
}

std::string write_register(const PartRegister& reg, unsigned value) {
  return fmt::format("{:0{}X}", value, reg.bits / 4);
}

// A setting sets the choice of its field that stands at the same place as its own among its choices.
std::vector<unsigned> registers_of(const ByteLayout& layout, const std::map<std::string, double>& settings,
                                   const std::map<std::string, double>& registers) {
  auto values = power_on_values(layout);
  for (std::size_t r = 0; r < values.size(); ++r)
    if (const auto kept = registers.find(layout.registers[r].address);
        kept != registers.end() && kept->second >= 0 && kept->second < std::exp2(layout.registers[r].bits))
      values[r] = static_cast<unsigned>(kept->second);
  for (const PartSetting& setting : layout.settings) {
    const auto set = settings.find(setting.key);
    if (setting.sets.empty() || set == settings.end()) continue;
    const auto choice = std::ranges::find(setting.choices, set->second, &SettingChoice::value);
    if (choice == setting.choices.end()) continue;
    const auto place = static_cast<std::size_t>(choice - setting.choices.begin());
    for (std::size_t r = 0; r < values.size(); ++r)
      for (const RegisterField& field : layout.registers[r].fields)
        if (field.name == setting.sets && place < field.choices.size())
          values[r] = with_field(field, values[r], static_cast<unsigned>(field.choices[place].value));
  }
  return values;
}

std::optional<double> setting_by_registers(const Part& part, const PartSetting& setting,
                                           std::span<const unsigned> values) {
  if (setting.sets.empty()) return std::nullopt;
  for (std::size_t r = 0; r < part.bytes.registers.size() && r < values.size(); ++r)
    for (const RegisterField& field : part.bytes.registers[r].fields) {
      if (field.name != setting.sets) continue;
      const auto choice =
          std::ranges::find(field.choices, static_cast<double>(field_value(field, values[r])), &SettingChoice::value);
      const auto place = static_cast<std::size_t>(choice - field.choices.begin());
      if (choice != field.choices.end() && place < setting.choices.size()) return setting.choices[place].value;
    }
  return std::nullopt;
}

double conversion_time(const Part& part, const std::map<std::string, double>& settings,
                       const std::map<std::string, double>& registers) {
  // A frequency is counted as long as its gate is open.
  if (const auto gate = part.transfer.numbers.find("gate"); gate != part.transfer.numbers.end())
    return settings.contains("gate") ? settings.at("gate") : gate->second;
  const auto found = figure_of(part, settings, "conversion", {}, registers);
  return found && *found > 0 ? *found : part.conversion_s;
}

std::optional<QuickestChoice> quickest_choice(const Part& part) {
  std::optional<QuickestChoice> best;
  const double usual = conversion_time(part, {});
  const auto offer = [&](double seconds, const std::string& words) {
    if (seconds > 0 && seconds < (best ? best->seconds : usual) * 0.999) best = {seconds, words};
  };
  for (const PartSetting& setting : part.bytes.settings)
    for (const SettingChoice& choice : setting.choices)
      offer(conversion_time(part, {{setting.key, choice.value}}),
            fmt::format("{} {}", setting.key, choice.name.empty() ? fmt::format("{:g}", choice.value) : choice.name));
  const auto values = power_on_values(part.bytes);
  for (std::size_t r = 0; r < values.size(); ++r)
    for (const RegisterField& field : part.bytes.registers[r].fields)
      for (const SettingChoice& choice : field.choices) {
        auto with = values;
        with[r] = with_field(field, values[r], static_cast<unsigned>(choice.value));
        // One that leaves the part asleep, or what it needs unmeasured, is quick for nothing.
        if (const auto composition = compose(part.bytes, with); !composition || !composition->warnings.empty())
          continue;
        offer(conversion_time(part, {}, {{part.bytes.registers[r].address, with[r]}}),
              fmt::format("{} {}", field.name, choice.means));
      }
  return best;
}

std::optional<double> figure_of(const Part& part, const std::map<std::string, double>& settings, std::string_view role,
                                std::optional<Quantity> quantity, const std::map<std::string, double>& registers) {
  const auto& figures = part.bytes.figures;
  const auto first = part.quantities.empty() ? std::nullopt : std::optional(part.quantities.front().quantity);
  const auto wanted = std::ranges::find_if(figures, [&](const SettingFigure& figure) {
    return figure.role == role && (!quantity || quantity == (figure.quantity ? figure.quantity : first));
  });
  if (wanted == figures.end()) return std::nullopt;
  Numbers numbers(part.bytes, registers_of(part.bytes, settings, registers), settings);
  for (auto earlier = figures.begin(); earlier != wanted; ++earlier)
    if (wanted->expression.find(symbol_of(earlier->name)) != std::string::npos && !numbers.take(*earlier))
      return std::nullopt;
  const auto value = numbers.take(*wanted);
  return value && std::isfinite(*value) && *value > 0 ? std::optional(*value) : std::nullopt;
}

}  // namespace fair_gauge
