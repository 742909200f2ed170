// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/penalised.h"

#include <cstddef>

namespace jointer::numerics {

namespace {

// A number with its derivative along one direction.
struct Dual {
    double v = 0, d = 0;
    friend Dual operator-(Dual a, Dual b) { return {a.v - b.v, a.d - b.d}; }
    friend Dual operator-(Dual a) { return {-a.v, -a.d}; }
    friend Dual operator*(Dual a, Dual b) { return {a.v * b.v, a.v * b.d + a.d * b.v}; }
    friend Dual operator/(Dual a, Dual b) {
        const double q = a.v / b.v;
        return {q, (a.d - q * b.d) / b.v};
    }
};

// λDᵀD for second differences: its diagonal and the two beside it.
struct Penalty {
    std::size_t n;
    double lambda;
    double at(std::size_t i, std::size_t off) const {
        static constexpr double d[3][3] = {{1, 4, 1}, {-2, -2, 0}, {1, 0, 0}};
        double sum = 0;
        for (std::size_t k = 0; k < 3; ++k) { // the difference that has i as its k-th point
            if (i < k || i - k + 2 >= n) continue;
            sum += off == 0 ? d[0][k] : off == 1 ? d[1][k] : d[2][k];
        }
        return lambda * sum;
    }
};

// A = L·D·Lᵀ with unit L of two bands below the diagonal: L(i+1,i) = one[i], L(i+2,i) = two[i].
template <class T> struct Factors { std::vector<T> pivot, one, two; };

template <class T> Factors<T> factored(const std::vector<T>& diagonal, const Penalty& penalty) {
    const std::size_t n = diagonal.size();
    Factors<T> f{std::vector<T>(n), std::vector<T>(n), std::vector<T>(n)};
    for (std::size_t i = 0; i < n; ++i) {
        T pivot = diagonal[i], beside = T{penalty.at(i, 1)};
        if (i > 0) {
            pivot = pivot - f.one[i - 1] * f.one[i - 1] * f.pivot[i - 1];
            beside = beside - f.two[i - 1] * f.one[i - 1] * f.pivot[i - 1];
        }
        if (i > 1) pivot = pivot - f.two[i - 2] * f.two[i - 2] * f.pivot[i - 2];
        f.pivot[i] = pivot;
        if (i + 1 < n) f.one[i] = beside / pivot;
        if (i + 2 < n) f.two[i] = T{penalty.at(i, 2)} / pivot;
    }
    return f;
}

} // namespace

// Rows are eliminated from both ends towards two in the middle, which remain as a system of their own, and
// solved outwards again: the two chains do not wait for each other, and each row takes one division.
void PenalisedSolver::solve(std::span<const double> y, std::span<const double> w, double lambda,
                            std::vector<double>& z) {
    const std::size_t n = y.size();
    z.assign(y.begin(), y.end());
    if (n < 3) return;
    const Penalty penalty{n, lambda};
    one_.resize(n);
    two_.resize(n);
    double *one = one_.data(), *two = two_.data();
    struct Chain { // of the rows before: 1 and 2 back
        double pivot1 = 0, pivot2 = 0, one1 = 0, two1 = 0, two2 = 0, z1 = 0, z2 = 0;
    } top, bottom;
    auto row = [&](Chain& c, std::size_t i, double own, double next, double afterNext) {
        const double pivot = w[i] + own - c.one1 * c.one1 * c.pivot1 - c.two2 * c.two2 * c.pivot2;
        const double beside = next - c.two1 * c.one1 * c.pivot1, inverse = 1 / pivot;
        const double now = w[i] * y[i] - c.one1 * c.z1 - c.two2 * c.z2;
        one[i] = beside * inverse;
        two[i] = afterNext * inverse;
        z[i] = now * inverse;
        c.z2 = c.z1, c.z1 = now;
        c.pivot2 = c.pivot1, c.pivot1 = pivot;
        c.one1 = one[i];
        c.two2 = c.two1, c.two1 = two[i];
    };
    // The k-th row from an end; the penalty reads the same from both.
    const std::size_t above = (n - 2) / 2, below = n - 2 - above;
    auto atEnd = [&](Chain& c, std::size_t i, std::size_t k) {
        row(c, i, penalty.at(k, 0), penalty.at(k, 1), penalty.at(k, 2));
    };
    const std::size_t ends = n < 8 ? below : 2;
    for (std::size_t k = 0; k < std::min(ends, above); ++k) atEnd(top, k, k);
    for (std::size_t k = 0; k < std::min(ends, below); ++k) atEnd(bottom, n - 1 - k, k);
    for (std::size_t k = ends; k < above; ++k) {
        row(top, k, 6 * lambda, -4 * lambda, lambda);
        row(bottom, n - 1 - k, 6 * lambda, -4 * lambda, lambda);
    }
    for (std::size_t k = std::max(ends, above); k < below; ++k)
        row(bottom, n - 1 - k, 6 * lambda, -4 * lambda, lambda);
    // What is left of the two rows in the middle.
    const std::size_t p = above, q = above + 1;
    auto left = [&](std::size_t i, const Chain& near, const Chain& far) {
        return w[i] + penalty.at(i, 0) - near.one1 * near.one1 * near.pivot1 -
               near.two2 * near.two2 * near.pivot2 - far.two1 * far.two1 * far.pivot1;
    };
    auto known = [&](std::size_t i, const Chain& near, const Chain& far) {
        return w[i] * y[i] - near.one1 * near.z1 - near.two2 * near.z2 - far.two1 * far.z1;
    };
    const double pp = left(p, top, bottom), qq = left(q, bottom, top),
                 pq = penalty.at(p, 1) - top.two1 * top.one1 * top.pivot1 -
                      bottom.two1 * bottom.one1 * bottom.pivot1;
    const double kp = known(p, top, bottom), kq = known(q, bottom, top);
    const double share = pq / pp;
    z[q] = (kq - share * kp) / (qq - share * pq);
    z[p] = (kp - pq * z[q]) / pp;
    for (std::size_t k = 0; k < below; ++k) {
        const std::size_t j = q + 1 + k;
        z[j] -= one[j] * z[j - 1] + two[j] * z[j - 2];
        if (k >= above) continue;
        const std::size_t i = p - 1 - k;
        z[i] -= one[i] * z[i + 1] + two[i] * z[i + 2];
    }
}

std::vector<double> penalisedSmooth(std::span<const double> y, std::span<const double> w, double lambda) {
    std::vector<double> z;
    PenalisedSolver().solve(y, w, lambda, z);
    return z;
}

// d/dε of the diagonal of (A − ε·WVW)⁻¹ at ε = 0 is the diagonal of A⁻¹WVWA⁻¹.
std::vector<double> penalisedVariances(std::span<const double> variances, std::span<const double> w,
                                       double lambda) {
    const std::size_t n = variances.size();
    std::vector<double> out(variances.begin(), variances.end());
    if (n < 3) return out;
    const Penalty penalty{n, lambda};
    std::vector<Dual> diagonal(n);
    for (std::size_t i = 0; i < n; ++i) diagonal[i] = {w[i] + penalty.at(i, 0), -w[i] * w[i] * variances[i]};
    const Factors<Dual> f = factored(diagonal, penalty);
    // The inverse S within the band, from its end: S = D⁻¹L⁻¹ + (I − Lᵀ)S.
    std::vector<Dual> s0(n + 2), s1(n + 2), s2(n + 2); // S(i,i), S(i,i+1), S(i,i+2)
    for (std::size_t i = n; i-- > 0;) {
        const Dual a = f.one[i], b = f.two[i];
        s2[i] = i + 2 < n ? -(a * s1[i + 1]) - b * s0[i + 2] : Dual{};
        s1[i] = i + 1 < n ? -(a * s0[i + 1]) - b * s1[i + 1] : Dual{};
        s0[i] = Dual{1} / f.pivot[i] - a * s1[i] - b * s2[i];
        out[i] = s0[i].d;
    }
    return out;
}

} // namespace jointer::numerics
