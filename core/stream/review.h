// What is wrong with a signal: noise, drift, and events named by kind and place.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "stream/channel_log.h"

namespace fair_gauge {

enum class EventKind {
  not_a_number,
  gap,           ///< more than 2.5 usual periods between two rows
  out_of_order,  ///< a row whose time is earlier than the one before
  clipped,       ///< an end code of the converter
  stuck,         ///< the same raw number for longer than the log's own noise allows
  jump,          ///< a step that the part's own response cannot have made
  implausible,   ///< outside the channel's plausible range
  power_on_default,
  too_fast,  ///< rows closer together than a conversion takes
  fault      ///< the part's own, in its bytes
};
std::span<const EnumName<EventKind>> enum_names(EventKind);

struct LogEvent {
  EventKind kind = EventKind::gap;
  std::size_t from_row = 0;  ///< rows of data, from 1
  std::size_t to_row = 0;
  std::string words;
};

/// In the channel's unit.
struct Review {
  std::size_t rows = 0;
  std::size_t good = 0;  ///< with a reading, in no event of a power-on value, an implausible one or a fault
  double mean = 0, minimum = 0, maximum = 0, standard_deviation = 0;
  double noise = 0;                ///< standard deviation from row to row, drift taken out
  double noise_beside_swings = 0;  ///< of it what slow swings of the signal do not explain
  double noise_steps = 0;          ///< in steps of the converter at the mean
  double effective_bits = 0;       ///< n − log2(noise_steps · √12), n at most
  double drift_per_hour = 0;       ///< by least squares
  std::vector<LogEvent> events;    ///< by their first row
};

/// What a part's own times say of a channel.
struct PartTimes {
  double response_s = 0;    ///< time constant; 0 → not stated: nothing is a jump
  double conversion_s = 0;  ///< 0 → none of its own: nothing is too fast
  Range range;              ///< of the part, base units: plausible where the channel says nothing
};

PartTimes part_times(const Bench& bench, const Catalogue& catalogue, const Chain& chain);

/// The channel's own plausible range, else the part's; in the channel's unit.
Range plausible_range(const Chain& chain, const PartTimes& times);

/// What is more than the sensor can follow.
enum class JumpRule {
  all,          ///< also of fast rows what their noise does
  beyond_noise  ///< only what six times the noise and one step of the converter do not explain
};

/// \source noise by the differences of neighbours (von Neumann); effective bits of a quantiser of the same noise
Review review_log(const ChannelLog& log, const Chain& chain, const PartTimes& times, JumpRule jumps = JumpRule::all);

}  // namespace fair_gauge
