// SPDX-License-Identifier: GPL-3.0-or-later
// Intervals by fitting again what the data could as well have been. Deterministic by seed, whatever the
// number of threads; may be stopped.
// Source: B. Efron, R. J. Tibshirani, An Introduction to the Bootstrap (1993), ch. 9 and 14; percentiles
// widened for few points as in T. C. Hesterberg, Am. Stat. 69 (2015) 371, section 3.3.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

enum class Resampling {
    Residuals, // the fitted values with residuals drawn anew, inflated by √(n/(n − p))
    Cases,     // the observations of each member drawn anew
    Parametric // the fitted values with normal errors of the scatter found
};

struct BootstrapOptions {
    Resampling resampling = Resampling::Residuals;
    int count = 1000;
    std::uint64_t seed = 1;
};

// Replaces the intervals of free and tied parameters and derived numbers by bias-corrected percentiles.
// Warnings: how many could not be fitted, that it was stopped.
std::vector<Issue> bootstrap(const FitProblem& problem, FitReport& report, const BootstrapOptions& options,
                             const Cancellation& stop = {});

// The parameters of such fits, member after member, then whatever is derived of each; those that did not
// converge are left out. Shape: repetitions × numbers.
std::vector<std::vector<double>> repeatedFits(const FitProblem& problem, const FitReport& report,
                                              const BootstrapOptions& options, const Cancellation& stop = {});

// The percentiles at −z and z of a normal distribution; infinite values are taken as ends. Requires: not
// empty, no NaN.
std::pair<double, double> percentiles(std::vector<double> list, double z);

} // namespace jointer::fit
