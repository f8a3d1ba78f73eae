// check: says every fault of a bench file with its place.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "bench/board_presets.h"
#include "channel_chain.h"

namespace fair_gauge::cli {
namespace {

struct CheckOptions {
  std::string bench;
  bool json = false;
};

// Faults of the file itself, then the channels whose chain cannot be built.
Result<std::vector<Problem>> faults_of(Session& session, const std::string& file) {
  auto loaded = load_with_figures(session, file);
  if (!loaded) return loaded.problem();
  std::vector<Problem> problems = loaded->problems;
  if (!problems.empty()) return problems;
  for (const Problem& warning : loaded->warnings) Session::say(warning);
  const auto document = read_json(file);
  if (!document) return document.problem();
  for (std::size_t i = 0; i < loaded->bench.channels.size(); ++i) {
    const auto chain = build_chain(loaded->bench, session.catalogue(), loaded->bench.channels[i].id);
    const Channel& channel = loaded->bench.channels[i];
    for (const std::string& lack : lacks_of(loaded->bench, channel)) {
      problems.push_back({fmt::format("channel \"{}\": {}", channel.id, lack), "a channel that can be read"});
      problems.back().place = document->place_of(fmt::format("/channels/{}", i));
    }
    if (chain) continue;
    Problem problem = chain.problem();
    problem.wrong = fmt::format("channel \"{}\": {}", loaded->bench.channels[i].id, problem.wrong);
    problem.place = document->place_of(fmt::format("/channels/{}", i));
    problems.push_back(problem);
  }
  return problems;
}

void run_check(Session& session, const CheckOptions& options) {
  const auto problems = faults_of(session, options.bench);
  const bool unreadable = !problems && is_file_problem(problems.problem());
  const std::vector<Problem> all = problems ? *problems : std::vector{problems.problem()};
  if (options.json) {
    Json list = Json::array();
    for (const Problem& problem : all)
      list.push_back({{"file", problem.place.file},
                      {"line", problem.place.line},
                      {"column", problem.place.column},
                      {"wrong", problem.wrong},
                      {"expected", problem.expected}});
    print_json({{"ok", all.empty()}, {"faults", list}});
  } else if (all.empty()) {
    std::cout << options.bench << ": no faults\n";
  }
  for (const Problem& problem : all) session.refuse(problem, unreadable ? no_file : bad_input);
}

}  // namespace

void add_check(Command& program, Session& session) {
  auto options = std::make_shared<CheckOptions>();
  Command command = program.add("check", "Check a bench file", [options, &session] { run_check(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
