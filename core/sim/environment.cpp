#include "sim/environment.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fair_gauge {
namespace {

constexpr double day = 86400;

std::uint64_t mixed(std::uint64_t x) {  // a finaliser that spreads every bit: splitmix64
  x += 0x9E3779B97F4A7C15u;
  x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
  x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
  return x ^ (x >> 31);
}

std::uint64_t text_seed(const std::string& text) {
  std::uint64_t seed = 1469598103934665603u;
  for (const char c : text) seed = (seed ^ static_cast<unsigned char>(c)) * 1099511628211u;
  return seed;
}

struct Usual {
  double base, swing, ripple;
};

// A dry room near the sea, where what is wanted holds it; else it lives in the middle of what is wanted.
Usual usual_course(const Channel& channel) {
  const Range& wanted = channel.wanted;
  const double span = wanted.to - wanted.from;
  const Usual middle{wanted.from + 0.5 * span, 0.1 * span, 0.004 * span};
  const bool is_air_pressure = channel.quantity == Quantity::pressure && channel.kind == PressureKind::absolute;
  const Usual room = channel.quantity == Quantity::temperature                 ? Usual{21, 2, 0.05}
                     : channel.quantity == Quantity::cold_junction_temperature ? Usual{23, 2, 0.05}  // a board's warmth
                     : channel.quantity == Quantity::humidity                  ? Usual{55, 6, 0.2}
                     : is_air_pressure                                         ? Usual{101'000, 500, 8}
                                                                               : middle;
  const bool is_wanted = room.base - 2 * room.swing >= wanted.from && room.base + 2 * room.swing <= wanted.to &&
                         std::abs(room.base - middle.base) <= 0.4 * span;  // an oven is not tried at its cold end
  return is_wanted ? room : middle;
}

}  // namespace

// A bench may say how its channel behaves in the shed: "simulation": {"base": 24.6, "swing": 0.8, "ripple": 0.05}.
EnvironmentCourse::EnvironmentCourse(const Channel& channel, std::uint64_t seed)
    : light_(channel.quantity == Quantity::illuminance), seed_(mixed(seed ^ text_seed(channel.id))) {
  const SimulatedCourse course = channel.simulation.value_or(SimulatedCourse{});
  const Usual usual = usual_course(channel);
  base_ = course.base.value_or(usual.base);
  swing_ = course.swing.value_or(usual.swing);
  ripple_ = course.ripple.value_or(usual.ripple);
}

double EnvironmentCourse::wander(double seconds, double period, std::uint64_t stream) const {
  const double position = seconds / period;
  const double whole = std::floor(position);
  const auto knot = [&](double index) {
    const auto bits = mixed(seed_ ^ mixed(stream) ^ static_cast<std::uint64_t>(static_cast<std::int64_t>(index)));
    return static_cast<double>(bits >> 11) * 0x1p-52 - 1;  // −1…1
  };
  const double part = position - whole;
  const double weight = part * part * (3 - 2 * part);
  return knot(whole) * (1 - weight) + knot(whole + 1) * weight;
}

double EnvironmentCourse::at(double seconds) const {
  // Coolest before dawn, warmest in the afternoon; light follows the sun from six to eighteen.
  const double warmth = std::cos(2 * std::numbers::pi * (seconds / day - 15.0 / 24));
  const double sun = std::max(0.0, std::sin(2 * std::numbers::pi * (seconds / day - 0.25)));
  if (light_)
    return std::max(0.0, base_ + swing_ * sun * (1 + 0.2 * wander(seconds, 1800, 3)) + ripple_ * wander(seconds, 7, 2));
  return base_ + swing_ * (0.7 * warmth + 0.3 * wander(seconds, 5400, 1)) +
         ripple_ * (wander(seconds, 97, 2) + 0.5 * wander(seconds, 11, 4));
}

double SimulatedTouch::at(double seconds) const {
  if (seconds <= began) return 0;
  const double until = ended ? std::min(seconds, *ended) : seconds;
  const double there = -change * std::expm1(-(until - began) / time_constant_s);
  return ended && seconds > *ended ? there * std::exp(-(seconds - *ended) / time_constant_s) : there;
}

Result<Chain> chain_at(const Bench& bench, const Catalogue& catalogue, const Channel& channel, std::uint64_t seed,
                       double seconds) {
  SideValues beside;
  const Device* device = find_by_id(bench.devices, channel.device);
  if (device)
    for (const auto& [key, id] : device->side_inputs)
      if (const Channel* other = find_by_id(bench.channels, id))
        beside[id] = EnvironmentCourse(*other, seed).at(seconds);
  return build_chain(bench, catalogue, channel.id, beside);
}

std::optional<SimulatedFault> simulated_fault_from_text(std::string_view text) {
  using enum SimulatedFault;
  constexpr std::pair<std::string_view, SimulatedFault> names[] = {
      {"stuck", stuck}, {"open", open}, {"short", shorted}, {"missing", missing}, {"spikes", spikes}};
  for (const auto& [name, fault] : names)
    if (name == text) return fault;
  return std::nullopt;
}

double SimulatedDevice::as_reported(double code) const {
  for (std::size_t i = chain_.converter_node; i < chain_.raw_node; ++i)
    code = chain_.links[i]->forward(code).value_or(chain_.links[i]->forward_off(code, {}));
  return chain_.channel.arrives_converted() ? code : std::trunc(code);
}

std::optional<double> SimulatedDevice::answer(double world, SimulatedFault fault) {
  constexpr double share_missing = 0.3, share_spikes = 0.02;
  const double chance = std::uniform_real_distribution<double>(0, 1)(random_);
  const double honest = answer(world);
  const double top = as_reported(chain_.converter->largest_code());
  // An open sensor below a fixed resistor leaves the pin at the supply; without a divider the pin floats near ground.
  const bool open_is_high =
      chain_.divider && chain_.divider->forward_off(1e12, {}) > chain_.divider->forward_off(1, {});
  switch (fault) {
    case SimulatedFault::stuck:
      if (!stuck_) stuck_ = honest;
      return stuck_;
    case SimulatedFault::open: return open_is_high ? top : 0;
    case SimulatedFault::shorted: return chain_.divider && !open_is_high ? top : 0;
    case SimulatedFault::missing: return chance < share_missing ? std::nullopt : std::optional(honest);
    case SimulatedFault::spikes: return chance < share_spikes ? top : honest;
  }
  return honest;
}

SimulatedDevice::SimulatedDevice(Chain chain, std::uint64_t seed,
                                 std::function<Result<Chain>(double seconds)> surroundings)
    : chain_(std::move(chain)),
      surroundings_(std::move(surroundings)),
      random_(mixed(seed ^ text_seed(chain_.channel.id))) {}

void SimulatedDevice::go_to(double seconds) {
  if (chain_.side_channels.empty() || !surroundings_) return;
  if (auto chain = surroundings_(seconds)) chain_ = std::move(*chain);
}

double SimulatedDevice::answer(double world) {
  double value = world;
  for (std::size_t i = chain_.world_node; i < chain_.converter_node; ++i) {
    if (is_quiet_.size() > i && is_quiet_[i]) {
      value = chain_.links[i]->forward_off(value, {});
      continue;
    }
    const auto sources = chain_.links[i]->sources(value);
    std::vector<double> deviations(sources.size(), 0.0);
    for (std::size_t k = 0; k < sources.size(); ++k)
      if (sources[k].kind == SourceKind::noise && sources[k].width > 0)
        deviations[k] = std::normal_distribution<double>(0, sources[k].width)(random_);
    value = chain_.links[i]->forward_off(value, deviations);
    is_quiet_.resize(std::max(is_quiet_.size(), i + 1));
    is_quiet_[i] = std::ranges::none_of(sources, [](const Source& each) { return each.kind == SourceKind::noise; });
  }
  double code = std::clamp(std::floor(value + 0.5), chain_.converter->lowest_code(), chain_.converter->largest_code());
  if (!std::isfinite(value)) code = 0;
  return as_reported(code);
}

}  // namespace fair_gauge
