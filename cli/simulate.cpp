// simulate: the raw columns a real bench would log.
#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>
#include <utility>

#include "channel_chain.h"
#include "diagnose/made_mistake.h"
#include "files/file.h"
#include "sim/environment.h"

namespace fair_gauge::cli {
namespace {

struct SimulateOptions {
  std::string bench;
  double seconds = 0;
  double period = 0;
  std::uint64_t seed = 1;
  std::string output = "-";
  std::string channel;
  std::vector<std::string> faults;
  bool force = false;
  bool json = false;
};

struct Column {
  std::string name;
  EnvironmentCourse course;
  SimulatedDevice device;
  std::optional<SimulatedFault> fault;
  std::optional<MadeMistake> mistake;
};

struct AskedFault {
  std::optional<SimulatedFault> fault;
  std::optional<MadeMistake> mistake;  // one of those that `diagnose` knows
};

// The fault asked for a channel: "stuck@substrate".
Result<std::map<std::string, AskedFault>> faults_of(const std::vector<std::string>& texts, const Bench& bench,
                                                    const Catalogue& catalogue) {
  // Neither is ever the last to let go: both outlive what is made of them.
  const std::shared_ptr<const Bench> shared_bench(std::shared_ptr<void>(), &bench);
  const std::shared_ptr<const Catalogue> shared_catalogue(std::shared_ptr<void>(), &catalogue);
  std::map<std::string, AskedFault> faults;
  for (const std::string& text : texts) {
    const auto at = text.find('@');
    const std::string name = text.substr(0, at);
    if (at == std::string::npos || !find_by_id(bench.channels, text.substr(at + 1)))
      return Problem{fmt::format("\"{}\" names no channel of the bench", text), "NAME@CHANNEL"};
    const std::string channel = text.substr(at + 1);
    AskedFault asked{simulated_fault_from_text(name), {}};
    if (!asked.fault) {
      auto made = MadeMistake::of_code(shared_bench, shared_catalogue, channel, name);
      if (!made)
        return Problem{fmt::format("\"{}\" is no fault of \"{}\"", name, channel),
                       "stuck, open, short, missing, spikes, or a mistake: " + made.problem().expected};
      asked.mistake = std::move(*made);
    }
    faults[channel] = std::move(asked);
  }
  return faults;
}

// What arrives in this row: of the honest device, of one with a fault, or of a bench with a mistake in it.
std::optional<double> raw_of(Column& column, double world) {
  if (column.fault) return column.device.answer(world, *column.fault);
  const auto& mistake = column.mistake;
  // A device of the wrong bench answers by itself; a state, and what is a step on the value, have the number alone.
  if (mistake && mistake->is_of_world() && &mistake->world() == &mistake->believed()) {
    const auto raw = mistake->raw_for(world);
    return raw ? std::optional(std::round(*raw)) : std::nullopt;
  }
  return column.device.answer(world);
}

void run_simulate(Session& session, const SimulateOptions& options) {
  const auto loaded = open_loaded(session, options.bench);
  if (!loaded) return;
  const Bench* bench = &loaded->bench;
  const auto faults = faults_of(options.faults, *bench, session.catalogue);
  if (!faults) return session.refuse(faults.problem());
  std::vector<Column> columns;
  double period = options.period;
  for (const Channel& channel : bench->channels) {
    if (!options.channel.empty() && channel.id != options.channel) continue;
    if (const auto faulty = loaded->faulty_channels.find(channel.id); faulty != loaded->faulty_channels.end()) {
      Problem problem = faulty->second;
      problem.wrong = fmt::format("\"{}\" is not simulated while {}", channel.id, problem.wrong);
      session.refuse(problem);
      continue;
    }
    auto chain = build_chain(*bench, session.catalogue, channel.id);
    if (!chain) {
      std::cerr << channel.id << ": " << to_text(chain.problem()) << "\n";
      continue;
    }
    if (options.period <= 0) period = period <= 0 ? channel.period_s : std::min(period, channel.period_s);
    AskedFault asked;
    if (const auto found = faults->find(channel.id); found != faults->end()) asked = found->second;
    const bool honest = !asked.mistake || !asked.mistake->is_of_world();
    if (!honest) chain = asked.mistake->world();
    columns.push_back({options.channel.empty() ? channel.id : "counts", EnvironmentCourse(channel, options.seed),
                       SimulatedDevice(std::move(*chain), options.seed,
                                       [&, channel, honest](double seconds) -> Result<Chain> {
                                         if (!honest) return Problem{"the bench is another one", ""};
                                         return chain_at(*bench, session.catalogue, channel, options.seed, seconds);
                                       }),
                       asked.fault, std::move(asked.mistake)});
  }
  if (columns.empty() && session.exit_code != done) return;
  if (columns.empty())
    return session.refuse(
        {"there is nothing to simulate", "a bench with a channel that can be built", {.file = options.bench}});

  auto output =
      OutputFile::open(options.output, {options.bench}, options.force ? Replacing::anything : Replacing::never_a_bench);
  if (!output) return session.refuse(output.problem(), no_file);
  std::string text = "time";
  for (const Column& column : columns) text += "," + column.name;
  // What the firmware makes of it, where its arithmetic is what is wrong.
  const auto shows = [](const Column& column) { return column.mistake && !column.mistake->is_of_world(); };
  for (const Column& column : columns)
    if (shows(column)) text += "," + column.name + "_shown";
  text += "\n";
  const auto rows = static_cast<std::uint64_t>(std::floor(options.seconds / period + 1e-9));
  for (std::uint64_t row = 0; row < rows; ++row) {
    const double time = static_cast<double>(row) * period;
    text += fmt::format("{:.10g}", time);
    std::string shown_cells;
    for (Column& column : columns) {
      const double world = column.course.at(time);
      column.device.go_to(time);
      const auto raw = raw_of(column, world);
      text += raw ? fmt::format(",{}", *raw) : ",";
      if (!shows(column)) continue;
      const double shown = raw ? column.mistake->shows(static_cast<double>(*raw)) : std::nan("");
      shown_cells += std::isfinite(shown) ? fmt::format(",{:.10g}", shown) : ",";
    }
    text += shown_cells;
    text += "\n";
    if (text.size() > 1u << 16 && !output->write(std::exchange(text, {}))) break;
  }
  output->write(text);
  if (const auto whole = output->commit(); !whole) return session.refuse(whole.problem(), no_file);
  if (options.json) print_json({{"rows", rows}, {"period_s", period}, {"columns", columns.size()}});
}

}  // namespace

void add_simulate(Command& program, Session& session) {
  auto options = std::make_shared<SimulateOptions>();
  Command command = program.add("simulate", "Log the raw numbers of a simulated bench",
                                [options, &session] { run_simulate(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--seconds", options->seconds, "how long", {1e-3, 1e9}, Presence::required);
  command.option("--period", options->period, "seconds between rows; default the shortest of the channels",
                 {1e-3, 1e7});
  command.option("--seed", options->seed, "same seed, same log");
  command.option("--channel", options->channel, "only this channel, as the column counts");
  command.option("--fault", options->faults,
                 "NAME@CHANNEL: stuck, open, short, missing, spikes, or a mistake's code as diagnose has it");
  command.option("--output", options->output, "file to write, - for standard output");
  command.flag("--force", options->force, "write also over a bench, a logbook or a part file");
  command.flag("--json", options->json, "say in JSON what was written");
}

}  // namespace fair_gauge::cli
