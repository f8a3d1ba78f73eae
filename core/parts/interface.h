// How a part's output leaves it.
#pragma once

#include "quantity/enum_names.h"

namespace fair_gauge {

enum class Interface {
  voltage,
  ratiometric,  ///< a voltage in proportion to the supply
  resistance,
  current,
  bridge,
  thermocouple,
  i2c,  ///< a two-wire bus
  spi,  ///< a four-wire bus
  one_wire,
  single_wire,    ///< one line for one part, whose times are its bits
  serial_bridge,  ///< a clock and a data line for a converter of bridges
  pulse_count     ///< so many pulses for a reading
};

std::span<const EnumName<Interface>> enum_names(Interface);

}  // namespace fair_gauge
