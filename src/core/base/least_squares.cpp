#include "core/base/least_squares.h"

#include <Eigen/QR>

namespace wavechroma {

Eigen::MatrixXd leastSquares(const Eigen::MatrixXd &a, const Eigen::MatrixXd &b)
{
    return a.colPivHouseholderQr().solve(b);
}

std::optional<Eigen::MatrixXd> soundLeastSquares(const Eigen::MatrixXd &a, const Eigen::MatrixXd &b,
                                                 double threshold)
{
    auto qr = a.colPivHouseholderQr();
    qr.setThreshold(threshold);
    if (qr.rank() < a.cols())
        return std::nullopt;
    return qr.solve(b);
}

} // namespace wavechroma
