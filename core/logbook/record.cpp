#include "logbook/record.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

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

}  // namespace

std::string record_html(const LogEntry& entry, const Bench& bench) {
  if (!entry.calibration) return html_page(entry.words, entry.on, "");
  const CalibrationRecord& record = *entry.calibration;
  const Unit* unit = unit_by_ucum(record.unit);
  const std::string symbol = unit ? std::string(unit->symbol) : record.unit,
                    difference = unit ? std::string(difference_symbol(*unit)) : record.unit;
  const Channel* channel = find_by_id(bench.channels, entry.channel);
  const Device* device = channel ? find_by_id(bench.devices, channel->device) : nullptr;
  std::vector<std::vector<std::string>> facts = {
      {translated("Channel"),
       channel && !channel->name.empty() ? channel->name + " (" + entry.channel + ")" : entry.channel},
      {translated("Place"), channel ? channel->place : ""},
      {translated("Part"),
       device ? device->part + (device->serial.empty() ? "" : translated(", serial {}", device->serial)) : ""},
      {translated("Procedure"), record.procedure},
      {translated("Reference"), record.reference},
      {translated("Done by"), entry.who},
      {translated("Allowed error"), "±" + with_unit(record.tolerance, decimals_for(record.tolerance), difference)}};
  std::erase_if(facts, [](const auto& row) { return row[1].empty(); });
  std::vector<std::vector<std::string>> points;
  for (const RecordedPoint& point : record.points) {
    const double error = point.reading - point.reference;
    const int decimals = decimals_for(std::max(point.reference_standard, point.spread > 0 ? point.spread : 1e-3));
    points.push_back(
        {with_unit(point.reference, decimals, symbol),
         point.reference_standard > 0
             ? "±" + with_unit(2 * point.reference_standard, decimals_for(2 * point.reference_standard), difference)
             : translated("not known"),
         with_unit(point.reading, decimals, symbol), with_unit(error, decimals, difference),
         translated("{} readings, spread {}", point.readings,
                    with_unit(point.spread, decimals_for(point.spread), difference)),
         point.conditions});
  }
  std::string body = html_table({"", ""}, facts);
  body +=
      html_heading(translated("Points")) +
      html_table({translated("Reference"), translated("its uncertainty (k = 2)"), translated("Reading, uncorrected"),
                  translated("Error"), translated("Taken from"), translated("Conditions")},
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
  body += html_heading(translated("Verdict")) + "<p>" +
          html_escaped(translated("{} {}; {}.", record.verdict, used, good_for)) + "</p>";
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
  for (const LogEntry& entry : logbook.entries) {
    if (!entry.calibration || entry.channel != channel || entry.calibration->points.empty() ||
        logbook.is_corrected(entry))
      continue;
    const auto day = day_from_text(std::string_view(entry.on).substr(0, 10));
    if (!day) continue;
    double weights = 0, sum = 0;
    for (const RecordedPoint& point : entry.calibration->points) {
      const double standard =
          std::hypot(point.reference_standard, point.spread / std::sqrt(static_cast<double>(point.readings)));
      const double weight = standard > 0 ? 1 / (standard * standard) : 1;
      weights += weight;
      sum += weight * (point.reading - point.reference);
    }
    drift.course.push_back({*day, sum / weights, 1 / std::sqrt(weights)});
  }
  std::ranges::stable_sort(drift.course, {}, &Drift::At::day);
  if (drift.course.size() < 2 || drift.course.front().day == drift.course.back().day) return drift;
  // A line through the errors; its slope is the drift.
  std::vector<CalibrationPoint> points;
  for (const Drift::At& at : drift.course) points.push_back({at.day + at.error, static_cast<double>(at.day), 0});
  const auto fit = fit_calibration(FitModel::line, points, drift.course.front().day);
  if (!fit) return drift;
  drift.per_year = fit->coefficients[1] * year_days;
  drift.per_year_standard = fit->standard_uncertainties[1] * year_days;
  const double slope = std::abs(fit->coefficients[1]);
  if (slope > 0 && tolerance > 0)
    if (const double days = tolerance / slope; days < forecast_days)
      drift.leaves_on = drift.course.back().day + static_cast<int>(days);
  return drift;
}

}  // namespace fair_gauge
