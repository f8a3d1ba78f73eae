#include "quantity/number_format.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace fair_gauge {
namespace {

struct PrefixStep {
  int exponent;
  std::string_view letter;
};
constexpr std::array steps = {PrefixStep{-12, "p"}, PrefixStep{-9, "n"}, PrefixStep{-6, "µ"}, PrefixStep{-3, "m"},
                              PrefixStep{0, ""},    PrefixStep{3, "k"},  PrefixStep{6, "M"},  PrefixStep{9, "G"}};

std::string localised(std::string plain, const NumberStyle& style) {
  std::string text;
  if (plain.starts_with('-')) {
    text = style.minus;
    plain.erase(0, 1);
  }
  const auto mark = std::min(plain.find('.'), plain.size());
  for (std::size_t i = 0; i < mark; ++i) {
    if (i > 0 && mark > 4 && (mark - i) % 3 == 0) text += "\u2009";
    text += plain[i];
  }
  if (mark < plain.size()) text += style.decimal_mark + plain.substr(mark + 1);
  return text;
}

const PrefixStep& step_for(double magnitude, int significant) {
  const PrefixStep* chosen = &steps.front();
  for (const PrefixStep& step : steps) {
    // 999.96 with four digits would print as 1000: take the next prefix then.
    const double rounding = 1 - 0.5 * std::pow(10.0, -significant);
    if (magnitude >= std::pow(10.0, step.exponent) * rounding) chosen = &step;
  }
  return *chosen;
}

}  // namespace

int decimals_for(double uncertainty, int otherwise) {
  if (!(uncertainty > 0) || !std::isfinite(uncertainty)) return otherwise;
  const int exponent = static_cast<int>(std::floor(std::log10(uncertainty)));
  const double first = uncertainty / std::pow(10.0, exponent);
  return std::clamp(-exponent + (first < 2.95 ? 1 : 0), 0, 9);
}

int decimals_of_two_digits(double number) {
  const double size = std::abs(number);
  return size > 0 && std::isfinite(size) ? std::clamp(1 - static_cast<int>(std::floor(std::log10(size))), 0, 6) : 0;
}

std::string rounded(double number, int decimals) {
  decimals = std::clamp(decimals, 0, 12);
  const double scaled = std::abs(number) * std::pow(10.0, decimals);
  if (std::abs(scaled - std::floor(scaled) - 0.5) < 1e-9 * (1 + scaled)) {
    // Perhaps a half: it is one if the number with one decimal more is the same number.
    const std::string longer = fmt::format("{:.{}f}", number, decimals + 1);
    double read = 0;
    std::from_chars(longer.data(), longer.data() + longer.size(), read);
    if (longer.ends_with('5') && read == number) number += std::copysign(0.1 * std::pow(10.0, -decimals), number);
  }
  std::string plain = fmt::format("{:.{}f}", number, decimals);
  if (plain.find_first_not_of("-0.") == std::string::npos && plain.starts_with('-')) plain.erase(0, 1);
  return plain;
}

std::string fixed(double number, int decimals, const NumberStyle& style) {
  if (std::isnan(number)) return "–";
  if (std::isinf(number)) return number < 0 ? style.minus + "∞" : "∞";
  return localised(rounded(number, decimals), style);
}

std::string with_prefix(double base, std::string_view symbol, int significant, const NumberStyle& style) {
  if (!std::isfinite(base)) return fixed(base, 0, style);
  if (base == 0) return symbol.empty() ? "0" : fmt::format("0 {}", symbol);
  const PrefixStep& step = step_for(std::abs(base), significant);
  const double number = base / std::pow(10.0, step.exponent);
  const int before = std::max(1, static_cast<int>(std::floor(std::log10(std::abs(number)) + 1e-9)) + 1);
  std::string text = fmt::format("{:.{}f}", number, std::max(0, significant - before));
  if (text.find('.') != std::string::npos) {
    text.erase(text.find_last_not_of('0') + 1);
    if (text.ends_with('.')) text.pop_back();
  }
  const bool bare = symbol.empty() && step.letter.empty();
  return fmt::format("{}{}{}{}", localised(text, style), bare ? "" : " ", step.letter, symbol);
}

std::string shortest(double number, const NumberStyle& style) {
  std::string text = fmt::format("{:.7g}", number);
  if (const auto point = text.find('.'); point != std::string::npos) text.replace(point, 1, style.decimal_mark);
  if (text.starts_with('-')) text.replace(0, 1, style.minus);
  return text;
}

std::string duration_text(double seconds, const NumberStyle& style) {
  if (seconds < 120) return with_prefix(seconds, "s", 3, style);
  const auto [size, name] = seconds < 2 * 3600    ? std::pair(60.0, "min")
                            : seconds < 2 * 86400 ? std::pair(3600.0, "h")
                                                  : std::pair(86400.0, "days");
  std::string number = fmt::format("{:.3g}", seconds / size);
  if (const auto mark = number.find('.'); mark != std::string::npos) number.replace(mark, 1, style.decimal_mark);
  return number + " " + name;
}

std::string with_unit(double number, int decimals, std::string_view symbol, const NumberStyle& style) {
  const std::string text = fixed(number, decimals, style);
  return symbol.empty() ? text : fmt::format("{} {}", text, symbol);
}

std::string resistor_code(double ohms) {
  if (!(ohms > 0) || !std::isfinite(ohms)) return "–";
  const int exponent = ohms >= 999.5e3 ? 6 : ohms >= 999.5 ? 3 : 0;
  const char letter = exponent == 6 ? 'M' : exponent == 3 ? 'k' : 'R';
  std::string digits = fmt::format("{:.4g}", ohms / std::pow(10.0, exponent));
  const auto mark = digits.find('.');
  if (mark == std::string::npos) return exponent == 0 ? digits : digits + letter;
  digits[mark] = letter;
  return digits;
}

}  // namespace fair_gauge
