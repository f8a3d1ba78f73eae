#include "board.h"

#include <fmt/format.h>

#include <cmath>

namespace fair_gauge::standin {

std::string header_of(const std::vector<BoardChannel>& channels) {
  std::string text;
  for (const BoardChannel& channel : channels) text += (text.empty() ? "" : ",") + channel.on_line();
  return text + "\r\n";
}

namespace {

// Bytes carry no sign: a number below zero, or one of more than 16 bits, goes out as three bytes of two's complement.
std::uint64_t as_bytes(std::int64_t raw) { return static_cast<std::uint64_t>(raw) & 0xFFFFFF; }

}  // namespace

std::string line_at(std::vector<BoardChannel>& channels, LineForm form, double seconds, SimulatedLine* line) {
  std::string text;
  for (BoardChannel& channel : channels) {
    channel.device.go_to(seconds);
    const double world = channel.course.at(seconds);
    const auto answer = channel.fault ? channel.fault->answer(channel.device, world) : channel.device.answer(world);
    const bool has_place = form == LineForm::csv || form == LineForm::bare, first = &channel == &channels.front();
    if (!answer && has_place && !first) text += ",";
    if (!answer) continue;
    const double raw = *answer;
    const std::uint64_t code = as_bytes(static_cast<std::int64_t>(raw));
    const char* const apart = text.empty() ? "" : form == LineForm::words ? "  " : " ";
    switch (!channel.unit.empty() && (form == LineForm::hex || form == LineForm::bytes) ? LineForm::named : form) {
      case LineForm::named: text += fmt::format("{}{}:{}", apart, channel.on_line(), raw); break;
      case LineForm::hex: text += fmt::format("{}{}:0x{:X}", apart, channel.on_line(), code); break;
      case LineForm::bytes:
        if (auto block = line ? line->bytes(channel.id, raw) : std::vector<std::uint8_t>{}; !block.empty()) {
          if (channel.fault) channel.fault->spoil(block);
          text += fmt::format("{}{}:x{}", apart, channel.on_line(), to_hex(block));
          break;
        }
        text += fmt::format("{}{}:x{:0{}X}", apart, channel.on_line(), code, code > 0xFFFF ? 6 : 4);
        break;
      case LineForm::words:
        text +=
            fmt::format("{}{}: {}{}{}", apart, channel.on_line(), raw, channel.unit.empty() ? "" : " ", channel.unit);
        break;
      case LineForm::csv:
      case LineForm::bare: text += fmt::format("{}{}", first ? "" : ",", raw); break;
    }
  }
  return text + "\r\n";
}

std::string garbled(std::string line, std::mt19937_64& random) {
  for (std::size_t i = 0; i + 2 < line.size(); i += 3)
    line[i] = static_cast<char>(line[i] ^ static_cast<char>(1u << (random() % 8)));
  return line;
}

std::string at_other_speed(const std::string& bytes, int sender_baud, int receiver_baud) {
  std::vector<bool> wave = {true, true};
  for (const char c : bytes) {
    wave.push_back(false);
    for (int bit = 0; bit < 8; ++bit) wave.push_back((static_cast<unsigned char>(c) >> bit) & 1);
    wave.push_back(true);
  }
  wave.insert(wave.end(), 12, true);
  const double bit_time = static_cast<double>(sender_baud) / receiver_baud;  // of the receiver, in bits of the sender
  const auto level = [&](double time) {
    return time >= static_cast<double>(wave.size()) || wave[static_cast<std::size_t>(time)];
  };
  std::string heard;
  for (double time = 0; time < static_cast<double>(wave.size() - 10);) {
    if (level(time)) {
      time += 1.0 / 16 * std::min(1.0, bit_time);
      continue;
    }
    unsigned value = 0;
    for (int bit = 0; bit < 8; ++bit) value |= static_cast<unsigned>(level(time + (1.5 + bit) * bit_time)) << bit;
    heard += static_cast<char>(value);
    time += 9.5 * bit_time;
  }
  return heard;
}

}  // namespace fair_gauge::standin
