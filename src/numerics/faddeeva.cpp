// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/faddeeva.h"

#include "base/kernel.h"

#include <array>
#include <cmath>
#include <complex>
#include <cstring>
#include <vector>

namespace jointer::numerics {

namespace {

constexpr int kTerms = 48;
constexpr double kFar = 12;   // from here on the series has converged before it diverges
constexpr int kFarTerms = 13; // the next would be below 10⁻¹⁸ of the sum
constexpr double kRootPi = 1.7724538509055160273;
constexpr std::size_t kBlock = 64; // points that are taken together
constexpr std::size_t kAtOnce = 16;

struct Coefficients {
    double length = 0;
    std::array<double, kTerms> a{}; // of the highest power first
};

Coefficients coefficients() {
    Coefficients c;
    const long double pi = 3.14159265358979323846264338327950288L;
    const long double L = std::sqrt(kTerms / std::sqrt(2.0L));
    constexpr int kHalf = 2 * kTerms;
    for (int n = 1; n <= kTerms; ++n) {
        long double sum = 0;
        for (int k = -kHalf + 1; k < kHalf; ++k) {
            const long double theta = k * pi / kHalf, t = L * std::tan(theta / 2);
            sum += std::exp(-t * t) * (L * L + t * t) * std::cos(n * theta);
        }
        c.a[static_cast<std::size_t>(kTerms - n)] = static_cast<double>(sum / (2 * kHalf));
    }
    c.length = static_cast<double>(L);
    return c;
}

const Coefficients& known() {
    static const Coefficients c = coefficients();
    return c;
}

struct Block {
    std::array<double, kBlock> zr, zi, pr, pi;
};

// A polynomial at the first places of a block, the highest power first; some at once, so that they stay in
// registers and do not wait for each other.
JOINTER_KERNEL void horner(Block& b, const double* a, int terms, std::size_t count) {
    constexpr std::size_t kFours = kAtOnce / 4;
    for (std::size_t first = 0; first < count; first += kAtOnce) {
        Four pr[kFours], pi[kFours], zr[kFours], zi[kFours];
        std::memcpy(zr, &b.zr[first], sizeof zr);
        std::memcpy(zi, &b.zi[first], sizeof zi);
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) pr[i] = a[0] + Four{}, pi[i] = Four{};
        for (int n = 1; n < terms; ++n)
#pragma GCC unroll 4
            for (std::size_t i = 0; i < kFours; ++i) {
                const Four r = pr[i] * zr[i] + (a[n] - pi[i] * zi[i]);
                pi[i] = pr[i] * zi[i] + pi[i] * zr[i];
                pr[i] = r;
            }
        std::memcpy(&b.pr[first], pr, sizeof pr);
        std::memcpy(&b.pi[first], pi, sizeof pi);
    }
}

using Complex = std::complex<double>;

Complex times(Complex a, Complex b) { // without the care for infinities that the library takes
    return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}
Complex reciprocal(Complex z) {
    const double norm = std::norm(z);
    if (norm < 1e290) return {z.real() / norm, -z.imag() / norm};
    return 1.0 / z;
}

// Far away: w = (i/√π)·Σ (2k−1)!!/(2z²)^k / z, and its derivative term by term.
struct FarSeries {
    std::array<double, kFarTerms> value{}, slope{}; // of the highest power of 1/z² first
};

FarSeries farSeries() {
    FarSeries f;
    double term = 1;
    for (int k = 0; k < kFarTerms; ++k) {
        const auto at = static_cast<std::size_t>(kFarTerms - 1 - k);
        f.value[at] = term;
        f.slope[at] = (2.0 * k + 1) * term;
        term *= k + 0.5;
    }
    return f;
}

const FarSeries& farKnown() {
    static const FarSeries f = farSeries();
    return f;
}

// Where the results of one call go.
struct Target {
    std::span<const double> x, y;
    std::span<double> re, im, slopeRe, slopeIm;

    bool slopes() const { return !slopeRe.empty(); }
    void put(std::size_t i, Complex w, Complex slope) const {
        re[i] = w.real();
        im[i] = w.imag();
        if (!slopes()) return;
        slopeRe[i] = slope.real();
        slopeIm[i] = slope.imag();
    }
};

// Points that are taken together: what the polynomial is taken of, and whose they are.
class Gathered {
public:
    bool add(std::size_t i, Complex of) { // whether it is full
        block_.zr[held_] = of.real();
        block_.zi[held_] = of.imag();
        at_[held_++] = i;
        return held_ == kBlock;
    }
    void finishNear(const Target& to) {
        const Coefficients& c = known();
        run(c.a.data(), kTerms);
        for (std::size_t k = 0; k < held_; ++k) {
            const std::size_t i = at_[k];
            const Complex z(to.x[i], to.y[i]),
                below = reciprocal(Complex(c.length + to.y[i], -to.x[i])); // 1/(L − iz)
            const Complex w = times(below, 2.0 * times(polynomial(k), below) + 1 / kRootPi);
            to.put(i, w, -2.0 * times(z, w) + Complex(0, 2 / kRootPi));
        }
        held_ = 0;
    }
    void finishFar(const Target& to) {
        const FarSeries& f = farKnown();
        run(f.value.data(), kFarTerms);
        const auto pr = block_.pr, pi = block_.pi;
        if (to.slopes()) run(f.slope.data(), kFarTerms);
        for (std::size_t k = 0; k < held_; ++k) {
            const std::size_t i = at_[k];
            const Complex inverse = reciprocal({to.x[i], to.y[i]});
            const Complex sum = times(inverse, {pr[k], pi[k]}),
                          slopes = -times(times(inverse, inverse), polynomial(k));
            to.put(i, Complex(-sum.imag(), sum.real()) / kRootPi,
                   Complex(-slopes.imag(), slopes.real()) / kRootPi);
        }
        held_ = 0;
    }

private:
    Complex polynomial(std::size_t k) const { return {block_.pr[k], block_.pi[k]}; }
    void run(const double* a, int terms) {
        const std::size_t count = (held_ + kAtOnce - 1) / kAtOnce * kAtOnce;
        for (std::size_t k = held_; k < count; ++k) block_.zr[k] = block_.zi[k] = 0;
        horner(block_, a, terms, count);
    }

    Block block_;
    std::array<std::size_t, kBlock> at_;
    std::size_t held_ = 0;
};

} // namespace

void faddeeva(std::span<const double> x, std::span<const double> y, std::span<double> re,
              std::span<double> im, std::span<double> slopeRe, std::span<double> slopeIm) {
    const Target to{x, y, re, im, slopeRe, slopeIm};
    const double length = known().length;
    Gathered near, far;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const Complex z(x[i], y[i]);
        if (!(std::norm(z) < kFar * kFar)) {
            const Complex inverse = reciprocal(z);
            if (far.add(i, times(inverse, inverse))) far.finishFar(to);
            continue;
        }
        // (L + iz)/(L − iz)
        if (near.add(i, times(Complex(length - y[i], x[i]), reciprocal(Complex(length + y[i], -x[i])))))
            near.finishNear(to);
    }
    near.finishNear(to);
    far.finishFar(to);
}

double scaledErfc(double u) {
    if (u < 0) return std::exp(u * u) * std::erfc(u);
    const double x = 0;
    double re = 0, im = 0;
    faddeeva({&x, 1}, {&u, 1}, {&re, 1}, {&im, 1});
    return re;
}

double scaledErfcSlope(double u, double value) {
    if (u < kFar) return 2 * u * value - 2 / kRootPi;
    const double x = 0; // the difference would lose its digits
    double re = 0, im = 0, slopeRe = 0, slopeIm = 0;
    faddeeva({&x, 1}, {&u, 1}, {&re, 1}, {&im, 1}, {&slopeRe, 1}, {&slopeIm, 1});
    return -slopeIm;
}

} // namespace jointer::numerics
