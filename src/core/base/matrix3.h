#pragma once
#include <array>
#include <optional>

namespace wavechroma {

using Vector3 = std::array<double, 3>;

/// A 3×3 matrix, row-major, applied to column vectors: y = M x.
struct Matrix3
{
    std::array<std::array<double, 3>, 3> rows{};

    double &operator()(int row, int column) { return rows[size_t(row)][size_t(column)]; }
    double operator()(int row, int column) const { return rows[size_t(row)][size_t(column)]; }
    bool operator==(const Matrix3 &) const = default;
};

[[nodiscard]] Matrix3 identity();
[[nodiscard]] Matrix3 diagonal(const Vector3 &d);
[[nodiscard]] Matrix3 operator*(const Matrix3 &a, const Matrix3 &b);
[[nodiscard]] Vector3 operator*(const Matrix3 &m, const Vector3 &v);
[[nodiscard]] Matrix3 operator*(double scale, const Matrix3 &m);
[[nodiscard]] Matrix3 transposed(const Matrix3 &m);
[[nodiscard]] double determinant(const Matrix3 &m);
/// Returns nothing if |det| is below 1e-12 of the product of the row lengths, where a result would be all
/// rounding error.
[[nodiscard]] std::optional<Matrix3> inverse(const Matrix3 &m);

} // namespace wavechroma
