// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/sizes.h"

#include "models/scattering/dual.h"
#include "numerics/gauss_legendre.h"

#include <algorithm>
#include <boost/math/special_functions/digamma.hpp>
#include <cmath>
#include <numbers>

namespace jointer::models::scattering {

namespace {

using D = Dual<2>; // derivatives by mean and standard deviation

// Not a number where it is not defined, as everywhere here: no exception.
double digamma(double x) {
    using namespace boost::math::policies;
    static const policy<domain_error<ignore_error>, pole_error<ignore_error>, overflow_error<ignore_error>,
                        evaluation_error<ignore_error>>
        quiet;
    return std::isfinite(x) && x > 0 ? boost::math::digamma(x, quiet) : std::nan("");
}

constexpr double kCut = 6;         // of the Gaussian, in standard deviations
constexpr double kNegligible = 22; // −ln of what is left out, at its highest
constexpr double kNegligibleSmall = 40; // of small sizes: of volumes their numbers are many
constexpr int kPieces = 12;
constexpr double kMostPhase = 6000; // of a piece: tails that turn faster average out

D logGamma(const D& x) {
    return x.through(std::lgamma(x.value), digamma(x.value));
}

// k of a Weibull distribution with that ratio of standard deviation and mean, by Newton's method on ln k.
double weibullShape(double ratio) {
    const double wanted = std::log1p(ratio * ratio);
    const auto excess = [&](double logK) {
        const double inverse = std::exp(-logK);
        return std::lgamma(1 + 2 * inverse) - 2 * std::lgamma(1 + inverse) - wanted;
    };
    double at = -std::log(ratio) + (ratio < 0.5 ? 0.2 : 0);
    for (int round = 0; round < 60; ++round) {
        const double inverse = std::exp(-at);
        const double slope = -2 * inverse * (digamma(1 + 2 * inverse) - digamma(1 + inverse));
        const double by = std::clamp(excess(at) / slope, -1.0, 1.0);
        at -= by;
        if (std::abs(by) < 1e-15) break;
    }
    return std::exp(at);
}

// ln of the density over ln r, times r: of distributions over positive sizes.
class LogDensity {
public:
    LogDensity(Distribution d, double mean, double sd)
        : kind_(d), mean_(D::variable(mean, 0)), sd_(D::variable(sd, 1)) {
        const D ratio = sd_ / mean_;
        if (d == Distribution::LogNormal) {
            const D variance = logarithm(D(1.0) + ratio * ratio);
            first_ = logarithm(mean_) - D(0.5) * variance; // of ln r
            second_ = root(variance);
            constant_ = -logarithm(second_) - D(0.5 * std::log(2 * std::numbers::pi));
        } else if (d == Distribution::Schulz) {
            first_ = D(1.0) / (ratio * ratio); // shape
            second_ = mean_ / first_;          // scale
            constant_ = -logGamma(first_) - first_ * logarithm(second_);
        } else {
            const double k = weibullShape(ratio.value), inverse = 1 / k;
            // ln(1 + ratio²) = lnΓ(1 + 2/k) − 2lnΓ(1 + 1/k) fixes how k follows the ratio.
            const double byInverse = 2 * (digamma(1 + 2 * inverse) - digamma(1 + inverse));
            const double byRatio = 2 * ratio.value / (1 + ratio.value * ratio.value);
            first_ = ratio.through(k, -k * k * byRatio / byInverse);
            second_ = mean_ / exponential(logGamma(D(1.0) + D(1.0) / first_));
            constant_ = logarithm(first_) - first_ * logarithm(second_);
        }
    }

    D operator()(double logSize) const {
        const D t(logSize);
        if (kind_ == Distribution::LogNormal) {
            const D z = (t - first_) / second_;
            return constant_ - D(0.5) * z * z;
        }
        if (kind_ == Distribution::Schulz) return constant_ + first_ * t - D(std::exp(logSize)) / second_;
        return constant_ + first_ * t - exponential(first_ * (t - logarithm(second_)));
    }

    // From where to where in ln r something is left, the upper end weighed with r⁷: r⁶ over ln r.
    std::pair<double, double> range() const { return {end(0, -1), end(7, 1)}; }
    // Up to where something is left of what oscillates: at large q the scattering of surfaces.
    double seenUpTo() const { return end(4, 1); }

private:
    // Where ln(density·rᵖ) has fallen from its maximum by what is negligible, going that way.
    double end(double power, int way) const {
        const auto at = [&](double t) { return (*this)(t).value + power * t; };
        const double width = std::sqrt(std::log1p(std::pow(sd_.value / mean_.value, 2)));
        double top = std::log(mean_.value), step = width;
        for (int guard = 0; step > 1e-4 * width && guard < 500; ++guard) // uphill to the maximum
            if (at(top + step) > at(top))
                top += step;
            else if (at(top - step) > at(top))
                top -= step;
            else
                step /= 4;
        const double level = at(top) - (way > 0 ? kNegligible : kNegligibleSmall);
        double inside = top, outside = top + way * width;
        while (at(outside) > level && std::abs(outside - top) < 400 * width)
            inside = outside, outside += way * width;
        for (int k = 0; k < 30; ++k) {
            const double middle = 0.5 * (inside + outside);
            (at(middle) > level ? inside : outside) = middle;
        }
        return outside;
    }

    Distribution kind_;
    D mean_, sd_, first_, second_, constant_;
};

// In steps, so that few rules are made.
std::size_t nodesFor(double phase) {
    const auto needed = 16 + static_cast<std::size_t>(0.3 * (phase < kMostPhase ? phase : kMostPhase));
    std::size_t count = 16;
    while (count < needed) count += count / 8;
    return count;
}

void addNode(SizeNodes& out, double size, double weight, double byMean, double bySd) {
    out.sizes.push_back(size);
    out.weights.push_back(weight);
    out.byMean.push_back(byMean);
    out.bySd.push_back(bySd);
}

// Ends that move with mean and standard deviation add their density to the derivatives.
void addEnd(SizeNodes& out, double at, double density, double byMean, double bySd) {
    addNode(out, at, 0, density * byMean, density * bySd);
}

SizeNodes gaussianNodes(double mean, double sd, double turning) {
    SizeNodes out;
    const double from = std::max(0.0, mean - kCut * sd), to = mean + kCut * sd;
    const double norm = 1 / (sd * std::sqrt(2 * std::numbers::pi));
    const auto density = [&](double r) { return norm * std::exp(-0.5 * std::pow((r - mean) / sd, 2)); };
    constexpr int pieces = 3;
    for (int p = 0; p < pieces; ++p) {
        const double low = std::lerp(from, to, p / double(pieces)),
                     high = std::lerp(from, to, (p + 1) / double(pieces));
        const auto& rule = numerics::gaussLegendre(nodesFor(turning * (high - low)));
        const double half = 0.5 * (high - low);
        for (std::size_t k = 0; k < rule.nodes.size(); ++k) {
            const double r = 0.5 * (low + high) + half * rule.nodes[k], z = (r - mean) / sd;
            const double w = half * rule.weights[k] * density(r);
            addNode(out, r, w, w * z / sd, w * (z * z - 1) / sd);
        }
    }
    addEnd(out, to, density(to), 1, kCut);
    if (from > 0) addEnd(out, from, -density(from), 1, -kCut);
    return out;
}

SizeNodes uniformNodes(double mean, double sd, double turning) {
    SizeNodes out;
    const double reach = std::numbers::sqrt3;
    const double from = std::max(0.0, mean - reach * sd), to = mean + reach * sd, width = to - from;
    const double lowBySd = from > 0 ? -reach : 0, lowByMean = from > 0 ? 1 : 0;
    const auto& rule = numerics::gaussLegendre(nodesFor(turning * width));
    for (std::size_t k = 0; k < rule.nodes.size(); ++k) {
        const double w = 0.5 * rule.weights[k];
        addNode(out, from + 0.5 * width * (1 + rule.nodes[k]), w, -w * (1 - lowByMean) / width,
                -w * (reach - lowBySd) / width);
    }
    addEnd(out, to, 1 / width, 1, reach);
    if (from > 0) addEnd(out, from, -1 / width, 1, -reach);
    return out;
}

SizeNodes logarithmicNodes(Distribution d, double mean, double sd, double turning) {
    SizeNodes out;
    const LogDensity density(d, mean, sd);
    const auto [low, high] = density.range();
    for (int p = 0; p < kPieces; ++p) {
        const double from = std::lerp(low, high, p / double(kPieces)),
                     to = std::lerp(low, high, (p + 1) / double(kPieces));
        const auto& rule = numerics::gaussLegendre(nodesFor(turning * (std::exp(to) - std::exp(from))));
        const double half = 0.5 * (to - from);
        for (std::size_t k = 0; k < rule.nodes.size(); ++k) {
            const double t = 0.5 * (from + to) + half * rule.nodes[k];
            const D log = density(t);
            const double w = half * rule.weights[k] * std::exp(log.value);
            addNode(out, std::exp(t), w, w * log.slope[0], w * log.slope[1]);
        }
    }
    return out;
}

// So narrow that all are alike, or not distributed at all.
bool isPlain(Distribution d, double mean, double sd) {
    return d == Distribution::None || !(sd > 1e-7 * mean);
}

} // namespace

std::string_view distributionKey(Distribution d) {
    constexpr std::string_view keys[] = {"none", "gaussian", "lognormal", "schulz", "weibull", "uniform"};
    return keys[static_cast<std::size_t>(d)];
}

Distribution distributionFromKey(std::string_view key) {
    for (int k = 0; k < 6; ++k)
        if (const auto d = static_cast<Distribution>(k); distributionKey(d) == key) return d;
    return Distribution::None;
}

SizeNodes sizeNodes(Distribution d, double mean, double sd, double turning) {
    if (isPlain(d, mean, sd)) return {{mean}, {1.0}, {0.0}, {0.0}};
    if (d == Distribution::Gaussian) return gaussianNodes(mean, sd, turning);
    if (d == Distribution::Uniform) return uniformNodes(mean, sd, turning);
    return logarithmicNodes(d, mean, sd, turning);
}

double longestSize(Distribution d, double mean, double sd) {
    if (isPlain(d, mean, sd)) return mean;
    if (d == Distribution::Gaussian) return mean + kCut * sd;
    if (d == Distribution::Uniform) return mean + std::numbers::sqrt3 * sd;
    return std::exp(LogDensity(d, mean, sd).seenUpTo());
}

std::vector<double> sizeDensity(Distribution d, double mean, double sd, std::span<const double> sizes) {
    std::vector<double> out(sizes.size(), 0.0);
    if (isPlain(d, mean, sd)) return out;
    const SizeNodes nodes = sizeNodes(d, mean, sd, 0);
    double norm = 0;
    for (const double w : nodes.weights) norm += w;
    if (d == Distribution::Gaussian || d == Distribution::Uniform) {
        const double reach = d == Distribution::Gaussian ? kCut : std::numbers::sqrt3;
        const double from = std::max(0.0, mean - reach * sd), to = mean + reach * sd;
        for (std::size_t i = 0; i < sizes.size(); ++i) {
            if (sizes[i] < from || sizes[i] > to) continue;
            out[i] = d == Distribution::Uniform ? 1 / (to - from)
                                                : std::exp(-0.5 * std::pow((sizes[i] - mean) / sd, 2)) /
                                                      (sd * std::sqrt(2 * std::numbers::pi) * norm);
        }
        return out;
    }
    const LogDensity density(d, mean, sd);
    for (std::size_t i = 0; i < sizes.size(); ++i)
        if (sizes[i] > 0) out[i] = std::exp(density(std::log(sizes[i])).value) / (sizes[i] * norm);
    return out;
}

SizeNumbers sizeNumbers(Distribution d, double mean, double sd) {
    if (isPlain(d, mean, sd)) return {mean, 0, mean, mean};
    const SizeNodes nodes = sizeNodes(d, mean, sd, 0);
    double norm = 0, first = 0, second = 0;
    for (std::size_t k = 0; k < nodes.sizes.size(); ++k) {
        norm += nodes.weights[k];
        first += nodes.weights[k] * nodes.sizes[k];
        second += nodes.weights[k] * nodes.sizes[k] * nodes.sizes[k];
    }
    const double centre = first / norm;
    // Median and mode on a fine grid over where the distribution is.
    constexpr std::size_t n = 4001;
    const double low = std::ranges::min(nodes.sizes), high = std::ranges::max(nodes.sizes);
    std::vector<double> sizes(n);
    for (std::size_t k = 0; k < n; ++k)
        sizes[k] = low > 0 && high > 20 * mean ? low * std::pow(high / low, double(k) / (n - 1))
                                               : std::lerp(low, high, double(k) / (n - 1));
    const std::vector<double> density = sizeDensity(d, mean, sd, sizes);
    const auto top = std::ranges::max_element(density) - density.begin();
    double total = 0;
    for (std::size_t k = 1; k < n; ++k)
        total += 0.5 * (density[k] + density[k - 1]) * (sizes[k] - sizes[k - 1]);
    double sum = 0, median = centre;
    for (std::size_t k = 1; k < n; ++k) {
        const double part = 0.5 * (density[k] + density[k - 1]) * (sizes[k] - sizes[k - 1]);
        if (sum + part >= 0.5 * total) {
            median = std::lerp(sizes[k - 1], sizes[k], (0.5 * total - sum) / part);
            break;
        }
        sum += part;
    }
    return {centre, std::sqrt(std::max(0.0, second / norm - centre * centre)), median,
            d == Distribution::Uniform ? mean : sizes[static_cast<std::size_t>(top)]};
}

double weightedMean(Distribution d, double mean, double sd, int power) {
    const SizeNodes nodes = sizeNodes(d, mean, sd, 0);
    double above = 0, below = 0;
    for (std::size_t k = 0; k < nodes.sizes.size(); ++k) {
        const double part = nodes.weights[k] * std::pow(nodes.sizes[k], power);
        below += part;
        above += part * nodes.sizes[k];
    }
    return above / below;
}

} // namespace jointer::models::scattering
