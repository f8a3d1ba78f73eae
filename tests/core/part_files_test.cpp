// Every part file against itself: what one place of it says holds beside what another says.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "chain/chain.h"
#include "demo.h"
#include "digital/decoder.h"
#include "digital/encoder.h"
#include "digital/registers.h"
#include "wiring/bus_check.h"

namespace fair_gauge::part_files_test {

using testing::Contains;
using testing::HasSubstr;

bool leaves_out(const Part& part, const std::string& what) {
  return std::ranges::any_of(part.unsettled,
                             [&](const std::string& each) { return each.find(what) != std::string::npos; });
}

TEST(PartFiles, CurrentsRiseFromShutdownToWork) {
  for (const Part& part : shipped_parts().parts()) {
    double last = 0;
    for (const CurrentOf of : {CurrentOf::shutdown, CurrentOf::idle, CurrentOf::converting}) {
      if (const auto amps = part.current(of)) {
        EXPECT_GE(*amps, last) << part.id << " " << enum_name(of);
        last = *amps;
      }
    }
    std::set<CurrentOf> states;
    for (const PartCurrent& current : part.supply.currents) {
      EXPECT_TRUE(states.insert(current.of).second) << part.id << " states " << enum_name(current.of) << " twice";
      EXPECT_GT(current.usual_a(), 0) << part.id;
      if (current.typical_a > 0 && current.maximum_a > 0) {
        EXPECT_LE(current.typical_a, current.maximum_a) << part.id;
      }
      if (const auto asleep = part.current(CurrentOf::shutdown); asleep && current.of == CurrentOf::average) {
        EXPECT_GE(current.usual_a(), *asleep) << part.id;
      }
    }
    if (part.is_digital() && part.supply.currents.empty()) {
      EXPECT_TRUE(leaves_out(part, "urrent")) << part.id << " says nothing of currents, nor that it does not";
    }
    if (part.supply.rest == Rest::when_told) {
      EXPECT_TRUE(part.current(CurrentOf::shutdown) || part.current(CurrentOf::idle) || leaves_out(part, "urrent"))
          << part.id << " rests when told, at what?";
    }
  }
}

TEST(PartFiles, ATypicalErrorIsNotAboveTheMaximum) {
  for (const Part& part : shipped_parts().parts())
    for (const PartQuantity& quantity : part.quantities)
      for (const AccuracyBand& typical : quantity.accuracy)
        for (const AccuracyBand& maximum : quantity.accuracy)
          if (typical.basis == Basis::typical && maximum.basis == Basis::maximum && typical.grade == maximum.grade &&
              typical.of == maximum.of && typical.from >= maximum.from && typical.to <= maximum.to) {
            EXPECT_LE(typical.value, maximum.value) << part.id << " " << enum_name(quantity.quantity);
          }
}

// A sheet's "at 25 °C" is a place of the temperature alone: of anything else it is a condition.
TEST(PartFiles, OnlyATemperatureIsStatedAtOnePlace) {
  for (const Part& part : shipped_parts().parts())
    for (const PartQuantity& quantity : part.quantities)
      for (const AccuracyBand& band : quantity.accuracy)
        EXPECT_TRUE(band.from < band.to || quantity.quantity == Quantity::temperature ||
                    quantity.quantity == Quantity::cold_junction_temperature)
            << part.id << " " << enum_name(quantity.quantity);
}

TEST(PartFiles, AConversionEndsWithinThePeriodForEveryChoice) {
  for (const Part& part : shipped_parts().parts()) {
    if (part.period_s > 0) {
      EXPECT_LE(part.conversion_s, part.period_s) << part.id;
    }
    if (!part.is_digital()) continue;
    const bool by_setting =
        std::ranges::find(part.bytes.figures, "conversion", &SettingFigure::role) != part.bytes.figures.end();
    EXPECT_TRUE(by_setting || part.conversion_s > 0 || leaves_out(part, "conversion") || leaves_out(part, "time"))
        << part.id << " says nothing of how long it takes";
    // A choice takes no longer than the longest that the file tells, a tenth of clock left out.
    for (const PartSetting& setting : part.bytes.settings)
      for (const SettingChoice& choice : setting.choices) {
        const double takes = conversion_time(part, {{setting.key, choice.value}});
        EXPECT_GE(takes, 0) << part.id;
        if (part.conversion_s > 0) {
          EXPECT_LE(takes, part.conversion_s * 1.15) << part.id << " " << setting.key << " " << choice.value;
        }
      }
  }
}

TEST(PartFiles, EveryDigitalPartNamesItsPinsAndBuses) {
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    EXPECT_TRUE(!part.pinouts.empty() || leaves_out(part, "pins")) << part.id;
    ASSERT_FALSE(part.interfaces.empty()) << part.id;
    EXPECT_EQ(part.interfaces.front().kind, part.interface) << part.id;
    for (const PartInterface& interface : part.interfaces) {
      if (interface.kind == Interface::spi) {
        EXPECT_FALSE(interface.modes.empty()) << part.id;
        for (const char* conductor : {"clock", "data out", "select"})
          EXPECT_TRUE(interface.lines.contains(conductor)) << part.id << " " << conductor;
        // A part that is only read has no data in, and one that is told something has.
        EXPECT_EQ(interface.lines.contains("data in"), interface.write != "it is only read") << part.id;
      }
      for (const auto& [conductor, name] : interface.lines)
        for (const PartPinout& pinout : part.pinouts)
          EXPECT_TRUE(std::ranges::any_of(pinout.pins,
                                          [&](const std::string& pin) { return pin.find(name) != std::string::npos; }))
              << part.id << " " << conductor << ": " << pinout.package << " has no " << name;
    }
  }
}

TEST(PartFiles, EveryPinoutHasAsManyPinsAsItsPackageSays) {
  for (const Part& part : shipped_parts().parts())
    for (const PartPinout& pinout : part.pinouts) {
      const auto digits = pinout.package.find_first_of("0123456789");
      if (digits != std::string::npos) {
        EXPECT_EQ(std::stoul(pinout.package.substr(digits)), pinout.pins.size()) << part.id;
      }
      std::map<std::string, int> seen;
      for (const std::string& pin : pinout.pins) ++seen[pin];
      for (const auto& [pin, count] : seen)
        if (!pin.starts_with("not ") && !pin.starts_with("do not ") && pin != "GND" && pin != "VSS" && pin != "CSB") {
          EXPECT_EQ(count, 1) << part.id << " " << pin;
        }
      EXPECT_FALSE(pinout.view.empty()) << part.id;
    }
}

TEST(PartFiles, ExpressionsOfFiguresAreUnderstoodForEveryChoiceOfEveryField) {
  for (const Part& part : shipped_parts().parts())
    for (std::size_t r = 0; r < part.bytes.registers.size(); ++r)
      for (const RegisterField& field : part.bytes.registers[r].fields)
        for (const SettingChoice& choice : field.choices) {
          auto values = power_on_values(part.bytes);
          values[r] = with_field(field, values[r], static_cast<unsigned>(choice.value));
          const auto composition = compose(part.bytes, values);
          ASSERT_TRUE(composition) << part.id << " " << field.name;
          for (const RegisterFigure& figure : composition->figures) {
            EXPECT_TRUE(std::isfinite(figure.value)) << part.id << " " << figure.name;
            EXPECT_GE(figure.value, 0) << part.id << " " << figure.name;
          }
        }
}

TEST(PartFiles, ASettingThatSetsAFieldHasItsChoicesInTheFieldsOrder) {
  for (const Part& part : shipped_parts().parts())
    for (const PartSetting& setting : part.bytes.settings) {
      if (setting.sets.empty()) continue;
      for (const SettingChoice& choice : setting.choices) {
        const auto values = registers_of(part.bytes, {{setting.key, choice.value}}, {});
        EXPECT_EQ(setting_by_registers(part, setting, values), choice.value) << part.id << " " << setting.key;
        EXPECT_EQ(setting_by_registers(part, setting, {}), std::nullopt) << "registers that nobody has read";
      }
    }
}

// Any of the usual broken answers of a line must be seen for what it is, by a check, a state or the range.
TEST(PartFiles, EveryDigitalPartTellsABrokenAnswer) {
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    const auto decoder = Decoder::make(part);
    ASSERT_TRUE(decoder) << part.id;
    bool told = false, decoded = false;
    for (const int filler : {0x00, 0xFF, 0x5A}) {
      ByteBlocks blocks;
      for (const ByteBlock& block : part.bytes.blocks) {
        auto bytes = *read_hex(block.example);
        if (block.role == "data") std::ranges::fill(bytes, static_cast<std::uint8_t>(filler));
        blocks[block.name] = bytes;
      }
      told |= !decoder->decode(blocks).ok();
    }
    ByteBlocks example;
    for (const ByteBlock& block : part.bytes.blocks) example[block.name] = *read_hex(block.example);
    decoded = decoder->decode(example).ok();
    EXPECT_TRUE(decoded) << part.id << ": its own example is no reading";
    EXPECT_TRUE(told || part.interface == Interface::i2c ||
                part.quantities.front().quantity == Quantity::bridge_voltage)
        << part.id;
  }
}

TEST(PartFiles, NamesFollowOnePatternAndNoTwoAreAlike) {
  std::set<std::string> names;
  const std::set<std::string> protocol = {"checked frames", "packed", "framed", "16-bit words", "CRC"};
  for (const Part& part : shipped_parts().parts()) {
    EXPECT_TRUE(names.insert(part.name).second) << part.name;
    EXPECT_TRUE(std::ranges::any_of(
        std::vector<std::string>{"Air ", "Temperature", "Pressure", "Illuminance", "Voltage", "Water ", "Any quantity"},
        [&](const std::string& head) { return part.name.starts_with(head); }))
        << part.name;
    for (const std::string& word : protocol) EXPECT_EQ(part.name.find(word), std::string::npos) << part.name;
    // The first figure is that of the file.
    const auto& bands = part.quantities.front().accuracy;
    if (!bands.empty() && bands.front().of == AccuracyOf::points && part.quantities.size() == 1 &&
        part.quantities.front().quantity == Quantity::temperature) {
      EXPECT_THAT(part.name, HasSubstr(fmt::format("±{:g} °C", std::max(bands.front().value, bands.front().below))));
    }
    if (part.supply.maximum_v > 0 && part.interface != Interface::thermocouple) {
      EXPECT_THAT(part.name, HasSubstr(fmt::format("{:g}–{:g} V", part.supply.minimum_v, part.supply.maximum_v)));
    }
  }
}

TEST(PartFiles, SourcesAndReasonsAreWritten) {
  for (const Part& part : shipped_parts().parts()) {
    EXPECT_FALSE(part.source.empty()) << part.id;
    for (const std::string& each : part.unsettled) EXPECT_GT(each.size(), 8u) << part.id;
    const bool bare = std::ranges::all_of(part.quantities, [](const PartQuantity& q) { return q.accuracy.empty(); });
    if (bare && !part.markings.empty()) {
      EXPECT_TRUE(leaves_out(part, "ccuracy")) << part.id << " states no accuracy, nor that it does not";
    }
  }
}

}  // namespace fair_gauge::part_files_test
