#include "stream/channel_log.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <future>
#include <memory>
#include <thread>

#include "files/delimited.h"
#include "files/readable_text.h"
#include "language/translation.h"
#include "quantity/letters.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"
#include "stream/log_heading.h"
#include "stream/log_time.h"

namespace fair_gauge {
namespace {

double median_of(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return values.size() % 2 == 1 ? *middle : (*middle + *std::max_element(values.begin(), middle)) / 2;
}

// Of the very many an even sample says as much; an odd stride does not fall in with what comes in pairs.
std::size_t sample_stride(std::size_t count) {
  constexpr std::size_t enough = 500'000;
  return count <= 2 * enough ? 1 : (count / enough) | 1;
}

// Rows that a line held back come all at once, and times written in whole seconds are alike for several rows: neither
// says how far apart rows are. Where steps of a length of their own fill most of the time they count alone.
double usual_period(const std::vector<LogReading>& rows, double otherwise) {
  constexpr double at_once_s = 2e-3;
  std::vector<double> steps, apart;
  double all_s = 0, apart_s = 0;
  const std::size_t stride = sample_stride(rows.size());
  for (std::size_t i = 1; i < rows.size(); i += stride) {
    const double step = rows[i].seconds - rows[i - 1].seconds;
    if (!std::isfinite(step)) continue;
    steps.push_back(step), all_s += std::abs(step);
    if (step > at_once_s) apart.push_back(step), apart_s += step;
  }
  if (steps.empty()) return otherwise;
  const double median = median_of(steps);
  if (median > at_once_s || apart.empty()) return median < 0 ? otherwise : median;  // all against the order of time
  const bool are_many = apart.size() * 100 >= steps.size();
  return median <= 0 || (are_many && 2 * apart_s >= all_s) ? median_of(std::move(apart)) : median;
}

}  // namespace

void settle_times(ChannelLog& log, double period_s) {
  const auto first = std::ranges::find_if(log.rows, [](const LogReading& row) { return std::isfinite(row.seconds); });
  if (first == log.rows.end()) log.has_time = false;
  log.period_s = log.has_time ? usual_period(log.rows, period_s) : period_s;
  if (!log.has_time) {
    for (LogReading& row : log.rows) row.seconds = static_cast<double>(row.row - 1) * period_s;
  } else if (log.untimed > 0) {
    double last = first->seconds;
    for (LogReading& row : log.rows) {
      row.is_timed = std::isfinite(row.seconds);
      last = row.seconds = row.is_timed ? row.seconds : last;
    }
  }
}

std::vector<std::string> remarks_on(const ChannelLog& log) {
  std::vector<std::string> remarks;
  if (!log.has_header) remarks.emplace_back(translated("no header: the last column is taken for the raw numbers"));
  if (log.untimed > 0 && !log.has_time) {
    remarks.push_back(translated("no time can be read (\"{}\" in the first row), so rows are taken as {} apart",
                                 log.from, with_prefix(log.period_s, "s", 3)));
  } else if (log.untimed > 0) {
    const auto first = std::ranges::find(log.rows, false, &LogReading::is_timed);
    remarks.push_back(
        translated("rows whose time cannot be read: {}, the first is row {}; they stand with their neighbours",
                   log.untimed, first == log.rows.end() ? 1 : first->row));
  }
  return remarks;
}

std::optional<ChannelLog> own_rows(const ChannelLog& log) {
  if (!log.is_shared) return std::nullopt;
  std::size_t empty = 0, run = 0, longest = 0, runs = 0;
  for (const LogReading& row : log.rows) {
    if (row.empty) ++empty, runs += run == 0 ? 1 : 0;
    run = row.empty ? run + 1 : 0;
    longest = std::max(longest, run);
  }
  if (empty * 5 <= log.rows.size() || longest * runs > 4 * empty) return std::nullopt;
  ChannelLog own = log;
  std::erase_if(own.rows, [](const LogReading& row) { return row.empty; });
  if (own.has_time) own.period_s = usual_period(own.rows, own.period_s);
  return own;
}

std::optional<Problem> for_each_line(const std::string& path, const std::function<bool(std::string_view)>& take) {
  constexpr std::size_t block = 1u << 20;
  const auto close = [](std::FILE* file) {
    if (file != stdin) std::fclose(file);
  };
  const auto readable = ReadableText::of(path);
  if (!readable) return readable.problem();
  const std::unique_ptr<std::FILE, decltype(close)> file(
      path == "-" ? stdin : std::fopen(readable->path().c_str(), "rb"), close);
  if (!file)
    return Problem{translated("reading failed: {}", std::strerror(errno)),
                   translated("a log that can be read"),
                   {.file = path},
                   ProblemKind::file};
  std::string rest;
  std::vector<char> buffer(block);
  bool first = true;
  const auto hand = [&](std::string_view line) {
    while (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    return take(std::exchange(first, false) ? without_mark(line) : line);
  };
  while (const std::size_t count = std::fread(buffer.data(), 1, block, file.get())) {
    std::string_view text(buffer.data(), count);
    for (auto end = text.find('\n'); end != std::string_view::npos; end = text.find('\n')) {
      rest.append(text.substr(0, end));
      text.remove_prefix(end + 1);
      if (!hand(rest)) return std::nullopt;
      rest.clear();
    }
    rest.append(text);
    if (rest.size() > block)
      return Problem{translated("a line is longer than 1 MB"), translated("a log with line ends"), {.file = path}};
  }
  if (std::ferror(file.get()))
    return Problem{translated("reading failed: {}", std::strerror(errno)),
                   translated("a log that can be read"),
                   {.file = path},
                   ProblemKind::file};
  if (!rest.empty()) hand(rest);
  return std::nullopt;
}

std::vector<std::string> column_names(const Chain& chain) {
  const Chain* read = &chain;
  while (read->channel.is_derived() && !read->inputs.empty()) read = read->inputs.front().get();
  std::vector<std::string> names = {chain.channel.raw_channel()};
  if (!read->channel.line_name.empty()) names.push_back(read->channel.line_name);
  names.emplace_back("counts");
  return names;
}

std::optional<std::size_t> column_named(const std::vector<std::string_view>& heading,
                                        const std::vector<std::string>& names) {
  for (const bool as_written : {true, false})
    for (const std::string& name : names)
      for (std::size_t i = 0; i < heading.size(); ++i)
        if (as_written ? heading[i] == name : small_letters(heading[i]) == small_letters(name)) return i;
  return std::nullopt;
}

namespace {

Problem cannot_read(const std::string& path) {
  return {translated("reading failed: {}", std::strerror(errno)),
          translated("a log that can be read"),
          {.file = path},
          ProblemKind::file};
}

using FileHandle = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

constexpr std::size_t longest_log_line = 1u << 20;

// Bytes of a file from a place on; fewer at its end.
Result<std::size_t> read_bytes(std::FILE* file, const std::string& path, std::size_t from, std::size_t count,
                               std::vector<char>& into) {
  into.resize(count);
  if (std::fseek(file, static_cast<long>(from), SEEK_SET) != 0) return cannot_read(path);
  const std::size_t got = std::fread(into.data(), 1, count, file);
  if (std::ferror(file)) return cannot_read(path);
  into.resize(got);
  return got;
}

// The n-th cell of a row, as cells_of has it. \param is_plain  there is no quote in it, as somebody has looked
std::string_view cell_at(std::string_view row, char separator, std::size_t n, bool is_plain) {
  if (separator == ' ' || (!is_plain && row.find('"') != std::string_view::npos)) {
    const auto cells = cells_of(row, separator);
    return n < cells.size() ? cells[n] : std::string_view();
  }
  for (; n > 0; --n) {
    const auto end = row.find(separator);
    if (end == std::string_view::npos) return {};
    row.remove_prefix(end + 1);
  }
  return trimmed(row.substr(0, row.find(separator)));
}

// Rows of one stretch of a log after the other, each in its order. Row numbers and times without a time column are of
// the stretch.
class RowReader {
 public:
  RowReader(const Chain& chain, const LogHeader& header, RowChains* beside)
      : chain_(chain), header_(header), reader_(chain), beside_(beside && beside->is_beside() ? beside : nullptr) {}
  void take(std::string_view line) {
    while (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    if (trimmed(line).empty()) return;
    const std::string_view text = cell_at(line, header_.separator, header_.column, is_plain_);
    LogReading row{.row = static_cast<std::uint32_t>(++log_.all_rows)};
    if (header_.time.of_day) {
      last_time_ =
          header_.time.text([&](std::size_t place) { return cell_at(line, header_.separator, place, is_plain_); });
      row.seconds = moment_of(last_time_, header_.time_form);
      if (log_.rows.empty()) log_.from = last_time_;
    } else if (header_.time.moment) {
      const std::string_view time = cell_at(line, header_.separator, *header_.time.moment, is_plain_);
      row.seconds = moment_of(time, header_.time_form);
      if (log_.rows.empty()) log_.from = time;
      last_time_.assign(time);
    }
    if (header_.time.moment && !std::isfinite(row.seconds)) ++log_.untimed;
    if (beside_)
      put_cell(beside_->read(cells_of(line, header_.separator), header_.column), text, row);
    else
      read_cell(text, row);
    log_.rows.push_back(row);
  }
  /// Whether what other channels read before holds on for its rows.
  RowChains* beside() const { return beside_; }
  void know_from(std::string_view line) const {
    (void)beside_->read(cells_of(line, header_.separator), header_.column);
  }
  void reserve(std::size_t rows) { log_.rows.reserve(rows); }
  /// There is no quote in the lines that are taken now.
  void expect_plain(bool is_plain) { is_plain_ = is_plain; }
  /// What was taken since the last time.
  ChannelLog finish() {
    log_.has_time = header_.time.moment.has_value(), log_.is_shared = header_.is_shared;
    log_.to = std::move(last_time_);
    last_time_.clear();
    return std::exchange(log_, {});
  }

 private:
  void read_cell(std::string_view text, LogReading& row) {
    if (const CellMemory::Known* known = known_.find(text)) {
      row.raw = known->raw, row.reading = chain_.shown->from_base(known->reading);
      return;
    }
    const LogCell cell = reader_.read(text);
    known_.keep(text, cell);
    put_cell(cell, text, row);
  }
  void put_cell(const LogCell& cell, std::string_view text, LogReading& row) {
    row.raw = cell.raw.value_or(std::nan(""));
    row.reading = cell.reading ? chain_.shown->from_base(*cell.reading) : std::nan("");
    row.empty = text.empty();
    if (!cell.fault.empty()) row.fault = fault_place(log_, {cell.fault, cell.says});
  }

 public:
  using FaultWords = std::pair<std::string, std::string>;
  static std::uint16_t fault_place(ChannelLog& log, const FaultWords& words) {
    auto at = std::ranges::find(log.faults, words);
    if (at == log.faults.end() && log.faults.size() < 60'000) at = log.faults.insert(at, words);
    return static_cast<std::uint16_t>(at - log.faults.begin() + 1);
  }

 private:
  const Chain& chain_;
  const LogHeader& header_;
  CellReader reader_;
  RowChains* beside_;
  CellMemory known_{1u << 14};
  ChannelLog log_;
  std::string last_time_;
  bool is_plain_ = false;
};

// A file cut into stretches, which threads take one after the other.
struct Stretches {
  static constexpr std::size_t bytes = 4u << 20;
  std::string path;
  std::size_t begin = 0, end = 0;  // of the rows, in the file
  std::atomic<std::size_t> next = 0;
  std::atomic<bool> stopped = false;

  std::size_t count() const { return (end - begin + bytes - 1) / bytes; }
  std::vector<std::promise<Result<ChannelLog>>> read = std::vector<std::promise<Result<ChannelLog>>>(count());
};

// What other channels read last before a stretch, from as many lines before it as it takes.
std::optional<Problem> know_before(std::FILE* file, const Stretches& all, std::size_t from, const RowReader& rows,
                                   std::vector<char>& buffer) {
  for (std::size_t back = 1u << 16;; back *= 8) {
    rows.beside()->forget();
    const std::size_t begin = from - std::min(back, from - all.begin), own = from - begin;
    const auto got = read_bytes(file, all.path, begin, own + longest_log_line, buffer);
    if (!got) return got.problem();
    const std::string_view text(buffer.data(), *got);
    // But for the beginning of the file the first line may be cut.
    const auto first = text.find('\n');
    std::size_t at = begin == all.begin ? 0 : first == std::string_view::npos ? own : first + 1;
    while (at < own) {
      const auto line_end = std::min(text.find('\n', at), text.size());
      std::string_view line = text.substr(at, line_end - at);
      while (line.ends_with('\r')) line.remove_suffix(1);
      if (!trimmed(line).empty()) rows.know_from(line);
      at = line_end + 1;
    }
    if (begin == all.begin || rows.beside()->has_seen_all()) return std::nullopt;
  }
}

// Lines that begin in one stretch. The line before its first line end began in the one before.
Result<ChannelLog> read_stretch(std::FILE* file, const Stretches& all, std::size_t which, RowReader& rows,
                                std::vector<char>& buffer) {
  if (rows.beside() && !rows.beside()->accumulates() && which > 0) {
    const std::size_t from = all.begin + which * Stretches::bytes;
    if (auto problem = know_before(file, all, from, rows, buffer)) return *problem;
  }
  // From the byte before, which says whether a line begins here, to the end of the last line.
  const std::size_t before = which == 0 ? 0 : 1, from = all.begin + which * Stretches::bytes - before,
                    to = std::min(all.end, from + before + Stretches::bytes);
  const auto got = read_bytes(file, all.path, from, to - from + longest_log_line, buffer);
  if (!got) return got.problem();
  std::string_view text(buffer.data(), *got);
  const std::size_t own = std::min(to - from, *got);  // bytes of the stretch
  rows.expect_plain(text.find('"') == std::string_view::npos);
  std::size_t at = 0;
  if (which > 0) {
    const auto first = text.find('\n');
    if (first == std::string_view::npos && *got > longest_log_line)
      return Problem{translated("a line is longer than 1 MB"), translated("a log with line ends"), {.file = all.path}};
    at = first == std::string_view::npos ? own : first + 1;
  }
  for (std::size_t taken = 0; at < own; ++taken) {
    const auto line_end = std::min(text.find('\n', at), text.size());
    if (line_end - at > longest_log_line || (line_end == text.size() && *got == to - from + longest_log_line))
      return Problem{translated("a line is longer than 1 MB"), translated("a log with line ends"), {.file = all.path}};
    rows.take(text.substr(at, line_end - at));
    at = line_end + 1;
    if (taken == 1000) rows.reserve(own / at * 1050);
  }
  return rows.finish();
}

// Takes stretches until there are none.
void read_stretches(Stretches& all, const Chain& chain, const LogHeader& header, RowChains* beside) {
  RowReader rows(chain, header, beside);
  std::vector<char> buffer;
  const FileHandle file(std::fopen(all.path.c_str(), "rb"), std::fclose);
  for (std::size_t which = all.next++; which < all.count(); which = all.next++) {
    if (all.stopped)
      all.read[which].set_value(
          Problem{translated("reading was stopped"), translated("the whole log"), {.file = all.path}});
    else
      all.read[which].set_value(file ? read_stretch(file.get(), all, which, rows, buffer) : cannot_read(all.path));
  }
}

// Puts one stretch behind another.
void append(ChannelLog& log, ChannelLog&& next) {
  std::vector<std::uint16_t> places(1, 0);
  for (const auto& words : next.faults) places.push_back(RowReader::fault_place(log, words));
  if (log.rows.empty()) log.from = std::move(next.from);
  if (!next.rows.empty()) log.to = std::move(next.to);
  const std::size_t before = log.all_rows;
  for (LogReading& row : next.rows) row.row += static_cast<std::uint32_t>(before), row.fault = places[row.fault];
  log.all_rows += next.all_rows, log.untimed += next.untimed;
  if (log.rows.empty())
    log.rows = std::move(next.rows);
  else
    log.rows.insert(log.rows.end(), next.rows.begin(), next.rows.end());
}

// The rows of a file from a place on, put together in their order while the next are read.
Result<ChannelLog> read_rows(const std::string& path, std::size_t begin, const Chain& chain, const LogHeader& header,
                             const LogProgress& progress, RowChains* beside) {
  std::error_code error;
  const auto size = static_cast<std::size_t>(std::filesystem::file_size(path, error));
  ChannelLog log{.has_time = header.time.moment.has_value(), .is_shared = header.is_shared};
  Stretches all{.path = path, .begin = std::min(begin, size), .end = size};
  std::vector<std::future<void>> threads;
  // What comes together over a day is read in its order.
  const std::size_t cores = beside && beside->accumulates() ? 1 : std::max(1u, std::thread::hardware_concurrency());
  std::vector<std::unique_ptr<RowChains>> others;
  for (std::size_t i = 0; i < std::min(cores, all.count()); ++i) {
    RowChains* own = beside;
    if (beside && i > 0) own = others.emplace_back(beside->another()).get();
    threads.push_back(std::async(all.count() > 1 ? std::launch::async : std::launch::deferred,
                                 [&all, &chain, &header, own] { read_stretches(all, chain, header, own); }));
  }
  if (all.count() == 1) threads.front().get();
  std::optional<Problem> fault;
  for (std::size_t i = 0; i < all.count(); ++i) {
    auto stretch = all.read[i].get_future().get();
    if (!stretch && !fault) fault = stretch.problem();
    if (fault) continue;
    append(log, std::move(*stretch));
    if (i == 0)  // room for all, by the rows of the first
      log.rows.reserve(static_cast<std::size_t>(1.02 * static_cast<double>(log.rows.size() * all.count())) + 16);
    if (progress && !progress(log, static_cast<double>(i + 1) / static_cast<double>(all.count()))) {
      all.stopped = true;
      fault = Problem{translated("reading was stopped"), translated("the whole log"), {.file = path}};
    }
  }
  if (fault) return *fault;
  return log;
}

// What a heading says. \param number  of its line, from 1
Result<LogHeader> header_of(std::string_view line, std::size_t number, bool is_row,
                            const std::vector<std::string>& wanted, const LogDialect& dialect) {
  LogHeader header{.is_row = is_row, .separator = dialect.separator, .time_form = dialect.time};
  const auto names = cells_of(heading_text(line), header.separator);
  if (is_row) {
    header.column = names.size() - 1;
    if (names.size() == 2) header.time.moment = 0;
    return header;
  }
  const auto named = column_named(names, wanted);
  if (!named)
    return Problem{translated("the header \"{}\" has no column \"{}\"", trimmed(without_mark(line)).substr(0, 80),
                              fmt::join(wanted, translated("\" or \""))),
                   translated("the name of the column that holds the raw numbers"),
                   {.line = static_cast<int>(number), .column = 1}};
  header.column = *named;
  header.time = time_places(names);
  header.is_shared = names.size() > 1U + (header.time.moment ? 1U : 0U) + (header.time.of_day ? 1U : 0U);
  return header;
}

// The lines of a log up to its heading, and what had to be looked at behind it.
struct LogBeginning {
  WantedHeading wanted;
  std::vector<std::string> lines = {};
  std::optional<LogHeading> found = {};

  /// \returns whether no more lines are needed
  bool look(bool is_end) {
    found = find_heading({lines.begin(), lines.end()}, wanted, is_end);
    return found || is_end || lines.size() >= most_lines_above;
  }
  /// Place of the heading, or of what stands where one should.
  std::size_t line() const { return found ? found->line : first_line_of({lines.begin(), lines.end()}); }
  bool is_row() const { return found && found->is_row; }
};

// Its first rows, where they can be read twice; a stream is understood by its heading.
// \param at  of the heading in the file
LogDialect dialect_of_file(const std::string& path, bool is_file, std::size_t at, std::string_view heading,
                           const LogChoice& choice) {
  constexpr std::size_t enough = 1u << 16;
  std::vector<char> bytes;
  const FileHandle file(is_file ? std::fopen(path.c_str(), "rb") : nullptr, std::fclose);
  if (file && read_bytes(file.get(), path, at, enough, bytes))
    return dialect_of(std::string_view(bytes.data(), bytes.size()), choice);
  return dialect_of(heading, choice);
}

// Where a line of a file begins. \param line  from 0
std::size_t place_of_line(std::FILE* file, std::size_t line) {
  std::size_t place = 0;
  for (; line > 0; ++place)
    if (const int c = std::getc(file); c == EOF)
      break;
    else if (c == '\n')
      --line;
  return place;
}

}  // namespace

Result<ChannelLog> read_channel_log(const std::string& original, const Chain& chain, const std::string& column,
                                    const LogProgress& progress, RowChains* beside, const LogChoice& choice) {
  const auto readable = ReadableText::of(original);
  if (!readable) return readable.problem();
  const std::string& path = readable->path();
  const std::vector<std::string> names = column.empty() ? column_names(chain) : std::vector{column};
  LogBeginning beginning{.wanted = {names, choice.separator, column.empty()}};
  LogDialect dialect;
  std::optional<Result<LogHeader>> header;
  std::optional<RowReader> rows;  // of what can be read only once
  std::error_code error;
  const bool is_file = path != "-" && std::filesystem::is_regular_file(path, error);
  std::size_t begin = 0;  // of the rows, in the file
  const auto understand = [&] {
    const std::string& line = beginning.lines[beginning.line()];
    const FileHandle file(is_file ? std::fopen(path.c_str(), "rb") : nullptr, std::fclose);
    if (file) begin = place_of_line(file.get(), beginning.line());
    dialect = dialect_of_file(path, is_file, begin, line, choice);
    header = header_of(line, beginning.line() + 1, beginning.is_row(), names, dialect);
    if (file && !beginning.is_row()) begin += place_of_line(file.get(), 1);
    if (*header && beside)
      if (const auto missing = beside->begin(cells_of(heading_text(line), dialect.separator), dialect.time))
        header = *missing;
    if (!*header || is_file) return false;
    rows.emplace(chain, **header, beside);
    for (std::size_t i = beginning.line() + (beginning.is_row() ? 0 : 1); i < beginning.lines.size(); ++i)
      rows->take(beginning.lines[i]);
    return true;
  };
  const auto problem = for_each_line(path, [&](std::string_view line) {
    if (rows) {
      rows->take(line);
      return true;
    }
    beginning.lines.emplace_back(line);
    return !beginning.look(false) || understand();
  });
  if (problem) return *problem;
  const bool is_empty = std::ranges::all_of(beginning.lines, [](const auto& line) { return trimmed(line).empty(); });
  if (is_empty)
    return Problem{translated("the log is empty"), translated("a header and rows"), {.file = original, .line = 1}};
  if (!header) beginning.look(true), understand();
  if (!*header) {
    Problem unread = header->problem();
    unread.place.file = original == "-" ? "standard input" : original;
    return unread;
  }
  ChannelLog log{.has_time = (*header)->time.moment.has_value(), .is_shared = (*header)->is_shared};
  if (is_file) {
    auto read = read_rows(path, begin, chain, **header, progress, beside);
    if (!read) return read.problem();
    log = std::move(*read);
  } else if (rows) {
    append(log, rows->finish());
  }
  log.has_header = !(*header)->is_row, log.lines_above = beginning.line();
  log.dialect = dialect, log.was_utf16 = readable->was_utf16();
  settle_times(log, chain.channel.period_s);
  return log;
}

ChannelLog log_of_raws(const Chain& chain, const CameRaws& came, RowChains* beside,
                       const std::map<std::string, CameRaws>& others, double clock) {
  ChannelLog log{.all_rows = came.size(), .has_time = true};
  std::map<std::string, std::size_t> next;  // of each of the others
  for (const auto& [seconds, raw] : came) {
    for (const auto& [id, theirs] : others)
      for (std::size_t& at = next[id]; at < theirs.size() && theirs[at].first <= seconds; ++at)
        beside->know(id, theirs[at].second);
    const auto base = beside ? beside->reading(raw, clock + seconds) : read_raw(chain, raw);
    log.rows.push_back({.row = static_cast<std::uint32_t>(log.rows.size() + 1),
                        .seconds = seconds,
                        .raw = raw,
                        .reading = base ? chain.shown->from_base(*base) : std::nan("")});
  }
  log.period_s = usual_period(log.rows, chain.channel.period_s);
  return log;
}

double noise_of(const std::vector<double>& differences) {
  if (differences.size() < 2) return 0;
  std::vector<double> sizes;
  const std::size_t stride = sample_stride(differences.size());
  sizes.reserve(differences.size() / stride + 1);
  for (std::size_t i = 0; i < differences.size(); i += stride) sizes.push_back(std::abs(differences[i]));
  double usual = median_of(sizes);
  constexpr std::size_t few = 20;  // of them nobody can say which are the odd ones
  if (usual == 0 && sizes.size() < few) usual = std::numeric_limits<double>::infinity();
  if (usual == 0) {  // a quiet signal on a coarse converter: what differs at all says how much
    std::erase(sizes, 0);
    if (sizes.size() < 3) return 0;
    usual = median_of(std::move(sizes));
  }
  // Six times the usual size happens by chance to one difference in five hundred million.
  const double most = 6 * 1.4826 * usual;
  double squares = 0, count = 0, sum = 0;
  for (const double difference : differences)
    if (std::abs(difference) <= most) squares += difference * difference, sum += difference, ++count;
  // A steady drift is the same in every difference.
  const double mean = sum / count, variance = std::max(0.0, squares / count - mean * mean);
  return std::sqrt(variance / 2);
}

double noise_beside_swings(const std::vector<double>& differences) {
  std::vector<double> bends;
  const std::size_t stride = sample_stride(differences.size());
  for (std::size_t i = 1; i < differences.size(); i += stride) bends.push_back(differences[i] - differences[i - 1]);
  return noise_of(bends) / std::sqrt(3.0);  // that halves the variance itself
}

}  // namespace fair_gauge
