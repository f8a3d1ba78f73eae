#include "files/markup.h"

#include <fmt/format.h>

#include "language/translation.h"

namespace fair_gauge {
namespace {

// Lengths in pixels: the other unit is not known to what prints it.
constexpr std::string_view print_style =
    "body{font-family:Inter,sans-serif;font-size:9pt;color:#1f2627}h1{font-size:16pt;margin:0}"
    "h2{font-size:11pt;color:#17655b;margin:14px 0 4px}p{margin:4px 0}p.quiet{color:#5f6361}ul{margin:4px 0}"
    "table{border-collapse:collapse}th{text-align:left;color:#5f6361;font-weight:600;padding:2px 16px 2px 0;"
    "border-bottom:1px solid #ddd3bf}td{padding:2px 16px 2px 0;border-bottom:1px solid #ece4d3;vertical-align:top}";

}  // namespace

std::string csv_row(const std::vector<std::string>& cells) {
  std::string row;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    if (i > 0) row += ',';
    if (cells[i].find_first_of(",\"\r\n") == std::string::npos) {
      row += cells[i];
      continue;
    }
    row += '"';
    for (const char c : cells[i]) row += c == '"' ? std::string("\"\"") : std::string(1, c);
    row += '"';
  }
  return row + "\r\n";
}

std::string html_escaped(std::string_view text) {
  std::string escaped;
  for (const char c : text) switch (c) {
      case '&': escaped += "&amp;"; break;
      case '<': escaped += "&lt;"; break;
      case '>': escaped += "&gt;"; break;
      case '"': escaped += "&quot;"; break;
      default: escaped += c;
    }
  return escaped;
}

std::string html_table(const std::vector<std::string>& heads, const std::vector<std::vector<std::string>>& rows) {
  std::string table = "<table><tr>";
  for (const std::string& head : heads) table += "<th>" + html_escaped(head) + "</th>";
  table += "</tr>";
  for (const auto& row : rows) {
    table += "<tr>";
    for (const std::string& cell : row) table += "<td>" + html_escaped(cell) + "</td>";
    table += "</tr>";
  }
  return table + "</table>";
}

std::string html_heading(std::string_view words) { return "<h2>" + html_escaped(words) + "</h2>"; }

std::string html_list(const std::vector<std::string>& items) {
  std::string list = "<ul>";
  for (const std::string& item : items) list += "<li>" + html_escaped(item) + "</li>";
  return list + "</ul>";
}

std::string html_page(std::string_view title, std::string_view subtitle, std::string_view body) {
  return fmt::format(
      "<!DOCTYPE html><html lang=\"{4}\"><head><meta "
      "charset=\"utf-8\"><title>{0}</title><style>{3}</style></head><body><h1>{0}</h1><p "
      "class=\"quiet\">{1}</p>{2}</body></html>\n",
      html_escaped(title), html_escaped(subtitle), body, print_style, language_in_use());
}

}  // namespace fair_gauge
