// A converter with parallel outputs that is begun by one line and tells by another that it is done: its clock, how long
// a conversion takes, and what the voltage at a half-reference pin makes of its span.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "quantity/finding.h"
#include "quantity/result.h"

namespace fair_gauge {

/// A line of the hand-shake over time: held low by the controller, or busy by itself.
struct HandshakeStep {
  enum class Lane { start, converts, ready, read };
  Lane lane;
  std::string what;
  double from_s = 0;
  double to_s = 0;
};

struct HandshakePlan {
  double clock_hz = 0;
  double shortest_s = 0;  ///< from the start pulse's end to ready, at this clock; 0 → not stated
  double longest_s = 0;   ///< the same, with a slow clock of R and C too
  double reading_s = 0;   ///< start, longest conversion and read together
  std::vector<HandshakeStep> steps;
  std::vector<Finding> findings;
};

/// \returns the plan, or what is missing for its clock
Result<HandshakePlan> plan_handshake(const Handshake& handshake);

/// The smallest number that divides a clock to what the sheet allows, 1 or more; 0 → there is none.
int least_divider(const Handshake& handshake);

/// What a voltage at the half-reference pin makes of the converter.
struct HalfReference {
  double pin_v = 0;
  double span_v = 0;           ///< twice that
  double step_v = 0;           ///< a code
  bool beyond_supply = false;  ///< the span is more than the supply: the upper codes never come
};
/// First with nothing at the pin (half the supply), then for each voltage.
std::vector<HalfReference> half_references(double supply_v, int bits, std::span<const double> pin_volts);

}  // namespace fair_gauge
