// SPDX-License-Identifier: GPL-3.0-or-later
// From a dataset to a recipe: what belongs to its way, without the data.
#include "session/recipes.h"

#include "analyses/analysis.h"
#include "base/text.h"
#include "project/references.h"
#include "project/renumber.h"
#include "session/copied_steps.h"
#include "steps/step.h"

#include <fmt/format.h>
#include <functional>

namespace jointer {

namespace {

using Ids = std::set<std::string>;

class Making {
public:
    Making(const Project& project, const Dataset& dataset, const RecipeWish& wish)
        : project_(project), data_(dataset), wish_(wish) {}

    RecipeDraft run() {
        eachReference(project_, [&](const Link& link) { names_[link.from].push_back(link.to); });
        takeDataset(data_.id);
        takeAnalyses();
        if (wish_.figures) takeFigures();
        fillParts();
        std::uint64_t next = 1;
        Renumbered made = renumbered(parts_, next);
        Recipe& recipe = draft_.recipe;
        recipe.name = wish_.name;
        for (const DatasetId id : datasets_) {
            const auto d = project_.datasets.find(id);
            const bool filled = d->source.table || id == data_.id;
            if (filled) recipe.inputs.push_back({inputName(*d), DatasetId::fromText(made.ids.at(id.text()))});
        }
        recipe.parts = std::make_shared<const Project>(std::move(made.parts));
        return std::move(draft_);
    }

private:
    // The dataset, and those that its source and its steps name; the data come first.
    void takeDataset(DatasetId id) {
        const auto d = project_.datasets.find(id);
        if (!d || std::ranges::find(datasets_, id) != datasets_.end()) return;
        datasets_.push_back(id);
        std::vector<std::string> open = names_[id.text()];
        for (const Step& s : d->protocol) std::ranges::copy(names_[s.id.text()], std::back_inserter(open));
        if (const auto t = project_.tables.find(d->source.table))
            for (const Column& c : t->columns)
                if (columnsOf(*d, *t).contains(c.id.text()))
                    std::ranges::copy(names_[c.id.text()], std::back_inserter(open));
        for (const std::string& name : open) {
            takeDataset(DatasetId::fromText(name));
            if (const auto fit = project_.analyses.find(AnalysisId::fromText(name))) takeAnalysis(*fit);
        }
    }
    // The columns that the dataset is bound to, or that its steps name, or of which such a one is computed.
    const Ids& columnsOf(const Dataset& d, const Table& t) {
        const auto [at, fresh] = columns_.try_emplace(d.id);
        Ids& wanted = at->second;
        if (!fresh) return wanted;
        std::vector<std::string> open;
        for (const RoleBinding& b : d.source.roles) open.push_back(b.column.text());
        for (const Step& s : d.protocol) std::ranges::copy(names_[s.id.text()], std::back_inserter(open));
        while (!open.empty()) {
            const std::string id = std::move(open.back());
            open.pop_back();
            if (!t.find(ColumnId::fromText(id)) || !wanted.insert(id).second) continue;
            std::ranges::copy(names_[id], std::back_inserter(open));
        }
        return wanted;
    }

    void takeAnalysis(const Analysis& a) {
        if (!analyses_.insert(a.id.text()).second) return;
        for (const AnalysisInput& in : a.inputs) takeDataset(in.dataset);
        for (const std::string& name : names_[a.id.text()]) takeDataset(DatasetId::fromText(name));
        for (const AnalysisId id : a.analyses)
            if (const auto other = project_.analyses.find(id)) takeAnalysis(*other);
    }
    void takeAnalyses() {
        for (const auto& a : analysesOf(project_, data_.id)) {
            if (a->inputs.size() == 1)
                takeAnalysis(*a);
            else
                draft_.without.push_back(fmt::format(
                    "“{}” is of several datasets together; a recipe goes through them one by one.",
                    analyses::nameOf(*a)));
        }
    }
    bool isTaken(const std::string& id) const {
        return analyses_.contains(id) ||
               std::ranges::find(datasets_, DatasetId::fromText(id)) != datasets_.end();
    }
    void takeFigures() {
        for (const auto& f : project_.figures) {
            std::size_t own = 0, others = 0;
            const std::function<void(const Element&)> count = [&](const Element& e) {
                if (!e.source.empty() && !AssetId::fromText(e.source)) ++(isTaken(e.source) ? own : others);
                for (const Element& child : e.children) count(child);
            };
            for (const Element& e : f->elements) count(e);
            if (own > 0 && others == 0) figures_.push_back(f);
            if (own > 0 && others > 0)
                draft_.without.push_back(fmt::format("The figure “{}” shows other datasets too.", f->name));
        }
    }

    void fillParts() {
        for (const DatasetId id : datasets_) {
            Dataset d = *project_.datasets.find(id);
            if (const auto t = project_.tables.find(d.source.table); t && !parts_.tables.find(t->id))
                parts_.tables = parts_.tables.with(emptied(*t));
            leaveBehind(d);
            d.attributes.clear();
            d.recipe = {};
            parts_.datasets = parts_.datasets.with(std::move(d));
        }
        for (const auto& a : project_.analyses)
            if (analyses_.contains(a->id.text())) parts_.analyses = parts_.analyses.with(*a);
        for (const auto& f : figures_) {
            parts_.figures = parts_.figures.with(*f);
            if (const auto style = project_.styles.find(f->style)) parts_.styles = parts_.styles.with(*style);
            for (const Element& e : f->elements) takeArtwork(e);
        }
    }
    void takeArtwork(const Element& e) {
        if (const auto a = project_.assets.find(AssetId::fromText(e.source)))
            parts_.assets = parts_.assets.with(*a);
        for (const Element& child : e.children) takeArtwork(child);
    }
    // The columns that any of the datasets needs, without cells.
    Table emptied(const Table& t) {
        Table out{.id = t.id, .name = t.name};
        if (t.origin.reading != "{}") out.origin.reading = t.origin.reading; // something was told
        const auto read =
            std::ranges::count_if(t.columns, [](const Column& c) { return c.formula.empty() && !c.byHand; });
        for (std::size_t place = 0; const Column& c : t.columns) {
            ++place;
            const bool needed = std::ranges::any_of(datasets_, [&](DatasetId id) {
                const auto d = project_.datasets.find(id);
                return d->source.table == t.id && columnsOf(*d, t).contains(c.id.text());
            });
            if (!needed) continue;
            Column bare{.id = c.id, .name = c.name, .unit = c.unit, .kind = c.kind, .role = c.role};
            bare.formula = c.formula;
            // Where headings differ from file to file, columns are known by their places.
            if (c.formula.empty()) bare.extra = fmt::format("{{\"place\":{},\"of\":{}}}", place, read);
            out.columns.push_back(std::move(bare));
        }
        return out;
    }

    std::string ruleFor(const Step& s, const std::string& usual) const {
        const auto at = wish_.rules.find(s.id);
        return at == wish_.rules.end() ? usual : at->second;
    }
    void leaveBehind(Dataset& d) {
        std::vector<Step> kept;
        for (Step& s : d.protocol) {
            const bool goesOn = leavePoints(d, s, kept);
            if (s.kind == "baseline") snapAnchors(d, s);
            if (goesOn) kept.push_back(s);
        }
        d.protocol = std::move(kept);
    }
    // Points by hand go; whether anything is left of the step.
    bool leavePoints(const Dataset& d, Step& s, std::vector<Step>& kept) {
        const std::size_t points = takeOffPoints(s);
        if (points == 0) return true;
        const std::string what = counted(static_cast<long long>(points), "point");
        const bool nothingLeft = isEmptied(s);
        LeftBehind left{.step = s.id};
        left.sentence = fmt::format("{} chosen by hand in “{}” of {}: another file has other points.", what,
                                    steps::nameOf(s.kind), d.name);
        if (nothingLeft) {
            left.rules = {{"none", "leave out nothing"}, {"spikes", "find spikes anew"}};
            left.rule = ruleFor(s, "none");
            if (left.rule == "spikes") kept.push_back({.id = s.id, .kind = "despike"});
        }
        draft_.left.push_back(std::move(left));
        return !nothingLeft;
    }
    void snapAnchors(const Dataset& d, Step& s) {
        const steps::StepKind* kind = steps::catalogue().find(s.kind);
        const std::size_t anchors = s.settings.numbers("anchors").size() / 2;
        if (anchors == 0 || kind->info.text(s.settings, "method") != "anchors" ||
            kind->info.text(s.settings, "place") == "on-curve")
            return;
        LeftBehind left{.step = s.id};
        left.sentence = fmt::format("The heights of {} of the baseline of {}: their x stays.",
                                    counted(static_cast<long long>(anchors), "anchor"), d.name);
        left.rules = {{"on-curve", "anchors on the curve of each file"}, {"free", "heights as they are"}};
        left.rule = ruleFor(s, "on-curve");
        if (left.rule == "on-curve") s.settings.set("place", "on-curve");
        draft_.left.push_back(std::move(left));
    }

    std::string inputName(const Dataset& d) const {
        if (d.id == data_.id) return "data";
        std::string name = d.name;
        const auto taken = [&] {
            return std::ranges::count(draft_.recipe.inputs, name, &RecipeInput::name) > 0;
        };
        for (int k = 2; taken(); ++k) name = fmt::format("{} {}", d.name, k);
        return name;
    }

    const Project& project_;
    const Dataset& data_;
    const RecipeWish& wish_;
    std::map<std::string, std::vector<std::string>> names_; // what a part names
    std::vector<DatasetId> datasets_;
    std::map<DatasetId, Ids> columns_; // of their tables, that they need
    Ids analyses_;
    std::vector<std::shared_ptr<const Figure>> figures_;
    Project parts_;
    RecipeDraft draft_;
};

} // namespace

Result<RecipeDraft> makeRecipe(const Project& project, DatasetId dataset, const RecipeWish& wish) {
    const auto d = project.datasets.find(dataset);
    if (!d) return failure("target-gone", "The dataset is no longer there.");
    return Making(project, *d, wish).run();
}

} // namespace jointer
