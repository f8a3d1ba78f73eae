#include "channel_chain.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>

#include "chain/own_figures.h"
#include "files/file.h"

namespace fair_gauge::cli {

Result<LoadedBench> load_with_figures(Session& session, const std::string& file, const std::string& only_for) {
  auto loaded = load_bench(file);
  if (loaded && !only_for.empty()) session.read_parts_of(loaded->bench, only_for);
  if (loaded && !loaded->bench.own_parts.empty())
    session.catalogue() =
        *with_own_figures(std::make_shared<const Catalogue>(session.catalogue()), loaded->bench.own_parts);
  return loaded;
}

std::optional<LoadedBench> open_loaded(Session& session, const std::string& file, const std::string& only_for) {
  auto loaded = load_with_figures(session, file, only_for);
  if (!loaded) {
    session.refuse(loaded.problem(), is_file_problem(loaded.problem()) ? no_file : bad_input);
    return std::nullopt;
  }
  constexpr std::size_t most_said = 20;
  std::vector<Problem> all = loaded->problems;
  all.insert(all.end(), loaded->warnings.begin(), loaded->warnings.end());
  for (std::size_t i = 0; i < all.size() && i < most_said; ++i) session.say(all[i]);
  if (all.size() > most_said) std::cerr << "… and " << all.size() - most_said << " more\n";
  return std::move(*loaded);
}

std::optional<Bench> open_bench(Session& session, const std::string& file) {
  auto loaded = open_loaded(session, file);
  return loaded ? std::optional(std::move(loaded->bench)) : std::nullopt;
}

std::optional<Chain> open_chain(Session& session, const std::string& file, const std::string& channel,
                                PartsRead parts) {
  const auto loaded = open_loaded(session, file, parts == PartsRead::of_channel ? channel : "");
  if (!loaded) return std::nullopt;
  if (const auto faulty = loaded->faulty_channels.find(channel); faulty != loaded->faulty_channels.end()) {
    Problem problem = faulty->second;
    problem.wrong = fmt::format("\"{}\" has no reading while {}", channel, problem.wrong);
    session.refuse(problem);
    return std::nullopt;
  }
  auto chain = build_chain(loaded->bench, session.catalogue(), channel);
  if (!chain) {
    Problem problem = chain.problem();
    problem.place.file = file;
    session.refuse(problem);
    return std::nullopt;
  }
  return std::move(*chain);
}

bool write_bench(Session& session, const Bench& bench, const std::string& path, bool over) {
  std::error_code none;
  if (!over && path != "-" && std::filesystem::exists(path, none)) {
    session.refuse({"the file exists already", "a new name, or --force", {.file = path}}, no_file);
    return false;
  }
  auto output = OutputFile::open(path, {}, over ? Replacing::anything : Replacing::never_a_bench);
  auto whole = output ? Result<std::size_t>(0) : Result<std::size_t>(output.problem());
  if (output) {
    output->write(bench_to_text(bench));
    if (const auto committed = output->commit(); !committed) whole = committed.problem();
  }
  if (!whole) session.refuse(whole.problem(), no_file);
  return static_cast<bool>(whole);
}

}  // namespace fair_gauge::cli
