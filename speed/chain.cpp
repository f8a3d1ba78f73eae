// What one change in the strip costs in the core: building the chain, solving it, the budget, the improvements.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <filesystem>

#include "bench/bench_file.h"
#include "choose/shortlist.h"
#include "stream/recorder.h"
#include "truth/error_budget.h"
#include "truth/monte_carlo.h"

namespace {

using namespace fair_gauge;

const Bench& bench() {
  static const Bench loaded = load_bench(FAIR_GAUGE_SOURCE "/data/demo/fernhollow.fairgauge.json")->bench;
  return loaded;
}
const Catalogue& catalogue() {
  static const Catalogue loaded = load_catalogue();
  return loaded;
}

void build(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(build_chain(bench(), catalogue(), "substrate"));
}
BENCHMARK(build);

void solve(benchmark::State& state) {
  const Chain chain = *build_chain(bench(), catalogue(), "substrate");
  for (auto _ : state) benchmark::DoNotOptimize(evaluate(chain, {StageName::world, 24.8}));
}
BENCHMARK(solve);

void budget(benchmark::State& state) {
  const Chain chain = *build_chain(bench(), catalogue(), "substrate");
  for (auto _ : state) benchmark::DoNotOptimize(error_budget(chain, 24.8));
}
BENCHMARK(budget);

void improve(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(improvements(bench(), catalogue(), "substrate", 24.8));
}
BENCHMARK(improve);

void million_trials(benchmark::State& state) {
  const Chain chain = *build_chain(bench(), catalogue(), "substrate");
  for (auto _ : state) benchmark::DoNotOptimize(monte_carlo(chain, 24.8, 1'000'000, 1));
}
BENCHMARK(million_trials)->Unit(benchmark::kMillisecond);

void rank_catalogue(benchmark::State& state) {
  for (auto _ : state)
    benchmark::DoNotOptimize(shortlist(bench(), catalogue(), Need{.from = 5, .to = 35, .allowed = 0.5}));
}
BENCHMARK(rank_catalogue)->Unit(benchmark::kMillisecond);

void catalogue_load(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(load_catalogue());
}
BENCHMARK(catalogue_load);

// A line of ten channels from its bytes to the disk; a thousand of them a second are to cost less than 50 us each.
void record_line_of_ten(benchmark::State& state) {
  const std::string path = std::filesystem::temp_directory_path() / "fair-gauge-recorded.csv";
  std::filesystem::remove(path);
  std::string line;
  for (const Channel& channel : bench().channels)
    if (std::ranges::count(line, ':') < 10) line += (line.empty() ? "" : " ") + channel.name_on_line() + ":1234";
  line += "\n";
  auto recorder = Recorder::open(bench(), catalogue(), path);
  SerialText text(true);
  double seconds = 1.7e9;
  for (auto _ : state) {
    for (const SerialLine& come : text.take(line)) recorder->take(come, seconds);
    benchmark::DoNotOptimize(recorder->tick(seconds += 0.001));
  }
  std::filesystem::remove(path);
  std::filesystem::remove(path + "-metadata.json");
}
BENCHMARK(record_line_of_ten);

}  // namespace

BENCHMARK_MAIN();
