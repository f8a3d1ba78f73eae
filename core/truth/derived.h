// Quantities that follow from several readings, with their uncertainty; readings that share an error are off together.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

struct DerivedInput {
  std::string name;
  double value = 0;     ///< base units
  double standard = 0;  ///< standard uncertainty
};

struct Derived {
  double value = 0;
  double standard = 0;
  std::vector<double> sensitivities;  ///< by each input
  std::vector<double> contributions;  ///< |sensitivity| · standard
};

/// \param correlation  of each pair, square; empty → none
/// \returns the value with its uncertainty; a problem where the function has no value or a correlation is beyond ±1
/// \source JCGM 100:2008, 5.2.2, equation 16
Result<Derived> propagate(const std::function<double(std::span<const double>)>& function,
                          const std::vector<DerivedInput>& inputs,
                          const std::vector<std::vector<double>>& correlation = {});

/// What can be worked out from temperature and humidity, or from two pressures.
struct DerivedQuantity {
  std::string name;
  std::string unit;    ///< symbol
  std::string inputs;  ///< "temperature humidity", "pressure pressure", …
  std::function<double(std::span<const double>)> function;
  std::string says;  ///< what it is good for
};
/// Dew and frost point, absolute humidity, vapour-pressure deficit, wet bulb, gauge pressure, altitude, sea-level
/// pressure.
const std::vector<DerivedQuantity>& derived_quantities();

}  // namespace fair_gauge
