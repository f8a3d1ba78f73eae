#include "quantity/e_series.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <string>

#include "quantity/letters.h"

namespace fair_gauge {
namespace {

constexpr std::array e24 = {1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                            3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};

std::vector<double> every(std::size_t stride) {
  std::vector<double> values;
  for (std::size_t i = 0; i < e24.size(); i += stride) values.push_back(e24[i]);
  return values;
}

std::vector<double> rounded_powers(int count) {
  std::vector<double> values;
  for (int i = 0; i < count; ++i)
    values.push_back(std::round(100 * std::pow(10.0, static_cast<double>(i) / count)) / 100);
  if (count == 192) values[185] = 9.20;
  return values;
}

}  // namespace

std::optional<ESeries> e_series_from_text(std::string_view text) {
  const std::string lower = small_letters(text);
  for (const int count : {3, 6, 12, 24, 48, 96, 192})
    if (lower == "e" + std::to_string(count)) return static_cast<ESeries>(count);
  return std::nullopt;
}

std::span<const double> decade_values(ESeries series) {
  static const std::map<ESeries, std::vector<double>> all = {{ESeries::e3, every(8)},
                                                             {ESeries::e6, every(4)},
                                                             {ESeries::e12, every(2)},
                                                             {ESeries::e24, every(1)},
                                                             {ESeries::e48, rounded_powers(48)},
                                                             {ESeries::e96, rounded_powers(96)},
                                                             {ESeries::e192, rounded_powers(192)}};
  return all.at(series);
}

std::vector<double> values_between(ESeries series, double low, double high) {
  std::vector<double> values;
  if (!(low > 0) || !(high >= low) || !std::isfinite(high)) return values;
  const double slack = 1e-9;
  for (int decade = static_cast<int>(std::floor(std::log10(low)));
       decade <= static_cast<int>(std::floor(std::log10(high))); ++decade) {
    for (const double value : decade_values(series)) {
      const double scaled = decade >= 0 ? value * std::pow(10.0, decade) : value / std::pow(10.0, -decade);
      if (scaled >= low * (1 - slack) && scaled <= high * (1 + slack)) values.push_back(scaled);
    }
  }
  return values;
}

double nearest_value(ESeries series, double wanted) {
  const auto near = values_between(series, wanted / 3.2, wanted * 3.2);
  return *std::ranges::min_element(near, {}, [&](double value) { return std::abs(std::log(value / wanted)); });
}

}  // namespace fair_gauge
