#include "chain/laws.h"

#include <boost/math/tools/roots.hpp>
#include <cmath>

#include "formulas/platinum.h"
#include "formulas/thermistor.h"
#include "formulas/thermocouple.h"

namespace fair_gauge {

double LineLaw::output(double x) const { return offset + slope * x; }
double LineLaw::quantity(double y) const { return (y - offset) / slope; }

double RatiometricLaw::output(double x) const { return supply * (slope * x + offset); }
double RatiometricLaw::quantity(double y) const { return (y / supply - offset) / slope; }

bool HumidityRatioLaw::knows_temperature() const { return std::isfinite(temperature); }
double HumidityRatioLaw::share(double celsius) const { return knows_temperature() ? t0 + t1 * celsius : 1; }
double HumidityRatioLaw::output(double x) const { return output_beside(x, temperature); }
double HumidityRatioLaw::output_beside(double x, double celsius) const {
  return supply * (slope * x * share(celsius) + offset);
}
double HumidityRatioLaw::quantity(double y) const { return (y / supply - offset) / slope / share(temperature); }

double QuadraticLaw::output(double x) const { return c0 + (x - centre) * (c1 + c2 * (x - centre)); }
double QuadraticLaw::quantity(double y) const {
  if (c2 == 0) return centre + (y - c0) / c1;
  const double root = c1 * c1 - 4 * c2 * (c0 - y);
  return root < 0 ? std::nan("") : centre + 2 * (y - c0) / (c1 + std::copysign(std::sqrt(root), c1));
}

double BetaLaw::output(double x) const { return formulas::thermistor_beta_resistance(x, r25, beta); }
double BetaLaw::quantity(double y) const { return formulas::thermistor_beta_celsius(y, r25, beta); }

double SteinhartLaw::output(double x) const { return formulas::thermistor_steinhart_resistance(x, a, b, c); }
double SteinhartLaw::quantity(double y) const { return formulas::thermistor_steinhart_celsius(y, a, b, c); }

double PlatinumLaw::output(double x) const { return formulas::platinum_resistance(x, r0); }
double PlatinumLaw::quantity(double y) const { return formulas::platinum_celsius(y, r0); }

double LightResistorLaw::output(double x) const { return r10 * std::pow(x / 10, -gamma); }
double LightResistorLaw::quantity(double y) const { return y > 0 ? 10 * std::pow(y / r10, -1 / gamma) : std::nan(""); }

double PhotocurrentLaw::output(double x) const { return amps_per_lux * x; }
double PhotocurrentLaw::quantity(double y) const { return y / amps_per_lux; }

double BridgeLaw::output(double x) const { return slope() * x; }
double BridgeLaw::quantity(double y) const { return y / slope(); }

double LoopLaw::output(double x) const { return shunt * (zero_a + span_a * (x - low) / (high - low)); }
double LoopLaw::quantity(double y) const {
  constexpr double lowest_a = 3.6e-3, highest_a = 21e-3;
  const double amperes = y / shunt;
  return amperes < lowest_a || amperes > highest_a ? std::nan("") : low + (amperes - zero_a) / span_a * (high - low);
}

double ThermocoupleLaw::output(double x) const { return output_beside(x, cold); }
double ThermocoupleLaw::output_beside(double x, double junction) const {
  return formulas::thermocouple_volts(letter, x) - formulas::thermocouple_volts(letter, junction);
}
double ThermocoupleLaw::quantity(double y) const { return formulas::thermocouple_celsius(letter, y, cold); }

namespace {

double between(const std::vector<std::vector<double>>& rows, double value, std::size_t from, std::size_t to) {
  const bool rising = rows.back()[from] > rows.front()[from];
  std::size_t at = 0;
  while (at + 2 < rows.size() && (rising ? value > rows[at + 1][from] : value < rows[at + 1][from])) ++at;
  const auto &a = rows[at], &b = rows[at + 1];
  return a[to] + (value - a[from]) / (b[from] - a[from]) * (b[to] - a[to]);
}

}  // namespace

double TableLaw::output(double x) const {
  const double y = between(rows, x, 0, 1);
  return logarithmic ? std::exp(y) : y;
}
double TableLaw::quantity(double y) const {
  return logarithmic && !(y > 0) ? std::nan("") : between(rows, logarithmic ? std::log(y) : y, 1, 0);
}

double CurveLaw::output(double x) const { return curve.at(x); }
double CurveLaw::quantity(double y) const {
  const auto miss = [&](double x) { return curve.at(x) - y; };
  const double below = miss(low), above = miss(high);
  if (!(below * above <= 0)) return std::nan("");
  if (below == 0 || above == 0) return below == 0 ? low : high;
  std::uintmax_t steps = 200;
  const auto found = boost::math::tools::toms748_solve(miss, low, high, below, above,
                                                       boost::math::tools::eps_tolerance<double>(48), steps);
  return (found.first + found.second) / 2;
}

}  // namespace fair_gauge
