// Where the rows of a log begin: behind comments and whatever else a logger writes above its heading.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fair_gauge {

inline constexpr std::size_t most_lines_above = 60;  ///< that are looked through for the heading

struct LogHeading {
  std::size_t line = 0;  ///< among those looked through
  bool is_row = false;   ///< there is none: that line is a row of numbers, its time before the raw number
};

/// What is wanted of a heading.
struct WantedHeading {
  std::vector<std::string> names = {};  ///< of its column; empty → any heading above rows of numbers
  std::optional<char> separator = {};   ///< as somebody said
  bool may_be_missing = false;          ///< rows of a time and a number say themselves what they are
};

/// The heading among the first lines of a log. Lines that begin with # are comments (as the W3C's CSV dialect has it),
/// but for one right above the rows that names their columns.
/// \param is_end  no more lines will come \returns nothing → not found, or not yet
std::optional<LogHeading> find_heading(const std::vector<std::string_view>& lines, const WantedHeading& wanted,
                                       bool is_end);

/// The first line that says something, where none was found.
std::size_t first_line_of(const std::vector<std::string_view>& lines);

/// Without byte order mark and the # in front.
std::string_view heading_text(std::string_view line);

/// The text from its heading on; the whole of it where none is found.
std::string_view from_heading(std::string_view text, const WantedHeading& wanted = {});

}  // namespace fair_gauge
