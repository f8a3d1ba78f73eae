// From a raw number to steps of the result, as firmware does it; it can run itself exactly as the written code will.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "handoff/formula.h"
#include "quantity/result.h"

namespace fair_gauge {

/// Raw numbers that have a reading, without a gap, and what the exact chain reads there.
struct ExactReadings {
  std::int64_t first = 0;                        ///< lowest raw number with a reading
  std::vector<double> values;                    ///< of first, first + 1, …, in steps of the result, not rounded
  std::int64_t wanted_from = 0, wanted_to = -1;  ///< raw numbers of the channel's wanted range
  std::optional<std::pair<double, double>> held_within;  ///< steps; the part's sheet holds the value there

  std::int64_t last() const { return first + static_cast<std::int64_t>(values.size()) - 1; }
};

enum class HandoffForm { integer, table, floating };

/// value = ((x · multiplier + addend) >> shift) + lift, x = raw − first; or addend − x · multiplier. Never below zero
/// before the shift, so that the shift is defined everywhere.
struct LinearArithmetic {
  std::uint64_t multiplier = 0, addend = 0;
  bool falls = false;
  int shift = 0;
  std::int64_t lift = 0;
  int word_bits = 32;
};

/// Horner's scheme in whole numbers, never below zero: sum = coefficients[0]; then for each further one
/// sum = coefficient ± ((sum · x) >> its shift); value = (sum >> shift) + lift. x = raw − first, or last − raw.
struct PolynomialArithmetic {
  std::vector<std::uint64_t> coefficients;  ///< of the highest power first
  std::vector<int> shifts;                  ///< one less than coefficients
  std::vector<bool> falls;                  ///< where the product is taken from the coefficient
  bool from_top = false;
  int shift = 0;
  std::int64_t lift = 0;
  int word_bits = 32;

  /// \returns nothing where a sum would fall below zero
  std::optional<std::int32_t> run(std::uint64_t x, std::uint64_t* largest) const;
};

/// Points with straight lines between them; x = raw − first.
struct TableArithmetic {
  std::vector<std::uint32_t> x;
  std::vector<std::int32_t> y;
  int word_bits = 32;
};

/// The formula itself in float; `raw` is its input.
struct FloatArithmetic {
  Formula formula;
  double per_unit = 1;
};

struct Arithmetic {
  HandoffForm form = HandoffForm::integer;
  std::int64_t first = 0, last = 0;  ///< raw numbers with a reading
  LinearArithmetic linear;
  std::optional<PolynomialArithmetic> polynomial;  ///< of the form integer, instead of `linear`
  TableArithmetic table;
  std::optional<FloatArithmetic> floating;
  std::optional<std::pair<std::int32_t, std::int32_t>> held_within;

  /// Of the intermediate results: 32 or 64.
  int word_bits() const;
  /// Steps of the result. \param raw  first…last   \param largest  takes the largest intermediate, if not null
  std::int32_t run(std::int64_t raw, std::uint64_t* largest = nullptr) const;
  /// The same with floating point in double, as Python has it.
  std::int32_t run_in_double(std::int64_t raw) const;
};

/// What running it over every raw number has shown.
struct Proof {
  double worst = 0;         ///< |result − exact| in steps, over all raw numbers
  std::int64_t at = 0;      ///< raw number of the worst
  double worst_wanted = 0;  ///< within the wanted range
  std::uint64_t largest_intermediate = 0;
  std::int64_t codes = 0;
};
Proof prove(const Arithmetic& arithmetic, const ExactReadings& exact);

/// By how far the result is off over a stretch of raw numbers: result − exact.
struct ErrorStretch {
  std::int64_t first, last;  ///< raw numbers
  double least, most;
};
/// Every raw number with a reading, in at most so many stretches of the same length; in steps.
std::vector<ErrorStretch> errors_across(const Arithmetic& arithmetic, const ExactReadings& exact, std::int64_t most);

/// \param allowed  error in steps, rounding included, within the wanted range
/// \returns the smallest word that does it; a problem where the readings are no straight line within it
Result<Arithmetic> linear_arithmetic(const ExactReadings& exact, double allowed);

/// \returns the lowest power up to the sixth, in the smallest word, that stays within `allowed` of the exact readings
/// (five times as far outside the wanted range); a problem where none does
Result<Arithmetic> polynomial_arithmetic(const ExactReadings& exact, double allowed);

/// \returns few points whose lines stay within `allowed` of the exact readings (five times as far outside the wanted
/// range); a problem where more than 1024 would be needed
Result<Arithmetic> table_arithmetic(const ExactReadings& exact, double allowed);

/// \param formula  of `raw`, result in the shown unit
Arithmetic float_arithmetic(const ExactReadings& exact, const Formula& formula, double per_unit);

}  // namespace fair_gauge
