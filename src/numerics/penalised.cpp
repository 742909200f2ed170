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

// Factored and solved in one sweep down and one up, with one division for each point.
void PenalisedSolver::solve(std::span<const double> y, std::span<const double> w, double lambda,
                            std::vector<double>& z) {
    const std::size_t n = y.size();
    z.assign(y.begin(), y.end());
    if (n < 3) return;
    const Penalty penalty{n, lambda};
    one_.resize(n);
    two_.resize(n);
    double *one = one_.data(), *two = two_.data();
    double pivot1 = 0, pivot2 = 0, one1 = 0, two1 = 0, two2 = 0, z1 = 0,
           z2 = 0; // of the rows before: 1 and 2 up
    auto row = [&](std::size_t i, double own, double next, double afterNext) {
        const double pivot = w[i] + own - one1 * one1 * pivot1 - two2 * two2 * pivot2;
        const double beside = next - two1 * one1 * pivot1, inverse = 1 / pivot;
        const double now = w[i] * y[i] - one1 * z1 - two2 * z2;
        one[i] = beside * inverse;
        two[i] = afterNext * inverse;
        z[i] = now * inverse;
        z2 = z1, z1 = now;
        pivot2 = pivot1, pivot1 = pivot;
        one1 = one[i];
        two2 = two1, two1 = two[i];
    };
    auto atEnd = [&](std::size_t i) { row(i, penalty.at(i, 0), penalty.at(i, 1), penalty.at(i, 2)); };
    const std::size_t inner = n > 4 ? n - 2 : n;
    for (std::size_t i = 0; i < std::min<std::size_t>(2, n); ++i) atEnd(i);
    const double own = 6 * lambda, next = -4 * lambda;
    for (std::size_t i = 2; i < inner && n > 4; ++i) {
        if (i + 3 < n) // the last rows have fewer differences
            row(i, own, next, lambda);
        else
            atEnd(i);
    }
    for (std::size_t i = n > 4 ? inner : 2; i < n; ++i) atEnd(i);
    z[n - 2] -= one[n - 2] * z[n - 1];
    for (std::size_t i = n - 2; i-- > 0;) z[i] -= one[i] * z[i + 1] + two[i] * z[i + 2];
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
