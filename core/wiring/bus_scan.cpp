#include "wiring/bus_scan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <iterator>
#include <set>
#include <span>

#include "digital/checks.h"
#include "language/translation.h"
#include "wiring/address_plan.h"

namespace fair_gauge {
namespace {

bool is_hex(char c) { return std::isxdigit(static_cast<unsigned char>(c)) != 0; }

std::vector<std::string> lines_of(std::string_view text) {
  std::vector<std::string> lines(1);
  for (const char c : text)
    if (c == '\n')
      lines.emplace_back();
    else if (c != '\r')
      lines.back() += c;
  return lines;
}

std::vector<std::string> words_of(const std::string& line, std::string_view separators) {
  std::vector<std::string> words(1);
  for (const char c : line)
    if (separators.find(c) != std::string_view::npos)
      words.emplace_back();
    else
      words.back() += c;
  std::erase(words, "");
  return words;
}

std::optional<unsigned> hex_number(std::string word, std::size_t most_digits) {
  if (word.starts_with("0x") || word.starts_with("0X")) word.erase(0, 2);
  if (word.empty() || word.size() > most_digits || !std::ranges::all_of(word, is_hex)) return std::nullopt;
  return static_cast<unsigned>(std::stoul(word, nullptr, 16));
}

// "70: -- -- 72 --": a row of the grid; the label is where it begins.
bool take_grid_row(const std::string& line, std::vector<ScanHit>& hits) {
  const auto colon = line.find(':');
  if (colon == std::string::npos) return false;
  const auto label = hex_number(
      words_of(line.substr(0, colon), " \t").empty() ? "" : words_of(line.substr(0, colon), " \t").back(), 2);
  const auto cells = words_of(line.substr(colon + 1), " \t");
  if (!label || *label % 16 != 0 || !std::ranges::all_of(cells, [](const std::string& cell) {
        return cell == "--" || cell == "UU" || hex_number(cell, 2);
      }))
    return false;
  if (line.find("--") == std::string::npos && cells.size() < 16) return false;
  for (const std::string& cell : cells)
    if (const auto address = hex_number(cell, 2); address && *address < 128)
      hits.push_back({static_cast<int>(*address), {}});
  return true;
}

bool is_marked(std::string_view text) {
  return text.find("0x") != std::string_view::npos || text.find("0X") != std::string_view::npos;
}

// \param marked_text  somewhere in the text an address has its 0x: then numbers among words have theirs too, or are
// none ("found 60 (0x3C) in 12 ms")
void take_list_line(const std::string& line, bool marked_text, std::vector<ScanHit>& hits) {
  // As interpreters print a list of whole numbers: "[41, 118]".
  const std::size_t open = line.find('['), close = line.find(']', open);
  const std::string listed = close == std::string::npos ? "" : line.substr(open + 1, close - open - 1);
  const bool decimal = !listed.empty() && listed.find_first_not_of("0123456789, ") == std::string::npos;
  std::vector<std::string> words = words_of(decimal ? listed : line, " \t,;[]{}()\"");
  for (std::string& word : words)
    while (!word.empty() && (word.back() == '.' || word.back() == ':' || word.back() == '!')) word.pop_back();
  const auto is_number = [](const std::string& word) {
    return word.find('=') != std::string::npos || hex_number(word, 2).has_value();
  };
  const bool only_marked =
      marked_text && (line.find('(') != std::string::npos || !std::ranges::all_of(words, is_number));
  for (const std::string& word : words) {
    if (const auto equals = word.find('='); equals != std::string::npos) {
      const auto reg = hex_number(word.substr(0, equals), 4), value = hex_number(word.substr(equals + 1), 8);
      if (reg && value && !hits.empty()) hits.back().registers[fmt::format("0x{:02X}", *reg)] = *value;
      continue;
    }
    const bool digit_first = !word.empty() && std::isdigit(static_cast<unsigned char>(word.front()));
    std::optional<unsigned> address;
    if (decimal && word.size() <= 3)
      address = static_cast<unsigned>(std::stoul(word));
    else if (is_marked(word) || (!decimal && !only_marked && digit_first && word.size() == 2))
      address = hex_number(word, 2);
    if (address && *address >= 3 && *address < 0x78) hits.push_back({static_cast<int>(*address), {}});
  }
}

std::vector<std::uint8_t> bytes_of(std::string_view digits) {
  std::vector<std::uint8_t> bytes;
  for (std::size_t i = 0; i + 1 < digits.size(); i += 2)
    bytes.push_back(static_cast<std::uint8_t>(*hex_number(std::string(digits.substr(i, 2)), 2)));
  return bytes;
}

bool is_serial(std::span<const std::uint8_t> eight) {
  return eight[0] != 0 && crc8_one_wire(eight.first(7)) == eight[7];
}

// Family, six bytes and, where it was printed, the CRC, whatever stands between and around them; fewer where the line
// has no serial.
std::vector<std::uint8_t> serial_in(const std::string& line) {
  std::vector<std::uint8_t> run;
  bool has_ended = false;
  for (const std::string& whole : words_of(line, " \t,;:[]{}()\"|./")) {
    // As Linux names them, "28-000005e2fdc3": the six are one number, its last byte is sent first.
    if (whole.size() == 15 && whole[2] == '-' && whole.find('-', 3) == std::string::npos) {
      const std::string digits = whole.substr(0, 2) + whole.substr(3);
      if (std::ranges::all_of(digits, is_hex)) {
        auto bytes = bytes_of(digits);
        std::reverse(bytes.begin() + 1, bytes.end());
        return bytes;
      }
    }
    for (const std::string& word : words_of(whole, "-")) {
      if (has_ended) break;
      const std::string bare = word.starts_with("0x") || word.starts_with("0X") ? word.substr(2) : word;
      const bool is_digits = !bare.empty() && std::ranges::all_of(bare, is_hex);
      if (is_digits && (bare.size() == 14 || bare.size() == 16)) return bytes_of(bare);
      if (is_digits && bare.size() % 2 == 0) {
        std::ranges::copy(bytes_of(bare), std::back_inserter(run));
      } else if (is_digits && bare.size() == 1) {  // a byte below 16, printed without its zero
        run.push_back(static_cast<std::uint8_t>(*hex_number(bare, 2)));
      } else if (run.size() < 7) {
        run.clear();
      } else {
        has_ended = true;
      }
    }
  }
  // A number before or behind it looks like one more byte.
  for (std::size_t from = 0; from + 8 <= run.size(); ++from)
    if (is_serial(std::span(run).subspan(from, 8)))
      return {run.begin() + static_cast<std::ptrdiff_t>(from), run.begin() + static_cast<std::ptrdiff_t>(from) + 8};
  if (run.size() > 8) run.resize(8);
  return run;
}

struct FamilyName {
  unsigned code;
  const char* name;
};
constexpr FamilyName families[] = {{0x28, to_translate("temperature, 9 to 12 bits")},
                                   {0x10, to_translate("temperature, 9 bits and remainder")},
                                   {0x22, to_translate("temperature, older kind")},
                                   {0x3B, to_translate("thermocouple or temperature, 14 bits")},
                                   {0x26, to_translate("battery monitor with a thermometer")},
                                   {0x01, to_translate("serial number alone")},
                                   {0x2D, to_translate("memory")}};

// Families whose parts the catalogue's digital part of that interface may be.
std::string parts_with_address(const Catalogue& catalogue, int address,
                               const std::map<std::string, std::uint32_t>& registers) {
  std::vector<const Part*> possible;
  for (const Part& part : catalogue.parts())
    if (!pins_for(part, address).empty() ||
        std::ranges::find(part.addresses, address, &PartAddress::address) != part.addresses.end())
      possible.push_back(&part);
  const auto said = [&](const Part* part) {
    return std::ranges::any_of(part->bytes.identity, [&](const PartIdentity& identity) {
      const auto found = registers.find(identity.address);
      return found != registers.end() && identity.is_of(found->second);
    });
  };
  if (std::ranges::any_of(possible, said)) std::erase_if(possible, [&](const Part* part) { return !said(part); });
  std::string words;
  for (std::size_t i = 0; i < possible.size() && i < 3; ++i)
    words +=
        fmt::format("{}{} ({})",
                    i == 0                                              ? ""
                    : i + 1 < std::min<std::size_t>(3, possible.size()) ? ", "
                                                                        : translated(" or "),
                    possible[i]->name, possible[i]->markings.empty() ? possible[i]->id : possible[i]->markings.front());
  return words;
}

// What the identity registers of a planned part say of who is really there.
std::optional<ScanMatch> judge_identity(const BusMember& member, const Catalogue& catalogue, const ScanHit& hit) {
  if (!member.part || hit.registers.empty()) return std::nullopt;
  for (const PartIdentity& identity : member.part->bytes.identity) {
    const auto read = hit.registers.find(identity.address);
    if (read == hit.registers.end()) continue;
    if (identity.is_of(read->second))
      return ScanMatch{
          Severity::note, address_text(hit.address), member.device->id,
          translated("register {} reads 0x{:02X}: it is the part that was planned", identity.address, read->second)};
    const std::string others = parts_with_address(catalogue, hit.address, hit.registers);
    return ScanMatch{Severity::fault, address_text(hit.address), member.device->id,
                     translated("register {} reads 0x{:02X}, which is not {}{}", identity.address, read->second,
                                member.part->name, others.empty() ? "" : translated("; it may be: {}", others))};
  }
  return std::nullopt;
}

}  // namespace

Result<std::vector<ScanHit>> read_address_scan(std::string_view text) {
  if (text.size() > 1 << 16)
    return Problem{translated("this text is too long for a scan"), translated("a list of addresses")};
  std::vector<ScanHit> hits;
  for (const std::string& line : lines_of(text)) {
    if (take_grid_row(line, hits)) continue;
    const auto header = words_of(line, " \t");
    if (header.size() >= 8 && header.front() == "0" && header[1] == "1") continue;  // the grid's own head
    take_list_line(line, is_marked(text), hits);
  }
  if (hits.empty())
    return Problem{translated("no address was found in this text"),
                   translated("a list such as 0x29 0x76, or the grid that a scan prints")};
  std::ranges::stable_sort(hits, {}, &ScanHit::address);
  // The same address named twice is one device.
  std::vector<ScanHit> once;
  for (ScanHit& hit : hits)
    if (!once.empty() && once.back().address == hit.address)
      once.back().registers.merge(hit.registers);
    else
      once.push_back(std::move(hit));
  return once;
}

Result<std::vector<SerialHit>> read_serial_scan(std::string_view text) {
  if (text.size() > 1 << 16)
    return Problem{translated("this text is too long for a list of serials"), translated("a serial a line")};
  std::vector<SerialHit> hits;
  int number = 0, seen_line = 0;
  for (const std::string& line : lines_of(text)) {
    ++number;
    std::vector<std::uint8_t> bytes = serial_in(line);
    if (bytes.size() < 7) {
      if (!bytes.empty()) seen_line = number;
      continue;
    }
    const std::uint8_t crc = crc8_one_wire(std::span(bytes).first(7));
    if (bytes.size() == 7) bytes.push_back(crc);  // it follows from them
    SerialHit hit{.checked = crc == bytes[7] && bytes[0] != 0};
    for (const std::uint8_t byte : bytes) hit.serial += fmt::format("{:02X}", byte);
    for (const FamilyName& family : families)
      if (family.code == bytes[0]) hit.family = translated(family.name);
    if (std::ranges::find(hits, hit.serial, &SerialHit::serial) == hits.end()) hits.push_back(std::move(hit));
  }
  if (hits.empty())
    return Problem{translated("no serial was found in this text"),
                   translated("16 hexadecimal digits a sensor: family, six bytes, CRC"),
                   {.line = seen_line}};
  return hits;
}

std::string serial_of(const std::string& written) {
  const auto found = read_serial_scan(written);
  return found ? found->front().serial : written;
}

std::vector<ScanMatch> match_addresses(const Bench& bench, const Catalogue& catalogue, const Bus& bus,
                                       const std::vector<ScanHit>& hits) {
  std::vector<ScanMatch> matches;
  const auto members = members_of(bench, catalogue, bus);
  const auto answers = [&](int address) { return std::ranges::find(hits, address, &ScanHit::address) != hits.end(); };
  for (const ScanHit& hit : hits) {
    std::vector<const BusMember*> planned;
    for (const BusMember& member : members)
      if (member.device->address == hit.address) planned.push_back(&member);
    const std::string what = address_text(hit.address);
    if (hit.address == bus.multiplexer_address) {
      matches.push_back({Severity::note, what, "", translated("the multiplexer answers")});
    } else if (planned.size() == 1) {
      if (auto judged = judge_identity(*planned.front(), catalogue, hit))
        matches.push_back(std::move(*judged));
      else
        matches.push_back({Severity::note, what, planned.front()->device->id,
                           planned.front()->part && !planned.front()->part->bytes.identity.empty()
                               ? translated("answers as planned; its register {} would say who it is",
                                            planned.front()->part->bytes.identity.front().address)
                               : translated("answers as planned")});
    } else if (planned.size() > 1) {
      matches.push_back({Severity::fault, what, planned.front()->device->id,
                         translated("{} devices are planned here: they answer together", planned.size())});
    } else {
      const std::string possible = parts_with_address(catalogue, hit.address, hit.registers);
      matches.push_back({Severity::warning, what, "",
                         possible.empty()
                             ? translated("answers, and nothing is planned there")
                             : translated("answers, and nothing is planned there: probably {}", possible)});
    }
  }
  for (const BusMember& member : members) {
    if (member.device->address == 0 || answers(member.device->address)) continue;
    std::string words = translated("does not answer: supply, ground, the two lines, or its address pin");
    if (member.part)
      for (const PartAddress& other : member.part->addresses) {
        const bool planned =
            std::ranges::any_of(members, [&](const BusMember& m) { return m.device->address == other.address; });
        if (other.address != member.device->address && answers(other.address) && !planned)
          words = translated("does not answer, but {} does: its address pin is the other way ({})",
                             address_text(other.address), other.pins);
      }
    matches.push_back({Severity::fault, address_text(member.device->address), member.device->id, words});
  }
  return matches;
}

std::vector<ScanMatch> match_serials(const Bench& bench, const Bus& bus, const std::vector<SerialHit>& hits) {
  std::vector<ScanMatch> matches;
  std::set<std::string> planned;
  for (const Device& device : bench.devices) {
    if (device.bus != bus.id) continue;
    const std::string serial = serial_of(device.serial);
    planned.insert(serial);
    const auto hit = std::ranges::find(hits, serial, &SerialHit::serial);
    if (serial.empty())
      matches.push_back(
          {Severity::warning, translated("no serial yet"), device.id,
           translated(
               "give it one of those that were found and are nobody's: warm it by hand and see which one rises")});
    else if (hit == hits.end())
      matches.push_back(
          {Severity::fault, serial, device.id, translated("does not answer: its three wires, or the line's pull-up")});
    else
      matches.push_back({Severity::note, serial, device.id, translated("answers as planned")});
  }
  for (const SerialHit& hit : hits) {
    if (!hit.checked) {
      matches.push_back({Severity::fault, hit.serial, "",
                         translated("the last byte is not the CRC of the others: misread, or a digit was lost")});
    } else if (!planned.contains(hit.serial)) {
      matches.push_back({Severity::warning, hit.serial, "",
                         translated("nobody's yet{}: the order in which it was found says nothing of where it is",
                                    hit.family.empty() ? "" : " (" + hit.family + ")")});
    }
  }
  return matches;
}

std::optional<std::string> warmed_one(const std::map<std::string, double>& before,
                                      const std::map<std::string, double>& after, double least_k) {
  std::string best;
  double most = -1e9, next = -1e9;
  for (const auto& [name, value] : after) {
    const auto was = before.find(name);
    if (was == before.end()) continue;
    const double rise = value - was->second;
    if (rise > most) {
      next = most;
      most = rise;
      best = name;
    } else if (rise > next) {
      next = rise;
    }
  }
  return !best.empty() && most >= least_k && (next < -1e8 || most - next >= least_k) ? std::optional(best)
                                                                                     : std::nullopt;
}

}  // namespace fair_gauge
