#include "truth/model_choice.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "language/translation.h"
#include "quantity/distributions.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr FitModel all_models[] = {FitModel::offset,    FitModel::gain,  FitModel::line,
                                   FitModel::quadratic, FitModel::cubic, FitModel::table};

std::size_t unknowns(FitModel model, std::size_t points) {
  switch (model) {
    case FitModel::offset:
    case FitModel::gain: return 1;
    case FitModel::line: return 2;
    case FitModel::quadratic: return 3;
    case FitModel::cubic: return 4;
    case FitModel::table: return points;
  }
  return 1;
}

bool weighted(const std::vector<CalibrationPoint>& points) {
  return std::ranges::all_of(points, [](const CalibrationPoint& point) { return point.uncertainty > 0; });
}

// Akaike's criterion, its constant terms left out.
std::optional<double> criterion_of(const CalibrationFit& fit, const std::vector<CalibrationPoint>& points) {
  const auto n = static_cast<double>(points.size());
  const bool known = weighted(points);
  const double k =
      static_cast<double>(unknowns(fit.model, points.size())) + (known ? 0 : 1);  // the scatter is an unknown too
  if (fit.model == FitModel::table || n - k - 1 <= 0) return std::nullopt;
  double sum = 0;
  for (std::size_t i = 0; i < points.size(); ++i)
    sum += known ? std::pow(fit.residuals[i] / points[i].uncertainty, 2) : std::pow(fit.residuals[i], 2);
  if (!known && !(sum > 0)) return -std::numeric_limits<double>::infinity();
  return (known ? sum : n * std::log(sum / n)) + 2 * k + 2 * k * (k + 1) / (n - k - 1);
}

std::optional<double> left_out_of(FitModel model, const std::vector<CalibrationPoint>& points, double origin) {
  double sum = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    auto others = points;
    others.erase(others.begin() + static_cast<std::ptrdiff_t>(i));
    const auto fit = fit_calibration(model, others, origin);
    if (!fit || others.size() < unknowns(model, others.size())) return std::nullopt;
    sum += std::pow(points[i].reference - points[i].reading - fit->predict(points[i].reading).correction, 2);
  }
  return std::sqrt(sum / static_cast<double>(points.size()));
}

// The miss of each point by the fit of the others, in that fit's own standard deviations.
std::vector<std::size_t> outliers_of(FitModel model, const std::vector<CalibrationPoint>& points, double origin) {
  const auto n = points.size();
  const auto k = unknowns(model, n);
  std::vector<std::size_t> found;
  if (model == FitModel::table || n < k + 3) return found;
  const double dof = static_cast<double>(n - 1 - k);
  const double limit = student_quantile(dof, 1 - 0.01 / 2 / static_cast<double>(n));
  for (std::size_t i = 0; i < n; ++i) {
    auto others = points;
    for (CalibrationPoint& point : others) point.uncertainty = 0;  // judged by the scatter that is there
    others.erase(others.begin() + static_cast<std::ptrdiff_t>(i));
    const auto fit = fit_calibration(model, others, origin);
    if (!fit || fit->residual_sd <= 0) continue;
    const Prediction expected = fit->predict(points[i].reading);
    const double miss = points[i].reference - points[i].reading - expected.correction;
    if (std::abs(miss) > limit * std::hypot(fit->residual_sd, expected.standard_uncertainty)) found.push_back(i);
  }
  return found;
}

const char* words_of(FitModel model) {
  switch (model) {
    case FitModel::offset: return translated("One offset");
    case FitModel::gain: return translated("A slope through the origin");
    case FitModel::line: return translated("A line");
    case FitModel::quadratic: return translated("A parabola");
    case FitModel::cubic: return translated("A cubic");
    case FitModel::table: return translated("A table");
  }
  return "";
}

// Two points that read alike within what is known of them, and whose references say otherwise: the sensor had not
// followed, or a number is wrong. \returns the worst such pair
std::optional<std::pair<std::size_t, std::size_t>> contradiction(const std::vector<CalibrationPoint>& points,
                                                                 const Range& wanted, double tolerance) {
  std::optional<std::pair<std::size_t, std::size_t>> found;
  double worst = 0;
  for (std::size_t i = 0; i < points.size(); ++i)
    for (std::size_t j = i + 1; j < points.size(); ++j) {
      const double chance = std::hypot(points[i].uncertainty, points[j].uncertainty),
                   read = std::abs(points[i].reading - points[j].reading),
                   said = std::abs(points[i].reference - points[j].reference);
      if (read > std::max(2 * chance, 0.01 * (wanted.to - wanted.from)) || said < 3 * read) continue;
      if (said > std::max(3 * chance, tolerance) && said > worst) worst = said, found = std::pair(i, j);
    }
  return found;
}

// Of the models that leave a degree of freedom, the simplest whose criterion is within two of the best; where there are
// too few points for a criterion, the simplest that the points allow.
void recommend(ModelChoice& choice, const std::vector<CalibrationPoint>& points, double tolerance) {
  const FitModel in_order[] = {FitModel::offset, FitModel::line, FitModel::quadratic, FitModel::cubic};
  const auto report = [&](FitModel model) {
    return static_cast<std::size_t>(std::ranges::find(choice.reports, model, &ModelReport::model) -
                                    choice.reports.begin());
  };
  double best = std::numeric_limits<double>::infinity();
  for (const FitModel model : in_order)
    if (const auto& each = choice.reports[report(model)].criterion) best = std::min(best, *each);
  for (const FitModel model : in_order) {
    const ModelReport& each = choice.reports[report(model)];
    if (!each.fit) continue;
    if (std::isfinite(best) ? each.criterion && *each.criterion <= best + 2 : each.criterion.has_value()) {
      choice.recommended = report(model);
      choice.why =
          translated("{} serves: a further coefficient would not explain more than chance does.", words_of(model));
      return;
    }
  }
  // One, two or three points: an offset unless its misses matter.
  const ModelReport& offset = choice.reports[report(FitModel::offset)];
  const bool enough = !offset.fit || points.size() < 2 || offset.worst_residual <= tolerance / 10;
  const FitModel model = enough || !choice.reports[report(FitModel::line)].fit ? FitModel::offset : FitModel::line;
  choice.recommended = report(model);
  choice.why =
      enough ? (points.size() == 1
                    ? translated("One point: an offset is all that it can tell.")
                    : translated("The points differ by less than a tenth of the allowed error: an offset does."))
             : translated(
                   "The points differ by more than an offset explains: a line, and a further point would prove it.");
}

// A point that is missed by far more than is known of it, and by more than matters: the sensor had not followed, or a
// number is wrong. The outliers by scatter want more points than most people take.
void warn_of_missed(ModelChoice& choice, const std::vector<CalibrationPoint>& points, double tolerance,
                    const Unit* unit) {
  constexpr double far_off = 4;
  const auto& fit = choice.reports[choice.recommended].fit;
  if (!fit || !weighted(points)) return;
  std::size_t worst = 0;
  const auto times = [&](std::size_t i) { return std::abs(fit->residuals[i]) / points[i].uncertainty; };
  for (std::size_t i = 1; i < points.size(); ++i)
    if (times(i) > times(worst)) worst = i;
  const double miss = std::abs(fit->residuals[worst]);
  if (times(worst) < far_off || miss < tolerance / 3) return;
  choice.warnings.push_back(
      translated("The point at {:.4g}{} is missed by {:.3g}, {:.0f} times what is known of it: repeat it, or drop it.",
                 unit ? unit->from_base(points[worst].reference) : points[worst].reference,
                 unit ? fmt::format(" {}", unit->symbol) : "", unit ? miss / unit->scale : miss, times(worst)));
}

void warn(ModelChoice& choice, const std::vector<CalibrationPoint>& points, const Range& wanted, const Unit* unit) {
  const ModelReport& chosen = choice.reports[choice.recommended];
  const auto [low, high] = std::ranges::minmax(points, {}, &CalibrationPoint::reading);
  const double span = wanted.to - wanted.from;
  if (chosen.fit && chosen.fit->dof == 0 && chosen.model != FitModel::offset && chosen.model != FitModel::table)
    choice.warnings.push_back(translated(
        "The curve passes through every point, so the points say nothing of how well it fits: take one more."));
  if (chosen.model == FitModel::offset && points.size() == 1)
    choice.warnings.push_back(translated(
        "One point proves an offset there and nothing elsewhere: a second one near the other end would show the "
        "slope."));
  const auto outside = [&](double from, double to) {
    choice.warnings.push_back(translated("From {:.4g} to {:.4g}{} there was no point: there the correction is a guess.",
                                         unit ? unit->from_base(from) : from, unit ? unit->from_base(to) : to,
                                         unit ? fmt::format(" {}", unit->symbol) : ""));
  };
  if (chosen.model != FitModel::offset || points.size() > 1) {
    if (low.reading > wanted.from + 0.1 * span) outside(wanted.from, low.reading);
    if (high.reading < wanted.to - 0.1 * span) outside(high.reading, wanted.to);
  }
  if (points.size() >= 3 && chosen.model != FitModel::offset && high.reading - low.reading < 0.2 * span)
    choice.warnings.push_back(translated("The points lie close together: their slope is known badly."));
  if (!weighted(points) &&
      std::ranges::any_of(points, [](const CalibrationPoint& point) { return point.uncertainty > 0; }))
    choice.warnings.push_back(translated("Only some points state their uncertainty: all are weighed alike."));
}

}  // namespace

Result<ModelChoice> choose_model(const std::vector<CalibrationPoint>& points, double origin, const Range& wanted,
                                 double tolerance, const Unit* unit) {
  if (points.empty())
    return Problem{translated("there are no points yet"),
                   translated("a point: a reference and what the channel read then")};
  ModelChoice choice;
  for (const FitModel model : all_models) {
    ModelReport report{.model = model};
    if (auto fit = fit_calibration(model, points, origin)) {
      for (const double residual : fit->residuals)
        report.worst_residual = std::max(report.worst_residual, std::abs(residual));
      report.criterion = criterion_of(*fit, points);
      report.left_out = left_out_of(model, points, origin);
      report.fit = std::move(*fit);
    } else {
      report.why_not = fit.problem().wrong;
    }
    choice.reports.push_back(std::move(report));
  }
  recommend(choice, points, tolerance);
  const auto pair = contradiction(points, wanted, tolerance);
  if (pair) {
    const auto number = [&](double value) { return unit ? unit->from_base(value) : value; };
    const CalibrationPoint &one = points[pair->first], &other = points[pair->second];
    choice.recommended = 0;  // a steep line through them would be no calibration
    choice.why = translated(
        "Two points read {:.5g} and {:.5g}{}, as good as the same, where the reference said {:.5g} and {:.5g}: the "
        "sensor had not followed, or one of the numbers is wrong. Drop that point.",
        number(one.reading), number(other.reading), unit ? fmt::format(" {}", unit->symbol) : "", number(one.reference),
        number(other.reference));
  }
  choice.outliers = outliers_of(choice.reports[choice.recommended].model, points, origin);
  if (!pair && choice.outliers.empty()) warn_of_missed(choice, points, tolerance, unit);
  warn(choice, points, wanted, unit);
  return choice;
}

Correction correction_of(const CalibrationFit& fit, const std::vector<CalibrationPoint>& points,
                         double reference_standard, std::string on, std::string reference) {
  Correction correction;
  correction.origin = fit.origin;
  correction.on = std::move(on);
  correction.reference = std::move(reference);
  const auto [low, high] = std::ranges::minmax(points, {}, &CalibrationPoint::reading);
  correction.covered = Range{low.reading, high.reading};
  double own = reference_standard;
  if (fit.model == FitModel::table) {
    double worst = 0;
    for (std::size_t i = 0; i < fit.readings.size(); ++i) {
      correction.table.push_back({fit.readings[i], fit.coefficients[i]});
      if (std::isfinite(fit.standard_uncertainties[i])) worst = std::max(worst, fit.standard_uncertainties[i]);
    }
    own = std::hypot(own, worst);
  } else {
    correction.coefficients =
        fit.model == FitModel::gain ? std::vector<double>{0, fit.coefficients.front()} : fit.coefficients;
    const bool known = std::ranges::all_of(fit.standard_uncertainties, [](double u) { return std::isfinite(u); });
    if (known) {
      const std::size_t n = correction.coefficients.size(), first = n - fit.coefficients.size();
      correction.covariance.assign(n, std::vector<double>(n, 0.0));
      for (std::size_t i = first; i < n; ++i)
        for (std::size_t j = first; j < n; ++j)
          correction.covariance[i][j] = fit.correlation[i - first][j - first] * fit.standard_uncertainties[i - first] *
                                        fit.standard_uncertainties[j - first];
    }
    // What the model did not follow between the points is there again between them.
    if (fit.dof > 0) own = std::hypot(own, fit.residual_sd);
  }
  // Only what was found from the scatter of a few points has few degrees of freedom; a stated uncertainty has those of
  // its statement, which nobody has limited. \source JCGM 100:2008, G.4.1
  const bool stated = std::ranges::all_of(points, [](const CalibrationPoint& point) { return point.uncertainty > 0; });
  if (!stated && fit.dof > 0 && fit.residual_sd > 0 && own > 0)
    correction.dof = std::min(1e9, fit.dof * std::pow(own / fit.residual_sd, 4));
  correction.standard_uncertainty = own;
  const std::size_t n = points.size();
  correction.note = n == 1 ? translated("{} by 1 point", translated_name(fit.model))
                           : translated("{} by {} points", translated_name(fit.model), n);
  if (!correction.on.empty()) correction.note += ", " + correction.on;
  return correction;
}

Decision decide(double error, double expanded, double allowed) {
  if (std::abs(error) + expanded <= allowed) return Decision::passes;
  return std::abs(error) - expanded > allowed ? Decision::fails : Decision::undecided;
}

}  // namespace fair_gauge
