// The error budget against derivatives taken by hand.
#include "truth/error_budget.h"

#include <gmock/gmock.h>

#include <cmath>
#include <numeric>
#include <random>

#include "bridge_bench.h"
#include "chain/links.h"
#include "demo.h"
#include "truth/verdict.h"

namespace fair_gauge::budget_test {

using testing::HasSubstr;

const Contribution* line_named(const Budget& budget, std::string_view part) {
  for (const Contribution& line : budget.lines)
    if (line.name.find(part) != std::string::npos) return &line;
  return nullptr;
}

TEST(ErrorBudget, SensitivitiesOfALinearSensorAreTheOnesOfItsLine) {
  Bench bench = demo_bench();
  find_by_id(bench.devices, "fridge_probe")->grade = "F";  // ±3 °C
  const Budget budget = *error_budget(demo_chain("spawn_fridge", bench), 5);
  // At 5 °C the sensor gives 0.55 V; a reference 2 % high makes the code read 2 % low: −0.55 V · 0.02 / 0.01 V/°C.
  const Contribution* reference = line_named(budget, "reference");
  ASSERT_TRUE(reference);
  EXPECT_NEAR(reference->standard, 0.55 * 0.02 / 0.01 / std::sqrt(3.0), 2e-3);
  // One step is 3.3/4096 V.
  EXPECT_NEAR(line_named(budget, "quantisation")->sensitivity, 3.3 / 4096 / 0.01, 1e-9);
  EXPECT_NEAR(line_named(budget, "part accuracy")->standard, 3.0 / std::sqrt(3.0), 1e-6);
}

TEST(ErrorBudget, APlatinumClassIsTakenAsTheBenchSays) {
  // IEC 60751 at 80 °C: class B 0.30 + 0.005 · 80 = 0.70 K, class A 0.15 + 0.002 · 80 = 0.31 K, class AA 0.10 +
  // 0.0017 · 80 = 0.236 K.
  for (const auto& [grade, tolerance] :
       {std::pair{"", 0.7}, {"class B", 0.7}, {"class A", 0.31}, {"class AA", 0.236}, {"class of its own", 0.7}}) {
    Bench bench = demo_bench();
    find_by_id(bench.devices, find_by_id(bench.channels, "steamer")->device)->grade = grade;
    find_by_id(bench.channels, "steamer")->correction = {};
    const Budget budget = *error_budget(*build_chain(bench, shipped_parts(), "steamer"), 80);
    EXPECT_NEAR(line_named(budget, "part accuracy")->standard, tolerance / std::sqrt(3.0), 1e-6) << grade;
  }
}

// ±3 % of humidity are ±3 % where the sensor cannot read above 100 %: a reading ends there, the doubt does not.
TEST(ErrorBudget, IsWholeAtTheEndOfARange) {
  for (const double humidity : {50.0, 90.0, 98.0, 99.9, 100.0}) {
    const Budget budget = *error_budget(demo_chain("room_humidity"), humidity);
    EXPECT_NEAR(line_named(budget, "part accuracy")->standard, 3.0, 0.01) << humidity;
  }
}

// Type K, junction at 25 °C: the fixed slope of 41.276 µV/K tells 1330.5 °C at the 54.886 mV where the law ends, 1372
// °C.
TEST(ErrorBudget, AFixedSlopeIsInDoubtBeyondTheEndOfItsLaw) {
  const auto left_in = [](double reading) {
    return line_named(*error_budget(demo_chain("compost_middle"), reading), "bend")->standard * std::sqrt(3.0);
  };
  EXPECT_NEAR(left_in(1330), 1372 - 1330.5, 0.6);
  EXPECT_GT(left_in(1349), 35) << "not nothing, where nobody knows how much";
}

TEST(ErrorBudget, AThermistorsResistorToleranceActsThroughItsSlope) {
  // dT/dlnR = −T²/B: 1 % of resistance at 24.8 °C (25.0 °C before the correction) is 298.15² / 3950 · 0.01 = 0.2250 °C.
  const Budget budget = *error_budget(demo_chain("substrate"), 24.8);
  EXPECT_NEAR(line_named(budget, "8k2")->standard, 298.15 * 298.15 / 3950 * 0.01 / std::sqrt(3.0), 2e-4);
}

TEST(ErrorBudget, ARailThatIsSupplyAndReferenceCancels) {
  Bench bench = demo_bench();
  const auto budget = error_budget(demo_chain("substrate", bench), 10);
  EXPECT_FALSE(line_named(*budget, "supply")) << "what brings less than a hundredth of a per cent is not listed";
  bench.converters.front().reference_rail.clear();
  EXPECT_GT(line_named(*error_budget(demo_chain("substrate", bench), 10), "reference")->standard, 0.1);
}

TEST(ErrorBudget, SharesAddUpAndCombineAsSquares) {
  const Budget budget = *error_budget(demo_chain("substrate"), 20);
  double squares = 0, shares = 0;
  for (const Contribution& line : budget.lines) squares += line.standard * line.standard, shares += line.share;
  // Each of those that are not listed brings less than a hundredth of a per cent.
  EXPECT_NEAR(squares / (budget.combined * budget.combined), 1, 1e-3);
  EXPECT_NEAR(shares, squares / (budget.combined * budget.combined), 1e-9);
  EXPECT_NEAR(budget.expanded, 1.96 * budget.combined, 1e-5);  // no source has few degrees of freedom
  EXPECT_TRUE(std::ranges::is_sorted(budget.lines, std::greater{}, &Contribution::standard));
}

TEST(ErrorBudget, CoverageFactorsAreThoseOfTheGuidesTable) {
  // JCGM 100:2008, table G.2, 95 %.
  for (const auto& [dof, k] :
       {std::pair{1.0, 12.71}, {2.0, 4.30}, {5.0, 2.57}, {10.0, 2.23}, {50.0, 2.01}, {1e9, 1.96}})
    EXPECT_NEAR(coverage_factor_95(dof), k, 0.005) << dof;
}

TEST(ErrorBudget, SelfHeatingIsAKnownBias) {
  // At 25 °C before the correction: 3.3 V over 18.2 kΩ, (3.3/18200)² · 10 000 W · 500 K/W = 0.16438 K.
  EXPECT_NEAR(error_budget(demo_chain("substrate"), 24.8)->known_bias, 0.1644, 2e-4);
}

TEST(ErrorBudget, ACalibrationReplacesThePartsAccuracy) {
  Bench bench = demo_bench();
  EXPECT_FALSE(line_named(*error_budget(demo_chain("substrate", bench), 20), "R25, off by 1 %"));
  bench.channels.front().correction = {};
  EXPECT_TRUE(line_named(*error_budget(demo_chain("substrate", bench), 20), "R25, off by 1 %"));
}

// A tabled thermistor of 1 % in R25 and B. Below 0 °C between −5 and 0 °C its slope is ln(41505/32014)/5 = 0.051923 /
// °C: at −1.5 °C R25 makes 0.009950 and B 39.5 · (1/271.65 − 1/298.15) = 0.012924 of it, each flat.
TEST(ErrorBudget, OfATabledThermistorFollowsItsTolerances) {
  Bench bench = demo_bench();
  Device& device = *find_by_id(bench.devices, bench.channels.front().device);
  device.part = "ntc-10k-3950-table", device.settings.clear();
  bench.channels.front().correction = {};
  const Budget budget = *error_budget(demo_chain("substrate", bench), -1.5);
  EXPECT_NEAR(line_named(budget, "R25, off by 1 %")->standard, 0.009950 / 0.051923 / std::sqrt(3), 1e-3);
  EXPECT_NEAR(line_named(budget, "B, off by 1 %")->standard, 0.012924 / 0.051923 / std::sqrt(3), 1e-3);
}

TEST(ErrorBudget, OutsideTheChainThereIsNone) { EXPECT_FALSE(error_budget(demo_chain("substrate"), 500)); }

TEST(Improvements, AreBestFirstAndBuyWhatTheySay) {
  const Bench bench = demo_bench();
  const auto found = improvements(bench, shipped_parts(), "spawn_fridge", 4);
  ASSERT_GE(found.size(), 2u);
  EXPECT_THAT(found.front().words, HasSubstr("Calibrate"));
  for (const Improvement& improvement : found) {
    EXPECT_LT(improvement.used_after, improvement.used_before);
    const Chain chain = demo_chain("spawn_fridge", improvement.bench);
    const Range wanted = find_by_id(bench.channels, "spawn_fridge")->wanted;
    double used = error_budget(chain, 4)->used();
    if (improvement.words.starts_with("Calibrate"))
      for (const double end : {wanted.from, wanted.to}) used = std::max(used, error_budget(chain, end)->used());
    EXPECT_NEAR(used, improvement.used_after, 1e-12) << improvement.words;
  }
}

// A bridge whose span is a third more or less: one point in the middle leaves a third of the way to the ends, flat over
// ±33 % of 195 hPa, however exact it is in the middle; both ends leave nothing of it.
TEST(Improvements, OfACalibrationCountAsFarAsTheRangeGoes) {
  const Bench bench = bridge_bench(50'000);
  std::map<std::string, double> after;
  for (const Improvement& each : improvements(bench, shipped_parts(), "p", 19'500)) after[each.words] = each.used_after;
  ASSERT_TRUE(after.contains("Calibrate one point") && after.contains("Calibrate both ends"));
  EXPECT_NEAR(after["Calibrate one point"], 1.96 * 0.33 * 195 / std::sqrt(3) / 500, 0.001);
  EXPECT_LT(after["Calibrate both ends"], 0.02);
}

// A light sensor that is a fifth off brings a fifth of the way from the point where an offset was taken: at 500 lx
// right, at 1500 lx off by 200, whatever the part reads up to. Drawn here from specimens, with nothing of the program.
TEST(ErrorBudget, AnOffsetLeavesWhatIsAShareOfTheReading) {
  Bench bench;
  bench.rails = {{.id = "v", .voltage = {.nominal_v = 3.3}}};
  bench.devices = {{.id = "d", .part = "BH1750", .rail = "v"}};
  bench.channels = {{.id = "l",
                     .device = "d",
                     .quantity = Quantity::illuminance,
                     .wanted = {0, 2000},
                     .tolerance = 100,
                     .correction = {.coefficients = {0}, .standard_uncertainty = 1, .covered = Range{500, 500}},
                     .unit = "lx"}};
  const auto chain = build_chain(bench, shipped_parts(), "l");
  ASSERT_TRUE(chain);
  const auto sheet = shipped_parts().find("BH1750")->measures(Quantity::illuminance)->accuracy.front();
  ASSERT_EQ(sheet.of, AccuracyOf::reading);
  std::mt19937_64 draw(7);
  std::normal_distribution<double> typical(0, sheet.value);
  std::uniform_real_distribution<double> most(-sheet.value, sheet.value);
  double squares = 0;
  constexpr int specimens = 40'000;
  for (int i = 0; i < specimens; ++i) {
    const double scale = 1 + (sheet.basis == Basis::typical ? typical(draw) : most(draw));
    const double offset = 500 * scale - 500;
    squares += std::pow(1500 * scale - offset - 1500, 2);
  }
  const Contribution* line = line_named(*error_budget(*chain, 1500), "part accuracy away from the calibrated point");
  ASSERT_TRUE(line);
  EXPECT_NEAR(line->standard, std::sqrt(squares / specimens), 0.02 * line->standard);
}

// Class AA holds from −50 to 250 °C, class A to 450: IEC 60751, wire-wound.
TEST(Improvements, NameAGradeThatIsMadeForTheWholeRange) {
  Bench bench;
  bench.rails = {{.id = "v", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 16, .reference = {.nominal_v = 3.3}}};
  bench.devices = {{.id = "probe", .part = "rtd-platinum-1000", .converter = "adc", .grade = "class B"}};
  bench.devices.front().front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 1000, .rail = "v"};
  for (const auto& [to, grade] : {std::pair{200.0, "class AA"}, {400.0, "class A"}, {600.0, ""}}) {
    bench.channels = {{.id = "t", .device = "probe", .wanted = {0, to}, .tolerance = 0.5, .unit = "Cel"}};
    std::string named;
    for (const Improvement& improvement : improvements(bench, shipped_parts(), "t", to / 2))
      if (improvement.words.starts_with("The same part, ")) named = improvement.words.substr(15);
    EXPECT_EQ(named, grade) << to;
  }
}

// A converter of fixed slope can be put right by the reference function in firmware; which package is soldered in
// cannot be chosen, though another one would err less here.
TEST(Improvements, ChooseSettingsButNotFacts) {
  Bench bench;
  bench.rails = {{.id = "v", .voltage = {.nominal_v = 3.3}}};
  bench.devices = {{.id = "d", .part = "MAX31855", .rail = "v"}};
  bench.channels = {{.id = "t", .device = "d", .wanted = {0, 700}, .tolerance = 5, .unit = "Cel"}};
  std::map<std::string, Improvement> found;
  for (Improvement& each : improvements(bench, shipped_parts(), "t", 300)) found.emplace(each.words, std::move(each));
  ASSERT_TRUE(found.contains("Set Curve to reference"));
  const Improvement& curve = found.at("Set Curve to reference");
  EXPECT_EQ(curve.bench.devices.front().settings.at("curve"), 1);
  // Type K, IEC 60584-1: 12.209 mV at 300 °C, 1.000 at 25 °C. By 41.276 µV/K that is 296.55 °C: 3.45 too little.
  const double bend = 300 - ((12.209 - 1.000) / 0.041276 + 25);
  EXPECT_NEAR(5 * curve.used_before, bend + 5 * curve.used_after, 0.6 * bend) << "the bend is gone, and nothing else";
  EXPECT_LT(curve.used_after, curve.used_before - 0.3 * bend / 5);

  // Its finer mode ends at 65535 / 1.2 / 2 = 27 306 lx.
  bench.devices.front() = {.id = "d", .part = "BH1750", .rail = "v"};
  bench.channels.front() = {.id = "t",
                            .device = "d",
                            .quantity = Quantity::illuminance,
                            .wanted = {0, 54'000},
                            .tolerance = 20'000,
                            .unit = "lx"};
  for (const Improvement& each : improvements(bench, shipped_parts(), "t", 27'000))
    EXPECT_THAT(each.words, testing::Not(HasSubstr("high2")));
  bench.devices.front() = {.id = "d", .part = "TSL2561", .rail = "v"};
  bench.channels.front() = {
      .id = "t", .device = "d", .quantity = Quantity::illuminance, .wanted = {0, 1000}, .tolerance = 1, .unit = "lx"};
  for (const Improvement& each : improvements(bench, shipped_parts(), "t", 200))
    EXPECT_THAT(each.words, testing::Not(HasSubstr("Package"))) << each.words;
}

TEST(Verdict, SaysWhatIsUsedOfWhat) {
  Budget budget{.known_bias = 0.11, .expanded = 0.2, .allowed = 0.5};
  EXPECT_EQ(verdict_words(budget, *unit_by_ucum("Cel")), "Uses 62 % of ±0.5 °C");
  EXPECT_EQ(verdict_words(budget, *unit_by_ucum("[degF]")), "Uses 62 % of ±0.9 °F");
  EXPECT_EQ(verdict_words(budget, *unit_by_ucum("Cel"), {.decimal_mark = ","}), "Uses 62 % of ±0,5 °C");
  EXPECT_EQ(fairness_of(0.62), Fairness::fair);
  EXPECT_EQ(fairness_of(0.9), Fairness::tight);
  EXPECT_EQ(fairness_of(1.01), Fairness::unfair);
  EXPECT_EQ(fairness_of(std::nan("")), Fairness::unknown);
}

// A sheet that states no accuracy makes no reading fair: the rounding alone would use a thousandth of the allowed
// error.
TEST(Budget, SaysWhereNobodyStatesAnAccuracy) {
  Bench bench;
  bench.devices = {{.id = "air", .part = "LPS25HB"}};
  bench.channels = {{.id = "p",
                     .device = "air",
                     .quantity = Quantity::pressure,
                     .kind = PressureKind::absolute,
                     .wanted = {95000, 105000},
                     .tolerance = 200,
                     .unit = "hPa"}};
  const auto judged = [&] { return *error_budget(*build_chain(bench, shipped_parts(), "p"), 100000); };
  const Budget bare = judged();
  EXPECT_TRUE(bare.lacks_accuracy);
  EXPECT_LT(bare.used(), 0.01) << "by what is known alone";
  EXPECT_THAT(verdict_words(bare, *unit_by_ucum("hPa")), testing::HasSubstr("not known"));
  // A figure of one's own, or a calibration, takes its place.
  bench.channels.front().contributions = {{.name = "by the seller", .half_width = 100}};
  EXPECT_FALSE(judged().lacks_accuracy);
  EXPECT_GT(judged().used(), 0.4);
  bench.channels.front().contributions.clear();
  bench.channels.front().correction = {.coefficients = {30}, .origin = 100000, .standard_uncertainty = 20};
  bench.channels.front().correction.covered = Range{98000, 102000};
  EXPECT_FALSE(judged().lacks_accuracy);
  // Every channel of the demonstration has one.
  for (const Channel& channel : demo_bench().channels) {
    const Chain chain = demo_chain(channel.id.c_str());
    if (const auto budget = error_budget(chain, (channel.wanted.from + channel.wanted.to) / 2)) {
      EXPECT_FALSE(budget->lacks_accuracy) << channel.id;
    }
  }
}

// Beyond all lines of a sheet their union is named, between two of them the nearer.
TEST(SheetAccuracy, NamesWhereItIsStated) {
  PartQuantity quantity{.minimum = -50, .maximum = 150};
  quantity.accuracy = {{.from = 0, .to = 50, .value = 1},
                       {.from = 50, .to = 70, .value = 2},
                       {.from = 90, .to = 100, .value = 3},
                       {.from = -40, .to = 0, .value = 4, .grade = "coarse"}};
  struct Case {
    double at, from, to, width;
  };
  for (const Case& each : {Case{-10, 0, 100, 1}, {130, 0, 100, 3}, {72, 50, 70, 2}, {88, 90, 100, 3}}) {
    const Source source = accuracy_source("sheet", quantity, each.at, std::nullopt);
    ASSERT_TRUE(source.stated_for) << each.at;
    EXPECT_EQ(*source.stated_for, (StatedFor{each.from, each.to, Dimension::temperature})) << each.at;
    EXPECT_DOUBLE_EQ(source.width, each.width) << each.at;
  }
  for (const double at : {0.0, 50.0, 60.0, 100.0})
    EXPECT_FALSE(accuracy_source("sheet", quantity, at, std::nullopt).stated_for) << at;
}

// The infrared thermometer's sheet states ±0.5 °C from 0 to 50 °C, yet it reads to 380: away from there the number is
// the nearest one, and that is said.
TEST(Budget, SaysWhereASheetsAccuracyEnds) {
  Bench bench;
  bench.devices = {{.id = "lamp", .part = "surface-infrared"}};
  bench.channels = {{.id = "t",
                     .device = "lamp",
                     .quantity = Quantity::temperature,
                     .wanted = {0, 300},
                     .tolerance = 2,
                     .unit = "Cel"}};
  const auto judged = [&](double at) { return *error_budget(*build_chain(bench, shipped_parts(), "t"), at); };
  const Unit &celsius = *unit_by_ucum("Cel"), &fahrenheit = *unit_by_ucum("[degF]");
  for (const double at : {0.0, 25.0, 50.0}) {
    EXPECT_FALSE(judged(at).stated_for) << at;
    EXPECT_EQ(beyond_sheet_words(judged(at), celsius), "") << at;
  }
  for (const double at : {-0.5, 50.5, 130.0}) {
    const Budget budget = judged(at);
    ASSERT_TRUE(budget.stated_for) << at;
    EXPECT_NEAR(budget.expanded, judged(25).expanded, 0.01) << "that of the nearest place is taken";
    EXPECT_EQ(beyond_sheet_words(budget, celsius),
              "Its sheet states an accuracy for 0 °C to 50 °C only: here it may be off by more.");
    EXPECT_THAT(beyond_sheet_words(budget, fahrenheit), testing::HasSubstr("32 °F to 122 °F only"));
  }
  // What one says oneself of the sensor, or has proven of it, counts for more.
  bench.channels.front().contributions = {{.name = "by the maker's letter", .half_width = 1}};
  EXPECT_FALSE(judged(130).stated_for);
  bench.channels.front().contributions.clear();
  bench.channels.front().correction = {.coefficients = {0.3}, .origin = 130, .standard_uncertainty = 0.1};
  bench.channels.front().correction.covered = Range{100, 160};
  EXPECT_FALSE(judged(130).stated_for);
  EXPECT_TRUE(judged(200).stated_for);
  // Worked out of another channel it is no surer.
  bench.channels.push_back({.id = "double",
                            .derived = DerivedFrom{.as = "formula", .of = "t", .formula = "2 * a"},
                            .wanted = {0, 600},
                            .tolerance = 4});
  const auto derived = error_budget(*build_chain(bench, shipped_parts(), "double"), 400);
  ASSERT_TRUE(derived);
  EXPECT_THAT(beyond_sheet_words(*derived, celsius), testing::HasSubstr("0 °C to 50 °C only"));
}

}  // namespace fair_gauge::budget_test
