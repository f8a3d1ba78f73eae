// A quantity is read in three steps: characters that look alike are made the same, the number is taken off the front,
// and what remains is matched against the units of the wanted dimension.
#include "quantity/quantity_text.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

#include "language/translation.h"
#include "quantity/letters.h"

namespace fair_gauge {
namespace {

struct Replacement {
  std::string_view from;
  std::string_view to;
};

// Signs that documents and word processors put in place of the plain ones.
constexpr std::array replacements = {
    Replacement{"\u2212", "-"},       Replacement{"\u2013", "-"},      Replacement{"\u2012", "-"},
    Replacement{"\uFF0D", "-"},       Replacement{"\uFE63", "-"},      Replacement{"\u00B5", "u"},
    Replacement{"\u03BC", "u"},       Replacement{"\u2126", "Ohm"},    Replacement{"\u03A9", "Ohm"},
    Replacement{"\u00A0", " "},       Replacement{"\u2009", " "},      Replacement{"\u202F", " "},
    Replacement{"\u00D710^", "e"},    Replacement{"\u00BA", "\u00B0"}, Replacement{"\u2103", "\u00B0C"},
    Replacement{"\u2109", "\u00B0F"}, Replacement{"\u2019", "'"},
};

std::string normalised(std::string_view text) {
  std::string plain;
  const auto none = replacements.end();
  for (std::size_t i = 0; i < text.size();) {
    const auto match = static_cast<unsigned char>(text[i]) < 0x80  // what is replaced is none of ASCII
                           ? none
                           : std::ranges::find_if(replacements, [&](const Replacement& r) {
                               return text.substr(i).starts_with(r.from);
                             });
    if (match != none) {
      plain += match->to;
      i += match->from.size();
    } else {
      plain += text[i++];
    }
  }
  const auto first = plain.find_first_not_of(" \t\r\n");
  if (first == std::string::npos) return {};
  return plain.substr(first, plain.find_last_not_of(" \t\r\n") - first + 1);
}

bool is_digit(char c) { return c >= '0' && c <= '9'; }

struct Prefix {
  char letter;
  double factor;
};
constexpr std::array prefixes = {Prefix{'p', 1e-12}, Prefix{'n', 1e-9}, Prefix{'u', 1e-6}, Prefix{'m', 1e-3},
                                 Prefix{'c', 1e-2},  Prefix{'h', 1e2},  Prefix{'k', 1e3},  Prefix{'K', 1e3},
                                 Prefix{'M', 1e6},   Prefix{'G', 1e9}};

struct UnitMatch {
  const Unit* unit;
  double factor;  // of the prefix
};

bool spelled(const Unit& unit, std::string_view word) {
  if (word == unit.ucum || (word == unit.symbol && !word.empty())) return true;
  std::string_view rest = unit.spellings;
  while (!rest.empty()) {
    const auto end = std::min(rest.find(' '), rest.size());
    if (rest.substr(0, end) == word) return true;
    rest.remove_prefix(std::min(end + 1, rest.size()));
  }
  return false;
}

std::optional<UnitMatch> match_unit(std::string_view word, Dimension dimension) {
  for (const Unit& unit : all_units())
    if (unit.dimension == dimension && spelled(unit, word)) return UnitMatch{&unit, 1};
  for (const Prefix& prefix : prefixes) {
    if (word.empty() || word.front() != prefix.letter) continue;
    if (dimension == Dimension::number && prefix.factor < 1) continue;  // 2k codes, but no thousandth of one
    const auto rest = word.substr(1);
    for (const Unit& unit : all_units()) {
      if (unit.dimension != dimension || !unit.takes_prefix) continue;
      if (rest.empty() ? &unit == &base_unit(dimension) && prefix.letter != 'c' && prefix.letter != 'h'
                       : spelled(unit, rest))
        return UnitMatch{&unit, prefix.factor};
    }
  }
  return std::nullopt;
}

// A unit as people spell it out: "Volt", "degrees C", "k ohm", "kilohm". Small and large letters of short words differ:
// mA is no MA.
std::optional<UnitMatch> match_words(std::string_view word, Dimension dimension) {
  std::string joined(word);
  std::erase(joined, ' ');
  while (joined.ends_with('.')) joined.pop_back();  // of a sentence
  if (joined.size() < word.size())
    if (const auto match = match_unit(joined, dimension)) return match;
  const std::string small = small_letters(joined);
  if (small.size() < 3) return std::nullopt;
  for (const Unit& unit : all_units())
    if (unit.dimension == dimension && spelled(unit, small)) return UnitMatch{&unit, 1};
  constexpr std::array<std::pair<std::string_view, double>, 6> words = {
      {{"kil", 1e3}, {"meg", 1e6}, {"milli", 1e-3}, {"micro", 1e-6}, {"nano", 1e-9}, {"pico", 1e-12}}};
  for (const auto& [name, factor] : words) {
    if (!small.starts_with(name) || (dimension == Dimension::number && factor < 1)) continue;
    std::string_view rest = std::string_view(small).substr(name.size());
    for (const std::string_view ending : {"", "o", "a"})
      for (const Unit& unit : all_units())
        if (unit.dimension == dimension && unit.takes_prefix && rest.starts_with(ending) &&
            rest.size() > ending.size() && spelled(unit, rest.substr(ending.size())))
          return UnitMatch{&unit, factor};
  }
  return std::nullopt;
}

std::string units_of(Dimension dimension) {
  std::string list;
  for (const Unit& unit : all_units())
    if (unit.dimension == dimension && !unit.symbol.empty())
      list += (list.empty() ? "" : ", ") + std::string(unit.symbol);
  return list.empty() ? translated("a number") : translated("a number with one of {}", list);
}

Problem refused(std::string wrong, std::string expected, std::size_t column) {
  return {
      .wrong = std::move(wrong), .expected = std::move(expected), .place = {.column = static_cast<int>(column) + 1}};
}

// The number at the front of a normalised text.
struct Leading {
  double number;
  std::size_t length;
};

// Takes digits, one decimal mark, groups of three separated by spaces (or by the mark that is not the decimal one),
// exponent.
Result<Leading> take_number(std::string_view text) {
  std::size_t i = 0;
  std::string digits;
  if (i < text.size() && (text[i] == '-' || text[i] == '+')) {
    if (text[i] == '-') digits += '-';
    ++i;
    while (i < text.size() && text[i] == ' ') ++i;
  }
  const std::size_t body = i;
  std::size_t end = body;
  std::size_t last_mark = std::string_view::npos;
  int points = 0, commas = 0;
  for (; end < text.size(); ++end) {
    const char c = text[end];
    if (is_digit(c)) continue;
    if (c == '.' || c == ',') {
      (c == '.' ? points : commas) += 1;
      last_mark = end;
    } else if ((c == ' ' || c == '\'') && end > body && is_digit(text[end - 1]) &&
               last_mark == std::string_view::npos && end + 3 < text.size() && is_digit(text[end + 1]) &&
               is_digit(text[end + 2]) && is_digit(text[end + 3]) &&
               (end + 4 >= text.size() || !is_digit(text[end + 4]))) {
      continue;  // a group of three
    } else {
      break;
    }
  }
  if (points + commas > 1) {  // 1,234.5 or 1.234,5: the last mark is the decimal one, the other separates groups
    const bool mixed = points > 0 && commas > 0;
    const int decimals = text[last_mark] == '.' ? points : commas;
    if (!mixed || decimals != 1)
      return refused(translated("more than one decimal mark"), translated("one point or comma"), last_mark);
  }
  bool any = false;
  for (std::size_t k = body; k < end; ++k) {
    if (is_digit(text[k])) {
      digits += text[k];
      any = true;
    } else if (k == last_mark) {
      digits += '.';
    }
  }
  if (!any)
    return refused(translated("'{}' is not a number", cited(text)), translated("digits such as 4.7 or 4,7"), body);
  if (end < text.size() && (text[end] == 'e' || text[end] == 'E')) {
    std::size_t k = end + 1;
    if (k < text.size() && (text[k] == '-' || text[k] == '+')) ++k;
    const std::size_t exponent = k;
    while (k < text.size() && is_digit(text[k])) ++k;
    if (k > exponent) {
      digits += 'e';
      digits += text.substr(text[end + 1] == '+' ? end + 2 : end + 1, k - (text[end + 1] == '+' ? end + 2 : end + 1));
      end = k;
    }
  }
  double number = 0;
  const auto parsed = fast_float::from_chars(digits.data(), digits.data() + digits.size(), number);
  if (parsed.ec != std::errc{} || parsed.ptr != digits.data() + digits.size() || !std::isfinite(number))
    return refused(translated("'{}' is too large or not a number", cited(text.substr(0, end))),
                   translated("a finite number"), 0);
  return Leading{number, end};
}

// 4k7, 3V3, 2R2: a prefix or unit stands where the decimal mark would. `at` is the first character after the number.
std::optional<QuantityValue> infix_mark(std::string_view text, std::size_t at, Dimension dimension) {
  if (at == 0 || !is_digit(text[at - 1])) return std::nullopt;
  std::size_t digits = text.size();
  while (digits > at && is_digit(text[digits - 1])) --digits;
  if (digits == text.size() || digits == at || text.substr(0, at).find_first_of(".,") != std::string_view::npos)
    return std::nullopt;
  const auto word = text.substr(at, digits - at);
  const auto unit = match_unit(word, dimension);
  if (!unit || word.size() > 1) return std::nullopt;
  const auto joined = fmt::format("{}.{}", text.substr(0, at), text.substr(digits));
  const auto number = take_number(joined);
  if (!number) return std::nullopt;
  return QuantityValue{unit->unit->to_base(number->number * unit->factor), unit->unit};
}

}  // namespace

Result<QuantityValue> parse_quantity(std::string_view original, Dimension dimension, const Unit* bare) {
  std::string text = normalised(original);
  if (text.empty()) return refused(translated("nothing is written here"), units_of(dimension), 0);
  if (dimension == Dimension::resistance && text.size() > 1 && text[0] == 'R' && is_digit(text[1]))
    text.insert(0, 1, '0');
  if (dimension == Dimension::number && (text.starts_with("0x") || text.starts_with("0X"))) {
    unsigned long long whole = 0;
    const auto parsed = std::from_chars(text.data() + 2, text.data() + text.size(), whole, 16);
    if (parsed.ec != std::errc{} || parsed.ptr != text.data() + text.size())
      return refused(translated("'{}' is not a hexadecimal number", cited(text)),
                     translated("0x and hexadecimal digits"), 2);
    return QuantityValue{static_cast<double>(whole), &base_unit(dimension)};
  }
  const auto leading = take_number(text);
  if (!leading) return leading.problem();
  std::size_t rest = leading->length;
  while (rest < text.size() && text[rest] == ' ') ++rest;
  if (rest == text.size()) {
    const Unit& unit = bare ? *bare : base_unit(dimension);
    return QuantityValue{unit.to_base(leading->number), &unit};
  }
  if (const auto unit = match_unit(std::string_view(text).substr(rest), dimension)) {
    const double base = unit->unit->to_base(leading->number * unit->factor);
    if (!std::isfinite(base)) return refused(translated("the number is too large"), translated("a finite number"), 0);
    return QuantityValue{base, unit->unit};
  }
  if (const auto quantity = infix_mark(text, leading->length, dimension)) return *quantity;
  if (const auto unit = match_words(std::string_view(text).substr(rest), dimension))
    if (const double base = unit->unit->to_base(leading->number * unit->factor); std::isfinite(base))
      return QuantityValue{base, unit->unit};
  if (dimension == Dimension::number)
    return refused(translated("'{}' behind a number that has no unit", cited(std::string_view(text).substr(rest))),
                   units_of(dimension), rest);
  return refused(
      translated("'{}' is no unit of {}", cited(std::string_view(text).substr(rest)), dimension_name(dimension)),
      units_of(dimension), rest);
}

const Unit* unit_named(std::string_view original, Dimension dimension) {
  const std::string word = normalised(original);
  auto found = word.empty() ? std::nullopt : match_unit(word, dimension);
  if (!found && word.size() > 2) found = match_words(word, dimension);
  return found && (found->factor == 1 || word.size() > 1) ? found->unit : nullptr;
}

Result<std::vector<double>> parse_quantity_list(std::string_view text, Dimension dimension) {
  std::vector<double> values;
  std::size_t start = 0;
  while (start <= text.size()) {
    const auto end = std::min(text.find(',', start), text.size());
    const auto one = parse_quantity(text.substr(start, end - start), dimension);
    if (!one) {
      Problem problem = one.problem();
      problem.place.column += static_cast<int>(start);
      return problem;
    }
    values.push_back(one->base);
    start = end + 1;
  }
  return values;
}

Result<QuantityValue> parse_quantity_any(std::string_view text) {
  using enum Dimension;
  for (const Dimension dimension : {temperature, humidity, pressure, illuminance, voltage, resistance, current,
                                    capacitance, time, frequency, length, irradiance}) {
    auto quantity = parse_quantity(text, dimension);
    const auto bare = parse_number(text);
    if (quantity && !bare) return quantity;
  }
  return refused(translated("'{}' has no unit that says what it is", cited(text)),
                 translated("a number with its unit, such as 25 degC or 1.8 V"), 0);
}

Result<double> parse_number(std::string_view original) {
  const std::string text = normalised(original);
  if (text.empty()) return refused(translated("nothing is written here"), translated("a number"), 0);
  const auto leading = take_number(text);
  if (!leading) return leading.problem();
  if (leading->length != text.size())
    return refused(translated("'{}' is not a number", cited(text)), translated("digits only"), leading->length);
  return leading->number;
}

}  // namespace fair_gauge
