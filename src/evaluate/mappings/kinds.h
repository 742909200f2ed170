// SPDX-License-Identifier: GPL-3.0-or-later
// What the kinds of mappings share: guesses of columns, sentences of checks, points put in order.
#pragma once

#include "base/text.h"
#include "evaluate/cells.h"
#include "evaluate/mapping.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::evaluate {

inline const Slot kLabelSlot = {
    .role = Role::Label, .label = "label", .help = "A name for each point.", .maybeWords = true};
inline const Slot kClassSlot = {
    .role = Role::Class, .label = "class", .help = "What points are told apart by.", .maybeWords = true};

inline void problem(Check& check, std::string text) {
    check.issues.push_back({"mapping", std::move(text), {}});
}
inline void addFact(Check& check, std::string text) {
    check.value.push_back(std::move(text));
}
inline long long finiteCells(const Column& c) {
    return std::ranges::count_if(c.numbers(), [](double v) { return std::isfinite(v); });
}

inline bool isFree(const Column& c, const Roles& taken) {
    return std::ranges::none_of(taken, [&](const RoleBinding& b) { return b.column == c.id; });
}

// The first free column that fits takes the slot.
template <class Fits> void takeFirst(const Slot& slot, const Table& table, Roles& out, Fits fits) {
    for (const Column& c : table.columns)
        if (isFree(c, out) && fits(c)) return void(out.push_back({slot.role, c.id, slot.of}));
}
// All of them do.
template <class Fits> void takeAll(const Slot& slot, const Table& table, Roles& out, Fits fits) {
    for (const Column& c : table.columns)
        if (isFree(c, out) && fits(c)) out.push_back({slot.role, c.id, slot.of});
}

// Words: names, one for each row, for a label; what several rows share for a class.
inline void takeWords(const Slot& slot, const Table& table, Roles& out) {
    takeFirst(slot, table, out, [&](const Column& c) {
        if (c.isNumeric()) return false;
        std::set<std::string_view> seen;
        const auto shared = std::ranges::any_of(
            c.cells->texts, [&](const std::string& t) { return !t.empty() && !seen.insert(t).second; });
        return shared == (slot.role == Role::Class);
    });
}

// Cells as categories 1, 2, 3… in the order in which they first appear: words as they are, numbers as the table
// shows them. A cell without a value has no place (NaN).
struct Categories {
    std::vector<double> places; // of each row
    std::vector<std::string> names;
};
Categories categoriesOf(const Column& column, std::size_t rows);

// The columns of the parts A, B and C of a mixture; fewer where one has none.
std::vector<const Column*> threeParts(const Table& table, const Roles& roles);

// Points of two predictors in order of x; only where everything is a number.
struct Point {
    double x, more, y;
    std::uint32_t row;
};
void takePoints(std::vector<Point> points, Curve& curve);

// One file each.
MappingKind curveMapping();
MappingKind surfaceMapping();
MappingKind gridMapping();
MappingKind groupsMapping();
MappingKind samplesMapping();
MappingKind ionsMapping();
MappingKind compositionMapping();
MappingKind vectorsMapping();

} // namespace jointer::evaluate
