// The controller's own registers: as their file has them, as a person types them, and what follows.
#include <gmock/gmock.h>

#include <cstdlib>
#include <sstream>

#include "demo.h"
#include "digital/own_layout.h"
#include "digital/own_registers.h"
#include "digital/registers.h"
#include "files/file.h"
#include "handoff/measure.h"
#include "scratch_folder.h"
#include "wiring/controller_check.h"

namespace fair_gauge::controller_test {

using testing::Contains;
using testing::ElementsAre;
using testing::Field;
using testing::HasSubstr;

class ControllerFiles : public ScratchFolder {};

std::vector<Controller> shipped() {
  std::vector<Problem> problems;
  const std::string file = std::string(FAIR_GAUGE_SOURCE) + "/data/controllers/10-bit-eight-inputs.json";
  auto all = read_controllers(*read_file(file, 1u << 20), file, problems);
  for (const Problem& problem : problems) ADD_FAILURE() << to_text(problem);
  return all;
}

// The open C library's header says where every register and bit is: the compiler for that controller checks each.
TEST_F(ControllerFiles, HaveTheirBitsWhereTheCompilersHeaderHasThem) {
  const Controller controller = shipped().front();
  std::ostringstream code;
  code << "#include <avr/io.h>\n";
  int checked = 0;
  for (const PartRegister& reg : controller.layout.registers) {
    code << "_Static_assert(_SFR_MEM_ADDR(" << reg.name << ") == " << reg.address << ", \"" << reg.name << "\");\n";
    for (const RegisterField& field : reg.fields) {
      const auto bits = *field_bits(field);
      // A field of several bits has them numbered in the header: REFS0, REFS1.
      for (int bit = bits.low; bit <= bits.high; ++bit, ++checked)
        code << "_Static_assert(" << field.name << (bits.high > bits.low ? std::to_string(bit - bits.low) : "")
             << " == " << bit << ", \"" << field.name << "\");\n";
    }
  }
  write("bits.c", code.str());
  EXPECT_EQ(checked, 2 + 1 + 4 + 8 + 4 + 7 + 6);
  EXPECT_EQ(shell("avr-gcc -mmcu=" + std::string(measured_controller) + " -std=c11 -c bits.c -o bits.o"), "");
}

Bench bench_with(const std::string& reference_rail, double reference_v, double clock_hz) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 10, .reference_rail = reference_rail, .reference = {reference_v}}};
  bench.board.controller = "10-bit-eight-inputs";
  bench.board.clock_hz = clock_hz;
  return bench;
}

// Input 3 against the supply, on, clock ÷ 128: 16 MHz / 128 = 125 kHz; 13 clocks are 104 µs, the first 25 are 200 µs.
TEST(Controller, SaysHowLongAReadingTakes) {
  const Controller controller = shipped().front();
  const std::vector<unsigned> values = {0x43, 0x87, 0, 0, 0};
  const auto check = check_controller(bench_with("5v", 0, 0), controller, values);
  ASSERT_TRUE(check) << to_text(check.problem());
  EXPECT_EQ(check->clock_hz, 16e6);
  EXPECT_NEAR(check->composition.figures[0].value, 125e3, 1e-6);
  EXPECT_NEAR(*check->composition.of_role("conversion"), 104e-6, 1e-12);
  EXPECT_NEAR(check->composition.figures[2].value, 200e-6, 1e-12);
  EXPECT_TRUE(check->findings.empty()) << check->findings.front().words;
  // At 20 MHz and ÷ 64 its clock is 312.5 kHz; ÷ 2 by either of two numbers.
  const auto fast = check_controller(bench_with("5v", 0, 20e6), controller, std::vector<unsigned>{0x43, 0x86, 0, 0, 0});
  EXPECT_NEAR(fast->composition.figures[0].value, 312.5e3, 1e-6);
  ASSERT_EQ(fast->findings.size(), 1u);
  EXPECT_THAT(fast->findings[0].words, HasSubstr("above 200 kHz"));
  for (const unsigned twos : {0x80u, 0x81u})
    EXPECT_NEAR(check_controller(bench_with("5v", 0, 1e5), controller, std::vector<unsigned>{0x43, twos, 0, 0, 0})
                    ->composition.figures[0]
                    .value,
                50e3, 1e-9);
}

TEST(Controller, IsHeldAgainstTheBenchsReference) {
  const Controller controller = shipped().front();
  const auto said = [&](const std::string& rail, double volts, unsigned admux) {
    const auto check =
        check_controller(bench_with(rail, volts, 0), controller, std::vector<unsigned>{admux, 0x87, 0, 0, 0});
    return check->findings.empty() ? std::string() : check->findings.front().words;
  };
  EXPECT_EQ(said("5v", 0, 0x40), "");
  EXPECT_EQ(said("", 1.08, 0xC0), "") << "1.1 V inside, measured as 1.08 V";
  EXPECT_EQ(said("", 2.5, 0x00), "") << "a reference at the pin";
  EXPECT_THAT(said("5v", 0, 0xC0), HasSubstr("choose 1.1 V inside as reference, this bench counts with the supply"));
  EXPECT_THAT(said("", 1.1, 0x40), HasSubstr("choose the supply as reference, this bench counts with 1.1 V"));
  EXPECT_THAT(said("", 2.5, 0xC0), HasSubstr("1.1 V inside"));
  EXPECT_THAT(said("5v", 0, 0x00), HasSubstr("the reference pin"));
  // After power-on nobody has chosen anything yet.
  EXPECT_TRUE(check_controller(bench_with("5v", 0, 0), controller, std::vector<unsigned>(5, 0))->findings.empty());
}

// From input 3 to input 5 of the same reference: bits 3 to 0 alone; 0x43 & 0xF0 | 0x05 is 0x45.
TEST(Controller, ALineChangesTheWantedBitsAlone) {
  const Controller controller = shipped().front();
  EXPECT_THAT(lines_of_change(controller, std::vector<unsigned>{0x43, 0x87, 0, 0, 0},
                              std::vector<unsigned>{0x45, 0x87, 0, 0, 0}),
              ElementsAre("ADMUX = (ADMUX & 0xF0) | 0x05;  // MUX"));
  EXPECT_THAT(
      lines_of_change(controller, std::vector<unsigned>{0, 0, 0, 0, 0}, std::vector<unsigned>{0x43, 0x87, 0, 0, 0}),
      ElementsAre("ADMUX = (ADMUX & 0x30) | 0x43;  // REFS, MUX", "ADCSRA = (ADCSRA & 0x78) | 0x87;  // ADEN, ADPS"));
  // A bit without a name is changed only where the two values differ in it: bit 4 of ADMUX.
  const RegisterMasks masks = masks_between(controller.layout.registers[0], 0x00, 0x10);
  EXPECT_EQ(masks.keep, 0xEFu);
  EXPECT_EQ(masks.set, 0x10u);
  for (unsigned before = 0; before < 256; ++before)  // whatever stood there
    for (const unsigned to : {0x00u, 0x43u, 0xC8u}) {
      const RegisterMasks each = masks_between(controller.layout.registers[0], before, to);
      ASSERT_EQ((before & each.keep) | each.set, to);
    }
}

TEST(OwnRegisters, AreReadRowByRow) {
  const auto registers = registers_of_rows({{"CONF", "0x01", "RES", "6:5", "0 9 bits; 1 10 bits; 3 12 bits", "3"},
                                            {"", "", "SD", "0", "0 runs; 1 sleeps", ""},
                                            {"TIMES", "16", "N", "11:8", "", "0xA"},
                                            {"CONF", "", "OS", "7", "", ""}});
  ASSERT_TRUE(registers) << to_text(registers.problem());
  ASSERT_EQ(registers->size(), 2u);
  const PartRegister& conf = registers->front();
  EXPECT_EQ(conf.bits, 8);
  EXPECT_EQ(conf.power_on, 0x60);
  ASSERT_EQ(conf.fields.size(), 3u);
  EXPECT_EQ(conf.fields[0].choices[2].value, 3);
  EXPECT_EQ(conf.fields[0].choices[2].means, "12 bits");
  EXPECT_EQ(conf.fields[2].name, "OS");
  EXPECT_EQ((*registers)[1].bits, 16);
  EXPECT_EQ((*registers)[1].power_on, 0xA00);
}

TEST(OwnRegisters, WhatIsNotUnderstoodIsNamedWithItsRow) {
  const OwnRegisterRow right{"CONF", "0x01", "RES", "6:5", "0 a; 1 b", "1"};
  const auto wrong = [&](auto change) {
    OwnRegisterRow row = right;
    change(row);
    const auto read = registers_of_rows({right, row});
    return read ? std::string("understood") : read.problem().wrong;
  };
  EXPECT_THAT(wrong([](auto& row) { row.field = ""; }), HasSubstr("row 2: the field has no name"));
  EXPECT_THAT(wrong([](auto& row) { row.bits = "16"; }), HasSubstr("\"16\" are no bits"));
  EXPECT_THAT(wrong([](auto& row) { row.bits = "2:5"; }), HasSubstr("are no bits"));
  EXPECT_THAT(wrong([](auto& row) { row.field = "X", row.bits = "5:4"; }), HasSubstr("X and RES share a bit of CONF"));
  EXPECT_THAT(wrong([](auto& row) { row.field = "X", row.bits = "4", row.choices = "2 two"; }),
              HasSubstr("2 has no room"));
  EXPECT_THAT(wrong([](auto& row) { row.field = "X", row.bits = "4", row.choices = "on"; }), HasSubstr("no choice"));
  EXPECT_THAT(wrong([](auto& row) { row.field = "X", row.bits = "4", row.power_on = "2"; }),
              HasSubstr("after power-on"));
  EXPECT_THAT(wrong([](auto& row) { row.field = "X", row.bits = "4", row.address = "0x02"; }),
              HasSubstr("CONF stands at 0x01 already"));
  EXPECT_THAT(wrong([](auto& row) { row.reg = "OTHER", row.address = ""; }), HasSubstr("OTHER has no address"));
  EXPECT_THAT(wrong([](auto& row) { row.reg = "OTHER", row.address = "here"; }), HasSubstr("\"here\" is no address"));
  EXPECT_THAT(registers_of_rows({{"", "", "X", "1", "", ""}}).problem().wrong, HasSubstr("no register is named"));
}

// What is saved is found again, after those that ship.
TEST_F(ControllerFiles, OnesOwnAreKeptBesideThoseThatShip) {
  setenv("XDG_DATA_HOME", folder_.c_str(), 1);
  const auto made =
      controller_of_registers("My 12-bit one", *registers_of_rows({{"CTRL", "0x40", "EN", "0", "0 off; 1 on", ""}}));
  ASSERT_TRUE(made);
  EXPECT_EQ(made->id, "own-my-12-bit-one");
  const auto path = save_user_controller(*made);
  ASSERT_TRUE(path) << to_text(path.problem());
  EXPECT_EQ(path->former, "");
  EXPECT_EQ(save_user_controller(*made)->former, "") << "the same again";
  Controller other = *made;
  other.source = "another that has its name";
  for (const auto& [controller, former] : {std::pair(other, ".former"), std::pair(*made, ".former-2")}) {
    const auto again = save_user_controller(controller);
    ASSERT_TRUE(again) << to_text(again.problem());
    EXPECT_EQ(again->former, path->path + former) << "what had this name before is not lost";
    EXPECT_THAT(where_kept(*again), testing::HasSubstr(former));
  }
  EXPECT_NE(*read_file(path->path + ".former"), *read_file(path->path + ".former-2"));
  std::vector<Problem> problems;
  EXPECT_THAT(load_controllers(&problems), Contains(*made));
  EXPECT_TRUE(problems.empty());
  write("fair-gauge/controllers/broken.json", R"({"controllers": [{"id": "x"}]})");
  EXPECT_THAT(load_controllers(&problems), Contains(*made));
  EXPECT_FALSE(problems.empty());
  unsetenv("XDG_DATA_HOME");
  EXPECT_FALSE(controller_of_registers("", made->layout.registers));
  EXPECT_FALSE(controller_of_registers("nothing", {}));
}

TEST(OwnRegisters, AnOwnPartMayHaveThem) {
  OwnLayout layout{.name = "with a register",
                   .fields = {{.name = "raw", .bits = "0 1"}},
                   .readings = {{Quantity::temperature, "raw / 256", -40, 125}},
                   .registers = *registers_of_rows({{"CONF", "0x01", "SD", "0", "0 runs; 1 sleeps", "1"}})};
  const auto part = part_of_layout(layout);
  ASSERT_TRUE(part) << to_text(part.problem());
  EXPECT_THAT(power_on_values(part->bytes), ElementsAre(1u));
}

}  // namespace fair_gauge::controller_test
