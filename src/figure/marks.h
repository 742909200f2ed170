// SPDX-License-Identifier: GPL-3.0-or-later
// Marks: how a dataset or a fit shows in a panel. A mark is prepared once (its data looked up), asked for its
// ranges, and drawn when the scales are known.
#pragma once

#include "draw/display_list.h"
#include "evaluate/evaluator.h"
#include "figure/kinds.h"
#include "figure/scale.h"

#include <optional>

namespace jointer::figure {

struct PreparedMark {
    const Element* element = nullptr;
    std::string kind, label;
    AxisMeaning xMeaning, yMeaning;
    std::vector<Issue> issues;

    std::shared_ptr<const Curve> curve;            // of a dataset
    std::shared_ptr<const CurveOverview> overview; // of a dense one
    analyses::ResultPtr result;                    // of an analysis
    const analyses::NamedCurve* line = nullptr;    // of the result: a line that can be asked anywhere
    double spanLow = 0, spanHigh = 0;              // over which it is drawn
    std::vector<double> xs, ys, band;              // sampled fitted curve, half width of its band

    // Looks.
    draw::Colour colour;
    draw::SymbolShape symbol = draw::SymbolShape::Circle;
    double sizeMm = 1, widthMm = 0.3, opacity = 0.3, bandOpacity = 0.18, offset = 0;
    bool filled = false, errors = true, excluded = false, onlyExcluded = false, onlyMade = false,
         wholeAxis = false;
    bool apart = false; // single points that a step took away: no line joins them
    std::string dash, bandKind;

    bool hasSymbols() const {
        return kind == "points" || kind == "points-line" || kind == "residuals" || apart;
    }
    bool hasLine() const { return kind != "points" && kind != "residuals" && !apart; }
    bool isEmpty() const { return (!curve || curve->x.empty()) && !line; }
    bool isDense(std::size_t points) const { return overview && points > 20000; }
    std::optional<Range> xRange(bool log) const;
    std::optional<Range> yRange(bool log, double xLow, double xHigh) const;
    void sample(const Scale& x, int count); // fitted curves; others: nothing
    void draw(const Scale& x, const Scale& y, double pixelsPerMm, draw::Group& into) const;
    void drawKey(draw::Rect box, draw::Group& into) const; // for the legend

private:
    draw::Stroke stroke() const;
    void drawSymbols(const Scale& x, const Scale& y, double pixelsPerMm, draw::Group& into) const;
    void drawErrors(const Scale& x, const Scale& y, draw::Group& into) const;
    std::vector<draw::Polyline> denseLines(const Scale& x, const Scale& y, double pixelsPerMm,
                                           std::size_t first, std::size_t end) const;
    void drawLine(const std::vector<double>& px, const std::vector<double>& py, const Scale& x,
                  const Scale& y, double pixelsPerMm, draw::Group& into) const;
    void drawBand(const Scale& x, const Scale& y, draw::Group& into) const;
    void drawArea(const Scale& x, const Scale& y, double pixelsPerMm, draw::Group& into) const;
};

bool isMark(std::string_view kind);

PreparedMark prepareMark(const Project& project, evaluate::Evaluator& evaluator, const Element& element,
                         const HouseStyle* style, evaluate::Effort effort);

} // namespace jointer::figure
