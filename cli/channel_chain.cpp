#include "channel_chain.h"

#include <iostream>

namespace fair_gauge::cli {

std::optional<Bench> open_bench(Session& session, const std::string& file) {
  auto loaded = load_bench(file);
  if (!loaded) {
    session.refuse(loaded.problem(), is_file_problem(loaded.problem()) ? no_file : bad_input);
    return std::nullopt;
  }
  for (const Problem& problem : loaded->problems) std::cerr << to_text(problem) << "\n";
  return std::move(loaded->bench);
}

std::optional<Chain> open_chain(Session& session, const std::string& file, const std::string& channel) {
  const auto bench = open_bench(session, file);
  if (!bench) return std::nullopt;
  auto chain = build_chain(*bench, session.catalogue, channel);
  if (!chain) {
    Problem problem = chain.problem();
    problem.place.file = file;
    session.refuse(problem);
    return std::nullopt;
  }
  return std::move(*chain);
}

}  // namespace fair_gauge::cli
