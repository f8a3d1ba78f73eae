#include "files/delimited.h"

#include <algorithm>

namespace fair_gauge {

std::string_view without_mark(std::string_view text) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  return text;
}

std::string_view trimmed(std::string_view text) {
  constexpr std::string_view space = " \t\r\n";
  for (;;) {
    const auto first = text.find_first_not_of(space);
    if (first == std::string_view::npos) return text.substr(0, 0);  // where it stood
    text = text.substr(first, text.find_last_not_of(space) - first + 1);
    if (text.size() < 2 || text.front() != '"' || text.back() != '"') return text;
    text = text.substr(1, text.size() - 2);
  }
}

char separator_of(std::string_view heading) {
  bool quoted = false, semicolon = false, tab = false;
  for (const char c : heading) {
    if (c == '"') quoted = !quoted;
    semicolon = semicolon || (c == ';' && !quoted);
    tab = tab || (c == '\t' && !quoted);
  }
  return semicolon ? ';' : tab ? '\t' : ',';
}

std::vector<std::string_view> cells_of(std::string_view row, char separator) {
  std::vector<std::string_view> cells;
  if (separator == ' ') row = row.substr(std::min(row.find_first_not_of(' '), row.size()));
  std::size_t start = 0;
  bool quoted = false;
  for (std::size_t i = 0; i <= row.size(); ++i) {
    if (i < row.size() && row[i] == '"') quoted = !quoted;
    if (i == row.size() || (row[i] == separator && !quoted)) {
      cells.push_back(trimmed(row.substr(start, i - start)));
      while (separator == ' ' && i + 1 < row.size() && row[i + 1] == ' ') ++i;
      if (separator == ' ' && i + 1 == row.size()) break;  // spaces at the end part nothing
      start = i + 1;
    }
  }
  return cells;
}

bool Rows::next(std::string_view& row) {
  if (rest_.empty()) return false;
  line_ = lines_taken_ + 1;
  bool quoted = false;
  std::size_t end = 0;
  for (; end < rest_.size() && (quoted || rest_[end] != '\n'); ++end) {
    if (rest_[end] == '"') quoted = !quoted;
    if (rest_[end] == '\n') ++lines_taken_;
  }
  if (quoted) {  // a quote that never closes spoils its own line, not the rest of the file
    lines_taken_ = line_ - 1;
    end = std::min(rest_.find('\n'), rest_.size());
  }
  ++lines_taken_;
  row = rest_.substr(0, end);
  if (!row.empty() && row.back() == '\r') row.remove_suffix(1);
  rest_.remove_prefix(std::min(end + 1, rest_.size()));
  return true;
}

}  // namespace fair_gauge
