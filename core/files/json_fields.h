// One list of fields per struct serves reading, checking and writing it as JSON. Included by *_json.cpp files alone.
//
// A struct takes part by a specialisation that names its fields:
//
//     template <>
//     struct Fields<Converter> {
//       static void list(auto& self, auto&& visit) {
//         visit("bits", self.bits, {.minimum = 1, .maximum = 32});
//       }
//     };
//
// and a member `UnknownKeys unknown` that keeps the keys this version does not know, so that they survive a round trip.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <type_traits>
#include <vector>

#include "files/json_document.h"
#include "files/unknown_keys.h"
#include "quantity/enum_names.h"

namespace fair_gauge {

/// What a field must be beyond its type.
struct FieldRule {
  double minimum = -std::numeric_limits<double>::infinity();
  double maximum = std::numeric_limits<double>::infinity();
  bool required = false;
};

/// Names the fields of a struct.
template <class T>
struct Fields;

template <class T>
concept HasFields = requires(T& object) {
  object.unknown;
};

namespace detail {
template <class T>
struct is_optional : std::false_type {};
template <class T>
struct is_optional<std::optional<T>> : std::true_type {};
template <class T>
struct is_vector : std::false_type {};
template <class T>
struct is_vector<std::vector<T>> : std::true_type {};
template <class T>
struct is_map : std::false_type {};
template <class T>
struct is_map<std::map<std::string, T>> : std::true_type {};
}  // namespace detail

/// How many letters have to be added, left out or changed to make one word of the other.
inline std::size_t letters_apart(std::string_view a, std::string_view b) {
  std::vector<std::size_t> row(b.size() + 1);
  for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i) {
    std::size_t diagonal = row[0];
    row[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t changed = diagonal + (a[i - 1] == b[j - 1] ? 0 : 1);
      diagonal = row[j];
      row[j] = std::min({changed, row[j] + 1, row[j - 1] + 1});
    }
  }
  return row[b.size()];
}

/// Fills structs from a document. A faulty field keeps its default and is named in `problems`; the rest is kept.
class JsonReader {
 public:
  /// \param warnings  takes the keys that are not known; null → nobody asks
  JsonReader(const JsonDocument& document, std::vector<Problem>& problems, std::vector<Problem>* warnings = nullptr)
      : document_(document), problems_(problems), warnings_(warnings) {}
  /// Where each of the problems stands, as a JSON pointer.
  const std::vector<std::string>& pointers() const { return pointers_; }

  template <class T>
  void read(const Json& json, T& field, const std::string& pointer, FieldRule rule = {}) {
    if constexpr (detail::is_optional<T>::value) {
      field.emplace();
      const auto faults = problems_.size();
      read(json, *field, pointer, rule);
      if (problems_.size() > faults) field.reset();
    } else if constexpr (detail::is_vector<T>::value) {
      if (!json.is_array()) return fault(pointer, json, "a list");
      if (json.size() > most_items) return fault(pointer, json, fmt::format("{} items at most", most_items));
      const auto faults = problems_.size();
      for (std::size_t i = 0; i < json.size(); ++i) {
        field.emplace_back();
        read(json[i], field.back(), fmt::format("{}/{}", pointer, i), rule);
      }
      // A list of plain values with a faulty one is no list: half of a table or a polynomial means something else.
      if constexpr (!HasFields<typename T::value_type>)
        if (problems_.size() > faults) field.clear();
    } else if constexpr (detail::is_map<T>::value) {
      if (!json.is_object()) return fault(pointer, json, "an object of named values");
      for (const auto& [key, value] : json.items()) read(value, field[key], fmt::format("{}/{}", pointer, key), rule);
    } else if constexpr (std::is_same_v<T, Json>) {
      field = json;
    } else if constexpr (std::is_same_v<T, std::string>) {
      if (!json.is_string()) return fault(pointer, json, "a text");
      field = json.get<std::string>();
    } else if constexpr (std::is_same_v<T, bool>) {
      if (!json.is_boolean()) return fault(pointer, json, "true or false");
      field = json.get<bool>();
    } else if constexpr (std::is_enum_v<T>) {
      read_enum(json, field, pointer);
    } else if constexpr (std::is_arithmetic_v<T>) {
      read_number(json, field, pointer, rule);
    } else {
      read_struct(json, field, pointer);
    }
  }

 private:
  template <class T>
  void read_struct(const Json& json, T& object, const std::string& pointer) {
    if (!json.is_object()) return fault(pointer, json, "an object");
    Json unknown = json;
    Fields<T>::list(object, [&](const char* key, auto& field, FieldRule rule = {}) {
      const auto found = json.find(key);
      if (found != json.end()) {
        unknown.erase(key);
        read(*found, field, fmt::format("{}/{}", pointer, key), rule);
      } else if (rule.required) {
        add(pointer + "/" + key, fmt::format("\"{}\" is missing in {}", key, pointer.empty() ? "the file" : pointer),
            "every one of these to have it");
      }
    });
    if (unknown.empty()) return;
    object.unknown.text = unknown.dump();
    if (!warnings_) return;
    for (const auto& item : unknown.items()) {
      const std::string& key = item.key();
      if (warnings_->size() >= most_problems) return;
      std::string near;
      std::size_t least = 3;  // so many wrong letters are still a slip of the fingers
      Fields<T>::list(object, [&](const char* known, auto&, FieldRule = {}) {
        if (const auto apart = letters_apart(key, known); apart < least) least = apart, near = known;
      });
      warnings_->push_back({fmt::format("the key \"{}\" is not known here and does nothing", key),
                            near.empty() ? "" : fmt::format("\"{}\"", near),
                            document_.place_of(fmt::format("{}/{}", pointer, key))});
    }
  }
  template <class T>
  void read_number(const Json& json, T& field, const std::string& pointer, FieldRule rule) {
    const bool whole = std::is_integral_v<T>;
    if (!json.is_number() || (whole && json.get<double>() != std::floor(json.get<double>())))
      return fault(pointer, json, whole ? "a whole number" : "a number");
    const double number = json.get<double>();
    if (!(number >= rule.minimum && number <= rule.maximum) || (whole && std::abs(number) > 2e9))
      return fault(pointer, json,
                   std::isinf(rule.maximum) ? fmt::format("{} or more", rule.minimum)
                                            : fmt::format("{} to {}", rule.minimum, rule.maximum));
    field = static_cast<T>(number);
  }
  template <class E>
  void read_enum(const Json& json, E& field, const std::string& pointer) {
    std::string choices;
    for (const auto& entry : enum_names(field)) {
      if (json.is_string() && json.get<std::string>() == entry.name) {
        field = entry.value;
        return;
      }
      choices += (choices.empty() ? "one of " : ", ") + std::string(entry.name);
    }
    fault(pointer, json, choices);
  }
  void fault(const std::string& pointer, const Json& json, std::string expected) {
    std::string shown = json.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (shown.size() > 40) shown = shown.substr(0, 37) + "...";
    add(pointer, fmt::format("{} is {}", pointer, shown), std::move(expected));
  }
  // The first ones with their place; looking for the place of each of thousands would take as long as nobody waits.
  void add(const std::string& pointer, std::string wrong, std::string expected) {
    const bool early = problems_.size() < most_problems;
    pointers_.push_back(pointer);
    problems_.push_back({std::move(wrong), std::move(expected), early ? document_.place_of(pointer) : Place{}});
  }

  static constexpr std::size_t most_problems = 100, most_items = 20'000;

  const JsonDocument& document_;
  std::vector<Problem>& problems_;
  std::vector<Problem>* warnings_;
  std::vector<std::string> pointers_;
};

/// The JSON of a struct: its fields in their order, then the unknown keys it was read with. Empty fields are left out,
/// and so are those that may be missing and have their default value: the schema tells it, and it is part of the
/// format.
template <class T>
Json to_json_value(const T& field);

namespace detail {
template <class T>
const Json& default_values() {
  static const Json defaults = [] {
    Json object = Json::object();
    const auto fresh = std::make_unique<const T>();
    Fields<T>::list(*fresh,
                    [&](const char* key, const auto& member, FieldRule = {}) { object[key] = to_json_value(member); });
    return object;
  }();
  return defaults;
}
}  // namespace detail

template <class T>
Json to_json_value(const T& field) {
  if constexpr (detail::is_optional<T>::value) {
    return field ? to_json_value(*field) : Json();
  } else if constexpr (detail::is_vector<T>::value) {
    Json list = Json::array();
    for (const auto& item : field) list.push_back(to_json_value(item));
    return list;
  } else if constexpr (detail::is_map<T>::value) {
    Json object = Json::object();
    for (const auto& [key, item] : field) object[key] = to_json_value(item);
    return object;
  } else if constexpr (std::is_enum_v<T>) {
    return enum_name(field);
  } else if constexpr (HasFields<T>) {
    Json object = Json::object();
    Fields<T>::list(field, [&](const char* key, const auto& member, FieldRule rule = {}) {
      Json json = to_json_value(member);
      const bool empty =
          json.is_null() || ((json.is_string() || json.is_array() || json.is_object()) && json.empty()) || json == "";
      if (!empty && (rule.required || json != detail::default_values<T>()[key])) object[key] = std::move(json);
    });
    if (!field.unknown.text.empty()) object.update(Json::parse(field.unknown.text));
    return object;
  } else {
    return field;
  }
}

}  // namespace fair_gauge
