// handoff: firmware for one channel.
#include "handoff/handoff.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/file.h"
#include "quantity/unit.h"

namespace fair_gauge::cli {
namespace {

namespace fs = std::filesystem;

struct HandoffOptions {
  std::string bench, channel, language, form = "auto", trimming = "compiled", output;
  std::int64_t per_unit = 0;
  bool force = false, json = false, reading = false;
};

// Files of a hand-over of the same channel may be written over, those of another hand not.
bool is_our_folder(const fs::path& folder, const std::string& name, const std::string& channel) {
  const auto report = read_file(folder / (name + "_report.json"));
  if (!report) return false;
  const auto json = parse_json(*report, name);  // by the core's parser: one of its own here would not be optimised
  return json && json->value.is_object() && json->value.contains("source") && json->value.contains("channel") &&
         json->value["channel"] == channel;
}

void run_handoff(Session& session, const HandoffOptions& options) {
  std::int64_t power = 1;
  while (power < options.per_unit) power *= 10;
  if (options.per_unit < 0 || (options.per_unit > 0 && power != options.per_unit))
    return session.refuse({fmt::format("--per-unit: {} is no power of ten", options.per_unit), "1, 10, 100, …"},
                          wrong_usage);
  const auto bench = open_bench(session, options.bench);
  if (!bench) return;
  HandoffRequest request{.channel = options.channel,
                         .language = options.language == "c" ? Language::c : Language::python,
                         .form = std::nullopt,
                         .per_unit = options.per_unit,
                         .trimming_loaded = options.trimming == "loaded",
                         .reading = options.reading};
  if (options.form == "integer") request.form = HandoffForm::integer;
  if (options.form == "table") request.form = HandoffForm::table;
  if (options.form == "float") request.form = HandoffForm::floating;
  auto handoff = hand_over(*bench, session.catalogue(), request);
  if (!handoff) {
    Problem problem = handoff.problem();
    problem.place.file = options.bench;
    return session.refuse(problem);
  }
  const std::string name = handoff->code.name;
  const fs::path folder = options.output;
  std::error_code error;
  fs::create_directories(folder, error);
  if (!fs::is_directory(folder, error))
    return session.refuse({"the folder cannot be made", "a folder that can be written", {.file = options.output}},
                          no_file);
  const bool ours = is_our_folder(folder, name, options.channel);
  for (const auto& [file, text] : handoff->files)
    if (fs::exists(folder / file, error) && !ours && !options.force)
      return session.refuse({"the folder holds a file of this name that is no hand-over of this channel",
                             "another folder, or --force",
                             {.file = (folder / file).string()}},
                            no_file);
  for (const auto& [file, text] : handoff->files)
    if (const auto written = write_file(folder / file, text); !written)
      return session.refuse(written.problem(), no_file);
  if (options.json)
    if (const auto report = parse_json(handoff->files.at(name + "_report.json"), name))
      return print_json(report->value);
  const HandoffReport& done = handoff->report;
  const std::string_view step_unit = difference_symbol(done.unit);
  std::cout << fmt::format("{}: {} form, {} {} a step; worst error {:.3g} {} at {}{}\n", name, done.form,
                           step_words(done.per_unit), step_unit, done.worst_error, step_unit,
                           done.at_side ? fmt::format("{} beside {}", done.at_raw, *done.at_side) : done.at_raw,
                           done.exhaustive
                               ? fmt::format(", all {} {} run", done.codes_checked, done.side ? "pairs" : "raw numbers")
                               : fmt::format(", {} drawn {} run", done.codes_checked, done.side ? "pairs" : "blocks"));
  if (done.cost) std::cout << cost_words(done) << "\n";
  for (const std::string& note : done.notes) std::cout << plain_text(note) << "\n";
}

}  // namespace

void add_handoff(Command& program, Session& session) {
  auto options = std::make_shared<HandoffOptions>();
  Command command = program.add("handoff", "Firmware for one channel, proven over every raw number",
                                [options, &session] { run_handoff(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--channel", options->channel, "id of the channel", Presence::required);
  command.choice("--language", options->language, {"c", "python"}, "of the firmware", Presence::required);
  command.choice("--form", options->form, {"integer", "table", "float", "auto"},
                 "of the arithmetic; auto takes the cheapest that is exact enough");
  command.option("--per-unit", options->per_unit, "steps of the result in one shown unit, a power of ten");
  command.choice("--trimming", options->trimming, {"compiled", "loaded"}, "of a part that has some");
  command.flag("--reading", options->reading, "also how the part is set up and read over its line");
  command.option("--output", options->output, "folder", Presence::required);
  command.flag("--force", options->force, "write over files of another hand");
  command.flag("--json", options->json, "the report as JSON");
}

}  // namespace fair_gauge::cli
