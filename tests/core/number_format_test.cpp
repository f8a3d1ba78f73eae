// Numbers are written with the digits their uncertainty justifies.
#include "quantity/number_format.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fair_gauge::number_format_test {

TEST(NumberFormat, DecimalsFollowTheUncertainty) {
  // Two digits of the uncertainty while its first is 1 or 2, else one (JCGM 100, 7.2.6 asks for at most two).
  const std::pair<double, int> table[] = {{0.31, 1}, {0.12, 2}, {0.029, 3}, {3.4, 0}, {1.4, 1}, {12, 0}, {0.0008, 4}};
  for (const auto& [uncertainty, decimals] : table) EXPECT_EQ(decimals_for(uncertainty), decimals) << uncertainty;
  EXPECT_EQ(decimals_for(0, 5), 5);
  EXPECT_EQ(decimals_for(std::nan(""), 2), 2);
}

TEST(NumberFormat, FixedNumbers) {
  EXPECT_EQ(fixed(-0.004, 2), "0.00");
  EXPECT_EQ(fixed(-1.25, 1), "\u22121.3");
  EXPECT_EQ(fixed(12345.6, 1), "12\u2009345.6");
  EXPECT_EQ(fixed(2251, 0), "2251");
  // Halves go away from zero, by the number's shortest decimal: 2.675 is a little less in binary, 1.005 too.
  EXPECT_EQ(rounded(0.125, 2), "0.13");
  EXPECT_EQ(rounded(2.675, 2), "2.68");
  EXPECT_EQ(rounded(1.005, 2), "1.01");
  EXPECT_EQ(rounded(2.5, 0), "3");
  EXPECT_EQ(rounded(-0.5, 0), "-1");
  EXPECT_EQ(rounded(-0.05, 1), "-0.1");
  EXPECT_EQ(rounded(24.449999999999, 1), "24.4");
  EXPECT_EQ(rounded(24.45, 1), "24.5");
  EXPECT_EQ(rounded(-0.004, 2), "0.00");
  EXPECT_EQ(fixed(24.8, 1, {.decimal_mark = ","}), "24,8");
  EXPECT_EQ(fixed(std::nan(""), 1), "–");
}

TEST(NumberFormat, LimitsAreAsShortAsTheyCanBe) {
  EXPECT_EQ(shortest(100), "100");
  EXPECT_EQ(shortest(0.1), "0.1");
  EXPECT_EQ(shortest(-2.5, {.decimal_mark = ","}), "\u22122,5");
  EXPECT_EQ(shortest(1.0 / 3), "0.3333333");
}

TEST(NumberFormat, Prefixes) {
  EXPECT_EQ(with_prefix(4700, "Ω"), "4.7 kΩ");
  EXPECT_EQ(with_prefix(999.96, "Ω", 4), "1 kΩ");
  EXPECT_EQ(with_prefix(1e-7, "F"), "100 nF");
  EXPECT_EQ(with_prefix(-0.25, "V"), "\u2212250 mV");
  EXPECT_EQ(with_prefix(0, "V"), "0 V");
  EXPECT_EQ(resistor_code(8200), "8k2");
  EXPECT_EQ(resistor_code(100), "100");
  EXPECT_EQ(resistor_code(1.5e6), "1M5");
  EXPECT_EQ(resistor_code(2.2), "2R2");
}

}  // namespace fair_gauge::number_format_test
