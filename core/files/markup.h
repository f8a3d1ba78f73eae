// Texts for other programs: rows of CSV and pages of HTML, with everything in them escaped.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fair_gauge {

/// One row, quoted where it must be, ending in CR LF.
/// \source RFC 4180
std::string csv_row(const std::vector<std::string>& cells);

std::string html_escaped(std::string_view text);
std::string html_table(const std::vector<std::string>& heads, const std::vector<std::vector<std::string>>& rows);
std::string html_heading(std::string_view words);
std::string html_list(const std::vector<std::string>& items);
/// A whole page in the program's own print style. \param body  HTML, escaped already
std::string html_page(std::string_view title, std::string_view subtitle, std::string_view body);

}  // namespace fair_gauge
