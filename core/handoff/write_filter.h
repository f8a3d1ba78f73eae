// The filter of a channel as firmware: whole numbers only, no heap, the first reading begins it.
#pragma once

#include <string>
#include <utility>

#include "bench/bench.h"

namespace fair_gauge {

/// "mean of 8", "exponential, 1/16 of each"
std::string filter_words(const KeptFilter& filter);

/// NAME_filter.h and NAME_filter.c. \param name  as C allows it
std::pair<std::string, std::string> write_filter_c(const std::string& name, const KeptFilter& filter);
/// NAME_filter.py
std::string write_filter_python(const KeptFilter& filter);

}  // namespace fair_gauge
