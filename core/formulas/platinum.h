// Industrial platinum thermometers.
#pragma once

#include <cmath>

namespace fair_gauge::formulas {

/// Resistance of an industrial platinum thermometer.
/// \param celsius  −200…850
/// \param r0       resistance at 0 °C, ohms
/// \returns ohms
/// \source IEC 60751, Callendar–Van Dusen; check: r0 = 100 → 138.5055 Ω at 100 °C, 18.5201 Ω at −200 °C, 390.4811 Ω at
/// 850 °C
inline double platinum_resistance(double celsius, double r0) {
  constexpr double a = 3.9083e-3, b = -5.775e-7, c = -4.183e-12;
  const double below = celsius < 0 ? c * (celsius - 100) * celsius * celsius * celsius : 0;
  return r0 * (1 + a * celsius + b * celsius * celsius + below);
}

/// Temperature of an industrial platinum thermometer, the inverse of the above.
/// \param ohms  positive
/// \returns °C; exact above 0 °C, by iteration to 1e-9 K below; not a number where no temperature has this resistance
inline double platinum_celsius(double ohms, double r0) {
  constexpr double a = 3.9083e-3, b = -5.775e-7;
  const double ratio = ohms / r0;
  const double root = a * a - 4 * b * (1 - ratio);
  if (!(root >= 0)) return std::nan("");
  double celsius = (-a + std::sqrt(root)) / (2 * b);
  for (int i = 0; celsius < 0 && i < 20; ++i) {
    const double slope = (platinum_resistance(celsius + 1e-3, r0) - platinum_resistance(celsius - 1e-3, r0)) / 2e-3;
    const double miss = platinum_resistance(celsius, r0) - ohms;
    celsius -= miss / slope;
    if (std::abs(miss / slope) < 1e-9) break;
  }
  return celsius;
}

}  // namespace fair_gauge::formulas
