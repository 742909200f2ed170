// SPDX-License-Identifier: GPL-3.0-or-later
// Results as people work with them: filtered by what they say, long (a row for each number) or wide (a row
// for each dataset with its attributes, a column for each quantity), as text with errors, as a paragraph of
// methods.
#pragma once

#include "evaluate/results.h"
#include "session/recipe_run.h"

namespace jointer {

// The wide form: a row for each dataset, a column for each quantity in the order in which they are met.
// Quantities of the same name in several analyses are told apart by these.
struct WideGrid {
    Table attributes; // the dataset's name and its attributes
    struct Quantity {
        std::string name, unit;
        std::vector<int> rows; // by dataset the place among the results; −1: it has none
    };
    std::vector<Quantity> quantities;
};
// `datasets`: which, in this order. Cost: linear.
WideGrid wideGrid(const Project& project, const std::vector<evaluate::ResultRow>& rows,
                  const std::vector<DatasetId>& datasets);

// The attributes that tell nothing: alike for all datasets, or the same as an earlier one. Their places.
std::vector<std::size_t> attributesAlike(const WideGrid& grid);

// The same as a table: name and attributes, then value and, where any is known, error of each quantity.
Table wideResults(const Project& project, const std::vector<evaluate::ResultRow>& rows,
                  const std::vector<DatasetId>& datasets);

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
