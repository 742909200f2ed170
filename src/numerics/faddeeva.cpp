// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/faddeeva.h"

#include "base/kernel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <optional>
#include <vector>

namespace jointer::numerics {

namespace {

constexpr int kTerms = 48;
constexpr double kRootPi = 1.7724538509055160273;
constexpr std::size_t kFours = 4, kAtOnce = 4 * kFours; // points that stay in registers
constexpr std::size_t kBlock = 64;                      // points of one kind that are taken together
static_assert(kBlock % kAtOnce == 0);

// Near the origin: a polynomial of (L + iz)/(L − iz).
struct NearSeries {
    double length = 0;
    std::array<double, kTerms> a{}; // of the highest power first
};

NearSeries nearSeries() {
    NearSeries c;
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

// Far away: w = (i/√π)·(1 + R)/z and w′ = −(2i/√π)·R with R = Σ (2k−1)!!/(2z²)^k, of which the fewer terms count
// the further away: before the radius given, those of the ring before.
constexpr double kRadii[] = {8, 12, 20, 40, 100, 1000};
constexpr std::size_t kRings = std::size(kRadii); // and one more kind of points: the near ones, before them
constexpr double kNeglected = 3e-16;              // of the first term
constexpr double kAboveAxis = 1e-5; // nearer to the real axis exp(−z²) counts for the real part as far as 12
constexpr std::size_t kNear = 0, kFirstRing = 1;

struct FarSeries {
    std::array<double, 32> a{}; // of the highest power of 1/z² first
    int terms = 0;
};

FarSeries farSeries(double radius) {
    std::vector<double> terms = {0.5};
    for (double size = 1;; terms.push_back(terms.back() * (static_cast<double>(terms.size()) + 0.5))) {
        const auto k = static_cast<double>(terms.size());
        size *= (2 * k + 1) / (2 * radius * radius);
        if ((2 * k + 3) * size < kNeglected) break; // the slopes of a term are this much larger
    }
    FarSeries f{.terms = static_cast<int>(terms.size())};
    std::ranges::reverse_copy(terms, f.a.begin());
    return f;
}

struct Known {
    NearSeries near = nearSeries();
    std::array<FarSeries, kRings> far{};
    Known() {
        for (std::size_t k = 0; k < kRings; ++k) far[k] = farSeries(kRadii[k]);
    }
};

const Known& known() {
    static const Known k;
    return k;
}

// Points of one kind and where their results go: as many as fill the registers some times.
struct Piece {
    const double *x, *y;
    double *re, *im, *slopeRe, *slopeIm;
    std::size_t count;
};

// A polynomial, the highest power first.
[[gnu::always_inline]] inline void horner(const double* a, int terms, const Four* zr, const Four* zi, Four* pr, Four* pi) {
#pragma GCC unroll 4
    for (std::size_t i = 0; i < kFours; ++i) pr[i] = a[0] + Four{}, pi[i] = Four{};
    for (int n = 1; n < terms; ++n)
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) {
            const Four r = pr[i] * zr[i] + (a[n] - pi[i] * zi[i]);
            pi[i] = pr[i] * zi[i] + pi[i] * zr[i];
            pr[i] = r;
        }
}

JOINTER_KERNEL void finishNear(const Piece& p, const double* a, double length) {
    for (std::size_t first = 0; first < p.count; first += kAtOnce) {
        Four x[kFours], y[kFours], br[kFours], bi[kFours], zr[kFours], zi[kFours], pr[kFours], pi[kFours];
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) {
            x[i] = fourAt(p.x + first + 4 * i);
            y[i] = fourAt(p.y + first + 4 * i);
            const Four sum = length + y[i], inverse = 1 / (sum * sum + x[i] * x[i]);
            br[i] = sum * inverse; // 1/(L − iz)
            bi[i] = x[i] * inverse;
            zr[i] = (length - y[i]) * br[i] - x[i] * bi[i];
            zi[i] = (length - y[i]) * bi[i] + x[i] * br[i];
        }
        horner(a, kTerms, zr, zi, pr, pi);
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) { // w = b·(2pb + 1/√π)
            const Four r = 2 * (pr[i] * br[i] - pi[i] * bi[i]) + 1 / kRootPi,
                       m = 2 * (pr[i] * bi[i] + pi[i] * br[i]);
            const Four re = br[i] * r - bi[i] * m, im = br[i] * m + bi[i] * r;
            const std::size_t at = first + 4 * i;
            fourAt(p.re + at) = re;
            fourAt(p.im + at) = im;
            fourAt(p.slopeRe + at) = -2 * (x[i] * re - y[i] * im);
            fourAt(p.slopeIm + at) = 2 / kRootPi - 2 * (x[i] * im + y[i] * re);
        }
    }
}

JOINTER_KERNEL void finishFar(const Piece& p, const double* a, int terms) {
    for (std::size_t first = 0; first < p.count; first += kAtOnce) {
        Four ir[kFours], ii[kFours], zr[kFours], zi[kFours], pr[kFours], pi[kFours];
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) {
            const Four x = fourAt(p.x + first + 4 * i), y = fourAt(p.y + first + 4 * i);
            const Four inverse = 1 / (x * x + y * y);
            ir[i] = x * inverse;
            ii[i] = -y * inverse;
            zr[i] = ir[i] * ir[i] - ii[i] * ii[i];
            zi[i] = 2 * ir[i] * ii[i];
        }
        horner(a, terms, zr, zi, pr, pi);
#pragma GCC unroll 4
        for (std::size_t i = 0; i < kFours; ++i) {
            const Four r = pr[i] * zr[i] - pi[i] * zi[i], m = pr[i] * zi[i] + pi[i] * zr[i];
            const std::size_t at = first + 4 * i;
            fourAt(p.re + at) = -1 / kRootPi * (ir[i] * m + ii[i] * (1 + r));
            fourAt(p.im + at) = 1 / kRootPi * (ir[i] * (1 + r) - ii[i] * m);
            fourAt(p.slopeRe + at) = 2 / kRootPi * m;
            fourAt(p.slopeIm + at) = -2 / kRootPi * r;
        }
    }
}

void finish(std::size_t kind, const Piece& piece) {
    const Known& k = known();
    if (kind == kNear)
        finishNear(piece, k.near.a.data(), k.near.length);
    else
        finishFar(piece, k.far[kind - kFirstRing].a.data(), k.far[kind - kFirstRing].terms);
}

// Where the results of one call go.
struct Target {
    std::span<const double> x, y;
    std::span<double> re, im, slopeRe, slopeIm;

    bool slopes() const { return !slopeRe.empty(); }
};

// Points of one kind from any places.
class Gathered {
public:
    void add(std::size_t i, std::size_t kind, const Target& to) {
        x_[held_] = to.x[i];
        y_[held_] = to.y[i];
        at_[held_++] = i;
        if (held_ == kBlock) finish(kind, to);
    }
    void finish(std::size_t kind, const Target& to) {
        if (held_ == 0) return;
        const std::size_t count = (held_ + kAtOnce - 1) / kAtOnce * kAtOnce;
        std::fill(x_.data() + held_, x_.data() + count, x_[0]);
        std::fill(y_.data() + held_, y_.data() + count, y_[0]);
        std::array<double, kBlock> re, im, slopeRe, slopeIm;
        numerics::finish(kind, {x_.data(), y_.data(), re.data(), im.data(), slopeRe.data(), slopeIm.data(), count});
        for (std::size_t k = 0; k < held_; ++k) {
            to.re[at_[k]] = re[k];
            to.im[at_[k]] = im[k];
            if (!to.slopes()) continue;
            to.slopeRe[at_[k]] = slopeRe[k];
            to.slopeIm[at_[k]] = slopeIm[k];
        }
        held_ = 0;
    }

private:
    std::array<double, kBlock> x_, y_;
    std::array<std::size_t, kBlock> at_;
    std::size_t held_ = 0;
};

// So far away that squares overflow, or no number.
void finishAtTheEnd(std::size_t i, const Target& to) {
    using Complex = std::complex<double>;
    const Complex inverse = 1.0 / Complex(to.x[i], to.y[i]), r = 0.5 * inverse * inverse;
    to.re[i] = -inverse.imag() / kRootPi;
    to.im[i] = inverse.real() / kRootPi;
    if (!to.slopes()) return;
    to.slopeRe[i] = 2 / kRootPi * r.imag();
    to.slopeIm[i] = -2 / kRootPi * r.real();
}

// By the square of the distance.
std::size_t ringOf(double square) {
    std::size_t kind = kNear;
    while (kind < kRings && square >= kRadii[kind] * kRadii[kind]) ++kind;
    return kind;
}
std::size_t kindOf(double square, double y) {
    const std::size_t ring = ringOf(square);
    return ring == kFirstRing && y < kAboveAxis ? kNear : ring;
}

constexpr double kLargestSquare = 1e290;

// Of the squares of the distances, and of y.
struct Reach {
    double least, most, lowest;
    bool numbers;
};

JOINTER_KERNEL void look(const double* x, const double* y, Reach& reach) {
    Four least = INFINITY + Four{}, most{}, lowest = least, sum{};
    for (std::size_t k = 0; k < kBlock; k += 4) {
        const Four px = fourAt(x + k), py = fourAt(y + k);
        const Four square = px * px + py * py;
        least = square < least ? square : least;
        most = square > most ? square : most;
        lowest = py < lowest ? py : lowest;
        sum += square; // of no number no number
    }
    reach = {least[0], most[0], lowest[0], std::isfinite((sum[0] + sum[1]) + (sum[2] + sum[3]))};
    for (int k = 1; k < 4; ++k) {
        reach.least = std::min(reach.least, least[k]);
        reach.most = std::max(reach.most, most[k]);
        reach.lowest = std::min(reach.lowest, lowest[k]);
    }
}

// The kind that all points of a block have, if there is one.
std::optional<std::size_t> commonKind(const double* x, const double* y) {
    Reach r;
    look(x, y, r);
    if (!r.numbers || !(r.most < kLargestSquare) || ringOf(r.least) != ringOf(r.most)) return std::nullopt;
    if (ringOf(r.least) == kFirstRing && r.lowest < kAboveAxis) return std::nullopt;
    return ringOf(r.least);
}

} // namespace

void faddeeva(std::span<const double> x, std::span<const double> y, std::span<double> re,
              std::span<double> im, std::span<double> slopeRe, std::span<double> slopeIm) {
    const Target to{x, y, re, im, slopeRe, slopeIm};
    std::array<Gathered, kRings + 1> some;
    std::array<double, 2 * kBlock> unasked;
    for (std::size_t begin = 0; begin < x.size(); begin += kBlock) {
        const std::size_t end = std::min(begin + kBlock, x.size());
        if (end - begin == kBlock)
            if (const auto kind = commonKind(&x[begin], &y[begin])) {
                finish(*kind, {&x[begin], &y[begin], &re[begin], &im[begin],
                               to.slopes() ? &slopeRe[begin] : unasked.data(),
                               to.slopes() ? &slopeIm[begin] : unasked.data() + kBlock, kBlock});
                continue;
            }
        for (std::size_t i = begin; i < end; ++i) {
            const double square = x[i] * x[i] + y[i] * y[i];
            if (!(square < kLargestSquare)) {
                finishAtTheEnd(i, to);
                continue;
            }
            const std::size_t kind = kindOf(square, y[i]);
            some[kind].add(i, kind, to);
        }
    }
    for (std::size_t kind = 0; kind < some.size(); ++kind) some[kind].finish(kind, to);
}

double scaledErfc(double u) {
    if (u < 0) return std::exp(u * u) * std::erfc(u);
    const double x = 0;
    double re = 0, im = 0;
    faddeeva({&x, 1}, {&u, 1}, {&re, 1}, {&im, 1});
    return re;
}

double scaledErfcSlope(double u, double value) {
    if (u < kRadii[0]) return 2 * u * value - 2 / kRootPi;
    const double x = 0; // the difference would lose its digits
    double re = 0, im = 0, slopeRe = 0, slopeIm = 0;
    faddeeva({&x, 1}, {&u, 1}, {&re, 1}, {&im, 1}, {&slopeRe, 1}, {&slopeIm, 1});
    return -slopeIm;
}

void scaledErfc(std::span<const double> u, std::span<double> value, std::span<double> slope) {
    constexpr std::size_t kAtOnce = 256;
    static constexpr std::array<double, kAtOnce> zeros{};
    std::array<double, kAtOnce> right, im, slopeRe, slopeIm;
    for (std::size_t begin = 0; begin < u.size(); begin += kAtOnce) {
        const std::size_t n = std::min(kAtOnce, u.size() - begin);
        for (std::size_t i = 0; i < n; ++i) right[i] = std::max(u[begin + i], 0.0); // those at the left for themselves
        const auto part = [n](std::array<double, kAtOnce>& all) { return std::span(all).first(n); };
        faddeeva(std::span(zeros).first(n), part(right), value.subspan(begin, n), part(im),
                 slope.empty() ? std::span<double>() : part(slopeRe), slope.empty() ? std::span<double>() : part(slopeIm));
        for (std::size_t i = 0; i < n; ++i) {
            const double x = u[begin + i];
            double& v = value[begin + i];
            if (!(x >= 0)) v = scaledErfc(x);
            if (!slope.empty()) slope[begin + i] = x >= kRadii[0] ? -slopeIm[i] : scaledErfcSlope(x, v);
        }
    }
}

} // namespace jointer::numerics
