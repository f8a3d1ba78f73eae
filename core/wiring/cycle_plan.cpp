#include "wiring/cycle_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "chain/links.h"
#include "digital/registers.h"
#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr double own_converter_s = 50e-6;  // a dozen cycles of a slow converter clock
constexpr double usable_share = 0.8;       // of a battery's capacity: age, cold, self-discharge
constexpr double settles_s = 2e-3;         // of a divider that is fed only while it is read, before the conversion

std::string seconds(double s) { return with_prefix(s, "s", 3); }

DeviceTimes times_of(const Bench& bench, const Catalogue& catalogue, const Device& device) {
  DeviceTimes times{.device = device.id, .name = name_of(bench, device), .bus = device.bus};
  for (const Channel& channel : bench.channels)
    if (channel.device == device.id)
      times.wanted_s = times.wanted_s > 0 ? std::min(times.wanted_s, channel.period_s) : channel.period_s;
  const Part* part = catalogue.find(device.part);
  if (!part) return times;
  times.rest_a = part->resting_a().value_or(0);
  times.active_a = std::max(part->converting_a().value_or(0), times.rest_a);
  if (!part->is_digital()) {
    times.steps = {{"convert", SequenceLane::line, 0, own_converter_s}};
    times.conversion_s = conversion_time(*part, device.settings);
    if (part->interface == Interface::pulse_count) times.steps = read_sequence(*part, times.conversion_s);
    times.shortest_s = times.conversion_s;
    return times;
  }
  const Bus* bus = find_by_id(bench.buses, device.bus);
  times.conversion_s = conversion_time(*part, device.settings, device.registers);
  times.steps = read_sequence(*part, times.conversion_s,
                              bus                                 ? bus->speed_hz
                              : part->interface == Interface::spi ? 1e6
                                                                  : 100e3);
  // Of a part that runs by itself; asked sooner it gives the same value again.
  const double own_period = figure_of(*part, device.settings, "period", {}, device.registers).value_or(0);
  times.shortest_s =
      std::max({times.conversion_s, part->period_s, own_period, times.steps.empty() ? 0.0 : times.steps.back().to_s});
  return times;
}

// Puts the devices on one time axis: a step on a line waits until its line is free.
void schedule(CyclePlan& plan) {
  std::map<std::string, double> free_from, held;
  std::vector<double> now(plan.devices.size(), 0);
  std::vector<std::size_t> step(plan.devices.size(), 0);
  for (;;) {
    // Whoever could go on first does, so that conversions of others are not waited for.
    std::size_t next = plan.devices.size();
    double begin = 0;
    for (std::size_t i = 0; i < plan.devices.size(); ++i) {
      const DeviceTimes& device = plan.devices[i];
      if (step[i] >= device.steps.size()) continue;
      const bool on_line = device.steps[step[i]].lane == SequenceLane::line;
      const double earliest = on_line ? std::max(now[i], free_from[device.bus]) : now[i];
      if (next == plan.devices.size() || earliest < begin) next = i, begin = earliest;
    }
    if (next == plan.devices.size()) break;
    SequenceStep& at = plan.devices[next].steps[step[next]++];
    const double takes = at.to_s - at.from_s;
    at.from_s = begin;
    at.to_s = now[next] = begin + takes;
    if (at.lane == SequenceLane::line) {
      free_from[plan.devices[next].bus] = at.to_s;
      held[plan.devices[next].bus] += takes;
    }
    plan.cycle_s = std::max(plan.cycle_s, at.to_s);
  }
  double shortest = 0;
  for (const DeviceTimes& device : plan.devices)
    if (device.wanted_s > 0) shortest = shortest > 0 ? std::min(shortest, device.wanted_s) : device.wanted_s;
  for (const auto& [bus, takes] : held) {
    if (plan.cycle_s > 0) plan.line_share = std::max(plan.line_share, takes / plan.cycle_s);
    if (shortest > 0) plan.line_load = std::max(plan.line_load, takes / shortest);
  }
}

void judge_times(CyclePlan& plan, const Bench& bench, const Catalogue& catalogue) {
  for (const DeviceTimes& device : plan.devices) {
    if (device.wanted_s > 0 && device.shortest_s > device.wanted_s * 1.0001)
      plan.findings.push_back(
          {Severity::fault,
           translated("{} is asked every {}, it can answer every {}: the same value comes again, or none", device.name,
                      seconds(device.wanted_s), seconds(device.shortest_s))});
    const Device* built = find_by_id(bench.devices, device.device);
    const Part* part = built ? catalogue.find(built->part) : nullptr;
    if (!part) continue;
    if (part->start_s >= 0.1)
      plan.findings.push_back(
          {Severity::note, translated("{} needs {} from power to its first reading: what comes before is no reading",
                                      device.name, seconds(part->start_s))});
    if (part->is_digital() && part->supply.currents.empty())
      plan.findings.push_back(
          {Severity::warning,
           translated("what {} draws is not stated: the battery lasts less long than this says", device.name)});
    if (part->supply.rest == Rest::when_told && device.active_a > 2 * device.rest_a)
      plan.findings.push_back(
          {Severity::note,
           translated("{} rests at {} only when it is told to: until then it draws {} all the time", device.name,
                      with_prefix(device.rest_a, "A", 3),
                      with_prefix(part->current(CurrentOf::average).value_or(device.active_a), "A", 3))});
    const Rail* rail = find_by_id(bench.rails, built->rail);
    const double share = device.wanted_s > 0 ? std::min(1.0, device.conversion_s / device.wanted_s) : 1,
                 volts = rail ? rail->voltage.best_v() : 3.3;
    const double warms = part->kelvin_per_watt * volts * (device.rest_a + (device.active_a - device.rest_a) * share);
    if (part->is_digital() && warms > 0.05)
      plan.findings.push_back(
          {Severity::warning,
           translated("{} warms itself by about {:.2f} K at this rate: ask it less often", device.name, warms)});
  }
  double shortest = 0;
  for (const Channel& channel : bench.channels)
    shortest = shortest > 0 ? std::min(shortest, channel.period_s) : channel.period_s;
  if (shortest > 0 && plan.cycle_s > shortest)
    plan.findings.push_back({Severity::note, translated("one cycle through all devices takes {}: the channel that is "
                                                        "wanted every {} is read on its own in between",
                                                        seconds(plan.cycle_s), seconds(shortest))});
  if (plan.line_load > 0.5)
    plan.findings.push_back(
        {Severity::warning,
         translated("a line is held for {:.0f} % of the time between readings: raise its speed, or spread the devices "
                    "over two",
                    plan.line_load * 100)});
}

// What flows all the time through the resistors that a device is read by, whether anybody reads or not.
double resistors_a(const Bench& bench, const Catalogue& catalogue, const Device& device) {
  const Part* part = catalogue.find(device.part);
  const Rail* rail = find_by_id(bench.rails, device.front_end.rail);
  if (!part || part->is_digital()) return 0;
  const auto channel = std::ranges::find(bench.channels, device.id, &Channel::device);
  const auto law = transfer_law(*part, device.settings);
  if (!law) return 0;
  const double middle = channel == bench.channels.end()
                            ? (part->quantities.front().minimum + part->quantities.front().maximum) / 2
                            : (channel->wanted.from + channel->wanted.to) / 2;
  const double output = law->output(middle);
  if (device.front_end.kind == FrontEndKind::divider && rail) {
    const double both = output + device.front_end.fixed_ohm;
    return std::isfinite(both) && both > 0 ? rail->voltage.best_v() / both : 0;
  }
  if (device.front_end.kind == FrontEndKind::level_divider) {
    const double both = device.front_end.top_ohm + device.front_end.bottom_ohm;
    return std::isfinite(output) && both > 0 ? std::abs(output) / both : 0;
  }
  // A bridge takes its excitation over its own resistance, which is also what its output has.
  // Where the file states a current, that is it.
  if (part->interface == Interface::bridge && part->source_ohm > 0 && !part->converting_a()) {
    const auto set = device.settings.find("excitation");
    const double volts = rail                                            ? rail->voltage.best_v()
                         : set != device.settings.end()                  ? set->second
                         : part->transfer.numbers.contains("excitation") ? part->transfer.numbers.at("excitation")
                                                                         : 0;
    return volts / part->source_ohm;
  }
  return 0;
}

// A line that carries bytes is low for half of that time, through all that pulls it up.
double pull_ups_a(const Bench& bench, const CyclePlan& plan, const Bus& bus, double period) {
  double low_s = 0;
  for (const DeviceTimes& device : plan.devices)
    if (device.bus == bus.id) low_s += line_time(device.steps) / 2;
  const Rail* rail = find_by_id(bench.rails, bus.rail);
  double conductance = 0;
  for (const PullUp& pull_up : bus.pull_ups) conductance += pull_up.ohm > 0 ? 1 / pull_up.ohm : 0;
  // Two conductors of a two-wire bus, each with resistors of its own.
  return rail ? rail->voltage.best_v() * conductance * std::min(1.0, low_s / period) *
                    (bus.kind == BusKind::two_wire ? 2 : 1)
              : 0;
}

void count_resistors(CyclePlan& plan, const Bench& bench, const Catalogue& catalogue, double period) {
  double dividers = 0;
  for (const Device& device : bench.devices)
    if (const double amps = resistors_a(bench, catalogue, device); amps > 0) {
      plan.charges.emplace_back(translated("resistors of {}", name_of(bench, device)), amps);
      dividers += amps;
    }
  for (const Converter& converter : bench.converters)
    if (const Part* part = converter.part.empty() ? nullptr : catalogue.find(converter.part))
      plan.charges.emplace_back(translated("converter {}", called(converter)), part->converting_a().value_or(0));
  for (const Bus& bus : bench.buses)
    if (const double amps = pull_ups_a(bench, plan, bus, period); amps > 0)
      plan.charges.emplace_back(translated("pull-ups of {}", called(bus)), amps);
  const double saved = dividers * (1 - std::min(1.0, (own_converter_s + settles_s) / period));
  double sum = 0;
  for (const auto& [name, amps] : plan.charges) sum += amps;
  if (saved > 0.05 * sum)
    plan.findings.push_back(
        {Severity::note, translated("dividers and bridges take {} all the time: fed from a pin only while they "
                                    "are read they would save {:.0f} % of the average current",
                                    with_prefix(dividers, "A", 3), saved / sum * 100)});
}

void count_current(CyclePlan& plan, const Bench& bench, const Catalogue& catalogue) {
  const PowerPlan& power = bench.power;
  plan.awake_s = plan.cycle_s + power.overhead_s;
  const double period = std::max(power.period_s, plan.awake_s);
  plan.charges = {{translated("controller awake"), power.awake_a * plan.awake_s / period},
                  {translated("board asleep"), power.sleep_a * (1 - plan.awake_s / period)}};
  for (const DeviceTimes& device : plan.devices)
    plan.charges.emplace_back(
        device.name, device.rest_a + (device.active_a - device.rest_a) * std::min(1.0, device.conversion_s / period));
  count_resistors(plan, bench, catalogue, period);
  for (const auto& [name, amps] : plan.charges) plan.average_a += amps;
  std::ranges::stable_sort(plan.charges, [](const auto& a, const auto& b) { return a.second > b.second; });
  if (power.battery_ah > 0 && plan.average_a > 0)
    plan.battery_days = power.battery_ah * usable_share / plan.average_a / 24;
  if (power.period_s < plan.awake_s)
    plan.findings.push_back(
        {Severity::warning, translated("the board is to wake every {}, one cycle takes {}: it never sleeps",
                                       seconds(power.period_s), seconds(plan.awake_s))});
}

}  // namespace

CyclePlan plan_cycle(const Bench& bench, const Catalogue& catalogue) {
  CyclePlan plan;
  for (const Device& device : bench.devices) plan.devices.push_back(times_of(bench, catalogue, device));
  schedule(plan);
  judge_times(plan, bench, catalogue);
  count_current(plan, bench, catalogue);
  std::ranges::stable_sort(plan.findings, std::greater{}, &Finding::severity);
  return plan;
}

}  // namespace fair_gauge
