// The fixed resistor beside a resistive sensor.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "chain/links.h"
#include "sizing/resistors.h"

namespace fair_gauge {

enum class DividerGoal {
  resolution,  ///< the smallest worst step over the range
  linear,      ///< the straightest line
  current,     ///< the least current whose worst step is at most twice the best one
  relative     ///< the smallest worst step as a share of the value: light, which is looked at in decades
};

std::span<const EnumName<DividerGoal>> enum_names(DividerGoal);

struct DividerWish {
  TransferLaw law;     ///< of a resistive sensor
  PartQuantity range;  ///< what the part can do
  double from = 0;     ///< wanted range, base units
  double to = 1;
  double supply_v = 3.3;
  int bits = 12;  ///< of a converter whose reference is the supply
  DividerGoal goal = DividerGoal::resolution;
  Position position = Position::top;  ///< of the fixed resistor
  ResistorChoice resistors;
  std::optional<double> max_source_ohm;
  std::optional<double> max_self_heating_k;
  double kelvin_per_watt = 0;
};

/// What one resistor would do.
struct DividerCandidate {
  double fixed_ohm = 0;
  double worst_step = 0;      ///< largest step of the converter over the range, base units of the quantity
  double best_step = 0;       ///< smallest
  double worst_share = 0;     ///< largest step ÷ value, where the value is above 0
  double nonlinearity = 0;    ///< largest distance from the line through both ends, base units
  double highest_a = 0;       ///< current at the worst place
  double source_ohm = 0;      ///< largest resistance the pin sees
  double self_heating_k = 0;  ///< largest
  std::string refused;        ///< which limit it breaks; empty → none
};

struct DividerSize {
  DividerCandidate chosen;
  Position position;
  double at_from_v;
  double at_to_v;
  std::vector<DividerCandidate> candidates;  ///< every value looked at, ascending
  std::size_t chosen_index;
  std::vector<std::string> assumes;
};

/// Looks at every standard value between a hundredth and a hundred times the sensor's own resistances.
/// \returns the best for the goal, or why none will do and what would be nearest
Result<DividerSize> size_sensor_divider(const DividerWish& wish);

/// What one resistor does for a wish.
DividerCandidate judge_divider(const DividerWish& wish, double fixed_ohm);

/// Error of the reading at `value` from resistors that are off by up to `tolerance`: the half-width that covers 95 % of
/// `trials` drawn from a rectangle. Base units. The same seed gives the same result.
double divider_spread(const DividerWish& wish, double fixed_ohm, double tolerance, double value, int trials,
                      std::uint64_t seed);

}  // namespace fair_gauge
