// What a reading would be if the temperature that its formula carries over were an old one.
#pragma once

#include <string>
#include <vector>

#include "digital/decoder.h"

namespace fair_gauge {

struct StaleReading {
  const PartQuantity* quantity;
  double value = 0;       ///< with the old temperature, base units
  double difference = 0;  ///< from the right one
};

/// Every reading besides temperature that changes if the part's temperature bytes were those of a temperature
/// `lag_k` lower. Empty for a part whose readings do not lean on each other.
/// \param blocks  as they came, whole
std::vector<StaleReading> with_stale_temperature(const Decoder& decoder, const ByteBlocks& blocks, double lag_k = 10);

}  // namespace fair_gauge
