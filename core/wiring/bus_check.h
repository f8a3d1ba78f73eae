// A bus of the bench as it is wired: what pulls it up, how fast and how far it rises, and who can read and bear that.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "quantity/finding.h"
#include "sizing/pull_up.h"

namespace fair_gauge {

/// A share of a line's capacitance.
struct LoadShare {
  std::string name;
  double farad = 0;
};

/// A device and the part it is, as it hangs on a bus.
struct BusMember {
  const Device* device = nullptr;
  const Part* part = nullptr;  ///< null if the catalogue does not know it
  double supply_v = 0;         ///< that feeds it
};

/// All pull resistors of a line as one: where they pull to and how strongly.
struct Pull {
  double open_v = 0;          ///< of the line while nobody pulls it down
  std::optional<double> ohm;  ///< nothing → the line is left to float
};

struct BusCheck {
  const Bus* bus = nullptr;
  std::vector<BusMember> members;
  double supply_v = 0;
  std::vector<LoadShare> load;
  double capacitance_f = 0;
  double sink_a = 0;        ///< that the weakest device pulls down for sure
  double low_limit_v = 0;   ///< below which everyone reads low
  double high_limit_v = 0;  ///< above which everyone reads high
  Pull pull;
  PullUpSize size;           ///< window, with the resistors that pull to the bus's supply
  double low_v = 0;          ///< of the line while the weakest device pulls it down
  double low_a = 0;          ///< through that device then
  double margin_low_v = 0;   ///< low_limit_v − low_v
  double margin_high_v = 0;  ///< open_v − high_limit_v
  double period_s = 0;       ///< of one bit, for drawing
  std::vector<Finding> findings;

  bool has_fault() const;
  /// Volts of the line at a time after it is let go, from low_v.
  double volts_after(double seconds) const;
};

/// \returns the check of a bus, or why it cannot be judged (no rail, a speed beyond the specification)
/// \source two-wire: inputs read low below 0.3 and high above 0.7 of the supply; one-wire: 0.8 V and 2.2 V
Result<BusCheck> check_bus(const Bench& bench, const Catalogue& catalogue, const Bus& bus);

/// The devices that hang on a bus, in the bench's order.
std::vector<BusMember> members_of(const Bench& bench, const Catalogue& catalogue, const Bus& bus);

/// "10 kΩ of the controller board, 10 kΩ of …: 3.33 kΩ together". Empty without pull-ups.
std::string pull_ups_in_words(const Bus& bus);

}  // namespace fair_gauge
