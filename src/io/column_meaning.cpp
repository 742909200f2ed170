// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/column_meaning.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <set>

namespace jointer::io {

void interpretMoments(Column& column, const std::vector<std::string>& missing) {
    const Cells& cells = *column.cells;
    std::size_t moments = 0, filled = 0;
    ColumnKind kind = ColumnKind::Date;
    for (const std::string& t : cells.texts) {
        if (isMissing(t, missing)) continue;
        ++filled;
        const auto m = isoMoment(t);
        if (!m) {
            if (filled > 20 && 3 * moments < filled) return;
            continue;
        }
        if (moments++ == 0 || m->kind == ColumnKind::DateTime) kind = m->kind;
    }
    if (moments == 0 || 3 * (filled - moments) > filled) return;
    Cells out;
    out.numbers.assign(cells.texts.size(), std::numeric_limits<double>::quiet_NaN());
    for (std::size_t i = 0; i < cells.texts.size(); ++i) {
        if (isMissing(cells.texts[i], missing)) continue;
        if (const auto m = isoMoment(cells.texts[i])) {
            out.numbers[i] = m->seconds;
            continue;
        }
        if (out.states.empty()) out.states.resize(cells.texts.size());
        out.originals[static_cast<std::uint32_t>(i)] = cells.texts[i];
    }
    for (std::size_t i = 0; i < out.states.size(); ++i)
        out.states[i] = out.originals.contains(static_cast<std::uint32_t>(i)) ? CellState::Unreadable
                        : std::isnan(out.numbers[i])                          ? CellState::Missing
                                                                              : CellState::Fine;
    column.kind = kind;
    column.cells = std::make_shared<Cells>(std::move(out));
}

void makeNamesUnique(std::vector<std::string>& names, std::vector<Issue>& issues) {
    std::set<std::string> taken;
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i].empty()) names[i] = fmt::format("column {}", i + 1);
        const std::string wanted = names[i];
        for (int k = 2; taken.contains(names[i]); ++k) names[i] = fmt::format("{} {}", wanted, k);
        if (names[i] != wanted)
            issues.push_back(
                {"duplicate-names",
                 fmt::format("Two columns are called “{}”; this one is now “{}”.", wanted, names[i]),
                 {.column = names[i]}});
        taken.insert(names[i]);
    }
}

void suggestRoles(Table& table) {
    bool haveX = false;
    for (Column& c : table.columns) {
        const std::string name = lowerAscii(c.name);
        const bool error = name == "sd" || name == "se" || name == "sem" || name == "err" ||
                           name == "error" || name == "sigma" || name == "u" || name.starts_with("±") ||
                           name.ends_with(" sd") || name.ends_with("_sd") || name.ends_with(" error") ||
                           name.ends_with("_err") || name.starts_with("sd ") || name.starts_with("sd_");
        if (!c.isNumeric())
            c.role = Role::Label;
        else if (!haveX)
            c.role = Role::X, haveX = true;
        else
            c.role = error ? Role::YError : Role::Y;
    }
    // A time column is x even when it is not the first one.
    const auto time = std::ranges::find_if(table.columns, [](const Column& c) {
        return c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date;
    });
    if (time == table.columns.end()) return;
    for (Column& c : table.columns)
        if (c.role == Role::X) c.role = Role::Y;
    time->role = Role::X;
}

} // namespace jointer::io
