// Where a number lies among the bytes of a block: read, write, range.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "parts/byte_layout.h"
#include "quantity/result.h"

namespace fair_gauge {

/// Some bits of one byte, most significant part of the number first.
struct BitRun {
  int byte;  ///< from 0; from −1 backwards counts from the end of the block
  int high;
  int low;
};

/// A field of a layout, understood.
class FieldPlace {
 public:
  /// \param text  "1 0", "3[7:0] 4[3:0]", "-1[3:2]"
  /// \returns the place, or which part of the text is not understood
  static Result<FieldPlace> read(const std::string& text, FieldSign sign);

  /// The number, or nothing if the block is too short for it.
  std::optional<std::int64_t> value(std::span<const std::uint8_t> block) const;
  /// Puts a number there. \param value  within least…most
  void put(std::span<std::uint8_t> block, std::int64_t value) const;

  std::int64_t least() const;
  std::int64_t most() const;
  int bits() const { return bits_; }
  const std::vector<BitRun>& runs() const { return runs_; }

 private:
  std::vector<BitRun> runs_;
  int bits_ = 0;
  FieldSign sign_ = FieldSign::none;
};

}  // namespace fair_gauge
