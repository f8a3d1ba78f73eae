// The links that chains are made of: sensor transfers, front ends, converters, corrections, units.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "chain/link.h"
#include "parts/part.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// How a sensor's output follows from its quantity: a pair of pure functions and the words for them.
struct TransferLaw {
  std::function<double(double)> output;    ///< of the quantity in base units
  std::function<double(double)> quantity;  ///< of the output; not a number where there is none
  std::function<std::vector<TraceLine>(double output, const NumberStyle&)> explain;
  Dimension output_dimension = Dimension::voltage;
  std::string name;     ///< "beta law"
  std::string caption;  ///< "B 3950 K, 10 kΩ at 25 °C"
};

/// The law of a part under its settings.
/// \param settings  over the part's own numbers; an unknown key is a problem
/// \returns a problem too where a number makes no sense (a slope of zero, a beta below zero)
Result<TransferLaw> transfer_law(const Part& part, const std::map<std::string, double>& settings);

/// What a part's sheet allows it to be off by, at one value of its quantity.
struct SheetAccuracy {
  double half_width = 0;
  Basis basis = Basis::maximum;
  std::string words;  ///< "±1 °C maximum, −40…125 °C"
};
/// The band that covers `value`, or the nearest one; nothing if the sheet states none.
std::optional<SheetAccuracy> sheet_accuracy(const PartQuantity& quantity, double value);

/// Physical quantity ↔ sensor output.
class SensorLink final : public Link {
 public:
  SensorLink(TransferLaw law, PartQuantity range, std::string source_name, bool accuracy_counts);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  TransferLaw law_;
  PartQuantity range_;
  std::string source_name_;
  bool accuracy_counts_;
};

/// Sensor resistance ↔ voltage at the pin, with one fixed resistor between supply and ground.
class DividerLink final : public Link {
 public:
  struct Setup {
    double supply_v;
    double supply_half_width;  ///< relative
    std::string supply_cause;
    double fixed_ohm;
    double fixed_tolerance;  ///< relative
    Position position;       ///< of the fixed resistor
  };
  explicit DividerLink(Setup setup) : setup_(std::move(setup)) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;
  /// Watts turned into heat in the sensor while it has this resistance.
  double sensor_watts(double sensor_ohm) const;

 private:
  Setup setup_;
};

/// Voltage at the pin ↔ code of the converter.
class ConverterLink final : public Link {
 public:
  ConverterLink(const Converter& converter, double reference_v, double reference_half_width, std::string reference_cause);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;
  double step_v() const { return reference_v_ / divisor_; }
  double largest_code() const { return largest_; }

 private:
  Converter converter_;
  double reference_v_;
  double reference_half_width_;
  std::string reference_cause_;
  double divisor_;
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
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  int shift_;
  int bits_;
  Justification justification_;
};

/// Corrected value (inner) ↔ value as compensated (outer): reference − reading as a polynomial of the reading.
class CorrectionLink final : public Link {
 public:
  explicit CorrectionLink(Correction correction, std::string unit) : correction_(std::move(correction)), unit_(std::move(unit)) {}
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override { return outer + correction_at(outer); }
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  double correction_at(double reading) const;
  Correction correction_;
  std::string unit_;
};

/// Shown number (inner) ↔ base units (outer).
class UnitLink final : public Link {
 public:
  explicit UnitLink(const Unit& unit) : unit_(unit) {}
  Result<double> forward(double inner) const override { return unit_.to_base(inner); }
  Result<double> inverse(double outer) const override { return unit_.from_base(outer); }
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  const Unit& unit_;
};

}  // namespace fair_gauge
