// What a reading is of, and how a pressure is meant.
#pragma once

#include <optional>

#include "quantity/enum_names.h"
#include "quantity/unit.h"

namespace fair_gauge {

enum class Quantity {
  temperature,
  humidity,
  pressure,
  illuminance,
  cold_junction_temperature,  ///< of a thermocouple's converter
  bridge_voltage,             ///< what a converter for bridges reads
  altitude,
  absolute_humidity,       ///< water in the air
  temperature_difference,  ///< of two channels
  light_dose,              ///< that fell over a time
  duration,
  number  ///< without a unit: by a formula of one's own
};

/// Against what a pressure is measured.
enum class PressureKind { none, absolute, gauge, differential, vacuum };

std::span<const EnumName<Quantity>> enum_names(Quantity);
std::span<const EnumName<PressureKind>> enum_names(PressureKind);

/// The dimension that its values have.
Dimension dimension_of(Quantity quantity);

/// The one that parts measure in that dimension, the first where there are several; nothing if none does.
std::optional<Quantity> quantity_in(Dimension dimension);

/// The base unit of its dimension.
inline const Unit& base_unit(Quantity quantity) { return base_unit(dimension_of(quantity)); }

}  // namespace fair_gauge
