// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/ingredients.h"

#include "analyses/fit_taking.h"
#include "analyses/model_parts.h"
#include "analyses/points_within.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

bool isOff(const models::ModelKind& kind, const Settings& given, const models::Ingredient& ingredient) {
    return kind.info.value(given, ingredient.setting) == ingredient.off;
}

void addSwitches(const ModelNode& node, std::vector<IngredientSwitch>& out) {
    if (const models::ModelKind* kind = models::catalogue().find(node.kind))
        for (const models::Ingredient& i : kind->ingredients)
            out.push_back({node.component, i.setting, i.label, !isOff(*kind, node.settings, i)});
    for (const ModelNode& child : node.children) addSwitches(child, out);
}

const models::Ingredient* ingredientOf(const models::ModelKind& kind, const std::string& setting) {
    const auto at = std::ranges::find(kind.ingredients, setting, &models::Ingredient::setting);
    return at == kind.ingredients.end() ? nullptr : &*at;
}

// How an ingredient is when it is switched on.
Value valueOn(const models::ModelKind& kind, const models::Ingredient& ingredient, bool hasResolution) {
    const Setting* setting = kind.info.find(ingredient.setting);
    if (setting->kind == SettingKind::Flag) return true;
    for (const Choice& c : setting->choices)
        if (Value(c.key) != ingredient.off && (c.key != "column" || hasResolution))
            return c.key == "width" ? Value(std::string("share")) : Value(c.key);
    return ingredient.off;
}

// Mean residual in standard deviations over some of the points, by their order in x.
double meanOver(const std::vector<double>& standardised, double from, double to) {
    const auto n = static_cast<double>(standardised.size());
    double sum = 0, count = 0;
    for (auto i = static_cast<std::size_t>(from * n); i < static_cast<std::size_t>(to * n); ++i)
        sum += standardised[i], ++count;
    return count > 0 ? sum / std::sqrt(count) : 0;
}

constexpr double kTelling = 5; // standard deviations of a mean of residuals from which it tells something

} // namespace

std::vector<IngredientSwitch> ingredientsOf(const ModelNode& model) {
    std::vector<IngredientSwitch> out;
    addSwitches(model, out);
    return out;
}

ModelNode without(ModelNode model, const IngredientSwitch& which) {
    ModelNode& part = partOf(model, which.component);
    if (const models::ModelKind* kind = models::catalogue().find(part.kind))
        if (const models::Ingredient* i = ingredientOf(*kind, which.setting))
            part.settings.set(i->setting, i->off);
    return model;
}

void switchIngredient(Analysis& fit, const IngredientSwitch& which, bool on, bool hasResolution) {
    if (!on)
        fit.model = without(std::move(fit.model), which);
    else {
        ModelNode& part = partOf(fit.model, which.component);
        const models::ModelKind* kind = models::catalogue().find(part.kind);
        const models::Ingredient* i = kind ? ingredientOf(*kind, which.setting) : nullptr;
        if (i) part.settings.set(i->setting, valueOn(*kind, *i, hasResolution));
    }
    dropGoneParameters(fit);
}

void dropGoneParameters(Analysis& fit) {
    const auto model = modelOf(fit.model);
    if (!model || fit.model.kind == "equation") return;
    const auto has = [&](std::string_view name) {
        return std::ranges::any_of((*model)->parameters(), [&](const auto& p) { return p.name == name; });
    };
    std::erase_if(fit.parameters, [&](const ParameterChoice& p) { return !has(p.name); });
    RowList steps = fit.settings.rows("schedule");
    if (steps.empty()) return;
    for (Settings& row : steps) {
        std::vector<std::string> kept;
        const std::string names = row.text("release");
        for (const std::string_view name : split(names, ','))
            if (has(trimmed(name))) kept.emplace_back(trimmed(name));
        row.set("release", Value(joined(kept, ", ")));
    }
    std::erase_if(steps, [](const Settings& row) { return row.text("release").empty(); });
    if (steps.empty())
        fit.settings.remove("schedule");
    else
        fit.settings.set("schedule", Value(std::make_shared<const RowList>(std::move(steps))));
}

void addGhosts(const std::shared_ptr<const FitDetail>& detail, const Task& task, std::size_t member,
               const NamedCurve& common, AnalysisResult& out) {
    const auto switches = ingredientsOf(task.spec.model);
    // While something is dragged nobody looks at them.
    if (switches.empty() || member >= task.inputs.size() || task.effort != Effort::Full) return;
    const models::ModelContext context = contextOf(task, task.inputs[member]);
    const models::Model& own = *detail->taken->problem.members[member].model;
    const std::vector<double> values = detail->report.members[member].values();
    for (const IngredientSwitch& s : switches) {
        if (!s.on) continue;
        const auto model = modelOf(without(task.spec.model, s), context);
        if (!model) continue;
        std::vector<double> p;
        for (const models::ParameterInfo& info : (*model)->parameters()) {
            const auto at = std::ranges::find(own.parameters(), info.name, &models::ParameterInfo::name);
            p.push_back(at == own.parameters().end()
                            ? parseNumber(info.tie).value_or(1)
                            : values[static_cast<std::size_t>(at - own.parameters().begin())]);
        }
        NamedCurve ghost = common;
        ghost.role = "without";
        ghost.component = s.component;
        ghost.label =
            fmt::format("without {}{}", s.label, s.component > 0 ? fmt::format(" of {}", s.component) : "");
        ghost.sample = [model = *model, p = std::move(p)](const std::vector<double>& xs) {
            const std::span<const double> column(xs);
            Sampled sampled{.y = std::vector<double>(xs.size())};
            model->evaluate({&column, 1}, p, sampled.y);
            return sampled;
        };
        out.curves.push_back(std::move(ghost));
    }
}

void addTellTales(const FitDetail& detail, const Task& task, AnalysisResult& out) {
    if (detail.taken->members.size() != 1 || detail.taken->problem.members[0].sigma.empty()) return;
    const auto switches = ingredientsOf(task.spec.model);
    const auto isOffHere = [&](const char* setting) {
        const auto at = std::ranges::find(switches, setting, &IngredientSwitch::setting);
        return at != switches.end() && !at->on;
    };
    if (switches.empty()) return;
    const fit::FitMember& points = detail.taken->problem.members[0];
    const std::vector<double>& residuals = detail.report.members[0].residuals;
    std::vector<std::size_t> order(residuals.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::ranges::sort(order, {}, [&](std::size_t i) { return points.predictors[0][i]; });
    if (order.size() < 20) return;
    const double scale = detail.report.absolute ? 1 : std::max(detail.report.residualSd, 1e-300);
    std::vector<double> standardised;
    for (const std::size_t i : order) standardised.push_back(residuals[i] / (points.sigma[i] * scale));
    const auto say = [&](const char* code, const char* words) { out.issues.push_back({code, words, {}}); };
    if (isOffHere("structure") && meanOver(standardised, 0, 0.12) < -kTelling)
        say("tell-interaction",
            "The model lies above the points at small q: an interaction would hold the particles "
            "apart. Try the switch “interaction”.");
    if (isOffHere("background") && meanOver(standardised, 0.88, 1) > kTelling)
        say("tell-background",
            "The points stay above the model at large q: a flat background is missing. Try the "
            "switch “background”.");
    // Minima washed out: points above the model where it is lowest against its neighbours, below it at the
    // tops.
    double dips = 0, count = 0;
    const std::vector<double>& fitted = detail.report.members[0].fitted;
    for (std::size_t k = 2; k + 2 < order.size(); ++k) {
        const double at = fitted[order[k]];
        if (!(at < fitted[order[k - 2]] && at < fitted[order[k + 2]])) continue;
        dips += standardised[k], ++count;
    }
    if (count > 0 && dips / std::sqrt(count) > kTelling &&
        (isOffHere("distribution") || isOffHere("resolution")))
        say("tell-minima",
            "The minima of the points are shallower than those of the model: sizes are distributed, or "
            "the instrument’s resolution smears them. Try these switches.");
}

} // namespace jointer::analyses
