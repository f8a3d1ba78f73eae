// budget: where the error of a reading comes from.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "quantity/quantity_text.h"
#include "truth/error_budget.h"

namespace fair_gauge::cli {
namespace {

struct Options {
  std::string bench;
  std::string channel;
  std::string at;
  bool json = false;
};

const char* name_of(Distribution distribution) {
  switch (distribution) {
    case Distribution::rectangular: return "rectangular";
    case Distribution::triangular: return "triangular";
    case Distribution::normal: return "normal";
  }
  return "";
}

Json json_of(const Budget& budget, const Chain& chain) {
  Json sources = Json::array();
  for (const Contribution& line : budget.lines)
    sources.push_back({{"name", line.name}, {"stage", stage_title(line.stage)}, {"value", line.width}, {"unit", line.unit}, {"distribution", name_of(line.distribution)}, {"sensitivity", line.sensitivity}, {"contribution", line.standard}, {"share", line.share}});
  return {{"at", budget.at}, {"unit", chain.base->ucum}, {"sources", sources}, {"known_bias", budget.known_bias}, {"combined", budget.combined}, {"k", budget.coverage_factor}, {"expanded", budget.expanded}, {"allowed", budget.allowed}, {"used", budget.used()}, {"resolution", budget.step}};
}

void run(Session& session, const Options& options) {
  const auto chain = open_chain(session, options.bench, options.channel);
  if (!chain) return;
  const auto at = parse_quantity(options.at, chain->base->dimension, chain->shown);
  if (!at) return session.refuse(at.problem());
  const auto budget = error_budget(*chain, at->base);
  if (!budget) return session.refuse(budget.problem());
  if (options.json) return print_json(json_of(*budget, *chain));
  const std::string unit(difference_symbol(*chain->base));
  for (const Contribution& line : budget->lines)
    std::cout << fmt::format("{:<44} {:>9.4g} {:<6} {:<12} {:>10.4f} {} {:>4.0f} %\n", line.name, line.width, line.unit, name_of(line.distribution), line.standard, unit, line.share * 100);
  std::cout << fmt::format("combined {:.4f} {}, expanded ±{:.4f} {} (k = {:g}), known bias {:+.4f} {}\nuses {:.0f} % of ±{:g} {}\n", budget->combined, unit, budget->expanded, unit, budget->coverage_factor,
                           budget->known_bias, unit, budget->used() * 100, budget->allowed, unit);
}

}  // namespace

void add_budget(CLI::App& program, Session& session) {
  auto options = std::make_shared<Options>();
  auto* command = program.add_subcommand("budget", "Where the error of a reading comes from");
  command->add_option("--bench", options->bench, "bench file")->required();
  command->add_option("--channel", options->channel, "id of the channel")->required();
  command->add_option("--at", options->at, "value of the quantity")->required();
  command->add_flag("--json", options->json, "as JSON");
  command->callback([options, &session] { run(session, *options); });
}

}  // namespace fair_gauge::cli
