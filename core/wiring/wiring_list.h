// The conductors of a bench, pin by pin, each by name and by the colour it has there.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "quantity/finding.h"

namespace fair_gauge {

struct WireRow {
  std::string device;     ///< id
  std::string conductor;  ///< supply, ground, data, clock, signal, …
  std::string from;       ///< on the controller's side
  std::string pin;        ///< of the controller, by the maker's name; empty → not entered, or a supply or ground
  std::string to;         ///< on the sensor: its conductor, or the pin of its package
  std::string colour;     ///< the user's own; empty → not entered
  std::string note;
  bool is_wire = false;  ///< a conductor of a part, of which pin and colour are the user's to enter
};

struct WiringList {
  std::vector<WireRow> rows;
  std::vector<Finding> findings;  ///< colours that mislead, pin orders that differ
  std::vector<std::string> cautions;
};

WiringList wiring_list(const Bench& bench, const Catalogue& catalogue);

/// Puts the end of a conductor on a pin of the controller, taking it off the one where it was. A pin that the board
/// does not have is added to it. On a bus the pin is that of all its parts. \param pin  by the maker's name; empty → on
/// none \returns why not: another conductor ends there already
std::optional<Problem> put_on_pin(Bench& bench, const std::string& device, const std::string& conductor,
                                  const std::string& pin);

/// Whether a conductor ends at a pin of its own: not supply and ground, which have many.
bool ends_at_a_pin(const std::string& conductor);

/// The conductors a device needs, in the order in which they are listed.
std::vector<std::string> conductors_of(const Part& part, const Device& device);

/// RFC 4180, with a header.
std::string wiring_csv(const WiringList& list);
/// A page for printing.
std::string wiring_html(const WiringList& list, const Bench& bench);

}  // namespace fair_gauge
