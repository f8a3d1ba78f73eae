// The catalogue ranked for one need, each part with this need's own figures and a plain sentence for every point it
// loses.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "chain/link.h"
#include "choose/need.h"
#include "choose/trial.h"
#include "parts/catalogue.h"

namespace fair_gauge {

enum class ReasonKind {
  good,      ///< speaks for it
  costs,     ///< speaks against it
  rules_out  ///< it cannot be used so
};

struct Reason {
  ReasonKind kind = ReasonKind::costs;
  std::string words;
  double points = 0;         ///< that it costs
  bool is_of_error = false;  ///< what the allowed error is eaten by
};

/// How far off a candidate may be at one value of the range.
struct ErrorAt {
  double at = 0;
  double expanded = 0;  ///< 95 %, with the known bias, base difference units
  double step = 0;
  bool beyond_sheet = false;  ///< its sheet states no accuracy there
};

struct Candidate {
  const Part* part = nullptr;
  std::string grade;
  Trial trial;
  std::vector<ErrorAt> errors;  ///< over the wanted range; empty if ruled out before a chain could be built
  double worst = 0;             ///< expanded, over the range
  double worst_at = 0;
  double typical = 0;                   ///< median over the range
  double step = 0;                      ///< worst resolution
  std::optional<StatedFor> stated_for;  ///< where its sheet states an accuracy, if that is not all of the wanted range
  double span_used = 0;                 ///< share of the converter's codes; 0 for a digital part
  double fastest_s = 0;                 ///< between readings
  double price = 0;                     ///< the user's own entry; 0 → none
  int in_drawer = 0;
  std::vector<Reason> reasons;
  double points = 0;  ///< fewer are better
  bool ruled_out() const;
  double used(double allowed) const { return worst / allowed; }
  /// Its error is allowed over the whole range, and its sheet says so of all of it.
  bool keeps(double allowed) const { return !ruled_out() && used(allowed) <= 1 && !stated_for; }
};

/// Every part that measures the quantity, best first, those ruled out last. The pointers are into the catalogue.
std::vector<Candidate> shortlist(const Bench& bench, const Catalogue& catalogue, const Need& need);

/// "Half the price, but eats 140 % of the allowed error below 5 °C; needs an amplifier." Two candidates with figures.
std::string trade_in_words(const Candidate& one, const Candidate& other, const Need& need);

}  // namespace fair_gauge
