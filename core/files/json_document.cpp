#include "files/json_document.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <set>

#include "files/file.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr int deepest = 64;

Place place_at(std::string_view text, std::size_t offset, const std::string& file) {
  offset = std::min(offset, text.size());
  const auto before = text.substr(0, offset);
  const auto line_start = before.rfind('\n');
  return {.file = file,
          .line = static_cast<int>(std::ranges::count(before, '\n')) + 1,
          .column = static_cast<int>(offset - (line_start == std::string_view::npos ? 0 : line_start + 1)) + 1};
}

// The offset of the bracket that opens one level too many.
std::optional<std::size_t> too_deep(std::string_view text) {
  int depth = 0;
  bool in_string = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (in_string) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        in_string = false;
    } else if (c == '"') {
      in_string = true;
    } else if (c == '{' || c == '[') {
      if (++depth > deepest) return i;
    } else if (c == '}' || c == ']') {
      --depth;
    }
  }
  return std::nullopt;
}

// Walks a text known to be valid JSON and stops at the value a pointer names.
class Locator {
 public:
  explicit Locator(std::string_view text) : text_(text) {}

  std::size_t find(std::string_view pointer) {
    skip_space();
    std::size_t best = at_;
    while (!pointer.empty()) {
      pointer.remove_prefix(1);
      const auto end = std::min(pointer.find('/'), pointer.size());
      std::string step(pointer.substr(0, end));
      pointer.remove_prefix(end);
      for (const auto& [code, sign] : {std::pair{"~1", "/"}, std::pair{"~0", "~"}})
        for (std::size_t at; (at = step.find(code)) != std::string::npos;) step.replace(at, 2, sign);
      if (!enter(step)) break;
      best = at_;
    }
    return best;
  }

 private:
  bool enter(const std::string& step) {
    const char opening = peek();
    if (opening != '{' && opening != '[') return false;
    ++at_;
    for (int index = 0;; ++index) {
      skip_space();
      if (peek() == '}' || peek() == ']' || at_ >= text_.size()) return false;
      std::string key = std::to_string(index);
      if (opening == '{') {
        const auto start = at_;
        skip_string();
        key = text_.substr(start + 1, at_ - start - 2);
        skip_space();
        ++at_;  // the colon
        skip_space();
      }
      if (key == step) return true;
      skip_value();
      skip_space();
      if (peek() == ',') ++at_;
    }
  }
  char peek() const { return at_ < text_.size() ? text_[at_] : '\0'; }
  void skip_space() {
    while (at_ < text_.size() && std::string_view(" \t\r\n").find(text_[at_]) != std::string_view::npos) ++at_;
  }
  void skip_string() {
    for (++at_; at_ < text_.size() && text_[at_] != '"'; ++at_)
      if (text_[at_] == '\\') ++at_;
    ++at_;
  }
  void skip_value() {
    int depth = 0;
    do {
      const char c = peek();
      if (c == '"') {
        skip_string();
        continue;
      }
      if (c == '{' || c == '[') ++depth;
      if (c == '}' || c == ']') {
        if (depth == 0) return;
        --depth;
      }
      if (depth == 0 && c == ',') return;
      ++at_;
    } while (at_ < text_.size() && (depth > 0 || std::string_view(",]}").find(peek()) == std::string_view::npos));
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

}  // namespace

Place JsonDocument::place_of(std::string_view pointer) const {
  return place_at(text, Locator(text).find(pointer), file);
}

Result<JsonDocument> parse_json(std::string text, std::string file) {
  if (text.starts_with("\xEF\xBB\xBF")) text.erase(0, 3);
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    return Problem{translated("the file is empty"), translated("a JSON text"), {.file = file, .line = 1, .column = 1}};
  if (const auto offset = too_deep(text))
    return Problem{translated("values are nested more than {} levels deep", deepest), translated("a flatter file"),
                   place_at(text, *offset, file)};
  try {
    Json value = Json::parse(text);
    return JsonDocument{std::move(value), std::move(file), std::move(text)};
  } catch (const Json::parse_error& error) {
    const auto offset = error.byte > 0 ? error.byte - 1 : 0;
    const bool cut_off = offset + 1 >= text.size() || text.find_first_not_of(" \t\r\n", offset) == std::string::npos;
    std::string what = error.what();
    if (const auto cause = what.rfind("; "); cause != std::string::npos) what.erase(0, cause + 2);
    return Problem{cut_off ? translated("the text ends in the middle") : translated("this is not JSON"),
                   cut_off ? translated("a closing bracket or quote: the file may have been cut off") : what,
                   place_at(text, offset, file)};
  } catch (const Json::exception& error) {
    return Problem{
        translated("a number is too large for the program"), translated("numbers below 1.8e308"), {.file = file}};
  }
}

bool nests_too_deep(std::string_view text) { return too_deep(text).has_value(); }

std::vector<Problem> duplicate_keys(const JsonDocument& document) {
  std::vector<Problem> found;
  std::vector<std::set<std::string>> objects;
  using Event = Json::parse_event_t;
  const auto look = [&](int, Event event, Json& parsed) {
    if (event == Event::object_start) objects.emplace_back();
    if (event == Event::object_end) objects.pop_back();
    if (event == Event::key && !objects.back().insert(parsed.get<std::string>()).second && found.size() < 100)
      found.push_back({translated("the key \"{}\" stands twice in one object", parsed.get<std::string>()),
                       translated("each key once: the last one is used"),
                       {.file = document.file}});
    return true;
  };
  const Json looked_through = Json::parse(document.text, look, false);
  (void)looked_through;
  return found;
}

Result<JsonDocument> read_json(const std::string& path) {
  auto text = read_file(path);
  if (!text) return text.problem();
  return parse_json(std::move(*text), path);
}

}  // namespace fair_gauge
