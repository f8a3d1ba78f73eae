// The bytes of one number alone, as they come over the wire.
#pragma once

#include <string>
#include <string_view>

#include "digital/byte_field.h"
#include "parts/part.h"

namespace fair_gauge {

class FieldBytes {
 public:
  /// Of a layout's field. \returns it, or why the field has no place in its block
  static Result<FieldBytes> of_field(const Part& part, std::string_view field);

  /// "84 D0 80": the bytes that hold the number, the other bits in them 0.
  std::string text(double raw) const;
  /// From those bytes, or from all of the block. \returns the number, or how many bytes were expected
  Result<double> raw(std::string_view text) const;
  /// All bytes of the block, those of the number filled in.
  std::vector<std::uint8_t> block(double raw) const;

  /// Puts the number into a whole block; the other bits stay. A number beyond the field's ends is taken as its end.
  void put(std::span<std::uint8_t> block, double raw) const;

  const std::string& block_name() const { return block_name_; }

 private:
  FieldPlace place_;
  std::string block_name_;
  std::size_t size_ = 0;
  std::size_t first_ = 0;
  std::size_t last_ = 0;
};

}  // namespace fair_gauge
