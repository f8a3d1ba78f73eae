// What the exact chain reads for every raw number, and its way back as a formula: what arithmetic is held against.
#pragma once

#include <functional>
#include <optional>
#include <utility>

#include "chain/chain.h"
#include "handoff/arithmetic.h"

namespace fair_gauge {

/// The reading of a raw number alone in the channel's unit; not a number where it has none.
double exact_reading(const Chain& chain, double raw);

/// Lowest and highest raw number that can arrive.
std::pair<std::int64_t, std::int64_t> raw_range(const Chain& chain);

/// Least and greatest reading of the raw numbers that have one, in steps; the first above the second where none has.
std::pair<double, double> readable_steps(const Chain& chain, double per_unit);

/// Smallest expanded uncertainty over the wanted range, the channel's unit; a tenth of the allowed error where no
/// budget can be made.
double smallest_uncertainty(const Chain& chain);

/// So many raw numbers are run until somebody is asked whether to go on.
inline constexpr std::int64_t between_questions = 65'536;

/// That somebody did not want to go on.
Problem cancelled();

/// Of every raw number, in steps. \returns a problem where those with a reading are no single range
Result<ExactReadings> exact_readings(const Chain& chain, double per_unit, const std::function<bool()>& is_cancelled);

/// From `raw` to the shown unit; nothing where a link has no formula.
std::optional<Formula> chain_formula(const Chain& chain);

/// What stands behind the compensation, as slope and offset from base units to shown ones; nothing where it bends.
std::optional<std::pair<double, double>> affine_after(const Chain& chain);

}  // namespace fair_gauge
