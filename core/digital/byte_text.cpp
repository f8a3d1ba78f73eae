#include "digital/byte_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>

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

std::string hex_address(unsigned address) { return fmt::format("0x{:02X}", address); }

// A row of a dump: its address, then bytes up to the letters that some write behind them.
struct DumpRow {
  unsigned address = 0;
  std::vector<std::optional<std::uint8_t>> bytes = {};  // nothing → could not be read, "XX"
};

// "88: 70 6B 43  pkC", "00000088  70 6b 43  |pkC|". \param is_grid  sixteen to a row below a heading 0 1 2 … f
std::optional<DumpRow> dump_row(std::string_view line, bool is_grid) {
  const bool has_bars = line.ends_with('|') && line.find('|') + 1 < line.size();
  if (has_bars) line = line.substr(0, line.find('|'));
  std::size_t at = std::min(line.find_first_not_of(" \t"), line.size());
  if (has_prefix(line.substr(at), 'x')) at += 2;
  const std::size_t digits = std::min(line.find_first_not_of("0123456789abcdefABCDEF", at), line.size()) - at;
  if (digits < 2 || digits > 8) return std::nullopt;
  DumpRow row{.address = static_cast<unsigned>(std::stoul(std::string(line.substr(at, digits)), nullptr, 16))};
  at += digits;
  const std::size_t mark = std::min(line.find_first_not_of(" \t", at), line.size());
  const bool is_marked = mark < line.size() && std::string_view(":|>").find(line[mark]) != std::string_view::npos;
  if (!is_marked && (digits < 7 || !(has_bars || mark == line.size()))) return std::nullopt;
  at = is_marked ? mark + 1 : at;
  if (at < line.size() && line[at] != ' ' && line[at] != '\t') return std::nullopt;  // 1A:2B
  while (at < line.size()) {
    const std::size_t next = std::min(line.find_first_not_of(" \t,", at), line.size());
    if (!row.bytes.empty() && !has_bars && next > at + 1) break;  // letters follow after two spaces
    if (is_grid && row.bytes.size() >= 16) break;
    const std::size_t end = std::min(line.find_first_of(" \t,", next), line.size());
    std::string_view word = line.substr(next, end - next);
    at = end;
    if (word == "XX" || word == "--") {
      row.bytes.push_back(std::nullopt);
      continue;
    }
    if (has_prefix(word, 'x')) word.remove_prefix(2);
    if (word.size() % 2 != 0 || !all_of_base(word, 16)) break;
    for (std::size_t i = 0; i < word.size(); i += 2)
      row.bytes.push_back(static_cast<std::uint8_t>(std::stoi(std::string(word.substr(i, 2)), nullptr, 16)));
  }
  return row;
}

bool is_grid_heading(std::string_view line) {
  const auto words = words_of(line);
  return words.size() >= 8 && words[0].text == "0" && words[1].text == "1" && words[7].text == "7";
}

std::vector<std::string_view> lines_of(std::string_view text) {
  std::vector<std::string_view> lines;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    std::string_view line = text.substr(at, end - at);
    while (!line.empty() && std::isspace(static_cast<unsigned char>(line.back()))) line.remove_suffix(1);
    lines.push_back(line);
    at = end + 1;
  }
  return lines;
}

Result<ByteText> dump(std::string_view text) {
  ByteText read{.shape = ByteShape::dump};
  int number = 0;
  bool is_grid = false;
  unsigned next = 0;  // the address behind the byte that came last
  for (const std::string_view line : lines_of(text)) {
    ++number;
    if (line.empty()) continue;
    if (is_grid_heading(line)) {
      is_grid = true;
      continue;
    }
    const auto row = dump_row(line, is_grid);
    if (!row)
      return Problem{translated("this row does not begin with an address and a colon"),
                     "88: 70 6B 43",
                     {.line = number, .column = 1}};
    if (!read.runs.empty() && row->address < next && !row->bytes.empty())
      return Problem{translated("the row at {:02X} does not follow the one before", row->address),
                     translated("address {:02X}", next),
                     {.line = number, .column = 1}};
    unsigned address = row->address;
    for (const auto& byte : row->bytes) {
      if (byte && (read.runs.empty() || address != next)) read.runs.push_back({hex_address(address), {}});
      if (byte) read.runs.back().bytes.push_back(*byte), read.bytes.push_back(*byte), next = address + 1;
      ++address;
    }
  }
  if (read.runs.empty()) return Problem{translated("no row holds a byte"), "88: 70 6B 43"};
  return read;
}

std::string_view without_spaces(std::string_view text) {
  const auto first = text.find_first_not_of(" \t\r\n");
  return first == text.npos ? std::string_view() : text.substr(first, text.find_last_not_of(" \t\r\n") - first + 1);
}

// The places of a JSON object that hold a text: name and text.
std::vector<std::pair<std::string_view, std::string_view>> texts_of_object(std::string_view text) {
  std::vector<std::pair<std::string_view, std::string_view>> found;
  std::string_view name;
  for (std::size_t at = text.find('"'); at != text.npos; at = text.find('"', at + 1)) {
    const std::size_t end = text.find('"', at + 1);
    if (end == text.npos) break;
    const std::string_view word = text.substr(at + 1, end - at - 1);
    const std::size_t behind = text.find_first_not_of(" \t\r\n", end + 1);
    if (behind != text.npos && text[behind] == ':')
      name = word;
    else if (!name.empty())
      found.emplace_back(std::exchange(name, {}), word);
    at = end;
  }
  return found;
}

// 0xF7=655AC0; 0xFA=7EED00 or {"registers": {"0xF7": "655AC0"}}: nothing where the text is otherwise.
std::optional<ByteText> named_blocks(std::string_view text) {
  std::vector<std::pair<std::string_view, std::string_view>> found;
  if (text.starts_with('{') && text.find("\":") != text.npos) {
    found = texts_of_object(text);
  } else {
    for (std::size_t at = 0; at < text.size();) {
      const std::size_t end = std::min(text.find_first_of(";\n", at), text.size());
      const std::string_view item = without_spaces(text.substr(at, end - at));
      at = end + 1;
      if (item.empty()) continue;
      const std::size_t mark = item.find('=');
      if (mark == item.npos) return std::nullopt;
      found.emplace_back(without_spaces(item.substr(0, mark)), item.substr(mark + 1));
    }
  }
  ByteText read{.shape = ByteShape::blocks};
  for (const auto& [name, value] : found) {
    const bool is_name = !name.empty() && std::ranges::all_of(name, [](char c) { return is_word(c) || c == '_'; });
    if (!is_name || value.find_first_not_of("0123456789abcdefABCDEFxX ,\t") != value.npos) return std::nullopt;
    const auto bytes = numbers(value, ByteShape::hexadecimal);
    if (!bytes || bytes->empty()) return std::nullopt;
    const bool is_address = name.size() == 2 && all_of_base(name, 16);
    read.bytes.insert(read.bytes.end(), bytes->begin(), bytes->end());
    read.runs.push_back({(is_address ? "0x" : "") + std::string(name), *bytes});
  }
  return read.runs.empty() ? std::nullopt : std::optional(std::move(read));
}

std::string without_comments(std::string_view text) {
  std::string plain;
  for (std::size_t at = 0; at < text.size();) {
    const bool line = text.substr(at).starts_with("//"), block = text.substr(at).starts_with("/*");
    if (!line && !block) {
      plain += text[at++];
      continue;
    }
    const std::size_t end = text.find(line ? "\n" : "*/", at);
    at = end == text.npos ? text.size() : end + (line ? 0 : 2);
    plain += ' ';
  }
  return plain;
}

// Without what is said of the bytes behind them, "72 01 … 57 : crc=57 YES", "72 01 … 57 t=23125", and without the same
// bytes once more, as Linux prints them.
std::string without_remarks(const std::string& text) {
  std::string plain, last;
  for (const std::string_view line : lines_of(text)) {
    std::size_t end = line.size();
    for (const std::string_view name : {" crc=", " CRC=", " t="}) {
      const std::size_t at = line.find(name);
      if (at == line.npos) continue;
      const auto said = words_of(line.substr(at + name.size()));
      const bool ends = said.size() == 1 || (said.size() == 2 && (said[1].text == "YES" || said[1].text == "NO"));
      if (ends) end = std::min(end, at);
    }
    while (end < line.size() && end > 0 && (line[end - 1] == ':' || line[end - 1] == ' ')) --end;
    const std::string kept(line.substr(0, end));
    if (end < line.size() && kept == last) continue;
    plain += kept + "\n";
    last = kept;
  }
  return plain;
}

// Without what a program or a person writes around bytes: comments, a declaration, names before a mark ("byte 0:",
// "data[1] =", "RX:"), the h of 1Ah.
std::string without_words(std::string_view original) {
  const std::string all = without_remarks(without_comments(original.substr(0, 20000)));
  std::string_view text = all;
  if (const auto brace = text.find('{'); brace != text.npos && without_spaces(text.substr(0, brace)).ends_with('='))
    text = text.substr(brace + 1, std::min(text.find('}', brace), text.size()) - brace - 1);
  std::vector<std::string> words;
  const auto is_pair = [](const std::string& word) { return word.size() == 2 && all_of_base(word, 16); };
  for (std::size_t at = 0; at < text.size();) {
    if (is_word(text[at]) || text[at] == '_') {
      std::size_t end = at;
      while (end < text.size() && (is_word(text[end]) || text[end] == '_')) ++end;
      std::string word(text.substr(at, end - at));
      at = end;
      if (word.size() == 3 && (word[2] | 0x20) == 'h' && is_pair(word.substr(0, 2))) word.pop_back();
      words.push_back(std::move(word));
      continue;
    }
    const bool is_mark = text[at] == ':' || text[at] == '=';
    if (is_mark && !words.empty()) words.pop_back();
    while (is_mark && !words.empty() && !is_pair(words.back()) && !has_prefix(words.back(), 'x')) words.pop_back();
    ++at;
  }
  std::string plain;
  for (const std::string& word : words) plain += (plain.empty() ? "" : " ") + word;
  return plain;
}

// Readings of a log, name:x1A2B, in their order.
std::vector<std::pair<std::string_view, std::string_view>> log_entries(std::string_view text) {
  std::vector<std::pair<std::string_view, std::string_view>> entries;
  constexpr std::size_t longest_entry = 200;
  const auto is_space = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
  const auto is_of_name = [](char c) { return is_word(c) || c == '_'; };
  for (std::size_t mark = text.find_first_of(":="); mark != text.npos; mark = text.find_first_of(":=", mark + 1)) {
    std::size_t from = mark + 1, end = mark;
    while (from < text.size() && is_space(text[from])) ++from;
    while (end > 0 && is_space(text[end - 1])) --end;
    std::size_t begin = end;
    while (begin > 0 && is_of_name(text[begin - 1])) --begin;
    while (begin < end && text[begin] >= '0' && text[begin] <= '9') ++begin;
    if (begin == end || from >= text.size() || text[from] != 'x') continue;
    const std::string_view digits = text.substr(from + 1, longest_entry);
    const auto length = std::min(digits.find_first_not_of("0123456789abcdefABCDEF"), digits.size());
    if (length >= 2) entries.emplace_back(text.substr(begin, end - begin), digits.substr(0, length));
  }
  return entries;
}

Result<ByteText> last_of_log(std::string_view text) {
  ByteText read{.shape = ByteShape::log};
  // From the end: the last hundred lines are enough.
  for (const auto& [name, digits] : log_entries(text.substr(text.size() > 20000 ? text.size() - 20000 : 0)))
    if (const auto bytes = read_hex(digits)) read.name = name, read.bytes = *bytes;
  return read.bytes.empty() ? Result<ByteText>(Problem{translated("no line holds bytes"), "name:x1A2B"}) : read;
}

ByteShape guess(std::string_view text) {
  if (text.find("\\x") != std::string_view::npos || text.starts_with("b'") || text.starts_with("b\""))
    return ByteShape::text_escapes;
  if (!log_entries(text.substr(0, 20000)).empty()) return ByteShape::log;
  if (named_blocks(text)) return ByteShape::blocks;
  const auto first = lines_of(text.substr(0, 400)).front();
  if (is_grid_heading(first)) return ByteShape::dump;
  if (const auto row = dump_row(first, false); row && !row->bytes.empty()) return ByteShape::dump;
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
                                       EnumName{blocks, to_translate("blocks by name")},
                                       EnumName{log, to_translate("log of a serial line")}};
  return names;
}

Result<ByteText> read_byte_text(std::string_view text, std::optional<ByteShape> as) {
  if (text.size() > longest) return Problem{translated("the text is too long"), translated("a megabyte at most")};
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
  if (text.empty()) return ByteText{};
  const auto read_as = [](std::string_view from, ByteShape shape) -> Result<ByteText> {
    if (shape == ByteShape::dump) return dump(from);
    if (shape == ByteShape::log) return last_of_log(from);
    if (shape == ByteShape::blocks) {
      auto named = named_blocks(from);
      return named ? Result<ByteText>(std::move(*named))
                   : Problem{translated("these are no blocks by name"), "0xF7=655AC0; 0xFA=7EED00"};
    }
    auto bytes = shape == ByteShape::text_escapes ? escapes(from) : numbers(from, shape);
    if (!bytes) return bytes.problem();
    return ByteText{.bytes = std::move(*bytes), .shape = shape};
  };
  const ByteShape shape = as.value_or(guess(text));
  auto read = read_as(text, shape);
  if (read || shape > ByteShape::binary) return read;
  if (const std::string plain = without_words(text); plain != text && plain.find_first_not_of(" \t\r\n") != plain.npos)
    if (auto again = read_as(plain, as.value_or(guess(plain))); again && !again->bytes.empty()) return again;
  return read;
}

}  // namespace fair_gauge
