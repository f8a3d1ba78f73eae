// The conductors of a bench, pin by pin, each by name and by the colour it has there.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "wiring/bus_check.h"

namespace fair_gauge {

struct WireRow {
  std::string device;     ///< id
  std::string conductor;  ///< supply, ground, data, clock, signal, …
  std::string from;       ///< on the controller's side
  std::string to;         ///< on the sensor
  std::string colour;     ///< the user's own; empty → not entered
  std::string note;
};

struct WiringList {
  std::vector<WireRow> rows;
  std::vector<Finding> findings;  ///< colours that mislead, pin orders that differ
  std::vector<std::string> cautions;
};

WiringList wiring_list(const Bench& bench, const Catalogue& catalogue);

/// The conductors a device needs, in the order in which they are listed.
std::vector<std::string> conductors_of(const Part& part);

/// RFC 4180, with a header.
std::string wiring_csv(const WiringList& list);
/// A page for printing.
std::string wiring_html(const WiringList& list, const Bench& bench);

}  // namespace fair_gauge
