#include "truth/procedures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "formulas/air.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

namespace air = formulas;
using Values = std::span<const double>;

const double unknown = std::nan("");
double rectangular(double half_width) { return half_width / std::sqrt(3.0); }

// A reference of which nobody knows how good it is may be used; the verdict then says so.
double stated(double half_width) { return half_width > 0 ? rectangular(half_width) : unknown; }

std::vector<std::string> salt_names() {
  std::vector<std::string> names;
  for (const air::Salt& salt : air::salts()) names.push_back(fmt::format("{} ({})", salt.name, salt.formula));
  return names;
}

const char* const glass = to_translate("Thin glass and heat do not go together: wear eye protection.");
const char* const mains_and_water =
    to_translate("Keep mains away from the water; what heats it is switched by its own switch, not by this board.");

// A reference instrument beside it, for every quantity.
void add_instruments(std::vector<Procedure>& all) {
  for (const auto& [quantity, dimension, good] : {std::tuple{Quantity::temperature, Dimension::temperature, 0.1},
                                                  {Quantity::humidity, Dimension::humidity, 2.0},
                                                  {Quantity::pressure, Dimension::pressure, 50.0},
                                                  {Quantity::illuminance, Dimension::illuminance, 20.0}}) {
    Procedure against{.id = "instrument-" + std::string(enum_name(quantity)),
                      .name = translated("Beside a reference instrument"),
                      .quantity = quantity};
    against.steps = {
        translated(
            "Put both where they see the same: sensors together, out of draught and sun, in a stirred bath if it is a "
            "temperature."),
        translated("Wait until both stand."), translated("Type what the reference reads and take the point."),
        translated("Repeat near the other end of the wanted range: one point proves an offset, two show the slope.")};
    against.cautions = {
        translated("Quiet or finely divided is not accurate: what counts is the reference's own certificate.")};
    if (quantity == Quantity::illuminance) {
      against.steps = {translated("Put the meter's cell where the sensor's window is, facing the same way."),
                       translated("Type what the meter reads and take the point."),
                       translated("Change the light or the distance for the next one.")};
      against.cautions = {translated("Do not look into a strong or ultraviolet lamp.")};
    }
    against.inputs = {{translated("The reference reads"),
                       translated("What the other instrument shows while the point is taken"), dimension, unknown},
                      {translated("It may be off by ±"), translated("From its certificate or sheet; 0 if nobody knows"),
                       dimension == Dimension::temperature ? Dimension::temperature_difference : dimension, good}};
    against.reference = [](Values v) -> Result<ReferenceValue> {
      return ReferenceValue{v[0], stated(v[1]),
                            v[1] > 0 ? translated("read from the reference instrument")
                                     : translated("read from an instrument whose own error nobody knows")};
    };
    all.push_back(std::move(against));
  }
}

// Ice and boiling water.
void add_fixed_points(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "ice-point",
       .name = translated("Ice point"),
       .quantity = Quantity::temperature,
       .steps =
           {translated(
                "Crush ice of clean water, fill a vacuum flask with it, and pour in just so much cold water that the "
                "gaps are filled."),
            translated(
                "Put the probe into the middle, a hand's breadth deep, not touching the wall; water must not reach "
                "its wires."),
            translated(
                "Stir, and wait until it stands. There must still be ice at the bottom when you take the point.")},
       .cautions = {translated(mains_and_water), translated("Only a sealed probe may go into the water.")},
       .wait_s = 180,
       .inputs = {{translated("The bath may be off by ±"),
                   translated("A kitchen flask with clean, crushed ice that is stirred: about 0.05 °C"),
                   Dimension::temperature_difference, 0.05}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         return ReferenceValue{0, stated(v[0]), translated("melting ice at 0 °C")};
       }});

  all.push_back(
      {.id = "boiling-point",
       .name = translated("Boiling point"),
       .quantity = Quantity::temperature,
       .steps =
           {translated("Boil clean water at a rolling boil in an open pot."),
            translated("Hold the probe in the steam just above the water, or in it without touching the bottom."),
            translated(
                "Enter the station pressure: what a barometer reads here, not what the weather report has reduced to "
                "sea level."),
            translated("Wait until it stands, then take the point.")},
       .cautions = {translated(
                        "Boiling water and steam scald: tongs, gloves, nothing closed, never a vessel without a vent."),
                    translated(mains_and_water), translated(glass)},
       .wait_s = 120,
       .inputs = {{translated("Known is"),
                   translated("The pressure at this place, or only how high it lies"),
                   Dimension::number,
                   0,
                   {translated("the station pressure"), translated("only the height")}},
                  {translated("Station pressure"), translated("Absolute, at this place"), Dimension::pressure, 101325},
                  {translated("Height above the sea"),
                   translated("Used where no barometer is at hand: the weather then adds half a degree of doubt"),
                   Dimension::length, 0}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         constexpr double weather_pa = 1500, barometer_pa = 100, pot_k = 0.1;
         const bool by_height = v[0] > 0.5;
         const double pressure = by_height ? air::standard_pressure(v[2]) : v[1];
         if (!(pressure > 20e3 && pressure < 120e3))
           return Problem{translated("water does not boil in an open pot at {:.0f} hPa", pressure / 100),
                          translated("the absolute pressure of this place, 200 to 1200 hPa")};
         const double boils = air::boiling_point(pressure), off = by_height ? weather_pa : barometer_pa;
         const double slope = (air::boiling_point(pressure + 50) - air::boiling_point(pressure - 50)) / 100;
         return ReferenceValue{boils, std::hypot(rectangular(off) * slope, rectangular(pot_k)),
                               translated("water boils at {:.2f} °C under {:.1f} hPa{}", boils, pressure / 100,
                                          by_height ? translated(", taken from the height alone") : "")};
       }});
}

// A sensor inside a chip: cold, or with its own warmth taken off.
void add_trims(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "cold-trim",
       .name = translated("Cold trim of a sensor inside a chip"),
       .quantity = Quantity::temperature,
       .steps =
           {translated(
                "Leave the board without power until it has the room's temperature: an hour, away from sun and warm "
                "things."),
            translated("Read the room with the reference thermometer beside it."),
            translated("Switch on and take the point at once, from the first readings: a running chip warms itself by "
                       "degrees."),
            translated("Leave it on, and note how far it rises: that rise is not the room.")},
       .cautions = {translated(
           "It reads the chip, not the air: after the trim it is right for the chip, and for the room only "
           "while cold.")},
       .wait_s = 1,
       .inputs = {{translated("The room has"), translated("By the reference thermometer beside the board"),
                   Dimension::temperature, unknown},
                  {translated("It may be off by ±"),
                   translated("The thermometer and the board's remaining warmth together"),
                   Dimension::temperature_difference, 0.5}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         return ReferenceValue{v[0], stated(v[1]), translated("the cold board at room temperature")};
       }});

  all.push_back(
      {.id = "warm-trim",
       .name = translated("Warm trim of a sensor inside a chip"),
       .quantity = Quantity::temperature,
       .steps = {translated(
                     "Record its own warmth first: Watch, Touch, \"switch it on cold\", and \"let it work hard\"."),
                 translated("Leave it on until it stands: five of its time constants."),
                 translated("Read the room with the reference thermometer beside it."), translated("Take the point.")},
       .cautions = {translated(
           "It holds for this board as it lies now: a lid or another supply voltage changes its warmth.")},
       .wait_s = 60,
       .inputs = {{translated("The room has"), translated("By the reference thermometer beside the board"),
                   Dimension::temperature, unknown},
                  {translated("It may be off by ±"), translated("Of the thermometer"),
                   Dimension::temperature_difference, 0.5},
                  {.name = translated("It warms itself by"),
                   .why = translated("As it was recorded after it was switched on"),
                   .dimension = Dimension::temperature_difference,
                   .usual = unknown,
                   .choices = {},
                   .of_channel =
                       [](const Channel& channel) {
                         return channel.warm_up && channel.warm_up->rise > 0 ? channel.warm_up->rise : unknown;
                       }},
                  {.name = translated("Under load by more"),
                   .why = translated("As it was recorded; 0 if it never was"),
                   .dimension = Dimension::temperature_difference,
                   .usual = 0,
                   .choices = {},
                   .of_channel =
                       [](const Channel& channel) { return channel.warm_up ? channel.warm_up->under_load : unknown; }},
                  {translated("It works"),
                   translated("While the point is taken"),
                   Dimension::number,
                   0,
                   {translated("as when it was recorded"), translated("under load")}},
                  {translated("Its warmth may be off by ±"),
                   translated("A tenth of it where it lies as it was recorded"), Dimension::temperature_difference,
                   0.5}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         const double warmth = v[2] + (v[4] >= 0.5 ? v[3] : 0);
         return ReferenceValue{v[0] + warmth, std::hypot(stated(v[1]), stated(v[5])),
                               translated("the room's {:.2f} °C and {:.2f} °C of its own", v[0], warmth)};
       }});
}

// Air over a saturated salt.
void add_salts(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "salt",
       .name = translated("Above a saturated salt"),
       .quantity = Quantity::humidity,
       .steps =
           {translated(
                "Stir the salt with a little water to a wet slurry: undissolved salt must be seen all the time."),
            translated(
                "Close it with the sensor above it in a small jar, sensor and lid dry, nothing touching the slurry."),
            translated(
                "Keep the jar at an even temperature and out of the sun: half a degree of difference is a point of "
                "humidity."),
            translated("Wait: hours, for the wet ones a night. Take the point when it stands.")},
       .cautions = {translated("Do not taste or spill: some salts are harmful, lithium chloride among them. Wash "
                               "hands, label the jar."),
                    translated("The slurry creeps: keep it off the contacts.")},
       .wait_s = 4 * 3600,
       .inputs = {{translated("Salt"), translated("Each holds its own humidity"), Dimension::number, 3, salt_names()},
                  {translated("Temperature in the jar"), translated("Of the air above the salt"),
                   Dimension::temperature, 25},
                  {translated("Sensor and salt differ by ±"),
                   translated("In temperature: each half degree is about three per cent of the reading"),
                   Dimension::temperature_difference, 0.1}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         const auto& salts = air::salts();
         const auto i = static_cast<std::size_t>(std::clamp(v[0], 0.0, static_cast<double>(salts.size() - 1)));
         const auto rh = air::salt_humidity(salts[i], v[1]);
         if (!rh) return rh.problem();
         // A sensor that is warmer than the slurry sees the same vapour under a higher saturation pressure.
         const double per_kelvin = *rh * (air::saturation_pressure(v[1] + 0.5) - air::saturation_pressure(v[1] - 0.5)) /
                                   air::saturation_pressure(v[1]);
         return ReferenceValue{*rh, std::hypot(salts[i].standard, rectangular(v[2]) * per_kelvin),
                               translated("{} at {:.1f} °C holds {:.1f} %RH", salts[i].name, v[1], *rh)};
       }});
}

// The weather report's pressure.
void add_barometer(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "barometer-report",
       .name = translated("Against a weather report"),
       .quantity = Quantity::pressure,
       .kinds = {PressureKind::absolute, PressureKind::none},
       .steps =
           {translated("Look up the latest report of a station nearby, on a calm day, and the time it was made."),
            translated(
                "Find out what it reports: the pressure at the station, or one reduced to sea level, and how. "
                "Airfields "
                "give a setting that knows only the standard atmosphere; weather maps use the air's own temperature."),
            translated("Enter the height of this bench, to a metre: eight metres are one hectopascal."),
            translated("Take the point within minutes of the report.")},
       .cautions = {translated(
           "Not for flying: a barometer for that use is set and checked by those who answer for it.")},
       .wait_s = 60,
       .inputs = {{translated("The report gives"),
                   translated("Which reduction it used"),
                   Dimension::number,
                   1,
                   {translated("the pressure at this height"), translated("sea level, by the standard atmosphere"),
                    translated("sea level, by the air temperature")}},
                  {translated("Reported pressure"), translated("As it stands in the report"), Dimension::pressure,
                   101325},
                  {translated("Height of the bench"),
                   translated("Above the sea, or above the station if the report is not reduced"), Dimension::length,
                   100},
                  {translated("Air temperature"), translated("Outdoors, for the second kind of reduction"),
                   Dimension::temperature, 15},
                  {translated("The report may be off by ±"), translated("Rounding, distance and the minutes between"),
                   Dimension::pressure, 60}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         if (!(v[1] > 80e3 && v[1] < 110e3))
           return Problem{translated("{:.0f} hPa is no air pressure of a report", v[1] / 100),
                          translated("800 to 1100 hPa")};
         constexpr double metre_pa = 12;
         const int kind = static_cast<int>(v[0]);
         const double here =
             kind == 0 ? v[1]
                       : air::from_sea_level(
                             v[1], v[2],
                             kind == 1 ? air::Reduction::standard_atmosphere : air::Reduction::air_temperature, v[3]);
         return ReferenceValue{here, std::hypot(rectangular(v[4]), rectangular(metre_pa)),
                               translated("{:.1f} hPa at {:.0f} m, {}", here / 100, v[2],
                                          kind == 0   ? translated("not reduced")
                                          : kind == 1 ? translated("reduced by the standard atmosphere")
                                                      : translated("reduced by the air temperature"))};
       }});
}

// A column of water, and both ports open.
void add_gauges(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "water-column",
       .name = translated("Water column"),
       .quantity = Quantity::pressure,
       .kinds = {PressureKind::gauge, PressureKind::differential, PressureKind::vacuum},
       .steps =
           {translated("Hang a clear tube as a U, half filled with clean water, without bubbles."),
            translated("Join one leg to the sensor's port by a dry piece of hose, the other leg open."),
            translated(
                "Raise the open leg; read the height between the two levels, at the bottom of their curve, with the "
                "tube upright."),
            translated("For a tilted tube enter the length along it and its tilt: the height is what counts."),
            translated("Take the point, lower it, and come back the same way: a difference is hysteresis.")},
       .cautions =
           {translated("Water must never reach the sensor: leave air between."),
            translated(
                "Only what a hand can lift: for more than a metre of water use rated parts, a relief valve and eye "
                "protection."),
            translated("Keep mains away from the water.")},
       .wait_s = 20,
       .inputs = {{translated("Height, or length along the tube"), translated("Between the two levels"),
                   Dimension::length, 0.1},
                  {translated("Tilt from upright"), translated("Degrees; 0 for an upright tube"), Dimension::number, 0},
                  {translated("Water temperature"), translated("Warm water is lighter"), Dimension::temperature, 20},
                  {translated("Latitude"), translated("Degrees: gravity is half a per cent stronger at the poles"),
                   Dimension::number, 50},
                  {translated("The height may be off by ±"), translated("Reading both levels"), Dimension::length,
                   0.001}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         if (!(std::abs(v[1]) < 89 && std::abs(v[3]) <= 90))
           return Problem{translated("a tilt or latitude that cannot be"),
                          translated("tilt below 89, latitude to 90 degrees")};
         if (!(v[2] >= 0 && v[2] <= 60))
           return Problem{translated("the water is ice or too warm for this formula"), translated("0 to 60 °C")};
         const double height = v[0] * std::cos(v[1] * std::numbers::pi / 180), g = air::gravity(v[3]);
         const double pressure = air::water_column(height, v[2], g), per_metre = air::water_column(1, v[2], g);
         constexpr double density_share = 3e-4;  // dissolved air and a degree of the water
         return ReferenceValue{pressure,
                               std::hypot(rectangular(v[4]) * per_metre, rectangular(density_share) * pressure),
                               translated("{:.1f} mm of water at {:.0f} °C and {:.4f} m/s² are {:.2f} Pa",
                                          height * 1000, v[2], g, pressure)};
       }});

  all.push_back(
      {.id = "pressure-zero",
       .name = translated("Zero, ports open"),
       .quantity = Quantity::pressure,
       .kinds = {PressureKind::gauge, PressureKind::differential, PressureKind::vacuum},
       .steps = {translated("Open both ports to the same still air, the sensor in the position in which it will work."),
                 translated("Wait until it stands, then take the point. Its temperature should be that of use: zeros "
                            "drift with it.")},
       .cautions = {translated("Take the pressure off the system before a hose comes off.")},
       .wait_s = 20,
       .inputs = {{translated("A draught may be ±"), translated("Still air in a room is within a pascal"),
                   Dimension::pressure, 0.5}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         return ReferenceValue{0, stated(v[0]), translated("both ports at the same air")};
       }});
}

// Darkness, and a lamp at known distances.
void add_lamps(std::vector<Procedure>& all) {
  all.push_back(
      {.id = "dark-zero",
       .name = translated("Dark"),
       .quantity = Quantity::illuminance,
       .steps = {translated("Cover the sensor's window with something that lets no light through at all: black foil, "
                            "not a finger."),
                 translated("Take the point. A saturated sensor may also read zero: look at its raw numbers.")},
       .wait_s = 10,
       .inputs = {{translated("Light may leak in, up to"), translated("0.1 lx if it is well covered"),
                   Dimension::illuminance, 0.1}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         return ReferenceValue{0, stated(v[0]), "covered"};
       }});

  all.push_back(
      {.id = "inverse-square",
       .name = translated("Steps by distance"),
       .quantity = Quantity::illuminance,
       .steps =
           {translated(
                "In a dark room put one small lamp on a rule; measure from its glowing part to the sensor's window."),
            translated("At the first distance the meter, or the sensor itself, gives the base value."),
            translated("At twice the distance there is a quarter, at three times a ninth: take a point at each.")},
       .cautions = {translated("The lamp is hot and on mains: only one that is closed and earthed as it came."),
                    translated("Do not look into it.")},
       .wait_s = 10,
       .inputs = {{translated("Light at the first distance"), translated("By the meter"), Dimension::illuminance, 1000},
                  {translated("It may be off by ±"), translated("Of the meter"), Dimension::illuminance, 50},
                  {translated("First distance"), translated("Lamp to window"), Dimension::length, 0.5},
                  {translated("Distance now"), translated("Lamp to window"), Dimension::length, 1},
                  {translated("Distances may be off by ±"),
                   translated("Reading the rule and finding the lamp's middle"), Dimension::length, 0.005}},
       .reference = [](Values v) -> Result<ReferenceValue> {
         if (!(v[2] > 0 && v[3] > 0))
           return Problem{translated("a distance of nothing"), translated("distances above zero")};
         const double now = air::inverse_square(v[0], v[2], v[3]);
         const double relative = std::hypot(rectangular(v[1]) / std::max(v[0], 1e-9),
                                            2 * rectangular(v[4]) * std::hypot(1 / v[2], 1 / v[3]));
         return ReferenceValue{now, std::abs(now) * relative,
                               translated("{:.4g} lx at {:.3g} m are {:.4g} lx at {:.3g} m", v[0], v[2], now, v[3])};
       }});
}

std::vector<Procedure> build() {
  std::vector<Procedure> all;
  add_instruments(all);
  add_fixed_points(all);
  add_trims(all);
  add_salts(all);
  add_barometer(all);
  add_gauges(all);
  add_lamps(all);
  return all;
}

}  // namespace

const std::vector<Procedure>& procedures() { return once_in_each_language<build>(); }

std::vector<const Procedure*> procedures_for(const Channel& channel, bool inside_chip) {
  std::vector<const Procedure*> fitting;
  for (const Procedure& each : procedures()) {
    // A sensor inside a chip can be compared with nothing but the room, cold or with its own warmth taken off.
    const bool is_trim = each.id == "cold-trim" || each.id == "warm-trim";
    if (each.quantity != channel.quantity || is_trim != inside_chip) continue;
    if (!each.kinds.empty() && std::ranges::find(each.kinds, channel.kind) == each.kinds.end()) continue;
    fitting.push_back(&each);
  }
  return fitting;
}

}  // namespace fair_gauge
