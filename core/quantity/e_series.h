// Preferred values of resistors and capacitors.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace fair_gauge {

/// The series of IEC 60063 by the number of values in a decade.
enum class ESeries { e3 = 3, e6 = 6, e12 = 12, e24 = 24, e48 = 48, e96 = 96, e192 = 192 };

/// "E24" → ESeries::e24; case is ignored.
std::optional<ESeries> e_series_from_text(std::string_view text);

/// The values of one decade, 1 ≤ value < 10, ascending.
/// \source IEC 60063; E3…E24 are not everywhere the rounded power of ten, and E192 has 9.20 where the power gives 9.19
std::span<const double> decade_values(ESeries series);

/// All values from `low` to `high`, both inclusive, ascending. Empty if the bounds are not positive or are swapped.
std::vector<double> values_between(ESeries series, double low, double high);

/// The value nearest to `wanted` by ratio. `wanted` > 0.
double nearest_value(ESeries series, double wanted);

}  // namespace fair_gauge
