// SPDX-License-Identifier: GPL-3.0-or-later
// What peaks may do: limits proposed from the data or given for all, one width or a law of widths for all,
// ties between two; and over these what a hand has said of single parameters.
#pragma once

#include "analyses/peaks/peaks.h"

namespace jointer::analyses {

// Widths that grow with x: for each width of the shapes its value in the middle and how it grows.
struct LawOfWidths {
    models::ModelPtr model; // adds nothing, but has these parameters; none: there is no law
    std::vector<double> begin;
    bool ofSquares = false;
    double middle = 0;
    std::vector<std::string> widths; // names of the parameters of shapes that follow it
};

LawOfWidths lawOfWidths(const PeaksPlan& plan, const Settings& settings);

// Puts starts, limits and ties of all parameters into the problem, and the limits of widths into the plan.
// Errors: "tie" to a peak that is not there; what is said of a parameter that no peak has.
Result<void> addRules(const Task& task, PeaksPlan& plan, const LawOfWidths& law, fit::FitProblem& problem);

} // namespace jointer::analyses
