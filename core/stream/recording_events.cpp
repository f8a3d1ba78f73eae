#include "stream/recording_events.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>

#include "files/delimited.h"
#include "files/file.h"
#include "language/translation.h"
#include "stream/log_time.h"

namespace fair_gauge {
namespace {

constexpr std::string_view events_header = "time,kind,words";

// As a cell between quotes: inside it they are doubled, and a line stays one.
std::string in_quotes(std::string_view words) {
  std::string text = "\"";
  for (const char c : words) {
    text += c == '\n' || c == '\r' ? ' ' : c;
    if (c == '"') text += '"';
  }
  return text + '"';
}

// What the text between the quotes of a cell says.
std::string out_of_quotes(std::string_view cell) {
  std::string text;
  for (std::size_t i = 0; i < cell.size(); ++i) {
    text += cell[i];
    if (cell[i] == '"' && i + 1 < cell.size() && cell[i + 1] == '"') ++i;
  }
  return text;
}

Problem cannot_write(const std::string& path) {
  return {translated("writing failed: {}", std::strerror(errno)),
          translated("a file that can be written"),
          {.file = path},
          ProblemKind::file};
}

}  // namespace

std::string events_path(const std::string& recording) { return recording + "-events.csv"; }

std::optional<Problem> append_event(const std::string& recording, const RecordingEvent& event) {
  const std::string path = events_path(recording);
  const int file = ::open(path.c_str(), O_RDWR | O_CREAT | O_APPEND | O_NONBLOCK | O_CLOEXEC, 0644);
  if (file < 0) return cannot_write(path);
  struct stat facts {};
  std::string begins(events_header.size(), '\0');
  std::optional<Problem> problem;
  if (::fstat(file, &facts) != 0 || !S_ISREG(facts.st_mode)) {
    problem = Problem{translated("this is no regular file"), translated("the events of a recording"), {.file = path}};
  } else if (facts.st_size > 0 &&
             (::pread(file, begins.data(), begins.size(), 0) != static_cast<ssize_t>(begins.size()) ||
              begins != events_header)) {
    problem = Problem{translated("the file holds something else"),
                      translated("events, which begin with \"{}\"", events_header),
                      {.file = path}};
  } else {
    std::string text;
    char last = '\n';
    if (facts.st_size == 0)
      text = std::string(events_header) + "\n";
    else if (::pread(file, &last, 1, facts.st_size - 1) == 1 && last != '\n')
      text = "\n";  // a row that was cut
    text += fmt::format("{},{},{}\n", moment_text(event.seconds), event.kind, in_quotes(event.words));
    if (::write(file, text.data(), text.size()) != static_cast<ssize_t>(text.size()) || ::fsync(file) != 0)
      problem = cannot_write(path);
  }
  ::close(file);
  return problem;
}

std::vector<RecordingEvent> read_events(const std::string& recording) {
  const auto text = read_file(events_path(recording));
  std::vector<RecordingEvent> events;
  if (!text) return events;
  Rows rows(*text);
  std::string_view line;
  if (!rows.next(line) || line != events_header) return events;
  while (rows.next(line)) {
    // Time and kind hold no comma; the words stand in quotes of their own.
    const auto first = line.find(','), second = line.find(',', first == line.npos ? first : first + 1);
    if (second == line.npos) continue;
    std::string_view words = line.substr(second + 1);
    if (words.size() < 2 || words.front() != '"' || words.back() != '"') continue;
    words = words.substr(1, words.size() - 2);
    const double seconds = moment_of(line.substr(0, first));
    if (std::isfinite(seconds))
      events.push_back({seconds, std::string(line.substr(first + 1, second - first - 1)), out_of_quotes(words)});
  }
  return events;
}

}  // namespace fair_gauge
