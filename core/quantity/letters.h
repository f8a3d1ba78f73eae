// Letters of names: as they are compared, and as many as a sentence bears.
#pragma once

#include <string>
#include <string_view>

namespace fair_gauge {

/// Letters of ASCII are made small, others stay.
inline std::string small_letters(std::string_view text) {
  std::string small(text);
  for (char& c : small)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return small;
}

/// As much of what was written as a sentence bears: 40 bytes, whole characters.
inline std::string cited(std::string_view text) {
  constexpr std::size_t most = 40;
  if (text.size() <= most) return std::string(text);
  std::size_t end = most;
  while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) --end;
  return std::string(text.substr(0, end)) + "…";
}

}  // namespace fair_gauge
