// Typing into the strip, settings, undo, saving and reopening, in the real window.
#include <QComboBox>
#include <QDir>
#include <QDragEnterEvent>
#include <QMimeData>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSettings>
#include <QTemporaryDir>
#include <QThreadPool>
#include <memory>

#include "correct/correct_page.h"
#include "read/read_page.h"
#include "shell/command_finder.h"
#include "window.h"

namespace fair_gauge::app::window_test {

using testing::HasSubstr;

TEST_F(WindowTest, ATypedTemperatureBecomesVoltsAndCounts) {
  type(StageName::world, QStringLiteral("11,4"));
  // 11.4 °C + 0.2 °C = 11.6 °C: R = 10 000·exp(3950·(1/284.75 − 1/298.15)) = 18 655 Ω; V = 3.3·R/(R + 8200) = 2.2923 V;
  // 2845 counts
  EXPECT_EQ(shown(StageName::sensor), QStringLiteral("18.65 kΩ"));
  EXPECT_EQ(shown(StageName::front_end), QStringLiteral("2.2923"));
  EXPECT_EQ(shown(StageName::converter), QStringLiteral("2845"));
  EXPECT_EQ(shown(StageName::shown), QStringLiteral("11.4"));
  EXPECT_EQ(shown(StageName::world), QStringLiteral("11,4"));
}

TEST_F(WindowTest, TypedCountsBecomeATemperature) {
  type(StageName::converter, QStringLiteral("2251"));
  EXPECT_EQ(shown(StageName::world), QStringLiteral("24.79"));
  EXPECT_EQ(shown(StageName::shown), QStringLiteral("24.8"));
}

TEST_F(WindowTest, EscapeReturnsToTheLiveReading) {
  const QString live = shown(StageName::converter);
  type(StageName::world, QStringLiteral("5"));
  EXPECT_NE(shown(StageName::converter), live);
  EXPECT_TRUE(workbench_.anchor().has_value());
  QTest::keyClick(&window_.strip().card(StageName::world)->field(), Qt::Key_Escape);
  EXPECT_FALSE(workbench_.anchor().has_value());
  EXPECT_EQ(shown(StageName::converter), live);
  EXPECT_TRUE(workbench_.document().is_saved());
}

TEST_F(WindowTest, WhatIsNotUnderstoodStaysAndSaysWhy) {
  type(StageName::world, QStringLiteral("warm"));
  QuantityField& field = window_.strip().card(StageName::world)->field();
  EXPECT_TRUE(field.is_faulty());
  EXPECT_EQ(field.text(), QStringLiteral("warm"));
  EXPECT_THAT(field.echo().toStdString(), HasSubstr("expected"));
}

TEST_F(WindowTest, AValueNoSensorGivesNamesItsLimit) {
  type(StageName::world, QStringLiteral("900"));
  EXPECT_THAT(window_.strip().card(StageName::sensor)->findChildren<Text*>().back()->text().toStdString(),
              HasSubstr("above the part's limit"));
}

// As a person does: a click into a number, and another one typed over it; a second click puts the cursor into it.
TEST_F(WindowTest, AClickIntoANumberTakesAllOfIt) {
  QuantityField& field = window_.strip().card(StageName::world)->field();
  QTest::mouseClick(&field, Qt::LeftButton);
  EXPECT_EQ(field.selectedText(), field.text());
  QTest::mouseClick(&field, Qt::LeftButton);
  EXPECT_FALSE(field.hasSelectedText());
  QTest::keyClick(&field, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(&field, QStringLiteral("40"));
  QTest::keyClick(&field, Qt::Key_Return);
  QTest::mouseClick(&field, Qt::LeftButton);  // after Enter it begins anew
  QTest::keyClicks(&field, QStringLiteral("11,4"));
  EXPECT_EQ(field.text(), QStringLiteral("11,4"));
  field.clearFocus();
  field.setFocus();  // as a screen reader gives it the keys
  EXPECT_EQ(field.selectedText(), field.text());
}

TEST_F(WindowTest, ASettingIsUndoneAndRedone) {
  type(StageName::world, QStringLiteral("20"));
  workbench_.choose_stage(StageName::front_end);
  const QString before = shown(StageName::converter);
  set(0, QStringLiteral("4k7"));
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 4700);
  EXPECT_NE(shown(StageName::converter), before);
  QTest::keyClick(&window_, Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 8200);
  EXPECT_EQ(shown(StageName::converter), before);
  QTest::keyClick(&window_, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 4700);
}

TEST_F(WindowTest, DivisorReferenceAndPartChangeInPlace) {
  workbench_.choose_channel("spawn_fridge");
  EXPECT_EQ(window_.strip().card(StageName::front_end), nullptr);  // it has none
  EXPECT_EQ(workbench_.stage(), StageName::converter);
  type(StageName::converter, QStringLiteral("700"));
  EXPECT_EQ(shown(StageName::compensated),
            QStringLiteral("6.4"));  // 700 · 3.3 / 4096 V = 0.56396 V, less 0.5 V, by 10 mV/°C
  workbench_.choose_stage(StageName::sensor);
  auto* part = static_cast<QComboBox*>(setting(0));
  emit part->activated(part->findText(QStringLiteral("LM35"), Qt::MatchContains));
  EXPECT_EQ(shown(StageName::compensated), QStringLiteral("56.40"));
}

TEST_F(WindowTest, EveryStageOffersItsSettings) {
  for (const Stage& stage : workbench_.chosen().chain->stages) {
    workbench_.choose_stage(stage.name);
    EXPECT_NE(setting(0), nullptr) << stage_title(stage.name);
  }
  workbench_.choose_stage(StageName::converter);
  set(0, QStringLiteral("10"));
  EXPECT_EQ(workbench_.bench().converters.front().bits, 10);
  set(2, QStringLiteral("3V28"));
  EXPECT_EQ(workbench_.bench().rails.front().voltage.measured_v, 3.28);
  auto* divisor = static_cast<QComboBox*>(setting(7));
  divisor->setCurrentIndex(1);
  emit divisor->activated(1);
  EXPECT_EQ(workbench_.bench().converters.front().convention, CodeConvention::codes);
  set(0, QStringLiteral("99"));  // not a converter
  EXPECT_EQ(workbench_.bench().converters.front().bits, 10);
  EXPECT_THAT(find<Text>("echo")->text().toStdString(), HasSubstr("cannot be"));
}

TEST_F(WindowTest, TheUnitThatIsShownChangesEverywhere) {
  workbench_.choose_stage(StageName::shown);
  auto* unit = static_cast<QComboBox*>(setting(0));
  emit unit->activated(unit->findText(QStringLiteral("°F")));
  type(StageName::converter, QStringLiteral("2251"));
  EXPECT_EQ(shown(StageName::shown), QStringLiteral("76.6"));  // 24.79 °C · 9/5 + 32
  EXPECT_THAT(shown(StageName::world).toStdString(), testing::StartsWith("76.6"));
  type(StageName::world, QStringLiteral("50"));
  EXPECT_EQ(shown(StageName::shown), QStringLiteral("50.0")) << "it was typed in what stands beside it";
  type(StageName::world, QStringLiteral("20 °C"));
  EXPECT_EQ(shown(StageName::shown), QStringLiteral("68.0"));
}

// The world of a barometer in hectopascals is typed in hectopascals.
TEST_F(WindowTest, TheWorldStandsInTheUnitOfTheChannel) {
  workbench_.choose_channel("room_pressure");
  type(StageName::world, QStringLiteral("1005"));
  EXPECT_THAT(shown(StageName::shown).toStdString(), testing::StartsWith("1005"));
  EXPECT_THAT(shown(StageName::compensated).toStdString(), testing::StartsWith("1005"));
  ASSERT_TRUE(workbench_.anchor());
  EXPECT_DOUBLE_EQ(workbench_.anchor()->value, 100'500);  // Pa
}

TEST_F(WindowTest, AnImprovementIsAppliedWithOneClickAndUndone) {
  QTest::qWait(300);
  QPushButton* button = nullptr;
  for (auto* candidate : window_.findChildren<QPushButton*>())
    if (candidate->text().contains(QStringLiteral("0.1 %"))) button = candidate;
  ASSERT_TRUE(button);
  QTest::mouseClick(button, Qt::LeftButton);
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_tolerance, 0.001);
  workbench_.document().undo();
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_tolerance, 0.01);
}

TEST_F(WindowTest, ThePointOfThePlotIsDragged) {
  type(StageName::world, QStringLiteral("20"));
  TransferPlot& plot = window_.wire().plot();
  QTest::qWait(50);
  const QPoint from = plot.point_position().toPoint();
  QWidget* canvas = plot.findChild<QWidget*>();
  QTest::mousePress(canvas, Qt::LeftButton, {}, from);
  QTest::mouseMove(canvas, from + QPoint(60, 0));
  QTest::mouseRelease(canvas, Qt::LeftButton, {}, from + QPoint(60, 0));
  ASSERT_TRUE(workbench_.anchor());
  EXPECT_GT(workbench_.anchor()->value, 22);
}

TEST_F(WindowTest, SavedAndReopenedIsTheSame) {
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("mine.fairgauge.json"));
  workbench_.choose_stage(StageName::front_end);
  set(0, QStringLiteral("9k1"));
  EXPECT_FALSE(workbench_.document().is_saved());
  EXPECT_TRUE(workbench_.document().needs_new_name());  // the demonstration is never written over
  ASSERT_TRUE(window_.save_to(path));
  EXPECT_TRUE(workbench_.document().is_saved());
  const Bench saved = workbench_.bench();
  window_.open(path);
  EXPECT_EQ(workbench_.bench(), saved);
  EXPECT_EQ(QSettings().value(QStringLiteral("recent")).toStringList().front(), path);
}

TEST_F(WindowTest, AFailedSaveLosesNothing) {
  workbench_.choose_stage(StageName::front_end);
  set(0, QStringLiteral("9k1"));
  EXPECT_FALSE(window_.save_to(QStringLiteral("/dev/full/x.fairgauge.json")));
  EXPECT_THAT(window_.banner_text().toStdString(), HasSubstr("your changes are still here"));
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 9100);
  EXPECT_FALSE(workbench_.document().is_saved());
}

TEST_F(WindowTest, UnsavedChangesAreOfferedAfterACrash) {
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("mine.fairgauge.json"));
  ASSERT_TRUE(window_.save_to(path));
  workbench_.choose_stage(StageName::front_end);
  set(0, QStringLiteral("9k1"));
  workbench_.document().write_autosave();
  workbench_.document().finish_autosave();
  window_.open(path);  // as after a crash: the file is the old one
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 8200);
  EXPECT_THAT(window_.banner_text().toStdString(), HasSubstr("not saved last time"));
  for (auto* button : window_.findChildren<QPushButton*>())
    if (button->text() == QStringLiteral("Bring them back")) QTest::mouseClick(button, Qt::LeftButton);
  EXPECT_EQ(workbench_.bench().devices.front().front_end.fixed_ohm, 9100);
  workbench_.document().drop_leftover();
}

TEST_F(WindowTest, ABadFileIsSaidAndTheOpenBenchStays) {
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("bad.fairgauge.json"));
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("{\"fair_gauge_bench\": 1,");
  file.close();
  const Bench before = workbench_.bench();
  window_.open(path);
  EXPECT_EQ(workbench_.bench(), before);
  EXPECT_THAT(window_.banner_text().toStdString(), HasSubstr("ends in the middle"));
}

TEST_F(WindowTest, KeysReachEveryPageAndTone) {
  for (const auto& [page, name, views] : MainWindow::page_names()) {
    QTest::keyClick(&window_, static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(page)), Qt::ControlModifier);
    for (const auto& other : MainWindow::page_names())
      EXPECT_EQ(window_.page(other.page).isVisible(), other.page == page)
          << name.toStdString() << " " << other.name.toStdString();
  }
  const auto tone = theme_.tone();
  QTest::keyClick(&window_, Qt::Key_D, Qt::ControlModifier);
  EXPECT_NE(theme_.tone(), tone);
}

TEST_F(WindowTest, WhatIsTypedSlowlyOverALiveNumberStays) {
  workbench_.listen_to_simulation();
  for (const auto& [text, celsius] : {std::pair{"40", 40.0}, {"100 F", 37.7778}}) {
    QuantityField& field = window_.strip().card(StageName::world)->field();
    QTest::qWait(600);
    QTest::mouseClick(&field, Qt::LeftButton);
    QTest::qWait(1200);  // at least one live reading comes between the click and the first key
    QTest::keyClick(&field, Qt::Key_A, Qt::ControlModifier);
    QTest::qWait(1200);
    EXPECT_EQ(field.selectedText(), field.text()) << "a live reading has wiped the selection";
    EXPECT_EQ(type_slowly(field, QLatin1String(text)), QLatin1String(text));
    ASSERT_TRUE(workbench_.anchor());
    EXPECT_NEAR(workbench_.anchor()->value, celsius, 1e-3) << text;
    QTest::keyClick(&field, Qt::Key_Escape);
    QTest::qWait(100);
    EXPECT_FALSE(workbench_.anchor());
  }
}

TEST_F(WindowTest, AFieldThatIsLeftShowsTheLatestReading) {
  QuantityField& field = window_.strip().card(StageName::converter)->field();
  QTest::mouseClick(&field, Qt::LeftButton);
  const QString before = field.text();
  workbench_.hold({StageName::world, 12});
  EXPECT_EQ(field.text(), before) << "the field belongs to the person";
  QTest::keyClick(&field, Qt::Key_Tab);
  EXPECT_NE(field.text(), before);
}

TEST_F(WindowTest, UndoReachesTheBenchFromAFieldThatWasNotEdited) {
  workbench_.choose_stage(StageName::front_end);
  set(0, QStringLiteral("9k1"));
  const double changed =
      find_by_id(workbench_.bench().devices, workbench_.chosen().channel->device)->front_end.fixed_ohm;
  ASSERT_NEAR(changed, 9100, 1e-6);
  auto* field = static_cast<QLineEdit*>(setting(0));
  QTest::mouseClick(field, Qt::LeftButton);
  QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier);
  const double back = find_by_id(workbench_.bench().devices, workbench_.chosen().channel->device)->front_end.fixed_ohm;
  EXPECT_GT(std::abs(back - changed), 1);
  EXPECT_FALSE(field->text().contains(QStringLiteral("9.1"))) << field->text().toStdString();
}

// The widgets whose own least size is beyond a limit, innermost last: what to look at when a window is too large.
std::string wide_ones(const QWidget& window, int width) {
  std::string names;
  for (auto* widget : window.findChildren<QWidget*>())
    if (widget->minimumSizeHint().width() > width)
      names += std::string(widget->metaObject()->className()) + " " + widget->objectName().toStdString() + " " +
               std::to_string(widget->minimumSizeHint().width()) + " x " +
               std::to_string(widget->minimumSizeHint().height()) + "\n";
  return names;
}

// The demonstration with larger writing.
class LargeText : public testing::Test {
 protected:
  MainWindow& open(double scale) {
    Theme::load_faces();
    theme.set_text_scale(scale);
    window_ = std::make_unique<MainWindow>(theme, workbench);
    window_->open_demonstration();
    workbench.stop_listening();
    window_->show();
    return *window_;
  }
  Theme theme;
  Workbench workbench{shared_catalogue()};

 private:
  std::unique_ptr<MainWindow> window_;
};

TEST_F(LargeText, NothingIsLargerThanTheWindow) {
  if (is_sanitized) GTEST_SKIP() << "other tests show every view";
  MainWindow& window = open(1.5);
  // Going from one page to another never makes the window grow, not even for a moment.
  for (const Page page : {Page::home, Page::choose, Page::wire, Page::correct, Page::read, Page::logbook, Page::wire}) {
    window.show_page(page);
    QTest::qWait(50);
    EXPECT_EQ(window.size(), QSize(1280, 800)) << static_cast<int>(page);
  }
  // Every view of every page, for a channel with many stages and one with bytes.
  for (const char* channel : {"substrate", "room"}) {
    workbench.choose_channel(channel);
    for_every_view(window, [&](const std::string& where) {
      // Under load the layouts of a page take longer to settle; the window itself never grows meanwhile.
      EXPECT_TRUE(comes([&] { return window.minimumSizeHint().height() <= 800; }))
          << channel << " " << where << ": " << window.minimumSizeHint().height();
      EXPECT_LE(window.minimumSizeHint().width(), 1280) << channel << " " << where << "\n" << wide_ones(window, 330);
      EXPECT_EQ(window.size(), QSize(1280, 800)) << channel << " " << where;
      EXPECT_EQ(cut_by_a_scroll_bar(window), "") << channel << " " << where;
    });
  }
  window.wire().show_view(0);
  for (const Page page : {Page::home, Page::choose, Page::read, Page::correct, Page::logbook, Page::wire}) {
    window.show_page(page);
    QTest::qWait(50);
    for (const Stage& stage : workbench.chosen().chain->stages) {
      workbench.choose_stage(stage.name);
      QTest::qWait(10);
      EXPECT_LE(window.minimumSizeHint().width(), 1280) << stage_title(stage.name) << "\n" << wide_ones(window, 330);
      EXPECT_LE(window.minimumSizeHint().height(), 800) << stage_title(stage.name);
    }
  }
}

// With points the right half says much more than without: it scrolls, nothing is laid over anything else.
TEST_F(LargeText, ACalibrationUnderWayIsWhole) {
  MainWindow& window = open(1.5);
  workbench.choose_channel("spawn_fridge");
  window.show_page(Page::correct);
  auto* points = window.findChild<QPlainTextEdit*>(QStringLiteral("paste_points"));
  points->setFocus();
  for (const char* row : {"-4 -4.7 0.05", "10 10.9 0.05", "14 14.4 0.05"}) {
    QTest::keyClicks(points, QLatin1String(row));
    QTest::keyClick(points, Qt::Key_Return);
  }
  auto* verdict = window.findChild<QLabel*>(QStringLiteral("fit_verdict"));
  ASSERT_TRUE(comes([&] { return !verdict->text().isEmpty(); }));
  QTest::qWait(50);
  for (const char* name : {"fit_verdict", "model_why"}) {
    auto* words = window.findChild<QLabel*>(QLatin1String(name));
    EXPECT_GE(words->height(), words->heightForWidth(words->width())) << words->text().toStdString();
  }
  const auto top_of = [&](const char* name) {
    return window.findChild<QWidget*>(QLatin1String(name))->mapTo(&window, QPoint()).y();
  };
  auto* plot = window.findChild<QWidget*>(QStringLiteral("fit_plot"));
  EXPECT_LE(top_of("fit_plot") + plot->height(), top_of("model"));
}

// At twice the size: the pages' names take a line of their own, what stood beside each other stands one above the
// other, and the page scrolls down to the margin. Nothing scrolls sideways.
TEST_F(LargeText, AtTwiceTheSizeThePageScrollsDown) {
  if (is_sanitized) GTEST_SKIP() << "other tests show every view";
  MainWindow& window = open(1);
  window.show_page(Page::wire);
  theme.set_text_scale(2);
  for (const char* channel : {"substrate", "room"}) {
    workbench.choose_channel(channel);
    for_every_view(window, [&](const std::string& where) {
      EXPECT_LE(window.minimumSizeHint().width(), 1280) << channel << " " << where << "\n" << wide_ones(window, 600);
      EXPECT_LE(window.minimumSizeHint().height(), 800) << channel << " " << where;
      EXPECT_EQ(cut_by_a_scroll_bar(window), "") << channel << " " << where;
      EXPECT_EQ(window.size(), QSize(1280, 800)) << channel << " " << where;
    });
  }
  for (auto* button : window.findChildren<QPushButton*>(QRegularExpression(QStringLiteral("^page_"))))
    EXPECT_TRUE(window.rect().contains(QRect(button->mapTo(&window, QPoint()), button->size())))
        << button->text().toStdString();
  window.show_page(Page::wire);
  QTest::qWait(50);
  auto* room = window.findChild<QScrollArea*>(QStringLiteral("page_room"));
  auto* mistake = window.findChild<QPushButton*>(QStringLiteral("margin_mistake"));
  ASSERT_TRUE(mistake->isVisible());
  EXPECT_GT(mistake->mapTo(&window, QPoint()).y(), 800);
  EXPECT_EQ(room->horizontalScrollBar()->maximum(), 0);
  // By the keyboard alone: what has the focus is in sight.
  mistake->setFocus(Qt::TabFocusReason);
  room->setFocus();
  QTest::keyClick(room, Qt::Key_End);
  for (int i = 0; i < 200; ++i) QTest::keyClick(room, Qt::Key_Down);
  EXPECT_EQ(room->verticalScrollBar()->value(), room->verticalScrollBar()->maximum());
  EXPECT_LT(mistake->mapTo(&window, QPoint()).y(), 800);
  // And back to how it was.
  theme.set_text_scale(1);
  QTest::qWait(50);
  EXPECT_EQ(room->verticalScrollBar()->maximum(), 0);
  EXPECT_GT(mistake->mapTo(&window, QPoint()).x(), 1000);
  EXPECT_EQ(window.size(), QSize(1280, 800));
}

// The text grows while another page is shown: what was hidden meanwhile keeps its colours, every number of the strip
// has its first digit, and a title without room takes none.
TEST_F(WindowTest, WhatWasHiddenWhileTheTextGrewIsWhole) {
  workbench_.choose_channel("rack");
  window_.show_view(Page::read, 5);
  QTest::qWait(50);
  auto* verdict = find<Text>("verdict");
  const QColor before = verdict->palette().color(QPalette::WindowText);
  EXPECT_NE(before, theme_.colours().ink);
  window_.show_page(Page::home);
  QTest::qWait(50);
  theme_.set_text_scale(1.5);
  QTest::qWait(50);
  window_.show_view(Page::read, 5);
  QTest::qWait(50);
  EXPECT_EQ(verdict->palette().color(QPalette::WindowText), before);
  for (const Stage& stage : workbench_.chosen().chain->stages) {
    const QuantityField& field = window_.strip().card(stage.name)->field();
    EXPECT_GE(field.width(), field.fontMetrics().horizontalAdvance(field.text())) << field.text().toStdString();
  }
  for (auto* title : window_.findChildren<PageTitle*>())
    EXPECT_LE(title->height(), 2 * title->fontMetrics().height()) << title->accessibleName().toStdString();
}

// Fields that an edit leaves as they are grow with the text nevertheless.
TEST_F(WindowTest, FieldsThatStayGrowWithTheText) {
  const auto size_of = [&](const QWidget* widget) { return QFontInfo(widget->font()).pixelSize(); };
  window_.show_view(Page::board, 4);
  QTest::qWait(50);
  auto* cable = window_.findChild<QTableWidget*>(QStringLiteral("cut_runs"))->cellWidget(0, 3);
  ASSERT_TRUE(cable);
  const int cable_before = size_of(cable);
  window_.show_view(Page::board, 1);
  QTest::qWait(50);
  const int before = size_of(find<QuantityField>("pull_up_0"));
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) { bench.channels[0].period_s = 7; });
  theme_.set_text_scale(1.5);
  QTest::qWait(100);
  EXPECT_GT(size_of(find<QuantityField>("pull_up_0")), before);
  window_.show_view(Page::board, 4);
  QTest::qWait(100);
  EXPECT_GT(size_of(window_.findChild<QTableWidget*>(QStringLiteral("cut_runs"))->cellWidget(0, 3)), cable_before);
}

// What the focus changes stands out from what was there by 3 to 1 or more. Source: WCAG 2.2, 2.4.13.
TEST_F(WindowTest, TheFocusIsSeenOnEveryControlOfEveryView) {
  if (is_sanitized) GTEST_SKIP() << "other tests show every view";
  for (const auto tone : {Theme::Tone::light, Theme::Tone::dark}) {
    theme_.set_tone(tone);
    std::set<std::string> seen;
    for_every_view(window_, [&](const std::string& where) {
      for (auto* widget : window_.findChildren<QWidget*>()) {
        if (!widget->isVisible() || !widget->isEnabled() || !(widget->focusPolicy() & Qt::TabFocus)) continue;
        if (widget->visibleRegion().isEmpty() || widget->focusProxy()) continue;
        const std::string which = where + " " + widget->metaObject()->className() + " " +
                                  (widget->objectName() + widget->accessibleName()).toStdString();
        // In the other tone one of each kind: the style sheet knows kinds, not names.
        const std::string kind =
            std::string(widget->metaObject()->className()) + "/" + widget->parentWidget()->metaObject()->className() +
            (widget->property("primary").toBool() ? "/primary" : "") +
            (widget->property("quiet").toBool() ? "/quiet" : "") + (widget->property("tab").toBool() ? "/tab" : "");
        const std::string once = tone == Theme::Tone::dark        ? kind
                                 : widget->objectName().isEmpty() ? which
                                                                  : widget->objectName().toStdString();
        if (!seen.insert(once).second) continue;
        widget->setAttribute(Qt::WA_UnderMouse, false);  // wherever the test before left it: that colours a frame too
        if (QWidget* other = window_.focusWidget()) other->clearFocus();
        const QImage before = widget->grab().toImage().convertToFormat(QImage::Format_RGB32);
        widget->setFocus(Qt::TabFocusReason);
        if (!widget->hasFocus()) continue;
        const QImage after = widget->grab().toImage().convertToFormat(QImage::Format_RGB32);
        int marked = 0;
        const int enough = std::min(before.width(), 40);
        for (int y = 0; y < before.height() && marked < enough; ++y) {
          const auto* was = reinterpret_cast<const QRgb*>(before.constScanLine(y));
          const auto* now = reinterpret_cast<const QRgb*>(after.constScanLine(y));
          for (int x = 0; x < before.width(); ++x)
            marked += was[x] != now[x] && contrast(QColor(was[x]), QColor(now[x])) >= 3;
        }
        EXPECT_GE(marked, enough) << which << (tone == Theme::Tone::dark ? ", dark" : "");
      }
    });
  }
}

TEST_F(WindowTest, EveryControlOfEveryViewHasANameAndEveryColumnItsHead) {
  window_.resize(1280, 800);
  for_every_view(window_, [&](const std::string& where) {
    EXPECT_EQ(cut_heads(window_), "") << where;
    for (auto* widget : window_.findChildren<QWidget*>()) {
      if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
      const bool field = qobject_cast<QLineEdit*>(widget) || qobject_cast<QComboBox*>(widget) ||
                         qobject_cast<QPlainTextEdit*>(widget) || qobject_cast<QAbstractItemView*>(widget);
      if (field && !qobject_cast<QComboBox*>(widget->parent())) {
        EXPECT_FALSE(widget->accessibleName().isEmpty())
            << where << ": " << widget->metaObject()->className() << " " << widget->objectName().toStdString();
      }
      const auto* button = qobject_cast<QAbstractButton*>(widget);
      if (button && !qobject_cast<QAbstractItemView*>(widget->parent())) {
        EXPECT_FALSE(button->text().isEmpty() && button->accessibleName().isEmpty())
            << where << ": " << widget->objectName().toStdString();
      }
    }
  });
}

TEST(Again, TheWindowIsAsItWasLeft) {
  Theme theme;
  Theme::load_faces();
  {
    Workbench workbench;
    MainWindow window(theme, workbench);
    window.open_demonstration();
    window.resize(1230, 760);
    window.show();
    window.show_page(Page::correct);
    window.close();
  }
  Workbench workbench;
  MainWindow window(theme, workbench);
  window.take_up_again();
  EXPECT_TRUE(window.findChild<QPushButton*>(QStringLiteral("page_home"))->isChecked()) << "nothing to go on with yet";
  window.open_demonstration();
  window.take_up_again();
  window.show();
  EXPECT_EQ(window.size(), QSize(1230, 760));
  EXPECT_TRUE(window.findChild<QPushButton*>(QStringLiteral("page_correct"))->isChecked());
}

TEST_F(WindowTest, ASecondUnitStandsBesideTheReading) {
  workbench_.choose_channel("room_pressure");
  workbench_.choose_stage(StageName::shown);
  window_.show_page(Page::wire);
  QComboBox* also = nullptr;
  for (auto* box : window_.wire().findChildren<QComboBox*>())
    if (box->accessibleName() == QStringLiteral("Also in")) also = box;
  ASSERT_TRUE(also);
  const int inches = also->findText(QStringLiteral("inHg"));
  ASSERT_GT(inches, 0);
  also->setCurrentIndex(inches);
  emit also->activated(inches);
  type(StageName::shown, QStringLiteral("1013,25"));
  std::string words;
  for (QLabel* label : window_.strip().card(StageName::shown)->findChildren<QLabel*>())
    words += label->text().toStdString() + " ";
  EXPECT_THAT(words, HasSubstr("29.9"));  // a standard atmosphere is 29.921 inHg
  EXPECT_THAT(words, HasSubstr("inHg"));
}

}  // namespace fair_gauge::app::window_test
