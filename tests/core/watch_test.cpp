// Logs judged, filtered and switched on, against small implementations that share nothing with the program's.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <random>

#include "bench/bench_file.h"
#include "demo.h"
#include "files/file.h"
#include "stream/filters.h"
#include "stream/log_time.h"
#include "stream/review.h"
#include "stream/row_blocks.h"
#include "stream/switching.h"

namespace fair_gauge::watch_test {

using testing::ElementsAre;

// A sensor of 10 mV/°C and 0.5 V at 0 °C on 12 bits of 3.3 V: a step is 0.08057 °C. Raw = (0.5 + 0.01 t) / 3.3 · 4096.
Bench bench() {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3, .tolerance = 0}}};
  bench.converters = {{.id = "adc", .bits = 12, .reference_rail = "3v3"}};
  bench.devices = {{.id = "probe", .part = "TMP36", .converter = "adc"}};
  Channel channel{.id = "t", .device = "probe", .wanted = {0, 50}};
  channel.plausible = Range{0, 45};
  channel.period_s = 2;
  bench.channels = {channel};
  return bench;
}

double raw_of(double t) { return std::round((0.5 + 0.01 * t) / 3.3 * 4096); }
double reading_of(double raw) { return (raw / 4096 * 3.3 - 0.5) / 0.01; }

void put(ChannelLog& log, double seconds, double raw, double reading) {
  const auto row = static_cast<std::uint32_t>(log.rows.size() + 1);
  log.rows.push_back({.row = row, .seconds = seconds, .raw = raw, .reading = reading});
}

ChannelLog log_of(const std::vector<double>& raws, double period = 2) {
  ChannelLog log{.all_rows = raws.size(), .has_time = true, .period_s = period};
  for (std::size_t i = 0; i < raws.size(); ++i) {
    const double raw = raws[i];
    const bool good = raw > 0 && raw < 4095;
    put(log, period * static_cast<double>(i), raw, good ? reading_of(raw) : std::nan(""));
  }
  return log;
}

std::vector<double> noisy(std::size_t count, double sigma_steps, double middle = 25, unsigned seed = 1) {
  std::mt19937 random(seed);
  std::normal_distribution<double> normal(0, sigma_steps);
  std::vector<double> raws;
  for (std::size_t i = 0; i < count; ++i) raws.push_back(std::round(raw_of(middle) + normal(random)));
  return raws;
}

const PartTimes times{.response_s = 30, .conversion_s = 0.5, .range = {-40, 125}};

std::vector<std::string> events_of(const ChannelLog& log, const PartTimes& of = times, JumpRule jumps = JumpRule::all) {
  const Chain chain = demo_chain("t", bench());
  std::vector<std::string> all;
  for (const LogEvent& event : review_log(log, chain, of, jumps).events)
    all.push_back(fmt::format("{} {}-{}", enum_name(event.kind), event.from_row, event.to_row));
  return all;
}

TEST(Review, FindsNothingWrongWithACleanLog) {
  for (const double sigma : {0.0, 0.1, 0.3, 0.4, 0.8, 3.0})
    for (unsigned seed = 1; seed <= 20; ++seed)
      EXPECT_THAT(events_of(log_of(noisy(2000, sigma, 25, seed))), ElementsAre()) << sigma << " " << seed;
  std::vector<double> drifting;
  for (int i = 0; i < 3000; ++i) drifting.push_back(raw_of(10 + 0.005 * i));
  EXPECT_THAT(events_of(log_of(drifting)), ElementsAre()) << "slow drift in coarse steps is no fault";
}

TEST(Review, NamesEveryInjectedFaultAtItsPlace) {
  const auto clean = noisy(1000, 1.2);
  auto raws = clean;
  for (std::size_t i = 300; i < 380; ++i) raws[i] = raws[300];
  EXPECT_THAT(events_of(log_of(raws)), ElementsAre("stuck 301-380"));
  raws = clean;
  raws[10] = raws[11] = 4095, raws[500] = 0;
  EXPECT_THAT(events_of(log_of(raws)), ElementsAre("clipped 11-12", "clipped 501-501"));
  raws = clean;
  for (std::size_t i = 700; i < 720; ++i) raws[i] += raw_of(60) - raw_of(25);
  EXPECT_THAT(events_of(log_of(raws)), ElementsAre("implausible 701-720"));
  raws = clean;
  raws[42] = std::nan("");
  EXPECT_THAT(events_of(log_of(raws)), ElementsAre("not-a-number 43-43"));
  // In 2 s a part of 30 s moves at most 45 K · (1 − e^(−2/30)) = 2.90 K.
  raws = clean;
  for (std::size_t i = 200; i < raws.size(); ++i) raws[i] += raw_of(28.5) - raw_of(25);
  EXPECT_THAT(events_of(log_of(raws)), ElementsAre("jump 200-201"));
  EXPECT_THAT(events_of(log_of(raws), {.conversion_s = 0.5, .range = {-40, 125}}), ElementsAre()) << "no response";
}

// A hundred rows a second: in 10 ms the part moves 45 K · 0.01 s / 30 s = 0.015 K, less than a step of 0.08 K. What
// flickers by a step, or is noisy by several, does not jump where that is asked for.
TEST(Review, FastRowsDoNotJumpForTheirNoise) {
  const PartTimes slow{.response_s = 30, .range = {-40, 125}};
  const auto jumps = [&](const ChannelLog& log) { return events_of(log, slow, JumpRule::beyond_noise); };
  for (const double sigma : {0.05, 0.3, 3.0}) {
    auto log = log_of(noisy(4000, sigma));
    for (std::size_t i = 0; i < log.rows.size(); ++i) log.rows[i].seconds = 0.01 * static_cast<double>(i);
    log.period_s = 0.01;
    EXPECT_THAT(jumps(log), ElementsAre()) << sigma;
    for (std::size_t i = 2000; i < log.rows.size(); ++i) log.rows[i].raw += 100, log.rows[i].reading += 8;
    EXPECT_THAT(jumps(log), ElementsAre("jump 2000-2001")) << sigma;
  }
}

// Nine in ten readings are as the one before; one step in twenty rows, and once forty steps.
TEST(Noise, OfAQuietSignalOnACoarseConverterIsNotThatOfItsStep) {
  std::vector<double> differences(2000, 0.0);
  for (std::size_t i = 10; i < differences.size(); i += 40) differences[i] = 0.1, differences[i + 20] = -0.1;
  differences[1001] = 4;
  // 100 of 2000 are 0.1: √(0.1² · 0.05 / 2).
  EXPECT_NEAR(noise_of(differences), 0.1 * std::sqrt(0.05 / 2), 1e-4);
  differences.assign(2000, 0.0);
  differences[7] = 4;
  EXPECT_EQ(noise_of(differences), 0) << "one step is no noise";
  // Of a handful all count: the mean of 0, 0, 0 and 4 is 1, their variance 3.
  EXPECT_NEAR(noise_of({0, 0, 4, 0}), std::sqrt(3.0 / 2), 1e-12);
}

double period_of(const std::vector<double>& steps) {
  CameRaws came = {{0, raw_of(25)}};
  for (const double step : steps) came.emplace_back(came.back().first + step, raw_of(25));
  return log_of_raws(demo_chain("t", bench()), came).period_s;
}

TEST(Period, IsThatOfRowsThatDoNotComeAllAtOnce) {
  // A line that held 140 rows back, then two a second.
  std::vector<double> steps(140, 2e-5);
  steps.insert(steps.end(), 100, 0.5);
  EXPECT_DOUBLE_EQ(period_of(steps), 0.5);
  // Three in 16 ms, handed over together: never further apart than that.
  steps.clear();
  for (int i = 0; i < 100; ++i) steps.insert(steps.end(), {0, 0, 0.016});
  EXPECT_NEAR(period_of(steps), 0.016, 1e-12);
  // A thousand a second and an hour without one.
  steps.assign(5000, 1e-3);
  steps[2000] = 3600;
  EXPECT_NEAR(period_of(steps), 1e-3, 1e-9);
  // Ten in each second, written in whole seconds.
  steps.clear();
  for (int i = 0; i < 100; ++i) steps.insert(steps.end(), {1, 0, 0, 0, 0, 0, 0, 0, 0, 0});
  EXPECT_EQ(period_of(steps), 1);
}

TEST(Review, ReadsTheTimes) {
  auto log = log_of(noisy(1000, 1.2));
  for (std::size_t i = 100; i < log.rows.size(); ++i) log.rows[i].seconds += 3.2;  // 5.2 s, more than 2.5 · 2 s
  for (std::size_t i = 500; i < log.rows.size(); ++i) log.rows[i].seconds += 2.8;  // 4.8 s
  EXPECT_THAT(events_of(log), ElementsAre("gap 100-101"));
  log = log_of(noisy(1000, 1.2));
  log.rows[50].seconds -= 7;
  EXPECT_THAT(events_of(log), ElementsAre("out-of-order 51-51")) << "and no gap behind it";
  log = log_of(noisy(1000, 1.2));
  for (std::size_t i = 600; i < log.rows.size(); ++i) log.rows[i].seconds -= 3600;
  for (std::size_t i = 800; i < log.rows.size(); ++i) log.rows[i].seconds += 60;
  EXPECT_THAT(events_of(log), ElementsAre("out-of-order 601-601", "gap 800-801")) << "a clock that was set back";
  log = log_of(noisy(1000, 1.2));
  for (std::size_t i = 300; i < 310; ++i)
    log.rows[i].seconds = log.rows[299].seconds + 0.2 * static_cast<double>(i - 299);
  EXPECT_THAT(events_of(log), testing::Contains("too-fast 300-310"));
}

TEST(Review, ItsNumbersAreThoseOfTheDefinitions) {
  auto raws = noisy(4000, 2);
  for (std::size_t i = 0; i < raws.size(); ++i)
    raws[i] += std::round(0.01 * static_cast<double>(i));  // 40 steps of drift
  const Review review = review_log(log_of(raws), demo_chain("t", bench()), times);
  // Noise of 2 steps and 1/√12 of rounding each: √(4 + 1/12) = 2.0207 steps, drift or not.
  EXPECT_NEAR(review.noise_steps, 2.0207, 0.08);
  const double step = 3.3 / 4096 / 0.01;
  EXPECT_NEAR(review.noise, review.noise_steps * step, 1e-9);
  EXPECT_NEAR(review.effective_bits, 12 - std::log2(review.noise_steps * std::sqrt(12.0)), 1e-9);
  // 0.01 steps in 2 s are 18 steps an hour.
  EXPECT_NEAR(review.drift_per_hour, 18 * step, 0.1 * step);
  double sum = 0;
  for (const double raw : raws) sum += reading_of(raw);
  EXPECT_NEAR(review.mean, sum / 4000, 1e-9);
  EXPECT_EQ(review.good, 4000u);
}

TEST(Filters, LeaveWhatTheirTheorySays) {
  EXPECT_NEAR(noise_left({FilterKind::mean, 9}), 1.0 / 3, 1e-12);
  EXPECT_NEAR(noise_left({FilterKind::exponential, 1, 0.2}), std::sqrt(0.2 / 1.8), 1e-12);
  // Order statistics of the normal distribution: variance of the median of 3 is 0.44867, of 5 0.28683, of 2 1/2, of 4
  // 0.29826.
  EXPECT_NEAR(noise_left({FilterKind::median, 3}), std::sqrt(0.44867), 1e-4);
  EXPECT_NEAR(noise_left({FilterKind::median, 5}), std::sqrt(0.28683), 1e-4);
  EXPECT_NEAR(noise_left({FilterKind::median, 2}), std::sqrt(0.5), 1e-3);
  EXPECT_NEAR(noise_left({FilterKind::median, 4}), std::sqrt(0.29826), 1e-3);
  EXPECT_NEAR(noise_left({FilterKind::median, 1}), 1, 1e-6);
}

TEST(Filters, AreWhatAPersonWouldWorkOutByHand) {
  ChannelLog log = log_of({});
  for (const double value : {1.0, 2.0, std::nan(""), 4.0, 10.0, 5.0})
    put(log, 2.0 * static_cast<double>(log.rows.size()), value, value);
  const auto rounded = [](std::vector<double> values) {
    for (double& value : values) value = std::isnan(value) ? -1 : std::round(value * 1e6) / 1e6;
    return values;
  };
  EXPECT_THAT(rounded(filter_log(log, {FilterKind::mean, 3}).values), ElementsAre(1, 1.5, -1, 3, 7, 6.333333));
  EXPECT_THAT(rounded(filter_log(log, {FilterKind::median, 4}).values), ElementsAre(1, 1.5, -1, 2, 4, 5));
  EXPECT_THAT(rounded(filter_log(log, {FilterKind::exponential, 1, 0.5}).values),
              ElementsAre(1, 1.5, -1, 2.75, 6.375, 5.6875));
  EXPECT_EQ(filter_log(log, {FilterKind::mean, 5}).delay_s, 4);
  EXPECT_EQ(filter_log(log, {FilterKind::exponential, 1, 0.25}).delay_s, 6);
}

TEST(Filters, CountTheSpikesThatAreGone) {
  auto raws = noisy(600, 1);
  raws[100] += 40, raws[300] -= 50;
  for (std::size_t i = 450; i < raws.size(); ++i) raws[i] += 60;  // a step is no spike
  EXPECT_EQ(filter_log(log_of(raws), {FilterKind::median, 3}).spikes_removed, 2u);
  EXPECT_EQ(filter_log(log_of(raws), {FilterKind::mean, 1}).spikes_removed, 0u);
}

// The rule again, from its words.
struct Plain {
  std::size_t switches = 0;
  double on_s = 0, longest = 0;
};
Plain plain_switch(const std::vector<std::pair<double, double>>& rows, bool heats, double goal, double band,
                   double on_least, double off_least, double every) {
  Plain result;
  bool on = false, changed_once = false;
  double changed = 0, looked = -1e18, since = 0;
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const auto [at, value] = rows[i];
    if (i > 0 && on) result.on_s += at - rows[i - 1].first;
    if (at - looked >= every) {
      looked = at;
      const bool good = value == value && value >= 0 && value <= 45;
      const double age = changed_once ? at - changed : 1e18;
      bool next = on;
      if (!good)
        next = false;
      else if (!on && (heats ? value < goal - band : value > goal + band) && age >= off_least)
        next = true;
      else if (on && (heats ? value > goal + band : value < goal - band) && age >= on_least)
        next = false;
      if (next != on) {
        ++result.switches;
        if (next) since = at;
        if (!next) result.longest = std::max(result.longest, at - since);
        on = next, changed = at, changed_once = true;
      }
    }
  }
  if (on && !rows.empty()) result.longest = std::max(result.longest, rows.back().first - since);
  return result;
}

TEST(Switching, DecidesAsItsWordsSay) {
  std::mt19937 random(7);
  for (int trial = 0; trial < 300; ++trial) {
    std::uniform_real_distribution<double> any(0, 1);
    ChannelLog log = log_of({});
    std::vector<std::pair<double, double>> rows;
    double value = 25;
    for (int i = 0; i < 300; ++i) {
      value += any(random) - 0.5;
      const double seen = any(random) < 0.02 ? std::nan("") : any(random) < 0.02 ? 80 : std::round(value * 4) / 4;
      rows.emplace_back(2.0 * i, seen);
      put(log, 2.0 * i, seen, seen);
    }
    const bool heats = any(random) < 0.5;
    const double goal = 25, band = std::round(any(random) * 8) / 4, on_least = std::round(any(random) * 10) * 2,
                 off_least = std::round(any(random) * 10) * 2, every = std::round(any(random) * 4);
    const Switched switched = switch_on_log(log, {heats, goal, band, on_least, off_least, every}, {0, 45});
    const Plain plain = plain_switch(rows, heats, goal, band, on_least, off_least, every);
    EXPECT_EQ(switched.switches, plain.switches) << trial;
    EXPECT_NEAR(switched.on_s, plain.on_s, 1e-6) << trial;
    EXPECT_NEAR(switched.longest_on_s, plain.longest, 1e-6) << trial;
    EXPECT_NEAR(switched.share_on, plain.on_s / rows.back().first, 1e-9) << trial;
  }
}

// A heater for 20 ± 1 °C, a row every 10 s, worked out by hand.
std::string switched_states(const SwitchRule& rule, const std::vector<std::pair<double, double>>& rows,
                            Switched* result = nullptr) {
  ChannelLog log = log_of({});
  for (const auto& [seconds, value] : rows) put(log, seconds, value, value);
  const Switched switched = switch_on_log(log, rule, {0, 45});
  std::string states;
  for (const bool on : switched.on) states += on ? '!' : '.';
  if (result) *result = switched;
  return states;
}

TEST(Switching, ASafeStateAndAShutdownAreDecidedToo) {
  constexpr double none = std::numeric_limits<double>::quiet_NaN();
  const SwitchRule plain{.goal = 20, .band = 1};
  const std::vector<std::pair<double, double>> rows = {{0, 18}, {10, none}, {20, 18}, {30, 80}, {40, 18}};
  EXPECT_EQ(switched_states(plain, rows), "!.!.!") << "at once, as ever";
  SwitchRule rule = plain;
  rule.stale_s = 20;
  EXPECT_EQ(switched_states(rule, rows), "!!!!!") << "one row without a reading is borne";
  EXPECT_EQ(switched_states(rule, {{0, 18}, {10, none}, {20, none}, {30, none}, {40, 18}}), "!!..!");
  // Nothing came for 100 s: off 20 s after the last good reading, though the next row is good.
  Switched result;
  EXPECT_EQ(switched_states(rule, {{0, 18}, {100, 19.5}, {110, 18}}, &result), "!.!");
  ASSERT_EQ(result.decisions.size(), 3u);
  EXPECT_EQ(result.decisions[0].reason, SwitchReason::wanted);
  EXPECT_EQ(result.decisions[1].reason, SwitchReason::stale);
  EXPECT_EQ(result.decisions[1].row, 1u);
  EXPECT_DOUBLE_EQ(result.on_s, 20);
  const Unit& celsius = *unit_by_ucum("Cel");
  EXPECT_EQ(words_of(result.decisions[0], rule, celsius), "on, 18.00 °C is below 19.00 °C");
  EXPECT_EQ(words_of(result.decisions[1], rule, celsius), "off, nothing came for 20 s");
  // A fan that must not stop: on while nobody knows, and back by the reading.
  rule.safe_on = true;
  EXPECT_EQ(switched_states(rule, {{0, 20}, {10, none}, {20, none}, {30, 22}, {40, none}}), "..!..");
  rule.stale_s = 0;
  EXPECT_EQ(switched_states(rule, {{0, 20}, {10, none}, {20, 22}, {30, 80}, {40, 22}}, &result), ".!.!.");
  EXPECT_EQ(words_of(result.decisions[0], rule, celsius), "on, there is no good reading");
  EXPECT_EQ(words_of(result.decisions[2], rule, celsius), "on, 80.00 °C is outside what is plausible");
  // Above what the chip is rated for all is off, and stays so, the safe state too.
  rule.shutdown_above = 40;
  EXPECT_EQ(switched_states(rule, {{0, 18}, {10, 40}, {20, none}, {30, 41}, {40, 10}, {50, none}}, &result), "!.!...");
  EXPECT_TRUE(result.is_shut_down);
  EXPECT_EQ(words_of(result.decisions.back(), rule, celsius),
            "off until somebody begins anew, 41.00 °C is above 40.00 °C");
  EXPECT_THAT(switch_words(rule, result, {}, 0, celsius),
              ::testing::Contains(::testing::HasSubstr("shut down for good")));
  // A cooler says the other side.
  EXPECT_EQ(switched_states({.heats = false, .goal = 20, .band = 1}, {{0, 22}, {10, 18}}, &result), "!.");
  EXPECT_EQ(words_of(result.decisions[0], {.heats = false, .goal = 20, .band = 1}, celsius),
            "on, 22.00 °C is above 21.00 °C");
  EXPECT_EQ(words_of(result.decisions[1], {.heats = false, .goal = 20, .band = 1}, celsius),
            "off, 18.00 °C is below 19.00 °C");
  // In the channel's own unit, and over its file.
  const SwitchRule shown =
      rule_of({.goal = 20, .stale_s = 5, .safe_on = true, .shutdown_above = 40}, *unit_by_ucum("[degF]"));
  EXPECT_DOUBLE_EQ(*shown.shutdown_above, 104);
  EXPECT_TRUE(shown.safe_on && shown.stale_s == 5);
  Bench bench = demo_bench();
  bench.channels[0].switching = SwitchingRule{.goal = 20, .stale_s = 5, .safe_on = true, .shutdown_above = 40};
  EXPECT_EQ(bench_from_text(bench_to_text(bench), "")->bench.channels[0].switching, bench.channels[0].switching);
}

// 19.5 °C all day: too cold for 21 ± 0.5, too warm for 18 ± 0.5. On from six to ten in the evening, each day.
TEST(Switching, GoalsChangeOverTheDay) {
  const Unit& celsius = *unit_by_ucum("Cel");
  const auto schedule = read_schedule("22:00 18; 06:00 21", celsius);
  ASSERT_TRUE(schedule);
  ASSERT_EQ(schedule->size(), 2u);
  EXPECT_EQ((*schedule)[0], (DayGoal{21600, 21})) << "by their times";
  EXPECT_EQ(schedule_text(*schedule), "06:00 21; 22:00 18");
  ChannelLog log = log_of({});
  constexpr double midnight = 20'000 * 86'400.0;
  for (int quarter = 0; quarter <= 3 * 96; ++quarter) put(log, midnight + 900.0 * quarter, 19.5, 19.5);
  SwitchRule rule{.heats = true, .goal = 5, .band = 0.5, .schedule = *schedule};
  const Switched switched = switch_on_log(log, rule, {0, 45});
  EXPECT_EQ(switched.switches, 6u);
  EXPECT_DOUBLE_EQ(switched.on_s, 3 * 16 * 3600.0);
  EXPECT_DOUBLE_EQ(switched.longest_on_s, 16 * 3600.0);
  EXPECT_DOUBLE_EQ(rule.goal_at(midnight), 18) << "yesterday's last one";
  EXPECT_DOUBLE_EQ(rule.goal_at(midnight + 21599), 18);
  EXPECT_DOUBLE_EQ(rule.goal_at(midnight + 21600), 21);
  EXPECT_DOUBLE_EQ(rule.goal_at(midnight + 79200), 18);
  EXPECT_DOUBLE_EQ(rule.goal_at(-3600), 18) << "eleven in the evening before 1970";
  const SwitchCodes codes = switch_codes(demo_chain("substrate"), rule);
  EXPECT_FALSE(codes.on || codes.off);
  EXPECT_THAT(switch_words(rule, switched, codes, 0, celsius),
              ::testing::Contains(::testing::HasSubstr("changes over the day")));
  EXPECT_THAT(switch_words(rule, switched, codes, 0, celsius)[0], ::testing::HasSubstr("at the longest for 16 h"));
  rule.schedule.clear();
  EXPECT_EQ(switch_on_log(log, rule, {0, 45}).switches, 0u) << "5 °C is never asked for by 19.5";
}

TEST(Switching, ScheduleIsReadAsPeopleWriteIt) {
  const Unit& celsius = *unit_by_ucum("Cel");
  const auto text = [&](const char* words, const Unit& unit) {
    const auto schedule = read_schedule(words, unit);
    return schedule ? schedule_text(*schedule) : "! " + to_text(schedule.problem());
  };
  EXPECT_EQ(text("", celsius), "");
  EXPECT_EQ(text("6:00 21,5 22:30 18", celsius), "06:00 21.5; 22:30 18");
  EXPECT_EQ(text("06:00 21 °C, 22:00 18 °C", celsius), "06:00 21; 22:00 18");
  EXPECT_EQ(text("06:00 70 °F", celsius), "06:00 21.11111");
  EXPECT_EQ(text("00:00 -5; 23:59 -10", celsius), "00:00 −5; 23:59 −10");
  EXPECT_EQ(text("06:00 50 %", *unit_by_ucum("%")), "06:00 50");
  for (const char* bad :
       {"24:00 5", "12:60 5", "6 21", "06:00", "06:00 warm", "noon 21", ":30 5", "06:00 21; 06:00 22", "06: 5"})
    EXPECT_THAT(text(bad, celsius), ::testing::StartsWith("! ")) << bad;
  // In a bench it stands in base units, in whatever order.
  const SwitchRule rule = rule_of({.goal = 20, .schedule = {{.at_s = 79200, .goal = 18}, {.at_s = 21600, .goal = 21}}},
                                  *unit_by_ucum("[degF]"));
  ASSERT_EQ(rule.schedule.size(), 2u);
  EXPECT_EQ(rule.schedule[0].at_s, 21600);
  EXPECT_NEAR(rule.schedule[0].goal, 69.8, 1e-9);
}

TEST(Switching, ItsCodesDecideAsTheReadingDoes) {
  for (const char* channel : {"substrate", "room", "spawn_fridge", "rack", "steamer", "compost_middle"})
    for (const bool heats : {true, false}) {
      const Chain chain = demo_chain(channel);
      const double goal = chain.shown->from_base((chain.channel.wanted.from + chain.channel.wanted.to) / 2);
      const SwitchCodes codes = switch_codes(chain, {.heats = heats, .goal = goal, .band = 0.7});
      ASSERT_TRUE(codes.on && codes.off) << channel;
      const auto is = [](const CodeLimit& limit, double code) {
        return limit.compare == "<"    ? code < limit.code
               : limit.compare == "<=" ? code <= limit.code
               : limit.compare == ">"  ? code > limit.code
                                       : code >= limit.code;
      };
      for (double code = 1; code < 70000; code += is_sanitized ? 7 : 1) {
        const auto base = read_raw(chain, code);
        if (!base) continue;
        const double reading = chain.shown->from_base(*base);
        ASSERT_EQ(is(*codes.on, code), heats ? reading < goal - 0.7 : reading > goal + 0.7) << channel << " " << code;
        ASSERT_EQ(is(*codes.off, code), heats ? reading > goal + 0.7 : reading < goal - 0.7) << channel << " " << code;
      }
    }
}

// Of a photocell that is wanted from 1 to 1000 lx: a band of 2000 lx would never switch anything.
TEST(Switching, ALimitThatNothingReadsIsSaid) {
  const Chain chain = demo_chain("substrate");
  const auto words = [&](const SwitchRule& rule) {
    return testing::PrintToString(switch_words(rule, {}, switch_codes(chain, rule), 0, *chain.shown));
  };
  using ::testing::HasSubstr;
  const SwitchRule wide{.heats = true, .goal = 24, .band = 2000};
  EXPECT_TRUE(switch_codes(chain, wide).never_on && switch_codes(chain, wide).never_off);
  EXPECT_THAT(words(wide), HasSubstr("it never switches on: no raw number reads below −1976.00 °C"));
  const SwitchRule cold{.heats = true, .goal = 1000, .band = 900};  // on below 100, off above 1900 °C
  EXPECT_THAT(words(cold), HasSubstr("it never switches off: no raw number reads above 1900.00 °C"));
  EXPECT_FALSE(switch_codes(chain, cold).never_on);
  const SwitchRule fair{.heats = false, .goal = 24, .band = 0.4};
  EXPECT_FALSE(switch_codes(chain, fair).never_on || switch_codes(chain, fair).never_off);
  EXPECT_THAT(words(fair), testing::Not(HasSubstr("never switches")));
}

TEST(Switching, BeginsWithABandThatFitsTheRange) {
  const SwitchingRule light = first_rule({.wanted = {1, 1000}, .tolerance = 300});
  EXPECT_NEAR(light.goal, 501, 1e-9);  // 500.5
  EXPECT_NEAR(light.band, 40, 1e-9);   // a twentieth is 49.95
  const SwitchingRule room = first_rule({.wanted = {10, 41}, .tolerance = 0.5});
  EXPECT_NEAR(room.goal, 25.5, 1e-9);
  EXPECT_NEAR(room.band, 0.5, 1e-9);
  EXPECT_STREQ(switch_verb(true, Dimension::humidity), "humidifies");
  EXPECT_STREQ(switch_verb(false, Dimension::illuminance), "shades");
}

// ---- a recording ----

TEST(Rules, StandInTheBenchInBaseUnits) {
  const Unit& fahrenheit = *unit_by_ucum("[degF]");
  const SwitchRule rule = rule_of({.heats = false, .goal = 25, .band = 0.5, .minimum_on_s = 60}, fahrenheit);
  EXPECT_NEAR(rule.goal, 77, 1e-9);  // 25 · 9/5 + 32
  EXPECT_NEAR(rule.band, 0.9, 1e-9);
  EXPECT_FALSE(rule.heats);
  Bench of = bench();
  of.channels[0].switching = SwitchingRule{.heats = false, .goal = 25, .band = 0.5, .minimum_on_s = 60, .every_s = 4};
  const auto again = bench_from_text(bench_to_text(of), "again");
  ASSERT_TRUE(again);
  EXPECT_EQ(again->bench.channels[0].switching, of.channels[0].switching);
}

TEST(Session, ReadsAsALogWould) {
  const Chain chain = demo_chain("t", bench());
  const ChannelLog log = log_of_raws(chain, {{-4, raw_of(20)}, {-2, raw_of(21)}, {0, 4095}});
  ASSERT_EQ(log.rows.size(), 3u);
  EXPECT_DOUBLE_EQ(log.period_s, 2);
  EXPECT_NEAR(log.rows[1].reading, 21, 0.05);
  EXPECT_FALSE(log.rows[2].is_good());
  EXPECT_EQ(events_of(log), std::vector<std::string>{"clipped 3-3"});
}

// A long log is read in stretches side by side: every row once, in order, whatever falls on a joint.
TEST(LongLog, IsReadWholeInStretches) {
  const std::string path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_long_{}.csv", ::getpid())).string();
  constexpr std::size_t count = 90'000;
  {
    std::ofstream out(path);
    out << "\nnote,time,t\r\n";
    for (std::size_t i = 0; i < count; ++i) {
      out << std::string(60 + i % 97, 'x') << ',' << 2 * i << ',';
      i % 1000 == 7 ? out << "?" : out << 800 + i % 500;
      out << (i % 3 == 0 ? "\r\n" : "\n") << (i % 5000 == 0 ? "\n" : "");
    }
  }
  const Chain chain = demo_chain("t", bench());
  const auto log = read_channel_log(path, chain);
  ASSERT_TRUE(log) << to_text(log.problem());
  ASSERT_GT(std::filesystem::file_size(path), 8u << 20) << "two stretches at least";
  ASSERT_EQ(log->rows.size(), count);
  EXPECT_EQ(log->all_rows, count);
  EXPECT_EQ(log->from, "0");
  EXPECT_EQ(log->to, fmt::format("{}", 2 * (count - 1)));
  for (std::size_t i = 0; i < count; ++i) {
    const LogReading& row = log->rows[i];
    ASSERT_EQ(row.row, i + 1);
    ASSERT_EQ(row.seconds, 2.0 * static_cast<double>(i));
    if (i % 1000 == 7)
      ASSERT_TRUE(std::isnan(row.raw)) << i;
    else
      ASSERT_EQ(row.raw, 800.0 + static_cast<double>(i % 500)) << i;
  }
  // What is told while it is read is a beginning of it, each time longer; it can be stopped there.
  std::size_t told = 0, before = 0;
  double share_before = 0;
  const auto again = read_channel_log(path, chain, "", [&](const ChannelLog& so_far, double share) {
    ++told;
    EXPECT_GT(so_far.rows.size(), before);
    EXPECT_GT(share, share_before);
    EXPECT_EQ(so_far.rows.back().row, so_far.rows.size());
    EXPECT_EQ(so_far.rows.back().seconds, 2.0 * static_cast<double>(so_far.rows.size() - 1));
    before = so_far.rows.size(), share_before = share;
    return true;
  });
  ASSERT_TRUE(again);
  EXPECT_GE(told, 3u);
  EXPECT_EQ(before, count);
  EXPECT_EQ(share_before, 1);
  const auto stopped = read_channel_log(path, chain, "", [](const ChannelLog&, double share) { return share > 0.6; });
  ASSERT_FALSE(stopped);
  EXPECT_EQ(stopped.problem().wrong, "reading was stopped");
  std::ofstream(path, std::ios::app) << std::string(3u << 20, 'y') << "\n1,2,3\n";
  const auto broken = read_channel_log(path, chain);
  ASSERT_FALSE(broken);
  EXPECT_NE(broken.problem().wrong.find("longer than 1 MB"), std::string::npos);
  std::filesystem::remove(path);
}

// A joint may fall on every byte of a line, on its line end too.
TEST(LongLog, JointsFallAnywhere) {
  const std::string path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_joint_{}.csv", ::getpid())).string();
  const Chain chain = demo_chain("t", bench());
  for (std::size_t shift = 0; shift < 12; ++shift) {
    std::ofstream rows(path, std::ios::binary);
    rows << "counts,note\n";
    for (std::size_t i = 0; i < 41; ++i) rows << 100 + i << ',' << std::string(100'000, 'x') << "\n";
    const std::size_t rest = (4u << 20) - 41 * 100'005 - shift;
    rows << "500," << std::string(rest - 5, 'y') << "\n";
    for (int i = 0; i < 5; ++i) rows << 900 + i << ",ab\r\n";
    rows << "77";
    rows.close();
    const auto many = read_channel_log(path, chain);
    ASSERT_TRUE(many) << to_text(many.problem());
    ASSERT_EQ(many->rows.size(), 48u) << shift;
    for (std::size_t i = 0; i < 41; ++i) EXPECT_EQ(many->rows[i].raw, 100.0 + static_cast<double>(i));
    EXPECT_EQ(many->rows[41].raw, 500);
    for (std::size_t i = 0; i < 5; ++i) EXPECT_EQ(many->rows[42 + i].raw, 900.0 + static_cast<double>(i)) << shift;
    EXPECT_EQ(many->rows[47].raw, 77);
  }
  std::filesystem::remove(path);
}

// Moments as plain numbers are the nearest doubles, as the C library reads them.
TEST(LogTime, NumbersAreTheNearestDoubles) {
  std::mt19937_64 random(3);
  for (int i = 0; i < 20'000; ++i) {
    const int digits = 1 + static_cast<int>(random() % 20), point = static_cast<int>(random() % 21);
    std::string text;
    for (int k = 0; k < digits; ++k) {
      if (k == point && k > 0) text += '.';
      text += static_cast<char>('0' + random() % 10);
    }
    ASSERT_EQ(moment_of(text), std::strtod(text.c_str(), nullptr)) << text;
  }
  EXPECT_EQ(moment_of("12."), 12);
  for (const char* none : {"", "1.2.3", "abc", "1e", "--4"}) EXPECT_TRUE(std::isnan(moment_of(none))) << none;
}

TEST(LongLog, WithoutTimesIsOnePeriodARow) {
  const std::string path =
      (std::filesystem::temp_directory_path() / fmt::format("fair_gauge_bare_{}.csv", ::getpid())).string();
  constexpr std::size_t count = 2'000'000;
  {
    std::ofstream out(path);
    out << "counts\n";
    for (std::size_t i = 0; i < count; ++i) out << 900 + i % 77 << '\n';
  }
  const auto log = read_channel_log(path, demo_chain("t", bench()));
  ASSERT_TRUE(log) << to_text(log.problem());
  ASSERT_EQ(log->rows.size(), count);
  for (std::size_t i = 0; i < count; i += 997) {
    ASSERT_EQ(log->rows[i].seconds, 2.0 * static_cast<double>(i));
    ASSERT_EQ(log->rows[i].raw, 900.0 + static_cast<double>(i % 77));
  }
  std::filesystem::remove(path);
}

// ISO times with fraction and zone: by the calendar, 2026-11-24 is day 20781 after 1970-01-01.
TEST(Moments, AreReadFromWhatPeopleWrite) {
  constexpr double day = 20781.0 * 86400;
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24T00:00:00Z"), day);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24 10:30:15.25"), day + 37815.25);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24T01:00:00+01:30"), day - 1800);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24T01:00:00-02:00"), day + 3 * 3600);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24"), day);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24 10:30"), day + 37800);
  EXPECT_DOUBLE_EQ(moment_of("24.11.2026 10:30:15.5"), day + 37815.5);
  EXPECT_DOUBLE_EQ(moment_of("2026/11/24 10:30"), day + 37800);
  EXPECT_DOUBLE_EQ(moment_of("24.11.2026"), day);
  EXPECT_DOUBLE_EQ(moment_of("24.11.26 9:05"), day + 9 * 3600 + 300);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24 9:05:07,5"), day + 9 * 3600 + 307.5);
  EXPECT_DOUBLE_EQ(moment_of("2026-11-24 12:05:07 AM"), day + 307);
  EXPECT_DOUBLE_EQ(moment_of("11/24/2026 3:50 PM", TimeForm::month_first), day + 15 * 3600 + 3000);
  EXPECT_DOUBLE_EQ(moment_of("11/24/26, 12:00:01 pm", TimeForm::month_first), day + 12 * 3600 + 1);
  EXPECT_DOUBLE_EQ(moment_of("24/11/2026 15:50", TimeForm::day_first), day + 15 * 3600 + 3000);
  EXPECT_TRUE(std::isnan(moment_of("04/11/2026 15:50"))) << "of April or of November";
  EXPECT_TRUE(std::isnan(moment_of("11/24/2026 13:50 PM", TimeForm::month_first)));
  for (const char* none : {"31.02.2026", "24.13.2026", "2026/13/01", "24.11.2026 1", "12.12.12.123"})
    EXPECT_TRUE(std::isnan(moment_of(none))) << none;
  EXPECT_DOUBLE_EQ(moment_of("12.5"), 12.5);
  for (const char* wrong : {"", "2026-13-24T00:00:00Z", "2026-11-24T", "2026-11-24 10.30", "2026-11-24 1x:30",
                            "2026-11-24 12:345", "24.11.2026 99:05", "2026-11-24Txx:00:00", "yesterday"})
    EXPECT_TRUE(std::isnan(moment_of(wrong))) << wrong;
}

}  // namespace fair_gauge::watch_test
