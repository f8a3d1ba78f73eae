// Texts for people, in the language they chose. The English text itself is the key of the catalogue, a PO file as
// gettext and its editors have it; whatever the catalogue lacks is shown in English.
#pragma once

#include <fmt/core.h>

#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace fair_gauge {

class Translation {
 public:
  /// The entries of a PO file. Left out, and told in problems(), is one whose marks ({}, {:.2f}, %1) are not those of
  /// its English; silently left out is one without a translation, or marked fuzzy.
  static Translation of_po(std::string_view text);
  /// `entries`: the English and what stands for it.
  static Translation of_entries(const std::vector<std::pair<std::string, std::string>>& entries);

  /// What stands for the English text, which lives as long as this; nullptr if nothing does.
  const char* find(std::string_view english) const;
  std::size_t size() const { return entries_.size(); }
  const auto& entries() const { return entries_; }
  /// The code of the language by the file's head, "de"; "" → nobody tells.
  const std::string& language() const { return language_; }
  /// Sentences that say which entry and what is wrong with it.
  const std::vector<std::string>& problems() const { return problems_; }

 private:
  struct Hash {
    using is_transparent = void;
    std::size_t operator()(std::string_view text) const { return std::hash<std::string_view>{}(text); }
  };

  void take(std::string english, std::string other);

  std::unordered_map<std::string, std::string, Hash, std::equal_to<>> entries_;
  std::vector<std::string> problems_;
  std::string language_;
};

/// From now on translated() looks there; nullptr: English. What was used once lives as long as the program, because
/// texts that were given out point into it.
void use_translation(std::shared_ptr<const Translation> translation);

/// Its code, "en" without one.
std::string language_in_use();

/// The text in the language in use, or itself. Lives as long as the program.
const char* translated(const char* english);
std::string translated(const std::string& english);

/// The same of a text with fields, as fmt::format has them.
template <class First, class... Rest>
std::string translated(fmt::format_string<First, Rest...> english, First&& first, Rest&&... rest) {
  return fmt::vformat(translated(fmt::string_view(english).data()), fmt::make_format_args(first, rest...));
}

/// How the texts of a file come: as they stand there, or, of files that ship with the program, in the language in use.
enum class Texts { as_written, in_language };

/// A table whose texts are translated: made once in each language that is used, and kept as long as the program.
template <auto make>
const auto& once_in_each_language() {
  static std::mutex guard;
  static std::map<std::string, decltype(make())> made;
  const std::lock_guard lock(guard);
  const std::string language = language_in_use();
  const auto known = made.find(language);
  return known != made.end() ? known->second : made.emplace(language, make()).first->second;
}

/// Marks a text of a table that is translated where it is used.
constexpr const char* to_translate(const char* english) { return english; }

}  // namespace fair_gauge
