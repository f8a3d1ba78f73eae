// The budget's second opinion: many specimens of the chain, each off by chance, and what they would read.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

struct MonteCarlo {
  std::int64_t trials = 0;  ///< that have a reading
  std::int64_t without_reading =
      0;                ///< specimens that have none here: the sensor or the converter is at its end for them
  double mean = 0;      ///< reading − world, base units
  double standard = 0;  ///< standard deviation
  double low = 0;       ///< shortest interval of reading − world that holds 95 %
  double high = 0;
  double histogram_from = 0;            ///< lower end of the first class
  double histogram_step = 0;            ///< width of a class
  std::vector<std::int64_t> histogram;  ///< specimens in each class
};

/// \param trials   1000…10 000 000
/// \param seed     the same seed gives the same result
/// \param go_on    asked now and then with the share that is done; false ends it early with what is there
/// \returns the spread of the reading, or why the chain has none there
/// \source JCGM 101:2008, 7.7 (shortest coverage interval)
Result<MonteCarlo> monte_carlo(const Chain& chain, double world, std::int64_t trials, std::uint64_t seed,
                               const std::function<bool(double share)>& go_on = {});

struct Budget;

/// Whether the budget's interval and that of Monte Carlo say the same: their ends differ by less than half a unit of
/// the second digit of the standard uncertainty. \returns in a sentence what differs, or nothing where they agree
/// \source JCGM 101:2008, 8.1 (validation of the GUM framework with two significant digits)
std::string budget_differs(const Budget& budget, const MonteCarlo& monte_carlo);

}  // namespace fair_gauge
