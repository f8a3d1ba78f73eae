#include "wiring/wiring_list.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <map>
#include <set>

#include "files/markup.h"
#include "quantity/number_format.h"
#include "wiring/address_plan.h"

namespace fair_gauge {
namespace {

struct InterfaceWires {
  const char* interface;
  std::vector<std::string> conductors;
};

const std::vector<InterfaceWires>& interface_wires() {
  static const std::vector<InterfaceWires> table = {
      {"i2c", {"supply", "ground", "clock", "data"}},
      {"spi", {"supply", "ground", "clock", "data out", "select"}},
      {"one-wire", {"supply", "ground", "data"}},
      {"single-wire", {"supply", "ground", "data"}},
      {"serial-bridge", {"supply", "ground", "clock", "data"}},
      {"pulse-count", {"supply", "pulses"}},
      {"resistance", {"signal", "return"}},
      {"thermocouple", {"plus", "minus"}},
      {"bridge", {"supply", "ground", "plus", "minus"}},
      {"current", {"supply", "signal"}},
      {"voltage", {"supply", "ground", "signal"}},
      {"ratiometric", {"supply", "ground", "signal"}},
  };
  return table;
}

std::string lower(std::string text) {
  std::ranges::transform(text, text.begin(),
                         [](char c) { return static_cast<char>(std::tolower(static_cast<unsigned char>(c))); });
  return text;
}

// Where a conductor begins on the controller's side.
std::string origin_of(const Bench& bench, const Device& device, const std::string& conductor) {
  const Bus* bus = find_by_id(bench.buses, device.bus);
  const auto rail_name = [&](const std::string& id) {
    const Rail* rail = find_by_id(bench.rails, id);
    return rail ? rail->name : std::string("supply");
  };
  if (conductor == "ground" || conductor == "return") return "ground";
  if (conductor == "supply")
    return rail_name(!device.rail.empty() ? device.rail : bus ? bus->rail : device.front_end.rail);
  if (bus) return (bus->name.empty() ? bus->id : bus->name) + ", " + conductor;
  const Converter* converter = find_by_id(bench.converters, device.converter);
  if (!converter) return "a free pin";
  std::string input = converter->id + ", input";
  if (device.front_end.kind == FrontEndKind::divider)
    return fmt::format("{}, with {} to {}", input, resistor_code(device.front_end.fixed_ohm),
                       device.front_end.position == Position::top ? rail_name(device.front_end.rail) : "ground");
  return input;
}

// A colour that says something else than what the conductor carries.
std::optional<std::string> misleading(const std::string& conductor, const std::string& colour) {
  const std::string shade = lower(colour);
  if (conductor == "supply" && (shade == "black" || shade == "green" || shade == "blue"))
    return fmt::format("the supply is {}: most people take that for ground or a signal", colour);
  if (conductor == "ground" && (shade == "red" || shade == "yellow" || shade == "green" || shade == "white"))
    return fmt::format("the ground is {}: most people take that for {}", colour,
                       shade == "red" ? "the supply" : "a signal");
  if (conductor != "supply" && conductor != "ground" && (shade == "red" || shade == "black"))
    return fmt::format("{} is {}: most people take that for {}", conductor, colour,
                       shade == "red" ? "the supply" : "ground");
  return std::nullopt;
}

void judge_colours(WiringList& list, const Bench& bench) {
  std::map<std::string, std::map<std::string, std::set<std::string>>> by_bus;  // bus → conductor → colours
  for (const Device& device : bench.devices) {
    std::map<std::string, std::string> seen;
    for (const auto& [conductor, colour] : device.wires) {
      if (const auto why = misleading(conductor, colour))
        list.findings.push_back({Severity::warning, device.id + ": " + *why});
      if (const auto [same, fresh] = seen.emplace(lower(colour), conductor); !fresh)
        list.findings.push_back(
            {Severity::warning, fmt::format("{}: {} and {} are both {}", device.id, same->second, conductor, colour)});
      if (!device.bus.empty()) by_bus[device.bus][conductor].insert(lower(colour));
    }
  }
  for (const auto& [bus, conductors] : by_bus)
    for (const auto& [conductor, colours] : conductors)
      if (colours.size() > 1)
        list.findings.push_back(
            {Severity::warning, fmt::format("on {} the {} has {} colours: follow the wire, not the colour", bus,
                                            conductor, colours.size())});
}

}  // namespace

namespace {

// Which pin of the package is which, what has them the other way round, and what its output bears.
void add_pins(WiringList& list, const Device& device, const Part& part) {
  const auto say = [&](Severity severity, const std::string& words) {
    list.findings.push_back({severity, device.id + ": " + words});
  };
  if (!part.pins.empty()) say(Severity::note, part.pins);
  for (const PartPinout& pinout : part.pinouts) {
    std::string pins;
    for (std::size_t i = 0; i < pinout.pins.size(); ++i)
      pins += fmt::format("{}{} {}", i > 0 ? ", " : "", i + 1, pinout.pins[i]);
    say(Severity::note, fmt::format("{}{}{}: {}", pinout.package, pinout.view.empty() ? "" : ", ", pinout.view, pins));
    if (!pinout.twin.empty()) say(Severity::warning, pinout.twin);
  }
  const FrontEnd& front_end = device.front_end;
  const double hangs_on = front_end.kind == FrontEndKind::level_divider ? front_end.top_ohm + front_end.bottom_ohm : 0;
  if (part.load_ohm > 0 && hangs_on > 0 && hangs_on < part.load_ohm)
    say(Severity::warning, fmt::format("its output bears {} and more, the divider after it has {}: it reads too low",
                                       with_prefix(part.load_ohm, "Ω", 3), with_prefix(hangs_on, "Ω", 3)));
}

}  // namespace

std::vector<std::string> conductors_of(const Part& part) {
  const auto found = std::ranges::find(interface_wires(), part.interface,
                                       [](const InterfaceWires& wires) { return std::string(wires.interface); });
  return found == interface_wires().end() ? std::vector<std::string>{"supply", "ground", "signal"} : found->conductors;
}

WiringList wiring_list(const Bench& bench, const Catalogue& catalogue) {
  WiringList list;
  std::set<std::string> cautions;
  for (const Device& device : bench.devices) {
    const Part* part = catalogue.find(device.part);
    if (!part) continue;
    for (const std::string& conductor : conductors_of(*part)) {
      const auto colour = device.wires.find(conductor);
      list.rows.push_back({device.id, conductor, origin_of(bench, device, conductor), conductor,
                           colour == device.wires.end() ? "" : colour->second, ""});
    }
    if (device.address > 0)
      if (const std::string pins = pins_for(*part, device.address); !pins.empty())
        list.rows.push_back({device.id, "address", pins, address_text(device.address), "", "selects the address"});
    for (const InterfaceStrap& strap : part->bytes.straps)
      list.rows.push_back({device.id, strap.pin, strap.tied, strap.pin, "", strap.means});
    add_pins(list, device, *part);
  }
  judge_colours(list, bench);
  for (const Channel& channel : bench.channels)
    for (const std::string& caution : channel.cautions)
      if (caution.find("ains") != std::string::npos && cautions.insert(caution).second)
        list.cautions.push_back(caution);
  list.cautions.insert(
      list.cautions.begin(),
      {"Wire with the supply off. Hold parts by their edges after touching ground: they do not bear static charge.",
       "Keep these wires apart from mains cables; whatever is switched on mains is work for a licensed electrician, "
       "with its own fuse and cut-out."});
  return list;
}

std::string wiring_csv(const WiringList& list) {
  std::string text = "device,conductor,from,to,colour,note\r\n";
  for (const WireRow& row : list.rows)
    text += csv_row({row.device, row.conductor, row.from, row.to, row.colour, row.note});
  return text;
}

std::string wiring_html(const WiringList& list, const Bench& bench) {
  std::vector<std::vector<std::string>> rows;
  for (const WireRow& row : list.rows)
    rows.push_back({row.device, row.conductor, row.from, row.to, row.colour, row.note});
  std::string body = html_table({"Device", "Conductor", "From", "To", "Colour", "Note"}, rows);
  std::vector<std::string> findings;
  for (const Finding& finding : list.findings) findings.push_back(finding.words);
  if (!findings.empty()) body += "<h2>Look twice</h2>" + html_list(findings);
  body += "<h2>Take care</h2>" + html_list(list.cautions);
  return html_page("Wiring of " + bench.name, bench.place, body);
}

}  // namespace fair_gauge
