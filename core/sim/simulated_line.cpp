#include "sim/simulated_line.h"

#include "digital/encoder.h"

namespace fair_gauge {

SimulatedLine::SimulatedLine(const Bench& bench, const Catalogue& catalogue) {
  for (const Channel& channel : bench.channels) {
    const Device* device = find_by_id(bench.devices, channel.device);
    const auto chain = build_chain(bench, catalogue, channel.id);
    if (!device || !chain || !chain->bytes) continue;
    const Converter* converter = find_by_id(bench.converters, device->converter);
    const bool own = catalogue.find(device->part)->is_digital();
    const Part* part = own ? catalogue.find(device->part) : catalogue.find(converter->part);
    Sender& sender = senders_[device->id];
    if (!sender.decoder) {
      auto decoder = Decoder::make(catalogue.share(part->id), own ? device->settings : std::map<std::string, double>{});
      if (!decoder) continue;
      sender.decoder = std::make_shared<const Decoder>(std::move(*decoder));
      for (const auto& [block, hex] : device->trimming)
        if (const auto bytes = read_hex(hex)) sender.blocks[block] = *bytes;
      if (auto blocks = encode(*sender.decoder, {}, sender.blocks)) sender.blocks = std::move(*blocks);
    }
    members_.insert_or_assign(channel.id, Member{device->id, *chain->bytes});
  }
}

std::vector<std::uint8_t> SimulatedLine::bytes(const std::string& channel_id, double raw) {
  const auto member = members_.find(channel_id);
  if (member == members_.end()) return {};
  Sender& sender = senders_.at(member->second.device);
  const auto block = sender.blocks.find(member->second.field.block_name());
  if (block == sender.blocks.end()) return {};
  member->second.field.put(block->second, raw);
  const auto whole = encode(*sender.decoder, {}, sender.blocks);
  return whole ? whole->at(block->first) : std::vector<std::uint8_t>{};
}

}  // namespace fair_gauge
