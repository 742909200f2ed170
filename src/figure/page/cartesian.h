// SPDX-License-Identifier: GPL-3.0-or-later
// A panel with axes at right angles: any number of them at its four sides, lanes that divide its height, and
// insets within.
#pragma once

#include "figure/page/axis.h"
#include "figure/page/groups.h"
#include "figure/page/panel.h"
#include "figure/projection.h"

namespace jointer::figure {

inline constexpr std::size_t kFewMarks = 24; // of which one thread works at least so many

class Cartesian : public Panel {
public:
    Cartesian(Page& page, const Element& element);

    void prepare() override;
    std::optional<Range> reach(bool alongX) override;
    void settle(bool alongX, const std::optional<Range>& common) override;
    void hideNumbers(Side side) override;
    Room room(double width, double height) override;
    void place(const draw::Rect& area, const draw::Rect& outer) override;
    void draw() override;
    std::vector<LegendRow> legendRows() const override;

    // An inset that magnifies shows the marks of this panel.
    void borrowMarksOf(const Element& other) { marksFrom_ = &other; }

protected:
    // Coordinates in a plane that these axes measure, hidden, for panels that draw other edges; none: the
    // axes are what is seen.
    virtual const Projection* projection() const { return nullptr; }
    virtual void makeAxes();
    virtual void drawBehind();        // ground and grid
    virtual void drawFront();         // frame and axes
    virtual double headAbove() const; // where title and letter stand
    virtual std::vector<draw::Polyline> clipOutline() const { return {}; }
    virtual void tellGeometry();
    virtual draw::Group furniture() const { return {}; } // besides the marks, that a legend shall not hide
    void placeAxes(const draw::Rect& area);
    void addHiddenAxes();

    std::vector<std::unique_ptr<PanelAxis>> axes_;
    PanelAxis *x_ = nullptr, *y_ = nullptr; // the first ones
    double lineWidth_;
    bool isInset_ = false;
    void drawGround();
    double legendRoom(Side side) const;
    double colourBarRoom() const;

private:
    struct Drawn {
        MarkPtr mark;
        const MarkKind* kind;
        PanelAxis *x, *y;
    };
    struct Lane {
        int number;
        double share = 1, gap = 0;
        draw::Rect area{};
    };

    void makeLanes();
    void makeMarks();
    PanelAxis* axisFor(const std::string& reference, bool alongX);
    void addMark(MarkPtr mark, const Element& element, const std::string& x, const std::string& y);
    void arrange();
    void stagger();
    void useCategories();
    void sayWhatHasNoPlace() const;
    std::optional<Range> reachOf(const PanelAxis& axis) const;
    void chooseRange(PanelAxis& axis, const std::optional<Range>& common);
    void bindLinked();
    const draw::Rect& laneOf(const PanelAxis& axis) const;
    double roomAt(Side side) const;
    Frame frameOf(const Drawn& drawn) const;
    std::vector<draw::Rect> partsOf(const Drawn& drawn) const;

    void drawMarks();
    draw::Group drawn(const Drawn& mark) const;
    bool isFramed(const draw::Rect& area, Side side, Side opposite, bool outermost) const;
    void drawFrame(const draw::Rect& area);
    void drawBrokenEdge(const PanelAxis& axis, const draw::Rect& area, const draw::Stroke& stroke);
    void drawLegend(const Element& e);
    void shortenLabels();
    void drawCurveLabels();
    struct CurveLabel {
        const GroupMember* member;
        draw::SetText set;
        draw::Rect box; // where it would stand alone
    };
    std::optional<CurveLabel> curveLabel(const GroupMember& member, bool beside) const;
    double topAlong(const GroupMember& member, const Frame& frame, double from, double to) const;
    const Drawn* labelled(const GroupMember& member) const;
    void drawColourBar(const Element& e);
    void fillColourBar(const Element& e, const ColourScale& colours, const AxisMap& map, const draw::Rect& bar);
    std::optional<ColourScale> colourScale() const;
    void drawInsets();
    void connect(const draw::Rect& inset, const Cartesian& panel);
    draw::Point emptiest(double width, double height, double inset) const;
    double labelRoom() const;

    const Element* marksFrom_ = nullptr;
    std::vector<Lane> lanes_; // none: one for all
    std::vector<Drawn> marks_;
    std::vector<GroupMembers> groups_;
    std::size_t firstItem_ = 0; // of what it has drawn on the page
};

} // namespace jointer::figure
