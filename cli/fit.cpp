// fit: a correction from calibration points, with its covariance.
#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

#include "command.h"
#include "files/file.h"
#include "quantity/quantity_text.h"
#include "truth/calibration_fit.h"

namespace fair_gauge::cli {
namespace {

struct FitOptions {
  std::string points;
  std::string model;
  std::string origin = "0";
  std::string predict;
  bool json = false;
};

// Numbers that are none, such as the uncertainty of a line through two points, are null in JSON.
Json numbers(const std::vector<double>& values) {
  Json list = Json::array();
  for (const double value : values) list.push_back(number_or_null(value));
  return list;
}

void run_fit(Session& session, const FitOptions& options) {
  const auto content = read_file(options.points);
  if (!content) return session.refuse(content.problem(), no_file);
  auto points = read_calibration_points(*content);
  if (!points) {
    Problem problem = points.problem();
    problem.place.file = options.points;
    return session.refuse(problem);
  }
  FitModel model = FitModel::line;
  for (const auto& entry : enum_names(FitModel{}))
    if (entry.name == options.model) model = entry.value;
  const auto origin = parse_number(options.origin);
  if (!origin) return session.refuse({"--origin: " + origin.problem().wrong, origin.problem().expected});
  const auto at = options.predict.empty() ? Result<std::vector<double>>(std::vector<double>{})
                                          : parse_quantity_list(options.predict, Dimension::number);
  if (!at) return session.refuse({"--predict: " + at.problem().wrong, at.problem().expected});
  const auto fit = fit_calibration(model, *points, *origin);
  if (!fit) {
    Problem problem = fit.problem();
    problem.place.file = options.points;
    return session.refuse(problem);
  }
  if (!options.json) {
    for (std::size_t i = 0; i < fit->coefficients.size(); ++i)
      std::cout << fmt::format("c{} = {:.6g} ± {:.2g}\n", i, fit->coefficients[i], fit->standard_uncertainties[i]);
    std::cout << fmt::format("residuals {:.3g} with {} degrees of freedom\n", fit->residual_sd, fit->dof);
    for (const double reading : *at) {
      const Prediction prediction = fit->predict(reading);
      std::cout << fmt::format("at {:g}: {:+.5g} ± {:.2g}\n", reading, prediction.correction,
                               prediction.standard_uncertainty);
    }
    return;
  }
  Json correlation = Json::array(), predict = Json::array();
  for (const auto& row : fit->correlation) correlation.push_back(numbers(row));
  for (const double reading : *at) {
    const Prediction prediction = fit->predict(reading);
    predict.push_back({{"at", reading},
                       {"correction", prediction.correction},
                       {"standard_uncertainty", number_or_null(prediction.standard_uncertainty)}});
  }
  Json answer = {{"model", options.model},
                 {"origin", fit->origin},
                 {"coefficients", numbers(fit->coefficients)},
                 {"standard_uncertainties", numbers(fit->standard_uncertainties)},
                 {"correlation", correlation},
                 {"residuals", numbers(fit->residuals)},
                 {"residual_sd", fit->residual_sd},
                 {"dof", fit->dof},
                 {"predict", predict}};
  if (!fit->readings.empty()) answer["readings"] = numbers(fit->readings);
  print_json(answer);
}

}  // namespace

void add_fit(Command& program, Session& session) {
  auto options = std::make_shared<FitOptions>();
  Command command =
      program.add("fit", "A correction from calibration points", [options, &session] { run_fit(session, *options); });
  command.option("--points", options->points, "CSV with reference,reading and perhaps uncertainty", Presence::required);
  command.choice("--model", options->model, {"offset", "gain", "line", "quadratic", "cubic", "table"},
                 "form of the correction", Presence::required);
  command.option("--origin", options->origin, "reading that the powers are counted from");
  command.option("--predict", options->predict, "readings to give the correction at: X,X");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
