// Numbers of a channel in the unit in which it is shown.
#pragma once

#include "bench/bench.h"
#include "quantity/number_format.h"
#include "quantity/unit.h"
#include "widgets/text.h"

namespace fair_gauge::app {

struct InUnit {
  const Unit& unit;
  const NumberStyle& style;

  /// A value. \param base,resolution  base units; shown to the digits that the resolution leaves sense
  QString value(double base, double resolution) const {
    return text_of(
        with_unit(unit.from_base(base), decimals_for(std::abs(resolution) / unit.scale), unit.symbol, style));
  }
  /// A difference of two values. \param base,resolution  base units
  QString difference(double base, double resolution) const {
    return text_of(
        with_unit(base / unit.scale, decimals_for(std::abs(resolution) / unit.scale), difference_symbol(unit), style));
  }
  QString difference(double base) const { return difference(base, base); }
};

/// The unit of a channel; of none, the base unit of its quantity.
inline const Unit& shown_unit(const Channel* channel, Quantity otherwise) {
  const Unit* unit = channel ? unit_by_ucum(channel->unit, base_unit(channel->quantity).dimension) : nullptr;
  return unit ? *unit : base_unit(otherwise);
}

}  // namespace fair_gauge::app
