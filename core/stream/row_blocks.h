// Blocks of rows by their lowest and highest value: what a plot of millions of rows is drawn from.
#pragma once

#include <cstddef>
#include <functional>
#include <limits>
#include <vector>

#include "stream/channel_log.h"

namespace fair_gauge {

inline constexpr std::size_t rows_in_block = 64;

/// Of rows_in_block neighbouring rows, the last block of fewer.
struct RowBlock {
  double low = std::numeric_limits<double>::infinity();    ///< of its values that are numbers and have a time
  double high = -std::numeric_limits<double>::infinity();  ///< below `low` where it has none
  double first, last;                                      ///< seconds; not a number where no row has a time
  bool has_gap;  ///< two of its neighbouring times lie further apart than the gap
};

/// \param value_of  of the place of a row, from 0; not a number where there is none
/// \param gap_s     times further apart than this are a gap
std::vector<RowBlock> row_blocks(const std::vector<LogReading>& rows, double gap_s,
                                 const std::function<double(std::size_t)>& value_of);

}  // namespace fair_gauge
