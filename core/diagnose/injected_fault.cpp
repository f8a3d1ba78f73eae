#include "diagnose/injected_fault.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "digital/checks.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

struct LeadFault {
  const char* name;
  SimulatedFault fault;
  const char* words;
};
constexpr LeadFault lead_faults[] = {
    {"stuck", SimulatedFault::stuck, to_translate("the number stays what it was")},
    {"open", SimulatedFault::open, to_translate("a lead of the sensor is open")},
    {"short", SimulatedFault::shorted, to_translate("the sensor's leads touch each other")},
    {"missing", SimulatedFault::missing, to_translate("three readings in ten do not come")},
    {"spikes", SimulatedFault::spikes, to_translate("two readings in a hundred are far off")}};
constexpr const char* silent = "no-response";
constexpr const char* no_pull_up = "no-pull-up";
constexpr const char* checksum_ignored = "checksum-ignored";
constexpr const char* silent_words = to_translate("nothing answers: supply, address or line");
constexpr const char* turned_words = to_translate("a bit is turned on the way and nobody looks at the check");

std::string words_of_bus(const Bus& bus) {
  return translated("the pull-ups of {} are missing: nothing on it answers", called(bus));
}

const Bus* bus_of(const Bench& bench, const std::string& device_id) {
  const Device* device = find_by_id(bench.devices, device_id);
  return device ? find_by_id(bench.buses, device->bus) : nullptr;
}

// Places in the field's block of the checks that cover it: those that fail once another number is put in.
std::vector<std::size_t> checks_over(const Chain& chain, double raw, double other) {
  std::vector<std::size_t> places;
  if (!chain.decoder || !chain.bytes) return places;
  auto block = chain.bytes->block(raw);
  const auto each = [&](auto take) {
    for (const ByteCheck& check : chain.decoder->part().bytes.checks)
      if (const CheckKind* kind = check_kind(check.kind);
          check.block == chain.bytes->block_name() && kind && kind->write)
        take(check, *kind);
  };
  each([&](const ByteCheck& check, const CheckKind& kind) { kind.write(block, check); });
  chain.bytes->put(block, other);
  each([&](const ByteCheck& check, const CheckKind& kind) {
    if (!kind.holds(block, check)) places.push_back(static_cast<std::size_t>(check.at));
  });
  return places;
}

double with_bit_turned(double raw, double bit) {
  return static_cast<double>(static_cast<std::int64_t>(std::llround(raw)) ^ static_cast<std::int64_t>(bit));
}

// A bit that moves the number by about an eighth of its field.
double bit_to_turn(const Chain& chain) {
  const ByteLayout& layout = chain.decoder->part().bytes;
  const auto reading = std::ranges::find(layout.readings, chain.channel.quantity, &ByteReading::quantity);
  const std::size_t field = *chain.decoder->field(reading->field);
  return std::exp2(std::max(0, chain.decoder->places()[field].bits() - 3));
}

bool has_check(const Chain& chain) { return chain.decoder && !checks_over(chain, 0, bit_to_turn(chain)).empty(); }

}  // namespace

Result<std::vector<InjectedFault::Choice>> InjectedFault::choices(const std::shared_ptr<const Bench>& bench,
                                                                  const std::shared_ptr<const Catalogue>& catalogue,
                                                                  const std::string& channel) {
  const Channel* known = find_by_id(bench->channels, channel);
  if (!known) return Problem{translated("\"{}\" is no channel of the bench", channel), translated("an id of one")};
  const auto chain = build_chain(*bench, *catalogue, channel);
  if (!chain) return chain.problem();
  std::vector<Choice> choices;
  for (const LeadFault& each : lead_faults) {
    const bool of_leads = each.fault == SimulatedFault::open || each.fault == SimulatedFault::shorted;
    if (!of_leads || !chain->decoder) choices.push_back({each.name, translated(each.words)});
  }
  choices.push_back({silent, translated(silent_words)});
  if (const Bus* bus = bus_of(*bench, known->device)) choices.push_back({no_pull_up, words_of_bus(*bus)});
  if (chain->channel.arrives_converted()) return choices;  // its mistakes were made by other firmware
  auto made = MadeMistake::all(bench, catalogue, channel, (known->wanted.from + known->wanted.to) / 2);
  if (!made) return made.problem();
  std::vector<Choice> mistakes;
  for (const MadeMistake& one : *made)
    if (std::ranges::find(choices, one.code(), &Choice::name) == choices.end() &&
        std::ranges::find(mistakes, one.code(), &Choice::name) == mistakes.end())
      mistakes.push_back({one.code(), one.words()});
  if (has_check(*chain)) mistakes.push_back({checksum_ignored, translated(turned_words)});
  std::ranges::sort(mistakes, {}, &Choice::name);
  choices.insert(choices.end(), mistakes.begin(), mistakes.end());
  return choices;
}

Result<InjectedFault> InjectedFault::of_name(const std::shared_ptr<const Bench>& bench,
                                             const std::shared_ptr<const Catalogue>& catalogue,
                                             const std::string& channel, const std::string& name) {
  const auto chain = build_chain(*bench, *catalogue, channel);
  if (!chain) return chain.problem();
  InjectedFault injected;
  injected.channel_ = channel;
  injected.channels_ = {channel};
  injected.choice_.name = name;
  const Bus* bus = bus_of(*bench, chain->channel.device);
  // An open lead is said of parts with bytes too: their number is then the end of its field.
  const auto lead = std::ranges::find(lead_faults, name, &LeadFault::name);
  if (lead != std::end(lead_faults)) {
    injected.fault_ = lead->fault;
    injected.choice_.words = translated(lead->words);
  } else if (name == silent) {
    injected.silent_ = true;
    injected.choice_.words = translated(silent_words);
  } else if (name == no_pull_up && bus) {
    injected.silent_ = true;
    injected.choice_.words = words_of_bus(*bus);
    injected.channels_.clear();
    for (const Channel& each : bench->channels)
      if (bus_of(*bench, each.device) == bus) injected.channels_.push_back(each.id);
  } else if (name == checksum_ignored && has_check(*chain)) {
    injected.turned_bit_ = bit_to_turn(*chain);
    injected.check_at_ = checks_over(*chain, 0, injected.turned_bit_);
    injected.choice_.words = translated(turned_words);
  } else if (auto made = MadeMistake::of_code(bench, catalogue, channel, name)) {
    injected.choice_.words = made->words();
    injected.mistake_ = std::move(*made);
  } else {
    std::string names;
    const auto choices = InjectedFault::choices(bench, catalogue, channel);
    for (const Choice& each : choices ? *choices : std::vector<Choice>())
      names += (names.empty() ? "" : ", ") + each.name;
    return Problem{translated("\"{}\" is no fault of \"{}\"", name, channel), names};
  }
  return injected;
}

SimulatedDevice InjectedFault::device(Chain own, std::uint64_t seed,
                                      std::function<Result<Chain>(double seconds)> surroundings) const {
  if (mistake_ && mistake_->is_of_world()) return SimulatedDevice(mistake_->world(), seed);
  return SimulatedDevice(std::move(own), seed, std::move(surroundings));
}

std::optional<double> InjectedFault::answer(SimulatedDevice& device, double world) const {
  if (silent_) return std::nullopt;
  if (fault_) return device.answer(world, *fault_);
  // A device of the wrong world answers by itself; a state, and what is a step on the value, have the number alone.
  if (mistake_ && mistake_->is_of_world() && &mistake_->world() == &mistake_->believed()) {
    const auto raw = mistake_->raw_for(world);
    return raw ? std::optional(std::round(*raw)) : std::nullopt;
  }
  const double raw = device.answer(world);
  return turned_bit_ > 0 ? with_bit_turned(raw, turned_bit_) : raw;
}

void InjectedFault::spoil(std::vector<std::uint8_t>& block) const {
  for (const std::size_t at : check_at_)
    if (at < block.size()) block[at] ^= 0x01;
}

Result<std::map<std::string, std::shared_ptr<const InjectedFault>>> injected_faults(
    const std::shared_ptr<const Bench>& bench, const std::shared_ptr<const Catalogue>& catalogue,
    const std::vector<std::string>& texts) {
  std::map<std::string, std::shared_ptr<const InjectedFault>> faults;
  for (const std::string& text : texts) {
    const auto at = text.find('@');
    if (at == std::string::npos || !find_by_id(bench->channels, text.substr(at + 1)))
      return Problem{translated("\"{}\" names no channel of the bench", text), "NAME@CHANNEL"};
    auto fault = InjectedFault::of_name(bench, catalogue, text.substr(at + 1), text.substr(0, at));
    if (!fault) return fault.problem();
    const auto shared = std::make_shared<const InjectedFault>(std::move(*fault));
    for (const std::string& channel : shared->channels()) faults[channel] = shared;
  }
  return faults;
}

}  // namespace fair_gauge
