#include "language/translation.h"

#include <algorithm>
#include <atomic>
#include <mutex>
#include <optional>

namespace fair_gauge {
namespace {

std::atomic<const Translation*> in_use = nullptr;

// What is left of a quoted string of a PO file; nothing if its quotes are not there.
std::optional<std::string> unquoted(std::string_view text) {
  const std::size_t from = text.find('"');
  const std::size_t to = text.rfind('"');
  if (from == std::string_view::npos || from == to) return std::nullopt;
  std::string plain;
  for (std::size_t i = from + 1; i < to; ++i) {
    if (text[i] != '\\' || i + 1 == to) {
      plain += text[i];
      continue;
    }
    ++i;
    plain += text[i] == 'n' ? '\n' : text[i] == 't' ? '\t' : text[i];
  }
  return plain;
}

// The fields of a format, "0:.2f" for {:.2f}, and the marks %1 to %9 of the window's texts.
std::vector<std::string> marks_of(std::string_view text) {
  std::vector<std::string> marks;
  int next = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '%' && i + 1 < text.size() && text[i + 1] >= '1' && text[i + 1] <= '9')
      marks.emplace_back(text.substr(i, 2));
    if (text[i] == '}' && i + 1 < text.size() && text[i + 1] == '}')
      ++i;
    else if (text[i] == '}')
      marks.emplace_back("}");  // closes nothing: no format
    if (text[i] != '{') continue;
    if (i + 1 < text.size() && text[i + 1] == '{') {
      ++i;
      continue;
    }
    int depth = 1;
    std::string mark;
    const auto number = [&] {
      if (i + 1 < text.size() && (text[i + 1] == '}' || text[i + 1] == ':')) mark += std::to_string(next++);
    };
    number();
    for (++i; i < text.size(); ++i) {
      if (text[i] == '}' && --depth == 0) break;
      mark += text[i];
      if (text[i] != '{') continue;
      ++depth;
      number();
    }
    marks.push_back(depth == 0 ? mark : mark + "{");  // or nothing closes it
  }
  std::ranges::sort(marks);
  return marks;
}

}  // namespace

void Translation::take(std::string english, std::string other) {
  constexpr std::string_view head = "Language: ";
  if (const auto at = other.find(head); english.empty() && at != std::string::npos)
    language_ = other.substr(at + head.size(), other.find('\n', at) - at - head.size());
  if (english.empty() || other.empty()) return;
  if (marks_of(english) != marks_of(other)) {
    problems_.push_back("\"" + english + "\" has other marks than \"" + other + "\"");
    return;
  }
  entries_.insert_or_assign(std::move(english), std::move(other));
}

Translation Translation::of_entries(const std::vector<std::pair<std::string, std::string>>& entries) {
  Translation translation;
  for (const auto& [english, other] : entries) translation.take(english, other);
  return translation;
}

Translation Translation::of_po(std::string_view text) {
  Translation translation;
  std::string english;
  std::string other;
  std::string* into = nullptr;
  bool fuzzy = false;
  const auto finish = [&] {
    if (!fuzzy) translation.take(english, other);
    english.clear(), other.clear();
    into = nullptr;
    fuzzy = false;
  };
  for (int number = 1; !text.empty(); ++number) {
    const std::size_t end = text.find('\n');
    std::string_view line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    if (line.empty() || line.front() == '#') {
      if (into == &other) finish();
      fuzzy = fuzzy || (line.starts_with("#,") && line.find("fuzzy") != std::string_view::npos);
      continue;
    }
    if (line.starts_with("msgid")) {
      if (into == &other) finish();
      into = &english;
    } else if (line.starts_with("msgstr")) {
      into = &other;
    }
    const auto plain = unquoted(line);
    if (plain && into)
      *into += *plain;
    else
      translation.problems_.push_back("line " + std::to_string(number) +
                                      " is neither msgid nor msgstr nor quoted text");
  }
  finish();
  return translation;
}

const char* Translation::find(std::string_view english) const {
  const auto entry = entries_.find(english);
  return entry == entries_.end() ? nullptr : entry->second.c_str();
}

void use_translation(std::shared_ptr<const Translation> translation) {
  static std::mutex guard;
  static std::vector<std::shared_ptr<const Translation>> used;
  const std::lock_guard lock(guard);
  in_use = translation.get();
  if (translation) used.push_back(std::move(translation));
}

std::string language_in_use() {
  const Translation* translation = in_use;
  return translation && !translation->language().empty() ? translation->language() : "en";
}

const char* translated(const char* english) {
  const Translation* translation = in_use;
  const char* other = translation ? translation->find(english) : nullptr;
  return other ? other : english;
}

std::string translated(const std::string& english) { return translated(english.c_str()); }

}  // namespace fair_gauge
