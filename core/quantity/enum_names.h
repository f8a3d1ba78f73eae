// The names that enums have in files and on the command line: an enum takes part by a function
// `std::span<const EnumName<E>> enum_names(E)` in its namespace, with literals as names.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "language/translation.h"

namespace fair_gauge {

template <class E>
struct EnumName {
  E value;
  std::string_view name;
};

template <class E>
EnumName(E, std::string_view) -> EnumName<E>;
template <class E>
EnumName(E, const char*) -> EnumName<E>;

/// The name of a value, empty if it has none.
template <class E>
std::string_view enum_name(E value) {
  for (const auto& entry : enum_names(value))
    if (entry.value == value) return entry.name;
  return "";
}

/// The same for people, in their language.
template <class E>
const char* translated_name(E value) {
  return translated(enum_name(value).data());
}

/// The value of that name, or nothing.
template <class E>
std::optional<E> enum_by_name(std::string_view name) {
  for (const auto& entry : enum_names(E{}))
    if (entry.name == name) return entry.value;
  return std::nullopt;
}

}  // namespace fair_gauge
