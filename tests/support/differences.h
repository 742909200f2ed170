// SPDX-License-Identifier: GPL-3.0-or-later
// Where two projects differ, in words: for tests that only know that they do.
#pragma once

#include "project/project_json.h"

#include <cstring>
#include <fmt/format.h>
#include <sstream>

namespace jointer::test {

// The first line in which two texts differ, as "a | b".
inline std::string firstDifference(const std::string& a, const std::string& b) {
    std::istringstream left(a), right(b);
    std::string one, other;
    while (std::getline(left, one)) {
        if (!std::getline(right, other)) return one + " | (ends)";
        if (one != other) return one + " | " + other;
    }
    return std::getline(right, other) ? "(ends) | " + other : std::string();
}

inline std::string differenceOf(const Column& a, const Column& b) {
    const Cells &x = *a.cells, &y = *b.cells;
    if (x.numbers.size() != y.numbers.size() || x.texts.size() != y.texts.size())
        return fmt::format("{} and {} cells", x.size(), y.size());
    for (std::size_t i = 0; i < x.numbers.size(); ++i)
        if (std::memcmp(&x.numbers[i], &y.numbers[i], sizeof(double)) != 0)
            return fmt::format("row {}: {} and {}", i + 1, x.numbers[i], y.numbers[i]);
    for (std::size_t i = 0; i < x.texts.size(); ++i)
        if (x.texts[i] != y.texts[i])
            return fmt::format("row {}: “{}” and “{}”", i + 1, x.texts[i], y.texts[i]);
    if (x.states != y.states)
        return fmt::format("states, {} and {} of them", x.states.size(), y.states.size());
    return x.originals != y.originals ? "what was typed" : "";
}

inline std::string differenceOf(const Project& a, const Project& b) {
    if (std::string lines = firstDifference(toJson(a).dump(1), toJson(b).dump(1)); !lines.empty())
        return lines;
    if (a.tables.size() != b.tables.size())
        return fmt::format("{} and {} tables", a.tables.size(), b.tables.size());
    for (std::size_t k = 0; k < a.tables.size(); ++k) {
        const Table &x = a.tables[k], &y = b.tables[k];
        if (std::string lines = firstDifference(toJson(x).dump(1), toJson(y).dump(1)); !lines.empty())
            return "table " + x.name + ": " + lines;
        for (std::size_t c = 0; c < std::min(x.columns.size(), y.columns.size()); ++c)
            if (const std::string cells = differenceOf(x.columns[c], y.columns[c]); !cells.empty())
                return "table " + x.name + ", column " + x.columns[c].name + ": " + cells;
        if (!(x == y)) return "table " + x.name + ", in what its file does not tell";
    }
    for (std::size_t k = 0; k < std::min(a.recipes.size(), b.recipes.size()); ++k)
        if (a.recipes[k].parts && b.recipes[k].parts && !(*a.recipes[k].parts == *b.recipes[k].parts))
            return "within a recipe: " + differenceOf(*a.recipes[k].parts, *b.recipes[k].parts);
    const auto parts = [](const auto& x, const auto& y, const char* what) -> std::string {
        for (std::size_t k = 0; k < std::min(x.size(), y.size()); ++k)
            if (!(x[k] == y[k]))
                return fmt::format("{} {}, in what the file does not tell", what, x[k].id.text());
        return x.size() == y.size() ? "" : fmt::format("the number of {}s", what);
    };
    for (const std::string& found :
         {parts(a.datasets, b.datasets, "dataset"), parts(a.analyses, b.analyses, "analysis"),
          parts(a.figures, b.figures, "figure"), parts(a.styles, b.styles, "style"),
          parts(a.recipes, b.recipes, "recipe"), parts(a.models, b.models, "model"),
          parts(a.assets, b.assets, "asset")})
        if (!found.empty()) return found;
    if (a.nextId != b.nextId) return fmt::format("the next id, {} and {}", a.nextId, b.nextId);
    if (a.unknownEntries != b.unknownEntries) return "entries of the file that are not known";
    return a == b ? "" : "in what the file does not tell";
}

} // namespace jointer::test
