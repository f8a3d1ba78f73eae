#include "wire/front_end_fields.h"

#include <algorithm>

#include "language/translation.h"
#include "wire/field_rows.h"

namespace fair_gauge::app {
namespace {

// A number of the front end, by its member.
FieldRow of_front_end(const char* label, const char* why, Dimension dimension, double least, double most,
                      double FrontEnd::*member) {
  return quantity(
      label, why, dimension, base_unit(dimension), least, most,
      [member](const Pieces& at) { return at.device->front_end.*member; },
      [member](Pieces& at, double value) { at.device->front_end.*member = value; });
}

FieldRow tolerance_field() {
  return fraction(
      to_translate("Tolerance ±"),
      to_translate("Of its resistors, as bought; a better one is often the cheapest way to a fairer reading"),
      [](const Pieces& at) { return at.device->front_end.fixed_tolerance; },
      [](Pieces& at, double value) { at.device->front_end.fixed_tolerance = value; });
}

// The kinds that fit what the sensor gives.
FieldRow kind_field(const Part& part) {
  using enum FrontEndKind;
  const std::vector<FrontEndKind> kinds = part.interface == Interface::resistance ? std::vector{divider}
                                          : part.interface == Interface::current
                                              ? std::vector{load, transimpedance}
                                              : std::vector{direct, level_divider, amplifier};
  QStringList names;
  for (const FrontEndKind kind : kinds)
    names << (kind == divider          ? tr("divider with one resistor")
              : kind == load           ? tr("load resistor")
              : kind == transimpedance ? tr("current amplifier")
              : kind == direct         ? tr("straight to the pin")
              : kind == level_divider  ? tr("level divider")
                                       : tr("amplifier"));
  return choice(
      to_translate("Kind"), to_translate("What stands between the sensor and the converter's pin"), names,
      [kinds](const Pieces& at) {
        return static_cast<int>(std::ranges::find(kinds, at.device->front_end.kind) - kinds.begin());
      },
      [kinds](Pieces& at, int index) { at.device->front_end.kind = kinds[static_cast<std::size_t>(index)]; });
}

FieldRow rail_field() {
  return quantity(
      to_translate("Supply, nominal"), to_translate("Of the rail that feeds it; shared by everything on the rail"),
      Dimension::voltage, base_unit(Dimension::voltage), 0.5, 60,
      [](const Pieces& at) { return at.feeding_rail ? at.feeding_rail->voltage.nominal_v : 0; },
      [](Pieces& at, double value) {
        if (at.feeding_rail) at.feeding_rail->voltage.nominal_v = value;
      });
}

}  // namespace

std::vector<FieldRow> front_end_fields(const Part& part, const FrontEnd& front_end) {
  const FieldRow kind = kind_field(part), tolerance = tolerance_field();
  const FieldRow filter_ohm =
                     of_front_end(to_translate("Filter resistor"), to_translate("Before the pin; 0: no filter"),
                                  Dimension::resistance, 0, 1e9, &FrontEnd::filter_ohm),
                 filter_farad = of_front_end(to_translate("Filter capacitor"),
                                             to_translate("From the pin to ground; 0: no filter"),
                                             Dimension::capacitance, 0, 1, &FrontEnd::filter_farad);
  switch (front_end.kind) {
    case FrontEndKind::divider:
      return {
          of_front_end(to_translate("Fixed resistor"), to_translate("Write it as you would say it: 8k2, 4.7k, 10 kOhm"),
                       Dimension::resistance, 1, 1e9, &FrontEnd::fixed_ohm),
          tolerance,
          choice(
              to_translate("Where it is"), to_translate("Above: between supply and pin. Below: between pin and ground"),
              {tr("above the sensor"), tr("below the sensor")},
              [](const Pieces& at) { return at.device->front_end.position == Position::top ? 0 : 1; },
              [](Pieces& at, int index) {
                at.device->front_end.position = index == 0 ? Position::top : Position::bottom;
              }),
          rail_field(),
          choice(
              to_translate("Leads"),
              to_translate(
                  "How many wires go to the sensor: two lie in series with it, a third lets most of them cancel, a "
                  "fourth all"),
              {tr("short"), tr("2 wires"), tr("3 wires"), tr("4 wires")},
              [](const Pieces& at) { return std::max(0, at.device->front_end.wires - 1); },
              [](Pieces& at, int index) { at.device->front_end.wires = index == 0 ? 0 : index + 1; }),
          of_front_end(to_translate("One lead"),
                       to_translate("Its resistance; copper changes by 0.39 % for each kelvin"), Dimension::resistance,
                       0, 1e4, &FrontEnd::lead_ohm)};
    case FrontEndKind::load:
      return {kind,
              of_front_end(to_translate("Load resistor"), to_translate("It turns the current into a voltage"),
                           Dimension::resistance, 1e-3, 1e9, &FrontEnd::fixed_ohm),
              tolerance, filter_ohm, filter_farad};
    case FrontEndKind::transimpedance:
      return {
          kind,
          of_front_end(to_translate("Feedback resistor"), to_translate("It turns the current into a voltage"),
                       Dimension::resistance, 1e-3, 1e9, &FrontEnd::fixed_ohm),
          tolerance,
          of_front_end(to_translate("Offset"), to_translate("Added at the output"), Dimension::voltage, -100, 100,
                       &FrontEnd::offset_v),
          of_front_end(to_translate("Reaches up to"), to_translate("Highest output of the amplifier; 0: not stated"),
                       Dimension::voltage, 0, 100, &FrontEnd::highest_v)};
    case FrontEndKind::level_divider:
      return {kind,
              of_front_end(to_translate("Upper resistor"), to_translate("Between sensor and pin"),
                           Dimension::resistance, 1e-3, 1e9, &FrontEnd::top_ohm),
              of_front_end(to_translate("Lower resistor"), to_translate("Between pin and ground"),
                           Dimension::resistance, 1e-3, 1e9, &FrontEnd::bottom_ohm),
              tolerance};
    case FrontEndKind::amplifier:
      return {
          kind,
          choice(
              to_translate("Amplifier"),
              to_translate("Non-inverting: 1 + Rf ÷ Ri. Inverting: −Rf ÷ Ri. Difference and bridge: of two inputs"),
              {tr("non-inverting"), tr("inverting"), tr("difference"), tr("for a bridge")},
              [](const Pieces& at) { return static_cast<int>(at.device->front_end.amplifier); },
              [](Pieces& at, int index) { at.device->front_end.amplifier = static_cast<AmplifierKind>(index); }),
          of_front_end(to_translate("Gain"), to_translate("Output for one volt in, without its sign"),
                       Dimension::number, 1e-6, 1e6, &FrontEnd::gain),
          of_front_end(to_translate("Resistor it is set against"),
                       to_translate("Ri; the feedback resistor follows from the gain"), Dimension::resistance, 1e-3,
                       1e9, &FrontEnd::input_ohm),
          of_front_end(to_translate("Offset at the output"), to_translate("Lifts a signal that goes below ground"),
                       Dimension::voltage, -100, 100, &FrontEnd::offset_v),
          tolerance,
          of_front_end(to_translate("Reaches up to"), to_translate("Highest output of the amplifier; 0: not stated"),
                       Dimension::voltage, 0, 100, &FrontEnd::highest_v)};
    case FrontEndKind::direct: return {kind, filter_ohm, filter_farad};
  }
  return {};
}

}  // namespace fair_gauge::app
