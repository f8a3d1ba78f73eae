// Moments as logs write them.
#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fair_gauge {

/// What a number means where a time stands.
enum class TimeForm {
  seconds,
  milliseconds,
  days,         ///< since 1899-12-30, as spreadsheets count them
  month_first,  ///< 11/30/2026
  day_first     ///< 30/11/2026
};

/// Seconds as a number, or a moment of ISO 8601,
/// "2026-11-24T22:31:05.25+01:00", as seconds since 1970; a moment without a zone counts as UTC; seconds, or the time
/// of day, may be missing; the day may be written 24.11.2026 or 2026/11/24, the time of day 9:05 or 3:50 PM. A day
/// with strokes and the year last needs `form` to say which field is the month. Not a number for anything else.
double moment_of(std::string_view cell, TimeForm form = TimeForm::seconds);

/// Which field of days with the year last is the month: by one beyond twelve, or by AM and PM, which are written where
/// the month stands first. Nothing → they do not tell, or are written otherwise.
std::optional<TimeForm> order_of_days(const std::vector<std::string>& moments);

/// "2026-11-24T22:31:05.250Z". \param seconds  since 1970
std::string moment_text(double seconds);

/// Whether a column of that name holds the time of a row.
bool names_time(std::string_view column);

/// Whether its heading says that it counts milliseconds: "millis", "time (ms)", "t_ms".
bool names_milliseconds(std::string_view column);

/// Where the time of a row stands: in one cell, or the day in one and the time of day in another.
struct TimePlaces {
  std::optional<std::size_t> moment;
  std::optional<std::size_t> of_day;

  /// As a row writes it, both cells with a space between. \param cell  of a place: a view of the row
  std::string text(const std::function<std::string_view(std::size_t)>& cell) const;
  /// Seconds since 1970 or as the log counts them; not a number where there is no column or its cell is none.
  double seconds(const std::vector<std::string_view>& cells, TimeForm form) const;
};
/// By the names of a heading's columns.
TimePlaces time_places(const std::vector<std::string_view>& names);

}  // namespace fair_gauge
