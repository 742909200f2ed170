// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/householder.h"

#include "base/kernel.h"

#include <cmath>

namespace jointer::fit {

using Eigen::Index;

namespace {

constexpr double kVanishing = 1e-280; // a square of which few digits are left

JOINTER_KERNEL double dot(const double* a, const double* b, Index n) {
    Four s[4] = {};
    Index i = 0;
    for (; i + 16 <= n; i += 16)
#pragma GCC unroll 4
        for (int k = 0; k < 4; ++k) s[k] += fourAt(a + i + 4 * k) * fourAt(b + i + 4 * k);
    double rest = 0;
    for (; i < n; ++i) rest += a[i] * b[i];
    return sumOf((s[0] + s[1]) + (s[2] + s[3])) + rest;
}

JOINTER_KERNEL void subtract(double factor, const double* v, double* from, Index n) {
    Index i = 0;
    for (; i + 4 <= n; i += 4) fourAt(from + i) -= factor * fourAt(v + i);
    for (; i < n; ++i) from[i] -= factor * v[i];
}

// Four columns reflected at once: v is read once for all. Shape: the columns lie `stride` apart.
JOINTER_KERNEL void reflectFour(double scale, const double* v, double* columns, Index stride, Index n) {
    double* const c[4] = {columns, columns + stride, columns + 2 * stride, columns + 3 * stride};
    Four s[4] = {}, t[4] = {};
    Index i = 0;
    for (; i + 8 <= n; i += 8) {
        const Four first = fourAt(v + i), second = fourAt(v + i + 4);
#pragma GCC unroll 4
        for (int j = 0; j < 4; ++j) {
            s[j] += first * fourAt(c[j] + i);
            t[j] += second * fourAt(c[j] + i + 4);
        }
    }
    double f[4];
#pragma GCC unroll 4
    for (int j = 0; j < 4; ++j) {
        f[j] = sumOf(s[j] + t[j]);
        for (Index k = i; k < n; ++k) f[j] += v[k] * c[j][k];
        f[j] *= scale;
    }
    for (i = 0; i + 4 <= n; i += 4) {
        const Four part = fourAt(v + i);
#pragma GCC unroll 4
        for (int j = 0; j < 4; ++j) fourAt(c[j] + i) -= f[j] * part;
    }
    for (; i < n; ++i)
        for (int j = 0; j < 4; ++j) c[j][i] -= f[j] * v[i];
}

constexpr Index kStretch = 256;           // rows that stay in the cache
constexpr double kNearlyDependent = 1e-3; // of a pivot: from here on too few digits are left
constexpr int kLeft = 3, kRight = 4;      // columns whose sums fill the registers

// Some columns times some others, over a few rows, added to `out` row by row.
JOINTER_KERNEL void products(const double* const* a, const double* const* b, Index n, double* out) {
    Four s[kLeft * kRight] = {};
    Index i = 0;
    for (; i + 4 <= n; i += 4) {
        const Four left[kLeft] = {fourAt(a[0] + i), fourAt(a[1] + i), fourAt(a[2] + i)};
#pragma GCC unroll 4
        for (int j = 0; j < kRight; ++j) {
            const Four right = fourAt(b[j] + i);
#pragma GCC unroll 3
            for (int k = 0; k < kLeft; ++k) s[k * kRight + j] += left[k] * right;
        }
    }
    for (int k = 0; k < kLeft; ++k)
        for (int j = 0; j < kRight; ++j) {
            double sum = sumOf(s[k * kRight + j]);
            for (Index r = i; r < n; ++r) sum += a[k][r] * b[j][r];
            out[k * kRight + j] += sum;
        }
}

} // namespace

Eigen::MatrixXd quickTriangle(std::span<const double* const> columns, Index rows, const double* right,
                              const Eigen::VectorXd& scale) {
    const Index m = std::ssize(columns), all = m + 1;
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(m, all);
    for (Index from = 0; from < rows; from += kStretch) {
        const Index n = std::min(kStretch, rows - from);
        const auto column = [&](Index k) { return (k < m ? columns[static_cast<std::size_t>(k)] : right) + from; };
        for (Index i = 0; i < m; i += kLeft) {
            const double* left[kLeft]; // the last again where there are no more
            for (Index k = 0; k < kLeft; ++k) left[k] = column(std::min(i + k, m - 1));
            for (Index j = i; j < all; j += kRight) {
                const double* others[kRight];
                for (Index k = 0; k < kRight; ++k) others[k] = column(std::min(j + k, all - 1));
                double sums[kLeft * kRight] = {};
                products(left, others, n, sums);
                for (Index k = 0; k < std::min<Index>(kLeft, m - i); ++k)
                    for (Index l = 0; l < std::min<Index>(kRight, all - j); ++l)
                        g(i + k, j + l) += sums[k * kRight + l];
            }
        }
    }
    if (m > 0 && !(g.diagonal().minCoeff() > kVanishing)) return {};
    for (Index k = 0; k < m; ++k) {
        g.row(k) /= scale[k];
        g.col(k) /= scale[k];
    }
    // The upper triangle by Cholesky's method, the right-hand side along with it.
    for (Index k = 0; k < m; ++k) {
        for (Index l = 0; l < k; ++l) g.row(k).tail(all - k) -= g(l, k) * g.row(l).tail(all - k);
        if (!(g(k, k) > kNearlyDependent * kNearlyDependent)) return {};
        g.row(k).tail(all - k) /= std::sqrt(g(k, k));
        g.row(k).head(k).setZero();
    }
    return g;
}

void triangularise(Eigen::MatrixXd& a, Index steps) {
    const Index rows = a.rows();
    for (Index k = 0; k < std::min(steps, rows - 1); ++k) {
        double* v = a.data() + k * rows + k;
        const Index n = rows - k;
        // The far wing of a peak is so small that its squares vanish: the reflection needs only its
        // direction.
        double square = dot(v, v, n), unit = 1;
        if (square < kVanishing) {
            for (Index i = 0; i < n; ++i) unit = i == 0 ? std::abs(v[0]) : std::max(unit, std::abs(v[i]));
            if (!(unit > 0)) continue;
            for (Index i = 0; i < n; ++i) v[i] /= unit;
            square = dot(v, v, n);
        }
        const double length = std::sqrt(square);
        const double pivot = *v > 0 ? -length : length;
        *v -= pivot;
        const double scale = -1 / (pivot * *v);
        Index j = k + 1;
        for (; j + 4 <= a.cols(); j += 4) reflectFour(scale, v, a.data() + j * rows + k, rows, n);
        for (; j < a.cols(); ++j) {
            double* column = a.data() + j * rows + k;
            subtract(scale * dot(v, column, n), v, column, n);
        }
        *v = pivot * unit;
    }
}

Eigen::VectorXd backSubstituted(const Eigen::MatrixXd& a, Index m, Index column) {
    Eigen::VectorXd x(m);
    for (Index k = m; k-- > 0;) {
        double rest = a(k, column);
        for (Index j = k + 1; j < m; ++j) rest -= a(k, j) * x[j];
        x[k] = a(k, k) != 0 ? rest / a(k, k) : 0;
    }
    return x;
}

} // namespace jointer::fit
