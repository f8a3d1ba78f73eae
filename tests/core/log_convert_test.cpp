// Logs keep their rows and their order; what cannot be converted is said with its line.
#include "stream/log_convert.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <array>

#include "demo.h"
#include "stream/log_series.h"

namespace fair_gauge::log_convert_test {

using testing::HasSubstr;

struct Outcome {
  std::string out;
  ConvertSummary summary;
  std::optional<Problem> problem;
};

// Feeds a log in blocks of a given size.
Outcome convert(const std::string& log, std::size_t block = 1 << 20, const std::string& column = "", int decimals = 2) {
  const Chain chain = demo_chain("substrate");
  Outcome outcome;
  LogConverter converter(chain, column, decimals, *chain.shown, [&](std::string_view text) { outcome.out += text; });
  for (std::size_t at = 0; at < log.size() && !outcome.problem; at += block)
    outcome.problem = converter.take(std::string_view(log).substr(at, block));
  if (!outcome.problem) outcome.problem = converter.finish();
  outcome.summary = converter.summary();
  return outcome;
}

std::string reading(int counts, int decimals = 2) {
  static const Chain chain = demo_chain("substrate");
  return fmt::format("{:.{}f}", *read_raw(chain, counts), decimals);
}

TEST(LogConvert, AddsOneColumn) {
  const auto outcome = convert("time,counts\n0,2251\n1,1873\n");
  EXPECT_EQ(outcome.out, "time,counts,substrate_Cel\n0,2251," + reading(2251) + "\n1,1873," + reading(1873) + "\n");
  EXPECT_EQ(outcome.summary.converted, 2u);
}

TEST(LogConvert, TheColumnIsTheChannelsThenCounts) {
  EXPECT_THAT(convert("counts,substrate\n1000,2251\n").out, HasSubstr("," + reading(2251)));
  EXPECT_THAT(convert("counts,x\n2251,1000\n", 99, "x").out, HasSubstr("," + reading(1000)));
  EXPECT_THAT(to_text(*convert("time,volts\n0,1\n").problem),
              HasSubstr("1:1: the header \"time,volts\" has no column \"substrate\" or \"counts\""));
}

TEST(LogConvert, RowsThatCannotBeConvertedKeepTheirPlace) {
  const auto outcome = convert("time,counts\n0,2251\n1,abc\n2,\n3,99999\n4,-5\n5\n6,0\n7,1873\n");
  EXPECT_EQ(outcome.out, "time,counts,substrate_Cel\n0,2251," + reading(2251) +
                             "\n1,abc,\n2,,\n3,99999,\n4,-5,\n5,\n6,0,\n7,1873," + reading(1873) + "\n");
  EXPECT_EQ(outcome.summary.rows, 8u);
  EXPECT_EQ(outcome.summary.converted, 2u);
  EXPECT_EQ(outcome.summary.failed.size(), 6u);
  EXPECT_EQ(outcome.summary.failed.at("\"abc\" is not a number; a raw number").first_lines.front(), 3u);
}

TEST(LogConvert, OddFilesAreReadAsFarAsTheyMakeSense) {
  // mixed line ends, an empty line, a quoted field, hexadecimal, averages, semicolons, a byte order mark
  EXPECT_EQ(convert("time,counts\r\n0,2251\n\n1,1873\r\n").out,
            "time,counts,substrate_Cel\r\n0,2251," + reading(2251) + "\n\n1,1873," + reading(1873) + "\r\n");
  EXPECT_THAT(convert("time,counts\n\"0,5\",2251\n").out, HasSubstr("\"0,5\",2251," + reading(2251)));
  EXPECT_THAT(convert("time,counts\n0,\"2251\"\n").out, HasSubstr("," + reading(2251)));
  EXPECT_THAT(convert("time,counts\n0,0x8CB\n").out, HasSubstr("," + reading(2251)));
  EXPECT_THAT(convert("time;counts\n0,5;2251\n").out, HasSubstr("0,5;2251;" + reading(2251)));
  EXPECT_THAT(convert("\xEF\xBB\xBF"
                      "counts\n2251\n")
                  .out,
              HasSubstr("2251," + reading(2251)));
  const double between = (*read_raw(demo_chain("substrate"), 2250) + *read_raw(demo_chain("substrate"), 2251)) / 2;
  EXPECT_THAT(convert("counts\n2250.5\n").out, HasSubstr(fmt::format("2250.5,{:.2f}", between)));
}

TEST(LogConvert, AMissingHeaderOrLineEndIsRemarkedUpon) {
  const auto bare = convert("0,2251\n1,1873\n");
  EXPECT_EQ(bare.out, "0,2251," + reading(2251) + "\n1,1873," + reading(1873) + "\n");
  EXPECT_THAT(bare.summary.remarks.front(), HasSubstr("no header"));
  const auto cut = convert("time,counts\n0,2251\n1,18");
  EXPECT_THAT(cut.summary.remarks.front(), HasSubstr("line 3"));
  EXPECT_TRUE(convert("").problem.has_value());
}

TEST(LogConvert, BlocksMayEndAnywhere) {
  for (const std::string log :
       {"\ntime,counts\r\n0,2251\n1,abc\n2,\"1873\"\n\n3,1000", "# of the shed\n#time counts\n0 2251\n1 1873\n",
        "Logger,North\nInterval,60\n\ntime,counts\n0,2251\n", "Log of counts\ntime,counts\n0,2251"}) {
    const std::string whole = convert(log).out;
    EXPECT_THAT(whole, HasSubstr("counts" + std::string(1, log.find(',') == log.npos ? ' ' : ',') + "substrate_Cel"));
    EXPECT_THAT(whole, HasSubstr(reading(2251)));
    for (std::size_t block = 1; block < log.size(); ++block) EXPECT_EQ(convert(log, block).out, whole) << block;
  }
}

TEST(LogConvert, WhatStandsAboveTheHeadingStays) {
  EXPECT_EQ(convert("\xEF\xBB\xBFLogger,North\r\nInterval,60\r\n\r\ntime,counts\r\n0,2251\r\n").out,
            "Logger,North\r\nInterval,60\r\n\r\ntime,counts,substrate_Cel\r\n0,2251," + reading(2251) + "\r\n");
  EXPECT_EQ(convert("#counts of today\n0,2251\n").out, "#counts of today\n0,2251," + reading(2251) + "\n");
  const auto other = convert("# of the shed\ntime,other\n0,2251\n");
  ASSERT_TRUE(other.problem);
  EXPECT_EQ(other.problem->place.line, 2);
  EXPECT_EQ(other.out, "");
  std::string far;
  for (int i = 0; i < 70; ++i) far += "words\n";
  EXPECT_TRUE(convert(far + "time,counts\n0,2251\n").problem) << "further down than a heading stands";
}

TEST(LogConvert, AMillionQuotesAreARowLikeAnother) {
  const std::string quotes(900'000, '"');
  EXPECT_EQ(convert("time,counts\n0," + quotes + "\n0,2251\n").out,
            "time,counts,substrate_Cel\n0," + quotes + ",\n0,2251," + reading(2251) + "\n");
}

TEST(LogConvert, LongFilesAndLongRowsAreWhole) {
  std::string log = "note,counts\n", expected = "note,counts,substrate_Cel\n";
  for (int i = 0; i < 20000; ++i) {
    const std::string row = fmt::format("{},{}", i % 1000 == 999 ? std::string(70000, 'x') : "n", 1000 + i % 2000);
    log += row + "\n";
    expected += row + "," + reading(1000 + i % 2000) + "\n";
  }
  EXPECT_TRUE(convert(log, 65536).out == expected);
}

TEST(LogConvert, DigitsFollowTheUncertaintyUnlessTold) {
  const Chain chain = demo_chain("substrate");
  EXPECT_EQ(justified_decimals(chain, *chain.shown), 1);  // ±0.33 °C
}

TEST(LogSeries, ReadsFractionsAndZonesOfTimes) {
  const auto series = read_log_series(
      "time,a\n2026-11-24T22:31:05Z,1\n2026-11-24T22:31:05.250Z,2\n"
      "2026-11-24T23:31:05.5+01:00,3\n2026-11-24T17:01:06-05:30,4\n",
      "a", 100);
  ASSERT_TRUE(series) << to_text(series.problem());
  ASSERT_EQ(series->seconds.size(), 4u);
  for (std::size_t i = 0; i < 4; ++i)
    EXPECT_NEAR(series->seconds[i] - series->seconds[0], (std::array{0.0, 0.25, 0.5, 1.0})[i], 1e-6);
}

TEST(LogSeries, KeepsTheLastRowsOfAThinnedLog) {
  std::string log = "time,a\n";
  for (int i = 0; i < 25; ++i) log += std::to_string(i) + "," + std::to_string(i) + "\n";
  const auto series = read_log_series(log, "a", 10);  // groups of three: eight whole ones and row 24 alone
  ASSERT_TRUE(series);
  EXPECT_EQ(series->raw.back(), 24);
}

// What was read before is what is read now: with other digits in front, past numbers that share a place, and faults.
TEST(CellMemory, KnowsWhatItWasToldAndNothingElse) {
  CellMemory memory(8);
  const auto known = [&](std::string_view cell) -> std::optional<std::pair<double, double>> {
    const auto* found = memory.find(cell);
    return found ? std::optional(std::pair(found->raw, found->reading)) : std::nullopt;
  };
  EXPECT_FALSE(known("12"));
  EXPECT_FALSE(known(""));
  EXPECT_FALSE(known("0"));
  memory.keep("12", {.raw = 12, .reading = 24.5, .problem = {}, .fault = {}, .says = {}});
  EXPECT_EQ(known("12"), std::pair(12.0, 24.5));
  EXPECT_FALSE(known("012")) << "four digits may be bytes";
  EXPECT_FALSE(known("20")) << "in the same place";
  memory.keep("20", {.raw = 20, .reading = 30, .problem = {}, .fault = {}, .says = {}});
  EXPECT_EQ(known("20"), std::pair(20.0, 30.0));
  EXPECT_FALSE(known("12"));
  memory.keep("0", {.raw = 0, .reading = {}, .problem = {}, .fault = {}, .says = {}});
  ASSERT_TRUE(known("0"));
  EXPECT_TRUE(std::isnan(known("0")->second)) << "no reading is known too";
  for (const char* cell : {"-12", "1.5", "0x12", " 12", "1234567890123456"}) {
    memory.keep(cell, {.raw = 1, .reading = 1, .problem = {}, .fault = {}, .says = {}});
    EXPECT_FALSE(known(cell)) << cell;
  }
  memory.keep("3", {.raw = 3, .reading = {}, .problem = {}, .fault = "short-frame", .says = {}});
  EXPECT_FALSE(known("3"));
}

}  // namespace fair_gauge::log_convert_test
