// What is written for reading a part is compiled and run against a board of this file's own, which keeps registers,
// answers and writes down what passed over the bus; what must pass is worked out by hand from the sheets.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <set>
#include <sstream>

#include "board_steps.h"
#include "choose/trial.h"
#include "demo.h"
#include "handoff/reading_plan.h"
#include "scratch_folder.h"

namespace fair_gauge::reading_plan_test {

using ::testing::HasSubstr;

// Registers of 256 bytes; a write sets them from its first byte on, a read gives them from its command on. Reads
// without a command give what `plain` holds.
constexpr const char* board_c = R"(
#include <stdio.h>
#include <string.h>
#include "NAME_read.h"
static uint8_t cells[256], always[256], plain[64]; /* always: status bits, which a write does not change */
static unsigned reads_until_ready = READY;
uint8_t board_write(uint8_t device, const uint8_t *bytes, uint8_t count) {
  printf("w%02X", device);
  for (unsigned i = 0; i < count; ++i) printf(" %02X", bytes[i]);
  printf("\n");
  for (unsigned i = 1; i < count; ++i) cells[(uint8_t)(bytes[0] + i - 1)] = bytes[i];
  return DEAD ? 0 : 1;
}
uint8_t board_read(uint8_t device, const uint8_t *command, uint8_t commands, uint8_t *bytes, uint8_t count) {
  printf("r%02X", device);
  for (unsigned i = 0; i < commands; ++i) printf(" %02X", command[i]);
  printf(" -> %u\n", count);
  if (commands == 0) memcpy(bytes, plain, count);
  for (unsigned i = 0; commands > 0 && i < count; ++i) bytes[i] = (uint8_t)(cells[(uint8_t)(command[0] + i)] | always[(uint8_t)(command[0] + i)]);
  if (commands == 1 && command[0] == BUSY && reads_until_ready > 0) {
    --reads_until_ready;
    bytes[0] ^= BUSY_MASK;
  }
  return DEAD ? 0 : 1;
}
void board_wait_ms(uint16_t ms) { printf("t%u\n", ms); }
int main(void) {
  uint8_t bytes[NAME_BYTES];
  int32_t value = -12345;
  uint8_t status;
  FILL
  status = NAME_begin();
  printf("begin %d\n", status);
  if (status) return 0;
  status = NAME_read(bytes);
  printf("read %d\n", status);
  if (status) return 0;
  status = NAME_convert(bytes, &value);
  printf("convert %d %ld\n", status, (long)value);
  return 0;
}
)";

class ReadingTest : public ScratchFolder {
 protected:
  Handoff hand(const Bench& bench, const std::string& channel, Language language = Language::c, bool loaded = false) {
    auto done = hand_over(
        bench, shipped_parts(),
        {.channel = channel, .language = language, .trimming_loaded = loaded, .reading = true, .drawn_blocks = 500});
    EXPECT_TRUE(done) << channel << ": " << (done ? "" : to_text(done.problem()));
    if (!done) return {};
    for (const auto& [name, text] : done->files) write(name, text);
    return std::move(*done);
  }
  struct Board {
    std::string fill = "";
    int busy = 0, busy_mask = 0, ready = 0;
    bool dead = false;
  };
  std::string run(const std::string& name, const Board& board) const {
    std::string text = board_c;
    const std::pair<std::string, std::string> words[] = {{"NAME", name},
                                                         {"READY", fmt::format("{}", board.ready)},
                                                         {"BUSY_MASK", fmt::format("{}", board.busy_mask)},
                                                         {"BUSY", fmt::format("{}", board.busy)},
                                                         {"DEAD", board.dead ? "1" : "0"},
                                                         {"FILL", board.fill}};
    for (const auto& [word, what] : words) text = replaced(text, word, what);
    write("main.c", text);
    return shell("gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror " + name + ".c " + name +
                 "_read.c main.c -o main -lm && ./main");
  }
};

// Forced mode of the compensated part, no registers kept: humidity ×1 before the control register, temperature and
// pressure ×1 with mode 1 is 001 001 01 = 0x25; 1.25 + 2.3 + 2.3 + 0.575 + 2.3 + 0.575 = 9.3 ms at most; bit 3 of 0xF3
// is asked twice.
TEST_F(ReadingTest, ACompensatedPartIsForcedAskedAndReadAtOnce) {
  Bench bench = demo_bench();
  Device* device = find_by_id(bench.devices, "air_sensor");
  device->registers.clear();
  device->address = 0x77;
  const Handoff done = hand(bench, "room");
  const std::string vector = done.vectors[done.vectors.size() / 2].raw;
  std::string fill = "cells[0xD0] = 0x60;\n";
  for (std::size_t i = 0; i < 8; ++i) fill += fmt::format("  cells[0xF7 + {}] = 0x{};\n", i, vector.substr(2 * i, 2));
  const std::string said = run("room", {.fill = fill, .busy = 0xF3, .busy_mask = 8, .ready = 1});
  const auto& expected = done.vectors[done.vectors.size() / 2];
  EXPECT_EQ(said,
            fmt::format("r77 D0 -> 1\nbegin 0\nw77 F2 01\nw77 F4 25\nt11\nr77 F3 -> 1\nt1\nr77 F3 -> 1\nr77 F7 -> "
                        "8\nread 0\nconvert {} {}\n",
                        static_cast<int>(expected.status), expected.value.value_or(-12345)));
  // Another part, a part that stays busy, nobody.
  EXPECT_THAT(run("room", {.fill = "cells[0xD0] = 0x58;"}), HasSubstr("begin 33\n"));
  EXPECT_THAT(run("room", {.fill = fill, .busy = 0xF3, .busy_mask = 8, .ready = 10000}), HasSubstr("read 5\n"));
  EXPECT_THAT(run("room", {.fill = fill, .dead = true}), HasSubstr("begin 9\n"));
}

// What the bench keeps is written instead of the usual: ×16 filter 4 stands in 0xF5 and is read back.
TEST_F(ReadingTest, RegistersOfTheBenchAreWrittenAndReadBack) {
  Bench bench = demo_bench();
  Device* device = find_by_id(bench.devices, "air_sensor");
  device->registers = {{"0xF2", 5}, {"0xF4", 0b10110100}, {"0xF5", 0b00001000}};
  hand(bench, "room");
  const std::string said = run("room", {.fill = "cells[0xD0] = 0x60;"});
  EXPECT_THAT(said, HasSubstr("w76 F5 08\nr76 F5 -> 1\nbegin 0\nw76 F2 05\nw76 F4 B5\n"));
  EXPECT_THAT(run("room", {.fill = "cells[0xD0] = 0x60;", .busy = 0xF5, .busy_mask = 8, .ready = 1}),
              HasSubstr("begin 32\n"))
      << "a register that does not keep it";
}

// A part fitted to the demonstration bench with these settings and its example trimming, and what is planned for it.
Result<ReadingPlan> plan_of(const Part& part, const std::map<std::string, double>& settings = {},
                            const std::string& name = "part") {
  auto fitted = fit_part(demo_bench(), shipped_parts(), part);
  if (!fitted) return fitted.problem();
  Device& device = *find_by_id(fitted->bench.devices, find_by_id(fitted->bench.channels, fitted->channel)->device);
  device.settings = settings;
  for (const ByteBlock& block : part.bytes.blocks)
    if (block.role == "trimming") device.trimming[block.name] = block.example;
  const auto chain = build_chain(fitted->bench, shipped_parts(), fitted->channel);
  if (!chain) return chain.problem();
  const auto bytes = plan_bytes(*chain);
  if (!bytes) return bytes.problem();
  return plan_reading(fitted->bench, shipped_parts(), fitted->channel,
                      {.name = name, .channel_name = part.name, .bytes = *bytes});
}

ReadingPlan planned(const char* marking, const std::map<std::string, double>& settings) {
  const Part* part = shipped_parts().find(marking);
  auto plan = part ? plan_of(*part, settings) : Problem{"no such part", ""};
  EXPECT_TRUE(plan) << to_text(plan.problem());
  return plan ? std::move(*plan) : ReadingPlan{};
}

// Both languages say the same to the same board for every part whose file tells how it is read; every byte that convert
// takes is read once, and nothing is said to an address or register that the sheet does not have.
constexpr const char* every_c = R"(
#include "NAME_read.h"
void NAME_run(void) {
  uint8_t bytes[NAME_BYTES];
  memset(cells, 0, sizeof cells);
  memset(always, 0, sizeof always);
  FILL
  printf("NAME\n");
  printf("begin %d\n", NAME_begin());
  printf("read %d\n", NAME_read(bytes));
  for (unsigned i = 0; i < sizeof bytes; ++i) printf("%02X", bytes[i]);
  printf("\n");
}
)";
constexpr const char* every_python = R"(
cells = bytearray(256)
always = bytearray(256)
plain = bytes(64)
class Board:
    def write(self, device, data):
        print('w%02X' % device + ''.join(' %02X' % b for b in data))
        for i, b in enumerate(data[1:]):
            cells[(data[0] + i) % 256] = b
        return True
    def read(self, device, command, count):
        print('r%02X' % device + ''.join(' %02X' % b for b in command) + ' -> %d' % count)
        return bytes(cells[(command[0] + i) % 256] | always[(command[0] + i) % 256] for i in range(count)) if command else plain[:count]
    def wait_ms(self, ms):
        print('t%d' % ms)
board = Board()
def run(part):
    print(part.__name__[:-5])
    print('begin', part.begin(board)[0])
    status, data = part.read(board)
    print('read', status)
    print(data.hex().upper() if data else '')
)";
constexpr const char* one_python = R"(
cells[:] = bytes(256)
always[:] = bytes(256)
FILL
import NAME_read
run(NAME_read)
)";

TEST_F(ReadingTest, BothLanguagesSayTheSameForEveryPart) {
  std::string main_c = board_c, main_python = every_python, calls, sources;
  main_c = main_c.substr(0, main_c.find("int main"));
  for (const auto& [word, what] :
       {std::pair("NAME", "p1"), {"READY", "0"}, {"BUSY_MASK", "0"}, {"BUSY", "0"}, {"DEAD", "0"}})
    main_c = replaced(main_c, word, what);
  std::size_t parts = 0;
  for (const Part& part : shipped_parts().parts()) {
    if (part.bytes.sequence.empty() || part.interface != Interface::i2c) continue;
    if (part.measures(Quantity::bridge_voltage)) continue;  // converters: a test of their own
    SCOPED_TRACE(part.id);
    const std::string name = fmt::format("p{}", ++parts);
    const auto plan = plan_of(part, {}, name);
    ASSERT_TRUE(plan) << to_text(plan.problem());
    EXPECT_TRUE(std::ranges::any_of(part.addresses, [&](const PartAddress& a) { return a.address == plan->address; }));
    std::vector<int> times(static_cast<std::size_t>(plan->bytes));
    std::string fill_c, fill_python;
    for (const auto* steps : {&plan->begin, &plan->each})
      for (const BoardStep& step : *steps) {
        if (step.kind == BoardStep::Kind::read)
          for (int i = step.at; i < step.at + step.count; ++i) ++times.at(static_cast<std::size_t>(i));
        const bool who = step.kind == BoardStep::Kind::check && step.status == reading_wrong_part;
        if (step.kind != BoardStep::Kind::until && !who) continue;
        for (int i = 0; i < std::max(1, step.count); ++i) {
          const unsigned here = step.value >> (8 * (std::max(1, step.count) - 1 - i)) & 0xFF;
          fill_c += fmt::format("always[{}] |= {};\n  ", step.bytes.front() + i, here);
          fill_python += fmt::format("always[{}] |= {}\n", step.bytes.front() + i, here);
        }
      }
    EXPECT_THAT(times, ::testing::Each(1)) << "each byte once";
    const auto [header, source] = write_reading_c(*plan);
    write(name + ".h", replaced("#include <stdint.h>\n#define p_OK 0\n#define p_NOT_READY 5\n#define p_NO_RESPONSE 9\n",
                                "p_", name + "_"));
    write(name + "_read.h", header);
    write(name + "_read.c", source);
    write(name + "_read.py", write_reading_python(*plan));
    main_c += replaced(replaced(every_c, "NAME", name), "FILL", fill_c);
    main_python += replaced(replaced(one_python, "NAME", name), "FILL", fill_python);
    calls += "  " + name + "_run();\n";
    // Each by itself as far as its own helpers go: fifty of them are one program here.
    sources += replaced(
        "#define check NAME_check\n#define wait_until NAME_wait_until\n#include \"NAME_read.c\"\n#undef check\n#undef "
        "wait_until\n",
        "NAME", name);
  }
  write("main.c", sources + main_c + "int main(void) {\n" + calls + "  return 0;\n}\n");
  write("main.py", main_python);
  const std::string said =
      shell("gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror main.c -o main && ./main");
  EXPECT_EQ(said, shell("python3 -B main.py"));
  std::size_t begun = 0, read = 0;
  for (std::istringstream lines(said); std::getline(lines, main_c);)
    begun += main_c == "begin 0", read += main_c == "read 0";
  EXPECT_EQ(begun, parts) << said.substr(0, 2000);
  EXPECT_EQ(read, parts);
  EXPECT_GE(parts, 45u);
}

// By hand from the sheets, for chosen settings: what passes over the bus for one reading.
TEST_F(ReadingTest, CommandsFollowTheSettings) {
  struct Row {
    const char* part;
    std::map<std::string, double> settings;
    const char* passes;  // w bytes, t ms, r command > count
  };
  const Row rows[] = {
      {"SHT31", {}, "w 24 00|t 17|r > 6"},
      {"SHT31", {{"repeatability", 0}}, "w 24 16|t 6|r > 6"},
      {"SHT40", {{"repeatability", 1}}, "w F6|t 6|r > 6"},
      {"BH1750", {{"mode", 3}}, "w 23|t 25|r > 2"},
      // 24 ms · 138 ÷ 69
      {"BH1750", {{"mode", 3}, {"mtreg", 138}}, "w 23|t 49|r > 2"},
      {"AM2320", {}, "w|t 2|w 03 00 04|t 3|r > 8"},
      {"DHT20", {}, "w AC 33 00|t 81|r > 7"},
      {"AHT30", {}, "w AC 33 00|t 81|r > 7"},
      {"AHT21", {}, "w AC 33 00|t 81|r > 7"},
      // Deep sleep off and once: 1000 0010 beside the rate as after power-on, 0111 0000.
      {"BMP581", {}, "w 37 F2|u 27 01 01|r 1D > 6"},
      // The address's top bit counts it on.
      {"LPS25HB", {}, "w 21 01|u 27 01 01|u 27 02 02|r A8 > 3|r AB > 2"},
      {"SDP31", {}, "r > 9"},
      {"LTR-329", {}, "u 8C 04 04|r 88 > 4"},
      {"LTR-390", {}, "u 07 08 08|r 0D > 3"},
      {"BMP180", {{"oversampling", 3}}, "w F4 2E|t 6|r F6 > 2|w F4 F4|t 27|r F6 > 3"},
      {"MS5611",
       {{"pressure_oversampling", 256}, {"temperature_oversampling", 4096}},
       "w 40|t 11|r 00 > 3|w 58|t 11|r 00 > 3"},
      {"DS3231", {}, "r 11 > 2"},
      {"MCP9808", {}, "r 05 > 2"},
  };
  for (const Row& row : rows) {
    SCOPED_TRACE(row.part);
    EXPECT_EQ(passes(planned(row.part, row.settings).each), row.passes);
  }
}

// What is done once after power-on, by hand from the sheets, for chosen settings.
TEST_F(ReadingTest, SettingsAreWrittenOnce) {
  struct Row {
    const char* part;
    std::map<std::string, double> settings;
    const char* writes;
  };
  const Row rows[] = {
      // 0100 0 and the upper three bits of 138 = 1000 1010; 011 and the lower five.
      {"BH1750", {{"mtreg", 138}}, "w 44|w 6A"},
      {"BH1750", {{"mtreg", 254}}, "w 47|w 7E"},
      {"AHT21", {}, "w BE 08 00"},
      {"BMP581", {}, "w 15 01|w 36 40"},
      {"LPS25HB", {}, "w 20 84"},
      {"SDP31", {}, "w 36 15"},
      // 400 ms is 011 in bits 5 to 3, every 500 ms 011; × 48 is 110 in bits 4 to 2, on 1.
      {"LTR-329", {{"gain", 48}, {"integration_ms", 400}}, "w 85 1B|w 80 19"},
      // 25 ms is 100 in bits 6 to 4, every 100 ms 010; × 18 is 100; on, light.
      {"LTR-390", {{"gain", 18}, {"integration_ms", 25}}, "w 04 42|w 05 04|w 00 02"},
  };
  for (const Row& row : rows) {
    SCOPED_TRACE(row.part);
    std::vector<BoardStep> begin = planned(row.part, row.settings).begin;
    std::erase_if(begin, [](const BoardStep& step) { return step.kind != BoardStep::Kind::write; });
    EXPECT_EQ(passes(begin), row.writes);
  }
}

// ---- other lines: each with a board of its own that writes down what passes ----

struct LineBoard {
  const char* c;       // the maker's functions
  const char* python;  // the same
};

constexpr LineBoard one_wire_board = {
    R"(
static uint8_t dead;
uint8_t board_reset(void) { printf("reset\n"); return !dead; }
void board_send(const uint8_t *bytes, uint8_t count) {
  unsigned i;
  for (i = 0; i < count; ++i) printf("%02X", bytes[i]);
  printf("\n");
}
void board_receive(uint8_t *bytes, uint8_t count) { memcpy(bytes, answer, count); printf("> %d\n", count); }
)",
    R"(
class Board:
    def reset(self):
        print('reset')
        return not dead
    def send(self, data):
        # what selects and what follows are two calls in C
        for part in (data[:len(part_read.SELECT)], data[len(part_read.SELECT):]):
            print(part.hex().upper())
    def receive(self, count):
        print('> %d' % count)
        return answer[:count]
)"};

constexpr LineBoard four_wire_board = {
    R"(
static uint8_t dead;
void board_select(uint8_t on) { printf("select %d\n", on); }
void board_transfer(const uint8_t *out, uint8_t *in, uint8_t count) {
  unsigned i;
  for (i = 0; i < count; ++i) printf("%02X", out ? out[i] : 0);
  printf("\n");
  if (in) memcpy(in, answer, count);
  (void)dead;
}
)",
    R"(
class Board:
    def select(self, on):
        print('select %d' % on)
    def transfer(self, data):
        print(data.hex().upper())
        return answer[:len(data)]
)"};

// The part answers with 80 us low and high, then 50 us low and 27 or 70 us high for each bit.
constexpr LineBoard single_wire_board = {
    R"(
static uint8_t dead;
static int at = -3;
void board_line(uint8_t level) { printf("line %d\n", level); }
uint16_t board_level_us(uint8_t level) {
  if (dead) return 0;
  if (at < 0) return ++at, (uint16_t)(level ? 80 : 81);
  {
    const int bit = at / 2, is = answer[bit / 8] >> (7 - bit % 8) & 1;
    ++at;
    return (uint16_t)(level ? (is ? 70 : 27) : 50);
  }
}
)",
    R"(
class Board:
    at = -3
    def line(self, level):
        print('line %d' % level)
    def level_us(self, level):
        if dead:
            return 0
        self.at += 1
        if self.at <= 0:
            return 80
        bit = (self.at - 1) // 2
        return (70 if answer[bit // 8] >> (7 - bit % 8) & 1 else 27) if level else 50
)"};

constexpr const char* line_c = R"(
#include <stdio.h>
#include <string.h>
#include "part_read.h"
static const uint8_t answer[] = {ANSWER};
BOARD
void board_wait_ms(uint16_t ms) { printf("wait %u\n", ms); }
int main(int count, char **words) {
  uint8_t bytes[part_BYTES];
  unsigned i, status;
  (void)words;
  dead = (uint8_t)(count > 1);
  printf("begin %d\n", part_begin());
  status = part_read(bytes);
  printf("read %d\n", status);
  for (i = 0; status == 0 && i < sizeof bytes; ++i) printf("%02X", bytes[i]);
  printf("\n");
  return 0;
}
)";
constexpr const char* line_python = R"(
import sys
import part_read
dead = len(sys.argv) > 1
answer = bytes((ANSWER))
BOARD
    def wait_ms(self, ms):
        print('wait %d' % ms)
board = Board()
print('begin', part_read.begin(board)[0])
status, data = part_read.read(board)
print('read', status)
print(data.hex().upper() if status == 0 else '')
)";

TEST_F(ReadingTest, OtherLinesAreReadAsTheirSheetsSay) {
  struct Row {
    const char *marking, *answer;
    LineBoard board;
    std::map<std::string, double> registers;
    const char* passes;  // after what begin and read return
    const char* bytes;
  };
  const Row rows[] = {
      {"DS18B20",
       "0x56,0x01,0x4B,0x46,0x7F,0xFF,0x08,0x10,0x40",
       one_wire_board,
       {},
       "reset\n55281122334455667A\n4E4B467F\nbegin 0\nreset\n55281122334455667A\n44\nwait 751\n"
       "reset\n55281122334455667A\nBE\n> 9\nread 0\n",
       "56014B467FFF081040"},
      // Nine bits: 0x1F, and 93.75 ms.
      {"DS18B20",
       "0,0,0,0,0,0,0,0,0",
       one_wire_board,
       {{"0x4E", 0x1F}},
       "reset\n55281122334455667A\n4E4B461F\nbegin 0\nreset\n55281122334455667A\n44\nwait 95\n"
       "reset\n55281122334455667A\nBE\n> 9\nread 0\n",
       "000000000000000000"},
      {"DS18S20",
       "0x2A,0,0x4B,0x46,0xFF,0xFF,6,0x10,0xF2",
       one_wire_board,
       {},
       "begin 0\nreset\n55281122334455667A\n44\nwait 751\nreset\n55281122334455667A\nBE\n> 9\nread 0\n",
       "2A004B46FFFF0610F2"},
      {"MAX31855",
       "0x03,0xD8,0x17,0x80",
       four_wire_board,
       {},
       "begin 0\nwait 101\nselect 1\n00000000\nselect 0\nread 0\n",
       "03D81780"},
      // Bias on, 10 ms, one shot, the longest conversion at 60 Hz, the resistance from 0x01, bias off.
      {"MAX31865",
       "0x45,0x56",
       four_wire_board,
       {},
       "begin 0\nselect 1\n8080\nselect 0\nwait 11\nselect 1\n80A0\nselect 0\nwait 56\nselect 1\n01\n0000\nselect 0\n"
       "select 1\n8000\nselect 0\nread 0\n",
       "4556"},
      // Three wires and 50 Hz, as the bench has them.
      {"MAX31865",
       "0x45,0x56",
       four_wire_board,
       {{"0x00", 0x11}},
       "begin 0\nselect 1\n8091\nselect 0\nwait 11\nselect 1\n80B1\nselect 0\nwait 67\nselect 1\n01\n0000\nselect 0\n"
       "select 1\n8011\nselect 0\nread 0\n",
       "4556"},
      {"DHT22",
       "0x02,0x46,0x00,0xD6,0x1E",
       single_wire_board,
       {},
       "begin 0\nline 0\nwait 1\nline 1\nread 0\n",
       "024600D61E"},
      {"DHT11",
       "0x3A,0x00,0x15,0x04,0x53",
       single_wire_board,
       {},
       "begin 0\nline 0\nwait 18\nline 1\nread 0\n",
       "3A00150453"},
  };
  for (const Row& row : rows) {
    SCOPED_TRACE(row.marking);
    const Part& part = *shipped_parts().find(row.marking);
    Bench bench;
    bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
    bench.buses = {{.id = "wire", .kind = BusKind::one_wire, .rail = "3v3"}};
    bench.devices = {{.id = "d", .part = part.id, .registers = row.registers, .rail = "3v3"}};
    if (part.interface == Interface::one_wire)
      bench.devices[0].bus = "wire", bench.devices[0].serial = "281122334455667A";
    bench.channels = {{.id = "part", .device = "d", .quantity = part.quantities.front().quantity}};
    bench.channels[0].unit = base_unit(bench.channels[0].quantity).ucum;
    const auto bytes = plan_bytes(demo_chain("part", bench));
    ASSERT_TRUE(bytes) << to_text(bytes.problem());
    const auto plan =
        plan_reading(bench, shipped_parts(), "part", {.name = "part", .channel_name = part.name, .bytes = *bytes});
    ASSERT_TRUE(plan) << to_text(plan.problem());
    const auto [header, source] = write_reading_c(*plan);
    write("part.h", "#include <stdint.h>\n#define part_OK 0\n#define part_NOT_READY 5\n#define part_NO_RESPONSE 9\n");
    write("part_read.h", header);
    write("part_read.c", source);
    write("part_read.py", write_reading_python(*plan));
    const auto fill = [&](const char* text, const char* board) {
      return replaced(replaced(text, "ANSWER", row.answer), "BOARD", board);
    };
    write("main.c", fill(line_c, row.board.c));
    write("main.py", fill(line_python, row.board.python));
    const std::string said = shell(
        "gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror main.c "
        "part_read.c -o main && ./main");
    EXPECT_EQ(said, std::string(row.passes) + row.bytes + "\n");
    EXPECT_EQ(shell("python3 -B main.py"), said);
    if (part.interface == Interface::spi) continue;  // nobody can tell that such a part is dead
    EXPECT_THAT(shell("./main dead"), HasSubstr("read 9\n"));
    EXPECT_EQ(shell("python3 -B main.py dead"), shell("./main dead"));
  }
}

TEST_F(ReadingTest, ASharedWireWithoutASerialIsSaid) {
  const auto plan = plan_of(*shipped_parts().find("DS18B20"));
  ASSERT_TRUE(plan);
  EXPECT_EQ(plan->select, (std::vector<std::uint8_t>{0xCC}));
  EXPECT_THAT(plan->remarks, ::testing::Contains(HasSubstr("alone on its line")));
  const auto slow = plan_of(*shipped_parts().find("DHT22"));
  ASSERT_TRUE(slow);
  EXPECT_THAT(slow->remarks, ::testing::Contains(HasSubstr("2 s after")));
  const auto four = plan_of(*shipped_parts().find("MAX31865"));
  ASSERT_TRUE(four);
  EXPECT_THAT(four->remarks, ::testing::Contains(HasSubstr("Mode 1 or 3")));
}

// What cannot be written says why, and the rest is handed over all the same.
TEST_F(ReadingTest, WhatIsNotKnownIsSaid) {
  const auto done =
      hand_over(demo_bench(), shipped_parts(),
                {.channel = "substrate", .language = Language::python, .reading = true, .drawn_blocks = 500});
  ASSERT_TRUE(done);
  EXPECT_EQ(std::ranges::count_if(done->files,
                                  [](const auto& file) { return file.first.find("_read") != std::string::npos; }),
            0);
  EXPECT_THAT(done->report.notes, ::testing::Contains(HasSubstr("no block of bytes")));
  Bench bench = demo_bench();
  find_by_id(bench.devices, find_by_id(bench.channels, "rack")->device)->part = "none such";
  EXPECT_FALSE(plan_reading(bench, shipped_parts(), "rack", {}));
}

}  // namespace fair_gauge::reading_plan_test
