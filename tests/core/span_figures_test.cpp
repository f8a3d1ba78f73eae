// Figures of a span, and blocks of rows, against plain loops and numbers worked by hand.
#include "stream/span_figures.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "stream/row_blocks.h"

namespace fair_gauge {
namespace {

constexpr double none = std::numeric_limits<double>::quiet_NaN();

ChannelLog log_of(const std::vector<std::pair<double, double>>& rows, double period) {
  ChannelLog log{.has_time = true, .period_s = period};
  for (const auto& [seconds, reading] : rows)
    log.rows.push_back(
        {.row = static_cast<std::uint32_t>(log.rows.size() + 1), .seconds = seconds, .reading = reading});
  return log;
}

// Readings every second with a gap at one place and some missing.
ChannelLog random_log() {
  std::mt19937 random(5);
  std::vector<std::pair<double, double>> rows;
  double at = 1000;
  for (std::size_t i = 0; i < 1000; ++i) {
    at += i == 200 ? 90 : 1;
    rows.emplace_back(at, random() % 11 == 0 ? none : 20 + static_cast<double>(random() % 1000) / 100);
  }
  return log_of(rows, 1);
}

// Held against the plain loop over all rows.
TEST(RowBlocks, SayWhatTheirRowsHold) {
  const ChannelLog log = random_log();
  const auto blocks = row_blocks(log.rows, 2.5, [&](std::size_t i) { return log.rows[i].reading; });
  ASSERT_EQ(blocks.size(), 16u);
  for (std::size_t block = 0; block < blocks.size(); ++block) {
    double low = 1e9, high = -1e9;
    for (std::size_t i = block * rows_in_block; i < std::min((block + 1) * rows_in_block, log.rows.size()); ++i)
      if (const double value = log.rows[i].reading; value == value)
        low = std::min(low, value), high = std::max(high, value);
    EXPECT_EQ(blocks[block].low, low) << block;
    EXPECT_EQ(blocks[block].high, high) << block;
    EXPECT_EQ(blocks[block].has_gap, block == 200 / rows_in_block) << block;
  }
  EXPECT_EQ(blocks.back().last, log.rows.back().seconds);
}

// A sine of amplitude 1 and 60 readings a turn steps by up to 2π/60 from one to the next; noise of 0.02 lies under
// that. Without the sine it is all there is.
TEST(SpanFigures, ASwingIsNoNoise) {
  std::mt19937_64 draw(3);
  std::normal_distribution<double> noise(0, 0.02);
  std::vector<double> swinging, quiet;
  double before = noise(draw), alone = before;
  for (int i = 1; i < 20'000; ++i) {
    const double lies = noise(draw), now = std::sin(i * std::numbers::pi / 30) + lies;
    swinging.push_back(now - before), quiet.push_back(lies - alone);
    before = now, alone = lies;
  }
  EXPECT_NEAR(noise_of(swinging), std::hypot(0.02, 2 * std::numbers::pi / 60 / 2), 0.002);
  EXPECT_NEAR(noise_beside_swings(swinging), 0.02, 0.001);
  EXPECT_NEAR(noise_beside_swings(quiet), 0.02, 0.001);
}

TEST(SpanFigures, AreThoseOfThePlainLoops) {
  const ChannelLog log = random_log();
  for (const auto& [from, to] : {std::pair<std::size_t, std::size_t>{0, 1000}, {3, 700}, {64, 128}, {70, 75}}) {
    std::vector<double> values, times, steps;
    for (std::size_t i = from; i < to; ++i)
      if (const LogReading& row = log.rows[i]; row.reading == row.reading) {
        values.push_back(row.reading), times.push_back(row.seconds);
        if (i > from && log.rows[i - 1].reading == log.rows[i - 1].reading)
          steps.push_back(row.reading - log.rows[i - 1].reading);
      }
    const auto mean_of = [](const std::vector<double>& all) {
      double sum = 0;
      for (const double each : all) sum += each;
      return sum / static_cast<double>(all.size());
    };
    const double mean = mean_of(values), middle = mean_of(times);
    double squares = 0, tt = 0, tv = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
      squares += std::pow(values[i] - mean, 2);
      tt += std::pow(times[i] - middle, 2), tv += (times[i] - middle) * (values[i] - mean);
    }
    const SpanFigures seen = span_figures(log, from, to, {25, 26});
    EXPECT_EQ(seen.rows, to - from);
    EXPECT_EQ(seen.good, values.size());
    EXPECT_NEAR(seen.mean, mean, 1e-9);
    EXPECT_NEAR(seen.standard_deviation, std::sqrt(squares / static_cast<double>(values.size() - 1)), 1e-9);
    EXPECT_EQ(seen.minimum, *std::ranges::min_element(values));
    EXPECT_EQ(seen.maximum, *std::ranges::max_element(values));
    EXPECT_NEAR(seen.drift_per_hour, tv / tt * 3600, 1e-6 * std::abs(tv / tt * 3600) + 1e-9);
    // Without outliers noise is the standard deviation of the differences by the root of two, whole population.
    const double step = mean_of(steps);
    double sum = 0;
    for (const double each : steps) sum += std::pow(each - step, 2);
    EXPECT_NEAR(seen.noise, std::sqrt(sum / static_cast<double>(steps.size()) / 2), 1e-9);
  }
  const SpanFigures nothing = span_figures(log, 5, 5, {25, 26});
  EXPECT_EQ(nothing.rows, 0u);
  EXPECT_EQ(nothing.good, 0u);
  EXPECT_TRUE(std::isnan(nothing.mean));
  EXPECT_EQ(span_figures(log, 900, 5000, {25, 26}).rows, 100u);
}

// Every ten seconds 20, 24, 24, 22, then nothing for a minute, then 25 and 18: each reading stands ten seconds, also
// the one before the gap and the last.
TEST(SpanFigures, ForHowLongItIsAboveAndBelow) {
  const ChannelLog log = log_of({{0, 20}, {10, 24}, {20, 24}, {30, 22}, {90, 25}, {100, 18}, {110, none}}, 10);
  const SpanFigures seen = span_figures(log, 0, 7, {20, 23});
  EXPECT_DOUBLE_EQ(seen.seconds, 60);
  EXPECT_DOUBLE_EQ(seen.above_s, 30);
  EXPECT_DOUBLE_EQ(seen.below_s, 10);
  EXPECT_EQ(seen.above, 2u) << "10 to 30 s, and at 90 s";
  EXPECT_EQ(seen.below, 1u);
  // A limit of one's own: exactly at it is neither.
  const SpanFigures one = span_figures(log, 0, 7, {22, 22});
  EXPECT_DOUBLE_EQ(one.above_s, 30);
  EXPECT_DOUBLE_EQ(one.below_s, 20);
}

// A sine of one minute's period: above half its amplitude for a third of the time.
TEST(SpanFigures, ASineIsAboveHalfItsAmplitudeForAThirdOfTheTime) {
  std::vector<std::pair<double, double>> rows;
  for (int i = 0; i < 60'000; ++i) rows.emplace_back(0.01 * i, 5 + 2 * std::sin(2 * std::numbers::pi * 0.01 * i / 60));
  const SpanFigures seen = span_figures(log_of(rows, 0.01), 0, rows.size(), {4, 6});
  EXPECT_NEAR(seen.above_s / seen.seconds, 1.0 / 3, 1e-3);
  EXPECT_NEAR(seen.below_s / seen.seconds, 1.0 / 3, 1e-3);
  EXPECT_EQ(seen.above, 10u);
  EXPECT_NEAR(seen.standard_deviation, 2 / std::numbers::sqrt2, 1e-3);
}

// Far from zero the sums must not lose what is small: 1 mK of noise on 1e5 Pa, seconds since 1970.
TEST(SpanFigures, KeepSmallNoiseOnLargeNumbers) {
  std::vector<std::pair<double, double>> rows;
  for (int i = 0; i < 2000; ++i) rows.emplace_back(1.764e9 + i, 1e5 + 1e-3 * (i % 2 == 0 ? 1 : -1) + 1e-6 * i);
  const SpanFigures seen = span_figures(log_of(rows, 1), 0, rows.size(), {0, 2e5});
  EXPECT_NEAR(seen.drift_per_hour, 3.6e-3, 2e-5);
  EXPECT_NEAR(seen.noise, std::numbers::sqrt2 * 1e-3, 1e-5);
}

TEST(DifferenceOf, TwoChannelsIsByTheStraightLineBetweenReadings) {
  const ChannelLog one = log_of({{0, 10}, {10, 11}, {20, 12}, {30, none}, {100, 13}, {205, 14}, {260, 15}}, 10);
  // Every 20 s, with a gap from 120 s to 200 s.
  const ChannelLog other =
      log_of({{0, 20}, {20, 24}, {40, 24}, {60, 24}, {80, 24}, {90, 26}, {110, 28}, {120, 28}, {200, 30}}, 20);
  const ChannelLog apart = difference_of(one, other);
  ASSERT_EQ(apart.rows.size(), one.rows.size());
  EXPECT_DOUBLE_EQ(apart.rows[0].reading, 10);
  EXPECT_DOUBLE_EQ(apart.rows[1].reading, 11);
  EXPECT_DOUBLE_EQ(apart.rows[2].reading, 12);
  EXPECT_TRUE(std::isnan(apart.rows[3].reading)) << "no reading of its own";
  EXPECT_DOUBLE_EQ(apart.rows[4].reading, 14);
  EXPECT_DOUBLE_EQ(apart.rows[5].reading, 16) << "the latest still stands";
  EXPECT_TRUE(std::isnan(apart.rows[6].reading)) << "too old";
  EXPECT_EQ(apart.rows[4].seconds, 100);
  const ChannelLog late = log_of({{150, 10}}, 10);
  EXPECT_TRUE(std::isnan(difference_of(late, other).rows[0].reading)) << "within the gap";
  // In degrees Fahrenheit the other says 68 where this one says 10 °C: 10 K above.
  const ChannelLog fahrenheit = log_of({{0, 68}}, 10);
  EXPECT_NEAR(difference_of(one, fahrenheit, 5.0 / 9, -160.0 / 9).rows[0].reading, 10, 1e-12);
}

}  // namespace
}  // namespace fair_gauge
