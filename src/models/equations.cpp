// SPDX-License-Identifier: GPL-3.0-or-later
// Typed equations as a kind of model.
#include "models/catalogue.h"

namespace jointer::models {

namespace {

constexpr const char* kBeginning = "a*x + b";

std::string textOf(const Settings& settings) {
    return settings.text("equation", kBeginning);
}

// "x", or "x1", "x2"… of several.
std::vector<std::string> predictorNames(std::size_t count) {
    if (count <= 1) return {"x"};
    std::vector<std::string> names;
    for (std::size_t k = 1; k <= count; ++k) names.push_back("x" + std::to_string(k));
    return names;
}

} // namespace

std::vector<ModelKind> equationModels() {
    return {
        {{.key = "equation",
          .name = "Your own equation",
          .purpose = "Plain mathematics; names become parameters",
          .group = "Your own",
          .settings = {{.key = "equation",
                        .label = "Equation",
                        .kind = SettingKind::Formula,
                        .fallback = Value(std::string(kBeginning)),
                        .help = "In x (x1, x2… where there are several predictors); every other name that "
                                "is no function or constant becomes a parameter."}}},
         [](const Settings& settings) {
             auto made = equationModel(textOf(settings));
             return made ? *made : nullptr;
         },
         [](const Settings& settings, const ModelContext& context) {
             return equationModel(textOf(settings), predictorNames(context.predictors));
         }}};
}

} // namespace jointer::models
