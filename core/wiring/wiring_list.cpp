#include "wiring/wiring_list.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <map>
#include <set>
#include <sstream>

#include "files/markup.h"
#include "language/translation.h"
#include "quantity/letters.h"
#include "quantity/number_format.h"
#include "wiring/address_plan.h"
#include "wiring/cut_list.h"
#include "wiring/pin_stress.h"

namespace fair_gauge {
namespace {

struct InterfaceWires {
  Interface interface;
  std::vector<std::string> conductors;
};

const std::string alert_conductor = "alert", element_plus = to_translate("element plus"),
                  element_minus = to_translate("element minus");

const std::vector<InterfaceWires>& interface_wires() {
  static const std::vector<InterfaceWires> table = {
      {Interface::i2c, {to_translate("supply"), to_translate("ground"), to_translate("clock"), to_translate("data")}},
      {Interface::spi,
       {to_translate("supply"), to_translate("ground"), to_translate("clock"), to_translate("data in"),
        to_translate("data out"), to_translate("select")}},
      {Interface::one_wire, {to_translate("supply"), to_translate("ground"), to_translate("data")}},
      {Interface::single_wire, {to_translate("supply"), to_translate("ground"), to_translate("data")}},
      {Interface::serial_bridge,
       {to_translate("supply"), to_translate("ground"), to_translate("clock"), to_translate("data out")}},
      {Interface::pulse_count, {to_translate("supply"), to_translate("pulses")}},
      {Interface::resistance, {to_translate("signal"), to_translate("return")}},
      {Interface::thermocouple, {to_translate("plus"), to_translate("minus")}},
      {Interface::bridge,
       {to_translate("supply"), to_translate("ground"), to_translate("plus"), to_translate("minus")}},
      {Interface::current, {to_translate("supply"), to_translate("signal")}},
      {Interface::voltage, {to_translate("supply"), to_translate("ground"), to_translate("signal")}},
      {Interface::ratiometric, {to_translate("supply"), to_translate("ground"), to_translate("signal")}},
  };
  return table;
}

bool is_of_element(const std::string& conductor) { return conductor == element_plus || conductor == element_minus; }

// What a conductor's pin is noted for: the bus, where the device shares it, else the device.
const std::string& owner_of(const Bench& bench, const Device& device, const std::string& conductor) {
  if (conductor == alert_conductor && find_by_id(bench.buses, device.alert)) return device.alert;
  return find_by_id(bench.buses, device.bus) ? device.bus : device.id;
}

const Pin* pin_of(const Bench& bench, const Device& device, const std::string& conductor) {
  if (!ends_at_a_pin(conductor)) return nullptr;
  const auto found = std::ranges::find_if(bench.board.pins, [&](const Pin& pin) {
    return pin.uses == owner_of(bench, device, conductor) && (pin.carries.empty() || pin.carries == conductor);
  });
  return found == bench.board.pins.end() ? nullptr : &*found;
}

// What sheets call the pin of a conductor.
std::vector<std::string_view> names_of(const std::string& conductor) {
  if (conductor == "supply")
    return {"supply", "VDD", "VCC", "V+", "VS", "VDD_IO", "VDDIO", "plus", "DVDD", "AVDD", "VIN", "3V3", "5V", "+"};
  if (conductor == "ground") return {"ground", "GND", "GND1", "GND2", "VSS", "minus", "DGND", "AGND", "G", "-"};
  if (conductor == "clock") return {"SCL", "SCK", "SCLK", "CLK", "PD_SCK", "SCL/SPC"};
  if (conductor == "data") return {"SDA", "DATA", "data", "SDI", "SDA/SDI", "SDI/SDA", "DOUT", "PWM/SDA"};
  if (conductor == "data in") return {"SDI", "DIN", "SI"};
  if (conductor == "data out") return {"SO", "SDO", "DOUT", "DOUT/DRDY"};
  if (conductor == "select") return {"CS", "CSB"};
  if (conductor == element_plus) return {"T+", "FORCE+", "RTDIN+", "F+", "RTD+"};
  if (conductor == element_minus) return {"T−", "T-", "FORCE−", "RTDIN−", "F-", "RTD-"};
  if (conductor == alert_conductor) return {"ALERT", "INT", "ALERT/RDY", "ALT", "INT1", "INT/CT"};
  if (conductor == "signal") return {to_translate("output"), "OUT", "VOUT", "SIG", "S", "AO"};
  return {};
}

// The pads of the board or package in their order: as the maker has typed them, else as the part's file has its first
// package.
std::vector<std::string> pads_of(const Part& part, const Device& device) {
  std::vector<std::string> pads;
  std::istringstream typed(device.pads);
  for (std::string pad; typed >> pad;) pads.push_back(pad);
  return pads.empty() && !part.pinouts.empty() ? part.pinouts.front().pins : pads;
}

// Those of them that a conductor goes to, by number and name; empty where nobody tells.
std::string pads_for(const std::vector<std::string>& pads, const std::string& conductor) {
  std::string words;
  const auto known = names_of(conductor);
  const auto is_it = [&](const std::string& pad) {
    return std::ranges::any_of(known, [&](std::string_view name) { return small_letters(name) == small_letters(pad); });
  };
  for (std::size_t i = 0; i < pads.size(); ++i)
    if (is_it(pads[i])) words += fmt::format("{}{} {}", words.empty() ? "" : ", ", i + 1, translated(pads[i]));
  return words;
}

// Where a conductor begins on the controller's side.
std::string origin_of(const Bench& bench, const Part& part, const Device& device, const std::string& conductor) {
  const bool is_loop = part.transfer.type == "current-loop";
  const Bus* bus = find_by_id(bench.buses, device.bus);
  const auto rail_name = [&](const std::string& id) {
    const Rail* rail = find_by_id(bench.rails, id);
    return rail ? rail->name : std::string(translated("supply"));
  };
  if (is_of_element(conductor)) return translated("its element");
  if (conductor == "ground" || conductor == "return") return translated("ground");
  if (conductor == "supply" && is_loop && device.front_end.rail.empty())
    return translated("the loop's own supply, of what its label asks for");
  if (conductor == "supply" && bus && bus->parasite) return translated("ground: the data line feeds it");
  if (conductor == "supply")
    return rail_name(!device.rail.empty() ? device.rail : bus ? bus->rail : device.front_end.rail);
  const auto named = [](const Bus& line) { return called(line); };
  if (const Bus* line = find_by_id(bench.buses, device.alert); line && conductor == alert_conductor)
    return named(*line);
  if (bus) return named(*bus) + ", " + translated(conductor);
  const Converter* converter = find_by_id(bench.converters, device.converter);
  if (!converter) return translated("a free pin");
  std::string input = translated("{}, input", called(*converter));
  if (is_loop) {
    const auto own = device.settings.find("shunt");
    const double shunt = own == device.settings.end() ? part.transfer.numbers.at("shunt") : own->second;
    return translated("{}, with {} to {}", input, with_prefix(shunt, "Ω", 3), translated("ground"));
  }
  if (device.front_end.kind == FrontEndKind::divider)
    return translated(
        "{}, with {} to {}", input, resistor_code(device.front_end.fixed_ohm),
        device.front_end.position == Position::top ? rail_name(device.front_end.rail) : translated("ground"));
  return input;
}

std::string note_on(const Part& part, const Device& device, const std::string& conductor) {
  if (!is_of_element(conductor)) return "";
  if ((device.element.empty() ? part.element.part : device.element).starts_with("thermocouple"))
    return conductor == element_plus ? translated("thermocouple or compensating cable all the way")
                                     : translated("swapped, it falls as it gets warmer");
  return conductor == element_plus ? translated("of two wires: bridge the two pins") : "";
}

// A colour that says something else than what the conductor carries.
std::optional<std::string> misleading(const std::string& conductor, const std::string& colour) {
  const std::string shade = small_letters(colour);
  if (is_of_element(conductor)) return std::nullopt;  // its own standard's colours: red is often the negative wire
  if (conductor == "supply" && (shade == "black" || shade == "green" || shade == "blue"))
    return translated("the supply is {}: most people take that for ground or a signal", colour);
  if (conductor == "ground" && (shade == "red" || shade == "yellow" || shade == "green" || shade == "white"))
    return translated("the ground is {}: most people take that for {}", colour,
                      shade == "red" ? translated("the supply") : translated("a signal"));
  if (conductor != "supply" && conductor != "ground" && (shade == "red" || shade == "black"))
    return translated("{} is {}: most people take that for {}", conductor, colour,
                      shade == "red" ? translated("the supply") : translated("ground"));
  return std::nullopt;
}

void judge_colours(WiringList& list, const Bench& bench) {
  std::map<std::string, std::map<std::string, std::set<std::string>>> by_bus;  // bus → conductor → colours
  for (const Device& device : bench.devices) {
    std::map<std::string, std::string> seen;
    for (const auto& [conductor, colour] : device.wires) {
      if (const auto why = misleading(conductor, colour))
        list.findings.push_back({Severity::warning, name_of(bench, device) + ": " + *why});
      if (const auto [same, fresh] = seen.emplace(small_letters(colour), conductor); !fresh)
        list.findings.push_back({Severity::warning, translated("{}: {} and {} are both {}", name_of(bench, device),
                                                               same->second, conductor, colour)});
      const std::string& line = conductor == alert_conductor ? device.alert : device.bus;
      if (!line.empty()) by_bus[line][conductor].insert(small_letters(colour));
    }
  }
  for (const auto& [id, conductors] : by_bus)
    for (const auto& [conductor, colours] : conductors)
      if (const Bus* bus = find_by_id(bench.buses, id); colours.size() > 1)
        list.findings.push_back(
            {Severity::warning, translated("{}: the {} has {} colours, follow the wire, not the colour",
                                           bus && !bus->name.empty() ? bus->name : id, conductor, colours.size())});
}

}  // namespace

namespace {

// Which pin of the package is which, what has them the other way round, and what its output bears.
void add_pins(WiringList& list, const Bench& bench, const Catalogue& catalogue, const Device& device,
              const Part& part) {
  // What several devices have in common is said once, with the names of all.
  const auto say = [&](Severity severity, const std::string& words) {
    const std::string name = name_of(bench, device);
    const auto same = std::ranges::find_if(list.findings, [&](const Finding& each) {
      return each.severity == severity && each.words.ends_with(": " + words);
    });
    if (same == list.findings.end())
      list.findings.push_back({severity, name + ": " + words});
    else
      same->words.insert(same->words.size() - words.size() - 2, ", " + name);
  };
  if (!part.pins.empty()) say(Severity::note, part.pins);
  const auto numbered = [](const std::vector<std::string>& pads) {
    std::string words;
    for (std::size_t i = 0; i < pads.size(); ++i) words += fmt::format("{}{} {}", i > 0 ? ", " : "", i + 1, pads[i]);
    return words;
  };
  if (!device.pads.empty()) {
    const auto pads = pads_of(part, device);
    say(Severity::note, translated("pads in their order: {}", numbered(pads)));
    for (const std::string& conductor : conductors_of(part, device))
      if (!names_of(conductor).empty() && pads_for(pads, conductor).empty())
        say(Severity::warning, translated("no pad of its board is known for its {}: {}", conductor, device.pads));
  }
  for (const PartPinout& pinout : part.pinouts) {
    if (!device.pads.empty()) break;
    const std::string pins = numbered(pinout.pins);
    say(Severity::note, fmt::format("{}{}{}: {}", pinout.package, pinout.view.empty() ? "" : ", ", pinout.view, pins));
    if (!pinout.twin.empty()) say(Severity::warning, pinout.twin);
  }
  if (const auto stress = line_stress(bench, catalogue, device))
    say(Severity::warning,
        translated("its lines come up to {}, it is fed with {}: a level shifter between, unless its board has one",
                   with_prefix(stress->volts, "V", 3), with_prefix(stress->fed_v, "V", 3)));
  const FrontEnd& front_end = device.front_end;
  const double hangs_on = front_end.kind == FrontEndKind::level_divider ? front_end.top_ohm + front_end.bottom_ohm : 0;
  if (part.load_ohm > 0 && hangs_on > 0 && hangs_on < part.load_ohm)
    say(Severity::warning, translated("its output bears {} and more, the divider after it has {}: it reads too low",
                                      with_prefix(part.load_ohm, "Ω", 3), with_prefix(hangs_on, "Ω", 3)));
}

// A diode of the controller's own chip hangs on no wire.
bool is_inside_the_controller(const Part& part) { return part.senses == "chip" && !part.is_digital(); }

// A pin that may be tied either way is one row; what feeds a part, its supply, is one already.
void add_straps(WiringList& list, const std::vector<InterfaceStrap>& straps, const Device& device) {
  std::set<std::string> said;
  for (const InterfaceStrap& strap : straps) {
    const bool applies = strap.address == 0 || strap.address == device.address;
    if (!applies || strap.pin == "supply pin" || !said.insert(strap.pin + strap.tied).second) continue;
    const auto before = std::ranges::find_if(list.rows, [&](const WireRow& row) {
      return row.device == device.id && row.conductor == strap.pin && !row.is_wire && strap.address == 0;
    });
    if (before == list.rows.end()) {
      list.rows.push_back({device.id, strap.pin, strap.tied, "", strap.pin, "", strap.means});
      continue;
    }
    before->note = fmt::format("{}: {}; {}: {}", before->from, before->note, strap.tied, strap.means);
    before->from = translated("{} or {}", before->from, strap.tied);
  }
}

// The lines of a converter that is a part of its own.
void add_converter(WiringList& list, const Bench& bench, const Converter& converter, const Part& part) {
  Device as_device{.id = converter.id, .rail = converter.reference_rail};
  const auto bus = std::ranges::find(bench.buses, BusKind::two_wire, &Bus::kind);
  if (part.interface == Interface::i2c && bus != bench.buses.end()) as_device.bus = bus->id;
  const auto pads = pads_of(part, as_device);
  for (const std::string& conductor : conductors_of(part, as_device)) {
    const Pin* pin = pin_of(bench, as_device, conductor);
    const std::string to = pads_for(pads, conductor);
    list.rows.push_back({called(converter), conductor, origin_of(bench, part, as_device, conductor),
                         pin ? pin->name : "", to.empty() ? conductor : to, "", ""});
  }
}

}  // namespace

bool ends_at_a_pin(const std::string& conductor) {
  return conductor != "supply" && conductor != "ground" && conductor != "return" && !is_of_element(conductor);
}

std::optional<Problem> put_on_pin(Bench& bench, const std::string& device_id, const std::string& conductor,
                                  const std::string& name) {
  const Device* device = find_by_id(bench.devices, device_id);
  if (!device || !ends_at_a_pin(conductor))
    return Problem{translated("this conductor has no pin of its own"), translated("a signal's")};
  const std::string owner = owner_of(bench, *device, conductor);
  const auto named = std::ranges::find(bench.board.pins, name, &Pin::name);
  const bool is_new = named == bench.board.pins.end();
  // A pin of an older bench does not say which conductor it carries: its owner's.
  const auto has_it = [&](const Pin& pin) {
    return pin.uses == owner && (pin.carries == conductor || pin.carries.empty());
  };
  if (!name.empty() && !is_new && !named->uses.empty() && !has_it(*named)) {
    const Device* there = find_by_id(bench.devices, named->uses);
    const Bus* bus = find_by_id(bench.buses, named->uses);
    return Problem{translated("at pin {} ends {} already", name,
                              there                       ? name_of(bench, *there)
                              : bus && !bus->name.empty() ? bus->name
                                                          : named->uses),
                   translated("a pin that is free; clear the other one first")};
  }
  for (Pin& pin : bench.board.pins)
    if (has_it(pin)) pin.uses.clear(), pin.carries.clear();
  if (name.empty()) return std::nullopt;
  if (is_new) bench.board.pins.push_back({.name = name, .reads = device->converter});
  Pin& pin = *std::ranges::find(bench.board.pins, name, &Pin::name);
  pin.uses = owner;
  pin.carries = conductor;
  return std::nullopt;
}

std::vector<std::string> conductors_of(const Part& part, const Device& device) {
  const auto found = std::ranges::find(interface_wires(), part.interface, &InterfaceWires::interface);
  auto conductors =
      found == interface_wires().end() ? std::vector<std::string>{"supply", "ground", "signal"} : found->conductors;
  // A part that is only read has no data in.
  const auto own = std::ranges::find(part.interfaces, part.interface, &PartInterface::kind);
  if (own != part.interfaces.end() && !own->lines.empty())
    std::erase_if(conductors,
                  [&](const std::string& each) { return ends_at_a_pin(each) && !own->lines.contains(each); });
  if (!part.element.part.empty()) conductors.insert(conductors.end(), {element_plus, element_minus});
  if (!device.alert.empty()) conductors.push_back(alert_conductor);
  return conductors;
}

WiringList wiring_list(const Bench& bench, const Catalogue& catalogue) {
  WiringList list;
  std::set<std::string> cautions;
  for (const Device& device : bench.devices) {
    const Part* part = catalogue.find(device.part);
    if (!part || is_inside_the_controller(*part)) continue;
    for (const std::string& conductor : conductors_of(*part, device)) {
      const auto colour = device.wires.find(conductor);
      const Pin* pin = pin_of(bench, device, conductor);
      const std::string to = pads_for(pads_of(*part, device), conductor);
      list.rows.push_back({device.id, conductor, origin_of(bench, *part, device, conductor), pin ? pin->name : "",
                           to.empty() ? conductor : to, colour == device.wires.end() ? "" : colour->second,
                           note_on(*part, device, conductor), true});
      if (pin && !device.converter.empty() && conductor == "signal" && pin->reads != device.converter)
        list.findings.push_back({Severity::warning, translated("{}: pin {} is not read by its converter",
                                                               name_of(bench, device), pin->name)});
    }
    // One way to tie each pin: that of the address which it has.
    const auto& straps = part->bytes.straps;
    const bool has_strap =
        device.address > 0 && std::ranges::find(straps, device.address, &InterfaceStrap::address) != straps.end();
    if (device.address > 0 && !has_strap)
      if (const std::string pins = pins_for(*part, device.address); !pins.empty())
        list.rows.push_back(
            {device.id, "address", pins, "", address_text(device.address), "", translated("selects the address")});
    add_straps(list, straps, device);
    add_pins(list, bench, catalogue, device, *part);
  }
  for (const Converter& converter : bench.converters)
    if (const Part* part = catalogue.find(converter.part)) add_converter(list, bench, converter, *part);
  for (const Accessory& accessory : bench.accessories) {
    const auto resistor = series_resistor(bench, accessory);
    list.rows.push_back(
        {accessory.name, std::string(translated_name(accessory.kind)), accessory.pins, "", accessory.name, "",
         resistor
             ? translated("{} in series: {} flow", resistor_code(resistor->ohm), with_prefix(resistor->amps, "A", 3))
             : ""});
  }
  judge_colours(list, bench);
  for (const Channel& channel : bench.channels)
    for (const std::string& caution : channel.cautions)
      if (cautions.insert(caution).second) list.cautions.push_back(caution);
  list.cautions.insert(list.cautions.begin(), {translated("Wire with the supply off. Hold parts by their edges after "
                                                          "touching ground: they do not bear static charge."),
                                               translated("Keep these wires apart from mains cables; whatever is "
                                                          "switched on mains is work for a licensed electrician, "
                                                          "with its own fuse and cut-out.")});
  return list;
}

std::string wiring_csv(const WiringList& list) {
  std::string text = "device,conductor,from,pin,to,colour,note\r\n";
  for (const WireRow& row : list.rows)
    text += csv_row({row.device, row.conductor, row.from, row.pin, row.to, row.colour, row.note});
  return text;
}

std::string wiring_html(const WiringList& list, const Bench& bench) {
  std::vector<std::vector<std::string>> rows;
  for (const WireRow& row : list.rows)
    rows.push_back({row.device, row.conductor, row.from, row.pin, row.to, row.colour, row.note});
  std::string body = html_table({translated("Device"), translated("Conductor"), translated("From"), translated("Pin"),
                                 translated("To"), translated("Colour"), translated("Note")},
                                rows);
  if (!bench.cables.empty()) {
    std::vector<std::vector<std::string>> runs;
    for (const CableRun& run : bench.cables)
      runs.push_back({run.name, fmt::format("{:g} m", run.cut_m()), cable_words(run.kind),
                      std::to_string(run.conductors), run.connector});
    body += html_heading(translated("Cut to length")) +
            html_table({translated("Run"), translated("Length"), translated("Cable"), translated("Conductors"),
                        translated("Connector")},
                       runs);
  }
  std::vector<std::string> findings;
  for (const Finding& finding : list.findings) findings.push_back(finding.words);
  if (!findings.empty()) body += fmt::format("{}{}", html_heading(translated("Look twice")), html_list(findings));
  body += fmt::format("{}{}", html_heading(translated("Take care")), html_list(list.cautions));
  return html_page(translated("Wiring of {}", bench.name), bench.place, body);
}

}  // namespace fair_gauge
