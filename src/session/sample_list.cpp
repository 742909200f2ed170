// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/sample_list.h"

#include "base/text.h"
#include "session/import.h"

#include <map>

namespace jointer {

namespace {

constexpr std::size_t kMostSamples = 20000; // a longer table is none

// What of a name counts: no case, no blanks around it, no ending such as ".csv".
std::string bareName(std::string_view name) {
    std::string bare = lowerAscii(trimmed(name));
    const std::size_t dot = bare.rfind('.');
    const bool ending = dot != bare.npos && dot > 0 && bare.size() - dot <= 5 && bare.size() - dot > 1 &&
                        !parseNumber(bare.substr(dot));
    return ending ? bare.substr(0, dot) : bare;
}

// The datasets by their names, and by those of their tables.
class Named {
public:
    explicit Named(const Project& project) {
        for (const auto& d : project.datasets) {
            add(d->name, d->id);
            if (const auto t = project.tables.find(d->source.table)) add(t->name, d->id);
        }
    }
    const std::vector<DatasetId>& of(std::string_view name) const {
        static const std::vector<DatasetId> none;
        const auto at = all_.find(bareName(name));
        return at == all_.end() ? none : at->second;
    }

private:
    void add(std::string_view name, DatasetId id) {
        auto& ids = all_[bareName(name)];
        if (!name.empty() && std::ranges::find(ids, id) == ids.end()) ids.push_back(id);
    }
    std::map<std::string, std::vector<DatasetId>> all_;
};

// The name in a cell; "7 d" was read as a number with its unit.
std::string nameIn(const Column& column, std::size_t row, const Named& named) {
    const std::string text = cellText(column, row);
    const std::string whole = column.unit.empty() || text.empty() ? text : text + " " + column.unit;
    return named.of(text).empty() && !named.of(whole).empty() ? whole : text;
}

std::size_t namedRows(const Column& column, const Named& named) {
    std::size_t n = 0;
    for (std::size_t row = 0; row < column.cells->size(); ++row)
        n += !named.of(nameIn(column, row, named)).empty();
    return n;
}

} // namespace

Result<SampleList> sampleList(const Project& project, const Table& list) {
    const Named named(project);
    const auto key = list.rowCount() > kMostSamples
                         ? list.columns.end()
                         : std::ranges::max_element(list.columns, {},
                                                    [&](const Column& c) { return namedRows(c, named); });
    if (key == list.columns.end() || list.columns.size() < 2 ||
        3 * namedRows(*key, named) < 2 * list.rowCount() || list.rowCount() == 0)
        return failure("no-names",
                       "No column of the list names datasets of the project, with more columns beside it.");
    std::map<DatasetId, std::vector<Attribute>> given;
    SampleList out;
    for (std::size_t row = 0; row < list.rowCount(); ++row) {
        const std::string name = nameIn(*key, row, named);
        if (trimmed(name).empty()) continue;
        if (named.of(name).empty()) out.unknown.push_back(name);
        for (DatasetId id : named.of(name))
            for (const Column& c : list.columns)
                if (const std::string value = cellText(c, row); &c != &*key && !trimmed(value).empty())
                    setAttribute(given[id], {.name = c.name, .value = value, .unit = c.unit});
    }
    std::vector<Edit> all;
    for (const auto& d : project.datasets) {
        const auto at = given.find(d->id);
        if (at == given.end()) {
            out.unnamed.push_back(d->name);
            continue;
        }
        all.push_back(edits::changeDataset(d->id, "", [attributes = at->second](Dataset& changed) {
            for (const Attribute& a : attributes) setAttribute(changed.attributes, a);
        }));
    }
    out.datasets = all.size();
    if (all.empty()) return failure("no-names", "The list says nothing of the datasets that it names.");
    const std::string name = "Attributes of " + counted(std::ssize(all), "dataset");
    out.edit = edits::together(name, std::move(all));
    return out;
}

} // namespace jointer
