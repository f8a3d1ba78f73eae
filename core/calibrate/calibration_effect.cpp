#include "calibrate/calibration_effect.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "digital/registers.h"
#include "language/translation.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

constexpr int places = 8;  // of the wanted range, beside its beginning

// What the chain is good for all over the wanted range.
struct Everywhere {
  double used = 0, expanded = 0;  // at its worst
  bool lacks_accuracy = false;
  Decision decision = Decision::passes;
};
// \param missed  by the correction at its points
Result<Everywhere> everywhere(const Chain& chain, const Channel& subject, double missed) {
  std::optional<Everywhere> all;
  Problem why;
  for (int i = 0; i <= places; ++i) {
    const double at = subject.wanted.from + (subject.wanted.to - subject.wanted.from) * i / places;
    const auto budget = error_budget(chain, at);
    if (!budget) {
      why = budget.problem();
      continue;
    }
    if (!all) all.emplace();
    all->used = std::max(all->used, budget->used());
    all->expanded = std::max(all->expanded, budget->expanded);
    all->lacks_accuracy |= budget->lacks_accuracy;
    const Decision here = decide(missed + std::abs(budget->known_bias), budget->expanded, subject.tolerance);
    if (here == Decision::fails || all->decision == Decision::passes) all->decision = here;
  }
  if (!all) return why;
  if (all->lacks_accuracy) all->decision = Decision::undecided;
  return *all;
}

// The points hold readings without any correction; what the channel showed had the one of then.
std::optional<AsFound> as_found(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                const std::vector<RecordedPoint>& points) {
  const auto with = build_chain(bench, catalogue, channel);
  const auto without = uncorrected_chain(bench, catalogue, channel);
  if (!with || !without) return std::nullopt;
  std::optional<AsFound> worst;
  for (const RecordedPoint& point : points) {
    const double error = read_mean_raw(*with, mean_raw_for(*without, point.reading)) - point.reference;
    if (std::isfinite(error) && (!worst || std::abs(error) > std::abs(worst->error)))
      worst = AsFound{.at = point.reference, .error = error};
  }
  return worst;
}

}  // namespace

Result<CalibrationEffect> calibration_effect(const Bench& before, const PutIn& after, const Catalogue& catalogue,
                                             const std::string& channel, const std::vector<RecordedPoint>& points,
                                             const CalibrationFit* fit) {
  const Channel* subject = find_by_id(before.channels, channel);
  double missed = 0;
  if (fit)
    for (const double residual : fit->residuals) missed = std::max(missed, std::abs(residual));
  const auto on = [&](const Bench& bench) -> Result<Everywhere> {
    const auto chain = build_chain(bench, catalogue, channel);
    if (!chain) return chain.problem();
    return everywhere(*chain, *subject, missed);
  };
  const auto was = on(before), becomes = on(after.bench);
  if (!was) return was.problem();
  if (!becomes) return becomes.problem();
  const auto known_share = [](const Everywhere& all) {
    return all.lacks_accuracy ? std::nullopt : std::optional(all.used);
  };
  CalibrationEffect effect{.used_before = known_share(*was),
                           .used_after = known_share(*becomes),
                           .found = as_found(before, catalogue, channel, points),
                           .expanded = becomes->expanded,
                           .decision = becomes->decision,
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

std::string decision_words(const CalibrationEffect& effect) {
  if (!effect.used_after)
    return translated(
        "No sheet states an accuracy, and one point proves itself alone: how far it is off elsewhere stays unknown.");
  const std::string words =
      effect.decision == Decision::passes  ? translated("Corrected, it keeps its limit, the uncertainty counted in.")
      : effect.decision == Decision::fails ? translated("Even corrected, it does not keep its limit.")
                                           : translated("Too close to tell: the uncertainty reaches over the limit.");
  return effect.reference_unknown
             ? words + ' ' + translated("A reference of unknown error counts as right: this verdict is a hope.")
             : words;
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
                           .holds_from = subject.wanted.from,
                           .holds_to = subject.wanted.to,
                           .found_at = effect.found ? std::optional(effect.found->at) : std::nullopt,
                           .found_error = effect.found ? std::optional(effect.found->error) : std::nullopt,
                           .used_before = effect.used_before,
                           .used_after = effect.used_after,
                           .expanded = effect.expanded,
                           .verdict = decision_words(effect)};
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
