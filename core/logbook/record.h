// A calibration as a record to keep: a page, a table, a JSON object; and the drift that several of them show.
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "logbook/logbook.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// A page for printing. \param entry  with a calibration
std::string record_html(const LogEntry& entry, const Bench& bench, const Catalogue& catalogue);
/// Its points, with a header: reference,reading,uncertainty and what else is known.
std::string record_csv(const LogEntry& entry);
std::string record_json(const LogEntry& entry);

/// How a channel moved from one calibration to the next.
struct Drift {
  struct At {
    int day = 0;          ///< days since 1970-01-01
    double error = 0;     ///< reading − reference at `place`, without correction, base units
    double standard = 0;  ///< 0 → nobody knows how good the reference was
  };
  std::vector<At> course;
  double place = 0;              ///< where the calibrations are compared: the middle of what all of them cover
  double per_year = 0;           ///< slope; 0 without days between two calibrations
  double per_year_standard = 0;  ///< not a number with two of which nobody knows how good the reference was
  std::optional<int> leaves_on;  ///< day when the drift since the last calibration alone uses up the tolerance; nothing
                                 ///< if none is seen, or not within ten years

  bool has_days_between() const { return course.size() >= 2 && course.front().day != course.back().day; }
  /// Whether it is more than what the calibrations themselves may be off by, 95 %; so where nobody knows that.
  bool is_seen() const { return !(std::abs(per_year) <= 2 * per_year_standard); }
};

/// \param tolerance  the channel's allowed error
Drift drift_of(const Logbook& logbook, const std::string& channel, double tolerance);

}  // namespace fair_gauge
