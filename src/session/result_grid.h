// SPDX-License-Identifier: GPL-3.0-or-later
// Results as people work with them: filtered by what they say, long (a row for each number) or wide (a row
// for each dataset with its attributes, a column for each quantity), as text with errors, as a paragraph of
// methods.
#pragma once

#include "evaluate/results.h"
#include "session/recipe_run.h"

namespace jointer {

// Conditions that all must hold, with commas between them: "doubtful", "site = north", "centre > 701", or a
// word that some cell holds. A name is an attribute, a quantity, or one of dataset, analysis, quantity,
// subject, unit, state, value, error.
class ResultFilter {
public:
    // Errors: "filter", with the condition that cannot be read.
    static Result<ResultFilter> parse(const std::string& text);
    bool isEmpty() const { return conditions_.empty(); }

    // The places of the rows to show. One dataset's row of a quantity decides for that row alone, an
    // attribute for all rows of its dataset.
    std::vector<std::size_t> rows(const Project& project, const std::vector<evaluate::ResultRow>& all) const;
    // The datasets of which for each condition some row holds, in their order.
    std::vector<DatasetId> datasets(const Project& project,
                                    const std::vector<evaluate::ResultRow>& all) const;

private:
    enum class Compare { Holds, Doubtful, Equal, Unequal, Less, Greater, AtMost, AtLeast };
    struct Condition {
        Compare compare = Compare::Holds;
        std::string name, value; // of "holds": the word, lower case
        std::optional<double> number;
    };
    class Asker;
    std::vector<Condition> conditions_;
};

// A row for each dataset: its name and attributes, then value and, where any is known, error of each
// quantity. Quantities of the same name in several analyses are told apart by these. `datasets`: which, in
// this order.
Table wideResults(const Project& project, const std::vector<evaluate::ResultRow>& rows,
                  const std::vector<DatasetId>& datasets);

// Of each row what its column of the wide form is called.
std::vector<std::string> wideHeadings(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// Datasets of the rows as curves of a run, for trends.
std::vector<RunCurve> curvesOf(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// With "1.234 ± 0.012" in one column, names and units as headings, tabs between: for texts.
std::string resultsText(const Project& project, const std::vector<evaluate::ResultRow>& rows);
// The same as a tabular of LaTeX.
std::string resultsLatex(const Project& project, const std::vector<evaluate::ResultRow>& rows);

// What was done, as a paragraph: datasets that went the same way are told once. Costs what their protocols
// cost where these are not computed yet.
std::string methodsText(const Project& project, evaluate::Evaluator& evaluator,
                        const std::vector<evaluate::ResultRow>& rows, const Cancellation& stop = {});

} // namespace jointer
