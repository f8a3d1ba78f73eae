// The program as a screen reader has it: every page walked over AT-SPI in a real session, by its keys and actions.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <QCoreApplication>
#include <algorithm>
#include <memory>
#include <set>

#include "session/accessible_session.h"

namespace fair_gauge::session {

// Said by a screen reader as one of its list or table, with that.
bool is_within_another(const Thing& thing) {
  for (const char* role : {"list item", "table cell", "cell", "menu item", "column header", "row header", "tree item"})
    if (thing.role == QLatin1String(role)) return true;
  return false;
}

std::string words_of(const Thing& thing) {
  return (thing.role + QLatin1String(" \"") + thing.name + QLatin1Char('"')).toStdString();
}

class SessionTest : public testing::Test {
 protected:
  void open(const QStringList& words) {
    session_ = std::make_unique<Session>(words);
    if (!session_->lacking().isEmpty()) GTEST_SKIP() << session_->lacking().toStdString();
    ASSERT_TRUE(session_->has_window());
  }
  // Presses a button by its name and waits until it is down and the view has settled.
  void go(const QString& name) {
    const auto button = session_->find(name);
    ASSERT_TRUE(button) << name.toStdString();
    press_down(*button);
  }
  void press_down(const Thing& button) {
    EXPECT_TRUE(session_->press(button)) << words_of(button);
    EXPECT_TRUE(Session::wait_for([&] { return session_->state_of(button.path).has(state::checked); }))
        << words_of(button);
  }
  // Every control that is shown says what it is; a box of choices by the label that belongs to it.
  void expect_names(const std::vector<Thing>& things, const std::string& where) {
    for (const Thing& each : things) {
      if (!each.has(state::focusable) || is_within_another(each)) continue;
      if (each.role == QLatin1String("combo box"))
        EXPECT_FALSE(session_->label_of(each).isEmpty()) << where << ": " << words_of(each);
      else
        EXPECT_FALSE(each.name.trimmed().isEmpty())
            << where << ": " << words_of(each) << " at " << each.path.toStdString();
    }
  }
  // Tab goes round: no stop holds it, and everything that takes keys is a stop, or moved to from one by arrows (what a
  // list holds, one of several tabs). A chart and a label are clicked into at most, to take their text along.
  void expect_a_round_by_tab(const std::string& where) {
    std::vector<Thing> missing;
    for (const Thing& each : session_->things())
      if (each.has(state::focusable) && each.has(state::enabled) && !is_within_another(each) &&
          each.role != QLatin1String("radio button") && each.role != QLatin1String("chart") &&
          each.role != QLatin1String("label"))
        missing.push_back(each);
    constexpr int most = 500;  // what lies below the edge of a list is a stop too
    for (int i = 0; i < most && !missing.empty(); ++i) {
      session_->key(tab_key);
      // The next stop is mostly the next of the tree: asked first.
      const auto stop = std::find_if(missing.begin(), missing.end(), [&](const Thing& each) {
        return session_->state_of(each.path).has(state::focused);
      });
      if (stop == missing.end()) continue;
      std::rotate(missing.begin(), stop, missing.end());
      missing.erase(missing.begin());
    }
    for (const Thing& thing : missing)  // the settings of a stage go when Tab comes to another one
      if (session_->state_of(thing.path).has(state::showing))
        ADD_FAILURE() << where << ": Tab never comes to " << words_of(thing);
  }
  static constexpr int tab_key = 0xff09, return_key = 0xff0d, escape_key = 0xff1b;
  std::unique_ptr<Session> session_;
};

constexpr const char* pages[] = {"Home", "Choose", "Board", "Wire", "Read", "Correct", "Watch", "Hand over", "Logbook"};

TEST_F(SessionTest, EveryControlOfEveryViewHasAName) {
  open({QStringLiteral("--demo")});
  if (HasFatalFailure() || IsSkipped()) return;
  std::set<QString> page_names;
  for (const char* page : pages) page_names.insert(QString::fromUtf8(page));
  std::size_t views = 0;
  for (const QString& page : page_names) {
    go(page);
    if (HasFatalFailure()) return;
    const std::vector<Thing> things = session_->things();
    expect_names(things, page.toStdString());
    for (const Thing& view : things) {
      if (view.role != QLatin1String("radio button") || page_names.contains(view.name)) continue;
      press_down(view);
      expect_names(session_->things(), (page + QLatin1String(", ") + view.name).toStdString());
      ++views;
    }
  }
  EXPECT_GT(views, 25u);
}

TEST_F(SessionTest, TabGoesRoundEveryPage) {
  open({QStringLiteral("--demo")});
  if (HasFatalFailure() || IsSkipped()) return;
  for (const char* page : pages) {
    go(QString::fromUtf8(page));
    if (HasFatalFailure()) return;
    expect_a_round_by_tab(page);
  }
}

// The chain by keys alone, its answer as it is told: the numbers as in ATypedTemperatureBecomesVoltsAndCounts.
TEST_F(SessionTest, ATemperatureTypedIsToldInVoltsAndCounts) {
  open({QStringLiteral("--demo")});
  if (HasFatalFailure() || IsSkipped()) return;
  go(QStringLiteral("Wire"));
  if (HasFatalFailure()) return;
  const auto channel = session_->find_beginning(QStringLiteral("Channel Substrate core"));
  ASSERT_TRUE(channel);
  EXPECT_TRUE(session_->press(*channel));
  EXPECT_TRUE(Session::wait_for([&] { return session_->state_of(channel->path).has(state::selected); }));
  const auto world = session_->find_beginning(QStringLiteral("World in"));
  ASSERT_TRUE(world);
  EXPECT_TRUE(session_->focus(*world));
  session_->type(QStringLiteral("11,4"));
  session_->key(return_key);
  const auto counts = session_->find_beginning(QStringLiteral("Converter in counts"));
  ASSERT_TRUE(counts);
  EXPECT_TRUE(Session::wait_for([&] { return session_->text_of(*counts) == QLatin1String("2845"); }))
      << session_->text_of(*counts).toStdString();
  // The mouse of the screen, its events as they come to a person's window: what is typed takes the number's place, the
  // first time over a live one and again after Enter. 20.2 °C before the correction of −0.2 °C: 12 421 Ω of 20 621,
  // 2467 counts.
  session_->key(escape_key);
  session_->key(tab_key);
  for (const char* typed : {"40", "20"}) {
    EXPECT_TRUE(session_->click(*world));
    EXPECT_TRUE(Session::wait_for([&] { return session_->state_of(world->path).has(state::focused); }));
    session_->type(QString::fromLatin1(typed));
    session_->key(return_key);
    EXPECT_TRUE(Session::wait_for([&] {
      return session_->text_of(*world) == QLatin1String(typed) + QLatin1String(".00");
    })) << session_->text_of(*world).toStdString();
  }
  EXPECT_TRUE(Session::wait_for([&] { return session_->text_of(*counts) == QLatin1String("2467"); }))
      << session_->text_of(*counts).toStdString();
}

}  // namespace fair_gauge::session

int main(int count, char** words) {
  testing::InitGoogleMock(&count, words);
  QCoreApplication application(count, words);
  return RUN_ALL_TESTS();
}
