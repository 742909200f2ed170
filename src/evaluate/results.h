// SPDX-License-Identifier: GPL-3.0-or-later
// Every number that the project has derived, a row for each quantity, with where it came from.
#pragma once

#include "evaluate/evaluator.h"

namespace jointer::evaluate {

struct ResultRow {
    DatasetId dataset;
    AnalysisId analysis;
    std::string quantity, unit, state;
    double value = 0, error = 0; // NaN: not known
    bool good = true;
};

// Rows of all fits, in order of datasets. Held fits (start values) are left out.
std::vector<ResultRow> resultRows(const Project& project, Evaluator& evaluator,
                                  const Cancellation& stop = {});

// The rows as a table for files: names of dataset and analysis, quantity, value, error, unit, state.
Table resultsTable(const Project& project, const std::vector<ResultRow>& rows);

// From file and lines through the steps to the analysis, one sentence each: also the methods text.
struct Source {
    std::string sentence, detail;
};
std::vector<Source> provenance(const Project& project, Evaluator& evaluator, const ResultRow& row);

} // namespace jointer::evaluate
