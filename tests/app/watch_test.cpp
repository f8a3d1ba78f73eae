// The Watch page: signals judged, filtered, switched on and recorded, in the real window.
#include <qcustomplot.h>

#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QMenu>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTimer>

#include <cmath>
#include <random>

#include "sources/recording.h"
#include "stream/recording_events.h"
#include "watch.h"
#include "watch/log_plot.h"
#include "watch/watch_page.h"

namespace fair_gauge::app::watch_view_test {

using testing::HasSubstr;
using testing::StartsWith;

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
  auto* figures = find<QTableWidget>("signal_figures");
  EXPECT_TRUE(comes([&] { return figures->rowCount() > 0; })) << "of many rows a moment later";
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
  // A part of it: its own mean and spread stand beside them, held against the plain loop.
  auto* plot = window_.findChild<LogPlot*>();
  plot->bring_into_view(60'000, 110'000);
  QApplication::processEvents();
  const auto [from, to] = plot->in_view();
  ASSERT_GT(to - from, 100'000u);
  double sum = 0;
  for (std::size_t i = from; i < to; ++i) sum += window_.watch().log().watched()->log->rows[i].reading;
  EXPECT_TRUE(comes([&] { return !figures->isColumnHidden(2); }));
  EXPECT_EQ(figures->horizontalHeaderItem(2)->text(), QStringLiteral("in view"));
  EXPECT_NEAR(figures->item(1, 2)->text().split(QLatin1Char(' ')).front().toDouble(),
              sum / static_cast<double>(to - from), 0.001);
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
  const int count = is_sanitized ? 400'000 : 3'000'000;
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
  std::string said;
  QObject here;
  QObject::connect(&log, &WatchLog::changed, &here, [&] { said += text("watch_words") + '\n'; });
  QObject::connect(&log, &WatchLog::partly, &here, [&](const std::shared_ptr<const Watched>& so_far) {
    ++pieces;
    EXPECT_TRUE(log.is_opening());
    EXPECT_EQ(find<QPushButton>("watch_session")->text(), QStringLiteral("Stop reading"));
    EXPECT_EQ(so_far->log->rows.front().seconds, 0);
    EXPECT_TRUE(so_far->is_in_order);
  });
  window_.watch().open(out.fileName());
  EXPECT_TRUE(comes([&] { return pieces > 0; }));
  EXPECT_THAT(said, HasSubstr("Reading long.csv"));
  click("watch_session");  // a slow machine may have read it all by now: this session is gone back to either way
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
              HasSubstr(is_sanitized ? "400\u2009000 rows of long.csv" : "3\u2009000\u2009000 rows of long.csv"));
  window_.show_view(Page::watch, 1);
  EXPECT_TRUE(comes([&] { return !text("filter_words").empty(); }));
  EXPECT_THAT(text("filter_words"), HasSubstr("shift it right"));
}

// What is in view is saved: rows that are a log again, a list for others, pictures; what is there is not destroyed.
TEST_F(WatchTest, TheViewIsSaved) {
  window_.show_page(Page::watch);
  open(log_of(noisy(500, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  const auto saved = [&](const char* name) {
    window_.watch().save_view(file(name));
    EXPECT_TRUE(comes([&] { return text("watch_recording").find("Writing") == std::string::npos; }));
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
  const QByteArray html = saved("view.html");
  EXPECT_TRUE(html.contains("data:image/png;base64,iVBOR")) << "its picture goes with it";
  EXPECT_TRUE(
      html.contains(QStringLiteral("<td>good rows</td><td>%1 of %1</td><td>500 of 500</td>").arg(to - from).toUtf8()));
  EXPECT_TRUE(saved("view.pdf").startsWith("%PDF"));
  EXPECT_THAT(text("watch_recording"), HasSubstr("view.pdf holds the report"));
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
  workbench_.listen_to_simulation();
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

// A board that did not know the time yet, and rows without a heading: drawn all the same, and said.
TEST_F(WatchTest, ALogWithoutTimesOrHeadingIsDrawnAndSaid) {
  window_.show_page(Page::watch);
  const auto write = [&](const char* name, QByteArray rows) {
    QFile out(file(name));
    EXPECT_TRUE(out.open(QIODevice::WriteOnly));
    out.write(rows);
    return file(name);
  };
  QByteArray rows = "time,counts\nno clock,2231\n";
  for (int i = 0; i < 50; ++i)
    rows += QByteArray::number(1'795'559'460 + 10 * i) + "," + QByteArray::number(2230 + i % 3) + "\n";
  open(write("clock.csv", rows));
  EXPECT_THAT(text("watch_words"), HasSubstr("Rows whose time cannot be read: 1, the first is row 1"));
  EXPECT_EQ(figure(0), QStringLiteral("51 of 51"));
  auto* plot = window_.findChild<LogPlot*>();
  EXPECT_EQ(plot->in_view(), std::make_pair(std::size_t{0}, std::size_t{51}));
  EXPECT_TRUE(window_.watch().log().watched()->is_dated);
  open(write("bare.csv", "2230\n2231\n2229\n"));
  EXPECT_THAT(text("watch_words"), HasSubstr("bare.csv. No header: the last column is taken"));
  EXPECT_EQ(figure(0), QStringLiteral("3 of 3"));
}

// A log of somebody else's: its column has another name, which is said in full and chosen from the list by mouse; the
// next channel has its own.
TEST_F(WatchTest, TheColumnOfALogIsChosen) {
  window_.show_page(Page::watch);
  const QString path = file("theirs.csv");
  QFile out(path);
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write(
      "Zeit;roh;Bemerkung\n2026-11-28 08:00:00;2230;\n2026-11-28 08:00:02;2231;kalt\n2026-11-28 08:00:04;2229;\n");
  out.close();
  open(path);
  EXPECT_THAT(text("watch_words"), HasSubstr("has no column"));
  auto* words = find<QLabel>("watch_words");
  EXPECT_GE(words->height(), words->heightForWidth(words->width())) << "nothing of it is cut off";
  auto* as = find<QPushButton>("watch_as");
  ASSERT_TRUE(as->isVisible());
  QTimer::singleShot(300, as->menu(), [as] {
    QAction* column = nullptr;
    for (QAction* each : as->menu()->actions())
      if (each->text() == QLatin1String("roh")) column = each;
    ASSERT_TRUE(column);
    QTest::mouseClick(as->menu(), Qt::LeftButton, {}, as->menu()->actionGeometry(column).center());
  });
  QTest::mouseClick(as, Qt::LeftButton);
  EXPECT_TRUE(comes([&] { return window_.watch().log().watched() != nullptr; }));
  ASSERT_TRUE(window_.watch().log().watched());
  EXPECT_EQ(window_.watch().log().watched()->log->rows.size(), 3u);
  EXPECT_EQ(window_.watch().log().watched()->log->rows[1].raw, 2231);
  workbench_.choose_channel("spawn_fridge");
  settle();
  EXPECT_THAT(text("watch_words"), HasSubstr("has no column")) << "that was the other channel's";
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
  // What the words name is tried until somebody chooses another.
  EXPECT_EQ(table->currentRow(), 5);
  open(log_of(noisy(3000, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  EXPECT_THAT(text("filter_verdict"), HasSubstr(table->item(table->currentRow(), 0)->text().toStdString() + "."));
  EXPECT_NE(table->currentRow(), 5);
  open(log_of(noisy(3000, 8), [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(12, 0)).center());
  EXPECT_TRUE(comes([&] { return text("filter_words").find("raw × 16") != std::string::npos; }));
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
  EXPECT_TRUE(comes([&] { return find<QPushButton>("filter_keep")->text() == QStringLiteral("Keep this filter"); }));
  click("filter_keep");
  EXPECT_EQ(kept()->kind, FilterKind::median);
  click("filter_keep");
  EXPECT_FALSE(kept());
}

TEST_F(WatchTest, ARecordingGoesOnOverPagesAndStarts) {
  window_.show_page(Page::watch);
  EXPECT_THAT(window_.watch().record_to(file("none/day.csv")).toStdString(), testing::IsEmpty())
      << "a folder may still come: a drive that is being mounted";
  EXPECT_TRUE(workbench_.recording().is_on());
  workbench_.recording().end();
  ASSERT_EQ(window_.watch().record_to(file("day")), QString());
  workbench_.listen_to_simulation();
  window_.show_page(Page::home);  // it goes on
  ASSERT_TRUE(comes([this] { return workbench_.recording().rows() >= 8; }));
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
  ASSERT_TRUE(comes([this] { return workbench_.recording().rows() >= 2; }));
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
