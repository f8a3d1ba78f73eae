// Which mistake explains a number of a part that answers with bytes, worked out in the test from the sheets' formulas.
#include <gmock/gmock.h>

#include "core/diagnose_asked.h"
#include "diagnose/next_measurement.h"
#include "digital/encoder.h"

namespace fair_gauge::diagnose_test {

using ::testing::HasSubstr;
using ::testing::IsEmpty;

Diagnosis ask_bytes(const Bench& bench, const std::string& hex, double shown, int decimals) {
  const auto answer = diagnose(
      bench, shipped_parts(), "t",
      {.raw = {}, .bytes = *read_hex(hex), .registers = {}, .shown = shown, .decimals = decimals, .expected = {}});
  EXPECT_TRUE(answer) << (answer ? "" : to_text(answer.problem()));
  return answer ? *answer : Diagnosis{};
}

TEST(Diagnose, BytesOfATwelveBitPart) {
  // 0x1910 of the 12-bit part: 0x191 = 401 steps of 0.0625 °C are 25.0625 °C.
  const Bench bench = bytes_bench("TMP102", Quantity::temperature, "Cel");
  const auto first = [&](const std::string& hex, double shown, int decimals) {
    const Diagnosis diagnosis = ask_bytes(bench, hex, shown, decimals);
    return diagnosis.causes.empty() ? "none " + listed(diagnosis) : diagnosis.causes.front().code;
  };
  EXPECT_EQ(first("1910", 0x1910 * 0.0625, 2), "not-shifted");
  // 0x1019 >> 4 = 257 steps: 16.0625 °C.
  EXPECT_EQ(first("1019", 0x191 * 0.0625, 4), "bytes-swapped");
  // 0xE700: −25 °C are −400 steps; as 3696 without a sign 231 °C.
  EXPECT_EQ(first("E700", 231, 2), "signed-read-as-unsigned");
  EXPECT_EQ(first("1910", 25.0625 * 1.8 + 32, 2), "unit-fahrenheit");
  EXPECT_THAT(ask_bytes(bench, "1910", 25.0625, 4).causes, IsEmpty());
}

TEST(Diagnose, AFrameWithAHumidityInIt) {
  // 0x6666 of 65535: −45 + 175 · 26214/65535 = 25.0 °C; humidity 0x8000: 100 · 32768/65535 = 50.0008 %.
  const Bench bench = bytes_bench("SHT31", Quantity::temperature, "Cel");
  const std::string frame =
      "666693"
      "8000A2";  // checks by the polynomial 0x31 from 0xFF
  const auto code = [&](double shown, int decimals) {
    const Diagnosis diagnosis = ask_bytes(bench, frame, shown, decimals);
    return diagnosis.causes.empty() ? "none " + listed(diagnosis) : diagnosis.causes.front().code;
  };
  const double right = -45 + 175 * 26214 / 65535.0;
  EXPECT_EQ(code(right + 45, 2), "offset-forgotten");
  EXPECT_EQ(code(100 * 32768 / 65535.0, 3), "wrong-channel");
  EXPECT_EQ(code(-45, 2), "integer-division");
  // The formula of the part whose frame is three bytes: −46.85 + 175.72 · 26212/65536, its last two bits being a state.
  EXPECT_EQ(code(-46.85 + 175.72 * 26212 / 65536.0, 1), "wrong-part");
  // A wrong check: the number is shown all the same.
  const Diagnosis ignored = ask_bytes(bench, "6666008000A2", rounded_to(right, 2), 2);
  ASSERT_FALSE(ignored.causes.empty());
  EXPECT_EQ(ignored.causes.front().code, "checksum-ignored") << listed(ignored);
  EXPECT_FALSE(ignored.right);
  // Where the number is as expected, a mistake that would leave it as it is explains nothing: the two bytes are alike.
  const auto expected = diagnose(bench, shipped_parts(), "t",
                                 {.raw = {},
                                  .bytes = *read_hex("6666008000A2"),
                                  .registers = {},
                                  .shown = 25.0,
                                  .decimals = 1,
                                  .expected = Range{24.5, 25.5}});
  ASSERT_TRUE(expected);
  for (const Cause& cause : expected->causes) {
    EXPECT_NE(cause.code, "bytes-swapped") << listed(*expected);
    EXPECT_NE(cause.code, "setting") << listed(*expected);
  }
}

TEST(Diagnose, ThePowerOnValueIsNoReading) {
  const Bench bench = bytes_bench("DS18B20", Quantity::temperature, "Cel");
  const Diagnosis diagnosis = ask_bytes(bench, "50054B467FFF0C101C", 85, 1);
  ASSERT_FALSE(diagnosis.causes.empty());
  EXPECT_EQ(diagnosis.causes.front().code, "power-on-default") << listed(diagnosis);
  EXPECT_EQ(*diagnosis.causes.front().gives, 85);
}

TEST(Diagnose, SignAndSizeOfTheSingleWirePart) {
  // 0x8065: −10.1 °C by sign and size; as two's complement −32667 tenths.
  const Bench bench = bytes_bench("DHT22", Quantity::temperature, "Cel");
  const Diagnosis diagnosis = ask_bytes(bench, "028C806573", -3266.7, 1);
  ASSERT_FALSE(diagnosis.causes.empty());
  EXPECT_EQ(diagnosis.causes.front().code, "sign-magnitude") << listed(diagnosis);
}

// Trimming of the data sheet's own worked example: adc_T 519888, adc_P 415148 → 25.08 °C, 100653.27 Pa; with all words
// unsigned, their bytes exchanged, or t_fine 0 the formula is run here anew.
struct Compensated {
  double t1 = 27504, t2 = 26435, t3 = -1000, p[10] = {0, 36477, -10685, 3024, 2855, 140, -7, 15500, -14600, 6000};
  double fine(double adc) const {
    const double a = (adc / 16384 - t1 / 1024) * t2, b = adc / 131072 - t1 / 8192;
    return a + b * b * t3;
  }
  double pascals(double adc, double fine) const {
    double a = fine / 2 - 64000, b = a * a * p[6] / 32768;
    b = b + a * p[5] * 2;
    b = b / 4 + p[4] * 65536;
    a = (p[3] * a * a / 524288 + p[2] * a) / 524288;
    a = (1 + a / 32768) * p[1];
    double x = 1048576 - adc;
    x = (x - b / 4096) * 6250 / a;
    return x + (p[9] * x * x / 2147483648 + x * p[8] / 32768 + p[7]) / 16;
  }
};

TEST(Diagnose, TrimmingIsReadInOtherWays) {
  Bench bench = bytes_bench("BMP280", Quantity::pressure, "hPa");
  bench.devices[0].trimming = {{"0x88", "706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017"}};
  const std::string bytes = "655AC07EED00";  // pressure 0x655AC, temperature 0x7EED0
  const Compensated right;
  EXPECT_NEAR(right.pascals(415148, right.fine(519888)), 100653.27, 0.01);
  const auto first = [&](double pascals) {
    const Diagnosis diagnosis = ask_bytes(bench, bytes, rounded_to(pascals / 100, 2), 2);
    return diagnosis.causes.empty() ? "none " + listed(diagnosis) : diagnosis.causes.front().code;
  };
  EXPECT_THAT(ask_bytes(bench, bytes, 1006.53, 2).causes, IsEmpty());
  EXPECT_EQ(first(right.pascals(415148, 0)), "stale-temperature");
  Compensated unsigned_words = right, swapped = right;
  for (double* word : {&unsigned_words.t3, &unsigned_words.p[2], &unsigned_words.p[6], &unsigned_words.p[8]})
    *word += 65536;
  EXPECT_EQ(first(unsigned_words.pascals(415148, unsigned_words.fine(519888))), "trimming-sign");
  const auto turn = [](double word, bool with_sign) {
    const auto bits = static_cast<std::uint16_t>(static_cast<std::int32_t>(word));
    const auto turned = static_cast<std::uint16_t>(bits >> 8 | bits << 8);
    return with_sign ? static_cast<double>(static_cast<std::int16_t>(turned)) : static_cast<double>(turned);
  };
  swapped.t1 = turn(right.t1, false), swapped.t2 = turn(right.t2, true), swapped.t3 = turn(right.t3, true);
  swapped.p[1] = turn(right.p[1], false);
  for (int i = 2; i < 10; ++i) swapped.p[i] = turn(right.p[i], true);
  EXPECT_EQ(first(swapped.pascals(415148, swapped.fine(519888))), "trimming-order");
  EXPECT_EQ(first(100653.27 - 101325), "absolute-gauge");
  EXPECT_EQ(first(100653.27 / 6894.757 * 100), "unit-pressure");
}

// A frame of the humidity part with its two checks, asked of the part with twelve bits.
TEST(Diagnose, BytesOfAnotherPartAreSaid) {
  const Bench bench = bytes_bench("TMP102", Quantity::temperature, "Cel");
  const Question question{.bytes = *read_hex("6666938000A2"), .shown = 25.0};
  const auto answer = diagnose(bench, shipped_parts(), "t", question);
  ASSERT_FALSE(answer);
  EXPECT_THAT(to_text(answer.problem()), HasSubstr("6 bytes are not those of"));
  EXPECT_THAT(to_text(answer.problem()), HasSubstr("SHT3"));
}

// The identity register: 0x60 of the part with humidity, 0x58 of the one without, whose bytes are as many.
TEST(Diagnose, TheIdentityTellsWhatIsFitted) {
  const Bench bench = bytes_bench("BME280", Quantity::temperature, "Cel");
  const Catalogue& parts = shipped_parts();
  const auto chain = build_chain(bench, parts, "t");
  Firmware right{.bench = bench, .channel = "t", .input = raw_input(*chain, 519888)}, other = right;
  other.decoder = std::make_shared<const Decoder>(*Decoder::make(parts.share(parts.find("BMP280")->id)));
  const Question question{.raw = 519888, .expected = Range{30, 31}};
  const Probes probes(parts, *chain, right, question, false);
  const auto identity = std::ranges::find(probes.all(), "identity", &NextMeasurement::id);
  ASSERT_NE(identity, probes.all().end());
  EXPECT_EQ(probes.predict(*identity, right), 0x60);
  EXPECT_EQ(probes.predict(*identity, other), 0x58);
}

}  // namespace fair_gauge::diagnose_test
