// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/trend.h"

#include "base/text.h"
#include "data/kept_tables.h"
#include "figure/look.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace jointer {

namespace {

bool isOf(const RunRow& row, const TrendQuantity& q) {
    return row.analysis == q.analysis && row.quantity == q.quantity && row.subject == q.subject;
}

std::optional<std::string> wordOf(const RunCurve& curve, const std::string& attribute) {
    for (const Attribute& a : curve.attributes)
        if (a.name == attribute && !trimmed(a.value).empty()) return std::string(trimmed(a.value));
    return std::nullopt;
}

bool isNumeric(const std::vector<const RunCurve*>& curves, const std::string& attribute) {
    return std::ranges::count_if(curves, [&](const RunCurve* c) { return numberOf(c->attributes, attribute).has_value(); }) >
           1;
}

constexpr std::size_t kMostGroups = 30; // side by side

} // namespace

std::optional<std::pair<double, std::string>> numberOf(const std::vector<Attribute>& attributes,
                                                       const std::string& name) {
    const auto a = std::ranges::find(attributes, name, &Attribute::name);
    if (a == attributes.end()) return std::nullopt;
    if (const auto n = parseNumber(trimmed(a->value))) return std::pair(*n, a->unit);
    const auto blank = a->value.find(' ');
    if (blank == a->value.npos) return std::nullopt;
    if (const auto n = parseNumber(a->value.substr(0, blank)))
        return std::pair(*n, std::string(trimmed(a->value.substr(blank))));
    return std::nullopt;
}

std::string TrendQuantity::name() const {
    if (subject.empty()) return quantity;
    return quantity + " of " + (parseNumber(subject) ? "peak " + subject : subject);
}

std::vector<TrendQuantity> trendQuantities(const std::vector<const RunCurve*>& curves) {
    std::vector<std::pair<TrendQuantity, int>> seen;
    std::map<std::string, std::size_t> at;
    for (const RunCurve* c : curves)
        for (const RunRow& r : c->rows) {
            if (r.quantity.empty() || !std::isfinite(r.value)) continue;
            const auto [place, fresh] =
                at.try_emplace(r.analysis + "\n" + r.subject + "\n" + r.quantity, seen.size());
            if (fresh) seen.push_back({{r.analysis, r.quantity, r.subject, r.unit}, 0});
            ++seen[place->second].second;
        }
    std::vector<TrendQuantity> out;
    for (const auto& [q, n] : seen)
        if (n > 1) out.push_back(q);
    return out;
}

std::vector<std::string> trendAttributes(const std::vector<const RunCurve*>& curves) {
    std::vector<std::string> numeric, groups;
    std::map<std::string, std::set<std::string>> words;
    for (const RunCurve* c : curves)
        for (const Attribute& a : c->attributes) {
            if (!words.contains(a.name)) (isNumeric(curves, a.name) ? numeric : groups).push_back(a.name);
            words[a.name].insert(wordOf(*c, a.name).value_or(std::string()));
        }
    std::erase_if(groups, [&](const std::string& name) {
        const std::size_t n = words[name].size();
        return n < 2 || n > kMostGroups || 2 * n > curves.size();
    });
    numeric.emplace_back();
    std::ranges::move(groups, std::back_inserter(numeric));
    return numeric;
}

Table trendTable(const std::vector<const RunCurve*>& curves, const TrendQuantity& quantity,
                 const std::string& attribute) {
    std::vector<std::string> names, groups;
    std::vector<double> x, y, error;
    const bool grouped = !attribute.empty() && !isNumeric(curves, attribute);
    std::string xUnit, yUnit = quantity.unit;
    double place = 0;
    for (const RunCurve* c : curves) {
        ++place;
        const std::string group = grouped ? wordOf(*c, attribute).value_or(std::string()) : std::string();
        if (grouped && group.empty()) continue;
        const auto at = attribute.empty() || grouped
                            ? std::pair(place, std::string())
                            : numberOf(c->attributes, attribute).value_or(std::pair(std::nan(""), std::string()));
        const auto row = std::ranges::find_if(c->rows, [&](const RunRow& r) { return isOf(r, quantity); });
        if (row == c->rows.end() || !std::isfinite(row->value) || !std::isfinite(at.first)) continue;
        names.push_back(c->dataset);
        x.push_back(at.first);
        groups.push_back(group);
        y.push_back(row->value);
        error.push_back(row->error);
        if (xUnit.empty()) xUnit = at.second;
    }
    const std::string by = attribute.empty() ? "number" : attribute;
    Table out{.name = quantity.name() + " over " + by};
    const auto n = static_cast<long long>(names.size());
    out.origin.metadata = {{kKeptFrom, fmt::format("{} of {}", quantity.name(), counted(n, "dataset"))}};
    out.columns = {textColumn("dataset", std::move(names)),
                   grouped ? textColumn(by, std::move(groups)) : numberColumn(by, xUnit, std::move(x)),
                   numberColumn(quantity.name(), yUnit, std::move(y)),
                   numberColumn("error", yUnit, std::move(error))};
    const Role roles[] = {Role::Label, Role::X, Role::Y, Role::YError};
    for (std::size_t i = 0; i < out.columns.size(); ++i) out.columns[i].role = roles[i];
    return out;
}

Edit keepTrend(Table trend) {
    return {"Keep trend", {}, [trend = std::move(trend)](const Project& before) -> Result<Project> {
                Project after = before;
                Table table = trend;
                table.id = after.newId<TableId>();
                Dataset d{.id = after.newId<DatasetId>(), .name = table.name};
                d.colour = figure::palette()[after.datasets.size() % figure::palette().size()];
                d.source.table = table.id;
                const bool known = std::ranges::any_of(table.columns.back().numbers(),
                                                       [](double e) { return std::isfinite(e) && e > 0; });
                for (Column& c : table.columns) {
                    c.id = after.newId<ColumnId>();
                    if (c.role != Role::YError || known) d.source.roles.push_back({c.role, c.id});
                }
                after.tables = after.tables.with(std::move(table));
                after.datasets = after.datasets.with(std::move(d));
                return after;
            }};
}

} // namespace jointer
