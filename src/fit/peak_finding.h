// SPDX-License-Identifier: GPL-3.0-or-later
// Peaks found in a curve, shoulders too: places where the second derivative, smoothed over widths of many
// sizes, bends more than the noise can. Deterministic and thread-safe.
// Example: `for (const FoundPeak& p : findPeaks(x, y, {.most = 4})) …`
#pragma once

#include "base/parallel.h"

#include <cstddef>
#include <span>
#include <vector>

namespace jointer::fit {

enum class Direction { Up, Down, Both };

struct PeakSearch {
    Direction direction = Direction::Up;
    std::size_t most = 0;             // the highest so many; 0: all that are found
    double prominence = 0;            // least height, as a share of the largest
    double significance = 5.5;        // least bend, in standard deviations of that of the noise
    double narrowest = 0, widest = 0; // full widths at half maximum, in units of x; 0: by the points
};

struct FoundPeak {
    double place = 0;
    double height = 0; // above what lies around it; below zero: downwards
    double width = 0;  // full width at half maximum, as far as neighbours let it be seen
    double significance = 0;
    double signalToNoise = 0; // height over the standard deviation of the noise of a point
};

// In order of x. Shape: both as long as the points; x in ascending order. NaN: left out.
// Cost: n·log n; 10⁵ points take some 10 ms.
std::vector<FoundPeak> findPeaks(std::span<const double> x, std::span<const double> y,
                                 const PeakSearch& search = {}, const Cancellation& stop = {});

// Leaves the highest so many, in order of x.
void keepHighest(std::vector<FoundPeak>& peaks, std::size_t most);

// The peak at a place that a hand has pointed to: its width and height, seen as a peak on its own or as a
// shoulder; where nothing bends there, by how far the curve falls on both sides. `snaps`: the place goes to
// the maximum or the bend nearest by. Shape: as above.
FoundPeak peakAt(std::span<const double> x, std::span<const double> y, double place, bool snaps,
                 Direction direction = Direction::Up);

// The standard deviation of the noise of evenly spaced points, from their differences of second to sixth
// order, of which the one is taken that the curve itself disturbs least. Robust against a half of peaks.
double noiseOf(std::span<const double> y);

} // namespace jointer::fit
