// A bound on how far a formula in floating point is from the same formula in real numbers, over every input: intervals
// that carry their own error, halved until the bound is tight enough.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace fair_gauge {

class Formula;

/// A real number that is known to lie within from…to, and a floating-point one that is at most `error` away from it.
struct Bounded {
  double from, to;
  double error = 0;
  bool whole = false;  ///< a whole number, whichever it is
  double divisor = 0;  ///< of a quotient of whole numbers, rounded once: the largest that it was divided by; else 0

  double size() const;  ///< the largest that the real number may be, without its sign
  /// True where there is surely no number: something was divided by nothing.
  bool is_none() const;
};

/// Half of what the last bit is worth, of numbers about 1. \source IEEE 754
inline constexpr double float_roundoff = 0x1p-24, double_roundoff = 0x1p-53;

/// Whole numbers that an input may have.
struct InputRange {
  std::int64_t from, to;
};

/// What is asked of the bound.
struct BoundRequest {
  std::vector<InputRange> inputs;  ///< of the formula's bound names, in order
  double roundoff = float_roundoff;
  double lowest, highest;  ///< results beyond these are no readings and do not count
  double enough;           ///< a bound that is not above this is not made tighter
  std::function<bool()> is_cancelled = {};
};

/// What a formula gives over ranges of inputs, with how far what is computed may be from it.
using BoundedRun = std::function<Bounded(std::span<const Bounded>)>;
/// The same of a formula that is computed in another way, such as in whole numbers.
std::optional<double> error_bound(const BoundedRun& run, const BoundRequest& request);

/// Computed in whole numbers of 64 bits: sums and products are exact, shifts and divisions cut what the real number
/// keeps. What may pass 63 bits is bounded by nothing.
namespace whole {
Bounded plus(const Bounded& a, const Bounded& b);
Bounded minus(const Bounded& a, const Bounded& b);
Bounded times(const Bounded& a, const Bounded& b);
/// Towards zero or downwards.
Bounded divided(const Bounded& a, const Bounded& b);
/// a / 2^bits, downwards.
Bounded shifted(const Bounded& a, int bits);
/// The same of what half of 2^bits was added to: the nearest.
Bounded rounded_shift(const Bounded& a, int bits);
Bounded within(const Bounded& a, double lowest, double highest);
}  // namespace whole

/// \returns the largest |floating point − real| over all inputs whose result counts; nothing where it cannot be bounded
/// \source running error analysis by IEEE 754: an operation is off by half of its last bit at most; functions are taken
/// as within four units of roundoff
std::optional<double> error_bound(const Formula& formula, const BoundRequest& request);

}  // namespace fair_gauge
