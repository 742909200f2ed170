// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/variables.h"

#include "base/text.h"
#include "io/column_meaning.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <cmath>
#include <fmt/format.h>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kMostColumns = 4000;

std::string word(const Variable& v, const char* key) {
    const auto at = v.words.find(key);
    return at == v.words.end() ? std::string() : at->second;
}

void scale(Variable& v) {
    for (const char* key : {"_FillValue", "missing_value"})
        if (const auto fill = v.numbers.find(key); fill != v.numbers.end())
            for (double& x : v.values)
                if (x == fill->second) x = kNaN;
    const auto factor = v.numbers.find("scale_factor"), offset = v.numbers.find("add_offset");
    const double a = factor == v.numbers.end() ? 1 : factor->second,
                 b = offset == v.numbers.end() ? 0 : offset->second;
    if (a != 1 || b != 0)
        for (double& x : v.values) x = x * a + b;
}

struct Since {
    double step, start;
    bool utc;
};

// "minutes since 2031-05-02 06:00:00"
std::optional<Since> sinceOf(const Variable& v) {
    const std::string units = word(v, "units"), calendar = lowerAscii(word(v, "calendar"));
    const std::size_t at = units.find(" since ");
    if (at == units.npos || (!calendar.empty() && calendar != "standard" && calendar != "gregorian" &&
                             calendar != "proleptic_gregorian"))
        return std::nullopt;
    static const std::map<std::string, double, std::less<>> steps = {{"second", 1},
                                                                     {"sec", 1},
                                                                     {"s", 1},
                                                                     {"minute", 60},
                                                                     {"min", 60},
                                                                     {"hour", 3600},
                                                                     {"hr", 3600},
                                                                     {"h", 3600},
                                                                     {"day", 86400},
                                                                     {"d", 86400},
                                                                     {"millisecond", 1e-3},
                                                                     {"ms", 1e-3},
                                                                     {"microsecond", 1e-6},
                                                                     {"week", 604800}};
    std::string unit = lowerAscii(trimmed(std::string_view(units).substr(0, at)));
    auto step = steps.find(unit);
    if (step == steps.end() && unit.ends_with('s')) step = steps.find(unit.substr(0, unit.size() - 1));
    const auto start = momentOf(std::string_view(units).substr(at + 7), DateOrder::YearMonthDay);
    if (step == steps.end() || !start ||
        (start->kind != ColumnKind::Date && start->kind != ColumnKind::DateTime))
        return std::nullopt;
    return Since{step->second, start->seconds, start->utc};
}

Column columnOf(const Variable& v, std::string name, std::vector<double> values) {
    std::string unit = word(v, "units");
    const auto since = sinceOf(v);
    if (since)
        for (double& x : values) x = std::round((since->start + x * since->step) * 1e6) / 1e6;
    Column c = numberColumn(std::move(name), since ? "" : unit == "1" ? "" : unit, std::move(values));
    if (since) c.kind = ColumnKind::DateTime, c.utc = since->utc;
    if (v.isBoolean || word(v, "kind") == "boolean") c.kind = ColumnKind::Boolean;
    if (word(v, "kind") == "duration") c.kind = ColumnKind::Duration;
    if (const std::string label = word(v, "long_name"); !label.empty() && label != c.name) c.comment = label;
    return c;
}

Column wholeColumn(Variable& v) {
    if (v.texts.empty()) return columnOf(v, v.name, std::move(v.values));
    Column c = textColumn(v.name, std::move(v.texts));
    c.unit = word(v, "units");
    c.comment = word(v, "long_name");
    std::vector<Issue> none;
    if (word(v, "kind") != "text") interpretTexts(c, {}, none);
    return c;
}

std::string labelOf(const std::string& group) {
    return group.empty() ? "" : group.substr(1);
}

// One column for each place along the further dimensions; named by the coordinate where there is one.
void addMatrix(const Variable& v, const std::vector<Variable>& all, ReadResult& out) {
    const std::size_t rows = v.sizes[0], across = rows == 0 ? 0 : v.values.size() / rows;
    if (across == 0) return;
    if (across > kMostColumns) {
        out.issues.push_back(
            {"too-many-columns",
             fmt::format("“{}” has {} values for each of its {} rows and is left out.", v.name, across, rows),
             {}});
        return;
    }
    auto coordinate = [&](std::size_t axis) -> const Variable* {
        const auto at = std::ranges::find_if(all, [&](const Variable& o) {
            return o.group == v.group && o.sizes.size() == 1 && o.axes[0] == v.axes[axis] &&
                   (o.name == v.axes[axis] || o.isScale) && o.texts.empty();
        });
        return at == all.end() ? nullptr : &*at;
    };
    std::vector<Column> columns;
    if (const Variable* c = coordinate(0)) columns.push_back(columnOf(*c, c->name, c->values));
    const Variable* along = v.sizes.size() == 2 ? coordinate(1) : nullptr;
    for (std::size_t k = 0; k < across; ++k) {
        std::vector<double> values(rows);
        for (std::size_t i = 0; i < rows; ++i) values[i] = v.values[i * across + k];
        columns.push_back(columnOf(v,
                                   along ? fmt::format("{} {}", v.name, shortestNumber(along->values[k]))
                                   : across > 1 ? fmt::format("{} {}", v.name, k + 1)
                                                : v.name,
                                   std::move(values)));
    }
    if (v.sizes.size() > 2)
        out.issues.push_back(
            {"flattened",
             fmt::format("“{}” has {} dimensions; all but the first lie side by side as columns.", v.name,
                         v.sizes.size()),
             {}});
    const std::string group = labelOf(v.group);
    out.tables.push_back(
        madeTable(group.empty() ? v.name : group + "/" + v.name, std::move(columns), out.issues));
}

// "scan/time", but "scan, 3 rows".
const char* between(const std::string& name, const std::string& axis) {
    return name.empty() ? "" : axis.ends_with(" rows") ? ", " : "/";
}

} // namespace

void addTables(std::vector<Variable> variables, ReadResult& out) {
    for (Variable& v : variables) scale(v);
    std::vector<std::pair<std::string, std::string>> keys; // group, axis
    for (Variable& v : variables) {
        if (v.count() == 0 && !v.sizes.empty()) continue;
        if (v.sizes.empty() || (v.sizes.size() == 1 && v.sizes[0] == 1 && v.axes[0].empty())) {
            const std::string name = (labelOf(v.group).empty() ? "" : labelOf(v.group) + "/") + v.name;
            if (v.count() > 0)
                out.metadata.emplace_back(
                    name, v.texts.empty() ? trimmed(shortestNumber(v.values[0]) + " " + word(v, "units"))
                                          : v.texts[0]);
        } else if (v.sizes.size() == 1 &&
                   std::ranges::find(keys, std::pair(v.group, v.axes[0])) == keys.end())
            keys.emplace_back(v.group, v.axes[0]);
    }
    std::vector<ReadTable> lists;
    for (const auto& [group, axis] : keys) {
        std::vector<Column> columns;
        for (const bool first : {true, false}) // the coordinate comes first
            for (const Variable& v : variables) {
                const bool scales = v.name == axis || v.isScale;
                if (v.group != group || v.sizes.size() != 1 || v.axes[0] != axis || v.count() == 0 ||
                    scales != first || columns.size() > kMostColumns)
                    continue;
                Variable copy = v;
                columns.push_back(wholeColumn(copy));
            }
        const bool coordinate = std::ranges::any_of(variables, [&](const Variable& v) {
            return v.group == group && v.sizes.size() == 1 && v.axes[0] == axis &&
                   (v.name == axis || v.isScale);
        });
        const bool used = std::ranges::any_of(variables, [&](const Variable& v) {
            return v.group == group && v.sizes.size() > 1 && std::ranges::find(v.axes, axis) != v.axes.end();
        });
        const bool alone = columns.size() == 1 && coordinate && used;
        if (columns.empty() || alone) continue; // the coordinate of a matrix is no table
        const std::string name = labelOf(group);
        lists.push_back(
            madeTable(keys.size() == 1 ? name : name + between(name, axis) + (axis.empty() ? "values" : axis),
                      std::move(columns), out.issues));
    }
    std::ranges::move(lists, std::back_inserter(out.tables));
    for (const Variable& v : variables)
        if (v.sizes.size() > 1 && v.texts.empty()) addMatrix(v, variables, out);
}

} // namespace jointer::io
