// The Watch page: signals judged, filtered, switched on and recorded, in the real window.
#include <qcustomplot.h>

#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QMenu>
#include <QTableWidget>
#include <QTemporaryDir>

#include <cmath>
#include <random>

#include "sources/recording.h"
#include "stream/recording_events.h"
#include "watch/log_plot.h"
#include "watch/watch_page.h"
#include "window.h"

namespace fair_gauge::app::watch_view_test {

using testing::HasSubstr;
using testing::StartsWith;

class WatchTest : public WindowTest {
 protected:
  WatchTest() { workbench_.choose_channel("substrate"); }
  void settle() {
    EXPECT_TRUE(QTest::qWaitFor([this] { return !window_.watch().log().is_reading(); }, 60'000));
    QTest::qWait(20);
  }
  QString file(const char* name) { return folder_.filePath(QLatin1String(name)); }
  // Rows of counts, ten seconds apart but where `times` says otherwise.
  QString log_of(const std::vector<int>& counts, const std::function<double(std::size_t)>& time) {
    const QString path = file("log.csv");
    QFile out(path);
    EXPECT_TRUE(out.open(QIODevice::WriteOnly));
    out.write("time,counts\n");
    for (std::size_t i = 0; i < counts.size(); ++i)
      out.write(QStringLiteral("%1,%2\n").arg(time(i), 0, 'f', 3).arg(counts[i]).toUtf8());
    return path;
  }
  void open(const QString& path) {
    window_.watch().open(path);
    settle();
  }
  std::vector<int> noisy(std::size_t count, double sigma) {
    std::mt19937 random(7);
    std::normal_distribution<double> normal(2230, sigma);
    std::vector<int> counts;
    for (std::size_t i = 0; i < count; ++i) counts.push_back(static_cast<int>(std::lround(normal(random))));
    return counts;
  }
  QString figure(int row) { return find<QTableWidget>("signal_figures")->item(row, 1)->text(); }

  QTemporaryDir folder_;
};

class EmptyWatchTest : public EmptyWindow {};

TEST_F(WatchTest, TheSessionIsJudged) {
  window_.show_page(Page::watch);
  settle();
  EXPECT_THAT(text("signal_verdict"), HasSubstr("healthy"));
  const auto samples = workbench_.samples("substrate").size();
  EXPECT_EQ(figure(0), QStringLiteral("%1 of %1").arg(samples));
  EXPECT_EQ(find<QListWidget>("signal_events")->count(), 0);
  // Another channel is looked at as soon as it is chosen.
  workbench_.choose_channel("room_pressure");
  settle();
  EXPECT_EQ(window_.watch().log().watched()->chain.channel.id, "room_pressure");
}

TEST_F(WatchTest, WhatIsWrongWithALogIsNamedAndBroughtIntoView) {
  window_.show_page(Page::watch);
  auto counts = noisy(200, 2);
  counts[99] = 4095;  // an end code
  open(log_of(counts, [](std::size_t i) { return 10.0 * static_cast<double>(i) + (i >= 150 ? 300 : 0); }));
  const auto* events = find<QListWidget>("signal_events");
  ASSERT_EQ(events->count(), 2);
  EXPECT_THAT(events->item(0)->text().toStdString(), StartsWith("row 100: "));
  EXPECT_THAT(events->item(1)->text().toStdString(), StartsWith("rows 150 to 151: "));
  EXPECT_THAT(text("signal_verdict"), HasSubstr("2 things"));
  EXPECT_EQ(figure(0), QStringLiteral("199 of 200"));
  auto* plot = window_.findChild<LogPlot*>();
  EXPECT_EQ(plot->in_view(), std::make_pair(std::size_t{0}, std::size_t{200}));
  QTest::mouseClick(events->viewport(), Qt::LeftButton, {}, events->visualItemRect(events->item(1)).center());
  const auto [from, to] = plot->in_view();
  EXPECT_GT(from, 100u);  // 310 s about the gap on either side
  EXPECT_LE(from, 149u);
  EXPECT_GE(to, 151u);
  EXPECT_LT(to, 190u);
  plot->show_all();
  EXPECT_EQ(plot->in_view().second, 200u);
  // The end code goes to the usual mistakes.
  click("signal_why");
  EXPECT_EQ(find<QLineEdit>("mistake_input")->text(), QStringLiteral("4095"));
  EXPECT_TRUE(find<QLineEdit>("mistake_input")->isVisible());
  window_.show_page(Page::watch);
  click("watch_session");
  settle();
  EXPECT_TRUE(window_.watch().log().is_session());
  window_.show_page(Page::wire);
  click("margin_mistake");
  EXPECT_TRUE(find<QLineEdit>("mistake_input")->isVisible());
}

// Three hundred thousand rows are drawn from their blocks: the same figures, the gap still open, times as dates.
TEST_F(WatchTest, ALongLogIsDrawnByBlocks) {
  window_.show_page(Page::watch);
  constexpr std::size_t many = 300'000, half = many / 2;
  std::vector<int> counts = noisy(many, 2);
  counts[half / 2] = 2400;  // one row that stands out must not be lost among the others
  open(log_of(counts, [](std::size_t i) { return 1764000000.0 + static_cast<double>(i) + (i >= half ? 40'000 : 0); }));
  ASSERT_TRUE(window_.watch().log().watched());
  EXPECT_TRUE(window_.watch().log().watched()->is_dated) << "seconds since 1970 are a date";
  EXPECT_EQ(figure(0), QStringLiteral("300\u2009000 of 300\u2009000"));
  auto* canvas = find<QCustomPlot>("log_plot");
  auto& drawn = *canvas->graph(0)->data();
  EXPECT_LT(drawn.size(), 6000);
  double least = 1e9;
  int breaks = 0;
  for (const QCPGraphData& point : drawn) {
    if (std::isnan(point.value))
      ++breaks;
    else
      least = std::min(least, point.value);
  }
  EXPECT_EQ(breaks, 1);
  const double shown = window_.watch().log().watched()->log->rows[half / 2].reading;
  EXPECT_NEAR(least, shown, 1e-9) << "the warmest count is the coldest reading";
  // A part of it: its own mean and spread stand below, held against the plain loop.
  auto* plot = window_.findChild<LogPlot*>();
  plot->bring_into_view(60'000, 110'000);
  QApplication::processEvents();
  const auto [from, to] = plot->in_view();
  ASSERT_GT(to - from, 100'000u);
  double sum = 0;
  for (std::size_t i = from; i < to; ++i) sum += window_.watch().log().watched()->log->rows[i].reading;
  ASSERT_GT(find<QTableWidget>("signal_figures")->rowCount(), 8);
  EXPECT_EQ(find<QTableWidget>("signal_figures")->item(9, 0)->text(), QStringLiteral("mean in view"));
  EXPECT_NEAR(figure(9).split(QLatin1Char(' ')).front().toDouble(), sum / static_cast<double>(to - from), 0.001);
}

TEST_F(WatchTest, TheMapMovesTheView) {
  window_.show_page(Page::watch);
  open(log_of(noisy(1000, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  auto* plot = window_.findChild<LogPlot*>();
  auto* map = find<LogMap>("log_map");
  ASSERT_TRUE(map->isVisible());
  EXPECT_EQ(plot->in_view(), (std::pair<std::size_t, std::size_t>(0, 1000)));
  // A hundred rows at the beginning, then pressed in the middle: a hundred around the middle.
  plot->bring_into_view(1, 34);
  QTest::qWait(60);
  const auto wide = [&] { return plot->in_view().second - plot->in_view().first; };
  const std::size_t rows = wide();
  ASSERT_LT(rows, 200u);
  QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(map->width() / 2, 10));
  QTest::qWait(30);
  const auto middle = (plot->in_view().first + plot->in_view().second) / 2;
  EXPECT_NEAR(static_cast<double>(middle), 500, 6);
  EXPECT_NEAR(static_cast<double>(wide()), static_cast<double>(rows), 40) << "as wide as before";
  // Dragged by a quarter of the map, at a person's pace.
  QTest::mousePress(map, Qt::LeftButton, {}, QPoint(map->width() / 2, 10));
  for (int i = 1; i <= 10; ++i) {
    QMouseEvent move(QEvent::MouseMove, QPointF(map->width() / 2.0 + i * map->width() / 40.0, 10),
                     map->mapToGlobal(QPointF(map->width() / 2.0 + i * map->width() / 40.0, 10)), Qt::NoButton,
                     Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(map, &move);
    QTest::qWait(20);
  }
  QTest::mouseRelease(map, Qt::LeftButton, {}, QPoint(map->width() * 3 / 4, 10));
  EXPECT_NEAR(static_cast<double>(plot->in_view().first + plot->in_view().second) / 2, 750, 8);
  // By keys: a quarter of the view, and to either end.
  const auto before = plot->in_view().first;
  QTest::keyClick(map, Qt::Key_Left);
  EXPECT_NEAR(static_cast<double>(before - plot->in_view().first), static_cast<double>(wide()) / 4, 3);
  QTest::keyClick(map, Qt::Key_End);
  EXPECT_EQ(plot->in_view().second, 1000u);
  QTest::keyClick(map, Qt::Key_Home);
  EXPECT_EQ(plot->in_view().first, 0u);
  QTest::qWait(60);
  EXPECT_THAT(map->accessibleDescription().toStdString(), StartsWith("0 to "));
  // Times that are missing, all the same, backwards or beyond all days: a map or none, and nothing falls.
  click("watch_session");
  for (const char* times :
       {"x,x,x", "5,5,5", "x,10,20", "30,20,10", "0,1e300,2e300", "1e300,1.5e300,2e300", "-1e308,0,1e308"}) {
    QFile odd(file("odd.csv"));
    ASSERT_TRUE(odd.open(QIODevice::WriteOnly));
    odd.write("time,counts\n");
    for (const QString& each : QString::fromLatin1(times).split(QLatin1Char(',')))
      odd.write(each.toLatin1() + ",2230\n");
    odd.close();
    open(file("odd.csv"));
    QTest::qWait(60);
    for (const Qt::Key key : {Qt::Key_Left, Qt::Key_End, Qt::Key_Home}) QTest::keyClick(map, key);
    QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(map->width() / 3, 10));
    plot->show_switching(SwitchRule{.goal = 20, .band = 1, .schedule = {{21600, 21}, {79200, 18}}},
                         {true, false, true});
    QTest::qWait(60);
  }
  // An empty bench has a map of nothing, and keys do no harm.
  workbench_.document().replace(QStringLiteral("nothing"), Bench{});
  settle();
  QTest::keyClick(map, Qt::Key_Right);
  QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(20, 10));
}

TEST_F(WatchTest, ALogThatCannotBeReadSaysWhy) {
  window_.show_page(Page::watch);
  QFile out(file("other.csv"));
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write("when,what\n1,2\n");
  out.close();
  open(file("other.csv"));
  EXPECT_THAT(text("watch_words"), HasSubstr("no column \"substrate\""));
  open(file("none.csv"));
  EXPECT_THAT(text("watch_words"), HasSubstr("could not be read"));
}

// The session is asked for while a log is still being read, another channel while the session is looked at: what was
// overtaken is never shown under the other's name.
TEST_F(WatchTest, WhatIsOvertakenIsGivenUp) {
  window_.show_page(Page::watch);
  const QString path = log_of(noisy(5000, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); });
  window_.watch().open(path);
  window_.findChild<QPushButton*>(QStringLiteral("watch_session"))->click();
  settle();
  ASSERT_TRUE(window_.watch().log().watched());
  EXPECT_EQ(window_.watch().log().watched()->log->all_rows, workbench_.samples("substrate").size());
  workbench_.choose_channel("steamer");
  workbench_.choose_channel("room");
  settle();
  EXPECT_EQ(window_.watch().log().watched()->chain.channel.id, "room");
}

// Noise of 8 steps: the mean of 16 leaves a quarter of it, by 1/√16.
// A long log shows its beginning while the rest is read, how far it is, and can be stopped; filters and switching over
// all of it are worked out beside the window, which goes on answering.
TEST_F(WatchTest, ALongLogOpensInPiecesAndCanBeStopped) {
  constexpr int count = is_sanitized ? 700'000 : 3'000'000;
  QFile out(file("long.csv"));
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  QByteArray rows = "time,counts\n";
  for (int i = 0; i < count; ++i) {
    rows += QByteArray::number(i) + ',' + QByteArray::number(2200 + i % 61 * 7919 % 61) + '\n';
    if (rows.size() > 1 << 20) out.write(std::exchange(rows, {}));
  }
  out.write(rows);
  out.close();
  window_.show_page(Page::watch);
  settle();
  const WatchLog& log = window_.watch().log();
  std::size_t pieces = 0;
  QObject here;
  QObject::connect(&log, &WatchLog::partly, &here, [&](const std::shared_ptr<const Watched>& so_far) {
    ++pieces;
    EXPECT_EQ(so_far->log->rows.front().seconds, 0);
    EXPECT_TRUE(so_far->is_in_order);
  });
  window_.watch().open(out.fileName());
  EXPECT_TRUE(QTest::qWaitFor([&] { return pieces > 0; }, 30'000));
  EXPECT_TRUE(log.is_opening());
  EXPECT_THAT(text("watch_words"), HasSubstr("Reading long.csv"));
  EXPECT_EQ(find<QPushButton>("watch_session")->text(), QStringLiteral("Stop reading"));
  click("watch_session");
  settle();
  EXPECT_TRUE(log.is_session());
  EXPECT_EQ(log.watched()->log->all_rows, workbench_.samples("substrate").size());
  window_.watch().open(out.fileName());
  settle();
  ASSERT_TRUE(log.watched());
  EXPECT_EQ(log.watched()->log->all_rows, static_cast<std::size_t>(count));
  EXPECT_EQ(log.watched()->review.rows, static_cast<std::size_t>(count));
  EXPECT_EQ(find<QPushButton>("watch_session")->text(), QStringLiteral("This session"));
  EXPECT_THAT(text("watch_words"),
              HasSubstr(is_sanitized ? "700\u2009000 rows of long.csv" : "3\u2009000\u2009000 rows of long.csv"));
  window_.show_view(Page::watch, 1);
  EXPECT_TRUE(QTest::qWaitFor([&] { return !text("filter_words").empty(); }, 60'000));
  EXPECT_THAT(text("filter_words"), HasSubstr("shift it right"));
}

// What is in view is saved: rows that are a log again, a list for others, pictures; what is there is not destroyed.
TEST_F(WatchTest, TheViewIsSaved) {
  window_.show_page(Page::watch);
  open(log_of(noisy(500, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  const auto saved = [&](const char* name) {
    window_.watch().save_view(file(name));
    EXPECT_TRUE(QTest::qWaitFor([&] { return text("watch_recording").find("Writing") == std::string::npos; }));
    QFile out(file(name));
    return out.open(QIODevice::ReadOnly) ? out.readAll() : QByteArray();
  };
  auto* plot = window_.findChild<LogPlot*>();
  plot->bring_into_view(201, 240);
  QTest::qWait(50);
  const auto [from, to] = plot->in_view();
  ASSERT_LT(to - from, 200u);
  const QByteArray rows = saved("view.csv");
  EXPECT_EQ(rows.count('\n'), static_cast<int>(to - from) + 1);
  EXPECT_TRUE(rows.startsWith("time,substrate,substrate_Cel\n")) << rows.left(60).toStdString();
  EXPECT_TRUE(QFile::exists(file("view.csv-metadata.json")));
  EXPECT_THAT(text("watch_recording"), HasSubstr("rows are in view.csv"));
  EXPECT_TRUE(saved("view.senml.json").contains("\"bn\":\"substrate\""));
  const QByteArray svg = saved("view.svg");
  EXPECT_TRUE(svg.contains("<svg") && svg.contains("shaded: wanted range"));
  EXPECT_TRUE(saved("view.pdf").startsWith("%PDF"));
  saved("none/view.csv");
  EXPECT_THAT(text("watch_recording"), HasSubstr("none"));
  open(file("view.csv"));
  ASSERT_TRUE(window_.watch().log().watched());
  EXPECT_EQ(window_.watch().log().watched()->log->rows.size(), to - from);
}

// A note typed while it records stands beside the recording at its moment, with what else happened, and in the plot.
TEST_F(WatchTest, ANoteStandsAtItsMoment) {
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 0.2, channel.switching.reset();
  });
  workbench_.listen_to_shed();
  window_.show_page(Page::watch);
  auto* note = find<QLineEdit>("watch_note");
  EXPECT_FALSE(note->isVisible()) << "nothing is recorded";
  ASSERT_EQ(window_.watch().record_to(file("noted.csv")), QString());
  QTest::qWait(1200);
  ASSERT_TRUE(note->isVisible());
  QTest::mouseClick(note, Qt::LeftButton);
  for (const QChar letter : QStringLiteral("door, open")) {
    QTest::keyClick(note, letter.toLatin1());
    QTest::qWait(120);
  }
  EXPECT_EQ(note->text(), QStringLiteral("door, open")) << "live readings leave it alone";
  QTest::keyClick(note, Qt::Key_Return);
  EXPECT_EQ(note->text(), QString());
  workbench_.document().edit(QStringLiteral("Allowed error"), [](Bench& bench) { bench.channels[0].tolerance = 0.7; });
  workbench_.document().undo();
  QTest::qWait(800);
  click("watch_record");
  QTest::qWait(50);
  EXPECT_FALSE(note->isVisible());
  const auto events = read_events(file("noted.csv").toStdString());
  std::vector<std::string> said;
  for (const RecordingEvent& event : events) said.push_back(event.kind + ": " + event.words);
  EXPECT_THAT(said, testing::ElementsAre("begun: Fernhollow", "note: door, open", "bench: Allowed error",
                                         "bench: taken back: Allowed error", "ended: "));
  EXPECT_TRUE(std::ranges::is_sorted(events, {}, &RecordingEvent::seconds));
  open(file("noted.csv"));
  ASSERT_TRUE(window_.watch().log().watched());
  EXPECT_EQ(window_.watch().log().watched()->happened.size(), 5u);
  // Rows of other channels lie between: its own are one course nevertheless, and judged by themselves.
  const ChannelLog& own = *window_.watch().log().watched()->log;
  EXPECT_LT(own.rows.size(), own.all_rows / 4);
  EXPECT_GT(own.period_s, 0.15) << "of its own rows, not of all";
  int drawn = 0, gaps = 0;
  for (const QCPGraphData& point : *find<QCustomPlot>("log_plot")->graph(0)->data())
    std::isfinite(point.value) ? ++drawn : ++gaps;
  EXPECT_GT(drawn, 4);
  EXPECT_LT(gaps, 2);
  window_.watch().save_view(file("noted.svg"));
  QFile svg(file("noted.svg"));
  ASSERT_TRUE(svg.open(QIODevice::ReadOnly));
  EXPECT_TRUE(svg.readAll().contains("door, open"));
}

TEST_F(WatchTest, AHandOnTheSensorIsSeenLive) {
  // Quick enough for a test: a reading each fifth of a second, of the sensor and of its neighbours.
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench_.listen_to_shed();
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
  EXPECT_TRUE(QTest::qWaitFor(
      [&] { return said().find("Substrate core answers, and the right way: up by") != std::string::npos; }, 20'000))
      << said();
  EXPECT_EQ(said().find("moved instead"), std::string::npos) << said();
  click("touch_next");
  EXPECT_THAT(text("touch_instruction"), HasSubstr("Let go"));
  EXPECT_EQ(find<QPushButton>("touch_next")->text(), QStringLiteral("Once more"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return said().find("Let go, it comes back") != std::string::npos; }, 20'000))
      << said();
  // Another channel begins anew, with what can be done to it.
  workbench_.choose_channel("duct_dark");
  EXPECT_EQ(find<QComboBox>("touch_way")->itemText(0), QStringLiteral("cover it"));
  EXPECT_EQ(find<QPushButton>("touch_next")->text(), QStringLiteral("I begin now"));
}

// A part that compares by itself: its limits typed while readings come, tripped, asked, taken off.
TEST_F(WatchTest, ThePartsOwnLimitsTripLive) {
  workbench_.listen_to_shed();
  workbench_.choose_channel("rack");
  window_.show_view(Page::watch, 4);
  settle();
  EXPECT_THAT(text("alarm_state"), StartsWith("Type a limit"));
  EXPECT_THAT(text("alarm_rules"), HasSubstr("cut to steps of 1 first"));
  EXPECT_THAT(text("alarm_rules"), HasSubstr("alarm search 0xEC"));
  const double now = *workbench_.chosen().reading;
  give_slowly("alarm_upper", QString::number(std::floor(now) - 3) + QStringLiteral(",4"));
  settle();
  EXPECT_TRUE(QTest::qWaitFor([&] { return text("alarm_state").starts_with("Alert"); }, 5000)) << text("alarm_state");
  EXPECT_THAT(text("alarm_state"), HasSubstr("above"));
  EXPECT_THAT(text("alarm_stored"), HasSubstr("which is " + QString::number(std::floor(now) - 3).toStdString()));
  EXPECT_FALSE(find<QPushButton>("alarm_read")->isVisible()) << "the next conversion clears it";
  give_slowly("alarm_upper", QStringLiteral("90"));
  give_slowly("alarm_lower", QStringLiteral("-10"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return text("alarm_state") == "Quiet"; }, 5000)) << text("alarm_state");
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "rack")->limits, (OwnLimits{.upper = 90, .lower = -10}));
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
  EXPECT_TRUE(QTest::qWaitFor([&] { return text("alarm_state").starts_with("Alert"); }, 8000)) << text("alarm_state");
  EXPECT_THAT(text("alarm_rules"), HasSubstr("Pin ALERT is pulled low"));
  click("alarm_read");
  EXPECT_EQ(text("alarm_state"), "Quiet");
  QTest::qWait(2500);
  EXPECT_EQ(text("alarm_state"), "Quiet") << "it calls again only when it comes back";
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// An empty bench has a sentence there, too.
TEST_F(EmptyWatchTest, EveryViewHasSomethingToSay) {
  for (int view = 0; view < 5; ++view) {
    window_.show_view(Page::watch, view);
    QTest::qWait(50);
  }
  EXPECT_EQ(find<QLabel>("alarm_state")->text(), QStringLiteral("This bench has no channels yet."));
}

// The chip that warms itself: recorded from its readings, kept, and the trim of the warm chip begins with it.
TEST_F(WatchTest, OwnWarmthIsRecordedForTheTrim) {
  workbench_.document().edit(QStringLiteral("Quick"),
                             [](Bench& bench) { find_by_id(bench.channels, "board")->period_s = 0.25; });
  workbench_.listen_to_shed();
  workbench_.choose_channel("board");
  window_.show_view(Page::watch, 3);
  settle();
  auto* ways = find<QComboBox>("touch_way");
  ways->setFocus();
  while (ways->currentText() != QStringLiteral("switch it on cold")) QTest::keyClick(ways, Qt::Key_Down, {}, 20);
  EXPECT_THAT(text("touch_instruction"), HasSubstr("without power for an hour"));
  click("touch_next");
  EXPECT_FALSE(find<QPushButton>("touch_keep")->isVisible());
  ASSERT_TRUE(QTest::qWaitFor([&] { return find<QPushButton>("touch_keep")->isVisible(); }, 60'000));
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

// A log as a spreadsheet exports it says how it was read, and another reading can be chosen from the menu.
TEST_F(WatchTest, ALogSaysHowItWasReadAndCanBeReadOtherwise) {
  window_.show_page(Page::watch);
  settle();
  EXPECT_FALSE(find<QPushButton>("watch_as")->isVisible()) << "of a session there is nothing to say";
  const QString path = file("export.csv");
  QFile out(path);
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write("Date;counts\n46350,93825521;2230\n46350,93827836;2231\n46350,93830150;2229\n46350,93832465;2230\n");
  out.close();
  open(path);
  EXPECT_THAT(text("watch_words"), HasSubstr("read as: semicolons, decimal commas, times in days of a spreadsheet"));
  const auto period = [&] { return window_.watch().log().watched()->log->period_s; };
  EXPECT_NEAR(period(), 2, 0.01);
  auto* as = find<QPushButton>("watch_as");
  ASSERT_TRUE(as->isVisible());
  const auto choose = [&](const char* name) {
    as->menu()->findChild<QAction*>(QLatin1String(name))->trigger();
    settle();
  };
  choose("times_seconds");
  EXPECT_NEAR(period(), 2.0 / 86400, 1e-6);
  EXPECT_THAT(text("watch_words"), ::testing::Not(HasSubstr("days")));
  choose("cells_tabs");
  EXPECT_THAT(text("watch_words"), HasSubstr("has no column"));
  choose("cells_auto");
  choose("times_auto");
  EXPECT_NEAR(period(), 2, 0.01);
}

TEST_F(WatchTest, FiltersStandSideBySide) {
  window_.show_view(Page::watch, 1);
  open(log_of(noisy(3000, 8), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  const double noise = window_.watch().log().watched()->review.noise;
  const auto* table = find<QTableWidget>("filters");
  EXPECT_EQ(table->item(3, 0)->text(), QStringLiteral("mean of 16"));
  EXPECT_NEAR(table->item(3, 1)->text().section(QLatin1Char(' '), 0, 0).toDouble(), noise / 4, 0.02 * noise);
  EXPECT_THAT(table->item(3, 2)->text().toStdString(), StartsWith("75"));  // (16 − 1) / 2 rows of 10 s
  // Allowed ±0.5 °C: a twentieth is 0.025; 8 steps of 0.0221 °C are 0.18, so √N must be 7.1: 64 rows.
  EXPECT_THAT(text("filter_verdict"), HasSubstr("mean of 64"));
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(12, 0)).center());
  EXPECT_TRUE(QTest::qWaitFor([&] { return text("filter_words").find("raw × 16") != std::string::npos; }));
  // It is kept for firmware by a button, and taken away by the same.
  EXPECT_EQ(find<QPushButton>("filter_keep")->text(), QStringLiteral("Keep this filter"));
  click("filter_keep");
  const auto kept = [&] { return find_by_id(workbench_.bench().channels, workbench_.channel_id())->filter; };
  ASSERT_TRUE(kept());
  EXPECT_EQ(kept()->kind, FilterKind::exponential);
  EXPECT_EQ(kept()->weight, 0.0625);
  EXPECT_THAT(text("filter_kept"), HasSubstr("exponential, 1/16 of each"));
  EXPECT_EQ(find<QPushButton>("filter_keep")->text(), QStringLiteral("Take the filter away"));
  find<QTableWidget>("filters")->scrollToItem(table->item(6, 0));
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(6, 0)).center());
  EXPECT_TRUE(
      QTest::qWaitFor([&] { return find<QPushButton>("filter_keep")->text() == QStringLiteral("Keep this filter"); }));
  click("filter_keep");
  EXPECT_EQ(kept()->kind, FilterKind::median);
  click("filter_keep");
  EXPECT_FALSE(kept());
}

// 2400 and 2100 counts are about 21.5 and 28.1 °C: ten of each, six times over. A heater at 25 ± 1 is on in every cold
// stretch: on at once, then a change at each of the eleven turns.
TEST_F(WatchTest, ARuleIsTriedOnTheReadingsAndKeptInTheBench) {
  window_.show_view(Page::watch, 2);
  std::vector<int> counts;
  for (int i = 0; i < 120; ++i) counts.push_back(i / 10 % 2 == 0 ? 2400 : 2100);
  open(log_of(counts, [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  workbench_.listen_to_shed();  // numbers come while it is typed
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
    return QTest::qWaitFor([&] { return text("switch_words").find(words) != std::string::npos; }, 5000);
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
    for (Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench_.listen_to_shed();
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
  limit->setFocus();
  limit->selectAll();
  QTest::keyClick(limit, Qt::Key_Delete);
  QTest::qWait(400);
  QTest::keyClick(limit, Qt::Key_Tab);
  EXPECT_FALSE(rule().shutdown_above);
  ASSERT_EQ(window_.watch().record_to(file("switched.csv")), QString());
  QTest::qWait(1500);  // it heats: 25 is far below 39
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
  settle();
  EXPECT_TRUE(
      QTest::qWaitFor([&] { return text("switch_words").find("shut down for good") != std::string::npos; }, 5000))
      << text("switch_words");
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// The same rule in a room that is described by hand, while numbers come: the room itself is drawn beside its readings.
TEST_F(WatchTest, ARuleIsTriedInASimulatedRoom) {
  workbench_.listen_to_shed();
  window_.show_view(Page::watch, 2);
  click("switch_begin");
  EXPECT_FALSE(find<QLineEdit>("room_power")->isVisible());
  click("switch_in_room");
  const auto comes_to = [this](const std::string& words) {
    return QTest::qWaitFor([&] { return text("switch_words").find(words) != std::string::npos; }, 10'000);
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
  workbench_.listen_to_shed();
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
  EXPECT_THAT(text("switch_words"), HasSubstr("switches 2 times; on for 25 %"));
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
  EXPECT_TRUE(QTest::qWaitFor([&] { return text("switch_words").find("no time of day") != std::string::npos; }));
  auto* field = find<QLineEdit>("switch_schedule");
  QTest::mouseClick(field, Qt::LeftButton);
  field->selectAll();
  QTest::keyClick(field, Qt::Key_Backspace);
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_TRUE(kept().empty());
}

TEST_F(WatchTest, ARecordingGoesOnOverPagesAndStarts) {
  window_.show_page(Page::watch);
  EXPECT_THAT(window_.watch().record_to(file("none/day.csv")).toStdString(), testing::IsEmpty())
      << "a folder may still come: a drive that is being mounted";
  EXPECT_TRUE(workbench_.recording().is_on());
  workbench_.recording().end();
  ASSERT_EQ(window_.watch().record_to(file("day")), QString());
  workbench_.listen_to_shed();
  window_.show_page(Page::home);  // it goes on
  ASSERT_TRUE(QTest::qWaitFor([this] { return workbench_.recording().rows() >= 8; }, 15'000));
  window_.show_page(Page::watch);
  EXPECT_THAT(text("watch_recording"), HasSubstr("Recording to day.csv"));
  click("watch_record");
  EXPECT_FALSE(workbench_.recording().is_on());
  const auto lines = [this] {
    QFile in(file("day.csv"));
    EXPECT_TRUE(in.open(QIODevice::ReadOnly));
    return QString::fromUtf8(in.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
  };
  const auto first = lines();
  EXPECT_TRUE(first.front().startsWith(QStringLiteral("time,"))) << first.front().toStdString();
  EXPECT_GE(first.size(), 9);
  // A place for every channel, also for those that are read seldom.
  EXPECT_EQ(first.front().count(QLatin1Char(',')), static_cast<qsizetype>(workbench_.bench().channels.size()));
  EXPECT_TRUE(QFile::exists(file("day.csv-metadata.json")));
  // The same file again is gone on with.
  ASSERT_EQ(window_.watch().record_to(file("day.csv")), QString());
  ASSERT_TRUE(QTest::qWaitFor([this] { return workbench_.recording().rows() >= 2; }, 15'000));
  EXPECT_EQ(workbench_.recording().end(), QString());
  const auto second = lines();
  EXPECT_GT(second.size(), first.size());
  EXPECT_EQ(second.first(first.size()), first);
  open(file("day.csv"));
  ASSERT_TRUE(window_.watch().log().watched()) << window_.watch().log().fault().toStdString();
  EXPECT_EQ(window_.watch().log().watched()->log->all_rows, static_cast<std::size_t>(second.size() - 1));
  // What is no recording is left as it is.
  EXPECT_THAT(window_.watch().record_to(workbench_.document().path()).toStdString(), HasSubstr("the file begins with"));
}

TEST(EmptyWatch, SaysWhatItWouldDo) {
  Theme theme;
  Workbench workbench;
  Theme::load_faces();
  MainWindow window(theme, workbench);
  window.show();
  for (int view = 0; view < 3; ++view) {
    window.show_view(Page::watch, view);
    QTest::qWait(50);
  }
  EXPECT_THAT(window.findChild<QLabel*>(QStringLiteral("watch_words"))->text().toStdString(),
              HasSubstr("no channels yet"));
}

}  // namespace fair_gauge::app::watch_view_test
