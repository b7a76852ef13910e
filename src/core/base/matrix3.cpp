#include "core/base/matrix3.h"

#include <cmath>

namespace wavechroma {

Matrix3 identity()
{
    return diagonal({1, 1, 1});
}

Matrix3 diagonal(const Vector3 &d)
{
    Matrix3 m;
    for (int i = 0; i < 3; ++i)
        m(i, i) = d[size_t(i)];
    return m;
}

Matrix3 operator*(const Matrix3 &a, const Matrix3 &b)
{
    Matrix3 c;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            c(i, j) = a(i, 0) * b(0, j) + a(i, 1) * b(1, j) + a(i, 2) * b(2, j);
    return c;
}

Vector3 operator*(const Matrix3 &m, const Vector3 &v)
{
    Vector3 out{};
    for (int i = 0; i < 3; ++i)
        out[size_t(i)] = m(i, 0) * v[0] + m(i, 1) * v[1] + m(i, 2) * v[2];
    return out;
}

Matrix3 operator*(double scale, const Matrix3 &m)
{
    Matrix3 out = m;
    for (auto &row : out.rows)
        for (double &value : row)
            value *= scale;
    return out;
}

Matrix3 transposed(const Matrix3 &m)
{
    Matrix3 out;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            out(i, j) = m(j, i);
    return out;
}

static double cofactor(const Matrix3 &m, int row, int column)
{
    const int r1 = (row + 1) % 3, r2 = (row + 2) % 3, c1 = (column + 1) % 3, c2 = (column + 2) % 3;
    return m(r1, c1) * m(r2, c2) - m(r1, c2) * m(r2, c1);
}

double determinant(const Matrix3 &m)
{
    return m(0, 0) * cofactor(m, 0, 0) + m(0, 1) * cofactor(m, 0, 1) + m(0, 2) * cofactor(m, 0, 2);
}

std::optional<Matrix3> inverse(const Matrix3 &m)
{
    const double det = determinant(m);
    double lengths = 1;
    for (const auto &row : m.rows)
        lengths *= std::hypot(row[0], row[1], row[2]);
    if (!std::isfinite(det) || std::abs(det) <= 1e-12 * lengths)
        return std::nullopt;
    Matrix3 out;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            out(i, j) = cofactor(m, j, i) / det;
    return out;
}

} // namespace wavechroma
