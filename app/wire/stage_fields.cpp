#include "wire/stage_fields.h"
#include "language/translation.h"
#include "wire/field_rows.h"
#include "wire/front_end_fields.h"
#include "wire/words.h"

#include <QCoreApplication>

#include <algorithm>
#include <array>
#include <cmath>

#include "bench/bench_things.h"
#include "calibrate/apply_correction.h"
#include "digital/byte_text.h"
#include "digital/decoder.h"
#include "parts/setting_name.h"
#include "widgets/text.h"
#include "wiring/address_plan.h"

namespace fair_gauge::app {
namespace {

// What an error or an offset is written in: the unit that is shown, and kelvin for any temperature.
const Unit& unit_of_difference(const Chain& chain) {
  return chain.base->dimension == Dimension::temperature ? base_unit(Dimension::temperature_difference) : *chain.shown;
}

std::vector<FieldRow> world_fields(const Chain& chain) {
  const Unit& shown = *chain.shown;
  const Unit& difference = unit_of_difference(chain);
  return {
      {tr("Where"), tr("Where the sensor sits, in a few words"),
       WordsRow{[](const Pieces& at) { return at.channel->place; },
                [](Pieces& at, const std::string& text) { at.channel->place = text; }}},
      quantity(
          to_translate("Wanted from"), to_translate("The range that must be read; it is shaded in the plot"),
          shown.dimension, shown, -huge, huge, [](const Pieces& at) { return at.channel->wanted.from; },
          [](Pieces& at, double value) { at.channel->wanted.from = std::min(value, at.channel->wanted.to - 1e-6); }),
      quantity(
          to_translate("Wanted to"), to_translate("The range that must be read; it is shaded in the plot"),
          shown.dimension, shown, -huge, huge, [](const Pieces& at) { return at.channel->wanted.to; },
          [](Pieces& at, double value) { at.channel->wanted.to = std::max(value, at.channel->wanted.from + 1e-6); }),
      quantity(
          to_translate("Allowed error ±"),
          to_translate("How far the reading may be off and still serve; the level measures against it"),
          difference.dimension, difference, 1e-6, huge, [](const Pieces& at) { return at.channel->tolerance; },
          [](Pieces& at, double value) { at.channel->tolerance = value; }),
  };
}

// A number of the part's law, kept with the specimen once it is another than the sheet's.
FieldRow number_row(const QString& label, const QString& why, const std::string& key, double of_the_sheet,
                    const Unit& unit, double least) {
  return {label, why,
          QuantityRow{unit.dimension, &unit,
                      [key, of_the_sheet](const Pieces& at) {
                        const auto own = at.device->settings.find(key);
                        return own == at.device->settings.end() ? of_the_sheet : own->second;
                      },
                      [key](Pieces& at, double value) { at.device->settings[key] = value; }, least, huge}};
}

std::vector<FieldRow> number_fields(const Transfer& transfer, const Unit& shown) {
  std::vector<FieldRow> rows;
  struct Named {
    const char* key;
    const char* label;
    const char* why;
    Dimension dimension;
    bool may_be_negative = false;
  };
  const Dimension measured = shown.dimension;
  const bool of_temperature = measured == Dimension::temperature;
  const Named known[] = {
      {"r25", to_translate("Resistance at 25 °C"), to_translate("Of the thermistor, from its sheet"),
       Dimension::resistance},
      {"r0", to_translate("Resistance at 0 °C"), to_translate("Of the platinum thermometer"), Dimension::resistance},
      {"r10", to_translate("Resistance at 10 lx"), to_translate("Of the cell, from its sheet"), Dimension::resistance},
      {"gamma", "γ", to_translate("How steeply the resistance falls with light"), Dimension::number},
      {"beta", to_translate("B, kelvin"), to_translate("The beta value of the thermistor, from its sheet"),
       Dimension::number},
      {"a", "a", to_translate("Of the Steinhart–Hart law"), Dimension::number},
      {"b", "b", to_translate("Of the Steinhart–Hart law"), Dimension::number},
      {"c", "c", to_translate("Of the Steinhart–Hart law"), Dimension::number},
      {"amps_per_lux", to_translate("Current for 1 lx"),
       to_translate("From its sheet, or from a comparison with a meter"), Dimension::current},
      {"mv_per_v", to_translate("Span, mV for each V"),
       to_translate("Output at full scale for each volt of excitation"), Dimension::number},
      {"full_scale", to_translate("Full scale"), to_translate("The pressure at which the span is reached"),
       Dimension::pressure},
      {"cold_junction", to_translate("Cold junction"),
       to_translate("Its temperature where no channel tells it; its voltage is added, not its temperature"),
       Dimension::temperature, true},
      {"low", to_translate("At 4 mA"), to_translate("Where the transmitter's range begins: printed on its label"),
       measured, true},
      {"high", to_translate("At 20 mA"), to_translate("Where the transmitter's range ends: printed on its label"),
       measured, true},
      {"shunt", to_translate("Shunt"), to_translate("The resistor that the loop's current flows through"),
       Dimension::resistance},
      {"slope", of_temperature ? to_translate("Slope, per °C") : to_translate("Slope, per base unit"),
       to_translate("Volts, or the share of the supply, for one unit"), Dimension::voltage, true},
      {"offset", of_temperature ? to_translate("Output at 0 °C") : to_translate("Output at zero"),
       to_translate("Volts, or the share of the supply, at zero"), Dimension::voltage, true}};
  constexpr double positive = 1e-15;
  for (const auto& [key, label, why, dimension, may_be_negative] : known)
    if (const auto own = transfer.numbers.find(key); own != transfer.numbers.end())
      rows.push_back(number_row(tr(label), tr(why), key, own->second,
                                dimension == measured ? shown : base_unit(dimension),
                                may_be_negative ? -huge : positive));
  for (const NumberName& named : transfer.named)
    if (const auto own = transfer.numbers.find(named.number); own != transfer.numbers.end()) {
      const Unit* unit = unit_by_ucum(named.unit);
      rows.push_back(number_row(text_of(named.name), text_of(named.means), named.number, own->second,
                                unit ? *unit : base_unit(Dimension::number), own->second > 0 ? positive : -huge));
    }
  return rows;
}

std::vector<FieldRow> sensor_fields(const Workbench& workbench) {
  std::vector<const Part*> parts;
  QStringList names;
  const Channel& channel = *workbench.chosen().channel;
  const Part* used = workbench.catalogue().find(workbench.chosen().chain->part_id);
  for (const Part& part : workbench.catalogue().parts()) {
    // What can stand at this front end without another one: resistances, currents, counted pulses, and all that gives a
    // voltage.
    const auto of_kind = [&](Interface kind) { return (part.interface == kind) == (used->interface == kind); };
    const bool same_output =
        of_kind(Interface::resistance) && of_kind(Interface::pulse_count) && of_kind(Interface::current);
    if (!part.measures(channel.quantity) || !same_output || part.is_digital()) continue;
    parts.push_back(&part);
    names << text_of(part.name) +
                 (part.markings.empty() ? QString() : QStringLiteral("  ") + text_of(part.markings.front()));
  }
  std::vector<FieldRow> rows = {choice(
      to_translate("Part"), to_translate("What it does stands first, what is printed on it second"), names,
      [parts, used](const Pieces&) { return static_cast<int>(std::ranges::find(parts, used) - parts.begin()); },
      [parts, used](Pieces& at, int index) {
        const Part& chosen = *parts[static_cast<std::size_t>(index)];
        at.device->part = chosen.id;
        at.device->settings.clear();
        if (chosen.interface != used->interface) at.device->side_inputs.clear();  // they are the other law's
      })};
  QStringList grades;
  for (const AccuracyBand& band : used->measures(channel.quantity)->accuracy)
    if (!grades.contains(text_of(band.grade))) grades << text_of(band.grade);
  if (grades.size() > 1)
    rows.push_back(choice(
        to_translate("Grade"), to_translate("Which of the accuracies of its sheet this specimen was sold with"), grades,
        [grades](const Pieces& at) { return std::max(0, static_cast<int>(grades.indexOf(text_of(at.device->grade)))); },
        [grades](Pieces& at, int index) { at.device->grade = grades[index].toStdString(); }));
  std::ranges::move(number_fields(used->transfer, *workbench.chosen().chain->shown), std::back_inserter(rows));
  return rows;
}

// The settings of a part, kept under its keys.
using KeptSettings = std::function<std::map<std::string, double>&(const Pieces&)>;

FieldRow setting_row(const PartSetting& setting, const KeptSettings& kept) {
  const auto value_of = [kept, key = setting.key, usual = setting.default_value](const Pieces& at) {
    const auto found = kept(at).find(key);
    return found == kept(at).end() ? usual : found->second;
  };
  const QString why = text_of(setting.means).isEmpty() ? tr("As the part was set") : text_of(setting.means);
  const Unit* unit = unit_by_ucum(setting.unit);
  if (!unit) unit = &base_unit(Dimension::number);
  if (setting.choices.empty())
    return {text_of(setting_name(setting)), why,
            QuantityRow{unit->dimension, unit, value_of,
                        [kept, key = setting.key](const Pieces& at, double value) { kept(at)[key] = value; },
                        setting.minimum, setting.maximum}};
  QStringList names;
  std::vector<double> values;
  for (const SettingChoice& choice : setting.choices) {
    names << text_of(choice_name(choice));
    values.push_back(choice.value);
  }
  return {text_of(setting_name(setting)), why,
          ChoiceRow{names,
                    [=](const Pieces& at) {
                      return std::max(0, static_cast<int>(std::ranges::find(values, value_of(at)) - values.begin()));
                    },
                    [values, kept, key = setting.key](const Pieces& at, int index) {
                      kept(at)[key] = values[static_cast<std::size_t>(index)];
                    }}};
}

// How a digital part was told to measure, as far as its bytes do not tell it themselves.
std::vector<FieldRow> digital_fields(const Part& part) {
  std::vector<FieldRow> rows;
  for (const PartSetting& setting : part.bytes.settings)
    rows.push_back(
        setting_row(setting, [](const Pieces& at) -> std::map<std::string, double>& { return at.device->settings; }));
  for (const ByteBlock& block : part.bytes.blocks) {
    if (block.role != "trimming") continue;
    // In whatever shape they are pasted.
    const auto wrong = [block](const Pieces&, const std::string& text) -> std::optional<Problem> {
      if (text.empty()) return std::nullopt;
      const auto bytes = read_byte_text(text);
      if (!bytes) return bytes.problem();
      if (static_cast<int>(bytes->bytes.size()) == block.bytes) return std::nullopt;
      return Problem{translated("{} bytes", bytes->bytes.size()), translated("the {} of {}", block.bytes, block.name)};
    };
    const auto keep = [name = block.name](Pieces& at, const std::string& text) {
      const auto bytes = read_byte_text(text);
      if (text.empty())
        at.device->trimming.erase(name);
      else if (bytes)
        at.device->trimming[name] = to_hex(bytes->bytes);
    };
    const auto kept = [name = block.name](const Pieces& at) {
      const auto own = at.device->trimming.find(name);
      return own == at.device->trimming.end() ? std::string() : own->second;
    };
    rows.push_back({tr("Trimming, %1").arg(text_of(block.name)),
                    tr("The %1 bytes that this specimen holds there, as they were read from it once: without them its "
                       "readings are those of a made-up one")
                        .arg(block.bytes),
                    WordsRow{kept, keep, wrong}});
  }
  rows.push_back({tr("Serial or mark"),
                  tr("What tells this specimen from its like: on one wire its 64-bit serial number, never the order in "
                     "which it is found"),
                  WordsRow{[](const Pieces& at) { return at.device->serial; },
                           [](const Pieces& at, const std::string& text) { at.device->serial = text; }}});
  return rows;
}

// Of a converter that is a part of its own: where it is, and what the rows of any converter do not say of it.
void add_bus_fields(const Part& part, std::vector<FieldRow>& rows) {
  if (part.addresses.size() > 1) {
    QStringList names;
    std::vector<int> addresses;
    for (const PartAddress& each : part.addresses) {
      names << text_of(address_text(each.address)) + QStringLiteral("  ") + text_of(each.pins);
      addresses.push_back(each.address);
    }
    rows.push_back(choice(
        to_translate("Address"), to_translate("Of the converter on its two-wire bus"), names,
        [addresses](const Pieces& at) {
          const auto place = std::ranges::find(addresses, at.converter->address) - addresses.begin();
          return at.converter->address == 0 ? 0 : static_cast<int>(place);
        },
        [addresses](Pieces& at, int index) { at.converter->address = addresses[static_cast<std::size_t>(index)]; }));
  }
  constexpr std::array known = {"gain", "bits", "reference", "full_scale", "excitation"};
  for (const PartSetting& setting : part.bytes.settings)
    if (std::ranges::find(known, setting.key) == known.end())
      rows.push_back(setting_row(
          setting, [](const Pieces& at) -> std::map<std::string, double>& { return at.converter->settings; }));
}

std::vector<FieldRow> converter_fields(const Part* part) {
  std::vector<FieldRow> rows = {
      quantity(
          to_translate("Bits"), to_translate("Of the converter itself"), Dimension::number,
          base_unit(Dimension::number), 1, 24, [](const Pieces& at) { return at.converter->bits; },
          [](Pieces& at, double value) { at.converter->bits = static_cast<int>(std::lround(value)); }),
      quantity(
          to_translate("Reference, nominal"), to_translate("By its label or data sheet"), Dimension::voltage,
          base_unit(Dimension::voltage), 0.1, 60, [](const Pieces& at) { return at.reference->nominal_v; },
          [](Pieces& at, double value) { at.reference->nominal_v = value; }),
      FieldRow{tr("Reference, as measured"),
               tr("Read with a meter; it is used instead of the nominal value. Empty the field to forget it"),
               QuantityRow{Dimension::voltage, &base_unit(Dimension::voltage),
                           [](const Pieces& at) { return at.reference->measured_v.value_or(std::nan("")); },
                           [](Pieces& at, double value) { at.reference->measured_v = value; }, 0.1, 60, false,
                           [](Pieces& at) { at.reference->measured_v.reset(); }}},
      fraction(
          to_translate("Its tolerance ±"),
          to_translate("Of the nominal value; the meter's own error counts instead once it is measured"),
          [](const Pieces& at) { return at.reference->relative_half_width(); },
          [](Pieces& at, double value) {
            (at.reference->measured_v ? at.reference->meter_uncertainty : at.reference->tolerance) = value;
          }),
      quantity(
          to_translate("Gain"), to_translate("Of the converter's own amplifier; 1 without one"), Dimension::number,
          base_unit(Dimension::number), 1e-3, 1e4, [](const Pieces& at) { return at.converter->gain; },
          [](Pieces& at, double value) { at.converter->gain = value; }),
      quantity(
          to_translate("Span ÷ reference"),
          to_translate("2 for a half-reference pin, 0.5 for a bridge converter, else 1"), Dimension::number,
          base_unit(Dimension::number), 1e-3, 1e3, [](const Pieces& at) { return at.converter->span_per_reference; },
          [](Pieces& at, double value) { at.converter->span_per_reference = value; }),
      choice(
          to_translate("Inputs"), to_translate("From ground upwards, or of both signs (differential)"),
          {tr("from 0 V"), tr("both signs")}, [](const Pieces& at) { return static_cast<int>(at.converter->polarity); },
          [](Pieces& at, int index) { at.converter->polarity = static_cast<Polarity>(index); }),
      choice(
          to_translate("Divisor"),
          to_translate(
              "2ⁿ: one step is reference ÷ 2ⁿ, as most data sheets define it. 2ⁿ − 1: the top code reads exactly the "
              "reference"),
          {tr("2ⁿ (steps)"), tr("2ⁿ − 1 (codes)")},
          [](const Pieces& at) { return static_cast<int>(at.converter->convention); },
          [](Pieces& at, int index) { at.converter->convention = static_cast<CodeConvention>(index); }),
      choice(
          to_translate("Rounding"),
          to_translate("Whether the first code begins at half a step, as in most sheets, or at a whole one"),
          {tr("nearest step"), tr("downwards")},
          [](const Pieces& at) { return static_cast<int>(at.converter->rounding); },
          [](Pieces& at, int index) { at.converter->rounding = static_cast<Rounding>(index); }),
      choice(
          to_translate("Reported as"), to_translate("How the firmware hands the code over"),
          {tr("as it is"), tr("left-justified, 16 bits"), tr("scaled to 16 bits")},
          [](const Pieces& at) { return static_cast<int>(at.converter->justification); },
          [](Pieces& at, int index) {
            at.converter->justification = static_cast<Justification>(index);
            at.converter->register_bits = index == 0 ? 0 : 16;
          }),
  };
  if (part) add_bus_fields(*part, rows);
  return rows;
}

std::vector<FieldRow> corrected_fields(const Chain& chain) {
  const Unit& difference = unit_of_difference(chain);
  return {
      quantity(
          to_translate("Offset"), to_translate("Reference minus reading; it is added to every reading"),
          difference.dimension, difference, -1e6, 1e6,
          [](const Pieces& at) {
            return at.channel->correction.coefficients.empty() ? 0 : at.channel->correction.coefficients.front();
          },
          [](Pieces& at, double value) {
            at.channel->correction.coefficients = {value};
            at.channel->correction.note = to_translate("typed in");
          }),
      quantity(
          to_translate("Its standard uncertainty"),
          to_translate("From the reference and the readings. Zero: the sheet's accuracy goes on counting"),
          difference.dimension, difference, 0, 1e6,
          [](const Pieces& at) { return at.channel->correction.standard_uncertainty; },
          [](Pieces& at, double value) { at.channel->correction.standard_uncertainty = value; }),
      {tr("How it was found"), tr("Point, reference, date"),
       WordsRow{[](const Pieces& at) { return at.channel->correction.note; },
                [](Pieces& at, const std::string& text) { at.channel->correction.note = text; }}},
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
              to_translate("Unit"), to_translate("In which the reading is shown; files keep base units"), names,
              [units](const Pieces& at) {
                return static_cast<int>(std::ranges::find(units, at.channel->unit, &Unit::ucum) - units.begin());
              },
              [units](Pieces& at, int index) { at.channel->unit = units[static_cast<std::size_t>(index)]->ucum; }),
          choice(
              to_translate("Also in"), to_translate("A second unit that stands beside the reading"),
              QStringList{tr("no other")} + names,
              [units](const Pieces& at) {
                const auto place = std::ranges::find(units, at.channel->also_unit, &Unit::ucum) - units.begin();
                return at.channel->also_unit.empty() ? 0 : static_cast<int>(place) + 1;
              },
              [units](Pieces& at, int index) {
                at.channel->also_unit = index > 0 ? units[static_cast<std::size_t>(index) - 1]->ucum : "";
              })};
}

// Whether the firmware sends raw numbers or what it made of them.
FieldRow arrival_field(const Workbench& workbench) {
  return choice(
      to_translate("It arrives"),
      to_translate("As the converter's raw number, or as a value that a library or another program converted before"),
      {tr("as a raw number"), tr("converted already")},
      [](const Pieces& at) { return at.channel->arrives_converted() ? 1 : 0; },
      [&workbench](Pieces& at, int index) {
        if (index == 1)
          if (auto moved = correction_of_readings(*at.bench, workbench.catalogue(), at.channel->id))
            at.channel->correction = std::move(*moved);
        at.channel->arrives.reset();
        if (index == 1) at.channel->arrives = Arrival{.unit = at.channel->unit};
      });
}

// Behind a value that arrives: a part of the catalogue, or what nobody knows.
FieldRow part_behind_field(const Workbench& workbench) {
  std::vector<std::string> ids = {""};
  QStringList names = {tr("nobody knows")};
  for (const Part& part : workbench.catalogue().parts()) {
    if (!part.measures(workbench.chosen().channel->quantity)) continue;
    ids.push_back(part.id);
    names << text_of(part.name) +
                 (part.markings.empty() ? QString() : QStringLiteral("  ") + text_of(part.markings.front()));
  }
  const std::string used = workbench.chosen().chain->part_id;
  return choice(
      to_translate("Part behind it"), to_translate("Its sheet then says how far off the value may be"), names,
      [ids, used](const Pieces&) { return static_cast<int>(std::ranges::find(ids, used) - ids.begin()); },
      [ids](Pieces& at, int index) {
        const std::string& id = ids[static_cast<std::size_t>(index)];
        const std::string before = at.channel->device;
        at.channel->device.clear();
        const bool shared = std::ranges::any_of(
            at.bench->channels, [&](const Channel& each) { return !before.empty() && each.device == before; });
        if (!shared) std::erase_if(at.bench->devices, [&](const Device& each) { return each.id == before; });
        if (id.empty()) return;
        Device device{.id = at.channel->id + "_part", .part = id};
        while (find_by_id(at.bench->devices, device.id)) device.id += "_";
        at.channel->device = device.id;
        at.bench->devices.push_back(std::move(device));
      });
}

std::vector<FieldRow> arriving_fields(const Workbench& workbench) {
  std::vector<const Unit*> units;
  QStringList names;
  for (const Unit& unit : all_units())
    if (unit.dimension == workbench.chosen().chain->base->dimension)
      units.push_back(&unit), names << text_of(unit.symbol);
  return {
      arrival_field(workbench),
      choice(
          to_translate("Unit"), to_translate("In which the value arrives"), names,
          [units](const Pieces& at) {
            return static_cast<int>(std::ranges::find(units, at.channel->arriving_unit(), &Unit::ucum) - units.begin());
          },
          [units](Pieces& at, int index) {
            if (at.channel->arrives) at.channel->arrives->unit = units[static_cast<std::size_t>(index)]->ucum;
          }),
      choice(
          to_translate("Decimals"),
          to_translate("Behind its decimal mark; what is finer was rounded away before it came"),
          {tr("none"), tr("1"), tr("2"), tr("3"), tr("4"), tr("5"), tr("6"), tr("7"), tr("8"), tr("9")},
          [](const Pieces& at) { return at.channel->arrives ? at.channel->arrives->decimals : 0; },
          [](Pieces& at, int index) {
            if (at.channel->arrives) at.channel->arrives->decimals = index;
          }),
      part_behind_field(workbench)};
}

// The channels that it is worked out from, or the number that is typed instead of the second.
std::vector<FieldRow> derived_fields(const Workbench& workbench) {
  const DerivedQuantity& follows = *workbench.chosen().chain->derived->setup().quantity;
  std::vector<FieldRow> rows;
  const bool own = follows.id == typed_formula;
  if (own)
    rows.push_back({tr("Formula"), tr("Of a and b, the two channels below, in base units as files have them"),
                    WordsRow{[](const Pieces& at) { return at.channel->derived ? at.channel->derived->formula : ""; },
                             [](Pieces& at, const std::string& text) {
                               if (at.channel->derived) at.channel->derived->formula = text;
                             },
                             [](const Pieces& at, const std::string& text) -> std::optional<Problem> {
                               if (!at.channel->derived) return std::nullopt;
                               DerivedFrom tried = *at.channel->derived;
                               tried.formula = text;
                               const auto made = what_follows(*at.bench, tried, at.channel->quantity);
                               return made ? std::nullopt : std::optional(made.problem());
                             }}});
  for (std::size_t i = 0; i < follows.inputs.size(); ++i) {
    std::vector<std::string> ids;
    QStringList names;
    for (const Channel& channel : workbench.bench().channels)
      if ((own || channel.quantity == follows.inputs[i]) && !channel.derived && !lacks_sensor(channel))
        ids.push_back(channel.id), names << text_of(called(channel));
    const auto input = [i](DerivedFrom& from) -> std::string& { return i == 0 ? from.of : from.beside; };
    if (i == 1 && workbench.chosen().channel->derived->beside.empty()) {
      const Dimension dimension = dimension_of(follows.inputs[i]);
      const bool at_rest = workbench.chosen().channel->derived->at_rest > 0;
      rows.push_back(quantity(
          at_rest               ? to_translate("At rest it read")
          : follows.accumulates ? to_translate("Light a day")
                                : to_translate("Second input"),
          at_rest ? to_translate("The mean of readings while nothing was on it; Correct, Derived takes it anew")
          : follows.accumulates ? to_translate("For what is typed into the strip; readings count the time themselves")
                                : to_translate("Typed, where no channel reads it"),
          dimension, follows.accumulates ? *unit_by_ucum("h") : base_unit(dimension), -huge, huge,
          [](const Pieces& at) { return at.channel->derived->number.value_or(0); },
          [](Pieces& at, double value) {
            at.channel->derived->number = value;
            at.channel->derived->at_rest = std::min(at.channel->derived->at_rest, 1);  // no mean any more
          }));
      continue;
    }
    rows.push_back(choice(
        own      ? (i == 0 ? "a" : "b")
        : i == 0 ? to_translate("Worked out from")
                 : to_translate("Beside"),
        to_translate("A channel that is measured"), names,
        [ids, input](const Pieces& at) {
          DerivedFrom from = at.channel->derived.value_or(DerivedFrom());
          return static_cast<int>(std::ranges::find(ids, input(from)) - ids.begin());
        },
        [ids, input, own](Pieces& at, int index) {
          if (!at.channel->derived) return;
          DerivedFrom& from = *at.channel->derived;
          const std::string& chosen = ids[static_cast<std::size_t>(index)];
          if (own && (chosen == from.of || chosen == from.beside))  // a and b are two channels: they change places
            std::swap(input(from), chosen == from.of ? from.of : from.beside);
          else
            input(from) = chosen;
        }));
  }
  return rows;
}

}  // namespace

ChannelPieces pieces_of(Bench& bench, const std::string& channel_id) {
  ChannelPieces pieces{&bench, find_by_id(bench.channels, channel_id), nullptr, nullptr, nullptr, nullptr};
  if (pieces.channel) pieces.device = find_by_id(bench.devices, pieces.channel->device);
  if (pieces.device) pieces.converter = find_by_id(bench.converters, pieces.device->converter);
  if (pieces.device) pieces.feeding_rail = find_by_id(bench.rails, pieces.device->front_end.rail);
  if (pieces.converter) {
    Rail* rail = find_by_id(bench.rails, pieces.converter->reference_rail);
    pieces.reference = rail ? &rail->voltage : &pieces.converter->reference;
  }
  return pieces;
}

QString text_of_row(const QuantityRow& row, double value, const NumberStyle& style) {
  if (std::isnan(value)) return {};
  const double shown = row.unit->from_base(row.is_fraction ? value * 100 : value);
  const bool prefixed =
      !row.is_fraction && (row.dimension == Dimension::resistance || row.dimension == Dimension::voltage ||
                           row.dimension == Dimension::capacitance);
  if (prefixed)
    return text_of(with_prefix(shown, row.unit->symbol, row.dimension == Dimension::voltage ? 5 : 4, style));
  const QString number = text_of(shortest(shown, style));
  if (row.is_fraction) return number + QStringLiteral(" %");
  const std::string_view symbol =
      row.dimension == Dimension::temperature_difference ? difference_symbol(*row.unit) : row.unit->symbol;
  return symbol.empty() ? number : number + QLatin1Char(' ') + text_of(symbol);
}

std::vector<FieldRow> fields_of_stage(StageName stage, const Workbench& workbench) {
  const auto& chain = workbench.chosen().chain;
  if (!chain) return {};
  const Part* part = workbench.catalogue().find(chain->part_id);
  const Device* device = find_by_id(workbench.bench().devices, chain->channel.device);
  // What stands between them belongs to the channel that it is worked out from.
  if (chain->derived && stage != StageName::world && stage != StageName::shown)
    return stage == StageName::derived ? derived_fields(workbench) : std::vector<FieldRow>();
  switch (stage) {
    case StageName::derived: return {};
    case StageName::world: return world_fields(*chain);
    case StageName::sensor: return sensor_fields(workbench);
    case StageName::front_end: return front_end_fields(*part, device->front_end);
    case StageName::converter:
    case StageName::bytes:
    case StageName::raw: {
      if (stage == StageName::raw && chain->channel.arrives_converted()) return arriving_fields(workbench);
      const Converter* converter = device ? find_by_id(workbench.bench().converters, device->converter) : nullptr;
      std::vector<FieldRow> rows =
          part->is_digital() ? digital_fields(*part)
          : chain->converter->counts_pulses()
              ? std::vector<FieldRow>{}
              : converter_fields(converter ? workbench.catalogue().find(converter->part) : nullptr);
      if (!chain->channel.arrives_converted()) rows.push_back(arrival_field(workbench));
      return rows;
    }
    case StageName::compensated:
    case StageName::corrected: return corrected_fields(*chain);
    case StageName::shown: return shown_fields(*chain);
  }
  return {};
}

QString limits_of_row(const QuantityRow& row, const NumberStyle& style) {
  const double one = row.is_fraction ? 100 : 1;
  return QObject::tr("%1 to %2 can be")
      .arg(text_of_row(row, row.least / one, style), text_of_row(row, row.most / one, style));
}

}  // namespace fair_gauge::app
