#include "calibrate/calibration_effect.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "digital/registers.h"
#include "language/translation.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

std::optional<double> known_share(const Budget& budget) {
  return budget.lacks_accuracy ? std::nullopt : std::optional(budget.used());
}

}  // namespace

Result<CalibrationEffect> calibration_effect(const Bench& before, const PutIn& after, const Catalogue& catalogue,
                                             const std::string& channel, const std::vector<RecordedPoint>& points,
                                             const CalibrationFit* fit) {
  const Channel* subject = find_by_id(before.channels, channel);
  const double middle = (subject->wanted.from + subject->wanted.to) / 2;
  const auto budget_of = [&](const Bench& bench) -> Result<Budget> {
    const auto chain = build_chain(bench, catalogue, channel);
    if (!chain) return chain.problem();
    return error_budget(*chain, middle);
  };
  const auto was = budget_of(before), becomes = budget_of(after.bench);
  if (!was) return was.problem();
  if (!becomes) return becomes.problem();
  double worst = 0;
  if (fit)
    for (const double residual : fit->residuals) worst = std::max(worst, std::abs(residual));
  CalibrationEffect effect{.used_before = known_share(*was),
                           .used_after = known_share(*becomes),
                           .expanded = becomes->expanded,
                           .decision = becomes->lacks_accuracy ? Decision::undecided
                                                               : decide(worst + std::abs(becomes->known_bias),
                                                                        becomes->expanded, subject->tolerance),
                           .reference_unknown = std::ranges::any_of(
                               points, [](const RecordedPoint& point) { return point.reference_standard <= 0; })};
  if (after.correction.placed == CorrectionPlace::part) {
    const Device* device = find_by_id(before.devices, subject->device);
    const Part* part = device ? catalogue.find(device->part) : nullptr;
    if (part && part->bytes.offset)
      if (const auto stored = store_limit(*part->bytes.offset, after.correction.coefficients.front(), LimitSide::upper))
        effect.offset_bytes = to_hex(stored->bytes);
  }
  return effect;
}

LogEntry calibration_entry(const Bench& before, const PutIn& after, const std::string& channel,
                           const std::vector<RecordedPoint>& points, const ModelReport* model,
                           const CalibrationEffect& effect, const CalibrationStory& story) {
  const Channel& subject = *find_by_id(before.channels, channel);
  LogEntry entry{.on = story.on, .who = story.who, .kind = EntryKind::calibration, .channel = channel};
  CalibrationRecord record{.quantity = std::string(enum_name(subject.quantity)),
                           .unit = std::string(base_unit(subject.quantity).ucum),
                           .procedure = story.procedure,
                           .reference = story.reference,
                           .points = points,
                           .tolerance = subject.tolerance,
                           .used_before = effect.used_before,
                           .used_after = effect.used_after,
                           .expanded = effect.expanded,
                           .verdict = story.verdict};
  if (model && model->fit) {
    record.model = std::string(enum_name(model->model));
    record.origin = model->fit->origin;
    record.coefficients = model->fit->coefficients;
    for (const double u : model->fit->standard_uncertainties)
      if (std::isfinite(u)) record.standard_uncertainties.push_back(u);
    record.residual_sd = model->fit->residual_sd;
  } else {
    const Device* device = find_by_id(after.bench.devices, find_by_id(after.bench.channels, channel)->device);
    for (const auto& [name, value] : device->settings)
      entry.words += fmt::format(
          "{}{} = {:.9g}", entry.words.empty() ? translated("the thermistor's own coefficients: ") : ", ", name, value);
  }
  entry.calibration = std::move(record);
  return entry;
}

}  // namespace fair_gauge
