// The logbook on the disk, its records, drift, what needs doing, and logs as series.
#include "logbook/logbook.h"
#include "core/schema.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>

#include "demo.h"
#include "files/file.h"
#include "handoff/handoff.h"
#include "logbook/record.h"
#include "overview/to_do.h"
#include "quantity/day.h"
#include "stream/log_series.h"

namespace fair_gauge::logbook_test {

using testing::Contains;
using testing::HasSubstr;

class LogbookFile : public testing::Test {
 protected:
  LogbookFile()
      : path_(
            (std::filesystem::temp_directory_path() / ("fair-gauge-logbook-" + std::to_string(::getpid()) + ".ndjson"))
                .string()) {
    std::filesystem::remove(path_);
  }
  ~LogbookFile() override { std::filesystem::remove(path_); }
  LogEntry note(const std::string& words) {
    LogEntry entry;
    entry.on = "2026-11-24 22:31";
    entry.channel = "substrate";
    entry.words = words;
    return entry;
  }
  std::string path_;
};

TEST_F(LogbookFile, OnlyGrowsAndNumbersItsEntries) {
  EXPECT_TRUE(read_logbook(path_)->entries.empty());
  EXPECT_EQ(append_entry(path_, note("first"))->number, 1);
  const std::string before = *read_file(path_);
  LogEntry correcting = note("what was meant");
  correcting.corrects = 1;
  EXPECT_EQ(append_entry(path_, correcting)->number, 2);
  EXPECT_TRUE(read_file(path_)->starts_with(before)) << "what was written stays as it was";
  const Logbook logbook = *read_logbook(path_);
  EXPECT_TRUE(logbook.is_corrected(logbook.entries[0]));
  EXPECT_FALSE(logbook.is_corrected(logbook.entries[1]));
}

TEST_F(LogbookFile, KeepsWhatItDoesNotUnderstandAndSaysWhere) {
  (void)append_entry(path_, note("good"));
  std::ofstream(path_, std::ios::app)
      << "{\"number\": 2, \"on\":\n{\"number\":\"three\",\"on\":\"2026-01-01\"}\n{\"number\": 9, \"on\": "
         "\"2026-01-02\", \"later\": true}\n{\"number\": 10, \"on";
  Logbook logbook = *read_logbook(path_);
  EXPECT_EQ(logbook.entries.size(), 2u);
  ASSERT_EQ(logbook.problems.size(), 3u);
  EXPECT_EQ(logbook.problems[0].place.line, 2);
  EXPECT_EQ(logbook.problems[1].place.line, 3);
  // A line that was cut off does not swallow the next one.
  EXPECT_EQ(append_entry(path_, note("after the cut"))->number, 10);
  logbook = *read_logbook(path_);
  EXPECT_EQ(logbook.entries.back().words, "after the cut");
  EXPECT_EQ(logbook.entries[1].unknown.text, R"({"later":true})") << "keys of a newer program survive";
}

TEST_F(LogbookFile, SaysIfItCannotBeWritten) {
  const auto failed = append_entry("/proc/nowhere/bench.logbook.ndjson", note("lost?"));
  ASSERT_FALSE(failed);
  EXPECT_THAT(failed.problem().wrong, HasSubstr("failed"));
}

Logbook demo_logbook() {
  return *read_logbook(std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow.logbook.ndjson");
}

TEST(Logbook, BelongsToItsBench) {
  EXPECT_EQ(logbook_path("/home/a/shed.fairgauge.json"), "/home/a/shed.logbook.ndjson");
  EXPECT_EQ(logbook_path("bench.json"), "bench.logbook.ndjson");
}

TEST(Logbook, MeetsItsSchema) {
  const auto schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/logbook.schema.json");
  ASSERT_TRUE(schema);
  const Logbook logbook = demo_logbook();
  for (const LogEntry& entry : logbook.entries)
    for (const Problem& problem : schema_problems(*parse_json(record_json(entry), ""), schema->value))
      ADD_FAILURE() << to_text(problem);
}

TEST(Logbook, IsSearchedByEveryWord) {
  const Logbook logbook = demo_logbook();
  EXPECT_TRUE(logbook.problems.empty());
  EXPECT_EQ(search_entries(logbook, "").size(), logbook.entries.size());
  EXPECT_EQ(search_entries(logbook, "").front()->number, logbook.entries.back().number) << "the newest first";
  const auto found = search_entries(logbook, "GREEN rack_top");
  ASSERT_EQ(found.size(), 1u);
  EXPECT_THAT(found[0]->words, HasSubstr("ground is green"));
  EXPECT_TRUE(search_entries(logbook, "green steamer").empty());
}

TEST(Record, IsAPageATableAndAnObject) {
  const Logbook logbook = demo_logbook();
  const LogEntry& entry = *std::ranges::find_if(
      logbook.entries, [](const LogEntry& each) { return each.calibration && each.channel == "substrate"; });
  const std::string page = record_html(entry, demo_bench(), shipped_parts());
  for (const char* words : {"Substrate core", "glass thermometer", "k = 2", "Verdict", "Not for medical"})
    EXPECT_THAT(page, HasSubstr(words));
  EXPECT_THAT(page, HasSubstr("In the middle of the wanted range"))
      << "this entry was written when only that was known";
  LogEntry later = entry;
  later.calibration->holds_from = 10, later.calibration->holds_to = 30;
  EXPECT_THAT(record_html(later, demo_bench(), shipped_parts()), HasSubstr("At its worst between 10.0 °C and 30.0 °C"));
  EXPECT_THAT(page, Not(HasSubstr("As found"))) << "nobody wrote it down";
  later.calibration->found_at = 24.1, later.calibration->found_error = -0.75, later.calibration->tolerance = 0.5;
  EXPECT_THAT(record_html(later, demo_bench(), shipped_parts()),
              HasSubstr("As found it was off by −0.75 °C at 24.10 °C, 150 % of the allowed error."));
  const std::string csv = record_csv(entry);
  EXPECT_THAT(csv, HasSubstr("reference,reading,uncertainty"));
  EXPECT_THAT(csv, HasSubstr("\r\n24.1,24.02,"));
  EXPECT_EQ(Json::parse(record_json(entry))["calibration"]["points"][0]["reading"], 24.02);
}

TEST(Drift, IsTheSlopeOfTheErrorsOverTheYears) {
  // +0.1 °C a year, exactly: errors −0.1, 0, +0.1 on the first of January of three years.
  Logbook logbook;
  for (int i = 0; i < 3; ++i) {
    LogEntry& entry = logbook.entries.emplace_back();
    entry.number = i + 1;
    entry.on = fmt::format("{}-01-01 10:00", 2023 + i);
    entry.channel = "fridge";
    CalibrationRecord& record = entry.calibration.emplace();
    RecordedPoint& point = record.points.emplace_back();
    point.reference = 5;
    point.reading = 5 + 0.1 * (i - 1);
    point.reference_standard = 0.05;
  }
  const Drift drift = drift_of(logbook, "fridge", 0.5);
  ASSERT_EQ(drift.course.size(), 3u);
  EXPECT_NEAR(drift.per_year, 0.1, 2e-4);
  // Half a degree after five years from the last one: the first days of 2030.
  ASSERT_TRUE(drift.leaves_on);
  EXPECT_NEAR(*drift.leaves_on, *day_from_text("2030-01-01"), 4);
  EXPECT_TRUE(drift_of(logbook, "another", 0.5).course.empty());
  // Of 0.05 each a year and two apart: 0.05 ÷ √2 a year.
  EXPECT_NEAR(drift.per_year_standard, 0.05 / std::sqrt(2), 2e-4);
  EXPECT_TRUE(drift.is_seen());
  // An entry that was put right later does not count.
  logbook.entries.emplace_back(logbook.entries.back()).number = 4;
  logbook.entries.back().corrects = 3;
  logbook.entries.back().calibration->points[0].reading = 5;
  EXPECT_NEAR(drift_of(logbook, "fridge", 0.5).course.back().error, 0, 1e-12);
}

LogEntry calibration_on(const char* day, int number, std::vector<RecordedPoint> points) {
  LogEntry entry{.number = number, .on = day, .channel = "t"};
  entry.calibration.emplace().points = std::move(points);
  return entry;
}

// A gain that is off by 2 % and stays so: −0.2 at 10 °C, −0.8 at 40 °C. The first calibration was at 0 and 40 °C, the
// second at 10 and 20 °C, which is where both were: their middle is 15 °C, and there it is off by 0.3 both times.
TEST(Drift, IsComparedWhereAllCalibrationsWere) {
  Logbook logbook;
  logbook.entries = {calibration_on("2025-01-01 10:00", 1,
                                    {{.reference = 40, .reference_standard = 0.05, .reading = 39.2},
                                     {.reference = 0, .reference_standard = 0.05, .reading = 0}}),
                     calibration_on("2026-01-01 10:00", 2,
                                    {{.reference = 10, .reference_standard = 0.05, .reading = 9.8},
                                     {.reference = 20, .reference_standard = 0.05, .reading = 19.6}})};
  const Drift drift = drift_of(logbook, "t", 0.5);
  EXPECT_EQ(drift.place, 15);
  ASSERT_EQ(drift.course.size(), 2u);
  for (const Drift::At& at : drift.course) {
    EXPECT_NEAR(at.error, -0.3, 1e-9);
    EXPECT_NEAR(at.standard, 0.05, 1e-9) << "one reference told both points";
  }
  EXPECT_NEAR(drift.per_year, 0, 1e-9);
  EXPECT_FALSE(drift.is_seen());
  EXPECT_FALSE(drift.leaves_on);
  EXPECT_NEAR(drift.per_year_standard, 0.05 * std::sqrt(2), 2e-4) << "the two days' own, a year apart";
}

TEST(Drift, NeedsDaysBetween) {
  Logbook logbook;
  logbook.entries = {
      calibration_on("2026-01-01 10:00", 1, {{.reference = 10, .reference_standard = 0.1, .reading = 9}}),
      calibration_on("2026-01-01 18:00", 2, {{.reference = 10, .reference_standard = 0.1, .reading = 11}})};
  const Drift same_day = drift_of(logbook, "t", 0.5);
  EXPECT_EQ(same_day.course.size(), 2u);
  EXPECT_FALSE(same_day.has_days_between());
  EXPECT_EQ(same_day.per_year, 0);
  // Of references that nobody knows there is a slope, and no word on how good it is.
  logbook.entries[1].on = "2027-01-01 10:00";
  for (LogEntry& entry : logbook.entries) entry.calibration->points[0].reference_standard = 0;
  const Drift unknown = drift_of(logbook, "t", 0.5);
  EXPECT_NEAR(unknown.per_year, 2, 2e-3);
  EXPECT_TRUE(std::isnan(unknown.per_year_standard));
  EXPECT_TRUE(unknown.is_seen());
}

TEST(Day, GoesBothWays) {
  EXPECT_EQ(day_from_text("1970-01-01"), 0);
  EXPECT_EQ(day_from_text("2000-03-01"), 11017);
  EXPECT_EQ(day_text(11016), "2000-02-29");
  for (const char* bad : {"", "2026-13-01", "2026-02-30", "26-01-01", "2026/01/01", "2026-1-01x"})
    EXPECT_FALSE(day_from_text(bad)) << bad;
}

// The middle of its range is 3.9 V over 13 kΩ, which a two-terminal part on 5 V cannot give.
TEST(ToDo, AChannelThatCannotBeReadIsToBeMended) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters.push_back({.id = "adc", .bits = 10, .reference_rail = "5v"});
  bench.devices = {{.id = "d",
                    .part = "temperature-current",
                    .converter = "adc",
                    .front_end = {.kind = FrontEndKind::load, .fixed_ohm = 13e3, .rail = "5v"}}};
  bench.channels = {{.id = "loft", .device = "d", .wanted = {0, 50}, .tolerance = 5, .unit = "Cel"}};
  const auto list = to_do(bench, shipped_parts(), 20000);
  ASSERT_EQ(list.size(), 1u);
  EXPECT_EQ(list.front().severity, Severity::fault);
  EXPECT_THAT(list.front().words, testing::HasSubstr("loft: no reading in its wanted range: 3.876 V is above"));
  bench.devices.front().front_end.fixed_ohm = 2.2e3;
  for (const ToDo& each : to_do(bench, shipped_parts(), 20000)) EXPECT_NE(each.severity, Severity::fault) << each.words;
}

TEST(ToDo, NamesWhatIsOverAndWhatIsDue) {
  Bench bench = demo_bench();
  const int day = *day_from_text("2026-11-24");
  EXPECT_EQ(days_until_due(*find_by_id(bench.channels, "filter"), day), 6);  // 60 days after the first of October
  EXPECT_EQ(days_until_due(*find_by_id(bench.channels, "steamer"), day), std::nullopt);
  auto list = to_do(bench, shipped_parts(), day);
  const auto has = [&](ToDoKind kind, const std::string& id) {
    return std::ranges::any_of(list, [&](const ToDo& each) { return each.kind == kind && each.id == id; });
  };
  EXPECT_TRUE(has(ToDoKind::error, "spawn_fridge"));
  EXPECT_TRUE(has(ToDoKind::calibration, "filter"));
  EXPECT_FALSE(has(ToDoKind::bus, "two-wire"));
  // Firmware was given the chain as it is; then the sensor is calibrated.
  find_by_id(bench.channels, "spawn_fridge")->handed_over =
      HandedOver{chain_fingerprint(demo_chain("spawn_fridge", bench)), "2026-05-12"};
  EXPECT_FALSE(has(ToDoKind::handoff, "spawn_fridge"));
  list = to_do(bench, shipped_parts(), day);
  EXPECT_FALSE(has(ToDoKind::handoff, "spawn_fridge"));
  find_by_id(bench.channels, "spawn_fridge")->correction.coefficients = {0.25};
  list = to_do(bench, shipped_parts(), day);
  EXPECT_TRUE(has(ToDoKind::handoff, "spawn_fridge"));
  bench.buses[0].pull_ups.clear();
  find_by_id(bench.devices, "light_sensor")->part = "no such part";
  list = to_do(bench, shipped_parts(), day);
  EXPECT_TRUE(has(ToDoKind::bus, "two-wire"));
  EXPECT_TRUE(has(ToDoKind::channel, "grow_light"));
  EXPECT_EQ(list.front().severity, Severity::fault) << "the most pressing first";
}

TEST(LogSeries, TakesAColumnWithItsTimes) {
  const auto series = read_log_series("time;substrate;room\n0;2280;5\n10;2276;6\n20;;7\n30;2270;8\n", "substrate");
  ASSERT_TRUE(series);
  EXPECT_EQ(series->seconds, (std::vector<double>{0, 10, 30}));
  EXPECT_EQ(series->raw, (std::vector<double>{2280, 2276, 2270}));
  EXPECT_EQ(series->left_out, 1u);
  EXPECT_THAT(read_log_series("time,a\n0,1\n", "b").problem().expected, HasSubstr("time, a"));
  EXPECT_EQ(read_log_series("2026-11-24\n1\n2\n", "")->seconds, (std::vector<double>{0, 1}))
      << "rows are counted where there is no time";
  EXPECT_NEAR(read_log_series("time,a\n2026-11-24T00:00:10,1\n2026-11-24T00:01:00,2\n", "a")->seconds[1] -
                  read_log_series("time,a\n2026-11-24T00:00:10,1\n2026-11-24T00:01:00,2\n", "a")->seconds[0],
              50, 1e-9);
  EXPECT_FALSE(read_log_series("", ""));
  EXPECT_FALSE(read_log_series("a\nx\n", ""));
}

TEST(LogSeries, ThinsALongLogByMeans) {
  std::string text = "time,a\n";
  for (int i = 0; i < 1000; ++i) text += fmt::format("{},{}\n", i, i);
  const auto series = read_log_series(text, "a", 100);
  ASSERT_TRUE(series);
  EXPECT_EQ(series->thinned, 11u);  // the heading counts as a row
  EXPECT_NEAR(series->raw.front(), 5, 1e-12);
  EXPECT_NEAR(series->seconds.front(), 5, 1e-12);
}

}  // namespace fair_gauge::logbook_test
