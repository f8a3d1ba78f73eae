#include "diagnose/reference_check.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

ReferenceCheck check_reference(const KnownVoltage& marked, double supply_v, const std::vector<double>& internal_v) {
  using enum ReferenceFinding;
  constexpr double nothing_v = 0.1, supply_share = 0.03, internal_share = 0.1;  // an internal one is ±10 % as a rule
  if (!(marked.nominal_v > 0) || !(marked.tolerance >= 0 && marked.tolerance < 0.5) ||
      !(marked.meter_uncertainty >= 0 && marked.meter_uncertainty < 0.5))
    return {not_stated, translated("The part's voltage is above zero, and tolerances are from 0 to 50 %.")};
  if (marked.nominal_v > supply_v * (1 + supply_share))
    return {beyond_the_pin, translated("A reference pin bears no more than the supply of {:.3g} V: {:.4g} V may "
                                       "destroy it.",
                                       supply_v, marked.nominal_v)};
  if (!marked.measured_v) return {as_marked, ""};
  const double volts = *marked.measured_v, meter = marked.meter_uncertainty * std::abs(volts);
  if (volts > supply_v * (1 + supply_share) + meter)
    return {beyond_the_pin,
            translated("{:.4g} V are more than the supply of {:.3g} V: take the supply off at once.", volts, supply_v)};
  if (volts <= -nothing_v)
    return {nothing,
            translated("{:.4g} V are below ground: the meter's leads or the part are the wrong way round. Take "
                       "the supply off first.",
                       volts)};
  if (std::abs(volts) < nothing_v)
    return {nothing,
            translated("Next to nothing is there ({:.3g} V): is the part fed, does its ground go to the board's, is it "
                       "the right way round?",
                       volts)};
  if (std::abs(volts - marked.nominal_v) <= marked.tolerance * marked.nominal_v + meter)
    return {as_marked, translated("{:.4g} V: the part's {:.4g} V within ±{:.2g} % and the meter's ±{:.2g} %.", volts,
                                  marked.nominal_v, marked.tolerance * 100, marked.meter_uncertainty * 100)};
  for (const double internal : internal_v)
    if (std::abs(volts - internal) <= internal_share * internal + meter)
      return {
          ReferenceFinding::internal,
          translated("{:.4g} V look like the controller's own {:.3g} V: it is still selected, and drives against the "
                     "part. Take the supply off, then mend the firmware.",
                     volts, internal)};
  if (std::abs(volts - supply_v) <= supply_share * supply_v + meter)
    return {supply, translated("{:.4g} V are the supply: the pin is joined to it, or the supply is selected as the "
                               "reference.",
                               volts)};
  return {off,
          translated("{:.4g} V are {:+.2g} % off the part's {:.4g} V, which is ±{:.2g} %: another part, one that is "
                     "loaded, or a meter that is off. What is there counts, once it stands still.",
                     volts, (volts / marked.nominal_v - 1) * 100, marked.nominal_v, marked.tolerance * 100)};
}

}  // namespace fair_gauge
