// board: a new bench from a description of its controller.
#include <fmt/format.h>

#include <filesystem>
#include <iostream>
#include <memory>

#include "bench/bench_file.h"
#include "bench/board_presets.h"
#include "channel_chain.h"

namespace fair_gauge::cli {
namespace {

struct BoardOptions {
  std::string preset, output, name;
  bool list = false, force = false, json = false;
};

void run_board(Session& session, const BoardOptions& options) {
  std::vector<Problem> problems;
  const auto presets = load_board_presets(data_folders("boards"), &problems);
  for (const Problem& problem : problems) Session::say(problem);
  if (options.list) {
    Json list = Json::array();
    for (const BoardPreset& preset : presets) {
      if (options.json)
        list.push_back({{"preset", preset.id}, {"name", preset.bench.board.name}, {"note", preset.bench.board.note}});
      else
        std::cout << fmt::format("{:<22} {}\n", preset.id, preset.bench.board.name);
    }
    if (options.json) print_json({{"presets", list}});
    return;
  }
  if (options.preset.empty() || options.output.empty())
    return session.refuse({"a new bench needs a preset and a file", "--preset NAME --output FILE, or --list"},
                          wrong_usage);
  const auto preset = std::ranges::find(presets, options.preset, &BoardPreset::id);
  if (preset == presets.end()) {
    std::string known;
    for (const BoardPreset& each : presets) known += (known.empty() ? "" : ", ") + each.id;
    return session.refuse({fmt::format("there is no preset \"{}\"", options.preset), known});
  }
  const std::string name =
      options.name.empty() ? std::filesystem::path(options.output).stem().stem().string() : options.name;
  const Bench bench = bench_of_preset(*preset, options.output == "-" ? options.name : name);
  if (!write_bench(session, bench, options.output, options.force)) return;
  if (options.json && options.output != "-")
    print_json({{"preset", preset->id}, {"output", options.output}, {"name", bench.name}});
}

}  // namespace

void add_board(Command& program, Session& session) {
  auto options = std::make_shared<BoardOptions>();
  Command command = program.add("board", "Begin a bench from a description of its controller",
                                [options, &session] { run_board(session, *options); });
  command.flag("--list", options->list, "what there is to begin with");
  command.option("--preset", options->preset, "one of --list");
  command.option("--name", options->name, "of the new bench; default as the file");
  command.option("--output", options->output, "bench file to write, - for standard output");
  command.flag("--force", options->force, "write also over a file that is there");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
