#include "truth/agreement.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "language/translation.h"
#include "quantity/distributions.h"
#include "quantity/least_squares.h"

namespace fair_gauge {
namespace {

constexpr double coverage_95 = 1.959964, doubt = 0.05;

struct Weighted {
  double mean = 0;
  double standard = 0;
  double chi_squared = 0;
};

using Covariance = std::vector<std::vector<double>>;

Covariance covariance_of(const std::vector<Estimate>& estimates, const std::vector<std::vector<double>>& shared) {
  const std::size_t n = estimates.size();
  Covariance all(n, std::vector<double>(n));
  for (std::size_t i = 0; i < n; ++i)
    for (std::size_t j = 0; j < n; ++j) {
      const double most = estimates[i].standard * estimates[j].standard;
      const double common = i < shared.size() && j < shared[i].size() ? shared[i][j] : 0;
      // What two share all of cannot be told apart; a little of each is its own.
      all[i][j] = i == j ? most : std::clamp(common, -0.999 * most, 0.999 * most);
    }
  return all;
}

// Generalised least squares for one number: of all, or of those without one.
Weighted weighted_mean(const std::vector<Estimate>& estimates, const Covariance& covariance,
                       std::optional<std::size_t> without = {}) {
  std::vector<double> values, of_kept;
  for (std::size_t i = 0; i < estimates.size(); ++i) {
    if (i == without) continue;
    values.push_back(estimates[i].value);
    for (std::size_t j = 0; j < estimates.size(); ++j)
      if (j != without) of_kept.push_back(covariance[i][j]);
  }
  const std::size_t n = values.size();
  const auto dot = [](const std::vector<double>& a, const std::vector<double>& b) {
    return std::inner_product(a.begin(), a.end(), b.begin(), 0.0);
  };
  const std::vector<double> weights = least_squares(of_kept, n, std::vector<double>(n, 1.0)).solved;
  const double sum = std::accumulate(weights.begin(), weights.end(), 0.0);
  Weighted result{.mean = dot(weights, values) / sum, .standard = 1 / std::sqrt(sum)};
  std::vector<double> misses = values;
  for (double& miss : misses) miss -= result.mean;
  result.chi_squared = dot(misses, least_squares(of_kept, n, misses).solved);
  return result;
}

double chance_of(double chi_squared, int dof) { return dof < 1 ? 1 : chi_squared_beyond(dof, chi_squared); }

// The one without which the rest holds together, if there is just one such.
std::optional<std::size_t> find_outlier(const std::vector<Estimate>& estimates, const Covariance& covariance) {
  if (estimates.size() < 3) return std::nullopt;
  std::optional<std::size_t> found;
  double best = 0, next = 0;
  for (std::size_t i = 0; i < estimates.size(); ++i) {
    const double chance =
        chance_of(weighted_mean(estimates, covariance, i).chi_squared, static_cast<int>(estimates.size()) - 2);
    if (chance > best) {
      next = best;
      best = chance;
      found = i;
    } else {
      next = std::max(next, chance);
    }
  }
  return best > doubt && next <= doubt ? found : std::nullopt;
}

// Readings at even times within both series.
std::vector<double> resampled(const Series& series, double from, double step, std::size_t count) {
  std::vector<double> values;
  for (std::size_t i = 0; i < count; ++i)
    values.push_back(value_at(series, from + step * static_cast<double>(i)).value_or(std::nan("")));
  return values;
}

double correlation(std::span<const double> a, std::span<const double> b) {
  double n = 0, sum_a = 0, sum_b = 0, aa = 0, bb = 0, ab = 0;
  for (std::size_t i = 0; i < a.size(); ++i) {
    if (!std::isfinite(a[i]) || !std::isfinite(b[i])) continue;
    ++n, sum_a += a[i], sum_b += b[i];
  }
  if (n < 8) return -2;
  for (std::size_t i = 0; i < a.size(); ++i) {
    if (!std::isfinite(a[i]) || !std::isfinite(b[i])) continue;
    const double x = a[i] - sum_a / n, y = b[i] - sum_b / n;
    aa += x * x, bb += y * y, ab += x * y;
  }
  return aa > 0 && bb > 0 ? ab / std::sqrt(aa * bb) : -2;
}

struct Line {
  double scale, offset;
};

Line deming(std::span<const double> x, std::span<const double> y, double ratio,
            std::optional<std::size_t> without = {}) {
  double n = 0, mx = 0, my = 0;
  for (std::size_t i = 0; i < x.size(); ++i)
    if (i != without) ++n, mx += x[i], my += y[i];
  mx /= n, my /= n;
  double xx = 0, yy = 0, xy = 0;
  for (std::size_t i = 0; i < x.size(); ++i)
    if (i != without) xx += (x[i] - mx) * (x[i] - mx), yy += (y[i] - my) * (y[i] - my), xy += (x[i] - mx) * (y[i] - my);
  const double d = yy - ratio * xx;
  const double scale = (d + std::sqrt(d * d + 4 * ratio * xy * xy)) / (2 * xy);
  return {scale, my - scale * mx};
}

}  // namespace

Result<GroupAgreement> compare_estimates(const std::vector<Estimate>& estimates,
                                         const std::vector<std::vector<double>>& shared) {
  if (estimates.size() < 2)
    return Problem{translated("one alone has nothing to agree with"),
                   translated("two sensors or more that see the same")};
  for (const Estimate& each : estimates)
    if (!(each.standard > 0) || !std::isfinite(each.value))
      return Problem{translated("\"{}\" has no uncertainty", each.name),
                     translated("an uncertainty above zero for each")};
  GroupAgreement group;
  const Covariance covariance = covariance_of(estimates, shared);
  for (std::size_t i = 0; i < estimates.size(); ++i)
    for (std::size_t j = i + 1; j < estimates.size(); ++j) {
      PairAgreement pair{i, j, estimates[i].value - estimates[j].value,
                         coverage_95 * std::sqrt(covariance[i][i] + covariance[j][j] - 2 * covariance[i][j])};
      pair.agrees = std::abs(pair.difference) <= pair.expanded;
      pair.is_known = !estimates[i].lacks_accuracy && !estimates[j].lacks_accuracy;
      group.pairs.push_back(pair);
    }
  const Weighted all = weighted_mean(estimates, covariance);
  group.dof = static_cast<int>(estimates.size()) - 1;
  group.chi_squared = all.chi_squared;
  group.probability = chance_of(all.chi_squared, group.dof);
  group.consistent = group.probability > doubt;
  group.reference = all.mean;
  group.reference_standard = all.standard * (group.consistent ? 1 : std::sqrt(all.chi_squared / group.dof));
  if (const auto lacking = std::ranges::find_if(estimates, &Estimate::lacks_accuracy); lacking != estimates.end())
    group.unknown = static_cast<std::size_t>(lacking - estimates.begin());
  if (group.consistent || group.unknown) return group;
  group.outlier = find_outlier(estimates, covariance);
  if (group.outlier) {
    const Weighted rest = weighted_mean(estimates, covariance, group.outlier);
    group.reference = rest.mean;
    group.reference_standard = rest.standard;
    group.outlier_off = estimates[*group.outlier].value - rest.mean;
  }
  return group;
}

std::optional<double> value_at(const Series& series, double seconds) {
  const auto above = std::ranges::upper_bound(series.seconds, seconds);
  if (above == series.seconds.begin() || series.seconds.empty()) return std::nullopt;
  if (above == series.seconds.end())
    return seconds == series.seconds.back() ? std::optional(series.values.back()) : std::nullopt;
  const auto i = static_cast<std::size_t>(above - series.seconds.begin());
  const double share = (seconds - series.seconds[i - 1]) / (series.seconds[i] - series.seconds[i - 1]);
  return series.values[i - 1] + share * (series.values[i] - series.values[i - 1]);
}

std::optional<double> time_lag(const Series& early, const Series& late, double most_s) {
  if (early.seconds.size() < 8 || late.seconds.size() < 8) return std::nullopt;
  const double from = std::max(early.seconds.front(), late.seconds.front()),
               to = std::min(early.seconds.back(), late.seconds.back());
  constexpr std::size_t count = 400;
  if (!(to > from)) return std::nullopt;
  const double step = (to - from) / (count - 1);
  const auto a = resampled(early, from, step, count);
  double best = -2, at = 0;
  std::vector<std::pair<double, double>> tried;
  const int reach = std::min<int>(static_cast<int>(most_s / step), static_cast<int>(count) / 2);
  for (int shift = -reach; shift <= reach; ++shift) {
    const double fit = correlation(a, resampled(late, from + shift * step, step, count));
    tried.emplace_back(shift * step, fit);
    if (fit > best) best = fit, at = shift * step;
  }
  if (best < 0.3) return std::nullopt;
  // Between the steps: the top of the parabola through the best and its neighbours.
  const auto peak = std::ranges::find(tried, best, &std::pair<double, double>::second);
  if (peak == tried.begin() || peak + 1 == tried.end()) return at;
  const double left = (peak - 1)->second, right = (peak + 1)->second, bend = left - 2 * best + right;
  return bend < 0 ? at + step * (left - right) / (2 * bend) : at;
}

Result<TwoWayLine> fit_two_way(std::span<const double> x, std::span<const double> y, double variance_ratio) {
  if (x.size() != y.size() || x.size() < 4)
    return Problem{translated("{} pairs of readings are too few", std::min(x.size(), y.size())),
                   translated("four pairs or more")};
  const auto [low, high] = std::ranges::minmax(x);
  if (!(high > low) || !(variance_ratio > 0))
    return Problem{translated("the readings do not change"),
                   translated("readings over a range, so that a scale can be seen")};
  const Line line = deming(x, y, variance_ratio);
  if (!std::isfinite(line.scale))
    return Problem{translated("the two do not follow one another"), translated("sensors that see the same")};
  TwoWayLine fit{.scale = line.scale, .offset = line.offset};
  const auto n = static_cast<double>(x.size());
  fit.origin = std::accumulate(x.begin(), x.end(), 0.0) / n;
  double scale_sum = 0, offset_sum = 0, squares = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    const Line without = deming(x, y, variance_ratio, i);
    scale_sum += std::pow(without.scale - line.scale, 2);
    offset_sum += std::pow(without.offset - line.offset, 2);
    squares += std::pow(y[i] - line.offset - line.scale * x[i], 2);
  }
  fit.scale_standard = std::sqrt(scale_sum * (n - 1) / n);
  fit.offset_standard = std::sqrt(offset_sum * (n - 1) / n);
  fit.residual = std::sqrt(squares / (n - 2));
  return fit;
}

}  // namespace fair_gauge
