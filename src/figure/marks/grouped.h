// SPDX-License-Identifier: GPL-3.0-or-later
// Marks that stand at places along an axis, each with its share of the width: bars, boxes, violins, single
// points. Several of a kind find their places beside each other.
#pragma once

#include "figure/marks/parts.h"

namespace jointer::figure {

// The numbers at one place: points of equal x, or the replicates of one point.
struct PlaceValues {
    double place;
    std::vector<double> values{};
    std::vector<std::uint32_t> rows{}; // of the values; 0: not known
};
std::vector<PlaceValues> valuesByPlace(const Curve& curve);

class Grouped : public Mark {
public:
    std::shared_ptr<const Curve> curve;
    bool level = false;              // places along y, values along x
    double widthShare = 0.7;         // of the distance of places
    std::size_t slot = 0, slots = 1; // beside others

    bool isVertical() const override { return !level; }
    bool isEmpty() const override { return !curve || curve->x.empty(); }
    void useCategories(const std::vector<std::string>& names) final;
    virtual void remake() {} // what is drawn, from the curve
    std::optional<Range> extentX(const Scale& x) const override;
    std::optional<Range> extentY(const Scale& y, const Range& x) const override;

protected:
    // Of the values, on their axis.
    virtual std::optional<Range> valueReach(const Scale& values) const = 0;

    // The middle and half the width of what stands at a place, in places of the axis.
    double unit() const; // the distance of places
    double middleOf(double place) const;
    double halfWidth() const { return 0.5 * unit() * widthShare / static_cast<double>(slots); }

    // A rectangle or point on the page, whichever way the mark stands.
    draw::Point at(const Frame& frame, double place, double value) const;
    draw::Rect box(const Frame& frame, double from, double to, double low, double high) const;
    const AxisMap& valuesAxis(const Frame& frame) const { return level ? frame.x : frame.y; }

    mutable std::optional<double> unit_;
};

// Settings, and what all of them take from their look.
std::vector<Setting> groupedSettings(double width);
void prepareGrouped(const MarkTask& task, Grouped& mark);

// Gives each its slot: those whose places differ throughout need none.
void beside(std::span<Mark* const> marks);

// The direction setting swaps what the axes mean.
void turnIfLevel(Grouped& mark);

} // namespace jointer::figure
