// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/voigt.h"

#include "base/kernel.h"
#include "numerics/faddeeva.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>

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
    double s = 1;                                 // the scale
    double byG = 1, byL = 1;                      // ∂s/∂g, nought where s is held, and ∂(l/2)/∂l
    double height = 1, slopeS = 0, slopeHalf = 0; // Re w there, and by s and by l/2
};

Centre centreOf(double g, double l) {
    const double s = scaleOf(g, l), x = 0, y = std::abs(l) / 2 / s;
    const bool thin = std::abs(g) / (2 * kRootLn2) < kThinnest * std::abs(l);
    Centre c{.s = s,
             .byG = thin ? 0 : (g < 0 ? -1 : 1) / (2 * kRootLn2),
             .byL = l < 0 ? -0.5 : 0.5};
    double re, im, slopeRe, slopeIm;
    faddeeva({&x, 1}, {&y, 1}, {&re, 1}, {&im, 1}, {&slopeRe, 1}, {&slopeIm, 1});
    c.height = re;
    c.slopeHalf = -slopeIm / s; // Re(w′·i/s)
    c.slopeS = slopeIm * y / s; // Re(−w′·iy/s)
    return c;
}

// Values and slopes from w and w′ over points of one pair of widths.
struct Stretch {
    const double *x, *y, *re, *slopeRe, *slopeIm;
    double *value, *slopeD, *slopeG, *slopeL;
    std::size_t count;
};

JOINTER_KERNEL void finish(const Centre& c, const Stretch& t) {
    const double scale = 1 / c.height, d = scale / c.s, g = d * c.byG, gHeight = scale * c.slopeS * c.byG,
                 l = d * c.byL, lHeight = scale * c.slopeHalf * c.byL;
    const auto one = [&]<class T>(const T& at) { // four points, or the last ones singly
        const auto v = at(t.re) * scale;
        at(t.value) = v;
        if (!t.slopeD) return;
        // Re(w′·(−z/s)) and Re(w′·i/s), each less what the height at the centre changes.
        const auto re = at(t.slopeRe), im = at(t.slopeIm);
        at(t.slopeD) = re * d;
        at(t.slopeG) = (im * at(t.y) - re * at(t.x)) * g - v * gHeight;
        at(t.slopeL) = -im * l - v * lHeight;
    };
    std::size_t i = 0;
    for (; i + 4 <= t.count; i += 4) one([i](auto* p) -> auto& { return fourAt(p + i); });
    for (; i < t.count; ++i) one([i](auto* p) -> auto& { return p[i]; });
}

JOINTER_KERNEL void scaled(std::span<const double> d, double s, double* x) {
    const double scale = 1 / s;
    for (std::size_t i = 0; i < d.size(); ++i) x[i] = d[i] * scale;
}

JOINTER_KERNEL bool areAll(double value, std::span<const double> list) {
    auto others = Four{} != Four{};
    std::size_t i = 0;
    for (; i + 4 <= list.size(); i += 4) others |= fourAt(&list[i]) != value + Four{};
    bool all = !(others[0] | others[1] | others[2] | others[3]);
    for (; i < list.size(); ++i) all &= list[i] == value;
    return all;
}

constexpr std::size_t kBlock = 256; // points whose numbers stay in the cache

} // namespace

void voigt(std::span<const double> d, std::span<const double> g, std::span<const double> l,
           std::span<double> value, std::span<double> slopeD, std::span<double> slopeG,
           std::span<double> slopeL) {
    const bool slopes = !slopeD.empty();
    std::array<double, kBlock> x, y, re, im, slopeRe, slopeIm;
    Centre c;
    double lastG = std::nan(""), lastL = lastG;
    for (std::size_t begin = 0, count = 0; begin < d.size(); begin += count) {
        // Mostly one pair of widths for all.
        count = std::min(kBlock, d.size() - begin);
        if (!areAll(g[begin], g.subspan(begin, count)) || !areAll(l[begin], l.subspan(begin, count)))
            for (count = 1; g[begin + count] == g[begin] && l[begin + count] == l[begin];) ++count;
        if (!(g[begin] == lastG && l[begin] == lastL)) c = centreOf(lastG = g[begin], lastL = l[begin]);
        scaled({&d[begin], count}, c.s, x.data());
        std::fill_n(y.data(), count, std::abs(lastL) / 2 / c.s);
        const auto some = [count](std::array<double, kBlock>& all) { return std::span(all).first(count); };
        const auto slope = [&](std::array<double, kBlock>& all) { return some(all).first(slopes ? count : 0); };
        faddeeva(some(x), some(y), some(re), some(im), slope(slopeRe), slope(slopeIm));
        const auto from = [&](std::span<double> all) { return slopes ? &all[begin] : nullptr; };
        finish(c, {x.data(), y.data(), re.data(), slopeRe.data(), slopeIm.data(), &value[begin], from(slopeD),
                   from(slopeG), from(slopeL), count});
    }
}

} // namespace jointer::numerics
