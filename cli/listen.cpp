// listen: what a board already sends, what each name may be, and a bench with channels of it.
#include <fmt/format.h>

#include <array>
#include <filesystem>
#include <iostream>
#include <memory>

#include "bench/bench_file.h"
#include "channel_chain.h"
#include "digital/answering_parts.h"
#include "files/readable_text.h"
#include "line_input.h"
#include "stream/channel_log.h"
#include "stream/log_listening.h"

namespace fair_gauge::cli {
namespace {

struct ListenOptions {
  std::string bench, port, input, output;
  int baud = 0;
  double seconds = 0;
  bool force = false, json = false;
};

struct Heard {
  Listener listener;
  std::size_t lines = 0, unread = 0;
  bool noise = false;
  std::string why;  // the first line that could not be read
};

Result<Heard> hear(const ListenOptions& options, int baud, double seconds) {
  auto input = LineInput::open(options.port, baud, options.input);
  if (!input) return input.problem();
  Heard heard;
  const double began = now();
  input->read(
      seconds,
      [&](const SerialLine& line) {
        ++heard.lines;
        if (line.problem && heard.unread++ == 0) heard.why = to_text(*line.problem);
        heard.listener.take(line, input->is_line() ? now() - began : -1);
      },
      [] { return true; });
  heard.noise = input->is_noise();
  return heard;
}

// The speed at which most of what comes is lines that can be read.
Result<std::pair<int, Heard>> hear_at_some_speed(const ListenOptions& options) {
  constexpr double tries_s = 2;
  constexpr std::array usual = {115200, 9600, 57600, 38400, 19200, 230400, 4800};
  std::pair<int, Heard> best{0, {}};
  for (const int baud : usual) {
    auto heard = hear(options, baud, tries_s);
    if (!heard) return heard.problem();
    const std::size_t read = heard->lines - heard->unread;
    if (!heard->noise && read > heard->unread && read > best.second.lines - best.second.unread)
      best = {baud, std::move(*heard)};
    if (best.first != 0 && best.second.unread == 0) break;
  }
  if (best.first == 0)
    return Problem{"no usual speed gave lines that can be read",
                   "a board that sends text, or its speed by --baud",
                   {.file = options.port}};
  std::cerr << fmt::format("readable at {} baud\n", best.first);
  return best;
}

// A file that is no line's may be a log.
Result<std::vector<LineProposal>> columns_of_log(const std::string& path, std::vector<std::string>& left_out) {
  const auto readable = ReadableText::of(path);
  if (!readable) return readable.problem();
  std::string beginning;
  constexpr std::size_t enough = 1 << 16;
  const auto problem = for_each_line(readable->path(), [&](std::string_view line) {
    beginning.append(line).push_back('\n');
    return beginning.size() < enough;
  });
  return problem ? Result<std::vector<LineProposal>>(*problem) : proposals_of_log(beginning, {}, &left_out);
}

std::string_view form_name(ProposedForm form) {
  switch (form) {
    case ProposedForm::code: return "code";
    case ProposedForm::volts: return "volts";
    case ProposedForm::bytes: return "bytes";
    case ProposedForm::value: return "value";
  }
  return "";
}

Json json_of(const LineProposal& proposal) {
  Json json = {{"name", proposal.name}, {"form", form_name(proposal.form)}, {"count", proposal.count}};
  if (proposal.form == ProposedForm::bytes)
    json["bytes"] = proposal.bytes;
  else
    json.update({{"lowest", proposal.lowest}, {"highest", proposal.highest}});
  if (proposal.form == ProposedForm::code) json["bits"] = proposal.bits;
  if (proposal.form == ProposedForm::value) json["decimals"] = proposal.decimals;
  json["quantity"] = proposal.quantity ? Json(enum_name(*proposal.quantity)) : Json();
  json["unit"] = proposal.unit.empty() ? Json() : Json(proposal.unit);
  json["words"] = proposal.words;
  return json;
}

void run_listen(Session& session, const ListenOptions& options) {
  if (options.port.empty() == options.input.empty())
    return session.refuse({"listening needs one source", "--port PATH or --input FILE"}, wrong_usage);
  Bench bench;
  if (!options.bench.empty()) {
    const auto loaded = open_bench(session, options.bench);
    if (!loaded) return;
    bench = *loaded;
  } else if (!options.output.empty() && options.output != "-") {
    bench.name = std::filesystem::path(options.output).stem().stem().string();
  }
  Heard heard;
  if (!options.port.empty() && options.baud == 0) {
    auto found = hear_at_some_speed(options);
    if (!found) return session.refuse(found.problem(), found.problem().kind == ProblemKind::file ? no_file : bad_input);
    heard = std::move(found->second);
    if (options.seconds > 0) {
      auto again = hear(options, found->first, options.seconds);
      if (again) heard = std::move(*again);
    }
  } else {
    constexpr double usual_s = 10;
    const bool endless = options.seconds <= 0 && !options.port.empty();
    auto found = hear(options, options.baud, endless ? usual_s : options.seconds);
    if (!found) return session.refuse(found.problem(), no_file);
    heard = std::move(*found);
  }
  auto proposals = heard.listener.proposals();
  if (proposals.empty() && heard.lines > 0 && !options.input.empty() && options.input != "-") {
    std::vector<std::string> left_out;
    if (auto columns = columns_of_log(options.input, left_out)) proposals = std::move(*columns), heard.unread = 0;
    for (const std::string& each : left_out)
      std::cerr << fmt::format("\"{}\" is left out: its heading names no quantity\n", plain_text(each));
  }
  if (proposals.empty())
    return session.refuse({heard.lines == 0 ? "nothing came" : "none of the lines can be read: " + heard.why,
                           "lines such as name:value, {\"name\": 1}, or 22.4 C",
                           {.file = options.port.empty() ? options.input : options.port}});
  if (heard.unread > 0)
    std::cerr << fmt::format("{} of {} lines could not be read; the first: {}\n", heard.unread, heard.lines,
                             plain_text(heard.why));
  for (LineProposal& proposal : proposals)
    if (const auto parts = parts_that_answer(session.catalogue(), proposal.answers); !parts.empty())
      proposal.words += ": " + markings_of(parts);
  if (options.json && options.output != "-") {
    Json list = Json::array();
    for (const LineProposal& proposal : proposals) list.push_back(json_of(proposal));
    print_json({{"lines", heard.lines}, {"unread", heard.unread}, {"proposals", list}});
  } else if (options.output != "-") {
    for (const LineProposal& proposal : proposals)
      std::cout << fmt::format("{:<16} {}\n", plain_text(proposal.name), proposal.words);
  }
  if (options.output.empty()) return;
  write_bench(session, with_channels(bench, proposals), options.output,
              options.force || options.output == options.bench);
}

}  // namespace

void add_listen(Command& program, Session& session) {
  auto options = std::make_shared<ListenOptions>();
  Command command = program.add("listen", "Say what a board already sends, and make channels of it",
                                [options, &session] { run_listen(session, *options); });
  command.option("--port", options->port, "serial line");
  command.option("--baud", options->baud, "its speed; default: the usual ones are tried");
  command.option("--input", options->input, "file of lines, or a log with a heading; - for standard input");
  command.option("--seconds", options->seconds, "how long; default 10 s of a line, or the end of the file", {0.1, 1e6});
  command.option("--bench", options->bench, "bench that the channels are added to; default an empty one");
  command.option("--output", options->output, "bench file to write, - for standard output");
  command.flag("--force", options->force, "write also over a file that is there");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
