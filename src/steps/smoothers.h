// SPDX-License-Identifier: GPL-3.0-or-later
// Linear smoothers over points in order of x, as operations that steps apply to values and to variances.
// Not part of the interface of the folder.
#pragma once

#include "steps/columns.h"

namespace jointer::steps {

// A window that counts points (odd), or that is so wide in x; then `points` is 0.
struct Window {
    std::size_t points = 0;
    double width = 0;
};

// The mean over the window, which shrinks symmetrically towards the ends of each piece.
Linear movingAverage(Values x, Window window, const std::vector<Piece>& pieces);

// The local polynomial of Savitzky and Golay or its derivative; towards the ends it is that of the last full
// window. Where x is not even, the polynomial is fitted over the true x.
Linear localPolynomial(Values x, Window window, const std::vector<Piece>& pieces, int degree, int derivative);

// Low pass: half the amplitude is left at `cutoff` cycles per point, falling with the eighth power.
Linear lowPass(double cutoff, const std::vector<Piece>& pieces);
double lowPassGain(double frequency, double cutoff);

// Local regression over the nearest points with tricube weights (W. S. Cleveland, J. Am. Stat. Assoc. 74
// (1979) 829); further weights by point for the robust form.
Linear loess(Values x, std::size_t nearest, int degree, const List& robustness, const Cancellation& stop);

// Penalised least squares over second differences. Where x is even but for gaps, the points that are missing
// have their places too, with no weight; else points count.
Linear penalised(Values x, double lambda, const std::vector<Piece>& pieces);

} // namespace jointer::steps
