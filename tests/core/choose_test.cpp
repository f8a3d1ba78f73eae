// The shortlist: needs whose answer a practitioner knows, and what every candidate must keep.
#include <gmock/gmock.h>

#include <cmath>

#include "bench/bench_things.h"
#include "choose/shortlist.h"
#include "choose/side_by_side.h"
#include "choose/trial.h"
#include "core/schema.h"
#include "demo.h"
#include "digital/registers.h"
#include "truth/error_budget.h"

namespace fair_gauge::choose_test {

using testing::Contains;
using testing::HasSubstr;

const Candidate* find_part(const std::vector<Candidate>& list, const std::string& marking) {
  const Part* part = shipped_parts().find(marking);
  const auto found = std::ranges::find(list, part, &Candidate::part);
  return found == list.end() ? nullptr : &*found;
}

std::string reasons_of(const Candidate& candidate) {
  std::string words;
  for (const Reason& reason : candidate.reasons) words += reason.words + "\n";
  return words;
}

std::vector<Candidate> list_for(const Need& need) { return shortlist(demo_bench(), shipped_parts(), need); }

TEST(Shortlist, FindsTheFineThermometerForATightNeed) {
  const auto list = list_for({.from = 0, .to = 40, .allowed = 0.15});
  EXPECT_EQ(list.front().part->id, "bus-temperature-16-finest");  // ±0.1 °C from −20 to 50 °C by its sheet
  EXPECT_LT(list.front().used(0.15), 1);
}

// An infrared thermometer reads to 380 °C, its sheet states an accuracy to 50: what nobody states is not kept.
TEST(Shortlist, NothingKeepsWhatItsSheetDoesNotState) {
  const auto list = list_for({.from = 0, .to = 300, .allowed = 2});
  const Candidate* candidate = find_part(list, "MLX90614");
  ASSERT_TRUE(candidate && !candidate->ruled_out());
  EXPECT_LT(candidate->used(2), 1);
  EXPECT_FALSE(candidate->keeps(2));
  EXPECT_THAT(reasons_of(*candidate), HasSubstr("its accuracy is stated for 0 °C to 50 °C only"));
  const auto cool = list_for({.from = 5, .to = 45, .allowed = 2});
  candidate = find_part(cool, "MLX90614");
  ASSERT_TRUE(candidate);
  EXPECT_TRUE(candidate->keeps(2));
  EXPECT_THAT(reasons_of(*candidate), testing::Not(HasSubstr("is stated for")));
}

TEST(Shortlist, RulesOutWithASentence) {
  struct Case {
    Need need;
    const char *marking, *says;
  };
  const Case cases[] = {
      {{.quantity = Quantity::humidity, .from = 20, .to = 90, .allowed = 5, .period_s = 1},
       "DHT22",
       "answers every 2 s, every 1 s is wanted"},
      {{.from = -20, .to = 30, .allowed = 2}, "DHT11", "its range begins at 0.0 °C"},
      {{.from = 0, .to = 200, .allowed = 5}, "DS18B20", "its range ends at 125 °C"},
      {{.from = 20, .to = 60, .allowed = 2, .place = NeedPlace::liquid}, "SHT31", "does not bear being wet"},
      {{.quantity = Quantity::pressure, .kind = PressureKind::gauge, .from = 0, .to = 5000, .allowed = 500},
       "BME280",
       "absolute pressure, gauge is wanted"},
      {{.from = 0, .to = 40, .allowed = 1, .interfaces = {Interface::one_wire}}, "TMP117", "no two-wire bus is free"},
      {{.from = 0, .to = 40, .allowed = 1, .own_only = true}, "TMP116", "not in the drawer"},
      {{.quantity = Quantity::pressure, .from = 20000, .to = 100000, .allowed = 3000},
       "MPX4115A",
       "needs a supply of 4.85 to 5.35 V"},
  };
  for (const Case& each : cases) {
    const auto list = list_for(each.need);
    const Candidate* candidate = find_part(list, each.marking);
    ASSERT_TRUE(candidate) << each.marking;
    EXPECT_TRUE(candidate->ruled_out()) << each.marking;
    EXPECT_THAT(reasons_of(*candidate), HasSubstr(each.says));
    EXPECT_FALSE(list.front().ruled_out()) << each.marking;
  }
}

// What a part needs that the bench does not have is said with the way there, which then works.
TEST(Shortlist, ASupplyThatIsMissingIsNamed) {
  Bench bench;
  add_thing(bench, ThingKind::rail);
  add_thing(bench, ThingKind::converter);
  const Part& transmitter = *shipped_parts().find("pressure-transmitter-1m2");
  const auto refused = fit_part(bench, shipped_parts(), transmitter);
  ASSERT_FALSE(refused);
  EXPECT_EQ(to_text(refused.problem()),
            "needs a supply of 4.5 to 5.5 V, the bench has 3.3 V; a supply of 5 V beside it, on Board");
  add_thing(bench, ThingKind::rail);
  const auto fits = fit_part(bench, shipped_parts(), transmitter);
  ASSERT_TRUE(fits) << to_text(fits.problem());
  EXPECT_EQ(fits->bench.devices.front().front_end.rail, bench.rails.back().id);
}

TEST(Shortlist, AVoltageBelowGroundIsNotForASingleSupply) {
  // 10 mV/°C from 0 V at −20 °C is −0.2 V. A five-volt rail first, so that its supply is no reason.
  Bench bench = demo_bench();
  bench.rails.front().voltage.nominal_v = 5;
  bench.rails.front().voltage.measured_v.reset();
  const auto list = shortlist(bench, shipped_parts(), {.from = -20, .to = 40, .allowed = 3});
  EXPECT_THAT(reasons_of(*find_part(list, "LM35")), HasSubstr("0.2 V below ground"));
  EXPECT_FALSE(find_part(list, "TMP36")->ruled_out());
}

TEST(Shortlist, TheChipsOwnThermometerIsAllowedWithItsCaution) {
  const auto list = list_for({.from = 5, .to = 40, .allowed = 5, .period_s = 100});
  const Candidate* clock = find_part(list, "DS3231");
  ASSERT_TRUE(clock);
  EXPECT_FALSE(clock->ruled_out());
  EXPECT_THAT(reasons_of(*clock), HasSubstr("warmer than the air"));
  EXPECT_GT(clock->points, find_part(list, "TMP102")->points);
}

TEST(Shortlist, ADryPartIsTakenAmissOnlyWhereItIsHumid) {
  const auto says = [](NeedPlace place, const char* marking) {
    const auto list = list_for({.from = 5, .to = 40, .allowed = 0.5, .place = place});
    return reasons_of(*find_part(list, marking));
  };
  EXPECT_THAT(says(NeedPlace::humid, "TMP117"), HasSubstr("made for dry air"));
  EXPECT_THAT(says(NeedPlace::indoors, "TMP117"), Not(HasSubstr("made for dry air")));
  EXPECT_THAT(says(NeedPlace::humid, "SHT31"), Not(HasSubstr("made for dry air")));
}

TEST(Shortlist, ALongCableIsTakenAmissWhereItsLineIsFrail) {
  const auto says = [](double cable_m, const char* marking) {
    const auto list = list_for({.from = 5, .to = 40, .allowed = 2, .cable_m = cable_m});
    return reasons_of(*find_part(list, marking));
  };
  EXPECT_THAT(says(6, "SHT31"), HasSubstr("two-wire over 6 m is slow and frail"));
  EXPECT_THAT(says(2, "SHT31"), HasSubstr("two-wire over 2 m wants strong pull-ups"));
  EXPECT_THAT(says(1, "SHT31"), Not(HasSubstr("two-wire over")));
  EXPECT_THAT(says(6, "DS18B20"), Not(HasSubstr("two-wire over")));
  EXPECT_THAT(says(6, "TMP36"), HasSubstr("a long lead picks up hum"));
  EXPECT_THAT(says(2, "TMP36"), Not(HasSubstr("a long lead picks up hum")));
}

TEST(Shortlist, CoarseOrQuietIsNeverTakenForAccurate) {
  const auto list = list_for({.quantity = Quantity::humidity, .from = 30, .to = 80, .allowed = 3});
  const Candidate* coarse = find_part(list, "SHT30");
  ASSERT_TRUE(coarse);
  EXPECT_GT(coarse->worst, 20 * coarse->step);
  EXPECT_THAT(reasons_of(*coarse), HasSubstr("fine, not exact"));
  EXPECT_LT(find_part(list, "SHT45")->points, coarse->points);
}

TEST(Shortlist, EveryCandidatesFiguresAreThoseOfItsOwnChain) {
  for (const Need& need : {Need{.from = 5, .to = 35, .allowed = 1},
                           Need{.quantity = Quantity::humidity, .from = 40, .to = 90, .allowed = 5},
                           Need{.quantity = Quantity::pressure, .from = 90000, .to = 105000, .allowed = 300},
                           Need{.quantity = Quantity::illuminance, .from = 10, .to = 900, .allowed = 300}}) {
    int judged = 0;
    double before = -1e9;
    for (const Candidate& candidate : list_for(need)) {
      EXPECT_FALSE(candidate.reasons.empty() && candidate.ruled_out());
      if (candidate.ruled_out()) continue;
      EXPECT_GE(candidate.points, before) << candidate.part->id;
      before = candidate.points;
      const auto chain = build_chain(candidate.trial.bench, shipped_parts(), candidate.trial.channel);
      ASSERT_TRUE(chain) << candidate.part->id << chain.problem().wrong;
      const auto budget = error_budget(*chain, candidate.worst_at);
      ASSERT_TRUE(budget);
      EXPECT_NEAR(budget->expanded + std::abs(budget->known_bias), candidate.worst, 1e-12);
      EXPECT_LE(candidate.typical, candidate.worst);
      ++judged;
    }
    EXPECT_GE(judged, 5) << enum_name(need.quantity);
  }
}

TEST(Shortlist, ATrialIsAWholeBenchThatCanBeSaved) {
  int left = is_sanitized ? 8 : 1000;
  for (const Candidate& candidate : list_for({.from = 5, .to = 35, .allowed = 1})) {
    if (candidate.ruled_out() || left-- <= 0) continue;
    const std::string text = bench_to_text(candidate.trial.bench);
    const auto again = bench_from_text(text, "trial");
    ASSERT_TRUE(again) << candidate.part->id;
    EXPECT_TRUE(again->problems.empty()) << candidate.part->id << ": " << to_text(again->problems.front());
    EXPECT_EQ(again->bench, candidate.trial.bench) << candidate.part->id;
  }
}

TEST(Trial, TakesAFreeAddressOrAsksForAMultiplexer) {
  Bench bench = demo_bench();
  const Part& air = *shipped_parts().find("BMP280");  // 0x76 is taken by the air sensor
  const Need need{.quantity = Quantity::pressure, .from = 90000, .to = 105000, .allowed = 300};
  auto trial = try_part(bench, shipped_parts(), need, air, "second");
  ASSERT_TRUE(trial);
  EXPECT_EQ(trial->bench.devices.back().address, 0x77);
  trial = try_part(trial->bench, shipped_parts(), need, air, "third");
  ASSERT_TRUE(trial);
  EXPECT_THAT(trial->effort, Contains(Field(&Effort::words, HasSubstr("multiplexer"))));
}

TEST(TradeInWords, SaysPriceErrorAndEffort) {
  const auto list = list_for({.from = 5, .to = 35, .allowed = 0.4});
  const Candidate *cheap = find_part(list, "NTC 10k B3950") ? find_part(list, "NTC 10k B3950")
                                                            : find_part(list, "ntc-10k-3950"),
                  *fine = find_part(list, "TMP117");
  ASSERT_TRUE(cheap && fine);
  const Need need{.from = 5, .to = 35, .allowed = 0.4};
  const std::string words = trade_in_words(*cheap, *fine, need);
  EXPECT_THAT(words, HasSubstr("11 % of the price"));  // 0.6 against 5.4 on the demonstration bench
  EXPECT_THAT(words, HasSubstr("eats"));
  EXPECT_THAT(words, HasSubstr("needs a resistor"));
  EXPECT_THAT(trade_in_words(*fine, *cheap, need), HasSubstr("9.0 times the price"));
}

TEST(SideBySide, EachReadsTheSameHourWithItsOwnError) {
  const Need need{.from = 5, .to = 35, .allowed = 0.5};
  const auto list = list_for(need);
  const auto run =
      run_side_by_side(shipped_parts(), need, {find_part(list, "TMP117"), find_part(list, "DS18B20")}, 1, 120, 3);
  ASSERT_EQ(run.readings.size(), 2u);
  // The world goes through the middle half of what is wanted: 20 ± 7.5 °C.
  EXPECT_EQ(run.truth.front(), 20);
  EXPECT_NEAR(std::ranges::max(run.truth), 27.5, 0.01);
  EXPECT_NEAR(std::ranges::min(run.truth), 12.5, 0.01);
  for (std::size_t c = 0; c < 2; ++c)
    for (std::size_t i = 0; i < run.truth.size(); ++i) EXPECT_NEAR(run.readings[c][i], run.truth[i], 1.5);
  EXPECT_EQ(run.readings,
            run_side_by_side(shipped_parts(), need, {find_part(list, "TMP117"), find_part(list, "DS18B20")}, 1, 120, 3)
                .readings);
}

TEST(Need, IsReadFromItsFileWithEveryFaultSaid) {
  const auto need = need_from_text(
      R"({"quantity":"humidity","from":40,"to":95,"allowed":3,"place":"humid","interfaces":["i2c"]})", "need.json");
  ASSERT_TRUE(need);
  EXPECT_EQ(need->place, NeedPlace::humid);
  const auto schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/need.schema.json");
  EXPECT_TRUE(schema_problems(*parse_json(need_to_text(*need), ""), schema->value).empty());
  for (const auto& [text, says] :
       {std::pair{R"({"quantity":"humidity","from":40,"to":30,"allowed":3})", "ends before it begins"},
        {R"({"quantity":"taste","from":4,"to":30,"allowed":3})", "taste"},
        {R"({"from":4,"to":30,"allowed":3})", "missing"},
        {R"({"quantity":"humidity","from":4,"to":30,"allowed":0})", "allowed"},
        {"[", ""}}) {
    const auto bad = need_from_text(text, "need.json");
    ASSERT_FALSE(bad) << text;
    EXPECT_THAT(bad.problem().wrong, HasSubstr(says));
  }
}

TEST(Shortlist, NothingIsQuickByMeasuringNothing) {
  // After power-on it is asleep and skips everything: one oversampling of the humidity alone measures no temperature.
  EXPECT_FALSE(quickest_choice(*shipped_parts().find("BME280")));
  EXPECT_EQ(quickest_choice(*shipped_parts().find("SHT31"))->words, "repeatability low");
  EXPECT_NEAR(quickest_choice(*shipped_parts().find("DS18B20"))->seconds, 93.75e-3, 1e-9);
}

// A thermometer that converts for 750 ms at 12 bits does it in 94 ms at 9: five times a second it is coarse, not
// useless.
TEST(Shortlist, ASlowPartIsQuickEnoughWithAnotherSetting) {
  const auto said = [](double period_s) {
    const Need need{.quantity = Quantity::temperature, .from = 0, .to = 50, .allowed = 1, .period_s = period_s};
    std::string words;
    for (const Candidate& candidate : shortlist(demo_bench(), shipped_parts(), need))
      if (candidate.part->id == "one-wire-temperature")
        for (const Reason& reason : candidate.reasons)
          words += (reason.kind == ReasonKind::rules_out ? "× " : "") + reason.words + "\n";
    return words;
  };
  EXPECT_THAT(said(1), testing::Not(HasSubstr("quick enough only")));
  EXPECT_THAT(said(0.2), HasSubstr("quick enough only with R 9 bits"));
  EXPECT_THAT(said(0.2), HasSubstr("93.8 ms, coarser"));
  EXPECT_THAT(said(0.05), HasSubstr("× it answers every"));
}

// 10 mV/V at 40 kPa on 3.3 V: 8.25 mV at 10 kPa, 16.5 mV at 20 kPa, 33 mV at 40 kPa. Half of 3.3 V by a gain of 128, 64
// and 32 are 12.9, 25.8 and 51.6 mV.
TEST(Trial, ABridgesGainFollowsItsRange) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  const Part& part = *shipped_parts().find("bridge-40kpa");
  const auto gain_for = [&](double to) {
    const auto trial =
        try_part(bench, shipped_parts(), {.quantity = Quantity::pressure, .from = 0, .to = to}, part, "it");
    EXPECT_TRUE(trial) << to_text(trial.problem());
    return trial ? trial->bench.converters.front().gain : 0;
  };
  EXPECT_EQ(gain_for(10e3), 128);
  EXPECT_EQ(gain_for(20e3), 64);
  EXPECT_EQ(gain_for(40e3), 32);
  // A gain that another bridge hangs on stays, and what does not fit it is refused.
  auto first = try_part(bench, shipped_parts(), {.quantity = Quantity::pressure, .from = 0, .to = 10e3}, part, "it");
  ASSERT_TRUE(first);
  const auto second =
      try_part(first->bench, shipped_parts(), {.quantity = Quantity::pressure, .from = 0, .to = 40e3}, part, "other");
  ASSERT_FALSE(second);
  EXPECT_THAT(second.problem().wrong, testing::HasSubstr("beyond the 12.9 mV of its converter at a gain of 128"));
}

// 1 µA/K needs 4 V over it: of 5 V ± 5 % its load may take 0.75 V at 323.15 µA, which is 2.3 kΩ; beyond 1 V it is no
// reading any more, whatever the load.
TEST(Trial, ATwoTerminalPartKeepsTheVoltageOverIt) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5, .tolerance = 0.05}}};
  bench.converters.push_back({.id = "adc", .bits = 10, .reference_rail = "5v"});
  const Part& part = *shipped_parts().find("AD590");
  const Need need{.quantity = Quantity::temperature, .from = 0, .to = 50, .allowed = 5};
  auto trial = try_part(bench, shipped_parts(), need, part, "it");
  ASSERT_TRUE(trial) << to_text(trial.problem());
  FrontEnd& front_end = trial->bench.devices.front().front_end;
  EXPECT_LE(front_end.fixed_ohm, 0.75 / 323.15e-6);
  EXPECT_GE(front_end.fixed_ohm, 0.6 / 323.15e-6);
  front_end.fixed_ohm = 13e3;  // 3.9 V at 25 °C leave 1.1 V
  const auto chain = build_chain(trial->bench, shipped_parts(), "it");
  ASSERT_TRUE(chain);
  const auto at_25 = evaluate(*chain, {StageName::world, 25});
  EXPECT_THAT(to_text(at_25[static_cast<std::size_t>(chain->code_stage() - chain->stages.data())].problem()),
              HasSubstr("above what the front end can give"));
  bench.rails.front().voltage = {.nominal_v = 4.1, .tolerance = 0.05};
  const auto low = try_part(bench, shipped_parts(), need, part, "it");
  ASSERT_FALSE(low);
  EXPECT_THAT(to_text(low.problem()), HasSubstr("it needs 4 V over it"));
}

// Pt100 of 0…100 °C on 5 V, 10 bits: at 390 Ω 10 mA heat it by 2 K at 200 K/W. What the resistor does in all is worked
// out here from the divider: two steps and the heat.
TEST(Trial, AResistorNeitherHeatsNorBlinds) {
  Bench bench;
  bench.rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench.converters.push_back({.id = "adc", .bits = 10, .reference_rail = "5v"});
  const Part& part = *shipped_parts().find("Pt100");
  ASSERT_EQ(part.kelvin_per_watt, 200);
  const Need need{.quantity = Quantity::temperature, .from = 0, .to = 100, .allowed = 5};
  const auto trial = try_part(bench, shipped_parts(), need, part, "it");
  ASSERT_TRUE(trial) << to_text(trial.problem());
  const auto off = [](double fixed) {
    // 100 Ω, 0.385 Ω/K; the worst step where the resistance is largest, the most heat where it is nearest the fixed
    // one.
    const double step = 5.0 / 1024 / (5 * fixed / std::pow(fixed + 138.5, 2) * 0.379);
    const double ohm = std::clamp(fixed, 100.0, 138.5);
    return 2 * step + std::pow(5 / (fixed + ohm), 2) * ohm * 200;
  };
  const double chosen = trial->bench.devices.front().front_end.fixed_ohm;
  for (const double other : {220.0, 390.0, 470.0, 680.0, 1000.0, 2200.0})
    EXPECT_LE(off(chosen), off(other) * 1.02) << chosen << " instead of " << other;
}

// A channel is called what it measures, not by its part's description, and air pressure is read as the weather is
// given.
TEST(Trial, NamesItsChannelByWhatItMeasures) {
  const Part* part = shipped_parts().find("BMP390");
  ASSERT_TRUE(part);
  const Need need{.quantity = Quantity::pressure, .from = 95'000, .to = 105'000, .allowed = 200};
  const auto trial = try_part(demo_bench(), shipped_parts(), need, *part, "pressure_2");
  ASSERT_TRUE(trial) << to_text(trial.problem());
  EXPECT_EQ(trial->bench.channels.back().name, "Pressure 2");
  EXPECT_EQ(trial->bench.channels.back().unit, "hPa");
}

}  // namespace fair_gauge::choose_test
