#include "truth/monte_carlo.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace fair_gauge {
namespace {

// A small generator whose state is two words: xorshift128+. Good enough for spreads, and the same everywhere.
class Chance {
 public:
  explicit Chance(std::uint64_t seed) {
    for (auto& word : state_) {
      seed += 0x9E3779B97F4A7C15u;
      std::uint64_t x = seed;
      x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
      x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
      word = x ^ (x >> 31);
    }
  }
  double uniform() {  // 0…1
    std::uint64_t a = state_[0];
    const std::uint64_t b = state_[1];
    state_[0] = b;
    a ^= a << 23;
    state_[1] = a ^ b ^ (a >> 17) ^ (b >> 26);
    return static_cast<double>((state_[1] + b) >> 11) * 0x1p-53;
  }
  double normal() {  // two at a time, by their angle and radius
    if (has_spare_) {
      has_spare_ = false;
      return spare_;
    }
    const double radius = std::sqrt(-2 * std::log(1 - uniform())), angle = 2 * std::numbers::pi * uniform();
    spare_ = radius * std::sin(angle);
    has_spare_ = true;
    return radius * std::cos(angle);
  }

 private:
  std::uint64_t state_[2];
  double spare_ = 0;
  bool has_spare_ = false;
};

double draw(Chance& chance, const Source& source) {
  switch (source.distribution) {
    case Distribution::rectangular: return source.width * (2 * chance.uniform() - 1);
    case Distribution::triangular: return source.width * (chance.uniform() + chance.uniform() - 1);
    case Distribution::normal: return source.width * chance.normal();
  }
  return 0;
}

// One number that is drawn, and where it goes: sources of one cause get the same chance, each in its own width.
struct Drawn {
  Source source;
  struct Place {
    std::size_t link, index;
    double scale;
  };
  std::vector<Place> places;
};

}  // namespace

Result<MonteCarlo> monte_carlo(const Chain& chain, double world, std::int64_t trials, std::uint64_t seed, const std::function<bool(double share)>& go_on) {
  if (const auto raw = raw_for(chain, world); !raw) return raw.problem();
  std::vector<Drawn> drawn;
  std::map<std::string, std::size_t> by_cause;
  std::vector<std::vector<double>> deviations(chain.links.size());
  double value = world;
  for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) {
    const auto sources = chain.links[i]->sources(value);
    deviations[i].assign(sources.size(), 0.0);
    for (std::size_t k = 0; k < sources.size(); ++k) {
      if (sources[k].width <= 0) continue;
      const auto known = sources[k].cause.empty() ? by_cause.end() : by_cause.find(sources[k].cause);
      if (known != by_cause.end()) {
        Drawn& other = drawn[known->second];
        other.places.push_back({i, k, sources[k].width / other.source.width});
        continue;
      }
      if (!sources[k].cause.empty()) by_cause[sources[k].cause] = drawn.size();
      drawn.push_back({sources[k], {{i, k, 1}}});
    }
    value = chain.links[i]->forward_off(value, {});
  }
  Chance chance(seed);
  std::vector<double> misses;
  misses.reserve(static_cast<std::size_t>(trials));
  for (std::int64_t trial = 0; trial < trials; ++trial) {
    for (const Drawn& one : drawn) {
      const double off = draw(chance, one.source);
      for (const Drawn::Place& place : one.places) deviations[place.link][place.index] = off * place.scale;
    }
    double reading = world;
    for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) reading = chain.links[i]->forward_off(reading, deviations[i]);
    for (std::size_t i = chain.converter_node; i > chain.world_node; --i) reading = chain.links[i - 1]->inverse_continuous(reading);
    if (std::isfinite(reading)) misses.push_back(reading - world);
    if ((trial & 0xFFFF) == 0xFFFF && go_on && !go_on(static_cast<double>(trial) / static_cast<double>(trials))) break;
  }
  if (misses.size() < 100) return Problem{"the chain has no reading for nearly all specimens here", "a value further from the limits"};
  MonteCarlo result{.trials = static_cast<std::int64_t>(misses.size())};
  for (const double miss : misses) result.mean += miss / static_cast<double>(misses.size());
  for (const double miss : misses) result.standard += (miss - result.mean) * (miss - result.mean) / static_cast<double>(misses.size() - 1);
  result.standard = std::sqrt(result.standard);
  std::ranges::sort(misses);
  const auto inside = static_cast<std::size_t>(std::ceil(0.95 * static_cast<double>(misses.size())));
  double shortest = std::numeric_limits<double>::infinity();
  for (std::size_t from = 0; from + inside <= misses.size(); ++from) {
    const double length = misses[from + inside - 1] - misses[from];
    if (length < shortest) shortest = length, result.low = misses[from], result.high = misses[from + inside - 1];
  }
  return result;
}

}  // namespace fair_gauge
