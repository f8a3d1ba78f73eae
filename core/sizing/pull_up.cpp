#include "sizing/pull_up.h"

#include <fmt/format.h>

#include <cmath>
#include <numeric>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr double rise_30_to_70 = 0.8473;  // ln(0.7 ÷ 0.3), in time constants

struct Line {
  double supply_v;
  double low_level_v;
  double sink_a;
  double capacitance_f;
  double rise_limit_s;
  double rise_factor;  // time constants from start to end of the edge
  std::vector<double> existing_ohm;
  ResistorChoice resistors;
};

std::string ohms(double value) { return with_prefix(value, "Ω", 3); }

void judge(PullUpSize& size, const Line& line) {
  const double judged = size.existing_ohm.value_or(size.recommended_ohm.value_or(0));
  if (judged > 0) size.rise_s = line.rise_factor * judged * line.capacitance_f;
  if (size.minimum_ohm > size.maximum_ohm) {
    size.verdict = PullUpVerdict::impossible;
    size.reasons.push_back(
        translated("the window is empty: {} or more for the low level, {} or less for the edge. Less capacitance, a "
                   "slower edge, a stronger sink, or a buffer between two halves",
                   ohms(size.minimum_ohm), ohms(size.maximum_ohm)));
  } else if (!size.existing_ohm) {
    size.verdict = size.recommended_ohm ? PullUpVerdict::good : PullUpVerdict::impossible;
    if (!size.recommended_ohm)
      size.reasons.push_back(translated("no value at hand lies in the window: use a finer series"));
  } else if (judged < size.minimum_ohm) {
    size.verdict = PullUpVerdict::too_strong;
    size.reasons.push_back(translated("{} in parallel are {}: the weakest device cannot pull that low; take some off",
                                      line.existing_ohm.size(), ohms(judged)));
  } else if (judged > size.maximum_ohm) {
    size.verdict = PullUpVerdict::too_weak;
    // What has to be put beside it for the value in the middle of the window.
    const double wanted = std::sqrt(size.minimum_ohm * size.maximum_ohm);
    size.reasons.push_back(
        translated("{} lets the line rise in {}, {} are allowed; add about {} beside it", ohms(judged),
                   with_prefix(*size.rise_s, "s", 3), with_prefix(line.rise_limit_s, "s", 3),
                   ohms(line.resistors.nearest(wanted * judged / (judged - wanted), 1, 1e9).value_or(wanted))));
  } else {
    size.verdict = PullUpVerdict::good;
    size.reasons.push_back(translated("{} is good for up to {} at this edge", ohms(judged),
                                      with_prefix(line.rise_limit_s / (line.rise_factor * judged), "F", 3)));
  }
}

PullUpSize size_line(const Line& line) {
  PullUpSize size{.minimum_ohm = (line.supply_v - line.low_level_v) / line.sink_a,
                  .maximum_ohm = line.rise_limit_s / (line.rise_factor * line.capacitance_f),
                  .rise_limit_s = line.rise_limit_s};
  if (!line.existing_ohm.empty())
    size.existing_ohm = 1 / std::accumulate(line.existing_ohm.begin(), line.existing_ohm.end(), 0.0,
                                            [](double sum, double ohm) { return sum + 1 / ohm; });
  if (size.minimum_ohm <= size.maximum_ohm)
    size.recommended_ohm =
        line.resistors.nearest(std::sqrt(size.minimum_ohm * size.maximum_ohm), size.minimum_ohm, size.maximum_ohm);
  size.reasons.push_back(translated("at least {}: {} must be able to pull down to {:.3g} V", ohms(size.minimum_ohm),
                                    with_prefix(line.sink_a, "A", 3), line.low_level_v));
  size.reasons.push_back(translated("at most {}: {} must rise within {}", ohms(size.maximum_ohm),
                                    with_prefix(line.capacitance_f, "F", 3), with_prefix(line.rise_limit_s, "s", 3)));
  judge(size, line);
  constexpr double habit = 4700;
  if (size.verdict != PullUpVerdict::impossible)
    size.reasons.push_back(habit < size.minimum_ohm   ? translated("the usual 4.7 kΩ would be too strong here")
                           : habit > size.maximum_ohm ? translated("the usual 4.7 kΩ would be too weak here")
                                                      : translated("the usual 4.7 kΩ would do here"));
  return size;
}

std::optional<Problem> cannot_be(double supply_v, double capacitance_f, const std::vector<double>& existing) {
  if (!(supply_v > 0.4 && supply_v <= 60))
    return Problem{translated("a supply of {:g} V cannot be", supply_v), translated("above 0.4 V, at most 60 V")};
  if (!(capacitance_f > 0))
    return Problem{translated("a line without capacitance cannot be"),
                   translated("a capacitance above zero: about 10 pF a pin and 50 to 100 pF a metre")};
  for (const double ohm : existing)
    if (!(ohm > 0))
      return Problem{translated("a pull-up of {:g} Ω cannot be", ohm), translated("resistances above zero")};
  return std::nullopt;
}

}  // namespace

std::string_view verdict_name(PullUpVerdict verdict) {
  switch (verdict) {
    case PullUpVerdict::good: return "good";
    case PullUpVerdict::too_strong: return "too-strong";
    case PullUpVerdict::too_weak: return "too-weak";
    case PullUpVerdict::impossible: return "impossible";
  }
  return "";
}

Result<PullUpSize> size_two_wire(const TwoWireWish& wish) {
  if (auto problem = cannot_be(wish.supply_v, wish.capacitance_f, wish.existing_ohm)) return *problem;
  struct Speed {
    double hertz, rise_s, most_f, sink_a;
  };
  constexpr Speed speeds[] = {
      {100e3, 1000e-9, 400e-12, 3e-3}, {400e3, 300e-9, 400e-12, 3e-3}, {1e6, 120e-9, 550e-12, 20e-3}};
  const auto* speed =
      std::ranges::find_if(speeds, [&](const Speed& s) { return std::abs(s.hertz - wish.speed_hz) < 1; });
  if (speed == std::end(speeds))
    return Problem{translated("a speed of {} has no limits in the bus specification", with_prefix(wish.speed_hz, "Hz")),
                   translated("100k, 400k or 1M")};
  const bool low_supply = wish.supply_v <= 2 && speed->hertz < 1e6;
  Line line{.supply_v = wish.supply_v,
            .low_level_v = wish.low_level_v.value_or(low_supply ? 0.2 * wish.supply_v : 0.4),
            .sink_a = wish.sink_a.value_or(low_supply ? 2e-3 : speed->sink_a),
            .capacitance_f = wish.capacitance_f,
            .rise_limit_s = speed->rise_s,
            .rise_factor = rise_30_to_70,
            .existing_ohm = wish.existing_ohm,
            .resistors = wish.resistors};
  if (!(line.sink_a > 0) || line.low_level_v >= line.supply_v || line.low_level_v < 0)
    return Problem{translated("the sink current or the low level cannot be"),
                   translated("a current above zero and a level below the supply")};
  PullUpSize size = size_line(line);
  if (wish.capacitance_f > speed->most_f * (1 + 1e-9)) {
    size.verdict = PullUpVerdict::impossible;
    size.reasons.push_back(
        translated("{} are more than the {} that the bus specification allows: shorten the cable, or put a buffer "
                   "between two halves",
                   with_prefix(wish.capacitance_f, "F", 3), with_prefix(speed->most_f, "F", 3)));
  }
  return size;
}

Result<PullUpSize> size_one_wire(const OneWireWish& wish) {
  constexpr double sink_a = 4e-3, low_level_v = 0.4, high_level_v = 2.2, sample_s = 9e-6;
  if (wish.sensors < 1 || wish.sensors > 200)
    return Problem{translated("{} sensors cannot be", wish.sensors), translated("1 to 200 sensors")};
  if (!(wish.cable_m >= 0 && wish.cable_m <= 1000))
    return Problem{translated("{:g} m of cable cannot be", wish.cable_m), translated("0 to 1000 m")};
  if (!(wish.supply_v >= 2.8))
    return Problem{translated("{:g} V are too little for one-wire sensors", wish.supply_v),
                   translated("2.8 V or more")};
  const double farad = wish.sensors * wish.sensor_farad + wish.board_farad + wish.cable_m * wish.farad_per_m;
  if (auto problem = cannot_be(wish.supply_v, farad, wish.existing_ohm)) return *problem;
  PullUpSize size = size_line(
      {.supply_v = wish.supply_v,
       .low_level_v = low_level_v,
       .sink_a = sink_a,
       .capacitance_f = farad,
       .rise_limit_s = sample_s,
       .rise_factor = std::log(wish.supply_v / (wish.supply_v - high_level_v)),  // from ground to what is read as high
       .existing_ohm = wish.existing_ohm,
       .resistors = wish.resistors});
  size.reasons.push_back(translated("{} sensors and {:g} m of cable are about {}", wish.sensors, wish.cable_m,
                                    with_prefix(farad, "F", 3)));
  if (wish.parasite) {
    constexpr double conversion_a = 1.5e-3, needed_v = 2.8;
    const double strong = (wish.supply_v - needed_v) / (conversion_a * wish.sensors);
    size.reasons.push_back(
        translated("powered through the line the sensors take {} while they convert: a strong pull-up of {} or less "
                   "(a transistor) must hold the line then; not above 100 °C",
                   with_prefix(conversion_a * wish.sensors, "A", 3), ohms(strong)));
  }
  return size;
}

Result<PullUpSize> size_open_drain(const OpenDrainWish& wish) {
  if (auto problem = cannot_be(wish.supply_v, wish.capacitance_f, wish.existing_ohm)) return *problem;
  if (!(wish.sink_a > 0 && wish.edge_s > 0) || wish.low_level_v >= wish.supply_v)
    return Problem{translated("the sink current, edge or low level cannot be"),
                   translated("a current and a time above zero, and a level below the supply")};
  return size_line({wish.supply_v, wish.low_level_v, wish.sink_a, wish.capacitance_f, wish.edge_s, rise_30_to_70,
                    wish.existing_ohm, wish.resistors});
}

}  // namespace fair_gauge
