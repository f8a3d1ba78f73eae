// A part that compares by itself: on what its limits trip, what its output does, and what lets it go again.
#pragma once

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "digital/registers.h"
#include "parts/part.h"

namespace fair_gauge {

/// How a part compares with its registers as they are.
struct AlarmRules {
  bool is_on = true;
  bool window = false;     ///< trips on either side; else above the upper limit, and released below the lower
  bool latched = false;    ///< stays until it is cleared
  bool interrupt = false;  ///< calls at every change of side, until it is cleared
  bool active_high = false;
  int faults = 1;         ///< readings in a row until it trips
  double hysteresis = 0;  ///< the way down is later by so much, compared units
  double whole = 0;       ///< the reading is cut to so much before it is compared, compared units; 0 → it is not
  bool upper_includes = false, lower_includes = false;  ///< whether the limit itself trips

  /// Whether somebody has to ask before the output goes back.
  bool waits_for_a_read() const { return latched || interrupt; }
};

/// \param layout     of the part \param values  of its registers
/// \returns an expression of the file that is not understood
Result<AlarmRules> alarm_rules(const ByteLayout& layout, const AlarmLayout& alarm, std::span<const unsigned> values,
                               const std::map<std::string, double>& settings = {});

/// What is stored, in what is compared: base units, or counts.
struct AlarmLimits {
  std::optional<double> upper, lower;
};

enum class AlarmSide { inside, above, below };

/// The comparing part itself, reading after reading.
class PartAlarm {
 public:
  PartAlarm(const AlarmRules& rules, const AlarmLimits& limits) : rules_(rules), limits_(limits) {}

  /// A conversion of it. \param compared  as the part has it: before any correction of ours
  void take(double compared);
  /// It is asked, as its file says how.
  void clear();

  AlarmSide side() const { return side_; }
  bool is_asserted() const { return asserted_; }
  /// Of its output, pulled up.
  bool is_pin_high() const { return asserted_ == rules_.active_high; }

 private:
  AlarmSide wanted_side(double compared) const;

  AlarmRules rules_;
  AlarmLimits limits_;
  AlarmSide side_ = AlarmSide::inside, next_ = AlarmSide::inside;
  int in_a_row_ = 0;
  bool asserted_ = false;
};

/// A change of its output.
struct AlarmEvent {
  std::size_t reading = 0;  ///< after which it came
  bool asserted = false;
  bool by_a_read = false;
  AlarmSide side = AlarmSide::inside;
};

struct AlarmCourse {
  std::vector<bool> asserted;  ///< after each reading
  std::vector<AlarmEvent> events;
  AlarmSide side = AlarmSide::inside;  ///< at the end
  bool is_asserted = false;
};

/// \param compared  readings in the order of time; one that is not a number is none
/// \param reads     before which of them it was asked, in their order
AlarmCourse run_alarm(const AlarmRules& rules, const AlarmLimits& limits, std::span<const double> compared,
                      std::span<const std::size_t> reads);

/// The rules in one sentence: "Trips above the upper limit after 2 readings in a row, …".
/// \param unit  symbol of what is compared, "°C"
std::string words_of(const AlarmRules& rules, const AlarmLayout& alarm, std::string_view unit);

}  // namespace fair_gauge
