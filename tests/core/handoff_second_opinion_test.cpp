// What a hand-over says of itself, held against a model that shares nothing with it: random sensors on random
// converters, their readings by the formulas of the sheets written out here, every raw number run through the integers
// as they stand in the report.
#include <gmock/gmock.h>

#include <cmath>
#include <functional>
#include <random>

#include "handoff_fixture.h"

namespace fair_gauge::handoff_second_opinion_test {

using Reading = std::function<double(double raw)>;  // °C; not a number where there is none

struct Specimen {
  Bench bench;
  Reading reading;
  std::string says;
};

class Drawn {
 public:
  explicit Drawn(unsigned seed) : random_(seed) {}
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }
  int whole(int low, int high) { return std::uniform_int_distribution<int>(low, high)(random_); }

 private:
  std::mt19937 random_;
};

Bench bench_of(const std::string& part, int bits, double reference_v, Range wanted) {
  Bench bench;
  bench.rails = {{.id = "supply", .voltage = {.nominal_v = reference_v, .tolerance = 0.01}}};
  bench.converters = {{.id = "adc", .bits = bits, .reference_rail = "supply"}};
  bench.devices = {{.id = "d", .part = part, .converter = "adc", .rail = "supply"}};
  bench.devices[0].front_end.rail = "supply";
  bench.channels = {{.id = "t", .device = "d", .quantity = Quantity::temperature, .wanted = wanted, .tolerance = 1}};
  bench.channels[0].unit = "Cel";
  return bench;
}

// V = offset + slope · t, or a correction of a straight line beside it: t + a + b · t.
Specimen line(Drawn& drawn) {
  const int bits = drawn.whole(8, 14);
  const double reference = drawn.between(1.1, 5.2), slope = drawn.between(5e-3, 20e-3),
               offset = drawn.between(0.1, 0.5), a = drawn.between(-2, 2), b = drawn.between(-0.02, 0.02);
  Specimen made{.bench = bench_of("linear-voltage", bits, reference, {5, 35}), .reading = {}, .says = {}};
  made.bench.devices[0].settings = {{"slope", slope}, {"offset", offset}};
  made.bench.channels[0].correction.coefficients = {a, b};
  made.reading = [=](double raw) {
    const double t = (raw * reference / std::exp2(bits) - offset) / slope;
    return t + a + b * t;
  };
  made.says = fmt::format("line: {} bits, {} V, {} V/K, {} V, {} {}", bits, reference, slope, offset, a, b);
  return made;
}

// 1/T = 1/298.15 + ln(R/R25)/B, R against a fixed resistor on either side.
Specimen thermistor(Drawn& drawn) {
  const int bits = drawn.whole(10, 13);
  const double r25 = drawn.between(2e3, 50e3), beta = drawn.between(3000, 4400), fixed = drawn.between(2e3, 50e3);
  const bool above = drawn.whole(0, 1) == 1;
  Specimen made{.bench = bench_of("ntc-beta", bits, 3.3, {5, 45}), .reading = {}, .says = {}};
  Device& device = made.bench.devices[0];
  device.settings = {{"r25", r25}, {"beta", beta}};
  device.front_end.kind = FrontEndKind::divider;
  device.front_end.fixed_ohm = fixed;
  device.front_end.position = above ? Position::top : Position::bottom;
  made.reading = [=](double raw) {
    const double share = raw / std::exp2(bits);
    const double ohm = above ? fixed * share / (1 - share) : fixed * (1 - share) / share;
    return 1 / (1 / 298.15 + std::log(ohm / r25) / beta) - 273.15;
  };
  made.says =
      fmt::format("thermistor: {} bits, {} Ω, {} K, {} Ω {}", bits, r25, beta, fixed, above ? "above" : "below");
  return made;
}

// R = 1000 Ω (1 + 3.9083e-3 t − 5.775e-7 t²) from 0 °C on, beside a fixed resistor below it: it bends a little.
Specimen platinum(Drawn& drawn) {
  const int bits = drawn.whole(12, 15);
  const double fixed = drawn.between(800, 3000);
  Specimen made{.bench = bench_of("rtd-platinum-1000", bits, 3.3, {10, 90}), .reading = {}, .says = {}};
  Device& device = made.bench.devices[0];
  device.front_end.kind = FrontEndKind::divider;
  device.front_end.fixed_ohm = fixed;
  device.front_end.position = Position::bottom;
  made.reading = [=](double raw) {
    const double share = raw / std::exp2(bits), ohm = fixed * (1 - share) / share;
    constexpr double a = 3.9083e-3, b = -5.775e-7;
    const double under = a * a - 4 * b * (1 - ohm / 1000);
    return (-a + std::sqrt(under)) / (2 * b);  // of 0 °C and above; the fourth power below is not asked for here
  };
  made.says = fmt::format("platinum: {} bits, {} Ω below", bits, fixed);
  return made;
}

struct Kind {
  Specimen (*draw)(Drawn&);
  double from, to;  // °C between which the formula here holds
};

class HandoffSecondOpinion : public HandoffTest {
 protected:
  // The code as it would run, over every raw number; the worst against the formula here.
  static double worst(const Handoff& done, const Reading& reading, double from, double to) {
    const Arithmetic& arithmetic = done.code.arithmetic;
    double most = 0;
    for (std::int64_t raw = arithmetic.first; raw <= arithmetic.last; ++raw) {
      const double exact = reading(static_cast<double>(raw));
      if (!(exact >= from && exact <= to)) continue;
      most = std::max(most, std::abs(arithmetic.run(raw) / static_cast<double>(done.code.per_unit) - exact));
    }
    return most;
  }
};

TEST_F(HandoffSecondOpinion, TheWorstErrorIsTheWorstOfEveryRawNumber) {
  const Kind kinds[] = {{line, -1e9, 1e9}, {thermistor, -1e9, 1e9}, {platinum, 0, 850}};
  const int rounds = is_sanitized ? 1 : 3;
  Drawn drawn(20261128);
  int tables = 0, lines = 0;
  for (int round = 0; round < rounds; ++round)
    for (const Kind& kind : kinds) {
      const Specimen specimen = kind.draw(drawn);
      SCOPED_TRACE(specimen.says);
      for (const auto form : {std::optional<HandoffForm>(), std::optional(HandoffForm::table)}) {
        const auto done = hand_over(specimen.bench, shipped_parts(),
                                    {.channel = "t", .language = Language::python, .form = form, .per_unit = 100});
        ASSERT_TRUE(done) << to_text(done.problem());
        const Arithmetic& arithmetic = done->code.arithmetic;
        tables += arithmetic.form == HandoffForm::table ? 1 : 0;
        lines += arithmetic.form == HandoffForm::integer && !arithmetic.polynomial ? 1 : 0;
        EXPECT_TRUE(done->report.exhaustive);
        // The report's figure is over all that has a reading; here over what the formula holds for.
        EXPECT_LE(worst(*done, specimen.reading, kind.from, kind.to), done->report.worst_error + 1e-9);
        const double in_range = worst(*done, specimen.reading, specimen.bench.channels[0].wanted.from,
                                      specimen.bench.channels[0].wanted.to);
        EXPECT_NEAR(in_range, done->report.worst_error_wanted, 1e-9);
        if (!form) {
          EXPECT_LE(in_range, done->report.allowed_error + 0.5 / 100 + 1e-9);
        }
      }
    }
  EXPECT_GT(lines, 0);
  EXPECT_GT(tables, 0);
}

// Every raw number that has a reading by the formula has one in the code, and none beside.
TEST_F(HandoffSecondOpinion, TheEndsAreWhereTheReadingsEnd) {
  Drawn drawn(7);
  for (int round = 0; round < 6; ++round) {
    const Specimen specimen = thermistor(drawn);
    SCOPED_TRACE(specimen.says);
    const auto done = hand_over(specimen.bench, shipped_parts(), {.channel = "t", .language = Language::python});
    ASSERT_TRUE(done) << to_text(done.problem());
    const PartQuantity& range = shipped_parts().find("ntc-beta")->quantities.front();
    const Arithmetic& arithmetic = done->code.arithmetic;
    for (const std::int64_t raw : {arithmetic.first, arithmetic.last}) {
      EXPECT_GE(specimen.reading(static_cast<double>(raw)), range.minimum - 1e-6);
      EXPECT_LE(specimen.reading(static_cast<double>(raw)), range.maximum + 1e-6);
    }
    const double before = specimen.reading(static_cast<double>(arithmetic.first - 1)),
                 behind = specimen.reading(static_cast<double>(arithmetic.last + 1));
    // The outermost codes are no reading: an open sensor or a shorted one looks like them.
    const auto top = static_cast<std::int64_t>(std::exp2(specimen.bench.converters[0].bits)) - 1;
    EXPECT_TRUE(arithmetic.first == 1 || !(before >= range.minimum && before <= range.maximum)) << before;
    EXPECT_TRUE(arithmetic.last == top - 1 || !(behind >= range.minimum && behind <= range.maximum)) << behind;
  }
}

// Two readings, their steps written out here.
TEST_F(HandoffSecondOpinion, ADifferenceOfPressuresIsThatOfItsInputs) {
  Bench bench = demo_bench();
  bench.channels.push_back(
      {.id = "it", .quantity = Quantity::pressure, .wanted = {-2000, 2000}, .tolerance = 50, .unit = "Pa"});
  bench.channels.back().derived =
      DerivedFrom{.as = "pressure-difference", .of = "room_pressure", .beside = "room_pressure"};
  bench.channels.push_back(*find_by_id(bench.channels, "room_pressure"));
  bench.channels.back().id = "other_pressure";
  find_by_id(bench.channels, "it")->derived->beside = "other_pressure";
  const auto done = hand_over(bench, shipped_parts(), {.channel = "it", .language = Language::python});
  ASSERT_TRUE(done) << to_text(done.problem());
  ASSERT_TRUE(done->code.surface);
  const SideInput &first = *done->code.input, &second = *done->code.side;
  Drawn drawn(3);
  for (int i = 0; i < 2000; ++i) {
    const std::int64_t raw = drawn.whole(static_cast<int>(first.lowest), static_cast<int>(first.highest)),
                       side = drawn.whole(static_cast<int>(second.lowest), static_cast<int>(second.highest));
    // hPa in steps of their own → Pa.
    const double exact = 100 * (static_cast<double>(raw) / static_cast<double>(first.per_unit) -
                                static_cast<double>(side) / static_cast<double>(second.per_unit));
    const auto outcome = done->code.surface->run(raw, side);
    if (outcome.status != HandoffStatus::ok) continue;
    EXPECT_NEAR(outcome.value / static_cast<double>(done->code.per_unit), exact,
                done->report.worst_error + 1e-9 + (is_sanitized ? 1.0 / static_cast<double>(done->code.per_unit) : 0));
  }
}

}  // namespace fair_gauge::handoff_second_opinion_test
