// Two-point switching on the readings of a log: a heater or a cooler with a dead band, as firmware would do it.
#pragma once

#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "stream/channel_log.h"

namespace fair_gauge {

/// In the channel's unit.
struct DayGoal {
  double at_s = 0;  ///< seconds after midnight
  double goal = 0;

  bool operator==(const DayGoal&) const = default;
};

/// In the channel's unit.
struct SwitchRule {
  bool heats = true;  ///< on below goal − band and off above goal + band; false → a cooler, the other way round
  double goal = 0;
  double band = 0;  ///< half-width; equality changes nothing
  double minimum_on_s = 0;
  double minimum_off_s = 0;
  double every_s = 0;                  ///< only rows this far after the last one looked at; 0 → every row
  std::vector<DayGoal> schedule = {};  ///< by their times, of a log whose seconds are since 1970; empty → `goal`
  double stale_s = 0;                  ///< without a good reading for so long → the safe state; 0 → at once
  bool safe_on = false;                ///< that state
  std::optional<double> shutdown_above = {};  ///< once the reading is, off until somebody begins anew

  /// Since the last change of the schedule. \param seconds  since 1970, UTC
  double goal_at(double seconds) const;
};

enum class SwitchReason {
  wanted,       ///< the reading is beyond the band
  no_reading,   ///< none, or one that the part calls no reading
  implausible,  ///< outside what is plausible
  stale,        ///< nothing came for too long
  shutdown      ///< above the limit of it all
};

/// A change, and why.
struct SwitchDecision {
  std::size_t row = 0;  ///< place among the rows looked at, from 0; of stale the row after
  bool on = false;
  SwitchReason reason = SwitchReason::wanted;
  double reading = 0;  ///< in the channel's unit; not a number where there is none
  double goal = 0;     ///< that held then
};

struct Switched {
  std::size_t switches = 0;
  double on_s = 0;
  double share_on = 0;
  double longest_on_s = 0;
  bool chatter = false;                   ///< more than half of the changes within ten usual periods of the one before
  std::vector<bool> on;                   ///< of every row
  std::vector<SwitchDecision> decisions;  ///< the first hundred thousand
  bool is_shut_down = false;
};

/// What firmware compares the raw number with, so that it decides as the reading does.
struct CodeLimit {
  std::string compare;  ///< "<", "<=", ">" or ">="
  double code = 0;
  std::optional<double> means;  ///< the reading of that code, in the channel's unit
};
struct SwitchCodes {
  std::optional<CodeLimit> on, off;  ///< nothing where the readings of the codes do not run one way
  bool never_on = false;             ///< no raw number that is a reading switches on
  bool never_off = false;            ///< the same of off
};

/// "06:00 21; 22:00 18" as goals by their times, an empty text as none.
/// \returns what is no time of day or no value of the unit, or stands twice
Result<std::vector<DayGoal>> read_schedule(std::string_view text, const Unit& shown);
/// The same back. \param style  of its numbers
std::string schedule_text(const std::vector<DayGoal>& schedule, const NumberStyle& style = {});

/// A rule to begin with: to the middle of the wanted range, within the allowed error but no more than a twentieth of
/// it.
SwitchingRule first_rule(const Channel& channel);

/// What the switched thing does to the quantity: "heats", "dries", "raises it".
const char* switch_verb(bool raises, Dimension dimension);

/// The rule of a channel in its shown unit.
SwitchRule rule_of(const SwitchingRule& rule, const Unit& shown);

/// Carries a rule out row by row. A row without a good reading, or outside the plausible range, switches off at once,
/// or to the safe state once there was none for stale_s.
class SwitchOver {
 public:
  /// \param plausible  in the channel's unit
  /// \param period_s   usual time between rows
  SwitchOver(SwitchRule rule, const Range& plausible, double period_s)
      : rule_(std::move(rule)), plausible_(plausible), period_s_(period_s) {}
  void look(const LogReading& row);
  bool is_on() const { return on_; }
  const std::vector<SwitchDecision>& decisions() const { return so_far_.decisions; }
  /// Of all rows so far.
  Switched result() const;

 private:
  void change(bool to, SwitchReason reason, const LogReading& row);
  void pass(double until);
  void go_stale(const LogReading& row);

  SwitchRule rule_;
  Range plausible_;
  double period_s_;
  Switched so_far_;
  bool on_ = false;
  double changed_ = -std::numeric_limits<double>::infinity(), looked_ = changed_, on_since_ = 0;
  std::optional<double> begin_;
  double now_ = 0, last_good_ = 0;
  bool is_shut_ = false;
  std::size_t quick_ = 0;
};

/// A row without a good reading, or outside the plausible range, switches off at once. \param plausible  in the
/// channel's unit
Switched switch_on_log(const ChannelLog& log, const SwitchRule& rule, const Range& plausible);

SwitchCodes switch_codes(const Chain& chain, const SwitchRule& rule);

/// "on, 17.9 °C is below 18 °C", "off, no good reading for 12 s".
std::string words_of(const SwitchDecision& decision, const SwitchRule& rule, const Unit& shown,
                     const NumberStyle& style = {});

/// What came of it in sentences, the cautions last. \param noise  of the readings, in their unit
std::vector<std::string> switch_words(const SwitchRule& rule, const Switched& switched, const SwitchCodes& codes,
                                      double noise, const Unit& shown);

}  // namespace fair_gauge
