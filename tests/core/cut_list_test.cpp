// Pins, runs of cable and what hangs beside the sensors, by arithmetic done by hand.
#include <gmock/gmock.h>

#include <algorithm>

#include "bench/bench_things.h"
#include "demo.h"
#include "wiring/bus_check.h"
#include "wiring/cut_list.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::cut_list_test {

using testing::HasSubstr;

Bench two_buses() {
  Bench bench;
  bench.rails.push_back({.id = "3v3", .name = "3.3 V rail", .voltage = {.nominal_v = 3.3}});
  bench.converters.push_back({.id = "adc", .bits = 12, .reference_rail = "3v3"});
  bench.buses.push_back({.id = "air", .name = "Air bus", .rail = "3v3", .cable_m = 9});
  bench.devices.push_back({.id = "room", .part = "BME280", .bus = "air"});
  bench.devices.push_back({.id = "light", .part = "TSL2591", .bus = "air"});
  bench.devices.push_back({.id = "warm", .part = "TMP36", .converter = "adc", .rail = "3v3"});
  return bench;
}

std::string all_words(const std::vector<Finding>& findings) {
  std::string words;
  for (const Finding& finding : findings) words += finding.words + "\n";
  return words;
}

TEST(CutList, TheRunsOfABusGiveItItsLengthAndCapacitance) {
  Bench bench = two_buses();
  EXPECT_EQ(with_runs(bench, bench.buses[0]), bench.buses[0]);
  bench.cables = {
      {.name = "a", .metres = 1.5, .slack_m = 0.5, .kind = CableKind::flat_ribbon, .conductors = 4, .bus = "air"},
      {.name = "b", .metres = 1, .slack_m = 0, .kind = CableKind::shielded_pair, .conductors = 4, .bus = "air"},
      {.name = "c", .metres = 20, .slack_m = 0, .conductors = 2}};
  const Bus cabled = with_runs(bench, bench.buses[0]);
  EXPECT_DOUBLE_EQ(cabled.cable_m, 3);                  // 2 + 1
  EXPECT_NEAR(cabled.farad_per_m * 3, 200e-12, 1e-18);  // 2 · 50 + 1 · 100 pF
  const auto check = check_bus(bench, shipped_parts(), bench.buses[0]);
  ASSERT_TRUE(check);
  // The controller and two parts of 10 pF, 20 pF of the board, 200 pF of cable.
  EXPECT_NEAR(check->capacitance_f, 200e-12 + 20e-12 + 2 * 10e-12, 1e-15);
  EXPECT_EQ(check->bus, &bench.buses[0]) << "the bench's own bus";
}

TEST(CutList, IsBoughtByKindAndNumberOfWires) {
  const CutList list = cut_list(demo_bench());
  ASSERT_EQ(list.to_buy.size(), 3u);
  EXPECT_EQ(list.to_buy[0].kind, CableKind::flat_ribbon);
  EXPECT_EQ(list.to_buy[0].pieces, 3);
  EXPECT_NEAR(list.to_buy[0].metres, 6, 1e-12);
  EXPECT_NEAR(list.to_buy[1].metres, 3.9, 1e-12);
  EXPECT_NEAR(list.to_buy[2].metres, 2.6, 1e-12);
  EXPECT_THAT(cut_list_csv(demo_bench()), HasSubstr("board to rack, low"));
  EXPECT_THAT(cut_list_csv(demo_bench()), HasSubstr(",2,0.2,flat ribbon,3,rack wire,"));
}

TEST(CutList, NamesWhatCannotWork) {
  Bench bench = two_buses();
  bench.cables = {{.name = "thin", .metres = 0, .conductors = 2, .bus = "air"},
                  {.name = "twisted", .metres = 1, .kind = CableKind::twisted_pair, .conductors = 4, .bus = "air"}};
  bench.accessories = {{.name = "bare lamp", .kind = AccessoryKind::lamp, .current_a = 0.01, .rail = "3v3"},
                       {.name = "heater", .kind = AccessoryKind::other, .current_a = 0.5},
                       {.name = "fan", .kind = AccessoryKind::relay, .current_a = 0.07}};
  const std::string words = all_words(cut_list(bench).findings);
  EXPECT_THAT(words, HasSubstr("thin: how long is it?"));
  EXPECT_THAT(words, HasSubstr("thin: 2 conductors, Air bus needs 4"));
  EXPECT_THAT(words, HasSubstr("twisted: clock and data in one twisted pair"));
  EXPECT_THAT(words, HasSubstr("bare lamp: without a resistor"));
  EXPECT_THAT(words, HasSubstr("heater: 500 mA is more than most pins give"));
  EXPECT_THAT(words, HasSubstr("fan: a coil needs a transistor and a diode"));
  EXPECT_THAT(words, HasSubstr("licensed electrician"));
}

TEST(CutList, TheResistorOfALampIsTheNextOfTheSeries) {
  Bench bench = two_buses();
  const auto resistor = [&](double amps, double forward_v) {
    return series_resistor(bench,
                           {.kind = AccessoryKind::lamp, .current_a = amps, .forward_v = forward_v, .rail = "3v3"});
  };
  // 3.3 − 1.9 = 1.4 V over 2 mA are 700 Ω; E24 has 680 and 750.
  ASSERT_TRUE(resistor(0.002, 1.9));
  EXPECT_NEAR(resistor(0.002, 1.9)->ohm, 750, 1e-9);
  EXPECT_NEAR(resistor(0.002, 1.9)->amps, 1.4 / 750, 1e-12);
  EXPECT_NEAR(resistor(0.002, 1.9)->watts, 1.4 * 1.4 / 750, 1e-12);
  EXPECT_NEAR(resistor(0.02, 1.9)->ohm, 75, 1e-9);  // 70 Ω
  EXPECT_NEAR(resistor(0.01, 2.3)->ohm, 100, 1e-9) << "one of the series itself";
  EXPECT_FALSE(resistor(0.01, 3.4)) << "it never lights";
  EXPECT_FALSE(resistor(0, 1.9));
  EXPECT_FALSE(
      series_resistor(bench, {.kind = AccessoryKind::relay, .current_a = 0.01, .forward_v = 1, .rail = "3v3"}));
  EXPECT_FALSE(series_resistor(bench, {.kind = AccessoryKind::lamp, .current_a = 0.01, .forward_v = 1}));
}

const WireRow* row_of(const WiringList& list, const std::string& device, const std::string& conductor) {
  const auto found = std::ranges::find_if(
      list.rows, [&](const WireRow& row) { return row.device == device && row.conductor == conductor; });
  return found == list.rows.end() ? nullptr : &*found;
}

TEST(Pins, AConductorEndsAtOneAndABusHasItForAllItsParts) {
  Bench bench = two_buses();
  EXPECT_FALSE(put_on_pin(bench, "room", "clock", "22"));
  EXPECT_FALSE(put_on_pin(bench, "room", "data", "21"));
  EXPECT_FALSE(put_on_pin(bench, "warm", "signal", "A0"));
  WiringList list = wiring_list(bench, shipped_parts());
  EXPECT_EQ(row_of(list, "room", "clock")->pin, "22");
  EXPECT_EQ(row_of(list, "light", "clock")->pin, "22") << "the same bus";
  EXPECT_EQ(row_of(list, "light", "data")->pin, "21");
  EXPECT_EQ(row_of(list, "warm", "signal")->pin, "A0");
  EXPECT_EQ(row_of(list, "warm", "supply")->pin, "");
  // Taken pins are refused by name, and nothing changes.
  const Bench before = bench;
  const auto taken = put_on_pin(bench, "warm", "signal", "22");
  ASSERT_TRUE(taken);
  EXPECT_THAT(to_text(*taken), HasSubstr("at pin 22 ends Air bus already"));
  EXPECT_EQ(bench, before);
  EXPECT_TRUE(put_on_pin(bench, "warm", "ground", "G"));
  EXPECT_TRUE(put_on_pin(bench, "nobody", "signal", "A1"));
  // Moved, the old pin is free; cleared, it is gone from the list.
  EXPECT_FALSE(put_on_pin(bench, "warm", "signal", "A1"));
  EXPECT_FALSE(put_on_pin(bench, "room", "clock", ""));
  list = wiring_list(bench, shipped_parts());
  EXPECT_EQ(row_of(list, "warm", "signal")->pin, "A1");
  EXPECT_EQ(row_of(list, "light", "clock")->pin, "");
  EXPECT_EQ(std::ranges::find(bench.board.pins, "A0", &Pin::name)->uses, "");
  EXPECT_EQ(std::ranges::find(bench.board.pins, "A1", &Pin::name)->reads, "adc") << "a new one is read as it must be";
}

TEST(Pins, AnAlertOutputHasAConductorAndItsLineThePin) {
  Bench bench = two_buses();
  EXPECT_EQ(row_of(wiring_list(bench, shipped_parts()), "room", "alert"), nullptr);
  bench.buses.push_back({.id = "call", .name = "Call", .kind = BusKind::alert, .rail = "3v3"});
  find_by_id(bench.devices, "room")->alert = "call";
  find_by_id(bench.devices, "light")->alert = "call";
  EXPECT_FALSE(put_on_pin(bench, "room", "alert", "27"));
  EXPECT_FALSE(put_on_pin(bench, "room", "data", "21"));
  const WiringList list = wiring_list(bench, shipped_parts());
  EXPECT_EQ(row_of(list, "room", "alert")->from, "Call");
  EXPECT_EQ(row_of(list, "room", "alert")->pin, "27");
  EXPECT_EQ(row_of(list, "light", "alert")->pin, "27") << "the same line";
  EXPECT_EQ(row_of(list, "room", "data")->pin, "21");
  EXPECT_EQ(std::ranges::find(bench.board.pins, "27", &Pin::name)->uses, "call");
  // The line taken off: its parts stay at their bus, the pin is free.
  const auto stay = dependents_of(bench, {ThingKind::bus, "call"}).stay;
  EXPECT_EQ(stay.size(), 2u);
  take_away(bench, {ThingKind::bus, "call"});
  EXPECT_EQ(find_by_id(bench.devices, "room")->alert, "");
  EXPECT_EQ(find_by_id(bench.devices, "room")->bus, "air");
  EXPECT_EQ(std::ranges::find(bench.board.pins, "27", &Pin::name)->uses, "");
}

// A pin that selects the address is tied one way: to ground and to the supply would be a short.
TEST(WiringList, TiesEachPinOnlyAsItsAddressWantsIt) {
  for (const auto& [marking, address, tied] : {std::tuple("BME280", 0x76, "ground"),
                                               {"BME280", 0x77, "supply"},
                                               {"TMP117", 0x4B, "SCL"},
                                               {"TSL2561", 0x39, "open"}}) {
    Bench bench = demo_bench();
    Device& device = bench.devices.emplace_back(Device{.id = "probe", .part = marking});
    device.bus = bench.buses.front().id;
    device.address = address;
    const WiringList list = wiring_list(bench, shipped_parts());
    const std::set<std::string> selecting = {"SDO", "ADD0", "ADDR"};
    std::vector<std::string> ties;
    for (const WireRow& row : list.rows) {
      if (row.device != "probe") continue;
      EXPECT_NE(row.conductor, "address") << "beside the pin that says it";
      if (selecting.contains(row.conductor)) ties.push_back(row.from);
    }
    EXPECT_THAT(ties, testing::ElementsAre(testing::StartsWith(tied))) << marking;
  }
}

TEST(Pins, OneOfAnOlderBenchMovesToo) {
  Bench bench = two_buses();
  bench.board.pins = {{.name = "A0", .reads = "adc", .uses = "warm"}, {.name = "A1", .reads = "adc"}};
  EXPECT_FALSE(put_on_pin(bench, "warm", "signal", "A1"));
  const WiringList list = wiring_list(bench, shipped_parts());
  EXPECT_EQ(row_of(list, "warm", "signal")->pin, "A1");
  EXPECT_EQ(bench.board.pins[0].uses, "");
}

TEST(Pins, OneThatAnotherConverterReadsIsNamed) {
  Bench bench = two_buses();
  bench.board.pins.push_back({.name = "D3"});
  EXPECT_FALSE(put_on_pin(bench, "warm", "signal", "D3"));
  EXPECT_THAT(all_words(wiring_list(bench, shipped_parts()).findings),
              HasSubstr("pin D3 is not read by its converter"));
}

TEST(Pins, PartsShowTheirOwnByNumberAndName) {
  const Bench bench = two_buses();
  const WiringList list = wiring_list(bench, shipped_parts());
  EXPECT_EQ(row_of(list, "warm", "supply")->to, "1 supply");
  EXPECT_EQ(row_of(list, "warm", "signal")->to, "2 output");
  EXPECT_EQ(row_of(list, "warm", "ground")->to, "3 ground");
  EXPECT_EQ(row_of(list, "room", "clock")->to, "4 SCK");
  EXPECT_EQ(row_of(list, "room", "data")->to, "3 SDI");
  EXPECT_EQ(row_of(list, "room", "ground")->to, "1 GND, 7 GND");
  EXPECT_EQ(row_of(list, "light", "data")->to, "6 SDA");
}

TEST(Pins, EveryPinoutGivesItsPartASupplyAndAGround) {
  for (const Part& part : shipped_parts().parts()) {
    if (part.pinouts.empty() || part.interface == Interface::resistance ||
        part.id.starts_with("linear-voltage-10mv-kelvin"))
      continue;
    Bench bench;
    bench.devices.push_back({.id = "d", .part = part.id});
    const WiringList list = wiring_list(bench, shipped_parts());
    for (const char* conductor : {"supply", "ground"})
      if (const WireRow* row = row_of(list, "d", conductor)) {
        EXPECT_NE(row->to, conductor) << part.id << " names no pin for its " << conductor;
      }
  }
}

TEST(Pins, WhatSeveralPartsShareIsSaidOnceWithAllTheirNames) {
  const std::string words = all_words(wiring_list(demo_bench(), shipped_parts()).findings);
  EXPECT_THAT(words, HasSubstr("Rack, low, Rack, middle, Rack, top: Linear voltage sensors of the same body"));
}

}  // namespace fair_gauge::cut_list_test
