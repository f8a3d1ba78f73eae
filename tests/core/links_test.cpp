// Each link of a chain by itself, against numbers worked out by hand in the comment beside it.
#include <gmock/gmock.h>

#include <cmath>

#include "chain/digital_link.h"
#include "chain/links.h"
#include "demo.h"
#include "truth/calibration_fit.h"
#include "truth/error_budget.h"
#include "truth/model_choice.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::links_test {

using ::testing::HasSubstr;

const SharedVoltage rail{3.3, 0.02, "rail 3v3"};

TEST(DividerLink, IsOhmsLawBothWays) {
  struct Row {
    const char* what;
    DividerLink::Setup setup;
    double sensor_ohm, volts;
  };
  const Row rows[] = {
      {"below the fixed resistor: 3.3 · 10k / 20k", {rail, 10e3, 0.01, 0, Position::top}, 10e3, 1.65},
      {"above it: 3.3 · 10k / 15k", {rail, 10e3, 0.01, 0, Position::bottom}, 5e3, 2.2},
      {"leads of 10 ohms: 3.3 · 110 / 1110", {rail, 1000, 0.01, 0, Position::top, 10}, 100, 3.3 * 110 / 1110},
      {"leads of both: 3.3 · 110 / 1120", {rail, 1000, 0.01, 0, Position::top, 10, 10}, 100, 3.3 * 110 / 1120},
      // 10k beside a load of 40k are 8k: 3.3 · 8 / 18.
      {"loaded", {rail, 10e3, 0.01, 0, Position::top, 0, 0, 40e3}, 10e3, 3.3 * 8 / 18},
      // The fixed resistor below, with the load beside it: 3.3 · 8 / 13.
      {"loaded, above", {rail, 10e3, 0.01, 0, Position::bottom, 0, 0, 40e3}, 5e3, 3.3 * 8 / 13}};
  for (const Row& row : rows) {
    const DividerLink link(row.setup);
    EXPECT_NEAR(*link.forward(row.sensor_ohm), row.volts, 1e-12) << row.what;
    EXPECT_NEAR(*link.inverse(row.volts), row.sensor_ohm, 1e-6) << row.what;
    double block[] = {row.sensor_ohm};
    const std::vector<std::vector<double>> none(link.sources(row.sensor_ohm).size(), std::vector<double>(1, 0.0));
    const std::vector<Column> columns(none.begin(), none.end());
    link.forward_off_block(block, columns);
    EXPECT_NEAR(block[0], row.volts, 1e-12) << row.what;
    link.inverse_continuous_block(block);
    EXPECT_NEAR(block[0], row.sensor_ohm, 1e-6) << row.what;
  }
}

// 3.3 V through 100 + 10 + 1000 + 10 ohms are 2.946429 mA; times itself times 100 ohms.
TEST(DividerLink, HeatsItsSensorByItsCurrent) {
  for (const Position position : {Position::top, Position::bottom})
    EXPECT_NEAR(DividerLink({rail, 1000, 0.01, 0, position, 10, 10}).sensor_watts(100), 8.681441e-4, 1e-9);
}

TEST(GainLink, HasItsOffsetAndItsEnds) {
  const GainLink link({.gain = 11,
                       .offset_v = 0.5,
                       .lowest_v = 0.02,
                       .highest_v = 3.2,
                       .tolerances = {},
                       .input_symbol = "V",
                       .input_unit = "V",
                       .words = "eleven times"});
  EXPECT_NEAR(*link.forward(0.1), 1.6, 1e-12);
  EXPECT_NEAR(*link.inverse(1.6), 0.1, 1e-12);
  EXPECT_THAT(to_text(link.forward(0.3).problem()), HasSubstr("3.8 V is above what the front end can give"));
  EXPECT_THAT(to_text(link.forward(-0.05).problem()), HasSubstr("-0.05 V is below what the front end can give"));
  EXPECT_THAT(to_text(link.inverse(3.21).problem()), HasSubstr("it clips there"));
  EXPECT_TRUE(link.inverse(3.2));
  EXPECT_TRUE(link.inverse(0.02));
}

TEST(ReportLink, ShiftsOrFills) {
  Converter converter{.id = "adc", .bits = 12};
  converter.register_bits = 16;
  converter.justification = Justification::left;
  const ReportLink left(converter);
  EXPECT_EQ(*left.forward(4095), 65520);  // 4095 · 16
  EXPECT_EQ(left.inverse_continuous(65520), 4095);
  converter.justification = Justification::scaled;
  const ReportLink scaled(converter);
  EXPECT_EQ(*scaled.forward(4095), 65535);
  EXPECT_EQ(*scaled.forward(0), 0);
  EXPECT_EQ(*scaled.forward(2048), std::floor(2048 * 65535.0 / 4095));
  EXPECT_NEAR(scaled.inverse_continuous(65535), 4095, 1e-12);
  EXPECT_NEAR(scaled.inverse_continuous(32775), 32775 * 4095.0 / 65535, 1e-12);
}

// Four bits of mantissa and two of exponent: 16 places with exponent 0, then 8 for each further one; 6 bits in all.
TEST(FloatingLink, PlacesRiseAndTheRestDoesNotFit) {
  const FloatingLink link(4, 2);
  double before = -1;
  for (int place = 0; place < 16 + 3 * 8; ++place) {
    const double code = *link.forward(place);
    EXPECT_GT(code, before);
    before = code;
    EXPECT_EQ(*link.inverse(code), place);
  }
  EXPECT_EQ(before, 63);  // exponent 3, mantissa 15
  EXPECT_TRUE(link.inverse(63));
  EXPECT_THAT(to_text(link.inverse(64).problem()), HasSubstr("64 does not fit in 6 bits"));
  EXPECT_FALSE(link.inverse(-1));
  // 2 · 2³ is 1 · 2⁴: exponent 1 with mantissa 4 is the eighth place.
  EXPECT_EQ(*link.inverse(16 + 4), 8);
}

// 24 bits with both signs: all ones are −1, the top bit alone is the lowest code; a number below it is itself.
TEST(RawFromBytes, TheTopBitIsTheSign) {
  const Chain bridge = demo_chain("filter"), plain = demo_chain("substrate");
  EXPECT_EQ(raw_from_bytes(bridge, 0xFFFFFF), -1);
  EXPECT_EQ(raw_from_bytes(bridge, 0x800000), -8388608);
  EXPECT_EQ(raw_from_bytes(bridge, 0x7FFFFF), 8388607);
  EXPECT_EQ(raw_from_bytes(bridge, 5), 5);
  EXPECT_EQ(raw_from_bytes(plain, 4095), 4095);
}

// 0.3 K a year: within two years 0.6 K, within the year that is taken where none is said 0.3.
TEST(CorrectionLink, DriftsUntilTheNextCalibration) {
  Correction drifting;
  drifting.coefficients = {0.5};
  drifting.drift_per_year = 0.3;
  const auto drift = [&](double due_days) {
    return CorrectionLink(drifting, "K", {}, due_days).sources(20).back().width;
  };
  EXPECT_NEAR(drift(730), 0.6, 1e-12);
  EXPECT_NEAR(drift(73), 0.06, 1e-12);
  EXPECT_NEAR(drift(0), 0.3, 1e-12);
}

TEST(CorrectionLink, IsAddedOnTheWayIn) {
  Correction line;
  line.coefficients = {0.5, 0.01};
  line.origin = 20;  // 0.5 + 0.01 · (reading − 20)
  const CorrectionLink link(line, "°C");
  EXPECT_NEAR(*link.inverse(30), 30.6, 1e-12);
  EXPECT_NEAR(*link.forward(30.6), 30, 1e-9);
  line.coefficients = {0, -0.9};
  line.origin = 0;  // what was read in tenths: 100 − 90
  EXPECT_NEAR(*CorrectionLink(line, "°C").forward(10), 100, 1e-9);
  Correction table;
  table.table = {{0, 1}, {10, 2}, {20, 0}};
  const CorrectionLink by_table(table, "°C");
  EXPECT_NEAR(*by_table.inverse(5), 6.5, 1e-12);  // half-way from 1 to 2
  EXPECT_NEAR(*by_table.inverse(15), 16, 1e-12);  // half-way from 2 to 0
  EXPECT_NEAR(*by_table.forward(16), 15, 1e-6);
}

// 10 mV/°C with 0.5 V at 0 °C are 0.8 V at 30 °C; a resistor off by 1 %, 0.577 % standard, moves the gain by as much,
// of a non-inverting one only by the part of it above one: 0.8 · 0.00577 ÷ 0.01 = 0.4619 °C, times 2 ÷ 3 at a gain of
// three.
TEST(Amplifier, AResistorMovesItsGainAsItsKindHasIt) {
  const std::tuple<AmplifierKind, double, double> rows[] = {{AmplifierKind::non_inverting, 0, 0.4619 * 2 / 3},
                                                            {AmplifierKind::inverting, 3, 0.4619}};
  for (const auto& [kind, offset, expected] : rows) {
    Bench bench;
    bench.converters = {{.id = "adc", .bits = 16, .reference = {.nominal_v = 3.3}}};
    bench.devices = {{.id = "it", .part = "TMP36", .converter = "adc"}};
    FrontEnd& front_end = bench.devices[0].front_end;
    front_end.kind = FrontEndKind::amplifier;
    front_end.amplifier = kind;
    front_end.gain = 3;
    front_end.offset_v = offset;
    front_end.fixed_tolerance = 0.01;
    bench.channels = {{.id = "t", .device = "it", .wanted = {0, 50}}};
    const auto budget = error_budget(demo_chain("t", bench), 30);
    ASSERT_TRUE(budget);
    int lines = 0;
    for (const Contribution& line : budget->lines)
      if (line.name.find("resistor") != std::string::npos) {
        ++lines;
        EXPECT_NEAR(line.standard, expected, 0.003) << line.name;
      }
    EXPECT_EQ(lines, 2);
  }
}

// The covariance that a fit leaves stands where its coefficients stand: a gain has no offset in front of it.
TEST(CorrectionOf, KeepsTheCovarianceOfItsModel) {
  const std::vector<CalibrationPoint> points = {{10.1, 10, 0.05}, {20.2, 20, 0.05}, {29.7, 30, 0.05}, {40.5, 40, 0.05}};
  for (const FitModel model : {FitModel::gain, FitModel::line, FitModel::quadratic}) {
    const auto fit = fit_calibration(model, points);
    ASSERT_TRUE(fit);
    const Correction correction = correction_of(*fit, points, 0.05, "2026-11-24", "made up");
    const std::size_t n = fit->coefficients.size(), first = model == FitModel::gain ? 1 : 0;
    ASSERT_EQ(correction.covariance.size(), n + first);
    for (std::size_t i = 0; i < n; ++i)
      for (std::size_t j = 0; j < n; ++j)
        EXPECT_DOUBLE_EQ(correction.covariance[i + first][j + first],
                         fit->correlation[i][j] * fit->standard_uncertainties[i] * fit->standard_uncertainties[j]);
    if (first == 1) {
      EXPECT_EQ(correction.covariance[0][0], 0);
    }
  }
}

// A half-width of 3 is a standard deviation of 3 ÷ √3 flat and 3 ÷ √6 as a triangle.
TEST(MonteCarlo, DrawsEachDistributionAsWideAsItIs) {
  class Off final : public Link {
   public:
    explicit Off(Distribution distribution) : distribution_(distribution) {}
    Result<double> forward(double inner) const override { return inner; }
    Result<double> inverse(double outer) const override { return outer; }
    std::vector<Source> sources(double) const override { return {{"it", "", distribution_, 3, "°C"}}; }
    double forward_off(double inner, std::span<const double> off) const override {
      return off.empty() ? inner : inner + off[0];
    }
    double inverse_continuous(double outer) const override { return outer; }
    std::vector<TraceLine> explain(double, const NumberStyle&) const override { return {}; }

   private:
    Distribution distribution_;
  };
  const std::pair<Distribution, double> rows[] = {{Distribution::rectangular, 3 / std::sqrt(3.0)},
                                                  {Distribution::triangular, 3 / std::sqrt(6.0)},
                                                  {Distribution::normal, 3}};
  for (const auto& [distribution, expected] : rows) {
    Chain chain;
    chain.channel.wanted = {0, 50};
    chain.base = chain.shown = unit_by_ucum("Cel");
    Converter fine;
    fine.bits = 40;
    fine.noise_lsb = fine.inl_lsb = fine.offset_lsb = 0;
    fine.gain_error = 0;
    chain.links = {std::make_shared<UnitLink>(*chain.shown), std::make_shared<Off>(distribution)};
    chain.converter =
        std::make_shared<ConverterLink>(ConverterLink::Setup{.converter = fine, .reference = {100, 0, ""}});
    chain.links.push_back(chain.converter);
    chain.converter_node = chain.raw_node = 3;
    const auto spread = monte_carlo(chain, 25, 200'000, 5);
    ASSERT_TRUE(spread);
    EXPECT_NEAR(spread->standard, expected, 0.01 * expected);
    EXPECT_NEAR(error_budget(chain, 25)->combined, expected, 1e-3 * expected);
  }
}

TEST(MonteCarlo, SaysHowTheBudgetDiffers) {
  Budget budget;
  budget.combined = 1, budget.expanded = 2;
  MonteCarlo spread{.trials = 1'000'000, .standard = 1, .low = -2, .high = 2};
  EXPECT_EQ(budget_differs(budget, spread), "");
  spread.low = -1.7, spread.high = 1.7;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("narrower"));
  spread.low = -2.6, spread.high = 2.6;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("wider"));
  spread.low = -1, spread.high = 3;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("lopsided"));
  spread.without_reading = 2000;
  EXPECT_THAT(budget_differs(budget, spread), HasSubstr("no reading here"));
}

}  // namespace fair_gauge::links_test
