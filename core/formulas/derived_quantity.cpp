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
  return {
      {"dew-point", translated("dew point"), temperature, moist_air,
       [](Values v) { return air::dew_point(v[0], v[1]); }, translated("surfaces colder than this become wet")},
      {"frost-point", translated("frost point"), temperature, moist_air,
       [](Values v) { return air::frost_point(v[0], v[1]).value_or(std::nan("")); },
       translated("surfaces colder than this grow frost")},
      {"absolute-humidity", translated("absolute humidity"), absolute_humidity, moist_air,
       [](Values v) { return air::absolute_humidity(v[0], v[1]); },
       translated("water in the air, whatever its warmth")},
      {"vapour-pressure-deficit", translated("vapour-pressure deficit"), pressure, moist_air,
       [](Values v) { return air::vapour_pressure_deficit(v[0], v[1]); },
       translated("how strongly the air dries what stands in it")},
      {"wet-bulb", translated("wet bulb"), temperature, moist_air, [](Values v) { return air::wet_bulb(v[0], v[1]); },
       translated("the coldest that evaporation can make it")},
      {"pressure-difference",
       translated("difference of two pressures"),
       pressure,
       {pressure, pressure},
       [](Values v) { return v[0] - v[1]; },
       translated("gauge pressure from two absolute ones")},
      {"sea-level-pressure",
       translated("pressure at sea level"),
       pressure,
       {pressure, altitude},
       [](Values v) { return air::to_sea_level(v[0], v[1], air::Reduction::standard_atmosphere); },
       translated("as a barometer is set, by the height of the place")},
      {"pressure-altitude",
       translated("pressure altitude"),
       altitude,
       {pressure},
       [](Values v) { return air::standard_altitude(v[0]); },
       translated("height in the standard atmosphere")},
      {"height-above",
       translated("height above another place"),
       altitude,
       {pressure, pressure},
       [](Values v) { return air::standard_altitude(v[0], v[1]); },
       translated("by the pressure there")},
      {"temperature-difference",
       translated("difference of two temperatures"),
       temperature_difference,
       {temperature, temperature},
       [](Values v) { return v[0] - v[1]; },
       translated("what one side is warmer than the other")},
      {"light-dose",
       translated("light dose of a day"),
       light_dose,
       {illuminance, duration},
       [](Values v) { return v[0] * v[1] / 3600; },
       translated("how much light fell since midnight UTC"),
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
