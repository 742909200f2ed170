// SPDX-License-Identifier: GPL-3.0-or-later
// What is read from a peak whatever its parameters are: where it is highest, how high, how wide at a share of
// that, its area and centroid. Each with its gradient over the parameters, by the condition that defines it.
// Thread-safe. Example: `PeakReading(*shape, traits, p).width(0.5).value`
#pragma once

#include "models/peak_traits.h"

#include <optional>

namespace jointer::models {

// Shape: gradient has one entry for each parameter. NaN: there is no such number.
struct PeakNumber {
    double value = std::numeric_limits<double>::quiet_NaN();
    std::vector<double> gradient{};
};

class PeakReading {
public:
    // A shape without base, at its parameters; both must outlive the reading.
    PeakReading(const Model& shape, const PeakTraits& traits, std::span<const double> parameters);

    PeakNumber parameter(std::size_t which) const;
    PeakNumber maximum() const; // its place
    PeakNumber height() const;
    // Where it falls to a share of its height, on the left (−1) or the right (+1) of the maximum.
    PeakNumber side(double share, int direction) const;
    PeakNumber width(double share) const;
    // How far the right side is from the maximum, over how far the left one is.
    PeakNumber asymmetry(double share) const;
    PeakNumber area() const; // of the whole peak; NaN where it has none
    PeakNumber areaWithin(double low, double high) const;
    PeakNumber centroidWithin(double low, double high) const;

private:
    struct Places;                                                  // the model at some places, with slopes
    std::optional<std::size_t> called(std::string_view name) const; // the parameter
    double slope(double x) const;
    double slopeStep() const { return 4e-3 * reach_; }
    double highest() const;
    PeakNumber integrated(double low, double high, const std::function<double(double)>& factor) const;

    const Model& shape_;
    const PeakTraits& traits_;
    std::span<const double> p_;
    double reach_ = 0; // within which of the centre the maximum lies
    double sign_ = 1;
    double place_ = 0;
};

} // namespace jointer::models
