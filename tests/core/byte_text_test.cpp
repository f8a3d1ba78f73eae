// Pasted bytes, recorded lines, and the other ways to read a number.
#include "digital/byte_text.h"

#include <gmock/gmock.h>

#include <algorithm>
#include <random>

#include "demo.h"
#include "digital/light_settings.h"
#include "digital/line_capture.h"
#include "digital/registers.h"

namespace fair_gauge::byte_text_test {

using testing::ElementsAre;
using testing::HasSubstr;

TEST(ByteText, IsUnderstoodInWhateverShapeItComes) {
  struct Case {
    const char* text;
    ByteShape shape;
  };
  // All mean 1A 2B.
  const Case cases[] = {{"0x1A 0x2B", ByteShape::hexadecimal},
                        {"1A2B", ByteShape::hexadecimal},
                        {"1a:2b", ByteShape::hexadecimal},
                        {"  1A-2B\n", ByteShape::hexadecimal},
                        {"{0x1A,43}", ByteShape::mixed},
                        {"b'\\x1a+'", ByteShape::text_escapes},
                        {"\"\\x1A\\x2B\"", ByteShape::text_escapes},
                        {"[26, 43, ]", ByteShape::hexadecimal},
                        {"00011010 00101011", ByteShape::binary},
                        {"0b11010, 0b101011", ByteShape::binary},
                        {"0001101000101011", ByteShape::binary},
                        {"F7: 1A 2B", ByteShape::dump},
                        {"00000000  1a 2b                                             |.+|\n00000002", ByteShape::dump},
                        {"00000000: 1a2b                                    .+", ByteShape::dump},
                        {"     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f    0123456789abcdef\n"
                         "f0: XX 1a 2b XX XX XX XX XX XX XX XX XX XX XX XX XX    X.+XXXXXXXXXXXXX",
                         ByteShape::dump},
                        {"0xF7=1A2B", ByteShape::blocks},
                        {"0xF7=1A;0xFA=2B", ByteShape::blocks},
                        {"F7=1A\nFA=2B\n", ByteShape::blocks},
                        {R"({"registers": {"0xF7": "1A", "0xFA": "2B"}})", ByteShape::blocks},
                        {R"({"frame":"1A2B"})", ByteShape::blocks},
                        {"Received: 0x1A 0x2B", ByteShape::hexadecimal},
                        {"RX: 1A 2B", ByteShape::hexadecimal},
                        {"uint8_t frame[2] = {0x1A, 43}; // of the rack", ByteShape::mixed},
                        {"byte 0: 0x1A\nbyte 1: 0x2B", ByteShape::hexadecimal},
                        {"data[0] = 26\ndata[1] = 0x2B", ByteShape::mixed},
                        {"1a 2b : crc=2b YES\n1a 2b t=26125", ByteShape::hexadecimal},
                        {"1a 2b : crc=2b YES\n", ByteShape::hexadecimal},
                        {"1a 2b t=-26125", ByteShape::hexadecimal},
                        {"Data = 1A 2B  CRC=2B", ByteShape::hexadecimal},
                        {"at t=5 s: 1A 2B", ByteShape::hexadecimal},
                        {"MSB=0x1A LSB=0x2B", ByteShape::hexadecimal},
                        {"1Ah 2Bh", ByteShape::hexadecimal},
                        {"0x1A, /* high */ 0x2B /* low */", ByteShape::hexadecimal},
                        {"0xF7 | 0x1A\n0xF8 | 0x2B", ByteShape::dump},
                        {"12:00:01 room:x0000\n12:00:02 room:x1A2B ok", ByteShape::log}};
  for (const Case& each : cases) {
    const auto read = read_byte_text(
        each.text, std::string_view(each.text) == "[26, 43, ]" ? std::optional(ByteShape::decimal) : std::nullopt);
    ASSERT_TRUE(read) << each.text << ": " << to_text(read.problem());
    EXPECT_THAT(read->bytes, ElementsAre(0x1A, 0x2B)) << each.text;
    EXPECT_TRUE(read->shape == each.shape || read->shape == ByteShape::decimal) << each.text;
  }
  EXPECT_EQ(read_byte_text("F7: 1A 2B")->runs.front().block, "0xF7");
  EXPECT_EQ(read_byte_text("room:x1A2B")->name, "room");
  EXPECT_EQ(read_byte_text("100, 200, 7")->shape, ByteShape::decimal);
}

TEST(ByteText, DecimalNumbersHaveAllTenDigits) {
  const auto read = read_byte_text("[9, 99, 190, 208]");
  ASSERT_TRUE(read);
  EXPECT_THAT(read->bytes, ElementsAre(0x09, 0x63, 0xBE, 0xD0));
}

TEST(ByteText, SaysWhereItDoesNotFit) {
  EXPECT_EQ(read_byte_text("0x1A 0xZZ").problem().place.column, 6);
  EXPECT_THAT(to_text(read_byte_text("26, 430", ByteShape::decimal).problem()), HasSubstr("0 to 255"));
  EXPECT_FALSE(read_byte_text("1A2", ByteShape::hexadecimal));
  EXPECT_FALSE(read_byte_text("b'\\x1'"));
  EXPECT_EQ(read_byte_text("10: 01 02\n11: 03").problem().place.line, 2);
  EXPECT_EQ(read_byte_text("10: 01 02\n20: 03")->runs.size(), 2U);
  EXPECT_FALSE(read_byte_text("00: XX XX"));
  EXPECT_TRUE(read_byte_text("")->bytes.empty());
  EXPECT_EQ(read_byte_text("b'\\x1a'")->bytes, (std::vector<std::uint8_t>{0x1A}));
  EXPECT_EQ(read_byte_text("b'a\\x1a+b'")->bytes, (std::vector<std::uint8_t>{0x61, 0x1A, 0x2B, 0x62}));
  // However long it is, it takes no time: a search of every beginning would take minutes.
  for (const char* word : {"a", "AB", "1A:", "name ", "\"a\":\"", "0xF7=AB;", "/*", "x["}) {
    std::string text;
    while (text.size() < 100'000) text += word;
    (void)read_byte_text(text);
    (void)read_byte_text(text + " zz");
  }
  // Of a long log the end counts.
  std::string log;
  while (log.size() < 60'000) log += "first:x01\n";
  const auto last = read_byte_text(log + "last:x1234\n");
  ASSERT_TRUE(last);
  EXPECT_EQ(last->name, "last");
  EXPECT_EQ(last->bytes, (std::vector<std::uint8_t>{0x12, 0x34}));
  std::mt19937 random(3);
  for (int i = 0; i < 3000; ++i) {  // no text can crash it
    std::string text;
    for (int n = static_cast<int>(random() % 30); n > 0; --n)
      text += "0123456789abcdefxX:\\'\"b, \n{}|=-"[random() % 32];
    for (const auto& shape : enum_names(ByteShape{})) (void)read_byte_text(text, shape.value);
    (void)read_byte_text(text);
    (void)read_capture(text + "$var");
    (void)read_capture(text);
  }
}

TEST(Captures, GiveBackTheBytesThatWereSent) {
  const std::vector<std::uint8_t> frame = {0x02, 0x8C, 0x01, 0x5F, 0xEE},
                                  pad = {0x91, 0x01, 0x4B, 0x46, 0x7F, 0xFF, 0x0F, 0x10, 0x25};
  const auto through_file = [](const std::vector<LineTrace>& lines) { return *read_capture(write_vcd(lines)); };
  const auto single = decode_single_wire(through_file({record_single_wire(frame)}).front());
  EXPECT_EQ(single.bytes, frame);
  EXPECT_EQ(single.fault, "");
  const auto one = decode_one_wire(through_file({record_one_wire(pad)}).front());
  EXPECT_EQ(one.bytes, pad);
  EXPECT_EQ(one.fault, "");
  EXPECT_THAT(one.events, ElementsAre("reset", "presence", "read scratchpad"));
  const auto lines = through_file(record_two_wire(0x76, frame));
  const auto two = decode_two_wire(lines[0], lines[1]);
  EXPECT_EQ(two.bytes, frame);
  EXPECT_EQ(two.fault, "");
  EXPECT_THAT(two.events, ElementsAre("start", "address 0x76 read", "stop"));
  EXPECT_EQ(decode_pulses(through_file({record_pulses(1601)}).front()).count, 1601);
}

TEST(Captures, NameTheFirstTimingFault) {
  LineTrace line = record_single_wire({0x02, 0x8C, 0x01, 0x5F, 0xEE});
  for (std::size_t i = 20; i < line.edges.size(); ++i)
    line.edges[i].seconds += 45e-6;  // the low time of the eighth bit is stretched by 45 µs
  EXPECT_THAT(decode_single_wire(line).fault, HasSubstr("bit 8"));
  LineTrace cut = record_single_wire({0x02, 0x8C, 0x01, 0x5F, 0xEE});
  cut.edges.resize(60);
  EXPECT_THAT(decode_single_wire(cut).fault, HasSubstr("bits of 40"));
  LineTrace nobody{"dq", {{0, true}, {1e-3, false}, {1.5e-3, true}, {3e-3, false}, {3.5e-3, true}}};
  EXPECT_THAT(decode_one_wire(nobody).fault, HasSubstr("presence"));
  auto lines = record_two_wire(0x76, {1, 2});
  for (Edge& edge : lines[1].edges) edge.high = true;
  EXPECT_THAT(decode_two_wire(lines[0], lines[1]).fault, HasSubstr("no start"));
  EXPECT_THAT(decode_pulses({"p", {}}).fault, HasSubstr("no pulses"));
}

TEST(Captures, EdgeTablesAreReadToo) {
  const auto lines = read_capture("seconds,scl,sda\n0,1,1\n1e-6,1,0\n2e-6,0,0\n");
  ASSERT_TRUE(lines);
  EXPECT_EQ(lines->size(), 2u);
  EXPECT_EQ((*lines)[1].edges.size(), 2u);
  EXPECT_EQ(read_capture("seconds,scl\n0,2\n").problem().place.line, 2);
  // Comments, other separators, another unit of time, a byte order mark; samples are no times.
  for (const char* written :
       {"\xEF\xBB\xBF; made by a recorder\n# 3 rows\nTime [us]; \"scl\"; sda\r\n0;1;1\r\n1,0;1;0\r\n2;0;0\r\n",
        "t_us\tscl\tsda\n0\t1\t1\n1\t1\t0\n2\t0\t0", "time (\u00B5s),scl,sda\n0,1,1\n1,1,0\n2,0,0\n",
        "ns [ns],scl,sda\n0,1,1\n1000,1,0\n2000,0,0\n"}) {
    const auto same = read_capture(written);
    ASSERT_TRUE(same) << written << to_text(same.problem());
    ASSERT_EQ(same->size(), 2u) << written;
    EXPECT_EQ(same->front().name, "scl") << written;
    ASSERT_EQ(same->back().edges.size(), 2u) << written;
    EXPECT_NEAR(same->back().edges[1].seconds, 1e-6, 1e-15) << written;
  }
  EXPECT_EQ(read_capture("0,1,1\n1e-6,0,1\n")->front().edges.size(), 2u);
  EXPECT_THAT(to_text(read_capture("Sample,scl\n0,1\n").problem()), testing::HasSubstr("1:1: \"Sample\" is no time"));
  EXPECT_FALSE(read_capture("$timescale 1 parsec $end $var wire 1 ! a $end"));
}

TEST(LightSettings, KeepTheHeadroomAndComeFinestFirst) {
  for (const char* marking : {"TSL2561", "TSL2591", "BH1750", "VEML7700"}) {
    const Part& part = *shipped_parts().find(marking);
    const auto found = light_settings(part, 300, 2);
    ASSERT_TRUE(found) << marking << to_text(found.problem());
    for (std::size_t i = 0; i < found->size(); ++i) {
      EXPECT_LE((*found)[i].share * 2, 1) << marking;
      EXPECT_GE((*found)[i].step_lux, (*found)[i > 0 ? i - 1 : 0].step_lux) << marking;
    }
  }
  // By hand for the VEML7700: 0.0036 lx a count at gain 2 and 800 ms is full at 236 lx; 300 lx with room for twice
  // needs 600 / 65535 = 0.0092 lx a count or more: gain 2 and 200 ms, or 1 and 400 ms, give 0.0144.
  EXPECT_NEAR(light_settings(*shipped_parts().find("VEML7700"), 300, 2)->front().step_lux, 0.0144, 1e-6);
  if (is_sanitized) return;  // the same again at the ends
  EXPECT_THAT(to_text(light_settings(*shipped_parts().find("TSL2591"), 87000, 3).problem()), HasSubstr("at most"));
  EXPECT_FALSE(light_settings(*shipped_parts().find("DS18B20"), 300));
  // At gain 1/8 and 25 ms a count is 0.0036 · 16 · 32 = 1.8432 lx, and 65 535 of them 120 795: 60 398 with room for
  // twice. What is said to be the most is looked for in steps of an eighth.
  const Part& wide = *shipped_parts().find("VEML7700");
  EXPECT_TRUE(light_settings(wide, 60'300, 2));
  const auto too_much = light_settings(wide, 60'500, 2);
  ASSERT_FALSE(too_much);
  const double most = std::atof(too_much.problem().expected.c_str());
  EXPECT_LE(most, 60'500);
  EXPECT_GT(most, 60'398 / 1.13);
}

// Kept registers count as far as they can stand in theirs: 8 bits hold 0 to 255.
TEST(Registers, AreTakenOverWhereTheyFit) {
  const ByteLayout& layout = shipped_parts().find("MCP9808")->bytes;
  ASSERT_EQ(layout.registers[0].address, "0x08");
  ASSERT_EQ(layout.registers[0].bits, 8);
  const auto first = [&](double kept) { return registers_of(layout, {}, {{"0x08", kept}})[0]; };
  EXPECT_EQ(first(0), 0u);
  EXPECT_EQ(first(255), 255u);
  for (const double none : {-1.0, 256.0}) EXPECT_EQ(first(none), layout.registers[0].power_on) << none;
}

TEST(LightSettings, AutomaticGainEndsWhereTheLightIsReadWell) {
  const Part& part = *shipped_parts().find("TSL2591");
  for (const double lux : {0.5, 20.0, 900.0, 20000.0}) {
    const auto steps = automatic_gain(part, lux, {{"gain", 25}, {"integration_ms", 100}});
    ASSERT_FALSE(steps.empty());
    EXPECT_EQ(steps.front().settings.at("gain"), 25);
    EXPECT_LT(steps.back().share, 0.95) << lux;
    EXPECT_GT(steps.back().share, 0.02) << lux;
  }
}

TEST(Registers, ComposeAndExplainEachOther) {
  for (const Part& part : shipped_parts().parts())
    for (const PartRegister& reg : part.bytes.registers) {
      EXPECT_EQ(*read_register(reg, write_register(reg, static_cast<unsigned>(reg.power_on))),
                static_cast<unsigned>(reg.power_on))
          << part.id;
      for (const RegisterField& field : reg.fields) {
        ASSERT_TRUE(field_bits(field)) << part.id << " " << field.name;
        for (const SettingChoice& choice : field.choices) {
          const unsigned value = with_field(field, 0xFFFF, static_cast<unsigned>(choice.value));
          EXPECT_EQ(field_value(field, value), static_cast<unsigned>(choice.value)) << part.id << " " << field.name;
          EXPECT_EQ(field_meaning(field, static_cast<unsigned>(choice.value)), choice.means);
        }
      }
    }
  // BME280 data sheet: ctrl_meas 0x27 is temperature × 1, pressure × 1, normal mode.
  const PartRegister& ctrl_meas = shipped_parts().find("BME280")->bytes.registers[1];
  EXPECT_EQ(field_meaning(ctrl_meas.fields[0], field_value(ctrl_meas.fields[0], 0x27)), "× 1");
  EXPECT_EQ(field_value(ctrl_meas.fields[2], 0x27), 3u);
  EXPECT_EQ(reserved_bits(shipped_parts().find("BME280")->bytes.registers[0]), 0xF8u);
}

TEST(Limits, AreStoredInThePartsOwnStepTowardsTheSafeSide) {
  struct Case {
    const char* part;
    double wished;
    LimitSide side;
    const char* hex;
    double stored;
  };
  const Case cases[] = {{"MCP9808", 27.3, LimitSide::upper, "01B4", 27.25},  // sheet: quarter degrees from bit 2 on
                        {"MCP9808", 27.3, LimitSide::lower, "01B8", 27.5},   //
                        {"TMP102", 75, LimitSide::upper, "4B00", 75},        // sheet: power-on T_low 75 °C is 4B00
                        {"LM75", 80, LimitSide::upper, "5000", 80},          // sheet: power-on T_os 80 °C is 5000
                        {"DS18B20", -10.5, LimitSide::upper, "F5", -11},     //
                        {"DS18B20", -10.5, LimitSide::lower, "F6", -10}};
  for (const Case& each : cases) {
    const auto stored = store_limit(shipped_parts().find(each.part)->bytes.limits.front(), each.wished, each.side);
    ASSERT_TRUE(stored);
    EXPECT_EQ(to_hex(stored->bytes), each.hex) << each.part << " " << each.wished;
    EXPECT_EQ(stored->value, each.stored);
  }
  EXPECT_THAT(
      to_text(store_limit(shipped_parts().find("DS18B20")->bytes.limits.front(), 300, LimitSide::upper).problem()),
      HasSubstr("-128 to 127"));
}

}  // namespace fair_gauge::byte_text_test
