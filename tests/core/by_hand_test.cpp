// Sums of truth, digital and chain that other tests go past, each worked out by hand in the comment beside it.
#include <gmock/gmock.h>

#include <cmath>

#include "bridge_bench.h"
#include "chain/derived_link.h"
#include "chain/digital_link.h"
#include "chain/links.h"
#include "demo.h"
#include "digital/light_settings.h"
#include "digital/line_capture.h"
#include "digital/read_sequence.h"
#include "digital/registers.h"
#include "formulas/air.h"
#include "truth/agreement.h"
#include "truth/calibration_fit.h"
#include "truth/calibration_nodes.h"
#include "truth/error_budget.h"
#include "truth/model_choice.h"
#include "truth/monte_carlo.h"
#include "truth/procedures.h"
#include "truth/stability.h"

namespace fair_gauge::by_hand_test {

using testing::ElementsAre;
using testing::HasSubstr;

// ---- references of procedures ----

ReferenceValue reference(const char* id, const std::vector<double>& inputs) {
  const auto procedure = std::ranges::find(procedures(), id, &Procedure::id);
  EXPECT_NE(procedure, procedures().end()) << id;
  const auto value = procedure->reference(inputs);
  EXPECT_TRUE(value) << id;
  return value ? *value : ReferenceValue{};
}

TEST(Procedures, KnowHowGoodTheirReferenceIs) {
  // A half-width of 0.05, flat: 0.05 ÷ √3.
  EXPECT_NEAR(reference("ice-point", {0.05}).standard, 0.0288675, 1e-6);
  EXPECT_NEAR(reference("instrument-humidity", {60, 2}).standard, 1.154701, 1e-6);
  EXPECT_TRUE(std::isnan(reference("instrument-humidity", {60, 0}).standard));
  EXPECT_NEAR(reference("pressure-zero", {0.5}).standard, 0.288675, 1e-6);
  EXPECT_NEAR(reference("dark-zero", {0.1}).standard, 0.0577350, 1e-6);
  EXPECT_NEAR(reference("cold-trim", {21, 0.5}).standard, 0.288675, 1e-6);
  // 21 °C and 3.2 of its own, under load 1.4 more; √(0.5² + 0.3²) ÷ √3.
  EXPECT_NEAR(reference("warm-trim", {21, 0.5, 3.2, 1.4, 0, 0.3}).value, 24.2, 1e-9);
  EXPECT_NEAR(reference("warm-trim", {21, 0.5, 3.2, 1.4, 1, 0.3}).value, 25.6, 1e-9);
  EXPECT_NEAR(reference("warm-trim", {21, 0.5, 3.2, 1.4, 1, 0.3}).standard, 0.336650, 1e-6);
  Channel recorded;
  const Procedure& warm = *std::ranges::find(procedures(), "warm-trim", &Procedure::id);
  EXPECT_TRUE(std::isnan(warm.inputs[2].usual_for(recorded))) << "it has to be typed";
  EXPECT_EQ(warm.inputs[3].usual_for(recorded), 0);
  recorded.warm_up = WarmUp{.rise = 3.2, .time_constant_s = 140, .under_load = 1.4};
  EXPECT_EQ(warm.inputs[2].usual_for(recorded), 3.2);
  EXPECT_EQ(warm.inputs[3].usual_for(recorded), 1.4);
  EXPECT_EQ(warm.inputs[1].usual_for(recorded), 0.5);
  // Steam tables: 99.974 °C at 1013.25 hPa and 100.251 at 1023.25, 2.77e-4 K a pascal. 100 ÷ √3 of that are 0.0160,
  // with the pot's 0.1 ÷ √3 = 0.0577 together 0.0599; by height 1500 ÷ √3 of it are 0.2399, together 0.2467.
  EXPECT_NEAR(reference("boiling-point", {0, 101325, 0}).value, 99.97, 0.02);
  EXPECT_NEAR(reference("boiling-point", {0, 101325, 0}).standard, 0.0599, 3e-4);
  EXPECT_NEAR(reference("boiling-point", {1, 0, 0}).standard, 0.2467, 1e-3);
  // 60 ÷ √3 = 34.641 with a metre, 12 ÷ √3 = 6.928: 35.327.
  EXPECT_NEAR(reference("barometer-report", {0, 100000, 100, 15, 60}).standard, 35.327, 1e-3);
  // A metre of water at 20 °C is 998.2 · 9.8107 = 9793 Pa: 0.001 ÷ √3 of it 5.654, 3e-4 ÷ √3 of 979.3 Pa 0.170: 5.657.
  EXPECT_NEAR(reference("water-column", {0.1, 0, 20, 50, 0.001}).value, 979.3, 0.2);
  EXPECT_NEAR(reference("water-column", {0.1, 0, 20, 50, 0.001}).standard, 5.657, 2e-3);
  // Tilted by 60 degrees half the length is height.
  EXPECT_NEAR(reference("water-column", {0.1, 60, 20, 50, 0.001}).value, 489.65, 0.1);
  // A quarter of 1000 lx. Relative: 50 ÷ √3 ÷ 1000 = 0.028868; 2 · 0.005 ÷ √3 · √(1/0.5² + 1/1²) = 0.012910; 0.031623.
  EXPECT_NEAR(reference("inverse-square", {1000, 50, 0.5, 1, 0.005}).value, 250, 1e-9);
  EXPECT_NEAR(reference("inverse-square", {1000, 50, 0.5, 1, 0.005}).standard, 7.9057, 1e-3);
}

TEST(Procedures, ASaltLeansOnItsTemperature) {
  // Vapour pressure rises by 17.62 · 243.12 ÷ (243.12 + 25)² = 5.959 % a kelvin at 25 °C (Magnus): 75.3 %RH above
  // sodium chloride by 4.487 points. 0.5 ÷ √3 of that is 1.295.
  const auto& salts = formulas::salts();
  const auto common =
      std::ranges::find(salts, std::string("NaCl"), [](const auto& salt) { return std::string(salt.formula); });
  ASSERT_NE(common, salts.end());
  const auto at = static_cast<double>(common - salts.begin());
  const ReferenceValue here = reference("salt", {at, 25, 0.5});
  EXPECT_NEAR(here.value, 75.3, 0.1);
  EXPECT_NEAR(here.standard, std::hypot(1.295, common->standard), 5e-3);
  EXPECT_NEAR(reference("salt", {at, 25, 0}).standard, common->standard, 1e-12);
}

// ---- series, fits, decisions ----

TEST(TimeLag, IsFoundBetweenTheSamples) {
  const auto hump = [](double lag, int count) {
    Series series;
    for (int second = 0; second < count; second += 2) {
      series.seconds.push_back(second);
      series.values.push_back(20 + 5 * std::exp(-std::pow((second - 300 - lag) / 50, 2)));
    }
    return series;
  };
  for (const double lag : {-40.3, 0.0, 17.7, 55.2})
    EXPECT_NEAR(*time_lag(hump(0, 602), hump(lag, 602), 120), lag, 0.1) << lag;
  // Seven readings of either are too few to say.
  EXPECT_FALSE(time_lag(hump(0, 602), hump(0, 14), 120));
  EXPECT_FALSE(time_lag(hump(0, 14), hump(0, 602), 120));
}

// Somebody forgot to lead the sensor to the second reference: a line of 390 for 0.2 is no calibration.
TEST(ModelChoice, PointsThatReadAlikeAndShouldNotAreNoLine) {
  const auto stuck = choose_model({{650, 695.2, 11.5}, {1040, 695.0, 11.5}}, 0, {0, 1200}, 60);
  ASSERT_TRUE(stuck);
  EXPECT_EQ(stuck->reports[stuck->recommended].model, FitModel::offset);
  EXPECT_THAT(stuck->why, testing::HasSubstr("read 695.2 and 695, as good as the same, where the reference said 650 "
                                             "and 1040"));
  // Led there, a part that reads four times too little is a line all the same; so are points that scatter at one place.
  const auto led = choose_model({{100, 30, 5}, {1040, 265, 5}}, 0, {0, 1200}, 60);
  EXPECT_EQ(led->reports[led->recommended].model, FitModel::line);
  const auto again = choose_model({{20.0, 20.1, 0.1}, {20.3, 20.1, 0.1}, {40, 41, 0.1}}, 0, {0, 50}, 0.5);
  EXPECT_THAT(again->why, testing::Not(testing::HasSubstr("as good as the same")));
}

// Two that read 8 apart where the references are 20 apart are a slope of 2.5, however close together.
TEST(ModelChoice, PointsThatFollowAreNoContradiction) {
  const auto steep = choose_model({{500, 500, 0.1}, {520, 508, 0.1}}, 0, {0, 1200}, 10);
  ASSERT_TRUE(steep);
  EXPECT_THAT(steep->why, testing::Not(testing::HasSubstr("as good as the same")));
}

// Nine points, a line of two unknowns: the miss of one by the fit of the others has 9 − 1 − 2 = 6 degrees of freedom,
// and Student's t at 0.01 ÷ 9 on two sides is 5.840. The middle one lies 6.3 and 5.5 of its deviations off, worked out
// by textbook sums.
TEST(ModelChoice, AnOutlierIsJudgedByItsDegreesOfFreedom) {
  const double readings[] = {2, 8, 14, 20, 26, 32, 38, 44, 49},
               off[] = {0.02, -0.01, 0.015, -0.02, 0, 0.01, -0.015, 0.02, -0.01};
  const auto points = [&](double middle) {
    std::vector<CalibrationPoint> all;
    for (std::size_t i = 0; i < 9; ++i)
      all.push_back({readings[i] + 0.3 - 0.02 * readings[i] + off[i] + (i == 4 ? middle : 0), readings[i], 0});
    return all;
  };
  EXPECT_THAT(choose_model(points(0.1195101), 0, {0, 50}, 0.5)->outliers, ElementsAre(4u));
  EXPECT_THAT(choose_model(points(0.1044903), 0, {0, 50}, 0.5)->outliers, testing::IsEmpty());
}

TEST(ModelChoice, CountsUnknownsByTheirCriterion) {
  const auto points = [](const std::vector<double>& corrections, double uncertainty) {
    std::vector<CalibrationPoint> all;
    for (const double each : corrections) {
      const double reading = 10.0 * static_cast<double>(all.size());
      all.push_back({.reference = reading + each, .reading = reading, .uncertainty = uncertainty});
    }
    return all;
  };
  // An offset of 1, 2 and 3 is 2 and leaves −1, 0, 1. Known to ±1: Σ = 2, 2k = 2, 2k(k + 1)/(n − k − 1) = 4: 8.
  const auto known = choose_model(points({1, 2, 3}, 1), 0, {0, 20}, 1);
  ASSERT_TRUE(known && known->reports[0].criterion);
  EXPECT_NEAR(*known->reports[0].criterion, 8, 1e-9);
  // Left out one after another it misses by 1 − 2.5, 0 and 3 − 1.5: √(4.5 / 3).
  EXPECT_NEAR(*known->reports[0].left_out, 1.224745, 1e-5);
  EXPECT_NEAR(known->reports[0].worst_residual, 1, 1e-9);
  // Of five with an unknown scatter: 5 ln(2/5) + 4 + 12/2 = −4.58145 + 10.
  const auto unknown = choose_model(points({1, 2, 3, 2, 2}, 0), 0, {0, 40}, 1);
  ASSERT_TRUE(unknown && unknown->reports[0].criterion);
  EXPECT_NEAR(*unknown->reports[0].criterion, 5.41855, 1e-4);
}

TEST(Decide, TheLimitItselfIsKept) {
  EXPECT_EQ(decide(0.25, 0.25, 0.5), Decision::passes);
  EXPECT_EQ(decide(-0.25, 0.25, 0.5), Decision::passes);
  EXPECT_EQ(decide(0.25, 0.375, 0.5), Decision::undecided);
  EXPECT_EQ(decide(0.75, 0.25, 0.5), Decision::undecided);
  EXPECT_EQ(decide(-1, 0.25, 0.5), Decision::fails);
}

TEST(BudgetDiffers, AKnownBiasIsNotLopsided) {
  Budget budget;
  budget.known_bias = 1, budget.combined = 0.5, budget.expanded = 1;
  MonteCarlo spread;
  spread.trials = 1'000'000, spread.standard = 0.8, spread.low = -0.6, spread.high = 2.6;  // 1 ± 1.6
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("wider"));
  spread.low = 0.6, spread.high = 1.4;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("narrower"));
  spread.low = 0.5, spread.high = 3.5;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("lopsided"));
  spread.low = 0, spread.high = 2;
  EXPECT_EQ(budget_differs(budget, spread), "");
  spread.without_reading = 2000;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("no reading"));
}

// Of a combined uncertainty of 1.0, in two digits, half a unit of the second is 0.05; chance moves an end of a million
// by 4 · 1 ÷ √50 000 = 0.018.
TEST(BudgetDiffers, ByLessThanTwoDigitsSayIsNoDifference) {
  Budget budget;
  budget.combined = 1, budget.expanded = 2;
  MonteCarlo spread;
  spread.trials = 1'000'000, spread.standard = 1, spread.low = -2.06, spread.high = 2.06;
  EXPECT_EQ(budget_differs(budget, spread), "");
  spread.low = -2.08, spread.high = 2.08;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("wider"));
}

// At 0.1 °C of 10 mV/°C on a single supply: what goes below 0 V reads 0, and the other side counts for both.
TEST(ErrorBudget, AnEndOnOneSideDoesNotHalveASource) {
  Bench bench;
  bench.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 16, .reference_rail = "5v", .noise_lsb = 0, .inl_lsb = 0}};
  bench.devices = {{.id = "probe", .part = "LM35", .converter = "adc"}};
  bench.channels = {{.id = "air", .device = "probe", .wanted = {0, 50}}};
  const Chain chain = demo_chain("air", bench);
  const double there = error_budget(chain, 10)->combined, at_the_end = error_budget(chain, 0.1)->combined;
  ASSERT_GT(there, 0.3);
  EXPECT_NEAR(at_the_end, there, 0.02 * there);
}

TEST(FitCalibration, ManyPointsAreALineAndNoTable) {
  std::vector<CalibrationPoint> many;
  for (int i = 0; i < 2001; ++i) many.push_back({0.02 * i + 0.5, 0.02 * i, 0.1});
  EXPECT_FALSE(fit_calibration(FitModel::table, many, 0));
  const auto line = fit_calibration(FitModel::line, many, 0);
  ASSERT_TRUE(line);
  EXPECT_NEAR(line->predict(20).correction, 0.5, 1e-9);
}

TEST(Stability, SpreadsAboutItsTrend) {
  std::vector<double> seconds, line;
  for (int i = 0; i < 30; ++i) seconds.push_back(2.0 * i), line.push_back(20 + 0.02 * i);  // 0.01 a second
  const Stability drifting = judge_stability(seconds, line, 0.5);
  EXPECT_NEAR(drifting.drift_per_minute, 0.6, 1e-9);
  EXPECT_NEAR(drifting.sd, 0, 1e-9) << "all of it is drift";
  EXPECT_NEAR(drifting.mean, 20.29, 1e-9);
  EXPECT_FALSE(drifting.stable);
  // ±0.1 in turn about 20: 30 · 0.01 ÷ 28 = 0.010714, its root 0.10351; of the mean a √30th.
  for (int i = 0; i < 30; ++i) line[static_cast<std::size_t>(i)] = i % 2 ? 20.1 : 19.9;
  const Stability still = judge_stability(seconds, line, 0.5);
  EXPECT_NEAR(still.sd, 0.1035, 1e-3);
  EXPECT_NEAR(still.standard_error, 0.0189, 2e-4);
}

TEST(CalibrationNodes, CarryWhatAPointKnowsToAValue) {
  Correction correction;
  correction.covered = Range{0, 20};
  correction.standard_uncertainty = 0.1;
  const auto nodes = [&](double value) { return calibration_nodes(correction, value); };
  correction.coefficients = {0.5};
  EXPECT_THAT(nodes(3).at, ElementsAre(10));
  EXPECT_THAT(nodes(3).weights, ElementsAre(1));
  correction.coefficients = {0.5, 0.01};  // a line is what its ends are: three quarters and one
  EXPECT_THAT(nodes(5).at, ElementsAre(0, 20));
  EXPECT_THAT(nodes(5).weights, ElementsAre(testing::DoubleEq(0.75), testing::DoubleEq(0.25)));
  correction.coefficients = {0.5, 0.01, 0.001};
  // Lagrange at 5 of 0, 10 and 20: (5·15)/(10·20), (5·15)/(10·10), −(5·5)/(20·10).
  EXPECT_THAT(nodes(5).weights,
              ElementsAre(testing::DoubleEq(0.375), testing::DoubleEq(0.75), testing::DoubleEq(-0.125)));
  correction.coefficients = {0, 0.01};  // a slope through the origin grows with its distance
  correction.covariance = {{0, 0}, {0, 1e-6}};
  EXPECT_THAT(nodes(5).at, ElementsAre(20));
  EXPECT_THAT(nodes(5).weights, ElementsAre(testing::DoubleEq(0.25)));
  correction.coefficients.clear(), correction.covariance.clear();
  correction.table = {{0, 0.1}, {10, 0.3}, {30, 0.2}};
  EXPECT_THAT(nodes(15).at, ElementsAre(10, 30));
  EXPECT_THAT(nodes(15).weights, ElementsAre(testing::DoubleEq(0.75), testing::DoubleEq(0.25)));
  EXPECT_THAT(nodes(10).weights, ElementsAre(0, 1));
  EXPECT_THAT(nodes(-5).at, ElementsAre(0));
  EXPECT_THAT(nodes(40).at, ElementsAre(30));
  EXPECT_THAT(nodes(40).weights, ElementsAre(1));
  correction.standard_uncertainty = 0;
  EXPECT_TRUE(nodes(5).at.empty());
}

// ---- lines ----

TEST(Lines, OfPulsesStandElevenMicrosecondsApart) {
  const LineTrace line = record_pulses(3);
  ASSERT_EQ(line.edges.size(), 7u);
  for (int i = 0; i < 3; ++i) {
    const Edge &up = line.edges[static_cast<std::size_t>(1 + 2 * i)],
               &down = line.edges[static_cast<std::size_t>(2 + 2 * i)];
    EXPECT_TRUE(up.high && !down.high);
    EXPECT_NEAR(up.seconds, 52e-3 + i * 11.3636e-6, 1e-9);
    EXPECT_NEAR(down.seconds - up.seconds, 5.6818e-6, 1e-9) << "half of it high";
  }
  // 9 to 14 µs are what its clock may make; 8 and 15 are not.
  for (const auto& [apart, is_right] :
       {std::pair{8e-6, false}, {9.5e-6, true}, {11.4e-6, true}, {13.5e-6, true}, {15e-6, false}}) {
    LineTrace two{"pulses", {{0, false}}};
    for (const double at : {1e-3, 1e-3 + apart})
      two.edges.push_back({at, true}), two.edges.push_back({at + 4e-6, false});
    EXPECT_EQ(decode_pulses(two).fault.empty(), is_right) << apart;
  }
}

// Nine clocks a byte: the address and all bytes but the last are acknowledged, and the line is low there.
TEST(Lines, OfTwoWiresEndWithoutAcknowledge) {
  const auto lines = record_two_wire(0x48, {0x12, 0x34, 0x56});
  const LineTrace &clock = lines[0], &data = lines[1];
  std::vector<bool> levels;
  for (const Edge& edge : clock.edges) {
    if (!edge.high || edge.seconds == 0) continue;
    bool level = true;
    for (const Edge& each : data.edges)
      if (each.seconds < edge.seconds) level = each.high;
    levels.push_back(level);
  }
  ASSERT_GE(levels.size(), 36u);
  std::vector<int> acknowledged;
  for (std::size_t i = 8; i < 36; i += 9) acknowledged.push_back(levels[i] ? 0 : 1);
  EXPECT_THAT(acknowledged, ElementsAre(1, 1, 1, 0));
}

TEST(Floating, IsTakenApartInItsArithmetic) {
  // 3 · 2¹² + 5: the mantissa 5 with the exponent 3.
  const auto lines = FloatingLink(12, 4).explain(3 * 4096 + 5, {});
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_EQ(lines[0].value, 5);
  EXPECT_THAT(lines[0].expression, testing::EndsWith("293 & 4095"));
  EXPECT_THAT(lines[0].note, HasSubstr("exponent 3"));
}

TEST(Procedures, ExpectAnInstrumentOfUsualQuality) {
  for (const auto& [id, good] : {std::pair{"instrument-temperature", 0.1},
                                 {"instrument-humidity", 2.0},
                                 {"instrument-pressure", 50.0},
                                 {"instrument-illuminance", 20.0}})
    EXPECT_EQ(std::ranges::find(procedures(), id, &Procedure::id)->inputs[1].usual, good) << id;
}

// Of gauges the difference to what they showed at rest says something, a height does not.
TEST(Tared, PressuresNeedNotBeAbsoluteForTheirDifference) {
  for (const auto& [as, is_right] : {std::pair{"pressure-difference", true}, {"height-above", false}}) {
    Bench bench = bridge_bench(6'000);
    DerivedFrom from{.as = as, .of = "p", .number = 100, .at_rest = 5};
    bench.channels.push_back(new_derived_channel(bench, *derived_quantity(as), from));
    EXPECT_EQ(static_cast<bool>(build_chain(bench, shipped_parts(), bench.channels.back().id)), is_right) << as;
  }
}

// ---- reading ----

TEST(ReadSequence, HasTheTimesOfItsLines) {
  const auto lasts = [](const SequenceStep& step) { return step.to_s - step.from_s; };
  // One-wire: a reset of 960 µs and 10 bytes of 8 · 65 µs, 6.16 ms; to collect 9 more bytes, 10.84 ms.
  const auto one_wire = read_sequence(*shipped_parts().find("DS18B20"));
  ASSERT_EQ(one_wire.size(), 3u);
  EXPECT_NEAR(lasts(one_wire[0]), 6.16e-3, 1e-9);
  EXPECT_NEAR(lasts(one_wire[1]), 0.75, 1e-9);
  EXPECT_NEAR(lasts(one_wire[2]), 10.84e-3, 1e-9);
  EXPECT_NEAR(line_time(one_wire), 17e-3, 1e-9);
  EXPECT_NEAR(one_wire[2].from_s, 0.75616, 1e-9);
  // A single wire: 1 ms of low, then 160 µs and 40 bits of 100 µs.
  const auto single = read_sequence(*shipped_parts().find("DHT22"));
  EXPECT_NEAR(lasts(single.front()), 1e-3, 1e-9);
  EXPECT_NEAR(lasts(single.back()), 4.16e-3, 1e-9);
  // Two-wire at 100 kHz: 3 bytes of 9 clocks to begin, 0.27 ms; 3 and the 6 of two words with their checks, 0.81 ms.
  const auto two_wire = read_sequence(*shipped_parts().find("SHT31"), 0.015, 100e3);
  EXPECT_NEAR(lasts(two_wire.front()), 0.27e-3, 1e-9);
  EXPECT_NEAR(lasts(two_wire.back()), 0.81e-3, 1e-9);
  // Four-wire at 1 MHz: an address and a byte to begin, 16 µs; an address and 3 bytes, 32 µs.
  const auto four_wire = read_sequence(*shipped_parts().find("MAX31856"), 0.1, 1e6);
  EXPECT_NEAR(lasts(four_wire.front()), 16e-6, 1e-12);
  ASSERT_GE(four_wire.size(), 3u);
  EXPECT_NEAR(lasts(four_wire[2]), 32e-6, 1e-12);
  // A frequency is counted as long as the gate is open: by the specimen's own, not the file's tenth of a second.
  const Part& frequency = *shipped_parts().find("TSL235R");
  EXPECT_NEAR(line_time(read_sequence(frequency, conversion_time(frequency, {}))), 0.1, 1e-9);
  EXPECT_NEAR(line_time(read_sequence(frequency, conversion_time(frequency, {{"gate", 0.4}}))), 0.4, 1e-9);
}

// A column of raw numbers, as of a log: of a part that is barometer or altimeter, the other one has no reading.
TEST(ReadRow, GivesOnlyWhatTheModeGives) {
  const Part& part = *shipped_parts().find("MPL3115A2");
  const std::vector<double> fields(part.bytes.fields.size(), 1600);
  std::vector<double> readings(part.bytes.readings.size());
  const auto reading = [&](Quantity quantity) {
    const auto at = std::ranges::find(part.bytes.readings, quantity, &ByteReading::quantity);
    return readings[static_cast<std::size_t>(at - part.bytes.readings.begin())];
  };
  Decoder::make(part, {{"mode", 1}})->read_row(fields, 0, readings);
  EXPECT_DOUBLE_EQ(reading(Quantity::altitude), 100) << "1600 sixteenths of a metre";
  EXPECT_TRUE(std::isnan(reading(Quantity::pressure)));
  Decoder::make(part, {{"mode", 0}})->read_row(std::vector<double>(fields.size(), 400'000), 0, readings);
  EXPECT_TRUE(std::isnan(reading(Quantity::altitude)));
  EXPECT_DOUBLE_EQ(reading(Quantity::pressure), 100'000) << "400 000 quarters of a pascal";
}

TEST(DecodeCount, TakesAWholeRegisterAndNoMore) {
  const auto decoder = Decoder::make(*shipped_parts().find("OPT3001"));
  const auto does_not_fit = [&](double count) {
    const Decoded decoded = decoder->decode_count(count);
    return std::ranges::any_of(decoded.faults, [](const DigitalFault& fault) {
      return fault.message.find("does not fit") != std::string::npos;
    });
  };
  EXPECT_FALSE(does_not_fit(0));
  EXPECT_FALSE(does_not_fit(65535));
  EXPECT_TRUE(does_not_fit(65536));
  EXPECT_TRUE(does_not_fit(-1));
}

TEST(DecodeCount, StandsForTheReading) {
  const auto decoder = Decoder::make(*shipped_parts().find("TMP117"));
  ASSERT_TRUE(decoder);
  const Decoded plain = decoder->decode_count(3200);  // of 1/128 °C
  EXPECT_TRUE(plain.ok());
  EXPECT_TRUE(plain.trace.empty());
  ASSERT_TRUE(plain.reading(Quantity::temperature));
  EXPECT_DOUBLE_EQ(plain.reading(Quantity::temperature)->value, 25);
  EXPECT_FALSE(decoder->decode_count(3200, Tracing::on).trace.empty());
  // Without its trimming a compensated part's count means nothing, and its other number is missing: no more is said.
  const Decoded bare = Decoder::make(*shipped_parts().find("BMP280"))->decode_count(519888);
  ASSERT_EQ(bare.faults.size(), 2u);
  EXPECT_EQ(bare.faults[0].code, "no-response");
  EXPECT_EQ(bare.faults[1].code, "short-frame");
}

TEST(AutomaticGain, GoesToTheLastSettingEachWay) {
  const Part& part = *shipped_parts().find("TSL2591");
  std::map<std::string, double> least, most;
  for (const PartSetting& setting : part.bytes.settings) {
    if (setting.choices.size() < 2) continue;
    const auto [low, high] = std::ranges::minmax(setting.choices, {}, &SettingChoice::value);
    least[setting.key] = low.value, most[setting.key] = high.value;
  }
  EXPECT_EQ(automatic_gain(part, 1e-4, least).back().settings, most);
  EXPECT_EQ(automatic_gain(part, 8e4, most).back().settings, least);
}

// ---- links ----

TEST(ReportLink, EndsAtTheTopOfItsBits) {
  Converter converter;
  converter.bits = 12, converter.register_bits = 16, converter.justification = Justification::left;
  const ReportLink link(converter);
  EXPECT_DOUBLE_EQ(*link.inverse(65535), 4095);
  EXPECT_DOUBLE_EQ(*link.inverse(16), 1);
  const auto beyond = link.inverse(65536);
  ASSERT_FALSE(beyond);
  EXPECT_THAT(beyond.problem().expected, HasSubstr("65535"));
  EXPECT_FALSE(link.inverse(-1));
}

TEST(ReadingLink, TakesATenthMoreThanThePartPromises) {
  const PartQuantity range{.minimum = 0, .maximum = 100};
  const ReadingLink link("part accuracy", range, {});
  EXPECT_TRUE(link.inverse(109));
  EXPECT_FALSE(link.inverse(111));
  EXPECT_TRUE(link.inverse(-9));
  EXPECT_FALSE(link.inverse(-11));
  EXPECT_TRUE(ReadingLink("nobody knows", PartQuantity{}, {}).inverse(1e6));
}

TEST(TransferLaw, RefusesNumbersThatCannotBe) {
  const Part& damp = *shipped_parts().find("HIH-4030");
  EXPECT_TRUE(transfer_law(damp, {{"temperature", 30}}));
  EXPECT_FALSE(transfer_law(damp, {{"temperature", 500}})) << "an optional one is looked at too";
  EXPECT_FALSE(transfer_law(damp, {{"supply", -5}}));
  EXPECT_FALSE(transfer_law(*shipped_parts().find("TMP36"), {{"slope", 0}}));
  // Below 20 °C type B gives one voltage twice; no other type does.
  EXPECT_THAT(transfer_law(*shipped_parts().find("Type B"), {})->without_inverse, HasSubstr("two temperatures"));
  EXPECT_THAT(transfer_law(*shipped_parts().find("Type K"), {})->without_inverse,
              HasSubstr("no temperature of type K"));
}

TEST(DividerLink, AtTheSupplyThereIsNoSensor) {
  for (const Position position : {Position::top, Position::bottom}) {
    const DividerLink link({{3.3, 0.01, "rail", 0.002}, 10e3, 0.01, 0.001, position});
    for (const double volts : {3.3, 3.4}) {
      const auto ohms = link.inverse(volts);
      ASSERT_FALSE(ohms);
      EXPECT_THAT(ohms.problem().wrong, HasSubstr(position == Position::top ? "open" : "short"));
    }
    EXPECT_FALSE(link.inverse(0));
    // In per cent: what comes later of the resistor and of the supply.
    const auto sources = link.sources(10e3);
    EXPECT_DOUBLE_EQ(sources[0].later, 0.1);
    EXPECT_DOUBLE_EQ(sources[1].width, 1);
    EXPECT_DOUBLE_EQ(sources[1].later, 0.2);
  }
}

TEST(Explain, NamesTheStagesOfADividerInOrder) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  Device device{.id = "probe", .part = "ntc-beta", .converter = "adc"};
  device.front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 10e3, .rail = "3v3"};
  bench.devices = {device};
  bench.channels = {{.id = "t", .device = "probe", .wanted = {0, 50}, .unit = "[degF]"}};
  bench.channels[0].correction.coefficients = {0.5};
  std::vector<StageName> names;
  for (const StageTrace& trace : explain(demo_chain("t", bench), 2048)) names.push_back(trace.stage);
  EXPECT_THAT(names, ElementsAre(StageName::converter, StageName::front_end, StageName::compensated,
                                 StageName::corrected, StageName::shown));
}

TEST(Arriving, BehindAConverterItsOwnStagesAreGone) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  bench.devices = {{.id = "probe", .part = "TMP36", .converter = "adc"}};
  bench.channels = {{.id = "t", .device = "probe", .wanted = {0, 50}}};
  bench.channels[0].arrives = Arrival{.unit = "Cel", .decimals = 1};
  const Chain chain = demo_chain("t", bench);
  EXPECT_EQ(std::ranges::count(chain.stages, StageName::raw, &Stage::name), 1);
  EXPECT_EQ(std::ranges::count(chain.stages, StageName::bytes, &Stage::name), 0);
}

// The frost point has no value above 0 °C, so its way back has to be looked for between.
TEST(DerivedLink, AFrostPointIsFoundAgain) {
  Bench bench = demo_bench();
  bench.channels.push_back(new_derived_channel(bench, *derived_quantity("frost-point"),
                                               {.as = "frost-point", .of = "room", .beside = "room_humidity"}));
  bench.channels.back().id = "frost";
  for (Channel& channel : bench.channels)
    if (channel.id == "room" || channel.id == "frost") channel.wanted = {-20, 40};
  const auto chain = build_chain(bench, shipped_parts(), "frost", {{"room_humidity", 80}});
  ASSERT_TRUE(chain) << to_text(chain.problem());
  for (const double frost : {-12.0, -5.0, -0.8}) {
    const auto raw = raw_for(*chain, frost);
    ASSERT_TRUE(raw) << frost << ": " << to_text(raw.problem());
    EXPECT_NEAR(*read_raw(*chain, *raw), frost, 0.1);
  }
}

// ---- what a pin sees, what is worked out of what warms itself ----

// 10 kΩ over 20 kΩ: 10 · 20 / 30 = 6.667 kΩ; with 30 kΩ of the converter's own beside the lower one, 20 · 30 / 50 = 12
// kΩ stand below and 10 · 12 / 22 = 5.455 kΩ are seen.
TEST(LevelDivider, IsSeenByThePinAsBothBesideEachOther) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 10, .reference_rail = "5v"}};
  bench.devices = {{.id = "probe",
                    .part = "LM35",
                    .converter = "adc",
                    .front_end = {.kind = FrontEndKind::level_divider, .top_ohm = 10e3, .bottom_ohm = 20e3}}};
  bench.channels = {{.id = "air", .device = "probe"}};
  EXPECT_NEAR(build_chain(bench, shipped_parts(), "air")->highest_source_ohm, 20e3 / 3, 1e-6);
  bench.converters[0].input_ohm = 30e3;
  EXPECT_NEAR(build_chain(bench, shipped_parts(), "air")->highest_source_ohm, 10e3 * 12e3 / 22e3, 1e-6);
}

// Twice a reading that its own current warms is off by twice as much, three times less so of a third.
TEST(DerivedBudget, SelfHeatingGoesThroughTheFormula) {
  Bench bench = demo_bench();
  const double alone = error_budget(demo_chain("substrate", bench), 25)->known_bias;
  ASSERT_GT(std::abs(alone), 0.01);
  bench.channels.push_back(
      {.id = "it", .derived = DerivedFrom{.as = "formula", .of = "substrate", .formula = "2 * a"}});
  EXPECT_NEAR(error_budget(demo_chain("it", bench), 50)->known_bias, 2 * alone, 0.01 * std::abs(alone));
  bench.channels.back().derived->formula = "a / 3";
  EXPECT_NEAR(error_budget(demo_chain("it", bench), 25.0 / 3)->known_bias, alone / 3, 0.01 * std::abs(alone));
}

}  // namespace fair_gauge::by_hand_test
