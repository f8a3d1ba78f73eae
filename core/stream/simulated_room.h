// A room that something heats or cools by a rule: what the sensor reads, what the rule decides, and what the room does
// then. A thermal mass that loses its heat to the outside, and a sensor that follows slowly.
#pragma once

#include <atomic>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "stream/switching.h"

namespace fair_gauge {

/// One run of it.
struct RoomRun {
  ChannelLog log;             ///< what the sensor reads, in the channel's unit
  std::vector<double> truth;  ///< the room itself, of every row, in the channel's unit
  Switched switched;
  double switches_a_day = 0;
  bool reaches_goal = false;  ///< the room came to the goal at all
  double over = 0;  ///< how far the room went beyond the goal since, upwards and downwards; the channel's unit
  double under = 0;
};

/// \param chain   of a temperature: its device answers with the converter's steps and noise
/// \param period  between two readings, s
/// \param lag_s   the sensor's time constant; 0 → it follows at once
/// \param hours   0.01 … 240
/// \param cancelled  once true, the run ends where it is
/// \returns a problem for another quantity, or a room without mass or loss
/// \source mass · dT/dt = power − loss · (T − outside), solved exactly between two readings
Result<RoomRun> run_in_room(const Chain& chain, const SwitchRule& rule, const SwitchedRoom& room,
                            const Range& plausible, double lag_s, double hours, std::uint64_t seed = 1,
                            const std::atomic<bool>* cancelled = nullptr);

/// A room from a recorded step: it was at rest without the heater or cooler, which then ran all the time.
/// \param readings  seconds and base units, in the order of time; from the moment that it was switched on
/// \param power_w   of what ran
/// \returns nothing where there are too few readings, or they do not go the way that it must
std::optional<SwitchedRoom> room_of_step(std::span<const std::pair<double, double>> readings, double power_w,
                                         bool heats);

/// "Reaches the goal; the room swings from 1.2 K below it to 1.6 K above, 38 changes a day, …" \param unit  the
/// channel's, for differences
std::vector<std::string> room_words(const RoomRun& run, const SwitchRule& rule, const SwitchedRoom& room,
                                    std::string_view unit);

}  // namespace fair_gauge
