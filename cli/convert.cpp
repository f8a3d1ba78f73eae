// convert: a log of raw numbers → physical units, streaming.
#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/file.h"
#include "files/readable_text.h"
#include "stream/log_convert.h"
#include "written_behind.h"

namespace fair_gauge::cli {
namespace {

struct ConvertOptions {
  std::string bench;
  std::string channel;
  std::string column;
  std::string input = "-";
  std::string output = "-";
  std::string unit;
  int digits = -1;
  bool strict = false;
  bool force = false;
  bool json = false;
};

constexpr std::size_t block_size = 1u << 20;

class File {
 public:
  explicit File(const std::string& path)
      : number_(path == "-" ? STDIN_FILENO : ::open(path.c_str(), O_RDONLY | O_CLOEXEC)), own_(path != "-") {}
  File(const File&) = delete;
  File& operator=(const File&) = delete;
  ~File() {
    if (own_ && number_ >= 0) ::close(number_);
  }
  int number() const { return number_; }

 private:
  int number_;
  bool own_;
};

Problem failed(const std::string& file, const char* doing) {
  return {fmt::format("{} failed: {}", doing, std::strerror(errno)), "", {.file = file}};
}

// Runs the whole stream. The exit code is set on failure.
bool stream(Session& session, const ConvertOptions& options, const Chain& chain, const Unit& unit,
            std::unique_ptr<RowChains> beside, ConvertSummary& summary) {
  const auto readable = ReadableText::of(options.input);
  if (!readable) return session.refuse(readable.problem(), no_file), false;
  const File input(readable->path());
  if (input.number() < 0) return session.refuse(failed(options.input, "opening"), no_file), false;
  auto output = OutputFile::open(options.output, {options.input, options.bench},
                                 options.force ? Replacing::anything : Replacing::never_a_bench);
  if (!output) return session.refuse(output.problem(), no_file), false;
  WrittenBehind behind(*output);
  bool written = true;
  LogConverter converter(
      chain, options.column, options.digits >= 0 ? options.digits : justified_decimals(chain, unit), unit,
      [&](std::string_view text) { written = written && behind.write(text); }, std::move(beside));
  std::string block(block_size, '\0');
  for (bool more = true; more;) {
    const ssize_t got = ::read(input.number(), block.data(), block.size());
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) return session.refuse(failed(options.input, "reading"), no_file), false;
    more = got > 0;
    auto problem =
        more ? converter.take(std::string_view(block).substr(0, static_cast<std::size_t>(got))) : converter.finish();
    if (more && static_cast<std::size_t>(got) < block.size()) written = written && behind.flush();  // a live line
    written = written && (more || behind.finish());
    if (!written) return behind.finish(), session.refuse(output->commit().problem(), no_file), false;
    if (problem) {
      problem->place.file = options.input == "-" ? "standard input" : options.input;
      return session.refuse(*problem), false;
    }
  }
  summary = converter.summary();
  if (const auto whole = output->commit(); !whole) return session.refuse(whole.problem(), no_file), false;
  return true;
}

void say_summary(const ConvertSummary& summary, bool json) {
  if (json) {
    Json failed = Json::array();
    for (const auto& [why, reason] : summary.failed)
      failed.push_back({{"reason", why}, {"count", reason.count}, {"lines", reason.first_lines}});
    std::cerr << Json{{"rows", summary.rows},
                      {"converted", summary.converted},
                      {"failed", failed},
                      {"remarks", summary.remarks}}
                     .dump(-1, ' ', false, Json::error_handler_t::replace)
              << "\n";
    return;
  }
  for (const std::string& remark : summary.remarks) std::cerr << remark << "\n";
  for (const auto& [why, reason] : summary.failed) {
    std::string lines;
    for (const auto line : reason.first_lines) lines += fmt::format("{}{}", lines.empty() ? "" : ", ", line);
    std::cerr << plain_text(fmt::format("{} of {} rows without a reading: {} (line {}{})", reason.count, summary.rows,
                                        why, lines, reason.count > reason.first_lines.size() ? ", …" : ""))
              << "\n";
  }
  if (summary.failures > 0) {
    std::string lines;
    for (const auto line : summary.first_failed) lines += fmt::format("{}{}", lines.empty() ? "" : ", ", line);
    std::cerr << fmt::format("without a reading: line {}", lines);
    if (summary.failures > summary.first_failed.size())
      std::cerr << fmt::format(" and {} more", summary.failures - summary.first_failed.size());
    std::cerr << "\n";
  }
  std::cerr << fmt::format("{} of {} rows converted\n", summary.converted, summary.rows);
}

void run_convert(Session& session, const ConvertOptions& options) {
  const auto chain = open_chain(session, options.bench, options.channel, PartsRead::of_channel);
  if (!chain) return;
  const Unit* unit = options.unit.empty() ? chain->shown : unit_by_ucum(options.unit);
  if (!unit || unit->dimension != chain->base->dimension)
    return session.refuse({fmt::format("\"{}\" is no unit of {}", options.unit, enum_name(chain->channel.quantity)),
                           fmt::format("a UCUM code such as {}", chain->base->ucum)});
  ConvertSummary summary;
  std::unique_ptr<RowChains> beside;
  if (!chain->side_channels.empty() || chain->derived)
    if (const auto bench = load_bench(options.bench))
      beside = std::make_unique<RowChains>(bench->bench, session.catalogue(), *chain);
  if (!stream(session, options, *chain, *unit, std::move(beside), summary)) return;
  say_summary(summary, options.json);
  if (options.strict && !summary.failed.empty()) session.exit_code = bad_input;
}

}  // namespace

void add_convert(Command& program, Session& session) {
  auto options = std::make_shared<ConvertOptions>();
  Command command =
      program.add("convert", "Convert a log of raw numbers", [options, &session] { run_convert(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--channel", options->channel, "id of the channel", Presence::required);
  command.option("--column", options->column, "column of raw numbers; default the channel's id, then counts");
  command.option("--input", options->input, "log to read, - for standard input");
  command.option("--output", options->output, "file to write, - for standard output");
  command.option("--digits", options->digits, "decimals of the readings; default as the uncertainty justifies",
                 {0, 12});
  command.option("--unit", options->unit, "UCUM code of the readings; default the channel's");
  command.flag("--strict", options->strict, "exit with 3 if a row could not be converted");
  command.flag("--force", options->force, "write also over a bench, a logbook or a part file");
  command.flag("--json", options->json, "the summary as JSON");
}

}  // namespace fair_gauge::cli
