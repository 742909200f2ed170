// SPDX-License-Identifier: GPL-3.0-or-later
// A panel while its page is laid out, in whatever coordinates: what it shows, how far that reaches, the room
// its axes need, and its drawing. The page asks all panels for their rooms, shares the space, and has them
// draw. Coordinates are kinds: the next system is one file and one line of the catalogue.
#pragma once

#include "figure/marks/mark.h"
#include "figure/page/page.h"

namespace jointer::figure {

// A row of a legend.
struct LegendRow {
    const Mark* mark;
    std::string label;
    std::vector<const Mark*> upon{}; // of the same dataset, drawn upon each other in one key
    std::optional<std::size_t> entry{}; // of a mark that shows several classes: which
};

class Panel {
public:
    explicit Panel(Page& page, const Element& element)
        : page_(page), element_(element), look_(page.lookOf(element)) {}
    virtual ~Panel() = default;

    // In this order: marks and their axes; ranges (those that are common are given back wider); room for a
    // size; the area; drawing.
    virtual void prepare() = 0;
    virtual std::optional<Range> reach(bool alongX) = 0; // of what is drawn on the first axis; nothing typed
    virtual void settle(bool alongX, const std::optional<Range>& common) = 0;
    virtual void hideNumbers(Side side) = 0; // of an axis that is common with the next panel
    virtual Room room(double width, double height) = 0;
    virtual void place(const draw::Rect& area, const draw::Rect& outer) = 0; // with its axes
    virtual void draw() = 0;

    // Where it stands that is not in the grid: as its look tells; within another one.
    virtual draw::Rect freeArea() const;
    virtual draw::Rect insetArea(const draw::Rect& in) const;

    virtual std::vector<LegendRow> legendRows() const = 0;
    const Element& element() const { return element_; }
    const Look& look() const { return look_; }
    const draw::Rect& area() const { return area_; }
    std::string letter; // empty: none

protected:
    // Title and letter above a place, alike for all panels.
    double headRoom() const;
    void drawHead(const draw::Rect& area, double outerLeft, double above);

    Page& page_;
    const Element& element_;
    Look look_;
    draw::Rect area_{}, outer_{};
};

struct CoordinateKind {
    KindInfo info; // its settings are those of the panel where it has these coordinates
    std::unique_ptr<Panel> (*make)(Page& page, const Element& panel);
};
const Catalogue<CoordinateKind>& coordinateCatalogue();
std::unique_ptr<Panel> panelFor(Page& page, const Element& element);
std::unique_ptr<Panel> artworkPanel(Page& page, const Element& element);

CoordinateKind cartesianCoordinates();
CoordinateKind ternaryCoordinates();
CoordinateKind waterCoordinates();
CoordinateKind reliefCoordinates();

// A legend on the page: its rows set, its size known, then drawn at a place.
class LegendBox {
public:
    LegendBox(Page& page, const Element& element, std::vector<LegendRow> rows, double widestMm);
    bool isEmpty() const { return rows_.empty(); }
    double width() const { return width_; }
    double height() const { return height_; }
    const Look& look() const { return look_; }
    double em() const { return text_.sizePt * draw::kMmPerPt; }
    draw::Point shifted(draw::Point topLeft) const; // by hand, from its place beside a panel
    void draw(draw::Point topLeft);

private:
    struct Row {
        LegendRow what;
        draw::SetText text;
    };
    Page& page_;
    const Element& element_;
    Look look_;
    draw::TextStyle text_;
    std::vector<Row> rows_;
    std::optional<draw::SetText> title_;
    std::size_t columns_ = 1;
    std::vector<double> columnWidths_;
    double width_ = 0, height_ = 0, rowHeight_ = 0, keyWidth_ = 0;
};

// All text, lines and shapes of the page and its panels; what goes with others of them comes after those.
void drawNotes(Page& page);

} // namespace jointer::figure
