// Bytes that somebody pasted, put into the blocks of a part.
#pragma once

#include "digital/byte_text.h"
#include "digital/decoder.h"
#include "parts/part.h"

namespace fair_gauge {

struct PastedBytes {
  ByteText text;                    ///< as it was understood
  ByteBlocks blocks;                ///< those that were given, with the pasted bytes in them
  std::string into;                 ///< the block that took them; empty → a dump that says itself where they belong
  std::vector<std::string> taking;  ///< all blocks that took some
  std::vector<std::string> left;    ///< that were named and are none of this part's
  std::optional<int> block_length;  ///< of that block, where another number of bytes came
  std::string fits_instead;         ///< the only other block that takes as many; empty → none, or several
};

/// \param into    the block that takes bytes which do not say where they belong
/// \param as      how to read the text; nothing → guessed, and of two ways the one that fits the block
/// \param blocks  that are there already
Result<PastedBytes> paste_bytes(const Part& part, std::string_view text, const std::string& into,
                                std::optional<ByteShape> as, ByteBlocks blocks);

}  // namespace fair_gauge
