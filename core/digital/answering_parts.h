// Bytes that nobody has named yet: which parts of the catalogue answer so.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "parts/catalogue.h"

namespace fair_gauge {

/// A part that may have sent some bytes.
struct AnsweringPart {
  const Part* part = nullptr;  ///< of the catalogue
  std::string block;           ///< of its layout, that these bytes would be
  bool is_proven = false;      ///< a checksum among the bytes says so
};

/// The parts of which a block of readings is so long, where most of the answers are a reading of it. Where a checksum
/// of some of them holds, those alone; the other way round, more than eight of the same length say nothing and are left
/// out.
/// \param answers  of one part, the last few; of any length, also none
std::vector<AnsweringPart> parts_that_answer(const Catalogue& catalogue,
                                             const std::vector<std::vector<std::uint8_t>>& answers);

/// "SHT30, SHT31 and 6 more" by what is printed on them; empty where there are none.
std::string markings_of(const std::vector<AnsweringPart>& parts);

}  // namespace fair_gauge
