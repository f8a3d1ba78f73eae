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

}  // namespace fair_gauge
