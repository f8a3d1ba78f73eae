// Blocks of rows by their lowest and highest value: what a plot of millions of rows is drawn from.
#pragma once

#include <cstddef>
#include <functional>
#include <limits>
#include <vector>

#include "stream/channel_log.h"

namespace fair_gauge {

inline constexpr std::size_t rows_in_block = 64;

/// Of values that are numbers.
struct ValueSummary {
  std::size_t count = 0;
  double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
  double mean = 0;
  double squares = 0;  ///< sum of (value − mean)²

  void take(double value);
  /// \source combination of means and sums of squares of two samples (parallel form of Welford's)
  void take(const ValueSummary& other);
  double standard_deviation() const;  ///< not a number for fewer than two
};

/// Of rows_in_block neighbouring rows, the last block of fewer.
struct RowBlock {
  ValueSummary values;  ///< of rows that have a time
  double first, last;   ///< seconds; not a number where no row has a time
  bool has_gap;         ///< two of its neighbouring times lie further apart than the gap
};

/// \param value_of  of the place of a row, from 0; not a number where there is none
/// \param gap_s     times further apart than this are a gap
std::vector<RowBlock> row_blocks(const std::vector<LogReading>& rows, double gap_s,
                                 const std::function<double(std::size_t)>& value_of);

/// Of the readings of some rows, by their blocks where these are whole. \param from, to  places, the last not included
ValueSummary summary_of(const std::vector<LogReading>& rows, const std::vector<RowBlock>& blocks, std::size_t from,
                        std::size_t to);

}  // namespace fair_gauge
