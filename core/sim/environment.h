// The simulation: what the world does over a day, and what the devices of a bench answer to it.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <random>
#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// The course of one channel's quantity: a daily swing, a slow wander and a faster ripple around a base.
/// Pure: the same seed, channel and time give the same value.
class EnvironmentCourse {
 public:
  EnvironmentCourse(const Channel& channel, std::uint64_t seed);

  /// The true value in base units. \param seconds  since midnight of the first day
  double at(double seconds) const;

 private:
  double wander(double seconds, double period, std::uint64_t stream) const;

  double base_;
  double swing_;
  double ripple_;
  bool light_;
  std::uint64_t seed_;
};

/// What a hand does to a sensor: its reading goes an amount away, and comes back when it is let go.
struct SimulatedTouch {
  double change = 0;            ///< base units, in the end
  double began = 0;             ///< seconds
  std::optional<double> ended;  ///< nothing → it goes on
  double time_constant_s = 3;
  /// What comes on top of the true value.
  double at(double seconds) const;
};

/// The chain of a channel as the shed makes it at a moment: what other channels tell it is what they truly see then.
Result<Chain> chain_at(const Bench& bench, const Catalogue& catalogue, const Channel& channel, std::uint64_t seed,
                       double seconds);

/// How a simulated channel may fail.
enum class SimulatedFault { stuck, open, shorted, missing, spikes };

/// "stuck" → SimulatedFault::stuck; nothing for a name that is none. "open" and "short" are of the sensor.
std::optional<SimulatedFault> simulated_fault_from_text(std::string_view text);

/// A device that answers with raw numbers, by the chain's own forward and the converter's noise.
class SimulatedDevice {
 public:
  /// \param surroundings  the chain at a time, for a channel that others tell something; empty → always the same chain
  SimulatedDevice(Chain chain, std::uint64_t seed, std::function<Result<Chain>(double seconds)> surroundings = {});

  /// Takes the surroundings of a moment, before it is asked to answer then.
  void go_to(double seconds);

  /// The raw number for a true value; codes are clipped as a converter clips them. Whole unless it arrives converted.
  double answer(double world);

  /// The same with a fault; nothing where a reading is missing.
  std::optional<double> answer(double world, SimulatedFault fault);

 private:
  double as_reported(double code) const;

  Chain chain_;
  std::function<Result<Chain>(double)> surroundings_;
  std::mt19937_64 random_;
  std::optional<double> stuck_;
  std::vector<bool> is_quiet_;  // by link: nothing of it is another at every reading, whatever its surroundings
};

}  // namespace fair_gauge
