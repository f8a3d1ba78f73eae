// Thermocouples, tables, typed curves, and everything between a sensor and the converter's pin.
#include <gmock/gmock.h>

#include <cmath>

#include "demo.h"
#include "formulas/thermocouple.h"
#include "parts/expression.h"
#include "truth/error_budget.h"

namespace fair_gauge::front_end_test {

using testing::HasSubstr;

TEST(Thermocouple, MeetsThePublishedTables) {
  struct Point {
    char letter;
    double celsius, millivolts;
  };
  // IEC 60584-1, tables of all eight types, to their last printed digit
  for (const auto& [letter, celsius, millivolts] :
       {Point{'K', 100, 4.096}, {'K', 1000, 41.276}, {'K', -200, -5.891}, {'K', -270, -6.458}, {'K', 1372, 54.886},
        {'J', -210, -8.095},    {'J', 760, 42.919},  {'J', 1200, 69.553}, {'T', -270, -6.258}, {'T', -100, -3.379},
        {'T', 400, 20.872},     {'E', -270, -9.835}, {'E', 100, 6.319},   {'E', 1000, 76.373}, {'N', -270, -4.345},
        {'N', 100, 2.774},      {'N', 1300, 47.513}, {'R', 100, 0.647},   {'R', 1500, 17.451}, {'R', 1768, 21.101},
        {'S', -50, -0.236},     {'S', 1000, 9.587},  {'S', 1768, 18.693}, {'B', 100, 0.033},   {'B', 1000, 4.834},
        {'B', 1820, 13.820}})
    EXPECT_NEAR(1000 * formulas::thermocouple_volts(letter, celsius), millivolts, 0.00051)
        << letter << " at " << celsius;
}

TEST(Thermocouple, ReturnsWhatWentInOverTheWholeRange) {
  for (const char letter : std::string("BEJKNRST")) {
    const auto range = *formulas::thermocouple_range(letter);
    for (int i = 0; i <= 400; ++i) {
      const double celsius = range.lowest_invertible + (range.highest - range.lowest_invertible) * i / 400;
      const double cold = letter == 'B' ? 100 : 23.7;
      EXPECT_NEAR(
          formulas::thermocouple_celsius(
              letter, formulas::thermocouple_volts(letter, celsius) - formulas::thermocouple_volts(letter, cold), cold),
          celsius, 1e-4)
          << letter;
    }
    EXPECT_TRUE(std::isnan(formulas::thermocouple_celsius(letter, 0.2, 0)));
    EXPECT_TRUE(std::isnan(formulas::thermocouple_volts(letter, 5000)));
  }
  EXPECT_TRUE(std::isnan(formulas::thermocouple_celsius('B', -1e-6, 0))) << "below 42 °C type B has two temperatures";
  EXPECT_FALSE(formulas::thermocouple_range('X'));
}

TEST(Table, PulseCountFollowsItsSheet) {
  const auto law = *transfer_law(*shipped_parts().find("LMT01"), {});
  // The sheet's table: 26 pulses at −50 °C, 808 at 0 °C, 3218 at 150 °C; the simple equation would give −48.4 °C
  // for 26.
  EXPECT_EQ(law.output(-50), 26);
  EXPECT_EQ(law.output(0), 808);
  EXPECT_EQ(law.output(150), 3218);
  EXPECT_NEAR(law.quantity(26), -50, 1e-9);
  EXPECT_NEAR(26.0 / 4096 * 256 - 50, -48.375, 1e-9);
}

TEST(Table, InterpolatesTheLogarithmOfAThermistor) {
  const auto law = *transfer_law(*shipped_parts().find("ntc-10k-3380-table"), {});
  EXPECT_NEAR(law.output(25), 10000, 1e-6);
  EXPECT_NEAR(law.output(22.5), std::sqrt(12081.0 * 10000), 0.1);  // the middle in ln R
  EXPECT_NEAR(law.quantity(27219), 0, 1e-9);
}

// By hand from the table's own rows: 1 % of R25 is ln 1.01 = 0.009950 everywhere, 1 % of B · (1/T − 1/298.15 K) with B
// 3950 K is 0.012126 at 0 °C, −0.022195 at 85 °C. Divided by the slope beside them, ln(41505/32014)/5 = 0.051923 below
// 0 °C, ln(1290/1100)/5 = 0.031866 below and ln(1100/942)/5 = 0.031015 above 85 °C.
TEST(Table, OfAThermistorTakesItsErrorFromResistanceAndBeta) {
  const Part& part = *shipped_parts().find("B57891S0103");
  const auto law = *transfer_law(part, {});
  EXPECT_NEAR(law.output(85), 1100, 1e-9);
  const auto reads = [&](const char* number, double value, double celsius) {
    return law.quantity(transfer_law(part, {{number, value}})->output(celsius)) - celsius;
  };
  EXPECT_NEAR(reads("r25", 10'100, 0), -0.009950 / 0.051923, 1e-4);
  EXPECT_NEAR(reads("beta", 3989.5, 0), -0.012126 / 0.051923, 1e-4);
  EXPECT_NEAR(reads("r25", 10'100, 85), -0.009950 / 0.031866, 1e-4);
  EXPECT_NEAR(reads("beta", 3989.5, 85), 0.022195 / 0.031015, 1e-4);
  EXPECT_NEAR(reads("beta", 3989.5, 25), 0, 1e-9) << "a table is tilted about 25 °C";
  const auto turned = transfer_law(part, {{"beta", 1}});
  ASSERT_FALSE(turned) << "all of its slope is taken away";
  EXPECT_THAT(turned.problem().wrong, HasSubstr("turns back"));
}

TEST(Table, IsOfASpecimenOnlyWhereItSaysOfWhich) {
  Part part = *shipped_parts().find("B57891S0103");
  part.transfer.numbers = {{"logarithmic", 1}};
  const auto none = transfer_law(part, {{"r25", 9'900}});
  ASSERT_FALSE(none);
  EXPECT_THAT(none.problem().wrong, HasSubstr("lacks the number \"r25\""));
  part.transfer.numbers["r25"] = 10'000;
  const auto half = transfer_law(part, {});
  ASSERT_FALSE(half);
  EXPECT_THAT(half.problem().wrong, HasSubstr("lacks the number \"beta\""));
  part.transfer.numbers["beta"] = 3950;
  EXPECT_NEAR(transfer_law(part, {{"r25", 9'900}})->output(25), 9'900, 1e-9);
}

TEST(Table, ThatTurnsBackIsRefused) {
  Part part = *shipped_parts().find("LMT01");
  part.transfer.table = {{0, 1}, {10, 5}, {20, 4}};
  EXPECT_THAT(to_text(transfer_law(part, {}).problem()), HasSubstr("row 3"));
  part.transfer.table = {{0, 1}};
  EXPECT_FALSE(transfer_law(part, {}));
}

TEST(TypedCurve, IsReadComputedAndSolved) {
  Part part = *shipped_parts().find("linear-voltage");
  part.quantities.front() = {.quantity = Quantity::temperature, .minimum = 0, .maximum = 100};
  part.transfer = {.type = "expression", .numbers = {{"a", 0.02}}, .expression = "0,5 + a × x − 2e-5*x^2"};
  const auto law = transfer_law(part, {});
  ASSERT_TRUE(law) << to_text(law.problem());
  EXPECT_NEAR(law->output(50), 0.5 + 1.0 - 0.05, 1e-12);
  EXPECT_NEAR(law->quantity(1.45), 50, 1e-9);
  EXPECT_TRUE(std::isnan(law->quantity(99)));
  for (const char* wrong : {"", "0.5 + ", "y * 2", "sin(", "1 2"}) EXPECT_FALSE(Expression::read(wrong)) << wrong;
}

TEST(AnalogHumidity, KnowsTheAirsTemperature) {
  // By hand: at 10 °C a true 50 % appears as 50·(1.0546 − 0.0216) = 51.65 %; V = 5·(0.0062·51.65 + 0.16) = 2.40115 V
  const auto law = *transfer_law(*shipped_parts().find("HIH-4030"), {{"temperature", 10}});
  EXPECT_NEAR(law.output(50), 2.40115, 1e-9);
  EXPECT_NEAR(law.quantity(2.40115), 50, 1e-9);
}

// The demonstration bench with one device's front end and part changed.
Chain with_front_end(const char* part, const FrontEnd& front_end, const std::function<void(Bench&)>& more = {},
                     const SideValues& beside = {}) {
  Bench bench = demo_bench();
  Device& device = *find_by_id(bench.devices, "fridge_probe");
  device.part = part;
  device.front_end = front_end;
  Channel& channel = *find_by_id(bench.channels, "spawn_fridge");
  channel.quantity = shipped_parts().find(part)->quantities.front().quantity;
  channel.unit = base_unit(channel.quantity).ucum;
  if (more) more(bench);
  const auto chain = build_chain(bench, shipped_parts(), "spawn_fridge", beside);
  EXPECT_TRUE(chain) << (chain ? "" : to_text(chain.problem()));
  return *chain;
}

void expect_round_trip(const Chain& chain, double world) {
  const auto raw = raw_for(chain, world);
  ASSERT_TRUE(raw) << to_text(raw.problem());
  const auto reading = read_raw(chain, *raw);
  ASSERT_TRUE(reading) << to_text(reading.problem());
  EXPECT_NEAR(*reading, world, 0.51 * step_at(chain, world));
}

TEST(FrontEnds, EachKindReturnsWhatWentIn) {
  expect_round_trip(with_front_end("TEMT6000", {.kind = FrontEndKind::load, .fixed_ohm = 10e3}), 300);
  expect_round_trip(with_front_end("photodiode", {.kind = FrontEndKind::transimpedance, .fixed_ohm = 100e3}), 1000);
  expect_round_trip(
      with_front_end("pressure-gauge-5v", {.kind = FrontEndKind::level_divider, .top_ohm = 4700, .bottom_ohm = 9100}),
      400e3);
  expect_round_trip(with_front_end("thermocouple-k", {.kind = FrontEndKind::amplifier, .gain = 100}), 300);
  expect_round_trip(
      with_front_end(
          "LM35", {.kind = FrontEndKind::amplifier, .amplifier = AmplifierKind::inverting, .gain = 2, .offset_v = 2}),
      30);
  expect_round_trip(
      with_front_end("Pt1000",
                     {.kind = FrontEndKind::divider, .fixed_ohm = 1000, .rail = "3v3", .wires = 2, .lead_ohm = 1.5}),
      60);
}

TEST(FrontEnds, OutputsByHand) {
  // TEMT6000: 0.5 µA/lx · 300 lx · 10 kΩ = 1.5 V → code 1862 of 3.3 V and 12 bits
  EXPECT_EQ(*raw_for(with_front_end("TEMT6000", {.kind = FrontEndKind::load, .fixed_ohm = 10e3}), 300),
            std::round(1.5 / 3.3 * 4096));
  // 400 kPa → 2.0 V → · 9.1/13.8 = 1.3188 V; a pin of 10 kΩ lies beside the 9.1 kΩ: 4.764/(4.7 + 4.764) · 2 V = 1.00674
  // V
  const FrontEnd divider{.kind = FrontEndKind::level_divider, .top_ohm = 4700, .bottom_ohm = 9100};
  EXPECT_EQ(*raw_for(with_front_end("pressure-gauge-5v", divider), 400e3), std::round(2.0 * 9.1 / 13.8 / 3.3 * 4096));
  EXPECT_EQ(
      *raw_for(with_front_end("pressure-gauge-5v", divider, [](Bench& bench) { bench.converters[0].input_ohm = 10e3; }),
               400e3),
      std::round(1.006741 / 3.3 * 4096));
}

TEST(FrontEnds, AnAmplifiersLimitsAreNamed) {
  const Chain chain =
      with_front_end("LM35", {.kind = FrontEndKind::amplifier, .gain = 10, .lowest_v = 0.05, .highest_v = 3.0});
  EXPECT_THAT(to_text(raw_for(chain, 40).problem()), HasSubstr("above what the front end can give"));
  EXPECT_THAT(to_text(read_raw(chain, 4000).problem()), HasSubstr("it clips there"));
}

TEST(FrontEnds, ThatDoNotFitAreRefused) {
  for (const auto& [part, kind] : {std::pair{"LM35", FrontEndKind::load},
                                   {"TEMT6000", FrontEndKind::direct},
                                   {"ntc-beta", FrontEndKind::amplifier},
                                   {"LMT01", FrontEndKind::divider}}) {
    Bench bench = demo_bench();
    Device& device = *find_by_id(bench.devices, "fridge_probe");
    device.part = part;
    device.front_end.kind = kind;
    find_by_id(bench.channels, "spawn_fridge")->quantity = shipped_parts().find(part)->quantities.front().quantity;
    find_by_id(bench.channels, "spawn_fridge")->unit = std::string(part) == "TEMT6000" ? "lx" : "Cel";
    EXPECT_FALSE(build_chain(bench, shipped_parts(), "spawn_fridge")) << part;
  }
}

TEST(Thermocouple, TakesItsColdJunctionFromAnotherChannel) {
  const FrontEnd amplifier{.kind = FrontEndKind::amplifier, .gain = 100};
  const auto side = [](Bench& bench) {
    find_by_id(bench.devices, "fridge_probe")->side_inputs = {{"cold_junction", "board"}};
  };
  const Chain cold = with_front_end("thermocouple-k", amplifier, side),
              warm = with_front_end("thermocouple-k", amplifier, side, {{"board", 25.0}});
  const double raw = *raw_for(cold, 300);
  // E(300 °C) = 12.209 mV; with the junction at 25 °C (1.000 mV) the same volts mean 13.209 mV: table 320 °C 13.040,
  // 330 °C 13.457 mV
  EXPECT_NEAR(*read_raw(warm, raw), 324.05, step_at(warm, 324));
  EXPECT_EQ(warm.side_channels, std::vector<std::string>{"board"});
  const auto budget = error_budget(warm, 300);
  // What the die sensor's own channel may be off by is what the cold junction may be off by: at 300 °C 41.5 µV/K, at
  // 25 °C 40.5 µV/K by the tables, so that a kelvin there is 0.976 K here.
  const auto board = error_budget(demo_chain("board"), 25);
  double squares = 0;
  for (const Contribution& line : budget->lines)
    if (line.name.starts_with("cold junction")) squares += line.standard * line.standard;
  EXPECT_NEAR(std::sqrt(squares) / board->combined, 40.5 / 41.5, 0.02);
}

TEST(Converter, SignedAndDifferential) {
  const auto bridge = [](Bench& bench) {
    Converter& converter = bench.converters[0];
    converter.bits = 24, converter.polarity = Polarity::bipolar, converter.span_per_reference = 0.5,
    converter.gain = 128;
    find_by_id(bench.devices, "fridge_probe")->settings = {{"mv_per_v", 5}, {"full_scale", 2500}};
  };
  const Chain chain = with_front_end("bridge-2k5-differential", {.rail = "3v3"}, bridge);
  // ±0.5 · 3.3 V ÷ 128 = ±12.89 mV over 2^23 codes; 50 Pa → 5 mV/V · 3.3 V · 50/2500 = 0.33 mV → 214 748
  EXPECT_NEAR(*raw_for(chain, 50), 0.33e-3 / (0.5 * 3.3 / 128) * 8388608, 1);
  EXPECT_NEAR(*raw_for(chain, -50), -*raw_for(chain, 50), 1);
  expect_round_trip(chain, -30);
  EXPECT_TRUE(read_raw(chain, 0)) << "zero is a reading of a converter with both signs";
  EXPECT_FALSE(read_raw(chain, -8388608));
}

TEST(Ratiometric, ASharedReferenceCancels) {
  const auto supply_share = [](const char* rail) {
    const Chain chain =
        with_front_end("ratiometric-temperature",
                       {.kind = FrontEndKind::level_divider, .rail = rail, .top_ohm = 1e3, .bottom_ohm = 10e3});
    double share = 0;
    const Budget budget = *error_budget(chain, 10);
    for (const Contribution& line : budget.lines)
      if (line.name.find("supply") != std::string::npos || line.name.find("reference") != std::string::npos)
        share += line.standard;
    return share;
  };
  EXPECT_NEAR(supply_share("3v3"), 0, 1e-3) << "sensor and converter hang on one rail";
  EXPECT_GT(supply_share(""), 0.1);
}

TEST(HalfReferencePin, DoublesTheSpan) {
  const Chain chain = with_front_end("LM35", {}, [](Bench& bench) {
    bench.converters[0].bits = 8;
    bench.converters[0].reference_rail.clear();
    bench.converters[0].reference.nominal_v = 0.64;
    bench.converters[0].span_per_reference = 2;
  });
  EXPECT_EQ(*raw_for(chain, 25), 50);  // 250 mV ÷ (1.28 V ÷ 256) = 50: one count is 0.5 °C
}

TEST(Settling, OfAWeakSourceIsInTheBudget) {
  const auto share = [](double ohm, double acquisition_s = 1e-6) {
    const Chain chain = with_front_end("LM35", {.filter_ohm = ohm}, [&](Bench& bench) {
      bench.converters[0].sample_farad = 14e-12, bench.converters[0].acquisition_s = acquisition_s;
    });
    const Budget budget = *error_budget(chain, 10);
    for (const Contribution& line : budget.lines)
      if (line.name == "settling of the sampled input") return line.standard;
    return 0.0;
  };
  EXPECT_LT(share(1e3), 1e-12);
  EXPECT_GT(share(50e3), 0.01);
  EXPECT_EQ(share(50e3, 0), 0) << "how long it samples is not known";
}

// 10 kΩ of a filter before 90 kΩ of the pin leave nine tenths.
TEST(PinLoad, AFilterLosesVoltageByIt) {
  const auto code = [](double load_ohm) {
    return *raw_for(
        with_front_end("LM35", {.filter_ohm = 10e3}, [&](Bench& bench) { bench.converters[0].input_ohm = load_ohm; }),
        30);
  };
  EXPECT_NEAR(code(90e3), 0.9 * code(0), 1);
}

TEST(OpenAndShort, AreNamedFromTheCounts) {
  const Chain chain = demo_chain("substrate");
  EXPECT_THAT(to_text(read_raw(chain, 4095).problem()), HasSubstr("open"));
  EXPECT_THAT(to_text(read_raw(chain, 0).problem()), HasSubstr("short"));
  EXPECT_THAT(to_text(read_raw(chain, 4094).problem()), HasSubstr("it is open, or its lead is broken"));
  EXPECT_THAT(to_text(read_raw(chain, 3).problem()), HasSubstr("it is short"));
}

}  // namespace fair_gauge::front_end_test
