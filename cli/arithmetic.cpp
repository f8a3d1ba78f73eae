// arithmetic: one line of somebody's own firmware, run over every raw number of a channel.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "handoff/own_arithmetic.h"

namespace fair_gauge::cli {
namespace {

struct ArithmeticOptions {
  std::string bench, channel, line, bits = "16";
  std::int64_t per_unit = 0;
  bool json = false;
};

Json json_of(const OwnVerdict& verdict) {
  Json mends = Json::array();
  for (const auto& mend : verdict.mends)
    mends.push_back({{"words", mend.words}, {"line", mend.line}, {"worst_wanted", mend.worst_wanted}});
  Json overflow = nullptr;
  if (verdict.overflows > 0)
    overflow = {
        {"codes", verdict.overflows}, {"first_raw", verdict.first_overflow}, {"operation", verdict.overflow_in}};
  return {{"per_unit", verdict.per_unit},
          {"exact_enough", verdict.is_exact_enough()},
          {"worst_error", verdict.worst},
          {"at_raw", verdict.at_raw},
          {"worst_error_wanted", verdict.worst_wanted},
          {"at_raw_wanted", verdict.at_wanted},
          {"gives", verdict.gives},
          {"right", verdict.right},
          {"allowed_error", verdict.allowed},
          {"codes_checked", verdict.codes},
          {"exhaustive", verdict.exhaustive},
          {"overflow", overflow},
          {"without_number", verdict.without},
          {"mends", mends}};
}

void run_arithmetic(Session& session, const ArithmeticOptions& options) {
  const auto chain = open_chain(session, options.bench, options.channel);
  if (!chain) return;
  if (options.per_unit < 0)
    return session.refuse({"--per-unit: it has to be above zero", "1, 10, 100, …"}, wrong_usage);
  const auto verdict = check_own_arithmetic(*chain, options.line, options.bits == "16" ? 16 : 32, options.per_unit);
  if (!verdict) return session.refuse(verdict.problem());
  if (options.json) return print_json(json_of(*verdict));
  for (const std::string& words : own_verdict_words(*verdict, *chain->shown)) std::cout << words << "\n";
  for (const auto& mend : verdict->mends)
    std::cout << fmt::format("  to mend it, {}: {}   (worst {:.3g} {})\n", mend.words, mend.line, mend.worst_wanted,
                             chain->shown->symbol);
}

}  // namespace

void add_arithmetic(Command& program, Session& session) {
  auto options = std::make_shared<ArithmeticOptions>();
  Command command = program.add("arithmetic", "A line of your own firmware, held against the exact chain",
                                [options, &session] { run_arithmetic(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--channel", options->channel, "id of the channel", Presence::required);
  command.option("--line", options->line, "such as 't = adc * 782 / 1000 - 250'; v is volts, mv millivolts",
                 Presence::required);
  command.choice("--int", options->bits, {"16", "32"}, "bits of an int on the controller; 16 if not said");
  command.option("--per-unit", options->per_unit, "steps of the result in one shown unit; as fits best if not said");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
