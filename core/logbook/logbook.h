// The logbook: a file of its own beside the bench, one JSON object a line, only ever appended to.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/unknown_keys.h"
#include "quantity/enum_names.h"
#include "quantity/result.h"

namespace fair_gauge {

enum class EntryKind {
  note,
  calibration,
  correction,  ///< one was put in place or taken away
  wiring,
  identity
};  ///< a serial or an address

/// A point as it was taken.
struct RecordedPoint {
  double reference = 0;           ///< base units
  double reference_standard = 0;  ///< 0 → not known
  double reading = 0;             ///< mean, without correction
  double spread = 0;              ///< standard deviation of the single readings
  int readings = 1;
  std::string conditions;
  UnknownKeys unknown;

  bool operator==(const RecordedPoint&) const = default;
};

struct CalibrationRecord {
  std::string quantity;
  std::string unit;       ///< UCUM code of the base unit
  std::string procedure;  ///< in words
  std::string reference;  ///< instrument and certificate, the user's own words
  std::vector<RecordedPoint> points;
  std::string model;
  double origin = 0;
  std::vector<double> coefficients;
  std::vector<double> standard_uncertainties;
  double residual_sd = 0;
  double tolerance = 0;
  /// Base units: where what follows holds, at its worst; nothing → in the middle of what was wanted then.
  std::optional<double> holds_from;
  std::optional<double> holds_to;
  /// The point where what was shown before anything was changed was off by most: its reference, and by how much.
  std::optional<double> found_at;
  std::optional<double> found_error;
  /// Share of the allowed error; nothing where nobody knows how far it may be off.
  std::optional<double> used_before;
  std::optional<double> used_after;
  double expanded = 0;  ///< of a reading afterwards, 95 %
  std::string verdict;
  UnknownKeys unknown;

  bool operator==(const CalibrationRecord&) const = default;
};

struct LogEntry {
  int number = 0;  ///< from 1, as they were written
  std::string on;  ///< 2026-11-24 22:31
  std::string who;
  EntryKind kind = EntryKind::note;
  std::string channel;  ///< id, or empty for the bench
  std::string words;
  int corrects = 0;  ///< number of the entry that this one takes the place of; 0 → none
  std::optional<CalibrationRecord> calibration;
  UnknownKeys unknown;

  bool operator==(const LogEntry&) const = default;
};

std::span<const EnumName<EntryKind>> enum_names(EntryKind);

struct Logbook {
  std::vector<LogEntry> entries;  ///< in the order they were written
  std::vector<Problem> problems;  ///< lines that were not understood; they stay in the file
  /// True if a later entry takes the place of this one.
  bool is_corrected(const LogEntry& entry) const;
};

/// An entry as JSON text, and back. \param indent  spaces a level; −1 → one line
Result<LogEntry> entry_from_text(std::string line);
std::string entry_to_text(const LogEntry& entry, int indent = -1);
/// Points as a JSON list, and back.
Result<std::vector<RecordedPoint>> points_from_text(std::string text);
std::string points_to_text(const std::vector<RecordedPoint>& points);

/// The file that belongs to a bench file: NAME.fairgauge.json → NAME.logbook.ndjson.
std::string logbook_path(const std::string& bench_path);

/// Reads a logbook; a missing file is an empty one.
Result<Logbook> read_logbook(const std::string& path);

/// Writes one entry at the end and flushes it to the disk. \returns the entry with its number
Result<LogEntry> append_entry(const std::string& path, LogEntry entry);

/// Entries that hold every word of a text, in any field, ignoring case; the newest first.
std::vector<const LogEntry*> search_entries(const Logbook& logbook, std::string_view text);

}  // namespace fair_gauge
