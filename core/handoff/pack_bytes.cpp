// Chains of parts that answer with bytes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "formulas/ms56xx.h"
#include "handoff/packer.h"
#include "handoff/sheet_bound.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

Result<SheetArithmetic> sheet_arithmetic(const Chain& chain, const BytePlan& plan, double per_unit) {
  SheetArithmetic sheet{.formula = plan.formula, .quantity = chain.channel.quantity};
  const bool bmx = plan.formula == "bmp280" || plan.formula == "bme280",
             ms = formulas::ms56xx::kind_of(plan.formula) != nullptr;
  if (!bmx && !ms && plan.formula != "bmp180")
    return Problem{translated("the sheet's formula of \"{}\" has no form in whole numbers here", chain.part_id),
                   translated("a part whose compensation is handed over")};
  sheet.per_base = chain.channel.quantity == Quantity::temperature ? plan.formula == "bmp180" ? 10 : 100
                   : chain.channel.quantity == Quantity::humidity  ? 1024
                   : bmx                                           ? 256
                                                                   : 1;
  const auto affine = affine_after(chain);
  if (!affine)
    return Problem{translated("the correction of this channel bends: it is not handed over behind a sheet's formula"),
                   translated("a correction with an offset or a slope")};
  const PartQuantity& quantity = *chain.decoder->part().measures(chain.channel.quantity);
  const double slope = affine->first * per_unit / sheet.per_base, offset = affine->second * per_unit;
  const double margin = quantity.slack();
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

}  // namespace

std::optional<Problem> Packer::of_bytes() {
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
    return Problem{translated("this part has no trimming to load"), translated("--trimming compiled")};
  if (code.bytes->alone) return of_one_field();
  if (auto problem = code.bytes->formula.empty() ? of_fields() : of_sheet()) return problem;
  report.holds_for = translated("the trimming of this specimen and its settings");
  return random_blocks();
}

// One number alone decides.
std::optional<Problem> Packer::of_one_field() {
  HandoffCode& code = handoff_.code;
  const double unit = static_cast<double>(code.per_unit);
  const auto exact = exact_readings(chain_, unit, request_.is_cancelled);
  if (!exact) return exact.problem();
  exact_ = *exact;
  raw_range_ = raw_range(chain_);
  const PartQuantity& quantity = *chain_.decoder->part().measures(chain_.channel.quantity);
  const auto reading =
      std::ranges::find(chain_.decoder->part().bytes.readings, chain_.channel.quantity, &ByteReading::quantity);
  if (reading->clamps) exact_.held_within = held(quantity, unit);
  if (auto problem = choose_arithmetic()) return problem;
  handoff_.report.holds_for = translated("every number of the field");
  const PlannedField& field = *std::ranges::find(code.bytes->fields, code.bytes->own, &PlannedField::name);
  const std::int64_t half = std::int64_t{1} << (field.bits - 1);
  const std::int64_t lowest = field.sign == FieldSign::none ? 0 : field.sign == FieldSign::twos ? -half : 1 - half;
  const std::int64_t highest = field.sign == FieldSign::none ? 2 * half - 1 : half - 1;
  const ByteSource source(chain_, *code.bytes);
  for (const std::int64_t raw : spread_codes(lowest, highest)) byte_vector(source.with_field(field, raw));
  broken_vectors(source);
  if (!disagrees_at_.empty())
    return Problem{
        translated("{} has a reading where the part's decoding has none, or the other way round", disagrees_at_),
        translated("a hand-over that could be proven")};
  return std::nullopt;
}

// By the sheet's compensation.
std::optional<Problem> Packer::of_sheet() {
  HandoffCode& code = handoff_.code;
  if (request_.form && *request_.form != HandoffForm::integer)
    return Problem{translated("the sheet's compensation is handed over in whole numbers"),
                   translated("--form integer or auto")};
  auto sheet = sheet_arithmetic(chain_, *code.bytes, static_cast<double>(code.per_unit));
  if (!sheet) return sheet.problem();
  code.sheet = std::move(*sheet);
  if (const auto oss = chain_.decoder->settings().find("oversampling"); oss != chain_.decoder->settings().end())
    code.oversampling = static_cast<int>(oss->second);
  handoff_.report.form = "integer";
  handoff_.report.word_bits = 64;
  return std::nullopt;
}

// Several numbers meet.
std::optional<Problem> Packer::of_fields() {
  HandoffCode& code = handoff_.code;
  const double unit = static_cast<double>(code.per_unit);
  if (request_.form && *request_.form != HandoffForm::floating)
    return Problem{translated("several numbers of the bytes meet in this formula: it is handed over in float"),
                   translated("--form float or auto")};
  auto steps = code.bytes->steps;
  const auto affine = affine_after(chain_);
  if (!affine)
    return Problem{translated("the correction of this channel bends: it is not handed over behind such a formula"),
                   translated("a correction with an offset or a slope")};
  const Part& part = chain_.decoder->part();
  const PartQuantity& measured = *part.measures(chain_.channel.quantity);
  const auto sent = std::ranges::find(part.bytes.readings, chain_.channel.quantity, &ByteReading::quantity);
  const bool is_held = sent != part.bytes.readings.end() && sent->clamps;
  if (is_held) steps.push_back({"held", fmt::format("min(max(result, {}), {})", measured.minimum, measured.maximum)});
  steps.push_back(
      {"shown", fmt::format("{} * ({}) + ({})", is_held ? "held" : "result", affine->first, affine->second)});
  auto formula = Formula::read(steps);
  if (!formula) return formula.problem();
  // A quarter of a step for what is between the points of tables; of the base unit's kelvins.
  if (auto problem = formula->tabulate(0.25 / unit / std::abs(affine->first))) return *problem;
  formula->take_whole_inputs();
  code.fields_formula = *formula;
  code.fields_formula->bind(field_names(*code.bytes));
  const double margin = measured.slack();
  const double one = affine->first * (measured.minimum - margin) + affine->second,
               other = affine->first * (measured.maximum + margin) + affine->second;
  code.lowest = std::min(one, other), code.highest = std::max(one, other);
  // A reference function that gives the temperature ends where its type does.
  for (const ReferenceTable& table : formula->tables()) {
    if (!table.name.starts_with("celsius")) continue;
    const auto [low, high] = table.temperatures();
    code.lowest = std::max(code.lowest, affine->first * low + affine->second);
    code.highest = std::min(code.highest, affine->first * high + affine->second);
  }
  handoff_.report.form = "float";
  handoff_.report.word_bits = 32;
  return std::nullopt;
}

std::optional<std::pair<double, double>> Packer::held_of(double a, double b) {
  return std::pair{std::min(a, b), std::max(a, b)};
}

std::optional<std::pair<double, double>> Packer::held(const PartQuantity& quantity, double unit) const {
  const auto affine = affine_after(chain_);
  if (!affine) return std::nullopt;
  return held_of((affine->first * quantity.minimum + affine->second) * unit,
                 (affine->first * quantity.maximum + affine->second) * unit);
}

void Packer::byte_vector(const std::vector<std::uint8_t>& bytes) {
  const auto outcome = ByteRunner(chain_, handoff_.code, request_.language == Language::python).run(bytes);
  handoff_.vectors.push_back({to_hex(bytes), outcome.status, outcome.value});
  if (outcome.value.has_value() == std::isnan(outcome.exact) && disagrees_at_.empty()) disagrees_at_ = to_hex(bytes);
}

void Packer::broken_vectors(const ByteSource& source) {
  for (std::size_t at = 0; at < source.example().size(); ++at) {
    auto bytes = source.example();
    bytes[at] ^= 0x10;
    byte_vector(bytes);
  }
  byte_vector(std::vector<std::uint8_t>(source.example().size(), 0x00));
  byte_vector(std::vector<std::uint8_t>(source.example().size(), 0xFF));
}

const PlannedField* Packer::only_field() const {
  const PlannedField* only = nullptr;
  for (const PlannedField& field : handoff_.code.bytes->fields) {
    if (field.trimming) continue;
    if (only) return nullptr;
    only = &field;
  }
  return handoff_.code.trimming_loaded ? nullptr : only;
}

void Packer::draw(const ByteSource& source, std::mt19937_64& random, bool near,
                  std::vector<std::uint8_t>& bytes) const {
  for (const PlannedField& field : handoff_.code.bytes->fields) {
    if (field.trimming || random() % 8 == 0) continue;
    const std::int64_t now = field_value(field, source.example()), span = std::int64_t{1} << field.bits;
    std::int64_t number = static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(span));
    if (near && field.bits > 8)
      number =
          (now + static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(span / 16)) - span / 32 + span) % span;
    if (field.sign != FieldSign::none && number >= span / 2) number -= span;
    if (field.sign == FieldSign::magnitude) number = std::max(number, 1 - span / 2);
    source.put(bytes, field, number);
  }
}

std::optional<Problem> Packer::random_blocks() {
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
    return outcome.status == HandoffStatus::low || outcome.status == HandoffStatus::high || runner.near_limit(outcome);
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
    if (i < static_cast<int>(many_vectors)) handoff_.vectors.push_back({to_hex(bytes), outcome.status, outcome.value});
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
    return Problem{translated("{} of the drawn blocks have a reading where the part's decoding has none, or the "
                              "other way round: {} is one of them",
                              disagreements, disagrees_at),
                   translated("a hand-over that could be proven")};
  broken_vectors(source);
  report.codes_checked = count;
  report.exhaustive = runs_all;
  report.worst_error = worst / unit;
  report.worst_error_wanted = worst_wanted / unit;
  if (runs_all) {
    report.holds_for = translated("every number of the field, {}", report.holds_for);
    return std::nullopt;
  }
  // The floats of small interpreters have 32 bits as well.
  report.proven_bound = bound_over_all(float_roundoff);
  if (report.proven_bound && *report.proven_bound < report.worst_error)
    return Problem{translated("{} is {:.3g} {} off, where {:.3g} is proven to be the most", report.at_raw,
                              report.worst_error, difference_symbol(handoff_.code.unit), *report.proven_bound),
                   translated("a hand-over that could be proven")};
  report.notes.push_back(
      report.proven_bound
          ? translated("{} blocks were drawn; over every block the error is proven to stay within {:.3g} {}", drawn,
                       *report.proven_bound, difference_symbol(handoff_.code.unit))
          : translated("{} blocks were drawn; no bound over all of them is proven", drawn));
  if (report.proven_bound && handoff_.code.fields_formula && request_.language == Language::python)
    if (const auto fine = bound_over_all(double_roundoff))
      report.notes.push_back(
          translated("that is where the interpreter's floats have 32 bits; with 64 bits, within "
                     "{:.3g} {}",
                     *fine, difference_symbol(handoff_.code.unit)));
  return std::nullopt;
}

std::optional<double> Packer::bound_over_all(double roundoff) const {
  const HandoffCode& code = handoff_.code;
  if ((!code.fields_formula && !code.sheet) || code.trimming_loaded) return std::nullopt;
  const auto unit = static_cast<double>(code.per_unit);
  if (code.sheet) {
    const auto affine = affine_after(chain_);
    if (!affine) return std::nullopt;
    const auto steps =
        sheet_bound(code, affine->first * unit / code.sheet->per_base, affine->second * unit, request_.is_cancelled);
    return steps ? std::optional(*steps / unit) : std::nullopt;
  }
  constexpr double share_of_step = 0.02;
  BoundRequest asked{.inputs = {},
                     .roundoff = roundoff,
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
  asked.roundoff = double_roundoff;
  const auto exact = error_bound(*code.fields_formula, asked);
  if (!own || !exact) return std::nullopt;
  const double largest = std::max(std::abs(code.lowest), std::abs(code.highest)) * unit + 1;
  return *own + *exact + (0.5 + 2 * roundoff * largest) / unit;
}

}  // namespace fair_gauge
