#include "formulas/derived_quantity.h"

#include <algorithm>
#include <cmath>

#include "formulas/air.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

std::vector<DerivedQuantity> table() {
  using Values = std::span<const double>;
  namespace air = formulas;
  using enum Quantity;
  const std::vector<Quantity> moist_air = {temperature, humidity};
  const std::pair<std::string, std::string> saturation = {"saturation", "611.2 * exp(17.62 * a / (243.12 + a))"};
  return {
      {"dew-point",
       translated("dew point"),
       temperature,
       moist_air,
       [](Values v) { return air::dew_point(v[0], v[1]); },
       translated("surfaces colder than this become wet"),
       {{"share", "log(b / 100) + 17.62 * a / (243.12 + a)"}, {"dew", "243.12 * share / (17.62 - share)"}}},
      {"frost-point",
       translated("frost point"),
       temperature,
       moist_air,
       [](Values v) { return air::frost_point(v[0], v[1]).value_or(std::nan("")); },
       translated("surfaces colder than this grow frost"),
       {{"share", "log(b / 100) + 17.62 * a / (243.12 + a)"}, {"frost", "272.62 * share / (22.46 - share)"}}},
      {"absolute-humidity",
       translated("absolute humidity"),
       absolute_humidity,
       moist_air,
       [](Values v) { return air::absolute_humidity(v[0], v[1]); },
       translated("water in the air, whatever its warmth"),
       {saturation, {"water", "10 * b * saturation / (461.5 * (a + 273.15))"}}},
      {"vapour-pressure-deficit",
       translated("vapour-pressure deficit"),
       pressure,
       moist_air,
       [](Values v) { return air::vapour_pressure_deficit(v[0], v[1]); },
       translated("how strongly the air dries what stands in it"),
       {saturation, {"deficit", "(1 - b / 100) * saturation"}}},
      {"wet-bulb", translated("wet bulb"), temperature, moist_air, [](Values v) { return air::wet_bulb(v[0], v[1]); },
       translated("the coldest that evaporation can make it")},
      {"pressure-difference",
       translated("difference of two pressures"),
       pressure,
       {pressure, pressure},
       [](Values v) { return v[0] - v[1]; },
       translated("gauge pressure from two absolute ones"),
       {{"difference", "a - b"}}},
      {"sea-level-pressure",
       translated("pressure at sea level"),
       pressure,
       {pressure, altitude},
       [](Values v) { return air::to_sea_level(v[0], v[1], air::Reduction::standard_atmosphere); },
       translated("as a barometer is set, by the height of the place"),
       {{"reduced", "a / (1 - 0.0065 * b / 288.15) ^ 5.255880"}}},
      {"pressure-altitude",
       translated("pressure altitude"),
       altitude,
       {pressure},
       [](Values v) { return air::standard_altitude(v[0]); },
       translated("height in the standard atmosphere"),
       {{"height", "44330.77 * (1 - (a / 101325) ^ 0.190263)"}}},
      {"height-above",
       translated("height above another place"),
       altitude,
       {pressure, pressure},
       [](Values v) { return air::standard_altitude(v[0], v[1]); },
       translated("by the pressure there"),
       {{"height", "44330.77 * (1 - (a / b) ^ 0.190263)"}}},
      {"temperature-difference",
       translated("difference of two temperatures"),
       temperature_difference,
       {temperature, temperature},
       [](Values v) { return v[0] - v[1]; },
       translated("what one side is warmer than the other"),
       {{"difference", "a - b"}}},
      {"light-dose",
       translated("light dose of a day"),
       light_dose,
       {illuminance, duration},
       [](Values v) { return v[0] * v[1] / 3600; },
       translated("how much light fell since midnight UTC"),
       {},
       true},
  };
}

}  // namespace

const std::vector<DerivedQuantity>& derived_quantities() { return once_in_each_language<table>(); }

const DerivedQuantity* derived_quantity(std::string_view id) {
  const auto found = std::ranges::find(derived_quantities(), id, &DerivedQuantity::id);
  return found == derived_quantities().end() ? nullptr : &*found;
}

}  // namespace fair_gauge
