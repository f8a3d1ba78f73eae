#include "logbook/record.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "files/markup.h"
#include "language/translation.h"
#include "quantity/day.h"
#include "quantity/number_format.h"
#include "truth/calibration_fit.h"

namespace fair_gauge {
namespace {

constexpr double year_days = 365.25;
constexpr int forecast_days = 3653;

// The shape of the correction as firmware would write it.
std::string formula_of(const CalibrationRecord& record) {
  std::string words;
  for (std::size_t k = 0; k < record.coefficients.size(); ++k) {
    const std::string variable = record.origin == 0 ? "x" : fmt::format("(x − {:g})", record.origin);
    words += fmt::format("{}{:.6g}{}",
                         k == 0                       ? ""
                         : record.coefficients[k] < 0 ? " − "
                                                      : " + ",
                         k == 0 ? record.coefficients[k] : std::abs(record.coefficients[k]),
                         k == 0   ? ""
                         : k == 1 ? " · " + variable
                                  : fmt::format(" · {}^{}", variable, k));
  }
  return words;
}

// A number with its unit on one line.
std::string in_one(double value, int decimals, std::string_view symbol) {
  std::string words = with_unit(value, decimals, symbol);
  if (const auto space = words.find(' '); space != std::string::npos) words.replace(space, 1, "\u00a0");
  return words;
}

std::string taken_from(const RecordedPoint& point, const std::string& difference) {
  if (point.readings <= 1 && point.spread == 0 && !point.conditions.empty()) return point.conditions;
  return translated("{} readings, spread {}", point.readings,
                    in_one(point.spread, decimals_for(point.spread), difference)) +
         (point.conditions.empty() ? "" : "; " + point.conditions);
}

// How far a channel was off at one of its points.
struct PointError {
  double reference = 0, error = 0;
  double standard = 0;  // 0 → nobody knows
};

std::vector<PointError> errors_of(const CalibrationRecord& record) {
  std::vector<PointError> errors;
  for (const RecordedPoint& point : record.points)
    errors.push_back({point.reference, point.reading - point.reference,
                      point.reference_standard > 0
                          ? std::hypot(point.reference_standard,
                                       point.spread / std::sqrt(static_cast<double>(std::max(1, point.readings))))
                          : 0});
  std::ranges::sort(errors, {}, &PointError::reference);
  return errors;
}

// Straight between two points, beyond them that of the nearest. \param errors  by reference
PointError error_at(const std::vector<PointError>& errors, double place) {
  const auto after = std::ranges::lower_bound(errors, place, {}, &PointError::reference);
  if (after == errors.end()) return errors.back();
  if (after == errors.begin()) return errors.front();
  const PointError &low = *std::prev(after), &high = *after;
  const double share = (place - low.reference) / (high.reference - low.reference);
  // One reference told both points: its error is not averaged away.
  const bool is_known = low.standard > 0 && high.standard > 0;
  return {place, std::lerp(low.error, high.error, share), is_known ? std::lerp(low.standard, high.standard, share) : 0};
}

std::string part_words(const Device& device, const Catalogue& catalogue) {
  const Part* part = catalogue.find(device.part);
  if (!part) return device.part;
  return part->name + (part->markings.empty() ? "" : ", " + part->markings.front());
}

// What was shown before anything was changed, where it was off by most; empty where no one wrote it down.
std::string found_words(const CalibrationRecord& record, const std::string& symbol, const std::string& difference) {
  if (!record.found_at || !record.found_error || !(record.tolerance > 0)) return "";
  const int decimals = decimals_for(record.tolerance) + 1;
  return translated("As found it was off by {} at {}, {:.0f} % of the allowed error. ",
                    with_unit(*record.found_error, decimals, difference), with_unit(*record.found_at, decimals, symbol),
                    std::abs(*record.found_error) / record.tolerance * 100);
}

}  // namespace

std::string record_html(const LogEntry& entry, const Bench& bench, const Catalogue& catalogue) {
  if (!entry.calibration) return html_page(entry.words, entry.on, "");
  const CalibrationRecord& record = *entry.calibration;
  const Unit* unit = unit_by_ucum(record.unit);
  const std::string symbol = unit ? std::string(unit->symbol) : record.unit,
                    difference = unit ? std::string(difference_symbol(*unit)) : record.unit;
  const Channel* channel = find_by_id(bench.channels, entry.channel);
  const Device* device = channel ? find_by_id(bench.devices, channel->device) : nullptr;
  std::vector<std::vector<std::string>> facts = {
      {translated("Channel"), channel && !channel->name.empty() && channel->name != entry.channel
                                  ? channel->name + " (" + entry.channel + ")"
                                  : entry.channel},
      {translated("Place"), channel ? channel->place : ""},
      {translated("Part"), device ? part_words(*device, catalogue) +
                                        (device->serial.empty() ? "" : translated(", serial {}", device->serial))
                                  : ""},
      {translated("Procedure"), record.procedure},
      {translated("Reference"), record.reference},
      {translated("Done by"), entry.who},
      {translated("Allowed error"), "±" + with_unit(record.tolerance, decimals_for(record.tolerance), difference)}};
  std::erase_if(facts, [](const auto& row) { return row[1].empty(); });
  std::vector<std::vector<std::string>> points;
  for (const RecordedPoint& point : record.points) {
    const double error = point.reading - point.reference;
    const int decimals = decimals_for(std::max(point.reference_standard, point.spread > 0 ? point.spread : 1e-3));
    const double doubled = 2 * point.reference_standard;
    points.push_back({in_one(point.reference, decimals, symbol),
                      doubled > 0 ? "±" + in_one(doubled, decimals_for(doubled), difference) : translated("not known"),
                      in_one(point.reading, decimals, symbol), in_one(error, decimals, difference),
                      taken_from(point, difference)});
  }
  std::string body = html_table({"", ""}, facts);
  body += html_heading(translated("Points, without any correction")) +
          html_table({translated("Reference"), translated("±, k = 2"), translated("Reading"), translated("Error"),
                      translated("Taken from")},
                     points);
  const auto share = [](const std::optional<double>& used) {
    return used ? fmt::format("{:.0f} %", *used * 100) : std::string(translated("not known"));
  };
  body += html_heading(translated("Correction")) + "<p>" +
          html_escaped(translated("Model: {}. Added to a reading x: {} {}.", translated(record.model),
                                  formula_of(record), difference)) +
          "</p>";
  // Entries of before that knew only the middle.
  const bool is_worst = record.holds_from && record.holds_to;
  const auto end = [&](double at) { return with_unit(at, decimals_for(record.tolerance), symbol); };
  const std::string where =
      is_worst ? translated("At its worst between {} and {}", end(*record.holds_from), end(*record.holds_to))
               : translated("In the middle of the wanted range");
  const std::string good_for = record.used_after
                                   ? translated("a corrected reading is within ±{} of the true value (95 %)",
                                                with_unit(record.expanded, decimals_for(record.expanded), difference))
                                   : translated("nobody knows how far a corrected reading is off away from its points");
  const std::string used =
      record.used_before && record.used_after ? translated("{} {} of the allowed error were used before, {} after",
                                                           where, share(record.used_before), share(record.used_after))
      : record.used_after ? translated("{} {} of the allowed error are used now; how much before, nobody knew", where,
                                       share(record.used_after))
      : record.used_before
          ? translated("{} {} of the allowed error were used before; how much now, nobody knows", where,
                       share(record.used_before))
          : translated("{} nobody knew how much of the allowed error was used, and nobody knows it now", where);
  body +=
      html_heading(translated("Verdict")) + "<p>" +
      html_escaped(found_words(record, symbol, difference) + translated("{}; {}. {}", used, good_for, record.verdict)) +
      "</p>";
  if (!entry.words.empty()) body += html_heading(translated("Remarks")) + "<p>" + html_escaped(entry.words) + "</p>";
  body += translated("<p class=\"quiet\">Not for medical, life-safety or trade use.</p>");
  return html_page(translated("Calibration {}", entry.number), entry.on + " · " + bench.name, body);
}

std::string record_csv(const LogEntry& entry) {
  std::string text = "reference,reading,uncertainty,spread,readings,conditions\r\n";
  if (!entry.calibration) return text;
  for (const RecordedPoint& point : entry.calibration->points)
    text += csv_row({fmt::format("{}", point.reference), fmt::format("{}", point.reading),
                     fmt::format("{}", std::hypot(point.reference_standard,
                                                  point.spread / std::sqrt(static_cast<double>(point.readings)))),
                     fmt::format("{}", point.spread), fmt::format("{}", point.readings), point.conditions});
  return text;
}

std::string record_json(const LogEntry& entry) { return entry_to_text(entry, 2) + "\n"; }

Drift drift_of(const Logbook& logbook, const std::string& channel, double tolerance) {
  Drift drift;
  std::vector<std::pair<int, std::vector<PointError>>> calibrations;
  for (const LogEntry& entry : logbook.entries) {
    if (!entry.calibration || entry.channel != channel || entry.calibration->points.empty() ||
        logbook.is_corrected(entry))
      continue;
    if (const auto day = day_from_text(std::string_view(entry.on).substr(0, 10)))
      calibrations.emplace_back(*day, errors_of(*entry.calibration));
  }
  if (calibrations.empty()) return drift;
  // Where all of them were: errors at different places differ without any drift.
  double low = -std::numeric_limits<double>::infinity(), high = std::numeric_limits<double>::infinity();
  for (const auto& [day, errors] : calibrations)
    low = std::max(low, errors.front().reference), high = std::min(high, errors.back().reference);
  drift.place = std::midpoint(low, high);
  for (const auto& [day, errors] : calibrations) {
    const PointError here = error_at(errors, drift.place);
    drift.course.push_back({day, here.error, here.standard});
  }
  std::ranges::stable_sort(drift.course, {}, &Drift::At::day);
  if (!drift.has_days_between()) return drift;
  // A line through the errors; its slope is the drift.
  std::vector<CalibrationPoint> points;
  for (const Drift::At& at : drift.course)
    points.push_back({at.day + at.error, static_cast<double>(at.day), at.standard});
  const auto fit = fit_calibration(FitModel::line, points, drift.course.front().day);
  if (!fit) return drift;
  drift.per_year = fit->coefficients[1] * year_days;
  drift.per_year_standard = fit->standard_uncertainties[1] * year_days;
  const double slope = std::abs(fit->coefficients[1]);
  if (slope > 0 && tolerance > 0 && drift.is_seen())
    if (const double days = tolerance / slope; days < forecast_days)
      drift.leaves_on = drift.course.back().day + static_cast<int>(days);
  return drift;
}

}  // namespace fair_gauge
