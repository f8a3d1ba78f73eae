// Bytes in whatever shape people paste them: and how they were understood, so that it can be changed.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/enum_names.h"
#include "quantity/result.h"

namespace fair_gauge {

enum class ByteShape {
  hexadecimal,   ///< 1A2B, 0x1A 0x2B, 1A:2B
  mixed,         ///< {0x1A, 43}: hexadecimal only where it says so
  decimal,       ///< 26, 43
  binary,        ///< 00011010 00101011, 0b…
  text_escapes,  ///< b'\x1a+'
  dump,          ///< rows that begin with their address
  blocks,        ///< each with its name or address: 0xF7=655AC0; 0xFA=7EED00, {"frame": "1A2B"}
  log
};  ///< lines with readings such as name:x1A2B; the last one counts

std::span<const EnumName<ByteShape>> enum_names(ByteShape);

/// Bytes that say themselves where they belong.
struct ByteRun {
  std::string block;  ///< name, or address of the first as "0xF7"
  std::vector<std::uint8_t> bytes;
};

struct ByteText {
  std::vector<std::uint8_t> bytes;  ///< all of them, in the order they stand
  ByteShape shape = ByteShape::hexadecimal;
  std::vector<ByteRun> runs = {};  ///< of a dump or of blocks
  std::string name = {};           ///< from a log
};

/// Words around the bytes ("Received: 0x1A", "uint8_t frame[] = {…}; // data") are passed over.
/// \param as  how to read it; nothing → guessed
/// \returns the bytes and how they were understood, or the first place that does not fit
Result<ByteText> read_byte_text(std::string_view text, std::optional<ByteShape> as = std::nullopt);

}  // namespace fair_gauge
