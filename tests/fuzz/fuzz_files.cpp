// Part, controller and bench files: what they hold is read, and used as far as it was understood.
#include <cstddef>
#include <cstdint>
#include <string>

#include "bench/bench_file.h"
#include "chain/chain.h"
#include "choose/need.h"
#include "digital/encoder.h"
#include "fuzz/targets.h"
#include "overview/to_do.h"
#include "parts/controller.h"
#include "wiring/wiring_list.h"

int fuzz_files(const std::uint8_t* bytes, std::size_t size) {
  using namespace fair_gauge;
  const std::string text(reinterpret_cast<const char*>(bytes), size);
  static const Catalogue shipped = load_catalogue();
  Catalogue catalogue;
  (void)catalogue.add(text, "fuzz");
  for (const Part& part : catalogue.parts()) {
    if (!part.is_digital()) {
      (void)transfer_law(part, {});
      continue;
    }
    auto decoder = Decoder::make(part);
    if (!decoder) continue;
    ByteBlocks blocks;
    for (const ByteBlock& block : part.bytes.blocks)
      blocks[block.name].assign(static_cast<std::size_t>(block.bytes), 0x5A);
    decoder->decode(blocks, Tracing::on);
  }
  (void)need_from_text(text, "fuzz");
  std::vector<Problem> problems;
  (void)read_controllers(text, "fuzz", problems);
  const auto bench = bench_from_text(text, "fuzz");
  if (!bench) return 0;
  for (const Channel& channel : bench->bench.channels)
    if (const auto chain = build_chain(bench->bench, shipped, channel.id))
      (void)evaluate(*chain, {StageName::world, channel.wanted.from});
  (void)to_do(bench->bench, shipped, 20000);
  (void)wiring_list(bench->bench, shipped);
  return 0;
}
