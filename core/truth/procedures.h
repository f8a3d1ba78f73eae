// Calibration procedures that lead by the hand: what to do, what to take care of, and what the reference is worth.
#pragma once

#include <functional>
#include <span>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// Something the program asks for.
struct ProcedureInput {
  std::string name;
  std::string why;
  Dimension dimension = Dimension::number;
  double usual = 0;                  ///< base units; not a number → it has to be typed
  std::vector<std::string> choices;  ///< instead of a number: the value is the index
  /// What is known of the channel, instead of usual; not a number where nothing is.
  double (*of_channel)(const Channel& channel) = nullptr;

  double usual_for(const Channel& channel) const {
    const double known = of_channel ? of_channel(channel) : usual;
    return known == known ? known : usual;
  }
};

/// What the reference is at a point, and how well that is known.
struct ReferenceValue {
  double value = 0;     ///< base units
  double standard = 0;  ///< standard uncertainty; not a number if nobody knows it
  std::string words;    ///< how it was found
};

struct Procedure {
  std::string id;
  std::string name;
  std::optional<Quantity> quantity;  ///< that it serves; nothing → any
  std::vector<PressureKind> kinds;   ///< of pressure; empty → any
  std::vector<std::string> steps;
  std::vector<std::string> cautions;
  double wait_s = 60;  ///< at a point before it can stand
  std::vector<ProcedureInput> inputs;
  /// \param inputs  in their order, base units
  std::function<Result<ReferenceValue>(std::span<const double> inputs)> reference;
};

const std::vector<Procedure>& procedures();

/// Those that fit a channel; for a sensor inside a chip the trims of the cold and of the warm one.
std::vector<const Procedure*> procedures_for(const Channel& channel, bool inside_chip);

}  // namespace fair_gauge
