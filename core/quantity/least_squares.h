// Linear least squares, and with as many rows as columns the solution of a system. The one place that knows the linear
// algebra library.
#pragma once

#include <cstddef>
#include <vector>

namespace fair_gauge {

struct LeastSquares {
  std::vector<double> solved;   ///< one for each column
  std::vector<double> inverse;  ///< (AᵀA)⁻¹, row by row; empty where the rank is not full
  std::size_t rank = 0;
};

/// \param rows     A, row by row  \param columns  of A
/// \param right    one for each row
/// \source Householder QR with column pivoting
LeastSquares least_squares(const std::vector<double>& rows, std::size_t columns, const std::vector<double>& right);

}  // namespace fair_gauge
