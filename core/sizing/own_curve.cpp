#include "sizing/own_curve.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "chain/links.h"
#include "language/translation.h"
#include "parts/expression.h"
#include "quantity/least_squares.h"
#include "quantity/letters.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

bool begins_number(std::string_view field) {
  return !field.empty() && (std::isdigit(static_cast<unsigned char>(field.front())) ||
                            std::string_view("+-.,").find(field.front()) != std::string_view::npos ||
                            field.starts_with("\u2212") || field.starts_with("\u2013"));
}

// The fields of a line; spaces part them too unless something clearer does.
std::vector<std::string> fields_of(const std::string& line) {
  const bool clear = line.find('\t') != std::string::npos || line.find(';') != std::string::npos;
  const bool spaced = line.find(' ') != std::string::npos && line.find(", ") == std::string::npos;
  std::vector<std::string> fields(1);
  for (const char c : line) {
    const bool parts = clear ? c == '\t' || c == ';' : c == ' ' || (c == ',' && !spaced);
    if (!parts)
      fields.back() += c;
    else if (!fields.back().empty())
      fields.emplace_back();
  }
  std::vector<std::string> whole;
  for (std::string& field : fields) {
    field.erase(0, field.find_first_not_of(" \""));
    field.resize(field.find_last_not_of(" \r\",") + 1);
    if (field.empty()) continue;
    if (whole.empty() || begins_number(field))
      whole.push_back(std::move(field));
    else  // a unit that stands by itself belongs to the number before it
      whole.back() += " " + field;
  }
  return whole;
}

Dimension dimension_of(Interface output) {
  return output == Interface::resistance ? Dimension::resistance
         : output == Interface::current  ? Dimension::current
                                         : Dimension::voltage;
}

// What stands above the points, "T (°C); R (kΩ)", "T in °F, R in kOhm", or a line of units: of a column, so that a bare
// number there means it. Which of several outputs is the nominal one is told by its name.
class Heading {
 public:
  explicit Heading(const CurveColumns& columns)
      : quantity_{columns.quantity->dimension, ""}, output_{dimension_of(columns.output), ""} {}

  void add(const std::string& line) {
    // A word of one letter is a unit where it stands as one: in brackets, behind a stroke, behind "in".
    std::string words;
    for (const char c : line) words += std::string_view("()[]/\t;,\"\r").find(c) != std::string_view::npos ? ' ' : c;
    std::string before;
    for (std::size_t at = 0; at < words.size();) {
      const std::size_t end = std::min(words.find(' ', at), words.size());
      const std::string word = words.substr(at, end - at);
      const bool is_marked = at > 0 && std::string_view("([/").find(line[at - 1]) != std::string_view::npos;
      const bool of_number = begins_number(before);  // "of the 10 kΩ kind"
      if ((word.size() > 1 && !of_number) || is_marked || before == "in") take(word);
      if (!word.empty()) before = word;
      at = end + 1;
    }
    const std::string_view separators = line.find_first_of("\t;,") != std::string::npos ? "\t;,\r" : " \r";
    std::vector<std::string> cells;
    for (std::size_t at = 0; at < line.size();) {
      const std::size_t end = std::min(line.find_first_of(separators, at), line.size());
      if (end > at) cells.push_back(small_letters(std::string_view(line).substr(at, end - at)));
      at = end + 1;
    }
    // A line of units has the names above it.
    if (cells.size() != names_.size()) names_.assign(cells.size(), "");
    for (std::size_t i = 0; i < cells.size(); ++i) names_[i] += cells[i];
  }

  Result<double> quantity(const std::string& field, const Unit* shown) const { return read(field, quantity_, shown); }
  Result<double> output(const std::string& field) const { return read(field, output_, nullptr); }

  // Of so many in a row, the one that is the output; 0 → nothing tells.
  std::size_t output_among(std::size_t fields) const {
    if (fields == 2) return 1;
    std::size_t found = 0;
    if (names_.size() != fields) return found;
    for (std::size_t i = 1; i < fields; ++i)
      for (const std::string_view nominal : {"nom", "nenn", "typ", "cent", "mid"})
        if (names_[i].find(nominal) != std::string::npos) {
          if (found != 0 && found != i) return 0;
          found = i;
        }
    return found;
  }

 private:
  struct Column {
    Dimension dimension;
    std::string unit;
  };

  void take(const std::string& word) {
    if (begins_number(word)) return;
    for (Column* column : {&quantity_, &output_})
      if (parse_quantity("1 " + word, column->dimension)) column->unit = word;
  }

  static Result<double> read(const std::string& field, const Column& column, const Unit* shown) {
    const bool is_bare = !column.unit.empty() && parse_number(field);
    const auto read = parse_quantity(is_bare ? field + " " + column.unit : field, column.dimension, shown);
    return read ? Result<double>(read->base) : Result<double>(read.problem());
  }

  Column quantity_, output_;
  std::vector<std::string> names_;
};

std::string told(double quantity, const CurveColumns& columns) {
  return fmt::format("{:.6g} {}", columns.quantity->from_base(quantity), columns.quantity->symbol);
}

std::vector<double> polynomial(const std::vector<CurvePoint>& points, int degree, double centre) {
  std::vector<double> powers, outputs;
  for (const CurvePoint& point : points) {
    outputs.push_back(point.output);
    for (int k = 0; k <= degree; ++k) powers.push_back(std::pow(point.quantity - centre, k));
  }
  return least_squares(powers, static_cast<std::size_t>(degree) + 1, outputs).solved;
}

// 1/T = a + b·lnR + c·(lnR)³: three points give it exactly, more by least squares.
std::optional<Problem> steinhart(const std::vector<CurvePoint>& points, Transfer& transfer) {
  std::vector<double> terms, inverse;
  for (const CurvePoint& point : points) {
    if (!(point.output > 0))
      return Problem{translated("{:g} Ω cannot be a thermistor's", point.output), translated("resistances above zero")};
    const double l = std::log(point.output);
    terms.insert(terms.end(), {1, l, l * l * l});
    inverse.push_back(1 / (point.quantity + 273.15));
  }
  const std::vector<double> solved = least_squares(terms, 3, inverse).solved;
  transfer = {.type = "thermistor-steinhart", .numbers = {{"a", solved[0]}, {"b", solved[1]}, {"c", solved[2]}}};
  if (!(solved[0] > 0 && solved[1] > 0 && solved[2] >= 0))
    return Problem{translated("these points are not those of a thermistor whose resistance falls with temperature"),
                   translated("three points of its table, well apart")};
  return std::nullopt;
}

// How far the finished curve misses its points, and whether it may be turned round.
std::optional<Problem> judge(OwnCurve& curve, const std::vector<CurvePoint>& points, const Part& part,
                             const CurveColumns& columns) {
  const auto law = transfer_law(part, {});
  if (!law) return law.problem();
  double squares = 0;
  for (const CurvePoint& point : points) {
    curve.residuals.push_back(point.output - law->output(point.quantity));
    squares += curve.residuals.back() * curve.residuals.back();
    const double back = law->quantity(point.output);
    if (std::isfinite(back)) curve.largest_error = std::max(curve.largest_error, std::abs(back - point.quantity));
  }
  curve.rms = points.empty() ? 0 : std::sqrt(squares / static_cast<double>(points.size()));
  constexpr int steps = 200;
  double last = law->output(curve.from);
  int direction = 0;
  for (int i = 1; i <= steps; ++i) {
    const double next = law->output(curve.from + (curve.to - curve.from) * i / steps);
    const int sign = next > last ? 1 : next < last ? -1 : 0;
    if (!std::isfinite(next) || sign == 0 || (direction != 0 && sign != direction))
      return Problem{translated("the curve turns back near {}: one output would mean two values",
                                told(curve.from + (curve.to - curve.from) * i / steps, columns)),
                     translated("a curve that rises or falls throughout, or a smaller range")};
    direction = sign;
    last = next;
  }
  return std::nullopt;
}

}  // namespace

std::span<const EnumName<CurveKind>> enum_names(CurveKind) {
  using enum CurveKind;
  static constexpr std::array names = {EnumName{line, "line"}, EnumName{quadratic, "quadratic"},
                                       EnumName{CurveKind::table, "table"}, EnumName{steinhart, "steinhart"},
                                       EnumName{expression, "expression"}};
  return names;
}

Result<std::vector<CurvePoint>> read_curve_points(std::string_view text, const CurveColumns& columns) {
  Heading heading(columns);
  std::vector<CurvePoint> points;
  int number = 0;
  for (std::size_t at = 0; at <= text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    const std::string_view line = text.substr(at, end - at);
    const auto fields = fields_of(std::string(line.substr(0, line.find('#'))));
    at = end + 1;
    ++number;
    if (fields.empty()) continue;
    if (points.empty() && !begins_number(fields[0])) {
      heading.add(std::string(line.substr(0, line.find('#'))));
      continue;
    }
    const std::size_t which = fields.size() < 2 ? 0 : heading.output_among(fields.size());
    if (which == 0)
      return Problem{fields.size() == 1 ? translated("line {} has one number", number)
                                        : translated("line {} has {} numbers", number, fields.size()),
                     translated("two numbers: the quantity, then the output"),
                     {.line = number, .column = 1}};
    const auto quantity = heading.quantity(fields[0], columns.quantity);
    const auto output = heading.output(fields[which]);
    if (!quantity || !output) {
      Problem problem = quantity ? output.problem() : quantity.problem();
      problem.place = {.line = number, .column = 1};
      return problem;
    }
    points.push_back({*quantity, *output});
    if (points.size() > 5000)
      return Problem{translated("there are more than 5000 points"), translated("fewer points"), {.line = number}};
  }
  std::ranges::sort(points, {}, &CurvePoint::quantity);
  for (std::size_t i = 1; i < points.size(); ++i)
    if (points[i].quantity == points[i - 1].quantity)
      return Problem{translated("{} stands twice", told(points[i].quantity, columns)),
                     translated("each value of the quantity once")};
  return points;
}

Result<OwnCurve> fit_own_curve(CurveKind kind, const std::vector<CurvePoint>& points, const CurveColumns& columns) {
  const std::size_t needed = kind == CurveKind::quadratic || kind == CurveKind::steinhart ? 3 : 2;
  if (points.size() < needed)
    return Problem{
        points.size() == 1 ? translated("one point is too few") : translated("{} points are too few", points.size()),
        translated("{} or more", needed)};
  OwnCurve curve{.from = points.front().quantity, .to = points.back().quantity};
  const double centre = (curve.from + curve.to) / 2;
  switch (kind) {
    case CurveKind::line: {
      const auto c = polynomial(points, 1, centre);
      curve.transfer = {.type = "linear", .numbers = {{"slope", c[1]}, {"offset", c[0] - c[1] * centre}}};
      break;
    }
    case CurveKind::quadratic: {
      const auto c = polynomial(points, 2, centre);
      curve.transfer = {.type = "quadratic", .numbers = {{"centre", centre}, {"c0", c[0]}, {"c1", c[1]}, {"c2", c[2]}}};
      break;
    }
    case CurveKind::table: {
      curve.transfer.type = "table";
      for (const CurvePoint& point : points) curve.transfer.table.push_back({point.quantity, point.output});
      if (columns.output == Interface::resistance && points.front().output > points.back().output &&
          points.back().output > 0)
        curve.transfer.numbers["logarithmic"] = 1;
      break;
    }
    case CurveKind::steinhart:
      if (auto problem = steinhart(points, curve.transfer)) return *problem;
      break;
    case CurveKind::expression: return Problem{translated("an expression is typed, not fitted"), "typed_curve"};
  }
  const Part part = own_part("own", Quantity::temperature,
                             kind == CurveKind::steinhart ? Interface::resistance : columns.output, curve);
  if (auto problem = judge(curve, points, part, columns)) return *problem;
  curve.warnings.push_back(
      translated("It is known from {} to {} only; beyond its points it is a guess and is not used.",
                 told(curve.from, columns), told(curve.to, columns)));
  if (points.size() == needed && kind != CurveKind::table)
    curve.warnings.push_back(
        translated("It goes through its points exactly: with no point to spare nothing tells how good it is."));
  if (points.size() == 2)
    curve.warnings.push_back(translated("Two points say nothing of a bend between them: read a third in the middle."));
  return curve;
}

Result<OwnCurve> typed_curve(const std::string& expression, double from, double to,
                             const std::vector<CurvePoint>& points, const CurveColumns& columns) {
  if (!(from < to)) return Problem{translated("the range ends before it begins"), translated("from below to")};
  OwnCurve curve{.transfer = {.type = "expression", .expression = expression}, .from = from, .to = to};
  if (auto problem = judge(curve, points, own_part("own", Quantity::temperature, columns.output, curve), columns))
    return *problem;
  if (points.empty())
    curve.warnings.push_back(translated("No points: nothing tells how well the formula meets the part."));
  return curve;
}

Part own_part(const std::string& name, Quantity quantity, Interface interface, const OwnCurve& curve) {
  std::string id;
  for (const char c : name)
    id += std::isalnum(static_cast<unsigned char>(c)) ? static_cast<char>(std::tolower(static_cast<unsigned char>(c)))
                                                      : '-';
  PartQuantity measured{.quantity = quantity, .minimum = curve.from, .maximum = curve.to};
  if (curve.largest_error > 0)
    measured.accuracy = {{.from = curve.from,
                          .to = curve.to,
                          .value = curve.largest_error,
                          .of = AccuracyOf::points,
                          .basis = Basis::maximum,
                          .grade = "own",
                          .conditions = translated("how far the curve misses its own points; nothing else is known")}};
  return {.id = "own-" + id,
          .name = name,
          .interface = interface,
          .quantities = {measured},
          .transfer = curve.transfer,
          .source = translated("a curve of the user's own")};
}

}  // namespace fair_gauge
