// SPDX-License-Identifier: GPL-3.0-or-later
// What a new figure of selected datasets begins with.
#pragma once

#include "evaluate/evaluator.h"
#include "project/edit.h"

namespace jointer::figure {

// The datasets sorted by what they measure: those of one unit can share an axis. In their order.
std::vector<std::vector<DatasetId>> byQuantity(const Project& project, const std::vector<DatasetId>& datasets,
                                               evaluate::Evaluator& evaluator);

// The coordinates in which datasets of these kinds stand, where all have the same of their own: "waters",
// "ternary"; else empty.
std::string coordinatesOf(const Project& project, const std::vector<DatasetId>& datasets);
// Those of the panel in which a mark stands: what its kind needs, else those of its dataset.
std::string coordinatesFor(const Project& project, const Element& mark);
void giveCoordinates(Element& panel, const std::string& coordinates); // its axes go where it has edges

// The marks that a dataset which is no curve begins with: a map, contours, arrows, symbols by class. Empty
// for curves.
std::vector<Element> ownMarks(const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator);

// A figure called "Figure 3", in the first house style: the datasets (the first one leads) as points, or as lines
// where points would run together, with the fit where one is told. Several are one group; up to four quantities stand
// in lanes over one x.
struct LogScales {
    bool x = false, y = false;
};
Edit addFigureOf(const Project& project, const std::vector<DatasetId>& datasets, AnalysisId fit,
                 evaluate::Evaluator& evaluator, LogScales scales = {});

// The same with these marks. Error: "no-style" in a project without house styles.
Edit addFigureWith(const Project& project, const std::vector<Element>& marks);
Edit addEmptyFigure(const Project& project); // a page without a panel

} // namespace jointer::figure
