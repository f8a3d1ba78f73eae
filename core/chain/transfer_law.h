// Which law a part has under its settings, and the words for it.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "bench/bench.h"
#include "chain/laws.h"
#include "chain/link.h"
#include "parts/part.h"
#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// How a sensor's output follows from its quantity.
struct TransferLaw {
  Law law;
  Quantity measures = Quantity::temperature;
  Dimension output_dimension = Dimension::voltage;
  std::string name;                  ///< "beta law"
  std::string caption;               ///< "B 3950 K, 10 kΩ at 25 °C"
  std::string without_inverse = {};  ///< why `quantity` may be not a number; empty → the sensor is open or short
  /// The setting that is the sensor's own supply, to which its output is in proportion; empty → none.
  std::string supply_key = {};
  /// A second quantity that the output depends on: the cold junction of a thermocouple.
  struct Side {
    std::string key;   ///< setting that holds it
    std::string name;  ///< for people
    std::string unit;
    double value;
    double half_width;  ///< how well it is known
  };
  std::optional<Side> side = {};

  /// Of the quantity in base units.
  double output(double quantity) const {
    return std::visit([=](const auto& one) { return one.output(quantity); }, law);
  }
  /// Of the output; not a number where there is none.
  double quantity(double output) const {
    return std::visit([=](const auto& one) { return one.quantity(output); }, law);
  }
  /// Of the quantity where the second one is `beside`; as output() of a law without one.
  double output_beside(double quantity, double beside) const;
  /// quantity(output) as a person would write it down.
  std::vector<TraceLine> explain(double output, const NumberStyle& style) const;
  /// quantity() as steps of an expression of x, the last of which is the result; empty where there is none.
  std::vector<std::pair<std::string, std::string>> formula() const;
};

/// The law of a part under its settings.
/// \param settings  over the part's own numbers; an unknown key is a problem
/// \returns a problem too where a number makes no sense (a slope of zero, a beta below zero)
Result<TransferLaw> transfer_law(const Part& part, const std::map<std::string, double>& settings);

/// What a part can read of a quantity, base units: the range in its file, or what its law's own numbers span where that
/// is all that bounds it: a transmitter's 4 to 20 mA, a bridge's full scale. \param settings  over the part's own
/// numbers
Range reach_of(const Part& part, const PartQuantity& quantity, const std::map<std::string, double>& settings);

}  // namespace fair_gauge
