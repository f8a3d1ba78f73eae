#include "truth/calibration_nodes.h"

#include <algorithm>

namespace fair_gauge {
namespace {

// The polynomial through the nodes, at `value`: Lagrange's weights.
std::vector<double> polynomial_weights(const std::vector<double>& at, double value) {
  std::vector<double> weights(at.size(), 1.0);
  for (std::size_t i = 0; i < at.size(); ++i)
    for (std::size_t j = 0; j < at.size(); ++j)
      if (i != j) weights[i] *= (value - at[j]) / (at[i] - at[j]);
  return weights;
}

}  // namespace

CalibrationNodes calibration_nodes(const Correction& correction, double value) {
  if (!correction.covered || correction.empty() || correction.standard_uncertainty <= 0) return {};
  const double from = correction.covered->from, to = correction.covered->to;
  CalibrationNodes nodes;
  if (correction.coefficients.empty()) {  // a table: straight between its two nearest points, level beyond
    const auto& table = correction.table;
    const auto above = std::ranges::find_if(table, [&](const auto& row) { return row[0] >= value; });
    if (above == table.begin() || above == table.end())
      return {{above == table.end() ? table.back()[0] : table.front()[0]}, {1}};
    const double low = (*(above - 1))[0], high = (*above)[0], share = (value - low) / (high - low);
    return {{low, high}, {1 - share, share}};
  }
  const std::size_t degrees = correction.coefficients.size();
  const bool proportional = degrees == 2 && correction.coefficients[0] == 0 && !correction.covariance.empty() &&
                            correction.covariance[0][0] == 0;
  if (proportional) {
    const double far = std::abs(to - correction.origin) > std::abs(from - correction.origin) ? to : from;
    return {{far}, {far == correction.origin ? 1 : (value - correction.origin) / (far - correction.origin)}};
  }
  if (degrees == 1 || !(to > from)) return {{(from + to) / 2}, {1}};
  for (std::size_t i = 0; i < degrees; ++i)
    nodes.at.push_back(from + (to - from) * static_cast<double>(i) / static_cast<double>(degrees - 1));
  nodes.weights = polynomial_weights(nodes.at, value);
  return nodes;
}

}  // namespace fair_gauge
