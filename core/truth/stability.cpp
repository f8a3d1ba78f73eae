#include "truth/stability.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr std::size_t fewest = 8;
constexpr double part_of_tolerance = 0.1;

// Readings without gaps.
struct Stretch {
  std::vector<double> seconds, values;

  double span() const { return seconds.empty() ? 0 : seconds.back() - seconds.front(); }
  Stretch last(double length) const {
    Stretch tail;
    for (std::size_t i = 0; i < seconds.size(); ++i)
      if (seconds.back() - seconds[i] <= length) tail.seconds.push_back(seconds[i]), tail.values.push_back(values[i]);
    return tail;
  }
};

struct Trend {
  double mean = 0, mean_s = 0, slope = 0;
  double sd = 0;         // about it
  double by_chance = 0;  // the slope that scatter alone makes, twice its standard deviation

  double at(double seconds) const { return mean + slope * (seconds - mean_s); }
};

// At least three readings.
Trend trend_of(const Stretch& some) {
  Trend line;
  const double n = static_cast<double>(some.values.size());
  for (std::size_t i = 0; i < some.values.size(); ++i)
    line.mean_s += some.seconds[i] / n, line.mean += some.values[i] / n;
  double tt = 0, tv = 0, squares = 0;
  for (std::size_t i = 0; i < some.values.size(); ++i) {
    const double t = some.seconds[i] - line.mean_s;
    tt += t * t, tv += t * (some.values[i] - line.mean);
  }
  line.slope = tt > 0 ? tv / tt : 0;
  for (std::size_t i = 0; i < some.values.size(); ++i)
    squares += std::pow(some.values[i] - line.at(some.seconds[i]), 2);
  line.sd = std::sqrt(squares / (n - 2));
  line.by_chance = tt > 0 ? 2 * line.sd / std::sqrt(tt) : 0;
  return line;
}

// Readings of before it stood, or of after it was moved on, lie off the most of them as nothing between does. What a
// converter cannot tell apart is no such step.
bool has_ends_elsewhere(const Stretch& some, double tolerance) {
  constexpr double off = 6, sd_of_normal = 1.4826;  // of the median deviation
  constexpr std::size_t newest = 3;
  const auto median = [](std::vector<double> all) {
    const auto middle = all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2);
    std::ranges::nth_element(all, middle);
    return *middle;
  };
  const double most_are = median(some.values);
  std::vector<double> away, sorted = some.values;
  for (const double value : some.values) away.push_back(std::abs(value - most_are));
  std::ranges::sort(sorted);
  double step = std::numeric_limits<double>::infinity();
  for (std::size_t i = 1; i < sorted.size(); ++i)
    if (sorted[i] > sorted[i - 1]) step = std::min(step, sorted[i] - sorted[i - 1]);
  if (!std::isfinite(step)) return false;
  const double most = std::max({off * sd_of_normal * median(away), part_of_tolerance * tolerance, 1.5 * step});
  for (std::size_t i = 0; i < away.size(); ++i)
    if ((i < away.size() / 2 || i + newest >= away.size()) && away[i] > most) return true;
  return false;
}

Stability figures_of(const Stretch& some) {
  const Trend line = trend_of(some);
  return {.readings = static_cast<int>(some.values.size()),
          .mean = line.mean,
          .sd = line.sd,
          .standard_error = line.sd / std::sqrt(static_cast<double>(some.values.size())),
          .drift_per_minute = 60 * line.slope};
}

Stretch newest(std::span<const double> seconds, std::span<const double> values, double window_s) {
  Stretch some;
  for (std::size_t i = 0; i < seconds.size(); ++i)
    if (std::isfinite(values[i]) && seconds.back() - seconds[i] <= window_s)
      some.seconds.push_back(seconds[i]), some.values.push_back(values[i]);
  return some;
}

Stability too_few(const Stretch& some) {
  Stability result{.readings = static_cast<int>(some.values.size())};
  for (const double value : some.values) result.mean += value / static_cast<double>(some.values.size());
  result.words = translated("{} readings yet, {} are needed", result.readings, fewest);
  return result;
}

}  // namespace

Stability judge_stability(std::span<const double> seconds, std::span<const double> values, double tolerance,
                          double window_s) {
  const Stretch some = newest(seconds, values, window_s);
  if (some.values.size() < fewest) return too_few(some);
  const Trend line = trend_of(some);
  Stability result = figures_of(some);
  const double span = some.span(), drift = std::abs(line.slope) * span;
  if (span < 0.5 * window_s)
    result.words = translated("watch it for {:.0f} s more", 0.5 * window_s - span);
  else if (drift > part_of_tolerance * tolerance && drift > line.by_chance * span)
    result.words = translated("still moving: wait until it stands");
  else
    result.stable = true, result.words = translated("it stands: the point may be taken");
  return result;
}

Stability judge_latest(std::span<const double> seconds, std::span<const double> values, double tolerance,
                       double window_s) {
  constexpr double shorter = 0.85;
  Stretch some = newest(seconds, values, window_s);
  if (some.values.size() < fewest) return too_few(some);
  for (Stretch tail = some; tail.values.size() >= fewest && tail.span() > 0; tail = tail.last(shorter * tail.span())) {
    const Trend line = trend_of(tail);
    const double drift = std::abs(line.slope) * window_s;
    const bool moves = drift > part_of_tolerance * tolerance && std::abs(line.slope) > line.by_chance;
    if (moves || has_ends_elsewhere(tail, tolerance)) continue;
    Stability result = figures_of(tail);
    const double lacks = 0.5 * window_s - tail.span();
    result.stable = lacks <= 0;
    result.words = result.stable ? translated("it stands: the point may be taken")
                   : tail.values.size() == some.values.size()
                       ? translated("watch it for {:.0f} s more", lacks)
                       : translated("it stands for {:.0f} s: watch it for {:.0f} s more", tail.span(), lacks);
    return result;
  }
  some.seconds.erase(some.seconds.begin(), some.seconds.end() - fewest);
  some.values.erase(some.values.begin(), some.values.end() - fewest);
  Stability result = figures_of(some);
  result.words = translated("still moving: wait until it stands");
  return result;
}

double neighbour_scatter(std::span<const double> values) {
  if (values.size() < 8) return std::nan("");
  double sum = 0;
  for (std::size_t i = 1; i < values.size(); ++i) sum += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
  return std::sqrt(sum / static_cast<double>(values.size() - 1) / 2);
}

}  // namespace fair_gauge
