// Gain and integration time for a light: fine enough, and far enough from saturation.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "parts/part.h"
#include "quantity/result.h"

namespace fair_gauge {

/// One way to set a light sensor for an expected illuminance.
struct LightSetting {
  std::map<std::string, double> settings;
  double raw = 0;            ///< of the first channel at the expected illuminance
  double share = 0;          ///< of full scale that it uses
  double step_lux = 0;       ///< what one count is worth there
  double integration_s = 0;  ///< 0 if the part has no such setting
};

/// Whether a part's light fills its counter by settings that one chooses; not where its range follows by itself.
bool has_light_settings(const Part& part);

/// Every combination of the part's settings, best first: the finest step among those that keep the headroom.
/// \param expected_lux  the brightest light that is to be measured
/// \param headroom      how many times brighter it may get before the part is full; 1 → none
/// \returns the combinations that do not saturate, or which light the part can stand at most
Result<std::vector<LightSetting>> light_settings(const Part& part, double expected_lux, double headroom = 2);

/// The settings that an automatic gain goes through from a given one, step by step, until the light is read well:
/// a channel above 9/10 of full scale steps down, one below 1/10 steps up.
std::vector<LightSetting> automatic_gain(const Part& part, double lux, const std::map<std::string, double>& from);

}  // namespace fair_gauge
