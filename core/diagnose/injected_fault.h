// A fault put on a channel of the simulated bench on purpose, to see what it looks like: one of a lead or the line, or
// any mistake that `diagnose` knows.
#pragma once

#include <map>

#include "diagnose/made_mistake.h"
#include "sim/environment.h"

namespace fair_gauge {

class InjectedFault {
 public:
  /// What can be asked for.
  struct Choice {
    std::string name;   ///< "open", "no-pull-up", or a mistake's code
    std::string words;  ///< "a lead is open"
  };

  /// All that a channel can have: faults of leads and line first, then the mistakes by their codes.
  static Result<std::vector<Choice>> choices(const std::shared_ptr<const Bench>& bench,
                                             const std::shared_ptr<const Catalogue>& catalogue,
                                             const std::string& channel);
  /// \returns a problem that names what there is, where the channel cannot have it
  static Result<InjectedFault> of_name(const std::shared_ptr<const Bench>& bench,
                                       const std::shared_ptr<const Catalogue>& catalogue, const std::string& channel,
                                       const std::string& name);

  const std::string& name() const { return choice_.name; }
  const std::string& words() const { return choice_.words; }
  /// The channel that it was asked for.
  const std::string& channel() const { return channel_; }
  /// Every channel that it reaches: a bus without pull-ups is dumb for all that hang on it.
  const std::vector<std::string>& channels() const { return channels_; }
  /// Null for a fault of lead or line.
  const MadeMistake* mistake() const { return mistake_ ? &*mistake_ : nullptr; }
  /// True where the raw number is right and what the firmware shows is not.
  bool is_of_arithmetic() const { return mistake_ && !mistake_->is_of_world(); }

  /// The device as it truly is: the bench's own, or that of the wrong world, which others tell nothing.
  SimulatedDevice device(Chain own, std::uint64_t seed,
                         std::function<Result<Chain>(double seconds)> surroundings = {}) const;
  /// What arrives for a true value in base units; nothing where nothing does.
  std::optional<double> answer(SimulatedDevice& device, double world) const;
  /// What becomes of the bytes of an answer on their way.
  void spoil(std::vector<std::uint8_t>& block) const;

 private:
  InjectedFault() = default;

  Choice choice_;
  std::string channel_;
  std::vector<std::string> channels_;
  std::optional<SimulatedFault> fault_;
  std::optional<MadeMistake> mistake_;
  bool silent_ = false;
  double turned_bit_ = 0;                   // of the raw number
  std::vector<std::size_t> check_at_ = {};  // bytes of the block that no longer fit
};

/// The faults that are asked for by "NAME@CHANNEL", by every channel that they reach.
Result<std::map<std::string, std::shared_ptr<const InjectedFault>>> injected_faults(
    const std::shared_ptr<const Bench>& bench, const std::shared_ptr<const Catalogue>& catalogue,
    const std::vector<std::string>& texts);

}  // namespace fair_gauge
