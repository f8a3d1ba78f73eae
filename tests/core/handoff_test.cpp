// What is handed over is compiled with strict flags and run over its vectors, in Python too; the vectors themselves are
// held against `decode` and against numbers worked out here.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cmath>

#include "handoff/byte_plan.h"
#include "handoff/one_page.h"
#include "handoff_fixture.h"

namespace fair_gauge::handoff_test {

using ::testing::HasSubstr;

TEST_F(HandoffTest, ALineIsOneMultiplication) {
  // 10 mV/°C and half a volt on 12 bits of 3.3 V in hundredths: (raw · 3.3/4096 − 0.5) · 100 · 100 = raw · 8.056640625
  // − 5000. Readings from −40 °C (raw 125) to 125 °C (2172).
  Bench bench = demo_bench();
  const Handoff done = hand(bench, "spawn_fridge", Language::c, HandoffForm::integer, 100);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_TRUE(done.report.exhaustive);
  EXPECT_EQ(done.report.codes_checked, 4096);
  EXPECT_LE(done.report.worst_error, 0.0051);
  EXPECT_LT(done.report.largest_intermediate, std::uint64_t{1} << 32);
  EXPECT_EQ(done.report.word_bits, 32);
  // Drawn in stretches: every raw number with a reading is in one, and none of the vectors is off by more than its own.
  std::int64_t next = 125;
  for (const ErrorStretch& each : done.errors) {
    EXPECT_EQ(each.first, next);
    next = each.last + 1;
  }
  EXPECT_EQ(next, 2173);
  EXPECT_LE(done.errors.size(), 512u);
  double worst = 0;
  for (const HandoffVector& vector : done.vectors) {
    if (vector.status != HandoffStatus::ok) continue;
    const std::int64_t code = std::stoll(vector.raw);
    const double raw = static_cast<double>(code),
                 off = static_cast<double>(*vector.value) / 100 - (raw * 330 / 4096 - 50);
    const auto here = std::ranges::find_if(
        done.errors, [&](const ErrorStretch& each) { return code >= each.first && code <= each.last; });
    ASSERT_NE(here, done.errors.end()) << raw;
    EXPECT_TRUE(off > here->least - 1e-9 && off < here->most + 1e-9) << raw;
    worst = std::max(worst, std::abs(off));
  }
  EXPECT_NEAR(worst, done.report.worst_error, 1e-9);
  for (const HandoffVector& vector : done.vectors) {
    const double raw = std::stod(vector.raw), exact = (raw * 3.3 / 4096 - 0.5) * 10000;
    EXPECT_EQ(vector.status, raw < 125    ? HandoffStatus::low
                             : raw > 2172 ? HandoffStatus::high
                                          : HandoffStatus::ok)
        << raw;
    if (vector.value) {
      EXPECT_NEAR(*vector.value, exact, 0.51) << raw;
    }
  }
  ASSERT_EQ(done.vectors.size(), 4096u);
}

// What stands on the page is worked out here: 8.2 kΩ above, beta 3950, 10 kΩ at 25 °C, less 0.2.
TEST_F(HandoffTest, OnePageHoldsAllOfIt) {
  const Bench bench = demo_bench();
  const std::string page = handoff_html(hand(bench, "substrate", Language::c), bench, shipped_parts(), "2026-11-27");
  EXPECT_THAT(page, HasSubstr("2026-11-27 · Fernhollow"));
  const double celsius = 25 + 0.2, ohms = 10'000 * std::exp(3950 * (1 / (273.15 + celsius) - 1 / 298.15));
  EXPECT_THAT(page, HasSubstr(fmt::format("<td>Sensor</td><td>{:.3f} kΩ</td>", ohms / 1000)));
  EXPECT_THAT(page, HasSubstr(fmt::format("<td>Converter</td><td>{:.0f}</td>", 4096 * ohms / (ohms + 8200))));
  EXPECT_THAT(page, HasSubstr("<td>Run</td><td>all 4096 raw numbers</td>"));
  EXPECT_THAT(page, HasSubstr("On 2026-05-12, against glass thermometer"));
  EXPECT_THAT(page, HasSubstr("<p>substrate.c, substrate.h, substrate_report.json, substrate_vectors.csv</p>"));
  const std::string bytes = handoff_html(hand(bench, "room_pressure", Language::python), bench, shipped_parts(), "");
  EXPECT_THAT(bytes, HasSubstr("<td>World</td><td>100 000 Pa</td>"));
  EXPECT_THAT(bytes, HasSubstr("<td>Shown</td><td>1000 hPa</td>"));
  EXPECT_THAT(bytes, HasSubstr("blocks of bytes</td>"));
}

TEST_F(HandoffTest, StepsFollowTheBudget) {
  // Half a step is at most a fifth of the smallest expanded uncertainty over the wanted range: with about 0.26 °C a
  // tenth of a degree, since half a degree would not do.
  const Handoff done = hand(demo_bench(), "substrate", Language::python);
  const double uncertainty = done.report.allowed_error * 10, step = 1.0 / static_cast<double>(done.report.per_unit);
  EXPECT_LE(step / 2, uncertainty / 5);
  EXPECT_GT(step * 10 / 2, uncertainty / 5) << "ten times coarser would not do";
}

TEST_F(HandoffTest, NumbersWithASignComeAsTwosComplement) {
  Bench bench = demo_bench();
  find_by_id(bench.converters, "bridge24")->bits = 16;
  const Handoff done = hand(bench, "filter", Language::c);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_THAT(done.files.at("filter.h"), HasSubstr("two's complement"));
}

TEST_F(HandoffTest, BytesAreCheckedAndTakenApart) {
  Bench bench;
  bench.devices = {{.id = "air", .part = "SHT31"}, {.id = "probe", .part = "DS18B20"}};
  bench.channels = {
      {.id = "t", .device = "air", .wanted = {0, 50}, .tolerance = 0.5},
      {.id = "rh", .device = "air", .quantity = Quantity::humidity, .wanted = {10, 90}, .tolerance = 4, .unit = "%"},
      {.id = "wire", .device = "probe", .wanted = {0, 50}, .tolerance = 0.5}};
  for (const char* channel : {"t", "rh", "wire"}) {
    if (is_sanitized && channel == std::string_view("rh")) continue;
    const Handoff done = hand(bench, channel, Language::c);
    EXPECT_EQ(run_c(done), "0 differ\n") << channel;
    EXPECT_THAT(run_python(hand(bench, channel, Language::python)), HasSubstr("0 differ")) << channel;
    // A status is one exactly where decode has no reading.
    const auto chain = build_chain(bench, shipped_parts(), channel);
    int bad_sums = 0;
    for (const HandoffVector& vector : done.vectors) {
      const auto bytes = *read_hex(vector.raw);
      const Decoded decoded = chain->decoder->decode({{"frame", bytes}});
      EXPECT_EQ(vector.value.has_value(), decoded.reading(chain->channel.quantity) != nullptr)
          << channel << " " << vector.raw;
      bad_sums += vector.status == HandoffStatus::checksum;
    }
    EXPECT_GT(bad_sums, 0);
  }
  // 0x6666: −45 + 175 · 26214/65535 = 25 °C.
  const Handoff t = hand(bench, "t", Language::c, std::nullopt, 1000);
  const auto row =
      std::ranges::find_if(t.vectors, [](const HandoffVector& vector) { return vector.raw.starts_with("6666"); });
  if (row != t.vectors.end() && row->value) {
    EXPECT_EQ(*row->value, 25000);
  }
}

TEST_F(HandoffTest, TheSheetsOwnCompensation) {
  // Trimming and numbers of the data sheet's worked example: 25.08 °C, 100653 Pa (integer form 25767233/256).
  Bench bench;
  bench.devices = {
      {.id = "air", .part = "BMP280", .trimming = {{"0x88", "706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017"}}}};
  bench.channels = {{.id = "t", .device = "air", .wanted = {0, 50}, .tolerance = 2},
                    {.id = "p",
                     .device = "air",
                     .quantity = Quantity::pressure,
                     .kind = PressureKind::absolute,
                     .wanted = {90000, 110000},
                     .tolerance = 200,
                     .unit = "Pa"}};
  const std::string example =
      "static const uint8_t sheet[] = {0x65,0x5A,0xC0,0x7E,0xED,0x00}; int32_t of_sheet = 0; int sheet_status = "
      "%s_convert(sheet, &of_sheet); printf(\"%%d %%ld\\n\", sheet_status, (long)of_sheet);";
  for (const auto& [channel, per_unit, expected] : {std::tuple{"t", 100, "0 2508"}, {"p", 1, "0 100653"}}) {
    const Handoff done = hand(bench, channel, Language::c, std::nullopt, per_unit);
    EXPECT_FALSE(done.report.exhaustive);
    std::string before = example;
    before.replace(before.find("%s"), 2, channel);
    for (std::size_t at = 0; (at = before.find("%%", at)) != std::string::npos;) before.replace(at, 2, "%");
    EXPECT_EQ(run_c(done, before), std::string(expected) + "\n0 differ\n");
  }
  // Loaded at run time: not ready before, nothing answered for empty trimming, the same afterwards.
  const Handoff loaded = hand(bench, "p", Language::c, std::nullopt, 1, true);
  const std::string load =
      "static const uint8_t block[] = {0x65,0x5A,0xC0,0x7E,0xED,0x00}; static const uint8_t none[24]; int32_t got = 0;"
      "static const uint8_t words[] = "
      "{0x70,0x6B,0x43,0x67,0x18,0xFC,0x7D,0x8E,0x43,0xD6,0xD0,0x0B,0x27,0x0B,0x8C,0x00,0xF9,0xFF,0x8C,0x3C,0xF8,0xC6,"
      "0x70,0x17};"
      "const int before = p_convert(block, &got), empty = p_load_trimming(none), full = p_load_trimming(words);"
      "printf(\"%d %d %d\\n\", before, empty, full);";
  EXPECT_EQ(run_c(loaded, load), fmt::format("{} {} 0\n0 differ\n", static_cast<int>(HandoffStatus::not_ready),
                                             static_cast<int>(HandoffStatus::no_response)));
  // On the small controller too: without its trimming it would answer nothing but "not ready", in no time at all.
  if (!is_sanitized && measuring_tools().find("simulator") != std::string::npos) {
    ASSERT_TRUE(loaded.report.cost);
    EXPECT_GT(loaded.report.cost->compared, 100);
    EXPECT_EQ(loaded.report.cost->differing, 0);
    EXPECT_GT(loaded.report.cost->cycles_worst, 1000);
    EXPECT_THAT(cost_words(loaded.report), HasSubstr("cycles a call"));
    HandoffReport without = loaded.report;
    without.cost->cycles_worst = 0;  // where no simulator is there
    EXPECT_THAT(cost_words(without), ::testing::Not(HasSubstr("cycles a call")));
  }
}

// Second order warm, cold and very cold, towards zero or downwards: the written code gives what the formula gives.
TEST_F(HandoffTest, EverySecondOrderOfTheFamilyIsWritten) {
  for (const char* marking : {"MS5611", "MS5607", "MS5637", "MS5803-14BA", "MS5837-30BA"}) {
    if (is_sanitized && std::string_view(marking) != "MS5607") continue;
    const Part* part = shipped_parts().find(marking);
    ASSERT_TRUE(part) << marking;
    Bench bench;
    bench.devices = {{.id = "deep", .part = part->id}};
    for (const ByteBlock& block : part->bytes.blocks)
      if (block.role == "trimming") bench.devices.front().trimming[block.name] = block.example;
    bench.channels = {{.id = "t", .device = "deep", .wanted = {0, 40}, .tolerance = 2},
                      {.id = "p",
                       .device = "deep",
                       .quantity = Quantity::pressure,
                       .kind = PressureKind::absolute,
                       .wanted = {90000, 110000},
                       .tolerance = 2000,
                       .unit = "Pa"}};
    for (const char* channel : {"t", "p"}) {
      const Handoff done = hand(bench, channel, Language::c);
      EXPECT_EQ(run_c(done), "0 differ\n") << marking << " " << channel;
      EXPECT_TRUE(done.report.proven_bound) << marking << " " << channel;
    }
    // The pressure has the temperature on its way.
    EXPECT_THAT(run_python(hand(bench, "p", Language::python)), testing::StartsWith("0 differ")) << marking;
  }
}

TEST_F(HandoffTest, TextIsMadeOfIntegers) {
  const Handoff done = hand(demo_bench(), "spawn_fridge", Language::c, HandoffForm::integer, 100);
  const std::string prints =
      "static const int32_t all[] = {0, 5, -5, 2508, -12345, 2147483647, -2147483647 - 1}; char room[20];"
      "for (int i = 0; i < 7; ++i) { const int n = spawn_fridge_text(all[i], room, 20); printf(\"%s %d \", room, n); }"
      "printf(\"%d %d\\n\", spawn_fridge_text(2508, room, 5), spawn_fridge_text(2508, room, 6));";
  EXPECT_EQ(run_c(done, prints),
            "0.00 4 0.05 4 -0.05 5 25.08 5 -123.45 7 21474836.47 11 -21474836.48 12 0 5\n0 differ\n");
}

TEST_F(HandoffTest, NamesAreThoseThatCAllows) {
  EXPECT_EQ(c_identifier("room 1"), "room_1");
  EXPECT_EQ(c_identifier("1st"), "_1st");
  EXPECT_EQ(c_identifier("while"), "while_");
  EXPECT_EQ(c_identifier("kühl"), "k_hl");
  EXPECT_EQ(c_identifier("a-b"), "a_b");
}

TEST_F(HandoffTest, CostIsMeasuredOrNotSaid) {
  if (is_sanitized) GTEST_SKIP() << "nothing is measured there";
  const Handoff done = hand(demo_bench(), "spawn_fridge", Language::c, HandoffForm::integer);
  if (measuring_tools().empty()) {
    EXPECT_FALSE(done.report.cost);
    GTEST_SKIP() << "no cross compiler here";
  }
  ASSERT_TRUE(done.report.cost);
  write_all(done);
  // The sizes once more, by hand.
  const std::string size =
      shell(std::string("avr-gcc -mmcu=") + measured_controller +
            " -Os -std=c99 -c spawn_fridge.c -o s.o && avr-size -B s.o | tail -1 | awk '{print $1 + "
            "$2}'");
  EXPECT_EQ(size, fmt::format("{}\n", done.report.cost->flash_bytes));
  if (done.report.measured_on.find("simulator") != std::string::npos) {
    EXPECT_GT(done.report.cost->cycles_worst, 20);
    EXPECT_LT(done.report.cost->cycles_worst, 400);
  }
}

// The comparison can fail: of three calls that expect something else, three differ.
TEST_F(HandoffTest, AnotherResultOnTheControllerIsSeen) {
  if (measuring_tools().find("simulator") == std::string::npos) GTEST_SKIP() << "no simulated controller here";
  const std::string header = "#include <stdint.h>\nuint8_t x_convert(uint32_t raw, int32_t *value);\n",
                    source =
                        "#include \"x.h\"\nuint8_t x_convert(uint32_t raw, int32_t *value)\n{\n"
                        "  if (raw > 1000) return 2;\n  *value = (int)raw * 100 / 3;\n  return 0;\n}\n";
  // An int of 16 bits: 400 · 100 does not fit, and is −25536 there.
  const auto cost = measure_handoff("x", header, source,
                                    {{"300UL", HandoffStatus::ok, 10'000},
                                     {"400UL", HandoffStatus::ok, -8'512},
                                     {"1001UL", HandoffStatus::high, 0},
                                     {"400UL", HandoffStatus::ok, 13'333},
                                     {"1001UL", HandoffStatus::ok, 0},
                                     {"300UL", HandoffStatus::low, 10'000}},
                                    HandoffArguments::number);
  ASSERT_TRUE(cost);
  EXPECT_EQ(cost->compared, 6);
  EXPECT_EQ(cost->differing, 3);
  EXPECT_GT(cost->cycles_worst, 20);
}

// Of a call that waits for so many cycles; of many, so that the counter overflows in between.
TEST_F(HandoffTest, CyclesAreCounted) {
  if (measuring_tools().find("simulator") == std::string::npos) GTEST_SKIP() << "no simulated controller here";
  const auto cycles_of = [](int waited) {
    const auto cost = measure_handoff(
        "x", "#include <stdint.h>\nuint8_t x_convert(uint32_t raw, int32_t *value);\n",
        fmt::format("#include \"x.h\"\nuint8_t x_convert(uint32_t raw, int32_t *value)\n{{\n"
                    "  __builtin_avr_delay_cycles({}UL);\n  *value = (int32_t)raw;\n  return 0;\n}}\n",
                    waited),
        std::vector<HandoffCall>(waited > 50'000 ? 3 : 100, {"7UL", HandoffStatus::ok, 7}), HandoffArguments::number);
    return cost && cost->differing == 0 ? cost->cycles_worst : -1;
  };
  // Beside the wait: the call of four cycles, four stores of two through a pointer that is moved in one, a zero to
  // return, and the return of four.
  const int around = cycles_of(1) - 1;
  EXPECT_NEAR(around, 4 + 4 * 2 + 1 + 1 + 4, 2);
  for (const int waited : {2, 100, 1'000, 30'000}) EXPECT_EQ(cycles_of(waited), waited + around);
  // The counter's own interrupt, where it cannot be avoided.
  EXPECT_NEAR(cycles_of(200'000), 200'000 + around, 200);
}

// What floating point brings along is said: the whole program, linked here by hand, is larger by that.
TEST_F(HandoffTest, TheLibraryThatFloatNeedsIsSaid) {
  if (is_sanitized || measuring_tools().empty()) GTEST_SKIP() << "no cross compiler here";
  const Handoff done = hand(demo_bench(), "substrate", Language::c, HandoffForm::floating);
  ASSERT_TRUE(done.report.cost);
  EXPECT_GT(done.report.cost->library_bytes, 1000) << "a division and a logarithm in floating point";
  EXPECT_THAT(done.report.notes, testing::Contains(HasSubstr("of the compiler's library")));
  write_all(done);
  const std::string compiler = std::string("avr-gcc -mmcu=") + measured_controller + " -Os -std=c99 ";
  const auto size = [&](const std::string& source) {
    return std::stoi(
        shell("echo '#include \"substrate.h\"\nvolatile uint32_t r;volatile int32_t v;int main(void){" + source +
              "}' | " + compiler +
              "-I. -x c - -x none substrate.c -lm -Wl,--gc-sections"
              " -ffunction-sections -o whole.elf && avr-size -B whole.elf | tail -1 | awk '{print $1 + $2}'"));
  };
  // Without what is not called the program grows by the conversion and its library; the object has the text beside it.
  const int grown = size("int32_t o; substrate_convert(r, &o); v = o;") - size("v = (int32_t)r;");
  EXPECT_LE(grown, done.report.cost->flash_bytes + done.report.cost->library_bytes + 16);
  EXPECT_GE(grown, done.report.cost->library_bytes / 2);
}

using Numbers = std::map<std::string, double>;

// One channel of one digital part, with the trimming of its file.
Bench bench_of(const std::string& marking, Quantity quantity, const Numbers& settings = {}) {
  const Part& part = *shipped_parts().find(marking);
  const PartQuantity& measured = *part.measures(quantity);
  Bench bench;
  bench.rails.push_back({.id = "3v3", .voltage = {.nominal_v = 3.3}});
  bench.devices.push_back({.id = "d", .part = part.id, .settings = settings, .rail = "3v3"});
  for (const ByteBlock& block : part.bytes.blocks)
    if (block.role == "trimming") bench.devices.front().trimming[block.name] = block.example;
  bench.channels.push_back({.id = "c",
                            .name = "C",
                            .device = "d",
                            .quantity = quantity,
                            .wanted = {measured.minimum, measured.maximum},
                            .unit = std::string(base_unit(quantity).ucum)});
  return bench;
}

// The arithmetic of every part's every reading can be written: what it needs is found, and nothing more.
TEST(BytePlan, IsMadeForEveryReadingOfEveryDigitalPart) {
  int plans = 0;
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital() || part.quantities.front().quantity == Quantity::bridge_voltage) continue;
    for (const PartQuantity& quantity : part.quantities) {
      const Bench bench = bench_of(part.id, quantity.quantity);
      const auto chain = build_chain(bench, shipped_parts(), "c");
      if (!chain) continue;  // an altitude, while the part is set to pressures
      const auto plan = plan_bytes(*chain);
      EXPECT_TRUE(plan) << part.id << " " << enum_name(quantity.quantity) << ": "
                        << (plan ? "" : to_text(plan.problem()));
      ++plans;
    }
  }
  EXPECT_GT(plans, 100);
}

TEST_F(HandoffTest, AConverterOfFixedSlopeIsHandedOverAsItReads) {
  const Handoff done = hand(demo_bench(), "compost_middle", Language::c);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_EQ(done.report.codes_checked, 16384) << "14 bits";
  for (const auto& [name, text] : done.files) EXPECT_EQ(text.find("celsius_k"), std::string::npos) << name;
  Bench corrected = demo_bench();
  find_by_id(corrected.devices, std::string("compost_converter"))->settings["curve"] = 1;
  for (const Language language : {Language::c, Language::python}) {
    const Handoff right = hand(corrected, "compost_middle", language);
    EXPECT_THAT(language == Language::c ? run_c(right) : run_python(right), testing::StartsWith("0 differ"));
    ASSERT_TRUE(right.report.proven_bound);
    EXPECT_LT(right.report.worst_error, *right.report.proven_bound + 1e-12);
    EXPECT_LT(*right.report.proven_bound, 2.0 / static_cast<double>(right.code.per_unit)) << "steps";
    EXPECT_LT(right.report.worst_error_wanted, 0.8 / static_cast<double>(right.code.per_unit)) << "half is rounding";
  }
}

// Source: tables of IEC 60584-1.
TEST(ReferenceTable, KeepsToThePrintedTables) {
  constexpr double tolerance = 0.05;  // K, and the tables are rounded to the microvolt
  for (const auto& [name, celsius, millivolts] : {std::tuple{"celsius_k", 600.0, 24.905},
                                                  {"celsius_k", -100.0, -3.554},
                                                  {"celsius_k", 1300.0, 52.410},
                                                  {"celsius_s", 1000.0, 9.587},
                                                  {"celsius_t", 100.0, 4.279},
                                                  {"celsius_j", 500.0, 27.393}}) {
    const auto table = reference_table(name, tolerance);
    ASSERT_TRUE(table) << name;
    EXPECT_NEAR(table->at(millivolts / 1000), celsius, tolerance + 0.1) << name;
    EXPECT_LE(table->worst, tolerance) << name;
    EXPECT_LT(table->x.size(), 300u) << name;
  }
  const auto volts = reference_table("volts_k", tolerance);
  EXPECT_NEAR(volts->at(100.0) * 1000, 4.096, 0.001);
  EXPECT_NEAR(volts->at(-100.0F) * 1000, -3.554F, 0.001F);
  auto formula = Formula::read({{"t", "celsius_k(v / 1000)"}});
  formula->bind({"v"});
  EXPECT_TRUE(std::isnan(formula->run<double>(std::array{24.905}))) << "its table is not made yet";
  EXPECT_FALSE(formula->tabulate(tolerance));
  formula->bind({"v"});
  EXPECT_NEAR(formula->run<double>(std::array{24.905}), 600, 2 * tolerance);
  EXPECT_FALSE(ReferenceTable::is_name("celsius_q"));
  EXPECT_FALSE(reference_table("celsius_k", 1e-7)) << "finer than any table";
}

// The part's own field is called "raw", as the number is in what is written.
TEST_F(HandoffTest, AFieldMayBeCalledRaw) {
  const Handoff done = hand(bench_of("BH1750", Quantity::illuminance), "c", Language::c);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_EQ(done.report.codes_checked, 65536);
}

// Tenths that are sent and tenths that are given: whole steps, and what double loses of 0.1 is no error.
TEST_F(HandoffTest, NoneIsOffWhereTheStepsAreTheParts) {
  const Handoff done = hand(bench_of("DHT22", Quantity::temperature), "c", Language::c, std::nullopt, 10);
  EXPECT_EQ(done.report.worst_error, 0);
  EXPECT_EQ(done.report.worst_error_wanted, 0);
  for (const ErrorStretch& each : done.errors) EXPECT_TRUE(each.least == 0 && each.most == 0) << each.first;
}

// A setting that is known leaves one branch of a formula: the other is not written.
TEST(BytePlan, HasTheBranchThatASettingChooses) {
  const auto symbols = [](const Numbers& settings) {
    const Bench bench = bench_of("VEML7700", Quantity::illuminance, settings);
    const auto chain = build_chain(bench, shipped_parts(), "c");
    const auto plan = plan_bytes(*chain);
    std::vector<std::string> all;
    for (const FormulaStep& step : plan->steps) all.push_back(step.symbol);
    return all;
  };
  EXPECT_THAT(symbols({}), testing::Contains("straight"));
  EXPECT_THAT(symbols({}), testing::Not(testing::Contains("bent")));
  EXPECT_THAT(symbols({{"correction", 1}}), testing::Contains("bent"));
}

TEST_F(HandoffTest, AFaultRegisterIsReadWithTheData) {
  const Handoff done = hand(bench_of("MAX31856", Quantity::temperature), "c", Language::c);
  EXPECT_EQ(run_c(done), "0 differ\n");
  EXPECT_THAT(done.files.at("c.c"), HasSubstr("(OPEN == UINT32_C(1)) return c_DISCONNECTED")) << "the sixth byte";
}

// What a library has converted: its correction and its unit are left to be done. By hand: 21.15 °C with −0.42 at 20 °C
// and 1.3 % more a degree is 21.15 − 0.42 + 0.013 · 1.15 = 20.74495; 72.5 °F are 22.5 °C.
TEST_F(HandoffTest, AValueThatArrivesIsCorrected) {
  Bench bench;
  Channel inside{.id = "inside", .wanted = {0, 50}, .tolerance = 1};
  inside.unit = "Cel";
  inside.arrives = Arrival{.unit = "Cel", .decimals = 2};
  inside.correction = {
      .coefficients = {-0.42, 0.013}, .origin = 20, .standard_uncertainty = 0.05, .covered = Range{0, 50}};
  Channel outside{.id = "outside", .wanted = {-10, 40}, .tolerance = 1};
  outside.unit = "Cel";
  outside.arrives = Arrival{.unit = "[degF]", .decimals = 1};
  Channel plain = inside;
  plain.id = "plain", plain.correction = {};
  bench.channels = {inside, outside, plain};
  const auto of = [](const Handoff& done, std::int64_t raw) {
    const auto found = std::ranges::find(done.vectors, fmt::format("{}", raw), &HandoffVector::raw);
    EXPECT_NE(found, done.vectors.end()) << raw;
    return found == done.vectors.end() ? std::nan("") : static_cast<double>(found->value.value_or(-99999));
  };
  for (const Language language : {Language::c, Language::python}) {
    const Handoff corrected = hand(bench, "inside", language, HandoffForm::integer, 1000);
    EXPECT_THAT(language == Language::c ? run_c(corrected) : run_python(corrected), ::testing::StartsWith("0 differ"));
    EXPECT_EQ(corrected.report.codes_checked, 6001) << "−5 to 55 °C in hundredths";
    EXPECT_LE(corrected.report.worst_error, 0.0011);
    const auto near = [&](double raw) { return raw * 10 - 420 + 0.013 * (raw * 10 - 20000); };
    for (const HandoffVector& vector : corrected.vectors) {
      if (!vector.value) continue;
      EXPECT_NEAR(static_cast<double>(*vector.value), near(std::stod(vector.raw)), 1.1) << vector.raw;
    }
    EXPECT_NEAR(near(2115), 20744.95, 1e-9);
    const Handoff fahrenheit = hand(bench, "outside", language, HandoffForm::integer, 100);
    EXPECT_THAT(language == Language::c ? run_c(fahrenheit) : run_python(fahrenheit),
                ::testing::StartsWith("0 differ"));
    EXPECT_NEAR(of(fahrenheit, 725), 2250, 1);
    EXPECT_NEAR(of(fahrenheit, 140), -1000, 1) << "14 °F";
    const std::string head = fahrenheit.files.at(language == Language::c ? "outside.h" : "outside.py");
    EXPECT_THAT(head, HasSubstr("the value of outside as it arrives, in steps of 1/10 degF, from 50 to 1130"));
  }
  // Another correction is another source.
  const std::string source = hand(bench, "inside", Language::c, HandoffForm::integer, 100).report.source;
  bench.channels[0].correction.coefficients[0] = -0.43;
  EXPECT_NE(hand(bench, "inside", Language::c, HandoffForm::integer, 100).report.source, source);
  const auto nothing = hand_over(bench, shipped_parts(), {.channel = "plain", .in_simulator = false});
  ASSERT_FALSE(nothing);
  EXPECT_THAT(to_text(nothing.problem()), HasSubstr("nothing is added to it"));
  // What is wanted may be anything that a file holds: it is refused, not run for ever or taken for another number.
  const auto refused = [&](Range wanted, int decimals) {
    bench.channels[0].wanted = wanted;
    bench.channels[0].arrives->decimals = decimals;
    const auto done = hand_over(bench, shipped_parts(), {.channel = "inside", .in_simulator = false});
    EXPECT_FALSE(done) << wanted.to;
    return done ? std::string() : to_text(done.problem());
  };
  EXPECT_THAT(refused({-1e300, 1e300}, 2), HasSubstr("16 million"));
  EXPECT_THAT(refused({20, 20.001}, 9), HasSubstr("32 bits"));
  EXPECT_THAT(refused({20, 20}, 2), HasSubstr("no value"));
}

TEST_F(HandoffTest, WhatCannotBeDoneIsSaid) {
  Bench bench = demo_bench();
  bench.devices.front().side_inputs = {{"one", "board"}, {"other", "room"}};
  const auto beside = hand_over(bench, shipped_parts(), {.channel = "substrate"});
  ASSERT_FALSE(beside);
  EXPECT_THAT(to_text(beside.problem()), HasSubstr("several other channels"));
  EXPECT_FALSE(hand_over(demo_bench(), shipped_parts(), {.channel = "gone"}));
  EXPECT_FALSE(hand_over(demo_bench(), shipped_parts(), {.channel = "fan_plate", .form = HandoffForm::floating}));
}

TEST_F(HandoffTest, ItIsCancelledInTheMiddle) {
  int asked = 0;
  const auto stopped = hand_over(demo_bench(), shipped_parts(),
                                 {.channel = "filter", .is_cancelled = [&] { return ++asked == 3; }});  // 24 bits
  ASSERT_FALSE(stopped);
  EXPECT_EQ(stopped.problem().wrong, "it was cancelled");
  EXPECT_EQ(asked, 3);
}

// An expression, what x is, and what comes out, by hand.
struct FormulaRow {
  const char* expression;
  double x, value;
};
const FormulaRow formulas[] = {
    {"x", 3, 3},
    {"-x ^ 2", 3, -9},  // a sign is weaker than a power
    {"2 ^ -x", 2, 0.25},
    {"x - 1 - 1", 5, 3},
    {"8 / x / 2", 2, 2},
    {"1 + 2 * x", 4, 9},
    {"(1 + 2) * x", 4, 12},
    {"x > 1 && x < 3", 2, 1},
    {"x > 1 && x < 3", 3, 0},
    {"x < 1 || x > 3", 4, 1},
    {"x == 2 ? 10 : x == 3 ? 20 : 30", 3, 20},
    {"x == 2 ? 10 : x == 3 ? 20 : 30", 4, 30},
    {"x != 2", 2, 0},
    {"x <= 2", 2, 1},
    {"x >= 2.5", 2, 0},
    {"ln(x)", 1, 0},
    {"log10(x)", 1000, 3},
    {"exp(x)", 0, 1},
    {"sqrt(x)", 81, 9},
    {"abs(x)", -4, 4},
    {"max(x, 7)", 3, 7},
    {"1e3 * x", 2, 2000},
    {"1.5e-3*x", 2, 0.003},
    {"x - (3 - x)", 5, 7},
    {"x - (3 + x) * 2", 5, -11},
    {"x / (2 / x)", 4, 8},
    {"12 / x / 2", 3, 2},
    {"12 / (x * 2)", 3, 2},
    {"-(x + 1) * 2", 2, -6},
    {"2 - -x", 3, 5},
    {"-(-x)", 3, 3},
    {"x * -2 + -0.5", 3, -6.5},
    {"x - (-0.5)", 3, 3.5},
    {"-x ^ 2", 3, -9},
    {"(-x) ^ 2", 3, 9},
    {"-2 ^ x", 2, -4},
    {"2 ^ (x + 1)", 2, 8},
    {"2 ^ -x", 1, 0.5},
    {"(x > 1 ? 2 : 3) * 4 - x", 2, 6},
    {"(x > 1 || x < 0) && x < 3", 2, 1},
    {"(x > 1 || x < 0) && x < 3", 5, 0},
    {"x > 1 || x < 0 && x > -2", 5, 1},
    {"(x > 1) + 1", 2, 2},
    {"(x > 1) == (x > 4)", 2, 0},
    {"x > 1 ? x > 2 ? 3 : 2 : 1", 2, 2},
    {"x - 1 ? 5 : 6", 1, 6},
    {"x && 2", 3, 1},
    {"1 * x + 0", 3, 3},
    {"x / 1 - 0", 3, 3},
};

TEST(Formula, EveryOperatorIsTheFieldsOwn) {
  for (const FormulaRow& row : formulas) {
    auto formula = Formula::read({{"y", row.expression}});
    ASSERT_TRUE(formula) << row.expression;
    formula->bind({"x"});
    EXPECT_DOUBLE_EQ(formula->run<double>(std::array{row.x}), row.value) << row.expression << " at " << row.x;
    EXPECT_FLOAT_EQ(formula->run<float>(std::array{row.x}), static_cast<float>(row.value)) << row.expression;
  }
}

// The same rows by a compiler and an interpreter that know nothing of ours.
TEST_F(HandoffTest, FormulasMeanTheSameInBothLanguages) {
  std::string c = "#include <math.h>\n#include <stdio.h>\nint main(void) {\n", python = "import math\n";
  for (const FormulaRow& row : formulas) {
    const auto formula = Formula::read({{"y", row.expression}});
    c += fmt::format("  {{ const float x = {:.3f}f; (void)x; printf(\"%.4g\\n\", (double)({})); }}\n", row.x,
                     formula->write(Language::c).front().expression);
    python += fmt::format("x = {}\nprint('%.4g' % ({}))\n", row.x, formula->write(Language::python).front().expression);
  }
  std::string expected;
  for (const FormulaRow& row : formulas) expected += fmt::format("{:.4g}\n", row.value);
  write("rows.c", c + "  return 0;\n}\n");
  write("rows.py", python);
  EXPECT_EQ(shell("gcc -std=c99 -Wall -Wextra -Werror rows.c -o rows -lm && ./rows"), expected);
  EXPECT_EQ(shell("python3 rows.py"), expected);
}

TEST(Formula, IsReadRunAndWritten) {
  auto formula = Formula::read({{"a", "x > 2 ? x ^ 2 : -x"}, {"b", "a * (1 + floor(a / 3)) - min(a, 4)"}});
  ASSERT_TRUE(formula) << to_text(formula.problem());
  formula->bind({"x"});
  EXPECT_DOUBLE_EQ(formula->run<double>(std::array{3.0}), 9 * 4 - 4.0);          // a = 9
  EXPECT_DOUBLE_EQ(formula->run<double>(std::array{1.0}), -1 * (1 + -1.0) + 1);  // a = −1, floor(−1/3) = −1
  EXPECT_EQ(formula->inputs(), std::vector<std::string>{"x"});
  EXPECT_THAT(formula->write(Language::c).front().expression, HasSubstr("powf(x, 2.0f)"));
  // Parentheses stand where the sum would be rounded otherwise without them, and nowhere else.
  const auto sum = Formula::read({{"y", "(((a + b) + (c + d)) * 2) + (-0.2)"}});
  EXPECT_EQ(sum->write(Language::c).front().expression, "(a + b + (c + d)) * 2.0f - 0.2f");
  // A choice asks as a person would, and a last step that only renames is left out.
  const auto choice = Formula::read({{"over", "a > 2 && b > 1 || c ? a * 1 + 0 : b"}, {"shown", "over"}});
  ASSERT_EQ(choice->write(Language::c).size(), 1u);
  EXPECT_EQ(choice->write(Language::c).front().symbol, "over");
  EXPECT_EQ(choice->write(Language::c).front().expression, "(a > 2.0f && b > 1.0f) || c != 0.0f ? a : b");
  EXPECT_EQ(choice->write(Language::python).front().expression, "a if (a > 2.0 and b > 1.0) or c != 0 else b");
  for (const char* wrong : {"", "1 +", "(2", "foo(3)", "3 4", "a ? b", "2 ^", "1..2"})
    EXPECT_FALSE(Formula::read({{"y", wrong}})) << wrong;
}

// The macros decide as the readings do: over every code that is a reading, by a program of their own.
TEST_F(HandoffTest, SwitchingRulesBecomeComparisons) {
  Bench bench = demo_bench();
  // Of a part that answers with bytes the number is that of its field.
  find_by_id(bench.channels, "room")->switching = SwitchingRule{.goal = 20, .band = 1};
  const Handoff digital = hand(bench, "room", Language::c);
  EXPECT_NE(digital.files.at("room.h").find("#define room_ON_CODE "), std::string::npos);
  EXPECT_NE(digital.files.at("room.h").find("#define room_IS_OFF(raw) "), std::string::npos);
  Channel& channel = *find_by_id(bench.channels, "substrate");
  for (const bool heats : {true, false}) {
    channel.switching = SwitchingRule{.heats = heats, .goal = 25, .band = 0.5};
    const Handoff done = hand(bench, "substrate", Language::c, HandoffForm::table);
    write_all(done);
    write("main.c",
          "#include <stdio.h>\n#include \"substrate.h\"\nint main(void) { uint32_t raw; for (raw = 0; raw < 4096; "
          "++raw) printf(\"%d%d\", substrate_IS_ON(raw) ? 1 : 0, substrate_IS_OFF(raw) ? 1 : 0); return 0; }\n");
    const std::string said = shell("gcc -std=c99 -Wall -Wextra -Wpedantic -Werror main.c -o main && ./main");
    ASSERT_EQ(said.size(), 8192u) << said;
    const Chain chain = *build_chain(bench, shipped_parts(), "substrate");
    for (std::size_t raw = 0; raw < 4096; ++raw) {
      const auto reading = read_raw(chain, static_cast<double>(raw));
      if (!reading) continue;
      EXPECT_EQ(said[2 * raw] == '1', heats ? *reading < 24.5 : *reading > 25.5) << raw;
      EXPECT_EQ(said[2 * raw + 1] == '1', heats ? *reading > 25.5 : *reading < 24.5) << raw;
    }
  }
}

}  // namespace fair_gauge::handoff_test
