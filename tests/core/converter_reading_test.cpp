// How a converter that is a part of its own is read: what passes over its line worked out by hand from the sheets, and
// the code that comes out of chosen bytes, in both languages.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cmath>

#include "board_steps.h"
#include "chain/converter_part.h"
#include "demo.h"
#include "handoff/reading_plan.h"
#include "scratch_folder.h"

namespace fair_gauge::converter_reading_test {

using ::testing::HasSubstr;

class ConverterReading : public ScratchFolder {
 protected:
  static constexpr const char* strict = "gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror ";
};

// A converter of bridges by its sheet: data ready is a low line, 24 bits at the rising clocks, 25, 26 or 27 clocks for
// gain 128, 32 or 64; four conversions of 0.1 s until it has settled.
constexpr const char* clocked_c = R"(
#include <stdio.h>
#include "filter_read.h"
static const uint32_t frames[] = {0x123456, WORD};
static unsigned conversion, clocks, busy = BUSY, level;
uint8_t board_data(void) {
  if (level) return (clocks <= 24 && frames[conversion] >> (24 - clocks) & 1) || clocks > 24;
  if (clocks > 0) { printf("%u clocks\n", clocks); clocks = 0; ++conversion; }
  if (busy > 0) { --busy; return 1; }
  return 0;
}
void board_clock(uint8_t to) { level = to; if (to) ++clocks; }
void board_wait_ms(uint16_t ms) { (void)board_data(); printf("t%u\n", ms); }
int main(void) {
  uint32_t raw = 7;
  uint8_t status = filter_begin();
  printf("begin %d\n", status);
  if (status) return 0;
  status = filter_read(&raw);
  printf("%u clocks\nread %d %08lX\n", clocks, status, (unsigned long)raw);
  return 0;
}
)";
constexpr const char* clocked_python = R"(
import filter_read
class Board:
    frames, conversion, clocks, level = [0x123456, WORD], 0, 0, 0
    def data(self):
        if self.level:
            return self.clocks > 24 or self.frames[self.conversion] >> (24 - self.clocks) & 1 == 1
        if self.clocks:
            print('%d clocks' % self.clocks)
            self.clocks, self.conversion = 0, self.conversion + 1
        return False
    def clock(self, level):
        self.level = level
        self.clocks += level
    def wait_ms(self, ms):
        self.data()
        print('t%d' % ms)
board = Board()
print('begin', filter_read.begin(board)[0])
status, raw = filter_read.read(board)
print('%d clocks' % board.clocks)
print('read', status, '%08X' % (raw % 2**32))
)";
TEST_F(ConverterReading, OfABridgeIsClocked) {
  write("filter.h", "#define filter_OK 0\n#define filter_NOT_READY 5\n");  // of which convert is another test's
  Bench bench = demo_bench();
  const auto plan = [&](double gain) {
    find_by_id(bench.converters, "bridge24")->gain = gain;
    return plan_reading(bench, shipped_parts(), "filter", {.name = "filter", .channel_name = "Filter"});
  };
  for (const auto& [gain, clocks, word, number] : {std::tuple{128.0, 25, 0x0186A0u, 0x000186A0u},
                                                   {64.0, 27, 0xFFFF9Cu, 0xFFFFFF9Cu},
                                                   {32.0, 26, 0x800000u, 0xFF800000u}}) {
    const auto planned = plan(gain);
    ASSERT_TRUE(planned) << to_text(planned.problem());
    const auto [header, source] = write_reading_c(*planned);
    write("filter_read.h", header);
    write("filter_read.c", source);
    write("filter_read.py", write_reading_python(*planned));
    const auto run_c = [&, word = word](int busy) {
      write("main.c", replaced(replaced(clocked_c, "WORD", fmt::format("{}", word)), "BUSY", fmt::format("{}", busy)));
      return shell(std::string(strict) + "filter_read.c main.c -o main && ./main");
    };
    const std::string expected = fmt::format("{0} clocks\nt401\nbegin 0\n{0} clocks\nread 0 {1:08X}\n", clocks, number);
    EXPECT_EQ(run_c(0), expected);
    EXPECT_THAT(run_c(1000), HasSubstr("begin 5\n")) << "the line does not fall";
    write("main.py", replaced(clocked_python, "WORD", fmt::format("{}", word)));
    EXPECT_EQ(shell("python3 main.py"), expected);
  }
  const auto refused = plan(100);
  ASSERT_FALSE(refused);
  EXPECT_THAT(to_text(refused.problem()), HasSubstr("how many clocks choose gain 100"));
}

// A thermometer behind a converter on a line.
Bench bench_with(const std::string& marking, Converter converter, double reference_v) {
  const Part* part = shipped_parts().find(marking);
  converter.id = "adc";
  converter.part = part ? part->id : "";
  converter.reference.nominal_v = reference_v;
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters = {converter};
  bench.devices = {{.id = "d", .part = shipped_parts().find("TMP36")->id, .converter = "adc", .rail = "3v3"}};
  bench.channels = {{.id = "air", .device = "d", .quantity = Quantity::temperature, .unit = "Cel"}};
  return bench;
}

struct Row {
  const char* marking;
  Converter converter;
  double reference_v;
  const char* begin;
  const char* each;
  const char* answer;  // the bytes that come
  long code;
};

constexpr Polarity both = Polarity::bipolar;
// Conversion times: a tenth more than 1 ÷ rate (16 and 12 bits), the least rate of the sheet (18 bits), its clock off
// by 2 % (24 bits); then the next whole millisecond and one more.
const Row rows[] = {
    // OS 1, input 1 against ground 101, ±4.096 V 001, once 1: 1101 0011; 860 /s 111, comparator off: 1110 0011.
    {"ADS1115",
     {.address = 0x49, .settings = {{"input", 5}, {"rate", 860}}, .bits = 16, .polarity = both},
     4.096,
     "",
     "w 01 D3 E3|t 3|u 01 80 80|r 00 > 2",
     "F8,0x30",
     -2000},
    // As after power-on: 1000 0101 1000 0011.
    {"ADS1015", {.bits = 12, .polarity = both}, 2.048, "", "w 01 85 83|t 2|u 01 80 80|r 00 > 2", "F0,0x00", -256},
    // Start, once, 18 bits 11, gain 8 11; 1 ÷ 2.75 s.
    {"MCP3421", {.bits = 18, .gain = 8, .polarity = both}, 2.048, "", "w 8F|t 365|r > 4", "01,0xFF,0xFE,0x0F", 131070},
    {"MCP3421", {.bits = 12, .polarity = both}, 2.048, "", "w 80|t 7|r > 4", "FC,0x18,0x10,0x10", -1000},
    // Input 3 is 10; 16 bits 10.
    {"MCP3424",
     {.settings = {{"input", 3}}, .bits = 16, .polarity = both},
     2.048,
     "",
     "w C8|t 92|r > 4",
     "03,0xE8,0x48,0x48",
     1000},
    // Start bit, then single-ended and the input, the code in the last ten bits.
    {"MCP3008", {.settings = {{"input", 2}}, .bits = 10}, 3.3, "", "x 01 A0 00", "00,0x02,0x55", 597},
    {"MCP3208", {.settings = {{"input", 5}}, .bits = 12}, 3.3, "", "x 07 40 00", "00,0x08,0x55", 2133},
    // Reset; input 0 against ground 1000, gain 4 010, amplifier by-passed; 90 /s 010; own reference.
    {"ADS1220",
     {.settings = {{"input", 8}, {"rate", 90}}, .bits = 24, .gain = 4, .polarity = both},
     2.048,
     "w 06|t 2|w 43 85 40 00 00",
     "w 08|t 13|r 10 > 3",
     "FF,0xFF,0x9C",
     -100},
    // Another reference is one at its pins: 01.
    {"ADS1220",
     {.bits = 24, .polarity = both},
     2.5,
     "w 06|t 2|w 43 00 00 40 00",
     "w 08|t 52|r 10 > 3",
     "00,0x00,0x64",
     100},
    // Reset, on, regulator 3.3 V 100 and gain 128 111, amplifier and regulator on, chopper off, 80 /s 011 and its own
    // calibration, conversions on.
    {"NAU7802",
     {.settings = {{"rate", 80}}, .bits = 24, .span_per_reference = 0.5, .gain = 128, .polarity = both},
     3.3,
     "w 00 01|t 2|w 00 02|u 00 08 08|w 01 27|w 00 86|w 15 30|w 02 34|u 02 04 00|w 00 96",
     "u 00 20 20|r 12 > 3",
     "80,0x00,0x01",
     -8388607},
};

Result<ReadingPlan> plan_of(const Bench& bench) {
  return plan_reading(bench, shipped_parts(), "air", {.name = "air", .channel_name = "Air"});
}

TEST_F(ConverterReading, IsWorkedOutByHandFromItsSheet) {
  for (const Row& row : rows) {
    SCOPED_TRACE(row.marking);
    const auto plan = plan_of(bench_with(row.marking, row.converter, row.reference_v));
    ASSERT_TRUE(plan) << to_text(plan.problem());
    EXPECT_EQ(passes(plan->begin), row.begin);
    EXPECT_EQ(passes(plan->each), row.each);
    if (row.converter.address > 0) {
      EXPECT_EQ(plan->address, row.converter.address);
    }
  }
}

// Every line of the board gives the answer where that many bytes are asked for, and a status where one is.
constexpr const char* board_c = R"(
#include <stdio.h>
#include <string.h>
#include "air_read.h"
static const uint8_t answer[] = {0xANSWER};
static uint8_t asked;
#if TWO_WIRE
uint8_t board_write(uint8_t device, const uint8_t *bytes, uint8_t count) {
  (void)device; (void)bytes; (void)count;
  return 1;
}
uint8_t board_read(uint8_t device, const uint8_t *command, uint8_t commands, uint8_t *bytes, uint8_t count) {
  (void)device;
  if (commands > 0) asked = command[0];
  if (count == 1) { bytes[0] = asked == 2 ? 0x00 : 0xFF; return 1; }
  memcpy(bytes, answer, count);
  return 1;
}
#else
void board_select(uint8_t on) { asked = on; }
void board_transfer(const uint8_t *out, uint8_t *in, uint8_t count) { (void)out; if (in) memcpy(in, answer, count); }
#endif
void board_wait_ms(uint16_t ms) { (void)ms; }
int main(void) {
  uint32_t raw = 7;
  uint8_t status = air_begin();
  if (status == 0) status = air_read(&raw);
  printf("%d %ld\n", status, (long)(int32_t)raw);
  return 0;
}
)";
constexpr const char* board_python = R"(
import air_read
answer = bytes((0xANSWER,))
class Board:
    def write(self, device, data):
        return True
    def read(self, device, command, count):
        if command:
            self.asked = command[0]
        return bytes((0 if self.asked == 2 else 255,)) if count == 1 else answer[:count]
    def select(self, on):
        pass
    def transfer(self, out):
        return answer[:len(out)]
    def wait_ms(self, ms):
        pass
board = Board()
status = air_read.begin(board)[0]
if status == 0:
    status, raw = air_read.read(board)
print(status, raw)
)";

TEST_F(ConverterReading, GivesTheCodeThatTheBytesAre) {
  write("air.h", "#define air_OK 0\n#define air_NOT_READY 5\n#define air_NO_RESPONSE 9\n");
  for (const Row& row : rows) {
    SCOPED_TRACE(row.marking);
    const auto plan = plan_of(bench_with(row.marking, row.converter, row.reference_v));
    ASSERT_TRUE(plan) << to_text(plan.problem());
    const auto [header, source] = write_reading_c(*plan);
    write("air_read.h", header);
    write("air_read.c", source);
    write("air_read.py", write_reading_python(*plan));
    write("main.c",
          replaced(replaced(board_c, "ANSWER", row.answer), "TWO_WIRE", plan->line == Interface::i2c ? "1" : "0"));
    write("main.py", replaced(board_python, "ANSWER", row.answer));
    const std::string expected = fmt::format("0 {}\n", row.code);
    EXPECT_EQ(shell(std::string(strict) + "air_read.c main.c -o main && ./main"), expected);
    EXPECT_EQ(shell("python3 -B main.py"), expected);
  }
}

TEST_F(ConverterReading, SaysWhatThePartHasNot) {
  const auto range = plan_of(bench_with("ADS1115", {.bits = 16, .polarity = both}, 3.3));
  ASSERT_FALSE(range);
  EXPECT_THAT(range.problem().wrong, HasSubstr("has no full_scale 3.3"));
  const auto gain = plan_of(bench_with("NAU7802", {.bits = 24, .gain = 3, .polarity = both}, 3.3));
  ASSERT_FALSE(gain);
  EXPECT_THAT(gain.problem().wrong, HasSubstr("has no gain 3"));
  const auto bits = plan_of(bench_with("MCP3008", {.bits = 12}, 3.3));
  ASSERT_FALSE(bits);
  EXPECT_THAT(bits.problem().wrong, HasSubstr("no code of 12 bits"));
  const auto shifted = plan_of(bench_with(
      "ADS1115", {.bits = 16, .polarity = both, .justification = Justification::left, .register_bits = 24}, 2.048));
  EXPECT_FALSE(shifted);
  // The controller's own converter is read by the maker's own function.
  EXPECT_FALSE(plan_of(bench_with("", {.bits = 12}, 3.3)));
}

// A reference as it was measured is still the part's own.
TEST_F(ConverterReading, TakesAMeasuredReferenceForItsOwn) {
  Bench bench = bench_with("ADS1220", {.bits = 24, .polarity = both}, 2.048);
  bench.converters[0].reference.measured_v = 2.0455;
  const auto plan = plan_of(bench);
  ASSERT_TRUE(plan) << to_text(plan.problem());
  EXPECT_EQ(passes(plan->begin), "w 06|t 2|w 43 00 00 00 00");
}

// By the sheets: bits and signs of the code, what its range is compared with, and the volts of one step as it is after
// power-on. 3 V stands for the rail that a part without a reference of its own is tied to.
TEST(ConverterPart, IsAsItsSheetHasIt) {
  struct Sheet {
    const char* marking;
    int bits;
    Polarity polarity;
    double reference_v, gain, step_v;
    bool on_rail;
  };
  const Sheet sheets[] = {
      {"ADS1115", 16, both, 2.048, 1, 62.5e-6, false},
      {"ADS1015", 12, both, 2.048, 1, 1e-3, false},
      {"MCP3421", 18, both, 2.048, 1, 15.625e-6, false},
      {"MCP3424", 18, both, 2.048, 1, 15.625e-6, false},
      {"ADS1220", 24, both, 2.048, 1, 2.048 / 8388608, false},
      {"MCP3008", 10, Polarity::unipolar, 3, 1, 3.0 / 1024, true},
      {"MCP3208", 12, Polarity::unipolar, 3, 1, 3.0 / 4096, true},
      {"HX711", 24, both, 3, 128, 3.0 / 128 / 16777216, true},
      {"NAU7802", 24, both, 3, 1, 3.0 / 16777216, true},
  };
  for (const Sheet& sheet : sheets) {
    SCOPED_TRACE(sheet.marking);
    const Part& part = *shipped_parts().find(sheet.marking);
    ASSERT_TRUE(is_converter(part));
    Bench bench;
    bench.rails = {{.id = "3v", .voltage = {.nominal_v = 3}}};
    bench.converters = {
        with_part({.id = "c", .name = "mine", .settings = {{"input", 3}}, .reference_rail = "3v"}, part)};
    const Converter& made = bench.converters.front();
    EXPECT_EQ(made.name, "mine");
    EXPECT_TRUE(made.settings.empty());
    EXPECT_EQ(made.bits, sheet.bits);
    EXPECT_EQ(made.polarity, sheet.polarity);
    EXPECT_EQ(made.gain, sheet.gain);
    EXPECT_EQ(!made.reference_rail.empty(), sheet.on_rail);
    const double reference = reference_of(bench, made).best_v();
    EXPECT_DOUBLE_EQ(reference, sheet.reference_v);
    const double codes = std::exp2(sheet.polarity == both ? sheet.bits - 1 : sheet.bits);
    EXPECT_NEAR(reference * made.span_per_reference / made.gain / codes, sheet.step_v, 1e-9 * sheet.step_v);
  }
  // 0.15 % at most; 50 nV of noise at gain 128 and 5 V: 5 ÷ 128 ÷ 2²⁴ V a step.
  EXPECT_DOUBLE_EQ(with_part({}, *shipped_parts().find("ADS1115")).gain_error, 0.0015);
  EXPECT_NEAR(with_part({}, *shipped_parts().find("HX711")).noise_lsb, 50e-9 * 128 * 16777216 / 5, 1e-6);
  EXPECT_FALSE(is_converter(*shipped_parts().find("SHT31")));
  EXPECT_FALSE(is_converter(*shipped_parts().find("TMP36")));
  EXPECT_FALSE(code_place(*shipped_parts().find("MCP3008"), 11));
}

}  // namespace fair_gauge::converter_reading_test
