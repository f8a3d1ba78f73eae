// The real window on the demonstration bench, driven as a person drives it.
#pragma once

#include <gmock/gmock.h>

#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTableWidget>
#include <QTest>
#include <cmath>

#include "../built.h"
#include "choose/choose_page.h"
#include "correct/correct_page.h"
#include "home/home_page.h"
#include "logbook/logbook_page.h"
#include "read/read_page.h"
#include "shell/main_window.h"
#include "wire/wire_page.h"

namespace fair_gauge::app {

/// As the program has it before the window is made.
struct LightTheme : Theme {
  LightTheme() {
    load_faces();
    set_tone(Tone::light);
  }
};

/// What ships, read once for all tests.
inline std::shared_ptr<const Catalogue> shared_catalogue() {
  static const auto catalogue = std::make_shared<const Catalogue>(load_catalogue());
  return catalogue;
}

/// Waits for what the window does beside itself. So long that only what never comes fails, on a busy machine and under
/// the sanitizers too. \returns whether it came
template <class Condition>
bool comes(Condition condition) {
  return QTest::qWaitFor(condition, 120'000);
}

/// Shows every view of every page and calls `look` with its name.
template <class Look>
void for_every_view(MainWindow& window, Look look) {
  for (const auto& [page, name, views] : MainWindow::page_names())
    for (int view = 0; view < std::max(1, static_cast<int>(views.size())); ++view) {
      window.show_view(page, view);
      QTest::qWait(20);
      look((views.isEmpty() ? name : name + QLatin1Char(' ') + views[view]).toStdString());
    }
}

/// The innermost row of a widget that does not fit into a width, each thing in it with its least width.
inline std::string widest_row(const QWidget& widget, int width);
inline std::string widest_row(const QLayout& layout, int width) {
  std::string row;
  for (int i = 0; i < layout.count(); ++i) {
    QLayoutItem& item = *layout.itemAt(i);
    const int least = item.minimumSize().width();
    if (least > width && item.layout()) return widest_row(*item.layout(), width);
    if (least > width && item.widget()) return widest_row(*item.widget(), width);
    if (const QWidget* each = item.widget())
      row += each->metaObject()->className() + std::string(" ") +
             (each->objectName().isEmpty() ? each->accessibleName() : each->objectName()).toStdString() + " " +
             std::to_string(least) + ", ";
    else if (least > 0)
      row += std::to_string(least) + ", ";
  }
  return row;
}
inline std::string widest_row(const QWidget& widget, int width) {
  return widget.layout() ? widest_row(*widget.layout(), width)
                         : widget.metaObject()->className() + std::string(" ") + widget.objectName().toStdString();
}

/// What is wider than the box it scrolls in, once its bar takes room: a notice above the page is enough for that.
inline std::string cut_by_a_scroll_bar(const MainWindow& window) {
  std::string cut;
  for (const auto* box : window.findChildren<QScrollArea*>()) {
    if (!box->isVisible() || !box->widget() || !box->widgetResizable()) continue;
    const QSize insisted = box->minimumSizeHint();
    if (insisted.height() >= box->widget()->minimumSizeHint().height()) continue;  // no bar ever comes
    const int needed = box->widget()->minimumSizeHint().width();
    const int room = box->width() - box->verticalScrollBar()->sizeHint().width();
    if (needed <= room) continue;
    cut += std::to_string(needed) + " in " + std::to_string(room) + ": " + widest_row(*box->widget(), room) + "; ";
  }
  return cut;
}

/// Heads of columns that end in dots.
inline std::string cut_heads(const MainWindow& window) {
  std::string cut;
  for (const auto* table : window.findChildren<QTableWidget*>())
    for (int c = 0; table->isVisible() && c < table->columnCount(); ++c) {
      const auto* head = table->horizontalHeaderItem(c);
      if (!head || table->isColumnHidden(c)) continue;
      const int wanted = table->horizontalHeader()->fontMetrics().horizontalAdvance(head->text());
      if (wanted > table->columnWidth(c))
        cut += table->objectName().toStdString() + " " + head->text().toStdString() + "; ";
    }
  return cut;
}

/// Types a quarter of a second a key, a person's pace. \returns what stands in the field then
inline QString type_slowly(QLineEdit& field, const QString& text) {
  for (const QChar key : text) {
    QTest::qWait(250);
    QTest::keyClick(&field, static_cast<char>(key.toLatin1()));
  }
  QTest::qWait(250);
  return field.text();
}

/// Contrast ratio of two colours. Source: WCAG 2.1, relative luminance.
inline double contrast(const QColor& a, const QColor& b) {
  const auto luminance = [](const QColor& colour) {
    const auto part = [](double value) {
      return value <= 0.03928 ? value / 12.92 : std::pow((value + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * part(colour.redF()) + 0.7152 * part(colour.greenF()) + 0.0722 * part(colour.blueF());
  };
  const double one = luminance(a), other = luminance(b);
  return (std::max(one, other) + 0.05) / (std::min(one, other) + 0.05);
}

/// Clicks into a field once it is there to be clicked into; where it has the keys already, takes all of it by them.
inline void click_into(QLineEdit& field) {
  EXPECT_TRUE(comes([&] { return field.isVisible(); }));
  if (field.hasFocus())
    QTest::keyClick(&field, Qt::Key_A, Qt::ControlModifier);
  else
    QTest::mouseClick(&field, Qt::LeftButton);
}

/// Types over what a field holds, at a person's pace, and settles it.
inline void give_slowly_to(QLineEdit& field, const QString& words) {
  click_into(field);
  EXPECT_EQ(type_slowly(field, words), words) << "live readings leave a field alone that a person types into";
  QTest::keyClick(&field, Qt::Key_Return);
  QTest::qWait(100);
}

/// What a person does to a window, whatever stands in it.
class AnyWindow : public testing::Test {
 protected:
  void show() {
    window_.show();
    EXPECT_TRUE(QTest::qWaitForWindowExposed(&window_));
  }
  template <class T>
  T* find(const char* name) {
    return window_.findChild<T*>(QLatin1String(name));
  }
  std::string text(const char* name) { return find<QLabel>(name)->text().toStdString(); }
  /// All words that can be seen, of labels and of fields.
  std::string seen() {
    std::string words;
    for (const QLabel* label : window_.findChildren<QLabel*>())
      if (label->isVisible()) words += label->text().toStdString() + "\n";
    for (const QLineEdit* line : window_.findChildren<QLineEdit*>())
      if (line->isVisible()) words += line->text().toStdString() + "\n";
    return words;
  }
  QString shown(StageName stage) { return window_.strip().card(stage)->field().text(); }
  /// Types into a field by its name and settles it, at a person's pace, while live readings go on.
  void give_slowly(const char* name, const QString& words) { give_slowly_to(*find<QLineEdit>(name), words); }
  /// The editor of the n-th row of the chosen stage.
  QWidget* setting(int row) { return window_.wire().findChild<QWidget*>(QStringLiteral("field_%1").arg(row)); }

  LightTheme theme_;
  Workbench workbench_{shared_catalogue()};
  MainWindow window_{theme_, workbench_};
};

/// On the demonstration bench.
class WindowTest : public AnyWindow {
 protected:
  WindowTest() {
    window_.open_demonstration();
    workbench_.stop_listening();  // the numbers stand still
    show();
  }

  /// Types a text over a stage's value.
  void type(StageName stage, const QString& text) {
    QuantityField& field = window_.strip().card(stage)->field();
    click_into(field);
    QTest::keyClicks(&field, text);
  }
  /// Types into a field by its name and settles it.
  void give(const char* name, const QString& words) {
    auto* field = find<QLineEdit>(name);
    click_into(*field);
    QTest::keyClicks(field, words);
    QTest::keyClick(field, Qt::Key_Return);
  }
  void click(const char* name) { QTest::mouseClick(find<QPushButton>(name), Qt::LeftButton); }
  void set(int row, const QString& text) {
    auto* field = static_cast<QLineEdit*>(setting(row));
    click_into(*field);
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
};

/// As it opens for the first time, without a bench.
class EmptyWindow : public AnyWindow {
 protected:
  EmptyWindow() { show(); }
  ~EmptyWindow() override { workbench_.document().drop_leftover(); }
  void click(const char* name) {
    QTest::mouseClick(find<QPushButton>(name), Qt::LeftButton);
    QTest::qWait(80);
  }
};

}  // namespace fair_gauge::app
