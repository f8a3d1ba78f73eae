// The raw number whose reading comes nearest to a value.
#pragma once

#include <cmath>
#include <cstdint>
#include <limits>

namespace fair_gauge {

struct NearestRaw {
  double raw = 0;
  double miss = 0;  ///< of the reading, from the value
};

/// Towards the ends of the raw range formulas may wrap or turn back: of the pieces that enclose the value the one that
/// changes least is the right one. Rounding inside the formula can put the best one a few steps aside.
/// \param reading  of a raw number; not a number where there is none
/// \param barred   true for a raw number that says something else than a reading
template <class Reading, class Barred>
NearestRaw nearest_raw(std::int64_t least_raw, std::int64_t most_raw, double value, Reading reading, Barred barred) {
  const auto least = static_cast<double>(least_raw), most = static_cast<double>(most_raw);
  constexpr int pieces = 256;
  double low = least, high = least, narrowest = std::numeric_limits<double>::infinity();
  double last_raw = least, last = reading(least), nearest = std::numeric_limits<double>::infinity();
  for (int i = 0; i <= pieces; ++i) {
    const double raw = std::floor(least + (most - least) * i / pieces), reads = reading(raw);
    if ((last - value) * (reads - value) <= 0 && std::abs(reads - last) < narrowest) {
      narrowest = std::abs(reads - last);
      low = last_raw, high = raw;
    } else if (std::isinf(narrowest) && std::abs(reads - value) < nearest) {
      nearest = std::abs(reads - value);
      low = high = raw;
    }
    last_raw = raw, last = reads;
  }
  const bool rises = reading(high) > reading(low);
  while (high - low > 1) {
    const double middle = std::floor((low + high) / 2);
    ((reading(middle) > value) == rises ? high : low) = middle;
  }
  NearestRaw best{low, std::numeric_limits<double>::infinity()};
  constexpr int aside = 4;
  for (int step = -aside; step <= static_cast<int>(high - low) + aside; ++step) {
    const double raw = low + step;
    if (raw < least || raw > most || barred(raw)) continue;
    const double miss = std::abs(reading(raw) - value);
    if (miss < best.miss) best = {raw, miss};
  }
  return best;
}

}  // namespace fair_gauge
