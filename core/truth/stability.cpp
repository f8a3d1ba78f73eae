#include "truth/stability.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

Stability judge_stability(std::span<const double> seconds, std::span<const double> values, double tolerance,
                          double window_s) {
  constexpr int fewest = 8;
  constexpr double part_of_tolerance = 0.1;
  Stability result;
  std::size_t from = seconds.size();
  while (from > 0 && seconds.back() - seconds[from - 1] <= window_s) --from;
  double n = 0, mt = 0, mv = 0;
  for (std::size_t i = from; i < seconds.size(); ++i)
    if (std::isfinite(values[i])) ++n, mt += seconds[i], mv += values[i];
  result.readings = static_cast<int>(n);
  if (n < fewest) {
    result.mean = n > 0 ? mv / n : 0;
    result.words = translated("{} readings yet, {} are needed", result.readings, fewest);
    return result;
  }
  mt /= n, mv /= n;
  double tt = 0, tv = 0;
  for (std::size_t i = from; i < seconds.size(); ++i)
    if (std::isfinite(values[i]))
      tt += (seconds[i] - mt) * (seconds[i] - mt), tv += (seconds[i] - mt) * (values[i] - mv);
  const double slope = tt > 0 ? tv / tt : 0;
  double squares = 0;
  for (std::size_t i = from; i < seconds.size(); ++i)
    if (std::isfinite(values[i])) squares += std::pow(values[i] - mv - slope * (seconds[i] - mt), 2);
  result.mean = mv;
  result.sd = std::sqrt(squares / (n - 2));
  result.standard_error = result.sd / std::sqrt(n);
  result.drift_per_minute = 60 * slope;
  const double span = seconds.back() - seconds[from];
  const double drift = std::abs(slope) * span, by_chance = tt > 0 ? 2 * result.sd / std::sqrt(tt) * span : 0;
  if (span < 0.5 * window_s)
    result.words = translated("watch it for {:.0f} s more", 0.5 * window_s - span);
  else if (drift > part_of_tolerance * tolerance && drift > by_chance)
    result.words = translated("still moving: wait until it stands");
  else
    result.stable = true, result.words = translated("it stands: the point may be taken");
  return result;
}

double neighbour_scatter(std::span<const double> values) {
  if (values.size() < 8) return std::nan("");
  double sum = 0;
  for (std::size_t i = 1; i < values.size(); ++i) sum += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
  return std::sqrt(sum / static_cast<double>(values.size() - 1) / 2);
}

}  // namespace fair_gauge
