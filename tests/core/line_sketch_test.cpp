// The sketch that sends a bench's raw numbers: compiled and run with made-up numbers, and read back as the window
// reads.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>

#include "demo.h"
#include "files/file.h"
#include "handoff/line_sketch.h"
#include "stream/serial_text.h"

namespace fair_gauge::line_sketch_test {

using testing::HasSubstr;

class LineSketch : public testing::Test {
 protected:
  LineSketch() {
    std::string pattern = std::filesystem::temp_directory_path() / "fair-gauge-sketch-XXXXXX";
    EXPECT_TRUE(mkdtemp(pattern.data()));
    folder_ = pattern;
  }
  ~LineSketch() override { std::filesystem::remove_all(folder_); }

  std::string run(const std::string& command) const {
    const int code = std::system(fmt::format("cd {} && ({}) > out.txt 2>&1", folder_, command).c_str());
    const std::string out = *read_file(folder_ + "/out.txt");
    EXPECT_EQ(code, 0) << out;
    return out;
  }

  // Each name of the demonstration is there once, with 1000 and its place for numbers, and 01 02 03 … for bytes.
  static void expect_all(const std::string& out) {
    const Bench bench = demo_bench();
    EXPECT_EQ(static_cast<std::size_t>(std::ranges::count(out, '\n')), bench.channels.size());
    std::map<std::string, RawItem> items;
    SerialText reader(true);
    for (const SerialLine& line : reader.take(out)) {
      EXPECT_FALSE(line.problem) << line.text;
      for (const RawItem& item : line.items) items[item.name] = item;
    }
    int place = 0;
    for (const Channel& channel : bench.channels) {
      const Chain chain = demo_chain(channel.id);
      const auto found = items.find(channel.name_on_line());
      ASSERT_NE(found, items.end()) << channel.id;
      if (!chain.bytes) {
        EXPECT_EQ(found->second.number, 1000 + place) << channel.id;
      } else {
        const std::size_t size = chain.bytes->block(0).size();
        ASSERT_EQ(found->second.bytes.size(), size) << channel.id;
        for (std::size_t i = 0; i < size; ++i) EXPECT_EQ(found->second.bytes[i], i + 1) << channel.id;
      }
      ++place;
    }
  }
  std::string folder_;
};

TEST_F(LineSketch, SendsEveryChannelInC) {
  std::ofstream(folder_ + "/sketch.c") << line_sketch(demo_bench(), shipped_parts(), Language::c) << R"(
#include <stdio.h>
static uint32_t clock_ms = 4294967000u; /* it begins again at 0 */
uint32_t now_ms(void) { return clock_ms; }
void put_letter(char letter) { putchar(letter); }
int32_t read_number(uint8_t source) { return 1000 + source; }
uint8_t read_bytes(uint8_t source, uint8_t *bytes, uint8_t size)
{
  uint8_t i;
  (void)source;
  for (i = 0; i < size; ++i) bytes[i] = (uint8_t)(i + 1);
  return 1;
}
int main(void)
{
  uint8_t i;
  for (i = 0; i < SOURCES; ++i) due[i] = clock_ms;
  send_what_is_due();
  send_what_is_due(); /* nothing is due yet */
  return 0;
}
)";
  expect_all(run("gcc -std=c99 -Wall -Wextra -Wconversion -pedantic -Werror -o sketch sketch.c && ./sketch"));
}

TEST_F(LineSketch, SendsEveryChannelInPython) {
  std::ofstream(folder_ + "/sketch.py") << line_sketch(demo_bench(), shipped_parts(), Language::python);
  std::ofstream(folder_ + "/main.py") << R"(
import sys, sketch
names = [name for name, period, size in sketch.SOURCES]
for now in (0, 1):
    sketch.send_what_is_due(now, lambda name: 1000 + names.index(name), lambda name, size: bytes(range(1, size + 1)), sys.stdout.write)
)";
  expect_all(run("python3 main.py"));
}

TEST_F(LineSketch, SaysWhatItLeavesOut) {
  Bench bench = demo_bench();
  bench.channels.front().arrives = Arrival{.unit = "Cel"};
  find_by_id(bench.channels, "room")->device = "gone";
  bench.name = "a \"bench\" */ of mine\n#";
  const std::string code = line_sketch(bench, shipped_parts(), Language::c);
  EXPECT_THAT(code, HasSubstr("arrives converted"));
  EXPECT_THAT(code, HasSubstr("Left out. " + find_by_id(bench.channels, "room")->name));
  std::ofstream(folder_ + "/sketch.c") << code;
  run("gcc -std=c99 -Wall -Wextra -pedantic -Werror -c sketch.c");
  EXPECT_THAT(line_sketch({}, shipped_parts(), Language::python), HasSubstr("Nothing to send"));
}

// Who counts must know for how long: the specimen's own gate, not the file's.
TEST_F(LineSketch, SaysForHowLongPulsesAreCounted) {
  Bench bench = demo_bench();
  bench.devices.push_back({.id = "lamp", .part = "TSL235R", .settings = {{"gate", 0.5}}});
  bench.channels.push_back(
      {.id = "lamp", .name = "Lamp", .device = "lamp", .quantity = Quantity::illuminance, .unit = "lx"});
  EXPECT_THAT(line_sketch(bench, shipped_parts(), Language::c), testing::HasSubstr("Lamp: pulses counted for 0.5 s"));
}

}  // namespace fair_gauge::line_sketch_test
