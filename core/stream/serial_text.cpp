#include "stream/serial_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <regex>

#include "files/delimited.h"
#include "files/json_document.h"
#include "language/translation.h"
#include "quantity/letters.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

constexpr std::size_t longest_line = 4096;
constexpr double noise_limit = 0.2;
constexpr int enough_bytes = 24;

// Whether a word is a unit of what boards measure.
bool is_unit_word(std::string_view word) {
  using enum Dimension;
  if (word.empty() || word.size() > 12) return false;
  return is_code_word(word) || std::ranges::any_of(std::array{temperature, humidity, pressure, illuminance, voltage,
                                                              current, resistance, length, time, frequency},
                                                   [&](Dimension dimension) { return unit_named(word, dimension); });
}

// What boards write: ASCII, and the two bytes of a degree sign.
bool is_text(char c) {
  return (c >= 32 && c < 127) || c == '\r' || c == '\n' || c == '\t' || c == '\xC2' || c == '\xB0';
}

constexpr std::string_view separators = " \t,;|";

// What stands in the place of a number that is not known.
bool is_no_value(std::string_view word) {
  constexpr std::string_view words[] = {"",     "nan",  "-nan", "inf", "-inf", "+inf", "ovf",
                                        "null", "none", "n/a",  "-",   "--",   "---"};
  return std::ranges::find(words, small_letters(word)) != std::end(words);
}

// Parted by spaces and tabs, of which many are one, or by marks, between which a place may be empty; behind the last
// mark nothing need stand.
std::vector<std::string> words_of(std::string_view line, std::string_view apart) {
  std::vector<std::string> words;
  std::size_t start = 0;
  for (std::size_t i = 0; i <= line.size(); ++i) {
    if (i < line.size() && apart.find(line[i]) == std::string_view::npos) continue;
    const auto word = trimmed(line.substr(start, i - start));
    const bool is_place = apart == "," || apart == ";";
    if (!word.empty() || (is_place && i < line.size())) words.emplace_back(word);
    start = i + 1;
  }
  return words;
}

// Without what colours a terminal: ESC [ … letter.
std::string without_colours(const std::string& line) {
  std::string plain;
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (line[i] == '\x1b' && i + 1 < line.size() && line[i + 1] == '[') {
      for (i += 2; i < line.size() && (line[i] == ';' || (line[i] >= '0' && line[i] <= '9'));) ++i;
    } else {
      plain += line[i];
    }
  }
  return plain;
}

// Without the time of a monitor before it, "10:02:03.123 -> ", and without brackets around it, "(23.5, 45.2)".
std::string_view without_frame(std::string_view line) {
  static const std::regex stamp(R"(^\s*\d{1,2}:\d{2}:\d{2}(?:\.\d{1,6})?\s*->\s*)");
  if (std::cmatch found;
      line.size() > 8 && line.find("->") != std::string_view::npos &&
      std::regex_search(line.data(), line.data() + std::min<std::size_t>(line.size(), 32), found, stamp))
    line.remove_prefix(static_cast<std::size_t>(found.length(0)));
  line = trimmed(line);
  if (line.size() > 2 && ((line.front() == '(' && line.back() == ')') || (line.front() == '[' && line.back() == ']')))
    line = line.substr(1, line.size() - 2);
  return line;
}

// NaN and Infinity, which some programs write into JSON, as null.
std::string with_nulls(const std::string& json) {
  static const std::regex none(R"(([:,\[]\s*)-?(?:NaN|nan|Infinity|inf)\b)");
  return std::regex_replace(json, none, "$1null");
}

Result<double> raw_number(std::string_view text) {
  if (text.starts_with("0x") || text.starts_with("0X")) {
    const auto number = parse_quantity(text, Dimension::number);
    return number ? Result<double>(number->base) : Result<double>(number.problem());
  }
  return parse_number(text);
}

Result<std::vector<std::uint8_t>> hex_bytes(std::string_view text) {
  std::vector<std::uint8_t> bytes;
  if (text.empty() || text.size() % 2 != 0)
    return Problem{translated("\"{}\" is not whole bytes", text),
                   translated("an even count of hexadecimal digits after x")};
  for (std::size_t i = 0; i < text.size(); i += 2) {
    unsigned value = 0;
    for (const char c : {text[i], text[i + 1]}) {
      if (!std::isxdigit(static_cast<unsigned char>(c)))
        return Problem{translated("'{}' is no hexadecimal digit", c), translated("0 to 9 and a to f")};
      value = value * 16 +
              static_cast<unsigned>(std::isdigit(static_cast<unsigned char>(c)) ? c - '0' : (c | 32) - 'a' + 10);
    }
    bytes.push_back(static_cast<std::uint8_t>(value));
  }
  return bytes;
}

// How a number is written at the beginning of a text: how long, and with how many decimals.
struct Written {
  std::size_t length = 0;
  int decimals = 0;
};

Written number_at(std::string_view text) {
  Written written;
  std::size_t i = !text.empty() && (text[0] == '-' || text[0] == '+') ? 1 : 0;
  const auto digits = [&] {
    const std::size_t from = i;
    while (i < text.size() && std::isdigit(static_cast<unsigned char>(text[i]))) ++i;
    return i - from;
  };
  std::size_t count = digits();
  if (i + 1 < text.size() && (text[i] == '.' || text[i] == ',') &&
      std::isdigit(static_cast<unsigned char>(text[i + 1]))) {
    ++i;
    written.decimals = static_cast<int>(digits());
    count += static_cast<std::size_t>(written.decimals);
  } else if (count > 0 && i < text.size() && text[i] == '.') {
    ++i;
  }
  if (count == 0) return {};
  if (i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
    const std::size_t before = i++;
    if (i < text.size() && (text[i] == '-' || text[i] == '+')) ++i;
    if (digits() == 0) i = before;
  }
  written.length = i;
  return written;
}

// Behind the value of a name the same once more in another unit, which has no name: "73.40°F" of "T: 23.0°C 73.40°F".
// \returns where it ends; `from` where there is none
std::size_t without_name(std::string_view line, std::size_t from) {
  const std::size_t end = std::min(line.find_first_of(separators, from), line.size());
  const std::string_view word = line.substr(from, end - from);
  const Written written = number_at(word);
  if (written.length == 0) return from;
  if (written.length < word.size()) return is_unit_word(word.substr(written.length)) ? end : from;
  const std::size_t next = std::min(line.find_first_not_of(" \t", end), line.size()),
                    next_end = std::min(line.find_first_of(separators, next), line.size());
  return is_unit_word(line.substr(next, next_end - next)) ? next_end : from;
}

// A comma between digits parts two values where a name follows, and is a decimal mark elsewhere.
std::string_view with_decimal_comma(std::string_view text, std::size_t end) {
  if (end + 1 >= text.size() || text[end] != ',' || !std::isdigit(static_cast<unsigned char>(text[end + 1])))
    return text.substr(0, end);
  std::size_t after = end + 1;
  while (after < text.size() && separators.find(text[after]) == std::string_view::npos) {
    if (text[after] == ':' || text[after] == '=') return text.substr(0, end);
    ++after;
  }
  return text.substr(0, after);
}

// A number with what stands close behind it: "72.5F", "1013", "0x1F", "x1A2B".
Result<RawItem> item_of(std::string name, std::string_view value) {
  RawItem item{.name = std::move(name)};
  if (value.starts_with('x') || value.starts_with('X')) {
    auto bytes = hex_bytes(value.substr(1));
    if (!bytes) return bytes.problem();
    item.bytes = std::move(*bytes);
    return item;
  }
  const Written written = number_at(value);
  const std::string_view behind = trimmed(value.substr(written.length));
  const bool whole = value.starts_with("0x") || value.starts_with("0X") || behind.empty();
  const auto number = raw_number(whole ? value : value.substr(0, written.length));
  if (!number || (!whole && written.length == 0))
    return number ? Problem{translated("no number"), translated("a number")} : number.problem();
  if (!whole && !is_unit_word(behind))
    return Problem{translated("\"{}\" is not a number", value), translated("a number, or one with a unit behind it")};
  item.number = *number;
  if (!whole) item.unit = behind;
  item.decimals = written.decimals;
  return item;
}

// `name:value` and `name=value`, one after the other.
Result<std::vector<RawItem>> named_items(std::string_view line) {
  std::vector<RawItem> items;
  bool says_none = false;
  const auto skip = [&](std::size_t& i, std::string_view these) {
    while (i < line.size() && these.find(line[i]) != std::string_view::npos) ++i;
  };
  const auto word_end = [&](std::size_t i) {
    while (i < line.size() && separators.find(line[i]) == std::string_view::npos) ++i;
    return i;
  };
  for (std::size_t i = 0; skip(i, separators), i < line.size();) {
    if (const std::size_t behind = items.empty() ? i : without_name(line, i); behind > i) {
      i = behind;
      continue;
    }
    const std::size_t mark = line.find_first_of(":=", i);
    std::string_view name = trimmed(line.substr(i, mark == std::string_view::npos ? line.size() - i : mark - i));
    if (name.size() > 1 && name.front() == '"' && name.back() == '"') name = name.substr(1, name.size() - 2);
    if (mark == std::string_view::npos || name.empty())
      return Problem{translated("\"{}\" has no name and value", line.substr(i, 40)), "name:value"};
    i = mark + 1;
    skip(i, " \t");
    const std::size_t end = word_end(i);
    const std::string_view word = line.substr(i, end - i);
    const bool names_another = !word.empty() && std::isalpha(static_cast<unsigned char>(word.front())) &&
                               word.find_first_of(":=") != std::string_view::npos;
    if (names_another) continue;  // a heading before the first name
    const bool is_none = is_no_value(word);
    says_none = says_none || (is_none && !word.empty());
    const std::string_view value = is_none ? word : with_decimal_comma(line.substr(i), end - i);
    auto item = is_none ? Result<RawItem>(RawItem{.name = std::string(name)}) : item_of(std::string(name), value);
    if (!item) return item.problem();
    i += value.size();
    // A unit may stand apart from its number, where it is not the next name.
    std::size_t next = i;
    skip(next, " \t");
    const std::size_t next_end = word_end(next);
    const std::string_view unit = line.substr(next, next_end - next);
    std::size_t mark_after = next_end;
    skip(mark_after, " \t");
    const bool is_name = unit.find_first_of(":=") != std::string_view::npos ||
                         (mark_after < line.size() && (line[mark_after] == ':' || line[mark_after] == '='));
    if ((item->number || is_none) && item->unit.empty() && next > i && !is_name && is_unit_word(unit))
      item->unit = unit, i = next_end;
    items.push_back(std::move(*item));
  }
  if (std::ranges::all_of(items, &RawItem::is_missing) && !says_none)
    return Problem{translated("no number stands there"), translated("a number")};
  return items;
}

// The numbers of an object, those of objects inside it with both names: "air.t".
void add_fields(const Json& object, const std::string& before, std::vector<RawItem>& items) {
  for (const auto& [key, value] : object.items()) {
    const std::string name = before + key;
    if (value.is_object() && before.size() < 200) {
      add_fields(value, name + ".", items);
    } else if (value.is_number()) {
      RawItem item{.name = name, .number = value.get<double>()};
      item.decimals = number_at(value.dump()).decimals;
      items.push_back(std::move(item));
    } else if (value.is_null() || (value.is_string() && !value.get_ref<const std::string&>().empty() &&
                                   is_no_value(trimmed(value.get_ref<const std::string&>())))) {
      items.push_back({.name = name});
    } else if (value.is_string()) {
      if (auto item = item_of(name, trimmed(value.get_ref<const std::string&>()))) items.push_back(std::move(*item));
    }
  }
}

}  // namespace

bool is_code_word(std::string_view unit) {
  constexpr std::string_view words[] = {"counts", "count", "raw", "lsb", "LSB", "steps", "codes"};
  return std::ranges::find(words, unit) != std::end(words);
}

bool SerialText::is_noise() const { return seen_ >= enough_bytes && noise_ > noise_limit; }

std::vector<SerialLine> SerialText::take(std::string_view bytes) {
  std::vector<SerialLine> lines;
  for (const char c : bytes) {
    noise_ += ((is_text(c) ? 0.0 : 1.0) - noise_) / enough_bytes;
    seen_ = std::min(seen_ + 1, 1000);
    if (c != '\n' && c != '\r' && rest_.size() < longest_line) {
      rest_ += c;
      continue;
    }
    const bool overlong = c != '\n' && c != '\r';
    if (!rest_.empty()) lines.push_back(read(std::exchange(rest_, {})));
    begun_ = !overlong;  // what follows an overlong line is the rest of it
  }
  return lines;
}

SerialLine SerialText::read(const std::string& whole) {
  const std::string line = without_colours(whole);
  SerialLine result;
  bool garbled = false;
  for (std::size_t i = 0; i < line.size(); ++i) {
    const char c = line[i];
    const bool degree = c == '\xC2' && i + 1 < line.size() && line[i + 1] == '\xB0';
    if (degree) ++i;
    const bool plain = !degree && is_text(c) && c != '\xC2' && c != '\xB0';
    garbled = garbled || !(plain || degree || c == '\xB0');  // alone as in Latin-1
    result.text += plain ? std::string(1, c) : degree || c == '\xB0' ? "°" : "·";
  }
  const bool is_first = std::exchange(first_, false);
  const auto refuse = [&](Problem problem) {
    result.items.clear();
    result.problem = std::move(problem);
    return result;
  };
  if (garbled)
    return refuse({translated("the line holds bytes that are no text"),
                   translated("plain text: check the line speed if it goes on")});

  const std::string_view text = trimmed(without_frame(result.text));
  if (text.starts_with('{')) {
    auto document = parse_json(std::string(text), "");
    if (!document) document = parse_json(with_nulls(std::string(text)), "");
    if (!document)
      return refuse(
          {translated("the line begins as a JSON object and is none"), translated("one whole object on each line")});
    add_fields(document->value, "", result.items);
    if (std::ranges::all_of(result.items, &RawItem::is_missing))
      result.problem = {translated("the object holds no number"), "{\"name\": number}"};
    return result;
  }
  if (text.find_first_of(":=") != std::string_view::npos) {
    auto items = named_items(text);
    if (!items) return refuse(items.problem());
    result.items = std::move(*items);
    if (std::ranges::all_of(result.items, &RawItem::is_missing))
      result.problem = {translated("no number stands there"), translated("a number")};
    return result;
  }
  // One number with its unit.
  if (const Written written = number_at(text); header_.empty() && written.length > 0 && begun_)
    if (auto item = item_of("1", text); item && !item->unit.empty()) {
      result.items.push_back(std::move(*item));
      return result;
    }
  // Names of columns may hold spaces, and numbers a decimal comma, where something else parts them.
  const auto has = [&](char mark) { return text.find(mark) != std::string_view::npos; };
  const auto fields = words_of(text, has(';') ? ";" : has('\t') ? "\t" : has(',') ? "," : " ");
  const auto is_number = [](const std::string& field) { return static_cast<bool>(raw_number(field)); };
  const bool numeric =
      std::ranges::any_of(fields, is_number) &&
      std::ranges::all_of(fields, [&](const std::string& field) { return is_number(field) || is_no_value(field); });
  const bool names = std::ranges::none_of(fields, is_number) && !std::ranges::all_of(fields, is_no_value);
  if (!numeric && names && (is_first || (fields.size() > 1 && fields.size() == header_.size()))) {
    header_ = fields;
    return result;
  }
  if (!numeric)
    return refuse({translated("\"{}\" is no reading", result.text.substr(0, 60)),
                   translated("name:value, a CSV row, or bare numbers")});
  // The first thing that comes after connecting may be the end of a line: "80" of "room:2180".
  if (fields.size() == 1 && header_.empty() && !begun_)
    return refuse(
        {translated("\"{}\" may be the end of a line whose beginning was not seen", result.text.substr(0, 60)),
         translated("the next line")});
  if (!header_.empty() && fields.size() != header_.size())
    return refuse(
        {translated("the row has {} values", fields.size()), translated("{} as in the header", header_.size())});
  for (std::size_t i = 0; i < fields.size(); ++i) {
    RawItem item{.name = header_.empty() ? std::to_string(i + 1) : header_[i]};
    if (item.name.empty()) continue;  // a column that has none
    if (const auto number = raw_number(fields[i]); number && !is_no_value(fields[i]))
      item.number = *number, item.decimals = number_at(fields[i]).decimals;
    result.items.push_back(std::move(item));
  }
  return result;
}

}  // namespace fair_gauge
