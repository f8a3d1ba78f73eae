// Puts a hand-over together: from a chain to its arithmetic, the proof of it, its vectors and files. How numbers are
// packed stands in pack_numbers.cpp, how bytes in pack_bytes.cpp.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <random>
#include <string>
#include <utility>
#include <vector>

#include "handoff/byte_runner.h"
#include "handoff/exact_readings.h"
#include "handoff/handoff.h"

namespace fair_gauge {

inline constexpr std::size_t many_vectors = 4096;

/// The value of a channel that arrives converted, in steps of its last decimal: what is wanted and a tenth beyond.
SideInput arriving_input(const Chain& chain);

/// Steps a unit of the result: its rounding costs less than a fifth of the uncertainty.
std::int64_t usual_per_unit(double uncertainty);
std::string form_name(HandoffForm form);

class Packer {
 public:
  Packer(const Chain& chain, const HandoffRequest& request) : chain_(chain), request_(request) {}

  /// The reading of another channel is one more argument. \param at  the exact chain beside one of its readings, base
  /// units
  void take_side(const Chain& side, std::function<Result<Chain>(double)> at);

  Result<Handoff> pack();

 private:
  std::optional<Problem> of_number();
  // Of a channel that is worked out: its inputs are readings.
  std::optional<Problem> of_readings();
  // Of a value that other firmware has converted: what is added to it, and its unit.
  std::optional<Problem> of_arrived();
  // Each number of `code.input` once, then the arithmetic.
  std::optional<Problem> of_steps(const std::function<double(std::int64_t)>& exact);
  // Points over the raw number and the other reading; closer ones until the proof is content.
  std::optional<Problem> of_number_and_side();
  // Steps of what the other channel can read.
  std::pair<std::int64_t, std::int64_t> readings_of_side(double per_unit) const;
  std::optional<Problem> of_surface(const ExactSurface& exact, const SurfaceRange& range, const SideInput& side);
  void side_vectors(const ExactSurface& exact, const SurfaceRange& range);
  // Each form that fits, then the cheapest of them.
  std::optional<Problem> choose_arithmetic();
  // Every code of a narrow converter; else well spread ones, both ends and every joint of a table.
  std::vector<std::int64_t> spread_codes(std::int64_t lowest, std::int64_t highest) const;
  void number_vectors();
  std::optional<Problem> of_bytes();
  std::optional<Problem> of_one_field();
  std::optional<Problem> of_sheet();
  std::optional<Problem> of_fields();
  static std::optional<std::pair<double, double>> held_of(double a, double b);
  std::optional<std::pair<double, double>> held(const PartQuantity& quantity, double unit) const;
  void byte_vector(const std::vector<std::uint8_t>& bytes);
  // What the checks are there for.
  void broken_vectors(const ByteSource& source);
  // The one number of the data that decides; null where there are several.
  const PlannedField* only_field() const;
  // Most fields anew. \param near  long ones near those of the example
  void draw(const ByteSource& source, std::mt19937_64& random, bool near, std::vector<std::uint8_t>& bytes) const;
  // Where several numbers meet every block cannot be tried: a million drawn ones, half of them near the example.
  std::optional<Problem> random_blocks();
  // Of a formula in floating point, over every number that the fields may hold: its own error, that of the exact chain,
  // which is worked out in double, and the rounding to a step. Shown units.
  // \param roundoff  of an operation there
  std::optional<double> bound_over_all(double roundoff) const;
  std::optional<Problem> finish();
  // In files of its own, measured by itself. \returns a problem where the simulated controller filters otherwise
  std::optional<Problem> add_filter(const KeptFilter& filter);
  std::optional<HandoffCost> measure_filter(const KeptFilter& filter, const std::string& header,
                                            const std::string& source) const;
  static HandoffArguments arguments_of(const HandoffCode& code);

  const Chain& chain_;
  const Chain* side_ = nullptr;  // the channel whose reading is one more argument
  std::function<Result<Chain>(double)> chain_beside_;
  const HandoffRequest& request_;
  Handoff handoff_;
  ExactReadings exact_;
  std::pair<std::int64_t, std::int64_t> raw_range_;  // of what is handed in
  std::optional<Formula> readings_formula_;          // of a channel that is worked out: of `raw` and `side`
  double allowed_steps_ = 1;
  std::string disagrees_at_;
};

}  // namespace fair_gauge
