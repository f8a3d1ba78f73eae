// Which of several is right, which model serves, what a calibration leaves, procedures that find hidden offsets.
#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "demo.h"
#include "formulas/air.h"
#include "formulas/derived_quantity.h"
#include "sim/environment.h"
#include "truth/agreement.h"
#include "truth/calibration_nodes.h"
#include "truth/derived.h"
#include "truth/error_budget.h"
#include "truth/model_choice.h"
#include "truth/monte_carlo.h"
#include "truth/procedures.h"
#include "truth/stability.h"

namespace fair_gauge::truth_test {

using testing::Contains;
using testing::HasSubstr;

// ---- which of several is right ----

TEST(Agreement, WeighsAndTestsAsByHand) {
  // 10.0 ± 0.1 and 10.4 ± 0.1: mean 10.2, chi² (0.2/0.1)² · 2 = 8 with one degree of freedom, probability 0.00468.
  const auto two = compare_estimates({{"a", 10.0, 0.1}, {"b", 10.4, 0.1}});
  ASSERT_TRUE(two);
  EXPECT_NEAR(two->reference, 10.2, 1e-12);
  EXPECT_NEAR(two->chi_squared, 8, 1e-9);
  EXPECT_NEAR(two->probability, 0.00468, 1e-5);
  EXPECT_FALSE(two->consistent);
  EXPECT_FALSE(two->pairs[0].agrees);  // 0.4 > 1.96 · 0.1414
  EXPECT_NEAR(two->pairs[0].expanded, 1.96 * 0.141421, 1e-4);
  // The Birge ratio widens: 0.1/√2 · √8 = 0.2.
  EXPECT_NEAR(two->reference_standard, 0.2, 1e-9);
  // Weights 1 : 4.
  EXPECT_NEAR(compare_estimates({{"a", 10, 0.2}, {"b", 10.1, 0.1}})->reference, (10 + 4 * 10.1) / 5, 1e-12);
}

TEST(Agreement, NamesTheOddOneOnlyIfThereIsJustOne) {
  const auto group =
      compare_estimates({{"low", 20.0, 0.1}, {"middle", 20.1, 0.1}, {"high", 20.05, 0.1}, {"odd", 21.0, 0.1}});
  ASSERT_TRUE(group->outlier);
  EXPECT_EQ(*group->outlier, 3u);
  EXPECT_NEAR(group->reference, 20.05, 1e-9);
  EXPECT_NEAR(group->outlier_off, 0.95, 1e-9);
  EXPECT_FALSE(compare_estimates({{"a", 20, 0.1}, {"b", 21, 0.1}, {"c", 22, 0.1}})->outlier) << "each is odd";
  EXPECT_TRUE(compare_estimates({{"a", 20, 0.1}, {"b", 20.1, 0.1}, {"c", 20.2, 0.1}})->consistent);
  EXPECT_FALSE(compare_estimates({{"alone", 20, 0.1}}));
  // Of one nobody has said how far it may be off: a difference proves nothing, and no odd one is found.
  const auto unknown = compare_estimates({{"a", 20, 0.1}, {"b", 21, 0.1, true}, {"c", 20, 0.1}});
  ASSERT_TRUE(unknown);
  EXPECT_EQ(unknown->unknown, 1u);
  EXPECT_FALSE(unknown->outlier);
  EXPECT_FALSE(unknown->pairs[0].is_known) << "a and b";
  EXPECT_TRUE(unknown->pairs[1].is_known) << "a and c";
  EXPECT_EQ(compare_estimates({{"a", 20, 0.1}, {"b", 21, 0.1}, {"c", 20, 0.1}})->outlier, 1u);
  EXPECT_FALSE(compare_estimates({{"a", 20, 0.1}, {"b", 20, 0}}));
}

TEST(Agreement, HoldsForOneInTwentyGroupsTooFew) {
  // Sensors whose uncertainties are right are found inconsistent five times in a hundred.
  std::mt19937 random(5);
  std::normal_distribution<double> off(0, 0.3);
  int refused = 0;
  constexpr int groups = 4000;
  for (int i = 0; i < groups; ++i)
    if (!compare_estimates({{"a", off(random), 0.3}, {"b", off(random), 0.3}, {"c", off(random), 0.3}})->consistent)
      ++refused;
  EXPECT_NEAR(refused / static_cast<double>(groups), 0.05, 0.012);
}

TEST(TimeLag, IsFoundBetweenTwoSensorsOfOneThing) {
  Series quick, slow;
  for (int i = 0; i < 600; ++i) {
    const auto swing = [](double t) { return 20 + 2 * std::sin(t / 60) + 0.7 * std::sin(t / 23); };
    quick.seconds.push_back(i), quick.values.push_back(swing(i));
    slow.seconds.push_back(i), slow.values.push_back(swing(i - 17.0) + 0.4);
  }
  EXPECT_NEAR(*time_lag(quick, slow, 60), 17, 0.7);
  EXPECT_NEAR(*time_lag(slow, quick, 60), -17, 0.7);
  // As far as it was looked for, where the best lies beyond.
  EXPECT_NEAR(*time_lag(quick, slow, 10), 10, 1.6);
  EXPECT_NEAR(*time_lag(slow, quick, 10), -10, 1.6);
  Series still = quick;
  for (double& value : still.values) value = 5;
  EXPECT_FALSE(time_lag(quick, still, 60));
  EXPECT_NEAR(*value_at(quick, 10.5), (quick.values[10] + quick.values[11]) / 2, 1e-12);
  EXPECT_FALSE(value_at(quick, -1));
}

TEST(TwoWayLine, AllowsForErrorsOfBoth) {
  // Straight through y = 1.5 + 1.1 x exactly.
  std::vector<double> x, y;
  for (int i = 0; i < 20; ++i) x.push_back(i), y.push_back(1.5 + 1.1 * i);
  auto line = fit_two_way(x, y);
  ASSERT_TRUE(line);
  EXPECT_NEAR(line->scale, 1.1, 1e-9);
  EXPECT_NEAR(line->offset, 1.5, 1e-9);
  // With equal scatter on both, ordinary least squares would make the scale too small; this one does not.
  std::mt19937 random(2);
  std::normal_distribution<double> noise(0, 2);
  x.clear(), y.clear();
  for (int i = 0; i < 4000; ++i) {
    const double truth = i % 20;
    x.push_back(truth + noise(random)), y.push_back(truth + noise(random));
  }
  line = fit_two_way(x, y);
  EXPECT_NEAR(line->scale, 1, 3 * line->scale_standard + 0.01);
  EXPECT_NEAR(line->residual, 2 * std::sqrt(2.0), 0.1);
  EXPECT_FALSE(fit_two_way(std::vector<double>{1, 1, 1, 1}, std::vector<double>{1, 2, 3, 4}));
  // Of six points, by the principal axis' angle and by leaving out each: another way to the same numbers.
  const std::vector<double> few = {0, 1, 2, 3, 4, 5}, seen = {0.1, 0.9, 2.3, 2.8, 4.4, 4.9};
  const auto by_angle = [&](std::size_t without) {
    double n = 0, sx = 0, sy = 0, sxx = 0, syy = 0, sxy = 0;
    for (std::size_t i = 0; i < few.size(); ++i)
      if (i != without) ++n, sx += few[i], sy += seen[i];
    for (std::size_t i = 0; i < few.size(); ++i) {
      if (i == without) continue;
      const double dx = few[i] - sx / n, dy = seen[i] - sy / n;
      sxx += dx * dx, syy += dy * dy, sxy += dx * dy;
    }
    const double scale = std::tan(0.5 * std::atan2(2 * sxy, sxx - syy));
    return std::pair(scale, sy / n - scale * sx / n);
  };
  const auto whole = by_angle(few.size());
  double of_scale = 0, of_offset = 0;
  for (std::size_t i = 0; i < few.size(); ++i) {
    of_scale += std::pow(by_angle(i).first - whole.first, 2);
    of_offset += std::pow(by_angle(i).second - whole.second, 2);
  }
  line = fit_two_way(few, seen);
  EXPECT_NEAR(line->scale, whole.first, 1e-9);
  EXPECT_NEAR(line->offset, whole.second, 1e-9);
  EXPECT_DOUBLE_EQ(line->origin, 2.5);
  EXPECT_NEAR(line->scale_standard, std::sqrt(of_scale * 5 / 6), 1e-9);
  EXPECT_NEAR(line->offset_standard, std::sqrt(of_offset * 5 / 6), 1e-9);
  double squares = 0;  // two of the six go to the line
  for (std::size_t i = 0; i < few.size(); ++i) squares += std::pow(seen[i] - whole.second - whole.first * few[i], 2);
  EXPECT_NEAR(line->residual, std::sqrt(squares / 4), 1e-9);
}

// ---- which model ----

std::vector<CalibrationPoint> points_on(const std::function<double(double)>& correction,
                                        std::initializer_list<double> readings, double scatter, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> off(0, scatter);
  std::vector<CalibrationPoint> points;
  for (const double reading : readings)
    points.push_back({reading + correction(reading) + off(random), reading, scatter});
  return points;
}

TEST(ModelChoice, TakesTheSimplestThatServes) {
  const Range wanted{0, 50};
  struct Case {
    std::function<double(double)> correction;
    FitModel expected;
  };
  const Case cases[] = {{[](double) { return 0.3; }, FitModel::offset},
                        {[](double x) { return 0.3 - 0.02 * x; }, FitModel::line},
                        {[](double x) { return 0.3 - 0.02 * x + 0.001 * x * x; }, FitModel::quadratic}};
  for (const Case& each : cases) {
    int right = 0;
    for (unsigned seed = 1; seed <= 20; ++seed) {
      const auto choice =
          choose_model(points_on(each.correction, {2, 8, 14, 20, 26, 32, 38, 44, 49}, 0.02, seed), 0, wanted, 0.5);
      if (choice->reports[choice->recommended].model == each.expected) ++right;
    }
    EXPECT_GE(right, 16) << static_cast<int>(each.expected);
  }
}

TEST(ModelChoice, SaysWhatFewPointsDoNotTell) {
  const Range wanted{0, 50};
  const auto one = choose_model({{20.2, 20, 0.05}}, 0, wanted, 0.5);
  EXPECT_EQ(one->reports[one->recommended].model, FitModel::offset);
  EXPECT_THAT(one->warnings, testing::ElementsAre(HasSubstr("nothing elsewhere")));
  const auto low = choose_model({{4.8, 4.9, 0.05}, {8.0, 8.1, 0.05}}, 0, wanted, 5);
  EXPECT_EQ(low->reports[low->recommended].model, FitModel::offset);
  EXPECT_THAT(low->warnings, testing::ElementsAre(HasSubstr("From 8.1 to 50")));
  const auto two = choose_model({{5.0, 5.1, 0.02}, {45, 45.9, 0.02}}, 0, wanted, 0.5);
  EXPECT_EQ(two->reports[two->recommended].model, FitModel::line);
  EXPECT_THAT(two->warnings, Contains(HasSubstr("passes through every point")));
  const auto narrow =
      choose_model(points_on([](double x) { return 0.02 * x; }, {20, 21, 22, 23, 24, 25}, 0.001, 1), 0, wanted, 0.5);
  EXPECT_THAT(narrow->warnings, Contains(HasSubstr("From 0 to 20")));
  EXPECT_THAT(narrow->warnings, Contains(HasSubstr("From 25 to 50")));
  EXPECT_FALSE(choose_model({}, 0, wanted, 0.5));
}

// Four points at 0, 16, 40 and 40 °C, one of them taken while the sensor was on its way: it is named, with by how much
// and how sure one was of it. A pair that is known as badly says nothing.
TEST(ModelChoice, NamesThePointThatWasTakenTooEarly) {
  const Range wanted{0, 50};
  std::vector<CalibrationPoint> points = {{0, -0.73, 0.06}, {20, 19.5, 0.06}, {40, 39.66, 0.06}, {30, 26, 0.06}};
  const auto choice = choose_model(points, 0, wanted, 1.5);
  ASSERT_FALSE(choice->warnings.empty());
  EXPECT_THAT(choice->warnings.front(), HasSubstr("The point at 30 is missed by"));
  EXPECT_THAT(choice->warnings.front(), HasSubstr("repeat it, or drop it"));
  for (CalibrationPoint& point : points) point.uncertainty = 2;
  EXPECT_THAT(choose_model(points, 0, wanted, 1.5)->warnings, testing::Not(Contains(HasSubstr("is missed by"))));
  points.pop_back();
  for (CalibrationPoint& point : points) point.uncertainty = 0.06;
  EXPECT_THAT(choose_model(points, 0, wanted, 1.5)->warnings, testing::Not(Contains(HasSubstr("is missed by"))));
}

// Corrections along the second orthogonal polynomial (5, −1, −4, −4, −1, 5) of six even readings: no offset and no
// slope fit any of it. χ² = Σ(0.01·p/0.1)² = 0.84; χ² + 2k + 2k(k + 1)/(6 − k − 1).
TEST(ModelChoice, IsByTheCorrectedCriterion) {
  std::vector<CalibrationPoint> points;
  const double pattern[] = {5, -1, -4, -4, -1, 5};
  for (int i = 0; i < 6; ++i) points.push_back({2.0 * i - 5 + 0.01 * pattern[i], 2.0 * i - 5, 0.1});
  const auto choice = choose_model(points, 0, {-5, 5}, 0.5);
  ASSERT_TRUE(choice);
  const double by_hand[] = {0.84 + 2 + 1, 0.84 + 2 + 1, 0.84 + 4 + 4, 0.0 + 6 + 12, 0.0 + 8 + 40};
  for (std::size_t i = 0; i < 5; ++i) {
    ASSERT_TRUE(choice->reports[i].criterion) << i;
    EXPECT_NEAR(*choice->reports[i].criterion, by_hand[i], 1e-9) << i;
  }
  EXPECT_FALSE(choice->reports[5].criterion) << "a table has as many unknowns as points";
  EXPECT_EQ(choice->reports[choice->recommended].model, FitModel::offset);
}

TEST(ModelChoice, SaysThatAShortReachTellsTheSlopeBadly) {
  const Range wanted{0, 50};
  const auto line = [](double x) { return 0.02 * x; };
  const auto close = choose_model(points_on(line, {20, 21, 22, 23, 24, 25}, 0.001, 1), 0, wanted, 0.5);
  EXPECT_THAT(close->warnings, Contains(HasSubstr("lie close together")));
  const auto far = choose_model(points_on(line, {5, 15, 25, 35, 45}, 0.001, 1), 0, wanted, 0.5);
  EXPECT_THAT(far->warnings, testing::Not(Contains(HasSubstr("lie close together"))));
}

TEST(ModelChoice, FindsThePointThatWasMisread) {
  auto points = points_on([](double x) { return 0.3 - 0.02 * x; }, {2, 8, 14, 20, 26, 32, 38, 44, 49}, 0.02, 3);
  EXPECT_TRUE(choose_model(points, 0, {0, 50}, 0.5)->outliers.empty());
  points[4].reference += 0.4;
  const auto choice = choose_model(points, 0, {0, 50}, 0.5);
  EXPECT_THAT(choice->outliers, testing::ElementsAre(4u));
}

TEST(Decision, CountsTheUncertaintyOnBothSides) {
  EXPECT_EQ(decide(0.2, 0.2, 0.5), Decision::passes);
  EXPECT_EQ(decide(-0.4, 0.2, 0.5), Decision::undecided);
  EXPECT_EQ(decide(0.8, 0.2, 0.5), Decision::fails);
}

// ---- what a calibration leaves ----

TEST(CalibrationNodes, InterpolateAsTheModelDoes) {
  Correction correction;
  correction.standard_uncertainty = 0.1;
  correction.covered = Range{10, 30};
  correction.coefficients = {0.5};
  EXPECT_EQ(calibration_nodes(correction, 40).at, (std::vector<double>{20}));
  correction.coefficients = {0.5, 0.01};
  auto nodes = calibration_nodes(correction, 25);  // a quarter of the one end, three of the other
  EXPECT_NEAR(nodes.weights[0], 0.25, 1e-12);
  EXPECT_NEAR(nodes.weights[1], 0.75, 1e-12);
  correction.coefficients = {0.5, 0.01, 0.001};
  nodes = calibration_nodes(correction, 20);
  EXPECT_NEAR(nodes.weights[1], 1, 1e-12);  // the middle node itself
  correction.covered.reset();
  EXPECT_TRUE(calibration_nodes(correction, 20).at.empty());
}

TEST(CalibratedBudget, SeesTheResistorWhereThePointsWere) {
  // A resistor 1 % off moves every reading by nearly the same: 0.225 °C at 25 °C and, by T²/B, 0.19 °C at 0 °C.
  Bench bench = demo_bench();
  Correction& correction = bench.channels.front().correction;
  correction.covered = Range{25, 25};
  const auto resistor = [&](double at) {
    const Budget budget = *error_budget(demo_chain("substrate", bench), at);
    for (const Contribution& line : budget.lines)
      if (line.name.starts_with("8k2")) return line.standard * std::sqrt(3.0);
    return 0.0;
  };
  EXPECT_NEAR(resistor(24.9), 0, 0.003);
  const double at_0 = 273.15 * 273.15 / 3950 * 0.01, at_25 = 298.15 * 298.15 / 3950 * 0.01;
  EXPECT_NEAR(resistor(0), at_25 - at_0, 0.004);
  correction.covered.reset();
  EXPECT_NEAR(resistor(24.8), at_25, 0.002);
  // Monte Carlo knows the same.
  correction.covered = Range{25, 25};
  const Chain chain = demo_chain("substrate", bench);
  const Budget budget = *error_budget(chain, 20);
  double without_heating = 0;  // of its own warmth only the budget knows
  for (const Contribution& line : budget.lines)
    if (line.name != "self-heating") without_heating += line.standard * line.standard;
  EXPECT_NEAR(monte_carlo(chain, 20, 200000, 1)->standard, std::sqrt(without_heating), 0.01 * budget.combined);
}

TEST(MonteCarlo, DiffersFromTheBudgetWhereTheChainIsStronglyCurved) {
  // A light-dependent resistor, γ = 0.65, over a fixed resistor that is known to half: the reading is
  // E · (1 + u)^(1/γ) with u flat in ±0.5, whose mean is (1.5^a − 0.5^a) ÷ a with a = 1 + 1/γ: 1.0346 of E.
  Bench bench = demo_bench();
  find_by_id(bench.devices, "duct_cell")->front_end.fixed_tolerance = 0.5;
  Channel& channel = *find_by_id(bench.channels, "duct_dark");
  channel.correction.coefficients = {0};
  channel.correction.standard_uncertainty = 0.01;  // in place of the part's own accuracy
  const Chain curved = demo_chain("duct_dark", bench);
  const Budget budget = *error_budget(curved, 100);
  const auto spread = monte_carlo(curved, 100, 200000, 1);
  EXPECT_NEAR(spread->mean, 3.46, 0.3);
  // The ends: 0.344 and 1.866 of E, all but 2.5 in a hundred at each side or fewer.
  EXPECT_GT(spread->high, -spread->low);
  EXPECT_THAT(budget_differs(budget, *spread), HasSubstr("lopsided"));
  const Chain straight = demo_chain("spawn_fridge");
  EXPECT_EQ(budget_differs(*error_budget(straight, 5), *monte_carlo(straight, 5, 200000, 1)).find("lopsided"),
            std::string::npos);
  std::int64_t counted = 0;
  for (const std::int64_t each : spread->histogram) counted += each;
  EXPECT_GT(counted, 190000);
}

TEST(BudgetOverRange, HasOneForEveryPlace) {
  const auto budgets = budget_over_range(demo_chain("substrate"), 0, 50, 11);
  ASSERT_EQ(budgets.size(), 11u);
  EXPECT_NEAR(budgets[5].combined, error_budget(demo_chain("substrate"), 25)->combined, 1e-12);
}

// ---- derived quantities ----

TEST(Derived, CarriesUncertaintyThroughTheSlopes) {
  const auto product = [](std::span<const double> v) { return v[0] * v[1]; };
  // 2 ± 0.1 times 3 ± 0.2: √(0.3² + 0.4²) = 0.5; fully correlated 0.7, oppositely 0.1.
  const std::vector<DerivedInput> inputs = {{"a", 2, 0.1}, {"b", 3, 0.2}};
  EXPECT_NEAR(propagate(product, inputs)->standard, 0.5, 1e-9);
  // At the edge of its range a function has one side only: √x at 0 ± 4, √(1 − x) at 1 ± 1.
  const auto above = propagate([](std::span<const double> x) { return std::sqrt(x[0]); }, {{"x", 0, 4}});
  EXPECT_NEAR(above->sensitivities[0], 0.5, 1e-12);
  const auto below = propagate([](std::span<const double> x) { return std::sqrt(1 - x[0]); }, {{"x", 1, 1}});
  EXPECT_NEAR(below->sensitivities[0], -1, 1e-12);
  EXPECT_NEAR(propagate(product, inputs, {{1, 1}, {1, 1}})->standard, 0.7, 1e-9);
  EXPECT_NEAR(propagate(product, inputs, {{1, -1}, {-1, 1}})->standard, 0.1, 1e-9);
  EXPECT_FALSE(propagate(product, inputs, {{1, 2}, {2, 1}}));
}

TEST(Derived, OfTheAirAreThoseOfTheFormulas) {
  for (const DerivedQuantity& quantity : derived_quantities()) {
    if (quantity.inputs != std::vector{Quantity::temperature, Quantity::humidity}) continue;
    const auto derived = propagate(quantity.function, {{"t", 25, 0.2}, {"rh", 50, 1.5}});
    if (quantity.name == "frost point") {
      EXPECT_FALSE(derived);
      continue;
    }
    ASSERT_TRUE(derived) << quantity.name;
    EXPECT_GT(derived->standard, 0) << quantity.name;
    if (quantity.name != "dew point") continue;
    EXPECT_NEAR(derived->value, 13.9, 0.1);
    // Slopes of the dew point at 25 °C and 50 %: about 0.93 by temperature and 0.30 by humidity.
    EXPECT_NEAR(derived->sensitivities[0], 0.93, 0.02);
    EXPECT_NEAR(derived->sensitivities[1], 0.30, 0.01);
  }
}

// ---- stability ----

TEST(Stability, WaitsUntilItStands) {
  std::mt19937 random(1);
  std::normal_distribution<double> noise(0, 0.02);
  std::vector<double> seconds, still, moving;
  for (int i = 0; i < 120; ++i)
    seconds.push_back(i), still.push_back(20 + noise(random)), moving.push_back(20 + 0.01 * i + noise(random));
  const Stability stands = judge_stability(seconds, still, 0.5, 60);
  EXPECT_TRUE(stands.stable) << stands.words;
  EXPECT_NEAR(stands.sd, 0.02, 0.006);
  EXPECT_NEAR(stands.mean, 20, 0.01);
  EXPECT_EQ(stands.readings, 61) << "of the window alone";
  auto gap = still;
  gap[100] = std::nan("");
  for (const Stability& each : {judge_stability(seconds, gap, 0.5, 60), judge_latest(seconds, gap, 0.5, 60)}) {
    EXPECT_EQ(each.readings, 60);
    EXPECT_TRUE(each.stable) << each.words;
  }
  const Stability moves = judge_stability(seconds, moving, 0.5, 60);
  EXPECT_FALSE(moves.stable);
  EXPECT_NEAR(moves.drift_per_minute, 0.6, 0.03);
  EXPECT_FALSE(judge_stability(std::span(seconds).first(5), std::span(still).first(5), 0.5).stable);
  const std::vector<double> two = {10, 20}, seen = {4, 6};
  EXPECT_DOUBLE_EQ(judge_stability(two, seen, 0.5).mean, 5);
  EXPECT_THAT(judge_stability(std::span(seconds).first(20), std::span(still).first(20), 0.5, 60).words,
              HasSubstr("s more"));
}

// Half of the window is enough, to the second.
TEST(Stability, IsJudgedFromHalfOfItsWindowOn) {
  std::vector<double> seconds, values;
  for (int i = 0; i <= 30; ++i) seconds.push_back(i), values.push_back(20);
  EXPECT_TRUE(judge_latest(seconds, values, 1, 60).stable);
  EXPECT_FALSE(judge_latest(std::span(seconds).first(30), std::span(values).first(30), 1, 60).stable);
}

// A sensor that is carried from one bath into the next: what it read in the first is no part of the second's point,
// and the time that is still wanted counts from where it stood. Checked over many seeds, steps and rates.
TEST(Stability, WhatStandsIsTakenWithoutWhatCameBefore) {
  int judged = 0, late = 0, late_stable = 0;
  for (unsigned seed = 1; seed <= 40; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 0.05);
    const double step = seed % 2 ? 20 : -0.6, every = seed % 3 ? 0.5 : 2;
    for (double after = every; after < 80; after += 7) {
      std::vector<double> seconds, values;
      for (double t = -100; t <= after; t += every)
        seconds.push_back(t), values.push_back((t < 0 ? 20 : 20 + step) + noise(random));
      const Stability now = judge_latest(seconds, values, 1, 60);
      if (after < 29) {
        EXPECT_FALSE(now.stable) << step << " after " << after << ": " << now.words;
      }
      if (after > 45) ++late, late_stable += now.stable;
      if (!now.stable) continue;
      ++judged;
      EXPECT_NEAR(now.mean, 20 + step, 0.05) << step << " after " << after;
      EXPECT_LT(now.sd, 0.08);
    }
  }
  EXPECT_GT(judged, 150);
  EXPECT_GE(late_stable, late * 95 / 100) << "two standard deviations of a slope come by chance once in twenty times";
  // Half a minute is wanted; 12 s of it are there.
  std::vector<double> seconds, values;
  for (int i = 0; i <= 72; ++i) seconds.push_back(i), values.push_back(i < 60 ? 20 : 40 + 0.001 * (i % 2));
  EXPECT_THAT(judge_latest(seconds, values, 1, 60).words, HasSubstr("s more"));
  EXPECT_NEAR(judge_latest(seconds, values, 1, 60).mean, 40, 0.01);
  // One reading of the newer half that is off, and not among the last three, is no step.
  seconds.clear(), values.clear();
  for (int i = 0; i < 40; ++i) seconds.push_back(1.5 * i), values.push_back(i == 30 ? 23 : 20 + 0.01 * (i % 3));
  const Stability spiked = judge_latest(seconds, values, 1, 60);
  EXPECT_TRUE(spiked.stable) << spiked.words;
  EXPECT_EQ(spiked.readings, 40);
  // What moves all the time is told as it is now.
  seconds.clear(), values.assign(73, 0);
  for (int i = 0; i <= 72; ++i) seconds.push_back(i);
  for (int i = 0; i <= 72; ++i) values[static_cast<std::size_t>(i)] = i;
  EXPECT_THAT(judge_latest(seconds, values, 1, 60).words, HasSubstr("still moving"));
  EXPECT_NEAR(judge_latest(seconds, values, 1, 60).mean, 68.5, 1e-9) << "the last eight";
  EXPECT_EQ(judge_latest(std::span(seconds).first(3), std::span(values).first(3), 1).readings, 3);
}

// ---- procedures ----

const Procedure& procedure(const char* id) { return *std::ranges::find(procedures(), id, &Procedure::id); }

TEST(Procedures, GiveTheReferenceOfTheTables) {
  const auto of = [](const char* id, std::vector<double> inputs) { return *procedure(id).reference(inputs); };
  EXPECT_EQ(of("ice-point", {0.05}).value, 0);
  EXPECT_NEAR(of("ice-point", {0.05}).standard, 0.05 / std::sqrt(3.0), 1e-12);
  EXPECT_NEAR(of("boiling-point", {0, 101325, 0}).value, 99.97, 0.02);
  EXPECT_NEAR(of("boiling-point", {1, 0, 1500}).value, 95.0, 0.15);  // usual tables: 95 °C at 1500 m
  EXPECT_GT(of("boiling-point", {1, 0, 1500}).standard, 3 * of("boiling-point", {0, 84560, 0}).standard)
      << "the weather is not known from the height";
  EXPECT_NEAR(of("salt", {3, 25, 0.1}).value, 75.29, 1e-9);
  EXPECT_NEAR(of("barometer-report", {1, 101325, 500, 15, 60}).value, 95461, 5);
  EXPECT_NEAR(of("water-column", {0.1, 0, 4, 45, 0.001}).value, 980.6, 0.1);
  EXPECT_NEAR(of("water-column", {0.1, 60, 4, 45, 0.001}).value, 490.3, 0.1);  // half the height
  // ±1 mm and 3e-4 of the pressure, both rectangular: 9806 Pa/m · 0.001/√3 = 5.66 Pa; of 98 060 Pa 3e-4/√3 = 16.98.
  EXPECT_NEAR(of("water-column", {0.1, 0, 4, 45, 0.001}).standard, std::hypot(5.662, 0.170), 0.01);
  EXPECT_NEAR(of("water-column", {10, 0, 4, 45, 0.001}).standard, std::hypot(5.662, 16.98), 0.02);
  EXPECT_NEAR(of("inverse-square", {1000, 50, 0.5, 1.0, 0.005}).value, 250, 1e-9);
  EXPECT_TRUE(std::isnan(of("instrument-temperature", {20, 0}).standard)) << "nobody knows how good it is";
  EXPECT_FALSE(procedure("boiling-point").reference(std::vector<double>{0, 1000, 0}));
  EXPECT_FALSE(procedure("salt").reference(std::vector<double>{0, 80, 0.1}));
  for (const double pascals : {60e3, 130e3})
    EXPECT_FALSE(procedure("barometer-report").reference(std::vector<double>{0, pascals, 100, 15, 60})) << pascals;
}

TEST(Procedures, FitTheirChannels) {
  const Bench bench = demo_bench();
  const auto ids = [&](const char* channel, bool chip = false) {
    std::vector<std::string> found;
    for (const Procedure* each : procedures_for(*find_by_id(bench.channels, channel), chip)) found.push_back(each->id);
    return found;
  };
  EXPECT_THAT(ids("substrate"), Contains("ice-point"));
  EXPECT_THAT(ids("substrate"), testing::Not(Contains("cold-trim")));
  EXPECT_THAT(ids("board", true), testing::ElementsAre("cold-trim", "warm-trim"));
  EXPECT_THAT(ids("filter"), Contains("water-column"));
  EXPECT_THAT(ids("filter"), testing::Not(Contains("barometer-report")));
  EXPECT_THAT(ids("room_pressure"), Contains("barometer-report"));
  EXPECT_THAT(ids("room_humidity"), Contains("salt"));
  for (const Procedure& each : procedures()) {
    EXPECT_FALSE(each.steps.empty()) << each.id;
    EXPECT_FALSE(each.inputs.empty()) << each.id;
  }
}

// Sensors of the simulation with hidden offsets: the fit finds them within its own uncertainty.
TEST(Procedures, FindHiddenOffsetsOfSimulatedSensors) {
  int within = 0, runs = 0;
  for (std::uint64_t seed = 1; seed <= (is_sanitized ? 20 : 60); ++seed) {
    std::mt19937_64 random(seed);
    std::uniform_real_distribution<double> hidden(-1.5, 1.5), reference_off(-0.05, 0.05);
    const double offset = hidden(random), slope = hidden(random) / 100;
    Bench bench = demo_bench();
    find_by_id(bench.channels, "spawn_fridge")->correction = {};
    const Chain chain = demo_chain("spawn_fridge", bench);
    SimulatedDevice device(chain, seed);
    std::vector<CalibrationPoint> points;
    for (const double truth : {-4.0, 0.0, 5.0, 10.0, 14.0}) {
      // The sensor shows truth + its hidden error; 40 readings a point.
      double sum = 0;
      for (int i = 0; i < 40; ++i)
        sum += *read_raw(chain, static_cast<double>(device.answer(truth + offset + slope * truth)));
      points.push_back({truth + reference_off(random), sum / 40, std::hypot(0.05 / std::sqrt(3.0), 0.05)});
    }
    const auto fit = fit_calibration(FitModel::line, points, 5);
    ASSERT_TRUE(fit);
    const double reading = 5 + offset + slope * 5;
    const Prediction found = fit->predict(reading);
    ++runs;
    within += std::abs(reading + found.correction - 5) <= 2.5 * found.standard_uncertainty + 0.02;
  }
  EXPECT_GE(within, runs * 9 / 10);
}

}  // namespace fair_gauge::truth_test
