// SPDX-License-Identifier: GPL-3.0-or-later
// A fit as a command asks for it, by names of columns, made into a project of tables, datasets and one fit:
// so it goes the same road as a fit of the window, from the cells to the numbers.
#pragma once

#include "project/project.h"

namespace jointer {

struct FitOrder {
    std::vector<std::string> x{};     // predictors; by name, or "#3"
    std::vector<std::string> y{};     // several are replicates, or datasets of their own
    std::vector<std::string> sigma{}; // uncertainties of y: none, one for all y, or one for each
    std::string sigmaX{};             // uncertainties of the first x; empty: none
    std::string resolution{};         // standard deviations of x that each point averages over; empty: none
    bool separate = false;            // each y is a dataset
    std::string group{};              // a column: each of its texts is a dataset; empty: none
    std::string weights{};            // "none", "relative"… or "column:NAME"; empty: by what is given
    bool absolute = false;            // uncertainties are believed as they stand
    ModelNode model{};
    std::vector<ParameterChoice> parameters{};
    Span span{}; // of the first predictor
    Settings settings{};
    std::string kind = "fit"; // of the analysis
};

// Errors: "no-column" (with the names that there are), "not-numbers", "usage".
Result<Project> projectOf(const Table& table, const FitOrder& order);

} // namespace jointer
