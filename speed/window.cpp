// From a typed value to a repainted window: the time one edit in the strip takes until every view shows it.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <QStyleFactory>

#include "shell/main_window.h"

namespace {

using namespace fair_gauge;
using namespace fair_gauge::app;

void edit_and_repaint(benchmark::State& state) {
  Theme theme;
  Theme::load_faces();
  theme.set_tone(Theme::Tone::light);
  Workbench workbench;
  MainWindow window(theme, workbench);
  window.open_demonstration();
  workbench.stop_listening();
  window.show();
  QApplication::processEvents();
  QImage screen(window.size(), QImage::Format_ARGB32_Premultiplied);
  double world = 10;
  for (auto _ : state) {
    world = world > 40 ? 10 : world + 0.1;
    workbench.hold({StageName::world, world});
    QApplication::processEvents();  // the repaint of everything that changed, plot included
  }
}
BENCHMARK(edit_and_repaint)->Unit(benchmark::kMillisecond);

}  // namespace

int main(int count, char** words) {
  QApplication application(count, words);
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  benchmark::Initialize(&count, words);
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
