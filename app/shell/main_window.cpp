#include "shell/main_window.h"

#include <QAction>
#include <QApplication>
#include <QButtonGroup>
#include <QCloseEvent>
#include <QGridLayout>
#include <QPushButton>
#include <QSettings>

#include "bench/bench_things.h"
#include "board/board_page.h"
#include "choose/choose_page.h"
#include "correct/correct_page.h"
#include "handoff/handoff_page.h"
#include "home/home_page.h"
#include "logbook/logbook_page.h"
#include "read/read_page.h"
#include "shell/begin_here.h"
#include "shell/glossary.h"
#include "shell/habits.h"
#include "shell/manual.h"
#include "shell/margin.h"
#include "shell/page_room.h"
#include "shell/settings.h"
#include "shell/shelf.h"
#include "shell/tape.h"
#include "shell/walk.h"
#include "sources/recording.h"
#include "sources/sources_beside.h"
#include "watch/watch_page.h"
#include "wire/wire_page.h"

namespace fair_gauge::app {

QString page_key(Page page) {
  constexpr const char* keys[] = {"home", "choose", "board", "wire", "read", "correct", "watch", "handover", "logbook"};
  return QLatin1String(keys[static_cast<int>(page)]);
}

MainWindow::MainWindow(Theme& theme, Workbench& workbench) : theme_(theme), workbench_(workbench) {
  setAcceptDrops(true);
  resize(1280, 800);
  set_least_size();
  connect(&theme, &Theme::changed, this, &MainWindow::set_least_size);
  new GlossaryTips(this);
  new Habits(this);
  build();
  connect(&workbench, &Workbench::bench_changed, this, &MainWindow::refresh_title);
  const auto arrange = [this] { arrange_around(page_in_front()); };
  connect(&workbench, &Workbench::bench_changed, this, arrange);
  connect(&workbench, &Workbench::selection_changed, this, arrange);
  connect(&theme, &Theme::changed, this, arrange);
  connect(&workbench, &Workbench::source_changed, this, &MainWindow::refresh_title);
  connect(&workbench, &Workbench::source_changed, this, &MainWindow::remember_lines);
  connect(&workbench.document(), &Document::autosave_failed, this,
          [this](const QString& why) { say(tr("The unsaved changes could not be kept aside: %1").arg(why)); });
}

// All that has words on it.
void MainWindow::build() {
  walk_ = new Walk(theme_);
  shelf_ = new Shelf(theme_, workbench_);
  strip_ = new Strip(theme_, workbench_);
  margin_ = new Margin(theme_, workbench_);
  tape_ = new Tape(theme_, workbench_);
  add_pages();

  auto* middle = column(0);
  middle->addWidget(strip_);
  begin_here_ = new BeginHere(theme_);
  page_room_ = new PageRoom(theme_, pages_, margin_, begin_here_);
  middle->addWidget(page_room_, 1);
  auto* upper = row(0);
  upper->addWidget(shelf_);
  upper->addLayout(middle, 1);
  auto* all = column(0);
  all->addWidget(top_bar_ = build_top_bar());
  all->addWidget(build_banner());
  all->addWidget(walk_);
  all->addLayout(upper, 1);
  all->addWidget(tape_);
  auto* inside = new QWidget;
  inside->setObjectName(QStringLiteral("worktop"));
  inside->setLayout(all);
  setCentralWidget(inside);
  for (QWidget* part : {top_bar_, banner_, static_cast<QWidget*>(walk_), static_cast<QWidget*>(shelf_),
                        static_cast<QWidget*>(page_room_), static_cast<QWidget*>(strip_), static_cast<QWidget*>(tape_)})
    theme_.dress(*part);
  build_actions();

  connect(margin_, &Margin::mistake_wanted, this, [this] { explain({}); });
  const auto demonstrate = [this] {
    if (may_leave()) open_demonstration();
  };
  connect(walk_, &Walk::page_wanted, this, &MainWindow::show_page);
  connect(walk_, &Walk::demonstration_wanted, this, demonstrate);
  connect(begin_here_, &BeginHere::page_wanted, this, [this](Page page) {
    show_page(page);
    if (page == Page::board) board().ask_for_part();
  });
  connect(begin_here_, &BeginHere::part_wanted, this, [this](const std::string& id) {
    show_page(Page::board);
    board().fit(id);
  });
  connect(begin_here_, &BeginHere::demonstration_wanted, this, demonstrate);
  show_page(Page::home);
  refresh_title();
  pages_->setFocus();
}

// Words are given to a control when it is made: all of them are made anew, at the page that was in front.
void MainWindow::take_up_language() {
  if (QWidget* last = focusWidget()) last->clearFocus();  // settles what was typed into it
  workbench_.reload_catalogue();
  // The names of the demonstration ship in every language; of one that was worked on they are its owner's.
  if (Document& document = workbench_.document();
      document.path() == demonstration_path() && document.is_saved() && !document.can_undo() && !document.can_redo()) {
    const auto held = workbench_.anchor();
    (void)document.open(document.path());
    if (held) workbench_.hold(*held);
  }
  const Page page = page_in_front();
  const int view = view_in_front();
  const bool says = !banner_->isHidden();  // such as that something can be brought back
  const QString words = banner_words_->text(), action = banner_action_->text();
  const auto act = banner_act_;
  const auto looked =
      pages_->is_built(static_cast<int>(Page::watch)) ? std::optional(watch().looked_at()) : std::nullopt;
  kept_typing_.take(*pages_);
  for (QAction* command : std::exchange(commands_, {})) delete command;
  actions_.clear();
  undo_ = nullptr;
  delete std::exchange(manual_, nullptr);
  delete std::exchange(settings_, nullptr);
  delete takeCentralWidget();
  build();
  if (says) say(words, action, act);
  if (looked) watch().look_at(*looked);
  show_view(page, view);
}

template <class T>
void MainWindow::add_page(void (MainWindow::*follow)(T&)) {
  pages_->add([this, follow] {
    auto* page = new T(theme_, workbench_);
    if (follow) (this->*follow)(*page);
    return page;
  });
}

// In the order of Page.
void MainWindow::add_pages() {
  pages_ = new Views;
  add_page<HomePage>(&MainWindow::follow_home);
  add_page<ChoosePage>(&MainWindow::follow_choose);
  add_page<BoardPage>(&MainWindow::follow_board);
  add_page<WirePage>(&MainWindow::follow_wire);
  add_page<ReadPage>(&MainWindow::follow_read);
  add_page<CorrectPage>(&MainWindow::follow_correct);
  add_page<WatchPage>(&MainWindow::follow_watch);
  add_page<HandoffPage>();
  add_page<LogbookPage>();
}

void MainWindow::follow_home(HomePage& home) {
  connect(&home, &HomePage::opened, this, [this](const std::string& id) {
    workbench_.choose_channel(id);
    show_page(Page::wire);
  });
  connect(&home, &HomePage::calibration_wanted, this, [this](const std::string& id) {
    workbench_.choose_channel(id);
    show_page(Page::correct);
    correct().show_view(0);
  });
  connect(&home, &HomePage::handoff_wanted, this, [this](const std::string& id) {
    workbench_.choose_channel(id);
    show_page(Page::handoff);
  });
  connect(&home, &HomePage::bus_wanted, this, [this](const std::string& id) {
    show_page(Page::board);
    id.empty() ? board().show_view(2) : board().show_bus(id);
  });
  connect(&home, &HomePage::demonstration_wanted, this, [this] {
    if (may_leave()) open_demonstration();
  });
  connect(&home, &HomePage::new_bench_wanted, this, &MainWindow::begin_bench);
  connect(&home, &HomePage::listening_wanted, this, [this] { show_view(Page::read, 0); });
  connect(&home, &HomePage::overview_wanted, this, [this] { show_view(Page::board, 0); });
  connect(&home, &HomePage::first_sensor_wanted, this, [this] { show_page(Page::choose); });
}

void MainWindow::follow_choose(ChoosePage& choose) {
  connect(&choose, &ChoosePage::channel_made, this, [this] { show_page(Page::wire); });
}

void MainWindow::follow_board(BoardPage& board) {
  connect(&board, &BoardPage::channel_wanted, this, [this](const std::string& id) {
    workbench_.choose_channel(id);
    show_page(Page::wire);
  });
}

void MainWindow::follow_read(ReadPage& read) {
  connect(&read, &ReadPage::sensor_wanted, this, [this](const std::string& id) {
    workbench_.choose_channel(id);
    show_page(Page::wire);
  });
}

void MainWindow::follow_wire(WirePage& wire) {
  connect(&wire, &WirePage::note_wanted, this, [this](const QString& words) {
    LogEntry entry;
    entry.channel = workbench_.channel_id();
    entry.words = words.toStdString();
    const QString fault = logbook().write(entry);
    say(fault.isEmpty() ? tr("The logbook has it.") : tr("The logbook could not be written. %1").arg(fault),
        tr("Open the logbook"), [this] { show_page(Page::logbook); });
  });
}

void MainWindow::follow_watch(WatchPage& watch) {
  connect(&watch, &WatchPage::mistake_wanted, this, [this](double raw) { explain(raw); });
}

void MainWindow::explain(std::optional<double> raw) {
  show_page(Page::read);
  read().explain(raw);
}

void MainWindow::follow_correct(CorrectPage& correct) {
  connect(&correct, &CorrectPage::over_time_wanted, this,
          [this](const std::vector<std::string>& channels, const QString& log) {
            show_page(Page::watch);
            log.isEmpty() ? watch().look_at_session() : watch().open(log);
            watch().compare(channels, Arrangement::differences);
          });
  connect(&correct, &CorrectPage::calibrated, this, [this](const LogEntry& entry) {
    const QString fault = logbook().write(entry);
    say(fault.isEmpty() ? tr("The correction is in place, and the logbook has it.")
                        : tr("The correction is in place, but the logbook could not be written. %1").arg(fault),
        tr("Open the logbook"), [this] { show_page(Page::logbook); });
  });
}

template <class T>
T& MainWindow::page_of(Page page) {
  return *static_cast<T*>(pages_->view(static_cast<int>(page)));
}
HomePage& MainWindow::home() { return page_of<HomePage>(Page::home); }
ChoosePage& MainWindow::choose() { return page_of<ChoosePage>(Page::choose); }
BoardPage& MainWindow::board() { return page_of<BoardPage>(Page::board); }
WirePage& MainWindow::wire() { return page_of<WirePage>(Page::wire); }
ReadPage& MainWindow::read() { return page_of<ReadPage>(Page::read); }
CorrectPage& MainWindow::correct() { return page_of<CorrectPage>(Page::correct); }
WatchPage& MainWindow::watch() { return page_of<WatchPage>(Page::watch); }
HandoffPage& MainWindow::handoff() { return page_of<HandoffPage>(Page::handoff); }
LogbookPage& MainWindow::logbook() { return page_of<LogbookPage>(Page::logbook); }

// A field that still has the focus settles what was typed into it while the window is whole; after that nothing of the
// workbench reaches a window that is being taken apart.
MainWindow::~MainWindow() {
  if (QWidget* last = focusWidget()) last->clearFocus();
  workbench_.disconnect(this);
  workbench_.document().disconnect(this);
}

QString MainWindow::demonstration_path() {
  return QString::fromStdString(data_folder()) + QStringLiteral("/demo/fernhollow.fairgauge.json");
}

// The pages in the order of the work, with their views.
std::vector<MainWindow::PageName> MainWindow::page_names() {
  return {{Page::home, tr("Home"), {}},
          {Page::choose, tr("Choose"), {}},
          {Page::board, tr("Board"), BoardPage::view_names()},
          {Page::wire, tr("Wire"), WirePage::view_names()},
          {Page::read, tr("Read"), ReadPage::view_names()},
          {Page::correct, tr("Correct"), CorrectPage::view_names()},
          {Page::watch, tr("Watch"), WatchPage::view_names()},
          {Page::handoff, tr("Hand over"), {}},
          {Page::logbook, tr("Logbook"), {}}};
}

void MainWindow::show_view(Page page, int view) {
  show_page(page);
  switch (page) {
    case Page::board: return board().show_view(view);
    case Page::wire: return wire().show_view(view);
    case Page::read: return read().show_view(view);
    case Page::correct: return correct().show_view(view);
    case Page::watch: return watch().show_view(view);
    default: return;
  }
}

QWidget* MainWindow::build_top_bar() {
  auto* bar = new QWidget;
  bar->setObjectName(QStringLiteral("topbar"));
  bar->setAttribute(Qt::WA_StyledBackground);
  menu_button_ = new QPushButton;
  menu_button_->setObjectName(QStringLiteral("bench_menu"));
  menu_button_->setIcon(QIcon(QStringLiteral(":/icons/fair-gauge.svg")));
  menu_button_->setIconSize({theme_.px(40), theme_.px(20)});
  menu_button_->setFont(theme_.font(Face::strong));
  menu_button_->setAccessibleName(tr("Bench menu"));
  connect(menu_button_, &QPushButton::clicked, this, &MainWindow::show_menu);
  saved_ = new Text(theme_, Face::small, {}, Tint::bar);
  source_words_ = new Text(theme_, Face::small, {}, Tint::bar);
  page_buttons_ = new QButtonGroup(bar);
  auto* names = row(2);
  auto* pages = new QWidget;
  pages->setLayout(names);
  for (const auto& [page, name, views] : page_names()) {
    auto* button = new QPushButton(name);
    button->setCheckable(true);
    button->setAutoExclusive(true);  // by which a screen reader says that it is one of several
    button->setObjectName(QStringLiteral("page_") + page_key(page));
    page_buttons_->addButton(button, static_cast<int>(page));
    names->addWidget(button);
  }
  connect(page_buttons_, &QButtonGroup::idToggled, this, [this](int id, bool on) {
    if (on) show_page(static_cast<Page>(id));
  });
  auto* layout = new QGridLayout;
  layout->setContentsMargins(4, 0, 16, 0);
  layout->setVerticalSpacing(0);
  layout->addWidget(menu_button_, 0, 0);
  layout->addWidget(saved_, 0, 1);
  layout->setColumnMinimumWidth(2, 16);
  layout->setColumnStretch(4, 1);
  layout->addWidget(source_words_, 0, 5);
  bar->setLayout(layout);
  // At the largest text, or in a language of long words, the pages' names take a line of their own.
  const auto arrange = [this, bar, layout, pages] {
    constexpr int narrowest = 1280;
    const auto tighten = [this](bool tight) {
      for (QAbstractButton* button : page_buttons_->buttons()) {
        if (button->property("tight").toBool() == tight) continue;
        button->setProperty("tight", tight);
        button->style()->polish(button);
        button->updateGeometry();
      }
    };
    tighten(false);
    layout->removeWidget(pages);
    layout->addWidget(pages, 0, 3);
    const bool below = theme_.is_text_huge() || layout->minimumSize().width() > narrowest;
    if (below) {
      layout->removeWidget(pages);
      layout->addWidget(pages, 1, 0, 1, 6, Qt::AlignLeft);
      tighten(layout->minimumSize().width() > narrowest);
    }
    bar->setFixedHeight(below ? theme_.px(68) : theme_.px(44));
  };
  arrange();
  QTimer::singleShot(0, bar, arrange);  // once the theme has dressed them their widths are known
  connect(&theme_, &Theme::changed, bar, [this, arrange] {
    arrange();
    menu_button_->setFont(theme_.font(Face::strong));
    if (undo_) refresh_title();
  });
  return bar;
}

QWidget* MainWindow::build_banner() {
  banner_ = new QWidget;
  banner_->setObjectName(QStringLiteral("banner"));
  banner_->setAttribute(Qt::WA_StyledBackground);
  banner_words_ = new Text(theme_, Face::text);
  banner_words_->setWordWrap(true);
  banner_action_ = new QPushButton;
  connect(banner_action_, &QPushButton::clicked, this, [this] {
    banner_->hide();
    if (banner_act_) banner_act_();
  });
  auto* close = new QPushButton(tr("Close"));
  connect(close, &QPushButton::clicked, banner_, &QWidget::hide);
  auto* layout = row(8);
  layout->setContentsMargins(16, 8, 16, 8);
  layout->addWidget(banner_words_, 1);
  layout->addWidget(banner_action_);
  layout->addWidget(close);
  banner_->setLayout(layout);
  banner_->hide();
  return banner_;
}

void MainWindow::say(const QString& words, const QString& action, const std::function<void()>& act) {
  banner_words_->setText(words);
  banner_action_->setText(action);
  banner_action_->setVisible(!action.isEmpty());
  banner_act_ = act;
  banner_->show();
}

QString MainWindow::banner_text() const { return banner_->isHidden() ? QString() : banner_words_->text(); }

Page MainWindow::page_in_front() const { return static_cast<Page>(page_buttons_->checkedId()); }

void MainWindow::arrange_around(Page page) {
  // What belongs to one channel is shown where one channel is worked on. At large text the Correct page needs the
  // margin's room; it says the verdict itself. Choose needs the shelf's: it is about a channel that is not there yet.
  const bool channels = !workbench_.bench().channels.empty();
  const Channel* chosen = channels ? workbench_.chosen().channel : nullptr;
  const bool bare = chosen && lacks_sensor(*chosen);
  const bool begin = (!channels || bare) && BeginHere::is_for(page);
  const bool one_channel = channels && !bare && (page == Page::wire || page == Page::read || page == Page::correct);
  const bool needs_room = theme_.is_text_large() && !theme_.is_text_huge();
  const std::pair<QWidget*, bool> around[] = {{shelf_, page != Page::home && !(page == Page::choose && needs_room)},
                                              {strip_, one_channel},
                                              {margin_, one_channel && !(page == Page::correct && needs_room)},
                                              {tape_, (channels && page == Page::wire) || page == Page::read},
                                              {pages_, !begin},
                                              {begin_here_, begin}};
  if (begin && bare) {
    const auto answers = answers_of(workbench_.listener().proposals(), chosen->name_on_line());
    begin_here_->set_page(page, text_of(called(*chosen)), parts_that_answer(workbench_.catalogue(), answers));
  } else if (begin) {
    begin_here_->set_page(page, {}, {});
  }
  for (const auto& [widget, shown] : around)
    if (widget->isHidden() == shown) widget->setVisible(shown);
}

void MainWindow::show_page(Page page) {
  {
    // First: what is shown may take the focus and choose its stage, and that asks for the page in front.
    const QSignalBlocker blocked(page_buttons_);
    page_buttons_->button(static_cast<int>(page))->setChecked(true);
  }
  arrange_around(page);
  pages_->show_view(static_cast<int>(page));
  if (!begin_here_->isHidden()) begin_here_->setFocus();
}

// The window says itself how small it may be. Left to the layouts, it grows for good when one of them asks for more
// room while it settles, and under load that is seen.
void MainWindow::set_least_size() { setMinimumSize(theme_.text_scale() > 1.2 ? QSize(1280, 740) : QSize(1152, 640)); }

void MainWindow::walk() { walk_->start(!workbench_.bench().channels.empty()); }

void MainWindow::refresh_title() {
  const Document& document = workbench_.document();
  const QString name = workbench_.bench().name.empty() ? tr("Fair Gauge") : text_of(workbench_.bench().name);
  menu_button_->setText(QLatin1Char(' ') + name);
  saved_->setText(document.path().isEmpty() ? QString() : document.is_saved() ? tr("saved") : tr("not saved"));
  setWindowTitle(tr("%1 – Fair Gauge").arg(name));
  const LiveSource& source = workbench_.source();
  QString words =
      source.words().isEmpty() ? tr("Nothing is connected") : source.words().section(QStringLiteral(". "), 0, 0);
  if (const auto more = workbench_.beside_sources().all().size(); more > 0)
    words = tr("%1 and %2 more").arg(words).arg(more);
  // At large text the pages need the room: the dot alone, its words beneath the pointer.
  source_words_->setText((workbench_.is_listening() ? QStringLiteral("●") : QStringLiteral("○")) +
                         (theme_.text_scale() > 1.2 ? QString() : QStringLiteral("  ") + words));
  source_words_->setToolTip(words);
  if (source_words_->accessibleName() != words) source_words_->setAccessibleName(words);
  undo_->setEnabled(document.can_undo());
  undo_->setText(document.can_undo() ? tr("Undo: %1").arg(document.undo_label()) : tr("Undo"));
  redo_->setEnabled(document.can_redo());
  redo_->setText(document.can_redo() ? tr("Redo: %1").arg(document.redo_label()) : tr("Redo"));
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return workbench_.return_to_live();
  QMainWindow::keyPressEvent(event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  event->setAccepted(may_leave());
  if (!event->isAccepted()) return;
  QSettings settings;
  settings.setValue(QStringLiteral("geometry"), saveGeometry());
  settings.setValue(QStringLiteral("text_scale"), theme_.text_scale());
  settings.setValue(QStringLiteral("page"), pages_->currentIndex());
}

}  // namespace fair_gauge::app

#include "moc_main_window.cpp"
