#include "handoff/handoff.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>
#include <set>
#include <tuple>

#include "handoff/byte_runner.h"
#include "handoff/exact_readings.h"
#include "handoff/reading_plan.h"
#include "handoff/write_filter.h"
#include "quantity/number_format.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

constexpr std::size_t many_vectors = 4096;

std::int64_t usual_per_unit(double uncertainty) {
  std::int64_t per_unit = 1;
  while (0.5 / static_cast<double>(per_unit) > uncertainty / 5 && per_unit < 1'000'000'000) per_unit *= 10;
  return per_unit;
}

Result<SheetArithmetic> sheet_arithmetic(const Chain& chain, const BytePlan& plan, double per_unit) {
  SheetArithmetic sheet{.formula = plan.formula, .quantity = chain.channel.quantity};
  const bool bmx = plan.formula == "bmp280" || plan.formula == "bme280", ms = plan.formula.starts_with("ms56");
  if (!bmx && !ms && plan.formula != "bmp180")
    return Problem{fmt::format("the sheet's formula of \"{}\" has no form in whole numbers here", chain.part_id),
                   "a part whose compensation is handed over"};
  sheet.per_base = chain.channel.quantity == Quantity::temperature ? plan.formula == "bmp180" ? 10 : 100
                   : chain.channel.quantity == Quantity::humidity  ? 1024
                   : bmx                                           ? 256
                                                                   : 1;
  const auto affine = affine_after(chain);
  if (!affine)
    return Problem{"the correction of this channel bends: it is not handed over behind a sheet's formula",
                   "a correction with an offset or a slope"};
  const PartQuantity& quantity = *chain.decoder->part().measures(chain.channel.quantity);
  const double slope = affine->first * per_unit / sheet.per_base, offset = affine->second * per_unit;
  const double margin = 0.1 * (quantity.maximum - quantity.minimum);
  const double low = quantity.minimum - margin, high = quantity.maximum + margin;
  // Wide enough for any number the formula may give; the multiplier has at most 31 bits.
  sheet.shift = std::clamp(static_cast<int>(std::floor(30 - std::log2(std::abs(slope)))), 0, 30);
  sheet.multiplier = static_cast<std::int64_t>(std::llround(slope * std::exp2(sheet.shift)));
  sheet.addend = static_cast<std::int64_t>(std::llround((offset + 0.5) * std::exp2(sheet.shift)));
  const auto steps = [&](double base) { return (affine->first * base + affine->second) * per_unit; };
  sheet.lowest = static_cast<std::int64_t>(std::ceil(std::min(steps(low), steps(high)) - 0.5));
  sheet.highest = static_cast<std::int64_t>(std::floor(std::max(steps(low), steps(high)) + 0.5));
  return sheet;
}

std::vector<std::string> field_names(const BytePlan& plan) {
  std::vector<std::string> names;
  for (const PlannedField& field : plan.fields) names.push_back(field.name);
  return names;
}

std::string form_name(HandoffForm form) {
  return form == HandoffForm::integer ? "integer" : form == HandoffForm::table ? "table" : "float";
}

class Packer {
 public:
  Packer(const Chain& chain, const HandoffRequest& request) : chain_(chain), request_(request) {}

  /// The reading of another channel is one more argument. \param at  the exact chain beside one of its readings, base
  /// units
  void take_side(const Chain& side, std::function<Result<Chain>(double)> at) {
    side_ = &side;
    chain_beside_ = std::move(at);
  }

  Result<Handoff> pack() {
    const double uncertainty = smallest_uncertainty(chain_);
    HandoffCode& code = handoff_.code;
    code.per_unit = request_.per_unit > 0 ? request_.per_unit : usual_per_unit(uncertainty);
    code.name = c_identifier(chain_.channel.id);
    code.channel_name = chain_.channel.name.empty() ? chain_.channel.id : chain_.channel.name;
    code.unit = chain_.shown->ucum;
    code.trimming_loaded = request_.trimming_loaded;
    HandoffReport& report = handoff_.report;
    report.channel = chain_.channel.id;
    report.language = request_.language == Language::c ? "c" : "python";
    report.unit = chain_.shown->ucum;
    report.per_unit = code.per_unit;
    report.source = chain_fingerprint(chain_);
    report.allowed_error = uncertainty / 10;
    if (code.name != chain_.channel.id)
      report.notes.push_back(fmt::format("\"{}\" is no name in C: it is called {}", chain_.channel.id, code.name));
    allowed_steps_ = 0.5 + uncertainty / 10 * static_cast<double>(code.per_unit);
    code.comments.push_back(fmt::format("{}, {}", code.channel_name, enum_name(chain_.channel.quantity)));
    if (chain_.channel.switching)
      code.switching = switch_codes(chain_, rule_of(*chain_.channel.switching, *chain_.shown));
    if (chain_.channel.switching && !chain_.channel.switching->schedule.empty())
      report.notes.push_back("its goal changes over the day: compare the value with the goal of the time");
    const auto problem = chain_.decoder ? of_bytes() : side_ ? of_number_and_side() : of_number();
    if (problem) return *problem;
    if (request_.is_cancelled && request_.is_cancelled()) return cancelled();
    finish();
    handoff_.files[code.name + "_report.json"] = report_json(report);
    return std::move(handoff_);
  }

 private:
  std::optional<Problem> of_number() {
    handoff_.code.is_signed = raw_range(chain_).first < 0;
    const auto exact = exact_readings(chain_, static_cast<double>(handoff_.code.per_unit), request_.is_cancelled);
    if (!exact) return exact.problem();
    exact_ = *exact;
    if (auto problem = choose_arithmetic()) return problem;
    number_vectors();
    handoff_.report.holds_for = "the bench as it is";
    return std::nullopt;
  }

  // Points over the raw number and the other reading; closer ones until the proof is content.
  std::optional<Problem> of_number_and_side() {
    if (request_.form && *request_.form != HandoffForm::table)
      return Problem{"two numbers meet in this chain: it is handed over as a table of both", "--form table or auto"};
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
    SurfaceProof proof;
    double tolerance = std::max(0.1, allowed_steps_ - 0.5);
    for (int attempt = 0; attempt < 4; ++attempt, tolerance /= 2) {
      auto surface = surface_arithmetic(exact, range, tolerance);
      if (!surface) {
        if (code.surface) break;
        return surface.problem();
      }
      proof = prove_surface(*surface, exact, range, request_.is_cancelled);
      if (proof.is_cancelled) return cancelled();
      code.surface = std::move(*surface);
      if (proof.worst_wanted <= allowed_steps_) break;
    }
    if (proof.disagreements > 0)
      return Problem{
          fmt::format("{} pairs of raw number and side have a reading where the chain has none, or the other "
                      "way round",
                      proof.disagreements),
          "a chain with one range"};
    code.surface->word_bits = proof.largest_intermediate < (std::uint64_t{1} << 32) ? 32 : 64;
    code.arithmetic.form = HandoffForm::table;
    code.arithmetic.first = code.surface->first, code.arithmetic.last = code.surface->last;
    code.side = report.side = side;
    report.form = form_name(HandoffForm::table);
    report.codes_checked = proof.codes;
    report.exhaustive = proof.exhaustive;
    report.worst_error = proof.worst / unit, report.worst_error_wanted = proof.worst_wanted / unit;
    report.at_raw = fmt::format("{}", proof.at_raw), report.at_side = proof.at_side;
    report.largest_intermediate = proof.largest_intermediate;
    report.word_bits = code.surface->word_bits;
    report.holds_for = "the bench as it is, beside every reading of the other channel";
    report.notes.push_back(fmt::format("side: the reading of {} in steps of 1/{} {}, {} to {}", side.channel,
                                       side.per_unit, side.unit, side.lowest, side.highest));
    report.notes.push_back(
        fmt::format("half a step of side moves the result by up to {:.2g} {}: not in the worst error",
                    code.surface->steepest_by_side() / 2 / unit, code.unit));
    if (!proof.exhaustive)
      report.notes.push_back(
          fmt::format("{} pairs of raw number and side were drawn; no bound over all of them is proven", proof.codes));
    if (chain_.channel.switching) {
      code.switching = {};
      report.notes.push_back("its switching rule is no comparison of the raw number alone: compare the value");
    }
    side_vectors(exact, range);
    return std::nullopt;
  }

  // Steps of what the other channel can read.
  std::pair<std::int64_t, std::int64_t> readings_of_side(double per_unit) const {
    double least = std::numeric_limits<double>::infinity(), most = -least;
    const auto [low, high] = raw_range(*side_);
    const std::int64_t step = std::max<std::int64_t>(1, (high - low) / 4096);
    for (std::int64_t raw = low; raw <= high; raw += step)
      if (const double reading = exact_reading(*side_, static_cast<double>(raw)) * per_unit; !std::isnan(reading))
        least = std::min(least, reading), most = std::max(most, reading);
    // What the law takes as its second number may be less: where it refuses there is no chain.
    const auto takes = [&](double steps) { return bool(chain_beside_(side_->shown->to_base(steps / per_unit))); };
    auto from = static_cast<std::int64_t>(std::ceil(least)), to = static_cast<std::int64_t>(std::floor(most));
    while (from < to && !takes(static_cast<double>(from))) ++from;
    while (to > from && !takes(static_cast<double>(to))) --to;
    return {from, to};
  }

  void side_vectors(const ExactSurface& exact, const SurfaceRange& range) {
    const SurfaceArithmetic& surface = *handoff_.code.surface;
    const auto add = [&](std::int64_t raw, std::int64_t other) {
      const auto outcome = surface.run(raw, other);
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

  // Each form that fits, then the cheapest of them.
  std::optional<Problem> choose_arithmetic() {
    struct Candidate {
      Arithmetic arithmetic;
      Proof proof;
    };
    std::vector<Candidate> candidates;
    Problem why{"no form fits", "another form or fewer steps a unit"};
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
    if (wants(HandoffForm::table) && (request_.form || candidates.empty())) offer(table_arithmetic(exact_, aim));
    if (wants(HandoffForm::floating)) {
      const auto formula = chain_formula(chain_);
      if (formula)
        offer(float_arithmetic(exact_, *formula, static_cast<double>(handoff_.code.per_unit)));
      else if (request_.form)
        return Problem{"this chain has no formula that could be written: it is searched or interpolated",
                       "the form table"};
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
    const auto [lowest, highest] = raw_range(chain_);
    report.codes_checked = highest - lowest + 1;  // those without a reading are told by their range
    report.exhaustive = true;
    report.worst_error = best->proof.worst / unit;
    report.worst_error_wanted = best->proof.worst_wanted / unit;
    report.at_raw = fmt::format("{}", best->proof.at);
    report.largest_intermediate = best->proof.largest_intermediate;
    constexpr std::int64_t drawn_stretches = 512;
    handoff_.errors = errors_across(best->arithmetic, exact_, drawn_stretches);
    for (ErrorStretch& each : handoff_.errors) each.least /= unit, each.most /= unit;
    report.word_bits = best->arithmetic.form == HandoffForm::table     ? best->arithmetic.table.word_bits
                       : best->arithmetic.form == HandoffForm::integer ? best->arithmetic.linear.word_bits
                                                                       : 32;
    return std::nullopt;
  }

  // Every code of a narrow converter; else well spread ones, both ends and every joint of a table.
  std::vector<std::int64_t> spread_codes(std::int64_t lowest, std::int64_t highest) const {
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

  void number_vectors() {
    const auto [lowest, highest] = raw_range(chain_);
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

  std::optional<Problem> of_bytes() {
    auto plan = plan_bytes(chain_);
    if (!plan) return plan.problem();
    HandoffCode& code = handoff_.code;
    HandoffReport& report = handoff_.report;
    code.bytes = std::move(*plan);
    for (PlannedState& state : code.bytes->states)
      if (state.condition) state.condition->bind(field_names(*code.bytes));
    report.blocks = code.bytes->blocks;
    report.trimming_blocks = code.bytes->trimming_blocks;
    if (code.trimming_loaded && report.trimming_blocks.empty())
      return Problem{"this part has no trimming to load", "--trimming compiled"};
    const double unit = static_cast<double>(code.per_unit);
    if (code.bytes->alone) {
      const auto exact = exact_readings(chain_, unit, request_.is_cancelled);
      if (!exact) return exact.problem();
      exact_ = *exact;
      const PartQuantity& quantity = *chain_.decoder->part().measures(chain_.channel.quantity);
      const auto reading =
          std::ranges::find(chain_.decoder->part().bytes.readings, chain_.channel.quantity, &ByteReading::quantity);
      if (reading->clamps) exact_.held_within = held(quantity, unit);
      if (auto problem = choose_arithmetic()) return problem;
      report.holds_for = "every number of the field";
      const PlannedField& field = *std::ranges::find(code.bytes->fields, code.bytes->own, &PlannedField::name);
      const std::int64_t half = std::int64_t{1} << (field.bits - 1);
      const std::int64_t lowest = field.sign == FieldSign::none ? 0 : field.sign == FieldSign::twos ? -half : 1 - half;
      const std::int64_t highest = field.sign == FieldSign::none ? 2 * half - 1 : half - 1;
      const ByteSource source(chain_, *code.bytes);
      for (const std::int64_t raw : spread_codes(lowest, highest)) byte_vector(source.with_field(field, raw));
      broken_vectors(source);
      if (!disagrees_at_.empty())
        return Problem{
            fmt::format("{} has a reading where the part's decoding has none, or the other way round", disagrees_at_),
            "a hand-over that could be proven"};
      return std::nullopt;
    }
    if (!code.bytes->formula.empty()) {
      if (request_.form && *request_.form != HandoffForm::integer)
        return Problem{"the sheet's compensation is handed over in whole numbers", "--form integer or auto"};
      auto sheet = sheet_arithmetic(chain_, *code.bytes, unit);
      if (!sheet) return sheet.problem();
      code.sheet = std::move(*sheet);
      if (const auto oss = chain_.decoder->settings().find("oversampling"); oss != chain_.decoder->settings().end())
        code.oversampling = static_cast<int>(oss->second);
      report.form = "integer";
      report.word_bits = 64;
    } else {
      if (request_.form && *request_.form != HandoffForm::floating)
        return Problem{"several numbers of the bytes meet in this formula: it is handed over in float",
                       "--form float or auto"};
      auto steps = code.bytes->steps;
      const auto affine = affine_after(chain_);
      if (!affine)
        return Problem{"the correction of this channel bends: it is not handed over behind such a formula",
                       "a correction with an offset or a slope"};
      steps.push_back({"shown", fmt::format("result * ({}) + ({})", affine->first, affine->second)});
      auto formula = Formula::read(steps);
      if (!formula) return formula.problem();
      code.fields_formula = *formula;
      code.fields_formula->bind(field_names(*code.bytes));
      const PartQuantity& quantity = *chain_.decoder->part().measures(chain_.channel.quantity);
      const double margin = 0.1 * (quantity.maximum - quantity.minimum);
      const double one = affine->first * (quantity.minimum - margin) + affine->second,
                   other = affine->first * (quantity.maximum + margin) + affine->second;
      code.lowest = std::min(one, other), code.highest = std::max(one, other);
      report.form = "float";
      report.word_bits = 32;
    }
    report.holds_for = "the trimming of this specimen and its settings";
    return random_blocks();
  }

  static std::optional<std::pair<double, double>> held_of(double a, double b) {
    return std::pair{std::min(a, b), std::max(a, b)};
  }
  std::optional<std::pair<double, double>> held(const PartQuantity& quantity, double unit) const {
    const auto affine = affine_after(chain_);
    if (!affine) return std::nullopt;
    return held_of((affine->first * quantity.minimum + affine->second) * unit,
                   (affine->first * quantity.maximum + affine->second) * unit);
  }

  void byte_vector(const std::vector<std::uint8_t>& bytes) {
    const auto outcome = ByteRunner(chain_, handoff_.code, request_.language == Language::python).run(bytes);
    handoff_.vectors.push_back({to_hex(bytes), outcome.status, outcome.value});
    if (outcome.value.has_value() == std::isnan(outcome.exact) && disagrees_at_.empty()) disagrees_at_ = to_hex(bytes);
  }

  // What the checks are there for.
  void broken_vectors(const ByteSource& source) {
    for (std::size_t at = 0; at < source.example().size(); ++at) {
      auto bytes = source.example();
      bytes[at] ^= 0x10;
      byte_vector(bytes);
    }
    byte_vector(std::vector<std::uint8_t>(source.example().size(), 0x00));
    byte_vector(std::vector<std::uint8_t>(source.example().size(), 0xFF));
  }

  // The one number of the data that decides; null where there are several.
  const PlannedField* only_field() const {
    const PlannedField* only = nullptr;
    for (const PlannedField& field : handoff_.code.bytes->fields) {
      if (field.trimming) continue;
      if (only) return nullptr;
      only = &field;
    }
    return handoff_.code.trimming_loaded ? nullptr : only;
  }

  // Most fields anew. \param near  long ones near those of the example
  void draw(const ByteSource& source, std::mt19937_64& random, bool near, std::vector<std::uint8_t>& bytes) const {
    for (const PlannedField& field : handoff_.code.bytes->fields) {
      if (field.trimming || random() % 8 == 0) continue;
      const std::int64_t now = field_value(field, source.example()), span = std::int64_t{1} << field.bits;
      std::int64_t number = static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(span));
      if (near && field.bits > 8)
        number =
            (now + static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(span / 16)) - span / 32 + span) %
            span;
      if (field.sign != FieldSign::none && number >= span / 2) number -= span;
      if (field.sign == FieldSign::magnitude) number = std::max(number, 1 - span / 2);
      source.put(bytes, field, number);
    }
  }

  // Where several numbers meet every block cannot be tried: a million drawn ones, half of them near the example.
  std::optional<Problem> random_blocks() {
    const int drawn = request_.drawn_blocks;
    const ByteSource source(chain_, *handoff_.code.bytes);
    const ByteRunner runner(chain_, handoff_.code, request_.language == Language::python);
    HandoffReport& report = handoff_.report;
    std::mt19937_64 random(1);
    const double unit = static_cast<double>(handoff_.code.per_unit);
    const double from = chain_.shown->from_base(chain_.channel.wanted.from) * unit,
                 to = chain_.shown->from_base(chain_.channel.wanted.to) * unit;
    double worst = 0, worst_wanted = 0;
    std::int64_t disagreements = 0;
    std::string disagrees_at;
    // Where the value itself decides whether there is one, half a step may go either way.
    const auto near_limit = [&](const ByteRunner::Outcome& outcome) {
      return outcome.status == HandoffStatus::low || outcome.status == HandoffStatus::high ||
             runner.near_limit(outcome);
    };
    const PlannedField* const only = only_field();
    // Where one number alone decides and to run them all takes no longer than to draw, all of them are run.
    const std::int64_t all = only && only->bits < 31 ? std::int64_t{1} << only->bits : 0;
    const bool runs_all = all > 0 && static_cast<double>(all) <= 1.1 * drawn;
    const int count = runs_all ? static_cast<int>(all) : drawn;
    for (int i = 0; i < count; ++i) {
      if (request_.is_cancelled && i % 4096 == 0 && request_.is_cancelled()) return cancelled();
      std::vector<std::uint8_t> bytes = source.example();
      std::int64_t number = 0;
      if (runs_all) {
        // Odd steps go through all of them, and the first ones are spread.
        constexpr std::int64_t stride = 0x9E3779B1;
        number = i * stride % all;
        if (only->sign != FieldSign::none && number >= all / 2) number -= all;
        if (only->sign == FieldSign::magnitude) number = std::max(number, 1 - all / 2);
        source.put(bytes, *only, number);
      } else {
        draw(source, random, i % 2 == 0, bytes);
      }
      bytes = source.checked(std::move(bytes));
      const auto outcome = runner.run(bytes);
      if (i < static_cast<int>(many_vectors))
        handoff_.vectors.push_back({to_hex(bytes), outcome.status, outcome.value});
      if (outcome.value.has_value() == std::isnan(outcome.exact) && !near_limit(outcome)) {
        if (++disagreements == 1) disagrees_at = to_hex(bytes);
      }
      if (!outcome.value || std::isnan(outcome.exact)) continue;
      const double miss = std::abs(*outcome.value - outcome.exact);
      if (miss > worst) worst = miss, report.at_raw = runs_all ? fmt::format("{}", number) : to_hex(bytes);
      if (outcome.exact >= std::min(from, to) && outcome.exact <= std::max(from, to))
        worst_wanted = std::max(worst_wanted, miss);
    }
    if (disagreements > 0)
      return Problem{fmt::format("{} of the drawn blocks have a reading where the part's decoding has none, or the "
                                 "other way round: {} is one of them",
                                 disagreements, disagrees_at),
                     "a hand-over that could be proven"};
    broken_vectors(source);
    report.codes_checked = count;
    report.exhaustive = runs_all;
    report.worst_error = worst / unit;
    report.worst_error_wanted = worst_wanted / unit;
    if (runs_all) {
      report.holds_for = "every number of the field, " + report.holds_for;
      return std::nullopt;
    }
    report.proven_bound = bound_over_all();
    report.notes.push_back(
        report.proven_bound
            ? fmt::format("{} blocks were drawn; over every block the error is proven to stay within {:.3g} {}", drawn,
                          *report.proven_bound, handoff_.code.unit)
            : fmt::format("{} blocks were drawn; no bound over all of them is proven", drawn));
    return std::nullopt;
  }

  // Of a formula in floating point, over every number that the fields may hold: its own error, that of the exact chain,
  // which is worked out in double, and the rounding to a step. Shown units.
  std::optional<double> bound_over_all() const {
    const HandoffCode& code = handoff_.code;
    if (!code.fields_formula || code.trimming_loaded) return std::nullopt;
    const auto unit = static_cast<double>(code.per_unit);
    constexpr double share_of_step = 0.02;
    BoundRequest asked{.inputs = {},
                       .roundoff = request_.language == Language::python ? double_roundoff : float_roundoff,
                       .lowest = code.lowest,
                       .highest = code.highest,
                       .enough = share_of_step / unit,
                       .is_cancelled = request_.is_cancelled};
    for (const PlannedField& field : code.bytes->fields) {
      const std::int64_t half = std::int64_t{1} << (field.bits - 1);
      asked.inputs.push_back(field.trimming                  ? InputRange{field.value, field.value}
                             : field.sign == FieldSign::none ? InputRange{0, 2 * half - 1}
                                                             : InputRange{-half, half - 1});
    }
    const auto own = error_bound(*code.fields_formula, asked);
    const double roundoff = std::exchange(asked.roundoff, double_roundoff);
    const auto exact = error_bound(*code.fields_formula, asked);
    if (!own || !exact) return std::nullopt;
    const double largest = std::max(std::abs(code.lowest), std::abs(code.highest)) * unit + 1;
    return *own + *exact + (0.5 + 2 * roundoff * largest) / unit;
  }

  void finish() {
    HandoffReport& report = handoff_.report;
    const HandoffCode& code = handoff_.code;
    if (report.worst_error_wanted > report.allowed_error + 0.5 / static_cast<double>(code.per_unit))
      report.notes.push_back("its error is more than a tenth of the channel's uncertainty");
    if (report.allowed_error > 50 * report.worst_error && code.per_unit > 1)
      report.notes.push_back("finer than the channel's uncertainty asks for: fewer steps a unit would do");
    std::string vectors = code.side ? "raw,status,value,side\n" : "raw,status,value\n";
    for (const HandoffVector& vector : handoff_.vectors)
      vectors += fmt::format("{},{},{}{}\n", vector.raw, static_cast<int>(vector.status),
                             vector.value ? fmt::format("{}", *vector.value) : "",
                             vector.side ? fmt::format(",{}", *vector.side) : "");
    handoff_.files[code.name + "_vectors.csv"] = std::move(vectors);
    if (chain_.channel.filter) add_filter(*chain_.channel.filter);
    if (request_.language == Language::python) {
      handoff_.files[code.name + ".py"] = write_python(code);
      return;
    }
    const auto [header, source] = write_c(code);
    // Worst cycles: over inputs spread evenly over the vectors, with a reading and without.
    std::vector<std::string> calls;
    const std::size_t step = std::max<std::size_t>(1, handoff_.vectors.size() / 1024);
    for (std::size_t i = 0; i < handoff_.vectors.size(); i += step) {
      const std::string& raw = handoff_.vectors[i].raw;
      if (!code.bytes) {
        const std::string number = fmt::format("{}UL", static_cast<std::uint32_t>(std::stoll(raw)));
        const auto& side = handoff_.vectors[i].side;
        calls.push_back(side ? fmt::format("{{{},{}}}", number, *side) : number);
        continue;
      }
      std::string list;
      for (std::size_t at = 0; at + 1 < raw.size(); at += 2) list += (list.empty() ? "{0x" : ",0x") + raw.substr(at, 2);
      calls.push_back(list + "}");
    }
    if (code.trimming_loaded) calls.clear();
    report.cost = measure_handoff(code.name, header, source, calls, arguments_of(code));
    if (report.cost) report.measured_on = measuring_tools();
    handoff_.files[code.name + ".h"] = header;
    handoff_.files[code.name + ".c"] = source;
  }

  // In files of its own: what is measured is the conversion.
  void add_filter(const KeptFilter& filter) {
    const std::string name = handoff_.code.name;
    handoff_.report.notes.push_back("its filter stands beside it: " + filter_words(filter));
    if (request_.language == Language::python)
      handoff_.files[name + "_filter.py"] = write_filter_python(filter);
    else
      std::tie(handoff_.files[name + "_filter.h"], handoff_.files[name + "_filter.c"]) = write_filter_c(name, filter);
  }

  static HandoffArguments arguments_of(const HandoffCode& code) {
    return code.bytes  ? HandoffArguments::bytes
           : code.side ? HandoffArguments::number_and_side
                       : HandoffArguments::number;
  }

  const Chain& chain_;
  const Chain* side_ = nullptr;  // the channel whose reading is one more argument
  std::function<Result<Chain>(double)> chain_beside_;
  const HandoffRequest& request_;
  Handoff handoff_;
  ExactReadings exact_;
  double allowed_steps_ = 1;
  std::string disagrees_at_;
};

}  // namespace

std::string c_identifier(std::string_view id) {
  static const std::set<std::string_view> keywords = {
      "auto",   "break",    "case",     "char",     "const", "continue", "default", "do",     "double",
      "else",   "enum",     "extern",   "float",    "for",   "goto",     "if",      "inline", "int",
      "long",   "register", "restrict", "return",   "short", "signed",   "sizeof",  "static", "struct",
      "switch", "typedef",  "union",    "unsigned", "void",  "volatile", "while"};
  std::string name;
  for (const char c : id) {
    const auto byte = static_cast<unsigned char>(c);
    if ((byte & 0xC0) == 0x80) continue;  // the rest of a character that has one _ already
    name += byte < 0x80 && (std::isalnum(byte) || c == '_') ? c : '_';
  }
  if (name.empty() || std::isdigit(static_cast<unsigned char>(name.front()))) name = "_" + name;
  if (keywords.contains(name)) name += "_";
  return name;
}

// What it was built of, as text, put through a well-known hash.
std::string chain_fingerprint(const Chain& chain) {
  std::string text = fmt::format("{} {} {} {}", chain.part_id, enum_name(chain.channel.quantity), chain.channel.unit,
                                 chain.channel.device);
  for (int i = 0; i <= 16; ++i) {
    const auto [low, high] = raw_range(chain);
    text += fmt::format(" {:.12g}",
                        exact_reading(chain, static_cast<double>(low) + static_cast<double>(high - low) * i / 16));
  }
  if (chain.channel.filter) text += filter_words(*chain.channel.filter);
  for (const auto& [block, bytes] : chain.trimming) text += block + to_hex(bytes);
  std::uint64_t hash = 14695981039346656037ULL;  // FNV-1a
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
  return fmt::format("{:016x}", hash);
}

Result<Handoff> hand_over(const Bench& bench, const Catalogue& catalogue, const HandoffRequest& request) {
  const auto chain = build_chain(bench, catalogue, request.channel);
  if (!chain) return chain.problem();
  if (chain->derived)
    return Problem{fmt::format("\"{}\" is worked out from other channels", request.channel),
                   "a channel that is measured: hand those over, and work it out where both are known"};
  if (chain->channel.arrives_converted())
    return Problem{
        fmt::format("\"{}\" arrives converted already: other firmware has done its arithmetic", request.channel),
        "a channel whose raw number arrives"};
  const Device* device = find_by_id(bench.devices, chain->channel.device);
  if (!chain->decoder && device && !device->side_inputs.empty()) {
    if (device->side_inputs.size() > 1)
      return Problem{fmt::format("\"{}\" needs the readings of several other channels", request.channel),
                     "a chain that takes one other reading"};
    const std::string other = device->side_inputs.begin()->second;
    const auto side = build_chain(bench, catalogue, other);
    if (!side) return side.problem();
    Packer packer(*chain, request);
    packer.take_side(*side, [&](double reading) {
      return build_chain(bench, catalogue, request.channel, {{other, reading}});
    });
    return packer.pack();
  }
  Chain whole = *chain;
  // Trimming that is loaded later is tried with the part's example where the bench has none.
  if (whole.decoder && request.trimming_loaded)
    for (const ByteBlock& block : whole.decoder->part().bytes.blocks)
      if (block.role == "trimming" && Decoder::find_block(whole.trimming, block).empty())
        if (const auto example = read_hex(block.example)) whole.trimming[block.name] = *example;
  auto done = Packer(whole, request).pack();
  if (done && request.reading) {
    auto files = reading_files(bench, catalogue, request, done->code);
    if (files)
      done->files.merge(*files);
    else
      done->report.notes.push_back("how it is read is not written: " + to_text(files.problem()));
  }
  return done;
}

}  // namespace fair_gauge
