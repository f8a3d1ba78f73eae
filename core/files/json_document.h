// A JSON text together with where its values stand, so that every fault can be said with file, line and column.
#pragma once

#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// The library's map that keeps the order of keys, with room from the start: its keys are constant, so that every
/// growth copies all that lies below.
template <class Key, class T, class IgnoredLess = std::less<Key>,
          class Allocator = std::allocator<std::pair<const Key, T>>>
struct RoomyMap : nlohmann::ordered_map<Key, T, IgnoredLess, Allocator> {
  using Base = nlohmann::ordered_map<Key, T, IgnoredLess, Allocator>;
  using Base::Base;
  RoomyMap() { this->reserve(usual_keys); }
  static constexpr std::size_t usual_keys = 16;
};

/// Keys keep the order in which they were written.
using Json = nlohmann::basic_json<RoomyMap>;

struct JsonDocument {
  Json value;
  std::string file;
  std::string text;

  /// Where the value at a JSON pointer ("/channels/0/name") stands; of its nearest parent if it is missing.
  Place place_of(std::string_view pointer) const;
};

/// Parses a text. Refuses nesting deeper than 64 levels, broken UTF-8 and numbers that no double holds.
Result<JsonDocument> parse_json(std::string text, std::string file);

/// True if a text nests deeper than parse_json() takes: whoever parses by other ways asks first.
bool nests_too_deep(std::string_view text);

/// Keys that stand twice in one object: the last one counts. At most a hundred.
std::vector<Problem> duplicate_keys(const JsonDocument& document);

/// Reads and parses a file.
Result<JsonDocument> read_json(const std::string& path);

}  // namespace fair_gauge
