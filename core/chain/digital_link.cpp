#include "chain/digital_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>

#include "chain/links.h"
#include "digital/nearest_raw.h"
#include "language/translation.h"

namespace fair_gauge {

DigitalLink::DigitalLink(Setup setup) : setup_(std::move(setup)) {
  const ByteReading& layout = setup_.decoder->part().bytes.readings[setup_.reading];
  field_ = *setup_.decoder->field(layout.field);
  if (!layout.tied.empty()) {
    // The second channel of light keeps its share of the first.
    tied_ = setup_.decoder->field(layout.tied);
    tied_share_ = setup_.fields[field_] > 0 ? setup_.fields[*tied_] / setup_.fields[field_] : layout.share;
  }
  constexpr int pieces = 32;
  const auto least = this->least(), most = this->most();
  for (int i = 0; i <= pieces; ++i) {
    const double raw = std::floor(least + (most - least) * i / pieces);
    knots_.push_back({raw, at(raw)});
  }
  find_reach();
}

double DigitalLink::at(double raw, std::vector<TraceEntry>* trace) const {
  std::array<double, Decoder::most_fields> fields;
  std::array<double, Decoder::most_readings> results;
  std::ranges::copy(setup_.fields, fields.begin());
  fields[field_] = raw;
  if (setup_.floating) {
    const auto parts = FloatingLink::parts_of(std::max(raw, 0.0), setup_.floating->mantissa_bits);
    fields[field_] = parts.mantissa;
    fields[setup_.floating->exponent] = parts.exponent;
  }
  if (tied_) fields[*tied_] = tied_share_ * raw;
  setup_.decoder->evaluate(std::span(fields).first(setup_.fields.size()), results, trace);
  return results[setup_.reading];
}

// Between two raw numbers the reading is taken as straight, so that the chain has a slope everywhere.
double DigitalLink::inverse_continuous(double outer) const {
  const double below = std::floor(outer), share = outer - below;
  return share == 0 ? at(outer) : (1 - share) * at(below) + share * at(below + 1);
}

// The readings between which raw numbers lie: gain, integration time or an extended mode may end a part's reach before
// its sheet's range does. Where the ends of the raw range mean nothing (formulas that wrap) the sheet's range stands.
void DigitalLink::find_reach() {
  lowest_ = setup_.range.minimum, highest_ = setup_.range.maximum;
  const bool rises = std::ranges::is_sorted(knots_, {}, &Knot::reading);
  const bool falls = std::ranges::is_sorted(knots_, std::greater{}, &Knot::reading);
  const bool finite = std::ranges::all_of(knots_, [](const Knot& knot) { return std::isfinite(knot.reading); });
  if (!finite || rises == falls) return;
  const double first = knots_.front().reading, last = tied_ ? at(last_unsaturated()) : knots_.back().reading;
  lowest_ = std::max(lowest_, std::min(first, last));
  highest_ = std::min(highest_, std::max(first, last));
  reach_slack_ = std::abs(last - first) / (knots_.back().raw - knots_.front().raw);  // a step
}

// A full channel says so before its field is at its end: the largest raw number of two tied ones that is a reading.
double DigitalLink::last_unsaturated() const {
  std::array<double, Decoder::most_readings> readings;
  std::vector<double> fields = setup_.fields;
  const auto is_reading = [&](double raw) {
    fields[field_] = raw, fields[*tied_] = std::round(tied_share_ * raw);
    setup_.decoder->read_row(fields, 0, readings);
    return std::isfinite(readings[setup_.reading]);
  };
  double from = least(), to = most();
  if (!is_reading(from) || is_reading(to)) return to;
  while (to - from > 1) {
    const double middle = std::floor((from + to) / 2);
    (is_reading(middle) ? from : to) = middle;
  }
  return from;
}

// In the piece that encloses the value; of several the one that changes least, as formulas may wrap towards the ends.
double DigitalLink::first_guess(double value) const {
  double guess = setup_.fields[field_], narrowest = std::numeric_limits<double>::infinity();
  for (std::size_t i = 1; i < knots_.size(); ++i) {
    const double from = knots_[i - 1].reading, to = knots_[i].reading;
    if (!((from - value) * (to - value) <= 0) || !(std::abs(to - from) < narrowest)) continue;
    narrowest = std::abs(to - from);
    const double share = to == from ? 0 : (value - from) / (to - from);
    guess = std::round(knots_[i - 1].raw + share * (knots_[i].raw - knots_[i - 1].raw));
  }
  return guess;
}

// By a few steps of Newton; only where they lead nowhere all is searched.
double DigitalLink::raw_near(double value) const {
  const auto least = this->least(), most = this->most();
  double raw = first_guess(value);
  for (int i = 0; i < 12 && raw > least + 8 && raw < most - 8; ++i) {
    const double slope = (at(raw + 8) - at(raw - 8)) / 16, next = std::round(raw + (value - at(raw)) / slope);
    if (!std::isfinite(next)) break;
    if (std::abs(next - raw) <= 1 && std::abs(at(next) - value) <= 2 * std::abs(slope)) return next;
    raw = next;
  }
  return nearest_raw(
             static_cast<std::int64_t>(least), static_cast<std::int64_t>(most), value,
             [this](double each) { return at(each); }, [](double) { return false; })
      .raw;
}

double DigitalLink::forward_off(double inner, std::span<const double> deviations) const {
  const double value = std::accumulate(deviations.begin(), deviations.end(), inner);
  const double raw = raw_near(value);
  const double slope = (at(raw + 1) - at(raw - 1)) / 2;
  const double refined = raw + (value - at(raw)) / slope;
  return std::isfinite(refined) && std::abs(refined - raw) < 4 ? refined : raw;
}

Result<double> DigitalLink::forward(double inner) const {
  if (!(inner >= setup_.range.minimum && inner <= setup_.range.maximum))
    return Problem{translated("{:.6g} is {} the part's limit", inner,
                              inner > setup_.range.maximum ? translated("above") : translated("below")),
                   translated("{:g} to {:g}", setup_.range.minimum, setup_.range.maximum)};
  if (!(inner >= lowest_ - reach_slack_ && inner <= highest_ + reach_slack_))
    return Problem{translated("{:.6g} is {} what the part reaches with these settings", inner,
                              inner > highest_ ? translated("above") : translated("below")),
                   translated("{:.6g} to {:.6g}, or other settings", lowest_, highest_)};
  return forward_off(inner, {});
}

Result<double> DigitalLink::inverse(double outer) const {
  for (const ByteState& state : setup_.decoder->part().bytes.states)
    if (!state.fault.empty() && state.field == setup_.decoder->part().bytes.fields[field_].name &&
        std::ranges::find(state.equals, outer) != state.equals.end())
      return Problem{state.says, translated("a raw number that is a reading")};
  const double inner = inverse_continuous(outer);
  const double margin = setup_.range.slack();
  if (!(inner >= setup_.range.minimum - margin && inner <= setup_.range.maximum + margin))
    return Problem{std::isnan(inner)
                       ? translated("the formula has no result for these bytes")
                       : translated("{:.6g} is far outside the part's limits: look at the order of the bytes", inner),
                   translated("{:g} to {:g}", setup_.range.minimum, setup_.range.maximum)};
  return inner;
}

std::vector<Source> DigitalLink::sources(double inner) const {
  std::vector<Source> all{accuracy_source(translated("part accuracy"), setup_.range, inner, setup_.proven)};
  if (setup_.element)
    all.push_back(accuracy_source(translated("accuracy of the element"), *setup_.element, inner, setup_.proven));
  if (const double left_in = bend_at(inner); std::isfinite(left_in))
    all.push_back({.name = translated("bend that the part leaves in"), .width = left_in, .unit = all.front().unit});
  return all;
}

// How far the part reads wrong for certain where the world is at that reading: its layout tells what it truly is. Not a
// number where the layout tells nothing of the kind; none is left where a calibration has proven the readings.
double DigitalLink::bend_at(double reading) const {
  const std::string& truly = setup_.decoder->part().bytes.readings[setup_.reading].truly;
  if (truly.empty()) return std::nan("");
  if (setup_.proven && setup_.proven->contains(reading)) return 0;
  // Where what it truly is lies beyond the law of the element, at least so much as where it is last known.
  constexpr int steps = 100;
  for (int i = 0; i < steps; ++i) {
    std::vector<TraceEntry> trace;
    const double value = at(raw_near(reading * (steps - i) / steps), &trace);
    const auto found = std::ranges::find(trace, truly, &TraceEntry::symbol);
    if (found == trace.end()) return 0;
    if (std::isfinite(found->value)) return std::abs(found->value - value);
  }
  return 0;
}

std::vector<TraceLine> DigitalLink::explain(double outer, const NumberStyle& style) const {
  std::vector<TraceEntry> trace;
  const double value = at(outer, &trace);
  std::map<std::string, double> known;
  for (std::size_t i = 0; i < setup_.fields.size(); ++i)
    known[setup_.decoder->part().bytes.fields[i].name] = setup_.fields[i];
  known[setup_.decoder->part().bytes.fields[field_].name] = outer;
  if (setup_.floating) {
    const auto parts = FloatingLink::parts_of(std::max(outer, 0.0), setup_.floating->mantissa_bits);
    known[setup_.decoder->part().bytes.fields[field_].name] = parts.mantissa;
    known[setup_.decoder->part().bytes.fields[setup_.floating->exponent].name] = parts.exponent;
  }
  if (tied_) known[setup_.decoder->part().bytes.fields[*tied_].name] = tied_share_ * outer;
  for (const TraceEntry& entry : trace) known[entry.symbol] = entry.value;
  // A formula of several quantities goes on after this one: its last line is the one that gives the reading.
  const auto own = std::ranges::find(trace, value, &TraceEntry::value);
  if (own != trace.end()) trace.erase(own + 1, trace.end());
  const Unit& unit = base_unit(setup_.range.quantity);
  std::vector<TraceLine> lines;
  for (const TraceEntry& entry : trace)
    lines.push_back({entry.symbol, fmt::format("{} = {}", entry.symbol, with_numbers(entry.note, known)),
                     fmt::format("{:.7g}", entry.value), entry.value, ""});
  if (lines.size() > 4) lines.erase(lines.begin(), lines.end() - 4);  // all of them stand on the Read page
  if (!lines.empty())
    lines.back().note =
        fmt::format("{} {}", with_unit(value, 3, unit.symbol, style), translated("by the data sheet's formula"));
  return lines;
}

double DigitalLink::most() const {
  if (!setup_.floating) return static_cast<double>(place().most());
  const double mantissas = std::exp2(setup_.floating->mantissa_bits),
               exponents = std::exp2(setup_.floating->exponent_bits);
  return mantissas + (exponents - 1) * mantissas / 2 - 1;
}

FloatingLink::Parts FloatingLink::parts_of(double place, int mantissa_bits) {
  const double mantissas = std::exp2(mantissa_bits), half = mantissas / 2;
  if (place < mantissas) return {0, place};
  const double beyond = place - mantissas, exponent = std::floor(beyond / half);
  return {exponent + 1, half + beyond - exponent * half};
}

Result<double> FloatingLink::forward(double inner) const {
  const Parts parts = parts_of(std::round(inner), mantissa_bits_);
  return parts.exponent * std::exp2(mantissa_bits_) + parts.mantissa;
}

Result<double> FloatingLink::inverse(double outer) const {
  const double most = std::exp2(mantissa_bits_ + exponent_bits_) - 1;
  if (!(outer >= 0 && outer <= most))
    return Problem{translated("{:g} does not fit in {} bits", outer, mantissa_bits_ + exponent_bits_),
                   translated("0 to {:.0f}", most)};
  const double mantissas = std::exp2(mantissa_bits_), half = mantissas / 2;
  double exponent = std::floor(outer / mantissas), mantissa = outer - exponent * mantissas;
  // The same value with a smaller exponent, where the mantissa leaves room.
  while (exponent > 0 && mantissa < half) --exponent, mantissa *= 2;
  return exponent == 0 ? mantissa : mantissas + (exponent - 1) * half + mantissa - half;
}

std::vector<TraceLine> FloatingLink::explain(double outer, const NumberStyle& style) const {
  const double mantissas = std::exp2(mantissa_bits_), exponent = std::floor(outer / mantissas);
  return {{"R", fmt::format("{} & {}", fixed(outer, 0, style), fixed(mantissas - 1, 0, style)),
           fixed(outer - exponent * mantissas, 0, style), outer - exponent * mantissas,
           translated("with the exponent {:.0f} above it", exponent)}};
}

}  // namespace fair_gauge
