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

// Digits in front of a text, at most so many; taken off it. -1 → none
int digits_off(std::string_view& text, std::size_t most) {
  int value = -1;
  for (std::size_t i = 0; i < most && !text.empty() && text.front() >= '0' && text.front() <= '9'; ++i)
    value = std::max(value, 0) * 10 + (text.front() - '0'), text.remove_prefix(1);
  return value;
}

// "9:05", "3:50:05.5 PM", each with what follows it, as ISO 8601 has it; empty → no time of day
std::string time_of_day(std::string_view text) {
  int hour = digits_off(text, 2);
  if (hour < 0 || !text.starts_with(':')) return {};
  text.remove_prefix(1);
  const int minute = digits_off(text, 2);
  if (minute < 0) return {};
  std::string seconds = "00";
  if (text.starts_with(':')) {
    text.remove_prefix(1);
    const auto end = std::min(text.find_first_not_of("0123456789.,"), text.size());
    seconds = text.substr(0, end);
    if (seconds.find_first_of(".,") == 1 || seconds.size() == 1) seconds.insert(0, 1, '0');
    text.remove_prefix(end);
  }
  text.remove_prefix(std::min(text.find_first_not_of(' '), text.size()));
  const std::string half = small_letters(text.substr(0, 2));
  if (half == "am" || half == "pm") {
    if (hour < 1 || hour > 12) return {};
    hour = hour % 12 + (half == "pm" ? 12 : 0);
    text.remove_prefix(2);
  }
  const bool is_zone = text.empty() || std::string_view("Zz+-").find(text.front()) != std::string_view::npos;
  if (!is_zone || hour > 24 || minute > 59) return {};
  return fmt::format("{:02}:{:02}:{}{}", hour, minute, seconds, text);
}

// The fields of a day with the mark between them: 24.11.2026, 11/30/26; what follows is left.
struct WrittenDay {
  std::array<int, 3> fields = {};
  char mark = 0;
  bool year_first = false;
  std::string_view rest = {};
};
std::optional<WrittenDay> written_day(std::string_view text) {
  WrittenDay day;
  for (std::size_t i = 0; i < 3; ++i) {
    const std::size_t before = text.size();
    day.fields[i] = digits_off(text, 4);
    const std::size_t digits = before - text.size();
    if (digits == 0 || (digits > 2 && digits < 4) || (digits == 4 && i == 1)) return std::nullopt;
    if (i == 0) day.year_first = digits == 4, day.mark = text.empty() ? '\0' : text.front();
    if (i == 2 && digits == 2 && !day.year_first) day.fields[i] += 2000;
    if (i == 2) break;
    if (!text.starts_with(day.mark) || std::string_view("./-").find(day.mark) == std::string_view::npos)
      return std::nullopt;
    text.remove_prefix(1);
  }
  if (!text.empty() && std::string_view(" T,").find(text.front()) == std::string_view::npos) return std::nullopt;
  day.rest = text.substr(std::min(text.find_first_not_of(" T,"), text.size()));
  return day;
}

// A moment as people and loggers write it, "24.11.2026 9:05", "11/30/2026 3:50 PM", as ISO 8601 has it; empty → none,
// or it could be either of two days.
std::string as_iso(std::string_view cell, TimeForm form) {
  if (cell.find_first_of("./-") > 4 || cell.size() < 6) return {};
  const auto day = written_day(cell);
  if (!day) return {};
  const auto& [one, two, three] = day->fields;
  const bool month_first = form == TimeForm::month_first;
  if (!day->year_first && day->mark != '.' && !month_first && form != TimeForm::day_first) return {};
  const std::string date = day->year_first                   ? fmt::format("{:04}-{:02}-{:02}", one, two, three)
                           : month_first && day->mark != '.' ? fmt::format("{:04}-{:02}-{:02}", three, one, two)
                                                             : fmt::format("{:04}-{:02}-{:02}", three, two, one);
  if (day->rest.empty()) return cell.back() >= '0' && cell.back() <= '9' ? date : std::string();
  const std::string time = time_of_day(day->rest);
  return time.empty() ? std::string() : date + "T" + time;
}

}  // namespace

std::optional<TimeForm> order_of_days(const std::vector<std::string>& moments) {
  bool month_first = false, day_first = false;
  for (const std::string& moment : moments) {
    const auto day = written_day(moment);
    if (!day || day->year_first || day->mark == '.') continue;
    const std::string half = small_letters(moment);
    month_first = month_first || day->fields[1] > 12 || half.ends_with("am") || half.ends_with("pm");
    day_first = day_first || day->fields[0] > 12;
  }
  if (month_first == day_first) return std::nullopt;
  return month_first ? TimeForm::month_first : TimeForm::day_first;
}

double moment_of(std::string_view cell, TimeForm form) {
  constexpr double day_s = 86'400;
  const bool is_day = cell.size() >= 10 && cell[4] == '-' && cell[7] == '-';
  if (!is_day) {
    const auto number = number_of(cell);
    if (!number) {
      const std::string iso = as_iso(cell, form);
      return iso.empty() ? std::nan("") : moment_of(iso);
    }
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
  if (cell.size() < 19 || cell[13] != ':' || cell.back() == 'M' || cell.back() == 'm') {
    const std::string iso = as_iso(cell, form);
    return iso.empty() || iso == cell ? std::nan("") : moment_of(iso);
  }
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

constexpr std::array<std::string_view, 13> time_words = {"elapsed",  "time",        "seconds", "timestamp", "date",
                                                         "datetime", "datum",       "millis",  "zeit",      "uhrzeit",
                                                         "moment",   "zeitstempel", "ms"};

// In small letters, and without the unit or zone that stands behind it: "Time (UTC)", "time [ms]".
std::string first_word(std::string_view name) { return small_letters(name.substr(0, name.find_first_of(" /(["))); }

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
  return moment_of(of_day ? text(cell) : std::string(cell(*moment)), form);
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
