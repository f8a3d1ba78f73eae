// From a typed value to a repainted window: the time one edit in the strip takes until every view shows it, while the
// simulated environment goes on sending.
#include <QApplication>
#include <QElapsedTimer>
#include <QStyleFactory>
#include <algorithm>
#include <cstdio>
#include <vector>

#include "shell/main_window.h"

int main(int count, char** words) {
  using namespace fair_gauge;
  using namespace fair_gauge::app;
  QApplication application(count, words);
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  Theme theme;
  Theme::load_faces();
  Workbench workbench;
  MainWindow window(theme, workbench);
  window.open_demonstration();
  window.show();
  QApplication::processEvents();
  // Pages that were looked at before must not slow an edit down either.
  for (const auto& [page, name, views] : MainWindow::page_names())
    for (int view = 0; view < std::max(1, static_cast<int>(views.size())); ++view) {
      window.show_view(page, view);
      QApplication::processEvents();
    }
  window.show_view(Page::wire, 0);
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
  return 0;
}
