// What a part's own limit registers compare, and where a limit of the corrected reading stands in them.
#pragma once

#include "chain/chain.h"
#include "digital/registers.h"

namespace fair_gauge {

/// What the part compares when it has this raw number: counts, or its own reading in base units, without the
/// correction of this bench. Not a number where it has none.
double compared_of(const Chain& chain, const LimitLayout& layout, double raw);

struct PlacedLimit {
  double wished = 0;    ///< base units, corrected
  double compared = 0;  ///< the same as the part compares it
  StoredLimit stored;
  double means = 0;  ///< of the stored one, base units, corrected
};

/// \param wished  base units, corrected \returns why it cannot be stored
Result<PlacedLimit> place_limit(const Chain& chain, const LimitLayout& layout, double wished, LimitSide side);

}  // namespace fair_gauge
