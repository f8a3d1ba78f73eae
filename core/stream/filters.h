// Filters tried on the readings of a log: what they leave of the noise, and what they cost in delay.
#pragma once

#include <vector>

#include "stream/channel_log.h"

namespace fair_gauge {

struct Filter {
  FilterKind kind = FilterKind::mean;
  std::size_t length = 1;  ///< rows of the window, of mean and median
  double weight = 1;       ///< of a new reading, above 0 to 1, of exponential: y += weight · (x − y)
};

struct Filtered {
  std::vector<double> values;  ///< one for each row of the log; not a number where the row has no reading
  double noise_before = 0;     ///< in the log's unit
  double noise_after = 0;      ///< what the filter leaves of white noise as large
  double delay_s = 0;          ///< by which a ramp lags behind
  std::size_t spikes_removed = 0;
};

/// What a filter leaves of white noise, as a share.
/// \source mean 1/√N; exponential √(w ÷ (2 − w)); median by the order statistics of the normal distribution: of 3
/// 0.6698, of 5 0.5356
double noise_left(const Filter& filter);

/// The window is the last rows of the log, fewer at its start; rows without a reading are left out of it.
Filtered filter_log(const ChannelLog& log, const Filter& filter);

}  // namespace fair_gauge
