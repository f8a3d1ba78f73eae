// Where a correction was taken, and what of a systematic error it leaves elsewhere.
#pragma once

#include <vector>

#include "bench/bench.h"

namespace fair_gauge {

/// A calibration compares the whole chain with a reference. An error that is the same at every reading is therefore in
/// the correction already, as far as the correction's model follows it; between and beyond the points some of it is
/// left.
struct CalibrationNodes {
  std::vector<double> at;  ///< readings at which the correction is exact for a systematic error; empty → sees nothing
  std::vector<double> weights;  ///< by which the errors there make up what is corrected at the value asked for
};

/// \param value  base units, where the reading is
CalibrationNodes calibration_nodes(const Correction& correction, double value);

}  // namespace fair_gauge
