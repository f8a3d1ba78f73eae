// A board that sends values which its own firmware converted: from the first start to a calibrated reading, by hand.
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QProcess>

#include "window.h"

namespace fair_gauge::app::listening_test {

using testing::HasSubstr;

class ListeningTest : public EmptyWindow {
 protected:
  ListeningTest() {
    board_.start(
        QStringLiteral(FAIR_GAUGE_STAND_IN),
        {QStringLiteral("--bench"), QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow-packing.fairgauge.json"),
         QStringLiteral("--form"), QStringLiteral("words"), QStringLiteral("--rate"), QStringLiteral("5"),
         QStringLiteral("--baud"), QStringLiteral("9600")});
    if (board_.waitForReadyRead(5000)) path_ = QString::fromUtf8(board_.readLine()).trimmed();
    window_.resize(1280, 800);
  }
  ~ListeningTest() override {
    workbench_.stop_listening();
    board_.kill();
    board_.waitForFinished(3000);
  }

  QProcess board_;
  QString path_;
};

TEST_F(ListeningTest, FromAnEmptyBenchToReadings) {
  ASSERT_FALSE(path_.isEmpty());
  click("listen_first");
  auto* port = find<QComboBox>("port")->lineEdit();
  QTest::mouseClick(port, Qt::LeftButton);
  port->selectAll();
  QTest::keyClicks(port, path_, {}, 20);
  // Nobody knows the speed. It is the second that people use most.
  click("try_speeds");
  ASSERT_TRUE(QTest::qWaitFor([&] { return find<QPushButton>("make_channels")->isVisible(); }, 20'000));
  EXPECT_EQ(find<QComboBox>("speed")->currentData().toInt(), 9600);
  EXPECT_THAT(find<QPushButton>("make_channels")->text().toStdString(), HasSubstr("2"));
  EXPECT_THAT(find<QPlainTextEdit>("raw_lines")->toPlainText().toStdString(), HasSubstr("°F"));
  click("make_channels");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u);
  EXPECT_FALSE(find<QPushButton>("make_channels")->isVisible());
  ASSERT_TRUE(QTest::qWaitFor([&] { return workbench_.chosen().reading && workbench_.chosen().raw; }, 5000));
  const double fahrenheit = *workbench_.chosen().raw;
  EXPECT_NEAR(*workbench_.chosen().reading, (fahrenheit - 32) / 1.8, 1e-9);
  EXPECT_TRUE(workbench_.chosen().budget->lacks_accuracy) << "nobody said what measures it";

  // 40 °C typed at a person's pace over the number while the board goes on: 104.0 °F would arrive.
  QuantityField& world = window_.strip().card(StageName::world)->field();
  QTest::mouseClick(&world, Qt::LeftButton);
  world.selectAll();
  QTest::keyClicks(&world, QStringLiteral("40"), {}, 350);
  QTest::qWait(400);
  EXPECT_EQ(world.text(), QStringLiteral("40"));
  EXPECT_EQ(window_.strip().card(StageName::raw)->field().text(), QStringLiteral("104.0"));
  // And backwards: what 50 °F in the line mean.
  QuantityField& arrives = window_.strip().card(StageName::raw)->field();
  QTest::mouseClick(&arrives, Qt::LeftButton);
  arrives.selectAll();
  QTest::keyClicks(&arrives, QStringLiteral("50"), {}, 350);
  const auto reading = workbench_.chosen().reading;
  ASSERT_TRUE(reading);
  EXPECT_NEAR(*reading, 10, 1e-9);

  // The part behind it is named: the level then knows how far off it may be.
  window_.show_page(Page::wire);
  workbench_.choose_stage(StageName::raw);
  QTest::qWait(50);
  auto* part = static_cast<QComboBox*>(window_.wire().findChild<QWidget*>(QStringLiteral("field_3")));
  const int place = part->findText(QStringLiteral("DHT22"), Qt::MatchContains);
  ASSERT_GT(place, 0);
  part->setCurrentIndex(place);
  emit part->activated(place);
  EXPECT_FALSE(workbench_.chosen().budget->lacks_accuracy);
  workbench_.document().undo();
  EXPECT_TRUE(workbench_.chosen().budget->lacks_accuracy);

  // No page falls over a channel without a sensor.
  for_every_view(window_, [&](const std::string& where) { EXPECT_TRUE(window_.isEnabled()) << where; });
}

// The simulated shed names its channels as the line does; a value that arrives is calibrated like any other.
TEST_F(ListeningTest, TheSimulatedShedSpeaksByTheNamesOfTheLine) {
  window_.open(QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow-packing.fairgauge.json"));
  workbench_.listen_to_shed();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !workbench_.samples("packing_air").empty(); }, 5000));
  window_.show_page(Page::home);
  EXPECT_THAT(find<QLabel>("home_subtitle")->text().toStdString(), HasSubstr("nobody knows"));
  Bench bench = workbench_.bench();
  bench.channels[0].correction = {.coefficients = {0.5}, .standard_uncertainty = 0.1, .covered = Range{8, 26}};
  workbench_.document().replace(QStringLiteral("by hand"), bench);
  const ChannelView& view = workbench_.view("packing_air");
  ASSERT_TRUE(view.reading && view.raw && view.budget);
  EXPECT_NEAR(*view.reading, (*view.raw - 32) / 1.8 + 0.5, 1e-9);
  EXPECT_FALSE(view.budget->lacks_accuracy) << "the calibration says how far off it may be";
}

TEST_F(ListeningTest, FirmwareThatSendsTheBenchIsCopied) {
  window_.open(QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow.fairgauge.json"));
  window_.show_view(Page::read, 0);
  ASSERT_TRUE(find<QPushButton>("sketch")->isVisible());
  find<QAction>("sketch_c")->trigger();
  EXPECT_THAT(QApplication::clipboard()->text().toStdString(), HasSubstr("{\"substrate\", "));
  find<QAction>("sketch_python")->trigger();
  EXPECT_THAT(QApplication::clipboard()->text().toStdString(), HasSubstr("(\"substrate\", "));
}

// The numbers that nobody described stay on the line's page; what has no speed says so.
TEST_F(ListeningTest, ALineThatIsNotThereIsNamed) {
  click("listen_first");
  find<QComboBox>("port")->setCurrentText(QStringLiteral("/dev/no-such-line"));
  click("try_speeds");
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return find<QPushButton>("try_speeds")->text() == QStringLiteral("Try speeds"); }, 20'000));
  EXPECT_THAT(find<QLabel>("line_state")->text().toStdString(), HasSubstr("No such line"));
  EXPECT_FALSE(find<QPushButton>("make_channels")->isVisible());
}

}  // namespace fair_gauge::app::listening_test
