// A calibration as a record to keep: a page, a table, a JSON object; and the drift that several of them show.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "logbook/logbook.h"

namespace fair_gauge {

/// A page for printing. \param entry  with a calibration
std::string record_html(const LogEntry& entry, const Bench& bench);
/// Its points, with a header: reference,reading,uncertainty and what else is known.
std::string record_csv(const LogEntry& entry);
std::string record_json(const LogEntry& entry);

/// How a channel moved from one calibration to the next.
struct Drift {
  struct At {
    int day = 0;       ///< days since 1970-01-01
    double error = 0;  ///< mean of reading − reference, without correction, base units
    double standard = 0;
  };
  std::vector<At> course;
  double per_year = 0;           ///< slope; 0 with fewer than two calibrations
  double per_year_standard = 0;  ///< not a number with two
  std::optional<int> leaves_on;  ///< day when the drift since the last calibration alone uses up the tolerance; nothing
                                 ///< if not within ten years
};

/// \param tolerance  the channel's allowed error
Drift drift_of(const Logbook& logbook, const std::string& channel, double tolerance);

}  // namespace fair_gauge
