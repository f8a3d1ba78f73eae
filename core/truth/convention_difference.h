// What the choice of divisor, 2^n or 2^n − 1, does to one reading.
#pragma once

#include "chain/chain.h"

namespace fair_gauge {

struct ConventionDifference {
  CodeConvention other;   ///< the convention the channel does not use
  double reading = 0;     ///< by the other one, base units
  double difference = 0;  ///< other − used
};

/// Reads the same raw number by both conventions. Everything else of the bench stays.
Result<ConventionDifference> convention_difference(const Bench& bench, const Catalogue& catalogue,
                                                   std::string_view channel_id, double raw);

}  // namespace fair_gauge
