#include "sizing/sensor_divider.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <random>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr int points = 200;  // of the range that are looked at

double at_point(const DividerWish& wish, int i) { return wish.from + (wish.to - wish.from) * i / points; }

double slope_of_resistance(const DividerWish& wish, double value) {
  const double h = 1e-6 * (wish.to - wish.from);
  return (wish.law.output(value + h) - wish.law.output(value - h)) / (2 * h);
}

double pin_volts(const DividerWish& wish, double fixed_ohm, double sensor_ohm) {
  return wish.supply_v * (wish.position == Position::top ? sensor_ohm : fixed_ohm) / (sensor_ohm + fixed_ohm);
}

std::optional<Problem> impossible(const DividerWish& wish) {
  if (wish.law.output_dimension != Dimension::resistance)
    return Problem{translated("this sensor is no resistance"), translated("a part whose output is a resistance")};
  if (!(wish.from < wish.to))
    return Problem{translated("{:g} to {:g} is no range", wish.from, wish.to), translated("from below to")};
  if (wish.from < wish.range.minimum || wish.to > wish.range.maximum)
    return Problem{translated("the range {:g} to {:g} is outside what the part can do", wish.from, wish.to),
                   translated("{:g} to {:g}", wish.range.minimum, wish.range.maximum)};
  if (wish.goal == DividerGoal::relative && !(wish.from > 0))
    return Problem{translated("nothing is a share of a reading of {:g}", wish.from),
                   translated("a range that begins above 0")};
  if (!(wish.supply_v > 0) || wish.bits < 1 || wish.bits > 32)
    return Problem{translated("the supply or the bits cannot be"), translated("a supply above 0 V and 1 to 32 bits")};
  return std::nullopt;
}

// Lower is better.
double rank(const DividerCandidate& candidate, DividerGoal goal, double best_worst_step) {
  switch (goal) {
    case DividerGoal::resolution: return candidate.worst_step;
    case DividerGoal::linear: return candidate.nonlinearity;
    case DividerGoal::relative: return candidate.worst_share;
    case DividerGoal::current:
      return candidate.worst_step <= 2 * best_worst_step ? candidate.highest_a : std::numeric_limits<double>::max();
  }
  return candidate.worst_step;
}

// The nearest that can be had when every value breaks a limit.
Problem nothing_serves(const std::vector<DividerCandidate>& candidates) {
  if (candidates.empty())
    return {translated("none of the resistors at hand is near the sensor's own"),
            translated("one between a hundredth and a hundred times it")};
  const auto least = std::ranges::min_element(candidates, {}, &DividerCandidate::source_ohm);
  const auto coolest = std::ranges::min_element(candidates, {}, &DividerCandidate::self_heating_k);
  return {
      translated("no value keeps every limit: {}", candidates[candidates.size() / 2].refused),
      translated("a higher limit; the lowest source resistance is {} with {}, the least self-heating {:.3g} K with {}",
                 with_prefix(least->source_ohm, "Ω"), resistor_code(least->fixed_ohm), coolest->self_heating_k,
                 resistor_code(coolest->fixed_ohm))};
}

}  // namespace

std::span<const EnumName<DividerGoal>> enum_names(DividerGoal) {
  static constexpr std::array table = {
      EnumName{DividerGoal::resolution, "resolution"}, EnumName{DividerGoal::linear, "linear"},
      EnumName{DividerGoal::current, "current"}, EnumName{DividerGoal::relative, "relative"}};
  return table;
}

DividerCandidate judge_divider(const DividerWish& wish, double fixed_ohm) {
  DividerCandidate judged{.fixed_ohm = fixed_ohm, .best_step = std::numeric_limits<double>::max()};
  const double step_v = wish.supply_v / std::exp2(wish.bits);
  const double first_v = pin_volts(wish, fixed_ohm, wish.law.output(wish.from));
  const double last_v = pin_volts(wish, fixed_ohm, wish.law.output(wish.to));
  for (int i = 0; i <= points; ++i) {
    const double value = at_point(wish, i);
    const double ohms = wish.law.output(value);
    const double sum = ohms + fixed_ohm;
    const double volts_per_unit = std::abs(wish.supply_v * fixed_ohm / (sum * sum) * slope_of_resistance(wish, value));
    judged.worst_step = std::max(judged.worst_step, step_v / volts_per_unit);
    judged.best_step = std::min(judged.best_step, step_v / volts_per_unit);
    if (value > 0) judged.worst_share = std::max(judged.worst_share, step_v / volts_per_unit / value);
    const double on_line =
        wish.from + (pin_volts(wish, fixed_ohm, ohms) - first_v) / (last_v - first_v) * (wish.to - wish.from);
    judged.nonlinearity = std::max(judged.nonlinearity, std::abs(on_line - value));
    const double amperes = wish.supply_v / sum;
    judged.highest_a = std::max(judged.highest_a, amperes);
    judged.source_ohm = std::max(judged.source_ohm, ohms * fixed_ohm / sum);
    judged.self_heating_k = std::max(judged.self_heating_k, amperes * amperes * ohms * wish.kelvin_per_watt);
  }
  if (wish.max_source_ohm && judged.source_ohm > *wish.max_source_ohm)
    judged.refused = translated("the pin would see {}, more than {}", with_prefix(judged.source_ohm, "Ω"),
                                with_prefix(*wish.max_source_ohm, "Ω"));
  else if (wish.max_self_heating_k && judged.self_heating_k > *wish.max_self_heating_k)
    judged.refused = translated("it would heat the sensor by {:.3g} K, more than {:.3g} K", judged.self_heating_k,
                                *wish.max_self_heating_k);
  return judged;
}

Result<DividerSize> size_sensor_divider(const DividerWish& wish) {
  if (const auto problem = impossible(wish)) return *problem;
  const double ends[] = {wish.law.output(wish.from), wish.law.output(wish.to)};
  const double lowest = std::min(ends[0], ends[1]), highest = std::max(ends[0], ends[1]);
  if (!(lowest > 0) || !std::isfinite(highest))
    return Problem{translated("the sensor has no resistance in this range"), translated("a range where its law holds")};
  DividerSize size{.position = wish.position};
  for (const double ohm : wish.resistors.between(lowest / 100, highest * 100))
    size.candidates.push_back(judge_divider(wish, ohm));

  double best_worst_step = std::numeric_limits<double>::max();
  for (const auto& candidate : size.candidates)
    if (candidate.refused.empty()) best_worst_step = std::min(best_worst_step, candidate.worst_step);
  const DividerCandidate* best = nullptr;
  for (const auto& candidate : size.candidates)
    if (candidate.refused.empty() &&
        (!best || rank(candidate, wish.goal, best_worst_step) < rank(*best, wish.goal, best_worst_step)))
      best = &candidate;
  if (!best) return nothing_serves(size.candidates);
  size.chosen = *best;
  size.chosen_index = static_cast<std::size_t>(best - size.candidates.data());
  size.at_from_v = pin_volts(wish, best->fixed_ohm, ends[0]);
  size.at_to_v = pin_volts(wish, best->fixed_ohm, ends[1]);
  size.assumes = {translated("the converter's reference is the supply of {:g} V; one step is supply ÷ 2^{}",
                             wish.supply_v, wish.bits),
                  translated("the sensor's nominal curve, without lead resistance")};
  if (wish.kelvin_per_watt > 0)
    size.assumes.push_back(translated("self-heating of {:g} K/W, as in still air", wish.kelvin_per_watt));
  return size;
}

double divider_spread(const DividerWish& wish, double fixed_ohm, double tolerance, double value, int trials,
                      std::uint64_t seed) {
  std::mt19937_64 random(seed);
  std::uniform_real_distribution<double> off(-tolerance, tolerance);
  const double ratio_to_fixed = wish.law.output(value) / fixed_ohm;
  std::vector<double> errors(static_cast<std::size_t>(trials));
  for (double& error : errors)
    error = std::abs(wish.law.quantity(ratio_to_fixed / (1 + off(random)) * fixed_ohm) - value);
  std::ranges::sort(errors);
  return errors[errors.size() * 95 / 100];
}

}  // namespace fair_gauge
