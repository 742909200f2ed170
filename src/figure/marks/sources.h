// SPDX-License-Identifier: GPL-3.0-or-later
// What marks draw, looked up in the project: the curve of a dataset at a state of its protocol, a companion,
// a part of it; a curve of an analysis.
#pragma once

#include "figure/marks/mark.h"

namespace jointer::figure {

// The points of the dataset that a task names, as its look tells; none with an issue where it is gone.
struct FoundCurve {
    std::shared_ptr<const Dataset> dataset;
    std::shared_ptr<const Curve> curve;
    std::shared_ptr<const CurveOverview> overview; // of a dense one that is drawn as it is
    std::size_t measuredPoints = 0;
    std::vector<std::uint8_t> doubtful{}; // 1: to be marked as such; empty: none
};
FoundCurve foundCurve(const MarkTask& task, std::vector<Issue>& issues);

// The names of the three parts that the first mark of a panel shows; empty: none does.
std::vector<std::string> partNames(const Project& project, const Element& panel);

// What a step took away, or the baseline it drew.
std::shared_ptr<const Curve> curveOfStep(const MarkTask& task, const std::string& layer, FoundCurve& found,
                                         std::vector<Issue>& issues);

// Values of a column in the order of the dataset's points; nothing where there is none.
std::vector<double> columnBeside(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                                 const std::string& column);

// What a column is called and measured in; empty where there is none.
AxisMeaning columnMeaning(const MarkTask& task, const Dataset& dataset, const std::string& column);

// The name of each point by the dataset's label column, else "row 3".
std::vector<std::string> labelsBeside(const MarkTask& task, const Dataset& dataset, const Curve& curve);

// The row of the table that each point comes from; beyond all rows: of none.
std::vector<std::size_t> rowsOf(const Table& table, const Curve& curve);

// Name, colour and meanings that a mark of a dataset takes from it.
void takeFrom(const FoundCurve& found, const MarkTask& task, Mark& mark);

// An analysis, which of its datasets the task means, and its result.
struct FoundAnalysis {
    std::shared_ptr<const Analysis> analysis;
    DatasetId member;
    analyses::ResultPtr result;
};
FoundAnalysis foundAnalysis(const MarkTask& task, std::vector<Issue>& issues);
void takeFrom(const FoundAnalysis& found, const MarkTask& task, Mark& mark);

} // namespace jointer::figure
