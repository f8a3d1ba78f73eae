#include "truth/channel_agreement.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numeric>
#include <optional>

#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr double most_lag_s = 120;
constexpr double seconds_of_mean = 60;
constexpr double scale_is_known = 0.05;  // standard uncertainty of a scale below which it is used

// The mean of the minute that ends there; of readings further apart than that the last one before.
std::optional<double> mean_of_minute(const Series& series, double end) {
  const auto last = std::ranges::upper_bound(series.seconds, end);
  if (last == series.seconds.begin()) return std::nullopt;
  const auto first = std::min(std::ranges::upper_bound(series.seconds, end - seconds_of_mean), std::prev(last));
  const auto at = [&](auto place) { return series.values.begin() + (place - series.seconds.begin()); };
  return std::accumulate(at(first), at(last), 0.0) / static_cast<double>(last - first);
}

}  // namespace

bool may_see_the_same(const Channel& one, const Channel& other) {
  const double low = std::max(one.wanted.from, other.wanted.from), high = std::min(one.wanted.to, other.wanted.to);
  return one.kind == other.kind &&
         high - low >= 0.5 * std::max(one.wanted.to - one.wanted.from, other.wanted.to - other.wanted.from);
}

GroupReading group_reading(const std::vector<ChannelReadings>& channels, bool by_lag) {
  GroupReading group;
  std::vector<std::vector<SourceEffect>> effects;
  const auto first =
      std::ranges::find_if(channels, [](const ChannelReadings& each) { return !each.series.values.empty(); });
  double slowest = 0;
  if (by_lag && first != channels.end())
    for (auto each = std::next(first); each != channels.end(); ++each)
      if (const auto lag = time_lag(first->series, each->series, most_lag_s)) {
        group.lags_seconds[each->chain->channel.id] = *lag;
        slowest = std::max(slowest, *lag);
      }
  for (const auto& [chain, series] : channels) {
    if (series.values.empty()) continue;
    // The slowest at its latest, the others when they saw the same.
    const auto lag = group.lags_seconds.find(chain->channel.id);
    const double ahead = slowest - (lag == group.lags_seconds.end() ? 0 : lag->second);
    const auto mean = mean_of_minute(series, series.seconds.back() - ahead);
    if (!mean) continue;
    const auto budget = error_budget(*chain, *mean);
    if (!budget) continue;
    const Channel& channel = chain->channel;
    group.estimates.push_back({called(channel), *mean - budget->known_bias, budget->combined, budget->lacks_accuracy});
    effects.push_back(source_effects(*chain, *mean));
  }
  group.shared = shared_by(effects);
  return group;
}

PairedReadings paired_readings(const Series& one, const Series& other) {
  PairedReadings pairs;
  for (std::size_t i = 0; i < one.seconds.size(); ++i)
    if (const auto value = value_at(other, one.seconds[i]))
      pairs.one.push_back(one.values[i]), pairs.other.push_back(*value);
  return pairs;
}

Result<AgreeingCorrection> correction_to_agree(const PairedReadings& pairs, const Chain& followed,
                                               const std::string& on) {
  const auto line = fit_two_way(pairs.one, pairs.other);
  if (!line) return line.problem();
  AgreeingCorrection agreeing{.line = *line,
                              .shift = line->offset + (line->scale - 1) * line->origin,
                              .scale_known = line->scale_standard < scale_is_known};
  const auto budget = error_budget(followed, line->offset + line->scale * line->origin);
  if (!budget) return budget.problem();
  Correction& correction = agreeing.correction;
  correction.origin = line->origin;
  correction.coefficients = {agreeing.shift};
  if (agreeing.scale_known) correction.coefficients.push_back(line->scale - 1);
  agreeing.lacks_accuracy = budget->lacks_accuracy;
  if (!agreeing.lacks_accuracy)
    correction.standard_uncertainty =
        std::hypot(budget->combined, line->residual / std::sqrt(static_cast<double>(pairs.one.size())));
  const auto [low, high] = std::ranges::minmax(pairs.one);
  correction.covered = Range{low, high};
  correction.on = on;
  correction.reference = translated("the channel {}", called(followed.channel));
  correction.note = translated("made to agree with {}", called(followed.channel));
  return agreeing;
}

}  // namespace fair_gauge
