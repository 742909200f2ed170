// SPDX-License-Identifier: GPL-3.0-or-later
// Ingredients of a model that can be left away: the switches of a fit, and the curve as it would be without
// each of them.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

struct IngredientSwitch {
    int component = 0; // the part of a composed model; 0: the model is one piece
    std::string setting, label;
    bool on = false;
};

// Of all parts, in their order.
std::vector<IngredientSwitch> ingredientsOf(const ModelNode& model);

// Switched on it is as it first is where that is chosen: a resolution by the column where `hasResolution`,
// else as a share of x. What was said of parameters that are gone goes with them.
void switchIngredient(Analysis& fit, const IngredientSwitch& which, bool on, bool hasResolution);
// The model with one of its ingredients left away.
ModelNode without(ModelNode model, const IngredientSwitch& which);

// Takes out what is said of parameters that the model does not have.
void dropGoneParameters(Analysis& fit);

// Curves "without" of a member, one for each ingredient that is there, at the parameters of the fit.
void addGhosts(const std::shared_ptr<const FitDetail>& detail, const Task& task, std::size_t member,
               const NamedCurve& common, AnalysisResult& out);

// What the residuals of a curve of scattering say of an ingredient that is missing, as issues.
void addTellTales(const FitDetail& detail, const Task& task, AnalysisResult& out);

} // namespace jointer::analyses
