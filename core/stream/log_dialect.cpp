#include "stream/log_dialect.h"

#include <algorithm>
#include <cmath>

#include "files/delimited.h"
#include "language/translation.h"
#include "stream/log_heading.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_rows = 60;

std::size_t decimals_in(std::string_view cell) {
  const auto mark = cell.find_last_of(".,");
  return mark == std::string_view::npos ? 0 : cell.size() - mark - 1;
}

bool has_decimal_comma(std::string_view cell) {
  const auto comma = cell.find(',');
  return comma != std::string_view::npos && comma > 0 && comma + 1 < cell.size() &&
         cell.find_first_not_of("-0123456789,") == std::string_view::npos && cell.find(',', comma + 1) == cell.npos;
}

TimeForm form_of(const std::vector<std::string_view>& cells) {
  std::vector<double> times, steps;
  std::size_t precise = 0;
  for (const std::string_view cell : cells) {
    if (cell.find_first_not_of("0123456789.,") != std::string_view::npos || cell.empty()) continue;
    times.push_back(1000 * moment_of(cell, TimeForm::milliseconds));
    precise += decimals_in(cell) >= 4 ? 1 : 0;
  }
  if (times.empty()) return TimeForm::seconds;
  constexpr double far = 1e11, first_day = 20'000, last_day = 80'000, an_hour = 1.0 / 24;
  if (std::ranges::all_of(times, [](double each) { return each >= far; })) return TimeForm::milliseconds;
  for (std::size_t i = 1; i < times.size(); ++i) steps.push_back(times[i] - times[i - 1]);
  const bool days = times.size() >= 3 && precise * 2 > times.size() &&
                    std::ranges::all_of(times, [](double each) { return each > first_day && each < last_day; }) &&
                    std::ranges::all_of(steps, [](double each) { return each >= 0 && each < an_hour; });
  return days ? TimeForm::days : TimeForm::seconds;
}

}  // namespace

char log_separator_of(std::string_view heading) {
  const char separator = separator_of(heading);
  const bool none = separator == ',' && heading.find(',') == std::string_view::npos;
  const bool spaces =
      heading.find('"') == std::string_view::npos && trimmed(heading).find(' ') != std::string_view::npos;
  return none && spaces ? ' ' : separator;
}

LogDialect dialect_of(std::string_view beginning, const LogChoice& choice) {
  LogDialect dialect;
  Rows rows(beginning);
  std::string_view line;
  while (rows.next(line) && trimmed(line).empty()) {
  }
  line = heading_text(line);
  dialect.separator = choice.separator.value_or(log_separator_of(line));
  const auto names = cells_of(line, dialect.separator);
  const TimePlaces places = time_places(names);
  const std::size_t time = places.of_day ? names.size() : places.moment.value_or(names.size());
  std::vector<std::string_view> times;
  std::vector<std::string> moments;
  for (std::size_t i = 0; i < most_rows && rows.next(line); ++i) {
    const auto cells = cells_of(line, dialect.separator);
    if (time < cells.size()) times.push_back(cells[time]);
    moments.push_back(places.text([&](std::size_t at) { return at < cells.size() ? cells[at] : std::string_view(); }));
    dialect.decimal_comma =
        dialect.decimal_comma || (dialect.separator != ',' && std::ranges::any_of(cells, has_decimal_comma));
  }
  const bool says_so = time < names.size() && names_milliseconds(names[time]);
  const auto days = order_of_days(moments);
  dialect.time = choice.time.value_or(days ? *days : says_so ? TimeForm::milliseconds : form_of(times));
  return dialect;
}

std::string words_of(const LogDialect& dialect, bool was_utf16) {
  std::string words;
  const auto add = [&](const char* each) { words += (words.empty() ? "" : ", ") + std::string(each); };
  if (was_utf16) add("UTF-16");
  if (dialect.separator == ';') add("semicolons");
  if (dialect.separator == '\t') add("tabs");
  if (dialect.separator == ' ') add(translated("spaces between cells"));
  if (dialect.decimal_comma) add(translated("decimal commas"));
  if (dialect.time == TimeForm::milliseconds) add(translated("times in milliseconds"));
  if (dialect.time == TimeForm::days) add(translated("times in days of a spreadsheet"));
  if (dialect.time == TimeForm::month_first) add(translated("days as month/day/year"));
  if (dialect.time == TimeForm::day_first) add(translated("days as day/month/year"));
  return words;
}

}  // namespace fair_gauge
