#include "quantity/quantity.h"

#include <array>

namespace fair_gauge {

std::span<const EnumName<Quantity>> enum_names(Quantity) {
  using enum Quantity;
  static constexpr std::array table = {EnumName{temperature, "temperature"},
                                       EnumName{humidity, "humidity"},
                                       EnumName{pressure, "pressure"},
                                       EnumName{illuminance, "illuminance"},
                                       EnumName{cold_junction_temperature, "cold-junction-temperature"},
                                       EnumName{bridge_voltage, "bridge-voltage"},
                                       EnumName{altitude, "altitude"},
                                       EnumName{absolute_humidity, "absolute-humidity"},
                                       EnumName{temperature_difference, "temperature-difference"},
                                       EnumName{light_dose, "light-dose"},
                                       EnumName{duration, "duration"},
                                       EnumName{number, "number"}};
  return table;
}

std::span<const EnumName<PressureKind>> enum_names(PressureKind) {
  using enum PressureKind;
  static constexpr std::array table = {EnumName{none, "none"}, EnumName{absolute, "absolute"}, EnumName{gauge, "gauge"},
                                       EnumName{differential, "differential"}, EnumName{vacuum, "vacuum"}};
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
