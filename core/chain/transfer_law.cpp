// The vocabulary of transfers: each word of a part file becomes a pair of functions. A new word is one row of `laws`.
#include <fmt/format.h>

#include <algorithm>
#include <boost/math/tools/roots.hpp>
#include <cmath>
#include <limits>

#include "chain/links.h"
#include "formulas/platinum.h"
#include "formulas/thermistor.h"
#include "formulas/thermocouple.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

using Numbers = std::map<std::string, double>;

// A number of the law that people may set.
struct Parameter {
  std::string key;
  double least;
  double most;
  bool optional = false;
};

struct LawKind {
  std::string type;
  std::vector<Parameter> parameters;
  TransferLaw (*make)(const Numbers&, const Part&);
};

constexpr double any = std::numeric_limits<double>::max();
constexpr double positive = std::numeric_limits<double>::min();

// The symbol and unit of a part's quantity in the arithmetic.
struct Named {
  std::string letter;
  std::string unit;
};

Named named(const Part& part) {
  const std::string& quantity = part.quantities.front().quantity;
  if (quantity == "humidity") return {"RH", "%RH"};
  if (quantity == "pressure") return {"P", "Pa"};
  if (quantity == "illuminance") return {"E", "lx"};
  return {"t", "°C"};
}

// One line of arithmetic that ends in the quantity.
std::vector<TraceLine> one_line(const Named& what, std::string expression, double value, const NumberStyle& style,
                                std::string note) {
  const auto& [letter, unit] = what;
  return {{letter, std::move(expression),
           unit == "°C" ? with_unit(value, 3, unit, style) : with_prefix(value, unit, 6, style), value,
           std::move(note)}};
}

using Steps = std::vector<std::pair<std::string, std::string>>;

// A number of a formula, as exact as it is.
std::string put(double number) { return number < 0 ? fmt::format("({})", number) : fmt::format("{}", number); }

// The parabola's root; below 0 °C the fourth-order term is taken over to the other side, a few times.
Steps platinum_steps(double r0) {
  constexpr double a = 3.9083e-3, b = -5.775e-7, c = -4.183e-12;
  Steps steps;
  std::string before = "0";
  for (int i = 0; i < 5; ++i) {
    const std::string symbol = i == 4 ? "t" : fmt::format("t{}", i);
    const std::string far =
        i == 0 ? "" : fmt::format(" + (({0} < 0) ? {1} * ({0} - 100) * {0} * {0} * {0} : 0)", before, put(c));
    steps.emplace_back(symbol, fmt::format("({} + sqrt({} - {} * (1 - x / {}{}))) / {}", put(-a), put(a * a),
                                           put(4 * b), put(r0), far, put(2 * b)));
    before = symbol;
  }
  return steps;
}

TransferLaw linear(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double slope = numbers.at("slope");
  const double offset = numbers.at("offset");
  return {.output = [=](double x) { return offset + slope * x; },
          .quantity = [=](double v) { return (v - offset) / slope; },
          .explain =
              [=](double v, const NumberStyle& style) {
                return one_line(
                    what,
                    fmt::format("({} − {}) ÷ {}/{}", with_unit(v, 4, "V", style), with_prefix(offset, "V", 5, style),
                                with_prefix(slope, "V", 5, style), what.unit),
                    (v - offset) / slope, style, "the sensor's line");
              },
          .output_dimension = Dimension::voltage,
          .name = "line",
          .caption = fmt::format("{}/{}{}", with_prefix(slope, "V"), what.unit,
                                 offset == 0 ? "" : fmt::format(", {} at 0", with_prefix(offset, "V"))),
          .formula = {{"t", fmt::format("(x - {}) / {}", put(offset), put(slope))}}};
}

// V = supply · (slope · x + offset): the supply cancels where it is the converter's reference too.
TransferLaw ratiometric(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double slope = numbers.at("slope"), offset = numbers.at("offset"), supply = numbers.at("supply");
  return {.output = [=](double x) { return supply * (slope * x + offset); },
          .quantity = [=](double v) { return (v / supply - offset) / slope; },
          .explain =
              [=](double v, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("({} ÷ {} − {:g}) ÷ {:g}", with_unit(v, 4, "V", style),
                                            with_unit(supply, 3, "V", style), offset, slope),
                                (v / supply - offset) / slope, style, "a share of the supply");
              },
          .output_dimension = Dimension::voltage,
          .name = "ratiometric line",
          .caption = fmt::format("share of {}", with_prefix(supply, "V")),
          .formula = {{"t", fmt::format("(x / {} - {}) / {}", put(supply), put(offset), put(slope))}},
          .supply_key = "supply"};
}

// The same line for humidity, whose reading depends a little on temperature; without one the plain line holds.
TransferLaw ratiometric_humidity(const Numbers& numbers, const Part&) {
  const double slope = numbers.at("slope"), offset = numbers.at("offset"), supply = numbers.at("supply");
  const auto temperature = numbers.find("temperature");
  const bool known = temperature != numbers.end();
  const double t = known ? temperature->second : 0;
  const double t0 = numbers.at("t0"), t1 = numbers.at("t1");
  const auto share = [=](double celsius) { return known ? t0 + t1 * celsius : 1; };
  TransferLaw law{
      .output = [=](double rh) { return supply * (slope * rh * share(t) + offset); },
      .quantity = [=](double v) { return (v / supply - offset) / slope / share(t); },
      .explain =
          [=](double v, const NumberStyle& style) {
            const double line = (v / supply - offset) / slope;
            std::vector<TraceLine> lines = {{"RH",
                                             fmt::format("({} ÷ {} − {:g}) ÷ {:g}", with_unit(v, 4, "V", style),
                                                         with_unit(supply, 3, "V", style), offset, slope),
                                             with_unit(line, 2, "%RH", style), line, "a share of the supply"}};
            if (known)
              lines.push_back({"RH",
                               fmt::format("{} ÷ ({:g} − {:g} × {})", with_unit(line, 2, "%RH", style), t0, -t1,
                                           with_unit(t, 1, "°C", style)),
                               with_unit(line / share(t), 2, "%RH", style), line / share(t), "at this temperature"});
            return lines;
          },
      .output_dimension = Dimension::voltage,
      .name = "ratiometric line",
      .caption = fmt::format("share of {}{}", with_prefix(supply, "V"), known ? fmt::format(", at {:g} °C", t) : ""),
      .formula = {{"RH", fmt::format("(x / {} - {}) / {}", put(supply), put(offset), put(slope * share(t)))}},
      .supply_key = "supply"};
  if (known)
    law.side =
        TransferLaw::Side{"temperature", "air temperature beside it", "°C", t, 1, [=](double rh, double celsius) {
                            return supply * (slope * rh * share(celsius) + offset);
                          }};
  return law;
}

// V = c0 + c1·(t − centre) + c2·(t − centre)², falling or rising throughout the part's range.
TransferLaw quadratic(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double centre = numbers.at("centre"), c0 = numbers.at("c0"), c1 = numbers.at("c1"), c2 = numbers.at("c2");
  const auto quantity = [=](double v) {
    if (c2 == 0) return centre + (v - c0) / c1;
    const double root = c1 * c1 - 4 * c2 * (c0 - v);
    return root < 0 ? std::nan("")
                    : centre + 2 * (v - c0) / (c1 + std::copysign(std::sqrt(root), c1));  // the root near the centre
  };
  return {.output = [=](double x) { return c0 + (x - centre) * (c1 + c2 * (x - centre)); },
          .quantity = quantity,
          .explain =
              [=](double v, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("root of {:g} {:+g}·(t − {:g}) {:+g}·(t − {:g})² = {}", c0, c1, centre, c2,
                                            centre, with_unit(v, 4, "V", style)),
                                quantity(v), style, "slightly curved");
              },
          .output_dimension = Dimension::voltage,
          .name = "quadratic",
          .caption = fmt::format("{}/°C, slightly curved", with_prefix(c1, "V")),
          .formula = c2 == 0
                         ? Steps{{"t", fmt::format("{} + (x - {}) / {}", put(centre), put(c0), put(c1))}}
                         : Steps{{"root", fmt::format("sqrt({} - {} * ({} - x))", put(c1 * c1), put(4 * c2), put(c0))},
                                 {"t", fmt::format("{} + 2 * (x - {}) / ({} {} root)", put(centre), put(c0), put(c1),
                                                   c1 < 0 ? "-" : "+")}}};
}

TransferLaw thermistor_steinhart(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double a = numbers.at("a"), b = numbers.at("b"), c = numbers.at("c");
  return {.output = [=](double t) { return formulas::thermistor_steinhart_resistance(t, a, b, c); },
          .quantity = [=](double r) { return formulas::thermistor_steinhart_celsius(r, a, b, c); },
          .explain =
              [=](double r, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("1 ÷ ({:g} + {:g}·ln {} + {:g}·(ln {})³) − 273.15", a, b,
                                            fixed(r, 0, style), c, fixed(r, 0, style)),
                                formulas::thermistor_steinhart_celsius(r, a, b, c), style, "Steinhart and Hart");
              },
          .output_dimension = Dimension::resistance,
          .name = "Steinhart–Hart law",
          .caption = "three coefficients",
          .formula = {{"l", "ln(x)"},
                      {"t", fmt::format("1 / ({} + {} * l + {} * l * l * l) - 273.15", put(a), put(b), put(c))}}};
}

TransferLaw platinum(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double r0 = numbers.at("r0");
  return {.output = [=](double t) { return formulas::platinum_resistance(t, r0); },
          .quantity = [=](double r) { return formulas::platinum_celsius(r, r0); },
          .explain =
              [=](double r, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("Callendar–Van Dusen of {} ÷ {}", with_prefix(r, "Ω", 6, style),
                                            with_prefix(r0, "Ω", 6, style)),
                                formulas::platinum_celsius(r, r0), style, "IEC 60751");
              },
          .output_dimension = Dimension::resistance,
          .name = "Callendar–Van Dusen law",
          .caption = fmt::format("{} at 0 °C", with_prefix(r0, "Ω")),
          .formula = platinum_steps(r0)};
}

// R = R10 · (E/10)^−γ
TransferLaw light_resistor(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double r10 = numbers.at("r10"), gamma = numbers.at("gamma");
  const auto lux = [=](double r) { return r > 0 ? 10 * std::pow(r / r10, -1 / gamma) : std::nan(""); };
  return {.output = [=](double e) { return r10 * std::pow(e / 10, -gamma); },
          .quantity = lux,
          .explain =
              [=](double r, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("10 × ({} ÷ {})^(−1 ÷ {:g})", with_prefix(r, "Ω", 4, style),
                                            with_prefix(r10, "Ω", 4, style), gamma),
                                lux(r), style, "power law");
              },
          .output_dimension = Dimension::resistance,
          .name = "power law",
          .caption = fmt::format("{} at 10 lx, γ {:g}", with_prefix(r10, "Ω"), gamma),
          .formula = {{"E", fmt::format("10 * (x / {}) ^ {}", put(r10), put(-1 / gamma))}}};
}

TransferLaw photocurrent(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double amps_per_lux = numbers.at("amps_per_lux");
  return {.output = [=](double e) { return amps_per_lux * e; },
          .quantity = [=](double i) { return i / amps_per_lux; },
          .explain =
              [=](double i, const NumberStyle& style) {
                return one_line(
                    what,
                    fmt::format("{} ÷ {}/lx", with_prefix(i, "A", 4, style), with_prefix(amps_per_lux, "A", 4, style)),
                    i / amps_per_lux, style, "in proportion to light");
              },
          .output_dimension = Dimension::current,
          .name = "proportion",
          .caption = fmt::format("{}/lx", with_prefix(amps_per_lux, "A")),
          .formula = {{"E", fmt::format("x / {}", put(amps_per_lux))}}};
}

// Millivolts out for each volt of excitation at full scale, in proportion to pressure.
TransferLaw bridge(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const double excitation = numbers.at("excitation"), full_scale = numbers.at("full_scale");
  const double slope = numbers.at("mv_per_v") / 1000 * excitation / full_scale;
  return {.output = [=](double p) { return slope * p; },
          .quantity = [=](double v) { return v / slope; },
          .explain =
              [=](double v, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("{} ÷ {} × {}", with_prefix(v, "V", 6, style),
                                            with_prefix(slope * full_scale, "V", 5, style),
                                            with_prefix(full_scale, "Pa", 5, style)),
                                v / slope, style, "of the span at this excitation");
              },
          .output_dimension = Dimension::voltage,
          .name = "bridge",
          .caption = fmt::format("{} at full scale", with_prefix(slope * full_scale, "V")),
          .formula = {{"P", fmt::format("x / {}", put(slope))}},
          .supply_key = "excitation"};
}

// 4 mA at `low`, 20 mA at `high`, seen as volts over the shunt. Below 3.6 mA or above 21 mA the loop itself reports a
// fault.
TransferLaw current_loop(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  constexpr double zero_a = 4e-3, span_a = 16e-3, lowest_a = 3.6e-3, highest_a = 21e-3;
  const double low = numbers.at("low"), high = numbers.at("high"), shunt = numbers.at("shunt");
  const auto quantity = [=](double v) {
    const double amperes = v / shunt;
    return amperes < lowest_a || amperes > highest_a ? std::nan("") : low + (amperes - zero_a) / span_a * (high - low);
  };
  return {.output = [=](double x) { return shunt * (zero_a + span_a * (x - low) / (high - low)); },
          .quantity = quantity,
          .explain =
              [=](double v, const NumberStyle& style) {
                return one_line(what,
                                fmt::format("{:g} + ({} − 4 mA) ÷ 16 mA × {:g}", low,
                                            with_prefix(v / shunt, "A", 5, style), high - low),
                                quantity(v), style, "live zero");
              },
          .output_dimension = Dimension::voltage,
          .name = "4–20 mA loop",
          .caption = fmt::format("over {}", with_prefix(shunt, "Ω")),
          .formula = {{"P", fmt::format("{} + (x / {} - {}) / {} * {}", put(low), put(shunt), put(zero_a), put(span_a),
                                        put(high - low))}},
          .without_inverse =
              "the loop carries less than 3.6 mA or more than 21 mA: it is broken, short, or the transmitter reports a "
              "fault"};
}

// Volts of the pair less those of a pair at the cold junction: temperatures are never subtracted.
TransferLaw thermocouple(const Numbers& numbers, const Part& part) {
  const char letter = part.transfer.variant.empty() ? '?' : part.transfer.variant.front();
  const double cold = numbers.at("cold_junction");
  const auto range = formulas::thermocouple_range(letter);
  const auto volts = [=](double hot, double junction) {
    return formulas::thermocouple_volts(letter, hot) - formulas::thermocouple_volts(letter, junction);
  };
  return {.output = [=](double t) { return volts(t, cold); },
          .quantity = [=](double v) { return formulas::thermocouple_celsius(letter, v, cold); },
          .explain =
              [=](double v, const NumberStyle& style) {
                const double junction = formulas::thermocouple_volts(letter, cold);
                const double hot = formulas::thermocouple_celsius(letter, v, cold);
                return std::vector<TraceLine>{
                    {"E", fmt::format("{} + E({})", with_prefix(v, "V", 5, style), with_unit(cold, 2, "°C", style)),
                     with_prefix(v + junction, "V", 5, style), v + junction, "the cold junction is added as a voltage"},
                    {"t", fmt::format("root of E(t) = {}, type {}", with_prefix(v + junction, "V", 5, style), letter),
                     with_unit(hot, 2, "°C", style), hot, "IEC 60584-1"}};
              },
          .output_dimension = Dimension::voltage,
          .name = "reference function",
          .caption = fmt::format("type {}, cold junction {:.4g} °C", letter, cold),
          .without_inverse = range && range->lowest_invertible > range->lowest
                                 ? fmt::format("type {} has no single temperature for this voltage: below {:.0f} °C "
                                               "two temperatures give one voltage",
                                               letter, range->lowest_invertible)
                                 : fmt::format("no temperature of type {} gives this voltage", letter),
          .side = TransferLaw::Side{"cold_junction", "cold junction", "°C", cold, 2, volts}};
}

Dimension dimension_of_interface(const Part& part) {
  if (part.interface == "resistance") return Dimension::resistance;
  if (part.interface == "current") return Dimension::current;
  if (part.interface == "pulse-count") return Dimension::number;
  return Dimension::voltage;
}

// Published points with straight lines between them, in ln(output) where the number "logarithmic" is 1.
class PointTable {
 public:
  PointTable(std::vector<std::vector<double>> rows, bool logarithmic)
      : rows_(std::move(rows)), logarithmic_(logarithmic) {
    if (logarithmic_)
      for (auto& row : rows_) row[1] = std::log(row[1]);
  }
  double output(double x) const {
    const double y = between(x, 0, 1);
    return logarithmic_ ? std::exp(y) : y;
  }
  double quantity(double y) const {
    return logarithmic_ && !(y > 0) ? std::nan("") : between(logarithmic_ ? std::log(y) : y, 1, 0);
  }

 private:
  // Beyond the ends the first or last line goes on; whether that may be used is for the part's range to say.
  double between(double value, std::size_t from, std::size_t to) const {
    const bool rising = rows_.back()[from] > rows_.front()[from];
    std::size_t at = 0;
    while (at + 2 < rows_.size() && (rising ? value > rows_[at + 1][from] : value < rows_[at + 1][from])) ++at;
    const auto &a = rows_[at], &b = rows_[at + 1];
    return a[to] + (value - a[from]) / (b[from] - a[from]) * (b[to] - a[to]);
  }
  std::vector<std::vector<double>> rows_;
  bool logarithmic_;
};

TransferLaw table(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const auto logarithmic = numbers.find("logarithmic");
  const PointTable points(part.transfer.table, logarithmic != numbers.end() && logarithmic->second == 1);
  const Dimension dimension = dimension_of_interface(part);
  return {.output = [=](double x) { return points.output(x); },
          .quantity = [=](double y) { return points.quantity(y); },
          .explain =
              [=](double y, const NumberStyle& style) {
                return one_line(
                    what,
                    fmt::format("between the points of the table at {}",
                                dimension == Dimension::number ? fmt::format("{:g} pulses", y)
                                                               : with_prefix(y, base_unit(dimension).symbol, 5, style)),
                    points.quantity(y), style, "interpolated");
              },
          .output_dimension = dimension,
          .name = "table",
          .caption = fmt::format("table of {} points", part.transfer.table.size())};
}

// A curve typed by the user, y of x; its inverse is searched over the part's range, where it must rise or fall
// throughout.
TransferLaw expression(const Numbers& numbers, const Part& part) {
  const Named what = named(part);
  const auto curve = std::make_shared<Expression>(*Expression::read(part.transfer.expression, numbers));
  const double low = part.quantities.front().minimum, high = part.quantities.front().maximum;
  const auto quantity = [=](double y) {
    const auto miss = [&](double x) { return curve->at(x) - y; };
    const double below = miss(low), above = miss(high);
    if (!(below * above <= 0)) return std::nan("");
    if (below == 0 || above == 0) return below == 0 ? low : high;
    std::uintmax_t steps = 200;
    const auto found = boost::math::tools::toms748_solve(miss, low, high, below, above,
                                                         boost::math::tools::eps_tolerance<double>(48), steps);
    return (found.first + found.second) / 2;
  };
  const Dimension dimension = dimension_of_interface(part);
  return {.output = [=](double x) { return curve->at(x); },
          .quantity = quantity,
          .explain =
              [=, text = part.transfer.expression](double y, const NumberStyle& style) {
                return one_line(
                    what, fmt::format("root of {} = {}", text, with_prefix(y, base_unit(dimension).symbol, 5, style)),
                    quantity(y), style, "typed curve");
              },
          .output_dimension = dimension,
          .name = "typed curve",
          .caption = part.transfer.expression};
}

TransferLaw thermistor_beta(const Numbers& numbers, const Part&) {
  const double r25 = numbers.at("r25");
  const double beta = numbers.at("beta");
  return {.output = [=](double t) { return formulas::thermistor_beta_resistance(t, r25, beta); },
          .quantity = [=](double r) { return formulas::thermistor_beta_celsius(r, r25, beta); },
          .explain =
              [=](double r, const NumberStyle& style) {
                const double t = formulas::thermistor_beta_celsius(r, r25, beta);
                return std::vector{TraceLine{"t",
                                             fmt::format("1 ÷ (1/298.15 + ln({}/{})/{}) − 273.15", fixed(r, 0, style),
                                                         fixed(r25, 0, style), fixed(beta, 0, style)),
                                             with_unit(t, 3, "°C", style), t, "the beta formula"}};
              },
          .output_dimension = Dimension::resistance,
          .name = "beta law",
          .caption = fmt::format("{} at 25 °C, B {:g} K", with_prefix(r25, "Ω"), beta),
          .formula = {{"t", fmt::format("1 / ({} + ln(x / {}) / {}) - 273.15", put(1 / 298.15), put(r25), put(beta))}}};
}

const std::vector<LawKind>& laws() {
  static const std::vector<LawKind> all = {
      {"linear", {{"slope", -any, any}, {"offset", -any, any}}, linear},
      {"ratiometric", {{"slope", -any, any}, {"offset", -any, any}, {"supply", positive, 1e3}}, ratiometric},
      {"ratiometric-humidity",
       {{"slope", -any, any},
        {"offset", -any, any},
        {"supply", positive, 1e3},
        {"t0", positive, 10},
        {"t1", -1, 1},
        {"temperature", -100, 200, true}},
       ratiometric_humidity},
      {"thermocouple", {{"cold_junction", -50, 250}}, thermocouple},
      {"table", {{"logarithmic", 0, 1, true}}, table},
      {"expression", {}, expression},
      {"quadratic", {{"centre", -any, any}, {"c0", -any, any}, {"c1", -any, any}, {"c2", -any, any}}, quadratic},
      {"thermistor-beta", {{"r25", positive, 1e9}, {"beta", positive, 1e5}}, thermistor_beta},
      {"thermistor-steinhart", {{"a", positive, 1}, {"b", positive, 1}, {"c", 0, 1}}, thermistor_steinhart},
      {"platinum", {{"r0", positive, 1e6}}, platinum},
      {"light-resistor", {{"r10", positive, 1e9}, {"gamma", 0.05, 5}}, light_resistor},
      {"photocurrent", {{"amps_per_lux", positive, 1}}, photocurrent},
      {"bridge", {{"mv_per_v", positive, 1e3}, {"full_scale", positive, any}, {"excitation", positive, 1e3}}, bridge},
      {"current-loop", {{"low", -any, any}, {"high", -any, any}, {"shunt", positive, 1e5}}, current_loop},
  };
  return all;
}

// What a law needs besides numbers: a table that rises or falls, an expression that can be read, a known letter.
std::optional<Problem> shape_problem(const Part& part, const Numbers& numbers) {
  const Transfer& transfer = part.transfer;
  if (transfer.type == "thermocouple" &&
      !(transfer.variant.size() == 1 && formulas::thermocouple_range(transfer.variant.front())))
    return Problem{fmt::format("\"{}\" is no type of thermocouple", transfer.variant), "B, E, J, K, N, R, S or T"};
  if (transfer.type == "expression") {
    if (const auto curve = Expression::read(transfer.expression, numbers); !curve) return curve.problem();
  }
  if (transfer.type != "table") return std::nullopt;
  const bool logarithmic = numbers.contains("logarithmic") && numbers.at("logarithmic") == 1;
  if (transfer.table.size() < 2)
    return Problem{fmt::format("the table of \"{}\" has {} rows", part.id, transfer.table.size()), "two rows or more"};
  for (std::size_t i = 0; i < transfer.table.size(); ++i) {
    const auto& row = transfer.table[i];
    if (row.size() != 2 || (logarithmic && row[1] <= 0))
      return Problem{fmt::format("row {} of the table of \"{}\" cannot be", i + 1, part.id),
                     "quantity and output, the output above 0 where it is logarithmic"};
    if (i == 0) continue;
    const auto& last = transfer.table[i - 1];
    const bool rises = transfer.table[1][1] > transfer.table[0][1];
    if (!(row[0] > last[0]) || (rises ? !(row[1] > last[1]) : !(row[1] < last[1])))
      return Problem{fmt::format("row {} of the table of \"{}\" turns back", i + 1, part.id),
                     "quantities that rise and outputs that rise or fall throughout"};
  }
  return std::nullopt;
}

}  // namespace

Result<TransferLaw> transfer_law(const Part& part, const std::map<std::string, double>& settings) {
  const LawKind* kind = nullptr;
  for (const LawKind& law : laws())
    if (law.type == part.transfer.type) kind = &law;
  if (!kind)
    return Problem{
        fmt::format("\"{}\" uses the transfer \"{}\", which this program does not know", part.id, part.transfer.type),
        "a word of the vocabulary"};
  Numbers numbers = part.transfer.numbers;
  for (const auto& [key, value] : settings) {
    std::string known;
    for (const Parameter& parameter : kind->parameters) known += (known.empty() ? "one of " : ", ") + parameter.key;
    const auto parameter = std::ranges::find(kind->parameters, key, &Parameter::key);
    const bool may_be_set = numbers.contains(key) || (parameter != kind->parameters.end() && parameter->optional);
    if (!may_be_set) return Problem{fmt::format("\"{}\" has no setting \"{}\"", part.id, key), known};
    numbers[key] = value;
  }
  for (const Parameter& parameter : kind->parameters) {
    const auto found = numbers.find(parameter.key);
    if (found == numbers.end() && parameter.optional) continue;
    if (found == numbers.end())
      return Problem{fmt::format("\"{}\" lacks the number \"{}\"", part.id, parameter.key),
                     "every number of its transfer"};
    if (!(found->second >= parameter.least && found->second <= parameter.most) ||
        (parameter.key == "slope" && found->second == 0))
      return Problem{fmt::format("{} = {:g} cannot be", parameter.key, found->second),
                     parameter.key == "slope" ? "a slope other than zero"
                                              : fmt::format("{:g} to {:g}", parameter.least, parameter.most)};
  }
  if (auto problem = shape_problem(part, numbers)) return *problem;
  return kind->make(numbers, part);
}

}  // namespace fair_gauge
