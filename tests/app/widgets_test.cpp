// The shared widgets: contrast of the colours, the faces, the vial.
#include <QFontInfo>
#include <QGlyphRun>
#include <QTextLayout>
#include <QToolTip>
#include <cmath>
#include <memory>

#include "widgets/edit_table.h"
#include "widgets/plain_table.h"
#include "widgets/vial.h"
#include "window.h"

namespace fair_gauge::app::widgets_test {

TEST(Theme, TextHasAtLeastTheContrastOfWcagAa) {
  Theme theme;
  for (const auto tone : {Theme::Tone::light, Theme::Tone::dark}) {
    theme.set_tone(tone);
    const Colours& c = theme.colours();
    for (const QColor& paper : {c.paper, c.sheet, c.shade})
      for (const QColor& ink : {c.ink, c.quiet, c.accent, c.amber, c.red, c.second})
        EXPECT_GE(contrast(ink, paper), 4.5) << ink.name().toStdString() << " on " << paper.name().toStdString();
    EXPECT_GE(contrast(c.bar_ink, c.bar), 4.5);
    EXPECT_GE(contrast(c.on_accent, c.accent), 4.5);
  }
}

TEST(Theme, TheFacesAreTheOnesThatWereNamed) {
  EXPECT_TRUE(Theme::load_faces().isEmpty());
  const Theme theme;
  EXPECT_EQ(QFontInfo(theme.font(Face::text)).family(), QStringLiteral("Gauge"));
  EXPECT_EQ(QFontInfo(theme.font(Face::number)).family(), QStringLiteral("Gauge Numerals"));
  EXPECT_TRUE(QFontInfo(theme.font(Face::number)).fixedPitch());
}

// Every sign stands for itself: what is drawn of two signs is what is drawn of each.
TEST(Theme, SignsAreNotDrawnAsOne) {
  Theme::load_faces();
  const Theme theme;
  const auto glyphs = [](const QFont& font, const QString& text) {
    QTextLayout layout(text, font);
    layout.beginLayout();
    layout.createLine();
    layout.endLayout();
    QList<quint32> all;
    for (const QGlyphRun& run : layout.glyphRuns()) all += run.glyphIndexes();
    return all;
  };
  for (const Face face : {Face::code, Face::small, Face::text, Face::number})
    for (const char* text : {"!=", "==", "*/", "->", "<=", "--", "0x58", "3x4"}) {
      QList<quint32> apart;
      for (const QChar sign : QString::fromLatin1(text)) apart += glyphs(theme.font(face), sign);
      EXPECT_EQ(glyphs(theme.font(face), QString::fromLatin1(text)), apart) << text;
    }
}

// What could be ten thousand where commas part thousands is read as ten, and says so.
TEST(QuantityField, SaysWhatAMarkMayNotHaveMeant) {
  Theme theme;
  QuantityField field(theme, Dimension::resistance);
  std::string echo;
  QObject::connect(&field, &QuantityField::echo_changed, &field,
                   [&echo](const QString& words, bool) { echo = words.simplified().toStdString(); });
  const std::vector<std::pair<std::string, std::string>> typed = {
      {"10,000", "= 10 Ω: a comma is a decimal mark"},
      {"4,700 ohm", "= 4.7 Ω: a comma is a decimal mark"},
      {"4,7k", "= 4.7 kΩ"},
      {"4,75", "= 4.75 Ω"},
      {"0,125", "= 125 mΩ"},
      {"4,7000", "= 4.7 Ω"},
      {"10.000", "= 10 Ω"},
      {"1,234.5", "= 1.2345 kΩ"},
  };
  for (const auto& [text, words] : typed) {
    field.clear();
    QTest::keyClicks(&field, QString::fromStdString(text));
    EXPECT_EQ(echo, words) << text;
  }
  // It stands beside the field, and goes with the doubt.
  field.show();
  ASSERT_TRUE(QTest::qWaitForWindowActive(&field));
  field.setFocus();
  field.clear();
  QTest::keyClicks(&field, QStringLiteral("10,000"));
  EXPECT_TRUE(QToolTip::text().contains(QStringLiteral("decimal mark")));
  QTest::keyClicks(&field, QStringLiteral("5"));
  EXPECT_TRUE(comes([] { return !QToolTip::isVisible(); }));
  const QLocale before;
  QLocale::setDefault(QLocale(QLocale::German));
  field.clear();
  QTest::keyClicks(&field, QStringLiteral("10.000"));
  EXPECT_EQ(echo, "= 10 Ω: a point is a decimal mark");
  field.clear();
  QTest::keyClicks(&field, QStringLiteral("10,000"));
  EXPECT_EQ(echo, "= 10 Ω");
  QLocale::setDefault(before);
}

TEST(Vial, TheBubbleMovesOutAsTheErrorGrows) {
  Theme theme;
  theme.set_tone(Theme::Tone::light);
  // The bubble is the run of sheet-coloured pixels along the middle.
  const auto bubble = [&](double used, double bias) {
    Vial vial(theme, Vial::Size::large);
    vial.resize(200, 32);
    vial.show_share(used, bias);
    const QImage image = vial.grab().toImage();
    double sum = 0, count = 0;
    for (int x = 0; x < image.width(); ++x)
      if (image.pixelColor(x, image.height() / 2) == theme.colours().sheet) sum += x, ++count;
    return count > 0 ? sum / count : std::nan("");
  };
  EXPECT_NEAR(bubble(0, 0), 100, 2);
  EXPECT_NEAR(bubble(1, 1), 100 + 0.3 * 196, 3);
  EXPECT_NEAR(bubble(0.5, -1), 100 - 0.15 * 196, 3);
  EXPECT_LT(bubble(9, 1), 190);
  EXPECT_TRUE(std::isnan(bubble(std::nan(""), 0)));
}

// Numbers in a table grow with the text at once, not with the next reading.
TEST(PlainTable, GrowsWithTheText) {
  Theme::load_faces();
  Theme theme;
  const std::unique_ptr<QTableWidget> table(
      plain_table(theme, "t", QStringLiteral("means"), {QStringLiteral("name"), QStringLiteral("value")}, {80, 0}));
  table->setRowCount(1);
  put_row(*table, 0, {QStringLiteral("a"), QStringLiteral("24.8")}, theme, Qt::black);
  const int before = QFontInfo(table->item(0, 1)->font()).pixelSize();
  theme.set_text_scale(2);
  EXPECT_GT(QFontInfo(table->item(0, 1)->font()).pixelSize(), before);
  EXPECT_EQ(table->item(0, 1)->font(), theme.font(Face::code));
  EXPECT_EQ(table->item(0, 0)->font(), theme.font(Face::text));
}

// A table that is filled anew keeps a choice that is the same: a list that is open stays, and only the new one is told.
TEST(EditTable, KeepsAChoiceThatIsTheSame) {
  Theme::load_faces();
  Theme theme;
  const std::unique_ptr<QTableWidget> table(
      edit_table(theme, "t", QStringLiteral("means"), {QStringLiteral("to")}, {80}));
  table->setRowCount(1);
  int first = -1, second = -1;
  const QStringList rails{QStringLiteral("3.3 V"), QStringLiteral("5 V")};
  auto* box = choice_in(*table, 0, 0, rails, 0, QStringLiteral("rail"), [&](int chosen) { first = chosen; });
  EXPECT_EQ(choice_in(*table, 0, 0, rails, 1, QStringLiteral("its rail"), [&](int chosen) { second = chosen; }), box);
  EXPECT_EQ(box->currentIndex(), 1);
  EXPECT_EQ(box->accessibleName(), QStringLiteral("its rail"));
  QTest::keyClick(box, Qt::Key_Up);
  QTest::qWait(10);
  EXPECT_EQ(second, 0);
  EXPECT_EQ(first, -1);
  EXPECT_NE(choice_in(*table, 0, 0, {QStringLiteral("3.3 V")}, 0, QStringLiteral("rail"), [](int) {}), box);
}

TEST(InOwnMarks, ChangesNumbersAndNothingElse) {
  const QString text = QStringLiteral("at 0.5 V of 3.3 V, (1/298.15 + 1.5e-3); 4.7k");
  EXPECT_EQ(in_own_marks(text), text);
  const QLocale before;
  QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany));
  EXPECT_EQ(in_own_marks(text), QStringLiteral("at 0,5 V of 3,3 V, (1/298,15 + 1,5e-3); 4,7k"));
  for (const char* other :
       {"version 0.1.0", "10.0.0.1", "log-2.5.csv", "/tmp/2.5", "3.14.csv", "no number. 5 of them."})
    EXPECT_EQ(in_own_marks(QString::fromUtf8(other)).toStdString(), other);
  QLocale::setDefault(before);
}

// Widths that suffice stay; else each column is as wide as it needs, and where that is more than there is the widest
// are cut alike, also after the window has become smaller.
TEST(PlainTable, ColumnsShareTheWidthWhereACellCannotBeRead) {
  Theme::load_faces();
  const Theme theme;
  const auto table = std::unique_ptr<QTableWidget>(
      plain_table(theme, "t", QStringLiteral("t"),
                  {QStringLiteral("one"), QStringLiteral("two"), QStringLiteral("rest")}, {80, 80, 0}));
  table->setRowCount(1);
  const QColor ink = theme.colours().ink;
  put_row(*table, 0, {QStringLiteral("a"), QStringLiteral("b"), QStringLiteral("c")}, theme, ink, 99);
  table->resize(600, 100);
  table->show();
  share_width(*table);
  EXPECT_EQ(table->columnWidth(0), 80);
  EXPECT_EQ(table->columnWidth(1), 80);
  const QString words = QStringLiteral("many words that stand side by side");
  put_row(*table, 0, {words, QStringLiteral("b"), QStringLiteral("c")}, theme, ink, 99);
  share_width(*table);
  EXPECT_GE(table->columnWidth(0), wanted_by_cells(*table, 0)) << "the rest has room to spare";
  EXPECT_EQ(table->columnWidth(1), 80);
  put_row(*table, 0, {words, QStringLiteral("b"), words}, theme, ink, 99);
  table->resize(300, 100);
  EXPECT_LT(table->columnWidth(0), wanted_by_cells(*table, 0));
  EXPECT_EQ(table->columnWidth(1), wanted_by_cells(*table, 1)) << "the narrow one is whole";
  EXPECT_NEAR(table->columnWidth(0), table->columnWidth(2), 2) << "the wide ones alike";
  EXPECT_LE(table->columnViewportPosition(2) + table->columnWidth(2), table->viewport()->width());
}

}  // namespace fair_gauge::app::widgets_test
