// The unit table. Factors are exact by definition (SI brochure, NIST SP 811 appendix B) unless noted.
#include "quantity/unit.h"

#include <algorithm>
#include <array>
#include <utility>

#include "language/translation.h"

namespace fair_gauge {
namespace {

using enum Dimension;

constexpr double inch_of_mercury = 3386.389;  // conventional, 0 °C
constexpr double millimetre_of_mercury = 133.322387415;
constexpr double psi = 6894.757293168361;
constexpr double foot_candle = 10.763910416709722;  // lumen per square foot

constexpr std::array units = {
    Unit{number, "1", "", 1, 0, true, ""},
    Unit{temperature, "Cel", "°C", 1, 0, false,
         "C degC celsius ℃ *C ° deg degrees degreesc degc degreescelsius degcelsius centigrade °celsius grad gradc "
         "gradcelsius"},
    Unit{temperature, "K", "K", 1, -273.15, false, "kelvin"},
    Unit{temperature, "[degF]", "°F", 5.0 / 9.0, -160.0 / 9.0, false,
         "F degF fahrenheit ℉ *F degf degreesf degreesfahrenheit degfahrenheit °fahrenheit gradf gradfahrenheit"},
    Unit{temperature_difference, "K", "K", 1, 0, true, "C Cel degC °C kelvin celsius degc ° deg degrees grad"},
    Unit{temperature_difference, "[degF]", "°F", 5.0 / 9.0, 0, false, "F degF degf fahrenheit"},
    Unit{humidity, "%", "%RH", 1, 0, false, "% rh RH %rh pct percent %rf %r.h %r.f prozent percentrh"},
    Unit{pressure, "Pa", "Pa", 1, 0, true, "pascal pascals pa"},
    Unit{pressure, "hPa", "hPa", 100, 0, false, "hpa hectopascal hektopascal"},
    Unit{pressure, "kPa", "kPa", 1000, 0, false, "kpa kilopascal"},
    Unit{pressure, "bar", "bar", 1e5, 0, true, ""},
    Unit{pressure, "mbar", "mbar", 100, 0, false, "mb millibar"},
    Unit{pressure, "[psi]", "psi", psi, 0, false, "psia psig psid lbf/in2"},
    Unit{pressure, "[in_i'Hg]", "inHg", inch_of_mercury, 0, false, "\"Hg inhg"},
    Unit{pressure, "mm[Hg]", "mmHg", millimetre_of_mercury, 0, false, "torr mmhg"},
    Unit{pressure, "cm[H2O]", "cmH2O", 98.0665, 0, false, "cmh2o cmH₂O"},
    Unit{pressure, "atm", "atm", 101325, 0, false, ""},
    Unit{illuminance, "lx", "lx", 1, 0, true, "lux"},
    Unit{illuminance, "lm/[ft_i]2", "fc", foot_candle, 0, false, "footcandle foot-candle ftcd"},
    Unit{irradiance, "W/m2", "W/m²", 1, 0, true, "W/m^2"},
    Unit{water_content, "g/m3", "g/m³", 1, 0, false, "g/m^3"},
    Unit{light_dose, "lx.h", "lx·h", 1, 0, true, "lxh lx*h luxhours"},
    Unit{length, "m", "m", 1, 0, true, "metre meter"},
    Unit{length, "[ft_i]", "ft", 0.3048, 0, false, "foot feet '"},
    Unit{length, "[in_i]", "in", 0.0254, 0, false, "inch inches \""},
    Unit{voltage, "V", "V", 1, 0, true, "volt volts v vdc"},
    Unit{current, "A", "A", 1, 0, true, "amp amps ampere amperes"},
    Unit{resistance, "Ohm", "Ω", 1, 0, true, "ohm ohms OHM OHMS R"},
    Unit{capacitance, "F", "F", 1, 0, true, "farad"},
    Unit{time, "s", "s", 1, 0, true, "sec second seconds"},
    Unit{time, "min", "min", 60, 0, false, "minute minutes"},
    Unit{time, "h", "h", 3600, 0, false, "hour hours"},
    Unit{time, "d", "d", 86400, 0, false, "day days"},
    Unit{frequency, "Hz", "Hz", 1, 0, true, "hz hertz"},
};

}  // namespace

std::span<const Unit> all_units() { return units; }

const Unit& base_unit(Dimension dimension) { return *std::ranges::find(units, dimension, &Unit::dimension); }

const Unit& usual_unit(Dimension dimension, double most) {
  constexpr double air = 10e3, beyond_air = 200e3;  // Pa
  if (dimension != Dimension::pressure || most < air) return base_unit(dimension);
  return *unit_by_ucum(most > beyond_air ? "kPa" : "hPa");
}

const Unit* unit_by_ucum(std::string_view ucum) {
  const auto found = std::ranges::find(units, ucum, &Unit::ucum);
  return found == units.end() ? nullptr : &*found;
}

const Unit* unit_by_ucum(std::string_view ucum, Dimension dimension) {
  const auto found =
      std::ranges::find_if(units, [&](const Unit& unit) { return unit.ucum == ucum && unit.dimension == dimension; });
  return found == units.end() ? nullptr : &*found;
}

std::string_view dimension_name(Dimension dimension) {
  switch (dimension) {
    case number: return translated("number");
    case temperature: return translated("temperature");
    case temperature_difference: return translated("temperature difference");
    case humidity: return translated("humidity");
    case pressure: return translated("pressure");
    case illuminance: return translated("illuminance");
    case irradiance: return translated("irradiance");
    case length: return translated("length");
    case water_content: return translated("absolute humidity");
    case light_dose: return translated("light dose");
    case voltage: return translated("voltage");
    case current: return translated("current");
    case resistance: return translated("resistance");
    case capacitance: return translated("capacitance");
    case time: return translated("time");
    case frequency: return translated("frequency");
  }
  return "";
}

std::string_view difference_symbol(const Unit& unit) {
  return unit.symbol == "K" || unit.symbol == "°C" ? "°C" : unit.symbol;
}

std::string_view difference_symbol(std::string_view ucum) {
  const Unit* unit = unit_by_ucum(ucum);
  return unit ? difference_symbol(*unit) : ucum;
}

}  // namespace fair_gauge
