// The points of a calibration that is under way, kept for each channel until they are put in or dropped, also over an
// end of the program; and the readings that they are taken from.
#pragma once

#include <QString>
#include <optional>
#include <string>
#include <vector>

#include "logbook/logbook.h"
#include "shell/workbench.h"
#include "stream/log_series.h"
#include "truth/agreement.h"
#include "truth/calibration_fit.h"

namespace fair_gauge::app {

/// The points of a channel's calibration under way.
std::vector<RecordedPoint> kept_points(const Workbench& workbench, const std::string& channel);
void keep_points(const Workbench& workbench, const std::string& channel, const std::vector<RecordedPoint>& points);

/// The live readings of a channel, without its correction, base units.
Series live_series(const Workbench& workbench, const std::string& channel);
/// A log's column as readings of a channel, without its correction.
Series series_of_log(const Workbench& workbench, const std::string& channel, const LogSeries& log);

/// Days since 1970-01-01, and that day as text; the moment as the logbook writes it.
int today();
QString now_text();

}  // namespace fair_gauge::app
