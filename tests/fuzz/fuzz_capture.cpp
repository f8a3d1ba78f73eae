// Recordings of lines: value change dumps and edge tables, decoded in every way.
#include <cstddef>
#include <cstdint>
#include <string_view>

#include "digital/line_capture.h"
#include "fuzz/targets.h"

int fuzz_capture(const std::uint8_t* bytes, std::size_t size) {
  using namespace fair_gauge;
  const auto lines = read_capture(std::string_view(reinterpret_cast<const char*>(bytes), size));
  if (!lines || lines->empty()) return 0;
  decode_single_wire(lines->front());
  decode_one_wire(lines->front());
  decode_pulses(lines->front());
  decode_two_wire(lines->front(), lines->back());
  return 0;
}
