#include "digital/other_readings.h"

#include <algorithm>
#include <cmath>

namespace fair_gauge {
namespace {

double signed_as(std::uint64_t number, int bits) {
  return static_cast<double>(number) - (number >> (bits - 1) & 1 ? std::ldexp(1.0, bits) : 0);
}

}  // namespace

std::vector<OtherReading> other_readings(const Decoder& decoder, const ByteBlocks& blocks, std::size_t reading,
                                         double from, double to) {
  const ByteLayout& layout = decoder.part().bytes;
  const std::size_t field = *decoder.field(layout.readings[reading].field);
  std::vector<double> fields;
  for (std::size_t i = 0; i < layout.fields.size(); ++i) {
    const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
    const auto value = decoder.places()[i].value(Decoder::find_block(blocks, *block));
    if (!value && i == field) return {};
    fields.push_back(static_cast<double>(value.value_or(0)));
  }
  const auto block = std::ranges::find(layout.blocks, layout.fields[field].block, &ByteBlock::name);
  const auto bytes = Decoder::find_block(blocks, *block);
  // The whole bytes that the field touches, in its own order.
  std::vector<std::uint64_t> whole;
  for (const BitRun& run : decoder.places()[field].runs())
    whole.push_back(
        bytes[static_cast<std::size_t>(run.byte < 0 ? static_cast<int>(bytes.size()) + run.byte : run.byte)]);
  const int whole_bits = static_cast<int>(whole.size()) * 8, bits = decoder.places()[field].bits();
  const auto put_together = [&](auto begin, auto end) {
    std::uint64_t number = 0;
    for (auto at = begin; at != end; ++at) number = number << 8 | *at;
    return number;
  };
  const std::uint64_t straight = put_together(whole.begin(), whole.end()),
                      swapped = put_together(whole.rbegin(), whole.rend());
  std::uint64_t added = 0;
  for (const std::uint64_t byte : whole) added += byte;
  const double right = fields[field];
  struct Way {
    const char* how;
    double raw;
  };
  const Way ways[] = {
      {"bytes swapped", signed_as(swapped, whole_bits)},
      {"without its sign", right < 0 ? right + std::ldexp(1.0, bits) : right},
      {"with a sign", signed_as(static_cast<std::uint64_t>(right < 0 ? right + std::ldexp(1.0, bits) : right), bits)},
      {"not shifted: unused low bits counted", static_cast<double>(straight)},
      {"high and low byte added", static_cast<double>(added)},
      {"the high byte alone", static_cast<double>(whole.front())},
  };
  std::vector<OtherReading> others;
  std::vector<double> results(layout.readings.size());
  // Flags may stand in the swapped bytes too: these are read again as a whole.
  std::vector<double> all_swapped = fields;
  std::vector<std::uint8_t> turned(bytes.begin(), bytes.end());
  const auto& runs = decoder.places()[field].runs();
  for (std::size_t i = 0; i < runs.size(); ++i)
    turned[static_cast<std::size_t>(runs[i].byte < 0 ? static_cast<int>(bytes.size()) + runs[i].byte : runs[i].byte)] =
        static_cast<std::uint8_t>(whole[runs.size() - 1 - i]);
  for (std::size_t i = 0; i < layout.fields.size(); ++i)
    if (layout.fields[i].block == block->name)
      all_swapped[i] = static_cast<double>(decoder.places()[i].value(turned).value_or(0));
  for (const Way& way : ways) {
    if (&way == &ways[0] && whole.size() < 2) continue;
    const bool known = way.raw == right ||
                       std::ranges::any_of(others, [&](const OtherReading& other) { return other.raw == way.raw; });
    if (known) continue;
    const bool swaps = &way == &ways[0];
    std::vector<double> changed = swaps ? all_swapped : fields;
    if (!swaps) changed[field] = way.raw;
    decoder.evaluate(changed, results);
    if (!std::isfinite(results[reading])) continue;
    others.push_back({way.how, changed[field], results[reading], results[reading] >= from && results[reading] <= to});
  }
  return others;
}

}  // namespace fair_gauge
