// SPDX-License-Identifier: GPL-3.0-or-later
// A curve: what a dataset is while it is cleaned, fitted and drawn. Points are in order of x once prepared.
// A plain value; steps take one and return a new one.
#pragma once

#include "base/hash.h"

#include <cmath>
#include <cstdint>
#include <string>
#include <vector>

namespace jointer {

struct AxisMeaning {
    std::string name;
    std::string unit;
    bool isTime = false;                   // seconds since 1970-01-01 UTC
    bool descending = false;               // the trade draws it from high to low, such as wavenumbers
    std::vector<std::string> categories{}; // names of 1, 2, 3…; empty: the values are numbers
    bool twoSided = false;                 // amounts to both sides of zero: their signs are not written
    bool operator==(const AxisMeaning&) const = default;
};

// A place on such an axis in running text: "12.5 nm", "2031-05-02", "2031-05-02 06:00".
std::string placeText(const AxisMeaning& meaning, double x);

// What became of a point that is not simply measured: filled in between its neighbours, put in place of a
// value that does not exist, or a zero dose kept as a control beside a logarithmic axis.
enum class PointOrigin : std::uint8_t { Measured, Interpolated, Substituted, Control };

// An uncertainty that all points have in common, such as that of a reference: one standard uncertainty of it
// moves each point by so much. The covariance of points i and j is y[i]·y[j].
struct CommonError {
    std::string source; // "the reference for 100 %"
    std::vector<double> y;
    bool operator==(const CommonError&) const = default;
};

struct Curve {
    std::vector<double> x;
    std::vector<double> y;                       // mean of the replicates where there are several
    std::vector<std::vector<double>> replicates; // r columns of n values; empty: y is single
    // Further predictors, x2, x3…, with n values each; of groups a second factor and the subject, by their
    // categories, and the limit below which a value is known to lie.
    std::vector<std::vector<double>> more;
    std::vector<double> sigma;                   // standard uncertainty of y; empty: not known
    std::vector<double> sigmaX;
    std::vector<double> resolution; // standard deviation of the x that each point averages over; empty: sharp
    std::vector<std::uint8_t> excluded; // 1: not to be fitted; empty: none
    std::vector<std::uint8_t> made;     // the PointOrigin of each; empty: all are measured
    std::vector<std::uint32_t> rowIds;  // where each point comes from; empty after resampling
    std::vector<CommonError> common;    // beside sigma, which holds what is each point's own
    AxisMeaning xMeaning, yMeaning;
    std::vector<AxisMeaning> moreMeanings; // of `more`, where something is to be told; else empty
    std::string sigmaSource;  // how sigma was got, in words
    bool sigmaCarried = true; // false: a step did not carry the uncertainties along
    std::string
        correlatedBy; // the first step that made neighbours depend on each other, in words; empty: none

    std::size_t size() const { return x.size(); }
    bool isExcluded(std::size_t i) const { return i < excluded.size() && excluded[i] != 0; }
    // A point that counts: not excluded, x and y finite.
    bool counts(std::size_t i) const { return !isExcluded(i) && std::isfinite(x[i]) && std::isfinite(y[i]); }
    bool isMade(std::size_t i) const { return i < made.size() && made[i] != 0; }

    // Every list with one entry for each point that is not empty, in a fixed order.
    void eachList(auto&& visit) { visitLists(*this, visit); }
    void eachList(auto&& visit) const { visitLists(*this, visit); }

private:
    static void visitLists(auto& curve, auto& visit) {
        auto take = [&](auto& list) {
            if (!list.empty()) visit(list);
        };
        take(curve.x);
        take(curve.y);
        for (auto& r : curve.replicates) take(r);
        for (auto& m : curve.more) take(m);
        take(curve.sigma);
        take(curve.sigmaX);
        take(curve.resolution);
        take(curve.excluded);
        take(curve.made);
        take(curve.rowIds);
        for (auto& c : curve.common) take(c.y);
    }
};

Digest digestOf(const Curve& curve);

// Leaves only the points for which keep[i] is not zero.
Curve selected(const Curve& curve, const std::vector<std::uint8_t>& keep);

// The points in another order; order[k] is the place of the one that becomes the k-th. Some may be left away.
Curve arranged(const Curve& curve, const std::vector<std::size_t>& order);
void sortByX(Curve& curve); // points of equal x keep their order

// The counting points of a span of x. Areas by trapezoids, above zero and above the chord from the first
// point to the last; the centroid is that of the area above the chord; the width at half maximum is taken
// above the chord too, on the straight lines between points. NaN: what is not defined.
struct SpanNumbers {
    std::size_t n = 0;
    double mean, sd, area, areaAboveChord, centroid, maximum, at, fwhm;
};
SpanNumbers numbersOfSpan(const Curve& curve, double low, double high);

// Index of the point nearest to x in a curve whose x ascend; requires at least one point.
std::size_t nearestPoint(const std::vector<double>& ascending, double x);

} // namespace jointer
