// What each cause foretells of a measurement, and which measurement tells the causes apart.
#pragma once

#include "diagnose/diagnose.h"

namespace fair_gauge {

/// Reads the result of a measurement: "1.80 V" of "pin", "0x60" of "identity".
/// \param id  of a NextMeasurement, not "second"
/// \returns base units, or what is wrong: a unit that does not belong, an id that is none
Result<double> measured_value(const std::string& id, std::string_view text);

/// What can be measured on one chain while its input is what the question says.
class Probes {
 public:
  /// \param of_arithmetic  the firmware's arithmetic is asked about, else what is wired, fitted or selected
  Probes(const Catalogue& catalogue, const Chain& chain, const Firmware& right, const Question& question,
         bool of_arithmetic);

  /// The measurements, without what is foretold.
  const std::vector<NextMeasurement>& all() const { return all_; }
  /// What a wrong chain makes of a measurement; nothing where it says nothing of it.
  std::optional<double> predict(const NextMeasurement& probe, const Firmware& wrong) const;
  /// How far a careful measurement of `value` may be off, one standard deviation.
  double standard(const NextMeasurement& probe, double value) const;

  /// How well a cause fits what was measured since, 0…1: the product over all of it.
  double fits(const Firmware& wrong) const;

  /// Fills in what the causes foretell and by how much each measurement tells them apart, most telling first; rewrites
  /// each cause's `next` where one tells it from the others.
  void foretell(Diagnosis& diagnosis) const;

 private:
  std::string text(const NextMeasurement& probe, double value) const;

  const Catalogue& catalogue_;
  const Chain& chain_;
  const Firmware& right_;
  const Question& question_;
  bool of_arithmetic_;
  std::vector<NextMeasurement> all_;
};

}  // namespace fair_gauge
