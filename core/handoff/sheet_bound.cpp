#include "handoff/sheet_bound.h"

#include <algorithm>
#include <cmath>

namespace fair_gauge {
namespace {

// Of the code's 64 bits: sums and products are exact, shifts and divisions cut.
Bounded exactly(double number) { return {number, number, 0, true}; }

}  // namespace

Bounded bmx280_bounded(const formulas::bmx280::Trimming& c, Quantity quantity, const Bounded& adc_T,
                       const Bounded& other) {
  using namespace whole;
  const auto of = [](std::int64_t word) { return exactly(static_cast<double>(word)); };
  const auto squared = [](const Bounded& x) { return times(x, x); };
  const Bounded t1 = shifted(times(minus(shifted(adc_T, 3), of(std::int64_t{c.dig_T1} * 2)), of(c.dig_T2)), 11);
  const Bounded near = minus(shifted(adc_T, 4), of(c.dig_T1));
  const Bounded t2 = shifted(times(shifted(squared(near), 12), of(c.dig_T3)), 14);
  const Bounded t = plus(t1, t2);
  if (quantity == Quantity::temperature) return rounded_shift(times(t, of(5)), 8);
  if (quantity == Quantity::pressure) {
    const Bounded off = minus(t, of(128000));
    const Bounded var2 = plus(plus(times(squared(off), of(c.dig_P6)), times(times(off, of(c.dig_P5)), of(131072))),
                              times(of(c.dig_P4), of(std::int64_t{1} << 35)));
    const Bounded slope =
        plus(shifted(times(squared(off), of(c.dig_P3)), 8), times(times(off, of(c.dig_P2)), of(4096)));
    const Bounded scale = shifted(times(plus(of(std::int64_t{1} << 47), slope), of(c.dig_P1)), 33);
    const Bounded over = minus(times(minus(of(1048576), other), of(std::int64_t{1} << 31)), var2);
    const Bounded p = divided(times(over, of(3125)), scale);
    const Bounded p1 = shifted(times(of(c.dig_P9), squared(shifted(p, 13))), 25);
    const Bounded p2 = shifted(times(of(c.dig_P8), p), 19);
    return plus(shifted(plus(plus(p, p1), p2), 8), of(std::int64_t{c.dig_P7} * 16));
  }
  const Bounded off = minus(t, of(76800));
  const Bounded left = rounded_shift(
      minus(minus(times(other, of(16384)), of(std::int64_t{c.dig_H4} * (1 << 20))), times(of(c.dig_H5), off)), 15);
  const Bounded bent =
      shifted(times(shifted(times(off, of(c.dig_H6)), 10), plus(shifted(times(off, of(c.dig_H3)), 11), of(32768))), 10);
  const Bounded right = rounded_shift(times(plus(bent, of(2097152)), of(c.dig_H2)), 14);
  const Bounded raw = times(left, right);
  const Bounded h = minus(raw, shifted(times(shifted(squared(shifted(raw, 15)), 7), of(c.dig_H1)), 4));
  return shifted(within(h, 0, 419430400), 12);
}

std::optional<double> sheet_bound(const HandoffCode& code, double slope, double offset,
                                  const std::function<bool()>& is_cancelled) {
  const SheetArithmetic& sheet = *code.sheet;
  const double one = (static_cast<double>(sheet.lowest) - 0.5 - offset) / slope,
               other = (static_cast<double>(sheet.highest) + 0.5 - offset) / slope;
  const double low = std::min(one, other), high = std::max(one, other);
  // The others' sheets have whole numbers alone: those are the exact chain too.
  double of_form = 0;
  if (sheet.formula == "bmp280" || sheet.formula == "bme280") {
    formulas::bmx280::Trimming c;
    std::optional<InputRange> first, second;
    const auto word = [&](const char* name) {
      const auto field = std::ranges::find(code.bytes->fields, name, &PlannedField::name);
      return field == code.bytes->fields.end() ? 0 : static_cast<std::int32_t>(field->value);
    };
    c = {.dig_T1 = word("dig_T1"),
         .dig_T2 = word("dig_T2"),
         .dig_T3 = word("dig_T3"),
         .dig_P1 = word("dig_P1"),
         .dig_P2 = word("dig_P2"),
         .dig_P3 = word("dig_P3"),
         .dig_P4 = word("dig_P4"),
         .dig_P5 = word("dig_P5"),
         .dig_P6 = word("dig_P6"),
         .dig_P7 = word("dig_P7"),
         .dig_P8 = word("dig_P8"),
         .dig_P9 = word("dig_P9"),
         .dig_H1 = word("dig_H1"),
         .dig_H2 = word("dig_H2"),
         .dig_H3 = word("dig_H3"),
         .dig_H4 = word("dig_H4"),
         .dig_H5 = word("dig_H5"),
         .dig_H6 = word("dig_H6")};
    const char* own = sheet.quantity == Quantity::pressure   ? "adc_P"
                      : sheet.quantity == Quantity::humidity ? "adc_H"
                                                             : "adc_T";
    for (const PlannedField& field : code.bytes->fields) {
      const InputRange all{0, (std::int64_t{1} << field.bits) - 1};
      if (field.name == "adc_T") first = all;
      if (field.name == own) second = all;
    }
    if (!first || !second) return std::nullopt;
    BoundRequest asked{.inputs = {*first},
                       .roundoff = 0,
                       .lowest = low,
                       .highest = high,
                       .enough = 0.02 / std::abs(slope),
                       .is_cancelled = is_cancelled};
    const bool is_temperature = sheet.quantity == Quantity::temperature;
    if (!is_temperature) asked.inputs.push_back(*second);
    const auto bound = error_bound(
        [&](std::span<const Bounded> values) {
          return bmx280_bounded(c, sheet.quantity, values.front(), values.back());
        },
        asked);
    if (!bound) return std::nullopt;
    of_form = *bound;
  }
  // Steps are made of the number by a multiplication, an addition and a shift, the addition half a step high.
  const double size = std::max(std::abs(low), std::abs(high)), power = std::exp2(sheet.shift);
  const double of_scale = std::abs(static_cast<double>(sheet.multiplier) / power - slope) * size +
                          std::abs(static_cast<double>(sheet.addend) / power - 0.5 - offset);
  constexpr double of_double = 1e-12;  // the exact chain's own rounding
  // Whole steps of a whole number need none.
  const bool is_whole = slope == std::round(slope) && offset == std::round(offset) && of_scale < 0.25;
  const double of_rounding = is_whole ? 0 : 0.5;
  return std::abs(slope) * of_form + of_scale + of_rounding + of_double * (std::abs(slope) * size + 1);
}

}  // namespace fair_gauge
