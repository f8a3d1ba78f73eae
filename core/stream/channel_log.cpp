#include "stream/channel_log.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <memory>

#include "files/delimited.h"
#include "stream/log_time.h"

namespace fair_gauge {
namespace {

double median_of(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

double usual_period(const std::vector<LogReading>& rows, double otherwise) {
  std::vector<double> steps;
  for (std::size_t i = 1; i < rows.size(); ++i)
    if (const double step = rows[i].seconds - rows[i - 1].seconds; std::isfinite(step)) steps.push_back(step);
  return steps.empty() ? otherwise : median_of(std::move(steps));
}

}  // namespace

ChannelLog own_rows(const ChannelLog& log) {
  std::size_t empty = 0, run = 0, longest = 0, runs = 0;
  for (const LogReading& row : log.rows) {
    if (row.empty) ++empty, runs += run == 0 ? 1 : 0;
    run = row.empty ? run + 1 : 0;
    longest = std::max(longest, run);
  }
  if (empty * 5 <= log.rows.size() || longest * runs > 4 * empty) return log;
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
  const std::unique_ptr<std::FILE, decltype(close)> file(path == "-" ? stdin : std::fopen(path.c_str(), "rb"), close);
  if (!file)
    return Problem{fmt::format("reading failed: {}", std::strerror(errno)),
                   "a log that can be read",
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
    if (rest.size() > block) return Problem{"a line is longer than 1 MB", "a log with line ends", {.file = path}};
  }
  if (std::ferror(file.get()))
    return Problem{fmt::format("reading failed: {}", std::strerror(errno)),
                   "a log that can be read",
                   {.file = path},
                   ProblemKind::file};
  if (!rest.empty()) hand(rest);
  return std::nullopt;
}

Result<LogHeader> read_log_header(std::string_view line, const std::string& wanted, const std::string& channel) {
  LogHeader header{.separator = separator_of(line)};
  const auto names = cells_of(line, header.separator);
  const std::vector<std::string> candidates =
      wanted.empty() ? std::vector<std::string>{channel, "counts"} : std::vector{wanted};
  const auto named = std::ranges::find_if(
      candidates, [&](const std::string& name) { return std::ranges::find(names, name) != names.end(); });
  if (named == candidates.end())
    return Problem{
        fmt::format("the header \"{}\" has no column \"{}\"", line.substr(0, 80), fmt::join(candidates, "\" or \"")),
        "a header that names the column of raw numbers, or --column",
        {.line = 1, .column = 1}};
  header.column = static_cast<std::size_t>(std::ranges::find(names, *named) - names.begin());
  if (const auto time = std::ranges::find_if(names, names_time); time != names.end())
    header.time = static_cast<std::size_t>(time - names.begin());
  return header;
}

Result<ChannelLog> read_channel_log(const std::string& path, const Chain& chain, const std::string& column) {
  ChannelLog log;
  const CellReader reader(chain);
  std::optional<LogHeader> header;
  std::optional<Problem> fault;
  // Raw numbers come again and again: of those that are short the reading is worked out once.
  constexpr std::size_t remembered = 1u << 16;
  std::vector<double> known(remembered, -std::numeric_limits<double>::infinity());
  const auto problem = for_each_line(path, [&](std::string_view line) {
    if (trimmed(line).empty()) return true;
    if (!header) {
      auto read = read_log_header(line, column, chain.channel.id);
      if (!read) fault = read.problem();
      if (!read) return false;
      header = *read;
      log.has_time = header->time.has_value();
      return true;
    }
    const auto cells = cells_of(line, header->separator);
    const std::string_view text = header->column < cells.size() ? cells[header->column] : std::string_view();
    LogReading row{.row = ++log.all_rows, .seconds = static_cast<double>(log.all_rows - 1) * chain.channel.period_s};
    if (header->time) {
      const std::string_view time = *header->time < cells.size() ? cells[*header->time] : std::string_view();
      row.seconds = moment_of(time);
      (log.rows.empty() ? log.from : log.to) = time;
      if (log.rows.empty()) log.to = time;
    }
    std::size_t plain = text.size() <= 5 && !text.empty() ? 0 : remembered;
    for (const char c : text)
      plain = plain < remembered && c >= '0' && c <= '9' ? plain * 10 + static_cast<std::size_t>(c - '0') : remembered;
    if (plain < remembered && !std::isinf(known[plain])) {
      row.raw = static_cast<double>(plain), row.reading = known[plain];
    } else {
      const LogCell cell = reader.read(text);
      row.raw = cell.raw.value_or(std::nan(""));
      row.reading = cell.reading ? chain.shown->from_base(*cell.reading) : std::nan("");
      row.empty = text.empty();
      if (!cell.fault.empty()) {
        const std::pair words(cell.fault, cell.says);
        auto at = std::ranges::find(log.faults, words);
        if (at == log.faults.end() && log.faults.size() < 60'000) at = log.faults.insert(at, words);
        row.fault = static_cast<std::uint16_t>(at - log.faults.begin() + 1);
      } else if (plain < remembered) {
        known[plain] = row.reading;
      }
    }
    log.rows.push_back(row);
    return true;
  });
  if (problem) return *problem;
  if (fault) return *fault;
  if (!header) return Problem{"the log is empty", "a header and rows", {.file = path, .line = 1}};
  log.period_s = chain.channel.period_s;
  if (log.has_time) log.period_s = usual_period(log.rows, log.period_s);
  return log;
}

ChannelLog log_of_raws(const Chain& chain, const std::vector<std::pair<double, double>>& came) {
  ChannelLog log{.all_rows = came.size(), .has_time = true};
  for (const auto& [seconds, raw] : came) {
    const auto base = read_raw(chain, raw);
    log.rows.push_back({.row = log.rows.size() + 1,
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
  for (const double difference : differences) sizes.push_back(std::abs(difference));
  // Six times the usual size happens by chance to one difference in five hundred million.
  const double usual = 1.4826 * median_of(sizes),
               most = usual > 0 ? 6 * usual : std::numeric_limits<double>::infinity();
  double squares = 0, count = 0, sum = 0;
  for (const double difference : differences)
    if (std::abs(difference) <= most) squares += difference * difference, sum += difference, ++count;
  // A steady drift is the same in every difference.
  const double mean = sum / count, variance = std::max(0.0, squares / count - mean * mean);
  return std::sqrt(variance / 2);
}

}  // namespace fair_gauge
