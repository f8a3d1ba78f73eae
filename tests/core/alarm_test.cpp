// A part's own comparing, reading after reading, against sequences worked out by hand from the sheets' descriptions.
#include "digital/alarm.h"

#include <gmock/gmock.h>

#include <algorithm>

#include "calibrate/apply_correction.h"
#include "chain/part_limits.h"
#include "demo.h"
#include "digital/decoder.h"

namespace fair_gauge::alarm_test {

using testing::ElementsAre;
using testing::HasSubstr;

std::string course_of(const AlarmRules& rules, AlarmLimits limits, const std::vector<double>& values,
                      const std::vector<std::size_t>& reads = {}) {
  std::string words;
  for (const bool each : run_alarm(rules, limits, values, reads).asserted) words += each ? '!' : '.';
  return words;
}

TEST(Alarm, AThermostatIsReleasedBelowTheLower) {
  // The limit itself does not trip, nor release.
  EXPECT_EQ(course_of({}, {30, 25}, {20, 30, 30.5, 28, 25, 24.9, 28, 31}), "..!!!..!");
  EXPECT_EQ(course_of({.upper_includes = true}, {30, 25}, {29.9, 30, 25, 24}), ".!!.");
  // Three in a row, both ways.
  EXPECT_EQ(course_of({.faults = 3}, {30, 25}, {31, 31, 29, 31, 31, 31, 24, 24, 26, 24, 24, 24}), ".....!!!!!!.");
  // Without a lower one it is released below the upper.
  EXPECT_EQ(course_of({}, {30, {}}, {31, 30, 29}), "!!.");
  EXPECT_EQ(course_of({}, {{}, 25}, {10, 40}), "..") << "nothing to trip on";
  EXPECT_EQ(course_of({.is_on = false}, {30, 25}, {40}), ".");
  EXPECT_EQ(course_of({}, {30, 25}, {31, std::nan(""), 24, std::nan("")}), "!!..") << "no reading changes nothing";
}

TEST(Alarm, InterruptModeCallsAtEveryChangeUntilItIsAsked) {
  // Trips at the third, is asked before the fourth and quiet while it stays above, calls again when it comes below.
  EXPECT_EQ(course_of({.interrupt = true}, {30, 25}, {20, 29, 31, 32, 33, 24, 23, 31}, {3, 6}), "..!..!.!");
  // Not asked, it stays.
  EXPECT_EQ(course_of({.interrupt = true}, {30, 25}, {31, 24, 26, 26}), "!!!!");
}

TEST(Alarm, AWindowTripsOnEitherSide) {
  EXPECT_EQ(course_of({.window = true}, {30, 25}, {26, 30, 30.1, 26, 25, 24.9, 26}), "..!..!.");
  const AlarmCourse both = run_alarm({.window = true}, {30, 25}, std::vector<double>{31, 24}, {});
  EXPECT_EQ(both.side, AlarmSide::below);
  ASSERT_EQ(both.events.size(), 1u) << "from one side to the other its pin does not move";
  EXPECT_EQ(both.events[0].side, AlarmSide::above);
  // Latched: asked while still outside, it trips with the next conversion.
  EXPECT_EQ(course_of({.window = true, .latched = true}, {30, 25}, {31, 26, 26, 31, 31, 26}, {2, 4, 5}), "!!.!!.");
  // Two in a row; back inside at once.
  EXPECT_EQ(course_of({.window = true, .faults = 2}, {30, 25}, {31, 26, 31, 31, 29, 31, 24, 24}), "...!...!");
  // Whole degrees with the limits included: 25.9 is 25, −0.5 is −1.
  const AlarmRules whole{.window = true, .whole = 1, .upper_includes = true, .lower_includes = true};
  EXPECT_EQ(course_of(whole, {26, -1}, {25.9375, 26, 25.5, 0, -0.0625, -0.5, 0.5}), ".!..!!.");
  // The way down is later by 3: trips over 30, released below 27; below 25 − 3, released at 25.
  EXPECT_EQ(course_of({.window = true, .hysteresis = 3}, {30, 25}, {30.5, 28, 27, 26.9, 24, 22, 21.9, 24.9, 25}),
            "!!!...!!.");
}

TEST(Alarm, ItsPinFollowsItsPolarity) {
  for (const bool high : {false, true}) {
    PartAlarm alarm({.active_high = high}, {30, 25});
    EXPECT_EQ(alarm.is_pin_high(), !high);
    alarm.take(31);
    EXPECT_EQ(alarm.is_pin_high(), high);
  }
}

AlarmRules rules_of(const char* marking, const std::map<std::string, double>& registers = {}) {
  const Part& part = *shipped_parts().find(marking);
  const auto rules =
      alarm_rules(part.bytes, *part.bytes.limits.front().alarm, registers_of(part.bytes, {}, registers), {});
  EXPECT_TRUE(rules) << marking;
  return rules ? *rules : AlarmRules();
}

TEST(Alarm, RegistersSayHowAPartCompares) {
  // 0x60A0 after power-on: comparator, active low, one fault. 0x6EA0: six of them, active high, interrupt.
  EXPECT_FALSE(rules_of("TMP102").interrupt);
  EXPECT_TRUE(rules_of("TMP102").upper_includes);
  EXPECT_EQ(rules_of("TMP102").faults, 1);
  const AlarmRules other = rules_of("TMP102", {{"0x01", 0x7EA0}});
  EXPECT_TRUE(other.interrupt && other.active_high);
  EXPECT_EQ(other.faults, 6);
  EXPECT_EQ(rules_of("LM75", {{"0x01", 0x10}}).faults, 4);
  EXPECT_TRUE(rules_of("TMP117").window && rules_of("TMP117").latched);
  EXPECT_FALSE(rules_of("TMP117", {{"0x01", 0x0230}}).window) << "therm mode";
  EXPECT_FALSE(rules_of("MCP9808").is_on) << "off after power-on";
  EXPECT_TRUE(rules_of("MCP9808", {{"0x01", 0x0008}}).is_on);
  EXPECT_FALSE(rules_of("MCP9808", {{"0x01", 0x000C}}).is_on) << "the critical limit alone";
  EXPECT_EQ(rules_of("MCP9808", {{"0x01", 0x0408}}).hysteresis, 3);
  EXPECT_EQ(rules_of("MCP9808", {{"0x01", 0x0208}}).hysteresis, 1.5);
  EXPECT_EQ(rules_of("MCP9808").hysteresis, 0);
  EXPECT_TRUE(rules_of("OPT3001").latched) << "0xC810 after power-on";
  EXPECT_EQ(rules_of("OPT3001", {{"0x01", 0xC813}}).faults, 8);
  EXPECT_FALSE(rules_of("VEML7700").is_on);
  EXPECT_EQ(rules_of("VEML7700", {{"0x00", 0x0022}}).faults, 4);
  EXPECT_FALSE(rules_of("ADS1115").is_on) << "comparator off after power-on";
  EXPECT_TRUE(rules_of("ADS1115", {{"0x01", 0x8592}}).window);
  EXPECT_EQ(rules_of("ADS1115", {{"0x01", 0x8592}}).faults, 4);
  EXPECT_EQ(rules_of("DS18B20").whole, 1);
}

TEST(Alarm, EveryDescribedPartIsUnderstoodAndSaidInASentence) {
  int described = 0;
  for (const Part& part : shipped_parts().parts())
    for (const LimitLayout& limit : part.bytes.limits) {
      if (!limit.alarm) continue;
      ++described;
      const auto rules = alarm_rules(part.bytes, *limit.alarm, power_on_values(part.bytes));
      ASSERT_TRUE(rules) << part.id << ": " << to_text(rules.problem());
      EXPECT_TRUE(!limit.alarm->pin.empty() || !limit.alarm->tells.empty()) << part.id;
      EXPECT_TRUE(!limit.alarm->cleared_by.empty() || !rules->waits_for_a_read()) << part.id;
      EXPECT_TRUE(words_of(*rules, *limit.alarm, "°C").ends_with('.')) << part.id;
    }
  EXPECT_GE(described, 13);
  const Part& tmp = *shipped_parts().find("TMP102");
  EXPECT_EQ(words_of(rules_of("TMP102", {{"0x01", 0x6AA0}}), *tmp.bytes.limits.front().alarm, "°C"),
            "Trips above the upper limit and is released below the lower one, the upper limit included, after 2 "
            "readings in a row. Pin ALERT is pulled low then, at every change of side, until anything of it is read.");
  AlarmLayout broken{.window = "no_such_field"};
  EXPECT_FALSE(alarm_rules(tmp.bytes, broken, power_on_values(tmp.bytes)));
}

// A limit is wished of the corrected reading; the part compares its own. A reading that is 0.5 °C too low: 30 °C
// is 29.5 for the part, 472 sixteenths, 0x1D8, in the upper 12 bits.
TEST(Alarm, ALimitIsPlacedWithoutTheCorrection) {
  Bench bench;
  bench.rails = {{.id = "3v3", .name = "3.3 V", .voltage = {.nominal_v = 3.3}}};
  bench.buses = {{.id = "bus", .rail = "3v3"}};
  bench.devices = {{.id = "it", .part = "TMP102", .bus = "bus", .address = 0x48}};
  bench.channels = {{.id = "it", .device = "it", .wanted = {0, 50}}};
  bench.channels[0].correction.coefficients = {0.5};
  const Chain chain = demo_chain("it", bench);
  const LimitLayout& layout = shipped_parts().find("TMP102")->bytes.limits.front();
  const auto upper = place_limit(chain, layout, 30, LimitSide::upper);
  ASSERT_TRUE(upper);
  EXPECT_THAT(upper->stored.bytes, ElementsAre(0x1D, 0x80));
  EXPECT_DOUBLE_EQ(upper->compared, 29.5);
  EXPECT_DOUBLE_EQ(upper->means, 30);
  // 30.05 is between two steps: the upper one is rounded down, the lower one up.
  EXPECT_DOUBLE_EQ(place_limit(chain, layout, 30.05, LimitSide::upper)->means, 30);
  EXPECT_DOUBLE_EQ(place_limit(chain, layout, 30.05, LimitSide::lower)->means, 30.0625);
  // What the part has at a raw number is not corrected either.
  EXPECT_DOUBLE_EQ(compared_of(chain, layout, *raw_for(chain, 30)), 29.5);
  EXPECT_FALSE(place_limit(chain, layout, 400, LimitSide::upper));
  // Counts: the raw number of that light.
  bench.devices[0].part = "VEML7700";
  bench.devices[0].address = 0x10;
  bench.channels[0] = {.id = "it", .device = "it", .quantity = Quantity::illuminance, .wanted = {0, 500}, .unit = "lx"};
  const Chain light = demo_chain("it", bench);
  const LimitLayout& counts = shipped_parts().find("VEML7700")->bytes.limits.front();
  const auto bright = place_limit(light, counts, 200, LimitSide::upper);
  ASSERT_TRUE(bright) << to_text(bright.problem());
  EXPECT_NEAR(bright->stored.value, *raw_for(light, 200), 1);
  EXPECT_NEAR(bright->means, 200, 0.2);
}

}  // namespace fair_gauge::alarm_test
