// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// A FitTaken. Issues: what is said of the points; alone where they cannot be taken.
Taken takeFit(const Task& task);
// What the model of a fit stands in, for one of its datasets.
models::ModelContext contextOf(const Task& task, const TaskInput& input);

// The counting points of one input as one more member, with its model (which may come later) of so many
// predictors. Issues: what is said of the points. Errors: "no-uncertainty", "weights".
Result<void> takeMember(const TaskInput& input, const Task& task, models::ModelPtr model,
                        std::size_t predictors, FitTaken& taken, std::vector<Issue>& issues);
// Loss, further numbers, steps of release.
void takeSettings(const Settings& settings, fit::FitProblem& problem);
void addTo(Hasher& hasher, const FitTaken& taken); // the numbers that it holds
std::size_t bytesOf(const FitTaken& taken);

// How moments are counted: from the first of all datasets on. None: x is no time, or other curves are asked at the same moments.
std::optional<models::TimeScale> timeOf(const Task& task);

} // namespace jointer::analyses
