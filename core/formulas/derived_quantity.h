// Quantities that follow from one or two others: what the air holds, heights, differences.
#pragma once

#include <functional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "quantity/quantity.h"

namespace fair_gauge {

struct DerivedQuantity {
  std::string id;                             ///< in bench files: "dew-point"
  std::string name;                           ///< "dew point"
  Quantity quantity = Quantity::temperature;  ///< what it is
  std::vector<Quantity> inputs;  ///< one or two quantities; the second may be a number that is typed: a height
  /// Of the inputs, all in base units; not a number where there is none.
  std::function<double(std::span<const double>)> function;
  std::string says;  ///< what it is good for
  /// The same as firmware works it out: symbols and expressions of `a` and `b`, the inputs, the last one the result.
  /// Empty where it has to be searched. \source WMO-No. 8 for what the air holds, good to a few hundredths of a degree
  std::vector<std::pair<std::string, std::string>> steps = {};
  /// It comes together over a day: readings one after another stand for the second input, the time they were seen.
  bool accumulates = false;
};

/// Light that falls in a day, dew and frost point, absolute humidity, vapour-pressure deficit, wet bulb, differences of
/// two pressures and two temperatures, pressure at sea level, height in the standard atmosphere and above another
/// place. \source each of the formulas in air.h
const std::vector<DerivedQuantity>& derived_quantities();

/// The one with this id, or null.
const DerivedQuantity* derived_quantity(std::string_view id);

}  // namespace fair_gauge
