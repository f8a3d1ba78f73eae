#include "logbook/logbook.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <filesystem>

#include "files/file.h"
#include "language/translation.h"
#include "quantity/letters.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_bytes = 64u << 20;

}  // namespace

std::span<const EnumName<EntryKind>> enum_names(EntryKind) {
  static constexpr std::array table = {
      EnumName{EntryKind::note, "note"}, EnumName{EntryKind::calibration, "calibration"},
      EnumName{EntryKind::correction, "correction"}, EnumName{EntryKind::wiring, "wiring"},
      EnumName{EntryKind::identity, "identity"}};
  return table;
}

bool Logbook::is_corrected(const LogEntry& entry) const {
  return std::ranges::any_of(
      entries, [&](const LogEntry& other) { return other.corrects == entry.number && other.number != entry.number; });
}

std::string logbook_path(const std::string& bench_path) {
  std::string stem = bench_path;
  for (const char* ending : {".fairgauge.json", ".json"})
    if (stem.ends_with(ending)) {
      stem.erase(stem.size() - std::strlen(ending));
      break;
    }
  return stem + ".logbook.ndjson";
}

Result<Logbook> read_logbook(const std::string& path) {
  Logbook logbook;
  std::error_code gone;
  if (!std::filesystem::exists(path, gone)) return logbook;
  const auto text = read_file(path, most_bytes);
  if (!text) return text.problem();
  int line_number = 0;
  for (std::size_t at = 0; at < text->size();) {
    const std::size_t end = std::min(text->find('\n', at), text->size());
    const std::string line = text->substr(at, end - at);
    at = end + 1;
    ++line_number;
    if (line.find_first_not_of(" \t\r") == std::string::npos) continue;
    auto entry = entry_from_text(line);
    if (entry) {
      logbook.entries.push_back(std::move(*entry));
      continue;
    }
    Problem problem = entry.problem();
    problem.place.file = path;
    problem.place.line = line_number;
    logbook.problems.push_back(std::move(problem));
  }
  return logbook;
}

Result<LogEntry> append_entry(const std::string& path, LogEntry entry) {
  const auto logbook = read_logbook(path);
  if (!logbook) return logbook.problem();
  entry.number = 1;
  for (const LogEntry& other : logbook->entries) entry.number = std::max(entry.number, other.number + 1);
  const auto failed = [&](const char* what) {
    return Problem{translated("{} failed: {}", what, std::strerror(errno)),
                   translated("a folder that can be written to"),
                   {.file = path}};
  };
  std::error_code ignored;
  if (const auto folder = std::filesystem::path(path).parent_path(); !folder.empty())
    std::filesystem::create_directories(folder, ignored);
  const int file = ::open(path.c_str(), O_RDWR | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
  if (file < 0) return failed(translated("opening the logbook"));
  std::string line = entry_to_text(entry) + "\n";
  // A last line that was cut off must not swallow this one.
  char last = '\n';
  if (const auto size = ::lseek(file, 0, SEEK_END); size > 0 && ::pread(file, &last, 1, size - 1) == 1 && last != '\n')
    line.insert(0, "\n");
  const off_t before = ::lseek(file, 0, SEEK_END);
  errno = 0;
  const ssize_t wrote = ::write(file, line.data(), line.size());
  const bool written = wrote == static_cast<ssize_t>(line.size()) && ::fsync(file) == 0;
  if (!written && errno == 0) errno = ENOSPC;  // a short write says nothing of its reason; a full disk is the usual one
  Problem problem = written ? Problem{} : failed(translated("writing the logbook"));
  if (!written && before >= 0) (void)!::ftruncate(file, before);  // half a line is no entry
  ::close(file);
  if (!written) return problem;
  return entry;
}

std::vector<const LogEntry*> search_entries(const Logbook& logbook, std::string_view text) {
  std::vector<std::string> words(1);
  for (const char c : small_letters(text))
    if (c == ' ')
      words.emplace_back();
    else
      words.back() += c;
  std::vector<const LogEntry*> found;
  for (auto entry = logbook.entries.rbegin(); entry != logbook.entries.rend(); ++entry) {
    const std::string whole = small_letters(entry_to_text(*entry));
    if (std::ranges::all_of(words, [&](const std::string& word) { return whole.find(word) != std::string::npos; }))
      found.push_back(&*entry);
  }
  return found;
}

}  // namespace fair_gauge
