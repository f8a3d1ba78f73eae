#include "diagnose/made_mistake.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"

namespace fair_gauge {
namespace {

struct State {
  Wrong wrong;
  double raw;
};

// Inputs that are no reading: of an analog chain the ends that an open sensor or too large an input leave, of a part
// with bytes the numbers that its file says mean something else.
std::vector<State> states_of(const Chain& chain) {
  std::vector<State> states;
  const auto add = [&](const char* code, const std::string& words, const char* fix, double raw) {
    if (std::ranges::none_of(states, [&](const State& state) { return state.wrong.code == code; }))
      states.push_back({{.code = code,
                         .words = words,
                         .fix = fix,
                         .next = translated("read it again"),
                         .of = MistakeOf::world,
                         .change = {}},
                        raw});
  };
  if (chain.decoder) {
    const ByteLayout& layout = chain.decoder->part().bytes;
    const auto reading = std::ranges::find(layout.readings, chain.channel.quantity, &ByteReading::quantity);
    for (const ByteState& state : layout.states) {
      if (state.field != reading->field || state.equals.empty()) continue;
      const auto raw = static_cast<double>(state.equals.front());
      if (state.fault == "power-on-default")
        add("power-on-default", state.says, translated("start a conversion and wait for it"), raw);
      if (state.fault == "not-ready") add("not-ready", state.says, translated("wait for the conversion"), raw);
      if (state.fault == "saturated")
        add("saturated", state.says, translated("choose a lower gain or a shorter integration"), raw);
    }
    return states;
  }
  const ConverterLink& converter = *chain.converter;
  if (converter.counts_pulses()) {
    add("no-response", translated("the part does not answer: no pulse is counted"),
        translated("look at supply and line"), 0);
    return states;
  }
  // An open sensor below a fixed resistor leaves the pin at the supply; without a divider the pin floats near ground.
  const bool open_is_high = chain.divider && chain.divider->forward_off(1e12, {}) > chain.divider->forward_off(1, {});
  add("disconnected", translated("a lead of the sensor is open"),
      translated("look at the sensor's leads, then measure its resistance"),
      open_is_high ? converter.largest_code() : converter.lowest_code());
  add("clipped", translated("the input is at the end of the converter"),
      translated("change divider, gain or reference"),
      open_is_high ? converter.lowest_code() : converter.largest_code());
  return states;
}

}  // namespace

Result<std::vector<MadeMistake>> MadeMistake::all(const std::shared_ptr<const Bench>& bench,
                                                  const std::shared_ptr<const Catalogue>& catalogue,
                                                  const std::string& channel, double truth) {
  auto built = build_chain(*bench, *catalogue, channel);
  if (!built) return built.problem();
  const auto chain = std::make_shared<const Chain>(std::move(*built));
  if (chain->channel.arrives_converted())
    return Problem{translated("\"{}\" arrives converted already: its mistakes were made by other firmware", channel),
                   translated("a channel whose raw number arrives")};
  const auto raw = fair_gauge::raw_for(*chain, truth);
  if (!raw) return raw.problem();
  Firmware right;
  right.bench = bench_of_channel(*bench, channel);
  right.channel = channel;
  right.input = raw_input(*chain, *raw);
  MadeMistake honest;
  honest.bench_ = bench;
  honest.catalogue_ = catalogue;
  honest.believed_ = honest.world_ = chain;
  honest.truth_ = right.bench;
  honest.right_ = honest.wrong_firmware_ = right;
  std::vector<MadeMistake> made;
  for (const Wrong& row : wrongs_of(*bench, *catalogue, *chain, right)) {
    MadeMistake one = honest;
    one.wrong_ = row;
    row.change(one.wrong_firmware_);
    // What can be wired or set wrongly is: then the arithmetic is right, for a bench that is not there.
    if (row.of != MistakeOf::arithmetic && one.wrong_firmware_.errs_in_bench_alone() &&
        one.wrong_firmware_.channel == channel) {
      auto world = build_chain(one.wrong_firmware_.bench, *catalogue, channel);
      if (!world) continue;
      one.in_world_ = true;
      one.truth_ = one.wrong_firmware_.bench;
      one.world_ = std::make_shared<const Chain>(std::move(*world));
    } else if (row.of == MistakeOf::world) {
      one.in_world_ = true;  // a step on the value: it is taken back before the raw number is made
    }
    made.push_back(std::move(one));
  }
  for (State& state : states_of(*chain)) {
    MadeMistake one = honest;
    one.wrong_ = std::move(state.wrong);
    one.in_world_ = true;
    one.state_raw_ = state.raw;
    made.push_back(std::move(one));
  }
  return made;
}

Result<MadeMistake> MadeMistake::of_code(const std::shared_ptr<const Bench>& bench,
                                         const std::shared_ptr<const Catalogue>& catalogue, const std::string& channel,
                                         const std::string& code) {
  const Channel* known = find_by_id(bench->channels, channel);
  if (!known) return Problem{translated("\"{}\" is no channel of the bench", channel), translated("an id of one")};
  const double middle = (known->wanted.from + known->wanted.to) / 2;
  auto made = all(bench, catalogue, channel, middle);
  if (!made) return made.problem();
  std::string codes;
  for (MadeMistake& one : *made) {
    if (one.code() == code) return std::move(one);
    if (codes.find(one.code()) == std::string::npos) codes += (codes.empty() ? "" : ", ") + one.code();
  }
  return Problem{translated("\"{}\" cannot be made on \"{}\"", code, channel), codes};
}

std::optional<double> MadeMistake::raw_for(double truth) const {
  if (state_raw_) return state_raw_;
  double value = truth;
  if (in_world_ && world_ == believed_)  // the truth is what its steps leave of the value that is read
    for (int i = 0; i < 20; ++i) {
      double left = value;
      for (const auto& step : wrong_firmware_.on_value) left = step(left);
      if (!std::isfinite(left)) return std::nullopt;
      value += truth - left;
    }
  const auto raw = fair_gauge::raw_for(*world_, value);
  return raw ? std::optional(*raw) : std::nullopt;
}

bool MadeMistake::is_in_sensor() const {
  if (is_state()) return code() == "disconnected" || code() == "no-response";
  return in_world_ && device().settings != right_.bench.devices.front().settings;
}

double MadeMistake::supply_v() const {
  const Rail* rail = find_by_id(truth_.rails, device().front_end.rail);
  return rail ? rail->voltage.best_v() : 0;
}

double MadeMistake::shows(double raw) const {
  Firmware firmware = in_world_ ? right_ : wrong_firmware_;
  firmware.input = raw_input(*believed_, raw);
  return firmware.shows(*catalogue_);
}

std::vector<std::string> MadeMistake::arithmetic(double raw) const {
  // Of a mistake of the world the chain as it truly is explains the number.
  Firmware firmware = wrong_firmware_;
  firmware.input = raw_input(*believed_, raw);
  return firmware.arithmetic(*catalogue_);
}

}  // namespace fair_gauge
