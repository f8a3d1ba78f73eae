// Bench → chain. The only place that knows which links a channel needs and in which order.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "chain/chain.h"
#include "chain/digital_link.h"
#include "digital/encoder.h"
#include "digital/registers.h"

namespace fair_gauge {
namespace {

// The base unit of a quantity's name.
const Unit* unit_of_quantity(std::string_view quantity) {
  const Dimension dimension = dimension_of_quantity(quantity);
  return dimension == Dimension::number ? nullptr : &base_unit(dimension);
}

std::string rail_cause(const std::string& rail) { return rail.empty() ? "" : "rail " + rail; }

class Builder {
 public:
  Builder(const Bench& bench, const Catalogue& catalogue, const Channel& channel, SideValues beside, int depth = 0)
      : bench_(bench), catalogue_(catalogue), asked_(channel), beside_(std::move(beside)), depth_(depth) {
    chain_.channel = channel;
  }

  Result<Chain> build() {
    const Channel& channel = chain_.channel;
    chain_.base = unit_of_quantity(channel.quantity);
    if (!chain_.base)
      return Problem{fmt::format("\"{}\" is no quantity", channel.quantity),
                     "temperature, humidity, pressure or illuminance"};
    chain_.shown = unit_by_ucum(channel.unit, chain_.base->dimension);
    if (!chain_.shown)
      return Problem{fmt::format("\"{}\" is no unit of {}", channel.unit, channel.quantity),
                     fmt::format("a unit such as {}", chain_.base->ucum)};
    chain_.also = channel.also_unit.empty() ? nullptr : unit_by_ucum(channel.also_unit, chain_.base->dimension);
    if (!channel.also_unit.empty() && !chain_.also)
      return Problem{fmt::format("\"{}\" is no unit of {}", channel.also_unit, channel.quantity),
                     fmt::format("a unit such as {}, or none", chain_.base->ucum)};
    if (channel.derived) return build_derived(*channel.derived);
    if (channel.arrives_converted()) return build_arriving();
    device_ = find_by_id(bench_.devices, channel.device);
    if (!device_)
      return Problem{fmt::format("there is no device \"{}\"", channel.device), "one of the bench's devices"};
    part_ = catalogue_.find(device_->part);
    if (!part_)
      return Problem{fmt::format("there is no part \"{}\" in the catalogue", device_->part),
                     "an id or marking that `parts` lists"};
    quantity_ = part_->measures(channel.quantity);
    if (!quantity_)
      return Problem{fmt::format("\"{}\" does not measure {}", part_->name, channel.quantity),
                     "a quantity of the part"};
    if (part_->is_digital()) return build_digital();
    Result<TransferLaw> law = law_of_device();
    if (!law) return law.problem();
    if (const auto problem = check_front_end(*law)) return *problem;
    pulses_ = law->output_dimension == Dimension::number;
    converter_ = find_by_id(bench_.converters, device_->converter);
    if (!converter_ && !pulses_)
      return Problem{fmt::format("\"{}\" is connected to no converter", device_->id), "a converter of the bench"};

    chain_.part_id = part_->id;
    chain_.kelvin_per_watt = part_->kelvin_per_watt;
    add_reading_links();
    add_sensor(*law);
    if (pulses_) {
      add_pulse_counter(*law);
    } else {
      add_front_end(*law);
      add_converter();
    }
    add_reading_stages(*law);
    return std::move(chain_);
  }

 private:
  // The chain of its first input, with one link more at the world's end.
  Result<Chain> build_derived(const DerivedFrom& from) {
    const Channel& channel = chain_.channel;
    const DerivedQuantity* quantity = derived_quantity(from.as);
    if (!quantity) {
      std::string known;
      for (const DerivedQuantity& each : derived_quantities()) known += (known.empty() ? "one of " : ", ") + each.id;
      return Problem{fmt::format("\"{}\" is nothing that can be worked out", from.as), known};
    }
    if (quantity->quantity != channel.quantity)
      return Problem{fmt::format("a {} is a {}, not a {}", quantity->name, quantity->quantity, channel.quantity),
                     fmt::format("\"quantity\": \"{}\"", quantity->quantity)};
    if (!channel.correction.empty())
      return Problem{"what is worked out has no correction of its own", "a correction of what it is worked out from"};
    if (!channel.device.empty() || channel.arrives)
      return Problem{"a channel that is worked out has no sensor of its own", "neither \"device\" nor \"arrives\""};
    const bool second = quantity->inputs.size() > 1;
    if (second && from.beside.empty() && !from.number)
      return Problem{fmt::format("the {} takes a second input, {}", quantity->name, quantity->inputs.back()),
                     "a channel in \"beside\", or a \"number\""};
    auto first = input_chain(from.of, quantity->inputs.front());
    if (!first) return first.problem();
    for (const std::string& id : {from.of, from.beside})
      if (const Channel* input = find_by_id(bench_.channels, id);
          input && input->kind != PressureKind::none && input->kind != PressureKind::absolute)
        return Problem{fmt::format("\"{}\" is no absolute pressure", id), "channels of absolute pressure"};
    DerivedLink::Setup setup{.quantity = quantity,
                             .first_symbol = std::string(first->base->symbol),
                             .symbol = std::string(chain_.base->symbol)};
    const Range& wanted = first->channel.wanted;
    const double span = wanted.to - wanted.from;
    setup.from = wanted.from - span, setup.to = wanted.to + span;
    if (first->base->dimension == Dimension::humidity)
      setup.from = std::max(setup.from, 0.1), setup.to = std::min(setup.to, 100.0);
    if (first->base->dimension == Dimension::pressure && first->channel.kind == PressureKind::absolute)
      setup.from = std::max(setup.from, 1.0);
    chain_.inputs.push_back(std::make_shared<const Chain>(*first));
    chain_.side_channels = first->side_channels;
    if (second) {
      setup.beside_symbol = std::string(base_unit(dimension_of_quantity(quantity->inputs.back())).symbol);
      std::shared_ptr<const Chain> beside;
      if (from.beside.empty()) {
        setup.beside = *from.number;
      } else {
        auto chain = input_chain(from.beside, quantity->inputs.back());
        if (!chain) return chain.problem();
        chain_.side_channels.push_back(from.beside);
        setup.beside_name = chain->channel.name.empty() ? from.beside : chain->channel.name;
        // Until it has a reading it is taken where it is wanted; a log knows better (stream/row_chains.h).
        const auto now = beside_.find(from.beside);
        setup.beside = now != beside_.end() ? now->second : (chain->channel.wanted.from + chain->channel.wanted.to) / 2;
        beside = std::make_shared<const Chain>(std::move(*chain));
      }
      chain_.inputs.push_back(std::move(beside));
    }
    const std::string caption =
        !second ? "from " + from.of : fmt::format("beside {:.4g} {}", setup.beside, setup.beside_symbol);
    add_reading_links();
    const std::size_t here = chain_.compensated_node;
    chain_.derived = std::make_shared<DerivedLink>(std::move(setup));
    const std::size_t shift = add_link(chain_.derived) - first->world_node;
    for (std::size_t i = first->world_node; i < first->links.size(); ++i) add_link(first->links[i]);
    for (const Stage& stage : first->stages)
      if (stage.name != StageName::world && stage.name != StageName::shown)
        chain_.stages.push_back({stage.name, stage.caption, stage.unit, stage.node + shift});
    chain_.compensated_node = first->compensated_node + shift;
    chain_.converter_node = first->converter_node + shift;
    chain_.raw_node = first->raw_node + shift;
    chain_.converter = first->converter;
    chain_.bytes = first->bytes;
    chain_.part_id = first->part_id;
    if (first->channel.arrives_converted()) {
      chain_.channel.arrives = first->channel.arrives;
      chain_.channel.arrives->unit = first->channel.arriving_unit();
    }
    add_stage(StageName::derived, caption, *chain_.base, here);
    add_shown_stages();
    return std::move(chain_);
  }

  Result<Chain> input_chain(const std::string& id, const std::string& quantity) const {
    const Channel* input = find_by_id(bench_.channels, id);
    if (!input)
      return Problem{fmt::format("there is no channel \"{}\" to work it out from", id), "a channel of the bench"};
    if (input->derived) return Problem{fmt::format("\"{}\" is worked out itself", id), "a channel that is measured"};
    if (input->quantity != quantity)
      return Problem{fmt::format("\"{}\" reads {}", id, input->quantity), fmt::format("a channel of {}", quantity)};
    if (depth_ >= 2) return Problem{"channels hang on each other in a circle", "inputs without a loop"};
    return Builder(bench_, catalogue_, *input, beside_, depth_ + 1).build();
  }

  // A number that was converted before it came. Behind it stands the sensor with its circuit where the bench knows
  // both, the part where it knows that, and else what nobody states.
  Result<Chain> build_arriving() {
    const Channel& channel = chain_.channel;
    const Unit* unit = unit_by_ucum(channel.arriving_unit());
    if (!unit || unit->dimension != chain_.base->dimension)
      return Problem{fmt::format("\"{}\" is no unit of {}", channel.arriving_unit(), channel.quantity),
                     fmt::format("a unit such as {}", chain_.base->ucum)};
    if (channel.correction.placed == CorrectionPlace::raw && !channel.correction.empty())
      return Problem{"a value that arrives converted has no raw number to correct", "a correction of the reading"};
    device_ = channel.device.empty() ? nullptr : find_by_id(bench_.devices, channel.device);
    if (!channel.device.empty() && !device_)
      return Problem{fmt::format("there is no device \"{}\"", channel.device), "one of the bench's devices, or none"};
    part_ = device_ ? catalogue_.find(device_->part) : nullptr;
    if (device_ && !part_)
      return Problem{fmt::format("there is no part \"{}\" in the catalogue", device_->part),
                     "an id or marking that `parts` lists"};
    quantity_ = part_ ? part_->measures(channel.quantity) : nullptr;
    if (part_ && !quantity_)
      return Problem{fmt::format("\"{}\" does not measure {}", part_->name, channel.quantity),
                     "a quantity of the part"};
    const std::string form = fmt::format("in {}, {}", unit->symbol, decimals_words(channel.arrives->decimals));
    if (part_ && !part_->is_digital() && find_by_id(bench_.converters, device_->converter))
      return build_behind(*unit, form);
    if (part_) chain_.part_id = part_->id;
    add_reading_links();
    add_link(part_ ? std::make_shared<ReadingLink>("part accuracy", of_grade(*quantity_, device_->grade), proven())
                   : std::make_shared<ReadingLink>("whatever measures it", PartQuantity{}, proven()));
    add_link(std::make_shared<ArrivingUnitLink>(*unit, channel.arrives->decimals));
    Converter counter;  // of the last decimal
    counter.bits = 53;
    counter.polarity = Polarity::bipolar;
    counter.noise_lsb = counter.inl_lsb = 0;
    chain_.converter =
        std::make_shared<ConverterLink>(ConverterLink::Setup{.converter = counter,
                                                             .reference = {std::exp2(counter.bits - 1), 0, ""},
                                                             .counts = "steps of the last decimal"});
    chain_.converter_node = add_link(chain_.converter);
    chain_.raw_node = add_link(std::make_shared<DecimalsLink>(channel.arrives->decimals));
    add_stage(StageName::raw, "as it arrives, " + form, *unit, chain_.raw_node);
    add_stage(StageName::compensated, "by other firmware", *chain_.base, chain_.compensated_node);
    add_shown_stages();
    return std::move(chain_);
  }

  static std::string decimals_words(int decimals) {
    return decimals == 0   ? std::string("whole numbers")
           : decimals == 1 ? std::string("one decimal")
                           : fmt::format("{} decimals", decimals);
  }

  // The chain from the world to the code as for a code that arrives, then what the firmware made of that code.
  Result<Chain> build_behind(const Unit& unit, const std::string& form) {
    const int decimals = chain_.channel.arrives->decimals;
    Channel coded = chain_.channel;
    coded.arrives.reset();
    coded.contributions.push_back(
        {.name = "decimals that arrive", .half_width = 0.5 * std::pow(10.0, -decimals) * unit.scale});
    auto built = Builder(bench_, catalogue_, coded, beside_, depth_).build();
    if (!built) return built;
    built->channel = chain_.channel;
    chain_ = std::move(*built);
    chain_.bytes.reset();
    chain_.links.resize(chain_.converter_node);
    std::erase_if(chain_.stages,
                  [](const Stage& stage) { return stage.name == StageName::bytes || stage.name == StageName::raw; });
    const auto after = std::ranges::find(chain_.stages, StageName::compensated, &Stage::name);
    const std::vector<LinkPointer> between(chain_.links.begin() + static_cast<std::ptrdiff_t>(chain_.compensated_node),
                                           chain_.links.end());
    const auto node = add_link(std::make_shared<FirmwareLink>(FirmwareLink::Setup{
        between, &unit, decimals, chain_.converter->lowest_code(), chain_.converter->largest_code()}));
    chain_.raw_node = node;
    chain_.stages.insert(after, {StageName::raw, "as it arrives, " + form, &unit, node});
    std::ranges::find(chain_.stages, StageName::compensated, &Stage::name)->caption = "by other firmware";
    return std::move(chain_);
  }

  // World, raw number, compensated: the bytes around the raw number are those of the specimen.
  Result<Chain> build_digital() {
    auto decoder = Decoder::make(catalogue_.share(part_->id), device_->settings);
    if (!decoder) return decoder.problem();
    const ByteLayout& layout = part_->bytes;
    const auto reading = std::ranges::find(layout.readings, chain_.channel.quantity, &ByteReading::quantity);
    if (reading == layout.readings.end())
      return Problem{fmt::format("\"{}\" does not read {} from its bytes", part_->name, chain_.channel.quantity),
                     "a quantity of its layout"};
    if (!decoder->gives(static_cast<std::size_t>(reading - layout.readings.begin())))
      return Problem{fmt::format("\"{}\" does not read {} as it is set", device_->id, chain_.channel.quantity),
                     fmt::format("settings of the device for which {}", reading->only)};
    ByteBlocks blocks;
    for (const auto& [block, hex] : device_->trimming) {
      const auto bytes = read_hex(hex);
      if (!bytes)
        return Problem{fmt::format("trimming {} of \"{}\": {}", block, device_->id, bytes.problem().wrong),
                       bytes.problem().expected};
      blocks[block] = *bytes;
    }
    std::vector<double> fields;
    for (std::size_t i = 0; i < layout.fields.size(); ++i) {
      const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
      auto value = decoder->places()[i].value(Decoder::find_block(blocks, *block));
      if (!value) value = decoder->places()[i].value(*read_hex(block->example));
      // A number alone is read as in the part's short form: the remainder beside it counts as none.
      const bool remainder = !reading->beside.empty() && block->shorter > 0 && layout.fields[i].role == "data" &&
                             layout.fields[i].name != reading->field;
      fields.push_back(remainder ? 0 : static_cast<double>(value.value_or(0)));
    }
    // What the formula carries over from another quantity of the same part follows that quantity's channel.
    for (const auto& [quantity, channel] : device_->side_inputs) {
      const auto other = std::ranges::find(layout.readings, quantity, &ByteReading::quantity);
      if (other == layout.readings.end() || quantity == chain_.channel.quantity) continue;
      chain_.side_channels.push_back(channel);
      if (const auto now = beside_.find(channel); now != beside_.end() && std::isfinite(now->second))
        solve_field(*decoder, fields, static_cast<std::size_t>(other - layout.readings.begin()), now->second);
    }
    chain_.part_id = part_->id;
    chain_.kelvin_per_watt = part_->kelvin_per_watt;
    auto element = accuracy_of_element();
    if (!element) return element.problem();
    add_reading_links();
    const auto shared = std::make_shared<const Decoder>(std::move(*decoder));
    std::optional<DigitalLink::Setup::Floating> floating;
    if (shared->register_block() && reading == layout.readings.begin()) {
      const auto exponent = *shared->field(reading->beside), mantissa = *shared->field(reading->field);
      floating = {exponent, shared->places()[mantissa].bits(), shared->places()[exponent].bits()};
    }
    const auto link = std::make_shared<DigitalLink>(
        DigitalLink::Setup{.decoder = shared,
                           .reading = static_cast<std::size_t>(reading - layout.readings.begin()),
                           .fields = fields,
                           .floating = floating,
                           .range = of_grade(*quantity_, device_->grade),
                           .element = *element,
                           .proven = proven()});
    add_link(link);
    chain_.decoder = shared;
    chain_.trimming = std::move(blocks);
    add_raw_number(*link, *reading, floating);
    add_stage(StageName::compensated, "by the data sheet's formula", *chain_.base, chain_.compensated_node);
    add_shown_stages();
    return std::move(chain_);
  }

  // A raw number is a code of which one is one.
  void add_raw_number(const DigitalLink& link, const ByteReading& reading,
                      const std::optional<DigitalLink::Setup::Floating>& floating) {
    const FieldPlace& place = link.place();
    Converter counter;
    counter.bits = floating ? static_cast<int>(std::ceil(std::log2(link.most() + 1))) : place.bits();
    counter.inl_lsb = 0;
    counter.polarity = place.least() < 0 ? Polarity::bipolar : Polarity::unipolar;
    const double middle = (chain_.channel.wanted.from + chain_.channel.wanted.to) / 2,
                 code = link.forward_off(middle, {});
    // Over many codes: a formula in whole numbers gives the same reading for several.
    const double reach = std::max(1.0, std::exp2(counter.bits - 12));
    const double step =
        std::abs(link.inverse_continuous(code + reach) - link.inverse_continuous(code - reach)) / (2 * reach);
    // A noise that the sheet states for these settings; else a third of the step that it promises.
    const auto stated = figure_of(*part_, device_->settings, "noise", chain_.channel.quantity, device_->registers);
    const auto promised = [&] {
      return figure_of(*part_, device_->settings, "resolution", chain_.channel.quantity, device_->registers);
    };
    const double noise = stated ? *stated : promised().value_or(quantity_->resolution) / 3;
    counter.noise_lsb = step > 0 && std::isfinite(step) ? noise / step : 0;
    const double span = std::exp2(place.least() < 0 ? counter.bits - 1 : counter.bits);
    chain_.converter = std::make_shared<ConverterLink>(
        ConverterLink::Setup{.converter = counter, .reference = {span, 0, ""}, .counts = "raw"});
    chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
    ByteField field = *std::ranges::find(part_->bytes.fields, reading.field, &ByteField::name);
    int bits = place.bits();
    if (floating) {
      bits = floating->mantissa_bits + floating->exponent_bits;
      chain_.raw_node = add_link(std::make_shared<FloatingLink>(floating->mantissa_bits, floating->exponent_bits));
      field = {.name = "exponent and mantissa", .block = field.block};
      for (int byte = 0; byte < bits / 8; ++byte) field.bits += (byte > 0 ? " " : "") + std::to_string(byte);
    }
    add_raw_correction();
    std::optional<Part> with_field;  // a whole part is copied only where it is needed
    if (floating) with_field = *part_, with_field->bytes.fields.push_back(field);
    if (auto bytes = FieldBytes::of_field(with_field ? *with_field : *part_, field.name))
      chain_.bytes = std::move(*bytes);
    add_stage(StageName::bytes, field.block == "frame" ? "of the frame" : "of " + field.block,
              base_unit(Dimension::number), chain_.raw_node);
    add_stage(StageName::raw, fmt::format("{}, {} bits", field.name, bits), base_unit(Dimension::number),
              chain_.raw_node);
  }

  // The device's settings, then what the bench knows better: the rail that feeds the sensor, and other channels'
  // readings.
  Result<TransferLaw> law_of_device() {
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

  std::optional<Problem> check_front_end(const TransferLaw& law) const {
    const FrontEndKind kind = device_->front_end.kind;
    const auto fits = [&](std::initializer_list<FrontEndKind> kinds) {
      return std::find(kinds.begin(), kinds.end(), kind) != kinds.end();
    };
    using enum FrontEndKind;
    if (law.output_dimension == Dimension::current && !fits({load, transimpedance}))
      return Problem{fmt::format("\"{}\" gives a current: a converter cannot see it by itself", device_->id),
                     "a front end of kind load or transimpedance"};
    if (law.output_dimension == Dimension::resistance && !fits({divider}))
      return Problem{fmt::format("\"{}\" is a resistance: a converter cannot see it by itself", device_->id),
                     "a front end of kind divider"};
    if (law.output_dimension == Dimension::voltage && !fits({direct, level_divider, amplifier}))
      return Problem{fmt::format("\"{}\" gives a voltage: a {} does not fit it", device_->id, enum_name(kind)),
                     "a front end of kind direct, level-divider or amplifier"};
    if (law.output_dimension == Dimension::number && !fits({direct}))
      return Problem{fmt::format("\"{}\" gives pulses that are counted", device_->id), "a front end of kind direct"};
    if (kind == divider && !find_by_id(bench_.rails, device_->front_end.rail))
      return Problem{fmt::format("the divider of \"{}\" is fed by no rail", device_->id),
                     "a rail of the bench in front_end.rail"};
    return std::nullopt;
  }

  std::size_t add_link(LinkPointer link) {
    chain_.links.push_back(std::move(link));
    return chain_.links.size();
  }
  void add_stage(StageName name, std::string caption, const Unit& unit, std::size_t node) {
    chain_.stages.push_back({name, std::move(caption), &unit, node});
  }

  void add_reading_links() {
    chain_.world_node = add_link(std::make_shared<UnitLink>(*chain_.shown));
    chain_.compensated_node = chain_.world_node;
    add_stage(StageName::world, chain_.channel.place, *chain_.base, chain_.world_node);
    const Channel& channel = chain_.channel;
    if (channel.correction.empty() && channel.contributions.empty()) return;
    Correction here = channel.correction;
    if (here.placed != CorrectionPlace::physical)
      here.coefficients.clear(), here.table.clear();  // done before it arrives here, or on the raw number
    chain_.compensated_node = add_link(std::make_shared<CorrectionLink>(
        std::move(here), std::string(difference_symbol(*chain_.base)), channel.contributions, channel.due_days));
  }

  // Where what the points and the reference left takes the place of what the sheet says of the part. An offset says
  // nothing of the slope away from its points; other models follow it, and their covariance says how well.
  std::optional<Range> proven() const {
    const Correction& correction = chain_.channel.correction;
    if (correction.standard_uncertainty <= 0 || correction.empty()) return std::nullopt;
    if (correction.coefficients.size() == 1 && correction.covered) return correction.covered;
    constexpr double everywhere = std::numeric_limits<double>::infinity();
    return Range{-everywhere, everywhere};
  }

  void add_raw_correction() {
    Correction correction = chain_.channel.correction;
    if (correction.placed != CorrectionPlace::raw || correction.empty()) return;
    correction.standard_uncertainty = correction.drift_per_year = 0;  // counted once, on the reading
    correction.covariance.clear();
    chain_.raw_node = add_link(std::make_shared<CorrectionLink>(std::move(correction), ""));
  }

  // Whether a line of the sheet holds where the bench is: where another channel of the device measures what the line
  // asks for, anywhere in its wanted range; else a line that asks for nothing, or the first that does.
  bool holds_here(const AccuracyBand& band, const std::vector<AccuracyBand>& all) const {
    return std::ranges::all_of(band.beside, [&](const BandBeside& beside) {
      const auto channel = std::ranges::find_if(bench_.channels, [&](const Channel& each) {
        return each.device == device_->id && each.quantity == beside.quantity;
      });
      if (channel != bench_.channels.end())
        return channel->wanted.from <= beside.to && channel->wanted.to >= beside.from;
      const auto first = std::ranges::find_if(all, [](const AccuracyBand& each) { return !each.beside.empty(); });
      return first->beside == band.beside;
    });
  }

  // What a part promises in the grade that the bench has. A correction has taken its zero.
  PartQuantity of_grade(PartQuantity range, const std::string& wanted) const {
    if (!chain_.channel.correction.empty())
      for (AccuracyBand& band : range.accuracy) band.zero_offset = 0;
    const auto is_of = [](const std::string& grade) {
      return [&grade](const AccuracyBand& band) { return band.grade == grade; };
    };
    if (range.accuracy.empty()) return range;
    const std::string grade =
        std::ranges::any_of(range.accuracy, is_of(wanted)) ? wanted : range.accuracy.front().grade;
    std::erase_if(range.accuracy, [&](const AccuracyBand& band) { return band.grade != grade; });
    const std::vector<AccuracyBand> all = range.accuracy;
    std::erase_if(range.accuracy, [&](const AccuracyBand& band) { return !holds_here(band, all); });
    return range;
  }

  // A converter of finished readings is as good as what is connected to it.
  Result<std::optional<PartQuantity>> accuracy_of_element() const {
    const std::string& id = device_->element.empty() ? part_->element.part : device_->element;
    if (id.empty() || chain_.channel.quantity != part_->quantities.front().quantity)
      return std::optional<PartQuantity>();
    const Part* element = catalogue_.find(id);
    const PartQuantity* quantity = element ? element->measures(chain_.channel.quantity) : nullptr;
    if (!quantity)
      return Problem{fmt::format("\"{}\", connected to \"{}\", is no {} part of the catalogue", id, device_->id,
                                 chain_.channel.quantity),
                     "the id of a thermocouple or a platinum element"};
    return std::optional(
        of_grade(*quantity, device_->element_grade.empty() ? part_->element.grade : device_->element_grade));
  }

  // A sensor for each number of the law that the sheet lets be off, off by all of it.
  std::vector<SensorLink::Specimen> specimens(const PartQuantity& range) const {
    std::vector<SensorLink::Specimen> all;
    if (range.accuracy.empty() || range.accuracy.front().of != AccuracyOf::numbers) return all;
    for (const auto& [number, share] : range.accuracy.front().numbers) {
      std::map<std::string, double> settings = device_->settings;
      const auto own = part_->transfer.numbers.find(number);
      if (own == part_->transfer.numbers.end()) continue;
      settings.try_emplace(number, own->second);
      settings[number] *= 1 + share;
      if (auto law = transfer_law(*part_, settings)) all.push_back({number, share, std::move(*law)});
    }
    return all;
  }

  void add_sensor(const TransferLaw& law) {
    const PartQuantity range = of_grade(*quantity_, device_->grade);
    const auto node = add_link(std::make_shared<SensorLink>(SensorLink::Setup{.law = law,
                                                                              .range = range,
                                                                              .specimens = specimens(range),
                                                                              .proven = proven(),
                                                                              .supply = supply_,
                                                                              .beside = beside_chain_}));
    add_stage(StageName::sensor, law.caption, base_unit(law.output_dimension), node);
  }

  void add_front_end(const TransferLaw& law) {
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
        add_gain({.gain = beside_load(front_end.fixed_ohm),
                  .tolerances = {{resistor_code(front_end.fixed_ohm) + " resistor", front_end.fixed_half_width(),
                                  beside_load(front_end.fixed_ohm) / front_end.fixed_ohm,
                                  front_end.fixed_drift_half_width()}},
                  .input_symbol = "I",
                  .input_unit = "A",
                  .words = "the current through the load resistor"},
                 fmt::format("through {}", resistor_code(front_end.fixed_ohm)));
        source_ohm = front_end.fixed_ohm;
        break;
      case FrontEndKind::transimpedance:
        add_gain({.gain = front_end.fixed_ohm,
                  .offset_v = front_end.offset_v,
                  .offset_error_v = front_end.offset_error_v,
                  .lowest_v = front_end.lowest_v,
                  .highest_v = front_end.highest_v,
                  .tolerances = {{resistor_code(front_end.fixed_ohm) + " resistor", front_end.fixed_half_width(), 1,
                                  front_end.fixed_drift_half_width()}},
                  .input_symbol = "I",
                  .input_unit = "A",
                  .words = "the current through the feedback resistor"},
                 fmt::format("{} feedback", resistor_code(front_end.fixed_ohm)));
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
  double load_ohm() const {
    return converter_->input_ohm > 0 ? converter_->input_ohm + device_->front_end.filter_ohm
                                     : std::numeric_limits<double>::infinity();
  }
  double beside_load(double ohm) const { return 1 / (1 / ohm + 1 / load_ohm()); }

  // What a resistance in series with the pin leaves of the voltage, where the pin draws current.
  void add_pin_load(double source_ohm, std::size_t before) {
    const double in_series = source_ohm + device_->front_end.filter_ohm;
    if (converter_->input_ohm <= 0 || in_series <= 0) return;
    const auto node = add_link(std::make_shared<GainLink>(
        GainLink::Setup{.gain = converter_->input_ohm / (converter_->input_ohm + in_series),
                        .input_symbol = "U",
                        .input_unit = "V",
                        .words = fmt::format("before the pin's load of {}", with_prefix(converter_->input_ohm, "Ω"))}));
    for (Stage& stage : chain_.stages)
      if (stage.name == StageName::front_end && stage.node > before) stage.node = node;
  }

  std::size_t add_gain(GainLink::Setup setup, std::string caption) {
    const auto node = add_link(std::make_shared<GainLink>(std::move(setup)));
    add_stage(StageName::front_end, std::move(caption), base_unit(Dimension::voltage), node);
    return node;
  }

  // The converter's own input lies beside the bottom resistor.
  double add_level_divider() {
    const FrontEnd& front_end = device_->front_end;
    const double bottom = beside_load(front_end.bottom_ohm), ratio = bottom / (front_end.top_ohm + bottom);
    add_gain({.gain = ratio,
              .tolerances = {{resistor_code(front_end.top_ohm) + " above", front_end.fixed_half_width(), -(1 - ratio),
                              front_end.fixed_drift_half_width()},
                             {resistor_code(front_end.bottom_ohm) + " below", front_end.fixed_half_width(),
                              (1 - ratio) * bottom / front_end.bottom_ohm, front_end.fixed_drift_half_width()}},
              .input_symbol = "U",
              .input_unit = "V",
              .words = "before the divider"},
             fmt::format("{} over {}", resistor_code(front_end.top_ohm), resistor_code(front_end.bottom_ohm)));
    return front_end.top_ohm * bottom / (front_end.top_ohm + bottom);
  }

  void add_amplifier() {
    const FrontEnd& front_end = device_->front_end;
    const bool turns = front_end.amplifier == AmplifierKind::inverting;
    const double share = front_end.amplifier == AmplifierKind::non_inverting && front_end.gain > 0
                             ? 1 - 1 / front_end.gain
                             : 1;  // gain 1 + Rf/Rg
    add_gain(
        {.gain = turns ? -front_end.gain : front_end.gain,
         .offset_v = front_end.offset_v,
         .offset_error_v = front_end.offset_error_v,
         .lowest_v = front_end.lowest_v,
         .highest_v = front_end.highest_v,
         .tolerances = {{"gain resistor", front_end.fixed_half_width(), share, front_end.fixed_drift_half_width()},
                        {"feedback resistor", front_end.fixed_half_width(), share, front_end.fixed_drift_half_width()}},
         .input_symbol = "U",
         .input_unit = "V",
         .words = "before the amplifier"},
        fmt::format("{}{:.4g} times{}", turns ? "−" : "", front_end.gain,
                    front_end.offset_v == 0 ? ""
                                            : fmt::format(", {} {}", front_end.offset_v > 0 ? "+" : "−",
                                                          with_prefix(std::abs(front_end.offset_v), "V"))));
  }

  // Largest over the wanted range: the fixed resistor and the sensor in parallel.
  double divider_source_ohm(const TransferLaw& law) const {
    const double fixed = beside_load(device_->front_end.fixed_ohm);
    double highest = 0;
    for (const double at : {chain_.channel.wanted.from, chain_.channel.wanted.to}) {
      const double ohms = law.output(at);
      if (std::isfinite(ohms) && ohms > 0) highest = std::max(highest, fixed * ohms / (fixed + ohms));
    }
    return highest;
  }

  void add_divider() {
    const FrontEnd& front_end = device_->front_end;
    const KnownVoltage& supply = find_by_id(bench_.rails, front_end.rail)->voltage;
    // Two leads lie in series with the sensor. A third lets the pin look at the sensor's own end: one lead then lies on
    // the fixed resistor's side, the other stays where a single pin cannot tell it from the sensor. Four need a pin for
    // each end of the sensor.
    constexpr double copper_warms = 0.1;  // relative: ±25 K of copper
    const double in_series = front_end.wires == 2   ? 2 * front_end.lead_ohm
                             : front_end.wires == 3 ? front_end.lead_ohm
                                                    : 0;
    chain_.divider = std::make_shared<DividerLink>(
        DividerLink::Setup{.supply = {supply.best_v(), supply.relative_half_width(), rail_cause(front_end.rail),
                                      supply.drift_half_width()},
                           .fixed_ohm = front_end.fixed_ohm,
                           .fixed_tolerance = front_end.fixed_half_width(),
                           .fixed_later = front_end.fixed_drift_half_width(),
                           .position = front_end.position,
                           .lead_ohm = in_series,
                           .fixed_lead_ohm = front_end.wires == 3 ? front_end.lead_ohm : 0,
                           .load_ohm = load_ohm(),
                           .lead_half_width = in_series * copper_warms});
    const auto node = add_link(chain_.divider);
    add_stage(StageName::front_end,
              fmt::format("{} {}, {:.3f} V", resistor_code(front_end.fixed_ohm),
                          front_end.position == Position::top ? "above" : "below", supply.best_v()),
              base_unit(Dimension::voltage), node);
  }

  // What the sampling capacitor lacks when the pin's source is too weak for its time.
  double settling_error() const {
    if (converter_->sample_farad <= 0 || converter_->acquisition_s <= 0 || chain_.highest_source_ohm <= 0) return 0;
    // A filter's capacitor gives what it holds at once; what that lacks comes through the source with both.
    const double both = device_->front_end.filter_farad + converter_->sample_farad;
    return converter_->sample_farad / both * std::exp(-converter_->acquisition_s / (chain_.highest_source_ohm * both));
  }

  void add_converter() {
    const KnownVoltage& reference = reference_of(bench_, *converter_);
    const bool fixed_above = device_->front_end.position == Position::top;
    const bool divided = device_->front_end.kind == FrontEndKind::divider;
    chain_.converter = std::make_shared<ConverterLink>(
        ConverterLink::Setup{.converter = *converter_,
                             .reference = {reference.best_v(), reference.relative_half_width(),
                                           rail_cause(converter_->reference_rail), reference.drift_half_width()},
                             .settling_error = settling_error(),
                             .at_top = !divided      ? ""
                                       : fixed_above ? "the sensor is open, or its lead is broken"
                                                     : "the sensor is short",
                             .at_bottom = !divided      ? ""
                                          : fixed_above ? "the sensor is short, or its supply is missing"
                                                        : "the sensor is open, or its supply is missing"});
    chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
    const Unit& counts = base_unit(Dimension::number);
    const std::string span = with_prefix(chain_.converter->span_v(), "V");
    add_stage(StageName::converter,
              fmt::format("{} bits, {}, {}", converter_->bits,
                          converter_->convention == CodeConvention::steps ? "2ⁿ" : "2ⁿ − 1",
                          converter_->polarity == Polarity::bipolar ? "±" + span
                          : chain_.converter->span_v() < 1          ? span
                                                           : fmt::format("{:.3f} V", chain_.converter->span_v())),
              counts, chain_.converter_node);
    add_converter_bytes();
    if (converter_->reported_bits() > converter_->bits && converter_->polarity == Polarity::unipolar) {
      chain_.raw_node = add_link(std::make_shared<ReportLink>(*converter_));
      add_stage(
          StageName::raw,
          fmt::format("{}, {} bits", converter_->justification == Justification::left ? "left-justified" : "scaled up",
                      converter_->reported_bits()),
          counts, chain_.raw_node);
    }
    const std::size_t before = chain_.raw_node;
    add_raw_correction();
    if (chain_.raw_node == before) return;
    std::erase_if(chain_.stages, [](const Stage& stage) { return stage.name == StageName::raw; });
    add_stage(StageName::raw, "as it arrives, corrected here", counts, chain_.raw_node);
  }

  // A converter of its own package sends its codes as bytes.
  void add_converter_bytes() {
    const Part* part = converter_->part.empty() ? nullptr : catalogue_.find(converter_->part);
    if (!part || !part->is_digital() || part->bytes.readings.empty()) return;
    auto bytes = FieldBytes::of_field(*part, part->bytes.readings.front().field);
    if (!bytes) return;
    chain_.bytes = std::move(*bytes);
    add_stage(StageName::bytes,
              "of the " + (chain_.bytes->block_name() == "frame" ? "frame" : chain_.bytes->block_name()),
              base_unit(Dimension::number), chain_.converter_node);
  }

  // Pulses are counted, not converted: a converter whose step is one pulse and that is off by nothing else.
  // As wide as the most pulses that the part's range asks for, 12 bits at least.
  void add_pulse_counter(const TransferLaw& law) {
    const double most = std::max(law.output(quantity_->minimum), law.output(quantity_->maximum));
    const int bits = std::isfinite(most) ? std::clamp(static_cast<int>(std::ceil(std::log2(most + 2))), 12, 24) : 12;
    Converter counter;
    counter.bits = bits;
    counter.noise_lsb = counter.inl_lsb = 0;
    chain_.converter = std::make_shared<ConverterLink>(
        ConverterLink::Setup{.converter = counter, .reference = {std::exp2(bits), 0, ""}, .counts = "pulses"});
    chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
    add_stage(StageName::raw, "pulses counted", base_unit(Dimension::number), chain_.raw_node);
  }

  void add_reading_stages(const TransferLaw& law) {
    add_stage(StageName::compensated, "by the " + law.name, *chain_.base, chain_.compensated_node);
    add_shown_stages();
  }

  void add_shown_stages() {
    const Correction& correction = chain_.channel.correction;
    if (!correction.empty())
      add_stage(StageName::corrected, correction.note.empty() ? "by calibration" : correction.note, *chain_.base,
                chain_.world_node);
    add_stage(StageName::shown, chain_.shown == chain_.base ? "as read" : fmt::format("in {}", chain_.shown->symbol),
              *chain_.shown, 0);
  }

  const Bench& bench_;
  const Catalogue& catalogue_;
  const Channel& asked_;
  SideValues beside_;
  int depth_;  // of chains that measure what others need
  Chain chain_;
  const Device* device_ = nullptr;
  const Part* part_ = nullptr;
  const PartQuantity* quantity_ = nullptr;
  const Converter* converter_ = nullptr;
  std::optional<SharedVoltage> supply_;
  std::shared_ptr<const Chain> beside_chain_;
  bool pulses_ = false;
};

}  // namespace

Channel new_derived_channel(const Bench& bench, const DerivedQuantity& quantity, const DerivedFrom& from) {
  const auto wanted_of = [&](const std::string& id) {
    const Channel* input = find_by_id(bench.channels, id);
    return input ? input->wanted : Range{from.number.value_or(0), from.number.value_or(0)};
  };
  const Range one = wanted_of(from.of), other = wanted_of(from.beside);
  Channel channel;
  channel.name = quantity.name;
  channel.name.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(channel.name.front())));
  channel.id = quantity.id;
  std::ranges::replace(channel.id, '-', '_');
  for (int number = 2; find_by_id(bench.channels, channel.id); ++number)
    channel.id = fmt::format("{}_{}", channel.id.substr(0, quantity.id.size()), number);
  channel.derived = from;
  channel.quantity = quantity.quantity;
  channel.unit = base_unit(dimension_of_quantity(quantity.quantity)).ucum;
  channel.wanted = {std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
  for (const double first : {one.from, one.to})
    for (const double second : {other.from, other.to})
      if (const double value = quantity.function(std::array{first, second}); std::isfinite(value))
        channel.wanted = {std::min(channel.wanted.from, value), std::max(channel.wanted.to, value)};
  if (!(channel.wanted.from < channel.wanted.to)) channel.wanted = {0, 1};
  const Channel* first = find_by_id(bench.channels, from.of);
  if (first) channel.place = first->place, channel.period_s = first->period_s;
  if (first && first->quantity == quantity.quantity) channel.unit = first->unit;
  return channel;
}

Result<Chain> build_chain(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                          const SideValues& beside) {
  const Channel* channel = find_by_id(bench.channels, channel_id);
  if (!channel) {
    std::string known;
    for (const Channel& other : bench.channels)
      if (known.size() < 100) known += (known.empty() ? "one of " : ", ") + other.id;
    return Problem{fmt::format("there is no channel \"{}\"", channel_id),
                   known.empty() ? "a bench with channels" : known};
  }
  return Builder(bench, catalogue, *channel, beside).build();
}

}  // namespace fair_gauge
