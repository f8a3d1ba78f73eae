#include "digital/encoder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "digital/checks.h"
#include "digital/nearest_raw.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// One reading as a function of its field.
class Solver {
 public:
  Solver(const Decoder& decoder, std::vector<double>& fields, std::size_t reading)
      : decoder_(decoder),
        fields_(fields),
        reading_(reading),
        layout_(decoder.part().bytes.readings[reading]),
        field_(*decoder.field(layout_.field)),
        results_(decoder.part().bytes.readings.size()) {
    for (const ByteState& state : decoder.part().bytes.states)
      if (state.field == layout_.field && !state.fault.empty())
        barred_.insert(barred_.end(), state.equals.begin(), state.equals.end());
    if (!layout_.tied.empty()) tied_ = decoder.field(layout_.tied);
  }

  double at(double raw) {
    set(raw);
    decoder_.evaluate(fields_, results_);
    return results_[reading_];
  }

  double solve(double value) {
    const FieldPlace& place = decoder_.places()[field_];
    const auto best = nearest_raw(
        place.least(), place.most(), value, [this](double raw) { return at(raw); },
        [this](double raw) { return std::ranges::find(barred_, raw) != barred_.end(); });
    set(best.raw);
    return best.miss;
  }

 private:
  void set(double raw) {
    fields_[field_] = raw;
    if (tied_) fields_[*tied_] = std::round(raw * layout_.share);
  }

  const Decoder& decoder_;
  std::vector<double>& fields_;
  std::size_t reading_;
  const ByteReading& layout_;
  std::size_t field_;
  std::optional<std::size_t> tied_;
  std::vector<double> results_;
  std::vector<double> barred_;  // raw numbers that the part uses to say something else
};

}  // namespace

double solve_field(const Decoder& decoder, std::vector<double>& fields, std::size_t reading, double value) {
  const ByteReading& layout = decoder.part().bytes.readings[reading];
  if (layout.beside.empty()) return Solver(decoder, fields, reading).solve(value);
  const std::size_t beside = *decoder.field(layout.beside);
  std::vector<double> best = fields;
  double best_miss = std::numeric_limits<double>::infinity();
  for (std::int64_t tried = 0; tried <= decoder.places()[beside].most(); ++tried) {
    fields[beside] = static_cast<double>(tried);
    const double miss = Solver(decoder, fields, reading).solve(value);
    if (miss < best_miss) best_miss = miss, best = fields;
  }
  fields = best;
  return best_miss;
}

Result<ByteBlocks> encode(const Decoder& decoder, const std::map<Quantity, double>& wanted, const ByteBlocks& given) {
  const ByteLayout& layout = decoder.part().bytes;
  ByteBlocks blocks;
  for (const ByteBlock& block : layout.blocks) {
    const auto known = Decoder::find_block(given, block);
    auto& bytes = blocks[block.name];
    bytes.assign(known.begin(), known.end());
    if (bytes.empty()) bytes = *read_hex(block.example);
    bytes.resize(static_cast<std::size_t>(block.bytes));
  }
  std::vector<double> fields;
  for (std::size_t i = 0; i < layout.fields.size(); ++i)
    fields.push_back(static_cast<double>(decoder.places()[i].value(blocks[layout.fields[i].block]).value_or(0)));
  const std::vector<double> before = fields;
  for (const auto& [quantity, value] : wanted) {
    const PartQuantity* measured = decoder.part().measures(quantity);
    if (!measured || std::ranges::find(layout.readings, quantity, &ByteReading::quantity) == layout.readings.end())
      return Problem{translated("the part does not measure {}", translated_name(quantity)),
                     std::string(translated_name(layout.readings.front().quantity))};
    if (value < measured->minimum || value > measured->maximum)
      return Problem{translated("{:g} is outside the part's range of {}", value, translated_name(quantity)),
                     translated("{:g} to {:g}", measured->minimum, measured->maximum)};
  }
  // In the layout's order: the temperature that the others need comes first.
  for (std::size_t r = 0; r < layout.readings.size(); ++r)
    if (const auto value = wanted.find(layout.readings[r].quantity); value != wanted.end())
      solve_field(decoder, fields, r, value->second);
  // Only what was solved is written: some layouts have two fields over the same bits, one for each mode.
  for (std::size_t i = 0; i < fields.size(); ++i)
    if (fields[i] != before[i])
      decoder.places()[i].put(blocks[layout.fields[i].block], static_cast<std::int64_t>(fields[i]));
  for (const ByteCheck& check : layout.checks)
    if (const CheckKind* kind = check_kind(check.kind); kind && kind->write) kind->write(blocks[check.block], check);
  return blocks;
}

}  // namespace fair_gauge
