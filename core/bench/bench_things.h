// What a bench consists of, as things that can be named, added and taken away, with what hangs on each.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"

namespace fair_gauge {

enum class ThingKind { rail, converter, bus, device, channel };

/// One of them, by its id: ids are unique within a kind.
struct Thing {
  ThingKind kind = ThingKind::rail;
  std::string id;

  bool operator==(const Thing&) const = default;
};

/// All that a bench consists of: supplies, converters, buses, parts, channels, each in the bench's own order.
std::vector<Thing> things_of(const Bench& bench);

/// What people call it: its name, else its id. A part is called by its channels.
std::string name_of(const Bench& bench, const Thing& thing);

/// What a converter reads, in few words: "10 bits, 0 to 5 V", "16 bits, ±4.096 V".
std::string words_of(const Bench& bench, const Converter& converter);

struct Dependents {
  std::vector<Thing> go;    ///< nothing without it: a part's channels
  std::vector<Thing> stay;  ///< still there, but hung on nothing or on what was known of it
};
/// What becomes of the others if a thing is taken away.
Dependents dependents_of(const Bench& bench, const Thing& thing);

/// Takes a thing away with what goes with it. Whatever stays forgets it: a converter keeps the voltage of a rail that
/// was its reference as a reference of its own.
void take_away(Bench& bench, const Thing& thing);

/// Whether numbers come for a channel of which nobody has said yet which sensor makes them.
bool lacks_sensor(const Channel& channel);

/// The numbers of a channel that lacks a sensor are another channel's from now on: it goes, the other takes its name on
/// the line, and its own name where a person gave it one, and whatever else is worked out of it.
void hand_numbers_on(Bench& bench, const std::string& from, const std::string& to);

/// Adds a supply of 3.3 V, of 5 V where such a one is there alone, a converter of 12 bits on the first supply, or a
/// two-wire bus. \returns its id; empty for a part or a channel, which need to be chosen
std::string add_thing(Bench& bench, ThingKind kind);

}  // namespace fair_gauge
