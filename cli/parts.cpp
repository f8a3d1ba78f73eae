// parts: lists the catalogue.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "command.h"
#include "parts/part_json.h"
#include "quantity/number_format.h"

namespace fair_gauge::cli {
namespace {

struct PartsOptions {
  std::string find;
  std::string show;
  bool json = false;
};

Json entry_of(const Part& part) {
  Json quantities = Json::array();
  for (const PartQuantity& quantity : part.quantities) quantities.push_back(std::string(enum_name(quantity.quantity)));
  return {{"id", part.id},
          {"name", part.name},
          {"quantities", quantities},
          {"interface", enum_name(part.interface)},
          {"markings", part.markings}};
}

std::string words_of(const AccuracyBand& band, const Unit& unit) {
  std::string what, beside;
  for (const auto& [number, share] : band.numbers)
    what += fmt::format("{}{} ±{:g} %", what.empty() ? "" : ", ", number, 100 * share);
  const double by = band.of == AccuracyOf::points ? 1 : 100;
  if (band.of != AccuracyOf::numbers)
    what = (band.below > 0 ? fmt::format("+{:g} −{:g} ", by * band.value, by * band.below)
                           : fmt::format("±{:g} ", by * band.value)) +
           (band.of == AccuracyOf::points ? std::string(difference_symbol(unit))
                                          : fmt::format("% of {}", enum_name(band.of)));
  if (band.and_of_reading > 0) what += fmt::format(" + {:g} % of reading", 100 * band.and_of_reading);
  for (const BandBeside& each : band.beside)
    beside += fmt::format(", {} {:g} to {:g} {}", enum_name(each.quantity), each.from, each.to,
                          base_unit(each.quantity).symbol);
  return fmt::format("{} ({}) from {:g} to {:g} {}{}{}{}", what, enum_name(band.basis), band.from, band.to, unit.symbol,
                     beside, band.grade.empty() ? "" : ", " + band.grade,
                     band.conditions.empty() ? "" : ": " + band.conditions);
}

// What it draws, in which state, by which figure.
void show_currents(const SupplyLimits& supply) {
  for (const PartCurrent& current : supply.currents) {
    std::string figures;
    if (current.typical_a > 0) figures = with_prefix(current.typical_a, "A", 3) + " typical";
    if (current.maximum_a > 0)
      figures += (figures.empty() ? "" : ", ") + with_prefix(current.maximum_a, "A", 3) + " maximum";
    std::cout << fmt::format("  {}: {}{}{}\n", enum_name(current.of), figures,
                             current.every_s > 0 ? fmt::format(", every {:g} s", current.every_s) : "",
                             current.conditions.empty() ? "" : ", " + current.conditions);
  }
  if (!supply.currents.empty() && supply.rest == Rest::when_told) std::cout << "  it rests only when it is told to\n";
}

// How it hangs on its bus, and which pin is which.
void show_pins(const Part& part) {
  for (const PartInterface& interface : part.interfaces) {
    std::cout << "\n" << enum_name(interface.kind);
    if (interface.maximum_hz > 0) std::cout << fmt::format(", up to {}", with_prefix(interface.maximum_hz, "Hz", 3));
    for (const double mode : interface.modes)
      std::cout << fmt::format("{}{:g}", mode == interface.modes.front() ? ", mode " : " or ", mode);
    for (const std::string& words : {interface.write, interface.wires})
      if (!words.empty()) std::cout << "; " << words;
    for (const auto& [conductor, pin] : interface.lines)
      std::cout << (conductor == interface.lines.begin()->first ? "; " : ", ") << pin << " " << conductor;
    std::cout << "\n";
  }
  for (const PartPinout& pinout : part.pinouts) {
    std::cout << fmt::format("\npins, {}{}{}\n ", pinout.package, pinout.view.empty() ? "" : ": ", pinout.view);
    for (std::size_t i = 0; i < pinout.pins.size(); ++i) std::cout << fmt::format(" {} {}", i + 1, pinout.pins[i]);
    std::cout << "\n";
    if (!pinout.twin.empty()) std::cout << "  " << pinout.twin << "\n";
  }
  if (part.load_ohm > 0)
    std::cout << fmt::format("\nits output bears {} and more\n", with_prefix(part.load_ohm, "Ω", 3));
  if (part.load_f > 0) std::cout << fmt::format("\nits output drives up to {}\n", with_prefix(part.load_f, "F", 3));
}

void show(const Part& part) {
  std::cout << part.name << "\n";
  if (!part.protocol.empty()) std::cout << "  " << part.protocol << "\n";
  std::cout << "  " << part.id;
  for (const std::string& marking : part.markings) std::cout << "  " << marking;
  std::cout << "\n  " << enum_name(part.interface)
            << fmt::format(", {:g} to {:g} V\n", part.supply.minimum_v, part.supply.maximum_v);
  show_currents(part.supply);
  for (const PartQuantity& quantity : part.quantities) {
    const Unit& unit = base_unit(quantity.quantity);
    std::cout << fmt::format("\n{}{}: {:g} to {:g} {}", enum_name(quantity.quantity),
                             quantity.kind == PressureKind::none ? "" : fmt::format(", {}", enum_name(quantity.kind)),
                             quantity.minimum, quantity.maximum, unit.symbol);
    if (quantity.resolution > 0)
      std::cout << fmt::format(", steps of {:g} {}", quantity.resolution, difference_symbol(unit));
    std::cout << "\n";
    for (const AccuracyBand& band : quantity.accuracy) std::cout << "  " << words_of(band, unit) << "\n";
  }
  for (const std::string& left_out : part.excludes) std::cout << "  without " << left_out << "\n";
  if (!part.transfer.numbers.empty()) std::cout << "\nsettings, with their usual values\n";
  for (const auto& [key, value] : part.transfer.numbers) std::cout << fmt::format("  {} = {:g}\n", key, value);
  if (!part.bytes.blocks.empty()) std::cout << "\nfed with\n";
  for (const ByteBlock& block : part.bytes.blocks)
    std::cout << fmt::format("  {} ({} bytes, {}){}\n", block.name, block.bytes, block.role,
                             block.optional ? ", may be missing" : "");
  if (!part.bytes.settings.empty()) std::cout << "\nsettings, with their usual values\n";
  for (const PartSetting& setting : part.bytes.settings) {
    std::string usual = fmt::format("{:g}", setting.default_value), choices;
    for (const SettingChoice& choice : setting.choices) {
      choices +=
          (choices.empty() ? ": " : ", ") + (choice.name.empty() ? fmt::format("{:g}", choice.value) : choice.name);
      if (choice.value == setting.default_value && !choice.name.empty()) usual = choice.name;
    }
    std::cout << fmt::format("  {} = {}  {}{}\n", setting.key, usual, setting.means, choices);
  }
  for (const PartAddress& address : part.addresses)
    std::cout << fmt::format("{}address 0x{:02X}, {}\n", &address == part.addresses.data() ? "\n" : "", address.address,
                             address.pins);
  show_pins(part);
  for (const PartCommand& command : part.bytes.commands)
    std::cout << fmt::format("{}{}: {}{}{}\n", &command == part.bytes.commands.data() ? "\n" : "", command.name,
                             command.bytes, command.takes_s > 0 ? ", then " + with_prefix(command.takes_s, "s", 3) : "",
                             command.means.empty() ? "" : "; " + command.means);
  for (const std::string& caution : part.cautions) std::cout << "\n" << caution << "\n";
  for (const std::string& figure : part.unsettled) std::cout << "\nNot settled: " << figure << "\n";
  std::cout << "\nSource: " << part.source << "\n";
}

void run_parts(Session& session, const PartsOptions& options) {
  if (!options.show.empty()) {
    const auto part = find_part(session, options.show);
    if (!part) return session.refuse(part.problem());
    if (options.json) return print_json(part_json(**part));
    return show(**part);
  }
  const auto found = session.catalogue().search(options.find);
  if (options.json) {
    Json list = Json::array();
    for (const Part* part : found) list.push_back(entry_of(*part));
    return print_json(list);
  }
  for (const Part* part : found) {
    std::string markings;
    for (const std::string& marking : part->markings) markings += (markings.empty() ? "" : " ") + marking;
    std::cout << fmt::format("{:<36} {:<12} {} {}\n", part->id, enum_name(part->interface), part->name,
                             markings.empty() ? "" : "(" + markings + ")");
  }
}

}  // namespace

void add_parts(Command& program, Session& session) {
  auto options = std::make_shared<PartsOptions>();
  Command command =
      program.add("parts", "List the parts of the catalogue", [options, &session] { run_parts(session, *options); });
  command.option("--find", options->find, "only parts whose name, id or marking contains this text");
  command.option("--show", options->show, "one part in full: ranges, accuracy, settings with their usual values");
  command.flag("--json", options->json, "as a JSON array");
}

}  // namespace fair_gauge::cli
