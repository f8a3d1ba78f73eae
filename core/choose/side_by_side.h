// Several candidates on the same simulated hours: one specimen of each, off by chance as its budget allows.
#pragma once

#include <cstdint>
#include <vector>

#include "choose/shortlist.h"

namespace fair_gauge {

struct SideBySide {
  std::vector<double> seconds;
  std::vector<double> truth;                  ///< base units
  std::vector<std::vector<double>> readings;  ///< one row a candidate; not a number where it gave none
};

/// \param candidates  not ruled out
/// \param hours       of the simulation
/// \param samples     2…10 000
/// \returns the same for the same seed
SideBySide run_side_by_side(const Catalogue& catalogue, const Need& need,
                            const std::vector<const Candidate*>& candidates, double hours, int samples,
                            std::uint64_t seed);

}  // namespace fair_gauge
