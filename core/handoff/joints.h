// Few joints whose straight lines follow a row of values.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace fair_gauge {

/// From the first of `count` places to the last, each time as far as the line follows.
/// \param follows  (from, to) → whether the line between two places does; asked for stretches of two and more
template <class Follows>
std::vector<std::size_t> joints(std::size_t count, const Follows& follows,
                                std::size_t most = static_cast<std::size_t>(-1)) {
  std::vector<std::size_t> places{0};
  while (places.back() + 1 < count && places.size() <= most) {
    const std::size_t at = places.back();
    // Doubled, then halved.
    std::size_t reach = 1, jump = 1;
    while (at + reach + jump < count && follows(at, at + reach + jump)) reach += jump, jump *= 2;
    for (; jump > 0; jump /= 2)
      if (at + reach + jump < count && follows(at, at + reach + jump)) reach += jump;
    places.push_back(std::min(at + reach, count - 1));
  }
  return places;
}

}  // namespace fair_gauge
