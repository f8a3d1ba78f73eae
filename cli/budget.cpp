// budget: where the error of a reading comes from.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "quantity/quantity_text.h"
#include "truth/error_budget.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::cli {
namespace {

struct Options {
  std::string bench;
  std::string channel;
  std::string at;
  std::int64_t trials = 200'000;
  std::uint64_t seed = 1;
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
    sources.push_back({{"name", line.name},
                       {"stage", stage_title(line.stage)},
                       {"value", line.width},
                       {"unit", line.unit},
                       {"distribution", name_of(line.distribution)},
                       {"sensitivity", line.sensitivity},
                       {"contribution", line.standard},
                       {"share", line.share}});
  return {{"at", budget.at},
          {"unit", chain.base->ucum},
          {"sources", sources},
          {"known_bias", budget.known_bias},
          {"combined", budget.combined},
          {"effective_dof", std::isfinite(budget.effective_dof) ? Json(budget.effective_dof) : Json(nullptr)},
          {"k", budget.coverage_factor},
          {"expanded", budget.expanded},
          {"allowed", budget.allowed},
          {"used", budget.used()},
          {"resolution", budget.step}};
}

void run(Session& session, const Options& options) {
  const auto chain = open_chain(session, options.bench, options.channel);
  if (!chain) return;
  const auto at = parse_quantity(options.at, chain->base->dimension, chain->shown);
  if (!at) return session.refuse(at.problem());
  const auto budget = error_budget(*chain, at->base);
  if (!budget) return session.refuse(budget.problem());
  const auto spread =
      options.trials > 0 ? monte_carlo(*chain, at->base, options.trials, options.seed) : Result<MonteCarlo>(Problem{});
  if (options.trials > 0 && !spread) return session.refuse(spread.problem());
  if (options.json) {
    Json answer = json_of(*budget, *chain);
    if (spread)
      answer["monte_carlo"] = {{"trials", spread->trials},     {"seed", options.seed}, {"mean", spread->mean},
                               {"standard", spread->standard}, {"low", spread->low},   {"high", spread->high}};
    return print_json(answer);
  }
  const std::string unit(difference_symbol(*chain->base));
  for (const Contribution& line : budget->lines)
    std::cout << fmt::format("{:<44} {:>9.4g} {:<6} {:<12} {:>10.4f} {} {:>4.0f} %\n", line.name, line.width, line.unit,
                             name_of(line.distribution), line.standard, unit, line.share * 100);
  std::cout << fmt::format(
      "combined {:.4f} {}, expanded ±{:.4f} {} (k = {:g}), known bias {:+.4f} {}\nuses {:.0f} % of ±{:g} {}\n",
      budget->combined, unit, budget->expanded, unit, budget->coverage_factor, budget->known_bias, unit,
      budget->used() * 100, budget->allowed, unit);
  if (spread)
    std::cout << fmt::format("{} trials: standard {:.4f} {}, 95 % within {:+.4f} to {:+.4f} {}\n", spread->trials,
                             spread->standard, unit, spread->low, spread->high, unit);
}

}  // namespace

void add_budget(CLI::App& program, Session& session) {
  auto options = std::make_shared<Options>();
  auto* command = program.add_subcommand("budget", "Where the error of a reading comes from");
  command->add_option("--bench", options->bench, "bench file")->required();
  command->add_option("--channel", options->channel, "id of the channel")->required();
  command->add_option("--at", options->at, "value of the quantity")->required();
  command->add_option("--trials", options->trials, "specimens drawn by Monte Carlo")
      ->check(CLI::Range(std::int64_t{1000}, std::int64_t{10'000'000}));
  command->add_option("--seed", options->seed, "same seed, same result");
  command->add_flag("--json", options->json, "as JSON");
  command->callback([options, &session] { run(session, *options); });
}

}  // namespace fair_gauge::cli
