// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/faddeeva.h"

#include "base/kernel.h"

#include <array>
#include <cmath>
#include <complex>
#include <vector>

namespace jointer::numerics {

namespace {

constexpr int kTerms = 48;
constexpr double kFar = 12; // from here on the series has converged before it diverges
constexpr double kRootPi = 1.7724538509055160273;
constexpr std::size_t kBlock = 64; // points that are taken together, so that they stay in the cache

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

// The polynomial at all places of a block.
JOINTER_KERNEL void horner(Block& b, const double* a) {
    for (std::size_t i = 0; i < kBlock; ++i) b.pr[i] = a[0], b.pi[i] = 0;
    for (int n = 1; n < kTerms; ++n)
        for (std::size_t i = 0; i < kBlock; ++i) {
            const double r = b.pr[i] * b.zr[i] - b.pi[i] * b.zi[i] + a[n];
            b.pi[i] = b.pr[i] * b.zi[i] + b.pi[i] * b.zr[i];
            b.pr[i] = r;
        }
}

using Complex = std::complex<double>;

// (i/√π)·Σ (2k−1)!!/(2z²)^k / z, and the derivative term by term.
void farAway(Complex z, Complex& w, Complex& slope) {
    const Complex inverse = 1.0 / z, square = inverse * inverse;
    Complex term = inverse, sum = 0, slopes = 0;
    for (int k = 0; k < 14; ++k) {
        sum += term;
        slopes -= (2.0 * k + 1) * term * inverse;
        term *= (k + 0.5) * square;
        if (std::norm(term) < 1e-34 * std::norm(sum)) break;
    }
    w = Complex(-sum.imag(), sum.real()) / kRootPi;
    slope = Complex(-slopes.imag(), slopes.real()) / kRootPi;
}

Complex times(Complex a, Complex b) { // without the care for infinities that the library takes
    return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}

} // namespace

void faddeeva(std::span<const double> x, std::span<const double> y, std::span<double> re,
              std::span<double> im, std::span<double> slopeRe, std::span<double> slopeIm) {
    const Coefficients& c = known();
    Block block;
    std::array<std::size_t, kBlock> at;
    std::size_t held = 0;
    auto put = [&](std::size_t i, Complex w, Complex slope) {
        re[i] = w.real();
        im[i] = w.imag();
        if (slopeRe.empty()) return;
        slopeRe[i] = slope.real();
        slopeIm[i] = slope.imag();
    };
    auto finish = [&] {
        for (std::size_t k = held; k < kBlock; ++k) block.zr[k] = block.zi[k] = 0;
        horner(block, c.a.data());
        for (std::size_t k = 0; k < held; ++k) {
            const std::size_t i = at[k];
            const Complex z(x[i], y[i]), below = 1.0 / Complex(c.length + y[i], -x[i]); // 1/(L − iz)
            const Complex p(block.pr[k], block.pi[k]);
            const Complex w = times(below, 2.0 * times(p, below) + 1 / kRootPi);
            put(i, w, -2.0 * times(z, w) + Complex(0, 2 / kRootPi));
        }
        held = 0;
    };
    for (std::size_t i = 0; i < x.size(); ++i) {
        const Complex z(x[i], y[i]);
        if (!(std::norm(z) < kFar * kFar)) {
            Complex w, slope;
            farAway(z, w, slope);
            put(i, w, slope);
            continue;
        }
        // (L + iz)/(L − iz)
        const Complex ratio = times(Complex(c.length - y[i], x[i]), 1.0 / Complex(c.length + y[i], -x[i]));
        block.zr[held] = ratio.real();
        block.zi[held] = ratio.imag();
        at[held++] = i;
        if (held == kBlock) finish();
    }
    if (held > 0) finish();
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
    Complex w, slope; // the difference would lose its digits
    farAway({0, u}, w, slope);
    return -slope.imag();
}

} // namespace jointer::numerics
