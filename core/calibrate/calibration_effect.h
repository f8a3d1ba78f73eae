// What a calibration buys, and its entry in the logbook.
#pragma once

#include "calibrate/apply_correction.h"
#include "truth/model_choice.h"

namespace fair_gauge {

/// What the channel showed before anything was changed, at the point where it was off by most. Base units.
struct AsFound {
  double at = 0;     ///< the reference
  double error = 0;  ///< what was shown, with the correction in place then, − reference
};

/// A channel before and after a correction, each where it is worst in the wanted range.
struct CalibrationEffect {
  std::optional<double> used_before;  ///< share of the allowed error; nothing where nobody knows how far it may be off
  std::optional<double> used_after;
  std::optional<AsFound> found = {};
  double expanded = 0;                           ///< of a reading afterwards, 95 %, base units
  Decision decision = Decision::undecided;       ///< with what the model leaves at its worst point
  std::optional<std::string> offset_bytes = {};  ///< hexadecimal, to be written to the part's offset register
  bool reference_unknown = false;                ///< of one of the points nobody knows how good it is
};
/// \param fit  that was put in; null → the part's own law was fitted
/// \returns a problem where either chain has no reading anywhere in the wanted range
Result<CalibrationEffect> calibration_effect(const Bench& before, const PutIn& after, const Catalogue& catalogue,
                                             const std::string& channel, const std::vector<RecordedPoint>& points,
                                             const CalibrationFit* fit);

/// Whether a corrected reading keeps its limit, in sentences.
std::string decision_words(const CalibrationEffect& effect);

/// What only the person knows of a calibration.
struct CalibrationStory {
  std::string on, who, procedure, reference;
};
/// The logbook's entry of it.
LogEntry calibration_entry(const Bench& before, const PutIn& after, const std::string& channel,
                           const std::vector<RecordedPoint>& points, const ModelReport* model,
                           const CalibrationEffect& effect, const CalibrationStory& story);

}  // namespace fair_gauge
