// The simulation repeats itself for a seed, and its devices scatter as their converters do.
#include "sim/environment.h"

#include <gtest/gtest.h>

#include <cmath>

#include "demo.h"

namespace fair_gauge::sim_test {

TEST(Shed, TheSameSeedGivesTheSameDay) {
  const Channel channel = demo_bench().channels.front();
  const EnvironmentCourse one(channel, 7), same(channel, 7), other(channel, 8);
  bool differs = false;
  for (double time = 0; time < 86400; time += 613) {
    EXPECT_EQ(one.at(time), same.at(time));
    differs = differs || one.at(time) != other.at(time);
    EXPECT_NEAR(one.at(time), 24.6, 1.0);  // base ± swing and ripple of the demonstration bench
  }
  EXPECT_TRUE(differs);
}

TEST(Shed, TheAfternoonIsWarmerThanTheNight) {
  const EnvironmentCourse course(demo_bench().channels.front(), 3);
  EXPECT_GT(course.at(15 * 3600), course.at(3 * 3600));
}

TEST(SimulatedDevice, ScattersByTheConvertersNoise) {
  const Chain chain = demo_chain("substrate");
  SimulatedDevice device(chain, 1);
  double sum = 0, squares = 0;
  constexpr int readings = 4000;
  for (int i = 0; i < readings; ++i) {
    const auto raw = static_cast<double>(device.answer(24.8));
    sum += raw, squares += raw * raw;
  }
  const double mean = sum / readings;
  // 1.2 steps rms and the rounding of a step: √(1.2² + 1/12) = 1.234
  EXPECT_NEAR(std::sqrt(squares / readings - mean * mean), 1.234, 0.06);
  EXPECT_NEAR(mean, *raw_for(chain, 24.8), 0.6);
}

TEST(SimulatedDevice, FaultsLookLikeTheRealOnes) {
  using enum SimulatedFault;
  SimulatedDevice thermistor(demo_chain("substrate"), 1), fridge(demo_chain("spawn_fridge"), 1);
  EXPECT_EQ(thermistor.answer(20, open), 4095u);  // the resistor above it pulls the pin to the supply
  EXPECT_EQ(thermistor.answer(20, shorted), 0u);
  EXPECT_EQ(fridge.answer(4, open), 0u);
  const auto first = fridge.answer(4, stuck);
  EXPECT_EQ(fridge.answer(14, stuck), first);
  int missed = 0, spiked = 0;
  for (int i = 0; i < 1000; ++i) missed += !fridge.answer(4, missing), spiked += fridge.answer(4, spikes) == 4095u;
  EXPECT_NEAR(missed, 300, 60);
  EXPECT_NEAR(spiked, 20, 15);
  EXPECT_EQ(simulated_fault_from_text("short"), shorted);
  EXPECT_EQ(simulated_fault_from_text("tired"), std::nullopt);
}

TEST(SimulatedDevice, ClipsAsAConverterDoes) {
  SimulatedDevice device(demo_chain("spawn_fridge"), 1);
  EXPECT_EQ(device.answer(1000), 4095u);
  EXPECT_EQ(device.answer(-200), 0u);
}

// What no bench says the course of lives in a room, where a room is wanted.
TEST(Simulation, LivesInARoomWhereOneIsWanted) {
  Channel channel{
      .id = "p", .quantity = Quantity::pressure, .kind = PressureKind::absolute, .wanted = {30'000, 110'000}};
  const auto course_of = [&](double least, double most) {
    const EnvironmentCourse course(channel, 7);
    for (double at = 0; at < 86400; at += 600) {
      EXPECT_GT(course.at(at), least) << at;
      EXPECT_LT(course.at(at), most) << at;
    }
  };
  course_of(100'000, 102'000);  // not 70 000, the middle
  channel.wanted = {0, 10'000};
  course_of(3'500, 6'500);
  channel = {.id = "t", .wanted = {0, 50}};
  course_of(18, 24);
  channel.wanted = {0, 400};  // an oven
  course_of(150, 250);
}

}  // namespace fair_gauge::sim_test
