// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/smearing.h"

#include "numerics/gauss_legendre.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace jointer::models::scattering {

namespace {

constexpr std::size_t kNodes = 24; // of a panel
constexpr double kPhase = 5;       // reach × width of a panel
constexpr double kShare = 0.7;     // of the distance from what is not smooth
constexpr double kMostPanels = 20000;
constexpr double kCut = 6;               // of the Gaussian, in standard deviations
constexpr std::size_t kKernelNodes = 24; // of a piece of a kernel, no longer than two standard deviations
constexpr double kClosest = 0.1;         // to zero, of curves that are singular there, in q

// Chebyshev points of a panel with the weights of barycentric interpolation.
struct PanelRule {
    std::array<double, kNodes> nodes, weights, quadrature; // the last: of Fejér, for integrals over −1 … 1
    PanelRule() {
        for (std::size_t k = 0; k < kNodes; ++k) {
            const double angle = std::numbers::pi * (2 * static_cast<double>(k) + 1) / (2 * double(kNodes));
            nodes[kNodes - 1 - k] = std::cos(angle);
            weights[kNodes - 1 - k] = (k % 2 == 0 ? 1 : -1) * std::sin(angle);
            double sum = 1;
            for (std::size_t j = 1; j <= kNodes / 2; ++j)
                sum -= 2 * std::cos(2 * double(j) * angle) / (4 * double(j) * double(j) - 1);
            quadrature[kNodes - 1 - k] = 2 / double(kNodes) * sum;
        }
    }
};
const PanelRule& panelRule() {
    static const PanelRule rule;
    return rule;
}

struct Range {
    double low, high;
};

class Layout {
public:
    Layout(std::span<const double> targets, const Resolution& resolution, const CurveShape& shape)
        : targets_(targets), resolution_(resolution), shape_(shape) {}

    SmearingLayout made() {
        Range all{INFINITY, 0};
        for (const double q : targets_) {
            const Range r = rangeOf(q);
            all = {std::min(all.low, r.low), std::max(all.high, r.high)};
        }
        if (!(all.low <= all.high)) return {{}, std::vector<SmearingRow>(targets_.size())};
        makePanels(all);
        SmearingLayout out;
        for (std::size_t p = 0; p + 1 < edges_.size(); ++p)
            for (const double t : panelRule().nodes)
                out.nodes.push_back(0.5 * (edges_[p] + edges_[p + 1]) +
                                    0.5 * (edges_[p + 1] - edges_[p]) * t);
        for (const double q : targets_) out.rows.push_back(rowOf(q));
        return out;
    }

private:
    double sigmaAt(double q) const { return resolution_.sigma ? resolution_.sigma(q) : 0; }

    // Where a target sees the curve. A target that is no number sees nothing.
    Range rangeOf(double q) const {
        if (!(q >= 0) || (shape_.singularAtZero && q == 0)) return {INFINITY, 0};
        if (resolution_.slit > 0) return {q, std::hypot(q, resolution_.slit)};
        const double s = sigmaAt(q), least = shape_.singularAtZero ? kClosest * q : 0;
        return {std::max(least, q - kCut * s), q + kCut * s};
    }

    void makePanels(Range all) {
        edges_ = {all.low};
        const double least = (all.high - all.low) / kMostPanels;
        const double widest = shape_.reach > 0 ? std::max(kPhase / shape_.reach, least) : INFINITY;
        std::vector<double> breaks = shape_.breaks;
        std::ranges::sort(breaks);
        while (edges_.back() < all.high) {
            const double at = edges_.back();
            double width = std::min(widest, std::max(all.high - all.low, 1e-9 * all.high));
            if (shape_.feature)
                width = std::min(width, kShare * (at + 1 / std::max(*shape_.feature, 1e-300)));
            else if (shape_.singularAtZero)
                width = std::min(width, kShare * at);
            if (!(width > 0)) width = std::max(least, 1e-12 * all.high);
            double next = at + width;
            for (const double b : breaks)
                if (b > at * (1 + 1e-9) && b < next) {
                    next = b;
                    break;
                }
            edges_.push_back(next);
        }
        if (edges_.size() == 1) edges_.push_back(std::nextafter(all.high, INFINITY) * (1 + 1e-9) + 1e-300);
    }

    std::size_t panelOf(double q) const {
        const auto above = std::ranges::upper_bound(edges_, q);
        return static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(above - edges_.begin() - 1, 0, std::ssize(edges_) - 2));
    }

    // Adds weight × I(q).
    void add(SmearingRow& row, double q, double weight) {
        const std::size_t p = panelOf(q);
        const double half = 0.5 * (edges_[p + 1] - edges_[p]), t = (q - edges_[p]) / half - 1;
        const std::size_t base = p * kNodes;
        if (row.weights.empty()) row.first = base;
        if (base + kNodes > row.first + row.weights.size())
            row.weights.resize(base + kNodes - row.first, 0.0);
        double* const to = row.weights.data() + (base - row.first);
        const PanelRule& rule = panelRule();
        std::array<double, kNodes> part;
        double sum = 0;
        for (std::size_t k = 0; k < kNodes; ++k) {
            const double away = t - rule.nodes[k];
            if (away == 0) {
                to[k] += weight;
                return;
            }
            part[k] = rule.weights[k] / away;
            sum += part[k];
        }
        for (std::size_t k = 0; k < kNodes; ++k) to[k] += weight * part[k] / sum;
    }

    SmearingRow rowOf(double q) {
        SmearingRow row;
        const Range range = rangeOf(q);
        if (!(range.low <= range.high)) return row;
        if (resolution_.slit > 0)
            addSlit(row, q);
        else if (range.high > range.low)
            addGaussian(row, q, range);
        else
            add(row, q, 1);
        double sum = 0;
        for (const double w : row.weights) sum += w;
        for (double& w : row.weights) w /= sum;
        return row;
    }

    // Pieces between cuts, each by a rule; `f` gives q and weight density at the variable.
    template <class F>
    void addPieces(SmearingRow& row, std::vector<double> cuts, F f,
                   const std::vector<std::pair<double, double>>& done = {}) {
        std::ranges::sort(cuts);
        const auto& rule = numerics::gaussLegendre(kKernelNodes);
        for (std::size_t c = 1; c < cuts.size(); ++c) {
            const double half = 0.5 * (cuts[c] - cuts[c - 1]), middle = 0.5 * (cuts[c] + cuts[c - 1]);
            if (!(half > 0) || std::ranges::any_of(done, [&](const auto& d) {
                    return middle > d.first && middle < d.second;
                }))
                continue;
            for (std::size_t k = 0; k < kKernelNodes; ++k) {
                const auto [q, density] = f(middle + half * rule.nodes[k]);
                add(row, q, half * rule.weights[k] * density);
            }
        }
    }

    void addGaussian(SmearingRow& row, double q, Range range) {
        const double s = sigmaAt(q);
        row.first = panelOf(range.low) * kNodes;
        row.weights.assign(kNodes, 0.0);
        const auto kernel = [&](double at) { return std::exp(-0.5 * std::pow((at - q) / s, 2)); };
        std::vector<double> cuts = {range.low, range.high};
        for (double at = q - kCut * s; at < range.high; at += 2 * s)
            if (at > range.low) cuts.push_back(at);
        const auto first = std::ranges::lower_bound(edges_, range.low),
                   last = std::ranges::upper_bound(edges_, range.high);
        for (auto e = first; e != last; ++e) cuts.push_back(*e);
        // Panels that lie within, much narrower than the kernel, are summed over their own nodes.
        const auto isNarrow = [&](auto edge) { return *(edge + 1) - *edge < 0.5 * s; };
        std::vector<std::pair<double, double>> done;
        for (auto e = first; e != last && e + 1 != last; ++e) {
            if (!isNarrow(e)) continue;
            addPanel(row, static_cast<std::size_t>(e - edges_.begin()), kernel);
            if (done.empty() || done.back().second < *e)
                done.emplace_back(*e, *(e + 1));
            else
                done.back().second = *(e + 1);
        }
        if (!done.empty())
            std::erase_if(cuts, [&](double at) {
                return std::ranges::any_of(done,
                                           [&](const auto& d) { return at > d.first && at < d.second; });
            });
        addPieces(
            row, std::move(cuts), [&](double at) { return std::pair(at, kernel(at)); }, done);
    }

    // Σ of kernel × curve over the nodes of a panel.
    template <class F> void addPanel(SmearingRow& row, std::size_t p, F kernel) {
        const std::size_t base = p * kNodes;
        row.weights.resize(std::max(row.weights.size(), base + kNodes - row.first), 0.0);
        const double half = 0.5 * (edges_[p + 1] - edges_[p]), middle = 0.5 * (edges_[p + 1] + edges_[p]);
        const PanelRule& rule = panelRule();
        for (std::size_t k = 0; k < kNodes; ++k)
            row.weights[base - row.first + k] +=
                half * rule.quadrature[k] * kernel(middle + half * rule.nodes[k]);
    }

    void addSlit(SmearingRow& row, double q) {
        const double length = resolution_.slit;
        std::vector<double> cuts = {0, length};
        for (double at = q; q > 0 && at < length; at *= 2) cuts.push_back(at);
        for (const double e : edges_)
            if (const double u = std::sqrt(std::max(0.0, e * e - q * q)); u > 0 && u < length)
                cuts.push_back(u);
        addPieces(row, std::move(cuts), [&](double u) { return std::pair(std::hypot(q, u), 1.0); });
    }

    std::span<const double> targets_;
    const Resolution& resolution_;
    const CurveShape& shape_;
    std::vector<double> edges_;
};

} // namespace

SmearingLayout smearingLayout(std::span<const double> targets, const Resolution& resolution,
                              const CurveShape& shape) {
    return Layout(targets, resolution, shape).made();
}

double beamSigma(const BeamGeometry& b, double q) {
    const double angle2 = std::pow(b.source / (4 * b.before), 2) +
                          std::pow(b.sample / 4 * (1 / b.before + 1 / b.behind), 2) +
                          std::pow(b.pixel / b.behind, 2) / 12;
    const double k = 2 * std::numbers::pi / b.wavelength;
    const double spread = b.spread / (2 * std::sqrt(2 * std::numbers::ln2));
    return std::sqrt(k * k * angle2 + q * q * spread * spread);
}

} // namespace jointer::models::scattering
