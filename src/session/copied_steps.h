// SPDX-License-Identifier: GPL-3.0-or-later
// Steps carried from one dataset to others: copied as text (for the clipboard and for dragging), or made
// alike where they differ. Points chosen by hand belong to the rows of a table, and stay behind.
#pragma once

#include "project/edit.h"

namespace jointer {

struct CopiedSteps {
    std::vector<Step> steps;
    TableId table; // of the dataset they come from
};

std::string copiedText(const CopiedSteps& copied);
Result<CopiedSteps> copiedFromText(std::string_view text); // Errors: the text holds no steps

// Takes points chosen by hand out of a step; gives how many there were.
std::size_t takeOffPoints(Step& step);
// Whether nothing is left of a step whose points have been taken out.
bool isEmptied(const Step& step);

// The steps as they go to a dataset. Issues: what stays behind.
Outcome<std::vector<Step>> stepsFor(const CopiedSteps& copied, const Dataset& target);

// Edits that make the steps of the others that stand for this one (`counterpart`) like it.
std::vector<Edit> makingAlike(const Project& project, const Dataset& of, StepId step,
                              const std::vector<DatasetId>& others);

} // namespace jointer
