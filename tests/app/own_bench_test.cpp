// From the first start to a bench of one's own, at a person's pace.
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QTemporaryDir>

#include "choose/choose_page.h"
#include "home/home_page.h"
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
  click("first_sensor");
  auto* page = &window_.choose();
  page->set_need({.from = 5, .to = 35, .allowed = 2});
  QTest::qWait(10);
  ASSERT_TRUE(QTest::qWaitFor([&] { return !page->is_working(); }, 20000));
  click("make_channel");
  ASSERT_EQ(bench.channels.size(), 1u);
  EXPECT_TRUE(workbench_.chosen().chain) << "it can be read";
  // What was begun is kept aside like any unsaved work.
  workbench_.document().write_autosave();
  workbench_.document().finish_autosave();
  EXPECT_FALSE(workbench_.document().homeless_leftovers().empty() && workbench_.document().is_saved());
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

}  // namespace fair_gauge::app::own_bench_test
