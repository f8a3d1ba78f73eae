#include "wiring/address_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

#include "language/translation.h"
#include "wiring/bus_check.h"

namespace fair_gauge {
namespace {

constexpr int addresses = 128, branches = 8;
constexpr int never = 1'000'000;

// Every wish gets an address of its own at the least cost (1 for each that changes), by shortest augmenting paths.
// Empty if there is no such assignment.
std::vector<int> assign(const std::vector<const AddressWish*>& wishes, const std::set<int>& reserved) {
  const std::size_t n = wishes.size();
  std::vector<int> owner(addresses, -1), given(n, -1);
  const auto cost = [&](std::size_t wish, int address) { return wishes[wish]->now == address ? 0 : 1; };
  for (std::size_t start = 0; start < n; ++start) {
    // Distances over devices; from a device to an address, and from a taken address back to its owner, at their costs.
    std::vector<int> to_wish(n, never), to_address(addresses, never), before_address(addresses, -1);
    to_wish[start] = 0;
    for (bool better = true; better;) {
      better = false;
      for (std::size_t wish = 0; wish < n; ++wish) {
        if (to_wish[wish] == never) continue;
        for (const int address : wishes[wish]->possible) {
          if (address < 0 || address >= addresses || reserved.contains(address) || given[wish] == address) continue;
          const int through = to_wish[wish] + cost(wish, address);
          if (through >= to_address[static_cast<std::size_t>(address)]) continue;
          to_address[static_cast<std::size_t>(address)] = through;
          before_address[static_cast<std::size_t>(address)] = static_cast<int>(wish);
          better = true;
          if (const int other = owner[static_cast<std::size_t>(address)]; other >= 0)
            to_wish[static_cast<std::size_t>(other)] = std::min(
                to_wish[static_cast<std::size_t>(other)], through - cost(static_cast<std::size_t>(other), address));
        }
      }
    }
    int end = -1;
    for (int address = 0; address < addresses; ++address)
      if (owner[static_cast<std::size_t>(address)] < 0 &&
          to_address[static_cast<std::size_t>(address)] < (end < 0 ? never : to_address[static_cast<std::size_t>(end)]))
        end = address;
    if (end < 0) return {};
    for (int address = end; address >= 0;) {
      const int wish = before_address[static_cast<std::size_t>(address)], next = given[static_cast<std::size_t>(wish)];
      given[static_cast<std::size_t>(wish)] = address;
      owner[static_cast<std::size_t>(address)] = wish;
      address = next;
    }
  }
  return given;
}

std::vector<const AddressWish*> of(const std::vector<AddressWish>& wishes, const std::vector<std::size_t>& members) {
  std::vector<const AddressWish*> some;
  for (const std::size_t i : members) some.push_back(&wishes[i]);
  return some;
}

// What cannot stay before the multiplexer goes behind it; and so does what stands in the way of it there, since the
// devices before the multiplexer answer together with every branch.
AddressPlan plan_with_multiplexer(const std::vector<AddressWish>& wishes, const std::set<int>& reserved) {
  AddressPlan plan{.places = std::vector<AddressPlace>(wishes.size()), .needs_multiplexer = true};
  std::vector<std::size_t> trunk, rest;
  for (std::size_t i = 0; i < wishes.size(); ++i) {
    trunk.push_back(i);
    if (!assign(of(wishes, trunk), reserved).empty()) continue;
    trunk.pop_back();
    rest.push_back(i);
  }
  std::vector<int> given;
  std::set<int> taken;
  for (bool moved = true; moved;) {
    moved = false;
    given = assign(of(wishes, trunk), reserved);
    taken = reserved;
    taken.insert(given.begin(), given.end());
    for (std::size_t r = 0; r < rest.size() && !moved; ++r) {
      const auto& possible = wishes[rest[r]].possible;
      if (std::ranges::any_of(possible, [&](int address) { return !taken.contains(address); })) continue;
      for (std::size_t t = 0; t < trunk.size() && !moved; ++t) {
        if (std::ranges::find(possible, given[t]) == possible.end()) continue;
        rest.push_back(trunk[t]);
        trunk.erase(trunk.begin() + static_cast<std::ptrdiff_t>(t));
        moved = true;
      }
    }
  }
  for (std::size_t t = 0; t < trunk.size(); ++t) plan.places[trunk[t]] = {given[t], 0};
  std::vector<std::vector<std::size_t>> behind(branches);
  for (const std::size_t device : rest)
    for (auto& branch : behind) {
      branch.push_back(device);
      if (!assign(of(wishes, branch), taken).empty()) break;
      branch.pop_back();
    }
  for (std::size_t b = 0; b < behind.size(); ++b) {
    const auto there = assign(of(wishes, behind[b]), taken);
    for (std::size_t i = 0; i < there.size(); ++i) plan.places[behind[b][i]] = {there[i], static_cast<int>(b) + 1};
  }
  return plan;
}

}  // namespace

AddressPlan plan_addresses(const std::vector<AddressWish>& wishes, const std::vector<int>& reserved) {
  const std::set<int> taken(reserved.begin(), reserved.end());
  std::vector<std::size_t> all(wishes.size());
  std::iota(all.begin(), all.end(), std::size_t{0});
  AddressPlan plan{.places = std::vector<AddressPlace>(wishes.size())};
  if (const auto given = assign(of(wishes, all), taken); !given.empty())
    for (std::size_t i = 0; i < given.size(); ++i) plan.places[i] = {given[i], 0};
  else
    plan = plan_with_multiplexer(wishes, taken);
  plan.solved = std::ranges::all_of(plan.places, [](const AddressPlace& place) { return place.address > 0; });
  for (std::size_t i = 0; i < wishes.size(); ++i) plan.changes += plan.places[i].address != wishes[i].now;
  return plan;
}

std::vector<AddressConflict> address_conflicts(const Bench& bench, const Bus& bus) {
  // What answers before the multiplexer answers on every branch too.
  std::map<std::pair<int, int>, std::vector<std::string>> by_place;
  for (const Device& device : bench.devices) {
    if (device.bus != bus.id || device.address == 0) continue;
    if (device.branch > 0) {
      by_place[{device.address, device.branch}].push_back(device.id);
      continue;
    }
    by_place[{device.address, 0}].push_back(device.id);
  }
  if (bus.multiplexer_address > 0) by_place[{bus.multiplexer_address, 0}].push_back(translated("the multiplexer"));
  std::vector<AddressConflict> conflicts;
  for (const auto& [place, devices] : by_place) {
    AddressConflict conflict{place.first, devices};
    if (place.second > 0)
      if (const auto before = by_place.find({place.first, 0}); before != by_place.end())
        conflict.devices.insert(conflict.devices.end(), before->second.begin(), before->second.end());
    if (conflict.devices.size() > 1) conflicts.push_back(std::move(conflict));
  }
  return conflicts;
}

std::vector<AddressWish> address_wishes(const Bench& bench, const Catalogue& catalogue, const Bus& bus) {
  std::vector<AddressWish> wishes;
  for (const BusMember& member : members_of(bench, catalogue, bus)) {
    AddressWish wish{.name = member.device->id, .now = member.device->address};
    if (member.part)
      for (const PartAddress& address : member.part->addresses) wish.possible.push_back(address.address);
    if (wish.possible.empty() && wish.now > 0) wish.possible = {wish.now};
    wishes.push_back(std::move(wish));
  }
  return wishes;
}

std::string pins_for(const Part& part, int address) {
  const auto found = std::ranges::find(part.addresses, address, &PartAddress::address);
  return found == part.addresses.end() ? "" : found->pins;
}

std::string address_text(int address) { return fmt::format("0x{:02X}", address); }

}  // namespace fair_gauge
