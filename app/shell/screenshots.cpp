#include "shell/screenshots.h"

#include <QApplication>
#include <QComboBox>
#include <QDeadlineTimer>
#include <QDir>
#include <QProcess>
#include <QPushButton>
#include <functional>

#include "read/read_page.h"
#include "wire/wire_page.h"

namespace fair_gauge::app {
namespace {

void let_pass(int milliseconds) {
  for (QDeadlineTimer end(milliseconds); !end.hasExpired();) QApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents, 20);
}

// The stand-in beside this program, sending the demonstration bench over a pseudo-terminal.
class StandIn {
 public:
  StandIn() {
    const QDir here(QApplication::applicationDirPath());
    const QString beside = here.filePath(QStringLiteral("fair-gauge-stand-in"));
    process_.start(QFile::exists(beside) ? beside : here.filePath(QStringLiteral("../standin/fair-gauge-stand-in")),
                   {QStringLiteral("--rate"), QStringLiteral("20"), QStringLiteral("--garble"), QStringLiteral("11"), QStringLiteral("--start"), QStringLiteral("52200")});
    if (process_.waitForStarted() && process_.waitForReadyRead(3000)) path_ = QString::fromUtf8(process_.readLine()).trimmed();
  }
  ~StandIn() {
    process_.terminate();
    process_.waitForFinished(2000);
  }
  const QString& path() const { return path_; }

 private:
  QProcess process_;
  QString path_;
};

}  // namespace

Result<int> take_screenshots(MainWindow& window, Theme& theme, Workbench& workbench, const QString& folder) {
  QDir().mkpath(folder);
  int written = 0;
  QString failed;
  const auto shoot = [&](const QString& name) {
    let_pass(400);
    const QString path = QDir(folder).filePath(name + QStringLiteral(".png"));
    if (window.grab().save(path))
      ++written;
    else
      failed = path;
  };
  window.show();
  theme.set_tone(Theme::Tone::light);
  workbench.choose_stage(StageName::front_end);
  window.show_page(Page::home);
  shoot(QStringLiteral("home"));
  window.show_page(Page::wire);
  shoot(QStringLiteral("wire"));
  auto* wire = window.findChild<WirePage*>();
  wire->show_view(1);
  shoot(QStringLiteral("wire-circuit"));
  wire->show_view(2);
  shoot(QStringLiteral("wire-values"));
  wire->show_view(3);
  shoot(QStringLiteral("wire-own-curve"));
  wire->show_view(0);
  theme.set_tone(Theme::Tone::dark);
  workbench.choose_stage(StageName::converter);
  shoot(QStringLiteral("wire-dark"));
  theme.set_tone(Theme::Tone::light);
  const StandIn board;
  window.show_page(Page::read);
  window.findChild<QComboBox*>(QStringLiteral("port"))->setCurrentText(board.path());
  window.findChild<QPushButton*>(QStringLiteral("connect"))->click();
  let_pass(1500);
  shoot(QStringLiteral("read"));
  workbench.stop_listening();
  workbench.choose_channel("room");
  auto* read = window.findChild<ReadPage*>();
  read->show_view(1);
  shoot(QStringLiteral("read-bytes"));
  read->show_view(2);
  shoot(QStringLiteral("read-registers"));
  window.show_page(Page::wire);
  wire->show_view(1);
  shoot(QStringLiteral("wire-room"));
  if (!failed.isEmpty()) return Problem{"a picture could not be written", "a folder that can be written to", {.file = failed.toStdString()}};
  return written;
}

}  // namespace fair_gauge::app
