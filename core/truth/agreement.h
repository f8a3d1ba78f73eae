// Which of several is right: sensors that see the same thing, held against one another.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// What one sensor says, and how far it may be off.
struct Estimate {
  std::string name;
  double value = 0;             ///< base units
  double standard = 0;          ///< standard uncertainty, of everything
  bool lacks_accuracy = false;  ///< that is the least: of something nobody has said how far it may be off
};

/// Two of them.
struct PairAgreement {
  std::size_t one = 0;
  std::size_t other = 0;
  double difference = 0;  ///< one − other
  double expanded = 0;    ///< of the difference, 95 %
  bool agrees = true;     ///< |difference| ≤ expanded
  bool is_known = true;   ///< expanded is all of it; else two that do not agree may do so all the same
};

struct GroupAgreement {
  std::vector<PairAgreement> pairs;
  double reference = 0;           ///< weighted by the inverse of their covariance
  double reference_standard = 0;  ///< widened by the Birge ratio where the group does not hold together
  double chi_squared = 0;
  int dof = 0;
  double probability = 1;  ///< of a chi-squared as large, if all uncertainties are right
  bool consistent = true;  ///< at 5 %
  std::optional<std::size_t>
      outlier;  ///< without which the others agree; nothing if none or not only one, or not known
  std::optional<std::size_t> unknown;  ///< the first whose uncertainty is only the least
  double outlier_off = 0;              ///< from the others' reference
};

/// \param shared  covariance of each two of them by what they have in common (a rail, a reference, a cold junction),
/// square; its diagonal is not looked at; empty → they share nothing
/// \returns what they say together; two or more with an uncertainty above zero are needed
/// \source chi-squared test of a weighted mean; Birge ratio. Check: 10.0 ± 0.1 and 10.4 ± 0.1 → mean 10.2, chi² 8
Result<GroupAgreement> compare_estimates(const std::vector<Estimate>& estimates,
                                         const std::vector<std::vector<double>>& shared = {});

/// A series of readings. Seconds ascend.
struct Series {
  std::vector<double> seconds;
  std::vector<double> values;
};

/// By how many seconds `late` lags behind `early`: where their changes fit best, up to ±`most_s`.
/// \returns nothing where one of them does not change
std::optional<double> time_lag(const Series& early, const Series& late, double most_s);

/// The value of a series at a time, straight between its readings; nothing outside.
std::optional<double> value_at(const Series& series, double seconds);

/// y = offset + scale · x where both x and y are off: to make one sensor agree with another.
struct TwoWayLine {
  double scale = 1;
  double offset = 0;
  double scale_standard = 0;
  double offset_standard = 0;
  double residual = 0;  ///< standard deviation of y about the line
  double origin = 0;    ///< mean of x: offset + scale · origin is known best
};

/// \param variance_ratio  variance of y ÷ variance of x; 1 if both scatter alike
/// \source Deming regression; standard errors by leaving out one point after another (jackknife)
Result<TwoWayLine> fit_two_way(std::span<const double> x, std::span<const double> y, double variance_ratio = 1);

}  // namespace fair_gauge
