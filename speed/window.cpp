// `speed_window [LOG]`, `speed_window --day RECORDING`
// From a typed value to a repainted window: the time one edit in the strip takes until every view shows it, while the
// simulated environment goes on sending.
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QStyleFactory>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <fstream>
#include <vector>

#include <unistd.h>

#include "shell/main_window.h"
#include "shell/memory.h"
#include "sources/recording.h"
#include "sources/simulated_source.h"
#include "watch/log_plot.h"
#include "watch/watch_page.h"

namespace {

using namespace fair_gauge;
using namespace fair_gauge::app;

// A log in Watch: to its first picture, until it is judged, and one step of dragging and zooming through all of it.
void watch_log(MainWindow& window, Workbench& workbench, const QString& path) {
  workbench.choose_channel("substrate");
  window.show_view(Page::watch, 0);
  QApplication::processEvents();
  const WatchLog& log = window.watch().log();
  QElapsedTimer clock;
  double first = 0, whole = 0;
  QObject::connect(&log, &WatchLog::partly, &log, [&] {
    QTimer::singleShot(0, [&] {  // painted by then
      whole = static_cast<double>(clock.elapsed());
      if (first == 0) first = whole;
    });
  });
  clock.start();
  window.watch().open(path);
  while (log.is_reading()) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 20);
  QApplication::processEvents();
  std::printf("log: first picture %.0f ms, whole %.0f ms, judged %lld ms, %zu rows\n", first, whole, clock.elapsed(),
              log.watched() ? log.watched()->log->rows.size() : 0);
  const auto rows = static_cast<double>(log.watched()->log->rows.size());
  auto* plot = window.watch().findChild<LogPlot*>();
  std::vector<double> times;
  for (int i = 0; i < 200; ++i) {
    // Ever closer in, and across.
    const double width = rows / std::pow(1.08, i % 100), from = (rows - width) * (i % 17) / 17;
    clock.start();
    plot->bring_into_view(static_cast<std::size_t>(from), static_cast<std::size_t>(from + width / 3));
    QApplication::processEvents();
    times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
  }
  std::sort(times.begin(), times.end());
  std::printf("pan: median %.1f ms, 95th percentile %.1f ms\n", times[times.size() / 2],
              times[times.size() * 95 / 100]);
}

// The share of a core that the window takes while the simulated environment sends and nobody touches it.
double idle_share() {
  constexpr int ms = 8000;
  const auto settled = [](int wait_ms) {
    QEventLoop loop;
    QTimer::singleShot(wait_ms, &loop, &QEventLoop::quit);
    loop.exec();
    return static_cast<double>(std::clock()) / CLOCKS_PER_SEC;  // of all threads
  };
  const double before = settled(1500);
  return (settled(ms) - before) / ms * 1000;
}

double resident_mb() {
  std::ifstream file("/proc/self/statm");
  double all = 0, resident = 0;
  file >> all >> resident;
  return resident * static_cast<double>(::sysconf(_SC_PAGESIZE)) / 1e6;
}

void visit_every_view(MainWindow& window) {
  for (const auto& [page, name, views] : MainWindow::page_names())
    for (int view = 0; view < std::max(1, static_cast<int>(views.size())); ++view) {
      window.show_view(page, view);
      QApplication::processEvents();
    }
  window.show_view(Page::wire, 0);
}

// Memory over a day of readings, each through the window as if it came now, and all of them recorded.
void pass_a_day(MainWindow& window, Workbench& workbench, const QString& recording) {
  auto* simulated = dynamic_cast<SimulatedSource*>(&workbench.source());
  window.show_view(Page::wire, 0);
  if (!simulated || !window.watch().record_to(recording).isEmpty()) return;
  constexpr int day_s = 86400, at_once_s = 10;
  for (int passed = 0; passed < day_s; passed += at_once_s) {
    simulated->run(at_once_s);
    QApplication::processEvents();
  }
  const double after = resident_mb();
  visit_every_view(window);
  std::printf("day: %.0f MB, every view visited %.0f MB, %llu readings recorded\n", after, resident_mb(),
              static_cast<unsigned long long>(workbench.recording().rows()));
}

}  // namespace

int main(int count, char** words) {
  share_one_heap();
  QApplication application(count, words);
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  Theme theme;
  Theme::load_faces();
  Workbench workbench;
  MainWindow window(theme, workbench);
  window.open_demonstration();
  window.show();
  QApplication::processEvents();
  give_freed_memory_back();
  if (count > 2) {
    pass_a_day(window, workbench, QString::fromLocal8Bit(words[2]));
    return 0;
  }
  visit_every_view(window);  // pages that were looked at before must not slow an edit down either
  QApplication::processEvents();
  std::vector<double> times;
  double world = 10;
  for (int i = 0; i < 400; ++i) {
    world = world > 40 ? 10 : world + 0.1;
    QElapsedTimer clock;
    clock.start();
    workbench.hold({StageName::world, world});
    QApplication::processEvents();  // the repaint of everything that changed, plot included
    times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
  }
  std::sort(times.begin(), times.end());
  std::printf("edit: median %.1f ms, 95th percentile %.1f ms\n", times[times.size() / 2],
              times[times.size() * 95 / 100]);
  // The same where the bench itself changes: every chain is anew.
  workbench.return_to_live();
  times.clear();
  for (int i = 0; i < 100; ++i) {
    QElapsedTimer clock;
    clock.start();
    workbench.document().edit(QStringLiteral("Wanted"), [i](Bench& bench) { bench.channels[0].tolerance = 0.5 + i; });
    QApplication::processEvents();
    times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
  }
  std::sort(times.begin(), times.end());
  std::printf("bench: median %.1f ms, 95th percentile %.1f ms\n", times[times.size() / 2],
              times[times.size() * 95 / 100]);
  std::printf("idle: %.1f %% of a core\n", 100 * idle_share());
  if (count > 1) watch_log(window, workbench, QString::fromLocal8Bit(words[1]));
  return 0;
}
