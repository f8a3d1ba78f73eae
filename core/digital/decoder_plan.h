// A layout made ready to decode: what the decoder keeps and what one reader at a time works on. Inside this room only.
// What a fault touches is worked out from the layout: a reading needs the fields that its formula uses, a check covers
// the fields whose bytes it covers. A fault that touches no reading in particular touches all.
#pragma once

#include <algorithm>
#include <mutex>

#include "digital/checks.h"
#include "digital/decoder.h"
#include "parts/expression.h"

namespace fair_gauge {

using Mask = std::uint32_t;  ///< a bit a reading
inline constexpr std::size_t most_blocks = 16;

/// How far a check reaches into its block.
inline int last_byte(const ByteCheck& check) {
  return std::max(check.at + (check.kind == "crc16-a001" ? 1 : 0), check.to);
}

// What one reader at a time works on: the row of numbers that the expressions read, and the expressions bound to it.
struct Decoder::Scratch {
  std::vector<double> fields;  // raw numbers of the layout's fields
  std::vector<double> values;  // fields, settings, steps; the length of the first block at the end
  std::vector<Expression> steps;
  std::vector<std::optional<Expression>> expressions, only;  // of the readings
  std::vector<double> formula_inputs, formula_outputs, results;
};

struct Decoder::Plan {
  std::shared_ptr<const Part> part;
  Math math = Math::floating;
  std::map<std::string, double> settings;

  std::vector<std::size_t> block_of_field;
  std::vector<FieldPlace> places;
  std::vector<Mask> needed_by;                   // of each field
  std::vector<std::vector<std::uint8_t>> usual;  // bytes of each block's example, for those a shorter form leaves out
  std::vector<const CheckKind*> checks;          // of the layout's checks
  std::vector<Mask> check_touches;
  std::vector<Mask> state_touches;
  std::vector<std::size_t> state_value;  // index into values

  struct Reading {
    const ByteReading* layout;
    const PartQuantity* quantity;
    std::size_t field;
    std::size_t formula_at = 0;
  };
  std::vector<Reading> readings;
  const CodedFormula* formula = nullptr;
  std::vector<std::size_t> formula_fields;
  std::vector<double> formula_settings;

  // Scratches that nobody uses at the moment.
  mutable std::mutex idle_guard;
  mutable std::vector<std::unique_ptr<Scratch>> idle;

  std::size_t first_step() const { return places.size() + settings.size(); }
  Mask all() const { return (Mask{1} << readings.size()) - 1; }

  std::optional<Problem> compile();
  std::optional<Problem> add_settings(const std::map<std::string, double>& given);
  std::optional<Problem> add_fields();
  std::optional<Problem> bind(Scratch& scratch) const;
  std::optional<Problem> add_expressions();
  std::uint64_t fields_of(const Expression& expression, const std::vector<std::uint64_t>& from) const;
  std::optional<Problem> add_formula();
  std::optional<Problem> add_rules();
  Mask touched(const std::vector<Quantity>& quantities, Mask otherwise) const;
  std::optional<std::size_t> value_named(const std::string& name) const;

  void work_out(Scratch& scratch, std::span<double> out, std::vector<TraceEntry>* trace) const;
  // Takes out of `trace` what would be another value if the missing fields were other numbers; changes `scratch`.
  void leave_known(std::vector<TraceEntry>& trace, std::span<const std::size_t> missing, Scratch& scratch) const;
  void judge_states(const Scratch& scratch, std::size_t from, std::size_t to, Decoded& decoded,
                    Mask& touched_readings) const;
  void give_readings(const Scratch& scratch, Decoded& decoded, Mask touched_readings) const;
  std::string words_of(const PartQuantity& quantity) const;
};

}  // namespace fair_gauge
