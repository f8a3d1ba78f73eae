// One of the usual mistakes made on purpose: what a channel answers and shows then, for the simulation and for
// practice.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "diagnose/mistakes.h"

namespace fair_gauge {

class MadeMistake {
 public:
  /// Every mistake that the channel can have, one each way it can be made. The codes are those of `diagnose`.
  /// \param truth  base units, about which it is made: some mistakes are none elsewhere
  static Result<std::vector<MadeMistake>> all(const std::shared_ptr<const Bench>& bench,
                                              const std::shared_ptr<const Catalogue>& catalogue,
                                              const std::string& channel, double truth);
  /// The first way of this code; a problem that names the codes that there are.
  static Result<MadeMistake> of_code(const std::shared_ptr<const Bench>& bench,
                                     const std::shared_ptr<const Catalogue>& catalogue, const std::string& channel,
                                     const std::string& code);

  const std::string& code() const { return wrong_.code; }
  const std::string& words() const { return in_world_ && !wrong_.truly.empty() ? wrong_.truly : wrong_.words; }
  const std::string& fix() const { return wrong_.fix; }
  double prior() const { return wrong_.prior; }
  bool needs_number() const { return wrong_.needs_number; }

  /// True where what is wired, fitted or selected is another than the bench says, so that the raw number is another;
  /// false where the firmware's arithmetic is wrong, so that the shown number is.
  bool is_of_world() const { return in_world_; }
  /// True where the input is no reading at all: open, never started.
  bool is_state() const { return state_raw_.has_value(); }

  /// The raw number for a true value in base units, without noise; nothing where there is none.
  std::optional<double> raw_for(double truth) const;
  /// What the firmware makes of a raw number, the channel's unit; not a number where it shows nothing.
  double shows(double raw) const;
  std::vector<std::string> arithmetic(double raw) const;
  /// The chain as it truly is.
  const Chain& world() const { return *world_; }
  /// The chain as the bench says.
  const Chain& believed() const { return *believed_; }
  /// The device as it truly is.
  const Device& device() const { return truth_.devices.front(); }
  /// True where it sits in the sensor itself, so that another specimen of what the bench says does not have it.
  bool is_in_sensor() const;
  /// Of the rail that feeds it; 0 without one.
  double supply_v() const;

 private:
  MadeMistake() = default;
  std::shared_ptr<const Bench> bench_;
  std::shared_ptr<const Catalogue> catalogue_;
  std::shared_ptr<const Chain> believed_, world_;
  Bench truth_;  // of the channel alone
  Firmware right_, wrong_firmware_;
  Wrong wrong_;
  bool in_world_ = false;
  std::optional<double> state_raw_;
};

}  // namespace fair_gauge
