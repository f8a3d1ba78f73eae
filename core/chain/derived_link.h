// A quantity worked out from a channel's reading and, mostly, a second one that is taken as it is now.
#pragma once

#include "chain/link.h"
#include "formulas/derived_quantity.h"

namespace fair_gauge {

/// The worked-out quantity (inner) ↔ the first input (outer), base units.
class DerivedLink final : public Link {
 public:
  struct Setup {
    std::shared_ptr<const DerivedQuantity> quantity;  ///< of the table, or by a formula of one's own
    double beside = 0;                                ///< the second input now; not a number while nobody knows it
    double from = 0, to = 0;                          ///< of the first input, between which it is looked for
    std::string first_symbol, beside_symbol, symbol;  ///< of the units
    std::string beside_name;                          ///< "Shed humidity"
  };
  explicit DerivedLink(Setup setup) : setup_(std::move(setup)) {}

  Result<double> forward(double inner) const override;
  Result<double> inverse(double outer) const override;
  double forward_off(double inner, std::span<const double> deviations) const override;
  double inverse_continuous(double outer) const override { return at(outer, setup_.beside); }
  std::vector<TraceLine> explain(double outer, const NumberStyle& style) const override;

  /// The function's value, and how it moves with each input. \param first, beside  base units
  double at(double first, double beside) const;
  double slope_by_first(double first) const;
  double slope_by_beside(double first) const;
  const Setup& setup() const { return setup_; }

 private:
  Setup setup_;
};

}  // namespace fair_gauge
