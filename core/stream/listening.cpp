#include "stream/listening.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <utility>

#include "language/translation.h"
#include "quantity/quantity_text.h"
#include "stream/log_cell.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_names = 1000;
constexpr std::size_t most_answers = 8;
constexpr std::array quantities = {Dimension::temperature, Dimension::humidity, Dimension::pressure,
                                   Dimension::illuminance};

// The words of a name, in small letters: "Room_temp" → room, temp.
std::vector<std::string> words_of_name(const std::string& name) {
  std::vector<std::string> words(1);
  for (std::size_t i = 0; i < name.size(); ++i) {
    const auto c = static_cast<unsigned char>(name[i]);
    const bool hump = i > 0 && std::isupper(c) && std::islower(static_cast<unsigned char>(name[i - 1]));
    if (!std::isalpha(c) && c != '%' && c < 128) {
      if (!words.back().empty()) words.emplace_back();
      continue;
    }
    if (hump && !words.back().empty()) words.emplace_back();
    words.back() += static_cast<char>(std::tolower(c));
  }
  if (words.back().empty()) words.pop_back();
  return words;
}

// What a name says of itself. Single letters count only as the whole name or its last word.
std::optional<Quantity> quantity_of_name(const std::string& name) {
  static constexpr std::pair<std::string_view, Quantity> beginnings[] = {
      {"temp", Quantity::temperature}, {"hum", Quantity::humidity},       {"press", Quantity::pressure},
      {"baro", Quantity::pressure},    {"lux", Quantity::illuminance},    {"light", Quantity::illuminance},
      {"rh", Quantity::humidity},      {"illum", Quantity::illuminance},  {"feucht", Quantity::humidity},
      {"druck", Quantity::pressure},   {"luftdruck", Quantity::pressure}, {"luftfeucht", Quantity::humidity},
      {"licht", Quantity::illuminance}};
  const auto words = words_of_name(name);
  for (const std::string& word : words)
    for (const auto& [beginning, quantity] : beginnings)
      if (word.starts_with(beginning)) return quantity;
  if (words.empty()) return std::nullopt;
  if (words.back() == "t") return Quantity::temperature;
  if (words.back() == "h") return Quantity::humidity;
  if (words.back() == "p") return Quantity::pressure;
  return std::nullopt;
}

// A unit at the end of a name: temp_F, "Pressure (hPa)", T [°C], battery_V, north.lux.
const Unit* unit_of_name(const std::string& whole) {
  const std::string name = whole.substr(whole.find_last_of('.') + 1);  // what stands before it names the board
  const auto end = name.find_last_not_of(" )]");
  if (end == std::string::npos) return nullptr;
  const auto from = name.find_last_of(" _([-", end);
  if (from != std::string::npos && from >= end) return nullptr;
  const std::string word = from == std::string::npos ? name : name.substr(from + 1, end - from);
  constexpr std::array units_by_themselves = {"lux", "lx", "hPa", "mbar"};  // a whole name of fewer letters may be any
  if (from == std::string::npos && std::ranges::find(units_by_themselves, word) == units_by_themselves.end())
    return nullptr;
  for (const Dimension dimension : quantities)
    if (const Unit* unit = unit_named(word, dimension)) return unit;
  return unit_named(word, Dimension::voltage);
}

// "Pressure (hPa)" is called Pressure; temp_F keeps its name, as boards are used to it.
std::string without_unit(const std::string& name) {
  const auto bracket = name.find_first_of("([");
  const auto end = bracket == std::string::npos ? bracket : name.find_last_not_of(" _", bracket == 0 ? 0 : bracket - 1);
  return bracket == std::string::npos || bracket == 0 || end == std::string::npos ? name : name.substr(0, end + 1);
}

std::string number_words(double number) { return fmt::format("{:.6g}", number); }

}  // namespace

std::optional<double> number_for(const Channel& channel, const RawItem& item) {
  if (!item.number) return std::nullopt;
  if (!channel.arrives_converted()) return item.unit.empty() || is_code_word(item.unit) ? item.number : std::nullopt;
  if (item.unit.empty()) return item.number;
  const Unit* arriving = unit_by_ucum(channel.arriving_unit());
  if (!arriving) return std::nullopt;
  const auto value = parse_quantity(fmt::format("{} {}", *item.number, item.unit), arriving->dimension);
  if (!value) return std::nullopt;
  if (value->written == arriving) return item.number;
  return value->in(*arriving);
}

void Listener::take(const SerialLine& line, double seconds) {
  for (const RawItem& item : line.items) {
    if (item.is_missing()) continue;
    auto known = seen_.find(item.name);
    if (known == seen_.end()) {
      if (seen_.size() >= most_names) continue;
      known = seen_.emplace(item.name, Seen{.order = seen_.size(), .first_s = seconds, .unit = item.unit}).first;
      if (item.number) known->second.lowest = known->second.highest = *item.number;
    }
    Seen& seen = known->second;
    ++seen.count;
    seen.last_s = seconds;
    seen.bytes = std::max(seen.bytes, item.bytes.size());
    if (!item.bytes.empty()) {
      if (seen.answers.size() == most_answers) seen.answers.erase(seen.answers.begin());
      seen.answers.push_back(item.bytes);
    }
    if (!item.number) continue;
    seen.lowest = std::min(seen.lowest, *item.number);
    seen.highest = std::max(seen.highest, *item.number);
    seen.decimals = std::max(seen.decimals, item.decimals);
    if (item.unit != seen.unit) seen.odd_units = true;
  }
}

std::vector<LineProposal> Listener::proposals() const {
  std::vector<LineProposal> all(seen_.size());
  for (const auto& [name, seen] : seen_) {
    LineProposal& proposal = all[seen.order];
    proposal = {.name = name,
                .count = seen.count,
                .lowest = seen.lowest,
                .highest = seen.highest,
                .bytes = seen.bytes,
                .quantity = quantity_of_name(name)};
    if (seen.count > 1 && seen.first_s >= 0)
      proposal.period_s = (seen.last_s - seen.first_s) / static_cast<double>(seen.count - 1);
    const std::string range = seen.lowest == seen.highest
                                  ? number_words(seen.lowest)
                                  : translated("{} to {}", number_words(seen.lowest), number_words(seen.highest));
    if (seen.bytes > 0) {
      proposal.form = ProposedForm::bytes;
      proposal.answers = seen.answers;
      proposal.words = translated("{} bytes at once: what a digital part answered", seen.bytes);
      continue;
    }
    const Unit* unit = nullptr;
    for (const Dimension dimension : quantities)
      if (!unit) unit = unit_named(seen.unit, dimension);
    proposal.unit_guessed = !unit;
    const Unit* of_name = seen.unit.empty() ? unit_of_name(name) : nullptr;
    if (!unit) unit = of_name;
    const Unit* volts = unit_named(seen.unit, Dimension::voltage);
    if (unit && unit->dimension == Dimension::voltage) volts = std::exchange(unit, nullptr);
    if (!unit && volts) {
      proposal.form = ProposedForm::volts;
      proposal.unit = volts->ucum;
      proposal.words = translated(
          "{} {}: a voltage that the firmware worked out. Let it send the code itself: what "
          "reference it took is then no longer hidden",
          range, seen.unit.empty() ? volts->symbol : std::string_view(seen.unit));
      continue;
    }
    if (!unit && !seen.unit.empty() && !is_code_word(seen.unit)) {
      proposal.form = ProposedForm::value;
      proposal.quantity.reset();
      proposal.decimals = seen.decimals;
      proposal.words = translated("{} {}: no temperature, humidity, pressure or light", range, seen.unit);
      continue;
    }
    const bool fractions = seen.decimals > 0;
    // Whole numbers that are called a quantity are a value only where they can be nothing else.
    const bool air_in_pascals =
        proposal.quantity == Quantity::pressure && seen.lowest >= 80'000 && seen.highest <= 110'000;
    if (!unit && (fractions || air_in_pascals) && proposal.quantity) unit = &base_unit(*proposal.quantity);
    if (unit && unit->dimension == Dimension::pressure && proposal.unit_guessed && unit->scale == 1 &&
        seen.highest < 1200 && seen.lowest > 300)
      unit = unit_by_ucum("hPa");
    if (unit) {
      proposal.form = ProposedForm::value;
      proposal.quantity = quantity_in(unit->dimension);
      proposal.unit = unit->ucum;
      proposal.decimals = seen.decimals;
      proposal.words = translated("{} {}{}: {}, converted before it came{}", range, unit->symbol,
                                  !proposal.unit_guessed ? ""
                                  : unit == of_name      ? translated(" (by its name)")
                                                         : translated(" (the unit is guessed)"),
                                  dimension_name(unit->dimension),
                                  seen.odd_units ? translated("; its unit changed meanwhile, which is followed") : "");
    } else if (fractions) {
      proposal.form = ProposedForm::value;
      proposal.decimals = seen.decimals;
      proposal.words = translated(
          "{}: a number with decimals, so it was worked out before it came; nothing says of "
          "what, nor in which unit",
          range);
    } else {
      const double most = std::max(std::abs(seen.lowest), std::abs(seen.highest));
      for (const int bits : {24, 16, 12, 10, 8})
        if (most < std::exp2(bits)) proposal.bits = bits;
      proposal.words = proposal.bits > 0 ? translated("{}: a code of {} bits or more", range, proposal.bits)
                                         : translated("{}: a whole number of more than 24 bits", range);
    }
  }
  return all;
}

bool may_make(const Part& part, const std::vector<LineProposal>& proposals, const std::string& name) {
  const auto heard = std::ranges::find(proposals, name, &LineProposal::name);
  return part.is_digital() == (heard != proposals.end() && heard->form == ProposedForm::bytes);
}

void give_line_name(Bench& bench, const Catalogue& catalogue, const std::string& channel, const std::string& name,
                    std::size_t bytes) {
  const Channel* given = find_by_id(bench.channels, channel);
  const Device* device = given ? find_by_id(bench.devices, given->device) : nullptr;
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  std::size_t whole = 0;
  if (part)
    for (const ByteBlock& block : part->bytes.blocks)
      if (block.role == "data") whole += static_cast<std::size_t>(block.bytes);
  const auto shares = [&](const Channel& other) {
    if (!part || bytes == 0 || other.device != given->device || other.derived || other.arrives_converted())
      return false;
    return bytes == whole || block_of(*part, other.quantity) == block_of(*part, given->quantity);
  };
  for (Channel& each : bench.channels)
    if (given && (each.id == channel || shares(each)))
      each.line_name = name;
    else if (each.name_on_line() == name)
      each.line_name = "-";
}

namespace {

// Whether a channel can be what a name brings, by its form alone.
bool could_be(const Bench& bench, const Catalogue& catalogue, const Channel& channel, const LineProposal& proposal) {
  if (channel.derived) return false;
  if (channel.arrives_converted()) return proposal.form == ProposedForm::value && proposal.quantity == channel.quantity;
  const Device* device = find_by_id(bench.devices, channel.device);
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  if (!part || (proposal.form != ProposedForm::code && proposal.form != ProposedForm::bytes)) return false;
  if (proposal.form == ProposedForm::code) return !part->is_digital();
  return part->is_digital() && std::ranges::any_of(part->bytes.blocks, [&](const ByteBlock& block) {
           return static_cast<std::size_t>(block.bytes) == proposal.bytes;
         });
}

}  // namespace

std::map<std::string, std::string> waiting_channels(const Bench& bench, const Catalogue& catalogue,
                                                    const std::vector<LineProposal>& proposals) {
  std::vector<const LineProposal*> open;
  for (const LineProposal& each : proposals)
    if (std::ranges::none_of(bench.channels, [&](const Channel& one) { return one.name_on_line() == each.name; }))
      open.push_back(&each);
  std::vector<const Channel*> waiting;
  for (const Channel& each : bench.channels)
    if (std::ranges::find(proposals, each.name_on_line(), &LineProposal::name) == proposals.end())
      waiting.push_back(&each);
  std::map<std::string, std::string> found;
  for (const LineProposal* name : open) {
    const auto pin = std::ranges::find(bench.board.pins, name->name, &Pin::name);
    if (pin == bench.board.pins.end() || pin->uses.empty()) continue;
    for (const Channel* each : waiting)
      if (each->device == pin->uses && could_be(bench, catalogue, *each, *name)) found.emplace(name->name, each->id);
  }
  const auto is_given = [&](const Channel& channel) {
    return std::ranges::any_of(found, [&](const auto& each) { return each.second == channel.id; });
  };
  for (const LineProposal* name : open) {
    if (found.contains(name->name)) continue;
    const auto is_for = [&](const Channel& channel) {
      return !is_given(channel) && could_be(bench, catalogue, channel, *name);
    };
    const Channel* meant = nullptr;
    bool is_only = true;
    for (const Channel* each : waiting) {
      if (!is_for(*each)) continue;
      is_only &= !meant || each->device == meant->device;  // one frame brings all that its part measures
      if (!meant) meant = each;
    }
    if (!meant || !is_only) continue;
    const auto rivals = std::ranges::count_if(open, [&](const LineProposal* other) {
      return !found.contains(other->name) && could_be(bench, catalogue, *meant, *other);
    });
    if (rivals == 1) found.emplace(name->name, meant->id);
  }
  return found;
}

std::vector<std::vector<std::uint8_t>> answers_of(const std::vector<LineProposal>& proposals, const std::string& name) {
  const auto heard = std::ranges::find(proposals, name, &LineProposal::name);
  return heard == proposals.end() ? std::vector<std::vector<std::uint8_t>>() : heard->answers;
}

std::size_t bytes_at_once(const std::vector<LineProposal>& proposals, const std::string& name) {
  const auto answers = answers_of(proposals, name);
  return answers.empty() ? 0 : answers.back().size();
}

std::string first_to_look_at(const Bench& bench, const std::vector<std::string>& added) {
  const auto is_read = [&](const std::string& id) { return find_by_id(bench.channels, id)->arrives_converted(); };
  const auto first = std::ranges::find_if(added, is_read);
  return first == added.end() ? added.front() : *first;
}

Bench with_channels(Bench bench, const std::vector<LineProposal>& proposals, std::vector<std::string>* added) {
  for (const LineProposal& proposal : proposals) {
    const bool known =
        std::ranges::any_of(bench.channels, [&](const Channel& each) { return each.name_on_line() == proposal.name; });
    if (known) continue;
    Channel channel;
    channel.name = without_unit(proposal.name);
    for (const char c : channel.name)
      if (std::isalnum(static_cast<unsigned char>(c)))
        channel.id += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
      else if (!channel.id.ends_with('_'))
        channel.id += '_';
    while (!channel.id.empty() && channel.id.back() == '_') channel.id.pop_back();
    if (channel.id.empty() || std::isdigit(static_cast<unsigned char>(channel.id[0])))
      channel.id = "line_" + channel.id;
    const std::string wanted_id = channel.id;
    for (int i = 2; find_by_id(bench.channels, channel.id); ++i) channel.id = fmt::format("{}_{}", wanted_id, i);
    if (channel.id != proposal.name) channel.line_name = proposal.name;
    if (proposal.quantity) channel.quantity = *proposal.quantity;
    const Unit& base = base_unit(channel.quantity);
    channel.unit = base.ucum;
    struct Usual {
      Quantity quantity;
      Range wanted;
      double tolerance;
    };
    static const Usual usual[] = {{Quantity::temperature, {0, 50}, 1},
                                  {Quantity::humidity, {20, 90}, 5},
                                  {Quantity::pressure, {90000, 110000}, 200},
                                  {Quantity::illuminance, {0, 20000}, 1000}};
    for (const Usual& each : usual)
      if (each.quantity == channel.quantity) channel.wanted = each.wanted, channel.tolerance = each.tolerance;
    if (proposal.form == ProposedForm::value) {
      channel.arrives =
          Arrival{.unit = proposal.unit.empty() ? channel.unit : proposal.unit, .decimals = proposal.decimals};
      if (!proposal.unit.empty()) channel.unit = proposal.unit;
      // What came is wanted too.
      if (const Unit* unit = unit_by_ucum(channel.arrives->unit)) {
        channel.wanted.from = std::min(channel.wanted.from, unit->to_base(proposal.lowest));
        channel.wanted.to = std::max(channel.wanted.to, unit->to_base(proposal.highest));
      }
    }
    if (channel.quantity == Quantity::pressure) channel.kind = PressureKind::absolute;
    if (proposal.period_s > 0.01) channel.period_s = std::max(0.1, std::round(proposal.period_s * 10) / 10);
    if (added) added->push_back(channel.id);
    bench.channels.push_back(std::move(channel));
  }
  return bench;
}

}  // namespace fair_gauge
