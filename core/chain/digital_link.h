// Physical quantity ↔ the raw number of a digital part, the other bytes as they are.
#pragma once

#include <memory>

#include "bench/bench.h"
#include "chain/link.h"
#include "digital/decoder.h"

namespace fair_gauge {

class DigitalLink final : public Link {
 public:
  struct Setup {
    std::shared_ptr<const Decoder> decoder;
    std::size_t reading = 0;     ///< of the layout's readings
    std::vector<double> fields;  ///< one number a field; that of the reading is replaced
    /// A register that is a number in two parts. The chain counts the values it can hold in order; how they stand in
    /// the register is a FloatingLink's business.
    struct Floating {
      std::size_t exponent;  ///< index of the layout's field
      int mantissa_bits;
      int exponent_bits;
    };
    std::optional<Floating> floating;
    PartQuantity range;
    std::optional<PartQuantity> element;  ///< what is connected, where the part converts for another sensor
    std::optional<Range> proven;          ///< where a calibration takes the place of the sheets' accuracy
  };
  explicit DigitalLink(Setup setup);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<Source> sources(double inner) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

  const FieldPlace& place() const { return setup_.decoder->places()[field_]; }
  double least() const { return setup_.floating ? 0 : static_cast<double>(place().least()); }
  double most() const;

 private:
  double at(double raw, std::vector<TraceEntry>* trace = nullptr) const;
  double raw_near(double value) const;
  double first_guess(double value) const;
  void find_reach();
  double bend_at(double reading) const;
  double last_unsaturated() const;

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

/// Which of the values that a mantissa with an exponent can hold, in order (inner) ↔ the register that holds both, the
/// exponent above the mantissa. Small numbers have the exponent 0; larger ones the top bit of the mantissa set.
class FloatingLink final : public Link {
 public:
  FloatingLink(int mantissa_bits, int exponent_bits) : mantissa_bits_(mantissa_bits), exponent_bits_(exponent_bits) {}
  struct Parts {
    double exponent, mantissa;
  };
  /// \param place  0 or more
  static Parts parts_of(double place, int mantissa_bits);
  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

 private:
  int mantissa_bits_, exponent_bits_;
};

}  // namespace fair_gauge
