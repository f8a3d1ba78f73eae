// The vocabulary of transfers: each word of a part file becomes a pair of functions. A new word is one row of `laws`.
#include <fmt/format.h>

#include <cmath>
#include <limits>

#include "chain/links.h"
#include "formulas/thermistor.h"

namespace fair_gauge {
namespace {

using Numbers = std::map<std::string, double>;

// A number of the law that people may set.
struct Parameter {
  std::string key;
  double least;
  double most;
};

struct LawKind {
  std::string type;
  std::vector<Parameter> parameters;
  TransferLaw (*make)(const Numbers&, const Part&);
};

constexpr double any = std::numeric_limits<double>::max();
constexpr double positive = std::numeric_limits<double>::min();

TransferLaw linear(const Numbers& numbers, const Part& part) {
  const double slope = numbers.at("slope");
  const double offset = numbers.at("offset");
  const std::string symbol(base_unit(part.quantities.front().quantity == "temperature" ? Dimension::temperature : Dimension::number).symbol);
  return {.output = [=](double x) { return offset + slope * x; },
          .quantity = [=](double v) { return (v - offset) / slope; },
          .explain =
              [=](double v, const NumberStyle& style) {
                const double x = (v - offset) / slope;
                return std::vector{TraceLine{"t", fmt::format("({} − {}) ÷ {}/{}", with_unit(v, 4, "V", style), with_prefix(offset, "V", 5, style), with_prefix(slope, "V", 5, style), symbol),
                                             with_unit(x, 3, symbol, style), x, "the sensor's line"}};
              },
          .output_dimension = Dimension::voltage,
          .caption = fmt::format("{}/{}{}", with_prefix(slope, "V"), symbol, offset == 0 ? "" : fmt::format(", {} at 0", with_prefix(offset, "V")))};
}

TransferLaw thermistor_beta(const Numbers& numbers, const Part&) {
  const double r25 = numbers.at("r25");
  const double beta = numbers.at("beta");
  return {.output = [=](double t) { return formulas::thermistor_beta_resistance(t, r25, beta); },
          .quantity = [=](double r) { return formulas::thermistor_beta_celsius(r, r25, beta); },
          .explain =
              [=](double r, const NumberStyle& style) {
                const double t = formulas::thermistor_beta_celsius(r, r25, beta);
                return std::vector{TraceLine{"t", fmt::format("1 ÷ (1/298.15 + ln({}/{})/{}) − 273.15", fixed(r, 0, style), fixed(r25, 0, style), fixed(beta, 0, style)),
                                             with_unit(t, 3, "°C", style), t, "the beta formula"}};
              },
          .output_dimension = Dimension::resistance,
          .caption = fmt::format("{} at 25 °C, B {:g} K", with_prefix(r25, "Ω"), beta)};
}

const std::vector<LawKind>& laws() {
  static const std::vector<LawKind> all = {
      {"linear", {{"slope", -any, any}, {"offset", -any, any}}, linear},
      {"thermistor-beta", {{"r25", positive, 1e9}, {"beta", positive, 1e5}}, thermistor_beta},
  };
  return all;
}

}  // namespace

Result<TransferLaw> transfer_law(const Part& part, const std::map<std::string, double>& settings) {
  const LawKind* kind = nullptr;
  for (const LawKind& law : laws())
    if (law.type == part.transfer.type) kind = &law;
  if (!kind) return Problem{fmt::format("\"{}\" uses the transfer \"{}\", which this program does not know", part.id, part.transfer.type), "a word of the vocabulary"};
  Numbers numbers = part.transfer.numbers;
  for (const auto& [key, value] : settings) {
    std::string known;
    for (const Parameter& parameter : kind->parameters) known += (known.empty() ? "one of " : ", ") + parameter.key;
    if (known.find(key) == std::string::npos || !numbers.contains(key)) return Problem{fmt::format("\"{}\" has no setting \"{}\"", part.id, key), known};
    numbers[key] = value;
  }
  for (const Parameter& parameter : kind->parameters) {
    const auto found = numbers.find(parameter.key);
    if (found == numbers.end()) return Problem{fmt::format("\"{}\" lacks the number \"{}\"", part.id, parameter.key), "every number of its transfer"};
    if (!(found->second >= parameter.least && found->second <= parameter.most) || (parameter.key == "slope" && found->second == 0))
      return Problem{fmt::format("{} = {:g} cannot be", parameter.key, found->second), parameter.key == "slope" ? "a slope other than zero" : fmt::format("{:g} to {:g}", parameter.least, parameter.most)};
  }
  return kind->make(numbers, part);
}

}  // namespace fair_gauge
