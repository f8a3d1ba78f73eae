#include "truth/error_budget.h"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <map>

#include "truth/calibration_nodes.h"

namespace fair_gauge {
namespace {

struct Entry {
  Source source;
  std::size_t link;
  std::size_t index;
  double effect = 0;  // signed, one standard uncertainty, of what a calibration has not corrected
  double later = 0;   // the same of what came after the calibration; nothing without one
  double sensitivity = 0;
};

StageName stage_of_link(const Chain& chain, std::size_t link) {
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

std::vector<Entry> all_sources(const Chain& chain, double world, std::vector<std::vector<double>>& deviations) {
  std::vector<Entry> entries;
  deviations.assign(chain.links.size(), {});
  double value = world;
  for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) {
    const auto sources = chain.links[i]->sources(value);
    deviations[i].assign(sources.size(), 0.0);
    for (std::size_t k = 0; k < sources.size(); ++k) entries.push_back({sources[k], i, k});
    value = chain.links[i]->forward_off(value, {});
  }
  return entries;
}

// How the reading moves when one source is off by one standard uncertainty, the mean of both directions.
double effect_at(const Chain& chain, double world, const Entry& entry, double standard,
                 std::vector<std::vector<double>>& deviations) {
  double& deviation = deviations[entry.link][entry.index];
  deviation = standard;
  const double above = reading_with(chain, world, deviations);
  deviation = -standard;
  const double below = reading_with(chain, world, deviations);
  deviation = 0;
  return (above - below) / 2;
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

std::vector<Contribution> lines_of(const Chain& chain, const std::vector<Entry>& entries) {
  std::vector<Contribution> lines;
  std::map<std::string, std::size_t> by_cause;
  std::vector<double> signed_effect, signed_later;  // causes in common add up with their signs, before the squares
  for (const Entry& entry : entries) {
    const auto known = entry.source.cause.empty() ? by_cause.end() : by_cause.find(entry.source.cause);
    if (known != by_cause.end()) {
      Contribution& line = lines[known->second];
      line.name += " and " + entry.source.name;
      line.sensitivity += entry.sensitivity;
      line.dof = std::min(line.dof, entry.source.dof);
      signed_effect[known->second] += entry.effect;
      signed_later[known->second] += entry.later;
      continue;
    }
    if (!entry.source.cause.empty()) by_cause[entry.source.cause] = lines.size();
    lines.push_back({entry.source.name, stage_of_link(chain, entry.link), entry.source.distribution, entry.source.width,
                     entry.source.unit, entry.sensitivity, 0, 0, entry.source.dof, entry.source.kind});
    signed_effect.push_back(entry.effect);
    signed_later.push_back(entry.later);
  }
  for (std::size_t i = 0; i < lines.size(); ++i) lines[i].standard = std::hypot(signed_effect[i], signed_later[i]);
  return lines;
}

}  // namespace

double self_heating(const Chain& chain, double world) { return self_heating_at(chain, world).kelvin; }

double coverage_factor_95(double dof) {
  if (!(dof < 1e6)) return 1.959964;  // the normal distribution
  return boost::math::quantile(boost::math::students_t(std::max(1.0, dof)), 0.975);
}

Result<Budget> error_budget(const Chain& chain, double world) {
  if (const auto raw = raw_for(chain, world); !raw) return raw.problem();
  Budget budget{.at = world, .allowed = chain.channel.tolerance, .step = step_at(chain, world)};

  std::vector<std::vector<double>> deviations;
  auto entries = all_sources(chain, world, deviations);
  const CalibrationNodes nodes = calibration_nodes(chain.channel.correction, world);
  for (Entry& entry : entries) {
    const double standard = entry.source.standard();
    if (standard <= 0) continue;
    entry.effect = effect_at(chain, world, entry, standard, deviations);
    entry.sensitivity = entry.effect / standard;
    if (!entry.source.systematic || nodes.at.empty()) continue;
    // What the calibration saw, the error of this specimen at that moment, is corrected as far as the model follows it.
    const double later = std::clamp(entry.source.later / entry.source.width, 0.0, 1.0);
    entry.later = entry.effect * later;
    entry.effect *= 1 - later;
    for (std::size_t i = 0; i < nodes.at.size(); ++i)
      if (const double there = effect_at(chain, nodes.at[i], entry, standard, deviations); std::isfinite(there))
        entry.effect -= nodes.weights[i] * there * (1 - later);
  }
  budget.lines = lines_of(chain, entries);
  if (const SelfHeating heating = self_heating_at(chain, world); heating.kelvin > 0) {
    double left = heating.kelvin;
    for (std::size_t i = 0; i < nodes.at.size(); ++i)
      left -= nodes.weights[i] * self_heating_at(chain, nodes.at[i]).kelvin;
    budget.known_bias = left;
    const double width = std::abs(left) * self_heating_unknown;
    budget.lines.push_back(
        {"self-heating", StageName::sensor, Distribution::rectangular, width, "°C", 1, width / std::sqrt(3.0), 0});
  }
  double variance = 0;
  for (const Contribution& line : budget.lines) variance += line.standard * line.standard;
  if (!std::isfinite(variance))
    return Problem{"the error cannot be computed here: the chain is at its end", "a value further from the limits"};
  for (Contribution& line : budget.lines) line.share = variance > 0 ? line.standard * line.standard / variance : 0;
  std::erase_if(budget.lines, [](const Contribution& line) { return line.width <= 0; });
  std::ranges::sort(budget.lines, std::greater{}, &Contribution::standard);
  budget.combined = std::sqrt(variance);
  double fourth = 0;
  for (const Contribution& line : budget.lines) fourth += std::pow(line.standard, 4) / line.dof;
  if (fourth > 0) budget.effective_dof = variance * variance / fourth;
  budget.coverage_factor = coverage_factor_95(budget.effective_dof);
  budget.expanded = budget.coverage_factor * budget.combined;
  return budget;
}

std::vector<Budget> budget_over_range(const Chain& chain, double from, double to, int places) {
  std::vector<Budget> budgets;
  for (int i = 0; i < places; ++i)
    if (auto budget = error_budget(chain, from + (to - from) * i / (places - 1))) budgets.push_back(std::move(*budget));
  return budgets;
}

}  // namespace fair_gauge
