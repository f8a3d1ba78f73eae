#include "choose/trial.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

#include "chain/links.h"
#include "language/translation.h"
#include "quantity/e_series.h"
#include "quantity/number_format.h"
#include "sizing/sensor_divider.h"
#include "truth/error_budget.h"
#include "wiring/address_plan.h"
#include "wiring/pin_stress.h"

namespace fair_gauge {
namespace {

constexpr double used_share = 0.85;  // of a converter's span at the far end of the range

// "Temperature", the next one "Temperature 2" as its id is; pressures of the air as the weather is given.
void give_name_and_unit(Channel& channel) {
  const Dimension dimension = dimension_of(channel.quantity);
  channel.name =
      channel.quantity == Quantity::cold_junction_temperature ? translated("cold junction") : dimension_name(dimension);
  channel.name.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(channel.name.front())));
  if (const auto number = channel.id.find_last_not_of("0123456789"); number + 1 < channel.id.size())
    channel.name += ' ' + channel.id.substr(number + 1);
  channel.unit = usual_unit(dimension, channel.wanted.to).ucum;
}

// As it is printed on it, so that a bus, a wire or a scan names it as its owner does; else after its channel.
std::string free_device_id(const Bench& bench, const Part& part, const std::string& channel) {
  if (part.markings.empty()) return channel + "_part";
  std::string wish;
  for (const char letter : part.markings.front())
    wish += std::isalnum(static_cast<unsigned char>(letter))
                ? static_cast<char>(std::tolower(static_cast<unsigned char>(letter)))
                : '_';
  std::string id = wish;
  for (int number = 2; find_by_id(bench.devices, id); ++number) id = fmt::format("{}_{}", wish, number);
  return id;
}

class Builder {
 public:
  Builder(const Bench& bench, const Catalogue& catalogue, const Need& need, const Part& part, const std::string& id)
      : catalogue_(catalogue), need_(need), part_(part), trial_{.bench = bench, .channel = id} {
    device_.id = free_device_id(bench, part, id);
  }

  Result<Trial> build() {
    device_.part = part_.id;
    if (const auto problem = choose_rail()) return *problem;
    if (const auto problem = part_.is_digital() ? connect_digital() : connect_analog()) return *problem;
    trial_.bench.devices.push_back(device_);
    Channel channel{.id = trial_.channel,
                    .device = device_.id,
                    .quantity = need_.quantity,
                    .kind = need_.kind,
                    .wanted = {need_.from, need_.to},
                    .tolerance = need_.allowed,
                    .period_s = need_.period_s};
    give_name_and_unit(channel);
    if (const PartQuantity* quantity = part_.measures(need_.quantity); quantity && channel.kind == PressureKind::none)
      channel.kind = quantity->kind;
    trial_.bench.channels.push_back(std::move(channel));
    return std::move(trial_);
  }

 private:
  std::string supply_words() const {
    return translated("{:g} to {:g} V", part_.supply.minimum_v, part_.supply.maximum_v);
  }

  bool feeds(const Rail& rail) const {
    const double volts = rail.voltage.best_v();
    return part_.supply.maximum_v <= 0 || (volts >= part_.supply.minimum_v && volts <= part_.supply.maximum_v);
  }

  // A usual supply that the part bears; else the middle of what it bears.
  double usual_volts() const {
    constexpr std::array usual{5.0, 3.3, 12.0, 24.0, 1.8};
    const auto found = std::ranges::find_if(
        usual, [this](double volts) { return volts >= part_.supply.minimum_v && volts <= part_.supply.maximum_v; });
    return found != usual.end() ? *found : (part_.supply.minimum_v + part_.supply.maximum_v) / 2;
  }

  // The rail that was asked for, or any other of the bench that the part bears.
  std::optional<Problem> choose_rail() {
    const auto& rails = trial_.bench.rails;
    if (part_.transfer.type == "current-loop") return std::nullopt;  // the loop has a supply of its own
    if (rails.empty() && part_.is_digital()) return std::nullopt;    // its bytes mean the same whatever feeds it
    if (rails.empty())
      return Problem{translated("the bench has no supply rail"),
                     translated("the controller that it is, or a supply, on Board")};
    const Rail* wanted = find_by_id(rails, need_.rail);
    if (!wanted) wanted = &rails.front();
    if (feeds(*wanted)) {
      rail_ = wanted->id;
      return std::nullopt;
    }
    const auto other = std::ranges::find_if(rails, [this](const Rail& rail) { return feeds(rail); });
    if (other == rails.end())
      return Problem{
          translated("needs a supply of {}, the bench has {:.3g} V", supply_words(), wanted->voltage.best_v()),
          translated("a supply of {:.3g} V beside it, on Board", usual_volts())};
    rail_ = other->id;
    trial_.effort.push_back({translated("feeding from {}", called(*other))});
    return std::nullopt;
  }

  void say_levels() {
    if (const auto stress = line_stress(trial_.bench, catalogue_, device_))
      trial_.effort.push_back({translated("a level shifter from {} to {}, unless its board has one",
                                          with_prefix(stress->volts, "V", 3), with_prefix(stress->fed_v, "V", 3))});
  }

  std::optional<Problem> connect_digital() {
    device_.rail = rail_;
    const BusKind kind = part_.interface == Interface::one_wire      ? BusKind::one_wire
                         : part_.interface == Interface::single_wire ? BusKind::single_wire
                                                                     : BusKind::two_wire;
    if (part_.interface == Interface::single_wire)
      trial_.effort.push_back({translated("a data line of its own with a pull-up")});
    if (part_.interface == Interface::spi) trial_.effort.push_back({translated("three pins and one to select it")});
    if (part_.interface != Interface::i2c && part_.interface != Interface::one_wire) {
      say_levels();
      return std::nullopt;
    }
    const Bus* bus = nullptr;
    for (const Bus& each : trial_.bench.buses)
      if (each.kind == kind && !bus) bus = &each;
    if (!bus) {
      trial_.effort.push_back({kind == BusKind::one_wire ? translated("a one-wire line with a pull-up")
                                                         : translated("a two-wire bus with pull-ups")});
      return std::nullopt;
    }
    device_.bus = bus->id;
    say_levels();
    if (part_.addresses.empty()) return std::nullopt;
    for (const PartAddress& address : part_.addresses) {
      const bool taken = address.address == bus->multiplexer_address ||
                         std::ranges::any_of(trial_.bench.devices, [&](const Device& other) {
                           return other.bus == bus->id && other.branch == 0 && other.address == address.address;
                         });
      if (taken) continue;
      device_.address = address.address;
      if (address.address != part_.addresses.front().address)
        trial_.effort.push_back({translated("address {} ({})", address_text(address.address), address.pins)});
      return std::nullopt;
    }
    device_.address = part_.addresses.front().address;
    device_.branch = 1;
    trial_.effort.push_back(
        {translated("a multiplexer: every address it can have is taken on {}", called(*bus)), true});
    return std::nullopt;
  }

  std::optional<Problem> connect_analog() {
    std::map<std::string, double> settings;
    auto law = transfer_law(part_, settings);
    if (!law) return law.problem();
    device_.front_end.rail = rail_;
    if (!law->supply_key.empty()) {
      settings[law->supply_key] = find_by_id(trial_.bench.rails, rail_)->voltage.best_v();
      law = transfer_law(part_, settings);
      if (!law) return law.problem();
    }
    if (law->output_dimension == Dimension::number) return std::nullopt;  // pulses
    const bool bridge = part_.interface == Interface::bridge;
    if (const auto problem = choose_converter(bridge)) return *problem;
    const double at_from = law->output(need_.from), at_to = law->output(need_.to);
    if (!std::isfinite(at_from) || !std::isfinite(at_to))
      return Problem{translated("its formula gives nothing at an end of the range"),
                     translated("a range within its own")};
    low_ = std::min(at_from, at_to);
    high_ = std::max(at_from, at_to);
    switch (law->output_dimension) {
      case Dimension::resistance: return add_divider(*law);
      case Dimension::current: return add_load();
      default: break;
    }
    if (part_.interface == Interface::thermocouple) return add_amplifier();
    return bridge ? fit_bridge() : fit_voltage();
  }

  // The largest gain of its converter that the range leaves room for; the one that it has where others hang on it.
  std::optional<Problem> fit_bridge() {
    Converter& converter = *find_by_id(trial_.bench.converters, device_.converter);
    const double most = std::max(std::abs(low_), std::abs(high_));
    const double whole = reference_of(trial_.bench, converter).best_v() * converter.span_per_reference;
    const Part* part = catalogue_.find(converter.part);
    const bool shared =
        std::ranges::any_of(trial_.bench.devices, [&](const Device& other) { return other.converter == converter.id; });
    double best = most * converter.gain <= whole ? converter.gain : 0;
    std::string means;
    if (part && !shared)
      for (const PartSetting& setting : part->bytes.settings) {
        if (setting.key != "gain") continue;
        means = setting.means;
        for (const SettingChoice& choice : setting.choices)
          if (most * choice.value <= whole) best = std::max(best, choice.value);
      }
    if (best <= 0)
      return Problem{translated("its output of {} is beyond the {} of its converter at a gain of {:g}",
                                with_prefix(most, "V", 3), with_prefix(whole / converter.gain, "V", 3), converter.gain),
                     shared ? translated("a converter of its own") : translated("a bridge of a smaller span")};
    if (best != converter.gain) {
      converter.noise_lsb *= best / converter.gain;
      converter.gain = best;
      trial_.effort.push_back({translated("a gain of {:g}{}", best, means.empty() ? "" : ": " + means)});
    }
    span_v_ = whole / best;
    return std::nullopt;
  }

  std::optional<Problem> choose_converter(bool bridge) {
    const Converter* chosen = find_by_id(trial_.bench.converters, need_.converter);
    if (bridge) {
      chosen = nullptr;
      for (const Converter& each : trial_.bench.converters)
        if (each.polarity == Polarity::bipolar && !chosen) chosen = &each;
    } else if (!chosen) {
      for (const Converter& each : trial_.bench.converters)
        if (each.polarity == Polarity::unipolar && each.part.empty() && !chosen) chosen = &each;
      // A controller without one of its own: what hangs on its bus.
      if (!chosen && !trial_.bench.converters.empty()) chosen = &trial_.bench.converters.front();
    }
    if (!chosen && bridge) {
      Converter& added = trial_.bench.converters.emplace_back();
      added.id = "bridge_converter";
      added.name = translated("24-bit bridge converter");
      if (catalogue_.find("bridge-converter-24-bit")) added.part = "bridge-converter-24-bit";
      added.bits = 24;
      added.reference_rail = rail_;
      added.span_per_reference = 0.5;
      added.gain = 128;
      added.polarity = Polarity::bipolar;
      added.noise_lsb = 150;
      added.inl_lsb = 200;
      added.gain_error = 2e-4;
      trial_.effort.push_back({translated("a bridge converter"), true});
      chosen = &trial_.bench.converters.back();
    }
    if (!chosen)
      return Problem{translated("the bench has no converter for an analog part"),
                     translated("the controller that it is, or a converter, on Board")};
    device_.converter = chosen->id;
    span_v_ = reference_of(trial_.bench, *chosen).best_v() * chosen->span_per_reference / chosen->gain;
    bits_ = chosen->polarity == Polarity::bipolar ? chosen->bits - 1 : chosen->bits;  // from zero upwards
    return std::nullopt;
  }

  std::optional<Problem> add_divider(const TransferLaw& law) {
    if (!(low_ > 0))
      return Problem{translated("its resistance falls to nothing in this range"), translated("a narrower range")};
    const Rail& rail = *find_by_id(trial_.bench.rails, rail_);
    DividerWish wish{.law = law,
                     .range = *part_.measures(need_.quantity),
                     .from = need_.from,
                     .to = need_.to,
                     .supply_v = rail.voltage.best_v(),
                     .bits = std::min(bits_, 24),
                     .kelvin_per_watt = part_.kelvin_per_watt};
    wish.resistors.drawer_ohm = trial_.bench.drawer_ohm;
    const auto size = size_sensor_divider(wish);
    FrontEnd& front_end = device_.front_end;
    front_end.kind = FrontEndKind::divider;
    // A low resistor makes the steps fine and the sensor warm; a converter is off by a step or two.
    constexpr double steps_off = 2;
    const bool in_decades = need_.quantity == Quantity::illuminance;
    const auto off = [in_decades](const DividerCandidate& each) {
      return in_decades ? each.worst_share : steps_off * each.worst_step + each.self_heating_k;
    };
    front_end.fixed_ohm = size ? std::ranges::min_element(size->candidates, {}, off)->fixed_ohm
                               : nearest_value(ESeries::e24, std::sqrt(low_ * high_));
    front_end.fixed_tolerance = 0.01;
    trial_.effort.push_back({translated("a resistor of {}", with_prefix(front_end.fixed_ohm, "Ω", 3))});
    return std::nullopt;
  }

  std::optional<Problem> add_load() {
    if (!(high_ > 0)) return Problem{translated("it gives no current in this range"), translated("another range")};
    device_.front_end.kind = FrontEndKind::load;
    double volts = used_share * span_v_;
    // What the load takes is not over the part any more.
    if (const Rail* rail = find_by_id(trial_.bench.rails, rail_); rail && part_.headroom_v > 0) {
      const double left = rail->voltage.best_v() * (1 - rail->voltage.relative_half_width()) - part_.headroom_v;
      if (left <= 0)
        return Problem{
            translated("it needs {:g} V over it, the supply has {:g} V", part_.headroom_v, rail->voltage.best_v()),
            translated("a higher supply")};
      volts = std::min(volts, used_share * left);
    }
    device_.front_end.fixed_ohm = nearest_value(ESeries::e24, volts / high_);
    trial_.effort.push_back({translated("a load of {}", with_prefix(device_.front_end.fixed_ohm, "Ω", 3))});
    return std::nullopt;
  }

  std::optional<Problem> add_amplifier() {
    FrontEnd& front_end = device_.front_end;
    front_end.kind = FrontEndKind::amplifier;
    front_end.offset_v = low_ < 0 ? 0.1 * span_v_ : 0.02 * span_v_;
    const double gain = used_share * (span_v_ - front_end.offset_v) / std::max(high_, 1e-6);
    front_end.gain = low_ < 0 ? std::min(gain, 0.9 * front_end.offset_v / -low_) : gain;
    front_end.gain = std::floor(front_end.gain);
    if (front_end.gain < 1)
      return Problem{translated("its output does not fit this converter"), translated("another reference")};
    front_end.fixed_tolerance = 0.001;
    front_end.offset_error_v = 1e-5 * front_end.gain;
    front_end.lowest_v = 0;
    front_end.highest_v = span_v_;
    trial_.effort.push_back(
        {translated("an amplifier of {:g} times and a thermometer at the cold junction", front_end.gain), true});
    return std::nullopt;
  }

  // A voltage above the span is divided down; one below ground is for no single supply.
  std::optional<Problem> fit_voltage() {
    if (low_ < -1e-3)
      return Problem{
          translated("its output goes {:.3g} V below ground at the cold end: a single supply cannot read that", -low_),
          translated("an offset, or a supply of both signs")};
    if (high_ <= span_v_) return std::nullopt;
    constexpr double bottom = 10e3;
    device_.front_end.kind = FrontEndKind::level_divider;
    device_.front_end.bottom_ohm = bottom;
    const auto above = values_between(ESeries::e24, bottom * (high_ / span_v_ - 1), 1e7);
    if (above.empty())
      return Problem{translated("its output is far above this converter's span"), translated("another converter")};
    device_.front_end.top_ohm = above.front();
    device_.front_end.fixed_tolerance = 0.001;
    trial_.effort.push_back({translated("a divider of {} over 10 kΩ", with_prefix(above.front(), "Ω", 3))});
    return std::nullopt;
  }

  const Catalogue& catalogue_;
  const Need& need_;
  const Part& part_;
  Trial trial_;
  Device device_;
  std::string rail_;
  double span_v_ = 1;
  int bits_ = 12;
  double low_ = 0;
  double high_ = 0;
};

}  // namespace

Result<Trial> try_part(const Bench& bench, const Catalogue& catalogue, const Need& need, const Part& part,
                       const std::string& id) {
  return Builder(bench, catalogue, need, part, id).build();
}

namespace {

// A number of one digit, or one and a half, times a power of ten, not below.
double round_up(double value) {
  if (!(value > 0)) return 0;
  const double decade = std::pow(10, std::floor(std::log10(value)));
  for (const double step : {1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0})
    if (value <= step * decade * (1 + 1e-9)) return step * decade;
  return 10 * decade;
}

// The first wish that a part can serve. \param highest  that it reads as it is set
Need usual_need(const Part& part, const PartQuantity& quantity,
                double highest = std::numeric_limits<double>::infinity()) {
  const Range reach = reach_of(part, quantity, {});
  Need need{
      .quantity = quantity.quantity, .kind = quantity.kind, .from = reach.from, .to = std::min(reach.to, highest)};
  // A room, unless it is made for something else.
  if (quantity.quantity == Quantity::temperature && reach.from <= 0 && reach.to >= 50 && reach.to < 250)
    need.from = 0, need.to = 50;
  const double span = reach.to - reach.from;
  double error = 0.01 * span;
  if (!quantity.accuracy.empty()) {
    const AccuracyBand& band = quantity.accuracy.front();
    // Where a law's numbers may be off, R25 and B each by a hundredth: about a kelvin, near enough for a first wish.
    const double of = band.of == AccuracyOf::points ? 1 : band.of == AccuracyOf::span ? span : std::abs(need.to);
    const double zero = band.zero_offset * (band.of == AccuracyOf::points ? 1 : span);
    error = band.of == AccuracyOf::numbers ? 1.2 : 1.2 * (band.value * of + zero);
  }
  need.allowed = round_up(std::max(error, 1e-6 * span));
  return need;
}

// The end of the wanted range, or, where the part's settings do not reach so far, what they do reach, in two digits.
double highest_reading(const Bench& bench, const Catalogue& catalogue, const Channel& channel) {
  const auto chain = build_chain(bench, catalogue, channel.id);
  const auto reads = [&](double world) {  // rounding to a code at the very end of a part's range is no end of its own
    return raw_for(*chain, world) && std::isfinite(read_mean_raw(*chain, mean_raw_for(*chain, world)));
  };
  double low = channel.wanted.from, high = channel.wanted.to;
  if (!chain || reads(high) || !reads(low)) return high;
  while (high - low > 1e-4 * (channel.wanted.to - channel.wanted.from))
    (reads(std::midpoint(low, high)) ? low : high) = std::midpoint(low, high);
  const double digit = std::pow(10, std::floor(std::log10(std::abs(low))) - 1);
  return low > 0 ? std::floor(low / digit) * digit : low;
}

// That the part itself leaves over the wanted range, 95 %; 0 where there is no budget. What supply, resistors and
// converter add is what the verdict is for, and so is what is known and can be corrected.
double largest_error_of_part(const Bench& bench, const Catalogue& catalogue, const Channel& channel) {
  double largest = 0;
  const auto chain = build_chain(bench, catalogue, channel.id);
  for (const double share : {0.02, 0.25, 0.5, 0.75, 0.98}) {
    if (!chain) break;
    const auto budget = error_budget(*chain, channel.wanted.from + share * (channel.wanted.to - channel.wanted.from));
    if (!budget) continue;
    double variance = 0;
    for (const Contribution& line : budget->lines)
      if (line.stage == StageName::sensor) variance += line.standard * line.standard;
    const double error = budget->coverage_factor * std::sqrt(variance);
    if (std::isfinite(error)) largest = std::max(largest, error);
  }
  return largest;
}

}  // namespace

Result<Trial> fit_part(const Bench& bench, const Catalogue& catalogue, const Part& part) {
  std::optional<Trial> whole;
  for (const PartQuantity& quantity : part.quantities) {
    if (quantity.quantity == Quantity::bridge_voltage || quantity.quantity == Quantity::altitude) continue;
    const Need need = usual_need(part, quantity);
    const std::string id = free_id(whole ? whole->bench : bench, std::string(enum_name(quantity.quantity)));
    if (!whole) {
      auto trial = try_part(bench, catalogue, need, part, id);
      if (!trial) return trial.problem();
      whole = std::move(*trial);
    } else {
      Channel channel = whole->bench.channels.back();
      channel.id = id;
      channel.quantity = need.quantity;
      channel.kind = need.kind;
      channel.wanted = {need.from, need.to};
      channel.tolerance = need.allowed;
      give_name_and_unit(channel);
      whole->bench.channels.push_back(std::move(channel));
    }
    Channel& channel = whole->bench.channels.back();
    if (const double highest = highest_reading(whole->bench, catalogue, channel); highest < channel.wanted.to) {
      channel.wanted.to = highest;
      channel.tolerance = usual_need(part, quantity, highest).allowed;
    }
    channel.tolerance =
        std::max(channel.tolerance, round_up(1.2 * largest_error_of_part(whole->bench, catalogue, channel)));
    // A part whose readings may be off by all of what is wanted is told so.
    channel.tolerance = std::min(channel.tolerance, round_up((channel.wanted.to - channel.wanted.from) / 4));
  }
  if (!whole)
    return Problem{translated("it measures nothing by itself"),
                   translated("a sensor; a converter is added as a converter")};
  return std::move(*whole);
}

std::string free_id(const Bench& bench, const std::string& wish) {
  const auto taken = [&](const std::string& id) {
    return find_by_id(bench.channels, id) || find_by_id(bench.devices, id + "_part");
  };
  if (!taken(wish)) return wish;
  for (int number = 2;; ++number)
    if (std::string id = fmt::format("{}_{}", wish, number); !taken(id)) return id;
}

}  // namespace fair_gauge
