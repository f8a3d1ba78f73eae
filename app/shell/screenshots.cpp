#include "shell/screenshots.h"

#include <QApplication>
#include <QComboBox>
#include <QDeadlineTimer>
#include <QDir>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QProcess>
#include <QPushButton>
#include <functional>

#include "board/bench_view.h"
#include "board/board_page.h"
#include "choose/choose_page.h"
#include "correct/correct_page.h"
#include "handoff/handoff_page.h"
#include "language/translation.h"
#include "read/practice_view.h"
#include "read/read_page.h"
#include "watch/watch_page.h"
#include "wire/wire_page.h"

namespace fair_gauge::app {
namespace {

void let_pass(int milliseconds) {
  for (QDeadlineTimer end(milliseconds); !end.hasExpired();)
    QApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents, 20);
}

// The stand-in beside this program, sending the demonstration bench over a pseudo-terminal.
class StandIn {
 public:
  StandIn() {
    const QDir here(QApplication::applicationDirPath());
    const QString beside = here.filePath(QStringLiteral("fair-gauge-stand-in"));
    process_.start(QFile::exists(beside) ? beside : here.filePath(QStringLiteral("../standin/fair-gauge-stand-in")),
                   {QStringLiteral("--rate"), QStringLiteral("20"), QStringLiteral("--garble"), QStringLiteral("11"),
                    QStringLiteral("--start"), QStringLiteral("52200")});
    if (process_.waitForStarted() && process_.waitForReadyRead(3000))
      path_ = QString::fromUtf8(process_.readLine()).trimmed();
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
  const Theme::Tone tone = theme.tone(), other = tone == Theme::Tone::light ? Theme::Tone::dark : Theme::Tone::light;
  workbench.choose_stage(StageName::front_end);
  window.show_page(Page::home);
  shoot(QStringLiteral("home"));
  window.show_page(Page::choose);
  auto* choose = &window.choose();
  choose->set_need({.from = 5, .to = 35, .allowed = 0.5});
  let_pass(600);
  choose->choose("ntc-10k-3950");
  shoot(QStringLiteral("choose"));
  window.show_page(Page::wire);
  shoot(QStringLiteral("wire"));
  auto* wire = &window.wire();
  wire->show_view(1);
  shoot(QStringLiteral("wire-circuit"));
  const char* const shared[] = {"board", "board-bus"};
  for (int view = 0; view < 2; ++view) {
    window.show_view(Page::board, view);
    if (view == 0) window.findChild<BenchView*>()->choose({ThingKind::converter, "bridge24"});
    shoot(QString::fromLatin1(shared[view]));
  }
  window.show_view(Page::wire, 4);
  theme.set_tone(other);
  let_pass(200);
  for (const auto& [field, shown] : {std::pair{"meter_at_0", "9k1"}, {"meter_at_1", "1.79 V"}}) {  // made up
    auto* meter = window.findChild<QuantityField*>(QLatin1String(field));
    meter->setText(QLatin1String(shown));
    emit meter->textEdited(meter->text());
    QKeyEvent enter(QEvent::KeyPress, Qt::Key_Return, Qt::NoModifier);
    QApplication::sendEvent(meter, &enter);
  }
  shoot(QStringLiteral("wire-meter-dark"));
  window.show_view(Page::wire, 0);
  theme.set_tone(tone);
  const StandIn board;
  window.show_page(Page::read);
  window.findChild<QComboBox*>(QStringLiteral("port"))->setCurrentText(board.path());
  window.findChild<QPushButton*>(QStringLiteral("connect"))->click();
  let_pass(1500);
  shoot(QStringLiteral("read"));
  workbench.stop_listening();
  workbench.choose_channel("room");
  auto* read = &window.read();
  read->show_view(1);
  shoot(QStringLiteral("read-bytes"));
  workbench.listen_to_shed();
  workbench.choose_channel("substrate");
  window.show_page(Page::correct);
  auto* correct = &window.correct();
  auto* calibrate = window.findChild<CalibrateView*>();
  std::vector<RecordedPoint> points;
  const double taken[][2] = {{5.05, 5.21}, {14.92, 15.12}, {24.60, 24.83}, {34.71, 34.99}, {44.83, 45.18}};  // made up
  for (const auto& [reference, reading] : taken) {
    RecordedPoint& point = points.emplace_back();
    point.reference = reference;
    point.reference_standard = 0.03;
    point.reading = reading;
    point.spread = 0.02;
    point.readings = 30;
  }
  calibrate->set_points(points);
  shoot(QStringLiteral("correct"));
  calibrate->set_points({});
  correct->show_view(1);
  let_pass(200);
  window.findChild<QPushButton*>(QStringLiteral("run_trials"))->click();
  let_pass(1500);
  shoot(QStringLiteral("correct-budget"));
  workbench.choose_channel("rack");
  correct->show_view(2);
  shoot(QStringLiteral("correct-compare"));
  workbench.choose_channel("substrate");
  window.show_page(Page::watch);
  window.watch().compare({"substrate", "room", "room_humidity"}, Arrangement::lanes);
  let_pass(1200);
  shoot(QStringLiteral("watch"));
  window.watch().compare({"substrate"}, Arrangement::lanes);
  workbench.choose_channel("spawn_fridge");
  window.show_view(Page::watch, 2);
  let_pass(1200);
  shoot(QStringLiteral("watch-switch"));
  workbench.choose_channel("substrate");
  window.show_page(Page::handoff);
  for (QDeadlineTimer end(20'000); !window.handoff().handoff() && !end.hasExpired();) let_pass(50);
  shoot(QStringLiteral("handoff"));
  window.show_view(Page::read, 4);
  window.findChild<QLineEdit*>(QStringLiteral("mistake_input"))->setText(QStringLiteral("1873"));
  auto* shown = window.findChild<QLineEdit*>(QStringLiteral("mistake_shown"));
  shown->setText(QStringLiteral("92.05"));
  emit shown->textEdited(shown->text());
  let_pass(1200);
  shoot(QStringLiteral("read-mistake"));
  window.show_view(Page::read, 5);
  auto* practice = window.findChild<PracticeView*>();
  practice->draw(11);
  for (QDeadlineTimer end(20'000); !practice->in_hand() && !end.hasExpired();) let_pass(50);
  for (const char* probe : {"practice_raw", "practice_pin", "practice_second"})
    window.findChild<QPushButton*>(QString::fromLatin1(probe))->click();
  shoot(QStringLiteral("read-practise"));
  window.show_page(Page::logbook);
  window.findChild<QListWidget*>(QStringLiteral("logbook_list"))->setCurrentRow(3);
  shoot(QStringLiteral("logbook"));
  window.begin_bench({});
  shoot(QStringLiteral("start"));
  if (!failed.isEmpty())
    return Problem{translated("a picture could not be written"),
                   translated("a folder that can be written to"),
                   {.file = failed.toStdString()}};
  return written;
}

}  // namespace fair_gauge::app
