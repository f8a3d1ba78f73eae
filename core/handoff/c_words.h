// Words of C, and some of Python, that the writers of a hand-over share.
#pragma once

#include <cstdint>
#include <span>
#include <string>

#include "handoff/handoff.h"

namespace fair_gauge {

/// With the macros of <stdint.h>, so that a constant has the same width everywhere. \param word  32 or 64
std::string signed_number(std::int64_t number, int word = 32);

/// A unit as a comment of a program says it, in plain letters: "degC"; others by their UCUM code.
std::string unit_in_comment(std::string_view ucum);

/// "NAME_low"
std::string status_word(const HandoffCode& code, HandoffStatus status);

/// The bits of an array of bytes as one number, the greatest first, without its sign. \param bits  all of the runs'
std::string bits_as_number(std::span<const BitRun> runs, int bits, Language language);

/// The statements of a sheet's compensation formula, from its fields to *value.
std::string write_sheet_c(const HandoffCode& code);

}  // namespace fair_gauge
