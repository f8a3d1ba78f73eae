#include "stream/switching.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "language/translation.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

constexpr double just = 1e-9;  // of a second: times are sums of decimals

// The raw numbers of a chain from one end to the other, and their readings in the channel's unit. A value that arrives
// converted is counted in units of its last decimal, ten times around the wanted range.
class Codes {
 public:
  explicit Codes(const Chain& chain) : chain_(chain) {
    if (const Channel& channel = chain.channel; channel.arrives_converted()) {
      decimals_ = std::pow(10.0, channel.arrives->decimals);
      const Unit& unit = *unit_by_ucum(channel.arriving_unit());
      const double beyond = 10 * (channel.wanted.to - channel.wanted.from);
      least_ = std::llround(unit.from_base(channel.wanted.from - beyond) * decimals_);
      most_ = std::llround(unit.from_base(channel.wanted.to + beyond) * decimals_);
      first_ = edge(true);
      last_ = edge(false);
      return;
    }
    least_ = static_cast<std::int64_t>(outside(chain.converter->lowest_code()));
    most_ = static_cast<std::int64_t>(outside(chain.converter->largest_code()));
    if (chain.raw_node > chain.converter_node && least_ == 0) {  // low bits that are not used count as well
      const double codes = chain.converter->largest_code() + 1;
      const double wide = std::exp2(std::ceil(std::log2(static_cast<double>(most_) + 1)));
      most_ = std::max(most_, static_cast<std::int64_t>(std::max(codes, wide)) - 1);
    }
    // Where readings begin and end; between them every code has one.
    first_ = std::max(least_, edge(true));
    last_ = edge(false);
  }
  double reading(std::int64_t code) const {
    const auto base = read_raw(chain_, raw(code));
    return base ? chain_.shown->from_base(*base) : std::nan("");
  }
  double raw(std::int64_t code) const { return static_cast<double>(code) / decimals_; }
  std::int64_t first() const { return first_; }
  std::int64_t last() const { return last_; }
  bool any() const { return first_ <= last_; }

  /// The first code from `first` on whose reading is no longer on the side of the first one; last + 1 if there is none.
  template <class Side>
  std::int64_t boundary(Side side) const {
    std::int64_t low = first_, high = last_ + 1;
    const bool at_first = side(reading(first_));
    while (low < high) {
      const std::int64_t middle = low + (high - low) / 2;
      if (side(reading(middle)) == at_first)
        low = middle + 1;
      else
        high = middle;
    }
    return low;
  }

 private:
  double outside(double code) const {
    for (std::size_t i = chain_.converter_node; i < chain_.raw_node; ++i)
      code = chain_.links[i]->forward(code).value_or(code);
    return code;
  }
  // By steps that halve from a code in the middle of the wanted range, which has a reading if any has.
  std::int64_t edge(bool lower) const {
    std::int64_t inside = most_ + 1;
    const Range& wanted = chain_.channel.wanted;
    for (int i = 0; i <= 20 && inside > most_; ++i) {
      const auto raw = raw_for(chain_, wanted.from + (wanted.to - wanted.from) * ((i * 7 + 10) % 21) / 20);
      const auto code = raw ? std::llround(*raw * decimals_) : 0;
      if (raw && !std::isnan(reading(code))) inside = code;
    }
    for (std::int64_t i = 0; i <= 4096 && inside > most_; ++i)
      if (const auto code = least_ + (most_ - least_) / 4096 * i; !std::isnan(reading(code))) inside = code;
    if (inside > most_) return lower ? 0 : -1;
    std::int64_t outside = lower ? least_ - 1 : most_ + 1;
    while (std::abs(outside - inside) > 1) {
      const std::int64_t middle = inside + (outside - inside) / 2;
      (std::isnan(reading(middle)) ? outside : inside) = middle;
    }
    return inside;
  }
  const Chain& chain_;
  double decimals_ = 1;  // codes to one unit of the raw number
  std::int64_t least_ = 0, most_ = 0, first_ = 0, last_ = -1;
};

// Code comparisons that are true exactly where reading < limit (or > limit), if the codes run one way.
std::optional<CodeLimit> limit_of(const Codes& codes, bool below, double limit) {
  const auto side = [&](double reading) { return below ? reading < limit : reading > limit; };
  const std::int64_t first = codes.first(), last = codes.last(), end = codes.boundary(side);
  const bool at_first = side(codes.reading(first));
  CodeLimit found;
  if (end > last) {
    // All of them are on one side: a comparison with the code beyond them, which is no reading, or never true.
    found = at_first ? CodeLimit{"<=", codes.raw(last), codes.reading(last)}
                     : CodeLimit{"<", codes.raw(first), codes.reading(first)};
  } else {
    found = at_first ? CodeLimit{"<", codes.raw(end), codes.reading(end)}
                     : CodeLimit{">=", codes.raw(end), codes.reading(end)};
  }
  // Proven over all codes, or over many of a wide range and all around the limit.
  const auto decides = [&](std::int64_t code) {
    const double number = codes.raw(code);
    return found.compare == "<"    ? number < found.code
           : found.compare == "<=" ? number <= found.code
                                   : number >= found.code;
  };
  const std::int64_t stride = std::max<std::int64_t>(1, (last - first) >> 16);
  for (std::int64_t code = first; code <= last; code += stride)
    if (decides(code) != side(codes.reading(code))) return std::nullopt;
  for (std::int64_t code = std::max(first, end - 1000); code <= std::min(last, end + 1000); ++code)
    if (decides(code) != side(codes.reading(code))) return std::nullopt;
  return found;
}

}  // namespace

double SwitchRule::goal_at(double seconds) const {
  if (schedule.empty()) return goal;
  constexpr double day_s = 86'400;
  const double at = seconds - day_s * std::floor(seconds / day_s);
  const auto after = std::ranges::upper_bound(schedule, at, {}, &DayGoal::at_s);
  return after == schedule.begin() ? schedule.back().goal : (after - 1)->goal;
}

// Each goal stands behind its time; where the next time begins is where this one's words end.
Result<std::vector<DayGoal>> read_schedule(std::string_view text, const Unit& shown) {
  const auto is_digit = [](char c) { return c >= '0' && c <= '9'; };
  const auto refused = [](std::string wrong) {
    return Problem{std::move(wrong), translated("times of day with their goals: 06:00 21; 22:00 18")};
  };
  std::vector<DayGoal> schedule;
  std::size_t at = 0;
  const auto skip = [&](std::string_view what) {
    while (at < text.size() && what.find(text[at]) != std::string_view::npos) ++at;
  };
  for (skip(" ;,\n\t"); at < text.size(); skip(" ;,\n\t")) {
    int parts[2] = {};
    for (int part = 0; part < 2; ++part) {
      const std::size_t begin = at;
      while (at < text.size() && is_digit(text[at]) && at - begin < 2)
        parts[part] = parts[part] * 10 + (text[at++] - '0');
      if (at == begin || (part == 0 && (at >= text.size() || text[at] != ':')))
        return refused(translated("\"{}\" begins with no time of day", text.substr(begin, 12)));
      if (part == 0) ++at;
    }
    if (parts[0] > 23 || parts[1] > 59) return refused(translated("{:02}:{:02} is no time of day", parts[0], parts[1]));
    // Up to the digits before the next colon.
    const std::size_t colon = text.find(':', at);
    std::size_t end = colon == std::string_view::npos ? text.size() : colon;
    while (colon != std::string_view::npos && end > at && is_digit(text[end - 1])) --end;
    std::string words(text.substr(at, end - at));
    words.erase(words.find_last_not_of(" ;,\n\t") + 1);
    const auto goal = parse_quantity(words, shown.dimension, &shown);
    if (!goal) return refused(fmt::format("{:02}:{:02}: {}", parts[0], parts[1], goal.problem().wrong));
    const double seconds = 3600.0 * parts[0] + 60.0 * parts[1];
    if (std::ranges::find(schedule, seconds, &DayGoal::at_s) != schedule.end())
      return refused(translated("{:02}:{:02} stands twice", parts[0], parts[1]));
    schedule.push_back({seconds, shown.from_base(goal->base)});
    at = end;
  }
  std::ranges::sort(schedule, {}, &DayGoal::at_s);
  return schedule;
}

std::string schedule_text(const std::vector<DayGoal>& schedule, const NumberStyle& style) {
  std::string text;
  for (const DayGoal& each : schedule) {
    const int minutes = static_cast<int>(std::lround(each.at_s / 60));
    text += fmt::format("{}{:02}:{:02} {}", text.empty() ? "" : "; ", minutes / 60, minutes % 60,
                        shortest(each.goal, style));
  }
  return text;
}

void SwitchOver::change(bool to, SwitchReason reason, const LogReading& row) {
  constexpr std::size_t most_told = 100'000;
  if (std::isfinite(changed_) && now_ - changed_ <= 10 * period_s_ + just) ++quick_;
  ++so_far_.switches;
  on_ = to;
  if (to) on_since_ = now_;
  if (!to) so_far_.longest_on_s = std::max(so_far_.longest_on_s, now_ - on_since_);
  changed_ = now_;
  if (so_far_.decisions.size() < most_told)
    so_far_.decisions.push_back({so_far_.on.size(), to, reason,
                                 reason == SwitchReason::stale ? std::nan("") : row.reading, rule_.goal_at(now_)});
}

void SwitchOver::pass(double until) {
  if (std::isfinite(until) && until > now_) {
    if (on_) so_far_.on_s += until - now_;
    now_ = until;
  }
}

// Between two rows nothing came for too long: then, not with the next row.
void SwitchOver::go_stale(const LogReading& row) {
  const double at = last_good_ + rule_.stale_s;
  if (rule_.stale_s <= 0 || is_shut_ || on_ == rule_.safe_on || !(row.seconds > at) || at < now_) return;
  pass(at);
  change(rule_.safe_on, SwitchReason::stale, row);
}

void SwitchOver::look(const LogReading& row) {
  if (!begin_) begin_ = now_ = last_good_ = row.seconds;
  go_stale(row);
  pass(row.seconds);
  if (now_ - looked_ >= rule_.every_s - just) {
    looked_ = now_;
    const bool is_good = row.is_good() && row.fault == 0;
    const bool usable = is_good && row.reading >= plausible_.from && row.reading <= plausible_.to;
    if (usable) last_good_ = now_;
    const bool is_lost = !usable && now_ - last_good_ >= rule_.stale_s - just;
    is_shut_ = is_shut_ || (usable && rule_.shutdown_above && row.reading > *rule_.shutdown_above);
    const double goal = rule_.goal_at(now_), low = goal - rule_.band, high = goal + rule_.band;
    const bool wants_on = rule_.heats ? row.reading < low : row.reading > high;
    const bool wants_off = rule_.heats ? row.reading > high : row.reading < low;
    if (is_shut_) {
      if (on_) change(false, SwitchReason::shutdown, row);
    } else if (is_lost) {
      if (on_ != rule_.safe_on)
        change(rule_.safe_on, is_good ? SwitchReason::implausible : SwitchReason::no_reading, row);
    } else if (on_ && usable && wants_off && now_ - changed_ >= rule_.minimum_on_s - just) {
      change(false, SwitchReason::wanted, row);
    } else if (!on_ && usable && wants_on && now_ - changed_ >= rule_.minimum_off_s - just) {
      change(true, SwitchReason::wanted, row);
    }
  }
  so_far_.on.push_back(on_);
}

Switched SwitchOver::result() const {
  Switched result = so_far_;
  if (on_) result.longest_on_s = std::max(result.longest_on_s, now_ - on_since_);
  const double begin = begin_.value_or(now_);
  result.share_on = now_ > begin ? result.on_s / (now_ - begin) : 0;
  result.chatter = quick_ * 2 > result.switches;
  result.is_shut_down = is_shut_;
  return result;
}

Switched switch_on_log(const ChannelLog& log, const SwitchRule& rule, const Range& plausible) {
  SwitchOver over(rule, plausible, log.period_s);
  for (const LogReading& row : log.rows) over.look(row);
  return over.result();
}

SwitchCodes switch_codes(const Chain& chain, const SwitchRule& rule) {
  if (chain.inputs.size() > 1 && chain.inputs[1]) return {};  // the other channel decides with it
  if (!rule.schedule.empty()) return {};                      // so does the time
  const Codes codes(chain);
  if (!codes.any()) return {};
  const double on = rule.heats ? rule.goal - rule.band : rule.goal + rule.band;
  const double off = rule.heats ? rule.goal + rule.band : rule.goal - rule.band;
  SwitchCodes found{limit_of(codes, rule.heats, on), limit_of(codes, !rule.heats, off)};
  // The readings run one way: those at the ends are the least and the most.
  const auto none_beyond = [&](bool below, double limit) {
    return std::ranges::none_of(std::array{codes.first(), codes.last()}, [&](std::int64_t end) {
      return below ? codes.reading(end) < limit : codes.reading(end) > limit;
    });
  };
  found.never_on = found.on && none_beyond(rule.heats, on);
  found.never_off = found.off && none_beyond(!rule.heats, off);
  return found;
}

SwitchingRule first_rule(const Channel& channel) {
  const double twentieth = (channel.wanted.to - channel.wanted.from) / 20;
  const double digit = std::pow(10, std::floor(std::log10(twentieth)));
  const double step = digit / 10;  // of the goal
  const double middle = std::midpoint(channel.wanted.from, channel.wanted.to);
  return {.goal = std::round(middle / step) * step,
          .band = std::min(channel.tolerance, std::floor(twentieth / digit) * digit)};
}

const char* switch_verb(bool raises, Dimension dimension) {
  if (dimension == Dimension::temperature) return raises ? translated("heats") : translated("cools");
  if (dimension == Dimension::humidity) return raises ? translated("humidifies") : translated("dries");
  if (dimension == Dimension::illuminance) return raises ? translated("lights") : translated("shades");
  return raises ? translated("raises it") : translated("lowers it");
}

SwitchRule rule_of(const SwitchingRule& rule, const Unit& shown) {
  SwitchRule shown_rule{rule.heats,        shown.from_base(rule.goal), rule.band / shown.scale,
                        rule.minimum_on_s, rule.minimum_off_s,         rule.every_s};
  for (const ScheduledGoal& each : rule.schedule)
    shown_rule.schedule.push_back({each.at_s, shown.from_base(each.goal)});
  std::ranges::stable_sort(shown_rule.schedule, {}, &DayGoal::at_s);
  shown_rule.stale_s = rule.stale_s, shown_rule.safe_on = rule.safe_on;
  if (rule.shutdown_above) shown_rule.shutdown_above = shown.from_base(*rule.shutdown_above);
  return shown_rule;
}

std::string words_of(const SwitchDecision& decision, const SwitchRule& rule, const Unit& shown,
                     const NumberStyle& style) {
  const auto value = [&](double each) { return with_unit(each, 2, shown.symbol, style); };
  std::string state = decision.on ? translated("on") : translated("off");
  switch (decision.reason) {
    case SwitchReason::wanted: {
      const bool below = rule.heats == decision.on;
      return translated("{}, {} is {} {}", state, value(decision.reading),
                        below ? translated("below") : translated("above"),
                        value(decision.goal + (below ? -rule.band : rule.band)));
    }
    case SwitchReason::no_reading:
      return rule.stale_s > 0 ? translated("{}, no good reading for {}", state, duration_text(rule.stale_s))
                              : translated("{}, there is no good reading", state);
    case SwitchReason::implausible:
      return translated("{}, {} is outside what is plausible", state, value(decision.reading));
    case SwitchReason::stale: return translated("{}, nothing came for {}", state, duration_text(rule.stale_s));
    case SwitchReason::shutdown:
      return translated("{} until somebody begins anew, {} is above {}", state, value(decision.reading),
                        value(rule.shutdown_above.value_or(0)));
  }
  return state;
}

namespace {

// Of a limit that no raw number reaches.
std::string never_words(const SwitchRule& rule, bool on, const Unit& shown) {
  const bool below = rule.heats == on;
  return translated("it never switches {}: no raw number reads {} {}", on ? translated("on") : translated("off"),
                    below ? translated("below") : translated("above"),
                    with_unit(rule.goal + (below ? -rule.band : rule.band), 2, shown.symbol));
}

}  // namespace

std::vector<std::string> switch_words(const SwitchRule& rule, const Switched& switched, const SwitchCodes& codes,
                                      double noise, const Unit& shown) {
  std::vector<std::string> words;
  words.push_back(translated("{}: switches {}; on for {:.0f} % of the log, at the longest for {}",
                             switch_verb(rule.heats, shown.dimension),
                             switched.switches == 1 ? translated("once") : translated("{} times", switched.switches),
                             switched.share_on * 100, duration_text(switched.longest_on_s)));
  if (switched.chatter)
    words.push_back(translated(
        "chatters: most changes follow the one before within ten rows. A wider band, minimum times or a filter help"));
  if (switched.is_shut_down)
    words.push_back(
        translated("it was shut down for good: the reading was above the limit, and nothing switches on any more"));
  if (rule.band > 0 && noise > 0 && rule.band < 3 * noise)
    words.push_back(translated("the band of ±{:.3g} is less than three times the noise of {:.3g} {}", rule.band, noise,
                               shown.symbol));
  if (!rule.schedule.empty())
    words.push_back(
        translated("the goal changes over the day: firmware compares with the codes of the goal of the time"));
  else if (codes.never_on || codes.never_off)
    words.push_back(never_words(rule, codes.never_on, shown));
  else if (!codes.on || !codes.off)
    words.push_back(
        translated("no single comparison of the raw number decides as the reading does: compare the reading"));
  words.push_back(
      translated("software is not a safety device: what can overheat or flood has a cut-out of its own in hardware"));
  return words;
}

}  // namespace fair_gauge
