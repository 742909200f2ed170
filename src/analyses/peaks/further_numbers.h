// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that further analyses read from fitted peaks, with their errors: sizes, separation, lattices.
#pragma once

#include "analyses/peaks/peaks.h"

#include <functional>

namespace jointer::analyses {

struct NumberWithError {
    double value = NAN, error = NAN;
};

class FurtherNumbers {
public:
    explicit FurtherNumbers(const PeaksDetail& peaks) : peaks_(peaks) {}

    // A number over the parameters of one peak's shape, its standard error by differences over them.
    NumberWithError of(const PlannedPeak& peak,
                       const std::function<double(std::span<const double>)>& f) const;
    std::vector<double> parametersOf(const PlannedPeak& peak) const;

    // As a quantity of the peak, or of all; the key is made of the name and the number of the peak.
    Quantity quantity(const std::string& name, const char* label, std::string unit, NumberWithError n,
                      const PlannedPeak* peak, bool good = true) const;

private:
    const PeaksDetail& peaks_;
};

// A dataset, and a set of its peaks: what such analyses take.
std::vector<InputSlot> slotsOfPeaks();

// Of a diffraction pattern: what x is, and how many radians of 2θ are one unit of it.
Setting angleSetting(std::string help);
double radiansOfTwoTheta(const KindInfo& kind, const Settings& settings);

// The peaks that an analysis takes as its first; none: a failure that says so.
Result<const PeaksDetail*> takenPeaks(const Task& task, const char* what);

} // namespace jointer::analyses
