#include "truth/verdict.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

Fairness fairness_of(double used) {
  if (!std::isfinite(used)) return Fairness::unknown;
  return used <= 0.8 ? Fairness::fair : used <= 1 ? Fairness::tight : Fairness::unfair;
}

int shown_decimals(const Budget& budget, const Unit& shown) {
  const double resolution_alone = budget.lacks_accuracy && !budget.is_calibrated_elsewhere ? 10 : 1;
  return decimals_for(budget.expanded * resolution_alone / shown.scale);
}

std::string verdict_words(const Budget& budget, const Unit& shown, const NumberStyle& style) {
  if (budget.is_calibrated_elsewhere)
    return translated("How far it may be off is not known here: the calibration proves its own point alone");
  if (budget.lacks_accuracy) return translated("How far it may be off is not known: no sheet states an accuracy");
  const double allowed = budget.allowed / shown.scale;
  const int decimals = allowed >= 10 ? 0 : allowed >= 1 ? 1 : 2;
  std::string limit = rounded(allowed, decimals);
  if (limit.find('.') != std::string::npos) {
    limit.erase(limit.find_last_not_of('0') + 1);
    if (limit.ends_with('.')) limit.pop_back();
    if (const auto mark = limit.find('.'); mark != std::string::npos) limit.replace(mark, 1, style.decimal_mark);
  }
  return translated("Uses {:.0f} % of ±{} {}", budget.used() * 100, limit, difference_symbol(shown));
}

std::string stated_words(const StatedFor& stated, const Unit& shown, const NumberStyle& style) {
  const Unit& unit = shown.dimension == stated.dimension ? shown : base_unit(stated.dimension);
  const auto text = [&](double base) {
    const double value = unit.from_base(base);
    return with_unit(value, std::abs(value - std::round(value)) < 1e-6 ? 0 : 1, unit.symbol, style);
  };
  if (stated.from == stated.to) return text(stated.from);
  return translated("{} to {}", text(stated.from), text(stated.to));
}

std::string beyond_sheet_words(const Budget& budget, const Unit& shown, const NumberStyle& style) {
  if (!budget.stated_for || budget.lacks_accuracy) return "";
  return translated("Its sheet states an accuracy for {} only: here it may be off by more.",
                    stated_words(*budget.stated_for, shown, style));
}

}  // namespace fair_gauge
