// The bench as a file: NAME.fairgauge.json, described by data/schema/bench.schema.json.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "language/translation.h"
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
  std::vector<Problem> warnings;  ///< keys that are not known, or stand twice
  std::map<std::string, Problem>
      faulty_channels;  ///< that hang on a faulty value: they have no reading, and this is why
};

/// Reads a bench. What is good is kept; a file that is no bench at all is a problem instead.
Result<LoadedBench> load_bench(const std::string& path, Texts texts = Texts::as_written);

/// The same from a text.
Result<LoadedBench> bench_from_text(std::string text, const std::string& file, Texts texts = Texts::as_written);

/// The bench as JSON text.
std::string bench_to_text(const Bench& bench);

/// Writes a bench atomically.
Result<std::size_t> save_bench(const Bench& bench, const std::string& path);

/// A fault with the JSON pointer to where it stands.
struct FaultAt {
  std::string pointer;
  Problem problem;
};

/// Names that lead nowhere and ids used twice.
std::vector<FaultAt> reference_problems(const Bench& bench, const JsonDocument& document);

}  // namespace fair_gauge
