// Channels whose input is a reading already, in steps of its own: worked out from one channel or two, or converted by
// other firmware.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "chain/derived_link.h"
#include "handoff/c_words.h"
#include "handoff/packer.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

// What is wanted of a channel and a tenth of it on either side, as far as it can read that.
SideInput input_of(const Chain& chain) {
  SideInput input{.channel = chain.channel.id,
                  .unit = std::string(chain.shown->ucum),
                  .per_unit = usual_per_unit(smallest_uncertainty(chain))};
  const double unit = static_cast<double>(input.per_unit);
  auto [least, most] = readable_steps(chain, unit);
  if (!(least < most)) least = -1e9, most = 1e9;  // several numbers decide together: what is wanted counts alone
  const double a = chain.shown->from_base(chain.channel.wanted.from) * unit,
               b = chain.shown->from_base(chain.channel.wanted.to) * unit, beyond = std::abs(b - a) / 10;
  input.lowest = static_cast<std::int64_t>(std::ceil(std::max(least, std::min(a, b) - beyond)));
  input.highest = static_cast<std::int64_t>(std::floor(std::min(most, std::max(a, b) + beyond)));
  return input;
}

// Each of them is run, and is handed in as 32 bits.
std::optional<Problem> too_many_steps(const SideInput& input) {
  if (input.highest - input.lowest >= 1 << 24)
    return Problem{translated("the readings of {} are more than 16 million steps", input.channel),
                   translated("a narrower wanted range")};
  if (input.lowest < std::numeric_limits<std::int32_t>::min() ||
      input.highest > std::numeric_limits<std::int32_t>::max())
    return Problem{translated("the readings of {} do not fit in 32 bits in steps of {}", input.channel,
                              step_words(input.per_unit)),
                   translated("fewer decimals")};
  return std::nullopt;
}

// A straight line as an expression of what is called so.
std::string line_of(const std::string& name, double slope, double offset) {
  std::string text = name;
  if (const double parts = 1 / slope; slope < 1 && std::abs(parts - std::round(parts)) < 1e-9 * parts)
    text += fmt::format(" / {}", std::round(parts));
  else if (slope != 1)
    text += fmt::format(" * {:.9g}", slope);
  return offset == 0 ? text : fmt::format("{} {} {:.9g}", text, offset < 0 ? "-" : "+", std::abs(offset));
}

// The quantity as firmware works it out, of what is handed in: `raw` and `side`, in steps. Nothing where it is searched
// or has what firmware here does not have.
std::optional<Formula> formula_of_readings(const DerivedLink& link, const Chain& first, const SideInput& input,
                                           const Chain* second, const std::optional<SideInput>& side,
                                           const Unit& shown) {
  const DerivedQuantity& quantity = *link.setup().quantity;
  if (quantity.steps.empty()) return std::nullopt;
  const auto in_base = [](const char* name, const Unit& unit, std::int64_t per_unit) {
    const double offset = unit.to_base(0), slope = (unit.to_base(1) - offset) / static_cast<double>(per_unit);
    return line_of(name, slope, offset);
  };
  // What each is, said by its name in the code.
  const auto word = [](const Chain& chain) {
    const std::string name = c_identifier(enum_name(chain.channel.quantity));
    return chain.channel.quantity == Quantity::number ? "plain_" + name : name;  // `number` is what is handed in
  };
  std::map<std::string, std::string> names{{"a", word(first)}};
  std::vector<FormulaStep> steps{{names["a"], in_base("raw", *first.shown, input.per_unit)}};
  if (second) {
    names["b"] = word(*second) == names["a"] ? word(*second) + "_beside" : word(*second);
    steps.push_back({names["b"], in_base("side", *second->shown, side->per_unit)});
  } else {
    names["b"] = fmt::format("({:.9g})", link.setup().beside);
  }
  for (const auto& [symbol, expression] : quantity.steps) steps.push_back({symbol, with_names(expression, names)});
  const double zero = shown.from_base(0);
  if (const std::string result = line_of(steps.back().symbol, shown.from_base(1) - zero, zero);
      result != steps.back().symbol)
    steps.push_back({"shown", result});
  auto formula = Formula::read(steps);
  if (!formula || !formula->reference_functions().empty()) return std::nullopt;
  const auto is_input = [](const std::string& name) { return name == "raw" || name == "side"; };
  return std::ranges::all_of(formula->inputs(), is_input) ? std::optional(std::move(*formula)) : std::nullopt;
}

}  // namespace

std::optional<Problem> Packer::of_readings() {
  const DerivedLink& link = *chain_.derived;
  const Chain& first = *chain_.inputs.front();
  const bool two = !chain_.channel.derived->beside.empty();
  if (link.setup().quantity->accumulates)
    return Problem{translated("\"{}\" comes together over a day: one reading does not tell it", called(chain_.channel)),
                   translated("a channel that follows from readings of one moment")};
  for (const auto& input : chain_.inputs)
    if (input && input->derived)
      return Problem{translated("\"{}\" is worked out from one that is worked out itself", called(chain_.channel)),
                     translated("a channel that follows from measured ones")};
  HandoffCode& code = handoff_.code;
  SideInput input = input_of(first);
  std::optional<SideInput> side;
  if (two) side = input_of(*chain_.inputs[1]);
  const double unit = static_cast<double>(code.per_unit);
  const ExactSurface exact = [&, by = static_cast<double>(input.per_unit)](std::int64_t raw, std::int64_t other) {
    const double beside =
        two ? chain_.inputs[1]->shown->to_base(static_cast<double>(other) / static_cast<double>(side->per_unit))
            : link.setup().beside;
    const double value = link.at(first.shown->to_base(static_cast<double>(raw) / by), beside);
    return std::isfinite(value) ? chain_.shown->from_base(value) * unit : std::nan("");
  };
  // Where the law gives nothing there is no input: air without any vapour has no dew point.
  const auto middle = [](const SideInput& of) { return (of.lowest + of.highest) / 2; };
  const auto shrink = [](SideInput& of, const auto& gives) {
    while (of.lowest < of.highest && !gives(of.lowest)) ++of.lowest;
    while (of.lowest < of.highest && !gives(of.highest)) --of.highest;
  };
  shrink(input, [&](std::int64_t raw) { return std::isfinite(exact(raw, two ? middle(*side) : 0)); });
  if (two) shrink(*side, [&](std::int64_t other) { return std::isfinite(exact(middle(input), other)); });
  if (!(input.lowest < input.highest) || (two && !(side->lowest < side->highest)))
    return Problem{translated("\"{}\" has no value for the readings that are wanted", called(chain_.channel)),
                   translated("inputs whose wanted ranges give one")};
  code.input = input;
  code.is_signed = input.lowest < 0;
  raw_range_ = {input.lowest, input.highest};
  std::string what = link.setup().quantity->id;  // not its name, which is of the window's language
  std::ranges::replace(what, '-', ' ');
  code.comments.push_back(
      fmt::format("{} of {}{}", what, input.channel, two ? fmt::format(" and {}", side->channel) : ""));
  handoff_.report.notes.push_back(translated("raw: the reading of {} in steps of {} {}, {} to {}", input.channel,
                                             step_words(input.per_unit), difference_symbol(input.unit), input.lowest,
                                             input.highest));
  if (chain_.channel.switching) {
    code.switching = {};
    handoff_.report.notes.push_back(
        translated("its switching rule is no comparison of a raw number: compare the value"));
  }
  const double from = chain_.shown->from_base(chain_.channel.wanted.from) * unit,
               to = chain_.shown->from_base(chain_.channel.wanted.to) * unit;
  const auto [low, high] = std::minmax(from, to);
  readings_formula_ =
      formula_of_readings(link, first, input, two ? chain_.inputs[1].get() : nullptr, side, *chain_.shown);
  if (two) {
    handoff_.report.holds_for =
        translated("the readings of {} and {} as wanted, and a tenth beyond", input.channel, side->channel);
    return of_surface(
        exact, {input.lowest, input.highest, side->lowest, side->highest, low, high, request_.drawn_blocks}, *side);
  }
  handoff_.report.holds_for = translated("the readings of {} as wanted, and a tenth beyond", input.channel);
  return of_steps([&](std::int64_t raw) { return exact(raw, 0); });
}

std::optional<Problem> Packer::of_steps(const std::function<double(std::int64_t)>& exact) {
  const SideInput& input = *handoff_.code.input;
  const double unit = static_cast<double>(handoff_.code.per_unit);
  const double from = chain_.shown->from_base(chain_.channel.wanted.from) * unit,
               to = chain_.shown->from_base(chain_.channel.wanted.to) * unit;
  const auto [low, high] = std::minmax(from, to);
  if (auto problem = too_many_steps(input)) return problem;
  exact_.first = input.lowest;
  exact_.wanted_from = input.highest + 1;
  for (std::int64_t raw = input.lowest; raw <= input.highest; ++raw) {
    if (raw % between_questions == 0 && request_.is_cancelled && request_.is_cancelled()) return cancelled();
    exact_.values.push_back(exact(raw));
    if (!(exact_.values.back() >= low && exact_.values.back() <= high)) continue;
    exact_.wanted_from = std::min(exact_.wanted_from, raw), exact_.wanted_to = raw;
  }
  if (std::ranges::any_of(exact_.values, [](double value) { return !(std::abs(value) < 2147483000.0); }))
    return Problem{translated("its values do not fit in 32 bits with {:.0f} steps a unit", unit),
                   translated("fewer steps a unit")};
  if (auto problem = choose_arithmetic()) return problem;
  number_vectors();
  return std::nullopt;
}

std::string SideInput::words() const {
  return fmt::format("the {} of {}{} in steps of {} {}, from {} to {}", arrives ? "value" : "reading", channel,
                     arrives ? " as it arrives," : "", step_words(per_unit), unit_in_comment(unit), lowest, highest);
}

SideInput arriving_input(const Chain& chain) {
  const Unit& unit = *unit_by_ucum(chain.channel.arriving_unit());
  SideInput input{.channel = chain.channel.id, .unit = std::string(unit.ucum), .arrives = true};
  for (int i = 0; i < chain.channel.arrives->decimals; ++i) input.per_unit *= 10;
  const double steps = static_cast<double>(input.per_unit);
  const double from = unit.from_base(chain.channel.wanted.from) * steps,
               to = unit.from_base(chain.channel.wanted.to) * steps;
  const auto [low, high] = std::minmax(from, to);
  const double beyond = (high - low) / 10;
  constexpr double most = 1e15;  // more is refused by of_steps() anyway
  input.lowest = static_cast<std::int64_t>(std::ceil(std::clamp(low - beyond, -most, most)));
  input.highest = static_cast<std::int64_t>(std::floor(std::clamp(high + beyond, -most, most)));
  return input;
}

std::optional<Problem> Packer::of_arrived() {
  SideInput input = arriving_input(chain_);
  HandoffCode& code = handoff_.code;
  const auto exact = [this, unit = static_cast<double>(code.per_unit), steps = static_cast<double>(input.per_unit)](
                         std::int64_t raw) { return exact_reading(chain_, static_cast<double>(raw) / steps) * unit; };
  if (auto problem = too_many_steps(input)) return problem;
  // Where no sensor sends such a value there is no reading.
  while (input.lowest < input.highest && !std::isfinite(exact(input.lowest))) ++input.lowest;
  while (input.lowest < input.highest && !std::isfinite(exact(input.highest))) --input.highest;
  if (!(input.lowest < input.highest))
    return Problem{translated("\"{}\" has no value for the readings that are wanted", called(chain_.channel)),
                   translated("a wanted range that it can have")};
  code.input = input;
  code.is_signed = input.lowest < 0;
  raw_range_ = {input.lowest, input.highest};
  code.comments.push_back("what other firmware has converted, corrected");
  handoff_.report.notes.push_back(translated("raw: the value of {} as it arrives, in steps of {} {}, {} to {}",
                                             input.channel, step_words(input.per_unit), difference_symbol(input.unit),
                                             input.lowest, input.highest));
  if (chain_.channel.switching) {
    code.switching = {};
    handoff_.report.notes.push_back(
        translated("its switching rule is no comparison of a raw number: compare the value"));
  }
  handoff_.report.holds_for = translated("the values of {} as wanted, and a tenth beyond", input.channel);
  return of_steps(exact);
}

}  // namespace fair_gauge
