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

double Link::inverse_continuous(double outer) const { return inverse(outer).value_or(std::nan("")); }

}  // namespace fair_gauge
