#include "diagnose/warm_up.h"

#include <algorithm>
#include <cmath>

namespace fair_gauge {
namespace {

// The line of readings over 1 − exp(−t/τ): where it begins, how far it rises, what is left of squares.
WarmUpFit line_for(std::span<const TouchReading> after, double begin, double time_constant) {
  const auto n = static_cast<double>(after.size());
  double of_x = 0, of_y = 0, of_xx = 0, of_xy = 0;
  const auto x_of = [&](const TouchReading& each) { return -std::expm1(-(each.seconds - begin) / time_constant); };
  for (const TouchReading& each : after) {
    const double x = x_of(each);
    of_x += x, of_y += each.value, of_xx += x * x, of_xy += x * each.value;
  }
  const double spread = of_xx - of_x * of_x / n;
  WarmUpFit fit{.time_constant_s = time_constant};
  fit.rise = spread > 1e-12 ? (of_xy - of_x * of_y / n) / spread : 0;
  fit.cold = (of_y - fit.rise * of_x) / n;
  double squares = 0;
  for (const TouchReading& each : after) squares += std::pow(each.value - fit.cold - fit.rise * x_of(each), 2);
  fit.misfit = std::sqrt(squares / n);
  if (n > 3 && spread > 1e-12) fit.standard = std::sqrt(squares / (n - 3) / spread);
  return fit;
}

}  // namespace

double WarmUpFit::at(double seconds_since_begin) const {
  return cold - rise * std::expm1(-std::max(0.0, seconds_since_begin) / time_constant_s);
}

std::optional<WarmUpFit> fit_warm_up(std::span<const TouchReading> readings, double begin) {
  const auto first = std::ranges::find_if(readings, [&](const TouchReading& each) { return each.seconds >= begin; });
  const auto after = readings.subspan(static_cast<std::size_t>(first - readings.begin()));
  if (after.size() < 6) return std::nullopt;
  const double lasted = after.back().seconds - begin;
  if (!(lasted > 0)) return std::nullopt;
  // Slower than three times what was seen it is a straight line, and its end is anybody's guess; quicker than its
  // readings come it would be one reading's noise.
  const double apart = lasted / static_cast<double>(after.size() - 1);
  const double low = std::log(std::max({lasted / 200, apart, 0.05})), high = std::log(std::max(3 * lasted, 0.1));
  constexpr int coarse = 80;
  const auto at = [&](double logarithm) { return line_for(after, begin, std::exp(logarithm)); };
  double best = low;
  for (int i = 1; i <= coarse; ++i) {
    const double tried = low + (high - low) * i / coarse;
    if (at(tried).misfit < at(best).misfit) best = tried;
  }
  double left = std::max(low, best - (high - low) / coarse), right = std::min(high, best + (high - low) / coarse);
  constexpr double golden = 0.6180339887498949;
  for (int i = 0; i < 60; ++i) {
    const double one = right - golden * (right - left), other = left + golden * (right - left);
    (at(one).misfit < at(other).misfit ? right : left) = at(one).misfit < at(other).misfit ? other : one;
  }
  WarmUpFit fit = at((left + right) / 2);
  fit.reached = -std::expm1(-lasted / fit.time_constant_s);
  return fit;
}

}  // namespace fair_gauge
