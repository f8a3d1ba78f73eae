// A JSON text together with where its values stand, so that every fault can be said with file, line and column.
#pragma once

#include <map>
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// Keys keep the order in which they were written.
using Json = nlohmann::ordered_json;

struct JsonDocument {
  Json value;
  std::string file;
  std::string text;

  /// Where the value at a JSON pointer ("/channels/0/name") stands; of its nearest parent if it is missing.
  Place place_of(std::string_view pointer) const;
};

/// Parses a text. Refuses nesting deeper than 64 levels, broken UTF-8 and numbers that no double holds.
Result<JsonDocument> parse_json(std::string text, std::string file);

/// Reads and parses a file.
Result<JsonDocument> read_json(const std::string& path);

}  // namespace fair_gauge
