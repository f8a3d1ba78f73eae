// From a raw number and another channel's reading to steps of the result: points over both, straight lines between
// them, or a formula of both. It can run itself exactly as the written code will.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

#include "handoff/arithmetic.h"
#include "handoff/byte_plan.h"

namespace fair_gauge {

/// Bits behind the point of what is kept at the joints, so that two interpolations cost no step.
inline constexpr int surface_fraction_bits = 4;

struct SurfaceArithmetic {
  std::int64_t first = 0, last = 0;      ///< raw numbers that have a reading at some side
  std::vector<std::uint32_t> x;          ///< of the joints, raw − first, rising from 0 to last − first
  std::vector<std::int32_t> side;        ///< of the joints, steps of the other channel, rising
  std::vector<std::uint32_t> y;          ///< [side][x], sixteenths of a step of the result above `lift`
  std::int32_t lift = 0;                 ///< steps
  std::int32_t lowest = 0, highest = 0;  ///< steps that are a reading
  bool falls = false;                    ///< a larger raw number reads less
  int word_bits = 32;
  /// The formula itself, of `raw` and `side`, instead of joints; `x` and `side` then hold the ends alone.
  std::optional<FloatArithmetic> floating = {};
  bool has_gaps = false;       ///< pairs within its ends may have no value by the formula: they are OUT_OF_RANGE
  double off_at_limits = 0.5;  ///< steps that it may be off where a limit decides, at least the rounding

  /// Steps of the result that one step of the side makes at most.
  double steepest_by_side() const;

  struct Outcome {
    HandoffStatus status = HandoffStatus::ok;
    std::int32_t value = 0;  ///< steps, where ok
  };
  /// \param largest  takes the largest intermediate, if not null
  Outcome run(std::int64_t raw, std::int64_t other, std::uint64_t* largest = nullptr) const;
  /// The same with floating point in double, as Python has it.
  Outcome run_in_double(std::int64_t raw, std::int64_t other) const;

 private:
  std::optional<Outcome> outside(std::int64_t raw, std::int64_t other) const;
  Outcome within_limits(double steps) const;
};

/// What the exact chain reads in steps of the result, not rounded; not a number where it has no reading.
using ExactSurface = std::function<double(std::int64_t raw, std::int64_t side)>;

struct SurfaceRange {
  std::int64_t raw_from = 0, raw_to = 0;
  std::int64_t side_from = 0, side_to = 0;
  double wanted_from = 0, wanted_to = 0;  ///< steps of the result
  std::int64_t drawn = 1'000'000;         ///< pairs that are run where there are more than eight times as many; ≥ 1
};

/// \param tolerance  steps that lines may be off within the wanted range, rounding not included; five times as much
/// beyond \returns joints whose lines stay within it at the places that were looked at: `prove_surface` tells the rest;
/// a problem where more than 4096 joints would be needed
Result<SurfaceArithmetic> surface_arithmetic(const ExactSurface& exact, const SurfaceRange& range, double tolerance);

/// \param formula  of `raw` and `side`, result in the shown unit
/// \returns it over the same range; a problem where nothing there has a reading
Result<SurfaceArithmetic> float_surface(const ExactSurface& exact, const SurfaceRange& range, const Formula& formula,
                                        double per_unit);

/// What running it has shown: over every raw number at every side, or over drawn ones where there are too many.
struct SurfaceProof {
  double worst = 0, worst_wanted = 0;  ///< steps
  std::int64_t at_raw = 0, at_side = 0;
  std::int64_t codes = 0;
  std::int64_t gaps = 0;  ///< pairs within both ends that have no value by its formula
  bool exhaustive = true;
  std::uint64_t largest_intermediate = 0;
  std::int64_t disagreements =
      0;  ///< a reading where the chain has none or the other way round, beyond a step of a limit
  bool is_cancelled = false;
};
SurfaceProof prove_surface(const SurfaceArithmetic& surface, const ExactSurface& exact, const SurfaceRange& range,
                           const std::function<bool()>& is_cancelled = {});

}  // namespace fair_gauge
