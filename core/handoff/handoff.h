// The hand-over of one channel: the arithmetic is chosen, proven over every raw number, and written.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "handoff/arithmetic.h"
#include "handoff/byte_plan.h"
#include "handoff/measure.h"
#include "handoff/surface.h"
#include "stream/switching.h"

namespace fair_gauge {

struct HandoffRequest {
  std::string channel;
  Language language = Language::c;
  std::optional<HandoffForm> form;  ///< nothing → the cheapest that is exact enough
  std::int64_t per_unit = 0;        ///< steps of the result in one shown unit, a power of ten; 0 → as the budget asks
  bool trimming_loaded = false;
  bool reading = false;  ///< also how the part is read over its line; where that is not known, a note says so
  std::function<bool()> is_cancelled = {};  ///< asked now and then; true ends it with a problem
  int drawn_blocks = 1'000'000;             ///< blocks, or pairs with a side, where not every input can be run; ≥ 1
  bool in_simulator = true;  ///< C is run over its vectors in the simulated controller, where there is one
};

/// Of a formula that stands in the part's sheet as whole numbers: which one, and what makes steps of its result.
struct SheetArithmetic {
  std::string formula;  ///< bmp280, bme280, bmp180, ms5611, …
  Quantity quantity = Quantity::temperature;
  double per_base = 1;                      ///< its number for one base unit: 100 for hundredths of a degree
  std::int64_t multiplier = 1, addend = 0;  ///< steps = (number · multiplier + addend) >> shift
  int shift = 0;
  std::int64_t lowest = 0, highest = 0;  ///< steps that are a reading
};

/// Another channel whose reading is one more argument, or the value of the own one as other firmware sends it.
struct SideInput {
  std::string channel, unit;             ///< id; UCUM code of its shown unit
  std::int64_t per_unit = 1;             ///< its own steps, as its own hand-over has them by default
  std::int64_t lowest = 0, highest = 0;  ///< steps that are taken; others are OUT_OF_RANGE
  bool arrives = false;                  ///< the own one's

  /// "the reading of room in steps of 1/100 Cel, from 0 to 5000"
  std::string words() const;
};

/// All that a writer needs.
struct HandoffCode {
  std::string name;  ///< as C allows it
  std::string channel_name, unit;
  std::int64_t per_unit = 1;
  bool is_signed = false;  ///< the raw number has a sign
  std::optional<BytePlan> bytes;
  bool trimming_loaded = false;
  Arithmetic arithmetic;                  ///< of the raw number, or of fields where `fields_formula`
  std::optional<Formula> fields_formula;  ///< float, of several fields; result in the shown unit
  double lowest = 0, highest = 0;         ///< of it, shown unit
  std::optional<SheetArithmetic> sheet;
  std::optional<SurfaceArithmetic> surface;  ///< of the raw number and the reading of `side`
  std::optional<SideInput> side;
  std::optional<SideInput> input;     ///< what stands for the raw number where it is a reading already
  int oversampling = 0;               ///< of the sheet's formula, where it has one
  SwitchCodes switching;              ///< of the channel's rule; nothing where it has none
  std::vector<std::string> comments;  ///< what the constants mean, for the head of the file
};

/// One tested input.
struct HandoffVector {
  std::string raw;  ///< decimal, or hex of the bytes
  HandoffStatus status = HandoffStatus::ok;
  std::optional<std::int32_t> value;
  std::optional<std::int64_t> side = {};
};

struct HandoffReport {
  std::string channel, language, form, unit;
  std::int64_t per_unit = 1;
  std::vector<PlannedBlock> blocks, trimming_blocks;
  std::optional<SideInput> side;
  std::int64_t codes_checked = 0;
  bool exhaustive = true;
  double worst_error = 0;  ///< shown units, rounding included
  std::string at_raw;
  std::optional<std::int64_t> at_side;
  std::string holds_for;  ///< which trimmings and settings
  std::uint64_t largest_intermediate = 0;
  int word_bits = 32;
  std::optional<HandoffCost> cost;
  std::string measured_on;
  std::string source;             ///< fingerprint of the chain
  double allowed_error = 0;       ///< shown units: a tenth of the smallest expanded uncertainty over the wanted range
  double worst_error_wanted = 0;  ///< shown units, within the wanted range
  std::optional<double> proven_bound;  ///< of worst_error where not everything was run, shown units; nothing where none
  std::vector<std::string> notes;
};

struct Handoff {
  HandoffReport report;
  HandoffCode code;
  std::map<std::string, std::string> files;  ///< name → text; vectors and report among them
  std::vector<HandoffVector> vectors;
  std::vector<ErrorStretch> errors;  ///< in shown units; empty where not every raw number was run
};

/// A chain's identity: what of it firmware is made of, as a hash. The same chain has the same one.
std::string chain_fingerprint(const Chain& chain);

/// \returns the hand-over; a problem where the chain cannot be built, needs more than one other reading, or is not
/// within what this form can do
Result<Handoff> hand_over(const Bench& bench, const Catalogue& catalogue, const HandoffRequest& request);

/// NAME_report.json
std::string report_json(const HandoffReport& report);

/// "412 bytes of flash, 0 of RAM, at most 377 cycles a call (…)"; empty where nothing was measured.
std::string cost_words(const HandoffReport& report);

/// The size of a step: "1/10", of whole units "1".
std::string step_words(std::int64_t per_unit);

/// A name that C allows: other characters become _, a digit gets one before it, a keyword one behind it.
std::string c_identifier(std::string_view id);

/// NAME.h and NAME.c
std::pair<std::string, std::string> write_c(const HandoffCode& code);
/// NAME.py
std::string write_python(const HandoffCode& code);

}  // namespace fair_gauge
