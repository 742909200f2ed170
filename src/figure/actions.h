// SPDX-License-Identifier: GPL-3.0-or-later
// What takes ten settings by hand as one edit: datasets drawn where they are dropped, second axes and lanes,
// groups that are staggered, open and full frames. Plain functions from ids to edits.
#pragma once

#include "figure/layout.h"
#include "project/figure_edits.h"

namespace jointer::figure {

// Where something dropped on a page goes.
enum class Drop { Join, RightAxis, TopLane, NewPanel };

struct MarkKind;
// Whether a dataset can be drawn as this kind: fields have kinds of their own.
bool suits(const MarkKind& kind, const Dataset& dataset);

// The kind of mark that suits the dataset best, and all that suit it, likeliest first.
std::vector<std::string> likelyMarks(const Project& project, DatasetId dataset,
                                     evaluate::Evaluator& evaluator);

// A mark of the kind with sizes that suit the number of points.
Element markFor(const Project& project, DatasetId dataset, const std::string& kind,
                evaluate::Evaluator& evaluator);

// The curves that came with a dataset: components filled, others as lines.
std::vector<Element> companionMarks(const Project& project, DatasetId dataset);

// Draws marks in a panel; the first panel where none is told.
Edit addMarks(FigureId figure, ElementId panel, std::vector<Element> marks, Drop where);

// Several datasets as one group, with the marks for each of them; a group of the same datasets takes them in.
Edit drawGroup(FigureId figure, ElementId panel, std::vector<DatasetId> datasets, std::vector<Element> marks);

// All marks of datasets and fits in the panel become one group; what they have in common stays.
Edit groupMarks(FigureId figure, ElementId panel);

// One action each. They work on the panel told, or on all.
Edit stagger(FigureId figure, ElementId panel, const std::string& how);
Edit spreadColours(FigureId figure, ElementId panel); // by the attribute, on a scale with its bar
Edit orderByAttribute(FigureId figure, ElementId panel);
Edit reverseOrder(FigureId figure, ElementId panel);
Edit labelCurves(FigureId figure, ElementId panel); // at their ends instead of a legend
Edit frame(FigureId figure, ElementId panel, bool full);
Edit tidyNumbers(FigureId figure, ElementId panel);
Edit shareAxes(FigureId figure);
Edit matchSizes(FigureId figure); // all panels in one grid of equal cells
Edit addResiduals(FigureId figure, ElementId panel);
// Places of the peaks above them; components are drawn where the panel has none yet. Error: "no-peaks".
Edit labelPeaks(const Project& project, FigureId figure, ElementId panel);
// A panel of the distributions of sizes that the fits in a panel, or in the figure, have found. Error:
// "no-sizes".
Edit addSizes(FigureId figure, ElementId panel);
Edit addResultsTable(FigureId figure, ElementId panel);
// A table of chosen numbers, which follows them: of one analysis, by its subjects where it has several
// (samples, groups); without one of the datasets, each with its last analysis.
struct TableWish {
    AnalysisId analysis{};
    bool bySubject = false;
    std::vector<DatasetId> datasets{};
    std::vector<std::string> quantities{};
    bool alone = false; // on a figure of its own: from its upper left corner on
};
Edit addTableOf(FigureId figure, ElementId panel, const TableWish& wish);
Edit addPanel(FigureId figure, const std::vector<Element>& marks);
// The same panel again, of any figure, with a range of its own: it follows the other one's marks and looks.
Edit addLinkedPanel(FigureId figure, ElementId source);
Edit addInset(FigureId figure, ElementId panel, std::pair<double, double> x, std::pair<double, double> y);
Edit breakAxis(FigureId figure, ElementId axis, double from, double to);
// The widest part of the axis without data, as round numbers; a fifth in the middle where data are
// everywhere.
Range widestGap(const Project& project, const Figure& figure, const AxisGeometry& axis,
                evaluate::Evaluator& evaluator);
Edit showOriginals(FigureId figure, ElementId axis); // of logarithms: their numbers, and a title without "ln"
Edit addSecondAxis(FigureId figure, ElementId axis); // computed from it

// The panel that holds an element, or the first; none where the figure has no panel.
ElementId panelOf(const Figure& figure, ElementId element);

} // namespace jointer::figure
