// The way back through each link as steps of an expression: what firmware in float is written from.
#include <fmt/format.h>

#include <cmath>

#include "chain/links.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {

namespace {

using Steps = std::vector<std::pair<std::string, std::string>>;

std::string exactly(double number) { return number < 0 ? fmt::format("({})", number) : fmt::format("{}", number); }

}  // namespace

Steps SensorLink::formula(const std::string& outer) const {
  Steps steps = setup_.law.formula();
  for (auto& [symbol, expression] : steps) expression = with_names(expression, {{"x", outer}});
  return steps;
}

Steps GainLink::formula(const std::string& outer) const {
  return {{setup_.input_symbol.empty() ? "input" : setup_.input_symbol,
           fmt::format("({} - {}) / {}", outer, exactly(setup_.offset_v), exactly(setup_.gain))}};
}

Steps DividerLink::formula(const std::string& outer) const {
  const std::string supply = exactly(setup_.supply.volts),
                    fixed_ohm = exactly(setup_.fixed_ohm + setup_.fixed_lead_ohm),
                    lead = setup_.lead_ohm == 0 ? "" : fmt::format(" - {}", exactly(setup_.lead_ohm));
  const bool loaded = std::isfinite(setup_.load_ohm);
  if (setup_.position == Position::bottom)
    return {
        {"R", fmt::format("({} - {}) / {} * {}{}", supply, outer, outer,
                          loaded ? exactly(1 / (1 / (setup_.fixed_ohm + setup_.fixed_lead_ohm) + 1 / setup_.load_ohm))
                                 : fixed_ohm,
                          lead)}};
  if (!loaded) return {{"R", fmt::format("{} * {} / ({} - {}){}", fixed_ohm, outer, supply, outer, lead)}};
  return {{"R", fmt::format("1 / (({} - {}) / ({} * {}) - {}){}", supply, outer, fixed_ohm, outer,
                            exactly(1 / setup_.load_ohm), lead)}};
}

Steps ConverterLink::formula(const std::string& outer) const {
  if (counts_pulses()) return {{"count", outer}};
  return {{"V", setup_.converter.rounding == Rounding::truncate
                    ? fmt::format("({} + 0.5) * {}", outer, exactly(step_v()))
                    : fmt::format("{} * {}", outer, exactly(step_v()))}};
}

// The division is the shift that a left-justified register needs; its low bits are not used.
Steps ReportLink::formula(const std::string& outer) const {
  return {{"code", fmt::format("floor({} / {})", outer, exactly(std::exp2(shift_)))}};
}

Steps CorrectionLink::formula(const std::string& outer) const {
  if (!correction_.table.empty()) return {};
  std::string sum = outer, power;
  for (const double coefficient : correction_.coefficients) {
    sum += fmt::format(" + {}{}", exactly(coefficient), power);
    power += correction_.origin == 0 ? fmt::format(" * {}", outer)
                                     : fmt::format(" * ({} - {})", outer, exactly(correction_.origin));
  }
  return {{"corrected", sum}};
}

Steps UnitLink::formula(const std::string& outer) const {
  return {{"shown", unit_.scale == 1 && unit_.offset == 0
                        ? outer
                        : fmt::format("({} - {}) / {}", outer, exactly(unit_.offset), exactly(unit_.scale))}};
}

}  // namespace fair_gauge
