// SPDX-License-Identifier: GPL-3.0-or-later
// Exponential decay and approach to a plateau.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <cmath>

namespace jointer::models {

namespace {

// Rate k of y = plateau + amplitude·exp(−k·x) from the integral equation
// y − y₀ = −k·∫(y − plateau)dx = −k·S + k·plateau·(x − x₀), two unknowns by least squares.
// Source: J. Jacquelin, Régressions et équations intégrales (2009), p. 16.
double rateByIntegral(const SortedPoints& p) {
    double s = 0, a11 = 0, a12 = 0, a22 = 0, b1 = 0, b2 = 0;
    for (std::size_t i = 1; i < p.size(); ++i) {
        s += 0.5 * (p.y[i] + p.y[i - 1]) * (p.x[i] - p.x[i - 1]);
        const double dx = p.x[i] - p.x[0], dy = p.y[i] - p.y[0];
        a11 += dx * dx;
        a12 += dx * s;
        a22 += s * s;
        b1 += dx * dy;
        b2 += s * dy;
    }
    return -(a11 * b2 - a12 * b1) / (a11 * a22 - a12 * a12);
}

std::optional<std::vector<double>> guessDecay(const Curve& curve) {
    const SortedPoints p = sortedPoints(curve);
    if (p.size() < 3) return std::nullopt;
    const double width = p.x.back() - p.x.front();
    double rate = rateByIntegral(p);
    if (!std::isfinite(rate) || std::abs(rate) * width > 700 || std::abs(rate) * width < 1e-6)
        rate = 3 / width;
    std::vector<double> e(p.size());
    for (std::size_t i = 0; i < p.size(); ++i) e[i] = std::exp(-rate * (p.x[i] - p.x[0]));
    const StraightLine line = straightLine(e, p.y); // plateau + amplitude·e
    return std::vector<double>{line.slope * std::exp(rate * p.x[0]), rate, line.intercept};
}

ModelPtr makeDecay(const Settings&) {
    return libraryModel("amplitude*exp(-rate*x) + plateau",
                        {{"amplitude", "height above the plateau at x = 0", "y"},
                         {"rate", "rate constant; its reciprocal is the time constant", "1/x"},
                         {"plateau", "level that is reached in the end", "y"}},
                        {{"half-life", "ln(2)/rate", "x"}, {"time constant", "1/rate", "x"}}, guessDecay);
}

} // namespace

std::vector<ModelKind> exponentialModels() {
    return {
        {{.key = "exponential-decay",
          .name = "Exponential decay to a plateau",
          .purpose = "First-order decay, relaxation, cooling; also a rise to a plateau (negative amplitude)",
          .group = "Growth and decay"},
         makeDecay}};
}

} // namespace jointer::models
