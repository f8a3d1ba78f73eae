// Chains whose raw number decides alone, or with the reading of one other channel.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "handoff/packer.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// What the exact chain itself loses in double is no error of the arithmetic.
double beyond_noise(double steps) { return std::abs(steps) < 1e-9 ? 0 : steps; }

}  // namespace

std::optional<Problem> Packer::of_number() {
  handoff_.code.is_signed = raw_range(chain_).first < 0;
  const auto exact = exact_readings(chain_, static_cast<double>(handoff_.code.per_unit), request_.is_cancelled);
  if (!exact) return exact.problem();
  exact_ = *exact;
  raw_range_ = raw_range(chain_);
  if (auto problem = choose_arithmetic()) return problem;
  number_vectors();
  handoff_.report.holds_for = translated("the bench as it is");
  return std::nullopt;
}

std::optional<Problem> Packer::of_number_and_side() {
  HandoffCode& code = handoff_.code;
  HandoffReport& report = handoff_.report;
  const auto [raw_from, raw_to] = raw_range(chain_);
  code.is_signed = raw_from < 0;
  const double unit = static_cast<double>(code.per_unit);
  SideInput side{.channel = side_->channel.id,
                 .unit = std::string(side_->shown->ucum),
                 .per_unit = usual_per_unit(smallest_uncertainty(*side_))};
  const auto [lowest, highest] = readings_of_side(static_cast<double>(side.per_unit));
  side.lowest = lowest, side.highest = highest;
  std::map<std::int64_t, Chain> chains;
  const ExactSurface exact = [&](std::int64_t raw, std::int64_t other) {
    auto known = chains.find(other);
    if (known == chains.end()) {
      auto chain =
          chain_beside_(side_->shown->to_base(static_cast<double>(other) / static_cast<double>(side.per_unit)));
      if (!chain) return std::nan("");
      known = chains.emplace(other, std::move(*chain)).first;
    }
    return exact_reading(known->second, static_cast<double>(raw)) * unit;
  };
  const double from = chain_.shown->from_base(chain_.channel.wanted.from) * unit,
               to = chain_.shown->from_base(chain_.channel.wanted.to) * unit;
  const SurfaceRange range{
      raw_from, raw_to, lowest, highest, std::min(from, to), std::max(from, to), request_.drawn_blocks};
  report.holds_for = translated("the bench as it is, beside every reading of the other channel");
  if (chain_.channel.switching) {
    code.switching = {};
    report.notes.push_back(
        translated("its switching rule is no comparison of the raw number alone: compare the value"));
  }
  return of_surface(exact, range, side);
}

std::optional<Problem> Packer::of_surface(const ExactSurface& exact, const SurfaceRange& range, const SideInput& side) {
  HandoffCode& code = handoff_.code;
  HandoffReport& report = handoff_.report;
  const double unit = static_cast<double>(code.per_unit);
  if (request_.form == HandoffForm::integer)
    return Problem{translated("two numbers meet in this channel: whole numbers alone do not do"),
                   readings_formula_ ? translated("the form table or float") : translated("the form table")};
  SurfaceProof proof;
  if (request_.form == HandoffForm::floating) {
    if (!readings_formula_)
      return Problem{translated("this channel has no formula of both numbers that could be written"),
                     translated("the form table")};
    auto surface = float_surface(exact, range, *readings_formula_, unit);
    if (!surface) return surface.problem();
    proof = prove_surface(*surface, exact, range, request_.is_cancelled);
    code.surface = std::move(*surface);
    code.surface->has_gaps = proof.gaps > 0 || !proof.exhaustive;
  } else {
    double tolerance = std::max(0.1, allowed_steps_ - 0.5);
    for (int attempt = 0; attempt < 4; ++attempt, tolerance /= 2) {
      auto surface = surface_arithmetic(exact, range, tolerance);
      if (!surface) {
        if (code.surface) break;
        return surface.problem();
      }
      proof = prove_surface(*surface, exact, range, request_.is_cancelled);
      if (proof.is_cancelled) break;
      code.surface = std::move(*surface);
      if (proof.worst_wanted <= allowed_steps_) break;
    }
  }
  if (proof.is_cancelled) return cancelled();
  if (proof.disagreements > 0)
    return Problem{translated("{} pairs of raw number and side have a reading where the chain has none, or the other "
                              "way round",
                              proof.disagreements),
                   translated("a chain with one range")};
  code.surface->word_bits = proof.largest_intermediate < (std::uint64_t{1} << 32) ? 32 : 64;
  code.arithmetic.form = code.surface->floating ? HandoffForm::floating : HandoffForm::table;
  code.arithmetic.first = code.surface->first, code.arithmetic.last = code.surface->last;
  code.side = report.side = side;
  report.form = form_name(code.arithmetic.form);
  report.codes_checked = proof.codes;
  report.exhaustive = proof.exhaustive;
  report.worst_error = beyond_noise(proof.worst) / unit;
  report.worst_error_wanted = beyond_noise(proof.worst_wanted) / unit;
  report.at_raw = fmt::format("{}", proof.at_raw), report.at_side = proof.at_side;
  report.largest_intermediate = proof.largest_intermediate;
  report.word_bits = code.surface->word_bits;
  report.notes.push_back(translated("side: the reading of {} in steps of {} {}, {} to {}", side.channel,
                                    step_words(side.per_unit), difference_symbol(side.unit), side.lowest,
                                    side.highest));
  report.notes.push_back(translated("half a step of side moves the result by up to {:.2g} {}: not in the worst error",
                                    code.surface->steepest_by_side() / 2 / unit, difference_symbol(code.unit)));
  if (!proof.exhaustive)
    report.notes.push_back(
        translated("{} pairs of raw number and side were drawn; no bound over all of them is proven", proof.codes));
  side_vectors(exact, range);
  return std::nullopt;
}

std::pair<std::int64_t, std::int64_t> Packer::readings_of_side(double per_unit) const {
  const auto [least, most] = readable_steps(*side_, per_unit);
  // What the law takes as its second number may be less: where it refuses there is no chain.
  const auto takes = [&](double steps) { return bool(chain_beside_(side_->shown->to_base(steps / per_unit))); };
  auto from = static_cast<std::int64_t>(std::ceil(least)), to = static_cast<std::int64_t>(std::floor(most));
  while (from < to && !takes(static_cast<double>(from))) ++from;
  while (to > from && !takes(static_cast<double>(to))) --to;
  return {from, to};
}

void Packer::side_vectors(const ExactSurface& exact, const SurfaceRange& range) {
  const SurfaceArithmetic& surface = *handoff_.code.surface;
  const auto add = [&](std::int64_t raw, std::int64_t other) {
    const bool python = request_.language == Language::python;
    const auto outcome = python ? surface.run_in_double(raw, other) : surface.run(raw, other);
    const bool reads = outcome.status == HandoffStatus::ok;
    // Next to a limit the chain may be of another mind by a step: no example for anybody.
    const bool outside = other < range.side_from || other > range.side_to;
    if (!outside && reads == std::isnan(exact(raw, other))) return;
    handoff_.vectors.push_back({.raw = fmt::format("{}", raw),
                                .status = outcome.status,
                                .value = reads ? std::optional(outcome.value) : std::nullopt,
                                .side = other});
  };
  std::mt19937_64 random(1);
  const auto span = static_cast<std::uint64_t>(range.side_to - range.side_from + 1);
  for (const std::int64_t raw : spread_codes(range.raw_from, range.raw_to))
    add(raw, range.side_from + static_cast<std::int64_t>(random() % span));
  for (const std::int64_t other : surface.side)
    for (const std::uint32_t x : surface.x) add(surface.first + x, other);
  for (const std::int64_t other : {range.side_from - 1, range.side_to + 1})
    add((surface.first + surface.last) / 2, other);
}

std::optional<Problem> Packer::choose_arithmetic() {
  struct Candidate {
    Arithmetic arithmetic;
    Proof proof;
  };
  std::vector<Candidate> candidates;
  Problem why{translated("no form fits"), translated("another form or fewer steps a unit")};
  const auto wants = [&](HandoffForm form) { return !request_.form || *request_.form == form; };
  const auto offer = [&](Result<Arithmetic> arithmetic) {
    if (!arithmetic) {
      why = arithmetic.problem();
      return;
    }
    const Proof proof = prove(*arithmetic, exact_);
    if (request_.form || proof.worst_wanted <= allowed_steps_) candidates.push_back({std::move(*arithmetic), proof});
  };
  const double aim = 0.5 + 0.9 * (allowed_steps_ - 0.5);
  if (wants(HandoffForm::integer)) offer(linear_arithmetic(exact_, aim));
  const bool is_straight = !candidates.empty();
  if (wants(HandoffForm::table) && (request_.form || !is_straight)) offer(table_arithmetic(exact_, aim));
  if (wants(HandoffForm::integer) && !is_straight) {
    const Problem bent = why;
    offer(polynomial_arithmetic(exact_, aim));
    if (candidates.empty()) why = bent;
  }
  // Of readings only where it is asked for: who hands in whole numbers mostly has no floating point yet.
  if (wants(HandoffForm::floating) && (request_.form || !handoff_.code.input)) {
    const auto formula = handoff_.code.input ? readings_formula_ : chain_formula(chain_);
    if (formula)
      offer(float_arithmetic(exact_, *formula, static_cast<double>(handoff_.code.per_unit)));
    else if (request_.form)
      return Problem{translated("this chain has no formula that could be written: it is searched or interpolated"),
                     translated("the form table")};
  }
  if (candidates.empty()) return why;
  const Candidate* best = &candidates.front();
  if (candidates.size() > 1 && !measuring_tools().empty()) {
    std::optional<HandoffCost> least;
    for (const Candidate& candidate : candidates) {
      HandoffCode trial = handoff_.code;
      trial.arithmetic = candidate.arithmetic;
      const auto [header, source] = write_c(trial);
      const auto cost = measure_handoff(trial.name, header, source, {}, arguments_of(trial));
      if (!cost || (least && cost->flash_bytes >= least->flash_bytes)) continue;
      least = cost;
      best = &candidate;
    }
  }
  HandoffReport& report = handoff_.report;
  const double unit = static_cast<double>(handoff_.code.per_unit);
  handoff_.code.arithmetic = best->arithmetic;
  report.form = form_name(best->arithmetic.form);
  const auto [lowest, highest] = raw_range_;
  report.codes_checked = highest - lowest + 1;  // those without a reading are told by their range
  report.exhaustive = true;
  report.worst_error = beyond_noise(best->proof.worst) / unit;
  report.worst_error_wanted = beyond_noise(best->proof.worst_wanted) / unit;
  report.at_raw = fmt::format("{}", best->proof.at);
  report.largest_intermediate = best->proof.largest_intermediate;
  constexpr std::int64_t drawn_stretches = 512;
  handoff_.errors = errors_across(best->arithmetic, exact_, drawn_stretches);
  for (ErrorStretch& each : handoff_.errors)
    each.least = beyond_noise(each.least) / unit, each.most = beyond_noise(each.most) / unit;
  report.word_bits = best->arithmetic.word_bits();
  return std::nullopt;
}

std::vector<std::int64_t> Packer::spread_codes(std::int64_t lowest, std::int64_t highest) const {
  std::set<std::int64_t> codes;
  if (highest - lowest < 4096) {
    for (std::int64_t raw = lowest; raw <= highest; ++raw) codes.insert(raw);
  } else {
    for (std::size_t i = 0; i < many_vectors; ++i)
      codes.insert(lowest + static_cast<std::int64_t>(static_cast<double>(highest - lowest) * static_cast<double>(i) /
                                                      (many_vectors - 1)));
    const Arithmetic& arithmetic = handoff_.code.arithmetic;
    for (const std::int64_t end : {arithmetic.first, arithmetic.last})
      for (std::int64_t near = -1; near <= 1; ++near) codes.insert(std::clamp(end + near, lowest, highest));
    if (arithmetic.form == HandoffForm::table)
      for (const std::uint32_t x : arithmetic.table.x)
        for (std::int64_t near = -1; near <= 1; ++near)
          codes.insert(std::clamp(arithmetic.first + x + near, lowest, highest));
  }
  return {codes.begin(), codes.end()};
}

void Packer::number_vectors() {
  const auto [lowest, highest] = raw_range_;
  const Arithmetic& arithmetic = handoff_.code.arithmetic;
  const bool python = request_.language == Language::python;
  for (const std::int64_t raw : spread_codes(lowest, highest)) {
    HandoffVector vector{.raw = fmt::format("{}", raw), .status = HandoffStatus::ok, .value = std::nullopt};
    if (raw < arithmetic.first)
      vector.status = HandoffStatus::low;
    else if (raw > arithmetic.last)
      vector.status = HandoffStatus::high;
    else
      vector.value = python ? arithmetic.run_in_double(raw) : arithmetic.run(raw);
    handoff_.vectors.push_back(std::move(vector));
  }
}

}  // namespace fair_gauge
