// From the first start to a bench of one's own, at a person's pace.
#include <qcustomplot.h>
#include <QAbstractItemView>
#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QListWidget>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTimer>
#include <filesystem>
#include <functional>

#include "bench/board_presets.h"
#include "board/board_drawing.h"
#include "board/board_page.h"
#include "board/wires_view.h"
#include "choose/choose_page.h"
#include "handoff/handoff_page.h"
#include "home/first_chain.h"
#include "home/home_page.h"
#include "shell/margin.h"
#include "shell/tape.h"
#include "stream/listening.h"
#include "window.h"

namespace fair_gauge::app::own_bench_test {

using testing::HasSubstr;

class OwnBench : public EmptyWindow {
 protected:
  void type(const char* name, const QString& words) {
    auto* field = find<QLineEdit>(name);
    QTest::mouseClick(field, Qt::LeftButton);
    QTest::keyClicks(field, words, {}, 30);
  }
  // A supply, a bus, and a part of three quantities on it.
  void put_on_an_air_sensor() {
    put_on("add_thing_2", QStringLiteral("BME280"));
    ASSERT_EQ(workbench_.bench().channels.size(), 3u);
  }
  // A supply, the converter or bus that it needs, and the part itself.
  void put_on(const char* add, const QString& marking) {
    window_.show_view(Page::board, 0);
    click("add_thing_0");
    if (add) click(add);
    type("part_in_hand", marking);
    click("fit_part");
  }
  // A line as a board would send it: into a file that is listened to, from the start page on.
  void send(const QByteArray& line) { board_.write(line); }
  void listen_from_the_start(const QByteArray& first_line) {
    click("listen_first");
    listen(first_line);
    ASSERT_TRUE(comes([&] {
      send(first_line);
      return find<QPushButton>("make_channels")->isVisible();
    }));
  }
  // Answers the dialogs that come one after the other while `act` waits for them: each by one step.
  void meets(const std::function<void()>& act, std::vector<std::function<void(QWidget&)>> steps) {
    std::size_t step = 0;
    QObject waits;  // a step may open the next dialog before it ends: what answers that one is under way before
    const std::function<void()> answer = [&] {
      if (step == steps.size()) return;
      QTimer::singleShot(300, &waits, answer);
      if (QWidget* dialog = QApplication::activeModalWidget(); dialog && dialog->isVisible()) steps[step++](*dialog);
    };
    QTimer::singleShot(300, &waits, answer);
    act();
    EXPECT_EQ(step, steps.size()) << "so many dialogs came";
  }
  // On the page of the line.
  void listen(const QByteArray& first_line) {
    ASSERT_TRUE(board_.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
    send(first_line);
    auto* port = find<QComboBox>("port")->lineEdit();
    click_into(*port);
    type_slowly(*port, board_.fileName());
    QTest::keyClick(port->parentWidget(), Qt::Key_Return);  // which has the focus for its field
  }

 private:
  QTemporaryDir folder_;
  QFile board_{folder_.filePath(QStringLiteral("board.txt"))};
};

TEST_F(OwnBench, ABenchIsBegunFromItsController) {
  type("new_bench_name", QStringLiteral("Greenhouse"));
  auto* preset = find<QComboBox>("new_bench_preset");
  ASSERT_GE(preset->count(), 9);
  preset->setCurrentIndex(preset->findText(QStringLiteral("10-bit controller on a 5 V"), Qt::MatchStartsWith));
  click("new_bench");
  const Bench& bench = workbench_.bench();
  EXPECT_EQ(bench.name, "Greenhouse");
  ASSERT_FALSE(bench.converters.empty());
  EXPECT_EQ(bench.converters.front().bits, 10);
  EXPECT_FALSE(workbench_.document().is_saved()) << "it has no file yet";
  // The first sensor, as somebody would go on.
  ASSERT_TRUE(find<QPushButton>("first_sensor")->isVisible());
  EXPECT_TRUE(find<QPushButton>("first_sensor")->hasFocus()) << "Enter goes on";
  QStringList told;
  for (const QLabel* each : window_.findChildren<QLabel*>())
    if (each->isVisible()) told << each->text();
  const std::string all = told.join(QLatin1Char('\n')).toStdString();
  for (const char* words : {"5 V ±5 %; read it with a meter once", "10 bits, 0 to 1.1 V", "free pins", "Hand over"})
    EXPECT_THAT(all, HasSubstr(words));
  click("first_sensor");
  auto* page = &window_.choose();
  page->set_need({.from = 5, .to = 35, .allowed = 2});
  QTest::qWait(10);
  ASSERT_TRUE(comes([&] { return !page->is_working(); }));
  click("make_channel");
  ASSERT_EQ(bench.channels.size(), 1u);
  EXPECT_TRUE(workbench_.chosen().chain) << "it can be read";
  // The page that comes to the front has all that stands around it.
  ASSERT_TRUE(window_.wire().isVisible());
  for (const QWidget* each :
       {static_cast<QWidget*>(window_.findChild<Strip*>()), static_cast<QWidget*>(window_.findChild<Margin*>()),
        static_cast<QWidget*>(window_.findChild<Tape*>())})
    EXPECT_TRUE(each->isVisible()) << each->metaObject()->className();
  // What was begun is kept aside like any unsaved work.
  workbench_.document().write_autosave();
  workbench_.document().finish_autosave();
  EXPECT_FALSE(workbench_.document().homeless_leftovers().empty() && workbench_.document().is_saved());
}

// Before there is a bench one chain can be typed into, both ways; it is gone when one was begun.
TEST_F(OwnBench, AChainToTryIsSolvedBothWays) {
  auto* first = find<FirstChain>("first_chain");
  ASSERT_TRUE(first->isVisible());
  std::map<StageName, StageCard*> cards;
  for (auto* card : first->findChildren<StageCard*>()) cards[card->stage()] = card;
  const auto shows = [&](StageName stage) { return cards.at(stage)->field().text().toStdString(); };
  click_into(cards.at(StageName::world)->field());
  EXPECT_EQ(type_slowly(cards.at(StageName::world)->field(), QStringLiteral("11,4")), QStringLiteral("11,4"));
  // 10 kΩ · e^(3950 · (1/284.55 − 1/298.15)) = 18.84 kΩ; over 10 kΩ from 5 V it leaves 3.266 V: 1024 · 0.6532 = 668.9.
  EXPECT_THAT(shows(StageName::sensor), HasSubstr("18.8"));
  EXPECT_EQ(shows(StageName::front_end), "3.266");
  EXPECT_EQ(shows(StageName::converter), "669");
  EXPECT_THAT(text("first_verdict"), HasSubstr("within ±0."));
  click_into(cards.at(StageName::converter)->field());
  type_slowly(cards.at(StageName::converter)->field(), QStringLiteral("512"));
  EXPECT_EQ(shows(StageName::shown), "25.00") << "half of the span is the resistor's own value";
  EXPECT_EQ(shows(StageName::converter), "512");
  click_into(cards.at(StageName::front_end)->field());
  type_slowly(cards.at(StageName::front_end)->field(), QStringLiteral("9"));
  EXPECT_THAT(text("first_verdict"), HasSubstr("the pin is at the supply"));
  theme_.set_text_scale(2);
  QTest::qWait(50);
  EXPECT_FALSE(window_.findChild<FirstChain*>()) << "the ways to begin need its room";
  theme_.set_text_scale(1);
  EXPECT_TRUE(window_.findChild<FirstChain*>());
  click("new_bench");
  EXPECT_FALSE(window_.findChild<FirstChain*>());
}

TEST_F(OwnBench, NoPageIsShutWithoutABench) {
  for_every_view(window_, [&](const std::string& where) {
    EXPECT_TRUE(window_.isEnabled()) << where;
    EXPECT_LE(window_.minimumSizeHint().height(), 800) << where;
  });
  click("page_home");
  EXPECT_TRUE(find<QComboBox>("new_bench_preset")->isVisible());
  click("listen_first");
  EXPECT_FALSE(find<QPushButton>("listen_first")->isVisible()) << "the page of the line is in front";
}

// A board sends the bytes of a part as they came: the checksums in them say which part it can be, and both of its
// readings come from the same bytes.
TEST_F(OwnBench, BytesFindTheirPart) {
  listen_from_the_start("air:x6666938000A2\n");
  auto* make = find<QPushButton>("make_channels");
  const auto stands = [&](const char* words) {
    for (const QLabel* each : window_.findChildren<QLabel*>())
      if (each->isVisible() && each->text().contains(QLatin1String(words))) return true;
    return false;
  };
  EXPECT_TRUE(comes([&] { return stands("SHT30, SHT31, SHT35, SHT40 or one of 4 more"); }));
  click("make_channels");
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  EXPECT_FALSE(make->isVisible());
  ASSERT_TRUE(comes([&] { return find<QPushButton>("which_sensor")->isVisible(); })) << "what to do next is said";
  click("which_sensor");
  EXPECT_THAT(text("begin_title"), HasSubstr("Which sensor makes the numbers of air?"));
  EXPECT_THAT(text("begin_answer"), HasSubstr("checksums"));
  for (const double scale : {1.5, 2.0, 1.0}) {
    theme_.set_text_scale(scale);
    QTest::qWait(100);
    EXPECT_LE(window_.minimumSizeHint().width(), 1280) << scale;
    EXPECT_LE(window_.minimumSizeHint().height(), 800) << scale;
    EXPECT_EQ(cut_by_a_scroll_bar(window_), "") << scale;
  }
  // Or what is printed on it is typed at once.
  click("begin_board");
  ASSERT_TRUE(find<QLineEdit>("part_in_hand")->hasFocus());
  QTest::keyClick(&window_, Qt::Key_4, Qt::ControlModifier);
  click("begin_part_humid-checked-middle");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u);
  EXPECT_THAT(text("bench_said"), HasSubstr("The numbers of air are its own now"));
  EXPECT_TRUE(workbench_.bench().rails.empty()) << "what feeds it nobody has said";
  EXPECT_TRUE(find<QPushButton>("take_board")->isVisible());
  // 25 °C and 50 %RH by the sheet's formulas: 0x6666 and 0x8000 of 65535.
  ASSERT_TRUE(comes([&] {
    send("air:x6666938000A2\n");
    return !workbench_.samples("temperature").empty() && !workbench_.samples("humidity").empty();
  }));
  const auto reading = [&](const char* channel) {
    const auto chain = build_chain(workbench_.bench(), workbench_.catalogue(), channel);
    return *read_raw(*chain, workbench_.samples(channel).back().raw);
  };
  EXPECT_NEAR(reading("temperature"), 25.0, 0.01);
  EXPECT_NEAR(reading("humidity"), 50.0, 0.01);
  click("page_read");
  EXPECT_TRUE(comes([&] { return stands("also Humidity, from the same bytes"); }));
  EXPECT_FALSE(find<QPushButton>("which_sensor")->isVisible());
  // One answer whose checksum does not fit is none of the readings, and is told.
  click("page_watch");
  const auto refused = [&] { return workbench_.refused_answers("humidity").count; };
  ASSERT_EQ(refused(), 0u);
  send("air:x6666938000A3\n");
  ASSERT_TRUE(comes([&] { return refused() == 1; }));
  EXPECT_EQ(workbench_.refused_answers("temperature").count, 0u) << "its own word is right";
  workbench_.choose_channel("humidity");
  EXPECT_TRUE(comes([&] {
    send("air:x6666938000A2\n");
    return stands("One answer was refused: frame: the CRC does not fit");
  }));
  workbench_.stop_listening();
}

// Two readings of which nobody has said how far off they may be: their difference proves nothing.
TEST_F(OwnBench, WhatNobodyKnowsIsNotJudged) {
  const char* line = "inside:21.00C outside:21.70C flow:400\n";
  listen_from_the_start(line);
  click("make_channels");
  ASSERT_EQ(workbench_.bench().channels.size(), 3u);
  window_.show_view(Page::correct, 2);
  auto* table = window_.findChild<QTableWidget*>(QStringLiteral("pairs"));
  ASSERT_NE(table, nullptr);
  ASSERT_TRUE(comes([&] {
    send(line);
    return table->rowCount() == 1;
  }));
  EXPECT_EQ(table->item(0, 3)->text(), QStringLiteral("not known"));
  EXPECT_THAT(table->item(0, 2)->text().toStdString(), testing::StartsWith("≥"));
  EXPECT_THAT(text("agreement"), HasSubstr("nobody can say whether that is too much"));
  EXPECT_EQ(window_.findChild<QCheckBox*>(QStringLiteral("compare_flow")), nullptr) << "it has no sensor";
  window_.show_view(Page::correct, 3);
  const QComboBox* a = find<QComboBox>("derived_a");
  EXPECT_EQ(a->count(), 2) << "and is no input";
  EXPECT_EQ(a->findData(QStringLiteral("flow")), -1);
  click("page_home");
  EXPECT_THAT(text("home_subtitle"), testing::AllOf(HasSubstr("1 cannot be judged"), HasSubstr("of 2 nobody knows")));
  // Of one it is said: it is not made to follow the other.
  workbench_.document().edit(QStringLiteral("A figure"), [](Bench& bench) {
    find_by_id(bench.channels, "inside")->contributions = {{.name = "its certificate", .half_width = 0.2}};
  });
  window_.show_view(Page::correct, 2);
  int count = 0;
  EXPECT_TRUE(comes([&] {
    // A line between them can only be seen where they change.
    const int hundredths = count++ % 50;
    send(QStringLiteral("inside:21.%1C outside:21.%2C\n")
             .arg(hundredths, 2, 10, QLatin1Char('0'))
             .arg(hundredths + 40)
             .toLatin1());
    return text("line_words").find("How far outside may be off is not known") != std::string::npos;
  })) << text("line_words");
  EXPECT_FALSE(find<QPushButton>("use_line")->isEnabled());
  workbench_.stop_listening();
}

// A board's raw numbers came before anything was known of it: its controller is said, and the sensor that makes them.
TEST_F(OwnBench, RawNumbersFindTheirSensor) {
  workbench_.document().edit(QStringLiteral("From the line"), [](Bench& bench) {
    bench = with_channels(bench, {{.name = "A0", .count = 9, .lowest = 280, .highest = 310, .bits = 10}});
  });
  QTest::keyClick(&window_, Qt::Key_4, Qt::ControlModifier);
  QTest::qWait(100);
  EXPECT_TRUE(find<QWidget>("begin_here")->isVisible());
  EXPECT_FALSE(find<QPushButton>("begin_read")->isVisible()) << "it is listened to already";
  EXPECT_FALSE(window_.strip().isVisible());
  EXPECT_THAT(text("begin_title"), HasSubstr("Which sensor makes the numbers of A0?"));
  EXPECT_EQ(cut_by_a_scroll_bar(window_), "");
  for (const QWidget* way : {find<QWidget>("begin_board"), find<QWidget>("begin_choose")})
    EXPECT_GE(way->height(), way->sizeHint().height()) << "cut";
  click("begin_board");
  ASSERT_TRUE(find<QPushButton>("take_board")->isVisible());
  for (const double scale : {1.5, 2.0, 1.0}) {
    theme_.set_text_scale(scale);
    QTest::qWait(100);
    EXPECT_LE(window_.minimumSizeHint().width(), 1280) << scale;
    EXPECT_EQ(cut_by_a_scroll_bar(window_), "") << scale;
  }
  // Without supplies no part can be fed.
  type("part_in_hand", QStringLiteral("TMP36"));
  QTest::keyClick(find<QLineEdit>("part_in_hand"), Qt::Key_Return);
  EXPECT_THAT(text("bench_said"), HasSubstr("no supply"));
  auto* which = find<QComboBox>("which_board");
  which->setCurrentIndex(which->findText(QStringLiteral("10-bit controller on a 5 V"), Qt::MatchStartsWith));
  click("take_board");
  EXPECT_FALSE(find<QPushButton>("take_board")->isVisible());
  EXPECT_EQ(workbench_.bench().board.preset, "10-bit-5v");
  // A part that sends bytes does not make codes.
  QLineEdit* hand = find<QLineEdit>("part_in_hand");
  click_into(*hand);
  type_slowly(*hand, QStringLiteral("SHT31"));
  QTest::keyClick(hand, Qt::Key_Return);
  ASSERT_EQ(workbench_.bench().channels.size(), 3u);
  EXPECT_EQ(text("bench_said").find("its own now"), std::string::npos);
  QTest::keyClick(&window_, Qt::Key_Z, Qt::ControlModifier);
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  workbench_.choose_channel("a0");
  click_into(*hand);
  type_slowly(*hand, QStringLiteral("TMP36"));
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  click("fit_part");
  ASSERT_EQ(workbench_.bench().channels.size(), 1u) << "the sensor has taken the numbers over";
  EXPECT_EQ(workbench_.bench().channels[0].name_on_line(), "A0");
  EXPECT_THAT(text("bench_said"), HasSubstr("The numbers of A0 are its own now"));
  QTest::keyClick(&window_, Qt::Key_4, Qt::ControlModifier);
  EXPECT_FALSE(find<QWidget>("begin_here")->isVisible());
  EXPECT_TRUE(window_.strip().isVisible());
  // 154 of 1024 at 5 V are 0.752 V, and 10 mV/°C above 500 mV at 0 °C makes that 25.2 °C.
  const auto reading = read_raw(*workbench_.chosen().chain, 154);
  ASSERT_TRUE(reading);
  EXPECT_NEAR(*reading, 25.2, 0.05);
}

// A rule on a value that arrives is told in the steps in which it arrives: the first above 26.00 °C is 26.01.
TEST_F(OwnBench, ARuleOnWhatArrivesIsToldInItsSteps) {
  listen_from_the_start("room:22.27 C\n");
  click("make_channels");
  ASSERT_TRUE(comes([&] {
    send("room:22.31 C\n");
    return workbench_.samples("room").size() > 3;
  }));
  window_.show_view(Page::watch, 2);
  click("switch_begin");
  ASSERT_TRUE(comes([&] { return !text("switch_codes").empty(); }));
  EXPECT_THAT(text("switch_codes"), HasSubstr("On while the value that arrives < 24.00, which reads 24.000 °C."));
  EXPECT_THAT(text("switch_codes"), HasSubstr("Off while the value that arrives >= 26.01, which reads 26.010 °C."));
}

// A sensor that was put on first: the number that comes is its own by one click, and another channel by the next.
TEST_F(OwnBench, ASensorThatWaitsIsOfferedWhatComes) {
  click("new_bench");
  window_.show_view(Page::board, 0);
  type("part_in_hand", QStringLiteral("TMP36"));
  click("fit_part");
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  window_.show_view(Page::read, 0);
  listen("A3:153\n");
  auto* theirs = find<QPushButton>("theirs");
  ASSERT_TRUE(comes([&] { return theirs->isVisible(); }));
  EXPECT_EQ(theirs->text(), QStringLiteral("It is Temperature"));
  for (const double scale : {1.5, 2.0, 1.0}) {
    theme_.set_text_scale(scale);
    QTest::qWait(100);
    EXPECT_LE(window_.minimumSizeHint().width(), 1280) << scale;
    EXPECT_EQ(cut_by_a_scroll_bar(window_), "") << scale;
  }
  EXPECT_TRUE(find<QPushButton>("make_channels")->isVisible());
  QTest::mouseClick(theirs, Qt::LeftButton);
  ASSERT_TRUE(comes([&] {
    send("A3:153\n");
    return static_cast<bool>(workbench_.view("temperature").reading);
  }));
  EXPECT_EQ(workbench_.bench().channels[0].name_on_line(), "A3");
  EXPECT_FALSE(theirs->isVisible());
  EXPECT_FALSE(find<QPushButton>("make_channels")->isVisible());
  QTest::keyClick(&window_, Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(workbench_.bench().channels[0].name_on_line(), "temperature");
  ASSERT_TRUE(comes([&] { return theirs->isVisible(); }));
  click("make_channels");
  EXPECT_EQ(workbench_.bench().channels.size(), 2u);
}

// So does one that is chosen by what is needed; where its bytes would have to come, the codes stay.
TEST_F(OwnBench, AChosenSensorTakesRawNumbersOver) {
  workbench_.document().edit(QStringLiteral("From the line"), [](Bench& bench) {
    for (const BoardPreset& preset : load_board_presets(data_folders("boards")))
      if (preset.id == "10-bit-5v") take_board(bench, preset);
    bench = with_channels(bench, {{.name = "A0", .count = 9, .lowest = 280, .highest = 310, .bits = 10}});
  });
  workbench_.choose_channel("a0");
  window_.show_page(Page::choose);
  const auto make = [&](const char* part) {
    window_.choose().choose(part);
    ASSERT_TRUE(comes([&] { return find<QPushButton>("make_channel")->isEnabled(); }));
    click("make_channel");
  };
  make("humid-checked-middle");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u);
  workbench_.choose_channel("a0");
  window_.show_page(Page::choose);
  make("linear-voltage-10mv-500mv");
  ASSERT_EQ(workbench_.bench().channels.size(), 2u);
  EXPECT_EQ(find_by_id(workbench_.bench().channels, "a0"), nullptr);
  EXPECT_EQ(workbench_.chosen().channel->name_on_line(), "A0");
}

TEST_F(OwnBench, APageWithoutAChannelSaysWhatItIsForAndHowToComeByOne) {
  const QWidget* begin = find<QWidget>("begin_here");
  for (const Page page : {Page::wire, Page::correct, Page::handoff}) {
    QTest::keyClick(&window_, static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(page)), Qt::ControlModifier);
    EXPECT_TRUE(begin->isVisible());
    EXPECT_FALSE(window_.page(page).isVisible());
    EXPECT_FALSE(window_.strip().isVisible());
    EXPECT_EQ(window_.focusWidget(), find<QPushButton>("begin_board"));
  }
  theme_.set_text_scale(2);
  QTest::qWait(100);
  for (const char* name : {"begin_board", "begin_choose", "begin_read"}) {
    const auto* way = find<QPushButton>(name);
    EXPECT_LE(way->mapTo(&window_, QPoint(way->width(), 0)).x(), window_.width()) << name;
  }
  theme_.set_text_scale(1);
  QTest::keyClick(window_.focusWidget(), Qt::Key_Space);
  EXPECT_FALSE(begin->isVisible());
  EXPECT_TRUE(window_.board().isVisible());
  EXPECT_FALSE(find<QPushButton>("keep_board")->isVisible()) << "there is nothing to keep";
  window_.show_page(Page::handoff);
  click("begin_choose");
  EXPECT_TRUE(window_.choose().isVisible());
  // The page is there as soon as a channel is, and gone with the last one.
  window_.show_page(Page::wire);
  workbench_.document().replace(QStringLiteral("x"), Bench{.devices = {{.id = "dig", .part = "DS18B20"}},
                                                           .channels = {{.id = "air", .device = "dig"}}});
  EXPECT_FALSE(begin->isVisible());
  EXPECT_TRUE(window_.wire().isVisible());
  EXPECT_TRUE(window_.strip().isVisible());
  workbench_.document().undo();
  EXPECT_TRUE(begin->isVisible());
  click("begin_demonstration");
  EXPECT_EQ(workbench_.bench().name, "Fernhollow");
}

TEST_F(OwnBench, UndoTakesTheFieldThatIsInUseAlong) {
  window_.show_view(Page::board, 0);
  click("add_thing_0");  // its name has the focus
  QTest::keyClick(window_.focusWidget(), Qt::Key_Z, Qt::ControlModifier);
  if (!workbench_.bench().rails.empty()) workbench_.document().undo();
  QTest::qWait(50);
  EXPECT_TRUE(workbench_.bench().rails.empty());
  EXPECT_FALSE(find<QPushButton>("thing_off")->isVisible());
  // What was undone does not come back when the field is left.
  click("add_thing_0");
  const std::string before = workbench_.bench().rails.front().name;
  auto* name = window_.focusWidget();
  QTest::keyClicks(name, QStringLiteral("other"), {}, 20);
  QTest::keyClick(name, Qt::Key_Return);
  EXPECT_EQ(workbench_.bench().rails.front().name, "other");
  workbench_.document().undo();
  find<BoardDrawing>("board_drawing")->setFocus();
  QTest::qWait(30);
  EXPECT_EQ(workbench_.bench().rails.front().name, before);
}

TEST_F(OwnBench, TheDrawingIsChosenInByMouseAndKeys) {
  window_.show_view(Page::board, 0);
  auto* drawing = find<BoardDrawing>("board_drawing");
  EXPECT_TRUE(drawing->isVisible());
  click("add_thing_0");
  click("add_thing_1");
  click("add_thing_2");
  type("part_in_hand", QStringLiteral("BME280"));
  click("fit_part");
  ASSERT_EQ(workbench_.bench().devices.size(), 1u);
  const Thing rail{ThingKind::rail, workbench_.bench().rails.front().id},
      converter{ThingKind::converter, workbench_.bench().converters.front().id},
      bus{ThingKind::bus, workbench_.bench().buses.front().id},
      part{ThingKind::device, workbench_.bench().devices.front().id};
  const auto title = [&] { return find<QLabel>("thing_title")->text().toStdString(); };
  // Each has its place, none lies over another.
  std::vector<QRect> places;
  for (const Thing& thing : {rail, converter, bus, part}) {
    const QRect place = drawing->place_of(thing);
    ASSERT_FALSE(place.isEmpty());
    for (const QRect& other : places) EXPECT_FALSE(place.intersects(other));
    places.push_back(place);
    QTest::mouseClick(drawing, Qt::LeftButton, {}, place.center());
    QTest::qWait(40);
    EXPECT_EQ(title(), name_of(workbench_.bench(), thing));
  }
  EXPECT_GT(places[3].top(), places[2].top()) << "the part hangs under its bus";
  EXPECT_GT(places[3].left(), places[2].left());
  // In reading order: supply, converter, bus, part.
  QTest::keyClick(drawing, Qt::Key_Home);
  EXPECT_EQ(title(), name_of(workbench_.bench(), rail));
  for (const Thing& thing : {converter, bus, part, part}) {
    QTest::keyClick(drawing, Qt::Key_Down, {}, 30);
    EXPECT_EQ(title(), name_of(workbench_.bench(), thing));
  }
  QTest::keyClick(drawing, Qt::Key_Up, {}, 30);
  EXPECT_EQ(title(), name_of(workbench_.bench(), bus));
  EXPECT_THAT(drawing->accessibleDescription().toStdString(), HasSubstr("BME280"));
  // Taken off, it is drawn no more; undone, it is again.
  QTest::mouseClick(drawing, Qt::LeftButton, {}, drawing->place_of(part).center());
  click("thing_off");
  EXPECT_TRUE(drawing->place_of(part).isEmpty());
  workbench_.document().undo();
  QTest::qWait(30);
  EXPECT_FALSE(drawing->place_of(part).isEmpty());
  // The same as a list, and remembered.
  click("as_list");
  EXPECT_TRUE(find<QListWidget>("things")->isVisible());
  EXPECT_FALSE(drawing->isVisible());
  click("as_list");
  EXPECT_TRUE(drawing->isVisible());
}

TEST_F(OwnBench, EverythingIsAddedRenamedHungElsewhereAndTakenAway) {
  Document& document = workbench_.document();
  const auto select = [&](const char* words) {
    auto* list = find<QListWidget>("things");
    const auto found = list->findItems(QLatin1String(words), Qt::MatchStartsWith);
    ASSERT_FALSE(found.isEmpty()) << words;
    list->scrollToItem(found.front());
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(found.front()).center());
    QTest::qWait(30);
  };
  const auto give = [&](const char* name, const QString& words) {
    auto* field = find<QLineEdit>(name);
    QTest::mouseClick(field, Qt::LeftButton);
    QTest::keyClicks(field, words, {}, 30);
    QTest::keyClick(field, Qt::Key_Return);
    QTest::qWait(30);
  };
  window_.show_view(Page::board, 0);
  // Without a supply a part says what is missing; nothing is lost of what was typed.
  type("part_in_hand", QStringLiteral("LM35"));
  click("fit_part");
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("no supply rail"));
  EXPECT_EQ(find<QLineEdit>("part_in_hand")->text(), QStringLiteral("LM35"));
  click("add_thing_0");
  ASSERT_EQ(workbench_.bench().rails.size(), 1u);
  QTest::keyClicks(find<QLineEdit>("thing_name"), QStringLiteral("the 5 V pin"), {}, 30);  // its name is marked
  give("rail_nominal", QStringLiteral("5"));
  EXPECT_EQ(workbench_.bench().rails.front().name, "the 5 V pin");
  EXPECT_EQ(workbench_.bench().rails.front().voltage.best_v(), 5);
  give("rail_measured", QStringLiteral("4,93"));
  EXPECT_EQ(workbench_.bench().rails.front().voltage.best_v(), 4.93);
  give("rail_measured", QStringLiteral("700"));
  EXPECT_EQ(workbench_.bench().rails.front().voltage.best_v(), 4.93) << "refused";
  // A meter that reads just what is printed has read it all the same; emptied, it was never read.
  give_slowly("rail_measured", QStringLiteral("5"));
  EXPECT_EQ(workbench_.bench().rails.front().voltage.measured_v, std::optional(5.0));
  auto& measured = *find<QLineEdit>("rail_measured");
  click_into(measured);
  QTest::keyClick(&measured, Qt::Key_End);
  for (int i = 0; i < 5; ++i) QTest::keyClick(&measured, Qt::Key_Backspace, {}, 30);
  QTest::keyClick(&measured, Qt::Key_Return);
  EXPECT_EQ(workbench_.bench().rails.front().voltage.measured_v, std::nullopt);
  EXPECT_EQ(find<QLineEdit>("rail_measured")->placeholderText(), QStringLiteral("not measured"));
  give("rail_measured", QStringLiteral("4,93"));
  give("bench_name", QStringLiteral("Greenhouse"));
  EXPECT_EQ(workbench_.bench().name, "Greenhouse");
  click("add_thing_1");
  give("converter_bits", QStringLiteral("10"));
  ASSERT_EQ(workbench_.bench().converters.front().bits, 10);
  EXPECT_EQ(find<QLineEdit>("converter_reference")->isEnabled(),
            workbench_.bench().converters.front().reference_rail.empty())
      << "where a supply is the reference, its own counts for nothing";
  click("fit_part");
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  ASSERT_TRUE(workbench_.chosen().chain);
  // 10 mV for each °C, 10 bits of 4.93 V: 25 °C is 0.25 / 4.93 · 1024 = 51.9.
  EXPECT_EQ(*raw_for(*workbench_.chosen().chain, 25), 52);
  // A second supply, and the part hung on it.
  click("add_thing_0");
  click("as_list");
  select("Temperature");
  EXPECT_THAT(find<QLabel>("thing_dependents")->text().toStdString(), HasSubstr("Temperature"));
  auto* fed = find<QComboBox>("device_rail");
  fed->setFocus();
  QTest::keyClick(fed, Qt::Key_Down);
  QTest::qWait(30);
  EXPECT_EQ(workbench_.bench().devices.front().front_end.rail, workbench_.bench().rails.back().id);
  // A supply goes; what hung on it stays and keeps what was known of it.
  select("the 5 V pin");
  EXPECT_THAT(find<QLabel>("thing_dependents")->text().toStdString(), HasSubstr("converter 1"));
  click("thing_off");
  ASSERT_EQ(workbench_.bench().rails.size(), 1u);
  EXPECT_EQ(reference_of(workbench_.bench(), workbench_.bench().converters.front()).best_v(), 4.93);
  EXPECT_TRUE(workbench_.chosen().chain) << "it can still be read";
  select("Temperature");
  click("thing_off");
  EXPECT_TRUE(workbench_.bench().channels.empty());
  EXPECT_TRUE(workbench_.bench().devices.empty());
  for (int i = 0; i < 2; ++i) document.undo();
  EXPECT_EQ(workbench_.bench().rails.size(), 2u);
  EXPECT_EQ(workbench_.bench().channels.size(), 1u);
  while (document.can_undo()) document.undo();
  EXPECT_EQ(workbench_.bench(), Bench()) << "all of it, one step after the other";
  EXPECT_FALSE(find<QPushButton>("thing_off")->isVisible());
}

// A part that answers on its bus pulls an alert line down as well, drawn at both; the arrow keys pass it once.
// A controller without a converter of its own: sixteen bits on its bus, by what is printed on the part.
// On a bench of one's own nobody knows the specimen's trimming yet: the simulation holds the file's made-up words,
// the strip says that they are, and Wire takes the own ones.
TEST_F(OwnBench, TrimmingIsTypedWhereThePartIs) {
  ASSERT_NO_FATAL_FAILURE(put_on_an_air_sensor());
  workbench_.listen_to_simulation();
  ASSERT_TRUE(comes([&] { return !workbench_.samples("temperature").empty(); }));
  QTest::qWait(2500);
  EXPECT_FALSE(workbench_.view("temperature").refused) << "what the shed sends is read";
  EXPECT_TRUE(workbench_.view("temperature").reading);
  window_.show_page(Page::wire);
  EXPECT_THAT(workbench_.chosen().chain->stage(StageName::compensated)->caption, HasSubstr("made-up trimming"));
  workbench_.choose_stage(workbench_.chosen().chain->code_stage()->name);
  QTest::qWait(50);
  const auto trimming = [&](const QString& block) {
    for (auto* field : window_.wire().findChildren<QLineEdit*>())
      if (field->isVisible() && field->accessibleName() == QStringLiteral("Trimming, ") + block) return field;
    return static_cast<QLineEdit*>(nullptr);
  };
  // The words of the sheet's own example, of which the last blocks belong to the humidity.
  const std::pair<const char*, const char*> own[] = {
      {"0x88", "70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17"},
      {"0xA1", "0x4B"},
      {"0xE1", "6A 01 00 14 21 03 1E"}};
  for (const auto& [block, bytes] : own) {
    QLineEdit* field = trimming(QLatin1String(block));
    ASSERT_TRUE(field) << block;
    click_into(*field);
    QTest::keyClicks(field, QLatin1String(bytes));
    QTest::keyClick(field, Qt::Key_Return);
    QTest::qWait(50);
  }
  EXPECT_EQ(workbench_.bench().devices.front().trimming.at("0x88"), "706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017");
  EXPECT_THAT(workbench_.chosen().chain->stage(StageName::compensated)->caption, HasSubstr("data sheet's formula"));
  // 519 888 is 25.08 °C there.
  EXPECT_NEAR(*read_raw(*workbench_.chosen().chain, 519888), 25.08, 0.005);
}

// Bytes that a person has as text: what came at once finds its block by its length, and goes on to the specimen.
TEST_F(OwnBench, PastedTrimmingIsKeptWithItsSpecimen) {
  ASSERT_NO_FATAL_FAILURE(put_on_an_air_sensor());
  window_.show_view(Page::read, 1);
  auto* field = find<QLineEdit>("bytes_text");
  auto* keep = find<QPushButton>("bytes_keep_trimming");
  const auto paste = [&](const char* bytes) {
    click_into(*field);
    QGuiApplication::clipboard()->setText(QLatin1String(bytes));
    QTest::keyClick(field, Qt::Key_V, Qt::ControlModifier);
    QTest::qWait(50);
  };
  EXPECT_FALSE(keep->isVisible()) << "an example is nobody's trimming";
  paste("70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17");
  EXPECT_THAT(text("bytes_understood"), HasSubstr("put into 0x88"));
  EXPECT_FALSE(workbench_.anchor()) << "of the example's raw number nothing is known";
  ASSERT_TRUE(keep->isVisible());
  paste("4B");
  EXPECT_THAT(text("bytes_understood"), HasSubstr("So many belong into 0xA1")) << "two digits may be the first of more";
  auto* block = find<QComboBox>("bytes_block");
  block->setFocus();
  QTest::keyClick(block, Qt::Key_Down);
  ASSERT_EQ(block->currentData(), QStringLiteral("0xA1"));
  paste("6A 01 00 14 21 03 1E");
  QTest::mouseClick(keep, Qt::LeftButton);
  QTest::qWait(50);
  EXPECT_FALSE(keep->isVisible());
  const auto& held = workbench_.bench().devices.front().trimming;
  EXPECT_EQ(held.at("0x88"), "706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017");
  EXPECT_EQ(held.at("0xA1"), "4B");
  EXPECT_EQ(held.at("0xE1"), "6A01001421031E");
  EXPECT_THAT(text("bytes_understood"), HasSubstr("computed with it"));
  paste("65 5A C0 7E ED 00 70 00");  // the temperature of the sheet's own example: 519 888, 25.08 °C
  EXPECT_THAT(text("bytes_understood"), HasSubstr("put into 0xF7"));
  EXPECT_EQ(shown(StageName::raw), QStringLiteral("519\u2009888"));
  EXPECT_THAT(shown(StageName::compensated).toStdString(), HasSubstr("25.08"));
  // Typed digit by digit they go where the person said, whatever their number is on the way.
  click_into(*field);
  type_slowly(*field, QStringLiteral("655AC07EEC0070"));
  EXPECT_EQ(block->currentData(), QStringLiteral("0xF7"));
  EXPECT_THAT(text("bytes_understood"), HasSubstr("So many belong into 0xE1"));
  type_slowly(*field, QStringLiteral("00"));
  EXPECT_EQ(shown(StageName::raw), QStringLiteral("519\u2009872"));
  EXPECT_EQ(workbench_.bench().devices.front().trimming, held);
}

// A part whose lines end at the controller's pins hangs on no bus, and its list of wires has every one of them.
TEST_F(OwnBench, APartOnFourWiresIsWiredToPins) {
  window_.show_view(Page::board, 0);
  click("add_thing_0");
  type("part_in_hand", QStringLiteral("MAX31855"));
  click("fit_part");
  ASSERT_EQ(workbench_.bench().devices.size(), 1u);
  ASSERT_TRUE(comes([&] { return window_.findChild<QComboBox*>(QStringLiteral("device_rail")) != nullptr; }));
  EXPECT_FALSE(window_.findChild<QComboBox*>(QStringLiteral("device_bus")));
  window_.show_view(Page::board, 3);
  const auto* wires = find<QTableWidget>("wires");
  ASSERT_TRUE(comes([&] { return wires->rowCount() == 7; })) << wires->rowCount();
  EXPECT_EQ(wires->item(5, 1)->text(), QStringLiteral("element plus"));
  EXPECT_EQ(wires->item(5, 4)->text(), QStringLiteral("3 T+"));
  EXPECT_FALSE(wires->item(5, 2)->flags() & Qt::ItemIsEditable) << "it ends at no pin of the controller";
}

// What is no part's name leaves the part that was there, and says what the field is for.
TEST_F(OwnBench, BytesInTheFieldOfThePartAreNoPart) {
  window_.show_view(Page::read, 1);
  auto* part = find<QComboBox>("bytes_part");
  const QString before = part->currentText();
  click_into(*part->lineEdit());
  type_slowly(*part->lineEdit(), QStringLiteral("70 6B"));
  QTest::keyClick(part, Qt::Key_Return);
  EXPECT_EQ(part->currentText(), before);
  EXPECT_THAT(text("bytes_understood"), HasSubstr("No part here is called “70 6B”"));
  click_into(*part->lineEdit());
  type_slowly(*part->lineEdit(), QStringLiteral("tmp117"));
  QTest::keyClick(part, Qt::Key_Return);
  EXPECT_THAT(part->currentText().toStdString(), HasSubstr("TMP117"));
  EXPECT_THAT(text("bytes_understood"), HasSubstr("example"));
}

// Registers need neither a channel nor another view: a part is typed by what is printed on it.
TEST_F(OwnBench, RegistersOfAnyPartAreComposed) {
  window_.show_view(Page::read, 2);
  auto* part = find<QComboBox>("registers_part");
  for (const char* word : {"nonsense", "opt3001"}) {
    click_into(*part->lineEdit());
    type_slowly(*part->lineEdit(), QLatin1String(word));
    QTest::keyClick(part, Qt::Key_Return);
    EXPECT_THAT(text("register_title"),
                HasSubstr(word == std::string("nonsense") ? "No part here is called “nonsense”" : "power-on values"));
  }
  EXPECT_THAT(part->currentText().toStdString(), HasSubstr("OPT3001"));
  EXPECT_EQ(find<QLineEdit>("register_0")->text(), QStringLiteral("C810")) << "its sheet's reset value";
}

// Nothing has arrived: the bytes are those of the number in the strip above them, and they follow what is typed there.
// A part whose range follows the light by itself has no gain that could be advised.
TEST_F(OwnBench, BytesFollowTheStripBeforeAnythingArrives) {
  put_on(nullptr, QStringLiteral("OPT3001"));
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  window_.show_view(Page::read, 1);
  QuantityField& bytes = window_.strip().card(StageName::bytes)->field();
  ASSERT_TRUE(comes([&] { return seen().find("bytes of what the strip shows") != std::string::npos; }));
  // 1310.4 lx = 0.01 · 2^5 · 4095, the highest of exponent 5: 5FFF.
  QuantityField& world = window_.strip().card(StageName::world)->field();
  click_into(world);
  QTest::keyClicks(&world, QStringLiteral("1310.4"), {}, 60);
  QTest::keyClick(&world, Qt::Key_Return);
  EXPECT_EQ(bytes.text(), QStringLiteral("5F FF"));
  EXPECT_THAT(seen(), HasSubstr("0.01*2^5*4095"));
  EXPECT_THAT(seen(), testing::Not(HasSubstr("headroom")));
}

TEST_F(OwnBench, WhatIsWrongSaysWhatItNeeds) {
  window_.show_view(Page::read, 4);
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("This bench has no channels yet"));
}

// The view was looked at before the board spoke: its first number is the one that is asked about, and it stays.
TEST_F(OwnBench, WhatIsWrongAsksAboutTheFirstNumberThatComes) {
  put_on("add_thing_1", QStringLiteral("TMP36"));
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  window_.show_view(Page::read, 4);
  EXPECT_THAT(text("mistake_verdict"), HasSubstr("The raw number is missing; type it"));
  workbench_.document().edit(QStringLiteral("name on the line"),
                             [](Bench& bench) { bench.channels.front().line_name = "A0"; });
  workbench_.take_text(QStringLiteral("A0:931\n"));
  auto* number = find<QLineEdit>("mistake_input");
  ASSERT_TRUE(comes([&] { return number->text() == QStringLiteral("931"); }));
  workbench_.take_text(QStringLiteral("A0:932\n"));
  QTest::qWait(300);
  EXPECT_EQ(number->text(), QStringLiteral("931")) << "it stands still";
  EXPECT_TRUE(comes([&] { return text("mistake_verdict").find("Type what your firmware shows") != std::string::npos; }))
      << text("mistake_verdict");
}

// The keys go to the list of words below the field, as they do on a screen; what is refused gives way to what is typed
// next, with a click or without.
TEST_F(OwnBench, AfterARefusalThePartTypedNextIsTaken) {
  window_.show_view(Page::board, 0);
  click("add_thing_0");
  auto* part = find<QLineEdit>("part_in_hand");
  const auto press = [&](Qt::Key key) {
    QWidget* list = QApplication::activePopupWidget();
    QTest::keyClick(list ? list : part, key);
    QTest::qWait(50);
  };
  for (const bool with_a_click : {false, true}) {
    click_into(*part);
    QTest::keyClicks(part, QStringLiteral("LM35"), {}, 30);
    press(Qt::Key_Return);
    EXPECT_EQ(part->text(), QStringLiteral("LM35")) << "needs 4 V";
    if (with_a_click) QTest::mouseClick(part, Qt::LeftButton);
    QTest::keyClicks(part, QStringLiteral("LM34"), {}, 30);
    EXPECT_EQ(part->text(), QStringLiteral("LM34"));
    press(Qt::Key_Return);
  }
}

// Enter on the list's line puts one on; the field is free again, and Ctrl+Z in it takes that one off.
// A part whose sheet states no accuracy: nothing is "used" of an allowed error while nobody knows, not before a point
// and not by one point; the digits are those of a step; and two references at one light are no slope.
TEST_F(OwnBench, WhatNoSheetStatesIsNotCalledZeroPercent) {
  click("new_bench");
  window_.show_page(Page::board);
  type("part_in_hand", QStringLiteral("TSL235R"));
  QTest::keyClick(find<QLineEdit>("part_in_hand"), Qt::Key_Return);
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  window_.show_page(Page::correct);
  auto* drawn = find<QCustomPlot>("fit_plot");
  EXPECT_FALSE(drawn->yAxis->tickLabels()) << "numbers of nothing";
  workbench_.listen_to_simulation();
  ASSERT_TRUE(comes([&] { return text("stability").find("30 readings") != std::string::npos; }));
  const std::string shown = window_.strip().card(StageName::shown)->field().text().toStdString();
  EXPECT_EQ(shown.size() - shown.find('.') - 1, 2u) << shown << ": a step is 0.026 lx";
  const int reads = static_cast<int>(std::stod(shown));
  const auto point_at = [&](int reference) {
    give_slowly("input_0", QString::number(reference));
    click("take_point");
  };
  point_at(reads - 50);
  EXPECT_THAT(text("fit_verdict"), HasSubstr("proves itself alone"));
  EXPECT_THAT(text("fit_verdict"), HasSubstr("stays unknown"));
  EXPECT_THAT(text("fit_verdict"), Not(HasSubstr("it uses")))
      << "how it was found is known, what it may be off by is not";
  EXPECT_TRUE(drawn->yAxis->tickLabels());
  point_at(reads + 400);
  EXPECT_THAT(text("model_why"), HasSubstr("as good as the same"));
  EXPECT_THAT(find<QComboBox>("model")->currentText().toStdString(), HasSubstr("one offset"));
}

// What the sheet leaves to the specimen is typed at its sensor: the gate of a frequency, the range of a transmitter.
TEST_F(OwnBench, TheNumbersOfAPartsOwnLawAreTyped) {
  click("new_bench");
  const auto put_on = [&](const char* marking) {
    window_.show_page(Page::board);
    type("part_in_hand", QString::fromUtf8(marking));
    click("fit_part");
    window_.show_page(Page::wire);
    QTest::mouseClick(window_.strip().card(StageName::sensor), Qt::LeftButton);
  };
  const auto give = [&](int row, const char* words) {
    give_slowly_to(static_cast<QLineEdit&>(*setting(row)), QString::fromUtf8(words));
  };
  put_on("TSL235R");
  give(2, "0,5");
  EXPECT_DOUBLE_EQ(workbench_.bench().devices.back().settings.at("gate"), 0.5);
  EXPECT_EQ(static_cast<QLineEdit*>(setting(2))->text(), QStringLiteral("0.5 s"));
  give(1, "500");  // Hz for 1 lx
  give_slowly("stage_world", QStringLiteral("600"));
  EXPECT_EQ(*parse_number(shown(StageName::raw).toStdString()), 150e3);  // 600 lx · 500 Hz/lx · 0.5 s
  // Its fields that are of no use are refused where they stand.
  give(2, "0");
  EXPECT_DOUBLE_EQ(workbench_.bench().devices.back().settings.at("gate"), 0.5);
  // A transmitter of −40 … 60 °C: 13.6 mA at 20 °C, 2.04 V over 150 Ω.
  put_on("temperature 4-20 mA");
  ASSERT_EQ(workbench_.bench().devices.back().part, "current-loop-temperature");
  give(1, "-40");
  give(2, "60");
  // Both ends at one value would leave no chain, and no field to mend it in.
  give(2, "-40");
  EXPECT_DOUBLE_EQ(workbench_.bench().devices.back().settings.at("high"), 60);
  EXPECT_THAT(text("echo"), HasSubstr("another value at 20 mA"));
  ASSERT_TRUE(workbench_.chosen().chain);
  give_slowly("stage_world", QStringLiteral("20"));
  EXPECT_THAT(shown(StageName::sensor).toStdString(), HasSubstr("2.04"));
}

// A part with trimming that nobody has read yet: the firmware loads it, and nothing is refused.
TEST_F(OwnBench, APartWithUnknownTrimmingIsHandedOver) {
  click("new_bench");
  window_.show_page(Page::board);
  type("part_in_hand", QStringLiteral("BME280"));
  click("fit_part");
  window_.show_page(Page::handoff);
  EXPECT_EQ(find<QComboBox>("handoff_trimming")->currentText(), QStringLiteral("loaded"));
  EXPECT_FALSE(find<QComboBox>("handoff_trimming")->isEnabled());
  EXPECT_TRUE(find<QLabel>("handoff_trimming_lacks")->isVisible());
  // What follows from it is worked out of readings: no trimming there.
  workbench_.document().edit({}, [](Bench& bench) {
    Channel dew = *find_by_id(bench.channels, "temperature");
    dew.id = "dew", dew.name = "Dew", dew.device.clear();
    dew.derived = DerivedFrom{.as = "dew-point", .of = "temperature", .beside = "humidity"};
    bench.channels.push_back(dew);
  });
  workbench_.choose_channel("dew");
  ASSERT_TRUE(comes([&] { return find<QComboBox>("handoff_file")->count() > 0; })) << text("handoff_proof");
  EXPECT_FALSE(find<QLabel>("handoff_trimming_lacks")->isVisible());
  workbench_.choose_channel("temperature");
  if (is_sanitized) return;  // a million blocks take minutes then
  auto* file = find<QComboBox>("handoff_file");
  ASSERT_TRUE(comes([&] { return file->count() > 0; })) << text("handoff_proof");
  EXPECT_THAT(find<QPlainTextEdit>("handoff_code")->toPlainText().toStdString(), HasSubstr("_load_trimming"));
}

// What a maker says of a part, in any order, opens the list; each line has the marking and what it does.
TEST_F(OwnBench, WordsOfAPartOpenTheList) {
  click("new_bench");
  window_.show_view(Page::board, 0);
  type("part_in_hand", QStringLiteral("10 k NTC"));
  auto* list = qobject_cast<QAbstractItemView*>(QApplication::activePopupWidget());
  ASSERT_TRUE(list);
  ASSERT_GT(list->model()->rowCount(), 2);
  const QModelIndex first = list->model()->index(0, 0);
  EXPECT_THAT(first.data().toString().toStdString(), testing::AllOf(HasSubstr(" · "), HasSubstr("10 kΩ")));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(first).center());
  click("fit_part");
  ASSERT_EQ(workbench_.bench().devices.size(), 1u);
  EXPECT_TRUE(workbench_.catalogue().find(workbench_.bench().devices[0].part)->name.find("thermistor") !=
              std::string::npos);
}

// Words that several parts are called by: the list stands open, and a click on one of its lines puts that one on.
TEST_F(OwnBench, AClickOnALineOfTheListPutsItOn) {
  type("new_bench_name", QStringLiteral("Kiln"));
  click("new_bench");
  window_.show_view(Page::board, 0);
  auto* part = find<QLineEdit>("part_in_hand");
  click_into(*part);
  QTest::keyClicks(part, QStringLiteral("NTC 10k"), {}, 30);
  QWidget* list = QApplication::activePopupWidget();
  QTest::keyClick(list ? list : part, Qt::Key_Return);
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("parts are called so: choose one"));
  ASSERT_TRUE(comes([] { return qobject_cast<QAbstractItemView*>(QApplication::activePopupWidget()); }));
  auto* lines = qobject_cast<QAbstractItemView*>(QApplication::activePopupWidget());
  QTest::qWait(100);
  QTest::mouseClick(lines->viewport(), Qt::LeftButton, {}, lines->visualRect(lines->model()->index(0, 0)).center());
  QTest::qWait(100);
  ASSERT_EQ(workbench_.bench().channels.size(), 1u);
  EXPECT_EQ(part->text(), QString());
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("is on the bench"));
}

TEST_F(OwnBench, AChosenLineOfTheListIsPutOnOnce) {
  type("new_bench_name", QStringLiteral("Light box"));
  click("new_bench");
  window_.show_view(Page::board, 0);
  type("part_in_hand", QStringLiteral("photodiode"));
  auto* part = find<QLineEdit>("part_in_hand");
  for (const Qt::Key key : {Qt::Key_Down, Qt::Key_Return}) {
    QWidget* list = QApplication::activePopupWidget();
    QTest::keyClick(list ? list : part, key);
    QTest::qWait(50);
  }
  EXPECT_EQ(workbench_.bench().channels.size(), 1u);
  EXPECT_EQ(part->text(), QString());
  QTest::keyClick(part, Qt::Key_Return);
  EXPECT_EQ(workbench_.bench().channels.size(), 1u);
  // Before its first reading a plot has no numbers at its axes, for they would be made up.
  const auto has_numbers = [this] {
    const auto* plot = window_.findChild<QCustomPlot*>(QStringLiteral("log_plot"));
    return std::pair(plot->xAxis->tickLabels(), plot->yAxis->tickLabels());
  };
  window_.show_page(Page::watch);
  EXPECT_EQ(has_numbers(), std::pair(false, false));
  workbench_.listen_to_simulation();
  EXPECT_TRUE(comes([&] { return has_numbers() == std::pair(true, true); }));
  window_.show_page(Page::board);
  QTest::keyClick(part, Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(workbench_.bench().channels.empty());
  EXPECT_EQ(part->text(), QString());
  // What is being typed is the field's own to undo.
  QTest::keyClicks(part, QStringLiteral("LM3"), {}, 30);
  QTest::keyClick(part, Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(part->text(), QString());
  EXPECT_EQ(workbench_.bench().name, "Light box");
}

// A load that takes away the voltage its part needs: there is no reading, and Home does not call that fair.
TEST_F(OwnBench, WhatCannotBeReadIsNotCalledFair) {
  type("new_bench_name", QStringLiteral("Loft"));
  click("new_bench");
  window_.show_view(Page::board, 0);
  type("part_in_hand", QStringLiteral("AD590"));
  click("fit_part");
  ASSERT_TRUE(workbench_.chosen().chain);
  window_.show_page(Page::home);
  const auto subtitle = [&] { return find<QLabel>("home_subtitle")->text().toStdString(); };
  EXPECT_THAT(subtitle(), testing::Not(HasSubstr("judged")));
  window_.show_view(Page::wire, 0);
  workbench_.choose_stage(StageName::front_end);
  QTest::qWait(20);
  EXPECT_EQ(window_.wire().findChild<QComboBox*>(QStringLiteral("field_0"))->currentText(),
            QStringLiteral("load resistor"));
  auto* load = window_.wire().findChild<QLineEdit*>(QStringLiteral("field_1"));
  give_slowly_to(*load, QStringLiteral("13k"));
  window_.show_page(Page::home);
  QTest::qWait(50);
  EXPECT_THAT(subtitle(), HasSubstr("1 cannot be judged"));
  std::string said;
  for (const auto* button : window_.home().findChildren<QPushButton*>())
    said += button->accessibleName().toStdString() + "\n";
  EXPECT_THAT(said, HasSubstr("no reading in its wanted range"));
}

TEST_F(OwnBench, AConverterOnTheBusReadsASensor) {
  window_.show_view(Page::board, 0);
  click("add_thing_0");  // a supply
  type("part_in_hand", QStringLiteral("ads1115"));
  click("fit_part");
  ASSERT_EQ(workbench_.bench().converters.size(), 1u);
  EXPECT_EQ(workbench_.bench().converters.front().part, "converter-16-bit");
  EXPECT_EQ(workbench_.bench().converters.front().name, "ADS1115");
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("is on the bench"));
  type("part_in_hand", QStringLiteral("TMP36"));
  click("fit_part");
  ASSERT_TRUE(workbench_.chosen().chain) << find<QLabel>("bench_said")->text().toStdString();
  // 25 °C is 0.75 V; ±2.048 V over 16 bits is 62.5 µV a step.
  const auto code = evaluate(*workbench_.chosen().chain, {StageName::world, 25})[static_cast<std::size_t>(
      workbench_.chosen().chain->code_stage() - workbench_.chosen().chain->stages.data())];
  ASSERT_TRUE(code);
  EXPECT_EQ(*code, 12000);
  // The controller's own again: the part is forgotten, what it had set stays.
  auto* list = find<QListWidget>("things");
  const auto found = list->findItems(QStringLiteral("ADS1115"), Qt::MatchContains);
  ASSERT_FALSE(found.isEmpty());
  list->scrollToItem(found.front());
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(found.front()).center());
  QTest::qWait(30);
  auto* part = find<QComboBox>("converter_part");
  EXPECT_THAT(part->currentText().toStdString(), HasSubstr("ADS1115"));
  part->setFocus();
  QTest::keyClick(part, Qt::Key_Home);
  QTest::qWait(30);
  EXPECT_TRUE(workbench_.bench().converters.front().part.empty());
  workbench_.document().undo();
  EXPECT_EQ(workbench_.bench().converters.front().part, "converter-16-bit");
  // Its input and rate are chosen on Wire, and handed over with its reading.
  window_.show_view(Page::wire, 0);
  workbench_.choose_stage(StageName::converter);
  QTest::qWait(30);
  for (const auto& [name, key] : {std::pair("field_10", Qt::Key_Down), {"field_11", Qt::Key_End}}) {
    auto* field = window_.wire().findChild<QWidget*>(QLatin1String(name));
    ASSERT_TRUE(field) << name;
    field->setFocus();
    QTest::keyClick(field, key);
    QTest::qWait(30);
  }
  EXPECT_EQ(workbench_.bench().converters.front().address, 0x49);
  EXPECT_EQ(workbench_.bench().converters.front().settings.at("input"), 7);
  window_.show_page(Page::handoff);
  auto& page = window_.handoff();
  ASSERT_TRUE(comes([&] { return page.handoff().has_value(); }));
  auto* reading = window_.findChild<QComboBox*>(QStringLiteral("handoff_reading"));
  EXPECT_TRUE(reading->isEnabled());
  reading->setFocus();
  QTest::keyClick(reading, Qt::Key_Down);
  ASSERT_TRUE(comes([&] { return page.handoff().has_value(); }));
  auto* file = window_.findChild<QComboBox*>(QStringLiteral("handoff_file"));
  file->setCurrentText(QString::fromStdString(workbench_.channel_id()) + QStringLiteral("_read.c"));
  // Once, 3 against ground: OS 1, MUX 111, ±2.048 V 010, once 1 = 1111 0101.
  EXPECT_THAT(window_.findChild<QPlainTextEdit*>(QStringLiteral("handoff_code"))->toPlainText().toStdString(),
              HasSubstr("0x01, 0xF5, 0x83"));
}

TEST_F(OwnBench, AnAlertLineHasPartsThatAreOnTheBusToo) {
  auto* preset = find<QComboBox>("new_bench_preset");
  preset->setCurrentIndex(preset->findText(QStringLiteral("10-bit controller on a 5 V"), Qt::MatchStartsWith));
  click("new_bench");
  window_.show_view(Page::board, 0);
  QTest::qWait(50);
  give_slowly("part_in_hand", QStringLiteral("TMP117"));
  ASSERT_EQ(workbench_.bench().devices.size(), 1u);
  EXPECT_FALSE(window_.findChild<QComboBox*>(QStringLiteral("device_alert"))) << "there is no alert line yet";
  click("add_thing_2");
  const std::string line = workbench_.bench().buses.back().id;
  auto* kind = find<QComboBox>("bus_kind");
  kind->setFocus();
  QTest::keyClick(kind, Qt::Key_End);
  QTest::qWait(30);
  ASSERT_EQ(workbench_.bench().buses.back().kind, BusKind::alert);
  give_slowly("thing_name", QStringLiteral("too warm"));
  auto* drawing = find<BoardDrawing>("board_drawing");
  const Thing part{ThingKind::device, workbench_.bench().devices.front().id};
  QTest::mouseClick(drawing, Qt::LeftButton, {}, drawing->place_of(part).center());
  QTest::qWait(30);
  auto* alert = find<QComboBox>("device_alert");
  EXPECT_EQ(alert->count(), 2) << "the data bus is none";
  EXPECT_EQ(find<QComboBox>("device_bus")->findText(QStringLiteral("too warm")), -1);
  alert->setFocus();
  QTest::keyClick(alert, Qt::Key_Down);
  QTest::qWait(30);
  EXPECT_EQ(workbench_.bench().devices.front().alert, line);
  EXPECT_NE(workbench_.bench().devices.front().bus, line);
  EXPECT_THAT(drawing->accessibleDescription().toStdString(),
              HasSubstr("too warm, 5 V: Temperature (its alert output"));
  drawing->setFocus();
  QTest::keyClick(drawing, Qt::Key_Home);
  for (std::size_t i = 0; i < things_of(workbench_.bench()).size() + 3; ++i) QTest::keyClick(drawing, Qt::Key_Down);
  EXPECT_EQ(find<QLabel>("thing_title")->text(), QStringLiteral("too warm")) << "the last, with the part passed once";
  window_.show_view(Page::board, 3);
  QTest::qWait(50);
  const auto* wires = window_.findChild<WiresView*>()->findChild<QTableWidget*>();
  bool listed = false;
  for (int row = 0; row < wires->rowCount(); ++row)
    for (int at = 0; at < wires->columnCount(); ++at)
      if (const auto* item = wires->item(row, at); item && item->text() == QStringLiteral("alert")) listed = true;
  EXPECT_TRUE(listed);
  while (workbench_.document().can_undo()) workbench_.document().undo();
  workbench_.document().drop_leftover();
}

// A board of one's own is kept by its name and stands among those that a new bench begins with; nothing of this
// specimen and its sensors goes with it, and none is written over.
TEST_F(OwnBench, ABoardIsKeptForNewBenches) {
  window_.open_demonstration();
  workbench_.stop_listening();
  window_.show_view(Page::board, 0);
  QTest::qWait(50);
  auto* name = find<QLineEdit>("board_name");
  click_into(*name);
  EXPECT_EQ(type_slowly(*name, QStringLiteral("Shed box, 12 bits")), QStringLiteral("Shed box, 12 bits"));
  click("keep_board");
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("Kept"));
  click("keep_board");
  EXPECT_THAT(find<QLabel>("bench_said")->text().toStdString(), HasSubstr("kept already"));
  const auto presets = load_board_presets(data_folders("boards"));
  const auto kept = std::ranges::find(presets, "shed-box-12-bits", &BoardPreset::id);
  ASSERT_NE(kept, presets.end());
  EXPECT_EQ(kept->bench.rails.size(), workbench_.bench().rails.size());
  EXPECT_EQ(kept->bench.converters.size(), workbench_.bench().converters.size());
  EXPECT_EQ(kept->bench.board.pins.size(), workbench_.bench().board.pins.size());
  for (const Rail& rail : kept->bench.rails) EXPECT_FALSE(rail.voltage.measured_v) << rail.id;
  EXPECT_TRUE(std::ranges::none_of(kept->bench.board.pins, [&](const Pin& pin) {
    return !pin.uses.empty() && !find_by_id(kept->bench.buses, pin.uses);
  }));
  MainWindow other(theme_, workbench_);
  const auto* box = other.findChild<QComboBox*>(QStringLiteral("new_bench_preset"));
  ASSERT_TRUE(box);
  EXPECT_GE(box->findText(QStringLiteral("Shed box, 12 bits")), 0);
  std::filesystem::remove(data_folders("boards").back() + "/shed-box-12-bits.json");
  workbench_.document().drop_leftover();
}

// An external reference on a bench begun from nothing: nothing is taken before it is wired, selected and measured, and
// not what the meter shows when the internal one is still on.
TEST_F(OwnBench, AnExternalReferenceIsTakenStepByStep) {
  auto* preset = find<QComboBox>("new_bench_preset");
  preset->setCurrentIndex(preset->findText(QStringLiteral("10-bit controller on a 5 V"), Qt::MatchStartsWith));
  click("new_bench");
  window_.show_view(Page::board, 5);
  QTest::qWait(50);
  const auto says = [&](const char* name) { return find<QLabel>(name)->text().toStdString(); };
  auto* take = find<QPushButton>("reference_take");
  EXPECT_FALSE(take->isEnabled());
  give_slowly("reference_nominal", QStringLiteral("4,096 V"));
  give_slowly("reference_tolerance", QStringLiteral("0.1"));
  for (const char* step : {"reference_step_0", "reference_step_1", "reference_step_2"})
    QTest::mouseClick(find<QCheckBox>(step), Qt::LeftButton, {}, QPoint(8, 8));
  EXPECT_FALSE(take->isEnabled()) << "it is not measured";
  EXPECT_THAT(says("reference_missing"), HasSubstr("still to be measured"));
  give_slowly("reference_measured", QStringLiteral("1.12"));
  EXPECT_THAT(says("reference_verdict"), HasSubstr("still selected"));
  EXPECT_FALSE(take->isEnabled());
  auto* chosen = find<QComboBox>("reference_converter");
  for (int i = 0; i < chosen->count(); ++i) {  // also for the converter whose own one it is
    chosen->setCurrentIndex(i);
    emit chosen->activated(i);
    EXPECT_THAT(says("reference_verdict"), HasSubstr("still selected")) << i;
  }
  chosen->setCurrentIndex(0);
  emit chosen->activated(0);
  give_slowly("reference_measured", QStringLiteral("4.091"));
  EXPECT_THAT(says("reference_verdict"), HasSubstr("4.091 V: the part's"));
  QTest::mouseClick(find<QCheckBox>("reference_step_1"), Qt::LeftButton, {}, QPoint(8, 8));
  EXPECT_FALSE(take->isEnabled()) << "it is not selected";
  QTest::mouseClick(find<QCheckBox>("reference_step_1"), Qt::LeftButton, {}, QPoint(8, 8));
  ASSERT_TRUE(take->isEnabled());
  EXPECT_EQ(find<QLineEdit>("reference_nominal")->text(), QStringLiteral("4.096 V"));
  EXPECT_EQ(find<QLineEdit>("reference_measured")->text(), QStringLiteral("4.0910 V"));
  const Converter before = workbench_.bench().converters.front();
  click("reference_take");
  const Converter& converter = workbench_.bench().converters.front();
  EXPECT_TRUE(converter.reference_rail.empty());
  EXPECT_DOUBLE_EQ(converter.reference.nominal_v, 4.096);
  EXPECT_DOUBLE_EQ(converter.reference.tolerance, 0.001);
  EXPECT_DOUBLE_EQ(*converter.reference.measured_v, 4.091);
  workbench_.document().undo();
  EXPECT_EQ(workbench_.bench().converters.front(), before);
  workbench_.document().drop_leftover();
}

// The next bench is asked for its own name, where the cursor stands already.
TEST_F(OwnBench, TheNextOneIsNamedAnew) {
  type("new_bench_name", QStringLiteral("Loft"));
  click("new_bench");
  EXPECT_EQ(workbench_.bench().name, "Loft");
  workbench_.document().drop_leftover();
  meets([&] { QTest::keyClick(&window_, Qt::Key_N, Qt::ControlModifier); }, {[](QWidget& question) {
          for (auto* each : question.findChildren<QPushButton*>())
            if (each->text() == QLatin1String("Leave without saving")) return QTest::mouseClick(each, Qt::LeftButton);
          FAIL() << "it is asked what becomes of the first";
        }});
  auto* name = find<QLineEdit>("new_bench_name");
  EXPECT_EQ(window_.focusWidget(), name);
  QTest::keyClicks(window_.focusWidget(), QStringLiteral("Barn"), {}, 30);
  EXPECT_EQ(name->text(), QStringLiteral("Barn"));
}

// A bench is proposed by its name and gets the suffix of its kind; another file of that name is not replaced unasked.
TEST_F(OwnBench, IsSavedUnderItsNameAndReplacesNoOther) {
  QTemporaryDir folder;
  const QString before = QDir::currentPath();
  ASSERT_TRUE(QDir::setCurrent(folder.path()));
  const QString theirs = folder.filePath(QStringLiteral("Hay-loft.fairgauge.json"));
  QFile other(theirs);
  ASSERT_TRUE(other.open(QIODevice::WriteOnly));
  other.write("somebody else's");
  other.close();
  type("new_bench_name", QStringLiteral("Hay loft"));
  click("new_bench");
  const auto save = [&] { QTest::keyClick(&window_, Qt::Key_S, Qt::ControlModifier); };
  const auto name_field = [](QWidget& dialog) { return dialog.findChild<QLineEdit*>(QStringLiteral("fileNameEdit")); };
  QString proposed;
  meets(save, {[&](QWidget& dialog) {
                 proposed = name_field(dialog)->text();
                 QTest::keyClick(name_field(dialog), Qt::Key_Return);
               },
               [](QWidget& question) {
                 auto* box = qobject_cast<QMessageBox*>(&question);
                 ASSERT_TRUE(box) << "it is asked about";
                 QTest::mouseClick(box->button(QMessageBox::No), Qt::LeftButton);
               },
               [&](QWidget& dialog) {
                 auto* name = name_field(dialog);
                 dialog.activateWindow();
                 QTest::mouseClick(name, Qt::LeftButton);
                 QTest::keyClick(name, Qt::Key_A, Qt::ControlModifier);
                 QTest::keyClicks(name, QStringLiteral("loft 2.0"), {}, 30);
                 QTest::keyClick(name, Qt::Key_Return);
               }});
  EXPECT_EQ(proposed, QStringLiteral("Hay-loft"));
  EXPECT_TRUE(QFile::exists(folder.filePath(QStringLiteral("loft 2.0.fairgauge.json")))) << "its dot is no suffix";
  ASSERT_TRUE(other.open(QIODevice::ReadOnly));
  EXPECT_EQ(other.readAll(), QByteArray("somebody else's"));
  // The list of its wires goes by the bench's name, into the kind that is chosen.
  window_.show_view(Page::board, 3);
  meets([&] { click("save_wires"); }, {[&](QWidget& dialog) {
          proposed = name_field(dialog)->text();
          auto* kinds = dialog.findChild<QComboBox*>(QStringLiteral("fileTypeCombo"));
          ASSERT_TRUE(kinds);
          kinds->setFocus();
          QTest::keyClick(kinds, Qt::Key_Down);
          QTest::keyClick(name_field(dialog), Qt::Key_Return);
        }});
  EXPECT_EQ(proposed, QStringLiteral("Hay-loft-wiring"));
  EXPECT_TRUE(QFile::exists(folder.filePath(QStringLiteral("Hay-loft-wiring.csv"))));
  QDir::setCurrent(before);
}

}  // namespace fair_gauge::app::own_bench_test
