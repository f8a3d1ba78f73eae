#include "chain/own_figures.h"

#include <algorithm>

namespace fair_gauge {

Part with_own_figures(Part part, const OwnPart& own) {
  for (const OwnFigure& figure : own.figures) {
    const auto quantity = std::ranges::find(part.quantities, figure.quantity, &PartQuantity::quantity);
    if (quantity == part.quantities.end()) continue;
    if (figure.from && figure.to && *figure.from < *figure.to)
      quantity->minimum = *figure.from, quantity->maximum = *figure.to;
    if (figure.accuracy > 0)
      quantity->accuracy = {{.from = quantity->minimum,
                             .to = quantity->maximum,
                             .value = figure.accuracy,
                             .grade = std::string(own_grade),
                             .conditions = own.note}};
  }
  if (own.supply_minimum_v > 0) part.supply.minimum_v = own.supply_minimum_v;
  if (own.supply_maximum_v > 0) part.supply.maximum_v = own.supply_maximum_v;
  return part;
}

std::shared_ptr<const Catalogue> with_own_figures(const std::shared_ptr<const Catalogue>& catalogue,
                                                  const std::vector<OwnPart>& own) {
  std::shared_ptr<Catalogue> changed;
  for (const OwnPart& each : own) {
    const Part* part = each.has_figures() ? catalogue->find(each.part) : nullptr;
    if (!part) continue;
    if (!changed) changed = std::make_shared<Catalogue>(*catalogue);
    changed->put(with_own_figures(*part, each));
  }
  return changed ? changed : catalogue;
}

}  // namespace fair_gauge
