// Runs code of bytes as it is written, and makes bytes to run it on. Inside this room only.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "digital/checks.h"
#include "handoff/handoff.h"

namespace fair_gauge {

inline ByteCheck as_byte_check(const PlannedCheck& check) {
  return {.kind = check.kind,
          .block = "",
          .from = check.from,
          .to = check.to,
          .at = check.at,
          .before = check.before,
          .touches = {}};
}

/// A shift that rounds down, defined for negative numbers too.
inline std::int64_t floor_shift(std::int64_t value, int shift) {
  return value >= 0 ? value >> shift : -((-value + (std::int64_t{1} << shift) - 1) >> shift);
}

/// Statuses as decode finds them, the number by the code's own arithmetic.
class ByteRunner {
 public:
  /// \param in_double  floating point as Python has it
  ByteRunner(const Chain& chain, const HandoffCode& code, bool in_double = false)
      : chain_(chain), code_(code), plan_(*code.bytes), in_double_(in_double) {
    exact_ = chain.decoder;
    if (auto whole = Decoder::make(chain.decoder->part(), chain.decoder->settings(), Math::integer))
      integer_ = std::make_shared<const Decoder>(std::move(*whole));
  }

  struct Outcome {
    HandoffStatus status = HandoffStatus::ok;
    std::optional<std::int32_t> value;
    double exact = 0;  ///< steps; not a number where there is none
  };

  /// Whether its number is within a step of the ends of what is a reading.
  bool near_limit(const Outcome& outcome) const {
    if (!outcome.value) return false;
    const double low =
        code_.sheet ? static_cast<double>(code_.sheet->lowest) : code_.lowest * static_cast<double>(code_.per_unit);
    const double high =
        code_.sheet ? static_cast<double>(code_.sheet->highest) : code_.highest * static_cast<double>(code_.per_unit);
    return std::abs(*outcome.value - low) <= 1.5 || std::abs(*outcome.value - high) <= 1.5;
  }

  Outcome run(std::span<const std::uint8_t> bytes) const {
    Outcome outcome;
    ByteBlocks blocks = chain_.trimming;
    for (const PlannedBlock& block : plan_.blocks)
      blocks[block.name].assign(bytes.begin() + block.at, bytes.begin() + block.at + block.bytes);
    const Decoded decoded = exact_->decode(blocks);
    const DigitalReading* reading = decoded.reading(chain_.channel.quantity);
    outcome.exact = reading ? to_steps(reading->value) : std::nan("");
    outcome.status = status_of(bytes);
    if (outcome.status != HandoffStatus::ok) return outcome;
    if (code_.fields_formula) {
      const double value = in_double_ ? code_.fields_formula->run<double>(given_of(bytes))
                                      : static_cast<double>(code_.fields_formula->run<float>(given_of(bytes)));
      // Limits as the written code has them, in its own precision.
      const auto limit = [&](double number) {
        return in_double_ ? number : static_cast<double>(static_cast<float>(number));
      };
      if (!(value >= limit(code_.lowest)))
        outcome.status = HandoffStatus::low;
      else if (!(value <= limit(code_.highest)))
        outcome.status = HandoffStatus::high;
      else
        outcome.value = in_double_
                            ? static_cast<std::int32_t>(std::floor(value * static_cast<double>(code_.per_unit) + 0.5))
                            : static_cast<std::int32_t>(
                                  std::floor(static_cast<float>(value) * static_cast<float>(code_.per_unit) + 0.5F));
    } else if (code_.sheet) {
      const auto number = sheet_number(blocks);
      if (!number) {
        outcome.status = HandoffStatus::no_response;
        return outcome;
      }
      const std::int64_t steps =
          floor_shift(*number * code_.sheet->multiplier + code_.sheet->addend, code_.sheet->shift);
      if (steps < code_.sheet->lowest)
        outcome.status = HandoffStatus::low;
      else if (steps > code_.sheet->highest)
        outcome.status = HandoffStatus::high;
      else
        outcome.value = static_cast<std::int32_t>(steps);
    } else {
      const std::int64_t raw = field_value(*std::ranges::find(plan_.fields, plan_.own, &PlannedField::name), bytes);
      if (raw < code_.arithmetic.first)
        outcome.status = HandoffStatus::low;
      else if (raw > code_.arithmetic.last)
        outcome.status = HandoffStatus::high;
      else
        outcome.value = code_.arithmetic.run(raw);
    }
    return outcome;
  }

 private:
  // The numbers of the plan's fields, in their order.
  std::vector<double> given_of(std::span<const std::uint8_t> bytes) const {
    std::vector<double> given;
    for (const PlannedField& field : plan_.fields)
      given.push_back(static_cast<double>(field.trimming ? field.value : field_value(field, bytes)));
    return given;
  }
  double to_steps(double base) const {
    for (std::size_t i = chain_.compensated_node; i > 0; --i) base = chain_.links[i - 1]->inverse_continuous(base);
    return base * static_cast<double>(code_.per_unit);
  }
  std::optional<std::int64_t> sheet_number(const ByteBlocks& blocks) const {
    std::vector<double> fields;
    const ByteLayout& layout = integer_->part().bytes;
    for (std::size_t i = 0; i < layout.fields.size(); ++i) {
      const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
      fields.push_back(
          static_cast<double>(integer_->places()[i].value(Decoder::find_block(blocks, *block)).value_or(0)));
    }
    std::array<double, Decoder::most_readings> values;
    integer_->evaluate(fields, values);
    const auto reading = std::ranges::find(layout.readings, chain_.channel.quantity, &ByteReading::quantity);
    const double value = values[static_cast<std::size_t>(reading - layout.readings.begin())] * code_.sheet->per_base;
    return std::isfinite(value) ? std::optional(static_cast<std::int64_t>(std::llround(value))) : std::nullopt;
  }
  HandoffStatus status_of(std::span<const std::uint8_t> bytes) const {
    for (const PlannedCheck& check : plan_.checks)
      if (!check_kind(check.kind)->holds(bytes, as_byte_check(check))) return check.status;
    for (const PlannedState& state : plan_.states) {
      if (state.condition) {
        const auto value = static_cast<std::int64_t>(state.condition->run<float>(given_of(bytes)));
        if (std::ranges::find(state.equals, value) != state.equals.end()) return state.status;
        continue;
      }
      const PlannedField& field = *std::ranges::find(plan_.fields, state.field, &PlannedField::name);
      const std::int64_t value = field.trimming ? field.value : field_value(field, bytes);
      if (std::ranges::find(state.equals, value) != state.equals.end()) return state.status;
    }
    return HandoffStatus::ok;
  }

  const Chain& chain_;
  const HandoffCode& code_;
  const BytePlan& plan_;
  bool in_double_;
  std::shared_ptr<const Decoder> exact_, integer_;
};

/// Bytes that the part could send: its example with fields drawn anew and the checks made to hold.
class ByteSource {
 public:
  ByteSource(const Chain& chain, const BytePlan& plan) : plan_(plan) {
    for (const ByteBlock& block : chain.decoder->part().bytes.blocks) {
      if (std::ranges::find(plan.blocks, block.name, &PlannedBlock::name) == plan.blocks.end()) continue;
      const auto example = read_hex(block.example);
      std::vector<std::uint8_t> bytes = example ? *example : std::vector<std::uint8_t>();
      bytes.resize(static_cast<std::size_t>(block.bytes));
      example_.insert(example_.end(), bytes.begin(), bytes.end());
    }
    for (const ByteCheck& check : chain.decoder->part().bytes.checks)
      for (const PlannedBlock& block : plan.blocks)
        if (block.name == check.block)
          checks_.push_back({check.kind, block.at + check.from, block.at + check.to, block.at + check.at,
                             HandoffStatus::ok, check.before});
  }
  std::vector<std::uint8_t> with_field(const PlannedField& field, std::int64_t number) const {
    std::vector<std::uint8_t> bytes = example_;
    put(bytes, field, number);
    return checked(std::move(bytes));
  }
  void put(std::vector<std::uint8_t>& bytes, const PlannedField& field, std::int64_t number) const {
    auto plain = static_cast<std::uint64_t>(number);
    if (field.sign == FieldSign::magnitude && number < 0)
      plain = (std::uint64_t{1} << (field.bits - 1)) + static_cast<std::uint64_t>(-number);
    for (auto run = field.runs.rbegin(); run != field.runs.rend(); ++run) {
      const int width = run->high - run->low + 1;
      const auto mask = static_cast<std::uint8_t>(((1u << width) - 1u) << run->low);
      auto& byte = bytes[static_cast<std::size_t>(run->byte)];
      byte = static_cast<std::uint8_t>((byte & ~mask) | (static_cast<std::uint8_t>(plain << run->low) & mask));
      plain >>= width;
    }
  }
  std::vector<std::uint8_t> checked(std::vector<std::uint8_t> bytes) const {
    for (const PlannedCheck& check : checks_)
      if (const auto* kind = check_kind(check.kind); kind->write) kind->write(bytes, as_byte_check(check));
    return bytes;
  }
  const std::vector<std::uint8_t>& example() const { return example_; }

 private:
  const BytePlan& plan_;
  std::vector<std::uint8_t> example_;
  std::vector<PlannedCheck> checks_;
};

}  // namespace fair_gauge
