#include "calibrate/apply_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "sizing/own_curve.h"
#include "truth/model_choice.h"

namespace fair_gauge {
namespace {

double scatter_of(const RecordedPoint& point) {
  return point.spread / std::sqrt(static_cast<double>(std::max(1, point.readings)));
}

constexpr double smallest_standard = 1e-9;  // a correction is known to something, or it is not counted

// What all points have in common is not averaged away: the best reference among them; 0 if nobody knows any.
double shared_standard(const std::vector<RecordedPoint>& points) {
  double best = 0;
  for (const RecordedPoint& point : points)
    if (point.reference_standard > 0)
      best = best == 0 ? point.reference_standard : std::min(best, point.reference_standard);
  return best;
}

bool reference_is_known(const std::vector<RecordedPoint>& points) {
  return std::ranges::all_of(points, [](const RecordedPoint& point) { return point.reference_standard > 0; });
}

// The same points as raw numbers: what the raw number should have been.
std::optional<Problem> turn_raw(Correction& correction, const Chain& chain, const CalibrationFit& fit,
                                const std::vector<CalibrationPoint>& points) {
  std::vector<CalibrationPoint> raw;
  for (const CalibrationPoint& point : points) {
    const auto was = raw_for(chain, point.reading), should = raw_for(chain, point.reference);
    if (!was || !should)
      return Problem{translated("a point lies outside the codes"), translated("points within the converter's range")};
    raw.push_back({mean_raw_for(chain, point.reference), mean_raw_for(chain, point.reading), 0});
  }
  const auto of_raw = fit_calibration(fit.model, raw, 0);
  if (!of_raw) return of_raw.problem();
  const Correction made = correction_of(*of_raw, raw, 0, correction.on, correction.reference);
  correction.coefficients = made.coefficients;
  correction.table = made.table;
  correction.origin = 0;
  // Its covariance is of raw numbers; on the reading it counts as its largest.
  correction.covariance.clear();
  double worst = 0;
  for (const CalibrationPoint& point : points)
    if (const double u = fit.predict(point.reading).standard_uncertainty; std::isfinite(u)) worst = std::max(worst, u);
  if (correction.standard_uncertainty > 0)
    correction.standard_uncertainty = std::hypot(correction.standard_uncertainty, worst);
  correction.covered.reset();
  return std::nullopt;
}

}  // namespace

std::vector<CalibrationPoint> points_for_fit(const std::vector<RecordedPoint>& points, ReferenceErrors errors) {
  std::vector<CalibrationPoint> fitted;
  // The reference's uncertainty is in all points alike unless the person says otherwise: it counts once, for the whole.
  for (const RecordedPoint& point : points)
    fitted.push_back({point.reference, point.reading,
                      errors == ReferenceErrors::shared ? scatter_of(point)
                      : point.reference_standard > 0    ? std::hypot(point.reference_standard, scatter_of(point))
                                                        : 0});
  return fitted;
}

std::optional<Chain> uncorrected_chain(const Bench& bench, const Catalogue& catalogue, const std::string& channel) {
  Bench without = bench;
  if (Channel* each = find_by_id(without.channels, channel)) each->correction = {};
  auto chain = build_chain(without, catalogue, channel);
  return chain ? std::optional(std::move(*chain)) : std::nullopt;
}

Result<PutIn> put_correction(const Bench& bench, const Catalogue& catalogue, const std::string& id,
                             const CalibrationFit& fit, const std::vector<RecordedPoint>& points, CorrectionPlace place,
                             const CalibrationWords& words) {
  PutIn put{.bench = bench};
  Channel* channel = find_by_id(put.bench.channels, id);
  if (!channel || points.empty())
    return Problem{translated("there is nothing to correct"), translated("a channel and a point")};
  if (channel->derived)
    return Problem{translated("what is worked out has no correction of its own"),
                   translated("a correction of what it is worked out from")};
  const auto fitted = points_for_fit(points, words.errors);
  const CalibrationFit used = fit_calibration(fit.model, fitted, fit.origin).value_or(fit);
  Correction& correction = put.correction;
  correction =
      correction_of(used, fitted, words.errors == ReferenceErrors::shared ? shared_standard(points) : smallest_standard,
                    words.on, words.reference);
  // Against a reference that nobody knows the points prove nothing: what the sheets promise stays in the budget.
  if (!reference_is_known(points)) {
    correction.standard_uncertainty = 0;
    correction.note += translated(", reference of unknown error");
  }
  correction.placed = place;
  correction.drift_per_year = channel->correction.drift_per_year;
  if (place == CorrectionPlace::part && correction.coefficients.size() != 1)
    return Problem{translated("the part's register holds one offset, no slope"), translated("the model of one offset")};
  if (place == CorrectionPlace::raw) {
    const auto chain = uncorrected_chain(bench, catalogue, id);
    if (!chain) return Problem{translated("the chain cannot be built"), translated("a channel that can be read")};
    if (auto problem = turn_raw(correction, *chain, used, fitted)) return *problem;
  }
  channel->correction = correction;
  return put;
}

std::optional<Correction> correction_of_readings(const Bench& bench, const Catalogue& catalogue,
                                                 const std::string& id) {
  const Channel* channel = find_by_id(bench.channels, id);
  if (!channel || channel->correction.empty() || channel->correction.placed != CorrectionPlace::raw)
    return std::nullopt;
  const auto with = build_chain(bench, catalogue, id);
  const auto without = uncorrected_chain(bench, catalogue, id);
  if (!with || !without) return std::nullopt;
  Correction moved = channel->correction;
  moved.placed = CorrectionPlace::physical;
  moved.coefficients.clear();
  moved.table.clear();
  constexpr int pieces = 16;
  for (int i = 0; i <= pieces; ++i) {
    const double wanted = channel->wanted.from + (channel->wanted.to - channel->wanted.from) * i / pieces;
    const auto raw = raw_for(*without, wanted);
    const auto reading = raw ? read_raw(*without, *raw) : raw, corrected = raw ? read_raw(*with, *raw) : raw;
    if (reading && corrected && (moved.table.empty() || *reading > moved.table.back()[0]))
      moved.table.push_back({*reading, *corrected - *reading});
  }
  return moved.table.empty() ? std::nullopt : std::optional(moved);
}

Result<PutIn> put_thermistor(const Bench& bench, const Catalogue& catalogue, const std::string& id,
                             const std::vector<RecordedPoint>& points, const CalibrationWords& words) {
  const auto chain = uncorrected_chain(bench, catalogue, id);
  const Stage* sensor = chain ? chain->stage(StageName::sensor) : nullptr;
  if (!sensor || sensor->unit->dimension != Dimension::resistance)
    return Problem{translated("this channel has no thermistor"), translated("a thermistor in a divider")};
  std::vector<CurvePoint> curve;
  for (const RecordedPoint& point : points) {
    const auto values = evaluate(*chain, {StageName::world, point.reading});
    const auto& ohms = values[static_cast<std::size_t>(sensor - chain->stages.data())];
    if (!ohms) return ohms.problem();
    curve.push_back({point.reference, *ohms});
  }
  std::ranges::sort(curve, {}, &CurvePoint::quantity);
  const auto fit = fit_own_curve(CurveKind::steinhart, curve);
  if (!fit) return fit.problem();
  PutIn put{.bench = bench};
  Channel& channel = *find_by_id(put.bench.channels, id);
  Device& device = *find_by_id(put.bench.devices, channel.device);
  device.part = "ntc-steinhart";
  device.settings = fit->transfer.numbers;
  // What the curve leaves is the calibration's own uncertainty; the correction itself is nothing.
  put.correction.coefficients = {0};
  if (reference_is_known(points))
    put.correction.standard_uncertainty = std::hypot(shared_standard(points), fit->largest_error);
  put.correction.covered = Range{curve.front().quantity, curve.back().quantity};
  put.correction.on = words.on;
  put.correction.reference = words.reference;
  put.correction.note =
      translated("own coefficients by {} points{}", points.size(), words.on.empty() ? "" : ", " + words.on);
  channel.correction = put.correction;
  return put;
}

}  // namespace fair_gauge
