// A sensor inside a chip warms with the chip: how far it rises after it was switched on, and how fast.
#pragma once

#include <optional>
#include <span>

#include "diagnose/touch_test.h"

namespace fair_gauge {

/// cold + rise · (1 − exp(−(t − begin) / time constant)): all three found, as nothing was read before.
struct WarmUpFit {
  double cold = 0;  ///< when it was switched on
  double rise = 0;  ///< in the end
  double time_constant_s = 0;
  double reached = 0;   ///< share of the rise that was seen, 0…1
  double misfit = 0;    ///< root mean square of what is left
  double standard = 0;  ///< standard uncertainty of rise by that, the time constant taken as found

  double at(double seconds_since_begin) const;
};

/// \param readings  in the order of time \param begin  when it was switched on, on their clock; at least six after it
/// \returns nothing where there are too few; no time constant is shorter than the readings are apart
/// \source linear least squares for each time constant, that by a search over its logarithm
std::optional<WarmUpFit> fit_warm_up(std::span<const TouchReading> readings, double begin);

}  // namespace fair_gauge
