// What a meter shows at a place of a chain, held against what the chain expects there while another place is known.
#pragma once

#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// Where a meter can be held, or a number read off.
struct MeterPlace {
  StageName stage = StageName::front_end;
  const Unit* unit = nullptr;  ///< of what is measured there
  std::string words;           ///< "the voltage at the pin"
  std::string how;             ///< what to mind
};

/// The places of a chain from the world's side, without the one that is known.
std::vector<MeterPlace> meter_places(const Chain& chain, StageName known);

/// One place that was measured. Of the place in its unit, of the reading in base units of a difference.
struct MeterCheck {
  StageName stage = StageName::front_end;
  double expected = 0;
  double measured = 0;
  double explained = 0;    ///< half-width for 95 %: the meter, and all sources between here and what is known
  double reading_off = 0;  ///< how far a reading moves from the one place's value to the other's
  double share = 0;        ///< |reading_off| of the allowed error
  std::string largest;     ///< of the sources between here and what is known; empty → there are none
  bool agrees() const { return std::abs(measured - expected) <= explained; }
};

/// \param anchor    what is known: the latest raw number, or what the strip holds
/// \param measured  in the unit of the stage
/// \param meter     share of its value by which the meter may be off, half-width; 0 → it is exact
/// \returns the check, or why nothing is expected there
/// \source JCGM 100:2008, 5.1.3 and 5.2.2, at the place instead of the reading
Result<MeterCheck> check_with_meter(const Chain& chain, const Anchor& anchor, StageName stage, double measured,
                                    double meter);

/// What several checks together say: that all agree, or between which two places to look first.
/// \param checks  of one chain and one anchor, in any order
std::string meter_verdict(const Chain& chain, const Anchor& anchor, std::vector<MeterCheck> checks);

}  // namespace fair_gauge
