// The chain of one channel: from the world to the shown number, solved both ways from wherever a value is given.
//
// A chain is built from a bench by a pure function and never stored. Its nodes are numbers; node 0 is the shown
// number, the last node is the raw number as the firmware reports it. Stages are what people see of the nodes, in
// their order on the strip: the world stage and the corrected stage look at the same node, from the two sides.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "chain/derived_link.h"
#include "chain/links.h"
#include "digital/decoder.h"
#include "digital/field_bytes.h"
#include "parts/catalogue.h"

namespace fair_gauge {

enum class StageName { world, sensor, front_end, converter, bytes, raw, compensated, corrected, derived, shown };

/// The name printed on the strip: "Front end".
std::string_view stage_title(StageName name);

struct Stage {
  StageName name;
  std::string caption;  ///< what does it: "8k2 above, 3.300 V"
  const Unit* unit;     ///< of its values
  std::size_t node;
};

struct Chain {
  Channel channel;
  const Unit* base;                ///< base unit of the quantity
  const Unit* shown;               ///< the channel's shown unit
  const Unit* also = nullptr;      ///< a second unit beside it; null → none
  std::vector<Stage> stages;       ///< on the strip, from the left
  std::vector<LinkPointer> links;  ///< links[i] is between node i and node i + 1
  std::size_t world_node = 1;
  std::size_t compensated_node = 1;
  std::size_t converter_node = 0;
  std::size_t raw_node = 0;
  std::shared_ptr<const ConverterLink> converter;
  std::shared_ptr<const DividerLink> divider;  ///< null without one
  std::optional<FieldBytes> bytes;             ///< of a chain with a stage of bytes
  std::shared_ptr<const Decoder> decoder;      ///< of a part that answers with bytes itself; null else
  ByteBlocks trimming;                         ///< of its specimen
  double highest_source_ohm = 0;               ///< that the converter's pin sees
  double kelvin_per_watt = 0;                  ///< self-heating of the sensor
  std::string part_id;                         ///< empty where nobody knows the part
  std::vector<std::string> side_channels;      ///< channels whose readings this one needs
  /// Of a channel that is worked out from others: how, and the chains that read them, in the order of its inputs; null
  /// for a number that is typed.
  std::shared_ptr<const DerivedLink> derived;
  /// Whether its second input is what the first one's own sensor read at rest: what is off at both is the same.
  bool is_tared() const { return derived && channel.derived && channel.derived->at_rest > 0 && inputs.size() > 1; }
  std::vector<std::shared_ptr<const Chain>> inputs;

  const Stage* stage(StageName name) const;
  /// The stage of the converter's code or of the counted pulses. Never null.
  const Stage* code_stage() const;
};

/// What other channels read now, by channel id, in base units: a cold junction, the air beside a humidity sensor.
using SideValues = std::map<std::string, double, std::less<>>;

/// The chain of a channel, or why it cannot be built (a missing device, an unknown part, an impossible setting).
Result<Chain> build_chain(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                          const SideValues& beside = {});

/// What a channel is worked out as: of the table, or by its own formula of `a` and `b`, as `quantity`.
/// \returns what is not known, or not understood with its column
Result<std::shared_ptr<const DerivedQuantity>> what_follows(const Bench& bench, const DerivedFrom& from,
                                                            Quantity quantity);

/// A channel that is worked out so, called after its quantity, wanted where its inputs are wanted.
Channel new_derived_channel(const Bench& bench, const DerivedQuantity& quantity, const DerivedFrom& from);

/// Where a value is given: a stage, and the value in the stage's unit.
struct Anchor {
  StageName stage = StageName::world;
  double value = 0;

  bool operator==(const Anchor&) const = default;
};

/// How many decimals more a reading needs in the second unit than in the shown one, so that nothing of it is lost.
int more_decimals(const Unit& shown, const Unit& also);

/// What a stage shows: a value, or why it has none.
using StageValue = Result<double>;

/// The value of every stage of `chain.stages` while `anchor` is held.
///
/// Left of the converter the values are those of the world, right of it those that are read back from the code, so a
/// typed world value and its reading may differ by up to half a step. Behind a stage without a value none has one.
std::vector<StageValue> evaluate(const Chain& chain, const Anchor& anchor);

/// A number that came as bytes, as the chain means it: of a converter with both signs the top bit is the sign.
double raw_from_bytes(const Chain& chain, double number);

/// The corrected reading of a raw number in base units.
Result<double> read_raw(const Chain& chain, double raw);

/// The raw number for a value in base units of the quantity.
Result<double> raw_for(const Chain& chain, double world);

/// The same between two codes, as a mean of many raw numbers stands; not a number where there is none.
double mean_raw_for(const Chain& chain, double world);

/// read_raw() of such a mean; not a number where there is none.
double read_mean_raw(const Chain& chain, double raw);

/// Size of one converter step in base units of the quantity, around a value; not a number where the chain has none.
double step_at(const Chain& chain, double world);

/// The arithmetic of every stage of a reading, in order, with its numbers put in.
struct StageTrace {
  StageName stage;
  std::vector<TraceLine> lines;
};
std::vector<StageTrace> explain(const Chain& chain, double raw, const NumberStyle& style = {});

}  // namespace fair_gauge
