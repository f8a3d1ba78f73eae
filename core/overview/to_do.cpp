#include "overview/to_do.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "handoff/handoff.h"
#include "language/translation.h"
#include "quantity/day.h"
#include "truth/error_budget.h"
#include "wiring/address_plan.h"
#include "wiring/bus_check.h"
#include "wiring/cycle_plan.h"
#include "wiring/pin_stress.h"

namespace fair_gauge {
namespace {

constexpr int soon_days = 30;

// Why the middle of its wanted range gives no number, as with a front end that clips there; empty where it does.
std::string unreadable(const Chain& chain) {
  const Range wanted = chain.channel.wanted;
  const auto values = evaluate(chain, {StageName::world, (wanted.from + wanted.to) / 2});
  const auto none = std::ranges::find_if(values, [](const auto& value) { return !value; });
  return none == values.end() ? "" : translated("no reading in its wanted range: {}", none->problem().wrong);
}

void channels(const Bench& bench, const Catalogue& catalogue, std::vector<ToDo>& list) {
  for (const Channel& channel : bench.channels) {
    const std::string& name = called(channel);
    const auto chain = build_chain(bench, catalogue, channel.id);
    if (!chain) {
      list.push_back(
          {ToDoKind::channel, Severity::fault, channel.id, fmt::format("{}: {}", name, chain.problem().wrong), ""});
      continue;
    }
    const double middle = (channel.wanted.from + channel.wanted.to) / 2;
    if (const std::string why = unreadable(*chain); !why.empty())
      list.push_back({ToDoKind::channel, Severity::fault, channel.id, fmt::format("{}: {}", name, why), ""});
    const auto budget = error_budget(*chain, middle);
    if (budget && budget->lacks_accuracy)
      list.push_back({ToDoKind::error, Severity::note, channel.id,
                      budget->is_calibrated_elsewhere
                          ? translated("{}: proven at one point alone: take one at the other end", name)
                          : translated("{}: no accuracy stated: calibrate it", name),
                      ""});
    if (!budget || budget->used() <= 1) continue;
    const auto better = improvements(bench, catalogue, channel.id, middle);
    list.push_back(
        {ToDoKind::error, Severity::warning, channel.id,
         better.empty() ? translated("{} is over its allowed error", name) : name + ": " + better.front().words,
         better.empty()
             ? fmt::format("{:.0f} %", budget->used() * 100)
             : fmt::format("{:.0f} → {:.0f} %", better.front().used_before * 100, better.front().used_after * 100)});
  }
}

// What would destroy something stands before what reads wrongly.
void pins(const Bench& bench, const Catalogue& catalogue, std::vector<ToDo>& list) {
  for (const Device& device : bench.devices) {
    const auto stress = pin_stress(bench, catalogue, device);
    if (!stress || !stress->is_too_much()) continue;
    const auto channel = std::ranges::find(bench.channels, device.id, &Channel::device);
    list.push_back({ToDoKind::channel, Severity::fault, channel->id,
                    fmt::format("{}: {}", name_of(bench, device), words_of(*stress)), ""});
  }
}

void calibrations(const Bench& bench, int today, std::vector<ToDo>& list) {
  for (const Channel& channel : bench.channels) {
    const auto days = days_until_due(channel, today);
    if (!days || *days > soon_days) continue;
    const std::string& name = called(channel);
    list.push_back({ToDoKind::calibration, *days < 0 ? Severity::warning : Severity::note, channel.id,
                    *days < 0 ? translated("{}: calibration overdue", name) : translated("{}: calibration due", name),
                    fmt::format("{} d", *days)});
  }
}

void firmware(const Bench& bench, const Catalogue& catalogue, std::vector<ToDo>& list) {
  for (const Channel& channel : bench.channels) {
    if (!channel.handed_over) continue;
    const auto chain = build_chain(bench, catalogue, channel.id);
    if (!chain || chain_fingerprint(*chain) == channel.handed_over->source) continue;
    const std::string& name = called(channel);
    list.push_back({ToDoKind::handoff, Severity::warning, channel.id,
                    translated("{}: its firmware is out of date", name), channel.handed_over->on});
  }
}

void buses(const Bench& bench, const Catalogue& catalogue, std::vector<ToDo>& list) {
  for (const Bus& bus : bench.buses) {
    const std::string& name = called(bus);
    if (members_of(bench, catalogue, bus).empty()) continue;  // as a new board has it: nobody talks there yet
    const auto check = check_bus(bench, catalogue, bus);
    if (!check)
      list.push_back({ToDoKind::bus, Severity::fault, bus.id, fmt::format("{}: {}", name, check.problem().wrong), ""});
    else if (check->has_fault())
      list.push_back(
          {ToDoKind::bus, Severity::fault, bus.id, fmt::format("{}: {}", name, check->findings.front().words), ""});
    for (const AddressConflict& conflict : address_conflicts(bench, bus))
      list.push_back({ToDoKind::bus, Severity::fault, bus.id,
                      translated("{}: {} answer at {}", name, fmt::join(conflict.devices, translated(" and ")),
                                 address_text(conflict.address)),
                      ""});
  }
  for (const Finding& finding : plan_cycle(bench, catalogue).findings)
    if (finding.severity == Severity::fault) list.push_back({ToDoKind::bus, Severity::fault, "", finding.words, ""});
}

}  // namespace

std::optional<int> days_until_due(const Channel& channel, int today) {
  if (channel.due_days <= 0) return std::nullopt;
  const auto done = day_from_text(channel.correction.on);
  return done ? *done + static_cast<int>(channel.due_days) - today : 0;
}

std::vector<ToDo> to_do(const Bench& bench, const Catalogue& catalogue, int today) {
  std::vector<ToDo> list;
  pins(bench, catalogue, list);
  channels(bench, catalogue, list);
  buses(bench, catalogue, list);
  calibrations(bench, today, list);
  firmware(bench, catalogue, list);
  std::ranges::stable_sort(list, std::greater{}, &ToDo::severity);
  return list;
}

}  // namespace fair_gauge
