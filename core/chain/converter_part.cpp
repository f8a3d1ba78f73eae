#include "chain/converter_part.h"

#include <algorithm>
#include <cmath>

#include "digital/decoder.h"
#include "digital/registers.h"

namespace fair_gauge {
namespace {

const PartSetting* setting_of(const Part& part, const char* key) {
  const auto found = std::ranges::find(part.bytes.settings, key, &PartSetting::key);
  return found == part.bytes.settings.end() ? nullptr : &*found;
}

// Full span ÷ reference, by what the part's example reads: 1 where the codes reach the reference, 0.5 for half of it.
double span_of(const Part& part, const Converter& converter, double reference_v) {
  const ByteBlock& block = part.bytes.blocks.front();
  const auto bytes = read_hex(block.example);
  const auto decoder = Decoder::make(part, {});
  const auto place = code_place(part, converter.bits);
  const auto code = bytes && place ? place->value(*bytes) : std::nullopt;
  if (!decoder || !code || *code == 0) return 1;
  const Decoded decoded = decoder->decode({{block.name, *bytes}});
  if (decoded.readings.empty()) return 1;
  const double codes = std::exp2(converter.polarity == Polarity::bipolar ? converter.bits - 1 : converter.bits);
  const double volts = decoded.readings.front().value / static_cast<double>(*code) * codes;
  return std::round(2 * volts * converter.gain / reference_v) / 2;
}

}  // namespace

bool is_converter(const Part& part) {
  return part.is_digital() && !part.bytes.blocks.empty() && part.measures(Quantity::bridge_voltage);
}

std::optional<FieldPlace> code_place(const Part& part, int bits) {
  std::optional<FieldPlace> narrowest;
  for (const ByteField& field : part.bytes.fields) {
    if (field.role != "data") continue;
    auto place = FieldPlace::read(field.bits, field.sign);
    if (place && place->bits() >= bits && place->bits() <= 32 && (!narrowest || place->bits() < narrowest->bits()))
      narrowest = std::move(*place);
  }
  return narrowest;
}

Converter with_part(Converter converter, const Part& part) {
  const PartQuantity& volts = *part.measures(Quantity::bridge_voltage);
  converter.part = part.id;
  converter.address = 0;
  converter.settings.clear();
  converter.justification = Justification::right;
  converter.register_bits = 0;
  const auto place = code_place(part, 1);
  if (place)
    converter.bits = place->bits(), converter.polarity = place->least() < 0 ? Polarity::bipolar : Polarity::unipolar;
  if (const PartSetting* bits = setting_of(part, "bits"); bits && !bits->choices.empty())
    converter.bits = static_cast<int>(std::ranges::max(bits->choices, {}, &SettingChoice::value).value);
  const PartSetting* gain = setting_of(part, "gain");
  converter.gain = gain ? gain->default_value : 1;
  // Its own reference: where the range is chosen, or the reference is what the range reaches.
  double reference_v = volts.maximum;
  bool brings_own = true;
  for (const char* key : {"full_scale", "reference", "excitation"})
    if (const PartSetting* setting = setting_of(part, key)) {
      reference_v = setting->default_value;
      brings_own = key == std::string_view("full_scale") || reference_v == volts.maximum;
    }
  converter.span_per_reference = span_of(part, converter, reference_v);
  if (brings_own) {
    converter.reference_rail.clear();
    converter.reference = {.nominal_v = reference_v};
  }
  const auto accuracy = std::ranges::find(volts.accuracy, AccuracyOf::reading, &AccuracyBand::of);
  converter.gain_error = accuracy == volts.accuracy.end() ? 0 : accuracy->value;
  const double codes = std::exp2(converter.polarity == Polarity::bipolar ? converter.bits - 1 : converter.bits);
  const double step_v = reference_v * converter.span_per_reference / converter.gain / codes;
  if (const auto noise = figure_of(part, {}, "noise")) converter.noise_lsb = *noise / step_v;
  return converter;
}

}  // namespace fair_gauge
