// Writes numbers: only the digits that the uncertainty justifies, decimal prefixes, a true minus sign.
#pragma once

#include <string>
#include <string_view>

#include "quantity/unit.h"

namespace fair_gauge {

/// How numbers are written in the person's language.
struct NumberStyle {
  std::string decimal_mark = ".";
  std::string minus = "\u2212";
};

/// Decimals that an uncertainty justifies: two digits of it while its first is 1 or 2, else one. 0…9.
/// An uncertainty of zero or not a number gives `otherwise`.
int decimals_for(double uncertainty, int otherwise = 3);

/// Decimals that show two digits of a number, 0…6: for figures that are compared with one another.
int decimals_of_two_digits(double number);

/// A number with fixed decimals; groups of three digits are parted by thin spaces from five digits on.
/// With that many decimals (0 to 12), a point, no minus zero. A half goes away from zero: a number is a half if its
/// shortest decimal is one, so 0.125 is 0.13 and 2.675 is 2.68. Every number that the program shows or writes with a
/// fixed count of decimals goes through here. \param number  finite
std::string rounded(double number, int decimals);

std::string fixed(double number, int decimals, const NumberStyle& style = {});

/// As short as up to seven digits say it: settings and limits, which are exact.
std::string shortest(double number, const NumberStyle& style = {});

/// A number and a unit's symbol with a decimal prefix: 4.7 kΩ, 220 nF, 1.813 V.
/// \param significant  digits shown, 1…12; trailing zeros after the mark are dropped
std::string with_prefix(double base, std::string_view symbol, int significant = 4, const NumberStyle& style = {});

/// A number and its unit as text: "24.8 °C".
std::string with_unit(double number, int decimals, std::string_view symbol, const NumberStyle& style = {});

/// A length of time in the unit that people would say: 45 s, 12.5 min, 3.2 h, 2.5 days; three digits.
std::string duration_text(double seconds, const NumberStyle& style = {});

/// As written on a resistor's drawing: 8k2, 10k, 100, 1M5.
std::string resistor_code(double ohms);

}  // namespace fair_gauge
