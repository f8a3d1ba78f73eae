// Lines of a board in whatever shape it writes them.
#include "stream/serial_text.h"

#include <gmock/gmock.h>

namespace fair_gauge::serial_text_test {

std::vector<RawItem> items_of(const std::string& text) {
  std::vector<RawItem> items;
  SerialText reader;
  for (const SerialLine& line : reader.take(text)) items.insert(items.end(), line.items.begin(), line.items.end());
  return items;
}

TEST(SerialText, ReadsEveryForm) {
  EXPECT_THAT(items_of("a:1873\r\n"), testing::ElementsAre(RawItem{"a", 1873, {}}));
  EXPECT_THAT(items_of("a:1 b:0x1F\n"), testing::ElementsAre(RawItem{"a", 1, {}}, RawItem{"b", 31, {}}));
  EXPECT_THAT(items_of("a:x1A2B\n"), testing::ElementsAre(RawItem{"a", std::nullopt, {0x1A, 0x2B}}));
  EXPECT_THAT(items_of("a,b\n5,6\n"), testing::ElementsAre(RawItem{"a", 5, {}}, RawItem{"b", 6, {}}));
  EXPECT_THAT(items_of("\n7\n8 9\n"),
              testing::ElementsAre(RawItem{"1", 7, {}}, RawItem{"1", 8, {}}, RawItem{"2", 9, {}}));
}

TEST(SerialText, AUnitStandsCloseBehindAWholeNumber) {
  EXPECT_THAT(items_of("a:72F b:72. c:5.C\n"),
              testing::ElementsAre(RawItem{"a", 72, {}, "F"}, RawItem{"b", 72, {}}, RawItem{"c", 5, {}, "C"}));
}

// As widely used sketches, scripts and monitors write them.
TEST(SerialText, WhatStandsAroundTheValuesIsPassedOver) {
  const RawItem t{"Temperature", 23, {}, "°C", 2}, h{"Humidity", 45, {}, "%", 2}, f{"Heat index", 22.61, {}, "°C", 2};
  EXPECT_THAT(items_of("Humidity: 45.00%  Temperature: 23.00°C 73.40°F  Heat index: 22.61°C 72.70°F\n"),
              testing::ElementsAre(h, t, f));
  EXPECT_THAT(items_of("Temperature: 23.00 °C 73.40 °F Humidity: 45.00 %\n"), testing::ElementsAre(t, h));
  EXPECT_THAT(items_of("Temp: 21.50 *C  Hum: 45.20 %\n"),
              testing::ElementsAre(RawItem{"Temp", 21.5, {}, "*C", 2}, RawItem{"Hum", 45.2, {}, "%", 2}));
  for (const char* row : {"\n(23.5, 45.2)\n", "\n[23.5, 45.2]\n", "\n10:02:03.123 -> 23.5, 45.2\n"})
    EXPECT_THAT(items_of(row), testing::ElementsAre(RawItem{"1", 23.5, {}, "", 1}, RawItem{"2", 45.2, {}, "", 1}))
        << row;
  EXPECT_THAT(items_of("10:02:03.123 -> a:523 b:12\n"),
              testing::ElementsAre(RawItem{"a", 523, {}}, RawItem{"b", 12, {}}));
  EXPECT_THAT(items_of("Approx. Altitude = 100.2 m\n"),
              testing::ElementsAre(RawItem{"Approx. Altitude", 100.2, {}, "m", 1}));
}

TEST(SerialText, BadLinesSayWhatWasExpected) {
  for (const char* line :
       {"a:12x\n", "a:x123\n", "a:xZZ\n", "a:\n", "hello there big world\n", ":5\n", "a:1 \x01\x02\n"}) {
    SerialText reader;
    reader.take("a:1\n");
    const auto lines = reader.take(line);
    ASSERT_EQ(lines.size(), 1u) << line;
    EXPECT_TRUE(lines[0].problem) << line;
    EXPECT_TRUE(lines[0].items.empty()) << line;
    EXPECT_FALSE(lines[0].problem->expected.empty()) << line;
  }
}

// A sensor that did not answer, as boards and programs write it: the others of its line are read.
TEST(SerialText, OneMissingValueDoesNotSpoilItsLine) {
  const RawItem a{"a", 21.5, {}, "", 1}, c{"c", 3, {}}, none{"b", std::nullopt, {}};
  for (const char* line : {"a:21.5 b:nan c:3\n", "a=21.5, b=, c=3\n", "a:21.5;b:--;c:3\n", "a:21.5 b:n/a c:3\n",
                           R"({"a":21.5,"b":null,"c":3})"
                           "\n",
                           R"({"a":21.5,"b":NaN,"c":3})"
                           "\n",
                           R"({"a":21.5,"b":"nan","c":3})"
                           "\n",
                           "a,b,c\n21.5,,3\n", "a,b,c,\n21.5, NaN,3,\n", "\x1b[0;32ma:21.5 b:inf c:3\x1b[0m\n"})
    EXPECT_THAT(items_of(line), testing::ElementsAre(a, none, c)) << line;
  EXPECT_THAT(items_of("a:21.5 b:nan % c:3\n").size(), 3U) << "its unit stands there all the same";
  EXPECT_THAT(items_of("a\t\tb\n21.5\t\t3\n").size(), 2U) << "tabs that align are one";
  EXPECT_THAT(items_of("a,,b\n21.5,7,3\n").size(), 2U) << "a column without a name";
  EXPECT_THAT(items_of("{\"a\":1,\"note\":\"\"}\n").size(), 1U) << "an empty text is no sensor";
  // Places of bare numbers stay what they are.
  const auto bare = items_of("\n21.5,,3\n");
  ASSERT_EQ(bare.size(), 3U);
  EXPECT_EQ(bare[2], (RawItem{"3", 3, {}}));
  EXPECT_THAT(items_of("\n21.5,3,\n").size(), 2U);
  // Nothing but what is missing is no reading; who did not answer is told all the same.
  for (const char* line : {"a:nan\n", "a:null\n", "{\"a\":null}\n"}) {
    SerialText reader;
    const auto lines = reader.take(line);
    EXPECT_TRUE(lines.front().problem) << line;
    EXPECT_THAT(lines.front().items, testing::ElementsAre(RawItem{"a", std::nullopt, {}})) << line;
  }
  for (const char* line : {"\nnan,nan\n", "a:\n", "a: b:\n"}) EXPECT_THAT(items_of(line), testing::IsEmpty()) << line;
}

TEST(SerialText, RowsOfTheWrongWidthAreRefused) {
  SerialText reader;
  reader.take("a,b\n");
  EXPECT_TRUE(reader.take("1,2,3\n").front().problem);
}

TEST(SerialText, LinesMayArriveInPieces) {
  SerialText reader;
  EXPECT_TRUE(reader.take("subst").empty());
  EXPECT_TRUE(reader.take("rate:18").empty());
  EXPECT_EQ(reader.take("73\n").front().items.front(), (RawItem{"substrate", 1873, {}}));
}

TEST(SerialText, NoiseIsToldFromText) {
  SerialText reader;
  reader.take("substrate:1873\nsubstrate:1874\nsubstrate:1875\n");
  EXPECT_FALSE(reader.is_noise());
  reader.take("\xff\x80\x00\xfe\x90\xf8\xe0\xff\x80\x81\x00\xfe\x90\xf8\xe0\xff\x80\x00\xfe");
  reader.take("\x80\xff\x80\xfe\x90\xf8\xe0\xff\x80\x81");
  EXPECT_TRUE(reader.is_noise());
}

TEST(SerialText, AnEndlessLineDoesNotGrowForEver) {
  SerialText reader;
  std::size_t lines = 0;
  for (int i = 0; i < 100; ++i) lines += reader.take(std::string(1000, 'x')).size();
  EXPECT_GE(lines, 20u);
}

// "80" may be the end of "room:2180": a bare number counts only in a line that was seen from its beginning.
TEST(SerialText, AFragmentIsNoReading) {
  SerialText text;
  auto lines = text.take("80\n2181\n");
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_TRUE(lines[0].problem);
  EXPECT_TRUE(lines[0].items.empty());
  EXPECT_EQ(*lines[1].items.at(0).number, 2181);
  // What follows an overlong line is its rest.
  lines = text.take(std::string(5000, '7') + "80\n2182\n");
  for (const SerialLine& line : lines)
    for (const RawItem& item : line.items) EXPECT_NE(*item.number, 80);
  EXPECT_EQ(*lines.back().items.at(0).number, 2182);
}

}  // namespace fair_gauge::serial_text_test
