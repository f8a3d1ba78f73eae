// A converter of the bench that is a part of its own on a bus: what its file says of it.
#pragma once

#include <optional>

#include "bench/bench.h"
#include "digital/byte_field.h"
#include "parts/part.h"

namespace fair_gauge {

/// Whether it can stand as a converter: it answers with bytes that are a voltage.
bool is_converter(const Part& part);

/// Where its code lies in what it answers: of its data fields the narrowest with at least so many bits.
/// \param bits  1…32  \returns nothing where it has no such field
std::optional<FieldPlace> code_place(const Part& part, int bits);

/// The converter as that part is after power-on: bits, signs, range and gain, the error of its gain. A reference that
/// the part does not bring itself stays as it was. \param part  that is a converter
Converter with_part(Converter converter, const Part& part);

}  // namespace fair_gauge
