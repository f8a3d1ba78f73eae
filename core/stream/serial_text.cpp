#include "stream/serial_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

constexpr std::size_t longest_line = 4096;
constexpr double noise_limit = 0.2;
constexpr int enough_bytes = 24;

bool is_text(char c) { return (c >= 32 && c < 127) || c == '\r' || c == '\n' || c == '\t'; }

std::vector<std::string> words_of(std::string_view line, std::string_view separators) {
  std::vector<std::string> words;
  std::size_t start = 0;
  for (std::size_t i = 0; i <= line.size(); ++i) {
    if (i < line.size() && separators.find(line[i]) == std::string_view::npos) continue;
    if (i > start) words.emplace_back(line.substr(start, i - start));
    start = i + 1;
  }
  return words;
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
    return Problem{fmt::format("\"{}\" is not whole bytes", text), "an even count of hexadecimal digits after x"};
  for (std::size_t i = 0; i < text.size(); i += 2) {
    unsigned value = 0;
    for (const char c : {text[i], text[i + 1]}) {
      if (!std::isxdigit(static_cast<unsigned char>(c)))
        return Problem{fmt::format("'{}' is no hexadecimal digit", c), "0 to 9 and a to f"};
      value = value * 16 +
              static_cast<unsigned>(std::isdigit(static_cast<unsigned char>(c)) ? c - '0' : (c | 32) - 'a' + 10);
    }
    bytes.push_back(static_cast<std::uint8_t>(value));
  }
  return bytes;
}

Result<RawItem> item_of(std::string name, std::string_view value) {
  if (value.starts_with('x') || value.starts_with('X')) {
    auto bytes = hex_bytes(value.substr(1));
    if (!bytes) return bytes.problem();
    return RawItem{std::move(name), std::nullopt, std::move(*bytes)};
  }
  const auto number = raw_number(value);
  if (!number) return number.problem();
  return RawItem{std::move(name), *number, {}};
}

}  // namespace

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

SerialLine SerialText::read(const std::string& line) {
  SerialLine result;
  bool garbled = false;
  for (const char c : line) {
    garbled = garbled || !is_text(c);
    result.text += is_text(c) ? std::string(1, c) : "·";
  }
  const bool is_first = std::exchange(first_, false);
  const auto refuse = [&](Problem problem) {
    result.items.clear();
    result.problem = std::move(problem);
    return result;
  };
  if (garbled)
    return refuse({"the line holds bytes that are no text", "plain text: check the line speed if it goes on"});

  if (line.find(':') != std::string::npos) {
    for (const std::string& word : words_of(line, " \t,;")) {
      const auto colon = word.find(':');
      if (colon == std::string::npos || colon == 0)
        return refuse({fmt::format("\"{}\" has no name and value", word), "name:value"});
      auto item = item_of(word.substr(0, colon), std::string_view(word).substr(colon + 1));
      if (!item) return refuse(item.problem());
      result.items.push_back(std::move(*item));
    }
    return result;
  }
  const auto fields = words_of(line, ",;\t ");
  const bool numeric = !fields.empty() && std::ranges::all_of(fields, [](const std::string& field) {
    return static_cast<bool>(raw_number(field));
  });
  const bool names = !fields.empty() && std::ranges::none_of(fields, [](const std::string& field) {
    return static_cast<bool>(raw_number(field));
  });
  if (!numeric && names && (is_first || (fields.size() > 1 && fields.size() == header_.size()))) {
    header_ = fields;
    return result;
  }
  if (!numeric)
    return refuse(
        {fmt::format("\"{}\" is no reading", result.text.substr(0, 60)), "name:value, a CSV row, or bare numbers"});
  // The first thing that comes after connecting may be the end of a line: "80" of "room:2180".
  if (fields.size() == 1 && header_.empty() && !begun_)
    return refuse(
        {fmt::format("\"{}\" may be the end of a line whose beginning was not seen", result.text.substr(0, 60)),
         "the next line"});
  if (!header_.empty() && fields.size() != header_.size())
    return refuse(
        {fmt::format("the row has {} values", fields.size()), fmt::format("{} as in the header", header_.size())});
  for (std::size_t i = 0; i < fields.size(); ++i)
    result.items.push_back({header_.empty() ? std::to_string(i + 1) : header_[i], *raw_number(fields[i]), {}});
  return result;
}

}  // namespace fair_gauge
