// SPDX-License-Identifier: GPL-3.0-or-later
// The library of models. To add one: write its file, name it in catalogue.cpp, add its row to the model test.
#pragma once

#include "describe/catalogue.h"
#include "models/model.h"

namespace jointer::models {

struct ModelKind {
    KindInfo info; // `group` is the purpose under which lists show it
    ModelPtr (*make)(const Settings& settings);
};

const Catalogue<ModelKind>& catalogue();

// The model of a key with its settings. Errors: "unknown-model", which names models of similar keys.
Result<ModelPtr> makeModel(std::string_view key, const Settings& settings);

// One file each.
std::vector<ModelKind> polynomialModels();
std::vector<ModelKind> exponentialModels();
std::vector<ModelKind> powerModels();
std::vector<ModelKind> logisticModels();
std::vector<ModelKind> peakModels();
std::vector<ModelKind> decayModels();
std::vector<ModelKind> sigmoidModels();
std::vector<ModelKind> saturationModels();
std::vector<ModelKind> curveModels();
std::vector<ModelKind> temperatureModels();
std::vector<ModelKind> periodicModels();

} // namespace jointer::models
