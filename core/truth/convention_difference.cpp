#include "truth/convention_difference.h"

namespace fair_gauge {

Result<ConventionDifference> convention_difference(const Bench& bench, const Catalogue& catalogue,
                                                   std::string_view channel_id, double raw) {
  const auto used = build_chain(bench, catalogue, channel_id);
  if (!used) return used.problem();
  const auto reading = read_raw(*used, raw);
  if (!reading) return reading.problem();
  Bench changed = bench;
  const Device* device = find_by_id(changed.devices, used->channel.device);
  Converter* converter = device ? find_by_id(changed.converters, device->converter) : nullptr;
  if (!converter) return Problem{"this channel's code is no share of a reference", "a channel at a converter"};
  converter->convention =
      converter->convention == CodeConvention::steps ? CodeConvention::codes : CodeConvention::steps;
  const auto other = build_chain(changed, catalogue, channel_id);
  if (!other) return other.problem();
  const auto other_reading = read_raw(*other, raw);
  if (!other_reading) return other_reading.problem();
  return ConventionDifference{converter->convention, *other_reading, *other_reading - *reading};
}

}  // namespace fair_gauge
