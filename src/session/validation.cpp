// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/validation.h"

#include "evaluate/evaluator.h"
#include "evaluate/sources.h"
#include "figure/kinds.h"
#include "models/catalogue.h"
#include "project/change_each.h"
#include "project/recipe_json.h"
#include "steps/step.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

class Validation {
public:
    explicit Validation(Project& project) : project_(project) {}

    std::vector<Issue> run() {
        project_.datasets = changedEach(project_.datasets, [this](Dataset& d) { check(d); });
        project_.analyses = changedEach(project_.analyses, [this](Analysis& a) { check(a); });
        project_.figures = changedEach(project_.figures, [this](Figure& f) {
            drop(figure::elementKinds().find("figure"), f.settings, "figure “" + f.name + "”");
            for (Element& e : f.elements) check(e, f.name);
        });
        project_.styles = changedEach(project_.styles, [this](HouseStyle& s) {
            for (auto& [kind, looks] : s.looks)
                drop(figure::elementKinds().find(kind), looks, "house style “" + s.name + "”");
        });
        for (const auto& r : Parts<Recipe>(project_.recipes))
            if (const auto good = checkRecipe(*r); !good) {
                issues_.push_back(
                    {"bad-recipe",
                     fmt::format("The recipe “{}” was taken out: {}", r->name, good.error().text),
                     {}});
                project_.recipes = project_.recipes.without(r->id);
            }
        return std::move(issues_);
    }

private:
    void drop(const KindInfo* kind, Settings& settings, const std::string& of) {
        if (!kind) return; // of a newer version
        for (Issue& issue : dropUnfit(*kind, settings)) say(issue.text, of);
    }
    void say(const std::string& what, const std::string& of) {
        issues_.push_back({"bad-setting", fmt::format("{} The default is taken ({}).", what, of), {}});
    }

    void check(Dataset& d) {
        const std::string of = "dataset “" + d.name + "”";
        if (const evaluate::SourceKind* source = evaluate::sourceCatalogue().find(d.source.kind))
            drop(&source->info, d.source.settings, of);
        for (Step& s : d.protocol)
            if (const steps::StepKind* kind = steps::catalogue().find(s.kind)) {
                if (kind->upgrade) kind->upgrade(s.settings);
                drop(&kind->info, s.settings, of);
            }
    }

    void check(Analysis& a) {
        const std::string of = "analysis “" + a.name + "”";
        if (const analyses::AnalysisKind* kind = analyses::kindOf(a)) drop(&kind->info, a.settings, of);
        check(a.model, of);
        for (AnalysisInput& in : a.inputs) {
            drop(&analyses::weightSettings(), in.weights, of);
            const auto wrong = [](const auto& piece) { return !(piece.first < piece.second); };
            if (std::erase_if(in.span.pieces, wrong) > 0) say("The span ends before it begins.", of);
        }
        for (ParameterChoice& p : a.parameters) {
            if (p.start && !std::isfinite(*p.start)) p.start.reset();
            if (p.lower <= p.upper) continue;
            say(fmt::format("The limits of {} contradict each other.", p.name), of);
            p.lower = -INFINITY;
            p.upper = INFINITY;
        }
    }

    void check(ModelNode& m, const std::string& of) {
        if (const models::ModelKind* kind = models::catalogue().find(m.kind))
            drop(&kind->info, m.settings, of);
        for (ModelNode& child : m.children) check(child, of);
    }

    void check(Element& e, const std::string& figure) {
        drop(figure::elementKinds().find(e.kind), e.settings, "figure “" + figure + "”");
        for (Element& child : e.children) check(child, figure);
    }

    Project& project_;
    std::vector<Issue> issues_;
};

// Files of the first format wrote italic and bold texts of figures with codes of their own.
void convertMarkup(Settings& settings) {
    const Settings before = settings;
    for (const auto& [key, value] : before.entries()) {
        const std::string* old = std::get_if<std::string>(&value);
        if (!old || old->find('\\') == old->npos) continue;
        std::string text;
        for (std::size_t i = 0; i < old->size(); ++i) {
            const std::string_view code = std::string_view(*old).substr(i, 3);
            if (code.starts_with("\\\\")) { // a backslash that stands for itself
                text += "\\\\";
                ++i;
            } else if (code == "\\i{" || code == "\\b{") {
                text += code[1] == 'i' ? "\\textit{" : "\\textbf{";
                i += 2;
            } else
                text += (*old)[i];
        }
        settings.set(key, Value(text));
    }
}

void convertMarkup(Element& element) {
    convertMarkup(element.settings);
    for (Element& child : element.children) convertMarkup(child);
}

void convertMarkup(Project& project) {
    project.figures = changedEach(project.figures, [](Figure& f) {
        convertMarkup(f.settings);
        for (Element& e : f.elements) convertMarkup(e);
    });
}

} // namespace

std::vector<Issue> dropUnfitSettings(Project& project) {
    return Validation(project).run();
}

Result<OpenedProject> openValidated(const std::string& path) {
    auto opened = openProject(path);
    if (!opened) return opened;
    if (opened->format < 2) convertMarkup(opened->project);
    std::ranges::move(dropUnfitSettings(opened->project), std::back_inserter(opened->issues));
    if (!opened->readOnly) addShippedStyles(opened->project);
    return opened;
}

void addShippedStyles(Project& project) {
    for (HouseStyle& style : figure::shippedStyles()) {
        const bool there =
            std::ranges::any_of(project.styles, [&](const auto& held) { return held->name == style.name; });
        if (there) continue;
        style.id = project.newId<StyleId>();
        project.styles = project.styles.with(std::move(style));
    }
}

} // namespace jointer
