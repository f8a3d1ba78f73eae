#include "stream/log_heading.h"

#include <algorithm>
#include <cctype>
#include <cmath>

#include "files/delimited.h"
#include "quantity/quantity_text.h"
#include "stream/channel_log.h"
#include "stream/log_time.h"

namespace fair_gauge {
namespace {

bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_letter_or_digit(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0; }

bool is_comment(std::string_view line) { return trimmed(without_mark(line)).starts_with('#'); }

struct Candidate {
  std::vector<std::string_view> cells;
  char separator = ',';
  std::optional<std::size_t> column;  // that is wanted
  bool is_certain = false;            // words of a sentence may name a column too
};

Candidate candidate_of(std::string_view line, const WantedHeading& wanted) {
  const std::string_view text = heading_text(line);
  Candidate candidate{.separator = wanted.separator.value_or(log_separator_of(text))};
  candidate.cells = cells_of(text, candidate.separator);
  candidate.column = column_named(candidate.cells, wanted.names);
  candidate.is_certain = candidate.column && candidate.separator != ' ' && !is_comment(line);
  return candidate;
}

// Whether a line can be the first row below a heading.
bool is_below(std::string_view line, const Candidate& heading) {
  const auto cells = cells_of(line, heading.separator);
  if (is_comment(line) || cells.size() != heading.cells.size()) return false;
  if (heading.column) return cells[*heading.column].empty() || is_letter_or_digit(cells[*heading.column].back());
  const auto is_number = [](std::string_view cell) { return std::isfinite(moment_of(cell)); };
  return std::ranges::any_of(cells, is_number) && std::ranges::none_of(heading.cells, is_number);
}

bool is_row_of_numbers(const std::vector<std::string_view>& cells) {
  return cells.size() <= 2 && (parse_number(cells.back()) || cells.back().starts_with("0x")) &&
         (cells.size() == 1 || cells.front().empty() || is_digit(cells.front().front()));
}

}  // namespace

std::string_view heading_text(std::string_view line) {
  line = without_mark(line);
  if (is_comment(line)) line.remove_prefix(line.find('#') + 1);
  return line;
}

std::size_t first_line_of(const std::vector<std::string_view>& lines) {
  const auto first = std::ranges::find_if(
      lines, [](std::string_view line) { return !trimmed(without_mark(line)).empty() && !is_comment(line); });
  return first == lines.end() ? 0 : static_cast<std::size_t>(first - lines.begin());
}

std::optional<LogHeading> find_heading(const std::vector<std::string_view>& lines, const WantedHeading& wanted,
                                       bool is_end) {
  is_end = is_end || lines.size() >= most_lines_above;
  std::optional<LogHeading> likely;
  bool is_first = true;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (trimmed(without_mark(lines[i])).empty()) continue;
    const Candidate candidate = candidate_of(lines[i], wanted);
    if (candidate.is_certain) return LogHeading{.line = i};
    if (candidate.column || wanted.names.empty()) {
      const auto below = std::find_if(lines.begin() + static_cast<std::ptrdiff_t>(i) + 1, lines.end(),
                                      [](std::string_view line) { return !trimmed(line).empty(); });
      if (below == lines.end() && !is_end) return std::nullopt;
      if (below != lines.end() && is_below(*below, candidate)) return LogHeading{.line = i};
    }
    if (is_comment(lines[i])) continue;
    if (candidate.column && !likely) likely = {.line = i};
    if (is_first && wanted.may_be_missing && is_row_of_numbers(candidate.cells)) return LogHeading{i, true};
    is_first = false;
  }
  return is_end ? likely : std::nullopt;
}

std::string_view from_heading(std::string_view text, const WantedHeading& wanted) {
  std::vector<std::string_view> lines;
  Rows rows(text);
  for (std::string_view line; lines.size() < most_lines_above && rows.next(line);) lines.push_back(line);
  if (lines.empty()) return text;
  const auto found = find_heading(lines, wanted, true);
  const std::string_view line = lines[found ? found->line : first_line_of(lines)];
  return text.substr(static_cast<std::size_t>(line.data() - text.data()));
}

}  // namespace fair_gauge
