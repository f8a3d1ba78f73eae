// Which mistake explains a number. Every wrong number here is worked out in the test from the field's own formulas, or
// by hand in the comment; nothing of core/diagnose makes it.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cmath>
#include <random>

#include "bench/bench_things.h"
#include "choose/trial.h"
#include "core/diagnose_asked.h"
#include "diagnose/next_measurement.h"
#include "diagnose/other_ways.h"
#include "digital/encoder.h"

namespace fair_gauge::diagnose_test {

using ::testing::AnyOf;
using ::testing::Contains;
using ::testing::Field;
using ::testing::HasSubstr;
using ::testing::IsEmpty;
using ::testing::Not;

// A thermistor of 10 kΩ, B 3950 K below 8.2 kΩ at 3.3 V, 12 bits of the same rail, 2ⁿ steps, no correction.
Bench thermistor_bench(Correction correction = {}) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  Device device{.id = "probe", .part = "ntc-beta", .settings = {{"r25", 10e3}, {"beta", 3950}}, .converter = "adc"};
  device.front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 8200, .position = Position::top, .rail = "3v3"};
  bench.devices = {device};
  bench.channels = {
      {.id = "t", .device = "probe", .wanted = {0, 50}, .tolerance = 0.5, .correction = std::move(correction)}};
  return bench;
}
// As the field writes it: code → volts → ohms → kelvin.
double thermistor(double code, double divisor = 4096, double fixed = 8200, double r25 = 10e3, double beta = 3950,
                  double reference = 3.3, double supply = 3.3) {
  const double v = code / divisor * reference, ohm = fixed * v / (supply - v);
  return 1 / (1 / 298.15 + std::log(ohm / r25) / beta) - 273.15;
}
double thermistor_below(double code) {
  const double v = code / 4096 * 3.3, ohm = 8200 * (3.3 - v) / v;
  return 1 / (1 / 298.15 + std::log(ohm / 10e3) / 3950) - 273.15;
}

// 10 mV/°C and half a volt at 0 °C on 12 bits of 3.3 V.
Bench linear_bench() {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  bench.devices = {{.id = "probe", .part = "TMP36", .converter = "adc"}};
  bench.channels = {{.id = "t", .device = "probe", .wanted = {0, 50}, .tolerance = 1}};
  return bench;
}
double linear(double code, double reference = 3.3, double divisor = 4096) {
  return (code / divisor * reference - 0.5) * 100;
}

struct Case {
  const char* code;
  double raw, shown;
  int decimals;
};

void expect_first(const Bench& bench, const std::vector<Case>& cases) {
  for (const Case& each : cases) {
    const Diagnosis diagnosis = ask(bench, "t", each.raw, rounded_to(each.shown, each.decimals), each.decimals);
    ASSERT_FALSE(diagnosis.causes.empty()) << each.code << " at " << each.raw << ": " << listed(diagnosis);
    EXPECT_EQ(diagnosis.causes.front().code, each.code)
        << "at " << each.raw << " shown " << each.shown << ": " << listed(diagnosis);
    EXPECT_NEAR(*diagnosis.causes.front().gives, each.shown, 1e-6 + 1e-9 * std::abs(each.shown)) << each.code;
    double all = 0;
    for (const Cause& cause : diagnosis.causes) all += cause.share;
    EXPECT_LE(all, 1 + 1e-9);
    EXPECT_FALSE(diagnosis.causes.front().arithmetic.empty()) << each.code;
  }
}

TEST(Diagnose, MistakesOfAThermistorAreFound) {
  std::vector<Case> cases;
  for (const double raw : {1200.0, 1873.0, 2600.0}) {
    const double v = raw / 4096 * 3.3, ohm = 8200 * v / (3.3 - v), right = thermistor(raw);
    cases.push_back({"divisor", raw, thermistor(raw, 4095), 3});
    cases.push_back({"resistor-side", raw, thermistor_below(raw), 2});
    cases.push_back({"logarithm-base", raw, 1 / (1 / 298.15 + std::log10(ohm / 10e3) / 3950) - 273.15, 2});
    cases.push_back({"kelvin-forgotten", raw, 1 / (1 / 25.0 + std::log(ohm / 10e3) / 3950) - 273.15, 2});
    cases.push_back({"unit-kelvin", raw, right + 273.15, 2});
    cases.push_back({"unit-fahrenheit", raw, right * 1.8 + 32, 2});
    cases.push_back({"scale-of-ten", raw, right * 10, 2});
    cases.push_back({"scale-of-hundred", raw, right * 100, 1});
    cases.push_back({"fraction-dropped", raw, std::trunc(right), 1});
    cases.push_back({"byte-missing", raw, thermistor(std::fmod(raw, 256)), 2});
  }
  expect_first(thermistor_bench(), cases);
}

// The one by three coefficients, whose formula has the logarithm of the ohms themselves: 10 kΩ are 9.21034 by the
// natural and 4 by the decimal one, 1 / (0.001129241 + 0.0002341077 · 4 + 8.775468e-8 · 64) = 482.79 K.
TEST(Diagnose, TheDecimalLogarithmOfAThermistorIsFound) {
  Bench bench = thermistor_bench();
  bench.devices.front().part = "ntc-steinhart";
  bench.devices.front().settings.clear();
  const Diagnosis diagnosis = ask(bench, "t", 2251, 209.63, 2);  // of 10 004 Ω, 0.01 K lower
  ASSERT_FALSE(diagnosis.causes.empty());
  EXPECT_EQ(diagnosis.causes.front().code, "logarithm-base") << listed(diagnosis);
  EXPECT_NEAR(*diagnosis.causes.front().gives, 482.79 - 273.15, 0.02);
}

TEST(Diagnose, NumbersOfTheirOwnAreGuessed) {
  // 10 k instead of 8k2, B 3435 instead of 3950, 100 k at 25 °C: found, though something else may fit as well.
  for (const auto& [code, shown] : {std::pair{"resistor-value", thermistor(1873, 4096, 10e3)},
                                    {"resistor-value", thermistor(1873, 4096, 4700)},
                                    {"beta", thermistor(1873, 4096, 8200, 10e3, 3435)},
                                    {"resistor-value", thermistor(1873, 4096, 8200, 100e3)},
                                    {"reference", thermistor(1873, 4096, 8200, 10e3, 3950, 2.5)},
                                    {"supply", thermistor(1873, 4096, 8200, 10e3, 3950, 3.3, 5)}}) {
    const Diagnosis diagnosis = ask(thermistor_bench(), "t", 1873, rounded_to(shown, 2));
    EXPECT_THAT(diagnosis.causes, Contains(Field(&Cause::code, code))) << shown << " " << listed(diagnosis);
  }
}

TEST(Diagnose, MistakesOfALinearSensorAreFound) {
  std::vector<Case> cases;
  for (const double raw : {700.0, 911.0, 1300.0}) {
    const double right = linear(raw), millivolts = raw / 4096 * 3300;
    cases.push_back({"offset-forgotten", raw, millivolts / 10, 2});
    cases.push_back({"offset-twice", raw, right - 50, 2});
    cases.push_back({"reference", raw, linear(raw, 5), 2});
    cases.push_back({"scaled-bits", raw, linear(raw, 3.3, 1024), 2});
    cases.push_back({"unit-fahrenheit", raw, right * 1.8 + 32, 2});
    cases.push_back({"integer-division", raw, -50, 2});
    cases.push_back({"bytes-swapped", raw, linear(std::fmod(raw, 256) * 256 + std::floor(raw / 256)), 2});
    cases.push_back({"bytes-added", raw, linear(std::fmod(raw, 256) + std::floor(raw / 256)), 2});
    cases.push_back({"wrong-part", raw, (millivolts - 400) / 19.5, 2});  // the 19.5 mV kind
  }
  expect_first(linear_bench(), cases);
}

// Its converter is set to a gain of 2 and the firmware reckons with two thirds, the widest range of such a converter:
// code 1000 is 0.80566 V behind the gain, 0.40283 V (−9.717 °C) before it, taken for 1.20850 V, 70.850 °C.
TEST(Diagnose, AGainOfTwoThirdsIsTried) {
  Bench bench = linear_bench();
  bench.converters[0].gain = 2;
  const Diagnosis diagnosis = ask(bench, "t", 1000, 70.850, 3);
  EXPECT_NEAR(*diagnosis.right, -9.717, 1e-3);
  EXPECT_THAT(diagnosis.causes, Contains(Field(&Cause::code, "gain"))) << listed(diagnosis);
}

TEST(Diagnose, TheLiveZeroOfALoopIsForgotten) {
  // 0…1 MPa over 150 Ω on 12 bits of 3.3 V: code 2000 is 1.61133 V, 10.7422 mA: (10.7422 − 4)/16 = 421.387 kPa; without
  // the 4 mA 10.7422/16 = 671.387 kPa.
  Bench bench = linear_bench();
  bench.devices[0].part = "current-loop";
  bench.devices[0].settings = {{"low", 0}, {"high", 1e6}, {"shunt", 150}};
  bench.channels[0] = {.id = "t",
                       .device = "probe",
                       .quantity = Quantity::pressure,
                       .kind = PressureKind::gauge,
                       .wanted = {0, 1e6},
                       .tolerance = 5e3,
                       .unit = "kPa"};
  const double milliamps = 2000 / 4096.0 * 3.3 / 150 * 1000;
  expect_first(bench, {{"offset-forgotten", 2000, milliamps / 16 * 1000, 2}});
  EXPECT_NEAR(*ask(bench, "t", 2000, 1).right, (milliamps - 4) / 16 * 1000, 1e-6);
}

TEST(Diagnose, ACorrectionIsForgottenDoubledOrTurned) {
  const Bench bench = thermistor_bench({.coefficients = {-0.7}});
  const double compensated = thermistor(1873);
  expect_first(bench, {{"correction-forgotten", 1873, compensated, 2},
                       {"correction-twice", 1873, compensated - 1.4, 2},
                       {"correction-sign", 1873, compensated + 0.7, 2}});
}

TEST(Diagnose, NothingIsWrongWhereNothingIs) {
  std::mt19937_64 random(7);
  std::uniform_real_distribution<double> raws(400, 3700);
  int alarms = 0;
  for (int i = 0; i < (is_sanitized ? 60 : 300); ++i) {
    const double raw = std::round(raws(random)), right = thermistor(raw);
    const int decimals = i % 4;
    const Diagnosis diagnosis =
        ask(thermistor_bench(), "t", raw, rounded_to(right, decimals), decimals, Range{right - 0.5, right + 0.5});
    alarms += diagnosis.causes.empty() ? 0 : 1;
    ASSERT_TRUE(diagnosis.right);
    EXPECT_NEAR(*diagnosis.right, right, 1e-6);
  }
  EXPECT_LE(alarms, 3);
}

TEST(Diagnose, AnythingElseIsNotExplained) {
  std::mt19937_64 random(11);
  std::uniform_real_distribution<double> numbers(-40, 120);
  int sure = 0;
  for (int i = 0; i < (is_sanitized ? 6 : 25); ++i) {
    const Diagnosis diagnosis = ask(linear_bench(), "t", 911, rounded_to(numbers(random), 3), 3);
    sure += !diagnosis.causes.empty() && diagnosis.causes.front().share > 0.8 ? 1 : 0;
  }
  EXPECT_LE(sure, 3) << "numbers that nobody's mistake made";
}

TEST(Diagnose, TheWorldIsAskedWhereTheArithmeticIsRight) {
  const Bench bench = thermistor_bench();
  // The resistor sits at the other side: at 30 °C 8049 Ω above 8200 Ω give code 2067, which the bench reads as 23.9 °C.
  const double ohm = 10e3 * std::exp(3950 * (1 / 303.15 - 1 / 298.15)), raw = std::round(4096 * 8200 / (8200 + ohm));
  for (const std::optional<double> shown : {std::optional<double>(), std::optional(rounded_to(thermistor(raw), 1))}) {
    const Diagnosis diagnosis = ask(bench, "t", raw, shown, 1, Range{29.5, 30.5});
    EXPECT_THAT(diagnosis.causes, Contains(Field(&Cause::code, "resistor-side"))) << listed(diagnosis);
    EXPECT_THAT(
        diagnosis.causes,
        Not(Contains(Field(&Cause::code, AnyOf("divisor", "unit-fahrenheit", "logarithm-base", "fraction-dropped")))));
    for (const Cause& cause : diagnosis.causes)
      if (shown) {
        EXPECT_EQ(*cause.gives, *shown);
      }
  }
  // A converter left on its 1.1 V while the formula has 3.3: 0.75 V of the sensor at 25 °C are code 2793.
  Bench linear_one = linear_bench();
  const Diagnosis left = ask(linear_one, "t", 2793, std::nullopt, 1, Range{24, 26});
  ASSERT_FALSE(left.causes.empty());
  EXPECT_EQ(left.causes.front().code, "reference-not-selected") << listed(left);
}

TEST(Diagnose, SelfHeatingIsTheWorldsDoing) {
  // 100 Ω at 5 V over 220 Ω: 1.09 V and 10.9 mA in a bead of 10 °C a milliwatt would boil; here the platinum's own
  // figure.
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 16, .reference_rail = "5v"}};
  Device device{.id = "probe", .part = "ntc-beta", .settings = {{"r25", 1e3}, {"beta", 3950}}, .converter = "adc"};
  device.front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 1000, .position = Position::top, .rail = "5v"};
  bench.devices = {device};
  bench.channels = {{.id = "t", .device = "probe", .wanted = {0, 50}, .tolerance = 0.5}};
  const double k_per_w = shipped_parts().find("ntc-beta")->kelvin_per_watt;
  ASSERT_GT(k_per_w, 0);
  // Half of 5 V at 1 kΩ: 6.25 mW.
  const Diagnosis diagnosis =
      ask(bench, "t", 32768, std::nullopt, 1, Range{25 - 6.25e-3 * k_per_w - 0.2, 25 - 6.25e-3 * k_per_w + 0.2});
  EXPECT_THAT(diagnosis.causes, Contains(Field(&Cause::code, "self-heating"))) << listed(diagnosis);
}

TEST(Diagnose, PairsAreTriedWhereNoSingleOneFits) {
  // 5 V in the formula, and the result in °F.
  const double shown = linear(911, 5) * 1.8 + 32;
  const Diagnosis diagnosis = ask(linear_bench(), "t", 911, rounded_to(shown, 2), 2);
  EXPECT_THAT(diagnosis.causes,
              Contains(Field(&Cause::code, AnyOf("unit-fahrenheit+reference", "reference+unit-fahrenheit"))))
      << listed(diagnosis);
  // The offset forgotten, and the fraction dropped.
  const Diagnosis second = ask(linear_bench(), "t", 911, std::trunc(911 / 4096.0 * 330), 1);
  EXPECT_THAT(
      second.causes,
      Contains(Field(&Cause::code, AnyOf("fraction-dropped+offset-forgotten", "offset-forgotten+fraction-dropped"))))
      << listed(second);
}

TEST(Diagnose, EndsOfTheConverterLeaveNoTruth) {
  const Diagnosis open = ask(thermistor_bench(), "t", 4095, std::nullopt, 1, Range{20, 30});
  ASSERT_FALSE(open.causes.empty());
  EXPECT_FALSE(open.right);
  EXPECT_EQ(open.causes.front().code, "disconnected");
  EXPECT_THAT(open.causes, Contains(Field(&Cause::code, "clipped")));
  EXPECT_FALSE(open.causes.front().gives);
  EXPECT_EQ(ask(linear_bench(), "t", 4095, 280, 0).causes.front().code, "clipped");
}

// A thermocouple of type K at 471 times with the junction at 26 °C: 1.3 V behind the amplifier.
TEST(Diagnose, ColdJunctions) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {{.id = "adc", .bits = 16, .reference_rail = "3v3"}};
  Device device{.id = "pair", .part = "thermocouple-k", .settings = {{"cold_junction", 26}}, .converter = "adc"};
  device.front_end = {.kind = FrontEndKind::amplifier, .gain = 471, .lowest_v = 0, .highest_v = 3.3};
  bench.devices = {device};
  bench.channels = {{.id = "t", .device = "pair", .wanted = {0, 600}, .tolerance = 4}};
  // 100.0 °C by the reference table are 4.096 mV from 0 °C: 4.096 mV · 471 = 1.929216 V, code 38312.6. With the table
  // alone that is 100 °C, the junction as a temperature makes 126 °C; right is 4.096 + 1.041 mV = 125.2 °C.
  const double raw = std::round(4.096e-3 * 471 / 3.3 * 65536);
  EXPECT_EQ(ask(bench, "t", raw, 100.0, 1).causes.front().code, "cold-junction-forgotten");
  EXPECT_EQ(ask(bench, "t", raw, 126.0, 1).causes.front().code, "cold-junction-as-temperature");
  EXPECT_NEAR(*ask(bench, "t", raw, 99.0, 1).right, 125.2, 0.15);
}

// Every channel of the demonstration, by its raw number: what the firmware shows without a mistake is what the chain
// reads.
TEST(Diagnose, WithoutAMistakeItIsTheChain) {
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const auto chain = build_chain(bench, shipped_parts(), channel.id);
    ASSERT_TRUE(chain) << channel.id;
    const double world = (channel.wanted.from + channel.wanted.to) / 2;
    const auto raw = raw_for(*chain, world);
    ASSERT_TRUE(raw) << channel.id;
    const double number = std::round(*raw), reads = chain->shown->from_base(*read_raw(*chain, number));
    const Diagnosis diagnosis = ask(bench, channel.id, number, rounded_to(reads, 3), 3);
    EXPECT_THAT(diagnosis.causes, IsEmpty()) << channel.id << " " << listed(diagnosis);
    // Ten times too large, whatever the chain: the first row that every channel has.
    const Diagnosis tenfold = ask(bench, channel.id, number, rounded_to(reads * 10, 3), 3);
    ASSERT_FALSE(tenfold.causes.empty()) << channel.id << " " << reads;
    EXPECT_EQ(tenfold.causes.front().code, "scale-of-ten") << channel.id << " " << listed(tenfold);
  }
}

// Numbers that nothing explains make every pair be tried, among them another channel's chain with a mistake of this
// one's.
TEST(Diagnose, EveryPairOfEveryChannelCanBeTried) {
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const auto chain = build_chain(bench, shipped_parts(), channel.id);
    const auto raw = raw_for(*chain, (channel.wanted.from + channel.wanted.to) / 2);
    ASSERT_TRUE(raw);
    const Diagnosis diagnosis = ask(bench, channel.id, std::round(*raw), 98765.43217, 5);
    EXPECT_FALSE(diagnosis.verdict.empty()) << channel.id;
  }
}

TEST(Diagnose, InputsThatCannotBeAreRefused) {
  const Bench bench = bytes_bench("SHT31", Quantity::temperature, "Cel");
  const auto answer =
      diagnose(bench, shipped_parts(), "t",
               {.raw = {}, .bytes = {1, 2, 3}, .registers = {}, .shown = 20, .decimals = 0, .expected = {}});
  ASSERT_FALSE(answer);
  EXPECT_THAT(to_text(answer.problem()), HasSubstr("3 bytes"));
  EXPECT_FALSE(diagnose(bench, shipped_parts(), "gone",
                        {.raw = 5, .bytes = {}, .registers = {}, .shown = 20, .decimals = 0, .expected = {}}));
}

// 10 kΩ of thermistor with 10 kΩ above it at 25 °C are code 512 of 1024, and the bench says 15 kΩ: by that 512 is
// 15.9 °C. A 4.096 V reference, of which nobody spoke, fits as well (23.4 °C); the value of the sensor itself is what
// lies in the drawer.
const Cause* cause_of(const Diagnosis& diagnosis, const std::string& code);
TEST(Diagnose, AHabitualResistorIsLikely) {
  Bench bench;
  bench.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 10, .reference_rail = "5v"}};
  bench.devices = {{.id = "bead",
                    .part = "ntc-beta",
                    .converter = "adc",
                    .front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 15e3, .rail = "5v"}}};
  bench.channels = {{.id = "t", .device = "bead", .wanted = {0, 50}, .tolerance = 1.7}};
  const auto found = diagnose(bench, shipped_parts(), "t", {.raw = 512, .expected = Range{23.3, 26.7}});
  ASSERT_TRUE(found);
  const Cause* resistor = cause_of(*found, "resistor-value");
  ASSERT_TRUE(resistor) << listed(*found);
  EXPECT_THAT(resistor->words, HasSubstr("10k"));
  EXPECT_GT(resistor->share, 0.15) << listed(*found);
  EXPECT_FALSE(cause_of(*found, "reference-not-selected") &&
               cause_of(*found, "reference-not-selected")->share > 4 * resistor->share)
      << listed(*found);
}

const Cause* cause_of(const Diagnosis& diagnosis, const std::string& code) {
  const auto found = std::ranges::find(diagnosis.causes, code, &Cause::code);
  return found == diagnosis.causes.end() ? nullptr : &*found;
}

// 2230 reads 25.46 °C and ought to be about 30: with 3.0 V as the reference the code stands for 2230/4096 · 3.0 =
// 1.6333 V, with 3.3 V and 6k8 for 8k2 it stands for 1.7966 V. A meter at the pin tells them apart.
TEST(Diagnose, WhatToMeasureNextIsForetold) {
  const Bench bench = thermistor_bench();
  Question question{.raw = 2230, .expected = Range{29.5, 30.5}};
  const auto first = diagnose(bench, shipped_parts(), "t", question);
  ASSERT_TRUE(first);
  ASSERT_TRUE(cause_of(*first, "reference-not-selected")) << listed(*first);
  ASSERT_TRUE(cause_of(*first, "resistor-value")) << listed(*first);
  const auto pin = std::ranges::find(first->next, "pin", &NextMeasurement::id);
  ASSERT_NE(pin, first->next.end());
  for (std::size_t i = 0; i < first->causes.size(); ++i) {
    if (first->causes[i].code == "reference-not-selected") {
      EXPECT_NEAR(*pin->predicted[i], 2230.0 / 4096 * 3.0, 1e-9);
    }
    if (first->causes[i].code == "resistor-value") {
      EXPECT_NEAR(*pin->predicted[i], 2230.0 / 4096 * 3.3, 1e-9);
    }
  }
  EXPECT_THAT(cause_of(*first, "resistor-value")->next, HasSubstr("if it is this"));
  EXPECT_TRUE(std::ranges::is_sorted(first->next, std::greater{}, &NextMeasurement::information));
  // No more is learnt than there are causes to tell apart, weighed by how likely it is one that says something of it.
  for (const NextMeasurement& probe : first->next) {
    double telling = 0, all = 0;
    int count = 0;
    for (std::size_t i = 0; i < first->causes.size(); ++i) {
      all += first->causes[i].share;
      if (probe.predicted[i]) ++count, telling += first->causes[i].share;
    }
    EXPECT_LE(probe.information, telling / all * std::log2(count) + 1e-9) << probe.id;
    EXPECT_GT(probe.information, 0) << probe.id;
  }

  const double before = cause_of(*first, "resistor-value")->share;
  question.measured = {{"pin", 1.80}};
  const auto second = diagnose(bench, shipped_parts(), "t", question);
  EXPECT_EQ(second->causes.front().code, "resistor-value") << listed(*second);
  EXPECT_GT(cause_of(*second, "resistor-value")->share, before);
  EXPECT_LT(cause_of(*second, "reference-not-selected")->share, 0.01);
  question.measured = {{"pin", 1.63}};
  const auto other = diagnose(bench, shipped_parts(), "t", question);
  EXPECT_EQ(other->causes.front().code, "reference-not-selected") << listed(*other);
  // Without a mistake left that foretold it, the unknown one is what remains.
  question.measured = {{"pin", 0.2}};
  const auto neither = diagnose(bench, shipped_parts(), "t", question);
  for (const Cause& cause : neither->causes) EXPECT_LT(cause.share, 0.01) << listed(*neither);
}

// CH0 = 6743 by the light part at gain 25 and 100 ms; at 200 ms the same number is half the light. Which of the
// settings it is the part itself tells.
TEST(Diagnose, ASettingReadBackSettlesIt) {
  const Bench bench = demo_bench();
  Question question{.raw = 6743, .expected = Range{200, 320}};
  const auto first = diagnose(bench, shipped_parts(), "grow_light", question);
  ASSERT_TRUE(first);
  const Cause* time = cause_of(*first, "integration-time");
  ASSERT_TRUE(time) << listed(*first);
  EXPECT_THAT(time->words, HasSubstr("integration_ms is 200, the bench says 100"));
  EXPECT_THAT(time->words, HasSubstr("308.38 lx"));  // 616.754 / 2
  question.measured = {{"setting-integration_ms", 300}};
  const auto second = diagnose(bench, shipped_parts(), "grow_light", question);
  EXPECT_THAT(cause_of(*second, "integration-time")->words, HasSubstr("205.58 lx"));  // a third
  EXPECT_FALSE(measured_value("colour", "3"));
  EXPECT_FALSE(measured_value("pin", "3 kΩ"));
  EXPECT_EQ(*measured_value("identity", "0x58"), 0x58);
}

TEST(OtherWays, TheOtherDivisorReadsALittleMore) {
  constexpr std::string_view divisor[] = {"divisor"};
  const auto ways = other_ways(linear_bench(), shipped_parts(), "t", {.raw = 700}, divisor);
  ASSERT_TRUE(ways);
  ASSERT_EQ(ways->size(), 1u);
  EXPECT_NEAR(ways->front().value - linear(700), 700 * 3.3 * (1.0 / 4095 - 1.0 / 4096) / 0.01, 1e-9);
  EXPECT_FALSE(other_ways(linear_bench(), shipped_parts(), "nobody", {.raw = 700}, divisor));
}

// What each chain makes of each stage: 2230 of 4096 at 3.3 V are 1.79663 V and 9799.6 Ω, at 3.0 V 1.63330 V and 8035.7
// Ω of a divider that is fed by 3.3 V; in °F all is right up to what is shown.
TEST(Diagnose, ACauseSaysWhatItMakesOfEachStage) {
  using enum StageName;
  const Bench bench = thermistor_bench();
  const auto there = ask(bench, "t", 2230, std::nullopt, 1, Range{29.5, 30.5});
  EXPECT_FALSE(there.of_arithmetic);
  EXPECT_NEAR(there.stages.at(front_end), 2230 / 4096.0 * 3.3, 1e-9);
  const Cause* reference = cause_of(there, "reference-not-selected");
  ASSERT_TRUE(reference) << listed(there);
  EXPECT_NEAR(reference->stages.at(front_end), 2230 / 4096.0 * 3.0, 1e-9);
  EXPECT_NEAR(reference->stages.at(sensor), 8200 * 1.6333008 / (3.3 - 1.6333008), 0.01);
  EXPECT_EQ(first_difference(there.stages, reference->stages), front_end);
  const double right = thermistor(2230);
  const auto fahrenheit = ask(bench, "t", 2230, rounded_to(right * 1.8 + 32, 2), 2);
  EXPECT_TRUE(fahrenheit.of_arithmetic);
  EXPECT_NEAR(fahrenheit.causes.front().stages.at(shown), right * 1.8 + 32, 1e-6);
  EXPECT_EQ(first_difference(fahrenheit.stages, fahrenheit.causes.front().stages), shown);
  EXPECT_EQ(first_difference(there.stages, there.stages), std::nullopt);
}

// The shown number is that of 2ⁿ − 1 at a place where others come close; a second raw number settles it.
TEST(Diagnose, ASecondNumberSettlesTheArithmetic) {
  const Bench bench = thermistor_bench();
  Question question{.raw = 3000, .shown = rounded_to(thermistor(3000, 4095), 1), .decimals = 1};
  const auto first = diagnose(bench, shipped_parts(), "t", question);
  ASSERT_TRUE(cause_of(*first, "divisor") || first->causes.empty()) << listed(*first);
  question.also = {{900, rounded_to(thermistor(900, 4095, 6800), 2), 2}};
  question.raw = 2000;
  question.shown = rounded_to(thermistor(2000, 4096, 6800), 2);
  question.decimals = 2;
  const auto resistor = diagnose(bench, shipped_parts(), "t", question);
  const Cause* cause = cause_of(*resistor, "resistor-value");
  ASSERT_TRUE(cause) << listed(*resistor);
  question.also = {{900, rounded_to(thermistor(900, 4096, 6800), 2), 2}};
  const auto confirmed = diagnose(bench, shipped_parts(), "t", question);
  EXPECT_EQ(confirmed->causes.front().code, "resistor-value") << listed(*confirmed);
  EXPECT_GE(confirmed->causes.front().share, cause->share);
  // The volts that this firmware works out are the right ones: 2000/4096 · 3.3 = 1.6113 V.
  for (const NextMeasurement& next : confirmed->next)
    if (next.id == "volts")
      for (std::size_t i = 0; i < confirmed->causes.size(); ++i)
        if (confirmed->causes[i].code == "resistor-value") {
          EXPECT_NEAR(*next.predicted[i], 2000.0 / 4096 * 3.3, 1e-9);
        }
}

TEST(Diagnose, SaysWhatThePartsFileWarnsOf) {
  // TMP36: 500 mV offset forgotten, 24.4 °C reads 74.4; code 923 of 4096 at 3.3 V is 743.6 mV.
  const Bench bench = demo_bench();
  const auto raw = *raw_for(demo_chain("spawn_fridge"), 24.4);
  const Diagnosis diagnosis = ask(bench, "spawn_fridge", raw, 74.4, 1);
  ASSERT_FALSE(diagnosis.causes.empty());
  EXPECT_EQ(diagnosis.causes.front().code, "offset-forgotten");
  EXPECT_THAT(diagnosis.causes.front().of_part, HasSubstr("50 °C too high"));
  // Leads of a bridge exchanged: only its part's file knows.
  // A correction of −6.5 Pa: 100 Pa is 106.5 before it; exchanged −106.5, and −113 behind it.
  const auto exchanged = ask(bench, "filter", *raw_for(demo_chain("filter"), 100), -113, 0);
  ASSERT_FALSE(exchanged.causes.empty());
  EXPECT_EQ(exchanged.causes.front().code, "leads-exchanged");
  // What no number tells is said all the same.
  EXPECT_THAT(ask(bench, "compost_probe", *raw_for(demo_chain("compost_probe"), 50), 12.3, 1).also_usual,
              testing::Contains(HasSubstr("legs exchanged at both ends")));
}

}  // namespace fair_gauge::diagnose_test
