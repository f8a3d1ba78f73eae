// How the bench hangs together, as it is drawn: what comes out of the controller and what hangs on it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench_things.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// A part, or a converter of its own, where it hangs.
struct HungThing {
  Thing thing;
  std::string name;
  std::string what;  ///< what is printed on it, else what it is; empty → the catalogue has no such part
  std::string link;  ///< on the wire to it: "10 kΩ above", "0x76"; empty → nothing to say
  std::string rail;  ///< id of what feeds it; empty → not known
  std::optional<std::string> starved;  ///< why its supply does not suit it, or what it does to the controller's pin
  std::vector<std::string> pins;       ///< of the controller that it has for itself
  std::vector<HungThing> at_inputs;    ///< of a converter
  bool again = false;                  ///< it stands at its bus or converter too: here is its alert pin
};

/// What comes out of the controller: one of its converters, a bus, or pins of a part of its own.
struct BoardLine {
  std::optional<Thing> thing;     ///< the converter or the bus; nothing → each part has pins for itself
  std::string name;               ///< of it
  std::string what;               ///< "12 bits, 0 to 3.3 V"; "100 kHz"
  std::vector<std::string> pins;  ///< of a bus
  std::vector<HungThing> hung;
};

struct FreePin {
  std::string name;
  bool reads_volts = false;
  bool interrupts = false;
};

struct BoardMap {
  std::string controller;        ///< in plain words; empty → not named
  std::string bears;             ///< what its pins bear: "pins bear 3.6 V; D2 D3 5.5 V"; empty → nobody knows
  std::vector<BoardLine> lines;  ///< converters first, then buses, then parts with pins of their own
  std::vector<FreePin> free_pins;
};

BoardMap board_map(const Bench& bench, const Catalogue& catalogue);

/// The map in sentences, a line each, for those who do not see the drawing.
std::vector<std::string> words_of(const BoardMap& map);

}  // namespace fair_gauge
