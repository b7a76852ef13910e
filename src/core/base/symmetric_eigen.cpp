#include "core/base/symmetric_eigen.h"

#include <Eigen/Eigenvalues>

namespace wavechroma {

SymmetricEigen symmetricEigen(const Eigen::MatrixXd &matrix)
{
    const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(matrix);
    return {solver.eigenvalues(), solver.eigenvectors()};
}

} // namespace wavechroma
