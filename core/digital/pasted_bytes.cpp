#include "digital/pasted_bytes.h"

#include <algorithm>

namespace fair_gauge {
namespace {

bool fits(const ByteBlock& block, std::size_t bytes) {
  return static_cast<int>(bytes) == block.bytes || static_cast<int>(bytes) == block.shorter;
}

}  // namespace

Result<PastedBytes> paste_bytes(const Part& part, std::string_view text, const std::string& into,
                                std::optional<ByteShape> as, ByteBlocks blocks) {
  const auto block = std::ranges::find(part.bytes.blocks, into, &ByteBlock::name);
  auto read = read_byte_text(text, as);
  // Eight digits of 0 and 1 may be a byte or four: what fits the block is meant.
  const auto fits_block = [&](const Result<ByteText>& bytes) {
    return bytes && block != part.bytes.blocks.end() && fits(*block, bytes->bytes.size());
  };
  if (!as && !fits_block(read) && !(read && (!read->runs.empty() || !read->name.empty())))
    for (const ByteShape other : {ByteShape::hexadecimal, ByteShape::decimal, ByteShape::mixed})
      if (auto again = read_byte_text(text, other); !fits_block(read) && fits_block(again)) read = std::move(again);
  if (!read) return read.problem();
  PastedBytes pasted{.text = std::move(*read), .blocks = std::move(blocks)};
  const auto& bytes = pasted.text.bytes;
  ByteBlocks dumped;
  for (const ByteRun& run : pasted.text.runs) dumped[run.block] = run.bytes;
  for (const ByteBlock& each : part.bytes.blocks) {
    const auto found = Decoder::find_block(dumped, each);
    const auto length = std::min(found.size(), static_cast<std::size_t>(each.bytes));
    if (found.empty()) continue;
    pasted.blocks[each.name].assign(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(length));
    pasted.taking.push_back(each.name);
  }
  if (pasted.text.shape == ByteShape::blocks)
    for (const ByteRun& run : pasted.text.runs)
      if (std::ranges::all_of(part.bytes.blocks, [&](const ByteBlock& each) {
            return Decoder::find_block({{run.block, run.bytes}}, each).empty();
          }))
        pasted.left.push_back(run.block);
  // What a person calls them need not be a block's name; where they stand in the part is said by the part.
  const auto& runs = pasted.text.runs;
  const bool are_called = runs.size() == 1 && (pasted.text.shape == ByteShape::blocks || runs[0].block == "0x00");
  if (!pasted.taking.empty() || (!runs.empty() && !are_called)) return pasted;
  pasted.left.clear();
  pasted.into = into;
  pasted.blocks[into] = bytes;
  pasted.taking = {into};
  if (block == part.bytes.blocks.end() || fits(*block, bytes.size())) return pasted;
  pasted.block_length = block->bytes;
  const auto takes_them = [&](const ByteBlock& each) { return fits(each, bytes.size()); };
  if (std::ranges::count_if(part.bytes.blocks, takes_them) == 1)
    pasted.fits_instead = std::ranges::find_if(part.bytes.blocks, takes_them)->name;
  return pasted;
}

}  // namespace fair_gauge
