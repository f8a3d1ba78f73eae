#include "choose/shortlist.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "chain/chain.h"
#include "digital/registers.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "truth/error_budget.h"
#include "truth/verdict.h"
#include "wiring/cycle_plan.h"

namespace fair_gauge {
namespace {

constexpr int places = 13;                  // of the range at which the error is worked out
constexpr double far_more_than_needed = 3;  // beyond a third of the allowed error nothing is gained by more accuracy

std::string error_text(double value, const Unit& unit) {
  return with_unit(value, decimals_of_two_digits(value), difference_symbol(unit));
}
std::string value_text(double value, const Unit& unit) {
  return with_unit(value, std::abs(value) >= 100 ? 0 : 1, unit.symbol);
}

// What a rule looks at.
struct Case {
  const Need& need;
  const Part& part;
  const PartQuantity& quantity;
  const Unit& unit;
  Candidate& candidate;

  void add(ReasonKind kind, std::string words, double points = 0) const {
    candidate.reasons.push_back({kind, std::move(words), points});
  }
};

using Rule = void (*)(const Case&);

// ---- before a chain is built ----

void kind_fits(const Case& at) {
  if (at.need.kind == PressureKind::none || at.quantity.kind == PressureKind::none || at.quantity.kind == at.need.kind)
    return;
  at.add(ReasonKind::rules_out, translated("it measures {} pressure, {} is wanted", translated_name(at.quantity.kind),
                                           translated_name(at.need.kind)));
}

void range_fits(const Case& at) {
  if (at.need.from < at.quantity.minimum)
    at.add(ReasonKind::rules_out, translated("its range begins at {}", value_text(at.quantity.minimum, at.unit)));
  if (at.need.to > at.quantity.maximum)
    at.add(ReasonKind::rules_out, translated("its range ends at {}", value_text(at.quantity.maximum, at.unit)));
}

void interface_is_free(const Case& at) {
  const auto& free = at.need.interfaces;
  if (free.empty() || std::ranges::find(free, at.part.interface) != free.end()) return;
  std::string line(enum_name(at.part.interface));
  switch (at.part.interface) {
    case Interface::i2c: line = translated("two-wire bus"); break;
    case Interface::voltage:
    case Interface::ratiometric:
    case Interface::resistance:
    case Interface::current: line = translated("converter input"); break;
    default: line += translated(" line");
  }
  at.add(ReasonKind::rules_out, translated("no {} is free", line));
}

void is_at_hand(const Case& at) {
  if (at.need.own_only && at.candidate.in_drawer == 0)
    at.add(ReasonKind::rules_out, translated("it is not in the drawer"));
}

void bears_its_place(const Case& at) {
  if (at.need.place == NeedPlace::liquid &&
      (at.part.senses == "air" || at.part.senses == "board" || at.part.senses == "chip" ||
       (at.part.senses == "contact" && at.part.bears != Bears::wet)))
    at.add(ReasonKind::rules_out, translated("it does not bear being wet"));
  if (at.need.place == NeedPlace::humid && at.part.bears == Bears::dry)
    at.add(ReasonKind::costs, translated("it is made for dry air: a membrane or a varnish has to protect it"), 15);
  if (at.need.place == NeedPlace::surface && (at.part.senses == "air" || at.part.senses == "board"))
    at.add(ReasonKind::costs, translated("it takes the air's temperature, not that of a surface"), 25);
  if (at.need.quantity == Quantity::temperature &&
      (at.need.place == NeedPlace::indoors || at.need.place == NeedPlace::humid)) {
    if (at.part.senses == "chip")
      at.add(
          ReasonKind::costs,
          translated(
              "it reads its own chip, which is warmer than the air: for ambient only with a trim done cold, and then "
              "with care"),
          60);
    if (at.part.senses == "board") at.add(ReasonKind::costs, translated("it also feels the board it sits on"), 5);
  }
}

void is_quick_enough(const Case& at) {
  const double usual = at.part.is_digital() ? conversion_time(at.part, {}) : at.part.conversion_s;
  double fastest = std::max(at.part.period_s, usual);
  at.candidate.fastest_s = fastest;
  // Another setting may be quick enough, and coarser then.
  if (const auto quicker = fastest > at.need.period_s * 1.0001 ? quickest_choice(at.part) : std::nullopt)
    if (std::max(at.part.period_s, quicker->seconds) <= at.need.period_s) {
      at.candidate.fastest_s = fastest = std::max(at.part.period_s, quicker->seconds);
      at.add(ReasonKind::costs,
             translated("quick enough only with {}: {}, coarser", quicker->words, with_prefix(fastest, "s", 3)), 8);
    }
  if (fastest > at.need.period_s * 1.0001)
    at.add(ReasonKind::rules_out, translated("it answers every {}, every {} is wanted", with_prefix(fastest, "s", 3),
                                             with_prefix(at.need.period_s, "s", 3)));
  if (at.need.use == NeedUse::control && at.part.response_s > 10 * at.need.period_s && at.part.response_s > 20)
    at.add(ReasonKind::costs,
           translated("it follows slowly, {} to two thirds of a change: a control loop will swing",
                      with_prefix(at.part.response_s, "s", 3)),
           10);
}

void bears_its_cable(const Case& at) {
  if (at.part.interface == Interface::i2c && at.need.cable_m > 5)
    at.add(ReasonKind::costs,
           translated("two-wire over {:g} m is slow and frail: a bus of the board, not of the house", at.need.cable_m),
           40);
  else if (at.part.interface == Interface::i2c && at.need.cable_m > 1.5)
    at.add(ReasonKind::costs, translated("two-wire over {:g} m wants strong pull-ups and 100 kHz", at.need.cable_m),
           10);
  if ((at.part.interface == Interface::spi || at.part.interface == Interface::serial_bridge) && at.need.cable_m > 1)
    at.add(ReasonKind::costs, translated("its fast edges do not like {:g} m of cable", at.need.cable_m), 20);
  if ((at.part.interface == Interface::resistance || at.part.interface == Interface::voltage) && at.need.cable_m > 3)
    at.add(ReasonKind::costs,
           translated("a long lead picks up hum and adds its own resistance: twist it, filter at the pin"), 8);
  if (at.part.interface == Interface::thermocouple && at.need.cable_m > 1)
    at.add(ReasonKind::costs,
           translated("its own two metals have to run all {:g} m: cable of its type, plugs too, twisted and filtered",
                      at.need.cable_m),
           8);
  if (at.part.interface == Interface::pulse_count && at.need.cable_m > 1)
    at.add(ReasonKind::costs,
           translated("two conductors for each sensor, {:g} m both ways: they carry its supply and its pulses",
                      at.need.cable_m),
           3);
}

void rests_by_itself(const Case& at) {
  const auto resting = at.part.resting_a(), on = at.part.current(CurrentOf::average);
  if (at.part.supply.rest == Rest::when_told && resting && on && *on > 10 * *resting && *on > 50e-6)
    at.add(ReasonKind::costs, translated("draws {} until it is told to rest", with_prefix(*on, "A", 2)), 2);
}

constexpr Rule early_rules[] = {kind_fits,       range_fits,      interface_is_free, is_at_hand,
                                bears_its_place, is_quick_enough, bears_its_cable,   rests_by_itself};

// ---- with the figures of the trial chain ----

void error_is_allowed(const Case& at) {
  const double used = at.candidate.used(at.need.allowed);
  if (used <= 1)
    return at.add(ReasonKind::good,
                  translated("uses {:.0f} % of ±{}", used * 100, error_text(at.need.allowed, at.unit)));
  // Where it is too much: a part of the range, or all of it.
  const auto over = [&](const ErrorAt& error) { return error.expanded > at.need.allowed; };
  const auto first = std::ranges::find_if(at.candidate.errors, over);
  const auto last = std::find_if(at.candidate.errors.rbegin(), at.candidate.errors.rend(), over);
  std::string where;
  if (first == at.candidate.errors.begin() && last == at.candidate.errors.rbegin())
    where = "";
  else if (first == at.candidate.errors.begin())
    where = translated(" below {}", value_text(last->at, at.unit));
  else if (last == at.candidate.errors.rbegin())
    where = translated(" above {}", value_text(first->at, at.unit));
  at.add(ReasonKind::costs, translated("eats {:.0f} % of the allowed error{}", used * 100, where));
  at.candidate.reasons.back().is_of_error = true;
}

void accuracy_is_stated(const Case& at) {
  if (!at.candidate.stated_for) return;
  const auto& errors = at.candidate.errors;
  const auto beyond = std::ranges::count_if(errors, [](const ErrorAt& error) { return error.beyond_sheet; });
  at.add(ReasonKind::costs,
         translated("its accuracy is stated for {} only", stated_words(*at.candidate.stated_for, at.unit)),
         100.0 * static_cast<double>(beyond) / static_cast<double>(errors.size()));
}

void resolution_is_enough(const Case& at) {
  if (at.need.resolution > 0 && at.candidate.step > at.need.resolution * 1.0001)
    at.add(ReasonKind::costs,
           translated("its steps are {}, {} are wanted", error_text(at.candidate.step, at.unit),
                      error_text(at.need.resolution, at.unit)),
           30 * std::min(3.0, at.candidate.step / at.need.resolution));
  if (at.candidate.step > 0 && at.candidate.worst > 20 * at.candidate.step)
    at.add(ReasonKind::good,
           translated("steps of {} are fine, not exact: it is good to ±{}", error_text(at.candidate.step, at.unit),
                      error_text(at.candidate.worst, at.unit)));
}

void span_is_used(const Case& at) {
  if (at.part.is_digital() || at.candidate.span_used <= 0 || at.candidate.span_used > 0.25) return;
  at.add(ReasonKind::costs,
         translated("uses {:.0f} % of the converter's span: a lower reference or an amplifier would help",
                    at.candidate.span_used * 100),
         4);
}

void effort_is_small(const Case& at) {
  for (const Effort& effort : at.candidate.trial.effort)
    at.add(ReasonKind::costs, translated("needs {}", effort.words), effort.is_another_chip ? 15 : 3);
}

void is_owned(const Case& at) {
  if (at.candidate.in_drawer > 0) at.add(ReasonKind::good, translated("{} in the drawer", at.candidate.in_drawer), -8);
  // A price that nobody entered is not taken for a low one.
  constexpr double dearest = 15;
  at.candidate.points += at.candidate.price > 0 ? std::min(dearest, at.candidate.price) : dearest;
}

constexpr Rule late_rules[] = {error_is_allowed, accuracy_is_stated, resolution_is_enough,
                               span_is_used,     effort_is_small,    is_owned};

// The error over the range, through the trial's chain. \returns why there is none
std::optional<Problem> work_out(const Case& at, const Catalogue& catalogue) {
  Candidate& candidate = at.candidate;
  const auto chain = build_chain(candidate.trial.bench, catalogue, candidate.trial.channel);
  if (!chain) return chain.problem();
  for (int i = 0; i < places; ++i) {
    const double value = at.need.from + (at.need.to - at.need.from) * i / (places - 1);
    const auto budget = error_budget(*chain, value);
    if (!budget)
      return Problem{translated("at {}: {}", value_text(value, at.unit), budget.problem().wrong),
                     budget.problem().expected};
    if (budget->stated_for) candidate.stated_for = budget->stated_for;
    candidate.errors.push_back(
        {value, budget->expanded + std::abs(budget->known_bias), budget->step, budget->stated_for.has_value()});
  }
  for (const ErrorAt& error : candidate.errors) {
    if (error.expanded > candidate.worst) candidate.worst = error.expanded, candidate.worst_at = error.at;
    candidate.step = std::max(candidate.step, error.step);
  }
  if (at.part.is_digital()) candidate.step = std::max(candidate.step, at.quantity.resolution);
  std::vector<double> sorted;
  for (const ErrorAt& error : candidate.errors) sorted.push_back(error.expanded);
  std::ranges::sort(sorted);
  candidate.typical = sorted[sorted.size() / 2];
  const auto low = raw_for(*chain, at.need.from), high = raw_for(*chain, at.need.to);
  if (low && high && !at.part.is_digital() && !chain->converter->counts_pulses())
    candidate.span_used = std::abs(*high - *low) / (chain->converter->largest_code() - chain->converter->lowest_code());
  return std::nullopt;
}

Candidate judge(const Bench& bench, const Catalogue& catalogue, const Need& need, const Part& part,
                const PartQuantity& quantity) {
  Candidate candidate{.part = &part};
  if (const auto own = std::ranges::find(bench.own_parts, part.id, &OwnPart::part); own != bench.own_parts.end())
    candidate.price = own->price, candidate.in_drawer = own->in_drawer;
  const Case at{need, part, quantity, base_unit(need.quantity), candidate};
  for (const Rule rule : early_rules) rule(at);
  if (!candidate.ruled_out()) {
    auto trial = try_part(bench, catalogue, need, part, free_id(bench, std::string(enum_name(need.quantity))));
    if (trial) {
      candidate.trial = std::move(*trial);
      if (const auto problem = work_out(at, catalogue))
        at.add(ReasonKind::rules_out, problem->wrong);
      else
        for (const Rule rule : late_rules) rule(at);
    } else {
      at.add(ReasonKind::rules_out, trial.problem().wrong);
    }
  }
  const double used = candidate.used(need.allowed);
  candidate.points += 100 * std::max(1 / far_more_than_needed, used) + (used > 1 ? 200 * (used - 1) + 100 : 0);
  for (const Reason& reason : candidate.reasons) candidate.points += reason.points;
  std::ranges::stable_sort(candidate.reasons, [](const Reason& a, const Reason& b) {
    return a.kind > b.kind || (a.kind == b.kind && a.points > b.points);
  });
  return candidate;
}

}  // namespace

bool Candidate::ruled_out() const {
  return std::ranges::any_of(reasons, [](const Reason& reason) { return reason.kind == ReasonKind::rules_out; });
}

std::vector<Candidate> shortlist(const Bench& bench, const Catalogue& catalogue, const Need& need) {
  std::vector<Candidate> candidates;
  for (const Part& part : catalogue.parts()) {
    const PartQuantity* quantity = part.measures(need.quantity);
    // A formula for anything, without an accuracy of its own, is no part that can be bought.
    if (quantity && !quantity->accuracy.empty()) candidates.push_back(judge(bench, catalogue, need, part, *quantity));
  }
  std::ranges::stable_sort(candidates, [](const Candidate& a, const Candidate& b) {
    return a.ruled_out() != b.ruled_out() ? b.ruled_out() : a.points < b.points;
  });
  return candidates;
}

std::string trade_in_words(const Candidate& one, const Candidate& other, const Need& need) {
  const Unit& unit = base_unit(need.quantity);
  std::vector<std::string> for_it, against;
  if (one.price > 0 && other.price > 0) {
    const double ratio = one.price / other.price;
    if (ratio < 0.67) for_it.push_back(translated("{:.0f} % of the price", ratio * 100));
    if (ratio > 1.5) against.push_back(translated("{:.1f} times the price", ratio));
  }
  if (one.worst < 0.67 * other.worst)
    for_it.push_back(
        translated("good to ±{} instead of ±{}", error_text(one.worst, unit), error_text(other.worst, unit)));
  if (one.worst > 1.5 * other.worst || one.used(need.allowed) > 1) {
    const auto costs = std::ranges::find_if(one.reasons, [](const Reason& reason) { return reason.is_of_error; });
    against.push_back(costs != one.reasons.end()
                          ? costs->words
                          : translated("only good to ±{}, the other to ±{}", error_text(one.worst, unit),
                                       error_text(other.worst, unit)));
  }
  if (one.step > 0 && one.step < 0.4 * other.step)
    for_it.push_back(translated("finer steps of {}", error_text(one.step, unit)));
  if (one.trial.effort.empty() && !other.trial.effort.empty())
    for_it.push_back(translated("nothing besides it to wire"));
  for (const Effort& effort : one.trial.effort)
    if (std::ranges::find(other.trial.effort, effort) == other.trial.effort.end())
      against.push_back(translated("needs {}", effort.words));
  if (one.fastest_s > 5 * std::max(other.fastest_s, 0.01))
    against.push_back(translated("answers only every {}", with_prefix(one.fastest_s, "s", 3)));
  if (one.in_drawer > 0 && other.in_drawer == 0) for_it.push_back(translated("in the drawer already"));
  std::string words;
  for (const std::string& each : for_it) words += (words.empty() ? "" : ", ") + each;
  std::string but;
  for (const std::string& each : against) but += (but.empty() ? "" : "; ") + each;
  if (words.empty() && but.empty()) return translated("much the same for this need");
  if (words.empty()) return but;
  return but.empty() ? words : translated("{}, but {}", words, but);
}

}  // namespace fair_gauge
