// A budget in one word: is the reading fair for its use?
#pragma once

#include <string>

#include "truth/error_budget.h"

namespace fair_gauge {

enum class Fairness { fair, tight, unfair, unknown };

/// Fair while at most 80 % of the allowed error is used, tight up to all of it, unfair beyond.
Fairness fairness_of(double used);

/// Decimals of a reading, 0…9: as its uncertainty justifies. Where no sheet states an accuracy the resolution alone is
/// known, which promises less: its first digit at most.
int shown_decimals(const Budget& budget, const Unit& shown);

/// "Uses 62 % of ±0.5 °C"; that it is not known where nobody states an accuracy.
std::string verdict_words(const Budget& budget, const Unit& shown, const NumberStyle& style = {});

/// "0 °C to 50 °C", "25 °C": in the reading's unit where that is of the same dimension.
std::string stated_words(const StatedFor& stated, const Unit& shown, const NumberStyle& style = {});

/// "Its sheet states an accuracy for 0 °C to 50 °C only: here it may be off by more."; empty where one holds here.
std::string beyond_sheet_words(const Budget& budget, const Unit& shown, const NumberStyle& style = {});

}  // namespace fair_gauge
