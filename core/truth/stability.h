// When a reading has settled enough to be taken as a calibration point.
#pragma once

#include <span>
#include <string>

namespace fair_gauge {

struct Stability {
  int readings = 0;
  double mean = 0;
  double sd = 0;                ///< of single readings about their trend
  double standard_error = 0;    ///< of the mean
  double drift_per_minute = 0;  ///< slope of the trend
  bool stable = false;
  std::string words;  ///< why not yet, or that it may be taken
};

/// \param seconds, values  of one length, ascending in time; the newest `window_s` count
/// \param tolerance        the channel's allowed error: the drift within the window must stay below a tenth of it
Stability judge_stability(std::span<const double> seconds, std::span<const double> values, double tolerance,
                          double window_s = 60);

/// Of readings that go on: the longest stretch up to the newest that stands, as after the sensor was put into another
/// bath. It counts once it is half a window long; its drift over a whole one must stay below a tenth of the tolerance,
/// or within chance, and neither its first half nor its newest readings may lie off as the others do not scatter. Where
/// nothing stands yet the figures are those of the newest readings.
Stability judge_latest(std::span<const double> seconds, std::span<const double> values, double tolerance,
                       double window_s = 60);

/// Standard deviation of the scatter from one reading to the next, free of slow change; not a number of fewer than 8.
/// \source half the mean square of successive differences (von Neumann)
double neighbour_scatter(std::span<const double> values);

}  // namespace fair_gauge
