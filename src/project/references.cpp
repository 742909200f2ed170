// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/references.h"

#include "project/change_each.h"

namespace jointer {

namespace {

using Rename = std::function<std::string(const Link&)>;

// Goes through the references of one part; each gets the name that `other` gives.
class Walker {
public:
    explicit Walker(const Rename& other) : other_(other) {}

    void walk(Table& t) {
        for (Column& c : t.columns) {
            const std::string from = c.id.text();
            std::string formula;
            for (std::size_t at = 0; at < c.formula.size();) { // 'c12', and 'a4' of a fit that it follows
                const std::size_t end = c.formula[at] == '\'' ? c.formula.find('\'', at + 1) : c.formula.npos;
                const std::string name =
                    end == c.formula.npos ? std::string() : c.formula.substr(at + 1, end - at - 1);
                if (!ColumnId::fromText(name) && !AnalysisId::fromText(name) && !DatasetId::fromText(name)) {
                    formula += c.formula[at++];
                    continue;
                }
                const std::string renamed = other_({from, name, false});
                formula += "'" + (renamed.empty() ? name : renamed) + "'";
                at = end + 1;
            }
            if (formula != c.formula) c.formula = std::move(formula);
        }
    }

    void walk(Dataset& d) {
        const std::string from = d.id.text();
        visit(d.source.table, from, true);
        std::erase_if(d.source.roles, [&](RoleBinding& b) { return !visit(b.column, from, false); });
        std::erase_if(d.source.inputs, [&](DatasetId& input) { return !visit(input, from, false); });
        visit(d.source.settings, from);
        visit(d.recipe, from, false);
        for (Step& s : d.protocol) visit(s.settings, s.id.text());
    }

    void walk(Analysis& a) {
        const std::string from = a.id.text();
        const bool alone = a.inputs.size() == 1; // else the others are left
        for (AnalysisInput& in : a.inputs) {
            visit(in.dataset, from, alone);
            if (in.point.place == CurvePoint::Place::AfterStep && in.point.step) {
                if (!visit(in.point.step, from, false)) in.point = {CurvePoint::Place::End};
            }
            visit(in.weights, from);
        }
        std::erase_if(a.inputs, [](const AnalysisInput& in) { return !in.dataset; });
        std::erase_if(a.analyses, [&](AnalysisId& id) { return !visit(id, from, true); });
        std::erase_if(a.parameters, [&](ParameterChoice& p) { return !visit(p.member, from, false); });
        visit(a.model, from);
        visit(a.settings, from);
    }

    void walk(Figure& f) {
        visit(f.style, f.id.text(), false);
        visit(f.settings, f.id.text());
        for (Element& e : f.elements) walk(e);
    }

private:
    // Whether it still names something, or did not before.
    template <class IdType> bool visit(IdType& id, const std::string& from, bool needed) {
        if (!id) return true;
        id = IdType::fromText(other_({from, id.text(), needed}));
        return static_cast<bool>(id);
    }
    void visit(Settings& settings, const std::string& from) {
        settings.eachReference([&](Reference& r) { r.to = other_({from, r.to, false}); });
    }
    void visit(ModelNode& node, const std::string& from) {
        visit(node.settings, from);
        for (ModelNode& child : node.children) visit(child, from);
    }
    void walk(Element& e) {
        const std::string from = e.id.text();
        if (!e.source.empty()) e.source = other_({from, e.source, true});
        visit(e.settings, from);
        for (Element& child : e.children) walk(child);
    }
    const Rename& other_;
};

void eraseElements(std::vector<Element>& elements, const std::set<std::string>& gone) {
    std::erase_if(elements, [&](const Element& e) { return gone.contains(e.id.text()); });
    for (Element& e : elements) eraseElements(e.children, gone);
}

template <class T> void eraseParts(Parts<T>& parts, const std::set<std::string>& gone) {
    for (const std::string& id : gone)
        if (const auto own = decltype(T::id)::fromText(id)) parts = parts.without(own);
}

// Analyses all of whose datasets go.
void addEmptied(const Project& project, std::set<std::string>& gone) {
    for (const auto& a : project.analyses)
        if (!a->inputs.empty() && std::ranges::all_of(a->inputs, [&](const AnalysisInput& in) {
                return gone.contains(in.dataset.text());
            }))
            gone.insert(a->id.text());
}

// These and, by way of what needs what, all that cannot be without them.
std::set<std::string> withDependents(const Project& project, std::set<std::string> ids) {
    std::map<std::string, std::vector<std::string>> neededBy;
    eachReference(project, [&](const Link& link) {
        if (link.needed) neededBy[link.to].push_back(link.from);
    });
    for (std::size_t before = 0; before != ids.size();) {
        before = ids.size();
        std::vector<std::string> open(ids.begin(), ids.end());
        while (!open.empty()) {
            const std::string id = std::move(open.back());
            open.pop_back();
            for (const std::string& from : neededBy[id])
                if (ids.insert(from).second) open.push_back(from);
        }
        addEmptied(project, ids);
    }
    return ids;
}

} // namespace

void eachReference(const Project& project, const std::function<void(const Link&)>& visit) {
    const Rename keep = [&](const Link& link) {
        visit(link);
        return link.to;
    };
    Walker walker(keep);
    auto walk = [&](const auto& parts) {
        for (const auto& part : parts) {
            auto copy = *part;
            walker.walk(copy);
        }
    };
    walk(project.tables);
    walk(project.datasets);
    walk(project.analyses);
    walk(project.figures);
}

namespace {

std::set<std::string> shownArtwork(const Project& project) {
    std::set<std::string> ids;
    eachReference(project, [&](const Link& link) {
        if (AssetId::fromText(link.to)) ids.insert(link.to);
    });
    return ids;
}

} // namespace

Project withReferences(const Project& project, const std::function<std::string(const Link&)>& other) {
    Project out = project;
    Walker walker(other);
    const auto change = [&](auto& part) { walker.walk(part); };
    out.tables = changedEach(out.tables, change);
    out.datasets = changedEach(out.datasets, change);
    out.analyses = changedEach(out.analyses, change);
    out.figures = changedEach(out.figures, change);
    return out;
}

Project without(const Project& project, std::set<std::string> ids) {
    const std::set<std::string> gone = withDependents(project, std::move(ids));
    auto goes = [&](const auto& part) { return gone.contains(part.id.text()); };
    Project out = project;
    eraseParts(out.tables, gone);
    eraseParts(out.datasets, gone);
    eraseParts(out.analyses, gone);
    eraseParts(out.figures, gone);
    eraseParts(out.recipes, gone);
    out.tables = changedEach(out.tables, [&](Table& t) { std::erase_if(t.columns, goes); });
    out.datasets = changedEach(out.datasets, [&](Dataset& d) { std::erase_if(d.protocol, goes); });
    out.figures = changedEach(out.figures, [&](Figure& f) { eraseElements(f.elements, gone); });
    out = withReferences(out,
                         [&](const Link& link) { return gone.contains(link.to) ? std::string() : link.to; });
    if (project.assets.empty()) return out;
    const std::set<std::string> left = shownArtwork(out);
    for (const std::string& id : shownArtwork(project))
        if (!left.contains(id)) out.assets = out.assets.without(AssetId::fromText(id));
    return out;
}

} // namespace jointer
