// A hand-over on one page: what it is made of, the arithmetic, its proof, its cost, the wires, the calibration.
#pragma once

#include <string>

#include "handoff/handoff.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// \param on  day of the page, ISO 8601
/// \returns HTML; the bench is the one that the hand-over was made of
std::string handoff_html(const Handoff& handoff, const Bench& bench, const Catalogue& catalogue, const std::string& on);

}  // namespace fair_gauge
