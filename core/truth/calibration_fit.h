// Fits a correction to calibration points: reference − reading as a function of the reading.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/enum_names.h"
#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge {

struct CalibrationPoint {
  double reference;        ///< base units
  double reading;          ///< base units
  double uncertainty = 0;  ///< standard, of the difference of the two; 0 → not stated
};

enum class FitModel {
  offset,  ///< one number for all readings
  gain,    ///< in proportion to reading − origin
  line,
  quadratic,
  cubic,
  table
};  ///< through every point, straight between them

std::span<const EnumName<FitModel>> enum_names(FitModel);

struct Prediction {
  double at = 0;
  double correction = 0;
  double standard_uncertainty = 0;
};

struct CalibrationFit {
  FitModel model = FitModel::line;
  double origin = 0;
  std::vector<double>
      coefficients;  ///< of (reading − origin), powers ascending; of a table the corrections of its points
  std::vector<double> standard_uncertainties;
  std::vector<std::vector<double>> correlation;
  std::vector<double> residuals;  ///< of the corrections, in the order of the points
  double residual_sd = 0;
  int dof = 0;                   ///< degrees of freedom
  std::vector<double> readings;  ///< of a table: where its corrections belong, ascending
  // The same polynomial in (reading − centre) ÷ scale, where its numbers are of one size: what predictions are made
  // from.
  double centre = 0;
  double scale = 1;
  std::vector<double> scaled;
  std::vector<std::vector<double>> scaled_covariance;

  /// The correction at a reading and its standard uncertainty.
  /// \source JCGM 100:2008, annex H.3.4
  Prediction predict(double reading) const;
};

/// Least squares, weighted where every point states its uncertainty: then the covariance comes from those, else from
/// the residuals. Without a degree of freedom and without uncertainties the standard uncertainties are not numbers.
/// \returns the fit, or what is lacking: points, or readings far enough apart
/// \source JCGM 100:2008, annex H.3: y1 = −0.1712, s 0.0029, y2 = 0.002 18, s 0.000 67, r −0.930, s 0.0035
Result<CalibrationFit> fit_calibration(FitModel model, const std::vector<CalibrationPoint>& points, double origin = 0);

/// CSV with the columns reference, reading and, if known, uncertainty; their unit may stand behind a name, in brackets.
/// \param shown  the points are wanted in it; units in the heading or behind a number are understood. Null → there are
/// only numbers, all in one unit
/// \returns the points, or the line and column that are not understood
Result<std::vector<CalibrationPoint>> read_calibration_points(std::string_view text, const Unit* shown = nullptr);

}  // namespace fair_gauge
