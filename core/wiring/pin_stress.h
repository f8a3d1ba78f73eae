// What a sensor can put on the controller's pin, and what that pin bears.
#pragma once

#include <optional>
#include <string>

#include "bench/bench.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// The highest voltage that comes to a pin.
struct PinStress {
  double volts = 0;
  std::string when;  ///< "with nothing connected below", "at 125 °C"
  std::string pin;   ///< by the maker's own name; empty → none is named
  double bears_v = 0;

  bool is_too_much() const { return volts > bears_v; }
};

/// What feeds the controller: the rail that one of its own converters measures against, else the bench's first.
/// Null on a bench without rails.
const Rail* supply_of_controller(const Bench& bench);

/// What a pin bears: as the bench says, else 0.3 V more than the controller's supply; volts.
/// \source absolute maximum ratings of small controllers: supply + 0.3 V or more at a pin
double pin_bears(const Bench& bench, const Pin* pin);

/// Of a sensor at an input of the controller's own converter, over the part's whole range.
/// \returns nothing where it has no voltage of its own to put on a pin, where the chain cannot be built, or where
///          nobody knows the supply
std::optional<PinStress> pin_stress(const Bench& bench, const Catalogue& catalogue, const Device& device);

/// What the lines of a digital part carry, where that is more than it bears.
struct LineStress {
  double volts = 0;  ///< to which the controller or the bus's pull-ups bring them
  double fed_v = 0;  ///< its supply
};

/// Of a part that hangs on a bus of a higher supply without a level shifter, or whose clock and select the controller
/// drives from a higher one. \returns nothing where they fit, or where nobody knows the supplies
/// \source absolute maximum ratings of small parts: supply + 0.3 V at an input, unless the sheet grants more
std::optional<LineStress> line_stress(const Bench& bench, const Catalogue& catalogue, const Device& device);

/// "puts 5 V on A0, which bears 3.6 V, with the sensor unplugged". Empty where it is not too much.
std::string words_of(const PinStress& stress);

}  // namespace fair_gauge
