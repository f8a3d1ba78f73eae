#include "digital/byte_field.h"

#include <fmt/format.h>

#include <charconv>
#include <sstream>

#include "language/translation.h"

namespace fair_gauge {
namespace {

std::optional<BitRun> read_run(const std::string& word) {
  BitRun run{0, 7, 0};
  const char* end = word.data() + word.size();
  auto [at, error] = std::from_chars(word.data(), end, run.byte);
  if (error != std::errc{}) return std::nullopt;
  if (at == end) return run;
  if (*at != '[' || word.back() != ']') return std::nullopt;
  const auto high = std::from_chars(at + 1, end, run.high);
  if (high.ec != std::errc{}) return std::nullopt;
  run.low = run.high;
  if (*high.ptr == ':' && std::from_chars(high.ptr + 1, end, run.low).ec != std::errc{}) return std::nullopt;
  return run.high <= 7 && run.low >= 0 && run.low <= run.high ? std::optional(run) : std::nullopt;
}

std::int64_t mask(int bits) { return (std::int64_t{1} << bits) - 1; }

}  // namespace

Result<FieldPlace> FieldPlace::read(const std::string& text, FieldSign sign) {
  FieldPlace place;
  place.sign_ = sign;
  std::istringstream words(text);
  for (std::string word; words >> word;) {
    const auto run = read_run(word);
    if (!run)
      return Problem{translated("\"{}\" of the bits \"{}\" is not understood", word, text),
                     translated("bytes such as 1 0, or bits of them such as 3[7:4]")};
    place.runs_.push_back(*run);
    place.bits_ += run->high - run->low + 1;
  }
  if (place.runs_.empty() || place.bits_ > 48)
    return Problem{translated("the bits \"{}\" are none, or more than 48", text), translated("bytes such as 1 0")};
  return place;
}

std::optional<std::int64_t> FieldPlace::value(std::span<const std::uint8_t> block) const {
  std::int64_t number = 0;
  const int size = static_cast<int>(block.size());
  for (const BitRun& run : runs_) {
    const int at = run.byte < 0 ? size + run.byte : run.byte;
    if (at < 0 || at >= size) return std::nullopt;
    const int width = run.high - run.low + 1;
    number = number << width | (block[static_cast<std::size_t>(at)] >> run.low & mask(width));
  }
  const std::int64_t top = std::int64_t{1} << (bits_ - 1);
  if (sign_ == FieldSign::twos && number & top) return number - 2 * top;
  if (sign_ == FieldSign::magnitude && number & top) return -(number - top);
  return number;
}

void FieldPlace::put(std::span<std::uint8_t> block, std::int64_t value) const {
  std::int64_t number =
      sign_ == FieldSign::magnitude && value < 0 ? -value | std::int64_t{1} << (bits_ - 1) : value & mask(bits_);
  const int size = static_cast<int>(block.size());
  for (auto run = runs_.rbegin(); run != runs_.rend(); ++run) {
    const int at = run->byte < 0 ? size + run->byte : run->byte;
    const int width = run->high - run->low + 1;
    if (at >= 0 && at < size) {
      auto& byte = block[static_cast<std::size_t>(at)];
      const int bits = static_cast<int>(mask(width)) << run->low;
      byte = static_cast<std::uint8_t>((byte & ~bits) | (static_cast<int>(number & mask(width)) << run->low));
    }
    number >>= width;
  }
}

std::int64_t FieldPlace::least() const {
  if (sign_ == FieldSign::none) return 0;
  return sign_ == FieldSign::twos ? -(std::int64_t{1} << (bits_ - 1)) : -mask(bits_ - 1);
}

std::int64_t FieldPlace::most() const { return sign_ == FieldSign::none ? mask(bits_) : mask(bits_ - 1); }

}  // namespace fair_gauge
