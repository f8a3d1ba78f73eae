// The table of wrong chains: its rows for every channel and part, and other readings of bytes alone.
#include <gmock/gmock.h>

#include <cmath>
#include <map>
#include <set>

#include "bench/bench_things.h"
#include "choose/trial.h"
#include "demo.h"
#include "diagnose/diagnose.h"
#include "diagnose/mistakes.h"
#include "diagnose/other_ways.h"
#include "digital/encoder.h"

namespace fair_gauge::other_ways_test {

// Asked for one code at a time the table has the same rows as asked for all.
TEST(OtherWays, NoRowIsForgottenByItsCode) {
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id, bench);
    Firmware right{.bench = bench_of_channel(bench, channel.id), .channel = channel.id};
    right.input = raw_input(chain, *raw_for(chain, (channel.wanted.from + channel.wanted.to) / 2));
    std::map<std::string, int> all;
    for (const Wrong& row : wrongs_of(bench, shipped_parts(), chain, right)) ++all[row.code];
    EXPECT_GE(all.size(), 8u) << channel.id;
    for (const auto& [code, count] : all) {
      const std::string_view only[] = {code};
      const auto rows = wrongs_of(bench, shipped_parts(), chain, right, only);
      EXPECT_EQ(static_cast<int>(rows.size()), count) << channel.id << " " << code;
    }
  }
}

TEST(OtherWays, BytesOfAPartAloneAreReadWrongly) {
  const Part& part = *shipped_parts().find("TMP102");
  const auto way = [&](std::uint8_t high, std::uint8_t low, const std::string& code) {
    for (const OtherWay& each :
         other_ways_of_bytes(shipped_parts(), part, Quantity::temperature, {}, {{"0x00", {high, low}}}))
      if (each.code == code) return each.value;
    return std::nan("");
  };
  // 25 °C is 1900; sent with the low byte first it reads 0019, 1.56 °C: exchanged it makes sense.
  EXPECT_NEAR(way(0x00, 0x19, "bytes-swapped"), 25, 0.1);
  EXPECT_NEAR(way(0xFF, 0xC0, "signed-read-as-unsigned"), 255.75, 1e-9);  // −0.25 °C without its sign
  EXPECT_TRUE(other_ways_of_bytes(shipped_parts(), part, Quantity::temperature, {}, {}).empty());
  EXPECT_TRUE(other_ways_of_bytes(shipped_parts(), part, Quantity::humidity, {}, {{"0x00", {1, 2}}}).empty());
  // With its trimming: the sheet's example, 25.08 °C, whose humidity leans on it.
  const Part& air = *shipped_parts().find("BME280");
  for (const OtherWay& each :
       other_ways_of_bytes(shipped_parts(), air, Quantity::pressure, {},
                           {{"0x88", *read_hex("706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017")},
                            {"0xF7", *read_hex("655AC07EED008000")}}))
    EXPECT_TRUE(std::isfinite(each.value)) << each.code;
}

// Supplies, converters of both kinds and a bus, without a part.
Bench bare_bench() {
  Bench bare;
  for (const double volts : {3.3, 5.0, 12.0})
    find_by_id(bare.rails, add_thing(bare, ThingKind::rail))->voltage.nominal_v = volts;
  add_thing(bare, ThingKind::converter);
  find_by_id(bare.converters, add_thing(bare, ThingKind::converter))->polarity = Polarity::bipolar;
  add_thing(bare, ThingKind::bus);
  return bare;
}

// A part that is put on a bench by its marking reads the whole of the range that it is first given.
TEST(FittedPart, ReadsTheWholeOfItsFirstRange) {
  const Bench bare = bare_bench();
  int looked_at = 0;
  for (const Part& part : shipped_parts().parts()) {
    auto fitted = fit_part(bare, shipped_parts(), part);
    if (!fitted) continue;
    std::set<std::string> names;
    for (const Channel& channel : fitted->bench.channels) {
      EXPECT_TRUE(names.insert(channel.name).second) << part.id << ": two of the name " << channel.name;
      const auto chain = build_chain(fitted->bench, shipped_parts(), channel.id);
      ASSERT_TRUE(chain) << part.id;
      if (part.transfer.type == "thermocouple") continue;  // its range is far wider than any converter's
      const auto budget = error_budget(*chain, std::midpoint(channel.wanted.from, channel.wanted.to));
      ASSERT_TRUE(budget) << part.id;
      // What the part cannot help is its first wish, up to a part of the range; supply and converter are to be mended.
      const double span = channel.wanted.to - channel.wanted.from;
      EXPECT_TRUE(!(budget->used() > 1) || budget->lines.front().stage != StageName::sensor ||
                  channel.tolerance >= span / 4)
          << part.id << ' ' << channel.name << ": " << budget->used() << " of what it may be off is no first wish";
      EXPECT_LE(channel.tolerance, span * 0.4) << part.id << ' ' << channel.name;
      for (const double share : {0.02, 0.5, 0.98}) {  // at the very ends a converter is at its own
        const auto raw = raw_for(*chain, channel.wanted.from + share * (channel.wanted.to - channel.wanted.from));
        EXPECT_TRUE(raw && read_raw(*chain, *raw))
            << part.id << ' ' << channel.name << " at " << share << ": " << (raw ? "" : to_text(raw.problem()));
        ++looked_at;
      }
    }
  }
  EXPECT_GT(looked_at, 200);
}

// What the part files warn of is a row of the table: each code that they name exists for a channel of that part.
TEST(OtherWays, EveryCodeOfAPartFileIsOneOfItsRows) {
  const std::set<std::string> states{"saturated", "not-ready", "power-on-default"};  // shown by the input itself
  const Bench bare = bare_bench();
  int looked_at = 0;
  for (const Part& part : shipped_parts().parts()) {
    std::set<std::string> wanted;
    for (const Mistake& mistake : part.mistakes)
      if (!mistake.code.empty() && !states.contains(mistake.code)) wanted.insert(mistake.code);
    if (wanted.empty()) continue;
    const auto fitted = fit_part(bare, shipped_parts(), part);
    if (!fitted) continue;  // a converter
    ++looked_at;
    Bench bench = fitted->bench;
    if (part.transfer.type == "thermocouple") bench.devices.back().settings["cold_junction"] = 25;
    for (const Channel& channel : bench.channels) {
      const auto chain = build_chain(bench, shipped_parts(), channel.id);
      ASSERT_TRUE(chain) << part.id;
      // Some are none where the number has no sign.
      const PartQuantity& quantity = *part.measures(channel.quantity);
      for (const double share : {0.02, 0.5}) {
        const auto raw = raw_for(*chain, quantity.minimum + share * (quantity.maximum - quantity.minimum));
        if (!raw) continue;
        const Firmware right{
            .bench = bench_of_channel(bench, channel.id), .channel = channel.id, .input = raw_input(*chain, *raw)};
        for (const Wrong& row : wrongs_of(bench, shipped_parts(), *chain, right)) wanted.erase(row.code);
      }
    }
    EXPECT_THAT(wanted, testing::IsEmpty()) << part.id;
  }
  EXPECT_GT(looked_at, 50);
}
}  // namespace fair_gauge::other_ways_test
