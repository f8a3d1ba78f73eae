// The demonstration bench and catalogue, as most core tests want them.
#pragma once

#include <gtest/gtest.h>

#include <string>

#include "../built.h"
#include "bench/bench_file.h"
#include "chain/chain.h"
#include "parts/catalogue.h"

namespace fair_gauge {

inline const std::string demo_path = std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow.fairgauge.json";

inline Bench demo_bench() { return load_bench(demo_path)->bench; }

inline const Catalogue& shipped_parts() {
  static const Catalogue catalogue = [] {
    Catalogue all;
    const auto problems = all.add_folder(std::string(FAIR_GAUGE_SOURCE) + "/data/parts");
    for (const Problem& problem : problems) ADD_FAILURE() << to_text(problem);
    return all;
  }();
  return catalogue;
}

inline Chain demo_chain(const std::string& channel, const Bench& bench = demo_bench()) {
  return *build_chain(bench, shipped_parts(), channel);
}

}  // namespace fair_gauge
