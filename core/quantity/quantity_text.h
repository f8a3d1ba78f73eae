// Reads quantities as people write them: 4k7, 4,7k, 3V3, 72 F, −5, 0x76.
#pragma once

#include <string_view>
#include <vector>

#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// A number in the base unit of its dimension, and the unit it was written in.
struct QuantityValue {
  double base = 0;
  const Unit* written = nullptr;  ///< never null after parsing

  double in(const Unit& unit) const { return unit.from_base(base); }
};

/// Reads one quantity of a known dimension.
///
/// Accepts a decimal point or comma, spaces (also thin and no-break) between groups of three digits, an exponent,
/// decimal prefixes p n µ m k M G, the prefix or unit in place of the decimal mark (4k7, 3V3, 2R2), any minus or
/// micro or ohm character that documents contain, and 0x… for plain numbers. What `F`, `K`, `C` and `m` mean
/// follows from the dimension.
/// \param bare  the unit meant when none is written; null → the base unit of the dimension
/// \returns a finite quantity, or the reason with the column of the first character not understood
Result<QuantityValue> parse_quantity(std::string_view text, Dimension dimension, const Unit* bare = nullptr);

/// The unit that a word names, as it stands or behind a decimal prefix; a prefix alone names none. Null for none.
const Unit* unit_named(std::string_view word, Dimension dimension);

/// Reads a comma-separated list, where the decimal mark is a point.
Result<std::vector<double>> parse_quantity_list(std::string_view text, Dimension dimension);

/// Reads a quantity whose unit must say what it is: "25 degC", "40 %", "1013 hPa". A bare number is refused.
Result<QuantityValue> parse_quantity_any(std::string_view text);

/// Reads a plain decimal number (point or comma), nothing else. For files, where no unit may follow.
Result<double> parse_number(std::string_view text);

}  // namespace fair_gauge
