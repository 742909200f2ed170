// SPDX-License-Identifier: GPL-3.0-or-later
// Robust losses: residuals count less the farther they lie, by reweighting until nothing changes. The scale
// is that of the middle of the residuals, so that a few wild ones do not widen it. Source: P. J. Huber, E. M.
// Ronchetti, Robust Statistics, 2nd ed. (2009), ch. 7.
#pragma once

#include "fit/attempt.h"

namespace jointer::fit {

struct Reweighted {
    double scale = 0; // 1.4826 × the median of |weighted residual|
    double rss = 0;   // of the weighted residuals, without the loss
    Vectors counts;   // ψ(u)/u of each observation: 0 … 1
};

// From the attempt of least squares; it is replaced.
Reweighted reweigh(Fitter& fitter, Attempt& attempt, const FitOptions& options, const Cancellation& stop);

// As infer(), with errors by the sandwich form: H⁻¹GH⁻¹·n/(n−p), H = Σψ′(u)gg′, G = s²Σψ²(u)gg′.
void inferRobustly(Fitter& fitter, const Attempt& attempt, const Reweighted& reweighted, FitReport& report);

} // namespace jointer::fit
