#include "wiring/board_map.h"

#include <fmt/format.h>

#include <algorithm>

#include "language/translation.h"
#include "quantity/number_format.h"
#include "wiring/pin_stress.h"

namespace fair_gauge {
namespace {

class Mapper {
 public:
  Mapper(const Bench& bench, const Catalogue& catalogue) : bench_(bench), catalogue_(catalogue) {}

  BoardMap map() const {
    BoardMap map{.controller = bench_.board.name, .bears = words_of_pins()};
    BoardLine others;
    for (const Converter& converter : bench_.converters) {
      if (converter.part.empty()) {
        const Thing thing{ThingKind::converter, converter.id};
        map.lines.push_back({.thing = thing,
                             .name = name_of(bench_, thing),
                             .what = fair_gauge::words_of(bench_, converter),
                             .hung = at_inputs_of(converter)});
      } else {
        others.hung.push_back(own_converter(converter));
      }
    }
    for (const Bus& bus : bench_.buses) {
      BoardLine line{.thing = Thing{ThingKind::bus, bus.id}, .name = name_of(bench_, {ThingKind::bus, bus.id})};
      line.what = words_of_bus(bus);
      line.pins = pins_of(bus.id);
      for (const Device& device : bench_.devices) {
        if (device.bus == bus.id && !find_by_id(bench_.converters, device.converter)) line.hung.push_back(part(device));
        if (device.alert == bus.id && device.bus != bus.id) line.hung.push_back(alert_of(device));
      }
      map.lines.push_back(std::move(line));
    }
    for (const Device& device : bench_.devices)
      if (!find_by_id(bench_.converters, device.converter) && !find_by_id(bench_.buses, device.bus))
        others.hung.push_back(part(device));
    if (!others.hung.empty()) map.lines.push_back(std::move(others));
    for (const Pin& pin : bench_.board.pins)
      if (pin.uses.empty()) map.free_pins.push_back({pin.name, !pin.reads.empty(), pin.interrupt});
    return map;
  }

 private:
  std::vector<std::string> pins_of(const std::string& owner) const {
    std::vector<std::string> names;
    for (const Pin& pin : bench_.board.pins)
      if (pin.uses == owner) names.push_back(pin.name);
    return names;
  }

  // What the pins bear, those that bear the same together.
  std::string words_of_pins() const {
    std::map<double, std::vector<std::string>> by_volts;
    for (const Pin& pin : bench_.board.pins) by_volts[pin_bears(bench_, &pin)].push_back(pin.name);
    by_volts.erase(0);
    if (by_volts.empty()) return "";
    const auto most = std::ranges::max_element(by_volts, {}, [](const auto& each) { return each.second.size(); });
    std::string words = translated("pins bear {}", with_prefix(most->first, "V", 3));
    for (const auto& [volts, pins] : by_volts)
      if (volts != most->first) words += fmt::format("; {} {}", fmt::join(pins, " "), with_prefix(volts, "V", 3));
    return words;
  }

  std::string words_of_bus(const Bus& bus) const {
    std::string words = bus.kind == BusKind::two_wire ? with_prefix(bus.speed_hz, "Hz", 3) : std::string();
    if (const Rail* rail = find_by_id(bench_.rails, bus.rail))
      words += (words.empty() ? "" : ", ") + with_prefix(rail->voltage.best_v(), "V", 3);
    return words;
  }

  // What stands between a sensor and the pin.
  static std::string words_of(const FrontEnd& front_end) {
    const auto ohms = [](double value) { return with_prefix(value, "Ω", 3); };
    switch (front_end.kind) {
      case FrontEndKind::direct: return "";
      case FrontEndKind::divider:
        return ohms(front_end.fixed_ohm) +
               (front_end.position == Position::top ? translated(" above") : translated(" below"));
      case FrontEndKind::load: return translated("over {}", ohms(front_end.fixed_ohm));
      case FrontEndKind::level_divider:
        return translated("{} over {}", ohms(front_end.top_ohm), ohms(front_end.bottom_ohm));
      case FrontEndKind::amplifier: return translated("amplifier ×{:g}", front_end.gain);
      case FrontEndKind::transimpedance: return translated("amplifier, {}", ohms(front_end.fixed_ohm));
    }
    return "";
  }

  std::vector<HungThing> at_inputs_of(const Converter& converter) const {
    std::vector<HungThing> all;
    for (const Device& device : bench_.devices)
      if (device.converter == converter.id) all.push_back(part(device));
    return all;
  }

  HungThing own_converter(const Converter& converter) const {
    HungThing hung{.thing = {ThingKind::converter, converter.id},
                   .name = name_of(bench_, {ThingKind::converter, converter.id}),
                   .what = fair_gauge::words_of(bench_, converter),
                   .pins = pins_of(converter.id)};
    hung.at_inputs = at_inputs_of(converter);
    return hung;
  }

  HungThing part(const Device& device) const {
    HungThing hung{
        .thing = {ThingKind::device, device.id}, .name = name_of(bench_, device), .pins = pins_of(device.id)};
    const Part* part = catalogue_.find(device.part);
    if (part) hung.what = part->markings.empty() ? part->name : part->markings.front();
    const Bus* bus = find_by_id(bench_.buses, device.bus);
    if (bus && bus->kind == BusKind::two_wire && device.address > 0)
      hung.link = fmt::format("0x{:02X}", device.address);
    else if (!bus)
      hung.link = words_of(device.front_end);
    hung.rail = !device.rail.empty() ? device.rail : bus ? bus->rail : device.front_end.rail;
    const Rail* rail = find_by_id(bench_.rails, hung.rail);
    if (!rail) hung.rail.clear();
    if (rail && part && part->supply.maximum_v > 0) {
      const double volts = rail->voltage.best_v(), slack = 1e-9;
      if (volts < part->supply.minimum_v - slack || volts > part->supply.maximum_v + slack)
        hung.starved = translated("it takes {:g} to {:g} V and gets {}", part->supply.minimum_v, part->supply.maximum_v,
                                  with_prefix(volts, "V", 3));
    }
    if (const auto stress = pin_stress(bench_, catalogue_, device); stress && stress->is_too_much())
      hung.starved = fair_gauge::words_of(*stress);
    return hung;
  }

  HungThing alert_of(const Device& device) const {
    HungThing hung{.thing = {ThingKind::device, device.id},
                   .name = name_of(bench_, device),
                   .what = translated("its alert output"),
                   .again = true};
    if (const Bus* bus = find_by_id(bench_.buses, device.bus)) hung.what += translated(", itself on {}", called(*bus));
    return hung;
  }

  const Bench& bench_;
  const Catalogue& catalogue_;
};

std::string joined(const std::vector<std::string>& words) { return fmt::format("{}", fmt::join(words, " ")); }

std::string words_of(const HungThing& hung) {
  std::string words = hung.name;
  if (!hung.what.empty()) words += " (" + hung.what + ")";
  if (!hung.link.empty()) words += ", " + hung.link;
  if (!hung.pins.empty()) words += translated(" at {}", joined(hung.pins));
  if (hung.starved) words += ": " + *hung.starved;
  for (const HungThing& input : hung.at_inputs) words += translated("; at its input {}", words_of(input));
  return words;
}

}  // namespace

BoardMap board_map(const Bench& bench, const Catalogue& catalogue) { return Mapper(bench, catalogue).map(); }

std::vector<std::string> words_of(const BoardMap& map) {
  std::vector<std::string> sentences;
  for (const BoardLine& line : map.lines) {
    std::string words = line.thing ? line.name : translated("With pins of their own");
    if (!line.what.empty()) words += ", " + line.what;
    if (!line.pins.empty()) words += translated(" at {}", joined(line.pins));
    words += line.hung.empty() ? translated(": nothing hangs on it") : ": ";
    for (const HungThing& hung : line.hung) words += (&hung == &line.hung.front() ? "" : "; ") + words_of(hung);
    sentences.push_back(words + ".");
  }
  std::vector<std::string> free;
  for (const FreePin& pin : map.free_pins) free.push_back(pin.name);
  if (!free.empty()) sentences.push_back(translated("Free pins: {}.", joined(free)));
  if (!map.bears.empty()) sentences.push_back(translated("The controller's {}.", map.bears));
  return sentences;
}

}  // namespace fair_gauge
