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
  for (const std::string& text : {days, std::string("date time substrate\n2026/11/24 9:59:59 2230\n2026/11/24 10:00:01 "
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
