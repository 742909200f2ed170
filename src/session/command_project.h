// SPDX-License-Identifier: GPL-3.0-or-later
// Projects as commands need them, made of tables and the names of their columns: so that what a command does
// goes the same road as in the window, from the cells to the numbers.
#pragma once

#include "project/project.h"

namespace jointer {

// Columns by name, or "#3".
struct ColumnChoice {
    std::vector<std::string> x; // several are predictors
    std::vector<std::string> y; // several are replicates
    std::string sigma{};        // uncertainties of y; empty: none
    std::string sigmaX{};       // of the first x
    std::string resolution{};   // of x: what each point averages over
    std::string weights{};      // a column of weights 1/σ², in place of sigma

    // Other kinds of datasets over columns (evaluate/mapping.h): the columns that their places take, by the
    // places' labels; without any the likeliest.
    std::string kind{};
    std::vector<std::pair<std::string, std::string>> places{};
    Settings settings{}; // of the kind
};

// The project with one more table and one more dataset over its columns, the last of each. Errors:
// "no-column" (with the names that there are), "not-numbers", "no-kind", "no-place".
Result<Project> withDataset(const Project& project, Table table, const ColumnChoice& columns,
                            std::string name = {});

} // namespace jointer
