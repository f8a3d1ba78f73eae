// A meter held to a chain: figures worked out by hand from the circuit, and by specimens drawn with a model of its own.
#include "diagnose/meter_check.h"
#include "diagnose/reference_check.h"

#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "demo.h"

namespace fair_gauge::meter_check_test {

using testing::HasSubstr;
using testing::Not;

// The demonstration's thermistor: 8.2 kΩ ± 1 % to 3.3 V ± 2 %, which is the reference too; 12 bits, noise 1.2 steps,
// linearity 2, offset 1.5, gain 0.1 %.
constexpr double supply = 3.3, fixed_ohm = 8200, codes = 4096, step_v = supply / codes;
const Anchor live{StageName::converter, 2230};

double rectangular(double half_width) { return half_width / std::sqrt(3.0); }
double root_of_squares(std::initializer_list<double> parts) {
  double sum = 0;
  for (const double part : parts) sum += part * part;
  return std::sqrt(sum);
}

TEST(MeterCheck, ThePinIsExpectedAsTheCircuitHasIt) {
  const Chain chain = demo_chain("substrate");
  const double volts = 2230 * step_v;
  const auto check = check_with_meter(chain, live, StageName::front_end, 1.80, 0.005);
  ASSERT_TRUE(check) << to_text(check.problem());
  EXPECT_NEAR(check->expected, volts, 1e-9);
  EXPECT_EQ(check->measured, 1.80);
  // By hand: reference 2 %, linearity, offset, gain, noise, half a step, and the meter.
  const double by_hand = 2 * root_of_squares({rectangular(0.02 * volts), rectangular(2 * step_v),
                                              rectangular(1.5 * step_v), rectangular(0.001 * volts), 1.2 * step_v,
                                              rectangular(0.5 * step_v), rectangular(0.005 * 1.80)});
  EXPECT_NEAR(check->explained, by_hand, 0.01 * by_hand);
  EXPECT_TRUE(check->agrees());
  EXPECT_EQ(check->largest, "reference");
  // More volts at a pin with the fixed resistor above are a larger, colder thermistor: −3.4 % of its ohms a kelvin by
  // beta 3950 at 25 °C is 3950 / 298.4² = 4.44 % a kelvin.
  const double ohms = fixed_ohm * volts / (supply - volts), other = fixed_ohm * 1.80 / (supply - 1.80);
  const double kelvin =
      1 / (1 / 298.15 + std::log(other / 10000) / 3950) - 1 / (1 / 298.15 + std::log(ohms / 10000) / 3950);
  EXPECT_NEAR(check->reading_off, kelvin, 1e-6);
  EXPECT_NEAR(check->share, std::abs(kelvin) / 0.5, 1e-5);
}

// A rail that feeds the divider and is the reference drops out of the sensor's resistance.
TEST(MeterCheck, ASharedRailDropsOutOfTheSensor) {
  const Chain chain = demo_chain("substrate");
  const double ohms = fixed_ohm * 2230 / (codes - 2230), a_code = fixed_ohm * codes / std::pow(codes - 2230, 2);
  const auto check = check_with_meter(chain, live, StageName::sensor, ohms, 0);
  ASSERT_TRUE(check) << to_text(check.problem());
  EXPECT_NEAR(check->expected, ohms, 1e-6);
  const double by_hand =
      2 * root_of_squares({rectangular(0.01 * ohms), rectangular(2) * a_code, rectangular(1.5) * a_code,
                           rectangular(0.001 * 2230) * a_code, 1.2 * a_code, rectangular(0.5) * a_code});
  EXPECT_NEAR(check->explained, by_hand, 0.03 * by_hand);
  EXPECT_LT(check->explained, 0.02 * ohms) << "2 % of the rail would be more by itself";
  EXPECT_THAT(check->largest, HasSubstr("8k2 resistor"));
  EXPECT_NEAR(check->reading_off, 0, 1e-9);
}

// Specimens of the circuit, drawn and worked out here: of those that give the code, 95 in 100 lie within what is
// explained.
TEST(MeterCheck, HoldsNinetyFiveOfAHundredSpecimens) {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> even(-1, 1);
  std::normal_distribution<double> normal(0, 1);
  constexpr int count = 20000;
  const Chain chain = demo_chain("substrate");
  for (const double code : {400.0, 1200.0, 2230.0, 3500.0}) {
    const Anchor anchor{StageName::converter, code};
    const auto pin = check_with_meter(chain, anchor, StageName::front_end, code * step_v, 0.005);
    const double nominal = fixed_ohm * code / (codes - code);
    const auto sensor = check_with_meter(chain, anchor, StageName::sensor, nominal, 0.005);
    ASSERT_TRUE(pin && sensor);
    int pin_within = 0, sensor_within = 0;
    for (int i = 0; i < count; ++i) {
      const double rail = supply * (1 + 0.02 * even(random)), fixed = fixed_ohm * (1 + 0.01 * even(random));
      const double at = (code - 2 * even(random) - 1.5 * even(random) - 0.5 * even(random) - 1.2 * normal(random)) /
                        (1 + 0.001 * even(random));
      const double volts = at * rail / codes, ohms = fixed * volts / (rail - volts);
      pin_within += std::abs(volts * (1 + 0.005 * even(random)) - pin->expected) <= pin->explained;
      sensor_within += std::abs(ohms * (1 + 0.005 * even(random)) - sensor->expected) <= sensor->explained;
    }
    // Of one rectangular contribution by itself 1.15 of its half-widths hold all.
    EXPECT_GT(pin_within, 0.945 * count) << code;
    EXPECT_GT(sensor_within, 0.945 * count) << code;
    // A tenth less of it holds fewer: the figure is no larger than it must be.
    EXPECT_LT(sensor->explained, 2.2 * root_of_squares({rectangular(0.01 * nominal), rectangular(0.005 * nominal),
                                                        3.0 * fixed_ohm * codes / std::pow(codes - code, 2)}))
        << code;
  }
}

// The strip may hold the temperature instead: then the sources between the world and the place count.
TEST(MeterCheck, FromTheWorldOutwards) {
  const Chain chain = demo_chain("substrate");
  // This specimen reads 0.2 °C more than the truth, which is corrected: at 25 °C it has the ohms of 25.2.
  const Anchor known{StageName::world, 25};
  const double ohms = 10000 * std::exp(3950 * (1 / 298.35 - 1 / 298.15));
  const auto sensor = check_with_meter(chain, known, StageName::sensor, 10000, 0.005);
  ASSERT_TRUE(sensor);
  EXPECT_NEAR(sensor->expected, ohms, 1e-3);
  EXPECT_TRUE(sensor->agrees());
  const auto pin = check_with_meter(chain, known, StageName::front_end, 1.65, 0.005);
  ASSERT_TRUE(pin);
  EXPECT_NEAR(pin->expected, supply * ohms / (8200 + ohms), 1e-6);
  EXPECT_FALSE(pin->agrees()) << "0.16 V is 9 % of it";
  const auto code = check_with_meter(chain, known, StageName::converter, 2251, 0.005);
  ASSERT_TRUE(code);
  EXPECT_EQ(code->expected, std::round(ohms / (8200 + ohms) * codes));
  EXPECT_TRUE(code->agrees());
  // What the pin shows tells of the sensor and the divider, the code of the converter besides, but not of the shared
  // rail.
  EXPECT_GT(pin->explained / step_v, code->explained);
}

// Where the fault lies, when one place agrees and another does not.
TEST(MeterCheck, TheVerdictNamesTheStretch) {
  const Chain chain = demo_chain("substrate");
  const auto at = [&](StageName stage, double measured) {
    return *check_with_meter(chain, live, stage, measured, 0.005);
  };
  const double volts = 2230 * step_v, ohms = fixed_ohm * 2230 / (codes - 2230);
  EXPECT_EQ(meter_verdict(chain, live, {}), "");
  EXPECT_THAT(meter_verdict(chain, live, {at(StageName::front_end, volts)}), HasSubstr("It agrees"));
  EXPECT_THAT(meter_verdict(chain, live, {at(StageName::sensor, ohms), at(StageName::front_end, volts)}),
              HasSubstr("All of it agrees"));
  const std::string at_pin =
      meter_verdict(chain, live, {at(StageName::sensor, 2 * ohms), at(StageName::front_end, 2.4)});
  EXPECT_THAT(at_pin, HasSubstr("between the converter's code and the pin"));
  EXPECT_THAT(at_pin, HasSubstr("The most uncertain thing there: reference."));
  const std::string at_sensor =
      meter_verdict(chain, live, {at(StageName::sensor, 2 * ohms), at(StageName::front_end, volts)});
  EXPECT_THAT(at_sensor, HasSubstr("between the pin and the sensor"));
  EXPECT_THAT(at_sensor, HasSubstr("As far as the pin all is as it ought to be"));
}

// Every channel of the demonstration: a meter that shows what is expected agrees, and one that shows half does not
// where the place is an analog one.
TEST(MeterCheck, EveryChannelOfTheDemonstration) {
  int checked = 0;
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id, bench);
    const double middle = (channel.wanted.from + channel.wanted.to) / 2;
    const auto raw = raw_for(chain, middle);
    ASSERT_TRUE(raw) << channel.id;
    for (const Anchor& anchor : {Anchor{StageName::world, middle},
                                 Anchor{chain.stage(StageName::raw) ? StageName::raw : StageName::converter, *raw}})
      for (const MeterPlace& place : meter_places(chain, anchor.stage)) {
        EXPECT_FALSE(place.words.empty());
        EXPECT_NE(place.stage, anchor.stage);
        const auto probe = check_with_meter(chain, anchor, place.stage, 0, 0);
        if (!probe) continue;
        const auto same = check_with_meter(chain, anchor, place.stage, probe->expected, 0.005);
        ASSERT_TRUE(same) << channel.id;
        EXPECT_TRUE(same->agrees()) << channel.id << ' ' << place.words;
        EXPECT_EQ(same->measured, same->expected);
        EXPECT_TRUE(std::isfinite(same->explained)) << channel.id << ' ' << place.words;
        if (place.unit->dimension == Dimension::number || std::abs(probe->expected) < 1e-3) continue;
        const auto half = check_with_meter(chain, anchor, place.stage, probe->expected / 2, 0.005);
        ASSERT_TRUE(half);
        // A light cell may be off by half: the sheet says so.
        const bool is_tight = channel.quantity == Quantity::temperature && place.stage == StageName::front_end;
        EXPECT_TRUE(!half->agrees() || !is_tight) << channel.id << ' ' << place.words;
        ++checked;
      }
  }
  EXPECT_GT(checked, 10);
}

TEST(MeterCheck, WhatTellsNothingIsSaid) {
  const Chain chain = demo_chain("substrate");
  EXPECT_FALSE(check_with_meter(chain, live, StageName::bytes, 1, 0.005));
  EXPECT_FALSE(check_with_meter(chain, live, StageName::converter, 1, 0.005));
  EXPECT_FALSE(check_with_meter(chain, live, StageName::front_end, std::nan(""), 0.005));
  // At the end of the converter the pin may be anything beyond.
  EXPECT_FALSE(check_with_meter(chain, {StageName::world, -5000}, StageName::front_end, 1, 0.005));
  const Chain digital = demo_chain("room");
  for (const MeterPlace& place : meter_places(digital, StageName::raw))
    EXPECT_EQ(place.words, "") << "nothing in between";
}

// ---- a reference at its pin ----

TEST(ReferenceCheck, TellsWhatIsThere) {
  struct Row {
    double nominal, tolerance, measured;
    ReferenceFinding finding;
    bool may_be_taken;
  };
  // A 5 V controller with 1.1 V inside, a meter of ±0.5 %.
  const Row rows[] = {{4.096, 0.001, 4.091, ReferenceFinding::as_marked, true},
                      {4.096, 0.001, 4.110, ReferenceFinding::as_marked, true},  // 14 mV, of 4.1 + 20.6
                      {4.096, 0.001, 4.130, ReferenceFinding::off, true},
                      {2.5, 0.002, 1.18, ReferenceFinding::internal, false},
                      {2.5, 0.002, 4.98, ReferenceFinding::supply, false},
                      {2.5, 0.002, 0.02, ReferenceFinding::nothing, false},
                      {2.5, 0.002, 5.6, ReferenceFinding::beyond_the_pin, false},
                      {5.0, 0.01, 4.99, ReferenceFinding::as_marked, true},  // a part of 5 V is the supply's neighbour
                      {6.2, 0.01, 5.0, ReferenceFinding::beyond_the_pin, false},
                      {2.5, 0.002, -2.5, ReferenceFinding::nothing, false},
                      {-2.5, 0.002, 2.5, ReferenceFinding::not_stated, false},
                      {0, 0.002, 2.5, ReferenceFinding::not_stated, false},
                      {2.5, -0.002, 2.5, ReferenceFinding::not_stated, false},
                      {std::nan(""), 0.002, 2.5, ReferenceFinding::not_stated, false}};
  for (const Row& row : rows) {
    const auto check = check_reference(
        {.nominal_v = row.nominal, .tolerance = row.tolerance, .measured_v = row.measured, .meter_uncertainty = 0.005},
        5.0, {1.1});
    EXPECT_EQ(check.finding, row.finding) << row.nominal << " " << row.measured << " " << check.words;
    EXPECT_EQ(check.may_be_taken(), row.may_be_taken);
    EXPECT_FALSE(check.words.empty());
  }
}

}  // namespace fair_gauge::meter_check_test
