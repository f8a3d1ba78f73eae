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
  const auto handed = hand_over(bench, shipped_parts(), {.channel = "it"});
  ASSERT_FALSE(handed);
  EXPECT_THAT(to_text(handed.problem()), HasSubstr("worked out from other channels"));
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
