// What hangs on what, and what becomes of it when it is taken away.
#include <gmock/gmock.h>

#include "bench/bench_things.h"
#include "bench/board_presets.h"
#include "choose/trial.h"
#include "demo.h"

namespace fair_gauge::bench_things_test {

using testing::Contains;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::Not;

// Every reference in a bench leads to something that is there.
void expect_whole(const Bench& bench) {
  const auto is_there = [&](const auto& items, const std::string& id) { return id.empty() || find_by_id(items, id); };
  for (const Converter& each : bench.converters) EXPECT_TRUE(is_there(bench.rails, each.reference_rail)) << each.id;
  for (const Bus& each : bench.buses) {
    EXPECT_TRUE(is_there(bench.rails, each.rail)) << each.id;
    for (const PullUp& pull_up : each.pull_ups)
      EXPECT_TRUE(pull_up.to == "ground" || is_there(bench.rails, pull_up.to)) << each.id;
  }
  for (const Device& each : bench.devices) {
    EXPECT_TRUE(is_there(bench.rails, each.rail) && is_there(bench.rails, each.front_end.rail)) << each.id;
    EXPECT_TRUE(is_there(bench.converters, each.converter) && is_there(bench.buses, each.bus)) << each.id;
    for (const auto& [key, channel] : each.side_inputs) EXPECT_TRUE(find_by_id(bench.channels, channel)) << each.id;
  }
  for (const Channel& each : bench.channels) EXPECT_TRUE(is_there(bench.devices, each.device)) << each.id;
  for (const Pin& each : bench.board.pins) EXPECT_TRUE(is_there(bench.converters, each.reads)) << each.name;
}

TEST(Things, EachCanBeTakenAwayAndNothingPointsToIt) {
  const Bench whole = demo_bench();
  const auto things = things_of(whole);
  EXPECT_EQ(things.size(), whole.rails.size() + whole.converters.size() + whole.buses.size() + whole.devices.size() +
                               whole.channels.size());
  for (const Thing& thing : things) {
    Bench bench = whole;
    const Dependents dependents = dependents_of(bench, thing);
    take_away(bench, thing);
    const auto left = things_of(bench);
    EXPECT_EQ(left.size() + 1 + dependents.go.size(), things.size()) << thing.id;
    EXPECT_THAT(left, Not(Contains(thing)));
    for (const Thing& stays : dependents.stay) EXPECT_THAT(left, Contains(stays)) << thing.id;
    expect_whole(bench);
    for (const Channel& channel : bench.channels) {
      const auto chain = build_chain(bench, shipped_parts(), channel.id);
      EXPECT_TRUE(chain || !chain.problem().wrong.empty()) << channel.id;  // said, never a fall
    }
  }
  // All of it, one after the other.
  Bench bench = whole;
  while (!things_of(bench).empty()) take_away(bench, things_of(bench).front());
  expect_whole(bench);
}

TEST(Things, AConverterKeepsTheVoltageOfARailThatGoes) {
  Bench bench = demo_bench();
  Converter converter = bench.converters.front();
  converter.id = "extra";
  converter.reference_rail = bench.rails.front().id;
  bench.converters.push_back(converter);
  bench.rails.front().voltage.measured_v = 3.271;
  take_away(bench, {ThingKind::rail, bench.rails.front().id});
  const Converter& kept = *find_by_id(bench.converters, "extra");
  EXPECT_EQ(kept.reference_rail, "");
  EXPECT_EQ(reference_of(bench, kept).best_v(), 3.271);
}

// Numbers came first, their sensor is said afterwards.
TEST(Things, NumbersWithoutASensorAreHandedOn) {
  Bench bench = demo_bench();
  const std::string taking = bench.channels.front().id, name = bench.channels.front().name;
  EXPECT_FALSE(lacks_sensor(bench.channels.front()));
  bench.channels.push_back({.id = "a0", .line_name = "A0"});
  EXPECT_TRUE(lacks_sensor(bench.channels.back()));
  const Bench before = bench;
  hand_numbers_on(bench, "a0", taking);
  EXPECT_EQ(find_by_id(bench.channels, "a0"), nullptr);
  EXPECT_EQ(bench.channels.front().name_on_line(), "A0");
  EXPECT_EQ(bench.channels.front().name, name);
  // A name that a person gave goes along.
  bench = before;
  bench.channels.back().name = "Boiler", bench.channels.back().place = "Cellar";
  hand_numbers_on(bench, "a0", taking);
  EXPECT_EQ(bench.channels.front().name, "Boiler");
  EXPECT_EQ(bench.channels.front().place, "Cellar");
  // What was worked out of them still is.
  bench = before;
  bench.channels.push_back({.id = "twice", .derived = DerivedFrom{.as = "formula", .of = "a0", .formula = "2*a"}});
  bench.devices.front().side_inputs["ambient"] = "a0";
  hand_numbers_on(bench, "a0", taking);
  EXPECT_EQ(bench.channels.back().derived->of, taking);
  EXPECT_EQ(bench.devices.front().side_inputs["ambient"], taking);
  // To nobody, or to itself: nothing is lost.
  bench = before;
  hand_numbers_on(bench, "a0", "nobody");
  hand_numbers_on(bench, "a0", "a0");
  EXPECT_EQ(bench, before);
}

TEST(Things, ABenchIsMadeFromNothing) {
  Bench bench;
  const Part& bare = *shipped_parts().find("LM35");
  const auto too_early = fit_part(bench, shipped_parts(), bare);
  ASSERT_FALSE(too_early);
  EXPECT_THAT(to_text(too_early.problem()), HasSubstr("no supply rail"));
  const std::string rail = add_thing(bench, ThingKind::rail), other = add_thing(bench, ThingKind::rail);
  EXPECT_NE(rail, other);
  EXPECT_EQ(find_by_id(bench.rails, rail)->voltage.nominal_v, 3.3);
  EXPECT_EQ(find_by_id(bench.rails, other)->voltage.nominal_v, 5);  // the usual one that was not there yet
  const std::string converter = add_thing(bench, ThingKind::converter);
  EXPECT_EQ(find_by_id(bench.converters, converter)->reference_rail, rail);
  add_thing(bench, ThingKind::bus);
  EXPECT_EQ(add_thing(bench, ThingKind::channel), "");
  auto first = fit_part(bench, shipped_parts(), bare);
  ASSERT_TRUE(first) << to_text(first.problem());
  bench = first->bench;
  auto second = fit_part(bench, shipped_parts(), *shipped_parts().find("BME280"));
  ASSERT_TRUE(second) << to_text(second.problem());
  bench = second->bench;
  ASSERT_EQ(bench.channels.size(), 4u);
  EXPECT_EQ(bench.channels[1].name, "Temperature 2");
  EXPECT_EQ(bench.channels[3].unit, "hPa");
  for (const Channel& channel : bench.channels) {
    EXPECT_THAT(lacks_of(bench, channel), IsEmpty()) << channel.id;
    EXPECT_TRUE(build_chain(bench, shipped_parts(), channel.id)) << channel.id;
  }
  // 10 mV for each °C, 12 bits of 3.3 V: 25 °C is 0.25 / 3.3 · 4096 = 310.3.
  const Chain chain = *build_chain(bench, shipped_parts(), bench.channels.front().id);
  EXPECT_NEAR(*raw_for(chain, 25), 310, 1e-9) << "whole codes: 310.3 is code 310";
}

TEST(Things, EveryPartOfTheCatalogueIsFittedOrSaysWhyNot) {
  Bench bench;
  add_thing(bench, ThingKind::rail);
  add_thing(bench, ThingKind::rail);
  add_thing(bench, ThingKind::converter);
  add_thing(bench, ThingKind::bus);
  int fitted = 0;
  for (const Part& part : shipped_parts().parts()) {
    const auto trial = fit_part(bench, shipped_parts(), part);
    if (!trial) {
      EXPECT_FALSE(trial.problem().wrong.empty()) << part.id;
      continue;
    }
    ++fitted;
    for (const Channel& channel : trial->bench.channels) {
      const auto chain = build_chain(trial->bench, shipped_parts(), channel.id);
      EXPECT_TRUE(chain) << part.id << ": " << (chain ? "" : to_text(chain.problem()));
      EXPECT_LT(channel.wanted.from, channel.wanted.to) << part.id;
      EXPECT_GT(channel.tolerance, 0) << part.id;
      if (!chain) continue;
      // It reads what it was fitted for; the outermost steps may round out of the range.
      for (const double world : {0.98 * channel.wanted.from + 0.02 * channel.wanted.to,
                                 0.02 * channel.wanted.from + 0.98 * channel.wanted.to}) {
        const StageValue shown = evaluate(*chain, {StageName::world, world}).back();
        EXPECT_TRUE(shown) << part.id << " at " << world << ": " << (shown ? "" : to_text(shown.problem()));
      }
    }
  }
  EXPECT_GT(fitted, static_cast<int>(shipped_parts().parts().size()) * 8 / 10);
}

}  // namespace fair_gauge::bench_things_test
