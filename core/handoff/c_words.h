// Words of C that the writers of a hand-over share.
#pragma once

#include <cstdint>
#include <string>

#include "handoff/handoff.h"

namespace fair_gauge {

/// With the macros of <stdint.h>, so that a constant has the same width everywhere. \param word  32 or 64
std::string signed_number(std::int64_t number, int word = 32);

/// "NAME_low"
std::string status_word(const HandoffCode& code, HandoffStatus status);

/// The statements of a sheet's compensation formula, from its fields to *value.
std::string write_sheet_c(const HandoffCode& code);

}  // namespace fair_gauge
