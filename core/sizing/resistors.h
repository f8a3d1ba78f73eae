// Which resistors may be picked: a preferred series, or those in the drawer.
#pragma once

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

#include "quantity/e_series.h"

namespace fair_gauge {

struct ResistorChoice {
  ESeries series = ESeries::e24;
  std::vector<double> drawer_ohm;  ///< if any are listed, only these

  /// All that may be picked from `low` to `high` ohms, ascending.
  std::vector<double> between(double low, double high) const {
    if (drawer_ohm.empty()) return values_between(series, low, high);
    std::vector<double> found;
    for (const double ohm : drawer_ohm)
      if (ohm >= low && ohm <= high) found.push_back(ohm);
    std::ranges::sort(found);
    found.erase(std::unique(found.begin(), found.end()), found.end());
    return found;
  }
  /// The one nearest to `wanted` by ratio within the bounds; nothing if none is within.
  std::optional<double> nearest(double wanted, double low, double high) const {
    const auto all = between(low, high);
    const auto best = std::ranges::min_element(all, {}, [&](double ohm) { return std::abs(std::log(ohm / wanted)); });
    return best == all.end() ? std::nullopt : std::optional(*best);
  }
};

}  // namespace fair_gauge
