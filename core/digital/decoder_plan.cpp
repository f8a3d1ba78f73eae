// From a part's layout and settings to the plan that decodes it, or what of it is not understood.
#include "digital/decoder_plan.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

std::optional<Problem> Decoder::Plan::add_settings(const std::map<std::string, double>& given) {
  for (const PartSetting& setting : part->bytes.settings) settings[setting.key] = setting.default_value;
  for (const auto& [key, value] : given) {
    const auto setting = std::ranges::find(part->bytes.settings, key, &PartSetting::key);
    if (setting == part->bytes.settings.end()) {
      std::string known;
      for (const auto& [name, usual_value] : settings) known += (known.empty() ? "" : ", ") + name;
      return Problem{translated("\"{}\" is no setting of {}", key, part->id),
                     known.empty() ? translated("it has none") : known};
    }
    const auto is_value = [v = value](const SettingChoice& choice) {
      return std::abs(choice.value - v) < 1e-9 * std::max(1.0, std::abs(v));
    };
    const bool fits = setting->choices.empty() ? value >= setting->minimum &&
                                                     (value <= setting->maximum || setting->maximum <= setting->minimum)
                                               : std::ranges::any_of(setting->choices, is_value);
    if (!fits) {
      std::string choices;
      for (const SettingChoice& choice : setting->choices)
        choices +=
            (choices.empty() ? "" : ", ") + (choice.name.empty() ? fmt::format("{:g}", choice.value) : choice.name);
      return Problem{translated("{} cannot be {:g}", key, value),
                     choices.empty() ? translated("{:g} to {:g}", setting->minimum, setting->maximum) : choices};
    }
    settings[key] = value;
  }
  return std::nullopt;
}

std::optional<Problem> Decoder::Plan::add_fields() {
  for (const ByteBlock& block : part->bytes.blocks) {
    const auto example = read_hex(block.example);
    if (!example) return example.problem();
    usual.push_back(*example);
    usual.back().resize(static_cast<std::size_t>(block.bytes));
  }
  for (const ByteField& field : part->bytes.fields) {
    auto place = FieldPlace::read(field.bits, field.sign);
    if (!place) return place.problem();
    const auto block = std::ranges::find(part->bytes.blocks, field.block, &ByteBlock::name);
    if (block == part->bytes.blocks.end())
      return Problem{translated("the field {} lies in no block", field.name), translated("the name of a block")};
    block_of_field.push_back(static_cast<std::size_t>(block - part->bytes.blocks.begin()));
    places.push_back(std::move(*place));
  }
  needed_by.resize(places.size());
  return std::nullopt;
}

std::optional<std::size_t> Decoder::Plan::value_named(const std::string& name) const {
  for (std::size_t i = 0; i < part->bytes.fields.size(); ++i)
    if (part->bytes.fields[i].name == name) return i;
  std::size_t at = places.size();
  for (const auto& [key, value] : settings) {
    if (key == name) return at;
    ++at;
  }
  for (std::size_t i = 0; i < part->bytes.steps.size(); ++i)
    if (part->bytes.steps[i].symbol == name) return first_step() + i;
  return std::nullopt;
}

// Sets a scratch up: every expression reads the scratch's own row of numbers.
std::optional<Problem> Decoder::Plan::bind(Scratch& scratch) const {
  scratch.fields.assign(places.size(), 0);
  scratch.values.assign(first_step() + part->bytes.steps.size() + 1, 0);
  scratch.values.back() = part->bytes.blocks.front().bytes;
  scratch.results.assign(part->bytes.readings.size(), 0);
  scratch.formula_inputs.assign(formula_fields.size(), 0);
  scratch.formula_outputs.assign(formula ? formula->readings.size() : 0, 0);
  std::map<std::string, double*> names;
  for (std::size_t i = 0; i < places.size(); ++i) names[part->bytes.fields[i].name] = &scratch.values[i];
  std::size_t at = places.size();
  for (const auto& [key, value] : settings) {
    scratch.values[at] = value;
    names[key] = &scratch.values[at++];
  }
  names["length"] = &scratch.values.back();  // how many bytes the first block brought
  for (const ByteStep& step : part->bytes.steps) {
    auto expression = Expression::read(step.expression, names);
    if (!expression) return expression.problem();
    names[step.symbol] = &scratch.values[at++];
    scratch.steps.push_back(std::move(*expression));
  }
  const auto add = [&](const std::string& text,
                       std::vector<std::optional<Expression>>& into) -> std::optional<Problem> {
    into.emplace_back();
    if (text.empty()) return std::nullopt;
    auto expression = Expression::read(text, names);
    if (!expression) return expression.problem();
    into.back() = std::move(*expression);
    return std::nullopt;
  };
  for (const ByteReading& reading : part->bytes.readings) {
    if (auto problem = add(reading.expression, scratch.expressions)) return problem;
    if (auto problem = add(reading.only, scratch.only)) return problem;
  }
  return std::nullopt;
}

// The fields that an expression follows from, a bit each. \param from  the same of every value
std::uint64_t Decoder::Plan::fields_of(const Expression& expression, const std::vector<std::uint64_t>& from) const {
  std::uint64_t bits = 0;
  for (const std::string& name : expression.uses())
    if (const auto value = value_named(name)) bits |= from[*value];
  return bits;
}

std::optional<Problem> Decoder::Plan::add_expressions() {
  auto scratch = std::make_unique<Scratch>();
  if (auto problem = bind(*scratch)) return problem;
  std::vector<std::uint64_t> from(scratch->values.size());
  for (std::size_t i = 0; i < places.size(); ++i) from[i] = std::uint64_t{1} << i;
  for (std::size_t i = 0; i < scratch->steps.size(); ++i) from[first_step() + i] = fields_of(scratch->steps[i], from);
  for (std::size_t r = 0; r < part->bytes.readings.size(); ++r) {
    const ByteReading& reading = part->bytes.readings[r];
    const PartQuantity* quantity = part->measures(reading.quantity);
    const auto field = value_named(reading.field);
    if (!quantity || !field || *field >= places.size())
      return Problem{translated("the reading {} has no quantity or field", translated_name(reading.quantity)),
                     translated("a quantity of the part and a field of the layout")};
    constexpr int most_bits_tried = 8;
    const auto beside = reading.beside.empty() ? field : value_named(reading.beside),
               tied = reading.tied.empty() ? field : value_named(reading.tied);
    if (!beside || *beside >= places.size() || !tied || *tied >= places.size() ||
        (!reading.beside.empty() && places[*beside].bits() > most_bits_tried))
      return Problem{translated("the reading {} names a field beside it or tied to it that is none, or too wide",
                                translated_name(reading.quantity)),
                     translated("fields of the layout; one of 8 bits at most beside it")};
    readings.push_back({&reading, quantity, *field});
    std::uint64_t needs = std::uint64_t{1} << *field;
    if (scratch->expressions[r]) needs |= fields_of(*scratch->expressions[r], from);
    for (std::size_t i = 0; i < places.size(); ++i)
      if (needs >> i & 1) needed_by[i] |= Mask{1} << r;
  }
  // What a step's state touches: the readings that share a field with it that carries data.
  for (const ByteState& state : part->bytes.states) {
    const auto value = value_named(state.field);
    if (!value)
      return Problem{translated("the state \"{}\" is of no field or step", state.field),
                     translated("a field or step of the layout")};
    Mask follows = 0;
    for (std::size_t i = 0; i < places.size(); ++i)
      if (from[*value] >> i & 1) follows |= needed_by[i];
    state_value.push_back(*value);
    state_touches.push_back(touched(state.touches, follows ? follows : all()));
  }
  return std::nullopt;
}

std::optional<Problem> Decoder::Plan::add_formula() {
  if (part->bytes.formula.empty()) return std::nullopt;
  formula = coded_formula(part->bytes.formula);
  if (!formula)
    return Problem{translated("no formula is called \"{}\"", part->bytes.formula),
                   translated("the name of a coded formula")};
  for (const std::string_view name : formula->fields) {
    const auto at = value_named(std::string(name));
    if (!at || *at >= places.size())
      return Problem{translated("the formula {} needs a field {}", formula->name, name), translated("that field")};
    formula_fields.push_back(*at);
  }
  for (const std::string_view name : formula->settings) {
    const auto setting = settings.find(std::string(name));
    if (setting == settings.end())
      return Problem{translated("the formula {} needs a setting {}", formula->name, name), translated("that setting")};
    formula_settings.push_back(setting->second);
  }
  for (std::size_t r = 0; r < readings.size(); ++r) {
    const auto given =
        std::ranges::find(formula->readings, readings[r].layout->quantity, &CodedFormula::Reading::quantity);
    if (given == formula->readings.end())
      return Problem{
          translated("the formula {} gives no {}", formula->name, translated_name(readings[r].layout->quantity)),
          translated("a quantity that it gives")};
    readings[r].formula_at = static_cast<std::size_t>(given - formula->readings.begin());
    for (std::size_t i = 0; i < formula->fields.size(); ++i)
      if (std::ranges::any_of(given->needs,
                              [&](std::string_view beginning) { return formula->fields[i].starts_with(beginning); }))
        needed_by[formula_fields[i]] |= Mask{1} << r;
  }
  return std::nullopt;
}

Mask Decoder::Plan::touched(const std::vector<Quantity>& quantities, Mask otherwise) const {
  if (quantities.empty()) return otherwise;
  Mask mask = 0;
  for (std::size_t r = 0; r < readings.size(); ++r)
    if (std::ranges::find(quantities, readings[r].layout->quantity) != quantities.end()) mask |= Mask{1} << r;
  return mask;
}

std::optional<Problem> Decoder::Plan::add_rules() {
  for (const ByteCheck& check : part->bytes.checks) {
    checks.push_back(check_kind(check.kind));
    const auto block = std::ranges::find(part->bytes.blocks, check.block, &ByteBlock::name);
    if (!checks.back() || block == part->bytes.blocks.end() || check.to < check.from ||
        last_byte(check) >= block->bytes)
      return Problem{translated("the check \"{}\" is not known, or lies outside its block", check.kind),
                     translated("a kind of check and bytes of a block")};
    Mask covers = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
      const bool inside = std::ranges::any_of(
          places[i].runs(), [&](const BitRun& run) { return run.byte >= check.from && run.byte <= check.to; });
      if (part->bytes.fields[i].block == check.block && inside) covers |= needed_by[i];
    }
    check_touches.push_back(touched(check.touches, covers ? covers : all()));
  }
  return std::nullopt;
}

std::optional<Problem> Decoder::Plan::compile() {
  if (part->bytes.blocks.size() > most_blocks || part->bytes.fields.size() > most_fields ||
      part->bytes.readings.size() > most_readings || part->bytes.readings.empty())
    return Problem{translated("the layout has no reading, or too many blocks, fields or readings"),
                   translated("{} blocks, {} fields and {} readings at most", most_blocks, most_fields, most_readings)};
  if (auto problem = add_fields()) return problem;
  if (auto problem = add_expressions()) return problem;
  if (auto problem = add_formula()) return problem;
  // The formula knows which readings need a field; a state of that field touches them.
  for (std::size_t s = 0; s < state_touches.size(); ++s)
    if (formula && state_value[s] < places.size() && needed_by[state_value[s]])
      state_touches[s] = touched(part->bytes.states[s].touches, needed_by[state_value[s]]);
  return add_rules();
}

}  // namespace fair_gauge
