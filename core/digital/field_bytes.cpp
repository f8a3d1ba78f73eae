#include "digital/field_bytes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "digital/decoder.h"
#include "language/translation.h"

namespace fair_gauge {

Result<FieldBytes> FieldBytes::of_field(const Part& part, std::string_view name) {
  const auto field = std::ranges::find(part.bytes.fields, name, &ByteField::name);
  if (field == part.bytes.fields.end())
    return Problem{translated("{} has no field \"{}\"", part.id, name), translated("a field of its layout")};
  const auto block = std::ranges::find(part.bytes.blocks, field->block, &ByteBlock::name);
  auto place = FieldPlace::read(field->bits, field->sign);
  if (!place) return place.problem();
  if (block == part.bytes.blocks.end())
    return Problem{translated("there is no block \"{}\"", field->block), translated("a block of the layout")};
  FieldBytes bytes;
  bytes.block_name_ = block->name;
  bytes.size_ = bytes.first_ = static_cast<std::size_t>(block->bytes);
  for (const BitRun& run : place->runs()) {
    const int at = run.byte < 0 ? run.byte + block->bytes : run.byte;
    if (at < 0 || at >= block->bytes)
      return Problem{translated("{} lies beyond its block", name), translated("byte 0 to {}", block->bytes - 1)};
    bytes.first_ = std::min(bytes.first_, static_cast<std::size_t>(at));
    bytes.last_ = std::max(bytes.last_, static_cast<std::size_t>(at));
  }
  bytes.place_ = std::move(*place);
  return bytes;
}

void FieldBytes::put(std::span<std::uint8_t> block, double raw) const {
  const double whole = std::isfinite(raw) ? std::clamp(std::round(raw), static_cast<double>(place_.least()),
                                                       static_cast<double>(place_.most()))
                                          : 0;
  place_.put(block, static_cast<std::int64_t>(whole));
}

std::vector<std::uint8_t> FieldBytes::block(double raw) const {
  std::vector<std::uint8_t> bytes(size_);
  put(bytes, raw);
  return bytes;
}

std::string FieldBytes::text(double raw) const {
  const auto bytes = block(raw);
  std::string text;
  for (std::size_t i = first_; i <= last_; ++i) text += fmt::format("{}{:02X}", i == first_ ? "" : " ", bytes[i]);
  return text;
}

Result<double> FieldBytes::raw(std::string_view text) const {
  auto bytes = read_hex(text);
  if (!bytes) return bytes.problem();
  const std::size_t own = last_ - first_ + 1;
  if (bytes->size() == own) bytes->insert(bytes->begin(), first_, 0), bytes->resize(size_);
  if (bytes->size() != size_)
    return Problem{translated("{} bytes", bytes->size()),
                   own == size_ ? translated("{} bytes, two hexadecimal digits each", own)
                                : translated("{} bytes, or all {} of {}", own, size_, block_name_)};
  return static_cast<double>(*place_.value(*bytes));
}

}  // namespace fair_gauge
