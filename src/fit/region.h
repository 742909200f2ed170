// SPDX-License-Identifier: GPL-3.0-or-later
// The joint confidence region of two parameters: all pairs of values whose best fit of the others is worse by no more than
// chance allows. Around the solution it is an ellipse; where the model is curved the edge is followed by refits.
// Source: D. M. Bates, D. G. Watts, Nonlinear Regression Analysis (1988), 6.1.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

struct Region {
    std::string first, second; // as people call them: "k", or "k of y1"
    double x = 0, y = 0;       // where the fit stands
    double level = 0.95;
    std::vector<std::pair<double, double>> ellipse; // closed: the first point is not repeated
    // Followed; empty: not asked for. Where the sum never grows so far a point lies at its farthest place and `open` says so.
    std::vector<std::pair<double, double>> edge;
    std::vector<double> reach; // of each of its points, times that of the ellipse in the same direction
    bool open = false;
    double correlation = 0;
    double xLow = NAN, xHigh = NAN, yLow = NAN, yHigh = NAN; // intervals of each for itself

    double bend() const; // by how much the reach differs from one at most; NaN without an edge
};

struct RegionOptions {
    bool follow = true;
    int directions = 48;
};

// Within RSSmin·(1 + 2·F(level; 2, dof)/dof), with absolute uncertainties χ²min + χ²(level; 2). Errors: "no-parameter" where
// one is not free and determined, "same-parameter", "no-region" without degrees of freedom or under a robust loss.
Result<Region> regionOf(const FitProblem& problem, const FitReport& report, const ParameterPlace& first, const ParameterPlace& second,
                        const RegionOptions& options = {}, const Cancellation& stop = {});

// How the two go together, and whether their errors say all.
std::string sentenceOf(const Region& region);

} // namespace jointer::fit
