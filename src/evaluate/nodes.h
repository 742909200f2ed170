// SPDX-License-Identifier: GPL-3.0-or-later
// The planners: which parts of a project are nodes of the graph of results, and what stands in them. Another
// sort of result is a function here and a line in `plannedNode`. Thread-safe.
//
//   "column"       cells of a column              Cells
//   "measured"     points of a dataset            steps::StepOutput
//   "field"        heights over a plane           fields::Field
//   "samples"      readings of its samples        steps::StepOutput
//   "step"         curve after a step             steps::StepOutput
//   "unsmoothed"   the same, smoothing passed over
//   "taken"        what an analysis takes         analyses::Detail
//   "analysis"     its result                     analyses::AnalysisResult
#pragma once

#include "analyses/analysis.h"
#include "data/curve.h"
#include "evaluate/result_graph.h"
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

// What is known of analyses beside the graph: results of the file that was opened, and the values at which
// each last stood, for provisional ones to begin with.
class ResultMemory {
public:
    void adopt(const std::map<std::string, std::string>& stored); // texts by the key of the result
    std::string stored(const Digest& key) const;                  // empty: none
    void keepValues(const Analysis& analysis, std::vector<double> values);
    // Of the same model and datasets only; empty: none.
    std::vector<double> lastValues(const Analysis& analysis) const;

private:
    mutable std::mutex mutex_;
    std::unordered_map<Digest, std::string> stored_;
    std::unordered_map<AnalysisId, std::pair<std::string, std::vector<double>>> lastValues_;
};

// What planners look at.
struct Ground {
    const Project& project;
    PartDigests& digests;
    ResultMemory& memory;
    const Analysis* asked = nullptr; // in place of the one of its id in the project, which may have none
};

Node plannedNode(const Ground& ground, const NodeId& id);

NodeId columnNode(TableId table, ColumnId column);
NodeId measuredNode(DatasetId dataset);
NodeId samplesNode(DatasetId dataset);
NodeId takenNode(AnalysisId analysis);
NodeId analysisNode(AnalysisId analysis);

// The nodes of a protocol: as measured and after each step (those switched off repeat the one before), and
// its end with smoothing steps passed over. Up to a step, if one is given.
struct Chain {
    std::vector<NodeId> stages;
    std::optional<NodeId> unsmoothed; // none without smoothing steps
};
Chain chainOf(const Project& project, DatasetId dataset, StepId before = {});
NodeId curveNode(const Project& project, const AnalysisInput& input); // the curve that an analysis takes

// Each sort's planner.
Node planColumn(const Ground& ground, const NodeId& id);
Node planMeasured(const Ground& ground, const NodeId& id);
Node planSamples(const Ground& ground, const NodeId& id);
Node planStep(const Ground& ground, const NodeId& id);
Node planTaken(const Ground& ground, const NodeId& id);
Node planAnalysis(const Ground& ground, const NodeId& id);

} // namespace jointer::evaluate
