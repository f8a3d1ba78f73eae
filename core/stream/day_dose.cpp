#include "stream/day_dose.h"

#include <algorithm>
#include <cmath>

namespace fair_gauge {

void DayDose::take(double seconds, double value) {
  constexpr double day_s = 86'400;
  if (!std::isfinite(seconds) || !std::isfinite(value)) return miss();
  if (has_last_ && seconds <= seconds_) return;
  const double day = std::floor(seconds / day_s);
  if (!has_day_ || day != day_) area_ = seen_s_ = 0;
  if (has_last_ && seconds - seconds_ <= longest_gap_s) {
    // Of a stretch over midnight the part after it.
    const double from = std::max(seconds_, day * day_s), share = (from - seconds_) / (seconds - seconds_);
    const double at_from = value_ + share * (value - value_);
    area_ += (at_from + value) / 2 * (seconds - from);
    seen_s_ += seconds - from;
  }
  day_ = day, seconds_ = seconds, value_ = value;
  has_last_ = has_day_ = true;
}

}  // namespace fair_gauge
