// The window in another language, from its start on: processes of their own (app_language).
#include <QAbstractButton>
#include <QAction>
#include <QComboBox>
#include <QHeaderView>
#include <QRegularExpression>
#include <QTableWidget>
#include <set>

#include "files/file.h"
#include "language/translation.h"
#include "window.h"

namespace fair_gauge::app {
namespace {

using testing::HasSubstr;
using testing::IsEmpty;

// What stands outside of the marks, nested ones too.
QString unmarked(const QString& text) {
  QString outside;
  int depth = 0;
  for (const QChar c : text) {
    if (c == u'⟦') ++depth;
    if (depth == 0) outside += c;
    if (c == u'⟧') --depth;
  }
  return outside;
}

// Words that are no language's: units, what is printed on parts, registers and settings as files name them, code.
bool is_word(const QString& word) {
  static const std::set<QString> not_words = {
      QStringLiteral("Fernhollow"), QStringLiteral("Fair"),   QStringLiteral("Gauge"),
      QStringLiteral("English"),    QStringLiteral("hPa"),    QStringLiteral("kPa"),
      QStringLiteral("mbar"),       QStringLiteral("bar"),    QStringLiteral("psi"),
      QStringLiteral("inHg"),       QStringLiteral("mmHg"),   QStringLiteral("Deutsch"),
      QStringLiteral("kHz"),        QStringLiteral("MHz"),    QStringLiteral("Python"),
      QStringLiteral("rms"),        QStringLiteral("config"), QStringLiteral("configuration"),
      QStringLiteral("control"),    QStringLiteral("over"),   QStringLiteral("rate"),
      QStringLiteral("saturated"),  QStringLiteral("limit"),  QStringLiteral("gain"),
      QStringLiteral("mode"),       QStringLiteral("adc"),    QStringLiteral("Ctrl"),
      QStringLiteral("Esc"),        QStringLiteral("Shift"),  QStringLiteral("Alt")};
  if (not_words.contains(word)) return false;
  static const QRegularExpression word_of_a_language(QStringLiteral("^[A-Za-z]?[a-z]{3,}$"));
  return word_of_a_language.match(word).hasMatch();
}

class LanguageTest : public WindowTest {
 protected:
  static qsizetype views_of(Page page) {
    for (const auto& [each, name, views] : MainWindow::page_names())
      if (each == page) return views.size();
    return 0;
  }
  // Of everything that can be read at the moment.
  template <class See>
  void each_text(See see) {
    for (const auto* widget : window_.findChildren<QWidget*>()) {
      const auto take = [&](const QString& text) {
        if (!text.isEmpty()) see(*widget, text);
      };
      // Names as a board sends them, formulas and fields as files have them, entries of a logbook.
      static const std::set<QString> not_texts = {QStringLiteral("entry_body"), QStringLiteral("layout_fields"),
                                                  QStringLiteral("layout_formulas"), QStringLiteral("port")};
      if (!widget->isVisible() || not_texts.contains(widget->objectName())) continue;
      take(widget->toolTip());
      take(widget->accessibleName());
      if (const auto* label = qobject_cast<const QLabel*>(widget)) take(label->text());
      if (const auto* button = qobject_cast<const QAbstractButton*>(widget)) take(button->text());
      if (const auto* line = qobject_cast<const QLineEdit*>(widget)) take(line->placeholderText());
      if (const auto* box = qobject_cast<const QComboBox*>(widget))
        for (int i = 0; i < box->count(); ++i) take(box->itemText(i));
      if (const auto* table = qobject_cast<const QTableWidget*>(widget)) {
        for (int c = 0; c < table->columnCount(); ++c)
          if (const auto* head = table->horizontalHeaderItem(c)) take(head->text());
        for (int r = 0; r < std::min(table->rowCount(), 20); ++r)
          for (int c = 0; c < table->columnCount(); ++c)
            if (const auto* item = table->item(r, c)) take(item->text());
      }
    }
  }
};

TEST_F(LanguageTest, MarkedShowsNothingThatCannotBeTranslated) {
  std::set<QString> on_the_line;  // names as a board sends them
  for (const Channel& channel : workbench_.bench().channels) on_the_line.insert(text_of(channel.id));
  std::map<std::string, std::set<std::string>> found;
  const auto look = [&](const std::string& view) {
    each_text([&](const QWidget& widget, const QString& text) {
      if (on_the_line.contains(text)) return;
      if (view.ends_with(" 4/1") && !text.contains(u' ')) return;  // a symbol of the formula
      if (text.contains(QRegularExpression(QStringLiteral("[*/<>=]"))) && !text.contains(u'⟦')) return;  // a formula
      if (!text.contains(u'⟦') && text.startsWith(QStringLiteral("rack"))) return;                       // the same
      if (text.contains(QRegularExpression(QStringLiteral("\\[\\d+(:\\d+)?\\]$")))) return;  // a register's field
      for (const QString& word : unmarked(text)
                                     .remove(QRegularExpression(QStringLiteral("\\w+\\(")))
                                     .split(QRegularExpression(QStringLiteral("[^A-Za-z0-9_]+")), Qt::SkipEmptyParts))
        if (is_word(word))
          found[word.toStdString()].insert(view + " " + widget.objectName().toStdString() + ": " +
                                           text.left(80).toStdString());
    });
  };
  for_every_view(window_, look);
  // Other kinds of chain have other stages, sources of error, questions and faults: fifteen seconds of them.
  const auto channels =
      is_sanitized ? std::vector<const char*>() : std::vector{"room_humidity", "filter",     "rack", "fan_plate",
                                                              "compost_probe", "grow_light", "board"};
  for (const char* channel : channels)
    for (const Page page : {Page::wire, Page::read, Page::correct, Page::watch}) {
      workbench_.choose_channel(channel);
      for (int view = 0; view < static_cast<int>(views_of(page)); ++view) {
        window_.show_view(page, view);
        QTest::qWait(10);
        look(std::string(channel) + " " + std::to_string(static_cast<int>(page)) + "/" + std::to_string(view));
      }
    }
  workbench_.document().begin({});
  for_every_view(window_, look);
  std::string words;
  for (const auto& [word, places] : found) words += word + "   in " + *places.begin() + "\n";
  EXPECT_THAT(words, IsEmpty());
}

TEST_F(LanguageTest, GermanFitsIntoTheWindowAlsoInLargeText) {
  EXPECT_EQ(window_.windowTitle().toStdString(), "Fernhollow – Fair Gauge");
  for (const double scale : {1.0, 1.5, 2.0}) {
    theme_.set_text_scale(scale);
    window_.resize(1280, 800);
    for_every_view(window_, [&](const std::string& view) {
      EXPECT_LE(window_.minimumSizeHint().width(), 1280) << view << " at " << scale;
      EXPECT_EQ(window_.width(), 1280) << view << " at " << scale;
      EXPECT_EQ(cut_by_a_scroll_bar(window_), "") << view << " at " << scale;
      EXPECT_EQ(scale == 1 ? cut_heads(window_) : "", "") << view;
      for (const auto* number : window_.strip().findChildren<QuantityField*>())
        EXPECT_LE(number->fontMetrics().horizontalAdvance(number->text()), number->width())
            << view << " at " << scale << ": " << number->text().toStdString();
    });
  }
}

TEST_F(LanguageTest, GermanStandsFromTheStripToTheVerdict) {
  window_.show_page(Page::wire);
  std::string all;
  each_text([&](const QWidget&, const QString& text) { all += text.toStdString() + "\n"; });
  for (const char* words : {"Schaltung", "Umwelt", "Festwiderstand", "Ist er fair?", "Nutzt 102 % von ±0.5 °C",
                            "Die Zahl stimmt nicht", "Substratkern"})
    EXPECT_THAT(all, HasSubstr(words));
  // By hand: 11.6 °C before the correction of −0.2, 18.65 kΩ below 8.2 kΩ, 0.6946 of 4096.
  type(StageName::world, QStringLiteral("11,4"));
  EXPECT_EQ(shown(StageName::converter).toStdString(), "2845");
  type(StageName::world, QStringLiteral("warm"));
  QTest::keyClick(&window_.strip().card(StageName::world)->field(), Qt::Key_Return);
  all.clear();
  each_text([&](const QWidget&, const QString& text) { all += text.toStdString() + "\n"; });
  EXPECT_THAT(all, HasSubstr("'warm' ist keine Zahl"));
}

}  // namespace
}  // namespace fair_gauge::app
