#include "files/json_fields.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/letters.h"

namespace fair_gauge {

namespace {

constexpr std::size_t most_problems = 100, most_items = 20'000;
constexpr std::ptrdiff_t most_letters = 32'767;  // as a field of the window takes them; more could not be laid out

/// How many letters have to be added, left out or changed to make one word of the other.
std::size_t letters_apart(std::string_view a, std::string_view b) {
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

}  // namespace

std::string item_pointer(const std::string& pointer, std::size_t index) { return fmt::format("{}/{}", pointer, index); }
std::string item_pointer(const std::string& pointer, std::string_view key) {
  return fmt::format("{}/{}", pointer, key);
}

void JsonReader::read_struct(const Json& json, void* object, UnknownKeys& unknown, const std::string& pointer,
                             const JsonTable& table) {
  if (!json.is_object()) return fault(pointer, json, translated("an object"));
  std::size_t known = 0;
  for (const JsonField& field : table.fields) {
    const auto found = json.find(field.key);
    if (found != json.end()) {
      ++known;
      field.codec->read(*this, *found, static_cast<char*>(object) + field.offset, item_pointer(pointer, field.key),
                        field.rule);
    } else if (field.rule.required) {
      add(item_pointer(pointer, field.key),
          translated("\"{}\" is missing in {}", field.key, pointer.empty() ? translated("the file") : pointer),
          translated("it has no default"));
    }
  }
  if (known == json.size()) return;
  Json others = Json::object();
  for (auto item = json.begin(); item != json.end(); ++item)
    if (std::ranges::none_of(table.fields, [&](const JsonField& field) { return item.key() == field.key; }))
      others[item.key()] = item.value();
  unknown.text = others.dump();
  if (warnings_) warn_of_unknown(others, pointer, table);
}

void JsonReader::warn_of_unknown(const Json& unknown, const std::string& pointer, const JsonTable& table) {
  for (auto item = unknown.begin(); item != unknown.end(); ++item) {
    if (warnings_->size() >= most_problems) return;
    std::string near;
    std::size_t least = 3;  // so many wrong letters are still a slip of the fingers
    if (item.key().size() < 100)
      for (const JsonField& field : table.fields)
        if (const auto apart = letters_apart(item.key(), field.key); apart < least) least = apart, near = field.key;
    warnings_->push_back({translated("the key \"{}\" is not known here and does nothing", cited(item.key())),
                          near.empty() ? "" : fmt::format("\"{}\"", near),
                          document_.place_of(item_pointer(pointer, item.key()))});
  }
}

void JsonReader::read_text(const Json& json, std::string& field, const std::string& pointer, const FieldRule& rule) {
  if (!json.is_string()) return fault(pointer, json, translated("a text"));
  const auto& text = json.get_ref<const std::string&>();
  const auto begins_letter = [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; };
  if (std::ranges::count_if(text, begins_letter) > most_letters)
    return fault(pointer, json, translated("{} characters at most", most_letters));
  field = text;
  if (rule.words && translates_) field = translated(field);
}

void JsonReader::read_bool(const Json& json, bool& field, const std::string& pointer) {
  if (!json.is_boolean()) return fault(pointer, json, translated("true or false"));
  field = json.get<bool>();
}

std::optional<double> JsonReader::read_number(const Json& json, const std::string& pointer, const FieldRule& rule,
                                              bool whole) {
  if (!json.is_number() || (whole && json.get<double>() != std::floor(json.get<double>()))) {
    fault(pointer, json, whole ? translated("a whole number") : translated("a number"));
    return std::nullopt;
  }
  const double number = json.get<double>();
  if (number >= rule.minimum && number <= rule.maximum && !(whole && std::abs(number) > 2e9)) return number;
  fault(pointer, json,
        std::isinf(rule.maximum) ? translated("{} or more", rule.minimum)
                                 : translated("{} to {}", rule.minimum, rule.maximum));
  return std::nullopt;
}

std::optional<std::size_t> JsonReader::read_name(const Json& json, const std::string& pointer,
                                                 const std::vector<std::string_view>& names) {
  if (json.is_string())
    if (const auto found = std::ranges::find(names, json.get_ref<const std::string&>()); found != names.end())
      return static_cast<std::size_t>(found - names.begin());
  fault(pointer, json, names.empty() ? "" : translated("one of {}", fmt::join(names, ", ")));
  return std::nullopt;
}

bool JsonReader::is_list(const Json& json, const std::string& pointer) {
  if (!json.is_array())
    fault(pointer, json, translated("a list"));
  else if (json.size() > most_items)
    fault(pointer, json, translated("{} items at most", most_items));
  else
    return true;
  return false;
}

bool JsonReader::is_named_values(const Json& json, const std::string& pointer) {
  if (!json.is_object()) fault(pointer, json, translated("an object of named values"));
  return json.is_object();
}

void JsonReader::fault(const std::string& pointer, const Json& json, std::string expected) {
  const std::string written = json.dump(-1, ' ', false, Json::error_handler_t::replace);
  add(pointer, translated("{} is {}", pointer, cited(written)), std::move(expected));
}

// The first ones with their place; looking for the place of each of thousands would take as long as nobody waits.
void JsonReader::add(const std::string& pointer, std::string wrong, std::string expected) {
  const bool early = problems_.size() < most_problems;
  pointers_.push_back(pointer);
  problems_.push_back({std::move(wrong), std::move(expected), early ? document_.place_of(pointer) : Place{}});
}

Json struct_to_json(const void* object, const UnknownKeys& unknown, const JsonTable& table) {
  Json made = Json::object();
  for (const JsonField& field : table.fields) {
    Json json = field.codec->write(static_cast<const char*>(object) + field.offset);
    const bool empty = json.is_null() || ((json.is_array() || json.is_object()) && json.empty()) ||
                       (json.is_string() && json.get_ref<const std::string&>().empty());
    if (!empty && (field.rule.required || json != field.standard)) made[field.key] = std::move(json);
  }
  if (!unknown.text.empty()) made.update(Json::parse(unknown.text));
  return made;
}

}  // namespace fair_gauge
