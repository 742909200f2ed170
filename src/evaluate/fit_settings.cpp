// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of a fit, and the model that it takes.
#include "evaluate/evaluator.h"
#include "models/catalogue.h"

namespace jointer::evaluate {

const KindInfo& fitSettings() {
    static const KindInfo info{
        .key = "fit",
        .name = "Fit",
        .purpose = "The parameters of a model that go best with the points",
        .settings = {{.key = "level",
                      .label = "Level",
                      .fallback = 0.95,
                      .help = "Level of all intervals and bands: larger means wider.",
                      .lowest = 0.5,
                      .highest = 0.999999},
                     {.key = "iterations",
                      .label = "Iterations",
                      .kind = SettingKind::WholeNumber,
                      .fallback = 500.0,
                      .help = "The most iterations of one attempt.",
                      .lowest = 1,
                      .highest = 100000},
                     {.key = "made-points",
                      .label = "Made points",
                      .kind = SettingKind::Flag,
                      .fallback = false,
                      .help = "Also fit points that a step put in: interpolated ones and "
                              "those in place of values that do not exist."},
                     {.key = "hold",
                      .label = "Start values only",
                      .kind = SettingKind::Flag,
                      .fallback = false,
                      .help = "Shows the start values without fitting.",
                      .hidden = true}}};
    return info;
}

const KindInfo& weightSettings() {
    static const KindInfo info{
        .key = "weights",
        .name = "Weights",
        .purpose = "How the points count",
        .settings = {{.key = "weights",
                      .label = "Weights",
                      .kind = SettingKind::Choice,
                      .help = "Absolute: the uncertainties are believed as they stand, and χ² has meaning.",
                      .choices = {{"none", "none: all alike"},
                                  {"relative", "1/σ², relative"},
                                  {"absolute", "1/σ², absolute"}},
                      .whenEmpty = "automatic"}}};
    return info;
}

Result<models::ModelPtr> modelOf(const ModelNode& node, std::size_t predictors) {
    if (node.kind == "equation") {
        std::vector<std::string> names = {"x"};
        if (predictors > 1) names.clear();
        for (std::size_t k = 1; names.size() < predictors; ++k) names.push_back("x" + std::to_string(k));
        return models::equationModel(node.settings.text("equation"), names);
    }
    return models::makeModel(node.kind, node.settings);
}

} // namespace jointer::evaluate
