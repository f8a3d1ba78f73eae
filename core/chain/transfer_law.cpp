// The vocabulary of transfers: each word of a part file becomes a law. A new word is one row of `laws`, its law in
// laws.h.
#include "chain/transfer_law.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

#include "formulas/thermistor.h"
#include "formulas/thermocouple.h"
#include "language/translation.h"
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

// The symbol and unit of a quantity in the arithmetic.
struct Named {
  std::string letter;
  std::string unit;
};

Named named(Quantity quantity) {
  switch (quantity) {
    case Quantity::humidity: return {"RH", "%RH"};
    case Quantity::pressure: return {"P", "Pa"};
    case Quantity::illuminance: return {"E", "lx"};
    default: return {"t", "°C"};
  }
}

// ---- what a person would write down ----

// One line of arithmetic that ends in the quantity.
std::vector<TraceLine> one_line(const Named& what, std::string expression, double value, const NumberStyle& style,
                                std::string note) {
  const auto& [letter, unit] = what;
  return {{letter, std::move(expression),
           unit == "°C" ? with_unit(value, 3, unit, style) : with_prefix(value, unit, 6, style), value,
           std::move(note)}};
}

struct Explain {
  double y;  // the output
  const NumberStyle& style;
  Named what;
  Dimension dimension;  // of the output

  std::vector<TraceLine> operator()(const LineLaw& law) const {
    return line(law,
                fmt::format("({} − {}) ÷ {}/{}", with_unit(y, 4, "V", style), with_prefix(law.offset, "V", 5, style),
                            with_prefix(law.slope, "V", 5, style), what.unit),
                translated("the sensor's line"));
  }
  std::vector<TraceLine> operator()(const RatiometricLaw& law) const {
    return line(law, share_of_supply(law.supply, law.offset, law.slope), translated("a share of the supply"));
  }
  std::vector<TraceLine> operator()(const HumidityRatioLaw& law) const {
    const double plain = (y / law.supply - law.offset) / law.slope;
    std::vector<TraceLine> lines = {{"RH", share_of_supply(law.supply, law.offset, law.slope),
                                     with_unit(plain, 2, "%RH", style), plain, translated("a share of the supply")}};
    if (law.knows_temperature())
      lines.push_back({"RH",
                       fmt::format("{} ÷ ({:g} − {:g} × {})", with_unit(plain, 2, "%RH", style), law.t0, -law.t1,
                                   with_unit(law.temperature, 1, "°C", style)),
                       with_unit(law.quantity(y), 2, "%RH", style), law.quantity(y),
                       translated("at this temperature")});
    return lines;
  }
  std::vector<TraceLine> operator()(const QuadraticLaw& law) const {
    return line(law,
                translated("root of {:g} {:+g}·(t − {:g}) {:+g}·(t − {:g})² = {}", law.c0, law.c1, law.centre, law.c2,
                           law.centre, with_unit(y, 4, "V", style)),
                translated("slightly curved"));
  }
  std::vector<TraceLine> operator()(const BetaLaw& law) const {
    return line(law,
                translated("1 ÷ (1/298.15 + ln({}/{})/{}) − 273.15", fixed(y, 0, style), fixed(law.r25, 0, style),
                           fixed(law.beta, 0, style)),
                translated("the beta formula"));
  }
  std::vector<TraceLine> operator()(const SteinhartLaw& law) const {
    return line(law,
                translated("1 ÷ ({:g} + {:g}·ln {} + {:g}·(ln {})³) − 273.15", law.a, law.b, fixed(y, 0, style), law.c,
                           fixed(y, 0, style)),
                translated("Steinhart and Hart"));
  }
  std::vector<TraceLine> operator()(const PlatinumLaw& law) const {
    return line(
        law,
        translated("Callendar–Van Dusen of {} ÷ {}", with_prefix(y, "Ω", 6, style), with_prefix(law.r0, "Ω", 6, style)),
        translated("IEC 60751"));
  }
  std::vector<TraceLine> operator()(const LightResistorLaw& law) const {
    return line(law,
                fmt::format("10 × ({} ÷ {})^(−1 ÷ {:g})", with_prefix(y, "Ω", 4, style),
                            with_prefix(law.r10, "Ω", 4, style), law.gamma),
                translated("power law"));
  }
  std::vector<TraceLine> operator()(const PhotocurrentLaw& law) const {
    return line(law,
                fmt::format("{} ÷ {}/lx", with_prefix(y, "A", 4, style), with_prefix(law.amps_per_lux, "A", 4, style)),
                translated("in proportion to light"));
  }
  std::vector<TraceLine> operator()(const BridgeLaw& law) const {
    return line(law,
                fmt::format("{} ÷ {} × {}", with_prefix(y, "V", 6, style),
                            with_prefix(law.slope() * law.full_scale, "V", 5, style),
                            with_prefix(law.full_scale, "Pa", 5, style)),
                translated("of the span at this excitation"));
  }
  std::vector<TraceLine> operator()(const LoopLaw& law) const {
    return line(law,
                translated("{:g} + ({} − 4 mA) ÷ 16 mA × {:g}", law.low, with_prefix(y / law.shunt, "A", 5, style),
                           law.high - law.low),
                translated("live zero"));
  }
  std::vector<TraceLine> operator()(const ThermocoupleLaw& law) const {
    const double volts = y + formulas::thermocouple_volts(law.letter, law.cold);
    return {{"E", fmt::format("{} + E({})", with_prefix(y, "V", 5, style), with_unit(law.cold, 2, "°C", style)),
             with_prefix(volts, "V", 5, style), volts, translated("the cold junction is added as a voltage")},
            {"t", translated("root of E(t) = {}, type {}", with_prefix(volts, "V", 5, style), law.letter),
             with_unit(law.quantity(y), 2, "°C", style), law.quantity(y), translated("IEC 60584-1")}};
  }
  std::vector<TraceLine> operator()(const TableLaw& law) const {
    return line(law, translated("between the points of the table at {}", output_words()), translated("interpolated"));
  }
  std::vector<TraceLine> operator()(const CurveLaw& law) const {
    return line(law, translated("root of {} = {}", law.text, output_words()), translated("curve of the part"));
  }

 private:
  std::vector<TraceLine> line(const auto& law, std::string expression, std::string note) const {
    return one_line(what, std::move(expression), law.quantity(y), style, std::move(note));
  }
  std::string share_of_supply(double supply, double offset, double slope) const {
    return fmt::format("({} ÷ {} − {:g}) ÷ {:g}", with_unit(y, 4, "V", style), with_unit(supply, 3, "V", style), offset,
                       slope);
  }
  std::string output_words() const {
    return dimension == Dimension::number ? translated("{:g} pulses", y)
                                          : with_prefix(y, base_unit(dimension).symbol, 5, style);
  }
};

// ---- the same as steps of expressions ----

using Steps = std::vector<std::pair<std::string, std::string>>;

// A number of a formula, as exact as it is.
std::string put(double number) { return number < 0 ? fmt::format("({})", number) : fmt::format("{}", number); }

struct Formula {
  Steps operator()(const LineLaw& law) const {
    return {{"t", fmt::format("(x - {}) / {}", put(law.offset), put(law.slope))}};
  }
  Steps operator()(const RatiometricLaw& law) const {
    return {{"t", fmt::format("(x / {} - {}) / {}", put(law.supply), put(law.offset), put(law.slope))}};
  }
  Steps operator()(const HumidityRatioLaw& law) const {
    return {{"RH", fmt::format("(x / {} - {}) / {}", put(law.supply), put(law.offset),
                               put(law.slope * law.share(law.temperature)))}};
  }
  Steps operator()(const QuadraticLaw& law) const {
    if (law.c2 == 0) return {{"t", fmt::format("{} + (x - {}) / {}", put(law.centre), put(law.c0), put(law.c1))}};
    return {{"root", fmt::format("sqrt({} - {} * ({} - x))", put(law.c1 * law.c1), put(4 * law.c2), put(law.c0))},
            {"t", fmt::format("{} + 2 * (x - {}) / ({} {} root)", put(law.centre), put(law.c0), put(law.c1),
                              law.c1 < 0 ? "-" : "+")}};
  }
  Steps operator()(const BetaLaw& law) const {
    return {{"t", fmt::format("1 / ({} + ln(x / {}) / {}) - 273.15", put(1 / 298.15), put(law.r25), put(law.beta))}};
  }
  Steps operator()(const SteinhartLaw& law) const {
    return {{"l", "ln(x)"},
            {"t", fmt::format("1 / ({} + {} * l + {} * l * l * l) - 273.15", put(law.a), put(law.b), put(law.c))}};
  }
  // The parabola's root; below 0 °C the fourth-order term is taken over to the other side, a few times.
  Steps operator()(const PlatinumLaw& law) const {
    constexpr double a = 3.9083e-3, b = -5.775e-7, c = -4.183e-12;
    Steps steps;
    std::string before = "0";
    for (int i = 0; i < 5; ++i) {
      const std::string symbol = i == 4 ? "t" : fmt::format("t{}", i);
      const std::string far =
          i == 0 ? "" : fmt::format(" + (({0} < 0) ? {1} * ({0} - 100) * {0} * {0} * {0} : 0)", before, put(c));
      steps.emplace_back(symbol, fmt::format("({} + sqrt({} - {} * (1 - x / {}{}))) / {}", put(-a), put(a * a),
                                             put(4 * b), put(law.r0), far, put(2 * b)));
      before = symbol;
    }
    return steps;
  }
  Steps operator()(const LightResistorLaw& law) const {
    return {{"E", fmt::format("10 * (x / {}) ^ {}", put(law.r10), put(-1 / law.gamma))}};
  }
  Steps operator()(const PhotocurrentLaw& law) const { return {{"E", fmt::format("x / {}", put(law.amps_per_lux))}}; }
  Steps operator()(const BridgeLaw& law) const { return {{"P", fmt::format("x / {}", put(law.slope()))}}; }
  Steps operator()(const LoopLaw& law) const {
    return {{"P", fmt::format("{} + (x / {} - {}) / {} * {}", put(law.low), put(law.shunt), put(LoopLaw::zero_a),
                              put(LoopLaw::span_a), put(law.high - law.low))}};
  }
  Steps operator()(const auto& /*law*/) const { return {}; }  // a search or a table
};

// ---- from a part file ----

TransferLaw line(const Numbers& numbers, const Part& part) {
  const LineLaw law{.slope = numbers.at("slope"), .offset = numbers.at("offset")};
  return {.law = law,
          .name = translated("line"),
          .caption = fmt::format("{}/{}{}", with_prefix(law.slope, "V"), named(part.quantities.front().quantity).unit,
                                 law.offset == 0 ? "" : translated(", {} at 0", with_prefix(law.offset, "V")))};
}

TransferLaw ratiometric(const Numbers& numbers, const Part&) {
  const RatiometricLaw law{
      .slope = numbers.at("slope"), .offset = numbers.at("offset"), .supply = numbers.at("supply")};
  return {.law = law,
          .name = translated("ratiometric line"),
          .caption = translated("share of {}", with_prefix(law.supply, "V")),
          .supply_key = "supply"};
}

TransferLaw ratiometric_humidity(const Numbers& numbers, const Part&) {
  const auto temperature = numbers.find("temperature");
  const HumidityRatioLaw law{.slope = numbers.at("slope"),
                             .offset = numbers.at("offset"),
                             .supply = numbers.at("supply"),
                             .t0 = numbers.at("t0"),
                             .t1 = numbers.at("t1"),
                             .temperature = temperature == numbers.end() ? std::nan("") : temperature->second};
  TransferLaw whole{.law = law,
                    .name = translated("ratiometric line"),
                    .caption = translated("share of {}{}", with_prefix(law.supply, "V"),
                                          law.knows_temperature() ? translated(", at {:g} °C", law.temperature) : ""),
                    .supply_key = "supply"};
  if (law.knows_temperature())
    whole.side = TransferLaw::Side{"temperature", translated("air temperature beside it"), "°C", law.temperature, 1};
  return whole;
}

TransferLaw quadratic(const Numbers& numbers, const Part&) {
  const QuadraticLaw law{
      .centre = numbers.at("centre"), .c0 = numbers.at("c0"), .c1 = numbers.at("c1"), .c2 = numbers.at("c2")};
  return {.law = law,
          .name = translated("quadratic"),
          .caption = translated("{}/°C, slightly curved", with_prefix(law.c1, "V"))};
}

TransferLaw thermistor_beta(const Numbers& numbers, const Part&) {
  const BetaLaw law{.r25 = numbers.at("r25"), .beta = numbers.at("beta")};
  return {.law = law,
          .output_dimension = Dimension::resistance,
          .name = translated("beta law"),
          .caption = translated("{} at 25 °C, B {:g} K", with_prefix(law.r25, "Ω"), law.beta)};
}

TransferLaw thermistor_steinhart(const Numbers& numbers, const Part&) {
  return {.law = SteinhartLaw{.a = numbers.at("a"), .b = numbers.at("b"), .c = numbers.at("c")},
          .output_dimension = Dimension::resistance,
          .name = translated("Steinhart–Hart law"),
          .caption = translated("three coefficients")};
}

TransferLaw platinum(const Numbers& numbers, const Part&) {
  const PlatinumLaw law{.r0 = numbers.at("r0")};
  return {.law = law,
          .output_dimension = Dimension::resistance,
          .name = translated("Callendar–Van Dusen law"),
          .caption = translated("{} at 0 °C", with_prefix(law.r0, "Ω"))};
}

TransferLaw light_resistor(const Numbers& numbers, const Part&) {
  const LightResistorLaw law{.r10 = numbers.at("r10"), .gamma = numbers.at("gamma")};
  return {.law = law,
          .output_dimension = Dimension::resistance,
          .name = translated("power law"),
          .caption = translated("{} at 10 lx, γ {:g}", with_prefix(law.r10, "Ω"), law.gamma)};
}

TransferLaw photocurrent(const Numbers& numbers, const Part&) {
  const PhotocurrentLaw law{.amps_per_lux = numbers.at("amps_per_lux")};
  return {.law = law,
          .output_dimension = Dimension::current,
          .name = translated("proportion"),
          .caption = fmt::format("{}/lx", with_prefix(law.amps_per_lux, "A"))};
}

TransferLaw bridge(const Numbers& numbers, const Part&) {
  const BridgeLaw law{.volts_per_volt = numbers.at("mv_per_v") / 1000,
                      .excitation = numbers.at("excitation"),
                      .full_scale = numbers.at("full_scale")};
  return {.law = law,
          .name = translated("bridge"),
          .caption = translated("{} at full scale", with_prefix(law.slope() * law.full_scale, "V")),
          .supply_key = "excitation"};
}

TransferLaw current_loop(const Numbers& numbers, const Part&) {
  const LoopLaw law{.low = numbers.at("low"), .high = numbers.at("high"), .shunt = numbers.at("shunt")};
  return {.law = law,
          .name = translated("4–20 mA loop"),
          .caption = translated("over {}", with_prefix(law.shunt, "Ω")),
          .without_inverse = translated(
              "the loop carries less than 3.6 mA or more than 21 mA: it is broken, short, or the transmitter reports a "
              "fault")};
}

TransferLaw thermocouple(const Numbers& numbers, const Part& part) {
  const ThermocoupleLaw law{.letter = part.transfer.variant.empty() ? '?' : part.transfer.variant.front(),
                            .cold = numbers.at("cold_junction")};
  const auto range = formulas::thermocouple_range(law.letter);
  return {.law = law,
          .name = translated("reference function"),
          .caption = translated("type {}, cold junction {:.4g} °C", law.letter, law.cold),
          .without_inverse = range && range->lowest_invertible > range->lowest
                                 ? translated("type {} has no single temperature for this voltage: below {:.0f} °C "
                                              "two temperatures give one voltage",
                                              law.letter, range->lowest_invertible)
                                 : translated("no temperature of type {} gives this voltage", law.letter),
          .side = TransferLaw::Side{"cold_junction", translated("cold junction"), "°C", law.cold, 2}};
}

Dimension dimension_of_interface(const Part& part) {
  if (part.interface == Interface::resistance) return Dimension::resistance;
  if (part.interface == Interface::current) return Dimension::current;
  if (part.interface == Interface::pulse_count) return Dimension::number;
  return Dimension::voltage;
}

// Numbers with which a thermistor's table may say which R25 and B it is for.
constexpr std::array of_specimen = {"r25", "beta"};

// The rows of the table. A specimen of another R25 has it stretched, one of another B tilted about 25 °C.
std::vector<std::vector<double>> rows_of(const Transfer& transfer, const Numbers& numbers) {
  std::vector<std::vector<double>> rows = transfer.table;
  for (const char* number : of_specimen)
    if (!transfer.numbers.contains(number) || !numbers.contains(number)) return rows;
  const double times = numbers.at("r25") / transfer.numbers.at("r25");
  const double tilt = numbers.at("beta") - transfer.numbers.at("beta");
  for (auto& row : rows)
    if (row.size() == 2)
      row[1] *= times * std::exp(tilt * (1 / (row[0] + formulas::zero_celsius) - 1 / (25 + formulas::zero_celsius)));
  return rows;
}

TransferLaw table(const Numbers& numbers, const Part& part) {
  const auto logarithmic = numbers.find("logarithmic");
  TableLaw law{.rows = rows_of(part.transfer, numbers),
               .logarithmic = logarithmic != numbers.end() && logarithmic->second == 1};
  if (law.logarithmic)
    for (auto& row : law.rows) row[1] = std::log(row[1]);
  return {.law = std::move(law),
          .output_dimension = dimension_of_interface(part),
          .name = translated("table"),
          .caption = translated("table of {} points", part.transfer.table.size())};
}

constexpr std::size_t room_of_caption = 30;  // characters, two lines of a stage

TransferLaw expression(const Numbers& numbers, const Part& part) {
  return {.law = CurveLaw{.curve = *Expression::read(part.transfer.expression, numbers),
                          .text = part.transfer.expression,
                          .low = part.quantities.front().minimum,
                          .high = part.quantities.front().maximum},
          .output_dimension = dimension_of_interface(part),
          .name = translated("curve of the part"),
          .caption = part.transfer.expression.size() <= room_of_caption ? part.transfer.expression
                                                                        : translated("by its own formula")};
}

const std::vector<LawKind>& laws() {
  static const std::vector<LawKind> all = {
      {"linear", {{"slope", -any, any}, {"offset", -any, any}}, line},
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
      {"table", {{"logarithmic", 0, 1, true}, {"r25", positive, 1e9, true}, {"beta", positive, 1e5, true}}, table},
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
    return Problem{translated("\"{}\" is no type of thermocouple", transfer.variant),
                   translated("B, E, J, K, N, R, S or T")};
  if (transfer.type == "expression") {
    const auto curve = Expression::read(transfer.expression, numbers);
    if (!curve) return curve.problem();
    if (const auto gate = numbers.find("gate"); gate != numbers.end() && !(gate->second > 0))
      return Problem{translated("gate = {:g} cannot be", gate->second), translated("a time above zero")};
    const auto [low, high] = std::pair(part.quantities.front().minimum, part.quantities.front().maximum);
    if (curve->at(low) == curve->at(high) && curve->at(low) == curve->at(std::midpoint(low, high)))
      return Problem{translated("the curve gives {:g} for everything", curve->at(low)),
                     translated("numbers with which it rises or falls")};
  }
  if (transfer.type == "current-loop" && numbers.at("low") == numbers.at("high"))
    return Problem{translated("the range of the loop begins and ends at {:g}", numbers.at("low")),
                   translated("another value at 20 mA than at 4 mA")};
  if (transfer.type != "table") return std::nullopt;
  const bool logarithmic = numbers.contains("logarithmic") && numbers.at("logarithmic") == 1;
  for (const char* number : of_specimen)
    if (!transfer.numbers.contains(number) && (numbers.contains("r25") || numbers.contains("beta")))
      return Problem{translated("\"{}\" lacks the number \"{}\"", part.id, number),
                     translated("a table that says both its R25 and its B")};
  if (transfer.table.size() < 2)
    return Problem{translated("the table of \"{}\" has {} rows", part.id, transfer.table.size()),
                   translated("two rows or more")};
  const std::vector<std::vector<double>> rows = rows_of(transfer, numbers);
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const auto& row = rows[i];
    if (row.size() != 2 || (logarithmic && row[1] <= 0))
      return Problem{translated("row {} of the table of \"{}\" cannot be", i + 1, part.id),
                     translated("quantity and output, the output above 0 where it is logarithmic")};
    if (i == 0) continue;
    const auto& last = rows[i - 1];
    const bool rises = rows[1][1] > rows[0][1];
    if (!(row[0] > last[0]) || (rises ? !(row[1] > last[1]) : !(row[1] < last[1])))
      return Problem{translated("row {} of the table of \"{}\" turns back", i + 1, part.id),
                     translated("quantities that rise and outputs that rise or fall throughout")};
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
        translated("\"{}\" uses the transfer \"{}\", which this program does not know", part.id, part.transfer.type),
        translated("a word of the vocabulary")};
  Numbers numbers = part.transfer.numbers;
  for (const auto& [key, value] : settings) {
    std::string known;
    for (const Parameter& parameter : kind->parameters)
      known += (known.empty() ? translated("one of ") : ", ") + parameter.key;
    const auto parameter = std::ranges::find(kind->parameters, key, &Parameter::key);
    const bool may_be_set = numbers.contains(key) || (parameter != kind->parameters.end() && parameter->optional);
    if (!may_be_set) return Problem{translated("\"{}\" has no setting \"{}\"", part.id, key), known};
    numbers[key] = value;
  }
  for (const Parameter& parameter : kind->parameters) {
    const auto found = numbers.find(parameter.key);
    if (found == numbers.end() && parameter.optional) continue;
    if (found == numbers.end())
      return Problem{translated("\"{}\" lacks the number \"{}\"", part.id, parameter.key),
                     translated("every number of its transfer")};
    if (!(found->second >= parameter.least && found->second <= parameter.most) ||
        (parameter.key == "slope" && found->second == 0))
      return Problem{translated("{} = {:g} cannot be", parameter.key, found->second),
                     parameter.key == "slope" ? translated("a slope other than zero")
                                              : translated("{:g} to {:g}", parameter.least, parameter.most)};
  }
  if (auto problem = shape_problem(part, numbers)) return *problem;
  TransferLaw law = kind->make(numbers, part);
  law.measures = part.quantities.front().quantity;
  return law;
}

double TransferLaw::output_beside(double quantity, double beside) const {
  if (const auto* humidity = std::get_if<HumidityRatioLaw>(&law)) return humidity->output_beside(quantity, beside);
  if (const auto* pair = std::get_if<ThermocoupleLaw>(&law)) return pair->output_beside(quantity, beside);
  return output(quantity);
}

std::vector<TraceLine> TransferLaw::explain(double output, const NumberStyle& style) const {
  return std::visit(Explain{output, style, named(measures), output_dimension}, law);
}

Steps TransferLaw::formula() const { return std::visit(Formula{}, law); }

Range reach_of(const Part& part, const PartQuantity& quantity, const std::map<std::string, double>& settings) {
  const auto number = [&](const char* key) {
    if (const auto set = settings.find(key); set != settings.end()) return set->second;
    const auto found = part.transfer.numbers.find(key);
    return found == part.transfer.numbers.end() ? quantity.maximum : found->second;
  };
  if (part.transfer.type == "current-loop")
    return {std::min(number("low"), number("high")), std::max(number("low"), number("high"))};
  if (part.transfer.type == "bridge" && quantity.maximum > number("full_scale")) return {0, number("full_scale")};
  return {quantity.minimum, quantity.maximum};
}

}  // namespace fair_gauge
