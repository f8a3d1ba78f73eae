// Practice: a bench with one hidden mistake. What it shows and what a reference reads beside it are given; measurements
// are asked for one by one, then the mistake is named.
#pragma once

#include "diagnose/made_mistake.h"
#include "quantity/number_format.h"

namespace fair_gauge {

enum class PracticeLevel {
  plain,     ///< one cause explains what is shown
  doubtful,  ///< two or three do: one measurement tells them apart
  tangled    ///< more do
};

/// Something that can be measured or looked up on the bench.
struct PracticeProbe {
  std::string id;
  std::string words;  ///< "the volts at the pin, by a meter"
};

struct PracticeVerdict {
  bool right = false;
  bool equal = false;  ///< another mistake than the one made, that no measurement here tells from it
  std::string words;   ///< what it was
  std::string fix;
  std::vector<std::string> arithmetic;
};

class PracticeCase {
 public:
  /// \param seed  the same one draws the same case
  /// \returns a problem where the channel cannot be built or no mistake can be seen on it
  static Result<PracticeCase> draw(const std::shared_ptr<const Bench>& bench,
                                   const std::shared_ptr<const Catalogue>& catalogue, const std::string& channel,
                                   PracticeLevel level, std::uint64_t seed);

  /// What the firmware shows, with the channel's digits; "no number" where it shows none.
  std::string shown(const NumberStyle& style) const { return number(shows_, style); }
  /// What a reference beside it reads.
  std::string reference(const NumberStyle& style) const { return number(truth_, style); }
  PracticeLevel level() const { return level_; }

  std::vector<PracticeProbe> probes() const;
  /// What a probe finds, in words. Asking again gives the same and costs nothing.
  std::string measure(const std::string& probe, const NumberStyle& style);
  /// How many different ones were asked for.
  int measurements() const { return static_cast<int>(asked_.size()); }

  /// Codes of the mistakes that this channel can have, each once, in the order of the alphabet.
  std::vector<std::string> choices() const;
  PracticeVerdict name(const std::string& code) const;
  /// What was made; for tests and for giving up.
  const MadeMistake& made() const { return all_[made_]; }

 private:
  PracticeCase() = default;
  std::string number(double shown, const NumberStyle& style) const;
  double to_shown(double base) const;

  std::vector<MadeMistake> all_;
  std::size_t made_ = 0;
  PracticeLevel level_ = PracticeLevel::plain;
  double truth_base_ = 0, other_truth_base_ = 0;  // here, and at another place of the range
  double truth_ = 0, raw_ = 0, shows_ = 0;
  int decimals_ = 1;
  std::vector<std::string> asked_;
};

}  // namespace fair_gauge
