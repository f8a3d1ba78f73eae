// Thermistor laws. Temperatures in kelvin where a symbol says T, resistances in ohms.
#pragma once

#include <cmath>

namespace fair_gauge::formulas {

inline constexpr double zero_celsius = 273.15;  ///< kelvin

/// Resistance by the beta law, R = R25 · exp(B·(1/T − 1/298.15)).
/// \param celsius  above −273.15
/// \param r25      ohms at 25 °C, positive
/// \param beta     kelvin, positive
/// \source IEC 60539-1; check: R25 = 10 kΩ, B = 3950 → 33 620.6 Ω at 0 °C
inline double thermistor_beta_resistance(double celsius, double r25, double beta) {
  return r25 * std::exp(beta * (1 / (celsius + zero_celsius) - 1 / 298.15));
}

/// Temperature by the beta law, the inverse of the above. \returns °C; not a number for ohms ≤ 0
inline double thermistor_beta_celsius(double ohms, double r25, double beta) {
  if (!(ohms > 0)) return std::nan("");
  return 1 / (1 / 298.15 + std::log(ohms / r25) / beta) - zero_celsius;
}

/// Temperature by Steinhart and Hart, 1/T = a + b·lnR + c·(lnR)³.
/// \param ohms  positive   \returns °C; not a number for ohms ≤ 0
/// \source Steinhart and Hart 1968; check: a 1.129241e-3, b 2.341077e-4, c 8.775468e-8 → 25.000 °C at 10 kΩ
inline double thermistor_steinhart_celsius(double ohms, double a, double b, double c) {
  if (!(ohms > 0)) return std::nan("");
  const double l = std::log(ohms);
  return 1 / (a + b * l + c * l * l * l) - zero_celsius;
}

/// Resistance by Steinhart and Hart: the real root of the cubic in lnR (Cardano; b and c positive, so there is one).
/// \returns ohms
inline double thermistor_steinhart_resistance(double celsius, double a, double b, double c) {
  const double offset = a - 1 / (celsius + zero_celsius);
  if (c == 0) return std::exp(-offset / b);
  const double p = b / (3 * c), q = offset / (2 * c);
  const double root = std::sqrt(q * q + p * p * p);
  return std::exp(std::cbrt(root - q) - std::cbrt(root + q));
}

}  // namespace fair_gauge::formulas
