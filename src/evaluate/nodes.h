// SPDX-License-Identifier: GPL-3.0-or-later
// The planners: which parts of a project are nodes of the graph of results, and what stands in them. Another
// sort of result is a function here and a line in `plannedNode`. Thread-safe.
//
//   "column"       cells of a column              Cells
//   "measured"     points of a dataset            steps::StepOutput
//   "step"         curve after a step             steps::StepOutput
//   "unsmoothed"   the same, smoothing passed over
//   "observations" what a fit takes of its curve  Observations
//   "fit"          its report                     fit::FitReport
#pragma once

#include "data/curve.h"
#include "evaluate/result_graph.h"
#include "fit/fit.h"
#include "project/project.h"

namespace jointer::evaluate {

// Digests of parts that are shared and never change, taken once for each.
class PartDigests {
public:
    Digest of(const std::shared_ptr<const Cells>& cells);
    Digest of(const std::shared_ptr<const Rows>& rows);

private:
    template <class T> Digest once(const std::shared_ptr<const T>& part, Digest (*take)(const T&));
    std::mutex mutex_;
    std::unordered_map<const void*, std::pair<std::weak_ptr<const void>, Digest>> known_;
    std::size_t clearAt_ = 256;
};

// What is known of fits beside the graph: reports of the file that was opened, and the values at which the
// fit of each analysis last stood, for provisional ones to begin with.
class FitMemory {
public:
    void adopt(const std::map<std::string, std::string>& stored); // report texts by the key of the fit
    std::string stored(const Digest& key) const;                  // empty: none
    void keepValues(AnalysisId id, std::string formula, std::vector<double> values);
    // Of the same formula only; empty: none.
    std::vector<double> lastValues(AnalysisId id, std::string_view formula) const;

private:
    mutable std::mutex mutex_;
    std::unordered_map<Digest, std::string> stored_;
    std::unordered_map<AnalysisId, std::pair<std::string, std::vector<double>>> lastValues_;
};

// What planners look at.
struct Ground {
    const Project& project;
    PartDigests& digests;
    FitMemory& fits;
    const Analysis* asked = nullptr; // in place of the one of its id in the project, which may have none
};

Node plannedNode(const Ground& ground, const NodeId& id);

NodeId columnNode(TableId table, ColumnId column);
NodeId measuredNode(DatasetId dataset);
NodeId observationsNode(AnalysisId analysis);
NodeId fitNode(AnalysisId analysis);

// The nodes of a protocol: as measured and after each step (those switched off repeat the one before), and
// its end with smoothing steps passed over. Up to a step, if one is given.
struct Chain {
    std::vector<NodeId> stages;
    std::optional<NodeId> unsmoothed; // none without smoothing steps
};
Chain chainOf(const Project& project, DatasetId dataset, StepId before = {});
NodeId curveNode(const Project& project, const AnalysisInput& input); // the curve that an analysis takes

// What a fit takes of a curve. The curve and the numbers are not held: they are remembered where they are
// made.
struct Observations {
    models::ModelPtr model;
    std::vector<std::uint8_t> used; // by point: inside the span and counting
    bool weighted = false, absolute = false;
    std::string weightsNote; // how points are weighted, in words

    // Each replicate is an observation of its own where nothing else is known of the scatter.
    fit::FitProblem problem(const Curve& curve, const Analysis& analysis) const;
};

// Each sort's planner.
Node planColumn(const Ground& ground, const NodeId& id);
Node planMeasured(const Ground& ground, const NodeId& id);
Node planStep(const Ground& ground, const NodeId& id);
Node planObservations(const Ground& ground, const NodeId& id);
Node planFit(const Ground& ground, const NodeId& id);

} // namespace jointer::evaluate
