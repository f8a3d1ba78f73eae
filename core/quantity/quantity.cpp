#include "quantity/quantity.h"

#include <array>

namespace fair_gauge {

std::span<const EnumName<Quantity>> enum_names(Quantity) {
  using enum Quantity;
  static constexpr std::array table = {EnumName{temperature, to_translate("temperature")},
                                       EnumName{humidity, to_translate("humidity")},
                                       EnumName{pressure, to_translate("pressure")},
                                       EnumName{illuminance, to_translate("illuminance")},
                                       EnumName{cold_junction_temperature, to_translate("cold-junction-temperature")},
                                       EnumName{bridge_voltage, to_translate("bridge-voltage")},
                                       EnumName{altitude, to_translate("altitude")},
                                       EnumName{absolute_humidity, to_translate("absolute-humidity")},
                                       EnumName{temperature_difference, to_translate("temperature-difference")},
                                       EnumName{light_dose, to_translate("light-dose")},
                                       EnumName{duration, to_translate("duration")},
                                       EnumName{number, to_translate("number")}};
  return table;
}

std::span<const EnumName<PressureKind>> enum_names(PressureKind) {
  using enum PressureKind;
  static constexpr std::array table = {
      EnumName{none, to_translate("none")}, EnumName{absolute, to_translate("absolute")},
      EnumName{gauge, to_translate("gauge")}, EnumName{differential, to_translate("differential")},
      EnumName{vacuum, to_translate("vacuum")}};
  return table;
}

Dimension dimension_of(Quantity quantity) {
  switch (quantity) {
    case Quantity::temperature:
    case Quantity::cold_junction_temperature: return Dimension::temperature;
    case Quantity::humidity: return Dimension::humidity;
    case Quantity::pressure: return Dimension::pressure;
    case Quantity::illuminance: return Dimension::illuminance;
    case Quantity::bridge_voltage: return Dimension::voltage;
    case Quantity::altitude: return Dimension::length;
    case Quantity::absolute_humidity: return Dimension::water_content;
    case Quantity::temperature_difference: return Dimension::temperature_difference;
    case Quantity::light_dose: return Dimension::light_dose;
    case Quantity::duration: return Dimension::time;
    case Quantity::number: return Dimension::number;
  }
  return Dimension::number;
}

std::optional<Quantity> quantity_in(Dimension dimension) {
  for (const auto& [quantity, name] : enum_names(Quantity{}))
    if (dimension_of(quantity) == dimension && quantity != Quantity::bridge_voltage && quantity != Quantity::number &&
        quantity != Quantity::duration)
      return quantity;
  return std::nullopt;
}

}  // namespace fair_gauge
