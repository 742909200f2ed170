// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/smoothing_spline.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace jointer::numerics {

namespace {

// Distinct places with what stands at each.
struct Places {
    std::vector<double> x, y, w;
    double within = 0; // Σ w·(y − mean)² of what was put together
    double points = 0;

    std::size_t size() const { return x.size(); }
    double step() const {
        return (x.back() - x.front()) / static_cast<double>(std::max<std::size_t>(1, size() - 1));
    }
};

// Neighbours put together: those of equal x, or always so many. Weights are taken over `unit`.
Places together(std::span<const double> x, std::span<const double> y, std::span<const double> w, double unit,
                std::size_t each) {
    const auto weightOf = [&](std::size_t k) { return w.empty() ? 1 / unit : w[k] / unit; };
    Places out;
    out.points = static_cast<double>(x.size());
    for (std::size_t i = 0; i < x.size();) {
        std::size_t end = std::min(i + each, x.size());
        while (end < x.size() && x[end] == x[end - 1]) ++end;
        double sum = 0, sx = 0, sy = 0;
        for (std::size_t k = i; k < end; ++k) {
            const double weight = weightOf(k);
            sum += weight, sx += weight * (x[k] - x[i]), sy += weight * y[k];
        }
        const double mean = sy / sum;
        for (std::size_t k = i; k < end; ++k) out.within += weightOf(k) * (y[k] - mean) * (y[k] - mean);
        out.x.push_back(x[i] + sx / sum);
        out.y.push_back(mean);
        out.w.push_back(sum);
        i = end;
    }
    return out;
}

struct Solution {
    std::vector<double> f, diagonal; // at the places; of the hat matrix
    double rss = 0, dof = 0;
};

// B = R + λ·Qᵀ W⁻¹ Q in its five bands, factored as L D Lᵀ.
class Bands {
public:
    Bands(const Places& p, double lambda)
        : p_(p), lambda_(lambda), m_(p.size() - 2), d_(m_), one_(m_), two_(m_) {
        const std::size_t n = p.size();
        inverse_.resize(n - 1);
        for (std::size_t i = 0; i + 1 < n; ++i) inverse_[i] = 1 / (p.x[i + 1] - p.x[i]);
        for (std::size_t c = 0; c < m_; ++c) {
            double d = (p.x[c + 2] - p.x[c]) / 3 + lambda * (row(c, c) + row(c + 1, c) + row(c + 2, c));
            double one = c + 1 < m_ ? (p.x[c + 2] - p.x[c + 1]) / 6 +
                                          lambda * (cross(c + 1, c, c + 1) + cross(c + 2, c, c + 1))
                                    : 0;
            const double two = c + 2 < m_ ? lambda * cross(c + 2, c, c + 2) : 0;
            // d_[k] holds what column k brought so far.
            if (c >= 1) d -= one_[c - 1] * one_[c - 1] * d_[c - 1];
            if (c >= 2) d -= two_[c - 2] * two_[c - 2] * d_[c - 2];
            if (c >= 1) one -= one_[c - 1] * two_[c - 1] * d_[c - 1];
            d_[c] = d;
            one_[c] = one / d;
            two_[c] = two / d;
        }
    }

    // γ: the second derivatives inside.
    std::vector<double> solved() const {
        std::vector<double> g(m_);
        for (std::size_t c = 0; c < m_; ++c) {
            g[c] = (p_.y[c + 2] - p_.y[c + 1]) * inverse_[c + 1] - (p_.y[c + 1] - p_.y[c]) * inverse_[c];
            if (c >= 1) g[c] -= one_[c - 1] * g[c - 1];
            if (c >= 2) g[c] -= two_[c - 2] * g[c - 2];
        }
        for (std::size_t c = m_; c-- > 0;) {
            g[c] /= d_[c];
            if (c + 1 < m_) g[c] -= one_[c] * g[c + 1];
            if (c + 2 < m_) g[c] -= two_[c] * g[c + 2];
        }
        return g;
    }

    double q(std::size_t row, std::size_t column) const { // of Q; zero but for three rows of a column
        return row == column       ? inverse_[column]
               : row == column + 1 ? -inverse_[column] - inverse_[column + 1]
                                   : inverse_[column + 1];
    }

    // The diagonal of Q B⁻¹ Qᵀ from the central bands of B⁻¹, which are found from the end.
    std::vector<double> diagonal() const {
        std::vector<double> s0(m_ + 2), s1(m_ + 2), s2(m_ + 2); // (c, c), (c, c + 1), (c, c + 2)
        for (std::size_t c = m_; c-- > 0;) {
            s2[c] = -one_[c] * s1[c + 1] - two_[c] * s0[c + 2];
            s1[c] = -one_[c] * s0[c + 1] - two_[c] * s1[c + 1];
            s0[c] = 1 / d_[c] - one_[c] * s1[c] - two_[c] * s2[c];
        }
        std::vector<double> out(m_ + 2);
        for (std::size_t i = 0; i < out.size(); ++i) {
            const std::size_t first = i >= 2 ? i - 2 : 0, last = std::min(i, m_ - 1);
            double sum = 0;
            for (std::size_t a = first; a <= last; ++a) {
                sum += q(i, a) * q(i, a) * s0[a];
                if (a + 1 <= last) sum += 2 * q(i, a) * q(i, a + 1) * s1[a];
                if (a + 2 <= last) sum += 2 * q(i, a) * q(i, a + 2) * s2[a];
            }
            out[i] = sum;
        }
        return out;
    }

private:
    double row(std::size_t i, std::size_t c) const { return q(i, c) * q(i, c) / p_.w[i]; }
    double cross(std::size_t i, std::size_t a, std::size_t b) const { return q(i, a) * q(i, b) / p_.w[i]; }

    const Places& p_;
    double lambda_;
    std::size_t m_;
    std::vector<double> inverse_, d_, one_, two_;
};

Solution solved(const Places& p, double lambda) {
    const std::size_t n = p.size();
    Solution s{p.y, std::vector<double>(n, 1), p.within, static_cast<double>(n)};
    if (n < 3) return s;
    const Bands bands(p, lambda);
    const std::vector<double> second = bands.solved(), inner = bands.diagonal();
    s.dof = 0;
    for (std::size_t i = 0; i < n; ++i) {
        double bent = 0; // (Qγ)
        for (std::size_t c = i >= 2 ? i - 2 : 0; c <= std::min(i, n - 3); ++c)
            bent += bands.q(i, c) * second[c];
        const double residual = lambda / p.w[i] * bent;
        s.f[i] = p.y[i] - residual;
        s.rss += p.w[i] * residual * residual;
        s.diagonal[i] = std::clamp(1 - lambda / p.w[i] * inner[i], 0.0, 1.0);
        s.dof += s.diagonal[i];
    }
    return s;
}

double validation(const Solution& s, double points) {
    const double left = points - s.dof;
    return left > 1e-9 * points ? points * s.rss / (left * left) : INFINITY;
}

constexpr double kRoughest = -4, kFinest = 0.01;
constexpr std::size_t kSearched = 20000; // places among which the smoothness is sought

// Golden section about the best of a row of decades: cross-validation may have more than one valley.
template <class Cost> double lowest(double from, double to, Cost cost) {
    double best = from, least = INFINITY;
    for (double s = from; s <= to; s += 0.5)
        if (const double c = cost(s); c < least) least = c, best = s;
    double a = std::max(from, best - 0.5), b = std::min(to, best + 0.5);
    constexpr double kGolden = 0.6180339887498949;
    double m1 = b - kGolden * (b - a), m2 = a + kGolden * (b - a), c1 = cost(m1), c2 = cost(m2);
    while (b - a > kFinest) {
        if (c1 <= c2) {
            b = m2, m2 = m1, c2 = c1;
            c1 = cost(m1 = b - kGolden * (b - a));
        } else {
            a = m1, m1 = m2, c1 = c2;
            c2 = cost(m2 = a + kGolden * (b - a));
        }
    }
    const double middle = (a + b) / 2;
    return cost(middle) <= least ? middle : best;
}

// In units of the cube of `step`.
double soughtSmoothness(const Places& p, double step, const SplineWish& wish) {
    const double unit = step * step * step, smoothest = 4 * std::log10(static_cast<double>(p.points)) + 2;
    if (!wish.dof)
        return lowest(kRoughest, smoothest,
                      [&](double s) { return validation(solved(p, unit * std::pow(10, s)), p.points); });
    double a = kRoughest - 4, b = smoothest + 4; // degrees of freedom fall with it
    for (int k = 0; k < 60 && b - a > 1e-6; ++k) {
        const double middle = (a + b) / 2;
        (solved(p, unit * std::pow(10, middle)).dof > *wish.dof ? a : b) = middle;
    }
    return (a + b) / 2;
}

} // namespace

SmoothingSpline::SmoothingSpline(std::span<const double> x, std::span<const double> y,
                                 std::span<const double> weights, const SplineWish& wish)
    : curve_(std::vector{0.0}, std::vector{0.0}) {
    double mean = 0; // weights about one, so that the smoothness means the same
    for (double w : weights) mean += w / static_cast<double>(weights.size());
    if (weights.empty()) mean = 1;
    Places all = together(x, y, weights, mean, 1);
    const double step = all.step();
    if (wish.smoothness)
        smoothness_ = *wish.smoothness;
    else if (all.size() > 2) {
        const std::size_t each = all.size() / kSearched;
        smoothness_ = soughtSmoothness(each > 1 ? together(x, y, weights, mean, each) : all, step, wish);
        // A curve as rough as what was put together is sought among all.
        const bool tooRough = each > 1 && std::pow(10, smoothness_ / 4) < 8 * static_cast<double>(each);
        if (tooRough) smoothness_ = soughtSmoothness(all, step, wish);
    }
    const Solution s = solved(all, step * step * step * std::pow(10, smoothness_));
    rss_ = s.rss * mean;
    dof_ = s.dof;
    gcv_ = validation(s, all.points) * mean;
    diagonal_ = s.diagonal;
    for (std::size_t i = 0; i < all.size(); ++i)
        spreads_.push_back(std::sqrt(s.diagonal[i] / (all.w[i] * mean)));
    curve_ = NaturalSpline(all.x, s.f);
    xs_ = std::move(all.x);
}

double SmoothingSpline::spread(double x) const {
    if (xs_.size() < 2) return spreads_.front();
    return interpolateLinear(xs_, spreads_, std::clamp(x, xs_.front(), xs_.back()));
}

} // namespace jointer::numerics
