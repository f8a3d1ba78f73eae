#include "diagnose/touch_test.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr std::array ways = {
    TouchWay{to_translate("warm it by hand"), Quantity::temperature, 1,
             to_translate("Hold the sensor between two fingers, the whole of it."),
             to_translate("Let go, and leave it alone."), to_translate("Not where it may be hot or live: look first."),
             6},
    TouchWay{
        to_translate("cool it with a damp cloth"), Quantity::temperature, -1,
        to_translate("Lay a damp cloth, wrung out, around the sensor; no water on the board."),
        to_translate("Take the cloth away."),
        to_translate(
            "Cold spray and heat guns crack parts and burn hands; steam and hot drinks do not belong beside a board."),
        -4},
    TouchWay{
        to_translate("switch it on cold"), Quantity::temperature, 1,
        to_translate(
            "Leave the board without power for an hour, away from sun. Switch it on and press at the same moment."),
        to_translate("Leave it on."), "", 4, TouchKind::warm_up},
    TouchWay{to_translate("let it work hard"), Quantity::temperature, 1,
             to_translate(
                 "Let it do all that it ever will at once: radio, outputs, display. It must have been on long enough "
                 "before."),
             to_translate("Let it rest again."), to_translate("What gets hot may burn: do not touch it to find out."),
             3, TouchKind::load},
    TouchWay{to_translate("breathe at it"), Quantity::humidity, 1,
             to_translate("Breathe at it slowly from a hand's width."), to_translate("Step back."),
             to_translate("Do not blow into an opening: drops stay inside."), 25},
    TouchWay{to_translate("cover it"), Quantity::illuminance, -1,
             to_translate("Cover it with a hand, close, so that no light comes from the side."),
             to_translate("Take the hand away."), "", -0.9},
    TouchWay{to_translate("shine at it"), Quantity::illuminance, 1, to_translate("Hold a small lamp to it."),
             to_translate("Take the lamp away."),
             to_translate("No sun and no lamp that is made to burn: eyes are quicker hurt than sensors."), 0.8},
    TouchWay{
        to_translate("press the closed hose"), Quantity::pressure, 1,
        to_translate("Close the end of the hose with a finger and squeeze it a little."), to_translate("Let go."),
        to_translate(
            "Never blow into a port with the mouth: it takes more than the part bears, and it is not clean. With an "
            "absolute sensor without a hose carry it down a flight of stairs instead."),
        150},
    TouchWay{to_translate("carry it up"), Quantity::pressure, -1,
             to_translate("Carry it up a flight of stairs: each metre is 12 Pa less."),
             to_translate("Bring it down again."), "", -36},
};

double mean_of(std::span<const TouchReading> readings) {
  double sum = 0;
  for (const TouchReading& each : readings) sum += each.value;
  return readings.empty() ? 0 : sum / static_cast<double>(readings.size());
}

struct Solved {
  double change, squares;
};

// The change that fits best for one time constant, and the squares that are left.
Solved solve(std::span<const TouchReading> after, double begin, double before, double time_constant) {
  double of_shape = 0, of_both = 0;
  const auto shape = [&](const TouchReading& each) { return -std::expm1(-(each.seconds - begin) / time_constant); };
  for (const TouchReading& each : after) {
    of_shape += shape(each) * shape(each);
    of_both += shape(each) * (each.value - before);
  }
  const double change = of_shape > 0 ? of_both / of_shape : 0;
  double squares = 0;
  for (const TouchReading& each : after) {
    const double left = each.value - before - change * shape(each);
    squares += left * left;
  }
  return {change, squares};
}

}  // namespace

std::vector<TouchWay> touch_ways(Quantity quantity, bool warms_itself) {
  std::vector<TouchWay> found;
  for (const TouchWay& way : ways)
    if (way.quantity == quantity && (warms_itself || way.kind == TouchKind::touch)) {
      found.push_back(way);
      for (const char* TouchWay::*text : {&TouchWay::name, &TouchWay::begin, &TouchWay::end, &TouchWay::care})
        found.back().*text = translated(way.*text);
    }
  return found;
}

double StepFit::at(double seconds_since_begin) const {
  return seconds_since_begin <= 0 ? before : before - change * std::expm1(-seconds_since_begin / time_constant_s);
}

std::optional<StepFit> fit_step(std::span<const TouchReading> readings, double begin) {
  const auto first = std::ranges::find_if(readings, [&](const TouchReading& each) { return each.seconds > begin; });
  const auto count = static_cast<std::size_t>(first - readings.begin());
  const auto earlier = readings.first(count), after = readings.subspan(count);
  if (earlier.empty() || after.size() < 4) return std::nullopt;
  const double before = mean_of(earlier), lasted = after.back().seconds - begin;
  const auto [least, most] = std::ranges::minmax(earlier, {}, &TouchReading::value);
  // From the largest to the least, and on at the same pace: a drift goes from the middle of the readings before to the
  // end.
  const double quiet_s = begin - earlier.front().seconds;
  const double by_itself = (most.value - least.value) * (quiet_s > 0 ? std::max(1.5, 1 + lasted / quiet_s) : 1.5);
  // By the logarithm of the time constant: coarse first, then by the golden section around the best.
  const double low = std::log(0.05), high = std::log(std::max(20 * lasted, 0.1));
  const auto left_at = [&](double logarithm) { return solve(after, begin, before, std::exp(logarithm)).squares; };
  constexpr int coarse = 60;
  const double step = (high - low) / coarse;
  int best = 0;
  for (int i = 1; i <= coarse; ++i)
    if (left_at(low + i * step) < left_at(low + best * step)) best = i;
  double from = low + std::max(best - 1, 0) * step, to = low + std::min(best + 1, coarse) * step;
  const double golden = (std::sqrt(5.0) - 1) / 2;
  for (int i = 0; i < 40; ++i) {
    const double a = to - golden * (to - from), b = from + golden * (to - from);
    (left_at(a) < left_at(b) ? to : from) = left_at(a) < left_at(b) ? b : a;
  }
  const double time_constant = std::exp((from + to) / 2);
  const Solved solved = solve(after, begin, before, time_constant);
  return StepFit{before,
                 by_itself,
                 solved.change,
                 time_constant,
                 -std::expm1(-lasted / time_constant),
                 std::sqrt(solved.squares / static_cast<double>(after.size()))};
}

std::vector<Finding> judge_touch(const TouchWay& way, const TouchSubject& subject, const StepFit& rise,
                                 const std::vector<TouchNeighbour>& neighbours, const Unit& unit) {
  std::vector<Finding> findings;
  const auto say = [&](Severity severity, std::string words) { findings.push_back({severity, std::move(words)}); };
  const std::string symbol(difference_symbol(unit));
  const auto amount = [&](double value) {
    const double size = std::abs(value);
    return fmt::format("{:.{}f} {}", size, size >= 100 ? 0 : size >= 10 ? 1 : 2, symbol);
  };
  const double seen = rise.change * rise.reached;
  const double least = std::max({rise.by_itself, 3 * subject.resolution, 1e-12});
  const bool answered = std::abs(seen) >= least;
  if (!answered) {
    say(Severity::fault,
        translated("{} did not answer: it moved by {}, at rest it wanders by as much. Is it this sensor, and is it "
                   "this name?",
                   subject.name, amount(seen)));
  } else if ((seen > 0) != (way.direction > 0)) {
    say(Severity::fault,
        translated("{} went the wrong way, by {}: the fixed resistor is on the other side, two leads are exchanged, "
                   "or the sign of the arithmetic is",
                   subject.name, amount(seen)));
  } else {
    say(Severity::note, translated("{} answers, and the right way: {} {}", subject.name,
                                   seen > 0 ? translated("up by") : translated("down by"), amount(seen)));
  }
  for (const TouchNeighbour& each : neighbours) {
    const double moved = each.fit.change * each.fit.reached;
    if (std::abs(moved) < std::max(each.fit.by_itself, 0.1 * std::abs(seen)) || std::abs(moved) < least) continue;
    if (!answered || std::abs(moved) > std::abs(seen))
      say(Severity::fault,
          translated("{} moved instead, by {}: their names or their wires are exchanged", each.name, amount(moved)));
    else
      say(Severity::warning,
          translated("{} moved with it, by {}: it sits close by, or they share a wire", each.name, amount(moved)));
  }
  if (answered) {
    const std::string time = with_prefix(rise.time_constant_s, "s", 2);
    if (rise.reached < 0.6)
      say(Severity::note, translated("It is still going: after two thirds of it one could tell how fast it is"));
    else if (subject.response_s > 0 && rise.time_constant_s > 3 * subject.response_s)
      say(Severity::warning,
          translated("Its time constant is {}, its sheet has {} in still air: something lies between, or it was held "
                     "loosely",
                     time, with_prefix(subject.response_s, "s", 2)));
    else
      say(Severity::note,
          translated("Its time constant is {}{}", time,
                     subject.response_s > 0 ? translated("; its sheet has {} in still air, a touch is quicker",
                                                         with_prefix(subject.response_s, "s", 2))
                                            : ""));
  }
  std::ranges::stable_sort(findings, std::greater{}, &Finding::severity);
  return findings;
}

}  // namespace fair_gauge
