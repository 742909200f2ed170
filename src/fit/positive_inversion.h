// SPDX-License-Identifier: GPL-3.0-or-later
// Amounts that are none negative from a curve that is their linear image: sizes and distances from
// scattering. The data alone do not fix them, so they are the smoothest, or those of most entropy, that the
// data allow.
#pragma once

#include "base/issue.h"

#include <Eigen/Dense>
#include <optional>

namespace jointer::fit {

// Smooth: the least squared second differences beside χ², zero beyond the ends. Entropy: the most
// −Σ f·ln(f/m) beside χ². How much of it: the most probable (evidence; classic maximum entropy). Source:
// S. F. Gull, in Maximum Entropy and Bayesian Methods (1989) 53; J. Skilling, ibid. 45.
enum class Prior { Smooth, Entropy };

struct PositiveProblem {
    Eigen::MatrixXd kernel; // points × amounts
    Eigen::VectorXd y, sigma;
    bool sigmaIsAbsolute = true; // else only ratios of them count
    bool background = false;     // a constant that is not negative beside them
    Prior prior = Prior::Smooth;
    bool wantsErrors = true; // else errors and covariance are zero
};

struct PositiveResult {
    Eigen::VectorXd amounts, errors; // standard errors within the prior
    Eigen::MatrixXd covariance;      // of the amounts; of the smooth ones by repeating the noise
    double background = 0, backgroundError = 0;
    double strength = 0;    // of the prior beside χ²
    double chi2 = 0;        // Σ ((y − fitted)/σ)², σ as given
    double measured = 0;    // number of amounts that the data fix
    double noise = 1;       // by which σ is to be multiplied; 1 where absolute
    double logEvidence = 0; // to compare kernels over the same points
    Eigen::VectorXd fitted;
};

// Errors: "few-points", "not-finite".
Result<PositiveResult> positiveInversion(const PositiveProblem& problem);

// The x ≥ 0 of the least ½·xᵀHx − gᵀx. H positive definite. Source: C. L. Lawson, R. J. Hanson, Solving Least
// Squares Problems (1974), ch. 23.
// A start from a like problem makes it quicker.
Eigen::VectorXd nonNegativeMinimum(const Eigen::MatrixXd& h, const Eigen::VectorXd& g,
                                   const Eigen::VectorXd& start = {});

} // namespace jointer::fit
