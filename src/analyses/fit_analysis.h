// SPDX-License-Identifier: GPL-3.0-or-later
// A fit as an analysis: what its own card and commands look at beyond what every analysis gives.
#pragma once

#include "analyses/analysis.h"
#include "fit/fit.h"
#include "fit/profile.h"
#include "models/catalogue.h"
#include "models/timed_model.h"

namespace jointer::analyses {

// The points of one dataset as a fit takes them.
struct MemberPoints {
    DatasetId dataset;
    std::string name;
    std::shared_ptr<const Curve> curve;
    std::vector<std::uint8_t> used; // by point: inside the span and counting
};

struct FitTaken final : Detail {
    fit::FitProblem problem;
    std::vector<MemberPoints> members;
    std::string weightsNote;               // how points are weighted, in words
    std::optional<models::TimeScale> time; // by which the model counts an x of moments

    // The unit of x as parameters have it.
    const std::string& xUnit(std::size_t member) const {
        return time ? time->symbol : members[member].curve->xMeaning.unit;
    }

    const models::Model& model() const { return *problem.members.front().model; }
};

struct FitDetail : Detail {
    std::shared_ptr<const FitTaken> taken;
    fit::FitReport report;
    std::vector<fit::ProfileCurve> profiles;
};

// Of a result of a fit; nullptr: of another kind.
const FitDetail* fitDetail(const AnalysisResult& result);

// The model of an analysis, its parts put together. Over several predictors they are called x1, x2…. Errors:
// an unknown key, an equation that cannot be read.
Result<models::ModelPtr> modelOf(const ModelNode& node, const models::ModelContext& context = {});
std::string modelName(const ModelNode& node); // for people

const KindInfo& fitSettings();

// Places for the fits that another analysis takes, "fit-1" and on: the first `fewest` must be filled.
struct FitSlots {
    std::size_t most = 1, fewest = 1;
    bool eager = false; // as InputSlot has it
    std::vector<std::string> kinds = {"fit"};
    bool elsewhere = false; // from the second on
};
std::vector<InputSlot> slotsOfFits(const FitSlots& wanted);
// The points of all fits in one, with how each treats its parameters. None: they cannot be put together.
std::optional<fit::FitProblem> joinedProblem(const std::vector<const FitDetail*>& fits);

fit::FitOptions optionsOf(const Analysis& analysis);
// The values at which a fit begins, or where it stands after so many iterations, without errors.
Result<fit::FitReport> begun(const fit::FitProblem& problem, fit::FitOptions options, int iterations,
                             const Cancellation& stop);

// Intervals by profile or bootstrap, where the settings ask for them, put into the report.
std::vector<Issue> intervalsOf(const Task& task, const FitTaken& taken, FitDetail& detail);

// Reports as text, as project files keep them. Fitted values and residuals are computed again from the
// problem. Errors: damaged or not of this problem.
std::string reportText(const fit::FitReport& report);
Result<fit::FitReport> reportFromText(const std::string& text, const fit::FitProblem& problem);

} // namespace jointer::analyses
