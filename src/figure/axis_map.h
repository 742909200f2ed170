// SPDX-License-Identifier: GPL-3.0-or-later
// Where values stand along one axis, in mm: a scale laid out over a range, with breaks, or bound to another
// axis by a formula. A plain value that shares its scale.
#pragma once

#include "figure/scales/formula.h"
#include "figure/scales/scale.h"

namespace jointer::figure {

// A part of the axis between breaks.
struct Piece {
    double low, high;  // values
    double start, end; // places in mm of low and high; may run backwards
    double from, to;   // low and high on the scale
};

// What is left out of an axis, and how the parts share its length.
struct Breaks {
    std::vector<Range> skipped{}; // in order of value
    std::vector<double> shares{}; // of the parts; empty: as long as they are
    double gapMm = 2;
};

class AxisMap {
public:
    AxisMap(); // even, 0 … 1
    // Requires: low < high, both in the domain of the scale.
    AxisMap(ScalePtr scale, const Range& range, double start, double end, const Breaks& breaks = {});
    // Along another axis: values are a formula of those. Requires: it is monotone over the other's range.
    static AxisMap bound(const AxisMap& to, std::shared_ptr<const MonotoneFormula> formula);

    double place(double v) const { // NaN outside the domain; inline, since every point passes here
        return even_ ? start_ + (v - low_) * slope_ : placed(v);
    }
    // The same; where the scale has no place for it, such as zero on a logarithmic one, the start.
    double placeOrStart(double v) const {
        const double at = place(v);
        return std::isfinite(at) ? at : start_;
    }
    double value(double place) const;

    double low() const { return low_; } // low < high
    double high() const { return high_; }
    double start() const { return start_; } // the place of low
    double end() const { return end_; }
    double length() const { return std::abs(end_ - start_); }
    bool contains(double v) const { return v >= low_ && v <= high_; }
    bool isBroken() const { return pieces_.size() > 1; }
    bool isSkipped(double v) const;     // within a break
    std::size_t partOf(double v) const; // how many breaks begin below it
    const std::vector<Piece>& pieces() const { return pieces_; }
    const Scale& scale() const { return *scale_; }
    const ScalePtr& sharedScale() const { return scale_; }
    bool isBound() const { return formula_ != nullptr; }
    double base() const; // where bars and areas stand: of the scale, or the start of the axis

    std::vector<Tick> ticks(const TickWish& wish) const;

    // The range about a value, larger by a factor as seen on the page; moved by so many mm.
    Range zoomed(double about, double factor) const;
    Range moved(double mm) const;

private:
    double placed(double v) const;
    const Piece& pieceAt(double place) const;

    ScalePtr scale_;
    double low_ = 0, high_ = 1, start_ = 0, end_ = 1, slope_ = 1;
    bool even_ = true;
    std::vector<Piece> pieces_;
    std::shared_ptr<const MonotoneFormula> formula_;
    std::shared_ptr<const AxisMap> to_;
};

} // namespace jointer::figure
