// SPDX-License-Identifier: GPL-3.0-or-later
// The library of models. To add one: write its file, name it in catalogue.cpp, add its row to the model test.
#pragma once

#include "describe/catalogue.h"
#include "models/peak_traits.h"

namespace jointer::models {

struct MeasuredCurve {
    std::string name;
    std::shared_ptr<const Curve> curve;
};

// What a model stands in.
struct ModelContext {
    std::size_t predictors = 1;
    std::map<std::string, double> constants{};     // names with a value of their own, such as attributes
    std::map<std::string, MeasuredCurve> curves{}; // that a model may be made of, by what settings call them
    std::shared_ptr<const Curve> fitted{};         // the points that it is to be fitted to; none: not known
};

// A part of a model that can be left away, to see what it does: a setting with the value that does so.
struct Ingredient {
    std::string setting, label; // "structure", "interaction"
    Value off;
};

struct ModelKind {
    KindInfo info; // `group` is the purpose under which lists show it
    ModelPtr (*make)(const Settings& settings);
    // Of a kind that needs its context, or whose settings can be wrong in themselves.
    Result<ModelPtr> (*read)(const Settings& settings, const ModelContext& context) = nullptr;
    TraitsPtr (*peak)(const Settings& settings) = nullptr; // of shapes of peaks
    std::vector<Ingredient> ingredients{};
};

const Catalogue<ModelKind>& catalogue();
void addKind(ModelKind kind); // for programs that bring models of their own, before anything else

// How several models become one. `parts` have numbers, names and models; where their parameters stand
// follows.
struct CombinerKind {
    KindInfo info;
    ModelPtr (*make)(std::vector<Component> parts);
};

const Catalogue<CombinerKind>& combiners();

// The model of a key with its settings. Errors: "unknown-model", which names those that there are; what is
// wrong with the settings.
Result<ModelPtr> makeModel(std::string_view key, const Settings& settings, const ModelContext& context = {});

// "centre_2": how a parameter of a component is called in the whole; component 0: as it is.
std::string nameInWhole(const std::string& name, int component);

// One file each.
std::vector<ModelKind> polynomialModels();
std::vector<ModelKind> equationModels();
std::vector<ModelKind> exponentialModels();
std::vector<ModelKind> powerModels();
std::vector<ModelKind> logisticModels();
std::vector<ModelKind> peakModels();
std::vector<ModelKind> spectralLineModels();
std::vector<ModelKind> kineticModels();
std::vector<ModelKind> inhibitionModels();
std::vector<ModelKind> pieceModels();
std::vector<ModelKind> decayModels();
std::vector<ModelKind> sigmoidModels();
std::vector<ModelKind> saturationModels();
std::vector<ModelKind> curveModels();
std::vector<ModelKind> temperatureModels();
std::vector<ModelKind> periodicModels();
std::vector<ModelKind> measuredCurveModels();
std::vector<ModelKind> scatteringModels();

CombinerKind sumCombiner();
CombinerKind productCombiner();

} // namespace jointer::models
