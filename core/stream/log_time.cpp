#include "stream/log_time.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <ctime>

#include "quantity/day.h"
#include "quantity/letters.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {

namespace {

// Digits with a point are what nearly every cell holds; anything else is for the reader of what people write.
// Of up to fifteen digits the quotient of two exact numbers is the nearest double.
Result<double> number_of(std::string_view cell) {
  if (!cell.empty() && cell.size() <= 16 && cell.front() >= '0' && cell.front() <= '9') {
    static constexpr double tens[] = {1,   1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                      1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
    std::uint64_t digits = 0;
    std::size_t count = 0, behind = 0;
    bool has_point = false, is_plain = true;
    for (const char c : cell) {
      if (c == '.' && !has_point) {
        has_point = true;
        continue;
      }
      is_plain = is_plain && c >= '0' && c <= '9';
      digits = digits * 10 + static_cast<std::uint64_t>(c - '0');
      ++count, behind += has_point ? 1 : 0;
    }
    if (is_plain && count <= 15) return static_cast<double>(digits) / tens[behind];
  }
  double number = 0;
  const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), number, std::chars_format::fixed);
  const bool is_plain =
      error == std::errc() && end == cell.data() + cell.size() && cell.front() >= '0' && cell.front() <= '9';
  return is_plain ? Result<double>(number) : parse_number(cell);
}

}  // namespace

double moment_of(std::string_view cell, TimeForm form) {
  constexpr double day_s = 86'400;
  const bool is_day = cell.size() >= 10 && cell[4] == '-' && cell[7] == '-';
  if (!is_day && cell.size() >= 10) {
    const bool dotted = cell[2] == '.' && cell[5] == '.', slashed = cell[4] == '/' && cell[7] == '/';
    if (dotted)
      return moment_of(
          fmt::format("{}-{}-{}{}", cell.substr(6, 4), cell.substr(3, 2), cell.substr(0, 2), cell.substr(10)));
    if (slashed)
      return moment_of(
          fmt::format("{}-{}-{}{}", cell.substr(0, 4), cell.substr(5, 2), cell.substr(8, 2), cell.substr(10)));
  }
  if (!is_day) {
    const auto number = number_of(cell);
    if (!number) return std::nan("");
    constexpr double days_to_1970 = 25'569;
    return form == TimeForm::milliseconds ? *number / 1000
           : form == TimeForm::days       ? (*number - days_to_1970) * day_s
                                          : *number;
  }
  const auto day = day_from_text(cell.substr(0, 10));
  if (!day) return std::nan("");
  if (cell.size() == 10) return *day * day_s;
  if (cell.size() == 16 && cell[13] == ':') {  // to the minute
    const auto hour = number_of(cell.substr(11, 2)), minute = number_of(cell.substr(14, 2));
    return hour && minute ? *day * day_s + *hour * 3600 + *minute * 60 : std::nan("");
  }
  if (cell.size() < 19) return std::nan("");
  // A fraction of the second and a zone may follow: 2026-11-24T22:31:05.25+01:00.
  const auto zone_at = std::min(cell.find_first_of("Zz+-", 19), cell.size());
  const auto hours = number_of(cell.substr(11, 2)), minutes = number_of(cell.substr(14, 2)),
             seconds = number_of(cell.substr(17, zone_at - 17));
  if (!hours || !minutes || !seconds) return std::nan("");
  double ahead = 0;
  if (const auto zone = cell.substr(zone_at); zone.size() >= 3 && (zone[0] == '+' || zone[0] == '-')) {
    const auto zone_hours = number_of(zone.substr(1, 2));
    const auto zone_minutes = zone.size() >= 5 ? number_of(zone.substr(zone.size() - 2)) : Result<double>(0.0);
    if (!zone_hours || !zone_minutes) return std::nan("");
    ahead = (zone[0] == '-' ? -1 : 1) * (*zone_hours * 3600 + *zone_minutes * 60);
  }
  return *day * 86400.0 + *hours * 3600 + *minutes * 60 + *seconds - ahead;
}

namespace {

constexpr std::array<std::string_view, 12> time_words = {"time",     "seconds", "timestamp",   "date",
                                                         "datetime", "datum",   "millis",      "zeit",
                                                         "uhrzeit",  "moment",  "zeitstempel", "ms"};

// In small letters, and without the unit or zone that stands behind it: "Time (UTC)", "time [ms]".
std::string first_word(std::string_view name) { return small_letters(name.substr(0, name.find_first_of(" (["))); }

}  // namespace

bool names_time(std::string_view name) {
  const std::string word =
      first_word(name.ends_with("_ms") || name.ends_with("_s") ? name.substr(0, name.rfind('_')) : name);
  if (word == "t") return name.starts_with("t") && name.find(' ') == std::string_view::npos;  // T is a temperature
  return std::ranges::find(time_words, word) != time_words.end();
}

bool names_milliseconds(std::string_view name) {
  if (first_word(name) == "millis" || name == "ms") return true;
  while (name.ends_with(')') || name.ends_with(']')) name.remove_suffix(1);
  if (!name.ends_with("ms") || name.size() < 4) return false;
  return std::string_view(" _([").find(name[name.size() - 3]) != std::string_view::npos;
}

TimePlaces time_places(const std::vector<std::string_view>& names) {
  TimePlaces places;
  const auto first = std::ranges::find_if(names, names_time);
  if (first == names.end()) return places;
  places.moment = static_cast<std::size_t>(first - names.begin());
  const auto named = [&](std::initializer_list<std::string_view> words) {
    return std::ranges::find_if(
        names, [&](std::string_view name) { return std::ranges::find(words, first_word(name)) != words.end(); });
  };
  const auto day = named({"date", "datum"}), of_day = named({"time", "zeit", "uhrzeit"});
  if (day != names.end() && of_day != names.end()) {
    places.moment = static_cast<std::size_t>(day - names.begin());
    places.of_day = static_cast<std::size_t>(of_day - names.begin());
  }
  return places;
}

std::string TimePlaces::text(const std::function<std::string_view(std::size_t)>& cell) const {
  std::string text(moment ? cell(*moment) : std::string_view());
  if (of_day) {
    const std::string_view hours = cell(*of_day);
    text += hours.size() > 1 && hours[1] == ':' ? " 0" : " ";
    text += hours;
  }
  return text;
}

double TimePlaces::seconds(const std::vector<std::string_view>& cells, TimeForm form) const {
  const auto cell = [&](std::size_t i) { return i < cells.size() ? cells[i] : std::string_view(); };
  if (!moment) return std::nan("");
  return of_day ? moment_of(text(cell)) : moment_of(cell(*moment), form);
}

std::string moment_text(double seconds) {
  const double milliseconds = std::round(seconds * 1000), whole = std::floor(milliseconds / 1000);
  const auto at = static_cast<std::time_t>(whole);
  std::tm parts{};
  gmtime_r(&at, &parts);
  return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}.{:03}Z", parts.tm_year + 1900, parts.tm_mon + 1,
                     parts.tm_mday, parts.tm_hour, parts.tm_min, parts.tm_sec,
                     static_cast<int>(milliseconds - whole * 1000));
}

}  // namespace fair_gauge
