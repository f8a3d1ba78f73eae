// A part built into a copy of the bench, as somebody would wire it without thinking twice.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "choose/need.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// Something that has to be added besides the part.
struct Effort {
  std::string words;
  bool is_another_chip = false;  ///< not only a resistor, a pin or an address

  bool operator==(const Effort&) const = default;
};

struct Trial {
  Bench bench;
  std::string channel;  ///< id of the new channel
  std::vector<Effort> effort;
};

/// \param id  of the new channel and device; taken as it is, so it must be free on the bench
/// \returns the bench with the part, its front end, its bus and address; or why the part does not fit this bench. A
/// digital part on a bench without any supply is fed by nothing that is known.
Result<Trial> try_part(const Bench& bench, const Catalogue& catalogue, const Need& need, const Part& part,
                       const std::string& id);

/// The same for a part that is in somebody's hand already: a channel for each quantity it measures, over the usual
/// range for it, allowed to err a little more than the part itself does, about a third of that range at most. Both are
/// meant to be changed.
/// \returns also a problem where the part measures nothing by itself
Result<Trial> fit_part(const Bench& bench, const Catalogue& catalogue, const Part& part);

/// An id like `wish` that no channel or device of the bench has.
std::string free_id(const Bench& bench, const std::string& wish);

}  // namespace fair_gauge
