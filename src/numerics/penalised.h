// SPDX-License-Identifier: GPL-3.0-or-later
// Penalised least squares over points one apart: the z that minimises Σ w·(y − z)² + λ·Σ (Δ²z)², and how the
// uncertainties of y go into it. Banded, so linear in the number of points.
// Source: P. H. C. Eilers, Anal. Chem. 75 (2003) 3631; the diagonal of the inverse by M. F. Hutchinson,
// F. R. de Hoog, Numer. Math. 47 (1985) 99.
#pragma once

#include <span>
#include <vector>

namespace jointer::numerics {

// Requires: w ≥ 0 with at least two above zero; λ ≥ 0. Fewer than three points: y itself.
std::vector<double> penalisedSmooth(std::span<const double> y, std::span<const double> w, double lambda);

// The same again and again over as many points, in memory that is kept.
class PenalisedSolver {
public:
    void solve(std::span<const double> y, std::span<const double> w, double lambda, std::vector<double>& z);

private:
    std::vector<double> one_, two_;
};

// The variance of each z, for independent y of the given variances: the diagonal of A⁻¹W V W A⁻¹ with
// A = W + λDᵀD. Exact. Cost: linear.
std::vector<double> penalisedVariances(std::span<const double> variances, std::span<const double> w,
                                       double lambda);

} // namespace jointer::numerics
