// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/model_parts.h"

#include "formula/expression.h"
#include "models/catalogue.h"

#include <algorithm>
#include <functional>

namespace jointer::analyses {

namespace {

bool isComposed(const ModelNode& model) {
    return models::combiners().find(model.kind) != nullptr;
}

std::string suffixOf(int component) {
    return models::nameInWhole("", component);
}

// Rows of a setting with the text under a key changed; an emptied text takes its row away.
void changeRows(Settings& settings, const char* list, const char* key,
                const std::function<std::string(const std::string&)>& how) {
    RowList rows = settings.rows(list);
    if (rows.empty()) return;
    for (Settings& row : rows) row.set(key, Value(how(row.text(key))));
    std::erase_if(rows, [&](const Settings& row) { return row.text(key).empty(); });
    if (rows.empty())
        settings.remove(list);
    else
        settings.set(list, Value(std::make_shared<const RowList>(std::move(rows))));
}

// Every name of a parameter gets the one that `other` gives; empty: as it is.
void renameParameters(Analysis& fit, const std::function<std::string(const std::string&)>& other) {
    const auto inFormula = [&](const std::string& text) { return formula::renamed(text, other); };
    for (ParameterChoice& p : fit.parameters) {
        if (const std::string name = other(p.name); !name.empty()) p.name = name;
        if (!p.tie.empty()) p.tie = inFormula(p.tie);
    }
    changeRows(fit.settings, "derive", "formula", inFormula);
    changeRows(fit.settings, "schedule", "release", inFormula);
}

} // namespace

int addPart(Analysis& fit, ModelNode part) {
    if (!isComposed(fit.model)) {
        ModelNode first = std::move(fit.model);
        first.component = 1;
        fit.model = {.kind = "sum", .children = {std::move(first)}};
        renameParameters(fit, [](const std::string& name) { return models::nameInWhole(name, 1); });
    }
    int number = 0;
    for (const ModelNode& child : fit.model.children) number = std::max(number, child.component);
    part.component = ++number;
    fit.model.children.push_back(std::move(part));
    return number;
}

void removePart(Analysis& fit, int component) {
    auto& children = fit.model.children;
    if (!isComposed(fit.model) || children.size() < 2 ||
        std::erase_if(children, [&](const ModelNode& c) { return c.component == component; }) == 0)
        return;
    const std::string gone = suffixOf(component);
    std::erase_if(fit.parameters, [&](const ParameterChoice& p) {
        return p.name.ends_with(gone) || p.tie.find(gone) != std::string::npos;
    });
    const auto withoutGone = [&](const std::string& text) {
        return text.find(gone) == text.npos ? text : std::string();
    };
    changeRows(fit.settings, "derive", "formula", withoutGone);
    changeRows(fit.settings, "schedule", "release", withoutGone);
    if (children.size() > 1) return;
    ModelNode last = std::move(children.front());
    const std::string suffix = suffixOf(last.component);
    last.component = 0;
    fit.model = std::move(last);
    renameParameters(fit, [&](const std::string& name) {
        return name.ends_with(suffix) ? name.substr(0, name.size() - suffix.size()) : std::string();
    });
}

void replacePart(Analysis& fit, int component, ModelNode part) {
    ModelNode& old = partOf(fit.model, component);
    const std::string gone = suffixOf(old.component);
    part.component = old.component;
    if (&old == &fit.model) {
        fit.parameters.clear();
        fit.settings.remove("schedule");
    } else
        std::erase_if(fit.parameters, [&](const ParameterChoice& p) { return p.name.ends_with(gone); });
    old = std::move(part);
}

ModelNode& partOf(ModelNode& model, int component) {
    return const_cast<ModelNode&>(partOf(std::as_const(model), component));
}

const ModelNode& partOf(const ModelNode& model, int component) {
    const auto at = std::ranges::find(model.children, component, &ModelNode::component);
    return component == 0 || at == model.children.end() ? model : *at;
}

} // namespace jointer::analyses
