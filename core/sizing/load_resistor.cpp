#include "sizing/load_resistor.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {

Result<LoadSize> size_load_resistor(const LoadWish& wish) {
  const auto ordered = [](const Between& pair) { return pair.minimum > 0 && pair.minimum <= pair.maximum; };
  if (!ordered(wish.low_a) || !ordered(wish.high_a) || !ordered(wish.threshold_v))
    return Problem{translated("a minimum is above its maximum, or not above zero"), "minimum,maximum"};
  if (wish.headroom_v < 0)
    return Problem{translated("the sensor's own voltage cannot be below zero"), translated("0 V or more")};
  if (wish.supply_v <= wish.headroom_v)
    return Problem{translated("a supply of {:g} V leaves nothing for the resistor: the sensor needs {:g} V",
                              wish.supply_v, wish.headroom_v),
                   translated("a supply above {:g} V", wish.headroom_v)};

  LoadSize size;
  size.minimum_ohm = wish.threshold_v.maximum / wish.high_a.minimum;
  const double by_low_level = wish.threshold_v.minimum / wish.low_a.maximum;
  const double by_headroom = (wish.supply_v - wish.headroom_v) / wish.high_a.maximum;
  size.maximum_ohm = std::min(by_low_level, by_headroom);
  size.reasons.push_back(translated("at least {}: the high level of {} must reach {:g} V",
                                    with_prefix(size.minimum_ohm, "Ω"), with_prefix(wish.high_a.minimum, "A"),
                                    wish.threshold_v.maximum));
  size.reasons.push_back(by_headroom < by_low_level
                             ? translated("at most {}: at {} the sensor keeps its {:g} V of the {:g} V supply",
                                          with_prefix(by_headroom, "Ω"), with_prefix(wish.high_a.maximum, "A"),
                                          wish.headroom_v, wish.supply_v)
                             : translated("at most {}: the low level of {} must stay below {:g} V",
                                          with_prefix(by_low_level, "Ω"), with_prefix(wish.low_a.maximum, "A"),
                                          wish.threshold_v.minimum));
  // The middle by ratio leaves the same share of margin on both sides.
  const auto found =
      size.minimum_ohm <= size.maximum_ohm
          ? wish.resistors.nearest(std::sqrt(size.minimum_ohm * size.maximum_ohm), size.minimum_ohm, size.maximum_ohm)
          : std::nullopt;
  size.possible = found.has_value();
  if (!found) {
    size.reasons.push_back(
        size.minimum_ohm > size.maximum_ohm
            ? translated("the window is empty: use a comparator with a lower threshold, a transistor that "
                         "shifts the level, or a higher supply")
            : translated("no value at hand lies in the window: use a finer series"));
    return size;
  }
  size.recommended_ohm = *found;
  size.low_v = {wish.low_a.minimum * *found, wish.low_a.maximum * *found};
  size.high_v = {wish.high_a.minimum * *found, wish.high_a.maximum * *found};
  return size;
}

}  // namespace fair_gauge
