// One number read through the mistakes of the table: by the other divisor, with its bytes exchanged.
#pragma once

#include <span>

#include "diagnose/mistakes.h"

namespace fair_gauge {

struct OtherWay {
  std::string code;   ///< of the mistake
  std::string words;  ///< "the bytes are put together in the opposite order"
  double raw = 0;     ///< the number that it takes in
  double value = 0;   ///< what it reads, the channel's unit
};

/// The ways that give another number than the right one, each once, in the order of the table.
/// \param codes  whose rows are tried
/// \returns a problem where the chain cannot be built
Result<std::vector<OtherWay>> other_ways(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                         const RawInput& input, std::span<const std::string_view> codes);

/// Those by which the bytes of a part alone can be read wrongly.
/// \param blocks  all that came, trimming too
/// \returns empty where the bytes of that quantity are missing
std::vector<OtherWay> other_ways_of_bytes(const Catalogue& catalogue, const Part& part, Quantity quantity,
                                          const std::map<std::string, double>& settings, const ByteBlocks& blocks);

struct LikelyWay {
  Quantity quantity;
  OtherWay way;
};
/// Of each reading that is missing or outside what rooms and gardens have (−20…60 °C, 850…1080 hPa, else the part's
/// range): the other ways that would bring it back into them.
/// \param decoded  of the same bytes
std::vector<LikelyWay> likely_ways_of_bytes(const Catalogue& catalogue, const Part& part, const Decoded& decoded,
                                            const std::map<std::string, double>& settings, const ByteBlocks& blocks);

}  // namespace fair_gauge
