// The Correct page and the Logbook, driven in the real window on the simulation.
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QToolTip>
#include <fstream>

#include "calibrate/apply_correction.h"
#include "correct/correct_page.h"
#include "logbook/logbook_page.h"
#include "sources/simulated_source.h"
#include "window.h"

namespace fair_gauge::app::correct_test {

using testing::HasSubstr;

class CorrectTest : public WindowTest {
 protected:
  CorrectTest() {
    std::filesystem::remove(window_.logbook().path());
    workbench_.listen_to_simulation();
    workbench_.stop_listening();
    workbench_.choose_channel("spawn_fridge");
  }
  CalibrateView& open() {
    window_.show_page(Page::correct);
    window_.correct().show_view(0);
    QTest::qWait(1);
    return *window_.findChild<CalibrateView*>();
  }
  void choose(const char* name, const QString& words) {
    auto* box = find<QComboBox>(name);
    const int at = box->findText(words, Qt::MatchStartsWith);
    ASSERT_GE(at, 0) << words.toStdString();
    box->setCurrentIndex(at);
    emit box->activated(at);
    QTest::qWait(1);
  }
};

// Nobody presses Enter before the click that takes the point.
TEST_F(CorrectTest, WhatIsTypedCountsBeforeItIsSettled) {
  CalibrateView& view = open();
  auto* reference = find<QLineEdit>("input_0");
  auto* take = find<QPushButton>("take_point");
  EXPECT_FALSE(take->isEnabled());
  click_into(*reference);
  EXPECT_EQ(type_slowly(*reference, QStringLiteral("4,5")), QStringLiteral("4,5"));
  EXPECT_TRUE(take->isEnabled());
  EXPECT_THAT(text("reference_words"), HasSubstr("4.5"));
  QTest::keyClick(reference, Qt::Key_X);
  EXPECT_FALSE(take->isEnabled()) << "4,5x is no temperature";
  QTest::keyClick(reference, Qt::Key_Escape);
  EXPECT_FALSE(take->isEnabled()) << "nothing was given before";
  EXPECT_TRUE(reference->text().isEmpty());
  EXPECT_EQ(type_slowly(*reference, QStringLiteral("4.5")), QStringLiteral("4.5"));
  click("take_point");
  ASSERT_EQ(view.points().size(), 1u);
  EXPECT_DOUBLE_EQ(view.points()[0].reference, 4.5);
}

TEST_F(CorrectTest, AHiddenOffsetIsFoundAndPutIn) {
  // The true value is what the simulation does; the sensor is made to read 1.2 °C too high by a wrong offset of its
  // part.
  CalibrateView& view = open();
  const Series live = live_series(workbench_, "spawn_fridge");
  ASSERT_GT(live.values.size(), 20u);
  const double reads = live.values.back();
  give("input_0", QString::number(reads - 1.2, 'f', 2));
  give("input_1", QStringLiteral("0.1"));
  EXPECT_THAT(text("reference_words"), HasSubstr("read from the reference instrument"));
  click("take_point");
  ASSERT_EQ(view.points().size(), 1u);
  EXPECT_THAT(text("model_why"), HasSubstr("One point"));
  EXPECT_THAT(text("fit_verdict"), HasSubstr("318 % now"));
  find<QLineEdit>("instrument")->setText(QStringLiteral("thermometer 7, certificate of spring"));
  click("put_in");
  const Correction& correction = find_by_id(workbench_.bench().channels, "spawn_fridge")->correction;
  ASSERT_EQ(correction.coefficients.size(), 1u);
  EXPECT_NEAR(correction.coefficients[0], -1.2,
              0.25);  // within its own uncertainty: spread of the readings and the reference
  EXPECT_LT(workbench_.chosen().used(), 1);
  EXPECT_THAT(window_.banner_text().toStdString(), HasSubstr("the logbook has it"));
  // The logbook has the point and the verdict; undoing the bench does not touch it.
  const auto* logbook = &window_.logbook();
  const LogEntry& entry = logbook->logbook().entries.back();
  ASSERT_TRUE(entry.calibration);
  EXPECT_EQ(entry.calibration->points.size(), 1u);
  EXPECT_EQ(entry.calibration->reference, "thermometer 7, certificate of spring");
  EXPECT_GT(entry.calibration->used_before, entry.calibration->used_after);
  workbench_.document().undo();
  EXPECT_TRUE(find_by_id(workbench_.bench().channels, "spawn_fridge")->correction.empty());
  EXPECT_EQ(window_.logbook().logbook().entries.back().number, entry.number);
}

// A correction changes what a sensor of the shed is read as, not the sensor; a bench that is opened with a correction
// has a sensor that needs it.
TEST_F(CorrectTest, ASimulatedSensorStaysAsItIs) {
  const auto answers = [&](const Bench& now, const Bench& opened) {
    SimulatedSource shed(7, 0);
    shed.take_specimens(opened);
    shed.follow(now, workbench_.catalogue(), {});
    return shed.skip(600)["spawn_fridge"];
  };
  const Bench plain = workbench_.bench();
  Bench corrected = plain;
  find_by_id(corrected.channels, "spawn_fridge")->correction.coefficients = {-5};
  const auto raw = answers(plain, plain);
  ASSERT_GT(raw.size(), 10u);
  EXPECT_EQ(answers(corrected, plain), raw);
  EXPECT_NE(answers(corrected, corrected), raw);
}

// A bare number is one of the unit that stands on the page, and that is the channel's own.
TEST_F(CorrectTest, AsksAndAnswersInTheUnitThatIsShown) {
  CalibrateView& view = open();
  workbench_.document().edit(QStringLiteral("x"),
                             [](Bench& bench) { find_by_id(bench.channels, "spawn_fridge")->unit = "[degF]"; });
  QTest::qWait(50);
  EXPECT_EQ(find<QLineEdit>("input_0")->placeholderText(), QStringLiteral("°F"));
  give_slowly("input_0", QStringLiteral("41"));
  give_slowly("input_1", QStringLiteral("0.9"));
  EXPECT_THAT(text("reference_words"), testing::StartsWith("41.0 °F (±1.0 °F")) << "0.9 evenly spread";
  EXPECT_THAT(text("reference_words"), HasSubstr("k = 2"));
  click("take_point");
  ASSERT_EQ(view.points().size(), 1u);
  EXPECT_NEAR(view.points().front().reference, 5, 1e-9);
  EXPECT_NEAR(view.points().front().reference_standard, 0.5 / std::sqrt(3.0), 1e-9);
  EXPECT_EQ(view.findChild<QTableWidget*>()->item(0, 0)->text(), QStringLiteral("41.0 °F"));
  EXPECT_THAT(find<QPlainTextEdit>("paste_points")->placeholderText().toStdString(), HasSubstr("in °F"));
  find<QTableWidget>("points")->setCurrentCell(0, 0);
  click("drop_point");
  find<QPlainTextEdit>("paste_points")->setPlainText(QStringLiteral("reference,reading,uncertainty\n32,33.8,0.18\n"));
  QTest::qWait(1);
  ASSERT_EQ(view.points().size(), 1u);
  EXPECT_NEAR(view.points().front().reference, 0, 1e-9);
  EXPECT_NEAR(view.points().front().reading, 1, 1e-9);
  EXPECT_NEAR(view.points().front().reference_standard, 0.1, 1e-9);
  // What is put in place is of the chain's own unit.
  click("put_in");
  EXPECT_NEAR(find_by_id(workbench_.bench().channels, "spawn_fridge")->correction.coefficients.front(), -1, 1e-9);
}

// Rows typed beside a point that was taken: it stays, whatever half a row says on the way, and one that is taken then
// stands with the taken ones.
TEST_F(CorrectTest, TypedPointsStandBesideTakenOnes) {
  CalibrateView& view = open();
  give_slowly("input_0", QStringLiteral("5"));
  click("take_point");
  ASSERT_EQ(view.points().size(), 1u);
  auto* field = find<QPlainTextEdit>("paste_points");
  QTest::mouseClick(field->viewport(), Qt::LeftButton);
  for (const char key : std::string("-4 -3,8\n14 14,4")) {
    if (key == '\n')
      QTest::keyClick(field, Qt::Key_Return);
    else
      QTest::keyClick(field, key);
    QTest::qWait(250);
    ASSERT_GE(view.points().size(), 1u);
    EXPECT_EQ(view.points().front().reference, 5) << "the one that was taken";
  }
  ASSERT_EQ(view.points().size(), 3u);
  EXPECT_NEAR(view.points()[1].reading, -3.8, 1e-9);
  EXPECT_NEAR(view.points()[2].reading, 14.4, 1e-9);
  click("take_point");
  ASSERT_EQ(view.points().size(), 4u);
  EXPECT_EQ(view.points()[1].reference, 5);
  QTest::mouseClick(field->viewport(), Qt::LeftButton);
  QTest::keyClick(field, Qt::Key_End, Qt::ControlModifier);
  QTest::keyClick(field, '5');
  ASSERT_EQ(view.points().size(), 4u);
  EXPECT_NEAR(view.points()[3].reading, 14.45, 1e-9) << "its own row has changed, and no other";
  click("put_in");
  EXPECT_TRUE(view.points().empty());
  EXPECT_TRUE(field->toPlainText().isEmpty());
  EXPECT_FALSE(find_by_id(workbench_.bench().channels, "spawn_fridge")->correction.empty());
}

TEST_F(CorrectTest, PointsUnderWaySurviveAndFaultyTextIsSaid) {
  CalibrateView& view = open();
  auto* paste = find<QPlainTextEdit>("paste_points");
  paste->setPlainText(
      QStringLiteral("reference,reading,uncertainty\n0,0.4,0.05\n5,5.5,0.05\n10,10.6,0.05\n15,15.7,warm\n"));
  EXPECT_THAT(text("model_why"), HasSubstr("5:9: \"warm\" is no number"));
  EXPECT_TRUE(view.points().empty());
  paste->setPlainText(
      QStringLiteral("reference,reading,uncertainty\n0,0.4,0.05\n5,5.5,0.05\n10,10.6,0.05\n15,15.7,0.05\n"));
  EXPECT_EQ(view.points().size(), 4u);
  workbench_.choose_channel("steamer");
  EXPECT_TRUE(view.points().empty());
  workbench_.choose_channel("spawn_fridge");
  ASSERT_EQ(view.points().size(), 4u);
  EXPECT_EQ(find<QTableWidget>("points")->rowCount(), 4);
  find<QTableWidget>("points")->setCurrentCell(3, 0);
  click("drop_point");
  EXPECT_EQ(view.points().size(), 3u);
}

TEST_F(CorrectTest, EveryModelAndPlaceGivesACorrectionThatReadsThePoints) {
  CalibrateView& view = open();
  find<QPlainTextEdit>("paste_points")
      ->setPlainText(QStringLiteral(
          "reference,reading,uncertainty\n-4,-3.8,0.02\n0,0.25,0.02\n5,5.3,0.02\n10,10.36,0.02\n14,14.4,0.02\n"));
  const auto points = view.points();
  auto* model = find<QComboBox>("model");
  for (int i = 0; i < model->count(); ++i) {
    for (const char* place : {"on the reading", "on the raw number", "in the firmware"}) {
      view.set_points(points);
      model->setCurrentIndex(i);
      emit model->activated(i);
      choose("correction_place", QString::fromLatin1(place));
      ASSERT_TRUE(find<QPushButton>("put_in")->isEnabled()) << i << place;
      click("put_in");
      const auto& chain = workbench_.view("spawn_fridge").chain;
      ASSERT_TRUE(chain) << place;
      const Correction& correction = chain->channel.correction;
      EXPECT_FALSE(correction.empty());
      // An uncorrected reading of 5.3 becomes 5 within what the model leaves; in the firmware it arrives corrected.
      if (correction.placed != CorrectionPlace::firmware && !model->currentText().startsWith(QStringLiteral("slope"))) {
        const auto without = uncorrected_chain(workbench_.bench(), workbench_.catalogue(), "spawn_fridge");
        const auto raw = raw_for(*without, 5.3);
        ASSERT_TRUE(raw);
        EXPECT_NEAR(*read_raw(*chain, *raw), 5, 0.15) << i << place;
      }
      workbench_.document().undo();
      window_.show_page(Page::correct);
    }
  }
}

TEST_F(CorrectTest, AThermistorGetsCoefficientsOfItsOwn) {
  workbench_.choose_channel("substrate");
  CalibrateView& view = open();
  // Points of another bead: what the chain reads with B 3950 for a thermistor of B 3800.
  const auto chain = uncorrected_chain(workbench_.bench(), workbench_.catalogue(), "substrate");
  std::vector<RecordedPoint> points;
  for (const double truth : {2.0, 15.0, 25.0, 35.0, 48.0}) {
    const double ohms = 10e3 * std::exp(3800 * (1 / (truth + 273.15) - 1 / 298.15));
    const auto values = evaluate(*chain, {StageName::sensor, ohms});
    RecordedPoint& point = points.emplace_back();
    point.reference = truth;
    point.reference_standard = 0.03;
    point.reading = *values[static_cast<std::size_t>(chain->stage(StageName::compensated) - chain->stages.data())];
  }
  view.set_points(points);
  choose("model", QStringLiteral("the thermistor's own"));
  click("put_in");
  const Device& device = *find_by_id(workbench_.bench().devices, "block_thermistor");
  EXPECT_EQ(device.part, "ntc-steinhart");
  // 1/T = a + b ln R with b = 1/3800 and no cubic term.
  EXPECT_NEAR(device.settings.at("b"), 1 / 3800.0, 2e-6);
  EXPECT_THAT(window_.logbook().logbook().entries.back().words, HasSubstr("own coefficients"));
  const auto fitted = uncorrected_chain(workbench_.bench(), workbench_.catalogue(), "substrate");
  const double ohms = 10e3 * std::exp(3800 * (1 / 293.15 - 1 / 298.15));
  const auto values = evaluate(*fitted, {StageName::sensor, ohms});
  EXPECT_NEAR(*values[static_cast<std::size_t>(fitted->stage(StageName::compensated) - fitted->stages.data())], 20,
              0.03);
}

TEST_F(CorrectTest, WhenTheNextCalibrationIsDueIsSet) {
  workbench_.choose_channel("steamer");
  window_.show_page(Page::logbook);
  give("calibrate_every", QStringLiteral("90"));
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "steamer")->due_days, 90);
  EXPECT_THAT(text("drift_words"), HasSubstr("due today"));  // it never was
}

TEST_F(CorrectTest, EveryProcedureOfEveryChannelLeads) {
  open();
  for (const Channel& channel : Bench(workbench_.bench()).channels) {
    if (is_sanitized && channel.id != "substrate" && channel.id != "board") continue;
    workbench_.choose_channel(channel.id);
    auto* procedures = find<QComboBox>("procedure");
    ASSERT_GT(procedures->count(), 0) << channel.id;
    for (int i = 0; i < procedures->count(); ++i) {
      procedures->setCurrentIndex(i);
      emit procedures->activated(i);
      EXPECT_FALSE(text("reference_words").empty()) << channel.id << " " << procedures->currentText().toStdString();
    }
  }
  workbench_.choose_channel("substrate");
  workbench_.choose_channel("board");
  EXPECT_THAT(find<QComboBox>("procedure")->currentText().toStdString(), HasSubstr("Cold trim"));
}

TEST_F(CorrectTest, APointIsTakenFromASpanOfALog) {
  workbench_.choose_channel("substrate");
  CalibrateView& view = open();
  const auto read = [&](const QString& path) {
    view.open_log(path);
    EXPECT_TRUE(comes([&] { return !view.is_reading(); }));
  };
  read(QStringLiteral("/no/such/log.csv"));
  EXPECT_THAT(text("stability"), HasSubstr("/no/such/log.csv"));
  read(QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow-substrate.csv"));
  auto* plot = view.findChild<QWidget*>(QStringLiteral("span_plot"));
  QTest::mousePress(plot, Qt::LeftButton, {}, QPoint(plot->width() / 2, 30));
  QMouseEvent move(QEvent::MouseMove, QPointF(plot->width() * 0.7, 30),
                   plot->mapToGlobal(QPointF(plot->width() * 0.7, 30)), Qt::NoButton, Qt::LeftButton, {});
  QApplication::sendEvent(plot, &move);
  QTest::mouseRelease(plot, Qt::LeftButton, {}, QPoint(static_cast<int>(plot->width() * 0.7), 30));
  give("input_0", QStringLiteral("24.5"));
  click("take_point");
  ASSERT_EQ(view.points().size(), 1u);
  EXPECT_GT(view.points()[0].readings, 100);
  EXPECT_NEAR(view.points()[0].reading, 24.7, 1.5);
}

TEST_F(CorrectTest, TheBudgetListsEverySourceAndASecondOpinionIsDrawn) {
  workbench_.choose_channel("substrate");
  open();
  window_.correct().show_view(1);
  QTest::qWait(1);
  EXPECT_EQ(find<QTableWidget>("budget")->rowCount(), static_cast<int>(workbench_.chosen().budget->lines.size()));
  EXPECT_THAT(text("budget_summary"), HasSubstr("k = 1.96"));
  click("run_trials");
  EXPECT_TRUE(comes([&] { return !window_.findChild<BudgetView*>()->is_running(); }));
  EXPECT_THAT(text("spread_words"), HasSubstr("the budget says ±0.34 °C"));
  // It can be stopped.
  click("run_trials");
  click("run_trials");
  EXPECT_THAT(text("spread_words"), HasSubstr("Stopped"));
}

TEST_F(CorrectTest, ADoubtThatNoSheetTellsCounts) {
  workbench_.choose_channel("steamer");
  open();
  window_.correct().show_view(1);
  QTest::qWait(1);
  const double before = workbench_.chosen().budget->combined;
  choose("doubt_kind", QStringLiteral("hysteresis"));
  give("doubt_width", QStringLiteral("1,5"));
  EXPECT_NEAR(workbench_.chosen().budget->combined, std::hypot(before, 1.5 / std::sqrt(3.0)), 2e-2);
  workbench_.document().undo();
  EXPECT_NEAR(workbench_.chosen().budget->combined, before, 1e-9);
}

TEST_F(CorrectTest, SensorsThatDisagreeAreToldApart) {
  workbench_.choose_channel("rack");
  open();
  window_.correct().show_view(2);
  QTest::qWait(1);
  EXPECT_THAT(text("agreement"), HasSubstr("do not hold together"));  // three heights are not the same place
  EXPECT_GT(find<QTableWidget>("pairs")->rowCount(), 2);
  choose("agree_one", QStringLiteral("Rack, low"));
  choose("agree_other", QStringLiteral("Rack, middle"));
  EXPECT_THAT(text("line_words"), HasSubstr("it is to read"));
  click("use_line");
  const Correction& correction = find_by_id(workbench_.bench().channels, "rack")->correction;
  EXPECT_EQ(correction.note, "made to agree with Rack, middle");
  EXPECT_NEAR(correction.coefficients.at(0), 1.05, 0.4);
  EXPECT_GT(correction.standard_uncertainty, 0.2) << "as good as the other one, not better";
}

TEST_F(CorrectTest, ALogIsComparedToo) {
  QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("log.csv"));
  std::ofstream log(path.toStdString());
  log << "time,rack,rack_middle,rack_top\n";
  // All three at 20 °C, the last one 4 °C off: 64 sixteenths.
  for (int i = 0; i < 200; ++i) log << i * 2 << "," << 320 + i % 2 << "," << 320 + i % 3 << "," << 384 + i % 2 << "\n";
  log.close();
  workbench_.choose_channel("rack");
  open();
  window_.correct().show_view(2);
  QTest::qWait(1);
  for (const char* id : {"compare_room"})
    if (auto* box = find<QCheckBox>(id); box && box->isChecked()) box->click();
  auto* compare = window_.findChild<CompareChannels*>();
  compare->open_log(path);
  EXPECT_TRUE(comes([&] { return !compare->is_reading(); }));
  EXPECT_THAT(text("agreement"), HasSubstr("Rack, top is the odd one"));
}

TEST_F(CorrectTest, WhatFollowsFromReadingsHasItsUncertainty) {
  open();
  window_.correct().show_view(3);
  QTest::qWait(1);
  auto* table = find<QTableWidget>("derived");
  ASSERT_GE(table->rowCount(), 7);
  for (int i = 0; i < table->rowCount(); ++i) EXPECT_FALSE(table->item(i, 1)->text().isEmpty());
  EXPECT_EQ(table->item(0, 0)->text(), QStringLiteral("dew point"));
  EXPECT_THAT(table->item(5, 4)->text().toStdString(),
              HasSubstr("not absolute"));  // the filter's is a difference itself
  workbench_.document().edit(QStringLiteral("Kind"), [](Bench& bench) {
    Channel& filter = *find_by_id(bench.channels, "filter");
    filter.kind = PressureKind::absolute;
    filter.contributions.push_back({.name = "where it sits", .half_width = 150, .unknown = {}});
  });
  const QString apart = table->item(5, 2)->text();
  QTest::mouseClick(find<QCheckBox>("derived_shared"), Qt::LeftButton, {}, QPoint(8, 8));
  EXPECT_NE(table->item(5, 2)->text(), apart);
}

// Kept from its row it is a channel like any other: live, typed over, watched, its inputs changed, taken back.
TEST_F(CorrectTest, WhatFollowsIsKeptAsAChannel) {
  workbench_.listen_to_simulation();
  open();
  window_.correct().show_view(3);
  QTest::qWait(1);
  auto* table = find<QTableWidget>("derived");
  ASSERT_FALSE(find<QPushButton>("derived_keep")->isEnabled());
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(0, 1)).center());
  QTest::qWait(1200);  // new readings do not take the choice away
  ASSERT_TRUE(find<QPushButton>("derived_keep")->isEnabled());
  const QString stood = table->item(0, 1)->text();
  click("derived_keep");
  EXPECT_THAT(text("derived_kept"), HasSubstr("Dew point is a channel now"));
  EXPECT_EQ(workbench_.channel_id(), "dew_point");
  const ChannelView& view = workbench_.chosen();
  ASSERT_TRUE(view.chain) << to_text(*view.problem);
  ASSERT_TRUE(view.reading) << to_text(view.reading.problem());
  EXPECT_NEAR(*view.reading, stood.split(' ').first().toDouble(), 0.5);
  EXPECT_LE(view.used(), 1.001);
  // A hand warms what is measured, not what is worked out of it.
  window_.show_view(Page::watch, 3);
  EXPECT_THAT(text("touch_instruction"), HasSubstr("choose Room on the shelf"));
  EXPECT_FALSE(find<QPushButton>("touch_next")->isVisible());
  window_.show_view(Page::correct, 3);
  // Its past is worked out with what stood beside it then: it does not jump where the humidity moves now.
  const auto past = workbench_.past("dew_point");
  ASSERT_GT(past.size(), 100u);
  const auto moist = workbench_.past("room_humidity"), warm = workbench_.past("room");
  const double g = std::log(moist[20].second / 100) + 17.62 * warm[20].second / (243.12 + warm[20].second);
  EXPECT_NEAR(past[20].second, 243.12 * g / (17.62 - g), 0.15);
  // What is typed over it goes back to the temperature and the raw number.
  give_slowly("stage_worked_out", QStringLiteral("11,4"));
  ASSERT_TRUE(workbench_.anchor());
  EXPECT_NEAR(*workbench_.chosen().reading, 11.4, 0.01);
  QTest::keyClick(&window_, Qt::Key_Escape);
  window_.show_page(Page::wire);
  workbench_.choose_stage(StageName::derived);
  QTest::qWait(50);
  window_.show_page(Page::watch);
  EXPECT_TRUE(comes([&] { return text("watch_words").find("readings of this session") != std::string::npos; }));
  EXPECT_THAT(text("watch_words"), ::testing::Not(HasSubstr(" 0 readings")));
  workbench_.document().undo();
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "dew_point"), nullptr);
}

// A gauge pressure from one sensor: what it read while nothing drove it is taken off, and taken anew with a button.
TEST_F(CorrectTest, ARiseIsHeldAgainstTheSensorsOwnRest) {
  workbench_.listen_to_simulation();
  open();
  window_.correct().show_view(3);
  QTest::qWait(1);
  auto* second = find<QComboBox>("derived_second");
  second->setFocus();
  QTest::keyClick(second, Qt::Key_End);
  ASSERT_EQ(second->currentText(), QStringLiteral("itself at rest"));
  EXPECT_THAT(text("derived_kept"), HasSubstr("at rest: the mean of 1"));
  auto* table = find<QTableWidget>("derived");
  const auto row_of = [&](const QString& name) {
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text() == name) return row;
    return -1;
  };
  const int row = row_of(QStringLiteral("difference of two pressures"));
  ASSERT_GE(row, 0);
  EXPECT_LT(std::abs(table->item(row, 1)->text().split(' ').first().toDouble()), 0.5) << "hPa: it is at rest now";
  EXPECT_LT(table->item(row, 2)->text().split(' ').first().toDouble(), 0.5) << "hPa, where the sheet alone allows 1";
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(row, 1)).center());
  click("derived_keep");
  const std::string id = workbench_.channel_id();
  const auto rest = [&] { return *find_by_id(workbench_.bench().channels, id)->derived; };
  ASSERT_EQ(rest().of, "room_pressure");
  EXPECT_GT(rest().at_rest, 5);
  ASSERT_TRUE(workbench_.chosen().reading) << to_text(workbench_.chosen().reading.problem());
  EXPECT_LT(std::abs(*workbench_.chosen().reading), 60);
  ASSERT_TRUE(find<QPushButton>("derived_zero")->isVisible());
  // Typed instead, it is another difference; the button takes the rest back.
  window_.show_page(Page::wire);
  workbench_.choose_stage(StageName::derived);
  QTest::qWait(50);
  auto* field = window_.wire().findChild<QLineEdit*>(QStringLiteral("field_1"));
  ASSERT_NE(field, nullptr);
  give_slowly_to(*field, QStringLiteral("900 hPa"));
  EXPECT_EQ(rest().number, 90'000);
  EXPECT_EQ(rest().at_rest, 1);
  EXPECT_GT(*workbench_.chosen().reading, 5000);
  window_.correct().show_view(3);
  window_.show_page(Page::correct);
  QTest::qWait(50);
  click("derived_zero");
  EXPECT_GT(rest().at_rest, 5);
  EXPECT_LT(std::abs(*workbench_.chosen().reading), 60);
  workbench_.document().undo();
  EXPECT_EQ(rest().number, 90'000);
}

// The light of a day comes together while readings come in, and what is typed is the light that makes it.
TEST_F(CorrectTest, TheLightOfADayComesTogether) {
  workbench_.listen_to_simulation();
  open();
  window_.correct().show_view(3);
  QTest::qWait(1);
  auto* light = find<QComboBox>("derived_light");
  light->setFocus();
  QTest::keyClick(light, Qt::Key_End);
  const std::string of = light->currentData().toString().toStdString();
  ASSERT_EQ(of, "grow_light");
  give_slowly("derived_light_hours", QStringLiteral("10 h"));
  auto* table = find<QTableWidget>("derived");
  const int row = table->rowCount() - 1;
  ASSERT_EQ(table->item(row, 0)->text(), QStringLiteral("light dose of a day"));
  const double lux = *workbench_.view(of).reading;
  EXPECT_NEAR(table->item(row, 1)->text().split(' ').first().toDouble(), 10 * lux, 0.05 * 10 * lux);
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualItemRect(table->item(row, 1)).center());
  click("derived_keep");
  ASSERT_EQ(workbench_.channel_id(), "light_dose");
  ASSERT_TRUE(workbench_.chosen().reading) << to_text(workbench_.chosen().reading.problem());
  // By the readings themselves: straight lines between them, from midnight UTC on.
  const auto expected = [&] {
    double area = 0;
    const auto readings = workbench_.past(of);
    for (std::size_t i = 1; i < readings.size(); ++i) {
      const double from = workbench_.wall_clock(readings[i - 1].first), to = workbench_.wall_clock(readings[i].first);
      if (std::floor(from / 86400) == std::floor(workbench_.wall_clock(readings.back().first) / 86400))
        area += (to - from) * (readings[i].second + readings[i - 1].second) / 2;
    }
    return area / 3600;
  };
  const double before = *workbench_.chosen().reading;
  EXPECT_NEAR(before, expected(), 0.01 * expected() + 1);
  EXPECT_TRUE(comes([&] { return *workbench_.chosen().reading > before; })) << "it grows";
  EXPECT_NEAR(*workbench_.chosen().reading, expected(), 0.01 * expected() + 1);
  EXPECT_NEAR(workbench_.past("light_dose").back().second, *workbench_.chosen().reading, 1e-6 * before + 1e-6);
  EXPECT_LE(workbench_.chosen().used(), 1.001);
  // Another calibration, another day's light: it is worked out anew from the raw numbers.
  workbench_.document().edit(QStringLiteral("Twice"), [&](Bench& bench) {
    find_by_id(bench.channels, of)->correction.coefficients = {0, 1};
  });
  EXPECT_NEAR(*workbench_.chosen().reading, expected(), 0.01 * expected() + 1);
  EXPECT_GT(*workbench_.chosen().reading, 1.8 * before);
  window_.show_page(Page::watch);
  EXPECT_TRUE(comes([&] { return text("watch_words").find("readings of this session") != std::string::npos; }));
  window_.show_page(Page::wire);
  give_slowly("stage_worked_out", QStringLiteral("12 klx·h"));
  EXPECT_NEAR(*workbench_.chosen().reading, 12'000, 20);
}

// What no table has: typed slowly with readings coming in, kept, put right on Wire; what cannot be is said and not
// kept.
TEST_F(CorrectTest, AFormulaOfOnesOwnIsTypedAndKept) {
  workbench_.listen_to_simulation();
  open();
  window_.correct().show_view(3);
  QTest::qWait(1);
  auto* table = find<QTableWidget>("derived");
  const int of_the_table = table->rowCount();
  const auto choose = [&](const char* box, const char* id) {
    auto* list = find<QComboBox>(box);
    list->setFocus();
    const int to = list->findData(QString::fromLatin1(id));
    ASSERT_GE(to, 0) << id;
    while (list->currentIndex() != to)
      QTest::keyClick(list, list->currentIndex() < to ? Qt::Key_Down : Qt::Key_Up, {}, 20);
  };
  choose("derived_a", "room");
  choose("derived_b", "rack");
  give_slowly("derived_formula", QStringLiteral("(a+3*b)/"));
  EXPECT_THAT(text("derived_formula_wrong"), HasSubstr("is not understood"));
  EXPECT_EQ(table->rowCount(), of_the_table);
  give_slowly("derived_formula", QStringLiteral("(a+3*b)/4"));
  EXPECT_THAT(text("derived_formula_wrong"), ::testing::IsEmpty());
  ASSERT_EQ(table->rowCount(), of_the_table + 1);
  const auto room = *workbench_.view("room").reading, rack = *workbench_.view("rack").reading;
  const QString shown = table->item(of_the_table, 1)->text();
  EXPECT_NEAR(shown.split(' ').first().toDouble(), (room + 3 * rack) / 4, 0.2) << shown.toStdString();
  EXPECT_TRUE(shown.endsWith(QStringLiteral("°C"))) << shown.toStdString();
  QTest::mouseClick(table->viewport(), Qt::LeftButton, {},
                    table->visualItemRect(table->item(of_the_table, 1)).center());
  click("derived_keep");
  ASSERT_EQ(workbench_.channel_id(), "formula");
  ASSERT_TRUE(workbench_.chosen().chain) << to_text(*workbench_.chosen().problem);
  EXPECT_LE(workbench_.chosen().used(), 1.001);
  // Its stage has the formula; what is not understood is refused and stands there still.
  window_.show_page(Page::wire);
  workbench_.choose_stage(StageName::derived);
  QTest::qWait(50);
  auto* field = window_.wire().findChild<QLineEdit*>(QStringLiteral("field_0"));
  ASSERT_NE(field, nullptr);
  give_slowly_to(*field, QStringLiteral("a+d"));
  const auto kept = [&] { return find_by_id(workbench_.bench().channels, "formula")->derived->formula; };
  EXPECT_EQ(kept(), "(a+3*b)/4");
  EXPECT_EQ(field->text(), QStringLiteral("a+d"));
  // The other's channel chosen for one: they change places, and there is a reading still.
  auto* first = static_cast<QComboBox*>(window_.wire().findChild<QWidget*>(QStringLiteral("field_1")));
  const std::string was_a = find_by_id(workbench_.bench().channels, "formula")->derived->of;
  ASSERT_EQ(was_a, "room");
  const int to = first->findText(QString::fromStdString(find_by_id(workbench_.bench().channels, "rack")->name));
  ASSERT_GE(to, 0);
  first->setFocus();
  while (first->currentIndex() < to) QTest::keyClick(first, Qt::Key_Down, {}, 20);
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "formula")->derived->of, "rack");
  EXPECT_NE(find_by_id(workbench_.bench().channels, "formula")->derived->beside, "rack");
  EXPECT_TRUE(workbench_.chosen().reading);
  field = window_.wire().findChild<QLineEdit*>(QStringLiteral("field_0"));
  give_slowly_to(*field, QStringLiteral("(a+b)/2"));
  EXPECT_EQ(kept(), "(a+b)/2");
  EXPECT_TRUE(workbench_.chosen().reading) << to_text(workbench_.chosen().reading.problem());
}

// ---- the logbook ----

TEST_F(CorrectTest, TheLogbookIsWrittenSearchedAndPutRight) {
  window_.show_page(Page::logbook);
  auto* page = &window_.logbook();
  const auto entries = page->logbook().entries.size();
  ASSERT_GT(entries, 5u);
  auto* note = find<QPlainTextEdit>("note");
  QTest::mouseClick(note->viewport(), Qt::LeftButton);
  QTest::keyClicks(note, QStringLiteral("New lead, twisted"));
  click("add_note");
  ASSERT_EQ(page->logbook().entries.size(), entries + 1);
  EXPECT_EQ(page->logbook().entries.back().channel, "spawn_fridge");
  EXPECT_TRUE(note->toPlainText().isEmpty());
  click("amend");
  QTest::keyClicks(note, QStringLiteral("New lead, shielded"));
  click("add_note");
  EXPECT_EQ(page->logbook().entries.back().corrects, page->logbook().entries[entries].number);
  QTest::keyClicks(find<QLineEdit>("logbook_search"), QStringLiteral("twisted"));
  EXPECT_EQ(find<QListWidget>("logbook_list")->count(), 1);
  find<QLineEdit>("logbook_search")->clear();
  EXPECT_EQ(find<QListWidget>("logbook_list")->count(), static_cast<int>(entries) + 2);
}

// More in one piece than the box could lay out while somebody waits.
TEST_F(CorrectTest, APasteThatIsTooLongLeavesTheNoteAsItStood) {
  window_.show_page(Page::logbook);
  auto* note = find<QPlainTextEdit>("note");
  QTest::mouseClick(note->viewport(), Qt::LeftButton);
  QTest::keyClicks(note, QStringLiteral("New lead "));
  QApplication::clipboard()->setText(QString(30'000, QLatin1Char('9')));
  QTest::keyClick(note, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(note->toPlainText(), QStringLiteral("New lead "));
  EXPECT_EQ(QToolTip::text(), QStringLiteral("What is pasted has 30,000 characters; there is room for 29,991"));
  QApplication::clipboard()->setText(QString(29'991, QLatin1Char('9')));
  QTest::keyClick(note, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(note->toPlainText(), QStringLiteral("New lead "));
  EXPECT_EQ(QToolTip::text(),
            QStringLiteral("A line of what is pasted has 29,991 characters; at most 10,000 are taken"));
  QApplication::clipboard()->setText(QStringLiteral("12 34 56\n").repeated(3'332) + QStringLiteral("end"));
  QTest::keyClick(note, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(note->toPlainText().size(), 30'000);
}

// 5 °C and 5.4 read: as found 0.4 too much. Half a degree later in the day the correction of −0.4 is in, and the
// channel shows 0.1 too much. Two on one day show no drift yet.
TEST_F(CorrectTest, TheLogbookShowsWhatWasJustWrittenAndHowTheChannelWasFound) {
  window_.show_page(Page::logbook);
  auto* list = find<QListWidget>("logbook_list");
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(3)).center());
  ASSERT_EQ(list->currentRow(), 3);
  const auto calibrate = [&](const char* point) {
    open();
    auto* field = find<QPlainTextEdit>("paste_points");
    QTest::mouseClick(field->viewport(), Qt::LeftButton);
    QTest::keyClicks(field, QLatin1String(point));
    EXPECT_TRUE(comes([&] { return find<QPushButton>("put_in")->isEnabled(); }));
    click("put_in");
    window_.show_page(Page::logbook);
    QTest::qWait(1);
  };
  const auto body = [&] { return find<QLabel>("entry_body")->text().toStdString(); };
  calibrate("5 5.4 0.05");
  EXPECT_EQ(list->currentRow(), 0) << "what was just written";
  EXPECT_THAT(body(), HasSubstr("As found it was off by 0.40 °C at 5.00 °C"));
  EXPECT_THAT(text("drift_words"), HasSubstr("one calibration; a second one"));
  calibrate("5 5.5 0.05");
  EXPECT_EQ(list->currentRow(), 0);
  EXPECT_THAT(body(), HasSubstr("As found it was off by 0.10 °C at 5.00 °C"));
  EXPECT_THAT(text("drift_words"), HasSubstr("2 times on one day"));
  // Putting right is given up by looking at another entry.
  click("amend");
  auto* note = find<QPlainTextEdit>("note");
  EXPECT_THAT(note->placeholderText().toStdString(), HasSubstr("takes the place"));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(1)).center());
  EXPECT_THAT(note->placeholderText().toStdString(), HasSubstr("what was done"));
}

TEST_F(CorrectTest, ARecordIsSavedInEveryForm) {
  workbench_.choose_channel("substrate");
  window_.show_page(Page::logbook);
  auto* page = &window_.logbook();
  auto* list = find<QListWidget>("logbook_list");
  for (int i = 0; i < list->count(); ++i)
    if (list->item(i)->text().contains(QStringLiteral("Substrate core · calibration"))) {
      list->setCurrentRow(i);
      break;
    }
  EXPECT_THAT(text("entry_body"), HasSubstr("glass thermometer"));
  EXPECT_THAT(text("drift_words"), HasSubstr("drifts by"));
  QTemporaryDir folder;
  for (const auto& [ending, holds] : {std::pair{"pdf", "%PDF-"},
                                      {"html", "<h2>Points, without any correction</h2>"},
                                      {"csv", "reference,reading"},
                                      {"json", "\"calibration\""}}) {
    const QString path = folder.filePath(QStringLiteral("record.") + QLatin1String(ending));
    EXPECT_EQ(page->save_record(path), QString());
    std::ifstream file(path.toStdString(), std::ios::binary);
    EXPECT_THAT(std::string(std::istreambuf_iterator<char>(file), {}), HasSubstr(holds));
  }
}

}  // namespace fair_gauge::app::correct_test
