// One cycle of a board: who holds which line when, who converts meanwhile, and what it costs the battery.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "digital/read_sequence.h"
#include "parts/catalogue.h"
#include "quantity/finding.h"

namespace fair_gauge {

/// The times of one device within a cycle.
struct DeviceTimes {
  std::string device;  ///< id
  std::string name;    ///< for people
  std::string bus;     ///< id; empty for one that the controller's own converter reads
  std::vector<SequenceStep> steps;
  double conversion_s = 0;
  double shortest_s = 0;  ///< between two readings
  double wanted_s = 0;    ///< the shortest period that a channel of it asks for
  double active_a = 0;    ///< while it converts
  double rest_a = 0;
};

struct CyclePlan {
  std::vector<DeviceTimes> devices;
  double cycle_s = 0;       ///< from the first start to the last byte
  double line_share = 0;    ///< of the cycle during which the busiest line is held
  double line_load = 0;     ///< the same of the shortest period that is wanted
  double awake_s = 0;       ///< with the controller's own overhead
  double average_a = 0;     ///< over a period of the power plan
  double battery_days = 0;  ///< 0 → no battery
  std::vector<std::pair<std::string, double>>
      charges;  ///< where the average current goes: name, amperes; largest first
  std::vector<Finding> findings;
};

/// Conversions run at the same time; what passes over one line goes one after another.
/// \source battery: four fifths of its capacity are counted on
CyclePlan plan_cycle(const Bench& bench, const Catalogue& catalogue);

}  // namespace fair_gauge
