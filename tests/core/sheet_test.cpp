// What the part files say, against the data sheets: accuracy, supply, addresses, times. A row a figure, so that a slip
// of the pen in a part file is found.
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <set>

#include "chain/links.h"
#include "demo.h"
#include "digital/read_sequence.h"
#include "digital/registers.h"

namespace fair_gauge::sheet_test {

const Part& part_of(const std::string& marking) {
  const Part* part = shipped_parts().find(marking);
  EXPECT_TRUE(part) << marking;
  return *part;
}

// ---- accuracy ----

struct AccuracyRow {
  const char* marking;
  Quantity quantity;
  double at, half_width;  // base units
  Basis basis;
};

constexpr Basis typical = Basis::typical, maximum = Basis::maximum;

const AccuracyRow accuracies[] = {
    {"TMP117", Quantity::temperature, 25, 0.1, maximum},    // −20…50 °C
    {"TMP117", Quantity::temperature, 60, 0.15, maximum},   // −40…70 °C
    {"TMP117", Quantity::temperature, 80, 0.2, maximum},    // −40…100 °C
    {"TMP117", Quantity::temperature, 110, 0.25, maximum},  // −55…125 °C
    {"BMP180", Quantity::pressure, 100000, 600, maximum},   // −4 and +2 hPa at 0…65 °C, −6 and +4.5 at −20…0
    {"BMP180", Quantity::temperature, 40, 2, maximum},      // 0…65 °C; nothing is stated beyond
    {"AM2320", Quantity::humidity, 50, 3, typical},         // at 25 °C, the whole range
    {"AM2320", Quantity::humidity, 25, 3, typical},
    {"MPL3115A2", Quantity::altitude, 1000, 59, maximum},  // 400 Pa at 500 hPa: 8434.5 m · 0.8743 ÷ 50 000 Pa each
    {"LM34", Quantity::temperature, 25, 1.11, maximum},    // 2 °F
    {"SHT20", Quantity::temperature, 25, 0.3, typical},
    {"TMP117", Quantity::temperature, 140, 0.3, maximum},  // −55…150 °C
    {"TMP116", Quantity::temperature, 60, 0.2, maximum},
    {"TMP102", Quantity::temperature, 0, 2, maximum},
    {"TMP102", Quantity::temperature, 110, 3, maximum},
    {"LM75", Quantity::temperature, 25, 2, maximum},
    {"LM75", Quantity::temperature, 110, 3, maximum},
    {"MCP9808", Quantity::temperature, 50, 0.5, maximum},
    {"MCP9808", Quantity::temperature, 120, 1, maximum},
    {"ADT7410", Quantity::temperature, 25, 0.5, maximum},
    {"DS18B20", Quantity::temperature, 25, 0.5, maximum},
    {"DS18B20", Quantity::temperature, 100, 2, maximum},
    {"DS3231", Quantity::temperature, 25, 3, maximum},
    {"LMT01", Quantity::temperature, 20, 0.5, maximum},
    {"LMT01", Quantity::temperature, 120, 0.7, maximum},
    {"MAX31855", Quantity::temperature, 300, 2, maximum},
    {"MAX31855", Quantity::temperature, 1000, 4, maximum},
    {"LM35", Quantity::temperature, 25, 1.5, maximum},
    {"LM35", Quantity::temperature, 80, 2, maximum},
    {"TMP36", Quantity::temperature, 25, 3, maximum},
    {"TMP36", Quantity::temperature, 100, 4, maximum},
    {"MCP9700", Quantity::temperature, 25, 4, maximum},
    {"MCP9700", Quantity::temperature, 100, 6, maximum},
    {"SHT30", Quantity::humidity, 50, 2, typical},
    {"SHT31", Quantity::temperature, 25, 0.2, typical},
    {"SHT31", Quantity::humidity, 50, 2, typical},
    {"SHT35", Quantity::temperature, 40, 0.1, typical},
    {"SHT35", Quantity::humidity, 50, 1.5, typical},
    {"SHT40", Quantity::humidity, 50, 1.8, typical},
    {"SHT45", Quantity::temperature, 25, 0.1, typical},
    {"SHT45", Quantity::humidity, 50, 1, typical},
    {"HDC1080", Quantity::humidity, 50, 2, typical},
    {"HDC1080", Quantity::temperature, 25, 0.2, typical},
    {"SI7021", Quantity::humidity, 50, 3, maximum},
    {"SI7021", Quantity::temperature, 25, 0.4, maximum},
    {"HTU21D", Quantity::humidity, 50, 2, typical},
    {"AHT20", Quantity::humidity, 50, 2, typical},
    {"AHT20", Quantity::temperature, 25, 0.3, typical},
    {"DHT22", Quantity::humidity, 50, 2, typical},
    {"DHT11", Quantity::humidity, 50, 5, maximum},
    {"DHT11", Quantity::temperature, 25, 2, maximum},
    {"BME280", Quantity::temperature, 40, 1, typical},
    {"BME280", Quantity::humidity, 50, 3, typical},
    {"BME280", Quantity::pressure, 100000, 170, typical},  // at any temperature; 100 Pa at 0…65 °C
    {"BMP280", Quantity::pressure, 100000, 170, typical},
    {"BMP388", Quantity::pressure, 100000, 50, typical},
    {"DPS310", Quantity::pressure, 100000, 100, maximum},
    {"BH1750", Quantity::illuminance, 1000, 200, maximum},   // a fifth of the reading
    {"OPT3001", Quantity::illuminance, 1000, 100, typical},  // a tenth
    {"MPX5010", Quantity::pressure, 5000, 500, maximum},     // a twentieth of the span
    {"LMT86", Quantity::temperature, 25, 2.7, maximum},
    {"MS5611", Quantity::pressure, 100000, 250, maximum},  // 450…1100 hPa alone
    {"TMP35", Quantity::temperature, 25, 3, maximum},
    {"TMP37", Quantity::temperature, 50, 4, maximum},
    {"Type K", Quantity::temperature, 100, 2.5, maximum},  // class 2
    {"Type K", Quantity::temperature, 1000, 7.5, maximum},
    {"Type T", Quantity::temperature, 100, 1, maximum},
    {"Type S", Quantity::temperature, 1000, 2.5, maximum},
};

TEST(Sheets, AccuracyIsThatOfTheTables) {
  for (const AccuracyRow& row : accuracies) {
    const PartQuantity* quantity = part_of(row.marking).measures(row.quantity);
    ASSERT_TRUE(quantity) << row.marking;
    const auto accuracy = sheet_accuracy(*quantity, row.at);
    ASSERT_TRUE(accuracy) << row.marking << " at " << row.at;
    EXPECT_NEAR(accuracy->half_width, row.half_width, 1e-9 * row.half_width)
        << row.marking << " " << enum_name(row.quantity) << " at " << row.at;
    EXPECT_EQ(accuracy->basis, row.basis) << row.marking << " " << enum_name(row.quantity) << " at " << row.at;
  }
}

TEST(Sheets, EveryBandLiesWithinItsRangeAndSaysSomething) {
  for (const Part& part : shipped_parts().parts())
    for (const PartQuantity& quantity : part.quantities)
      for (const AccuracyBand& band : quantity.accuracy) {
        EXPECT_LE(band.from, band.to) << part.id;
        EXPECT_EQ(band.value > 0, band.of != AccuracyOf::numbers) << part.id;
        EXPECT_EQ(band.numbers.empty(), band.of != AccuracyOf::numbers) << part.id;
        EXPECT_TRUE(band.to >= quantity.minimum && band.from <= quantity.maximum)
            << part.id << " " << band.from << "…" << band.to;
        if (band.of != AccuracyOf::points) {
          EXPECT_LT(band.value, 1) << part.id << ": a fraction, not per cent";
        }
      }
}

// ---- supply ----

struct SupplyRow {
  const char* marking;
  double least_v, most_v;
};

const SupplyRow supplies[] = {
    {"BME280", 1.71, 3.6},   {"BMP280", 1.71, 3.6},  {"BMP180", 1.8, 3.6},  {"BMP388", 1.65, 3.6},
    {"SHT31", 2.15, 5.5},    {"SHT40", 1.08, 3.6},   {"HDC1080", 2.7, 5.5}, {"SI7021", 1.9, 3.6},
    {"HTU21D", 1.5, 3.6},    {"DS18B20", 3.0, 5.5},  {"DHT22", 3.3, 5.5},   {"TMP102", 1.4, 3.6},
    {"TMP117", 1.8, 5.5},    {"TMP116", 1.9, 5.5},   {"MCP9808", 2.7, 5.5}, {"TSL2591", 2.7, 3.6},
    {"BH1750", 2.4, 3.6},    {"VEML7700", 2.5, 3.6}, {"OPT3001", 1.6, 3.6}, {"ADS1115", 2.0, 5.5},
    {"HX711", 2.6, 5.5},     {"MAX31855", 3.0, 3.6}, {"LM35", 4, 30},       {"TMP36", 2.7, 5.5},
    {"MPX5010", 4.75, 5.25},
};

TEST(Sheets, SupplyIsThatOfTheTables) {
  for (const SupplyRow& row : supplies) {
    EXPECT_DOUBLE_EQ(part_of(row.marking).supply.minimum_v, row.least_v) << row.marking;
    EXPECT_DOUBLE_EQ(part_of(row.marking).supply.maximum_v, row.most_v) << row.marking;
  }
}

// ---- addresses ----

struct AddressRow {
  const char* marking;
  std::set<int> addresses;
};

const AddressRow address_rows[] = {
    {"BME280", {0x76, 0x77}},
    {"BMP180", {0x77}},
    {"DPS310", {0x76, 0x77}},
    {"LPS22HB", {0x5C, 0x5D}},
    {"MPL115A2", {0x60}},
    {"MPL3115A2", {0x60}},
    {"SHT31", {0x44, 0x45}},
    {"SHT21", {0x40}},
    {"HDC1080", {0x40}},
    {"SI7021", {0x40}},
    {"AHT20", {0x38}},
    {"AM2320", {0x5C}},
    {"TSL2561", {0x29, 0x39, 0x49}},
    {"TSL2591", {0x29}},
    {"BH1750", {0x23, 0x5C}},
    {"VEML7700", {0x10}},
    {"OPT3001", {0x44, 0x45, 0x46, 0x47}},
    {"TMP102", {0x48, 0x49, 0x4A, 0x4B}},
    {"LM75", {0x48, 0x49, 0x4A, 0x4B, 0x4C, 0x4D, 0x4E, 0x4F}},
    {"MCP9808", {0x18, 0x19, 0x1A, 0x1B, 0x1C, 0x1D, 0x1E, 0x1F}},
    {"ADS1115", {0x48, 0x49, 0x4A, 0x4B}},
    {"MCP3421", {0x68, 0x69, 0x6A, 0x6B, 0x6C, 0x6D, 0x6E, 0x6F}},
    {"DS3231", {0x68}},
};

TEST(Sheets, AddressesAreThoseOfTheTables) {
  for (const AddressRow& row : address_rows) {
    std::set<int> found;
    for (const PartAddress& address : part_of(row.marking).addresses) found.insert(address.address);
    EXPECT_EQ(found, row.addresses) << row.marking;
  }
}

// ---- times ----

struct TimeRow {
  const char* marking;
  double conversion_s;
};

const TimeRow times[] = {
    {"DS18B20", 0.750},  {"BMP180", 0.030},  {"HTU21D", 0.066}, {"SHT21", 0.114},
    {"MS5637", 0.03288},  // temperature and pressure, the longest oversampling
    {"MS5611", 0.01808},  // temperature and pressure, OSR 4096
    {"SHT31", 0.0155},    // high repeatability
    {"SHT40", 0.0083},    // high precision
    {"TMP116", 0.0155},   // without averaging
    {"MCP9808", 0.250},   // 0.0625 °C
    {"MAX31855", 0.100}, {"MAX6675", 0.220}, {"LMT01", 0.104},  {"BH1750", 0.180},  // high resolution, longest
};

TEST(Sheets, LongestConversionsAreThoseOfTheTables) {
  for (const TimeRow& row : times) EXPECT_DOUBLE_EQ(part_of(row.marking).conversion_s, row.conversion_s) << row.marking;
}

// Each of two conversions takes its own time: 9.04 ms twice, 85 and 29 ms, 4.5 and 25.5 ms.
TEST(Sheets, TwoConversionsTakeTheirOwnTimes) {
  const std::map<std::string, std::vector<double>> expected{{"MS5611", {0.00904, 0.00904}},
                                                            {"SHT21", {0.085, 0.029}},
                                                            {"HTU21D", {0.05, 0.016}},
                                                            {"MS5637", {0.01644, 0.01644}}};
  for (const auto& [marking, each] : expected) {
    const Part& part = part_of(marking);
    std::vector<double> found;
    for (const SequenceStep& step : read_sequence(part, conversion_time(part, {}), 100e3))
      if (step.lane == SequenceLane::part) found.push_back(step.to_s - step.from_s);
    ASSERT_EQ(found.size(), each.size()) << marking;
    std::ranges::sort(found, std::greater{});
    for (std::size_t i = 0; i < each.size(); ++i) EXPECT_NEAR(found[i], each[i], 1e-9) << marking;
  }
}

TEST(Sheets, SlowPartsSayHowSlowTheyAre) {
  EXPECT_DOUBLE_EQ(part_of("DHT22").period_s, 2);
  EXPECT_DOUBLE_EQ(part_of("DHT11").period_s, 1);
  EXPECT_DOUBLE_EQ(part_of("AM2320").period_s, 2);
  EXPECT_DOUBLE_EQ(part_of("DS3231").period_s, 64);
}

TEST(Sheets, EveryPartThatCanBeHeldSaysWhatItIs) {
  for (const Part& part : shipped_parts().parts()) {
    if (part.markings.empty() || part.quantities.front().quantity == Quantity::bridge_voltage) continue;
    EXPECT_FALSE(part.source.empty()) << part.id;
    if (part.interface != Interface::spi) {
      EXPECT_FALSE(part.package.empty() && part.senses.empty()) << part.id;
    }
  }
}

}  // namespace fair_gauge::sheet_test
