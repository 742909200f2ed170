// SPDX-License-Identifier: GPL-3.0-or-later
// Typed equations as a kind of model.
#include "base/text.h"
#include "formula/column_functions.h"
#include "formula/lines.h"
#include "models/catalogue.h"
#include "models/formula_model.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

constexpr const char* kBeginning = "a*x + b";

std::string textOf(const Settings& settings) {
    return settings.text("equation", kBeginning);
}

// Rules for start values: each a name and a formula over the columns of the points.
using Rules = std::map<std::string, formula::Expression>;

Result<Rules> rulesOf(std::string_view text, const std::vector<ParameterInfo>& parameters) {
    Rules rules;
    for (std::size_t start = 0; start <= text.size();) {
        const std::size_t end = std::min(text.find_first_of(";\n", start), text.size());
        const std::string_view part = trimmed(text.substr(start, end - start));
        start = end + 1;
        if (part.empty()) continue;
        const std::size_t equals = part.find('=');
        const std::string name(trimmed(part.substr(0, equals)));
        if (equals == part.npos ||
            std::ranges::find(parameters, name, &ParameterInfo::name) == parameters.end())
            return failure("formula", "A start rule names a parameter, as in “a = max(y)”, not “" +
                                          std::string(part) + "”.");
        auto rule = formula::Expression::parse(part.substr(equals + 1), formula::Vocabulary::Columns);
        if (!rule) return failure("formula", "The start rule of " + name + ": " + rule.error().text);
        for (const std::string& used : rule->names())
            if (used != "x" && used != "y")
                return failure("formula",
                               "The start rule of " + name + " may use x and y, not " + used + ".");
        rules.insert_or_assign(name, std::move(*rule));
    }
    return rules;
}

Guess guessOf(Rules rules, std::vector<ParameterInfo> parameters) {
    if (rules.empty()) return {};
    return [rules = std::move(rules),
            parameters = std::move(parameters)](const Curve& c) -> std::optional<std::vector<double>> {
        std::vector<double> x, y, start(parameters.size(), 1.0);
        for (std::size_t i = 0; i < c.size(); ++i)
            if (c.counts(i)) x.push_back(c.x[i]), y.push_back(c.y[i]);
        if (x.empty()) return std::nullopt;
        for (std::size_t k = 0; k < parameters.size(); ++k) {
            const auto rule = rules.find(parameters[k].name);
            if (rule == rules.end()) continue;
            const auto values = formula::evaluateOverRows(rule->second, {"x", "y"}, {x, y}, x.size());
            if (values && std::isfinite(values->front())) start[k] = values->front();
        }
        return start;
    };
}

} // namespace

Result<ModelPtr> equationModel(std::string_view text, const std::vector<std::string>& predictors,
                               const std::map<std::string, double>& constants, std::string_view starts) {
    const auto typed = formula::parseLines(text);
    if (!typed) return std::unexpected(typed.error());
    std::vector<ParameterInfo> parameters;
    std::vector<std::string> names;
    for (const std::string& name : typed->names()) {
        if (std::ranges::find(predictors, name) != predictors.end() || constants.contains(name)) continue;
        names.push_back(name);
        parameters.push_back({name, "", ""});
    }
    if (names.empty())
        return failure("no-parameters", "The equation “" + std::string(text) +
                                            "” has no parameters to fit: every name other than " +
                                            joined(predictors, ", ") + " and the functions becomes one.");
    // Constants are inputs that are the same everywhere: put in as numbers.
    const auto expression = formula::withConstants(*typed, constants);
    auto program = formula::Program::compile(expression, predictors, names);
    if (!program) return std::unexpected(program.error());
    auto rules = rulesOf(starts, parameters);
    if (!rules) return std::unexpected(rules.error());
    Guess guess = guessOf(std::move(*rules), parameters);
    return std::make_shared<FormulaModel>(typed->text(), std::move(*program), predictors.size(),
                                          std::move(parameters), std::vector<DerivedInfo>(),
                                          std::move(guess));
}

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
                                "is no function, constant or attribute of the dataset becomes a parameter. "
                                "Lines before the last name intermediate values."},
                       {.key = "starts",
                        .label = "Start rules",
                        .kind = SettingKind::Text,
                        .fallback = Value(std::string()),
                        .help = "Formulas over the columns x and y, as “a = max(y); b = 1/mean(x)”.",
                        .whenEmpty = "none"}}},
         [](const Settings& settings) {
             auto made = equationModel(textOf(settings));
             return made ? *made : nullptr;
         },
         [](const Settings& settings, const ModelContext& context) {
             return equationModel(textOf(settings), predictorNames(context.predictors), context.constants,
                                  settings.text("starts"));
         }}};
}

} // namespace jointer::models
