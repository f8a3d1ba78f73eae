// The links of a value that other firmware converted.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "chain/links.h"
#include "language/translation.h"

namespace fair_gauge {

Result<double> FirmwareLink::forward(double inner) const {
  double value = inner;
  for (std::size_t i = setup_.links.size(); i > 0; --i) {
    auto next = setup_.links[i - 1]->inverse(value);
    if (!next) return next;
    value = *next;
  }
  const double unit = std::pow(10.0, setup_.decimals);
  return std::round(setup_.unit->from_base(value) * unit) / unit;
}

Result<double> FirmwareLink::inverse(double outer) const {
  const double code = inverse_continuous(outer);
  // What was rounded may lie half a step beyond the last code.
  if (code > setup_.lowest_code - 0.5 && code < setup_.largest_code + 0.5)
    return std::clamp(code, setup_.lowest_code, setup_.largest_code);
  return Problem{
      translated("no code of this sensor and its circuit gives {:.10g} {}", outer, setup_.unit->symbol),
      translated("a value that the sensor can have; many libraries send an odd number when nothing answers")};
}

double FirmwareLink::forward_off(double inner, std::span<const double> /*deviations*/) const {
  double value = inner;
  for (std::size_t i = setup_.links.size(); i > 0; --i) value = setup_.links[i - 1]->inverse_continuous(value);
  return setup_.unit->from_base(value);
}

double FirmwareLink::inverse_continuous(double outer) const {
  double code = setup_.unit->to_base(outer);
  for (const LinkPointer& link : setup_.links) code = link->forward_off(code, {});
  return code;
}

std::vector<TraceLine> FirmwareLink::explain(double outer, const NumberStyle& style) const {
  const double code = inverse_continuous(outer);
  return {{"code", with_unit(outer, setup_.decimals, setup_.unit->symbol, style), fixed(code, 0, style), code,
           translated("the code that must have been behind it, if the firmware converts as this chain does")}};
}

Result<double> ReadingLink::inverse(double outer) const {
  const double margin = range_.slack();
  if (range_.minimum >= range_.maximum || (outer >= range_.minimum - margin && outer <= range_.maximum + margin))
    return outer;
  return Problem{translated("{:.6g} {} is far outside what the part can give: many libraries send such a number when "
                            "nothing answers",
                            outer, base_unit(range_.quantity).symbol),
                 translated("{:g} to {:g} {}", range_.minimum, range_.maximum, base_unit(range_.quantity).symbol)};
}

std::vector<TraceLine> ArrivingUnitLink::explain(double outer, const NumberStyle& style) const {
  const double base = unit_.to_base(outer / steps_);
  const Unit& to = base_unit(unit_.dimension);
  if (&unit_ == &to) return {};
  return {{"reading", with_unit(outer / steps_, 3, unit_.symbol, style), with_unit(base, 3, to.symbol, style), base,
           translated("from the unit in which it arrives")}};
}

}  // namespace fair_gauge
