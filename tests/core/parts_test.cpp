// The catalogue: every part file meets the schema, every part round-trips, faults are named.
#include <gmock/gmock.h>

#include <cmath>
#include <filesystem>

#include "chain/links.h"
#include "core/schema.h"
#include "demo.h"
#include "digital/decoder.h"
#include "formulas/thermistor.h"

namespace fair_gauge::parts_test {

using testing::HasSubstr;

TEST(PartFiles, MeetTheirSchema) {
  const std::string data = std::string(FAIR_GAUGE_SOURCE) + "/data";
  for (const auto& [kind, folder] : {std::pair{"part", "parts"}, {"controller", "controllers"}}) {
    const auto schema = read_json(data + "/schema/" + kind + ".schema.json");
    ASSERT_TRUE(schema) << to_text(schema.problem());
    for (const auto& file : std::filesystem::directory_iterator(data + "/" + folder)) {
      const auto document = read_json(file.path().string());
      ASSERT_TRUE(document) << to_text(document.problem());
      for (const Problem& problem : schema_problems(*document, schema->value)) ADD_FAILURE() << to_text(problem);
    }
  }
}

TEST(Parts, EveryAnalogPartReturnsWhatWentIn) {
  for (const Part& part : shipped_parts().parts()) {
    if (part.is_digital()) continue;
    const auto law = transfer_law(part, {});
    ASSERT_TRUE(law) << part.id << ": " << to_text(law.problem());
    PartQuantity quantity = part.quantities.front();
    if (part.transfer.type == "current-loop") {  // beyond its range the loop reports a fault
      quantity.minimum = part.transfer.numbers.at("low");
      quantity.maximum = part.transfer.numbers.at("high");
    }
    for (int i = 0; i <= 200; ++i) {
      const double value = quantity.minimum + (quantity.maximum - quantity.minimum) * i / 200;
      if (part.id == "thermocouple-b" && value < 45) continue;  // two temperatures for one voltage
      EXPECT_NEAR(law->quantity(law->output(value)), value, 1e-6 * (quantity.maximum - quantity.minimum)) << part.id;
    }
  }
}

TEST(Parts, RefuseNumbersThatMakeNoCurve) {
  const auto refused = [](const char* marking, std::map<std::string, double> settings) {
    const auto law = transfer_law(*shipped_parts().find(marking), settings);
    return law ? "" : to_text(law.problem());
  };
  EXPECT_THAT(refused("current-loop-temperature", {{"low", 50}, {"high", 50}}), testing::HasSubstr("begins and ends"));
  EXPECT_EQ(refused("current-loop-temperature", {{"low", 60}, {"high", -40}}), "") << "a falling one can be";
  EXPECT_THAT(refused("TSL235R", {{"gate", 0}}), testing::HasSubstr("above zero"));
  EXPECT_THAT(refused("TSL235R", {{"gate", -1}}), testing::HasSubstr("above zero"));
  EXPECT_THAT(refused("TSL235R", {{"hz_per_lux", 0}}), testing::HasSubstr("rises or falls"));
}

TEST(Parts, GiveTheOutputsOfTheirSheets) {
  struct Check {
    const char* marking;
    double at;
    double output;
  };
  // LM35: 250 mV at 25 °C. TMP36: 750 mV at 25 °C. MCP9701: 400 mV at 0 °C and 19.5 mV/°C.
  for (const auto& [marking, at, output] :
       {Check{"LM35", 25, 0.250}, Check{"tmp36", 25, 0.750}, Check{"TMP36", -40, 0.1}, Check{"MCP9700", 0, 0.5},
        Check{"MCP9701", 25, 0.8875},
        // LM34: 770 mV at 77 °F. LM335: 2.9815 V at 25 °C. LMT86: 1777.3 mV at 30 °C; its parabola at 0 °C: 1777.3 +
        // 326.64 − 3.123 mV
        Check{"LM34", 25, 0.77}, Check{"LM335", 25, 2.9815}, Check{"TMP35", 25, 0.25}, Check{"TMP37", 25, 0.5},
        Check{"LMT86", 30, 1.7773}, Check{"LMT86", 0, 2.100817}, Check{"AD22100", 0, 1.375},
        // HIH-4030 at 5 V: 0.8 V dry, 3.9 V wet. MPX5010: 4.7 V at 10 kPa. MPX4115A at 100 kPa: 5·(0.9 − 0.095).
        // MPXV7002 at zero: half the supply.
        Check{"HIH-4030", 0, 0.8}, Check{"HIH-4030", 100, 3.9}, Check{"MPX5010", 10e3, 4.7},
        Check{"MPX4115A", 100e3, 4.025}, Check{"MPXV7002", 0, 2.5}, Check{"TEMT6000", 100, 50e-6},
        // IEC 60751: Pt100 at 100, −200 and 850 °C, Pt1000 at 0 °C
        Check{"Pt100", 100, 138.5055}, Check{"Pt100", -200, 18.52008}, Check{"Pt100", 850, 390.481125},
        Check{"Pt1000", 0, 1000},
        // KTY81-110: 815 Ω at 0 °C, 1696 Ω at 100 °C. Type K: 4.0962 mV at 100 °C. Manifold sensor: 4.5 V at 300 kPa.
        Check{"KTY81-110", 0, 815}, Check{"KTY81-110", 100, 1696}, Check{"Type K", 100, 4.096230e-3},
        Check{"pressure-manifold", 300e3, 4.5}, Check{"ALS-PT19", 100, 20e-6}}) {
    const Part* part = shipped_parts().find(marking);
    ASSERT_TRUE(part) << marking;
    EXPECT_NEAR(transfer_law(*part, {})->output(at), output, 1e-6 * std::max(1.0, output)) << marking;
  }
}

TEST(Formulas, ThermistorByBeta) {
  // By hand: 10 000 · exp(3950 · (1/273.15 − 1/298.15)) = 33 620.6 Ω
  EXPECT_NEAR(formulas::thermistor_beta_resistance(0, 10e3, 3950), 33620.6, 0.05);
  EXPECT_NEAR(formulas::thermistor_beta_celsius(33620.6, 10e3, 3950), 0, 1e-5);
  EXPECT_TRUE(std::isnan(formulas::thermistor_beta_celsius(-1, 10e3, 3950)));
}

TEST(Formulas, ThermistorByThreeCoefficients) {
  // The usual coefficients of a 10 kΩ bead: 25.000 °C at 10 kΩ, to the last of the seven digits they are given with.
  EXPECT_NEAR(formulas::thermistor_steinhart_celsius(10e3, 1.129241e-3, 2.341077e-4, 8.775468e-8), 25.0, 2e-3);
  for (const double celsius : {-40.0, 0.0, 37.0, 120.0}) {
    const double ohms = formulas::thermistor_steinhart_resistance(celsius, 1.129241e-3, 2.341077e-4, 8.775468e-8);
    EXPECT_NEAR(formulas::thermistor_steinhart_celsius(ohms, 1.129241e-3, 2.341077e-4, 8.775468e-8), celsius, 1e-9);
  }
}

TEST(TransferLaw, ALoopOutsideItsLiveZeroHasNoReading) {
  const auto law = transfer_law(*shipped_parts().find("current-loop"), {{"high", 1e6}, {"shunt", 250}});
  EXPECT_NEAR(law->quantity(250 * 12e-3), 0.5e6, 1e-6);
  EXPECT_TRUE(std::isnan(law->quantity(250 * 3.5e-3)));
  EXPECT_TRUE(std::isnan(law->quantity(250 * 21.5e-3)));
}

TEST(SheetAccuracy, TakesTheBandThatCoversTheValue) {
  const PartQuantity& quantity = shipped_parts().find("TMP36")->quantities.front();
  EXPECT_EQ(sheet_accuracy(quantity, 25)->half_width, 3);  // of grade G, which is listed first
  EXPECT_EQ(sheet_accuracy(quantity, 80)->half_width, 4);
  EXPECT_THAT(sheet_accuracy(quantity, 80)->words, HasSubstr("±4 °C maximum, -40…125 °C"));
  PartQuantity of_reading{.quantity = Quantity::pressure,
                          .minimum = 0,
                          .maximum = 1e5,
                          .accuracy = {{.from = 0, .to = 1e5, .value = 0.02, .of = AccuracyOf::reading}}};
  EXPECT_EQ(sheet_accuracy(of_reading, 5e4)->half_width, 1000);
  of_reading.accuracy.front().of = AccuracyOf::span;
  EXPECT_EQ(sheet_accuracy(of_reading, 5e4)->half_width, 2000);
}

TEST(Catalogue, FaultyPartsAreNamedAndLeftOut) {
  Catalogue catalogue;
  const auto problems = catalogue.add(R"({"parts": [
    {"id": "good", "name": "n", "interface": "voltage", "source": "s", "transfer": {"type": "linear"}, "quantities": [{"quantity": "temperature", "minimum": 0, "maximum": 1}]},
    {"id": "bad", "name": "n", "interface": "voltage", "source": "s", "transfer": {"type": "linear"}, "quantities": [{"quantity": "temperature", "minimum": 5, "maximum": 1}]},
    {"id": "worse", "name": 7}]})",
                                      "p.json");
  EXPECT_EQ(catalogue.parts().size(), 1u);
  ASSERT_GE(problems.size(), 3u);
  EXPECT_THAT(to_text(problems.front()), HasSubstr("p.json:3:"));
  EXPECT_THAT(to_text(catalogue.add("{", "q.json").front()), HasSubstr("q.json:1:"));
  EXPECT_THAT(to_text(catalogue.add("[]", "q.json").front()), HasSubstr("no parts"));
}

TEST(Catalogue, FindsByMarkingAndByWord) {
  EXPECT_EQ(shipped_parts().find("lm35")->id, "linear-voltage-10mv");
  EXPECT_EQ(shipped_parts().find("no such"), nullptr);
  EXPECT_GE(shipped_parts().search("THERMISTOR").size(), 1u);
  EXPECT_GE(shipped_parts().search("linear voltage").size(), 10u) << "in name or id, words apart";
  EXPECT_GE(shipped_parts().search("humidity two-wire 5.5").size(), 5u);
  EXPECT_TRUE(shipped_parts().search("humidity thermistor").empty());
  EXPECT_TRUE(shipped_parts().search("barometer").empty()) << "the command line finds by words and markings alone";
  for (const char* typed : {"temperature 4-20 mA", "4-20mA temperature"}) {  // printed with a dash and a space
    ASSERT_EQ(shipped_parts().search(typed).size(), 1u) << typed;
    EXPECT_EQ(shipped_parts().search(typed).front()->id, "current-loop-temperature");
  }
}

TEST(Catalogue, APartOfOnesOwnReplacesTheShippedOne) {
  Catalogue catalogue = shipped_parts();
  const auto count = catalogue.parts().size();
  catalogue.add(
      R"({"parts": [{"id": "ntc-beta", "name": "mine", "interface": "resistance", "source": "s", "transfer": {"type": "thermistor-beta", "numbers": {"r25": 5000, "beta": 3435}},
                  "quantities": [{"quantity": "temperature", "minimum": 0, "maximum": 100}]}]})",
      "own.json");
  EXPECT_EQ(catalogue.parts().size(), count);
  EXPECT_EQ(catalogue.find("ntc-beta")->name, "mine");
}

// Only what is asked for is read where it is asked for as it is written; else everything, so that nothing is missed.
TEST(Catalogue, OfAFewPartsReadsTheirFilesOnly) {
  const auto all = load_catalogue();
  const auto few = load_catalogue(nullptr, {"ntc-beta", "SHT31"});
  ASSERT_TRUE(few.find("ntc-beta"));
  EXPECT_EQ(*few.find("ntc-beta"), *all.find("ntc-beta"));
  EXPECT_EQ(*few.find("SHT31"), *all.find("SHT31"));
  EXPECT_LT(few.parts().size(), all.parts().size() / 2);
  EXPECT_FALSE(few.find("BH1750")) << "in another file";
  // Another case, the beginning of a longer print, nothing at all: the whole catalogue has to look for it.
  for (const char* word : {"sht31", "TMP36GT9Z", "nothing of the kind"})
    EXPECT_EQ(load_catalogue(nullptr, {word}).parts().size(), all.parts().size()) << word;
  // A converter of thermocouples needs the thermocouple, which stands in another file.
  EXPECT_TRUE(load_catalogue(nullptr, {"MAX31855"}).find("thermocouple-k"));
}

// 14 bits of quarter degrees: 1600 °C is one of the sheet's own examples although type K ends at 1350; −700 °C is none.
TEST(Parts, AnswerAsFarBeyondTheirRangeAsTheirFileSays) {
  const Part& part = *shipped_parts().find("MAX31855");
  EXPECT_EQ(part.quantities.front().minimum, -200);
  EXPECT_EQ(part.quantities.front().maximum, 1350);
  EXPECT_EQ(part.quantities.front().slack(), 450);
  EXPECT_DOUBLE_EQ(shipped_parts().find("TMP36")->quantities.front().slack(), 16.5) << "a tenth of −40…125";
  const auto decoder = Decoder::make(part, {});
  ASSERT_TRUE(decoder);
  const auto read = [&](const char* bytes) { return decoder->decode({{"frame", *read_hex(bytes)}}); };
  ASSERT_TRUE(read("64007F00").reading(Quantity::temperature));
  EXPECT_EQ(read("64007F00").reading(Quantity::temperature)->value, 1600);
  EXPECT_EQ(read("F0600000").reading(Quantity::temperature)->value, -250);
  EXPECT_FALSE(read("D4400000").reading(Quantity::temperature)) << "−700 °C";
}

// What a maker types: the likeliest first, and people's own words for such parts.
TEST(Catalogue, SuggestsWhatIsMeant) {
  const auto first = [](const char* typed) {
    const auto found = shipped_parts().suggest(typed);
    return found.empty() ? std::string("none") : found.front()->id;
  };
  EXPECT_EQ(first("10k"), "ntc-10k-3380") << "neither 5 to 10 kΩ of light nor 10 kPa";
  EXPECT_EQ(first("10 kohm"), "ntc-10k-3380");
  EXPECT_EQ(first("100k"), "ntc-100k-3950");
  EXPECT_EQ(first("PT-100"), "rtd-platinum");
  EXPECT_EQ(first("ds18"), "one-wire-temperature");
  EXPECT_THAT(first("photoresistor"), testing::StartsWith("ldr-"));
  const auto all_measure = [](const char* typed, Quantity quantity) {
    const auto found = shipped_parts().suggest(typed);
    EXPECT_GE(found.size(), 5u) << typed;
    for (const Part* part : found)
      EXPECT_TRUE(std::ranges::any_of(part->quantities, [&](const auto& each) { return each.quantity == quantity; }))
          << typed << ": " << part->id;
  };
  all_measure("light sensor", Quantity::illuminance);
  all_measure("barometer", Quantity::pressure);
  all_measure("Hygrometer", Quantity::humidity);
  EXPECT_EQ(first("sensor"), "none") << "says nothing of a part";
  EXPECT_EQ(first("zzz"), "none");
}

}  // namespace fair_gauge::parts_test
