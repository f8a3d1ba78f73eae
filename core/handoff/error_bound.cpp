#include "handoff/error_bound.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <queue>

#include "handoff/formula.h"

namespace fair_gauge {

bool Bounded::is_none() const { return std::isnan(from); }
double Bounded::size() const { return std::max(std::abs(from), std::abs(to)); }

namespace {

constexpr double nowhere = std::numeric_limits<double>::infinity();
constexpr double of_functions = 4;  // units of roundoff that a library's function may be off
constexpr int most_boxes = 200'000, between_looks = 4096;
constexpr double worth_it = 0.995;  // of the bound that half as many boxes gave

Bounded none() { return {std::nan(""), std::nan(""), 0}; }
Bounded unbounded() { return {-nowhere, nowhere, nowhere}; }

// The ends moved outwards by what working them out in double may have lost.
Bounded widened(double from, double to, double error) {
  if (std::isnan(from) || std::isnan(to) || std::isnan(error)) return unbounded();
  const double slack = 4 * double_roundoff;
  return {from - slack * std::abs(from), to + slack * std::abs(to), error * (1 + 16 * slack)};
}

// One operation more: what it rounds away.
Bounded rounded(Bounded x, double roundoff) {
  x.error += roundoff * (x.size() + x.error) + std::numeric_limits<float>::denorm_min();
  return std::isfinite(x.from) && std::isfinite(x.to) ? x : unbounded();
}

// What is exact in floating point: whole numbers that the mantissa holds, and doubling or halving.
Bounded of_operation(const Bounded& a, const Bounded& b, Bounded to, bool scales, double roundoff) {
  to.whole = a.whole && b.whole && !scales && a.error + b.error == 0 && to.size() <= 0.5 / roundoff;
  if (to.is_none() || (to.size() == 0 && to.error == 0)) return to;
  int exponent = 0;
  const bool by_two = scales && b.from == b.to && b.error == 0 && std::abs(std::frexp(b.from, &exponent)) == 0.5;
  if (to.whole) to.from = std::round(to.from), to.to = std::round(to.to);  // the ends are whole numbers too
  if (to.whole || by_two) return to;
  return rounded(to, roundoff);
}

Bounded sum(const Bounded& a, const Bounded& b) { return widened(a.from + b.from, a.to + b.to, a.error + b.error); }
Bounded negative(const Bounded& a) { return {-a.to, -a.from, a.error, a.whole}; }

Bounded product(const Bounded& a, const Bounded& b) {
  const auto [from, to] = std::minmax({a.from * b.from, a.from * b.to, a.to * b.from, a.to * b.to});
  return widened(from, to, a.size() * b.error + b.size() * a.error + a.error * b.error);
}

Bounded quotient(const Bounded& a, const Bounded& b) {
  if (b.from == 0 && b.to == 0 && b.error == 0) return none();
  const double least = b.from > 0 ? b.from - b.error : b.to < 0 ? -b.to - b.error : 0;
  if (!(least > 0)) return unbounded();
  const auto [from, to] = std::minmax({a.from / b.from, a.from / b.to, a.to / b.from, a.to / b.to});
  const double size = std::max(std::abs(from), std::abs(to));
  return widened(from, to, (a.error + size * b.error) / least);
}

Bounded logarithm(const Bounded& a, double base) {
  if (!(a.from - a.error > 0)) return unbounded();
  return widened(std::log(a.from) / base, std::log(a.to) / base, a.error / (a.from - a.error) / base);
}

Bounded exponential(const Bounded& a) {
  return widened(std::exp(a.from), std::exp(a.to), std::exp(a.to) * std::expm1(a.error));
}

Bounded root(const Bounded& a) {
  if (!(a.from - a.error >= 0)) return unbounded();
  const double least = std::sqrt(a.from - a.error);
  return widened(std::sqrt(a.from), std::sqrt(a.to), least > 0 ? a.error / (2 * least) : std::sqrt(a.error));
}

Bounded power(const Bounded& a, const Bounded& b) {
  const double n = b.from;
  if (b.from == b.to && b.error == 0 && n >= 0 && n == std::floor(n)) {
    const double one = std::pow(a.from, n), other = std::pow(a.to, n);
    const bool turns = std::fmod(n, 2) == 0 && a.from < 0 && a.to > 0;
    return widened(turns ? 0 : std::min(one, other), std::max(one, other),
                   std::pow(a.size() + a.error, n) - std::pow(a.size(), n));
  }
  const double least = a.from - a.error, most = a.to + a.error, low = n - b.error, high = n + b.error;
  if (b.from == b.to && low > 0 && least >= 0) {
    // Rising from nothing: an error of the base weighs most where the curve is steepest...
    const auto of_base = [&](double y) {
      const double x = y > 1 ? a.to : a.from;
      return std::max(std::pow(x + a.error, y) - std::pow(x, y), std::pow(x, y) - std::pow(x - a.error, y));
    };
    // ...and one of the exponent where x^y · |ln x| is largest: at an end, or at the hill below 1.
    const auto of_exponent = [&](double x, double y) { return x > 0 ? std::pow(x, y) * std::abs(std::log(x)) : 0; };
    const double hill = std::exp(-1 / low);
    double slope = std::max({of_exponent(least, low), of_exponent(most, low), of_exponent(most, high)});
    if (least < hill && hill < most) slope = std::max(slope, of_exponent(hill, low));
    return widened(std::pow(a.from, n), std::pow(a.to, n), std::max(of_base(low), of_base(high)) + slope * b.error);
  }
  return exponential(product(b, logarithm(a, 1)));
}

Bounded floor_of(const Bounded& a) {
  const double from = std::floor(a.from), to = std::floor(a.to);
  const bool agree = a.error == 0 || std::floor(a.from - a.error) == std::floor(a.to + a.error);
  return {from, to, agree ? 0 : a.error + 1, true};
}

// True, false, or either; an error of 1 where the two kinds of numbers may see it differently.
Bounded truth(bool surely, bool never, bool may_differ) {
  if (surely) return {1, 1, 0};
  if (never) return {0, 0, 0};
  return {0, 1, may_differ ? 1.0 : 0.0};
}
Bounded truth_of(const Bounded& a) {
  const bool has_zero = a.from - a.error <= 0 && a.to + a.error >= 0;
  return truth(!has_zero, a.from == 0 && a.to == 0 && a.error == 0, a.error > 0);
}
// True where rounding cannot turn how a quotient of whole numbers compares with a constant: the constant is a fraction
// p/q itself, and two fractions that are not equal lie at least 1/(q · divisor) apart.
bool keeps_order(const Bounded& quotient, const Bounded& constant, double roundoff) {
  if (quotient.divisor <= 0 || constant.from != constant.to || constant.divisor > 0) return false;
  constexpr int largest_denominator = 1000;
  const double k = constant.from, lost = 2 * roundoff * std::abs(k) + constant.error;
  for (int q = 1; q <= largest_denominator; ++q) {
    const double p = std::round(k * q);
    if (p / q != k) continue;
    // Where they are equal, dividing and writing the constant down round alike.
    const bool rounds_alike =
        roundoff <= double_roundoff || static_cast<float>(p) / static_cast<float>(q) == static_cast<float>(k);
    return rounds_alike && lost * q * quotient.divisor < 1;
  }
  return false;
}
bool may_differ(const Bounded& a, const Bounded& b, double roundoff) {
  return a.error + b.error > 0 && !keeps_order(a, b, roundoff) && !keeps_order(b, a, roundoff);
}
Bounded less(const Bounded& a, const Bounded& b, double roundoff) {
  return truth(a.to + a.error < b.from - b.error, a.from - a.error >= b.to + b.error, may_differ(a, b, roundoff));
}
Bounded equal(const Bounded& a, const Bounded& b) {
  const bool apart = a.to + a.error < b.from - b.error || b.to + b.error < a.from - a.error;
  const bool one = a.from == a.to && b.from == b.to && a.from == b.from && a.error + b.error == 0;
  return truth(one, apart, a.error + b.error > 0);
}
Bounded opposite(const Bounded& a) { return {1 - a.to, 1 - a.from, a.error}; }

Bounded chosen(const Bounded& condition, const Bounded& yes, const Bounded& no) {
  const Bounded is = truth_of(condition);
  if (is.from == 1) return yes;
  if (is.to == 0) return no;
  if (yes.is_none() || no.is_none()) return yes.is_none() ? no : yes;  // where there is a number it is the other's
  Bounded both{std::min(yes.from, no.from), std::max(yes.to, no.to), std::max(yes.error, no.error)};
  if (is.error > 0) both.error += both.to - both.from;
  return both;
}

}  // namespace

Bounded Formula::run(std::span<const Bounded> values, double roundoff) const {
  std::vector<Bounded> row(values.begin(), values.end());
  row.reserve(bound_ + operations_.size());
  for (const Operation& operation : operations_) {
    if (operation.what == 'c') {
      const double number = operation.number;
      const double kept = roundoff > double_roundoff ? static_cast<double>(static_cast<float>(number)) : number;
      row.push_back({number, number, std::abs(kept - number), kept == std::floor(kept)});
      continue;
    }
    const Bounded &a = row[operation.a], &b = row[operation.what == 'r' ? operation.a : operation.b];
    constexpr std::string_view of_one = "p~eqfatnr";
    Bounded to{};
    if (operation.what != '?' && (a.is_none() || (of_one.find(operation.what) == of_one.npos && b.is_none()))) {
      row.push_back(none());
      continue;
    }
    switch (operation.what) {
      case 'p': to = a; break;
      case '~': to = negative(a); break;
      case '?': to = chosen(a, b, row[operation.c]); break;
      case '|': to = opposite(product(opposite(truth_of(a)), opposite(truth_of(b)))); break;
      case '&': to = product(truth_of(a), truth_of(b)); break;
      case '+': to = of_operation(a, b, sum(a, b), false, roundoff); break;
      case '-': to = of_operation(a, b, sum(a, negative(b)), false, roundoff); break;
      case '*': to = of_operation(a, b, product(a, b), !(a.whole && b.whole), roundoff); break;
      case '/':
        to = of_operation(a, b, quotient(a, b), true, roundoff);
        if (a.whole && b.whole && a.error + b.error == 0) to.divisor = b.size();
        break;
      case '^': to = rounded(power(a, b), of_functions * roundoff); break;
      case '2': to = {std::exp2(b.from), std::exp2(b.to), b.error == 0 ? 0 : nowhere}; break;
      case '=': to = equal(a, b); break;
      case '!': to = opposite(equal(a, b)); break;
      case '<': to = less(a, b, roundoff); break;
      case '>': to = less(b, a, roundoff); break;
      case 'l': to = opposite(less(b, a, roundoff)); break;
      case 'g': to = opposite(less(a, b, roundoff)); break;
      case 'e': to = rounded(exponential(a), of_functions * roundoff); break;
      case 'q': to = rounded(root(a), of_functions * roundoff); break;
      case 'f': to = floor_of(a); break;
      case 'r': to = tables_[operation.b].at(a, roundoff); break;
      case 'a': {
        const double least = a.from <= 0 && a.to >= 0 ? 0 : std::min(std::abs(a.from), std::abs(a.to));
        to = {least, a.size(), a.error};
        break;
      }
      case 'm': to = {std::min(a.from, b.from), std::min(a.to, b.to), std::max(a.error, b.error)}; break;
      case 'M': to = {std::max(a.from, b.from), std::max(a.to, b.to), std::max(a.error, b.error)}; break;
      case 't': to = rounded(logarithm(a, std::log(10.0)), of_functions * roundoff); break;
      default: to = rounded(logarithm(a, 1), of_functions * roundoff); break;
    }
    row.push_back(to);
  }
  return row.empty() ? unbounded() : row.back();
}

namespace whole {
namespace {

Bounded held(Bounded x) {
  constexpr double most = 0x1p63;
  return x.size() + x.error < most ? x : unbounded();
}

Bounded cut(const Bounded& a, int bits, double by) {
  const double part = std::exp2(-bits);
  return {a.from * part, a.to * part, a.error * part + by};
}

}  // namespace

Bounded plus(const Bounded& a, const Bounded& b) { return held(sum(a, b)); }
Bounded minus(const Bounded& a, const Bounded& b) { return held(sum(a, negative(b))); }
Bounded times(const Bounded& a, const Bounded& b) { return held(product(a, b)); }
Bounded divided(const Bounded& a, const Bounded& b) {
  Bounded to = quotient(a, b);
  if (!to.is_none()) to.error += 1;
  return to;
}
Bounded shifted(const Bounded& a, int bits) { return cut(a, bits, 1); }
Bounded rounded_shift(const Bounded& a, int bits) { return cut(a, bits, 0.5); }
Bounded within(const Bounded& a, double lowest, double highest) {
  return {std::clamp(a.from, lowest, highest), std::clamp(a.to, lowest, highest), a.error};
}

}  // namespace whole

namespace {

using ValueAt = std::function<double(std::span<const double>)>;

std::optional<double> search(const BoundedRun& run, const ValueAt& value_at, const BoundRequest& request) {
  struct Box {
    std::vector<InputRange> inputs;
    double bound;
    bool operator<(const Box& other) const { return bound < other.bound; }
  };
  const auto look_at = [&](Box box) {
    std::vector<Bounded> values;
    for (const InputRange& each : box.inputs) {
      const auto from = static_cast<double>(each.from), to = static_cast<double>(each.to);
      // A whole number beyond the mantissa is rounded as it comes in.
      const double size = std::max(std::abs(from), std::abs(to));
      values.push_back({from, to, size * request.roundoff > 0.5 ? size * request.roundoff : 0, true});
    }
    const Bounded result = run(values);
    box.bound = result.is_none() ? 0 : result.error;
    if (result.to + result.error < request.lowest || result.from - result.error > request.highest) box.bound = 0;
    return box;
  };
  // In halves across the input by which the bound gains most.
  const auto halves = [&](const Box& box) {
    std::optional<std::pair<Box, Box>> best;
    // The widest, where none gains.
    const auto gain = [](const std::pair<Box, Box>& both, std::int64_t width) {
      const auto [less, more] = std::minmax(both.first.bound, both.second.bound);
      return std::tuple{more, less, -width};
    };
    std::int64_t best_width = 0;
    for (std::size_t i = 0; i < box.inputs.size(); ++i) {
      const InputRange whole = box.inputs[i];
      if (whole.from == whole.to) continue;
      std::pair<Box, Box> both{box, box};
      both.first.inputs[i].to = whole.from + (whole.to - whole.from) / 2;
      both.second.inputs[i].from = both.first.inputs[i].to + 1;
      both = {look_at(std::move(both.first)), look_at(std::move(both.second))};
      const std::int64_t width = whole.to - whole.from;
      if (!best || gain(both, width) < gain(*best, best_width)) best = std::move(both), best_width = width;
    }
    return best;
  };
  std::priority_queue<Box> boxes;
  boxes.push(look_at({request.inputs, 0}));
  double of_points = 0, before = nowhere;
  int next_look = between_looks;
  for (int looked = 0; looked < most_boxes && !boxes.empty() && boxes.top().bound > request.enough; looked += 2) {
    if (looked % between_looks == 0 && request.is_cancelled && request.is_cancelled()) return std::nullopt;
    if (looked == next_look) {
      if (std::isfinite(before) && boxes.top().bound > worth_it * before) break;
      before = boxes.top().bound;
      next_look *= 2;
    }
    const Box worst = boxes.top();
    boxes.pop();
    auto both = halves(worst);
    if (!both) {
      // One block alone: where it has no bound, it may not have a reading either.
      std::vector<double> point;
      for (const InputRange& each : worst.inputs) point.push_back(static_cast<double>(each.from));
      const double value = std::isfinite(worst.bound) ? 0 : value_at(point);
      if (!std::isfinite(worst.bound) && value >= request.lowest && value <= request.highest) return std::nullopt;
      if (std::isfinite(worst.bound)) of_points = std::max(of_points, worst.bound);
      if (of_points > 0 && (boxes.empty() || boxes.top().bound <= of_points)) break;
      continue;
    }
    boxes.push(std::move(both->first));
    boxes.push(std::move(both->second));
  }
  const double bound = std::max(of_points, boxes.empty() ? 0 : boxes.top().bound);
  return std::isfinite(bound) ? std::optional(bound) : std::nullopt;
}

}  // namespace

std::optional<double> error_bound(const Formula& formula, const BoundRequest& request) {
  return search([&](std::span<const Bounded> values) { return formula.run(values, request.roundoff); },
                [&](std::span<const double> point) { return formula.run<double>(point); }, request);
}

std::optional<double> error_bound(const BoundedRun& run, const BoundRequest& request) {
  // A block without a bound may have a reading: it is not passed over.
  return search(
      run, [&](std::span<const double>) { return request.lowest; }, request);
}

}  // namespace fair_gauge
