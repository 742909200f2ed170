// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/householder.h"

#include "base/kernel.h"

#include <cmath>

namespace jointer::fit {

using Eigen::Index;

namespace {

// Four partial sums, so that the compiler may use vector registers.
JOINTER_KERNEL double dot(const double* a, const double* b, Index n) {
    double s[4] = {0, 0, 0, 0};
    Index i = 0;
    for (; i + 4 <= n; i += 4)
        for (int k = 0; k < 4; ++k) s[k] += a[i + k] * b[i + k];
    for (; i < n; ++i) s[0] += a[i] * b[i];
    return (s[0] + s[1]) + (s[2] + s[3]);
}

JOINTER_KERNEL void subtract(double factor, const double* v, double* from, Index n) {
    for (Index i = 0; i < n; ++i) from[i] -= factor * v[i];
}

} // namespace

void triangularise(Eigen::MatrixXd& a, Index steps) {
    const Index rows = a.rows();
    for (Index k = 0; k < std::min(steps, rows - 1); ++k) {
        double* v = a.data() + k * rows + k;
        const Index n = rows - k;
        const double length = std::sqrt(dot(v, v, n));
        if (!(length > 0)) continue;
        const double pivot = *v > 0 ? -length : length;
        *v -= pivot;
        const double scale = -1 / (pivot * *v);
        for (Index j = k + 1; j < a.cols(); ++j) {
            double* column = a.data() + j * rows + k;
            subtract(scale * dot(v, column, n), v, column, n);
        }
        *v = pivot;
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
