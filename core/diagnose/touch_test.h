// The touch test: something is done to a live sensor by hand, and its readings say whether it is that sensor, which way
// it goes, how fast, and whether a neighbour went with it.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "quantity/finding.h"
#include "quantity/quantity.h"

namespace fair_gauge {

enum class TouchKind {
  touch,
  warm_up,  ///< of a sensor inside a chip, from the moment that it is switched on
  load      ///< of the same, while the chip works as hard as it ever will
};

/// Something that can be done to a sensor by hand.
struct TouchWay {
  const char* name;     ///< "warm it by hand"
  Quantity quantity;    ///< that it moves
  int direction;        ///< of the true value: 1 rises, −1 falls
  const char* begin;    ///< what to do when it begins
  const char* end;      ///< what to do afterwards
  const char* care;     ///< empty → nothing to mind
  double usual_change;  ///< base units; of illuminance a share of what it is. For the simulation
  TouchKind kind = TouchKind::touch;
};
/// Those that move a quantity, the gentlest first. \param warms_itself  the sensor sits in or on a chip that works
std::vector<TouchWay> touch_ways(Quantity quantity, bool warms_itself = false);

struct TouchReading {
  double seconds;
  double value;  ///< base units
};

/// An exponential step through readings: before + change · (1 − exp(−(t − begin) / time constant)).
struct StepFit {
  double before;     ///< mean of the readings before it began
  double by_itself;  ///< that it may have moved without a touch, from what it did before: noise and drift together
  double change;     ///< in the end
  double time_constant_s;  ///< between a twentieth of a second and twenty times what was seen
  double reached;          ///< share of the change that was seen, 0…1
  double misfit;           ///< root mean square of what is left
  double at(double seconds_since_begin) const;
};

/// \param readings  in the order of time
/// \param begin     when it began, on their clock; at least one reading before it and four after
/// \returns nothing where there are too few readings
/// \source least squares: the change in closed form for each time constant, that by a search over its logarithm
std::optional<StepFit> fit_step(std::span<const TouchReading> readings, double begin);

/// Another live channel of the same quantity, over the same time.
struct TouchNeighbour {
  std::string name;
  StepFit fit;
};

struct TouchSubject {
  std::string name;
  double resolution = 0;  ///< a step of the reading, base units
  double response_s = 0;  ///< the sheet's time constant in still air; 0 → not stated
};

/// What the readings say, the gravest first. \param unit  of the quantity's differences, for the words
std::vector<Finding> judge_touch(const TouchWay& way, const TouchSubject& subject, const StepFit& rise,
                                 const std::vector<TouchNeighbour>& neighbours, const Unit& unit);

}  // namespace fair_gauge
