// SPDX-License-Identifier: GPL-3.0-or-later
// What a work plot shows, as a figure of the drawing engine with the window's own face and colours.
#pragma once

#include "evaluate/evaluator.h"
#include "project/project.h"
#include "steps/handles.h"

#include <QSizeF>
#include <cmath>
#include <functional>
#include <optional>

namespace jointer::app {

inline constexpr double kMmPerPixel = 25.4 / 96;

// A place on an axis where something stands that has another value.
struct AxisNote {
    bool ofY = false;
    double at = 0;
    std::string says;
};

// What a plot shows: marks over a project, axis wishes, handles.
struct PlotContent {
    Project project;
    std::shared_ptr<evaluate::Evaluator> evaluator;
    evaluate::Effort effort = evaluate::Effort::Full;
    std::vector<Element> marks;
    std::string coordinates; // of the panel, where they are not axes at right angles
    std::string emptyText; // shown where there is nothing to draw
    bool showXTitle = true;
    bool legend = true;
    const char* legendWhere = "top-left";
    std::string yName; // overrides the name from the data
    std::optional<std::pair<double, double>> xRange, yRange;
    std::vector<steps::Handle> handles;
    StepId handled; // the step whose handles they are
    std::shared_ptr<const steps::StepOutput> handledOutput;
    // Or the analysis, with what of it is shown.
    AnalysisId handledAnalysis;
    analyses::ResultPtr handledResult;
    int strongPeak = 0; // whose width has handles
    std::optional<double> cutoff; // place of a filter's cut-off on a plot of frequencies
    double cutoffUnit = 1;        // by which it is multiplied to be cycles per point
    bool bareY = false;           // the axis of y is too short for its unit
    bool logX = false, logY = false;
    double linearX = NAN;  // up to which a logarithmic axis of x is linear about zero; chosen from the data
    bool ownX = false;     // x is not that of the data: no zoom of the work plots
    bool overview = false; // a strip of the whole curve: the range shown elsewhere is marked on it
    std::optional<std::pair<double, double>> window; // that range
    CurvePoint probedPoint{CurvePoint::Place::End};  // of the protocol: whose points are under the pointer
    std::vector<std::pair<double, double>> spans;    // their ends can be dragged
    bool outsideSpans = false;                       // what counts lies outside of them
    std::vector<AxisNote> axisNotes;
    DatasetId probed; // whose points the readout names
    std::string probedName;
    std::shared_ptr<const Curve> probedPoints; // shown here in their place, with their rows: can be clicked
    // Role and label of further curves that the analysis gives, told by `prepare`.
    std::vector<std::pair<std::string, std::string>> found;
    std::string caption;   // a line above the panel
    std::string spanText;  // of the span, for the readout
    std::string spanTable; // the same numbers for the clipboard, a row of names and a row of values

    // Fills in what needs computing; called in the background before each drawing.
    std::function<void(PlotContent&)> prepare;
};

Figure workFigure(const PlotContent& content, QSizeF pixels);

} // namespace jointer::app
