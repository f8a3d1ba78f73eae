// record: lines as a board sends them → a CSV of raw numbers that grows while they come.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/file.h"
#include "line_input.h"
#include "stream/recorder.h"

namespace fair_gauge::cli {
namespace {

struct RecordOptions {
  std::string bench, port, input, output;
  int baud = 115200;
  double seconds = 0;
};

void run_record(Session& session, const RecordOptions& options) {
  if (options.port.empty() == options.input.empty())
    return session.refuse({"a recording needs one source", "--port PATH or --input FILE"}, wrong_usage);
  const auto bench = open_bench(session, options.bench);
  if (!bench) return;
  if (options.output == options.bench || options.output == options.input)
    return session.refuse({"the output is a file that is being read", "a file of its own"});
  auto input = LineInput::open(options.port, options.baud, options.input);
  if (!input) return session.refuse(input.problem(), no_file);
  auto recorder = Recorder::open(*bench, session.catalogue(), options.output);
  if (!recorder) return session.refuse(recorder.problem());

  std::uint64_t left_out = 0;
  std::map<std::string, std::uint64_t> reasons;
  std::optional<Problem> fault;
  input->read(
      options.seconds,
      [&](const SerialLine& line) {
        if (!line.problem && recorder->take(line, now())) return;
        ++left_out;
        const std::string why = line.problem ? to_text(*line.problem) : "it names no channel of the recording";
        if (reasons.size() < 20 || reasons.contains(why)) ++reasons[why];
      },
      [&] {
        fault = recorder->tick(now());
        return !fault;
      });
  if (!fault) fault = recorder->finish();
  if (left_out > 0) {
    std::cerr << fmt::format("{} line{} could not be read and {} left out\n", left_out, left_out == 1 ? "" : "s",
                             left_out == 1 ? "was" : "were");
    for (const auto& [why, count] : reasons) std::cerr << fmt::format("  {} × {}\n", count, plain_text(why));
  }
  for (const auto& [name, count] : recorder->strangers())
    std::cerr << fmt::format("  \"{}\" came {} times and is no column\n", plain_text(name.substr(0, 60)), count);
  if (fault) session.refuse(*fault, no_file);
}

}  // namespace

void add_record(Command& program, Session& session) {
  auto options = std::make_shared<RecordOptions>();
  Command command = program.add("record", "Record raw numbers as a board sends them",
                                [options, &session] { run_record(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--port", options->port, "serial line");
  command.option("--baud", options->baud, "its speed; default 115200");
  command.option("--input", options->input, "file of lines, - for standard input");
  command.option("--seconds", options->seconds, "how long; default until the end or a signal", {1e-3, 1e9});
  command.option("--output", options->output, "CSV to begin or to go on with", Presence::required);
}

}  // namespace fair_gauge::cli
