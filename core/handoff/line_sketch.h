// The firmware side of listening: a short program for a controller that prints a bench's raw numbers in the form that
// the window reads best, so that there is something to listen to.
#pragma once

#include <string>

#include "bench/bench.h"
#include "handoff/formula.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// `name:code` for what a converter or a counter reads, `name:x1A2B` for bytes, each channel at its own period. What
/// only the maker knows (a pin, the bus, the clock, the line) is four small functions to fill in. In C (C99, `int` of
/// 16 bits is enough, no heap, no floating point) or in Python for small controllers. Channels that cannot be read yet,
/// and those whose value arrives converted, stand in it as comments that say why.
std::string line_sketch(const Bench& bench, const Catalogue& catalogue, Language language);

}  // namespace fair_gauge
