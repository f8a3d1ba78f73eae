// The units the program knows: UCUM code, printed symbol, and the line to the base unit of the dimension.
// Reading what people write lives in quantity_text.h, writing numbers in number_format.h.
#pragma once

#include <span>
#include <string_view>

namespace fair_gauge {

enum class Dimension {
  number,
  temperature,             ///< base: degree Celsius
  temperature_difference,  ///< base: kelvin
  humidity,                ///< base: per cent relative humidity
  pressure,                ///< base: pascal
  illuminance,             ///< base: lux
  irradiance,              ///< base: watt per square metre
  length,                  ///< base: metre
  voltage,                 ///< base: volt
  current,                 ///< base: ampere
  resistance,              ///< base: ohm
  capacitance,             ///< base: farad
  water_content,           ///< of air; base: gram per cubic metre
  light_dose,              ///< illuminance over time; base: lux hour
  time,                    ///< base: second
  frequency,               ///< base: hertz
};

/// One unit. base value = number × scale + offset, except for a fraction stated otherwise.
struct Unit {
  Dimension dimension;
  std::string_view ucum;    ///< UCUM code, as in JSON
  std::string_view symbol;  ///< as printed beside a number
  double scale;
  double offset;
  bool takes_prefix;           ///< may be written with a decimal prefix (kOhm, hPa, mV)
  std::string_view spellings;  ///< what people write, separated by spaces, besides the UCUM code and the symbol

  double to_base(double number) const { return number * scale + offset; }
  double from_base(double base) const { return (base - offset) / scale; }
};

/// Every unit, the base unit of a dimension before its others.
std::span<const Unit> all_units();

/// The base unit of a dimension.
const Unit& base_unit(Dimension dimension);

/// The one in which a range is told where nobody has chosen another: hectopascals of the air, kilopascals of what is
/// pressed harder, else the base unit.
/// \param most  of the range, base units
const Unit& usual_unit(Dimension dimension, double most);

/// The unit with this UCUM code, or null.
const Unit* unit_by_ucum(std::string_view ucum);

/// The one of this dimension with this UCUM code, or null: K is a temperature and a difference of two.
const Unit* unit_by_ucum(std::string_view ucum, Dimension dimension);

/// Name of a dimension for people: "temperature", "absolute humidity", …
std::string_view dimension_name(Dimension dimension);

/// The unit of a difference of two values in `unit`: kelvin-sized for temperatures, the unit itself otherwise.
/// °C and K differ by K; °F by °F-sized steps, printed as °F.
std::string_view difference_symbol(const Unit& unit);
/// The same by its UCUM code; of one that is unknown the code itself.
std::string_view difference_symbol(std::string_view ucum);

}  // namespace fair_gauge
