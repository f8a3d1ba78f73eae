// The one reader of delimited text: rows of cells, told apart by commas, semicolons or tabs, quoted or not.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace fair_gauge {

/// Without the byte order mark that some programs write first.
std::string_view without_mark(std::string_view text);

/// Without spaces, tabs and line ends at both ends, and without quotes around the rest.
std::string_view trimmed(std::string_view text);

/// The separator that a heading uses outside its quotes: a semicolon, else a tab, else a comma.
char separator_of(std::string_view heading);

/// The cells of a row, each trimmed; spaces that part cells are one however many they are; separators inside quotes
/// belong to their cell.
std::vector<std::string_view> cells_of(std::string_view row, char separator);

/// Takes rows off a text one by one. A line break inside quotes belongs to its cell.
class Rows {
 public:
  explicit Rows(std::string_view text) : rest_(without_mark(text)) {}
  /// The next row without its line end. \returns false at the end
  bool next(std::string_view& row);
  /// Line on which the row taken last began, from 1.
  int line() const { return line_; }

 private:
  std::string_view rest_;
  int line_ = 0;
  int lines_taken_ = 0;
};

}  // namespace fair_gauge
