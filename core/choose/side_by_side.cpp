#include "choose/side_by_side.h"

#include <cmath>
#include <random>

#include "sim/environment.h"
#include "truth/error_budget.h"

namespace fair_gauge {

SideBySide run_side_by_side(const Catalogue& catalogue, const Need& need,
                            const std::vector<const Candidate*>& candidates, double hours, int samples,
                            std::uint64_t seed) {
  SideBySide run;
  const double middle = (need.from + need.to) / 2, swing = (need.to - need.from) / 4;
  for (int i = 0; i < samples; ++i) {
    const double seconds = hours * 3600 * i / (samples - 1);
    run.seconds.push_back(seconds);
    // Up, over, and down again: through half of the wanted range.
    run.truth.push_back(middle + swing * std::sin(seconds / (hours * 3600) * 2 * 3.14159265358979));
  }
  for (std::size_t c = 0; c < candidates.size(); ++c) {
    std::vector<double> row(run.truth.size(), std::nan(""));
    const Trial& trial = candidates[c]->trial;
    if (auto chain = build_chain(trial.bench, catalogue, trial.channel)) {
      // How far off this specimen is: its systematic sources, each by chance; noise comes from the device itself.
      std::mt19937_64 chance(seed + c);
      std::normal_distribution<double> normal;
      double off = 0;
      if (const auto budget = error_budget(*chain, middle))
        for (const Contribution& line : budget->lines)
          if (line.kind == SourceKind::other) off += line.standard * normal(chance);
      const Chain reader = *chain;
      SimulatedDevice device(std::move(*chain), seed + c);
      for (std::size_t i = 0; i < row.size(); ++i)
        if (const auto reading = read_raw(reader, static_cast<double>(device.answer(run.truth[i]))))
          row[i] = *reading + off;
    }
    run.readings.push_back(std::move(row));
  }
  return run;
}

}  // namespace fair_gauge
