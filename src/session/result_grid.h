// SPDX-License-Identifier: GPL-3.0-or-later
// Results as people work with them: filtered by what they say, long (a row for each number) or wide (a row
// for each dataset with its attributes, a column for each quantity), as text with errors, as a paragraph of
// methods.
#pragma once

#include "evaluate/results.h"
#include "session/recipe_run.h"

namespace jointer {

// A row for each dataset: its name and attributes, then value and, where any is known, error of each
// quantity. Quantities of the same name in several analyses are told apart by these. `datasets`: which, in
// this order.
Table wideResults(const Project& project, const std::vector<evaluate::ResultRow>& rows,
                  const std::vector<DatasetId>& datasets);

// Of each row what its column of the wide form is called.
std::vector<std::string> wideHeadings(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// Datasets of the rows as curves of a run, for trends.
std::vector<RunCurve> curvesOf(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// "mean 3.42, SD 0.21, median 3.4, 3.1 … 3.9 (12 numbers)" of the rows that are of the same quantity and
// subject as one of them; empty where they are fewer than two.
std::string statisticsText(const std::vector<evaluate::ResultRow>& rows, const evaluate::ResultRow& like);

// With "1.234 ± 0.012" in one column, names and units as headings, tabs between: for texts.
std::string resultsText(const Project& project, const std::vector<evaluate::ResultRow>& rows);
// The same as a tabular of LaTeX.
std::string resultsLatex(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// What was done, as a paragraph: datasets that went the same way are told once. Costs what their protocols
// cost where these are not computed yet.
std::string methodsText(const Project& project, evaluate::Evaluator& evaluator,
                        const std::vector<evaluate::ResultRow>& rows, const Cancellation& stop = {});

} // namespace jointer
