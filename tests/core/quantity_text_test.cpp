// What people write is understood, and what is not gets a reason with its place.
#include "quantity/quantity_text.h"

#include <gmock/gmock.h>

namespace fair_gauge::quantity_text_test {

using testing::HasSubstr;

struct Written {
  const char* text;
  Dimension dimension;
  double base;
};

class WrittenQuantities : public testing::TestWithParam<Written> {};

TEST_P(WrittenQuantities, AreUnderstood) {
  const auto [text, dimension, base] = GetParam();
  const auto quantity = parse_quantity(text, dimension);
  ASSERT_TRUE(quantity) << text << ": " << to_text(quantity.problem());
  EXPECT_NEAR(quantity->base, base, 1e-9 * std::max(1.0, std::abs(base))) << text;
}

INSTANTIATE_TEST_SUITE_P(
    All, WrittenQuantities,
    testing::Values(
        Written{"4k7", Dimension::resistance, 4700}, Written{"4.7k", Dimension::resistance, 4700},
        Written{"4,7k", Dimension::resistance, 4700}, Written{"4.7 kOhm", Dimension::resistance, 4700},
        Written{"4.7 k\u03A9", Dimension::resistance, 4700}, Written{"4.7 k\u2126", Dimension::resistance, 4700},
        Written{"2R2", Dimension::resistance, 2.2}, Written{"1M5", Dimension::resistance, 1.5e6},
        Written{"3V3", Dimension::voltage, 3.3}, Written{"1.1 V", Dimension::voltage, 1.1},
        Written{"250 mV", Dimension::voltage, 0.25}, Written{"100n", Dimension::capacitance, 1e-7},
        Written{"4n7", Dimension::capacitance, 4.7e-9}, Written{"10 \u00B5F", Dimension::capacitance, 1e-5},
        Written{"10 \u03BCF", Dimension::capacitance, 1e-5}, Written{"400k", Dimension::frequency, 4e5},
        Written{"1 MHz", Dimension::frequency, 1e6}, Written{"72 F", Dimension::temperature, 200.0 / 9},
        Written{"72 degF", Dimension::temperature, 200.0 / 9}, Written{"72 F", Dimension::capacitance, 72},
        Written{"300 K", Dimension::temperature, 26.85}, Written{"25 \u00B0C", Dimension::temperature, 25},
        Written{"-5", Dimension::temperature, -5}, Written{"\u22125", Dimension::temperature, -5},
        Written{"\u2013 5,5 C", Dimension::temperature, -5.5}, Written{"0.5 K", Dimension::temperature_difference, 0.5},
        Written{"0.9 F", Dimension::temperature_difference, 0.5}, Written{"6 ft", Dimension::length, 1.8288},
        Written{"12 in", Dimension::length, 0.3048}, Written{"2 cm", Dimension::length, 0.02},
        Written{"1.2 bar", Dimension::pressure, 120000}, Written{"1013,25 hPa", Dimension::pressure, 101325},
        Written{"14.5038 psi", Dimension::pressure, 14.5038 * 6894.757293168361},
        Written{"1 inHg", Dimension::pressure, 3386.389}, Written{"55 %", Dimension::humidity, 55},
        Written{"1 fc", Dimension::illuminance, 10.763910416709722}, Written{"0x76", Dimension::number, 118},
        Written{"1 873", Dimension::number, 1873}, Written{"12\u2009345.5", Dimension::number, 12345.5},
        Written{"1.234,5", Dimension::number, 1234.5}, Written{"1,234.5", Dimension::number, 1234.5},
        Written{"1e-3", Dimension::number, 0.001}, Written{"2.5E+3", Dimension::number, 2500},
        Written{"5 Volt", Dimension::voltage, 5}, Written{"5 V.", Dimension::voltage, 5},
        Written{"5VDC", Dimension::voltage, 5}, Written{"5 V DC", Dimension::voltage, 5},
        Written{"5'000 mV", Dimension::voltage, 5}, Written{"250 millivolts", Dimension::voltage, 0.25},
        Written{"10 k ohm", Dimension::resistance, 10000}, Written{"10 kilohms", Dimension::resistance, 10000},
        Written{"10 kiloohm", Dimension::resistance, 10000}, Written{"2 MOHM", Dimension::resistance, 2e6},
        Written{"R10", Dimension::resistance, 0.1}, Written{"4.7 microfarad", Dimension::capacitance, 4.7e-6},
        Written{"1 Megahertz", Dimension::frequency, 1e6}, Written{"72 degrees F", Dimension::temperature, 200.0 / 9},
        Written{"25 Celsius", Dimension::temperature, 25}, Written{"25 deg C", Dimension::temperature, 25},
        Written{"25 Grad", Dimension::temperature, 25}, Written{"25\u00B0", Dimension::temperature, 25},
        Written{"55 % r.H.", Dimension::humidity, 55}, Written{"55 percent", Dimension::humidity, 55},
        Written{"1013 HPA", Dimension::pressure, 101300}, Written{"1 Mbar", Dimension::pressure, 1e11},
        Written{"20 milliamperes", Dimension::current, 0.02}, Written{"  7 ", Dimension::number, 7},
        Written{"10k", Dimension::number, 10000}));

struct Refused {
  const char* text;
  Dimension dimension;
  int column;
};

class RefusedQuantities : public testing::TestWithParam<Refused> {};

TEST_P(RefusedQuantities, SayWhereAndWhatWasExpected) {
  const auto [text, dimension, column] = GetParam();
  const auto quantity = parse_quantity(text, dimension);
  ASSERT_FALSE(quantity) << text << " was read as " << quantity->base;
  EXPECT_EQ(quantity.problem().place.column, column) << text;
  EXPECT_FALSE(quantity.problem().wrong.empty());
  EXPECT_FALSE(quantity.problem().expected.empty());
}

INSTANTIATE_TEST_SUITE_P(
    All, RefusedQuantities,
    testing::Values(Refused{"", Dimension::voltage, 1}, Refused{"abc", Dimension::voltage, 1},
                    Refused{"5 kg", Dimension::voltage, 3}, Refused{"5 V", Dimension::temperature, 3},
                    Refused{"1.2.3", Dimension::number, 4}, Refused{"1e999", Dimension::number, 1},
                    Refused{"nan", Dimension::number, 1}, Refused{"inf", Dimension::number, 1},
                    Refused{"0xZZ", Dimension::number, 3}, Refused{"-", Dimension::number, 2},
                    Refused{"4k7k", Dimension::resistance, 2}, Refused{"5 MA.", Dimension::voltage, 3},
                    Refused{"5 kilo", Dimension::voltage, 3}, Refused{"R", Dimension::resistance, 1},
                    Refused{"5 ,", Dimension::number, 3}, Refused{"500 m", Dimension::number, 5},
                    Refused{"500 mV", Dimension::number, 5}));

TEST(QuantityText, AWholePageIsNotSaidBack) {
  std::string page;
  while (page.size() < 100'000) page += "\u00E9t\u00E9 ";
  for (const std::string& text : {page, "5 " + page}) {
    const auto read = parse_quantity(text, Dimension::voltage);
    ASSERT_FALSE(read);
    EXPECT_LT(to_text(read.problem()).size(), 200U);
    EXPECT_THAT(read.problem().wrong, HasSubstr("\u00E9t\u00E9 "));
  }
}

TEST(QuantityText, ABareNumberTakesTheFieldsUnit) {
  EXPECT_NEAR(parse_quantity("212", Dimension::temperature, unit_by_ucum("[degF]"))->base, 100, 1e-9);
  EXPECT_EQ(parse_quantity("212", Dimension::temperature, unit_by_ucum("[degF]"))->written, unit_by_ucum("[degF]"));
}

TEST(QuantityText, InAListTheCommaSeparates) {
  EXPECT_THAT(*parse_quantity_list("4k7,10k,2.2k", Dimension::resistance), testing::ElementsAre(4700, 10000, 2200));
  EXPECT_EQ(parse_quantity_list("4k7,x", Dimension::resistance).problem().place.column, 5);
}

TEST(QuantityText, AnyQuantityNeedsItsUnit) {
  EXPECT_EQ(parse_quantity_any("25 degC")->written->dimension, Dimension::temperature);
  EXPECT_EQ(parse_quantity_any("1.8 V")->written->dimension, Dimension::voltage);
  EXPECT_THAT(parse_quantity_any("25").problem().wrong, HasSubstr("no unit"));
}

TEST(QuantityText, AMessageNamesAllOfItsPlace) {
  EXPECT_EQ(to_text({.wrong = "w", .expected = "e", .place = {"f", 2, 3}}), "f:2:3: w; e");
  EXPECT_EQ(to_text({.wrong = "w", .expected = "", .place = {"f"}}), "f: w");
}

}  // namespace fair_gauge::quantity_text_test
