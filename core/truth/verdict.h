// A budget in one word: is the reading fair for its use?
#pragma once

#include <string>

#include "truth/error_budget.h"

namespace fair_gauge {

enum class Fairness { fair, tight, unfair, unknown };

/// Fair while at most 80 % of the allowed error is used, tight up to all of it, unfair beyond.
Fairness fairness_of(double used);

/// "Uses 62 % of ±0.5 °C"; that it is not known where nobody states an accuracy.
std::string verdict_words(const Budget& budget, const Unit& shown, const NumberStyle& style = {});

}  // namespace fair_gauge
