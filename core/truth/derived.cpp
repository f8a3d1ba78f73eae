#include "truth/derived.h"

#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

Result<Derived> propagate(const std::function<double(std::span<const double>)>& function,
                          const std::vector<DerivedInput>& inputs,
                          const std::vector<std::vector<double>>& correlation) {
  std::vector<double> values;
  for (const DerivedInput& input : inputs) values.push_back(input.value);
  Derived derived{.value = function(values)};
  if (!std::isfinite(derived.value))
    return Problem{translated("there is no value for these readings"),
                   translated("readings within the formula's range")};
  for (std::size_t i = 0; i < inputs.size(); ++i) {
    const double step = inputs[i].standard > 0 ? inputs[i].standard : 1e-6 * std::max(1.0, std::abs(inputs[i].value));
    values[i] = inputs[i].value + step;
    const double above = function(values);
    values[i] = inputs[i].value - step;
    const double below = function(values);
    values[i] = inputs[i].value;
    // At the edge of the formula's range one side may be missing.
    const double slope = std::isfinite(above) && std::isfinite(below) ? (above - below) / (2 * step)
                         : std::isfinite(above)                       ? (above - derived.value) / step
                                                                      : (derived.value - below) / step;
    derived.sensitivities.push_back(slope);
    derived.contributions.push_back(std::abs(slope) * inputs[i].standard);
  }
  double variance = 0;
  for (std::size_t i = 0; i < inputs.size(); ++i)
    for (std::size_t j = 0; j < inputs.size(); ++j) {
      const double r = i == j ? 1 : correlation.empty() ? 0 : correlation[i][j];
      if (!(std::abs(r) <= 1)) return Problem{translated("a correlation is beyond one"), translated("−1 to 1")};
      variance += derived.sensitivities[i] * derived.sensitivities[j] * inputs[i].standard * inputs[j].standard * r;
    }
  derived.standard = std::sqrt(std::max(0.0, variance));
  return derived;
}

}  // namespace fair_gauge
