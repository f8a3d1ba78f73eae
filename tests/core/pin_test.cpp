// What hangs on the controller's pins: volts that are too much, converters with a start and a ready line.
#include <gmock/gmock.h>

#include "choose/trial.h"
#include "demo.h"
#include "overview/to_do.h"
#include "sizing/parallel_converter.h"
#include "wiring/board_map.h"
#include "wiring/pin_stress.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::pin_test {

using testing::HasSubstr;

// A controller at 3.3 V with a sensor fed from 5 V.
Bench bench_of(const std::string& part, FrontEnd front_end) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}, {.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  bench.board.pins = {{.name = "A0", .reads = "adc", .uses = "probe"}, {.name = "A1", .reads = "adc"}};
  front_end.rail = "5v";
  bench.devices = {{.id = "probe", .part = part, .converter = "adc", .front_end = front_end}};
  bench.channels = {{.id = "air", .name = "Air", .device = "probe"}};
  return bench;
}

PinStress stress_of(const Bench& bench) {
  const auto stress = pin_stress(bench, shipped_parts(), bench.devices.front());
  EXPECT_TRUE(stress);
  return stress.value_or(PinStress());
}

TEST(PinStress, ADividerFromFiveVoltsPutsThemOnThePin) {
  Bench bench = bench_of("ntc-beta", {.kind = FrontEndKind::divider});
  const PinStress top = stress_of(bench);
  EXPECT_EQ(top.volts, 5);
  EXPECT_EQ(top.pin, "A0");
  EXPECT_NEAR(top.bears_v, 3.6, 1e-12) << "0.3 V more than its supply";
  EXPECT_TRUE(top.is_too_much());
  EXPECT_EQ(words_of(top), "puts 5 V on A0, which bears 3.6 V, with the sensor unplugged");
  bench.devices[0].front_end.position = Position::bottom;
  EXPECT_EQ(stress_of(bench).when, "with the sensor shorted");
  bench.board.pins[0].most_v = 5.5;
  EXPECT_FALSE(stress_of(bench).is_too_much());
  EXPECT_EQ(words_of(stress_of(bench)), "");
  bench.board.pins[0].most_v = 0;
  bench.devices[0].front_end.rail = "3v3";
  EXPECT_FALSE(stress_of(bench).is_too_much());
}

// Lines that come from a higher supply than a part's own: 5 V on one of 3.3 V, which bears 3.6 V.
TEST(LineStress, ComesFromTheBusOrFromTheControllersPins) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}, {.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .reference_rail = "5v"}};
  bench.buses = {{.id = "bus", .rail = "5v"}};
  const auto stress = [&](const char* part, const char* rail, const char* bus) {
    return line_stress(bench, shipped_parts(), {.id = "one", .part = part, .bus = bus, .rail = rail});
  };
  for (const auto& found : {stress("MAX31855", "3v3", ""), stress("BME280", "3v3", "bus")}) {
    ASSERT_TRUE(found);
    EXPECT_EQ(found->volts, 5);
    EXPECT_EQ(found->fed_v, 3.3);
  }
  EXPECT_FALSE(stress("MAX6675", "5v", ""));
  EXPECT_FALSE(stress("BME280", "3v3", "")) << "nobody knows what its lines hang on";
  bench.devices = {{.id = "one", .part = "MAX31855", .rail = "3v3"}};
  std::string words;
  for (const Finding& each : wiring_list(bench, shipped_parts()).findings) words += each.words + "\n";
  EXPECT_THAT(words, HasSubstr("its lines come up to 5 V, it is fed with 3.3 V"));
  bench.buses[0].level_shift = true;
  EXPECT_FALSE(stress("BME280", "3v3", "bus"));
  bench.rails[0].voltage.nominal_v = 3.6;
  EXPECT_FALSE(stress("MAX31855", "3v3", "")) << "0.3 V more are borne";
  // Whoever chooses such a part is told beforehand.
  bench.rails[0].voltage.nominal_v = 5;
  const auto trial = try_part(bench, shipped_parts(), {.quantity = Quantity::temperature, .from = 0, .to = 900},
                              *shipped_parts().find("MAX31855"), "kiln");
  ASSERT_TRUE(trial) << trial.problem().wrong;
  EXPECT_THAT(trial->effort,
              testing::Contains(testing::Field(&Effort::words, HasSubstr("level shifter from 5 V to 3.3 V"))));
}

// LM35 gives 10 mV/K: 1.5 V at 150 °C, whatever feeds it. Behind an amplifier of 4 it would be 6 V.
TEST(PinStress, AVoltageIsJudgedOverThePartsRange) {
  const PinStress plain = stress_of(bench_of("LM35", {}));
  EXPECT_NEAR(plain.volts, 1.5, 1e-9);
  EXPECT_EQ(plain.when, "at 150 °C");
  EXPECT_FALSE(plain.is_too_much());
  const PinStress high = stress_of(bench_of("LM35", {.kind = FrontEndKind::amplifier, .gain = 4}));
  EXPECT_NEAR(high.volts, 6, 1e-9);
  EXPECT_TRUE(high.is_too_much());
}

// 20 mA over its 150 Ω are 3.00 V, whatever the range is called; no part at all puts more on a pin than what feeds it.
TEST(PinStress, NoneGoesBeyondWhatAPartCanRead) {
  Bench loop = bench_of("current-loop", {});
  loop.channels[0].quantity = Quantity::pressure;
  loop.channels[0].kind = PressureKind::gauge;
  loop.channels[0].wanted = {0, 2e5};
  loop.channels[0].unit = "kPa";
  EXPECT_NEAR(stress_of(loop).volts, 3.0, 1e-9);
  loop.devices[0].settings = {{"low", 0}, {"high", 2e5}, {"shunt", 165}};
  EXPECT_NEAR(stress_of(loop).volts, 3.3, 1e-9);
  // The loop is fed by a supply of its own, and its shunt stands between the input and ground.
  Bench tank;
  tank.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  tank.converters = {{.id = "adc", .reference_rail = "5v"}};
  const auto fitted = fit_part(tank, shipped_parts(), *shipped_parts().find("current-loop"));
  ASSERT_TRUE(fitted);
  EXPECT_EQ(fitted->bench.devices.front().front_end.rail, "");
  const WiringList wires = wiring_list(fitted->bench, shipped_parts());
  ASSERT_EQ(wires.rows.size(), 2u);
  EXPECT_THAT(wires.rows[0].from, HasSubstr("the loop's own supply"));
  EXPECT_EQ(wires.rows[1].from, "adc, input, with 150 Ω to ground");
  int judged = 0;
  for (const Part& part : shipped_parts().parts()) {
    if (part.is_digital()) continue;
    Bench bench;
    bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}},
                   {.id = "5v", .voltage = {.nominal_v = 5}},
                   {.id = "12v", .voltage = {.nominal_v = 12}}};
    bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "5v"}};
    const auto trial = fit_part(bench, shipped_parts(), part);
    if (!trial) continue;
    const auto stress = pin_stress(trial->bench, shipped_parts(), trial->bench.devices.back());
    if (!stress) continue;
    EXPECT_LE(stress->volts, 12) << part.id << " " << stress->when;
    ++judged;
  }
  EXPECT_GT(judged, 20);
}

TEST(PinStress, StandsInTheDrawingAndAmongWhatIsToDo) {
  const Bench bench = bench_of("ntc-beta", {.kind = FrontEndKind::divider});
  const BoardMap map = board_map(bench, shipped_parts());
  EXPECT_EQ(map.bears, "pins bear 3.6 V");
  ASSERT_TRUE(map.lines.front().hung.front().starved);
  EXPECT_THAT(*map.lines.front().hung.front().starved, HasSubstr("puts 5 V on A0"));
  const auto list = to_do(bench, shipped_parts(), 20000);
  ASSERT_FALSE(list.empty());
  EXPECT_EQ(list.front().severity, Severity::fault);
  EXPECT_THAT(list.front().words, HasSubstr("Air: puts 5 V on A0"));
  Bench tolerant = bench;
  tolerant.board.pins[1].most_v = 5.5;
  tolerant.board.pins.push_back({.name = "D2", .most_v = 5.5});
  EXPECT_EQ(board_map(tolerant, shipped_parts()).bears, "pins bear 5.5 V; A0 3.6 V");
}

// R 12 kΩ and C 120 pF by 1.1·R·C: 631.3 kHz; 66 clocks 104.5 µs, 73 clocks of a clock 15 % slower 133.0 µs.
TEST(Handshake, ItsTimesFollowFromItsClock) {
  Handshake handshake{.clock_ohm = 12e3,
                      .clock_farad = 120e-12,
                      .period_per_rc = 1.1,
                      .clock_minimum_hz = 100e3,
                      .clock_maximum_hz = 1.46e6,
                      .clocks_minimum = 66,
                      .clocks_maximum = 73,
                      .start_s = 100e-9,
                      .access_s = 200e-9,
                      .reset_s = 450e-9};
  const auto plan = plan_handshake(handshake);
  ASSERT_TRUE(plan);
  EXPECT_NEAR(plan->clock_hz, 631313.13, 0.01);
  EXPECT_NEAR(plan->shortest_s, 104.544e-6, 1e-11);
  EXPECT_NEAR(plan->longest_s, 132.9768e-6, 1e-11);
  EXPECT_NEAR(plan->reading_s, 133.2768e-6, 1e-11);
  ASSERT_EQ(plan->steps.size(), 4u);
  EXPECT_NEAR(plan->steps[2].to_s - plan->steps[2].from_s, 450e-9, 1e-15) << "ready stands until it is taken back";
  EXPECT_NEAR(plan->steps[3].to_s - plan->steps[3].from_s, 200e-9, 1e-15);
  for (const Finding& each : plan->findings) EXPECT_EQ(each.severity, Severity::note) << each.words;
  EXPECT_THAT(plan->findings.front().words, HasSubstr("asking holds the controller for up to 133 µs"));
  handshake.interrupts = true;
  EXPECT_THAT(plan_handshake(handshake)->findings.front().words, HasSubstr("the controller is free"));
}

// 8 MHz is 5.48 times 1.46 MHz: by 6 it is 1.33 MHz.
TEST(Handshake, ADividedClockIsHeldToTheSheet) {
  Handshake handshake{.fed_hz = 8e6, .clock_minimum_hz = 100e3, .clock_maximum_hz = 1.46e6, .clocks_maximum = 73};
  EXPECT_EQ(least_divider(handshake), 6);
  const auto fast = plan_handshake(handshake);
  EXPECT_EQ(fast->findings.front().severity, Severity::fault);
  EXPECT_THAT(fast->findings.front().words, HasSubstr("8 MHz is above the 1.46 MHz of its sheet"));
  EXPECT_THAT(fast->findings.front().words, HasSubstr("divided by 6"));
  handshake.divided_by = 6;
  EXPECT_NE(plan_handshake(handshake)->findings.front().severity, Severity::fault);
  EXPECT_NEAR(plan_handshake(handshake)->longest_s, 73 * 6 / 8e6, 1e-15);
  handshake.divided_by = 100;
  EXPECT_THAT(plan_handshake(handshake)->findings.front().words, HasSubstr("is 80 kHz, below the 100 kHz"));
  handshake = {.fed_hz = 146e3, .clock_minimum_hz = 100e3, .clock_maximum_hz = 120e3};
  EXPECT_EQ(least_divider(handshake), 0) << "half of it is too slow";
  handshake = {.fed_hz = 1e6, .clock_maximum_hz = 1e6};
  EXPECT_EQ(least_divider(handshake), 1);
  EXPECT_THAT(plan_handshake(handshake)->findings.front().words, HasSubstr("not stated"));
  EXPECT_FALSE(plan_handshake(Handshake()));
}

// Near a limit a clock of R and C may pass it with parts at the end of their tolerance: 1.4 MHz ÷ 0.85 is 1.65 MHz.
TEST(Handshake, AClockOfRAndCIsJudgedWithItsTolerance) {
  Handshake handshake{.clock_ohm = 10e3,
                      .clock_farad = 1 / (1.1 * 10e3 * 1.4e6),
                      .period_per_rc = 1.1,
                      .clock_minimum_hz = 100e3,
                      .clock_maximum_hz = 1.46e6};
  EXPECT_EQ(plan_handshake(handshake)->findings.front().severity, Severity::warning);
  EXPECT_THAT(plan_handshake(handshake)->findings.front().words, HasSubstr("comes to 1.65 MHz"));
  handshake.clock_farad = 1 / (1.1 * 10e3 * 110e3);
  EXPECT_THAT(plan_handshake(handshake)->findings.front().words, HasSubstr("may come down to 95.7 kHz"));
  handshake.rc_tolerance = 0.05;
  EXPECT_EQ(plan_handshake(handshake)->findings.front().severity, Severity::note);
}

// 1.28 V at the pin: 2.56 V of span, 10 mV a code of eight bits; 3 V would want 6 V of a supply of 5 V.
TEST(Handshake, TheHalfReferencePinIsHalfTheSpan) {
  const double volts[] = {1.28, 3};
  const auto rows = half_references(5, 8, volts);
  ASSERT_EQ(rows.size(), 3u);
  EXPECT_NEAR(rows[0].step_v, 19.53125e-3, 1e-12);
  EXPECT_FALSE(rows[0].beyond_supply);
  EXPECT_NEAR(rows[1].span_v, 2.56, 1e-12);
  EXPECT_NEAR(rows[1].step_v, 10e-3, 1e-12);
  EXPECT_TRUE(rows[2].beyond_supply);
}

}  // namespace fair_gauge::pin_test
