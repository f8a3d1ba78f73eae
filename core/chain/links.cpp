#include "chain/links.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "language/translation.h"

namespace fair_gauge {
namespace {

const double nan_value = std::nan("");

std::string symbol_of(Quantity quantity) { return std::string(base_unit(quantity).symbol); }

}  // namespace

// ---- sensor ----

Result<double> SensorLink::forward(double inner) const {
  const PartQuantity& range = setup_.range;
  const std::string symbol = symbol_of(range.quantity);
  if (!(inner >= range.minimum && inner <= range.maximum))
    return Problem{translated("{:.6g} {} is {} the part's limit", inner, symbol,
                              inner > range.maximum ? translated("above") : translated("below")),
                   translated("{:g} to {:g} {}", range.minimum, range.maximum, symbol)};
  const double output = setup_.law.output(inner);
  if (std::isnan(output))
    return Problem{translated("the sensor's law gives no output at {:.6g} {}", inner, symbol),
                   translated("{:g} to {:g} {}", range.minimum, range.maximum, symbol)};
  return output;
}

// A resistance far beyond those of the range is no temperature but a broken or bridged sensor.
std::string SensorLink::beyond(double outer, bool above) const {
  const PartQuantity& range = setup_.range;
  constexpr double far = 4;
  if (setup_.law.output_dimension == Dimension::resistance) {
    const double ends[] = {setup_.law.output(range.minimum), setup_.law.output(range.maximum)};
    if (outer > far * std::max(ends[0], ends[1]))
      return translated("{} is far above the sensor's resistances: it is open, or its lead is broken",
                        with_prefix(outer, "Ω"));
    if (outer < std::min(ends[0], ends[1]) / far)
      return translated("{} is far below the sensor's resistances: it is short", with_prefix(outer, "Ω"));
  }
  return translated("{} the part's limit of {:g} {}", above ? translated("above") : translated("below"),
                    above ? range.maximum : range.minimum, symbol_of(range.quantity));
}

double SensorLink::inverse_or_nan(double outer) const {
  const double inner = setup_.law.quantity(outer), slack = 1e-9 * (setup_.range.maximum - setup_.range.minimum);
  const bool is_read = inner >= setup_.range.minimum - slack && inner <= setup_.range.maximum + slack;
  return is_read ? inner : std::nan("");
}

Result<double> SensorLink::inverse(double outer) const {
  if (const double inner = inverse_or_nan(outer); !std::isnan(inner)) return inner;
  const PartQuantity& range = setup_.range;
  const std::string limits = translated("{:g} to {:g} {}", range.minimum, range.maximum, symbol_of(range.quantity));
  const double inner = setup_.law.quantity(outer);
  if (std::isnan(inner))
    return Problem{setup_.law.without_inverse.empty()
                       ? translated("the sensor gives no such output: it may be open, short or not connected")
                       : setup_.law.without_inverse,
                   limits};
  return Problem{beyond(outer, inner > range.maximum),
                 translated("a sensor that is connected and within its range, {}", limits)};
}

// How far a specimen reads wrong by the law of the sheet. Where a calibration has brought its readings right, what is
// left of it is the difference to the nearest place that is proven.
Source SensorLink::source_of(const Specimen& specimen, double inner) const {
  const auto error = [&](double at) { return setup_.law.quantity(specimen.law.output(at)) - at; };
  const std::string symbol = specimen.name == "r25" ? "R25" : specimen.name == "beta" ? "B" : specimen.name;
  Source source{.name = translated("{}, off by {:g} %", symbol, specimen.share * 100),
                .width = std::abs(error(inner)),
                .unit = symbol_of(setup_.range.quantity)};
  if (setup_.proven && setup_.proven->contains(inner))
    source.width = 0;
  else if (setup_.proven && std::isfinite(setup_.proven->from))
    source.width =
        std::abs(error(inner) - error(inner < setup_.proven->from ? setup_.proven->from : setup_.proven->to));
  if (!std::isfinite(source.width)) source.width = 0;
  return source;
}

std::vector<Source> SensorLink::sources(double inner) const {
  std::vector<Source> all;
  // A maximum figure is taken as the half-width of a rectangle, a typical one as one standard deviation.
  if (setup_.specimens.empty())
    all.push_back(accuracy_source(translated("part accuracy"), setup_.range, inner, setup_.proven));
  for (const Specimen& specimen : setup_.specimens) all.push_back(source_of(specimen, inner));
  if (setup_.supply)
    all.push_back({translated("sensor supply"), setup_.supply->cause, Distribution::rectangular,
                   setup_.supply->half_width * 100, "%", true, std::numeric_limits<double>::infinity(),
                   SourceKind::other, setup_.supply->later * 100});
  if (setup_.law.side)
    all.push_back(
        {setup_.law.side->name, "", Distribution::rectangular, setup_.law.side->half_width, setup_.law.side->unit});
  if (setup_.law.side) all.back().beside = setup_.beside, all.back().beside_at = setup_.law.side->value;
  return all;
}

double SensorLink::forward_off(double inner, std::span<const double> deviations) const {
  if (deviations.empty()) return setup_.law.output(inner);
  const std::size_t of_part = std::max<std::size_t>(setup_.specimens.size(), 1);
  const double value =
      std::accumulate(deviations.begin(), deviations.begin() + static_cast<std::ptrdiff_t>(of_part), inner);
  const std::size_t side_at = of_part + (setup_.supply ? 1 : 0);
  const double output = setup_.law.side ? setup_.law.output_beside(value, setup_.law.side->value + deviations[side_at])
                                        : setup_.law.output(value);
  return setup_.supply ? output * (1 + deviations[of_part] / 100) : output;
}

void SensorLink::forward_off_block(std::span<double> values, std::span<const Column> deviations) const {
  if (setup_.law.side || setup_.supply || setup_.specimens.size() > 1)
    return Link::forward_off_block(values, deviations);
  for (std::size_t t = 0; t < values.size(); ++t) values[t] = setup_.law.output(values[t] + deviations[0][t]);
}

double SensorLink::inverse_continuous(double outer) const { return setup_.law.quantity(outer); }

std::vector<TraceLine> SensorLink::explain(double outer, const NumberStyle& style) const {
  return setup_.law.explain(outer, style);
}

// ---- gain ----

Result<double> GainLink::forward(double inner) const {
  const double volts = forward_off(inner, {});
  const bool limited = setup_.highest_v > setup_.lowest_v;
  if (limited && (volts < setup_.lowest_v || volts > setup_.highest_v))
    return Problem{translated("{:.4g} V is {} what the front end can give", volts,
                              volts > setup_.highest_v ? translated("above") : translated("below")),
                   translated("{:.4g} to {:.4g} V", setup_.lowest_v, setup_.highest_v)};
  return volts;
}

Result<double> GainLink::inverse(double outer) const {
  const bool limited = setup_.highest_v > setup_.lowest_v;
  if (limited && (outer < setup_.lowest_v || outer > setup_.highest_v))
    return Problem{translated("{:.4g} V is {} what the front end can give: it clips there", outer,
                              outer > setup_.highest_v ? translated("above") : translated("below")),
                   translated("{:.4g} to {:.4g} V", setup_.lowest_v, setup_.highest_v)};
  return inverse_continuous(outer);
}

std::vector<Source> GainLink::sources(double /*inner*/) const {
  std::vector<Source> all;
  for (const Tolerance& doubt : setup_.tolerances)
    all.push_back({fmt::format("{}, {:g} %", doubt.name, doubt.tolerance * 100), "", Distribution::rectangular,
                   doubt.tolerance * 100, "%", true, std::numeric_limits<double>::infinity(), SourceKind::other,
                   doubt.later * 100});
  all.push_back({translated("amplifier offset"), "", Distribution::rectangular, setup_.offset_error_v, "V", true});
  return all;
}

double GainLink::forward_off(double inner, std::span<const double> deviations) const {
  double gain = setup_.gain, offset = setup_.offset_v;
  for (std::size_t i = 0; i < deviations.size(); ++i) {
    if (i < setup_.tolerances.size())
      gain *= 1 + setup_.tolerances[i].weight * deviations[i] / 100;
    else
      offset += deviations[i];
  }
  return offset + gain * inner;
}

std::vector<TraceLine> GainLink::explain(double outer, const NumberStyle& style) const {
  const double input = inverse_continuous(outer);
  const std::string pin = setup_.offset_v == 0 ? with_unit(outer, 4, "V", style)
                                               : fmt::format("({} − {})", with_unit(outer, 4, "V", style),
                                                             with_prefix(setup_.offset_v, "V", 5, style));
  const std::string gain =
      setup_.input_unit == "A" ? with_prefix(setup_.gain, "Ω", 5, style) : fmt::format("{:.5g}", setup_.gain);
  return {{setup_.input_symbol, fmt::format("{} ÷ {}", pin, gain), with_prefix(input, setup_.input_unit, 5, style),
           input, setup_.words}};
}

// ---- divider ----

Result<double> DividerLink::forward(double inner) const {
  if (!(inner >= 0)) return Problem{translated("a resistance below zero cannot be"), translated("0 Ω or more")};
  return forward_off(inner, {});
}

Result<double> DividerLink::inverse(double outer) const {
  const double ratio = outer / setup_.supply.volts;
  const bool near_supply_is_open = setup_.position == Position::top;
  if (ratio <= 0)
    return Problem{near_supply_is_open
                       ? translated("the pin is at ground: the sensor is short or its supply is missing")
                       : translated("the pin is at ground: the sensor is open"),
                   translated("a voltage between ground and supply")};
  if (ratio >= 1)
    return Problem{near_supply_is_open ? translated("the pin is at the supply: the sensor is open")
                                       : translated("the pin is at the supply: the sensor is short"),
                   translated("a voltage between ground and supply")};
  const double ohms = inverse_continuous(outer);
  if (near_supply_is_open && !(ohms + setup_.lead_ohm >= 0))
    return Problem{translated("the pin is as high as its load lets it go: the sensor is open"),
                   translated("a voltage below that of the pin's load alone")};
  return ohms;
}

std::vector<Source> DividerLink::sources(double /*inner*/) const {
  return {{translated("{} resistor, {:g} %", resistor_code(setup_.fixed_ohm), setup_.fixed_tolerance * 100), "",
           Distribution::rectangular, setup_.fixed_tolerance * 100, "%", true, std::numeric_limits<double>::infinity(),
           SourceKind::other, setup_.fixed_later * 100},
          {translated("divider supply"), setup_.supply.cause, Distribution::rectangular, setup_.supply.half_width * 100,
           "%", true, std::numeric_limits<double>::infinity(), SourceKind::other, setup_.supply.later * 100},
          {translated("leads of the sensor"), "", Distribution::rectangular, setup_.lead_half_width, "Ω", true}};
}

// What lies between pin and ground has the pin's load beside it.
double DividerLink::output(double supply, double fixed_ohm, double sensor_ohm) const {
  const bool top = setup_.position == Position::top;
  const double conductance = 1 / (top ? sensor_ohm : fixed_ohm) + 1 / setup_.load_ohm, below = 1 / conductance;
  return supply * below / (below + (top ? fixed_ohm : sensor_ohm));
}

double DividerLink::forward_off(double inner, std::span<const double> deviations) const {
  const double fixed_ohm =
      setup_.fixed_ohm * (1 + (deviations.size() > 0 ? deviations[0] / 100 : 0)) + setup_.fixed_lead_ohm;
  const double supply = setup_.supply.volts * (1 + (deviations.size() > 1 ? deviations[1] / 100 : 0));
  const double sensor_ohm = inner + setup_.lead_ohm + (deviations.size() > 2 ? deviations[2] : 0);
  if (std::isinf(inner) && setup_.position == Position::bottom) return 0;
  return output(supply, fixed_ohm, sensor_ohm);
}

double DividerLink::inverse_continuous(double outer) const {
  const double ratio = outer / setup_.supply.volts, fixed_ohm = setup_.fixed_ohm + setup_.fixed_lead_ohm;
  if (setup_.position == Position::bottom)
    return (1 - ratio) / ratio / (1 / fixed_ohm + 1 / setup_.load_ohm) - setup_.lead_ohm;
  return 1 / ((1 - ratio) / (fixed_ohm * ratio) - 1 / setup_.load_ohm) - setup_.lead_ohm;
}

void DividerLink::forward_off_block(std::span<double> values, std::span<const Column> deviations) const {
  const double *fixed = deviations[0].data(), *supply = deviations[1].data(), *lead = deviations[2].data();
  const bool top = setup_.position == Position::top;
  const double loaded = 1 / setup_.load_ohm;
  for (std::size_t t = 0; t < values.size(); ++t) {
    const double fixed_ohm = setup_.fixed_ohm * (1 + fixed[t] / 100) + setup_.fixed_lead_ohm,
                 sensor_ohm = values[t] + setup_.lead_ohm + lead[t],
                 volts = setup_.supply.volts * (1 + supply[t] / 100);
    const double lower = top ? sensor_ohm : fixed_ohm, upper = top ? fixed_ohm : sensor_ohm;
    values[t] = volts * lower / (lower + upper * (1 + lower * loaded));
  }
}

void DividerLink::inverse_continuous_block(std::span<double> values) const {
  for (double& value : values) value = DividerLink::inverse_continuous(value);
}

double DividerLink::sensor_watts(double sensor_ohm) const {
  const double with_leads = sensor_ohm + setup_.lead_ohm, fixed_ohm = setup_.fixed_ohm + setup_.fixed_lead_ohm;
  const double pin = output(setup_.supply.volts, fixed_ohm, with_leads);
  const double amperes = (setup_.position == Position::top ? pin : setup_.supply.volts - pin) / with_leads;
  return amperes * amperes * sensor_ohm;
}

std::vector<TraceLine> DividerLink::explain(double outer, const NumberStyle& style) const {
  const double ohms = inverse_continuous(outer);
  const std::string pin = with_unit(outer, 4, "V", style);
  const std::string rest = fmt::format("({} − {})", with_unit(setup_.supply.volts, 3, "V", style), pin);
  const std::string resistor = with_prefix(setup_.fixed_ohm + setup_.fixed_lead_ohm, "Ω", 4, style);
  const std::string leads =
      setup_.lead_ohm > 0 ? fmt::format(" − {}", with_prefix(setup_.lead_ohm, "Ω", 4, style)) : "";
  if (std::isfinite(setup_.load_ohm)) {
    const std::string load = with_prefix(setup_.load_ohm, "Ω", 4, style);
    return {{"R",
             (setup_.position == Position::top ? fmt::format("1 ÷ ({} ÷ ({} × {}) − 1 ÷ {})", rest, resistor, pin, load)
                                               : translated("{} ÷ {} × ({} beside {})", rest, pin, resistor, load)) +
                 leads,
             with_prefix(ohms, "Ω", 5, style), ohms, translated("the pin's own load counted in")}};
  }
  return {{"R",
           (setup_.position == Position::top ? fmt::format("{} × {} ÷ {}", resistor, pin, rest)
                                             : fmt::format("{} × {} ÷ {}", resistor, rest, pin)) +
               leads,
           with_prefix(ohms, "Ω", 5, style), ohms,
           setup_.position == Position::top ? translated("fixed resistor above the sensor")
                                            : translated("fixed resistor below the sensor")}};
}

// ---- converter ----

ConverterLink::ConverterLink(Setup setup) : setup_(std::move(setup)) {
  const Converter& converter = setup_.converter;
  const bool both_signs = converter.polarity == Polarity::bipolar;
  const double codes = std::exp2(both_signs ? converter.bits - 1 : converter.bits);
  lowest_ = both_signs ? -codes : 0;
  largest_ = codes - 1;
  divisor_ = converter.convention == CodeConvention::steps ? codes : codes - 1;
  span_v_ = setup_.reference.volts * converter.span_per_reference / converter.gain;
}

Result<double> ConverterLink::forward(double inner) const {
  const double steps = inner / step_v();
  const double code =
      setup_.converter.rounding == Rounding::nearest ? std::floor(steps + 0.5) : std::floor(steps + 1e-9);
  const double lowest_v = lowest_ < 0 ? -span_v_ : 0;
  const std::string can = translated("{:.4g} to {:.4g} V", lowest_v, span_v_);
  if (code > largest_)
    return counts_pulses() ? Problem{translated("{:.0f} is more than the {} number holds", code, setup_.counts),
                                     translated("{:.0f} to {:.0f}", lowest_, largest_)}
                           : Problem{translated("{:.4g} V is above the converter's span: it clips", inner), can};
  if (code < lowest_)
    return Problem{translated("{:.4g} V is below {}: the converter clips", inner,
                              lowest_ < 0 ? translated("the converter's span") : translated("ground")),
                   can};
  return code;
}

Result<double> ConverterLink::inverse(double outer) const {
  if (!(outer >= lowest_ && outer <= largest_))
    return Problem{translated("{:g} is no code of {} bits", outer, setup_.converter.bits),
                   translated("{:.0f} to {:.0f}", lowest_, largest_)};
  if (counts_pulses()) return outer;
  if (outer == largest_)
    return Problem{setup_.at_top.empty() ? translated("the converter is at its upper end: the input is there or beyond")
                                         : translated("the converter is at its upper end: {}", setup_.at_top),
                   translated("codes below {:.0f}", largest_)};
  if (outer == lowest_)
    return Problem{setup_.at_bottom.empty()
                       ? translated("the converter is at its lower end: the input is there or beyond")
                       : translated("the converter is at its lower end: {}", setup_.at_bottom),
                   translated("codes above {:.0f}", lowest_)};
  return inverse_continuous(outer);
}

std::vector<Source> ConverterLink::sources(double /*inner*/) const {
  const Converter& converter = setup_.converter;
  // What all channels of one converter share.
  const auto cause = [&](const char* what) {
    return converter.id.empty() ? std::string() : translated("{} of {}", what, converter.id);
  };
  return {
      {translated("reference"),
       setup_.reference.cause.empty() ? cause(translated("reference")) : setup_.reference.cause,
       Distribution::rectangular, setup_.reference.half_width * 100, "%", true, std::numeric_limits<double>::infinity(),
       SourceKind::other, setup_.reference.later * 100},
      {translated("converter linearity"), "", Distribution::rectangular, converter.inl_lsb, translated("steps")},
      {translated("converter offset"), cause("offset"), Distribution::rectangular, converter.offset_lsb,
       translated("steps"), true},
      {translated("converter gain"), cause("gain"), Distribution::rectangular, converter.gain_error * 100, "%", true},
      {counts() == "raw" ? translated("noise of the part") : translated("converter noise"), "", Distribution::normal,
       converter.noise_lsb, translated("steps"), false, std::numeric_limits<double>::infinity(), SourceKind::noise},
      {translated("quantisation"), "", Distribution::rectangular, 0.5,
       translated(counts_pulses() ? setup_.counts : std::string("steps")), false,
       std::numeric_limits<double>::infinity(), SourceKind::quantisation},
      {translated("settling of the sampled input"), "", Distribution::rectangular, setup_.settling_error * 100, "%"}};
}

double ConverterLink::forward_off(double inner, std::span<const double> deviations) const {
  const double steps = inner / step_v() - (setup_.converter.rounding == Rounding::truncate ? 0.5 : 0);
  if (deviations.size() < 7) return steps;
  return steps / (1 + deviations[0] / 100) * (1 + deviations[3] / 100) * (1 + deviations[6] / 100) + deviations[1] +
         deviations[2] + deviations[4] + deviations[5];
}

double ConverterLink::inverse_continuous(double outer) const {
  return (outer + (setup_.converter.rounding == Rounding::truncate ? 0.5 : 0)) * step_v();
}

void ConverterLink::forward_off_block(std::span<double> values, std::span<const Column> deviations) const {
  const double *reference = deviations[0].data(), *linearity = deviations[1].data(), *offset = deviations[2].data(),
               *gain = deviations[3].data();
  const double *noise = deviations[4].data(), *quantisation = deviations[5].data(), *settling = deviations[6].data();
  const double truncated = setup_.converter.rounding == Rounding::truncate ? 0.5 : 0, per_volt = 1 / step_v();
  for (std::size_t t = 0; t < values.size(); ++t)
    values[t] =
        (values[t] * per_volt - truncated) * (1 + gain[t] / 100) * (1 + settling[t] / 100) / (1 + reference[t] / 100) +
        linearity[t] + offset[t] + noise[t] + quantisation[t];
}

void ConverterLink::inverse_continuous_block(std::span<double> values) const {
  for (double& value : values) value = ConverterLink::inverse_continuous(value);
}

std::vector<TraceLine> ConverterLink::explain(double outer, const NumberStyle& style) const {
  if (counts_pulses()) return {};
  const Converter& converter = setup_.converter;
  const double volts = inverse_continuous(outer);
  const std::string code = converter.rounding == Rounding::truncate ? fmt::format("({} + ½)", fixed(outer, 0, style))
                                                                    : fixed(outer, 0, style);
  const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(step_v()))), 4, 9);
  return {{"V",
           fmt::format("{} × {} ÷ {}", code,
                       span_v_ < 1 ? with_prefix(span_v_, "V", 5, style) : with_unit(span_v_, 3, "V", style),
                       fixed(divisor_, 0, style)),
           std::abs(volts) < 0.1 ? with_prefix(volts, "V", 6, style) : with_unit(volts, decimals, "V", style), volts,
           converter.convention == CodeConvention::steps ? translated("2ⁿ steps")
                                                         : translated("2ⁿ − 1: the top code is the reference")}};
}

// ---- reported number ----

ReportLink::ReportLink(const Converter& converter)
    : shift_(converter.reported_bits() - converter.bits),
      bits_(converter.bits),
      justification_(converter.justification) {}

Result<double> ReportLink::forward(double inner) const { return forward_off(std::round(inner), {}); }

Result<double> ReportLink::inverse(double outer) const {
  const double largest = std::exp2(bits_ + shift_) - 1;
  if (!(outer >= 0 && outer <= largest))
    return Problem{translated("{:g} does not fit in {} bits", outer, bits_ + shift_),
                   translated("0 to {:.0f}", largest)};
  return std::floor(outer / std::exp2(shift_));
}

double ReportLink::forward_off(double inner, std::span<const double> /*deviations*/) const {
  if (justification_ == Justification::left) return inner * std::exp2(shift_);
  // Scaled: the low bits are filled with the code's own top bits, so that the top code becomes the top of the wider
  // range.
  return std::floor(inner * (std::exp2(bits_ + shift_) - 1) / (std::exp2(bits_) - 1));
}

double ReportLink::inverse_continuous(double outer) const {
  return justification_ == Justification::left ? outer / std::exp2(shift_)
                                               : outer * (std::exp2(bits_) - 1) / (std::exp2(bits_ + shift_) - 1);
}

std::vector<TraceLine> ReportLink::explain(double outer, const NumberStyle& style) const {
  const double code = std::floor(outer / std::exp2(shift_));
  return {{"code", fmt::format("{} >> {}", fixed(outer, 0, style), shift_), fixed(code, 0, style), code,
           justification_ == Justification::left ? translated("left-justified: the low bits are not used")
                                                 : translated("{} bits reported as {}", bits_, bits_ + shift_)}};
}

// ---- correction ----

double CorrectionLink::correction_at(double reading) const {
  const auto& table = correction_.table;
  if (table.size() == 1) return table[0][1];
  if (!table.empty()) {  // straight between the points, level beyond them
    const auto above = std::ranges::find_if(table, [&](const auto& row) { return row[0] >= reading; });
    if (above == table.begin() || above == table.end()) return (above == table.end() ? table.back() : table.front())[1];
    const auto& low = *(above - 1);
    return low[1] + ((*above)[1] - low[1]) * (reading - low[0]) / ((*above)[0] - low[0]);
  }
  double sum = 0;
  for (auto c = correction_.coefficients.rbegin(); c != correction_.coefficients.rend(); ++c)
    sum = sum * (reading - correction_.origin) + *c;
  return sum;
}

Result<double> CorrectionLink::forward(double inner) const {
  // reading + correction(reading) = inner. Corrections are small, so the secant steps converge; if not, say so.
  double reading = inner - correction_at(inner);
  for (int i = 0; i < 50; ++i) {
    const double miss = reading + correction_at(reading) - inner;
    if (std::abs(miss) <= 1e-12 * std::max(1.0, std::abs(inner))) return reading;
    const double h = 1e-6 * std::max(1.0, std::abs(reading));
    const double slope = 1 + (correction_at(reading + h) - correction_at(reading - h)) / (2 * h);
    if (!std::isfinite(slope) || std::abs(slope) < 1e-6) break;
    reading -= miss / slope;
  }
  if (std::abs(reading + correction_at(reading) - inner) < 1e-9 * std::max(1.0, std::abs(inner))) return reading;
  return Problem{translated("the correction has no single reading for this value"),
                 translated("a correction that is small against its readings")};
}

Result<double> CorrectionLink::inverse(double outer) const { return inverse_continuous(outer); }

// Of the fitted curve at this reading, not less than what the reference and the points left.
double CorrectionLink::uncertainty_at(double reading) const {
  double variance = 0, power_i = 1;
  for (const auto& row : correction_.covariance) {
    double power_j = 1;
    for (const double covariance : row) {
      variance += power_i * power_j * covariance;
      power_j *= reading - correction_.origin;
    }
    power_i *= reading - correction_.origin;
  }
  return std::sqrt(std::max(0.0, variance) + correction_.standard_uncertainty * correction_.standard_uncertainty);
}

std::vector<Source> CorrectionLink::sources(double inner) const {
  constexpr double year_days = 365;
  std::vector<Source> all{{translated("calibration"), "", Distribution::normal, uncertainty_at(forward_off(inner, {})),
                           unit_, false,
                           correction_.dof > 0 ? correction_.dof : std::numeric_limits<double>::infinity()}};
  if (correction_.drift_per_year > 0)
    all.push_back({translated("drift until the next calibration"), "", Distribution::rectangular,
                   correction_.drift_per_year * (due_days_ > 0 ? due_days_ : year_days) / year_days, unit_});
  for (const UncertaintyContribution& doubt : contributions_)
    all.push_back({doubt.name, "", Distribution::rectangular, doubt.half_width, unit_});
  return all;
}

double CorrectionLink::forward_off(double inner, std::span<const double> deviations) const {
  return forward(inner + std::accumulate(deviations.begin(), deviations.end(), 0.0)).value_or(nan_value);
}

void CorrectionLink::forward_off_block(std::span<double> values, std::span<const Column> deviations) const {
  for (const Column& column : deviations)
    for (std::size_t t = 0; t < values.size(); ++t) values[t] += column[t];
  if (is_constant()) {
    const double offset = correction_at(0);
    for (double& value : values) value -= offset;
    return;
  }
  for (double& value : values) value = forward(value).value_or(nan_value);
}

void CorrectionLink::inverse_continuous_block(std::span<double> values) const {
  if (!is_constant()) return Link::inverse_continuous_block(values);
  const double offset = correction_at(0);
  for (double& value : values) value += offset;
}

std::vector<TraceLine> CorrectionLink::explain(double outer, const NumberStyle& style) const {
  const double value = inverse_continuous(outer), added = correction_at(outer);
  return {{"t",
           fmt::format("{} {} {}", with_unit(outer, 3, unit_, style), added < 0 ? "-" : "+",
                       with_unit(std::abs(added), 3, unit_, style)),
           with_unit(value, 3, unit_, style), value,
           correction_.note.empty() ? translated("the correction") : correction_.note}};
}

// ---- unit ----

std::vector<TraceLine> UnitLink::explain(double outer, const NumberStyle& style) const {
  const double shown = unit_.from_base(outer);
  const Unit& base = base_unit(unit_.dimension);
  return {{"shown", with_unit(outer, 3, base.symbol, style), with_unit(shown, 3, unit_.symbol, style), shown,
           translated("in the unit that is shown")}};
}

}  // namespace fair_gauge
