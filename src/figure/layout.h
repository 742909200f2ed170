// SPDX-License-Identifier: GPL-3.0-or-later
// From a figure and the results of its project to a display list. Pure computation: the same input gives the
// same list. Dense curves are thinned to what the target can show.
#pragma once

#include "draw/display_list.h"
#include "evaluate/evaluator.h"
#include "figure/axis_map.h"
#include "figure/projection.h"
#include "figure/symbol_class.h"

#include <functional>

namespace jointer::figure {

struct Target {
    double pixelsPerMm = 20; // resolution: curves are thinned to it; 20 is finer than 500 dpi
    evaluate::Effort effort = evaluate::Effort::Full; // of fits that are not known yet
};

enum class Side { Bottom, Left, Top, Right };
inline bool isAlongX(Side side) {
    return side == Side::Bottom || side == Side::Top;
}
Side sideOf(std::string_view key); // anything else is the bottom

// Where an axis ended up, for gestures.
struct AxisGeometry {
    ElementId axis; // none: the panel has none at this side
    Side side = Side::Bottom;
    int lane = 0;
    draw::Rect bounds; // its numbers and title, outside of the panel
    draw::Rect lanes;  // the part of the panel that it measures
    AxisMap map;
    AxisMeaning meaning{};
};

struct PanelGeometry {
    ElementId panel;
    draw::Rect area; // inside the axes
    AxisMap x, y;    // of the first axes
    std::vector<AxisGeometry> axes{};
    ElementId parent{}; // of an inset
    std::string unit{}; // of artwork: what its places are told in
    double scale = 0;   // of artwork: mm on the page for one of its own
    std::shared_ptr<const Projection>
        projection{}; // of which x and y measure the plane; none: they are values
};

// A mark with what it shows, so that it can be named under the pointer.
struct MarkGeometry {
    ElementId mark;
    DatasetId of;
    std::size_t panel = 0; // its place among the panels
    std::string label;     // plain
    std::function<const SamplePlaces&()> samples{}; // found when they are asked for; none: it has none
    std::size_t placesOfEach = 1;
    std::vector<SymbolClass> classes{}; // in which it has its symbols, also hidden ones
};

struct Layout {
    draw::DisplayList list;
    std::vector<PanelGeometry> panels;
    std::vector<Issue> issues; // "labels collide", "no points in range"…
    std::vector<MarkGeometry> marks{};
    std::vector<double> guidesX{}, guidesY{}; // of the page, in mm; not drawn

    // The sample of which a place is nearest, at most `reach` away: its row and all of its places.
    struct Sample {
        DatasetId of;
        std::uint32_t row = 0;
        std::vector<draw::Point> places{};
        bool operator==(const Sample&) const = default;
    };
    std::optional<Sample> sampleAt(draw::Point p, double reach) const;

    const PanelGeometry* panel(ElementId id) const;
    const AxisGeometry* axis(ElementId id) const;
};

Layout layOut(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
              const Target& target = {});

// The page size of a figure in mm with its house style.
draw::Rect pageOf(const Project& project, const Figure& figure);

} // namespace jointer::figure
