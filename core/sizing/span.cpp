#include "sizing/span.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr int looked_at = 200;  // points of the range

std::optional<Problem> impossible(const SensorSpan& sensor) {
  if (sensor.law.output_dimension != Dimension::voltage)
    return Problem{translated("this sensor gives no voltage by itself"),
                   translated("a part whose output is a voltage, or first size its divider or load resistor")};
  if (!(sensor.from < sensor.to))
    return Problem{translated("{:g} to {:g} is no range", sensor.from, sensor.to), translated("from below to")};
  if (sensor.from < sensor.range.minimum || sensor.to > sensor.range.maximum)
    return Problem{translated("the range {:g} to {:g} is outside what the part can do", sensor.from, sensor.to),
                   translated("{:g} to {:g}", sensor.range.minimum, sensor.range.maximum)};
  return std::nullopt;
}

SpanCandidate judge(const SensorSpan& sensor, int bits, double reference, double gain) {
  const double full_v = reference / gain;
  SpanCandidate candidate{.reference_v = reference, .gain = gain, .step_v = full_v / std::exp2(bits)};
  double low = 1e300, high = -1e300, flattest = 1e300;
  const double h = 1e-4 * (sensor.to - sensor.from);
  for (int i = 0; i <= looked_at; ++i) {
    const double value = sensor.from + (sensor.to - sensor.from) * i / looked_at;
    const double volts = sensor.law.output(value);
    low = std::min(low, volts);
    high = std::max(high, volts);
    flattest = std::min(flattest, std::abs(sensor.law.output(value + h) - sensor.law.output(value - h)) / (2 * h));
  }
  candidate.step_physical = candidate.step_v / flattest;
  candidate.span_used = std::max(0.0, (std::min(high, full_v) - std::max(low, 0.0)) / full_v);
  // As the chain's converter clips: a code rounded to the nearest is the top one to half a step below the reference.
  const double top_v = full_v - candidate.step_v / 2, bottom_v = -candidate.step_v / 2, slack = 1e-12 * full_v;
  const bool above = high >= top_v - slack, below = low < bottom_v - slack;
  candidate.clips = above || below;
  const bool rises = sensor.law.output(sensor.to) > sensor.law.output(sensor.from);
  if (above)
    (rises ? candidate.clips_above : candidate.clips_below) =
        sensor.law.quantity(high > full_v + slack ? full_v : top_v);
  if (below)
    (rises ? candidate.clips_below : candidate.clips_above) =
        sensor.law.quantity(low < -candidate.step_v ? 0 : bottom_v);
  return candidate;
}

AmplifierSize amplifier(const GainWish& wish, double wanted) {
  AmplifierSize size{.gain_wanted = wanted, .gain = 1};
  double best = 1;
  // Input resistors of a usual size; the feedback just below what the wanted gain asks for.
  for (const double input : wish.resistors.between(1e3, 10e3)) {
    const auto below = wish.resistors.between(input * 1e-3, std::min(10e6, (wanted - 1) * input * (1 + 1e-9)));
    if (below.empty()) continue;
    const double gain = 1 + below.back() / input;
    const double miss = 1 - gain / wanted;
    if (miss > best - 1e-9) continue;
    best = miss;
    size.gain = gain;
    size.feedback_ohm = below.back();
    size.input_ohm = input;
  }
  size.gain_error = 2 * wish.tolerance * (1 - 1 / size.gain);
  constexpr double boltzmann = 1.380649e-23, room_k = 298.15;
  const double source =
      size.feedback_ohm > 0 ? size.feedback_ohm * size.input_ohm / (size.feedback_ohm + size.input_ohm) : 0;
  const double bandwidth = wish.bandwidth_hz * std::numbers::pi / 2;  // of a single pole
  size.noise_v = size.gain *
                 std::sqrt((wish.amplifier_noise * wish.amplifier_noise + 4 * boltzmann * room_k * source) * bandwidth);
  return size;
}

}  // namespace

Result<std::vector<SpanCandidate>> compare_spans(const SensorSpan& sensor, int bits,
                                                 const std::vector<double>& references_v,
                                                 const std::vector<double>& gains) {
  if (const auto problem = impossible(sensor)) return *problem;
  if (bits < 1 || bits > 32) return Problem{translated("{} bits cannot be", bits), translated("1 to 32 bits")};
  if (references_v.empty() || std::ranges::any_of(references_v, [](double v) { return v <= 0; }) ||
      std::ranges::any_of(gains, [](double g) { return g <= 0; }))
    return Problem{translated("a reference or gain of zero or below cannot be"),
                   translated("one reference or more, above 0 V, and gains above 0")};
  std::vector<SpanCandidate> all;
  for (const double reference : references_v)
    for (const double gain : gains.empty() ? std::vector{1.0} : gains)
      all.push_back(judge(sensor, bits, reference, gain));
  // Among those that clip, the one that loses least comes first.
  std::ranges::stable_sort(all, [](const SpanCandidate& a, const SpanCandidate& b) {
    if (a.clips != b.clips) return b.clips;
    return a.clips ? a.step_v > b.step_v : a.step_v < b.step_v;
  });
  return all;
}

std::string compare_in_words(const SpanCandidate& other, const SpanCandidate& present, const Unit& unit) {
  const double finer = present.step_physical / other.step_physical;
  std::string words = translated("A reference of {:g} V{} would give {:.3g} times the resolution", other.reference_v,
                                 other.gain == 1 ? "" : translated(" with gain {:g}", other.gain), finer);
  const auto limit = [&](double value) { return fmt::format("{:.4g} {}", unit.from_base(value), unit.symbol); };
  if (other.clips_above) words += translated(" and clip above {}", limit(*other.clips_above));
  if (other.clips_below) words += translated(" and clip below {}", limit(*other.clips_below));
  return words;
}

Result<double> reference_for_step(const SensorSpan& sensor, int bits, double step) {
  if (const auto problem = impossible(sensor)) return *problem;
  const double mean = (sensor.law.output(sensor.to) - sensor.law.output(sensor.from)) / (sensor.to - sensor.from);
  const double middle = (sensor.law.output((sensor.from + sensor.to) / 2) - sensor.law.output(sensor.from)) /
                        ((sensor.to - sensor.from) / 2);
  if (std::abs(middle / mean - 1) > 1e-6)
    return Problem{translated("the sensor's line is curved: no reference makes every step the same"),
                   translated("a linear sensor, or arithmetic in the firmware")};
  return std::abs(mean) * step * std::exp2(bits);
}

Result<GainSize> size_gain(const GainWish& wish) {
  const double low = std::min(wish.low_v, wish.high_v), high = std::max(wish.low_v, wish.high_v);
  if (!(high > low))
    return Problem{translated("both ends of the range give the same voltage"),
                   translated("a sensor whose output changes")};
  if (!(wish.headroom >= 0 && wish.headroom < 0.5) || !(wish.reference_v > 0))
    return Problem{translated("the headroom or reference cannot be"),
                   translated("a headroom from 0 to below 0.5 and a reference above 0 V")};
  const double lowest = wish.reference_v * wish.headroom, highest = wish.reference_v - lowest;
  GainSize size;
  const auto finish = [&](AmplifierSize& amplifier_size) {
    amplifier_size.at_low_v = amplifier_size.offset_v + amplifier_size.gain * wish.low_v;
    amplifier_size.at_high_v = amplifier_size.offset_v + amplifier_size.gain * wish.high_v;
    amplifier_size.span_used = std::abs(amplifier_size.at_high_v - amplifier_size.at_low_v) / wish.reference_v;
  };
  size.plain = amplifier(wish, std::max(1.0, high > 0 ? highest / high : 1));
  finish(size.plain);
  if (low < 0)
    size.reasons.push_back(translated("the sensor goes below ground: only an amplifier with an offset sees all of it"));
  if (high > highest)
    size.reasons.push_back(translated("the sensor's {:.4g} V need a divider before the pin, not a gain", high));
  const double wanted = (highest - lowest) / (high - low);
  if (wanted < 1) {
    size.shifted = size.plain;
    size.reasons.push_back(translated("the sensor's span is larger than the reference's: no gain helps"));
    return size;
  }
  size.shifted = amplifier(wish, wanted);
  size.shifted.offset_v = (lowest + highest) / 2 - size.shifted.gain * (low + high) / 2;
  finish(size.shifted);
  size.reasons.push_back(translated("with an offset of {} the range fills {:.0f} % of the span, without one {:.0f} %",
                                    with_prefix(size.shifted.offset_v, "V"), size.shifted.span_used * 100,
                                    size.plain.span_used * 100));
  return size;
}

}  // namespace fair_gauge
