#include "stream/log_series.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "quantity/day.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '"')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '"' || text.back() == '\r')) text.remove_suffix(1);
  return text;
}

char separator_of(std::string_view line) {
  return line.find(';') != std::string_view::npos ? ';' : line.find('\t') != std::string_view::npos ? '\t' : ',';
}

std::string_view next_line(std::string_view text, std::size_t& at) {
  const std::size_t end = std::min(text.find('\n', at), text.size());
  const std::string_view line = text.substr(at, end - at);
  at = end + 1;
  return line;
}

std::string_view cell_of(std::string_view line, char separator, std::size_t column) {
  for (; column > 0; --column) {
    const std::size_t mark = line.find(separator);
    if (mark == std::string_view::npos) return {};
    line.remove_prefix(mark + 1);
  }
  return trimmed(line.substr(0, line.find(separator)));
}

// Seconds as a number, or a moment "2026-11-24T22:31:05".
double time_of(std::string_view cell) {
  if (const auto number = parse_number(cell)) return *number;
  const auto day = cell.size() >= 19 ? day_from_text(cell.substr(0, 10)) : std::nullopt;
  if (!day) return std::nan("");
  const auto hours = parse_number(cell.substr(11, 2)), minutes = parse_number(cell.substr(14, 2)),
             seconds = parse_number(cell.substr(17, 2));
  return hours && minutes && seconds ? *day * 86400.0 + *hours * 3600 + *minutes * 60 + *seconds : std::nan("");
}

bool is_time(std::string_view name) {
  return name == "time" || name == "seconds" || name == "timestamp" || name == "t";
}

}  // namespace

Result<std::vector<std::string>> log_columns(std::string_view text) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  std::size_t at = 0;
  const std::string_view head = next_line(text, at);
  std::vector<std::string> names;
  const char separator = separator_of(head);
  for (std::size_t from = 0; from <= head.size();) {
    const std::size_t to = std::min(head.find(separator, from), head.size());
    names.emplace_back(trimmed(head.substr(from, to - from)));
    from = to + 1;
  }
  if (names.size() == 1 && names.front().empty())
    return Problem{"the log is empty", "a header and rows of numbers", {.line = 1}};
  return names;
}

Result<LogSeries> read_log_series(std::string_view text, std::string_view column, std::size_t most) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  const auto names = log_columns(text);
  if (!names) return names.problem();
  const auto time = std::ranges::find_if(*names, [](const std::string& name) { return is_time(name); });
  auto wanted = std::ranges::find(*names, column);
  if (column.empty()) wanted = std::ranges::find_if(*names, [](const std::string& name) { return !is_time(name); });
  if (wanted == names->end())
    return Problem{fmt::format("the log has no column \"{}\"", column),
                   fmt::format("one of {}", fmt::join(*names, ", ")),
                   {.line = 1}};
  const auto place = static_cast<std::size_t>(wanted - names->begin()),
             time_place = static_cast<std::size_t>(time - names->begin());
  LogSeries series{.column = *wanted};
  const auto rows = static_cast<std::size_t>(std::ranges::count(text, '\n'));
  series.thinned = std::max<std::size_t>(1, (rows + most - 1) / std::max<std::size_t>(1, most));
  std::size_t at = 0, in_group = 0;
  const char separator = separator_of(next_line(text, at));
  double time_sum = 0, sum = 0, before = -1e300;
  while (at < text.size()) {
    const std::string_view line = next_line(text, at);
    if (trimmed(line).empty()) continue;
    ++series.rows;
    const auto number = parse_number(cell_of(line, separator, place));
    const double seconds =
        time == names->end() ? static_cast<double>(series.rows - 1) : time_of(cell_of(line, separator, time_place));
    if (!number || !std::isfinite(seconds) || seconds < before) {
      ++series.left_out;
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
  if (series.raw.empty())
    return Problem{fmt::format("the column \"{}\" holds no numbers", series.column), "a column of raw numbers"};
  return series;
}

}  // namespace fair_gauge
