// SPDX-License-Identifier: GPL-3.0-or-later
// The natural cubic smoothing spline: the curve f that minimises Σ w·(y − f(x))² + λ·∫ f″², with its smoothness by
// generalised cross-validation or by hand.
// Source: C. H. Reinsch, Numer. Math. 10 (1967) 177; the diagonal of its hat matrix by M. F. Hutchinson,
// F. R. de Hoog, Numer. Math. 47 (1985) 99; cross-validation by P. Craven, G. Wahba, Numer. Math. 31 (1979) 377.
#pragma once

#include "numerics/spline.h"

#include <optional>
#include <span>
#include <vector>

namespace jointer::numerics {

struct SplineWish {
    // log10 of λ over the cube of the mean distance of neighbouring places: 0 follows nearly every point, 4 smooths over
    // some tens of them. None: by cross-validation.
    std::optional<double> smoothness{};
    std::optional<double> dof{}; // or so many equivalent degrees of freedom, from 2 (a line) up
};

class SmoothingSpline {
public:
    // Requires: x ascending, all as long as x, weights (empty: all 1) above zero, at least one point. Several points at
    // one place count as their mean. Cost: linear, for cross-validation too.
    SmoothingSpline(std::span<const double> x, std::span<const double> y, std::span<const double> weights = {},
                    const SplineWish& wish = {});

    double operator()(double x) const { return curve_(x); }
    double slope(double x) const { return curve_.slope(x); }

    double smoothness() const { return smoothness_; }
    double dof() const { return dof_; }              // the trace of the hat matrix
    double crossValidation() const { return gcv_; }  // n·RSS/(n − dof)²
    double rss() const { return rss_; }              // weighted, over all points
    // √ of the variance of the curve over that of a point of weight one, by the Bayesian argument of G. Wahba, J. R.
    // Statist. Soc. B 45 (1983) 133: exact at the places of points, straight between them.
    double spread(double x) const;
    const std::vector<double>& places() const { return xs_; }
    double leverage(std::size_t place) const { return diagonal_[place]; } // of all points there together

private:
    std::vector<double> xs_, diagonal_, spreads_; // distinct places
    NaturalSpline curve_;
    double smoothness_ = 0, dof_ = 0, gcv_ = 0, rss_ = 0;
};

} // namespace jointer::numerics
