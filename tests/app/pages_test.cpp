// The pages, the shelf, the tape and the finder, driven in the real window.
#include <QAbstractItemView>
#include <QClipboard>
#include <QComboBox>
#include <QDropEvent>
#include <QFile>
#include <QHelpEvent>
#include <QListWidget>
#include <QLocale>
#include <QMimeData>
#include <QPointer>
#include <QRegularExpression>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTextBlock>
#include <QTextBrowser>
#include <QTimer>
#include <QToolTip>

#include "home/home_page.h"
#include "read/bytes_view.h"
#include "shell/announcements.h"
#include "shell/command_finder.h"
#include "shell/glossary.h"
#include "shell/manual.h"
#include "shell/shelf.h"
#include "shell/tape.h"
#include "watch/watch_page.h"
#include "widgets/plain_table.h"
#include "widgets/vial.h"
#include "window.h"

namespace fair_gauge::app::pages_test {

using testing::HasSubstr;

QPushButton* button_named(QWidget& in, const QString& text) {
  for (auto* button : in.findChildren<QPushButton*>())
    if (button->text().contains(text) && button->isVisible()) return button;
  return nullptr;
}

// A file of this text let go over the window.
void drop_on(QWidget& window, const QString& path, const QByteArray& text = {}) {
  if (!text.isEmpty()) {
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly) && file.write(text) == text.size());
  }
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(path)});
  const QPoint middle = window.rect().center();
  QDragEnterEvent enter(middle, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&window, &enter);
  ASSERT_TRUE(enter.isAccepted());
  QDropEvent drop(middle, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&window, &drop);
}

TEST_F(EmptyWindow, WhatIsDroppedIsWhatItSaysItIs) {
  const QTemporaryDir directory;
  drop_on(window_, directory.filePath("shed.csv"),
          "Logger,North\nTime,Temp (°C)\n11/24/2026 3:50 PM,21.5\n11/24/2026 3:51 PM,21.6\n");
  EXPECT_EQ(find<QPushButton>("page_watch")->isChecked(), true);
  ASSERT_TRUE(comes([&] { return find<QPushButton>("watch_make")->isVisible(); }));
  drop_on(window_, QStringLiteral(FAIR_GAUGE_SOURCE "/tests/data/one-wire.vcd"));
  EXPECT_EQ(find<QPushButton>("page_read")->isChecked(), true);
  EXPECT_THAT(text("bytes_understood"), HasSubstr("from the capture"));
  drop_on(window_, directory.filePath("edges.txt"), "seconds,data\n0,1\n1e-3,0\n2e-3,1\n");
  EXPECT_EQ(find<QPushButton>("page_read")->isChecked(), true);
  drop_on(window_, QStringLiteral(FAIR_GAUGE_SOURCE "/data/demo/fernhollow.fairgauge.json"));
  EXPECT_GT(workbench_.bench().channels.size(), 5u);
  qputenv("XDG_DATA_HOME", directory.path().toUtf8());
  const QByteArray part = R"({"parts": [{"id": "brought", "name": "Temperature of a friend", "markings": ["FRND1"],
"interface": "voltage", "quantities": [{"quantity": "temperature", "minimum": -40, "maximum": 125}],
    "transfer": {"type": "linear", "numbers": {"slope": 0.01, "offset": 0.5}}, "source": "a friend"}]})";
  drop_on(window_, directory.filePath("friend.txt"), part);
  EXPECT_THAT(seen(), HasSubstr("among your own parts: Temperature of a friend"));
  EXPECT_TRUE(workbench_.catalogue().find("FRND1"));
  drop_on(window_, directory.filePath("broken.json"), R"({"parts": [{"id": "broken"}]})");
  EXPECT_THAT(seen(), HasSubstr("These parts were not taken"));
  qunsetenv("XDG_DATA_HOME");
  drop_on(window_, directory.filePath("picture.csv"), QByteArray("\x89PNG\0\0", 6));
  EXPECT_THAT(seen(), HasSubstr("could not be opened"));
  drop_on(window_, directory.filePath("none.csv"));
  EXPECT_THAT(seen(), HasSubstr("No such file"));
}

TEST_F(WindowTest, EveryRowOfEveryStageGivesBackWhatWasSet) {
  window_.hide();  // the rows are asked, not drawn
  for (const Channel& channel : Bench(workbench_.bench()).channels) {
    if (is_sanitized && channel.id != "substrate" && channel.id != "room") continue;
    workbench_.choose_channel(channel.id);
    const auto stages = workbench_.chosen().chain->stages;
    for (const Stage& stage : stages) {
      for (const FieldRow& row : fields_of_stage(stage.name, workbench_)) {
        const Bench before = workbench_.bench();
        Bench bench = before;
        ChannelPieces pieces = pieces_of(bench, channel.id);
        EXPECT_FALSE(row.why.isEmpty()) << row.label.toStdString();
        if (const auto* quantity = std::get_if<QuantityRow>(&row.kind)) {
          double value = quantity->get(pieces);
          if (quantity->forget) {
            quantity->forget(pieces);
            EXPECT_TRUE(std::isnan(quantity->get(pieces))) << row.label.toStdString();
            if (std::isnan(value)) value = 3.21;
          }
          quantity->set(pieces, value);
          EXPECT_NEAR(quantity->get(pieces), value, 1e-9 * std::max(1.0, std::abs(value))) << row.label.toStdString();
        } else if (const auto* choice = std::get_if<ChoiceRow>(&row.kind)) {
          const int chosen = choice->get(pieces);
          ASSERT_GE(chosen, 0);
          ASSERT_LT(chosen, choice->choices.size()) << row.label.toStdString();
          for (int i = 0; i < choice->choices.size(); ++i) {
            workbench_.document().edit(row.label, [&](Bench& changed) {
              ChannelPieces at = pieces_of(changed, channel.id);
              choice->set(at, i);
            });
            EXPECT_TRUE(workbench_.view(channel.id).chain)
                << channel.id << ": " << row.label.toStdString() << ": " << choice->choices[i].toStdString();
          }
          while (workbench_.document().can_undo()) workbench_.document().undo();
          EXPECT_EQ(workbench_.bench(), before);
        } else {
          const auto& words = std::get<WordsRow>(row.kind);
          // Trimming is bytes: it says why words are none, and takes what it has.
          const bool is_trimming = row.label.startsWith(QStringLiteral("Trimming"));
          const std::string given = is_trimming ? words.get(pieces) : "by the door";
          if (is_trimming) {
            EXPECT_TRUE(words.wrong(pieces, "by the door"));
            EXPECT_TRUE(words.wrong(pieces, given + "00")) << "a byte too many";
            EXPECT_FALSE(words.wrong(pieces, given));
          }
          words.set(pieces, given);
          EXPECT_EQ(words.get(pieces), given);
        }
      }
    }
  }
}

TEST_F(WindowTest, HomeListsEveryChannelAndOpensIt) {
  window_.show_page(Page::home);
  auto* home = &window_.home();
  ASSERT_TRUE(home);
  int verdicts = 0;
  for (auto* text : home->findChildren<Text*>()) verdicts += text->text().startsWith(QStringLiteral("Uses "));
  EXPECT_EQ(verdicts, static_cast<int>(workbench_.bench().channels.size()));
  QPushButton* open = nullptr;
  for (auto* button : home->findChildren<QPushButton*>())
    if (button->accessibleName() == QStringLiteral("Open Steamer")) open = button;
  ASSERT_TRUE(open);
  QTest::mouseClick(open, Qt::LeftButton);
  EXPECT_EQ(workbench_.channel_id(), "steamer");
  EXPECT_TRUE(window_.wire().isVisible());
}

TEST_F(WindowTest, TheShelfChoosesByMouseAndKey) {
  const auto items = window_.findChildren<ShelfItem*>();
  ASSERT_EQ(items.size(), static_cast<qsizetype>(workbench_.bench().channels.size()));
  QTest::mouseClick(items[1], Qt::LeftButton);
  EXPECT_EQ(workbench_.channel_id(), items[1]->id().toStdString());
  QTest::keyClick(items[0], Qt::Key_Return);
  EXPECT_EQ(workbench_.channel_id(), items[0]->id().toStdString());
  QTest::keyClick(&window_, Qt::Key_PageDown, Qt::ControlModifier);
  EXPECT_EQ(workbench_.channel_id(), items[1]->id().toStdString());
}

TEST_F(WindowTest, TheTapeSaysTheScatterInUnitsAndSteps) {
  std::string words;
  for (auto* text : window_.findChild<Tape*>()->findChildren<Text*>()) words += text->text().toStdString() + "\n";
  EXPECT_THAT(words, HasSubstr("scatter 0.0"));
  EXPECT_THAT(words, HasSubstr("steps rms"));
}

TEST_F(WindowTest, TheMarginNamesTheLargestSourceAndTheCautions) {
  std::string words;
  for (auto* text : window_.findChildren<Text*>())
    if (text->isVisible()) words += text->text().toStdString() + "\n";
  EXPECT_THAT(words, HasSubstr("8k2 resistor, 1 %"));
  EXPECT_THAT(words, HasSubstr("resolution, not accuracy"));
  EXPECT_THAT(words, HasSubstr("humidifier's mains cable"));
}

TEST_F(WindowTest, ACommandIsFoundByAFewLetters) {
  std::vector<QAction*> actions;
  for (QAction* action : window_.actions()) actions.push_back(action);
  CommandFinder finder(actions, &window_);
  finder.show();
  auto* text = finder.findChild<QLineEdit*>();
  QTest::keyClicks(text, QStringLiteral("dark pap"));
  auto* list = finder.findChild<QListWidget*>();
  ASSERT_EQ(list->count(), 1);
  EXPECT_THAT(list->item(0)->text().toStdString(), HasSubstr("Ctrl+D"));
  QTest::keyClick(text, Qt::Key_Return);
  EXPECT_EQ(finder.result(), QDialog::Accepted);
}

// Who is quicker with Enter than with words begins nothing; what nobody is called is said.
TEST_F(WindowTest, TheFinderDoesNothingUnasked) {
  const auto actions = window_.actions();
  CommandFinder finder({actions.begin(), actions.end()}, &window_);
  finder.show();
  auto* list = finder.findChild<QListWidget*>();
  EXPECT_GT(list->count(), 10);
  EXPECT_EQ(list->currentRow(), -1);
  QTest::keyClick(finder.findChild<QLineEdit*>(), Qt::Key_Down);
  EXPECT_EQ(list->currentRow(), 0);
  QTest::keyClicks(finder.findChild<QLineEdit*>(), QStringLiteral("zzz"));
  EXPECT_FALSE(list->isVisible());
  EXPECT_THAT(finder.findChild<QLabel*>()->text().toStdString(), HasSubstr("is called so"));
}

TEST_F(WindowTest, APartIsFoundByWhatIsPrintedOnIt) {
  QAction* find_command = nullptr;
  for (QAction* action : window_.actions())
    if (action->shortcut() == QKeySequence(QStringLiteral("Ctrl+K"))) find_command = action;
  ASSERT_TRUE(find_command);
  QTimer::singleShot(300, &window_, [this] {
    auto* finder = window_.findChild<CommandFinder*>();
    ASSERT_TRUE(finder);
    auto* text = finder->findChild<QLineEdit*>();
    QTest::keyClicks(text, QStringLiteral("sht31"));
    ASSERT_GE(finder->findChild<QListWidget*>()->count(), 1);
    QTest::keyClick(text, Qt::Key_Return);
  });
  find_command->trigger();
  auto* bytes = window_.findChild<BytesView*>();
  ASSERT_TRUE(bytes);
  EXPECT_TRUE(bytes->isVisible());
  EXPECT_EQ(bytes->part_id(), "humid-checked-middle");
}

// How old the shown value is, and how far the sensor lags behind, stand beside it while it is live.
TEST_F(WindowTest, TheShownValueSaysHowOldItIs) {
  const auto caption = [&] {
    QString words;
    for (const QLabel* label : window_.strip().card(StageName::shown)->findChildren<QLabel*>())
      words += label->text() + "\n";
    return words.replace(QChar::Nbsp, ' ').toStdString();
  };
  workbench_.choose_channel("substrate");
  EXPECT_EQ(caption().find(" old"), std::string::npos) << "nothing is live";
  workbench_.document().edit(QStringLiteral("Period"), [](Bench& bench) {
    for (Channel& channel : bench.channels) channel.period_s = 5;
  });
  workbench_.listen_to_simulation();
  EXPECT_TRUE(comes([&] { return caption().find("0 s old, lags ") != std::string::npos; })) << caption();
  // A busy machine may skip a second.
  const auto grows = [&] {
    return std::ranges::any_of(std::string("234"), [&](char s) {
      return caption().find(std::string(1, s) + " s old, lags ") != std::string::npos;
    });
  };
  EXPECT_TRUE(comes(grows)) << caption();
  workbench_.hold({StageName::world, 20});
  QTest::qWait(100);
  EXPECT_EQ(caption().find(" old"), std::string::npos) << "a held value has no age";
  workbench_.return_to_live();
  QTest::qWait(100);
  EXPECT_NE(caption().find(" old"), std::string::npos);
  workbench_.stop_listening();
  QTest::qWait(100);
  EXPECT_EQ(caption().find(" old"), std::string::npos);
}

TEST_F(WindowTest, TheSimulationGoesOnLive) {
  workbench_.listen_to_simulation();
  const auto before = workbench_.samples("substrate").size();
  EXPECT_GT(before, 100u);  // the last ten minutes
  EXPECT_TRUE(comes([&] { return workbench_.samples("substrate").size() > before; }));
  EXPECT_FALSE(workbench_.chosen().silent_s);
  workbench_.stop_listening();
  EXPECT_NE(workbench_.source().state(), LineState::running);
}

TEST(FirstRun, OffersTheDemonstration) {
  Theme theme;
  Workbench workbench(shared_catalogue());
  MainWindow window(theme, workbench);
  window.show();
  ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
  QPushButton* demonstration = button_named(window, QStringLiteral("demonstration"));
  ASSERT_TRUE(demonstration);
  QTest::mouseClick(demonstration, Qt::LeftButton);
  EXPECT_EQ(workbench.bench().name, "Fernhollow");
  EXPECT_EQ(workbench.source().state(), LineState::running);
  workbench.stop_listening();
}

/// Every text that stands in the window, with who shows it: of labels, buttons, fields, choices, lists and tables, and
/// what is read aloud.
std::map<QString, QString> texts_in(const QWidget& window) {
  std::map<QString, QString> texts;
  for (auto* widget : window.findChildren<QWidget*>()) {
    if (!widget->isVisible()) continue;
    const QString who = QLatin1String(widget->metaObject()->className()) + QLatin1Char(' ') + widget->objectName();
    const auto take = [&](const QString& text) {
      if (!text.isEmpty()) texts.try_emplace(text, who);
    };
    take(widget->accessibleName());
    take(widget->accessibleDescription());
    take(widget->toolTip());
    if (auto* label = qobject_cast<QLabel*>(widget)) take(label->text());
    if (auto* button = qobject_cast<QAbstractButton*>(widget)) take(button->text());
    if (auto* field = qobject_cast<QLineEdit*>(widget)) take(field->text()), take(field->placeholderText());
    if (auto* choice = qobject_cast<QComboBox*>(widget))
      for (int i = 0; i < choice->count(); ++i) take(choice->itemText(i));
    if (auto* view = qobject_cast<QAbstractItemView*>(widget); view && view->model())
      for (int row = 0; row < view->model()->rowCount(); ++row)
        for (int column = 0; column < view->model()->columnCount(); ++column)
          take(view->model()->index(row, column).data().toString());
  }
  return texts;
}

/// The locale of the test, and the one before it afterwards.
struct LocaleFor {
  explicit LocaleFor(const QLocale& locale) { QLocale::setDefault(locale); }
  ~LocaleFor() { QLocale::setDefault(before); }
  const QLocale before;
};

// Where a comma parts decimals no view has a number with a point: 3.0 kΩ beside 1,7966 V.
TEST(DecimalMark, IsTheSameInEveryView) {
  if (is_sanitized) GTEST_SKIP() << "other tests show every view";
  const LocaleFor comma(QLocale(QLocale::German, QLocale::Germany));
  Theme theme;
  Theme::load_faces();
  Workbench workbench(shared_catalogue());
  MainWindow window(theme, workbench);
  window.open_demonstration();
  std::filesystem::remove(window.logbook().path());  // what other tests wrote by their own marks
  workbench.stop_listening();
  window.show();
  // Not part of a longer word: a version, a date, a file, an address.
  const QRegularExpression with_point(QStringLiteral(R"((?<![\w.:])\d+\.\d+(?![\w.]*\w\.|\.\d))"));
  std::map<QString, std::string> found;
  for (const char* channel : {"substrate", "room"}) {
    workbench.choose_channel(channel);
    for_every_view(window, [&](const std::string& where) {
      for (const auto& [text, who] : texts_in(window))
        if (text.contains(with_point) && !text.contains(QStringLiteral("adc *")) &&  // a line of C
            !who.endsWith(QStringLiteral("thing_name")))                             // a name as it was typed
          found.try_emplace(text, where + ", " + who.toStdString());
    });
  }
  for (const auto& [text, where] : found) ADD_FAILURE() << where << ": " << text.toStdString();
}

// A screen reader hears a name when it is another, of what is seen, and of a live number once a second.
TEST_F(WindowTest, AScreenReaderIsToldSparingly) {
  window_.show_page(Page::home);
  Text label(theme_, Face::text, QStringLiteral("25.1 °C"), Tint::ink, &window_);
  const auto is_told = [&] {
    QAccessibleEvent event(&label, QAccessible::NameChanged);
    return is_news(event);
  };
  EXPECT_FALSE(is_told()) << "not shown yet";
  label.show();
  EXPECT_TRUE(is_told());
  EXPECT_FALSE(is_told()) << "the same words again";
  label.setText(QStringLiteral("25.2 °C"));
  EXPECT_FALSE(is_told()) << "at once";
  QTest::qWait(1100);
  EXPECT_TRUE(is_told());
  QAccessibleEvent focus(&label, QAccessible::Focus);
  EXPECT_TRUE(is_news(focus));
  // The level that a share of the error stands in is another name only when its words are others.
  auto* vial = window_.findChild<Vial*>();
  ASSERT_TRUE(vial);
  vial->show_share(0.501, 0);
  const QString words = vial->accessibleName();
  vial->show_share(0.502, 0);
  EXPECT_EQ(vial->accessibleName(), words);
  EXPECT_THAT(words.toStdString(), HasSubstr("50 %"));
}

// A word of the trade says what it means where it stands: under a resting mouse, and by a key.
TEST_F(WindowTest, WordsOfTheTradeAreToldWhereTheyStand) {
  EXPECT_GT(glossary().terms().size(), 30u);
  EXPECT_EQ(glossary().in(QStringLiteral("Effective bits"))->word, QStringLiteral("effective bits"));
  EXPECT_EQ(glossary().in(QStringLiteral("Two pull-ups here"))->word, QStringLiteral("pull-up"));
  EXPECT_EQ(glossary().in(QStringLiteral("expanded uncertainty of it"))->word, QStringLiteral("expanded uncertainty"));
  EXPECT_FALSE(glossary().in(QStringLiteral("unsystematically coded")));
  workbench_.choose_channel("substrate");
  window_.show_page(Page::watch);
  auto* table = window_.findChild<QTableWidget*>(QStringLiteral("signal_figures"));
  ASSERT_TRUE(comes([&] { return table->rowCount() > 8; }));
  int row = 0;
  while (table->item(row, 0)->text() != QStringLiteral("effective bits")) ++row;
  const QPoint at = table->visualItemRect(table->item(row, 0)).center();
  QHelpEvent rests(QEvent::ToolTip, at, table->viewport()->mapToGlobal(at));
  QApplication::sendEvent(table->viewport(), &rests);
  EXPECT_TRUE(comes([] { return QToolTip::isVisible(); }));
  EXPECT_THAT(QToolTip::text().toStdString(), HasSubstr("the bits that its noise leaves"));
  QToolTip::hideText();
  // By the key, from the row in hand.
  table->setFocus();
  table->setCurrentCell(row, 1);
  QTest::keyClick(table, Qt::Key_F1, Qt::ShiftModifier);
  auto* manual = window_.findChild<Manual*>();
  ASSERT_TRUE(manual && manual->isVisible());
  EXPECT_EQ(manual->shown(), QStringLiteral("glossary"));
  EXPECT_EQ(manual->findChild<QTextBrowser*>(QStringLiteral("manual_text"))->textCursor().selectedText(),
            QStringLiteral("effective bits"));
}

// So it does in the manual's own pages: where one first uses the word, in its running text.
TEST_F(WindowTest, WordsOfTheTradeAreLinksInTheManual) {
  Manual manual(theme_, Manual::folder(), &window_);
  manual.open_at(QStringLiteral("calibrate"));
  ASSERT_TRUE(QTest::qWaitForWindowExposed(&manual));
  auto* text = manual.findChild<QTextBrowser*>(QStringLiteral("manual_text"));
  std::set<QString> words;
  std::optional<QTextCursor> first;
  QString its_word;
  for (QTextBlock block = text->document()->begin(); block.isValid(); block = block.next())
    for (auto it = block.begin(); !it.atEnd(); ++it) {
      const QTextCharFormat format = it.fragment().charFormat();
      if (!format.anchorHref().startsWith(QStringLiteral("word:"))) continue;
      EXPECT_TRUE(words.insert(format.anchorHref()).second) << "once a page " << format.anchorHref().toStdString();
      EXPECT_EQ(block.blockFormat().headingLevel(), 0);
      EXPECT_FALSE(block.blockFormat().nonBreakableLines()) << "not in commands";
      if (!first) {
        first = QTextCursor(block);
        first->setPosition(it.fragment().position() + 2);
        its_word = QUrl(format.anchorHref()).path();
      }
    }
  EXPECT_GE(words.size(), 3u);
  ASSERT_TRUE(first);
  const QPoint at = text->cursorRect(*first).center();
  QTest::mouseMove(text->viewport(), at);
  QTest::mouseClick(text->viewport(), Qt::LeftButton, {}, at);
  EXPECT_EQ(manual.shown(), QStringLiteral("glossary"));
  EXPECT_EQ(text->textCursor().selectedText(), its_word);
}

// F1 opens the manual where the view in front is explained; links lead on, words are looked for.
TEST_F(WindowTest, TheManualOpensAtTheViewInFront) {
  window_.show_view(Page::read, 4);
  QTest::keyClick(&window_, Qt::Key_F1);
  auto* manual = window_.findChild<Manual*>();
  ASSERT_TRUE(manual && manual->isVisible());
  EXPECT_EQ(manual->shown(), QStringLiteral("why-is-my-reading-wrong"));
  auto* text = manual->findChild<QTextBrowser*>(QStringLiteral("manual_text"));
  EXPECT_TRUE(text->toPlainText().startsWith(QStringLiteral("Why is my reading wrong?")));
  window_.show_page(Page::logbook);
  QTest::keyClick(&window_, Qt::Key_F1);
  EXPECT_EQ(manual->shown(), QStringLiteral("keep-the-logbook"));
  // A few words find the page that has them all.
  auto* pages = manual->findChild<QListWidget*>(QStringLiteral("manual_pages"));
  const int all = pages->count();
  QTest::keyClicks(manual->findChild<QLineEdit*>(QStringLiteral("manual_words")), QStringLiteral("multiplexer bus"));
  EXPECT_LT(pages->count(), all);
  ASSERT_GT(pages->count(), 0);
  EXPECT_THAT(text->toPlainText().toLower().toStdString(), HasSubstr("multiplexer"));
  EXPECT_FALSE(text->extraSelections().isEmpty());
  // Marked on each page that is chosen of them, and in the paper's other tone.
  pages->setCurrentRow(pages->count() - 1);
  EXPECT_FALSE(text->extraSelections().isEmpty());
  const QString stays = manual->shown();
  theme_.set_tone(Theme::Tone::dark);
  EXPECT_EQ(manual->shown(), stays);
  EXPECT_FALSE(text->extraSelections().isEmpty());
  emit text->anchorClicked(QUrl(QStringLiteral("the-budget.md")));
  EXPECT_EQ(manual->shown(), QStringLiteral("the-budget"));
  EXPECT_EQ(pages->count(), all);
}

QString page_of(const QDir& folder, const QString& name) {
  QFile file(folder.filePath(name));
  EXPECT_TRUE(file.open(QIODevice::ReadOnly)) << name.toStdString();
  return QString::fromUtf8(file.readAll());
}

QStringList found_in(const QString& text, const char* pattern) {
  QStringList all;
  const QRegularExpression expression(QString::fromLatin1(pattern));
  for (auto found = expression.globalMatch(text); found.hasNext();) all << found.next().captured(1);
  return all;
}

// Every view has a page, and every link of every page leads to one.
TEST(ManualPages, ExistForEveryViewAndLeadToEachOther) {
  const QDir folder(Manual::folder());
  for (const auto& [page, name, views] : MainWindow::page_names())
    for (int view = 0; view < std::max(1, static_cast<int>(views.size())); ++view) {
      const QString about = Manual::page_about(page_key(page), view);
      EXPECT_NE(about, QStringLiteral("README")) << name.toStdString() << " " << view;
      EXPECT_TRUE(folder.exists(about + QStringLiteral(".md"))) << about.toStdString();
    }
  for (const QDir& each : {folder, QDir(folder.filePath(QStringLiteral("de")))})
    for (const QString& name : each.entryList({QStringLiteral("*.md")}))
      for (const QString& link : found_in(page_of(each, name), R"(\]\(((?:\.\./)*[a-z/.-]+\.(?:md|json))\))"))
        EXPECT_TRUE(each.exists(link)) << name.toStdString() << link.toStdString();
}

// What is to be typed is the same, and nothing was left out.
TEST(ManualPages, InGermanSayAsMuch) {
  const QDir english(Manual::folder()), german(english.filePath(QStringLiteral("de")));
  const QStringList names = english.entryList({QStringLiteral("*.md")});
  EXPECT_EQ(german.entryList({QStringLiteral("*.md")}), names);
  for (const QString& name : names) {
    if (name == QStringLiteral("glossary.md")) continue;  // in the order of its own words
    const QString here = page_of(english, name), there = page_of(german, name);
    for (const char* what : {R"((?m)^(    [^ ].*)$)", R"(\]\(([a-z/-]+\.md)\))", R"((https?://[^)]+))"})
      EXPECT_EQ(found_in(there, what), found_in(here, what)) << name.toStdString();
    for (const char* what : {R"((?m)^(#+ ))", R"((?m)^(- |\d+\. |\|))", R"((`[^`]+`))"})
      EXPECT_EQ(found_in(there, what).size(), found_in(here, what).size()) << name.toStdString() << what;
  }
}

// "(Ctrl+5, Alt+4)" behind the names of a page and of its view.
TEST(ManualPages, NameTheKeysOfTheirViews) {
  const QDir folder(Manual::folder());
  int keys = 0;
  for (const QString& name : folder.entryList({QStringLiteral("*.md")})) {
    static const QRegularExpression named(QStringLiteral(
        R"(\*([A-Z][a-z ]+)(?:\*, \*| → )?([A-Z][a-z ]*)?\*+ (?:page )?\(Ctrl\+(\d)(?:, Alt\+(\d))?\))"));
    for (auto found = named.globalMatch(page_of(folder, name)); found.hasNext(); ++keys) {
      const auto match = found.next();
      const auto pages = MainWindow::page_names();
      const auto& page = pages[match.captured(3).toULongLong() - 1];
      EXPECT_EQ(match.captured(1), page.name) << name.toStdString();
      if (!match.captured(4).isEmpty()) {
        EXPECT_EQ(match.captured(2), page.views.value(match.captured(4).toInt() - 1)) << name.toStdString();
      }
    }
  }
  EXPECT_GE(keys, 6);
}

TEST_F(WindowTest, ATableIsCopiedAsText) {
  window_.show_view(Page::correct, 1);
  QTest::qWait(100);
  QTableWidget* table = nullptr;
  for (auto* each : window_.page(Page::correct).findChildren<QTableWidget*>())
    if (each->isVisible() && each->rowCount() > 1) table = each;
  ASSERT_TRUE(table);
  table->setFocus();
  table->clearSelection();
  QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(QApplication::clipboard()->text().count(QLatin1Char('\n')), table->rowCount());
  table->selectRow(1);
  QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
  const QStringList lines = QApplication::clipboard()->text().split(QLatin1Char('\n'));
  ASSERT_EQ(lines.size(), 2);
  EXPECT_EQ(lines[1].section(QLatin1Char('\t'), 0, 0), table->item(1, 0)->text());
  EXPECT_EQ(lines[0].count(QLatin1Char('\t')), table->columnCount() - 1);
}

// Every field of every view, clicked into, typed over and settled: what was typed stands there, or what was there
// before where it is refused.
TEST_F(WindowTest, EveryFieldShowsWhatItWasGiven) {
  if (is_sanitized) GTEST_SKIP() << "other tests type and choose in every view";
  std::string wrong;
  int typed = 0;
  const std::size_t had_doubts = workbench_.chosen().channel->contributions.size();
  const QRegularExpression number(QStringLiteral("^[0-9]+([.][0-9]+)?"));
  const auto look = [&](const std::string& view) {
    std::vector<QPointer<QuantityField>> fields;
    for (auto* field : window_.findChildren<QuantityField*>())
      if (field->isVisible() && field->isEnabled() && !field->isReadOnly() && !window_.strip().isAncestorOf(field))
        fields.emplace_back(field);
    for (const auto& field : fields) {
      if (!field || !field->isVisible()) continue;  // its form was made anew
      const QString before = field->text();
      const auto had = number.match(before);
      if (!before.isEmpty() && !had.hasMatch()) continue;
      const double value = had.hasMatch() ? had.captured().toDouble() : 20;
      QString unit = before.mid(had.capturedLength());
      if (unit.contains(u'µ')) continue;  // no key of this keyboard
      const QString words = QString::number(value == 0 ? 1 : value * 1.25, 'g', 4) +
                            unit.remove(QRegularExpression(QStringLiteral("[^ -~]")));
      const std::string name = view + ", " + field->objectName().toStdString() + ": ";
      click_into(*field);
      QTest::keyClicks(field, words);
      QTest::keyClick(field, Qt::Key_Return);
      QTest::qWait(20);
      ++typed;
      if (field) QTest::keyClick(field, Qt::Key_Tab);
      QTest::qWait(5);
      if (!field) continue;
      const QString after = field->text();
      const double now = number.match(after).captured().toDouble(), wish = number.match(words).captured().toDouble();
      if (name.ends_with("doubt_width: ")) {
        EXPECT_EQ(workbench_.chosen().channel->contributions.size(), had_doubts + 1) << "it stands in the list";
        continue;
      }
      if (after.isEmpty() || (after != before && std::abs(now - wish) > 0.02 * wish))
        wrong +=
            name + before.toStdString() + ", typed " + words.toStdString() + ", shows " + after.toStdString() + "\n";
    }
  };
  for_every_view(window_, look);
  for (const Page page : {Page::wire, Page::read, Page::correct, Page::watch})
    for (const char* channel : {"filter", "room_humidity", "compost_probe"}) {
      workbench_.choose_channel(channel);
      window_.show_view(page, 0);
      QTest::qWait(20);
      EXPECT_TRUE(comes([&] { return !window_.watch().log().is_reading(); }));
      look(channel);
    }
  EXPECT_GT(typed, 30);
  EXPECT_EQ(wrong, "");
}

// Every box of choices, gone down by one with the keys: what was chosen stays chosen, also where the form is made anew.
TEST_F(WindowTest, EveryBoxKeepsWhatWasChosen) {
  if (is_sanitized) GTEST_SKIP() << "other tests type and choose in every view";
  std::string wrong;
  int chosen = 0;
  for_every_view(window_, [&](const std::string& view) {
    QStringList names;
    for (const auto* box : window_.findChildren<QComboBox*>())
      if (box->isVisible() && box->isEnabled() && !box->isEditable() && !box->objectName().isEmpty())
        names << box->objectName();
    for (const QString& name : names) {
      const auto find_box = [&] {
        for (auto* box : window_.findChildren<QComboBox*>(name))
          if (box->isVisible()) return box;
        return static_cast<QComboBox*>(nullptr);
      };
      auto* box = find_box();
      if (!box || !box->isEnabled() || box->count() < 2) continue;
      const int before = box->currentIndex();
      const QString from = box->currentText();
      box->setFocus();
      QTest::keyClick(box, before + 1 < box->count() ? Qt::Key_Down : Qt::Key_Up);
      QTest::qWait(30);
      ++chosen;
      if (const auto* now = find_box(); now && now->currentIndex() == before && now->currentText() == from)
        wrong += view + ", " + name.toStdString() + " stays " + from.toStdString() + "\n";
      else if (!now)
        wrong += view + ", " + name.toStdString() + " is gone\n";
    }
  });
  EXPECT_GT(chosen, 30);
  EXPECT_EQ(wrong, "");
}

// Lines of words: what is typed and settled stands there when the keys have gone on.
TEST_F(WindowTest, EveryLineKeepsItsWords) {
  if (is_sanitized) GTEST_SKIP() << "other tests type and choose in every view";
  std::string wrong;
  int typed = 0;
  for_every_view(window_, [&](const std::string& view) {
    std::vector<QPointer<QLineEdit>> lines;
    for (auto* line : window_.findChildren<QLineEdit*>())
      if (line->isVisible() && line->isEnabled() && !line->isReadOnly() && !qobject_cast<QuantityField*>(line) &&
          !qobject_cast<QComboBox*>(line->parentWidget()))
        lines.emplace_back(line);
    for (const auto& line : lines) {
      if (!line || !line->isVisible()) continue;
      const QString before = line->text();
      const std::string name = view + ", " + line->objectName().toStdString() + ": ";
      click_into(*line);
      QTest::keyClicks(line, QStringLiteral("12"));
      const QString during = line ? line->text() : QString();
      if (line) QTest::keyClick(line, Qt::Key_Return);
      if (line) QTest::keyClick(line, Qt::Key_Tab);
      QTest::qWait(10);
      ++typed;
      if (line && line->text() != during)
        wrong += name + before.toStdString() + ", typed " + during.toStdString() + ", shows " +
                 line->text().toStdString() + "\n";
    }
  });
  EXPECT_GT(typed, 20);
  EXPECT_EQ(wrong, "");
}

}  // namespace fair_gauge::app::pages_test
