#include "stream/log_convert.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "files/delimited.h"
#include "language/translation.h"
#include "quantity/quantity_text.h"
#include "stream/channel_log.h"
#include "stream/log_dialect.h"
#include "stream/log_heading.h"
#include "truth/error_budget.h"
#include "truth/verdict.h"

namespace fair_gauge {
namespace {

constexpr std::size_t longest_row = 1u << 20;
constexpr std::size_t ready_size = 1u << 16;  // stays in the cache

std::string_view without_line_end(std::string_view line) {
  while (!line.empty() && (line.back() == '\r' || line.back() == '\n')) line.remove_suffix(1);
  return line;
}

}  // namespace

int justified_decimals(const Chain& chain, const Unit& unit) {
  const Range& wanted = chain.channel.wanted;
  const auto budget = error_budget(chain, (wanted.from + wanted.to) / 2);
  return budget ? shown_decimals(*budget, unit) : 2;
}

// ---- table ----

ReadingTable::ReadingTable(const Chain& chain, int decimals, const Unit& unit)
    : chain_(chain), cells_(chain), decimals_(decimals), unit_(unit) {
  const int bits = chain.raw_node > chain.converter_node
                       ? 16
                       : static_cast<int>(std::lround(std::log2(chain.converter->largest_code() + 1)));
  if (bits > 16) return;
  entries_.resize(std::size_t{1} << bits);
  for (std::size_t raw = 0; raw < entries_.size(); ++raw) entries_[raw] = make(static_cast<double>(raw));
}

ReadingTable::Entry ReadingTable::make(double raw) const {
  const auto reading = read_raw(chain_, raw);
  return reading ? entry_of(*reading) : Entry{1, {','}};
}

ReadingTable::Entry ReadingTable::entry_of(double base) const {
  Entry entry{1, {','}};
  const std::string text = rounded(unit_.from_base(base), decimals_);
  if (text.size() >= sizeof entry.text) return entry;
  std::ranges::copy(text, entry.text + 1);
  entry.length = static_cast<char>(1 + text.size());
  return entry;
}

std::string_view ReadingTable::cell(std::uint32_t raw) const {
  return {entries_[raw].text, static_cast<std::size_t>(entries_[raw].length)};
}

std::string_view ReadingTable::cell_between(double raw) {
  if (!std::isfinite(raw)) {
    other_ = make(raw);
    return {other_.text, static_cast<std::size_t>(other_.length)};
  }
  // The same few thousand come again and again.
  Remembered& place = remembered_[static_cast<std::size_t>(std::abs(std::fmod(raw, 4096.0)))];
  if (place.raw != raw) place = {raw, make(raw)};
  other_ = place.entry;
  return {other_.text, static_cast<std::size_t>(other_.length)};
}

std::optional<std::string_view> ReadingTable::cell_of_bytes(std::string_view text, std::optional<Problem>& problem) {
  if (!chain_.bytes || !cells_.bytes_of(text)) return std::nullopt;
  const LogCell cell = cells_.read(text);
  problem = cell.problem;
  other_ = cell.reading ? entry_of(*cell.reading) : Entry{1, {','}};
  return std::string_view{other_.text, static_cast<std::size_t>(other_.length)};
}

std::string_view ReadingTable::cell_of_reading(double base) {
  other_ = entry_of(base);
  return {other_.text, static_cast<std::size_t>(other_.length)};
}

Problem ReadingTable::why(double raw) const {
  const auto reading = read_raw(chain_, raw);
  return reading ? Problem{translated("the reading is too long to write"), translated("fewer digits")}
                 : reading.problem();
}

// ---- converter ----

LogConverter::LogConverter(const Chain& chain, std::string column, int decimals, const Unit& unit, Sink sink,
                           std::unique_ptr<RowChains> beside)
    : table_(chain, decimals, unit),
      sink_(std::move(sink)),
      beside_(std::move(beside)),
      ready_(std::make_unique_for_overwrite<char[]>(ready_size)),
      columns_(column.empty() ? column_names(chain) : std::vector{column}),
      wanted_(std::move(column)),
      heading_(fmt::format("{}_{}", chain.channel.id, unit.ucum)) {}

void LogConverter::flush() {
  if (used_ > 0) sink_({ready_.get(), std::exchange(used_, 0)});
}

void LogConverter::put(std::string_view text) {
  while (!text.empty()) {
    if (used_ == ready_size) flush();
    const std::size_t part = std::min(text.size(), ready_size - used_);
    std::memcpy(ready_.get() + used_, text.data(), part);
    used_ += part;
    text.remove_prefix(part);
  }
}

std::optional<Problem> LogConverter::take_header(std::string_view original, bool is_row) {
  const std::string_view line = heading_text(without_line_end(original));
  separator_ = log_separator_of(line);
  const auto fields = cells_of(line, separator_);
  started_ = true;
  if (is_row) {
    column_ = fields.size() - 1;
    summary_.remarks.push_back(
        translated("line {}: the log has no header; column {} is taken for the raw numbers", line_ + 1, column_ + 1));
    take_rows(original);
    return std::nullopt;
  }
  const auto found = column_named(fields, columns_);
  if (!found) {
    std::string names;
    for (const std::string& name : columns_) names += (names.empty() ? "\"" : translated(" or \"")) + name + "\"";
    return Problem{
        translated("the header \"{}\" has no column {}", trimmed(without_mark(original)).substr(0, 80), names),
        translated("the name of the column that holds the raw numbers"),
        {.line = static_cast<int>(line_) + 1, .column = 1}};
  }
  column_ = *found;
  if (beside_)
    if (auto problem = beside_->begin(fields, dialect_of(line).time)) return problem;
  put(without_mark(without_line_end(original)));
  put({&separator_, 1});
  put(heading_);
  put(original.substr(without_line_end(original).size()));
  ++line_;
  return std::nullopt;
}

// Where the heading is among the lines held, or no more can be waited for: what stands above it stays as it is.
std::optional<Problem> LogConverter::begin(bool is_end) {
  std::vector<std::string_view> lines;
  for (const std::string& line : beginning_) lines.push_back(without_line_end(line));
  const auto heading = find_heading(lines, {.names = columns_, .may_be_missing = wanted_.empty()}, is_end);
  if (!heading && !is_end && lines.size() < most_lines_above) return std::nullopt;
  const std::size_t at = heading ? heading->line : first_line_of(lines);
  if (!heading) line_ = at;
  for (; heading && line_ < at; ++line_) put(line_ == 0 ? without_mark(beginning_[0]) : beginning_[line_]);
  const auto held = std::exchange(beginning_, {});
  if (auto problem = take_header(held[at], heading && heading->is_row)) return problem;
  for (std::size_t i = at + 1; i < held.size(); ++i) take_rows(held[i]);
  return std::nullopt;
}

void LogConverter::fail(const Problem& problem) {
  constexpr std::size_t most_reasons = 20, most_lines = 20;
  ++summary_.failures;
  if (summary_.first_failed.size() < most_lines) summary_.first_failed.push_back(line_);
  const bool many = summary_.failed.size() >= most_reasons;
  std::string words =
      many && !summary_.failed.contains(to_text(problem)) ? translated("other reasons") : to_text(problem);
  auto& reason = summary_.failed[std::move(words)];
  ++reason.count;
  if (reason.first_lines.size() < 10) reason.first_lines.push_back(line_);
}

// A row that is not plain digits in its column: empty, quoted, fractional, hexadecimal, or wrong.
void LogConverter::take_other_row(std::string_view whole) {
  const std::string_view line = without_line_end(whole);
  const std::string_view line_end = whole.substr(line.size());
  put(line);
  if (trimmed(line).empty()) {
    put(line_end);  // an empty line stays one
    --summary_.rows;
    return;
  }
  const std::string_view cell = read_other(cells_of(line, separator_));
  put({&separator_, 1});
  put(cell.substr(1));
  put(line_end);
}

std::string_view LogConverter::read_other(const std::vector<std::string_view>& fields) {
  if (fields.size() <= column_) {
    fail({translated("the row has {} of {} columns or more", fields.size(), column_ + 1),
          translated("a whole row: the file may have been cut off here")});
    return ",";
  }
  if (beside_ && beside_->is_beside()) return read_beside(fields);
  const std::string field(fields[column_]);
  std::optional<Problem> fault;
  if (const auto of_bytes = table_.cell_of_bytes(field, fault)) {
    if (of_bytes->size() > 1)
      ++summary_.converted;
    else
      fail(fault.value_or(Problem{translated("these bytes are no reading"), translated("bytes of the part")}));
    return *of_bytes;
  }
  const bool hexadecimal = field.starts_with("0x") || field.starts_with("0X");
  const auto whole_number = parse_quantity(field, Dimension::number);
  const auto number = hexadecimal
                          ? (whole_number ? Result<double>(whole_number->base) : Result<double>(whole_number.problem()))
                          : parse_number(field);
  if (!number) {
    fail({field.empty() ? translated("the field is empty") : translated("\"{}\" is not a number", field.substr(0, 40)),
          translated("a raw number")});
    return ",";
  }
  const std::string_view cell = table_.cell_between(*number);
  if (cell.size() > 1)
    ++summary_.converted;
  else
    fail(table_.why(*number));
  return cell;
}

// Of a channel that needs others' readings, with those of its row.
std::string_view LogConverter::read_beside(const std::vector<std::string_view>& fields) {
  const LogCell read = beside_->read(fields, column_);
  const std::string_view cell = read.reading ? table_.cell_of_reading(*read.reading) : std::string_view(",");
  if (cell.size() > 1)
    ++summary_.converted;
  else if (fields[column_].empty())
    fail({translated("the field is empty"), translated("a raw number")});
  else
    fail(read.problem.value_or(
        Problem{translated("there is no reading"), translated("a raw number within the channel's range")}));
  return cell;
}

// The hot path: rows of plain digits in their column that have a reading, up to the first that is otherwise. The last
// line of `lines` has its end. \returns where that one begins
const char* LogConverter::take_plain_rows(const char* at, const char* stop) {
  if (separator_ == ' ' || quotes_ || beside_) return at;
  constexpr std::ptrdiff_t short_row = 32;
  const char separator = separator_;
  const std::size_t columns = column_;
  char* to = ready_.get() + used_;
  std::uint64_t rows = 0;
  while (at < stop) {
    const char* field = at;
    for (std::size_t skip = columns; skip > 0; --skip) {
      while (*field != separator && *field != '\n') ++field;
      if (*field == '\n') break;
      ++field;
    }
    std::uint32_t raw = 0;
    const char* digit = field;
    while (static_cast<unsigned>(*digit - '0') < 10 && digit < field + 6)
      raw = raw * 10 + static_cast<std::uint32_t>(*digit++ - '0');
    if (digit == field || raw >= table_.size()) break;
    const char* end = digit;  // of what is kept; the line end follows
    if (*end == separator) end = static_cast<const char*>(std::memchr(end, '\n', static_cast<std::size_t>(stop - end)));
    if (*end == '\n' && end > digit && end[-1] == '\r') --end;
    const std::ptrdiff_t length = end - at;
    const int tail = *end == '\n' ? 1 : *end == '\r' && end[1] == '\n' ? 2 : 0;
    const std::string_view cell = table_.cell(raw);
    const std::size_t room = static_cast<std::size_t>(std::max(length, short_row)) + ReadingTable::longest_cell + 2;
    if (tail == 0 || cell.size() <= 1 || room > ready_size) break;
    if (room > static_cast<std::size_t>(ready_.get() + ready_size - to)) {
      used_ = static_cast<std::size_t>(to - ready_.get());
      flush();
      to = ready_.get();
    }
    if (length <= short_row && stop - at >= short_row)
      std::memcpy(to, at, short_row);  // a fixed length copies faster; what is too much is written over
    else
      std::memcpy(to, at, static_cast<std::size_t>(length));
    to += length;
    std::memcpy(to, cell.data(), ReadingTable::longest_cell);
    *to = separator;
    to += cell.size();
    to[0] = end[0];
    if (tail == 2) to[1] = '\n';
    to += tail;
    at = end + tail;
    ++rows;
  }
  used_ = static_cast<std::size_t>(to - ready_.get());
  line_ += rows;
  summary_.rows += rows;
  summary_.converted += rows;
  return at;
}

void LogConverter::take_rows(std::string_view lines) {
  quotes_ = lines.find('"') != std::string_view::npos;
  for (const char *at = lines.data(), *stop = at + lines.size(); at < stop;) {
    at = take_plain_rows(at, stop);
    if (at == stop) return;
    const char* end = static_cast<const char*>(std::memchr(at, '\n', static_cast<std::size_t>(stop - at)));
    ++line_;
    ++summary_.rows;
    take_other_row({at, end + 1});
    at = end + 1;
  }
}

std::optional<Problem> LogConverter::take(std::string_view block) {
  auto problem = take_block(block);
  flush();
  return problem;
}

std::optional<Problem> LogConverter::take_block(std::string_view block) {
  while (!started_ || !rest_.empty()) {
    const auto first_end = block.find('\n');
    if (first_end == std::string_view::npos) {
      rest_.append(block);
      if (rest_.size() > longest_row)
        return Problem{translated("a line is longer than 1 MB"),
                       translated("a log with line ends"),
                       {.line = static_cast<int>(line_) + 1}};
      return std::nullopt;
    }
    rest_.append(block.substr(0, first_end + 1));
    block.remove_prefix(first_end + 1);
    const std::string line = std::exchange(rest_, {});
    if (started_) {
      take_rows(line);
      continue;
    }
    beginning_.push_back(line);
    if (auto problem = begin(false)) return problem;
  }
  const auto last_end = block.rfind('\n');
  if (last_end != std::string_view::npos) take_rows(block.substr(0, last_end + 1));
  rest_.assign(block.substr(last_end == std::string_view::npos ? 0 : last_end + 1));
  return std::nullopt;
}

std::optional<Problem> LogConverter::finish() {
  const bool is_cut = !rest_.empty();
  if (is_cut)
    if (auto problem = take_block(std::exchange(rest_, {}) + "\n")) return problem;
  if (!started_) {
    if (std::ranges::all_of(beginning_, [](const auto& line) { return trimmed(line).empty(); }))
      return Problem{translated("the log is empty"), translated("a header and rows"), {.line = 1, .column = 1}};
    if (auto problem = begin(true)) return problem;
  }
  if (is_cut) {
    --used_;  // the line end that the file does not have
    summary_.remarks.push_back(
        translated("line {}: the file does not end with a line end; it may have been cut off there", line_));
  }
  flush();
  return std::nullopt;
}

}  // namespace fair_gauge
