#include "digital/line_capture.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <sstream>

#include "files/delimited.h"
#include "language/translation.h"
#include "quantity/letters.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_edges = 20'000'000;

Result<std::vector<LineTrace>> read_vcd(std::string_view text) {
  std::istringstream words{std::string(text)};
  std::map<std::string, std::size_t> by_code;
  std::vector<LineTrace> lines;
  double tick = 1e-9, now = 0;
  std::size_t edges = 0;
  for (std::string word; words >> word;) {
    if (word == "$timescale") {
      std::string scale, more;
      while (words >> more && more != "$end") scale += more;
      double number = 1;
      const auto read = std::from_chars(scale.data(), scale.data() + scale.size(), number);
      if (read.ec != std::errc())
        return Problem{translated("the timescale \"{}\" is not understood", scale.substr(0, 30)),
                       translated("a number and s, ms, us, ns, ps or fs")};
      const auto used = static_cast<std::size_t>(read.ptr - scale.data());
      const std::map<std::string, double> units = {{"s", 1},     {"ms", 1e-3},  {"us", 1e-6},
                                                   {"ns", 1e-9}, {"ps", 1e-12}, {"fs", 1e-15}};
      const auto unit = units.find(scale.substr(used));
      if (unit == units.end())
        return Problem{translated("the timescale \"{}\" is not understood", scale.substr(0, 30)),
                       translated("s, ms, us, ns, ps or fs")};
      tick = number * unit->second;
    } else if (word == "$var") {
      std::string type, size, code, name, more;
      words >> type >> size >> code >> name;
      while (words >> more && more != "$end") {
      }
      if (size == "1") {
        by_code[code] = lines.size();
        lines.push_back({name, {}});
      }
    } else if (word == "$dumpvars" || word == "$dumpall" || word == "$end" || word == "$dumpon" || word == "$dumpoff") {
      continue;
    } else if (word.front() == '$') {
      while (words >> word && word != "$end") {
      }
    } else if (word.front() == '#') {
      double ticks = 0;
      if (std::from_chars(word.data() + 1, word.data() + word.size(), ticks).ec != std::errc())
        return Problem{translated("\"{}\" is no time", word.substr(0, 30)), translated("# and a number")};
      now = ticks * tick;
    } else if (word.front() == 'b' || word.front() == 'r') {
      words >> word;  // of a wider signal: not a line
    } else {
      const auto line = by_code.find(word.substr(1));
      if (line == by_code.end()) continue;
      auto& trace = lines[line->second].edges;
      const bool high = word.front() != '0';
      if (++edges > most_edges)
        return Problem{translated("the capture has more than 20 million edges"), translated("a shorter one")};
      if (trace.empty() || trace.back().high != high) trace.push_back({now, high});
    }
  }
  if (lines.empty()) return Problem{translated("the dump declares no line of one bit"), "$var wire 1 …"};
  return lines;
}

// Seconds in what a heading counts, by the unit in brackets or behind it: "Time [us]", "t_ms". 0 → it counts samples
double seconds_in(std::string_view heading) {
  const std::string name = small_letters(heading);
  if (name.find("sample") != name.npos || name.find("index") != name.npos) return 0;
  const auto mark = name.find_first_of("([_");
  const std::string unit = mark == name.npos ? "" : name.substr(mark + 1, name.find_first_of(")]", mark) - mark - 1);
  return unit == "ms" ? 1e-3 : unit == "us" || unit == "\u00B5s" || unit == "\u03BCs" ? 1e-6 : unit == "ns" ? 1e-9 : 1;
}

Result<std::vector<LineTrace>> read_edge_csv(std::string_view text) {
  std::vector<LineTrace> lines;
  double scale = 1;
  char separator = 0;
  std::size_t edge_count = 0;
  Rows rows(text);
  for (std::string_view row; rows.next(row);) {
    if (trimmed(row).empty() || (lines.empty() && std::string_view("#;").find(trimmed(row)[0]) != row.npos)) continue;
    if (separator == 0) separator = separator_of(row);
    const auto cells = cells_of(row, separator);
    const auto seconds = parse_number(cells.front());
    if (lines.empty()) {
      for (std::size_t i = 1; i < cells.size(); ++i)
        lines.push_back({seconds ? translated("line {}", i) : std::string(cells[i]), {}});
      if (!seconds) scale = seconds_in(cells.front());
      if (scale == 0)
        return Problem{translated("\"{}\" is no time", cells.front().substr(0, 30)),
                       translated("a column of seconds: samples do not say how far apart they are"),
                       {.line = rows.line(), .column = 1}};
      if (!seconds) continue;
    }
    if (!seconds || cells.size() != lines.size() + 1 || lines.empty())
      return Problem{translated("this row is no time with a level a line"),
                     translated("seconds,0 or 1"),
                     {.line = rows.line(), .column = 1}};
    for (std::size_t i = 1; i < cells.size(); ++i) {
      if (cells[i] != "0" && cells[i] != "1")
        return Problem{
            translated("\"{}\" is no level", cells[i].substr(0, 20)), translated("0 or 1"), {.line = rows.line()}};
      auto& edges = lines[i - 1].edges;
      if (!edges.empty() && edges.back().high == (cells[i] == "1")) continue;
      edges.push_back({*seconds * scale, cells[i] == "1"});
      if (++edge_count > most_edges)
        return Problem{translated("the capture has more than 20 million edges"), translated("a shorter one")};
    }
  }
  if (lines.empty())
    return Problem{translated("the capture holds no line"),
                   translated("a value change dump, or CSV of seconds and levels")};
  return lines;
}

// A time during which the line kept one level.
struct Span {
  bool high;
  double from;
  double seconds;
};

std::vector<Span> spans_of(const LineTrace& line) {
  std::vector<Span> spans;
  for (std::size_t i = 0; i + 1 < line.edges.size(); ++i)
    spans.push_back({line.edges[i].high, line.edges[i].seconds, line.edges[i + 1].seconds - line.edges[i].seconds});
  return spans;
}

std::string at_time(double seconds) { return translated("at {:.6g} ms", seconds * 1e3); }

void note(CaptureBytes& found, std::string fault) {
  if (found.fault.empty()) found.fault = std::move(fault);
}

// Adds bits to bytes, most or least significant first.
class BitRow {
 public:
  explicit BitRow(bool least_first) : least_first_(least_first) {}
  void add(bool bit) {
    byte_ = static_cast<std::uint8_t>(least_first_ ? byte_ >> 1 | bit << 7 : byte_ << 1 | bit);
    if (++bits_ == 8) bytes.push_back(byte_), bits_ = 0;
  }
  int left_over() const { return bits_; }
  std::vector<std::uint8_t> bytes;

 private:
  bool least_first_;
  std::uint8_t byte_ = 0;
  int bits_ = 0;
};

}  // namespace

Result<std::vector<LineTrace>> read_capture(std::string_view text) {
  return text.find("$enddefinitions") != std::string_view::npos || text.find("$var") != std::string_view::npos
             ? read_vcd(text)
             : read_edge_csv(text);
}

std::string write_vcd(const std::vector<LineTrace>& lines, double step_s) {
  std::string text = fmt::format("$timescale {} ns $end\n$scope module capture $end\n", std::llround(step_s * 1e9));
  std::multimap<std::int64_t, std::string> changes;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    const char code = static_cast<char>('!' + i);
    text += fmt::format("$var wire 1 {} {} $end\n", code, lines[i].name);
    for (const Edge& edge : lines[i].edges)
      changes.emplace(std::llround(edge.seconds / step_s), fmt::format("{}{}\n", edge.high ? 1 : 0, code));
  }
  text += "$upscope $end\n$enddefinitions $end\n";
  std::int64_t last = -1;
  for (const auto& [time, change] : changes) {
    if (time != last) text += fmt::format("#{}\n", time);
    last = time;
    text += change;
  }
  return text;
}

CaptureBytes decode_single_wire(const LineTrace& line) {
  CaptureBytes found;
  BitRow bits(false);
  const auto spans = spans_of(line);
  std::size_t at = 0;
  // The controller's start: low for 0.8 ms and more; then the part's answer: 80 µs low, 80 µs high.
  while (at < spans.size() && !(!spans[at].high && spans[at].seconds >= 0.8e-3)) ++at;
  if (at == spans.size())
    at = 0, note(found, translated("no start of 0.8 ms or longer: the answer may belong to nobody's question"));
  else
    found.events.emplace_back("start"), at += 2;
  if (at + 1 < spans.size() && !spans[at].high && spans[at].seconds > 60e-6 && spans[at + 1].seconds > 60e-6) {
    found.events.emplace_back("answer");
    at += 2;
  } else if (found.events.size() == 1) {
    note(found, translated("the part did not answer the start with 80 µs low and 80 µs high"));
  }
  for (; at + 1 < spans.size() && bits.bytes.size() < 5; at += 2) {
    if (spans[at].high) {
      --at;  // fall in step with the low times
      continue;
    }
    const double low = spans[at].seconds, high = spans[at + 1].seconds;
    if (low < 30e-6 || low > 90e-6)
      note(found, translated("bit {} {}: low for {:.0f} µs, about 50 µs was expected",
                             8 * bits.bytes.size() + static_cast<std::size_t>(bits.left_over()) + 1,
                             at_time(spans[at].from), low * 1e6));
    if (high < 15e-6 || (high > 40e-6 && high < 55e-6) || high > 95e-6)
      note(found, translated("bit {} {}: high for {:.0f} µs, which is neither 27 µs (0) nor 70 µs (1)",
                             8 * bits.bytes.size() + static_cast<std::size_t>(bits.left_over()) + 1,
                             at_time(spans[at + 1].from), high * 1e6));
    bits.add(high > 48e-6);
  }
  if (bits.bytes.size() < 5)
    note(found, translated("{} bits of 40", 8 * bits.bytes.size() + static_cast<std::size_t>(bits.left_over())));
  found.bytes = bits.bytes;
  return found;
}

CaptureBytes decode_one_wire(const LineTrace& line) {
  CaptureBytes found;
  BitRow bits(true);
  bool expects_presence = false;
  for (const Span& span : spans_of(line)) {
    if (span.high) continue;
    if (span.seconds >= 400e-6) {
      if (bits.left_over() > 0)
        note(found, translated("a reset {} cuts a byte after {} bits", at_time(span.from), bits.left_over()));
      bits = BitRow(true);
      found.events.emplace_back("reset");
      expects_presence = true;
    } else if (expects_presence) {
      if (span.seconds < 55e-6 || span.seconds > 245e-6)
        note(found, translated("after the reset {}: low for {:.0f} µs, a presence of 60 to 240 µs was expected",
                               at_time(span.from), span.seconds * 1e6));
      found.events.emplace_back("presence");
      expects_presence = false;
    } else {
      if (span.seconds > 130e-6 || (span.seconds > 20e-6 && span.seconds < 45e-6))
        note(found, translated("slot {}: low for {:.0f} µs, which is neither a 1 (1 to 15 µs) nor a 0 (60 to 120 µs)",
                               at_time(span.from), span.seconds * 1e6));
      bits.add(span.seconds < 30e-6);
    }
  }
  if (expects_presence) note(found, translated("no presence after the last reset: nothing answered"));
  if (bits.left_over() > 0) note(found, translated("{} bits are left over at the end", bits.left_over()));
  // Commands go before the scratchpad: BE is "read the scratchpad", 33 "read the serial".
  const auto command = std::ranges::find_if(bits.bytes, [](std::uint8_t byte) { return byte == 0xBE || byte == 0x33; });
  if (command != bits.bytes.end())
    found.events.emplace_back(*command == 0xBE ? translated("read scratchpad") : translated("read serial number"));
  found.bytes.assign(command == bits.bytes.end() ? bits.bytes.begin() : command + 1, bits.bytes.end());
  return found;
}

CaptureBytes decode_two_wire(const LineTrace& clock, const LineTrace& data) {
  CaptureBytes found;
  std::vector<std::uint8_t> written, read;
  bool scl = true, sda = true, running = false, reading = false;
  int bit = 0;
  unsigned byte = 0;
  bool is_address = false;
  std::size_t c = 0, d = 0;
  while (c < clock.edges.size() || d < data.edges.size()) {
    const bool next_is_clock =
        d >= data.edges.size() || (c < clock.edges.size() && clock.edges[c].seconds <= data.edges[d].seconds);
    if (!next_is_clock) {
      const Edge& edge = data.edges[d++];
      if (scl && edge.high != sda) {
        if (running && bit > 1)
          note(found,
               translated("the data line changes {} while the clock is high, within a byte", at_time(edge.seconds)));
        found.events.emplace_back(edge.high ? translated("stop") : translated("start"));
        running = !edge.high;
        is_address = running;
        bit = 0, byte = 0;
      }
      sda = edge.high;
      continue;
    }
    const Edge& edge = clock.edges[c++];
    const bool rises = edge.high && !scl;
    scl = edge.high;
    if (!rises || !running) continue;
    if (bit < 8) {
      byte = byte << 1 | (sda ? 1u : 0u);
      ++bit;
      continue;
    }
    if (is_address) {
      reading = byte & 1;
      found.events.push_back(translated("address 0x{:02X} {}{}", byte >> 1,
                                        reading ? translated("read") : translated("write"),
                                        sda ? translated(", not acknowledged") : ""));
      if (sda) note(found, translated("nothing answers at 0x{:02X} {}", byte >> 1, at_time(edge.seconds)));
    } else {
      (reading ? read : written).push_back(static_cast<std::uint8_t>(byte));
    }
    is_address = false;
    bit = 0, byte = 0;
  }
  if (found.events.empty()) note(found, translated("no start: the lines may be exchanged, or the bus is idle"));
  if (running) note(found, translated("the capture ends before the stop"));
  found.bytes = read.empty() ? written : read;
  return found;
}

CaptureBytes decode_pulses(const LineTrace& line) {
  CaptureBytes found;
  double last = -1;
  for (const Span& span : spans_of(line)) {
    if (!span.high) continue;
    if (last >= 0 && span.from - last > 1e-3) {  // a pause of a millisecond parts two bursts
      found.events.push_back(translated("burst of {} pulses", found.count));
      found.count = 0;
    } else if (last >= 0 && (span.from - last < 9e-6 || span.from - last > 14e-6)) {
      note(found, translated("pulse {} {}: {:.1f} µs after the one before, about 11.4 µs was expected", found.count + 1,
                             at_time(span.from), (span.from - last) * 1e6));
    }
    ++found.count;
    last = span.from;
  }
  found.events.push_back(translated("burst of {} pulses", found.count));
  if (found.count == 0) note(found, translated("no pulses: the sensor has no supply, or the load resistor is wrong"));
  return found;
}

LineTrace record_single_wire(const std::vector<std::uint8_t>& bytes) {
  LineTrace line{"data", {{0, true}}};
  double now = 1e-3;
  const auto go = [&](bool high, double seconds) {
    line.edges.push_back({now, high});
    now += seconds;
  };
  go(false, 1.1e-3), go(true, 30e-6), go(false, 80e-6), go(true, 80e-6);
  for (const std::uint8_t byte : bytes)
    for (int bit = 7; bit >= 0; --bit) go(false, 50e-6), go(true, byte >> bit & 1 ? 70e-6 : 27e-6);
  go(false, 50e-6), go(true, 0);
  return line;
}

LineTrace record_one_wire(const std::vector<std::uint8_t>& bytes) {
  LineTrace line{"dq", {{0, true}}};
  double now = 1e-3;
  const auto go = [&](bool high, double seconds) {
    line.edges.push_back({now, high});
    now += seconds;
  };
  go(false, 480e-6), go(true, 30e-6), go(false, 110e-6), go(true, 340e-6);
  std::vector<std::uint8_t> all = {0xCC, 0xBE};
  all.insert(all.end(), bytes.begin(), bytes.end());
  for (const std::uint8_t byte : all)
    for (int bit = 0; bit < 8; ++bit) {
      const bool one = byte >> bit & 1;
      go(false, one ? 6e-6 : 64e-6), go(true, one ? 64e-6 : 6e-6);
    }
  go(false, 6e-6), go(true, 0);
  line.edges.resize(line.edges.size() - 2);
  line.edges.push_back({now, true});
  return line;
}

std::vector<LineTrace> record_two_wire(int address, const std::vector<std::uint8_t>& bytes) {
  LineTrace clock{"scl", {{0, true}}}, data{"sda", {{0, true}}};
  double now = 100e-6;
  constexpr double half = 1.25e-6;  // 400 kHz
  data.edges.push_back({now, false});
  now += half;
  const auto bit = [&](bool high) {
    clock.edges.push_back({now, false});
    data.edges.push_back({now + half / 4, high});
    clock.edges.push_back({now + half, true});
    now += 2 * half;
  };
  std::vector<std::uint8_t> all = {static_cast<std::uint8_t>(address << 1 | 1)};
  all.insert(all.end(), bytes.begin(), bytes.end());
  for (std::size_t i = 0; i < all.size(); ++i) {
    for (int b = 7; b >= 0; --b) bit(all[i] >> b & 1);
    bit(i > 0 && i + 1 == all.size());  // the controller does not acknowledge the last byte
  }
  bit(false);
  clock.edges.pop_back();
  clock.edges.push_back({now, true});
  data.edges.push_back({now + half, true});
  return {clock, data};
}

LineTrace record_pulses(int count) {
  LineTrace line{"pulses", {{0, false}}};
  double now = 52e-3;
  constexpr double period = 1 / 88e3;
  for (int i = 0; i < count; ++i, now += period) {
    line.edges.push_back({now, true});
    line.edges.push_back({now + period / 2, false});
  }
  return line;
}

CaptureBytes decode_capture(Interface interface, const std::vector<LineTrace>& lines) {
  if (interface == Interface::single_wire) return decode_single_wire(lines.front());
  if (interface == Interface::one_wire) return decode_one_wire(lines.front());
  if (lines.size() >= 2) {
    const auto clock = std::ranges::find_if(lines, [](const LineTrace& line) {
      return line.name.find("scl") != std::string::npos || line.name.find("SCL") != std::string::npos;
    });
    const std::size_t c = clock == lines.end() ? 0 : static_cast<std::size_t>(clock - lines.begin());
    return decode_two_wire(lines[c], lines[c == 0 ? 1 : 0]);
  }
  CaptureBytes none;
  none.fault = translated("a two-wire capture needs its clock and its data line");
  return none;
}

}  // namespace fair_gauge
