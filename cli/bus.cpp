// bus: the buses of a bench as they are wired: windows, levels, conflicts, the cycle and what it costs, the list of
// wires.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "bench/bench_file.h"
#include "channel_chain.h"
#include "command.h"
#include "files/file.h"
#include "wiring/address_plan.h"
#include "wiring/bus_check.h"
#include "wiring/bus_scan.h"
#include "wiring/cut_list.h"
#include "wiring/cycle_plan.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::cli {
namespace {

struct BusOptions {
  std::string bench;
  std::string scan;
  std::string wiring;
  std::string cuts;
  bool json = false;
};

const char* name_of(Severity severity) {
  return severity == Severity::note ? "note" : severity == Severity::warning ? "warning" : "fault";
}

Json json_of(const std::vector<Finding>& findings) {
  Json list = Json::array();
  for (const Finding& finding : findings)
    list.push_back({{"weight", name_of(finding.severity)}, {"words", finding.words}});
  return list;
}

Json maybe(const std::optional<double>& value) { return value ? Json(*value) : Json(nullptr); }

Json json_of(const BusCheck& check) {
  const PullUpSize& size = check.size;
  return {{"capacitance_f", check.capacitance_f},
          {"minimum_ohm", size.minimum_ohm},
          {"maximum_ohm", size.maximum_ohm},
          {"recommended_ohm", maybe(size.recommended_ohm)},
          {"existing_parallel_ohm", maybe(size.existing_ohm)},
          {"rise_time_s", maybe(size.rise_s)},
          {"rise_time_limit_s", size.rise_limit_s},
          {"verdict", verdict_name(size.verdict)},
          {"low_v", check.low_v},
          {"open_v", check.pull.open_v},
          {"noise_margin_low_v", check.margin_low_v},
          {"noise_margin_high_v", check.margin_high_v},
          {"findings", json_of(check.findings)}};
}

Json json_of(const CyclePlan& plan) {
  Json devices = Json::array(), charges = Json::array();
  for (const DeviceTimes& device : plan.devices) {
    Json steps = Json::array();
    for (const SequenceStep& step : device.steps)
      steps.push_back({{"what", step.what},
                       {"holds_line", step.lane == SequenceLane::line},
                       {"from_s", step.from_s},
                       {"to_s", step.to_s}});
    devices.push_back({{"device", device.device},
                       {"bus", device.bus},
                       {"conversion_s", device.conversion_s},
                       {"shortest_s", device.shortest_s},
                       {"wanted_s", device.wanted_s},
                       {"steps", std::move(steps)}});
  }
  for (const auto& [name, amps] : plan.charges) charges.push_back({{"name", name}, {"average_a", amps}});
  return {{"cycle_s", plan.cycle_s},
          {"awake_s", plan.awake_s},
          {"line_share", plan.line_share},
          {"average_a", plan.average_a},
          {"battery_days", plan.battery_days},
          {"devices", std::move(devices)},
          {"average_currents", std::move(charges)},
          {"findings", json_of(plan.findings)}};
}

Result<Json> scan_of(const BusOptions& options, const Bench& bench, const Catalogue& catalogue, const Bus& bus) {
  const auto text = read_file(options.scan, 1u << 20);
  if (!text) return text.problem();
  std::vector<ScanMatch> matches;
  if (bus.kind == BusKind::one_wire) {
    const auto hits = read_serial_scan(*text);
    if (!hits) return hits.problem();
    matches = match_serials(bench, bus, *hits);
  } else if (bus.kind == BusKind::two_wire) {
    const auto hits = read_address_scan(*text);
    if (!hits) return hits.problem();
    matches = match_addresses(bench, catalogue, bus, *hits);
  }
  Json list = Json::array();
  for (const ScanMatch& match : matches)
    list.push_back(
        {{"weight", name_of(match.severity)}, {"what", match.what}, {"device", match.device}, {"words", match.words}});
  return list;
}

Json addresses_of(const Bench& bench, const Catalogue& catalogue, const Bus& bus) {
  Json json;
  json["conflicts"] = Json::array();
  for (const AddressConflict& conflict : address_conflicts(bench, bus))
    json["conflicts"].push_back({{"address", address_text(conflict.address)}, {"devices", conflict.devices}});
  const auto wishes = address_wishes(bench, catalogue, bus);
  const AddressPlan plan =
      plan_addresses(wishes, bus.multiplexer_address > 0 ? std::vector{bus.multiplexer_address} : std::vector<int>{});
  json["solved"] = plan.solved;
  json["needs_multiplexer"] = plan.needs_multiplexer;
  json["plan"] = Json::array();
  for (std::size_t i = 0; i < wishes.size(); ++i)
    json["plan"].push_back({{"device", wishes[i].name},
                            {"address", address_text(plan.places[i].address)},
                            {"branch", plan.places[i].branch},
                            {"now", address_text(wishes[i].now)}});
  return json;
}

void print(const Json& answer) {
  for (const Json& bus : answer["buses"]) {
    std::cout << bus["id"].get<std::string>() << "\n";
    for (const char* list : {"findings", "scan"})
      if (bus.contains(list))
        for (const Json& finding : bus[list])
          std::cout << fmt::format("  {:<8} {}{}\n", finding["weight"].get<std::string>(),
                                   finding.contains("what") ? finding["what"].get<std::string>() + "  " : "",
                                   finding["words"].get<std::string>());
  }
  const Json& cycle = answer["cycle"];
  std::cout << fmt::format("one cycle {:.4g} s, average {:.4g} mA, battery {:.0f} days\n",
                           cycle["cycle_s"].get<double>(), 1e3 * cycle["average_a"].get<double>(),
                           cycle["battery_days"].get<double>());
  for (const Json& finding : cycle["findings"])
    std::cout << fmt::format("  {:<8} {}\n", finding["weight"].get<std::string>(), finding["words"].get<std::string>());
}

void run_bus(Session& session, const BusOptions& options) {
  const auto loaded = load_with_figures(session, options.bench);
  if (!loaded) return session.refuse(loaded.problem(), is_file_problem(loaded.problem()) ? no_file : bad_input);
  const Bench& bench = loaded->bench;
  Json answer = {{"buses", Json::array()}};
  std::optional<Problem> unread;
  bool scan_read = false;
  for (const Bus& bus : bench.buses) {
    Json json = {{"id", bus.id}, {"kind", enum_name(bus.kind)}};
    if (const auto check = check_bus(bench, session.catalogue(), bus))
      json.update(json_of(*check));
    else
      json["findings"] = Json::array({{{"weight", "fault"}, {"words", to_text(check.problem())}}});
    if (bus.kind == BusKind::two_wire) json.update(addresses_of(bench, session.catalogue(), bus));
    if (!options.scan.empty()) {
      auto scan = scan_of(options, bench, session.catalogue(), bus);
      if (!scan && is_file_problem(scan.problem())) return session.refuse(scan.problem(), no_file);
      // A scan of another kind of bus is none of this one; one that no bus understands is said.
      if (scan)
        scan_read = true;
      else if (!unread)
        unread = scan.problem();
      json["scan"] = scan ? std::move(*scan) : Json::array();
    }
    answer["buses"].push_back(std::move(json));
  }
  if (unread && !scan_read) {
    unread->place.file = options.scan;
    return session.refuse(*unread);
  }
  answer["cycle"] = json_of(plan_cycle(bench, session.catalogue()));
  const auto write = [&](const std::string& path, const std::string& text) {
    auto file = OutputFile::open(path, {options.bench, options.scan});
    if (!file) return session.refuse(file.problem(), no_file), false;
    file->write(text);
    const auto written = file->commit();
    if (!written) session.refuse(written.problem(), no_file);
    return bool(written);
  };
  if (!options.cuts.empty() && !write(options.cuts, cut_list_csv(bench))) return;
  if (!options.wiring.empty()) {
    const WiringList list = wiring_list(bench, session.catalogue());
    if (!write(options.wiring, options.wiring.ends_with(".html") ? wiring_html(list, bench) : wiring_csv(list))) return;
  }
  options.json ? print_json(answer) : print(answer);
}

}  // namespace

void add_bus(Command& program, Session& session) {
  auto options = std::make_shared<BusOptions>();
  Command command = program.add("bus", "The buses of a bench: pull-ups, levels, addresses, time and energy",
                                [options, &session] { run_bus(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--scan", options->scan, "text of a scan, held against the plan");
  command.option("--wiring", options->wiring, "writes the list of wires, .csv or .html");
  command.option("--cut-list", options->cuts, "writes the runs of cable as they are cut, .csv");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
