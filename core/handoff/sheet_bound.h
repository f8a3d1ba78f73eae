// How far the sheets' compensation in whole numbers may be from the same formula in real numbers, over every input.
#pragma once

#include <optional>

#include "formulas/bmx280.h"
#include "handoff/error_bound.h"
#include "handoff/handoff.h"

namespace fair_gauge {

/// The number of the integer form, in its own unit (0.01 °C, 1/256 Pa, 1/1024 %): as real numbers have it, and how far
/// the written code may be from that. Nothing real is rounded; each shift and division of the code is.
/// \param other  raw pressure or humidity; ignored for a temperature
/// \source data sheet, sections 4.2.3 and 8.1, which are the same formula but for that
Bounded bmx280_bounded(const formulas::bmx280::Trimming& c, Quantity quantity, const Bounded& adc_T,
                       const Bounded& other);

/// Of a sheet's arithmetic with its trimming compiled in, over every block of bytes that has a reading: the largest
/// error against the exact chain in steps of the result, rounding included.
/// \param slope, offset  steps = slope · number + offset, as the exact chain has them
/// \returns nothing where it cannot be bounded
std::optional<double> sheet_bound(const HandoffCode& code, double slope, double offset,
                                  const std::function<bool()>& is_cancelled);

}  // namespace fair_gauge
