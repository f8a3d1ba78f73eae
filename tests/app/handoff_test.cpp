// What is wrong? and Hand over, driven in the real window.
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTemporaryDir>

#include "handoff/handoff_page.h"
#include "read/mistake_view.h"
#include "read/practice_view.h"
#include "read/read_page.h"
#include "window.h"

namespace fair_gauge::app::handoff_view_test {

using testing::HasSubstr;
using testing::Not;

class MistakeTest : public WindowTest {
 protected:
  // Letter by letter, the live source running.
  void type(const char* name, const QString& text) {
    auto* field = window_.findChild<QLineEdit*>(QString::fromLatin1(name));
    ASSERT_TRUE(field) << name;
    click_into(*field);
    for (const QChar letter : text) {
      QTest::keyClick(field, letter.toLatin1());
      QTest::qWait(20);
    }
    EXPECT_EQ(field->text(), text);
  }
  const Diagnosis& found() {
    auto* view = window_.findChild<MistakeView*>();
    EXPECT_TRUE(comes([view] { return !view->is_searching(); }));
    return view->diagnosis();
  }
  std::string text(const char* name) {
    return window_.findChild<Text*>(QString::fromLatin1(name))->text().toStdString();
  }
};

TEST_F(MistakeTest, AWrongNumberIsExplainedWithItsArithmetic) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 4);
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("Type what your firmware shows"));
  // 8.2 kΩ above, code 1873: 6908.95 Ω, 33.5604 − 0.2 = 33.3604 °C; in °F 92.05.
  type("mistake_input", QStringLiteral("1873"));
  type("mistake_shown", QStringLiteral("92.05"));
  ASSERT_FALSE(found().causes.empty());
  EXPECT_EQ(found().causes.front().code, "unit-fahrenheit");
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("One usual mistake"));
  EXPECT_THAT(text("mistake_reads"), HasSubstr("33.36 °C"));
  // The right number is no mistake.
  type("mistake_shown", QStringLiteral("33.36"));
  EXPECT_TRUE(found().causes.empty());
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("Nothing is wrong"));
  // What is not understood is said, and stays.
  type("mistake_shown", QStringLiteral("33..6"));
  found();
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("Your firmware shows: "));
  // A firmware that prints its raw number in hexadecimal digits: 0x751 is 1873.
  type("mistake_input", QStringLiteral("0x751"));
  type("mistake_shown", QStringLiteral("92.05"));
  ASSERT_FALSE(found().causes.empty());
  EXPECT_EQ(found().causes.front().code, "unit-fahrenheit");
}

TEST_F(MistakeTest, BytesAndAnExpectationSpeakOfTheWorld) {
  workbench_.choose_channel("rack");
  window_.show_view(Page::read, 4);
  // The power-on value with its own bytes: 85 °C is no reading.
  type("mistake_input", QStringLiteral("50 05 4B 46 7F FF 0C 10 1C"));
  type("mistake_shown", QStringLiteral("85.0"));
  ASSERT_FALSE(found().causes.empty());
  EXPECT_EQ(found().causes.front().code, "power-on-default");
  EXPECT_THAT(text("mistake_reads"), HasSubstr("no reading"));
  // The same bytes as a scripting language prints them, pasted.
  for (const char* pasted :
       {R"(b'P\x05KF\x7f\xff\x0c\x10\x1c')", "[80, 5, 75, 70, 127, 255, 12, 16, 28]", "50:05:4B:46:7F:FF:0C:10:1C"}) {
    type("mistake_input", QString::fromLatin1(pasted));
    ASSERT_FALSE(found().causes.empty()) << pasted;
    EXPECT_EQ(found().causes.front().code, "power-on-default") << pasted;
  }
}

// What to measure next stands beside the causes; its result, typed at a person's pace, turns them round.
TEST_F(MistakeTest, AMeasurementNarrowsTheList) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 4);
  type("mistake_input", QStringLiteral("2230"));
  type("mistake_expected", QStringLiteral("30"));
  EXPECT_EQ(found().causes.front().code, "reference-not-selected");
  auto* pin = window_.findChild<QLineEdit*>(QStringLiteral("measured_pin"));
  ASSERT_TRUE(pin);
  QTest::mouseClick(pin, Qt::LeftButton);
  QTest::keyClicks(pin, QStringLiteral("1,80 V"), {}, 200);
  QTest::keyClick(pin, Qt::Key_Return);
  EXPECT_EQ(found().causes.front().code, "resistor-value");
  // It can be forgotten, and is when the question changes.
  auto* forget = window_.findChild<QPushButton*>(QStringLiteral("forget_measured"));
  ASSERT_TRUE(forget);
  QTest::mouseClick(forget, Qt::LeftButton);
  EXPECT_EQ(found().causes.front().code, "reference-not-selected");
}

// The likeliest cause stands in the strip beside what the bench makes of the number, and goes with the view. A result
// that is half typed is still there, with the cursor in it, after the bench was changed elsewhere.
TEST_F(MistakeTest, TheWrongChainStandsInTheStrip) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 4);
  type("mistake_input", QStringLiteral("2230"));
  type("mistake_expected", QStringLiteral("30"));
  EXPECT_EQ(found().causes.front().code, "reference-not-selected");
  const auto caption = [&](StageName stage) {
    std::string all;
    for (auto* label : window_.strip().card(stage)->findChildren<QLabel*>()) all += label->text().toStdString() + "|";
    return all;
  };
  EXPECT_THAT(caption(StageName::front_end), HasSubstr("truly: 1.6333"));  // 2230/4096 · 3.0 V
  EXPECT_EQ(shown(StageName::converter), QStringLiteral("2230"));
  ASSERT_TRUE(workbench_.beside());
  EXPECT_EQ(workbench_.beside()->differs, StageName::front_end);
  QTest::mouseClick(window_.findChild<QPushButton*>(QStringLiteral("mistake_strip_resistor-value")), Qt::LeftButton);
  EXPECT_EQ(workbench_.beside()->differs, StageName::sensor);

  auto* pin = window_.findChild<QLineEdit*>(QStringLiteral("measured_pin"));
  QTest::mouseClick(pin, Qt::LeftButton);
  QTest::keyClicks(pin, QStringLiteral("1,8"), {}, 150);
  workbench_.document().edit(QStringLiteral("elsewhere"), [](Bench& bench) { bench.place = "another shed"; });
  QTest::qWait(400);
  found();
  pin = window_.findChild<QLineEdit*>(QStringLiteral("measured_pin"));
  EXPECT_EQ(pin->text(), QStringLiteral("1,8"));
  EXPECT_TRUE(comes([&] { return pin->hasFocus(); }));  // once it is shown
  QTest::keyClicks(pin, QStringLiteral("0"), {}, 150);
  QTest::keyClick(pin, Qt::Key_Return);
  EXPECT_EQ(found().causes.front().code, "resistor-value");

  window_.show_view(Page::read, 0);
  EXPECT_FALSE(workbench_.beside());
  EXPECT_FALSE(workbench_.anchor());
  EXPECT_THAT(caption(StageName::front_end), Not(HasSubstr("truly")));

  // A number that was typed into the strip before comes back.
  WindowTest::type(StageName::world, QStringLiteral("21.5"));
  ASSERT_TRUE(workbench_.anchor());
  const Anchor typed = *workbench_.anchor();
  window_.show_view(Page::read, 4);
  type("mistake_input", QStringLiteral("2231"));
  found();
  ASSERT_TRUE(comes([&] { return workbench_.beside() != nullptr; }));
  EXPECT_NE(*workbench_.anchor(), typed);
  window_.show_view(Page::read, 0);
  EXPECT_EQ(workbench_.anchor(), typed);
}

// A fault of one's own choice, put on the live simulated shed: the raw number follows it, and comes back.
TEST_F(MistakeTest, AFaultIsPutOnTheSimulationAndTakenBack) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 5);
  auto* choice = window_.findChild<QComboBox*>(QStringLiteral("what_if"));
  ASSERT_TRUE(comes([&] { return choice->count() > 0; }));
  // Down the list with the arrow keys, as somebody does who reads it; each fault passed is put in on the way.
  const auto choose = [&](const char* name) {
    const auto code = QString::fromLatin1(name).toLower().replace(QLatin1Char(' '), QLatin1Char('-')).toStdString();
    const int wanted = choice->findText(QString::fromLatin1(name), Qt::MatchStartsWith);
    ASSERT_GE(wanted, 0) << name;
    choice->setFocus();
    QTest::keyClick(choice, Qt::Key_Home);
    while (choice->currentIndex() < wanted) QTest::keyClick(choice, Qt::Key_Down, {}, 20);
    EXPECT_TRUE(comes([&] { return workbench_.fault_put_in() && workbench_.fault_put_in()->name().starts_with(code); }))
        << code;
  };
  workbench_.listen_to_simulation();
  QTest::qWait(600);
  const double before = workbench_.samples("substrate").back().raw;
  choose("Open");
  ASSERT_TRUE(comes([&] { return workbench_.samples("substrate").back().raw == 4095; }));
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("a fault put in"));
  EXPECT_THAT(text("what_if_words"), HasSubstr("A lead of the sensor is open"));
  // 4095 is no reading; a range that the bench finds plausible is named where a reading leaves it.
  workbench_.document().edit(QStringLiteral("narrow"), [](Bench& bench) {
    find_by_id(bench.channels, "spawn_fridge")->plausible = Range{50, 60};
  });
  workbench_.choose_channel("spawn_fridge");
  EXPECT_TRUE(comes([&] { return text("margin_implausible").find("50 °C to 60 °C") != std::string::npos; }))
      << text("margin_implausible");
  workbench_.choose_channel("substrate");
  ASSERT_TRUE(comes([&] { return choice->count() > 0; }));
  // An edit of the bench leaves it in.
  workbench_.document().edit(QStringLiteral("elsewhere"), [](Bench& bench) { bench.place = "another shed"; });
  EXPECT_TRUE(workbench_.fault_put_in());
  QTest::mouseClick(window_.findChild<QPushButton*>(QStringLiteral("what_if_back")), Qt::LeftButton);
  EXPECT_FALSE(workbench_.fault_put_in());
  ASSERT_TRUE(comes([&] { return std::abs(workbench_.samples("substrate").back().raw - before) < 50; }));
  // Who does not answer is said so, in the strip, on the tape and on Home, and the number fades.
  workbench_.document().edit(QStringLiteral("often"),
                             [](Bench& bench) { find_by_id(bench.channels, "substrate")->period_s = 0.2; });
  ASSERT_TRUE(comes([&] { return choice->count() > 0; }));
  choose("No response");
  EXPECT_TRUE(comes([&] { return workbench_.view("substrate").silent_s.has_value(); }));
  QTest::qWait(1200);
  std::string captions;
  for (auto* label : window_.strip().card(StageName::converter)->findChildren<QLabel*>())
    captions += label->text().toStdString();
  EXPECT_THAT(captions, HasSubstr("nothing for "));
  EXPECT_FALSE(workbench_.view("room").silent_s);
  QTest::mouseClick(window_.findChild<QPushButton*>(QStringLiteral("what_if_back")), Qt::LeftButton);
  EXPECT_TRUE(comes([&] { return !workbench_.view("substrate").silent_s; }));
  // Of the arithmetic: the number stays, what the firmware would show does not. A second one takes the first one's
  // place.
  choose("Unit fahrenheit");
  EXPECT_TRUE(comes([&] { return text("what_if_words").find("The firmware would show") != std::string::npos; }))
      << text("what_if_words");
  EXPECT_TRUE(comes([&] { return std::abs(workbench_.samples("substrate").back().raw - before) < 50; }));
}

// A case is drawn, measured at a person's pace with the live source on, named wrongly, then rightly; the bench is as it
// was.
TEST_F(MistakeTest, AHiddenMistakeIsMeasuredAndNamed) {
  workbench_.choose_channel("substrate");
  const Bench before = workbench_.bench();
  window_.show_view(Page::read, 5);
  EXPECT_THAT(text("practice_given"), HasSubstr("made on a copy"));
  auto* view = window_.findChild<PracticeView*>();
  const auto press = [&](const char* name) {
    auto* button = window_.findChild<QPushButton*>(QString::fromLatin1(name));
    ASSERT_TRUE(button) << name;
    button->setFocus();
    QTest::keyClick(button, Qt::Key_Space);
    QTest::qWait(250);
  };
  view->draw(11);
  ASSERT_TRUE(comes([&] { return view->in_hand().has_value(); }));
  EXPECT_THAT(text("practice_given"), HasSubstr("The firmware shows"));
  press("practice_pin");
  EXPECT_THAT(text("practice_value_pin"), HasSubstr("V"));
  press("practice_second");
  EXPECT_THAT(text("practice_count"), HasSubstr("2 MEASUREMENTS"));
  auto* answer = window_.findChild<QComboBox*>(QStringLiteral("practice_answer"));
  press("practice_name");
  EXPECT_THAT(text("practice_verdict"), HasSubstr("Choose a mistake first"));
  const QString code = QString::fromStdString(view->in_hand()->made().code());
  for (int i = 0; i < answer->count(); ++i)
    if (!view->in_hand()->name(answer->itemData(i).toString().toStdString()).right) answer->setCurrentIndex(i);
  press("practice_name");
  EXPECT_THAT(text("practice_verdict"), HasSubstr("No:"));
  answer->setCurrentIndex(answer->findData(code));
  press("practice_name");
  EXPECT_THAT(text("practice_verdict"), HasSubstr("Found."));
  EXPECT_THAT(text("practice_found"), HasSubstr("measured: 2"));
  EXPECT_EQ(workbench_.bench(), before);
  EXPECT_FALSE(workbench_.document().can_undo());
  // Another channel leaves the case; a new one is drawn by the button.
  workbench_.choose_channel("room");
  press("practice_new");
  ASSERT_TRUE(comes([&] { return !view->is_drawing() && view->in_hand().has_value(); }));
  EXPECT_EQ(view->in_hand()->made().believed().channel.id, "room");
}

// 4.7 kΩ is fitted where the bench says 8.2: at 25 °C on the block, which is 25.2 before its correction, 9911.6 Ω make
// 4096 · 9911.6/14611.6 = 2778 counts.
TEST_F(MistakeTest, WhatIsFittedGoesIntoTheBenchByOneButton) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 4);
  type("mistake_input", QStringLiteral("2778"));
  type("mistake_expected", QStringLiteral("25"));
  const auto& causes = found().causes;
  ASSERT_TRUE(std::ranges::any_of(causes, [](const Cause& cause) { return cause.code == "resistor-value"; }));
  auto* so = window_.findChild<QPushButton*>(QStringLiteral("mistake_so_resistor-value"));
  ASSERT_TRUE(so);
  const Bench before = workbench_.bench();
  so->setFocus();
  QTest::keyClick(so, Qt::Key_Space);
  QTest::qWait(250);
  const auto ohm = [this] {
    return find_by_id(workbench_.bench().devices, std::string("block_thermistor"))->front_end.fixed_ohm;
  };
  EXPECT_EQ(ohm(), 4700);
  EXPECT_EQ(workbench_.bench().devices.size(), before.devices.size());
  EXPECT_EQ(find_by_id(workbench_.bench().devices, std::string("block_thermistor"))->wires,
            find_by_id(before.devices, std::string("block_thermistor"))->wires);
  workbench_.document().undo();
  EXPECT_EQ(workbench_.bench(), before);
}

TEST_F(MistakeTest, AnotherChannelBeginsAnew) {
  workbench_.choose_channel("substrate");
  window_.show_view(Page::read, 4);
  type("mistake_shown", QStringLiteral("92.05"));
  found();
  workbench_.choose_channel("steamer");
  EXPECT_TRUE(window_.findChild<QLineEdit*>(QStringLiteral("mistake_shown"))->text().isEmpty());
}

TEST_F(WindowTest, FirmwareIsMadeShownAndSaved) {
  workbench_.choose_channel("spawn_fridge");
  window_.show_page(Page::handoff);
  auto& page = window_.handoff();
  const auto settled = [&] { return comes([&] { return page.handoff().has_value(); }); };
  ASSERT_TRUE(settled());
  EXPECT_EQ(page.handoff()->report.form, "integer");
  auto* code = window_.findChild<QPlainTextEdit*>(QStringLiteral("handoff_code"));
  EXPECT_THAT(code->toPlainText().toStdString(),
              HasSubstr("uint8_t spawn_fridge_convert(uint32_t raw, int32_t *value)"));
  EXPECT_THAT(window_.findChild<Text*>(QStringLiteral("handoff_proof"))->text().toStdString(),
              HasSubstr("raw numbers"));
  // Its error is drawn over every raw number, and said for those who do not see the drawing.
  auto* drawn = window_.findChild<QWidget*>(QStringLiteral("handoff_errors"));
  EXPECT_TRUE(drawn->isVisible());
  EXPECT_THAT(drawn->accessibleName().toStdString(), HasSubstr("at worst"));
  auto* language = window_.findChild<QComboBox*>(QStringLiteral("handoff_language"));
  language->setFocus();
  QTest::keyClick(language, Qt::Key_Down);
  ASSERT_TRUE(settled());
  EXPECT_THAT(code->toPlainText().toStdString(), HasSubstr("def convert(raw):"));
  QTemporaryDir folder;
  EXPECT_EQ(page.save_to(folder.path()), QString());
  // All of it on one page.
  EXPECT_EQ(page.save_page(folder.filePath(QStringLiteral("board.html"))), QString());
  QFile html(folder.filePath(QStringLiteral("board.html")));
  ASSERT_TRUE(html.open(QIODevice::ReadOnly));
  const std::string sheet = html.readAll().toStdString();
  for (const char* words : {"Firmware of Spawn fridge", "3.300 V", "raw numbers</td>", "None: the part is trusted",
                            "spawn_fridge.py", "<td>signal</td>", "Not measured", "Not for medical"})
    EXPECT_THAT(sheet, HasSubstr(words));
  EXPECT_EQ(page.save_page(folder.filePath(QStringLiteral("board.pdf"))), QString());
  QFile pdf(folder.filePath(QStringLiteral("board.pdf")));
  EXPECT_TRUE(pdf.open(QIODevice::ReadOnly) && pdf.readAll().startsWith("%PDF"));
  EXPECT_THAT(page.save_page(folder.filePath(QStringLiteral("no/board.pdf"))).toStdString(), HasSubstr("no/board.pdf"));
  for (const char* name : {"spawn_fridge.py", "spawn_fridge_vectors.csv", "spawn_fridge_report.json"})
    EXPECT_TRUE(QFile::exists(folder.filePath(QString::fromLatin1(name)))) << name;
  EXPECT_THAT(page.save_to(folder.path()).toStdString(), HasSubstr("already holds")) << "never written over";
  // It is remembered with the bench; another resistor, reference or correction makes it out of date, here and on Home.
  const auto handed = [&] { return window_.findChild<Text*>(QStringLiteral("handoff_handed"))->text().toStdString(); };
  EXPECT_THAT(handed(), HasSubstr("true since"));
  ASSERT_TRUE(find_by_id(workbench_.bench().channels, "spawn_fridge")->handed_over);
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "spawn_fridge")->handed_over->source,
            page.handoff()->report.source);
  workbench_.document().edit(QStringLiteral("a name"), [](Bench& bench) { bench.place = "elsewhere"; });
  EXPECT_THAT(handed(), HasSubstr("true since"));
  workbench_.document().edit(QStringLiteral("calibrated"), [](Bench& bench) {
    find_by_id(bench.channels, "spawn_fridge")->correction.coefficients = {0.4};
  });
  EXPECT_THAT(handed(), HasSubstr("out of date"));
  window_.show_page(Page::home);
  QTest::qWait(100);
  QPushButton* out_of_date = nullptr;
  for (auto* button : window_.home().findChildren<QPushButton*>())
    if (button->accessibleName().contains(QStringLiteral("its firmware is out of date"))) out_of_date = button;
  ASSERT_TRUE(out_of_date);
  workbench_.choose_channel("room");
  QTest::mouseClick(out_of_date, Qt::LeftButton);
  EXPECT_EQ(workbench_.channel_id(), "spawn_fridge");
  EXPECT_TRUE(page.isVisible());
  workbench_.document().undo();
  EXPECT_THAT(handed(), HasSubstr("true since"));
  ASSERT_TRUE(settled());
  // What cannot be handed over says why; nothing is left of the one before.
  auto* form = window_.findChild<QComboBox*>(QStringLiteral("handoff_form"));
  form->setFocus();
  QTest::keyClick(form, Qt::Key_End);  // float
  ASSERT_TRUE(settled());
  workbench_.choose_channel("compost_probe");
  auto* proof = window_.findChild<Text*>(QStringLiteral("handoff_proof"));
  EXPECT_TRUE(comes([&] { return proof->text().contains(QStringLiteral("no formula of both numbers")); }))
      << proof->text().toStdString();
  EXPECT_TRUE(code->toPlainText().isEmpty());
  // As the cheapest it takes the cold junction's reading as one more argument.
  QTest::keyClick(form, Qt::Key_Home);
  ASSERT_TRUE(settled());
  EXPECT_EQ(page.handoff()->report.form, "table");
  EXPECT_THAT(code->toPlainText().toStdString(), HasSubstr("def convert(raw, side):"));
}

TEST_F(MistakeTest, OnesOwnLineIsCheckedAndMendedByAClick) {
  workbench_.listen_to_simulation();  // readings come in while it is typed
  workbench_.choose_channel("spawn_fridge");
  window_.show_page(Page::handoff);
  const auto says = [&](const char* words) {
    return comes([&] { return text("own_verdict").find(words) != std::string::npos; });
  };
  auto* line = find<QLineEdit>("own_line");
  type("own_line", QStringLiteral("t = adc * 806 / 1000 - 500"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(says("does not fit its word")) << text("own_verdict");
  EXPECT_THAT(text("own_verdict"), HasSubstr("first at 125"));
  auto* mend = find<QPushButton>("own_mend");
  ASSERT_TRUE(mend);
  QTest::mouseClick(mend, Qt::LeftButton);
  EXPECT_TRUE(says("Exact enough")) << text("own_verdict");
  EXPECT_EQ(line->text(), QStringLiteral("t = (long)adc * 806 / 1000 - 500"));
  type("own_line", QStringLiteral("(adc * 3,3"));
  click("own_check");
  EXPECT_TRUE(says("At character")) << text("own_verdict");
  EXPECT_EQ(line->text(), QStringLiteral("(adc * 3,3"));
  type("own_line", QStringLiteral("adc*2"));
  workbench_.choose_channel("room");
  click("own_check");
  EXPECT_TRUE(says("Several numbers of its bytes")) << text("own_verdict");
}

TEST_F(WindowTest, AnEmptyBenchSaysWhatPractisingWouldDo) {
  workbench_.document().begin({});
  window_.show_view(Page::read, 5);
  EXPECT_THAT(window_.findChild<Text*>(QStringLiteral("practice_given"))->text().toStdString(),
              HasSubstr("no channels yet"));
  EXPECT_FALSE(window_.findChild<QPushButton*>(QStringLiteral("practice_new"))->isEnabled());
  auto* view = window_.findChild<PracticeView*>();
  view->draw(1);  // nothing to draw from
  EXPECT_FALSE(view->is_drawing());
  EXPECT_FALSE(view->in_hand());
}

TEST_F(WindowTest, AnEmptyBenchIsNotSearchedForAMistake) {
  workbench_.document().begin({});
  window_.show_view(Page::read, 4);
  EXPECT_THAT(window_.findChild<Text*>(QStringLiteral("mistake_verdict"))->text().toStdString(),
              Not(HasSubstr("Looking")));
}

// How a part on a bus is read comes with it where it is asked for; a thermistor has no such thing to choose.
TEST_F(WindowTest, ReadingThePartIsWrittenToo) {
  if (is_sanitized) GTEST_SKIP() << "a million blocks thrice; the tests of the core write and read it too";
  auto& page = window_.handoff();
  const auto settled = [&] { return comes([&] { return page.handoff().has_value(); }); };
  workbench_.choose_channel("grow_light");
  window_.show_page(Page::handoff);
  ASSERT_TRUE(settled());
  auto* reading = window_.findChild<QComboBox*>(QStringLiteral("handoff_reading"));
  auto* file = window_.findChild<QComboBox*>(QStringLiteral("handoff_file"));
  EXPECT_EQ(file->findText(QStringLiteral("grow_light_read.c")), -1);
  reading->setFocus();
  QTest::keyClick(reading, Qt::Key_Down);
  ASSERT_TRUE(settled());
  EXPECT_EQ(file->currentText(), QStringLiteral("grow_light.c"));
  file->setCurrentText(QStringLiteral("grow_light_read.c"));
  EXPECT_THAT(window_.findChild<QPlainTextEdit*>(QStringLiteral("handoff_code"))->toPlainText().toStdString(),
              HasSubstr("uint8_t grow_light_read(uint8_t *bytes)"));
  workbench_.choose_channel("substrate");
  ASSERT_TRUE(settled());
  EXPECT_FALSE(reading->isEnabled());
}

}  // namespace fair_gauge::app::handoff_view_test
