// What a scan of a bus found, pasted as text, held against what the bench has there.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "quantity/result.h"
#include "wiring/bus_check.h"

namespace fair_gauge {

/// An address that answered, with registers that were read from it.
struct ScanHit {
  int address = 0;
  std::map<std::string, std::uint32_t> registers;  ///< "0xD0" → value
};

/// Addresses from a list ("0x76 0x29", "found 0x76, D0=60", "[41, 118]") or from the usual grid, whose rows are
/// "70: -- -- 72 --". \returns them in ascending order, or that none was found
Result<std::vector<ScanHit>> read_address_scan(std::string_view text);

/// A 64-bit serial as it was found.
struct SerialHit {
  std::string serial;    ///< 16 hexadecimal digits, family first
  bool checked = false;  ///< its last byte is the CRC of the others
  std::string family;    ///< what its first byte says it is; empty if that is not known
};

/// Serials in whatever shape, one a line: 16 digits, bytes with spaces, colons, dashes or 0x and commas, without their
/// leading zeros or the CRC, as Linux names them ("28-000005e2fdc3"), with other words and numbers around.
Result<std::vector<SerialHit>> read_serial_scan(std::string_view text);

/// The serial in a text, as 16 digits; the text itself where none is in it.
std::string serial_of(const std::string& written);

/// One line of the comparison.
struct ScanMatch {
  Severity severity = Severity::note;
  std::string what;    ///< address or serial
  std::string device;  ///< id, if it is one of the bench's
  std::string words;
};

std::vector<ScanMatch> match_addresses(const Bench& bench, const Catalogue& catalogue, const Bus& bus,
                                       const std::vector<ScanHit>& hits);
std::vector<ScanMatch> match_serials(const Bench& bench, const Bus& bus, const std::vector<SerialHit>& hits);

/// Which of several sensors is being warmed by hand: the one that rises by far the most.
/// \param before, after  °C by serial or id
/// \returns its name, or nothing while none stands out by `least_k` above the next
std::optional<std::string> warmed_one(const std::map<std::string, double>& before,
                                      const std::map<std::string, double>& after, double least_k = 0.5);

}  // namespace fair_gauge
