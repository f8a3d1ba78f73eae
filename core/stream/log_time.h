// Moments as logs write them.
#pragma once

#include <string>
#include <string_view>

namespace fair_gauge {

/// What a number means where a time stands.
enum class TimeForm {
  seconds,
  milliseconds,
  days  ///< since 1899-12-30, as spreadsheets count them
};

/// Seconds as a number, or a moment of ISO 8601,
/// "2026-11-24T22:31:05.25+01:00", as seconds since 1970; a moment without a zone counts as UTC; seconds, or the time
/// of day, may be missing. Not a number for anything else.
double moment_of(std::string_view cell, TimeForm form = TimeForm::seconds);

/// "2026-11-24T22:31:05.250Z". \param seconds  since 1970
std::string moment_text(double seconds);

/// Whether a column of that name holds the time of a row.
bool names_time(std::string_view column);

}  // namespace fair_gauge
