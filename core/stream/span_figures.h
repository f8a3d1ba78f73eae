// Figures of a span of a log, and how far two channels lie apart over time.
#pragma once

#include <atomic>
#include <optional>

#include "stream/channel_log.h"

namespace fair_gauge {

/// In the channel's unit; not a number where there are too few readings for it.
struct SpanFigures {
  std::size_t rows = 0;  ///< in the span
  std::size_t good = 0;  ///< of them with a reading
  double mean, minimum, maximum;
  double standard_deviation;         ///< of two or more
  double noise;                      ///< from row to row, drift taken out; of three or more
  double drift_per_hour;             ///< by least squares; of two or more times
  double seconds = 0;                ///< that have a reading: each stands until the next one, before a gap for a period
  double above_s = 0, below_s = 0;   ///< of them
  std::size_t above = 0, below = 0;  ///< stretches of it
};

/// \param from, to   places of rows, the last not included
/// \param limits     a reading at a limit is neither above nor below; in the channel's unit
/// \param cancelled  looked at from time to time; then what was found so far is returned
SpanFigures span_figures(const ChannelLog& log, std::size_t from, std::size_t to, const Range& limits,
                         const std::atomic<bool>* cancelled = nullptr);

/// How far another channel lies above one at this one's times, by the straight line between the other's two readings
/// around them; no reading where these are further apart than a gap. Raw numbers are this one's. Both in order of time.
/// \param scale  the other's unit in this one's: reading · factor + offset
ChannelLog difference_of(const ChannelLog& one, const ChannelLog& other, double factor = 1, double offset = 0);

}  // namespace fair_gauge
