// The window's commands: its menu, its keys, the finder, and the windows beside it.
#include <QAbstractItemView>
#include <QAction>
#include <QApplication>
#include <QButtonGroup>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>

#include "choose/choose_page.h"
#include "formulas/derived_quantity.h"
#include "read/read_page.h"
#include "shell/command_finder.h"
#include "shell/glossary.h"
#include "shell/main_window.h"
#include "shell/manual.h"
#include "shell/page_room.h"
#include "shell/settings.h"

namespace fair_gauge::app {
namespace {

constexpr int derived_view = 3;  // of Correct's

}  // namespace

// A command that the finder knows and the menu does not show.
void MainWindow::add_found(const QString& text, const std::function<void()>& act) {
  auto* action = new QAction(text, this);
  connect(action, &QAction::triggered, this, act);
  commands_.push_back(action);
}

QAction* MainWindow::add_action(const QString& text, const QKeySequence& keys, const std::function<void()>& act) {
  auto* action = new QAction(text, this);
  action->setShortcut(keys);
  connect(action, &QAction::triggered, this, act);
  addAction(action);
  actions_.push_back(action);
  commands_.push_back(action);
  return action;
}

void MainWindow::build_actions() {
  add_action(tr("New bench"), QKeySequence(tr("Ctrl+N")), [this] { begin_bench({}); });
  add_action(tr("Open a bench…"), QKeySequence(tr("Ctrl+O")), [this] {
    const QString path =
        QFileDialog::getOpenFileName(page_room_, tr("Open a bench"), {}, kinds_of_bench().join(QStringLiteral(";;")));
    if (!path.isEmpty() && may_leave()) open(path);
  });
  add_action(tr("Open the demonstration bench"), {}, [this] {
    if (may_leave()) open_demonstration();
  });
  add_action(tr("Save"), QKeySequence(tr("Ctrl+S")), [this] { save(); });
  add_action(tr("Save under another name…"), QKeySequence(tr("Ctrl+Shift+S")), [this] { save_as(); });
  undo_ = add_action(tr("Undo"), QKeySequence(tr("Ctrl+Z")), [this] { step_back(&Document::undo); });
  redo_ = add_action(tr("Redo"), QKeySequence(tr("Ctrl+Shift+Z")), [this] { step_back(&Document::redo); });
  for (const auto& [page, name, views] : page_names()) {
    add_action(name, QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(page))),
               [this, page = page] { show_page(page); })
        ->setData(QVariant::fromValue(page));
    for (int view = 0; view < views.size(); ++view)
      add_found(tr("%1: %2").arg(name, views[view]), [this, page = page, view] { show_view(page, view); });
  }
  add_action(tr("Walk through the pages"), {}, [this] { walk(); });
  add_action(tr("Return to the live reading (Esc)"), {}, [this] { workbench_.return_to_live(); });
  add_action(tr("Next channel"), QKeySequence(tr("Ctrl+PgDown")), [this] {
    const auto& channels = workbench_.bench().channels;
    for (std::size_t i = 0; i + 1 < channels.size(); ++i)
      if (channels[i].id == workbench_.channel_id()) return workbench_.choose_channel(channels[i + 1].id);
  });
  add_action(tr("Previous channel"), QKeySequence(tr("Ctrl+PgUp")), [this] {
    const auto& channels = workbench_.bench().channels;
    for (std::size_t i = 1; i < channels.size(); ++i)
      if (channels[i].id == workbench_.channel_id()) return workbench_.choose_channel(channels[i - 1].id);
  });
  add_action(tr("Run the simulation"), {}, [this] { workbench_.listen_to_simulation(); });
  add_action(tr("Light or dark paper"), QKeySequence(tr("Ctrl+D")), [this] {
    Settings settings = Settings::read();
    settings.paper = theme_.tone() == Theme::Tone::light ? Paper::dark : Paper::light;
    settings.write();
    theme_.set_tone(settings.tone());
  });
  add_action(tr("Larger text"), QKeySequence(tr("Ctrl++")),
             [this] { theme_.set_text_scale(theme_.text_scale() + 0.125); });
  add_action(tr("Smaller text"), QKeySequence(tr("Ctrl+-")),
             [this] { theme_.set_text_scale(theme_.text_scale() - 0.125); });
  add_action(tr("Settings…"), QKeySequence(tr("Ctrl+,")), [this] { open_settings(); });
  add_action(tr("Find a command…"), QKeySequence(tr("Ctrl+K")), [this] { find_command(); });
  add_action(tr("Manual for this view"), QKeySequence(tr("F1")), [this] { open_manual(); });
  add_action(tr("What does this word mean?"), QKeySequence(tr("Shift+F1")), [this] { open_glossary(); });
  add_action(tr("About Fair Gauge"), {}, [this] {
    QMessageBox::about(
        this, tr("About Fair Gauge"),
        tr("Fair Gauge %1\n\nFrom raw counts and bytes to physical units whose error is known.\n\nNot for medical, "
           "life-safety or trade use. Free software under the GNU General Public License 3 or later.")
            .arg(QApplication::applicationVersion()));
  });
}

Manual& MainWindow::manual() {
  if (!manual_) {
    manual_ = new Manual(theme_, Manual::folder(), this);
    theme_.dress(*manual_);
  }
  return *manual_;
}

// At the word that stands on the control in hand.
void MainWindow::open_glossary() {
  QString words;
  if (QWidget* focus = QApplication::focusWidget()) {
    const auto* view = qobject_cast<QAbstractItemView*>(focus);
    words = view ? view->currentIndex().siblingAtColumn(0).data().toString() : GlossaryTips::words_on(*focus, {});
  }
  const Glossary::Term* term = glossary().in(words);
  manual().open_at_word(term ? term->word : QString());
}

int MainWindow::view_in_front() const {
  int view = 0;
  for (const auto* views : pages_->currentWidget()->findChildren<Views*>())
    if (views->isVisible()) view = views->currentIndex();
  return view;
}

void MainWindow::open_manual() { manual().open_at(Manual::page_about(page_key(page_in_front()), view_in_front())); }

void MainWindow::open_settings() {
  if (!settings_) {
    settings_ = new SettingsWindow(theme_, workbench_, this);
    theme_.dress(*settings_);
    // Once its own list has closed: the settings are made anew too.
    const auto speak = [this] {
      take_up_language();
      open_settings();
      settings_->return_to_language();
    };
    connect(settings_, &SettingsWindow::language_chosen, this, speak, Qt::QueuedConnection);
  }
  settings_->show();
  settings_->raise();
  settings_->activateWindow();
}

// The field that has the focus shows what the step made of its value.
void MainWindow::step_back(void (Document::*step)()) {
  (workbench_.document().*step)();
  if (auto* field = qobject_cast<QuantityField*>(focusWidget())) field->take_shown();
}

void MainWindow::show_menu() {
  QMenu menu(this);
  theme_.dress(menu);
  const auto recent = recent_benches();
  auto* pages = new QMenu(tr("Go to a page"), &menu);
  theme_.dress(*pages);
  for (QAction* action : actions_) {
    if (action->data().canConvert<Page>()) {
      pages->addAction(action);
      continue;
    }
    menu.addAction(action);
    if (action->text() == tr("Open the demonstration bench")) {
      for (const QString& path : recent)
        menu.addAction(QFileInfo(path).fileName(), this, [this, path] {
          if (may_leave()) open(path);
        });
      menu.addSeparator();
    }
    if (action == redo_) {
      menu.addSeparator();
      menu.addMenu(pages);
    }
  }
  menu.exec(menu_button_->mapToGlobal(QPoint(0, menu_button_->height())));
}

void MainWindow::find_command() {
  // Besides the commands every channel, by its name, and every part, by what is printed on it.
  QObject here;
  std::vector<QAction*> all = commands_;
  for (const Channel& channel : workbench_.bench().channels) {
    auto* action = new QAction(tr("Channel: %1").arg(text_of(called(channel))), &here);
    connect(action, &QAction::triggered, this, [this, id = channel.id] {
      workbench_.choose_channel(id);
      show_page(Page::wire);
    });
    all.push_back(action);
  }
  for (const Part& part : workbench_.catalogue().parts()) {
    QStringList words{text_of(part.name)};
    for (const std::string& marking : part.markings) words << text_of(marking);
    auto* action = new QAction(tr("Part: %1").arg(words.join(QStringLiteral(", "))), &here);
    connect(action, &QAction::triggered, this, [this, id = part.id, is_digital = part.is_digital()] {
      show_page(is_digital ? Page::read : Page::choose);
      is_digital ? read().show_part(id) : choose().choose(id);
    });
    all.push_back(action);
  }
  for (const DerivedQuantity& quantity : derived_quantities()) {
    auto* action = new QAction(tr("Work out: %1").arg(text_of(quantity.name)), &here);
    connect(action, &QAction::triggered, this, [this] { show_view(Page::correct, derived_view); });
    all.push_back(action);
  }
  CommandFinder finder(all, this);
  theme_.dress(finder);
  if (QAction* action = finder.choose()) action->trigger();
}

}  // namespace fair_gauge::app
