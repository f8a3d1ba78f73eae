// Bytes that somebody pasted, put where they belong; and other ways to read them.
#include "digital/pasted_bytes.h"

#include <gmock/gmock.h>

#include "demo.h"
#include "diagnose/other_ways.h"
#include "digital/line_capture.h"
#include "truth/stability.h"

namespace fair_gauge::pasted_bytes_test {

using testing::ElementsAre;

const Part& part_of(const char* marking) { return *shipped_parts().find(marking); }

TEST(PasteBytes, PutsThemIntoTheChosenBlock) {
  const auto pasted = paste_bytes(part_of("TMP102"), "1A 20", "0x00", std::nullopt, {{"0x01", {0x60, 0xA0}}});
  ASSERT_TRUE(pasted);
  EXPECT_THAT(pasted->blocks.at("0x00"), ElementsAre(0x1A, 0x20));
  EXPECT_THAT(pasted->blocks.at("0x01"), ElementsAre(0x60, 0xA0)) << "the others stay";
  EXPECT_EQ(pasted->into, "0x00");
  EXPECT_FALSE(pasted->block_length);
}

TEST(PasteBytes, SaysWhereAnotherNumberOfBytesCame) {
  const auto pasted = paste_bytes(part_of("TMP102"), "1A 20 33", "0x00", std::nullopt, {});
  ASSERT_TRUE(pasted);
  EXPECT_EQ(pasted->block_length, 2);
  EXPECT_FALSE(paste_bytes(part_of("TMP102"), "no bytes at all", "0x00", std::nullopt, {}));
}

TEST(PasteBytes, NamesTheOtherBlockThatTakesAsMany) {
  const auto trimming = paste_bytes(part_of("BME280"), "6A 01 00 14 21 03 1E", "0xF7", std::nullopt, {});
  ASSERT_TRUE(trimming);
  EXPECT_EQ(trimming->fits_instead, "0xE1");
  EXPECT_EQ(trimming->block_length, 8);
  for (const char* bytes : {"65 5A C0 7E ED 00 80 00", "65 5A C0"}) {
    const auto pasted = paste_bytes(part_of("BME280"), bytes, "0xF7", std::nullopt, {});
    ASSERT_TRUE(pasted);
    EXPECT_TRUE(pasted->fits_instead.empty()) << bytes;
  }
  EXPECT_EQ(paste_bytes(part_of("BMP180"), "1A 20", "0xAA", std::nullopt, {})->fits_instead, "ut");
}

TEST(PasteBytes, OfTwoWaysTheOneThatFitsIsMeant) {
  // Eight digits of 0 and 1 could be one byte in binary; the block has two: 0x0101 and 0x0001 are four, so they are
  // shown as they were read first. Four digits are two bytes.
  const auto two = paste_bytes(part_of("TMP102"), "0110", "0x00", std::nullopt, {});
  ASSERT_TRUE(two);
  EXPECT_THAT(two->blocks.at("0x00"), ElementsAre(0x01, 0x10));
  const auto told = paste_bytes(part_of("TMP102"), "25 64", "0x00", ByteShape::decimal, {});
  ASSERT_TRUE(told);
  EXPECT_THAT(told->blocks.at("0x00"), ElementsAre(25, 64)) << "what a person says is not guessed anew";
}

// As the command line takes them, as its batches hold them, as a scan of the registers shows them.
TEST(PasteBytes, SeveralBlocksFindTheirPlacesAtOnce) {
  for (const char* text : {"0xF7=655AC07EED008000; 0xE1=6A010014210300; 0xA1=4B",
                           "0xA1: 4B\n0xE1: 6A 01 00 14 21 03 00\n0xF7: 65 5A C0 7E ED 00 80 00",
                           R"({"registers":{"0xA1":"4B","0xE1":"6A010014210300","0xF7":"655AC07EED008000"}})",
                           "     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f    0123456789abcdef\n"
                           "a0: 00 4b 00 00 00 00 00 00 00 00 00 00 00 00 00 00    .K..............\n"
                           "e0: 00 6a 01 00 14 21 03 00 00 00 00 00 00 00 00 00    .j..............\n"
                           "f0: 00 00 00 00 00 00 00 65 5a c0 7e ed 00 80 00 XX    .......eZ.~....X\n"}) {
    const auto pasted = paste_bytes(part_of("BME280"), text, "0x88", std::nullopt, {});
    ASSERT_TRUE(pasted) << text << to_text(pasted.problem());
    EXPECT_THAT(pasted->blocks.at("0xF7"), ElementsAre(0x65, 0x5A, 0xC0, 0x7E, 0xED, 0x00, 0x80, 0x00)) << text;
    EXPECT_THAT(pasted->blocks.at("0xE1"), ElementsAre(0x6A, 0x01, 0x00, 0x14, 0x21, 0x03, 0x00)) << text;
    EXPECT_THAT(pasted->blocks.at("0xA1"), ElementsAre(0x4B)) << text;
    EXPECT_FALSE(pasted->blocks.contains("0x88"));
    EXPECT_EQ(pasted->taking.size(), 3U);
  }
  const auto named = paste_bytes(part_of("SHT21"), "temperature=68A4; humidity=7C52", "", std::nullopt, {});
  ASSERT_TRUE(named);
  EXPECT_THAT(named->blocks.at("humidity"), ElementsAre(0x7C, 0x52));
  // A name that is none of the part's, and a file's beginning, are no place.
  for (const char* text : {"raw=1A20", "00000000  1a 20  |. |"}) {
    const auto called = paste_bytes(part_of("BH1750"), text, "frame", std::nullopt, {});
    ASSERT_TRUE(called) << text;
    EXPECT_THAT(called->blocks.at("frame"), ElementsAre(0x1A, 0x20)) << text;
  }
  EXPECT_THAT(paste_bytes(part_of("TMP102"), "0x00=1A20; 0x20=11; other=22", "0x00", std::nullopt, {})->left,
              ElementsAre("0x20", "other"));
  EXPECT_TRUE(paste_bytes(part_of("BME280"), "10: 1A 20", "0xF7", std::nullopt, {})->taking.empty());
}

TEST(PasteBytes, ADumpFindsItsBlocksItself) {
  // Registers from 0xF7 of the air sensor: pressure, temperature and humidity, eight bytes.
  const auto pasted = paste_bytes(part_of("BME280"), "F7: 65 5A C0 7E ED 00 80 00", "0x88", std::nullopt, {});
  ASSERT_TRUE(pasted) << to_text(pasted.problem());
  EXPECT_TRUE(pasted->into.empty());
  EXPECT_THAT(pasted->taking, ElementsAre("0xF7"));
  EXPECT_THAT(pasted->blocks.at("0xF7"), ElementsAre(0x65, 0x5A, 0xC0, 0x7E, 0xED, 0x00, 0x80, 0x00));
  EXPECT_FALSE(pasted->blocks.contains("0x88"));
}

TEST(LikelyWays, AreThoseThatBringItBackIntoTheUsual) {
  const Part& part = part_of("TMP102");
  const auto ways = [&](const ByteBlocks& blocks) {
    const Decoded decoded = Decoder::make(part)->decode(blocks);
    std::vector<std::string> codes;
    for (const LikelyWay& likely : likely_ways_of_bytes(shipped_parts(), part, decoded, {}, blocks))
      codes.push_back(likely.way.code);
    return codes;
  };
  // −104 °C is outside what rooms have; exchanged it is 25.5 °C (0x1980 ÷ 16 ÷ 16).
  EXPECT_THAT(ways({{"0x00", {0x80, 0x19}}}), testing::Contains("bytes-swapped"));
  // 25 °C asks for nothing else.
  EXPECT_TRUE(ways({{"0x00", {0x19, 0x00}}}).empty());
}

TEST(DecodeCapture, GoesByTheInterface) {
  const std::vector<std::uint8_t> frame = {0x02, 0x8C, 0x01, 0x5F, 0xEE};
  EXPECT_EQ(decode_capture(Interface::single_wire, {record_single_wire(frame)}).bytes, frame);
  EXPECT_EQ(decode_capture(Interface::one_wire, {record_one_wire(frame)}).bytes, frame);
  auto lines = record_two_wire(0x48, frame);
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_EQ(decode_capture(Interface::i2c, lines).bytes, frame);
  std::swap(lines[0], lines[1]);
  lines[0].name = "SDA", lines[1].name = "SCL";
  EXPECT_EQ(decode_capture(Interface::i2c, lines).bytes, frame) << "the clock is found by its name";
  lines.pop_back();
  EXPECT_FALSE(decode_capture(Interface::i2c, lines).fault.empty());
}

TEST(NeighbourScatter, IsFreeOfSlowChange) {
  // Differences of +1 and −1 in turn: half of a mean square of 1 is 0.5, its root 0.7071.
  const std::vector<double> zigzag = {0, 1, 0, 1, 0, 1, 0, 1};
  EXPECT_NEAR(neighbour_scatter(zigzag), 0.70711, 1e-5);
  // A slope of 0.01 a reading: 0.01 / √2.
  std::vector<double> slope;
  for (int i = 0; i < 100; ++i) slope.push_back(0.01 * i);
  EXPECT_NEAR(neighbour_scatter(slope), 0.0070711, 1e-6);
  EXPECT_TRUE(std::isnan(neighbour_scatter(std::span(slope).first(7))));
  EXPECT_FALSE(std::isnan(neighbour_scatter(std::span(slope).first(8))));
}

}  // namespace fair_gauge::pasted_bytes_test
