// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/edit.h"

#include "base/text.h"
#include "data/column_names.h"
#include "project/references.h"

#include <fmt/format.h>
#include <set>

namespace jointer {

namespace {

std::unexpected<Issue> gone(const char* what) {
    return failure("target-gone", std::string("The ") + what + " is no longer there.");
}

// An edit that changes one part of the project in place of the old one.
template <class T, class IdType>
Edit changing(Parts<T> Project::*parts, IdType id, const char* what, std::string name, std::string mergeKey,
              std::function<Result<void>(Project&, T&)> change) {
    return {std::move(name), std::move(mergeKey), [=](const Project& before) -> Result<Project> {
                const auto part = (before.*parts).find(id);
                if (!part) return gone(what);
                Project after = before;
                T copy = *part;
                if (auto done = change(after, copy); !done) return std::unexpected(done.error());
                after.*parts = (after.*parts).with(std::move(copy));
                return after;
            }};
}

template <class T> Edit adding(Parts<T> Project::*parts, T part, std::string name) {
    return {std::move(name), {}, [=](const Project& before) -> Result<Project> {
                Project after = before;
                T made = part;
                if (!made.id) made.id = after.newId<decltype(made.id)>();
                after.*parts = (after.*parts).with(std::move(made));
                return after;
            }};
}

Edit changingStep(DatasetId dataset, StepId step, std::string name, std::string mergeKey,
                  std::function<void(Step&)> change) {
    return changing<Dataset>(&Project::datasets, dataset, "dataset", std::move(name), std::move(mergeKey),
                             [=](Project&, Dataset& d) -> Result<void> {
                                 Step* s = d.find(step);
                                 if (!s) return gone("step");
                                 change(*s);
                                 return {};
                             });
}

// An edit that takes a part out, with all that needs it.
template <class T, class IdType> Edit removing(Parts<T> Project::*parts, IdType id, const char* what) {
    return {std::string("Remove ") + what, {}, [=](const Project& before) -> Result<Project> {
                if (!(before.*parts).find(id)) return gone(what);
                return without(before, {id.text()});
            }};
}

} // namespace

namespace edits {

Edit addTable(Table table) {
    return {"Import " + table.name, {}, [=](const Project& before) -> Result<Project> {
                Project after = before;
                Table made = table;
                if (!made.id) made.id = after.newId<TableId>();
                for (Column& c : made.columns)
                    if (!c.id) c.id = after.newId<ColumnId>();
                after.tables = after.tables.with(std::move(made));
                return after;
            }};
}

Edit onTable(TableId id, std::string name, std::function<Result<void>(Project&, Table&)> change) {
    return changing<Table>(&Project::tables, id, "table", std::move(name), {}, std::move(change));
}

Edit changeTable(TableId id, std::string name, std::function<void(Table&)> change) {
    return onTable(id, std::move(name), [=](Project&, Table& t) -> Result<void> {
        change(t);
        return {};
    });
}

Edit changeColumn(TableId table, ColumnId column, std::string name, std::function<void(Column&)> change) {
    return onTable(table, std::move(name), [=](Project&, Table& t) -> Result<void> {
        const auto at = std::ranges::find(t.columns, column, &Column::id);
        if (at == t.columns.end()) return gone("column");
        change(*at);
        return {};
    });
}

Edit removeTable(TableId id) {
    return removing(&Project::tables, id, "table");
}

Edit setFormula(TableId table, ColumnId column, std::string formula) {
    return changing<Table>(&Project::tables, table, "table", "Change formula", {},
                           [=](Project&, Table& t) -> Result<void> {
                               const auto at = std::ranges::find(t.columns, column, &Column::id);
                               if (at == t.columns.end()) return gone("column");
                               at->formula = formula;
                               return {};
                           });
}

Edit addComputedColumn(TableId table, std::string name, std::string formula) {
    return addComputedColumn(table, {.name = std::move(name),
                                     .kind = ColumnKind::Number,
                                     .role = Role::Y,
                                     .formula = std::move(formula)});
}

Edit addComputedColumn(TableId table, Column column) {
    return changing<Table>(&Project::tables, table, "table", "Add computed column", {},
                           [column = std::move(column)](Project& p, Table& t) -> Result<void> {
                               t.columns.push_back(column);
                               t.columns.back().id = p.newId<ColumnId>();
                               return {};
                           });
}

Edit addDataset(Dataset dataset) {
    return adding(&Project::datasets, std::move(dataset), "Make dataset");
}

Edit removeDataset(DatasetId id) {
    return removing(&Project::datasets, id, "dataset");
}

namespace {

// Of a dataset over several columns of a table: by what their names have in common, if anything.
std::string joinedName(const Table& table, const Dataset& d) {
    std::vector<const Column*> ys;
    for (const RoleBinding& b : d.source.roles)
        if (const Column* c = b.role == Role::Y ? table.find(b.column) : nullptr) ys.push_back(c);
    if (ys.empty()) return table.name;
    const std::string common = commonName(ys);
    return common == ys.front()->name ? table.name : table.name + " · " + common;
}

} // namespace

Edit joinReplicates(std::vector<DatasetId> ids) {
    return {"Take as replicates", {}, [ids = std::move(ids)](const Project& before) -> Result<Project> {
                std::vector<Edit> list;
                std::vector<RoleBinding> more;
                const auto first = ids.size() < 2 ? nullptr : before.datasets.find(ids.front());
                if (!first) return failure("too-few", "Select two datasets or more that are replicates.");
                auto xOf = [](const Dataset& d) {
                    const auto at = std::ranges::find(d.source.roles, Role::X, &RoleBinding::role);
                    return at == d.source.roles.end() ? ColumnId{} : at->column;
                };
                for (DatasetId id : std::span(ids).subspan(1)) {
                    const auto d = before.datasets.find(id);
                    if (!d) return gone("dataset");
                    if (first->source.kind != "columns" || d->source.kind != "columns" ||
                        d->source.table != first->source.table || xOf(*d) != xOf(*first))
                        return failure("not-replicates",
                                       fmt::format("“{}” and “{}” are not columns of one table over the "
                                                   "same x: they cannot be replicates of each other.",
                                                   first->name, d->name));
                    std::ranges::copy_if(d->source.roles, std::back_inserter(more),
                                         [](const RoleBinding& b) { return b.role == Role::Y; });
                    list.push_back(removeDataset(id));
                }
                list.push_back(changeDataset(ids.front(), {}, [&](Dataset& d) {
                    d.source.roles.insert(d.source.roles.end(), more.begin(), more.end());
                    if (const auto t = before.tables.find(d.source.table);
                        t && d.name.starts_with(t->name + " · "))
                        d.name = joinedName(*t, d); // it is no longer one column of it
                }));
                return together({}, std::move(list)).apply(before);
            }};
}

Edit changeDataset(DatasetId id, std::string name, std::function<void(Dataset&)> change,
                   std::string mergeKey) {
    return changing<Dataset>(&Project::datasets, id, "dataset", std::move(name), std::move(mergeKey),
                             [=](Project&, Dataset& d) -> Result<void> {
                                 change(d);
                                 return {};
                             });
}

Edit addStep(DatasetId dataset, std::string kind, Settings settings, std::string name) {
    return changing<Dataset>(&Project::datasets, dataset, "dataset", std::move(name), {},
                             [=](Project& p, Dataset& d) -> Result<void> {
                                 d.protocol.push_back({p.newId<StepId>(), kind, settings, true});
                                 return {};
                             });
}

Edit setStep(DatasetId dataset, StepId step, std::string key, Value value) {
    return changingStep(dataset, step, "Change step", "step " + step.text() + " " + key, [=](Step& s) {
        if (std::holds_alternative<std::monostate>(value))
            s.settings.remove(key);
        else
            s.settings.set(key, value);
    });
}

Edit setStep(DatasetId dataset, StepId step, std::vector<std::pair<std::string, Value>> settings,
             std::string name) {
    std::string key = "step " + step.text();
    for (const auto& [setting, value] : settings) key += " " + setting;
    return changingStep(dataset, step, std::move(name), key, [=](Step& s) {
        for (const auto& [setting, value] : settings)
            if (std::holds_alternative<std::monostate>(value))
                s.settings.remove(setting);
            else
                s.settings.set(setting, value);
    });
}

Edit addSteps(DatasetId dataset, std::vector<Step> steps, std::string name) {
    return changing<Dataset>(&Project::datasets, dataset, "dataset", std::move(name), {},
                             [=](Project& p, Dataset& d) -> Result<void> {
                                 for (Step s : steps) {
                                     s.id = p.newId<StepId>();
                                     d.protocol.push_back(std::move(s));
                                 }
                                 return {};
                             });
}

Edit clearProtocol(DatasetId dataset) {
    return {"Clear protocol", {}, [=](const Project& before) -> Result<Project> {
                const auto d = before.datasets.find(dataset);
                if (!d) return gone("dataset");
                std::set<std::string> steps;
                for (const Step& s : d->protocol) steps.insert(s.id.text());
                return without(before, steps);
            }};
}

Edit switchStep(DatasetId dataset, StepId step, bool on) {
    return changingStep(dataset, step, on ? "Switch step on" : "Switch step off", {},
                        [=](Step& s) { s.on = on; });
}

Edit removeStep(DatasetId dataset, StepId step) {
    return {"Remove step", {}, [=](const Project& before) -> Result<Project> {
                const auto d = before.datasets.find(dataset);
                if (!d) return gone("dataset");
                if (!d->find(step)) return gone("step");
                return without(before, {step.text()});
            }};
}

Edit moveStep(DatasetId dataset, StepId step, int by) {
    return changing<Dataset>(
        &Project::datasets, dataset, "dataset", by < 0 ? "Move step up" : "Move step down", {},
        [=](Project&, Dataset& d) -> Result<void> {
            const auto place = d.placeOf(step);
            if (!place) return gone("step");
            const auto at = static_cast<std::ptrdiff_t>(*place);
            const auto to = std::clamp<std::ptrdiff_t>(at + by, 0, std::ssize(d.protocol) - 1);
            const Step moved = d.protocol[*place];
            d.protocol.erase(d.protocol.begin() + at);
            d.protocol.insert(d.protocol.begin() + to, moved);
            return {};
        });
}

Edit excludeRows(DatasetId dataset, std::vector<std::uint32_t> rows, bool leaveOut) {
    const std::string name =
        (leaveOut ? "Leave out " : "Take back ") + counted(static_cast<long long>(rows.size()), "point");
    return changing<Dataset>(
        &Project::datasets, dataset, "dataset", name, {}, [=](Project& p, Dataset& d) -> Result<void> {
            auto at =
                std::ranges::find_if(d.protocol, [](const Step& s) { return s.kind == "exclude" && s.on; });
            if (at == d.protocol.end()) {
                if (!leaveOut) return failure("out-by-rule", "No point of this dataset is left out by hand.");
                d.protocol.insert(d.protocol.begin(), Step{p.newId<StepId>(), "exclude", {}, true});
                at = d.protocol.begin();
            }
            const Numbers before = at->settings.numbers("rows");
            std::set<double> left(before.begin(), before.end());
            for (std::uint32_t row : rows)
                if (leaveOut)
                    left.insert(row);
                else
                    left.erase(row);
            if (!leaveOut && left.size() == before.size())
                return failure("out-by-rule", "These points are left out by a rule: change the rule of the "
                                              "step to take them back.");
            const Numbers now(left.begin(), left.end());
            at->settings.set("rows", Value(now));
            const bool nothingLeft = now.empty() && at->settings.entries().size() == 1;
            if (nothingLeft) d.protocol.erase(at);
            return {};
        });
}

Edit addAnalysis(Analysis analysis) {
    return {"Add analysis", {}, [=](const Project& before) -> Result<Project> {
                for (const AnalysisInput& in : analysis.inputs)
                    if (!before.datasets.find(in.dataset)) return gone("dataset");
                for (const AnalysisId other : analysis.analyses)
                    if (!before.analyses.find(other)) return gone("analysis");
                return adding(&Project::analyses, analysis, "Add analysis").apply(before);
            }};
}

Edit changeAnalysis(AnalysisId id, std::string name, std::function<void(Analysis&)> change,
                    std::string mergeKey) {
    return changing<Analysis>(&Project::analyses, id, "analysis", std::move(name), std::move(mergeKey),
                              [=](Project&, Analysis& a) -> Result<void> {
                                  change(a);
                                  return {};
                              });
}

Edit keepModel(UserModel model) {
    return {"Keep equation", {}, [=](const Project& before) -> Result<Project> {
                Project after = before;
                UserModel kept = model;
                for (const auto& m : before.models)
                    if (m->name == model.name) kept.id = m->id;
                if (!kept.id) kept.id = after.newId<UserModelId>();
                after.models = after.models.with(std::move(kept));
                return after;
            }};
}

Edit removeAnalysis(AnalysisId id) {
    return removing(&Project::analyses, id, "analysis");
}

Edit rename(std::string title) {
    return {"Rename project", "rename", [=](const Project& before) -> Result<Project> {
                Project after = before;
                after.title = title;
                return after;
            }};
}

Edit together(std::string name, std::vector<Edit> list) {
    return {std::move(name), {}, [list = std::move(list)](const Project& before) -> Result<Project> {
                Result<Project> now = before;
                for (const Edit& e : list) {
                    now = e.apply(*now);
                    if (!now) return now;
                }
                return now;
            }};
}

} // namespace edits

} // namespace jointer
