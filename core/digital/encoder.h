// From readings back to bytes: the raw numbers are solved for, so that a simulated part or a test can send them.
#pragma once

#include <map>
#include <string>

#include "digital/decoder.h"

namespace fair_gauge {

/// The bytes that come nearest to these values.
/// \param wanted  quantity → value in base units; a quantity that is not named keeps the raw number of the given or
/// example bytes \param given   trimming bytes and whatever else is known; what is missing is taken from the part's own
/// made-up example \returns every block of the layout, checks in place; or why no bytes mean that
Result<ByteBlocks> encode(const Decoder& decoder, const std::map<Quantity, double>& wanted,
                          const ByteBlocks& given = {});

/// The raw number of a reading's field that comes nearest to a value, the other fields as they are.
/// \param fields   one number a field of the layout; changed: the solved field and those tied to it
/// \param reading  index of the layout's readings
/// \returns how far the result is from `value`
double solve_field(const Decoder& decoder, std::vector<double>& fields, std::size_t reading, double value);

}  // namespace fair_gauge
