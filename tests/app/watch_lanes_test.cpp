// Several channels over one time, spans that are marked, logs that grow: in the real window, live.
#include <qcustomplot.h>

#include <QCheckBox>
#include <QDateTime>
#include <QMenu>
#include <QTableWidget>

#include "sources/recording.h"
#include "watch.h"
#include "watch/log_plot.h"

namespace fair_gauge::app::watch_lanes_test {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::Not;

class LanesTest : public WatchTest {
 protected:
  QCustomPlot& plot() { return *window_.findChild<QCustomPlot*>(QStringLiteral("log_plot")); }
  LogPlot& page_plot() { return *window_.findChild<LogPlot*>(); }
  const Watched& watched() { return *window_.watch().log().watched(); }
  // Ticks boxes in the open list, one after the other.
  void tick(const std::vector<const char*>& names) {
    QMenu* menu = find<QPushButton>("watch_beside")->menu();
    menu->popup(window_.mapToGlobal(QPoint(300, 200)));
    for (const char* name : names) {
      auto* box = menu->findChild<QCheckBox*>(QStringLiteral("beside_") + QLatin1String(name));
      ASSERT_TRUE(box) << name;
      QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
      QTest::qWait(60);
    }
    EXPECT_TRUE(menu->isVisible()) << "it stays open while boxes are ticked";
    menu->close();
    settle_beside(names.size());
  }
  void settle_beside(std::size_t count) {
    EXPECT_TRUE(comes([&] { return window_.watch().log().watched() && watched().beside.size() == count; }));
    QTest::qWait(60);
  }
  // The shed sends two readings a second.
  void quick() {
    workbench_.document().edit(QStringLiteral("often"),
                               [](Bench& bench) { find_by_id(bench.channels, "substrate")->period_s = 0.5; });
    workbench_.listen_to_simulation();
    EXPECT_TRUE(comes([&] { return watched().log->period_s == 0.5 && watched().log->rows.size() > 1000; }));
  }
  void arrange(const char* words) {
    auto* box = find<QComboBox>("watch_arrangement");
    box->setCurrentText(QLatin1String(words));
    emit box->activated(box->currentIndex());
    QTest::qWait(60);
  }
  std::vector<std::string> names() {
    std::vector<std::string> all;
    for (int i = 0; i < plot().itemCount(); ++i)
      if (const auto* text = qobject_cast<QCPItemText*>(plot().item(i)))
        if (!text->text().startsWith(QLatin1String("shaded"))) all.push_back(text->text().toStdString());
    return all;
  }
  QString cell(const char* figure, int column) {
    auto* table = find<QTableWidget>("signal_figures");
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text().startsWith(QLatin1String(figure)))
        return table->item(row, column) ? table->item(row, column)->text() : QString();
    return QStringLiteral("no such figure");
  }
  QString two_columns(const std::function<QString(int)>& row, int rows) {
    const QString path = file("two.csv");
    QFile out(path);
    EXPECT_TRUE(out.open(QIODevice::WriteOnly));
    out.write("time,substrate,spawn_fridge\n");
    for (int i = 0; i < rows; ++i) out.write(row(i).toUtf8());
    return path;
  }
};

TEST_F(LanesTest, ChannelsStandInLanesOverlaidAndAsDifferences) {
  window_.show_page(Page::watch);
  settle();
  EXPECT_FALSE(find<QComboBox>("watch_arrangement")->isVisible()) << "one channel needs no arrangement";
  EXPECT_EQ(plot().axisRectCount(), 1);
  tick({"room", "room_humidity", "room_pressure"});
  EXPECT_EQ(plot().axisRectCount(), 4);
  EXPECT_EQ(find<QPushButton>("watch_beside")->text(), QStringLiteral("Beside it: 3…"));
  EXPECT_THAT(names(), ElementsAre(HasSubstr("Substrate core   "), HasSubstr("Room   "), HasSubstr("Room humidity   "),
                                   HasSubstr("Room pressure   ")));
  // Each lane's own unit, one time axis: what one shows all show.
  EXPECT_EQ(plot().axisRect(2)->axis(QCPAxis::atLeft)->label(), QStringLiteral("%RH"));
  plot().xAxis->setRange(-200, -100);
  for (int i = 1; i < 4; ++i) EXPECT_EQ(plot().axisRect(i)->axis(QCPAxis::atBottom)->range().lower, -200) << i;
  plot().axisRect(3)->axis(QCPAxis::atBottom)->setRange(-300, -150);
  EXPECT_EQ(plot().xAxis->range().lower, -300);
  EXPECT_EQ(plot().axisRect(1)->axis(QCPAxis::atBottom)->range().upper, -150);
  page_plot().show_all();
  // Readings go on to come: the lanes stay, and move on.
  quick();
  const auto before = watched().log->rows.size();
  EXPECT_TRUE(comes([&] { return watched().log->rows.size() > before; }));
  EXPECT_EQ(plot().axisRectCount(), 4);
  EXPECT_EQ(watched().beside.size(), 3u);

  arrange("overlaid");  // temperatures left, humidity right, pressure in a lane of its own
  EXPECT_EQ(plot().axisRectCount(), 2);
  EXPECT_TRUE(plot().yAxis2->visible());
  EXPECT_EQ(plot().yAxis2->label(), QStringLiteral("%RH"));
  EXPECT_EQ(plot().axisRect(1)->axis(QCPAxis::atLeft)->label(), QStringLiteral("hPa"));
  EXPECT_THAT(names(), ElementsAre("Substrate core", "Room", "Room humidity", "Room pressure"));
  // Both temperatures fit into the axis that they share.
  for (const auto* log : {watched().log.get(), watched().beside[0]->log.get()})
    EXPECT_TRUE(plot().yAxis->range().contains(log->rows.back().reading));

  arrange("differences");
  EXPECT_EQ(plot().axisRectCount(), 3);
  EXPECT_THAT(names().back(), HasSubstr("Room above Substrate core"));
  ASSERT_EQ(watched().differences.size(), 1u) << "a humidity is no temperature";
  const double apart = watched().differences[0]->log->rows.back().reading;
  EXPECT_NEAR(apart, watched().beside[0]->log->rows.back().reading - watched().log->rows.back().reading, 0.3);

  // Another channel is chosen: it is not beside itself, and what was beside stays.
  workbench_.choose_channel("room");
  settle_beside(2);
  EXPECT_EQ(watched().name(), QStringLiteral("Room"));
  workbench_.choose_channel("substrate");
  settle_beside(3);
  // An undone channel is passed over.
  workbench_.document().edit(QStringLiteral("fewer"), [](Bench& bench) {
    std::erase_if(bench.channels, [](const Channel& channel) { return channel.id == "room_pressure"; });
  });
  settle_beside(2);
  EXPECT_EQ(plot().axisRectCount(), 2);
}

TEST_F(LanesTest, NoMoreThanSevenStandBesideAnother) {
  window_.show_page(Page::watch);
  settle();
  tick({"spawn_fridge", "duct_dark", "steamer", "board", "filter", "room", "rack"});
  QMenu* menu = find<QPushButton>("watch_beside")->menu();
  menu->popup(window_.mapToGlobal(QPoint(300, 200)));
  EXPECT_FALSE(menu->findChild<QCheckBox*>(QStringLiteral("beside_grow_light"))->isEnabled());
  EXPECT_TRUE(menu->findChild<QCheckBox*>(QStringLiteral("beside_rack"))->isEnabled());
  menu->close();
  EXPECT_EQ(plot().axisRectCount(), 8);
  for (int i = 0; i < 8; ++i) EXPECT_GT(plot().axisRect(i)->height(), 20) << i;
}

// Four minutes of a reading a second: 24 °C for three quarters of them, then 22.4.
TEST_F(LanesTest, AMarkedSpanHasItsOwnFigures) {
  window_.show_page(Page::watch);
  open(log_of(noisy(240, 2), [](std::size_t i) { return static_cast<double>(i); }));
  page_plot().show_all();
  EXPECT_TRUE(find<QTableWidget>("signal_figures")->isColumnHidden(2)) << "all of it is in view";
  const auto x_of = [&](double seconds) { return static_cast<int>(std::lround(plot().xAxis->coordToPixel(seconds))); };
  const int y = plot().axisRect()->center().y();
  QTest::mousePress(&plot(), Qt::LeftButton, Qt::ShiftModifier, QPoint(x_of(60), y));
  for (double at = 65; at <= 120; at += 5) {
    QMouseEvent move(QEvent::MouseMove, QPointF(x_of(at), y), plot().mapToGlobal(QPointF(x_of(at), y)), Qt::NoButton,
                     Qt::LeftButton, Qt::ShiftModifier);
    QApplication::sendEvent(&plot(), &move);
    QTest::qWait(15);
  }
  QTest::mouseRelease(&plot(), Qt::LeftButton, Qt::ShiftModifier, QPoint(x_of(120), y));
  ASSERT_TRUE(page_plot().marked());
  EXPECT_NEAR(page_plot().marked()->first, 60, 1);
  EXPECT_NEAR(page_plot().marked()->second, 120, 1);
  EXPECT_NEAR(plot().xAxis->range().lower, 0, 1e-9) << "it marks, it does not move";
  EXPECT_FALSE(find<QTableWidget>("signal_figures")->isColumnHidden(2));
  EXPECT_EQ(find<QTableWidget>("signal_figures")->horizontalHeaderItem(2)->text(), QStringLiteral("marked"));
  EXPECT_THAT(cell("good rows", 2).toStdString(), testing::StartsWith("6"));
  EXPECT_THAT(text("signal_span"), HasSubstr("Marked: "));
  // The other way round is the same span; without Shift it moves.
  page_plot().mark(std::pair(120.0, 60.0));
  EXPECT_EQ(page_plot().marked()->first, 60);
  QTest::mousePress(&plot(), Qt::LeftButton, {}, QPoint(x_of(60), y));
  QTest::mouseRelease(&plot(), Qt::LeftButton, {}, QPoint(x_of(120), y));
  EXPECT_EQ(page_plot().marked()->first, 60);
  click("signal_mark");
  EXPECT_FALSE(page_plot().marked());
  // By the button, for hands without a mouse.
  plot().xAxis->setRange(10, 40);
  click("signal_mark");
  ASSERT_TRUE(page_plot().marked());
  EXPECT_EQ(page_plot().marked()->second, 40);
  EXPECT_THAT(cell("good rows", 2).toStdString(), testing::StartsWith("31"));
}

TEST_F(LanesTest, TimeAboveAndBelowAWantedRangeOrATypedLimit) {
  window_.show_page(Page::watch);
  std::vector<int> counts(100, 2230);
  for (std::size_t i = 60; i < 100; ++i) counts[i] = 2330;
  open(log_of(counts, [](std::size_t i) { return 10.0 * static_cast<double>(i); }));
  const auto& rows = watched().log->rows;
  const double low = std::min(rows[0].reading, rows[99].reading), high = std::max(rows[0].reading, rows[99].reading);
  const bool rises = rows[99].reading > rows[0].reading;
  EXPECT_THAT(cell("above ", 1).toStdString(), HasSubstr("0 s, 0 %"));
  const QString limit = QString::number((low + high) / 2, 'f', 2).replace(QLatin1Char('.'), QLatin1Char(','));
  give_slowly("signal_limit", limit);
  EXPECT_THAT(cell("above ", 1).toStdString(), HasSubstr(rises ? "6.67 min, 40 %" : "10 min, 60 %"));
  EXPECT_THAT(cell("below ", 1).toStdString(), HasSubstr(rises ? "10 min, 60 %" : "6.67 min, 40 %"));
  auto* typed = find<QLineEdit>("signal_limit");
  QTest::keyClick(typed, Qt::Key_Tab, {}, 40);
  EXPECT_THAT(cell("above ", 1).toStdString(), HasSubstr(rises ? "6.67 min, 40 %" : "10 min, 60 %")) << "it stays";
  EXPECT_THAT(typed->text().toStdString(), HasSubstr(limit.left(2).toStdString()));
  click_into(*typed);
  QTest::keyClick(typed, Qt::Key_Delete, {}, 40);
  QTest::keyClick(typed, Qt::Key_Tab, {}, 40);
  EXPECT_THAT(cell("above ", 1).toStdString(), HasSubstr("0 s, 0 %"));
  // It is of this channel only.
  give_slowly("signal_limit", limit);
  workbench_.choose_channel("spawn_fridge");
  window_.watch().look_at_session();
  settle();
  EXPECT_EQ(find<QLineEdit>("signal_limit")->text(), QString());
}

TEST_F(LanesTest, ALogShowsItsOtherColumnsAndSaysWhatItLacks) {
  window_.show_page(Page::watch);
  open(two_columns([](int i) { return QStringLiteral("%1,2230,%2\n").arg(10 * i).arg(1500 + i % 3); }, 80));
  tick({"spawn_fridge"});
  ASSERT_EQ(watched().beside.size(), 1u);
  EXPECT_EQ(watched().beside[0]->log->rows.size(), 80u);
  EXPECT_EQ(watched().beside[0]->log->rows[79].seconds, 790);
  EXPECT_EQ(watched().differences.size(), 1u);
  window_.watch().compare({"substrate", "spawn_fridge", "room"}, Arrangement::lanes);
  ASSERT_TRUE(comes([&] { return !watched().missing.isEmpty(); }));
  EXPECT_THAT(text("watch_words"), HasSubstr("Beside it: room: "));
  EXPECT_EQ(watched().beside.size(), 1u);
}

// Another program goes on writing: what it adds is shown, and the view stays where somebody looks.
TEST_F(LanesTest, ALogThatGrowsIsFollowed) {
  window_.show_page(Page::watch);
  const QString path = log_of(noisy(100, 2), [](std::size_t i) { return 10.0 * static_cast<double>(i); });
  open(path);
  EXPECT_EQ(plot().xAxis->range().lower, 0);
  QFile out(path);
  ASSERT_TRUE(out.open(QIODevice::Append));
  for (int i = 100; i < 150; ++i) out.write(QStringLiteral("%1,2230\n").arg(10 * i).toUtf8());
  out.flush();
  EXPECT_TRUE(comes([&] { return watched().log->rows.size() == 150; }));
  EXPECT_GT(plot().xAxis->range().upper, 1400) << "all of it is shown, also what is new";
  plot().xAxis->setRange(200, 400);
  QTest::mouseClick(&plot(), Qt::LeftButton, {}, QPoint(150, 60));  // a hand has moved it
  plot().xAxis->setRange(200, 400);
  for (int i = 150; i < 160; ++i) out.write(QStringLiteral("%1,2230\n").arg(10 * i).toUtf8());
  out.flush();
  EXPECT_TRUE(comes([&] { return watched().log->rows.size() == 160; }));
  EXPECT_EQ(plot().xAxis->range().upper, 400);
}

// Of a session seconds are before the latest reading: a mark stays with the readings that it was put on.
TEST_F(LanesTest, AMarkMovesWithItsReadings) {
  window_.show_page(Page::watch);
  settle();
  quick();
  const auto rows = watched().log->rows;
  const double from = rows[rows.size() - 60].seconds, to = rows[rows.size() - 30].seconds;
  const double first = rows[rows.size() - 60].raw, last = rows[rows.size() - 30].raw;
  page_plot().mark(std::pair(from - 0.1, to + 0.1));
  const auto size = rows.size();
  EXPECT_TRUE(comes([&] { return watched().log->rows.size() >= size + 4; }));
  EXPECT_LT(page_plot().marked()->second, to - 1);
  const auto [begin, end] = page_plot().looked_at();
  EXPECT_EQ(end - begin, 31u);
  EXPECT_EQ(watched().log->rows[begin].raw, first);
  EXPECT_EQ(watched().log->rows[end - 1].raw, last);
}

TEST_F(LanesTest, ARecordingShowsItsPastAndItsLiveEdge) {
  window_.show_page(Page::watch);
  settle();
  EXPECT_FALSE(find<QPushButton>("watch_recorded")->isVisible());
  quick();
  ASSERT_EQ(window_.watch().record_to(file("week.csv")).toStdString(), "");
  EXPECT_TRUE(comes([&] { return workbench_.recording().rows() >= 3; }));
  click("watch_recorded");
  settle();
  ASSERT_TRUE(comes([&] { return window_.watch().log().watched() && !watched().log->rows.empty(); }));
  EXPECT_FALSE(window_.watch().log().is_session());
  EXPECT_TRUE(watched().is_dated);
  const auto size = watched().log->rows.size();
  EXPECT_TRUE(comes([&] { return watched().log->rows.size() > size; })) << "its edge is live";
  EXPECT_FALSE(find<QPushButton>("watch_recorded")->isVisible());
  click("watch_session");
  settle();
  EXPECT_TRUE(find<QPushButton>("watch_recorded")->isVisible());
  workbench_.recording().end();
}

// Gone on with after a restart: the tape does not begin empty.
TEST_F(LanesTest, ARecordingThatIsGoneOnWithFillsTheTape) {
  const double now = static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000;
  QFile out(file("day.csv"));
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write("time,substrate\n");
  for (const double ago : {5000.0, 300.0, 200.0, 100.0})
    out.write(QStringLiteral("%1,%2\n").arg(now - ago, 0, 'f', 3).arg(2000 + ago / 10).toUtf8());
  out.close();
  workbench_.listen_to_line(file("no such line"), 9600);
  EXPECT_TRUE(workbench_.samples("substrate").empty());
  ASSERT_EQ(window_.watch().record_to(file("day.csv")).toStdString(), "");
  const auto& samples = workbench_.samples("substrate");
  ASSERT_EQ(samples.size(), 3u);
  EXPECT_NEAR(samples.front().seconds, -300, 20);
  EXPECT_EQ(samples.back().raw, 2010);
  window_.show_page(Page::wire);
  QTest::qWait(100);
  EXPECT_TRUE(find<QLabel>("tape_value")->text().endsWith(QStringLiteral("°C")));
  workbench_.recording().end();
  // Once more: what is on the tape already is not put there again.
  ASSERT_EQ(window_.watch().record_to(file("day.csv")).toStdString(), "");
  EXPECT_EQ(workbench_.samples("substrate").size(), 3u);
  workbench_.recording().end();
}

// Where nothing came the tape is empty: a line over it would be readings that nobody took.
TEST_F(LanesTest, TheTapeIsBrokenWhereNothingCame) {
  const double now = static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000;
  QFile out(file("day.csv"));
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write("time,substrate\n");
  for (int ago = 500; ago > 0; ago -= 10)
    if (ago > 300 || ago < 100) out.write(QStringLiteral("%1,%2\n").arg(now - ago, 0, 'f', 3).arg(2000 + ago).toUtf8());
  out.close();
  workbench_.listen_to_line(file("no such line"), 9600);
  ASSERT_EQ(window_.watch().record_to(file("day.csv")).toStdString(), "");
  window_.show_page(Page::wire);
  QTest::qWait(100);
  auto* trace = find<QWidget>("tape_trace");
  const QImage image = trace->parentWidget()->grab(trace->geometry()).toImage();
  const auto is_empty = [&](double share) {  // of the time from the first reading to the last, right of the labels
    const int x = 76 + static_cast<int>(share * (image.width() - 80));
    for (int y = 4; y < image.height() - 4; ++y)
      if (image.pixel(x, y) != image.pixel(x, 4)) return false;
    return true;
  };
  for (const double drawn : {0.1, 0.2, 0.3, 0.9, 0.95}) EXPECT_FALSE(is_empty(drawn)) << drawn;
  for (const double open : {0.5, 0.6, 0.7, 0.8}) EXPECT_TRUE(is_empty(open)) << open;
  workbench_.recording().end();
}

TEST_F(LanesTest, AComparisonOpensHere) {
  workbench_.choose_channel("rack_top");  // not the first on the bench
  window_.show_page(Page::correct);
  window_.show_view(Page::correct, 2);
  QTest::qWait(100);
  for (const char* id : {"compare_rack", "compare_rack_middle"})
    if (auto* box = find<QCheckBox>(id); !box->isChecked()) QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, 8));
  const auto ticked = [&] {
    std::size_t count = 0;
    for (auto* box : window_.findChildren<QCheckBox*>())
      count += box->objectName().startsWith(QLatin1String("compare_")) && box->isChecked() ? 1 : 0;
    return count;
  }();
  click("compare_over_time");
  EXPECT_TRUE(window_.watch().isVisible());
  settle_beside(ticked - 1);
  EXPECT_EQ(find<QComboBox>("watch_arrangement")->currentText(), QStringLiteral("differences"));
  EXPECT_EQ(watched().differences.size(), ticked - 1);
  EXPECT_EQ(watched().chain.channel.id, "rack_top") << "the chosen one is what the others are held against";
}

}  // namespace fair_gauge::app::watch_lanes_test
