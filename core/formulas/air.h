// Water vapour in air, pressure and height, and the fixed points that follow from them. Temperatures in °C, pressures
// in Pa.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge::formulas {

enum class Over { water, ice };

/// Saturation pressure of pure water vapour. Over water −100…200 °C, over ice −100…0.01 °C.
/// \source Hyland and Wexler 1983; check: 20 °C → 2339 Pa, 100 °C → 101.42 kPa, −20 °C over ice → 103.2 Pa
double saturation_pressure(double celsius, Over over = Over::water);

/// The short formula that firmware uses.
/// \source WMO-No. 8: 611.2 Pa · exp(17.62 t ÷ (243.12 + t)), over ice 22.46 and 272.62
double saturation_pressure_magnus(double celsius, Over over = Over::water);

/// By how much saturated air holds more than pure vapour. \source WMO-No. 8; check: 1013.25 hPa → 1.0047
double enhancement_factor(double pascal);

/// Where air of this humidity becomes saturated. \param rh  0.01…100 % over water; not a number at zero or below
/// \source inversion of saturation_pressure; check: 25 °C, 50 % → 13.86 °C
double dew_point(double celsius, double rh);
/// The same over ice; only below 0 °C. Nothing where the dew point is above.
std::optional<double> frost_point(double celsius, double rh);

/// Grams of water in a cubic metre. \source ideal gas, 461.5 J/(kg·K); check: 20 °C, 100 % → 17.3 g/m³
double absolute_humidity(double celsius, double rh);

/// What is missing to saturation, Pa. \source check: 25 °C, 60 % → 1268 Pa
double vapour_pressure_deficit(double celsius, double rh);

/// What a ventilated wet thermometer shows.
/// \source psychrometer equation, 6.62e-4 per kelvin; check: 20 °C, 50 %, 1013.25 hPa → 13.8 °C
double wet_bulb(double celsius, double rh, double pascal = 101325);

/// Relative humidity from a dry and a wet thermometer, %.
double humidity_from_wet_bulb(double celsius, double wet_celsius, double pascal = 101325);

/// Boiling point of water. \param pascal  600…5e6; outside → not a number
/// \source inversion of saturation_pressure; check: 101 325 Pa → 99.97 °C, 70 kPa → 89.9 °C
double boiling_point(double pascal);

/// Pressure at a height above the level of `base_pascal` in the standard atmosphere, −500…11 000 m.
/// \source ISO 2533; check: 1000 m → 898.75 hPa from 1013.25
double standard_pressure(double metres, double base_pascal = 101325);
double standard_altitude(double pascal, double base_pascal = 101325);

/// Station pressure to sea level.
enum class Reduction {
  standard_atmosphere,  ///< what a barometer's setting means: height alone
  air_temperature
};  ///< what weather maps show: by the air's own temperature
/// \param celsius  of the air at the station; only for air_temperature
/// \source hypsometric equation, 287.05 J/(kg·K), 6.5 K/km below the station; check: 500 m, 15 °C, 950 hPa → 1007.6 hPa
double to_sea_level(double pascal, double metres, Reduction by, double celsius = 15);
/// The way back: what a barometer at that height reads.
double from_sea_level(double pascal, double metres, Reduction by, double celsius = 15);

/// Density of water free of air, kg/m³, 0…40 °C. \source Tanaka et al. 2001; check: 20 °C → 998.207, 4 °C → 999.975
double water_density(double celsius);

/// Acceleration of gravity, m/s². \source WGS 84 gravity formula and free-air gradient; check: 45°, 0 m → 9.8062
double gravity(double latitude_degrees, double metres = 0);

/// Pressure under a column of water: Pa. \param metres  vertical height
/// \source check: 1 cm at 4 °C and 9.80665 m/s² → 98.064 Pa
double water_column(double metres, double celsius, double gravity_si = 9.80665);

/// A saturated salt solution holds the air above it at a humidity of its own.
struct Salt {
  std::string_view name;
  std::string_view formula;
  std::vector<double> percent;  ///< at 0, 5, 10 … 50 °C
  double standard = 0;          ///< standard uncertainty, points of %RH
};
/// \source Greenspan 1977
const std::vector<Salt>& salts();

/// %RH above a salt. \param celsius  0…50; outside → problem
Result<double> salt_humidity(const Salt& salt, double celsius);

/// Illuminance of a small lamp at another distance.
/// \source inverse square law
inline double inverse_square(double lux, double from_m, double to_m) { return lux * from_m * from_m / (to_m * to_m); }

}  // namespace fair_gauge::formulas
