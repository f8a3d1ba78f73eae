// What the drawing of the board shows.
#include "wiring/board_map.h"

#include <gmock/gmock.h>

#include "bench/board_presets.h"
#include "demo.h"

namespace fair_gauge::board_map_test {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

const BoardLine& line_of(const BoardMap& map, const std::string& id) {
  return *std::ranges::find_if(map.lines, [&](const BoardLine& line) { return line.thing && line.thing->id == id; });
}

TEST(BoardMap, EveryPartOfTheDemonstrationHangsInOnePlace) {
  const Bench bench = demo_bench();
  const BoardMap map = board_map(bench, shipped_parts());
  std::vector<std::string> seen;
  for (const BoardLine& line : map.lines)
    for (const HungThing& hung : line.hung) {
      if (hung.thing.kind == ThingKind::device) seen.push_back(hung.thing.id);
      for (const HungThing& input : hung.at_inputs) seen.push_back(input.thing.id);
    }
  EXPECT_EQ(seen.size(), bench.devices.size());
  for (const Device& device : bench.devices) EXPECT_THAT(seen, testing::Contains(device.id));
  const HungThing& core = line_of(map, "adc").hung.front();
  EXPECT_EQ(core.name, "Substrate core");
  EXPECT_THAT(core.pins, ElementsAre("A1"));
  EXPECT_EQ(core.rail, "3v3");
  EXPECT_THAT(line_of(map, "two-wire").pins, ElementsAre("SCL", "SDA"));
  EXPECT_EQ(line_of(map, "two-wire").what, "100 kHz, 3.3 V");
  EXPECT_EQ(line_of(map, "adc").what, "12 bits, 0 to 3.3 V");
  std::vector<std::string> free;
  for (const FreePin& pin : map.free_pins) free.push_back(pin.name);
  EXPECT_THAT(free, ElementsAre("A5", "D5", "D6", "D7"));
  EXPECT_TRUE(map.free_pins[0].reads_volts);
  EXPECT_FALSE(map.free_pins[1].reads_volts);
}

// A small bench with one of each, worked out by hand.
Bench one_of_each() {
  Bench bench;
  bench.board.name = "a board";
  bench.board.pins = {{.name = "7", .uses = "probe"}, {.name = "8", .uses = "wire"}, {.name = "9", .interrupt = true}};
  bench.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "own", .name = "own", .bits = 10, .reference_rail = "5v"},
                      {.id = "far", .name = "far", .part = "HX711", .bits = 24, .polarity = Polarity::bipolar}};
  bench.converters[1].reference = {.nominal_v = 5};
  bench.converters[1].span_per_reference = 0.5;
  bench.buses = {{.id = "wire", .name = "wire", .kind = BusKind::one_wire, .rail = "5v"},
                 {.id = "pair", .name = "pair", .rail = "5v", .speed_hz = 400e3}};
  Device probe{.id = "probe", .part = "TMP36", .converter = "own"};
  probe.front_end = {.kind = FrontEndKind::level_divider, .rail = "5v", .top_ohm = 10e3, .bottom_ohm = 20e3};
  bench.devices = {probe,
                   {.id = "stick", .part = "DS18B20", .bus = "wire"},
                   {.id = "chip", .part = "SHT31", .bus = "pair", .address = 0x44},
                   {.id = "low", .part = "BMP280", .bus = "pair", .address = 0x76},
                   {.id = "bridge", .part = "none such", .converter = "far"},
                   {.id = "alone", .part = "MAX6675"}};
  return bench;
}

TEST(BoardMap, SaysWhatStandsBetweenAndWhatFeedsIt) {
  const BoardMap map = board_map(one_of_each(), shipped_parts());
  ASSERT_EQ(map.lines.size(), 4u);  // own, wire, pair, and what has pins for itself
  EXPECT_EQ(map.controller, "a board");
  EXPECT_EQ(line_of(map, "own").hung[0].link, "10 kΩ over 20 kΩ");
  EXPECT_EQ(line_of(map, "own").hung[0].what, "TMP36");
  EXPECT_THAT(line_of(map, "own").hung[0].pins, ElementsAre("7"));
  EXPECT_THAT(line_of(map, "wire").pins, ElementsAre("8"));
  EXPECT_EQ(line_of(map, "wire").what, "5 V");
  EXPECT_EQ(line_of(map, "pair").hung[0].link, "0x44");
  EXPECT_FALSE(line_of(map, "pair").hung[0].starved);  // 2.4 to 5.5 V
  ASSERT_TRUE(line_of(map, "pair").hung[1].starved);   // 1.71 to 3.6 V
  EXPECT_THAT(*line_of(map, "pair").hung[1].starved, HasSubstr("1.71 to 3.6 V"));
  const BoardLine& last = map.lines.back();
  EXPECT_FALSE(last.thing);
  ASSERT_EQ(last.hung.size(), 2u);
  EXPECT_EQ(last.hung[0].name, "far");
  EXPECT_EQ(last.hung[0].what, "24 bits, ±2.5 V");
  ASSERT_EQ(last.hung[0].at_inputs.size(), 1u);
  EXPECT_EQ(last.hung[0].at_inputs[0].thing.id, "bridge");
  EXPECT_TRUE(last.hung[0].at_inputs[0].what.empty()) << "the catalogue has no such part";
  EXPECT_EQ(last.hung[1].thing.id, "alone");
  ASSERT_EQ(map.free_pins.size(), 1u);
  EXPECT_TRUE(map.free_pins[0].interrupts);
}

// An alert output is drawn at its line, the part itself at its bus; a part that is at a converter as well stands there.
TEST(BoardMap, APartStandsAtItsBusAndAtItsAlertLine) {
  Bench bench = one_of_each();
  bench.buses.push_back({.id = "call", .name = "call", .kind = BusKind::alert, .rail = "5v"});
  bench.devices[2].alert = "call";                         // chip
  bench.devices[1].converter = "own";                      // stick, on its wire too
  bench.devices[5].alert = bench.devices[5].bus = "call";  // alone: that and nothing else
  bench.board.pins[2].uses = "call";
  const BoardMap map = board_map(bench, shipped_parts());
  const BoardLine& call = line_of(map, "call");
  ASSERT_EQ(call.hung.size(), 2u);
  EXPECT_TRUE(call.hung[0].again);
  EXPECT_EQ(call.hung[0].what, "its alert output, itself on pair");
  EXPECT_FALSE(call.hung[1].again);
  EXPECT_THAT(call.pins, ElementsAre("9"));
  EXPECT_EQ(line_of(map, "pair").hung.size(), 2u);
  EXPECT_EQ(line_of(map, "own").hung.size(), 2u);
  EXPECT_THAT(line_of(map, "wire").hung, IsEmpty());
  EXPECT_THAT(words_of(map), Contains(HasSubstr("call, 5 V at 9: chip (its alert output, itself on pair); alone")));
}

TEST(BoardMap, IsToldInSentences) {
  const auto words = words_of(board_map(one_of_each(), shipped_parts()));
  ASSERT_EQ(words.size(), 6u);
  EXPECT_EQ(words[0], "own, 10 bits, 0 to 5 V: probe (TMP36), 10 kΩ over 20 kΩ at 7.");
  EXPECT_EQ(words[1], "wire, 5 V at 8: stick (DS18B20).");
  EXPECT_THAT(words[2], HasSubstr("low (BMP280), 0x76: it takes 1.71 to 3.6 V and gets 5 V"));
  EXPECT_THAT(words[3], HasSubstr("at its input bridge"));
  EXPECT_EQ(words[4], "Free pins: 9.");
  EXPECT_EQ(words[5], "The controller's pins bear 5.3 V.");
}

TEST(BoardMap, OfAnEmptyBenchIsEmptyAndOfEveryPresetIsNot) {
  EXPECT_THAT(board_map({}, shipped_parts()).lines, IsEmpty());
  EXPECT_THAT(words_of(board_map({}, shipped_parts())), IsEmpty());
  Bench bench = one_of_each();
  bench.devices.clear();
  EXPECT_THAT(words_of(board_map(bench, shipped_parts()))[0], HasSubstr("nothing hangs on it"));
}

}  // namespace fair_gauge::board_map_test
