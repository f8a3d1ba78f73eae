// One cell of a log's column: a raw number, or the bytes that a part sent, and what they mean by a chain.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// What a cell says.
struct LogCell {
  std::optional<double> raw;       ///< nothing where the cell holds no number and no bytes
  std::optional<double> reading;   ///< base units; nothing where the raw number has none
  std::optional<Problem> problem;  ///< why there is no raw number or no reading
  std::string fault;               ///< code of the part's own fault; empty → none
  std::string says;                ///< of the fault
};

/// Reads cells of one channel. Bytes are hexadecimal digits without more: those of the raw number, of its block, or of
/// all data blocks one after the other; where the same digits could be a number they are one.
class CellReader {
 public:
  explicit CellReader(const Chain& chain);
  LogCell read(std::string_view cell) const;
  /// What stands in for trimming that the bench does not have of a specimen: nothing, for a real one would be read
  /// wrongly; or the made-up words of the part's file, which a simulated one holds.
  enum class MissingTrimming { refused, of_the_file };
  /// Those of the channel's part, or of its raw number.
  LogCell read_bytes(const std::vector<std::uint8_t>& bytes, MissingTrimming missing = MissingTrimming::refused) const;
  /// The cell as bytes, if it can only be bytes.
  std::optional<std::vector<std::uint8_t>> bytes_of(std::string_view cell) const;

 private:
  const Chain& chain_;
  std::vector<std::size_t> lengths_;                      // that bytes of this channel may have
  std::vector<std::pair<double, std::string>> power_on_;  // raw numbers that say so
  std::size_t digits_ = 0;                                // of the largest raw number
};

/// What plain numbers in cells read: raw numbers come again and again in a log, and each is worked out once. Holds the
/// latest of those that share a place.
class CellMemory {
 public:
  struct Known {
    double raw, reading;  ///< reading in base units; not a number where there is none
  };
  /// \param places  a power of two: neighbouring numbers have places of their own
  explicit CellMemory(std::size_t places) : places_(places) {}
  /// Null where it is not known, or no plain number.
  const Known* find(std::string_view cell) const;
  /// Nothing is kept of a cell with a fault, or that is no plain number.
  void keep(std::string_view cell, const LogCell& read);

 private:
  struct Place {
    std::uint64_t key = 0;  // 0 → nothing is here
    Known known = {};
  };
  std::vector<Place> places_;
};

/// The block that the raw number of a quantity stands in; empty where the part has none for it.
std::string block_of(const Part& part, Quantity quantity);

/// The data blocks of a part cut from bytes that stand one after the other, or the one block that they can be. Nothing
/// for a length that fits neither.
std::optional<ByteBlocks> data_blocks(const Part& part, Quantity quantity, std::span<const std::uint8_t> bytes);

}  // namespace fair_gauge
