// SPDX-License-Identifier: GPL-3.0-or-later
// Baselines found from the points themselves. All take y in order of x and give the baseline at the same
// points; those that count points say so. Not part of the interface of the folder.
#pragma once

#include "steps/columns.h"

namespace jointer::steps {

const KindInfo& baselineInfo(); // the description of the step

// Asymmetric least squares: weights p above the baseline and 1 − p below, second differences weighed by λ,
// ten rounds from weights of one. Source: P. H. C. Eilers, Anal. Chem. 76 (2004) 404.
List alsBaseline(Values y, double lambda, double p, const Cancellation& stop = {});

// Weights by a logistic function of the distance in units of the noise below; to a change of weights below
// 10⁻³ or fifty rounds. Source: S.-J. Baek, A. Park, Y.-J. Ahn, J. Choo, Analyst 140 (2015) 250.
List arplsBaseline(Values y, double lambda, const Cancellation& stop = {});

// Running minimum, maximum of it, and mean of that, over `radius` points on both sides.
// Source: M. A. Kneen, H. J. Annegarn, Nucl. Instrum. Meth. B 109/110 (1996) 209.
List rollingBallBaseline(Values y, std::size_t radius);

// A polynomial to which the curve is cut off from above, by one standard deviation of the residuals, until
// that no longer changes. Source: J. Zhao, H. Lui, D. I. McLean, H. Zeng, Appl. Spectrosc. 61 (2007) 1225.
List polynomialBaseline(Values x, Values y, int degree);

// Iterative clipping for counts, from windows of one to `radius` points on both sides, after taking the
// double logarithm of the square root. Source: C. G. Ryan et al., Nucl. Instrum. Meth. B 34 (1988) 396; M.
// Morháč et al., Nucl. Instrum. Meth. A 401 (1997) 113.
List clippedBaseline(Values y, std::size_t radius);

// The integral background of a step: it rises from the level at one end to that at the other in proportion to
// the area of what lies above it. Levels: means of the `ends` first and last points. Says whether it settled.
// Source: D. A. Shirley, Phys. Rev. B 5 (1972) 4709; iterated after A. Proctor, P. M. A. Sherwood, Anal.
// Chem. 54 (1982) 13.
struct StepBaseline {
    List y;
    bool settled = true;
};
StepBaseline shirleyBaseline(Values x, Values y, std::size_t ends);

// The background of inelastic losses by the universal cross-section B·T/(C + T²)², T the energy lost. Losses
// lie towards higher x (binding energies) or lower x (kinetic energies). Without a given B it is chosen so
// that the background meets the curve at the end of the losses. Above the level at the loss-free end. Source:
// S. Tougaard, Surf. Interface Anal. 11 (1988) 453.
struct LossOrder {
    double b = 0; // 0: chosen
    double c = 1643;
    bool lossesUpwards = true;
    std::size_t ends = 5;
};
struct LossBaseline {
    List y;
    double b;         // the one that was used
    double lossRange; // from the highest point of the curve to the end of the losses
};
LossBaseline lossBaseline(Values x, Values y, const LossOrder& order);

// Few anchors through which a shape-preserving curve follows a baseline to within `tolerance`.
std::vector<std::pair<double, double>> anchorsThrough(Values x, Values baseline, double tolerance,
                                                      std::size_t most);

} // namespace jointer::steps
