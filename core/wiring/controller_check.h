// The controller's own registers as the bench keeps them: what follows from them, and whether that is what the bench
// counts with.
#pragma once

#include <span>
#include <vector>

#include "bench/bench.h"
#include "digital/registers.h"
#include "parts/controller.h"
#include "quantity/finding.h"

namespace fair_gauge {

struct ControllerCheck {
  double clock_hz = 0;  ///< that it runs at; 0 → nobody knows
  Composition composition;
  std::vector<Finding> findings;  ///< what does not go together, in the registers or with the bench
};

/// The description of the controller's registers that the bench names, or null.
const Controller* controller_of(const Board& board, const std::vector<Controller>& controllers);

/// \param values  one a register, as they are composed
/// \returns what follows, or the expression of the description that is not understood
Result<ControllerCheck> check_controller(const Bench& bench, const Controller& controller,
                                         std::span<const unsigned> values);

/// One line of C for each register in which the values differ, changing only those bits: "ADMUX = (ADMUX & 0x3F) |
/// 0x40;  // REFS".
std::vector<std::string> lines_of_change(const Controller& controller, std::span<const unsigned> from,
                                         std::span<const unsigned> to);

}  // namespace fair_gauge
