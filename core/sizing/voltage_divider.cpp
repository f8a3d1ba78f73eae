#include "sizing/voltage_divider.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr double least_ohm = 10, most_ohm = 10e6;

double parallel(double a, double b) { return b > 0 ? a * b / (a + b) : a; }

}  // namespace

Result<std::vector<LevelDivider>> size_level_divider(const LevelWish& wish) {
  if (!(wish.from_v > 0 && wish.to_v > 0))
    return Problem{translated("a voltage of zero or below cannot be divided"), translated("voltages above 0 V")};
  if (wish.to_v >= wish.from_v)
    return Problem{translated("{:g} V is not above {:g} V: nothing has to be divided", wish.from_v, wish.to_v),
                   translated("a full scale above the target")};
  if (!(wish.max_source_ohm > 0))
    return Problem{translated("the source resistance cannot be zero or below"), translated("a limit in ohms")};
  const double wanted = wish.to_v / wish.from_v;
  std::vector<LevelDivider> pairs;
  // The top resistor alone may be large: source = top · ratio.
  const auto tops = wish.resistors.between(least_ohm, std::min(most_ohm, 1.2 * wish.max_source_ohm / wanted));
  for (const double top : tops) {
    // Loaded bottom wanted = top · ratio ÷ (1 − ratio): the few below it are enough.
    const double loaded = top * wanted / (1 - wanted);
    const double free = wish.input_ohm > 0
                            ? (loaded < wish.input_ohm ? loaded * wish.input_ohm / (wish.input_ohm - loaded) : most_ohm)
                            : loaded;
    auto bottoms = wish.resistors.between(std::max(least_ohm / 10, free / 3), std::min(most_ohm, free * (1 + 1e-9)));
    if (bottoms.size() > 3) bottoms.erase(bottoms.begin(), bottoms.end() - 3);
    for (const double bottom : bottoms) {
      const double source = parallel(top, bottom);
      if (source > wish.max_source_ohm * (1 + 1e-9)) continue;
      const double seen = parallel(bottom, wish.input_ohm);
      const double ratio = seen / (top + seen);
      pairs.push_back(
          {top, bottom, bottom / (top + bottom), ratio, ratio / wanted - 1, source, wish.from_v / (top + bottom)});
    }
  }
  if (pairs.empty())
    return Problem{translated("no pair of these resistors stays under the limits"),
                   translated("a source limit above {}", with_prefix(wish.max_source_ohm, "Ω"))};
  const auto error_class = [](const LevelDivider& pair) { return std::round(-pair.ratio_error * 1e9); };
  std::ranges::sort(pairs, [&](const LevelDivider& a, const LevelDivider& b) {
    return error_class(a) != error_class(b) ? error_class(a) < error_class(b) : a.source_ohm > b.source_ohm;
  });
  if (pairs.size() > 5) pairs.resize(5);
  return pairs;
}

Result<ReferenceSize> size_reference(const ReferenceWish& wish) {
  if (!(wish.target_v > 0 && wish.target_v < wish.supply_v))
    return Problem{
        translated("a reference of {:g} V cannot be made from {:g} V by resistors", wish.target_v, wish.supply_v),
        translated("a target between ground and the supply")};
  const double ratio = wish.target_v / wish.supply_v;
  const auto volts = [&](double supply, double top, double bottom) {
    const double seen = parallel(bottom, wish.load_ohm);
    return supply * seen / (top + seen);
  };
  const double low_supply = wish.supply_v * (1 - wish.supply_tolerance),
               high_supply = wish.supply_v * (1 + wish.supply_tolerance);
  const double t = wish.resistor_tolerance;

  ReferenceSize size;
  double best = 1e9;
  for (const double top : wish.resistors.between(least_ohm, wish.max_source_ohm / ratio)) {
    for (const double bottom : wish.resistors.between(top * ratio / (1 - ratio) * 0.7,
                                                      top * ratio / (1 - ratio) * (wish.load_ohm > 0 ? 3 : 1.4))) {
      if (parallel(top, bottom) > wish.max_source_ohm) continue;
      const double nominal = volts(wish.supply_v, top, bottom);
      const double miss =
          std::abs(nominal / wish.target_v - 1) - 1e-9 * top;  // of equal pairs the larger, which takes less current
      if (miss >= best) continue;
      best = miss;
      size.divider = {top,
                      bottom,
                      nominal,
                      volts(low_supply, top * (1 + t), bottom * (1 - t)),
                      volts(high_supply, top * (1 - t), bottom * (1 + t)),
                      wish.supply_v / (top + parallel(bottom, wish.load_ohm))};
    }
  }
  if (size.divider.top_ohm == 0)
    return Problem{translated("no pair of these resistors makes this reference"),
                   translated("more values, or a higher source limit")};
  size.reasons.push_back(translated("a plain divider moves with the supply: {:.4g} to {:.4g} V", size.divider.lowest_v,
                                    size.divider.highest_v));

  // Enough current for regulator and load at the lowest supply, not too much at the highest.
  const double load_a = wish.load_ohm > 0 ? wish.target_v * (1 + wish.shunt_tolerance) / wish.load_ohm : 0;
  const double highest =
      (low_supply - wish.target_v * (1 + wish.shunt_tolerance)) / ((wish.shunt_minimum_a + load_a) * (1 + t));
  const double lowest = (high_supply - wish.target_v * (1 - wish.shunt_tolerance)) / (wish.shunt_maximum_a * (1 - t));
  const auto series = wish.resistors.between(std::max(lowest, least_ohm), std::max(highest, least_ohm));
  if (highest > lowest && !series.empty() && highest > least_ohm) {
    const double ohm = series.back();
    size.shunt = ReferenceSource{ohm,
                                 0,
                                 wish.target_v,
                                 wish.target_v * (1 - wish.shunt_tolerance),
                                 wish.target_v * (1 + wish.shunt_tolerance),
                                 (wish.supply_v - wish.target_v) / ohm,
                                 (low_supply - wish.target_v * (1 + wish.shunt_tolerance)) / (ohm * (1 + t)) - load_a,
                                 (high_supply - wish.target_v * (1 - wish.shunt_tolerance)) / (ohm * (1 - t))};
    size.reasons.push_back(
        translated("a shunt regulator behind {} keeps within {:g} % from {:.3g} to {:.3g} V of supply",
                   resistor_code(ohm), wish.shunt_tolerance * 100, low_supply, high_supply));
  } else {
    size.reasons.push_back(
        translated("no series resistor feeds a shunt regulator at {:.3g} V of supply: {:.3g} V are too near",
                   low_supply, wish.target_v));
  }
  return size;
}

}  // namespace fair_gauge
