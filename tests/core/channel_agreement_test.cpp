// Channels held against one another, and what a calibration buys. Numbers by hand.
#include "truth/channel_agreement.h"

#include <gmock/gmock.h>

#include <cmath>

#include "bridge_bench.h"
#include "calibrate/calibration_effect.h"
#include "chain/chain.h"
#include "demo.h"
#include "truth/error_budget.h"

namespace fair_gauge::channel_agreement_test {

using testing::HasSubstr;

// Values that arrive as they are, known to a tenth each.
Bench two_values() {
  Bench bench;
  for (const char* id : {"one", "other"}) {
    Channel channel{.id = id, .wanted = {0, 50}, .tolerance = 1};
    channel.arrives = Arrival{.unit = "Cel", .decimals = 3};
    channel.correction = {.coefficients = {0}, .standard_uncertainty = 0.1, .covered = Range{0, 50}};
    bench.channels.push_back(channel);
  }
  return bench;
}

TEST(SeeTheSame, WhereWantedRangesOverlapByHalf) {
  Channel one{.id = "a", .wanted = {0, 40}}, other{.id = "b", .wanted = {20, 60}};
  EXPECT_TRUE(may_see_the_same(one, other));  // 20 of 40
  other.wanted = {21, 61};
  EXPECT_FALSE(may_see_the_same(one, other));
  other.wanted = {0, 100};  // 40 of 100
  EXPECT_FALSE(may_see_the_same(one, other));
  other = one;
  other.kind = PressureKind::gauge;
  EXPECT_FALSE(may_see_the_same(one, other));
}

TEST(GroupReading, IsTheMeanOfTheLastMinute) {
  const Bench bench = two_values();
  const Chain one = demo_chain("one", bench), other = demo_chain("other", bench);
  Series steps;  // a minute of 10 °C and more, then a minute of 20 °C
  for (int second = 0; second <= 150; second += 10)
    steps.seconds.push_back(second), steps.values.push_back(second <= 90 ? 10 : 20);
  const GroupReading group = group_reading({{&one, steps}, {&other, {{140}, {21}}}, {&other, {}}}, false);
  ASSERT_EQ(group.estimates.size(), 2u) << "one without readings is left out";
  EXPECT_DOUBLE_EQ(group.estimates[0].value, 20);
  EXPECT_EQ(group.estimates[0].name, "one");
  EXPECT_DOUBLE_EQ(group.estimates[1].value, 21);
  EXPECT_NEAR(group.estimates[1].standard, 0.1, 1e-3);  // 0.1 and the last of three decimals
  EXPECT_TRUE(group.lags_seconds.empty());
}

TEST(GroupReading, KnowsALagWhereItIsAskedFor) {
  const Bench bench = two_values();
  const Chain one = demo_chain("one", bench), other = demo_chain("other", bench);
  Series quick, slow;  // a hump, and the same half a minute later
  for (int second = 0; second <= 600; second += 5) {
    quick.seconds.push_back(second), slow.seconds.push_back(second);
    quick.values.push_back(20 + 5 * std::exp(-std::pow((second - 300) / 60.0, 2)));
    slow.values.push_back(20 + 5 * std::exp(-std::pow((second - 330) / 60.0, 2)));
  }
  const GroupReading group = group_reading({{&one, quick}, {&other, slow}}, true);
  ASSERT_TRUE(group.lags_seconds.contains("other"));
  EXPECT_NEAR(group.lags_seconds.at("other"), 30, 3);
  EXPECT_FALSE(group.lags_seconds.contains("one"));
}

// A ramp of 0.01 °C a second with a wave on it, seen at once and 30 s later: now they are 0.3 °C apart, and without the
// lag they are not, whichever of them comes first.
TEST(GroupReading, WithoutTheLagTheyAreTakenAtOneMomentOfTheWorld) {
  const Bench bench = two_values();
  const Chain one = demo_chain("one", bench), other = demo_chain("other", bench);
  const auto world = [](double second) { return 20 + 0.01 * second + std::sin(second / 25); };
  Series quick, slow;
  for (int second = 0; second <= 900; second += 3) {
    quick.seconds.push_back(second), slow.seconds.push_back(second);
    quick.values.push_back(world(second)), slow.values.push_back(world(second - 30));
  }
  double minute = 0;  // of the world, from 810 to 870
  for (int second = 813; second <= 870; second += 3) minute += world(second) / 20;
  for (const bool quick_first : {true, false}) {
    std::vector<ChannelReadings> both = {{&one, quick}, {&other, slow}};
    if (!quick_first) std::ranges::reverse(both);
    const auto estimates = group_reading(both, true).estimates;
    ASSERT_EQ(estimates.size(), 2u);
    for (const Estimate& each : estimates) EXPECT_NEAR(each.value, minute, 0.03) << each.name << quick_first;
    const auto now = group_reading(both, false).estimates;
    EXPECT_GT(std::abs(now[0].value - now[1].value), 0.2);
  }
}

TEST(CorrectionToAgree, IsTheLineBetweenThem) {
  const Bench bench = two_values();
  const Chain followed = demo_chain("other", bench);
  Series one, other;  // other = 1.02 · one − 0.3
  for (int i = 0; i <= 20; ++i) {
    one.seconds.push_back(i), one.values.push_back(2 * i);
    other.seconds.push_back(i), other.values.push_back(1.02 * 2 * i - 0.3);
  }
  const auto agreeing = correction_to_agree(paired_readings(one, other), followed, "2026-11-27");
  ASSERT_TRUE(agreeing);
  EXPECT_TRUE(agreeing->scale_known);
  ASSERT_EQ(agreeing->correction.coefficients.size(), 2u);
  EXPECT_NEAR(agreeing->correction.origin, 20, 1e-9);
  EXPECT_NEAR(agreeing->correction.coefficients[0], 0.1, 1e-6);  // 1.02 · 20 − 0.3 − 20
  EXPECT_NEAR(agreeing->correction.coefficients[1], 0.02, 1e-6);
  EXPECT_NEAR(agreeing->correction.standard_uncertainty, 0.1, 1e-3) << "as good as the one that is followed";
  EXPECT_EQ(agreeing->correction.covered, (Range{0, 40}));
  EXPECT_THAT(agreeing->correction.reference, HasSubstr("other"));
  EXPECT_EQ(agreeing->correction.on, "2026-11-27");
}

TEST(CorrectionToAgree, OverASmallRangeIsAnOffsetAlone) {
  const Bench bench = two_values();
  Series one, other;
  for (int i = 0; i < 20; ++i) {  // 20 °C and a scatter of its own each, half a degree apart
    one.seconds.push_back(i), one.values.push_back(20 + 0.02 * ((i * 7) % 5));
    other.seconds.push_back(i), other.values.push_back(20.5 + 0.02 * ((i * 3) % 4));
  }
  const auto agreeing = correction_to_agree(paired_readings(one, other), demo_chain("other", bench), "");
  ASSERT_TRUE(agreeing);
  EXPECT_FALSE(agreeing->scale_known);
  ASSERT_EQ(agreeing->correction.coefficients.size(), 1u);
  EXPECT_NEAR(agreeing->correction.coefficients[0], 0.5, 0.02);
  EXPECT_FALSE(correction_to_agree({}, demo_chain("other", bench), "")) << "nothing to go by";
}

// Followed blindly it is known no better than before, and where that was known it is lost: not as good as a figure that
// is only the least.
TEST(CorrectionToAgree, WithOneThatNobodyKnowsProvesNothing) {
  Bench bench = two_values();
  Channel* other = find_by_id(bench.channels, "other");
  other->correction = {};
  ASSERT_TRUE(error_budget(demo_chain("other", bench), 20)->lacks_accuracy);
  Series one, followed;
  for (int i = 0; i <= 20; ++i) {
    one.seconds.push_back(i), one.values.push_back(2 * i);
    followed.seconds.push_back(i), followed.values.push_back(2 * i + 0.5);
  }
  const auto agreeing = correction_to_agree(paired_readings(one, followed), demo_chain("other", bench), "");
  ASSERT_TRUE(agreeing);
  EXPECT_TRUE(agreeing->lacks_accuracy);
  EXPECT_EQ(agreeing->correction.standard_uncertainty, 0);
  Channel* changed = find_by_id(bench.channels, "one");
  changed->correction = agreeing->correction;
  const auto budget = error_budget(demo_chain("one", bench), 20);
  ASSERT_TRUE(budget);
  EXPECT_TRUE(budget->lacks_accuracy);
  // 0.5 more is added all the same.
  EXPECT_NEAR(*read_raw(demo_chain("one", bench), 10), 10.5, 0.01);
}

TEST(PairedReadings, AreThoseThatBothHave) {
  const PairedReadings pairs = paired_readings({{0, 1, 2, 3}, {5, 6, 7, 8}}, {{0.5, 2.5}, {10, 14}});
  EXPECT_EQ(pairs.one, (std::vector<double>{6, 7}));
  EXPECT_EQ(pairs.other, (std::vector<double>{11, 13}));  // straight between 10 and 14
}

// ---- what a calibration buys ----

// A digital temperature of ±0.3 °C whose offset register counts 1/128 °C.
Bench offset_bench() {
  Bench bench;
  bench.devices = {{.id = "d", .part = "TMP117"}};
  bench.channels = {{.id = "t", .name = "T", .device = "d", .wanted = {10, 30}, .tolerance = 0.5}};
  return bench;
}

TEST(CalibrationEffect, SaysWhatIsUsedAndWhatGoesToTheRegister) {
  const Bench bench = offset_bench();
  const std::vector<RecordedPoint> points = {
      {.reference = 21, .reference_standard = 0.02, .reading = 20, .readings = 20}};
  const auto fit = fit_calibration(FitModel::offset, points_for_fit(points));
  ASSERT_TRUE(fit);
  const auto put = put_correction(bench, shipped_parts(), "t", *fit, points, CorrectionPlace::part, {});
  ASSERT_TRUE(put) << to_text(put.problem());
  const auto effect = calibration_effect(bench, *put, shipped_parts(), "t", points, &*fit);
  ASSERT_TRUE(effect);
  EXPECT_EQ(effect->offset_bytes, "0080");  // 1 °C ÷ 0.0078125 °C = 128
  EXPECT_FALSE(effect->reference_unknown);
  EXPECT_LT(effect->used_after, effect->used_before);
  EXPECT_EQ(effect->decision, Decision::passes);
  // Two readings of nobody knows what: a hope, and said so.
  auto hope = points;
  hope[0].reference_standard = 0;
  EXPECT_TRUE(calibration_effect(bench, *put, shipped_parts(), "t", hope, &*fit)->reference_unknown);
  // A point that is missed by more than is allowed decides it, however good the mean: half a degree and more.
  CalibrationFit missed = *fit;
  missed.residuals = {0.7};
  EXPECT_EQ(calibration_effect(bench, *put, shipped_parts(), "t", points, &missed)->decision, Decision::fails);
}

// A bridge whose span is a third more or less, its offset taken at 230 hPa: 33 % of 230 hPa are left at 0, flat, and
// hardly anything in the middle of what is wanted. What is told is the worst.
TEST(CalibrationEffect, IsThatOfTheWorstPlace) {
  const Bench bench = bridge_bench(6'000);
  const std::vector<RecordedPoint> points = {
      {.reference = 23'000, .reference_standard = 30, .reading = 23'100, .readings = 20}};
  const auto fit = fit_calibration(FitModel::offset, points_for_fit(points));
  const auto put = put_correction(bench, shipped_parts(), "p", *fit, points, CorrectionPlace::physical, {});
  ASSERT_TRUE(put);
  const auto effect = calibration_effect(bench, *put, shipped_parts(), "p", points, &*fit);
  ASSERT_TRUE(effect);
  EXPECT_NEAR(effect->expanded, 1.96 * 0.33 * 23'000 / std::sqrt(3), 150);
  // Before its zero has been taken that is off by a third of the whole span besides, wherever it reads.
  EXPECT_NEAR(*effect->used_before, 1.96 * (0.33 * 39'000 + 0.33 * 40'000) / std::sqrt(3) / 6'000, 0.03);
  const auto raw = build_chain(bench, shipped_parts(), "p");
  ASSERT_TRUE(raw);
  EXPECT_NEAR(error_budget(*raw, 1)->expanded, 1.96 * 0.33 * 40'000 / std::sqrt(3), 150);
  EXPECT_NE(effect->decision, Decision::passes) << "8 600 Pa at 0, where 6 000 are allowed";
}

// What the channel showed before, not what it read without the correction that it had then: 20 °C and 0.4 for the first
// point, 29.8 and the same for the second, of which the first is off by more.
TEST(CalibrationEffect, SaysHowTheChannelWasFound) {
  Bench bench = offset_bench();
  bench.channels.front().correction = {.coefficients = {0.4}, .standard_uncertainty = 0.02};
  const std::vector<RecordedPoint> points = {
      {.reference = 21, .reference_standard = 0.02, .reading = 20, .readings = 20},
      {.reference = 30, .reference_standard = 0.02, .reading = 29.8, .readings = 20}};
  const auto fit = fit_calibration(FitModel::line, points_for_fit(points));
  const auto put = put_correction(bench, shipped_parts(), "t", *fit, points, CorrectionPlace::physical, {});
  const auto effect = calibration_effect(bench, *put, shipped_parts(), "t", points, &*fit);
  ASSERT_TRUE(effect && effect->found);
  EXPECT_EQ(effect->found->at, 21);
  EXPECT_NEAR(effect->found->error, -0.6, 1e-6);
}

TEST(CalibrationEntry, TellsTheWholeStory) {
  const Bench bench = offset_bench();
  const std::vector<RecordedPoint> points = {
      {.reference = 21, .reference_standard = 0.02, .reading = 20, .readings = 20}};
  const auto fit = fit_calibration(FitModel::offset, points_for_fit(points));
  const auto put = put_correction(bench, shipped_parts(), "t", *fit, points, CorrectionPlace::physical, {});
  ASSERT_TRUE(put);
  const auto effect = calibration_effect(bench, *put, shipped_parts(), "t", points, &*fit);
  const ModelReport model{.model = FitModel::offset, .fit = *fit};
  const LogEntry entry =
      calibration_entry(bench, *put, "t", points, &model, *effect,
                        {.on = "2026-11-27 10:00", .who = "me", .procedure = "bath", .reference = "a bridge"});
  EXPECT_EQ(entry.kind, EntryKind::calibration);
  EXPECT_EQ(entry.channel, "t");
  EXPECT_EQ(entry.who, "me");
  ASSERT_TRUE(entry.calibration);
  const CalibrationRecord& record = *entry.calibration;
  EXPECT_EQ(record.quantity, "temperature");
  EXPECT_EQ(record.unit, "Cel");
  EXPECT_EQ(record.model, "offset");
  EXPECT_EQ(record.procedure, "bath");
  EXPECT_EQ(record.reference, "a bridge");
  EXPECT_EQ(record.verdict, "Corrected, it keeps its limit, the uncertainty counted in.");
  EXPECT_EQ(record.found_at, 21);
  EXPECT_NEAR(*record.found_error, -1, 1e-6);
  ASSERT_EQ(record.coefficients.size(), 1u);
  EXPECT_NEAR(record.coefficients[0], 1, 1e-12);
  EXPECT_DOUBLE_EQ(record.tolerance, 0.5);
  EXPECT_EQ(record.used_after, effect->used_after);
  EXPECT_EQ(record.holds_from, 10);
  EXPECT_EQ(record.holds_to, 30);
  EXPECT_EQ(record.points.size(), 1u);
}

}  // namespace fair_gauge::channel_agreement_test
