// Bytes that nobody has named: which parts answer so, and which channels they are of.
#include "digital/answering_parts.h"

#include <gmock/gmock.h>

#include <filesystem>

#include "bench/bench_things.h"
#include "choose/trial.h"
#include "demo.h"
#include "files/file.h"
#include "handoff/line_sketch.h"
#include "sim/simulated_line.h"
#include "stream/listening.h"
#include "stream/recorder.h"

namespace fair_gauge::answering_parts_test {

using testing::Contains;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::Not;
using testing::UnorderedElementsAre;

using Answers = std::vector<std::vector<std::uint8_t>>;

// 25.0 °C and 50.0 %RH as the two-wire humidity parts with a CRC after each word send them; BE EF with 92 is the
// example of their sheets, the others are worked out by hand from the polynomial that stands there.
const std::vector<std::uint8_t> frame = {0x66, 0x66, 0x93, 0x80, 0x00, 0xA2};
const std::vector<std::uint8_t> example = {0xBE, 0xEF, 0x92, 0xBE, 0xEF, 0x92};

std::vector<std::string> markings(const Answers& answers) {
  std::vector<std::string> all;
  for (const AnsweringPart& each : parts_that_answer(shipped_parts(), answers))
    all.push_back(each.part->markings.empty() ? each.part->id : each.part->markings.front());
  return all;
}

TEST(AnsweringParts, AChecksumTellsThem) {
  const auto found = parts_that_answer(shipped_parts(), {frame, example});
  ASSERT_FALSE(found.empty());
  for (const AnsweringPart& each : found) EXPECT_TRUE(each.is_proven) << each.part->id;
  EXPECT_THAT(markings({frame}),
              UnorderedElementsAre("SHT30", "SHT31", "SHT35", "SHT40", "SHT41", "SHT45", "SHTC3", "SHT85"));
  // Five bytes with their sum, from the sheet of the single-wire part: 65.2 % and 35.1 °C. Nine of a one-wire part.
  EXPECT_THAT(markings({{0x02, 0x8C, 0x01, 0x5F, 0xEE}}), Contains("DHT22"));
  EXPECT_THAT(markings({{0x91, 0x01, 0x4B, 0x46, 0x7F, 0xFF, 0x0C, 0x10, 0x70}}), Contains("DS18B20"));
}

TEST(AnsweringParts, OneSpoiltAnswerIsNoOther) {
  auto spoilt = frame;
  spoilt[2] ^= 1;
  EXPECT_THAT(markings({frame, example, spoilt}), Contains("SHT31"));
  EXPECT_THAT(markings({spoilt}), Not(Contains("SHT31")));
  EXPECT_THAT(markings({frame, spoilt}), Not(Contains("SHT31"))) << "half is no majority";
  EXPECT_THAT(markings({frame, {0x12}, {}, {0x34, 0x56}}), IsEmpty());
  EXPECT_THAT(markings({}), IsEmpty());
  EXPECT_THAT(markings({{}}), IsEmpty());
}

TEST(AnsweringParts, WithoutAChecksumFewAreNamedAndManyAreNot) {
  // Eight bytes from 0xF7; a trimming would be needed to read them.
  const auto found = parts_that_answer(shipped_parts(), {{0x65, 0x5A, 0xC0, 0x7E, 0xED, 0x00, 0x80, 0x00}});
  ASSERT_FALSE(found.empty());
  for (const AnsweringPart& each : found) EXPECT_FALSE(each.is_proven);
  EXPECT_THAT(markings_of(found), HasSubstr("BME280"));
  EXPECT_THAT(markings({{0x19, 0x00}}), IsEmpty()) << "two bytes are sent by two dozen";
}

TEST(AnsweringParts, AreNamedInWords) {
  auto found = parts_that_answer(shipped_parts(), {frame});
  EXPECT_EQ(markings_of(found), "SHT30, SHT31, SHT35, SHT40 or one of 4 more");
  found.resize(2);
  EXPECT_EQ(markings_of(found), "SHT30 or SHT31");
  found.resize(1);
  EXPECT_EQ(markings_of(found), "SHT30");
  EXPECT_EQ(markings_of({}), "");
}

// A bench with nothing but a part: its bytes mean the same whatever feeds it.
Bench bench_with(const char* marking) {
  const auto trial = fit_part({}, shipped_parts(), *shipped_parts().find(marking));
  EXPECT_TRUE(trial) << to_text(trial.problem());
  return trial ? trial->bench : Bench();
}

TEST(SharedBytes, OneFrameIsOfAllItsChannels) {
  Bench bench = bench_with("SHT31");
  ASSERT_EQ(bench.channels.size(), 2u);
  bench.channels.push_back({.id = "air"});
  give_line_name(bench, shipped_parts(), "temperature", "air", frame.size());
  EXPECT_EQ(bench.channels[0].name_on_line(), "air");
  EXPECT_EQ(bench.channels[1].name_on_line(), "air");
  EXPECT_EQ(bench.channels[2].name_on_line(), "-") << "it is theirs";
  const LogCell humidity = CellReader(*build_chain(bench, shipped_parts(), "humidity")).read_bytes(frame);
  EXPECT_NEAR(*humidity.reading, 50.0, 0.01);
  // Sent away from one of them, both are silent.
  give_line_name(bench, shipped_parts(), "", "air", frame.size());
  EXPECT_EQ(bench.channels[1].name_on_line(), "-");
  // A part that answers each quantity by itself: three bytes are of one of them.
  Bench apart = bench_with("SHT21");
  give_line_name(apart, shipped_parts(), "temperature", "t", 3);
  EXPECT_EQ(apart.channels[1].name_on_line(), "humidity");
  give_line_name(apart, shipped_parts(), "temperature", "both", 6);
  EXPECT_EQ(apart.channels[1].name_on_line(), "both");
  // A number is of one channel.
  give_line_name(bench, shipped_parts(), "temperature", "t", 0);
  EXPECT_EQ(bench.channels[1].name_on_line(), "-");
}

TEST(SharedBytes, AreRecordedForEachAndSentOnce) {
  Bench bench = bench_with("SHT31");
  give_line_name(bench, shipped_parts(), "humidity", "air", frame.size());
  const std::string path = testing::TempDir() + "fair-gauge-shared.csv";
  std::filesystem::remove(path);
  auto recorder = Recorder::open(bench, shipped_parts(), path, RecordedColumns::all);
  ASSERT_TRUE(recorder);
  EXPECT_TRUE(recorder->take({"air:x6666938000A2", {{"air", std::nullopt, frame}}, std::nullopt}, 1764072000));
  EXPECT_FALSE(recorder->finish());
  EXPECT_EQ(*read_file(path), "time,temperature,humidity\n2025-11-25T12:00:00.000Z,6666938000A2,6666938000A2\n");
  const std::string sketch = line_sketch(bench, shipped_parts(), Language::c);
  const auto first = sketch.find("\"air\"");
  EXPECT_NE(first, std::string::npos) << sketch;
  EXPECT_EQ(sketch.find("\"air\"", first + 1), std::string::npos) << "one read serves both";
}

}  // namespace fair_gauge::answering_parts_test
