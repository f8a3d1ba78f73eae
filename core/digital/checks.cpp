#include "digital/checks.h"

#include <algorithm>
#include <array>
#include <vector>

#include "digital/decoder.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

using Bytes = std::span<const std::uint8_t>;
using Writable = std::span<std::uint8_t>;

Bytes covered(Bytes block, const ByteCheck& check) {
  return block.subspan(static_cast<std::size_t>(check.from),
                       static_cast<std::size_t>(check.to) - static_cast<std::size_t>(check.from) + 1);
}
std::size_t place(const ByteCheck& check) { return static_cast<std::size_t>(check.at); }

template <std::uint8_t (*work_out)(Bytes)>
constexpr bool byte_holds(Bytes block, const ByteCheck& check) {
  return block[place(check)] == work_out(covered(block, check));
}
template <std::uint8_t (*work_out)(Bytes)>
constexpr void write_byte(Writable block, const ByteCheck& check) {
  block[place(check)] = work_out(covered(block, check));
}
std::uint8_t crc8_ff(Bytes bytes) { return crc8(bytes, 0xFF); }
std::uint8_t crc8_00(Bytes bytes) { return crc8(bytes, 0x00); }
std::uint8_t crc8_07(Bytes block, const ByteCheck& check) {
  return crc8(covered(block, check), crc8_of_before(check), 0x07);
}
bool crc8_07_holds(Bytes block, const ByteCheck& check) { return block[place(check)] == crc8_07(block, check); }
void write_crc8_07(Writable block, const ByteCheck& check) { block[place(check)] = crc8_07(block, check); }
std::uint8_t sum8(Bytes bytes) {
  unsigned sum = 0;
  for (const std::uint8_t byte : bytes) sum += byte;
  return static_cast<std::uint8_t>(sum);
}

bool crc16_holds(Bytes block, const ByteCheck& check) {
  return crc16(covered(block, check)) == (block[place(check)] | block[place(check) + 1] << 8);
}
void write_crc16(Writable block, const ByteCheck& check) {
  const std::uint16_t crc = crc16(covered(block, check));
  block[place(check)] = static_cast<std::uint8_t>(crc);
  block[place(check) + 1] = static_cast<std::uint8_t>(crc >> 8);
}

// Eight words with the check in the last four bits, or seven with it in the first four.
std::array<std::uint8_t, 16> prom_without_check(Bytes block) {
  std::array<std::uint8_t, 16> bytes{};
  std::ranges::copy(block.first(std::min<std::size_t>(block.size(), 16)), bytes.begin());
  if (block.size() >= 16)
    bytes[15] = 0;  // the whole last byte is left out
  else
    bytes[0] &= 0x0F;
  return bytes;
}
std::uint8_t prom_check(Bytes block) { return block.size() >= 16 ? block[15] & 0x0F : block[0] >> 4; }
bool crc4_holds(Bytes block, const ByteCheck&) { return crc4(prom_without_check(block)) == prom_check(block); }
void write_crc4(Writable block, const ByteCheck&) {
  const std::uint8_t crc = crc4(prom_without_check(block));
  if (block.size() >= 16)
    block[15] = static_cast<std::uint8_t>((block[15] & 0xF0) | crc);
  else
    block[0] = static_cast<std::uint8_t>((block[0] & 0x0F) | crc << 4);
}

template <std::uint8_t value>
bool not_all(Bytes block, const ByteCheck& check) {
  return !std::ranges::all_of(covered(block, check), [](std::uint8_t byte) { return byte == value; });
}

constexpr std::array kinds = {
    CheckKind{"crc8-ff", "checksum", to_translate("the CRC does not fit the bytes"), byte_holds<crc8_ff>,
              write_byte<crc8_ff>},
    CheckKind{"crc8-00", "checksum", to_translate("the CRC does not fit the bytes"), byte_holds<crc8_00>,
              write_byte<crc8_00>},
    CheckKind{"crc8-onewire", "checksum", to_translate("the CRC does not fit the bytes"), byte_holds<crc8_one_wire>,
              write_byte<crc8_one_wire>},
    CheckKind{"crc8-07", "checksum", to_translate("the packet error code does not fit the bytes"), crc8_07_holds,
              write_crc8_07},
    CheckKind{"sum8", "checksum", to_translate("the sum does not fit the bytes"), byte_holds<sum8>, write_byte<sum8>},
    CheckKind{"crc16-a001", "checksum", to_translate("the CRC does not fit the bytes"), crc16_holds, write_crc16},
    CheckKind{"crc4-prom", "checksum", to_translate("the trimming memory's CRC does not fit its words"), crc4_holds,
              write_crc4},
    CheckKind{"not-all-ones", "no-response",
              to_translate("every bit is one: nothing answered, the line was only pulled up"), not_all<0xFF>, nullptr},
    CheckKind{"not-all-zeros", "no-response",
              to_translate("every bit is zero: the line is held low, or nothing was read"), not_all<0x00>, nullptr},
};

}  // namespace

const CheckKind* check_kind(std::string_view name) {
  const auto found = std::ranges::find(kinds, name, &CheckKind::name);
  return found == kinds.end() ? nullptr : &*found;
}

std::string where_it_fails(const CheckKind& kind, Bytes block, const ByteCheck& check) {
  if (!kind.write) return {};
  std::vector<std::uint8_t> right(block.begin(), block.end());
  kind.write(right, check);
  const auto at = std::ranges::mismatch(block, right).in1 - block.begin();
  if (at == std::ssize(block)) return {};
  const auto place = static_cast<std::size_t>(at);
  return translated("byte {} is {:02X}, by bytes {} to {} it would be {:02X}", at, block[place], check.from, check.to,
                    right[place]);
}

std::uint8_t crc8(Bytes bytes, std::uint8_t initial, std::uint8_t polynomial) {
  std::uint8_t crc = initial;
  for (const std::uint8_t byte : bytes) {
    crc ^= byte;
    for (int bit = 0; bit < 8; ++bit) crc = static_cast<std::uint8_t>(crc & 0x80 ? crc << 1 ^ polynomial : crc << 1);
  }
  return crc;
}

std::uint8_t crc8_of_before(const ByteCheck& check) {
  const auto before = read_hex(check.before);
  return before ? crc8(*before, 0, 0x07) : 0;
}

std::uint8_t crc8_one_wire(Bytes bytes) {
  std::uint8_t crc = 0;
  for (const std::uint8_t byte : bytes) {
    crc ^= byte;
    for (int bit = 0; bit < 8; ++bit) crc = static_cast<std::uint8_t>(crc & 1 ? crc >> 1 ^ 0x8C : crc >> 1);
  }
  return crc;
}

std::uint16_t crc16(Bytes bytes) {
  std::uint16_t crc = 0xFFFF;
  for (const std::uint8_t byte : bytes) {
    crc ^= byte;
    for (int bit = 0; bit < 8; ++bit) crc = static_cast<std::uint16_t>(crc & 1 ? crc >> 1 ^ 0xA001 : crc >> 1);
  }
  return crc;
}

std::uint8_t crc4(std::span<const std::uint8_t, 16> bytes) {
  std::uint16_t rest = 0;
  for (const std::uint8_t byte : bytes) {
    rest ^= byte;
    for (int bit = 0; bit < 8; ++bit) rest = static_cast<std::uint16_t>(rest & 0x8000 ? rest << 1 ^ 0x3000 : rest << 1);
  }
  return static_cast<std::uint8_t>(rest >> 12 & 0x0F);
}

}  // namespace fair_gauge
