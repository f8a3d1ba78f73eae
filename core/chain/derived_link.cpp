#include "chain/derived_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "language/translation.h"

namespace fair_gauge {
namespace {

// Where a function that changes its sign between two places is nothing: the Illinois form of the false position, which
// needs a dozen values where halving needs fifty.
double root_between(const auto& function, double low, double high) {
  double at_low = function(low), at_high = function(high);
  for (int step = 0, side = 0; step < 100 && std::abs(high - low) > 1e-12 * (1 + std::abs(high)); ++step) {
    const double middle = at_high == at_low ? (low + high) / 2 : (low * at_high - high * at_low) / (at_high - at_low);
    const double there = function(middle);
    if (!std::isfinite(there)) return std::nan("");
    if (there == 0) return middle;
    if (there * at_high > 0) {
      high = middle, at_high = there;
      if (side == -1) at_low /= 2;
      side = -1;
    } else {
      low = middle, at_low = there;
      if (side == 1) at_high /= 2;
      side = 1;
    }
    if (std::abs(there) < 1e-13 * (std::abs(at_low) + std::abs(at_high))) return middle;
  }
  return std::abs(at_low) < std::abs(at_high) ? low : high;
}

double slope_of(const auto& function, double at) {
  const double step = 1e-4 * std::max(1.0, std::abs(at));
  const double above = function(at + step), below = function(at - step);
  if (std::isfinite(above) && std::isfinite(below)) return (above - below) / (2 * step);
  // At the edge of the formula's range one side is missing.
  return std::isfinite(above) ? (above - function(at)) / step : (function(at) - below) / step;
}

}  // namespace

double DerivedLink::at(double first, double beside) const {
  return setup_.quantity->function(std::array{first, beside});
}
double DerivedLink::slope_by_first(double first) const {
  return slope_of([&](double x) { return at(x, setup_.beside); }, first);
}
double DerivedLink::slope_by_beside(double first) const {
  if (setup_.quantity->inputs.size() < 2) return 0;
  return slope_of([&](double x) { return at(first, x); }, setup_.beside);
}

double DerivedLink::forward_off(double inner, std::span<const double> /*deviations*/) const {
  const auto off = [&](double first) { return at(first, setup_.beside) - inner; };
  // What is wanted is mostly between the ends; else the nearest place to the middle where it is passed.
  double low = setup_.from, high = setup_.to;
  if (off(low) * off(high) <= 0) return root_between(off, low, high);
  constexpr int places = 128;
  const double middle = (low + high) / 2;
  double best = std::nan("");
  double before = off(low);
  for (int i = 1; i <= places; ++i) {
    const double x = setup_.from + (setup_.to - setup_.from) * i / places, now = off(x);
    if (before * now <= 0) {
      const double root = root_between(off, x - (setup_.to - setup_.from) / places, x);
      if (!(std::abs(root - middle) >= std::abs(best - middle))) best = root;
    }
    before = now;
  }
  return best;
}

Result<double> DerivedLink::forward(double inner) const {
  if (std::isnan(setup_.beside)) return inverse(inner).problem();
  const double first = forward_off(inner, {});
  if (std::isfinite(first)) return first;
  return Problem{
      translated("no {} makes the {} {:.4g} {}{}", translated_name(setup_.quantity->inputs.front()),
                 setup_.quantity->name, inner, setup_.symbol,
                 setup_.quantity->inputs.size() > 1
                     ? translated(" beside {:.4g} {}", setup_.beside, setup_.beside_symbol)
                     : ""),
      translated("{:g} to {:g} {}", at(setup_.from, setup_.beside), at(setup_.to, setup_.beside), setup_.symbol)};
}

Result<double> DerivedLink::inverse(double outer) const {
  if (std::isnan(setup_.beside))
    return Problem{translated("nothing is known of {}, beside which the {} is worked out", setup_.beside_name,
                              setup_.quantity->name),
                   translated("a reading of it")};
  const double value = at(outer, setup_.beside);
  if (std::isfinite(value)) return value;
  return Problem{translated("there is no {} at {:.4g} {}", setup_.quantity->name, outer, setup_.first_symbol),
                 translated("readings within the formula's range")};
}

std::vector<TraceLine> DerivedLink::explain(double outer, const NumberStyle& style) const {
  const double value = at(outer, setup_.beside);
  std::string from = translated("from {}", with_unit(outer, 3, setup_.first_symbol, style));
  if (setup_.quantity->accumulates)
    from += translated(" over {}", with_unit(setup_.beside / 3600, 2, "h", style));
  else if (setup_.quantity->inputs.size() > 1)
    from += translated(" beside {}", with_unit(setup_.beside, 3, setup_.beside_symbol, style));
  return {{setup_.quantity->name, from, with_unit(value, 3, setup_.symbol, style), value, setup_.quantity->says}};
}

}  // namespace fair_gauge
