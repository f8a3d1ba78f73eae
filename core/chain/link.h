// One conversion between two neighbouring stages of a chain, both ways, with what may be off in it.
//
// "Inner" is the side of the world, "outer" the side of the raw number. A chain is a row of links; a new kind of
// conversion is a new class here and one line in build_*.cpp.
#pragma once

#include <limits>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "quantity/number_format.h"
#include "quantity/result.h"

namespace fair_gauge {

enum class Distribution { rectangular, normal, triangular };

/// What kind of thing a source is; rules look at this, never at its name.
enum class SourceKind {
  other,
  noise,         ///< another value at every reading
  quantisation,  ///< within one step
  unknown,       ///< that nobody states: a sheet without an accuracy
};

/// Values between which a sheet states an accuracy, in base units.
struct StatedFor {
  double from = 0;
  double to = 0;
  Dimension dimension = Dimension::number;

  bool operator==(const StatedFor&) const = default;
};

/// One thing that may be off, in the unit its link gives it. Sources of one non-empty cause are off together.
struct Source {
  std::string name;
  std::string cause;  ///< shared cause, such as "rail 3v3"; empty → on its own
  Distribution distribution = Distribution::rectangular;
  double width = 0;         ///< half-width, or standard deviation if normal
  std::string unit;         ///< of width, for people
  bool systematic = false;  ///< off by the same at every reading of this specimen, so that a calibration sees it
  double dof = std::numeric_limits<double>::infinity();  ///< degrees of freedom of width
  SourceKind kind = SourceKind::other;
  /// Of a systematic one: how much of width comes after the calibration and is not seen by it (temperature, drift).
  double later = 0;
  /// The chain that measures what this is the error of (a cold junction): its budget takes the place of width.
  std::shared_ptr<const struct Chain> beside = nullptr;
  double beside_at = 0;  ///< what that chain reads, base units
  /// Where the sheet states the width, for a value that lies elsewhere: that of the nearest place is taken.
  std::optional<StatedFor> stated_for = std::nullopt;
  /// Standard uncertainty in the unit of width.
  /// \source JCGM 100, 4.3.7 and 4.3.9: half-width ÷ √3 or √6
  double standard() const;
};

/// One line of arithmetic with its numbers put in.
struct TraceLine {
  std::string symbol;      ///< of the result, in the field's notation
  std::string expression;  ///< "1 873 × 3.300 V ÷ 4 096"
  std::string result;      ///< "1.5090 V"
  double value = 0;
  std::string note;
};

/// One deviation for each of a block of readings.
using Column = std::span<const double>;

class Link {
 public:
  virtual ~Link() = default;

  /// From the world's side to the raw side; a problem where the sensor or converter gives no usable output.
  virtual Result<double> forward(double inner) const = 0;

  /// From the raw side back. Where information is lost (an end stop, two roots) the problem names the region.
  virtual Result<double> inverse(double outer) const = 0;

  /// inverse() where nobody reads the words of its problem, as over every raw number: not a number stands for it.
  virtual double inverse_or_nan(double outer) const;

  /// What may be off while `inner` is the value on the world's side.
  virtual std::vector<Source> sources(double /*inner*/) const { return {}; }

  /// forward() of a specimen that is off by `deviations`, in the order and units of sources(). Not rounded to codes,
  /// so that it can be differentiated. Not a number where forward() has a problem.
  virtual double forward_off(double inner, std::span<const double> deviations) const;

  /// inverse() without its checks of range, for values in between codes.
  virtual double inverse_continuous(double outer) const;

  /// forward_off() of a whole block in place, for many specimens at once. \param deviations  a column for each source,
  /// as long as `values`
  virtual void forward_off_block(std::span<double> values, std::span<const Column> deviations) const;
  /// inverse_continuous() of a whole block in place.
  virtual void inverse_continuous_block(std::span<double> values) const;

  /// inverse_continuous() as steps of an expression of `outer`, the last of which is the result; empty where there is
  /// none (a search, a table). Numbers, + − * / ^, ?:, comparisons, ln, sqrt.
  virtual std::vector<std::pair<std::string, std::string>> formula(const std::string& /*outer*/) const { return {}; }

  /// The arithmetic of inverse(outer), ready to be read.
  virtual std::vector<TraceLine> explain(double outer, const NumberStyle& style) const = 0;
};

using LinkPointer = std::shared_ptr<const Link>;

}  // namespace fair_gauge
