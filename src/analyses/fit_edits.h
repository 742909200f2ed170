// SPDX-License-Identifier: GPL-3.0-or-later
// What is done to the specification of a fit from its card: start values kept, held or given back to the
// rule, steps of release recorded, datasets taken together. Parameters are those that the last result has
// told: only it knows them where a model depends on its datasets.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

bool isFitted(const ParameterChoice& choice); // so that it has a start value: free, or shared
bool isParameter(const Quantity& quantity);   // and no number that follows

// What is said of a parameter, of all datasets or of one; begun where nothing is said yet.
ParameterChoice& choiceOf(Analysis& fit, const std::string& name, DatasetId member = {});

// Start values by the model's rule, shown and not fitted.
void holdAtRule(Analysis& fit);
// At the values reached, which become start values.
void holdAtValues(Analysis& fit, const std::vector<Quantity>& reached);
// One parameter at a value; the others begin where they are told, or where they stand for the dataset.
void holdAt(Analysis& fit, const std::string& parameter, double value, const std::vector<Quantity>& told,
            DatasetId dataset);

// What is fitted now becomes a step of release, if it was not the last one.
void recordStep(Analysis& fit, const std::vector<Quantity>& told);

// Datasets join, as the first is taken, or leave with what was said of them alone.
void takeDatasets(Analysis& fit, const std::vector<DatasetId>& datasets, bool taken);

} // namespace jointer::analyses
