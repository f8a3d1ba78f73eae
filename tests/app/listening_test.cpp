// A board that sends values which its own firmware converted: from the first start to a calibrated reading, by hand.
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QTemporaryDir>
#include <filesystem>

#include "board.h"
#include "truth/error_budget.h"
#include "widgets/plain_table.h"
#include "window.h"

namespace fair_gauge::app::listening_test {

using testing::HasSubstr;

class ListeningTest : public EmptyWindow {
 protected:
  ListeningTest()
      : board_({QStringLiteral("--bench"),
                QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow-packing.fairgauge.json"),
                QStringLiteral("--form"), QStringLiteral("words"), QStringLiteral("--rate"), QStringLiteral("5"),
                QStringLiteral("--baud"), QStringLiteral("9600")}),
        path_(board_.path) {
    window_.resize(1280, 800);
  }
  ~ListeningTest() override { workbench_.stop_listening(); }

  // From the start page, with the line's path typed.
  void listen_first() {
    click("listen_first");
    auto* port = find<QComboBox>("port")->lineEdit();
    QTest::mouseClick(port, Qt::LeftButton);
    QTest::keyClicks(port, path_, {}, 20);
  }
  // All words that stand in the window.
  std::string text_of_all() {
    QStringList words;
    for (const QLabel* each : window_.findChildren<QLabel*>())
      if (each->isVisible()) words << each->text();
    return words.join(QLatin1Char('\n')).replace(QChar::Nbsp, QLatin1Char(' ')).toStdString();
  }

  Board board_;
  QString path_;
};

TEST_F(ListeningTest, FromAnEmptyBenchToReadings) {
  ASSERT_FALSE(path_.isEmpty());
  listen_first();
  // Nobody knows the speed. It is the second that people use most.
  click("try_speeds");
  ASSERT_TRUE(comes([&] { return find<QPushButton>("make_channels")->isVisible(); })) << text_of_all();
  EXPECT_EQ(find<QComboBox>("speed")->currentData().toInt(), 9600);
  EXPECT_THAT(find<QPushButton>("make_channels")->text().toStdString(), HasSubstr("2"));
  EXPECT_THAT(find<QPlainTextEdit>("raw_lines")->toPlainText().toStdString(), HasSubstr("°F"));
  click("make_channels");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u);
  EXPECT_FALSE(find<QPushButton>("make_channels")->isVisible());
  EXPECT_TRUE(qobject_cast<QComboBox*>(window_.focusWidget())) << "the keys go on at the names";
  ASSERT_TRUE(comes([&] { return workbench_.chosen().reading && workbench_.chosen().raw; }));
  const double fahrenheit = *workbench_.chosen().raw;
  EXPECT_NEAR(*workbench_.chosen().reading, (fahrenheit - 32) / 1.8, 1e-9);
  EXPECT_TRUE(workbench_.chosen().budget->lacks_accuracy) << "nobody said what measures it";
  window_.show_view(Page::correct, 1);
  ASSERT_TRUE(comes([&] { return find<QTableWidget>("budget")->rowCount() == 1; }));
  EXPECT_THAT(text("budget_summary"), HasSubstr("no sheet states an accuracy, so it may be off by more"));
  auto* sources = find<QTableWidget>("budget");
  for (const int column : {1, 3})
    EXPECT_GE(sources->columnWidth(column), wanted_by_cells(*sources, column)) << "its only row can be read";
  window_.show_page(Page::read);

  // 104 °F typed at a person's pace over the number while the board goes on, in the unit that the board sends: 40 °C.
  QuantityField& world = window_.strip().card(StageName::world)->field();
  QTest::mouseClick(&world, Qt::LeftButton);
  QTest::keyClicks(&world, QStringLiteral("104"), {}, 350);
  QTest::qWait(400);
  EXPECT_EQ(world.text(), QStringLiteral("104"));
  EXPECT_EQ(window_.strip().card(StageName::raw)->field().text(), QStringLiteral("104.0"));
  ASSERT_TRUE(workbench_.chosen().reading);
  EXPECT_NEAR(*workbench_.chosen().reading, 40, 1e-9);
  // And backwards: what 50 °F in the line mean.
  QuantityField& arrives = window_.strip().card(StageName::raw)->field();
  QTest::mouseClick(&arrives, Qt::LeftButton);
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

// The simulation names its channels as the line does; a value that arrives is calibrated like any other.
TEST_F(ListeningTest, TheSimulationSpeaksByTheNamesOfTheLine) {
  window_.open(QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow-packing.fairgauge.json"));
  workbench_.listen_to_simulation();
  ASSERT_TRUE(comes([&] { return !workbench_.samples("packing_air").empty(); }));
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
  ASSERT_TRUE(comes([&] { return find<QPushButton>("try_speeds")->text() == QStringLiteral("Try speeds"); }));
  EXPECT_THAT(find<QLabel>("line_state")->text().toStdString(), HasSubstr("No such line"));
  EXPECT_FALSE(find<QPushButton>("make_channels")->isVisible());
}

// From the first start to a calibrated reading of a board whose library has converted it: live all the while.
TEST_F(ListeningTest, AValueOfALibraryIsCalibratedAgainstAReference) {
  ASSERT_FALSE(path_.isEmpty());
  listen_first();
  auto* speed = find<QComboBox>("speed");
  speed->setCurrentIndex(speed->findData(9600));
  click("connect");
  ASSERT_TRUE(comes([&] { return find<QPushButton>("make_channels")->isVisible(); })) << text_of_all();
  click("make_channels");
  ASSERT_TRUE(comes([&] { return bool(workbench_.chosen().reading); }));
  const std::string id = workbench_.channel_id();
  EXPECT_TRUE(workbench_.chosen().budget->lacks_accuracy);
  ASSERT_TRUE(comes([&] { return workbench_.samples(id).size() > 10; }));
  window_.show_view(Page::correct, 0);
  QTest::qWait(100);
  // The reference says 0.8 °C less than the board does.
  const double reads = *workbench_.chosen().reading;  // shown in °F, and so is the reference
  give_slowly("input_0", QString::number((reads - 0.8) * 9 / 5 + 32, 'f', 2));
  give_slowly("input_1", QStringLiteral("0.18"));
  click("take_point");
  give_slowly("instrument", QStringLiteral("thermometer 7"));
  click("put_in");
  const Correction& correction = workbench_.bench().channels.front().correction;
  ASSERT_EQ(correction.coefficients.size(), 1u);
  EXPECT_NEAR(correction.coefficients[0], -0.8, 0.3) << "the board went on meanwhile";
  EXPECT_EQ(correction.reference, "thermometer 7");
  // One point proves its own neighbourhood: nobody knows the slope of what the library reads.
  ASSERT_TRUE(correction.covered);
  const auto budget = error_budget(*workbench_.chosen().chain, correction.covered->from + correction.coefficients[0]);
  ASSERT_TRUE(budget);
  EXPECT_FALSE(budget->lacks_accuracy) << "the calibration says how far off it may be";
  if (workbench_.chosen().budget->lacks_accuracy) {
    EXPECT_TRUE(workbench_.chosen().budget->is_calibrated_elsewhere);
    window_.show_page(Page::wire);
    QTest::qWait(100);
    EXPECT_THAT(text_of_all(), HasSubstr("A point at each end of the range"));
  }
  EXPECT_NEAR(*workbench_.chosen().reading, (*workbench_.chosen().raw - 32) / 1.8 + correction.coefficients[0], 1e-9);
  // What was found becomes firmware that takes the library's value.
  window_.show_page(Page::handoff);
  auto* code = find<QPlainTextEdit>("handoff_code");
  EXPECT_TRUE(comes([&] { return code->toPlainText().contains(QLatin1String("corrected */")); })) << text_of_all();
  EXPECT_THAT(text_of_all(), HasSubstr("as it arrives, in steps of 1/10 °F"));
  std::filesystem::remove(window_.logbook().path());
}

// A bare board with ten bits and a thermistor, from the first start: named pin, live reading, its error known.
TEST_F(EmptyWindow, AThermistorOnABareBoardIsReadLive) {
  auto* name = find<QLineEdit>("new_bench_name");
  QTest::mouseClick(name, Qt::LeftButton);
  QTest::keyClicks(name, QStringLiteral("Greenhouse"), {}, 60);
  auto* preset = find<QComboBox>("new_bench_preset");
  preset->setCurrentIndex(preset->findText(QStringLiteral("10-bit controller on a 5"), Qt::MatchStartsWith));
  click("new_bench");
  window_.show_view(Page::board, 0);
  auto* part = find<QLineEdit>("part_in_hand");
  QTest::mouseClick(part, Qt::LeftButton);
  QTest::keyClicks(part, QStringLiteral("ntc-beta"), {}, 60);
  click("fit_part");
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  ASSERT_TRUE(workbench_.chosen().chain);
  // Its wire ends at A0.
  window_.show_view(Page::board, 3);
  QTest::qWait(50);
  auto* wires = find<QTableWidget>("wires");
  int line = 0;
  while (line < wires->rowCount() && wires->item(line, 1)->text() != QStringLiteral("signal")) ++line;
  ASSERT_LT(line, wires->rowCount());
  wires->setFocus();
  wires->setCurrentCell(line, 2);
  auto* cell = wires->findChild<QLineEdit*>();
  ASSERT_TRUE(cell);
  QTest::keyClicks(cell, QStringLiteral("A0"), {}, 60);
  QTest::keyClick(cell, Qt::Key_Return);
  QTest::qWait(50);
  const auto& pins = workbench_.bench().board.pins;
  EXPECT_EQ(std::ranges::find(pins, "A0", &Pin::name)->uses, workbench_.bench().devices.front().id);
  // The board is there: the stand-in sends this bench's raw numbers.
  QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("greenhouse.fairgauge.json"));
  ASSERT_TRUE(workbench_.document().save(path));
  const Board board({QStringLiteral("--bench"), path, QStringLiteral("--rate"), QStringLiteral("20")});
  ASSERT_FALSE(board.path.isEmpty());
  window_.show_page(Page::read);
  find<QComboBox>("port")->setCurrentText(board.path);
  click("connect");
  const std::string id = workbench_.channel_id();
  ASSERT_TRUE(comes([&] { return workbench_.samples(id).size() > 5; }));
  const ChannelView& view = workbench_.chosen();
  ASSERT_TRUE(view.reading && view.budget);
  EXPECT_FALSE(view.budget->lacks_accuracy);
  EXPECT_TRUE(view.channel->wanted.contains(*view.reading)) << *view.reading;
  EXPECT_GT(view.budget->expanded, 0);
  workbench_.stop_listening();
}

}  // namespace fair_gauge::app::listening_test
