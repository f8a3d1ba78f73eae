// What surrounds the decoding of a part: the bytes of one number, layouts of one's own, figures of settings, the
// sequence of a reading, the old temperature carried over, the simulated bus.
#include <gmock/gmock.h>

#include <cmath>
#include <numeric>

#include "demo.h"
#include "digital/field_bytes.h"
#include "digital/own_layout.h"
#include "digital/read_sequence.h"
#include "digital/registers.h"
#include "digital/stale_term.h"
#include "parts/part_json.h"
#include "sim/simulated_line.h"

namespace fair_gauge::digital_parts_test {

using testing::HasSubstr;

const Part& part_of(const char* name) { return *shipped_parts().find(name); }

// ---- bytes of one number ----

TEST(FieldBytes, WriteAndReadTheNumberAsItStandsOnTheWire) {
  // The sheet's example of the three-quantity part: adc_T 519888 is 7E ED 00 in 0xFA…0xFC.
  const auto bytes = FieldBytes::of_field(part_of("BME280"), "adc_T");
  ASSERT_TRUE(bytes);
  EXPECT_EQ(bytes->text(519888), "7E ED 00");
  EXPECT_EQ(*bytes->raw("7EED00"), 519888);
  EXPECT_EQ(*bytes->raw("65 5A C0 7E ED 00 6A 00"), 519888);  // the whole block, from 0xF7
  EXPECT_THAT(bytes->raw("7E ED").problem().expected, HasSubstr("3"));
  EXPECT_FALSE(bytes->raw("7E ED zz"));
  EXPECT_EQ(bytes->block_name(), "0xF7");
  // A number beyond the field's ends is its end: all 20 bits, four unused ones below.
  std::vector<std::uint8_t> block(8, 0);
  bytes->put(block, 9e9);
  EXPECT_THAT(block, testing::ElementsAre(0, 0, 0, 0xFF, 0xFF, 0xF0, 0, 0));
}

TEST(FieldBytes, EveryFieldOfEveryPartGivesBackWhatItWasGiven) {
  for (const Part& part : shipped_parts().parts())
    for (const ByteReading& reading : part.bytes.readings) {
      const auto bytes = FieldBytes::of_field(part, reading.field);
      ASSERT_TRUE(bytes) << part.id;
      for (const double raw : {0.0, 1.0, 17.0}) {
        const auto back = bytes->raw(bytes->text(raw));
        ASSERT_TRUE(back) << part.id << ": " << bytes->text(raw);
        EXPECT_LE(*back, raw) << part.id;  // a field of few bits ends earlier
      }
    }
}

// ---- layouts of one's own ----

OwnLayout two_bytes() {
  return {.name = "Shed probe",
          .bytes = 3,
          .fields = {{.name = "raw", .bits = "0 1", .sign = FieldSign::twos}},
          .readings = {{Quantity::temperature, "raw / 256", -40, 125}},
          .check = "crc8-ff"};
}

TEST(OwnLayout, BecomesAPartThatDecodesAndChecks) {
  const auto part = part_of_layout(two_bytes());
  ASSERT_TRUE(part) << part.problem().wrong;
  EXPECT_EQ(part->id, "own-shed-probe");
  EXPECT_NEAR(part->quantities[0].resolution, 1.0 / 256, 1e-12);
  auto decoder = Decoder::make(*part);
  // The published check value of this CRC: BE EF → 92. 0xBEEF as a signed word is −16657.
  const Decoded good = decoder->decode({{"frame", {0xBE, 0xEF, 0x92}}});
  ASSERT_TRUE(good.reading(Quantity::temperature) || !good.faults.empty());
  EXPECT_TRUE(std::ranges::none_of(good.faults, [](const DigitalFault& fault) { return fault.code == "checksum"; }));
  const Decoded bad = decoder->decode({{"frame", {0xBE, 0xEF, 0x93}}});
  EXPECT_EQ(bad.faults.front().code, "checksum");
  // It survives its own file.
  Catalogue catalogue;
  EXPECT_TRUE(catalogue.add(Json{{"parts", Json::array({part_json(*part)})}}.dump(), "own").empty());
}

// Two words, each with its check, as the humidity parts' sheet has them: BE EF → 92 is its example.
TEST(OwnLayout, ACheckFollowsEachWordAndSaysWhichFails) {
  OwnLayout layout = two_bytes();
  layout.bytes = 6;
  layout.checks_each_word = true;
  const auto part = part_of_layout(layout);
  ASSERT_TRUE(part) << part.problem().wrong;
  const auto decoder = Decoder::make(*part);
  const auto faults = [&](std::vector<std::uint8_t> bytes) {
    std::vector<std::string> words;
    for (const DigitalFault& fault : decoder->decode({{"frame", std::move(bytes)}}).faults)
      if (fault.code == "checksum") words.push_back(fault.message);
    return words;
  };
  EXPECT_THAT(faults({0xBE, 0xEF, 0x92, 0xBE, 0xEF, 0x92}), testing::IsEmpty());
  EXPECT_THAT(faults({0xBE, 0xEF, 0x92, 0xBE, 0xEF, 0x29}),
              testing::ElementsAre(HasSubstr("byte 5 is 29, by bytes 3 to 4 it would be 92")));
  EXPECT_THAT(faults({0xBE, 0xEF, 0x00, 0xBE, 0xEF, 0x00}), testing::SizeIs(2));
  layout.bytes = 5;
  EXPECT_THAT(part_of_layout(layout).problem().wrong, HasSubstr("not whole words"));
}

TEST(OwnLayout, EveryMistakeIsSaidWithItsRow) {
  struct Case {
    std::function<void(OwnLayout&)> spoil;
    const char* says;
  };
  const Case cases[] = {
      {[](OwnLayout& l) { l.name = ""; }, "no name"},
      {[](OwnLayout& l) { l.bytes = 0; }, "0 bytes"},
      {[](OwnLayout& l) { l.fields.clear(); }, "no fields"},
      {[](OwnLayout& l) { l.fields[0].name = "2raw"; }, "field 1"},
      {[](OwnLayout& l) { l.fields[0].bits = "0[9:1]"; }, "field 1"},
      {[](OwnLayout& l) { l.fields[0].bits = "5 6"; }, "field 1"},
      {[](OwnLayout& l) { l.readings[0].formula = "raw / "; }, "formula 1"},
      {[](OwnLayout& l) { l.readings[0].formula = "7"; }, "formula 1"},
      {[](OwnLayout& l) { l.readings[0].formula = "volts / 2"; }, "formula 1"},
      {[](OwnLayout& l) { l.readings[0].maximum = -50; }, "ends before it begins"},
      {[](OwnLayout& l) { l.readings.push_back(l.readings[0]); }, "formula 2"},
      {[](OwnLayout& l) { l.readings.clear(); }, "no formula"},
      {[](OwnLayout& l) { l.check = "parity"; }, "parity"},
      {[](OwnLayout& l) { l.bytes = 1; }, "field 1"},
  };
  for (const Case& each : cases) {
    OwnLayout layout = two_bytes();
    each.spoil(layout);
    const auto part = part_of_layout(layout);
    ASSERT_FALSE(part) << each.says;
    EXPECT_THAT(part.problem().wrong, HasSubstr(each.says));
  }
}

// ---- figures, straps, identity ----

TEST(Composition, MeetsTheSheetsLongestConversionTimes) {
  struct Case {
    const char* part;
    std::vector<unsigned> values;
    double conversion_s;
  };
  const Case cases[] = {
      {"BME280",
       {0x01, 0x27, 0x00},
       9.3e-3},  // appendix B: 1.25 + 2.3 + (2.3 + 0.575) + (2.3 + 0.575) ms for × 1 everywhere
      {"BME280", {0x05, 0xB7, 0x00}, 112.8e-3},  // × 16 everywhere: 1.25 + 3 · 36.8 + 2 · 0.575
      {"DS18B20", {0x60}, 750e-3},               // 12 bits
      {"DS18B20", {0x00}, 93.75e-3},             // 9 bits
      {"TMP117", {0x0020}, 124e-3},              // 8 conversions of 15.5 ms
  };
  for (const Case& each : cases) {
    const auto composition = compose(part_of(each.part).bytes, each.values);
    ASSERT_TRUE(composition) << each.part;
    EXPECT_NEAR(*composition->of_role("conversion"), each.conversion_s, 1e-3 * each.conversion_s) << each.part;
  }
}

TEST(Composition, SaysWhatDoesNotGoTogether) {
  // Pressure without temperature cannot be compensated; asleep measures nothing.
  const auto blind = compose(part_of("BME280").bytes, std::vector<unsigned>{0x00, 0x07, 0x00});
  ASSERT_TRUE(blind);
  EXPECT_THAT(blind->warnings, testing::Contains(HasSubstr("cannot be compensated")));
  const auto asleep = compose(part_of("BME280").bytes, power_on_values(part_of("BME280").bytes));
  EXPECT_THAT(asleep->warnings, testing::Contains(HasSubstr("asleep")));
  const auto good = compose(part_of("BME280").bytes, std::vector<unsigned>{0x01, 0x27, 0x00});
  EXPECT_TRUE(good->warnings.empty());
}

TEST(Identity, IsThatOfTheSheets) {
  struct Case {
    const char *part, *address;
    double value;
  };
  for (const Case& each : {Case{"BME280", "0xD0", 0x60},
                           {"BMP280", "0xD0", 0x58},
                           {"BMP180", "0xD0", 0x55},
                           {"MCP9808", "0x06", 0x54},
                           {"TMP117", "0x0F", 0x117},
                           {"LPS22HB", "0x0F", 0xB1},
                           {"MPL3115A2", "0x0C", 0xC4}}) {
    const auto& identity = part_of(each.part).bytes.identity;
    const auto found = std::ranges::find(identity, each.address, &PartIdentity::address);
    ASSERT_NE(found, identity.end()) << each.part;
    EXPECT_THAT(found->values, testing::Contains(each.value)) << each.part;
  }
}

// ---- the sequence of a reading ----

TEST(ReadSequence, BeginsWaitsAndCollectsInOrder) {
  const auto steps = read_sequence(part_of("BME280"), 0.0093, 100e3);
  ASSERT_EQ(steps.size(), 3u);
  // By hand: 9 clocks a byte at 100 kHz are 90 µs; two addresses and the register before the 8 data bytes.
  EXPECT_NEAR(steps[0].to_s, 3 * 90e-6, 1e-9);
  EXPECT_NEAR(steps[1].to_s - steps[1].from_s, 0.0093, 1e-12);
  EXPECT_NEAR(steps[2].to_s - steps[2].from_s, 11 * 90e-6, 1e-9);
  EXPECT_NEAR(line_time(steps), 14 * 90e-6, 1e-9);
}

TEST(ReadSequence, OfEveryPartIsWithoutGapsOrOverlaps) {
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    const auto steps = read_sequence(part);
    ASSERT_FALSE(steps.empty()) << part.id;
    double now = 0;
    for (const SequenceStep& step : steps) {
      EXPECT_NEAR(step.from_s, now, 1e-12) << part.id;
      EXPECT_GT(step.to_s, step.from_s) << part.id;
      now = step.to_s;
    }
    EXPECT_GE(now + 1e-9, part.conversion_s) << part.id;
  }
}

// ---- the old temperature ----

TEST(StaleTemperature, IsWorthWhatTheFormulaWouldGiveWithOldBytes) {
  // The sheet's example of the pressure part, its temperature bytes exchanged by hand for those of 10 °C less:
  // 519888 − 30 988 counts give 15.08 °C (var1 falls by 12.2 °C per 2^15 · …; found with the formula in another
  // language).
  auto decoder = Decoder::make(part_of("BMP280"));
  const auto bytes = [](std::initializer_list<std::uint8_t> values) { return std::vector<std::uint8_t>(values); };
  const ByteBlocks now = {{"0x88", bytes({0x70, 0x6B, 0x43, 0x67, 0x18, 0xFC, 0x7D, 0x8E, 0x43, 0xD6, 0xD0, 0x0B,
                                          0x27, 0x0B, 0x8C, 0x00, 0xF9, 0xFF, 0x8C, 0x3C, 0xF8, 0xC6, 0x70, 0x17})},
                          {"0xF7", bytes({0x65, 0x5A, 0xC0, 0x7E, 0xED, 0x00})}};
  const auto stale = with_stale_temperature(*decoder, now, 10);
  ASSERT_EQ(stale.size(), 1u);
  EXPECT_EQ(stale[0].quantity->quantity, Quantity::pressure);
  // Straight from the formula: t_fine 128422 and 77222 (10 °C are 51 200 of its steps).
  const auto pressure = [](double t_fine) {
    double v1 = t_fine / 2 - 64000, v2 = v1 * v1 * -7 / 32768;
    v2 += v1 * 140 * 2;
    v2 = v2 / 4 + 2855 * 65536.0;
    v1 = (3024 * v1 * v1 / 524288 + -10685 * v1) / 524288;
    v1 = (1 + v1 / 32768) * 36477;
    double p = (1048576.0 - 415148 - v2 / 4096) * 6250 / v1;
    return p + (6000 * p * p / 2147483648.0 + p * -14600 / 32768 + 15500) / 16;
  };
  EXPECT_NEAR(stale[0].difference, pressure(128422.3 - 51200) - pressure(128422.3), 2);
  EXPECT_TRUE(with_stale_temperature(*decoder, now, 0).empty());
}

// ---- the simulated bus ----

TEST(SimulatedLine, SendsBytesThatDecodeToTheRawNumberItWasGiven) {
  const Bench bench = demo_bench();
  SimulatedLine line(bench, shipped_parts());
  int heard = 0;
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id);
    if (!chain.bytes) {
      EXPECT_TRUE(line.bytes(channel.id, 1).empty()) << channel.id;
      continue;
    }
    const double raw = *raw_for(chain, (channel.wanted.from + channel.wanted.to) / 2);
    const auto bytes = line.bytes(channel.id, raw);
    ASSERT_FALSE(bytes.empty()) << channel.id;
    const Device& device = *find_by_id(bench.devices, channel.device);
    const Converter* converter = find_by_id(bench.converters, device.converter);
    const Part& part = converter ? part_of(converter->part.c_str()) : part_of(device.part.c_str());
    const auto back = raw_of_block(part, converter ? part.bytes.readings.front().quantity : channel.quantity, bytes);
    ASSERT_TRUE(back) << channel.id;
    EXPECT_EQ(raw_from_bytes(chain, *back), raw) << channel.id;
    // Its checks hold.
    auto decoder = Decoder::make(part, converter ? std::map<std::string, double>{} : device.settings);
    ByteBlocks blocks{{chain.bytes->block_name(), bytes}};
    for (const auto& [name, hex] : device.trimming) blocks[name] = *read_hex(hex);
    for (const DigitalFault& fault : decoder->decode(blocks).faults) EXPECT_NE(fault.code, "checksum") << channel.id;
    ++heard;
  }
  EXPECT_GE(heard, 8);
}

// The integer forms of all three readings stand in the part's answer, as close to the floating ones as their last bits.
TEST(CompensatedAir, GivesAllThreeReadingsInWholeNumbersToo) {
  const Part& part = part_of("BME280");
  ByteBlocks blocks;
  for (const ByteBlock& block : part.bytes.blocks) blocks[block.name] = *read_hex(block.example);
  const Decoded whole = Decoder::make(part, {}, Math::integer)->decode(blocks);
  const Decoded real = Decoder::make(part, {}, Math::floating)->decode(blocks);
  ASSERT_EQ(real.readings.size(), 3u);
  ASSERT_EQ(whole.readings.size(), 3u);
  const std::pair<Quantity, double> steps[] = {
      {Quantity::temperature, 0.01}, {Quantity::pressure, 1}, {Quantity::humidity, 0.02}};
  for (const auto& [quantity, step] : steps)
    EXPECT_NEAR(whole.reading(quantity)->value, real.reading(quantity)->value, step) << enum_name(quantity);
}

}  // namespace fair_gauge::digital_parts_test
