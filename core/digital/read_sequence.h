// One reading of a digital part as it passes over its line: begin, wait, collect.
#pragma once

#include <string>
#include <vector>

#include "parts/part.h"

namespace fair_gauge {

enum class SequenceLane {
  line,  ///< the controller and the part talk: nobody else may
  part
};  ///< the part works; the line is free, unless the part is fed by it

struct SequenceStep {
  std::string what;
  SequenceLane lane;
  double from_s = 0;
  double to_s = 0;
};

/// \param conversion_s  as the part is set; 0 → the longest that its file tells
/// \param line_hz       clock of a two-wire or four-wire line, 1e3…5e6; other lines have their own pace
/// \returns the steps in their order, the first from 0
/// \source two-wire: 9 clocks a byte; one-wire: 960 µs for a reset, 65 µs a bit; single-wire: start pulse, 80 + 80 µs,
/// about 100 µs a bit
std::vector<SequenceStep> read_sequence(const Part& part, double conversion_s = 0, double line_hz = 100e3);

/// How long the line is held in it, in seconds.
double line_time(const std::vector<SequenceStep>& steps);

}  // namespace fair_gauge
