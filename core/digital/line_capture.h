// Recorded lines: edges of a logic analyser's file, and the bytes that a protocol makes of them. Also the way back, so
// that captures can be made.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "parts/interface.h"
#include "quantity/result.h"

namespace fair_gauge {

struct Edge {
  double seconds;
  bool high;
  bool operator==(const Edge&) const = default;
};

/// One line: its level from each edge on. Before the first edge it is high, as a pulled-up line rests.
struct LineTrace {
  std::string name;
  std::vector<Edge> edges;
  bool operator==(const LineTrace&) const = default;
};

/// A value change dump (IEEE 1364) with one-bit signals, or CSV whose first column is seconds, or
/// what its heading says ("time [us]"), and whose others are levels. \returns the lines, or the row that is not
/// understood
Result<std::vector<LineTrace>> read_capture(std::string_view text);

/// The lines as a value change dump. \param step_s  time of one tick
std::string write_vcd(const std::vector<LineTrace>& lines, double step_s = 1e-7);

/// What a protocol found on its line: bytes in order, and the first thing that did not keep to its times.
struct CaptureBytes {
  std::vector<std::uint8_t> bytes;
  std::vector<std::string> events;  ///< reset, presence, start, address 0x76 read, acknowledged, …
  std::string fault;                ///< empty if all kept to the times
  int count = 0;                    ///< pulses, for the pulse-count sensor
};

/// 40 bits by the width of the high times. \source data sheet: 50 µs low, then 26…28 µs high for 0, 70 µs for 1
CaptureBytes decode_single_wire(const LineTrace& line);
/// Reset, presence and bytes with the least bit first. \source data sheet: slots of 60…120 µs, a 1 is low for 1…15 µs
CaptureBytes decode_one_wire(const LineTrace& line);
/// Start, address, acknowledge, data. Bytes are those that were read; if none, those that were written.
CaptureBytes decode_two_wire(const LineTrace& clock, const LineTrace& data);
/// Pulses of one burst of the two-wire pulse-count sensor.
CaptureBytes decode_pulses(const LineTrace& line);

/// By the protocol of a part's interface; of a two-wire bus the line is the clock that is called so, or the first.
CaptureBytes decode_capture(Interface interface, const std::vector<LineTrace>& lines);

/// A capture as a part would make it.
LineTrace record_single_wire(const std::vector<std::uint8_t>& bytes);
LineTrace record_one_wire(const std::vector<std::uint8_t>& bytes);
std::vector<LineTrace> record_two_wire(int address, const std::vector<std::uint8_t>& bytes);
LineTrace record_pulses(int count);

}  // namespace fair_gauge
