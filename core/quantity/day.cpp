#include "quantity/day.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>

namespace fair_gauge {

std::optional<int> day_from_text(std::string_view text) {
  if (text.size() != 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
  const auto number = [&](std::size_t from, std::size_t size) {
    int value = -1;
    const auto end = text.data() + from + size;
    const auto read = std::from_chars(text.data() + from, end, value);
    return read.ec == std::errc() && read.ptr == end ? value : -1;
  };
  const int year = number(0, 4), month = number(5, 2), day = number(8, 2);
  if (year < 0 || month < 1 || day < 1) return std::nullopt;
  const std::chrono::year_month_day date{std::chrono::year(year), std::chrono::month(static_cast<unsigned>(month)),
                                         std::chrono::day(static_cast<unsigned>(day))};
  if (!date.ok()) return std::nullopt;
  return static_cast<int>(std::chrono::sys_days(date).time_since_epoch().count());
}

std::string day_text(int day) {
  const std::chrono::year_month_day date{std::chrono::sys_days(std::chrono::days(day))};
  return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                     static_cast<unsigned>(date.day()));
}

}  // namespace fair_gauge
