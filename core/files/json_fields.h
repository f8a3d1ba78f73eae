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
// The list is walked once in the program's life, into a table of names, places and types; what reads and writes tables
// is ordinary code in json_fields.cpp. (As templates it was compiled anew for each field, half a minute of them.)
#pragma once

#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
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
  bool words = false;  ///< of a text: for people, so it is read in their language where that is asked for
};

/// Names the fields of a struct.
template <class T>
struct Fields;

template <class T>
concept HasFields = requires(T& object) {
  object.unknown;
};

class JsonReader;

/// How the values of one type are read and written.
struct JsonCodec {
  void (*read)(JsonReader& reader, const Json& json, void* field, const std::string& pointer, const FieldRule& rule);
  Json (*write)(const void* field);
};

/// One field of a struct.
struct JsonField {
  const char* key;
  FieldRule rule;
  std::ptrdiff_t offset;  ///< in bytes, from the struct's beginning
  const JsonCodec* codec;
  Json standard;  ///< of a fresh object
};

/// The fields of a struct in the order in which they are written.
struct JsonTable {
  std::vector<JsonField> fields;
};

template <class T>
const JsonCodec& json_codec();
template <class T>
const JsonTable& json_table();

/// Fills structs from a document. A faulty field keeps its default and is named in `problems`; the rest is kept.
class JsonReader {
 public:
  /// \param warnings  takes the keys that are not known; null → nobody asks
  JsonReader(const JsonDocument& document, std::vector<Problem>& problems, std::vector<Problem>* warnings = nullptr)
      : document_(document), problems_(problems), warnings_(warnings) {}
  /// Where each of the problems stands, as a JSON pointer.
  const std::vector<std::string>& pointers() const { return pointers_; }
  std::size_t faults() const { return problems_.size(); }
  /// From now on texts for people come in their language: of files that ship with the program.
  void translate_words() { translates_ = true; }

  template <class T>
  void read(const Json& json, T& field, const std::string& pointer, const FieldRule& rule = {}) {
    json_codec<T>().read(*this, json, &field, pointer, rule);
  }
  void read_struct(const Json& json, void* object, UnknownKeys& unknown, const std::string& pointer,
                   const JsonTable& table);
  void read_text(const Json& json, std::string& field, const std::string& pointer, const FieldRule& rule);
  void read_bool(const Json& json, bool& field, const std::string& pointer);
  /// \returns nothing if it is no number, or not within the rule
  std::optional<double> read_number(const Json& json, const std::string& pointer, const FieldRule& rule, bool whole);
  /// \returns which of the names it is
  std::optional<std::size_t> read_name(const Json& json, const std::string& pointer,
                                       const std::vector<std::string_view>& names);
  /// True if it is a list of a length that is taken.
  bool is_list(const Json& json, const std::string& pointer);
  bool is_named_values(const Json& json, const std::string& pointer);

 private:
  void fault(const std::string& pointer, const Json& json, std::string expected);
  void add(const std::string& pointer, std::string wrong, std::string expected);
  void warn_of_unknown(const Json& unknown, const std::string& pointer, const JsonTable& table);

  const JsonDocument& document_;
  std::vector<Problem>& problems_;
  std::vector<Problem>* warnings_;
  std::vector<std::string> pointers_;
  bool translates_ = false;
};

/// The JSON of a struct: its fields in their order, then the unknown keys it was read with. Empty fields are left out,
/// and so are those that may be missing and have their default value: the schema tells it, and it is part of the
/// format.
Json struct_to_json(const void* object, const UnknownKeys& unknown, const JsonTable& table);
std::string item_pointer(const std::string& pointer, std::size_t index);
std::string item_pointer(const std::string& pointer, std::string_view key);

template <class T>
Json to_json_value(const T& field) {
  return json_codec<T>().write(&field);
}

namespace detail {

template <class T>
struct ValueCodec;

template <class T>
concept IsNumber = std::is_arithmetic_v<T> && !std::is_same_v<T, bool>;

template <IsNumber T>
struct ValueCodec<T> {
  static void read(JsonReader& reader, const Json& json, T& field, const std::string& pointer, const FieldRule& rule) {
    if (const auto number = reader.read_number(json, pointer, rule, std::is_integral_v<T>))
      field = static_cast<T>(*number);
  }
  static Json write(const T& field) { return field; }
};

template <>
struct ValueCodec<bool> {
  static void read(JsonReader& reader, const Json& json, bool& field, const std::string& pointer, const FieldRule&) {
    reader.read_bool(json, field, pointer);
  }
  static Json write(const bool& field) { return field; }
};

template <>
struct ValueCodec<std::string> {
  static void read(JsonReader& reader, const Json& json, std::string& field, const std::string& pointer,
                   const FieldRule& rule) {
    reader.read_text(json, field, pointer, rule);
  }
  static Json write(const std::string& field) { return field; }
};

template <class T>
requires std::is_enum_v<T>
struct ValueCodec<T> {
  static void read(JsonReader& reader, const Json& json, T& field, const std::string& pointer, const FieldRule&) {
    const auto entries = enum_names(field);
    std::vector<std::string_view> names;
    for (const auto& entry : entries) names.push_back(entry.name);
    if (const auto found = reader.read_name(json, pointer, names)) field = entries[*found].value;
  }
  static Json write(const T& field) { return std::string(enum_name(field)); }
};

template <class T>
struct ValueCodec<std::optional<T>> {
  static void read(JsonReader& reader, const Json& json, std::optional<T>& field, const std::string& pointer,
                   const FieldRule& rule) {
    field.emplace();
    const auto faults = reader.faults();
    reader.read(json, *field, pointer, rule);
    if (reader.faults() > faults) field.reset();
  }
  static Json write(const std::optional<T>& field) { return field ? to_json_value(*field) : Json(); }
};

template <class T>
struct ValueCodec<std::vector<T>> {
  static void read(JsonReader& reader, const Json& json, std::vector<T>& field, const std::string& pointer,
                   const FieldRule& rule) {
    if (!reader.is_list(json, pointer)) return;
    const auto faults = reader.faults();
    for (std::size_t i = 0; i < json.size(); ++i)
      reader.read(json[i], field.emplace_back(), item_pointer(pointer, i), rule);
    // A list of plain values with a faulty one is no list: half of a table or a polynomial means something else.
    if constexpr (!HasFields<T>)
      if (reader.faults() > faults) field.clear();
  }
  static Json write(const std::vector<T>& field) {
    Json list = Json::array();
    for (const auto& item : field) list.push_back(to_json_value(item));
    return list;
  }
};

template <class T>
struct ValueCodec<std::map<std::string, T>> {
  static void read(JsonReader& reader, const Json& json, std::map<std::string, T>& field, const std::string& pointer,
                   const FieldRule& rule) {
    if (!reader.is_named_values(json, pointer)) return;
    for (auto item = json.begin(); item != json.end(); ++item)
      reader.read(item.value(), field[item.key()], item_pointer(pointer, item.key()), rule);
  }
  static Json write(const std::map<std::string, T>& field) {
    Json object = Json::object();
    for (const auto& [key, item] : field) object[key] = to_json_value(item);
    return object;
  }
};

template <HasFields T>
struct ValueCodec<T> {
  static void read(JsonReader& reader, const Json& json, T& field, const std::string& pointer, const FieldRule&) {
    reader.read_struct(json, &field, field.unknown, pointer, json_table<T>());
  }
  static Json write(const T& field) { return struct_to_json(&field, field.unknown, json_table<T>()); }
};

}  // namespace detail

template <class T>
const JsonCodec& json_codec() {
  static constexpr JsonCodec codec{
      [](JsonReader& reader, const Json& json, void* field, const std::string& pointer, const FieldRule& rule) {
        detail::ValueCodec<T>::read(reader, json, *static_cast<T*>(field), pointer, rule);
      },
      [](const void* field) { return detail::ValueCodec<T>::write(*static_cast<const T*>(field)); }};
  return codec;
}

namespace detail {
/// Takes a field's place and type down.
struct TableMaker {
  const void* object;
  JsonTable& table;

  template <class Member>
  void operator()(const char* key, const Member& member, const FieldRule& rule = {}) const {
    const auto offset = reinterpret_cast<const char*>(&member) - static_cast<const char*>(object);
    table.fields.push_back({key, rule, offset, &json_codec<Member>(), to_json_value(member)});
  }
};
}  // namespace detail

template <class T>
const JsonTable& json_table() {
  static const JsonTable table = [] {
    JsonTable made;
    const auto fresh = std::make_unique<const T>();
    Fields<T>::list(*fresh, detail::TableMaker{fresh.get(), made});
    return made;
  }();
  return table;
}

}  // namespace fair_gauge
