// parts: lists the catalogue.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "command.h"

namespace fair_gauge::cli {
namespace {

struct Options {
  std::string find;
  bool json = false;
};

Json entry_of(const Part& part) {
  Json quantities = Json::array();
  for (const PartQuantity& quantity : part.quantities) quantities.push_back(quantity.quantity);
  return {{"id", part.id}, {"name", part.name}, {"quantities", quantities}, {"interface", part.interface}, {"markings", part.markings}};
}

void run(const Session& session, const Options& options) {
  const auto found = session.catalogue.search(options.find);
  if (options.json) {
    Json list = Json::array();
    for (const Part* part : found) list.push_back(entry_of(*part));
    return print_json(list);
  }
  for (const Part* part : found) {
    std::string markings;
    for (const std::string& marking : part->markings) markings += (markings.empty() ? "" : " ") + marking;
    std::cout << fmt::format("{:<36} {:<12} {} {}\n", part->id, part->interface, part->name, markings.empty() ? "" : "(" + markings + ")");
  }
}

}  // namespace

void add_parts(CLI::App& program, Session& session) {
  auto options = std::make_shared<Options>();
  auto* command = program.add_subcommand("parts", "List the parts of the catalogue");
  command->add_option("--find", options->find, "only parts whose name, id or marking contains this text");
  command->add_flag("--json", options->json, "as a JSON array");
  command->callback([options, &session] { run(session, *options); });
}

}  // namespace fair_gauge::cli
