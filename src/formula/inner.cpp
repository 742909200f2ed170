// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/inner.h"

#include "numerics/quadrature.h"

#include <algorithm>
#include <cmath>

namespace jointer::formula {

namespace {

constexpr double kMostTerms = 1e6; // of a sum

} // namespace

InnerRun::InnerRun(const Program::Inner& inner, std::span<const double> scalars, std::size_t variables,
                   bool slopes)
    : inner_(inner), scalars_(scalars), variables_(variables), slopes_(slopes) {}

void InnerRun::setRow(std::span<const double> inputs, std::size_t count) {
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
    if (inner_.sum) return sum(inputs, from, to, gradient);
    setRow(inputs, numerics::kQuadratureNodes);
    return integral(from, to, gradient);
}

double InnerRun::integral(double from, double to, std::span<double> gradient) {
    const auto integrand = [&](std::span<const double> nodes, std::span<double> values,
                               std::span<double> slopes) {
        nodes_.assign(nodes.begin(), nodes.end());
        evaluate(nodes.size());
        std::ranges::copy(values_, values.begin());
        std::ranges::copy_n(gradients_.begin(), std::ssize(slopes), slopes.begin());
    };
    return numerics::integral(integrand, from, to, slopes_ ? gradient : std::span<double>());
}

double InnerRun::sum(std::span<const double> inputs, double from, double to, std::span<double> gradient) {
    const double first = std::ceil(from), count = std::floor(to) - first + 1;
    if (!(count > 0)) return 0;
    if (count > kMostTerms) return std::nan("");
    const auto n = static_cast<std::size_t>(count);
    setRow(inputs, n);
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
