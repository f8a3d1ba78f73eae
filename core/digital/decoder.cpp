// What a fault touches is worked out from the layout: a reading needs the fields that its formula uses, a check covers
// the fields whose bytes it covers. A fault that touches no reading in particular touches all.
#include "digital/decoder.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <mutex>

#include "digital/checks.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

using Mask = std::uint32_t;  // a bit a reading
constexpr std::size_t most_blocks = 16;

// How far a check reaches into its block.
int last_byte(const ByteCheck& check) { return std::max(check.at + (check.kind == "crc16-a001" ? 1 : 0), check.to); }

std::optional<unsigned> address_of(std::string_view name) {
  if (!name.starts_with("0x") && !name.starts_with("0X")) return std::nullopt;
  unsigned address = 0;
  const auto [at, error] = std::from_chars(name.data() + 2, name.data() + name.size(), address, 16);
  return error == std::errc{} && at == name.data() + name.size() ? std::optional(address) : std::nullopt;
}

}  // namespace

// What one reader at a time works on: the row of numbers that the expressions read, and the expressions bound to it.
struct Decoder::Scratch {
  std::vector<double> fields;  // raw numbers of the layout's fields
  std::vector<double> values;  // fields, settings, steps; the length of the first block at the end
  std::vector<Expression> steps;
  std::vector<std::optional<Expression>> expressions, only;  // of the readings
  std::vector<double> formula_inputs, formula_outputs, results;
};

struct Decoder::Plan {
  std::shared_ptr<const Part> part;
  Math math = Math::floating;
  std::map<std::string, double> settings;

  std::vector<std::size_t> block_of_field;
  std::vector<FieldPlace> places;
  std::vector<Mask> needed_by;                   // of each field
  std::vector<std::vector<std::uint8_t>> usual;  // bytes of each block's example, for those a shorter form leaves out
  std::vector<const CheckKind*> checks;          // of the layout's checks
  std::vector<Mask> check_touches;
  std::vector<Mask> state_touches;
  std::vector<std::size_t> state_value;  // index into values

  struct Reading {
    const ByteReading* layout;
    const PartQuantity* quantity;
    std::size_t field;
    std::size_t formula_at = 0;
  };
  std::vector<Reading> readings;
  const CodedFormula* formula = nullptr;
  std::vector<std::size_t> formula_fields;
  std::vector<double> formula_settings;

  // Scratches that nobody uses at the moment.
  mutable std::mutex idle_guard;
  mutable std::vector<std::unique_ptr<Scratch>> idle;

  std::size_t first_step() const { return places.size() + settings.size(); }
  Mask all() const { return (Mask{1} << readings.size()) - 1; }

  std::optional<Problem> compile();
  std::optional<Problem> add_settings(const std::map<std::string, double>& given);
  std::optional<Problem> add_fields();
  std::optional<Problem> bind(Scratch& scratch) const;
  std::optional<Problem> add_expressions();
  std::uint64_t fields_of(const Expression& expression, const std::vector<std::uint64_t>& from) const;
  std::optional<Problem> add_formula();
  std::optional<Problem> add_rules();
  Mask touched(const std::vector<std::string>& quantities, Mask otherwise) const;
  std::optional<std::size_t> value_named(const std::string& name) const;

  void work_out(Scratch& scratch, std::span<double> out, std::vector<TraceEntry>* trace) const;
  void judge_states(const Scratch& scratch, std::size_t from, std::size_t to, Decoded& decoded,
                    Mask& touched_readings) const;
  void give_readings(const Scratch& scratch, Decoded& decoded, Mask touched_readings) const;
  std::string words_of(const PartQuantity& quantity) const;
};

std::optional<Problem> Decoder::Plan::add_settings(const std::map<std::string, double>& given) {
  for (const PartSetting& setting : part->bytes.settings) settings[setting.key] = setting.default_value;
  for (const auto& [key, value] : given) {
    const auto setting = std::ranges::find(part->bytes.settings, key, &PartSetting::key);
    if (setting == part->bytes.settings.end()) {
      std::string known;
      for (const auto& [name, usual_value] : settings) known += (known.empty() ? "" : ", ") + name;
      return Problem{fmt::format("\"{}\" is no setting of {}", key, part->id), known.empty() ? "it has none" : known};
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
      return Problem{fmt::format("{} cannot be {:g}", key, value),
                     choices.empty() ? fmt::format("{:g} to {:g}", setting->minimum, setting->maximum) : choices};
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
      return Problem{fmt::format("the field {} lies in no block", field.name), "the name of a block"};
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
      return Problem{fmt::format("the reading {} has no quantity or field", reading.quantity),
                     "a quantity of the part and a field of the layout"};
    constexpr int most_bits_tried = 8;
    const auto beside = reading.beside.empty() ? field : value_named(reading.beside),
               tied = reading.tied.empty() ? field : value_named(reading.tied);
    if (!beside || *beside >= places.size() || !tied || *tied >= places.size() ||
        (!reading.beside.empty() && places[*beside].bits() > most_bits_tried))
      return Problem{fmt::format("the reading {} names a field beside it or tied to it that is none, or too wide",
                                 reading.quantity),
                     "fields of the layout; one of 8 bits at most beside it"};
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
      return Problem{fmt::format("the state \"{}\" is of no field or step", state.field),
                     "a field or step of the layout"};
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
    return Problem{fmt::format("no formula is called \"{}\"", part->bytes.formula), "the name of a coded formula"};
  for (const std::string_view name : formula->fields) {
    const auto at = value_named(std::string(name));
    if (!at || *at >= places.size())
      return Problem{fmt::format("the formula {} needs a field {}", formula->name, name), "that field"};
    formula_fields.push_back(*at);
  }
  for (const std::string_view name : formula->settings) {
    const auto setting = settings.find(std::string(name));
    if (setting == settings.end())
      return Problem{fmt::format("the formula {} needs a setting {}", formula->name, name), "that setting"};
    formula_settings.push_back(setting->second);
  }
  for (std::size_t r = 0; r < readings.size(); ++r) {
    const auto given =
        std::ranges::find(formula->readings, readings[r].layout->quantity, &CodedFormula::Reading::quantity);
    if (given == formula->readings.end())
      return Problem{fmt::format("the formula {} gives no {}", formula->name, readings[r].layout->quantity),
                     "a quantity that it gives"};
    readings[r].formula_at = static_cast<std::size_t>(given - formula->readings.begin());
    for (std::size_t i = 0; i < formula->fields.size(); ++i)
      if (std::ranges::any_of(given->needs,
                              [&](std::string_view beginning) { return formula->fields[i].starts_with(beginning); }))
        needed_by[formula_fields[i]] |= Mask{1} << r;
  }
  return std::nullopt;
}

Mask Decoder::Plan::touched(const std::vector<std::string>& quantities, Mask otherwise) const {
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
      return Problem{fmt::format("the check \"{}\" is not known, or lies outside its block", check.kind),
                     "a kind of check and bytes of a block"};
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
    return Problem{
        "the layout has no reading, or too many blocks, fields or readings",
        fmt::format("{} blocks, {} fields and {} readings at most", most_blocks, most_fields, most_readings)};
  if (auto problem = add_fields()) return problem;
  if (auto problem = add_expressions()) return problem;
  if (auto problem = add_formula()) return problem;
  // The formula knows which readings need a field; a state of that field touches them.
  for (std::size_t s = 0; s < state_touches.size(); ++s)
    if (formula && state_value[s] < places.size() && needed_by[state_value[s]])
      state_touches[s] = touched(part->bytes.states[s].touches, needed_by[state_value[s]]);
  return add_rules();
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
      const std::string line = fmt::format("{} · {} {} {}", reading.layout->scale, reading.layout->field,
                                           reading.layout->offset < 0 ? "−" : "+", std::abs(reading.layout->offset));
      trace->push_back({reading.layout->quantity, value, scratch.expressions[r] ? reading.layout->expression : line});
    }
    if (reading.layout->clamps) value = std::clamp(value, reading.quantity->minimum, reading.quantity->maximum);
    out[r] = value;
  }
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
    const double margin = 0.1 * (quantity.maximum - quantity.minimum);
    if (!std::isfinite(value)) {
      decoded.faults.push_back(
          {"out-of-range",
           fmt::format("the {} formula has no result for these bytes: the trimming or the raw number cannot be right",
                       quantity.quantity)});
    } else if (value < quantity.minimum - margin || value > quantity.maximum + margin) {
      decoded.faults.push_back(
          {"out-of-range",
           fmt::format("{} {:g} is far outside the part's {:g} to {:g}: read the bytes again, and look at their order",
                       quantity.quantity, value, quantity.minimum, quantity.maximum)});
    } else {
      if (value < quantity.minimum || value > quantity.maximum)
        decoded.statuses.push_back(fmt::format("{} is outside the part's specified {:g} to {:g}", quantity.quantity,
                                               quantity.minimum, quantity.maximum));
      decoded.readings.push_back({&quantity, value});
    }
  }
}

const DigitalReading* Decoded::reading(std::string_view quantity) const {
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

Result<Decoder> Decoder::make(std::shared_ptr<const Part> part, const std::map<std::string, double>& settings,
                              Math math) {
  if (!part->is_digital())
    return Problem{fmt::format("\"{}\" does not answer with bytes", part->id), "a part with a byte layout"};
  auto plan = std::make_shared<Plan>();
  plan->part = std::move(part);
  plan->math = math;
  if (auto problem = plan->add_settings(settings)) return *problem;
  if (auto problem = plan->compile()) return *problem;
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
                            ? fmt::format("the {} bytes of {} are missing", block.bytes, block.name)
                            : fmt::format("{} has {} bytes of {}", block.name, found[b].size(), block.bytes)});
  }
  scratch.values.back() = static_cast<double>(found[0].size());
  for (std::size_t i = 0; i < plan.places.size(); ++i) {
    const std::size_t b = plan.block_of_field[i];
    auto value = plan.places[i].value(found[b]);
    if (!value && short_form[b]) value = plan.places[i].value(plan.usual[b]);
    scratch.values[i] = scratch.fields[i] = value ? static_cast<double>(*value) : 0;
    if (tracing == Tracing::on && value)
      decoded.trace.push_back({layout.fields[i].name, scratch.fields[i],
                               fmt::format("{} of {}", layout.fields[i].bits, layout.fields[i].block)});
  }
  for (std::size_t c = 0; c < plan.checks.size(); ++c) {
    const ByteCheck& check = layout.checks[c];
    const auto block = std::ranges::find(layout.blocks, check.block, &ByteBlock::name);
    const auto bytes = found[static_cast<std::size_t>(block - layout.blocks.begin())];
    const int last = last_byte(check);
    if (static_cast<int>(bytes.size()) <= last ||
        plan.checks[c]->holds(bytes.first(std::min<std::size_t>(bytes.size(), static_cast<std::size_t>(block->bytes))),
                              check))
      continue;
    decoded.faults.push_back({std::string(plan.checks[c]->fault),
                              fmt::format("{}: {}; read them again", block->name, plan.checks[c]->says)});
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
      decoded.faults.push_back({"no-response", fmt::format("the trimming words are all {}: nothing answered",
                                                           first == 0 ? "zeros" : "ones")});
  }
  // States of fields whose bytes are missing say nothing.
  const bool complete =
      std::ranges::none_of(decoded.faults, [](const DigitalFault& fault) { return fault.code == "short-frame"; });
  if (complete) plan.judge_states(scratch, 0, plan.first_step(), decoded, touched);
  plan.work_out(scratch, scratch.results, tracing == Tracing::on ? &decoded.trace : nullptr);
  if (complete) plan.judge_states(scratch, plan.first_step(), scratch.values.size(), decoded, touched);
  plan.give_readings(scratch, decoded, touched);
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
    decoded.faults.push_back({"out-of-range", fmt::format("the count {:g} does not fit {}, which is {:.0f} to {:.0f}",
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
    faults->push_back({"no-response", fmt::format("the trimming words ({} …) are missing: without them the raw number "
                                                  "means nothing",
                                                  trimming)});
  if (faults && !data.empty()) faults->push_back({"short-frame", fmt::format("{} is missing beside it", data)});
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
    const double margin = 0.1 * (quantity.maximum - quantity.minimum);
    const bool off = scratch.only[r] && scratch.only[r]->value() == 0;
    if (touched >> r & 1 || off ||
        !(readings[r] >= quantity.minimum - margin && readings[r] <= quantity.maximum + margin))
      readings[r] = std::nan("");
  }
}

std::optional<double> raw_of_block(const Part& part, std::string_view quantity, std::span<const std::uint8_t> bytes) {
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
    if (c == '0' && i + 1 < text.size() && (text[i + 1] == 'x' || text[i + 1] == 'X') && high < 0) {
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
      return Problem{fmt::format("'{}' is no hexadecimal digit", c),
                     "hexadecimal bytes such as 1A2B",
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
    return Problem{"half a byte is left over at the end",
                   "two hexadecimal digits a byte",
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
