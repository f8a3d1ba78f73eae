// The links that chains are made of: sensor transfers, front ends, converters, corrections, units.
#pragma once

#include <cmath>
#include <memory>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "chain/link.h"
#include "chain/transfer_law.h"
#include "parts/part.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// What a part's sheet allows it to be off by, at one value of its quantity.
struct SheetAccuracy {
  double half_width = 0;  ///< the larger where the two sides differ
  Basis basis = Basis::maximum;
  std::string words;  ///< "±1 °C maximum, −40…125 °C"
};
/// The band that covers `value`, or the nearest one; of several for other readings beside it the widest. Nothing if the
/// sheet states none, or only what the law's numbers may be off by.
std::optional<SheetAccuracy> sheet_accuracy(const PartQuantity& quantity, double value);

/// What the sheet allows, as a source of a budget. \param proven  readings between which a calibration has replaced the
/// sheet: none of it is left there, beyond them what an unproven slope may do
Source accuracy_source(const std::string& name, const PartQuantity& quantity, double value,
                       const std::optional<Range>& proven);

/// A voltage that others share: how well it is known, and under which name it is off for all of them together.
struct SharedVoltage {
  double volts;
  double half_width;  ///< relative
  std::string cause;
  double later = 0;  ///< relative; how much of half_width is of temperature and time, not of this moment
};

/// Physical quantity ↔ sensor output.
class SensorLink final : public Link {
 public:
  /// A sensor of which one number of the law is off by all that is allowed.
  struct Specimen {
    std::string name;  ///< of the number
    double share;      ///< that it is off by
    TransferLaw law;
  };
  struct Setup {
    TransferLaw law;
    PartQuantity range;
    std::vector<Specimen> specimens;             ///< one for each number of the law that the sheet lets be off
    std::optional<Range> proven;                 ///< where a calibration takes the place of the sheet's accuracy
    std::optional<SharedVoltage> supply;         ///< of a sensor whose output follows it
    std::shared_ptr<const struct Chain> beside;  ///< that measures the law's second quantity; null → the law's own word
  };
  explicit SensorLink(Setup setup) : setup_(std::move(setup)) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  double inverse_or_nan(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  void forward_off_block(std::span<double> values, std::span<const Column> deviations) const override;
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  std::string beyond(double outer, bool above) const;
  Source source_of(const Specimen& specimen, double inner) const;
  Setup setup_;
};

/// A voltage or current ↔ a voltage in proportion to it, with an offset: load resistor, level divider, amplifier.
class GainLink final : public Link {
 public:
  struct Tolerance {
    std::string name;
    double tolerance;  ///< relative half-width
    double weight;     ///< relative change of the gain for a relative change of this
    double later = 0;  ///< relative; how much of the tolerance is of temperature
  };
  struct Setup {
    double gain;  ///< output ÷ input, V/V or V/A
    double offset_v = 0;
    double offset_error_v = 0;
    double lowest_v = 0;
    double highest_v = 0;  ///< 0 → no limits stated
    std::vector<Tolerance> tolerances;
    std::string input_symbol;  ///< letter of the input in the arithmetic: "I"
    std::string input_unit;
    std::string words;  ///< what does it: "through 10 kΩ"
  };
  explicit GainLink(Setup setup) : setup_(std::move(setup)) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override { return (outer - setup_.offset_v) / setup_.gain; }
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  Setup setup_;
};

/// Sensor resistance ↔ voltage at the pin, with one fixed resistor between supply and ground.
class DividerLink final : public Link {
 public:
  struct Setup {
    SharedVoltage supply;
    double fixed_ohm;
    double fixed_tolerance;                                     ///< relative
    double fixed_later = 0;                                     ///< relative; how much of that is of temperature
    Position position;                                          ///< of the fixed resistor
    double lead_ohm = 0;                                        ///< in series with the sensor, known and taken off
    double fixed_lead_ohm = 0;                                  ///< in series with the fixed resistor, known
    double load_ohm = std::numeric_limits<double>::infinity();  ///< between pin and ground
    double lead_half_width = 0;                                 ///< ohms
  };
  explicit DividerLink(Setup setup) : setup_(std::move(setup)) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  void forward_off_block(std::span<double> values, std::span<const Column> deviations) const override;
  void inverse_continuous_block(std::span<double> values) const override;
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;
  /// Watts turned into heat in the sensor while it has this resistance.
  double sensor_watts(double sensor_ohm) const;

 private:
  double output(double supply, double fixed_ohm, double sensor_ohm) const;
  Setup setup_;
};

/// Voltage at the pin ↔ code of the converter. Also a counter of pulses, whose step is one pulse.
class ConverterLink final : public Link {
 public:
  struct Setup {
    Converter converter;
    SharedVoltage reference;
    double settling_error = 0;  ///< relative half-width: what the sampling capacitor may lack
    std::string at_top;         ///< what the top code means for this sensor: "the sensor is open"
    std::string at_bottom;      ///< and the lowest code; both empty → nothing can be said
    std::string counts;         ///< what is counted without a reference, "pulses" or "raw"; empty → a converter
  };
  explicit ConverterLink(Setup setup);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  void forward_off_block(std::span<double> values, std::span<const Column> deviations) const override;
  void inverse_continuous_block(std::span<double> values) const override;
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;
  double step_v() const { return span_v_ / divisor_; }
  double lowest_code() const { return lowest_; }
  double largest_code() const { return largest_; }
  /// The input at which the codes end, volts.
  double span_v() const { return span_v_; }
  bool counts_pulses() const { return !setup_.counts.empty(); }
  const std::string& counts() const { return setup_.counts; }

 private:
  Setup setup_;
  double span_v_;
  double divisor_;
  double lowest_;
  double largest_;
};

/// Code of the converter ↔ the number as the firmware reports it: shifted up, or scaled to more bits.
class ReportLink final : public Link {
 public:
  explicit ReportLink(const Converter& converter);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  int shift_;
  int bits_;
  Justification justification_;
};

/// What somebody else's firmware made of a code: code of the converter (inner) ↔ the value that arrives (outer).
class FirmwareLink final : public Link {
 public:
  struct Setup {
    std::vector<LinkPointer> links;  ///< between the compensated value and the code, from the value's side
    const Unit* unit;                ///< of the value that arrives
    int decimals;
    double lowest_code, largest_code;
  };
  explicit FirmwareLink(Setup setup) : setup_(std::move(setup)) {}
  /// Rounded to the decimals that arrive.
  Result<double> forward(double inner) const override;
  /// Between two codes where the decimals are finer than a step.
  Result<double> inverse(double outer) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  Setup setup_;
};

/// A sensor of which only its readings are seen: the value ↔ the value, off by what its sheet allows.
class ReadingLink final : public Link {
 public:
  /// \param range   what is promised; without an accuracy what nobody knows
  /// \param proven  readings between which a calibration has replaced the sheet
  ReadingLink(std::string source, PartQuantity range, std::optional<Range> proven)
      : source_(std::move(source)), range_(std::move(range)), proven_(std::move(proven)) {}
  Result<double> forward(double inner) const override { return inner; }
  /// A problem far outside the part's range: what libraries send when nothing answered.
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override {
    return {accuracy_source(source_, range_, inner, proven_)};
  }
  double forward_off(double inner, std::span<const double> deviations) const override {
    return deviations.empty() ? inner : inner + deviations[0];
  }
  double inverse_continuous(double outer) const override { return outer; }
  std::vector<TraceLine> explain(double, const NumberStyle&) const override { return {}; }

 private:
  std::string source_;
  PartQuantity range_;
  std::optional<Range> proven_;
};

/// A count of the last decimal (inner) ↔ the number with its decimals (outer).
class DecimalsLink final : public Link {
 public:
  /// \param decimals  that are behind the decimal mark of the outer number
  explicit DecimalsLink(int decimals) : unit_(std::pow(10.0, decimals)) {}
  Result<double> forward(double inner) const override { return inner / unit_; }
  Result<double> inverse(double outer) const override { return outer * unit_; }
  std::vector<TraceLine> explain(double, const NumberStyle&) const override { return {}; }

 private:
  double unit_;
};

/// Base units (inner) ↔ steps of the last decimal of a value that arrives in some unit (outer), not rounded.
class ArrivingUnitLink final : public Link {
 public:
  ArrivingUnitLink(const Unit& unit, int decimals) : unit_(unit), steps_(std::pow(10.0, decimals)) {}
  Result<double> forward(double inner) const override { return unit_.from_base(inner) * steps_; }
  Result<double> inverse(double outer) const override { return unit_.to_base(outer / steps_); }
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  const Unit& unit_;
  double steps_;  // to one unit
};

/// Corrected value (inner) ↔ value as compensated (outer): reference − reading as a polynomial of the reading.
class CorrectionLink final : public Link {
 public:
  /// \param contributions    what else may be off at this place
  /// \param due_days  until the next calibration, for what drifts away meanwhile; 0 → a year
  explicit CorrectionLink(Correction correction, std::string unit,
                          std::vector<UncertaintyContribution> contributions = {}, double due_days = 0)
      : correction_(std::move(correction)),
        unit_(std::move(unit)),
        contributions_(std::move(contributions)),
        due_days_(due_days) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override { return outer + correction_at(outer); }
  void forward_off_block(std::span<double> values, std::span<const Column> deviations) const override;
  void inverse_continuous_block(std::span<double> values) const override;
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  bool is_constant() const { return correction_.table.empty() && correction_.coefficients.size() <= 1; }
  double correction_at(double reading) const;
  double uncertainty_at(double reading) const;
  Correction correction_;
  std::string unit_;
  std::vector<UncertaintyContribution> contributions_;
  double due_days_;
};

/// Shown number (inner) ↔ base units (outer).
class UnitLink final : public Link {
 public:
  explicit UnitLink(const Unit& unit) : unit_(unit) {}
  Result<double> forward(double inner) const override { return unit_.to_base(inner); }
  Result<double> inverse(double outer) const override { return unit_.from_base(outer); }
  std::vector<std::pair<std::string, std::string>> formula(const std::string& outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  const Unit& unit_;
};

}  // namespace fair_gauge
