#include "stream/span_export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "files/file.h"
#include "files/json_document.h"
#include "files/markup.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "stream/log_convert.h"
#include "stream/log_time.h"

namespace fair_gauge {
namespace {

constexpr int guard_decimals = 1;  // means of many rows are known better than one

// As registered for SenML; empty → it has no name there.
std::string_view senml_unit(Dimension dimension) {
  switch (dimension) {
    case Dimension::temperature: return "Cel";
    case Dimension::temperature_difference: return "K";
    case Dimension::humidity: return "%RH";
    case Dimension::pressure: return "Pa";
    case Dimension::illuminance: return "lx";
    case Dimension::irradiance: return "W/m2";
    case Dimension::length: return "m";
    case Dimension::voltage: return "V";
    case Dimension::current: return "A";
    case Dimension::resistance: return "Ohm";
    case Dimension::frequency: return "Hz";
    default: return "";
  }
}

// Raw numbers are whole but for those that arrive converted.
std::string raw_text(double raw) { return raw == raw ? fmt::format("{:.10g}", raw) : std::string(); }

Result<std::size_t> write_rows(const LogSpan& span, const std::string& path, std::string_view head,
                               const std::function<std::string(const LogReading&)>& row_text, std::string_view end) {
  auto file = OutputFile::open(path);
  if (!file) return file.problem();
  std::size_t rows = 0;
  std::string text(head);
  const auto& all = span.log.rows;
  for (std::size_t i = span.from; i < std::min(span.to, all.size()); ++i) {
    const std::string row = row_text(all[i]);
    if (row.empty()) continue;
    text += row;
    ++rows;
    if (text.size() > 1u << 20) file->write(std::exchange(text, {}));
  }
  text += end;
  file->write(text);
  const auto written = file->commit();
  if (!written) return written.problem();
  return rows;
}

}  // namespace

Result<std::size_t> export_csv(const LogSpan& span, const std::string& path) {
  const Channel& channel = span.chain.channel;
  const Unit& shown = *span.chain.shown;
  const std::string reading = fmt::format("{}_{}", channel.id, shown.ucum);
  const int decimals = justified_decimals(span.chain, shown) + guard_decimals;
  auto rows = write_rows(
      span, path, fmt::format("time,{},{}\n", channel.id, reading),
      [&](const LogReading& row) {
        const std::string time = !row.is_timed || row.seconds != row.seconds ? std::string()
                                 : span.is_dated                             ? moment_text(row.seconds)
                                                                             : fmt::format("{:.10g}", row.seconds);
        return fmt::format("{},{},{}\n", time, raw_text(row.raw),
                           row.is_good() ? fmt::format("{:.{}f}", row.reading, decimals) : std::string());
      },
      "");
  if (!rows) return rows;
  const Json columns = {{{"name", "time"},
                         {"titles", "time"},
                         {"datatype", span.is_dated ? "dateTimeStamp" : "number"},
                         {"unit", span.is_dated ? "UTC" : "s"},
                         {"null", ""}},
                        {{"name", channel.id},
                         {"titles", channel.id},
                         {"datatype", "number"},
                         {"unit", channel.arrives_converted() ? channel.arriving_unit() : "raw"},
                         {"null", ""}},
                        {{"name", reading},
                         {"titles", reading},
                         {"datatype", "number"},
                         {"unit", shown.ucum},
                         {"quantity", enum_name(channel.quantity)},
                         {"null", ""}}};
  const Json metadata = {{"@context", "http://www.w3.org/ns/csvw"},
                         {"url", std::filesystem::path(path).filename().string()},
                         {"dialect", {{"header", true}, {"delimiter", ","}}},
                         {"tableSchema", {{"columns", columns}}}};
  const auto described = write_file(path + "-metadata.json", metadata.dump(2) + "\n");
  if (!described) return described.problem();
  return rows;
}

Result<std::size_t> export_senml(const LogSpan& span, const std::string& path) {
  const Unit& shown = *span.chain.shown;
  const auto& rows = span.log.rows;
  const std::size_t end = std::min(span.to, rows.size());
  // Written once, for all records: name, unit and the time that the others count from.
  double base = 0;
  for (std::size_t i = span.from; i < end; ++i)
    if (std::isfinite(rows[i].seconds)) {
      base = rows[i].seconds;
      if (span.is_dated) break;  // of the others the last is now
    }
  const int decimals = justified_decimals(span.chain, *span.chain.base) + guard_decimals;
  bool is_first = true;
  return write_rows(
      span, path, "[",
      [&](const LogReading& row) -> std::string {
        if (!row.is_good() || !row.is_timed || !std::isfinite(row.seconds)) return "";
        Json head = Json::object();
        if (is_first) {
          head["bn"] = span.chain.channel.id;
          if (span.is_dated) head["bt"] = base;
          if (const auto unit = senml_unit(span.chain.base->dimension); !unit.empty()) head["bu"] = unit;
        }
        std::string text = head.dump();
        text.pop_back();  // its closing brace
        const char* parted = is_first ? "" : ",";
        const std::string value =
            fmt::format("\"t\":{:.10g},\"v\":{:.{}f}}}", row.seconds - base, shown.to_base(row.reading), decimals);
        std::string record = fmt::format("{}\n{}{}{}", parted, text, is_first ? "," : "", value);
        is_first = false;
        return record;
      },
      "\n]\n");
}

std::string span_html(const LogSpan& span, const Review& review, const SpanPage& page) {
  const Unit& shown = *span.chain.shown;
  const Channel& channel = span.chain.channel;
  const Range limits{shown.from_base(channel.wanted.from), shown.from_base(channel.wanted.to)};
  const SpanFigures all = span_figures(span.log, 0, span.log.rows.size(), limits),
                    some = span_figures(span.log, span.from, span.to, limits);
  const int decimals = std::clamp(decimals_of_two_digits(std::max(review.noise, 1e-6)), 0, 4);
  const auto reading = [&](double value) {
    return std::isfinite(value) ? with_unit(value, decimals, shown.symbol) : std::string("–");
  };
  const auto two_digits = [&](double value) {
    return std::isfinite(value)
               ? with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), difference_symbol(shown))
               : std::string("–");
  };
  const auto lasting = [](double seconds, const SpanFigures& of) {
    return of.seconds > 0 ? fmt::format("{}, {:.0f} %", duration_text(seconds), 100 * seconds / of.seconds)
                          : std::string("–");
  };
  const auto line = [](std::string name, std::string one, std::string other) {
    return std::vector{std::move(name), std::move(one), std::move(other)};
  };
  const std::vector<std::vector<std::string>> figures = {
      line(translated("good rows"), translated("{} of {}", some.good, some.rows),
           translated("{} of {}", all.good, all.rows)),
      line(translated("lasts"), duration_text(some.seconds), duration_text(all.seconds)),
      line(translated("mean"), reading(some.mean), reading(all.mean)),
      line(translated("least"), reading(some.minimum), reading(all.minimum)),
      line(translated("most"), reading(some.maximum), reading(all.maximum)),
      line(translated("spread"), two_digits(some.standard_deviation), two_digits(all.standard_deviation)),
      line(translated("noise, rms"), two_digits(some.noise), two_digits(all.noise)),
      line(translated("drift an hour"), two_digits(some.drift_per_hour), two_digits(all.drift_per_hour)),
      line(translated("above {} {}", shortest(limits.to), shown.symbol), lasting(some.above_s, some),
           lasting(all.above_s, all)),
      line(translated("below {} {}", shortest(limits.from), shown.symbol), lasting(some.below_s, some),
           lasting(all.below_s, all))};
  std::string body;
  if (!page.picture.empty()) body += "<p><img width=\"620\" src=\"data:image/png;base64," + page.picture + "\"/></p>";
  body += html_heading(translated("Figures")) +
          html_table({"", translated("of this span"), translated("of all of it")}, figures);
  std::vector<std::string> events;
  const auto row_at = [&](std::size_t place) { return span.log.rows[std::min(place, span.log.rows.size() - 1)].row; };
  constexpr std::size_t most_events = 40;
  for (const LogEvent& event : review.events)
    if (!span.log.rows.empty() && span.to > span.from && event.to_row >= row_at(span.from) &&
        event.from_row <= row_at(span.to - 1) && events.size() < most_events)
      events.push_back(translated("row {}: {}, {}", event.from_row, translated_name(event.kind), event.words));
  body += html_heading(translated("Events")) +
          (events.empty() ? "<p>" + html_escaped(translated("Nothing stands out.")) + "</p>" : html_list(events));
  body += "<p class=\"quiet\">" +
          html_escaped(translated("{}. Readings as this bench converts them today.", page.origin)) + "</p>";
  const std::string name = called(channel);
  return html_page(name, page.on + " · " + page.title + (page.place.empty() ? "" : ", " + page.place), body);
}

}  // namespace fair_gauge
