// SPDX-License-Identifier: GPL-3.0-or-later
// Power laws.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <cmath>

namespace jointer::models {

namespace {

// A line through the logarithms of the positive points (of −y where most are negative).
std::optional<std::vector<double>> guessPower(const Curve& curve) {
    const SortedPoints p = sortedPoints(curve);
    double sum = 0;
    for (double y : p.y) sum += y;
    const double sign = sum < 0 ? -1 : 1;
    std::vector<double> lx, ly;
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (p.x[i] <= 0 || sign * p.y[i] <= 0) continue;
        lx.push_back(std::log(p.x[i]));
        ly.push_back(std::log(sign * p.y[i]));
    }
    if (lx.size() < 2) return std::nullopt;
    const StraightLine line = straightLine(lx, ly);
    return std::vector<double>{sign * std::exp(line.intercept), line.slope};
}

ModelPtr makePower(const Settings&) {
    return libraryModel(
        "factor*x^exponent",
        {{"factor", "value at x = 1", "y"}, {"exponent", "slope in a doubly logarithmic plot", ""}}, {},
        guessPower);
}

} // namespace

std::vector<ModelKind> powerModels() {
    return {{{.key = "power",
              .name = "Power law",
              .purpose = "Scaling, allometry, rates of higher order; x must be positive",
              .group = "Powers and roots"},
             makePower}};
}

} // namespace jointer::models
