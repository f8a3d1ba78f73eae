#include "handoff/exact_readings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

#include "language/translation.h"
#include "truth/error_budget.h"

namespace fair_gauge {

// What the chain reads for a number alone; not a number where it has no reading.
double exact_reading(const Chain& chain, double raw) {
  for (std::size_t i = chain.raw_node; i > chain.world_node && !std::isnan(raw); --i)
    raw = chain.links[i - 1]->inverse_or_nan(raw);
  return chain.shown->from_base(raw);
}

std::pair<std::int64_t, std::int64_t> raw_range(const Chain& chain) {
  if (chain.decoder || !chain.converter || chain.raw_node == chain.converter_node)
    return {static_cast<std::int64_t>(chain.converter->lowest_code()),
            static_cast<std::int64_t>(chain.converter->largest_code())};
  double most = chain.converter->largest_code();
  for (std::size_t i = chain.converter_node; i < chain.raw_node; ++i)
    most = std::max(most, chain.links[i]->forward_off(chain.converter->largest_code(), {}));
  // A register that is wider than the code: up to its own end.
  return {0, static_cast<std::int64_t>(std::exp2(std::ceil(std::log2(most + 1))) - 1)};
}

std::pair<double, double> readable_steps(const Chain& chain, double per_unit) {
  double least = std::numeric_limits<double>::infinity(), most = -least;
  const auto [low, high] = raw_range(chain);
  const std::int64_t step = std::max<std::int64_t>(1, (high - low) / 4096);
  for (std::int64_t raw = low; raw <= high; raw += step)
    if (const double reading = exact_reading(chain, static_cast<double>(raw)) * per_unit; !std::isnan(reading))
      least = std::min(least, reading), most = std::max(most, reading);
  return {least, most};
}

double smallest_uncertainty(const Chain& chain) {
  constexpr int pieces = 40;
  double least = std::numeric_limits<double>::infinity();
  const Range& wanted = chain.channel.wanted;
  for (int i = 0; i <= pieces; ++i)
    if (const auto budget = error_budget(chain, wanted.from + (wanted.to - wanted.from) * i / pieces);
        budget && budget->expanded > 0)
      least = std::min(least, budget->expanded);
  return std::isfinite(least) ? least / std::abs(chain.shown->scale)
                              : chain.channel.tolerance / 10 / std::abs(chain.shown->scale);
}

Problem cancelled() { return {translated("it was cancelled"), ""}; }

Result<ExactReadings> exact_readings(const Chain& chain, double per_unit, const std::function<bool()>& is_cancelled) {
  const auto [lowest, highest] = raw_range(chain);
  ExactReadings exact;
  bool inside = false, ended = false;
  for (std::int64_t raw = lowest; raw <= highest; ++raw) {
    if (is_cancelled && raw % between_questions == 0 && is_cancelled()) return cancelled();
    const double reading = exact_reading(chain, static_cast<double>(raw));
    if (std::isnan(reading)) {
      ended = inside;
      continue;
    }
    if (ended) {
      // A value inside that says something else (not ready) is told by a state before the arithmetic: bridge it.
      const std::int64_t gap = raw - exact.first - static_cast<std::int64_t>(exact.values.size());
      if (gap > 2)
        return Problem{translated("the raw numbers with a reading are no single range: none below {}", raw),
                       translated("a chain with one range")};
      const double before = exact.values.back();
      for (std::int64_t i = 1; i <= gap; ++i)
        exact.values.push_back(before +
                               (reading * per_unit - before) * static_cast<double>(i) / static_cast<double>(gap + 1));
      ended = false;
    }
    if (!inside) exact.first = raw, inside = true;
    exact.values.push_back(reading * per_unit);
  }
  if (exact.values.empty())
    return Problem{translated("no raw number has a reading"), translated("a chain that reads something")};
  const auto lowest_value = std::ranges::min(exact.values), highest_value = std::ranges::max(exact.values);
  if (!(lowest_value > -2147483000.0 && highest_value < 2147483000.0))
    return Problem{translated("the readings do not fit in 32 bits with {:.0f} steps a unit", per_unit),
                   translated("fewer steps a unit")};
  const double from = chain.shown->from_base(chain.channel.wanted.from) * per_unit,
               to = chain.shown->from_base(chain.channel.wanted.to) * per_unit;
  const double low = std::min(from, to), high = std::max(from, to);
  exact.wanted_from = exact.last() + 1;
  for (std::size_t i = 0; i < exact.values.size(); ++i) {
    if (!(exact.values[i] >= low && exact.values[i] <= high)) continue;
    const std::int64_t raw = exact.first + static_cast<std::int64_t>(i);
    exact.wanted_from = std::min(exact.wanted_from, raw);
    exact.wanted_to = raw;
  }
  return exact;
}

// The chain's formula from the raw number to the shown unit; nothing where a link has none.
std::optional<Formula> chain_formula(const Chain& chain) {
  std::vector<FormulaStep> steps;
  std::string outer = "raw";
  std::set<std::string> taken{"raw"};
  for (std::size_t i = chain.raw_node; i > 0; --i) {
    const auto own = chain.links[i - 1]->formula(outer);
    if (own.empty()) return std::nullopt;
    std::map<std::string, std::string> renamed;
    for (const auto& [symbol, expression] : own) {
      if (expression == outer) continue;  // nothing is done
      std::string name = symbol;
      while (taken.contains(name)) name += "_";
      taken.insert(name);
      steps.push_back({name, expression});
      outer = name;
    }
  }
  if (steps.empty()) steps.push_back({"shown", "raw"});
  auto formula = Formula::read(steps);
  return formula && formula->reference_functions().empty() ? std::optional(*formula) : std::nullopt;
}

// What stands behind the compensation, as an affine map of base units to shown ones; nothing where it bends.
std::optional<std::pair<double, double>> affine_after(const Chain& chain) {
  const auto at = [&](double base) {
    for (std::size_t i = chain.compensated_node; i > 0; --i) base = chain.links[i - 1]->inverse_continuous(base);
    return base;
  };
  const double zero = at(0), one = at(1000), two = at(2000);
  if (!(std::abs(two - 2 * one + zero) < 1e-9 * (1 + std::abs(two)))) return std::nullopt;
  return std::pair{(one - zero) / 1000, zero};
}

}  // namespace fair_gauge
