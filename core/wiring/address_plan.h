// Which address each device of a two-wire bus gets, so that no two answer to the same one.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"

namespace fair_gauge {

/// A device as the planner sees it.
struct AddressWish {
  std::string name;
  std::vector<int> possible;  ///< addresses that its pins can select; empty → it has none
  int now = 0;                ///< the address it has; 0 → none yet
};

/// Where a device ends up.
struct AddressPlace {
  int address = 0;  ///< 0 → none could be found
  int branch = 0;   ///< of the multiplexer, from 1; 0 → before it
  bool operator==(const AddressPlace&) const = default;
};

struct AddressPlan {
  std::vector<AddressPlace> places;  ///< one for each wish
  int changes = 0;                   ///< devices whose address is another than now
  bool needs_multiplexer = false;
  bool solved = false;  ///< every device has a place
};

/// Assigns addresses, changing as few as can be. Where pins alone do not resolve it, devices go behind a multiplexer of
/// eight branches: those on one branch and those before it must still differ.
/// \param reserved  addresses that are taken, such as the multiplexer's own
AddressPlan plan_addresses(const std::vector<AddressWish>& wishes, const std::vector<int>& reserved = {});

/// Two or more devices that answer to the same address on the same branch, or before the multiplexer.
struct AddressConflict {
  int address = 0;
  std::vector<std::string> devices;  ///< ids
};
std::vector<AddressConflict> address_conflicts(const Bench& bench, const Bus& bus);

/// The wishes of a bus's devices, in the order of the bench.
std::vector<AddressWish> address_wishes(const Bench& bench, const Catalogue& catalogue, const Bus& bus);

/// The pins that select an address, "ADDR to supply"; empty if the part has no such address.
std::string pins_for(const Part& part, int address);

/// "0x76"
std::string address_text(int address);

}  // namespace fair_gauge
