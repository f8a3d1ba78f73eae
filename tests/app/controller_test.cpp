// The controller's registers and a converter with a start and a ready line, from a new bench, at a person's pace.
#include <QCheckBox>
#include <QComboBox>
#include <QTableWidget>
#include <QTemporaryDir>

#include "bench/board_presets.h"
#include "window.h"

namespace fair_gauge::app::controller_test {

using testing::HasSubstr;

class ControllerPages : public EmptyWindow {
 protected:
  void begin_with(const std::string& preset) {
    for (const BoardPreset& each : load_board_presets(data_folders("boards")))
      if (each.id == preset) workbench_.document().replace(QStringLiteral("new"), bench_of_preset(each, "Greenhouse"));
    ASSERT_FALSE(workbench_.bench().converters.empty());
  }
  std::string text(const char* name) { return find<QLabel>(name)->text().toStdString(); }
  // By the keyboard, as far down as the words.
  void choose(const char* name, const QString& words) {
    auto* box = find<QComboBox>(name);
    ASSERT_TRUE(box) << name;
    const int wanted = box->findText(words, Qt::MatchStartsWith);
    ASSERT_GE(wanted, 0) << name << " has no " << words.toStdString();
    box->setFocus();
    while (box->currentIndex() != wanted) {
      QTest::keyClick(box, box->currentIndex() < wanted ? Qt::Key_Down : Qt::Key_Up);
      QTest::qWait(30);
    }
  }
};

TEST_F(ControllerPages, RegistersAreComposedKeptAndTakenBack) {
  begin_with("10-bit-5v");
  window_.show_view(Page::board, 6);
  QTest::qWait(50);
  ASSERT_TRUE(find<QComboBox>("controller_register_0_0")->isVisible());
  EXPECT_THAT(text("controller_lines"), HasSubstr("nothing is to be changed"));
  choose("controller_register_0_0", QStringLiteral("the supply"));
  choose("controller_register_0_2", QStringLiteral("input 3"));
  choose("controller_register_1_0", QStringLiteral("on"));
  EXPECT_THAT(text("controller_lines"), HasSubstr("ADMUX = (ADMUX & 0x30) | 0x43;"));
  // Divided by 2 from 16 MHz: 8 MHz is far above what ten bits take.
  EXPECT_THAT(text("controller_figures"), HasSubstr("converter clock: 8 MHz"));
  const auto warned = [this] {
    for (const QLabel* each : window_.findChildren<QLabel*>())
      if (each->isVisible() && each->text().contains(QStringLiteral("above 200"))) return true;
    return false;
  };
  EXPECT_TRUE(warned());
  choose("controller_register_1_5", QStringLiteral("divided by 128"));
  EXPECT_FALSE(warned());
  EXPECT_THAT(text("controller_figures"), HasSubstr("a reading takes: 104"));
  click("keep_controller");
  EXPECT_EQ(workbench_.bench().board.registers, (std::map<std::string, double>{{"0x7C", 0x43}, {"0x7A", 0x87}}));
  EXPECT_FALSE(find<QPushButton>("keep_controller")->isEnabled());
  // From here on only what differs from what is kept.
  choose("controller_register_0_2", QStringLiteral("input 5"));
  EXPECT_EQ(text("controller_lines"), "ADMUX = (ADMUX & 0xF0) | 0x05;  // MUX");
  // The digits of a register that was read from the controller.
  give_slowly("controller_register_0", QStringLiteral("c1"));
  EXPECT_EQ(find<QComboBox>("controller_register_0_0")->currentText(), QStringLiteral("1.1 V inside"));
  bool mismatch = false;
  for (const QLabel* each : window_.findChildren<QLabel*>())
    mismatch = mismatch || (each->isVisible() && each->text().contains(QStringLiteral("this bench counts with")));
  EXPECT_TRUE(mismatch) << "the bench counts with the supply";
  give_slowly("controller_register_0", QStringLiteral("xyz"));
  EXPECT_FALSE(text("controller_echo").empty());
  give_slowly("controller_clock", QStringLiteral("20M"));
  EXPECT_EQ(workbench_.bench().board.clock_hz, 20e6);
  workbench_.document().undo();
  workbench_.document().undo();
  QTest::qWait(50);
  EXPECT_TRUE(workbench_.bench().board.registers.empty());
  EXPECT_EQ(find<QLineEdit>("controller_register_0")->text(), QStringLiteral("00"));
}

TEST_F(ControllerPages, OnesOwnRegistersAreTypedAndChosen) {
  QTemporaryDir data;
  const QByteArray before = qgetenv("XDG_DATA_HOME");
  qputenv("XDG_DATA_HOME", data.path().toUtf8());
  begin_with("12-bit-3v3");
  window_.show_view(Page::board, 6);
  EXPECT_FALSE(find<QPushButton>("keep_controller")->isVisible()) << "nothing is chosen yet";
  window_.show_view(Page::read, 3);
  choose("layout_interface", QStringLiteral("a controller's"));
  EXPECT_FALSE(find<QTableWidget>("layout_fields")->isVisible());
  give_slowly("layout_name", QStringLiteral("Mine"));
  auto* table = find<QTableWidget>("layout_registers");
  EXPECT_FALSE(find<QPushButton>("save_layout")->isEnabled()) << "no register yet";
  const auto put = [&](int row, const QStringList& words) {
    for (int i = 0; i < words.size(); ++i) table->setItem(row, i, new QTableWidgetItem(words[i]));
  };
  put(0, {QStringLiteral("CTRL"), QStringLiteral("0x40"), QStringLiteral("EN"), QStringLiteral("9")});
  put(1, {QString(), QString(), QStringLiteral("IN"), QStringLiteral("3:0"), QStringLiteral("0 first; 1 second")});
  const int rows = table->rowCount();
  put(2, {QString(), QString(), QStringLiteral("SPEED"), QStringLiteral("3:2")});
  EXPECT_EQ(table->rowCount(), rows + 1) << "a free row is left";
  EXPECT_THAT(text("layout_verdict"), HasSubstr("SPEED and IN share a bit"));
  EXPECT_FALSE(find<QPushButton>("save_layout")->isEnabled());
  put(2, {QString(), QString(), QStringLiteral("SPEED"), QStringLiteral("5:4")});
  EXPECT_EQ(text("layout_verdict"), "CTRL at 0x40: EN, IN, SPEED");
  click("save_layout");
  EXPECT_THAT(text("layout_verdict"), HasSubstr("own-mine.json"));
  window_.show_view(Page::board, 6);
  choose("controller_described", QStringLiteral("Mine"));
  EXPECT_EQ(workbench_.bench().board.controller, "own-mine");
  choose("controller_register_0_2", QStringLiteral("2"));  // without words: by its number
  EXPECT_EQ(find<QLineEdit>("controller_register_0")->text(), QStringLiteral("0020"));
  EXPECT_EQ(text("controller_lines"), "CTRL = (CTRL & 0xFFCF) | 0x0020;  // SPEED");
  qputenv("XDG_DATA_HOME", before);
}

TEST_F(ControllerPages, AParallelConverterShowsItsHandshake) {
  begin_with("half-reference-8-bit");
  window_.show_view(Page::board, 7);
  EXPECT_TRUE(find<QCheckBox>("has_handshake")->isChecked());
  EXPECT_THAT(text("parallel_summary"), HasSubstr("Clocked at 631 kHz"));
  auto* table = find<QTableWidget>("half_reference_table");
  ASSERT_EQ(table->rowCount(), 4);
  EXPECT_EQ(table->item(2, 2)->text(), QStringLiteral("10 mV")) << "1.28 V at the pin";
  give_slowly("half_references", QStringLiteral("1.28, 3"));
  ASSERT_EQ(table->rowCount(), 3);
  EXPECT_TRUE(table->item(2, 3)->text().contains(QStringLiteral("more than the supply")));
  give_slowly("half_references", QStringLiteral("1.28, x"));
  EXPECT_FALSE(text("half_references_echo").empty());
  // Fed from 8 MHz: the program proposes what it is divided by.
  choose("parallel_clock", QStringLiteral("a clock"));
  give_slowly("parallel_fed", QStringLiteral("8M"));
  EXPECT_THAT(text("parallel_summary"), HasSubstr("8 MHz"));
  give_slowly("parallel_divider", QStringLiteral("6"));
  EXPECT_THAT(text("parallel_summary"), HasSubstr("Clocked at 1.33 MHz"));
  choose("parallel_ready", QStringLiteral("is called"));
  const auto handshake = [this] { return workbench_.bench().converters.front().handshake; };
  EXPECT_TRUE(handshake()->interrupts);
  EXPECT_EQ(handshake()->divided_by, 6);
  QTest::keyClick(find<QCheckBox>("has_handshake"), Qt::Key_Space);
  QTest::qWait(30);
  EXPECT_FALSE(handshake());
  EXPECT_FALSE(find<QLabel>("parallel_summary")->isVisible());
  workbench_.document().undo();
  QTest::qWait(30);
  EXPECT_TRUE(find<QLabel>("parallel_summary")->isVisible());
}

TEST_F(ControllerPages, PinsAreNamedToldWhatTheyBearAndTakenOff) {
  begin_with("10-bit-3v3");
  window_.show_view(Page::board, 6);
  QTest::qWait(50);
  auto* table = find<QTableWidget>("pins");
  const auto pins = [this] { return workbench_.bench().board.pins; };
  ASSERT_EQ(table->rowCount(), static_cast<int>(pins().size()));
  EXPECT_EQ(table->item(0, 3)->text(), QStringLiteral("3.6 V")) << "0.3 V more than the supply";
  // As a person types into a cell.
  const auto type = [&](int line, int place, const QString& words) {
    table->setFocus();
    table->setCurrentCell(line, place);
    table->editItem(table->item(line, place));
    auto* editor = table->findChild<QLineEdit*>();
    ASSERT_TRUE(editor);
    QTest::keyClicks(editor, words, {}, 40);
    QTest::keyClick(editor, Qt::Key_Return);
    QTest::qWait(50);
  };
  type(0, 0, QStringLiteral("third from the left"));
  EXPECT_EQ(pins()[0].name, "third from the left");
  type(1, 0, QStringLiteral("third from the left"));
  EXPECT_EQ(pins()[1].name, "A1");
  EXPECT_THAT(text("pins_echo"), HasSubstr("already"));
  type(6, 3, QStringLiteral("5,5"));
  EXPECT_EQ(pins()[6].most_v, 5.5);
  type(6, 3, QStringLiteral("much"));
  EXPECT_EQ(pins()[6].most_v, 5.5);
  EXPECT_FALSE(text("pins_echo").empty());
  const bool called = pins()[0].interrupt;
  table->setCurrentCell(0, 2);
  QTest::keyClick(table, Qt::Key_Space);
  EXPECT_NE(pins()[0].interrupt, called);
  auto* reads = static_cast<QComboBox*>(table->cellWidget(0, 1));
  EXPECT_EQ(reads->currentIndex(), 1);
  QTest::keyClick(reads, Qt::Key_Up);
  QTest::qWait(50);
  EXPECT_TRUE(pins()[0].reads.empty());
  const std::size_t before = pins().size();
  click("add_pin");
  EXPECT_EQ(pins().size(), before + 1);
  click("take_pin");
  EXPECT_EQ(pins().size(), before);
  for (int i = 0; i < 6 && pins()[0].name != "A0"; ++i) workbench_.document().undo();
  QTest::qWait(50);
  ASSERT_GT(table->rowCount(), 0);
  EXPECT_EQ(table->item(0, 0)->text(), QStringLiteral("A0"));
}

TEST_F(ControllerPages, AnEmptyBenchSaysWhatIsMissing) {
  window_.show_view(Page::board, 7);
  EXPECT_THAT(text("parallel_missing"), HasSubstr("no converter"));
  EXPECT_FALSE(find<QCheckBox>("has_handshake")->isEnabled());
  window_.show_view(Page::board, 6);
  EXPECT_EQ(find<QComboBox>("controller_described")->currentIndex(), 0);
}

// A value that a library made of a sensor's code: what stood behind it, and what its author alone knows.
class BehindTheValue : public WindowTest {};
TEST_F(BehindTheValue, IsSaidOnWire) {
  Bench bench;
  bench.converters = {{.id = "adc", .bits = 10, .reference = {.nominal_v = 5, .tolerance = 0.01}}};
  bench.devices = {{.id = "probe", .part = "LM35", .converter = "adc"}};
  bench.channels = {{.id = "air", .name = "Air", .device = "probe", .arrives = Arrival{.unit = "Cel"}}};
  bench.channels.push_back({.id = "soil", .name = "Soil", .device = "dig", .arrives = Arrival{.unit = "Cel"}});
  bench.devices.push_back({.id = "dig", .part = "DS18B20"});
  workbench_.document().replace(QStringLiteral("x"), bench);
  workbench_.choose_channel("air");
  window_.show_view(Page::wire, 0);
  workbench_.hold({StageName::raw, 22.5});
  QTest::qWait(80);
  EXPECT_THAT(text("convention"), HasSubstr("Behind it stood 46 counts"));
  EXPECT_THAT(text("convention"), HasSubstr("If it is 1023, the sensor had"));
  EXPECT_THAT(text("convention"), HasSubstr("22.478"));
  workbench_.choose_channel("soil");
  workbench_.hold({StageName::raw, 22.4});
  QTest::qWait(80);
  EXPECT_THAT(text("convention"), HasSubstr(" = 358 or another between 358 and 359"));
}

// By its sheet's table 26 pulses are −50 °C; by the short formula 26 ÷ 4096 · 256 − 50 = −48.375 °C.
TEST_F(BehindTheValue, APulseSensorsShortFormulaIsHeldAgainstItsTable) {
  Bench bench;
  bench.rails = {{.id = "3v3"}};
  bench.devices = {{
      .id = "probe",
      .part = "LMT01",
  }};
  bench.channels = {{.id = "air", .device = "probe", .wanted = {-50, 120}}};
  workbench_.document().replace(QStringLiteral("x"), bench);
  workbench_.choose_channel("air");
  window_.show_view(Page::wire, 0);
  ASSERT_TRUE(workbench_.chosen().chain);
  workbench_.hold({workbench_.chosen().chain->code_stage()->name, 26});
  QTest::qWait(80);
  EXPECT_THAT(text("convention"), HasSubstr("would read 1.6"));
  EXPECT_THAT(text("convention"), HasSubstr("x / 4096 * 256 - 50"));
}

}  // namespace fair_gauge::app::controller_test
