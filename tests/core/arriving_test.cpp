// Values that other firmware converted, and lines that nobody has described yet.
#include <gmock/gmock.h>

#include <cmath>

#include "bench/bench_file.h"
#include "calibrate/apply_correction.h"
#include "demo.h"
#include "diagnose/behind_value.h"
#include "stream/channel_log.h"
#include "stream/listening.h"
#include "stream/log_cell.h"
#include "stream/log_listening.h"
#include "stream/switching.h"
#include "truth/error_budget.h"

namespace fair_gauge::arriving_test {

// One channel that says its value comes in °F with one decimal; behind it, by choice, nothing, a part, or its circuit.
Bench bench(const std::string& part = "", bool circuit = false) {
  Bench bench;
  Channel channel{.id = "air", .wanted = {0, 40}, .tolerance = 1};
  channel.arrives = Arrival{.unit = "[degF]", .decimals = 1};
  if (!part.empty()) {
    bench.devices = {{.id = "probe", .part = part, .converter = circuit ? "adc" : ""}};
    if (circuit) bench.converters = {{.id = "adc", .bits = 10, .reference = {.nominal_v = 5, .tolerance = 0.01}}};
    channel.device = "probe";
  }
  bench.channels = {channel};
  return bench;
}

Chain chain_of(const Bench& bench) {
  auto chain = build_chain(bench, shipped_parts(), "air");
  EXPECT_TRUE(chain) << to_text(chain.problem());
  return std::move(*chain);
}

// 72.5 °F are (72.5 − 32) · 5 / 9 = 22.5 °C, whatever stands behind the number.
TEST(ArrivingValue, IsReadFromItsUnit) {
  for (const auto& [part, circuit] : {std::pair{"", false}, {"DS18B20", false}, {"LM35", false}, {"LM35", true}}) {
    const Chain chain = chain_of(bench(part, circuit));
    const auto reading = read_raw(chain, 72.5);
    ASSERT_TRUE(reading) << part;
    EXPECT_NEAR(*reading, 22.5, 1e-9) << part;
    const auto back = raw_for(chain, 22.47);
    ASSERT_TRUE(back) << part;
    // With its circuit it goes through a code first: LM35 gives 0.2247 V, code 46 of 5 V / 1024, 22.46 °C, 72.4 °F.
    EXPECT_NEAR(*back, 72.4, 1e-9) << part;
  }
}

// Behind 72.5 °F stands 22.5 °C · 10 mV = 0.225 V, which is 46.08 steps of 5 V / 1024.
TEST(ArrivingValue, TheCodeBehindItIsWorkedOut) {
  const Chain chain = chain_of(bench("LM35", true));
  const auto values = evaluate(chain, {StageName::raw, 72.5});
  EXPECT_NEAR(*values[static_cast<std::size_t>(chain.stage(StageName::converter) - chain.stages.data())], 46.08, 1e-9);
  EXPECT_NEAR(*values[static_cast<std::size_t>(chain.stage(StageName::sensor) - chain.stages.data())], 0.225, 1e-12);
  EXPECT_NEAR(*values[static_cast<std::size_t>(chain.stage(StageName::shown) - chain.stages.data())], 22.5, 1e-9);
}

// One decimal of °F is a rectangle of ±0.05 °F: 0.05 / √3 · 5 / 9 = 0.016038 °C.
TEST(ArrivingValue, ItsDecimalsCountInTheBudget) {
  const auto alone = error_budget(chain_of(bench()), 22);
  ASSERT_TRUE(alone);
  EXPECT_NEAR(alone->combined, 0.05 / std::sqrt(3.0) * 5 / 9, 1e-6);
  EXPECT_TRUE(alone->lacks_accuracy);  // nobody says what measures it
  // DS18B20: ±0.5 °C between −10 and 85 °C: 0.288675; together √(0.288675² + 0.016038²) = 0.28912.
  const auto known = error_budget(chain_of(bench("DS18B20")), 22);
  EXPECT_NEAR(known->combined, std::hypot(0.5 / std::sqrt(3.0), 0.05 / std::sqrt(3.0) * 5 / 9), 1e-6);
  EXPECT_FALSE(known->lacks_accuracy);
  // With its circuit: LM35's ±2 °C at a 1 % reference (0.22 °C), the steps of 0.488 °C, and the decimals.
  const double step = 5.0 / 1024 / 0.01, third = 1 / std::sqrt(3.0);
  const auto whole = error_budget(chain_of(bench("LM35", true)), 22);
  double squares = 0;
  for (const double one :
       {2 * third, 22 * 0.01 * third, step * third, 0.5 * step, 0.5 * step * third, 0.05 * third * 5 / 9})
    squares += one * one;
  EXPECT_NEAR(whole->combined, std::sqrt(squares), 0.002);
}

TEST(ArrivingValue, WhatLibrariesSendWhenNothingAnswersIsNoReading) {
  Bench celsius = bench("DS18B20");
  celsius.channels[0].arrives->unit = "Cel";
  const Chain chain = chain_of(celsius);
  EXPECT_FALSE(read_raw(chain, -127));
  EXPECT_TRUE(read_raw(chain, 22.44));
  EXPECT_FALSE(read_raw(chain_of(bench("LM35", true)), 1500));
}

TEST(ArrivingValue, ACorrectionFollowsIt) {
  Bench corrected = bench();
  corrected.channels[0].correction.coefficients = {0.5, -0.01};
  // 22.5 + 0.5 − 0.01 · 22.5 = 22.775
  EXPECT_NEAR(*read_raw(chain_of(corrected), 72.5), 22.775, 1e-9);
}

TEST(ArrivingValue, ItsFileIsReadAndWritten) {
  const auto loaded = bench_from_text(R"({"fair_gauge_bench": 1, "channels": [
    {"id": "air", "quantity": "temperature", "arrives": {"as": "value", "unit": "[degF]", "decimals": 2}}]})",
                                      "b.json");
  ASSERT_TRUE(loaded);
  EXPECT_TRUE(loaded->problems.empty()) << to_text(loaded->problems.front());
  EXPECT_EQ(loaded->bench.channels[0].arrives->decimals, 2);
  const auto again = bench_from_text(bench_to_text(loaded->bench), "b.json");
  EXPECT_EQ(again->bench, loaded->bench);
  for (const char* wrong : {R"({"as": "value", "unit": "hPa"})", R"({"as": "value", "decimals": 12})",
                            R"({"as": "number"})", R"({"unit": "Cel"})", R"("value")", R"({"as": "raw"})"}) {
    const auto faulty = bench_from_text(
        std::string(R"({"fair_gauge_bench": 1, "channels": [{"id": "air", "arrives": )") + wrong + "}]}", "b.json");
    ASSERT_TRUE(faulty);
    EXPECT_FALSE(faulty->problems.empty()) << wrong;
    EXPECT_TRUE(faulty->faulty_channels.contains("air")) << wrong;
  }
}

// A heater on below 22 − 0.2 °C: 71.24 °F; of values with one decimal 71.2 is the last that is below.
TEST(ArrivingValue, SwitchesByTheValueThatArrives) {
  const SwitchCodes codes = switch_codes(chain_of(bench()), {.heats = true, .goal = 22, .band = 0.2});
  ASSERT_TRUE(codes.on && codes.off);
  EXPECT_EQ(codes.on->compare, "<");
  EXPECT_NEAR(codes.on->code, 71.3, 1e-9);
  // Off above 22.2 °C, 71.96 °F.
  EXPECT_EQ(codes.off->compare, ">=");
  EXPECT_NEAR(codes.off->code, 72.0, 1e-9);
}

TEST(ArrivingValue, TakesTheUnitThatStandsBehindTheNumber) {
  const Channel channel = bench().channels[0];
  EXPECT_NEAR(*number_for(channel, {.name = "air", .number = 22.5, .unit = "C"}), 72.5, 1e-9);
  EXPECT_NEAR(*number_for(channel, {.name = "air", .number = 72.5, .unit = "F"}), 72.5, 1e-9);
  EXPECT_NEAR(*number_for(channel, {.name = "air", .number = 72.5}), 72.5, 1e-9);
  EXPECT_FALSE(number_for(channel, {.name = "air", .number = 72.5, .unit = "%"}));
  EXPECT_FALSE(number_for(channel, {.name = "air", .bytes = {1, 2}}));
  // A unit makes no raw number.
  const Channel raw{.id = "air"};
  EXPECT_FALSE(number_for(raw, {.name = "air", .number = 22.5, .unit = "C"}));
  EXPECT_FALSE(number_for(raw, {.name = "air", .number = 22.5, .unit = "mV"}));
  EXPECT_EQ(*number_for(raw, {.name = "air", .number = 512, .unit = "counts"}), 512);
}

std::vector<LineProposal> heard(const std::string& text) {
  SerialText reader(true);
  Listener listener;
  double seconds = 0;
  for (const SerialLine& line : reader.take(text)) {
    EXPECT_FALSE(line.problem) << line.text;
    listener.take(line, seconds++);
  }
  return listener.proposals();
}

// A bench whose thermistor waits for a code, and whose humidity part for six bytes; the names on the line are others.
TEST(Listening, FindsTheChannelThatWaits) {
  Bench bench;
  bench.devices = {{.id = "probe", .part = "ntc-beta", .converter = "adc"}, {.id = "air", .part = "SHT31"}};
  bench.channels = {{.id = "block", .device = "probe"},
                    {.id = "temp", .device = "air"},
                    {.id = "hum", .device = "air", .quantity = Quantity::humidity}};
  const auto waiting = [&](const std::string& lines) { return waiting_channels(bench, shipped_parts(), heard(lines)); };
  using Found = std::map<std::string, std::string>;
  EXPECT_EQ(waiting("A0:512\nA0:515\n"), (Found{{"A0", "block"}}));
  EXPECT_EQ(waiting("A0:512 s:x6666938000A2\n"), (Found{{"A0", "block"}, {"s", "temp"}}));
  EXPECT_EQ(waiting("A0:512 A1:300\n"), Found{}) << "which of them nobody knows";
  EXPECT_EQ(waiting("block:512 A0:300\n"), Found{}) << "it has its own";
  EXPECT_EQ(waiting("s:x1234\n"), Found{}) << "as many bytes as the part does not send";
  EXPECT_EQ(waiting("inside:22.41 C\n"), Found{}) << "a value is no code";
  // The pin tells.
  bench.board.pins = {{.name = "A1", .uses = "probe"}};
  EXPECT_EQ(waiting("A0:512 A1:300\n"), (Found{{"A1", "block"}}));
  // Two that could be meant.
  bench.board.pins.clear();
  bench.devices.push_back({.id = "second", .part = "LM35", .converter = "adc"});
  bench.channels.push_back({.id = "duct", .device = "second"});
  EXPECT_EQ(waiting("A0:512\n"), Found{});
  bench.channels[0].line_name = "A7";
  EXPECT_EQ(waiting("A0:512 A7:300\n"), (Found{{"A0", "duct"}}));
}

TEST(Listening, SaysWhatEachNameMayBe) {
  struct Case {
    const char* lines;
    const char* name;
    ProposedForm form;
    std::optional<Quantity> quantity;
    const char* unit;
    int digits;  // decimals of a value, bits of a code
  };
  using enum ProposedForm;
  const Case cases[] = {
      {"Temperature: 22.4 C\n", "Temperature", value, Quantity::temperature, "Cel", 1},
      {"T=72.5F\n", "T", value, Quantity::temperature, "[degF]", 1},
      {"1013.2 hPa\n", "1", value, Quantity::pressure, "hPa", 1},
      {"Humidity: 45 %\n", "Humidity", value, Quantity::humidity, "%", 0},
      {"{\"t\": 22.41}\n", "t", value, Quantity::temperature, "Cel", 2},
      {"{\"air\":{\"hum\":45.5}}\n", "air.hum", value, Quantity::humidity, "%", 1},
      {"lux=120.5 lx\n", "lux", value, Quantity::illuminance, "lx", 1},
      {"adc:512\nadc:1019\n", "adc", code, {}, "", 10},
      {"adc:1024\n", "adc", code, {}, "", 12},
      {"a=70000;b=2\n", "a", code, {}, "", 24},
      {"lux:300\nlux:291\n", "lux", value, Quantity::illuminance, "lx", 0},
      {"north.lux:300\nnorth.lux:291\n", "north.lux", value, Quantity::illuminance, "lx", 0},
      {"C:300\n", "C", code, {}, "", 10},
      {"light:x01A3\n", "light", bytes, Quantity::illuminance, "", 0},
      {"out: 1.25 V\n", "out", volts, {}, "V", 0},
      {"Temp (F),x\n72.5,1\n", "Temp (F)", value, Quantity::temperature, "[degF]", 1},
      {"temp_C;x\n22,45;1\n", "temp_C", value, Quantity::temperature, "Cel", 2},
      {"pressure:1013.25\n", "pressure", value, Quantity::pressure, "hPa", 2},
      {"{\"pressure\": 101323}\n", "pressure", value, Quantity::pressure, "Pa", 0},
      {"{\"pressure\": 415148}\n", "pressure", code, Quantity::pressure, "", 24},
      {"p_pa:101321\n", "p_pa", value, Quantity::pressure, "Pa", 0},
      {"press_hpa: 1013\n", "press_hpa", value, Quantity::pressure, "hPa", 0},
      {"Approx. Altitude = 100.2 m\n", "Approx. Altitude", value, {}, "", 1},
      {"Sensor 1: T=22.4 C  H=45 %\n", "T", value, Quantity::temperature, "Cel", 1},
      {"Room temp: 22.4 \xC2\xB0"
       "C, raw: 12\n",
       "Room temp", value, Quantity::temperature, "Cel", 1},
  };
  for (const Case& each : cases) {
    const auto all = heard(each.lines);
    ASSERT_FALSE(all.empty()) << each.lines;
    const LineProposal& first = all.front();
    EXPECT_EQ(first.name, each.name) << each.lines;
    EXPECT_EQ(first.form, each.form) << each.lines;
    EXPECT_EQ(first.quantity, each.quantity) << each.lines;
    EXPECT_EQ(first.unit, each.unit) << each.lines;
    EXPECT_EQ(first.form == code ? first.bits : first.decimals, each.digits) << each.lines;
    EXPECT_FALSE(first.words.empty());
  }
}

TEST(Listening, MakesChannelsThatAreReadAtOnce) {
  std::vector<std::string> added;
  const auto proposals = heard("Room temp: 72.5 F  Hum: 45 %  raw: 1873\nRoom temp: 72.7 F  Hum: 46 %  raw: 1870\n");
  const Bench made = with_channels({}, proposals, &added);
  ASSERT_THAT(added, testing::ElementsAre("room_temp", "hum", "raw"));
  const auto chain = build_chain(made, shipped_parts(), "room_temp");
  ASSERT_TRUE(chain);
  EXPECT_NEAR(*read_raw(*chain, 72.5), 22.5, 1e-9);
  EXPECT_EQ(made.channels[0].line_name, "Room temp");
  EXPECT_EQ(made.channels[0].period_s, 1);
  EXPECT_THAT(build_chain(made, shipped_parts(), "raw").problem().wrong, testing::HasSubstr("which sensor"));
  EXPECT_EQ(first_to_look_at(made, {"raw", "hum"}), "hum");
  EXPECT_EQ(first_to_look_at(made, {"raw"}), "raw");
  // What the bench has already is left alone.
  EXPECT_EQ(with_channels(made, proposals), made);
}

TEST(Listening, OddLinesAreRefusedWithASentence) {
  for (const char* line : {"a:12 apples b:3x\n", "{\"a\":\n", "{\"a\":true}\n", "T=\n", "=5\n", "a:1 2\n"}) {
    SerialText reader(true);
    const auto lines = reader.take(line);
    ASSERT_EQ(lines.size(), 1u);
    EXPECT_TRUE(lines[0].problem) << line;
    EXPECT_TRUE(lines[0].items.empty()) << line;
  }
}

// Many names, long names, deep objects: bounded, and no fall.
TEST(Listening, NoiseDoesNotGrowForEver) {
  Listener listener;
  SerialText reader(true);
  std::string deep;
  for (int i = 0; i < 300; ++i) deep += "{\"abcdefgh\":";
  deep += "1" + std::string(300, '}') + "\n";
  for (const SerialLine& line : reader.take(deep)) listener.take(line);
  for (int i = 0; i < 3000; ++i)
    for (const SerialLine& line : reader.take("n" + std::to_string(i) + ":1\n")) listener.take(line);
  EXPECT_LE(listener.proposals().size(), 1000u);
}

// What a log's heading says of its columns, and its first rows.
TEST(LogColumns, SayWhatTheyMayBe) {
  const auto found = proposals_of_log(
      "No;Time (UTC);Outside [°F];Druck (hPa);lux;adc\n"
      "1;2026-10-24 22:00;53,6;1013,2;120;511\n2;2026-10-24 22:05;55,4;1012,9;131;498\n\n3;2026-10-24 "
      "22:10;x;1013;;\n");
  ASSERT_TRUE(found) << to_text(found.problem());
  ASSERT_EQ(found->size(), 3u) << "neither the number of a row nor what says nothing of itself";
  const LineProposal &outside = (*found)[0], &pressure = (*found)[1], &light = (*found)[2];
  EXPECT_EQ(outside.unit, "[degF]");
  EXPECT_EQ(outside.quantity, Quantity::temperature);
  EXPECT_EQ(outside.count, 2u);
  EXPECT_EQ(outside.period_s, 300);
  EXPECT_EQ(outside.decimals, 1);
  EXPECT_EQ(pressure.unit, "hPa");
  EXPECT_EQ(pressure.count, 3u);
  EXPECT_EQ(light.quantity, Quantity::illuminance);
  const Bench bench = with_channels({}, *found);
  EXPECT_EQ(bench.channels[0].id, "outside");
  EXPECT_EQ(bench.channels[0].line_name, "Outside [°F]");
  EXPECT_EQ(bench.channels[0].name, "Outside");
  EXPECT_TRUE(unknown_to(bench, *found).empty());
  // Where none says what it is, all are offered; without numbers there is nothing.
  EXPECT_EQ(proposals_of_log("millis,a,b\n0,1,2\n1000,3,4\n")->size(), 2u);
  std::vector<std::string> left_out;
  EXPECT_EQ(proposals_of_log("millis,temp_C,battery_V\n0,1,2\n1000,3,4\n", {}, &left_out)->size(), 1u);
  EXPECT_THAT(left_out, testing::ElementsAre("battery_V"));
  EXPECT_EQ(proposals_of_log("millis,a,b\n0,1,2\n1000,3,4\n")->front().period_s, 1);
  EXPECT_FALSE(proposals_of_log("time,words\n1,hello\n"));
  EXPECT_FALSE(proposals_of_log(""));
}

// One point against a reference: at 21 °C the error is known, at 30 °C nobody knows the slope.
TEST(ArrivingValue, OnePointProvesItsOwnPlace) {
  Bench one = bench();
  one.channels[0].correction = {.coefficients = {-1}, .standard_uncertainty = 0.1, .covered = Range{22, 22}};
  const auto here = error_budget(chain_of(one), 21), away = error_budget(chain_of(one), 30);
  ASSERT_TRUE(here && away);
  EXPECT_FALSE(here->lacks_accuracy);
  EXPECT_TRUE(away->lacks_accuracy && away->is_calibrated_elsewhere);
  EXPECT_FALSE(error_budget(chain_of(bench()), 30)->is_calibrated_elsewhere);
  one.channels[0].correction = {.coefficients = {-1, 0}, .standard_uncertainty = 0.1, .covered = Range{5, 35}};
  EXPECT_FALSE(error_budget(chain_of(one), 30)->lacks_accuracy);
}

// ---- what stood behind it ----

// 22.5 °C are 0.225 V, 46.08 steps of 5 V / 1024: code 46. A library that divides by 1023 makes 72.5 °F of
// 0.225 / 5 · 1023 = 46.035, which here is 46.035 / 1024 · 5 / 0.01 = 22.478 °C.
TEST(BehindValue, IsTheCodeAndWhatTheOtherDivisorWouldMean) {
  const Bench with_circuit = bench("LM35", true);
  const auto behind = behind_value(with_circuit, shipped_parts(), "air", 72.5);
  ASSERT_TRUE(behind) << to_text(behind.problem());
  EXPECT_EQ(behind->raw, 46);
  EXPECT_EQ(behind->least, 46);
  EXPECT_EQ(behind->most, 46);
  ASSERT_TRUE(behind->other);
  EXPECT_EQ(behind->other->divisor, 1023);
  EXPECT_NEAR(behind->other->reading, 22.5 * 1023 / 1024, 1e-9);
  Bench by_codes = with_circuit;
  by_codes.converters[0].convention = CodeConvention::codes;
  EXPECT_NEAR(behind_value(by_codes, shipped_parts(), "air", 72.5)->other->reading, 22.5 * 1024 / 1023, 1e-9);
  EXPECT_EQ(behind_value(by_codes, shipped_parts(), "air", 72.5)->other->divisor, 1024);
  // Where supply and reference are one, 72.5 °F of a thermistor in a divider is the same by both.
  Bench divider = bench("ntc-beta", true);
  divider.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  divider.converters[0].reference_rail = "5v";
  divider.devices[0].front_end = {.kind = FrontEndKind::divider, .rail = "5v"};
  const auto same = behind_value(divider, shipped_parts(), "air", 72.5);
  ASSERT_TRUE(same && same->other) << to_text(same.problem());
  EXPECT_GT(std::abs(same->other->reading - 22.5), 1e-6)
      << "the divisor does not cancel: the code is of the pin's share";
}

// DS18B20 gives sixteenths: of 22.4 °C, 358.4 of them, 358 (22.375) and 359 (22.4375) both are shown as 22.4.
TEST(BehindValue, OfADigitalPartIsItsRawNumber) {
  Bench celsius = bench("DS18B20");
  celsius.channels[0].arrives->unit = "Cel";
  const auto behind = behind_value(celsius, shipped_parts(), "air", 22.4);
  ASSERT_TRUE(behind) << to_text(behind.problem());
  EXPECT_EQ(behind->raw, 358);
  EXPECT_EQ(behind->least, 358);
  EXPECT_EQ(behind->most, 359);
  EXPECT_FALSE(behind->other);
  // The firmware's own offset of +0.5 is in what arrives: 22.9 − 0.5.
  Bench offset = celsius;
  offset.channels[0].correction = {.coefficients = {0.5}, .placed = CorrectionPlace::firmware};
  EXPECT_EQ(behind_value(offset, shipped_parts(), "air", 22.9)->raw, 358);
  offset.channels[0].correction.placed = CorrectionPlace::physical;  // comes after it arrived
  EXPECT_EQ(behind_value(offset, shipped_parts(), "air", 22.4)->raw, 358);
}

TEST(BehindValue, WhatCannotBeKnownIsSaid) {
  EXPECT_THAT(behind_value(bench(), shipped_parts(), "air", 72.5).problem().wrong,
              testing::HasSubstr("nobody has said"));
  Bench trimmed = bench("BMP280");
  EXPECT_THAT(behind_value(trimmed, shipped_parts(), "air", 72.5).problem().wrong, testing::HasSubstr("trimming"));
  EXPECT_FALSE(behind_value(bench("LM35", true), shipped_parts(), "air", 4000));
  Bench raw = bench("LM35", true);
  raw.channels[0].arrives.reset();
  EXPECT_FALSE(behind_value(raw, shipped_parts(), "air", 46));
  EXPECT_FALSE(behind_value(raw, shipped_parts(), "nobody", 46));
}

// Two codes more are 2 · 5 V / 1024 / 10 mV = 0.9766 °C more, wherever it reads: kept when the number arrives
// converted.
TEST(CorrectionOfReadings, KeepsWhatACorrectionOfCodesDoes) {
  Bench coded = bench("LM35", true);
  coded.channels[0].arrives.reset();
  coded.channels[0].correction = {.coefficients = {2}, .standard_uncertainty = 0.1, .placed = CorrectionPlace::raw};
  const auto moved = correction_of_readings(coded, shipped_parts(), "air");
  ASSERT_TRUE(moved);
  EXPECT_EQ(moved->placed, CorrectionPlace::physical);
  EXPECT_EQ(moved->standard_uncertainty, 0.1);
  ASSERT_GT(moved->table.size(), 10u);
  for (const auto& row : moved->table) EXPECT_NEAR(row[1], 10.0 / 10.24, 1e-9) << row[0];
  coded.channels[0].correction = *moved;
  coded.channels[0].arrives = Arrival{.unit = "Cel", .decimals = 2};
  EXPECT_NEAR(*read_raw(chain_of(coded), 20), 20.9766, 1e-4);
  EXPECT_FALSE(correction_of_readings(coded, shipped_parts(), "air")) << "it is one of readings now";
}

}  // namespace fair_gauge::arriving_test
