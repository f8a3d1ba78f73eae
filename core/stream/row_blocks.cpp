#include "stream/row_blocks.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fair_gauge {

void ValueSummary::take(double value) {
  if (!std::isfinite(value)) return;
  ++count;
  const double by = value - mean;
  mean += by / static_cast<double>(count);
  squares += by * (value - mean);
  low = std::min(low, value), high = std::max(high, value);
}

void ValueSummary::take(const ValueSummary& other) {
  if (other.count == 0) return;
  const auto own = static_cast<double>(count), more = static_cast<double>(other.count), all = own + more;
  const double by = other.mean - mean;
  mean += by * more / all;
  squares += other.squares + by * by * own * more / all;
  count += other.count;
  low = std::min(low, other.low), high = std::max(high, other.high);
}

double ValueSummary::standard_deviation() const {
  return count < 2 ? std::nan("") : std::sqrt(squares / static_cast<double>(count - 1));
}

std::vector<RowBlock> row_blocks(const std::vector<LogReading>& rows, double gap_s,
                                 const std::function<double(std::size_t)>& value_of) {
  std::vector<RowBlock> blocks;
  blocks.reserve(rows.size() / rows_in_block + 1);
  for (std::size_t from = 0; from < rows.size(); from += rows_in_block) {
    RowBlock block{.values = {}, .first = std::nan(""), .last = std::nan(""), .has_gap = false};
    for (std::size_t i = from; i < std::min(from + rows_in_block, rows.size()); ++i) {
      if (!std::isfinite(rows[i].seconds)) continue;
      if (!std::isfinite(block.first)) block.first = rows[i].seconds;
      if (rows[i].seconds - block.last > gap_s) block.has_gap = true;
      block.last = rows[i].seconds;
      block.values.take(value_of(i));
    }
    blocks.push_back(block);
  }
  return blocks;
}

ValueSummary summary_of(const std::vector<LogReading>& rows, const std::vector<RowBlock>& blocks, std::size_t from,
                        std::size_t to) {
  ValueSummary all;
  to = std::min(to, rows.size());
  for (std::size_t i = from; i < to;) {
    const std::size_t block = i / rows_in_block;
    if (i % rows_in_block == 0 && i + rows_in_block <= to && block < blocks.size()) {
      all.take(blocks[block].values);
      i += rows_in_block;
    } else {
      if (std::isfinite(rows[i].seconds)) all.take(rows[i].reading);
      ++i;
    }
  }
  return all;
}

}  // namespace fair_gauge
