// Two resistors that lower a voltage: before a pin, or to make a reference.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/result.h"
#include "sizing/resistors.h"

namespace fair_gauge {

struct LevelWish {
  double from_v = 5;             ///< full scale before
  double to_v = 3.3;             ///< full scale behind; never exceeded
  double max_source_ohm = 10e3;  ///< that the pin may see
  double input_ohm = 0;          ///< load of the pin, beside the bottom resistor; 0 → none
  ResistorChoice resistors;
};

struct LevelDivider {
  double top_ohm = 0;
  double bottom_ohm = 0;
  double ratio = 0;         ///< bottom ÷ (top + bottom), the pin's load left out
  double loaded_ratio = 0;  ///< with the pin's load
  double ratio_error = 0;   ///< relative, against to ÷ from; at most 0
  double source_ohm = 0;    ///< both in parallel
  double current_a = 0;     ///< at full scale
};

/// The pair whose loaded ratio is nearest below the wanted one; of equal pairs the one with the highest resistance.
/// \returns the best pair first, then the next best, five at most; or why there is none
Result<std::vector<LevelDivider>> size_level_divider(const LevelWish& wish);

struct ReferenceWish {
  double supply_v = 5;
  double supply_tolerance = 0.05;  ///< relative half-width
  double target_v = 2.5;
  double load_ohm = 0;  ///< of the reference pin to ground; 0 → none
  double resistor_tolerance = 0.01;
  double max_source_ohm = 1e3;    ///< of a plain divider
  double shunt_minimum_a = 1e-3;  ///< that a shunt regulator needs to regulate
  double shunt_maximum_a = 100e-3;
  double shunt_tolerance = 0.01;
  ResistorChoice resistors;
};

/// Worst values over supply, resistors and load.
struct ReferenceSource {
  double top_ohm = 0;
  double bottom_ohm = 0;  ///< 0 → none: a shunt regulator holds the voltage
  double nominal_v = 0;
  double lowest_v = 0;
  double highest_v = 0;
  double current_a = 0;        ///< taken from the supply
  double shunt_lowest_a = 0;   ///< through a shunt regulator at the worst corner of supply, resistor and load
  double shunt_highest_a = 0;  ///< the same at the other corner, without the load
};

struct ReferenceSize {
  ReferenceSource divider;
  std::optional<ReferenceSource> shunt;  ///< nothing if the supply may be too low for it
  std::vector<std::string> reasons;
};

Result<ReferenceSize> size_reference(const ReferenceWish& wish);

}  // namespace fair_gauge
