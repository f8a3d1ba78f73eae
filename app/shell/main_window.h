// The window: top bar, shelf, strip, pages, margin, tape, and the actions that belong to no single page.
#pragma once

#include <QMainWindow>
#include <vector>

#include "shell/workbench.h"
#include "strip/strip.h"
#include "widgets/kept_typing.h"
#include "widgets/views.h"

class QButtonGroup;
class QPushButton;

namespace fair_gauge::app {

class BoardPage;
class ChoosePage;
class CorrectPage;
class HandoffPage;
class WatchPage;
class BeginHere;
class HomePage;
class LogbookPage;
class ReadPage;
class WirePage;
class Manual;
class Margin;
class PageRoom;
class SettingsWindow;
class Shelf;
class Tape;
class Walk;

// In the order of the work.
enum class Page { home, choose, board, wire, read, correct, watch, handoff, logbook };

/// What it is called whatever the language, "home".
QString page_key(Page page);

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow(Theme& theme, Workbench& workbench);
  ~MainWindow() override;

  /// Opens a bench file; says on the banner what was wrong with it.
  void open(const QString& path);
  /// What somebody brings, by what stands in it: a bench is opened, parts are taken among the own ones, a capture of
  /// lines is decoded; any other text is a log.
  void take_file(const QString& path);
  void open_demonstration();
  /// A bench that has no file yet; asks first where the present one is unsaved.
  void begin_bench(const Bench& bench);
  void show_page(Page page);
  /// The short walk through the pages.
  void walk();
  /// Saves; asks for a name where the bench has none of its own. \returns false if it was not saved
  bool save();
  bool save_to(const QString& path, Document::Overwrite overwrite = Document::Overwrite::unless_changed);
  /// Offers what was kept aside of a bench that nobody can open any more.
  void offer_homeless_leftovers();
  Strip& strip() { return *strip_; }
  // A page is built when it is first wanted.
  HomePage& home();
  ChoosePage& choose();
  BoardPage& board();
  WirePage& wire();
  ReadPage& read();
  CorrectPage& correct();
  WatchPage& watch();
  HandoffPage& handoff();
  LogbookPage& logbook();
  QWidget& page(Page page) { return *pages_->view(static_cast<int>(page)); }
  /// Shows one of a page's views, in the order of its tabs.
  void show_view(Page page, int view);
  /// Place, size and page as they were when the program was left.
  void take_up_again();
  /// What the banner says at the moment; empty if it is hidden.
  QString banner_text() const;

  static QString demonstration_path();

  /// The pages in the order of the work, with the names of their views.
  struct PageName {
    Page page;
    QString name;
    QStringList views;
  };
  static std::vector<PageName> page_names();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  template <class T>
  void add_page(void (MainWindow::*follow)(T&) = nullptr);
  template <class T>
  T& page_of(Page page);
  void add_pages();
  void follow_home(HomePage& home);
  void follow_choose(ChoosePage& choose);
  void follow_board(BoardPage& board);
  void follow_read(ReadPage& read);
  void follow_wire(WirePage& wire);
  void follow_watch(WatchPage& watch);
  void explain(std::optional<double> raw);
  void follow_correct(CorrectPage& correct);
  QWidget* build_top_bar();
  void build();
  /// Everything that has words in the language that is in force now.
  void take_up_language();
  int view_in_front() const;
  void set_least_size();
  Page page_in_front() const;
  /// What stands around a page, or instead of it where the bench has no channel yet.
  void arrange_around(Page page);
  static QStringList kinds_of_bench();
  static QStringList recent_benches();
  QWidget* build_banner();
  void build_actions();
  QAction* add_action(const QString& text, const QKeySequence& keys, const std::function<void()>& act);
  void add_found(const QString& text, const std::function<void()>& act);
  void step_back(void (Document::*step)());
  void show_menu();
  void find_command();
  /// The manual at the page about the view in front.
  Manual& manual();
  void open_manual();
  void open_glossary();
  void open_settings();
  void take_parts(const QString& path);
  void say(const QString& words, const QString& action = {}, const std::function<void()>& act = {});
  void offer_leftover();
  void remember(const QString& path);
  void remember_lines();
  /// The lines that the bench was last read by, where one of them is there.
  void offer_lines();
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
  Views* pages_;
  KeptTyping kept_typing_;
  PageRoom* page_room_;                 // around them
  Manual* manual_ = nullptr;            // made when it is first asked for
  SettingsWindow* settings_ = nullptr;  // the same
  Strip* strip_;
  Shelf* shelf_;
  Margin* margin_;
  BeginHere* begin_here_;
  Tape* tape_;
  Walk* walk_;
  QWidget* top_bar_;
  std::vector<QAction*> actions_;   // of the menu
  std::vector<QAction*> commands_;  // of the finder
  QAction* undo_ = nullptr;
  QAction* redo_;
};

}  // namespace fair_gauge::app
