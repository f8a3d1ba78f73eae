// Which model of a correction is worth having: each fitted, held against the others, with what it does not tell said.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "truth/calibration_fit.h"

namespace fair_gauge {

struct ModelReport {
  FitModel model = FitModel::offset;
  std::optional<CalibrationFit> fit;  ///< nothing → `why_not`
  std::string why_not;
  double worst_residual = 0;        ///< of the points, base difference units
  std::optional<double> criterion;  ///< Akaike's, corrected for few points; smaller is better; nothing for too few
  std::optional<double> left_out;   ///< rms miss of each point by a fit of the others; nothing for too few
};

struct ModelChoice {
  std::vector<ModelReport> reports;  ///< offset, gain, line, quadratic, cubic, table
  std::size_t recommended = 0;
  std::string why;                    ///< in a sentence
  std::vector<std::size_t> outliers;  ///< points that the recommended model misses by more than chance allows
  std::vector<std::string> warnings;  ///< over-fitting, extrapolation, clustered points
};

/// \param wanted     range that the correction is to serve, base units of the reading
/// \param tolerance  the channel's allowed error
/// \param unit       of the reading in the sentences; null → none is named
/// \returns the comparison; a problem without any point
/// \source Akaike's criterion with the correction of Hurvich and Tsai; outliers by the studentised deleted residual,
/// Bonferroni at 1 %
Result<ModelChoice> choose_model(const std::vector<CalibrationPoint>& points, double origin, const Range& wanted,
                                 double tolerance, const Unit* unit = nullptr);

/// A correction of the bench from a fit.
/// \param reference_standard  of what all points share: the reference's own certificate
/// \param on                  day, 2026-11-24
Correction correction_of(const CalibrationFit& fit, const std::vector<CalibrationPoint>& points,
                         double reference_standard, std::string on, std::string reference);

/// Does a reading keep its limit? With a guard band as wide as the uncertainty on both sides.
enum class Decision {
  passes,  ///< |error| + U ≤ allowed
  fails,   ///< |error| − U > allowed
  undecided
};
/// \source ISO 14253-1: to prove conformity the uncertainty counts against the one who proves
Decision decide(double error, double expanded, double allowed);

}  // namespace fair_gauge
