#include "stream/row_blocks.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fair_gauge {

std::vector<RowBlock> row_blocks(const std::vector<LogReading>& rows, double gap_s,
                                 const std::function<double(std::size_t)>& value_of) {
  std::vector<RowBlock> blocks;
  blocks.reserve(rows.size() / rows_in_block + 1);
  for (std::size_t from = 0; from < rows.size(); from += rows_in_block) {
    RowBlock block{.first = std::nan(""), .last = std::nan(""), .has_gap = false};
    for (std::size_t i = from; i < std::min(from + rows_in_block, rows.size()); ++i) {
      if (!std::isfinite(rows[i].seconds)) continue;
      if (!std::isfinite(block.first)) block.first = rows[i].seconds;
      if (rows[i].seconds - block.last > gap_s) block.has_gap = true;
      block.last = rows[i].seconds;
      const double value = value_of(i);
      if (std::isfinite(value)) block.low = std::min(block.low, value), block.high = std::max(block.high, value);
    }
    blocks.push_back(block);
  }
  return blocks;
}

}  // namespace fair_gauge
