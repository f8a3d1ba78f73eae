#include "digital/read_sequence.h"

#include <fmt/format.h>

#include <algorithm>

#include "language/translation.h"

namespace fair_gauge {
namespace {

struct Talk {
  double begin_s;    // to start a conversion
  double collect_s;  // to read one block of data with its address
};

Talk talk_of(const Part& part, int bytes, double line_hz) {
  constexpr double clocks_a_byte = 9, one_wire_reset_s = 960e-6, one_wire_bit_s = 65e-6, select_bytes = 9,
                   single_wire_bit_s = 100e-6;
  if (part.interface == Interface::i2c) return {3 * clocks_a_byte / line_hz, (3 + bytes) * clocks_a_byte / line_hz};
  if (part.interface == Interface::spi) return {2 * 8 / line_hz, (1 + bytes) * 8 / line_hz};
  if (part.interface == Interface::one_wire)
    return {one_wire_reset_s + (select_bytes + 1) * 8 * one_wire_bit_s,
            one_wire_reset_s + (select_bytes + 1 + bytes) * 8 * one_wire_bit_s};
  if (part.interface == Interface::single_wire) return {part.bytes.start_low_s, 160e-6 + bytes * 8 * single_wire_bit_s};
  return {0, (bytes * 8 + 1) * 2e-6};  // clocked out by hand
}

}  // namespace

std::vector<SequenceStep> read_sequence(const Part& part, double conversion_s, double line_hz) {
  const double conversion = conversion_s > 0 ? conversion_s : part.conversion_s;
  std::vector<const ByteBlock*> data;
  for (const ByteBlock& block : part.bytes.blocks)
    if (block.role == "data") data.push_back(&block);
  // Blocks named by what they hold come from conversions of their own; those named by address from one.
  const bool one_each = data.size() > 1 && std::ranges::none_of(data, [](const ByteBlock* block) {
                          return block->name.starts_with("0x");
                        });
  std::vector<SequenceStep> steps;
  double now = 0;
  const auto add = [&](std::string what, SequenceLane lane, double takes) {
    if (takes <= 0) return;
    steps.push_back({std::move(what), lane, now, now + takes});
    now += takes;
  };
  const auto begin_and_wait = [&](const std::string& which, double takes) {
    add(which.empty() ? translated("begin") : translated("begin {}", which), SequenceLane::line,
        talk_of(part, 0, line_hz).begin_s);
    add(which.empty() ? translated("converts") : translated("converts {}", which), SequenceLane::part, takes);
  };
  if (part.interface == Interface::pulse_count) {
    if (part.transfer.numbers.contains("gate")) {  // a frequency: counted as long as the gate is open
      add(translated("counts"), SequenceLane::line, conversion);
      return steps;
    }
    add(translated("converts"), SequenceLane::part, conversion / 2);
    add(translated("pulses"), SequenceLane::line, conversion / 2);
    return steps;
  }
  if (!one_each) begin_and_wait("", conversion);
  double stated = 0;
  for (const ByteBlock* block : data) stated += block->conversion_s;
  for (const ByteBlock* block : data) {
    // All of them in the time that the settings ask for, each in its share of the sheet's.
    const double share = stated > 0 ? block->conversion_s / stated : 1 / static_cast<double>(data.size());
    if (one_each) begin_and_wait(block->name, conversion * share);
    add(translated("read {}, {} bytes", block->name, block->bytes), SequenceLane::line,
        talk_of(part, block->bytes, line_hz).collect_s);
  }
  return steps;
}

double line_time(const std::vector<SequenceStep>& steps) {
  double sum = 0;
  for (const SequenceStep& step : steps) sum += step.lane == SequenceLane::line ? step.to_s - step.from_s : 0;
  return sum;
}

}  // namespace fair_gauge
