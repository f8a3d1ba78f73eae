// Calendar days as ISO 8601 writes them.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace fair_gauge {

/// "2026-11-24" → days since 1970-01-01; nothing for a text that is no day.
std::optional<int> day_from_text(std::string_view text);

/// Days since 1970-01-01 → "2026-11-24".
std::string day_text(int day);

}  // namespace fair_gauge
