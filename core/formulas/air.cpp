#include "formulas/air.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "language/translation.h"

namespace fair_gauge::formulas {
namespace {

constexpr double zero_celsius = 273.15, vapour_constant = 461.5, psychrometer = 6.62e-4;
constexpr double lapse = 0.0065, standard_g = 9.80665, air_constant = 287.05287, standard_kelvin = 288.15;

// Where a rising function crosses `wanted`, to a micro unit.
template <class Function>
double solve(Function function, double wanted, double low, double high) {
  for (int i = 0; i < 100 && high - low > 1e-9; ++i) {
    const double middle = (low + high) / 2;
    (function(middle) < wanted ? low : high) = middle;
  }
  return (low + high) / 2;
}

}  // namespace

double saturation_pressure(double celsius, Over over) {
  const double T = celsius + zero_celsius;
  if (over == Over::ice)
    return std::exp(-5.6745359e3 / T + 6.3925247 - 9.6778430e-3 * T + 6.2215701e-7 * T * T + 2.0747825e-9 * T * T * T -
                    9.4840240e-13 * T * T * T * T + 4.1635019 * std::log(T));
  return std::exp(-5.8002206e3 / T + 1.3914993 - 4.8640239e-2 * T + 4.1764768e-5 * T * T - 1.4452093e-8 * T * T * T +
                  6.5459673 * std::log(T));
}

double saturation_pressure_magnus(double celsius, Over over) {
  return over == Over::ice ? 611.2 * std::exp(22.46 * celsius / (272.62 + celsius))
                           : 611.2 * std::exp(17.62 * celsius / (243.12 + celsius));
}

double enhancement_factor(double pascal) {
  const double hectopascal = pascal / 100;
  return 1.0016 + 3.15e-6 * hectopascal - 0.074 / hectopascal;
}

double dew_point(double celsius, double rh) {
  if (!(rh > 0)) return std::nan("");  // air without vapour has none
  return solve([](double t) { return saturation_pressure(t); }, rh / 100 * saturation_pressure(celsius), -100,
               celsius + 1);
}

std::optional<double> frost_point(double celsius, double rh) {
  const double vapour = rh / 100 * saturation_pressure(celsius);
  if (vapour > saturation_pressure(0, Over::ice)) return std::nullopt;
  return solve([](double t) { return saturation_pressure(t, Over::ice); }, vapour, -100, 0);
}

double absolute_humidity(double celsius, double rh) {
  return 1000 * rh / 100 * saturation_pressure(celsius) / (vapour_constant * (celsius + zero_celsius));
}

double vapour_pressure_deficit(double celsius, double rh) { return (1 - rh / 100) * saturation_pressure(celsius); }

double wet_bulb(double celsius, double rh, double pascal) {
  // es(tw) − A p (t − tw) rises with tw.
  return solve([&](double tw) { return saturation_pressure(tw) - psychrometer * pascal * (celsius - tw); },
               rh / 100 * saturation_pressure(celsius), celsius - 60, celsius + 0.01);
}

double humidity_from_wet_bulb(double celsius, double wet_celsius, double pascal) {
  return 100 * (saturation_pressure(wet_celsius) - psychrometer * pascal * (celsius - wet_celsius)) /
         saturation_pressure(celsius);
}

double boiling_point(double pascal) {
  if (!(pascal >= 600 && pascal <= 5e6)) return std::nan("");
  return solve([](double t) { return saturation_pressure(t); }, pascal, 0, 270);
}

double standard_pressure(double metres, double base_pascal) {
  return base_pascal * std::pow(1 - lapse * metres / standard_kelvin, standard_g / (air_constant * lapse));
}

double standard_altitude(double pascal, double base_pascal) {
  return standard_kelvin / lapse * (1 - std::pow(pascal / base_pascal, air_constant * lapse / standard_g));
}

double to_sea_level(double pascal, double metres, Reduction by, double celsius) {
  if (by == Reduction::standard_atmosphere) return pascal / standard_pressure(metres, 1);
  const double mean_kelvin = celsius + zero_celsius + lapse * metres / 2;
  return pascal * std::exp(standard_g * metres / (air_constant * mean_kelvin));
}

double from_sea_level(double pascal, double metres, Reduction by, double celsius) {
  return pascal / to_sea_level(1, metres, by, celsius);
}

double water_density(double t) {
  return 999.974950 * (1 - (t - 3.983035) * (t - 3.983035) * (t + 301.797) / (522528.9 * (t + 69.34881)));
}

double gravity(double latitude_degrees, double metres) {
  const double s = std::sin(latitude_degrees * std::numbers::pi / 180),
               s2 = std::sin(2 * latitude_degrees * std::numbers::pi / 180);
  return 9.780327 * (1 + 0.0053024 * s * s - 0.0000058 * s2 * s2) - 3.086e-6 * metres;
}

double water_column(double metres, double celsius, double gravity_si) {
  return water_density(celsius) * gravity_si * metres;
}

namespace {

std::vector<Salt> salt_table() {
  return {
      {translated("lithium chloride"),
       "LiCl",
       {11.23, 11.26, 11.29, 11.30, 11.31, 11.30, 11.28, 11.25, 11.21, 11.16, 11.10},
       0.27},
      {translated("magnesium chloride"),
       "MgCl₂",
       {33.66, 33.60, 33.47, 33.30, 33.07, 32.78, 32.44, 32.05, 31.60, 31.10, 30.54},
       0.17},
      {translated("magnesium nitrate"),
       "Mg(NO₃)₂",
       {60.35, 58.86, 57.36, 55.87, 54.38, 52.89, 51.40, 49.91, 48.42, 46.93, 45.44},
       0.25},
      {translated("sodium chloride"),
       "NaCl",
       {75.51, 75.65, 75.67, 75.61, 75.47, 75.29, 75.09, 74.87, 74.68, 74.52, 74.43},
       0.15},
      {translated("potassium chloride"),
       "KCl",
       {88.61, 87.67, 86.77, 85.92, 85.11, 84.34, 83.62, 82.95, 82.32, 81.74, 81.20},
       0.30},
      {translated("potassium sulphate"),
       "K₂SO₄",
       {98.77, 98.48, 98.18, 97.88, 97.59, 97.30, 97.00, 96.71, 96.41, 96.12, 95.82},
       0.50},
  };
}

}  // namespace

const std::vector<Salt>& salts() { return once_in_each_language<salt_table>(); }

Result<double> salt_humidity(const Salt& salt, double celsius) {
  constexpr double step = 5;
  if (!(celsius >= 0 && celsius <= 50))
    return Problem{translated("{:g} °C is outside the table of the salts", celsius), translated("0 to 50 °C")};
  const auto i = std::min<std::size_t>(static_cast<std::size_t>(celsius / step), salt.percent.size() - 2);
  const double share = celsius / step - static_cast<double>(i);
  return salt.percent[i] + (salt.percent[i + 1] - salt.percent[i]) * share;
}

}  // namespace fair_gauge::formulas
