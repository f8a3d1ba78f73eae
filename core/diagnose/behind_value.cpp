#include "diagnose/behind_value.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "diagnose/firmware.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// The channel as the other firmware has it: raw numbers in, its value out. A correction that is carried out there is
// its own; one that is carried out here comes after it.
Bench as_there(const Bench& bench, const std::string& id) {
  Bench there = bench_of_channel(bench, id);
  Channel& channel = *find_by_id(there.channels, id);
  channel.arrives.reset();
  using enum CorrectionPlace;
  if (channel.correction.placed == firmware || channel.correction.placed == part)
    channel.correction.placed = physical;
  else
    channel.correction = {};
  return there;
}

// Words of the trimming that the sheet asks for and this specimen's are not on the bench.
bool lacks_trimming(const Part& part, const Device& device) {
  return std::ranges::any_of(part.bytes.blocks, [&](const ByteBlock& block) {
    return block.role == "trimming" && !block.optional && !device.trimming.contains(block.name);
  });
}

std::string counts_of(const Chain& chain, const Part& part) {
  const auto reading = std::ranges::find(part.bytes.readings, chain.channel.quantity, &ByteReading::quantity);
  if (chain.decoder && reading != part.bytes.readings.end()) return reading->field;
  return chain.converter->counts().empty() ? "counts" : std::string(chain.converter->counts());
}

// By the other of both conventions: what the firmware's code reads here.
std::optional<BehindValue::OtherDivisor> other_divisor(const Bench& here, const Catalogue& catalogue,
                                                       const std::string& id, double base) {
  Bench there = here;
  const Device* device = find_by_id(there.devices, find_by_id(there.channels, id)->device);
  Converter* converter = device ? find_by_id(there.converters, device->converter) : nullptr;
  if (!converter) return std::nullopt;
  const bool by_steps = converter->convention == CodeConvention::steps;
  converter->convention = by_steps ? CodeConvention::codes : CodeConvention::steps;
  const auto theirs = build_chain(there, catalogue, id), ours = build_chain(here, catalogue, id);
  if (!theirs || !ours) return std::nullopt;
  // Not rounded to a whole code: that is not what is asked.
  double code = base;
  for (std::size_t i = theirs->compensated_node; i < theirs->converter_node; ++i)
    code = theirs->links[i]->forward_off(code, {});
  double reading = code;
  for (std::size_t i = ours->converter_node; i > ours->compensated_node; --i)
    reading = ours->links[i - 1]->inverse_continuous(reading);
  if (!std::isfinite(reading)) return std::nullopt;
  return BehindValue::OtherDivisor{std::exp2(converter->bits) - (by_steps ? 1 : 0), reading};
}

}  // namespace

Result<BehindValue> behind_value(const Bench& bench, const Catalogue& catalogue, const std::string& id, double value) {
  const Channel* channel = find_by_id(bench.channels, id);
  if (!channel || !channel->arrives_converted())
    return Problem{translated("\"{}\" does not arrive as a value", id),
                   translated("a channel whose number was converted before")};
  const Unit* unit = unit_by_ucum(channel->arriving_unit());
  const Device* device = find_by_id(bench.devices, channel->device);
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  if (!unit || !part)
    return Problem{translated("nobody has said which part makes this value"),
                   translated("once it is chosen in Board, its raw number stands here")};
  if (lacks_trimming(*part, *device))
    return Problem{translated("its raw number hangs on trimming words that this bench does not hold"),
                   translated("the words of this specimen, read once")};
  const Bench there = as_there(bench, id);
  const auto chain = build_chain(there, catalogue, id);
  if (!chain) return chain.problem();
  const double half = 0.5 * std::pow(10.0, -channel->arrives->decimals);
  const auto raw_at = [&](double given) { return raw_for(*chain, unit->to_base(given)); };
  const auto raw = raw_at(value);
  if (!raw) return raw.problem();
  BehindValue behind{.counts = counts_of(*chain, *part), .raw = *raw};
  behind.least = raw_at(value - half).value_or(*raw);
  behind.most = raw_at(value + half).value_or(*raw);
  if (behind.least > behind.most) std::swap(behind.least, behind.most);
  // An end may lie just beyond: only what rounds to the same decimals counts.
  const auto gives_it = [&](double each) {
    const auto reading = read_raw(*chain, each);
    return reading && std::abs(unit->from_base(*reading) - value) <= half * (1 + 1e-9);
  };
  while (behind.least < behind.raw && !gives_it(behind.least)) behind.least += 1;
  while (behind.most > behind.raw && !gives_it(behind.most)) behind.most -= 1;
  behind.other = other_divisor(there, catalogue, id, unit->to_base(value));
  return behind;
}

}  // namespace fair_gauge
