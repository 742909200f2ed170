// SPDX-License-Identifier: GPL-3.0-or-later
// What a gesture on a page means, without any window: which elements lie under a place, which grips an
// element has, what changes when one is dragged, and where it snaps. A drag tells its distance from where it
// began; the figure and the layout are those of that moment.
#pragma once

#include "figure/layout.h"
#include "project/figure_edits.h"

namespace jointer::figure {

struct Hit {
    ElementId element;
    DatasetId of; // of a group: which of its datasets
    bool operator==(const Hit&) const = default;
};

// What lies at a place, the uppermost first, the panel last; marks within the reach of their lines and
// symbols.
std::vector<Hit> hitsAt(const Layout& layout, draw::Point mm, double reachMm);

// The name of the curve there: that of its dataset; empty: none.
std::string nameAt(const Layout& layout, draw::Point mm, double reachMm);

// The axis on whose numbers a place lies, or whose edge of the panel is within the reach.
const AxisGeometry* axisAt(const Layout& layout, draw::Point mm);
const PanelGeometry* panelAt(const Layout& layout, draw::Point mm);

// Whether what an element tells along an axis is moments: an axis its own values, a mark those of its panel.
bool tellsTime(const Figure& figure, const Layout& layout, ElementId element);

// The panel whose place the element's own is told in; nullptr: the page.
const PanelGeometry* homeOf(const Figure& figure, const Layout& layout, ElementId id);

// Its bounds on the page; nothing where it has none of its own.
std::optional<draw::Rect> boundsOf(const Layout& layout, const Hit& hit);

// Grips: the whole, the sides and corners of what can be resized, the ends of an axis, the border below a
// lane; of a break the last value before it, the first after it, and the gap, which moves along the axis.
enum class Grip {
    Whole,
    Left,
    Right,
    Top,
    Bottom,
    TopLeft,
    TopRight,
    BottomLeft,
    BottomRight,
    Low,
    High,
    Lane,
    BreakFrom,
    BreakTo,
    Gap
};
struct GripPlace {
    Grip grip;
    draw::Point at;
    std::size_t which = 0; // of several breaks
};
std::vector<GripPlace> gripsOf(const Figure& figure, const Layout& layout, const Hit& hit);

// One setting that a drag changes; without an element one of the figure.
struct Change {
    ElementId element;
    std::string key;
    Value value;
    bool operator==(const Change&) const = default;
};

struct Drag {
    const Figure& figure;
    const Layout& layout;
    Hit hit;
    Grip grip = Grip::Whole;
    std::size_t which = 0;
};
std::vector<Change> changesOf(const Drag& drag, draw::Point byMm); // none: it cannot be moved so

// All changes as one entry of the history; those with one key are one.
Edit editOf(FigureId figure, std::string name, std::string mergeKey, std::vector<Change> changes);

// The distance changed so that an edge or the middle of what is moved meets one of the page, of a panel's
// area or of another element, or a guide, within the reach; the lines where they met.
struct Snapped {
    draw::Point by;
    std::optional<double> x, y;
};
Snapped snapped(const Layout& layout, const Hit& hit, const draw::Rect& moving, draw::Point by,
                double reachMm);

// The range of an axis larger by a factor about a place, as a setting of it.
std::optional<Change> zoomed(const AxisGeometry& axis, double placeMm, double factor);

} // namespace jointer::figure
