// Random bytes into every part: the first byte chooses it, the others fill its blocks.
#include <cstddef>
#include <cstdint>
#include <vector>

#include "digital/decoder.h"
#include "fuzz/targets.h"
#include "parts/catalogue.h"

int fuzz_bytes(const std::uint8_t* bytes, std::size_t size) {
  using namespace fair_gauge;
  static const Catalogue catalogue = load_catalogue();
  static const std::vector<const Part*> parts = [] {
    std::vector<const Part*> digital;
    for (const Part& part : catalogue.parts())
      if (part.is_digital()) digital.push_back(&part);
    return digital;
  }();
  if (size < 2) return 0;
  const Part& part = *parts[bytes[0] % parts.size()];
  const Math math = bytes[1] & 1 ? Math::integer : Math::floating;
  ByteBlocks blocks;
  std::size_t at = 2;
  for (const ByteBlock& block : part.bytes.blocks) {
    std::size_t take = static_cast<std::size_t>(block.bytes);
    if (bytes[1] & 2) take = take / 2;  // too short
    take = std::min(take, size - at);
    blocks[block.name].assign(bytes + at, bytes + at + take);
    at += take;
  }
  auto decoder = Decoder::make(part, {}, math);
  if (!decoder) return 0;
  decoder->decode(blocks, Tracing::on);
  decoder->decode_count(bytes[1] * 1e6);
  return 0;
}
