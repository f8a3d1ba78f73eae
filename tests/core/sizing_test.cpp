// Sizing: each answer against brute force over every standard value, or against a hand calculation.
#include <gmock/gmock.h>

#include <cmath>

#include "demo.h"
#include "sizing/load_resistor.h"
#include "sizing/pull_up.h"
#include "sizing/rc_filter.h"
#include "sizing/sensor_divider.h"
#include "sizing/span.h"
#include "sizing/voltage_divider.h"

namespace fair_gauge::sizing_test {

using testing::Contains;
using testing::HasSubstr;

DividerWish thermistor_wish(double from = 0, double to = 50) {
  const Part& part = *shipped_parts().find("ntc-beta");
  return {.law = *transfer_law(part, {}),
          .range = part.quantities.front(),
          .from = from,
          .to = to,
          .kelvin_per_watt = part.kelvin_per_watt};
}

// Degrees a step, from whole codes: how far the temperature moves for one step around each of 60 places of the range.
double worst_step_by_codes(double fixed_ohm, double from, double to) {
  double worst = 0;
  for (int i = 0; i <= 60; ++i) {
    const double kelvin = from + (to - from) * i / 60 + 273.15;
    const double ohms = 10e3 * std::exp(3950 * (1 / kelvin - 1 / 298.15));
    const double share = ohms / (ohms + fixed_ohm);
    const auto celsius_of = [&](double x) {
      return 1 / (1 / 298.15 + std::log(fixed_ohm * x / (1 - x) / 10e3) / 3950);
    };
    worst = std::max(worst, std::abs(celsius_of(share + 0.5 / 4096) - celsius_of(share - 0.5 / 4096)));
  }
  return worst;
}

TEST(SensorDivider, IsTheBestOfAllStandardValues) {
  for (const auto& [from, to] : {std::pair{0.0, 50.0}, {-20.0, 30.0}, {60.0, 110.0}}) {
    const auto size = size_sensor_divider(thermistor_wish(from, to));
    ASSERT_TRUE(size);
    double best = 1e9, best_ohm = 0;
    for (const double ohm : values_between(ESeries::e24, 10, 10e6))
      if (const double worst = worst_step_by_codes(ohm, from, to); worst < best) best = worst, best_ohm = ohm;
    EXPECT_EQ(size->chosen.fixed_ohm, best_ohm) << from << "…" << to;
    EXPECT_NEAR(size->chosen.worst_step, best, 0.01 * best);
  }
}

TEST(SensorDivider, GoalsDiffer) {
  DividerWish wish = thermistor_wish();
  const auto fine = size_sensor_divider(wish);
  wish.goal = DividerGoal::linear;
  const auto straight = size_sensor_divider(wish);
  wish.goal = DividerGoal::current;
  const auto thrifty = size_sensor_divider(wish);
  for (const auto& candidate : fine->candidates) {
    EXPECT_GE(candidate.worst_step, fine->chosen.worst_step);
    EXPECT_GE(candidate.nonlinearity, straight->chosen.nonlinearity);
  }
  EXPECT_LT(thrifty->chosen.highest_a, fine->chosen.highest_a);
  EXPECT_LE(thrifty->chosen.worst_step, 2 * fine->chosen.worst_step);
}

// A cell of 10 kΩ at 10 lx and γ 0.7 has 50.12 kΩ at 1 lx and 79.4 Ω at 10 000 lx. A step of the share is
// (R + F)² ÷ (2¹² · γ · R · F) of the reading: alike at both ends with F = √(50.12 kΩ · 79.4 Ω) = 1.995 kΩ, where
// 2 kΩ makes 52.12² ÷ (4096 · 0.7 · 50.12 · 2) = 0.945 % and 2.0794² ÷ (4096 · 0.7 · 0.0794 · 2) = 0.950 %.
TEST(SensorDivider, OfLightIsSizedInDecades) {
  const Part& part = *shipped_parts().find("ldr-gamma");
  DividerWish wish{.law = *transfer_law(part, {}), .range = part.quantities.front(), .from = 1, .to = 10'000};
  wish.goal = DividerGoal::relative;
  const auto size = size_sensor_divider(wish);
  ASSERT_TRUE(size);
  EXPECT_EQ(size->chosen.fixed_ohm, 2e3);
  EXPECT_NEAR(size->chosen.worst_share, 0.0095, 2e-5);
  DividerWish frost = thermistor_wish(-20, 30);
  frost.goal = DividerGoal::relative;
  EXPECT_THAT(size_sensor_divider(frost).problem().wrong, HasSubstr("share of a reading of -20"));
  wish.goal = DividerGoal::resolution;
  EXPECT_LT(size_sensor_divider(wish)->chosen.fixed_ohm, 200) << "the finest step in lx is that of the brightest light";
}

TEST(SensorDivider, KeepsItsLimitsOrSaysWhatIsNearest) {
  DividerWish wish = thermistor_wish();
  wish.max_source_ohm = 2000;
  const auto limited = size_sensor_divider(wish);
  EXPECT_LE(limited->chosen.source_ohm, 2000);
  wish.max_self_heating_k = 0.01;
  wish.max_source_ohm = 100;
  const auto impossible = size_sensor_divider(wish);
  ASSERT_FALSE(impossible);
  EXPECT_THAT(impossible.problem().expected, HasSubstr("the least self-heating"));
  EXPECT_THAT(to_text(size_sensor_divider(thermistor_wish(0, 500)).problem()),
              HasSubstr("outside what the part can do"));
  wish = thermistor_wish();
  wish.resistors.drawer_ohm = {1e3, 6.8e3, 100e3};
  EXPECT_EQ(size_sensor_divider(wish)->chosen.fixed_ohm, 6.8e3) << "only what lies in the drawer";
}

TEST(SensorDivider, SpreadFollowsTheTolerance) {
  // By hand at 25 °C: dT/T² = dR/(R·B): 1 % of R is 0.01·298.15²/3950 = 0.225 K; 95 % of a rectangle is 0.95 of it.
  const double spread = divider_spread(thermistor_wish(), 8200, 0.01, 25, 20000, 7);
  EXPECT_NEAR(spread, 0.95 * 0.225, 0.005);
  EXPECT_EQ(spread, divider_spread(thermistor_wish(), 8200, 0.01, 25, 20000, 7)) << "the same seed gives the same";
}

TEST(LevelDivider, IsTheNearestPairThatNeverExceeds) {
  for (const auto& [from, to] : {std::pair{5.0, 3.3}, {12.0, 3.3}, {24.0, 1.1}, {5.0, 2.5}}) {
    const auto pairs = size_level_divider({.from_v = from, .to_v = to, .max_source_ohm = 10e3});
    ASSERT_TRUE(pairs);
    double best = 1;
    for (const double top : values_between(ESeries::e24, 10, 1e6))
      for (const double bottom : values_between(ESeries::e24, 10, 1e6)) {
        const double error = 1 - bottom / (top + bottom) * from / to;
        if (error >= -1e-9 && top * bottom / (top + bottom) <= 10e3) best = std::min(best, error);
      }
    EXPECT_NEAR(-pairs->front().ratio_error, best, 1e-9) << from << " to " << to;
    EXPECT_LE(from * pairs->front().ratio, to * (1 + 1e-9));
    EXPECT_LE(pairs->front().source_ohm, 10e3);
  }
  EXPECT_THAT(to_text(size_level_divider({.from_v = 3, .to_v = 3.3}).problem()),
              HasSubstr("nothing has to be divided"));
}

TEST(LevelDivider, CountsTheLoadOfThePin) {
  const auto pairs = size_level_divider({.from_v = 5, .to_v = 2.5, .max_source_ohm = 10e3, .input_ohm = 50e3});
  const LevelDivider& pair = pairs->front();
  const double seen = pair.bottom_ohm * 50e3 / (pair.bottom_ohm + 50e3);
  EXPECT_NEAR(pair.loaded_ratio, seen / (pair.top_ohm + seen), 1e-12);
  EXPECT_LE(pair.loaded_ratio, 0.5 + 1e-9);
  EXPECT_GT(pair.loaded_ratio, 0.49);
}

SensorSpan centigrade(double from, double to) {
  const Part& part = *shipped_parts().find("LM35");
  return {*transfer_law(part, {}), part.quantities.front(), from, to};
}

TEST(Spans, PutTheFinestThatDoesNotClipFirst) {
  const auto table = *compare_spans(centigrade(0, 60), 10, {5, 1.1, 0.5, 3.3}, {1, 2});
  ASSERT_EQ(table.size(), 8u);
  EXPECT_EQ(table.front().reference_v, 1.1);  // 0.6 V at 60 °C fits 1.1 V, not 0.55 V
  EXPECT_NEAR(table.front().step_physical, 1.1 / 1024 / 0.01, 1e-6);
  EXPECT_NEAR(table.front().span_used, 0.6 / 1.1, 1e-9);
  EXPECT_TRUE(table.back().clips);
  EXPECT_NEAR(*table.back().clips_above, 25, 1e-9);  // 0.25 V
  EXPECT_THAT(compare_in_words(table.back(), table.front(), base_unit(Dimension::temperature)),
              HasSubstr("4.4 times the resolution and clip above 25 °C"));
  EXPECT_NEAR(*reference_for_step(centigrade(2, 100), 10, 0.1), 1.024, 1e-9);
  const Part& curved = *shipped_parts().find("LMT86");
  EXPECT_FALSE(reference_for_step({*transfer_law(curved, {}), curved.quantities.front(), 0, 50}, 10, 0.1));
}

TEST(Spans, RefuseWhatCannotBe) {
  EXPECT_FALSE(compare_spans(centigrade(0, 60), 10, {}, {}));
  EXPECT_FALSE(compare_spans(centigrade(0, 60), 10, {-1}, {}));
  EXPECT_FALSE(compare_spans(centigrade(60, 0), 10, {1.1}, {}));
  const DividerWish thermistor = thermistor_wish();
  EXPECT_FALSE(compare_spans({thermistor.law, thermistor.range, 0, 50}, 10, {1.1}, {}));
}

TEST(Gain, NeverLeavesTheSpanAndIsTheBestPair) {
  const GainWish wish{.low_v = 0.1, .high_v = 0.6, .reference_v = 3.3};
  const auto size = *size_gain(wish);
  // 1 kΩ makes 4.06 nV/√Hz at 25 °C, beside 20 of the amplifier; a single pole of 1 kHz passes 1.571 kHz.
  const double source_k = 1e-3 / (1 / size.plain.feedback_ohm + 1 / size.plain.input_ohm);
  EXPECT_NEAR(size.plain.noise_v / size.plain.gain, std::sqrt((400 + 4.06 * 4.06 * source_k) * 1571) * 1e-9, 2e-9);
  EXPECT_GT(source_k, 0.5) << "it counts";
  double best = 1;
  for (const double input : values_between(ESeries::e24, 1e3, 10e3))
    for (const double feedback : values_between(ESeries::e24, 1, 10e6))
      if (const double gain = 1 + feedback / input; gain <= 3.3 * 0.9 / 0.5 * (1 + 1e-9))
        best = std::min(best, 1 - gain / (3.3 * 0.9 / 0.5));
  EXPECT_NEAR(1 - size.shifted.gain / size.shifted.gain_wanted, best, 1e-9);
  EXPECT_GE(size.shifted.at_low_v, 0.165 - 1e-9);
  EXPECT_LE(size.shifted.at_high_v, 3.135 + 1e-9);
  EXPECT_LE(size.plain.at_high_v, 3.135 + 1e-9);
  EXPECT_THAT(size_gain({.low_v = -0.5, .high_v = 0.5})->reasons, Contains(HasSubstr("below ground")));
  EXPECT_FALSE(size_gain({.low_v = 1, .high_v = 1}));
}

TEST(Reference, WorstCaseHoldsForEveryCorner) {
  const ReferenceWish wish{.supply_v = 5, .supply_tolerance = 0.05, .target_v = 0.5, .load_ohm = 8e3};
  const auto size = *size_reference(wish);
  for (const double supply : {4.75, 5.25})
    for (const double top : {0.99, 1.01})
      for (const double bottom : {0.99, 1.01}) {
        const double low = size.divider.bottom_ohm * bottom, seen = low * 8e3 / (low + 8e3);
        const double volts = supply * seen / (size.divider.top_ohm * top + seen);
        EXPECT_GE(volts, size.divider.lowest_v - 1e-9);
        EXPECT_LE(volts, size.divider.highest_v + 1e-9);
      }
  EXPECT_NEAR(size.divider.nominal_v, 0.5, 0.005);
  ASSERT_TRUE(size.shunt);
  EXPECT_GE((4.75 - 0.505) / (size.shunt->top_ohm * 1.01), 1e-3 + 0.5 / 8e3)
      << "enough for regulator and load at the lowest supply";
  EXPECT_FALSE(size_reference({.supply_v = 2.5, .target_v = 2.45})->shunt);
  EXPECT_FALSE(size_reference({.supply_v = 2, .target_v = 2.5}));
}

TEST(LoadResistor, WindowByHand) {
  // High level 112.5 µA must reach 0.9 V: 8.0 kΩ. 143 µA may take 3.3 − 2.0 V: 9.09 kΩ. Low level: 0.6 V ÷ 39 µA = 15.4
  // kΩ.
  const auto size = *size_load_resistor({.threshold_v = {0.6, 0.9}, .supply_v = 3.3, .headroom_v = 2.0});
  EXPECT_NEAR(size.minimum_ohm, 8000, 0.1);
  EXPECT_NEAR(size.maximum_ohm, 9090.9, 0.1);
  EXPECT_EQ(size.recommended_ohm, 8200);
  EXPECT_LT(size.low_v.maximum, 0.6);
  EXPECT_GT(size.high_v.minimum, 0.9);
  const auto none = *size_load_resistor({.threshold_v = {0.8, 1.4}, .supply_v = 3.3, .headroom_v = 2.0});
  EXPECT_FALSE(none.possible);
  EXPECT_THAT(none.reasons, Contains(HasSubstr("transistor")));
  EXPECT_FALSE(size_load_resistor({.supply_v = 2, .headroom_v = 2.15}));
  EXPECT_FALSE(size_load_resistor({.low_a = {39e-6, 28e-6}}));
}

TEST(Filter, SettlesAsTheSinglePoleDoes) {
  const auto size = *size_rc_filter({.cutoff_hz = 100, .bits = 12});
  EXPECT_LE(size.cutoff_hz, 100);
  EXPECT_GT(size.cutoff_hz, 90);
  EXPECT_NEAR(std::exp(-size.settling_s / (size.ohm * size.farad)), 0.5 / 4096, 1e-9);
  const auto slow = *size_rc_filter({.cutoff_hz = 10, .settle_s = 1e-3});
  EXPECT_FALSE(slow.possible);
  EXPECT_THAT(slow.reasons, Contains(HasSubstr("would settle in time")));
  EXPECT_FALSE(size_rc_filter({.cutoff_hz = 0}));
}

TEST(PullUp, WindowsByHandFromTheBusSpecification) {
  struct Case {
    double supply, speed, farad, least, most;
  };
  // (3.3 − 0.4)/3 mA = 966.7; 300 ns/(0.8473·100 pF) = 3540.7. 1.8 V: (1.8 − 0.36)/2 mA = 720. 1 MHz: (3.3 − 0.4)/20 mA
  // = 145; 120 ns/(0.8473·400 pF) = 354.1
  for (const auto& [supply, speed, farad, least, most] : {Case{3.3, 400e3, 100e-12, 966.67, 3540.66},
                                                          {3.3, 100e3, 400e-12, 966.67, 2950.55},
                                                          {1.8, 400e3, 100e-12, 720, 3540.66},
                                                          {3.3, 1e6, 400e-12, 145, 354.07}}) {
    const auto size = size_two_wire({.supply_v = supply, .speed_hz = speed, .capacitance_f = farad});
    EXPECT_NEAR(size->minimum_ohm, least, 0.01);
    EXPECT_NEAR(size->maximum_ohm, most, 0.01);
    EXPECT_EQ(size->verdict, PullUpVerdict::good);
    EXPECT_GE(*size->recommended_ohm, least);
    EXPECT_LE(*size->recommended_ohm, most);
  }
}

TEST(PullUp, VerdictsOfWhatIsThere) {
  using enum PullUpVerdict;
  const auto judged = [](std::vector<double> existing, double speed = 400e3, double farad = 100e-12) {
    return *size_two_wire({.speed_hz = speed, .capacitance_f = farad, .existing_ohm = std::move(existing)});
  };
  EXPECT_EQ(judged({10e3, 10e3, 10e3}).verdict, good);
  EXPECT_NEAR(*judged({10e3, 10e3, 10e3}).existing_ohm, 3333.3, 0.1);
  // "good to 106 pF": 300 ns ÷ (0.8473 · 3333 Ω)
  EXPECT_THAT(judged({10e3, 10e3, 10e3}).reasons, Contains(HasSubstr("good for up to 106 pF")));
  EXPECT_EQ(judged({10e3}).verdict, too_weak);
  EXPECT_EQ(judged({1.5e3, 1.5e3}).verdict, too_strong);
  EXPECT_EQ(size_two_wire({.speed_hz = 1e6, .capacitance_f = 400e-12, .sink_a = 3e-3})->verdict, impossible);
  EXPECT_EQ(judged({}, 100e3, 500e-12).verdict, impossible) << "more capacitance than the specification allows";
  EXPECT_FALSE(size_two_wire({.speed_hz = 250e3}));
  EXPECT_FALSE(size_two_wire({.capacitance_f = 0}));
  EXPECT_FALSE(size_two_wire({.existing_ohm = {0}}));
}

TEST(PullUp, OneWireGrowsStrongerWithTheCable) {
  const auto near = *size_one_wire({.sensors = 1, .cable_m = 1}), far = *size_one_wire({.sensors = 10, .cable_m = 60});
  EXPECT_NEAR(near.minimum_ohm, 725, 1e-9);  // (3.3 − 0.4) ÷ 4 mA
  EXPECT_LT(far.maximum_ohm, near.maximum_ohm);
  EXPECT_THAT(size_one_wire({.sensors = 3, .cable_m = 6, .parasite = true})->reasons,
              Contains(HasSubstr("strong pull-up")));
  EXPECT_EQ(size_one_wire({.cable_m = 120, .existing_ohm = {4700}})->verdict, PullUpVerdict::too_weak);
  EXPECT_FALSE(size_one_wire({.sensors = 0}));
  EXPECT_NEAR(size_open_drain({.supply_v = 5, .sink_a = 2e-3})->minimum_ohm, 2300, 1e-9);
}

// 1.2 kΩ with 6.8 nF, 12 bits, 14 pF, 2 µs: a sample takes 14 ÷ 6814 · 4096 = 8.416 steps; the capacitors recover with
// 1200 · 6.814 nF = 8.177 µs: 8.416 · e^(−2 ÷ 8.177) = 6.59 steps are left.
TEST(RcFilter, RecoversFromASampleOrSaysThatItDoesNot) {
  FilterWish wish{.cutoff_hz = 19.6e3, .bits = 12, .sample_farad = 14e-12, .acquisition_s = 2e-6, .max_ohm = 1200};
  wish.resistors.drawer_ohm = {1200};
  const auto size = size_rc_filter(wish);
  ASSERT_TRUE(size);
  const double both = size->farad + 14e-12;
  EXPECT_NEAR(size->left_steps, 14e-12 / both * 4096 * std::exp(-2e-6 / (size->ohm * both)), 1e-9);
  if (size->farad == 6.8e-9) {
    EXPECT_NEAR(size->left_steps, 6.59, 0.01);
  }
  EXPECT_EQ(size->possible, size->left_steps <= 0.5);
}

}  // namespace fair_gauge::sizing_test
