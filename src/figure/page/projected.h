// SPDX-License-Identifier: GPL-3.0-or-later
// A panel whose marks stand in a plane with edges of its own: triangles, diamonds. Marks, groups, legends, notes and
// insets are those of any panel; two hidden axes measure the plane. It keeps its proportions in its cell.
#pragma once

#include "figure/page/cartesian.h"
#include "figure/page/edges.h"

namespace jointer::figure {

class ProjectedPanel : public Cartesian {
public:
    ProjectedPanel(Page& page, const Element& element, bool shares = true); // at its edges; else values

    std::optional<Range> reach(bool) override { return {}; }
    void settle(bool alongX, const std::optional<Range>& common) override;
    void hideNumbers(Side) override {}
    Room room(double width, double height) override;
    void place(const draw::Rect& area, const draw::Rect& outer) override;

protected:
    // Once the panel has its area: where edges lie, and the polygons that they enclose.
    virtual std::vector<Edge> edges() const = 0;
    virtual std::vector<draw::Polyline> outlines() const = 0;
    virtual void drawFields() {} // on the ground
    virtual double wantedScale() const { return 0; } // mm for one of the plane; 0: as large as fits

    const Projection* projection() const override { return projection_.get(); }
    void makeAxes() override { addHiddenAxes(); }
    void drawBehind() override;
    void drawFront() override;
    double headAbove() const override { return outer_.y + headRoom() - 0.2 * page_.em(); }
    std::vector<draw::Polyline> clipOutline() const override { return outlines(); }
    void tellGeometry() override;
    draw::Group furniture() const override;

    draw::Point onPage(draw::Point plane) const { return {x_->map.place(plane.x), y_->map.place(plane.y)}; }
    draw::Polyline closed(const std::vector<draw::Point>& plane) const;
    Edge edge(draw::Point from, draw::Point to, double low, double high, draw::Point along, draw::Point gridFrom,
              draw::Point gridTo, std::string title, bool numbers = true) const;

    draw::Rect boundsAround(double scale) const;

    std::shared_ptr<const Projection> projection_;
    EdgeDrawing edging_;
};

// Settings of the edges, common to all such coordinates.
std::vector<Setting> edgeSettings();

} // namespace jointer::figure
