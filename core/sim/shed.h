// The simulated shed: what the world does over a day, and what the devices of a bench answer to it.
#pragma once

#include <cstdint>
#include <random>
#include <string>

#include "chain/chain.h"

namespace fair_gauge {

/// The course of one channel's quantity: a daily swing, a slow wander and a faster ripple around a base.
/// Pure: the same seed, channel and time give the same value.
class ShedCourse {
 public:
  ShedCourse(const Channel& channel, std::uint64_t seed);

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

/// A device that answers with raw numbers, by the chain's own forward and the converter's noise.
class SimulatedDevice {
 public:
  SimulatedDevice(Chain chain, std::uint64_t seed);

  /// The raw number for a true value; codes are clipped as a converter clips them.
  std::uint32_t answer(double world);

 private:
  Chain chain_;
  std::mt19937_64 random_;
};

}  // namespace fair_gauge
