// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/penalised.h"

#include <cstddef>

namespace jointer::numerics {

namespace {

// A number with its derivative along one direction.
struct Dual {
    double v = 0, d = 0;
    friend Dual operator+(Dual a, Dual b) { return {a.v + b.v, a.d + b.d}; }
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

std::vector<double> penalisedSmooth(std::span<const double> y, std::span<const double> w, double lambda) {
    const std::size_t n = y.size();
    std::vector<double> z(y.begin(), y.end());
    if (n < 3) return z;
    const Penalty penalty{n, lambda};
    std::vector<double> diagonal(n);
    for (std::size_t i = 0; i < n; ++i) diagonal[i] = w[i] + penalty.at(i, 0);
    const Factors<double> f = factored(diagonal, penalty);
    for (std::size_t i = 0; i < n; ++i) {
        z[i] *= w[i];
        if (i > 0) z[i] -= f.one[i - 1] * z[i - 1];
        if (i > 1) z[i] -= f.two[i - 2] * z[i - 2];
    }
    for (std::size_t i = 0; i < n; ++i) z[i] /= f.pivot[i];
    for (std::size_t i = n; i-- > 0;) {
        if (i + 1 < n) z[i] -= f.one[i] * z[i + 1];
        if (i + 2 < n) z[i] -= f.two[i] * z[i + 2];
    }
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
