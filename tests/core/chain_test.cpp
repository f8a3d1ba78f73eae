// The chain solves both ways, and every number of it agrees with a calculation by hand.
#include "chain/chain.h"

#include <gmock/gmock.h>

#include <cmath>

#include "demo.h"

namespace fair_gauge::chain_test {

using testing::HasSubstr;

double value_of(const Chain& chain, const std::vector<StageValue>& values, StageName name) {
  const auto& value = values[static_cast<std::size_t>(chain.stage(name) - chain.stages.data())];
  return value ? *value : std::nan("");
}

TEST(Chain, CountsBecomeATemperatureAsCalculatedByHand) {
  // 2251 counts of 4096 at 3.3 V; 8k2 above a 10 kΩ thermistor of B 3950; correction −0.2 °C:
  //   V = 2251 · 3.3 / 4096 = 1.813550 V
  //   R = 8200 · 1.813550 / (3.3 − 1.813550) = 10 004.44 Ω
  //   t = 1 / (1/298.15 + ln(1.000444)/3950) − 273.15 = 24.98999 °C
  const Chain chain = demo_chain("substrate");
  const auto values = evaluate(chain, {StageName::converter, 2251});
  EXPECT_NEAR(value_of(chain, values, StageName::front_end), 1.813550, 1e-6);
  EXPECT_NEAR(value_of(chain, values, StageName::sensor), 10004.44, 0.5);
  EXPECT_NEAR(value_of(chain, values, StageName::compensated), 24.9900, 2e-4);
  EXPECT_NEAR(value_of(chain, values, StageName::shown), 24.7900, 2e-4);
}

TEST(Chain, ATypedWorldValueGivesTheCountsThatReadIt) {
  const Chain chain = demo_chain("substrate");
  for (double world = 1; world < 50; world += 3.7) {
    const auto values = evaluate(chain, {StageName::world, world});
    EXPECT_DOUBLE_EQ(value_of(chain, values, StageName::world), world);
    EXPECT_NEAR(value_of(chain, values, StageName::shown), world, step_at(chain, world) / 2 * 1.02) << world;
  }
}

TEST(Chain, AnyStageCanBeTheAnchor) {
  const Chain chain = demo_chain("substrate");
  const auto from_counts = evaluate(chain, {StageName::converter, 2000});
  for (const Stage& stage : chain.stages) {
    const double held = value_of(chain, from_counts, stage.name);
    const auto values = evaluate(chain, {stage.name, held});
    EXPECT_NEAR(value_of(chain, values, stage.name), held, 1e-9) << stage_title(stage.name);
    EXPECT_EQ(value_of(chain, values, StageName::converter), 2000) << stage_title(stage.name);
  }
}

TEST(Chain, EveryCodeRoundTripsInBothConventionsRoundingsAndJustifications) {
  Bench bench = demo_bench();
  for (const auto convention : {CodeConvention::steps, CodeConvention::codes})
    for (const auto rounding : {Rounding::nearest, Rounding::truncate})
      for (const auto justification : {Justification::right, Justification::left, Justification::scaled}) {
        Converter& converter = bench.converters.front();
        converter.convention = convention;
        converter.rounding = rounding;
        converter.justification = justification;
        converter.register_bits = 16;
        const Chain chain = demo_chain("substrate", bench);
        for (double code = 300; code < 3900; code += 7) {
          const double raw = justification == Justification::left     ? code * 16
                             : justification == Justification::scaled ? std::floor(code * 65535 / 4095)
                                                                      : code;
          const auto reading = read_raw(chain, raw);
          ASSERT_TRUE(reading);
          EXPECT_EQ(*raw_for(chain, *reading), raw);
        }
      }
}

TEST(Chain, TheTwoConventionsDifferByOnePartInTwoToTheN) {
  Bench bench = demo_bench();
  const double steps = *read_raw(demo_chain("spawn_fridge", bench), 700);
  bench.converters.front().convention = CodeConvention::codes;
  const double codes = *read_raw(demo_chain("spawn_fridge", bench), 700);
  // 700 · 3.3 · (1/4095 − 1/4096) V at 10 mV/°C
  EXPECT_NEAR(codes - steps, 700 * 3.3 * (1.0 / 4095 - 1.0 / 4096) / 0.01, 1e-9);
}

TEST(Chain, AMeasuredReferenceReplacesTheNominalOne) {
  Bench bench = demo_bench();
  bench.rails.front().voltage.measured_v = 3.234;
  EXPECT_NEAR(*read_raw(demo_chain("spawn_fridge", bench), 700), 700 * 3.234 / 4096 * 100 - 50, 1e-9);
}

TEST(Chain, TheEndsOfTheConverterAreRegionsNotNumbers) {
  const Chain chain = demo_chain("substrate");
  EXPECT_THAT(read_raw(chain, 4095).problem().wrong, HasSubstr("upper end"));
  EXPECT_THAT(read_raw(chain, 0).problem().wrong, HasSubstr("lower end"));
  EXPECT_THAT(read_raw(chain, 5000).problem().wrong, HasSubstr("no code of 12 bits"));
  EXPECT_THAT(read_raw(chain, 4094).problem().wrong, HasSubstr("open"));
  EXPECT_THAT(raw_for(chain, 400).problem().wrong, HasSubstr("above the part's limit"));
}

TEST(Chain, ADividerOnTheOtherSideMirrorsTheVoltage) {
  Bench bench = demo_bench();
  const auto above = evaluate(demo_chain("substrate", bench), {StageName::world, 20});
  bench.devices.front().front_end.position = Position::bottom;
  const Chain chain = demo_chain("substrate", bench);
  const auto below = evaluate(chain, {StageName::world, 20});
  EXPECT_NEAR(value_of(chain, above, StageName::front_end) + value_of(chain, below, StageName::front_end), 3.3, 1e-9);
}

TEST(Chain, AQuadraticCorrectionIsUndoneOnTheWayOut) {
  Bench bench = demo_bench();
  bench.channels.front().correction.coefficients = {0.3, -0.02, 0.0004};
  bench.channels.front().correction.origin = 25;
  const Chain chain = demo_chain("substrate", bench);
  const auto values = evaluate(chain, {StageName::world, 31});
  const double reading = *chain.links[chain.world_node]->forward(31);
  EXPECT_NEAR(reading + 0.3 - 0.02 * (reading - 25) + 0.0004 * (reading - 25) * (reading - 25), 31, 1e-9);
  EXPECT_NEAR(value_of(chain, values, StageName::corrected), 31, 0.03);
}

TEST(Chain, AShownUnitIsOneMoreStage) {
  Bench bench = demo_bench();
  bench.channels.front().unit = "[degF]";
  const Chain chain = demo_chain("substrate", bench);
  const auto values = evaluate(chain, {StageName::shown, 77});
  EXPECT_NEAR(value_of(chain, values, StageName::world), 25, 1e-9);
}

TEST(Chain, WhatCannotBeBuiltSaysWhy) {
  const auto why = [](auto change) {
    Bench bench = demo_bench();
    change(bench);
    const auto chain = build_chain(bench, shipped_parts(), "substrate");
    return chain ? std::string("built") : to_text(chain.problem());
  };
  EXPECT_THAT(why([](Bench& b) { b.devices.front().part = "unheard"; }), HasSubstr("no part \"unheard\""));
  EXPECT_THAT(why([](Bench& b) { b.devices.front().settings["beta"] = -1; }), HasSubstr("beta = -1 cannot be"));
  EXPECT_THAT(why([](Bench& b) { b.devices.front().settings["gamma"] = 1; }), HasSubstr("no setting \"gamma\""));
  EXPECT_THAT(why([](Bench& b) { b.devices.front().front_end.kind = FrontEndKind::direct; }),
              HasSubstr("a converter cannot see it"));
  EXPECT_THAT(why([](Bench& b) {
                b.devices.front().part = "TEMT6000", b.devices.front().settings.clear(),
                b.channels.front().quantity = Quantity::illuminance, b.channels.front().unit = "lx";
              }),
              HasSubstr("gives a current"));
  EXPECT_THAT(why([](Bench& b) { b.devices.front().front_end.rail = "5v"; }), HasSubstr("fed by no rail"));
  EXPECT_THAT(why([](Bench& b) { b.channels.front().unit = "lx"; }), HasSubstr("no unit of temperature"));
  EXPECT_THAT(why([](Bench& b) { b.devices.clear(); }), HasSubstr("no device"));
  EXPECT_THAT(why([](Bench& b) { b.channels.clear(); }), HasSubstr("no channel"));
}

TEST(Chain, TheArithmeticIsShownWithItsNumbers) {
  const auto traces = explain(demo_chain("substrate"), 2251);
  ASSERT_EQ(traces.size(), 4u);
  EXPECT_EQ(traces[0].lines[0].expression, "2251 × 3.300 V ÷ 4096");
  EXPECT_EQ(traces[0].lines[0].result, "1.8135 V");
  EXPECT_THAT(traces[1].lines[0].expression, HasSubstr("8.2 kΩ × 1.8135 V ÷ (3.300 V − 1.8135 V)"));
  EXPECT_EQ(traces[3].stage, StageName::corrected);
}

TEST(SecondUnit, HasAsManyDigitsAsTheFirst) {
  const auto more = [](const char* shown, const char* also) {
    return more_decimals(*unit_by_ucum(shown), *unit_by_ucum(also));
  };
  EXPECT_EQ(more("Cel", "[degF]"), 0);     // 0.1 °C are 0.18 °F
  EXPECT_EQ(more("[degF]", "Cel"), 1);     // 0.1 °F are 0.056 °C
  EXPECT_EQ(more("hPa", "[in_i'Hg]"), 2);  // 0.1 hPa are 0.003 inHg
  EXPECT_EQ(more("Pa", "hPa"), 2);
  EXPECT_EQ(more("hPa", "Pa"), -2);
}

TEST(SecondUnit, IsOneOfTheQuantity) {
  Bench bench = demo_bench();
  bench.channels.front().also_unit = "[degF]";
  EXPECT_EQ(demo_chain("substrate", bench).also->ucum, "[degF]");
  bench.channels.front().also_unit = "hPa";
  const auto chain = build_chain(bench, shipped_parts(), "substrate");
  ASSERT_FALSE(chain);
  EXPECT_THAT(to_text(chain.problem()), testing::HasSubstr("no unit of temperature"));
}

// What a fitted curve leaves, away from where it was fitted: 0.01 + 2·10·0.002 + 10²·0.0004 = 0.09.
TEST(CorrectionLink, TheFitsUncertaintyGrowsWithTheDistanceFromItsOrigin) {
  Correction correction;
  correction.coefficients = {0.2, 0.01};
  correction.covariance = {{0.01, 0.002}, {0.002, 0.0004}};
  correction.origin = 20;
  const CorrectionLink link(correction, "K");
  EXPECT_NEAR(link.sources(30.3).front().standard(), 0.3, 1e-9);  // 30.3 is what 30 is corrected to
  EXPECT_NEAR(link.sources(20.2).front().standard(), 0.1, 1e-9);
}

// The converter sees the fixed resistor and the sensor in parallel, most where the sensor has most: 10 kΩ, B 3950 at
// the cold end of what is wanted.
TEST(Divider, ItsSourceIsWhatTheConverterSeesAtTheColdEnd) {
  const Chain chain = demo_chain("substrate");
  const double cold = chain.channel.wanted.from + 273.15;
  const double ohms = 10'000 * std::exp(3950 * (1 / cold - 1 / 298.15));
  EXPECT_NEAR(chain.highest_source_ohm, 8200 * ohms / (8200 + ohms), 1);
}

// A formula of several quantities goes on after the one that is asked for: what is shown ends with its reading.
TEST(Chain, TheLastLineOfADigitalStageIsItsReading) {
  for (const char* id : {"room", "room_humidity", "room_pressure", "rack", "grow_light"}) {
    const Chain chain = demo_chain(id);
    const auto raw = raw_for(chain, (chain.channel.wanted.from + chain.channel.wanted.to) / 2);
    ASSERT_TRUE(raw) << id;
    double last = std::nan("");
    for (const StageTrace& trace : explain(chain, *raw))
      if (trace.stage != StageName::corrected && !trace.lines.empty() && std::isfinite(trace.lines.back().value))
        last = trace.lines.back().value;
    if (chain.channel.quantity == Quantity::pressure) last *= 100;  // the sheet's formula ends with hPa
    EXPECT_NEAR(last, *read_raw(chain, *raw), std::abs(last) * 1e-3 + 0.5) << id;
  }
}

}  // namespace fair_gauge::chain_test
