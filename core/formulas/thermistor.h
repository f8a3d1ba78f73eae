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

}  // namespace fair_gauge::formulas
