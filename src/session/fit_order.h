// SPDX-License-Identifier: GPL-3.0-or-later
// A fit as a command asks for it, by names of columns, made into a project of one table, one dataset and one
// fit: so it goes the same road as a fit of the window, from the cells to the numbers.
#pragma once

#include "project/project.h"

namespace jointer {

struct FitOrder {
    std::vector<std::string> x; // predictors; by name, or "#3"
    std::vector<std::string> y; // several are replicates
    std::string sigma{};        // uncertainties of y; empty: none
    bool absolute = false;      // they are believed as they stand
    ModelNode model{};
    std::vector<ParameterChoice> parameters{};
    double low = -std::numeric_limits<double>::infinity(); // span of the first predictor
    double high = std::numeric_limits<double>::infinity();
    double level = 0.95;
};

// Errors: "no-column" (with the names that there are), "not-numbers", "usage".
Result<Project> projectOf(const Table& table, const FitOrder& order);

} // namespace jointer
