// The catalogue of translated texts: what is read, what is left out, and that none is lost on the way.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <map>

#include "demo.h"
#include "digital/registers.h"
#include "files/file.h"
#include "handoff/handoff.h"
#include "language/translation.h"
#include "parts/catalogue.h"
#include "parts/controller.h"
#include "truth/error_budget.h"
#include "wiring/bus_check.h"
#include "wiring/cycle_plan.h"
#include "wiring/wiring_list.h"

namespace fair_gauge {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::StrEq;

// In German while it lives; statics of other tests are filled in English before or after.
struct Speaking {
  explicit Speaking(std::string_view po) {
    use_translation(std::make_shared<const Translation>(Translation::of_po(po)));
  }
  ~Speaking() { use_translation(nullptr); }
};

TEST(Translation, ReadsWhatEditorsOfCataloguesWrite) {
  const auto read = Translation::of_po(
      "# a comment\nmsgid \"\"\nmsgstr \"\"\n\"Language: de\\n\"\n\n#: core/a.cpp\nmsgid \"the pin\"\nmsgstr \"der "
      "Pin\"\n\n"
      "msgid \"\"\n\"two \"\n\"pieces\"\nmsgstr \"zwei \"\n\"Stücke\"\r\n\n"
      "msgid \"a \\\"quoted\\\" \\\\ and\\n\"\nmsgstr \"ein \\\"Zitat\\\" \\\\ und\\n\"\n\n"
      "#, fuzzy\nmsgid \"old\"\nmsgstr \"alt\"\n\nmsgid \"open\"\nmsgstr \"\"\n\n#~ msgid \"gone\"\n#~ msgstr "
      "\"weg\"\n");
  EXPECT_THAT(read.problems(), IsEmpty());
  EXPECT_EQ(read.language(), "de");
  EXPECT_EQ(read.size(), 3u) << "neither the head nor what is open, fuzzy or gone";
  EXPECT_THAT(read.find("the pin"), StrEq("der Pin"));
  EXPECT_THAT(read.find("two pieces"), StrEq("zwei Stücke"));
  EXPECT_THAT(read.find("a \"quoted\" \\ and\n"), StrEq("ein \"Zitat\" \\ und\n"));
  for (const char* word : {"old", "open", "gone", ""}) EXPECT_EQ(read.find(word), nullptr) << word;
}

TEST(Translation, LeavesOutWhatWouldSayAnotherNumber) {
  const auto read = Translation::of_po(
      "msgid \"{} of {:.2f}\"\nmsgstr \"{1:.2f}: davon {0}\"\n\nmsgid \"{} m\"\nmsgstr \"Meter\"\n\n"
      "msgid \"{:.3g} V\"\nmsgstr \"{:.2f} V\"\n\nmsgid \"%1 of %2\"\nmsgstr \"%2, davon %1\"\n\n"
      "msgid \"at %1\"\nmsgstr \"bei\"\n\nmsgid \"{:.{}f} s\"\nmsgstr \"s: {0:.{1}f}\"\n\nmsgid \"{{x}} {}\"\nmsgstr "
      "\"{} {{x}}\"\n");
  EXPECT_EQ(read.size(), 4u);
  EXPECT_THAT(read.problems(), ElementsAre(HasSubstr("{} m"), HasSubstr("{:.3g} V"), HasSubstr("at %1")));
  EXPECT_THAT(Translation::of_po("msgid \"a\"\nrubbish\n").problems(), ElementsAre(HasSubstr("line 2")));
  for (const char* broken : {"{", "}", "{} {", "{} }", "{0", "{:"})
    EXPECT_EQ(Translation::of_entries({{"{}", broken}}).size(), 0u) << broken << " would be no format";
  const std::string whole = "msgid \"\"\n\"{} of\"\nmsgstr \"von {}\"\n";
  for (std::size_t cut = 0; cut < whole.size(); ++cut)
    EXPECT_EQ(Translation::of_po(whole.substr(0, cut)).size(), cut + 2 > whole.size() ? 1u : 0u) << cut;
}

TEST(Translation, IsUsedFromThenOnAndElseTheEnglishStands) {
  EXPECT_THAT(translated("the pin"), StrEq("the pin"));
  EXPECT_EQ(translated("{} of {:.2f} V", 3, 4.5), "3 of 4.50 V");
  const Speaking german(
      "msgid \"the pin\"\nmsgstr \"der Pin\"\n\nmsgid \"{} of {:.2f} V\"\nmsgstr \"von {1:.2f} V: {0}\"\n");
  EXPECT_THAT(translated("the pin"), StrEq("der Pin"));
  EXPECT_EQ(translated(std::string("the pin")), "der Pin");
  EXPECT_EQ(translated("{} of {:.2f} V", 3, 4.5), "von 4.50 V: 3");
  EXPECT_EQ(translated("not {}", "there"), "not there");
}

TEST(Translation, OfTheProgramHasNoFaultAndTheSameMarksThroughout) {
  const auto text = read_file(std::string(FAIR_GAUGE_SOURCE) + "/data/translations/de.po", 16u << 20);
  ASSERT_TRUE(text);
  const auto german = Translation::of_po(*text);
  EXPECT_THAT(german.problems(), IsEmpty());
  EXPECT_GT(german.size(), 5000u);
  // Worked sentences of the field, checked by a person.
  EXPECT_THAT(german.find("the pin is at the supply: the sensor is open"),
              StrEq("der Pin liegt auf der Versorgung: der Sensor ist offen"));
  EXPECT_THAT(german.find("expanded uncertainty"), testing::AnyOf(testing::IsNull(), HasSubstr("erweitert")));
}

TEST(Translation, OfPartsReachesThoseThatShipAndNotOnesOwn) {
  const Speaking german("msgid \"fixed\"\nmsgstr \"fest\"\n\nmsgid \"A part\"\nmsgstr \"Ein Bauteil\"\n");
  const std::string file =
      R"({"parts": [{"id": "x", "name": "A part", "interface": "resistance", "source": "fixed",
          "quantities": [{"quantity": "temperature", "minimum": 0, "maximum": 1}],
          "transfer": {"type": "platinum", "numbers": {"r0": 100}}}]})";
  Catalogue shipped, own;
  EXPECT_THAT(shipped.add(file, "shipped", Texts::in_language), IsEmpty());
  EXPECT_THAT(own.add(file, "own"), IsEmpty());
  EXPECT_EQ(shipped.find("x")->name, "Ein Bauteil");
  EXPECT_EQ(shipped.find("x")->source, "fest");
  EXPECT_EQ(own.find("x")->name, "A part");
}

// A line for each figure, with nothing in it that a person would read.
std::vector<std::string> figures_in_this_language() {
  std::vector<std::string> all;
  const std::string data = std::string(FAIR_GAUGE_SOURCE) + "/data";
  Catalogue catalogue;
  EXPECT_THAT(catalogue.add_folder(data + "/parts", Texts::in_language), IsEmpty());
  const auto composed = [&](const std::string& id, const ByteLayout& layout,
                            const std::map<std::string, double>& with) {
    const auto composition = compose(layout, power_on_values(layout), with);
    EXPECT_TRUE(composition) << id << ": " << (composition ? "" : to_text(composition.problem()));
    if (!composition) return;
    for (const RegisterFigure& figure : composition->figures)
      all.push_back(fmt::format("{} {} {:.9g} {}", id, figure.role, figure.value, figure.unit));
    all.push_back(fmt::format("{} warned of {}", id, composition->warnings.size()));
  };
  for (const Part& part : catalogue.parts()) {
    composed(part.id, part.bytes, {});
    all.push_back(fmt::format("{} converts in {:.9g} s", part.id, conversion_time(part, {})));
  }
  std::vector<Problem> problems;
  const std::string file = data + "/controllers/10-bit-eight-inputs.json";
  for (const Controller& each : read_controllers(*read_file(file, 1u << 20), file, problems, Texts::in_language))
    composed(each.id, each.layout, {{"clock_hz", 16e6}});
  EXPECT_THAT(problems, IsEmpty());
  const Bench& bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const auto chain = build_chain(bench, catalogue, channel.id);
    if (!chain) continue;
    for (const Budget& budget : budget_over_range(*chain, channel.wanted.from, channel.wanted.to, 5))
      all.push_back(fmt::format("{} at {:.6g}: {} causes, ± {:.9g}, {:.9g}", channel.id, budget.at, budget.lines.size(),
                                budget.expanded, budget.known_bias));
  }
  const CyclePlan plan = plan_cycle(bench, catalogue);
  all.push_back(
      fmt::format("cycle {:.9g} s, {:.9g} A, {} findings", plan.cycle_s, plan.average_a, plan.findings.size()));
  for (const Bus& bus : bench.buses)
    if (const auto check = check_bus(bench, catalogue, bus))
      all.push_back(fmt::format("{} low {:.9g} V, {} findings", bus.id, check->low_v, check->findings.size()));
  const WiringList wires = wiring_list(bench, catalogue);
  all.push_back(fmt::format("{} wires, {} findings", wires.rows.size(), wires.findings.size()));
  return all;
}

TEST(Translation, ChangesNoFigure) {
  const auto english = figures_in_this_language();
  EXPECT_GT(english.size(), 400u);
  const auto text = read_file(std::string(FAIR_GAUGE_SOURCE) + "/data/translations/de.po", 16u << 20);
  ASSERT_TRUE(text);
  const Speaking german(*text);
  EXPECT_THAT(figures_in_this_language(), testing::ElementsAreArray(english));
}

// A program is read by whoever has it next.
TEST(Translation, ChangesNoFirmware) {
  Bench bench = demo_bench();
  bench.channels.push_back({.id = "dew", .quantity = Quantity::temperature, .wanted = {0, 35}, .unit = "Cel"});
  bench.channels.back().derived = DerivedFrom{.as = "dew-point", .of = "room", .beside = "room_humidity"};
  const auto written = [&] {
    std::map<std::string, std::string> files;
    for (const char* channel : {"dew", "substrate", "room", "rack"})
      for (const Language language : {Language::c, Language::python})
        if (const auto done = hand_over(bench, shipped_parts(),
                                        {.channel = channel,
                                         .language = language,
                                         .reading = true,
                                         .drawn_blocks = 200,
                                         .in_simulator = false}))
          for (const auto& [name, text] : done->files)
            if (!name.ends_with(".json")) files[name] = text;
    return files;
  };
  const auto english = written();
  EXPECT_EQ(english.size(), 22u);
  const auto text = read_file(std::string(FAIR_GAUGE_SOURCE) + "/data/translations/de.po", 16u << 20);
  ASSERT_TRUE(text);
  const Speaking german(*text);
  for (const auto& [name, same] : written()) EXPECT_EQ(same, english.at(name)) << name;
}

}  // namespace
}  // namespace fair_gauge
