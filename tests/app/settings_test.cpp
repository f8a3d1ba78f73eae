// The settings of a machine: changed with mouse and keys, in force at once, kept, and harmless where they are damaged.
#include "shell/settings.h"

#include <gmock/gmock.h>

#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>

#include "read/line_view.h"
#include "shell/glossary.h"
#include "shell/language.h"
#include "shell/manual.h"
#include "sources/recording.h"
#include "watch/watch_page.h"
#include "window.h"

namespace fair_gauge::app::settings_test {

using testing::HasSubstr;
using testing::Not;

class SettingsTest : public WindowTest {
 protected:
  ~SettingsTest() override { QLocale::setDefault(before_); }
  void open() {
    for (QAction* action : window_.actions())
      if (action->shortcut() == QKeySequence(QStringLiteral("Ctrl+,"))) action->trigger();
    QTest::qWait(50);
  }
  // As a person takes it: the keyboard goes to the box, its list is walked down to the choice.
  void choose(const char* name, int index) {
    auto* box = find<QComboBox>(name);
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    emit box->activated(box->currentIndex());
    for (int i = 0; i < index; ++i) {
      QTest::qWait(20);
      QTest::keyClick(find<QComboBox>(name), Qt::Key_Down);  // another one, where the language has changed
    }
    QTest::qWait(50);
    EXPECT_EQ(find<QComboBox>(name)->currentIndex(), index) << name;
  }
  const QLocale before_;
};

// In the middle of work: a value is held, a correction's points stand, a page and a view are in front.
TEST_F(SettingsTest, AnotherLanguageLosesNothing) {
  window_.open_demonstration();
  window_.show_view(Page::correct, 3);
  workbench_.hold({StageName::shown, 11.4});
  workbench_.document().edit(QStringLiteral("of the test"), [](Bench& bench) { bench.name = "Grünwald"; });
  const std::string channel = workbench_.channel_id();
  open();
  choose("settings_language", 2);
  window_.findChild<SettingsWindow*>()->close();
  QTest::qWait(200);
  EXPECT_EQ(workbench_.channel_id(), channel);
  EXPECT_EQ(workbench_.bench().name, "Grünwald");
  EXPECT_TRUE(workbench_.document().can_undo());
  ASSERT_TRUE(workbench_.anchor());
  EXPECT_EQ(workbench_.anchor()->value, 11.4);
  EXPECT_THAT(seen(), AllOf(HasSubstr("11,4"), HasSubstr("Simulation"), HasSubstr("Größe liegt um das daneben")));
  EXPECT_TRUE(find<QPushButton>("page_correct")->isChecked());
  // Every page speaks it, those that had been built before and those that had not, with its menu and its keys.
  window_.activateWindow();
  ASSERT_TRUE(QTest::qWaitForWindowActive(&window_));
  QTest::keyClick(&window_, Qt::Key_F1);
  EXPECT_EQ(window_.findChild<Manual*>()->shown().toStdString(), "work-out-the-dew-point") << "of the view in front";
  EXPECT_TRUE(find<QTextBrowser>("manual_text")->toPlainText().startsWith(QStringLiteral("Den Taupunkt berechnen")));
  const Glossary::Term* term = glossary().in(QStringLiteral("Zulässiger Fehler"));
  ASSERT_TRUE(term) << "the words of the trade are told in the language that they stand in";
  EXPECT_TRUE(term->means.startsWith(QStringLiteral("Was die Aufgabe verträgt")));
  QTest::keyClick(&window_, Qt::Key_1, Qt::ControlModifier);
  EXPECT_THAT(seen(), HasSubstr("Grünwald"));
  for (const QAction* action : window_.actions()) EXPECT_NE(action->text().toStdString(), "Save");
  open();
  choose("settings_language", 1);
  EXPECT_THAT(seen(), Not(HasSubstr("Kanäle")));
}

// Half-done work that is in no file yet: pasted bytes of another part, a layout of one's own, a note.
TEST_F(SettingsTest, AnotherLanguageKeepsWhatIsBeingTyped) {
  window_.open_demonstration();
  const auto type_into = [&](const char* name, const QString& words) {
    auto* field = find<QLineEdit>(name);
    click_into(*field);
    QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(field, words);
  };
  window_.show_view(Page::read, 1);
  auto* parts = find<QComboBox>("bytes_part");
  QTest::mouseClick(parts->lineEdit(), Qt::LeftButton);
  QTest::keyClick(parts->lineEdit(), Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(parts->lineEdit(), QStringLiteral("TMP117"));
  ASSERT_TRUE(comes([] { return QApplication::activePopupWidget() != nullptr; }));
  QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Down);
  QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return);
  const QString part = parts->currentData().toString();
  ASSERT_THAT(parts->currentText().toStdString(), HasSubstr("TMP117"));
  type_into("bytes_text", QStringLiteral("0x0C 80"));
  // By the sheet: 0x0C80 is 3200 × 7.8125 m°C = 25 °C.
  ASSERT_THAT(seen(), HasSubstr("25."));
  window_.show_view(Page::read, 3);
  type_into("layout_name", QStringLiteral("Cellar probe"));
  auto* fields = find<QTableWidget>("layout_fields");
  const QRect cell = fields->visualItemRect(fields->item(0, 1));
  QTest::mouseClick(fields->viewport(), Qt::LeftButton, {}, cell.center());
  QTest::keyClick(fields, Qt::Key_F2);
  auto* editor = fields->viewport()->findChild<QLineEdit*>();
  ASSERT_TRUE(editor);
  QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(editor, QStringLiteral("1 0"));
  QTest::keyClick(editor, Qt::Key_Return);
  window_.show_page(Page::logbook);
  auto* note = find<QPlainTextEdit>("note");
  QTest::mouseClick(note->viewport(), Qt::LeftButton);
  QTest::keyClicks(note, QStringLiteral("the fan was on"));
  open();
  choose("settings_language", 2);
  window_.findChild<SettingsWindow*>()->close();
  QTest::qWait(200);
  EXPECT_EQ(find<QPlainTextEdit>("note")->toPlainText(), QStringLiteral("the fan was on"));
  window_.show_view(Page::read, 3);
  QTest::qWait(100);
  EXPECT_EQ(find<QLineEdit>("layout_name")->text(), QStringLiteral("Cellar probe"));
  EXPECT_EQ(find<QTableWidget>("layout_fields")->item(0, 1)->text(), QStringLiteral("1 0"));
  window_.show_view(Page::read, 1);
  QTest::qWait(100);
  EXPECT_EQ(find<QComboBox>("bytes_part")->currentData().toString(), part);
  EXPECT_EQ(find<QLineEdit>("bytes_text")->text(), QStringLiteral("0x0C 80"));
  EXPECT_THAT(seen(), HasSubstr("25,"));
  open();
  choose("settings_language", 1);
}

// The demonstration as it ships comes in the language too; the held value and what is offered stay.
TEST_F(SettingsTest, AnotherLanguageLeavesWhatIsHeldAndOffered) {
  workbench_.choose_channel("room");
  workbench_.hold({StageName::shown, 11.4});
  window_.open(QStringLiteral("/nowhere/bench.json"));  // says on the banner that it cannot
  const QString said = window_.banner_text();
  ASSERT_FALSE(said.isEmpty());
  open();
  choose("settings_language", 2);
  EXPECT_EQ(workbench_.channel_id(), "room");
  ASSERT_TRUE(workbench_.anchor());
  EXPECT_EQ(workbench_.anchor()->value, 11.4);
  EXPECT_EQ(window_.banner_text(), said);
  EXPECT_EQ(workbench_.chosen().channel->name, "Raum");
  choose("settings_language", 1);
  EXPECT_EQ(workbench_.chosen().channel->name, "Room");
}

// A recording goes on, and so does what is listened to; the untouched demonstration is read anew beneath them.
TEST_F(SettingsTest, AnotherLanguageInterruptsNoRecording) {
  window_.open_demonstration();
  ASSERT_TRUE(workbench_.is_listening());
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("day.csv"));
  ASSERT_EQ(window_.watch().record_to(path), QString());
  ASSERT_TRUE(comes([this] { return workbench_.recording().rows() >= 2; }));
  for (const int language : {2, 1}) {
    open();
    choose("settings_language", language);
    window_.findChild<SettingsWindow*>()->close();
    EXPECT_TRUE(workbench_.is_listening());
    ASSERT_TRUE(workbench_.recording().is_on());
    const auto rows = workbench_.recording().rows();
    EXPECT_TRUE(comes([&] { return workbench_.recording().rows() >= rows + 2; }));
    window_.show_page(Page::watch);
    QTest::qWait(100);
    EXPECT_THAT(window_.findChild<QLabel*>(QStringLiteral("watch_recording"))->text().toStdString(),
                HasSubstr("day.csv"));
  }
  EXPECT_EQ(workbench_.recording().end(), QString());
  QFile written(path);
  ASSERT_TRUE(written.open(QIODevice::ReadOnly));
  const QList<QByteArray> lines = written.readAll().split('\n');
  ASSERT_GT(lines.size(), 6);
  for (const QByteArray& line : lines)
    EXPECT_TRUE(line.isEmpty() || line.count(',') == lines.front().count(',')) << line.toStdString();
}

TEST_F(SettingsTest, TheDecimalMarkChangesEverywhereAtOnce) {
  window_.open_demonstration();
  window_.show_view(Page::wire, 0);
  QTest::qWait(50);
  const std::string number = R"([0-9]\.[0-9])";
  EXPECT_THAT(seen(), testing::ContainsRegex(number));
  open();
  choose("settings_decimal_mark", 2);
  EXPECT_EQ(workbench_.style().decimal_mark, ",");
  window_.findChild<SettingsWindow*>()->close();
  QTest::qWait(100);
  const std::string strip = [&] {
    std::string words;
    for (const QLineEdit* line : window_.strip().findChildren<QLineEdit*>()) words += line->text().toStdString() + "\n";
    return words;
  }();
  EXPECT_THAT(strip, testing::ContainsRegex("[0-9],[0-9]"));
  EXPECT_THAT(strip, Not(testing::ContainsRegex(number)));
  open();
  choose("settings_decimal_mark", 1);
  EXPECT_EQ(workbench_.style().decimal_mark, ".");
  EXPECT_EQ(Settings::read().decimal_mark, DecimalMark::point);
}

TEST_F(SettingsTest, TheLanguageIsInForceAtOnce) {
  EXPECT_EQ(language_meant(QString()).toStdString(), "en") << "a system without a language";
  EXPECT_EQ(translated_languages(), QStringList{QStringLiteral("de")});
  open();
  choose("settings_language", 2);
  EXPECT_EQ(Settings::read().language.toStdString(), "de");
  EXPECT_EQ(find<QComboBox>("settings_language")->currentText().toStdString(), "Deutsch");
  EXPECT_THAT(seen(), AllOf(HasSubstr("Größe der Schrift"), Not(HasSubstr("size of the text"))));
  choose("settings_language", 1);
  EXPECT_EQ(Settings::read().language.toStdString(), "en");
  EXPECT_THAT(seen(), HasSubstr("size of the text"));
  choose("settings_language", 0);
  EXPECT_TRUE(Settings::read().language.isEmpty());
}

TEST_F(SettingsTest, PaperAndTextSizeFollowBothWays) {
  open();
  choose("settings_paper", 2);
  EXPECT_EQ(theme_.tone(), Theme::Tone::dark);
  for (QAction* action : window_.actions())
    if (action->shortcut() == QKeySequence(QStringLiteral("Ctrl+D"))) action->trigger();
  EXPECT_EQ(theme_.tone(), Theme::Tone::light);
  EXPECT_EQ(find<QComboBox>("settings_paper")->currentText(), QStringLiteral("light"));
  EXPECT_EQ(Settings::read().paper, Paper::light);
  choose("settings_text_size", 4);
  EXPECT_DOUBLE_EQ(theme_.text_scale(), 1.5);
  for (QAction* action : window_.actions())
    if (action->text() == QStringLiteral("Smaller text")) action->trigger();
  EXPECT_DOUBLE_EQ(theme_.text_scale(), 1.375);
  // What the keys made of the size is not taken back by another setting.
  choose("settings_paper", 2);
  EXPECT_DOUBLE_EQ(theme_.text_scale(), 1.375);
  EXPECT_DOUBLE_EQ(Settings::read().text_scale, 1.375);
  theme_.set_text_scale(1);
  theme_.set_tone(Theme::Tone::light);
}

// A view that was built the moment before is no exception: every text can be read on the new paper.
TEST_F(SettingsTest, NewPaperReachesWhatWasJustBuilt) {
  for (const auto& [page, view] : {std::pair{Page::wire, 4}, {Page::wire, 0}, {Page::correct, 1}, {Page::board, 0}}) {
    for (const auto tone : {Theme::Tone::dark, Theme::Tone::light}) {
      workbench_.choose_channel(tone == Theme::Tone::dark ? "rack" : "substrate");  // rows are built anew
      window_.show_view(page, view);
      theme_.set_tone(tone);
      QTest::qWait(10);
      for (const Text* text : window_.findChildren<Text*>()) {
        const bool is_on_bar = text->palette().color(QPalette::WindowText) == theme_.colours().bar_ink;
        if (!text->isVisible() || text->text().isEmpty() || is_on_bar) continue;
        const int lightness = text->palette().color(QPalette::WindowText).lightness();
        EXPECT_TRUE(tone == Theme::Tone::dark ? lightness > 90 : lightness < 160)
            << view << ": " << text->text().toStdString() << ' ' << lightness;
      }
    }
  }
}

TEST_F(SettingsTest, NewChannelsGetThePreferredUnit) {
  window_.begin_bench({});
  open();
  const auto index_of = [&](const char* name, const char* symbol) {
    return find<QComboBox>(name)->findText(QString::fromUtf8(symbol));
  };
  choose("settings_temperature", index_of("settings_temperature", "°F"));
  choose("settings_pressure", index_of("settings_pressure", "kPa"));
  EXPECT_EQ(Settings::read().temperature, "[degF]");
  EXPECT_EQ(Settings::read().pressure, "kPa");
  const auto made = [&](const char* id, Quantity quantity, bool arrives) {
    Bench bench;
    Channel channel;
    channel.id = id;
    channel.quantity = quantity;
    channel.unit = "%";
    if (arrives) channel.arrives = Arrival{.unit = "%"};
    bench.channels = {channel};
    Settings::read().prefer_units(bench, {id, "another"});
    return bench.channels.front().unit;
  };
  EXPECT_EQ(made("a", Quantity::temperature, false), "[degF]");
  EXPECT_EQ(made("a", Quantity::pressure, false), "kPa");
  EXPECT_EQ(made("a", Quantity::humidity, false), "%");
  EXPECT_EQ(made("a", Quantity::temperature, true), "%") << "a value that arrives keeps the unit it came in";
  choose("settings_temperature", 0);
  EXPECT_EQ(made("a", Quantity::temperature, false), "%");
  workbench_.document().drop_leftover();
}

TEST_F(SettingsTest, ALineIsFirstTriedAtTheUsualSpeed) {
  open();
  choose("settings_line_speed", find<QComboBox>("settings_line_speed")->findText(QStringLiteral("9600 baud")));
  EXPECT_EQ(Settings::read().line_speed, 9600);
  const LineView line(theme_, workbench_);
  EXPECT_EQ(line.findChild<QComboBox*>(QStringLiteral("speed"))->currentData().toInt(), 9600);
}

TEST_F(SettingsTest, DamagedOnesReadAsIfNothingWereSet) {
  const Settings none;
  struct Damage {
    const char* key;
    QVariant value;
  };
  for (const Damage& damage : {Damage{"paper", 7},
                               {"paper", -1},
                               {"paper", "blue"},
                               {"decimal_mark", 99},
                               {"text_scale", "nan"},
                               {"text_scale", 40},
                               {"text_scale", "big"},
                               {"line_speed", 31},
                               {"line_speed", "fast"},
                               {"temperature_unit", "V"},
                               {"pressure_unit", "Cel"},
                               {"temperature_unit", "nonsense"}}) {
    QSettings().clear();
    QSettings().setValue(QLatin1String(damage.key), damage.value);
    const Settings read = Settings::read();
    EXPECT_EQ(read.paper, none.paper) << damage.key;
    EXPECT_EQ(read.decimal_mark, none.decimal_mark) << damage.key;
    EXPECT_EQ(read.text_scale, none.text_scale) << damage.key;
    EXPECT_EQ(read.line_speed, none.line_speed) << damage.key;
    EXPECT_EQ(read.temperature, none.temperature) << damage.key;
    EXPECT_EQ(read.pressure, none.pressure) << damage.key;
  }
  // As earlier versions kept the paper.
  for (const bool dark : {false, true}) {
    QSettings().clear();
    QSettings().setValue(QStringLiteral("dark"), dark);
    EXPECT_EQ(Settings::read().paper, dark ? Paper::dark : Paper::light);
  }
}

// What the manual says of the keys is what the window has.
TEST_F(SettingsTest, EveryKeyIsInTheManual) {
  QFile file(Manual::folder() + QStringLiteral("/keys.md"));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const std::string page = file.readAll().toStdString();
  int keys = 0;
  for (const QAction* action : window_.actions()) {
    const QString key = action->shortcut().toString();
    if (key.isEmpty()) continue;
    ++keys;
    const bool is_page = key.size() == 6 && key.startsWith(QStringLiteral("Ctrl+")) && key[5].isDigit();
    EXPECT_THAT(page, HasSubstr(is_page ? "Ctrl+1 … Ctrl+9" : key.toStdString())) << action->text().toStdString();
  }
  EXPECT_GT(keys, 20);
}

// A reader looks a word up by its first letter, and every word but the field's own stands somewhere in the program.
TEST_F(SettingsTest, TheGlossaryIsInOrder) {
  QFile file(Manual::folder() + QStringLiteral("/glossary.md"));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  QStringList words;
  for (const QString& line : QString::fromUtf8(file.readAll()).split(QLatin1Char('\n')))
    if (line.startsWith(QStringLiteral("| **"))) words << line.section(QStringLiteral("**"), 1, 1).toLower();
  EXPECT_GT(words.size(), 30);
  QStringList sorted = words;
  sorted.sort();
  EXPECT_EQ(words, sorted);
  EXPECT_EQ(words.removeDuplicates(), 0);
}

}  // namespace fair_gauge::app::settings_test
