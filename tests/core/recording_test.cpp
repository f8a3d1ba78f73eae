// Recordings as they are written, gone on with and read again.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>

#include "demo.h"
#include "files/file.h"
#include "stream/log_cell.h"
#include "stream/recorded_past.h"
#include "stream/recorder.h"

namespace fair_gauge::recording_test {

std::string text_of(const std::string& path) { return *read_file(path); }

TEST(Recording, GoesOnWhereItWasCutOffAndRefusesAnotherFile) {
  const std::string folder = testing::TempDir() + "fair-gauge-record";
  std::filesystem::remove_all(folder);
  std::filesystem::create_directories(folder);
  const std::string path = folder + "/day.csv";
  const Bench demo = demo_bench();
  SerialText lines(true);
  const auto record = [&](const std::string& text, double at) {
    auto recorder = Recorder::open(demo, shipped_parts(), path);
    ASSERT_TRUE(recorder) << to_text(recorder.problem());
    for (const SerialLine& line : lines.take(text)) recorder->take(line, at);
    EXPECT_FALSE(recorder->finish());
  };
  record("substrate:1873 room:x7EED00\nsubstrate:1874\n", 1764072000.25);
  const std::string first = text_of(path);
  EXPECT_EQ(first, "time,substrate,room\n2025-11-25T12:00:00.250Z,1873,7EED00\n2025-11-25T12:00:00.250Z,1874,\n");
  EXPECT_THAT(text_of(path + "-metadata.json"), testing::HasSubstr("http://www.w3.org/ns/csvw"));
  std::ofstream(path, std::ios::app) << "2025-11-25T12:00:01.2";  // killed while it wrote
  record("room:x7EED00 substrate:1900\n", 1764071000);            // and the clock was set back
  EXPECT_EQ(text_of(path), first + "2025-11-25T12:00:00.250Z,1900,7EED00\n");
  for (const char* other : {"a,b\n1,2\n", "time,substrate,nobody\n", "", "time,substrate"}) {
    std::ofstream(path, std::ios::trunc) << other;
    EXPECT_FALSE(Recorder::open(demo, shipped_parts(), path)) << other;
    EXPECT_EQ(text_of(path), other);
  }
}

TEST(Recording, BytesAreReadAgainAsTheirPartSentThem) {
  // 0x7EED00 >> 4 is 519888; as the demonstration's room reads that number.
  const Chain chain = demo_chain("room");
  const CellReader cells(chain);
  const LogCell bytes = cells.read("7EED00"), number = cells.read("519888");
  ASSERT_TRUE(bytes.reading && number.reading);
  EXPECT_EQ(*bytes.raw, 519888);
  EXPECT_NEAR(*bytes.reading, *number.reading, 1e-9);
  EXPECT_FALSE(cells.read("7EED0").raw);
  EXPECT_FALSE(cells.read("").raw);
}

// A channel that is read once a minute is named long after the first second.
TEST(Recording, HasAPlaceForASlowChannelWhereItIsAskedTo) {
  const auto path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_slow_{}.csv", ::getpid())).string();
  const Bench demo = demo_bench();
  for (const auto& [wanted, expected] :
       {std::pair{RecordedColumns::all, std::string(",77,")}, {RecordedColumns::named, std::string("1901\n")}}) {
    std::filesystem::remove(path);
    auto recorder = Recorder::open(demo, shipped_parts(), path, wanted);
    ASSERT_TRUE(recorder);
    SerialText lines(true);
    for (const auto& [text, at] : {std::pair{"substrate:1900\n", 1000.0}, {"fan_plate:77\nsubstrate:1901\n", 1060.0}}) {
      for (const SerialLine& line : lines.take(text)) recorder->take(line, at);
      EXPECT_FALSE(recorder->tick(at + 2));
    }
    EXPECT_FALSE(recorder->finish());
    EXPECT_THAT(text_of(path), testing::HasSubstr(expected));
    EXPECT_EQ(recorder->strangers().contains("fan_plate"), wanted == RecordedColumns::named);
  }
  std::filesystem::remove(path);
  std::filesystem::remove(path + "-metadata.json");
}

// A sensor that does not answer at first has its column, and what came beside it is kept.
TEST(Recording, AMissingValueLeavesItsFieldEmpty) {
  const auto path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_missing_{}.csv", ::getpid())).string();
  std::filesystem::remove(path);
  const Bench demo = demo_bench();
  auto recorder = Recorder::open(demo, shipped_parts(), path);
  ASSERT_TRUE(recorder);
  SerialText lines(true);
  for (const SerialLine& line :
       lines.take("substrate:1900 fan_plate:nan\nsubstrate:1901 fan_plate:77\nfan_plate:nan\n"))
    recorder->take(line, 1000.0);
  EXPECT_FALSE(recorder->finish());
  EXPECT_THAT(text_of(path), testing::HasSubstr("time,substrate,fan_plate\n"));
  EXPECT_THAT(text_of(path), testing::HasSubstr("Z,1900,\n"));
  EXPECT_THAT(text_of(path), testing::HasSubstr("Z,1901,77\n"));
  EXPECT_TRUE(recorder->strangers().empty());
  std::filesystem::remove(path);
  std::filesystem::remove(path + "-metadata.json");
}

// What cannot be written yet is written as soon as it can be: nothing that came is lost.
TEST(Recording, BeginsWhenItsFolderIsThere) {
  const auto folder = std::filesystem::temp_directory_path() / fmt::format("fair_gauge_late_{}", ::getpid());
  std::filesystem::remove_all(folder);
  const std::string path = (folder / "day.csv").string();
  Bench of = demo_bench();
  of.channels = {*find_by_id(of.channels, "substrate")};
  auto recorder = Recorder::open(of, shipped_parts(), path);
  ASSERT_TRUE(recorder);
  EXPECT_TRUE(recorder->take({"substrate:930", {{"substrate", 930.0, {}}}, std::nullopt}, 1000));
  EXPECT_TRUE(recorder->tick(1002)) << "there is no folder";
  EXPECT_TRUE(recorder->take({"substrate:931", {{"substrate", 931.0, {}}}, std::nullopt}, 1003));
  EXPECT_TRUE(recorder->tick(1004));
  std::filesystem::create_directories(folder);
  EXPECT_FALSE(recorder->tick(1005));
  EXPECT_FALSE(recorder->finish());
  const auto text = read_file(path, 1u << 20);
  ASSERT_TRUE(text);
  EXPECT_EQ(*text, "time,substrate\n1970-01-01T00:16:40.000Z,930\n1970-01-01T00:16:43.000Z,931\n");
  std::filesystem::remove_all(folder);
}

// The end of one that is gone on with: what came in its last minutes, numbers and bytes.
TEST(Recording, ItsLastMinutesAreReadFromItsEnd) {
  const auto path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_past_{}.csv", ::getpid())).string();
  const Bench demo = demo_bench();
  std::string rows = "time,substrate,room,gone\n";
  constexpr int count = 60'000;  // a megabyte: its beginning is not looked at
  for (int i = 0; i < count; ++i) rows += fmt::format("{},{},,5\n", 1'764'000'000 + i, 1000 + i % 1000);
  rows += "1764060000,,7EED00,\n1764060001,1234,broken,\n1764060002,12";  // killed while it wrote
  std::ofstream(path) << rows;
  const auto past = recorded_past(demo, shipped_parts(), path, 1'764'059'990);
  ASSERT_EQ(past.size(), 2u);
  const CameRaws& substrate = past.at("substrate");
  ASSERT_EQ(substrate.size(), 11u);
  EXPECT_EQ(substrate.front(), std::pair(1'764'059'990.0, 1990.0));
  EXPECT_EQ(substrate.back(), std::pair(1'764'060'001.0, 1234.0));
  EXPECT_EQ(past.at("room"), (CameRaws{{1'764'060'000.0, 519888.0}}));  // 0x7EED00 >> 4
  EXPECT_LT(recorded_past(demo, shipped_parts(), path, 0).at("substrate").size(), std::size_t{count});
  for (const char* other : {"", "a,b\n1,2\n", "time,nobody\n1,2\n", "time,substrate"}) {
    std::ofstream(path, std::ios::trunc) << other;
    EXPECT_TRUE(recorded_past(demo, shipped_parts(), path, 0).empty()) << other;
  }
  std::filesystem::remove(path);
  EXPECT_TRUE(recorded_past(demo, shipped_parts(), path, 0).empty());
}

}  // namespace fair_gauge::recording_test
