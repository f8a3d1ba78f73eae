#include "stream/review.h"

#include "digital/registers.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <functional>
#include <numbers>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr double coarse = 1.0 / 3;

class Judge {
 public:
  Judge(const ChannelLog& log, const Chain& chain, const PartTimes& times, JumpRule jump_rule)
      : rows_(log.rows), log_(log), chain_(chain), times_(times), jump_rule_(jump_rule), touched_(log.rows.size()) {
    const Range range = chain.channel.plausible.value_or(times.range);
    const double one = chain.shown->from_base(range.from), other = chain.shown->from_base(range.to);
    least_ = std::min(one, other), most_ = std::max(one, other);
  }

  Review run() {
    review_.rows = log_.all_rows;
    mark_rows();
    const auto of_the_part = [&](std::size_t i) { return log_.faults[rows_[i].fault - 1].second; };
    find_runs(EventKind::not_a_number, [](std::size_t) { return std::string(translated("no number stands there")); });
    find_runs(EventKind::power_on_default, of_the_part);
    find_runs(EventKind::fault, of_the_part);
    find_runs(EventKind::clipped, [&](std::size_t i) {
      return translated("the raw number {:g} is an end of the converter: the input is there or beyond", rows_[i].raw);
    });
    find_runs(EventKind::implausible, [&](std::size_t) {
      return translated("outside what is plausible, {:.6g} to {:.6g} {}", least_, most_, symbol());
    });
    find_times();
    statistics();
    find_stuck();
    find_jumps();
    std::ranges::stable_sort(review_.events, {}, &LogEvent::from_row);
    for (LogEvent& event : review_.events)  // from places in rows_ to rows of the log
      event.from_row = rows_[event.from_row].row, event.to_row = rows_[event.to_row].row;
    return std::move(review_);
  }

 private:
  std::string symbol() const { return std::string(chain_.shown->symbol); }

  // What is wrong with single rows, found in one go.
  static constexpr std::uint16_t bit_of(EventKind kind) {
    return static_cast<std::uint16_t>(1u << static_cast<unsigned>(kind));
  }
  void mark_rows() {
    marks_.assign(rows_.size(), 0);
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      const LogReading& row = rows_[i];
      std::uint16_t mark = is_end_code(row.raw) ? bit_of(EventKind::clipped) : std::uint16_t{0};
      if (row.fault > 0)
        mark |= bit_of(log_.faults[row.fault - 1].first == "power-on-default" ? EventKind::power_on_default
                                                                              : EventKind::fault);
      else if (row.raw != row.raw)
        mark |= bit_of(EventKind::not_a_number);
      else if (row.is_good() && !(row.reading >= least_ && row.reading <= most_))
        mark |= bit_of(EventKind::implausible);
      marks_[i] = mark, all_marks_ |= mark;
    }
  }

  // Of whole raw numbers worked out once.
  bool is_end_code(double raw) {
    if (!(raw == raw) || !has_end_codes_) return false;
    constexpr double remembered = 1u << 16;
    if (!(raw >= 0 && raw < remembered)) return works_out_end_code(raw);
    const auto place = static_cast<std::size_t>(raw);
    if (static_cast<double>(place) != raw) return works_out_end_code(raw);
    if (end_codes_.empty()) end_codes_.assign(static_cast<std::size_t>(remembered), unknown);
    if (end_codes_[place] == unknown) end_codes_[place] = works_out_end_code(raw) ? 1 : 0;
    return end_codes_[place] == 1;
  }
  bool works_out_end_code(double raw) const {
    double code = raw;
    for (std::size_t i = chain_.raw_node; i > chain_.converter_node; --i) {
      const auto inner = chain_.links[i - 1]->inverse(code);
      if (!inner) return false;
      code = *inner;
    }
    return code >= chain_.converter->largest_code() || code <= chain_.converter->lowest_code();
  }

  void add(EventKind kind, std::size_t from, std::size_t to, std::string words) {
    for (std::size_t i = from; i <= to; ++i) touched_[i] = true;
    review_.events.push_back({kind, from, to, std::move(words)});
  }

  // Neighbouring rows of one kind are one event.
  void find_runs(EventKind kind, const std::function<std::string(std::size_t)>& words) {
    const std::uint16_t bit = bit_of(kind);
    if ((all_marks_ & bit) == 0) return;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      if ((marks_[i] & bit) == 0) continue;
      const std::size_t from = i;
      while (i + 1 < rows_.size() && (marks_[i + 1] & bit) != 0) ++i;
      add(kind, from, i, words(from));
    }
  }

  void find_times() {
    if (!log_.has_time || rows_.size() < 2) return;
    double latest = rows_[0].seconds;
    bool was_back = false;
    std::size_t fast_from = 0;
    bool fast = false;
    const auto end_fast = [&](std::size_t last) {
      if (std::exchange(fast, false))
        add(EventKind::too_fast, fast_from, last,
            translated("rows come faster than the part converts, which takes {}",
                       with_prefix(times_.conversion_s, "s", 3)));
    };
    for (std::size_t i = 1; i < rows_.size(); ++i) {
      const double step = rows_[i].seconds - rows_[i - 1].seconds;
      if (!rows_[i].is_timed) continue;
      const bool is_known = rows_[i - 1].is_timed;
      const bool back = step < 0;
      if (back)
        add(EventKind::out_of_order, i, i, translated("its time is earlier than that of the row before"));
      else if (is_known && step > gap_periods * log_.period_s &&
               rows_[i].seconds - latest > gap_periods * log_.period_s)
        add(EventKind::gap, i - 1, i, translated("{} without a row", duration_text(step)));
      // A clock that was set back goes on from there; a single row out of order does not.
      if (was_back && !back && rows_[i].seconds <= latest) latest = rows_[i].seconds;
      latest = std::max(latest, rows_[i].seconds);
      was_back = back;
      const bool close = is_known && !back && times_.conversion_s > 0 && step < times_.conversion_s * (1 - 1e-9);
      if (close && !fast) fast = true, fast_from = i - 1;
      if (!close) end_fast(i - 1);
    }
    end_fast(rows_.size() - 1);
  }

  bool counts(std::size_t i) const { return rows_[i].is_good() && !excluded_[i]; }

  void statistics() {
    excluded_.assign(rows_.size(), false);
    for (const LogEvent& event : review_.events)
      if (event.kind == EventKind::power_on_default || event.kind == EventKind::implausible ||
          event.kind == EventKind::fault)
        for (std::size_t i = event.from_row; i <= event.to_row; ++i) excluded_[i] = true;
    double n = 0, sum = 0, timed = 0, time_sum = 0, first = 0;
    std::vector<double> differences;
    differences.reserve(rows_.size()), raw_differences_.reserve(rows_.size());
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      if (!counts(i)) continue;
      const double value = rows_[i].reading;
      if (n == 0) review_.minimum = review_.maximum = value, first = rows_[i].seconds;
      review_.minimum = std::min(review_.minimum, value);
      review_.maximum = std::max(review_.maximum, value);
      ++n, sum += value;
      if (rows_[i].is_timed) ++timed, time_sum += rows_[i].seconds - first;
      if (i > 0 && counts(i - 1)) {
        differences.push_back(value - rows_[i - 1].reading);
        raw_differences_.push_back(rows_[i].raw - rows_[i - 1].raw);
      }
    }
    review_.good = static_cast<std::size_t>(n);
    if (n == 0) return;
    review_.mean = sum / n;
    double squares = 0, tt = 0, tv = 0;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      if (!counts(i)) continue;
      const double value = rows_[i].reading - review_.mean, time = rows_[i].seconds - first - time_sum / timed;
      squares += value * value;
      if (rows_[i].is_timed) tt += time * time, tv += time * value;
    }
    review_.standard_deviation = n > 1 ? std::sqrt(squares / (n - 1)) : 0;
    review_.drift_per_hour = tt > 0 ? tv / tt * 3600 : 0;
    review_.noise = noise_of(differences);
    review_.noise_beside_swings = std::min(review_.noise, noise_beside_swings(differences));
    const double step = step_at(chain_, chain_.shown->to_base(review_.mean)) / chain_.shown->scale;
    review_.noise_steps = step > 0 && std::isfinite(step) ? review_.noise / step : 0;
    // A value that arrives converted has as many codes as decimals fit into what is wanted.
    const Range& wanted = chain_.channel.wanted;
    const double codes = chain_.channel.arrives_converted()
                             ? std::max(1.0, (wanted.to - wanted.from) / chain_.shown->scale / step)
                             : chain_.converter->largest_code() - chain_.converter->lowest_code() + 1,
                 bits = std::log2(codes);
    review_.effective_bits =
        review_.noise_steps > 0 ? std::min(bits, bits - std::log2(review_.noise_steps * std::sqrt(12.0))) : bits;
  }

  // How long the same raw number may stand by chance: with noise of `sigma` steps around the middle of a step it comes
  // again with the chance that both fall into that step.
  void find_stuck() {
    const double sigma = raw_noise();
    if (!(sigma >= coarse) || rows_.size() < 3) return;
    const double again = std::erf(0.5 / (sigma * std::numbers::sqrt2));
    constexpr double seldom = 1e-4;  // of a log
    const double longest = std::log(seldom / static_cast<double>(rows_.size())) / std::log(again);
    const auto limit = static_cast<std::size_t>(std::max(5.0, std::ceil(longest)));
    for (std::size_t i = 0; i < rows_.size();) {
      std::size_t end = i + 1;
      while (end < rows_.size() && rows_[end].raw == rows_[i].raw) ++end;
      if (end - i > limit && rows_[i].raw == rows_[i].raw && !is_end_code(rows_[i].raw) && rows_[i].fault == 0)
        add(EventKind::stuck, i, end - 1,
            translated("the raw number {:g} stands for {} rows, noise alone allows about {}", rows_[i].raw, end - i,
                       limit));
      i = end;
    }
  }

  // Of one step in raw numbers: one that is shifted up or scaled has wider ones.
  double raw_width() const {
    return chain_.channel.arrives_converted()
               ? std::pow(10.0, -chain_.channel.arrives->decimals)
               : std::exp2(std::round(std::log2(std::max(
                     1.0, (raw_at(chain_.converter->largest_code()) + 1) / (chain_.converter->largest_code() + 1)))));
  }

  // In such steps.
  double raw_noise() const {
    const double width = raw_width();
    // Long runs say nothing of the noise around them.
    std::vector<double> moving;
    moving.reserve(raw_differences_.size());
    std::size_t still = 0;
    for (const double difference : raw_differences_) {
      still = difference == 0 ? still + 1 : 0;
      if (still < 20) moving.push_back(difference / width);
    }
    return noise_of(moving);
  }

  double raw_at(double code) const {
    for (std::size_t i = chain_.converter_node; i < chain_.raw_node; ++i)
      code = chain_.links[i]->forward(code).value_or(code);
    return code;
  }

  void find_jumps() {
    const bool begins_anew = chain_.derived && chain_.derived->setup().quantity->accumulates;  // at midnight
    if (times_.response_s <= 0 || begins_anew) return;
    const bool any = jump_rule_ == JumpRule::all;
    const double noisy = any ? 0 : 6 * std::numbers::sqrt2 * review_.noise, one_step = any ? -1 : 1.001 * raw_width();
    double last_step = std::nan(""), allowed = 0;
    for (std::size_t i = 1; i < rows_.size(); ++i) {
      if (!rows_[i].is_good() || !rows_[i - 1].is_good() || touched_[i] || touched_[i - 1]) continue;
      if (!rows_[i].is_timed || !rows_[i - 1].is_timed) continue;
      const double step = rows_[i].seconds - rows_[i - 1].seconds;
      if (step != last_step) allowed = noisy + (most_ - least_) * -std::expm1(-step / times_.response_s);
      last_step = step;
      if (const double moved = std::abs(rows_[i].reading - rows_[i - 1].reading);
          moved > allowed && std::abs(rows_[i].raw - rows_[i - 1].raw) > one_step)
        jumps_.push_back({EventKind::jump, i - 1, i,
                          translated("{:.3g} {} in {}: the sensor follows with a time constant of {}", moved, symbol(),
                                     with_prefix(step, "s", 3), with_prefix(times_.response_s, "s", 3))});
    }
    // Jumps that touch one another, as there and back again, are one event.
    for (LogEvent& jump : jumps_) {
      if (!review_.events.empty() && review_.events.back().kind == EventKind::jump &&
          review_.events.back().to_row >= jump.from_row)
        review_.events.back().to_row = jump.to_row;
      else
        review_.events.push_back(std::move(jump));
    }
  }

  const std::vector<LogReading>& rows_;
  const ChannelLog& log_;
  const Chain& chain_;
  const PartTimes& times_;
  JumpRule jump_rule_;
  double least_ = 0, most_ = 0;
  std::vector<bool> touched_, excluded_;
  std::vector<std::uint16_t> marks_;  // bits of what is wrong with each row
  std::uint16_t all_marks_ = 0;
  static constexpr std::int8_t unknown = -1;
  std::vector<std::int8_t> end_codes_;  // by raw number: whether it is one
  bool has_end_codes_ = chain_.converter->counts().empty();
  std::vector<double> raw_differences_;
  std::vector<LogEvent> jumps_;
  Review review_;
};

}  // namespace

std::span<const EnumName<EventKind>> enum_names(EventKind) {
  static constexpr EnumName<EventKind> names[] = {{EventKind::not_a_number, to_translate("not-a-number")},
                                                  {EventKind::gap, to_translate("gap")},
                                                  {EventKind::out_of_order, to_translate("out-of-order")},
                                                  {EventKind::clipped, to_translate("clipped")},
                                                  {EventKind::stuck, to_translate("stuck")},
                                                  {EventKind::jump, to_translate("jump")},
                                                  {EventKind::implausible, to_translate("implausible")},
                                                  {EventKind::power_on_default, to_translate("power-on-default")},
                                                  {EventKind::too_fast, to_translate("too-fast")},
                                                  {EventKind::fault, to_translate("fault")}};
  return names;
}

PartTimes part_times(const Bench& bench, const Catalogue& catalogue, const Chain& chain) {
  PartTimes times;
  if (chain.derived) {  // as quick as its first input
    times = part_times(bench, catalogue, *chain.inputs.front());
    times.range = {-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
    return times;
  }
  const Part* part = catalogue.find(chain.part_id);
  if (!part) {  // of a value that arrives nobody may know the part
    times.range = {-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()};
    return times;
  }
  const Device* device = find_by_id(bench.devices, chain.channel.device);
  times.response_s = part->response_s;
  times.conversion_s = device ? conversion_time(*part, device->settings, device->registers) : part->conversion_s;
  if (const PartQuantity* quantity = part->measures(chain.channel.quantity))
    times.range = {quantity->minimum, quantity->maximum};
  return times;
}

Range plausible_range(const Chain& chain, const PartTimes& times) {
  const Range base = chain.channel.plausible.value_or(times.range);
  const double one = chain.shown->from_base(base.from), other = chain.shown->from_base(base.to);
  return {std::min(one, other), std::max(one, other)};
}

Review review_log(const ChannelLog& log, const Chain& chain, const PartTimes& times, JumpRule jumps) {
  const auto own = own_rows(log);
  return Judge(own ? *own : log, chain, times, jumps).run();
}

}  // namespace fair_gauge
