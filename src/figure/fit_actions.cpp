// SPDX-License-Identifier: GPL-3.0-or-later
// What a panel can show of the fits that are drawn in it.
#include "analyses/ingredients.h"
#include "base/text.h"
#include "figure/actions.h"
#include "figure/kinds.h"
#include "figure/on_panels.h"

#include <set>

namespace jointer::figure {

Edit addResiduals(FigureId figure, ElementId panel) {
    return onPanels(figure, panel, "Residuals in a lane", [](Project& p, Element& e) -> Result<void> {
        std::vector<Element> residuals;
        for (const Element& c : e.children) {
            if (c.kind != "curve") continue;
            Element r = newMark("residuals", c.source);
            for (const char* key : {"member", "colour"})
                if (const Value* v = c.settings.find(key)) r.settings.set(key, *v);
            r.settings.set("label", "-");
            r.settings.set("size", Value(2.2));
            residuals.push_back(std::move(r));
        }
        Element* group = nullptr;
        eachOf(e, "group", [&](Element& g) { group = &g; });
        if (residuals.empty() && !group)
            return failure("no-fit", "The panel shows no fit; draw a fitted curve first.");
        // The residuals stand below, in a lane a third as high.
        const int lanes = highestLane(e);
        for (Element& a : e.children)
            if (isVertical(a)) a.settings.set("lane", lanes == 0 ? 2 : a.settings.integer("lane") + 1);
        if (Element* first = firstVertical(e); first && lanes == 0) first->settings.set("share", Value(3.0));
        Element below = newAxis(p, "left");
        below.settings.set("lane", 1);
        below.settings.set("name", "Residual");
        Element zero{.kind = "reference-line"};
        zero.settings.set("of", "y");
        zero.settings.set("label-at", "none");
        zero.settings.set("y-axis", refersTo(below));
        for (Element& r : residuals) r.settings.set("y-axis", refersTo(below));
        if (group && residuals.empty()) {
            Element r{.kind = "residuals"};
            r.settings.set("y-axis", refersTo(below));
            r.settings.set("label", "-");
            r.settings.set("size", Value(2.2));
            group->children.push_back(std::move(r));
        }
        insertAxis(e, std::move(below));
        insert(e, std::move(zero));
        for (Element& r : residuals) insert(e, std::move(r));
        return {};
    });
}

Edit labelPeaks(const Project& project, FigureId figure, ElementId panel) {
    std::set<std::string> peaks;
    for (const auto& a : project.analyses)
        if (a->kind == "peaks") peaks.insert(a->id.text());
    return onPanels(figure, panel, "Label the peaks", [peaks](Project&, Element& e) -> Result<void> {
        bool labelled = false;
        eachOf(e, "components", [&](Element& components) {
            components.settings.set("labels", "places");
            labelled = true;
        });
        if (labelled) return {};
        std::vector<Element> added;
        for (const Element& c : e.children) {
            if (c.kind != "curve" || !peaks.contains(c.source)) continue;
            Element components = newMark("components", c.source);
            if (const Value* v = c.settings.find("member")) components.settings.set("member", *v);
            components.settings.set("labels", "places");
            added.push_back(std::move(components));
        }
        eachOf(e, "group", [&](Element& group) {
            if (!added.empty() ||
                std::ranges::none_of(group.children, [](const Element& c) { return c.kind == "curve"; }))
                return;
            Element components{.kind = "components"};
            components.settings.set("labels", "places");
            group.children.push_back(std::move(components));
            labelled = true;
        });
        if (added.empty() && !labelled)
            return failure("no-peaks",
                           "The panel shows no fitted peaks; draw the fitted curve of Peaks first.");
        for (Element& components : added) insert(e, std::move(components));
        return {};
    });
}

namespace {

bool hasSizes(const Analysis& a) {
    if (a.kind == "free-sizes") return true;
    const auto ingredients = analyses::ingredientsOf(a.model);
    return a.kind == "fit" && std::ranges::any_of(ingredients, [](const analyses::IngredientSwitch& s) {
               return s.setting == "distribution" && s.on;
           });
}

} // namespace

Edit addSizes(FigureId figure, ElementId panel) {
    return edits::arrange(figure, "Distribution of sizes", [=](Project& p, Figure& f) -> Result<void> {
        std::vector<Element> marks;
        for (const Element* shown : panelsOf(f, panel))
            for (const Element& c : shown->children) {
                const auto a = p.analyses.find(AnalysisId::fromText(c.source));
                if (!a || c.kind != "curve" || !c.settings.text("role").empty() || !hasSizes(*a)) continue;
                Element sizes = newMark("curve", c.source);
                for (const char* key : {"member", "colour", "label"})
                    if (const Value* v = c.settings.find(key)) sizes.settings.set(key, *v);
                sizes.settings.set("role", "distribution");
                sizes.settings.set("named", "by volume");
                sizes.settings.set("band", "confidence");
                marks.push_back(std::move(sizes));
            }
        if (marks.empty())
            return failure(
                "no-sizes",
                "No fit that is drawn here has found a distribution of sizes: draw one of scattering "
                "first, with its distribution switched on.");
        if (marks.size() == 1) marks.front().settings.set("label", "-"); // there is nothing to tell apart
        f.elements.push_back(newPanel(marks));
        growGrid(f);
        return {};
    });
}

Edit addResultsTable(FigureId figure, ElementId panel) {
    return onPanels(figure, panel, "Table of results", [](Project& p, Element& e) -> Result<void> {
        References datasets;
        for (const Element& c : e.children) {
            const auto a = p.analyses.find(AnalysisId::fromText(c.source));
            if (a && c.kind == "curve")
                for (const AnalysisInput& in : a->inputs) datasets.push_back({in.dataset.text()});
            if (c.kind == "group")
                for (const std::string& id : c.settings.references("datasets")) datasets.push_back({id});
        }
        if (datasets.empty()) return failure("no-fit", "The panel shows no fit; draw a fitted curve first.");
        Element table{.kind = "results-table"};
        table.settings.set("datasets", Value(std::move(datasets)));
        e.children.push_back(std::move(table));
        return {};
    });
}

Edit addTableOf(FigureId figure, ElementId panel, const TableWish& wish) {
    return edits::arrange(figure, "Table of results", [=](Project&, Figure& f) -> Result<void> {
        const auto panels = panelsOf(f, panel);
        if (panels.empty()) return noPanel();
        Element table{.kind = "results-table", .source = wish.analysis ? wish.analysis.text() : ""};
        References datasets;
        for (DatasetId d : wish.datasets) datasets.push_back({d.text()});
        if (!wish.bySubject) table.settings.set("datasets", Value(std::move(datasets)));
        if (wish.bySubject) table.settings.set("rows", "subjects");
        table.settings.set("quantities", Value(joined(wish.quantities, ", ")));
        if (wish.alone) table.settings.set("x", Value(0.0)), table.settings.set("y", Value(1.0));
        panels.front()->children.push_back(std::move(table));
        return {};
    });
}

} // namespace jointer::figure
