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

// One picture after the other, each as the last has left the window.
class Photographer {
 public:
  Photographer(MainWindow& window, Theme& theme, Workbench& workbench, const QString& folder)
      : window_(window), theme_(theme), workbench_(workbench), folder_(folder) {}

  Result<int> take_all() {
    QDir().mkpath(folder_);
    window_.show();
    take_choosing();
    take_wiring();
    take_reading();
    workbench_.choose_channel("substrate");
    take_correcting();
    take_watching();
    workbench_.choose_channel("substrate");
    take_handing_over();
    take_what_is_wrong();
    take_books();
    if (failed_.isEmpty()) return written_;
    return Problem{translated("a picture could not be written"),
                   translated("a folder that can be written to"),
                   {.file = failed_.toStdString()}};
  }

 private:
  void shoot(const QString& name) {
    let_pass(400);
    const QString path = QDir(folder_).filePath(name + QStringLiteral(".png"));
    if (window_.grab().save(path))
      ++written_;
    else
      failed_ = path;
  }

  void take_choosing() {
    workbench_.choose_stage(StageName::front_end);
    window_.show_page(Page::home);
    shoot(QStringLiteral("home"));
    window_.show_page(Page::choose);
    auto* choose = &window_.choose();
    choose->set_need({.from = 5, .to = 35, .allowed = 0.5});
    let_pass(600);
    choose->choose("ntc-10k-3950");
    shoot(QStringLiteral("choose"));
  }

  void take_wiring() {
    const Theme::Tone tone = theme_.tone(), other = tone == Theme::Tone::light ? Theme::Tone::dark : Theme::Tone::light;
    window_.show_page(Page::wire);
    shoot(QStringLiteral("wire"));
    auto* wire = &window_.wire();
    wire->show_view(1);
    shoot(QStringLiteral("wire-circuit"));
    const char* const shared[] = {"board", "board-bus"};
    for (int view = 0; view < 2; ++view) {
      window_.show_view(Page::board, view);
      if (view == 0) window_.findChild<BenchView*>()->choose({ThingKind::converter, "bridge24"});
      shoot(QString::fromLatin1(shared[view]));
    }
    window_.show_view(Page::wire, 4);
    theme_.set_tone(other);
    let_pass(200);
    for (const auto& [field, shown] : {std::pair{"meter_at_0", "9k1"}, {"meter_at_1", "1.79 V"}}) {  // made up
      auto* meter = window_.findChild<QuantityField*>(QLatin1String(field));
      meter->setText(QLatin1String(shown));
      emit meter->textEdited(meter->text());
      QKeyEvent enter(QEvent::KeyPress, Qt::Key_Return, Qt::NoModifier);
      QApplication::sendEvent(meter, &enter);
    }
    shoot(QStringLiteral("wire-meter-dark"));
    window_.show_view(Page::wire, 0);
    theme_.set_tone(tone);
  }

  void take_reading() {
    const StandIn board;
    window_.show_page(Page::read);
    window_.findChild<QComboBox*>(QStringLiteral("port"))->setCurrentText(board.path());
    window_.findChild<QPushButton*>(QStringLiteral("connect"))->click();
    let_pass(1500);
    shoot(QStringLiteral("read"));
    workbench_.stop_listening();
    workbench_.choose_channel("room");
    auto* read = &window_.read();
    read->show_view(1);
    shoot(QStringLiteral("read-bytes"));
    workbench_.listen_to_simulation();
  }

  void take_correcting() {
    window_.show_page(Page::correct);
    auto* correct = &window_.correct();
    auto* calibrate = window_.findChild<CalibrateView*>();
    std::vector<RecordedPoint> points;
    const double taken[][2] = {
        {5.05, 5.21}, {14.92, 15.12}, {24.60, 24.83}, {34.71, 34.99}, {44.83, 45.18}};  // made up
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
    window_.findChild<QPushButton*>(QStringLiteral("run_trials"))->click();
    let_pass(1500);
    shoot(QStringLiteral("correct-budget"));
    workbench_.choose_channel("rack");
    correct->show_view(2);
    shoot(QStringLiteral("correct-compare"));
  }

  void take_watching() {
    workbench_.choose_channel("substrate");
    window_.show_page(Page::watch);
    window_.watch().compare({"substrate", "room", "room_humidity"}, Arrangement::lanes);
    let_pass(1200);
    shoot(QStringLiteral("watch"));
    window_.watch().compare({"substrate"}, Arrangement::lanes);
    workbench_.choose_channel("spawn_fridge");
    window_.show_view(Page::watch, 2);
    let_pass(1200);
    shoot(QStringLiteral("watch-switch"));
  }

  void take_handing_over() {
    window_.show_page(Page::handoff);
    for (QDeadlineTimer end(20'000); !window_.handoff().handoff() && !end.hasExpired();) let_pass(50);
    shoot(QStringLiteral("handoff"));
  }

  void take_what_is_wrong() {
    window_.show_view(Page::read, 4);
    window_.findChild<QLineEdit*>(QStringLiteral("mistake_input"))->setText(QStringLiteral("1873"));
    auto* shown = window_.findChild<QLineEdit*>(QStringLiteral("mistake_shown"));
    shown->setText(QStringLiteral("92.05"));
    emit shown->textEdited(shown->text());
    let_pass(1200);
    shoot(QStringLiteral("read-mistake"));
    window_.show_view(Page::read, 5);
    auto* practice = window_.findChild<PracticeView*>();
    practice->draw(11);
    for (QDeadlineTimer end(20'000); !practice->in_hand() && !end.hasExpired();) let_pass(50);
    for (const char* probe : {"practice_raw", "practice_pin", "practice_second"})
      window_.findChild<QPushButton*>(QString::fromLatin1(probe))->click();
    shoot(QStringLiteral("read-practise"));
  }

  void take_books() {
    window_.show_page(Page::logbook);
    window_.findChild<QListWidget*>(QStringLiteral("logbook_list"))->setCurrentRow(3);
    shoot(QStringLiteral("logbook"));
    window_.begin_bench({});
    shoot(QStringLiteral("start"));
  }

  MainWindow& window_;
  Theme& theme_;
  Workbench& workbench_;
  const QString folder_;
  int written_ = 0;
  QString failed_;
};

}  // namespace

Result<int> take_screenshots(MainWindow& window, Theme& theme, Workbench& workbench, const QString& folder) {
  return Photographer(window, theme, workbench, folder).take_all();
}

}  // namespace fair_gauge::app
