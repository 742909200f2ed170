// SPDX-License-Identifier: GPL-3.0-or-later
// Local regression: at each place a polynomial through the nearest part of the points, weighted by their distance.
// Source: W. S. Cleveland, J. Am. Stat. Assoc. 74 (1979) 829; its errors by W. S. Cleveland, S. J. Devlin, ibid. 83
// (1988) 596.
#pragma once

#include "base/parallel.h"

#include <span>
#include <utility>
#include <vector>

namespace jointer::numerics {

struct LoessWish {
    double fraction = 0.5; // of the points that are near: ⌊n·fraction + 10⁻⁵⌋ of them
    int degree = 2;        // 1 or 2
    int robustSteps = 0;   // times that what lies far off is given less weight
};

class Loess {
public:
    // Requires: x ascending, all as long as x, weights (1/σ²; empty: all 1) above zero, at least one point.
    Loess(std::vector<double> x, std::vector<double> y, std::vector<double> weights = {}, const LoessWish& wish = {});

    struct At {
        double y, slope;
        double norm;      // √Σ l²/w: the error of the curve over that of a point of weight one
        double slopeNorm; // that of the slope
    };
    At at(double x) const;
    // The curve alone, or with its norms, with several threads. Shape: norms are as long as xs, or empty.
    std::vector<double> values(std::span<const double> xs, std::span<double> norms = {}) const;
    // l with y = Σ l·y. Shape: out is as long as the points; most are zero.
    void weightsAt(double x, std::span<double> out) const;

    std::size_t neighbours() const { return near_; }
    double weightOf(std::size_t point) const { return w_.empty() ? 1 : w_[point]; }
    const std::vector<double>& robustness() const { return robust_; } // 0 … 1 for each point; empty: all 1

private:
    struct Window {
        std::size_t first, end;
        double reach;
    };
    Window windowAt(double x) const;
    void localWeights(const Window& window, double x, int derivative, std::vector<double>& kernel,
                      std::vector<double>& out) const;
    std::pair<double, double> over(const Window& window, const std::vector<double>& l) const;
    void makeRobust(int steps);

    std::vector<double> x_, y_, w_, robust_;
    std::size_t near_;
    int degree_;
};

// The statistics of a linear smoother with hat matrix L over its points: equivalent degrees of freedom and how the scatter
// is estimated from the residuals.
struct SmootherStatistics {
    double dof = 0;          // tr L
    double left = 0;         // δ₁ = tr (I − L)(I − L)ᵀ, which the squares of the residuals are divided by
    double leftSquared = 0;  // δ₂ = tr ((I − L)(I − L)ᵀ)²
    bool exact = true;       // else from a part of the rows, and δ₂ ≈ δ₁
    std::vector<double> leverage; // the diagonal of L; empty: not exact

    double degrees() const { return left * left / leftSquared; } // of t and F
};

constexpr std::size_t kMostExact = 2000; // points of which the statistics are exact

// Cost: n² times the neighbours' share for the traces, n³/4 for δ₂, on all threads.
SmootherStatistics statisticsOf(const Loess& loess, std::span<const double> x, const Cancellation& stop = {});

} // namespace jointer::numerics
