#include "handoff/byte_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "digital/checks.h"
#include "digital/coded_formula.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

struct StatusName {
  HandoffStatus status;
  std::string_view name, fault;
};
constexpr std::array status_names = {
    StatusName{HandoffStatus::ok, "OK", ""},
    StatusName{HandoffStatus::low, "LOW", ""},
    StatusName{HandoffStatus::high, "HIGH", ""},
    StatusName{HandoffStatus::checksum, "CHECKSUM", "checksum"},
    StatusName{HandoffStatus::saturated, "SATURATED", "saturated"},
    StatusName{HandoffStatus::not_ready, "NOT_READY", "not-ready"},
    StatusName{HandoffStatus::power_on_default, "POWER_ON_DEFAULT", "power-on-default"},
    StatusName{HandoffStatus::disconnected, "DISCONNECTED", "disconnected"},
    StatusName{HandoffStatus::out_of_range, "OUT_OF_RANGE", "out-of-range"},
    StatusName{HandoffStatus::no_response, "NO_RESPONSE", "no-response"},
    StatusName{HandoffStatus::flagged_by_part, "FLAGGED_BY_PART", "flagged-by-part"},
    StatusName{HandoffStatus::short_frame, "SHORT_FRAME", "short-frame"},
    StatusName{HandoffStatus::underflow, "UNDERFLOW", "underflow"}};

bool touches(const std::vector<Quantity>& quantities, Quantity quantity) {
  return quantities.empty() || std::ranges::find(quantities, quantity) != quantities.end();
}

}  // namespace

namespace {

// The sheets' formulas that are given in floating point alone, as steps.
std::optional<std::vector<FormulaStep>> sheet_steps(const std::string& formula, Quantity quantity,
                                                    const std::map<std::string, double>& settings) {
  if (formula == "bmp388") {
    const auto scaled = [](const char* word, int power) {
      return fmt::format("{} * {}", word, std::ldexp(1.0, power));
    };
    const std::string near_t = "(uncomp_T - PAR_T1 * 256)";
    std::vector<FormulaStep> steps{
        {"near_t", near_t},
        {"t_lin", fmt::format("near_t * ({} + near_t * ({}))", scaled("PAR_T2", -30), scaled("PAR_T3", -48))}};
    if (quantity != Quantity::temperature) {
      steps.push_back({"out1", fmt::format("PAR_P5 * 8 + t_lin * ({} + t_lin * ({} + t_lin * ({})))",
                                           scaled("PAR_P6", -6), scaled("PAR_P7", -8), scaled("PAR_P8", -15))});
      steps.push_back({"out2", fmt::format("uncomp_P * ((PAR_P1 - 16384) * {} + t_lin * ((PAR_P2 - 16384) * {} + "
                                           "t_lin * ({} + t_lin * ({}))))",
                                           std::ldexp(1.0, -20), std::ldexp(1.0, -29), scaled("PAR_P3", -32),
                                           scaled("PAR_P4", -37))});
      steps.push_back({"out3", fmt::format("uncomp_P * uncomp_P * ({} + {} * t_lin + uncomp_P * ({}))",
                                           scaled("PAR_P9", -48), scaled("PAR_P10", -48), scaled("PAR_P11", -65))});
    }
    steps.push_back({"result", quantity == Quantity::temperature ? "t_lin" : "out1 + out2 + out3"});
    return steps;
  }
  if (formula == "tsl2561") {
    const auto setting = [&](const char* key, double usual) {
      const auto found = settings.find(key);
      return found == settings.end() ? usual : found->second;
    };
    const double scale = 402.0 / setting("integration_ms", 402) * 16 / setting("gain", 1);
    const bool chip = setting("package", 0) != 0;
    const char* pieces =
        chip ? "(ratio <= 0.52) ? 0.0315 * a - 0.0593 * a * ratio ^ 1.4 : (ratio <= 0.65) ? 0.0229 * a - 0.0291 * b : "
               "(ratio <= 0.8) ? 0.0157 * a - 0.018 * b : (ratio <= 1.3) ? 0.00338 * a - 0.0026 * b : 0"
             : "(ratio <= 0.5) ? 0.0304 * a - 0.062 * a * ratio ^ 1.4 : (ratio <= 0.61) ? 0.0224 * a - 0.031 * b : "
               "(ratio <= 0.8) ? 0.0128 * a - 0.0153 * b : (ratio <= 1.3) ? 0.00146 * a - 0.00112 * b : 0";
    return std::vector<FormulaStep>{{"a", fmt::format("CH0 * {}", scale)},
                                    {"b", fmt::format("CH1 * {}", scale)},
                                    {"ratio", "CH0 > 0 ? CH1 / CH0 : 0"},
                                    {"result", pieces}};
  }
  return std::nullopt;
}

}  // namespace

std::string_view handoff_status_name(HandoffStatus status) {
  return std::ranges::find(status_names, status, &StatusName::status)->name;
}

HandoffStatus handoff_status_of(std::string_view fault) {
  const auto found = std::ranges::find(status_names, fault, &StatusName::fault);
  return found == status_names.end() || fault.empty() ? HandoffStatus::flagged_by_part : found->status;
}

std::int64_t field_value(const PlannedField& field, std::span<const std::uint8_t> bytes) {
  std::uint64_t number = 0;
  for (const BitRun& run : field.runs) {
    const int width = run.high - run.low + 1;
    number = number << width |
             (static_cast<std::uint64_t>(bytes[static_cast<std::size_t>(run.byte)]) >> run.low & ((1u << width) - 1u));
  }
  const auto plain = static_cast<std::int64_t>(number), top = std::int64_t{1} << (field.bits - 1);
  if (field.sign == FieldSign::twos) return plain & top ? plain - 2 * top : plain;
  if (field.sign == FieldSign::magnitude) return plain & top ? -(plain - top) : plain;
  return plain;
}

namespace {

// A status that says whether the data are any: of a part that flags what is wrong in a register of its own.
bool tells_faults(const ByteLayout& layout, const ByteBlock& block) {
  return block.role == "status" && std::ranges::any_of(layout.states, [&](const ByteState& state) {
           const auto field = std::ranges::find(layout.fields, state.field, &ByteField::name);
           return !state.fault.empty() && field != layout.fields.end() && field->block == block.name;
         });
}

// Data and trimming blocks, one after the other, and the trimming's own bytes.
std::optional<Problem> plan_blocks(const Chain& chain, BytePlan& plan) {
  int data = 0, trimming = 0;
  for (const ByteBlock& block : chain.decoder->part().bytes.blocks) {
    if (block.role == "data" || tells_faults(chain.decoder->part().bytes, block)) {
      plan.blocks.push_back({block.name, block.bytes, data});
      data += block.bytes;
    }
    if (block.role == "trimming") {
      const auto bytes = Decoder::find_block(chain.trimming, block);
      const auto example = read_hex(block.example);
      std::vector<std::uint8_t> own(bytes.begin(), bytes.end());
      if (own.empty() && block.optional && example) own = *example;
      if (static_cast<int>(own.size()) < block.bytes)
        return Problem{translated("the trimming {} of this specimen is not in the bench", block.name),
                       translated("its {} bytes among the device's trimming, or trimming that is loaded", block.bytes)};
      plan.trimming_blocks.push_back({block.name, block.bytes, trimming});
      plan.trimming_bytes.insert(plan.trimming_bytes.end(), own.begin(), own.begin() + block.bytes);
      trimming += block.bytes;
    }
  }
  return std::nullopt;
}

// An expression whose outermost condition is of settings alone is one of its two branches: which one is known.
std::string settled(const std::string& text, const std::map<std::string, double>& settings) {
  int depth = 0, nested = 0;
  std::size_t question = std::string::npos;
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '(') ++depth;
    if (text[i] == ')') --depth;
    if (depth > 0) continue;
    if (text[i] == '?' && question == std::string::npos)
      question = i;
    else if (text[i] == '?')
      ++nested;
    else if (text[i] == ':' && nested > 0)
      --nested;
    else if (text[i] == ':' && question != std::string::npos) {
      std::map<std::string, double> numbers = settings;
      std::map<std::string, double*> known;
      for (auto& [name, number] : numbers) known[name] = &number;
      const auto condition = Expression::read(text.substr(0, question), known);
      if (!condition) return text;
      return settled(condition->value() != 0 ? text.substr(question + 1, i - question - 1) : text.substr(i + 1),
                     settings);
    }
  }
  return text;
}

// The steps that a result needs, found from the end backwards.
Result<std::vector<FormulaStep>> needed_steps(std::vector<FormulaStep> whole, const std::string& result) {
  whole.push_back({"result", result});
  std::set<std::string> wanted{"result"};
  std::vector<FormulaStep> kept;
  for (auto step = whole.rbegin(); step != whole.rend(); ++step) {
    if (!wanted.contains(step->symbol)) continue;
    const auto read = Formula::read({*step});
    if (!read) return read.problem();
    for (const std::string& name : read->inputs()) wanted.insert(name);
    kept.insert(kept.begin(), *step);
  }
  return kept;
}

// The plan of one chain, put together a list at a time.
class BytePlanner {
 public:
  explicit BytePlanner(const Chain& chain)
      : chain_(chain),
        decoder_(*chain.decoder),
        layout_(decoder_.part().bytes),
        quantity_(chain.channel.quantity),
        reading_(*std::ranges::find(layout_.readings, quantity_, &ByteReading::quantity)) {}

  Result<BytePlan> plan() {
    plan_.own = reading_.field;
    if (auto problem = plan_blocks(chain_, plan_)) return *problem;
    if (auto problem = plan_formula()) return *problem;
    of_reading_ = needed_;
    if (auto problem = plan_states()) return *problem;
    if (auto problem = plan_fields()) return *problem;
    plan_checks();
    return std::move(plan_);
  }

 private:
  const PlannedBlock* place_of(const std::string& name) const {
    for (const auto* list : {&plan_.blocks, &plan_.trimming_blocks})
      for (const PlannedBlock& block : *list)
        if (block.name == name) return &block;
    return nullptr;
  }
  bool is_trimming(const PlannedBlock* block) const {
    return std::ranges::any_of(plan_.trimming_blocks, [&](const PlannedBlock& each) { return &each == block; });
  }
  bool is_field(const std::string& name) const {
    return std::ranges::find(layout_.fields, name, &ByteField::name) != layout_.fields.end();
  }

  // What a formula names and is a field is needed.
  void need(const std::vector<std::string>& inputs) {
    for (const std::string& name : inputs)
      if (is_field(name)) needed_.insert(name);
  }

  // What everything is computed from before a field is looked at: the settings, how long the frame is, the part's
  // steps.
  void list_steps() {
    for (const auto& [key, value] : decoder_.settings()) {
      const std::string number = fmt::format("{}", value);
      steps_.push_back({key, value < 0 ? "(" + number + ")" : number});
    }
    const int all_bytes = plan_.blocks.empty() ? 0 : plan_.blocks.front().bytes;
    steps_.push_back({"length", fmt::format("{}", all_bytes)});
    for (const ByteStep& step : layout_.steps)
      steps_.push_back({step.symbol, settled(step.expression, decoder_.settings())});
  }

  // How the reading comes about, and the fields that this needs: its own, and what its formula names.
  std::optional<Problem> plan_formula() {
    list_steps();
    needed_.insert(reading_.field);
    plan_.formula = layout_.formula;
    const CodedFormula* coded = layout_.formula.empty() ? nullptr : coded_formula(layout_.formula);
    const auto of_sheet = coded ? sheet_steps(layout_.formula, quantity_, decoder_.settings()) : std::nullopt;
    if (of_sheet) {
      plan_.formula.clear();
      plan_.steps = *of_sheet;
    } else if (coded) {
      const auto of = std::ranges::find(coded->readings, quantity_, &CodedFormula::Reading::quantity);
      for (const std::string_view field : coded->fields)
        if (of != coded->readings.end() &&
            std::ranges::any_of(of->needs, [&](std::string_view start) { return field.starts_with(start); }))
          needed_.insert(std::string(field));
    } else {
      const std::string expression =
          reading_.expression.empty() ? fmt::format("{} * {} + ({})", reading_.field, reading_.scale, reading_.offset)
                                      : settled(reading_.expression, decoder_.settings());
      auto kept = needed_steps(steps_, expression);
      if (!kept) return kept.problem();
      plan_.steps = std::move(*kept);
    }
    if (of_sheet || !coded) {
      const auto formula = Formula::read(plan_.steps);
      if (!formula) return formula.problem();
      need(formula->inputs());
    }
    plan_.alone = needed_.size() == 1;
    return std::nullopt;
  }

  // Bytes or states without a list of their own speak of the readings that need their fields, or of all if none does.
  bool speaks_of_it(const std::vector<Quantity>& quantities, const std::vector<std::string>& fields) const {
    if (!quantities.empty()) return touches(quantities, quantity_);
    bool of_others = false;
    for (const std::string& name : fields) {
      if (of_reading_.contains(name)) return true;
      const auto field = std::ranges::find(layout_.fields, name, &ByteField::name);
      of_others |= field != layout_.fields.end() && (field->role == "data" || field->role == "trimming");
    }
    return !of_others;
  }

  std::optional<Problem> plan_states() {
    for (const ByteState& state : layout_.states) {
      if (state.fault.empty()) continue;
      PlannedState planned{
          .field = state.field, .equals = {}, .condition = std::nullopt, .status = handoff_status_of(state.fault)};
      for (const double each : state.equals) planned.equals.push_back(static_cast<std::int64_t>(each));
      if (is_field(state.field)) {
        if (!speaks_of_it(state.touches, {state.field})) continue;
        needed_.insert(state.field);
      } else {  // it is worked out
        auto kept = needed_steps(steps_, state.field);
        if (!kept) return kept.problem();
        auto condition = Formula::read(*kept);
        if (!condition) return condition.problem();
        if (!speaks_of_it(state.touches, condition->inputs())) continue;
        need(condition->inputs());
        planned.condition = *condition;
      }
      plan_.states.push_back(std::move(planned));
    }
    return std::nullopt;
  }

  std::optional<Problem> plan_fields() {
    for (std::size_t i = 0; i < layout_.fields.size(); ++i) {
      const ByteField& field = layout_.fields[i];
      if (!needed_.contains(field.name)) continue;
      const PlannedBlock* block = place_of(field.block);
      if (!block)
        return Problem{translated("the block {} is neither data nor trimming", field.block),
                       translated("a part with these alone")};
      PlannedField planned{.name = field.name,
                           .trimming = is_trimming(block),
                           .runs = decoder_.places()[i].runs(),
                           .sign = field.sign,
                           .bits = decoder_.places()[i].bits(),
                           .value = 0};
      for (BitRun& run : planned.runs) run.byte = block->at + (run.byte < 0 ? block->bytes + run.byte : run.byte);
      if (planned.trimming) planned.value = field_value(planned, plan_.trimming_bytes);
      plan_.fields.push_back(std::move(planned));
    }
    return std::nullopt;
  }

  void plan_checks() {
    for (const ByteCheck& check : layout_.checks) {
      const PlannedBlock* block = place_of(check.block);
      const CheckKind* kind = check_kind(check.kind);
      if (!block || !kind || is_trimming(block)) continue;
      std::vector<std::string> covered;
      for (std::size_t i = 0; i < layout_.fields.size(); ++i)
        if (layout_.fields[i].block == check.block &&
            std::ranges::any_of(decoder_.places()[i].runs(),
                                [&](const BitRun& run) { return run.byte >= check.from && run.byte <= check.to; }))
          covered.push_back(layout_.fields[i].name);
      if (!speaks_of_it(check.touches, covered)) continue;
      plan_.checks.push_back({check.kind, block->at + check.from, block->at + check.to, block->at + check.at,
                              handoff_status_of(kind->fault), check.before});
    }
  }

  const Chain& chain_;
  const Decoder& decoder_;
  const ByteLayout& layout_;
  const Quantity quantity_;
  const ByteReading& reading_;
  BytePlan plan_;
  std::vector<FormulaStep> steps_;
  std::set<std::string> needed_, of_reading_;  // fields: of all that is planned, of the reading alone
};

}  // namespace

Result<BytePlan> plan_bytes(const Chain& chain) { return BytePlanner(chain).plan(); }

}  // namespace fair_gauge
