#include "wiring/controller_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

// By the figure of the role "reference": volts of the one inside, 0 → the supply, below → the reference pin.
void hold_against_reference(const Bench& bench, double chosen, std::vector<Finding>& findings) {
  const auto own = std::ranges::find_if(bench.converters, [](const Converter& each) { return each.part.empty(); });
  if (own == bench.converters.end()) return;
  const Rail* rail = find_by_id(bench.rails, own->reference_rail);
  const std::string counts = rail ? translated("the supply") : with_prefix(own->reference.best_v(), "V", 4);
  const auto warn = [&](const std::string& chosen_words) {
    findings.push_back({Severity::warning,
                        translated("the registers choose {} as reference, this bench counts with {}: one of them is "
                                   "wrong",
                                   chosen_words, counts)});
  };
  constexpr double same = 0.15;  // a reference inside differs by up to a tenth from one controller to the next
  if (chosen == 0 && !rail) warn(translated("the supply"));
  if (chosen > 0 && (rail || std::abs(own->reference.best_v() / chosen - 1) > same))
    warn(translated("{} inside", with_prefix(chosen, "V", 3)));
  if (chosen < 0 && rail) warn(translated("the reference pin"));
}

}  // namespace

const Controller* controller_of(const Board& board, const std::vector<Controller>& controllers) {
  return find_by_id(controllers, board.controller);
}

Result<ControllerCheck> check_controller(const Bench& bench, const Controller& controller,
                                         std::span<const unsigned> values) {
  ControllerCheck check{.clock_hz = bench.board.clock_hz > 0 ? bench.board.clock_hz : controller.clock_hz};
  auto composition = compose(controller.layout, values, {{"clock_hz", check.clock_hz}});
  if (!composition) return composition.problem();
  check.composition = std::move(*composition);
  for (const std::string& words : check.composition.warnings) check.findings.push_back({Severity::warning, words});
  const bool untouched = std::ranges::equal(values, power_on_values(controller.layout));
  if (const auto chosen = check.composition.of_role("reference"); chosen && !untouched)
    hold_against_reference(bench, *chosen, check.findings);
  return check;
}

std::vector<std::string> lines_of_change(const Controller& controller, std::span<const unsigned> from,
                                         std::span<const unsigned> to) {
  std::vector<std::string> lines;
  for (std::size_t r = 0; r < controller.layout.registers.size() && r < from.size() && r < to.size(); ++r) {
    const PartRegister& reg = controller.layout.registers[r];
    if (from[r] == to[r]) continue;
    const RegisterMasks masks = masks_between(reg, from[r], to[r]);
    lines.push_back(fmt::format("{0} = ({0} & 0x{1}) | 0x{2};  // {3}", reg.name, write_register(reg, masks.keep),
                                write_register(reg, masks.set), fmt::join(masks.fields, ", ")));
  }
  return lines;
}

}  // namespace fair_gauge
