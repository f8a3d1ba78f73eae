#include "digital/byte_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <regex>

#include "digital/decoder.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr std::size_t longest = 1 << 20;

bool is_word(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0; }
bool all_of_base(std::string_view word, int base) {
  return !word.empty() && std::ranges::all_of(word, [base](char c) {
    return base == 2    ? c == '0' || c == '1'
           : base == 10 ? c >= '0' && c <= '9'
                        : std::isxdigit(static_cast<unsigned char>(c)) != 0;
  });
}
bool has_prefix(std::string_view word, char letter) {
  return word.size() > 2 && word[0] == '0' && (word[1] | 0x20) == letter;
}

struct Word {
  std::string_view text;
  std::size_t at;
};

std::vector<Word> words_of(std::string_view text) {
  std::vector<Word> words;
  for (std::size_t at = 0; at < text.size();) {
    std::size_t end = at;
    while (end < text.size() && is_word(text[end])) ++end;
    if (end > at) words.push_back({text.substr(at, end - at), at});
    at = end + 1;
  }
  return words;
}

Problem fault(const Word& word, std::string expected) {
  return {translated("\"{}\" is no byte", word.text.substr(0, 20)),
          std::move(expected),
          {.column = static_cast<int>(word.at) + 1}};
}

Result<std::vector<std::uint8_t>> numbers(std::string_view text, ByteShape shape) {
  std::vector<std::uint8_t> bytes;
  for (const Word& word : words_of(text)) {
    std::string_view digits = word.text;
    int base = shape == ByteShape::binary ? 2 : shape == ByteShape::hexadecimal ? 16 : 10;
    if (has_prefix(digits, 'x'))
      digits.remove_prefix(2), base = 16;
    else if (has_prefix(digits, 'b') && shape != ByteShape::hexadecimal)
      digits.remove_prefix(2), base = 2;
    if (!all_of_base(digits, base))
      return fault(word, base == 16  ? translated("hexadecimal digits")
                         : base == 2 ? translated("zeros and ones")
                                     : translated("0 to 255"));
    if (base == 16 && digits.size() > 2) {
      if (digits.size() % 2) return fault(word, translated("two hexadecimal digits a byte"));
      for (std::size_t i = 0; i < digits.size(); i += 2)
        bytes.push_back(static_cast<std::uint8_t>(std::stoi(std::string(digits.substr(i, 2)), nullptr, 16)));
      continue;
    }
    if (base == 2 && digits.size() > 8 && digits.size() % 8 == 0) {
      for (std::size_t i = 0; i < digits.size(); i += 8)
        bytes.push_back(static_cast<std::uint8_t>(std::stoi(std::string(digits.substr(i, 8)), nullptr, 2)));
      continue;
    }
    unsigned value = 0;
    const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), value, base);
    if (error != std::errc{} || value > 255) return fault(word, translated("0 to 255"));
    bytes.push_back(static_cast<std::uint8_t>(value));
  }
  return bytes;
}

Result<std::vector<std::uint8_t>> escapes(std::string_view text) {
  std::vector<std::uint8_t> bytes;
  const auto quote = text.find_first_of("'\"");
  const std::size_t begin = quote == std::string_view::npos ? 0 : quote + 1;
  const std::size_t end =
      quote == std::string_view::npos ? text.size() : std::min(text.rfind(text[quote]), text.size());
  for (std::size_t i = begin; i < std::max(begin, end); ++i) {
    if (text[i] != '\\' || i + 1 >= end) {
      bytes.push_back(static_cast<std::uint8_t>(text[i]));
      continue;
    }
    const char kind = text[++i];
    constexpr std::string_view letters = "ntr0abfv\\'\"";
    if (kind == 'x') {
      const auto digits = text.substr(std::min(i + 1, end), 2);
      if (digits.size() < 2 || i + 2 >= end || !all_of_base(digits, 16))
        return Problem{
            translated("\\x is not followed by two hexadecimal digits"), "\\x1a", {.column = static_cast<int>(i) + 1}};
      bytes.push_back(static_cast<std::uint8_t>(std::stoi(std::string(digits), nullptr, 16)));
      i += 2;
    } else if (const auto known = letters.find(kind); known != std::string_view::npos) {
      bytes.push_back(static_cast<std::uint8_t>("\n\t\r\0\a\b\f\v\\'\""[known]));
    } else {
      return Problem{translated("\\{} is no escape", kind), "\\x1a", {.column = static_cast<int>(i) + 1}};
    }
  }
  return bytes;
}

// "88: 70 6B 43  pkC": the address, a mark, bytes; a column of letters after two spaces or a bar is passed over.
Result<ByteText> dump(std::string_view text) {
  static const std::regex row(R"(^\s*(?:0x)?([0-9A-Fa-f]{2,8})\s*[:|>]\s*((?:(?:0x)?[0-9A-Fa-f]{2}[ ,]?)+))");
  ByteText read{.shape = ByteShape::dump};
  int number = 0;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    const std::string line(text.substr(at, end - at));
    at = end + 1;
    ++number;
    std::smatch match;
    if (line.find_first_not_of(" \t\r") == std::string::npos) continue;
    if (!std::regex_search(line, match, row))
      return Problem{translated("this row does not begin with an address and a colon"),
                     "88: 70 6B 43",
                     {.line = number, .column = 1}};
    const auto address = static_cast<unsigned>(std::stoul(match[1].str(), nullptr, 16));
    if (read.address && address != *read.address + read.bytes.size())
      return Problem{translated("the row at {:02X} does not follow the one before", address),
                     translated("address {:02X}", *read.address + read.bytes.size()),
                     {.line = number, .column = 1}};
    if (!read.address) read.address = address;
    const auto bytes = numbers(match[2].str(), ByteShape::hexadecimal);
    if (!bytes) return bytes.problem();
    read.bytes.insert(read.bytes.end(), bytes->begin(), bytes->end());
  }
  return read;
}

Result<ByteText> last_of_log(std::string_view text) {
  static const std::regex entry(R"(([A-Za-z_][A-Za-z0-9_]*)\s*[:=]\s*x([0-9A-Fa-f]{2,200}))");
  ByteText read{.shape = ByteShape::log};
  // From the end: the last hundred lines are enough.
  const std::string recent(text.substr(text.size() > 20000 ? text.size() - 20000 : 0));
  for (auto match = std::sregex_iterator(recent.begin(), recent.end(), entry); match != std::sregex_iterator();
       ++match) {
    const auto bytes = read_hex((*match)[2].str());
    if (!bytes) continue;
    read.name = (*match)[1].str();
    read.bytes = *bytes;
  }
  return read.bytes.empty() ? Result<ByteText>(Problem{translated("no line holds bytes"), "name:x1A2B"}) : read;
}

ByteShape guess(std::string_view text) {
  static const std::regex log_entry(R"([A-Za-z_][A-Za-z0-9_]*\s*[:=]\s*x[0-9A-Fa-f]{2})"),
      dump_row(R"(^\s*(?:0x)?[0-9A-Fa-f]{2,8}\s*[:|>]\s+(?:0x)?[0-9A-Fa-f]{2}\b)");
  const std::string head(text.substr(0, 20000));
  if (text.find("\\x") != std::string_view::npos || text.starts_with("b'") || text.starts_with("b\""))
    return ByteShape::text_escapes;
  if (std::regex_search(head, log_entry)) return ByteShape::log;
  if (std::regex_search(head, dump_row)) return ByteShape::dump;
  const auto words = words_of(text);
  const auto any = [&](auto test) {
    return std::ranges::any_of(words, [&](const Word& word) { return test(word.text); });
  };
  const auto every = [&](auto test) {
    return !words.empty() && std::ranges::all_of(words, [&](const Word& word) { return test(word.text); });
  };
  if (every([](std::string_view word) {
        return has_prefix(word, 'b') || (all_of_base(word, 2) && word.size() % 8 == 0);
      }))
    return ByteShape::binary;
  if (any([](std::string_view word) { return has_prefix(word, 'x'); }))
    return every([](std::string_view word) { return has_prefix(word, 'x'); }) ? ByteShape::hexadecimal
                                                                              : ByteShape::mixed;
  const bool decimals = every([](std::string_view word) {
    return all_of_base(word, 10) && word.size() <= 3 && (word.size() == 1 || word[0] != '0');
  });
  const bool pairs = every([](std::string_view word) { return word.size() == 2; });
  return decimals && !pairs ? ByteShape::decimal : ByteShape::hexadecimal;
}

}  // namespace

std::span<const EnumName<ByteShape>> enum_names(ByteShape) {
  using enum ByteShape;
  static constexpr std::array names = {EnumName{hexadecimal, to_translate("hexadecimal")},
                                       EnumName{mixed, to_translate("decimal, hexadecimal where marked")},
                                       EnumName{decimal, to_translate("decimal")},
                                       EnumName{binary, to_translate("binary")},
                                       EnumName{text_escapes, to_translate("text with escapes")},
                                       EnumName{ByteShape::dump, to_translate("rows with addresses")},
                                       EnumName{log, to_translate("log of a serial line")}};
  return names;
}

Result<ByteText> read_byte_text(std::string_view text, std::optional<ByteShape> as) {
  if (text.size() > longest) return Problem{translated("the text is too long"), translated("a megabyte at most")};
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
  const ByteShape shape = as.value_or(guess(text));
  if (shape == ByteShape::dump) return dump(text);
  if (shape == ByteShape::log) return last_of_log(text);
  auto bytes = shape == ByteShape::text_escapes ? escapes(text) : numbers(text, shape);
  if (!bytes) return bytes.problem();
  return ByteText{.bytes = std::move(*bytes), .shape = shape};
}

}  // namespace fair_gauge
