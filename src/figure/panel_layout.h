// SPDX-License-Identifier: GPL-3.0-or-later
// One panel of a figure: ranges of its axes from the marks, ticks, the plotting area that titles and numbers
// leave, then the drawing of everything in it.
#pragma once

#include "draw/markup.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks.h"

namespace jointer::figure {

inline const KindInfo& kindOf(std::string_view key) {
    return *elementKinds().find(key);
}

// Everything that one figure's layout needs at hand.
struct Page {
    const Project& project;
    const Figure& figure;
    evaluate::Evaluator& evaluator;
    const Target& target;
    const HouseStyle* style;
    Look look;
    draw::TextStyle text;
    Layout out{};
};

struct Axis {
    const Element* element;
    Look look;
    draw::TextStyle text;
    Scale scale{};
    std::vector<Tick> ticks{};
    std::string title{};
    bool isTime = false;
    bool descending = false; // the trade draws it from high to low
    bool isReversed() const { return look.flag("reversed") != descending; }
};

class PanelLayout {
public:
    PanelLayout(Page& page, const Element& panel, draw::Rect space)
        : page_(page), panel_(panel), look_(kindOf("panel"), panel.settings, page.style), space_(space),
          horizontal_(axisFor("bottom")), vertical_(axisFor("left")),
          lineWidth_(look_.number("frame-width") * draw::kMmPerPt) {}

    void run();

private:
    Axis axisFor(std::string_view side) const;

    // The typed range, or that of the data: for y only what lies within the range of x.
    void chooseRange(Axis& axis, bool isX);

    // Pure lines may touch the frame; symbols keep their distance.
    double xMargin() const {
        return std::ranges::any_of(marks_, [](const PreparedMark& m) { return m.hasSymbols(); }) ? 0.04 : 0.0;
    }

    void sampleCurves() {
        for (PreparedMark& m : marks_) m.sample(horizontal_.scale, 600);
    }

    void chooseTitle(Axis& axis, bool isX);

    int wishedTicks(const Axis& axis, double lengthMm, bool isX) const {
        const double em = axis.text.sizePt * draw::kMmPerPt;
        return std::clamp(static_cast<int>(lengthMm / (em * (isX ? 4.2 : 2.6))), 2, isX ? 9 : 7);
    }

    void makeTicks(Axis& axis, double lengthMm, bool isX) const;

    double labelGap(const Axis& axis) const { return 0.35 * axis.text.sizePt * draw::kMmPerPt; }
    double tickOut(const Axis& axis) const {
        const std::string way = axis.look.text("ticks");
        return way == "out" || way == "both" ? axis.look.number("tick-length") : 0;
    }
    double largestLabel(const Axis& axis, bool width) const;
    double secondLine(const Axis& axis) const { return 1.2 * axis.text.sizePt * draw::kMmPerPt; }
    void drawCommon(const Axis& axis, double from); // the second line of labels

    // The plotting area is what titles, numbers and margins leave; label widths depend on it, so twice.
    void placeArea();

    double titleHeight(const Axis& axis) const {
        if (axis.title.empty()) return 0;
        return draw::setText(axis.title, axis.text).heightMm() + 0.45 * axis.text.sizePt * draw::kMmPerPt;
    }

    double overhang() const;

    void add(ElementId id, std::variant<draw::Path, draw::Symbols, draw::TextRun, draw::Group> what) {
        page_.out.list.items.push_back({id, std::move(what)});
    }
    void addText(ElementId id, std::vector<draw::TextRun> runs) {
        for (draw::TextRun& r : runs) add(id, std::move(r));
    }
    void addRegion(ElementId id, draw::Rect bounds) {
        if (id) page_.out.list.regions.push_back({id, bounds});
    }
    draw::Stroke line(double widthMm) const { return {.widthMm = widthMm, .colour = page_.text.colour}; }

    void drawGrid(const Axis& axis, bool isX);

    void drawMarks();

    void drawFrame();

    void drawTicks(const Axis& axis, bool isX, bool opposite, draw::Path& path) const;

    void drawAxis(const Axis& axis, bool isX);

    std::string panelTitle() const { return look_.text("title"); }

    void drawTitle();

    void drawLegend(const Element& e);

    void drawNote(const Element& e);

    Page& page_;
    const Element& panel_;
    Look look_;
    draw::Rect space_, area_{};
    Axis horizontal_, vertical_;
    double lineWidth_;
    std::vector<PreparedMark> marks_;
};

} // namespace jointer::figure
