#include "quantity/result.h"

#include <fmt/format.h>

namespace fair_gauge {

std::string to_text(const Problem& problem) {
  std::string text;
  if (!problem.place.file.empty()) text += problem.place.file + ":";
  if (problem.place.line > 0) text += fmt::format("{}:", problem.place.line);
  if (problem.place.column > 0) text += fmt::format("{}:", problem.place.column);
  if (!text.empty()) text += " ";
  text += problem.wrong;
  if (!problem.expected.empty()) text += "; " + problem.expected;
  return text;
}

}  // namespace fair_gauge
