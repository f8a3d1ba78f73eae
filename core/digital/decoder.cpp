#include "digital/decoder.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "digital/decoder_plan.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// Scale and offset as a sheet writes them, in parts of the field's full scale: "175 · T ÷ 65535 − 45".
std::string line_of(const ByteReading& reading, int bits) {
  constexpr std::size_t short_enough = 9;
  const auto text_of = [](double number) { return fmt::format("{}", number); };
  std::string line = text_of(reading.scale) + " · " + reading.field;
  const double full = std::exp2(bits);
  if (text_of(reading.scale).size() > short_enough)
    for (const double parts : {full - 1, full, full - 2, 480.0}) {
      const double hundredths = reading.scale * parts * 100;
      if (std::abs(hundredths - std::round(hundredths)) > 1e-9 * hundredths || hundredths < 1) continue;
      const double factor = std::round(hundredths) / 100;
      line = (factor == 1 ? "" : text_of(factor) + " · ") + reading.field + " ÷ " + text_of(parts);
      break;
    }
  if (reading.offset != 0) line += fmt::format(" {} {}", reading.offset < 0 ? "−" : "+", std::abs(reading.offset));
  return line;
}

std::optional<unsigned> address_of(std::string_view name) {
  if (!name.starts_with("0x") && !name.starts_with("0X")) return std::nullopt;
  unsigned address = 0;
  const auto [at, error] = std::from_chars(name.data() + 2, name.data() + name.size(), address, 16);
  return error == std::errc{} && at == name.data() + name.size() ? std::optional(address) : std::nullopt;
}

}  // namespace

std::string fault_words(std::string_view code) {
  static constexpr std::pair<std::string_view, const char*> words[] = {
      {"checksum", to_translate("checksum wrong")},       {"saturated", to_translate("saturated")},
      {"not-ready", to_translate("not ready")},           {"power-on-default", to_translate("power-on value")},
      {"disconnected", to_translate("not connected")},    {"out-of-range", to_translate("out of range")},
      {"no-response", to_translate("no answer")},         {"flagged-by-part", to_translate("flagged by the part")},
      {"short-frame", to_translate("bytes are missing")}, {"underflow", to_translate("too little to tell")}};
  const auto found = std::ranges::find(words, code, &std::pair<std::string_view, const char*>::first);
  return found == std::end(words) ? std::string(code) : std::string(translated(found->second));
}

void Decoder::Plan::work_out(Scratch& scratch, std::span<double> out, std::vector<TraceEntry>* trace) const {
  if (!formula || !scratch.steps.empty()) std::ranges::copy(scratch.fields, scratch.values.begin());
  for (std::size_t i = 0; i < scratch.steps.size(); ++i) {
    scratch.values[first_step() + i] = scratch.steps[i].value();
    if (trace)
      trace->push_back(
          {part->bytes.steps[i].symbol, scratch.values[first_step() + i], part->bytes.steps[i].expression});
  }
  if (formula) {
    for (std::size_t i = 0; i < formula_fields.size(); ++i)
      scratch.formula_inputs[i] = scratch.fields[formula_fields[i]];
    formula->evaluate({scratch.formula_inputs, formula_settings, math, trace}, scratch.formula_outputs);
  }
  for (std::size_t r = 0; r < readings.size(); ++r) {
    const Reading& reading = readings[r];
    double value = formula ? scratch.formula_outputs[reading.formula_at]
                   : scratch.expressions[r]
                       ? scratch.expressions[r]->value()
                       : reading.layout->scale * scratch.fields[reading.field] + reading.layout->offset;
    if (trace && !formula) {
      trace->push_back({std::string(translated_name(reading.layout->quantity)), value,
                        scratch.expressions[r] ? reading.layout->expression
                                               : line_of(*reading.layout, places[reading.field].bits())});
    }
    if (reading.layout->clamps) value = std::clamp(value, reading.quantity->minimum, reading.quantity->maximum);
    out[r] = value;
  }
}

void Decoder::Plan::leave_known(std::vector<TraceEntry>& trace, std::span<const std::size_t> missing,
                                Scratch& scratch) const {
  for (const std::size_t i : missing) scratch.values[i] = scratch.fields[i] = static_cast<double>(places[i].most());
  std::vector<TraceEntry> others;
  work_out(scratch, scratch.results, &others);
  std::vector<TraceEntry> known;
  auto from = others.begin();  // a symbol may stand more than once: in the order of both
  for (TraceEntry& entry : trace) {
    const auto other =
        std::find_if(from, others.end(), [&entry](const TraceEntry& each) { return each.symbol == entry.symbol; });
    if (other == others.end()) continue;
    from = other + 1;
    if (other->value == entry.value) known.push_back(std::move(entry));
  }
  trace = std::move(known);
}

void Decoder::Plan::judge_states(const Scratch& scratch, std::size_t from, std::size_t to, Decoded& decoded,
                                 Mask& touched_readings) const {
  for (std::size_t s = 0; s < state_value.size(); ++s) {
    if (state_value[s] < from || state_value[s] >= to) continue;
    const ByteState& state = part->bytes.states[s];
    if (std::ranges::find(state.equals, scratch.values[state_value[s]]) == state.equals.end()) continue;
    if (state.fault.empty()) {
      decoded.statuses.push_back(state.says);
    } else if (std::ranges::none_of(decoded.faults, [&](const DigitalFault& fault) {
                 return fault.code == state.fault && fault.message == state.says;
               })) {
      decoded.faults.push_back({state.fault, state.says});
    }
    if (!state.fault.empty()) touched_readings |= state_touches[s];
  }
}

void Decoder::Plan::give_readings(const Scratch& scratch, Decoded& decoded, Mask touched_readings) const {
  for (std::size_t r = 0; r < readings.size(); ++r) {
    if (touched_readings >> r & 1 || (scratch.only[r] && scratch.only[r]->value() == 0)) continue;
    const PartQuantity& quantity = *readings[r].quantity;
    const double value = scratch.results[r];
    // A part says a little more than it promises; far beyond its range the bytes cannot be right.
    const double margin = quantity.slack();
    const Unit& unit = base_unit(quantity.quantity);
    const double least = unit.from_base(quantity.minimum), most = unit.from_base(quantity.maximum);
    if (!std::isfinite(value)) {
      decoded.faults.push_back(
          {"out-of-range",
           translated("the {} formula has no result for these bytes: the trimming or the raw number cannot be right",
                      translated_name(quantity.quantity))});
    } else if (value < quantity.minimum - margin || value > quantity.maximum + margin) {
      decoded.faults.push_back(
          {"out-of-range",
           translated(
               "{} {:g} {} is far outside the part's {:g} to {:g} {}: read the bytes again, and look at their order",
               translated_name(quantity.quantity), unit.from_base(value), unit.symbol, least, most, unit.symbol)});
    } else {
      if (value < quantity.minimum || value > quantity.maximum)
        decoded.statuses.push_back(translated("{} is outside the part's specified {:g} to {:g} {}",
                                              translated_name(quantity.quantity), least, most, unit.symbol));
      decoded.readings.push_back({&quantity, value});
    }
  }
}

const DigitalReading* Decoded::reading(Quantity quantity) const {
  for (const DigitalReading& each : readings)
    if (each.quantity->quantity == quantity) return &each;
  return nullptr;
}

// A scratch taken from those that are idle, or made, and given back in the end.
class Decoder::Lease {
 public:
  explicit Lease(const Plan& plan) : plan_(plan) {
    {
      const std::lock_guard lock(plan.idle_guard);
      if (!plan.idle.empty()) {
        scratch_ = std::move(plan.idle.back());
        plan.idle.pop_back();
      }
    }
    if (scratch_) return;
    scratch_ = std::make_unique<Scratch>();
    plan.bind(*scratch_);  // worked when the plan was made
  }
  Lease(const Lease&) = delete;
  Lease& operator=(const Lease&) = delete;
  ~Lease() {
    const std::lock_guard lock(plan_.idle_guard);
    plan_.idle.push_back(std::move(scratch_));
  }
  Scratch& operator*() const { return *scratch_; }

 private:
  const Plan& plan_;
  std::unique_ptr<Scratch> scratch_;
};

// Every edit builds chains anew, and a plan's expressions are slow to read: what somebody still holds is taken again.
class Decoder::PlansInUse {
 public:
  static PlansInUse& instance() {
    static PlansInUse plans;
    return plans;
  }
  std::shared_ptr<const Plan> find(const Plan& wanted) {
    const std::lock_guard lock(guard_);
    for (const auto& each : plans_)
      if (auto plan = each.lock();
          plan && plan->part == wanted.part && plan->math == wanted.math && plan->settings == wanted.settings)
        return plan;
    return nullptr;
  }
  void add(const std::shared_ptr<const Plan>& plan) {
    if (plan->part.use_count() == 0) return;  // nobody owns that part: another may come to lie in its place
    const std::lock_guard lock(guard_);
    std::erase_if(plans_, [](const auto& each) { return each.expired(); });
    plans_.push_back(plan);
  }

 private:
  std::mutex guard_;
  std::vector<std::weak_ptr<const Plan>> plans_;
};

Result<Decoder> Decoder::make(std::shared_ptr<const Part> part, const std::map<std::string, double>& settings,
                              Math math) {
  if (!part->is_digital())
    return Problem{translated("\"{}\" does not answer with bytes", part->id), translated("a part with a byte layout")};
  auto plan = std::make_shared<Plan>();
  plan->part = std::move(part);
  plan->math = math;
  if (auto problem = plan->add_settings(settings)) return *problem;
  if (auto same = PlansInUse::instance().find(*plan)) return Decoder(std::move(same));
  if (auto problem = plan->compile()) return *problem;
  PlansInUse::instance().add(plan);
  return Decoder(std::move(plan));
}

Result<Decoder> Decoder::make(const Part& part, const std::map<std::string, double>& settings, Math math) {
  return make(std::shared_ptr<const Part>(std::shared_ptr<void>(), &part), settings, math);
}

const Part& Decoder::part() const { return *plan_->part; }
const std::vector<FieldPlace>& Decoder::places() const { return plan_->places; }
const std::map<std::string, double>& Decoder::settings() const { return plan_->settings; }

std::optional<std::size_t> Decoder::field(std::string_view name) const {
  const auto& parts = plan_->part->bytes.fields;
  const auto found = std::ranges::find(parts, name, &ByteField::name);
  return found == parts.end() ? std::nullopt : std::optional(static_cast<std::size_t>(found - parts.begin()));
}

bool Decoder::hold_trimming(const ByteBlocks& blocks, const ByteLayout& layout) {
  return std::ranges::all_of(layout.blocks, [&](const ByteBlock& block) {
    return block.role != "trimming" || block.optional || !find_block(blocks, block).empty();
  });
}

std::span<const std::uint8_t> Decoder::find_block(const ByteBlocks& blocks, const ByteBlock& wanted) {
  if (const auto named = blocks.find(wanted.name); named != blocks.end() && !named->second.empty())
    return named->second;
  if (!wanted.also.empty())
    if (const auto named = blocks.find(wanted.also); named != blocks.end() && !named->second.empty())
      return named->second;
  const auto address = address_of(wanted.name), also = address_of(wanted.also);
  for (const auto& [name, bytes] : blocks) {
    const auto start = address_of(name);
    if (!start) continue;
    for (const auto& each : {address, also})
      if (each && *each >= *start && *each < *start + bytes.size()) return std::span(bytes).subspan(*each - *start);
  }
  return {};
}

void Decoder::evaluate(std::span<const double> fields, std::span<double> readings,
                       std::vector<TraceEntry>* trace) const {
  const Lease lease(*plan_);
  std::ranges::copy(fields, (*lease).fields.begin());
  plan_->work_out(*lease, readings, trace);
}

Decoded Decoder::decode(const ByteBlocks& blocks, Tracing tracing) const {
  const Plan& plan = *plan_;
  const Lease lease(plan);
  Scratch& scratch = *lease;
  const ByteLayout& layout = plan.part->bytes;
  Decoded decoded;
  Mask touched = 0;
  std::array<std::span<const std::uint8_t>, most_blocks> found;
  std::array<bool, most_blocks> short_form{};
  for (std::size_t b = 0; b < layout.blocks.size() && b < found.size(); ++b) {
    const ByteBlock& block = layout.blocks[b];
    found[b] = find_block(blocks, block);
    short_form[b] = (block.optional && found[b].empty()) ||
                    (block.shorter > 0 && static_cast<int>(found[b].size()) == block.shorter);
    if (short_form[b] || static_cast<int>(found[b].size()) >= block.bytes) continue;
    Mask lacking = 0;
    for (std::size_t i = 0; i < plan.places.size(); ++i)
      if (plan.block_of_field[i] == b && !plan.places[i].value(found[b])) lacking |= plan.needed_by[i];
    const bool check_lacks = std::ranges::any_of(layout.checks, [&](const ByteCheck& check) {
      return check.block == block.name && std::max(check.at, check.to) >= static_cast<int>(found[b].size());
    });
    touched |= check_lacks && !lacking ? plan.all() : lacking;
    decoded.faults.push_back(
        {"short-frame", found[b].empty()
                            ? block.bytes == 1 ? translated("the byte of {} is missing", block.name)
                                               : translated("the {} bytes of {} are missing", block.bytes, block.name)
                            : translated("{} has {} bytes of {}", block.name, found[b].size(), block.bytes)});
  }
  scratch.values.back() = static_cast<double>(found[0].size());
  std::vector<std::size_t> missing;
  for (std::size_t i = 0; i < plan.places.size(); ++i) {
    const std::size_t b = plan.block_of_field[i];
    auto value = plan.places[i].value(found[b]);
    if (!value && short_form[b]) value = plan.places[i].value(plan.usual[b]);
    scratch.values[i] = scratch.fields[i] = value ? static_cast<double>(*value) : 0;
    if (!value) missing.push_back(i);
    if (tracing == Tracing::on && value)
      decoded.trace.push_back({layout.fields[i].name, scratch.fields[i],
                               translated("{} of {}", layout.fields[i].bits, layout.fields[i].block), true});
  }
  for (std::size_t c = 0; c < plan.checks.size(); ++c) {
    const ByteCheck& check = layout.checks[c];
    const auto block = std::ranges::find(layout.blocks, check.block, &ByteBlock::name);
    const auto bytes = found[static_cast<std::size_t>(block - layout.blocks.begin())];
    const int last = last_byte(check);
    const auto covered = bytes.first(std::min<std::size_t>(bytes.size(), static_cast<std::size_t>(block->bytes)));
    const CheckKind& kind = *plan.checks[c];
    if (static_cast<int>(bytes.size()) <= last || kind.holds(covered, check)) continue;
    const std::string where = where_it_fails(kind, covered, check);
    decoded.faults.push_back(
        {std::string(kind.fault),
         where.empty() ? translated("{}: {}; read them again", block->name, translated(kind.says))
                       : translated("{}: {}: {}; read them again", block->name, translated(kind.says), where)});
    touched |= plan.check_touches[c];
  }
  for (std::size_t b = 0; b < layout.blocks.size(); ++b) {
    if (layout.blocks[b].role != "trimming" || found[b].empty()) continue;
    const std::uint8_t first = found[b].front();
    if ((first != 0 && first != 0xFF) ||
        std::ranges::any_of(found[b], [&](std::uint8_t byte) { return byte != first; }))
      continue;
    for (std::size_t i = 0; i < plan.places.size(); ++i)
      if (plan.block_of_field[i] == b) touched |= plan.needed_by[i];
    if (std::ranges::none_of(decoded.faults, [](const DigitalFault& fault) { return fault.code == "no-response"; }))
      decoded.faults.push_back({"no-response", translated("the trimming words are all {}: nothing answered",
                                                          first == 0 ? translated("zeros") : translated("ones"))});
  }
  // States of fields whose bytes are missing say nothing.
  const bool complete =
      std::ranges::none_of(decoded.faults, [](const DigitalFault& fault) { return fault.code == "short-frame"; });
  if (complete) plan.judge_states(scratch, 0, plan.first_step(), decoded, touched);
  std::vector<TraceEntry> steps;
  plan.work_out(scratch, scratch.results, tracing == Tracing::on ? &steps : nullptr);
  if (complete) plan.judge_states(scratch, plan.first_step(), scratch.values.size(), decoded, touched);
  plan.give_readings(scratch, decoded, touched);
  if (!complete && tracing == Tracing::on) plan.leave_known(steps, missing, scratch);
  decoded.trace.insert(decoded.trace.end(), steps.begin(), steps.end());
  return decoded;
}

// A number in two parts (mantissa and exponent) that together are a whole block: the count is then the whole register.
std::optional<std::size_t> Decoder::register_block() const {
  const ByteLayout& layout = plan_->part->bytes;
  const Plan::Reading& reading = plan_->readings.front();
  if (reading.layout->beside.empty()) return std::nullopt;
  const auto beside = field(reading.layout->beside);
  const std::size_t block = plan_->block_of_field[reading.field];
  const int bits = plan_->places[reading.field].bits() + plan_->places[*beside].bits();
  if (plan_->block_of_field[*beside] != block || bits != 8 * layout.blocks[block].bytes) return std::nullopt;
  return block;
}

Decoded Decoder::decode_count(double count, Tracing tracing) const {
  const Plan& plan = *plan_;
  const ByteLayout& layout = plan.part->bytes;
  const std::size_t raw = plan.readings.front().field;
  const auto whole_register = register_block();
  const double least = whole_register ? 0 : static_cast<double>(plan.places[raw].least()),
               most = whole_register ? std::exp2(8 * layout.blocks[*whole_register].bytes) - 1
                                     : static_cast<double>(plan.places[raw].most());
  Decoded decoded;
  if (!(count >= least && count <= most)) {
    decoded.faults.push_back({"out-of-range", translated("the count {:g} does not fit {}, which is {:.0f} to {:.0f}",
                                                         count, layout.fields[raw].name, least, most)});
    return decoded;
  }
  if (whole_register) {
    std::vector<std::uint8_t> bytes(static_cast<std::size_t>(layout.blocks[*whole_register].bytes));
    auto rest = static_cast<std::uint64_t>(count);
    for (auto byte = bytes.rbegin(); byte != bytes.rend(); ++byte, rest >>= 8) *byte = static_cast<std::uint8_t>(rest);
    return decode({{layout.blocks[*whole_register].name, bytes}}, tracing);
  }
  std::vector<bool> given(plan.places.size());
  given[raw] = true;
  const Lease lease(plan);
  Scratch& scratch = *lease;
  Mask touched = lacking(given, &decoded.faults);
  // Where the part may be read in a shorter form, that is what a count stands for.
  const ByteBlock& block = layout.blocks[plan.block_of_field[raw]];
  scratch.values.back() = block.shorter > 0 ? block.shorter : layout.blocks.front().bytes;
  for (std::size_t i = 0; i < plan.places.size(); ++i)
    scratch.fields[i] = static_cast<double>(plan.places[i].value(plan.usual[plan.block_of_field[i]]).value_or(0));
  scratch.fields[raw] = count;
  std::ranges::copy(scratch.fields, scratch.values.begin());
  plan.judge_states(scratch, 0, plan.first_step(), decoded, touched);
  plan.work_out(scratch, scratch.results, tracing == Tracing::on ? &decoded.trace : nullptr);
  plan.judge_states(scratch, plan.first_step(), scratch.values.size(), decoded, touched);
  plan.give_readings(scratch, decoded, touched);
  return decoded;
}

std::uint32_t Decoder::lacking(const std::vector<bool>& given, std::vector<DigitalFault>* faults) const {
  const ByteLayout& layout = plan_->part->bytes;
  const bool any_data = std::ranges::any_of(given, [](bool each) { return each; });
  Mask mask = 0;
  std::string trimming, data;
  for (std::size_t i = 0; i < given.size(); ++i) {
    const ByteField& field = layout.fields[i];
    if (given[i] || plan_->needed_by[i] == 0 || (field.role != "trimming" && field.role != "data")) continue;
    const ByteBlock& block = layout.blocks[plan_->block_of_field[i]];
    if (field.role == "data" && any_data && block.shorter > 0) continue;  // the short form goes without it
    mask |= plan_->needed_by[i];
    auto& names = field.role == "trimming" ? trimming : data;
    if (names.size() < 40) names += (names.empty() ? "" : ", ") + field.name;
  }
  if (faults && !trimming.empty())
    faults->push_back({"no-response", translated("the trimming words ({} …) are missing: without them the raw number "
                                                 "means nothing",
                                                 trimming)});
  if (faults && !data.empty()) faults->push_back({"short-frame", translated("{} is missing beside it", data)});
  return mask;
}

bool Decoder::gives(std::size_t reading) const {
  const Lease lease(*plan_);
  const auto& only = (*lease).only[reading];
  return !only || only->value() != 0;
}

void Decoder::read_row(std::span<const double> fields, std::uint32_t lacking, std::span<double> readings) const {
  const Lease lease(*plan_);
  Scratch& scratch = *lease;
  std::ranges::copy(fields, scratch.fields.begin());
  Mask touched = lacking;
  for (std::size_t i = 0; i < plan_->places.size(); ++i)
    if (!(fields[i] >= static_cast<double>(plan_->places[i].least()) &&
          fields[i] <= static_cast<double>(plan_->places[i].most())))
      touched |= plan_->needed_by[i] ? plan_->needed_by[i] : 0;
  plan_->work_out(scratch, readings, nullptr);
  if (plan_->formula && scratch.steps.empty()) std::ranges::copy(fields, scratch.values.begin());
  for (std::size_t s = 0; s < plan_->state_value.size(); ++s) {
    const ByteState& state = plan_->part->bytes.states[s];
    if (!state.fault.empty() &&
        std::ranges::find(state.equals, scratch.values[plan_->state_value[s]]) != state.equals.end())
      touched |= plan_->state_touches[s];
  }
  for (std::size_t r = 0; r < plan_->readings.size(); ++r) {
    const PartQuantity& quantity = *plan_->readings[r].quantity;
    const double margin = quantity.slack();
    const bool off = scratch.only[r] && scratch.only[r]->value() == 0;
    if (touched >> r & 1 || off ||
        !(readings[r] >= quantity.minimum - margin && readings[r] <= quantity.maximum + margin))
      readings[r] = std::nan("");
  }
}

std::optional<double> raw_of_block(const Part& part, Quantity quantity, std::span<const std::uint8_t> bytes) {
  const auto reading = std::ranges::find(part.bytes.readings, quantity, &ByteReading::quantity);
  if (reading == part.bytes.readings.end()) return std::nullopt;
  const auto field = std::ranges::find(part.bytes.fields, reading->field, &ByteField::name);
  if (field == part.bytes.fields.end()) return std::nullopt;
  const auto block = std::ranges::find(part.bytes.blocks, field->block, &ByteBlock::name);
  if (block == part.bytes.blocks.end()) return std::nullopt;
  if (static_cast<int>(bytes.size()) != block->bytes && static_cast<int>(bytes.size()) != block->shorter)
    return std::nullopt;
  const auto place = FieldPlace::read(field->bits, field->sign);
  const auto value = place ? place->value(bytes) : std::nullopt;
  return value ? std::optional(static_cast<double>(*value)) : std::nullopt;
}

std::optional<double> value_of_choice(const Part& part, std::string_view key, std::string_view name) {
  const auto setting = std::ranges::find(part.bytes.settings, key, &PartSetting::key);
  if (setting == part.bytes.settings.end() || name.empty()) return std::nullopt;
  const auto choice = std::ranges::find(setting->choices, name, &SettingChoice::name);
  return choice == setting->choices.end() ? std::nullopt : std::optional(choice->value);
}

Result<std::vector<std::uint8_t>> read_hex(std::string_view text) {
  std::vector<std::uint8_t> bytes;
  bytes.reserve(text.size() / 2);
  int high = -1;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c == '0' && i + 2 < text.size() && (text[i + 1] == 'x' || text[i + 1] == 'X') && high < 0) {
      ++i;
      continue;
    }
    const int digit = c >= '0' && c <= '9'   ? c - '0'
                      : c >= 'a' && c <= 'f' ? c - 'a' + 10
                      : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                             : -1;
    if (digit < 0) {
      const bool gap = (c == ' ' || c == ',' || c == '\t') && high < 0;
      if (gap) continue;
      return Problem{translated("'{}' is no hexadecimal digit", c),
                     translated("hexadecimal bytes such as 1A2B"),
                     {.column = static_cast<int>(i) + 1}};
    }
    if (high < 0) {
      high = digit;
    } else {
      bytes.push_back(static_cast<std::uint8_t>(high << 4 | digit));
      high = -1;
    }
  }
  if (high >= 0)
    return Problem{translated("half a byte is left over at the end"),
                   translated("two hexadecimal digits a byte"),
                   {.column = static_cast<int>(text.size())}};
  return bytes;
}

std::string to_hex(std::span<const std::uint8_t> bytes) {
  static constexpr char digits[] = "0123456789ABCDEF";
  std::string text;
  text.reserve(bytes.size() * 2);
  for (const std::uint8_t byte : bytes) {
    text += digits[byte >> 4];
    text += digits[byte & 0x0F];
  }
  return text;
}

}  // namespace fair_gauge
