// What part files say of times, currents, pins and errors by setting: held against the tables of the sheets by hand.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "chain/chain.h"
#include "chain/links.h"
#include "demo.h"
#include "digital/decoder.h"
#include "digital/encoder.h"
#include "digital/registers.h"
#include "truth/error_budget.h"
#include "wiring/bus_check.h"
#include "wiring/cycle_plan.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::part_figures_test {

using testing::Contains;
using testing::HasSubstr;

const Part& part_of(const std::string& marking) {
  const Part* part = shipped_parts().find(marking);
  EXPECT_TRUE(part) << marking;
  return *part;
}

// ---- times by setting ----

using Numbers = std::map<std::string, double>;

struct TimeRow {
  const char* marking;
  Numbers settings, registers;
  double longest_s;
};

const TimeRow times[] = {
    {"SHT31", {{"repeatability", 0}}, {}, 4.5e-3},
    {"SHT31", {{"repeatability", 1}}, {}, 6.5e-3},
    {"SHT31", {}, {}, 15.5e-3},
    {"SHT40", {{"repeatability", 0}}, {}, 1.6e-3},
    {"SHT40", {{"repeatability", 1}}, {}, 4.5e-3},
    {"SHT45", {}, {}, 8.3e-3},
    {"SHTC3", {{"power", 0}}, {}, 0.8e-3},
    {"SHTC3", {}, {}, 12.1e-3},
    {"SI7021", {}, {{"0xE6", 0x02}}, 22.8e-3},  // 12 and 10.8 ms: a humidity takes a temperature with it
    {"SI7021", {}, {{"0xE6", 0x83}}, 9.4e-3},   // 11 bits each: 7 and 2.4 ms
    {"HDC1080", {}, {{"0x02", 0x1000}}, 12.85e-3},
    {"SHT21", {}, {{"0xE6", 0x80}}, 52e-3},  // 10 and 13 bits: 9 and 43 ms
    {"MS5611", {{"pressure_oversampling", 256}, {"temperature_oversampling", 256}}, {}, 1.2e-3},
    {"MS5611", {{"temperature_oversampling", 1024}}, {}, 9.04e-3 + 2.28e-3},
    {"MS5611", {}, {}, 18.08e-3},
    {"MS5637", {{"pressure_oversampling", 256}, {"temperature_oversampling", 8192}}, {}, 0.54e-3 + 16.44e-3},
    {"BMP180", {{"oversampling", 0}}, {}, 9e-3},  // 4.5 and 4.5 ms
    {"BMP180", {{"oversampling", 3}}, {}, 30e-3},
    {"BME280", {}, {{"0xF2", 1}, {"0xF4", 0x27}}, 9.3e-3},
    {"BME280", {}, {{"0xF2", 5}, {"0xF4", 0xB7}}, 112.8e-3},
    {"BME280", {}, {}, 112.8e-3},  // asleep after power-on: the longest that it may be set to
    {"BMP388", {}, {}, 138e-3},
    {"BMP280", {}, {{"0xF4", 0x57}}, 43.225e-3},  // 1.25 + 4.6 + 36.8 + 0.575
    {"DPS310", {{"pressure_oversampling", 128}, {"temperature_oversampling", 1}}, {}, 0.004 + 0.2048 + 0.0016},
    {"ADS1115", {}, {{"0x01", 0x8583 | 0x00E0}}, 1.1 / 860},
    {"ADS1115", {}, {{"0x01", 0x8503}}, 1.1 / 8},
    {"MCP3421", {}, {{"one byte", 0x9C}}, 1 / 2.75},  // 18 bits at the slowest clock of the sheet
    {"MCP3421", {}, {{"one byte", 0x90}}, 1.0 / 176},
    {"HX711", {}, {}, 0.1},
    {"HX711", {{"rate", 80}}, {}, 0.0125},
    {"TSL2561", {{"integration_ms", 13.7}}, {}, 13.7e-3 * 735 / 690},
    {"TSL2591", {{"integration_ms", 600}}, {}, 0.648},
    {"BH1750", {}, {}, 0.18},
    {"BH1750", {{"mode", 3}}, {}, 0.024},
    {"BH1750", {{"mtreg", 138}}, {}, 0.36},
    {"OPT3001", {}, {{"0x01", 0xC210}}, 0.11},
    {"DS18B20", {}, {{"0x4E", 0x1F}}, 93.75e-3},
    {"DS18B20", {}, {}, 0.75},
    {"MCP9808", {}, {{"0x08", 0}}, 30e-3},
    {"TMP117", {}, {{"0x01", 0x0060}}, 64 * 15.5e-3},
    {"MAX31856", {}, {{"0x00", 1}}, 0.185},
    {"MAX31856", {}, {{"0x01", 0x13}}, 0.155 + 0.03333},
    {"MCP9600", {}, {}, 0.57},
    {"MCP9600", {}, {{"0x06", 0xE0}}, 0.005 + 0.063},
    {"MAX31855", {}, {}, 0.1},
    {"DS3231", {}, {}, 0.2},
};

TEST(PartFigures, ConversionsTakeWhatTheSheetAsksForWithTheseSettings) {
  for (const TimeRow& row : times)
    EXPECT_NEAR(conversion_time(part_of(row.marking), row.settings, row.registers), row.longest_s, 2e-3 * row.longest_s)
        << row.marking << " " << testing::PrintToString(row.settings) << testing::PrintToString(row.registers);
}

// ---- currents ----

struct CurrentRow {
  const char* marking;
  double resting_a, converting_a;
  Rest rest;
};

const CurrentRow currents[] = {
    {"SHT31", 0.2e-6, 600e-6, Rest::by_itself},   {"SHT40", 0.08e-6, 320e-6, Rest::by_itself},
    {"SHTC3", 0.3e-6, 430e-6, Rest::when_told},   {"SI7021", 0.06e-6, 150e-6, Rest::by_itself},
    {"HDC1080", 0.1e-6, 190e-6, Rest::by_itself}, {"DHT22", 40e-6, 1e-3, Rest::by_itself},
    {"BME280", 0.1e-6, 714e-6, Rest::by_itself},  {"BMP180", 0.1e-6, 650e-6, Rest::by_itself},
    {"MS5611", 0.02e-6, 1.4e-3, Rest::by_itself}, {"MS5637", 0.01e-6, 1.25e-3, Rest::by_itself},
    {"DPS310", 0.5e-6, 345e-6, Rest::when_told},  {"MPL115A2", 1e-6, 5e-6, Rest::when_told},
    {"ADS1115", 0.5e-6, 150e-6, Rest::by_itself}, {"HX711", 0.5e-6, 1.5e-3, Rest::when_told},
    {"TSL2561", 3.2e-6, 240e-6, Rest::when_told}, {"BH1750", 0.01e-6, 120e-6, Rest::by_itself},
    {"VEML7700", 0.5e-6, 45e-6, Rest::when_told}, {"DS18B20", 0.75e-6, 1e-3, Rest::by_itself},
    {"TMP102", 0.5e-6, 40e-6, Rest::when_told},   {"TMP117", 0.15e-6, 135e-6, Rest::when_told},
    {"MCP9808", 0.1e-6, 200e-6, Rest::when_told}, {"LM75", 4e-6, 250e-6, Rest::when_told},
    {"MAX31855", 900e-6, 900e-6, Rest::never},    {"MAX6675", 0.7e-3, 0.7e-3, Rest::never},
    {"LM35", 56e-6, 56e-6, Rest::never},          {"TMP36", 50e-6, 50e-6, Rest::never},
};

TEST(PartFigures, CurrentsAreThoseOfTheSheets) {
  for (const CurrentRow& row : currents) {
    const Part& part = part_of(row.marking);
    EXPECT_DOUBLE_EQ(part.resting_a().value_or(0), row.resting_a) << row.marking;
    EXPECT_DOUBLE_EQ(part.converting_a().value_or(0), row.converting_a) << row.marking;
    EXPECT_EQ(part.supply.rest, row.rest) << row.marking;
  }
}

Bench bench_with(const std::string& part, Quantity quantity, Numbers settings = {}, Numbers registers = {}) {
  Bench bench;
  bench.rails.push_back({.id = "3v3", .voltage = {.nominal_v = 3.3}});
  bench.buses.push_back({.id = "bus", .kind = BusKind::two_wire, .rail = "3v3", .speed_hz = 100e3});
  bench.devices.push_back({.id = "d",
                           .part = part,
                           .settings = std::move(settings),
                           .registers = std::move(registers),
                           .bus = "bus",
                           .rail = "3v3"});
  bench.channels.push_back({.id = "c",
                            .name = "C",
                            .device = "d",
                            .quantity = quantity,
                            .wanted = {10, 30},
                            .tolerance = 1,
                            .period_s = 60,
                            .unit = std::string(base_unit(quantity).ucum)});
  return bench;
}

double charge_of(const CyclePlan& plan, const std::string& name) {
  const auto found = std::ranges::find_if(plan.charges, [&](const auto& each) { return each.first == name; });
  return found == plan.charges.end() ? std::nan("") : found->second;
}

TEST(PartFigures, ABatteryLastsByWhatThePartDrawsAsleepAndAtWork) {
  Bench bench = bench_with("MS5611", Quantity::temperature);
  bench.power.period_s = 60;
  // 18.08 ms of 1.4 mA a minute over 20 nA: 0.42187 + 0.02 µA. With the average of the sheet's table at rest: 12.9 µA.
  EXPECT_NEAR(charge_of(plan_cycle(bench, shipped_parts()), name_of(bench, bench.devices.front())),
              0.02e-6 + (1.4e-3 - 0.02e-6) * 18.08e-3 / 60, 1e-9);
  bench = bench_with("MCP9808", Quantity::temperature);
  const auto findings = plan_cycle(bench, shipped_parts()).findings;
  EXPECT_TRUE(std::ranges::any_of(findings, [](const Finding& finding) {
    return finding.words.find("only when it is told") != std::string::npos;
  }));
}

TEST(PartFigures, ASettingThatTakesLongerLengthensTheCycle) {
  const double quick = plan_cycle(bench_with("BME280", Quantity::temperature, {}, {{"0xF4", 0x27}}), shipped_parts())
                           .devices.front()
                           .shortest_s;
  Bench slow = bench_with("BME280", Quantity::temperature, {}, {{"0xF2", 5}, {"0xF4", 0xB7}});
  slow.channels.front().period_s = 0.1;
  const CyclePlan plan = plan_cycle(slow, shipped_parts());
  EXPECT_LT(quick, 0.02);
  EXPECT_GT(plan.devices.front().shortest_s, 0.1128);
  EXPECT_THAT(plan.findings.front().words, HasSubstr("it can answer every"));
}

TEST(PartFigures, APartThatRunsByItselfIsAskedNoFasterThanItGivesAnew) {
  // After power-on: one result each second with eight of 15.5 ms averaged; four a second; one each 64 s.
  const auto shortest = [](const char* part) {
    return plan_cycle(bench_with(part, Quantity::temperature), shipped_parts()).devices.front().shortest_s;
  };
  EXPECT_NEAR(shortest("TMP117"), 1, 1e-3);
  EXPECT_NEAR(shortest("TMP102"), 0.25, 1e-3);
  EXPECT_NEAR(shortest("DS3231"), 64, 1e-3);
}

TEST(PartFigures, CommandsTakeTheirTime) {
  const auto takes = [](const char* marking, const char* command) {
    const auto& all = part_of(marking).bytes.commands;
    const auto found = std::ranges::find(all, command, &PartCommand::name);
    return found == all.end() ? std::nan("") : found->takes_s;
  };
  EXPECT_DOUBLE_EQ(takes("MS5611", "reset"), 2.8e-3);
  EXPECT_DOUBLE_EQ(takes("SHT31", "reset"), 1.5e-3);
  EXPECT_DOUBLE_EQ(takes("SHT40", "heater, 200 mW for 1 s"), 1.1);
  EXPECT_DOUBLE_EQ(takes("DS18B20", "keep registers without power"), 10e-3);
}

TEST(PartFigures, BrightLightIsBentBackByTheMakersPolynomial) {
  // 10 000 straight lux are 10 023 + 8148.8 − 9392.4 + 6013.5 = 14 792.9 lx.
  const ByteBlocks bytes{{"0x04", {0x18, 0xA0}}};
  const double straight = 0xA018 * 0.0036 * (800 / 100.0) * 2;
  EXPECT_NEAR(Decoder::make(part_of("VEML7700"))->decode(bytes).reading(Quantity::illuminance)->value, straight, 0.1);
  const auto corrected =
      Decoder::make(part_of("VEML7700"), {{"correction", 1}, {"integration_ms", 100}})->decode(bytes);
  const double x = straight;
  EXPECT_NEAR(corrected.reading(Quantity::illuminance)->value,
              1.0023 * x + 8.1488e-5 * x * x - 9.3924e-9 * x * x * x + 6.0135e-13 * x * x * x * x, 0.1);
  EXPECT_NEAR(
      Decoder::make(part_of("VEML7700"), {{"finest_lx", 0.0042}})->decode(bytes).reading(Quantity::illuminance)->value,
      straight * 42 / 36, 0.1);
}

TEST(PartFigures, ThePeriodOfThePressurePartMustHoldItsConversions) {
  // The sheet's own configuration error: 5 ms with oversampling of the pressure.
  const auto warned = [](std::vector<unsigned> values) {
    const auto composition = compose(part_of("BMP388").bytes, values);
    return std::ranges::any_of(composition->warnings, [](const std::string& words) {
      return words.find("configuration error") != std::string::npos;
    });
  };
  EXPECT_TRUE(warned({0x33, 0x05, 0x00, 0x00}));   // × 32 takes 66 ms
  EXPECT_FALSE(warned({0x33, 0x05, 0x04, 0x00}));  // 80 ms
  EXPECT_FALSE(warned({0x33, 0x00, 0x00, 0x00}));  // 4.8 ms at × 1
}

double standard_of(const Bench& bench, double at, const std::string& source) {
  const auto chain = build_chain(bench, shipped_parts(), bench.channels.front().id);
  EXPECT_TRUE(chain) << (chain ? "" : to_text(chain.problem()));
  const auto budget = error_budget(*chain, at);
  EXPECT_TRUE(budget);
  const auto line = std::ranges::find(budget->lines, source, &Contribution::name);
  return line == budget->lines.end() ? 0 : line->standard;
}

// ---- frequency outputs, and a number in two registers ----

TEST(PartFigures, FrequenciesAreCountedOverAGate) {
  // The sheet's table of the timer circuit, counted for a second: 7351 Hz at 0 %, 6660 at 55 %, 6033 at 100 %, of
  // which the sheet's own polynomial keeps within half a per cent.
  const auto law = transfer_law(part_of("HS1101"), {});
  ASSERT_TRUE(law);
  EXPECT_NEAR(law->output(10), 7224, 0.005 * 7224);
  EXPECT_NEAR(law->output(55), 6660, 0.005 * 6660);
  EXPECT_NEAR(law->output(90), 6186, 0.006 * 6186);
  EXPECT_NEAR(law->quantity(law->output(37)), 37, 1e-6);
  // 430 µW/cm² of red light are 4.3 W/m² · 148.2 lm/W = 637 lx and 250 kHz.
  const auto light = transfer_law(part_of("TSL235R"), {{"gate", 1}});
  EXPECT_NEAR(light->output(637), 250e3, 0.01 * 250e3);
  EXPECT_NEAR(transfer_law(part_of("TSL235R"), {})->output(637), 25e3, 0.01 * 25e3);
  Bench bench = bench_with("HS1101", Quantity::humidity);
  bench.channels.front().wanted = {30, 90};
  const auto chain = build_chain(bench, shipped_parts(), "c");
  ASSERT_TRUE(chain) << to_text(chain.problem());
  EXPECT_NEAR(*read_raw(*chain, 6660), 55, 1);
  // 3 pF of 180 are 1.67 % of the frequency, over a slope of 0.19 % for each per cent of humidity.
  EXPECT_NEAR(standard_of(bench, 55, "Capacitance at 55 %, off by 1.67 %") * std::sqrt(3), 8.8, 0.6);
}

TEST(PartFigures, AnExponentAndAMantissaInTwoRegistersAreOneReading) {
  const Decoder decoder = *Decoder::make(part_of("MAX44009"));
  EXPECT_NEAR(decoder.decode({{"0x03", {0x5A, 0x07}}}).reading(Quantity::illuminance)->value, 0.045 * 32 * 167, 1e-9);
  EXPECT_NEAR(decoder.decode({{"0x03", {0xEF, 0x0F}}}).reading(Quantity::illuminance)->value, 188006.4,
              1e-6);  // full scale
  EXPECT_EQ(decoder.decode({{"0x03", {0xFF, 0x0F}}}).faults.front().code, "saturated");
  Bench bench = bench_with("MAX44009", Quantity::illuminance);
  bench.channels.front().wanted = {10, 1000};
  const auto chain = build_chain(bench, shipped_parts(), "c");
  ASSERT_TRUE(chain) << to_text(chain.problem());
  const auto raw = raw_for(*chain, 240.48);
  ASSERT_TRUE(raw) << to_text(raw.problem());
  EXPECT_NEAR(*read_raw(*chain, *raw), 240.48, 1.5);
}

// ---- noise, bands and numbers in the budget ----

TEST(PartFigures, NoiseFollowsTheSettings) {
  // The sheets' tables: 0.08 % three sigma at high repeatability, 0.21 at low; 6.5 Pa at 256, 1.2 Pa at 4096.
  EXPECT_NEAR(standard_of(bench_with("SHT31", Quantity::humidity), 50, "noise of the part"), 0.08 / 3, 1e-3);
  EXPECT_NEAR(standard_of(bench_with("SHT31", Quantity::humidity, {{"repeatability", 0}}), 50, "noise of the part"),
              0.07, 1e-3);
  Bench pressure = bench_with("MS5611", Quantity::pressure, {{"pressure_oversampling", 256}});
  pressure.channels.front().wanted = {95000, 105000};
  EXPECT_NEAR(standard_of(pressure, 100000, "noise of the part"), 6.5, 0.1);
}

TEST(PartFigures, ABandHoldsWhereTheOtherReadingIs) {
  Bench bench = bench_with("BME280", Quantity::pressure);
  bench.channels.front().wanted = {95000, 105000};
  const auto width = [&] { return standard_of(bench, 100000, "part accuracy"); };  // typical: one standard deviation
  EXPECT_NEAR(width(), 100, 1e-6) << "no temperature is measured: the usual line";
  Channel beside = bench.channels.front();
  beside.id = "t", beside.quantity = Quantity::temperature, beside.unit = "Cel", beside.wanted = {5, 30};
  bench.channels.push_back(beside);
  EXPECT_NEAR(width(), 100, 1e-6);
  bench.channels.back().wanted = {-15, -5};
  EXPECT_NEAR(width(), 170, 1e-6);
  bench.channels.back().wanted = {-15, 30};
  EXPECT_NEAR(width(), 170, 1e-6) << "the wider of two that hold";
}

TEST(PartFigures, TheTwoSidesOfALimitMayDiffer) {
  const PartQuantity& quantity = *part_of("MCP9700").measures(Quantity::temperature);
  const auto accuracy = sheet_accuracy(quantity, 100);  // −4 °C and +6 °C outside 0…70 °C
  ASSERT_TRUE(accuracy);
  EXPECT_DOUBLE_EQ(accuracy->half_width, 6);
  EXPECT_THAT(accuracy->words, HasSubstr("+6 −4 °C maximum"));
}

Bench thermistor_bench() {
  Bench bench;
  bench.rails.push_back({.id = "3v3", .voltage = {.nominal_v = 3.3}});
  bench.converters.push_back({.id = "adc", .bits = 16, .reference_rail = "3v3"});
  bench.devices.push_back(
      {.id = "d",
       .part = "ntc-10k-3950",
       .converter = "adc",
       .front_end = {.kind = FrontEndKind::divider, .fixed_ohm = 10e3, .fixed_tolerance = 1e-9, .rail = "3v3"}});
  bench.channels.push_back({.id = "c",
                            .name = "C",
                            .device = "d",
                            .quantity = Quantity::temperature,
                            .wanted = {0, 60},
                            .tolerance = 1,
                            .unit = "Cel"});
  return bench;
}

TEST(PartFigures, AThermistorIsOffByItsNumbers) {
  Bench bench = thermistor_bench();
  // By the law itself: 1/T = 1/298.15 + ln(R/R25)/B. R25 off by 1 % reads off by T²/B·ln 1.01, B by T·(T − T25)/T25·…
  const auto kelvin = [](double r, double r25, double b) { return 1 / (1 / 298.15 + std::log(r / r25) / b); };
  const auto ohm = [](double t, double r25, double b) { return r25 * std::exp(b * (1 / (t + 273.15) - 1 / 298.15)); };
  for (const double t : {0.0, 25.0, 60.0}) {
    const double of_r25 = std::abs(kelvin(ohm(t, 10100, 3950), 10000, 3950) - 273.15 - t),
                 of_b = std::abs(kelvin(ohm(t, 10000, 3950 * 1.01), 10000, 3950) - 273.15 - t);
    EXPECT_NEAR(standard_of(bench, t, "R25, off by 1 %"), of_r25 / std::sqrt(3), 1e-3) << t;
    EXPECT_NEAR(standard_of(bench, t, "B, off by 1 %"), of_b / std::sqrt(3), 1e-3) << t;
  }
  bench.devices.front().grade = "5 % of R25, 3 % of B";
  EXPECT_NEAR(standard_of(bench, 25, "R25, off by 5 %"), 298.15 * 298.15 / 3950 * std::log(1.05) / std::sqrt(3), 5e-3);
}

TEST(PartFigures, OnePointTakesTheToleranceOfR25AndLeavesThatOfB) {
  Bench bench = thermistor_bench();
  Correction& correction = bench.channels.front().correction;
  correction.coefficients = {-0.2};
  correction.covered = Range{25, 25};
  correction.standard_uncertainty = 0.01;
  EXPECT_NEAR(standard_of(bench, 25, "R25, off by 1 %"), 0, 1e-3);  // it read 25.2 there
  // What is left at 60 °C of R25: 1 % of (T²(60) − T²(25))/B = 0.056 K; of B: T(60)·35/298.15 % = 0.391 K.
  EXPECT_NEAR(standard_of(bench, 60, "R25, off by 1 %") * std::sqrt(3), 0.056, 2e-3);
  EXPECT_NEAR(standard_of(bench, 60, "B, off by 1 %") * std::sqrt(3), 0.391, 0.01);
}

// ---- the converter of fixed slope ----

// Type K by the reference tables (IEC 60584-1), mV at °C; junction at 25 °C: 1.000 mV. The part adds its own 25 °C to
// the difference over 41.276 µV/K.
struct SlopeRow {
  double celsius, millivolts, off;
};
constexpr SlopeRow slopes[] = {{-200, -5.891, 58}, {-100, -3.554, 14.7}, {300, 12.209, -3.5}, {1200, 48.838, -16.0}};

TEST(PartFigures, AConverterOfFixedSlopeIsPutRightByTheReferenceFunction) {
  const Part& part = part_of("MAX31855");
  const Decoder plain = *Decoder::make(part), right = *Decoder::make(part, {{"curve", 1}});
  for (const SlopeRow& row : slopes) {
    const double reads = (row.millivolts - 1.000) / 41.276e-3 + 25;
    EXPECT_NEAR(reads - row.celsius, row.off, 0.6) << row.celsius;
    const auto raw = static_cast<int>(std::lround(reads * 4)) & 0x3FFF;
    const int word = raw << 2, cold = 25 * 16 << 4;
    const ByteBlocks bytes{{"frame",
                            {static_cast<std::uint8_t>(word >> 8), static_cast<std::uint8_t>(word),
                             static_cast<std::uint8_t>(cold >> 8), static_cast<std::uint8_t>(cold)}}};
    EXPECT_NEAR(plain.decode(bytes).reading(Quantity::temperature)->value, reads, 0.125);
    EXPECT_NEAR(right.decode(bytes).reading(Quantity::temperature)->value, row.celsius, 0.4) << row.celsius;
  }
}

TEST(PartFigures, TheBendThatIsLeftInStandsInTheBudget) {
  Bench bench = bench_with("MAX31855", Quantity::temperature);
  bench.devices.front().bus.clear();
  bench.channels.front().wanted = {0, 1200};
  // At a reading of 1184 °C the world is at 1200: 16 K over √3. The junction of the part's example is at 23.5 °C.
  EXPECT_NEAR(standard_of(bench, 1184, "bend that the part leaves in"), 16 / std::sqrt(3), 0.4);
  bench.devices.front().settings["curve"] = 1;
  EXPECT_EQ(standard_of(bench, 1184, "bend that the part leaves in"), 0);
  // And the strip solves it both ways.
  const auto chain = build_chain(bench, shipped_parts(), "c");
  ASSERT_TRUE(chain);
  const auto raw = raw_for(*chain, 1000);
  ASSERT_TRUE(raw) << to_text(raw.problem());
  EXPECT_NEAR(*read_raw(*chain, *raw), 1000, 0.15);
  EXPECT_NEAR(*raw / 4, (41.276 - 0.94) / 41.276e-3 + 23.5, 0.5);  // 41.276 mV at 1000 °C, 0.940 mV at 23.5 °C
}

// ---- limits and identity ----

TEST(PartFigures, LimitsAreStoredAsEachPartKeepsThem) {
  struct Case {
    const char* marking;
    std::size_t which;
    double wished;
    LimitSide side;
    const char* hex;
    double stored;
  };
  const Case cases[] = {
      {"OPT3001", 0, 40.95, LimitSide::upper, "0FFF", 40.95},      // sheet: the largest of exponent 0
      {"OPT3001", 0, 40.96, LimitSide::upper, "1800", 40.96},      // one step more: 2048 of exponent 1
      {"OPT3001", 0, 83865.6, LimitSide::upper, "BFFF", 83865.6},  // sheet: full scale
      {"OPT3001", 0, 100, LimitSide::upper, "29C4", 100},          // 2500 · 4 · 0.01
      {"SHT31", 0, 60, LimitSide::upper, "0133", 59.9},            // (60 + 45)·65535/175 = 39321 = 0x9999, >> 7
      {"SHT31", 1, 80, LimitSide::upper, "CC00", 79.69},           // 80·655.35 = 52428 = 0xCCCC, 7 bits of it
      {"LPS22HB", 0, 100, LimitSide::upper, "0010", 100},          // sheet: hPa · 16
      {"ADS1015", 0, -2, LimitSide::upper, "FFE0", -2},            // 12 bits to the left
      {"TSL2561", 0, 5000, LimitSide::upper, "1388", 5000},        // counts
      {"MCP9808", 0, 27.3, LimitSide::lower, "01B8", 27.5},        //
  };
  for (const Case& each : cases) {
    const auto stored = store_limit(part_of(each.marking).bytes.limits.at(each.which), each.wished, each.side);
    ASSERT_TRUE(stored) << each.marking;
    EXPECT_EQ(to_hex(stored->bytes), each.hex) << each.marking << " " << each.wished;
    EXPECT_NEAR(stored->value, each.stored, 0.05) << each.marking;
  }
  EXPECT_FALSE(store_limit(part_of("OPT3001").bytes.limits.front(), 90000, LimitSide::upper));
  EXPECT_FALSE(store_limit(part_of("TSL2561").bytes.limits.front(), -1, LimitSide::lower));
}

TEST(PartFigures, ANewerRevisionIsStillThePart) {
  struct Case {
    const char* marking;
    const char* address;
    std::uint32_t answer;
    bool is_it;
  };
  const Case cases[] = {
      {"TMP117", "0x0F", 0x0117, true}, {"TMP117", "0x0F", 0x2117, true},  {"TMP117", "0x0F", 0x1116, false},
      {"TMP116", "0x0F", 0x1116, true}, {"MCP9808", "0x07", 0x0401, true}, {"MCP9808", "0x07", 0x0500, false},
      {"ADT7410", "0x0B", 0xCB, true},  {"ADT7410", "0x0B", 0xC8, true},   {"DPS310", "0x0D", 0x20, true},
      {"DPS310", "0x0D", 0x11, false},  {"TSL2561", "0x8A", 0x52, true},   {"BME280", "0xD0", 0x58, false}};
  for (const Case& each : cases) {
    const auto& all = part_of(each.marking).bytes.identity;
    const auto identity = std::ranges::find(all, each.address, &PartIdentity::address);
    ASSERT_NE(identity, all.end()) << each.marking;
    EXPECT_EQ(identity->is_of(each.answer), each.is_it) << each.marking << std::hex << each.answer;
  }
}

TEST(PartFigures, ABusFasterThanAPartIsAFault) {
  Bench bench = bench_with("MCP9600", Quantity::temperature);
  const auto too_fast = [&](double hz) {
    bench.buses.front().speed_hz = hz;
    const auto check = check_bus(bench, shipped_parts(), bench.buses.front());
    return check && std::ranges::any_of(check->findings, [](const Finding& finding) {
             return finding.severity == Severity::fault && finding.words.find("goes up to") != std::string::npos;
           });
  };
  EXPECT_FALSE(too_fast(100e3));
  EXPECT_TRUE(too_fast(400e3));
}

TEST(PartFigures, ReversedTwinsAndLoadsAreNamedInTheWiring) {
  Bench bench;
  bench.rails.push_back({.id = "5v", .voltage = {.nominal_v = 5}});
  bench.devices.push_back({.id = "warm", .part = "TMP36", .rail = "5v"});
  bench.devices.push_back({.id = "damp",
                           .part = "HIH-4030",
                           .front_end = {.kind = FrontEndKind::level_divider, .top_ohm = 10e3, .bottom_ohm = 20e3},
                           .rail = "5v"});
  std::string all;
  for (const Finding& finding : wiring_list(bench, shipped_parts()).findings) all += finding.words + "\n";
  EXPECT_THAT(all, HasSubstr("flat side towards you, legs down, from the left: 1 supply, 2 output, 3 ground"));
  EXPECT_THAT(all, HasSubstr("either burns"));
  EXPECT_THAT(all, HasSubstr("bears 80 kΩ and more, the divider after it has 30 kΩ"));
}

}  // namespace fair_gauge::part_figures_test
