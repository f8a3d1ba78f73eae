#include "parts/setting_name.h"

#include <fmt/format.h>

#include <algorithm>

#include "language/translation.h"

namespace fair_gauge {

std::string setting_name(const PartSetting& setting) {
  static constexpr std::pair<std::string_view, const char*> labels[] = {
      {"resolution", to_translate("Resolution")},
      {"curve", to_translate("Curve")},
      {"reference", to_translate("Reference")},
      {"nominal", to_translate("At 0 °C")},
      {"full_scale", to_translate("Full scale")},
      {"input", to_translate("Input")},
      {"rate", to_translate("Readings a second")},
      {"bits", to_translate("Bits")},
      {"gain", to_translate("Gain")},
      {"excitation", to_translate("Excitation")},
      {"integration_ms", to_translate("Integration, ms")},
      {"package", to_translate("Package")},
      {"mode", to_translate("Mode")},
      {"mtreg", to_translate("Time register")},
      {"finest_lx", to_translate("Finest step, lx")},
      {"correction", to_translate("Correction")},
      {"repeatability", to_translate("Repeatability")},
      {"power", to_translate("Power")},
      {"oversampling", to_translate("Oversampling")},
      {"pressure_oversampling", to_translate("Oversampling, pressure")},
      {"temperature_oversampling", to_translate("Oversampling, temperature")}};
  const auto found = std::ranges::find(labels, setting.key, &std::pair<std::string_view, const char*>::first);
  return found == std::end(labels) ? setting.key : std::string(translated(found->second));
}

std::string choice_name(const SettingChoice& choice) {
  return choice.name.empty() ? fmt::format("{:g}", choice.value) : choice.name;
}

}  // namespace fair_gauge
