// A part that answers with bytes itself.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "chain/builder.h"
#include "digital/encoder.h"
#include "digital/registers.h"
#include "language/translation.h"

namespace fair_gauge {

// World, raw number, compensated: the bytes around the raw number are those of the specimen.
Result<Chain> Builder::build_digital() {
  auto decoder = Decoder::make(catalogue_.share(part_->id), device_->settings);
  if (!decoder) return decoder.problem();
  const ByteLayout& layout = part_->bytes;
  const auto reading = std::ranges::find(layout.readings, chain_.channel.quantity, &ByteReading::quantity);
  if (reading == layout.readings.end())
    return Problem{
        translated("\"{}\" does not read {} from its bytes", part_->name, translated_name(chain_.channel.quantity)),
        translated("a quantity of its layout")};
  if (!decoder->gives(static_cast<std::size_t>(reading - layout.readings.begin())))
    return Problem{
        translated("\"{}\" does not read {} as it is set", device_->id, translated_name(chain_.channel.quantity)),
        translated("settings of the device for which {}", reading->only)};
  ByteBlocks blocks;
  for (const auto& [block, hex] : device_->trimming) {
    const auto bytes = read_hex(hex);
    if (!bytes)
      return Problem{translated("trimming {} of \"{}\": {}", block, device_->id, bytes.problem().wrong),
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
  for (const auto& [name, channel] : device_->side_inputs) {
    const auto quantity = enum_by_name<Quantity>(name);
    if (!quantity || quantity == chain_.channel.quantity) continue;
    const auto other = std::ranges::find(layout.readings, *quantity, &ByteReading::quantity);
    if (other == layout.readings.end()) continue;
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
  add_stage(StageName::compensated,
            Decoder::hold_trimming(chain_.trimming, layout) ? translated("by the data sheet's formula")
                                                            : translated("with made-up trimming"),
            *chain_.base, chain_.compensated_node);
  add_shown_stages();
  return std::move(chain_);
}

// A raw number is a code of which one is one.
void Builder::add_raw_number(const DigitalLink& link, const ByteReading& reading,
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
      ConverterLink::Setup{.converter = counter, .reference = {span, 0, ""}, .counts = to_translate("raw")});
  chain_.converter_node = chain_.raw_node = add_link(chain_.converter);
  ByteField field = *std::ranges::find(part_->bytes.fields, reading.field, &ByteField::name);
  int bits = place.bits();
  if (floating) {
    bits = floating->mantissa_bits + floating->exponent_bits;
    chain_.raw_node = add_link(std::make_shared<FloatingLink>(floating->mantissa_bits, floating->exponent_bits));
    field = {.name = translated("exponent and mantissa"), .block = field.block};
    for (int byte = 0; byte < bits / 8; ++byte) field.bits += (byte > 0 ? " " : "") + std::to_string(byte);
  }
  add_raw_correction();
  std::optional<Part> with_field;  // a whole part is copied only where it is needed
  if (floating) with_field = *part_, with_field->bytes.fields.push_back(field);
  if (auto bytes = FieldBytes::of_field(with_field ? *with_field : *part_, field.name))
    chain_.bytes = std::move(*bytes);
  add_stage(StageName::bytes, field.block == "frame" ? translated("of the frame") : translated("of {}", field.block),
            base_unit(Dimension::number), chain_.raw_node);
  add_stage(StageName::raw, translated("{}, {} bits", field.name, bits), base_unit(Dimension::number), chain_.raw_node);
}

}  // namespace fair_gauge
