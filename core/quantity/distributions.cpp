#include "quantity/distributions.h"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <numbers>

namespace fair_gauge {

double student_quantile(double degrees_of_freedom, double chance) {
  return boost::math::quantile(boost::math::students_t(degrees_of_freedom), chance);
}

double chi_squared_beyond(double degrees_of_freedom, double value) {
  return boost::math::cdf(boost::math::complement(boost::math::chi_squared(degrees_of_freedom), value));
}

double normal_density(double x) { return std::exp(-x * x / 2) / std::sqrt(2 * std::numbers::pi); }
double normal_below(double x) { return std::erfc(-x / std::numbers::sqrt2) / 2; }

}  // namespace fair_gauge
