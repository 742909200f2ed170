// SPDX-License-Identifier: GPL-3.0-or-later
// A curve read backwards: which x has given this y, and whether the standards bear that out. Thread-safe.
// Example: `Inversion curve(f, 0, 20); if (auto r = curve.read(0.121); r.state == ReadState::InRange)
// use(r.x);`
#pragma once

#include <functional>
#include <optional>
#include <string_view>
#include <vector>

namespace jointer::fit {

// Below and above are meant of x: on which side of the standards the answer lies. None: the curve never gets
// there.
enum class ReadState { InRange, Below, Above, Ambiguous, NoSolution };
std::string_view readStateKey(ReadState state);   // "in-range", as files and the command line hold it
std::string_view readStateWords(ReadState state); // for people

struct Reading {
    ReadState state = ReadState::NoSolution;
    std::optional<double> x;         // only in range
    std::vector<double> solutions{}; // all that were found, also beyond the standards; ascending
};

class Inversion {
public:
    // `curve` may give NaN where it does not exist. Requires: low < high, the first and last standard. The
    // curve is laid out once on a net; beyond the standards it is followed for a thousand times their span.
    Inversion(std::function<double(double)> curve, double low, double high);

    Reading read(double y) const;
    std::optional<double> nearest(double y, double x) const; // of all solutions the one nearest to x
    double slope(double x) const;                            // dy/dx
    double low() const { return low_; }
    double high() const { return high_; }
    double at(double x) const { return curve_(x); }

    // The x on one side (−1, +1) of `from` at which `off` first changes its sign; infinite: nowhere.
    double crossing(double from, int side, const std::function<double(double)>& off) const;

private:
    std::vector<double> solutions(double y) const;
    bool isOnLowSide(double y) const;

    std::function<double(double)> curve_;
    double low_, high_;
    std::vector<double> x_, y_; // the net
};

} // namespace jointer::fit
