// parts: lists the catalogue.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "command.h"
#include "parts/part_json.h"

namespace fair_gauge::cli {
namespace {

struct PartsOptions {
  std::string find;
  std::string show;
  bool json = false;
};

Json entry_of(const Part& part) {
  Json quantities = Json::array();
  for (const PartQuantity& quantity : part.quantities) quantities.push_back(quantity.quantity);
  return {{"id", part.id},
          {"name", part.name},
          {"quantities", quantities},
          {"interface", part.interface},
          {"markings", part.markings}};
}

std::string words_of(const AccuracyBand& band, const Unit& unit) {
  const bool points = band.of == AccuracyOf::points;
  return fmt::format("±{:g} {} ({}) from {:g} to {:g} {}{}", points ? band.value : 100 * band.value,
                     points ? std::string(difference_symbol(unit)) : fmt::format("% of {}", enum_name(band.of)),
                     enum_name(band.basis), band.from, band.to, unit.symbol,
                     band.grade.empty() ? "" : ", " + band.grade);
}

void show(const Part& part) {
  std::cout << part.name << "\n  " << part.id;
  for (const std::string& marking : part.markings) std::cout << "  " << marking;
  std::cout << "\n  "
            << part.interface << fmt::format(", {:g} to {:g} V\n", part.supply.minimum_v, part.supply.maximum_v);
  for (const PartQuantity& quantity : part.quantities) {
    const Unit& unit = base_unit(dimension_of_quantity(quantity.quantity));
    std::cout << fmt::format("\n{}{}: {:g} to {:g} {}", quantity.quantity,
                             quantity.kind.empty() ? "" : ", " + quantity.kind, quantity.minimum, quantity.maximum,
                             unit.symbol);
    if (quantity.resolution > 0)
      std::cout << fmt::format(", steps of {:g} {}", quantity.resolution, difference_symbol(unit));
    std::cout << "\n";
    for (const AccuracyBand& band : quantity.accuracy) std::cout << "  " << words_of(band, unit) << "\n";
  }
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
  const auto found = session.catalogue.search(options.find);
  if (options.json) {
    Json list = Json::array();
    for (const Part* part : found) list.push_back(entry_of(*part));
    return print_json(list);
  }
  for (const Part* part : found) {
    std::string markings;
    for (const std::string& marking : part->markings) markings += (markings.empty() ? "" : " ") + marking;
    std::cout << fmt::format("{:<36} {:<12} {} {}\n", part->id, part->interface, part->name,
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
