// The bench as a file: NAME.fairgauge.json, described by data/schema/bench.schema.json.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "quantity/result.h"

namespace fair_gauge {

struct JsonDocument;

/// The version of the file format this program writes. Older ones are migrated, newer ones refused.
inline constexpr int bench_format_version = 1;

/// Most channels a bench may have; beyond that the file is refused, not the program overrun.
inline constexpr std::size_t most_channels = 500;

struct LoadedBench {
  Bench bench;
  std::vector<Problem> problems;  ///< faults that were passed over; the rest of the file is in `bench`
};

/// Reads a bench. What is good is kept; a file that is no bench at all is a problem instead.
Result<LoadedBench> load_bench(const std::string& path);

/// The same from a text.
Result<LoadedBench> bench_from_text(std::string text, const std::string& file);

/// The bench as JSON text.
std::string bench_to_text(const Bench& bench);

/// Writes a bench atomically.
Result<std::size_t> save_bench(const Bench& bench, const std::string& path);

/// Names that lead nowhere and ids used twice.
std::vector<Problem> reference_problems(const Bench& bench, const JsonDocument& document);

}  // namespace fair_gauge
