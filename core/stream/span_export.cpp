#include "stream/span_export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "files/file.h"
#include "files/json_document.h"
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
        const std::string time = row.seconds != row.seconds ? std::string()
                                 : span.is_dated            ? moment_text(row.seconds)
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
        if (!row.is_good() || !std::isfinite(row.seconds)) return "";
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

}  // namespace fair_gauge
