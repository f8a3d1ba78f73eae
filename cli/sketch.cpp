// sketch: firmware that prints a bench's raw numbers in the form that the window reads.
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/file.h"
#include "handoff/line_sketch.h"

namespace fair_gauge::cli {
namespace {

struct SketchOptions {
  std::string bench, language, output = "-";
  bool force = false;
};

void run_sketch(Session& session, const SketchOptions& options) {
  const auto bench = open_bench(session, options.bench);
  if (!bench) return;
  const std::string text =
      line_sketch(*bench, session.catalogue(), options.language == "c" ? Language::c : Language::python);
  if (options.output == "-") {
    std::cout << text;
    return;
  }
  if (!options.force && read_file(options.output))
    return session.refuse({"there is a file of this name", "another name, or --force", {.file = options.output}},
                          no_file);
  if (const auto written = write_file(options.output, text); !written) session.refuse(written.problem(), no_file);
}

}  // namespace

void add_sketch(Command& program, Session& session) {
  auto options = std::make_shared<SketchOptions>();
  Command command = program.add("sketch", "Firmware that prints a bench's raw numbers for the window to read",
                                [options, &session] { run_sketch(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.choice("--language", options->language, {"c", "python"}, "of the firmware", Presence::required);
  command.option("--output", options->output, "file; standard output if not said");
  command.flag("--force", options->force, "write over a file that is there");
}

}  // namespace fair_gauge::cli
