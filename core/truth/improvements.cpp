// What to improve next: each possible change is made to a copy of the bench and the budget computed anew.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <optional>

#include "language/translation.h"
#include "parts/setting_name.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

// What a change may look at and alter. Everything is of the copied bench.
struct Workplace {
  Bench& bench;
  Channel& channel;
  Device& device;
  Converter* converter;
  const Part* part;
};

// What a careful person's reference at home is worth, one standard uncertainty in base units.
double good_reference(const Channel& channel) {
  if (channel.quantity == Quantity::temperature) return 0.05;  // a certified thermometer in a stirred bath
  if (channel.quantity == Quantity::humidity) return 1.0;      // saturated salts
  if (channel.quantity == Quantity::pressure)
    return channel.kind == PressureKind::absolute ? 30 : 1;  // a report nearby; a water column
  return 0.03 * channel.wanted.to;                           // a light meter
}

Correction planned(const Channel& channel, std::vector<double> coefficients, std::string note) {
  Correction correction = channel.correction;
  const double middle = (channel.wanted.from + channel.wanted.to) / 2;
  const bool one = coefficients.size() == 1;
  correction.coefficients = std::move(coefficients);
  correction.table.clear();
  correction.covariance.clear();
  correction.standard_uncertainty = good_reference(channel);
  correction.covered = one ? Range{middle, middle} : Range{channel.wanted.from, channel.wanted.to};
  correction.note = std::move(note);
  return correction;
}

// Makes a change and says it in words; nothing if it does not apply.
using Change = std::optional<std::string> (*)(Workplace&);

std::optional<std::string> finer_resistor(Workplace& at) {
  constexpr double fine = 0.001;
  FrontEnd& front_end = at.device.front_end;
  if (front_end.kind != FrontEndKind::divider || front_end.fixed_tolerance <= fine) return std::nullopt;
  front_end.fixed_tolerance = fine;
  return translated("Resistor of 0.1 %");
}

std::optional<std::string> calibrate_one_point(Workplace& at) {
  if (!at.channel.correction.empty()) return std::nullopt;
  at.channel.correction = planned(at.channel, {0}, translated("planned: one point"));
  return translated("Calibrate one point");
}

// A correction is worth what its reference is worth: against one of unknown error the sheet still counts.
std::optional<std::string> state_reference(Workplace& at) {
  Correction& now = at.channel.correction;
  if (now.empty() || now.standard_uncertainty > 0) return std::nullopt;
  now.standard_uncertainty = good_reference(at.channel);
  now.covariance.clear();
  return translated("Repeat the points against a reference whose error is stated");
}

std::optional<std::string> calibrate_two_points(Workplace& at) {
  const Correction& now = at.channel.correction;
  if (!now.empty() && now.standard_uncertainty <= 0) return std::nullopt;
  if (now.coefficients.size() > 1 || !now.table.empty()) return std::nullopt;
  at.channel.correction = planned(at.channel, {now.coefficients.empty() ? 0 : now.coefficients.front(), 0},
                                  translated("planned: both ends of the range"));
  return translated("Calibrate both ends");
}

// The same part, better sorted, of a grade that is made for the whole of the wanted range.
std::optional<std::string> better_grade(Workplace& at) {
  const PartQuantity* quantity = at.part ? at.part->measures(at.channel.quantity) : nullptr;
  if (!quantity) return std::nullopt;
  const double middle = (at.channel.wanted.from + at.channel.wanted.to) / 2;
  const auto holds_at = [&](double world, const std::string& grade) {
    return std::ranges::any_of(quantity->accuracy, [&](const AccuracyBand& band) {
      return band.grade == grade && world >= band.from && world <= band.to;
    });
  };
  std::string best;
  double least = std::numeric_limits<double>::infinity();
  for (const AccuracyBand& band : quantity->accuracy) {
    double half_width = std::max(band.value, band.below);
    for (const auto& [number, share] : band.numbers) half_width += share;
    if (!band.grade.empty() && middle >= band.from && middle <= band.to && half_width < least &&
        holds_at(at.channel.wanted.from, band.grade) && holds_at(at.channel.wanted.to, band.grade))
      least = half_width, best = band.grade;
  }
  if (best.empty() || best == at.device.grade) return std::nullopt;
  at.device.grade = best;
  return translated("The same part, {}", best);
}

std::optional<std::string> measure_reference(Workplace& at) {
  constexpr double good_meter = 0.0005;
  if (!at.converter) return std::nullopt;
  Rail* rail = find_by_id(at.bench.rails, at.converter->reference_rail);
  KnownVoltage& reference = rail ? rail->voltage : at.converter->reference;
  if (reference.relative_half_width() <= good_meter) return std::nullopt;
  reference.measured_v = reference.best_v();
  reference.meter_uncertainty = good_meter;
  return translated("Measure the reference to 0.05 %");
}

std::optional<std::string> average(Workplace& at) {
  if (!at.converter || at.converter->noise_lsb <= 0) return std::nullopt;
  at.converter->noise_lsb /= 4;
  return translated("Average 16 readings");
}

std::optional<std::string> more_bits(Workplace& at) {
  if (!at.converter || at.converter->bits >= 16) return std::nullopt;
  // The same converter errors in volts, only finer steps.
  const double factor = std::exp2(16 - at.converter->bits);
  at.converter->bits = 16;
  at.converter->register_bits = 0;
  at.converter->noise_lsb *= factor;
  at.converter->inl_lsb *= factor;
  at.converter->offset_lsb *= factor;
  return translated("Converter of 16 bits");
}

struct Proposal {
  Change change;
  bool is_of_points = false;  // exact where its points lie: what counts is how far it holds from there
};

constexpr Proposal proposals[] = {{finer_resistor},
                                  {calibrate_one_point, true},
                                  {calibrate_two_points, true},
                                  {state_reference, true},
                                  {better_grade},
                                  {measure_reference},
                                  {average},
                                  {more_bits}};

std::optional<double> share_used(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                                 double world) {
  const auto chain = build_chain(bench, catalogue, channel_id);
  if (!chain) return std::nullopt;
  const auto budget = error_budget(*chain, world);
  return budget ? std::optional(budget->used()) : std::nullopt;
}

// Whether both ends of what is wanted have a raw number: a finer setting may end before them.
bool reads_what_is_wanted(const Bench& bench, const Catalogue& catalogue, const Channel& channel) {
  const auto chain = build_chain(bench, catalogue, channel.id);
  return chain && raw_for(*chain, channel.wanted.from) && raw_for(*chain, channel.wanted.to);
}

// Of the choices that a part's settings leave, the best of each setting by itself. What the specimen or its wiring is
// cannot be chosen.
std::vector<Improvement> better_settings(const Bench& bench, const Catalogue& catalogue, const Channel& channel,
                                         const std::function<std::optional<double>(const Bench&)>& share) {
  std::vector<Improvement> found;
  const Device* device = find_by_id(bench.devices, channel.device);
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  if (!part || part->bytes.settings.empty()) return found;
  const bool reads_all = reads_what_is_wanted(bench, catalogue, channel);
  for (const PartSetting& setting : part->bytes.settings) {
    if (setting.is_fact) continue;
    const auto kept = device->settings.find(setting.key);
    const double now = kept == device->settings.end() ? setting.default_value : kept->second;
    std::optional<Improvement> best;
    for (const SettingChoice& choice : setting.choices) {
      if (choice.value == now) continue;
      Bench changed = bench;
      find_by_id(changed.devices, device->id)->settings[setting.key] = choice.value;
      const auto after = share(changed);
      if (after && (!best || *after < best->used_after) &&
          (!reads_all || reads_what_is_wanted(changed, catalogue, channel)))
        best = {.words = translated("Set {} to {}", setting_name(setting), choice_name(choice)),
                .bench = std::move(changed),
                .used_after = *after};
    }
    if (best) found.push_back(std::move(*best));
  }
  return found;
}

}  // namespace

std::vector<Improvement> improvements(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                                      double world) {
  const auto share = [&](const Bench& changed) { return share_used(changed, catalogue, channel_id, world); };
  const auto before = share(bench);
  if (!before) return {};
  std::vector<Improvement> found;
  // Of what is worked out, its inputs can be improved.
  const Channel& asked = *find_by_id(bench.channels, channel_id);
  std::vector<std::string> places = {asked.id};
  if (asked.derived) places = {asked.derived->of, asked.derived->beside};
  for (const std::string& place : places) {
    const Channel* input = find_by_id(bench.channels, place);
    if (!input) continue;
    std::vector<Improvement> here = better_settings(bench, catalogue, *input, share);
    for (const auto& [change, is_of_points] : proposals) {
      Bench changed = bench;
      Channel* channel = find_by_id(changed.channels, place);
      Device* device = find_by_id(changed.devices, channel->device);
      Device unknown;  // of a value that arrives, behind which nobody knows the part
      Workplace at{changed, *channel, device ? *device : unknown,
                   device ? find_by_id(changed.converters, device->converter) : nullptr,
                   device ? catalogue.find(device->part) : nullptr};
      const auto words = change(at);
      if (!words) continue;
      auto after = share(changed);
      if (after && is_of_points && !asked.derived)
        for (const double end : {asked.wanted.from, asked.wanted.to})
          after = std::max(after, share_used(changed, catalogue, channel_id, end));
      if (after) here.push_back({*words, std::move(changed), 0, *after});
    }
    for (Improvement& each : here) {
      if (each.used_after >= *before - 0.01) continue;
      each.used_before = *before;
      if (asked.derived) each.words = called(*input) + ": " + each.words;
      found.push_back(std::move(each));
    }
  }
  std::ranges::sort(found, {}, &Improvement::used_after);
  return found;
}

}  // namespace fair_gauge
