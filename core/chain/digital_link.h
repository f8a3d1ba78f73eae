// Physical quantity ↔ the raw number of a digital part, the other bytes as they are.
#pragma once

#include <memory>

#include "chain/link.h"
#include "digital/decoder.h"

namespace fair_gauge {

class DigitalLink final : public Link {
 public:
  struct Setup {
    std::shared_ptr<const Decoder> decoder;
    std::size_t reading = 0;     ///< of the layout's readings
    std::vector<double> fields;  ///< one number a field; that of the reading is replaced
    PartQuantity range;
    bool accuracy_counts = true;  ///< false once a calibration has replaced it
  };
  explicit DigitalLink(Setup setup);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

  const FieldPlace& place() const { return setup_.decoder->places()[field_]; }

 private:
  double at(double raw, std::vector<TraceEntry>* trace = nullptr) const;
  double raw_near(double value) const;
  double first_guess(double value) const;
  void find_reach();

  Setup setup_;
  std::size_t field_;
  std::optional<std::size_t> tied_;
  double tied_share_ = 0;
  // Readings at evenly spaced raw numbers: where the search for a raw number begins.
  struct Knot {
    double raw, reading;
  };
  std::vector<Knot> knots_;
  double lowest_ = 0, highest_ = 0, reach_slack_ = 0;  // readings that raw numbers reach, base units
};

}  // namespace fair_gauge
