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
    bool isTime = false; // seconds since 1970-01-01 UTC
    bool operator==(const AxisMeaning&) const = default;
};

struct Curve {
    std::vector<double> x;
    std::vector<double> y;                       // mean of the replicates where there are several
    std::vector<std::vector<double>> replicates; // r columns of n values; empty: y is single
    std::vector<std::vector<double>> more;       // further predictors, x2, x3…, with n values each
    std::vector<double> sigma;                   // standard uncertainty of y; empty: not known
    std::vector<double> sigmaX;
    std::vector<std::uint8_t> excluded; // 1: not to be fitted; empty: none
    std::vector<std::uint32_t> rowIds;  // where each point comes from; empty after resampling
    AxisMeaning xMeaning, yMeaning;
    std::string sigmaSource;  // how sigma was got, in words
    bool sigmaCarried = true; // false: a step did not carry the uncertainties along

    std::size_t size() const { return x.size(); }
    bool isExcluded(std::size_t i) const { return i < excluded.size() && excluded[i] != 0; }
    // A point that counts: not excluded, x and y finite.
    bool counts(std::size_t i) const { return !isExcluded(i) && std::isfinite(x[i]) && std::isfinite(y[i]); }
};

Digest digestOf(const Curve& curve);

// Leaves only the points for which keep[i] is not zero.
Curve selected(const Curve& curve, const std::vector<std::uint8_t>& keep);

// The counting points of a span of x: area by trapezoids, place and height of the maximum.
struct SpanNumbers {
    std::size_t n = 0;
    double area = 0, maximum = 0, at = 0;
};
SpanNumbers numbersOfSpan(const Curve& curve, double low, double high);

// Index of the point nearest to x in a curve whose x ascend; requires at least one point.
std::size_t nearestPoint(const std::vector<double>& ascending, double x);

} // namespace jointer
