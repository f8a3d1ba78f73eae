#include "stream/simulated_room.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"
#include "sim/environment.h"

namespace fair_gauge {
namespace {

constexpr double day_s = 86'400;

// Towards its end with its own time constant.
double after(double now, double end, double seconds, double time_constant) {
  return time_constant > 0 ? end + (now - end) * std::exp(-seconds / time_constant) : end;
}

struct Line {
  double end, start, squares;
};

// Readings as end + (start − end) · exp(−t / time constant): linear in both for one time constant.
Line fit_line(std::span<const std::pair<double, double>> readings, double time_constant) {
  double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0;
  for (const auto& [seconds, value] : readings) {
    const double x = std::exp(-(seconds - readings.front().first) / time_constant);
    n += 1, sx += x, sy += value, sxx += x * x, sxy += x * value;
  }
  const double spread = n * sxx - sx * sx;
  const double slope = spread > 0 ? (n * sxy - sx * sy) / spread : 0, end = (sy - slope * sx) / n;
  double squares = 0;
  for (const auto& [seconds, value] : readings) {
    const double left = value - end - slope * std::exp(-(seconds - readings.front().first) / time_constant);
    squares += left * left;
  }
  return {end, end + slope, squares};
}

}  // namespace

Result<RoomRun> run_in_room(const Chain& chain, const SwitchRule& rule, const SwitchedRoom& room,
                            const Range& plausible, double lag_s, double hours, std::uint64_t seed,
                            const std::atomic<bool>* cancelled) {
  if (chain.channel.quantity != Quantity::temperature || chain.derived)
    return Problem{translated("a room is simulated for a temperature alone"),
                   translated("a channel that measures a temperature")};
  if (!(room.mass_j_per_k > 0) || !(room.loss_w_per_k > 0))
    return Problem{translated("the room has no thermal mass or loses no heat"),
                   translated("joules and watts for each kelvin, more than 0")};
  if (!(hours >= 0.01 && hours <= 240))
    return Problem{translated("{:g} hours", hours), translated("0.01 to 240 hours")};
  const double period = std::max(chain.channel.period_s, hours * 3600 / 200'000);
  const double room_constant = room.mass_j_per_k / room.loss_w_per_k;
  const double push = (rule.heats ? 1 : -1) * room.power_w / room.loss_w_per_k;
  RoomRun run;
  SimulatedDevice device(chain, seed);
  SwitchOver over(rule, plausible, period);
  double air = room.outside, sensor = room.outside;
  const Unit& shown = *chain.shown;
  const auto goal_at = [&](double seconds) { return shown.to_base(rule.goal_at(seconds)); };
  const auto rows = static_cast<std::uint32_t>(hours * 3600 / period) + 1;
  bool there = false;
  double highest = 0, lowest = 0;
  for (std::uint32_t i = 0; i < rows && !(cancelled && *cancelled); ++i) {
    const double now = i * period;
    if (i > 0) {
      const double end = room.outside + (over.is_on() ? push : 0), before = air;
      air = after(air, end, period, room_constant);
      sensor = after(sensor, (before + air) / 2, period, lag_s);
    }
    const double raw = device.answer(sensor);
    const auto reading = read_raw(chain, raw);
    run.log.rows.push_back(
        {.row = i + 1, .seconds = now, .raw = raw, .reading = reading ? shown.from_base(*reading) : std::nan("")});
    run.truth.push_back(shown.from_base(air));
    over.look(run.log.rows.back());
    const double away = air - goal_at(now);
    there = there || (rule.heats ? away >= 0 : away <= 0);
    if (there) highest = std::max(highest, away), lowest = std::min(lowest, away);
  }
  run.log.all_rows = run.log.rows.size();
  run.log.has_time = true;
  run.log.period_s = period;
  run.switched = over.result();
  run.switches_a_day = static_cast<double>(run.switched.switches) * day_s / (hours * 3600);
  run.reaches_goal = there;
  run.over = highest / shown.scale;
  run.under = -lowest / shown.scale;
  return run;
}

std::optional<SwitchedRoom> room_of_step(std::span<const std::pair<double, double>> readings, double power_w,
                                         bool heats) {
  if (readings.size() < 5 || !(power_w > 0)) return std::nullopt;
  const double lasted = readings.back().first - readings.front().first;
  if (!(lasted > 0)) return std::nullopt;
  // By the logarithm of the time constant, coarse and then around the best.
  double low = std::log(lasted / 100), high = std::log(lasted * 20), best = low;
  for (int round = 0; round < 4; ++round) {
    constexpr int steps = 40;
    const double step = (high - low) / steps;
    for (int i = 0; i <= steps; ++i)
      if (fit_line(readings, std::exp(low + i * step)).squares < fit_line(readings, std::exp(best)).squares)
        best = low + i * step;
    low = best - step, high = best + step;
  }
  const Line line = fit_line(readings, std::exp(best));
  const double change = line.end - line.start;
  if (!(std::abs(change) > 0) || (change > 0) != heats) return std::nullopt;
  const double loss = power_w / std::abs(change);
  return SwitchedRoom{
      .outside = line.start, .power_w = power_w, .loss_w_per_k = loss, .mass_j_per_k = std::exp(best) * loss};
}

std::vector<std::string> room_words(const RoomRun& run, const SwitchRule& rule, const SwitchedRoom& room,
                                    std::string_view unit) {
  std::vector<std::string> words;
  const char* what = rule.heats ? translated("heater") : translated("cooler");
  if (!run.reaches_goal) {
    words.push_back(
        translated("the {} does not bring the room to the goal: {} against a loss of {:.3g} W/K are {:.3g} "
                   "K",
                   what, with_prefix(room.power_w, "W", 3), room.loss_w_per_k, room.power_w / room.loss_w_per_k));
    return words;
  }
  words.push_back(translated("the room swings from {:.2g} {} below the goal to {:.2g} {} above it", run.under, unit,
                             run.over, unit));
  words.push_back(translated("{:.0f} changes a day, on for {:.0f} % of the time, at the longest for {}",
                             run.switches_a_day, run.switched.share_on * 100,
                             duration_text(run.switched.longest_on_s)));
  const double beyond = std::max(run.over, run.under);
  if (rule.band > 0 && beyond > 2 * rule.band)
    words.push_back(
        translated("it goes beyond the band of ±{:.3g}: the sensor follows slowly, or the {} is strong for "
                   "this room",
                   rule.band, what));
  constexpr double many = 200;
  if (run.switches_a_day > many)
    words.push_back(translated("a relay of 100 000 changes would last {:.0f} days: a wider band, or minimum times",
                               100'000 / run.switches_a_day));
  return words;
}

}  // namespace fair_gauge
