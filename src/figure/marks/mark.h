// SPDX-License-Identifier: GPL-3.0-or-later
// Marks: how data, a fit or a formula show in a panel. A kind of mark describes itself, says what it takes,
// and prepares a mark from it; the mark says how far it reaches, draws itself on a frame and draws its key in
// the legend. To add one: write its file, add its line to the catalogue (marks/catalogue.cpp).
#pragma once

#include "draw/display_list.h"
#include "draw/markup.h"
#include "evaluate/evaluator.h"
#include "figure/axis_map.h"
#include "figure/colour_scale.h"
#include "figure/look.h"
#include "figure/projection.h"
#include "figure/symbol_class.h"

#include <functional>
#include <optional>
#include <span>

namespace jointer::figure {

// What a mark is made from.
struct MarkTask {
    const Project& project;
    evaluate::Evaluator& evaluator;
    const Element& element;
    std::string source; // "d3" a dataset, "a4" an analysis; empty: none
    Look look;
    evaluate::Effort effort = evaluate::Effort::Full;
    std::string palette{}; // of the figure
    draw::Colour ink{};    // of its text: of what has no colour
    const Projection* projection = nullptr; // of the panel; none: x and y are themselves
};

// The place where marks are drawn: two axes at right angles, and what the target can show.
struct Frame {
    const AxisMap& x;
    const AxisMap& y;
    draw::Rect area;
    double pixelsPerMm;
    draw::TextStyle text;

    draw::Point at(double vx, double vy) const { return {x.place(vx), y.place(vy)}; }
    bool holds(draw::Point p, double reach = 0) const { return area.grown(reach).contains(p); }
};

// The lowest and the highest of a mark over parts of the x axis, for curves that shall not touch.
struct Envelope {
    std::vector<double> low, high; // NaN: nothing there
};

inline constexpr auto kSome = static_cast<std::size_t>(-1);

class Mark {
public:
    virtual ~Mark() = default;

    // How far it reaches; nothing where nothing can be shown on the scale. For y only what lies within the
    // range of x.
    virtual std::optional<Range> extentX(const Scale& x) const = 0;
    virtual std::optional<Range> extentY(const Scale& y, const Range& x) const = 0;
    // How many of its points the scale of one axis has no place for; kSome where counting takes too long.
    virtual std::size_t withoutPlace(const Scale&, bool /*alongX*/) const { return 0; }
    // Once the range of x is known, before y is asked for.
    virtual void settle(const AxisMap&) {}

    virtual void draw(const Frame& frame, draw::Group& into) const = 0;
    virtual void key(draw::Rect box, draw::Group& into) const; // for the legend; nothing: it has none
    // Rows of the legend in place of its own, where it shows several classes.
    virtual std::vector<std::string> classLabels() const { return {}; }
    virtual void classKey(std::size_t /*k*/, draw::Rect box, draw::Group& into) const { key(box, into); }
    virtual const ColourScale* colourScale() const { return nullptr; } // that a bar explains
    virtual bool isEmpty() const { return false; }
    virtual bool hasExtent() const { return true; }      // false: it shows in any range
    virtual bool keepsDistance() const { return false; } // of its ends from the frame, as symbols do
    virtual bool staysInside() const { return true; }    // it is cut at the frame
    // Values at which the axis of its values ends without a margin, such as the base of bars.
    virtual std::vector<double> flushValues() const { return {}; }
    virtual Envelope envelope(const AxisMap& x,
                              std::size_t parts) const; // on the values of y, without offset
    virtual bool isVertical() const { return true; }    // false: its values lie along x
    // Its places are those of names; the axis has these.
    virtual void useCategories(const std::vector<std::string>&) {}
    // On the page, of samples that have names of their own.
    // On demand; it outlives mark and frame.
    virtual std::function<SamplePlaces()> samplePlaces(const Frame&) const { return {}; }
    virtual std::vector<SymbolClass> namedClasses() const { return {}; }
    // Place and value at which it is named where labels stand at the curves.
    virtual std::optional<std::pair<double, double>> labelPlace(const Frame&) const { return {}; }

    draw::Stroke strokeOf(double widthMm) const { return {.widthMm = widthMm, .colour = colour}; }
    void add(draw::Group& into, draw::Path path) const { add<>(into, std::move(path)); }
    template <class What> void add(draw::Group& into, What what) const {
        into.items.push_back({element, std::move(what), of});
    }
    void addFilled(draw::Group& into, draw::Polyline edge, draw::Colour fill) const {
        add(into, {.lines = {std::move(edge)}, .stroke = {}, .fill = fill});
    }
    void addText(draw::Group& into, std::vector<draw::Item> text) const {
        for (draw::Item& part : text) {
            part.element = element;
            part.of = of;
            into.items.push_back(std::move(part));
        }
    }
    double shifted(const Scale& y, double v) const { return offset == 0 ? v : y.shifted(v, offset); }

    ElementId element;
    DatasetId of;      // whose data it shows
    std::string label; // markup
    bool named = true; // in a legend
    AxisMeaning xMeaning, yMeaning;
    std::vector<Issue> issues;
    draw::Colour colour;
    double offset = 0; // by which it is moved up, as the scale of y does it
};
using MarkPtr = std::unique_ptr<Mark>;

enum class Takes { Dataset, Groups, Analysis, Nothing };

struct MarkKind {
    KindInfo info;
    Takes takes = Takes::Dataset;
    MarkPtr (*prepare)(const MarkTask& task);
    // Lets marks of one kind on the same axes find their places beside or upon each other.
    void (*arrange)(std::span<Mark* const> marks) = nullptr;
    // How likely it is wanted for these data, from 0 (never) to 10.
    int (*likely)(const Curve& curve) = nullptr;
    bool behind = false; // drawn before all others, such as ranges
    std::vector<std::string> of{}; // the kinds of datasets that it is for; empty: those with a curve
    std::string coordinates{};     // of a panel that it needs; empty: those of its dataset
};

const Catalogue<MarkKind>& markCatalogue();
void addMarkKind(MarkKind kind); // for programs that bring one of their own, before anything else
bool isMark(std::string_view kind);

// A mark of an element; without a known kind there is none.
MarkPtr prepareMark(const MarkTask& task);

// One file for each few that have their drawing in common.
MarkKind pointsMark();
MarkKind lineMark();
MarkKind pointsLineMark();
MarkKind stepsMark();
MarkKind stemsMark();
MarkKind areaMark();
MarkKind bandMark();
MarkKind curveMark();
MarkKind componentsMark();
MarkKind residualsMark();
MarkKind baselineMark();
MarkKind takenMark();
MarkKind spectrumMark();
MarkKind barsMark();
MarkKind boxesMark();
MarkKind violinsMark();
MarkKind stripsMark();
MarkKind bracketMark();
MarkKind histogramMark();
MarkKind functionMark();
MarkKind referenceLineMark();
MarkKind referenceRangeMark();
MarkKind resultsTableMark();
MarkKind readingsMark();
MarkKind colourMapMark();
MarkKind contourLinesMark();
MarkKind filledContoursMark();
MarkKind arrowsMark();
MarkKind placesMark();
MarkKind surfaceMark();
MarkKind rowsMark();
MarkKind ionPatternsMark();
MarkKind reliefPointsMark();

} // namespace jointer::figure
