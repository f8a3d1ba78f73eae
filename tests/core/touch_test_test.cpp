// The touch test against steps that were made by the formula itself, with noise of a generator of its own.
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "diagnose/touch_test.h"
#include "diagnose/warm_up.h"
#include "sim/environment.h"

namespace fair_gauge::touch_test_test {

using testing::HasSubstr;

// 20 °C, from second 30 on towards 26 °C with a time constant of 4 s, one reading each `period`.
std::vector<TouchReading> step(double change, double time_constant, double until, double period = 0.5,
                               double noise = 0) {
  std::mt19937 random(7);
  std::normal_distribution<double> scatter(0, 1);
  std::vector<TouchReading> readings;
  for (double t = 0; t <= until; t += period) {
    const double there = t > 30 ? change * (1 - std::exp(-(t - 30) / time_constant)) : 0;
    readings.push_back({t, 20 + there + noise * scatter(random)});
  }
  return readings;
}

const TouchWay& warm() {
  static const TouchWay way = touch_ways(Quantity::temperature).front();
  return way;
}
const Unit& kelvin() { return base_unit(Dimension::temperature); }

std::string words_of(const std::vector<Finding>& findings) {
  std::string words;
  for (const Finding& finding : findings) words += finding.words + "\n";
  return words;
}

TEST(StepFit, FindsTheStepThatWasMade) {
  for (const double time_constant : {0.5, 4.0, 20.0})
    for (const double change : {6.0, -3.5, 0.02}) {
      const auto fit = fit_step(step(change, time_constant, 90), 30);
      ASSERT_TRUE(fit);
      EXPECT_NEAR(fit->before, 20, 1e-9);
      EXPECT_NEAR(fit->change, change, 1e-3 * std::abs(change)) << time_constant;
      EXPECT_NEAR(fit->time_constant_s, time_constant, 2e-3 * time_constant) << change;
      EXPECT_NEAR(fit->misfit, 0, 1e-4 * std::abs(change));
      EXPECT_NEAR(fit->reached, 1 - std::exp(-60 / time_constant), 1e-3);
      // After one time constant 63.2 % are there.
      EXPECT_NEAR(fit->at(time_constant), 20 + 0.632 * change, 2e-3 * std::abs(change));
    }
}

TEST(StepFit, BearsNoiseAndNamesItsSize) {
  const auto fit = fit_step(step(6, 4, 90, 0.25, 0.1), 30);
  ASSERT_TRUE(fit);
  EXPECT_NEAR(fit->by_itself, 3 * 0.5, 0.45);  // five standard deviations among 120 readings, over thrice the time
  EXPECT_NEAR(fit->misfit, 0.1, 0.02);
  EXPECT_NEAR(fit->change, 6, 0.06);
  EXPECT_NEAR(fit->time_constant_s, 4, 0.3);
}

TEST(StepFit, NeedsReadingsOnBothSides) {
  EXPECT_FALSE(fit_step({}, 0));
  EXPECT_FALSE(fit_step(step(6, 4, 90), -1)) << "nothing before";
  EXPECT_FALSE(fit_step(step(6, 4, 31), 30)) << "two after";
  EXPECT_TRUE(fit_step(step(6, 4, 32), 30));
  const auto flat = fit_step(step(0, 4, 90), 30);
  ASSERT_TRUE(flat);
  EXPECT_NEAR(flat->change, 0, 1e-9);
  EXPECT_TRUE(std::isfinite(flat->time_constant_s));
}

TEST(TouchTest, ARightSensorIsSaidToBeOne) {
  const auto findings = judge_touch(warm(), {"Core", 0.06, 12}, *fit_step(step(6, 4, 90, 0.5, 0.02), 30), {}, kelvin());
  EXPECT_EQ(findings.front().severity, Severity::note);
  EXPECT_THAT(words_of(findings), HasSubstr("Core answers, and the right way: up by 6.0"));
  EXPECT_THAT(words_of(findings), HasSubstr("its sheet has 12 s in still air"));
}

TEST(TouchTest, WhatIsWrongIsNamed) {
  const auto judged = [](const std::vector<TouchReading>& readings, double response_s = 12,
                         const std::vector<TouchNeighbour>& beside = {}) {
    return judge_touch(warm(), {"Core", 0.06, response_s}, *fit_step(readings, 30), beside, kelvin());
  };
  EXPECT_THAT(words_of(judged(step(0, 4, 90, 0.5, 0.02))), HasSubstr("did not answer"));
  EXPECT_EQ(judged(step(0, 4, 90, 0.5, 0.02)).front().severity, Severity::fault);
  EXPECT_THAT(words_of(judged(step(0.05, 4, 90))), HasSubstr("did not answer")) << "less than three steps";
  EXPECT_THAT(words_of(judged(step(-4, 4, 90, 0.5, 0.02))), HasSubstr("went the wrong way, by 4.0"));
  EXPECT_THAT(words_of(judged(step(6, 20, 90), 4)), HasSubstr("something lies between"));
  EXPECT_THAT(words_of(judged(step(6, 200, 60))), HasSubstr("still going"));
  // A neighbour that went with it, one that went instead, one that only wanders.
  const StepFit quiet = *fit_step(step(0, 4, 90, 0.5, 0.02), 30), half = *fit_step(step(2, 6, 90), 30),
                more = *fit_step(step(7, 4, 90), 30);
  EXPECT_THAT(words_of(judged(step(6, 4, 90), 12, {{"Fridge", half}})), HasSubstr("Fridge moved with it, by 2.0"));
  EXPECT_THAT(words_of(judged(step(6, 4, 90), 12, {{"Fridge", more}})), HasSubstr("Fridge moved instead, by 7.0"));
  EXPECT_THAT(words_of(judged(step(0, 4, 90, 0.5, 0.02), 12, {{"Fridge", half}})), HasSubstr("Fridge moved instead"));
  EXPECT_THAT(words_of(judged(step(6, 4, 90), 12, {{"Fridge", quiet}})), testing::Not(HasSubstr("Fridge")));
  // One that drifts by itself all the time, by two degrees in the minute that is watched.
  std::vector<TouchReading> drifting = step(0, 4, 90, 0.5, 0.02);
  for (TouchReading& each : drifting) each.value += each.seconds / 30;
  EXPECT_THAT(words_of(judged(step(6, 4, 60), 12, {{"Fridge", *fit_step(std::span(drifting).first(121), 30)}})),
              testing::Not(HasSubstr("Fridge")));
}

TEST(TouchTest, EveryWayHasWordsAndMindsWhatHurts) {
  int ways = 0;
  for (const Quantity quantity : {Quantity::temperature, Quantity::humidity, Quantity::pressure, Quantity::illuminance})
    for (const TouchWay& way : touch_ways(quantity)) {
      ++ways;
      EXPECT_NE(way.direction, 0) << way.name;
      EXPECT_EQ(way.usual_change > 0, way.direction > 0) << way.name;
      EXPECT_GT(std::string(way.begin).size() + std::string(way.end).size(), 20u);
    }
  EXPECT_EQ(ways, 7);
  EXPECT_THAT(std::string(touch_ways(Quantity::pressure).front().care), HasSubstr("Never blow"));
  EXPECT_TRUE(touch_ways(Quantity::bridge_voltage).empty());
}

TEST(SimulatedTouch, GoesThereAndComesBack) {
  SimulatedTouch touch{.change = 6, .began = 100, .time_constant_s = 3};
  EXPECT_EQ(touch.at(100), 0);
  EXPECT_NEAR(touch.at(103), 6 * 0.63212, 1e-4);
  EXPECT_NEAR(touch.at(160), 6, 1e-6);
  touch.ended = 103;
  EXPECT_NEAR(touch.at(103), 6 * 0.63212, 1e-4);
  EXPECT_NEAR(touch.at(106), 6 * 0.63212 * 0.36788, 1e-4);
  EXPECT_NEAR(touch.at(200), 0, 1e-9);
}

// 21 °C, 3.2 °C more in the end, 140 s: made with another noise than the program draws, one reading in two seconds.
std::vector<TouchReading> warming(double seconds, double rise, double noise) {
  std::vector<TouchReading> readings;
  for (int i = 0; 2.0 * i <= seconds; ++i)
    readings.push_back({100 + 2.0 * i, 21 + rise - rise * std::exp(-2.0 * i / 140) + noise * std::sin(7.3 * i * i)});
  return readings;
}

TEST(WarmUpFit, FindsWhereItBeganHowFarAndHowFast) {
  const auto exact = fit_warm_up(warming(600, 3.2, 0), 100);
  ASSERT_TRUE(exact);
  EXPECT_NEAR(exact->cold, 21, 1e-3);
  EXPECT_NEAR(exact->rise, 3.2, 1e-3);
  EXPECT_NEAR(exact->time_constant_s, 140, 0.1);
  EXPECT_NEAR(exact->reached, 1 - std::exp(-600.0 / 140), 1e-3);
  EXPECT_NEAR(exact->at(140), 21 + 3.2 * 0.632121, 2e-3);
  EXPECT_NEAR(exact->at(-5), exact->cold, 1e-12);
  const auto noisy = fit_warm_up(warming(600, 3.2, 0.1), 100);
  EXPECT_NEAR(noisy->rise, 3.2, 0.06);
  EXPECT_NEAR(noisy->time_constant_s, 140, 10);
  EXPECT_NEAR(noisy->misfit, 0.1 / std::sqrt(2.0), 0.01);
  EXPECT_GT(noisy->standard, 0.005);
  EXPECT_LT(noisy->standard, 0.03);
  // Cut short its end cannot be told, and it says so.
  EXPECT_LT(fit_warm_up(warming(60, 3.2, 0), 100)->reached, 0.4);
  EXPECT_LT(std::abs(fit_warm_up(warming(600, 0, 0.1), 100)->rise), 0.1);
  EXPECT_FALSE(fit_warm_up(warming(8, 3.2, 0), 100)) << "five readings";
  EXPECT_FALSE(fit_warm_up({}, 0));
  // What was read before it was switched on does not count.
  auto late = warming(600, 3.2, 0);
  late.insert(late.begin(), {{10, 90}, {20, 90}});
  EXPECT_NEAR(fit_warm_up(late, 100)->rise, 3.2, 1e-3);
}

TEST(TouchWays, OnlyWhatWarmsItselfIsSwitchedOnCold) {
  for (const TouchWay& each : touch_ways(Quantity::temperature)) EXPECT_EQ(each.kind, TouchKind::touch);
  EXPECT_EQ(touch_ways(Quantity::temperature, true).size(), touch_ways(Quantity::temperature).size() + 2);
  EXPECT_EQ(touch_ways(Quantity::humidity, true).size(), touch_ways(Quantity::humidity).size());
}

}  // namespace fair_gauge::touch_test_test
