// The proven bound of arithmetic in float. What it is held against is every pair of inputs, run here by hand in float
// and in double; of parts, the worst of drawn blocks.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "choose/trial.h"
#include "demo.h"
#include "handoff/handoff.h"
#include "handoff/sheet_bound.h"

namespace fair_gauge::error_bound_test {

struct Sample {
  const char* expression;
  InputRange a, b;
  float (*in_float)(float, float);
  double (*in_double)(double, double);
  double generous;  // by how many times the bound may be above the worst that there is
};

// (a − b) · (1 − b/a) · 408/100, as the light part has it; a platinum curve's root; a logarithm; a cubic; a choice.
const Sample samples[] = {
    {"(a > 0) ? (a - b) * (1 - b / a) * 408 / 100 : 0",
     {0, 300},
     {0, 300},
     [](float a, float b) { return a > 0 ? (a - b) * (1 - b / a) * 408.0F / 100.0F : 0.0F; },
     [](double a, double b) { return a > 0 ? (a - b) * (1 - b / a) * 408 / 100 : 0; },
     12},
    {"sqrt(a * 3.7 + 1) - b / 7",
     {0, 500},
     {-200, 200},
     [](float a, float b) { return std::sqrt(a * 3.7F + 1.0F) - b / 7.0F; },
     [](double a, double b) { return std::sqrt(a * 3.7 + 1) - b / 7; },
     8},
    {"ln(a / 3) * 0.1 + exp(b / 100)",
     {1, 400},
     {-300, 300},
     [](float a, float b) { return std::log(a / 3.0F) * 0.1F + std::exp(b / 100.0F); },
     [](double a, double b) { return std::log(a / 3) * 0.1 + std::exp(b / 100); },
     16},
    {"a ^ 3 * 0.0011 - abs(b) * 2.3 + max(a, b)",
     {-90, 90},
     {-90, 90},
     [](float a, float b) { return std::pow(a, 3.0F) * 0.0011F - std::abs(b) * 2.3F + std::fmax(a, b); },
     [](double a, double b) { return std::pow(a, 3) * 0.0011 - std::abs(b) * 2.3 + std::max(a, b); },
     12},
    // Powers of a ratio, and pieces that do not meet: at 0.61 the two kinds of numbers must choose alike.
    {"(b / a <= 0.61) ? 40 * a - 62 * a * (b / a) ^ 1.4 : ((b / a <= 1.3) ? 9.1 * a + b ^ 0.3 : 0)",
     {1, 400},
     {0, 400},
     [](float a, float b) {
       const float ratio = b / a;
       return ratio <= 0.61F  ? 40.0F * a - 62.0F * a * std::pow(ratio, 1.4F)
              : ratio <= 1.3F ? 9.1F * a + std::pow(b, 0.3F)
                              : 0.0F;
     },
     [](double a, double b) {
       const double ratio = b / a;
       return ratio <= 0.61 ? 40 * a - 62 * a * std::pow(ratio, 1.4) : ratio <= 1.3 ? 9.1 * a + std::pow(b, 0.3) : 0;
     },
     12},
};

TEST(ErrorBound, IsAboveEveryPairAndNotFarAbove) {
  for (const Sample& sample : samples) {
    auto formula = Formula::read({{"result", sample.expression}});
    ASSERT_TRUE(formula) << sample.expression;
    formula->bind({"a", "b"});
    double worst = 0;
    for (std::int64_t a = sample.a.from; a <= sample.a.to; ++a)
      for (std::int64_t b = sample.b.from; b <= sample.b.to; ++b) {
        const float mine = sample.in_float(static_cast<float>(a), static_cast<float>(b));
        worst = std::max(worst, std::abs(static_cast<double>(mine) -
                                         sample.in_double(static_cast<double>(a), static_cast<double>(b))));
      }
    const auto bound =
        error_bound(*formula, {.inputs = {sample.a, sample.b}, .lowest = -1e9, .highest = 1e9, .enough = 0});
    ASSERT_TRUE(bound) << sample.expression;
    EXPECT_GE(*bound, worst) << sample.expression;
    EXPECT_LE(*bound, sample.generous * worst) << sample.expression;
  }
}

// What no reading is does not count: 1/(a − b) has no bound where both are one, unless those are ruled out.
TEST(ErrorBound, LeavesOutWhatIsNoReading) {
  auto formula = Formula::read({{"result", "a * 1000.1"}});
  formula->bind({"a"});
  const auto all = error_bound(*formula, {.inputs = {{0, 4000}}, .lowest = -1e9, .highest = 1e9, .enough = 0});
  const auto few = error_bound(*formula, {.inputs = {{0, 4000}}, .lowest = 0, .highest = 1e5, .enough = 0});
  ASSERT_TRUE(all && few);
  EXPECT_LT(*few, *all / 10);
  // A scale that the part sends, 0 among it.
  auto scaled = Formula::read({{"result", "a / b + 1"}});
  scaled->bind({"a", "b"});
  const auto by =
      error_bound(*scaled, {.inputs = {{-32768, 32767}, {0, 65535}}, .lowest = -550, .highest = 550, .enough = 0});
  ASSERT_TRUE(by);
  EXPECT_LE(*by, 551 * 0x1p-23);
  // Where both are one the root is of 0, give or take a rounding: a reading without a bound is not passed over.
  auto root = Formula::read({{"result", "sqrt(a * 0.1 - b * 0.1)"}});
  root->bind({"a", "b"});
  EXPECT_FALSE(error_bound(*root, {.inputs = {{5, 9}, {0, 5}}, .lowest = -1e9, .highest = 1e9, .enough = 0}));
  EXPECT_TRUE(error_bound(*root, {.inputs = {{6, 9}, {0, 5}}, .lowest = -1e9, .highest = 1e9, .enough = 0}));
  auto poles = Formula::read({{"result", "1 / (a - b)"}});
  poles->bind({"a", "b"});
  const auto away = error_bound(*poles, {.inputs = {{0, 20}, {0, 20}}, .lowest = -1e9, .highest = 1e9, .enough = 0});
  ASSERT_TRUE(away) << "where both are one there is no number";
  EXPECT_LE(*away, 2e-7);
}

// What a part's readings are handed over as, on a bench where it fits, its trimming that of its worked example.
std::vector<Handoff> handed_over(const char* marking, Language language, std::optional<Quantity> only = {}) {
  const Part* part = shipped_parts().find(marking);
  if (!part) {
    ADD_FAILURE() << marking << " is no part";
    return {};
  }
  const Bench demo = demo_bench();
  auto fitted = fit_part(demo, shipped_parts(), *part);
  if (!fitted) {
    ADD_FAILURE() << marking << ": " << to_text(fitted.problem());
    return {};
  }
  for (Device& device : fitted->bench.devices)
    for (const ByteBlock& block : part->bytes.blocks)
      if (device.part == part->id && block.role == "trimming") device.trimming[block.name] = block.example;
  std::vector<Handoff> all;
  for (const Channel& channel : fitted->bench.channels) {
    if (find_by_id(demo.channels, channel.id) || (only && channel.quantity != *only)) continue;
    auto done = hand_over(fitted->bench, shipped_parts(),
                          {.channel = channel.id, .language = language, .drawn_blocks = 20'000});
    if (done)
      all.push_back(std::move(*done));
    else
      ADD_FAILURE() << marking << " " << channel.id << ": " << to_text(done.problem());
  }
  EXPECT_FALSE(all.empty()) << marking;
  return all;
}

// Parts whose reading several numbers of the bytes make in float: what was seen lies below what is proven, and the
// bound is not idle: half a step of rounding is in both.
TEST(ErrorBound, HoldsForPartsOfSeveralFields) {
  for (const auto& [marking, quantity] : {std::pair{"TSL2591", Quantity::illuminance},
                                          {"TSL2561", Quantity::illuminance},
                                          {"DS18S20", Quantity::temperature},
                                          {"MPL115A2", Quantity::pressure},
                                          {"BME680", Quantity::humidity},
                                          {"flow-pressure-500pa", Quantity::pressure},
                                          {"humid-single-coarse", Quantity::temperature}}) {
    if (is_sanitized && std::string_view(marking) != "TSL2591") continue;
    for (const Handoff& done : handed_over(marking, Language::c, quantity)) {
      const HandoffReport& report = done.report;
      ASSERT_FALSE(report.exhaustive) << marking;
      ASSERT_TRUE(done.code.fields_formula) << marking;
      ASSERT_TRUE(report.proven_bound) << marking;
      EXPECT_GE(*report.proven_bound, report.worst_error) << marking;
      EXPECT_LE(*report.proven_bound, 10 * report.worst_error + 0.6 / static_cast<double>(report.per_unit)) << marking;
      RecordProperty(marking, fmt::format("{:.3g} of {:.3g}", report.worst_error, *report.proven_bound));
    }
  }
}

// The real formula is the sheet's own in floating point, and its whole-number form stays within what is said of it: at
// drawn blocks of the sheet's worked trimming, and where only the temperature is off by some halves.
TEST(SheetBound, HoldsTheDoubleFormAndTheIntegerForm) {
  namespace bmx = formulas::bmx280;
  const bmx::Trimming c{.dig_T1 = 27504,
                        .dig_T2 = 26435,
                        .dig_T3 = -1000,
                        .dig_P1 = 36477,
                        .dig_P2 = -10685,
                        .dig_P3 = 3024,
                        .dig_P4 = 2855,
                        .dig_P5 = 140,
                        .dig_P6 = -7,
                        .dig_P7 = 15500,
                        .dig_P8 = -14600,
                        .dig_P9 = 6000,
                        .dig_H1 = 75,
                        .dig_H2 = 362,
                        .dig_H3 = 0,
                        .dig_H4 = 313,
                        .dig_H5 = 50,
                        .dig_H6 = 30};
  const auto at = [](std::int32_t raw) { return Bounded{static_cast<double>(raw), static_cast<double>(raw), 0, true}; };
  std::mt19937 random(3);
  const formulas::Unrecorded silent{};
  double worst = 0, most_said = 0;
  for (int i = 0; i < 20'000; ++i) {
    const auto adc_T = static_cast<std::int32_t>(350'000 + random() % 300'000),
               adc_P = static_cast<std::int32_t>(250'000 + random() % 300'000),
               adc_H = static_cast<std::int32_t>(20'000 + random() % 20'000);
    double fine = 0;
    std::int32_t fine_whole = 0;
    const double celsius = bmx::temperature(c, adc_T, fine, silent);
    const std::int32_t hundredths = bmx::temperature_integer(c, adc_T, fine_whole, silent);
    const Bounded t = bmx280_bounded(c, Quantity::temperature, at(adc_T), at(0));
    EXPECT_NEAR((t.from + t.to) / 2, 100 * celsius, 1e-6);
    EXPECT_LE(std::abs(hundredths - 100 * celsius), t.error) << adc_T;
    const double pascals = bmx::pressure(c, adc_P, fine, silent);
    const auto whole = static_cast<double>(bmx::pressure_integer(c, adc_P, fine_whole, silent));
    const Bounded p = bmx280_bounded(c, Quantity::pressure, at(adc_T), at(adc_P));
    EXPECT_NEAR((p.from + p.to) / 2, 256 * pascals, 1e-3);
    EXPECT_LE(std::abs(whole - 256 * pascals), p.error) << adc_T << " " << adc_P;
    worst = std::max(worst, std::abs(whole - 256 * pascals)), most_said = std::max(most_said, p.error);
    const double percent = bmx::humidity(c, adc_H, fine, silent);
    const auto parts = static_cast<double>(bmx::humidity_integer(c, adc_H, fine_whole, silent));
    const Bounded h = bmx280_bounded(c, Quantity::humidity, at(adc_T), at(adc_H));
    EXPECT_NEAR((h.from + h.to) / 2, 1024 * percent, 1e-3);
    EXPECT_LE(std::abs(parts - 1024 * percent), h.error) << adc_T << " " << adc_H;
  }
  EXPECT_LT(most_said, 6 * worst) << "and it says little more than there is";
}

// Handed over, every sheet in whole numbers has a bound over all its blocks.
TEST(SheetBound, IsProvenForEveryPartThatHasOne) {
  for (const char* marking :
       {"BMP280", "BME280", "BMP180", "MS5611", "MS5607", "MS5637", "MS5803-14BA", "MS5837-30BA"}) {
    if (is_sanitized && std::string_view(marking) != "BMP280") continue;
    for (const Handoff& done : handed_over(marking, Language::python)) {
      const HandoffReport& report = done.report;
      const std::string which = marking + std::string(" ") + report.channel;
      ASSERT_TRUE(report.proven_bound) << which;
      EXPECT_GE(*report.proven_bound, report.worst_error) << which;
      EXPECT_LE(*report.proven_bound, report.worst_error + 0.2 / static_cast<double>(report.per_unit)) << which;
    }
  }
}

}  // namespace fair_gauge::error_bound_test
