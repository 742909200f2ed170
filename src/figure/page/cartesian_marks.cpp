// SPDX-License-Identifier: GPL-3.0-or-later
// The marks of a panel: made from its elements and groups, named, and told to the legend.
#include "data/column_names.h"
#include "figure/page/cartesian.h"
#include "figure/page/live_text.h"

namespace jointer::figure {

using namespace draw;

void Cartesian::addMark(MarkPtr mark, const Element& e, const std::string& x, const std::string& y) {
    if (!mark) return;
    if (const std::string own = e.settings.text("label"); !own.empty() && mark->label == own)
        mark->label = liveText(page_, e, own);
    Drawn d{std::move(mark), markCatalogue().find(e.kind), axisFor(x, true), axisFor(y, false)};
    d.x->takeMeaning(*d.mark);
    d.y->takeMeaning(*d.mark);
    marks_.push_back(std::move(d));
}

void Cartesian::makeMarks() {
    auto prepare = [&](const Element& e, const std::string& source, Settings looks) {
        return prepareMark({.project = page_.project,
                            .evaluator = page_.evaluator,
                            .element = e,
                            .source = source,
                            .look = Look(kindOf(e.kind), e.settings, page_.style, std::move(looks)),
                            .effort = page_.target.effort,
                            .palette = page_.look.text("palette"),
                            .ink = page_.text.colour,
                            .projection = projection()});
    };
    const Element& from = marksFrom_ ? *marksFrom_ : element_;
    for (const Element& e : from.children) {
        if (isMark(e.kind))
            addMark(prepare(e, e.source, {}), e, e.settings.reference("x-axis"),
                    e.settings.reference("y-axis"));
        if (e.kind != "group") continue;
        GroupMembers group = membersOf(page_, e);
        const bool inLegend = group.look.text("labels") == "legend" && !group.scale;
        for (GroupMember& m : group.members)
            for (const Element& each : e.children) {
                if (!isMark(each.kind)) continue;
                const std::string source = sourceFor(page_, each, m.dataset->id);
                if (source.empty()) continue;
                if (source.starts_with('a')) m.looks.set("member", Value(Reference{m.dataset->id.text()}));
                MarkPtr mark = prepare(each, source, m.looks);
                if (!mark) continue;
                mark->of = m.dataset->id;
                mark->label = m.label;
                mark->named = mark->named && inLegend;
                m.marks.push_back(mark.get());
                addMark(std::move(mark), each, each.settings.reference("x-axis"),
                        each.settings.reference("y-axis"));
            }
        groups_.push_back(std::move(group));
    }
    // Ranges and the like lie behind everything else.
    std::ranges::stable_partition(marks_, [](const Drawn& d) { return d.kind->behind; });
}

// What all datasets of the panel are called alike does not tell them apart: the legend and the labels do
// without.
void Cartesian::shortenLabels() {
    std::vector<std::string> names;
    for (const Drawn& d : marks_)
        if (const auto dataset = page_.project.datasets.find(d.mark->of))
            if (const std::string name = literal(dataset->name); d.mark->label.starts_with(name))
                names.push_back(name);
    const std::string shared = sharedBeginning(names);
    if (shared.empty()) return;
    const auto shorten = [&](std::string& label) {
        if (label.starts_with(shared)) label.erase(0, shared.size());
    };
    for (Drawn& d : marks_) shorten(d.mark->label);
    for (GroupMembers& g : groups_)
        for (GroupMember& m : g.members) shorten(m.label);
}

// Marks with different lists of names share one axis: each finds its places among all of them.
void Cartesian::useCategories() {
    for (Drawn& d : marks_)
        if (!d.x->meaning.categories.empty())
            d.mark->useCategories(d.x->meaning.categories);
        else if (!d.y->meaning.categories.empty())
            d.mark->useCategories(d.y->meaning.categories);
}

void Cartesian::arrange() {
    for (const MarkKind& kind : markCatalogue()) {
        if (!kind.arrange) continue;
        std::vector<std::pair<const PanelAxis*, std::vector<Mark*>>> byAxis;
        for (Drawn& d : marks_) {
            if (d.kind != &kind) continue;
            const PanelAxis* on = d.mark->isVertical() ? d.x : d.y;
            auto at = std::ranges::find(byAxis, on, [](const auto& pair) { return pair.first; });
            if (at == byAxis.end()) at = byAxis.insert(byAxis.end(), {on, {}});
            at->second.push_back(d.mark.get());
        }
        for (auto& [axis, marks] : byAxis) kind.arrange(marks);
    }
}

std::vector<LegendRow> Cartesian::legendRows() const {
    std::vector<LegendRow> rows;
    for (const Drawn& d : marks_) {
        if (d.mark->isEmpty() || !d.mark->named || d.mark->label.empty()) continue;
        if (const auto classes = d.mark->classLabels(); !classes.empty()) {
            for (std::size_t k = 0; k < classes.size(); ++k)
                if (std::ranges::find(rows, classes[k], &LegendRow::label) == rows.end())
                    rows.push_back({d.mark.get(), classes[k], {d.mark.get()}, k});
            continue;
        }
        // Marks of one dataset in a group have one row, in which they lie upon each other.
        const bool inGroup = std::ranges::any_of(groups_, [&](const GroupMembers& g) {
            return std::ranges::any_of(g.members, [&](const GroupMember& m) {
                return std::ranges::find(m.marks, d.mark.get()) != m.marks.end();
            });
        });
        const auto same = std::ranges::find_if(rows, [&](const LegendRow& r) {
            return inGroup && r.mark->of == d.mark->of && r.label == d.mark->label;
        });
        if (same != rows.end())
            same->upon.push_back(d.mark.get());
        else
            rows.push_back({d.mark.get(), d.mark->label, {d.mark.get()}});
    }
    return rows;
}

} // namespace jointer::figure
