// What hangs on a reading, in the real window: rules, the part's own limits, a hand on the sensor, its own warmth.
#include <QComboBox>
#include <QFile>
#include <QTemporaryDir>

#include <algorithm>
#include <cmath>

#include "sources/recording.h"
#include "stream/recording_events.h"
#include "watch.h"

namespace fair_gauge::app::watch_rules_test {

using testing::HasSubstr;
using testing::StartsWith;

class EmptyWatchTest : public EmptyWindow {};

TEST_F(WatchTest, AHandOnTheSensorIsSeenLive) {
  // Quick enough for a test: a reading each fifth of a second, of the sensor and of its neighbours.
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench_.listen_to_simulation();
  window_.show_view(Page::watch, 3);
  settle();
  QStringList ways;
  for (int i = 0; i < find<QComboBox>("touch_way")->count(); ++i) ways << find<QComboBox>("touch_way")->itemText(i);
  EXPECT_EQ(ways, (QStringList{QStringLiteral("warm it by hand"), QStringLiteral("cool it with a damp cloth")}));
  EXPECT_THAT(text("touch_instruction"), HasSubstr("Leave it alone"));
  QTest::qWait(1200);
  click("touch_next");
  EXPECT_THAT(text("touch_instruction"), HasSubstr("Hold the sensor"));
  EXPECT_FALSE(find<QComboBox>("touch_way")->isEnabled());
  const auto said = [&] {
    std::string words;
    for (QLabel* label : window_.watch().findChildren<QLabel*>())
      if (label->isVisible()) words += label->text().toStdString() + "\n";
    return words;
  };
  EXPECT_TRUE(comes([&] {
    return said().find("Substrate core answers, and the right way: up by") != std::string::npos;
  })) << said();
  EXPECT_EQ(said().find("moved instead"), std::string::npos) << said();
  click("touch_next");
  EXPECT_THAT(text("touch_instruction"), HasSubstr("Let go"));
  EXPECT_EQ(find<QPushButton>("touch_next")->text(), QStringLiteral("Once more"));
  EXPECT_TRUE(comes([&] { return said().find("Let go, it comes back") != std::string::npos; })) << said();
  // Another channel begins anew, with what can be done to it.
  workbench_.choose_channel("duct_dark");
  EXPECT_EQ(find<QComboBox>("touch_way")->itemText(0), QStringLiteral("cover it"));
  EXPECT_EQ(find<QPushButton>("touch_next")->text(), QStringLiteral("I begin now"));
}

// A part that compares by itself: its limits typed while readings come, tripped, asked, taken off.
TEST_F(WatchTest, ThePartsOwnLimitsTripLive) {
  workbench_.listen_to_simulation();
  workbench_.choose_channel("rack");
  window_.show_view(Page::watch, 4);
  settle();
  EXPECT_THAT(text("alarm_state"), StartsWith("Type a limit"));
  EXPECT_THAT(text("alarm_rules"), HasSubstr("cut to steps of 1 °C first"));
  EXPECT_THAT(text("alarm_rules"), HasSubstr("alarm search 0xEC"));
  const double now = *workbench_.chosen().reading;
  give_slowly("alarm_upper", QString::number(std::floor(now) - 3) + QStringLiteral(",4"));
  settle();
  EXPECT_TRUE(comes([&] { return text("alarm_state").starts_with("Alert"); })) << text("alarm_state");
  EXPECT_THAT(text("alarm_state"), HasSubstr("above"));
  EXPECT_THAT(text("alarm_stored"), HasSubstr("which is " + QString::number(std::floor(now) - 3).toStdString()));
  EXPECT_FALSE(find<QPushButton>("alarm_read")->isVisible()) << "the next conversion clears it";
  give_slowly("alarm_upper", QStringLiteral("90"));
  give_slowly("alarm_lower", QStringLiteral("-10"));
  EXPECT_TRUE(comes([&] { return text("alarm_state") == "Quiet"; })) << text("alarm_state");
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "rack")->limits, (OwnLimits{.upper = 90, .lower = -10}));
  EXPECT_EQ(text("alarm_stored").find("means nothing"), std::string::npos);
  give_slowly("alarm_lower", QStringLiteral("95"));
  EXPECT_THAT(text("alarm_stored"), StartsWith("The lower limit is not below the upper one"));
  give_slowly("alarm_lower", QStringLiteral("-10"));
  give_slowly("alarm_upper", QStringLiteral("300"));
  EXPECT_THAT(text("alarm_stored"), HasSubstr("cannot be stored"));
  click("alarm_off");
  EXPECT_FALSE(find_by_id(workbench_.bench().channels, "rack")->limits);
  EXPECT_TRUE(find<QLineEdit>("alarm_upper")->text().isEmpty());
  // A channel without such limits says what there is instead.
  workbench_.choose_channel("substrate");
  EXPECT_THAT(text("alarm_state"), HasSubstr("the firmware compares"));
  // Another part, set to call at every change: asked, it is quiet although it is still above.
  workbench_.document().edit(QStringLiteral("TMP102"), [](Bench& bench) {
    Device& device = *find_by_id(bench.devices, "rack_probe_low");
    device.part = "TMP102", device.bus = "two-wire", device.address = 0x49, device.serial.clear();
    device.registers = {{"0x01", 0x62A0}};
  });
  workbench_.choose_channel("rack");
  settle();
  give_slowly("alarm_upper", QStringLiteral("2"));
  EXPECT_TRUE(comes([&] { return text("alarm_state").starts_with("Alert"); })) << text("alarm_state");
  EXPECT_THAT(text("alarm_rules"), HasSubstr("Pin ALERT is pulled low"));
  click("alarm_read");
  EXPECT_EQ(text("alarm_state"), "Quiet");
  QTest::qWait(2500);
  EXPECT_EQ(text("alarm_state"), "Quiet") << "it calls again only when it comes back";
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// A long log is compared beside the window: 17.75 °C, and from the middle on 21.25 °C.
TEST_F(WatchTest, ThePartsOwnLimitsAreTriedOnALongLog) {
  workbench_.choose_channel("rack");
  workbench_.document().edit(QStringLiteral("Limit"), [](Bench& bench) {
    find_by_id(bench.channels, "rack")->limits = OwnLimits{.upper = 20, .lower = {}};
  });
  window_.show_view(Page::watch, 4);
  std::vector<int> counts(40'000, 284);
  std::fill(counts.begin() + 20'000, counts.end(), 340);
  open(log_of(counts, [](std::size_t i) { return static_cast<double>(i); }));
  EXPECT_TRUE(comes([&] { return text("alarm_state").starts_with("Alert for 333 min"); })) << text("alarm_state");
  workbench_.document().undo();
  EXPECT_THAT(text("alarm_state"), StartsWith("Type a limit"));
}

// An empty bench has a sentence there, too.
TEST_F(EmptyWatchTest, EveryViewHasSomethingToSay) {
  for (int view = 0; view < 5; ++view) {
    window_.show_view(Page::watch, view);
    QTest::qWait(50);
  }
  EXPECT_EQ(find<QLabel>("alarm_state")->text(), QStringLiteral("This bench has no channels yet."));
}

// A log of somebody's, before there is any channel: its columns become some, and it is read by them.
TEST_F(EmptyWatchTest, ALogMakesChannels) {
  const QTemporaryDir folder;
  QFile file(folder.filePath(QStringLiteral("cellar.csv")));
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("\xEF\xBB\xBFZeit;Temperatur (°C);rel. Feuchte (%);Akku (V)\r\n");
  for (int i = 0; i < 30; ++i)
    file.write(QStringLiteral("24.10.2026 22:%1:00;1%2,25;71,%2;3,71\r\n")
                   .arg(i, 2, 10, QLatin1Char('0'))
                   .arg(i * 7 % 10)
                   .toUtf8());
  file.close();
  window_.show_page(Page::watch);
  EXPECT_FALSE(find<QPushButton>("watch_make")->isVisible());
  window_.watch().open(file.fileName());
  EXPECT_TRUE(comes([&] { return find<QPushButton>("watch_make")->isVisible(); }));
  EXPECT_THAT(text("watch_words"), HasSubstr("columns of cellar.csv can become some"));
  click("watch_make");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u) << "a battery is none";
  EXPECT_EQ(workbench_.channel_id(), "temperatur");
  EXPECT_EQ(workbench_.bench().channels[0].name, "Temperatur");
  EXPECT_EQ(workbench_.bench().channels[0].line_name, "Temperatur (°C)");
  EXPECT_EQ(workbench_.bench().channels[1].quantity, Quantity::humidity);
  const auto rows_of = [&](double first) {
    return comes([&] {
      const auto& watched = window_.watch().log().watched();
      return watched && watched->log->rows.size() == 30 && std::abs(watched->log->rows[0].reading - first) < 1e-9;
    });
  };
  EXPECT_TRUE(rows_of(10.25));
  EXPECT_EQ(window_.watch().log().watched()->log->period_s, 60);
  workbench_.choose_channel("rel_feuchte");
  EXPECT_TRUE(rows_of(71.0));
  EXPECT_FALSE(find<QPushButton>("watch_make")->isVisible()) << "each has one";
  // No part stands behind it: nobody has stated its noise, and nothing is blamed.
  EXPECT_TRUE(comes([&] { return text("signal_verdict").find("is stated nowhere") != std::string::npos; }))
      << text("signal_verdict");
  // What follows from them is worked out before any reading has come, and claims no error that nobody knows.
  window_.show_view(Page::correct, 3);
  QTest::qWait(50);
  EXPECT_THAT(text("derived_head"), HasSubstr("No reading has come yet of Temperatur, rel. Feuchte"));
  auto* derived = find<QTableWidget>("derived");
  ASSERT_GT(derived->rowCount(), 0);
  EXPECT_EQ(derived->item(0, 0)->text(), QStringLiteral("dew point"));
  EXPECT_TRUE(derived->item(0, 2)->text().startsWith(QStringLiteral("≥ ")))
      << derived->item(0, 2)->text().toStdString();
  EXPECT_EQ(window_.focusWidget()->objectName(), QStringLiteral("view_3")) << "the view in front, not the first";
}

// The chip that warms itself: recorded from its readings, kept, and the trim of the warm chip begins with it.
TEST_F(WatchTest, OwnWarmthIsRecordedForTheTrim) {
  workbench_.document().edit(QStringLiteral("Quick"),
                             [](Bench& bench) { find_by_id(bench.channels, "board")->period_s = 0.25; });
  workbench_.listen_to_simulation();
  workbench_.choose_channel("board");
  window_.show_view(Page::watch, 3);
  settle();
  auto* ways = find<QComboBox>("touch_way");
  ways->setFocus();
  while (ways->currentText() != QStringLiteral("switch it on cold")) QTest::keyClick(ways, Qt::Key_Down, {}, 20);
  EXPECT_THAT(text("touch_instruction"), HasSubstr("without power for an hour"));
  click("touch_next");
  EXPECT_FALSE(find<QPushButton>("touch_keep")->isVisible());
  ASSERT_TRUE(comes([&] { return find<QPushButton>("touch_keep")->isVisible(); }));
  click("touch_keep");
  const auto kept = find_by_id(workbench_.bench().channels, "board")->warm_up;
  ASSERT_TRUE(kept);
  EXPECT_NEAR(kept->rise, 4, 1.5) << "by the simulated hand";
  EXPECT_GT(kept->time_constant_s, 0.5);
  EXPECT_EQ(kept->on.size(), 10u);
  window_.show_view(Page::correct, 0);
  QTest::qWait(50);
  auto* procedure = find<QComboBox>("procedure");
  procedure->setFocus();
  while (procedure->currentText() != QStringLiteral("Warm trim of a sensor inside a chip"))
    QTest::keyClick(procedure, Qt::Key_Down, {}, 20);
  EXPECT_NEAR(find<QLineEdit>("input_2")->text().split(' ').first().toDouble(), kept->rise, 0.006 * kept->rise);
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// 2400 and 2100 counts are about 21.5 and 28.1 °C: ten of each, six times over. A heater at 25 ± 1 is on in every cold
// stretch: on at once, then a change at each of the eleven turns.
TEST_F(WatchTest, ARuleIsTriedOnTheReadingsAndKeptInTheBench) {
  window_.show_view(Page::watch, 2);
  std::vector<int> counts;
  for (int i = 0; i < 120; ++i) counts.push_back(i / 10 % 2 == 0 ? 2400 : 2100);
  open(log_of(counts, [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  workbench_.listen_to_simulation();  // numbers come while it is typed
  click("switch_begin");
  give_slowly("switch_goal", QStringLiteral("25"));
  give_slowly("switch_band", QStringLiteral("1"));
  settle();
  const auto& rule = find_by_id(workbench_.bench().channels, "substrate")->switching;
  ASSERT_TRUE(rule);
  EXPECT_DOUBLE_EQ(rule->goal, 25);
  EXPECT_DOUBLE_EQ(rule->band, 1);
  EXPECT_THAT(text("switch_words"), HasSubstr("switches 12 times; on for 50 %"));
  EXPECT_THAT(text("switch_codes"), HasSubstr("On while the raw number >"));
  find<QComboBox>("switch_kind")->setCurrentIndex(1);
  emit find<QComboBox>("switch_kind")->activated(1);
  const auto comes_to = [this](const std::string& words) {  // the log is switched again beside the window
    return comes([&] { return text("switch_words").find(words) != std::string::npos; });
  };
  EXPECT_TRUE(comes_to("Cools: switches 11 times")) << text("switch_words");
  workbench_.document().undo();
  EXPECT_TRUE(comes_to("Heats: switches 12 times")) << text("switch_words");
  click("switch_end");
  EXPECT_FALSE(find_by_id(workbench_.bench().channels, "substrate")->switching);
}

// What a rule decides while a recording is on stands in its events with the reason; where the sensor fails it goes to
// its safe state, above its limit everything stays off.
TEST_F(WatchTest, DecisionsGoToTheEventsWithTheirReason) {
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 0.2, channel.switching.reset();
  });
  workbench_.listen_to_simulation();
  window_.show_view(Page::watch, 2);
  click("switch_begin");
  give_slowly("switch_goal", QStringLiteral("40"));
  give_slowly("switch_band", QStringLiteral("1"));
  give_slowly("switch_stale", QStringLiteral("0,5 s"));
  give_slowly("switch_shutdown", QStringLiteral("90"));
  const auto rule = [&] { return *find_by_id(workbench_.bench().channels, "substrate")->switching; };
  EXPECT_EQ(rule().shutdown_above, 90);
  EXPECT_DOUBLE_EQ(rule().stale_s, 0.5);
  auto* safe = find<QComboBox>("switch_safe");
  safe->setFocus();
  QTest::keyClick(safe, Qt::Key_Down);
  EXPECT_TRUE(rule().safe_on);
  // Emptied, there is no limit any more.
  auto* limit = find<QLineEdit>("switch_shutdown");
  click_into(*limit);
  QTest::keyClick(limit, Qt::Key_Delete);
  QTest::qWait(400);
  QTest::keyClick(limit, Qt::Key_Tab);
  EXPECT_FALSE(rule().shutdown_above);
  ASSERT_EQ(window_.watch().record_to(file("switched.csv")), QString());
  QTest::qWait(1500);  // it heats: 25 is far below 39
  workbench_.document().edit(QStringLiteral("Allowed error"), [](Bench& bench) { bench.channels[0].tolerance = 0.7; });
  QTest::qWait(600);  // another edit is no decision
  give_slowly("switch_goal", QStringLiteral("10"));
  give_slowly("switch_shutdown", QStringLiteral("20"));
  QTest::qWait(1200);
  give_slowly("switch_goal", QStringLiteral("60"));
  QTest::qWait(1200);
  click("watch_record");
  QTest::qWait(100);
  std::vector<std::string> said;
  for (const RecordingEvent& event : read_events(file("switched.csv").toStdString()))
    if (event.kind == "switch") said.push_back(event.words);
  ASSERT_FALSE(said.empty());
  EXPECT_THAT(said.front(), HasSubstr("Substrate core: on, 2"));
  EXPECT_THAT(said.front(), HasSubstr("is below 39.00 °C"));
  EXPECT_EQ(std::ranges::count_if(said, [](const std::string& each) { return each.find("39.00") != each.npos; }), 1);
  settle();
  EXPECT_TRUE(comes([&] { return text("switch_words").find("shut down for good") != std::string::npos; }))
      << text("switch_words");
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// The same rule in a room that is described by hand, while numbers come: the room itself is drawn beside its readings.
TEST_F(WatchTest, ARuleIsTriedInASimulatedRoom) {
  workbench_.listen_to_simulation();
  window_.show_view(Page::watch, 2);
  click("switch_begin");
  EXPECT_FALSE(find<QLineEdit>("room_power")->isVisible());
  click("switch_in_room");
  const auto comes_to = [this](const std::string& words) {
    return comes([&] { return text("switch_words").find(words) != std::string::npos; });
  };
  EXPECT_TRUE(comes_to("The room swings from")) << text("switch_words");
  give_slowly("switch_goal", QStringLiteral("25"));
  give_slowly("room_outside", QStringLiteral("8"));
  give_slowly("room_power", QStringLiteral("40"));
  // 40 W against 4 W/K are 10 K: from 8 °C no more than 18 °C.
  EXPECT_TRUE(comes_to("does not bring the room to the goal")) << text("switch_words");
  give_slowly("room_loss", QStringLiteral("1"));
  EXPECT_TRUE(comes_to("The room swings from")) << text("switch_words");
  const auto room = [this] { return find_by_id(workbench_.bench().channels, "substrate")->switching->room; };
  ASSERT_TRUE(room());
  EXPECT_EQ(room()->power_w, 40);
  EXPECT_EQ(room()->loss_w_per_k, 1);
  EXPECT_EQ(room()->outside, 8);
  workbench_.document().undo();
  EXPECT_EQ(room()->loss_w_per_k, 4);
  EXPECT_TRUE(comes_to("does not bring")) << text("switch_words");
  // What comes meanwhile does not take the room's place, and another view has the readings again.
  give_slowly("room_power", QStringLiteral("400"));
  EXPECT_TRUE(comes_to("The room swings from")) << text("switch_words");
  const auto rows = [this] { return window_.findChild<LogPlot*>()->watched()->log->rows.size(); };
  EXPECT_GT(rows(), 10'000u);
  QTest::qWait(2500);
  EXPECT_GT(rows(), 10'000u);
  window_.show_view(Page::watch, 0);
  QTest::qWait(100);
  EXPECT_LT(rows(), 10'000u);
  window_.show_view(Page::watch, 2);
  QTest::qWait(100);
  EXPECT_FALSE(find<QLineEdit>("room_power")->isVisible());
}

// 2400 counts are about 21.5 °C, and stay so: a heater at 18 is off, one at 25 is on. By the clock it is on from noon
// to six, and half a night's goal is typed while numbers come.
TEST_F(WatchTest, AGoalChangesOverTheDay) {
  window_.show_view(Page::watch, 2);
  constexpr double midnight = 20'000 * 86'400.0;
  open(log_of(std::vector<int>(97, 2400), [](std::size_t i) { return midnight + 900.0 * static_cast<double>(i); }));
  workbench_.listen_to_simulation();
  click("switch_begin");
  give_slowly("switch_goal", QStringLiteral("18"));
  give_slowly("switch_band", QStringLiteral("1"));
  settle();
  EXPECT_THAT(text("switch_words"), HasSubstr("switches 0 times"));
  give_slowly("switch_schedule", QStringLiteral("12:00 25; 18:00 18"));
  settle();
  const auto kept = [&] { return find_by_id(workbench_.bench().channels, "substrate")->switching->schedule; };
  ASSERT_EQ(kept().size(), 2u);
  EXPECT_DOUBLE_EQ(kept()[0].at_s, 43200);
  EXPECT_DOUBLE_EQ(kept()[0].goal, 25);
  EXPECT_TRUE(comes([&] { return text("switch_words").find("switches 2 times; on for 25 %") != std::string::npos; }));
  EXPECT_THAT(text("switch_words"), HasSubstr("changes over the day"));
  // What cannot be is said, and is neither kept nor lost.
  give_slowly("switch_schedule", QStringLiteral("25:00 3"));
  settle();
  EXPECT_THAT(text("switch_words"), HasSubstr("25:00 is no time of day"));
  EXPECT_EQ(find<QLineEdit>("switch_schedule")->text(), QStringLiteral("25:00 3"));
  EXPECT_EQ(kept().size(), 2u);
  // Readings without a clock are tried with the goal alone.
  give_slowly("switch_schedule", QStringLiteral("12:00 25; 18:00 18"));
  open(log_of(std::vector<int>(50, 2400), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  EXPECT_TRUE(comes([&] { return text("switch_words").find("no time of day") != std::string::npos; }));
  auto* field = find<QLineEdit>("switch_schedule");
  QTest::mouseClick(field, Qt::LeftButton);
  QTest::keyClick(field, Qt::Key_Backspace);
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_TRUE(kept().empty());
}

}  // namespace fair_gauge::app::watch_rules_test
