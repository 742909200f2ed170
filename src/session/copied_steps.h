// SPDX-License-Identifier: GPL-3.0-or-later
// Steps copied from one dataset to others: as text (for the clipboard and for dragging), and what of them has
// a meaning elsewhere. Points chosen by hand belong to the rows of a table, and stay behind.
#pragma once

#include "project/project.h"

namespace jointer {

struct CopiedSteps {
    std::vector<Step> steps;
    TableId table; // of the dataset they come from
};

std::string copiedText(const CopiedSteps& copied);
Result<CopiedSteps> copiedFromText(std::string_view text); // Errors: the text holds no steps

// The steps as they go to a dataset. Issues: what stays behind.
Outcome<std::vector<Step>> stepsFor(const CopiedSteps& copied, const Dataset& target);

} // namespace jointer
