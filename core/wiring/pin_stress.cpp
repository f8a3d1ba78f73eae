#include "wiring/pin_stress.h"

#include <fmt/format.h>

#include <algorithm>

#include "chain/chain.h"
#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {

const Rail* supply_of_controller(const Bench& bench) {
  for (const Converter& converter : bench.converters)
    if (converter.part.empty())
      if (const Rail* rail = find_by_id(bench.rails, converter.reference_rail)) return rail;
  return bench.rails.empty() ? nullptr : &bench.rails.front();
}

double pin_bears(const Bench& bench, const Pin* pin) {
  if (pin && pin->most_v > 0) return pin->most_v;
  const Rail* supply = supply_of_controller(bench);
  return supply ? supply->voltage.best_v() + 0.3 : 0;
}

std::optional<PinStress> pin_stress(const Bench& bench, const Catalogue& catalogue, const Device& device) {
  const Converter* converter = find_by_id(bench.converters, device.converter);
  const Part* part = catalogue.find(device.part);
  const auto channel = std::ranges::find(bench.channels, device.id, &Channel::device);
  if (!converter || !converter->part.empty() || !part || channel == bench.channels.end()) return std::nullopt;
  const auto pin = std::ranges::find(bench.board.pins, device.id, &Pin::uses);
  const bool named = pin != bench.board.pins.end();
  PinStress stress{.pin = named ? pin->name : "", .bears_v = pin_bears(bench, named ? &*pin : nullptr)};
  if (stress.bears_v <= 0) return std::nullopt;
  if (device.front_end.kind == FrontEndKind::divider) {
    const Rail* rail = find_by_id(bench.rails, device.front_end.rail);
    if (!rail) return std::nullopt;
    stress.volts = rail->voltage.best_v();
    stress.when = device.front_end.position == Position::top ? translated("with the sensor unplugged")
                                                             : translated("with the sensor shorted");
    return stress;
  }
  const PartQuantity* range = part->measures(channel->quantity);
  const auto chain = build_chain(bench, catalogue, channel->id);
  if (!range || !chain) return std::nullopt;
  const Stage* at_pin =
      chain->stage(StageName::front_end) ? chain->stage(StageName::front_end) : chain->stage(StageName::sensor);
  if (!at_pin || at_pin->unit->dimension != Dimension::voltage) return std::nullopt;
  const Range reach = reach_of(*part, *range, device.settings);
  constexpr int steps = 32;
  for (int i = 0; i <= steps; ++i) {
    const double world = reach.from + (reach.to - reach.from) * i / steps;
    const auto values = evaluate(*chain, {StageName::world, world});
    const auto& there = values[static_cast<std::size_t>(at_pin - chain->stages.data())];
    if (!there) continue;
    const double volts = at_pin->unit->to_base(*there);
    if (volts <= stress.volts) continue;
    stress.volts = volts;
    stress.when = translated("at {:.4g} {}", world, chain->base->symbol);
  }
  return stress.volts > 0 ? std::optional(stress) : std::nullopt;
}

std::optional<LineStress> line_stress(const Bench& bench, const Catalogue& catalogue, const Device& device) {
  const Part* part = catalogue.find(device.part);
  const Rail* fed = find_by_id(bench.rails, device.rail);
  if (!part || !fed) return std::nullopt;
  const Bus* bus = find_by_id(bench.buses, device.bus);
  const bool is_driven = part->interface == Interface::spi || part->interface == Interface::serial_bridge;
  const Rail* lines = bus ? find_by_id(bench.rails, bus->rail) : is_driven ? supply_of_controller(bench) : nullptr;
  if (!lines || (bus && bus->level_shift)) return std::nullopt;
  constexpr double above_supply_v = 0.3, slack_v = 1e-9;
  const LineStress stress{lines->voltage.best_v(), fed->voltage.best_v()};
  return stress.volts > stress.fed_v + above_supply_v + slack_v ? std::optional(stress) : std::nullopt;
}

std::string words_of(const PinStress& stress) {
  if (!stress.is_too_much()) return "";
  return translated("puts {} on {}, which bears {}, {}", with_prefix(stress.volts, "V", 3),
                    stress.pin.empty() ? translated("its pin") : stress.pin, with_prefix(stress.bears_v, "V", 3),
                    stress.when);
}

}  // namespace fair_gauge
