#include "digital/alarm.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

Result<AlarmRules> alarm_rules(const ByteLayout& layout, const AlarmLayout& alarm, std::span<const unsigned> values,
                               const std::map<std::string, double>& settings) {
  AlarmRules rules{.whole = alarm.whole,
                   .upper_includes = alarm.equality == AlarmEquality::upper || alarm.equality == AlarmEquality::both,
                   .lower_includes = alarm.equality == AlarmEquality::both};
  std::optional<Problem> fault;
  const auto number = [&](const std::string& expression, double usual) {
    if (expression.empty() || fault) return usual;
    const auto value = value_by_registers(layout, values, expression, settings);
    if (!value) fault = value.problem();
    return value ? *value : usual;
  };
  rules.is_on = number(alarm.on, 1) != 0;
  rules.window = number(alarm.window, 0) != 0;
  rules.latched = number(alarm.latched, 0) != 0;
  rules.interrupt = number(alarm.interrupt, 0) != 0;
  rules.active_high = number(alarm.active_high, 0) != 0;
  rules.faults = std::max(1, static_cast<int>(std::lround(std::clamp(number(alarm.faults, 1), 1.0, 1000.0))));
  rules.hysteresis = number(alarm.hysteresis, 0);
  if (fault) return *fault;
  return rules;
}

AlarmSide PartAlarm::wanted_side(double compared) const {
  using enum AlarmSide;
  const double value = rules_.whole > 0 ? std::floor(compared / rules_.whole) * rules_.whole : compared;
  const auto over = [&](double limit) { return rules_.upper_includes ? value >= limit : value > limit; };
  const auto under = [&](double limit) { return rules_.lower_includes ? value <= limit : value < limit; };
  if (!rules_.window) {
    if (!limits_.upper) return inside;
    if (side_ != above) return over(*limits_.upper) ? above : inside;
    return value < limits_.lower.value_or(*limits_.upper) ? inside : above;
  }
  if (limits_.upper && (over(*limits_.upper) ||
                        (side_ == above && value >= *limits_.upper - rules_.hysteresis && rules_.hysteresis > 0)))
    return above;
  if (limits_.lower && (under(*limits_.lower - rules_.hysteresis) || (side_ == below && under(*limits_.lower))))
    return below;
  return inside;
}

void PartAlarm::take(double compared) {
  if (!rules_.is_on || !std::isfinite(compared)) return;
  const AlarmSide wanted = wanted_side(compared);
  in_a_row_ = wanted == next_ ? std::min(in_a_row_ + 1, rules_.faults) : 1;
  next_ = wanted;
  // Back inside its window it is at once; a thermostat takes as long to release as to trip.
  const bool at_once = rules_.window && wanted == AlarmSide::inside;
  const bool changes = wanted != side_ && (at_once || in_a_row_ >= rules_.faults);
  if (changes) side_ = wanted;
  if (rules_.interrupt)
    asserted_ = asserted_ || changes;
  else if (rules_.latched)
    asserted_ = asserted_ || (side_ != AlarmSide::inside && (rules_.window || changes));
  else
    asserted_ = side_ != AlarmSide::inside;
}

void PartAlarm::clear() {
  if (rules_.waits_for_a_read()) asserted_ = false;
}

AlarmCourse run_alarm(const AlarmRules& rules, const AlarmLimits& limits, std::span<const double> compared,
                      std::span<const std::size_t> reads) {
  PartAlarm alarm(rules, limits);
  AlarmCourse course;
  course.asserted.reserve(compared.size());
  bool was = false;
  const auto note = [&](std::size_t reading, bool by_a_read) {
    if (alarm.is_asserted() == was) return;
    was = alarm.is_asserted();
    course.events.push_back({reading, was, by_a_read, alarm.side()});
  };
  auto read = reads.begin();
  const auto ask_until = [&](std::size_t i) {
    for (; read != reads.end() && *read <= i; ++read) {
      alarm.clear();
      note(i > 0 ? i - 1 : 0, true);
    }
  };
  for (std::size_t i = 0; i < compared.size(); ++i) {
    ask_until(i);
    alarm.take(compared[i]);
    note(i, false);
    course.asserted.push_back(alarm.is_asserted());
  }
  ask_until(compared.size());
  if (!course.asserted.empty()) course.asserted.back() = alarm.is_asserted();
  course.side = alarm.side();
  course.is_asserted = alarm.is_asserted();
  return course;
}

std::string words_of(const AlarmRules& rules, const AlarmLayout& alarm, std::string_view unit) {
  if (!rules.is_on) return translated("Its comparing is off, by its registers.");
  std::string words = rules.window ? translated("Trips above the upper limit and below the lower one")
                                   : translated("Trips above the upper limit and is released below the lower one");
  if (rules.upper_includes)
    words += rules.lower_includes ? translated(", the limits included") : translated(", the upper limit included");
  if (rules.faults > 1) words += translated(", after {} readings in a row", rules.faults);
  if (rules.hysteresis > 0) words += translated(", {:g} {} later on the way down", rules.hysteresis, unit);
  if (rules.whole > 0) words += translated("; the reading is cut to steps of {:g} {} first", rules.whole, unit);
  words += ". ";
  words += alarm.pin.empty() ? alarm.tells
                             : translated("Pin {} is {} then", alarm.pin,
                                          rules.active_high ? translated("let go (high)") : translated("pulled low"));
  if (rules.interrupt)
    words += translated(", at every change of side, until {}", alarm.cleared_by);
  else if (rules.latched)
    words += translated(", until {}", alarm.cleared_by);
  else
    words += translated(", as long as it lasts");
  return words + ".";
}

}  // namespace fair_gauge
