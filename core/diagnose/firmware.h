// A chain as somebody's firmware carries it out, with deliberate mistakes in it.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// What came in: a raw number, and of a part that answers with bytes all blocks that are known, its trimming among
/// them.
struct RawInput {
  double raw = 0;     ///< of the channel's field, or the converter's code
  ByteBlocks blocks;  ///< empty for an analog chain
  /// Of a raw number alone: how much of it a second field is that goes with it (infrared beside full light).
  std::optional<double> tied_share;
};

/// Rights and wrongs of one firmware; as it is made it does everything right. Copy it and change the copy.
struct Firmware {
  Bench bench;  ///< its own copy: what it believes of resistors, references, settings and corrections
  std::string channel;
  const Chain* built = nullptr;  ///< the chain of that bench and channel where it is at hand; null → it is built
  RawInput input;
  std::shared_ptr<const Decoder> decoder;  ///< of another part than the device's; null → the device's
  int correction = 1;                      ///< how often the correction is applied; −1 → with the wrong sign
  bool forgets_fraction_of_volts = false;  ///< whole millivolts
  enum class Division { exact, whole_quotient, whole_millivolt_steps } division = Division::exact;
  std::optional<double> field;                          ///< number in the field's place, whatever the bytes say
  std::vector<std::function<double(double)>> on_raw;    ///< steps on the raw number of an analog chain, in order
  std::function<double(double)> law;                    ///< in place of the sensor's law: output → base units
  std::vector<std::function<double(double)>> on_value;  ///< steps on the compensated value, base units
  struct OnShown {
    int order;  ///< units before factors, factors before dropped digits
    std::function<double(double)> step;
  };
  std::vector<OnShown> on_shown;  ///< steps on the number in the channel's unit

  /// True where all that is wrong with it is what it believes of the bench.
  bool errs_in_bench_alone() const;
  /// The number it shows, in the channel's unit; not a number where it shows none. Ends of ranges do not stop it.
  double shows(const Catalogue& catalogue) const;
  /// The volts that it works out from the code; nothing where there is no converter or no number.
  std::optional<double> volts(const Catalogue& catalogue) const;
  /// The lines of its arithmetic with the numbers put in.
  std::vector<std::string> arithmetic(const Catalogue& catalogue) const;
  /// What it takes the value of each stage to be, in the stage's unit, from the raw number to what is shown; stages
  /// that it does not get to are left out.
  std::map<StageName, double> stages(const Catalogue& catalogue) const;

 private:
  // What is written down on the way.
  struct Record {
    std::vector<std::string> lines;
    std::map<std::size_t, double> nodes;  // left of the compensated one and beyond: outputs, volts, codes
    std::map<StageName, double> stages;
  };
  double walk(const Catalogue& catalogue, Record* record) const;
  std::optional<double> compensated(const Chain& chain, Record* record) const;
  double inwards(const Chain& chain, std::size_t to_node, Record* record) const;
  std::optional<double> decoded(const Chain& chain, Record* record) const;
};

/// What comes in with a raw number alone: of a part that answers with bytes, the rest of them as in its example.
RawInput raw_input(const Chain& chain, double raw);

/// The bench with nothing but what this channel needs: quick to copy.
Bench bench_of_channel(const Bench& bench, const std::string& channel);

}  // namespace fair_gauge
