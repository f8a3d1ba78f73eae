// What is to be measured, before a part is chosen.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "files/unknown_keys.h"
#include "parts/interface.h"
#include "quantity/quantity.h"
#include "quantity/result.h"

namespace fair_gauge {

enum class NeedPlace {
  indoors,  ///< air that does not condense
  humid,    ///< air near saturation, now and then dripping
  surface,  ///< pressed onto something
  liquid
};  ///< under water, in a block, in a drum
enum class NeedUse {
  display,  ///< somebody looks at it
  control
};  ///< something is switched by it

struct Need {
  Quantity quantity = Quantity::temperature;
  PressureKind kind = PressureKind::none;  ///< of a pressure; none → any
  double from = 0;                         ///< base units
  double to = 40;
  double allowed = 1;     ///< ± error, base difference units
  double resolution = 0;  ///< finest difference to be seen; 0 → any
  double period_s = 2;
  std::string rail;                   ///< that feeds it; empty → the bench's first
  std::string converter;              ///< for analog parts; empty → the bench's first
  std::vector<Interface> interfaces;  ///< that are free, as `parts` names them; empty → all
  NeedPlace place = NeedPlace::indoors;
  NeedUse use = NeedUse::display;
  double cable_m = 0.2;
  bool own_only = false;  ///< only what lies in the drawer
  UnknownKeys unknown;

  bool operator==(const Need&) const = default;
};

std::span<const EnumName<NeedPlace>> enum_names(NeedPlace);
std::span<const EnumName<NeedUse>> enum_names(NeedUse);

/// A need as JSON text. \returns it, or the first fault with its place
Result<Need> need_from_text(std::string text, const std::string& file);
std::string need_to_text(const Need& need);

/// What makes a need impossible: a range that ends before it begins, a quantity that nobody measures.
std::optional<Problem> need_problem(const Need& need);

}  // namespace fair_gauge
