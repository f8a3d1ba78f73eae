// The usual mistakes, as rows: what each is called, how common it is, and the change that makes the wrong chain.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "diagnose/firmware.h"

namespace fair_gauge {

/// Where a mistake sits.
enum class MistakeOf {
  arithmetic,  ///< what the firmware works out
  world,       ///< what is wired, fitted or selected; the arithmetic is right
  either       ///< the same wrong chain either way
};

/// One way to be wrong. Several ways may share a code: each bad resistor value is one.
struct Wrong {
  std::string code;   ///< of the contract
  std::string words;  ///< "the divisor is 4095 where this converter has 4096 steps"
  std::string fix;
  std::string next;  ///< what to measure to tell it from others
  double prior = 1;  ///< how common the whole code is, beside the others
  MistakeOf of = MistakeOf::arithmetic;
  bool needs_number = false;  ///< it has a number of its own that is guessed
  std::function<void(Firmware&)> change;
  std::string truly = {};  ///< of one that is either: its words where what is fitted or set is another; empty → words
};

/// Every way to be wrong that this channel's chain has.
/// \param bench  has to outlive the rows  \param right  the firmware that does everything right
/// \param only   codes of the rows that are wanted; empty → all
std::vector<Wrong> wrongs_of(const Bench& bench, const Catalogue& catalogue, const Chain& chain, const Firmware& right,
                             std::span<const std::string_view> only = {});

/// What the files of the channel's parts, its sensor and its converter, say of usual mistakes with them.
/// \param own  a bench of this channel alone
std::vector<Mistake> mistakes_of_parts(const Bench& own, const Catalogue& catalogue);

}  // namespace fair_gauge
