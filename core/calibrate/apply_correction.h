// What a calibration does to a bench: the correction in its place.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "chain/chain.h"
#include "logbook/logbook.h"
#include "truth/calibration_fit.h"

namespace fair_gauge {

struct PutIn {
  Bench bench;
  Correction correction;
};

/// When, and against what.
struct CalibrationWords {
  std::string on;         ///< 2026-11-24
  std::string reference;  ///< instrument and certificate
};

/// Points as a fit takes them: the reference's uncertainty and the scatter of the readings together; 0 where nobody
/// knows the reference.
std::vector<CalibrationPoint> points_for_fit(const std::vector<RecordedPoint>& points);

/// The channel's chain as it is without its correction; nothing if it cannot be built.
std::optional<Chain> uncorrected_chain(const Bench& bench, const Catalogue& catalogue, const std::string& channel);

/// \param fit  of points_for_fit(points)
/// \returns the bench with the correction; a problem where it does not fit its place: a slope for a part's offset
/// register,
///          a point outside the codes
Result<PutIn> put_correction(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                             const CalibrationFit& fit, const std::vector<RecordedPoint>& points, CorrectionPlace place,
                             const CalibrationWords& words);

/// Three coefficients of its own for a thermistor, from the resistances at three points or more, instead of a
/// correction.
Result<PutIn> put_thermistor(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                             const std::vector<RecordedPoint>& points, const CalibrationWords& words);

}  // namespace fair_gauge
