#include "truth/calibration_fit.h"

#include "files/delimited.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "language/translation.h"
#include "quantity/least_squares.h"
#include "quantity/letters.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

// The powers of (reading − origin) that a model has.
std::vector<int> powers_of(FitModel model) {
  switch (model) {
    case FitModel::offset: return {0};
    case FitModel::gain: return {1};
    case FitModel::line: return {0, 1};
    case FitModel::quadratic: return {0, 1, 2};
    case FitModel::cubic: return {0, 1, 2, 3};
    case FitModel::table: return {};
  }
  return {};
}

std::vector<double> row_of(FitModel model, double x) {
  std::vector<double> row;
  for (const int power : powers_of(model)) row.push_back(std::pow(x, power));
  return row;
}

using Square = std::vector<std::vector<double>>;

// The matrix that turns coefficients of ((reading − centre) ÷ scale) into those of (reading − origin).
// \param shift  origin − centre: ((x + shift) ÷ scale)^i = Σ_j C(i, j) · x^j · shift^(i − j) ÷ scale^i
Square to_asked_origin(FitModel model, double shift, double scale) {
  const auto powers = powers_of(model);
  const std::size_t k = powers.size();
  Square turn(k, std::vector<double>(k));
  for (std::size_t i = 0; i < k; ++i) {
    double ways = 1;  // C(i, j), by Pascal's rule along the row
    const int power = powers[i];
    for (int j = power; j >= 0; --j) {
      for (std::size_t r = 0; r < k; ++r)
        if (powers[r] == j && (j == power || shift != 0))
          turn[r][i] = ways * std::pow(shift, power - j) / std::pow(scale, power);
      ways = ways * j / (power - j + 1);
    }
  }
  return turn;
}

Result<CalibrationFit> table(std::vector<CalibrationPoint> points, double origin) {
  std::ranges::sort(points, {}, &CalibrationPoint::reading);
  CalibrationFit fit{.model = FitModel::table, .origin = origin};
  for (std::size_t i = 0; i < points.size(); ++i) {
    if (i > 0 && points[i].reading == points[i - 1].reading)
      return Problem{translated("the reading {:g} stands twice", points[i].reading),
                     translated("each reading once for a table")};
    fit.readings.push_back(points[i].reading);
    fit.coefficients.push_back(points[i].reference - points[i].reading);
    fit.standard_uncertainties.push_back(points[i].uncertainty > 0 ? points[i].uncertainty : std::nan(""));
    fit.correlation.emplace_back(points.size(), 0.0);
    fit.correlation.back()[i] = 1;
  }
  fit.residuals.assign(points.size(), 0.0);
  return fit;
}

}  // namespace

std::span<const EnumName<FitModel>> enum_names(FitModel) {
  using enum FitModel;
  static constexpr std::array names = {
      EnumName{offset, to_translate("offset")}, EnumName{gain, to_translate("gain")},
      EnumName{line, to_translate("line")},     EnumName{quadratic, to_translate("quadratic")},
      EnumName{cubic, to_translate("cubic")},   EnumName{FitModel::table, to_translate("table")}};
  return names;
}

Result<CalibrationFit> fit_calibration(FitModel model, const std::vector<CalibrationPoint>& points, double origin) {
  const std::size_t unknowns = powers_of(model).size();
  if (points.empty() || points.size() < unknowns)
    return Problem{points.size() == 1 ? translated("one point is too few for this model")
                                      : translated("{} points are too few for this model", points.size()),
                   translated("{} or more", std::max<std::size_t>(1, unknowns))};
  constexpr std::size_t most_table_points = 2000;  // a correlation of all with all is kept
  if (model == FitModel::table && points.size() > most_table_points)
    return Problem{translated("{} points are too many for a table", points.size()),
                   translated("{} at most, or another model", most_table_points)};
  if (model == FitModel::table) return table(points, origin);
  const bool weighted =
      std::ranges::all_of(points, [](const CalibrationPoint& point) { return point.uncertainty > 0; });
  const std::size_t n = points.size(), k = unknowns;
  const auto [lowest, highest] = std::ranges::minmax(points, {}, &CalibrationPoint::reading);
  // Solved around the middle of the points in units of their reach, whatever origin is asked for: powers of numbers far
  // from it would be told apart by their last digits alone. A gain is in proportion to the origin asked for.
  CalibrationFit fit{.model = model, .origin = origin, .dof = static_cast<int>(n) - static_cast<int>(k)};
  fit.centre = model == FitModel::gain ? origin : (lowest.reading + highest.reading) / 2;
  fit.scale = std::max(std::abs(lowest.reading - fit.centre), std::abs(highest.reading - fit.centre));
  if (!(fit.scale > 0)) fit.scale = 1;
  std::vector<double> design, right;
  for (const CalibrationPoint& point : points) {
    const double weight = weighted ? 1 / point.uncertainty : 1;
    for (const double term : row_of(model, (point.reading - fit.centre) / fit.scale)) design.push_back(term * weight);
    right.push_back((point.reference - point.reading) * weight);
  }
  const LeastSquares least = least_squares(design, k, right);
  if (least.rank < k)
    return Problem{translated("the readings do not lie far enough apart for this model"),
                   translated("{} different readings or more", unknowns)};
  double squares = 0;
  for (const CalibrationPoint& point : points) {
    const auto row = row_of(model, (point.reading - fit.centre) / fit.scale);
    const double fitted = std::inner_product(row.begin(), row.end(), least.solved.begin(), 0.0);
    fit.residuals.push_back(point.reference - point.reading - fitted);
    squares += fit.residuals.back() * fit.residuals.back();
  }
  fit.residual_sd = fit.dof > 0 ? std::sqrt(squares / fit.dof) : 0;
  const double variance = weighted ? 1 : fit.dof > 0 ? fit.residual_sd * fit.residual_sd : std::nan("");
  const Square turn = to_asked_origin(model, origin - fit.centre, fit.scale);
  // turn · (AᵀA)⁻¹ · turnᵀ
  const auto spread = [&](std::size_t i, std::size_t j) {
    double sum = 0;
    for (std::size_t a = 0; a < k; ++a)
      for (std::size_t b = 0; b < k; ++b) sum += turn[i][a] * least.inverse[a * k + b] * turn[j][b];
    return sum;
  };
  for (std::size_t i = 0; i < k; ++i) {
    fit.coefficients.push_back(std::inner_product(turn[i].begin(), turn[i].end(), least.solved.begin(), 0.0));
    fit.scaled.push_back(least.solved[i]);
    fit.standard_uncertainties.push_back(std::sqrt(variance * spread(i, i)));
    fit.correlation.emplace_back();
    fit.scaled_covariance.emplace_back();
    for (std::size_t j = 0; j < k; ++j) {
      fit.correlation.back().push_back(spread(i, j) / std::sqrt(spread(i, i) * spread(j, j)));
      fit.scaled_covariance.back().push_back(variance * least.inverse[i * k + j]);
    }
  }
  return fit;
}

Prediction CalibrationFit::predict(double reading) const {
  if (model == FitModel::table) {
    // Straight between its points, level beyond them.
    const auto above = std::ranges::upper_bound(readings, reading);
    const auto i = static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(
        above - readings.begin(), 1, std::max<std::ptrdiff_t>(1, static_cast<std::ptrdiff_t>(readings.size()) - 1)));
    if (readings.size() == 1) return {reading, coefficients[0], standard_uncertainties[0]};
    const double share = std::clamp((reading - readings[i - 1]) / (readings[i] - readings[i - 1]), 0.0, 1.0);
    return {reading, (1 - share) * coefficients[i - 1] + share * coefficients[i],
            std::hypot((1 - share) * standard_uncertainties[i - 1], share * standard_uncertainties[i])};
  }
  const std::vector<double> row = row_of(model, (reading - centre) / scale);
  Prediction prediction{.at = reading};
  double variance = 0;
  for (std::size_t i = 0; i < scaled.size(); ++i) {
    prediction.correction += scaled[i] * row[i];
    for (std::size_t j = 0; j < scaled.size(); ++j) variance += row[i] * row[j] * scaled_covariance[i][j];
  }
  prediction.standard_uncertainty = std::isnan(variance) ? variance : std::sqrt(std::max(0.0, variance));
  return prediction;
}

namespace {

struct PointColumn {
  std::string name;
  std::string unit_text = {};  // in brackets behind the name
  const Unit* unit = nullptr;  // that a bare number is in
};

PointColumn point_column(std::string_view heading) {
  const auto bracket = heading.find_first_of("([");
  PointColumn column{.name = small_letters(trimmed(heading.substr(0, bracket)))};
  if (bracket != std::string_view::npos)
    column.unit_text = trimmed(heading.substr(bracket + 1, heading.find_first_of(")]", bracket) - bracket - 1));
  return column;
}

// What a cell says, in the unit that is shown.
Result<double> point_value(std::string_view cell, const PointColumn& column, const Unit* shown) {
  auto number = parse_number(cell);
  if (!shown || (number && !column.unit)) return number;
  const bool is_difference = column.name == "uncertainty";
  if (number) {
    const Unit& own = *column.unit;
    return is_difference ? *number * own.scale / shown->scale : shown->from_base(own.to_base(*number));
  }
  const bool kelvin = is_difference && shown->dimension == Dimension::temperature;
  const auto quantity = parse_quantity(cell, kelvin ? Dimension::temperature_difference : shown->dimension);
  if (!quantity) return quantity.problem();
  return is_difference ? quantity->base / shown->scale : shown->from_base(quantity->base);
}

bool are_numbers(const std::vector<std::string_view>& cells, const Unit* shown) {
  return std::ranges::all_of(cells, [&](std::string_view cell) { return bool(point_value(cell, {"reading"}, shown)); });
}

// Of a row that no header stands above: numbers may have nothing but spaces between them.
std::vector<std::string_view> bare_cells(std::string_view line) {
  auto spaced = cells_of(line, ' ');
  return spaced.size() > 1 && are_numbers(spaced, nullptr) ? spaced : cells_of(line, separator_of(line));
}

// The columns of a heading, or what is wrong with it.
Result<std::vector<PointColumn>> point_columns(std::string_view line, const Unit* shown) {
  std::vector<PointColumn> columns;
  for (const std::string_view cell : cells_of(line, separator_of(line))) columns.push_back(point_column(cell));
  std::string first_unit;
  for (const char* wanted : {"reference", "reading", "uncertainty"}) {
    const auto column = std::ranges::find(columns, wanted, &PointColumn::name);
    if (column == columns.end() && wanted != std::string_view("uncertainty"))
      return Problem{translated("there is no column \"{}\"", wanted),
                     translated("rows of reference and reading, or a header of these names"),
                     {.column = 1}};
    if (column == columns.end() || column->unit_text.empty()) continue;
    if (shown) column->unit = unit_named(column->unit_text, shown->dimension);
    if (shown && !column->unit)
      return Problem{translated("\"{}\" is no unit of these points", column->unit_text),
                     translated("a unit such as {}", shown->symbol),
                     {.column = 1}};
    if (!shown && !first_unit.empty() && first_unit != column->unit_text)
      return Problem{translated("the columns are in \"{}\" and in \"{}\"", first_unit, column->unit_text),
                     translated("one unit for all of them"),
                     {.column = 1}};
    first_unit = column->unit_text;
  }
  return columns;
}

}  // namespace

Result<std::vector<CalibrationPoint>> read_calibration_points(std::string_view text, const Unit* shown) {
  std::vector<CalibrationPoint> points;
  std::vector<PointColumn> columns;
  bool is_bare = false;
  Rows rows(text);
  std::string_view line;
  while (rows.next(line)) {
    if (trimmed(line).empty() || trimmed(line).front() == '#') continue;
    if (columns.empty()) {
      const auto first = bare_cells(line);
      is_bare = first.size() <= 3 && are_numbers(first, shown);
      if (is_bare) {
        columns = {{"reference"}, {"reading"}, {"uncertainty"}};
        columns.resize(std::max(first.size(), std::size_t{2}));
      } else {
        auto named = point_columns(line, shown);
        if (!named) {
          Problem problem = named.problem();
          problem.place.line = rows.line();
          return problem;
        }
        columns = std::move(*named);
        continue;
      }
    }
    const auto cells = is_bare ? bare_cells(line) : cells_of(line, separator_of(line));
    CalibrationPoint point{};
    for (std::size_t i = 0; i < columns.size(); ++i) {
      const std::string& name = columns[i].name;
      double* into = name == "reference"     ? &point.reference
                     : name == "reading"     ? &point.reading
                     : name == "uncertainty" ? &point.uncertainty
                                             : nullptr;
      if (!into) continue;
      const auto value = i < cells.size() ? point_value(cells[i], columns[i], shown) : Result<double>(Problem{});
      if (!value)
        return Problem{translated("\"{}\" is no number", i < cells.size() ? cells[i].substr(0, 30) : ""),
                       translated("the {}", name),
                       {.line = rows.line(),
                        .column = i < cells.size() ? static_cast<int>(cells[i].data() - line.data()) + 1
                                                   : static_cast<int>(line.size()) + 1}};
      *into = *value;
    }
    if (point.uncertainty < 0)
      return Problem{
          translated("an uncertainty below zero"), translated("a standard uncertainty"), {.line = rows.line()}};
    points.push_back(point);
  }
  if (points.empty())
    return Problem{translated("there are no points"), translated("a row a point: reference and reading")};
  return points;
}

}  // namespace fair_gauge
