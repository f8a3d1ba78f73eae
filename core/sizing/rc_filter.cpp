#include "sizing/rc_filter.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {

namespace {

// Sampling takes charge from the filter's capacitor, which recovers through the resistor as both capacitors together:
// what is left of it at the end of the acquisition, in converter steps.
double left_of_a_sample(const FilterWish& wish, double ohm, double farad) {
  const double both = farad + wish.sample_farad;
  return wish.sample_farad / both * std::exp2(wish.bits) * std::exp(-wish.acquisition_s / (ohm * both));
}

}  // namespace

Result<FilterSize> size_rc_filter(const FilterWish& wish) {
  if (!(wish.cutoff_hz > 0 && wish.max_ohm > 0 && wish.sample_farad > 0 && wish.acquisition_s > 0) || wish.bits < 1 ||
      wish.bits > 32)
    return Problem{translated("a frequency, resistance, capacitance or time cannot be zero or below"),
                   translated("values above zero, and 1 to 32 bits")};
  const double least_tau = 1 / (2 * std::numbers::pi * wish.cutoff_hz);
  const double steps_of_tau = std::log(std::exp2(wish.bits + 1));
  FilterSize size;
  // Capacitors come in few values: for each the smallest resistor that reaches the cutoff. A larger capacitor and a
  // smaller resistor load the sampled input less; the pair nearest above the wanted time constant settles soonest.
  double best = std::numeric_limits<double>::max();
  for (const double farad : values_between(ESeries::e6, 100e-12, 100e-6)) {
    const auto fitting = wish.resistors.between(std::max(10.0, least_tau / farad * (1 - 1e-9)), wish.max_ohm);
    if (fitting.empty()) continue;
    const double ohm = fitting.front();
    const bool charges = left_of_a_sample(wish, ohm, farad) <= 0.5;
    const double rank = ohm * farad / least_tau + (charges ? 0 : 1e6) + std::abs(std::log10(ohm / 1e3)) * 0.01;
    if (rank >= best) continue;
    best = rank;
    size.ohm = ohm;
    size.farad = farad;
    size.possible = charges;
  }
  if (size.ohm == 0)
    return Problem{translated("no pair reaches {} with at most {}", with_prefix(wish.cutoff_hz, "Hz"),
                              with_prefix(wish.max_ohm, "Ω")),
                   translated("a higher cutoff or a larger resistor")};
  const double tau = size.ohm * size.farad;
  size.cutoff_hz = 1 / (2 * std::numbers::pi * tau);
  size.settling_s = tau * steps_of_tau;
  size.noise_bandwidth_hz = size.cutoff_hz * std::numbers::pi / 2;
  size.charge_error_steps = wish.sample_farad / (size.farad + wish.sample_farad) * std::exp2(wish.bits);
  size.left_steps = left_of_a_sample(wish, size.ohm, size.farad);
  size.reasons.push_back(
      translated("{:.2g} steps are left of each sample's charge at the end of the acquisition", size.left_steps));
  size.reasons.push_back(
      translated("a step has settled to half a converter step after {}", with_prefix(size.settling_s, "s")));
  if (!size.possible)
    size.reasons.push_back(translated(
        "the filter's capacitor does not recover from a sample within the acquisition: lengthen it, or take a larger "
        "capacitor with a smaller resistor"));
  if (wish.settle_s && size.settling_s > *wish.settle_s) {
    size.possible = false;
    size.reasons.push_back(translated("that is longer than {}: a cutoff of {} or more would settle in time",
                                      with_prefix(*wish.settle_s, "s"),
                                      with_prefix(steps_of_tau / *wish.settle_s / (2 * std::numbers::pi), "Hz")));
  }
  return size;
}

}  // namespace fair_gauge
