// One log, written in every way that programs write logs: each has the same times and readings.
#include "stream/log_dialect.h"

#include <gmock/gmock.h>

#include <cmath>
#include <fstream>

#include "demo.h"
#include "files/readable_text.h"
#include "scratch_folder.h"
#include "stream/channel_log.h"
#include "stream/log_convert.h"
#include "stream/log_series.h"
#include "stream/review.h"
#include "stream/switching.h"

namespace fair_gauge::log_dialect_test {

using testing::HasSubstr;
using testing::IsEmpty;

class LogDialects : public ScratchFolder {
 protected:
  std::string write(const std::string& text) {
    const std::string path = (folder_ / ("log" + std::to_string(++written_) + ".csv")).string();
    std::ofstream(path, std::ios::binary) << text;
    return path;
  }
  int written_ = 0;
};

// In two bytes a character, for text without characters beyond the first plane.
std::string utf16(const std::string& text, bool big) {
  std::string wide = big ? "\xFE\xFF" : "\xFF\xFE";
  const auto put = [&](unsigned unit) {
    const char high = static_cast<char>(unit >> 8), low = static_cast<char>(unit & 255);
    wide += big ? high : low;
    wide += big ? low : high;
  };
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x80) {
      put(c);
    } else {  // two bytes of UTF-8
      put((c & 0x1Fu) << 6 | (static_cast<unsigned char>(text[i + 1]) & 0x3Fu));
      ++i;
    }
  }
  return wide;
}

// 2026-11-24T22:31:05.25Z is 1 795 559 465.25 s after 1970 began, and day 46350.9382552… of a spreadsheet.
TEST_F(LogDialects, EveryWayOfWritingSaysTheSame) {
  const std::string dates =
      "time,substrate\n2026-11-24T22:31:05.25Z,2230\n2026-11-24T22:31:07.25Z,2231\n2026-11-24T22:31:09.25Z,2229\n";
  const std::string days =
      "Date;substrate;other\n46350,93825521;2230;1,5\n46350,93827836;2231;1,6\n46350,93830150;2229;1\n";
  const struct {
    std::string text;
    const char* words;
  } logs[] = {
      {dates, ""},
      {"\xEF\xBB\xBF" + dates, ""},
      {"\"time\",\"substrate\"\n\"2026-11-24 22:31:05.25\",\"2230\"\n\"2026-11-24 22:31:07.25\",\"2231\"\n"
       "\"2026-11-24T23:31:09.25+01:00\",\"2229\"\n",
       ""},
      {"time;note;substrate\n1795559465.25;a, b;2230\n1795559467.25;;2231\n1795559469.25;c;2229\n", "semicolons"},
      {"Time\tsubstrate\n1795559465250\t2230\n1795559467250\t2231\n1795559469250\t2229\n",
       "tabs, times in milliseconds"},
      {"timestamp  substrate\n1795559465.25   2230 \n 1795559467.25 2231\n1795559469.25 2229\n",
       "spaces between cells"},
      {days, "semicolons, decimal commas, times in days of a spreadsheet"},
      {"Date,Time,substrate\n2026-11-24,22:31:05.25,2230\n2026-11-24,22:31:07.25,2231\n2026-11-24,22:31:09.25,2229\n",
       ""},
      {"time,substrate\n11/24/2026 10:31:05.25 PM,2230\n11/24/2026 10:31:07.25 PM,2231\n"
       "11/24/2026 10:31:09.25 PM,2229\n",
       "days as month/day/year"},
      {"Date,Time,substrate\n24/11/2026,22:31:05.25,2230\n24/11/2026,22:31:07.25,2231\n24/11/2026,22:31:09.25,2229\n",
       "days as day/month/year"},
      {"# shed logger 4\r\nLogger,North shed\r\nInterval,2\r\n\r\n" + dates, ""},
      {"sep=;\n#counts of last night\n" + days, "semicolons, decimal commas, times in days of a spreadsheet"},
      {"Log of counts\n# 0 is an open "
       "wire\n#time;substrate\n1795559465.25;2230\n1795559467.25;2231\n1795559469.25;2229\n",
       "semicolons"},
      {"time;substrate;date\n22:31:05,25;2230;24.11.2026\n22:31:07,25;2231;24.11.2026\n22:31:09,25;2229;24.11.2026\n",
       "semicolons"},
      {utf16(dates, false), "UTF-16"},
      {utf16("time;place;substrate\n1795559465,25;caf\xC3\xA9;2230\n1795559467,25;;2231\n1795559469,25;;2229\n", true),
       "UTF-16, semicolons, decimal commas"},
  };
  const Chain chain = demo_chain("substrate");
  const double readings[] = {*read_raw(chain, 2230), *read_raw(chain, 2231), *read_raw(chain, 2229)};
  for (const auto& [text, words] : logs) {
    const auto log = read_channel_log(write(text), chain);
    ASSERT_TRUE(log) << words << ": " << to_text(log.problem());
    EXPECT_EQ(words_of(log->dialect, log->was_utf16), words);
    ASSERT_EQ(log->rows.size(), 3u) << words;
    for (std::size_t i = 0; i < 3; ++i) {
      EXPECT_NEAR(log->rows[i].seconds, 1795559465.25 + 2.0 * static_cast<double>(i), 2e-3) << words;
      EXPECT_NEAR(chain.shown->to_base(log->rows[i].reading), readings[i], 1e-9) << words;
    }
    EXPECT_NEAR(log->period_s, 2, 2e-3) << words;
  }
  // The comparison over time reads them alike.
  for (const std::string& text : {days, "sep=;\n# of the shed, 2 s\n" + days,
                                  std::string("date time substrate\n2026/11/24 9:59:59 2230\n2026/11/24 10:00:01 "
                                              "2231\n2026/11/24 10:00:03 2229\n")}) {
    const auto series = read_log_series(text, "substrate");
    ASSERT_TRUE(series);
    ASSERT_EQ(series->seconds.size(), 3u);
    EXPECT_NEAR(series->seconds[2] - series->seconds[0], 4, 2e-3);
  }
}

TEST_F(LogDialects, WhatIsNotUnderstoodCanBeSaid) {
  const Chain chain = demo_chain("substrate");
  // Seconds of a session that look like nothing else stay seconds, also at ten a second.
  const std::string session = "time,substrate\n46350.1000,2230\n46350.2000,2231\n46350.3000,2229\n";
  EXPECT_EQ(dialect_of(session).time, TimeForm::seconds);
  EXPECT_EQ(dialect_of("time,substrate\n46350.9382,1\n46350.9384,2\n").time, TimeForm::seconds) << "two are too few";
  const auto millis = read_channel_log(write("time,substrate\n0,2230\n2000,2231\n4000,2229\n"), chain, "", {}, nullptr,
                                       {.separator = {}, .time = TimeForm::milliseconds});
  ASSERT_TRUE(millis);
  EXPECT_DOUBLE_EQ(millis->rows[2].seconds, 4);
  const auto forced = read_channel_log(write("time substrate,x\n1 2230,5\n2 2231,5\n"), chain, "", {}, nullptr,
                                       {.separator = ' ', .time = {}});
  EXPECT_FALSE(forced) << "its column is called \"substrate,x\" then";
  const auto commas = read_channel_log(write("time,substrate;x\n1,2230\n2,2231\n"), chain, "", {}, nullptr,
                                       {.separator = ',', .time = {}});
  EXPECT_FALSE(commas);
  EXPECT_EQ(dialect_of("a b,c").separator, ',');
  EXPECT_EQ(dialect_of("\"one name\"").separator, ',');
  EXPECT_EQ(dialect_of("").separator, ',');
}

// What is no whole character, or no text at all, is no crash and no lost row.
TEST_F(LogDialects, BrokenUtf16IsReadAsFarAsItGoes) {
  const Chain chain = demo_chain("substrate");
  std::string text = utf16("time,substrate\n1,2230\n2,2231\n", false);
  text.insert(text.size() - 4, "\x00\xD8", 2);  // half of a pair
  const auto log = read_channel_log(write(text), chain);
  ASSERT_TRUE(log);
  EXPECT_EQ(log->rows.size(), 2u);
  EXPECT_TRUE(read_channel_log(write(utf16("time,substrate\n1,2230\n", true) + "x"), chain))
      << "an odd byte at the end";
  for (const std::string& odd : {std::string("\xFF\xFE"), std::string("\xFE\xFFx"), std::string("\xFF")})
    EXPECT_FALSE(read_channel_log(write(odd), chain));
  EXPECT_FALSE(ReadableText::of("/no/such/file")->was_utf16());
  // More than a piece of a megabyte, with a character across its end.
  std::string rows = "time,note,substrate\n";
  for (int i = 0; i < 60'000; ++i) rows += std::to_string(i) + ",caf\xC3\xA9,2230\n";
  const auto large = read_channel_log(write(utf16(rows, false)), chain);
  ASSERT_TRUE(large);
  EXPECT_EQ(large->rows.size(), 60'000u);
  EXPECT_TRUE(std::ranges::all_of(large->rows, &LogReading::is_good));
}

// The copy in UTF-8 goes when nobody reads it any more.
// A board that does not know the time yet, or lost it: the other rows mean what they meant without those.
TEST_F(LogDialects, TimesThatCannotBeReadDoNotSpoilTheOthers) {
  const Chain chain = demo_chain("substrate");
  std::string plain = "time,substrate\n", holed = "time,substrate\nN/A,2300\nN/A,2301\n";
  for (int i = 0; i < 40; ++i) {
    const auto row = std::to_string(1000 + 2 * i + (i < 25 ? 0 : 60)) + "," + std::to_string(2200 + i) + "\n";
    plain += row, holed += row;
    if (i == 10) holed += "--:--,2210\n";
  }
  const auto known = read_channel_log(write(plain), chain), some = read_channel_log(write(holed), chain);
  ASSERT_TRUE(known && some);
  EXPECT_EQ(known->untimed, 0U);
  EXPECT_THAT(remarks_on(*known), IsEmpty());
  EXPECT_EQ(some->untimed, 3U);
  EXPECT_THAT(remarks_on(*some), testing::ElementsAre(HasSubstr("cannot be read: 3, the first is row 1")));
  EXPECT_TRUE(some->has_time);
  EXPECT_EQ(some->period_s, 2);
  EXPECT_EQ(some->rows[0].seconds, 1000);
  EXPECT_EQ(some->rows[13].seconds, 1020) << "with the row before";
  // The moments between the rows: 60 + 2 s are a gap in both, and the drift is that of the rows with a time.
  const Review one = review_log(*known, chain, {}), other = review_log(*some, chain, {});
  ASSERT_EQ(one.events.size(), 1U);
  ASSERT_EQ(other.events.size(), 1U);
  EXPECT_EQ(other.events[0].kind, EventKind::gap);
  EXPECT_EQ(other.events[0].from_row, one.events[0].from_row + 3);
  EXPECT_LT(one.drift_per_hour, -15);
  EXPECT_NEAR(other.drift_per_hour, one.drift_per_hour, 1e-6);
  EXPECT_EQ(other.good, 43U);
  // What is switched: 2210 counts and what is above read less than 25.7 °C.
  const SwitchRule rule{.heats = true, .goal = 25.7, .band = 0};
  const auto decided = switch_on_log(*known, rule, {-40, 125}), with_holes = switch_on_log(*some, rule, {-40, 125});
  EXPECT_EQ(decided.switches, 1);
  EXPECT_GT(decided.on_s, 100);
  EXPECT_LT(decided.on_s, with_holes.on_s + 1e-9) << "on from the rows without a time on";
  // Where no time can be read the rows stand a period apart, and it is said.
  const auto none =
      read_channel_log(write("time,substrate\n11/05/2026 15:50:01,2230\n11/05/2026 15:50:03,2231\n"), chain);
  ASSERT_TRUE(none);
  EXPECT_FALSE(none->has_time);
  EXPECT_EQ(none->rows[1].seconds, chain.channel.period_s);
  EXPECT_THAT(remarks_on(*none), testing::ElementsAre(HasSubstr("\"11/05/2026 15:50:01\" in the first row")));
  const auto series = read_log_series("time,substrate\nnow,2230\nthen,2231\n", "substrate");
  ASSERT_FALSE(series);
  EXPECT_THAT(to_text(series.problem()), HasSubstr("no row with a number has a time"));
}

// An empty place is no number; in a log that slower channels share it may be one of their moments.
TEST_F(LogDialects, AnEmptyPlaceIsNoNumberWhereNobodyElseHasOne) {
  const Chain chain = demo_chain("substrate");
  const auto events = [&](const std::string& text) {
    const auto log = read_channel_log(write(text), chain);
    EXPECT_TRUE(log);
    return review_log(*log, chain, {}).events;
  };
  const auto alone = events("time,substrate\n0,\n5,2230\n10,2231\n15,\n");
  ASSERT_EQ(alone.size(), 2U);
  EXPECT_EQ(alone[1].kind, EventKind::not_a_number);
  EXPECT_EQ(alone[1].from_row, 4U);
  EXPECT_THAT(events("time,substrate,room\n0,,7EED00\n5,2230,\n10,2231,\n15,,7EED00\n"), IsEmpty());
}

TEST_F(LogDialects, TimesThatOnlyGoBackAreNoPeriod) {
  const Chain chain = demo_chain("substrate");
  const auto log = read_channel_log(write("time,substrate\n5,2230\n1,2231\n"), chain);
  ASSERT_TRUE(log);
  EXPECT_EQ(log->period_s, chain.channel.period_s);
}

// Numbers without a heading, as a board prints them; and a heading that somebody wrote with capitals.
TEST_F(LogDialects, AHeadingMayBeMissingOrCapital) {
  const Chain chain = demo_chain("substrate");
  const auto bare = read_channel_log(write("\n100,2230\n103,2231\n106,2232\n"), chain);
  ASSERT_TRUE(bare) << to_text(bare.problem());
  EXPECT_FALSE(bare->has_header);
  EXPECT_THAT(remarks_on(*bare), testing::ElementsAre(HasSubstr("no header")));
  ASSERT_EQ(bare->rows.size(), 3U);
  EXPECT_EQ(bare->rows[0].raw, 2230);
  EXPECT_EQ(bare->rows[2].seconds, 106);
  EXPECT_EQ(bare->period_s, 3);
  const auto one = read_channel_log(write("2230\n2231\n"), chain);
  ASSERT_TRUE(one);
  ASSERT_EQ(one->rows.size(), 2U);
  EXPECT_EQ(one->rows[1].raw, 2231);
  EXPECT_EQ(one->rows[1].seconds, chain.channel.period_s);
  EXPECT_FALSE(read_channel_log(write("1,2,3\n4,5,6\n"), chain)) << "which of them is not known";
  EXPECT_FALSE(read_channel_log(write("100,2230\n"), chain, "counts")) << "it is asked for by name";
  const auto capital = read_channel_log(write("TIME,Counts,SUBSTRATE\n100,1,2230\n"), chain);
  ASSERT_TRUE(capital);
  EXPECT_TRUE(capital->has_header);
  EXPECT_EQ(capital->rows[0].raw, 2230);
  EXPECT_EQ(read_channel_log(write("Substrate,substrate\n1,2230\n"), chain)->rows[0].raw, 2230) << "as written first";
}

TEST_F(LogDialects, TheCopyDoesNotStay) {
  std::string path;
  {
    const auto text = ReadableText::of(write(utf16("a", false)));
    ASSERT_TRUE(text);
    ASSERT_TRUE(text->was_utf16());
    path = text->path();
    EXPECT_TRUE(std::ifstream(path).good());
  }
  EXPECT_FALSE(std::ifstream(path).good());
}

TEST_F(LogDialects, SpacesPartCellsWhenALogIsConverted) {
  const Chain chain = demo_chain("substrate");
  std::string out;
  LogConverter converter(chain, "", 2, *chain.shown, [&](std::string_view text) { out += text; });
  ASSERT_FALSE(converter.take("time  substrate\n1   2230\n2 2231\n3\n"));
  ASSERT_FALSE(converter.finish());
  EXPECT_EQ(converter.summary().converted, 2u);
  EXPECT_THAT(out, HasSubstr("time  substrate substrate_Cel\n1   2230 "));
  EXPECT_EQ(converter.summary().failures, 1u) << "a row that is cut";
}

}  // namespace fair_gauge::log_dialect_test
