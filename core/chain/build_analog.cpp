// A sensor in its circuit in front of a converter, or one that gives pulses.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "chain/builder.h"
#include "digital/registers.h"
#include "language/translation.h"

namespace fair_gauge {

// The device's settings, then what the bench knows better: the rail that feeds the sensor, and other channels'
// readings.
Result<TransferLaw> Builder::law_of_device() {
  std::map<std::string, double> settings = device_->settings;
  for (const auto& [key, channel] : device_->side_inputs) {
    chain_.side_channels.push_back(channel);
    if (const auto now = beside_.find(channel); now != beside_.end() && std::isfinite(now->second))
      settings[key] = now->second;
  }
  auto law = transfer_law(*part_, settings);
  if (law && law->side)
    if (const auto side = device_->side_inputs.find(law->side->key); side != device_->side_inputs.end() && depth_ < 2)
      if (const Channel* measuring = find_by_id(bench_.channels, side->second); measuring && measuring != &asked_)
        if (auto chain = Builder(bench_, catalogue_, *measuring, {}, depth_ + 1).build())
          beside_chain_ = std::make_shared<const Chain>(std::move(*chain));
  const Rail* rail = find_by_id(bench_.rails, device_->front_end.rail);
  if (!law || law->supply_key.empty() || !rail) return law;
  settings[law->supply_key] = rail->voltage.best_v();
  supply_ = SharedVoltage{rail->voltage.best_v(), rail->voltage.relative_half_width(), rail_cause(rail->id),
                          rail->voltage.drift_half_width()};
  return transfer_law(*part_, settings);
}

std::optional<Problem> Builder::check_front_end(const TransferLaw& law) const {
  const FrontEndKind kind = device_->front_end.kind;
  const auto fits = [&](std::initializer_list<FrontEndKind> kinds) {
    return std::find(kinds.begin(), kinds.end(), kind) != kinds.end();
  };
  using enum FrontEndKind;
  if (law.output_dimension == Dimension::current && !fits({load, transimpedance}))
    return Problem{translated("\"{}\" gives a current: a converter cannot see it by itself", device_->id),
                   translated("a front end of kind load or transimpedance")};
  if (law.output_dimension == Dimension::resistance && !fits({divider}))
    return Problem{translated("\"{}\" is a resistance: a converter cannot see it by itself", device_->id),
                   translated("a front end of kind divider")};
  if (law.output_dimension == Dimension::voltage && !fits({direct, level_divider, amplifier}))
    return Problem{translated("\"{}\" gives a voltage: a {} does not fit it", device_->id, translated_name(kind)),
                   translated("a front end of kind direct, level-divider or amplifier")};
  if (law.output_dimension == Dimension::number && !fits({direct}))
    return Problem{translated("\"{}\" gives pulses that are counted", device_->id),
                   translated("a front end of kind direct")};
  if (kind == divider && !find_by_id(bench_.rails, device_->front_end.rail))
    return Problem{translated("the divider of \"{}\" is fed by no rail", device_->id),
                   translated("a rail of the bench in front_end.rail")};
  return std::nullopt;
}

// A sensor for each number of the law that the sheet lets be off, off by all of it.
std::vector<SensorLink::Specimen> Builder::specimens(const PartQuantity& range) const {
  std::vector<SensorLink::Specimen> all;
  if (range.accuracy.empty() || range.accuracy.front().of != AccuracyOf::numbers) return all;
  for (const auto& [number, share] : range.accuracy.front().numbers) {
    std::map<std::string, double> settings = device_->settings;
    const auto own = part_->transfer.numbers.find(number);
    if (own == part_->transfer.numbers.end()) continue;
    settings.try_emplace(number, own->second);
    settings[number] *= 1 + share;
    const auto named = std::ranges::find(part_->transfer.named, number, &NumberName::number);
    if (auto law = transfer_law(*part_, settings))
      all.push_back({named == part_->transfer.named.end() ? number : named->name, share, std::move(*law)});
  }
  return all;
}

void Builder::add_sensor(const TransferLaw& law) {
  const PartQuantity range = of_grade(*quantity_, device_->grade);
  const auto node = add_link(std::make_shared<SensorLink>(SensorLink::Setup{.law = law,
                                                                            .range = range,
                                                                            .specimens = specimens(range),
                                                                            .proven = proven(),
                                                                            .supply = supply_,
                                                                            .beside = beside_chain_}));
  add_stage(StageName::sensor, law.caption, base_unit(law.output_dimension), node);
}

void Builder::add_front_end(const TransferLaw& law) {
  const FrontEnd& front_end = device_->front_end;
  double source_ohm = part_->source_ohm;
  const std::size_t before = chain_.links.size();
  switch (front_end.kind) {
    case FrontEndKind::direct: break;
    case FrontEndKind::divider:
      add_divider();
      source_ohm = divider_source_ohm(law);
      break;
    case FrontEndKind::load:
      add_gain(
          {.gain = beside_load(front_end.fixed_ohm),
           .highest_v = highest_over_load(),
           .tolerances = {{translated("{} resistor", resistor_code(front_end.fixed_ohm)), front_end.fixed_half_width(),
                           beside_load(front_end.fixed_ohm) / front_end.fixed_ohm, front_end.fixed_drift_half_width()}},
           .input_symbol = "I",
           .input_unit = "A",
           .words = translated("the current through the load resistor")},
          translated("through {}", resistor_code(front_end.fixed_ohm)));
      source_ohm = front_end.fixed_ohm;
      break;
    case FrontEndKind::transimpedance:
      add_gain({.gain = front_end.fixed_ohm,
                .offset_v = front_end.offset_v,
                .offset_error_v = front_end.offset_error_v,
                .lowest_v = front_end.lowest_v,
                .highest_v = front_end.highest_v,
                .tolerances = {{translated("{} resistor", resistor_code(front_end.fixed_ohm)),
                                front_end.fixed_half_width(), 1, front_end.fixed_drift_half_width()}},
                .input_symbol = "I",
                .input_unit = "A",
                .words = translated("the current through the feedback resistor")},
               translated("{} feedback", resistor_code(front_end.fixed_ohm)));
      source_ohm = 0;
      break;
    case FrontEndKind::level_divider: source_ohm = add_level_divider(); break;
    case FrontEndKind::amplifier:
      add_amplifier();
      source_ohm = 0;
      break;
  }
  chain_.highest_source_ohm = source_ohm + front_end.filter_ohm;
  add_pin_load(front_end.kind == FrontEndKind::direct ? part_->source_ohm : 0, before);
}

// What the front end sees of the pin: its input resistance, with the filter's resistor before it.
double Builder::highest_over_load() const {
  const Rail* rail = find_by_id(bench_.rails, device_->front_end.rail);
  if (!rail || !(part_->headroom_v > 0)) return 0;
  return std::max(rail->voltage.best_v() - part_->headroom_v, 1e-6);
}

double Builder::load_ohm() const {
  return converter_->input_ohm > 0 ? converter_->input_ohm + device_->front_end.filter_ohm
                                   : std::numeric_limits<double>::infinity();
}

double Builder::beside_load(double ohm) const { return 1 / (1 / ohm + 1 / load_ohm()); }

// What a resistance in series with the pin leaves of the voltage, where the pin draws current.
void Builder::add_pin_load(double source_ohm, std::size_t before) {
  const double in_series = source_ohm + device_->front_end.filter_ohm;
  if (converter_->input_ohm <= 0 || in_series <= 0) return;
  const auto node = add_link(std::make_shared<GainLink>(
      GainLink::Setup{.gain = converter_->input_ohm / (converter_->input_ohm + in_series),
                      .input_symbol = "U",
                      .input_unit = "V",
                      .words = translated("before the pin's load of {}", with_prefix(converter_->input_ohm, "Ω"))}));
  for (Stage& stage : chain_.stages)
    if (stage.name == StageName::front_end && stage.node > before) stage.node = node;
}

std::size_t Builder::add_gain(GainLink::Setup setup, std::string caption) {
  const auto node = add_link(std::make_shared<GainLink>(std::move(setup)));
  add_stage(StageName::front_end, std::move(caption), base_unit(Dimension::voltage), node);
  return node;
}

// The converter's own input lies beside the bottom resistor.
double Builder::add_level_divider() {
  const FrontEnd& front_end = device_->front_end;
  const double bottom = beside_load(front_end.bottom_ohm), ratio = bottom / (front_end.top_ohm + bottom);
  add_gain({.gain = ratio,
            .tolerances = {{translated("{} above", resistor_code(front_end.top_ohm)), front_end.fixed_half_width(),
                            -(1 - ratio), front_end.fixed_drift_half_width()},
                           {translated("{} below", resistor_code(front_end.bottom_ohm)), front_end.fixed_half_width(),
                            (1 - ratio) * bottom / front_end.bottom_ohm, front_end.fixed_drift_half_width()}},
            .input_symbol = "U",
            .input_unit = "V",
            .words = translated("before the divider")},
           translated("{} over {}", resistor_code(front_end.top_ohm), resistor_code(front_end.bottom_ohm)));
  return front_end.top_ohm * bottom / (front_end.top_ohm + bottom);
}

void Builder::add_amplifier() {
  const FrontEnd& front_end = device_->front_end;
  const bool turns = front_end.amplifier == AmplifierKind::inverting;
  const double share = front_end.amplifier == AmplifierKind::non_inverting && front_end.gain > 0
                           ? 1 - 1 / front_end.gain
                           : 1;  // gain 1 + Rf/Rg
  add_gain({.gain = turns ? -front_end.gain : front_end.gain,
            .offset_v = front_end.offset_v,
            .offset_error_v = front_end.offset_error_v,
            .lowest_v = front_end.lowest_v,
            .highest_v = front_end.highest_v,
            .tolerances = {{translated("gain resistor"), front_end.fixed_half_width(), share,
                            front_end.fixed_drift_half_width()},
                           {translated("feedback resistor"), front_end.fixed_half_width(), share,
                            front_end.fixed_drift_half_width()}},
            .input_symbol = "U",
            .input_unit = "V",
            .words = translated("before the amplifier")},
           translated("{}{:.4g} times{}", turns ? "−" : "", front_end.gain,
                      front_end.offset_v == 0 ? ""
                                              : fmt::format(", {} {}", front_end.offset_v > 0 ? "+" : "−",
                                                            with_prefix(std::abs(front_end.offset_v), "V"))));
}

// Largest over the wanted range: the fixed resistor and the sensor in parallel.
double Builder::divider_source_ohm(const TransferLaw& law) const {
  const double fixed = beside_load(device_->front_end.fixed_ohm);
  double highest = 0;
  for (const double at : {chain_.channel.wanted.from, chain_.channel.wanted.to}) {
    const double ohms = law.output(at);
    if (std::isfinite(ohms) && ohms > 0) highest = std::max(highest, fixed * ohms / (fixed + ohms));
  }
  return highest;
}

void Builder::add_divider() {
  const FrontEnd& front_end = device_->front_end;
  const KnownVoltage& supply = find_by_id(bench_.rails, front_end.rail)->voltage;
  // Two leads lie in series with the sensor. A third lets the pin look at the sensor's own end: one lead then lies on
  // the fixed resistor's side, the other stays where a single pin cannot tell it from the sensor. Four need a pin for
  // each end of the sensor.
  constexpr double copper_warms = 0.1;  // relative: ±25 K of copper
  const double in_series = front_end.wires == 2   ? 2 * front_end.lead_ohm
                           : front_end.wires == 3 ? front_end.lead_ohm
                                                  : 0;
  chain_.divider = std::make_shared<DividerLink>(DividerLink::Setup{
      .supply = {supply.best_v(), supply.relative_half_width(), rail_cause(front_end.rail), supply.drift_half_width()},
      .fixed_ohm = front_end.fixed_ohm,
      .fixed_tolerance = front_end.fixed_half_width(),
      .fixed_later = front_end.fixed_drift_half_width(),
      .position = front_end.position,
      .lead_ohm = in_series,
      .fixed_lead_ohm = front_end.wires == 3 ? front_end.lead_ohm : 0,
      .load_ohm = load_ohm(),
      .lead_half_width = in_series * copper_warms});
  const auto node = add_link(chain_.divider);
  add_stage(
      StageName::front_end,
      fmt::format("{} {}, {:.3f} V", resistor_code(front_end.fixed_ohm),
                  front_end.position == Position::top ? translated("above") : translated("below"), supply.best_v()),
      base_unit(Dimension::voltage), node);
}

// What the input's state is when the converter stands at one of its ends; nothing where no front end tells.
std::pair<std::string, std::string> Builder::states_at_ends() const {
  const FrontEnd& front_end = device_->front_end;
  const bool fixed_above = front_end.position == Position::top;
  switch (front_end.kind) {
    case FrontEndKind::divider:
      return fixed_above ? std::pair{translated("the sensor is short, or its supply is missing"),
                                     translated("the sensor is open, or its lead is broken")}
                         : std::pair{translated("the sensor is open, or its supply is missing"),
                                     translated("the sensor is short")};
    case FrontEndKind::load:
    case FrontEndKind::transimpedance:
      if (converter_->polarity == Polarity::bipolar) return {};
      return {translated("no current flows, or the sensor's lead is broken"),
              translated("more current than it can read")};
    case FrontEndKind::direct:
    case FrontEndKind::level_divider:
    case FrontEndKind::amplifier: return {};
  }
  return {};
}

// What the sampling capacitor lacks when the pin's source is too weak for its time.
double Builder::settling_error() const {
  if (converter_->sample_farad <= 0 || converter_->acquisition_s <= 0 || chain_.highest_source_ohm <= 0) return 0;
  // A filter's capacitor gives what it holds at once; what that lacks comes through the source with both.
  const double both = device_->front_end.filter_farad + converter_->sample_farad;
  return converter_->sample_farad / both * std::exp(-converter_->acquisition_s / (chain_.highest_source_ohm * both));
}

void Builder::add_converter() {
  const KnownVoltage& reference = reference_of(bench_, *converter_);
  auto [at_bottom, at_top] = states_at_ends();
  chain_.converter = std::make_shared<ConverterLink>(
      ConverterLink::Setup{.converter = *converter_,
                           .reference = {reference.best_v(), reference.relative_half_width(),
                                         rail_cause(converter_->reference_rail), reference.drift_half_width()},
                           .settling_error = settling_error(),
                           .at_top = std::move(at_top),
                           .at_bottom = std::move(at_bottom)});
  chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
  const Unit& counts = base_unit(Dimension::number);
  const std::string span = with_prefix(chain_.converter->span_v(), "V");
  add_stage(
      StageName::converter,
      translated("{} bits, {}, {}", converter_->bits, converter_->convention == CodeConvention::steps ? "2ⁿ" : "2ⁿ − 1",
                 converter_->polarity == Polarity::bipolar ? "±" + span
                 : chain_.converter->span_v() < 1          ? span
                                                           : fmt::format("{:.3f} V", chain_.converter->span_v())),
      counts, chain_.converter_node);
  add_converter_bytes();
  if (converter_->reported_bits() > converter_->bits && converter_->polarity == Polarity::unipolar) {
    chain_.raw_node = add_link(std::make_shared<ReportLink>(*converter_));
    add_stage(StageName::raw,
              translated("{}, {} bits",
                         converter_->justification == Justification::left ? translated("left-justified")
                                                                          : translated("scaled up"),
                         converter_->reported_bits()),
              counts, chain_.raw_node);
  }
  const std::size_t before = chain_.raw_node;
  add_raw_correction();
  if (chain_.raw_node == before) return;
  std::erase_if(chain_.stages, [](const Stage& stage) { return stage.name == StageName::raw; });
  add_stage(StageName::raw, translated("as it arrives, corrected here"), counts, chain_.raw_node);
}

// A converter of its own package sends its codes as bytes.
void Builder::add_converter_bytes() {
  const Part* part = converter_->part.empty() ? nullptr : catalogue_.find(converter_->part);
  if (!part || !part->is_digital() || part->bytes.readings.empty()) return;
  auto bytes = FieldBytes::of_field(*part, part->bytes.readings.front().field);
  if (!bytes) return;
  chain_.bytes = std::move(*bytes);
  add_stage(StageName::bytes,
            chain_.bytes->block_name() == "frame" ? translated("of the frame")
                                                  : translated("of the {}", chain_.bytes->block_name()),
            base_unit(Dimension::number), chain_.converter_node);
}

// Pulses are counted, not converted: a converter whose step is one pulse and that is off by nothing else.
// As wide as the most pulses that the part's range asks for, 12 bits at least.
void Builder::add_pulse_counter(const TransferLaw& law) {
  const double most = std::max(law.output(quantity_->minimum), law.output(quantity_->maximum));
  const int bits = std::isfinite(most) ? std::clamp(static_cast<int>(std::ceil(std::log2(most + 2))), 12, 24) : 12;
  Converter counter;
  counter.bits = bits;
  counter.noise_lsb = counter.inl_lsb = 0;
  chain_.converter = std::make_shared<ConverterLink>(ConverterLink::Setup{
      .converter = counter, .reference = {std::exp2(bits), 0, ""}, .counts = to_translate("pulses")});
  chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
  add_stage(StageName::raw, translated("pulses counted"), base_unit(Dimension::number), chain_.raw_node);
}

void Builder::add_reading_stages(const TransferLaw& law) {
  add_stage(StageName::compensated, translated("by the {}", law.name), *chain_.base, chain_.compensated_node);
  add_shown_stages();
}

}  // namespace fair_gauge
