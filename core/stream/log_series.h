// One column of a log as a series in memory, for calibrating and comparing. Long logs are thinned while they are read.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

struct LogSeries {
  std::string column;
  std::vector<double> seconds;  ///< ascending; the row's number where the log has no time
  std::vector<double> raw;      ///< means of `thinned` rows each
  std::uint64_t rows = 0;
  std::uint64_t left_out = 0;  ///< rows without a number
  std::size_t thinned = 1;
};

/// The names in a log's first line. \returns them, or that this is no table
Result<std::vector<std::string>> log_columns(std::string_view text);

/// \param text    a CSV with a header; separators , ; and tab
/// \param column  its name; empty → the first that is not the time
/// \param most    points kept: longer logs are averaged over even groups of rows
/// \returns the series, or which columns there are instead
Result<LogSeries> read_log_series(std::string_view text, std::string_view column, std::size_t most = 100'000);

}  // namespace fair_gauge
