// A log that no channel of the bench belongs to yet: what each of its columns may be.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "stream/listening.h"
#include "stream/log_dialect.h"

namespace fair_gauge {

/// Reads the first rows of a log as if they came over a line, each column under its heading. A unit at the heading's
/// end is the column's: "Temp (°C)", "battery_V". Columns of times, and those without a number, are none.
/// \param beginning  of the log, UTF-8, from its heading to the end of a row; a few thousand rows are enough
/// \param left_out  receives the headings of the columns of numbers that are none of what is returned
/// \returns what may be a channel, in the order of the columns: those whose quantity their heading tells, else all; or
/// that there is no column of numbers
Result<std::vector<LineProposal>> proposals_of_log(std::string_view beginning, const LogChoice& choice = {},
                                                   std::vector<std::string>* left_out = nullptr);

/// Those that no channel of the bench is called by, neither as it comes nor by its id.
std::vector<LineProposal> unknown_to(const Bench& bench, std::vector<LineProposal> proposals);

}  // namespace fair_gauge
