// Redundant bytes: how each kind is worked out, checked and written.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

#include "parts/byte_layout.h"

namespace fair_gauge {

/// One kind of check. `from` and `to` are the first and last byte it covers, `at` is where it stands.
struct CheckKind {
  std::string_view name;
  std::string_view fault;  ///< its code if it does not hold
  const char* says;
  bool (*holds)(std::span<const std::uint8_t> block, const ByteCheck& check);
  void (*write)(std::span<std::uint8_t> block,
                const ByteCheck& check);  ///< makes it hold; null if nothing is to be written
};

/// Which byte of a block is another than its check makes it, counted from 0: "byte 2 is 8F, by bytes 0 to 1 it would be
/// A3"; empty where nothing is written for that kind.
std::string where_it_fails(const CheckKind& kind, std::span<const std::uint8_t> block, const ByteCheck& check);

/// The kind of that name, or null.
const CheckKind* check_kind(std::string_view name);

/// CRC-8, most significant bit first.
/// \source polynomial 0x31: data sheets of the two-wire humidity parts; check: BE EF with 0xFF to begin with → 0x92.
/// Polynomial 0x07: the packet error code of the system management bus; check: B4 07 B5 D2 3A with 0 → 0x30
std::uint8_t crc8(std::span<const std::uint8_t> bytes, std::uint8_t initial, std::uint8_t polynomial = 0x31);

/// What a check with bytes before the block begins with: their own CRC-8 of polynomial 0x07.
std::uint8_t crc8_of_before(const ByteCheck& check);

/// CRC-8 of one-wire, x⁸ + x⁵ + x⁴ + 1, least significant bit first.
/// \source application note on one-wire CRCs; check: 02 1C B8 01 00 00 00 → 0xA2
std::uint8_t crc8_one_wire(std::span<const std::uint8_t> bytes);

/// CRC-16, polynomial 0xA001, least significant bit first, 0xFFFF to begin with.
/// \source data sheet of the 03-04 framed part; check: the ASCII digits 1…9 → 0x4B37
std::uint16_t crc16(std::span<const std::uint8_t> bytes);

/// CRC-4 over the 16 bytes of a trimming memory whose own four bits are cleared.
/// \source application note AN520; check: 3132 3334 3536 3738 3940 4142 4344 4500 → 0xB
std::uint8_t crc4(std::span<const std::uint8_t, 16> bytes);

}  // namespace fair_gauge
