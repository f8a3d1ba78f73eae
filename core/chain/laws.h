// The laws by which a sensor's output follows from its quantity, each a plain value: its numbers and the two functions
// that they make. Which law a part has, and its words, are in transfer_law.h.
//
// Quantities are in base units (°C, %RH, Pa, lx), outputs in V, Ω, A or pulses. A result is not a number where there is
// none.
#pragma once

#include <string>
#include <variant>
#include <vector>

#include "parts/expression.h"

namespace fair_gauge {

/// output = offset + slope · x
struct LineLaw {
  double slope, offset;
  double output(double x) const;
  double quantity(double y) const;
};

/// output = supply · (slope · x + offset): the supply cancels where it is the converter's reference too.
struct RatiometricLaw {
  double slope, offset, supply;
  double output(double x) const;
  double quantity(double y) const;
};

/// The same line for humidity, whose slope depends a little on the air's temperature.
struct HumidityRatioLaw {
  double slope, offset, supply;
  double t0, t1;       ///< share = t0 + t1 · temperature
  double temperature;  ///< °C; not a number → not known, and the plain line holds
  bool knows_temperature() const;
  double share(double celsius) const;
  double output(double x) const;
  double output_beside(double x, double celsius) const;
  double quantity(double y) const;
};

/// output = c0 + c1 · (x − centre) + c2 · (x − centre)², falling or rising throughout the part's range.
struct QuadraticLaw {
  double centre, c0, c1, c2;
  double output(double x) const;
  double quantity(double y) const;  ///< the root near the centre
};

/// A thermistor by its resistance at 25 °C and B.
struct BetaLaw {
  double r25, beta;
  double output(double x) const;
  double quantity(double y) const;
};

/// A thermistor by three coefficients.
struct SteinhartLaw {
  double a, b, c;
  double output(double x) const;
  double quantity(double y) const;
};

/// A platinum element. \source IEC 60751
struct PlatinumLaw {
  double r0;
  double output(double x) const;
  double quantity(double y) const;
};

/// R = r10 · (E / 10 lx)^−gamma
struct LightResistorLaw {
  double r10, gamma;
  double output(double x) const;
  double quantity(double y) const;
};

/// A current in proportion to light.
struct PhotocurrentLaw {
  double amps_per_lux;
  double output(double x) const;
  double quantity(double y) const;
};

/// So many volts for each volt of excitation at full scale, in proportion to pressure.
struct BridgeLaw {
  double volts_per_volt, excitation, full_scale;
  double slope() const { return volts_per_volt * excitation / full_scale; }
  double output(double x) const;
  double quantity(double y) const;
};

/// 4 mA at `low`, 20 mA at `high`, seen as volts over the shunt. Below 3.6 mA or above 21 mA the loop itself reports a
/// fault.
struct LoopLaw {
  static constexpr double zero_a = 4e-3, span_a = 16e-3;
  double low, high, shunt;
  double output(double x) const;
  double quantity(double y) const;
};

/// Volts of the pair less those of a pair at the cold junction: temperatures are never subtracted. \source IEC 60584-1
struct ThermocoupleLaw {
  char letter;
  double cold;  ///< °C
  double output(double x) const;
  double output_beside(double x, double junction) const;
  double quantity(double y) const;
};

/// Published points with straight lines between them, or between the logarithms of their outputs. Beyond the ends the
/// first or last line goes on; whether that may be used is for the part's range to say.
struct TableLaw {
  std::vector<std::vector<double>> rows;  ///< quantity and output, or ln(output); the quantity rising
  bool logarithmic;
  double output(double x) const;
  double quantity(double y) const;
};

/// A curve typed by the user; its inverse is searched over the part's range, where it must rise or fall throughout.
struct CurveLaw {
  Expression curve;
  std::string text;
  double low, high;
  double output(double x) const;
  double quantity(double y) const;
};

using Law = std::variant<LineLaw, RatiometricLaw, HumidityRatioLaw, QuadraticLaw, BetaLaw, SteinhartLaw, PlatinumLaw,
                         LightResistorLaw, PhotocurrentLaw, BridgeLaw, LoopLaw, ThermocoupleLaw, TableLaw, CurveLaw>;

}  // namespace fair_gauge
