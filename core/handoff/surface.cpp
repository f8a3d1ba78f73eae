#include "handoff/surface.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <random>

#include "handoff/joints.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_joints = 4096;
constexpr double fraction = 1 << surface_fraction_bits;

std::uint32_t between(std::uint32_t a, std::uint32_t b, std::uint64_t along, std::uint64_t across,
                      std::uint64_t* largest) {
  const std::uint64_t sum = (b >= a ? std::uint64_t{b} - a : std::uint64_t{a} - b) * along + across / 2;
  if (largest) *largest = std::max({*largest, sum, std::uint64_t{a}, std::uint64_t{b}});
  const auto by = static_cast<std::uint32_t>(sum / across);
  return b >= a ? a + by : a - by;
}

template <class Number>
std::size_t stretch_of(const std::vector<Number>& joints, Number at) {
  std::size_t low = 0, high = joints.size() - 1;
  while (high - low > 1) {
    const std::size_t middle = (low + high) / 2;
    (at >= joints[middle] ? low : high) = middle;
  }
  return low;
}

// From one end to the other in at most so many even steps.
std::vector<std::int64_t> spread(std::int64_t from, std::int64_t to, std::int64_t most) {
  std::vector<std::int64_t> places;
  const std::int64_t steps = std::min(most, to - from);
  for (std::int64_t i = 0; i <= steps; ++i) places.push_back(from + (to - from) * i / std::max<std::int64_t>(steps, 1));
  return places;
}

// What lies beyond the readings of a row, in a straight line from the nearest two.
void continue_row(std::vector<double>& row, const std::vector<std::int64_t>& raws) {
  const auto is_reading = [](double value) { return !std::isnan(value); };
  const auto begin = std::ranges::find_if(row, is_reading);
  if (begin == row.end()) return;
  const auto first = static_cast<std::size_t>(begin - row.begin());
  std::size_t last = row.size() - 1;
  while (!is_reading(row[last])) --last;
  if (last == first) {
    std::ranges::fill(row, row[first]);
    return;
  }
  const auto line = [&](std::size_t i, std::size_t a, std::size_t b) {
    return row[a] + (row[b] - row[a]) * static_cast<double>(raws[i] - raws[a]) / static_cast<double>(raws[b] - raws[a]);
  };
  for (std::size_t i = 0; i < first; ++i) row[i] = line(i, first, first + 1);
  for (std::size_t i = last + 1; i < row.size(); ++i) row[i] = line(i, last - 1, last);
}

// The raw number nearest to `outside` that has a reading, when `inside` has one.
std::int64_t edge(const ExactSurface& exact, std::int64_t side, std::int64_t inside, std::int64_t outside) {
  while (std::abs(outside - inside) > 1) {
    const std::int64_t middle = (inside + outside) / 2;
    (std::isnan(exact(middle, side)) ? outside : inside) = middle;
  }
  return inside;
}

}  // namespace

std::optional<SurfaceArithmetic::Outcome> SurfaceArithmetic::outside(std::int64_t raw, std::int64_t other) const {
  if (raw < first) return Outcome{HandoffStatus::low};
  if (raw > last) return Outcome{HandoffStatus::high};
  if (other < side.front() || other > side.back()) return Outcome{HandoffStatus::out_of_range};
  return std::nullopt;
}

SurfaceArithmetic::Outcome SurfaceArithmetic::within_limits(double steps) const {
  if (!std::isfinite(steps)) return {HandoffStatus::out_of_range};
  if (!(steps >= lowest)) return {falls ? HandoffStatus::high : HandoffStatus::low};
  if (!(steps <= highest)) return {falls ? HandoffStatus::low : HandoffStatus::high};
  return {HandoffStatus::ok, static_cast<std::int32_t>(steps)};
}

SurfaceArithmetic::Outcome SurfaceArithmetic::run_in_double(std::int64_t raw, std::int64_t other) const {
  if (!floating) return run(raw, other);
  if (const auto none = outside(raw, other)) return *none;
  const std::array inputs{static_cast<double>(raw), static_cast<double>(other)};
  return within_limits(std::floor(floating->formula.run<double>(inputs) * floating->per_unit + 0.5));
}

SurfaceArithmetic::Outcome SurfaceArithmetic::run(std::int64_t raw, std::int64_t other, std::uint64_t* largest) const {
  if (const auto none = outside(raw, other)) return *none;
  if (floating) {
    const std::array inputs{static_cast<double>(raw), static_cast<double>(other)};
    return within_limits(
        std::floor(floating->formula.run<float>(inputs) * static_cast<float>(floating->per_unit) + 0.5F));
  }
  const auto offset = static_cast<std::uint32_t>(raw - first);
  const std::size_t column = stretch_of(x, offset), row = stretch_of(side, static_cast<std::int32_t>(other));
  const std::uint32_t* above = y.data() + row * x.size() + column;
  const std::uint32_t* below = above + x.size();
  const auto deep = static_cast<std::uint64_t>(other - side[row]),
             depth = static_cast<std::uint64_t>(std::int64_t{side[row + 1]} - side[row]);
  const std::uint32_t left = between(above[0], below[0], deep, depth, largest),
                      right = between(above[1], below[1], deep, depth, largest);
  const std::uint32_t sum = between(left, right, offset - x[column], x[column + 1] - x[column], largest);
  return within_limits(static_cast<std::int32_t>((sum + (1U << (surface_fraction_bits - 1))) >> surface_fraction_bits) +
                       lift);
}

double SurfaceArithmetic::steepest_by_side() const {
  double most = 0;
  if (floating) {  // at places spread over both
    for (const std::int64_t raw : spread(first, last, 64))
      for (const std::int64_t other : spread(side.front(), side.back() - 1, 64)) {
        const auto value = [&](std::int64_t at) {
          const std::array inputs{static_cast<double>(raw), static_cast<double>(at)};
          return floating->formula.run<double>(inputs) * floating->per_unit;
        };
        if (const double by = std::abs(value(other + 1) - value(other)); std::isfinite(by)) most = std::max(most, by);
      }
    return most;
  }
  for (std::size_t row = 0; row + 1 < side.size(); ++row)
    for (std::size_t column = 0; column < x.size(); ++column) {
      const double by = static_cast<double>(y[(row + 1) * x.size() + column]) - y[row * x.size() + column];
      most = std::max(most, std::abs(by) / fraction / (side[row + 1] - side[row]));
    }
  return most;
}

namespace {

// What the exact chain reads at places spread over both numbers, and where it reads anything.
struct Probed {
  SurfaceArithmetic surface;  // its first and last, its limits and which way it goes
  std::vector<std::int64_t> sides, raws;
  std::vector<std::vector<double>> rows;  // [side][raw], steps, continued where nothing is read
};

Result<Probed> probe(const ExactSurface& exact, const SurfaceRange& range) {
  constexpr std::int64_t raw_probes = 1024, side_probes = 32;
  Probed probed;
  SurfaceArithmetic& surface = probed.surface;
  std::vector<std::int64_t>&sides = probed.sides, &raws = probed.raws;
  std::vector<std::vector<double>>& rows = probed.rows;
  sides = spread(range.side_from, range.side_to, side_probes);
  if (sides.size() < 2)
    return Problem{translated("the other channel has no range of readings"), translated("a channel that measures")};
  // Raw numbers that have a reading beside some reading of the other channel.
  surface.first = std::numeric_limits<std::int64_t>::max(), surface.last = std::numeric_limits<std::int64_t>::min();
  const auto everywhere = spread(range.raw_from, range.raw_to, raw_probes);
  for (const std::int64_t side : sides) {
    const auto reads = [&](std::int64_t raw) { return !std::isnan(exact(raw, side)); };
    const auto inside = std::ranges::find_if(everywhere, reads);
    if (inside == everywhere.end()) continue;
    const std::int64_t low = inside == everywhere.begin() ? *inside : edge(exact, side, *inside, *(inside - 1));
    const auto outside = std::find_if_not(inside, everywhere.end(), reads);
    const std::int64_t high =
        outside == everywhere.end() ? everywhere.back() : edge(exact, side, *(outside - 1), *outside);
    surface.first = std::min(surface.first, low), surface.last = std::max(surface.last, high);
  }
  if (surface.first >= surface.last)
    return Problem{translated("no raw number has a reading"), translated("a chain that reads something")};
  raws = spread(surface.first, surface.last, raw_probes);
  double least = std::numeric_limits<double>::infinity(), most = -least;
  for (const std::int64_t side : sides) {
    std::vector<double> row;
    for (const std::int64_t raw : raws) {
      row.push_back(exact(raw, side));
      if (!std::isnan(row.back())) least = std::min(least, row.back()), most = std::max(most, row.back());
    }
    continue_row(row, raws);
    if (std::isnan(row.front()))
      return Problem{translated("beside some readings of the other channel no raw number has a reading"),
                     translated("a channel whose readings all suit this one")};
    rows.push_back(std::move(row));
  }
  if (!(least > -100e6 && most < 100e6))
    return Problem{translated("the readings do not fit in 32 bits with so many steps a unit"),
                   translated("fewer steps a unit")};
  surface.lowest = static_cast<std::int32_t>(std::floor(least + 0.5));
  surface.highest = static_cast<std::int32_t>(std::floor(most + 0.5));
  surface.falls = rows.front().back() < rows.front().front();
  return probed;
}

}  // namespace

Result<SurfaceArithmetic> float_surface(const ExactSurface& exact, const SurfaceRange& range, const Formula& formula,
                                        double per_unit) {
  auto probed = probe(exact, range);
  if (!probed) return probed.problem();
  SurfaceArithmetic& surface = probed->surface;
  surface.x = {0, static_cast<std::uint32_t>(surface.last - surface.first)};
  surface.side = {static_cast<std::int32_t>(range.side_from), static_cast<std::int32_t>(range.side_to)};
  surface.floating = FloatArithmetic{formula, per_unit};
  surface.floating->formula.bind({"raw", "side"});
  for (const std::int64_t side : probed->sides)
    for (const std::int64_t raw : probed->raws)
      if (const auto outcome = surface.run_in_double(raw, side); outcome.status == HandoffStatus::ok)
        if (const double miss = std::abs(outcome.value - exact(raw, side)); miss > surface.off_at_limits)
          surface.off_at_limits = miss;
  return std::move(surface);
}

Result<SurfaceArithmetic> surface_arithmetic(const ExactSurface& exact, const SurfaceRange& range, double tolerance) {
  auto probed = probe(exact, range);
  if (!probed) return probed.problem();
  SurfaceArithmetic& surface = probed->surface;
  const std::vector<std::int64_t>&sides = probed->sides, &raws = probed->raws;
  const std::vector<std::vector<double>>& rows = probed->rows;
  const auto allowed = [&](double value) {
    return value >= range.wanted_from && value <= range.wanted_to ? tolerance / 2 : 5 * tolerance / 2;
  };
  // Between two joints every line along one number has to follow at all places of the other.
  const auto columns = joints(raws.size(), [&](std::size_t from, std::size_t to) {
    for (const auto& row : rows)
      for (std::size_t i = from + 1; i < to; ++i) {
        const double line = row[from] + (row[to] - row[from]) * static_cast<double>(raws[i] - raws[from]) /
                                            static_cast<double>(raws[to] - raws[from]);
        if (std::abs(line - row[i]) > allowed(row[i])) return false;
      }
    return true;
  });
  const auto kept = joints(sides.size(), [&](std::size_t from, std::size_t to) {
    for (std::size_t raw = 0; raw < raws.size(); ++raw)
      for (std::size_t i = from + 1; i < to; ++i) {
        const double line = rows[from][raw] + (rows[to][raw] - rows[from][raw]) *
                                                  static_cast<double>(sides[i] - sides[from]) /
                                                  static_cast<double>(sides[to] - sides[from]);
        if (std::abs(line - rows[i][raw]) > allowed(rows[i][raw])) return false;
      }
    return true;
  });
  if (columns.size() * kept.size() > most_joints)
    return Problem{translated("more than {} points would be needed", most_joints), translated("fewer steps a unit")};
  double bottom = std::numeric_limits<double>::infinity();
  for (const std::size_t side : kept)
    for (const std::size_t raw : columns) bottom = std::min(bottom, rows[side][raw]);
  surface.lift = static_cast<std::int32_t>(std::floor(bottom));
  for (const std::size_t raw : columns) surface.x.push_back(static_cast<std::uint32_t>(raws[raw] - surface.first));
  for (const std::size_t side : kept) {
    surface.side.push_back(static_cast<std::int32_t>(sides[side]));
    for (const std::size_t raw : columns)
      surface.y.push_back(static_cast<std::uint32_t>(std::llround((rows[side][raw] - surface.lift) * fraction)));
  }
  return std::move(surface);
}

SurfaceProof prove_surface(const SurfaceArithmetic& surface, const ExactSurface& exact, const SurfaceRange& range,
                           const std::function<bool()>& is_cancelled) {
  SurfaceProof proof;
  const auto look = [&](std::int64_t raw, std::int64_t side) {
    const double truth = exact(raw, side);
    const auto outcome = surface.run(raw, side, &proof.largest_intermediate);
    ++proof.codes;
    if (outcome.status == HandoffStatus::out_of_range) ++proof.gaps;
    if (std::isnan(truth) != (outcome.status != HandoffStatus::ok)) {
      // Where the value itself decides whether there is one, a step may go either way.
      const double value = std::isnan(truth) ? outcome.value : truth;
      const double off = surface.off_at_limits + 1;
      if (value > surface.lowest + off && value < surface.highest - off) ++proof.disagreements;
      return;
    }
    if (std::isnan(truth)) return;
    const double miss = std::abs(outcome.value - truth);
    if (miss > proof.worst) proof.worst = miss, proof.at_raw = raw, proof.at_side = side;
    if (truth >= range.wanted_from && truth <= range.wanted_to) proof.worst_wanted = std::max(proof.worst_wanted, miss);
  };
  const std::int64_t raw_count = range.raw_to - range.raw_from + 1, side_count = range.side_to - range.side_from + 1;
  proof.exhaustive = raw_count <= 8 * range.drawn / side_count;
  std::mt19937_64 random(1);
  const std::int64_t drawn_raws = std::min<std::int64_t>(1000, range.drawn), drawn_sides = range.drawn / drawn_raws;
  const std::int64_t rounds = proof.exhaustive ? side_count : drawn_sides;
  for (std::int64_t i = 0; i < rounds && !proof.is_cancelled; ++i) {
    proof.is_cancelled = is_cancelled && is_cancelled();
    if (proof.exhaustive) {
      for (std::int64_t raw = range.raw_from; raw <= range.raw_to; ++raw) look(raw, range.side_from + i);
      continue;
    }
    const std::int64_t side =
        range.side_from + static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(side_count));
    for (std::int64_t each = 0; each < drawn_raws; ++each)
      look(range.raw_from + static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(raw_count)), side);
  }
  return proof;
}

}  // namespace fair_gauge
