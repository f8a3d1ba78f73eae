// simulate: the raw columns a real bench would log.
#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>
#include <utility>

#include "channel_chain.h"
#include "diagnose/injected_fault.h"
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
  std::shared_ptr<const InjectedFault> fault;  // null → none

  std::optional<double> answer(double world) { return fault ? fault->answer(device, world) : device.answer(world); }
};

using FaultOfChannel = std::map<std::string, std::shared_ptr<const InjectedFault>>;

// The faults asked for: "stuck@substrate".
Result<FaultOfChannel> faults_of(const std::vector<std::string>& texts, const Bench& bench,
                                 const Catalogue& catalogue) {
  // Neither is ever the last to let go: both outlive what is made of them.
  const std::shared_ptr<const Bench> shared_bench(std::shared_ptr<void>(), &bench);
  const std::shared_ptr<const Catalogue> shared_catalogue(std::shared_ptr<void>(), &catalogue);
  return injected_faults(shared_bench, shared_catalogue, texts);
}

void run_simulate(Session& session, const SimulateOptions& options) {
  const auto loaded = open_loaded(session, options.bench);
  if (!loaded) return;
  const Bench* bench = &loaded->bench;
  const auto faults = faults_of(options.faults, *bench, session.catalogue());
  if (!faults) return session.refuse(faults.problem());
  std::vector<Column> columns;
  double period = options.period;
  for (const Channel& channel : bench->channels) {
    if (!options.channel.empty() && channel.id != options.channel) continue;
    if (channel.derived) {
      if (!options.channel.empty())
        return session.refuse({fmt::format("\"{}\" is worked out from other channels", channel.id),
                               fmt::format("\"{}\", whose raw number is simulated", channel.raw_channel())});
      continue;
    }
    if (const auto faulty = loaded->faulty_channels.find(channel.id); faulty != loaded->faulty_channels.end()) {
      Problem problem = faulty->second;
      problem.wrong = fmt::format("\"{}\" is not simulated while {}", channel.id, problem.wrong);
      session.refuse(problem);
      continue;
    }
    auto chain = build_chain(*bench, session.catalogue(), channel.id);
    if (!chain) {
      std::cerr << channel.id << ": " << to_text(chain.problem()) << "\n";
      continue;
    }
    if (options.period <= 0) period = period <= 0 ? channel.period_s : std::min(period, channel.period_s);
    const auto surroundings = [&, channel](double seconds) {
      return chain_at(*bench, session.catalogue(), channel, options.seed, seconds);
    };
    const auto found = faults->find(channel.id);
    const auto fault = found == faults->end() ? nullptr : found->second;
    columns.push_back({options.channel.empty() ? channel.id : "counts", EnvironmentCourse(channel, options.seed),
                       fault ? fault->device(std::move(*chain), options.seed, surroundings)
                             : SimulatedDevice(std::move(*chain), options.seed, surroundings),
                       fault});
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
  const auto shows = [](const Column& column) { return column.fault && column.fault->is_of_arithmetic(); };
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
      const auto raw = column.answer(world);
      text += raw ? fmt::format(",{}", *raw) : ",";
      if (!shows(column)) continue;
      const double shown = raw ? column.fault->mistake()->shows(static_cast<double>(*raw)) : std::nan("");
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
                 "NAME@CHANNEL: stuck, open, short, missing, spikes, no-response, no-pull-up, or a mistake's code as "
                 "diagnose has it");
  command.option("--output", options->output, "file to write, - for standard output");
  command.flag("--force", options->force, "write also over a bench, a logbook or a part file");
  command.flag("--json", options->json, "say in JSON what was written");
}

}  // namespace fair_gauge::cli
