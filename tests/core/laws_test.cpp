// The laws of sensors as plain values. Numbers of standards and of sums by hand, stated beside them.
#include "chain/laws.h"

#include <gmock/gmock.h>

#include <cmath>

#include "chain/transfer_law.h"
#include "demo.h"

namespace fair_gauge::laws_test {

TEST(Laws, ResistancesAreThoseOfStandardsAndSums) {
  // 10000 · exp(3950 · (1/323.15 − 1/298.15)) = 10000 · exp(−1.02496) = 3588.0
  const BetaLaw beta{.r25 = 10e3, .beta = 3950};
  EXPECT_NEAR(beta.output(50), 3588.0, 0.5);
  EXPECT_NEAR(beta.quantity(10e3), 25, 1e-9);
  EXPECT_TRUE(std::isnan(beta.quantity(0)));
  EXPECT_TRUE(std::isnan(beta.quantity(-5)));
  // IEC 60751: 138.5055 Ω at 100 °C, 60.2558 Ω at −100 °C.
  const PlatinumLaw platinum{.r0 = 100};
  EXPECT_NEAR(platinum.output(100), 138.5055, 1e-4);
  EXPECT_NEAR(platinum.quantity(60.2558), -100, 1e-3);
  // 1 / (1.129241e-3 + 2.341077e-4 · 9.210340 + 8.775468e-8 · 781.315) = 298.15 of a usual 10 kΩ glass bead
  const SteinhartLaw steinhart{.a = 1.129241e-3, .b = 2.341077e-4, .c = 8.775468e-8};
  EXPECT_NEAR(steinhart.quantity(10e3), 25, 0.02);
  EXPECT_NEAR(steinhart.output(25), 10e3, 10);
  // 20 kΩ at 10 lx with γ 0.7: at 100 lx 20 · 10^−0.7 = 3.9905 kΩ
  const LightResistorLaw light{.r10 = 20e3, .gamma = 0.7};
  EXPECT_NEAR(light.output(100), 3990.5, 0.1);
  EXPECT_NEAR(light.quantity(20e3), 10, 1e-9);
  EXPECT_TRUE(std::isnan(light.quantity(0)));
}

TEST(Laws, VoltagesAndCurrentsAreThoseOfSums) {
  EXPECT_DOUBLE_EQ((LineLaw{.slope = 0.01, .offset = 0.5}).output(25), 0.75);
  EXPECT_DOUBLE_EQ((LineLaw{.slope = 0.01, .offset = 0.5}).quantity(0.25), -25);
  // 5 V · (0.009 · 50 + 0.095) = 2.725 V
  EXPECT_DOUBLE_EQ((RatiometricLaw{.slope = 0.009, .offset = 0.095, .supply = 5}).output(50), 2.725);
  EXPECT_NEAR((RatiometricLaw{.slope = 0.009, .offset = 0.095, .supply = 5}).quantity(2.725), 50, 1e-12);
  // 2.4 + 0.01 · 5 + 0.0001 · 25 = 2.4525
  const QuadraticLaw bent{.centre = 30, .c0 = 2.4, .c1 = 0.01, .c2 = 1e-4};
  EXPECT_DOUBLE_EQ(bent.output(35), 2.4525);
  EXPECT_NEAR(bent.quantity(2.4525), 35, 1e-9);
  EXPECT_TRUE(std::isnan(bent.quantity(2.1)));  // below its lowest point, 2.4 − 0.25
  EXPECT_DOUBLE_EQ((QuadraticLaw{.centre = 30, .c0 = 2.4, .c1 = 0.01, .c2 = 0}).quantity(2.45), 35);
  EXPECT_DOUBLE_EQ((PhotocurrentLaw{.amps_per_lux = 2e-7}).output(500), 1e-4);
  EXPECT_DOUBLE_EQ((PhotocurrentLaw{.amps_per_lux = 2e-7}).quantity(1e-4), 500);
  // 3 mV/V at 4 V is 12 mV at the full 60 kPa: 20 kPa are 4 mV
  const BridgeLaw bridge{.volts_per_volt = 3e-3, .excitation = 4, .full_scale = 60e3};
  EXPECT_NEAR(bridge.output(20e3), 4e-3, 1e-15);
  EXPECT_NEAR(bridge.quantity(12e-3), 60e3, 1e-9);
}

TEST(Laws, ALoopHasALiveZeroAndSaysNothingOutsideIt) {
  const LoopLaw loop{.low = -20, .high = 80, .shunt = 250};
  EXPECT_NEAR(loop.output(-20), 1, 1e-12);  // 4 mA
  EXPECT_NEAR(loop.output(80), 5, 1e-12);   // 20 mA
  EXPECT_NEAR(loop.quantity(3), 30, 1e-12);
  EXPECT_NEAR(loop.quantity(0.9025), -22.4375, 1e-9);  // 3.61 mA
  EXPECT_TRUE(std::isnan(loop.quantity(0.8975)));      // 3.59 mA
  EXPECT_NEAR(loop.quantity(5.2475), 86.1875, 1e-9);   // 20.99 mA
  EXPECT_TRUE(std::isnan(loop.quantity(5.2525)));      // 21.01 mA
}

TEST(Laws, AColdJunctionIsAddedAsAVoltage) {
  // IEC 60584-1, type K: 4.096 mV at 100 °C, 1.000 mV at 25 °C, 1.203 mV at 30 °C
  const ThermocoupleLaw pair{.letter = 'K', .cold = 25};
  EXPECT_NEAR(pair.output(100), 3.096e-3, 1e-6);
  EXPECT_NEAR(pair.output_beside(100, 30), 2.893e-3, 1e-6);
  EXPECT_NEAR(pair.quantity(3.096e-3), 100, 0.03);
}

TEST(Laws, HumidityLeansOnTheAirsTemperature) {
  // 5 V · (0.0062 · 60 · (1.0546 − 0.00216 · 40) + 0.16) = 5 · (0.372 · 0.9682 + 0.16) = 2.600852 V
  const HumidityRatioLaw law{
      .slope = 0.0062, .offset = 0.16, .supply = 5, .t0 = 1.0546, .t1 = -0.00216, .temperature = 40};
  EXPECT_NEAR(law.output(60), 2.600852, 1e-9);
  EXPECT_NEAR(law.quantity(2.600852), 60, 1e-9);
  HumidityRatioLaw plain = law;
  plain.temperature = std::nan("");
  EXPECT_NEAR(plain.output(60), 2.66, 1e-12);  // 5 · (0.372 + 0.16)
  EXPECT_FALSE(plain.knows_temperature());
}

TEST(Laws, ATableGoesOnBeyondItsEnds) {
  const TableLaw table{.rows = {{0, 10}, {10, 30}, {30, 40}}, .logarithmic = false};
  EXPECT_DOUBLE_EQ(table.output(5), 20);
  EXPECT_DOUBLE_EQ(table.output(20), 35);
  EXPECT_DOUBLE_EQ(table.output(-5), 0);
  EXPECT_DOUBLE_EQ(table.output(50), 50);
  EXPECT_DOUBLE_EQ(table.quantity(35), 20);
  const TableLaw falling{.rows = {{0, 40}, {20, 20}, {40, 10}}, .logarithmic = false};
  EXPECT_DOUBLE_EQ(falling.quantity(15), 30);
  EXPECT_DOUBLE_EQ(falling.quantity(30), 10);
  // Between 100 and 10 000 half-way in the logarithm is 1 000.
  const TableLaw wide{.rows = {{0, std::log(100.0)}, {10, std::log(10e3)}}, .logarithmic = true};
  EXPECT_NEAR(wide.output(5), 1000, 1e-9);
  EXPECT_NEAR(wide.quantity(1000), 5, 1e-12);
  EXPECT_TRUE(std::isnan(wide.quantity(0)));
}

TEST(Laws, ATypedCurveIsSolvedWithinItsRange) {
  const CurveLaw square{.curve = *Expression::read("x*x"), .text = "x*x", .low = 0, .high = 10};
  EXPECT_DOUBLE_EQ(square.output(3), 9);
  EXPECT_NEAR(square.quantity(25), 5, 1e-9);
  EXPECT_DOUBLE_EQ(square.quantity(0), 0);
  EXPECT_DOUBLE_EQ(square.quantity(100), 10);
  EXPECT_TRUE(std::isnan(square.quantity(101)));
  EXPECT_TRUE(std::isnan(square.quantity(-1)));
}

// What a law writes as steps of an expression is what it computes, for every part at five places of its range.
TEST(TransferLaw, ItsFormulaIsItsInverse) {
  int compared = 0;
  for (const Part& part : shipped_parts().parts()) {
    if (part.is_digital()) continue;
    const auto law = transfer_law(part, {});
    if (!law) continue;
    EXPECT_EQ(law->measures, part.quantities.front().quantity);
    const auto steps = law->formula();
    const PartQuantity& range = part.quantities.front();
    for (const double share : {0.05, 0.3, 0.5, 0.8, 0.95}) {
      const double world = range.minimum + share * (range.maximum - range.minimum), output = law->output(world);
      if (std::isfinite(law->quantity(output))) {
        EXPECT_NEAR(law->quantity(output), world, 1e-6 * (1 + std::abs(world))) << part.id;
      }
      if (steps.empty()) continue;
      std::map<std::string, double> values{{"x", output}};
      for (const auto& [symbol, expression] : steps) {
        std::map<std::string, double*> names;
        for (auto& [name, value] : values) names[name] = &value;
        const auto step = Expression::read(expression, names);
        ASSERT_TRUE(step) << part.id << ": " << expression;
        const double value = step->value();
        values[symbol] = value;
      }
      // Five rounds of the platinum curve below 0 °C stop within 0.2 mK of its root.
      EXPECT_NEAR(values.at(steps.back().first), world, 3e-4 + 1e-9 * std::abs(world)) << part.id;
      ++compared;
    }
  }
  EXPECT_GT(compared, 100);
}

TEST(TransferLaw, OnlySomeHaveASecondQuantity) {
  const auto pair = transfer_law(*shipped_parts().find("Type K"), {{"cold_junction", 20}});
  ASSERT_TRUE(pair && pair->side);
  EXPECT_EQ(pair->side->key, "cold_junction");
  EXPECT_DOUBLE_EQ(pair->side->value, 20);
  EXPECT_NEAR(pair->output_beside(100, 25), 3.096e-3, 1e-6);
  const auto line = transfer_law(*shipped_parts().find("TMP36"), {});
  ASSERT_TRUE(line);
  EXPECT_FALSE(line->side);
  EXPECT_DOUBLE_EQ(line->output_beside(25, 99), line->output(25));
}

}  // namespace fair_gauge::laws_test
