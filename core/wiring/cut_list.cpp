#include "wiring/cut_list.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/markup.h"
#include "language/translation.h"
#include "quantity/e_series.h"
#include "quantity/number_format.h"

namespace fair_gauge {

std::string cable_words(CableKind kind) {
  std::string words(translated_name(kind));
  std::ranges::replace(words, '-', ' ');
  return words;
}

double farad_per_metre(CableKind kind) {
  switch (kind) {
    case CableKind::flat_ribbon: return 50e-12;
    case CableKind::single_wires: return 20e-12;
    case CableKind::twisted_pair:
    case CableKind::shielded_pair:
    case CableKind::round_cable: break;
  }
  return 100e-12;
}

Bus with_runs(const Bench& bench, const Bus& bus) {
  Bus cabled = bus;
  double metres = 0, farad = 0;
  bool any = false;
  for (const CableRun& run : bench.cables) {
    if (run.bus != bus.id || run.bus.empty()) continue;
    any = true;
    metres += run.cut_m();
    farad += run.cut_m() * farad_per_metre(run.kind);
  }
  if (!any) return cabled;
  cabled.cable_m = metres;
  if (metres > 0) cabled.farad_per_m = farad / metres;
  return cabled;
}

std::optional<SeriesResistor> series_resistor(const Bench& bench, const Accessory& accessory) {
  const Rail* rail = find_by_id(bench.rails, accessory.rail);
  if (accessory.kind != AccessoryKind::lamp || !rail || accessory.current_a <= 0 || accessory.forward_v <= 0)
    return std::nullopt;
  const double left_v = rail->voltage.best_v() - accessory.forward_v;
  if (left_v <= 0) return std::nullopt;
  const double least = left_v / accessory.current_a;
  const auto values = values_between(ESeries::e24, least * (1 - 1e-9), least * 1.2);
  if (values.empty()) return std::nullopt;
  const double ohm = values.front(), amps = left_v / ohm;
  return SeriesResistor{ohm, amps, left_v * amps};
}

CutList cut_list(const Bench& bench) {
  CutList list;
  const auto warn = [&](std::string words) { list.findings.push_back({Severity::warning, std::move(words)}); };
  for (const CableRun& run : bench.cables) {
    auto line = std::ranges::find_if(
        list.to_buy, [&](const CutLine& each) { return each.kind == run.kind && each.conductors == run.conductors; });
    if (line == list.to_buy.end())
      line = list.to_buy.insert(list.to_buy.end(), {.kind = run.kind, .conductors = run.conductors});
    ++line->pieces;
    line->metres += run.cut_m();
    const std::string name = run.name.empty() ? translated("a run without a name") : run.name;
    if (run.metres <= 0) warn(translated("{}: how long is it?", name));
    const Bus* bus = find_by_id(bench.buses, run.bus);
    if (!bus) continue;
    const int needs = bus->kind == BusKind::two_wire ? 4 : bus->kind == BusKind::alert ? 2 : bus->parasite ? 2 : 3;
    if (run.conductors < needs)
      warn(translated("{}: {} conductors, {} needs {} with supply and ground", name, run.conductors, called(*bus),
                      needs));
    if (bus->kind == BusKind::two_wire && run.kind == CableKind::twisted_pair)
      warn(translated("{}: clock and data in one twisted pair disturb each other; pair each with ground or supply",
                      name));
  }
  for (const Bus& bus : bench.buses)
    if (const Bus cabled = with_runs(bench, bus); cabled.cable_m != bus.cable_m)
      list.findings.push_back(
          {Severity::note, translated("{} is {:.2f} m long by its runs: its pull-ups are sized with that", called(bus),
                                      cabled.cable_m)});
  for (const Accessory& accessory : bench.accessories) {
    const std::string name = accessory.name.empty() ? std::string(translated_name(accessory.kind)) : accessory.name;
    if (const auto resistor = series_resistor(bench, accessory); resistor && resistor->watts > 0.125)
      warn(translated("{}: its resistor takes {}, a usual small one bears a quarter of a watt", name,
                      with_prefix(resistor->watts, "W", 3)));
    if (accessory.kind == AccessoryKind::lamp && accessory.forward_v <= 0)
      warn(translated("{}: without a resistor in series a light-emitting diode burns, or the pin does", name));
    if (accessory.kind == AccessoryKind::relay)
      warn(
          translated("{}: a coil needs a transistor and a diode across it; what it switches on mains is work for a "
                     "licensed electrician",
                     name));
    if (accessory.kind != AccessoryKind::display && accessory.kind != AccessoryKind::relay &&
        accessory.current_a > 0.02)
      warn(translated("{}: {} is more than most pins give; switch it with a transistor", name,
                      with_prefix(accessory.current_a, "A", 3)));
  }
  std::ranges::stable_sort(list.to_buy, std::greater{}, &CutLine::metres);
  std::ranges::stable_sort(list.findings, std::greater{}, &Finding::severity);
  return list;
}

std::string cut_list_csv(const Bench& bench) {
  std::string text = csv_row({"run", "cut to [m]", "of it slack [m]", "cable", "conductors", "bus", "connector"});
  for (const CableRun& run : bench.cables)
    text += csv_row({run.name, fmt::format("{:g}", run.cut_m()), fmt::format("{:g}", run.slack_m),
                     cable_words(run.kind), std::to_string(run.conductors), run.bus, run.connector});
  return text;
}

}  // namespace fair_gauge
