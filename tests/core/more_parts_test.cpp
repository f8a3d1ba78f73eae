// Parts of the second series: bytes and outputs whose readings were worked out beside the program, from the sheets'
// own formulas and examples.
#include <gmock/gmock.h>

#include <cmath>
#include <set>

#include "chain/links.h"
#include "demo.h"
#include "digital/decoder.h"

namespace fair_gauge::more_parts_test {

using ::testing::HasSubstr;
using Settings = std::map<std::string, double>;

struct Case {
  const char* marking;
  std::vector<std::pair<const char*, const char*>> blocks;  ///< name, hex
  Quantity quantity;
  double value;
  double within;
  Settings settings = {};
};

Decoded decode(const char* marking, const std::vector<std::pair<const char*, const char*>>& blocks,
               const Settings& settings = {}) {
  const Part* part = shipped_parts().find(marking);
  EXPECT_TRUE(part) << marking;
  auto decoder = Decoder::make(*part, settings);
  EXPECT_TRUE(decoder) << marking;
  ByteBlocks bytes;
  for (const auto& [name, hex] : blocks) bytes[name] = *read_hex(hex);
  return decoder->decode(bytes);
}

// Trimming of the part with the gas resistance, made up; its numbers stand in the comment of its first case.
constexpr const char* gas_a = "DC660300878D57D758004B1AACFF2A1E000062F579F31E";
constexpr const char* gas_b = "3F4E2F002D14789CB965";
constexpr const char* ms5803 = "0000B5D2A75D743773117FE971830006";
constexpr const char* ms5837 = "200088A68E004F68575268166622";

const std::vector<Case> cases = {
    // 0x80000 / 2²⁰ is half; 0x60000 / 2²⁰ · 200 − 50 = 25.
    {"DHT20", {{"frame", "18800006000023"}}, Quantity::humidity, 50, 1e-9},
    {"AHT21", {{"frame", "18800006000023"}}, Quantity::temperature, 25, 1e-9},
    {"AHT25", {{"frame", "18800006000023"}}, Quantity::temperature, 25, 1e-9},
    {"AHT30", {{"frame", "18800006000023"}}, Quantity::humidity, 50, 1e-9},
    {"AM2301B", {{"frame", "18800006000023"}}, Quantity::temperature, 25, 1e-9},
    // −45 + 175 · 26214 / 65536, not 65535 as in the sister: 24.99893.
    {"SHTC3", {{"frame", "6666938000A2"}}, Quantity::temperature, 24.998932, 1e-6},
    {"SHTC3", {{"frame", "6666938000A2"}}, Quantity::humidity, 50, 1e-9},
    {"SHT85", {{"frame", "6666938000A2"}}, Quantity::temperature, 25, 1e-9},
    // 8191 / 16382 is half; 6453 · 165 / 16382 − 40.
    {"HIH6130", {{"frame", "1FFF64D4"}}, Quantity::humidity, 50, 1e-9},
    {"HIH8120", {{"frame", "1FFF64D4"}}, Quantity::temperature, 24.994811, 1e-6},
    // par_T1…T3 26041 26332 3, P1…P10 36231 −10409 88 6731 −84 30 42 −2718 −3207 30, H1…H7 766 1012 0 45 20 120 −100;
    // adc 0x7C000, 0x5A000, 0x5800: the sheet's floating-point form run in another language.
    {"BME680",
     {{"0x8A", gas_a}, {"0xE1", gas_b}, {"0x1F", "5A00007C00005800"}},
     Quantity::temperature,
     28.647464264,
     1e-8},
    {"BME680",
     {{"0x8A", gas_a}, {"0xE1", gas_b}, {"0x1F", "5A00007C00005800"}},
     Quantity::pressure,
     99024.858535,
     1e-5},
    {"BME688",
     {{"0x8A", gas_a}, {"0xE1", gas_b}, {"0x1F", "5A00007C00005800"}},
     Quantity::humidity,
     54.616030616,
     1e-8},
    // 25 · 65536 = 0x190000, 101325 · 64 = 0x62F340, low byte first.
    {"BMP581", {{"0x1D", "00001940F362"}}, Quantity::temperature, 25, 1e-9},
    {"BMP581", {{"0x1D", "00001940F362"}}, Quantity::pressure, 101325, 1e-9},
    // 1013.25 · 4096 = 0x3F5400; (25 − 42.5) · 480 = −8400 = 0xDF30.
    {"LPS25HB", {{"0x28", "00543F"}, {"0x2B", "30DF"}}, Quantity::pressure, 101325, 1e-9},
    {"LPS25HB", {{"0x28", "00543F"}, {"0x2B", "30DF"}}, Quantity::temperature, 25, 1e-9},
    // c0 205, c1 −260; 102.5 − 260 · 157286 / 524288.
    {"SPL06-001",
     {{"0x10", "0CDEFC13E5CF35A8F56004E2D828FFC4FAD8"}, {"0x00", "FCA0F8026666"}},
     Quantity::temperature,
     24.500198,
     1e-6},
    // Worked examples of the sheets: 20.15 °C and 1000.5 mbar, 19.81 °C and 3999.8 mbar.
    {"MS5803-14BA", {{"prom", ms5803}, {"d1", "41C9FE"}, {"d2", "7FFAE4"}}, Quantity::temperature, 20.15, 0.0051},
    {"MS5803-14BA", {{"prom", ms5803}, {"d1", "41C9FE"}, {"d2", "7FFAE4"}}, Quantity::pressure, 100050, 10.1},
    {"MS5837-30BA", {{"prom", ms5837}, {"d1", "4BA7E3"}, {"d2", "67FEB6"}}, Quantity::temperature, 19.81, 0.0051},
    {"MS5837-30BA", {{"prom", ms5837}, {"d1", "4BA7E3"}, {"d2", "67FEB6"}}, Quantity::pressure, 399980, 10.1},
    // 7500 / 60 and 12000 / 240; 5000 / 200.
    {"SDP31", {{"frame", "1D4CEF138801003C39"}}, Quantity::pressure, 125, 1e-9},
    {"SDP31", {{"frame", "1D4CEF138801003C39"}}, Quantity::temperature, 25, 1e-9},
    {"SDP810-125", {{"frame", "2EE0F113880100F003"}}, Quantity::pressure, 50, 1e-9},
    // 201 eighths, and the same below zero; 401 sixteenths.
    {"LM75B", {{"0x00", "1920"}}, Quantity::temperature, 25.125, 1e-9},
    {"LM75A", {{"0x00", "E6E0"}}, Quantity::temperature, -25.125, 1e-9},
    {"PCT2075", {{"0x00", "1920"}}, Quantity::temperature, 25.125, 1e-9},
    {"TMP1075", {{"0x00", "1910"}}, Quantity::temperature, 25.0625, 1e-9},
    {"MCP9600", {{"0x00", "0640"}, {"0x02", "0190"}}, Quantity::temperature, 100, 1e-9},
    {"MCP9600", {{"0x00", "FFF0"}, {"0x02", "0190"}}, Quantity::cold_junction_temperature, 25, 1e-9},
    // Rows of the sheet's table: 100.9375 and −0.0625.
    {"MAX31856", {{"0x0C", "064F00"}, {"0x0A", "1900"}}, Quantity::temperature, 100.9375, 1e-9},
    {"MAX31856", {{"0x0C", "FFFF00"}, {"0x0A", "1900"}}, Quantity::temperature, -0.0625, 1e-9},
    {"MAX31856", {{"0x0C", "064F00"}, {"0x0A", "1900"}}, Quantity::cold_junction_temperature, 25, 1e-9},
    // The sheet's bus example: 0x3AD2, 301.16 K.
    {"MLX90614", {{"0x07", "D23A30"}}, Quantity::temperature, 28.01, 1e-9},
    {"MLX90614", {{"0x07", "D23A"}}, Quantity::temperature, 28.01, 1e-9},
    // A quarter of the span at either sign.
    {"ADS1220", {{"frame", "400000"}}, Quantity::bridge_voltage, 1.024, 1e-12},
    {"ADS1220", {{"frame", "C00000"}}, Quantity::bridge_voltage, -0.064, 1e-12, {{"gain", 16}}},
    {"NAU7802", {{"0x12", "400000"}}, Quantity::bridge_voltage, 3.3 / 512, 1e-12, {{"gain", 128}}},
    {"MCP3208", {{"frame", "000800"}}, Quantity::bridge_voltage, 1.65, 1e-12},
    {"MCP3424", {{"frame", "00FFFF0C"}}, Quantity::bridge_voltage, 1.023984375, 1e-12},
    // Ratios 0.231, 0.5 and 0.75: 1774.3 + 331.77; 4278.5 − 1954.8; 296.3 + 177.75.
    {"LTR-329", {{"0x88", "2C01E803"}}, Quantity::illuminance, 2106.07, 1e-9},
    {"LTR-303", {{"0x88", "E803E803"}}, Quantity::illuminance, 2323.7, 1e-9},
    {"LTR-303", {{"0x88", "DC05F401"}}, Quantity::illuminance, 474.05, 1e-9},
    {"LTR-303",
     {{"0x88", "2C01E803"}},
     Quantity::illuminance,
     2106.07 / 8 / 4,
     1e-9,
     {{"gain", 8}, {"integration_ms", 400}}},
    {"LTR-390", {{"0x0D", "102700"}}, Quantity::illuminance, 2000, 1e-9},
};

TEST(MoreParts, ReadWhatTheirSheetsSay) {
  for (const Case& each : cases) {
    const Decoded decoded = decode(each.marking, each.blocks, each.settings);
    const auto* reading = decoded.reading(each.quantity);
    ASSERT_TRUE(reading) << each.marking << (decoded.faults.empty() ? "" : ": " + decoded.faults.front().message);
    EXPECT_NEAR(reading->value, each.value, each.within) << each.marking << " " << enum_name(each.quantity);
  }
}

TEST(MoreParts, SayWhatIsNoReading) {
  const std::vector<std::tuple<const char*, std::vector<std::pair<const char*, const char*>>, const char*>> bad = {
      {"MLX90614", {{"0x07", "D23A31"}}, "checksum"},
      {"MLX90614", {{"0x07", "D2BA"}}, "flagged-by-part"},
      {"SHTC3", {{"frame", "6666948000A2"}}, "checksum"},
      {"DHT20", {{"frame", "188000060000FF"}}, "checksum"},
      {"SDP31", {{"frame", "1D4CEE138801003C39"}}, "checksum"},
      {"HIH6130", {{"frame", "DFFF64D4"}}, "flagged-by-part"},
      {"BMP581", {{"0x1D", "7F7F7F7F7F7F"}}, "not-ready"},
      {"BME680", {{"0x8A", gas_a}, {"0xE1", gas_b}, {"0x1F", "8000008000008000"}}, "not-ready"},
      {"MS5837-30BA", {{"prom", ms5837}, {"d1", "000000"}, {"d2", "67FEB6"}}, "not-ready"},
      {"MS5837-30BA", {{"prom", "100088A68E004F68575268166622"}, {"d1", "4BA7E3"}, {"d2", "67FEB6"}}, "checksum"},
      {"MAX31856", {{"0x0C", "064F00"}, {"0x0A", "1900"}, {"0x0F", "01"}}, "disconnected"},
      {"ADS1220", {{"frame", "7FFFFF"}}, "saturated"},
      {"LTR-303", {{"0x88", "84036400"}}, "out-of-range"},
      {"LTR-303", {{"0x88", "FFFF6400"}}, "saturated"},
      {"LTR-390", {{"0x0D", "FFFF03"}}, "saturated"},
  };
  for (const auto& [marking, blocks, fault] : bad) {
    const Decoded decoded = decode(marking, blocks);
    ASSERT_FALSE(decoded.faults.empty()) << marking;
    EXPECT_EQ(decoded.faults.front().code, fault) << marking;
  }
}

struct AnalogCase {
  const char* marking;
  double quantity, output, within;
};

TEST(MoreParts, PutOutWhatTheirSheetsSay) {
  const std::vector<AnalogCase> analog = {
      {"LM50", 25, 0.75, 1e-9},
      {"LM60", 25, 0.58025, 1e-9},
      {"TMP235", 25, 0.75, 1e-9},
      {"TMP235", 110, 1.601, 1e-9},  // steeper above 100 °C: 1.5 + 10 · 10.1 mV
      {"LM135", 25, 2.9815, 1e-9},
      {"MCP9700A", -10, 0.4, 1e-9},
      {"AD8495", 100, 0.5, 1e-9},
      {"AD590", 25, 298.15e-6, 1e-12},
      {"BPW34", 1000, 80e-6, 1e-12},
      {"GL5516", 10, 7071, 1e-6},
      {"GL5516", 100, 7071 / std::sqrt(10), 1e-6},
      {"GL5528", 10, 12649, 1e-6},
      {"104GT-2", 25, 100e3, 1e-6},
      {"104GT-2", 100, 5633.11, 0.01},  // 100 kΩ · exp(4267 · (1/373.15 − 1/298.15))
      {"MPS20N0040D", 40000, 0.075, 1e-9},
      {"pressure-transmitter-1m2", 600e3, 2.5, 1e-9},
      {"XGZP6847A040", 20e3, 2.5, 1e-9},
  };
  for (const AnalogCase& each : analog) {
    const Part* part = shipped_parts().find(each.marking);
    ASSERT_TRUE(part) << each.marking;
    const auto law = transfer_law(*part, {});
    ASSERT_TRUE(law) << each.marking;
    EXPECT_NEAR(law->output(each.quantity), each.output, each.within) << each.marking;
    EXPECT_NEAR(law->quantity(each.output), each.quantity, 1e-4 * (1 + std::abs(each.quantity))) << each.marking;
  }
}

TEST(MoreParts, AreFoundByWhatIsPrintedOnAPackage) {
  for (const auto& [printed, marking] : {std::pair{"TMP36GT9Z", "TMP36"},
                                         {"SHT31-DIS", "SHT31"},
                                         {"sht31-dis-b", "SHT31"},
                                         {"NCP18XH103F03RB", "NCP18XH103"},
                                         {"MCP9700AT-E/TT", "MCP9700A"},
                                         {"MCP9700T", "MCP9700"}}) {
    const Part* part = shipped_parts().find(printed);
    ASSERT_TRUE(part) << printed;
    EXPECT_THAT(part->markings, ::testing::Contains(marking)) << printed;
    EXPECT_EQ(shipped_parts().search(printed).size(), 1u) << printed;
  }
  EXPECT_FALSE(shipped_parts().find("LM358"));  // an amplifier, no thermometer
  EXPECT_FALSE(shipped_parts().find("LM"));
}

TEST(MoreParts, SayWhatIsLeftOut) {
  for (const Part& part : shipped_parts().parts()) {
    for (const PartQuantity& quantity : part.quantities) {
      if (quantity.accuracy.empty() && part.element.part.empty() && part.markings != std::vector<std::string>{}) {
        const bool is_said = std::ranges::any_of(
            part.unsettled, [](const std::string& figure) { return figure.find("accuracy") != std::string::npos; });
        EXPECT_TRUE(is_said) << part.id << " has no accuracy for " << enum_name(quantity.quantity)
                             << " and does not say so";
      }
    }
  }
}

TEST(MoreParts, NoTwoAreDescribedAlike) {
  std::set<std::string> names;
  for (const Part& part : shipped_parts().parts()) EXPECT_TRUE(names.insert(part.name).second) << part.name;
}

}  // namespace fair_gauge::more_parts_test
