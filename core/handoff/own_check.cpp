// Somebody's line against the exact chain, and single changes that would mend it.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "handoff/exact_readings.h"
#include "handoff/own_arithmetic.h"
#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

constexpr std::int64_t most_codes = 1'000'000;

class Checker {
 public:
  Checker(const Chain& chain, int int_bits, std::int64_t per_unit, const std::function<bool()>& is_cancelled)
      : chain_(chain), int_bits_(int_bits), per_unit_(per_unit), is_cancelled_(is_cancelled) {}

  Result<OwnVerdict> check(const std::string& line) {
    if (chain_.channel.arrives_converted())
      return Problem{translated("this channel's value arrives converted: there is no raw number"),
                     translated("a channel of raw numbers")};
    if (!chain_.side_channels.empty())
      return Problem{translated("another channel's reading goes into this one"),
                     translated("a channel that needs its own raw number alone")};
    if (chain_.decoder && !chain_.decoder->part().bytes.formula.empty())
      return Problem{translated("several numbers of its bytes go into a reading of this part"),
                     translated("a channel of one raw number")};
    auto exact = exact_readings(chain_, 1, is_cancelled_);
    if (!exact) return exact.problem();
    exact_ = std::move(*exact);
    std::tie(lowest_, highest_) = raw_range(chain_);
    auto own = read(line);
    if (!own) return own.problem();
    if (own->uses_volts() && (chain_.decoder || chain_.converter->counts_pulses()))
      return Problem{translated("this channel has no volts"), translated("its raw number by any other name")};
    OwnVerdict verdict;
    verdict.allowed = smallest_uncertainty(chain_) / 10;
    // What it means to give is told by words in which everything fits.
    if (per_unit_ == 0) per_unit_ = best_per_unit(*OwnArithmetic::read(line, 64, lowest_, highest_));
    verdict.per_unit = per_unit_;
    if (!run_all(*own, verdict)) return cancelled();
    if (!verdict.is_exact_enough()) look_for_mends(*own, line, verdict);
    return verdict;
  }

 private:
  Result<OwnArithmetic> read(const std::string& line) const {
    return OwnArithmetic::read(line, int_bits_, lowest_, highest_);
  }

  double volts_of(std::int64_t raw) const {
    double value = static_cast<double>(raw);
    for (std::size_t i = chain_.raw_node; i >= chain_.converter_node; --i)
      value = chain_.links[i - 1]->inverse_continuous(value);
    return value;
  }
  OwnArithmetic::Outcome run(const OwnArithmetic& own, std::int64_t raw) const {
    return own.run(static_cast<double>(raw), own.uses_volts() ? volts_of(raw) : 0);
  }
  double right(std::int64_t raw) const { return exact_.values[static_cast<std::size_t>(raw - exact_.first)]; }

  // So many raw numbers of the wanted range, evenly, both ends among them.
  std::vector<std::int64_t> wanted(std::int64_t most) const {
    const bool any = exact_.wanted_to >= exact_.wanted_from;
    const std::int64_t from = any ? exact_.wanted_from : exact_.first, to = any ? exact_.wanted_to : exact_.last();
    const std::int64_t steps = std::max<std::int64_t>(1, std::min(most, to - from));
    std::vector<std::int64_t> places;
    for (std::int64_t i = 0; i <= steps; ++i) places.push_back(from + (to - from) * i / steps);
    return places;
  }

  // By how much the line moves while the reading moves by one: an offset does not hide it.
  std::int64_t best_per_unit(const OwnArithmetic& own) const {
    const auto places = wanted(2);
    const double moves = run(own, places.back()).value - run(own, places.front()).value;
    const double ratio = std::abs(moves / (right(places.back()) - right(places.front())));
    std::int64_t per_unit = 1;
    while (per_unit < 10'000 && ratio > std::sqrt(10.0) * static_cast<double>(per_unit)) per_unit *= 10;
    return per_unit;
  }

  bool run_all(const OwnArithmetic& own, OwnVerdict& verdict) const {
    const std::int64_t count = exact_.last() - exact_.first + 1, stride = (count + most_codes - 1) / most_codes;
    verdict.exhaustive = stride == 1;
    const double unit = static_cast<double>(per_unit_);
    bool any_wanted = false;
    for (std::int64_t raw = exact_.first; raw <= exact_.last(); raw += stride) {
      if (is_cancelled_ && verdict.codes % 65'536 == 0 && is_cancelled_()) return false;
      const auto outcome = run(own, raw);
      ++verdict.codes;
      if (outcome.overflow) {
        if (++verdict.overflows == 1) {
          verdict.first_overflow = raw;
          verdict.overflow_in = own.operation(*outcome.overflow);
        }
      }
      if (std::isnan(outcome.value)) {
        ++verdict.without;
        continue;
      }
      const double gives = outcome.value / unit, miss = std::abs(gives - right(raw));
      if (miss > verdict.worst) verdict.worst = miss, verdict.at_raw = raw;
      const bool is_wanted = raw >= exact_.wanted_from && raw <= exact_.wanted_to;
      if (is_wanted && (!any_wanted || miss > verdict.worst_wanted)) {
        any_wanted = true;
        verdict.worst_wanted = miss, verdict.at_wanted = raw;
        verdict.gives = gives, verdict.right = right(raw);
      }
    }
    return true;
  }

  // The worst over a few raw numbers of the wanted range; infinite where the line is none or does not fit its words.
  double worst(const std::string& line, std::int64_t places) const {
    const auto own = read(line);
    if (!own) return std::numeric_limits<double>::infinity();
    double most = 0;
    for (const std::int64_t raw : wanted(places)) {
      const auto outcome = run(*own, raw);
      const double miss = std::abs(outcome.value / static_cast<double>(per_unit_) - right(raw));
      if (outcome.overflow || std::isnan(miss)) return std::numeric_limits<double>::infinity();
      most = std::max(most, miss);
    }
    return most;
  }

  // With as few digits as do nearly as well.
  template <class With>
  std::string shortest(double value, double floor, const With& with) const {
    const double best = std::max(worst(with(fmt::format("{:.9g}", value)), few), floor);
    for (int digits = 1; digits < 9; ++digits)
      if (std::string text = fmt::format("{:.{}g}", value, digits);
          text.find('e') == std::string::npos && worst(with(text), few) <= 1.1 * best)
        return text;
    return fmt::format("{:.9g}", value);
  }

  void look_for_mends(const OwnArithmetic& own, const std::string& line, OwnVerdict& verdict) const {
    const auto spliced = [&](OwnArithmetic::Span span, const std::string& text) {
      return line.substr(0, span.from) + text + line.substr(span.to);
    };
    const double now = worst(line, many);
    const double before = std::isinf(now) ? now : std::max(now, verdict.worst_wanted);
    const auto offer = [&](const std::string& words, const std::string& changed) {
      const double after = worst(changed, many);
      if (after < before / 3 && (after <= verdict.allowed || after < 0.3 * verdict.worst_wanted))
        verdict.mends.push_back({words, changed, after});
    };
    const auto input = own.inputs().front();
    const std::string name = line.substr(input.from, input.to - input.from);
    if (!own.uses_volts()) {
      const std::string wider = int_bits_ == 16 ? "long" : "int64_t";
      offer(translated("work in longer words: ({}) before {}", wider, name),
            spliced(input, fmt::format("({}){}", wider, name)));
      offer(translated("work in floating point: (float) before {}", name), spliced(input, "(float)" + name));
    }
    const auto whole = own.expression();
    const std::string inside = line.substr(whole.from, whole.to - whole.from);
    for (const auto& span : own.constants()) {
      const std::string old = line.substr(span.from, span.to - span.from);
      const auto with = [&](const std::string& text) { return spliced(span, text); };
      if (const auto better = best_constant(std::strtod(old.c_str(), nullptr), with)) {
        const std::string text = shortest(*better, verdict.allowed, with);
        if (text != old) offer(translated("write {} where {} stands", text, old), with(text));
      }
    }
    // A sum that is off by the same everywhere.
    double sum = 0, count = 0;
    for (const std::int64_t raw : wanted(many))
      if (const double miss = run(own, raw).value / static_cast<double>(per_unit_) - right(raw); !std::isnan(miss))
        sum += miss, ++count;
    if (count > 0) {
      const double off = -sum / count * static_cast<double>(per_unit_);
      const auto with = [&](const std::string& text) {
        return spliced(whole, text.front() == '-' ? inside + " - " + text.substr(1) : inside + " + " + text);
      };
      const std::string text = shortest(off, verdict.allowed, with);
      offer(text.front() == '-' ? translated("take {} off at the end", text.substr(1))
                                : translated("add {} at the end", text),
            with(text));
    }
    std::ranges::stable_sort(verdict.mends, {}, [&](const OwnVerdict::Mend& mend) {
      return std::max(mend.worst_wanted, verdict.allowed);  // within it, the first that was thought of
    });
    if (verdict.mends.size() > most_mends) verdict.mends.resize(most_mends);
  }

  // The number that makes the worst smallest: by ratios to the one that stands there, finer and finer.
  template <class With>
  std::optional<double> best_constant(double old, const With& with) const {
    if (old == 0 || !std::isfinite(old)) return std::nullopt;
    double best = old, least = std::numeric_limits<double>::infinity();
    double from = 0.25, to = 4;
    for (int round = 0; round < 7; ++round) {
      const double step = std::pow(to / from, 1.0 / tries);
      double ratio = from;
      for (int i = 0; i <= tries; ++i, ratio *= step)
        if (const double miss = worst(with(fmt::format("{:.9g}", old * ratio)), few); miss < least)
          least = miss, best = old * ratio;
      if (std::isinf(least)) return std::nullopt;
      from = best / old / step, to = best / old * step;
    }
    return best;
  }

  static constexpr std::int64_t few = 40, many = 400;
  static constexpr int tries = 48;
  static constexpr std::size_t most_mends = 3;
  const Chain& chain_;
  int int_bits_;
  std::int64_t per_unit_;
  const std::function<bool()>& is_cancelled_;
  ExactReadings exact_;
  std::int64_t lowest_ = 0, highest_ = 0;
};

}  // namespace

std::vector<std::string> own_verdict_words(const OwnVerdict& verdict, const Unit& shown) {
  std::vector<std::string> words;
  const auto quantity = [&](double number) {
    const double worth_saying = verdict.allowed / 1000;
    return number > 0 && number < worth_saying ? translated("less than {:.1g} {}", worth_saying, shown.symbol)
                                               : fmt::format("{:.3g} {}", number, shown.symbol);
  };
  const auto reading = [&](double number) {
    return with_unit(number, std::min(6, 1 + decimals_of_two_digits(std::max(verdict.worst_wanted, 1e-6))),
                     shown.symbol);
  };
  if (verdict.is_exact_enough())
    words.push_back(
        translated("Exact enough: at most {} off in the wanted range, where a tenth of the reading's own uncertainty "
                   "is {}.",
                   quantity(verdict.worst_wanted), quantity(verdict.allowed)));
  else if (verdict.worst_wanted > verdict.allowed)
    words.push_back(
        translated("Up to {} off in the wanted range: raw {} gives {}, right is {}. A tenth of the reading's own "
                   "uncertainty would be {}.",
                   quantity(verdict.worst_wanted), verdict.at_wanted, reading(verdict.gives), reading(verdict.right),
                   quantity(verdict.allowed)));
  if (verdict.overflows > 0)
    words.push_back(translated("\"{}\" does not fit its word at {} raw numbers, first at {}.", verdict.overflow_in,
                               verdict.overflows, verdict.first_overflow));
  if (verdict.without > 0) words.push_back(translated("At {} raw numbers it gives no number.", verdict.without));
  words.push_back(translated("{} {} raw numbers with a reading were run{}.",
                             verdict.exhaustive ? translated("All") : translated("Evenly spread"), verdict.codes,
                             verdict.per_unit == 1
                                 ? std::string()
                                 : translated("; its result counts in 1/{} {}", verdict.per_unit, shown.symbol)));
  return words;
}

Result<OwnVerdict> check_own_arithmetic(const Chain& chain, const std::string& line, int int_bits,
                                        std::int64_t per_unit, const std::function<bool()>& is_cancelled) {
  return Checker(chain, int_bits, per_unit, is_cancelled).check(line);
}

}  // namespace fair_gauge
