// SPDX-License-Identifier: GPL-3.0-or-later
// A peak measured without a model: what lies between two limits above a ground line, with standard errors
// from the noise of the points. Areas by the trapezoid rule; every number is a weighted sum of readings, or
// close to one. Thread-safe. Example: `measure(points, {{.low = 2, .high = 3}})[0].area.value`
#pragma once

#include <cmath>
#include <span>
#include <string>
#include <vector>

namespace jointer::analyses {

// What the peak stands on.
enum class Ground {
    Zero,    // y = 0: a baseline was taken away before
    Drop,    // a straight line under the whole group, dropped to it at the valleys
    Valley,  // a straight line from the curve at one limit to the curve at the other
    Tangent, // skimmed from the tail of a larger neighbour: a straight line that touches the curve behind it
};

struct PeakLimits {
    double low = 0, high = 0;
    Ground ground = Ground::Drop;
    bool operator==(const PeakLimits&) const = default;
};

struct PeakPoints {
    std::vector<double> x; // ascending
    std::vector<double> y;
    std::vector<double> sigma; // of each point
    std::size_t ends = 1;      // points whose mean is the height of the curve at a limit
};

struct Measured {
    double value = NAN, se = NAN;
};

struct MeasuredPeak {
    double low = 0, high = 0; // a tangent ends where it touches
    double groundLow = 0, groundHigh = 0;
    bool downwards = false;
    Measured area, height, place, centroid;
    Measured width;                             // at half height
    double widthAtTwentieth = NAN, front = NAN; // at 5 % of the height: whole, and from the top to the left
    double asymmetry = NAN;                     // right over left half of the width at 10 % of the height

    double groundAt(double x) const {
        return high > low ? std::lerp(groundLow, groundHigh, (x - low) / (high - low)) : groundLow;
    }
};

// In the order of the limits, which stand in order of x. One without points between its limits has no
// numbers.
std::vector<MeasuredPeak> measure(const PeakPoints& points, std::span<const PeakLimits> limits);

// Limits of peaks that stand at places with widths at half height: valleys between neighbours, and the feet
// outside.
std::vector<PeakLimits> limitsAround(const PeakPoints& points,
                                     std::span<const std::pair<double, double>> placesAndWidths,
                                     Ground ground);

} // namespace jointer::analyses
