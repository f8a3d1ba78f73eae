// Reference functions of the eight letter-designated thermocouples: volts of a pair whose cold junction is at 0 °C.
#pragma once

#include <optional>

#include "quantity/result.h"

namespace fair_gauge::formulas {

/// Where a type's reference function is defined, and where it can be solved for one temperature.
struct ThermocoupleRange {
  double lowest;             ///< °C
  double highest;            ///< °C
  double lowest_invertible;  ///< °C: below it two temperatures give one voltage (type B); else `lowest`
};

/// \param letter  B E J K N R S T  \returns nothing for any other
std::optional<ThermocoupleRange> thermocouple_range(char letter);

/// Volts between the legs, cold junction at 0 °C.
/// \param celsius  of the hot junction, within the type's range  \returns volts; not a number outside
/// \source ITS-90 reference functions, IEC 60584-1; check: K 4.0962 mV at 100 °C, B 4.8343 mV at 1000 °C
double thermocouple_volts(char letter, double celsius);

/// Temperature of the hot junction, the root of the function above.
/// \param volts           between the legs
/// \param cold_celsius    of the cold junction; its voltage is added, not its temperature
/// \returns °C within 1e-6 K of the root; not a number outside the range or where there are two roots
double thermocouple_celsius(char letter, double volts, double cold_celsius);

}  // namespace fair_gauge::formulas
