#include "diagnose/other_ways.h"

#include <algorithm>
#include <cmath>

namespace fair_gauge {

Result<std::vector<OtherWay>> other_ways(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                         const RawInput& input, std::span<const std::string_view> codes) {
  const auto chain = build_chain(bench, catalogue, channel);
  if (!chain) return chain.problem();
  Firmware right;
  right.bench = bench_of_channel(bench, channel);
  right.channel = channel;
  right.input = input;
  const double reads = right.shows(catalogue);
  std::vector<OtherWay> ways;
  for (const Wrong& row : wrongs_of(bench, catalogue, *chain, right, codes)) {
    Firmware wrong = right;
    row.change(wrong);
    const auto stages = wrong.stages(catalogue);
    const auto shown = stages.find(StageName::shown), raw = stages.find(StageName::raw);
    if (shown == stages.end() || shown->second == reads) continue;
    const OtherWay way{row.code, row.words, raw == stages.end() ? input.raw : raw->second, shown->second};
    if (std::ranges::find(ways, way.value, &OtherWay::value) == ways.end()) ways.push_back(way);
  }
  return ways;
}

std::vector<OtherWay> other_ways_of_bytes(const Catalogue& catalogue, const Part& part, Quantity quantity,
                                          const std::map<std::string, double>& settings, const ByteBlocks& blocks) {
  static constexpr std::string_view codes[] = {
      "bytes-swapped",           "bytes-added",   "byte-missing", "not-shifted", "signed-read-as-unsigned",
      "unsigned-read-as-signed", "sign-magnitude"};
  Bench bench;
  Device device{.id = "part", .part = part.id, .settings = settings};
  for (const ByteBlock& block : part.bytes.blocks)
    if (const auto held = Decoder::find_block(blocks, block); block.role == "trimming" && !held.empty())
      device.trimming[block.name] = to_hex(std::vector<std::uint8_t>(held.begin(), held.end()));
  bench.devices = {device};
  const PartQuantity* measures = part.measures(quantity);
  if (!measures) return {};
  Channel channel{.id = "reading", .device = "part", .quantity = quantity};
  channel.wanted = {measures->minimum, measures->maximum};
  if (quantity == Quantity::pressure) channel.kind = PressureKind::absolute;
  bench.channels = {channel};
  auto ways = other_ways(bench, catalogue, channel.id, {.blocks = blocks}, codes);
  return ways ? std::move(*ways) : std::vector<OtherWay>();
}

std::vector<LikelyWay> likely_ways_of_bytes(const Catalogue& catalogue, const Part& part, const Decoded& decoded,
                                            const std::map<std::string, double>& settings, const ByteBlocks& blocks) {
  std::vector<LikelyWay> likely;
  for (const ByteReading& layout : part.bytes.readings) {
    const PartQuantity& measured = *part.measures(layout.quantity);
    Range usual{measured.minimum, measured.maximum};
    if (measured.quantity == Quantity::temperature) usual = {-20, 60};
    if (measured.quantity == Quantity::pressure) usual = {85000, 108000};
    const auto is_usual = [&](double value) { return value >= usual.from && value <= usual.to; };
    const DigitalReading* reading = decoded.reading(measured.quantity);
    if (reading && is_usual(reading->value)) continue;
    for (OtherWay& way : other_ways_of_bytes(catalogue, part, measured.quantity, settings, blocks))
      if (is_usual(way.value)) likely.push_back({measured.quantity, std::move(way)});
  }
  return likely;
}

}  // namespace fair_gauge
