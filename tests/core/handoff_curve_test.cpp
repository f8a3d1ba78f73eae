// Chains that bend and those in which two numbers meet, in every form that they can be handed over in.
#include <gmock/gmock.h>

#include <cmath>

#include "handoff/measure.h"
#include "handoff/surface.h"
#include "handoff_fixture.h"

namespace fair_gauge::handoff_curve_test {

using ::testing::HasSubstr;

TEST_F(HandoffTest, EveryFormOfACurveStaysWithinTheUncertainty) {
  const Bench bench = demo_bench();
  for (const HandoffForm form : {HandoffForm::table, HandoffForm::floating}) {
    const Handoff done = hand(bench, "substrate", Language::c, form);
    EXPECT_EQ(run_c(done), "0 differ\n");
    EXPECT_EQ(run_python(hand(bench, "substrate", Language::python, form)), "0 differ -0.5\n");
    const double step = 1.0 / static_cast<double>(done.report.per_unit);
    EXPECT_LE(done.report.worst_error_wanted, done.report.allowed_error + step / 2);
    // Against the law itself: 8.2 kΩ above 10 kΩ, B 3950 K, −0.2 °C.
    for (const HandoffVector& vector : done.vectors) {
      if (!vector.value) continue;
      const double v = std::stod(vector.raw) / 4096 * 3.3, ohm = 8200 * v / (3.3 - v);
      const double exact = 1 / (1 / 298.15 + std::log(ohm / 10e3) / 3950) - 273.15 - 0.2;
      EXPECT_NEAR(*vector.value * step, exact, done.report.worst_error + 1e-6) << vector.raw;
    }
  }
  const auto bent = hand_over(bench, shipped_parts(), {.channel = "substrate", .form = HandoffForm::integer});
  ASSERT_FALSE(bent);
  EXPECT_THAT(to_text(bent.problem()), HasSubstr("bend"));
}

// Many small interpreters have floats of 32 bits: what is said of the error holds there too, and it is the floats that
// make the difference.
TEST_F(HandoffTest, WhatIsProvenHoldsInNarrowFloats) {
  const Handoff curve = hand(demo_bench(), "substrate", Language::python, HandoffForm::floating, 100'000);
  const int of_curve = narrow_steps(curve);
  EXPECT_GT(of_curve, 1);
  EXPECT_LE(of_curve, std::ceil(curve.report.worst_error * 100'000));
  Bench bench;
  bench.devices = {{.id = "light", .part = "TSL2561"}};
  bench.channels = {{.id = "hall",
                     .device = "light",
                     .quantity = Quantity::illuminance,
                     .wanted = {0, 10'000},
                     .tolerance = 500,
                     .unit = "lx"}};
  const Handoff light = hand(bench, "hall", Language::python, std::nullopt, 1000);
  const int of_light = narrow_steps(light);
  EXPECT_GT(of_light, 1);
  ASSERT_TRUE(light.report.proven_bound);
  EXPECT_LE(of_light, std::ceil(*light.report.proven_bound * 1000));
  EXPECT_THAT(light.report.notes, testing::Contains(HasSubstr("with 64 bits")));
}

// A converter's input beside the resistors is part of the formula, on whichever side the fixed one stands: against the
// law with the load in parallel to what lies between pin and ground.
TEST_F(HandoffTest, TheConvertersLoadIsInTheFormula) {
  for (const Position position : {Position::top, Position::bottom})
    for (const auto& [load, lead] : {std::pair{0.0, 0.0}, {200e3, 0.0}, {200e3, 150.0}}) {
      Bench bench = demo_bench();
      Device& device = *find_by_id(bench.devices, find_by_id(bench.channels, "substrate")->device);
      device.front_end.position = position;
      device.front_end.wires = lead > 0 ? 3 : 2;  // one of three lies on the fixed resistor's side
      device.front_end.lead_ohm = lead;
      find_by_id(bench.converters, device.converter)->input_ohm = load;
      const Handoff done = hand(bench, "substrate", Language::c, HandoffForm::floating, 1000);
      const double fixed = 8200 + lead;
      const auto beside = [load = load](double ohm) { return load > 0 ? ohm * load / (ohm + load) : ohm; };
      int read = 0;
      for (const HandoffVector& vector : done.vectors) {
        if (!vector.value) continue;
        const double v = std::stod(vector.raw) / 4096 * 3.3;
        // Below the pin stands the sensor with the load, or the fixed resistor with it.
        const double below = fixed * v / (3.3 - v), ohm = position == Position::top
                                                              ? 1 / (1 / below - (load > 0 ? 1 / load : 0))
                                                              : beside(fixed) * (3.3 - v) / v;
        const double exact = 1 / (1 / 298.15 + std::log((ohm - lead) / 10e3) / 3950) - 273.15 - 0.2;
        EXPECT_NEAR(static_cast<double>(*vector.value) / 1000, exact, done.report.worst_error + 2e-3) << vector.raw;
        ++read;
      }
      EXPECT_GT(read, 1000);
      EXPECT_LT(done.report.worst_error_wanted, 0.01);
    }
}

TEST_F(HandoffTest, AnotherChannelIsOneMoreArgument) {
  // Type K, 471 times, half a volt, 12 bits of 3.3 V, the cold junction in tenths of a degree. Millivolts of the
  // reference table: 0 °C 0, 10 0.397, 25 1.000, 40 1.612, 50 2.023, 80 3.267, 100 4.096, 120 4.920.
  Bench bench = demo_bench();
  // Every pair, 528 384 of them, where there is time for it.
  const Handoff done = hand(bench, "compost_probe", Language::c, std::nullopt, 0, false, is_sanitized ? 2'000 : 70'000);
  ASSERT_TRUE(done.report.side);
  EXPECT_EQ(done.report.side->channel, "board");
  EXPECT_EQ(done.report.exhaustive, !is_sanitized);
  EXPECT_LE(done.report.worst_error_wanted,
            done.report.allowed_error + 0.5 / static_cast<double>(done.report.per_unit));
  EXPECT_LE(done.report.side->lowest, 0 * done.report.side->per_unit);
  EXPECT_GE(done.report.side->highest, 60 * done.report.side->per_unit);
  std::string calls = "int32_t v;";
  struct Pair {
    double hot, hot_mv, cold, cold_mv;
  };
  const std::vector<Pair> pairs = {{10, 0.397, 25, 1.000}, {25, 1.000, 25, 1.000},  {50, 2.023, 0, 0},
                                   {80, 3.267, 40, 1.612}, {100, 4.096, 10, 0.397}, {120, 4.920, 50, 2.023}};
  for (const Pair& pair : pairs) {
    const double volts = 0.5 + 471 * (pair.hot_mv - pair.cold_mv) / 1000;
    calls += fmt::format("v = -1; compost_probe_convert({:.0f}, &v, {:.0f}); printf(\"%ld \", (long)v);",
                         volts / 3.3 * 4096, pair.cold * static_cast<double>(done.report.side->per_unit));
  }
  const std::string printed = run_c(done, calls);
  EXPECT_THAT(printed, HasSubstr("0 differ\n"));
  std::istringstream numbers(printed);
  for (const Pair& pair : pairs) {
    long steps = 0;
    numbers >> steps;
    // Half a step of the converter is 0.02 °C, the table's last digit as much.
    EXPECT_NEAR(static_cast<double>(steps) / static_cast<double>(done.report.per_unit), pair.hot,
                0.05 + done.report.worst_error)
        << pair.cold;
  }
  EXPECT_THAT(run_python(hand(bench, "compost_probe", Language::python)), HasSubstr("0 differ"));
  // Too many pairs to run them all: 16 bits beside hundredths of a degree.
  find_by_id(bench.converters, "adc")->bits = 16;
  find_by_id(bench.channels, "board")->tolerance = 0.5;
  const Handoff wide = hand(bench, "compost_probe", Language::c);
  EXPECT_FALSE(wide.report.exhaustive);
  EXPECT_EQ(run_c(wide), "0 differ\n");
  for (const HandoffForm form : {HandoffForm::integer, HandoffForm::floating})
    EXPECT_FALSE(hand_over(bench, shipped_parts(), {.channel = "compost_probe", .form = form}));
}

TEST_F(HandoffTest, HumidityBesideItsTemperature) {
  // V = supply · (0.0062 · RH + 0.16) · (1.0546 − 0.00216 t): 5 V, 12 bits of 5 V, the temperature from the
  // demonstration.
  Bench bench = demo_bench();
  bench.rails.push_back({.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}});
  Converter wide = *find_by_id(bench.converters, "adc");
  wide.id = "adc5", wide.reference_rail = "5v", wide.reference = {.nominal_v = 5};
  bench.converters.push_back(wide);
  bench.devices.push_back(
      {.id = "damp", .part = "HIH-4030", .side_inputs = {{"temperature", "room"}}, .converter = "adc5"});
  bench.devices.back().front_end.rail = "5v";
  bench.channels.push_back({.id = "damp",
                            .device = "damp",
                            .quantity = Quantity::humidity,
                            .wanted = {20, 90},
                            .tolerance = 6,
                            .unit = "%"});
  const Handoff done = hand(bench, "damp", Language::c);
  ASSERT_TRUE(done.report.side);
  EXPECT_EQ(run_c(done), "0 differ\n");
  int looked_at = 0;
  for (const HandoffVector& vector : done.vectors) {
    if (!vector.value || !vector.side) continue;
    const double t = static_cast<double>(*vector.side) / static_cast<double>(done.report.side->per_unit);
    const double line = (std::stod(vector.raw) / 4096 - 0.16) / 0.0062, rh = line / (1.0546 - 0.00216 * t);
    EXPECT_NEAR(static_cast<double>(*vector.value) / static_cast<double>(done.report.per_unit), rh,
                done.report.worst_error + (is_sanitized ? 0.5 : 1e-6))  // few drawn pairs do not find the worst
        << vector.raw << " beside " << t;
    ++looked_at;
  }
  EXPECT_GT(looked_at, 1000);
}

// Falling by 10.888 mV/K about 30 °C and bent by −0.00347 mV/K² (sheet, equation 1), on 12 bits of 3.3 V.
Bench bent_bench(int bits) {
  Bench bench = demo_bench();
  Converter adc = *find_by_id(bench.converters, "adc");
  adc.id = "bent", adc.bits = bits, adc.reference_rail.clear(), adc.reference = {.nominal_v = 3.3};
  bench.converters.push_back(adc);
  bench.devices.push_back({.id = "bent", .part = "LMT86", .converter = "bent", .rail = "3v3"});
  bench.channels.push_back({.id = "bent",
                            .device = "bent",
                            .quantity = Quantity::temperature,
                            .wanted = {-20, 80},
                            .tolerance = 1,
                            .unit = "Cel"});
  return bench;
}
double bent_reading(double raw, int bits) {
  const double mv = raw * 3300 / std::exp2(bits), a = -0.00347, b = -10.888, c = 1777.3 - mv;
  return 30 + (-b - std::sqrt(b * b - 4 * a * c)) / (2 * a);
}

TEST_F(HandoffTest, ACurveThatBendsALittleIsAPolynomialInWholeNumbers) {
  for (const int bits : {10, 12, 16}) {
    SCOPED_TRACE(bits);
    const Bench bench = bent_bench(bits);
    const Handoff done = hand(bench, "bent", Language::c, HandoffForm::integer, 100);
    ASSERT_TRUE(done.code.arithmetic.polynomial);
    EXPECT_EQ(done.report.form, "integer");
    EXPECT_LE(done.report.worst_error_wanted, done.report.allowed_error + 0.005);
    EXPECT_LT(done.report.largest_intermediate,
              done.report.word_bits == 32 ? std::uint64_t{1} << 32 : std::uint64_t{1} << 63);
    EXPECT_EQ(run_c(done), "0 differ\n");
    EXPECT_EQ(run_python(hand(bench, "bent", Language::python, HandoffForm::integer, 100)), "0 differ -0.05\n");
    int looked_at = 0;
    for (const HandoffVector& vector : done.vectors) {
      if (!vector.value) continue;
      EXPECT_NEAR(*vector.value / 100.0, bent_reading(std::stod(vector.raw), bits), done.report.worst_error + 1e-6)
          << vector.raw;
      ++looked_at;
    }
    EXPECT_GT(looked_at, 500);
  }
}

// Neither a division nor a table: less flash and fewer cycles than the points with lines between them.
TEST_F(HandoffTest, ThePolynomialIsChosenWhereItIsCheaper) {
  if (is_sanitized || measuring_tools().empty()) GTEST_SKIP() << "no cross compiler here";
  const Bench bench = bent_bench(12);
  const Handoff points = hand(bench, "bent", Language::c, HandoffForm::table);
  const Handoff chosen = hand(bench, "bent", Language::c);
  ASSERT_TRUE(points.report.cost);
  ASSERT_TRUE(chosen.report.cost);
  EXPECT_EQ(chosen.report.form, "integer");
  EXPECT_LT(chosen.report.cost->flash_bytes, points.report.cost->flash_bytes);
  EXPECT_LE(chosen.report.cost->cycles_worst, points.report.cost->cycles_worst);
}

// ---- what is worked out from other channels: its input is their reading ----

Bench worked_out(const char* as, Quantity quantity, const char* unit, Range wanted, const char* of,
                 const char* beside = "") {
  Bench bench = demo_bench();
  bench.channels.push_back({.id = "it", .quantity = quantity, .wanted = wanted, .unit = unit});
  bench.channels.back().derived = DerivedFrom{.as = as, .of = of, .beside = beside};
  bench.channels.back().tolerance = (wanted.to - wanted.from) / 100;
  return bench;
}
double value_of(const Handoff& done, double first, double second = 0) {
  const auto raw = std::llround(first * static_cast<double>(done.code.input->per_unit));
  std::int32_t value = 0;
  if (done.code.surface) {
    const auto outcome =
        done.code.surface->run(raw, std::llround(second * static_cast<double>(done.code.side->per_unit)));
    EXPECT_EQ(outcome.status, HandoffStatus::ok) << first << " " << second;
    value = outcome.value;
  } else {
    value = done.code.arithmetic.run(raw);
  }
  return value / static_cast<double>(done.code.per_unit);
}

// Dew points as printed psychrometric tables have them, to a tenth.
TEST_F(HandoffTest, TheDewPointIsATableOfTwoReadings) {
  const Bench bench = worked_out("dew-point", Quantity::temperature, "Cel", {0, 35}, "room", "room_humidity");
  const Handoff done = hand(bench, "it", Language::c);
  ASSERT_TRUE(done.code.surface);
  EXPECT_EQ(done.report.side->channel, "room_humidity");
  EXPECT_THAT(done.report.notes, ::testing::Contains(HasSubstr("raw: the reading of room in steps of 1/")));
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_THAT(run_python(hand(bench, "it", Language::python)), HasSubstr("0 differ"));
  struct Point {
    double celsius, percent, dew;
  };
  for (const Point& each : {Point{20, 60, 12.0}, {25, 80, 21.3}, {10, 70, 4.8}, {30, 90, 28.2}, {20, 95, 19.2}})
    EXPECT_NEAR(value_of(done, each.celsius, each.percent), each.dew,
                0.06 + done.report.worst_error + 0.5 / static_cast<double>(done.code.per_unit));
  // Steepest where it is warmest and driest, by the slope of the vapour pressure: (1 / 57 %) ÷ (4284 K ÷ (243.1 + 28)²)
  // = 0.30 °C for a per cent; the lines of the table cut a little of it off.
  const Handoff formula = hand(bench, "it", Language::c, HandoffForm::floating);
  for (const auto& [which, within] : {std::pair{&done, 0.03}, {&formula, 0.01}})
    EXPECT_NEAR(which->code.surface->steepest_by_side() / static_cast<double>(which->code.per_unit), 0.30, within);
  // Beyond what is wanted of either, and a tenth more, it has no value: 5 to 35 °C, 60 to 98 %.
  EXPECT_EQ(done.code.surface->run(done.code.input->lowest - 1, done.code.side->lowest).status, HandoffStatus::low);
  EXPECT_EQ(done.code.surface->run(done.code.input->lowest, done.code.side->lowest - 1).status,
            HandoffStatus::out_of_range);
  EXPECT_NEAR(static_cast<double>(done.code.input->lowest) / static_cast<double>(done.code.input->per_unit), 2, 0.01);
  EXPECT_NEAR(static_cast<double>(done.code.side->lowest) / static_cast<double>(done.code.side->per_unit), 56.2, 0.9);
}

// Heights of the standard atmosphere by its table: 950 hPa 540 m, 1000 hPa 111 m, 1050 hPa −301 m.
TEST_F(HandoffTest, AHeightFollowsFromOneReading) {
  const Bench bench = worked_out("pressure-altitude", Quantity::altitude, "m", {-300, 600}, "room_pressure");
  const Handoff done = hand(bench, "it", Language::c);
  EXPECT_FALSE(done.code.side);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_THAT(run_python(hand(bench, "it", Language::python)), HasSubstr("0 differ"));
  for (const auto& [hpa, metres] : {std::pair{950.0, 540.3}, {1000.0, 110.9}, {1050.0, -301.1}})
    EXPECT_NEAR(value_of(done, hpa), metres, 0.6 + done.report.worst_error) << hpa;
  EXPECT_NE(done.report.form, "float");
  // The formula itself, where it is asked for: 44330.8 m (1 − (p ÷ 1013.25 hPa)^0.1903), to the metre.
  const Handoff formula = hand(bench, "it", Language::c, HandoffForm::floating);
  EXPECT_THAT(formula.files.at("it.c"), HasSubstr("powf(pressure / 101325.0f, 0.190263f)"));
  EXPECT_EQ(run_c(formula), "0 differ\n");
  for (const auto& [hpa, metres] : {std::pair{950.0, 540.3}, {1000.0, 110.9}, {1050.0, -301.1}})
    EXPECT_NEAR(value_of(formula, hpa), metres, 0.6 + formula.report.worst_error) << hpa;
}

// What firmware works out of two readings by a formula, against printed tables: dew points as above; frost points,
// saturated air (17.3 g/m³ at 20 °C) and what it lacks by the vapour pressures 2339 Pa at 20 °C, 3169 Pa at 25 °C and
// 1228 Pa at 10 °C.
TEST_F(HandoffTest, TwoReadingsMeetInAFormula) {
  struct Row {
    const char* as;
    Quantity quantity;
    const char* unit;
    Range wanted;
    std::string says;  // in the code
    double celsius, percent, value, within;
    double worst;  // of its range, before the rounding: what the short formula is off at its ends
  };
  const auto exponent = "611.2f * expf(17.62f * temperature / (243.12f + temperature))";
  for (const Row& row : std::vector<Row>{
           {"dew-point", Quantity::temperature, "Cel", {0, 35}, "logf(humidity / 100.0f)", 20, 60, 12.0, 0.06, 0.03},
           {"dew-point", Quantity::temperature, "[degF]", {0, 35}, " + 32.0f", 25, 80, 70.3, 0.1, 0.05},
           // 57 % of 706 Pa over water at 2 °C is what ice has at −5 °C, 402 Pa.
           {"frost-point", Quantity::temperature, "Cel", {-20, 0}, "272.62f * share", 2, 57, -4.99, 0.05, 0.03},
           {"absolute-humidity", Quantity::absolute_humidity, "g/m3", {0, 40}, exponent, 20, 98, 16.95, 0.05, 0.12},
           {"vapour-pressure-deficit", Quantity::pressure, "Pa", {0, 3000}, exponent, 25, 60, 1267.6, 6, 8},
           {"vapour-pressure-deficit", Quantity::pressure, "kPa", {0, 3000}, exponent, 20, 80, 0.4678, 0.002, 0.008},
       }) {
    const Bench bench = worked_out(row.as, row.quantity, row.unit, row.wanted, "room", "room_humidity");
    const Handoff done = hand(bench, "it", Language::c, HandoffForm::floating);
    const double rounding = 0.5 / static_cast<double>(done.code.per_unit);
    EXPECT_EQ(done.report.form, "float");
    EXPECT_THAT(done.files.at("it.c"), HasSubstr(row.says)) << row.as;
    EXPECT_NEAR(value_of(done, row.celsius, row.percent), row.value, row.within + rounding) << row.as;
    EXPECT_LE(done.report.worst_error, row.worst + rounding) << row.as;
    EXPECT_GE(done.report.worst_error, rounding * 0.9) << row.as;
    EXPECT_EQ(run_c(done), "0 differ\n") << row.as;
    EXPECT_THAT(run_python(hand(bench, "it", Language::python, HandoffForm::floating)), HasSubstr("0 differ"))
        << row.as;
    EXPECT_EQ(done.code.surface->run(done.code.input->highest + 1, done.code.side->lowest).status, HandoffStatus::high);
    EXPECT_EQ(done.code.surface->run(done.code.input->lowest, done.code.side->lowest - 1).status,
              HandoffStatus::out_of_range);
  }
  // 200 m above the other place: 1000 to 976.3 hPa by the table of the standard atmosphere.
  Bench heights = worked_out("height-above", Quantity::altitude, "m", {-500, 500}, "other", "room_pressure");
  heights.channels.push_back(*find_by_id(heights.channels, "room_pressure"));
  heights.channels.back().id = "other";
  EXPECT_NEAR(value_of(hand(heights, "it", Language::c, HandoffForm::floating), 976.3, 1000), 200, 3);
  // 954.61 hPa at 500 m is 1013.25 at the sea, by the same table.
  Bench sea = worked_out("sea-level-pressure", Quantity::pressure, "hPa", {98000, 104000}, "room_pressure");
  sea.channels.back().derived->number = 500;
  EXPECT_NEAR(value_of(hand(sea, "it", Language::c, HandoffForm::floating), 954.6), 1013.24, 0.06);
  // A wet bulb is searched; whole numbers alone do for none of them.
  const Bench wet = worked_out("wet-bulb", Quantity::temperature, "Cel", {0, 35}, "room", "room_humidity");
  for (const HandoffForm form : {HandoffForm::floating, HandoffForm::integer}) {
    const auto none = hand_over(wet, shipped_parts(), {.channel = "it", .form = form});
    ASSERT_FALSE(none);
    EXPECT_THAT(to_text(none.problem()), HasSubstr("the form table"));
  }
}

// A formula of one's own, as it was typed: with other marks, a decimal comma, both readings, and a function of them.
TEST_F(HandoffTest, AFormulaOfOnesOwnIsWritten) {
  Bench bench = worked_out("formula", Quantity::temperature, "Cel", {0, 35}, "room", "room_humidity");
  DerivedFrom& from = *bench.channels.back().derived;
  from.formula = "a − 0,55·(1−b÷100)·(a−14,5)";
  Handoff done = hand(bench, "it", Language::c, HandoffForm::floating);
  EXPECT_THAT(done.files.at("it.c"),
              HasSubstr("temperature - 0.55f * (1.0f - humidity / 100.0f) * (temperature - 14.5f)"));
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_NEAR(value_of(done, 30, 60), 30 - 0.55 * 0.4 * 15.5, 0.06);
  EXPECT_THAT(run_python(hand(bench, "it", Language::python, HandoffForm::floating)), HasSubstr("0 differ"));
  // Of one reading.
  from.beside.clear(), from.formula = "2 * sqrt(a)";
  done = hand(bench, "it", Language::c, HandoffForm::floating);
  EXPECT_THAT(done.files.at("it.c"), HasSubstr("2.0f * sqrtf(temperature)"));
  EXPECT_NEAR(value_of(done, 25), 10, 0.06);
  // Where it has no value in the midst of both, neither language falls over it.
  from.beside = "room_humidity", from.formula = "a / (b - 60)";
  done = hand(bench, "it", Language::c, HandoffForm::floating);
  EXPECT_EQ(done.code.surface->run(250, 60).status, HandoffStatus::out_of_range);
  EXPECT_THAT(done.files.at("it.c"), HasSubstr("if (!isfinite(result)) return it_OUT_OF_RANGE;"));
  EXPECT_TRUE(done.files.at("it_vectors.csv").find(",8,,60\n") != std::string::npos);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_THAT(run_python(hand(bench, "it", Language::python, HandoffForm::floating)), HasSubstr("0 differ"));
  from.beside.clear();
  // Of a plain number, as a program of one's own sends it.
  Bench counted = bench;
  Channel& level = *std::ranges::find(counted.channels, "room", &Channel::id);
  level = {.id = "room", .quantity = Quantity::number, .wanted = {0, 40}, .unit = "1"};
  level.arrives = Arrival{};
  counted.channels.back().derived->formula = "3 * a";
  done = hand(counted, "it", Language::c, HandoffForm::floating);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_NEAR(value_of(done, 7), 21, 0.1);
  // What firmware here has no word for stays a table.
  from.formula = "10 * sin(a / 30)";
  EXPECT_FALSE(hand_over(bench, shipped_parts(), {.channel = "it", .form = HandoffForm::floating}));
  EXPECT_EQ(run_c(hand(bench, "it", Language::c, HandoffForm::table)), "0 differ\n");
}

// A difference is a plane: four joints, exact to the rounding of its own step and of the fraction that is kept.
TEST_F(HandoffTest, ADifferenceIsAPlane) {
  Bench bench =
      worked_out("temperature-difference", Quantity::temperature_difference, "K", {-20, 20}, "rack_top", "rack");
  const Handoff done = hand(bench, "it", Language::c, std::nullopt, 100);
  ASSERT_TRUE(done.code.surface);
  EXPECT_EQ(done.code.surface->x.size() * done.code.surface->side.size(), 4u);
  EXPECT_LE(done.report.worst_error, 0.0061);
  EXPECT_NEAR(value_of(done, 22.5, 19), 3.5, 0.0061);
  EXPECT_NEAR(value_of(done, 12, 29.5), -17.5, 0.0061);
  EXPECT_EQ(run_c(done), "0 differ\n");
}

TEST(HandedOver, WhatComesTogetherOverADayIsNot) {
  Bench bench = worked_out("light-dose", Quantity::light_dose, "lx.h", {0, 20000}, "grow_light");
  bench.channels.back().derived->number = 8;
  const auto dose = hand_over(bench, shipped_parts(), {.channel = "it"});
  ASSERT_FALSE(dose);
  EXPECT_THAT(to_text(dose.problem()), HasSubstr("comes together over a day"));
}

// A thermistor's ends bend without bound: no power follows them, and the problem still says by how much it bends.
TEST(Polynomials, AreRefusedWhereTheyDoNotFollow) {
  ExactReadings exact;
  for (int i = 1; i < 4096; ++i) exact.values.push_back(-2000 * std::log(i / (4096.0 - i)));
  exact.first = 1, exact.wanted_from = 500, exact.wanted_to = 3500;
  EXPECT_FALSE(polynomial_arithmetic(exact, 2));
  // 3 000 + x² ÷ 100 from 0 to 99: exactly a square.
  exact = {};
  for (int i = 0; i < 100; ++i) exact.values.push_back(3000 + i * i / 100.0);
  exact.wanted_to = 99;
  const auto square = polynomial_arithmetic(exact, 0.52);
  ASSERT_TRUE(square) << to_text(square.problem());
  EXPECT_EQ(square->polynomial->coefficients.size(), 3u);
  EXPECT_EQ(square->run(99), 3098);
  EXPECT_EQ(square->run(50), 3025);
  EXPECT_EQ(square->run(0), 3000);
  exact.values.resize(8);
  EXPECT_FALSE(polynomial_arithmetic(exact, 0.52)) << "too few to fit anything to";
}

}  // namespace fair_gauge::handoff_curve_test
