// Channels that are worked out from others. The dew point is checked by the Magnus formula with the coefficients of
// Sonntag 1990, which the program does not use; what is off, by a bench whose hardware really is off.
#include <gmock/gmock.h>

#include <cmath>
#include <fstream>

#include "bench/bench_things.h"
#include "bench/board_presets.h"
#include "calibrate/apply_correction.h"
#include "core/schema.h"
#include "demo.h"
#include "handoff/handoff.h"
#include "handoff/line_sketch.h"
#include "scratch_folder.h"
#include "stream/channel_log.h"
#include "stream/log_convert.h"
#include "stream/recorder.h"
#include "stream/review.h"
#include "truth/error_budget.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::derived_test {

using ::testing::ElementsAre;
using ::testing::HasSubstr;

double magnus_dew_point(double celsius, double rh) {
  const double g = std::log(rh / 100) + 17.62 * celsius / (243.12 + celsius);
  return 243.12 * g / (17.62 - g);
}

Bench with_derived(const std::string& as, const std::string& of, const std::string& beside,
                   std::optional<double> number = {}) {
  Bench bench = demo_bench();
  bench.channels.push_back(new_derived_channel(
      bench, *derived_quantity(as), {.as = as, .of = of, .beside = beside, .number = number, .unknown = {}}));
  bench.channels.back().id = "it";
  return bench;
}

class DerivedChannel : public ScratchFolder {
 protected:
  std::string path(const char* name) const { return (folder_ / name).string(); }
};

TEST_F(DerivedChannel, GoesBothWaysBesideTheOther) {
  const Bench bench = with_derived("dew-point", "room", "room_humidity");
  const Chain at_60 = *build_chain(bench, shipped_parts(), "it", {{"room_humidity", 60}});
  const Chain at_90 = *build_chain(bench, shipped_parts(), "it", {{"room_humidity", 90}});
  const double raw = *raw_for(demo_chain("room", bench), 18);
  EXPECT_NEAR(*read_raw(at_60, raw), magnus_dew_point(18, 60), 0.03);
  EXPECT_NEAR(*read_raw(at_90, raw), magnus_dew_point(18, 90), 0.03);
  for (const double dew : {2.0, 11.4, 17.0}) {
    EXPECT_NEAR(*read_raw(at_90, *raw_for(at_90, dew)), dew, 1e-3);
    // What was typed is the worked-out number; the temperature that makes it stands before it.
    const auto values = evaluate(at_90, {StageName::derived, dew});
    const auto* compensated = at_90.stage(StageName::compensated);
    EXPECT_NEAR(magnus_dew_point(*values[static_cast<std::size_t>(compensated - at_90.stages.data())], 90), dew, 0.03);
  }
  // 90 °C of dew beside 90 % is beyond what the room is looked for in.
  const auto beyond = raw_for(at_90, 90);
  ASSERT_FALSE(beyond);
  EXPECT_THAT(to_text(beyond.problem()), HasSubstr("no temperature makes the dew point 90 °C beside 90 %RH"));
  const auto lines = explain(at_90, raw);
  ASSERT_TRUE(std::ranges::any_of(lines, [](const StageTrace& each) { return each.stage == StageName::derived; }));
}

// ISO 2533 by hand: h = 44330.8 · (1 − (p ÷ 101325)^0.190263), so what 950 hPa at 500 m are at sea level must stand 500
// m above 950 hPa.
TEST_F(DerivedChannel, ANumberCanStandForTheOther) {
  const Bench bench = with_derived("sea-level-pressure", "room_pressure", "", 500);
  const Chain chain = *build_chain(bench, shipped_parts(), "it");
  const double read = *read_raw(chain, *raw_for(demo_chain("room_pressure", bench), 95000));
  const auto height = [](double pascal) { return 44330.8 * (1 - std::pow(pascal / 101325, 0.190263)); };
  EXPECT_NEAR(height(95000) - height(read), 500, 3);
}

TEST_F(DerivedChannel, DifferencesTakeAwayWhatTheirInputsShare) {
  // Two sensors of 10 mV/°C with 0.5 V at 0 °C at one converter, whose reference is off by 2 % at most and nothing else
  // is: 0.8 V and 0.7 V at 30 and 20 °C, so each is off by (V ÷ 0.01) · 0.02 ÷ √3, 0.924 and 0.808 °C, the difference
  // by 10 · 0.02 ÷ √3 = 0.11547 °C.
  Bench bench;
  bench.converters = {
      {.id = "adc", .bits = 16, .reference = {.nominal_v = 3.3, .tolerance = 0.02}, .noise_lsb = 0, .inl_lsb = 0}};
  for (const char* id : {"one", "two"}) {
    bench.devices.push_back({.id = id, .part = "TMP36", .converter = "adc"});
    bench.channels.push_back({.id = id, .device = id, .wanted = {0, 50}});
  }
  bench.channels.push_back(
      new_derived_channel(bench, *derived_quantity("temperature-difference"),
                          {.as = "temperature-difference", .of = "one", .beside = "two", .number = {}, .unknown = {}}));
  const Chain chain = *build_chain(bench, shipped_parts(), "temperature_difference", {{"two", 20}});
  const auto effects = source_effects(chain, 10);
  double shared = 0, alone = 0;
  for (const SourceEffect& each : effects)
    if (!each.source.cause.empty())
      shared += each.effect + each.later, alone = std::max(alone, std::abs(each.effect + each.later));
  EXPECT_NEAR(std::abs(shared), 0.11547, 2e-3);
  EXPECT_NEAR(alone, 0.9238, 0.01);
  const auto budget = error_budget(chain, 10);
  const auto line = std::ranges::find_if(
      budget->lines, [](const Contribution& each) { return each.name.find("reference") != std::string::npos; });
  ASSERT_NE(line, budget->lines.end());
  EXPECT_NEAR(line->standard, 0.11547, 2e-3);
  // Specimens drawn of both at once say the same.
  const auto spread = monte_carlo(chain, 10, 100'000, 3);
  EXPECT_NEAR(spread->standard, budget->combined, 0.02 * budget->combined);
}

// A sensor held against what it read at rest itself: 10 mV/°C with 0.5 V at 0 °C, so 0.8 V at 30 and 0.7 V at 20 °C. A
// reference that is 1 % low makes 30 of it 30.808 and 20 of it 20.707, and the rise 10.101 °C; of the sheet's own error
// only what runs from rest to here is left.
TEST_F(DerivedChannel, WhatItIsOffByAtRestTooIsNoError) {
  Bench bench;
  bench.rails = {{.id = "3v3", .name = "3.3 V", .voltage = {.nominal_v = 3.3, .tolerance = 0.02}}};
  bench.converters = {{.id = "adc", .bits = 24, .reference_rail = "3v3", .noise_lsb = 0, .inl_lsb = 0}};
  bench.devices = {{.id = "one", .part = "TMP36", .converter = "adc"}};
  bench.channels = {{.id = "one", .device = "one", .wanted = {0, 50}}};
  const DerivedFrom from{.as = "temperature-difference",
                         .of = "one",
                         .beside = "",
                         .number = 20,
                         .at_rest = 15,
                         .formula = {},
                         .unknown = {}};
  bench.channels.push_back(new_derived_channel(bench, *derived_quantity(from.as), from));
  const std::string id = bench.channels.back().id;
  const Chain chain = *build_chain(bench, shipped_parts(), id), one = demo_chain("one", bench);
  EXPECT_TRUE(chain.side_channels.empty());
  EXPECT_NEAR(*read_raw(chain, *raw_for(one, 30)), 10, 1e-4);
  EXPECT_NEAR(*read_raw(one, *raw_for(chain, 7)), 27, 1e-4);
  // Hardware that really is 1 % low, at rest as well.
  Bench real = bench;
  find_by_id(real.rails, "3v3")->voltage.nominal_v *= 0.99;
  const Chain truly = demo_chain("one", real);
  const double at_rest = *read_raw(one, *raw_for(truly, 20));
  EXPECT_NEAR(at_rest, 20.707, 1e-3);
  bench.channels.back().derived->number = at_rest;
  const double reads = *read_raw(*build_chain(bench, shipped_parts(), id), *raw_for(truly, 30));
  EXPECT_NEAR(reads, 10.101, 1e-3);
  const auto budget = error_budget(chain, 10);
  ASSERT_FALSE(budget->lines.empty());
  // A specimen's error may run straight from −4 °C at −40 to +4 °C at 125: over 10 °C by 8 · 10 ÷ 165, its two ends by
  // chances of their own.
  const double slope = 8.0 * 10 / 165 / std::sqrt(6.0);
  const auto line = std::ranges::find_if(
      budget->lines, [](const Contribution& each) { return each.name.find("reference") != std::string::npos; });
  ASSERT_NE(line, budget->lines.end());
  EXPECT_NEAR(line->standard, (reads - 10) * 2 / std::sqrt(3.0), 2e-3) << "2 % to either side";
  EXPECT_NEAR(budget->combined, std::hypot(line->standard, slope), 2e-3) << "nothing else";
  EXPECT_NEAR(monte_carlo(chain, 10, 100'000, 3)->standard, budget->combined, 0.02 * budget->combined);
  // Alone the sheet's ±2 °C and more are there.
  EXPECT_GT(error_budget(one, 30)->combined, 1);
  // A calibrated one: what came after the calibration is the same at both, too.
  find_by_id(bench.channels, "one")->correction = {
      .coefficients = {0.1}, .standard_uncertainty = 0.4, .covered = Range{0, 50}};
  EXPECT_NEAR(error_budget(*build_chain(bench, shipped_parts(), id), 10)->combined, budget->combined, 5e-3)
      << "an offset says nothing of the slope";
  // Noise is another at every reading: 2 steps of 12 bits, 0.0806 °C each, once for the reading and once for the mean
  // of 15; a step of 0.0806/√12 of the reading and of the rest.
  bench.converters[0].bits = 12, bench.converters[0].noise_lsb = 2;
  find_by_id(bench.rails, "3v3")->voltage.tolerance = 0;
  find_by_id(bench.channels, "one")->correction = {};
  const Chain noisy = *build_chain(bench, shipped_parts(), id);
  const double step = 3.3 / 4096 / 0.01;
  EXPECT_NEAR(error_budget(noisy, 10)->combined, std::hypot(slope, step * std::sqrt(4 + 4.0 / 15 + 2.0 / 12)), 2e-3);
  EXPECT_NEAR(monte_carlo(noisy, 10, 100'000, 3)->standard, error_budget(noisy, 10)->combined, 4e-3);
  // It stays over its file, and where it cannot be it says so.
  const auto again = bench_from_text(bench_to_text(bench), "");
  ASSERT_TRUE(again);
  EXPECT_EQ(again->bench.channels.back().derived, bench.channels.back().derived);
  bench.channels.back().derived->number.reset();
  const auto none = build_chain(bench, shipped_parts(), id);
  ASSERT_FALSE(none);
  EXPECT_THAT(to_text(none.problem()), HasSubstr("takes a second input"));
  Bench height = with_derived("sea-level-pressure", "room_pressure", "", 500);
  height.channels.back().derived->at_rest = 3;
  EXPECT_THAT(to_text(build_chain(height, shipped_parts(), "it").problem()), HasSubstr("only where both inputs"));
}

// Of a thermistor in a divider its own warmth is known, and at rest it was the same.
TEST_F(DerivedChannel, ItsOwnWarmthIsThereAtRestToo) {
  Bench bench = demo_bench();
  const auto of_two = [&](double rest) {
    Bench with = bench;
    const DerivedFrom from{.as = "temperature-difference",
                           .of = "substrate",
                           .beside = "",
                           .number = rest,
                           .at_rest = 9,
                           .formula = {},
                           .unknown = {}};
    with.channels.push_back(new_derived_channel(with, *derived_quantity(from.as), from));
    return *build_chain(with, shipped_parts(), with.channels.back().id);
  };
  const double alone = self_heating(demo_chain("substrate", bench), 24);
  ASSERT_GT(alone, 0.01);
  const Chain near = of_two(23.9);
  EXPECT_LT(std::abs(error_budget(near, 0.1)->known_bias), alone / 50);
  const auto spread = monte_carlo(near, 0.1, 100'000, 3);
  EXPECT_NEAR(spread->standard, error_budget(near, 0.1)->combined, 0.03 * spread->standard);
  EXPECT_NEAR(spread->mean, error_budget(near, 0.1)->known_bias, 4 * spread->standard / std::sqrt(1e5));
}

// By hand: straight lines between readings, cut at midnight, nothing over a gap.
TEST(DayDose, IsTheAreaUnderADay) {
  DayDose day;
  day.take(36'000, 100), day.take(36'600, 100), day.take(37'200, 400);
  EXPECT_DOUBLE_EQ(day.area(), 600 * 100 + 600 * 250);
  EXPECT_DOUBLE_EQ(day.seen_s(), 1200);
  day.take(37'200, 5000), day.take(37'000, 5000);  // no time has passed
  EXPECT_DOUBLE_EQ(day.area(), 210'000);
  day.take(37'200 + DayDose::longest_gap_s + 1, 400);  // nobody knows what it did
  EXPECT_DOUBLE_EQ(day.area(), 210'000);
  day.take(38'201, 400);
  EXPECT_DOUBLE_EQ(day.area(), 210'000 + 100 * 400);
  day.miss();
  day.take(38'301, 0), day.take(38'401, std::nan("")), day.take(38'501, 0);
  EXPECT_DOUBLE_EQ(day.area(), 250'000);
  EXPECT_DOUBLE_EQ(day.seen_s(), 1300);
  // 300 s before midnight to 100 s after it, from 80 down to 0: 20 at midnight.
  DayDose night;
  night.take(86'400 - 300, 80), night.take(86'400 + 100, 0);
  EXPECT_DOUBLE_EQ(night.area(), 100 * 10);
  EXPECT_DOUBLE_EQ(night.seen_s(), 100);
  night.take(3 * 86'400 + 5, 10);
  EXPECT_DOUBLE_EQ(night.area(), 0);
}

// Two days of a lamp on a log's own light channel, every ten minutes: 8 h a day at 2 500 lx, off for the rest. With
// straight lines between them the edges count half: 8 h and one step of ten minutes.
TEST_F(DerivedChannel, LightComesTogetherOverTheDay) {
  const Bench bench = with_derived("light-dose", "grow_light", "", 12 * 3600);
  const Chain light = demo_chain("grow_light", bench), chain = demo_chain("it", bench);
  EXPECT_EQ(chain.channel.unit, "lx.h");
  EXPECT_NEAR(*read_raw(chain, *raw_for(light, 1000)), 12'000, 20) << "before any reading: at this light for 12 h";
  EXPECT_NEAR(*read_raw(light, *raw_for(chain, 6000)), 500, 1);
  const auto seen = build_chain(bench, shipped_parts(), "it", {{"it", 1800}});
  EXPECT_NEAR(*read_raw(*seen, *raw_for(light, 1000)), 500, 1) << "seen for half an hour";
  ASSERT_TRUE(raw_for(light, 2500)) << to_text(raw_for(light, 2500).problem());
  ASSERT_TRUE(raw_for(light, 1));
  const double lit = std::round(*raw_for(light, 2500)), dark = std::round(*raw_for(light, 1));
  const double lux = *read_raw(light, lit), none = *read_raw(light, dark);
  std::string log = "time,grow_light\n";
  std::vector<double> hours;
  for (int i = 0; i < 2 * 144; ++i) {
    const bool on = i % 144 >= 36 && i % 144 < 84;
    log += "2026-03-0" + std::to_string(1 + i / 144) + "T" + (i % 144 / 6 < 10 ? "0" : "") +
           std::to_string(i % 144 / 6) + ":" + std::to_string(i % 6) + "0:00Z," +
           std::to_string(static_cast<long>(on ? lit : dark)) + "\n";
  }
  std::ofstream(path("light.csv")) << log;
  RowChains beside(bench, shipped_parts(), chain);
  const auto read = read_channel_log(path("light.csv"), chain, "", {}, &beside);
  ASSERT_TRUE(read);
  ASSERT_EQ(read->rows.size(), 288u);
  const double day = lux * 8 + none * (23 + 5.0 / 6 - 8);
  EXPECT_NEAR(read->rows[143].reading, day, 1e-6 * day + 1);
  EXPECT_NEAR(read->rows[144].reading, none / 6, 1) << "it begins anew at midnight";
  EXPECT_NEAR(read->rows[287].reading, day + none / 6, 1e-6 * day + 1);
  EXPECT_NEAR(read->rows[36].reading, lux / 12 + none * 6, 2) << "on for half a step";
  // The same from what came live, its clock begun somewhere in the day, and a part of it known before.
  DayDose before;
  before.take(3600, 100), before.take(4200, 100);
  beside.forget(before);
  const ChannelLog live = log_of_raws(chain, {{-600, lit}, {0, lit}}, &beside, {}, 5400);
  EXPECT_NEAR(live.rows[0].reading, 100.0 / 6 + (100 + lux) / 12, 1);
  EXPECT_NEAR(live.rows[1].reading, 100.0 / 6 + (100 + lux) / 12 + lux / 6, 1);
  for (const LogEvent& event : review_log(*read, chain, {.response_s = 1, .range = {0, 1e5}}).events)
    EXPECT_NE(event.kind, EventKind::jump) << "at midnight it begins anew";
  // A log without a time cannot say it.
  std::ofstream(path("timeless.csv")) << "grow_light\n100\n";
  RowChains timeless(bench, shipped_parts(), chain);
  EXPECT_THAT(to_text(read_channel_log(path("timeless.csv"), chain, "", {}, &timeless).problem()),
              HasSubstr("the log has no time"));
}

// A thermocouple and its cold junction at one converter: hardware whose reference is really 1 % low, read as if it were
// not. Both readings are high by it, and they add up.
TEST_F(DerivedChannel, AColdJunctionAtTheSameReferenceIsOffWithIt) {
  Bench bench = demo_bench();
  Device* junction = find_by_id(bench.devices, "board_die");
  junction->part = "TMP36";
  junction->converter = "adc";
  find_by_id(bench.channels, "board")->correction = {};
  const double low = 0.99;
  Bench real = bench;
  find_by_id(real.rails, "3v3")->voltage.nominal_v *= low;
  const double cold_code = *raw_for(demo_chain("board", real), 26),
               cold = *read_raw(demo_chain("board", bench), cold_code);
  const double code = *raw_for(*build_chain(real, shipped_parts(), "compost_probe", {{"board", 26}}), 60);
  const double reads = *read_raw(*build_chain(bench, shipped_parts(), "compost_probe", {{"board", cold}}), code);
  const double per_cent = reads - 60;  // for 1 %; a half-width of 2 % is 2 ÷ √3 of it
  ASSERT_GT(per_cent, 1);
  const Chain chain = *build_chain(bench, shipped_parts(), "compost_probe", {{"board", 26}});
  const auto budget = error_budget(chain, 60);
  const auto line = std::ranges::find_if(
      budget->lines, [](const Contribution& each) { return each.name.find(" and ") != std::string::npos; });
  ASSERT_NE(line, budget->lines.end());
  EXPECT_NEAR(line->standard, per_cent * 2 / std::sqrt(3.0), 0.05 * line->standard);
  const auto spread = monte_carlo(chain, 60, 100'000, 3);
  EXPECT_NEAR(spread->standard, budget->combined, 0.03 * budget->combined);
}

// Two channels off by nothing but their calibrations, 0.8 and 0.3 °C.
Bench two_calibrated() {
  Bench bench;
  bench.converters = {
      {.id = "adc", .bits = 24, .reference = {.nominal_v = 3.3, .tolerance = 0}, .noise_lsb = 0, .inl_lsb = 0}};
  for (const auto& [id, standard] : {std::pair{"one", 0.8}, {"two", 0.3}}) {
    bench.devices.push_back({.id = id, .part = "TMP36", .converter = "adc"});
    bench.channels.push_back({.id = id, .device = id, .wanted = {0, 50}});
    bench.channels.back().correction = {
        .coefficients = {0.1}, .standard_uncertainty = standard, .covered = Range{0, 50}};
  }
  return bench;
}

// Of a corrected input its calibration counts once: 0.8 and 0.3 °C of two corrected channels, nothing else left, are
// √(0.8² + 0.3²) = 0.8544 °C; with 0.6 ÷ √3 of the difference itself 0.9220 °C.
TEST_F(DerivedChannel, ACalibrationOfAnInputCountsOnce) {
  Bench bench = two_calibrated();
  bench.channels.push_back(
      new_derived_channel(bench, *derived_quantity("temperature-difference"),
                          {.as = "temperature-difference", .of = "one", .beside = "two", .number = {}, .unknown = {}}));
  const auto budget_of = [&] {
    return error_budget(*build_chain(bench, shipped_parts(), "temperature_difference", {{"two", 20}}), 10);
  };
  EXPECT_NEAR(budget_of()->combined, 0.8544, 2e-3);
  bench.channels.back().contributions.push_back({.name = "where they sit", .half_width = 0.6, .unknown = {}});
  EXPECT_NEAR(budget_of()->combined, 0.9220, 2e-3);
  const auto spread =
      monte_carlo(*build_chain(bench, shipped_parts(), "temperature_difference", {{"two", 20}}), 10, 100'000, 3);
  ASSERT_TRUE(spread);
  EXPECT_NEAR(spread->standard, 0.9220, 0.015);
}

// Two channels off by nothing but their calibrations, 0.8 and 0.3 °C: (a + 2b)/3 is off by √(0.8² + (2 · 0.3)²) ÷ 3 =
// 1/3 °C, a·b − 4 at 30 and 20 °C by √((20 · 0.8)² + (30 · 0.3)²) = 18.358.
TEST_F(DerivedChannel, AFormulaOfOnesOwnCarriesWhatItsInputsAreOff) {
  Bench bench = two_calibrated();
  DerivedFrom from{
      .as = "formula", .of = "one", .beside = "two", .number = {}, .formula = "(a + 2*b)/3", .unknown = {}};
  const auto keep = [&](const char* id, Quantity quantity) {
    const auto follows = what_follows(bench, from, quantity);
    if (!follows) return to_text(follows.problem());
    Channel channel = new_derived_channel(bench, **follows, from);
    channel.id = id;
    bench.channels.push_back(channel);
    return std::string();
  };
  ASSERT_EQ(keep("mean", Quantity::temperature), "");
  from.formula = "a·b − 4";  // as documents print it
  ASSERT_EQ(keep("product", Quantity::number), "");
  EXPECT_NEAR(bench.channels.back().wanted.to, 50 * 50 - 4, 1e-9);
  const auto built = [&](const char* id) { return build_chain(bench, shipped_parts(), id, {{"two", 20}}); };
  const Chain mean = *built("mean"), product = *built("product");
  EXPECT_NEAR(*read_raw(mean, *raw_for(demo_chain("one", bench), 30)), 70.0 / 3, 1e-3);
  EXPECT_NEAR(*read_raw(product, *raw_for(demo_chain("one", bench), 30)), 596, 1e-2);
  EXPECT_NEAR(*read_raw(mean, *raw_for(mean, 12)), 12, 1e-3);
  EXPECT_NEAR(error_budget(mean, 70.0 / 3)->combined, 1.0 / 3, 2e-3);
  EXPECT_NEAR(error_budget(product, 596)->combined, 18.358, 0.02);
  EXPECT_NEAR(monte_carlo(product, 596, 100'000, 3)->standard, 18.358, 0.2);
  // Back from its file it is the same.
  const auto again = bench_from_text(bench_to_text(bench), "");
  ASSERT_TRUE(again);
  EXPECT_EQ(find_by_id(again->bench.channels, "product")->derived, find_by_id(bench.channels, "product")->derived);
  EXPECT_TRUE(schema_problems(*parse_json(bench_to_text(bench), ""),
                              read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/bench.schema.json")->value)
                  .empty());
  // What cannot be is said, with what was expected.
  for (const auto& [formula, beside, wrong] : {std::tuple{"a +", "two", "is not understood"},
                                               {"a + c", "two", "is not understood"},
                                               {"2*a", "two", "does not use b"},
                                               {"3", "", "does not use a"},
                                               {"", "", "is not understood"},
                                               {"a + b", "", "is not understood"},
                                               {"a - b", "one", "the same channel"},
                                               {"a - b", "nobody", "there is no channel \"nobody\""}}) {
    from.formula = formula, from.beside = beside;
    EXPECT_THAT(keep("never", Quantity::temperature), HasSubstr(wrong)) << formula;
  }
  from.of = "", from.beside = "", from.formula = "2*a";
  EXPECT_THAT(keep("never", Quantity::temperature), HasSubstr("nothing is chosen for a"));
  // A comma parts decimals, a semicolon arguments: the larger of 0.8 · 30 and 20.
  from.of = "one", from.beside = "two", from.formula = "max(0,8*a; b)";
  ASSERT_EQ(keep("larger", Quantity::temperature), "");
  EXPECT_NEAR(*read_raw(*built("larger"), *raw_for(demo_chain("one", bench), 30)), 24, 1e-3);
  // Where the formula has no value there is no reading.
  from.formula = "ln(a - 25)", from.beside = "";
  ASSERT_EQ(keep("log", Quantity::number), "");
  const auto none = read_raw(*built("log"), *raw_for(demo_chain("one", bench), 20));
  ASSERT_FALSE(none);
  EXPECT_THAT(to_text(none.problem()), HasSubstr("there is no formula at 20 °C"));
}

TEST_F(DerivedChannel, IsWorkedOutRowByRow) {
  const Bench bench = with_derived("dew-point", "room", "room_humidity");
  const Chain room = demo_chain("room", bench), chain = demo_chain("it", bench);
  // Humidity comes every third row, and not in the first: what it read holds until it reads again.
  std::string log = "time,room,room_humidity\n";
  std::vector<double> expected;
  double rh = 0;
  for (int i = 0; i < 30; ++i) {
    const double celsius = 12 + 0.4 * i;
    std::string humidity;
    if (i % 3 == 1) {
      rh = 60 + i;
      const Chain moist = *build_chain(bench, shipped_parts(), "room_humidity", {{"room", celsius}});
      humidity = std::to_string(std::llround(*raw_for(moist, rh)));
    }
    log += std::to_string(i) + "," + std::to_string(std::llround(*raw_for(room, celsius))) + "," + humidity + "\n";
    expected.push_back(rh > 0 ? magnus_dew_point(celsius, rh) : std::nan(""));
  }
  std::ofstream(path("log.csv")) << log;
  std::string out;
  LogConverter converter(
      chain, "", 3, *chain.shown, [&](std::string_view text) { out += text; },
      std::make_unique<RowChains>(bench, shipped_parts(), chain));
  ASSERT_FALSE(converter.take(log));
  ASSERT_FALSE(converter.finish());
  EXPECT_EQ(converter.summary().converted, 29u);
  EXPECT_THAT(converter.summary().failed.begin()->first, HasSubstr("nothing is known yet of Room humidity"));
  RowChains beside(bench, shipped_parts(), chain);
  const auto read = read_channel_log(path("log.csv"), chain, "", {}, &beside);
  ASSERT_TRUE(read);
  ASSERT_EQ(read->rows.size(), 30u);
  EXPECT_FALSE(read->rows[0].is_good());
  std::istringstream lines(out);
  std::string line;
  std::getline(lines, line);
  EXPECT_THAT(line, HasSubstr(",it_Cel"));
  for (std::size_t i = 0; std::getline(lines, line); ++i) {
    if (i == 0) continue;
    EXPECT_NEAR(read->rows[i].reading, expected[i], 0.04) << i;
    EXPECT_NEAR(std::stod(line.substr(line.rfind(',') + 1)), read->rows[i].reading, 6e-4) << i;
  }
  // A humidity that fails is none: what it read before does not stand for it.
  std::ofstream(path("fails.csv"))
      << "time,room,room_humidity\n0,500000,30000\n1,500000,\n2,500000,broken\n3,500000,\n";
  RowChains failing(bench, shipped_parts(), chain);
  const auto fails = read_channel_log(path("fails.csv"), chain, "", {}, &failing);
  ASSERT_TRUE(fails);
  EXPECT_THAT((std::vector{fails->rows[0].is_good(), fails->rows[1].is_good(), fails->rows[2].is_good(),
                           fails->rows[3].is_good()}),
              ElementsAre(true, true, false, false));
  // Without the other column there is nothing to work it out from.
  std::ofstream(path("cut.csv")) << "time,room\n0,500000\n";
  RowChains alone(bench, shipped_parts(), chain);
  const auto cut = read_channel_log(path("cut.csv"), chain, "", {}, &alone);
  ASSERT_FALSE(cut);
  EXPECT_THAT(to_text(cut.problem()), HasSubstr("no column \"room_humidity\""));
}

// A thermocouple's log with its cold junction in another column is read with the junction of each row.
TEST_F(DerivedChannel, AThermocoupleFollowsTheJunctionOfItsRow) {
  const Bench bench = demo_bench();
  const Chain chain = demo_chain("compost_probe", bench), board = demo_chain("board", bench);
  std::string log = "time,compost_probe,board\n";
  for (const double cold : {15.0, 26.0, 40.0})
    log += "0," +
           std::to_string(
               std::llround(*raw_for(*build_chain(bench, shipped_parts(), "compost_probe", {{"board", cold}}), 60))) +
           "," + std::to_string(std::llround(*raw_for(board, cold))) + "\n";
  std::ofstream(path("log.csv")) << log;
  RowChains beside(bench, shipped_parts(), chain);
  EXPECT_THAT(beside.needs(), ElementsAre("board"));
  const auto read = read_channel_log(path("log.csv"), chain, "", {}, &beside);
  ASSERT_TRUE(read);
  for (const LogReading& row : read->rows) EXPECT_NEAR(row.reading, 60, 0.7);  // a step of the junction's is 0.5 °C
  const auto fixed = read_channel_log(path("log.csv"), chain);
  EXPECT_GT(std::abs(fixed->rows[0].reading - 60), 5);
  // The same from what came live.
  const ChannelLog live = log_of_raws(chain, {{1, read->rows[0].raw}, {2, read->rows[2].raw}}, &beside,
                                      {{"board", {{0.5, *raw_for(board, 15)}, {1.5, *raw_for(board, 40)}}}});
  for (const LogReading& row : live.rows) EXPECT_NEAR(row.reading, 60, 0.7);
}

// Threads read a long log in pieces: each piece knows what the other channel said before it, however long ago.
TEST_F(DerivedChannel, ALongLogIsReadInPiecesAsInOne) {
  if (is_sanitized) GTEST_SKIP() << "the threads' tests read logs beside one another too";
  const Bench bench = demo_bench();
  const Chain chain = demo_chain("compost_probe", bench), board = demo_chain("board", bench);
  std::string log = "time,compost_probe,board\n";
  // Twelve megabytes and more, three pieces.
  const int rows = 900'000, quiet_from = 150'000, quiet_to = rows - 150'000;
  std::vector<double> junctions;
  for (int i = 0; i < rows; ++i) {
    std::string cell;
    if (i % 1000 == 0 && (i < quiet_from || i >= quiet_to)) {
      junctions.push_back(20 + static_cast<double>(junctions.size() % 7));
      cell = std::to_string(std::llround(*raw_for(board, junctions.back())));
    }
    log += std::to_string(i) + ",1200," + cell + "\n";
  }
  std::ofstream(path("log.csv")) << log;
  RowChains beside(bench, shipped_parts(), chain);
  const auto read = read_channel_log(path("log.csv"), chain, "", {}, &beside);
  ASSERT_TRUE(read);
  ASSERT_EQ(read->rows.size(), static_cast<std::size_t>(rows));
  // By hand: the reading of that code beside each junction, until the next is said.
  std::map<double, double> readings;
  for (const double each : junctions) {
    const double junction = *read_raw(board, std::round(*raw_for(board, each)));
    readings[each] = chain.shown->from_base(
        *read_raw(*build_chain(bench, shipped_parts(), "compost_probe", {{"board", junction}}), 1200));
  }
  ASSERT_GT(std::abs(readings.at(20) - readings.at(26)), 4);
  std::size_t next = 0, wrong = 0;
  for (int i = 0; i < rows; ++i) {
    if (i % 1000 == 0 && (i < quiet_from || i >= quiet_to)) ++next;
    wrong += std::abs(read->rows[static_cast<std::size_t>(i)].reading - readings.at(junctions[next - 1])) > 0.1 ? 1 : 0;
  }
  EXPECT_EQ(wrong, 0u);
}

TEST_F(DerivedChannel, WhatCannotBeSaysSo) {
  const auto fault_of = [](const Bench& bench) {
    const auto chain = build_chain(bench, shipped_parts(), "it");
    return chain ? std::string() : to_text(chain.problem());
  };
  Bench bench = with_derived("dew-point", "room", "room_humidity");
  EXPECT_EQ(fault_of(bench), "");
  const auto changed = [&](auto change) {
    Bench other = bench;
    change(other.channels.back());
    return fault_of(other);
  };
  EXPECT_THAT(changed([](Channel& it) { it.derived->as = "dewpoint"; }),
              HasSubstr("\"dewpoint\" is nothing that can be worked out"));
  EXPECT_THAT(changed([](Channel& it) { it.derived->of = "nobody"; }), HasSubstr("there is no channel \"nobody\""));
  EXPECT_THAT(changed([](Channel& it) { it.derived->of = "room_humidity"; }),
              HasSubstr("\"room_humidity\" reads humidity"));
  EXPECT_THAT(changed([](Channel& it) { it.derived->of = "it"; }), HasSubstr("worked out itself"));
  EXPECT_THAT(changed([](Channel& it) { it.derived->beside.clear(); }), HasSubstr("takes a second input, humidity"));
  EXPECT_THAT(changed([](Channel& it) { it.quantity = Quantity::pressure, it.unit = "Pa"; }),
              HasSubstr("a dew point is a temperature, not a pressure"));
  EXPECT_THAT(changed([](Channel& it) { it.correction.coefficients = {1}; }), HasSubstr("no correction of its own"));
  EXPECT_THAT(changed([](Channel& it) { it.device = "air_sensor"; }), HasSubstr("no sensor of its own"));
  EXPECT_FALSE(put_correction(bench, shipped_parts(), "it", {}, {{.reference = 1, .reading = 2}},
                              CorrectionPlace::physical, {}));
  // It goes with what it is worked out from, and says what is gone where somebody took that by hand.
  Bench without = bench;
  take_away(without, {ThingKind::device, "air_sensor"});
  EXPECT_EQ(find_by_id(without.channels, "it"), nullptr);
  without = bench;
  take_away(without, {ThingKind::channel, "room_humidity"});
  EXPECT_EQ(find_by_id(without.channels, "it"), nullptr);
  without = bench;
  std::erase_if(without.channels, [](const Channel& each) { return each.id == "room_humidity"; });
  EXPECT_THAT(lacks_of(without, without.channels.back()),
              ElementsAre(HasSubstr("\"room_humidity\", from which it is worked out, is gone")));
}

TEST_F(DerivedChannel, IsKeptInTheFileAndNotInARecording) {
  const Bench bench = with_derived("dew-point", "room", "room_humidity");
  ASSERT_TRUE(save_bench(bench, path("bench.json")));
  const auto again = load_bench(path("bench.json"));
  ASSERT_TRUE(again);
  EXPECT_TRUE(again->problems.empty());
  EXPECT_EQ(again->bench, bench);
  auto recorder = Recorder::open(bench, shipped_parts(), path("week.csv"), RecordedColumns::all);
  ASSERT_TRUE(recorder);
  EXPECT_TRUE(recorder->take({"room:500000", {{"room", 500000, {}}}, std::nullopt}, 1e9));
  EXPECT_FALSE(recorder->take({"it:1", {{"it", 1, {}}}, std::nullopt}, 1e9));
  recorder->finish();
  std::ifstream file(path("week.csv"));
  std::string header;
  std::getline(file, header);
  EXPECT_THAT(header, HasSubstr(",room_humidity,"));
  EXPECT_THAT(header + ",", ::testing::Not(HasSubstr(",it,")));
  // A fault of an input is a fault of what hangs on it.
  std::ifstream whole(path("bench.json"));
  std::string text((std::istreambuf_iterator<char>(whole)), {});
  const auto at = text.find("\"beside\": \"room_humidity\"");
  ASSERT_NE(at, std::string::npos);
  std::ofstream(path("faulty.json")) << text.substr(0, at) << "\"beside\": \"nobody\"" << text.substr(at + 25);
  const auto faulty = load_bench(path("faulty.json"));
  ASSERT_TRUE(faulty);
  ASSERT_TRUE(faulty->faulty_channels.contains("it"));
  EXPECT_THAT(to_text(faulty->faulty_channels.at("it")), HasSubstr("there is no channel \"nobody\""));
}

TEST(DerivedQuantity, EachIsABenchByThePublishedSchema) {
  const auto schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/bench.schema.json");
  ASSERT_TRUE(schema);
  for (const DerivedQuantity& quantity : derived_quantities()) {
    Bench bench = demo_bench();
    bench.channels.push_back(new_derived_channel(bench, quantity, {.as = quantity.id, .of = "room"}));
    const auto written = parse_json(bench_to_text(bench), "b.json");
    ASSERT_TRUE(written);
    for (const Problem& problem : schema_problems(*written, schema->value))
      ADD_FAILURE() << quantity.id << ": " << to_text(problem);
  }
}

}  // namespace fair_gauge::derived_test
