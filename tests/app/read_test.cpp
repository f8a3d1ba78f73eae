// The views of the Read page: bytes pasted and turned, registers composed.
#include <QComboBox>
#include <QPlainTextEdit>
#include <QTableWidget>

#include "read/byte_map.h"
#include "read/bytes_view.h"
#include "read/read_page.h"
#include "shell/main_window.h"
#include "window.h"

namespace fair_gauge::app::read_test {

using testing::HasSubstr;

class ReadTest : public WindowTest {
 protected:
  void open(int view) {
    window_.show_page(Page::read);
    find_page()->show_view(view);
    QTest::qWait(1);
  }
  ReadPage* find_page() { return &window_.read(); }
  BytesView* bytes() { return window_.findChild<BytesView*>(); }
  void paste(const QString& text) {
    auto* field = find<QLineEdit>("bytes_text");
    field->clear();
    QTest::mouseClick(field, Qt::LeftButton);
    QTest::keyClicks(field, text);
  }
  std::string words() {
    QTest::qWait(5);  // what was put in place is shown
    std::string all;
    for (auto* text : bytes()->findChildren<QLabel*>())
      if (text->isVisible()) all += text->text().toStdString() + "\n";
    return all;
  }
};

TEST_F(ReadTest, PastedBytesBecomeReadingsWithTheirFormula) {
  open(1);
  bytes()->choose_part("humid-single");
  paste(QStringLiteral("{0x02, 0x8C, 1, 95, 238}"));
  EXPECT_THAT(words(), HasSubstr("35.1 °C"));
  EXPECT_THAT(words(), HasSubstr("65.2 %RH"));
  EXPECT_THAT(words(), HasSubstr("5 bytes, read as decimal, hexadecimal where marked"));
  paste(QStringLiteral("028C015FEF"));
  EXPECT_THAT(words(), HasSubstr("checksum"));
  EXPECT_THAT(words(), testing::Not(HasSubstr("35.1 °C")));
  paste(QStringLiteral("028C01ZZ"));
  EXPECT_THAT(words(), HasSubstr("is no byte"));
}

TEST_F(ReadTest, ABitIsTurnedByTheMouseAndAByteTypedByKeys) {
  open(1);
  bytes()->choose_part("one-wire-temperature");
  paste(QStringLiteral("9101"));  // 25.0625 °C
  EXPECT_THAT(words(), HasSubstr("25.0625 °C"));
  auto* map = find<ByteMap>("byte_map");
  // The lowest bit of the first byte: one step less.
  const int left = 70 * 1 + 72 - 4;
  QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(left, 40));
  EXPECT_THAT(words(), HasSubstr("25.0000 °C"));
  QTest::keyClicks(map, QStringLiteral("a2"));  // the byte the cursor is on becomes A2
  EXPECT_THAT(words(), HasSubstr("26.1250 °C"));
  QTest::keyClick(map, Qt::Key_Space);
  EXPECT_THAT(words(), testing::Not(HasSubstr("26.1250 °C")));
}

TEST_F(ReadTest, ADumpFindsItsBlocksByAddress) {
  open(1);
  bytes()->choose_part("air-pressure-compensated");
  find<QLineEdit>("bytes_text")->setText(QString());
  paste(QStringLiteral("F7: 65 5A C0 7E ED 00"));
  EXPECT_THAT(words(), HasSubstr("read as rows with addresses"));
  EXPECT_THAT(words(), HasSubstr("t_fine"));
}

TEST_F(ReadTest, WhatWouldMakeSenseIsShownForAnImplausibleReading) {
  open(1);
  bytes()->choose_part("bus-temperature-16");
  paste(QStringLiteral("800C"));  // 25 °C with its bytes swapped
  EXPECT_THAT(words(), HasSubstr("the bytes are put together in the opposite order"));
  paste(QStringLiteral("0C80"));
  EXPECT_THAT(words(), testing::Not(HasSubstr("the bytes are put together in the opposite order")));
}

TEST_F(ReadTest, ADigitalChannelBringsItsPartAndItsSettings) {
  open(1);
  workbench_.choose_channel("grow_light");
  EXPECT_THAT(find<QComboBox>("bytes_part")->currentText().toStdString(), HasSubstr("TSL2591"));
  auto* gain = find<QComboBox>("setting_gain");
  ASSERT_TRUE(gain);
  EXPECT_EQ(gain->currentText(), QStringLiteral("25"));
  const std::string before = words();
  gain->setCurrentIndex(0);
  emit gain->activated(0);
  EXPECT_NE(words(), before);
}

TEST_F(ReadTest, TheMapShowsTheLatestReadingAndTurningABitHoldsTheStrip) {
  open(1);
  workbench_.choose_channel("rack");
  const std::string now = words();
  EXPECT_THAT(now, HasSubstr("latest reading"));
  paste(QStringLiteral("9001"));  // 25 °C
  EXPECT_THAT(shown(StageName::shown).toStdString(), HasSubstr("25"));
  workbench_.return_to_live();
  EXPECT_THAT(words(), testing::Not(HasSubstr("25.0000")));
}

TEST_F(ReadTest, EveryDigitalPartIsShown) {
  open(1);
  for (const Part& part : workbench_.catalogue().parts()) {
    if (!part.is_digital()) continue;
    bytes()->choose_part(part.id);
    EXPECT_THAT(words(), testing::Not(HasSubstr("out-of-range"))) << part.id;
    EXPECT_FALSE(find<ByteMap>("byte_map")->grab().isNull());
  }
}

TEST_F(ReadTest, RegistersAreComposedAndReadBack) {
  open(1);
  bytes()->choose_part("air-pressure-compensated");
  find_page()->show_view(2);
  auto* mode = find<QComboBox>("register_0_2");
  ASSERT_TRUE(mode);
  mode->setCurrentIndex(2);
  emit mode->activated(2);  // normal: 3 in the last two bits
  EXPECT_THAT(find<QLabel>("register_sequence")->text().toStdString(), HasSubstr("write 0x03 to 0xF4"));
  auto* hex = find<QLineEdit>("register_0");
  hex->setText(QStringLiteral("57"));  // 010 101 11: temperature × 2, pressure × 16, normal
  emit hex->editingFinished();
  EXPECT_EQ(find<QComboBox>("register_0_0")->currentText(), QStringLiteral("× 2"));
  EXPECT_EQ(find<QComboBox>("register_0_1")->currentText(), QStringLiteral("× 16"));
  hex->setText(QStringLiteral("5"));
  emit hex->editingFinished();
  EXPECT_THAT(find<QLabel>("register_echo")->text().toStdString(), HasSubstr("half a byte"));
}

TEST_F(ReadTest, DigitalChannelsSolveBothWaysInTheStrip) {
  workbench_.choose_channel("rack");
  type(StageName::world, QStringLiteral("21,5"));
  EXPECT_EQ(shown(StageName::raw).remove(QChar(0x2009)).remove(QChar(0x202F)).remove(QLatin1Char(' ')),
            QStringLiteral("344"));  // 21.5 · 16
  type(StageName::raw, QStringLiteral("400"));
  EXPECT_THAT(shown(StageName::shown).toStdString(), HasSubstr("25"));
}

TEST_F(ReadTest, AStripOfBytesIsTypedAndHeld) {
  workbench_.choose_channel("room");
  type(StageName::bytes, QStringLiteral("7E ED 00"));  // the sheet's raw number, with this specimen's trimming
  EXPECT_EQ(shown(StageName::raw).remove(QChar(0x2009)).remove(QChar(0x202F)).remove(QLatin1Char(' ')),
            QStringLiteral("519888"));
  type(StageName::raw, QStringLiteral("513178"));
  EXPECT_EQ(shown(StageName::bytes), QStringLiteral("7D 49 A0"));
}

TEST_F(ReadTest, ACaptureOfALineBecomesBytesAndAReading) {
  open(1);
  bytes()->choose_part("one-wire-temperature");
  find_page()->open_capture(QStringLiteral(FAIR_GAUGE_SOURCE "/tests/data/one-wire.vcd"));
  EXPECT_THAT(words(), HasSubstr("bytes from the capture"));
  EXPECT_THAT(words(), HasSubstr("°C"));
  find_page()->open_capture(QStringLiteral("/no/such/capture.vcd"));
  EXPECT_THAT(words(), HasSubstr("/no/such/capture.vcd"));
}

TEST_F(ReadTest, APartOfOnesOwnIsLaidOutTriedAndSaved) {
  open(3);
  auto* fields = find<QTableWidget>("layout_fields");
  auto* formulas = find<QTableWidget>("layout_formulas");
  const auto verdict = [&] { return find<QLabel>("layout_verdict")->text().toStdString(); };
  // 0x1580 over 256 is 21.5.
  EXPECT_THAT(verdict(), HasSubstr("21.5"));
  fields->item(0, 1)->setText(QStringLiteral("1 0"));  // low byte first: 0x8015 is negative
  EXPECT_THAT(verdict(), testing::Not(HasSubstr("21.5")));
  fields->item(0, 1)->setText(QStringLiteral("0 9"));
  EXPECT_THAT(verdict(), HasSubstr("field 1"));
  EXPECT_FALSE(find<QPushButton>("save_layout")->isEnabled());
  fields->item(0, 1)->setText(QStringLiteral("0 1"));
  formulas->item(0, 1)->setText(QStringLiteral("raw / 256 +"));
  EXPECT_THAT(verdict(), HasSubstr("formula 1"));
  formulas->item(0, 1)->setText(QStringLiteral("raw / 256 + 1"));
  EXPECT_THAT(verdict(), HasSubstr("22.5"));
  auto* name = find<QLineEdit>("layout_name");
  name->setText(QStringLiteral("Loft probe"));
  QTest::mouseClick(find<QPushButton>("save_layout"), Qt::LeftButton);
  EXPECT_THAT(text("bytes_understood"), HasSubstr("Saved as"));
  EXPECT_TRUE(workbench_.catalogue().find("own-loft-probe"));
  EXPECT_THAT(find<QComboBox>("bytes_part")->currentText().toStdString(), HasSubstr("Loft probe"));
}

// As a person types it: a longer frame, a second field and its quantity, cell by cell with Tab. The map follows, and
// what it was tried on is what Bytes shows of it.
TEST_F(ReadTest, ASecondFieldIsTypedIntoALayout) {
  open(3);
  const auto type_into = [&](const char* table, int row, const std::vector<const char*>& cells) {
    auto* it = find<QTableWidget>(table);
    const QPoint at = it->visualRect(it->model()->index(row, 0)).center();
    QTest::mouseClick(it->viewport(), Qt::LeftButton, {}, at);
    QTest::mouseDClick(it->viewport(), Qt::LeftButton, {}, at);
    for (const char* cell : cells) {
      auto* editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
      ASSERT_TRUE(editor) << cell;
      QTest::keyClicks(editor, QString::fromLatin1(cell), {}, 60);
      QTest::keyClick(editor, cell == cells.back() ? Qt::Key_Return : Qt::Key_Tab);
      QTest::qWait(60);
    }
  };
  auto* length = find<QLineEdit>("layout_bytes");
  click_into(*length);
  type_slowly(*length, QStringLiteral("6"));
  auto* tried = find<QLineEdit>("layout_try");
  click_into(*tried);
  type_slowly(*tried, QStringLiteral("15 80 00 80 00 00"));
  type_into("layout_fields", 1, {"hum", "3 4"});
  type_into("layout_formulas", 1, {"humidity", "hum * 100 / 65535", "0", "100"});
  const std::string verdict = find<QLabel>("layout_verdict")->text().toStdString();
  EXPECT_THAT(verdict, HasSubstr("21.5"));
  EXPECT_THAT(verdict, HasSubstr("50.00"));  // 32768 of 65535
  // The fourth byte is humidity's: what the pointer is on says so.
  auto* map = window_.findChild<ByteMap*>(QStringLiteral("layout_map"));
  ASSERT_GT(map->width(), 0);
  QTest::mouseClick(map, Qt::LeftButton, {}, {80, 8});  // the upper half chooses the byte
  for (int i = 0; i < 3 * 8; ++i) QTest::keyClick(map, Qt::Key_Right);
  QTest::qWait(30);
  EXPECT_THAT(map->words().toStdString(), HasSubstr("hum"));
  click("save_layout");
  const std::string all = words();
  EXPECT_THAT(all, HasSubstr("An example"));
  EXPECT_THAT(all, HasSubstr("21.5"));
  EXPECT_THAT(all, testing::Not(HasSubstr("short-frame")));
}

TEST_F(ReadTest, RegistersTellTimesWarningsAndTheSequence) {
  open(1);
  bytes()->choose_part("air-compensated");
  find_page()->show_view(2);
  std::string all;
  for (auto* label : find_page()->findChildren<QLabel*>())
    if (label->isVisible()) all += label->text().toStdString() + "\n";
  EXPECT_THAT(all, HasSubstr("asleep"));
  EXPECT_THAT(all, testing::Not(HasSubstr("conversion, longest"))) << "everything is skipped";
  auto* hex = find<QLineEdit>("register_1");
  hex->setText(QStringLiteral("27"));  // × 1, × 1, normal
  emit hex->editingFinished();
  auto* humidity = find<QLineEdit>("register_0");
  humidity->setText(QStringLiteral("01"));
  emit humidity->editingFinished();
  all.clear();
  for (auto* label : find_page()->findChildren<QLabel*>())
    if (label->isVisible()) all += label->text().toStdString() + "\n";
  EXPECT_THAT(all, HasSubstr("conversion, longest 9.3 ms"));  // the sheet's appendix B
  EXPECT_THAT(all, testing::Not(HasSubstr("asleep")));
}

TEST_F(ReadTest, RegistersFollowTheChosenChannelWithoutAnotherViewBeforeThem) {
  workbench_.choose_channel("grow_light");
  window_.show_view(Page::read, 2);
  EXPECT_THAT(find<QComboBox>("registers_part")->currentText().toStdString(), HasSubstr("TSL2591"));
  workbench_.choose_channel("substrate");
  EXPECT_THAT(find<QComboBox>("registers_part")->currentText().toStdString(), HasSubstr("TSL2591")) << "no bytes";
  workbench_.choose_channel("room");
  EXPECT_THAT(find<QComboBox>("registers_part")->currentText().toStdString(), HasSubstr("BME280"));
  EXPECT_EQ(find<QLineEdit>("register_1")->text(), QStringLiteral("00"));
}

TEST_F(ReadTest, ComposedRegistersAreKeptWithTheDeviceAndTakenBack) {
  workbench_.choose_channel("room");
  open(1);
  bytes()->choose_part("air-compensated");
  find_page()->show_view(2);
  auto* keep = find<QPushButton>("keep_registers");
  ASSERT_TRUE(keep && keep->isVisible());
  EXPECT_FALSE(keep->isEnabled()) << "nothing is composed yet";
  auto* hex = find<QLineEdit>("register_1");
  click_into(*hex);
  QTest::keyClicks(hex, QStringLiteral("B7"), Qt::NoModifier, 40);  // × 16, × 16, normal
  QTest::keyClick(hex, Qt::Key_Return);
  ASSERT_TRUE(keep->isEnabled());
  QTest::mouseClick(keep, Qt::LeftButton);
  const auto kept = [&] {
    const Channel* room = find_by_id(workbench_.bench().channels, "room");
    return find_by_id(workbench_.bench().devices, room->device)->registers;
  };
  EXPECT_EQ(kept(), (std::map<std::string, double>{{"0xF4", 0xB7}}));
  EXPECT_FALSE(find<QPushButton>("keep_registers")->isEnabled());
  EXPECT_EQ(find<QLineEdit>("register_1")->text(), QStringLiteral("B7"));
  workbench_.document().undo();
  EXPECT_TRUE(kept().empty());
  EXPECT_EQ(find<QLineEdit>("register_1")->text(), QStringLiteral("00"));
}

TEST_F(ReadTest, LimitsOfTwoQuantitiesAreToldApart) {
  open(1);
  bytes()->choose_part("humid-checked-middle");
  find_page()->show_view(2);
  auto* which = find<QComboBox>("limit_of");
  ASSERT_TRUE(which->isVisible());
  ASSERT_EQ(which->count(), 2);
  auto* limit = find<QLineEdit>("limit");
  QTest::keyClicks(limit, QStringLiteral("60"), Qt::NoModifier, 40);
  const auto bytes_of = [&] { return find<QLabel>("limit_bytes")->text().toStdString(); };
  EXPECT_THAT(bytes_of(), HasSubstr("0x0133"));  // (60 + 45)·65535/175 >> 7
  which->setCurrentIndex(1);
  emit which->activated(1);
  EXPECT_THAT(bytes_of(), HasSubstr("0x9800"));  // 60·655.35 = 39321 = 0x9999, seven bits of it
}

}  // namespace fair_gauge::app::read_test
