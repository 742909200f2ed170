// SPDX-License-Identifier: GPL-3.0-or-later
// The least-squares solver: Levenberg–Marquardt on a QR factorisation in blocks, with box limits. It knows
// nothing of models; attempt.h builds the residuals. Deterministic; stops early when asked.
#pragma once

#include "base/parallel.h"
#include "fit/blocks.h"

#include <functional>

namespace jointer::fit {

// Fills r (residuals data − model, weighted) and, where asked, J = ∂model/∂p (weighted), block by block.
// Returns false where the model has no finite value.
using ResidualFunction = std::function<bool(const Eigen::VectorXd& p, Vectors& r, Matrices* J)>;

struct SolverOptions {
    int maxIterations = 500;
    double offsetTolerance =
        1e-8; // converged when the residuals' part along the model's tangents is this small
};

enum class SolverEnd { Converged, IterationLimit, Stuck, BadStart, Stopped };

struct SolverResult {
    Eigen::VectorXd p;
    Matrices jacobian; // there; empty after a bad start, and without iterations
    double rss = 0;
    int iterations = 0;
    SolverEnd end = SolverEnd::BadStart;
};

// Shape: start, lower, upper have one entry for each free parameter. The start is moved into the limits.
// `dataNorm` is the Euclidean norm of the weighted data: below its rounding error nothing can be gained.
// Source: J. J. Moré, Lecture Notes in Mathematics 630 (1978) 105; D. M. Bates, D. G. Watts, Technometrics 23
// (1981) 179 (relative offset); damping by H. B. Nielsen, IMM-REP-1999-05.
SolverResult minimise(const ResidualFunction& residuals, const FreeLayout& layout, Eigen::VectorXd start,
                      const Eigen::VectorXd& lower, const Eigen::VectorXd& upper, double dataNorm,
                      const SolverOptions& options, const Cancellation& stop);

} // namespace jointer::fit
