// The Choose page and the bus half of Wire, driven in the real window.
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QTemporaryDir>
#include <fstream>

#include "board/board_page.h"
#include "board/bus_view.h"
#include "board/wires_view.h"
#include "choose/choose_page.h"
#include "choose/compare_view.h"
#include "choose/shortlist.h"
#include "home/home_page.h"
#include "shell/walk.h"
#include "window.h"

namespace fair_gauge::app::choose_test {

using testing::HasSubstr;

class ChooseTest : public WindowTest {
 protected:
  ChoosePage& open() {
    window_.show_page(Page::choose);
    auto* page = &window_.choose();
    page->set_need({.from = 5, .to = 35, .allowed = 0.5});
    settle(*page);
    return *page;
  }
  void settle(ChoosePage& page) {
    QTest::qWait(10);
    EXPECT_TRUE(comes([&] { return !page.is_working(); }));
  }
};

TEST_F(ChooseTest, RanksTheCatalogueAndSaysWhy) {
  ChoosePage& page = open();
  auto rows = page.findChildren<CandidateRow*>();
  ASSERT_GT(rows.size(), 5);
  EXPECT_EQ(rows.front()->part(), "bus-temperature-16-finest");
  QTest::mouseClick(rows[3], Qt::LeftButton, {}, QPoint(60, 12));
  EXPECT_EQ(text("chosen_name"), unbroken(text_of(workbench_.catalogue().find(rows[3]->part())->name)).toStdString());
  EXPECT_THAT(text("chosen_detail"), HasSubstr("worst ±"));
  EXPECT_THAT(text("trade"), HasSubstr("Against"));
  // Those ruled out are there when asked for, each with its reason.
  click("ruled_out");
  bool told = false;
  for (auto* row : page.findChildren<CandidateRow*>())
    told = told || row->accessibleName().contains(QStringLiteral("ruled out: "));
  EXPECT_TRUE(told);
}

// What nobody has picked is the best of what is needed now; what somebody has stays, and says why it will not do.
TEST_F(ChooseTest, ShowsTheBestUntilOneIsPicked) {
  ChoosePage& page = open();
  const auto best = [&] {
    const auto id = page.findChildren<CandidateRow*>().front()->part();
    return unbroken(text_of(workbench_.catalogue().find(id)->name)).toStdString();
  };
  EXPECT_EQ(text("chosen_name"), best());
  give("need_to", QStringLiteral("300"));
  give("need_allowed", QStringLiteral("3"));
  settle(page);
  EXPECT_EQ(text("chosen_name"), best());
  EXPECT_TRUE(window_.findChild<QPushButton*>(QStringLiteral("make_channel"))->isEnabled());
  QTest::mouseClick(page.findChildren<CandidateRow*>()[1], Qt::LeftButton, {}, QPoint(60, 12));
  const std::string picked = text("chosen_name");
  EXPECT_NE(picked, best());
  give("need_to", QStringLiteral("900"));
  settle(page);
  EXPECT_EQ(text("chosen_name"), picked);
  // One reads so far and would keep it, by a figure that its sheet states for room temperature.
  give("need_to", QStringLiteral("300"));
  give("need_allowed", QStringLiteral("1"));
  settle(page);
  EXPECT_EQ(text("choose_count"), "No sheet promises it for the whole range");
}

TEST_F(ChooseTest, FollowsTheNeedAsItIsTyped) {
  ChoosePage& page = open();
  give("need_allowed", QStringLiteral("0,15"));
  settle(page);
  EXPECT_DOUBLE_EQ(page.need().allowed, 0.15);
  int within = 0;
  for (auto* row : page.findChildren<CandidateRow*>())
    within += !row->accessibleName().contains(QStringLiteral("ruled out"));
  EXPECT_GT(within, 0);
  give("need_from", QStringLiteral("40 C"));  // above the other end
  settle(page);
  bool said = false;
  for (auto* label : page.findChildren<QLabel*>())
    said = said || label->text().contains(QStringLiteral("ends before it begins"));
  EXPECT_TRUE(said);
  auto* quantity = find<QComboBox>("need_quantity");
  quantity->setCurrentIndex(2);
  emit quantity->activated(2);
  settle(page);
  EXPECT_EQ(page.need().quantity, Quantity::pressure);
  EXPECT_TRUE(find<QComboBox>("need_kind")->isEnabled());
}

TEST_F(ChooseTest, ACandidateBecomesAChannelAndIsUndone) {
  ChoosePage& page = open();
  const Bench before = workbench_.bench();
  page.choose("ntc-10k-3950");
  click("make_channel");
  ASSERT_EQ(workbench_.bench().channels.size(), before.channels.size() + 1);
  EXPECT_EQ(workbench_.channel_id(), workbench_.bench().channels.back().id);
  EXPECT_TRUE(workbench_.chosen().chain);
  EXPECT_TRUE(window_.wire().isVisible());
  workbench_.document().undo();
  EXPECT_EQ(workbench_.bench(), before);
}

TEST_F(ChooseTest, ComparesUpToFourAlsoSimulated) {
  ChoosePage& page = open();
  QTest::qWait(50);  // the rows find their places
  int marked = 0;
  for (auto* row : page.findChildren<CandidateRow*>()) {
    if (!row->compared().isEnabled()) continue;
    if (!row->compared().isChecked()) QTest::mouseClick(&row->compared(), Qt::LeftButton, {}, QPoint(8, 8));
    marked += row->compared().isChecked();
  }
  EXPECT_EQ(marked, 4);
  auto* compare = page.findChild<CompareView*>();
  compare->show_view(1);
  QTest::qWait(300);
  EXPECT_FALSE(compare->grab().isNull());
}

TEST_F(ChooseTest, KeepsWhatTheUserOwns) {
  ChoosePage& page = open();
  page.choose("bus-temperature-12");
  give("own_price", QStringLiteral("2,40"));
  settle(page);
  give("own_drawer", QStringLiteral("3"));
  settle(page);
  const auto& own = workbench_.bench().own_parts;
  const auto found = std::ranges::find(own, "bus-temperature-12", &OwnPart::part);
  ASSERT_NE(found, own.end());
  EXPECT_DOUBLE_EQ(found->price, 2.4);
  EXPECT_EQ(found->in_drawer, 3);
}

// A seller's clone: what its buyer found counts instead of the sheet, on this bench, until it is taken back.
TEST_F(ChooseTest, OwnFiguresCountInsteadOfTheSheets) {
  workbench_.listen_to_simulation();  // numbers come while it is typed
  ChoosePage& page = open();
  page.choose("bus-temperature-12");
  const auto worst = [&] { return text("chosen_detail").substr(0, 200); };
  EXPECT_FALSE(find<QLineEdit>("figure_accuracy")->isVisible());
  click("own_figures");
  const std::string by_sheet = worst();
  EXPECT_EQ(find<QLineEdit>("figure_accuracy")->text(), QStringLiteral("as its sheet says"));
  give_slowly("figure_accuracy", QStringLiteral("2"));
  settle(page);
  give_slowly("figure_note", QStringLiteral("three in ice"));
  settle(page);
  const auto own = [&] {
    const auto& parts = workbench_.bench().own_parts;
    const auto found = std::ranges::find(parts, "bus-temperature-12", &OwnPart::part);
    return found == parts.end() ? OwnPart() : *found;
  };
  ASSERT_EQ(own().figures.size(), 1u);
  EXPECT_EQ(own().figures[0].accuracy, 2);
  EXPECT_TRUE(comes(
      [&] { return text("chosen_detail").find("your own figures count here: three in ice") != std::string::npos; }));
  EXPECT_NE(worst(), by_sheet);
  const Part& part = *workbench_.catalogue().find("bus-temperature-12");
  EXPECT_EQ(part.quantities[0].accuracy[0].value, 2);
  give_slowly("figure_to", QStringLiteral("60"));
  settle(page);
  EXPECT_EQ(own().figures[0].to, 60);
  EXPECT_EQ(own().figures[0].from, -55) << "the other end stays as the sheet has it";
  give_slowly("figure_to", QStringLiteral("-70"));
  EXPECT_EQ(own().figures[0].to, 60) << "below where it begins";
  EXPECT_THAT(text("figures_said"), HasSubstr("end before it begins"));
  click("figures_back");
  settle(page);
  EXPECT_FALSE(own().has_figures());
  EXPECT_NE(workbench_.catalogue().find("bus-temperature-12")->quantities[0].accuracy[0].grade, own_grade);
  workbench_.document().undo();
  EXPECT_TRUE(own().has_figures());
}

// ---- the bus ----

TEST_F(ChooseTest, TheBusIsJudgedAndItsPullUpsChanged) {
  window_.show_view(Page::board, 1);
  EXPECT_THAT(text("bus_verdict"), HasSubstr("3.33 kΩ together"));
  auto* speed = find<QComboBox>("bus_speed");
  speed->setCurrentIndex(1);
  emit speed->activated(1);  // 400 kHz with 112 pF
  EXPECT_THAT(text("bus_verdict"), HasSubstr("see what is wrong"));
  give("pull_up_0", QStringLiteral("2k2"));
  EXPECT_DOUBLE_EQ(workbench_.bench().buses[0].pull_ups[0].ohm, 2200);
  EXPECT_THAT(text("bus_verdict"), HasSubstr("good"));
  click("add_pull_up");
  EXPECT_EQ(workbench_.bench().buses[0].pull_ups.size(), 4u);
  for (int i = 0; i < 4; ++i) {
    click("pull_up_off_0");
    QTest::qWait(1);
  }
  EXPECT_THAT(text("bus_verdict"), HasSubstr("Nothing pulls it up: put in"));
  const std::string named = text("bus_verdict");
  click("add_pull_up");
  EXPECT_EQ(workbench_.bench().buses[0].pull_ups.at(0).ohm, 1800);
  EXPECT_THAT(named, HasSubstr("put in 1.8 kΩ"));
  EXPECT_THAT(text("bus_verdict"), HasSubstr("good"));
}

TEST_F(ChooseTest, ABusIsAddedFromTheListAndUndone) {
  window_.show_view(Page::board, 1);
  auto* list = find<QComboBox>("bus_choice");
  const auto before = workbench_.bench().buses.size();
  const auto add = [&](int kind) { emit list->activated(static_cast<int>(workbench_.bench().buses.size()) + kind); };
  add(0);
  add(0);
  ASSERT_EQ(workbench_.bench().buses.size(), before + 2);
  EXPECT_NE(workbench_.bench().buses[before].id, workbench_.bench().buses[before + 1].id);
  EXPECT_EQ(list->currentIndex(), static_cast<int>(before) + 1);
  EXPECT_THAT(text("bus_verdict"), HasSubstr("Nothing hangs on it yet; it will need"));
  for (int kind = 1; kind < 4; ++kind) {
    add(kind);
    EXPECT_FALSE(text("bus_verdict").empty());
  }
  workbench_.document().edit(QStringLiteral("test"), [](Bench& bench) { bench.buses.clear(); });
  EXPECT_THAT(text("bus_verdict"), HasSubstr("no bus yet"));
  EXPECT_EQ(list->currentIndex(), -1);
  add(1);
  EXPECT_EQ(workbench_.bench().buses.at(0).kind, BusKind::one_wire);
  while (workbench_.document().can_undo()) workbench_.document().undo();
  EXPECT_EQ(workbench_.bench().buses.size(), before);
}

TEST_F(ChooseTest, AScanIsHeldAgainstThePlanAndConflictsAreResolved) {
  window_.show_page(Page::board);
  window_.board().show_bus("two-wire");
  auto* view = window_.findChild<BusView*>();
  const auto words = [&] {
    QTest::qWait(1);
    std::string all;
    for (auto* label : view->findChildren<QLabel*>()) all += label->text().toStdString() + "\n";
    return all;
  };
  find<QPlainTextEdit>("bus_scan")->setPlainText(QStringLiteral("0x29 0x77"));
  EXPECT_THAT(words(), HasSubstr("but 0x77 does"));
  find<QPlainTextEdit>("bus_scan")->setPlainText(QStringLiteral("nothing"));
  EXPECT_THAT(words(), HasSubstr("no address was found"));
  workbench_.document().edit(QStringLiteral("test"), [](Bench& bench) {
    Device twin = *find_by_id(bench.devices, "air_sensor");
    twin.id = "second_air";
    bench.devices.push_back(twin);
  });
  EXPECT_THAT(words(), HasSubstr("answers together with another"));
  click("use_plan");
  EXPECT_NE(find_by_id(workbench_.bench().devices, "second_air")->address,
            find_by_id(workbench_.bench().devices, "air_sensor")->address);
  EXPECT_THAT(words(), testing::Not(HasSubstr("answers together")));
  view->choose_bus("rack wire");
  find<QPlainTextEdit>("bus_scan")->setPlainText(QStringLiteral("28 E2 31 0C 00 00 00 02"));
  EXPECT_THAT(words(), HasSubstr("Rack, top  answers as planned"));
}

TEST_F(ChooseTest, ALineFedByItsDataWireIsSaidAndAWarmedProbeFound) {
  window_.show_page(Page::board);
  window_.board().show_bus("rack wire");
  auto* view = window_.findChild<BusView*>();
  auto* feed = find<QComboBox>("bus_feed");
  feed->setCurrentIndex(1);
  emit feed->activated(1);
  EXPECT_TRUE(workbench_.bench().buses[1].parasite);
  std::string all;
  for (auto* label : view->findChildren<QLabel*>()) all += label->text().toStdString();
  EXPECT_THAT(all, HasSubstr("85 °C"));
  feed->setCurrentIndex(0);
  emit feed->activated(0);
  workbench_.listen_to_simulation();
  workbench_.stop_listening();
  click("warm_one");
  EXPECT_THAT(text("warm_words"), HasSubstr("Hold one"));
  // Three degrees more in a hand: 48 sixteenths.
  workbench_.choose_channel("rack_middle");
  const Chain chain = *workbench_.chosen().chain;  // what is chosen goes with the next value
  workbench_.hold({StageName::raw, *workbench_.chosen().raw + 48});
  ASSERT_TRUE(chain.stage(StageName::raw));
  EXPECT_THAT(text("warm_words"), HasSubstr("Rack, middle rises"));
}

TEST_F(ChooseTest, TheCycleFollowsThePowerPlan) {
  window_.show_view(Page::board, 2);
  EXPECT_THAT(text("cycle_summary"), HasSubstr("One cycle takes 789 ms"));
  give("power_battery", QStringLiteral("0"));
  EXPECT_EQ(workbench_.bench().power.battery_ah, 0);
  EXPECT_THAT(text("cycle_summary"), testing::Not(HasSubstr("battery")));
  give("power_period", QStringLiteral("10 min"));
  EXPECT_DOUBLE_EQ(workbench_.bench().power.period_s, 600);
}

TEST_F(ChooseTest, TheWiresTakeColoursAndAreSaved) {
  window_.show_view(Page::board, 3);
  auto* table = find<QTableWidget>("wires");
  ASSERT_GT(table->rowCount(), 20);
  table->item(0, 5)->setText(QStringLiteral("violet"));
  EXPECT_EQ(find_by_id(workbench_.bench().devices, "block_thermistor")->wires.at("signal"), "violet");
  QTemporaryDir folder;
  auto* view = window_.findChild<WiresView*>();
  for (const char* ending : {"pdf", "csv", "html"}) {
    const QString path = folder.filePath(QStringLiteral("wires.") + QLatin1String(ending));
    EXPECT_EQ(view->write_to(path), QString());
    std::ifstream file(path.toStdString(), std::ios::binary);
    const std::string content{std::istreambuf_iterator<char>(file), {}};
    EXPECT_THAT(content, HasSubstr(std::string(ending) == "pdf" ? "%PDF-" : "violet"));
  }
  EXPECT_NE(view->write_to(QStringLiteral("/proc/nowhere/wires.pdf")), QString());
}

// A cell is opened, typed into at a person's pace, and left by Return.
void type_into(QTableWidget* table, int line, int place, const QString& text) {
  table->setFocus();
  table->setCurrentCell(line, place);
  table->editItem(table->item(line, place));
  QTest::qWait(50);
  auto* editor = table->findChild<QLineEdit*>();
  ASSERT_TRUE(editor) << "the cell cannot be typed into";
  QTest::keyClicks(editor, text, Qt::NoModifier, 40);
  QTest::keyClick(editor, Qt::Key_Return);
  QTest::qWait(50);
}

TEST_F(ChooseTest, PinsAreTypedIntoTheWiresAndATakenOneIsRefused) {
  window_.show_view(Page::board, 3);
  auto* table = find<QTableWidget>("wires");
  const auto line_of = [&](const QString& from) {
    for (int r = 0; r < table->rowCount(); ++r)
      if (table->item(r, 3)->text().startsWith(from) && table->item(r, 1)->text() == QStringLiteral("signal")) return r;
    return -1;
  };
  ASSERT_EQ(table->item(0, 2)->text(), QStringLiteral("A1"));
  type_into(table, 0, 2, QStringLiteral("A5"));
  EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("A5"));
  EXPECT_EQ(table->item(1, 2)->flags() & Qt::ItemIsEditable, Qt::NoItemFlags) << "ground has no pin of its own";
  type_into(table, 0, 2, QStringLiteral("SDA"));
  EXPECT_THAT(text("wires_echo"), HasSubstr("at pin SDA ends"));
  EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("A5")) << "it stays where it was";
  workbench_.document().undo();
  EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("A1"));
  EXPECT_GE(line_of(QStringLiteral("12-bit converter of the board, input")), 0);
}

TEST_F(ChooseTest, TheCutListIsTypedAndGivesTheBusItsLength) {
  window_.show_view(Page::board, 4);
  auto* runs = find<QTableWidget>("cut_runs");
  ASSERT_EQ(runs->rowCount(), 5);
  EXPECT_THAT(text("cut_summary"), HasSubstr("6.00 m of flat ribbon with 3 conductors in 3 pieces"));
  type_into(runs, 0, 1, QStringLiteral("2,8 m"));
  EXPECT_DOUBLE_EQ(workbench_.bench().cables[0].metres, 2.8);
  EXPECT_THAT(text("cut_summary"), HasSubstr("7.00 m of flat ribbon"));
  type_into(runs, 0, 1, QStringLiteral("a lot"));
  EXPECT_THAT(text("cut_echo"), HasSubstr("a lot"));
  EXPECT_EQ(runs->item(0, 1)->text(), QStringLiteral("2.80 m"));
  type_into(runs, 0, 4, QStringLiteral("0"));
  EXPECT_THAT(text("cut_echo"), HasSubstr("1 to 100"));
  // A new one, of the air's bus: its two metres are the bus's.
  QTest::mouseClick(find<QPushButton>("add_run"), Qt::LeftButton);
  ASSERT_EQ(runs->rowCount(), 6);
  type_into(runs, 5, 0, QStringLiteral("board to room"));
  type_into(runs, 5, 1, QStringLiteral("2"));
  type_into(runs, 5, 4, QStringLiteral("4"));
  auto* bus = qobject_cast<QComboBox*>(runs->cellWidget(5, 5));
  ASSERT_TRUE(bus);
  bus->setCurrentIndex(1);
  emit bus->activated(1);
  QTest::qWait(50);
  EXPECT_EQ(workbench_.bench().cables[5].bus, workbench_.bench().buses[0].id);
  window_.show_view(Page::board, 1);
  EXPECT_EQ(find<QLineEdit>("bus_cable")->text(), QStringLiteral("2.1 m"));
  EXPECT_FALSE(find<QLineEdit>("bus_cable")->isEnabled());
  window_.show_view(Page::board, 4);
  runs->setCurrentCell(5, 0);
  QTest::mouseClick(find<QPushButton>("take_run"), Qt::LeftButton);
  EXPECT_EQ(runs->rowCount(), 5);
  workbench_.document().undo();
  EXPECT_EQ(runs->rowCount(), 6);
}

TEST_F(ChooseTest, WhatHangsBesideTheSensorsGetsItsResistor) {
  workbench_.document().begin({});  // an empty bench
  window_.show_view(Page::board, 4);
  auto* things = find<QTableWidget>("accessories");
  EXPECT_EQ(things->rowCount(), 0);
  EXPECT_FALSE(find<QPushButton>("take_accessory")->isEnabled());
  QTest::mouseClick(find<QPushButton>("add_accessory"), Qt::LeftButton);
  ASSERT_EQ(things->rowCount(), 1);
  type_into(things, 0, 2, QStringLiteral("D5"));
  type_into(things, 0, 4, QStringLiteral("2 mA"));
  type_into(things, 0, 5, QStringLiteral("1,9 V"));
  EXPECT_EQ(things->item(0, 6)->text(), QString()) << "no supply yet";
  workbench_.document().edit(QStringLiteral("Supply"), [](Bench& bench) {
    bench.rails.push_back({.id = "3v3", .name = "3.3 V rail", .voltage = {.nominal_v = 3.3}});
  });
  auto* rail = qobject_cast<QComboBox*>(things->cellWidget(0, 3));
  rail->setCurrentIndex(1);
  emit rail->activated(1);
  QTest::qWait(50);
  EXPECT_THAT(things->item(0, 6)->text().toStdString(), HasSubstr("750"));
  EXPECT_EQ(workbench_.bench().accessories[0].pins, "D5");
  workbench_.document().drop_leftover();
}

// ---- home and the walk ----

TEST_F(ChooseTest, HomeTellsWhatToDoNextAndLeadsThere) {
  window_.show_page(Page::home);
  auto* home = &window_.home();
  QPushButton* fridge = nullptr;
  for (auto* button : home->findChildren<QPushButton*>())
    if (button->text().startsWith(QStringLiteral("Spawn fridge: "))) fridge = button;
  ASSERT_TRUE(fridge);
  QTest::mouseClick(fridge, Qt::LeftButton);
  EXPECT_EQ(workbench_.channel_id(), "spawn_fridge");
  window_.show_page(Page::home);
  QPushButton* bus = nullptr;
  for (auto* button : home->findChildren<QPushButton*>())
    if (button->text().startsWith(QStringLiteral("One wire along"))) bus = button;
  ASSERT_TRUE(bus);
  QTest::mouseClick(bus, Qt::LeftButton);
  EXPECT_EQ(find<QComboBox>("bus_choice")->currentText(), QStringLiteral("One wire along the rack"));
}

TEST_F(ChooseTest, TheWalkGoesThroughThePagesAndIsLeftAtAnyTime) {
  window_.walk();
  auto* words = find<QLabel>("walk_words");
  auto* next = find<QPushButton>("walk_next");
  QStringList said;
  for (int i = 0; i < 9; ++i) {
    ASSERT_TRUE(words->isVisible());
    said << words->text();
    QTest::mouseClick(next, Qt::LeftButton);
  }
  said.removeDuplicates();
  EXPECT_EQ(said.size(), 9);
  EXPECT_FALSE(words->isVisible());
  EXPECT_TRUE(Walk::was_walked());
  window_.walk();
  click("walk_close");
  EXPECT_FALSE(words->isVisible());
}

TEST_F(ChooseTest, TwoOfAKindBesideOneAnotherAreToldApart) {
  window_.show_page(Page::choose);
  Need need;
  need.quantity = Quantity::temperature;
  need.from = 5, need.to = 35, need.allowed = 2;
  std::vector<Candidate> two;
  for (const char* id : {"ntc-beta", "ntc-10k-3950"})
    for (const Candidate& candidate : shortlist(workbench_.bench(), workbench_.catalogue(), need))
      if (candidate.part->id == id) two.push_back(candidate);
  ASSERT_EQ(two.size(), 2u);
  RangeBars bars(theme_, workbench_.style());
  bars.show_candidates(need, two);
  const QStringList lines = bars.toolTip().split(QLatin1Char('\n'));
  ASSERT_EQ(lines.size(), 2);
  EXPECT_NE(lines[0].section(QStringLiteral(" from "), 0, 0), lines[1].section(QStringLiteral(" from "), 0, 0));
}

TEST_F(ChooseTest, SuppliesThatThereAreStandInTheirBox) {
  window_.show_page(Page::choose);
  EXPECT_EQ(find<QComboBox>("need_rail")->currentIndex(), 0);
  EXPECT_EQ(find<QComboBox>("need_converter")->currentIndex(), 0);
  workbench_.document().begin({});
  EXPECT_EQ(find<QComboBox>("need_rail")->placeholderText(), QStringLiteral("none yet"));
}

// On an empty bench there is nothing to show: it says what it is, and opens the demonstration only when it is told to.
TEST_F(ChooseTest, TheWalkBeginsOnAnEmptyBenchWithTheDemonstration) {
  workbench_.document().begin({});
  window_.show_page(Page::home);
  window_.walk();
  EXPECT_THAT(text("walk_words"), HasSubstr("demonstration"));
  EXPECT_TRUE(workbench_.bench().channels.empty());
  click("walk_next");
  EXPECT_EQ(workbench_.bench().name, "Fernhollow");
  EXPECT_THAT(text("walk_words"), HasSubstr("Home"));
  EXPECT_TRUE(find<QPushButton>("page_home")->isChecked());
  click("walk_close");
}

}  // namespace fair_gauge::app::choose_test
