// The window: top bar, shelf, strip, pages, margin, tape, and the actions that belong to no single page.
#pragma once

#include <QMainWindow>
#include <QStackedWidget>
#include <vector>

#include "shell/workbench.h"
#include "strip/strip.h"

class QButtonGroup;
class QPushButton;

namespace fair_gauge::app {

class ChoosePage;
class CorrectPage;
class HomePage;
class LogbookPage;
class ReadPage;
class WirePage;
class Margin;
class Shelf;
class Tape;
class Walk;

// In the order of the work.
enum class Page { home, choose, wire, read, correct, logbook };

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow(Theme& theme, Workbench& workbench);

  /// Opens a bench file; says on the banner what was wrong with it.
  void open(const QString& path);
  void open_demonstration();
  void show_page(Page page);
  /// The short walk through the pages.
  void walk();
  /// Saves; asks for a name where the bench has none of its own. \returns false if it was not saved
  bool save();
  bool save_to(const QString& path);
  Strip& strip() { return *strip_; }
  WirePage& wire() { return *wire_; }
  /// What the banner says at the moment; empty if it is hidden.
  QString banner_text() const;

  static QString demonstration_path();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  QWidget* build_top_bar();
  QWidget* build_banner();
  void build_actions();
  QAction* add_action(const QString& text, const QKeySequence& keys, const std::function<void()>& act);
  void show_menu();
  void find_command();
  void say(const QString& words, const QString& action = {}, const std::function<void()>& act = {});
  void offer_leftover();
  void remember(const QString& path);
  void refresh_title();
  bool may_leave();
  void save_as();

  Theme& theme_;
  Workbench& workbench_;
  QPushButton* menu_button_;
  Text* saved_;
  Text* source_words_;
  QButtonGroup* page_buttons_;
  QWidget* banner_;
  Text* banner_words_;
  QPushButton* banner_action_;
  std::function<void()> banner_act_;
  QStackedWidget* pages_;
  Strip* strip_;
  Shelf* shelf_;
  Margin* margin_;
  Tape* tape_;
  Walk* walk_;
  HomePage* home_;
  ChoosePage* choose_;
  WirePage* wire_;
  ReadPage* read_;
  CorrectPage* correct_;
  LogbookPage* logbook_;
  std::vector<QAction*> actions_;
  QAction* undo_;
  QAction* redo_;
};

}  // namespace fair_gauge::app
