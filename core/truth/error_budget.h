// How far a reading may be off, by what, and what would help most.
#pragma once

#include <limits>
#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// One line of a budget. Sources of one cause are one line, since they are off together.
struct Contribution {
  std::string name;
  StageName stage;  ///< where it enters the chain
  Distribution distribution;
  double width = 0;  ///< as stated, in `unit`
  std::string unit;
  double sensitivity = 0;                                ///< base units of the reading for one `unit`
  double standard = 0;                                   ///< |contribution| to the reading, base difference units
  double share = 0;                                      ///< of the combined variance, 0…1
  double dof = std::numeric_limits<double>::infinity();  ///< degrees of freedom
  SourceKind kind = SourceKind::other;
};

struct Budget {
  double at = 0;                    ///< the value in base units
  std::vector<Contribution> lines;  ///< largest first
  double known_bias = 0;            ///< reading − world that is known and not corrected (self-heating)
  double combined = 0;              ///< standard uncertainty
  double effective_dof = std::numeric_limits<double>::infinity();  ///< by Welch and Satterthwaite
  double coverage_factor = 2;                                      ///< for 95 %, from Student's t
  double expanded = 0;                                             ///< coverage_factor × combined
  double allowed = 1;                                              ///< the channel's tolerance
  double step = 0;                                                 ///< resolution: one converter step at this value

  /// The sheet states no accuracy, nobody gave a figure of their own, and no calibration has replaced it: what is
  /// computed is the least that the reading may be off.
  bool lacks_accuracy = false;
  /// Where it does: a calibration proves another place than this.
  bool is_calibrated_elsewhere = false;
  /// Where a sheet states its accuracy, when that is not here, nobody gave a figure of their own and no calibration
  /// proves this place: the reading may be off by more than is computed.
  std::optional<StatedFor> stated_for;

  /// Share of the allowed error used by known bias and expanded uncertainty together; 1 is all of it.
  double used() const { return (std::abs(known_bias) + expanded) / allowed; }
};

/// One source of a chain and what it does to the reading at a value, after what a calibration has corrected.
struct SourceEffect {
  Source source;
  StageName stage = StageName::world;
  std::string origin;      ///< the same for what several chains share: a rail, a converter's offset, a sensor
  double sensitivity = 0;  ///< base units of the reading for one unit of the source
  double effect = 0;       ///< signed, of one standard uncertainty
  double later = 0;        ///< the same of what came after a calibration, by a chance of its own
};

/// Every source of the chain; a source that another chain measures stands as that chain's own sources. Nothing where
/// the chain has no reading.
std::vector<SourceEffect> source_effects(const Chain& chain, double world);

/// Of a chain that is held against what its own sensor read at rest: those of that reading, as they move the first
/// input; noise is that of a mean.
std::vector<SourceEffect> source_effects_at_rest(const Chain& chain);

/// Whether two effects on readings of one sensor at two times are the same chance.
bool is_same_chance(const SourceEffect& one, const SourceEffect& other);

/// What several readings have in common: the covariance of two by the origins of their sources.
double shared_variance(const std::vector<SourceEffect>& one, const std::vector<SourceEffect>& other);

/// The covariances of several readings, square; the diagonal holds what each has in all.
std::vector<std::vector<double>> shared_by(const std::vector<std::vector<SourceEffect>>& readings);

/// Half-width of the interval that holds 95 %, in standard uncertainties.
/// \source JCGM 100:2008, table G.2: 12.71 for 1, 2.23 for 10, 1.96 for ∞ degrees of freedom
double coverage_factor_95(double dof);

/// How much the sensor of a divider warms itself while the world has a value; 0 where nothing is stated. Kelvin; known
/// to self_heating_unknown, relative half-width, as it depends on how it is mounted.
double self_heating(const Chain& chain, double world);
inline constexpr double self_heating_unknown = 0.3;

/// The noise that a chain itself explains.
struct ExplainedNoise {
  double standard = 0;     ///< one standard deviation, base units: that of part and converter, and rounding to steps
  bool is_stated = false;  ///< of the part or the converter; otherwise it is rounding alone, the least there can be
};
ExplainedNoise explained_noise(const Chain& chain, double world);

/// The budget of a chain at a value of its quantity.
/// Sensitivities are central differences of the reading by each source, through the whole chain. A calibration with a
/// covered range has seen the systematic errors of the chain; what its model cannot follow is left.
/// \source JCGM 100:2008, 5.1.3, annex G.4.1 and 5.2.2 (correlated inputs are added before squaring)
Result<Budget> error_budget(const Chain& chain, double world);

/// The same at even places of a range; places where the chain has no reading are left out. \param places  2 or more
std::vector<Budget> budget_over_range(const Chain& chain, double from, double to, int places);

/// A change to the bench that makes the reading better, and what it buys.
struct Improvement {
  std::string words;  ///< "A 0.1 % resistor"
  Bench bench;        ///< with the change made
  double used_before = 0;
  double used_after = 0;
};

/// The changes that buy most at this value, best first; those that buy less than one point in a hundred are left out.
/// Of a calibration, which is exact where its points lie, `used_after` is the greatest over the wanted range.
std::vector<Improvement> improvements(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                                      double world);

}  // namespace fair_gauge
