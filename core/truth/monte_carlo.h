// The budget's second opinion: many specimens of the chain, each off by chance, and what they would read.
#pragma once

#include <cstdint>
#include <functional>

#include "chain/chain.h"

namespace fair_gauge {

struct MonteCarlo {
  std::int64_t trials = 0;
  double mean = 0;      ///< reading − world, base units
  double standard = 0;  ///< standard deviation
  double low = 0;       ///< shortest interval of reading − world that holds 95 %
  double high = 0;
};

/// \param trials   1000…10 000 000
/// \param seed     the same seed gives the same result
/// \param go_on    asked now and then with the share that is done; false ends it early with what is there
/// \returns the spread of the reading, or why the chain has none there
/// \source JCGM 101:2008, 7.7 (shortest coverage interval)
Result<MonteCarlo> monte_carlo(const Chain& chain, double world, std::int64_t trials, std::uint64_t seed, const std::function<bool(double share)>& go_on = {});

}  // namespace fair_gauge
