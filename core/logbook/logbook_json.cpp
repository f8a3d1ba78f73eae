// The fields of the logbook's lines, with what each must be.
#include "files/json_fields.h"
#include "logbook/logbook.h"

namespace fair_gauge {

template <>
struct Fields<RecordedPoint> {
  static void list(auto& self, auto&& visit) {
    visit("reference", self.reference, {.required = true});
    visit("reference_standard", self.reference_standard, {.minimum = 0});
    visit("reading", self.reading, {.required = true});
    visit("spread", self.spread, {.minimum = 0});
    visit("readings", self.readings, {.minimum = 1, .maximum = 1e6});
    visit("conditions", self.conditions);
  }
};

template <>
struct Fields<CalibrationRecord> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("unit", self.unit, {.required = true});
    visit("procedure", self.procedure);
    visit("reference", self.reference);
    visit("points", self.points);
    visit("model", self.model);
    visit("origin", self.origin);
    visit("coefficients", self.coefficients);
    visit("standard_uncertainties", self.standard_uncertainties);
    visit("residual_sd", self.residual_sd);
    visit("tolerance", self.tolerance, {.minimum = 0});
    visit("holds_from", self.holds_from);
    visit("holds_to", self.holds_to);
    visit("found_at", self.found_at);
    visit("found_error", self.found_error);
    visit("used_before", self.used_before);
    visit("used_after", self.used_after);
    visit("expanded", self.expanded, {.minimum = 0});
    visit("verdict", self.verdict);
  }
};

template <>
struct Fields<LogEntry> {
  static void list(auto& self, auto&& visit) {
    visit("number", self.number, {.minimum = 1, .maximum = 1e9, .required = true});
    visit("on", self.on, {.required = true});
    visit("who", self.who);
    visit("kind", self.kind);
    visit("channel", self.channel);
    visit("words", self.words);
    visit("corrects", self.corrects, {.minimum = 0, .maximum = 1e9});
    visit("calibration", self.calibration);
  }
};

Result<LogEntry> entry_from_text(std::string line) {
  const auto document = parse_json(std::move(line), "");
  if (!document) return document.problem();
  LogEntry entry;
  std::vector<Problem> problems;
  JsonReader(*document, problems).read(document->value, entry, "");
  if (!problems.empty()) return problems.front();
  return entry;
}

std::string entry_to_text(const LogEntry& entry, int indent) {
  return to_json_value(entry).dump(indent, ' ', false, Json::error_handler_t::replace);
}

Result<std::vector<RecordedPoint>> points_from_text(std::string text) {
  const auto document = parse_json(std::move(text), "");
  if (!document) return document.problem();
  std::vector<RecordedPoint> points;
  std::vector<Problem> problems;
  JsonReader(*document, problems).read(document->value, points, "");
  if (!problems.empty()) return problems.front();
  return points;
}

std::string points_to_text(const std::vector<RecordedPoint>& points) { return to_json_value(points).dump(); }

}  // namespace fair_gauge
