// Where sellers and sheets disagree: what a person types counts, and shows as such.
#include <gmock/gmock.h>

#include <cmath>

#include "chain/own_figures.h"
#include "choose/shortlist.h"
#include "demo.h"
#include "truth/error_budget.h"

namespace fair_gauge::own_figures_test {

using testing::HasSubstr;

std::shared_ptr<const Catalogue> shared_parts() { return std::make_shared<const Catalogue>(shipped_parts()); }

Bench bench_with(OwnPart own) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.buses = {{.id = "bus", .rail = "3v3"}};
  bench.devices = {{.id = "probe", .part = "DS18B20", .bus = "bus"}};
  bench.channels = {{.id = "air", .device = "probe"}};
  bench.own_parts = {std::move(own)};
  return bench;
}

// DS18B20 is ±0.5 °C by its sheet; a clone that its buyer found to be ±2 °C has 2/√3 = 1.1547 °C as its share.
TEST(OwnFigures, AnAccuracyTakesTheSheetsPlaceInTheBudget) {
  const std::string id = shipped_parts().find("DS18B20")->id;
  const Bench bench = bench_with({.part = id, .figures = {{.accuracy = 2}}, .note = "three clones in ice"});
  const auto catalogue = with_own_figures(shared_parts(), bench.own_parts);
  const auto chain = build_chain(bench, *catalogue, "air");
  ASSERT_TRUE(chain) << to_text(chain.problem());
  const auto budget = error_budget(*chain, 20);
  ASSERT_TRUE(budget);
  const auto line = std::ranges::find(budget->lines, std::string("part accuracy, own figure"), &Contribution::name);
  ASSERT_NE(line, budget->lines.end());
  EXPECT_NEAR(line->width / std::sqrt(3.0), 2 / std::sqrt(3.0), 1e-9);
  EXPECT_EQ(catalogue->find(id)->quantities[0].accuracy[0].conditions, "three clones in ice");
  // The catalogue itself stays as its files have it.
  EXPECT_NE(shipped_parts().find(id)->quantities[0].accuracy[0].grade, own_grade);
}

TEST(OwnFigures, RangeAndSupplyCountToo) {
  const std::string id = shipped_parts().find("DS18B20")->id;
  const Bench bench = bench_with({.part = id,
                                  .figures = {{.from = -10, .to = 60}, {.quantity = Quantity::pressure, .accuracy = 1}},
                                  .supply_minimum_v = 4.5});
  const auto catalogue = with_own_figures(shared_parts(), bench.own_parts);
  const Part& part = *catalogue->find(id);
  EXPECT_EQ(part.quantities[0].minimum, -10);
  EXPECT_EQ(part.quantities[0].maximum, 60);
  EXPECT_EQ(part.supply.minimum_v, 4.5);
  EXPECT_EQ(part.supply.maximum_v, shipped_parts().find(id)->supply.maximum_v);
  EXPECT_NE(part.quantities[0].accuracy[0].grade, own_grade) << "only the range was typed";
  const auto chain = build_chain(bench, *catalogue, "air");
  EXPECT_FALSE(raw_for(*chain, 80));
  EXPECT_TRUE(raw_for(*chain, 50));
}

TEST(OwnFigures, NothingTypedIsTheSameCatalogue) {
  const auto parts = shared_parts();
  EXPECT_EQ(with_own_figures(parts, {}), parts);
  EXPECT_EQ(with_own_figures(parts, {{.part = "DS18B20", .price = 3, .in_drawer = 2}}), parts);
  EXPECT_EQ(with_own_figures(parts, {{.part = "no such part", .supply_maximum_v = 3}}), parts);
}

// A short list counts with them: of a thermometer that its owner knows to be off by 3 °C nobody expects 1 °C.
TEST(OwnFigures, TheShortlistRanksByThem) {
  const std::string id = shipped_parts().find("DS18B20")->id;
  Bench bench = bench_with({.part = id, .figures = {{.accuracy = 3}}});
  const Need need{.from = 5, .to = 35, .allowed = 1};
  const auto worst_of = [&](const Catalogue& catalogue) {
    for (const Candidate& each : shortlist(bench, catalogue, need))
      if (each.part->id == id) return each.worst;
    return 0.0;
  };
  const double by_sheet = worst_of(shipped_parts()), own = worst_of(*with_own_figures(shared_parts(), bench.own_parts));
  EXPECT_LT(by_sheet, 1);
  EXPECT_GT(own, 3);
}

TEST(Shortlist, SaysWhatALongLeadAsksOfTwoMetalsAndPulses) {
  Bench bench = bench_with(OwnPart());
  bench.converters = {{.id = "adc", .reference_rail = "3v3"}};
  const auto said = [&](Interface kind, double metres, const char* words) {
    for (const Candidate& each :
         shortlist(bench, shipped_parts(), {.from = 0, .to = 100, .allowed = 5, .cable_m = metres}))
      if (each.part->interface == kind)
        for (const Reason& reason : each.reasons)
          if (reason.words.find(words) != std::string::npos) return true;
    return false;
  };
  EXPECT_TRUE(said(Interface::thermocouple, 6, "two metals have to run all 6 m"));
  EXPECT_FALSE(said(Interface::thermocouple, 0.5, "two metals"));
  EXPECT_TRUE(said(Interface::pulse_count, 2, "two conductors for each sensor"));
}

}  // namespace fair_gauge::own_figures_test
