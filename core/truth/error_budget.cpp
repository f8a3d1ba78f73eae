#include "truth/error_budget.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "language/translation.h"
#include "quantity/distributions.h"
#include "truth/calibration_nodes.h"

namespace fair_gauge {
namespace {

// Where a source sits in the chain.
struct SourcePlace {
  Source source;
  std::size_t link;
  std::size_t index;
};

StageName stage_of_link(const Chain& chain, std::size_t link) {
  if (chain.links[link] == chain.derived) return StageName::derived;
  if (link + 1 >= chain.converter_node) return StageName::converter;
  if (link < chain.compensated_node) return StageName::corrected;
  return link == chain.compensated_node ? StageName::sensor : StageName::front_end;
}

// What the chain reads for a true value when one source is off and everything else is as assumed.
double reading_with(const Chain& chain, double world, const std::vector<std::vector<double>>& deviations) {
  double value = world;
  for (std::size_t i = chain.world_node; i < chain.converter_node; ++i)
    value = chain.links[i]->forward_off(value, deviations[i]);
  for (std::size_t i = chain.converter_node; i > chain.world_node; --i)
    value = chain.links[i - 1]->inverse_continuous(value);
  return value;
}

std::vector<SourcePlace> all_sources(const Chain& chain, double world, std::vector<std::vector<double>>& deviations) {
  std::vector<SourcePlace> places;
  deviations.assign(chain.links.size(), {});
  double value = world;
  for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) {
    const auto sources = chain.links[i]->sources(value);
    deviations[i].assign(sources.size(), 0.0);
    for (std::size_t k = 0; k < sources.size(); ++k) places.push_back({sources[k], i, k});
    value = chain.links[i]->forward_off(value, {});
  }
  return places;
}

// How the reading moves when one source is off by one standard uncertainty: the mean of both directions. Where the
// chain ends in one of them (100 % of humidity, the top of a part's numbers) the other counts for both.
double effect_at(const Chain& chain, double world, const SourcePlace& place, double standard,
                 std::vector<std::vector<double>>& deviations) {
  double& deviation = deviations[place.link][place.index];
  deviation = standard;
  const double above = reading_with(chain, world, deviations);
  deviation = -standard;
  const double below = reading_with(chain, world, deviations);
  deviation = 0;
  const double up = above - world, down = world - below;
  constexpr double halted = 0.85;  // so much less on one side is an end, not a bend
  if (!std::isfinite(up) || std::abs(up) < halted * std::abs(down)) return down;
  if (!std::isfinite(down) || std::abs(down) < halted * std::abs(up)) return up;
  return (up + down) / 2;
}

// The sensor heats itself by the power it turns into heat; how much of it depends on how it is mounted.
struct SelfHeating {
  double kelvin = 0;
};

SelfHeating self_heating_at(const Chain& chain, double world) {
  if (!chain.divider || chain.kelvin_per_watt <= 0) return {};
  double ohms = world;
  for (std::size_t i = chain.world_node; i <= chain.compensated_node; ++i) ohms = chain.links[i]->forward_off(ohms, {});
  return {chain.divider->sensor_watts(ohms) * chain.kelvin_per_watt};
}

void scale(std::vector<SourceEffect>& effects, double by, const std::string& whose, StageName stage) {
  for (SourceEffect& each : effects) {
    each.sensitivity *= by, each.effect *= by, each.later *= by;
    each.source.name = whose + ": " + each.source.name;
    each.stage = stage;
  }
}

// The sources of the chain that measures what this one needs, as they move this one's reading.
std::vector<SourceEffect> effects_of_beside(const Chain& chain, double world, const SourcePlace& place,
                                            std::vector<std::vector<double>>& deviations) {
  constexpr double small = 1e-3;  // of the other quantity, to see how much it moves this one
  // The source is how far the truth is from what is assumed; the other chain's effects, how far its reading is from the
  // truth: the other way round.
  const double sensitivity = -effect_at(chain, world, place, small, deviations) / small;
  auto effects = source_effects(*place.source.beside, place.source.beside_at);
  scale(effects, sensitivity, place.source.name, stage_of_link(chain, place.link));
  return effects;
}

// What the inputs of a worked-out quantity are off by, through its slopes.
struct InputAt {
  const Chain* chain;
  double at;     // its reading
  double slope;  // of the worked-out quantity by it
};

std::vector<InputAt> inputs_at(const Chain& chain, double world) {
  if (!chain.derived) return {};
  const double first = chain.derived->forward_off(world, {});
  std::vector<InputAt> all = {{chain.inputs.front().get(), first, chain.derived->slope_by_first(first)}};
  if (chain.inputs.size() > 1 && chain.inputs[1])
    all.push_back({chain.inputs[1].get(), chain.derived->setup().beside, chain.derived->slope_by_beside(first)});
  return all;
}

std::string name_of_input(const InputAt& input) { return called(input.chain->channel); }

// What is off by the same at both readings of one sensor adds up with its sign.
void add_at_rest(std::vector<SourceEffect>& effects, std::vector<SourceEffect> at_rest) {
  std::vector<bool> is_taken(effects.size());
  for (SourceEffect& each : at_rest) {
    std::size_t same = 0;
    while (same < is_taken.size() && (is_taken[same] || !is_same_chance(effects[same], each))) ++same;
    if (same == is_taken.size()) {
      each.source.name += translated(", at rest");
      effects.push_back(std::move(each));
      continue;
    }
    is_taken[same] = true;
    effects[same].effect += each.effect;
    effects[same].later += each.later;
    effects[same].sensitivity += each.sensitivity;
  }
}

std::vector<Contribution> lines_of(const std::vector<SourceEffect>& effects) {
  std::vector<Contribution> lines;
  std::map<std::string, std::size_t> by_cause;
  std::vector<double> signed_effect, signed_later;  // causes in common add up with their signs, before the squares
  for (const SourceEffect& each : effects) {
    const auto known = each.source.cause.empty() ? by_cause.end() : by_cause.find(each.source.cause);
    if (known != by_cause.end()) {
      Contribution& line = lines[known->second];
      line.name += translated(" and {}", each.source.name);
      line.sensitivity += each.sensitivity;
      line.dof = std::min(line.dof, each.source.dof);
      signed_effect[known->second] += each.effect;
      signed_later[known->second] += each.later;
      continue;
    }
    if (!each.source.cause.empty()) by_cause[each.source.cause] = lines.size();
    lines.push_back({each.source.name, each.stage, each.source.distribution, each.source.width, each.source.unit,
                     each.sensitivity, 0, 0, each.source.dof, each.source.kind});
    signed_effect.push_back(each.effect);
    signed_later.push_back(each.later);
  }
  for (std::size_t i = 0; i < lines.size(); ++i) lines[i].standard = std::hypot(signed_effect[i], signed_later[i]);
  return lines;
}

}  // namespace

std::vector<SourceEffect> source_effects(const Chain& chain, double world) {
  if (!raw_for(chain, world)) return {};
  std::vector<std::vector<double>> deviations;
  const auto places = all_sources(chain, world, deviations);
  const CalibrationNodes nodes = calibration_nodes(chain.channel.correction, world);
  std::vector<SourceEffect> effects;
  const auto derived_at =
      static_cast<std::size_t>(std::find(chain.links.begin(), chain.links.end(), chain.derived) - chain.links.begin());
  const auto inputs = inputs_at(chain, world);
  for (const InputAt& input : inputs) {
    auto of_input = source_effects(*input.chain, input.at);
    const bool at_rest = chain.is_tared() && &input != &inputs.front();
    if (at_rest) of_input = source_effects_at_rest(chain);
    scale(of_input, input.slope, name_of_input(input), StageName::derived);
    if (at_rest)
      add_at_rest(effects, std::move(of_input));
    else
      std::ranges::move(of_input, std::back_inserter(effects));
  }
  for (const SourcePlace& place : places) {
    if (place.link >= derived_at) continue;  // its first input's, above: a correction of that among them
    if (place.source.beside) {
      if (auto measured = effects_of_beside(chain, world, place, deviations); !measured.empty()) {
        std::ranges::move(measured, std::back_inserter(effects));
        continue;
      }
    }
    const double standard = place.source.standard();
    if (standard <= 0) continue;
    SourceEffect each{.source = place.source, .stage = stage_of_link(chain, place.link)};
    each.origin = place.source.cause.empty() ? chain.channel.device + ": " + place.source.name : place.source.cause;
    // Another value at every reading is nothing that two readings share.
    if (place.source.kind != SourceKind::other) each.origin = chain.channel.id + ", " + each.origin;
    each.effect = effect_at(chain, world, place, standard, deviations);
    each.sensitivity = each.effect / standard;
    if (place.source.systematic && !nodes.at.empty()) {
      // What the calibration saw, the error of this specimen at that moment, is corrected as far as the model follows.
      const double later = std::clamp(place.source.later / place.source.width, 0.0, 1.0);
      each.later = each.effect * later;
      each.effect *= 1 - later;
      for (std::size_t i = 0; i < nodes.at.size(); ++i)
        if (const double there = effect_at(chain, nodes.at[i], place, standard, deviations); std::isfinite(there))
          each.effect -= nodes.weights[i] * there * (1 - later);
    }
    effects.push_back(std::move(each));
  }
  return effects;
}

std::vector<SourceEffect> source_effects_at_rest(const Chain& chain) {
  auto effects = source_effects(*chain.inputs.back(), chain.derived->setup().beside);
  const double of_mean = 1 / std::sqrt(static_cast<double>(chain.channel.derived->at_rest));
  for (SourceEffect& each : effects)
    if (each.source.kind == SourceKind::noise)
      each.effect *= of_mean, each.later *= of_mean, each.sensitivity *= of_mean;
  return effects;
}

bool is_same_chance(const SourceEffect& one, const SourceEffect& other) {
  const auto is_new_each_time = [](const SourceEffect& each) {
    return each.source.kind == SourceKind::noise || each.source.kind == SourceKind::quantisation;
  };
  return !is_new_each_time(one) && !is_new_each_time(other) && one.origin == other.origin &&
         one.source.kind == other.source.kind;
}

double shared_variance(const std::vector<SourceEffect>& one, const std::vector<SourceEffect>& other) {
  // Within one chain a cause may stand in several places: its effects add up before they meet the other's.
  std::map<std::string, std::pair<double, double>> of_one, of_other;
  for (const SourceEffect& each : one)
    of_one[each.origin].first += each.effect, of_one[each.origin].second += each.later;
  for (const SourceEffect& each : other)
    of_other[each.origin].first += each.effect, of_other[each.origin].second += each.later;
  double variance = 0;
  for (const auto& [origin, effect] : of_one)
    if (const auto found = of_other.find(origin); found != of_other.end())
      variance += effect.first * found->second.first + effect.second * found->second.second;
  return variance;
}

std::vector<std::vector<double>> shared_by(const std::vector<std::vector<SourceEffect>>& readings) {
  std::vector<std::vector<double>> covariances;
  for (const auto& one : readings) {
    covariances.emplace_back();
    for (const auto& other : readings) covariances.back().push_back(shared_variance(one, other));
  }
  return covariances;
}

ExplainedNoise explained_noise(const Chain& chain, double world) {
  ExplainedNoise noise;
  double variance = 0;
  for (const SourceEffect& each : source_effects(chain, world)) {
    if (each.source.kind != SourceKind::noise && each.source.kind != SourceKind::quantisation) continue;
    variance += each.effect * each.effect;
    noise.is_stated = noise.is_stated || (each.source.kind == SourceKind::noise && each.effect != 0);
  }
  noise.standard = std::sqrt(variance);
  return noise;
}

double self_heating(const Chain& chain, double world) { return self_heating_at(chain, world).kelvin; }

double coverage_factor_95(double dof) {
  if (!(dof < 1e6)) return 1.959964;  // the normal distribution
  return student_quantile(std::max(1.0, dof), 0.975);
}

Result<Budget> error_budget(const Chain& chain, double world) {
  if (const auto raw = raw_for(chain, world); !raw) return raw.problem();
  Budget budget{.at = world, .allowed = chain.channel.tolerance, .step = step_at(chain, world)};

  const CalibrationNodes nodes = calibration_nodes(chain.channel.correction, world);
  budget.lines = lines_of(source_effects(chain, world));
  if (const SelfHeating heating = self_heating_at(chain, world); heating.kelvin > 0) {
    double left = heating.kelvin;
    for (std::size_t i = 0; i < nodes.at.size(); ++i)
      left -= nodes.weights[i] * self_heating_at(chain, nodes.at[i]).kelvin;
    budget.known_bias = left;
    const double width = std::abs(left) * self_heating_unknown;
    budget.lines.push_back({translated("self-heating"), StageName::sensor, Distribution::rectangular, width, "°C", 1,
                            width / std::sqrt(3.0), 0});
  }
  std::vector<std::vector<double>> deviations;
  if (chain.channel.contributions.empty())
    for (const SourcePlace& place : all_sources(chain, world, deviations)) {
      budget.lacks_accuracy = budget.lacks_accuracy || place.source.kind == SourceKind::unknown;
      if (place.source.stated_for) budget.stated_for = place.source.stated_for;
    }
  const Correction& correction = chain.channel.correction;
  budget.is_calibrated_elsewhere = budget.lacks_accuracy && !correction.empty() && correction.standard_uncertainty > 0;
  for (const InputAt& input : inputs_at(chain, world)) {
    const auto of_input = error_budget(*input.chain, input.at);
    if (!of_input) return of_input.problem();
    budget.known_bias += input.slope * of_input->known_bias;
    budget.lacks_accuracy = budget.lacks_accuracy || of_input->lacks_accuracy;
    if (of_input->stated_for) budget.stated_for = of_input->stated_for;
    const auto heating = std::ranges::find(of_input->lines, translated("self-heating"), &Contribution::name);
    if (heating == of_input->lines.end()) continue;
    Contribution line = *heating;
    line.name = fmt::format("{}: {}", name_of_input(input), heating->name);
    line.sensitivity = input.slope;
    line.standard *= of_input->known_bias < 0 ? -input.slope : input.slope;
    // At rest it warms itself as well.
    const auto same = std::ranges::find(budget.lines, line.name, &Contribution::name);
    if (!chain.is_tared() || same == budget.lines.end())
      budget.lines.push_back(std::move(line));
    else
      same->standard += line.standard, same->sensitivity += line.sensitivity;
  }
  for (Contribution& line : budget.lines) line.standard = std::abs(line.standard);
  double variance = 0;
  for (const Contribution& line : budget.lines) variance += line.standard * line.standard;
  if (!std::isfinite(variance))
    return Problem{translated("the error cannot be computed here: the chain is at its end"),
                   translated("a value further from the limits")};
  for (Contribution& line : budget.lines) line.share = variance > 0 ? line.standard * line.standard / variance : 0;
  std::ranges::sort(budget.lines, std::greater{}, &Contribution::standard);
  budget.combined = std::sqrt(variance);
  double fourth = 0;
  for (const Contribution& line : budget.lines) fourth += std::pow(line.standard, 4) / line.dof;
  if (fourth > 0) budget.effective_dof = variance * variance / fourth;
  budget.coverage_factor = coverage_factor_95(budget.effective_dof);
  budget.expanded = budget.coverage_factor * budget.combined;
  constexpr double worth_naming = 1e-4;  // of the variance
  std::erase_if(budget.lines, [](const Contribution& line) { return !(line.share >= worth_naming); });
  return budget;
}

std::vector<Budget> budget_over_range(const Chain& chain, double from, double to, int places) {
  std::vector<Budget> budgets;
  for (int i = 0; i < places; ++i)
    if (auto budget = error_budget(chain, from + (to - from) * i / (places - 1))) budgets.push_back(std::move(*budget));
  return budgets;
}

}  // namespace fair_gauge
