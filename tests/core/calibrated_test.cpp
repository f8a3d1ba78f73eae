// What a calibration leaves of a chain's errors. Every number is worked out by hand in the comment beside it.
#include <gmock/gmock.h>

#include <cmath>

#include "calibrate/apply_correction.h"
#include "demo.h"
#include "truth/agreement.h"
#include "truth/calibration_fit.h"
#include "truth/error_budget.h"
#include "truth/model_choice.h"
#include "truth/monte_carlo.h"
#include "wiring/cycle_plan.h"

namespace fair_gauge::calibrated_test {

constexpr double coverage = 1.959964;

// A thermistor of 10 kΩ and B 3950 K below 10 kΩ, everything but the fixed resistor ideal, corrected by nothing that is
// known to 0.02 °C.
Bench thermistor_bench() {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3, .tolerance = 0}}};
  bench.converters = {{.id = "adc", .bits = 24, .reference_rail = "3v3", .noise_lsb = 0, .inl_lsb = 0}};
  Device device{.id = "probe", .part = "ntc-beta", .settings = {{"r25", 10e3}, {"beta", 3950}}, .converter = "adc"};
  device.front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 10e3, .fixed_tolerance = 0.01, .rail = "3v3"};
  bench.devices = {device};
  Channel channel{.id = "t", .device = "probe", .wanted = {0, 50}};
  channel.correction = {.coefficients = {0}, .standard_uncertainty = 0.02, .covered = Range{0, 50}};
  bench.channels = {channel};
  return bench;
}

double expanded_at(const Bench& bench, double at) { return error_budget(demo_chain("t", bench), at)->expanded; }

TEST(AfterACalibration, WhatComesWithTemperatureIsStillThere) {
  // dT = ΔR/R · T² / B at 25 °C: 0.03 · 298.15² / 3950 = 0.67514 K half-width, ÷ √3 = 0.38979; with 0.02 of the
  // calibration 0.39030, × 1.96 = 0.76498.
  Bench bench = thermistor_bench();
  bench.devices[0].front_end.fixed_drift_per_kelvin = 1000e-6;
  bench.devices[0].front_end.fixed_drift_span_k = 30;
  EXPECT_NEAR(expanded_at(bench, 25), 0.76498, 2e-3);
  // A tenth of it: 0.038979 and 0.02 are 0.043810, × 1.96 = 0.08587.
  bench.devices[0].front_end.fixed_drift_per_kelvin = 100e-6;
  EXPECT_NEAR(expanded_at(bench, 25), 0.08587, 5e-4);
  // Without any only the calibration is left: 1.96 · 0.02.
  bench.devices[0].front_end.fixed_drift_per_kelvin = 0;
  EXPECT_NEAR(expanded_at(bench, 25), coverage * 0.02, 5e-4);
}

TEST(AfterACalibration, ADriftOfNearlyNothingChangesNearlyNothing) {
  Bench bench = thermistor_bench();
  bench.converters[0].reference_rail.clear();  // a reference of its own: nothing cancels
  bench.converters[0].reference = {.nominal_v = 3.3, .tolerance = 0.02};
  const double none = expanded_at(bench, 25);
  bench.converters[0].reference.drift_per_kelvin = 1e-9;
  EXPECT_NEAR(expanded_at(bench, 25), none, 1e-4);
}

TEST(AfterACalibration, WhatCancelsBeforeCancelsAfterIt) {
  // A ratiometric sensor on the rail that is the converter's reference: the rail's 5 % cancel, whatever is calibrated.
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "MPX4115A", .converter = "adc"};
  bench.devices[0].front_end.rail = "3v3";
  bench.rails[0].voltage = {.nominal_v = 5.1, .tolerance = 0};
  bench.channels[0].quantity = Quantity::pressure;
  bench.channels[0].kind = PressureKind::absolute;
  bench.channels[0].unit = "hPa";
  bench.channels[0].wanted = {80000, 110000};
  bench.channels[0].correction = {.coefficients = {120}, .standard_uncertainty = 30, .covered = Range{80000, 110000}};
  const double exact = expanded_at(bench, 100000);
  bench.rails[0].voltage.tolerance = 0.05;
  EXPECT_NEAR(expanded_at(bench, 100000), exact, 0.02 * exact);
  bench.rails[0].voltage.drift_per_kelvin = 1e-4;
  EXPECT_NEAR(expanded_at(bench, 100000), exact, 0.02 * exact) << "and so does its drift";
}

RecordedPoint point(double reference, double reading, double u) {
  RecordedPoint point;
  point.reference = reference;
  point.reading = reading;
  point.reference_standard = u;
  return point;
}

Correction corrected(std::initializer_list<RecordedPoint> points, FitModel model, ReferenceErrors errors) {
  const std::vector<RecordedPoint> all = points;
  const auto fit = fit_calibration(model, points_for_fit(all));
  return put_correction(thermistor_bench(), shipped_parts(), "t", *fit, all, CorrectionPlace::physical,
                        {.errors = errors})
      ->correction;
}

double calibration_standard(const Correction& correction, double at) {
  Bench bench = thermistor_bench();
  bench.channels[0].correction = correction;
  const auto budget = error_budget(demo_chain("t", bench), at);
  for (const Contribution& line : budget->lines)
    if (line.name == "calibration") return line.standard;
  return std::nan("");
}

TEST(AfterACalibration, TheReferenceCountsOnce) {
  const auto shared = ReferenceErrors::shared, independent = ReferenceErrors::independent;
  EXPECT_NEAR(calibration_standard(corrected({point(25, 25.2, 0.1)}, FitModel::offset, shared), 25), 0.1, 1e-6);
  // Four points that all miss by the same: what they share stays 0.1, what is each one's own averages to 0.1 / √4.
  const auto four = {point(10, 10.2, 0.1), point(20, 20.2, 0.1), point(30, 30.2, 0.1), point(40, 40.2, 0.1)};
  EXPECT_NEAR(calibration_standard(corrected(four, FitModel::offset, shared), 25), 0.1, 1e-6);
  EXPECT_NEAR(calibration_standard(corrected(four, FitModel::offset, independent), 25), 0.05, 1e-3);
}

TEST(AfterACalibration, StatedUncertaintiesAreNotThoseOfAFewPoints) {
  for (const auto errors : {ReferenceErrors::shared, ReferenceErrors::independent})
    for (const auto& points :
         {std::vector{point(10, 10.2, 0.1), point(40, 40.21, 0.1)},
          std::vector{point(10, 10.2, 0.1), point(25, 25.19, 0.1), point(40, 40.21, 0.1)},
          std::vector{point(10, 10.2, 0.1), point(20, 20.19, 0.1), point(30, 30.2, 0.1), point(40, 40.21, 0.1)}}) {
      const auto fit = fit_calibration(FitModel::offset, points_for_fit(points));
      Bench bench = put_correction(thermistor_bench(), shipped_parts(), "t", *fit, points, CorrectionPlace::physical,
                                   {.errors = errors})
                        ->bench;
      EXPECT_NEAR(error_budget(demo_chain("t", bench), 25)->coverage_factor, 1.96, 0.05) << points.size();
    }
}

// ---- fits whatever the origin ----

TEST(CalibrationFit, IsTheSameFromAnyOrigin) {
  // correction = 5 − 2e-4·r + 3e-10·r² − 1e-15·r³ at readings from 30 000 to 110 000, asked from 0 and from 70 000.
  const auto curve = [](double r) { return 5 - 2e-4 * r + 3e-10 * r * r - 1e-15 * r * r * r; };
  std::vector<CalibrationPoint> points;
  for (double r = 30000; r <= 110000; r += 10000) points.push_back({r + curve(r), r, 2});
  const auto far = fit_calibration(FitModel::cubic, points, 0), near = fit_calibration(FitModel::cubic, points, 70000);
  ASSERT_TRUE(far) << to_text(far.problem());
  ASSERT_TRUE(near);
  const double expected[] = {5, -2e-4, 3e-10, -1e-15};
  for (std::size_t i = 0; i < 4; ++i) EXPECT_NEAR(far->coefficients[i] / expected[i], 1, 1e-4) << i;
  for (double r = 30000; r <= 110000; r += 8000) {
    EXPECT_NEAR(far->predict(r).correction, curve(r), 1e-6);
    EXPECT_NEAR(far->predict(r).standard_uncertainty, near->predict(r).standard_uncertainty, 1e-9);
  }
}

TEST(CalibrationFit, KnowsItsCoefficientsFarFromTheirOrigin) {
  // A line through n readings x_i with u: u(c1) = u / √Σ(x − mean)², u(c0) = u · √(1/n + mean² / Σ(x − mean)²).
  // x = 20.00, 20.01, … 20.05: mean 20.025, Σ = 0.00175; u = 0.001: u(c1) = 0.0239046, u(c0) = 0.478690.
  std::vector<CalibrationPoint> points;
  for (int i = 0; i < 6; ++i) points.push_back({20 + 0.01 * i + 0.3, 20 + 0.01 * i, 0.001});
  const auto fit = fit_calibration(FitModel::line, points, 0);
  EXPECT_NEAR(fit->standard_uncertainties[1], 0.0239046, 1e-6);
  EXPECT_NEAR(fit->standard_uncertainties[0], 0.478690, 1e-5);
  // A quadratic there: u(c2) = u / √Σ(p2²) with p2 the orthogonal quadratic of six even points, Σ = 37.3333 · h⁴ for
  // steps h: (x²) values 0,1,4,9,16,25 less their line: residual squares 37.3333. u(c2) = 0.001 / √(37.3333e-8)
  // = 1.63663.
  const auto curved = fit_calibration(FitModel::quadratic, points, 0);
  EXPECT_NEAR(curved->standard_uncertainties[2], 1.63663, 1e-4);
}

// ---- Monte Carlo ----

TEST(MonteCarloAfterACalibration, KeepsWhatTheReferenceOverwhelmsBeforeIt) {
  // A correction known to 0.01 over a reference of ±10 %, which it has taken care of: 1.96 · 0.01 is left, as the rest
  // is ideal; the shortest interval of a normal has the same half-width.
  Bench bench = thermistor_bench();
  bench.converters[0].reference_rail.clear();
  bench.converters[0].reference = {.nominal_v = 3.3, .tolerance = 0.10};
  bench.devices[0].part = "LM35";
  bench.devices[0].settings.clear();
  bench.devices[0].front_end = {};
  // At one reading only: there an offset takes away all of a gain's error.
  bench.channels[0].correction = {.coefficients = {0}, .standard_uncertainty = 0.01, .covered = Range{25, 25}};
  const auto spread = monte_carlo(demo_chain("t", bench), 25, 100'000, 3);
  ASSERT_TRUE(spread);
  EXPECT_NEAR((spread->high - spread->low) / 2, coverage * 0.01, 5e-4);
  EXPECT_EQ(spread->without_reading, 0);
}

TEST(MonteCarlo, WarmsItselfAsTheBudgetDoes) {
  Bench bench = thermistor_bench();
  bench.channels[0].correction = {};
  Chain chain = demo_chain("t", bench), warm = chain;
  chain.kelvin_per_watt = 0;
  warm.kelvin_per_watt = 500;
  // 3.3 V over 10 kΩ + 10 kΩ at 25 °C: 0.2723 mW in the sensor, × 500 K/W = 0.1361 K.
  const auto budget = error_budget(warm, 25);
  EXPECT_NEAR(budget->known_bias, 0.1361, 5e-4);
  EXPECT_NEAR(monte_carlo(warm, 25, 50'000, 5)->mean, monte_carlo(chain, 25, 50'000, 5)->mean + 0.1361, 3e-3);
}

// ---- what a digital part cannot do ----

TEST(DigitalReach, EndsWhereItsSettingsEnd) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.buses = {{.id = "bus", .rail = "3v3"}};
  struct Case {
    const char* part;
    std::map<std::string, double> settings;
    Quantity quantity;
    const char* unit;
    double reached, beyond;
  };
  const Case cases[] = {// 0.0036 lx a count at gain 2 and 800 ms, 65 535 of them: 236 lx.
                        {"VEML7700", {{"gain", 2}, {"integration_ms", 800}}, Quantity::illuminance, "lx", 200, 300},
                        // 65 535 ÷ 1.2 at the usual time: 54 612 lx.
                        {"BH1750", {}, Quantity::illuminance, "lx", 50000, 60000},
                        // Twelve bits of 0.0625 °C end at 127.9375 °C.
                        {"TMP102", {}, Quantity::temperature, "Cel", 120, 140}};
  for (const Case& each : cases) {
    bench.devices = {{.id = "d", .part = each.part, .settings = each.settings, .bus = "bus"}};
    bench.channels = {{.id = "c", .device = "d", .quantity = each.quantity, .wanted = {0, 100}, .unit = each.unit}};
    const Chain chain = demo_chain("c", bench);
    EXPECT_TRUE(raw_for(chain, each.reached)) << each.part;
    EXPECT_FALSE(raw_for(chain, each.beyond)) << each.part;
    EXPECT_FALSE(error_budget(chain, each.beyond)) << each.part;
  }
}

TEST(DigitalReach, TheOldOneWirePartReadsHalfDegreesFromItsNumberAlone) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.buses = {{.id = "bus", .kind = BusKind::one_wire, .rail = "3v3"}};
  bench.devices = {{.id = "d", .part = "DS18S20", .bus = "bus"}};
  bench.channels = {{.id = "c", .device = "d"}};
  const Chain chain = demo_chain("c", bench);
  for (int half = 40; half < 60; ++half) EXPECT_EQ(*read_raw(chain, half), half / 2.0);
}

// A linear sensor that may be off by 2 °C, on an ideal converter.
Bench linear_bench() {
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "TMP36", .converter = "adc"};
  bench.channels[0].correction = {};
  return bench;
}

TEST(AfterACalibration, OnePointSaysNothingOfTheSlope) {
  // ±3 °C maximum from −40 to 125 °C, ±2 at 25. Proven at 25 °C: away from it an end-to-end slope may bring a triangle
  // of 2 · 3 · 50/165 = 1.818 half-width at 75 °C, 0.7423 standard; with 0.1 of the calibration 0.7490.
  Bench bench = linear_bench();
  bench.channels[0].wanted = {0, 100};
  bench.channels[0].correction = {.coefficients = {0.3}, .standard_uncertainty = 0.1, .covered = Range{25, 25}};
  EXPECT_NEAR(error_budget(demo_chain("t", bench), 25)->combined, 0.1, 2e-3);
  const PartQuantity& quantity = shipped_parts().find("TMP36")->quantities.front();
  double from = 75, to = 75;
  for (const AccuracyBand& band : quantity.accuracy) from = std::min(from, band.from), to = std::max(to, band.to);
  const double slope = 2 * sheet_accuracy(quantity, 75)->half_width * 50 / (to - from);
  EXPECT_NEAR(error_budget(demo_chain("t", bench), 75)->combined, std::hypot(0.1, slope / std::sqrt(6.0)), 0.01);
  EXPECT_GT(error_budget(demo_chain("t", bench), 75)->combined, 0.5);
}

TEST(AfterACalibration, AReferenceThatNobodyKnowsProvesNothing) {
  const Bench bench = linear_bench();
  const std::vector<RecordedPoint> points{point(10, 10.4, 0), point(40, 40.6, 0)};
  const auto fit = fit_calibration(FitModel::line, points_for_fit(points), 0);
  const auto put = put_correction(bench, shipped_parts(), "t", *fit, points, CorrectionPlace::physical, {});
  const double before = error_budget(demo_chain("t", bench), 60)->expanded;
  EXPECT_NEAR(error_budget(demo_chain("t", put->bench), 60)->expanded, before, 0.02 * before);
}

TEST(ThreeWires, OneLeadStaysWithOnePin) {
  // 10 Ω a lead on a platinum element of 100 Ω at 0 °C: one lead in series with it, known to a tenth: 1 Ω ÷ 0.3908 Ω/K
  // = 2.559 K half-width.
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "Pt100", .converter = "adc"};
  bench.devices[0].front_end = {.kind = FrontEndKind::divider,
                                .fixed_ohm = 1000,
                                .fixed_tolerance = 0,
                                .rail = "3v3",
                                .wires = 3,
                                .lead_ohm = 10};
  bench.channels[0].correction = {};
  const auto budget = error_budget(demo_chain("t", bench), 0);
  const auto leads = std::ranges::find(budget->lines, "leads of the sensor", &Contribution::name);
  ASSERT_NE(leads, budget->lines.end());
  EXPECT_NEAR(leads->standard, 1 / 0.3908 / std::sqrt(3.0), 0.01);
}

TEST(PinLoad, LiesBesideTheLowerHalfOfADivider) {
  // 10 kΩ above a 10 kΩ thermistor with 100 kΩ of pin beside it: code 2^15 of 16 bits is half the supply, so that both
  // together are 10 kΩ: 1/(1/10k − 1/100k) = 11111 Ω, 1/(1/298.15 + ln(1.11111)/3950) − 273.15 = 22.64 °C.
  Bench bench = thermistor_bench();
  bench.converters[0].bits = 16;
  bench.converters[0].input_ohm = 100e3;
  bench.channels[0].correction = {};
  EXPECT_NEAR(*read_raw(demo_chain("t", bench), 32768), 22.64, 0.01);
}

TEST(ConverterOfFinishedReadings, IsAsGoodAsItsElement) {
  // Class B at 800 °C: 0.30 + 0.005 · 800 = 4.3 K beside the converter's own 0.5 K: √(4.3² + 0.5²) ÷ √3 = 2.4994.
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "platinum-converter"};
  bench.channels[0].correction = {};
  bench.channels[0].wanted = {0, 800};
  EXPECT_NEAR(error_budget(demo_chain("t", bench), 800)->combined, 2.4994, 0.002);
  bench.devices[0].element_grade = "class A";  // 0.15 + 0.002 · 800 = 1.75
  EXPECT_NEAR(error_budget(demo_chain("t", bench), 800)->combined, std::hypot(1.75, 0.5) / std::sqrt(3.0), 0.002);
  bench.devices[0].element = "no such part";
  EXPECT_FALSE(build_chain(bench, shipped_parts(), "t"));
}

TEST(Agreement, TakesOutWhatTwoReadingsShare) {
  // Two of u = 0.5, 0.4 of it in common: the difference is known to √(2 · (0.25 − 0.16)) = 0.42426, × 1.96 = 0.8315.
  const auto group = compare_estimates({{"a", 20, 0.5}, {"b", 21, 0.5}}, {{0, 0.16}, {0.16, 0}});
  EXPECT_NEAR(group->pairs[0].expanded, 0.8315, 1e-4);
  EXPECT_FALSE(group->pairs[0].agrees);
  EXPECT_NEAR(group->chi_squared, 1 / 0.18, 1e-9);
  EXPECT_NEAR(group->reference_standard, std::sqrt((0.25 + 0.16) / 2) * std::sqrt(1 / 0.18), 1e-9) << "shared stays";
  EXPECT_TRUE(compare_estimates({{"a", 20, 0.5}, {"b", 21, 0.5}})->pairs[0].agrees);
}

TEST(Agreement, TwoChannelsOfOneConverterShareItsReference) {
  // Two sensors of 10 mV/°C and 0.5 V at 0 °C at 25 °C: 2 % of the converter's own reference are 0.02 · 75 K = 1.5 K in
  // both readings alike, (1.5 K)² ÷ 3 = 0.75 K² in common.
  Bench bench = linear_bench();
  bench.converters[0].reference_rail.clear();
  bench.converters[0].reference = {.nominal_v = 3.3, .tolerance = 0.02};
  bench.devices.push_back(bench.devices[0]);
  bench.devices[1].id = "second";
  bench.channels.push_back(bench.channels[0]);
  bench.channels[1].id = "u";
  bench.channels[1].device = "second";
  EXPECT_NEAR(shared_variance(source_effects(demo_chain("t", bench), 25), source_effects(demo_chain("u", bench), 25)),
              0.75, 0.01);
}

TEST(Battery, ADividerFlowsAllTheTime) {
  // 3.3 V through 1 kΩ and a platinum element of 1 kΩ at 0 °C (1097 Ω at 25 °C): 1.574 mA; 0.8 Ah of it last 21.2 days.
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "Pt1000", .converter = "adc"};
  bench.devices[0].front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 1000, .rail = "3v3"};
  bench.power = {.battery_ah = 1, .awake_a = 0, .sleep_a = 0};
  const CyclePlan plan = plan_cycle(bench, shipped_parts());
  EXPECT_NEAR(plan.battery_days, 21.2, 0.2);
  EXPECT_THAT(plan.findings, testing::Contains(testing::Field(&Finding::words, testing::HasSubstr("fed from a pin"))));
}

TEST(MantissaAndExponent, IsOneRawNumber) {
  // The sheet: 0.01 · 2^E · R. E 11, R 4095 is 83 865.6 lx, the end of the range; 3456 lx is E 7, R 2700 (0x7A8C).
  Bench bench = thermistor_bench();
  bench.devices[0] = {.id = "probe", .part = "OPT3001"};
  bench.channels[0].quantity = Quantity::illuminance;
  bench.channels[0].unit = "lx";
  bench.channels[0].wanted = {0, 80000};
  bench.channels[0].correction = {};
  const Chain chain = demo_chain("t", bench);
  EXPECT_NEAR(*read_raw(chain, 0x7A8C), 3456, 1e-9);
  EXPECT_NEAR(*read_raw(chain, 0xBFFF), 83865.6, 1e-6);
  EXPECT_EQ(*raw_for(chain, 3456), 0x7A8C);
  EXPECT_EQ(*raw_for(chain, 40.95), 4095);
  EXPECT_EQ(*raw_for(chain, 40.96), 0x1800) << "the next one needs the exponent 1: 0.02 · 2048";
  EXPECT_NEAR(step_at(chain, 30), 0.01, 1e-9);
  EXPECT_NEAR(step_at(chain, 3456), 1.28, 1e-9);
  EXPECT_EQ(chain.bytes->text(0x7A8C), "7A 8C");
  for (double lux = 0.5; lux < 83000; lux *= 1.37) {
    const double back = *read_raw(chain, *raw_for(chain, lux));
    EXPECT_NEAR(back, lux, step_at(chain, lux) * 0.51 + 1e-9) << lux;
  }
}

// A bridge of 40 kPa at 1 % of its span, whose zero may be off by half of it: ±(0.01 + 0.5) · 40 kPa = ±20.4 kPa until
// a correction has taken the zero; then ±400 Pa against a reference of unknown error.
TEST(Calibrated, BridgeIsOffByItsZeroUntilThatIsTaken) {
  const Part* bridge = shipped_parts().find("bridge-40kpa");
  ASSERT_TRUE(bridge);
  EXPECT_NEAR(sheet_accuracy(bridge->quantities.front(), 20e3)->half_width, 20.4e3, 1e-6);
  Bench bench;
  bench.converters = {{.id = "adc", .bits = 16, .reference = {.nominal_v = 5}, .gain = 64}};
  bench.devices = {{.id = "bridge", .part = "bridge-40kpa", .converter = "adc"}};
  bench.channels = {{.id = "p",
                     .device = "bridge",
                     .quantity = Quantity::pressure,
                     .kind = PressureKind::gauge,
                     .wanted = {0, 40e3},
                     .unit = "Pa"}};
  const auto width = [&] {
    const auto chain = build_chain(bench, shipped_parts(), "p");
    for (const LinkPointer& link : chain->links)
      for (const Source& source : link->sources(20e3))
        if (source.name == "part accuracy") return source.width;
    return 0.0;
  };
  EXPECT_NEAR(width(), 20.4e3, 1e-6);
  bench.channels[0].correction = {.coefficients = {-310}};
  EXPECT_NEAR(width(), 400, 1e-6);
  // What it is worth then to know the reference: 400/√3 Pa against 1 Pa.
  bool found = false;
  for (const Improvement& improvement : improvements(bench, shipped_parts(), "p", 20e3))
    found |= improvement.words == "Repeat the points against a reference whose error is stated";
  EXPECT_TRUE(found);
}

// Two channels of light share an end: 65535 counts of the first with the example's quarter (306/1222) of infrared. At
// gain 16 and 402 ms: (0.0304 − 0.062 · 0.2504^1.4) · 65535 = 0.021478 · 65535 = 1407.6 lx; 13.7 ms end at 5046 counts,
// times 402/13.7: 3180 lx.
TEST(Calibrated, TwoDiodesEndWhereTheirFirstChannelIsFull) {
  Bench bench;
  bench.devices = {{.id = "light", .part = "TSL2561", .settings = {{"gain", 16}}}};
  bench.channels = {
      {.id = "lux", .device = "light", .quantity = Quantity::illuminance, .wanted = {0, 1000}, .unit = "lx"}};
  const auto reaches = [&](double lux) {
    return static_cast<bool>(raw_for(*build_chain(bench, shipped_parts(), "lux"), lux));
  };
  EXPECT_TRUE(reaches(1400));
  EXPECT_FALSE(reaches(1420));
  bench.devices[0].settings = {{"gain", 16}, {"integration_ms", 13.7}};
  EXPECT_TRUE(reaches(3150));
  EXPECT_FALSE(reaches(3220));
}

}  // namespace fair_gauge::calibrated_test
