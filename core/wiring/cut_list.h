// The cables of a bench as they are cut, what they weigh on a bus, and what hangs on the board beside the sensors.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "quantity/finding.h"

namespace fair_gauge {

/// Capacitance between neighbouring conductors, F/m.
/// \source usual figures: a flat ribbon 50 pF, pairs and round cables 100 pF, loose wires 20 pF
double farad_per_metre(CableKind kind);

/// "flat ribbon"
std::string cable_words(CableKind kind);

/// The bus with the length and capacitance of its runs in the cut list; as it is where none belongs to it.
Bus with_runs(const Bench& bench, const Bus& bus);

struct CutLine {
  CableKind kind;
  int conductors = 0;
  int pieces = 0;
  double metres = 0;  ///< of all pieces, slack included
};

struct CutList {
  std::vector<CutLine> to_buy;  ///< a line for each kind of cable and number of conductors, the longest first
  std::vector<Finding> findings;
};
CutList cut_list(const Bench& bench);

/// The resistor in series with a lamp.
struct SeriesResistor {
  double ohm;    ///< of the E24 series, so that no more than the wanted current flows
  double amps;   ///< that flows then
  double watts;  ///< in the resistor
};
/// \returns nothing where the lamp needs none, or the bench does not know its supply, current or forward voltage
std::optional<SeriesResistor> series_resistor(const Bench& bench, const Accessory& accessory);

/// Name, length, slack, cable, conductors, bus and connector, a row a run. RFC 4180, with a header.
std::string cut_list_csv(const Bench& bench);

}  // namespace fair_gauge
