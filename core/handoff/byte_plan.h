// What stands between the bytes of a part and its arithmetic: blocks, fields, checks and states, ready to be written as
// code.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "chain/chain.h"
#include "handoff/formula.h"

namespace fair_gauge {

/// What the written code returns, in this order from 0.
enum class HandoffStatus {
  ok,
  low,
  high,
  checksum,
  saturated,
  not_ready,
  power_on_default,
  disconnected,
  out_of_range,
  no_response,
  flagged_by_part,
  short_frame,
  underflow
};
/// "NOT_READY"
std::string_view handoff_status_name(HandoffStatus status);
/// Of a fault's code in the contract: "not-ready".
HandoffStatus handoff_status_of(std::string_view fault);

struct PlannedBlock {
  std::string name;
  int bytes = 0;
  int at = 0;  ///< first byte of it in what is handed over
};

struct PlannedField {
  std::string name;
  bool trimming = false;
  std::vector<BitRun> runs;  ///< bytes counted from the start of what is handed over
  FieldSign sign = FieldSign::none;
  int bits = 0;
  std::int64_t value = 0;  ///< of a trimming word
};

struct PlannedCheck {
  std::string kind;
  int from = 0, to = 0, at = 0;
  HandoffStatus status = HandoffStatus::checksum;
  std::string before = {};  ///< hex of what the check covers besides
};

/// One of these values of a field, or a condition that is not 0.
struct PlannedState {
  std::string field;
  std::vector<std::int64_t> equals;
  std::optional<Formula> condition;
  HandoffStatus status = HandoffStatus::not_ready;
};

struct BytePlan {
  std::vector<PlannedBlock> blocks, trimming_blocks;
  std::vector<PlannedField> fields;  ///< those that this quantity needs
  std::vector<PlannedCheck> checks;
  std::vector<PlannedState> states;
  std::string own;                           ///< the field that the reading follows from
  bool alone = false;                        ///< and from no other
  std::string formula;                       ///< coded formula of the part; empty → none
  std::vector<FormulaStep> steps;            ///< base units, of fields; empty → the field's own scale and offset
  std::vector<std::uint8_t> trimming_bytes;  ///< of this specimen, blocks in order
};

/// \returns the plan, or why the part cannot be handed over
Result<BytePlan> plan_bytes(const Chain& chain);

/// The number of a field in the bytes of its blocks.
std::int64_t field_value(const PlannedField& field, std::span<const std::uint8_t> bytes);

}  // namespace fair_gauge
