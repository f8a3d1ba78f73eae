#include "stream/recorder.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <filesystem>

#include "files/delimited.h"
#include "files/file.h"
#include "files/json_document.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "stream/listening.h"
#include "stream/log_time.h"
#include "stream/recording_events.h"

namespace fair_gauge {
namespace {

constexpr double collects_s = 1, flushes_s = 0.5;
constexpr std::size_t most_waiting = 10'000;

Problem failed(const std::string& path, const char* what, int error) {
  return Problem{translated("{} failed: {}", what, std::strerror(error)),
                 translated("a file that can be written"),
                 {.file = path},
                 ProblemKind::file};
}

std::string number_text(double number) {
  return number == std::floor(number) && std::abs(number) < 1e15 ? fmt::format("{:.0f}", number)
                                                                 : fmt::format("{}", number);
}

std::string cell_of(const RawItem& item) {
  if (item.number) return number_text(*item.number);
  return to_hex(item.bytes);
}

// The end of a file from its last whole row on, and what that row's time is.
struct Ending {
  std::string header;
  std::uintmax_t whole = 0;  // bytes up to the last line end
  double last = 0;
};

Result<Ending> read_ending(const std::string& path) {
  const int file = ::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC);
  if (file < 0) return failed(path, translated("opening"), errno);
  struct stat facts {};
  ::fstat(file, &facts);
  if (!S_ISREG(facts.st_mode)) {
    ::close(file);
    return Problem{translated("this is no regular file"), translated("a recording or a new name"), {.file = path}};
  }
  Ending ending;
  const auto read = [&](off_t from, std::size_t count) {
    std::string text(count, '\0');
    const ssize_t got = ::pread(file, text.data(), count, from);
    text.resize(got > 0 ? static_cast<std::size_t>(got) : 0);
    return text;
  };
  constexpr std::size_t longest = 1u << 16;
  const auto size = static_cast<std::size_t>(facts.st_size);
  const std::string begin = read(0, std::min(size, longest));
  const std::size_t tail_from = size > longest ? size - longest : 0;
  const std::string tail = read(static_cast<off_t>(tail_from), size - tail_from);
  ::close(file);
  const auto header_end = begin.find('\n');
  if (header_end == std::string::npos)
    return Problem{
        size == 0 ? translated("the file is empty: it has no header") : translated("the file has no header line"),
        translated("a recording of this bench, or a new name"),
        {.file = path, .line = 1}};
  ending.header = std::string(trimmed(begin.substr(0, header_end)));
  const auto last_end = tail.rfind('\n');
  ending.whole = tail_from + last_end + 1;
  const auto row_from = last_end == 0 ? std::string::npos : tail.rfind('\n', last_end - 1);
  if (last_end != std::string::npos && row_from != std::string::npos) {
    const auto cells = cells_of(std::string_view(tail).substr(row_from + 1, last_end - row_from - 1), ',');
    if (const double at = moment_of(cells.front()); std::isfinite(at)) ending.last = at;
  }
  return ending;
}

}  // namespace

Result<Recorder> Recorder::open(const Bench& bench, const Catalogue& catalogue, const std::string& path,
                                RecordedColumns wanted) {
  Recorder recorder;
  recorder.path_ = path;
  recorder.wanted_ = wanted;
  for (const Channel& channel : bench.channels) {
    if (channel.derived) continue;  // its inputs are kept, and it is worked out from them
    const auto chain = build_chain(bench, catalogue, channel.id);
    recorder.known_.push_back({channel.id, channel.name_on_line(), channel.unit,
                               std::string(enum_name(channel.quantity)), chain && chain->decoder != nullptr, channel});
  }
  if (recorder.known_.empty())
    return Problem{translated("the bench has no channel to record"), translated("a bench with channels")};
  std::error_code none;
  if (!std::filesystem::exists(std::filesystem::symlink_status(path, none))) return recorder;
  const auto ending = read_ending(path);
  if (!ending) return ending.problem();
  const auto names = cells_of(ending->header, ',');
  const auto other = [&](const std::string& wrong) {
    return Problem{translated("the file begins with \"{}\": {}", ending->header.substr(0, 80), wrong),
                   translated("a recording of this bench, time and ids of its channels, or a new name"),
                   {.file = path, .line = 1}};
  };
  if (names.empty() || names.front() != "time") return other(translated("that is no recording"));
  for (const std::string_view name : std::span(names).subspan(1)) {
    const auto known = std::ranges::find(recorder.known_, name, &Column::id);
    if (known == recorder.known_.end()) return other(translated("\"{}\" is no channel of the bench", name));
    recorder.columns_.push_back(*known);
  }
  if (recorder.columns_.empty()) return other(translated("it has no channel"));
  if (::truncate(path.c_str(), static_cast<off_t>(ending->whole)) != 0)
    return failed(path, translated("cutting the last row"), errno);
  recorder.begun_ = true;
  recorder.last_ = ending->last;
  if (!std::filesystem::exists(path + "-metadata.json", none))
    if (auto problem = recorder.write_metadata()) return *problem;
  return recorder;
}

bool Recorder::take(const SerialLine& line, double seconds) {
  Row row{.seconds = std::max(seconds, last_)};
  for (const RawItem& item : line.items) {
    bool taken = false;
    for (Column& known : known_) {
      if (known.line_name != item.name) continue;
      RawItem cell = item;
      if (item.number) {
        const auto number = number_for(known.channel, item);
        if (!number) continue;  // a unit that this channel does not have
        cell.number = number;
      }
      if (begun_ && std::ranges::find(columns_, known.id, &Column::id) == columns_.end()) continue;
      row.cells.emplace_back(known.id, cell_of(cell));
      if (!item.is_missing()) known.bytes = !item.number;
      taken = true;
    }
    if (!taken && (strangers_.size() < 1000 || strangers_.contains(item.name))) ++strangers_[item.name];
  }
  if (row.cells.empty()) return false;
  last_ = row.seconds;
  if (begun_) {
    put(row);
  } else {
    if (waiting_.empty()) first_ = seconds;
    waiting_.push_back(std::move(row));
  }
  return true;
}

void Recorder::put(const Row& row) {
  ready_ += moment_text(row.seconds);
  for (const Column& column : columns_) {
    ready_ += ',';
    const auto cell = std::ranges::find(row.cells, column.id, &std::pair<std::string, std::string>::first);
    if (cell != row.cells.end()) ready_ += cell->second;
  }
  ready_ += '\n';
  ++rows_;
}

std::optional<Problem> Recorder::write_metadata() const {
  Json columns = Json::array();
  columns.push_back({{"name", "time"}, {"titles", "time"}, {"datatype", "dateTimeStamp"}, {"unit", "UTC"}});
  for (const Column& column : columns_)
    columns.push_back({{"name", column.id},
                       {"titles", column.id},
                       {"datatype", column.bytes ? "hexBinary" : "number"},
                       {"unit", column.bytes                         ? "bytes"
                                : column.channel.arrives_converted() ? column.channel.arriving_unit()
                                                                     : "raw"},
                       {"channel", column.id},
                       {"quantity", column.quantity},
                       {"null", ""}});
  const Json metadata = {
      {"@context", "http://www.w3.org/ns/csvw"},
      {"url", std::filesystem::path(path_).filename().string()},
      {"dialect", {{"header", true}, {"delimiter", ","}}},
      {"notes", Json::array({{{"events", std::filesystem::path(events_path(path_)).filename().string()},
                              {"says", "what happened meanwhile, where there is such a file"}}})},
      {"tableSchema", {{"columns", columns}}}};
  const auto written = write_file(path_ + "-metadata.json", metadata.dump(2) + "\n");
  return written ? std::nullopt : std::optional(written.problem());
}

std::optional<Problem> Recorder::begin() {
  // All channels also where none was named. Where this fails it is tried again with the next tick.
  columns_.clear();
  for (const Column& column : known_)
    if (wanted_ == RecordedColumns::all || std::ranges::any_of(waiting_, [&](const Row& row) {
          return std::ranges::find(row.cells, column.id, &std::pair<std::string, std::string>::first) !=
                 row.cells.end();
        }))
      columns_.push_back(column);
  if (columns_.empty()) columns_ = known_;
  if (auto problem = write_metadata()) return problem;
  std::string header = "time";
  for (const Column& column : columns_) header += "," + column.id;
  // Whole from the first moment on: a file without its header would not be gone on with.
  if (const auto written = write_file(path_, header + "\n"); !written) return written.problem();
  begun_ = true;
  for (const Row& row : waiting_) put(row);
  waiting_.clear();
  return std::nullopt;
}

std::optional<Problem> Recorder::flush() {
  if (ready_.empty()) return std::nullopt;
  const int file = ::open(path_.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
  if (file < 0) return failed(path_, translated("opening"), errno);
  std::size_t done = 0;
  int error = 0;
  while (done < ready_.size()) {
    const ssize_t count = ::write(file, ready_.data() + done, ready_.size() - done);
    if (count < 0 && errno == EINTR) continue;
    if (count <= 0) {
      error = errno;
      break;
    }
    done += static_cast<std::size_t>(count);
  }
  ready_.erase(0, done);
  ::close(file);
  return error ? std::optional(failed(path_, translated("writing"), error)) : std::nullopt;
}

std::optional<Problem> Recorder::tick(double seconds) {
  if (!begun_ && !waiting_.empty() && (seconds - first_ >= collects_s || waiting_.size() >= most_waiting))
    if (auto problem = begin()) return problem;
  if (seconds - flushed_ < flushes_s && seconds >= flushed_ && ready_.size() < 1u << 16) return std::nullopt;
  flushed_ = seconds;
  return flush();
}

std::optional<Problem> Recorder::finish() {
  if (!begun_)
    if (auto problem = begin()) return problem;
  return flush();
}

}  // namespace fair_gauge
