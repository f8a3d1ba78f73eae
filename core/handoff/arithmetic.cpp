#include "handoff/arithmetic.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "handoff/joints.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

std::int32_t rounded_steps(double value) {
  const double whole = std::floor(value + 0.5);
  return static_cast<std::int32_t>(std::clamp(whole, -2147483648.0, 2147483647.0));
}

std::int32_t run_linear(const LinearArithmetic& linear, std::uint64_t x, std::uint64_t* largest) {
  const std::uint64_t product = x * linear.multiplier;
  const std::uint64_t sum = linear.falls ? linear.addend - product : linear.addend + product;
  if (largest) *largest = std::max({*largest, sum, product, linear.addend});
  return static_cast<std::int32_t>(static_cast<std::int64_t>(sum >> linear.shift) + linear.lift);
}

std::int32_t run_table(const TableArithmetic& table, std::uint32_t x, std::uint64_t* largest) {
  std::size_t low = 0, high = table.x.size() - 1;
  while (high - low > 1) {
    const std::size_t middle = (low + high) / 2;
    (x >= table.x[middle] ? low : high) = middle;
  }
  if (high == low) return table.y[low];
  const std::uint64_t across = table.x[high] - table.x[low];
  const bool rises = table.y[high] >= table.y[low];
  const auto up = static_cast<std::uint64_t>(rises ? static_cast<std::int64_t>(table.y[high]) - table.y[low]
                                                   : static_cast<std::int64_t>(table.y[low]) - table.y[high]);
  const std::uint64_t sum = (x - table.x[low]) * up + across / 2;
  if (largest) *largest = std::max(*largest, sum);
  const auto by = static_cast<std::int32_t>(sum / across);
  return rises ? table.y[low] + by : table.y[low] - by;
}

}  // namespace

std::int32_t Arithmetic::run(std::int64_t raw, std::uint64_t* largest) const {
  std::int32_t value = 0;
  if (form == HandoffForm::floating)
    value = static_cast<std::int32_t>(std::floor(floating->formula.run<float>(std::array{static_cast<double>(raw)}) *
                                                     static_cast<float>(floating->per_unit) +
                                                 0.5F));
  else if (form == HandoffForm::table)
    value = run_table(table, static_cast<std::uint32_t>(raw - first), largest);
  else if (polynomial)
    value = polynomial->run(static_cast<std::uint64_t>(polynomial->from_top ? last - raw : raw - first), largest)
                .value_or(0);
  else
    value = run_linear(linear, static_cast<std::uint64_t>(raw - first), largest);
  return held_within ? std::clamp(value, held_within->first, held_within->second) : value;
}

int Arithmetic::word_bits() const {
  return form == HandoffForm::table      ? table.word_bits
         : form == HandoffForm::floating ? 32
         : polynomial                    ? polynomial->word_bits
                                         : linear.word_bits;
}

std::int32_t Arithmetic::run_in_double(std::int64_t raw) const {
  if (form != HandoffForm::floating) return run(raw);
  const auto value = static_cast<std::int32_t>(
      std::floor(floating->formula.run<double>(std::array{static_cast<double>(raw)}) * floating->per_unit + 0.5));
  return held_within ? std::clamp(value, held_within->first, held_within->second) : value;
}

Proof prove(const Arithmetic& arithmetic, const ExactReadings& exact) {
  Proof proof;
  proof.at = exact.first;
  for (std::size_t i = 0; i < exact.values.size(); ++i) {
    const std::int64_t raw = exact.first + static_cast<std::int64_t>(i);
    const double miss = std::abs(arithmetic.run(raw, &proof.largest_intermediate) - exact.values[i]);
    if (miss > proof.worst) proof.worst = miss, proof.at = raw;
    if (raw >= exact.wanted_from && raw <= exact.wanted_to) proof.worst_wanted = std::max(proof.worst_wanted, miss);
    ++proof.codes;
  }
  return proof;
}

std::vector<ErrorStretch> errors_across(const Arithmetic& arithmetic, const ExactReadings& exact, std::int64_t most) {
  const auto count = static_cast<std::int64_t>(exact.values.size());
  const std::int64_t length = std::max<std::int64_t>(1, (count + most - 1) / most);
  std::vector<ErrorStretch> stretches;
  for (std::int64_t i = 0; i < count; ++i) {
    const std::int64_t raw = exact.first + i;
    const double off = arithmetic.run(raw, nullptr) - exact.values[static_cast<std::size_t>(i)];
    if (std::isnan(off)) continue;
    if (stretches.empty() || i / length != (stretches.back().first - exact.first) / length)
      stretches.push_back({raw, raw, off, off});
    ErrorStretch& now = stretches.back();
    now.last = raw;
    now.least = std::min(now.least, off), now.most = std::max(now.most, off);
  }
  return stretches;
}

namespace {

// Where the sheet does not hold the value, so that a line through it means something.
std::pair<std::size_t, std::size_t> free_part(const ExactReadings& exact) {
  std::size_t from = 0, to = exact.values.size() - 1;
  if (!exact.held_within) return {from, to};
  const auto inside = [&](std::size_t i) {
    return exact.values[i] > exact.held_within->first && exact.values[i] < exact.held_within->second;
  };
  while (from < to && !inside(from)) ++from;
  while (to > from && !inside(to)) --to;
  return {from, to};
}

Arithmetic blank(const ExactReadings& exact, HandoffForm form) {
  Arithmetic arithmetic;
  arithmetic.form = form;
  arithmetic.first = exact.first, arithmetic.last = exact.last();
  if (exact.held_within)
    arithmetic.held_within = {rounded_steps(exact.held_within->first), rounded_steps(exact.held_within->second)};
  return arithmetic;
}

}  // namespace

Result<Arithmetic> linear_arithmetic(const ExactReadings& exact, double allowed) {
  const auto [from, to] = free_part(exact);
  const double across = static_cast<double>(to - from);
  const double slope = to > from ? (exact.values[to] - exact.values[from]) / across : 0;
  // Half of what the readings bend away from the line through the ends is given to either side.
  double above = 0, below = 0;
  for (std::size_t i = from; i <= to; ++i) {
    const double off = exact.values[i] - exact.values[from] - slope * static_cast<double>(i - from);
    above = std::max(above, off), below = std::min(below, off);
  }
  if (above - below > 2 * std::max(allowed - 0.5, 1e-3))
    return Problem{
        translated("the readings bend by {:.3g} steps: one multiplication does not follow them", above - below),
        translated("the form table or float")};
  // No more is lost to the constants than a twentieth of a step.
  const double aim = std::min(allowed, 0.55 + (above - below) / 2);
  const double start = exact.values[from] - slope * static_cast<double>(from) + (above + below) / 2;
  const double end = start + slope * static_cast<double>(exact.values.size() - 1);
  const double lift = std::floor(std::min(start, end)) - 1;
  Arithmetic best = blank(exact, HandoffForm::integer);
  for (const int word : {32, 64}) {
    for (int shift = word == 32 ? 31 : 40; shift >= 0; --shift) {
      const double unit = std::exp2(shift), largest = (std::max(start, end) - lift + 1) * unit;
      if (!(largest < std::exp2(word == 32 ? 32 : 62))) continue;
      LinearArithmetic& linear = best.linear;
      linear.falls = slope < 0;
      linear.multiplier = static_cast<std::uint64_t>(std::floor(std::abs(slope) * unit + 0.5));
      linear.addend = static_cast<std::uint64_t>(std::floor((start - lift + 0.5) * unit));
      linear.shift = shift;
      linear.lift = static_cast<std::int64_t>(lift);
      linear.word_bits = word;
      const Proof proof = prove(best, exact);
      const bool fits = proof.largest_intermediate < (word == 32 ? std::uint64_t{1} << 32 : std::uint64_t{1} << 63);
      if (fits && (proof.worst <= aim || word == 64)) {
        // Sixteen bits where they do it: a shift that an 8-bit controller has for nothing.
        if (shift > 16) {
          Arithmetic shorter = best;
          const double smaller = std::exp2(16);
          shorter.linear.multiplier = static_cast<std::uint64_t>(std::floor(std::abs(slope) * smaller + 0.5));
          shorter.linear.addend = static_cast<std::uint64_t>(std::floor((start - lift + 0.5) * smaller));
          shorter.linear.shift = 16;
          const Proof shown = prove(shorter, exact);
          const bool narrower = shown.largest_intermediate < std::uint64_t{1} << 32;
          if (shown.worst <= std::max(proof.worst, aim) && (word == 64 || narrower)) best = shorter;
          if (narrower) best.linear.word_bits = best.linear.shift == 16 ? 32 : word;
        }
        return best;
      }
      break;
    }
  }
  return Problem{translated("no word of 64 bits holds the readings with enough digits"),
                 translated("fewer steps a unit")};
}

Result<Arithmetic> table_arithmetic(const ExactReadings& exact, double allowed) {
  constexpr std::size_t most_points = 1024;
  Arithmetic arithmetic = blank(exact, HandoffForm::table);
  TableArithmetic& table = arithmetic.table;
  const auto allowed_at = [&](std::size_t i) {
    const std::int64_t raw = exact.first + static_cast<std::int64_t>(i);
    const bool wanted = raw >= exact.wanted_from && raw <= exact.wanted_to;
    return wanted ? allowed : 0.5 + 5 * (allowed - 0.5);
  };
  const auto follows = [&](std::size_t from, std::size_t to) {
    TableArithmetic piece;
    piece.x = {0, static_cast<std::uint32_t>(to - from)};
    piece.y = {rounded_steps(exact.values[from]), rounded_steps(exact.values[to])};
    for (std::size_t i = from; i <= to; ++i)
      if (std::abs(run_table(piece, static_cast<std::uint32_t>(i - from), nullptr) - exact.values[i]) > allowed_at(i))
        return false;
    return true;
  };
  for (const std::size_t at : joints(exact.values.size(), follows, most_points)) {
    table.x.push_back(static_cast<std::uint32_t>(at));
    table.y.push_back(rounded_steps(exact.values[at]));
  }
  if (table.x.size() > most_points)
    return Problem{translated("more than {} points would be needed", most_points),
                   translated("fewer steps a unit, or the form float")};
  const Proof proof = prove(arithmetic, exact);
  table.word_bits = proof.largest_intermediate < (std::uint64_t{1} << 32) ? 32 : 64;
  return arithmetic;
}

Arithmetic float_arithmetic(const ExactReadings& exact, const Formula& formula, double per_unit) {
  Arithmetic arithmetic = blank(exact, HandoffForm::floating);
  arithmetic.floating = FloatArithmetic{formula, per_unit};
  arithmetic.floating->formula.bind({"raw"});
  return arithmetic;
}

}  // namespace fair_gauge
