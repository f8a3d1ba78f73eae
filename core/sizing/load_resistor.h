// The resistor that turns a two-level current into a voltage that a comparator or pin can tell apart.
#pragma once

#include <string>
#include <vector>

#include "quantity/result.h"
#include "sizing/resistors.h"

namespace fair_gauge {

struct Between {
  double minimum = 0;
  double maximum = 0;
};

struct LoadWish {
  Between low_a{28e-6, 39e-6};       ///< current of the low level
  Between high_a{112.5e-6, 143e-6};  ///< current of the high level
  Between threshold_v{0.8, 1.4};     ///< of the pin or comparator
  double supply_v = 3.3;
  double headroom_v = 2.15;  ///< that the sensor needs across itself
  ResistorChoice resistors;
};

struct LoadSize {
  double minimum_ohm = 0;      ///< below it the high level may not reach the threshold
  double maximum_ohm = 0;      ///< above it the low level may reach the threshold, or the sensor starves
  double recommended_ohm = 0;  ///< 0 → impossible
  Between low_v;
  Between high_v;
  bool possible = false;
  std::vector<std::string> reasons;  ///< what sets each bound, and what to do where it is impossible
};

Result<LoadSize> size_load_resistor(const LoadWish& wish);

}  // namespace fair_gauge
