// The stand-in's board and what a line does to its text.
#include "board.h"

#include <gmock/gmock.h>

#include "demo.h"
#include "stream/serial_text.h"

namespace fair_gauge::standin {
namespace {

std::vector<BoardChannel> board() {
  const Bench bench = demo_bench();
  std::vector<BoardChannel> channels;
  for (const Channel& channel : bench.channels)
    if (auto chain = build_chain(bench, shipped_parts(), channel.id))
      channels.push_back({channel.id, EnvironmentCourse(channel, 1), SimulatedDevice(std::move(*chain), 1)});
  return channels;
}

TEST(Board, EveryFormIsReadBackAsTheSameNumbers) {
  for (const auto form : {LineForm::named, LineForm::csv, LineForm::bare, LineForm::hex, LineForm::bytes}) {
    auto channels = board();
    SerialText reader;
    if (form == LineForm::csv) reader.take(header_of(channels));
    const auto lines = reader.take(line_at(channels, form, 100));
    ASSERT_EQ(lines.size(), 1u);
    EXPECT_FALSE(lines[0].problem) << lines[0].text;
    EXPECT_EQ(lines[0].items.size(), channels.size());
  }
}

TEST(Board, AtItsOwnSpeedNothingIsLostAndAtAnotherItIsNoise) {
  std::string text;
  for (int i = 0; i < 20; ++i) text += "substrate:1873 spawn_fridge:664\r\n";
  EXPECT_EQ(at_other_speed(text, 115200, 115200), text);
  for (const auto& [sender, receiver] :
       {std::pair{9600, 115200}, std::pair{115200, 9600}, std::pair{115200, 57600}, std::pair{9600, 19200}}) {
    SerialText reader;
    reader.take(at_other_speed(text, sender, receiver));
    EXPECT_TRUE(reader.is_noise()) << sender << " heard at " << receiver;
  }
}

TEST(Board, AGarbledLineIsNotTheSameLine) {
  std::mt19937_64 random(1);
  EXPECT_NE(garbled("substrate:1873\r\n", random), "substrate:1873\r\n");
}

}  // namespace
}  // namespace fair_gauge::standin
