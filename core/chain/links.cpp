#include "chain/links.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fair_gauge {
namespace {

const double nan_value = std::nan("");

std::string symbol_of(const std::string& quantity) {
  for (const Dimension dimension : {Dimension::temperature, Dimension::humidity, Dimension::pressure, Dimension::illuminance})
    if (dimension_name(dimension) == quantity) return std::string(base_unit(dimension).symbol);
  return "";
}

}  // namespace

std::optional<SheetAccuracy> sheet_accuracy(const PartQuantity& quantity, double value) {
  const AccuracyBand* chosen = nullptr;
  double nearest = std::numeric_limits<double>::infinity();
  for (const AccuracyBand& band : quantity.accuracy) {
    const double away = std::max({band.from - value, value - band.to, 0.0});
    // The narrower of two bands that cover the value says more about it; a maximum says more than a typical figure.
    const double rank = away + (band.basis == Basis::typical ? 1e-6 : 0) + (band.to - band.from) * 1e-9;
    if (rank < nearest) nearest = rank, chosen = &band;
  }
  if (!chosen) return std::nullopt;
  const double of = chosen->of == AccuracyOf::reading ? std::abs(value) : chosen->of == AccuracyOf::span ? quantity.maximum - quantity.minimum
                                                                                                         : 1;
  const std::string symbol = symbol_of(quantity.quantity);
  return SheetAccuracy{chosen->value * of, chosen->basis,
                       fmt::format("±{:g}{} {}, {:g}…{:g} {}", chosen->of == AccuracyOf::points ? chosen->value : chosen->value * 100,
                                   chosen->of == AccuracyOf::points ? " " + symbol : chosen->of == AccuracyOf::reading ? " % of reading"
                                                                                                                       : " % of span",
                                   enum_name(chosen->basis),
                                   chosen->from, chosen->to, symbol)};
}

// ---- sensor ----

SensorLink::SensorLink(TransferLaw law, PartQuantity range, std::string source_name, bool accuracy_counts)
    : law_(std::move(law)), range_(std::move(range)), source_name_(std::move(source_name)), accuracy_counts_(accuracy_counts) {}

Result<double> SensorLink::forward(double inner) const {
  const std::string symbol = symbol_of(range_.quantity);
  if (!(inner >= range_.minimum && inner <= range_.maximum))
    return Problem{fmt::format("{:.6g} {} is {} the part's limit", inner, symbol, inner > range_.maximum ? "above" : "below"), fmt::format("{:g} to {:g} {}", range_.minimum, range_.maximum, symbol)};
  return law_.output(inner);
}

Result<double> SensorLink::inverse(double outer) const {
  const double inner = law_.quantity(outer);
  const std::string symbol = symbol_of(range_.quantity);
  if (std::isnan(inner)) return Problem{"the sensor gives no such output: it may be open, short or not connected", fmt::format("{:g} to {:g} {}", range_.minimum, range_.maximum, symbol)};
  const double slack = 1e-9 * (range_.maximum - range_.minimum);
  if (inner < range_.minimum - slack) return Problem{fmt::format("below the part's limit of {:g} {}", range_.minimum, symbol), "a sensor that is connected and within its range"};
  if (inner > range_.maximum + slack) return Problem{fmt::format("above the part's limit of {:g} {}", range_.maximum, symbol), "a sensor that is connected and within its range"};
  return inner;
}

std::vector<Source> SensorLink::sources(double inner) const {
  if (!accuracy_counts_) return {};
  const auto accuracy = sheet_accuracy(range_, inner);
  if (!accuracy) return {};
  // A maximum figure is taken as the half-width of a rectangle, a typical one as one standard deviation.
  const auto distribution = accuracy->basis == Basis::maximum ? Distribution::rectangular : Distribution::normal;
  return {{source_name_, "", distribution, accuracy->half_width, symbol_of(range_.quantity)}};
}

double SensorLink::forward_off(double inner, std::span<const double> deviations) const {
  return law_.output(inner + (deviations.empty() ? 0 : deviations[0]));
}

double SensorLink::inverse_continuous(double outer) const { return law_.quantity(outer); }

std::vector<TraceLine> SensorLink::explain(double outer, const NumberStyle& style) const { return law_.explain(outer, style); }

// ---- divider ----

Result<double> DividerLink::forward(double inner) const {
  if (!(inner >= 0)) return Problem{"a resistance below zero cannot be", "0 Ω or more"};
  return forward_off(inner, {});
}

Result<double> DividerLink::inverse(double outer) const {
  const double ratio = outer / setup_.supply_v;
  const bool near_supply_is_open = setup_.position == Position::top;
  if (ratio <= 0) return Problem{near_supply_is_open ? "the pin is at ground: the sensor is short or its supply is missing" : "the pin is at ground: the sensor is open", "a voltage between ground and supply"};
  if (ratio >= 1) return Problem{near_supply_is_open ? "the pin is at the supply: the sensor is open" : "the pin is at the supply: the sensor is short", "a voltage between ground and supply"};
  return inverse_continuous(outer);
}

std::vector<Source> DividerLink::sources(double /*inner*/) const {
  return {{fmt::format("{} resistor, {:g} %", resistor_code(setup_.fixed_ohm), setup_.fixed_tolerance * 100), "", Distribution::rectangular, setup_.fixed_tolerance * 100, "%"},
          {"divider supply", setup_.supply_cause, Distribution::rectangular, setup_.supply_half_width * 100, "%"}};
}

double DividerLink::forward_off(double inner, std::span<const double> deviations) const {
  const double fixed_ohm = setup_.fixed_ohm * (1 + (deviations.size() > 0 ? deviations[0] / 100 : 0));
  const double supply = setup_.supply_v * (1 + (deviations.size() > 1 ? deviations[1] / 100 : 0));
  if (std::isinf(inner)) return setup_.position == Position::top ? supply : 0;
  return supply * (setup_.position == Position::top ? inner : fixed_ohm) / (inner + fixed_ohm);
}

double DividerLink::inverse_continuous(double outer) const {
  const double ratio = outer / setup_.supply_v;
  return setup_.position == Position::top ? setup_.fixed_ohm * ratio / (1 - ratio) : setup_.fixed_ohm * (1 - ratio) / ratio;
}

double DividerLink::sensor_watts(double sensor_ohm) const {
  const double amperes = setup_.supply_v / (sensor_ohm + setup_.fixed_ohm);
  return amperes * amperes * sensor_ohm;
}

std::vector<TraceLine> DividerLink::explain(double outer, const NumberStyle& style) const {
  const double ohms = inverse_continuous(outer);
  const std::string pin = with_unit(outer, 4, "V", style);
  const std::string rest = fmt::format("({} − {})", with_unit(setup_.supply_v, 3, "V", style), pin);
  const std::string resistor = with_prefix(setup_.fixed_ohm, "Ω", 4, style);
  return {{"R", setup_.position == Position::top ? fmt::format("{} × {} ÷ {}", resistor, pin, rest) : fmt::format("{} × {} ÷ {}", resistor, rest, pin), with_prefix(ohms, "Ω", 5, style), ohms,
           setup_.position == Position::top ? "fixed resistor above the sensor" : "fixed resistor below the sensor"}};
}

// ---- converter ----

ConverterLink::ConverterLink(const Converter& converter, double reference_v, double reference_half_width, std::string reference_cause)
    : converter_(converter), reference_v_(reference_v), reference_half_width_(reference_half_width), reference_cause_(std::move(reference_cause)) {
  const double codes = std::exp2(converter.bits);
  largest_ = codes - 1;
  divisor_ = converter.convention == CodeConvention::steps ? codes : codes - 1;
}

Result<double> ConverterLink::forward(double inner) const {
  const double steps = inner / step_v();
  const double code = converter_.rounding == Rounding::nearest ? std::floor(steps + 0.5) : std::floor(steps + 1e-9);
  if (code > largest_) return Problem{fmt::format("{:.4g} V is above the reference: the converter clips", inner), fmt::format("0 to {:.4g} V", reference_v_)};
  if (code < 0) return Problem{fmt::format("{:.4g} V is below ground: the converter clips", inner), fmt::format("0 to {:.4g} V", reference_v_)};
  return code;
}

Result<double> ConverterLink::inverse(double outer) const {
  if (!(outer >= 0 && outer <= largest_)) return Problem{fmt::format("{:g} is no code of {} bits", outer, converter_.bits), fmt::format("0 to {:.0f}", largest_)};
  if (outer == largest_) return Problem{"the converter is at its upper end: the input is there or beyond", fmt::format("codes below {:.0f}", largest_)};
  if (outer == 0) return Problem{"the converter is at its lower end: the input is there or beyond", "codes above 0"};
  return inverse_continuous(outer);
}

std::vector<Source> ConverterLink::sources(double /*inner*/) const {
  std::vector<Source> all = {{"reference", reference_cause_, Distribution::rectangular, reference_half_width_ * 100, "%"},
                             {"converter linearity", "", Distribution::rectangular, converter_.inl_lsb, "steps"},
                             {"converter offset", "", Distribution::rectangular, converter_.offset_lsb, "steps"},
                             {"converter gain", "", Distribution::rectangular, converter_.gain_error * 100, "%"},
                             {"converter noise", "", Distribution::normal, converter_.noise_lsb, "steps"},
                             {"quantisation", "", Distribution::rectangular, 0.5, "steps"}};
  return all;
}

double ConverterLink::forward_off(double inner, std::span<const double> deviations) const {
  const double steps = inner / step_v() - (converter_.rounding == Rounding::truncate ? 0.5 : 0);
  if (deviations.size() < 6) return steps;
  return steps / (1 + deviations[0] / 100) * (1 + deviations[3] / 100) + deviations[1] + deviations[2] + deviations[4] + deviations[5];
}

double ConverterLink::inverse_continuous(double outer) const {
  return (outer + (converter_.rounding == Rounding::truncate ? 0.5 : 0)) * step_v();
}

std::vector<TraceLine> ConverterLink::explain(double outer, const NumberStyle& style) const {
  const double volts = inverse_continuous(outer);
  const std::string code = converter_.rounding == Rounding::truncate ? fmt::format("({} + ½)", fixed(outer, 0, style)) : fixed(outer, 0, style);
  return {{"V", fmt::format("{} × {} ÷ {}", code, with_unit(reference_v_, 3, "V", style), fixed(divisor_, 0, style)), with_unit(volts, 4, "V", style), volts,
           converter_.convention == CodeConvention::steps ? "2ⁿ steps" : "2ⁿ − 1: the top code is the reference"}};
}

// ---- reported number ----

ReportLink::ReportLink(const Converter& converter)
    : shift_(converter.reported_bits() - converter.bits), bits_(converter.bits), justification_(converter.justification) {}

Result<double> ReportLink::forward(double inner) const { return forward_off(std::round(inner), {}); }

Result<double> ReportLink::inverse(double outer) const {
  const double largest = std::exp2(bits_ + shift_) - 1;
  if (!(outer >= 0 && outer <= largest)) return Problem{fmt::format("{:g} does not fit in {} bits", outer, bits_ + shift_), fmt::format("0 to {:.0f}", largest)};
  return std::floor(outer / std::exp2(shift_));
}

double ReportLink::forward_off(double inner, std::span<const double> /*deviations*/) const {
  if (justification_ == Justification::left) return inner * std::exp2(shift_);
  // Scaled: the low bits are filled with the code's own top bits, so that the top code becomes the top of the wider range.
  return std::floor(inner * (std::exp2(bits_ + shift_) - 1) / (std::exp2(bits_) - 1));
}

double ReportLink::inverse_continuous(double outer) const {
  return justification_ == Justification::left ? outer / std::exp2(shift_) : outer * (std::exp2(bits_) - 1) / (std::exp2(bits_ + shift_) - 1);
}

std::vector<TraceLine> ReportLink::explain(double outer, const NumberStyle& style) const {
  const double code = std::floor(outer / std::exp2(shift_));
  return {{"code", fmt::format("{} >> {}", fixed(outer, 0, style), shift_), fixed(code, 0, style), code,
           justification_ == Justification::left ? "left-justified: the low bits are not used" : fmt::format("{} bits reported as {}", bits_, bits_ + shift_)}};
}

// ---- correction ----

double CorrectionLink::correction_at(double reading) const {
  double sum = 0;
  for (auto c = correction_.coefficients.rbegin(); c != correction_.coefficients.rend(); ++c) sum = sum * (reading - correction_.origin) + *c;
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
  return Problem{"the correction has no single reading for this value", "a correction that is small against its readings"};
}

Result<double> CorrectionLink::inverse(double outer) const { return inverse_continuous(outer); }

std::vector<Source> CorrectionLink::sources(double /*inner*/) const {
  return {{"calibration", "", Distribution::normal, correction_.standard_uncertainty, unit_}};
}

double CorrectionLink::forward_off(double inner, std::span<const double> deviations) const {
  return forward(inner + (deviations.empty() ? 0 : deviations[0])).value_or(nan_value);
}

std::vector<TraceLine> CorrectionLink::explain(double outer, const NumberStyle& style) const {
  const double value = inverse_continuous(outer);
  return {{"t", fmt::format("{} + ({})", with_unit(outer, 3, unit_, style), with_unit(correction_at(outer), 3, unit_, style)), with_unit(value, 3, unit_, style), value,
           correction_.note.empty() ? "the correction" : correction_.note}};
}

std::vector<TraceLine> UnitLink::explain(double outer, const NumberStyle& style) const {
  const double shown = unit_.from_base(outer);
  const Unit& base = base_unit(unit_.dimension);
  return {{"shown", with_unit(outer, 3, base.symbol, style), with_unit(shown, 3, unit_.symbol, style), shown, "in the unit that is shown"}};
}

}  // namespace fair_gauge
