#include "stream/span_figures.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fair_gauge {

SpanFigures span_figures(const ChannelLog& log, std::size_t from, std::size_t to, const Range& limits,
                         const std::atomic<bool>* cancelled) {
  constexpr double none = std::numeric_limits<double>::quiet_NaN();
  constexpr std::size_t look_every = 1u << 16;
  const auto& rows = log.rows;
  to = std::min(to, rows.size());
  SpanFigures figures{.rows = to - std::min(from, to),
                      .mean = none,
                      .minimum = none,
                      .maximum = none,
                      .standard_deviation = none,
                      .noise = none,
                      .drift_per_hour = none};
  // Sums about the first reading and its time, which keeps them small.
  double first = none, first_time = none, n = 0, sum = 0, squares = 0;
  double timed = 0, time_sum = 0, time_squares = 0, time_value = 0, timed_sum = 0;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  std::vector<double> differences;
  differences.reserve(figures.rows);
  int side = 0;
  for (std::size_t i = from; i < to; ++i) {
    if (cancelled && i % look_every == 0 && *cancelled) break;
    const LogReading& row = rows[i];
    if (!row.is_good()) {
      side = 0;
      continue;
    }
    if (n == 0) first = row.reading;
    const double value = row.reading - first;
    ++n, sum += value, squares += value * value;
    low = std::min(low, row.reading), high = std::max(high, row.reading);
    if (i > from && rows[i - 1].is_good()) differences.push_back(row.reading - rows[i - 1].reading);
    if (row.is_timed && std::isfinite(row.seconds)) {
      if (timed == 0) first_time = row.seconds;
      const double at = row.seconds - first_time;
      ++timed, time_sum += at, timed_sum += value, time_squares += at * at, time_value += at * value;
      const double until = i + 1 < to ? rows[i + 1].seconds - row.seconds : log.period_s;
      const double stands = until >= 0 && until <= gap_periods * log.period_s ? until : log.period_s;
      figures.seconds += stands;
      const int now = row.reading > limits.to ? 1 : row.reading < limits.from ? -1 : 0;
      if (now > 0) figures.above_s += stands, figures.above += side > 0 ? 0 : 1;
      if (now < 0) figures.below_s += stands, figures.below += side < 0 ? 0 : 1;
      side = now;
    }
  }
  figures.good = static_cast<std::size_t>(n);
  if (n == 0) return figures;
  figures.mean = first + sum / n, figures.minimum = low, figures.maximum = high;
  if (n > 1) figures.standard_deviation = std::sqrt(std::max(0.0, squares - sum * sum / n) / (n - 1));
  const double tt = timed > 1 ? time_squares - time_sum * time_sum / timed : 0;
  if (tt > 0) figures.drift_per_hour = (time_value - time_sum * timed_sum / timed) / tt * 3600;
  if (differences.size() > 1) figures.noise = noise_of(differences);
  return figures;
}

ChannelLog difference_of(const ChannelLog& one, const ChannelLog& other, double factor, double offset) {
  ChannelLog difference = one;
  const double gap = gap_periods * std::max(one.period_s, other.period_s);
  const auto& theirs = other.rows;
  std::size_t next = 0;  // the first of theirs that is later
  for (LogReading& row : difference.rows) {
    while (next < theirs.size() && !(theirs[next].seconds > row.seconds)) ++next;
    double value = std::numeric_limits<double>::quiet_NaN();
    if (next > 0) {
      const LogReading& before = theirs[next - 1];
      const bool is_last = next == theirs.size();
      if (before.seconds == row.seconds || (is_last && row.seconds - before.seconds <= other.period_s)) {
        value = before.reading;  // of this moment, or the latest, which still stands
      } else if (!is_last && theirs[next].seconds - before.seconds <= gap) {
        const double share = (row.seconds - before.seconds) / (theirs[next].seconds - before.seconds);
        value = before.reading + share * (theirs[next].reading - before.reading);
      }
    }
    row.reading = value * factor + offset - row.reading;
  }
  return difference;
}

}  // namespace fair_gauge
