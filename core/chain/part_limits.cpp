#include "chain/part_limits.h"

#include <cmath>

namespace fair_gauge {
namespace {

bool is_counts(const LimitLayout& layout) { return layout.unit == "counts"; }

// The correction of the bench is no business of the part's.
double without_correction(const Chain& chain, double corrected) {
  double value = corrected;
  for (std::size_t i = chain.world_node; i < chain.compensated_node; ++i)
    value = chain.links[i]->forward_off(value, {});
  return value;
}

double with_correction(const Chain& chain, double compensated) {
  double value = compensated;
  for (std::size_t i = chain.compensated_node; i > chain.world_node; --i)
    value = chain.links[i - 1]->inverse_continuous(value);
  return value;
}

}  // namespace

double compared_of(const Chain& chain, const LimitLayout& layout, double raw) {
  if (is_counts(layout)) return raw;
  const auto reading = read_raw(chain, raw);
  return reading ? without_correction(chain, *reading) : std::nan("");
}

Result<PlacedLimit> place_limit(const Chain& chain, const LimitLayout& layout, double wished, LimitSide side) {
  PlacedLimit limit{.wished = wished};
  if (is_counts(layout)) {
    const auto raw = raw_for(chain, wished);
    if (!raw) return raw.problem();
    limit.compared = *raw;
  } else {
    limit.compared = without_correction(chain, wished);
  }
  auto stored = store_limit(layout, limit.compared, side);
  if (!stored) return stored.problem();
  limit.stored = std::move(*stored);
  if (is_counts(layout)) {
    const auto reading = read_raw(chain, limit.stored.value);
    limit.means = reading ? *reading : std::nan("");
  } else {
    limit.means = with_correction(chain, limit.stored.value);
  }
  return limit;
}

}  // namespace fair_gauge
