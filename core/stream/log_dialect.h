// How a log is written: what parts its cells and what its times mean, found from its first lines or as somebody said.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "stream/log_time.h"

namespace fair_gauge {

struct LogDialect {
  char separator = ',';  ///< comma, semicolon, tab or space
  TimeForm time = TimeForm::seconds;
  bool decimal_comma = false;  ///< seen in its first rows; understood in any case

  bool operator==(const LogDialect&) const = default;
};

/// What somebody says of a log; nothing → as it is found.
struct LogChoice {
  std::optional<char> separator;
  std::optional<TimeForm> time;
  std::string column = {};  ///< that holds the raw numbers; empty → the channel's id, then "counts"

  bool operator==(const LogChoice&) const = default;
};

/// A semicolon, else a tab, else a comma, else spaces, by what a heading has outside its quotes.
char log_separator_of(std::string_view heading);

/// \param beginning  of the log, from its heading (from_heading); a few dozen rows are enough
/// Times are days of a spreadsheet where they lie between 1954 and 2119 as such, closer together than an hour and
/// with the many decimals that they need; else seconds, or milliseconds where their heading says so or where they are
/// beyond the year 5000 as seconds.
LogDialect dialect_of(std::string_view beginning, const LogChoice& choice = {});

/// "semicolons, decimal comma, times in days of a spreadsheet"; empty for commas and seconds or moments.
std::string words_of(const LogDialect& dialect, bool was_utf16 = false);

}  // namespace fair_gauge
