// SPDX-License-Identifier: GPL-3.0-or-later
// Where fits of scattering begin: sizes from a search by ratios, amounts and background by least squares over
// relative residuals, so that points a million times smaller than others count as much.
#pragma once

#include "models/scattering/particles.h"

#include <functional>

namespace jointer::models::scattering {

// Points of q > 0 with intensities, thinned; none: too few.
struct SeenPoints {
    std::vector<double> q, intensity;
    std::size_t size() const { return q.size(); }
};
SeenPoints seenPoints(const Curve& curve);

// Amount and background, none negative, of the least sum of squared relative residuals of
// amount·shape + background, which is given too; infinite: there is none.
struct AmountFound {
    double amount, background, left;
};
AmountFound amountOf(const SeenPoints& points, std::span<const double> shape);

// The best of some parameters on a grid by ratios, then by halved steps: `shapeOf` gives the curve of
// amount one, or nothing.
struct Scan {
    double low, high;
    std::size_t count;
};
using ShapeOf = std::function<bool(std::span<const double> parameters, std::span<double> shape)>;
std::vector<double> scanned(const SeenPoints& points, const std::vector<Scan>& scans, const ShapeOf& shapeOf,
                            AmountFound& found);

// Parameters of the population and, at their end, the background.
std::optional<std::vector<double>> particleStart(const BareCurve& particles, const Population& population,
                                                 const Curve& curve);

} // namespace jointer::models::scattering
