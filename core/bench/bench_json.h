// A bench ↔ a JSON object. The file around it lives in bench_file.h.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "files/json_document.h"
#include "language/translation.h"

namespace fair_gauge {

/// Fills `bench` from an object. Faulty fields keep their default and are named in `problems`.
/// \returns where each problem stands, as a JSON pointer
std::vector<std::string> read_bench(const JsonDocument& document, const Json& root, Bench& bench,
                                    std::vector<Problem>& problems, std::vector<Problem>& warnings,
                                    Texts texts = Texts::as_written);

Json bench_json(const Bench& bench);

}  // namespace fair_gauge
