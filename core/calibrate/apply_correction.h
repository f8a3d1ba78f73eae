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

/// Whether the reference is off by the same at every point (one instrument, one certificate) or at each by its own.
enum class ReferenceErrors { shared, independent };

/// When, and against what.
struct CalibrationWords {
  std::string on;         ///< 2026-11-24
  std::string reference;  ///< instrument and certificate
  ReferenceErrors errors = ReferenceErrors::shared;
};

/// Points as a fit takes them: the scatter of the readings, with the reference's uncertainty where that is each point's
/// own; 0 where nobody knows it. A choice between models takes all of it, a covariance only what is independent.
std::vector<CalibrationPoint> points_for_fit(const std::vector<RecordedPoint>& points,
                                             ReferenceErrors errors = ReferenceErrors::independent);

/// The channel's chain as it is without its correction; nothing if it cannot be built.
std::optional<Chain> uncorrected_chain(const Bench& bench, const Catalogue& catalogue, const std::string& channel);

/// \param fit  of points_for_fit(points); its model and origin count, its covariance is taken anew from what is
/// independent in the points
/// \returns the bench with the correction; a problem where it does not fit its place: a slope for a part's offset
/// register,
///          a point outside the codes
Result<PutIn> put_correction(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                             const CalibrationFit& fit, const std::vector<RecordedPoint>& points, CorrectionPlace place,
                             const CalibrationWords& words);

/// A correction of the raw number as one of the reading, for a channel whose raw number is not seen any more: a table
/// of straight pieces over the wanted range. \returns nothing if there is none of the raw number, or the chain cannot
/// be built
std::optional<Correction> correction_of_readings(const Bench& bench, const Catalogue& catalogue,
                                                 const std::string& channel);

/// Three coefficients of its own for a thermistor, from the resistances at three points or more, instead of a
/// correction.
Result<PutIn> put_thermistor(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                             const std::vector<RecordedPoint>& points, const CalibrationWords& words);

}  // namespace fair_gauge
