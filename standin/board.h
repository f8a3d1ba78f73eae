// A simulated board on a pseudo-terminal: what it says, and how the line can spoil it.
#pragma once

#include <cstdint>
#include <memory>
#include <random>
#include <string>
#include <vector>

#include "diagnose/injected_fault.h"
#include "sim/environment.h"
#include "sim/simulated_line.h"

namespace fair_gauge::standin {

enum class LineForm { named, csv, bare, hex, bytes, words };

/// One channel of the board.
struct BoardChannel {
  std::string id;
  EnvironmentCourse course;
  SimulatedDevice device;
  // Of a value that was converted: it goes out in text, whatever the form; empty → raw numbers.
  std::string unit = {};
  std::string name = {};                            ///< on the line; empty → its id
  std::shared_ptr<const InjectedFault> fault = {};  ///< put in on purpose; null → none

  const std::string& on_line() const { return name.empty() ? id : name; }
};

/// The text line of all channels at one moment, with its line end. A channel that does not answer is left out, in a
/// form without names its place is left empty.
/// \param line  brings the bytes of digital parts, for the form that sends bytes
std::string line_at(std::vector<BoardChannel>& channels, LineForm form, double seconds, SimulatedLine* line = nullptr);

/// The header line of the CSV form.
std::string header_of(const std::vector<BoardChannel>& channels);

/// The same line with some bytes flipped, as a bad contact does it.
std::string garbled(std::string line, std::mt19937_64& random);

/// What a receiver at `receiver_baud` makes of bytes sent at `sender_baud`: the waveform sampled at the wrong times.
/// \source 8 data bits, no parity, 1 stop bit, least significant bit first
std::string at_other_speed(const std::string& bytes, int sender_baud, int receiver_baud);

}  // namespace fair_gauge::standin
