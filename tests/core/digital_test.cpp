// Digital parts: worked examples and tables of their data sheets, faults by name, and the way back to bytes.
#include <gmock/gmock.h>

#include <cmath>
#include <random>
#include <set>

#include "demo.h"
#include "digital/checks.h"
#include "digital/encoder.h"
#include "formulas/bmp180.h"
#include "formulas/bmx280.h"
#include "formulas/ms56xx.h"
#include "formulas/tsl2561.h"

namespace fair_gauge::digital_test {

using testing::Contains;
using testing::Field;
using testing::HasSubstr;

using Settings = std::map<std::string, double>;

ByteBlocks blocks(const std::string& text) {  // "0x88=…;0xF7=…", or the bytes of a frame
  ByteBlocks given;
  if (text.find('=') == std::string::npos) return {{"frame", *read_hex(text)}};
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find(';', at), text.size()), equals = text.find('=', at);
    given[text.substr(at, equals - at)] = *read_hex(text.substr(equals + 1, end - equals - 1));
    at = end + 1;
  }
  return given;
}

Decoder decoder_of(const std::string& part, const Settings& settings = {}, Math math = Math::floating) {
  auto decoder = Decoder::make(*shipped_parts().find(part), settings, math);
  EXPECT_TRUE(decoder) << part << ": " << to_text(decoder.problem());
  return *decoder;
}

Decoded decode(const std::string& part, const std::string& bytes, const Settings& settings = {},
               Math math = Math::floating) {
  return decoder_of(part, settings, math).decode(blocks(bytes));
}

double reading(const Decoded& decoded, Quantity quantity) {
  const DigitalReading* found = decoded.reading(quantity);
  return found ? found->value : std::nan("");
}

// ---- checks ----

TEST(Checks, MeetThePublishedExamples) {
  EXPECT_EQ(crc8(std::vector<std::uint8_t>{0xBE, 0xEF}, 0xFF), 0x92);  // two-wire humidity parts' sheet
  EXPECT_EQ(crc8(std::vector<std::uint8_t>{0x68, 0x3A}, 0x00), 0x7C);  // their elders' sheet
  EXPECT_EQ(crc8(std::vector<std::uint8_t>{0x4E, 0x85}, 0x00), 0x6B);
  EXPECT_EQ(crc8_one_wire(std::vector<std::uint8_t>{0x02, 0x1C, 0xB8, 0x01, 0, 0, 0}),
            0xA2);  // application note on one-wire CRCs
  EXPECT_EQ(crc8_one_wire(std::vector<std::uint8_t>{0x50, 0x05, 0x4B, 0x46, 0x7F, 0xFF, 0x0C, 0x10}), 0x1C);
  const std::string digits = "123456789";
  EXPECT_EQ(crc16(std::vector<std::uint8_t>(digits.begin(), digits.end())),
            0x4B37);  // catalogue of CRCs, this polynomial and beginning
  EXPECT_EQ(crc4(std::array<std::uint8_t, 16>{0x31, 0x32, 0x33, 0x34, 0x35, 0x36, 0x37, 0x38, 0x39, 0x40, 0x41, 0x42,
                                              0x43, 0x44, 0x45, 0x00}),
            0xB);  // AN520
}

TEST(ByteFields, ReadAndWriteWhateverTheOrderSignAndSharing) {
  std::vector<std::uint8_t> bytes = {0x12, 0x34, 0x56, 0x78};
  struct Case {
    const char* bits;
    FieldSign sign;
    std::int64_t value;
  };
  const Case cases[] = {{"0 1", FieldSign::none, 0x1234},     {"1 0", FieldSign::none, 0x3412},
                        {"0 1[7:4]", FieldSign::none, 0x123}, {"1[3:0] 2", FieldSign::none, 0x456},
                        {"-1", FieldSign::none, 0x78},        {"3[6]", FieldSign::none, 1},
                        {"1[7:4]", FieldSign::twos, 3}};
  for (const Case& each : cases) {
    const auto place = FieldPlace::read(each.bits, each.sign);
    ASSERT_TRUE(place) << each.bits;
    EXPECT_EQ(place->value(bytes), each.value) << each.bits;
    for (const std::int64_t number : {place->least(), place->most(), std::int64_t{0}}) {
      place->put(bytes, number);
      EXPECT_EQ(place->value(bytes), number) << each.bits;
    }
    bytes = {0x12, 0x34, 0x56, 0x78};
  }
  EXPECT_EQ(FieldPlace::read("0 1", FieldSign::twos)->value(std::vector<std::uint8_t>{0xFF, 0xFE}), -2);
  EXPECT_EQ(FieldPlace::read("0 1", FieldSign::magnitude)->value(std::vector<std::uint8_t>{0x80, 0x65}), -101);
  EXPECT_FALSE(FieldPlace::read("0 1", FieldSign::none)->value(std::vector<std::uint8_t>{1}));
  for (const char* bad : {"", "x", "0[9]", "0[1:3]", "0[", "0]"})
    EXPECT_FALSE(FieldPlace::read(bad, FieldSign::none)) << bad;
}

// ---- worked examples ----

TEST(Bmx280, MeetsTheSheetsExampleInBothForms) {
  // Data sheet, section 3.12: trimming and raw values with every intermediate result.
  const formulas::bmx280::Trimming c = {.dig_T1 = 27504,
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
                                        .dig_P9 = 6000};
  std::int32_t t_fine = 0;
  EXPECT_EQ(formulas::bmx280::temperature_integer(c, 519888, t_fine, formulas::Unrecorded{}), 2508);
  EXPECT_EQ(t_fine, 128422);
  // The sheet's integer code, run in another language on the same numbers, gives this; 100653.25 Pa.
  EXPECT_EQ(formulas::bmx280::pressure_integer(c, 415148, t_fine, formulas::Unrecorded{}), 25767233u);
  double t_fine_float = 0;
  EXPECT_NEAR(formulas::bmx280::temperature(c, 519888, t_fine_float, formulas::Unrecorded{}), 25.08, 0.005);
  EXPECT_NEAR(formulas::bmx280::pressure(c, 415148, t_fine_float, formulas::Unrecorded{}), 100653.27, 0.01);
}

TEST(Bmx280, TheExampleAsBytesGivesTheSheetsTrace) {
  // The same numbers as the part sends them, trimming with the low byte first, data with the high byte first.
  const std::string bytes = "0x88=706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017;0xF7=655AC07EED00";
  auto decoder = decoder_of("BMP280");
  const Decoded decoded = decoder.decode(blocks(bytes), Tracing::on);
  EXPECT_TRUE(decoded.ok());
  EXPECT_NEAR(reading(decoded, Quantity::temperature), 25.0825, 0.0001);
  EXPECT_NEAR(reading(decoded, Quantity::pressure), 100653.27, 0.01);
  const auto symbol = [&](const std::string& name) {
    const auto found = std::ranges::find(decoded.trace, name, &TraceEntry::symbol);
    return found == decoded.trace.end() ? std::nan("") : found->value;
  };
  EXPECT_EQ(symbol("dig_T1"), 27504);
  EXPECT_EQ(symbol("adc_P"), 415148);
  EXPECT_NEAR(symbol("t_fine"), 128422.3, 0.1);
  EXPECT_EQ(reading(decode("BMP280", bytes, {}, Math::integer), Quantity::temperature), 25.08);
  EXPECT_EQ(reading(decode("BMP280", bytes, {}, Math::integer), Quantity::pressure), 25767233 / 256.0);
}

// What is worked out of bytes that did not come is left out: a number there would be made up.
TEST(Trace, HoldsOnlyWhatTheBytesSay) {
  const auto symbols = [](const std::string& part, const std::string& bytes) {
    std::set<std::string> found;
    for (const TraceEntry& entry : decoder_of(part).decode(blocks(bytes), Tracing::on).trace)
      found.insert(entry.symbol);
    return found;
  };
  EXPECT_THAT(symbols("SHT31", "66669380"), testing::UnorderedElementsAre("S_T", "CRC_T", "temperature"));
  // Trimming of the temperature alone: t_fine is known, and nothing that the pressure's words go into.
  const auto bare = symbols("BMP280", "0x88=706B436718FC;0xF7=655AC07EED00");
  EXPECT_TRUE(bare.contains("t_fine") && bare.contains("adc_P") && bare.contains("T"));
  EXPECT_FALSE(bare.contains("p") || bare.contains("P") || bare.contains("dig_P1"));
  EXPECT_TRUE(symbols("BMP280", "0x88=706B436718FC;0xF7=655AC0").contains("adc_P"));
  EXPECT_FALSE(symbols("BMP280", "0x88=706B436718FC;0xF7=655AC0").contains("t_fine"));
}

TEST(Bmx280, FloatAndIntegerAgreeWithinTheSheetsRounding) {
  std::mt19937 random(5);
  const auto between = [&](int low, int high) { return std::uniform_int_distribution(low, high)(random); };
  for (int i = 0; i < 2000; ++i) {
    const formulas::bmx280::Trimming c = {.dig_T1 = static_cast<std::uint16_t>(between(26500, 29000)),
                                          .dig_T2 = static_cast<std::int16_t>(between(25500, 27000)),
                                          .dig_T3 = static_cast<std::int16_t>(between(-1000, 100)),
                                          .dig_P1 = static_cast<std::uint16_t>(between(35000, 39000)),
                                          .dig_P2 = static_cast<std::int16_t>(between(-11000, -10000)),
                                          .dig_P3 = 3024,
                                          .dig_P4 = static_cast<std::int16_t>(between(2000, 9000)),
                                          .dig_P5 = static_cast<std::int16_t>(between(-200, 200)),
                                          .dig_P6 = -7,
                                          .dig_P7 = static_cast<std::int16_t>(between(9000, 15500)),
                                          .dig_P8 = static_cast<std::int16_t>(between(-14600, -10000)),
                                          .dig_P9 = static_cast<std::int16_t>(between(4000, 6000)),
                                          .dig_H1 = 75,
                                          .dig_H2 = static_cast<std::int16_t>(between(340, 380)),
                                          .dig_H3 = 0,
                                          .dig_H4 = static_cast<std::int16_t>(between(280, 340)),
                                          .dig_H5 = static_cast<std::int16_t>(between(0, 60)),
                                          .dig_H6 = 30};
    const int adc_T = between(450000, 580000), adc_P = between(250000, 450000), adc_H = between(20000, 40000);
    double t = 0;
    std::int32_t ti = 0;
    const formulas::Unrecorded none;
    EXPECT_NEAR(formulas::bmx280::temperature_integer(c, adc_T, ti, none) / 100.0,
                formulas::bmx280::temperature(c, adc_T, t, none), 0.012);
    EXPECT_NEAR(formulas::bmx280::pressure_integer(c, adc_P, ti, none) / 256.0,
                formulas::bmx280::pressure(c, adc_P, t, none), 0.6);
    EXPECT_NEAR(formulas::bmx280::humidity_integer(c, adc_H, ti, none) / 1024.0,
                formulas::bmx280::humidity(c, adc_H, t, none), 0.05);
  }
}

// What no specimen has wraps, as in the part's controller.
TEST(Bmx280, ImpossibleTrimmingOverflowsNothing) {
  for (const int word : {-32768, -1, 0, 1, 32767})
    for (const int byte : {-128, 0, 127, 255})
      for (const std::int32_t t_fine : {INT32_MIN, -76800, 0, 128422, INT32_MAX})
        for (const int adc : {0, 32768, 0xFFFFF}) {
          const formulas::bmx280::Trimming c = {65535, word, word, 65535, word, word, word, word, word,
                                                word,  word, word, byte,  word, byte, word, word, byte};
          const formulas::Unrecorded none;
          (void)formulas::bmx280::pressure_integer(c, adc, t_fine, none);
          EXPECT_LE(formulas::bmx280::humidity_integer(c, adc, t_fine, none), 102'400U) << word << ' ' << byte;
        }
}

TEST(Bmp180, MeetsTheSheetsExample) {
  const formulas::bmp180::Trimming c = {408, -72, -14383, 32741, 32757, 23153, 6190, 4, -32768, -8711, 2868};
  std::int32_t B5 = 0;
  EXPECT_EQ(formulas::bmp180::temperature(c, 27898, B5, formulas::Unrecorded{}), 150);
  EXPECT_EQ(formulas::bmp180::pressure(c, 23843, 0, B5, formulas::Unrecorded{}), 69964);
  // The same as bytes: the raw pressure stands in the upper bits of three bytes.
  const std::string bytes = "0xAA=0198FFB8C7D17FE57FF55A71182E00048000DDF90B34;0xF6=6CFA;up=5D2300";
  EXPECT_EQ(reading(decode("BMP180", bytes), Quantity::pressure), 69964);
  EXPECT_EQ(reading(decode("BMP085", bytes), Quantity::temperature), 15.0);
}

TEST(Ms56xx, MeetsTheSheetsExamples) {
  // Each sheet's figure of the calculation: typical words, D1, D2 → TEMP, P.
  const auto a = formulas::ms56xx::compensate(formulas::ms56xx::ms5611, {40127, 36924, 23317, 23282, 33464, 28312},
                                              9085466, 8569150, formulas::Unrecorded{});
  EXPECT_EQ(a.TEMP, 2007);
  EXPECT_EQ(a.P, 100009);
  for (const auto& kind : {formulas::ms56xx::ms5607, formulas::ms56xx::ms5637}) {
    const auto b = formulas::ms56xx::compensate(kind, {46372, 43981, 29059, 27842, 31553, 28165}, 6465444, 8077636,
                                                formulas::Unrecorded{});
    EXPECT_EQ(b.TEMP, 2000);
    EXPECT_EQ(b.P, 110002);
  }
}

TEST(Ms56xx, SecondOrderSetsInBelowTwentyAndAgainBelowMinusFifteen) {
  // By hand for the MS5611 at dT = −4 000 000: TEMP = 2000 − 13500 (28312/2²³ · dT); below −15 °C both corrections
  // count.
  const std::array<std::int64_t, 6> C = {40127, 36924, 23317, 23282, 33464, 28312};
  const std::int64_t dT = -1500000, D2 = C[4] * 256 + dT;
  const double TEMP = 2000 + std::trunc(static_cast<double>(dT) * 28312 / 8388608.0);  // −3062
  const double T2 = std::trunc(static_cast<double>(dT) * static_cast<double>(dT) / 2147483648.0);
  const auto cold = formulas::ms56xx::compensate(formulas::ms56xx::ms5611, C, 9085466, D2, formulas::Unrecorded{});
  EXPECT_EQ(static_cast<double>(cold.TEMP), TEMP - T2);
  const double off2 = std::trunc(5 * (TEMP - 2000) * (TEMP - 2000) / 2) + 7 * (TEMP + 1500) * (TEMP + 1500);
  const double sens2 =
      std::trunc(5 * (TEMP - 2000) * (TEMP - 2000) / 4) + std::trunc(11 * (TEMP + 1500) * (TEMP + 1500) / 2);
  const double off = 36924 * 65536.0 + 23282.0 * static_cast<double>(dT) / 128 - off2,
               sens = 40127 * 32768.0 + 23317.0 * static_cast<double>(dT) / 256 - sens2;
  EXPECT_NEAR(static_cast<double>(cold.P), (9085466 * sens / 2097152 - off) / 32768, 1.5);
}

// Independent second forms of formulas that the sheet gives once.
TEST(Dps310, AgreesWithItsFormulaWrittenOut) {
  auto decoder = decoder_of("DPS310", {{"pressure_oversampling", 64}, {"temperature_oversampling", 1}});
  const auto bytes = encode(decoder, {{Quantity::temperature, 24}, {Quantity::pressure, 99000}});
  ASSERT_TRUE(bytes);
  const auto& b = bytes->at("0x10");
  const auto& d = bytes->at("0x00");
  const auto sign = [](std::int64_t value, int bits) {
    return value >> (bits - 1) ? value - (std::int64_t{1} << bits) : value;
  };
  const double c0 = static_cast<double>(sign(b[0] << 4 | b[1] >> 4, 12)),
               c1 = static_cast<double>(sign((b[1] & 15) << 8 | b[2], 12));
  const double c00 = static_cast<double>(sign(b[3] << 12 | b[4] << 4 | b[5] >> 4, 20)),
               c10 = static_cast<double>(sign((b[5] & 15) << 16 | b[6] << 8 | b[7], 20));
  const auto word = [&](std::size_t at) { return static_cast<double>(sign(b[at] << 8 | b[at + 1], 16)); };
  const double p = static_cast<double>(sign(d[0] << 16 | d[1] << 8 | d[2], 24)) / 1040384.0,
               t = static_cast<double>(sign(d[3] << 16 | d[4] << 8 | d[5], 24)) / 524288.0;
  const Decoded back = decoder.decode(*bytes);
  EXPECT_NEAR(reading(back, Quantity::temperature), c0 * 0.5 + c1 * t, 1e-9);
  EXPECT_NEAR(reading(back, Quantity::pressure),
              c00 + p * (c10 + p * (word(12) + p * word(16))) + t * word(8) + t * p * (word(10) + p * word(14)), 1e-6);
  EXPECT_NEAR(reading(back, Quantity::pressure), 99000, 1);
}

TEST(Bmp388, AgreesWithItsFormulaWrittenOut) {
  auto decoder = decoder_of("BMP390");
  const auto bytes = encode(decoder, {{Quantity::temperature, -11.5}, {Quantity::pressure, 87000}});
  const auto& b = bytes->at("0x31");
  const auto& d = bytes->at("0x04");
  const auto u16 = [&](std::size_t at) { return static_cast<double>(b[at] | b[at + 1] << 8); };
  const auto s16 = [&](std::size_t at) {
    return static_cast<double>(static_cast<std::int16_t>(b[at] | b[at + 1] << 8));
  };
  const auto s8 = [&](std::size_t at) { return static_cast<double>(static_cast<std::int8_t>(b[at])); };
  const double up = d[0] | d[1] << 8 | d[2] << 16, ut = d[3] | d[4] << 8 | d[5] << 16;
  const double x = ut - u16(0) * 256, t = x * u16(2) / 1073741824.0 + x * x * s8(4) / 281474976710656.0;
  // T1 T2 are words and T3 a byte, then P1 P2 words, P3 P4 bytes, P5 P6 words, P7 P8 bytes, P9 a word, P10 P11 bytes.
  const double offset = u16(11) * 8 + u16(13) / 64 * t + s8(15) / 256 * t * t + s8(16) / 32768 * t * t * t;
  const double gain = (s16(5) - 16384) / 1048576 + (s16(7) - 16384) / 536870912 * t + s8(9) / 4294967296.0 * t * t +
                      s8(10) / 137438953472.0 * t * t * t;
  const double bend = s16(17) / 281474976710656.0 + s8(19) / 281474976710656.0 * t;
  const double p = offset + up * gain + up * up * bend + up * up * up * s8(20) / 36893488147419103232.0;
  const Decoded back = decoder.decode(*bytes);
  EXPECT_NEAR(reading(back, Quantity::temperature), t, 1e-9);
  EXPECT_NEAR(reading(back, Quantity::pressure), p, 1e-5);
}

TEST(Tsl2561, FloatAndIntegerAgreeAndSaturationIsNoDarkness) {
  for (const double share : {0.1, 0.3, 0.45, 0.55, 0.7, 0.95, 1.2}) {
    const double lux = reading(decode("TSL2561", "0x8C=204EB80B"), Quantity::illuminance);
    EXPECT_GT(lux, 0);
    const auto ch1 = static_cast<std::uint32_t>(20000 * share);
    const double a = formulas::tsl2561::lux(formulas::tsl2561::scaled(20000, ch1, 16, 402),
                                            formulas::tsl2561::Package::t, formulas::Unrecorded{});
    const auto b =
        formulas::tsl2561::lux_integer(20000, ch1, 16, 402, formulas::tsl2561::Package::t, formulas::Unrecorded{});
    EXPECT_NEAR(b, a, 0.05 * a + 2) << share;
  }
  // 284/355 is 0.80, the end of the third line: (0.0128 · 355 − 0.0153 · 284) · 16 · 402/13.7; the next one has 94.0.
  EXPECT_NEAR(reading(decode("TSL2561", "0x8C=63011C01", {{"integration_ms", 13.7}}), Quantity::illuminance), 93.334,
              0.001);
  const Decoded full = decode("TSL2561", "0x8C=FFFFFFFF", {{"gain", 16}});
  EXPECT_EQ(full.faults.front().code, "saturated");
  EXPECT_TRUE(full.readings.empty());
}

// One row of a sheet's table: bytes and what they mean.
struct Row {
  const char* part;
  const char* bytes;
  Quantity quantity;
  double value;
  Settings settings = {};
};

TEST(Tables, OfTheSheetsAreMet) {
  const Row rows[] = {
      // DS18B20 table 1, DS18S20 table 2
      {"DS18B20", "D007", Quantity::temperature, 125},
      {"DS18B20", "5005", Quantity::temperature, 85},
      {"DS18B20", "9101", Quantity::temperature, 25.0625},
      {"DS18B20", "A200", Quantity::temperature, 10.125},
      {"DS18B20", "F8FF", Quantity::temperature, -0.5},
      {"DS18B20", "5EFF", Quantity::temperature, -10.125},
      {"DS18B20", "6FFE", Quantity::temperature, -25.0625},
      {"DS18B20", "90FC", Quantity::temperature, -55},
      {"DS18S20", "AA00", Quantity::temperature, 85},
      {"DS18S20", "3200", Quantity::temperature, 25},
      {"DS18S20", "0100", Quantity::temperature, 0.5},
      {"DS18S20", "FFFF", Quantity::temperature, -0.5},
      {"DS18S20", "92FF", Quantity::temperature, -55},
      // TMP102 tables 6-3 and 6-4 (extended), LM75 table, ADT7410 table, MCP9808 by its weights, DS3231 section
      {"TMP102", "0x00=7FF0", Quantity::temperature, 127.9375},
      {"TMP102", "0x00=1900", Quantity::temperature, 25},
      {"TMP102", "0x00=FFC0", Quantity::temperature, -0.25},
      {"TMP102", "0x00=C900", Quantity::temperature, -55},
      {"TMP102", "0x00=4B01", Quantity::temperature, 150},
      {"LM75", "0x00=7D00", Quantity::temperature, 125},
      {"LM75", "0x00=1900", Quantity::temperature, 25},
      {"LM75", "0x00=E700", Quantity::temperature, -25},
      {"LM75", "0x00=C900", Quantity::temperature, -55},
      {"ADT7410", "0x00=E480", Quantity::temperature, -55, {{"resolution", 16}}},
      {"ADT7410", "0x00=4B00", Quantity::temperature, 150, {{"resolution", 16}}},
      {"ADT7410", "0x00=FFF8", Quantity::temperature, -0.0625},
      {"ADT7410", "0x00=0C87", Quantity::temperature, 25},
      {"MCP9808", "0x05=0194", Quantity::temperature, 25.25},
      {"MCP9808", "0x05=E194", Quantity::temperature, 25.25},
      {"MCP9808", "0x05=1FF0", Quantity::temperature, -1},
      {"DS3231", "0x11=1940", Quantity::temperature, 25.25},
      {"DS3231", "0x11=FF40", Quantity::temperature, -0.75},
      {"TMP117", "0x00=0C80", Quantity::temperature, 25},
      {"TMP117", "0x00=F380", Quantity::temperature, -25},
      {"TMP116", "0x00=3200", Quantity::temperature, 100},
      // MAX31855 tables 4 and 5, MAX6675, MAX31865 at the nominal resistance and at 100 °C
      {"MAX31855", "64007F00", Quantity::temperature, 1600},
      {"MAX31855", "64007F00", Quantity::cold_junction_temperature, 127},
      {"MAX31855", "064C6490", Quantity::temperature, 100.75},
      {"MAX31855", "064C6490", Quantity::cold_junction_temperature, 100.5625},
      {"MAX31855", "FFFCFFF0", Quantity::temperature, -0.25},
      {"MAX31855", "FFFCFFF0", Quantity::cold_junction_temperature, -0.0625},
      {"MAX31855", "F060C900", Quantity::temperature, -250},
      {"MAX31855", "F060C900", Quantity::cold_junction_temperature, -55},
      {"MAX6675", "7FF8", Quantity::temperature, 1023.75},
      {"MAX6675", "0320", Quantity::temperature, 25},
      {"MAX31865", "0x01=4000", Quantity::temperature, 0},
      {"MAX31865", "0x01=58A4", Quantity::temperature, 99.988, {{"reference", 400}}},
      // Humidity: the sheets' examples
      {"DHT22", "028C015FEE", Quantity::humidity, 65.2},
      {"DHT22", "028C015FEE", Quantity::temperature, 35.1},
      {"AM2302", "028C806573", Quantity::temperature, -10.1},
      {"DHT11", "350018004D", Quantity::humidity, 53},
      {"DHT11", "350018004D", Quantity::temperature, 24},
      {"AM2320", "030403390115E1FE", Quantity::humidity, 82.5},
      {"AM2320", "030403390115E1FE", Quantity::temperature, 27.7},
      {"SHT21", "temperature=683A7C;humidity=4E856B", Quantity::humidity, -6 + 125 * 20100 / 65536.0},
      {"HTU21D", "temperature=683A;humidity=7C80", Quantity::temperature, -46.85 + 175.72 * 26680 / 65536.0},
      {"SHT31", "6666938000A2", Quantity::temperature, -45 + 175 * 26214 / 65535.0},
      {"SHT31", "6666938000A2", Quantity::humidity, 100 * 32768 / 65535.0},
      {"SHT45", "6666938000A2", Quantity::humidity, -6 + 125 * 32768 / 65535.0},
      {"HDC1080", "temperature=8000;humidity=8000", Quantity::temperature, 42.5},
      {"HDC1080", "temperature=8000;humidity=8000", Quantity::humidity, 50},
      {"AHT10", "1C8000080000", Quantity::humidity, 50},
      {"AHT10", "1C8000080000", Quantity::temperature, 50},
      // Pressure: MPL115A2 section 3.6 (96.59 kPa), LPS22HB and MPL3115A2 by their weights
      {"MPL115A2", "0x04=3ECEB3F9C51733C8;0x00=66807EC0", Quantity::pressure, 96587},
      {"LPS22HB", "0x28=00543F;0x2B=C409", Quantity::pressure, 101325},
      {"LPS22HB", "0x28=00543F;0x2B=C409", Quantity::temperature, 25},
      {"MPL3115A2", "0x01=62F3401900", Quantity::pressure, 101325},
      {"MPL3115A2", "0x01=62F3401900", Quantity::temperature, 25},
      {"MPL3115A2", "0x01=00C8801900", Quantity::altitude, 200.5, {{"mode", 1}}},
      {"MPL3115A2", "0x01=FFF6001900", Quantity::altitude, -10, {{"mode", 1}}},
      // Light: BH1750 measurement example (28067 lx), OPT3001 table 9, VEML7700 by its resolution, TSL2591 by its
      // formula
      {"BH1750", "8390", Quantity::illuminance, 33680 / 1.2},
      {"BH1750", "8390", Quantity::illuminance, 33680 / 2.4, {{"mode", 2}}},
      {"BH1750", "8390", Quantity::illuminance, 33680 / 1.2 / 2, {{"mtreg", 138}}},
      {"OPT3001", "0x00=0001", Quantity::illuminance, 0.01},
      {"OPT3001", "0x00=0FFF", Quantity::illuminance, 40.95},
      {"OPT3001", "0x00=6FFF", Quantity::illuminance, 2620.8},
      {"OPT3001", "0x00=BFFF", Quantity::illuminance, 83865.6},
      {"VEML7700", "0x04=E803", Quantity::illuminance, 3.6, {{"gain", 2}, {"integration_ms", 800}}},
      {"VEML7700", "0x04=E803", Quantity::illuminance, 57.6},
      {"TSL2591", "0xB4=E803C800", Quantity::illuminance, 800 * 0.8 * 408 / 2500, {{"gain", 25}}},
      // Converters by their weights
      {"ADS1115", "0x00=4000", Quantity::bridge_voltage, 1.024},
      {"ADS1115", "0x00=8001", Quantity::bridge_voltage, -0.256 * 32767 / 32768, {{"full_scale", 0.256}}},
      {"ADS1015", "0x00=4000", Quantity::bridge_voltage, 1.024},
      {"MCP3421", "01FFFE1C", Quantity::bridge_voltage, 131070 * 15.625e-6},
      {"MCP3421", "FFFFFF1C", Quantity::bridge_voltage, -15.625e-6},
      {"MCP3421", "03E810", Quantity::bridge_voltage, 1.0},
      {"MCP3421", "3E801B", Quantity::bridge_voltage, 16000 * 62.5e-6 / 8},
      {"MCP3008", "000200", Quantity::bridge_voltage, 1.65},
      {"HX711", "400000", Quantity::bridge_voltage, 5 * 0.5 / 128 / 2},
      {"HX711", "FFFFFF", Quantity::bridge_voltage, -5.0 / 64 / 16777216, {{"gain", 64}}},
  };
  for (const Row& row : rows) {
    const Decoded decoded = decode(row.part, row.bytes, row.settings);
    EXPECT_NEAR(reading(decoded, row.quantity), row.value, 1e-4 + 2e-5 * std::abs(row.value))
        << row.part << " " << row.bytes << (decoded.ok() ? "" : " " + decoded.faults.front().message);
  }
}

// ---- faults ----

struct FaultRow {
  const char* part;
  const char* bytes;
  const char* code;
  std::optional<Quantity> still_given = {};  // a quantity that the fault does not touch
  Settings settings = {};
};

TEST(Faults, AreNamedAndTouchOnlyWhatTheyTouch) {
  const std::string trim = "0x88=706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017;";
  const std::string bmp_skipped = trim + "0xF7=8000007EED00", bmp_all_ones = trim + "0xF7=FFFFFFFFFFFF",
                    bmp_short = trim + "0xF7=655AC0", bmp_blank = "0x88=" + std::string(48, 'F') + ";0xF7=655AC07EED00",
                    no_temperature = trim + "0xF7=655AC0800000";
  const FaultRow rows[] = {
      {"BMP280", bmp_skipped.c_str(), "not-ready", Quantity::temperature},
      {"BMP280", no_temperature.c_str(), "not-ready"},
      {"BMP280", bmp_all_ones.c_str(), "no-response"},
      {"BMP280", bmp_blank.c_str(), "no-response"},
      {"BMP280", bmp_short.c_str(), "short-frame"},
      {"BMP280", "0xF7=655AC07EED00", "short-frame"},
      {"MS5611", "prom=0A429D128FCA5A965B7282686E1E3C0F;d1=8A6C1E;d2=82A3F4", "checksum"},
      {"MS5611", "prom=00000000000000000000000000000000;d1=8A6C1E;d2=82A3F4", "no-response"},
      {"DS18B20", "50054B467FFF0C101C", "power-on-default"},
      {"DS18B20", "50054B467FFF0C101D", "checksum"},
      {"DS18B20", "FFFFFFFFFFFFFFFFFF", "no-response"},
      {"DS18B20", "000000000000000000", "no-response"},
      {"DS18B20", "50054B46", "short-frame"},
      {"TMP117", "0x00=8000", "power-on-default"},
      {"SHT31", "6666938000A3", "checksum", Quantity::temperature},
      {"SHT31", "6666948000A2", "checksum", Quantity::humidity},
      {"SHT31", "666693", "short-frame", Quantity::temperature},
      {"SHT31", "FFFFFFFFFFFF", "no-response"},
      {"AHT20", "9C7AE1458C20", "short-frame"},
      {"AHT10", "9C7AE1458C20", "not-ready"},
      {"DHT22", "028C015FEF", "checksum"},
      {"DHT22", "0000000000", "no-response"},
      {"AM2320", "030403390115E1FF", "checksum"},
      {"MAX31855", "00010001", "disconnected", Quantity::cold_junction_temperature},
      {"MAX31855", "01911802", "flagged-by-part", Quantity::cold_junction_temperature},
      {"MAX6675", "0004", "disconnected"},
      {"MAX31865", "0x01=4001", "flagged-by-part"},
      {"MAX31865", "0x01=FFFE", "disconnected"},
      {"TSL2561", "0x8C=B7130000", "saturated", {}, {{"integration_ms", 13.7}}},
      {"TSL2591", "0xB4=FF8F0000", "saturated"},
      {"BH1750", "FFFF", "saturated"},
      {"VEML7700", "0x04=FFFF", "saturated"},
      {"OPT3001", "0x00=CFFF", "out-of-range"},
      {"HX711", "7FFFFF", "saturated"},
      {"HX711", "800000", "saturated"},
      {"ADS1115", "0x00=7FFF", "saturated"},
      {"MCP3421", "01FFFF1C", "saturated"},
      {"MCP3421", "0001009C", "not-ready"},
      {"LPS22HB", "0x28=FFFFFF;0x2B=C409", "no-response", Quantity::temperature},
      {"BMP180", "0xAA=0000FFB8C7D17FE57FF55A71182E00048000DDF90B34;ut=6CFA;up=5D2300", "no-response"},
      {"BMP180", "0xAA=0198FFB8C7D17FE57FF55A71182E00048000DDF90B34;ut=6CFA;up=000000", "not-ready",
       Quantity::temperature},
  };
  for (const FaultRow& row : rows) {
    const Decoded decoded = decode(row.part, row.bytes, row.settings);
    EXPECT_THAT(decoded.faults, Contains(Field(&DigitalFault::code, row.code))) << row.part << " " << row.bytes;
    for (const DigitalFault& fault : decoded.faults) EXPECT_GT(fault.message.size(), 10u);
    EXPECT_EQ(decoded.readings.size(), row.still_given ? 1u : 0u) << row.part << " " << row.bytes;
    for (const DigitalReading& each : decoded.readings) EXPECT_EQ(each.quantity->quantity, row.still_given) << row.part;
  }
}

TEST(Faults, BytesOfOtherLengthsAndAnythingElseNeverCrash) {
  std::mt19937 random(11);
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    for (const Math math : {Math::floating, Math::integer}) {
      auto decoder = decoder_of(part.id, {}, math);
      for (int i = 0; i < 60; ++i) {
        ByteBlocks given;
        for (const ByteBlock& block : part.bytes.blocks) {
          std::vector<std::uint8_t> bytes(i % 3 == 0 ? random() % 40 : static_cast<std::size_t>(block.bytes));
          for (auto& byte : bytes) byte = static_cast<std::uint8_t>(i < 6 ? (i % 2 ? 0xFF : 0) : random());
          if (i % 7 != 6) given[block.name] = bytes;
        }
        const Decoded decoded = decoder.decode(given, i % 2 ? Tracing::on : Tracing::off);
        for (const DigitalReading& each : decoded.readings) EXPECT_TRUE(std::isfinite(each.value)) << part.id;
        EXPECT_TRUE(decoded.ok() || !decoded.faults.empty());
      }
    }
  }
}

// ---- the way back ----

TEST(Encoder, EveryDigitalPartReturnsWhatWentInWithinOneRawStep) {
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    auto decoder = decoder_of(part.id);
    for (int i = 1; i < 30; ++i) {
      std::map<Quantity, double> wanted;
      for (const PartQuantity& quantity : part.quantities) {
        if (quantity.quantity == Quantity::altitude) continue;
        double low = quantity.minimum, high = quantity.maximum;
        if (quantity.quantity == Quantity::illuminance) low = 1, high = 2000;  // at the usual gain
        if (quantity.quantity == Quantity::bridge_voltage)
          low = std::max(low, -0.019), high = std::min(high, 3.2);  // at the usual full scale
        if (part.id == "bridge-converter-24-bit") high = 0.019;
        if (part.id == "converter-16-bit" || part.id == "converter-12-bit" || part.id == "converter-18-bit") high = 2.0;
        wanted[quantity.quantity] = low + (high - low) * i / 30;
      }
      const auto bytes = encode(decoder, wanted);
      ASSERT_TRUE(bytes) << part.id << ": " << to_text(bytes.problem());
      const Decoded back = decoder.decode(*bytes);
      EXPECT_TRUE(back.ok()) << part.id << ": " << (back.ok() ? "" : back.faults.front().message);
      for (const auto& [quantity, value] : wanted) {
        double step = part.measures(quantity)->resolution;
        // At the usual settings some steps are coarser than the finest that the sheet promises.
        if (part.id == "air-pressure-stepwise" && quantity == Quantity::pressure) step = 3;
        if (part.id == "bus-temperature-13-16") step = 0.0625;
        if (part.id == "converter-16-bit") step = 62.5e-6;
        if (part.id == "converter-12-bit") step = 1e-3;
        if (quantity == Quantity::illuminance)
          step = std::max(step, 0.004 * value + 0.6);  // a channel of whole counts at the usual gain
        EXPECT_NEAR(reading(back, quantity), value, 1.01 * step) << part.id << " " << enum_name(quantity);
      }
    }
  }
}

TEST(Encoder, RefusesWhatThePartCannotSay) {
  auto decoder = decoder_of("DS18B20");
  EXPECT_THAT(to_text(encode(decoder, {{Quantity::temperature, 400}}).problem()), HasSubstr("-55 to 125"));
  EXPECT_THAT(to_text(encode(decoder, {{Quantity::pressure, 400}}).problem()), HasSubstr("does not measure"));
}

TEST(Settings, OutsideTheirChoicesAreRefusedWithThem) {
  const Part& part = *shipped_parts().find("TSL2561");
  EXPECT_THAT(to_text(Decoder::make(part, {{"gain", 3}}).problem()), HasSubstr("1, 16"));
  EXPECT_THAT(to_text(Decoder::make(part, {{"gian", 1}}).problem()), HasSubstr("gain, integration_ms, package"));
  EXPECT_EQ(value_of_choice(part, "package", "CS"), 1);
  EXPECT_EQ(value_of_choice(part, "package", "XY"), std::nullopt);
}

TEST(Layouts, ThatAreFaultyAreRefusedNotFollowed) {
  // Each is one mistake of a part file of somebody's own; none may lead outside its bytes.
  const auto broken = [](const std::function<void(ByteLayout&)>& change) {
    Part part = *shipped_parts().find("DHT22");
    change(part.bytes);
    return part;
  };
  const std::pair<const char*, std::function<void(ByteLayout&)>> mistakes[] = {
      {"no readings", [](ByteLayout& layout) { layout.readings.clear(); }},
      {"17 blocks", [](ByteLayout& layout) { layout.blocks.resize(17, layout.blocks.front()); }},
      {"61 fields", [](ByteLayout& layout) { layout.fields.resize(61, layout.fields.front()); }},
      {"a reading without its field", [](ByteLayout& layout) { layout.readings[0].field = "nothing"; }},
      {"a field in no block", [](ByteLayout& layout) { layout.fields[0].block = "nothing"; }},
      {"bits that are none", [](ByteLayout& layout) { layout.fields[0].bits = "first"; }},
      {"an example that is no hexadecimal", [](ByteLayout& layout) { layout.blocks[0].example = "xy"; }},
      {"a check beyond its block", [](ByteLayout& layout) { layout.checks[0].at = 9; }},
      {"a two-byte check that ends beyond", [](ByteLayout& layout) { layout.checks[0].kind = "crc16-a001"; }},
      {"a check of no kind", [](ByteLayout& layout) { layout.checks[0].kind = "crc99"; }},
      {"a state of nothing",
       [](ByteLayout& layout) { layout.states.push_back({.field = "nothing", .equals = {1}, .says = "x"}); }},
      {"an expression cut off", [](ByteLayout& layout) { layout.readings[0].expression = "T +"; }},
      {"a formula that is none", [](ByteLayout& layout) { layout.formula = "guess"; }},
      {"a field beside that is none", [](ByteLayout& layout) { layout.readings[0].beside = "nothing"; }},
      {"a field beside that is too wide", [](ByteLayout& layout) { layout.readings[0].beside = "RH"; }},
      {"a tied field that is none", [](ByteLayout& layout) { layout.readings[0].tied = "nothing"; }}};
  for (const auto& [what, change] : mistakes) {
    const Part part = broken(change);
    EXPECT_FALSE(Decoder::make(part)) << what;
    (void)raw_of_block(part, Quantity::temperature, std::vector<std::uint8_t>(5));
  }
  EXPECT_TRUE(Decoder::make(broken([](ByteLayout&) {})));
}

TEST(Hex, IsReadAsItComesAndFaultsAreShown) {
  const std::vector<std::uint8_t> bytes = {0x1A, 0x2B};
  for (const char* text : {"1A2B", "1a2b", "0x1A 0x2B", "0x1A,0x2B", "1A 2B"})
    EXPECT_EQ(*read_hex(text), bytes) << text;
  EXPECT_EQ(read_hex("1A2").problem().place.column, 3);
  EXPECT_EQ(read_hex("1AxB").problem().place.column, 3);
  EXPECT_EQ(read_hex("1A 0x").problem().place.column, 5) << "nothing follows";
  EXPECT_EQ(to_hex(bytes), "1A2B");
}

TEST(Decoder, WritesScaleAndOffsetAsTheSheetDoes) {
  const auto line_of = [](const char* marking, Quantity quantity) {
    const Part& part = *shipped_parts().find(marking);
    ByteBlocks blocks;
    for (const ByteBlock& block : part.bytes.blocks) blocks[block.name] = *read_hex(block.example);
    const Decoded decoded = Decoder::make(part)->decode(blocks, Tracing::on);
    const auto entry = std::ranges::find(decoded.trace, enum_name(quantity), &TraceEntry::symbol);
    return entry == decoded.trace.end() ? std::string() : entry->note;
  };
  const std::string raw = shipped_parts().find("SHT31")->bytes.readings.front().field;
  EXPECT_EQ(line_of("SHT31", Quantity::temperature), "175 · " + raw + " ÷ 65535 − 45");
  EXPECT_THAT(line_of("SHT31", Quantity::humidity), testing::EndsWith(" ÷ 65535"));
  EXPECT_THAT(line_of("SHT31", Quantity::humidity), testing::StartsWith("100 · "));
  EXPECT_THAT(line_of("SHT21", Quantity::temperature), testing::StartsWith("175.72 · "));
  EXPECT_EQ(line_of("DS3231", Quantity::temperature), "0.25 · T");
  EXPECT_THAT(line_of("HIH6130", Quantity::humidity), testing::EndsWith(" ÷ 16382"));  // 2^14 − 2, as its sheet has it
}

}  // namespace fair_gauge::digital_test
