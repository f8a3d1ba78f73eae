// What a part's sheet allows it to be off by, and what a calibration leaves of it.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "chain/links.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// The line of the sheet that holds at a value, or the nearest to it.
const AccuracyBand* band_at(const PartQuantity& quantity, double value) {
  const AccuracyBand* chosen = nullptr;
  std::tuple<double, bool, double, double> best;
  for (const AccuracyBand& band : quantity.accuracy) {
    if (band.grade != quantity.accuracy.front().grade) continue;  // the usual grade is listed first
    if (band.of == AccuracyOf::numbers) continue;
    const double away = std::max({band.from - value, value - band.to, 0.0});
    // A maximum says more than a typical figure, and the narrower of two bands that cover the value more about it. Of
    // lines that differ by what stands beside the reading the widest holds everywhere.
    const std::tuple rank(away, band.basis == Basis::typical, band.to - band.from,
                          band.beside.empty() ? 0.0 : -band.value);
    if (!chosen || rank < best) best = rank, chosen = &band;
  }
  return chosen;
}

// Where its lines say anything, for a value of which none does.
std::optional<StatedFor> stated_elsewhere(const PartQuantity& quantity, double value) {
  const AccuracyBand* nearest = band_at(quantity, value);
  const double rounding = 1e-9 * (quantity.maximum - quantity.minimum);
  if (!nearest || (value > nearest->from - rounding && value < nearest->to + rounding)) return std::nullopt;
  StatedFor stated{nearest->from, nearest->to, dimension_of(quantity.quantity)};
  double from = stated.from, to = stated.to;
  for (const AccuracyBand& band : quantity.accuracy)
    if (band.grade == nearest->grade && band.of != AccuracyOf::numbers)
      from = std::min(from, band.from), to = std::max(to, band.to);
  if (value < from || value > to) stated.from = from, stated.to = to;  // else between two lines
  return stated;
}

double half_width(const AccuracyBand& band, const PartQuantity& quantity, double value) {
  const double span = quantity.maximum - quantity.minimum;
  const double of = band.of == AccuracyOf::reading ? std::abs(value) : band.of == AccuracyOf::span ? span : 1;
  const double zero = band.zero_offset * (band.of == AccuracyOf::points ? 1 : span);
  return std::max(band.value, band.below) * of + zero + band.and_of_reading * std::abs(value);
}

}  // namespace

std::optional<SheetAccuracy> sheet_accuracy(const PartQuantity& quantity, double value) {
  const AccuracyBand* chosen = band_at(quantity, value);
  if (!chosen) return std::nullopt;
  const std::string_view symbol = base_unit(quantity.quantity).symbol;
  const std::string more =
      chosen->and_of_reading > 0 ? translated(" + {:g} % of reading", chosen->and_of_reading * 100)
      : chosen->zero_offset <= 0 ? ""
      : chosen->of == AccuracyOf::points
          ? translated(" and ±{:g} {} until its zero has been taken", chosen->zero_offset, symbol)
          : translated(" and ±{:g} % of span until its zero has been taken", chosen->zero_offset * 100);
  const double words_by = chosen->of == AccuracyOf::points ? 1 : 100;
  const std::string both = chosen->below > 0
                               ? fmt::format("+{:g} −{:g}", chosen->value * words_by, chosen->below * words_by)
                               : fmt::format("±{:g}", chosen->value * words_by);
  return SheetAccuracy{half_width(*chosen, quantity, value), chosen->basis,
                       fmt::format("{}{}{} {}, {:g}…{:g} {}", both,
                                   chosen->of == AccuracyOf::points    ? fmt::format(" {}", symbol)
                                   : chosen->of == AccuracyOf::reading ? translated(" % of reading")
                                                                       : translated(" % of span"),
                                   more, translated_name(chosen->basis), chosen->from, chosen->to, symbol)};
}

Source accuracy_source(const std::string& name, const PartQuantity& quantity, double value,
                       const std::optional<Range>& proven) {
  const auto accuracy = sheet_accuracy(quantity, value);
  Source source{
      .name = name,
      .distribution = accuracy && accuracy->basis == Basis::typical ? Distribution::normal : Distribution::rectangular,
      .width = accuracy ? accuracy->half_width : 0,
      .unit = std::string(base_unit(quantity.quantity).symbol)};
  if (accuracy && quantity.accuracy.front().grade == own_grade) source.name += fmt::format(", {}", own_grade);
  if (!accuracy && !(proven && proven->contains(value))) source.kind = SourceKind::unknown;
  if (!(proven && proven->contains(value))) source.stated_for = stated_elsewhere(quantity, value);
  if (!proven || !accuracy) return source;
  // A specimen whose error runs straight from one end of the sheet's range to the other, each end within its limits by
  // itself: what is proven at one place says nothing of the slope. The difference of two flat chances is a triangle of
  // both their half-widths where these are equal; where one is nothing, as of a share of the reading at zero, flat.
  const double away = std::max({proven->from - value, value - proven->to, 0.0});
  double from = value, to = value;
  for (const AccuracyBand& band : quantity.accuracy) from = std::min(from, band.from), to = std::max(to, band.to);
  source.name += translated(" away from the calibrated point");
  const AccuracyBand& band = *band_at(quantity, value);
  const double low = half_width(band, quantity, from), high = half_width(band, quantity, to);
  source.width = to > from ? std::hypot(low, high) * std::min(1.0, away / (to - from)) : 0;
  if (source.distribution == Distribution::rectangular && std::min(low, high) > 0.01 * std::max(low, high)) {
    source.distribution = Distribution::triangular;
    source.width *= std::sqrt(2.0);
  }
  return source;
}

}  // namespace fair_gauge
