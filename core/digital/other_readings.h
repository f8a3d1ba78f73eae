// The same bytes read in the other ways that people read them by mistake: which of them would make sense?
#pragma once

#include <string>
#include <vector>

#include "digital/decoder.h"

namespace fair_gauge {

struct OtherReading {
  std::string how;         ///< "bytes swapped", "high and low byte added", …
  double raw = 0;          ///< the number it makes of the field's bytes
  double value = 0;        ///< base units of the quantity
  bool plausible = false;  ///< within the range that is asked for
};

/// \param reading  index of the layout's readings
/// \param from,to  what is plausible, base units
/// \returns the ways that give another number than the right one; empty if the bytes are missing
std::vector<OtherReading> other_readings(const Decoder& decoder, const ByteBlocks& blocks, std::size_t reading,
                                         double from, double to);

}  // namespace fair_gauge
