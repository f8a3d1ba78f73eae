#include "chain/link.h"

#include <cmath>

namespace fair_gauge {

double Source::standard() const {
  switch (distribution) {
    case Distribution::rectangular: return width / std::sqrt(3.0);
    case Distribution::triangular: return width / std::sqrt(6.0);
    case Distribution::normal: return width;
  }
  return width;
}

double Link::forward_off(double inner, std::span<const double> /*deviations*/) const {
  return forward(inner).value_or(std::nan(""));
}

double Link::inverse_or_nan(double outer) const { return inverse(outer).value_or(std::nan("")); }

double Link::inverse_continuous(double outer) const { return inverse_or_nan(outer); }

void Link::forward_off_block(std::span<double> values, std::span<const Column> deviations) const {
  std::vector<double> each(deviations.size(), 0.0);
  for (std::size_t t = 0; t < values.size(); ++t) {
    for (std::size_t k = 0; k < deviations.size(); ++k) each[k] = deviations[k][t];
    values[t] = forward_off(values[t], each);
  }
}

void Link::inverse_continuous_block(std::span<double> values) const {
  for (double& value : values) value = inverse_continuous(value);
}

}  // namespace fair_gauge
