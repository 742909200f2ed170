// SPDX-License-Identifier: GPL-3.0-or-later
// A fit of a project with all that is known of it, for tests that look at its numbers.
#pragma once

#include "analyses/fit_analysis.h"
#include "evaluate/evaluator.h"

namespace jointer::test {

struct Fitted {
    evaluate::AnalysisOutcome outcome;
    const analyses::FitDetail* detail = nullptr;
    const fit::FitReport* report = nullptr;
    Digest key;

    bool good() const { return report != nullptr; } // it exists
    const Issue& error() const { return outcome.result.error(); }
    const fit::MemberReport& one() const { return report->members.front(); }
    const analyses::MemberPoints& taken() const { return detail->taken->members.front(); }
    bool isCurve() const { return detail->taken->model().predictorCount() == 1; }
};

inline Fitted fitOf(evaluate::Evaluator& evaluator, const Project& project, const Analysis& analysis,
                    const evaluate::Request& request = {}) {
    Fitted f{.outcome = evaluator.analysis(project, analysis, request)};
    f.key = f.outcome.key;
    if (f.outcome.exists()) f.detail = analyses::fitDetail(*f.outcome);
    if (f.detail) f.report = &f.detail->report;
    return f;
}

} // namespace jointer::test
