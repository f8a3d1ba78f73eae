// The logbook: a file of its own beside the bench, one JSON object a line, only ever appended to.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/json_fields.h"
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
  Json unknown = Json::object();

  bool operator==(const RecordedPoint&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("reference", self.reference, {.required = true});
    visit("reference_standard", self.reference_standard, {.least = 0});
    visit("reading", self.reading, {.required = true});
    visit("spread", self.spread, {.least = 0});
    visit("readings", self.readings, {.least = 1, .most = 1e6});
    visit("conditions", self.conditions);
  }
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
  double used_before = 0;  ///< share of the allowed error at the middle of the wanted range
  double used_after = 0;
  double expanded = 0;  ///< of a reading afterwards, 95 %
  std::string verdict;
  Json unknown = Json::object();

  bool operator==(const CalibrationRecord&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("unit", self.unit, {.required = true});
    visit("procedure", self.procedure);
    visit("reference", self.reference);
    visit("points", self.points);
    visit("model", self.model);
    visit("origin", self.origin);
    visit("coefficients", self.coefficients);
    visit("standard_uncertainties", self.standard_uncertainties);
    visit("residual_sd", self.residual_sd);
    visit("tolerance", self.tolerance, {.least = 0});
    visit("used_before", self.used_before);
    visit("used_after", self.used_after);
    visit("expanded", self.expanded, {.least = 0});
    visit("verdict", self.verdict);
  }
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
  Json unknown = Json::object();

  bool operator==(const LogEntry&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("number", self.number, {.least = 1, .most = 1e9, .required = true});
    visit("on", self.on, {.required = true});
    visit("who", self.who);
    visit("kind", self.kind);
    visit("channel", self.channel);
    visit("words", self.words);
    visit("corrects", self.corrects, {.least = 0, .most = 1e9});
    visit("calibration", self.calibration);
  }
};

std::span<const EnumName<EntryKind>> enum_names(EntryKind);

struct Logbook {
  std::vector<LogEntry> entries;  ///< in the order they were written
  std::vector<Problem> problems;  ///< lines that were not understood; they stay in the file
  /// True if a later entry takes the place of this one.
  bool is_corrected(const LogEntry& entry) const;
};

/// The file that belongs to a bench file: NAME.fairgauge.json → NAME.logbook.ndjson.
std::string logbook_path(const std::string& bench_path);

/// Reads a logbook; a missing file is an empty one.
Result<Logbook> read_logbook(const std::string& path);

/// Writes one entry at the end and flushes it to the disk. \returns the entry with its number
Result<LogEntry> append_entry(const std::string& path, LogEntry entry);

/// Entries that hold every word of a text, in any field, ignoring case; the newest first.
std::vector<const LogEntry*> search_entries(const Logbook& logbook, std::string_view text);

}  // namespace fair_gauge
