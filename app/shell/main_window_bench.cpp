// The window's bench: opened, begun, saved, kept aside, taken up again.
#include <fmt/ranges.h>

#include <QCloseEvent>
#include <QFile>
#include <QFileInfo>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <algorithm>

#include "digital/line_capture.h"
#include "files/delimited.h"
#include "home/home_page.h"
#include "read/read_page.h"
#include "shell/main_window.h"
#include "shell/page_room.h"
#include "shell/settings.h"
#include "sources/known_lines.h"
#include "watch/watch_page.h"
#include "widgets/saving.h"

namespace fair_gauge::app {
namespace {

constexpr int most_recent = 8;
const char* const recent_key = "recent";

}  // namespace

QStringList MainWindow::kinds_of_bench() {
  return {QStringLiteral("Fair Gauge bench (*.fairgauge.json)"), QStringLiteral("JSON (*.json)")};
}

QStringList MainWindow::recent_benches() { return QSettings().value(QLatin1String(recent_key)).toStringList(); }

void MainWindow::open(const QString& path) {
  const auto problems = workbench_.document().open(path);
  if (!problems) return say(tr("This bench could not be opened. %1").arg(text_of(to_text(problems.problem()))));
  banner_->hide();
  if (path != demonstration_path()) remember(path);
  if (!problems->empty()) {
    QString words =
        problems->size() == 1
            ? tr("One thing in this file was passed over; saving asks for a new name, so that nothing of it is lost.")
            : tr("%1 things in this file were passed over; saving asks for a new name, so that nothing of it is lost.")
                  .arg(problems->size());
    words += QLatin1Char('\n') + text_of(to_text(problems->front()));
    say(words);
  }
  offer_leftover();
  offer_lines();
}

void MainWindow::take_file(const QString& path) {
  QFile file(path);
  const std::string head = file.open(QIODevice::ReadOnly) ? file.read(1 << 16).toStdString() : std::string();
  const bool is_wide = head.starts_with("\xFF\xFE") || head.starts_with("\xFE\xFF");
  const bool is_text = !head.empty() && (is_wide || head.find('\0') == std::string::npos);
  const std::string_view first = trimmed(without_mark(head));
  const auto names = [&](const char* key) { return head.find(key) != std::string::npos; };
  if (first.starts_with('{') && names("\"parts\"") && !names("\"fair_gauge_bench\"")) {
    take_parts(path);
  } else if (!is_text || first.starts_with('{') || first.starts_with('[')) {
    if (may_leave()) open(path);
  } else if (first.starts_with('$') || read_capture(head.substr(0, head.rfind('\n')))) {
    show_page(Page::read);
    read().open_capture(path);
  } else {
    show_page(Page::watch);
    watch().open(path);
  }
}

void MainWindow::take_parts(const QString& path) {
  const auto taken = take_user_parts(path.toStdString());
  if (!taken) return say(tr("These parts were not taken. %1").arg(text_of(to_text(taken.problem()))));
  workbench_.reload_catalogue();
  say(tr("From now on among your own parts: %1.").arg(text_of(fmt::format("{}", fmt::join(*taken, ", ")))));
}

void MainWindow::begin_bench(const Bench& bench) {
  if (!may_leave()) return;
  workbench_.document().begin(bench);
  workbench_.stop_listening();
  show_page(Page::home);
  if (bench == Bench()) home().ask_for_name();
}

void MainWindow::open_demonstration() {
  open(demonstration_path());
  workbench_.listen_to_simulation();
  show_page(Page::wire);
}

void MainWindow::offer_leftover() {
  if (const auto& warnings = workbench_.document().warnings(); !warnings.empty() && banner_->isHidden())
    say(text_of(to_text(warnings.front())));
  if (auto leftover = workbench_.document().leftover())
    say(tr("Changes to this bench were not saved last time. They are kept until you save."), tr("Bring them back"),
        [this, leftover = *leftover] { workbench_.document().bring_back(leftover); });
}

void MainWindow::offer_homeless_leftovers() {
  const auto all = workbench_.document().homeless_leftovers();
  if (all.empty()) return;
  const QString name =
      all.front().content.name.empty() ? tr("A bench without a name") : text_of(all.front().content.name);
  say(all.front().bench.isEmpty()
          ? tr("%1 was never saved under a name. It is kept.").arg(name)
          : tr("%1 was not saved last time, and its file %2 is gone. It is kept.").arg(name, all.front().bench),
      tr("Bring it back"), [this, leftover = all.front()] {
        if (may_leave()) workbench_.document().bring_back(leftover);
      });
}

void MainWindow::remember(const QString& path) {
  QSettings settings;
  auto recent = settings.value(QLatin1String(recent_key)).toStringList();
  recent.removeAll(path);
  recent.prepend(path);
  while (recent.size() > most_recent) recent.removeLast();
  settings.setValue(QLatin1String(recent_key), recent);
}

// One after the other is stopped at the end of the day: that forgets none.
void MainWindow::remember_lines() {
  const auto lines = workbench_.lines_listened_to();
  const QString& bench = workbench_.document().path();
  if (lines.empty() || bench.isEmpty() || bench == demonstration_path()) return;
  const auto known = known_lines(bench);
  if (std::ranges::any_of(lines, [&](const KnownLine& line) { return std::ranges::find(known, line) == known.end(); }))
    keep_lines(bench, lines);
}

void MainWindow::offer_lines() {
  const auto lines = known_lines(workbench_.document().path());
  const auto is_there = [](const KnownLine& line) { return QFileInfo::exists(line.path); };
  if (!banner_->isHidden() || !workbench_.lines_listened_to().empty() || std::ranges::none_of(lines, is_there)) return;
  QStringList paths;
  for (const KnownLine& line : lines) paths << line.path;
  say(tr("This bench was last read from %1.").arg(paths.join(tr(" and "))), tr("Listen again"),
      [this, lines] { workbench_.listen_again(lines); });
}

bool MainWindow::save_to(const QString& path, Document::Overwrite overwrite) {
  const auto written = workbench_.document().save(path, overwrite);
  if (!written && path == workbench_.document().path() && workbench_.document().is_changed_outside()) {
    say(tr("Not saved: another program or window has changed this file since it was opened here."), tr("Write over it"),
        [this, path] { save_to(path, Document::Overwrite::anyway); });
    return false;
  }
  if (!written) {
    say(tr("Not saved; your changes are still here. %1").arg(text_of(to_text(written.problem()))),
        tr("Save elsewhere…"), [this] { save_as(); });
    return false;
  }
  banner_->hide();
  remember(path);
  remember_lines();
  return true;
}

bool MainWindow::save() {
  if (workbench_.document().needs_new_name()) {
    save_as();
    return workbench_.document().is_saved();
  }
  return save_to(workbench_.document().path());
}

void MainWindow::save_as() {
  const QString had =
      QFileInfo(workbench_.document().path()).fileName().section(QStringLiteral(".fairgauge.json"), 0, 0);
  const QString path = ask_where_to_save(page_room_, tr("Save the bench"),
                                         had.isEmpty() ? text_of(workbench_.bench().name) : had, kinds_of_bench());
  if (!path.isEmpty()) save_to(path);
}

bool MainWindow::may_leave() {
  if (workbench_.document().is_saved()) return true;
  QMessageBox question(QMessageBox::NoIcon, tr("Unsaved changes"), tr("Save the changes to this bench first?"),
                       QMessageBox::NoButton, this);
  auto* keep = question.addButton(tr("Save"), QMessageBox::AcceptRole);
  auto* drop = question.addButton(tr("Leave without saving"), QMessageBox::DestructiveRole);
  question.addButton(tr("Stay"), QMessageBox::RejectRole);
  theme_.dress(question);
  question.exec();
  if (question.clickedButton() == keep) return save();
  if (question.clickedButton() != drop) return false;
  workbench_.document().drop_leftover();
  return true;
}

void MainWindow::take_up_again() {
  const QSettings settings;
  restoreGeometry(settings.value(QStringLiteral("geometry")).toByteArray());
  const int page = settings.value(QStringLiteral("page")).toInt();
  const bool has_work = !workbench_.bench().channels.empty();  // else the start page says where to begin
  if (has_work && page > 0 && page < pages_->count()) show_page(static_cast<Page>(page));
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (urls.isEmpty()) return;
  take_file(urls.front().toLocalFile());
}

}  // namespace fair_gauge::app
