#include "truth/monte_carlo.h"

#include <algorithm>
#include <array>
#include <bit>
#include <boost/random/normal_distribution.hpp>
#include <cmath>
#include <map>
#include <span>
#include <variant>

#include "language/translation.h"
#include "truth/calibration_nodes.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

constexpr std::size_t lanes = 8;

// Eight small generators side by side (xorshift128+), so that a processor works on several at once. Good enough for
// spreads, and the same everywhere.
class Chance {
 public:
  using result_type = std::uint64_t;
  explicit Chance(std::uint64_t seed) {
    for (std::size_t lane = 0; lane < lanes; ++lane)
      for (auto* state : {&a_[lane], &b_[lane]}) {
        seed += 0x9E3779B97F4A7C15u;
        std::uint64_t x = seed;
        x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
        x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
        *state = x ^ (x >> 31);
      }
  }
  static constexpr result_type min() { return 0; }
  static constexpr result_type max() { return ~result_type{0}; }
  result_type operator()() {
    if (next_ == lanes) draw_words();
    return words_[next_++];
  }
  // Flat between −half and half.
  void fill_flat(std::span<double> into, double half) {
    const auto flat = [&](std::uint64_t word) {
      return (std::bit_cast<double>((word >> 12) | 0x3FF0000000000000u) - 1.5) * (2 * half);
    };  // the upper bits as a number from 1 to 2
    std::size_t i = 0;
    for (; i + lanes <= into.size(); i += lanes) {
      draw_words();
      for (std::size_t lane = 0; lane < lanes; ++lane) into[i + lane] = flat(words_[lane]);
    }
    next_ = lanes;
    for (; i < into.size(); ++i) into[i] = flat((*this)());
  }
  double normal() { return normal_(*this); }

 private:
  void draw_words() {
    for (std::size_t lane = 0; lane < lanes; ++lane) {
      std::uint64_t a = a_[lane];
      const std::uint64_t b = b_[lane];
      a_[lane] = b;
      a ^= a << 23;
      b_[lane] = a ^ b ^ (a >> 17) ^ (b >> 26);
      words_[lane] = b_[lane] + b;
    }
    next_ = 0;
  }
  std::uint64_t a_[lanes], b_[lanes], words_[lanes];
  std::size_t next_ = lanes;
  boost::random::normal_distribution<double> normal_;
};

void draw(Chance& chance, const Source& source, std::span<double> into) {
  switch (source.distribution) {
    case Distribution::rectangular: return chance.fill_flat(into, source.width);
    case Distribution::triangular: {
      chance.fill_flat(into, source.width / 2);
      std::vector<double> second(into.size());
      chance.fill_flat(second, source.width / 2);
      for (std::size_t t = 0; t < into.size(); ++t) into[t] += second[t];
      return;
    }
    case Distribution::normal:
      for (double& each : into) each = source.width * chance.normal();
  }
}

constexpr std::size_t block_size = 1024;
constexpr int classes = 60;

// The chain made ready for blocks of specimens: which sources are drawn, and where each goes.
class Plan {
 public:
  Plan(const Chain& chain, double world)
      : chain_(chain), world_(world), nodes_(calibration_nodes(chain.channel.correction, world)) {
    columns_.resize(chain.links.size());
    std::map<std::string, std::size_t> by_cause;
    double value = world;
    for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) {
      const auto sources = chain.links[i]->sources(value);
      columns_[i].resize(sources.size());
      for (std::size_t k = 0; k < sources.size(); ++k) add_source(sources[k], i, k, by_cause);
      value = chain.links[i]->forward_off(value, {});
    }
    for (const double at : nodes_.at) expected_.push_back(read(at));
    // After a calibration nothing is left out: what looks like nothing beside a reference that the correction has taken
    // care of may be all that is left.
    if (nodes_.at.empty()) leave_out_nothings();
    heating_ = self_heating(chain, world);
    for (std::size_t i = 0; i < nodes_.at.size(); ++i)
      heating_ -= nodes_.weights[i] * self_heating(chain, nodes_.at[i]);
  }

  /// reading − world of `into.size()` specimens.
  void run(Chance& chance, std::span<double> into) {
    for (auto& of_link : columns_)
      for (Owned& column : of_link)
        if (column.summed) std::ranges::fill(column.numbers, 0.0);
    for (const Drawn& one : drawn_) draw_one(chance, one, into.size());
    pass(into, world_, false);
    for (double& each : into) each -= world_;
    if (heating_ != 0) {
      std::array<double, block_size> share;
      chance.fill_flat(std::span(share).first(into.size()), self_heating_unknown);
      for (std::size_t t = 0; t < into.size(); ++t) into[t] += heating_ * (1 + share[t]);
    }
    // What the calibration saw of the systematic errors is corrected.
    if (!any_systematic_) return;
    std::array<double, block_size> there;
    for (std::size_t n = 0; n < nodes_.at.size(); ++n) {
      const std::span<double> seen(there.data(), into.size());
      pass(seen, nodes_.at[n], true);
      for (std::size_t t = 0; t < into.size(); ++t) into[t] -= nodes_.weights[n] * (seen[t] - expected_[n]);
    }
  }

 private:
  struct Place {
    std::size_t link, index;
    double scale;
  };
  struct Drawn {
    Source source;
    std::vector<Place> places;
  };
  // A column of numbers for one source, with its own memory.
  struct Owned {
    std::vector<double> numbers = std::vector<double>(block_size, 0.0);
    std::vector<double> seen;  // of a systematic one after a calibration: the part that it saw
    bool systematic = false;
    bool summed = false;  // of several sources: those of the chain that measures it
    std::span<double> first(std::size_t count) { return std::span(numbers).first(count); }
  };

  // Sources of one cause get the same chance, each in its own width. What a calibration saw and what came after it are
  // off by chances of their own.
  void draw_one(Chance& chance, const Drawn& one, std::size_t count) {
    Owned& only = columns_[one.places[0].link][one.places[0].index];
    if (one.places.size() == 1 && !only.summed && only.seen.empty()) return draw(chance, one.source, only.first(count));
    Source part = one.source;
    const std::span<double> seen = std::span(seen_).first(count), all = std::span(all_).first(count);
    const bool split = std::ranges::any_of(
        one.places, [this](const Place& place) { return !columns_[place.link][place.index].seen.empty(); });
    if (split) {
      part.width = one.source.width - one.source.later;
      draw(chance, part, seen);
      part.width = one.source.later;
      draw(chance, part, all);
      for (std::size_t t = 0; t < count; ++t) all[t] += seen[t];
    } else {
      draw(chance, part, all);
    }
    for (const Place& place : one.places) {
      Owned& column = columns_[place.link][place.index];
      const double keep = column.summed ? 1 : 0;
      for (std::size_t t = 0; t < count; ++t) column.numbers[t] = keep * column.numbers[t] + all[t] * place.scale;
      for (std::size_t t = 0; t < count && !column.seen.empty(); ++t) column.seen[t] = seen[t] * place.scale;
    }
  }

  // A quantity that another chain measures is off by what that chain is off by.
  void add_source(const Source& source, std::size_t link, std::size_t index,
                  std::map<std::string, std::size_t>& by_cause) {
    const auto measured =
        source.beside ? source_effects(*source.beside, source.beside_at) : std::vector<SourceEffect>();
    if (measured.empty()) {
      if (source.width > 0) add(source, link, index, 1, by_cause);
      return;
    }
    columns_[link][index].summed = true;
    for (const SourceEffect& each : measured) {
      Source drawn = each.source;
      drawn.systematic = false;  // this chain's calibration is another's
      drawn.later = 0;
      // The truth is as far from the assumed value as the other chain's reading is from the truth, the other way.
      const double sign = each.effect + each.later < 0 ? 1 : -1;
      add(drawn, link, index, sign * std::hypot(each.effect, each.later) / drawn.standard(), by_cause);
    }
  }

  /// \param scale  units of the column for one of the source
  void add(const Source& source, std::size_t link, std::size_t index, double scale,
           std::map<std::string, std::size_t>& by_cause) {
    columns_[link][index].systematic = source.systematic;
    if (source.systematic && !nodes_.at.empty()) columns_[link][index].seen.assign(block_size, 0.0);
    any_systematic_ = any_systematic_ || source.systematic;
    if (const auto known = source.cause.empty() ? by_cause.end() : by_cause.find(source.cause);
        known != by_cause.end()) {
      Drawn& same = drawn_[known->second];
      same.places.push_back({link, index, scale * source.width / same.source.width});
      same.source.later = std::max(same.source.later, source.later / source.width * same.source.width);
      return;
    }
    if (!source.cause.empty()) by_cause[source.cause] = drawn_.size();
    drawn_.push_back({source, {{link, index, scale}}});
  }

  // Sources that bring less than a hundred-thousandth of the whole variance are not drawn.
  void leave_out_nothings() {
    constexpr double nothing = 1e-5;
    const double as_assumed = read(world_);
    std::vector<double> variances;
    double sum = 0;
    for (const Drawn& one : drawn_) {
      for (const Place& place : one.places)
        columns_[place.link][place.index].numbers[0] = one.source.standard() * place.scale;
      double reading[1];
      pass(reading, world_, false);
      for (const Place& place : one.places) columns_[place.link][place.index].numbers[0] = 0;
      variances.push_back(std::pow(reading[0] - as_assumed, 2));
      if (std::isfinite(variances.back())) sum += variances.back();
    }
    std::size_t at = 0;
    std::erase_if(drawn_, [&](const Drawn&) { return variances[at++] < nothing * sum; });
  }

  // A true value out to the code and back, for a block of specimens.
  void pass(std::span<double> values, double world, bool lasting_alone) {
    std::ranges::fill(values, world);
    std::vector<Column> of_link;
    for (std::size_t i = chain_.world_node; i < chain_.converter_node; ++i) {
      of_link.clear();
      for (Owned& column : columns_[i])
        of_link.push_back(!lasting_alone        ? Column(column.first(values.size()))
                          : column.seen.empty() ? Column(none_).first(values.size())
                                                : Column(column.seen).first(values.size()));
      chain_.links[i]->forward_off_block(values, of_link);
    }
    for (std::size_t i = chain_.converter_node; i > chain_.world_node; --i)
      chain_.links[i - 1]->inverse_continuous_block(values);
  }

  double read(double world) const {
    double value = world;
    for (std::size_t i = chain_.world_node; i < chain_.converter_node; ++i)
      value = chain_.links[i]->forward_off(value, {});
    for (std::size_t i = chain_.converter_node; i > chain_.world_node; --i)
      value = chain_.links[i - 1]->inverse_continuous(value);
    return value;
  }

  const Chain& chain_;
  double world_;
  CalibrationNodes nodes_;
  std::vector<double> expected_;
  std::vector<Drawn> drawn_;
  std::vector<std::vector<Owned>> columns_;
  std::vector<double> none_ = std::vector<double>(block_size, 0.0), seen_ = none_, all_ = none_;
  bool any_systematic_ = false;
  double heating_ = 0;  // known, and not corrected
};

// Of what is worked out: its inputs off by their sources, each by its slope, and the formula itself for every specimen.
class DerivedPlan {
 public:
  DerivedPlan(const Chain& chain, double world)
      : derived_(*chain.derived), world_(world), first_(derived_.forward_off(world, {})) {
    for (std::size_t i = 0; i < chain.inputs.size(); ++i) {
      if (!chain.inputs[i]) continue;
      const double at = i == 0 ? first_ : derived_.setup().beside;
      is_tared_ = i > 0 && chain.is_tared();
      for (const SourceEffect& each : is_tared_ ? source_effects_at_rest(chain) : source_effects(*chain.inputs[i], at))
        add(each, i);
      if (const auto budget = error_budget(*chain.inputs[i], at)) heating_[i] = budget->known_bias;
    }
    for (const SourceEffect& each : source_effects(chain, world))
      if (each.stage == StageName::corrected) add(each, itself);
  }

  /// reading − world of `into.size()` specimens.
  void run(Chance& chance, std::span<double> into) {
    for (auto& column : off_) std::ranges::fill(column, 0.0);
    std::array<double, block_size> drawn, share;
    for (const Drawn& one : drawn_) {
      draw(chance, one.effect.source, std::span(drawn).first(into.size()));
      for (const auto& [input, scale] : one.places)
        for (std::size_t t = 0; t < into.size(); ++t) off_[input][t] += scale * drawn[t];
    }
    for (std::size_t i = 0; i < itself; ++i) {
      if (heating_[i] == 0) continue;
      if (i == 0 || !is_tared_) chance.fill_flat(std::span(share).first(into.size()), self_heating_unknown);
      for (std::size_t t = 0; t < into.size(); ++t) off_[i][t] += heating_[i] * (1 + share[t]);
    }
    for (std::size_t t = 0; t < into.size(); ++t)
      into[t] = derived_.at(first_ + off_[0][t], derived_.setup().beside + off_[1][t]) - world_ + off_[itself][t];
  }

 private:
  static constexpr std::size_t itself = 2;  // what is off in the worked-out quantity, behind its two inputs
  struct Drawn {
    SourceEffect effect;
    std::vector<std::pair<std::size_t, double>> places;  // input, its units for one of the source
  };

  void add(const SourceEffect& effect, std::size_t input) {
    const double sign = effect.effect + effect.later < 0 ? -1 : 1;
    const double scale = sign * std::hypot(effect.effect, effect.later) / effect.source.standard();
    const auto same = std::ranges::find_if(drawn_, [&](const Drawn& one) {
      if (!effect.source.cause.empty() && one.effect.source.cause == effect.source.cause) return true;
      return is_tared_ && input == 1 && one.places.size() == 1 && one.places.front().first == 0 &&
             is_same_chance(one.effect, effect);
    });
    if (same == drawn_.end())
      drawn_.push_back({effect, {{input, scale}}});
    else
      same->places.emplace_back(input, scale * effect.source.width / same->effect.source.width);
  }

  const DerivedLink& derived_;
  double world_, first_;
  bool is_tared_ = false;
  std::array<double, itself> heating_ = {};
  std::vector<Drawn> drawn_;
  std::array<std::vector<double>, itself + 1> off_ = {std::vector<double>(block_size), std::vector<double>(block_size),
                                                      std::vector<double>(block_size)};
};

// The shortest stretch that holds 95 %. Only the two ends have to be in order for it.
void find_interval(std::vector<double>& misses, MonteCarlo& result) {
  const std::size_t n = misses.size(), inside = static_cast<std::size_t>(std::ceil(0.95 * static_cast<double>(n))),
                    ends = n - inside + 1;
  const auto at = [&](std::size_t i) { return misses.begin() + static_cast<std::ptrdiff_t>(i); };
  std::nth_element(misses.begin(), at(ends - 1), misses.end());
  std::sort(misses.begin(), at(ends));
  std::nth_element(at(ends), at(std::max(ends, inside - 1)), misses.end());
  std::sort(at(std::max(ends, inside - 1)), misses.end());
  double shortest = std::numeric_limits<double>::infinity();
  for (std::size_t from = 0; from < ends; ++from)
    if (const double length = misses[from + inside - 1] - misses[from]; length < shortest)
      shortest = length, result.low = misses[from], result.high = misses[from + inside - 1];
}

void count_classes(const std::vector<double>& misses, MonteCarlo& result) {
  const double reach = std::max(4 * result.standard, 1e-300);
  result.histogram_from = result.mean - reach;
  result.histogram_step = 2 * reach / classes;
  result.histogram.assign(classes, 0);
  const double per_class = 1 / result.histogram_step;
  for (const double miss : misses)
    if (const double place = (miss - result.histogram_from) * per_class; place >= 0 && place < classes)
      ++result.histogram[static_cast<std::size_t>(place)];
}

}  // namespace

Result<MonteCarlo> monte_carlo(const Chain& chain, double world, std::int64_t trials, std::uint64_t seed,
                               const std::function<bool(double share)>& go_on) {
  if (const auto raw = raw_for(chain, world); !raw) return raw.problem();
  std::variant<std::monostate, Plan, DerivedPlan> made;
  if (chain.derived)
    made.emplace<DerivedPlan>(chain, world);
  else
    made.emplace<Plan>(chain, world);
  Chance chance(seed);
  std::vector<double> misses(static_cast<std::size_t>(trials));
  std::size_t done = 0;
  for (std::size_t block = 0; done < misses.size(); ++block) {
    const std::size_t size = std::min(block_size, misses.size() - done);
    const auto into = std::span(misses).subspan(done, size);
    if (Plan* plan = std::get_if<Plan>(&made))
      plan->run(chance, into);
    else
      std::get<DerivedPlan>(made).run(chance, into);
    done += size;
    if (block % 64 == 63 && go_on && !go_on(static_cast<double>(done) / static_cast<double>(trials))) break;
  }
  misses.resize(done);
  const auto without = std::erase_if(misses, [](double miss) { return !std::isfinite(miss); });
  if (misses.size() < 100)
    return Problem{translated("the chain has no reading for nearly all specimens here"),
                   translated("a value further from the limits")};
  MonteCarlo result{.trials = static_cast<std::int64_t>(misses.size()),
                    .without_reading = static_cast<std::int64_t>(without)};
  for (const double miss : misses) result.mean += miss;
  result.mean /= static_cast<double>(misses.size());
  for (const double miss : misses) result.standard += (miss - result.mean) * (miss - result.mean);
  result.standard = std::sqrt(result.standard / static_cast<double>(misses.size() - 1));
  count_classes(misses, result);
  find_interval(misses, result);
  return result;
}

std::string budget_differs(const Budget& budget, const MonteCarlo& spread) {
  // Two digits of the combined uncertainty; half a unit of the second is the tolerance.
  if (!(budget.combined > 0)) return "";
  const double unit = std::pow(10.0, std::floor(std::log10(budget.combined)) - 1), tolerance = unit / 2;
  // Chance alone moves the ends of the interval.
  const double chance = 4 * spread.standard / std::sqrt(0.05 * static_cast<double>(spread.trials));
  const double low = std::abs(budget.known_bias - budget.expanded - spread.low),
               high = std::abs(budget.known_bias + budget.expanded - spread.high);
  if (spread.without_reading > spread.trials / 1000)
    return translated(
        "Some specimens have no reading here: the chain is at its end for them, and no interval holds for those.");
  if (std::max(low, high) <= tolerance + chance) return "";
  const double lopsided = std::abs(spread.high + spread.low - 2 * budget.known_bias) / (spread.high - spread.low);
  if (lopsided > 0.05)
    return translated(
        "The spread is lopsided: the chain is curved over it, and the interval of Monte Carlo is the better one.");
  return spread.high - spread.low < 2 * budget.expanded
             ? translated("It is narrower: one flat source rules, and the budget is on the safe side.")
             : translated("It is wider: take that one.");
}

}  // namespace fair_gauge
