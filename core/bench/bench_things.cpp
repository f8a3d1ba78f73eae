#include "bench/bench_things.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

template <class T>
std::string name_in(const std::vector<T>& items, const std::string& id) {
  const T* item = find_by_id(items, id);
  return item && !item->name.empty() ? item->name : id;
}

template <class T>
void erase_id(std::vector<T>& items, const std::string& id) {
  std::erase_if(items, [&](const T& item) { return item.id == id; });
}

template <class T>
std::string free_id_in(const std::vector<T>& items, const std::string& wish) {
  if (!find_by_id(items, wish)) return wish;
  for (int number = 2;; ++number)
    if (std::string id = fmt::format("{}_{}", wish, number); !find_by_id(items, id)) return id;
}

bool feeds(const Device& device, const std::string& rail) {
  return device.rail == rail || device.front_end.rail == rail;
}

bool feeds(const Bus& bus, const std::string& rail) {
  return bus.rail == rail || std::ranges::any_of(bus.pull_ups, [&](const PullUp& each) { return each.to == rail; });
}

bool listens_to(const Device& device, const std::string& channel) {
  return std::ranges::any_of(device.side_inputs, [&](const auto& input) { return input.second == channel; });
}

}  // namespace

std::vector<Thing> things_of(const Bench& bench) {
  std::vector<Thing> things;
  const auto add = [&](ThingKind kind, const auto& items) {
    for (const auto& item : items) things.push_back({kind, item.id});
  };
  add(ThingKind::rail, bench.rails);
  add(ThingKind::converter, bench.converters);
  add(ThingKind::bus, bench.buses);
  add(ThingKind::device, bench.devices);
  add(ThingKind::channel, bench.channels);
  return things;
}

std::string name_of(const Bench& bench, const Thing& thing) {
  switch (thing.kind) {
    case ThingKind::rail: return name_in(bench.rails, thing.id);
    case ThingKind::converter: return name_in(bench.converters, thing.id);
    case ThingKind::bus: return name_in(bench.buses, thing.id);
    case ThingKind::channel: return name_in(bench.channels, thing.id);
    case ThingKind::device:
      if (const Device* device = find_by_id(bench.devices, thing.id)) return name_of(bench, *device);
      return thing.id;
  }
  return thing.id;
}

std::string words_of(const Bench& bench, const Converter& converter) {
  const double top_v = reference_of(bench, converter).best_v() * converter.span_per_reference;
  return translated("{} bits, {}{}", converter.bits,
                    converter.polarity == Polarity::bipolar ? "±" : translated("0 to "), with_prefix(top_v, "V", 3));
}

Dependents dependents_of(const Bench& bench, const Thing& thing) {
  Dependents all;
  const auto stays = [&](ThingKind kind, const auto& items, auto does) {
    for (const auto& item : items)
      if (does(item)) all.stay.push_back({kind, item.id});
  };
  switch (thing.kind) {
    case ThingKind::rail:
      stays(ThingKind::converter, bench.converters,
            [&](const Converter& each) { return each.reference_rail == thing.id; });
      stays(ThingKind::bus, bench.buses, [&](const Bus& each) { return feeds(each, thing.id); });
      stays(ThingKind::device, bench.devices, [&](const Device& each) { return feeds(each, thing.id); });
      break;
    case ThingKind::converter:
      stays(ThingKind::device, bench.devices, [&](const Device& each) { return each.converter == thing.id; });
      break;
    case ThingKind::bus:
      stays(ThingKind::device, bench.devices, [&](const Device& each) { return hangs_on(each, thing.id); });
      break;
    case ThingKind::device:
      for (const Channel& channel : bench.channels)
        if (channel.device == thing.id) {
          all.go.push_back({ThingKind::channel, channel.id});
          for (const Channel& other : bench.channels)
            if (other.is_derived_from(channel.id)) all.go.push_back({ThingKind::channel, other.id});
          stays(ThingKind::device, bench.devices,
                [&](const Device& each) { return each.id != thing.id && listens_to(each, channel.id); });
        }
      break;
    case ThingKind::channel:
      for (const Channel& channel : bench.channels)
        if (channel.id != thing.id && channel.is_derived_from(thing.id))
          all.go.push_back({ThingKind::channel, channel.id});
      stays(ThingKind::device, bench.devices, [&](const Device& each) { return listens_to(each, thing.id); });
      break;
  }
  return all;
}

bool lacks_sensor(const Channel& channel) {
  return channel.device.empty() && !channel.arrives_converted() && !channel.derived;
}

void hand_numbers_on(Bench& bench, const std::string& from, const std::string& to) {
  const Channel* giving = find_by_id(bench.channels, from);
  Channel* taking = find_by_id(bench.channels, to);
  if (!giving || !taking || giving == taking) return;
  taking->line_name = giving->name_on_line();
  if (!giving->name.empty() && giving->name != giving->name_on_line()) taking->name = giving->name;
  if (!giving->place.empty()) taking->place = giving->place;
  // What is worked out of them stays so.
  for (Channel& channel : bench.channels)
    if (channel.derived)
      for (std::string* id : {&channel.derived->of, &channel.derived->beside})
        if (*id == from) *id = to;
  for (Device& device : bench.devices)
    for (auto& [name, id] : device.side_inputs)
      if (id == from) id = to;
  take_away(bench, {ThingKind::channel, from});
}

void take_away(Bench& bench, const Thing& thing) {
  const std::string id = thing.id;  // it may be the bench's own
  for (const Thing& gone : dependents_of(bench, thing).go) take_away(bench, gone);
  const auto forget = [&](std::string& reference) {
    if (reference == id) reference.clear();
  };
  switch (thing.kind) {
    case ThingKind::rail:
      for (Converter& converter : bench.converters)
        if (converter.reference_rail == id) converter.reference = reference_of(bench, converter);
      for (Converter& converter : bench.converters) forget(converter.reference_rail);
      for (Device& device : bench.devices) forget(device.rail), forget(device.front_end.rail);
      for (Bus& bus : bench.buses) {
        forget(bus.rail);
        for (PullUp& pull_up : bus.pull_ups) forget(pull_up.to);
      }
      for (Accessory& accessory : bench.accessories) forget(accessory.rail);
      erase_id(bench.rails, id);
      break;
    case ThingKind::converter:
      for (Device& device : bench.devices) forget(device.converter);
      for (Pin& pin : bench.board.pins) forget(pin.reads), forget(pin.uses);
      erase_id(bench.converters, id);
      break;
    case ThingKind::bus:
      for (Device& device : bench.devices) forget(device.bus), forget(device.alert);
      for (CableRun& run : bench.cables) forget(run.bus);
      for (Pin& pin : bench.board.pins) forget(pin.uses);
      erase_id(bench.buses, id);
      break;
    case ThingKind::device:
      for (Pin& pin : bench.board.pins) forget(pin.uses);
      erase_id(bench.devices, id);
      break;
    case ThingKind::channel:
      for (Device& device : bench.devices)
        std::erase_if(device.side_inputs, [&](const auto& input) { return input.second == id; });
      erase_id(bench.channels, id);
      break;
  }
}

std::string add_thing(Bench& bench, ThingKind kind) {
  const auto first_rail = [&] { return bench.rails.empty() ? std::string() : bench.rails.front().id; };
  switch (kind) {
    case ThingKind::rail: {
      std::string id = free_id_in(bench.rails, "supply");
      Rail rail{.id = id, .name = translated("supply {}", bench.rails.size() + 1)};
      const auto has = [&](double volts) {
        return std::ranges::any_of(bench.rails,
                                   [&](const Rail& each) { return std::abs(each.voltage.nominal_v - volts) < 0.6; });
      };
      if (has(rail.voltage.nominal_v) && !has(5)) rail.voltage.nominal_v = 5;  // the other usual one
      bench.rails.push_back(std::move(rail));
      return id;
    }
    case ThingKind::converter: {
      Converter converter;
      converter.id = free_id_in(bench.converters, "converter");
      converter.name = translated("converter {}", bench.converters.size() + 1);
      converter.reference_rail = first_rail();
      bench.converters.push_back(converter);
      return converter.id;
    }
    case ThingKind::bus: {
      Bus bus;
      bus.id = free_id_in(bench.buses, "bus");
      bus.name = translated("two-wire bus {}", bench.buses.size() + 1);
      bus.rail = first_rail();
      bench.buses.push_back(bus);
      return bus.id;
    }
    default: return {};
  }
}

}  // namespace fair_gauge
