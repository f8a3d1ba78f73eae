// Where sellers and sheets disagree: the person's own figures of a part stand in the place of the catalogue's.
#pragma once

#include <memory>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// The part with those figures: an accuracy is a maximum over the whole range, in the quantity's own units.
Part with_own_figures(Part part, const OwnPart& own);

/// The catalogue as this bench has it. \returns the same where nobody has typed a figure
std::shared_ptr<const Catalogue> with_own_figures(const std::shared_ptr<const Catalogue>& catalogue,
                                                  const std::vector<OwnPart>& own);

}  // namespace fair_gauge
