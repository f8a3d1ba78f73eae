// Letters as names are compared: those of ASCII alone.
#pragma once

#include <string>
#include <string_view>

namespace fair_gauge {

inline std::string small_letters(std::string_view text) {
  std::string small(text);
  for (char& c : small)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return small;
}

}  // namespace fair_gauge
