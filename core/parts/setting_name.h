// What a setting of a part and its choices are called for people.
#pragma once

#include <string>

#include "parts/byte_layout.h"

namespace fair_gauge {

/// "Integration, ms"; one of somebody's own part is called by its key.
std::string setting_name(const PartSetting& setting);

/// "high", or the number itself.
std::string choice_name(const SettingChoice& choice);

}  // namespace fair_gauge
