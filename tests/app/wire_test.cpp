// The views of the Wire page: the circuit that is typed over, the values that are found, the curve of one's own.
#include <QComboBox>
#include <QPlainTextEdit>
#include <QTemporaryDir>

#include "logbook/logbook_page.h"
#include "shell/main_window.h"
#include "window.h"
#include "wire/curve_builder.h"
#include "wire/schematic.h"
#include "wire/sizing_panel.h"

namespace fair_gauge::app::wire_test {

using testing::HasSubstr;

class WireTest : public WindowTest {
 protected:
  void open(const std::string& channel, int view) {
    workbench_.choose_channel(channel);
    window_.show_page(Page::wire);
    window_.wire().show_view(view);
    QTest::qWait(1);
  }
  const FrontEnd& front_end() {
    return find_by_id(workbench_.bench().devices, workbench_.chosen().channel->device)->front_end;
  }
  std::string headline() { return find<Text>("headline")->text().toStdString(); }
  void choose(QComboBox* box, int index) {
    box->setCurrentIndex(index);
    emit box->activated(index);
  }
  QLineEdit* value_named(const QString& name) {
    for (auto* field : find<Schematic>("schematic")->findChildren<QLineEdit*>())
      if (field->accessibleName() == name) return field;
    return nullptr;
  }
};

TEST_F(WireTest, TheCircuitOfEveryChannelCanBeDrawnAndShowsItsValues) {
  for (const Channel& channel : Bench(workbench_.bench()).channels) {
    open(channel.id, 1);
    auto* circuit = find<Schematic>("schematic");
    ASSERT_TRUE(circuit->isVisible());
    const QImage drawn = circuit->grab().toImage();
    int inked = 0;
    for (int y = 0; y < drawn.height(); y += 2)
      for (int x = 0; x < drawn.width(); x += 2) inked += drawn.pixelColor(x, y).lightness() < 128;
    EXPECT_GT(inked, 200) << channel.id << ": an empty drawing";
    for (auto* field : circuit->findChildren<QLineEdit*>()) {
      if (!field->isVisible()) continue;
      EXPECT_FALSE(field->text().isEmpty()) << channel.id << ": " << field->accessibleName().toStdString();
      EXPECT_TRUE(circuit->rect().contains(field->geometry()))
          << channel.id << ": " << field->accessibleName().toStdString();
    }
  }
}

TEST_F(WireTest, AValueTypedIntoTheCircuitChangesTheBenchAndIsUndone) {
  open("substrate", 1);
  QLineEdit* fixed = value_named(QStringLiteral("Fixed resistor"));
  ASSERT_TRUE(fixed);
  const double before = front_end().fixed_ohm;
  QTest::mouseClick(fixed, Qt::LeftButton);
  QTest::keyClicks(fixed, QStringLiteral("4k7"));
  QTest::keyClick(fixed, Qt::Key_Return);
  EXPECT_EQ(front_end().fixed_ohm, 4700);
  workbench_.document().undo();
  EXPECT_EQ(front_end().fixed_ohm, before);
}

TEST_F(WireTest, EveryQuestionOfEveryChannelIsAnswered) {
  for (const Channel& channel : Bench(workbench_.bench()).channels) {
    open(channel.id, 2);
    auto* question = find<QComboBox>("question");
    for (int i = 0; i < question->count(); ++i) {
      choose(question, i);
      EXPECT_FALSE(headline().empty()) << channel.id << ": " << question->itemText(i).toStdString();
    }
  }
}

TEST_F(WireTest, TheFoundResistorIsPutOnTheBenchByOneButton) {
  open("substrate", 2);
  EXPECT_THAT(headline(), HasSubstr("one step is at worst"));
  // The least current of an answer that is at most twice as coarse: another resistor than the finest one's.
  const std::string finest = headline();
  choose(find<QComboBox>("wish_0"), 2);
  EXPECT_NE(headline(), finest);
  const double before = front_end().fixed_ohm;
  auto* apply = find<QPushButton>("apply");
  ASSERT_TRUE(apply);
  QTest::mouseClick(apply, Qt::LeftButton);
  EXPECT_GT(front_end().fixed_ohm, before);
  EXPECT_TRUE(workbench_.document().can_undo());
  workbench_.document().undo();
  EXPECT_EQ(front_end().fixed_ohm, before);
}

// TMP36 gives 10 mV/°C: of 12 bits one count is 0.1 °C, 1 mV, by 4.096 V. A reference of one's own stands in the table.
TEST_F(WireTest, AReferenceOfOnesOwnIsTried) {
  workbench_.listen_to_simulation();
  open("spawn_fridge", 2);
  auto* question = find<QComboBox>("question");
  choose(question, question->findText(QStringLiteral("Reference and gain")));
  const auto stands = [this](const QString& words) {
    return std::ranges::any_of(window_.wire().findChildren<QLabel*>(), [&](const QLabel* each) {
      return each->text().replace(QChar::Nbsp, QLatin1Char(' ')).contains(words);
    });
  };
  EXPECT_TRUE(stands(QStringLiteral("a reference of 4.096 V makes one count 0.1 °C")));
  EXPECT_FALSE(stands(QStringLiteral("makes one count 1 °C"))) << "that would be 40.96 V";
  EXPECT_FALSE(stands(QStringLiteral("2.9 V")));
  give_slowly("wish_1", QStringLiteral("2.9"));
  EXPECT_TRUE(stands(QStringLiteral("2.9 V")));
}

TEST_F(WireTest, AnImpossibleWishGetsItsReason) {
  open("substrate", 2);
  auto* limit = find<QLineEdit>("wish_2");
  EXPECT_EQ(limit->text(), QString()) << "nothing limits it yet";
  EXPECT_EQ(limit->placeholderText(), QStringLiteral("no limit"));
  give_slowly("wish_2", QStringLiteral("5"));
  EXPECT_THAT(headline(), HasSubstr("no value keeps every limit"));
  EXPECT_THAT(headline(), HasSubstr("the lowest source resistance is 35.96 Ω"));
  for (const auto& lifted : {QString(), QStringLiteral("0")}) {
    click_into(*limit);
    QTest::keyClick(limit, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(limit, Qt::Key_Delete);
    QTest::keyClicks(limit, lifted);
    QTest::keyClick(limit, Qt::Key_Return);
    EXPECT_THAT(headline(), HasSubstr("one step is at worst"));
    EXPECT_EQ(limit->text(), QString());
    give_slowly("wish_2", QStringLiteral("5"));
    EXPECT_THAT(headline(), HasSubstr("no value keeps every limit"));
  }
}

TEST_F(WireTest, TheDrawerIsPickedFrom) {
  open("substrate", 2);
  auto* drawer = find<QLineEdit>("drawer");
  QTest::mouseClick(drawer, Qt::LeftButton);
  QTest::keyClicks(drawer, QStringLiteral("1k 6k8 100k"));
  QTest::keyClick(drawer, Qt::Key_Return);
  EXPECT_EQ(workbench_.bench().drawer_ohm, (std::vector<double>{1e3, 6.8e3, 100e3}));
  choose(find<QComboBox>("wish_1"), 3);
  EXPECT_THAT(headline(), testing::StartsWith("6k8"));
  drawer->setText(QStringLiteral("1k warm"));
  emit drawer->editingFinished();
  EXPECT_EQ(workbench_.bench().drawer_ohm.size(), 3u) << "what is not understood changes nothing";
}

TEST_F(WireTest, ACurveOfOnesOwnIsFittedAndSaved) {
  const QTemporaryDir home;
  const QByteArray data = qgetenv("XDG_DATA_HOME");
  qputenv("XDG_DATA_HOME", home.path().toUtf8());
  open("substrate", 3);
  auto* points = find<QPlainTextEdit>("curve_points");
  EXPECT_THAT(text("curve_hint"), HasSubstr("in °C, then Ω")) << "the channel's own sensor is the example";
  EXPECT_THAT(points->toPlainText().toStdString(), HasSubstr("\t"));
  EXPECT_EQ(find<QComboBox>("curve_kind")->currentIndex(), 3) << "a thermistor's";
  EXPECT_THAT(text("curve_verdict"), HasSubstr("Misses its points by"));
  QTest::mouseClick(find<QPushButton>("save_part"), Qt::LeftButton);
  EXPECT_THAT(text("curve_verdict"), HasSubstr("Saved as")) << "the catalogue that is read anew takes no word of it";
  choose(find<QComboBox>("curve_kind"), 0);
  choose(find<QComboBox>("curve_output"), 0);
  points->setPlainText(QStringLiteral("0 0,5\n50 1,0\nx"));
  EXPECT_THAT(find<Text>("curve_verdict")->text().toStdString(), HasSubstr("line 3"));
  EXPECT_FALSE(find<QPushButton>("save_part")->isEnabled());
  const auto* plot = points->window()->findChild<CurveBuilder*>()->findChild<QCustomPlot*>();
  EXPECT_EQ(plot->graphCount(), 0) << "no curve of other points";
  points->setPlainText(QStringLiteral("0 0,5\n25 0,8\n50 1,0"));  // the line 0.5167 + 0.01·t: −17, 33 and −17 mV
  EXPECT_THAT(find<Text>("curve_verdict")->text().toStdString(), HasSubstr("Misses its points by 23.6 mV rms"));
  EXPECT_GT(plot->graphCount(), 0);
  points->setPlainText(QStringLiteral("-10 0,4\n0 0,5\n50 1,0"));
  EXPECT_THAT(find<Text>("curve_verdict")->text().toStdString(), HasSubstr("Goes through its points"));
  QTest::mouseClick(find<QPushButton>("save_part"), Qt::LeftButton);
  EXPECT_THAT(find<Text>("curve_verdict")->text().toStdString(), HasSubstr("Saved as"));
  const Part* saved = workbench_.catalogue().find("own-a-sensor-of-my-own");
  ASSERT_TRUE(saved);
  EXPECT_NEAR(saved->transfer.numbers.at("slope"), 0.01, 1e-12);
  workbench_.choose_channel("room_pressure");
  EXPECT_THAT(points->toPlainText().toStdString(), HasSubstr("-10 0,4")) << "what somebody typed stays";
  workbench_.choose_channel("substrate");
  points->setPlainText(QStringLiteral("0 0,5\n50 1,1"));
  QTest::mouseClick(find<QPushButton>("save_part"), Qt::LeftButton);
  EXPECT_THAT(text("curve_verdict"), HasSubstr(".json.former"));
  points->setPlainText(QStringLiteral("-10 0,4\n0 0,5\n50 1,0"));
  choose(find<QComboBox>("curve_kind"), 4);
  QTest::keyClicks(find<QLineEdit>("curve_expression"), QStringLiteral("0.5+0.01*x"));
  EXPECT_THAT(find<Text>("curve_verdict")->text().toStdString(), HasSubstr("Goes through its points"));
  data.isEmpty() ? qunsetenv("XDG_DATA_HOME") : qputenv("XDG_DATA_HOME", data);
}

// A meter at the chain while the shed goes on: typed at a person's pace, what was expected then stays beside it.
TEST_F(WireTest, AMeterIsHeldToTheChain) {
  workbench_.choose_channel("substrate");
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench_.listen_to_simulation();
  window_.show_view(Page::wire, 4);
  QTest::qWait(400);
  const auto volts = [&](const char* name) { return text(name).substr(0, text(name).find(' ')); };
  EXPECT_THAT(text("meter_lead"), HasSubstr("latest raw number"));
  EXPECT_THAT(text("meter_expected_1"), HasSubstr(" V"));
  give_slowly("meter_at_1", QString::fromStdString(volts("meter_expected_1")) + QLatin1Char('V'));
  const std::string then = text("meter_expected_1");
  EXPECT_THAT(text("meter_verdict"), HasSubstr("It agrees"));
  EXPECT_THAT(text("meter_reading_1"), HasSubstr("% of what is allowed"));
  give_slowly("meter_at_0", QStringLiteral("5k"));
  EXPECT_THAT(text("meter_verdict"), HasSubstr("Look between the pin and the sensor"));
  EXPECT_THAT(text("meter_verdict"), HasSubstr("8k2 resistor"));
  QTest::qWait(1000);
  EXPECT_EQ(text("meter_expected_1"), then);
  EXPECT_EQ(find<QLineEdit>("meter_at_0")->text(), QString::fromUtf8("5 kΩ"));
  // A meter that may be off by a half tells nothing against it.
  give("meter_good_to", QStringLiteral("50 %"));
  QTest::qWait(100);
  EXPECT_THAT(text("meter_differs_0"), testing::StartsWith("−"));
  give("meter_good_to", QStringLiteral("70"));
  EXPECT_EQ(find<QuantityField>("meter_good_to")->is_faulty(), true);
  give("meter_good_to", QStringLiteral("0,5"));
  // Held in the strip, the temperature is what is known, and the code can be typed too.
  workbench_.hold({StageName::world, 25});
  QTest::qWait(100);
  EXPECT_THAT(text("meter_lead"), HasSubstr("strip holds"));
  EXPECT_THAT(text("meter_expected_2"), HasSubstr("2"));
  EXPECT_EQ(find<QLineEdit>("meter_at_0")->text(), QString()) << "another question: nothing was typed for it";
  give("meter_at_2", QStringLiteral("1000"));
  EXPECT_THAT(text("meter_verdict"), HasSubstr("Look between what is measured and the converter's code"));
  QString kept;
  QObject::connect(&window_.wire(), &WirePage::note_wanted, &window_, [&](const QString& words) { kept = words; });
  click("meter_keep");
  EXPECT_THAT(kept.toStdString(),
              testing::StartsWith("the raw number that your firmware prints: meter 1000, expected 2"));
  EXPECT_THAT(kept.toStdString(), HasSubstr("Look between"));
  EXPECT_FALSE(window_.banner_text().isEmpty());
  // The logbook can be read again, and holds it with its moment.
  const auto logbook = read_logbook(window_.logbook().path());
  ASSERT_TRUE(logbook);
  EXPECT_TRUE(logbook->problems.empty());
  ASSERT_FALSE(logbook->entries.empty());
  EXPECT_EQ(logbook->entries.back().words, kept.toStdString());
  EXPECT_FALSE(logbook->entries.back().on.empty());
  // What is not understood is neither taken nor thrown away.
  auto* volts_typed = find<QuantityField>("meter_at_1");
  QTest::mouseClick(volts_typed, Qt::LeftButton);
  QTest::keyClicks(volts_typed, QStringLiteral("abc"));
  find<QLineEdit>("meter_at_0")->setFocus();
  workbench_.hold({StageName::world, 25.5});
  QTest::qWait(100);
  EXPECT_EQ(volts_typed->text(), QStringLiteral("abc"));
  EXPECT_TRUE(volts_typed->is_faulty());
  click("meter_clear");
  QTest::qWait(50);
  EXPECT_EQ(text("meter_verdict"), "");
  EXPECT_FALSE(find<QPushButton>("meter_keep")->isEnabled());
  workbench_.return_to_live();
  workbench_.choose_channel("room");
  QTest::qWait(100);
  EXPECT_THAT(text("meter_lead"), HasSubstr("comes as a number already"));
}

}  // namespace fair_gauge::app::wire_test
