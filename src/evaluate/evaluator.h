// SPDX-License-Identifier: GPL-3.0-or-later
// Results of a project: computed columns, curves after each step, fits, put together from the nodes of the
// graph. Asking again costs a look-up; what did not change is not computed again, also after reopening.
// Thread-safe: workers may evaluate different projects at once.
#pragma once

#include "data/curve_overview.h"
#include "evaluate/nodes.h"
#include "fields/field.h"
#include "steps/step.h"

namespace jointer::evaluate {

struct StepResult {
    StepId step; // the step of the protocol; none: the curve as measured
    bool on = true;
    std::shared_ptr<const steps::StepOutput> output;
    std::vector<Issue> issues;
    Digest digest; // of the curve
    const Curve& curve() const { return output->curve; }
};

// The curve as measured, then after each step (those switched off repeat the one before).
struct ProtocolResult {
    std::vector<StepResult> stages;
    std::vector<Issue> issues; // of the source
    std::shared_ptr<const StepResult>
        unsmoothed; // the end with smoothing steps passed over; none without such

    const StepResult& end() const { return stages.back(); }
    // A stage with the points that were left out where they were measured, as far as the axes are the same.
    std::shared_ptr<const Curve> leftOutAsMeasured(const StepResult& stage) const;
    const StepResult& at(const CurvePoint& point) const; // the end where the step is gone
};

// The result of an analysis, or why there is none. Issues: of the result, and of what it takes.
struct AnalysisOutcome {
    Result<analyses::ResultPtr> result = failure("not-computed", "Not computed yet.");
    std::vector<Issue> issues;
    Digest key; // of what is stored of it

    bool exists() const { return result.has_value(); }
    bool good() const { return exists() && (*result)->good; }
    const analyses::AnalysisResult& operator*() const { return **result; }
    const analyses::AnalysisResult* operator->() const { return result->get(); }
    std::string stateText() const { return exists() ? (*result)->state : "failed"; }
};

class Evaluator {
public:
    explicit Evaluator(std::size_t byteLimit = 512u << 20) : graph_(byteLimit) {}

    // The table with its computed columns filled in. Issues: formulas that cannot be used, with the loop
    // named where columns depend on each other in a circle.
    Outcome<Table> table(const Project& project, TableId id);

    // The points of a dataset as measured. An empty curve with an issue where its table or columns are gone.
    Outcome<std::shared_ptr<const Curve>> measured(const Project& project, DatasetId id);

    // Heights over a plane; empty with an issue where the dataset is no field.
    Outcome<fields::FieldPtr> field(const Project& project, DatasetId id, const Request& request = {});

    ProtocolResult protocol(const Project& project, DatasetId id, const Request& request = {});

    // Amplitude over frequency.
    std::shared_ptr<const Curve> spectrum(const StepResult& stage);

    // For pictures of dense curves.
    std::shared_ptr<const CurveOverview> overview(const StepResult& stage);

    AnalysisOutcome analysis(const Project& project, const Analysis& analysis, const Request& request = {});

    // Results that are being computed now, and a request to stop them. A stopped one keeps the values it had
    // reached, and is not begun again until its specification changes or `forgetStopped` is called.
    int running() const { return graph_.running(); }
    void stopRunning() { graph_.stopRunning(); }
    void forgetStopped() { graph_.forgetStopped(); }

    // Stored results: handed over from an opened file, and collected for saving: what the project still uses
    // and what was computed, nothing is computed for it.
    void adopt(const std::map<std::string, std::string>& stored) { memory_.adopt(stored); }
    std::map<std::string, std::string> collect(const Project& project);

private:
    Walk walk(const Project& project, const Request& request = {}, const Analysis* asked = nullptr);

    ResultGraph graph_;
    PartDigests digests_;
    ResultMemory memory_;
};

// A computed column's formula as people see it (names) and as the project stores it (ids).
// Of a project, so that fits are called by their names.
std::string formulaShown(std::string_view stored, const Table& table, const Project* project = nullptr);
std::string formulaStored(std::string_view shown, const Table& table, const Project* project = nullptr);

} // namespace jointer::evaluate
