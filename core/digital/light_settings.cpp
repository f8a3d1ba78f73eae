#include "digital/light_settings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "digital/encoder.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// The settings that change how much light fills the counter; a package or the like is left as it is usually.
bool fills(const PartSetting& setting) {
  return setting.key == "gain" || setting.key == "integration_ms" || setting.key == "mtreg";
}

std::vector<std::map<std::string, double>> combinations(const Part& part) {
  std::vector<std::map<std::string, double>> all = {{}};
  for (const PartSetting& setting : part.bytes.settings) {
    if (!fills(setting)) continue;
    std::vector<double> values;
    for (const SettingChoice& choice : setting.choices) values.push_back(choice.value);
    if (values.empty()) values = {setting.minimum, setting.default_value, setting.maximum};
    std::vector<std::map<std::string, double>> next;
    for (const auto& one : all)
      for (const double value : values) {
        next.push_back(one);
        next.back()[setting.key] = value;
      }
    all = std::move(next);
  }
  return all;
}

// How the part reads a light with these settings; nothing if it is full.
std::optional<LightSetting> judge(const Part& part, const std::map<std::string, double>& settings, double lux) {
  auto decoder = Decoder::make(part, settings);
  if (!decoder || part.bytes.readings.empty()) return std::nullopt;
  const ByteReading& reading = part.bytes.readings.front();
  const std::size_t field = *decoder->field(reading.field);
  std::vector<double> fields(part.bytes.fields.size(), 0.0);
  const double miss = solve_field(*decoder, fields, 0, lux);
  double full = static_cast<double>(decoder->places()[field].most());
  // A shorter integration may fill the counter before its last code; the part's own step "limit" tells.
  std::vector<double> results(part.bytes.readings.size());
  std::vector<TraceEntry> trace;
  decoder->evaluate(fields, results, &trace);
  for (const TraceEntry& entry : trace)
    if (entry.symbol == "limit") full = std::min(full, entry.value);
  LightSetting found{.settings = settings, .raw = fields[field], .share = fields[field] / full};
  fields[field] += 1;
  decoder->evaluate(fields, results);
  const double above = results.front();
  fields[field] -= 2;
  decoder->evaluate(fields, results);
  found.step_lux = std::abs(above - results.front()) / 2;
  if (const auto ms = settings.find("integration_ms"); ms != settings.end()) found.integration_s = ms->second / 1000;
  const bool reached = miss <= 2 * found.step_lux + 1e-9;
  return reached && found.share < 1 ? std::optional(found) : std::nullopt;
}

}  // namespace

bool has_light_settings(const Part& part) {
  return part.is_digital() && part.measures(Quantity::illuminance) && std::ranges::any_of(part.bytes.settings, fills);
}

Result<std::vector<LightSetting>> light_settings(const Part& part, double expected_lux, double headroom) {
  const PartQuantity* light = part.measures(Quantity::illuminance);
  if (!light || !part.is_digital())
    return Problem{translated("\"{}\" measures no light by bytes", part.id), translated("a digital light sensor")};
  if (!has_light_settings(part))
    return Problem{translated("\"{}\" has no gain and no time to choose", part.id),
                   translated("its range follows the light by itself")};
  std::vector<LightSetting> found;
  for (const auto& settings : combinations(part)) {
    const auto judged = judge(part, settings, expected_lux);
    if (judged && judged->share * headroom <= 1) found.push_back(*judged);
  }
  if (found.empty()) {
    double most = 0;
    for (const auto& settings : combinations(part))
      for (int i = 0; i <= 100; ++i) {
        const double lux = (light->minimum + 1) * std::pow(light->maximum / (light->minimum + 1), i / 100.0);
        if (const auto judged = judge(part, settings, lux); judged && judged->share * headroom <= 1)
          most = std::max(most, lux);
      }
    return Problem{translated("no setting reads {:.4g} lx with {:g} times headroom", expected_lux, headroom),
                   translated("{:.3g} lx at most, a filter before the sensor, or less headroom", most)};
  }
  std::ranges::stable_sort(found, [](const LightSetting& a, const LightSetting& b) {
    return a.step_lux != b.step_lux ? a.step_lux < b.step_lux : a.integration_s < b.integration_s;
  });
  return found;
}

std::vector<LightSetting> automatic_gain(const Part& part, double lux, const std::map<std::string, double>& from) {
  // From the least sensitive to the most.
  auto all = combinations(part);
  const auto sensitivity = [&](const std::map<std::string, double>& settings) {
    double product = 1;
    for (const auto& [key, value] : settings) product *= value;
    return product;
  };
  std::ranges::stable_sort(all, {}, sensitivity);
  auto at = std::ranges::find_if(all, [&](const auto& settings) {
    return std::ranges::all_of(settings, [&](const auto& each) {
      return from.contains(each.first) ? from.at(each.first) == each.second : false;
    });
  });
  if (at == all.end()) at = all.begin();
  std::vector<LightSetting> steps;
  int direction = 0;
  while (steps.size() < 40) {
    const auto judged = judge(part, *at, lux);
    steps.push_back(
        judged.value_or(LightSetting{.settings = *at, .raw = 0, .share = 1, .step_lux = 0, .integration_s = 0}));
    const int wanted = steps.back().share > 0.9 ? -1 : steps.back().share < 0.1 ? 1 : 0;
    if (wanted == 0 || wanted == -direction) break;  // well read, or it would go back and forth
    if ((wanted < 0 && at == all.begin()) || (wanted > 0 && at + 1 == all.end())) break;
    direction = wanted;
    at += wanted;
  }
  return steps;
}

}  // namespace fair_gauge
