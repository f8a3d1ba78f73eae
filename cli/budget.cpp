// budget: where the error of a reading comes from.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "quantity/quantity_text.h"
#include "truth/error_budget.h"
#include "truth/monte_carlo.h"
#include "truth/verdict.h"

namespace fair_gauge::cli {
namespace {

struct BudgetOptions {
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
          {"lacks_accuracy", budget.lacks_accuracy},
          {"stated_for", budget.stated_for ? Json{{"from", budget.stated_for->from},
                                                  {"to", budget.stated_for->to},
                                                  {"unit", base_unit(budget.stated_for->dimension).ucum}}
                                           : Json(nullptr)},
          {"resolution", budget.step}};
}

void run_budget(Session& session, const BudgetOptions& options) {
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
      answer["monte_carlo"] = {{"trials", spread->trials},     {"without_reading", spread->without_reading},
                               {"seed", options.seed},         {"mean", spread->mean},
                               {"standard", spread->standard}, {"low", spread->low},
                               {"high", spread->high}};
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
  if (budget->lacks_accuracy)
    std::cout
        << "at least: no sheet states how far off the sensor may be; give a figure of your own as a contribution, or "
           "calibrate\n";
  if (const std::string beyond = beyond_sheet_words(*budget, *chain->shown); !beyond.empty())
    std::cout << beyond << "\n";
  if (spread)
    std::cout << fmt::format("{} trials: standard {:.4f} {}, 95 % within {:+.4f} to {:+.4f} {}\n", spread->trials,
                             spread->standard, unit, spread->low, spread->high, unit);
}

}  // namespace

void add_budget(Command& program, Session& session) {
  auto options = std::make_shared<BudgetOptions>();
  Command command = program.add("budget", "Where the error of a reading comes from",
                                [options, &session] { run_budget(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--channel", options->channel, "id of the channel", Presence::required);
  command.option("--at", options->at, "value of the quantity", Presence::required);
  command.option("--trials", options->trials, "specimens drawn by Monte Carlo", {1000, 10e6});
  command.option("--seed", options->seed, "same seed, same result");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
