#include "wire/stage_fields.h"

#include <QCoreApplication>

#include <algorithm>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("StageFields", text); }

using Pieces = ChannelPieces;
constexpr double huge = 1e12;

FieldRow quantity(const char* label, const char* why, Dimension dimension, const Unit& unit, double least, double most, std::function<double(const Pieces&)> get,
                  std::function<void(Pieces&, double)> set) {
  return {tr(label), tr(why), QuantityRow{dimension, &unit, std::move(get), std::move(set), least, most}};
}

FieldRow fraction(const char* label, const char* why, std::function<double(const Pieces&)> get, std::function<void(Pieces&, double)> set) {
  return {tr(label), tr(why), QuantityRow{Dimension::humidity, unit_by_ucum("%"), std::move(get), std::move(set), 0, 100, true}};
}

FieldRow choice(const char* label, const char* why, QStringList choices, std::function<int(const Pieces&)> get, std::function<void(Pieces&, int)> set) {
  return {tr(label), tr(why), ChoiceRow{std::move(choices), std::move(get), std::move(set)}};
}

std::vector<FieldRow> world_fields(const Chain& chain) {
  const Unit& shown = *chain.shown;
  const Unit& difference = base_unit(chain.base->dimension == Dimension::temperature ? Dimension::temperature_difference : chain.base->dimension);
  return {
      {tr("Where"), tr("Where the sensor sits, in a few words"), WordsRow{[](const Pieces& at) { return at.channel->place; }, [](Pieces& at, const std::string& text) { at.channel->place = text; }}},
      quantity(
          "Wanted from", "The range that must be read; it is shaded in the plot", shown.dimension, shown, -huge, huge, [](const Pieces& at) { return at.channel->wanted.from; },
          [](Pieces& at, double value) { at.channel->wanted.from = std::min(value, at.channel->wanted.to - 1e-6); }),
      quantity(
          "Wanted to", "The range that must be read; it is shaded in the plot", shown.dimension, shown, -huge, huge, [](const Pieces& at) { return at.channel->wanted.to; },
          [](Pieces& at, double value) { at.channel->wanted.to = std::max(value, at.channel->wanted.from + 1e-6); }),
      quantity(
          "Allowed error ±", "How far the reading may be off and still serve; the level measures against it", difference.dimension, difference, 1e-6, huge,
          [](const Pieces& at) { return at.channel->tolerance; }, [](Pieces& at, double value) { at.channel->tolerance = value; }),
  };
}

std::vector<FieldRow> sensor_fields(const Workbench& workbench) {
  std::vector<const Part*> parts;
  QStringList names;
  const Channel& channel = *workbench.chosen().channel;
  const Part* used = workbench.catalogue().find(workbench.chosen().chain->part_id);
  for (const Part& part : workbench.catalogue().parts()) {
    const bool same_output = (part.interface == "resistance") == (used->interface == "resistance");
    if (!part.measures(channel.quantity) || !same_output) continue;
    parts.push_back(&part);
    names << text_of(part.name) + (part.markings.empty() ? QString() : QStringLiteral("  ") + text_of(part.markings.front()));
  }
  std::vector<FieldRow> rows = {choice(
      "Part", "What it does stands first, what is printed on it second", names,
      [parts, used](const Pieces&) { return static_cast<int>(std::ranges::find(parts, used) - parts.begin()); },
      [parts](Pieces& at, int index) {
        at.device->part = parts[static_cast<std::size_t>(index)]->id;
        at.device->settings.clear();
      })};
  struct Named {
    const char* key;
    const char* label;
    const char* why;
    Dimension dimension;
  };
  static constexpr Named known[] = {{"r25", "Resistance at 25 °C", "Of the thermistor, from its sheet", Dimension::resistance},
                                    {"r0", "Resistance at 0 °C", "Of the platinum thermometer", Dimension::resistance},
                                    {"r10", "Resistance at 10 lx", "Of the cell, from its sheet", Dimension::resistance},
                                    {"gamma", "γ", "How steeply the resistance falls with light", Dimension::number},
                                    {"beta", "B, kelvin", "The beta value of the thermistor, from its sheet", Dimension::number},
                                    {"slope", "Slope, per °C", "Volts for one degree", Dimension::voltage},
                                    {"offset", "Output at 0 °C", "Volts at zero degrees", Dimension::voltage}};
  for (const auto& [key, label, why, dimension] : known) {
    const auto own = used->transfer.numbers.find(key);
    if (own == used->transfer.numbers.end()) continue;
    const double fallback = own->second;
    const bool may_be_negative = dimension == Dimension::voltage;
    rows.push_back(quantity(
        label, why, dimension, base_unit(dimension), may_be_negative ? -huge : 1e-3, huge,
        [key = std::string(key), fallback](const Pieces& at) {
          const auto found = at.device->settings.find(key);
          return found == at.device->settings.end() ? fallback : found->second;
        },
        [key = std::string(key)](Pieces& at, double value) { at.device->settings[key] = value; }));
  }
  return rows;
}

std::vector<FieldRow> front_end_fields() {
  return {
      quantity(
          "Fixed resistor", "Write it as you would say it: 8k2, 4.7k, 10 kOhm", Dimension::resistance, base_unit(Dimension::resistance), 1, 1e9, [](const Pieces& at) { return at.device->front_end.fixed_ohm; },
          [](Pieces& at, double value) { at.device->front_end.fixed_ohm = value; }),
      fraction(
          "Its tolerance ±", "As bought; a better one is often the cheapest way to a fairer reading", [](const Pieces& at) { return at.device->front_end.fixed_tolerance; },
          [](Pieces& at, double value) { at.device->front_end.fixed_tolerance = value; }),
      choice(
          "Where it is", "Above: between supply and pin. Below: between pin and ground", {tr("above the sensor"), tr("below the sensor")},
          [](const Pieces& at) { return at.device->front_end.position == Position::top ? 0 : 1; }, [](Pieces& at, int index) { at.device->front_end.position = index == 0 ? Position::top : Position::bottom; }),
      quantity(
          "Supply, nominal", "Of the rail that feeds the divider; shared by everything on the rail", Dimension::voltage, base_unit(Dimension::voltage), 0.5, 60,
          [](const Pieces& at) { return at.divider_rail->voltage.nominal_v; }, [](Pieces& at, double value) { at.divider_rail->voltage.nominal_v = value; }),
  };
}

std::vector<FieldRow> converter_fields() {
  return {
      quantity(
          "Bits", "Of the converter itself", Dimension::number, base_unit(Dimension::number), 1, 24, [](const Pieces& at) { return at.converter->bits; },
          [](Pieces& at, double value) { at.converter->bits = static_cast<int>(std::lround(value)); }),
      quantity(
          "Reference, nominal", "By its label or data sheet", Dimension::voltage, base_unit(Dimension::voltage), 0.1, 60, [](const Pieces& at) { return at.reference->nominal_v; },
          [](Pieces& at, double value) { at.reference->nominal_v = value; }),
      quantity(
          "Reference, as measured", "Read with a meter; it is used instead of the nominal value. Type the nominal value again to forget it", Dimension::voltage, base_unit(Dimension::voltage), 0.1, 60,
          [](const Pieces& at) { return at.reference->best_v(); },
          [](Pieces& at, double value) { at.reference->measured_v = value == at.reference->nominal_v ? std::nullopt : std::optional(value); }),
      fraction(
          "Its tolerance ±", "Of the nominal value; the meter's own error counts instead once it is measured", [](const Pieces& at) { return at.reference->relative_half_width(); },
          [](Pieces& at, double value) { (at.reference->measured_v ? at.reference->meter_uncertainty : at.reference->tolerance) = value; }),
      choice(
          "Divisor", "2ⁿ: one step is reference ÷ 2ⁿ, as most data sheets define it. 2ⁿ − 1: the top code reads exactly the reference", {tr("2ⁿ (steps)"), tr("2ⁿ − 1 (codes)")},
          [](const Pieces& at) { return static_cast<int>(at.converter->convention); }, [](Pieces& at, int index) { at.converter->convention = static_cast<CodeConvention>(index); }),
      choice(
          "Rounding", "Whether the first code begins at half a step, as in most sheets, or at a whole one", {tr("nearest step"), tr("downwards")},
          [](const Pieces& at) { return static_cast<int>(at.converter->rounding); }, [](Pieces& at, int index) { at.converter->rounding = static_cast<Rounding>(index); }),
      choice(
          "Reported as", "How the firmware hands the code over", {tr("as it is"), tr("left-justified, 16 bits"), tr("scaled to 16 bits")},
          [](const Pieces& at) { return static_cast<int>(at.converter->justification); },
          [](Pieces& at, int index) {
            at.converter->justification = static_cast<Justification>(index);
            at.converter->register_bits = index == 0 ? 0 : 16;
          }),
  };
}

std::vector<FieldRow> corrected_fields() {
  const Unit& kelvin = base_unit(Dimension::temperature_difference);
  return {
      quantity(
          "Offset", "Reference minus reading; it is added to every reading", Dimension::temperature_difference, kelvin, -1000, 1000,
          [](const Pieces& at) { return at.channel->correction.coefficients.empty() ? 0 : at.channel->correction.coefficients.front(); },
          [](Pieces& at, double value) {
            at.channel->correction.coefficients = {value};
            at.channel->correction.note = "typed in";
          }),
      quantity(
          "Its standard uncertainty", "From the reference and the readings. Zero: the sheet's accuracy goes on counting", Dimension::temperature_difference, kelvin, 0, 1000,
          [](const Pieces& at) { return at.channel->correction.standard_uncertainty; }, [](Pieces& at, double value) { at.channel->correction.standard_uncertainty = value; }),
      {tr("How it was found"), tr("Point, reference, date"), WordsRow{[](const Pieces& at) { return at.channel->correction.note; }, [](Pieces& at, const std::string& text) { at.channel->correction.note = text; }}},
  };
}

std::vector<FieldRow> shown_fields(const Chain& chain) {
  std::vector<const Unit*> units;
  QStringList names;
  for (const Unit& unit : all_units()) {
    if (unit.dimension != chain.base->dimension) continue;
    units.push_back(&unit);
    names << text_of(unit.symbol);
  }
  return {choice(
      "Unit", "In which the reading is shown; files keep base units", names,
      [units](const Pieces& at) { return static_cast<int>(std::ranges::find(units, at.channel->unit, &Unit::ucum) - units.begin()); },
      [units](Pieces& at, int index) { at.channel->unit = units[static_cast<std::size_t>(index)]->ucum; })};
}

}  // namespace

ChannelPieces pieces_of(Bench& bench, const std::string& channel_id) {
  ChannelPieces pieces{&bench, find_by_id(bench.channels, channel_id), nullptr, nullptr, nullptr, nullptr};
  if (pieces.channel) pieces.device = find_by_id(bench.devices, pieces.channel->device);
  if (pieces.device) pieces.converter = find_by_id(bench.converters, pieces.device->converter);
  if (pieces.device) pieces.divider_rail = find_by_id(bench.rails, pieces.device->front_end.rail);
  if (pieces.converter) {
    Rail* rail = find_by_id(bench.rails, pieces.converter->reference_rail);
    pieces.reference = rail ? &rail->voltage : &pieces.converter->reference;
  }
  return pieces;
}

std::vector<FieldRow> fields_of_stage(StageName stage, const Workbench& workbench) {
  const auto& chain = workbench.chosen().chain;
  if (!chain) return {};
  switch (stage) {
    case StageName::world: return world_fields(*chain);
    case StageName::sensor: return sensor_fields(workbench);
    case StageName::front_end: return chain->divider ? front_end_fields() : converter_fields();
    case StageName::converter:
    case StageName::raw: return converter_fields();
    case StageName::compensated:
    case StageName::corrected: return chain->base->dimension == Dimension::temperature ? corrected_fields() : std::vector<FieldRow>{};
    case StageName::shown: return shown_fields(*chain);
  }
  return {};
}

}  // namespace fair_gauge::app
