#include "chain/digital_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>

#include "chain/links.h"
#include "digital/nearest_raw.h"

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
  const auto least = static_cast<double>(place().least()), most = static_cast<double>(place().most());
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
  if (!finite || rises == falls || tied_) return;
  const double first = knots_.front().reading, last = knots_.back().reading;
  lowest_ = std::max(lowest_, std::min(first, last));
  highest_ = std::min(highest_, std::max(first, last));
  reach_slack_ = std::abs(last - first) / (knots_.back().raw - knots_.front().raw);  // a step
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
  const auto least = static_cast<double>(place().least()), most = static_cast<double>(place().most());
  double raw = first_guess(value);
  for (int i = 0; i < 12 && raw > least + 8 && raw < most - 8; ++i) {
    const double slope = (at(raw + 8) - at(raw - 8)) / 16, next = std::round(raw + (value - at(raw)) / slope);
    if (!std::isfinite(next)) break;
    if (std::abs(next - raw) <= 1 && std::abs(at(next) - value) <= 2 * std::abs(slope)) return next;
    raw = next;
  }
  return nearest_raw(
             place().least(), place().most(), value, [this](double each) { return at(each); },
             [](double) { return false; })
      .raw;
}

double DigitalLink::forward_off(double inner, std::span<const double> deviations) const {
  const double value = inner + (deviations.empty() ? 0 : deviations[0]);
  const double raw = raw_near(value);
  const double slope = (at(raw + 1) - at(raw - 1)) / 2;
  const double refined = raw + (value - at(raw)) / slope;
  return std::isfinite(refined) && std::abs(refined - raw) < 4 ? refined : raw;
}

Result<double> DigitalLink::forward(double inner) const {
  if (!(inner >= setup_.range.minimum && inner <= setup_.range.maximum))
    return Problem{
        fmt::format("{:.6g} is {} the part's limit", inner, inner > setup_.range.maximum ? "above" : "below"),
        fmt::format("{:g} to {:g}", setup_.range.minimum, setup_.range.maximum)};
  if (!(inner >= lowest_ - reach_slack_ && inner <= highest_ + reach_slack_))
    return Problem{fmt::format("{:.6g} is {} what the part reaches with these settings", inner,
                               inner > highest_ ? "above" : "below"),
                   fmt::format("{:.6g} to {:.6g}, or other settings", lowest_, highest_)};
  return forward_off(inner, {});
}

Result<double> DigitalLink::inverse(double outer) const {
  for (const ByteState& state : setup_.decoder->part().bytes.states)
    if (!state.fault.empty() && state.field == setup_.decoder->part().bytes.fields[field_].name &&
        std::ranges::find(state.equals, outer) != state.equals.end())
      return Problem{state.says, "a raw number that is a reading"};
  const double inner = inverse_continuous(outer);
  const double margin = 0.1 * (setup_.range.maximum - setup_.range.minimum);
  if (!(inner >= setup_.range.minimum - margin && inner <= setup_.range.maximum + margin))
    return Problem{std::isnan(inner)
                       ? "the formula has no result for these bytes"
                       : fmt::format("{:.6g} is far outside the part's limits: look at the order of the bytes", inner),
                   fmt::format("{:g} to {:g}", setup_.range.minimum, setup_.range.maximum)};
  return inner;
}

std::vector<Source> DigitalLink::sources(double inner) const {
  const auto accuracy = setup_.accuracy_counts ? sheet_accuracy(setup_.range, inner) : std::nullopt;
  return {{"part accuracy", "",
           accuracy && accuracy->basis == Basis::typical ? Distribution::normal : Distribution::rectangular,
           accuracy ? accuracy->half_width : 0,
           std::string(base_unit(dimension_of_quantity(setup_.range.quantity)).symbol)}};
}

std::vector<TraceLine> DigitalLink::explain(double outer, const NumberStyle& style) const {
  std::vector<TraceEntry> trace;
  const double value = at(outer, &trace);
  std::map<std::string, double> known;
  for (std::size_t i = 0; i < setup_.fields.size(); ++i)
    known[setup_.decoder->part().bytes.fields[i].name] = setup_.fields[i];
  known[setup_.decoder->part().bytes.fields[field_].name] = outer;
  if (tied_) known[setup_.decoder->part().bytes.fields[*tied_].name] = tied_share_ * outer;
  for (const TraceEntry& entry : trace) known[entry.symbol] = entry.value;
  // A formula of several quantities goes on after this one: its last line is the one that gives the reading.
  const auto own = std::ranges::find(trace, value, &TraceEntry::value);
  if (own != trace.end()) trace.erase(own + 1, trace.end());
  const Unit& unit = base_unit(dimension_of_quantity(setup_.range.quantity));
  std::vector<TraceLine> lines;
  for (const TraceEntry& entry : trace)
    lines.push_back({entry.symbol, fmt::format("{} = {}", entry.symbol, with_numbers(entry.note, known)),
                     fmt::format("{:.7g}", entry.value), entry.value, ""});
  if (lines.size() > 4) lines.erase(lines.begin(), lines.end() - 4);  // all of them stand on the Read page
  if (!lines.empty())
    lines.back().note = fmt::format("{} {}", with_unit(value, 3, unit.symbol, style), "by the data sheet's formula");
  return lines;
}

}  // namespace fair_gauge
