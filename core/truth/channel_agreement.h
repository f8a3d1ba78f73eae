// Channels that see the same, from their readings: what each says with how well it is known, and how one is made to
// agree with another.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "chain/chain.h"
#include "truth/agreement.h"
#include "truth/error_budget.h"

namespace fair_gauge {

/// Whether two channels may be held against one another: their wanted ranges overlap by half or more, so they may see
/// the same air, the same light, the same pressure.
bool may_see_the_same(const Channel& one, const Channel& other);

/// A channel's readings, corrected as it shows them.
struct ChannelReadings {
  const Chain* chain;
  Series series;
};

/// What several channels say now.
struct GroupReading {
  std::vector<Estimate> estimates;          ///< by the channels' names
  std::vector<std::vector<double>> shared;  ///< covariance by what they have in common, as compare_estimates takes it
  std::map<std::string, double> lags_seconds;  ///< by channel id, behind the first; empty unless asked for
};

/// The mean of each channel's last minute without its known bias. Channels without readings or without a budget are
/// left out. \param by_lag  the slowest at its latest, the others by their lags earlier, when they saw the same
GroupReading group_reading(const std::vector<ChannelReadings>& channels, bool by_lag);

/// Readings of two channels at the times of the first; equally long.
struct PairedReadings {
  std::vector<double> one, other;
};
PairedReadings paired_readings(const Series& one, const Series& other);

/// The correction that makes one channel agree with another. Over a small range a scale is not to be believed: then an
/// offset alone.
struct AgreeingCorrection {
  TwoWayLine line;
  double shift = 0;  ///< base units, at line.origin
  bool scale_known = false;
  bool lacks_accuracy =
      false;  ///< nobody has said how far the one that is followed may be off: the correction has no uncertainty
  Correction correction;
};
/// \param pairs     readings before any correction of the one that is changed, and as the other shows them
/// \param followed  the chain that it is to agree with: it becomes as good as that one, and their scatter
/// \param on        day, 2026-11-24
Result<AgreeingCorrection> correction_to_agree(const PairedReadings& pairs, const Chain& followed,
                                               const std::string& on);

}  // namespace fair_gauge
