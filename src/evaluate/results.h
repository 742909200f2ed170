// SPDX-License-Identifier: GPL-3.0-or-later
// Every number that the project has derived, a row for each quantity, with where it came from.
#pragma once

#include "base/text.h"
#include "evaluate/evaluator.h"

namespace jointer::evaluate {

struct ResultRow {
    DatasetId dataset; // that the quantity is of; of one that several share, the first
    AnalysisId analysis;
    std::string key, quantity, unit, state;
    std::string subject{};       // a sample, a named peak; empty: the dataset itself
    double value = 0, error = 0; // NaN: not known
    double low = 0, high = 0;    // interval; NaN: not known
    bool good = true;
    bool ofAll = false; // of all datasets of the analysis
    int digits = 6;     // that tell something where no error is known
};

// A value in the digits that its error leaves it, or its interval where only that is known.
ValueText shownValue(const analyses::Quantity& quantity);
ValueText shownValue(const ResultRow& row);

// The rows of one analysis; of one that failed a single one without a quantity's value.
std::vector<ResultRow> rowsOf(const Analysis& analysis, const AnalysisOutcome& outcome);

// Rows of all analyses, in their order of first datasets. Held fits (start values) are left out.
std::vector<ResultRow> resultRows(const Project& project, Evaluator& evaluator,
                                  const Cancellation& stop = {});

// "peak 2: centre", "caffeine: area", "slope".
std::string nameOf(const ResultRow& row);

// Those of one thing over all datasets together: by analysis, subject and quantity; else as they are.
void groupBySubject(std::vector<ResultRow>& rows, const Project& project);

// The rows as a table for files: names of dataset and analysis, quantity, value, error, unit, state, subject.
Table resultsTable(const Project& project, const std::vector<ResultRow>& rows);

// From file and lines through the steps to the analysis, one sentence each: also the methods text.
struct Source {
    std::string sentence, detail;
    StepId step{}; // what did it: a step, an analysis; none: where the points were read
    AnalysisId analysis{};
    DatasetId dataset{}; // whose points they are
};
// What is of another dataset than the number begins with its name.
std::vector<Source> provenance(const Project& project, Evaluator& evaluator, const ResultRow& row);

// A sentence as a part of a longer one: without its stop, begun small.
std::string asClause(std::string sentence);

// What the number would be with the step of a source switched off. Errors: "gone", or why there is none then.
Result<ResultRow> withoutStep(const Project& project, Evaluator& evaluator, const ResultRow& row,
                              const Source& step, const Cancellation& stop = {});

} // namespace jointer::evaluate
