// Calibration fits against the guide's own example, and Monte Carlo against the budget.
#include "truth/calibration_fit.h"

#include <gmock/gmock.h>

#include <cmath>

#include "bench/bench_file.h"
#include "calibrate/apply_correction.h"
#include "demo.h"
#include "truth/error_budget.h"
#include "truth/model_choice.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::calibration_test {

using testing::HasSubstr;

// JCGM 100:2008, annex H.3, table H.6: readings t of a thermometer and corrections b, both in °C.
const std::vector<CalibrationPoint> guide_example = [] {
  const double t[] = {21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.010, 26.511};
  const double b[] = {-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.160};
  std::vector<CalibrationPoint> points;
  for (std::size_t i = 0; i < 11; ++i) points.push_back({t[i] + b[i], t[i]});
  return points;
}();

TEST(CalibrationFit, ReproducesTheGuidesThermometer) {
  const auto fit = fit_calibration(FitModel::line, guide_example, 20);
  ASSERT_TRUE(fit);
  EXPECT_NEAR(fit->coefficients[0], -0.1712, 5e-5);
  EXPECT_NEAR(fit->standard_uncertainties[0], 0.0029, 5e-5);
  EXPECT_NEAR(fit->coefficients[1], 0.00218, 5e-6);
  EXPECT_NEAR(fit->standard_uncertainties[1], 0.00067, 5e-6);
  EXPECT_NEAR(fit->correlation[0][1], -0.930, 5e-4);
  EXPECT_NEAR(fit->residual_sd, 0.0035, 5e-5);
  EXPECT_EQ(fit->dof, 9);
  EXPECT_NEAR(fit->predict(30).correction, -0.1494, 5e-5);
  EXPECT_NEAR(fit->predict(30).standard_uncertainty, 0.0041, 5e-5);
}

TEST(CalibrationFit, WeightsByHand) {
  // Two corrections 1 ± 1 and 2 ± 0.5: weights 1 and 4; mean (1 + 8)/5 = 1.8, u = 1/√5.
  const auto fit = fit_calibration(FitModel::offset, {{11, 10, 1}, {22, 20, 0.5}});
  EXPECT_NEAR(fit->coefficients[0], 1.8, 1e-12);
  EXPECT_NEAR(fit->standard_uncertainties[0], 1 / std::sqrt(5.0), 1e-12);
  // In proportion: corrections 1 at 10 and 2 at 20 are 0.1 of the reading.
  EXPECT_NEAR(fit_calibration(FitModel::gain, {{11, 10}, {22, 20}})->coefficients[0], 0.1, 1e-12);
}

TEST(CalibrationFit, PolynomialsGoThroughWhatTheyCan) {
  std::vector<CalibrationPoint> points;
  for (double x = -3; x <= 6; ++x) points.push_back({x + 0.5 - 0.2 * x + 0.03 * x * x - 0.001 * x * x * x, x});
  const auto cubic = fit_calibration(FitModel::cubic, points);
  const double expected[] = {0.5, -0.2, 0.03, -0.001};
  for (std::size_t i = 0; i < 4; ++i) EXPECT_NEAR(cubic->coefficients[i], expected[i], 1e-9);
  EXPECT_GT(fit_calibration(FitModel::quadratic, points)->residual_sd, 1e-3);
  const auto table = fit_calibration(FitModel::table, {{1.2, 1, 0.1}, {2.4, 2, 0.1}});
  EXPECT_NEAR(table->predict(1.5).correction, 0.3, 1e-12);
  EXPECT_NEAR(table->predict(1.5).standard_uncertainty, std::hypot(0.05, 0.05), 1e-12);
  EXPECT_NEAR(table->predict(9).correction, 0.4, 1e-12);
  // Corrections 0, 1 and 4 at 0, 10 and 20: 0.5 and 2.5 halfway.
  const auto bent = fit_calibration(FitModel::table, {{0, 0, 0.1}, {11, 10, 0.1}, {24, 20, 0.1}});
  EXPECT_NEAR(bent->predict(5).correction, 0.5, 1e-12);
  EXPECT_NEAR(bent->predict(15).correction, 2.5, 1e-12);
  EXPECT_NEAR(bent->predict(-5).correction, 0, 1e-12);
}

TEST(CalibrationFit, SaysWhatIsLacking) {
  EXPECT_THAT(to_text(fit_calibration(FitModel::line, {{1, 1}}).problem()), HasSubstr("too few"));
  EXPECT_THAT(to_text(fit_calibration(FitModel::line, {{1, 1}, {2, 1}}).problem()), HasSubstr("far enough apart"));
  EXPECT_TRUE(std::isnan(fit_calibration(FitModel::line, {{1, 1}, {2, 2.1}})->standard_uncertainties[0]))
      << "nothing tells how good it is";
}

// Corrections 0.1, −0.1, 0.1, −0.1, 0 at 0, 10, … 40: a line through them, by hand −0.02·(x − 20)/10; residuals 0.06,
// −0.12, 0.1, −0.08, 0.04 with squares 0.036, over 5 − 2 degrees of freedom. Beside a reference of ±0.1 (known for
// certain) the whole has 3 · (u/s)⁴ degrees. \source JCGM 100:2008, G.4.1 (Welch–Satterthwaite)
TEST(Corrections, HaveTheDegreesOfFreedomOfTheirScatter) {
  std::vector<CalibrationPoint> points = {{0.1, 0}, {9.9, 10}, {20.1, 20}, {29.9, 30}, {40, 40}};
  const auto fit = fit_calibration(FitModel::line, points, 20);
  ASSERT_TRUE(fit);
  const double s = std::sqrt(0.036 / 3), u = std::hypot(0.1, s);
  EXPECT_NEAR(fit->residual_sd, s, 1e-9);
  const Correction found = correction_of(*fit, points, 0.1, "2026-11-24", "made up");
  EXPECT_NEAR(found.standard_uncertainty, u, 1e-9);
  EXPECT_NEAR(found.dof, 3 * std::pow(u / s, 4), 1e-6);
  // Stated uncertainties have those of their statements: not counted.
  for (CalibrationPoint& point : points) point.uncertainty = 0.1;
  EXPECT_EQ(correction_of(*fit_calibration(FitModel::line, points, 20), points, 0.1, "", "").dof, 0);
  // What goes through all its points says nothing of its scatter.
  const std::vector<CalibrationPoint> two = {{0.1, 0}, {9.9, 10}};
  EXPECT_EQ(correction_of(*fit_calibration(FitModel::line, two), two, 0.1, "", "").dof, 0);
}

// 77 °F are 25 °C, 78.8 °F 26 °C; a degree of the one is 5/9 of the other.
TEST(CalibrationPoints, MayComeInAnotherUnit) {
  const Unit& celsius = *unit_by_ucum("Cel");
  for (const char* written : {"reference (°F),reading (°F),uncertainty (°F)\n77,78.8,0.9\n",
                              "Reference [degF],Reading,Uncertainty\n77,26,0.5\n", "77 °F; 26 °C; 0,5 K",
                              "77 °F,26,0.5", "reference,reading,uncertainty\n25 °C,78.8 °F,0.5 °C\n"}) {
    const auto points = read_calibration_points(written, &celsius);
    ASSERT_TRUE(points) << written << to_text(points.problem());
    EXPECT_NEAR(points->front().reference, 25, 1e-9) << written;
    EXPECT_NEAR(points->front().reading, 26, 1e-9) << written;
    EXPECT_NEAR(points->front().uncertainty, 0.5, 1e-9) << written;
  }
  EXPECT_THAT(to_text(read_calibration_points("reference (hPa),reading\n1,2\n", &celsius).problem()),
              HasSubstr("\"hPa\" is no unit"));
  EXPECT_FALSE(read_calibration_points("reference,reading\n25 hPa,26\n", &celsius));
  // Where nobody knows which unit is wanted they must all be in one.
  EXPECT_EQ(read_calibration_points("reference (°F),reading (°F)\n77,78\n")->front().reference, 77);
  EXPECT_THAT(to_text(read_calibration_points("reference (°F),reading (°C)\n77,25\n").problem()),
              HasSubstr("1:1: the columns are in \"°F\" and in \"°C\""));
}

TEST(CalibrationPoints, AreReadWithTheirPlaces) {
  const auto points = read_calibration_points("reading,reference,uncertainty\n10,10.2,0.1\n20,20.1,0.1\n");
  ASSERT_TRUE(points);
  EXPECT_EQ(points->size(), 2u);
  EXPECT_EQ(points->front().reference, 10.2);
  EXPECT_EQ(read_calibration_points("reference;reading\n10,2;10\n")->front().reference, 10.2);
  const auto bad = read_calibration_points("reference,reading\n10,warm\n");
  EXPECT_EQ(bad.problem().place.line, 2);
  EXPECT_EQ(bad.problem().place.column, 4);
  EXPECT_THAT(to_text(read_calibration_points("a,b\n1,2\n").problem()), HasSubstr("reference"));
  EXPECT_FALSE(read_calibration_points(""));
  // As a person types them: no header, spaces or whatever else between, a decimal comma.
  for (const char* typed :
       {"10 10.1\n20 20.3\n", "10,10.1\n20,20.3\n", "10; 10,1\n20; 20,3", "10,0 10,1\n20,0\t20,3\n"}) {
    const auto bare = read_calibration_points(typed);
    ASSERT_TRUE(bare) << typed;
    ASSERT_EQ(bare->size(), 2u) << typed;
    EXPECT_EQ(bare->back().reference, 20) << typed;
    EXPECT_EQ(bare->back().reading, 20.3) << typed;
  }
  EXPECT_EQ(read_calibration_points("10 10.1 0.2\n")->front().uncertainty, 0.2);
  EXPECT_THAT(to_text(read_calibration_points("10 10.1\n20\n").problem()), HasSubstr("2:3: "));
  EXPECT_THAT(to_text(read_calibration_points("Reference,Reading\n0,\n").problem()), HasSubstr("2:3: "));
  EXPECT_EQ(read_calibration_points("Reading,REFERENCE\n1,2\n")->front().reference, 2);
  EXPECT_THAT(to_text(read_calibration_points("1 2 3 4\n").problem()), HasSubstr("rows of reference and reading"));
  // A row that ends too soon is wrong behind its end, and an uncertainty of none is one.
  EXPECT_EQ(read_calibration_points("reading,reference\n10\n").problem().place.column, 3);
  EXPECT_EQ(read_calibration_points("reading,reference,uncertainty\n10,10,0\n")->front().uncertainty, 0);
  EXPECT_EQ(read_calibration_points("reading,reference,uncertainty\n1,1,0\n10,10,-0.1\n").problem().place.line, 3);
}

TEST(MonteCarlo, AgreesWithTheBudgetOfANearlyStraightChain) {
  const Chain chain = demo_chain("spawn_fridge");
  const Budget budget = *error_budget(chain, 5);
  const auto spread = monte_carlo(chain, 5, 200000, 1);
  ASSERT_TRUE(spread);
  EXPECT_NEAR(spread->standard, budget.combined, 0.01 * budget.combined);
  EXPECT_NEAR(spread->mean, 0, 0.02 * budget.combined);
  const auto again = monte_carlo(chain, 5, 200000, 1);
  EXPECT_EQ(spread->low, again->low) << "the same seed gives the same";
  EXPECT_NE(spread->low, monte_carlo(chain, 5, 200000, 2)->low);
}

TEST(MonteCarlo, OneRectangleGivesItsOwnInterval) {
  // The part's accuracy rules the rack's budget: of a rectangle 95 % lie within 0.95 of its half-width, ±0.5 °C.
  const Chain chain = demo_chain("rack");
  const auto spread = monte_carlo(chain, 20, 100000, 3);
  EXPECT_NEAR((spread->high - spread->low) / 2, 0.95 * 0.5, 0.01);
  EXPECT_NEAR(spread->standard, 0.5 / std::sqrt(3.0), 0.005);
}

TEST(MonteCarlo, CanBeEndedEarlyAndRefusesEnds) {
  int asked = 0;
  const auto ended = monte_carlo(demo_chain("substrate"), 20, 1000000, 1, [&](double) { return ++asked < 2; });
  EXPECT_LT(ended->trials, 1000000);
  EXPECT_FALSE(monte_carlo(demo_chain("substrate"), 900, 10000, 1));
}

// ---- put in place ----

RecordedPoint recorded(double reference, double reading, double standard = 0.05) {
  RecordedPoint point;
  point.reference = reference;
  point.reference_standard = standard;
  point.reading = reading;
  point.spread = 0.1;
  point.readings = 25;
  return point;
}

TEST(PutIn, CombinesReferenceAndScatterOfEachPoint) {
  // Scatter of the mean 0.1/√25 = 0.02; √(0.05² + 0.02²).
  EXPECT_NEAR(points_for_fit({recorded(5, 5.2)})[0].uncertainty, std::hypot(0.05, 0.02), 1e-12);
  EXPECT_EQ(points_for_fit({recorded(5, 5.2, 0)})[0].uncertainty, 0) << "nobody knows the reference";
}

TEST(PutIn, ReadsThePointsWhereverTheCorrectionIsCarriedOut) {
  const Bench bench = demo_bench();
  const std::vector<RecordedPoint> points = {recorded(-4, -3.8), recorded(5, 5.3), recorded(14, 14.4)};
  const auto fit = fit_calibration(FitModel::line, points_for_fit(points));
  const auto without = uncorrected_chain(bench, shipped_parts(), "spawn_fridge");
  ASSERT_TRUE(without);
  for (const CorrectionPlace place : {CorrectionPlace::physical, CorrectionPlace::raw}) {
    const auto put =
        put_correction(bench, shipped_parts(), "spawn_fridge", *fit, points, place, {"2026-11-24", "thermometer 7"});
    ASSERT_TRUE(put) << put.problem().wrong;
    const Chain chain = demo_chain("spawn_fridge", put->bench);
    for (const RecordedPoint& point : points)
      EXPECT_NEAR(*read_raw(chain, *raw_for(*without, point.reading)), point.reference, 0.12)
          << enum_name(place);  // a step is 0.08 °C
    // The mean of many readings stands between two codes, and the correction takes it so.
    for (const RecordedPoint& point : points)
      EXPECT_NEAR(read_mean_raw(chain, mean_raw_for(*without, point.reading)), point.reference, 0.03)
          << enum_name(place);
    EXPECT_THAT(put->correction.note, HasSubstr("line by 3 points, 2026-11-24"));
    EXPECT_GE(put->correction.standard_uncertainty, 0.05) << "what all points share is not averaged away";
    const auto again = bench_from_text(bench_to_text(put->bench), "");
    EXPECT_TRUE(again->problems.empty());
    EXPECT_EQ(again->bench, put->bench);
  }
}

TEST(PutIn, AFirmwareOrPartThatCorrectsLeavesTheReadingAlone) {
  const Bench bench = demo_bench();
  const std::vector<RecordedPoint> points = {recorded(20, 20.4)};
  const auto fit = fit_calibration(FitModel::offset, points_for_fit(points));
  for (const CorrectionPlace place : {CorrectionPlace::firmware, CorrectionPlace::part}) {
    const auto put = put_correction(bench, shipped_parts(), "room", *fit, points, place, {});
    ASSERT_TRUE(put);
    const Chain chain = demo_chain("room", put->bench), before = *uncorrected_chain(bench, shipped_parts(), "room");
    EXPECT_NEAR(*read_raw(chain, 500000), *read_raw(before, 500000), 1e-9);  // it arrives corrected
    EXPECT_LT(error_budget(chain, 20)->combined, error_budget(before, 20)->combined);
  }
  const auto line = fit_calibration(FitModel::line, {{20, 20.4, 0.1}, {30, 30.5, 0.1}});
  EXPECT_THAT(put_correction(bench, shipped_parts(), "room", *line, {recorded(20, 20.4), recorded(30, 30.5)},
                             CorrectionPlace::part, {})
                  .problem()
                  .wrong,
              HasSubstr("no slope"));
}

TEST(PutIn, SaysWhatItCannotDo) {
  const Bench bench = demo_bench();
  const auto fit = fit_calibration(FitModel::offset, {{20, 20.4, 0.1}});
  EXPECT_FALSE(
      put_correction(bench, shipped_parts(), "nowhere", *fit, {recorded(20, 20.4)}, CorrectionPlace::physical, {}));
  EXPECT_FALSE(put_correction(bench, shipped_parts(), "room", *fit, {}, CorrectionPlace::physical, {}));
  EXPECT_THAT(
      put_correction(bench, shipped_parts(), "spawn_fridge", *fit, {recorded(20, 900)}, CorrectionPlace::raw, {})
          .problem()
          .wrong,
      HasSubstr("outside the codes"));
  EXPECT_THAT(put_thermistor(bench, shipped_parts(), "room", {recorded(0, 0), recorded(20, 20), recorded(40, 40)}, {})
                  .problem()
                  .wrong,
              HasSubstr("no thermistor"));
  EXPECT_FALSE(put_thermistor(bench, shipped_parts(), "substrate", {recorded(0, 0), recorded(20, 20)}, {}));
}

TEST(PutIn, AThermistorOfAnotherBetaGetsItsOwnCoefficients) {
  const Bench bench = demo_bench();
  const auto chain = uncorrected_chain(bench, shipped_parts(), "substrate");
  const auto index = [&](StageName name) {
    return static_cast<std::size_t>(chain->stage(name) - chain->stages.data());
  };
  const auto ohms_of = [](double celsius) { return 10e3 * std::exp(3800 * (1 / (celsius + 273.15) - 1 / 298.15)); };
  std::vector<RecordedPoint> points;
  for (const double truth : {2.0, 15.0, 25.0, 35.0, 48.0})
    points.push_back(
        recorded(truth, *evaluate(*chain, {StageName::sensor, ohms_of(truth)})[index(StageName::compensated)], 0.03));
  const auto put = put_thermistor(bench, shipped_parts(), "substrate", points, {"2026-11-24", ""});
  ASSERT_TRUE(put) << put.problem().wrong;
  EXPECT_NEAR(find_by_id(put->bench.devices, "block_thermistor")->settings.at("b"), 1 / 3800.0, 2e-6);
  const Chain fitted = demo_chain("substrate", put->bench);
  for (const double truth : {5.0, 20.0, 40.0}) {
    const auto values = evaluate(fitted, {StageName::sensor, ohms_of(truth)});
    EXPECT_NEAR(*values[static_cast<std::size_t>(fitted.stage(StageName::compensated) - fitted.stages.data())], truth,
                0.03);
  }
}

}  // namespace fair_gauge::calibration_test
