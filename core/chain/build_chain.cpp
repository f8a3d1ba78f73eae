// Bench → chain. The only place that knows which links a channel needs and in which order.
#include <fmt/format.h>

#include "chain/chain.h"

namespace fair_gauge {
namespace {

// The base unit of a quantity's name.
const Unit* unit_of_quantity(std::string_view quantity) {
  for (const Dimension dimension : {Dimension::temperature, Dimension::humidity, Dimension::pressure, Dimension::illuminance})
    if (dimension_name(dimension) == quantity) return &base_unit(dimension);
  return nullptr;
}

std::string rail_cause(const std::string& rail) { return rail.empty() ? "" : "rail " + rail; }

class Builder {
 public:
  Builder(const Bench& bench, const Catalogue& catalogue, const Channel& channel) : bench_(bench), catalogue_(catalogue) { chain_.channel = channel; }

  Result<Chain> build() {
    const Channel& channel = chain_.channel;
    chain_.base = unit_of_quantity(channel.quantity);
    if (!chain_.base) return Problem{fmt::format("\"{}\" is no quantity", channel.quantity), "temperature, humidity, pressure or illuminance"};
    chain_.shown = unit_by_ucum(channel.unit);
    if (!chain_.shown || chain_.shown->dimension != chain_.base->dimension)
      return Problem{fmt::format("\"{}\" is no unit of {}", channel.unit, channel.quantity), fmt::format("a unit such as {}", chain_.base->ucum)};
    device_ = find_by_id(bench_.devices, channel.device);
    if (!device_) return Problem{fmt::format("there is no device \"{}\"", channel.device), "one of the bench's devices"};
    part_ = catalogue_.find(device_->part);
    if (!part_) return Problem{fmt::format("there is no part \"{}\" in the catalogue", device_->part), "an id or marking that `parts` lists"};
    quantity_ = part_->measures(channel.quantity);
    if (!quantity_) return Problem{fmt::format("\"{}\" does not measure {}", part_->name, channel.quantity), "a quantity of the part"};
    const auto law = transfer_law(*part_, device_->settings);
    if (!law) return law.problem();
    if (const auto problem = check_front_end(*law)) return *problem;
    converter_ = find_by_id(bench_.converters, device_->converter);
    if (!converter_) return Problem{fmt::format("\"{}\" is connected to no converter", device_->id), "a converter of the bench"};

    chain_.part_id = part_->id;
    chain_.kelvin_per_watt = part_->kelvin_per_watt;
    add_reading_links();
    add_sensor(*law);
    if (device_->front_end.kind == FrontEndKind::divider) add_divider();
    add_converter();
    add_reading_stages(*law);
    return std::move(chain_);
  }

 private:
  std::optional<Problem> check_front_end(const TransferLaw& law) const {
    const bool resistive = law.output_dimension == Dimension::resistance;
    if (law.output_dimension == Dimension::current)
      return Problem{fmt::format("\"{}\" gives a current: a converter cannot see it by itself", device_->id), "a sensor that gives a voltage or a resistance"};
    if (resistive && device_->front_end.kind == FrontEndKind::direct)
      return Problem{fmt::format("\"{}\" is a resistance: a converter cannot see it by itself", device_->id), "a front end of kind divider"};
    if (!resistive && device_->front_end.kind == FrontEndKind::divider)
      return Problem{fmt::format("\"{}\" gives a voltage: a fixed resistor beside a resistive sensor does not fit it", device_->id), "a front end of kind direct"};
    if (resistive && !find_by_id(bench_.rails, device_->front_end.rail))
      return Problem{fmt::format("the divider of \"{}\" is fed by no rail", device_->id), "a rail of the bench in front_end.rail"};
    return std::nullopt;
  }

  std::size_t add_link(LinkPointer link) {
    chain_.links.push_back(std::move(link));
    return chain_.links.size();
  }
  void add_stage(StageName name, std::string caption, const Unit& unit, std::size_t node) { chain_.stages.push_back({name, std::move(caption), &unit, node}); }

  void add_reading_links() {
    chain_.world_node = add_link(std::make_shared<UnitLink>(*chain_.shown));
    chain_.compensated_node = chain_.world_node;
    add_stage(StageName::world, chain_.channel.place, *chain_.base, chain_.world_node);
    if (!chain_.channel.correction.coefficients.empty())
      chain_.compensated_node = add_link(std::make_shared<CorrectionLink>(chain_.channel.correction, std::string(difference_symbol(*chain_.base))));
  }

  void add_sensor(const TransferLaw& law) {
    // A calibration with a stated uncertainty replaces what the sheet says of the part.
    const bool calibrated = chain_.channel.correction.standard_uncertainty > 0 && !chain_.channel.correction.coefficients.empty();
    const auto node = add_link(std::make_shared<SensorLink>(law, *quantity_, "part accuracy", !calibrated));
    add_stage(StageName::sensor, law.caption, base_unit(law.output_dimension), node);
  }

  void add_divider() {
    const FrontEnd& front_end = device_->front_end;
    const KnownVoltage& supply = find_by_id(bench_.rails, front_end.rail)->voltage;
    chain_.divider = std::make_shared<DividerLink>(DividerLink::Setup{.supply_v = supply.best_v(),
                                                                      .supply_half_width = supply.relative_half_width(),
                                                                      .supply_cause = rail_cause(front_end.rail),
                                                                      .fixed_ohm = front_end.fixed_ohm,
                                                                      .fixed_tolerance = front_end.fixed_tolerance,
                                                                      .position = front_end.position});
    const auto node = add_link(chain_.divider);
    add_stage(StageName::front_end, fmt::format("{} {}, {:.3f} V", resistor_code(front_end.fixed_ohm), front_end.position == Position::top ? "above" : "below", supply.best_v()),
              base_unit(Dimension::voltage), node);
  }

  void add_converter() {
    const KnownVoltage& reference = reference_of(bench_, *converter_);
    chain_.converter = std::make_shared<ConverterLink>(*converter_, reference.best_v(), reference.relative_half_width(), rail_cause(converter_->reference_rail));
    chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
    const Unit& counts = base_unit(Dimension::number);
    add_stage(StageName::converter, fmt::format("{} bits, {}, {:.3f} V", converter_->bits, converter_->convention == CodeConvention::steps ? "2ⁿ" : "2ⁿ − 1", reference.best_v()), counts, chain_.converter_node);
    if (converter_->reported_bits() > converter_->bits) {
      chain_.raw_node = add_link(std::make_shared<ReportLink>(*converter_));
      add_stage(StageName::raw, fmt::format("{}, {} bits", converter_->justification == Justification::left ? "left-justified" : "scaled up", converter_->reported_bits()), counts, chain_.raw_node);
    }
  }

  void add_reading_stages(const TransferLaw& law) {
    const Correction& correction = chain_.channel.correction;
    add_stage(StageName::compensated, "by the " + law.name, *chain_.base, chain_.compensated_node);
    if (!correction.coefficients.empty()) add_stage(StageName::corrected, correction.note.empty() ? "by calibration" : correction.note, *chain_.base, chain_.world_node);
    add_stage(StageName::shown, chain_.shown == chain_.base ? "as read" : fmt::format("in {}", chain_.shown->symbol), *chain_.shown, 0);
  }

  const Bench& bench_;
  const Catalogue& catalogue_;
  Chain chain_;
  const Device* device_ = nullptr;
  const Part* part_ = nullptr;
  const PartQuantity* quantity_ = nullptr;
  const Converter* converter_ = nullptr;
};

}  // namespace

Result<Chain> build_chain(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id) {
  const Channel* channel = find_by_id(bench.channels, channel_id);
  if (!channel) {
    std::string known;
    for (const Channel& other : bench.channels)
      if (known.size() < 100) known += (known.empty() ? "one of " : ", ") + other.id;
    return Problem{fmt::format("there is no channel \"{}\"", channel_id), known.empty() ? "a bench with channels" : known};
  }
  return Builder(bench, catalogue, *channel).build();
}

}  // namespace fair_gauge
