// Lines of text as a board sends them, taken apart into raw numbers and bytes with their names.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// One value of a line. A bare number carries its position as its name: "1", "2", … Neither number nor bytes: what
/// boards write where a sensor did not answer, "nan", "null", "--" or nothing, stood in its place.
struct RawItem {
  std::string name;
  std::optional<double> number;
  std::vector<std::uint8_t> bytes;  ///< of name:x1A2B
  std::string unit = {};            ///< as it stands behind the number: "C", "%", "hPa", "mV"
  int decimals = 0;                 ///< that the number was written with

  bool is_missing() const { return !number && bytes.empty(); }
  bool operator==(const RawItem&) const = default;
};

/// "counts", "raw", "lsb" and the like behind a raw number.
bool is_code_word(std::string_view unit);

struct SerialLine {
  std::string text;  ///< as it came, unprintable bytes shown as ·
  std::vector<RawItem> items;
  std::optional<Problem> problem;  ///< the line is no reading; items that are missing may stand there all the same
};

/// Cuts a stream of bytes into lines and reads them. Understands `name:value` and `name=value` (several to a line,
/// parted by spaces, commas, semicolons or bars; names may hold spaces), a unit behind the number (`Temperature: 22.4
/// C`, `T=72.5F`), one JSON object a line (`{"air":{"t":22.4}}` gives `air.t`), CSV with a header, and bare numbers,
/// also one with its unit; decimal unless written 0x…, bytes as `name:x1A2B`. Passed over: colours of a terminal, the
/// time that a monitor puts before a line (`10:02:03.123 -> `), brackets around it, and the same value once more in
/// another unit (`T: 23.0°C 73.4°F`).
class SerialText {
 public:
  /// \param from_beginning  the first byte begins a line, as in a file; on a wire it may be anywhere in one
  explicit SerialText(bool from_beginning = false) : begun_(from_beginning) {}
  /// Takes bytes as they arrive; returns the lines they complete.
  std::vector<SerialLine> take(std::string_view bytes);

  /// True while most of what arrives is no text: the usual sign of a wrong line speed.
  bool is_noise() const;

 private:
  SerialLine read(const std::string& line);

  std::string rest_;
  std::vector<std::string> header_;
  bool first_ = true;
  bool begun_;        // whether the line at hand was seen from its beginning
  double noise_ = 0;  // smoothed share of bytes that no board sends as text
  int seen_ = 0;
};

}  // namespace fair_gauge
