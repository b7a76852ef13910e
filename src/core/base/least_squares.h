#pragma once
#include <Eigen/Core>

#include <optional>

namespace wavechroma {

/// x with |a x − b| least, a column of x for each of b, by Householder QR with column pivoting (Golub and Van
/// Loan, Matrix Computations, 5.4): normal equations lose four digits on a 24-patch chart. Compiled once, for
/// the decomposition costs a compiler half a minute. Rows of a and b agree, at least as many as a's columns.
[[nodiscard]] Eigen::MatrixXd leastSquares(const Eigen::MatrixXd &a, const Eigen::MatrixXd &b);
/// Solves the same; returns nothing if the columns of `a` depend on each other: a pivot under `threshold` of
/// the largest.
[[nodiscard]] std::optional<Eigen::MatrixXd> soundLeastSquares(const Eigen::MatrixXd &a,
                                                               const Eigen::MatrixXd &b, double threshold);

} // namespace wavechroma
