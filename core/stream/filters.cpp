#include "stream/filters.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <numbers>
#include <set>

#include "quantity/distributions.h"

namespace fair_gauge {
namespace {

// Standard deviation of the median of an odd count of standard normal values, by the density of the middle one.
double odd_median(std::size_t count) {
  const double k = std::floor(static_cast<double>(count) / 2);
  const double log_ways = std::lgamma(static_cast<double>(count) + 1) - 2 * std::lgamma(k + 1);
  double sum = 0;
  constexpr double step = 0.005;
  for (int i = -1600; i <= 1600; ++i) {
    const double x = i * step;
    const double below = normal_below(x), above = normal_below(-x);
    if (below <= 0 || above <= 0) continue;
    sum += x * x * normal_density(x) * std::exp(log_ways + k * (std::log(below) + std::log(above))) * step;
  }
  return std::sqrt(sum);
}

// Of an even count: the mean of the middle two, by their joint density.
double even_median(std::size_t count) {
  const double k = std::floor(static_cast<double>(count) / 2);
  const double log_ways = std::lgamma(static_cast<double>(count) + 1) - 2 * std::lgamma(k);
  constexpr double step = 0.02;
  std::vector<double> density, below, above;
  for (int i = -350; i <= 350; ++i) {
    density.push_back(normal_density(i * step));
    below.push_back(normal_below(i * step));
    above.push_back(normal_below(-i * step));
  }
  double sum = 0, all = 0;
  for (std::size_t i = 0; i < density.size(); ++i)
    for (std::size_t j = i; j < density.size(); ++j) {
      const double chance = density[i] * density[j] *
                            std::exp(log_ways + (k - 1) * (std::log(below[i]) + std::log(above[j]))) *
                            (i == j ? 0.5 : 1.0);
      const double middle = (static_cast<double>(i + j) / 2 - 350) * step;
      sum += middle * middle * chance;
      all += chance;
    }
  return std::sqrt(sum / all);
}

// The readings of the last rows, in order and by size.
class Window {
 public:
  explicit Window(std::size_t length) : length_(length) {}
  void take(std::size_t row, double value) {
    while (!rows_.empty() && rows_.front().first + length_ <= row) drop();
    if (std::isnan(value)) return;
    rows_.emplace_back(row, value);
    sorted_.insert(value);
    sum_ += value;
  }
  double mean() const { return sum_ / static_cast<double>(rows_.size()); }
  double median() const {
    auto middle = sorted_.begin();
    std::advance(middle, static_cast<std::ptrdiff_t>((sorted_.size() - 1) / 2));
    return sorted_.size() % 2 == 1 ? *middle : (*middle + *std::next(middle)) / 2;
  }

 private:
  void drop() {
    sorted_.erase(sorted_.find(rows_.front().second));
    sum_ -= rows_.front().second;
    rows_.pop_front();
    // Sums that are added to and taken from for hours do not stay exact.
    if (++dropped_ % 4096 != 0) return;
    sum_ = 0;
    for (const auto& [row, value] : rows_) sum_ += value;
  }
  std::size_t length_;
  std::deque<std::pair<std::size_t, double>> rows_;
  std::multiset<double> sorted_;
  double sum_ = 0;
  std::uint64_t dropped_ = 0;
};

// Single rows far off their neighbours on both sides, that the filter brings back.
std::size_t count_spikes(const ChannelLog& log, const Filtered& filtered) {
  if (!(filtered.noise_before > 0)) return 0;
  const double far = 5 * filtered.noise_before;
  std::vector<std::size_t> good;
  for (std::size_t i = 0; i < log.rows.size(); ++i)
    if (log.rows[i].is_good()) good.push_back(i);
  std::size_t spikes = 0;
  const auto at = [&](std::size_t i) { return log.rows[good[i]].reading; };
  for (std::size_t i = 0; i < good.size(); ++i) {
    std::vector<double> beside;
    for (std::size_t k = i < 2 ? 0 : i - 2; k <= i + 2 && k < good.size(); ++k)
      if (k != i) beside.push_back(at(k));
    if (beside.size() < 2) continue;
    std::ranges::sort(beside);
    const double middle = (beside[(beside.size() - 1) / 2] + beside[beside.size() / 2]) / 2;
    const bool alone =
        (i == 0 || std::abs(at(i) - at(i - 1)) > far) && (i + 1 == good.size() || std::abs(at(i) - at(i + 1)) > far);
    if (alone && std::abs(at(i) - middle) > far && std::abs(filtered.values[good[i]] - middle) < far) ++spikes;
  }
  return spikes;
}

}  // namespace

double noise_left(const Filter& filter) {
  if (filter.kind == FilterKind::exponential) return std::sqrt(filter.weight / (2 - filter.weight));
  const auto n = static_cast<double>(filter.length);
  if (filter.kind == FilterKind::mean) return 1 / std::sqrt(n);
  constexpr std::size_t exactly = 400;
  if (filter.length > exactly) return std::sqrt(std::numbers::pi / (2 * n));
  return filter.length % 2 == 1 ? odd_median(filter.length) : even_median(filter.length);
}

Filtered filter_log(const ChannelLog& log, const Filter& filter) {
  Filtered filtered;
  filtered.values.reserve(log.rows.size());
  Window window(filter.length);
  double smooth = std::nan("");
  std::vector<double> differences;
  for (std::size_t i = 0; i < log.rows.size(); ++i) {
    const double x = log.rows[i].reading;
    if (i > 0 && !std::isnan(x) && log.rows[i - 1].is_good()) differences.push_back(x - log.rows[i - 1].reading);
    double y = std::nan("");
    if (filter.kind == FilterKind::exponential) {
      if (!std::isnan(x)) y = smooth = std::isnan(smooth) ? x : smooth + filter.weight * (x - smooth);
    } else {
      window.take(i, x);
      if (!std::isnan(x)) y = filter.kind == FilterKind::mean ? window.mean() : window.median();
    }
    filtered.values.push_back(y);
  }
  filtered.noise_before = noise_of(differences);
  filtered.noise_after = filtered.noise_before * noise_left(filter);
  const double lag = filter.kind == FilterKind::exponential ? (1 - filter.weight) / filter.weight
                                                            : (static_cast<double>(filter.length) - 1) / 2;
  filtered.delay_s = lag * log.period_s;
  filtered.spikes_removed = count_spikes(log, filtered);
  return filtered;
}

}  // namespace fair_gauge
