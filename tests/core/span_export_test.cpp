// Spans of a log written for others, and read again.
#include "stream/span_export.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>

#include "demo.h"
#include "files/file.h"
#include "files/json_document.h"
#include "stream/recording_events.h"

namespace fair_gauge::span_export_test {

using testing::HasSubstr;

class SpanExport : public testing::Test {
 protected:
  SpanExport() { std::filesystem::create_directories(folder_); }
  ~SpanExport() override { std::filesystem::remove_all(folder_); }
  std::string file(const char* name) const { return (folder_ / name).string(); }
  std::string text(const std::string& path) const { return *read_file(path); }

  const std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / fmt::format("fair_gauge_span_{}", ::getpid());
  const Chain chain_ = demo_chain("substrate");
};

// 2026-11-24T22:31:05Z is 1 795 559 465 s after 1970.
constexpr double at = 1'795'559'465;

ChannelLog three(const Chain& chain) {
  ChannelLog log{.all_rows = 4, .has_time = true, .period_s = 2};
  for (const double raw : {2230.0, std::nan(""), 2100.0, 4095.0}) {
    const auto row = static_cast<std::uint32_t>(log.rows.size() + 1);
    const auto reading = raw == raw ? read_raw(chain, raw) : Result<double>(Problem{"", ""});
    log.rows.push_back({.row = row,
                        .seconds = at + 2.5 * (row - 1),
                        .raw = raw,
                        .reading = reading ? chain.shown->from_base(*reading) : std::nan("")});
  }
  return log;
}

TEST_F(SpanExport, ACsvSaysWhatItHolds) {
  const ChannelLog log = three(chain_);
  const auto rows = export_csv({.chain = chain_, .log = log, .from = 0, .to = 4, .is_dated = true}, file("a.csv"));
  ASSERT_TRUE(rows) << to_text(rows.problem());
  EXPECT_EQ(*rows, 4u);
  // The thermistor by hand: R = 8200 · code ÷ (4096 − code), beta 3950, 10 kΩ at 25 °C, less 0.2.
  const auto celsius = [](double code) {
    const double ohms = 8200 * code / (4096 - code);
    return 1 / (1 / 298.15 + std::log(ohms / 10000) / 3950) - 273.15 - 0.2;
  };
  EXPECT_EQ(text(file("a.csv")), fmt::format("time,substrate,substrate_Cel\n"
                                             "2026-11-24T22:31:05.000Z,2230,{:.2f}\n"
                                             "2026-11-24T22:31:07.500Z,,\n"
                                             "2026-11-24T22:31:10.000Z,2100,{:.2f}\n"
                                             "2026-11-24T22:31:12.500Z,4095,\n",
                                             celsius(2230), celsius(2100)));
  auto metadata = parse_json(text(file("a.csv-metadata.json")), "a");
  ASSERT_TRUE(metadata);
  const Json& columns = metadata->value["tableSchema"]["columns"];
  ASSERT_EQ(columns.size(), 3u);
  EXPECT_EQ(metadata->value["@context"], "http://www.w3.org/ns/csvw");
  EXPECT_EQ(metadata->value["url"], "a.csv");
  EXPECT_EQ(columns[0]["datatype"], "dateTimeStamp");
  EXPECT_EQ(columns[1]["name"], "substrate");
  EXPECT_EQ(columns[2]["unit"], "Cel");
  EXPECT_EQ(columns[2]["quantity"], "temperature");
  // It is a log again.
  const auto again = read_channel_log(file("a.csv"), chain_);
  ASSERT_TRUE(again) << to_text(again.problem());
  ASSERT_EQ(again->rows.size(), 4u);
  for (std::size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(again->rows[i].seconds, log.rows[i].seconds);
    EXPECT_EQ(std::isnan(again->rows[i].raw), std::isnan(log.rows[i].raw));
    EXPECT_EQ(again->rows[i].raw != again->rows[i].raw ? -1 : again->rows[i].raw,
              log.rows[i].raw != log.rows[i].raw ? -1 : log.rows[i].raw);
    EXPECT_EQ(again->rows[i].is_good() ? again->rows[i].reading : -300,
              log.rows[i].is_good() ? log.rows[i].reading : -300);
  }
}

// A page: the span's figures beside those of all, by hand from 24.31 °C for 2230 and 28.21 °C for 2100.
TEST_F(SpanExport, APageSaysTheSpansFigures) {
  const ChannelLog log = three(chain_);
  Review review{.noise = 0.01};
  review.events.push_back({EventKind::clipped, 4, 4, "an end code & more"});
  review.events.push_back({EventKind::gap, 1, 1, "elsewhere"});
  const LogSpan span{.chain = chain_, .log = log, .from = 2, .to = 4, .is_dated = true};
  const std::string page = span_html(
      span, review, {.title = "Fern<hollow", .place = "", .origin = "3 rows", .picture = "QUJD", .on = "2026-11-27"});
  EXPECT_THAT(page, HasSubstr("Fern&lt;hollow"));
  EXPECT_THAT(page, HasSubstr("data:image/png;base64,QUJD"));
  EXPECT_THAT(page, HasSubstr("<td>good rows</td><td>1 of 2</td><td>2 of 4</td>"));
  const double ohms = 8200 * 2100.0 / (4096 - 2100);
  EXPECT_THAT(page, HasSubstr(fmt::format("<td>mean</td><td>{:.3f} °C</td>",
                                          1 / (1 / 298.15 + std::log(ohms / 10000) / 3950) - 273.15 - 0.2)));
  EXPECT_THAT(page, HasSubstr("row 4: clipped, an end code &amp; more"));
  EXPECT_THAT(page, testing::Not(HasSubstr("elsewhere"))) << "not in this span";
}

TEST_F(SpanExport, OnlyTheSpanIsWritten) {
  const ChannelLog log = three(chain_);
  for (std::size_t from = 0; from <= 4; ++from)
    for (std::size_t to = from; to <= 6; ++to) {
      const auto rows = export_csv({.chain = chain_, .log = log, .from = from, .to = to}, file("b.csv"));
      ASSERT_TRUE(rows);
      EXPECT_EQ(*rows, std::min<std::size_t>(to, 4) - from);
      EXPECT_EQ(std::ranges::count(text(file("b.csv")), '\n'), static_cast<std::ptrdiff_t>(*rows) + 1);
    }
  EXPECT_THAT(text(file("b.csv-metadata.json")), HasSubstr("\"number\"")) << "without a date the time is in seconds";
}

TEST_F(SpanExport, SenmlHasItsBaseOnce) {
  const ChannelLog log = three(chain_);
  const auto dated = export_senml({.chain = chain_, .log = log, .from = 0, .to = 4, .is_dated = true}, file("c.json"));
  ASSERT_TRUE(dated);
  EXPECT_EQ(*dated, 2u) << "rows without a reading are none";
  auto parsed = parse_json(text(file("c.json")), "c");
  ASSERT_TRUE(parsed) << to_text(parsed.problem());
  const Json& all = parsed->value;
  ASSERT_EQ(all.size(), 2u);
  EXPECT_EQ(all[0]["bn"], "substrate");
  EXPECT_EQ(all[0]["bu"], "Cel");
  EXPECT_EQ(all[0]["bt"].get<double>(), at);
  EXPECT_EQ(all[0]["t"].get<double>(), 0);
  EXPECT_EQ(all[1]["t"].get<double>(), 5);
  EXPECT_FALSE(all[1].contains("bt"));
  EXPECT_NEAR(all[1]["v"].get<double>(), log.rows[2].reading, 0.001);
  // Without a date: seconds before the last row, which is now.
  const auto bare = export_senml({.chain = chain_, .log = log, .from = 0, .to = 3}, file("d.json"));
  ASSERT_TRUE(bare);
  parsed = parse_json(text(file("d.json")), "d");
  ASSERT_TRUE(parsed);
  EXPECT_FALSE(parsed->value[0].contains("bt"));
  EXPECT_EQ(parsed->value[0]["t"].get<double>(), -5);
  EXPECT_EQ(parsed->value[1]["t"].get<double>(), 0);
  // Nothing in it is a list all the same.
  const auto none = export_senml({.chain = chain_, .log = log, .from = 1, .to = 2}, file("e.json"));
  ASSERT_TRUE(none);
  EXPECT_EQ(*none, 0u);
  parsed = parse_json(text(file("e.json")), "e");
  ASSERT_TRUE(parsed);
  EXPECT_TRUE(parsed->value.is_array());
  EXPECT_TRUE(parsed->value.empty());
}

// Every channel's unit is one that SenML knows, and its values are in it.
TEST_F(SpanExport, EveryChannelInItsBaseUnit) {
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id, bench);
    const double middle = (channel.wanted.from + channel.wanted.to) / 2;
    ChannelLog log{.all_rows = 1, .has_time = true, .period_s = 1};
    log.rows.push_back({.row = 1, .seconds = 0, .raw = 1, .reading = chain.shown->from_base(middle)});
    ASSERT_TRUE(export_senml({.chain = chain, .log = log, .from = 0, .to = 1}, file("f.json")));
    const auto parsed = parse_json(text(file("f.json")), "f");
    ASSERT_TRUE(parsed) << channel.id;
    const std::string unit = parsed->value[0]["bu"];
    const std::string wanted = channel.quantity == Quantity::temperature ? "Cel"
                               : channel.quantity == Quantity::humidity  ? "%RH"
                               : channel.quantity == Quantity::pressure  ? "Pa"
                                                                         : "lx";
    EXPECT_EQ(unit, wanted) << channel.id;
    EXPECT_NEAR(parsed->value[0]["v"].get<double>(), middle, 1e-3 * std::abs(middle) + 0.01) << channel.id;
  }
}

TEST_F(SpanExport, WhatIsThereIsNotDestroyed) {
  const ChannelLog log = three(chain_);
  const LogSpan span{.chain = chain_, .log = log, .from = 0, .to = 4};
  const std::string bench = file("own.fairgauge.json");
  std::filesystem::copy_file(demo_path, bench);
  const std::string before = text(bench);
  EXPECT_FALSE(export_senml(span, bench));
  EXPECT_EQ(text(bench), before);
  EXPECT_FALSE(export_csv(span, file("none/a.csv")));
  EXPECT_FALSE(export_csv(span, folder_.string()));
  EXPECT_FALSE(std::filesystem::exists(file("none")));
}

// What happened meanwhile is only ever added to, whatever it says, and read again as it was written.
TEST_F(SpanExport, EventsOfARecordingAreKept) {
  const std::string recording = file("week.csv");
  EXPECT_EQ(events_path(recording), recording + "-events.csv");
  EXPECT_TRUE(read_events(recording).empty()) << "a recording without events has no such file";
  std::vector<RecordingEvent> events;
  for (const char* words : {"", "door opened", "a, b and \"c\"", "\"\"", "12 °C, was 11,4", ",,,", "\"", "end\\"}) {
    events.push_back({at + 60 * static_cast<double>(events.size()), "note", words});
    ASSERT_FALSE(append_event(recording, events.back())) << words;
  }
  EXPECT_EQ(read_events(recording), events);
  // A line break would tear a row: it is a space.
  ASSERT_FALSE(append_event(recording, {at + 1000, "note", "two\nlines"}));
  EXPECT_EQ(read_events(recording).back().words, "two lines");
  // A row that was cut, as by a kill, costs itself alone.
  std::ofstream(events_path(recording), std::ios::app) << "2026-11-24T22:";
  ASSERT_FALSE(append_event(recording, {at + 2000, "ended", ""}));
  const auto all = read_events(recording);
  ASSERT_EQ(all.size(), events.size() + 2);
  EXPECT_EQ(all.back().kind, "ended");
  EXPECT_EQ(all.back().seconds, at + 2000);
}

TEST_F(SpanExport, EventsDestroyNothing) {
  const std::string recording = file("other.csv");
  std::ofstream(events_path(recording)) << "mine\n1\n";
  const auto problem = append_event(recording, {at, "note", "x"});
  ASSERT_TRUE(problem);
  EXPECT_THAT(problem->wrong, HasSubstr("something else"));
  EXPECT_EQ(text(events_path(recording)), "mine\n1\n");
  EXPECT_TRUE(read_events(recording).empty());
  EXPECT_TRUE(append_event(file("none/a.csv"), {at, "note", "x"}));
  std::filesystem::create_directory(events_path(file("folder.csv")));
  EXPECT_TRUE(append_event(file("folder.csv"), {at, "note", "x"}));
}

}  // namespace fair_gauge::span_export_test
