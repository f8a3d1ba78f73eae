// A room that is heated by a rule, against sums by hand and an integration of the test's own.
#include <gmock/gmock.h>

#include <cmath>

#include "demo.h"
#include "stream/simulated_room.h"

namespace fair_gauge::simulated_room_test {

using testing::HasSubstr;

Chain thermometer(double period_s = 1) {
  Bench bench;
  bench.rails = {{.id = "3v3"}};
  bench.buses = {{.id = "bus", .rail = "3v3"}};
  bench.devices = {{.id = "probe", .part = "DS18B20", .bus = "bus"}};
  bench.channels = {{.id = "air", .device = "probe", .period_s = period_s}};
  auto chain = build_chain(bench, shipped_parts(), "air");
  EXPECT_TRUE(chain) << to_text(chain.problem());
  return std::move(*chain);
}

const Range plausible{-40, 100};
const SwitchedRoom room{.outside = 10, .power_w = 100, .loss_w_per_k = 4, .mass_j_per_k = 40e3};

// 100 W against 4 W/K are 25 K: from 10 °C towards 35 °C with 10 000 s. Between 19.5 and 20.5 °C it heats for
// 10 000 · ln(15.5 / 14.5) = 667 s and cools for 10 000 · ln(10.5 / 9.5) = 1001 s: 1668 s for two changes, on for 40 %.
TEST(SimulatedRoom, SwingsAsItsHeatAndLossSay) {
  const auto run = run_in_room(thermometer(), {.goal = 20, .band = 0.5}, room, plausible, 0, 48);
  ASSERT_TRUE(run) << to_text(run.problem());
  EXPECT_TRUE(run->reaches_goal);
  // A step of 1/16 K, read to its half, makes the band a little wider; its noise a little narrower.
  EXPECT_NEAR(run->switches_a_day, 2 * 86400 / 1668.0, 9);
  EXPECT_NEAR(run->over, 0.5, 0.05);
  EXPECT_NEAR(run->under, 0.5, 0.05);
  // The warming up from 10 °C, 4600 s of 48 h, counts as on too.
  EXPECT_NEAR(run->switched.share_on, 0.4 + 4600.0 / 172800 * 0.6, 0.02);
  EXPECT_EQ(run->truth.size(), run->log.rows.size());
}

// Two thermal masses by small steps of the test's own: a sensor that follows with 120 s sees the goal late.
TEST(SimulatedRoom, ASlowSensorLetsItSwingFurther) {
  if (is_sanitized) GTEST_SKIP() << "the same code as above";
  double air = 10, sensor = 10, highest = 0;
  bool on = false, there = false;
  for (double seconds = 0; seconds < 24 * 3600; seconds += 0.1) {
    air += 0.1 * ((on ? 100 : 0) - 4 * (air - 10)) / 40e3;
    sensor += 0.1 * (air - sensor) / 120;
    if (sensor < 19.5) on = true;
    if (sensor > 20.5) on = false;
    there = there || air >= 20;
    if (there) highest = std::max(highest, air - 20);
  }
  const SwitchRule rule{.goal = 20, .band = 0.5};
  const auto slow = run_in_room(thermometer(), rule, room, plausible, 120, 24);
  ASSERT_TRUE(slow);
  EXPECT_NEAR(slow->over, highest, 0.06);
  EXPECT_GT(slow->over, run_in_room(thermometer(), rule, room, plausible, 0, 24)->over + 0.1);
}

TEST(SimulatedRoom, ACoolerWorksTheOtherWay) {
  if (is_sanitized) GTEST_SKIP() << "the same code as above";
  const SwitchedRoom warm{.outside = 30, .power_w = 60, .loss_w_per_k = 4, .mass_j_per_k = 20e3};
  const auto run = run_in_room(thermometer(), {.heats = false, .goal = 20, .band = 0.5}, warm, plausible, 0, 24);
  ASSERT_TRUE(run);
  EXPECT_TRUE(run->reaches_goal);
  // 60 W against 4 W/K are 15 K below 30 °C; held at 20 °C it is on for 10 of 15.
  EXPECT_NEAR(run->switched.share_on, 10.0 / 15, 0.03);
}

TEST(SimulatedRoom, ATooWeakHeaterIsSaidSo) {
  if (is_sanitized) GTEST_SKIP() << "the same code as above";
  const SwitchRule rule{.goal = 50, .band = 0.5};
  const auto run = run_in_room(thermometer(), rule, room, plausible, 0, 24);
  ASSERT_TRUE(run);
  EXPECT_FALSE(run->reaches_goal);
  EXPECT_THAT(room_words(*run, rule, room, "K").front(), HasSubstr("100 W against a loss of 4 W/K are 25 K"));
}

TEST(SimulatedRoom, WordsCountTheRelay) {
  if (is_sanitized) GTEST_SKIP() << "the same code as above";
  SwitchRule rule{.goal = 20, .band = 0.02};
  const SwitchedRoom box{.outside = 10, .power_w = 200, .loss_w_per_k = 4, .mass_j_per_k = 2e3};
  const auto run = run_in_room(thermometer(), rule, box, plausible, 5, 12);
  ASSERT_TRUE(run);
  const auto words = room_words(*run, rule, box, "K");
  EXPECT_THAT(words, testing::Contains(HasSubstr("a relay of 100 000 changes")));
  EXPECT_THAT(words, testing::Contains(HasSubstr("goes beyond the band")));
  rule.minimum_on_s = rule.minimum_off_s = 600;
  EXPECT_LE(run_in_room(thermometer(), rule, box, plausible, 5, 12)->switches_a_day, 145);
}

TEST(SimulatedRoom, WhatCannotBeSimulatedIsRefused) {
  const SwitchRule rule{.goal = 20, .band = 1};
  EXPECT_FALSE(run_in_room(demo_chain("room_humidity"), rule, room, {0, 100}, 0, 24));
  EXPECT_FALSE(run_in_room(thermometer(), rule, {.mass_j_per_k = 0}, plausible, 0, 24));
  EXPECT_FALSE(run_in_room(thermometer(), rule, {.loss_w_per_k = 0}, plausible, 0, 24));
  EXPECT_FALSE(run_in_room(thermometer(), rule, room, plausible, 0, 1000));
}

// 10 °C + 25 K · (1 − exp(−t / 8000 s)) by 100 W: 4 W/K, and 8000 s · 4 W/K = 32 kJ/K.
TEST(SimulatedRoom, IsFoundFromARecordedStep) {
  std::vector<std::pair<double, double>> readings;
  for (int i = 0; i <= 100; ++i) readings.emplace_back(500 + 60.0 * i, 10 - 25 * std::expm1(-60.0 * i / 8000));
  const auto found = room_of_step(readings, 100, true);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->outside, 10, 0.05);
  EXPECT_NEAR(found->loss_w_per_k, 4, 0.04);
  EXPECT_NEAR(found->mass_j_per_k, 32e3, 300);
  EXPECT_FALSE(room_of_step(readings, 100, false)) << "a cooler does not warm";
  EXPECT_FALSE(room_of_step(readings, 0, true));
  EXPECT_FALSE(room_of_step(std::span(readings).first(3), 100, true));
  for (auto& [seconds, value] : readings) value = 40 - value;
  EXPECT_NEAR(room_of_step(readings, 100, false)->outside, 30, 0.05);
}

}  // namespace fair_gauge::simulated_room_test
