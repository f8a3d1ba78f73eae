// The catalogue: every part file meets the schema, every part round-trips, faults are named.
#include <gmock/gmock.h>

#include <cmath>
#include <filesystem>

#include "chain/links.h"
#include "demo.h"
#include "formulas/thermistor.h"

namespace fair_gauge {
namespace {

using testing::HasSubstr;

TEST(PartFiles, MeetTheirSchema) {
  const std::string data = std::string(FAIR_GAUGE_SOURCE) + "/data";
  const auto schema = read_json(data + "/schema/part.schema.json");
  ASSERT_TRUE(schema) << to_text(schema.problem());
  for (const auto& file : std::filesystem::directory_iterator(data + "/parts")) {
    const auto document = read_json(file.path().string());
    ASSERT_TRUE(document) << to_text(document.problem());
    for (const Problem& problem : schema_problems(*document, schema->value)) ADD_FAILURE() << to_text(problem);
  }
}

TEST(Parts, EveryAnalogPartReturnsWhatWentIn) {
  for (const Part& part : shipped_parts().parts()) {
    const auto law = transfer_law(part, {});
    ASSERT_TRUE(law) << part.id << ": " << to_text(law.problem());
    const PartQuantity& quantity = part.quantities.front();
    for (int i = 0; i <= 200; ++i) {
      const double value = quantity.minimum + (quantity.maximum - quantity.minimum) * i / 200;
      EXPECT_NEAR(law->quantity(law->output(value)), value, 1e-6 * (quantity.maximum - quantity.minimum)) << part.id;
    }
  }
}

TEST(Parts, GiveTheOutputsOfTheirSheets) {
  struct Check {
    const char* marking;
    double at;
    double output;
  };
  // LM35: 250 mV at 25 °C. TMP36: 750 mV at 25 °C. MCP9701: 400 mV at 0 °C and 19.5 mV/°C.
  for (const auto& [marking, at, output] : {Check{"LM35", 25, 0.250}, Check{"tmp36", 25, 0.750}, Check{"TMP36", -40, 0.1}, Check{"MCP9700", 0, 0.5}, Check{"MCP9701", 25, 0.8875}}) {
    const Part* part = shipped_parts().find(marking);
    ASSERT_TRUE(part) << marking;
    EXPECT_NEAR(transfer_law(*part, {})->output(at), output, 1e-12) << marking;
  }
}

TEST(Formulas, ThermistorByBeta) {
  // By hand: 10 000 · exp(3950 · (1/273.15 − 1/298.15)) = 33 620.6 Ω
  EXPECT_NEAR(formulas::thermistor_beta_resistance(0, 10e3, 3950), 33620.6, 0.05);
  EXPECT_NEAR(formulas::thermistor_beta_celsius(33620.6, 10e3, 3950), 0, 1e-5);
  EXPECT_TRUE(std::isnan(formulas::thermistor_beta_celsius(-1, 10e3, 3950)));
}

TEST(SheetAccuracy, TakesTheBandThatCoversTheValue) {
  const PartQuantity& quantity = shipped_parts().find("TMP36")->quantities.front();
  EXPECT_EQ(sheet_accuracy(quantity, 25)->half_width, 2);
  EXPECT_EQ(sheet_accuracy(quantity, 80)->half_width, 3);
  EXPECT_THAT(sheet_accuracy(quantity, 80)->words, HasSubstr("±3 °C maximum, -40…125 °C"));
  PartQuantity of_reading{.quantity = "pressure", .minimum = 0, .maximum = 1e5, .accuracy = {{.from = 0, .to = 1e5, .value = 0.02, .of = AccuracyOf::reading}}};
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
}

TEST(Catalogue, APartOfOnesOwnReplacesTheShippedOne) {
  Catalogue catalogue = shipped_parts();
  const auto count = catalogue.parts().size();
  catalogue.add(R"({"parts": [{"id": "ntc-beta", "name": "mine", "interface": "resistance", "source": "s", "transfer": {"type": "thermistor-beta", "numbers": {"r25": 5000, "beta": 3435}},
                  "quantities": [{"quantity": "temperature", "minimum": 0, "maximum": 100}]}]})",
                "own.json");
  EXPECT_EQ(catalogue.parts().size(), count);
  EXPECT_EQ(catalogue.find("ntc-beta")->name, "mine");
}

}  // namespace
}  // namespace fair_gauge
