// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that follow a fit: predicted('a4', 'c12') in their formulas is the curve of the analysis a4 at the
// values of a column, confidence(…) the half width of its band; of several datasets the third argument names
// one.
#pragma once

#include "analyses/analysis.h"
#include "formula/expression.h"

namespace jointer::evaluate {

struct PredictedCall {
    std::string name; // that stands in its place
    AnalysisId analysis;
    DatasetId member;      // none: the first
    bool band = false;     // the half width of the confidence band
    formula::NodePtr at{}; // the x; it may hold calls before
};

// The expression with a name in place of each call, the inner ones first. Errors: "formula": a call that
// names no fit.
Result<formula::Expression> withoutPredicted(const formula::Expression& expression, const Project& project,
                                             std::vector<PredictedCall>& calls);

// The curve at each x; `beyond` is filled with the rows that lie outside of the fitted points. NaN where x
// is missing. Errors: "formula": the analysis has no curve.
Result<std::vector<double>> predictedAt(const PredictedCall& call, const analyses::AnalysisResult& result,
                                        const std::vector<double>& x, std::vector<std::size_t>& beyond);

// Names in a formula that name fits or datasets there, so that no column is meant.
std::vector<std::string> namesOfFits(const formula::Expression& expression);
std::vector<std::string> namesOfMembers(const formula::Expression& expression);

// How an analysis is called in formulas: by its name, with its id where several have it.
std::string nameInFormulas(const Project& project, AnalysisId analysis);
AnalysisId analysisInFormulas(const Project& project, const std::string& name); // none: there is none

} // namespace jointer::evaluate
