// A reference voltage of one's own at the reference pin: what a meter read there, held against what stands on the part
// and against the voltages that are there when something is wrong.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"

namespace fair_gauge {

enum class ReferenceFinding {
  as_marked,       ///< within its tolerance and the meter's
  off,             ///< another voltage: a wrong part, or a loaded one
  internal,        ///< the controller's own one: it is still selected
  supply,          ///< the supply
  nothing,         ///< next to nothing
  beyond_the_pin,  ///< more than the supply: the pin does not bear it
  not_stated,      ///< no voltage or tolerance that a part or a meter can have
};

struct ReferenceCheck {
  ReferenceFinding finding = ReferenceFinding::off;
  std::string words;

  /// Whether the measured voltage may go into the bench.
  bool may_be_taken() const { return finding == ReferenceFinding::as_marked || finding == ReferenceFinding::off; }
};

/// \param marked      what stands on the part: nominal and tolerance; measured_v what the meter read, and the meter
/// \param supply_v    of the controller, > 0
/// \param internal_v  references inside the controller
/// \returns what was found; without a measured voltage only whether the pin bears the nominal one
ReferenceCheck check_reference(const KnownVoltage& marked, double supply_v, const std::vector<double>& internal_v);

}  // namespace fair_gauge
