#include "quantity/least_squares.h"

#include <Eigen/Core>
#include <Eigen/QR>

namespace fair_gauge {

LeastSquares least_squares(const std::vector<double>& rows, std::size_t columns, const std::vector<double>& right) {
  const auto n = static_cast<Eigen::Index>(right.size()), k = static_cast<Eigen::Index>(columns);
  Eigen::MatrixXd a(n, k);
  for (Eigen::Index i = 0; i < n; ++i)
    for (Eigen::Index j = 0; j < k; ++j) a(i, j) = rows[static_cast<std::size_t>(i * k + j)];
  Eigen::VectorXd b(n);
  for (Eigen::Index i = 0; i < n; ++i) b(i) = right[static_cast<std::size_t>(i)];
  const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> solver(a);
  Eigen::VectorXd solved = solver.solve(b);
  LeastSquares result{
      .solved = {solved.data(), solved.data() + k}, .inverse = {}, .rank = static_cast<std::size_t>(solver.rank())};
  if (solver.rank() < k) return result;
  Eigen::MatrixXd normal(k, k);
  for (Eigen::Index i = 0; i < k; ++i)
    for (Eigen::Index j = 0; j < k; ++j) normal(i, j) = a.col(i).dot(a.col(j));
  const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> of_normal(normal);
  result.inverse.resize(columns * columns);
  for (Eigen::Index i = 0; i < k; ++i) {
    b.setZero(k);
    b(i) = 1;
    solved = of_normal.solve(b);
    for (Eigen::Index j = 0; j < k; ++j) result.inverse[static_cast<std::size_t>(j * k + i)] = solved(j);
  }
  return result;
}

}  // namespace fair_gauge
