// What happened while a recording ran: rows of RECORDING-events.csv beside it, only ever added to.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// "begun", "ended", "note", "connected", "disconnected", "bench" (it was changed), "switch" (a rule
/// decided, and why); other kinds may come.
struct RecordingEvent {
  double seconds = 0;  ///< since 1970
  std::string kind;
  std::string words;  ///< of one line

  bool operator==(const RecordingEvent&) const = default;
};

/// week.csv → week.csv-events.csv
std::string events_path(const std::string& recording);

/// Adds a row, "time,kind,words", and flushes it to the disk; begins the file with its header.
/// \returns why it could not be written: the place holds something else, the disk is full
std::optional<Problem> append_event(const std::string& recording, const RecordingEvent& event);

/// Of a recording, in the order they were written; none where it has no such file. Rows that are none are passed over.
std::vector<RecordingEvent> read_events(const std::string& recording);

}  // namespace fair_gauge
