#include "handoff/reference_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>

#include "formulas/thermocouple.h"
#include "handoff/joints.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr std::string_view of_celsius = "volts_", of_volts = "celsius_";

bool gives_volts(std::string_view name) { return name.starts_with(of_celsius); }
char type_letter(std::string_view name) {
  return static_cast<char>(std::toupper(static_cast<unsigned char>(name.back())));
}

// Python reads it as a double: all of its digits.
std::string number(float value, Language language) {
  std::string text = language == Language::c ? fmt::format("{}", value) : fmt::format("{}", static_cast<double>(value));
  if (text.find_first_of(".e") == std::string::npos) text += ".0";
  return language == Language::c ? text + "f" : text;
}

}  // namespace

bool ReferenceTable::is_name(std::string_view name) {
  for (const std::string_view start : {of_celsius, of_volts})
    if (name.starts_with(start) && name.size() == start.size() + 1 && formulas::thermocouple_range(type_letter(name)))
      return true;
  return false;
}

template <class Number>
std::size_t ReferenceTable::line_at(Number argument) const {
  std::size_t low = 0, high = x.size() - 1;
  while (high - low > 1) {
    const std::size_t middle = (low + high) / 2;
    (argument >= static_cast<Number>(x[middle]) ? low : high) = middle;
  }
  return low;
}

template <class Number>
Number ReferenceTable::at(Number argument) const {
  const std::size_t low = line_at(argument);
  const auto left = static_cast<Number>(x[low]), right = static_cast<Number>(x[low + 1]);
  const auto from = static_cast<Number>(y[low]), to = static_cast<Number>(y[low + 1]);
  return from + (argument - left) / (right - left) * (to - from);
}
template float ReferenceTable::at(float) const;
template double ReferenceTable::at(double) const;

Bounded ReferenceTable::at(const Bounded& argument, double roundoff) const {
  const double low = at(argument.from) - worst, high = at(argument.to) + worst;
  double steepest = 0;
  for (std::size_t i = line_at(argument.from - argument.error); i <= line_at(argument.to + argument.error); ++i)
    steepest = std::max(steepest, static_cast<double>(y[i + 1] - y[i]) / static_cast<double>(x[i + 1] - x[i]));
  // Five operations on the way along a line, one more for where it begins.
  const double size = std::max(std::abs(low), std::abs(high));
  return {low, high, steepest * argument.error + worst + 12 * roundoff * (size + worst)};
}

std::pair<double, double> ReferenceTable::temperatures() const {
  const auto& celsius = gives_volts(name) ? x : y;
  return {static_cast<double>(celsius.front()), static_cast<double>(celsius.back())};
}

std::string ReferenceTable::write(Language language) const {
  const auto list = [&](const std::vector<float>& numbers) {
    std::string text;
    for (std::size_t i = 0; i < numbers.size(); ++i)
      text += (i % 8 == 0 ? i == 0 ? "\n  " : ",\n  " : ", ") + number(numbers[i], language);
    return text;
  };
  const std::string words = fmt::format(
      "The reference function of type {} (IEC 60584-1), {}: lines between{}points, off by {:.2g} {} at most.",
      type_letter(name), gives_volts(name) ? "volts of degrees Celsius" : "degrees Celsius of volts",
      language == Language::c ? "\n   " : "\n# ", worst, gives_volts(name) ? "V" : "K");
  if (language == Language::c)
    return fmt::format(
        "/* {0} */\nstatic const float {1}_x[{2}] = {{{3}}};\nstatic const float {1}_y[{2}] = {{{4}}};\n\n"
        "static float {1}(float at)\n{{\n  uint16_t low = 0, high = {5};\n  while (high - low > 1) {{\n"
        "    const uint16_t middle = (uint16_t)((low + high) / 2);\n    if (at >= {1}_x[middle]) low = middle;\n"
        "    else high = middle;\n  }}\n"
        "  const float along = (at - {1}_x[low]) / ({1}_x[low + 1] - {1}_x[low]);\n"
        "  return {1}_y[low] + along * ({1}_y[low + 1] - {1}_y[low]);\n"
        "}}\n\n",
        words, name, x.size(), list(x), list(y), x.size() - 1);
  return fmt::format(
      "# {0}\n_{1}_X = ({3})\n_{1}_Y = ({4})\n\n\ndef {1}(at):\n    low, high = 0, {5}\n    while high - low > 1:\n"
      "        middle = (low + high) // 2\n        if at >= _{1}_X[middle]:\n            low = middle\n"
      "        else:\n            high = middle\n    x, y = _{1}_X, _{1}_Y\n"
      "    return y[low] + (at - x[low]) / (x[low + 1] - x[low]) * (y[low + 1] - y[low])\n\n\n",
      words, name, x.size(), list(x), list(y), x.size() - 1);
}

Result<ReferenceTable> reference_table(std::string_view name, double tolerance) {
  constexpr std::size_t most = 1024, probes = 4096;
  const char letter = type_letter(name);
  const auto range = *formulas::thermocouple_range(letter);
  double from = range.lowest_invertible, to = range.highest;
  if (gives_volts(name)) {
    from = std::max(range.lowest, -150.0), to = std::min(to, 150.0);
    // A kelvin of the result is worth the fewest volts where the curve is flattest, of what is measured in earnest.
    double flattest = std::numeric_limits<double>::infinity();
    for (double at = std::max(range.lowest_invertible, -200.0); at + 10 <= range.highest; at += 10)
      flattest =
          std::min(flattest, formulas::thermocouple_volts(letter, at + 10) - formulas::thermocouple_volts(letter, at));
    // They come before the other table, and cost few points: a tenth of what may be lost.
    tolerance *= flattest / 10 / 10;
  }
  std::vector<double> x, y;
  for (std::size_t i = 0; i < probes; ++i) {
    const double celsius = from + (to - from) * static_cast<double>(i) / (probes - 1);
    const double volts = formulas::thermocouple_volts(letter, celsius);
    x.push_back(gives_volts(name) ? celsius : volts), y.push_back(gives_volts(name) ? volts : celsius);
  }
  const auto off = [](double at, double value, double x0, double y0, double x1, double y1) {
    return std::abs(y0 + (at - x0) / (x1 - x0) * (y1 - y0) - value);
  };
  const auto kept = joints(probes, [&](std::size_t one, std::size_t other) {
    for (std::size_t i = one + 1; i < other; ++i)
      if (off(x[i], y[i], x[one], y[one], x[other], y[other]) > 0.9 * tolerance) return false;
    return true;
  });
  if (kept.size() > most)
    return Problem{translated("the reference function of a thermocouple would need more than {} points", most),
                   translated("fewer steps a unit")};
  ReferenceTable table{.name = std::string(name)};
  for (const std::size_t i : kept)
    table.x.push_back(static_cast<float>(x[i])), table.y.push_back(static_cast<float>(y[i]));
  for (std::size_t i = 0; i < probes; ++i) table.worst = std::max(table.worst, std::abs(table.at(x[i]) - y[i]));
  return table;
}

}  // namespace fair_gauge
