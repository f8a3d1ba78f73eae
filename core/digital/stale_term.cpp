#include "digital/stale_term.h"

#include <algorithm>
#include <cmath>

#include "digital/encoder.h"

namespace fair_gauge {

std::vector<StaleReading> with_stale_temperature(const Decoder& decoder, const ByteBlocks& blocks, double lag_k) {
  const ByteLayout& layout = decoder.part().bytes;
  const auto temperature = std::ranges::find(layout.readings, Quantity::temperature, &ByteReading::quantity);
  if (temperature == layout.readings.end() || layout.readings.size() < 2) return {};
  const auto at = static_cast<std::size_t>(temperature - layout.readings.begin());
  std::vector<double> fields;
  for (std::size_t i = 0; i < layout.fields.size(); ++i) {
    const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
    const auto value = decoder.places()[i].value(Decoder::find_block(blocks, *block));
    if (!value) return {};
    fields.push_back(static_cast<double>(*value));
  }
  std::vector<double> right(layout.readings.size()), stale(layout.readings.size());
  decoder.evaluate(fields, right);
  if (!std::isfinite(right[at])) return {};
  solve_field(decoder, fields, at, right[at] - lag_k);
  decoder.evaluate(fields, stale);
  std::vector<StaleReading> found;
  for (std::size_t i = 0; i < layout.readings.size(); ++i)
    if (const double difference = stale[i] - right[i]; i != at && std::isfinite(difference) && difference != 0)
      found.push_back({decoder.part().measures(layout.readings[i].quantity), stale[i], difference});
  return found;
}

}  // namespace fair_gauge
