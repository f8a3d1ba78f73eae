// What must have stood behind a value that other firmware converted: the raw number, and what nobody can tell from it.
#pragma once

#include <optional>
#include <string>

#include "chain/chain.h"

namespace fair_gauge {

/// The raw numbers from which the value can have come, if the firmware converts as the part's chain does.
struct BehindValue {
  std::string counts;  ///< what they are: "counts" of a converter, "pulses", or the sheet's name of a part's number
  double raw = 0;      ///< nearest to the value
  double least = 0;    ///< the others between these give the same decimals
  double most = 0;
  /// What the reading were if the firmware divides by the other of 2ⁿ and 2ⁿ − 1; base units. Nothing without a
  /// converter.
  struct OtherDivisor {
    double divisor = 0;
    double reading = 0;  ///< of the same raw number, by this chain
  };
  std::optional<OtherDivisor> other;
};

/// \param value  in the unit in which it arrives
/// \returns the raw number behind a value; a problem where the part is not known, where its bytes need trimming words
///          that the bench does not hold, or where no raw number gives that value
Result<BehindValue> behind_value(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                 double value);

}  // namespace fair_gauge
