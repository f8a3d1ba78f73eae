// What of a quantity has come together since the day began: light that fell, from readings one after another.
#pragma once

namespace fair_gauge {

/// One channel's readings of a day, as the area under them. Between two readings it goes straight; longer than
/// longest_gap_s nobody knows what it did, and that time is not counted.
class DayDose {
 public:
  static constexpr double longest_gap_s = 900;

  /// A reading, base units. \param seconds  since 1970 UTC, or since a log began that has no clock; a day begins at
  /// each multiple of 86 400. One that is not later than the last is left out.
  void take(double seconds, double value);
  /// There is no reading just now: what follows does not hang together with what was.
  void miss() { has_last_ = false; }

  /// Since the day of the last reading began, base units × seconds.
  double area() const { return area_; }
  /// For how long of that it was seen, seconds.
  double seen_s() const { return seen_s_; }

 private:
  double day_ = 0, area_ = 0, seen_s_ = 0;
  double seconds_ = 0, value_ = 0;  // of the last reading
  bool has_last_ = false, has_day_ = false;
};

}  // namespace fair_gauge
