#include "stream/log_series.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/delimited.h"
#include "language/translation.h"
#include "quantity/quantity_text.h"
#include "stream/log_dialect.h"
#include "stream/log_heading.h"

namespace fair_gauge {

Result<std::vector<std::string>> log_columns(std::string_view text) {
  std::string_view head;
  Rows rows(from_heading(text));
  rows.next(head);
  head = heading_text(head);
  std::vector<std::string> names;
  for (const std::string_view cell : cells_of(head, log_separator_of(head))) names.emplace_back(cell);
  if (names.size() == 1 && names.front().empty())
    return Problem{translated("the log is empty"), translated("a header and rows of numbers"), {.line = 1}};
  return names;
}

Result<LogSeries> read_log_series(std::string_view text, std::string_view column, std::size_t most) {
  const auto names = log_columns(text);
  if (!names) return names.problem();
  text = from_heading(text);
  const TimePlaces time = time_places({names->begin(), names->end()});
  auto wanted = std::ranges::find(*names, column);
  if (column.empty()) wanted = std::ranges::find_if(*names, [](const std::string& name) { return !names_time(name); });
  if (wanted == names->end())
    return Problem{translated("the log has no column \"{}\"", column),
                   translated("one of {}", fmt::join(*names, ", ")),
                   {.line = 1}};
  const auto place = static_cast<std::size_t>(wanted - names->begin());
  LogSeries series{.column = *wanted};
  const auto lines = static_cast<std::size_t>(std::ranges::count(text, '\n'));
  series.thinned = std::max<std::size_t>(1, (lines + most - 1) / std::max<std::size_t>(1, most));
  std::size_t in_group = 0, untimed = 0;
  Rows rows(text);
  std::string_view line;
  rows.next(line);
  const LogDialect dialect = dialect_of(text.substr(0, 1u << 16));
  const char separator = dialect.separator;
  double time_sum = 0, sum = 0, before = -1e300;
  while (rows.next(line)) {
    if (trimmed(line).empty()) continue;
    ++series.rows;
    const auto cells = cells_of(line, separator);
    const auto cell = [&](std::size_t i) { return i < cells.size() ? cells[i] : std::string_view(); };
    const auto number = parse_number(cell(place));
    const double seconds = time.moment ? time.seconds(cells, dialect.time) : static_cast<double>(series.rows - 1);
    if (!number || !std::isfinite(seconds) || seconds < before) {
      ++series.left_out;
      untimed += number && !std::isfinite(seconds) ? 1 : 0;
      continue;
    }
    before = seconds;
    time_sum += seconds;
    sum += *number;
    if (++in_group < series.thinned) continue;
    series.seconds.push_back(time_sum / static_cast<double>(in_group));
    series.raw.push_back(sum / static_cast<double>(in_group));
    time_sum = sum = 0;
    in_group = 0;
  }
  if (in_group > 0) {
    series.seconds.push_back(time_sum / static_cast<double>(in_group));
    series.raw.push_back(sum / static_cast<double>(in_group));
  }
  if (series.raw.empty() && untimed > 0)
    return Problem{translated("no row with a number has a time that can be read"),
                   translated("times as 2026-11-24T22:31:05 or in seconds")};
  if (series.raw.empty())
    return Problem{translated("the column \"{}\" holds no numbers", series.column),
                   translated("a column of raw numbers")};
  return series;
}

}  // namespace fair_gauge
