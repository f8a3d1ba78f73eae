// A resistor and a capacitor before a converter's pin: noise against settling.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/result.h"
#include "sizing/resistors.h"

namespace fair_gauge {

struct FilterWish {
  double cutoff_hz = 100;          ///< no higher than this
  std::optional<double> settle_s;  ///< a step must have settled to half a converter step by then
  int bits = 12;
  double sample_farad = 10e-12;  ///< the converter's sampling capacitor
  double acquisition_s = 1e-6;   ///< time it has to charge
  double max_ohm = 10e3;
  ResistorChoice resistors;
};

struct FilterSize {
  double ohm = 0;
  double farad = 0;
  double cutoff_hz = 0;
  double settling_s = 0;          ///< to half a converter step
  double noise_bandwidth_hz = 0;  ///< π/2 · cutoff
  double charge_error_steps = 0;  ///< what one sample takes from the capacitor, in converter steps
  double left_steps = 0;          ///< what is left of that at the end of the acquisition
  bool possible = false;
  std::vector<std::string> reasons;
};

/// \source settling of a single pole to half a step: R·C·ln(2^(n+1))
Result<FilterSize> size_rc_filter(const FilterWish& wish);

}  // namespace fair_gauge
