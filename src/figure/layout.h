// SPDX-License-Identifier: GPL-3.0-or-later
// From a figure and the results of its project to a display list. Pure computation: the same input gives the
// same list. Dense curves are thinned to what the target can show.
#pragma once

#include "draw/display_list.h"
#include "evaluate/evaluator.h"
#include "figure/scale.h"

namespace jointer::figure {

struct Target {
    double pixelsPerMm = 20; // resolution: curves are thinned to it; 20 is finer than 500 dpi
    evaluate::Effort effort = evaluate::Effort::Full; // of fits that are not known yet
};

// Where a panel's axes ended up, for gestures.
struct PanelGeometry {
    ElementId panel;
    draw::Rect area; // inside the axes
    Scale x, y;
};

struct Layout {
    draw::DisplayList list;
    std::vector<PanelGeometry> panels;
    std::vector<Issue> issues; // "labels collide", "no points in range"…
};

Layout layOut(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
              const Target& target = {});

// The page size of a figure in mm with its house style.
draw::Rect pageOf(const Project& project, const Figure& figure);

// Text of a note with {name} replaced by the numbers of its analysis.
std::string filledIn(std::string_view text, const evaluate::AnalysisOutcome& outcome);

} // namespace jointer::figure
