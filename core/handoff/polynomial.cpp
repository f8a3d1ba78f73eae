// A polynomial in whole numbers for chains that bend a little: no division and no table, only multiplications and
// shifts.
#include <algorithm>
#include <cmath>

#include "handoff/arithmetic.h"
#include "language/translation.h"
#include "quantity/least_squares.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_samples = 400;

// Coefficients of 1, u, u², … with u from 0 to 1 over all raw numbers: by least squares, then a few times more with
// heavier weights where it is further off, which comes near the polynomial of the least worst error.
// \returns nothing where even its best is too far off
std::optional<std::vector<double>> fit(const ExactReadings& exact, double allowed, std::size_t degree, bool from_top) {
  const std::size_t count = exact.values.size(), step = std::max<std::size_t>(1, count / most_samples);
  std::vector<double> at, value, weight;
  const auto take = [&](std::size_t i) {
    const std::int64_t raw = exact.first + static_cast<std::int64_t>(i);
    const bool wanted = raw >= exact.wanted_from && raw <= exact.wanted_to;
    const double u = static_cast<double>(i) / static_cast<double>(count - 1);
    at.push_back(from_top ? 1 - u : u), value.push_back(exact.values[i]);
    weight.push_back(1 / std::max(0.01, wanted ? allowed - 0.5 : 5 * (allowed - 0.5)));
  };
  for (std::size_t i = 0; i < count - 1; i += step) take(i);
  take(count - 1);
  std::vector<double> coefficients, lawson(at.size(), 1);
  double worst = 0;  // in shares of what is allowed
  for (int round = 0; round < 8; ++round) {
    std::vector<double> rows, right;
    for (std::size_t i = 0; i < at.size(); ++i) {
      const double w = weight[i] * std::sqrt(lawson[i]);
      double power = w;
      for (std::size_t k = 0; k <= degree; ++k, power *= at[i]) rows.push_back(power);
      right.push_back(value[i] * w);
    }
    coefficients = least_squares(rows, degree + 1, right).solved;
    double sum = 0;
    worst = 0;
    for (std::size_t i = 0; i < at.size(); ++i) {
      double p = 0;
      for (std::size_t k = degree + 1; k-- > 0;) p = p * at[i] + coefficients[k];
      const double off = std::abs(p - value[i]) * weight[i];
      worst = std::max(worst, off);
      lawson[i] *= off + 1e-9;
      sum += lawson[i];
    }
    constexpr double hopeless = 3;
    if (worst > hopeless) return std::nullopt;
    for (double& each : lawson) each *= static_cast<double>(lawson.size()) / sum;
  }
  if (worst > 1) return std::nullopt;
  return coefficients;
}

// In words of 32 or 64 bits; nothing where a partial sum changes its sign, or too few bits are left.
std::optional<PolynomialArithmetic> in_words(std::vector<double> c, std::size_t count, bool from_top, int word) {
  PolynomialArithmetic made{.from_top = from_top, .word_bits = word};
  const double most_x = static_cast<double>(count - 1);
  double scale = 1;
  for (double& each : c) each *= scale, scale /= most_x;  // of x instead of u
  const std::size_t degree = c.size() - 1;
  std::vector<double> least(c.size()), most(c.size());
  for (std::size_t k = c.size(); k-- > 0;) {
    least[k] = most[k] = c[k];
    constexpr int looks = 256;
    for (int i = 0; i <= looks; ++i) {
      double p = 0;
      for (std::size_t j = c.size(); j-- > k;) p = p * (most_x * i / looks) + c[j];
      least[k] = std::min(least[k], p), most[k] = std::max(most[k], p);
    }
  }
  made.lift = static_cast<std::int64_t>(std::floor(least[0])) - 1;
  c[0] += 0.5 - static_cast<double>(made.lift);
  most[0] += 1.5 - static_cast<double>(made.lift), least[0] = 1;
  const double room = std::exp2(word == 32 ? 31.5 : 61);
  int scale_above = 0;  // of the partial sum before
  for (std::size_t k = degree + 1; k-- > 0;) {
    if (least[k] < 0 && most[k] > 0) return std::nullopt;
    const double largest = std::max(std::abs(least[k]), std::abs(most[k]));
    if (!(largest > 0)) return std::nullopt;
    const double fits = room / largest / (k > 0 ? most_x : 1);
    int bits = static_cast<int>(std::floor(std::log2(fits)));
    if (k == 0) bits = std::min(bits, word == 32 ? 24 : 40);
    if (k < degree) bits = std::min(bits, scale_above);
    if (bits < 0 || (k < degree && scale_above - bits >= word)) return std::nullopt;
    const double magnitude = std::floor(std::abs(c[k]) * std::exp2(bits) + 0.5);
    if (!(magnitude < room)) return std::nullopt;
    if (k < degree) {
      made.shifts.push_back(scale_above - bits);
      made.falls.push_back((c[k] < 0) != (c[k + 1] < 0));
    }
    made.coefficients.push_back(static_cast<std::uint64_t>(magnitude));
    scale_above = bits;
  }
  made.shift = scale_above;
  return made;
}

bool never_below_zero(const PolynomialArithmetic& polynomial, std::size_t count) {
  for (std::size_t x = 0; x < count; ++x)
    if (!polynomial.run(x, nullptr)) return false;
  return true;
}

}  // namespace

std::optional<std::int32_t> PolynomialArithmetic::run(std::uint64_t x, std::uint64_t* largest) const {
  std::uint64_t sum = coefficients.front(), above = sum;
  for (std::size_t k = 1; k < coefficients.size(); ++k) {
    const std::uint64_t product = sum * x;
    const std::uint64_t part = product >> shifts[k - 1];
    if (falls[k - 1] && part > coefficients[k]) return std::nullopt;
    sum = falls[k - 1] ? coefficients[k] - part : coefficients[k] + part;
    above = std::max({above, product, sum});
  }
  if (largest) *largest = std::max(*largest, above);
  return static_cast<std::int32_t>(static_cast<std::int64_t>(sum >> shift) + lift);
}

Result<Arithmetic> polynomial_arithmetic(const ExactReadings& exact, double allowed) {
  constexpr std::size_t most_degree = 6;
  const Problem none{translated("no polynomial up to x⁶ follows the readings closely enough"),
                     translated("the form table or float")};
  if (exact.values.size() < 16 || exact.held_within || exact.values.size() > (1u << 24)) return none;
  Arithmetic arithmetic;
  arithmetic.form = HandoffForm::integer;
  arithmetic.first = exact.first, arithmetic.last = exact.last();
  for (std::size_t degree = 2; degree <= most_degree; ++degree)
    for (const bool from_top : {false, true}) {
      const auto coefficients = fit(exact, allowed, degree, from_top);
      for (const int word : {32, 64}) {
        if (!coefficients) break;
        arithmetic.polynomial = in_words(*coefficients, exact.values.size(), from_top, word);
        if (!arithmetic.polynomial) continue;
        if (!never_below_zero(*arithmetic.polynomial, exact.values.size())) continue;
        const Proof proof = prove(arithmetic, exact);
        const std::uint64_t room = std::uint64_t{1} << (word == 32 ? 32 : 63);
        if (proof.largest_intermediate < room && proof.worst_wanted <= allowed &&
            proof.worst <= 0.5 + 5 * (allowed - 0.5))
          return arithmetic;
      }
    }
  return none;
}

}  // namespace fair_gauge
