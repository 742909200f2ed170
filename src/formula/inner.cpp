// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/inner.h"

#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <cmath>

namespace jointer::formula {

namespace {

using Rule = boost::math::quadrature::gauss_kronrod<double, 15>;
using Coarse = boost::math::quadrature::gauss<double, 7>;

constexpr std::size_t kNodes = 15;
constexpr double kTolerance = 1e-10;
constexpr int kMostPieces = 2000;
constexpr double kMostTerms = 1e6; // of a sum

// Nodes and weights on (−1, 1), in one list.
struct Table {
    double x[kNodes], fine[kNodes], coarse[kNodes];
};

const Table& table() {
    static const Table t = [] {
        Table out{};
        const auto& x = Rule::abscissa();
        const auto& w = Rule::weights();
        const auto& g = Coarse::weights();
        std::size_t at = 0;
        for (std::size_t k = 0; k < x.size(); ++k)
            for (const double side : {-1.0, 1.0}) {
                if (x[k] == 0 && side > 0) continue;
                out.x[at] = side * x[k];
                out.fine[at] = w[k];
                out.coarse[at] = k % 2 == 0 ? g[k / 2] : 0; // every other node is one of the coarse rule
                ++at;
            }
        return out;
    }();
    return t;
}

} // namespace

InnerRun::InnerRun(const Program::Inner& inner, std::span<const double> scalars, std::size_t variables,
                   bool slopes)
    : inner_(inner), scalars_(scalars), variables_(variables), slopes_(slopes) {}

void InnerRun::setRow(std::span<const double> inputs, std::size_t count) {
    row_.assign(inputs.begin(), inputs.end());
    columns_.resize(inputs.size());
    for (std::size_t k = 0; k < inputs.size(); ++k) columns_[k].assign(count, inputs[k]);
}

void InnerRun::evaluate(std::size_t count) {
    values_.resize(count);
    if (slopes_) gradients_.assign(count * variables_, 0);
    std::vector<std::span<const double>> inputs;
    for (const auto& c : columns_) inputs.emplace_back(c.data(), count);
    inputs.emplace_back(nodes_.data(), count);
    inner_.program.evaluate(inputs, scalars_, values_, slopes_ ? std::span(gradients_) : std::span<double>());
}

double InnerRun::at(std::span<const double> inputs, double place) {
    setRow(inputs, 1);
    nodes_ = {place};
    const bool slopes = std::exchange(slopes_, false);
    evaluate(1);
    slopes_ = slopes;
    return values_[0];
}

double InnerRun::over(std::span<const double> inputs, double from, double to, std::span<double> gradient) {
    if (!std::isfinite(from) || !std::isfinite(to)) return std::nan("");
    if (inner_.sum) {
        row_.assign(inputs.begin(), inputs.end());
        return sum(from, to, gradient);
    }
    setRow(inputs, kNodes);
    return integral(from, to, gradient);
}

// Pieces are halved until fine and coarse rule agree to their share of the whole.
double InnerRun::integral(double from, double to, std::span<double> gradient) {
    if (from == to) return 0;
    const Table& t = table();
    std::vector<std::pair<double, double>> open = {{from, to}};
    double total = 0, size = 0;
    for (int pieces = 0; !open.empty(); ++pieces) {
        if (pieces > kMostPieces) return std::nan("");
        const auto [a, b] = open.back();
        open.pop_back();
        const double half = (b - a) / 2, middle = (a + b) / 2;
        nodes_.resize(kNodes);
        for (std::size_t k = 0; k < kNodes; ++k) nodes_[k] = middle + half * t.x[k];
        evaluate(kNodes);
        double fine = 0, coarse = 0, absolute = 0;
        for (std::size_t k = 0; k < kNodes; ++k) {
            fine += t.fine[k] * values_[k];
            coarse += t.coarse[k] * values_[k];
            absolute += t.fine[k] * std::abs(values_[k]);
        }
        if (!std::isfinite(fine)) return std::nan("");
        const double share = std::abs(half) / (std::abs(to - from) / 2);
        const double scale = std::max(size, absolute * std::abs(half) / share);
        const bool settled =
            std::abs(fine - coarse) * std::abs(half) <= kTolerance * std::max(share, 1e-3) * scale ||
            std::abs(half) <= 1e-13 * std::abs(middle);
        if (!settled) {
            open.emplace_back(middle, b);
            open.emplace_back(a, middle);
            continue;
        }
        total += half * fine;
        size += std::abs(half) * absolute;
        for (std::size_t v = 0; v < gradient.size() && slopes_; ++v)
            for (std::size_t k = 0; k < kNodes; ++k)
                gradient[v] += half * t.fine[k] * gradients_[v * kNodes + k];
    }
    return total;
}

double InnerRun::sum(double from, double to, std::span<double> gradient) {
    const double first = std::ceil(from), count = std::floor(to) - first + 1;
    if (!(count > 0)) return 0;
    if (count > kMostTerms) return std::nan("");
    const auto n = static_cast<std::size_t>(count);
    const std::vector<double> row = row_;
    setRow(row, n);
    nodes_.resize(n);
    for (std::size_t k = 0; k < n; ++k) nodes_[k] = first + static_cast<double>(k);
    evaluate(n);
    double total = 0;
    for (double v : values_) total += v;
    for (std::size_t v = 0; v < gradient.size() && slopes_; ++v)
        for (std::size_t k = 0; k < n; ++k) gradient[v] += gradients_[v * n + k];
    return total;
}

} // namespace jointer::formula
