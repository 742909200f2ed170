// SPDX-License-Identifier: GPL-3.0-or-later
// Actions on groups: marks become one, curves are moved apart, coloured, labelled, ordered.
#include "figure/actions.h"
#include "figure/marks/mark.h"
#include "figure/on_panels.h"

#include <algorithm>

namespace jointer::figure {

namespace {

bool showsData(const Element& e) {
    const MarkKind* kind = markCatalogue().find(e.kind);
    return kind && kind->takes != Takes::Nothing && e.kind != "bracket" && e.kind != "results-table";
}

// Marks that differ only in what they show are one mark of the group.
Result<void> gather(const Project& p, Element& panel) {
    Element group{.kind = "group"};
    References datasets;
    auto note = [&](const std::string& id) {
        if (!id.empty() && std::ranges::find(datasets, Reference{id}) == datasets.end())
            datasets.push_back({id});
    };
    std::vector<Element> rest;
    std::size_t place = panel.children.size();
    for (Element& e : panel.children) {
        if (!showsData(e)) {
            rest.push_back(std::move(e));
            continue;
        }
        place = std::min(place, rest.size());
        if (DatasetId::fromText(e.source)) note(e.source);
        const auto a = p.analyses.find(AnalysisId::fromText(e.source));
        if (a)
            for (const AnalysisInput& in : a->inputs) note(in.dataset.text());
        Settings common = e.settings;
        for (const char* own : {"label", "offset", "member"}) common.remove(own);
        const bool known =
            std::ranges::any_of(group.children, [&](const Element& c) { return c.kind == e.kind; });
        if (known) continue;
        if (e.kind != "points" || common.text("colour") == "") common.remove("colour");
        group.children.push_back({.kind = e.kind, .settings = std::move(common)});
    }
    if (datasets.empty())
        return failure("nothing-to-group", "The panel shows no datasets that could be a group.");
    group.settings.set("datasets", Value(std::move(datasets)));
    rest.insert(rest.begin() + static_cast<std::ptrdiff_t>(std::min(place, rest.size())), std::move(group));
    panel.children = std::move(rest);
    return {};
}

// The groups of a panel; where it has none its marks become one.
Edit onGroups(FigureId figure, ElementId panel, std::string name,
              std::function<void(Project&, Element& panel, Element& group)> change) {
    return onPanels(figure, panel, std::move(name), [=](Project& p, Element& e) -> Result<void> {
        if (std::ranges::find(e.children, "group", &Element::kind) == e.children.end())
            if (auto done = gather(p, e); !done) return done;
        for (std::size_t k = 0; k < e.children.size(); ++k)
            if (e.children[k].kind == "group") {
                Element group = e.children[k]; // `change` may add to the panel
                const std::size_t place = k;
                change(p, e, group);
                e.children[place] = std::move(group);
            }
        return {};
    });
}

} // namespace

Edit groupMarks(FigureId figure, ElementId panel) {
    return onPanels(figure, panel, "Make a group", [](Project& p, Element& e) { return gather(p, e); });
}

Edit stagger(FigureId figure, ElementId panel, const std::string& how) {
    return onGroups(figure, panel, "Stagger",
                    [how](Project&, Element&, Element& group) { group.settings.set("stagger", Value(how)); });
}

Edit labelCurves(FigureId figure, ElementId panel) {
    return onGroups(figure, panel, "Label the curves", [](Project&, Element& e, Element& group) {
        group.settings.set("labels", "ends");
        eachOf(e, "legend", [](Element& legend) { legend.settings.set("where", "none"); });
    });
}

Edit spreadColours(FigureId figure, ElementId panel) {
    return onGroups(figure, panel, "Colours by attribute", [](Project&, Element& e, Element& group) {
        group.settings.set("colours", "scale");
        group.settings.set("order", "attribute");
        const bool bar =
            std::ranges::any_of(e.children, [](const Element& c) { return c.kind == "colour-bar"; });
        if (!bar) e.children.push_back({.kind = "colour-bar"});
    });
}

Edit orderByAttribute(FigureId figure, ElementId panel) {
    return onGroups(figure, panel, "Order by attribute",
                    [](Project&, Element&, Element& group) { group.settings.set("order", "attribute"); });
}

Edit reverseOrder(FigureId figure, ElementId panel) {
    return onGroups(figure, panel, "Reverse the order", [](Project&, Element&, Element& group) {
        group.settings.set("reversed", Value(!group.settings.flag("reversed")));
    });
}

} // namespace jointer::figure
