// What is typed as a formula or as one's own arithmetic, and what a logbook holds.
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <string>

#include "bench/bench_file.h"
#include "fuzz/targets.h"
#include "handoff/own_arithmetic.h"
#include "logbook/logbook.h"
#include "parts/expression.h"

int fuzz_words(const std::uint8_t* bytes, std::size_t size) {
  using namespace fair_gauge;
  const std::string text(reinterpret_cast<const char*>(bytes), size);
  static const Chain chain = [] {
    const auto bench = load_bench(std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow.fairgauge.json");
    auto chain = bench ? build_chain(bench->bench, load_catalogue(), "board") : Result<Chain>(Problem{});
    if (!chain) std::abort();
    return std::move(*chain);
  }();
  if (const auto formula = Expression::read(text, {{"a", 1.5}})) (void)formula->at(2);
  for (const int int_bits : {16, 32})
    if (const auto verdict = check_own_arithmetic(chain, text, int_bits))
      (void)own_verdict_words(*verdict, *chain.shown);
  if (const auto entry = entry_from_text(text)) (void)entry_to_text(*entry);
  if (const auto points = points_from_text(text)) (void)points_to_text(*points);
  return 0;
}
