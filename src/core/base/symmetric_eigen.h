#pragma once
#include <Eigen/Core>

namespace wavechroma {

/// Eigenvalues of a symmetric matrix, the smallest first, and their vectors as columns, by tridiagonal QR
/// (Golub and Van Loan, Matrix Computations, 8.3). Compiled once, for the decomposition costs a compiler half
/// a minute.
struct SymmetricEigen
{
    Eigen::VectorXd values;
    Eigen::MatrixXd vectors;
};
[[nodiscard]] SymmetricEigen symmetricEigen(const Eigen::MatrixXd &matrix);

} // namespace wavechroma
