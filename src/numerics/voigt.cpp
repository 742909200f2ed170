// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/voigt.h"

#include "numerics/faddeeva.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <vector>

namespace jointer::numerics {

namespace {

using Complex = std::complex<double>;

constexpr double kRootLn2 = 0.83255461115769775635;
constexpr double kThinnest =
    1e-12; // part of the Lorentzian's width that the Gaussian is at least taken to be

// The scale of z = (d + i·l/2)/s.
double scaleOf(double g, double l) {
    return std::max(std::abs(g) / (2 * kRootLn2), kThinnest * std::abs(l));
}

struct Centre {
    double g = std::nan(""), l = std::nan("");
    double s = 1;                                 // the scale
    double byG = 1, byL = 1;                      // ∂s/∂g, nought where s is held, and ∂(l/2)/∂l
    double height = 1, slopeS = 0, slopeHalf = 0; // Re w there, and by s and by l/2
};

Centre centreOf(double g, double l) {
    const double s = scaleOf(g, l), x = 0, y = std::abs(l) / 2 / s;
    const bool thin = std::abs(g) / (2 * kRootLn2) < kThinnest * std::abs(l);
    Centre c{.g = g,
             .l = l,
             .s = s,
             .byG = thin ? 0 : (g < 0 ? -1 : 1) / (2 * kRootLn2),
             .byL = l < 0 ? -0.5 : 0.5};
    double re, im, slopeRe, slopeIm;
    faddeeva({&x, 1}, {&y, 1}, {&re, 1}, {&im, 1}, {&slopeRe, 1}, {&slopeIm, 1});
    c.height = re;
    c.slopeHalf = -slopeIm / s; // Re(w′·i/s)
    c.slopeS = slopeIm * y / s; // Re(−w′·iy/s)
    return c;
}

} // namespace

void voigt(std::span<const double> d, std::span<const double> g, std::span<const double> l,
           std::span<double> value, std::span<double> slopeD, std::span<double> slopeG,
           std::span<double> slopeL) {
    const std::size_t n = d.size();
    static thread_local std::vector<double> memory;
    if (memory.size() < 6 * n) memory.resize(6 * n);
    auto part = [&](std::size_t k) { return std::span(memory).subspan(k * n, n); };
    const auto x = part(0), y = part(1), re = part(2), im = part(3), slopeRe = part(4), slopeIm = part(5);
    double s = 1;
    for (std::size_t i = 0; i < n; ++i) { // mostly one pair of widths for all
        if (i == 0 || g[i] != g[i - 1] || l[i] != l[i - 1]) s = scaleOf(g[i], l[i]);
        x[i] = d[i] / s;
        y[i] = std::abs(l[i]) / 2 / s;
    }
    const bool slopes = !slopeD.empty();
    if (slopes)
        faddeeva(x, y, re, im, slopeRe, slopeIm);
    else
        faddeeva(x, y, re, im);
    Centre c;
    for (std::size_t i = 0; i < n; ++i) {
        if (!(g[i] == c.g && l[i] == c.l)) c = centreOf(g[i], l[i]);
        value[i] = re[i] / c.height;
        if (!slopes) continue;
        // Re(w′·(−z/s)) and Re(w′·i/s), each less what the height at the centre changes.
        const double byS = -(slopeRe[i] * x[i] - slopeIm[i] * y[i]) / c.s, byHalf = -slopeIm[i] / c.s;
        slopeD[i] = slopeRe[i] / c.s / c.height;
        slopeG[i] = (byS - value[i] * c.slopeS) / c.height * c.byG;
        slopeL[i] = (byHalf - value[i] * c.slopeHalf) / c.height * c.byL;
    }
}

} // namespace jointer::numerics
